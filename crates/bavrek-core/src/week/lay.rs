//! From picks to sessions: ordered and paired by the school, lightened by what was done before, read by the clock.

use super::model::{Model, Pick, Proposal};
use super::pool::Choice;
use super::question::{WeekQuestion, limit};
use crate::arrangement::Arrangement;
use crate::clock;
use crate::fit::{Candidate, Mate, Worked, block_conflicts, repair};
use crate::kit::KitItem;
use crate::ladder::Ladder;
use crate::plan::{BlockKind, Intent};
use crate::school::Laid;
use crate::set_ups;
use crate::units::Seconds;
use crate::warm_up::Ahead;

/// A line of a proposed day.
#[derive(Debug, Clone)]
pub struct Line<'a> {
    /// What it is for, with its dose.
    pub intent: Intent,
    /// What does it, on its step.
    pub candidate: Candidate<'a>,
}

impl Line<'_> {
    fn mate(&self) -> Mate<'_> {
        Mate { movement: self.candidate.movement, step: self.candidate.step() }
    }

    fn ahead(&self, key: usize) -> Ahead<'_, usize> {
        let c = &self.candidate;
        Ahead { key, movement: c.movement, ladder: &c.ladder, step: c.step(), dose: &c.prescription }
    }
}

/// A proposed day.
#[derive(Debug, Clone, Default)]
pub struct DayPlan<'a> {
    /// Its blocks in order.
    pub blocks: Vec<(BlockKind, Vec<Line<'a>>)>,
    /// From the first minute to the last.
    pub total: Seconds,
    /// The first pick that what is done before it leaves too little of: a proposal has none.
    pub too_tired: Option<Pick>,
}

impl<'a> DayPlan<'a> {
    /// Its lines in order.
    pub fn lines(&self) -> impl Iterator<Item = &Line<'a>> {
        self.blocks.iter().flat_map(|(_, lines)| lines)
    }
}

/// Share of the fewest repetitions of its zone below which a tired line is no training of it any more. Assumed.
const TIRED_OUT: f64 = 0.6;

/// The days of picks.
pub(super) fn days<'a>(question: &WeekQuestion<'_>, choices: &[Choice<'a>], picks: &[Pick]) -> Vec<DayPlan<'a>> {
    (0..question.days.len())
        .map(|day| {
            let own: Vec<Pick> = picks.iter().copied().filter(|p| p.day == day).collect();
            one(question, choices, day, &own)
        })
        .collect()
}

fn one<'a>(question: &WeekQuestion<'_>, choices: &[Choice<'a>], day: usize, picks: &[Pick]) -> DayPlan<'a> {
    let laid: Vec<Laid<usize>> = picks
        .iter()
        .enumerate()
        .map(|(key, pick)| {
            let choice = &choices[pick.choice];
            let pattern = choice.candidate.movement.pattern;
            Laid { key, pattern, region: choice.region, aim: question.aims.of(choice.region).aim }
        })
        .collect();
    let mut arrangement: Arrangement<(), usize> = question.school.lay(&laid);
    let kit = question.rooms[question.days[day].room].kit;
    let stations = |keys: &[usize]| -> Vec<Mate<'_>> {
        let of = |key: &usize| &choices[picks[*key].choice].candidate;
        keys.iter().map(|key| Mate { movement: of(key).movement, step: of(key).step() }).collect()
    };
    let blocks: Vec<Vec<Mate<'_>>> = arrangement.blocks.iter().map(|b| stations(&b.keys)).collect();
    if let Some(after) = set_ups::fewest(&blocks).and_then(|order| arrangement.reordered(&order.blocks)) {
        arrangement = after;
    }
    let mut before: Vec<Worked<'a>> = Vec::new();
    let mut too_tired = None;
    let mut blocks = Vec::new();
    for block in arrangement.blocks {
        let mut lines = Vec::new();
        for key in block.keys {
            let (pick, choice) = (&picks[key], &choices[picks[key].choice]);
            let mut candidate = choice.candidate.clone();
            candidate.prescription = choice.dose(pick.sets);
            let candidate = candidate.after(&before, choice.pin.is_some());
            let few = |zone: [u16; 2]| candidate.start.reps < TIRED_OUT * f64::from(zone[0]);
            if !before.is_empty() && choice.pin.is_none() && candidate.prescription.zone().is_some_and(few) {
                too_tired = too_tired.or(Some(*pick));
            }
            before.push(Worked { movement: candidate.movement, sets: pick.sets });
            let intent = choice.intent.clone().dosed(candidate.prescription.loaded(None));
            lines.push(Line { intent, candidate });
        }
        spare(block.kind, &mut lines, kit);
        blocks.push((block.kind, lines));
    }
    let total = read(question, day, &blocks);
    DayPlan { blocks, total, too_tired }
}

/// Steps that spare the change-overs of a block, where they suit the dose as well.
fn spare(kind: BlockKind, lines: &mut [Line<'_>], kit: &[KitItem]) {
    if kind == BlockKind::Straight {
        return;
    }
    let mates: Vec<Mate<'_>> = lines.iter().map(Line::mate).collect();
    let ladders: Vec<&Ladder> = lines.iter().map(|line| &*line.candidate.ladder).collect();
    let found = block_conflicts(kind, &mates, kit).iter().find_map(|c| repair(c, (kind, &mates), &ladders, kit));
    if let Some(found) = found {
        let candidate = &mut lines[found.station].candidate;
        let start = candidate.start.on(found.step, &candidate.ladder);
        if candidate.prescription.zone().is_none_or(|zone| start.misses(zone).is_none()) {
            candidate.start = start;
            candidate.prescription = candidate.prescription.loaded(candidate.step().load);
        }
    }
}

/// How long a day takes, by the session's clock.
fn read(question: &WeekQuestion<'_>, day: usize, blocks: &[(BlockKind, Vec<Line<'_>>)]) -> Seconds {
    let room = &question.rooms[question.days[day].room];
    let mut keys = 0..;
    let blocks: Vec<(BlockKind, Vec<Ahead<'_, usize>>)> = blocks
        .iter()
        .map(|(kind, lines)| (*kind, lines.iter().zip(&mut keys).map(|(line, key)| line.ahead(key)).collect()))
        .collect();
    clock::of_session(room.person, room.kit, &blocks).total()
}

/// Takes away what comes too tired, and sets where a day runs over its minutes, the one that costs least first; a line below its
/// fewest goes.
pub(super) fn cut<'a>(
    question: &WeekQuestion<'_>,
    model: &Model<'_, 'a>,
    found: &mut Proposal,
    days: &mut [DayPlan<'a>],
) {
    let choices = model.choices();
    for (day, plan) in days.iter_mut().enumerate() {
        while plan.too_tired.is_some() || plan.total.value() > limit(question, day) {
            let tired = plan.too_tired.and_then(|pick| found.picks.iter().position(|p| *p == pick));
            let without = |at: usize| {
                let mut picks = found.picks.clone();
                picks.remove(at);
                picks
            };
            let fewer = |at: usize| {
                let mut picks = found.picks.clone();
                if picks[at].sets <= choices[picks[at].choice].sets[0] {
                    return without(at);
                }
                picks[at].sets -= 1;
                picks
            };
            let free = |i: &usize| found.picks[*i].day == day && choices[found.picks[*i].choice].pin.is_none();
            let own = (0..found.picks.len()).filter(free);
            let best = match tired {
                Some(at) => Some(without(at)),
                None => own.map(fewer).max_by(|a, b| model.value(a).total_cmp(&model.value(b))),
            };
            let Some(picks) = best else { break };
            found.picks = picks;
            let own: Vec<Pick> = found.picks.iter().copied().filter(|p| p.day == day).collect();
            *plan = one(question, choices, day, &own);
        }
    }
    found.objective = model.value(&found.picks);
}

/// Most changes that a day is polished by.
const MOST_CHANGES: usize = 40;

/// Makes of each day what the clock leaves room for: a set more, a line more, one line in place of another, whatever gains most
/// first. What was reckoned a little too long or too short comes right here.
pub(super) fn polish<'a>(
    question: &WeekQuestion<'_>,
    model: &Model<'_, 'a>,
    found: &mut Proposal,
    days: &mut [DayPlan<'a>],
) {
    let choices = model.choices();
    for (day, plan) in days.iter_mut().enumerate() {
        for _ in 0..MOST_CHANGES {
            let better = better(question, model, found, (day, plan.total.value()));
            let fits = better.into_iter().find_map(|change| {
                let picks = change.made(&found.picks);
                if !model.allows_but_time(&picks) {
                    return None;
                }
                let own: Vec<Pick> = picks.iter().copied().filter(|p| p.day == day).collect();
                let changed = one(question, choices, day, &own);
                let stands = changed.too_tired.is_none() && changed.total.value() <= limit(question, day);
                stands.then_some((picks, changed))
            });
            let Some((picks, changed)) = fits else { break };
            found.objective = model.value(&picks);
            (found.picks, *plan) = (picks, changed);
        }
    }
}

/// Share of what a change adds to a day as times are reckoned that it takes of the clock at least: within a pair it fills rests.
const REALLY: f64 = 0.5;

/// The changes of a day that gain and may go into its minutes, of which so much is taken; what gains most comes first.
fn better(
    question: &WeekQuestion<'_>,
    model: &Model<'_, '_>,
    found: &Proposal,
    (day, taken): (usize, f64),
) -> Vec<Change> {
    let mut tally = model.tally(&found.picks);
    let before = tally.time();
    let left = limit(question, day) - taken;
    let mut better: Vec<(f64, Change)> = Vec::new();
    for change in changes(question, model, &found.picks, day) {
        let out = change.at.map(|at| &found.picks[at]);
        model.exchange(&mut tally, out, Some(&change.new));
        let (value, added) = (model.worth(&tally), tally.time() - before);
        if value > found.objective + 1e-9 && REALLY * added <= left.max(0.0) {
            better.push((value, change));
        }
        model.exchange(&mut tally, Some(&change.new), out);
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

/// What can be changed of the picks of a day at once.
fn changes(question: &WeekQuestion<'_>, model: &Model<'_, '_>, picks: &[Pick], day: usize) -> Vec<Change> {
    let free = |at: &usize| picks[*at].day == day && model.choices()[picks[*at].choice].pin.is_none();
    let own: Vec<usize> = (0..picks.len()).filter(free).collect();
    let more = |at: usize| Change { at: Some(at), new: Pick { sets: picks[at].sets + 1, ..picks[at] } };
    let mut all: Vec<Change> = own.iter().map(|at| more(*at)).collect();
    let there = |choice: usize| own.iter().any(|at| picks[*at].choice == choice);
    for (choice, one) in model.choices().iter().enumerate() {
        if one.room != question.days[day].room || one.pin.is_some() || there(choice) {
            continue;
        }
        for sets in one.sets[0]..=one.sets[1] {
            let new = Pick { day, choice, sets };
            all.push(Change { at: None, new });
            all.extend(own.iter().map(|at| Change { at: Some(*at), new }));
        }
    }
    all
}
