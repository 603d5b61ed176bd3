//! From picks to sessions: ordered and paired by the school, lightened by what was done before, read by the clock.

use super::model::Pick;
use super::pool::Choice;
use super::question::WeekQuestion;
use crate::arrangement::Arrangement;
use crate::clock;
use crate::fit::{Candidate, Mate, Start, Worked, block_conflicts, repair};
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
    (0..question.days.len()).map(|day| self::day(question, choices, day, picks)).collect()
}

/// One of them.
pub(super) fn day<'a>(question: &WeekQuestion<'_>, choices: &[Choice<'a>], day: usize, picks: &[Pick]) -> DayPlan<'a> {
    let picks: Vec<Pick> = picks.iter().copied().filter(|p| p.day == day).collect();
    let mut arrangement = by_school(question, choices, &picks);
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
            if !before.is_empty() && is_tired_out(choice, &candidate.start, candidate.prescription.zone()) {
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

/// The picks of a day, by their places, in blocks as the school lays them. The order in which a search came to them says nothing: what the
/// school does not order goes by weight, what is led up to before what is not, and then as regions do, the torso before the arms and
/// the trunk last.
pub(super) fn by_school(question: &WeekQuestion<'_>, choices: &[Choice<'_>], picks: &[Pick]) -> Arrangement<(), usize> {
    let mut keys: Vec<usize> = (0..picks.len()).collect();
    keys.sort_by_key(|key| {
        let choice = &choices[picks[*key].choice];
        (!choice.led_up, choice.region, picks[*key].choice)
    });
    let laid = |key: usize| {
        let choice = &choices[picks[key].choice];
        let pattern = choice.candidate.movement.pattern;
        Laid { key, pattern, region: choice.region, aim: question.aims.of(choice.region).aim }
    };
    question.school.lay(&keys.into_iter().map(laid).collect::<Vec<_>>())
}

/// Whether a choice that begins like that, after others, is too tired to train its zone: too little is left of it, or the step that is
/// left is one without end, which it was not when fresh. What is pinned stays.
pub(super) fn is_tired_out(choice: &Choice<'_>, start: &Start, zone: Option<[u16; 2]>) -> bool {
    let too_little = |zone: [u16; 2]| start.reps < TIRED_OUT * f64::from(zone[0]);
    let without_end = start.is_too_light() && !choice.candidate.start.is_too_light();
    choice.pin.is_none() && zone.is_some_and(|zone| too_little(zone) || without_end)
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
            candidate.retell();
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
