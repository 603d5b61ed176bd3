//! A load that is asked as a share of the maximum: the step that it becomes, and why where that is another one.

use super::start::{Basis, Start, eligible};
use crate::dose::Relation;
use crate::ladder::Ladder;
use crate::movement::Movement;
use crate::units::Kilograms;

/// A step may lie so much above what is asked and still be it, ratio: as two loads that are one step.
const SAME: f64 = 1.03;

/// What became of a share of the maximum.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Related {
    /// What was asked.
    pub asked: Relation,
    /// What could be done once, and the least and the most that was asked of it.
    pub maximum: Kilograms,
    /// See `maximum`.
    pub wanted: [Kilograms; 2],
    /// How it was met.
    pub met: Met,
}

/// How a share of the maximum is met.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Met {
    /// By the step that comes nearest.
    Nearest,
    /// Not: the fewest repetitions of a set cannot be done on it, even with nothing in reserve. The step is that of the repetitions.
    TooHeavy,
    /// Not before a set of the movement is logged: the step is no heavier than the estimate allows.
    Unknown,
    /// Not: even the lightest step is heavier. That is the step.
    NothingSoLight,
}

/// The step of a ladder for a load of which the least and the most are asked, kg: of those up to the most the one nearest to the middle,
/// the heavier of two as near. None where all are heavier.
pub(crate) fn nearest(ladder: &Ladder, among: &[usize], [least, most]: [f64; 2]) -> Option<usize> {
    let middle = (least * most).sqrt();
    let load = |i: &usize| ladder.steps[*i].effective_kg.value();
    let off = |i: &usize| (load(i) / middle).ln().abs();
    among.iter().copied().filter(|i| load(i) <= SAME * most).min_by(|a, b| off(a).total_cmp(&off(b)).then(b.cmp(a)))
}

/// A start on the step that a share of the maximum asks. Never one on which the fewest repetitions cannot be done with nothing left, nor, where no set of the
/// movement is known, one above the ordinary start: what a share is taken of is a guess then.
pub(super) fn relate(asked: Relation, start: Start, (ladder, movement): (&Ladder, &Movement), zone: [u16; 2]) -> Start {
    let maximum = start.maximum();
    let wanted = asked.shares().map(|share| share * maximum);
    let among = eligible(ladder, movement);
    let found = nearest(ladder, &among, wanted);
    let (step, met) = match found.map(|step| start.on(step, ladder)) {
        None => (start.on(among.first().copied().unwrap_or(start.step), ladder), Met::NothingSoLight),
        Some(there) if start.basis != Basis::ThisExercise && there.step > start.step => (start, Met::Unknown),
        Some(there) if there.reps + there.reserve < f64::from(zone[0]) => (start, Met::TooHeavy),
        Some(there) => (there, Met::Nearest),
    };
    let related = Related { asked, maximum: Kilograms(maximum), wanted: wanted.map(Kilograms), met };
    Start { related: Some(related), ..step }
}
