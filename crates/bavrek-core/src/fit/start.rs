//! Where to start: the load for the wanted repetitions, from the best evidence there is, on a step that exists.

use crate::anatomy::{Implement, vocabulary};
use crate::ladder::Ladder;
use crate::movement::Movement;
use crate::plan::Intent;
use crate::strength::{Ledger, reps};
use crate::units::Kilograms;

vocabulary!(
    /// What the starting load rests on.
    Basis {
        ThisExercise => "this exercise", "this exercise";
        Pattern => "pattern", "the pattern";
        Prior => "prior", "body mass and experience";
    }
);

/// A starting step with its estimate.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Start {
    /// Index on the ladder.
    pub step: usize,
    /// Log load for 12 repetitions to failure.
    pub reference: f64,
    /// Its SD.
    pub sd: f64,
    /// Load expected to give the wanted repetitions.
    pub expected: Kilograms,
    /// Lower end of the 90 % interval of it.
    pub low: Kilograms,
    /// Upper end.
    pub high: Kilograms,
    /// What it rests on.
    pub basis: Basis,
    /// Whether even the lightest step is above the cautious estimate.
    pub above_estimate: bool,
}

/// Half-width of a 90 % interval in SDs.
pub(super) const NINETY: f64 = 1.645;
/// Two loads within this ratio are one step, as in pruning: an estimate of 7.9 takes the 8.
const SAME: f64 = 1.03;
/// Above this SD the uncertain side decides.
const CERTAIN: f64 = 0.05;

/// Repetitions that a start aims at: the middle of the zone, rounded down.
pub(super) fn target_reps(intent: &Intent) -> f64 {
    f64::from(u16::midpoint(intent.reps[0], intent.reps[1]))
}

pub(super) fn find(ladder: &Ladder, movement: &Movement, intent: &Intent, ledger: &Ledger<'_>) -> Start {
    let predicted = ledger.predict(movement);
    let wanted = reps::log_load_for(predicted.mean, target_reps(intent), f64::from(intent.reserve()));
    let cautious = if predicted.sd > CERTAIN { wanted - 0.5 * predicted.sd } else { wanted };
    let load = Kilograms(cautious.exp());
    let step = startable(ladder, movement, ladder.at(load * SAME).unwrap_or(0));
    let basis = match (predicted.sessions, ledger.has_evidence(movement)) {
        (1.., _) => Basis::ThisExercise,
        (_, true) => Basis::Pattern,
        _ => Basis::Prior,
    };
    Start {
        step,
        reference: predicted.mean,
        sd: predicted.sd,
        expected: Kilograms(wanted.exp()),
        low: Kilograms((wanted - NINETY * predicted.sd).exp()),
        high: Kilograms((wanted + NINETY * predicted.sd).exp()),
        basis,
        above_estimate: ladder.steps[step].effective_kg.value() > load.value() * SAME,
    }
}

/// A dumbbell movement starts with a dumbbell in the hand, though bands alone are steps of its ladder: the nearest such
/// step at or below `index`, else the lightest.
fn startable(ladder: &Ladder, movement: &Movement, index: usize) -> usize {
    if !movement.uses(Implement::Dumbbell) || movement.rig.is_lever() {
        return index;
    }
    let held = |i: &usize| ladder.steps[*i].load.is_some();
    (0..=index).rev().find(held).or_else(|| (0..ladder.steps.len()).find(held)).unwrap_or(index)
}
