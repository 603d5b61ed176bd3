//! A week that was found: its picks and the days that they make, brought right by the clock.

use std::collections::BTreeSet;

use super::model::{Model, Pick};
use super::question::{WeekQuestion, limit};
use super::search::Kicks;
use super::timing::{Reading, Timing};
use crate::units::Seconds;

/// Picks with their value and what the clock says of the days that they make.
pub(super) struct Found {
    pub(super) picks: Vec<Pick>,
    /// In weighted sets.
    pub(super) objective: f64,
    pub(super) days: Vec<Reading>,
}

/// Most changes that a day is polished by.
const MOST_CHANGES: usize = 40;
/// Fewest and most times that a better week is looked for by the clock, timed and polished, and what that is of a week of one line: half
/// as many lines, which are looked through quickly, are looked through four times as often.
const KICKS_BY_CLOCK: [usize; 2] = [20, 200];
const KICKS_OF_ONE_LINE: usize = 8_000;
/// A week of more lines than most have is looked for in the time of one of so many.
const LONG_WEEK: usize = 28;
/// Seconds by which days are taken to be longer in half of those searches: one joint less to move, or a first movement that is set up
/// quickly, leaves so much, and what does not hold is cut by the clock.
const LOOSER: f64 = 60.0;
/// Share of the best so far below which a week is not read by the clock: what is reckoned is up to so far from what is read.
const NEARLY: f64 = 0.98;

impl Found {
    /// Picks made to fit the clock.
    pub(super) fn timed(
        question: &WeekQuestion<'_>,
        model: &Model<'_, '_>,
        timing: &mut Timing<'_, '_>,
        picks: Vec<Pick>,
    ) -> Self {
        let days = timing.week(&picks);
        let mut found = Self { objective: model.value(&picks), picks, days };
        for day in 0..found.days.len() {
            found.cut(question, model, timing, day);
        }
        found.objective = model.value(&found.picks);
        for day in 0..found.days.len() {
            found.polish(question, model, timing, day);
        }
        found
    }

    /// The better of two.
    pub(super) fn or(self, other: Self) -> Self {
        if other.objective > self.objective + 1e-9 { other } else { self }
    }

    /// Has the clock read what is not picked, in the place of each line of its day: what takes longer in all of them than was reckoned
    /// is reckoned so from then on.
    pub(super) fn read_open(&self, model: &mut Model<'_, '_>, timing: &mut Timing<'_, '_>) {
        for (day, own_reading) in self.days.iter().enumerate() {
            let own: Vec<Pick> = self.picks.iter().filter(|p| p.day == day).copied().collect();
            let free = |at: &usize| model.choices()[own[*at].choice].pin.is_none();
            let free: Vec<usize> = (0..own.len()).filter(free).collect();
            let new = |choice: &usize| own.iter().all(|p| p.choice != *choice);
            let open: Vec<usize> = model.open_on(day).iter().copied().filter(new).collect();
            for choice in open {
                let [fewest, most] = model.choices()[choice].sets;
                let mut read = |at: &usize| {
                    let (out, mut picks) = (own[*at], own.clone());
                    picks[*at] = Pick { day, choice, sets: out.sets.clamp(fewest, most) };
                    let more = timing.day(day, &picks).total.value() - own_reading.total.value();
                    (picks[*at], model.seconds(&out) + more)
                };
                let over = |(new, read): &(Pick, f64)| read / model.seconds(new);
                let least = free.iter().map(&mut read).min_by(|a, b| over(a).total_cmp(&over(b)));
                if let Some((new, read)) = least {
                    model.correct_open(&new, Seconds(read));
                }
            }
        }
    }

    /// Takes away what comes too tired on a day, and sets where it runs over its minutes, the one that costs least first; a line below
    /// its fewest goes.
    fn cut(&mut self, question: &WeekQuestion<'_>, model: &Model<'_, '_>, timing: &mut Timing<'_, '_>, day: usize) {
        let choices = model.choices();
        while self.days[day].too_tired.is_some() || self.days[day].total.value() > limit(question, day) {
            let tired = self.days[day].too_tired.and_then(|pick| self.picks.iter().position(|p| *p == pick));
            let without = |at: usize| {
                let mut picks = self.picks.clone();
                picks.remove(at);
                picks
            };
            let fewer = |at: usize| {
                let mut picks = self.picks.clone();
                if picks[at].sets <= choices[picks[at].choice].sets[0] {
                    return without(at);
                }
                picks[at].sets -= 1;
                picks
            };
            let free = |i: &usize| self.picks[*i].day == day && choices[self.picks[*i].choice].pin.is_none();
            let own = (0..self.picks.len()).filter(free);
            let best = match tired {
                Some(at) => Some(without(at)),
                None => own.map(fewer).max_by(|a, b| model.value(a).total_cmp(&model.value(b))),
            };
            let Some(picks) = best else { break };
            self.days[day] = timing.day(day, &picks);
            self.picks = picks;
        }
    }

    /// Makes of a day what the clock leaves room for: a set more, a line more, one line in place of another, whatever gains most
    /// first. What was reckoned a little too long or too short comes right here.
    fn polish(&mut self, question: &WeekQuestion<'_>, model: &Model<'_, '_>, timing: &mut Timing<'_, '_>, day: usize) {
        for _ in 0..MOST_CHANGES {
            let taken = self.days[day].total.value();
            let better = better(question, model, (&self.picks, self.objective), (day, taken));
            let fits = better.into_iter().find_map(|change| {
                let picks = change.made(&self.picks);
                if !model.allows_but_time(&picks) {
                    return None;
                }
                let changed = timing.day(day, &picks);
                let stands = changed.too_tired.is_none() && changed.total.value() <= limit(question, day);
                stands.then_some((picks, changed))
            });
            let Some((picks, changed)) = fits else { break };
            self.objective = model.value(&picks);
            (self.picks, self.days[day]) = (picks, changed);
        }
    }

    /// Looks for a better one from here, each read by the clock: what is worth most as times are reckoned may lose most where they are
    /// read.
    pub(super) fn shake(
        &mut self,
        question: &WeekQuestion<'_>,
        model: &mut Model<'_, '_>,
        timing: &mut Timing<'_, '_>,
    ) {
        let mut draw = Kicks::new();
        let mut seen = BTreeSet::from([self.picks.clone()]);
        for kick in 0..kicks_by_clock(self.picks.len()) {
            model.loosen(if kick % 4 < 2 { 0.0 } else { LOOSER });
            let picks = draw.kicked(question, model, &self.picks);
            model.loosen(0.0);
            if model.value(&picks) < NEARLY * self.objective || !seen.insert(picks.clone()) {
                continue;
            }
            let other = Self::timed(question, model, timing, picks);
            if other.objective > self.objective + 1e-9 {
                *self = other;
            }
        }
    }
}

/// How often a better week than one of so many lines is looked for by the clock.
fn kicks_by_clock(lines: usize) -> usize {
    let [fewest, most] = KICKS_BY_CLOCK;
    let squared = lines.max(1).pow(2);
    (KICKS_OF_ONE_LINE / squared).clamp(fewest, most).min(fewest * LONG_WEEK.pow(2) / squared)
}

/// Share of what a change adds to a day as times are reckoned that it takes of the clock at least: within a pair it fills rests.
const REALLY: f64 = 0.5;

/// The changes of a day that gain and may go into its minutes, of which so much is taken; what gains most comes first.
fn better(
    question: &WeekQuestion<'_>,
    model: &Model<'_, '_>,
    (picks, value): (&[Pick], f64),
    (day, taken): (usize, f64),
) -> Vec<Change> {
    let mut tally = model.tally(picks);
    let left = (limit(question, day) - taken).max(0.0);
    let mut better: Vec<(f64, Change)> = Vec::new();
    for (at, news) in changes(model, picks, day) {
        let out = at.map(|at| &picks[at]);
        model.exchange(&mut tally, out, None);
        let (without, freed) = (model.worth(&tally), out.map_or(0.0, |pick| model.seconds(pick)));
        for new in news {
            let (gain, seconds) = model.gain(&tally, &new);
            if without + gain > value + 1e-9 && REALLY * (seconds - freed) <= left {
                better.push((without + gain, Change { at, new }));
            }
        }
        model.exchange(&mut tally, None, out);
    }
    better.sort_by(|a, b| b.0.total_cmp(&a.0));
    better.into_iter().map(|(_, change)| change).collect()
}

/// A pick more, or one in the place of another.
#[derive(Debug, Clone, Copy)]
struct Change {
    at: Option<usize>,
    new: Pick,
}

impl Change {
    fn made(&self, picks: &[Pick]) -> Vec<Pick> {
        let mut picks = picks.to_vec();
        match self.at {
            Some(at) => picks[at] = self.new,
            None => picks.push(self.new),
        }
        picks
    }
}

/// What can be changed of the picks of a day at once: what may come besides the others, and in the place of each.
fn changes(model: &Model<'_, '_>, picks: &[Pick], day: usize) -> Vec<(Option<usize>, Vec<Pick>)> {
    let free = |at: &usize| picks[*at].day == day && model.choices()[picks[*at].choice].pin.is_none();
    let own: Vec<usize> = (0..picks.len()).filter(free).collect();
    let there = |choice: &usize| own.iter().any(|at| picks[*at].choice == *choice);
    let with_sets = |choice: usize| {
        let [fewest, most] = model.choices()[choice].sets;
        (fewest..=most).map(move |sets| Pick { day, choice, sets })
    };
    let open = model.open_on(day).iter().copied().filter(|choice| !there(choice));
    let others: Vec<Pick> = open.flat_map(with_sets).collect();
    let instead = own.iter().map(|at| {
        let more = Pick { sets: picks[*at].sets + 1, ..picks[*at] };
        (Some(*at), std::iter::once(more).chain(others.iter().copied()).collect())
    });
    std::iter::once((None, others.clone())).chain(instead).collect()
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::kicks_by_clock;

    /// A short week is looked for oftener, a longer one than most have not longer than those.
    #[rstest]
    #[case(0, 200)]
    #[case(5, 200)]
    #[case(10, 80)]
    #[case(20, 20)]
    #[case(28, 20)]
    #[case(42, 8)]
    fn the_time_that_a_week_takes_hardly_grows_with_its_lines(#[case] lines: usize, #[case] kicks: usize) {
        assert_eq!(kicks_by_clock(lines), kicks);
    }
}
