//! Picks improved one move at a time: a movement more or less, another one, another day, a set more or less.

use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;

use super::model::{Model, Pick};
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

/// Picks that no single move improves.
pub(super) fn improve(question: &WeekQuestion<'_>, model: &Model<'_, '_>, from: Vec<Pick>, greed: Greed) -> Vec<Pick> {
    let mut picks = from;
    let mut value = model.value(&picks);
    for _ in 0..MOST_MOVES {
        let mut best: Option<(f64, f64, Vec<Pick>)> = None;
        let before = model.time(&picks);
        let mut tried = |moved: Vec<Pick>| {
            let Some(worth) = model.allowed_value(&moved).filter(|worth| *worth > value + 1e-9) else { return };
            let gain = worth - value;
            let rank = match greed {
                Greed::Gain => gain,
                Greed::PerSecond => gain / (model.time(&moved) - before).max(1.0),
            };
            if best.as_ref().is_none_or(|(known, ..)| rank > *known) {
                best = Some((rank, worth, moved));
            }
        };
        for (day, one) in question.days.iter().enumerate() {
            let free = |choice: &usize| {
                model.choices()[*choice].room == one.room && !picks.iter().any(|p| p.day == day && p.choice == *choice)
            };
            for choice in (0..model.choices().len()).filter(free) {
                let [fewest, most] = model.choices()[choice].sets;
                for sets in fewest..=most {
                    let added = Pick { day, choice, sets };
                    tried(picks.iter().copied().chain([added]).collect());
                }
                // In place of another of the day.
                for at in (0..picks.len()).filter(|at| picks[*at].day == day) {
                    let mut moved = picks.clone();
                    moved[at] = Pick { day, choice, sets: picks[at].sets.clamp(fewest, most) };
                    tried(moved);
                }
            }
        }
        for at in 0..picks.len() {
            let mut less = picks.clone();
            less.remove(at);
            tried(less);
            for sets in [picks[at].sets + 1, picks[at].sets - 1] {
                let mut moved = picks.clone();
                moved[at].sets = sets;
                tried(moved.clone());
                // A set from one line to another.
                for other in (0..picks.len()).filter(|other| *other != at && sets < picks[at].sets) {
                    let mut given = moved.clone();
                    given[other].sets += 1;
                    tried(given);
                }
            }
            for day in 0..question.days.len() {
                let mut moved = picks.clone();
                moved[at].day = day;
                tried(moved);
            }
        }
        let Some((_, worth, moved)) = best else { break };
        (value, picks) = (worth, moved);
    }
    picks.sort_unstable();
    picks
}

/// Kicks: how often some lines are torn out and the rest is improved again, what share of them, and the seed by which they are
/// drawn.
const KICKS: usize = 30;
const TORN: [f64; 2] = [0.15, 0.6];
const SEED: u64 = 7;

/// The best of a search from nothing that starts again from its best with some lines torn out. The same question leads to the
/// same picks.
pub(super) fn search(question: &WeekQuestion<'_>, model: &Model<'_, '_>) -> Vec<Pick> {
    let mut draw = ChaCha8Rng::seed_from_u64(SEED);
    let starts = [Greed::Gain, Greed::PerSecond].map(|greed| improve(question, model, Vec::new(), greed));
    let [a, b] = starts.map(|picks| (model.value(&picks), picks));
    let (mut value, mut best) = if a.0 >= b.0 { a } else { b };
    for kick in 0..KICKS {
        let mut torn = best.clone();
        let share = draw.random_range(TORN[0]..TORN[1]);
        for _ in 0..(share * best.len() as f64).ceil() as usize {
            torn.remove(draw.random_range(0..torn.len()));
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
