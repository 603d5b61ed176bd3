//! A share of the maximum on a ladder: which step it is, and what became of it where it was asked.

use crate::dose::Relation;
use crate::ladder::Ladder;
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
    /// Not while sets of the pattern disagree: the step is no heavier than the estimate allows.
    Torn,
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
