//! Picks improved one move at a time: a movement more or less, another one, another day, two days' exchanged, a set more or less.

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
    /// Value and time of where it is tried from.
    from: Worth,
    /// What that adds up to and comes to; while a move is tried, what that does.
    tally: Tally,
    now: Worth,
    /// Seconds of each day that are left.
    left: Vec<f64>,
    /// Rank and picks.
    best: Option<(f64, Vec<Pick>)>,
}

/// What picks are worth, and the seconds that they take.
#[derive(Debug, Clone, Copy)]
struct Worth {
    value: f64,
    seconds: f64,
}

impl<'m, 'q, 'a> Trial<'m, 'q, 'a> {
    fn from(model: &'m Model<'q, 'a>, greed: Greed, picks: &[Pick]) -> Self {
        let tally = model.tally(picks);
        let from = Worth { value: model.worth(&tally), seconds: tally.time() };
        Self { model, greed, from, tally, now: from, left: model.left(picks), best: None }
    }

    /// Tries picks in which one is in the place of another, or less.
    fn of(&mut self, moved: &[Pick], out: &Pick, new: Option<&Pick>) {
        self.exchange(Some(out), new);
        if let Some(rank) = self.leads(self.now) {
            self.keep(rank, moved);
        }
        self.exchange(new, Some(out));
    }

    /// Tries picks with one more than what adds up now.
    fn with(&mut self, moved: &[Pick], new: &Pick) {
        self.gaining(self.model.gain(&self.tally, new), moved, None, new);
    }

    /// Tries picks in which one has a set more.
    fn with_a_set(&mut self, moved: &[Pick], picked: &Pick) {
        let more = Pick { sets: picked.sets + 1, ..*picked };
        self.gaining(self.model.gain_of_a_set(&self.tally, picked), moved, Some(picked), &more);
    }

    /// Tries picks in which one is in the place of another and that gain so much value and take so many seconds more.
    fn gaining(&mut self, (gain, seconds): (f64, f64), moved: &[Pick], out: Option<&Pick>, new: &Pick) {
        let worth = Worth { value: self.now.value + gain, seconds: self.now.seconds + seconds };
        if let Some(rank) = self.leads(worth) {
            self.exchange(out, Some(new));
            debug_assert!(
                (self.now.value - worth.value).abs() < 1e-6,
                "{} is counted as {}",
                worth.value,
                self.now.value
            );
            self.keep(rank, moved);
            self.exchange(Some(new), out);
        }
    }

    /// Counts one pick out and another in.
    fn exchange(&mut self, out: Option<&Pick>, new: Option<&Pick>) {
        self.model.exchange(&mut self.tally, out, new);
        self.now = Worth { value: self.model.worth(&self.tally), seconds: self.tally.time() };
    }

    /// The rank of what is worth so much, where that is before all that were tried.
    fn leads(&self, worth: Worth) -> Option<f64> {
        let gain = worth.value - self.from.value;
        if gain <= 1e-9 {
            return None;
        }
        let rank = match self.greed {
            Greed::Gain => gain,
            Greed::PerSecond => gain / (worth.seconds - self.from.seconds).max(1.0),
        };
        self.best.as_ref().is_none_or(|(known, ..)| rank > *known).then_some(rank)
    }

    /// Keeps the picks that add up now where they are allowed. That takes longest to tell, so it is asked last.
    fn keep(&mut self, rank: f64, moved: &[Pick]) {
        if self.model.is_allowed(moved, &self.tally) {
            self.best = Some((rank, moved.to_vec()));
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
    for _ in 0..MOST_MOVES {
        // As long as there is room it is filled: what is in place of what is asked when nothing more goes in.
        let mut trial = Trial::from(model, greed, &picks);
        besides(question, &picks, &mut trial);
        if trial.best.is_none() {
            instead(question, &picks, &mut trial);
            changed(question, &picks, &mut trial);
        }
        let Some((.., moved)) = trial.best else { break };
        picks = moved;
    }
    picks.sort_unstable();
    picks
}

/// What is not picked yet on a day.
fn open(model: &Model<'_, '_>, picks: &[Pick], day: usize) -> Vec<usize> {
    let own: Vec<usize> = picks.iter().filter(|p| p.day == day).map(|p| p.choice).collect();
    model.open_on(day).iter().copied().filter(|choice| !own.contains(choice)).collect()
}

/// Tries what is not picked yet besides the rest of its day.
fn besides(question: &WeekQuestion<'_>, picks: &[Pick], trial: &mut Trial<'_, '_, '_>) {
    let choices = trial.model.choices();
    let mut more = picks.to_vec();
    for day in 0..question.days.len() {
        for choice in open(trial.model, picks, day) {
            let [fewest, most] = choices[choice].sets;
            // Most days are nearly full: what does not go into the minutes is not weighed.
            for sets in fewest..=most {
                let pick = Pick { day, choice, sets };
                if trial.model.seconds(&pick) <= trial.left[day] {
                    more.push(pick);
                    trial.with(&more, &pick);
                    more.pop();
                }
            }
        }
    }
}

/// Tries what is not picked yet in place of each of its day.
fn instead(question: &WeekQuestion<'_>, picks: &[Pick], trial: &mut Trial<'_, '_, '_>) {
    let choices = trial.model.choices();
    let mut instead = picks.to_vec();
    for day in 0..question.days.len() {
        let open = open(trial.model, picks, day);
        let gives_way = |at: &usize| picks[*at].day == day && choices[picks[*at].choice].pin.is_none();
        for at in (0..picks.len()).filter(gives_way) {
            let out = picks[at];
            let left = trial.left[day] + trial.model.seconds(&out);
            trial.exchange(Some(&out), None);
            for choice in &open {
                let [fewest, most] = choices[*choice].sets;
                let pick = Pick { day, choice: *choice, sets: out.sets.clamp(fewest, most) };
                if trial.model.seconds(&pick) <= left {
                    instead[at] = pick;
                    trial.with(&instead, &pick);
                }
            }
            instead[at] = out;
            trial.exchange(None, Some(&out));
        }
    }
}

/// Tries every pick left out, with a set more or fewer, with one of its sets given to another, on another day, and in exchange for one
/// of another day: full days leave no other way.
fn changed(question: &WeekQuestion<'_>, picks: &[Pick], trial: &mut Trial<'_, '_, '_>) {
    let choices = trial.model.choices();
    let sets = |at: usize| (picks[at].sets, choices[picks[at].choice].sets);
    let mut moved = picks.to_vec();
    for at in (0..picks.len()).filter(|at| choices[picks[*at].choice].pin.is_none()) {
        let one = picks[at];
        moved.remove(at);
        trial.of(&moved, &one, None);
        moved.insert(at, one);
        let (own, [fewest, most]) = sets(at);
        if own < most {
            moved[at].sets = own + 1;
            trial.with_a_set(&moved, &one);
        }
        if own > fewest {
            let fewer = Pick { sets: own - 1, ..one };
            moved[at] = fewer;
            trial.of(&moved, &one, Some(&fewer));
            trial.exchange(Some(&one), Some(&fewer));
            let takes = |other: &usize| *other != at && sets(*other).0 < sets(*other).1[1];
            for other in (0..picks.len()).filter(takes) {
                moved[other].sets += 1;
                trial.with_a_set(&moved, &picks[other]);
                moved[other].sets -= 1;
            }
            trial.exchange(Some(&fewer), Some(&one));
        }
        moved[at] = one;
        let room = question.days[one.day].room;
        let elsewhere = |day: &usize| *day != one.day && question.days[*day].room == room;
        for day in (0..question.days.len()).filter(elsewhere) {
            moved[at].day = day;
            trial.of(&moved, &one, Some(&Pick { day, ..one }));
        }
        moved[at] = one;
        let trades = |other: &usize| choices[picks[*other].choice].pin.is_none() && elsewhere(&picks[*other].day);
        for other in (at + 1..picks.len()).filter(trades) {
            let theirs = picks[other];
            let [mine, yours] = [Pick { day: theirs.day, ..one }, Pick { day: one.day, ..theirs }];
            (moved[at], moved[other]) = (mine, yours);
            trial.exchange(Some(&theirs), Some(&yours));
            trial.of(&moved, &one, Some(&mine));
            trial.exchange(Some(&yours), Some(&theirs));
            (moved[at], moved[other]) = (one, theirs);
        }
    }
}

/// How often some lines are torn out and the rest is improved again, of a week of one line: half as many lines, which are looked
/// through quickly, are looked through four times as often.
const KICKS_OF_ONE_LINE: usize = 33_600;
/// Fewest and most kicks.
const KICKS: [usize; 2] = [28, 420];
/// What share of the lines is torn out, and the seed by which they are drawn.
const TORN: [f64; 2] = [0.15, 0.6];
const SEED: u64 = 11;

/// The best of a search from what is pinned. The same question leads to the same picks.
pub(super) fn search(question: &WeekQuestion<'_>, model: &Model<'_, '_>) -> Vec<Pick> {
    let starts = [Greed::Gain, Greed::PerSecond].map(|greed| improve(question, model, model.pins(), greed));
    let [a, b] = starts.map(|picks| (model.value(&picks), picks));
    let from = if a.0 >= b.0 { a.1 } else { b.1 };
    let kicks = kicks(&from);
    shaken(question, model, from, kicks)
}

/// The best of a shorter search from picks that are allowed.
pub(super) fn better(question: &WeekQuestion<'_>, model: &Model<'_, '_>, from: Vec<Pick>) -> Vec<Pick> {
    let kicks = kicks(&from) / 7;
    shaken(question, model, from, kicks)
}

fn kicks(from: &[Pick]) -> usize {
    (KICKS_OF_ONE_LINE / from.len().max(1).pow(2)).clamp(KICKS[0], KICKS[1])
}

/// The best of a search that starts so often from its best with some lines torn out.
fn shaken(question: &WeekQuestion<'_>, model: &Model<'_, '_>, from: Vec<Pick>, kicks: usize) -> Vec<Pick> {
    let mut draw = Kicks::new();
    let (mut value, mut best) = (model.value(&from), from);
    for _ in 0..kicks {
        let found = draw.kicked(question, model, &best);
        let worth = model.value(&found);
        if worth > value + 1e-9 {
            (best, value) = (found, worth);
        }
    }
    best
}

/// Ways to another week from one that no single move improves.
pub(super) struct Kicks {
    draw: ChaCha8Rng,
    made: usize,
}

impl Kicks {
    pub(super) fn new() -> Self {
        Self { draw: ChaCha8Rng::seed_from_u64(SEED), made: 0 }
    }

    /// Picks with some lines torn out and the rest improved again.
    pub(super) fn kicked(&mut self, question: &WeekQuestion<'_>, model: &Model<'_, '_>, from: &[Pick]) -> Vec<Pick> {
        let greed = if self.made.is_multiple_of(2) { Greed::PerSecond } else { Greed::Gain };
        let torn = self.torn(question, model, from);
        improve(question, model, torn, greed)
    }

    /// Picks with some lines torn out.
    pub(super) fn torn(&mut self, question: &WeekQuestion<'_>, model: &Model<'_, '_>, from: &[Pick]) -> Vec<Pick> {
        let mut torn = from.to_vec();
        let share = self.draw.random_range(TORN[0]..TORN[1]);
        for _ in 0..(share * from.len() as f64).ceil() as usize {
            let at = self.draw.random_range(0..torn.len());
            if model.choices()[torn[at].choice].pin.is_none() {
                torn.remove(at);
            }
        }
        // A movement drawn by lot beside half of them: a short day has so few lines that tearing alone leads back to the same.
        if (self.made / 2) % 2 == 1 {
            plant(question, model, &mut self.draw, &mut torn);
        }
        self.made += 1;
        torn
    }
}

/// Adds a movement drawn by lot where it is allowed: what leads elsewhere is often worth less by itself.
fn plant(question: &WeekQuestion<'_>, model: &Model<'_, '_>, draw: &mut ChaCha8Rng, picks: &mut Vec<Pick>) {
    let choices = model.choices();
    if choices.is_empty() {
        return;
    }
    let day = draw.random_range(0..question.days.len());
    let choice = draw.random_range(0..choices.len());
    let sets = draw.random_range(choices[choice].sets[0]..=choices[choice].sets[1]);
    let known = picks.iter().any(|p| p.day == day && p.choice == choice);
    if !known && choices[choice].pin.is_none() {
        picks.push(Pick { day, choice, sets });
        if !model.allows(picks) {
            picks.pop();
        }
    }
}
