//! A load that is asked by what it is compared with, on a ladder: which step it is, and what became of it where it was asked.

use chrono::NaiveDate;

use crate::dose::Relation;
use crate::ladder::Ladder;
use crate::movement::Movement;
use crate::strength::Ledger;
use crate::units::Kilograms;

/// A step may lie so much above what is asked and still be it, ratio: as two loads that are one step.
const SAME: f64 = 1.03;

/// What became of a load that is asked as a relation.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Related {
    /// What it is compared with is known.
    Found(Found),
    /// Nothing is logged of the other movement that a load could be read from.
    NothingLogged,
    /// The other movement is this one.
    Itself,
    /// One lifts the body, the other what is held: neither says how much of the other is meant.
    Unlike,
    /// It is asked in two parts, a weight and a band, and nothing here adds a band to a weight in it.
    NoMix,
    /// The step is in two parts, as asked.
    Parts,
    /// Even the lightest step in two parts is more than there is to begin with: it is a weight alone.
    MixTooHeavy,
}

/// What a relation came to.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Found {
    /// What it was taken of.
    pub of: Compared,
    /// The least and the most that was asked; none where so many steps off it there is none.
    pub wanted: Option<[Kilograms; 2]>,
    /// How it was met.
    pub met: Met,
}

/// What a load is compared with.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Compared {
    /// What could be done once, or what the other movement was done with, as this one is loaded: of a bar the half goes for each hand.
    pub load: Kilograms,
    /// The same of another movement as it was done, and its day.
    pub done: Option<(Kilograms, NaiveDate)>,
}

/// How a relation is met.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Met {
    /// By the step that comes nearest.
    Nearest,
    /// Not: the fewest repetitions of a set cannot be done on it, even with nothing in reserve. The step is that of the repetitions.
    TooHeavy,
    /// Not before a set of the movement is logged: the step is no heavier than the estimate allows.
    Unknown,
    /// Not while sets of the pattern disagree: the step is no heavier than the estimate allows.
    Torn,
    /// Not so long after it was last trained: the step is no heavier than the estimate allows.
    Away {
        /// Days since.
        days: i64,
    },
    /// Not while a joint is spared in it: the step is no heavier than the estimate allows.
    Spared,
    /// Not: even the lightest step is heavier. That is the step.
    NothingSoLight,
    /// Not: there are not so many steps above or below it here. It is the last there is.
    NoSuchStep,
}

impl Related {
    /// What it came to; none where there is nothing to compare with.
    pub const fn found(self) -> Option<Found> {
        match self {
            Self::Found(found) => Some(found),
            Self::NothingLogged | Self::Itself | Self::Unlike | Self::NoMix | Self::Parts | Self::MixTooHeavy => None,
        }
    }

    /// Whether the step is one that was asked so, or what stands in for it.
    pub const fn is_answered(self) -> bool {
        matches!(self, Self::Found(_) | Self::Parts)
    }
}

/// What a load is compared with today; why there is nothing, otherwise.
pub(crate) fn compared(
    asked: &Relation,
    movement: &Movement,
    maximum: Kilograms,
    ledger: &Ledger<'_>,
) -> Result<Compared, Related> {
    if matches!(asked, Relation::PartBand { .. }) {
        return Err(Related::Parts);
    }
    let Some(other) = asked.other() else { return Ok(Compared { load: maximum, done: None }) };
    if other.movement == movement.id {
        return Err(Related::Itself);
    }
    let known = ledger.movement(&other.movement).ok_or(Related::NothingLogged)?;
    if known.rig.is_lever() != movement.rig.is_lever() {
        return Err(Related::Unlike);
    }
    let (day, done) = ledger.done_with(known).ok_or(Related::NothingLogged)?;
    let load = done * (movement.hands_on_a_load() / known.hands_on_a_load());
    Ok(Compared { load, done: Some((done, day)) })
}

/// Where a relation to a load leads on a ladder.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Landing {
    /// The step; none where all are heavier.
    pub(crate) step: Option<usize>,
    /// See [`Found::wanted`].
    pub(crate) wanted: Option<[Kilograms; 2]>,
}

/// The step of a ladder that a relation to a load asks, among some by rising load.
pub(crate) fn landing(asked: &Relation, of: Kilograms, ladder: &Ladder, among: &[usize]) -> Landing {
    match asked {
        Relation::OfMaximum { percent } | Relation::OfMovement { percent, .. } => {
            let wanted = percent.map(|p| f64::from(p) / 100.0 * of.value());
            Landing { step: nearest(ladder, among, wanted), wanted: Some(wanted.map(Kilograms)) }
        }
        Relation::StepsFrom { steps, .. } => stepped(*steps, of.value(), ladder, among),
        // Of two parts the ladder itself is made.
        Relation::PartBand { .. } => Landing { step: None, wanted: None },
    }
}

/// So many steps above a load, or below it where negative, with the same things in hand as the one nearest to it; the last there is
/// where there are not so many.
fn stepped(steps: i8, of: f64, ladder: &Ladder, among: &[usize]) -> Landing {
    let load = |i: usize| ladder.steps[i].effective_kg.value();
    let off = |i: &usize| (load(*i) / of).ln().abs();
    let Some(from) = among.iter().copied().min_by(|a, b| off(a).total_cmp(&off(b))) else {
        return Landing { step: None, wanted: None };
    };
    let held = |i: usize| (ladder.steps[i].load.is_some(), &ladder.steps[i].bands);
    let alike = || among.iter().copied().filter(|i| held(*i) == held(from));
    let beyond: Vec<usize> = if steps > 0 {
        alike().filter(|i| load(*i) > SAME * of).collect()
    } else {
        alike().rev().filter(|i| load(*i) < of / SAME).collect()
    };
    let there = beyond.get(usize::from(steps.unsigned_abs()).saturating_sub(1)).copied();
    let last =
        there.or(beyond.last().copied()).or_else(|| if steps > 0 { alike().next_back() } else { alike().next() });
    Landing { step: last, wanted: there.map(|i| [Kilograms(load(i)); 2]) }
}

/// The step of a ladder for a load of which the least and the most are asked, kg: of those up to the most the one nearest to the middle,
/// the heavier of two as near. None where all are heavier.
fn nearest(ladder: &Ladder, among: &[usize], [least, most]: [f64; 2]) -> Option<usize> {
    let middle = (least * most).sqrt();
    let load = |i: &usize| ladder.steps[*i].effective_kg.value();
    let off = |i: &usize| (load(i) / middle).ln().abs();
    among.iter().copied().filter(|i| load(i) <= SAME * most).min_by(|a, b| off(a).total_cmp(&off(b)).then(b.cmp(a)))
}
