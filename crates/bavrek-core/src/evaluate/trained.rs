//! One virtual client trained for some weeks by one way of choosing steps.

use std::collections::BTreeMap;

use chrono::{Days, NaiveDate};

use super::world::{Client, Task, worth};
use crate::anatomy::{Joint, Pattern, Region};
use crate::dose::Prescription;
use crate::fit::{Fitter, Room};
use crate::kit::KitItem;
use crate::ladder::{Ladder, LadderStep};
use crate::log::LoggedSet;
use crate::movement::{Catalogue, Movement, Style};
use crate::plan::Intent;
use crate::progress::{Call, CallKind, NextQuestion, next_by};
use crate::strength::{Ledger, told_sd};

/// Who chooses the next step.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Way {
    /// The calls, from one ledger that goes on through every swap.
    Called,
    /// The calls, from a ledger that begins anew with every movement.
    CutAtSwaps,
    /// Up a step when all sets reach the top of the zone, down when one misses its bottom twice.
    DoubleProgression,
    /// Up, down or on by lot.
    Random,
}

/// Errors of the expected log load of a new movement before any set and after one, two and three: error and SD of each.
pub(super) type Starts = [Vec<(f64, f64)>; 4];

/// What came of it.
#[derive(Debug, Clone, Default)]
pub(super) struct Outcome {
    /// Of new movements that came in place of others.
    pub(super) starts: Starts,
    /// Weeks until a line had 5 % more true strength than at the start; one more than there were where it never had.
    pub(super) weeks: Vec<f64>,
    /// Sets, and those whose true reserve was more than two off.
    pub(super) sets: [usize; 2],
    /// Calls after a bad day, and those that asked for more than could be done.
    pub(super) after_bad_day: [usize; 2],
    /// Calls after more than fourteen days, and those that rose.
    pub(super) after_break: [usize; 2],
    /// Calls after a painful session, and those that rose.
    pub(super) with_pain: [usize; 2],
}

/// Sessions a week: Mondays and Thursdays.
const PER_WEEK: f64 = 2.0;
/// A day this much below the usual is a bad one, log.
const BAD_DAY: f64 = -0.04;
/// Weeks after which the room changes.
const ROOM_WEEKS: u32 = 5;
/// Share of sessions that are missed, and that begin an episode of pain.
const MISSED: f64 = 0.10;
const PAIN_BEGINS: f64 = 0.02;
/// Sessions that pain stays.
const PAIN_STAYS: u32 = 3;
/// Movements among which one is drawn: the best for the job.
const CHOICE: usize = 6;
/// Repetitions to which the first set of a new movement goes on, where that many are there.
const OPEN_TOP: u16 = 30;
/// Most off the wanted reserve that is still right.
const RIGHT: f64 = 2.0;

/// What a line trains.
struct Job {
    pattern: &'static str,
    intent: Intent,
}

fn jobs() -> [Job; 3] {
    let job = |pattern, posture, region| Job { pattern, intent: Intent::of(posture, [(region, 1.0)].into()) };
    [
        job("horizontal_press", Pattern::HorizontalPress, Region::ChestSternal),
        job("row", Pattern::CloseRow, Region::Lats),
        job("curl", Pattern::ElbowFlexion, Region::BicepsLong),
    ]
}

/// A line as it is done now.
struct Line<'a> {
    movement: &'a Movement,
    ladder: Ladder,
    at: usize,
    intent: Intent,
    dose: Prescription,
    /// Sessions in a row that missed the bottom of the zone, for who counts them.
    missed: u32,
    /// What was said in the last session: whether all sets were at the top, whether one was below the bottom.
    last: Option<[bool; 2]>,
    /// Whether the last session hurt.
    hurt: bool,
    last_day: Option<NaiveDate>,
}

impl Line<'_> {
    fn step(&self) -> &LadderStep {
        &self.ladder.steps[self.at]
    }
}

/// A client in rooms over weeks.
pub(super) struct Training<'a> {
    catalogue: &'a Catalogue,
    rooms: &'a [Vec<KitItem>],
    client: Client,
    way: Way,
    ledger: Ledger<'a>,
    history: Vec<LoggedSet>,
    lines: BTreeMap<usize, Line<'a>>,
    jobs: [Job; 3],
    room: usize,
    pain: Option<(Joint, u32)>,
    last_day_effect: f64,
    out: Outcome,
}

impl<'a> Training<'a> {
    /// The client before the first session.
    pub(super) fn new(catalogue: &'a Catalogue, rooms: &'a [Vec<KitItem>], client: Client, way: Way) -> Self {
        Self {
            ledger: Ledger::new(catalogue, &client.person, None),
            catalogue,
            rooms,
            client,
            way,
            history: Vec::new(),
            lines: BTreeMap::new(),
            jobs: jobs(),
            room: 0,
            pain: None,
            last_day_effect: 0.0,
            out: Outcome::default(),
        }
    }

    /// Trains for some weeks, with what is missed, what hurts, and three weeks away for one in three.
    pub(super) fn run(mut self, weeks: u32) -> Outcome {
        let start = NaiveDate::default();
        let away = self.client.happens(0.33).then(|| 6 + self.client.one_of(3) as u32);
        let mut reached = [None; 3];
        for week in 0..weeks {
            if week % ROOM_WEEKS == 0 {
                self.move_to((week / ROOM_WEEKS) as usize);
            }
            if away.is_some_and(|from| (from..from + 3).contains(&week)) {
                continue;
            }
            for day in [0, 3] {
                if !self.client.happens(MISSED) {
                    self.session(start + Days::new(u64::from(week) * 7 + day));
                }
            }
            for (i, job) in self.jobs.iter().enumerate() {
                if reached[i].is_none() && self.client.gained(job.pattern) >= 1.05f64.ln() {
                    reached[i] = Some(f64::from(week + 1));
                }
            }
        }
        self.out.weeks = reached.iter().map(|at| at.unwrap_or(f64::from(weeks + 1))).collect();
        self.out
    }

    /// Goes over to another room: every line gets a movement that is possible there.
    fn move_to(&mut self, room: usize) {
        self.room = room % self.rooms.len();
        let last: BTreeMap<usize, Option<NaiveDate>> = self.lines.iter().map(|(i, l)| (*i, l.last_day)).collect();
        self.lines.clear();
        for i in 0..self.jobs.len() {
            if let Some(mut line) = self.first(i) {
                line.last_day = last.get(&i).copied().flatten();
                self.lines.insert(i, line);
            }
        }
    }

    /// A movement by lot that a trainer would give, at the step where this way starts it.
    fn first(&mut self, i: usize) -> Option<Line<'a>> {
        let today = self.history.last().map(|s| s.date);
        let knows = matches!(self.way, Way::Called);
        let person = self.client.person.clone();
        let kit = &self.rooms[self.room];
        let history: &[LoggedSet] = if knows { &self.history } else { &[] };
        let fitter = Fitter::new(self.catalogue, Room::plain(&person, kit), history, today);
        let intent = &self.jobs[i].intent;
        let pattern = self.jobs[i].pattern;
        // What a trainer would choose among does not depend on the way.
        let plain = Fitter::new(self.catalogue, Room::plain(&person, kit), &[], None);
        let usable = |m: &Movement| {
            m.carry_over.pattern == pattern
                && m.style == Style::Reps
                && !self.history.iter().any(|s| s.exercise == m.id)
        };
        let mut candidates: Vec<_> = self
            .catalogue
            .movements
            .iter()
            .filter(|m| usable(m))
            .filter_map(|m| plain.alone(m, intent))
            .filter(|c| !c.start.above_estimate && c.ladder.steps.len() >= 3)
            .collect();
        candidates.sort_by(|a, b| b.score.total_cmp(&a.score));
        candidates.truncate(CHOICE);
        let lot = self.client.one_of(candidates.len());
        let movement = candidates.get(lot)?.movement;
        let start = fitter.alone(movement, intent)?;
        let ladder = Ladder::of_line(movement, &person, kit, intent);
        let at = ladder.steps.iter().position(|s| s.is_alike(start.step())).unwrap_or(0);
        Some(Line {
            movement,
            at,
            intent: intent.clone(),
            dose: start.prescription.clone(),
            ladder,
            missed: 0,
            last: None,
            hurt: false,
            last_day: None,
        })
    }

    fn session(&mut self, date: NaiveDate) {
        self.client.wake();
        self.hurt_or_heal();
        for i in 0..self.jobs.len() {
            let Some(mut line) = self.lines.remove(&i) else { continue };
            let gap = line.last_day.map_or(0, |last| (date - last).num_days());
            self.client.rest(self.jobs[i].pattern, gap);
            if line.last.is_some() {
                self.choose(i, &mut line, date, gap);
            }
            self.train(i, &mut line, date);
            line.last_day = Some(date);
            self.lines.insert(i, line);
        }
        self.last_day_effect = self.client.day;
    }

    fn hurt_or_heal(&mut self) {
        self.pain = match self.pain {
            Some((_, 0)) | None => {
                let begins = self.client.happens(PAIN_BEGINS);
                let joint = [Joint::Shoulder, Joint::Elbow, Joint::Wrist][self.client.one_of(3)];
                begins.then_some((joint, PAIN_STAYS))
            }
            Some((joint, left)) => Some((joint, left - 1)),
        };
    }

    /// The step of the next session.
    fn choose(&mut self, i: usize, line: &mut Line<'a>, date: NaiveDate, gap: i64) {
        let Some([top, below]) = line.last else { return };
        match self.way {
            Way::Called | Way::CutAtSwaps => self.call(i, line, date, gap),
            Way::DoubleProgression => {
                line.missed = if below { line.missed + 1 } else { 0 };
                if top {
                    line.at = (line.at + 1).min(line.ladder.steps.len() - 1);
                } else if line.missed >= 2 {
                    line.at = line.at.saturating_sub(1);
                    line.missed = 0;
                }
            }
            Way::Random => match self.client.one_of(3) {
                0 => line.at = (line.at + 1).min(line.ladder.steps.len() - 1),
                1 => line.at = line.at.saturating_sub(1),
                _ => {}
            },
        }
    }

    fn call(&mut self, i: usize, line: &mut Line<'a>, date: NaiveDate, gap: i64) {
        let own: Vec<LoggedSet>;
        let cut;
        let (history, ledger): (&[LoggedSet], &Ledger<'a>) = if self.way == Way::Called {
            self.ledger.on(date);
            (&self.history, &self.ledger)
        } else {
            own = self.history.iter().filter(|s| s.exercise == line.movement.id).cloned().collect();
            cut = Ledger::replay(self.catalogue, &self.client.person, &own, Some(date));
            (&own, &cut)
        };
        let person = self.client.person.clone();
        let question = NextQuestion {
            person: &person,
            kit: &self.rooms[self.room],
            intent: &self.jobs[i].intent,
            prescription: &line.dose,
            history,
            today: date,
            limits_since: None,
            planned: Some(&line.movement.id),
            put_aside: &[],
            method: None,
            missed: &[],
        };
        let call = next_by(self.catalogue, &question, ledger);
        let same = call.exercise.as_deref().is_none_or(|id| id == line.movement.id);
        let to = call.step.as_ref().filter(|_| same).and_then(|s| line.ladder.steps.iter().position(|o| o.is_alike(s)));
        let rises = call.call.rises();
        if self.last_day_effect < BAD_DAY {
            let too_much = rises && self.is_too_much(line, to, i);
            count(&mut self.out.after_bad_day, too_much);
        }
        if gap > 14 {
            count(&mut self.out.after_break, rises);
        }
        if line.hurt {
            count(&mut self.out.with_pain, rises);
        }
        if same && !matches!(call.call, CallKind::Swap | CallKind::Refer) {
            line.at = to.unwrap_or(line.at);
            line.dose = call.prescription;
        } else if let Some(other) = self.other(line, &call) {
            *line = other;
        }
    }

    /// The movement that a call leads to, on the step that it names.
    fn other(&self, line: &Line<'a>, call: &Call) -> Option<Line<'a>> {
        let to = call.step.as_ref().zip(call.exercise.as_deref());
        let swap = || call.alternatives.iter().find_map(|a| a.step.as_ref().zip(a.exercise()));
        let (step, id) = to.filter(|(_, id)| *id != line.movement.id).or_else(swap)?;
        let movement = self.catalogue.movement(id)?;
        let ladder = Ladder::of_line(movement, &self.client.person, &self.rooms[self.room], &line.intent);
        let at = ladder.steps.iter().position(|s| s.is_alike(step))?;
        let dose = line.intent.prescription_for(movement.style).loaded(step.load);
        Some(Line { movement, ladder, at, dose, missed: 0, last: None, intent: line.intent.clone(), ..*line })
    }

    /// Whether a step leaves fewer repetitions than the zone's bottom on an even day, the reserve kept.
    fn is_too_much(&self, line: &Line<'_>, to: Option<usize>, i: usize) -> bool {
        let Some(step) = to.filter(|to| *to > line.at).and_then(|to| line.ladder.steps.get(to)) else { return false };
        let intent = &self.jobs[i].intent;
        let there = self.client.capacity(line.movement, step.effective_kg.value().ln()) - f64::from(intent.dose.rir);
        there < f64::from(intent.dose.reps[0])
    }

    fn train(&mut self, i: usize, line: &mut Line<'a>, date: NaiveDate) {
        let hurts = self.pain.is_some_and(|(joint, _)| line.movement.loads_joint(joint));
        let new = !self.history.iter().any(|s| s.exercise == line.movement.id) && !self.history.is_empty();
        if new {
            self.note_start(line.movement, 0, date);
        }
        let log_load = line.step().effective_kg.value().ln();
        let (mut top, mut below, mut value) = (true, false, 0.0);
        let planned = line.dose.sets.clone();
        for (earlier, plan) in planned.iter().enumerate() {
            let asked = plan.reps.unwrap_or(self.jobs[i].intent.dose.reps);
            let zone = if new && earlier == 0 { [asked[0], OPEN_TOP] } else { asked };
            let rir = plan.rir.unwrap_or(self.jobs[i].intent.dose.rir);
            let task = Task { log_load, zone, rir, earlier, per_rep: plan.tempo.seconds().value() };
            let answer = self.client.perform(line.movement, &task, hurts);
            count(&mut self.out.sets, (answer.left - f64::from(rir)).abs() > RIGHT);
            top &= answer.reps >= asked[1];
            below |= answer.reps < asked[0];
            value += worth(&answer, asked) / planned.len() as f64;
            self.log(line, date, (answer.reps, answer.said, plan.tempo), hurts);
            if new && earlier < 3 {
                self.note_start(line.movement, earlier + 1, date);
            }
        }
        line.last = Some([top, below]);
        line.hurt = hurts;
        self.client.practise(line.movement);
        self.client.grow(self.jobs[i].pattern, value, PER_WEEK);
    }

    fn log(
        &mut self,
        line: &Line<'_>,
        date: NaiveDate,
        (reps, said, tempo): (u16, u8, crate::dose::Tempo),
        hurts: bool,
    ) {
        let step = line.step();
        let joint = self.pain.map(|(joint, _)| joint).filter(|_| hurts);
        let set = LoggedSet {
            load: step.load,
            setup: Some(step.setup),
            effective_kg: Some(step.effective_kg),
            reps: Some(reps),
            rir: Some(said),
            tempo: Some(tempo),
            form_kept: Some(true),
            pain: hurts.then_some(5),
            pain_at: joint,
            ..LoggedSet::of(line.movement.id.clone(), date)
        };
        self.ledger.take(&set, None);
        self.history.push(set);
    }

    /// How far what is expected of a new movement is from the truth, after so many sets of it.
    fn note_start(&mut self, movement: &Movement, sets: usize, date: NaiveDate) {
        let expected = if self.way == Way::CutAtSwaps {
            let own: Vec<LoggedSet> = self.history.iter().filter(|s| s.exercise == movement.id).cloned().collect();
            Ledger::replay(self.catalogue, &self.client.person, &own, Some(date)).predict(movement)
        } else {
            self.ledger.on(date);
            self.ledger.predict(movement)
        };
        // What was done counts as a session of it from the first set on.
        let mut later = self.client.clone();
        if sets > 0 {
            later.practise(movement);
        }
        self.out.starts[sets].push((expected.mean - later.truth(movement), told_sd(expected.sd)));
    }
}

fn count(pair: &mut [usize; 2], wrong: bool) {
    pair[0] += 1;
    pair[1] += usize::from(wrong);
}
