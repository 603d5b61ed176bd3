//! From a question to a proposed week.

use std::time::Instant;

use super::beam::Beam;
use super::found::Found;
use super::lay::{self, DayPlan};
use super::model::{self, Model, Pick, Proposal};
use super::pool::{self, Choice};
use super::question::WeekQuestion;
use super::search::{self, Greed};
use super::timing::{Reading, Timing};
use super::unmet::{self, Unmet};
use crate::movement::{Catalogue, Movement};
use crate::ranges::RangeError;
use crate::units::Seconds;
use crate::volume::Volume;

/// How often the estimate of a set's time is corrected by the clock before a week is searched for.
const ROUNDS: usize = 2;
/// How often a better one is looked for from the best so far.
const AGAIN: usize = 2;
/// How long a week may take here, s: its page is there within a second and a half, and the solver looks at its clock a tenth of a second
/// late. What of that the proof has at least, s.
const LONGEST: f64 = 1.15;
const LEAST_FOR_PROOF: f64 = 0.35;

/// A proposed week.
#[derive(Debug, Clone)]
pub struct Week<'a> {
    /// The days in the order of the question.
    pub days: Vec<DayPlan<'a>>,
    /// Sets by region.
    pub volume: Volume,
    /// What could not be met, the most short first.
    pub unmet: Vec<Unmet>,
    /// The value of what is proposed, and the most that any week of this pool could have, on the same scale.
    pub objective: f64,
    /// See `objective`.
    pub bound: f64,
    /// Sets that push, and sets that pull.
    pub balance: [usize; 2],
}

/// Proposes a week. The same question has the same answer unless the solver runs out of time. What is pinned stays as it is even
/// where it runs over its day; an error names a pin that cannot be done there.
pub fn propose<'a>(catalogue: &'a Catalogue, question: &WeekQuestion<'a>) -> Result<Week<'a>, RangeError> {
    question.validate()?;
    let begun = Instant::now();
    let pool = pool::gather(catalogue, question)?;
    let mut model = Model::of(question, &pool.choices);
    let mut timing = Timing::of(question, &pool.choices);
    let found = found(question, &mut model, &mut timing);
    let (found, bound) = proved(question, &mut model, &mut timing, (found, begun));
    let Found { picks, objective, .. } = found;
    let days = lay::days(question, &pool.choices, &picks);
    let mut volume = Volume::default();
    for line in days.iter().flat_map(DayPlan::lines) {
        volume.plan(line.candidate.movement, &line.candidate.prescription);
    }
    let unmet = unmet::of(question, &pool, &picks, &days, &volume);
    let balance = balance(days.iter().flat_map(DayPlan::lines).map(|line| {
        let c = &line.candidate;
        (c.movement, c.prescription.sets.len())
    }));
    Ok(Week { days, volume, unmet, objective, bound: bound.max(objective), balance })
}

/// A good week by the clock; what is reckoned comes right by it on the way.
fn found(question: &WeekQuestion<'_>, model: &mut Model<'_, '_>, timing: &mut Timing<'_, '_>) -> Found {
    // First what the clock says of a plain week, so that the search reckons as the clock reads.
    for _ in 0..ROUNDS {
        let picks = search::improve(question, model, model.pins(), Greed::PerSecond);
        model.correct(&totals(&timing.week(&picks)), &picks);
    }
    let mut found = Found::timed(question, model, timing, search::search(question, model));
    for _ in 0..AGAIN {
        // Then what it says of the best one, from which a better one is looked for by the clock itself.
        model.correct_picked(&totals(&found.days), &found.picks);
        let mut again = Found::timed(question, model, timing, search::better(question, model, found.picks.clone()));
        again.shake(question, model, timing);
        found = found.or(Beam::of(question, model, timing).swept(again, 0));
    }
    Beam::of(question, model, timing).shaken(found)
}

/// The best week of what was found since the time it began and what the program likes better, and the most that any could be worth: for
/// times by which the best is just what its days hold, and what could be in it takes no less than it would there.
fn proved(
    question: &WeekQuestion<'_>,
    model: &mut Model<'_, '_>,
    timing: &mut Timing<'_, '_>,
    (mut found, begun): (Found, Instant),
) -> (Found, f64) {
    model.correct_picked(&totals(&found.days), &found.picks);
    found.read_open(model, timing);
    let elapsed = || begun.elapsed().as_secs_f64();
    let until = LONGEST.max(elapsed() + LEAST_FOR_PROOF);
    let mut bound = f64::INFINITY;
    loop {
        let from = elapsed();
        let Proposal { picks, bound: proven, .. } = model.solve(&found.picks, Seconds(until - from));
        // Asked again, nothing takes less than before: what was proven then is so still.
        bound = bound.min(proven);
        // What the program likes best may run over by the clock: it is reckoned so, and asked again as long as there is time.
        let over = model.correct_over(&totals(&timing.week(&picks)), &picks, &found.picks);
        let picks = search::improve(question, model, picks, Greed::Gain);
        found = found.or(Found::timed(question, model, timing, picks));
        if !over || elapsed() + (elapsed() - from) > until {
            return (found, bound);
        }
    }
}

fn totals(days: &[Reading]) -> Vec<Seconds> {
    days.iter().map(|day| day.total).collect()
}

/// Sets that push, and sets that pull, of movements with so many sets each.
pub fn balance<'m>(work: impl Iterator<Item = (&'m Movement, usize)>) -> [usize; 2] {
    work.fold([0, 0], |[push, pull], (movement, sets)| match model::side_of(movement) {
        1 => [push + sets, pull],
        -1 => [push, pull + sets],
        _ => [push, pull],
    })
}

/// What could be done in the rooms of a question, from which a week is picked.
pub fn choices<'a>(catalogue: &'a Catalogue, question: &WeekQuestion<'a>) -> Result<Vec<Choice<'a>>, RangeError> {
    Ok(pool::gather(catalogue, question)?.choices)
}

/// The days of picks, ordered and paired by the school and read by the clock.
pub fn lay_days<'a>(question: &WeekQuestion<'_>, choices: &[Choice<'a>], picks: &[Pick]) -> Vec<DayPlan<'a>> {
    lay::days(question, choices, picks)
}
