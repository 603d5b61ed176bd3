//! The script of a workout: its turns in the order in which they are performed.
//!
//! A station is one line's share of a block. A round of a block goes through its stations; a one-sided set is one turn a
//! side. What was done decides what comes next, in whatever order it was done.

use std::collections::BTreeSet;

use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::dose::{Prescription, SetKind, SetPlan};
use crate::ladder::LadderStep;
use crate::log::LoggedSet;
use crate::movement::Movement;
use crate::person::Side;
use crate::plan::BlockKind;
use crate::units::Seconds;

vocabulary!(
    /// How far a workout is.
    WorkoutState {
        Planned => "planned", "planned";
        UnderWay => "under_way", "under way";
        Done => "done", "done";
        Missed => "missed", "missed";
    }
);

impl WorkoutState {
    /// Whether it is still to be done, or going on.
    pub const fn is_open(self) -> bool {
        matches!(self, Self::Planned | Self::UnderWay)
    }
}

/// Share of the rest that follows each half of an antagonist pair: the one rests while the other works. Assumed.
const SHARED_REST: f64 = 0.5;
/// Rest below which it is said of the one set that is followed at once, s: schools that pause within a set write 10 to 20. Assumed.
const SAID_OF_IT: f64 = 30.0;
/// Rest on either side of what fills another one's rest, and before a set goes on with the same load, s. Assumed: one gets there and
/// breathes.
const A_BREATH: f64 = 15.0;
/// Most sets in which a total is done; who needs more has the wrong step.
const MOST_SETS_TO_TOTAL: usize = 10;

/// What is done at a station.
#[derive(Debug, Clone, PartialEq)]
pub struct Station<K> {
    /// Whose it is: the caller's own name for it.
    pub key: K,
    /// The sets asked for.
    pub dose: Prescription,
    /// Whether one side works at a time.
    pub one_sided: bool,
    /// The side that begins.
    pub first: Side,
    /// Setting it up the first time.
    pub set_up: Seconds,
    /// Changing from one side to the other, or back to this station.
    pub change: Seconds,
}

impl<K> Station<K> {
    /// The station of a movement on a step; `first` is the side that begins where it is done one side at a time.
    pub fn of(key: K, movement: &Movement, step: &LadderStep, dose: Prescription, first: Side) -> Self {
        let change = Seconds(f64::from(movement.change_s));
        Self { key, dose, one_sided: movement.unilateral(), first, set_up: step.set_up_s, change }
    }

    fn sides(&self) -> Vec<Option<Side>> {
        match (self.one_sided, self.first) {
            (false, _) => vec![None],
            (true, Side::Right) => vec![Some(Side::Right), Some(Side::Left)],
            (true, _) => vec![Some(Side::Left), Some(Side::Right)],
        }
    }

    /// Rounds that are planned: its sets; for a total as many as it may take.
    fn rounds(&self) -> usize {
        let open = self.dose.sets.last().is_some_and(|set| set.total.is_some());
        self.dose.sets.len() + if open { MOST_SETS_TO_TOTAL - 1 } else { 0 }
    }

    /// What is asked in a round; what goes on to a total is asked again.
    fn work(&self, round: usize) -> Option<&SetPlan> {
        self.dose.sets.get(round.min(self.dose.sets.len().checked_sub(1)?))
    }
}

/// Stations performed together.
#[derive(Debug, Clone, PartialEq)]
pub struct Block<K> {
    /// How.
    pub kind: BlockKind,
    /// In order.
    pub stations: Vec<Station<K>>,
}

/// One set of one side, with what goes before it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Turn<K> {
    /// Whose station.
    pub key: K,
    /// The block's place in the workout, from 0.
    pub block: usize,
    /// The station's place in its block, from 0.
    pub station: usize,
    /// The round, which is the set of the station, from 0.
    pub round: usize,
    /// The side that works, in one-sided work.
    pub side: Option<Side>,
    /// What is asked.
    pub work: SetPlan,
    /// Rest after the turn before; none before the first of a workout.
    pub rest_before: Seconds,
    /// Changing over within that rest, or instead of it.
    pub change_over: Seconds,
}

/// What was done of a station, in the order of the log.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct DoneTurn<K> {
    /// Whose station.
    pub key: K,
    /// The side, where it was told.
    pub side: Option<Side>,
    /// Repetitions, which count towards a total.
    pub reps: u16,
}

/// The turns of a workout in order.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Script<K> {
    /// In the order in which they are performed.
    pub turns: Vec<Turn<K>>,
}

impl<K: Copy + PartialEq> Script<K> {
    /// Writes the script of blocks: a block of straight sets station by station, any other round by round.
    pub fn of(blocks: &[Block<K>]) -> Self {
        let mut script = Self { turns: Vec::new() };
        for (place, block) in blocks.iter().enumerate() {
            if block.kind == BlockKind::Straight {
                for (i, station) in block.stations.iter().enumerate() {
                    for round in 0..station.rounds() {
                        script.set(place, block, (i, station), round);
                    }
                }
            } else {
                let rounds = block.stations.iter().map(Station::rounds).max().unwrap_or(0);
                for round in 0..rounds {
                    for (i, station) in block.stations.iter().enumerate().filter(|(_, s)| round < s.rounds()) {
                        script.set(place, block, (i, station), round);
                    }
                }
            }
        }
        script
    }

    fn set(&mut self, place: usize, block: &Block<K>, (index, station): (usize, &Station<K>), round: usize) {
        let Some(work) = station.work(round) else { return };
        for (nth, side) in station.sides().into_iter().enumerate() {
            let rest_before = if nth == 0 { self.rest(block, place, (index, round)) } else { Seconds(0.0) };
            self.turns.push(Turn {
                key: station.key,
                block: place,
                station: index,
                round,
                side,
                work: work.clone(),
                rest_before,
                change_over: self.change(station, (round, nth)),
            });
        }
    }

    /// The rest before a turn that begins a set, from the set before it.
    fn rest(&self, block: &Block<K>, place: usize, (station, round): (usize, usize)) -> Seconds {
        let Some(last) = self.turns.last() else { return Seconds(0.0) };
        let own = f64::from(last.work.rest_s);
        // The block before ends with its own rest.
        let within = last.block == place;
        // What extends the set before goes on at once: a step off only the change takes time, on the same step a breath, unless a short
        // rest is said of that very set. What is said of a line is the rest between its sets.
        let extends = |work: &SetPlan| work.kind == SetKind::Extension && last.key == block.stations[station].key;
        if let Some(work) = block.stations[station].work(round).filter(|work| within && extends(work)) {
            let usual = if work.step == last.work.step { A_BREATH } else { 0.0 };
            return Seconds(if own < SAID_OF_IT { own } else { usual });
        }
        if within && block.kind == BlockKind::FilledRest {
            return self.filled(place, (station, round));
        }
        let share = match block.kind {
            BlockKind::Antagonist if within && last.station != station => SHARED_REST,
            // Within a round nobody rests; where a station is left alone each of its sets is a round.
            BlockKind::Superset | BlockKind::Circuit | BlockKind::Extension if within && last.round == round => 0.0,
            _ => 1.0,
        };
        Seconds(own * share)
    }

    /// The rest in a block whose first station is rested from while the others are done: a breath before these, and before its next
    /// set what they have left of its rest. Where only these are left, each rests as it asks.
    fn filled(&self, place: usize, (station, round): (usize, usize)) -> Seconds {
        let own = self.turns.last().map_or(0.0, |last| f64::from(last.work.rest_s));
        let Some(at) = self.turns.iter().rposition(|t| t.block == place && t.station == 0) else { return Seconds(own) };
        let main = &self.turns[at];
        if station > 0 {
            return Seconds(if main.round == round { A_BREATH } else { own });
        }
        let long = |t: &Turn<K>| t.rest_before.value().max(t.change_over.value()) + t.work.expected_seconds().value();
        let filled: f64 = self.turns[at + 1..].iter().map(long).sum();
        Seconds((f64::from(main.work.rest_s) - filled).max(A_BREATH))
    }

    fn change(&self, station: &Station<K>, (round, nth): (usize, usize)) -> Seconds {
        if self.turns.iter().all(|turn| turn.key != station.key) {
            return station.set_up;
        }
        let other_step = |last: &Turn<K>| station.work(round).is_some_and(|work| work.step != last.work.step);
        let moves = nth > 0 || self.turns.last().is_some_and(|last| last.key != station.key || other_step(last));
        if moves { station.change } else { Seconds(0.0) }
    }

    /// The turn that comes next after what was done: the first that is open, whatever was done out of order. Stations in
    /// `closed` are passed over.
    pub fn next(&self, done: &[DoneTurn<K>], closed: &[K]) -> Option<&Turn<K>> {
        self.open(done).into_iter().find(|turn| !closed.contains(&turn.key))
    }

    /// Whether nothing that is left has to be done: every turn is done or closed, or belongs to a station of `optional` of which as
    /// many are done as are wanted. Each of those says how many; the highest number counts. Begun is not done, and where nothing at
    /// all is done it is not enough.
    pub fn is_enough(&self, done: &[DoneTurn<K>], closed: &[K], optional: &[(K, u8)]) -> bool {
        let open: Vec<K> = self.open(done).into_iter().map(|turn| turn.key).collect();
        let is_full = |key: K| !open.contains(&key) && done.iter().any(|d| d.key == key);
        let full = optional.iter().filter(|(key, _)| is_full(*key)).count();
        let wanted = optional.iter().map(|(_, wanted)| usize::from(*wanted)).max().unwrap_or(0);
        let mut left = open.iter().filter(|key| !closed.contains(key)).peekable();
        let begun = self.turns.iter().any(|turn| is_full(turn.key));
        left.peek().is_none() || (begun && full >= wanted && left.all(|key| is_among(key, optional)))
    }

    /// Stations of `optional` of which something is left to be done.
    pub fn may_be_left(&self, done: &[DoneTurn<K>], closed: &[K], optional: &[(K, u8)]) -> Vec<K> {
        let mut left: Vec<K> = Vec::new();
        for key in self.open(done).into_iter().map(|turn| turn.key) {
            if is_among(&key, optional) && !closed.contains(&key) && !left.contains(&key) {
                left.push(key);
            }
        }
        left
    }

    /// The next turn of one station.
    pub fn next_of(&self, key: K, done: &[DoneTurn<K>]) -> Option<&Turn<K>> {
        self.open(done).into_iter().find(|turn| turn.key == key)
    }

    /// Turns that are still to be done, in order.
    pub fn open(&self, done: &[DoneTurn<K>]) -> Vec<&Turn<K>> {
        let open = |(turn, taken): (_, bool)| (!taken && Self::left_of_total(turn, done) != Some(0)).then_some(turn);
        self.turns.iter().zip(self.taken(done)).filter_map(open).collect()
    }

    /// For every turn whether it was done. A set of a side takes that side's next turn; one without a side the next of
    /// either.
    pub fn taken(&self, done: &[DoneTurn<K>]) -> Vec<bool> {
        let mut taken = vec![false; self.turns.len()];
        for one in done {
            let fits = |turn: &Turn<K>| {
                turn.key == one.key && (one.side.is_none() || turn.side.is_none() || turn.side == one.side)
            };
            let place = self.turns.iter().zip(&taken).position(|(turn, taken)| !taken && fits(turn));
            if let Some(place) = place {
                taken[place] = true;
            }
        }
        taken
    }

    /// Repetitions that are left of the total of a turn, on its side; none where it is not done to a total.
    pub fn left_of_total(turn: &Turn<K>, done: &[DoneTurn<K>]) -> Option<u32> {
        let own = done.iter().filter(|d| d.key == turn.key && (turn.side.is_none() || d.side == turn.side));
        let reps: u32 = own.map(|d| u32::from(d.reps)).sum();
        turn.work.total.map(|total| u32::from(total).saturating_sub(reps))
    }

    /// The same with the last set of a station left out, of either side.
    #[must_use]
    pub fn without_last_set(&self, key: K) -> Self {
        let last = self.sets_of(key).saturating_sub(1);
        let turns = self.turns.iter().filter(|t| t.key != key || t.round != last);
        Self { turns: turns.cloned().collect() }
    }

    /// Whether a station is done in turn with another one.
    pub fn is_shared(&self, key: K) -> bool {
        let block = self.turns.iter().find(|t| t.key == key).map(|t| t.block);
        self.turns.iter().any(|t| Some(t.block) == block && t.key != key)
    }

    /// Sets asked of a station, a one-sided one counted once.
    pub fn sets_of(&self, key: K) -> usize {
        self.turns.iter().filter(|t| t.key == key).map(|t| t.round + 1).max().unwrap_or(0)
    }
}

/// Whether a station is one of those that may be left out.
fn is_among<K: PartialEq>(key: &K, optional: &[(K, u8)]) -> bool {
    optional.iter().any(|(other, _)| other == key)
}

/// The side that begins today in a movement done one side at a time: the weaker one by repetitions to failure on the last
/// earlier day, where both were told; otherwise the sides take turns from day to day, the left one first.
pub fn first_side<'s>(log: impl Iterator<Item = &'s LoggedSet>, exercise: &str, today: NaiveDate) -> Side {
    let earlier: Vec<&LoggedSet> = log.filter(|s| s.exercise == exercise && s.date < today).collect();
    let days: BTreeSet<NaiveDate> = earlier.iter().map(|s| s.date).collect();
    // Of a set that was changed within itself nobody can tell beside another: it is passed over.
    let plain = |set: &&&LoggedSet| set.changed.is_none();
    let to_failure = |set: &LoggedSet| Some(f64::from(set.reps?) + f64::from(set.rir.unwrap_or(0)));
    let best = |side: Side| {
        let own = earlier.iter().filter(|s| Some(&s.date) == days.last() && s.side == Some(side));
        own.filter(plain).filter_map(|s| to_failure(s)).reduce(f64::max)
    };
    match best(Side::Left).zip(best(Side::Right)) {
        Some((left, right)) if left < right => Side::Left,
        Some((left, right)) if right < left => Side::Right,
        _ if days.len().is_multiple_of(2) => Side::Left,
        _ => Side::Right,
    }
}
