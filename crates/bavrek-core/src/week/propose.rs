//! From a question to a proposed week.

use std::collections::BTreeSet;

use super::lay::{self, DayPlan};
use super::model::{self, Model, Pick, Proposal};
use super::pool::{self, Choice};
use super::question::WeekQuestion;
use super::search::{self, Greed};
use super::unmet::{self, Unmet};
use crate::movement::{Catalogue, Movement};
use crate::ranges::RangeError;
use crate::units::Seconds;
use crate::volume::Volume;

/// How often the estimate of a set's time is corrected by the clock before the program is solved.
const ROUNDS: usize = 2;
/// Share of the bound from which a week is good as it is. Below it the estimate is corrected by the clock of that very week, and the
/// program is solved once more, at most so often.
const GOOD: f64 = 0.985;
const MORE: usize = 2;

/// How often a better week is looked for by the clock each time, laid and polished.
const KICKS_BY_CLOCK: usize = 64;
/// Share of the best so far below which a week is not read by the clock: what is reckoned is up to so far from what is read.
const NEARLY: f64 = 0.98;

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
    let pool = pool::gather(catalogue, question)?;
    let mut model = Model::of(question, &pool.choices);
    // First what the clock says of a good week, so that the program reckons as the clock reads.
    for _ in 0..ROUNDS {
        let picks = search::improve(question, &model, model.pins(), Greed::PerSecond);
        let totals: Vec<_> = lay::days(question, &pool.choices, &picks).iter().map(|d| d.total).collect();
        model.correct(&totals, &picks);
    }
    let start = search::search(question, &model);
    let mut found = Found::of(question, &model, &start);
    for _ in 0..MORE {
        if found.proposal.objective >= GOOD * found.proposal.bound {
            break;
        }
        model.correct(&found.totals(), &found.proposal.picks);
        let better = search::better(question, &model, found.proposal.picks.clone());
        let mut again = Found::of(question, &model, &better);
        again.shake(question, &model);
        // Of all bounds the last one counts, for which the times are those of a week that was read by the clock.
        let bound = again.proposal.bound;
        if again.proposal.objective > found.proposal.objective {
            found = again;
        }
        found.proposal.bound = bound;
    }
    let Found { proposal: found, days } = found;
    let mut volume = Volume::default();
    for line in days.iter().flat_map(DayPlan::lines) {
        volume.plan(line.candidate.movement, &line.candidate.prescription);
    }
    let unmet = unmet::of(question, &pool, &found.picks, &days, &volume);
    let balance = balance(days.iter().flat_map(DayPlan::lines).map(|line| {
        let c = &line.candidate;
        (c.movement, c.prescription.sets.len())
    }));
    Ok(Week { days, volume, unmet, objective: found.objective, bound: found.bound.max(found.objective), balance })
}

/// Picks with the days that they make.
struct Found<'a> {
    proposal: Proposal,
    days: Vec<DayPlan<'a>>,
}

impl<'a> Found<'a> {
    /// The program solved from picks that are allowed, and made to fit the clock.
    fn of(question: &WeekQuestion<'_>, model: &Model<'_, 'a>, from: &[Pick]) -> Self {
        let mut proposal = model.solve(from);
        proposal.picks = search::improve(question, model, proposal.picks, Greed::Gain);
        proposal.objective = model.value(&proposal.picks);
        Self::laid(question, model, proposal)
    }

    /// A proposal made to fit the clock.
    fn laid(question: &WeekQuestion<'_>, model: &Model<'_, 'a>, mut proposal: Proposal) -> Self {
        let mut days = lay::days(question, model.choices(), &proposal.picks);
        lay::cut(question, model, &mut proposal, &mut days);
        lay::polish(question, model, &mut proposal, &mut days);
        Self { proposal, days }
    }

    /// Looks for a better one from here, each read by the clock: what is worth most as times are reckoned may lose most where they are
    /// read.
    fn shake(&mut self, question: &WeekQuestion<'_>, model: &Model<'_, 'a>) {
        let mut draw = search::Kicks::new();
        let mut seen = BTreeSet::from([self.proposal.picks.clone()]);
        for _ in 0..KICKS_BY_CLOCK {
            let picks = draw.kicked(question, model, &self.proposal.picks);
            let objective = model.value(&picks);
            if objective < NEARLY * self.proposal.objective || !seen.insert(picks.clone()) {
                continue;
            }
            let other = Self::laid(question, model, Proposal { picks, objective, bound: self.proposal.bound });
            if other.proposal.objective > self.proposal.objective + 1e-9 {
                *self = other;
            }
        }
    }

    fn totals(&self) -> Vec<Seconds> {
        self.days.iter().map(|d| d.total).collect()
    }
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
