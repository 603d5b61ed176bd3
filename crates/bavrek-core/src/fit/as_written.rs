//! What becomes of a load that somebody wrote down: it is taken where the step is there and gives what is asked.

use super::Fitter;
use super::answer::Candidate;
use super::start::Miss;
use super::tired::Worked;
use crate::plan::Intent;
use crate::units::Kilograms;

/// A step within this ratio of a written load is that load: weights are stamped no closer. Assumed, as in pruning a ladder.
const SAME_LOAD: f64 = 1.03;

/// What becomes of a written load.
#[derive(Debug, Clone)]
pub enum AsWritten<'a> {
    /// Its step is here and suits the dose.
    On(Box<Candidate<'a>>),
    /// Its step is here, and so many repetitions are not what the dose asks.
    Misses(Box<Candidate<'a>>, Miss),
    /// No step here has that weight alone.
    NotHere,
}

impl<'a> Fitter<'a, '_> {
    /// A candidate on the step with a written weight, after others in its session.
    pub fn as_written(
        &self,
        candidate: &Candidate<'a>,
        weight: Kilograms,
        intent: &Intent,
        before: &[Worked<'_>],
    ) -> AsWritten<'a> {
        let same = |load: f64| (load / weight.value()).max(weight.value() / load) <= SAME_LOAD;
        let mut plain = candidate.ladder.steps.iter().filter(|step| step.bands.is_empty());
        let Some(step) = plain.find(|step| step.load.is_some_and(|load| same(load.kilograms().value()))) else {
            return AsWritten::NotHere;
        };
        let Some(on) = self.on_step(candidate.movement, step, intent, &[]) else { return AsWritten::NotHere };
        let on = Box::new(on.after(before, true));
        match on.start.misses(intent.dose.reps) {
            Some(miss) => AsWritten::Misses(on, miss),
            None => AsWritten::On(on),
        }
    }
}
