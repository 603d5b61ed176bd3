//! Picks improved one move at a time: a movement more or less, another one, another day, a set more or less.

use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;

use super::model::{Model, Pick, Tally};
use super::question::WeekQuestion;

/// Most moves; a week has some thirty lines, each of which is moved a few times.
const MOST_MOVES: usize = 200;

/// Which of the moves that improve is made.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Greed {
    /// The one that gains most.
    Gain,
    /// The one that gains most for the time it takes.
    PerSecond,
}

/// The best of the moves that were tried from somewhere.
struct Trial<'m, 'q, 'a> {
    model: &'m Model<'q, 'a>,
    greed: Greed,
    /// Value and time of where it is tried from, and what that adds up to; while a move is tried, what that does.
    value: f64,
    seconds: f64,
    tally: Tally,
    /// Seconds of each day that are left.
    left: Vec<f64>,
    /// Rank, value and picks.
    best: Option<(f64, f64, Vec<Pick>)>,
}

impl Trial<'_, '_, '_> {
    /// Tries picks in which one is in the place of another, or less, or more.
    fn of(&mut self, moved: &[Pick], out: Option<&Pick>, new: Option<&Pick>) {
        self.exchange(out, new);
        self.weigh(moved);
        self.exchange(new, out);
    }

    /// Counts one pick out and another in.
    fn exchange(&mut self, out: Option<&Pick>, new: Option<&Pick>) {
        self.model.exchange(&mut self.tally, out, new);
    }

    /// Keeps picks that are allowed and rank before all that were tried. Whether they are allowed takes longest to tell, so
    /// it is asked last.
    fn weigh(&mut self, moved: &[Pick]) {
        let worth = self.model.worth(&self.tally);
        let gain = worth - self.value;
        if gain <= 1e-9 {
            return;
        }
        let rank = match self.greed {
            Greed::Gain => gain,
            Greed::PerSecond => gain / (self.tally.time() - self.seconds).max(1.0),
        };
        let leads = self.best.as_ref().is_none_or(|(known, ..)| rank > *known);
        if leads && self.model.is_allowed(moved, &self.tally) {
            self.best = Some((rank, worth, moved.to_vec()));
        }
    }
}

/// Picks that no single move improves.
pub(super) fn improve(
    question: &WeekQuestion<'_>,
    model: &Model<'_, '_>,
    mut picks: Vec<Pick>,
    greed: Greed,
) -> Vec<Pick> {
    let mut value = model.value(&picks);
    for _ in 0..MOST_MOVES {
        let (left, tally) = (model.left(&picks), model.tally(&picks));
        let mut trial = Trial { model, greed, value, seconds: tally.time(), tally, left, best: None };
        others(question, &picks, &mut trial);
        changed(question, &picks, &mut trial);
        let Some((_, worth, moved)) = trial.best else { break };
        (value, picks) = (worth, moved);
    }
    picks.sort_unstable();
    picks
}

/// Tries what is not picked yet: besides the rest of its day, and in place of each of it.
fn others(question: &WeekQuestion<'_>, picks: &[Pick], trial: &mut Trial<'_, '_, '_>) {
    let choices = trial.model.choices();
    let mut more = picks.to_vec();
    let mut instead = picks.to_vec();
    for (day, one) in question.days.iter().enumerate() {
        let free = |choice: &usize| {
            let new = !picks.iter().any(|p| p.day == day && p.choice == *choice);
            choices[*choice].room == one.room && choices[*choice].pin.is_none() && new
        };
        for choice in (0..choices.len()).filter(free) {
            let [fewest, most] = choices[choice].sets;
            // Most days are nearly full: what does not go into the minutes is not weighed.
            for sets in fewest..=most {
                let pick = Pick { day, choice, sets };
                if trial.model.seconds(&pick) <= trial.left[day] {
                    more.push(pick);
                    trial.of(&more, None, Some(&pick));
                    more.pop();
                }
            }
            let gives_way = |at: &usize| picks[*at].day == day && choices[picks[*at].choice].pin.is_none();
            for at in (0..picks.len()).filter(gives_way) {
                let pick = Pick { day, choice, sets: picks[at].sets.clamp(fewest, most) };
                if trial.model.seconds(&pick) - trial.model.seconds(&picks[at]) <= trial.left[day] {
                    instead[at] = pick;
                    trial.of(&instead, Some(&picks[at]), Some(&pick));
                    instead[at] = picks[at];
                }
            }
        }
    }
}

/// Tries every pick left out, with a set more or fewer, with one of its sets given to another, and on another day.
fn changed(question: &WeekQuestion<'_>, picks: &[Pick], trial: &mut Trial<'_, '_, '_>) {
    let choices = trial.model.choices();
    let sets = |at: usize| (picks[at].sets, choices[picks[at].choice].sets);
    let mut moved = picks.to_vec();
    for at in (0..picks.len()).filter(|at| choices[picks[*at].choice].pin.is_none()) {
        let one = picks[at];
        moved.remove(at);
        trial.of(&moved, Some(&one), None);
        moved.insert(at, one);
        let (own, [fewest, most]) = sets(at);
        if own < most {
            moved[at].sets = own + 1;
            trial.of(&moved, Some(&one), Some(&Pick { sets: own + 1, ..one }));
        }
        if own > fewest {
            let fewer = Pick { sets: own - 1, ..one };
            moved[at] = fewer;
            trial.exchange(Some(&one), Some(&fewer));
            trial.weigh(&moved);
            let takes = |other: &usize| *other != at && sets(*other).0 < sets(*other).1[1];
            for other in (0..picks.len()).filter(takes) {
                moved[other].sets += 1;
                let more = moved[other];
                trial.of(&moved, Some(&picks[other]), Some(&more));
                moved[other].sets -= 1;
            }
            trial.exchange(Some(&fewer), Some(&one));
        }
        moved[at] = one;
        let room = question.days[one.day].room;
        let elsewhere = |day: &usize| *day != one.day && question.days[*day].room == room;
        for day in (0..question.days.len()).filter(elsewhere) {
            moved[at].day = day;
            trial.of(&moved, Some(&one), Some(&Pick { day, ..one }));
        }
        moved[at] = one;
    }
}

/// Kicks: how often some lines are torn out and the rest is improved again, what share of them, and the seed by which they are
/// drawn.
const KICKS: usize = 16;
const TORN: [f64; 2] = [0.15, 0.6];
const SEED: u64 = 7;

/// The best of a search from what is pinned that starts again from its best with some lines torn out. The same question leads to the
/// same picks.
pub(super) fn search(question: &WeekQuestion<'_>, model: &Model<'_, '_>) -> Vec<Pick> {
    let mut draw = ChaCha8Rng::seed_from_u64(SEED);
    let starts = [Greed::Gain, Greed::PerSecond].map(|greed| improve(question, model, model.pins(), greed));
    let [a, b] = starts.map(|picks| (model.value(&picks), picks));
    let (mut value, mut best) = if a.0 >= b.0 { a } else { b };
    for kick in 0..KICKS {
        let mut torn = best.clone();
        let share = draw.random_range(TORN[0]..TORN[1]);
        for _ in 0..(share * best.len() as f64).ceil() as usize {
            let at = draw.random_range(0..torn.len());
            if model.choices()[torn[at].choice].pin.is_none() {
                torn.remove(at);
            }
        }
        let greed = if kick % 2 == 0 { Greed::PerSecond } else { Greed::Gain };
        let found = improve(question, model, torn, greed);
        let worth = model.value(&found);
        if worth > value + 1e-9 {
            (best, value) = (found, worth);
        }
    }
    best
}
