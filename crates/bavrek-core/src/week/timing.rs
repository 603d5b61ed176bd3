//! What the clock says of a day of picks.
//!
//! Where nothing is paired a day is its lines one after the other, and what each of them takes is known before the day is laid: its sets
//! with the rests between them, its set-up, which goes on within the rest of the line before, and the sets on the way up to it. A search
//! reads thousands of days, and laying one to read it takes many times as long.

use std::collections::HashMap;

use super::lay;
use super::model::Pick;
use super::pool::Choice;
use super::question::WeekQuestion;
use crate::anatomy::Joint;
use crate::clock::Clock;
use crate::fit::{Mate, Start, Worked, tired};
use crate::person::Side;
use crate::plan::BlockKind;
use crate::school::{Pairing, is_compound};
use crate::script::{Block, Script, Station};
use crate::set_ups::{self, Order};
use crate::units::Seconds;
use crate::warm_up::{A_JOINT, Ahead, WarmUp, cool_down, is_to_be_moved};

/// What the clock says of a day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Reading {
    /// From the first minute to the last.
    pub total: Seconds,
    /// The first pick that what is done before it leaves too little of: a proposal has none.
    pub too_tired: Option<Pick>,
}

/// A clock for the days of picks. What it found out once it keeps.
#[derive(Debug)]
pub struct Timing<'q, 'a> {
    question: &'q WeekQuestion<'q>,
    choices: &'q [Choice<'a>],
    lines: Vec<Line>,
    /// Orders in which least is set up anew, by choices as the school lays them.
    orders: HashMap<Vec<usize>, Option<Order>>,
    /// By choice and number of sets.
    sets: HashMap<(usize, usize), Sets>,
    /// Where a choice begins with so many sets, as tired as that (a logarithm's bits).
    starts: HashMap<(usize, usize, u64), Start>,
    /// Seconds on the way up to a choice with so many sets on a step.
    ramps: HashMap<(usize, usize, usize), f64>,
    /// Seconds of a set-up that stand already, by choice and step of what was done before and of what comes.
    stands: HashMap<[(usize, usize); 2], f64>,
}

/// What of a choice does not hang on its sets.
#[derive(Debug)]
struct Line {
    compound: bool,
    /// A number for its kind of strength: the first of each is led up to.
    kind: usize,
    /// Joints that are moved before it, a bit each.
    joints: u16,
}

/// What of a choice hangs on its sets.
#[derive(Debug, Clone, Copy)]
struct Sets {
    /// From its first set to the end of its last, s.
    own: f64,
    /// The rest after that, s.
    rest: f64,
    zone: Option<[u16; 2]>,
}

/// A line in its place.
#[derive(Debug, Clone, Copy)]
struct Placed {
    pick: Pick,
    step: usize,
    sets: Sets,
}

impl<'q, 'a> Timing<'q, 'a> {
    /// A clock for a question over a pool.
    pub fn of(question: &'q WeekQuestion<'q>, choices: &'q [Choice<'a>]) -> Self {
        let kinds: Vec<&str> = choices.iter().map(|c| c.candidate.movement.carry_over.pattern.as_str()).collect();
        let line = |(choice, kind): (&Choice<'_>, &&str)| {
            let movement = choice.candidate.movement;
            let moved = Joint::ALL.iter().enumerate().filter(|(_, joint)| is_to_be_moved(movement, **joint));
            Line {
                compound: is_compound(movement.pattern),
                kind: kinds.iter().position(|known| known == kind).unwrap_or_default(),
                joints: moved.map(|(i, _)| 1 << i).sum(),
            }
        };
        Self {
            question,
            choices,
            lines: choices.iter().zip(&kinds).map(line).collect(),
            orders: HashMap::new(),
            sets: HashMap::new(),
            starts: HashMap::new(),
            ramps: HashMap::new(),
            stands: HashMap::new(),
        }
    }

    /// What reading a day costs beside weighing a movement: laying it many times what telling it without does.
    pub(super) fn cost(&self) -> usize {
        if self.question.school.pairing == Pairing::Alone { 60 } else { 3_000 }
    }

    /// What it says of each day of picks.
    pub fn week(&mut self, picks: &[Pick]) -> Vec<Reading> {
        (0..self.question.days.len()).map(|day| self.day(day, picks)).collect()
    }

    /// What it says of one of them.
    pub fn day(&mut self, day: usize, picks: &[Pick]) -> Reading {
        if self.question.school.pairing != Pairing::Alone {
            let laid = lay::day(self.question, self.choices, day, picks);
            return Reading { total: laid.total, too_tired: laid.too_tired };
        }
        let picks: Vec<Pick> = picks.iter().copied().filter(|p| p.day == day).collect();
        if picks.is_empty() {
            return Reading { total: Seconds(0.0), too_tired: None };
        }
        let picks = self.in_order(&picks);
        let (placed, too_tired) = self.placed(&picks);
        Reading { total: Seconds(self.total(day, &placed)), too_tired }
    }

    /// The picks of a day in the order in which they are done.
    fn in_order(&mut self, picks: &[Pick]) -> Vec<Pick> {
        let laid = lay::by_school(self.question, self.choices, picks);
        let laid: Vec<Pick> = laid.blocks.iter().flat_map(|b| &b.keys).map(|key| picks[*key]).collect();
        let choices: Vec<usize> = laid.iter().map(|p| p.choice).collect();
        match self.order(&choices) {
            Some(order) => order.blocks.iter().map(|at| laid[*at]).collect(),
            None => laid,
        }
    }

    /// Another order of choices in which less is set up anew. It hangs on no sets, and trying all orders takes longest of a reading.
    fn order(&mut self, laid: &[usize]) -> Option<&Order> {
        if !self.orders.contains_key(laid) {
            let ends: Vec<_> = laid.iter().map(|c| (*c, self.choices[*c].candidate.start.step)).collect();
            let sorts: Vec<bool> = laid.iter().map(|c| self.lines[*c].compound).collect();
            let order = set_ups::fewest_of(&sorts, |before, after| self.stands(ends[before], ends[after]));
            self.orders.insert(laid.to_vec(), order);
        }
        self.orders.get(laid)?.as_ref()
    }

    /// The same on the steps on which they begin after what is done before, and the first of them that it leaves too little of.
    fn placed(&mut self, picks: &[Pick]) -> (Vec<Placed>, Option<Pick>) {
        let mut before: Vec<Worked<'a>> = Vec::new();
        let (mut placed, mut too_tired) = (Vec::new(), None);
        for pick in picks {
            let sets = self.sets(pick);
            let start = self.start(pick, &before);
            if !before.is_empty()
                && too_tired.is_none()
                && lay::is_tired_out(&self.choices[pick.choice], &start, sets.zone)
            {
                too_tired = Some(*pick);
            }
            before.push(Worked { movement: self.choices[pick.choice].candidate.movement, sets: pick.sets });
            placed.push(Placed { pick: *pick, step: start.step, sets });
        }
        (placed, too_tired)
    }

    /// From the first minute of a day to its last, s.
    fn total(&mut self, day: usize, placed: &[Placed]) -> f64 {
        let person = self.question.rooms[self.question.days[day].room].person;
        let moved = placed.iter().fold(0, |moved, p| moved | self.lines[p.pick.choice].joints);
        let joints = A_JOINT * f64::from(moved.count_ones());
        let mut total = 60.0 * f64::from(person.warm_up_minutes()[0]) + joints + cool_down().value();
        let mut last: Option<&Placed> = None;
        for (at, one) in placed.iter().enumerate() {
            let end = (one.pick.choice, one.step);
            let stands = last.map_or(0.0, |last| self.stands((last.pick.choice, last.step), end));
            let set_up = self.choices[end.0].candidate.ladder.steps[end.1].set_up_s.value() - stands;
            // It is set up within the rest before it.
            total += last.map_or(set_up, |last| set_up.max(last.sets.rest)) + one.sets.own;
            let kind = self.lines[end.0].kind;
            if placed[..at].iter().all(|p| self.lines[p.pick.choice].kind != kind) {
                total += self.ramps(&one.pick, one.step);
            }
            last = Some(one);
        }
        total
    }

    fn sets(&mut self, pick: &Pick) -> Sets {
        let choice = &self.choices[pick.choice];
        *self.sets.entry((pick.choice, pick.sets)).or_insert_with(|| {
            let candidate = &choice.candidate;
            let dose = choice.dose(pick.sets);
            let (zone, rest) = (dose.zone(), dose.sets.last().map_or(0.0, |set| f64::from(set.rest_s)));
            let station = Station::of((), candidate.movement, candidate.step(), dose, Side::Left);
            let stations = vec![Station { set_up: Seconds(0.0), ..station }];
            let script = Script::of(&[Block { kind: BlockKind::Straight, stations }]);
            Sets { own: Clock::of(&script, None, Seconds(0.0)).total().value(), rest, zone }
        })
    }

    /// Where a pick begins after what is done before.
    fn start(&mut self, pick: &Pick, before: &[Worked<'_>]) -> Start {
        let choice = &self.choices[pick.choice];
        let Some((less, _)) = tired(before, choice.candidate.movement) else { return choice.candidate.start };
        let zone = self.sets(pick).zone.filter(|_| choice.pin.is_none());
        let start = || choice.candidate.start_when_tired(less, zone);
        *self.starts.entry((pick.choice, pick.sets, less.to_bits())).or_insert_with(start)
    }

    /// Sets on the way up to a pick on a step, s.
    fn ramps(&mut self, pick: &Pick, step: usize) -> f64 {
        let choice = &self.choices[pick.choice];
        let person = self.question.rooms[choice.room].person;
        *self.ramps.entry((pick.choice, pick.sets, step)).or_insert_with(|| {
            let ladder = &*choice.candidate.ladder;
            let (movement, dose) = (choice.candidate.movement, choice.dose(pick.sets));
            let ahead = Ahead { key: (), movement, ladder, step: &ladder.steps[step], dose: &dose };
            WarmUp::of(person, &[ahead]).ramps.iter().map(|ramp| ramp.seconds.value()).sum()
        })
    }

    /// What stands of a set-up after another one, s, each of a choice on a step.
    fn stands(&mut self, before: (usize, usize), after: (usize, usize)) -> f64 {
        let choices = self.choices;
        let mate = |(choice, step): (usize, usize)| {
            let candidate = &choices[choice].candidate;
            Mate { movement: candidate.movement, step: &candidate.ladder.steps[step] }
        };
        let found = || set_ups::stands(&mate(before), &mate(after)).value();
        *self.stands.entry([before, after]).or_insert_with(found)
    }
}
