//! What breaks a plan: which single missing thing stops which lines, and what stands ready for each.

use crate::anatomy::Joint;
use crate::fit::{Candidate, Fitter, ruled_out};
use crate::kit::KitItem;
use crate::ladder::{Ladder, LadderStep};
use crate::movement::Movement;
use crate::person::Person;
use crate::plan::Intent;
use crate::spot::{are_twins, in_use, kit_without, sparing};

/// Score, as a share of the best, below which a movement is no spare: it does another job. Assumed.
const GOOD_ENOUGH: f64 = 0.7;
/// Score, as a share of the best spare, down to which the one that spares more joints is taken. Assumed.
const NEARLY_AS_GOOD: f64 = 0.9;
/// Least and most of the load that another step may have, to go on with where the very weight is taken. Assumed.
const NEAR: [f64; 2] = [0.7, 1.1];
/// Score, as a share of the best, below which a movement is no answer on the spot: it does another job. Assumed; lower than for a
/// spare, since whoever stands before a taken bench would rather do something like it than nothing.
const AN_ANSWER: f64 = 0.6;
/// Answers that go along with a workout: more would have to be read.
const ANSWERS: usize = 3;
/// Movements of a line that are weighed as spares.
const WEIGHED: usize = 24;

/// A thing that may be missing on a day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Loss {
    /// A piece of the kit by its place, or one stamped weight of it: taken, or broken.
    Piece {
        /// Its place in the kit.
        index: usize,
        /// The weight.
        weight: Option<f64>,
    },
    /// A joint that has become sore.
    Sore(Joint),
}

/// A line as it is done.
#[derive(Debug, Clone, Copy)]
pub struct Done<'l, 'a> {
    /// What it is for.
    pub intent: &'l Intent,
    /// What does it.
    pub movement: &'a Movement,
    /// On this step.
    pub step: &'l LadderStep,
}

/// What may happen to a line.
#[derive(Debug, Clone)]
pub struct Risk<'a> {
    /// What would stop it, one thing at a time.
    pub breaks: Vec<Loss>,
    /// What stands ready, and what of [`Self::breaks`] would stop that as well. None where nothing else does the job here.
    pub spare: Option<(Candidate<'a>, Vec<Loss>)>,
}

/// Whether a movement on a step can go on without something: where one weight is taken, on a step near it.
pub fn stands(movement: &Movement, step: &LadderStep, (person, kit): (&Person, &[KitItem]), loss: Loss) -> bool {
    match loss {
        Loss::Sore(joint) => ruled_out(movement, &sparing(person, joint, None, None), kit).is_empty(),
        Loss::Piece { index, weight } => {
            let left = kit_without(kit, index, weight);
            let near = |other: &LadderStep| {
                let ratio = other.effective_kg.value() / step.effective_kg.value().max(f64::MIN_POSITIVE);
                (NEAR[0]..=NEAR[1]).contains(&ratio)
            };
            Ladder::can_set_up(movement, person, &left, step)
                || (weight.is_some() && Ladder::of(movement, person, &left).steps.iter().any(near))
        }
    }
}

/// What would stop a movement on a step: each piece it cannot do without, of dumbbells the very weight where no other is near, and
/// each joint.
pub fn breaks(movement: &Movement, step: &LadderStep, person: &Person, kit: &[KitItem]) -> Vec<Loss> {
    let weight = |index: &usize| kit[*index].fixed_weights().and(step.load).map(|load| load.value);
    let pieces = in_use(movement, person, kit, step);
    let pieces = pieces.into_iter().map(|index| Loss::Piece { index, weight: weight(&index) });
    let sore = Joint::ALL.iter().map(|joint| Loss::Sore(*joint));
    pieces.chain(sore).filter(|loss| !stands(movement, step, (person, kit), *loss)).collect()
}

/// What may happen to a line, and what stands ready: the best other movement that goes on without the kit that would stop it, of
/// those nearly as good the one that spares most of the joints. One that the same kit would stop is none.
pub fn risk<'a>(fitter: &Fitter<'a, '_>, (person, kit): (&Person, &[KitItem]), done: &Done<'_, 'a>) -> Risk<'a> {
    let breaks = breaks(done.movement, done.step, person, kit);
    let zone = done.intent.counted().dose.reps;
    let all = fitter.fit(&done.intent.counted()).candidates;
    let best = all.first().map_or(0.0, |c| c.score);
    let other = |c: &Candidate<'a>| {
        let same = c.movement.id == done.movement.id || are_twins(c.movement, done.movement);
        !same && c.score >= GOOD_ENOUGH * best && c.is_bearable(zone) && !c.movement.rig.is_resisted()
    };
    let pieces = |losses: &[Loss]| losses.iter().filter(|l| matches!(l, Loss::Piece { .. })).count();
    let still = |candidate: &Candidate<'a>| -> Vec<Loss> {
        let stopped = |loss: &&Loss| !stands(candidate.movement, candidate.step(), (person, kit), **loss);
        breaks.iter().filter(stopped).copied().collect()
    };
    let weighed = all.into_iter().filter(other).take(WEIGHED).map(|c| {
        let still = still(&c);
        (c, still)
    });
    let mut ready: Vec<(Candidate<'a>, Vec<Loss>)> =
        weighed.filter(|(_, still)| pieces(&breaks) == 0 || pieces(still) < pieces(&breaks)).collect();
    let fewest = ready.iter().map(|(_, still)| pieces(still)).min().unwrap_or_default();
    ready.retain(|(_, still)| pieces(still) == fewest);
    let top = ready.iter().map(|(c, _)| c.score).fold(0.0, f64::max);
    ready.retain(|(c, _)| c.score >= NEARLY_AS_GOOD * top);
    let spare = ready.into_iter().min_by_key(|(_, still)| still.len());
    Risk { breaks, spare }
}

/// Why something can be done instead.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Merit {
    /// It was kept for this.
    Ready,
    /// It needs nothing of the kit that is used.
    OtherKit,
    /// It leaves a joint alone that is loaded now.
    SparesJoint,
    /// It does the same job.
    SameJob,
}

impl Merit {
    /// In words.
    pub const fn label(self) -> &'static str {
        match self {
            Self::Ready => "stands ready",
            Self::OtherKit => "without that kit",
            Self::SparesJoint => "spares a joint",
            Self::SameJob => "does the same job",
        }
    }
}

/// What can be done instead of a line's movement where nobody can be asked: what was kept for it, what needs none of the kit in use,
/// what leaves most of its joints alone, then what does the job best; at most three. Nothing of another style of work, and nothing
/// that needs a partner.
pub fn instead<'a>(
    fitter: &Fitter<'a, '_>,
    (person, kit): (&Person, &[KitItem]),
    done: &Done<'_, 'a>,
    ready: Option<&str>,
) -> Vec<(Candidate<'a>, Merit)> {
    let (own, intent) = (done.movement, done.intent.counted());
    let found = fitter.fit(&intent).candidates;
    let best = found.first().map_or(0.0, |c| c.score);
    let answers = |c: &Candidate<'a>| {
        let other = c.movement.id != own.id && !are_twins(c.movement, own) && c.movement.style == own.style;
        other && c.score >= AN_ANSWER * best && c.is_bearable(intent.dose.reps) && !c.movement.rig.is_resisted()
    };
    let mut left: Vec<Candidate<'a>> = found.into_iter().filter(answers).collect();
    let mut taken: Vec<(Candidate<'a>, Merit)> = Vec::new();
    let mut take = |left: &mut Vec<Candidate<'a>>, at: Option<usize>, merit: Merit| {
        taken.extend(at.map(|at| (left.remove(at), merit)));
    };
    let kept = left.iter().position(|c| ready == Some(c.movement.id.as_str()));
    take(&mut left, kept, Merit::Ready);
    let used = in_use(own, person, kit, done.step);
    let bare = used.iter().rev().fold(kit.to_vec(), |kit, index| kit_without(&kit, *index, None));
    let free = left.iter().position(|c| Ladder::can_set_up(c.movement, person, &bare, c.step()));
    take(&mut left, free.filter(|_| !used.is_empty()), Merit::OtherKit);
    let shares = |m: &Movement| Joint::ALL.iter().filter(|j| own.loads_joint(**j) && m.loads_joint(**j)).count();
    let fewest = left.iter().map(|c| shares(c.movement)).min().filter(|fewest| *fewest < shares(own));
    let kind = left.iter().position(|c| Some(shares(c.movement)) == fewest);
    take(&mut left, kind, Merit::SparesJoint);
    let more = ANSWERS.saturating_sub(taken.len());
    taken.extend(left.into_iter().take(more).map(|c| (c, Merit::SameJob)));
    taken
}
