//! The choice of movements and sets: what it is worth, and what it may not exceed.

mod clocked;
mod counted;
mod outdone;
mod program;
mod readings;

use self::counted::Counted;
pub(super) use self::counted::side_of;
use self::readings::Readings;
use super::cover::{BEYOND_LEAST, Cover, DIRECT};
use super::pool::Choice;
use super::question::{MOST_DAYS, WeekQuestion, Wish, limit};
use crate::anatomy::Region;

/// What setting up a movement on a day costs, and learning another one, in weighted sets.
const A_LINE: f64 = 0.4;
const A_MOVEMENT: f64 = 0.3;
/// What each of a day's first few movements gives back of that, and how many they are: a day with one movement is not worth
/// the way.
const FIRST_LINES: f64 = 0.35;
const FIRST: f64 = 3.0;
/// What doing a job well adds to a set.
const WELL_DONE: f64 = 0.15;
/// Ratio of pushing and pulling sets that is balanced, and what a set beyond it costs where both can be done: in a week between what a
/// first set of what grows and of what is in focus is worth (2.5 and 3.75). Half of it left weeks of 14 to 11 and of 7 to 5. A single day
/// holds too few sets.
const BALANCED: f64 = 1.2;
const UNBALANCED: f64 = 3.0;
const UNBALANCED_DAY: f64 = 0.6;
/// What direct work for a region on a first and on a second day of the week is worth, each in its own sets: the same sets on two days
/// are held to do more than on one, by all schools, but a day more is no reason to leave out work. Assumed.
const A_DAY_OF_IT: f64 = 0.3;
pub(super) const DAYS_OF_IT: u8 = 2;
/// Share of a region's most that one day may hold where there are several, and the fewest that it may in any case.
const OF_A_DAY: f64 = 0.6;
const A_DAY: f64 = 4.0;
/// Most direct sets of a region on one day, and on two days that follow each other.
const MOST_A_DAY: f64 = 10.0;
pub(super) const TWO_DAYS: f64 = 6.0;

/// A movement on a day.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Pick {
    /// The day's place.
    pub day: usize,
    /// The choice's place.
    pub choice: usize,
    /// Sets.
    pub sets: usize,
}

/// What was picked, its value, and the most that could be had.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Proposal {
    /// By day, then choice.
    pub picks: Vec<Pick>,
    /// Its value in weighted sets.
    pub objective: f64,
    /// No pick of this pool has more, for the times as they are reckoned.
    pub bound: f64,
}

/// The program.
#[derive(Debug)]
pub struct Model<'q, 'a> {
    question: &'q WeekQuestion<'q>,
    choices: &'q [Choice<'a>],
    /// What the clock said of days that were laid.
    readings: Readings,
    /// Least and most of each region, and what a set of it counts.
    regions: Vec<([f64; 2], f64)>,
    covers: Vec<Cover>,
    /// What is counted of each choice, and by room those that are open to any day there.
    counted: Vec<Counted>,
    open: Vec<Vec<usize>>,
    /// What a set of pushing or pulling out of balance costs.
    unbalanced: f64,
    /// Most seconds of each day; most direct sets of each region on each, and on each with the one that follows.
    budgets: Vec<f64>,
    bearable: Vec<[f64; REGIONS]>,
    bearable_with_next: Vec<[f64; REGIONS]>,
    /// The day that follows each at once.
    after: Vec<Option<usize>>,
    /// What is in every week: the limits give way to it.
    pins: Vec<Pick>,
}

const REGIONS: usize = Region::ALL.len();

/// Movements that are told apart: more than seven rooms' choices and everything pinned.
const MOST_MOVEMENTS: usize = 1024;

/// What picks add up to. A search tries thousands of picks that differ from others by one or two: those are counted in and out.
#[derive(Debug, Clone, Copy)]
pub(super) struct Tally {
    /// Direct sets by day and region, those of the week, and all sets of the week.
    direct: [[f64; REGIONS]; MOST_DAYS],
    direct_in_all: [f64; REGIONS],
    all: [f64; REGIONS],
    /// What they are worth, region by region, and in all.
    covers: [f64; REGIONS],
    covered: f64,
    /// Days on which each is trained directly, and what that is worth.
    days_of: [u8; REGIONS],
    often: f64,
    /// By day.
    seconds: [f64; MOST_DAYS],
    push: f64,
    pull: f64,
    well: f64,
    /// By day.
    lines: [f64; MOST_DAYS],
    /// How many there are, and how often each is picked.
    movements: usize,
    times: [u8; MOST_MOVEMENTS],
}

impl Tally {
    const NOTHING: Self = Self {
        direct: [[0.0; REGIONS]; MOST_DAYS],
        direct_in_all: [0.0; REGIONS],
        all: [0.0; REGIONS],
        covers: [0.0; REGIONS],
        covered: 0.0,
        days_of: [0; REGIONS],
        often: 0.0,
        seconds: [0.0; MOST_DAYS],
        push: 0.0,
        pull: 0.0,
        well: 0.0,
        lines: [0.0; MOST_DAYS],
        movements: 0,
        times: [0; MOST_MOVEMENTS],
    };

    /// Seconds of the week, as reckoned.
    pub(super) fn time(&self) -> f64 {
        self.seconds.iter().sum()
    }
}

impl<'q, 'a> Model<'q, 'a> {
    /// The program of a question over a pool.
    pub fn of(question: &'q WeekQuestion<'q>, choices: &'q [Choice<'a>]) -> Self {
        let ids: Vec<&str> = choices.iter().map(|c| c.candidate.movement.id.as_str()).collect();
        let number = |id: &&str| ids.iter().position(|known| known == id).unwrap_or_default();
        let days = question.days.len();
        let counted: Vec<Counted> = choices.iter().zip(&ids).map(|(c, id)| Counted::of(c, number(id))).collect();
        let mut open = vec![Vec::new(); question.rooms.len()];
        for (i, choice) in choices.iter().enumerate().filter(|(_, c)| c.pin.is_none()) {
            open[choice.room].push(i);
        }
        let bare = Self {
            question,
            choices,
            unbalanced: match [1, -1].iter().all(|side| counted.iter().any(|c| c.side == *side)) {
                true if days > 1 => UNBALANCED,
                true => UNBALANCED_DAY,
                false => 0.0,
            },
            counted,
            open,
            budgets: Vec::new(),
            bearable: Vec::new(),
            bearable_with_next: Vec::new(),
            readings: Readings::none(days, choices.len()),
            regions: Region::ALL.iter().map(|r| (question.ranges(*r), question.weight(*r))).collect(),
            covers: Region::ALL.iter().map(|r| Cover::of(question.ranges(*r), question.weight(*r))).collect(),
            after: (0..days).map(|a| (0..days).find(|b| question.follows(a, *b))).collect(),
            pins: choices
                .iter()
                .enumerate()
                .filter_map(|(choice, c)| Some(Pick { day: c.pin?, choice, sets: c.sets[1] }))
                .collect(),
        };
        let budgets = (0..days).map(|day| bare.budget(day)).collect();
        let of_days = |most: &dyn Fn(usize, Region) -> f64| {
            let of_day = |day| {
                let mut sets = [0.0; REGIONS];
                for region in Region::ALL {
                    sets[*region as usize] = most(day, *region);
                }
                sets
            };
            (0..days).map(of_day).collect()
        };
        let bearable = of_days(&|day, region| bare.bearable_on(day, region));
        let bearable_with_next = of_days(&|day, region| (TWO_DAYS - question.done_around(day, region)[1]).max(0.0));
        Self { budgets, bearable, bearable_with_next, ..bare }
    }

    /// What is picked in any case.
    pub(super) fn pins(&self) -> Vec<Pick> {
        self.pins.clone()
    }

    /// The pool it picks from.
    pub(super) const fn choices(&self) -> &'q [Choice<'a>] {
        self.choices
    }

    /// What may be picked on a day besides what is pinned.
    pub(super) fn open_on(&self, day: usize) -> &[usize] {
        &self.open[self.question.days[day].room]
    }

    fn ranges(&self, region: Region) -> [f64; 2] {
        self.regions[region as usize].0
    }

    /// Most direct sets of a region on a day, of what was done just before that day and on it.
    pub(super) fn bearable_on(&self, day: usize, region: Region) -> f64 {
        let [before, same] = self.question.done_around(day, region);
        let beside = if before > 0.0 { TWO_DAYS - before - same } else { f64::INFINITY };
        (self.most_a_day(region) - same).min(beside).max(0.0)
    }

    /// Most direct sets of a region on a day that follows nothing.
    fn most_a_day(&self, region: Region) -> f64 {
        let most = self.ranges(region)[1];
        if self.question.days.len() < 2 {
            most.min(MOST_A_DAY)
        } else {
            (OF_A_DAY * most).ceil().clamp(A_DAY, MOST_A_DAY)
        }
    }

    /// Seconds of a day for movements: without what goes before and after.
    fn budget(&self, day: usize) -> f64 {
        (limit(self.question, day) - self.around(day)).max(0.0)
    }

    /// Seconds of a pick, as reckoned.
    pub(super) fn seconds(&self, pick: &Pick) -> f64 {
        let choice = &self.counted[pick.choice];
        self.readings.scale[pick.day][pick.choice] * (choice.once + pick.sets as f64 * choice.a_set)
    }

    /// Most seconds of a day, or what its pins take.
    fn allowed_seconds(&self, day: usize) -> f64 {
        let pinned: f64 = self.pins.iter().filter(|p| p.day == day).map(|p| self.seconds(p)).sum();
        (self.budgets[day] + self.readings.spared[day] + self.readings.looser).max(pinned)
    }

    /// Most movements of a day, or its pins.
    fn allowed_lines(&self, day: usize) -> usize {
        let pinned = self.pins.iter().filter(|p| p.day == day).count();
        usize::from(self.question.school.movements[1]).max(pinned)
    }

    /// Direct sets of a region that are pinned on a day.
    fn pinned_direct(&self, day: usize, region: Region) -> f64 {
        let gives = |p: &Pick| self.choices[p.choice].gives.iter().find(|g| g.0 == region).map_or(0.0, |g| g.1);
        self.pins.iter().filter(|p| p.day == day).map(|p| gives(p) * p.sets as f64).sum()
    }

    /// Most direct sets of a region on a day, and on two that follow each other, or what is pinned.
    fn borne(&self, day: usize, region: Region) -> f64 {
        self.bearable[day][region as usize].max(self.pinned_direct(day, region))
    }

    fn borne_by_two(&self, day: usize, other: usize, region: Region) -> f64 {
        let pinned = self.pinned_direct(day, region) + self.pinned_direct(other, region);
        self.bearable_with_next[day][region as usize].max(pinned)
    }

    const fn costs(&self) -> (f64, f64) {
        match self.question.wish {
            Wish::FewerMovements => (2.0 * A_LINE, 6.0 * A_MOVEMENT),
            Wish::MoreVariety => (A_LINE, -A_MOVEMENT),
            _ => (A_LINE, A_MOVEMENT),
        }
    }

    /// Seconds that picks leave of each day, as reckoned; a hair more, for what rounding takes.
    pub(super) fn left(&self, picks: &[Pick]) -> Vec<f64> {
        let mut left: Vec<f64> = (0..self.budgets.len()).map(|day| self.allowed_seconds(day) + 1e-6).collect();
        for pick in picks {
            left[pick.day] -= self.seconds(pick);
        }
        left
    }

    /// What picks add up to.
    pub(super) fn tally(&self, picks: &[Pick]) -> Tally {
        let mut tally = Tally::NOTHING;
        for pick in picks {
            self.count(&mut tally, pick, 1.0);
        }
        tally
    }

    /// Counts one pick out and another in.
    pub(super) fn exchange(&self, tally: &mut Tally, out: Option<&Pick>, new: Option<&Pick>) {
        if let Some(pick) = out {
            self.count(tally, pick, -1.0);
        }
        if let Some(pick) = new {
            self.count(tally, pick, 1.0);
        }
    }

    /// Counts a pick in (1) or out (-1).
    fn count(&self, tally: &mut Tally, pick: &Pick, sign: f64) {
        let (choice, sets) = (&self.counted[pick.choice], sign * pick.sets as f64);
        for &(r, own, total) in &choice.gives {
            self.count_day(tally, pick.day, r, own * sets);
            tally.direct[pick.day][r] += own * sets;
            tally.direct_in_all[r] += own * sets;
            tally.all[r] += total * sets;
            let now = self.covers[r].value(tally.all[r], tally.direct_in_all[r]);
            tally.covered += now - tally.covers[r];
            tally.covers[r] = now;
        }
        match choice.side {
            1 => tally.push += sets,
            -1 => tally.pull += sets,
            _ => {}
        }
        tally.well += WELL_DONE * choice.score * sets;
        tally.seconds[pick.day] += sign * self.seconds(pick);
        tally.lines[pick.day] += sign;
        let times = &mut tally.times[choice.movement.min(MOST_MOVEMENTS - 1)];
        if sign > 0.0 {
            *times = times.saturating_add(1);
            tally.movements += usize::from(*times == 1);
        } else {
            *times = times.saturating_sub(1);
            tally.movements -= usize::from(*times == 0);
        }
    }

    /// What a pick would add to the value of what a tally has, and the seconds that it would take. Most of what a search tries is
    /// worth less than the best so far: it need not be counted in and out again.
    pub(super) fn gain(&self, tally: &Tally, new: &Pick) -> (f64, f64) {
        let (a_line, a_movement) = self.costs();
        let mut gain = self.gain_of_sets(tally, new);
        gain += lines_worth(tally.lines[new.day] + 1.0, a_line) - lines_worth(tally.lines[new.day], a_line);
        if tally.times[self.counted[new.choice].movement.min(MOST_MOVEMENTS - 1)] == 0 {
            gain -= a_movement;
        }
        (gain, self.seconds(new))
    }

    /// What one more set of a pick would add, and the seconds that it would take.
    pub(super) fn gain_of_a_set(&self, tally: &Tally, picked: &Pick) -> (f64, f64) {
        let seconds = self.readings.scale[picked.day][picked.choice] * self.counted[picked.choice].a_set;
        (self.gain_of_sets(tally, &Pick { sets: 1, ..*picked }), seconds)
    }

    /// What the sets of a pick would add to the value of what a tally has.
    fn gain_of_sets(&self, tally: &Tally, new: &Pick) -> f64 {
        let (choice, sets) = (&self.counted[new.choice], new.sets as f64);
        let mut gain = WELL_DONE * choice.score * sets;
        for &(r, own, total) in &choice.gives {
            let value = self.covers[r].value(tally.all[r] + total * sets, tally.direct_in_all[r] + own * sets);
            gain += value - tally.covers[r];
            let had = tally.direct[new.day][r];
            if !is_trained(had) && is_trained(had + own * sets) && tally.days_of[r] < DAYS_OF_IT {
                gain += self.a_day_of_it(r);
            }
        }
        let (push, pull) = match choice.side {
            1 => (tally.push + sets, tally.pull),
            -1 => (tally.push, tally.pull + sets),
            _ => return gain,
        };
        gain + self.unbalanced * (unbalance(tally.push, tally.pull) - unbalance(push, pull))
    }

    /// Counts a day of a region in that is about to get direct sets, or one out that loses its last.
    fn count_day(&self, tally: &mut Tally, day: usize, r: usize, change: f64) {
        let (had, has) = (is_trained(tally.direct[day][r]), is_trained(tally.direct[day][r] + change));
        if had == has {
            return;
        }
        let worth = |days: u8| self.a_day_of_it(r) * f64::from(days.min(DAYS_OF_IT));
        let before = worth(tally.days_of[r]);
        tally.days_of[r] = if has { tally.days_of[r] + 1 } else { tally.days_of[r] - 1 };
        tally.often += worth(tally.days_of[r]) - before;
    }

    /// What each of a region's first two days is worth. With a single day there is nothing to choose.
    fn a_day_of_it(&self, r: usize) -> f64 {
        if self.question.days.len() > 1 { A_DAY_OF_IT * self.regions[r].1 } else { 0.0 }
    }

    /// The value of picks, in weighted sets.
    pub fn value(&self, picks: &[Pick]) -> f64 {
        self.worth(&self.tally(picks))
    }

    /// The value of what picks add up to, whether they are allowed or not.
    pub(super) fn worth(&self, tally: &Tally) -> f64 {
        let (a_line, a_movement) = self.costs();
        let lines: f64 = tally.lines.iter().map(|lines| lines_worth(*lines, a_line)).sum();
        tally.covered + tally.often + tally.well + lines
            - a_movement * tally.movements as f64
            - self.unbalanced * unbalance(tally.push, tally.pull)
    }

    /// More than any week can be worth: every aim met in full, every set done as well as can be.
    fn everything(&self) -> f64 {
        let aims = self
            .regions
            .iter()
            .map(|([least, most], w)| w * (least + BEYOND_LEAST * (most - least).max(0.0) + DIRECT * 0.5 * least));
        let sets = usize::from(self.question.school.movements[1]) * self.question.days.len() * 12;
        let days: f64 = (0..REGIONS).map(|r| self.a_day_of_it(r) * f64::from(DAYS_OF_IT)).sum();
        aims.sum::<f64>() + days + (WELL_DONE + A_MOVEMENT) * sets as f64
    }

    /// Whether picks keep to the minutes as reckoned, the room of each day, and the limits of a day and of days that follow
    /// each other.
    pub fn allows(&self, picks: &[Pick]) -> bool {
        self.allowed_value(picks).is_some()
    }

    /// The value of picks that are allowed; none of others.
    pub(super) fn allowed_value(&self, picks: &[Pick]) -> Option<f64> {
        let tally = self.tally(picks);
        self.is_allowed(picks, &tally).then(|| self.worth(&tally))
    }

    /// Whether picks, which add up to so much, are allowed.
    pub(super) fn is_allowed(&self, picks: &[Pick], tally: &Tally) -> bool {
        let in_time = (0..self.budgets.len()).all(|day| tally.seconds[day] <= self.allowed_seconds(day) + 1e-6);
        in_time && self.bears(picks, tally)
    }

    /// The same, the minutes left to the clock.
    pub fn allows_but_time(&self, picks: &[Pick]) -> bool {
        self.bears(picks, &self.tally(picks))
    }

    fn bears(&self, picks: &[Pick], tally: &Tally) -> bool {
        let days = self.question.days.len();
        let pinned = |p: &Pick| self.choices[p.choice].pin.is_some();
        let job = |p: &Pick| self.counted[p.choice].job;
        picks.iter().enumerate().all(|(i, p)| {
            let choice = &self.choices[p.choice];
            choice.room == self.question.days[p.day].room
                && (choice.sets[0]..=choice.sets[1]).contains(&p.sets)
                && !picks[..i].iter().any(|q| q.day == p.day && job(q) == job(p) && !(pinned(p) && pinned(q)))
        }) && (0..days).all(|day| {
            tally.lines[day] <= self.allowed_lines(day) as f64
                && Region::ALL.iter().all(|region| {
                    let r = *region as usize;
                    let own = tally.direct[day][r];
                    let two = |other: usize| {
                        let both = tally.direct[other][r] + own;
                        both <= self.bearable_with_next[day][r] + 1e-6
                            || both <= self.borne_by_two(day, other, *region) + 1e-6
                    };
                    let bears = own <= self.bearable[day][r] + 1e-6 || own <= self.borne(day, *region) + 1e-6;
                    bears && self.after[day].is_none_or(two)
                })
        })
    }
}

/// Whether so many direct sets of a day train a region on it: what was counted in and out may leave a hair.
fn is_trained(sets: f64) -> bool {
    sets > 1e-6
}

/// By how many sets pushing and pulling lie further apart than is balanced.
fn unbalance(push: f64, pull: f64) -> f64 {
    (push - BALANCED * pull).max(pull - BALANCED * push).max(0.0)
}

/// What the number of a day's lines is worth, of which one costs so much.
fn lines_worth(lines: f64, a_line: f64) -> f64 {
    FIRST_LINES * lines.min(FIRST) - a_line * lines
}
