//! A school as it doses a slot and lays a session: the rules behind a method's name.

use serde::{Deserialize, Serialize};

use crate::aims::Aim;
use crate::anatomy::{Pattern, Region, vocabulary};
use crate::arrangement::{Arrangement, Joined};
use crate::dose::{MOST_SETS, Prescription, SetKind, SetPlan};
use crate::method::Method;
use crate::person::Experience;
use crate::plan::BlockKind;
use crate::ranges::{LegalRange, RangeError};

vocabulary!(
    /// What comes first in a session.
    Order {
        HeavyFirst => "heavy_first", "what is heaviest first";
        LaggingFirst => "lagging_first", "what lags first, then what is heaviest";
        TireFirst => "tire_first", "what tires the target before the press or pull for it";
    }
);

vocabulary!(
    /// What is done by turns.
    Pairing {
        Alone => "alone", "each on its own";
        Antagonist => "antagonist", "a press with a pull by turns";
        SameRegion => "same_region", "two for the same region as a superset";
        Circuit => "circuit", "all of it as one circuit";
    }
);

vocabulary!(
    /// What a session is dosed for.
    Emphasis {
        Size => "size", "size";
        Strength => "strength", "strength";
        General => "general", "general shape";
    }
);

/// Share of the repetitions of a zone that strength asks for, and the fewest. Coaching practice, assumed.
const STRONG_SHARE: f64 = 0.6;
const FEWEST_STRONG: u16 = 3;
/// Least rest of a set for strength, s.
const STRONG_REST: u16 = 150;
/// Most sets and rest of a set for general shape.
const GENERAL_SETS: usize = 2;
const GENERAL_REST: u16 = 75;
/// Zone of who is not yet experienced enough for a school's own: light enough to learn by.
const EASED: [u16; 2] = [8, 12];
/// A zone that ends here or below is one of strength already; what one joint carries is not taken below the other.
const STRONG_ENOUGH: u16 = 6;
const FEWEST_ISOLATED: [u16; 2] = [6, 8];
/// Reserve that a novice keeps at least: nobody judges the last repetition well who has seldom been there.
const NOVICE_RESERVE: u8 = 2;

/// Whether several joints carry the work of a pattern.
pub const fn is_compound(pattern: Pattern) -> bool {
    is_press(pattern) || is_pull(pattern)
}

const fn is_press(pattern: Pattern) -> bool {
    matches!(pattern, Pattern::HorizontalPress | Pattern::InclinePress | Pattern::DeclinePress | Pattern::OverheadPress)
}

const fn is_pull(pattern: Pattern) -> bool {
    matches!(pattern, Pattern::VerticalPull | Pattern::WideRow | Pattern::CloseRow)
}

/// Movements of a session.
pub const MOVEMENTS: LegalRange = LegalRange { min: 1.0, max: 12.0, unit: "movements" };
/// Longest sentence of a school, characters.
pub const LONGEST_TEXT: usize = 400;
/// Longest name of a school, characters.
pub const LONGEST_NAME: usize = 60;

/// A school with its rules.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct School {
    /// Its name.
    pub id: Method,
    /// How it reasons, in a sentence or two.
    pub logic: String,
    /// What it trades.
    pub trades: String,
    /// What comes first.
    pub order: Order,
    /// What is done by turns.
    pub pairing: Pairing,
    /// How it goes on, in words.
    pub progression: String,
    /// Fewest and most movements of a session.
    pub movements: [u8; 2],
    /// Experience below which its sets to failure and extensions are left out.
    pub least_experience: Experience,
    /// Sets of what several joints carry.
    pub compound: Vec<SetPlan>,
    /// Sets of what one joint carries.
    pub isolation: Vec<SetPlan>,
}

/// For whom and what a slot is dosed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Asked {
    /// Its pattern.
    pub pattern: Pattern,
    /// What its main region is to do.
    pub aim: Aim,
    /// How experienced the client is.
    pub experience: Experience,
    /// What the session is for.
    pub emphasis: Emphasis,
}

/// A dose with how it came about.
#[derive(Debug, Clone, PartialEq)]
pub struct Dosed {
    /// The sets.
    pub dose: Prescription,
    /// What of the school was bent, and why; empty where nothing was.
    pub why: Vec<String>,
}

/// A slot as a school sees it when it lays a session.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Laid<K> {
    /// Whose it is.
    pub key: K,
    /// Its pattern.
    pub pattern: Pattern,
    /// Its main region.
    pub region: Region,
    /// What that is to do.
    pub aim: Aim,
}

impl School {
    /// The dose of a slot: the school's sets, more for what is the focus, fewer for what is only kept, eased for who is new
    /// to it, and bent towards what the session is for.
    pub fn dose(&self, asked: &Asked) -> Dosed {
        let mut sets = if is_compound(asked.pattern) { self.compound.clone() } else { self.isolation.clone() };
        let mut why = Vec::new();
        self.gate(asked.experience, &mut sets, &mut why);
        number(asked.aim, &mut sets, &mut why);
        // A school that believes in time under load is not made one of few repetitions.
        let emphasis = match asked.emphasis {
            Emphasis::Strength if self.id.least_seconds_under_load().is_some() => Emphasis::Size,
            emphasis => emphasis,
        };
        bend(Asked { emphasis, ..*asked }, &mut sets, &mut why);
        Dosed { dose: Prescription::of(sets), why }
    }

    /// No set to failure and no extension for who is not there yet.
    fn gate(&self, experience: Experience, sets: &mut Vec<SetPlan>, why: &mut Vec<String>) {
        if experience < self.least_experience {
            let before = sets.len();
            sets.retain(|set| set.kind != SetKind::Extension);
            // What was followed at once now has a rest of its own.
            let rest = sets.iter().map(|s| s.rest_s).max().unwrap_or(0).max(STRONG_REST);
            sets.iter_mut().filter(|s| before > 0 && s.rest_s < 30).for_each(|s| s.rest_s = rest);
            for set in sets.iter_mut().filter(|s| s.kind == SetKind::Straight) {
                set.reps = set.reps.map(|[low, high]| [low.max(EASED[0]), high.max(EASED[1])]);
            }
            why.push(format!("made for the {}: eased for the {experience}", self.least_experience));
        }
        let least = match experience {
            Experience::Novice => NOVICE_RESERVE,
            _ if experience < self.least_experience => 1,
            _ => 0,
        };
        if keep_reserve(sets, least) {
            why.push(format!("{least} in reserve at least: {experience}"));
        }
    }

    /// How the session is put together.
    pub fn lay<B: Copy, K: Copy + PartialEq>(&self, slots: &[Laid<K>]) -> Arrangement<B, K> {
        let mut order: Vec<&Laid<K>> = slots.iter().collect();
        let heavy = |s: &Laid<K>| !is_compound(s.pattern);
        match self.order {
            Order::HeavyFirst => order.sort_by_key(|s| heavy(s)),
            Order::LaggingFirst => order.sort_by_key(|s| (std::cmp::Reverse(s.aim), heavy(s))),
            Order::TireFirst => {
                order.sort_by_key(|s| heavy(s));
                tire_first(&mut order);
            }
        }
        let block = |kind, keys: Vec<K>| Joined { id: None, kind, keys };
        let blocks = match self.pairing {
            Pairing::Alone => order.iter().map(|s| block(BlockKind::Straight, vec![s.key])).collect(),
            Pairing::Circuit if order.len() > 1 => {
                vec![block(BlockKind::Circuit, order.iter().map(|s| s.key).collect())]
            }
            Pairing::Circuit => order.iter().map(|s| block(BlockKind::Straight, vec![s.key])).collect(),
            Pairing::Antagonist => {
                paired(&order, BlockKind::Antagonist, |a, b| work_against_each_other(a.pattern, b.pattern))
            }
            Pairing::SameRegion => paired(&order, BlockKind::Superset, |a, b| a.region == b.region),
        };
        Arrangement { blocks }
    }

    /// Checks its sets, its movements and the length of its sentences; the path names the field.
    pub fn validate(&self) -> Result<(), RangeError> {
        for (sets, field) in [(&self.compound, "compound"), (&self.isolation, "isolation")] {
            self.id.check_sets(sets).map_err(|e| e.under(field))?;
        }
        let [least, most] = self.movements;
        if least == 0 || least > most || f64::from(most) > MOVEMENTS.max {
            let most = MOVEMENTS.max;
            return Err(RangeError::new("movements", format!("must rise from 1 to {most} at most")));
        }
        for (text, field) in [(&self.logic, "logic"), (&self.trades, "trades"), (&self.progression, "progression")] {
            let long = text.chars().count();
            if long > LONGEST_TEXT {
                return Err(RangeError::new(field, format!("has {long} characters; at most {LONGEST_TEXT} are kept")));
            }
        }
        Ok(())
    }
}

impl Method {
    /// Checks sets of a school of this kind: one that believes in time under load contradicts itself with sets that are shorter.
    pub fn check_sets(self, sets: &[SetPlan]) -> Result<(), RangeError> {
        Prescription::of(sets.to_vec()).validate()?;
        if sets.len() > usize::from(MOST_SETS) {
            return Err(RangeError::new("", format!("may hold at most {MOST_SETS} sets")));
        }
        let Some(least) = self.least_seconds_under_load() else { return Ok(()) };
        let short = sets.iter().filter(|s| s.kind != SetKind::Extension).find_map(|set| {
            let seconds = set.seconds_under_load()?;
            (seconds.value() < least.value() - 0.5).then_some((set, seconds))
        });
        let Some((set, seconds)) = short else { return Ok(()) };
        Err(RangeError::new(
            "",
            format!(
                "{} @ {} lasts about {:.0} s; a set of the school it is made from lasts {:.0} s at least",
                set.amount(),
                set.tempo,
                seconds.value(),
                least.value()
            ),
        ))
    }
}

/// Keeps at least so many repetitions in reserve; says whether any set had fewer.
fn keep_reserve(sets: &mut [SetPlan], least: u8) -> bool {
    let low = sets.iter_mut().filter(|s| s.rir.is_some_and(|rir| rir < least));
    low.map(|set| set.rir = Some(least)).count() > 0
}

/// A dose that was made for somebody else, as a client of an experience may take it over: a novice without extensions and with
/// a reserve that can be judged. None where it can stay as it is.
pub fn taken_over(dose: &Prescription, experience: Experience) -> Option<Prescription> {
    if experience > Experience::Novice {
        return None;
    }
    let mut sets: Vec<SetPlan> = dose.sets.iter().filter(|s| s.kind != SetKind::Extension).cloned().collect();
    keep_reserve(&mut sets, NOVICE_RESERVE);
    (sets != dose.sets && !sets.is_empty()).then(|| dose.with_sets(sets))
}

/// One set more for the focus, one fewer for what is only kept; only where all sets are alike, since a ladder of sets is
/// one thing.
fn number(aim: Aim, sets: &mut Vec<SetPlan>, why: &mut Vec<String>) {
    let shape = |s: &SetPlan| (s.kind, s.reps, s.seconds, s.tempo, s.step);
    if !sets.windows(2).all(|pair| shape(&pair[0]) == shape(&pair[1])) {
        return;
    }
    match aim {
        Aim::Focus if sets.len() < usize::from(MOST_SETS) => {
            if let Some(first) = sets.first().cloned() {
                sets.insert(0, first);
                why.push("one set more: the region is a focus".to_owned());
            }
        }
        Aim::Keep if sets.len() > 2 => {
            sets.remove(0);
            why.push("one set fewer: the region is only kept".to_owned());
        }
        _ => {}
    }
}

/// Towards what the session is for. Where nothing has to be bent, nothing is said.
fn bend(asked: Asked, sets: &mut Vec<SetPlan>, why: &mut Vec<String>) {
    let before = sets.clone();
    match asked.emphasis {
        Emphasis::Size => {}
        Emphasis::Strength => {
            let heavy = |s: &&mut SetPlan| s.kind == SetKind::Straight && s.reps.is_some_and(|r| r[1] > STRONG_ENOUGH);
            for set in sets.iter_mut().filter(heavy) {
                set.reps = set.reps.map(|zone| stronger(zone, is_compound(asked.pattern)));
                set.rest_s = set.rest_s.max(STRONG_REST);
            }
            if *sets != before {
                why.push(format!("for strength: fewer repetitions, {STRONG_REST} s of rest at least"));
            }
        }
        Emphasis::General => {
            sets.truncate(GENERAL_SETS);
            for set in sets.iter_mut() {
                set.rest_s = set.rest_s.min(GENERAL_REST);
            }
            if *sets != before {
                why.push(format!("for general shape: {GENERAL_SETS} sets at most, {GENERAL_REST} s of rest at most"));
            }
        }
    }
}

/// A zone for strength.
fn stronger([low, high]: [u16; 2], compound: bool) -> [u16; 2] {
    let strong = |reps: u16| ((f64::from(reps) * STRONG_SHARE).round() as u16).max(FEWEST_STRONG);
    let [least, most] = if compound { [FEWEST_STRONG; 2] } else { FEWEST_ISOLATED };
    [strong(low).max(least), strong(high).max(most)]
}

/// What one joint carries goes directly before what several carry for the same region.
fn tire_first<K>(order: &mut Vec<&Laid<K>>) {
    let mut at = 0;
    while at < order.len() {
        let here = order[at];
        let opener = (at + 1..order.len())
            .find(|i| is_compound(here.pattern) && !is_compound(order[*i].pattern) && order[*i].region == here.region);
        if let Some(i) = opener {
            let opener = order.remove(i);
            order.insert(at, opener);
            at += 1;
        }
        at += 1;
    }
}

/// The pull that mirrors the path of a press, with the region that it is for: towards the chest with the elbows out, towards the
/// waist from below, or down from above. None of other patterns.
pub const fn mirror(press: Pattern) -> Option<(Pattern, Region)> {
    match press {
        Pattern::HorizontalPress => Some((Pattern::WideRow, Region::TrapsMiddle)),
        Pattern::DeclinePress => Some((Pattern::CloseRow, Region::Lats)),
        Pattern::InclinePress | Pattern::OverheadPress => Some((Pattern::VerticalPull, Region::Lats)),
        _ => None,
    }
}

/// Whether two patterns work against each other, so that one rests while the other works.
pub fn work_against_each_other(a: Pattern, b: Pattern) -> bool {
    let pair = |x: Pattern, y: Pattern| {
        (is_press(x) && is_pull(y))
            || (x == Pattern::ElbowFlexion && y == Pattern::ElbowExtension)
            || (x == Pattern::Fly && y == Pattern::RearFly)
    };
    pair(a, b) || pair(b, a)
}

/// Each slot with the first later one that suits it.
fn paired<B: Copy, K: Copy>(
    order: &[&Laid<K>],
    kind: BlockKind,
    suits: impl Fn(&Laid<K>, &Laid<K>) -> bool,
) -> Vec<Joined<B, K>> {
    let mut open: Vec<&Laid<K>> = order.to_vec();
    let mut blocks = Vec::new();
    while !open.is_empty() {
        let first = open.remove(0);
        let mate = open.iter().position(|other| suits(first, other)).map(|i| open.remove(i));
        blocks.push(match mate {
            Some(mate) => Joined { id: None, kind, keys: vec![first.key, mate.key] },
            None => Joined { id: None, kind: BlockKind::Straight, keys: vec![first.key] },
        });
    }
    blocks
}

vocabulary!(
    /// Where a disagreement is decided.
    Topic {
        Order => "order", "order and load";
        Stop => "stop", "when a set stops";
        Rest => "rest", "rests";
        Length => "length", "where in the length";
        Execution => "execution", "how a repetition is done";
        Movement => "movement", "what a movement trains";
    }
);

/// A question on which practitioners disagree, with a sentence for each side.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Disagreement {
    /// Where it is decided.
    pub at: Topic,
    /// What is asked.
    pub question: String,
    /// The one side.
    pub one: String,
    /// The other.
    pub other: String,
}
