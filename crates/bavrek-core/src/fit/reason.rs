//! What a fit's score and load rest on.

use super::case::Case;
use super::compared::Related;
use super::joints::{Bearing, bearing, is_steep};
use super::start::{Basis, Likely, Miss, Start, target_reps};
use crate::across::Went;
use crate::anatomy::{Pattern, Region};
use crate::dose::{Part, Relation, SetPlan};
use crate::execution::RangePart;
use crate::ladder::Ladder;
use crate::method::Method;
use crate::movement::{Movement, Style};
use crate::person::{Limit, Person};
use crate::plan::Intent;
use crate::units::{Degrees, Kilograms};

/// Something that the score or the load of a candidate rests on.
#[derive(Debug, Clone, PartialEq)]
pub enum Reason {
    /// It is held: seconds stand for repetitions.
    Held {
        /// Of one set.
        seconds: u16,
        /// In whose place.
        reps: f64,
    },
    /// The other hand resists it: nobody can state its load.
    Resisted {
        /// Repetitions to be left.
        reserve: u8,
        /// Repetitions of a set.
        reps: f64,
    },
    /// The load that is likely for what is asked.
    LoadLikely {
        /// Its least and its most.
        load: [Kilograms; 2],
        /// What is asked of it.
        asked: Asked,
        /// Repetitions to be left.
        reserve: u8,
        /// What that was read from.
        basis: Basis,
    },
    /// What is expected of a step that exists.
    Expected {
        /// Repetitions.
        likely: Likely,
        /// Repetitions to be left.
        reserve: u8,
    },
    /// Even the lightest step is above the estimate.
    LightestAbove {
        /// Whether it is a weight.
        weight: bool,
        /// Repetitions on it.
        likely: Likely,
    },
    /// The same of a mixed set.
    MixedOn {
        /// Whether even the lightest step is above the estimate.
        above: bool,
        /// How far the set is expected to go.
        lasts: Lasts,
    },
    /// Sets disagree: the start is a whole uncertainty lower.
    Torn,
    /// A first try on a lighter step, by its label.
    FirstOn(String),
    /// The first set is a test set.
    TestSet {
        /// The step above, by its label, where there is one.
        next: Option<String>,
        /// Beyond how many repetitions that is taken; none where the set is mixed.
        over: Option<u16>,
    },
    /// How far the ladder goes on.
    RoomToGrow {
        /// Steps above.
        above: usize,
        /// The largest jump nearby, share.
        jump: f64,
    },
    /// A part of the range that was chosen, and the one in which it is done; none where it cannot be cut to it.
    PartOfRange {
        /// What was chosen.
        chosen: RangePart,
        /// What is done.
        done: Option<RangePart>,
    },
    /// A limit that bears on it.
    Limited {
        /// How it is minded.
        care: Care,
        /// The limit.
        limit: Limit,
    },
    /// What age changes about an inclined bench: its angle, where that is steep.
    Age(Option<Degrees>),
    /// What a school says of it.
    School(Method),
    /// A step that spares changing over, by its label.
    WithoutChanging {
        /// The step.
        on: String,
        /// Repetitions expected on it.
        reps: f64,
    },
    /// How it went with the trainer's clients leans the score.
    Leaned {
        /// How it went.
        went: Went,
        /// By which share.
        tilt: f64,
    },
    /// Nothing suits the dose, which is bent to what there is.
    Bent {
        /// How its step misses the dose.
        miss: Miss,
        /// Whether no step misses it less, since the ladder ends there; otherwise the next one misses it the other way.
        end: bool,
        /// Fewest and most repetitions instead.
        zone: [u16; 2],
    },
    /// What is done before it in the session takes a share of the load.
    Tired {
        /// The share, 0 to 1.
        less: f64,
        /// The region that is most tired of it.
        region: Region,
    },
    /// The load is asked by what it is compared with.
    Compared(Comparison),
}

/// What a set asks, in the measure in which it is counted.
#[derive(Debug, Clone, PartialEq)]
pub enum Asked {
    /// So many repetitions.
    Reps(f64),
    /// A mixed set that is as hard as so many.
    AsHardAs(Box<SetPlan>, f64),
}

/// How a limit is minded.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Care {
    /// Nobody knows how it bears on it: it ends at the first sign.
    StopAtASign,
    /// It goes as far as the joint does.
    AsFarAsItGoes,
    /// Gently.
    GoEasy,
}

/// How far a mixed set is expected to go.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Lasts {
    /// Whether it is its last hold that is told; its end otherwise.
    pub hold: bool,
    /// Repetitions that are as hard as getting there.
    pub needed: f64,
    /// How likely that is, 0 to 1.
    pub chance: f64,
}

/// A load that is asked by what it is compared with, and what became of it.
#[derive(Debug, Clone, PartialEq)]
pub struct Comparison {
    /// What was asked.
    pub asked: Relation,
    /// What it came to; none where nobody can state the load.
    pub related: Option<Related>,
    /// Whether the movement is held; the other hand resists it otherwise, where nobody can state its load.
    pub held: bool,
    /// The step.
    pub step: Kilograms,
    /// Which share of it a band gives.
    pub band_share: f64,
    /// The lightest step of a weight and a band, where there is one.
    pub lightest_of_both: Option<Kilograms>,
    /// The fewest repetitions of a set.
    pub fewest: u16,
}

impl Comparison {
    /// What a load that is asked as a relation came to; none where none is.
    pub(super) fn of(intent: &Intent, movement: &Movement, ladder: &Ladder, start: &Start) -> Option<Self> {
        let asked = intent.dose.relation()?.clone();
        Some(Self {
            asked,
            related: start.related,
            held: movement.style == Style::Hold,
            step: ladder.steps[start.step].effective_kg,
            band_share: ladder.steps[start.step].band_share,
            lightest_of_both: ladder.steps.iter().find(|step| step.is_mixed()).map(|step| step.effective_kg),
            fewest: intent.dose.reps[0],
        })
    }
}

/// Repetitions beyond a zone after which a test set leads to the next step. Assumed.
pub(super) const TEST_BEYOND: u16 = 4;

pub(super) fn reasons(case: &Case<'_>) -> Vec<Reason> {
    let Case { movement, person, intent, ladder, start, .. } = *case;
    let step = &ladder.steps[start.step];
    let mut reasons = match movement.style {
        Style::Hold => vec![Reason::Held { seconds: intent.hold_seconds(), reps: target_reps(intent) }],
        _ if start.basis == Basis::Resisted => {
            vec![Reason::Resisted { reserve: intent.dose.reserve(), reps: target_reps(intent) }]
        }
        _ => load(case),
    };
    // What decides the step comes first.
    if let Some(comparison) = Comparison::of(intent, movement, ladder, start) {
        let first = if start.related.is_some() { 0 } else { reasons.len() };
        reasons.insert(first, Reason::Compared(comparison));
    }
    if !matches!(start.basis, Basis::ThisExercise | Basis::Resisted) && movement.style != Style::Hold {
        let next = ladder.steps.get(start.step + 1).map(|above| above.label.clone());
        let over = mixed(movement, intent).is_none().then_some(intent.dose.reps[1] + TEST_BEYOND);
        reasons.push(Reason::TestSet { next, over });
    }
    if start.basis != Basis::Resisted {
        reasons.push(Reason::RoomToGrow {
            above: ladder.headroom(start.step),
            jump: ladder.largest_jump(Some(step.effective_kg)),
        });
    }
    let done = intent.part_for(movement);
    reasons.extend(intent.execution.range.map(|chosen| Reason::PartOfRange { chosen, done }));
    reasons.extend(person.limits.iter().filter_map(|limit| of_limit(movement, *limit)));
    reasons.extend(of_age(person, step.setup.bench_deg, movement));
    reasons
}

/// The load that is likely, what it rests on, and what to expect of the step.
fn load(case: &Case<'_>) -> Vec<Reason> {
    let Case { movement, intent, ladder, start, .. } = *case;
    let (mixed, reserve) = (mixed(movement, intent), intent.dose.reserve());
    let asked = match mixed {
        Some(set) => Asked::AsHardAs(Box::new(set.clone()), target_reps(intent)),
        None => Asked::Reps(target_reps(intent)),
    };
    let load = [start.low, start.high];
    let mut reasons = vec![Reason::LoadLikely { load, asked, reserve, basis: start.basis }];
    reasons.push(match mixed {
        Some(set) => Reason::MixedOn { above: start.above_estimate, lasts: Lasts::of(intent, set, start) },
        None if start.above_estimate => {
            let weight = movement.is_weighed() && !movement.rig.is_lever();
            Reason::LightestAbove { weight, likely: start.likely() }
        }
        None => Reason::Expected { likely: start.likely(), reserve },
    });
    reasons.extend(start.torn.then_some(Reason::Torn));
    reasons.extend(start.feeler.map(|feeler| Reason::FirstOn(ladder.steps[feeler].label.clone())));
    reasons
}

/// The mixed set that is asked, where the movement is one of repetitions.
pub(super) fn mixed<'i>(movement: &Movement, intent: &'i Intent) -> Option<&'i SetPlan> {
    intent.dose.mixed().filter(|_| movement.style == Style::Reps)
}

impl Lasts {
    /// How likely the last hold of a mixed set lasts on the step of a start; where nothing is held, its end.
    pub(super) fn of(intent: &Intent, set: &SetPlan, start: &Start) -> Self {
        let hold = set.mix().iter().any(|part| matches!(part, Part::Holds { .. }));
        let needed = intent.needed(set).map_or(0.0, |n| if hold { n.last_hold } else { n.whole });
        Self { hold, needed, chance: start.chance_of(needed) }
    }
}

/// How a limit bears on the movement, where it does.
fn of_limit(movement: &Movement, limit: Limit) -> Option<Reason> {
    let care = match bearing(movement, &limit) {
        Bearing::Free => return None,
        Bearing::Eases(_) if movement.rule(limit.joint, limit.what).is_none() => Care::StopAtASign,
        Bearing::Eases(_) if limit.what.is_of_range() => Care::AsFarAsItGoes,
        Bearing::Eases(_) | Bearing::Excludes => Care::GoEasy,
    };
    Some(Reason::Limited { care, limit })
}

/// Angle from which a bench counts as inclined.
const INCLINED: f64 = 15.0;

/// What age changes about an inclined bench.
fn of_age(person: &Person, bench: Option<Degrees>, movement: &Movement) -> Option<Reason> {
    let inclined = matches!(movement.pattern, Pattern::InclinePress | Pattern::FlyLowToHigh);
    of_incline(bench.filter(|_| person.is_eased_by_age() && inclined))
}

/// What age says of an inclined bench at this angle.
pub(super) fn of_incline(bench: Option<Degrees>) -> Option<Reason> {
    let deg = bench.filter(|deg| deg.value() >= INCLINED)?;
    Some(Reason::Age(is_steep(deg.value()).then_some(deg)))
}
