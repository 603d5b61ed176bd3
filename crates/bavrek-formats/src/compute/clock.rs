//! `clock`: how long a session takes, and what its blocks cost in changes of set-up.

use bavrek_core::clock::{Clock, SpanKind};
use bavrek_core::dose::{Prescription, StampedLoad};
use bavrek_core::fit::{ConflictCode, Mate, block_conflicts};
use bavrek_core::kit::{KitItem, Place, full_room};
use bavrek_core::ladder::{Ladder, LadderStep};
use bavrek_core::method::Method;
use bavrek_core::movement::{Catalogue, Movement};
use bavrek_core::person::{Person, Side};
use bavrek_core::plan::BlockKind;
use bavrek_core::ranges;
use bavrek_core::rigging::Setup;
use bavrek_core::script::{Block, Script, Station};
use bavrek_core::set_ups;
use bavrek_core::units::Seconds;
use bavrek_core::wording::told;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::parts::{check_person, find, kit_of};
use crate::RequestError;

/// Most stations of a session: beyond it a typing error is likelier.
const MOST_STATIONS: usize = 40;
/// Longest warm-up, s.
const LONGEST_WARM_UP: u16 = 3600;

/// What is asked.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct ClockRequest {
    blocks: Vec<ClockBlock>,
    /// Time before the first set; none where it is left out.
    #[serde(default)]
    warm_up_s: Option<u16>,
    /// Minutes there are.
    #[serde(default)]
    minutes: Option<u16>,
    #[serde(default)]
    place: Option<Place>,
    #[serde(default)]
    client: Option<Person>,
    #[serde(default)]
    method: Option<Method>,
}

#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
struct ClockBlock {
    kind: BlockKind,
    slots: Vec<ClockSlot>,
}

#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
struct ClockSlot {
    exercise: String,
    #[serde(default)]
    setup: Option<Setup>,
    #[serde(default)]
    load: Option<StampedLoad>,
    prescription: Prescription,
}

/// What is answered.
#[derive(Debug, Clone, Serialize, JsonSchema)]
pub struct ClockAnswer {
    /// From the first minute to the last.
    total_s: f64,
    /// Sets, both sides of one-sided ones.
    work_s: f64,
    /// Rest that is rest alone.
    rest_s: f64,
    /// Setting up and changing over, with what conflicts add.
    change_s: f64,
    /// Every slot, in order.
    per_slot: Vec<SlotAnswer>,
    conflicts: Vec<ConflictAnswer>,
    /// What runs over the minutes there are.
    #[serde(skip_serializing_if = "Option::is_none")]
    over_by_s: Option<f64>,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct SlotAnswer {
    /// Seconds under load of each set, of one side.
    set_tut_s: Vec<f64>,
    warnings: Vec<String>,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct ConflictAnswer {
    code: ConflictCode,
    text: String,
    /// Time that it adds to the session.
    added_s: f64,
}

/// A slot with what it is done with.
struct Done<'a> {
    movement: &'a Movement,
    step: LadderStep,
    warnings: Vec<String>,
}

pub(super) fn answer(catalogue: &Catalogue, request: &ClockRequest) -> Result<ClockAnswer, RequestError> {
    check(request)?;
    let kit = match &request.place {
        Some(place) => kit_of(place)?,
        None => full_room(),
    };
    let person = request.client.clone().unwrap_or_else(Person::default_figure);
    let (mut blocks, mut done, mut key) = (Vec::new(), Vec::new(), 0_usize);
    for (b, block) in request.blocks.iter().enumerate() {
        let mut stations = Vec::new();
        for (s, slot) in block.slots.iter().enumerate() {
            let path = format!("blocks[{b}].slots[{s}]");
            let movement = find(catalogue, &slot.exercise, &format!("{path}.exercise"))?;
            let one = step_of(movement, &person, &kit, slot)
                .ok_or_else(|| RequestError::new(format!("{path}.exercise"), "has no step anywhere"))?;
            stations.push(Station::of(key, movement, &one.step, slot.prescription.clone(), Side::Left));
            done.push(one);
            key += 1;
        }
        blocks.push(Block { kind: block.kind, stations });
    }
    let all: Vec<Mate<'_>> = done.iter().map(|d| Mate { movement: d.movement, step: &d.step }).collect();
    set_ups::settle(&mut blocks, &all);
    let script = Script::of(&blocks);
    let mut clock = Clock::of(&script, None, Seconds(0.0));
    let (mut conflicts, mut first) = (Vec::new(), 0);
    for (b, block) in blocks.iter().enumerate() {
        let own = &done[first..first + block.stations.len()];
        first += block.stations.len();
        if block.kind == BlockKind::Straight {
            continue;
        }
        let mates: Vec<Mate<'_>> = own.iter().map(|d| Mate { movement: d.movement, step: &d.step }).collect();
        let rounds = block.stations.iter().map(|s| script.sets_of(s.key)).max().unwrap_or(0);
        for conflict in block_conflicts(block.kind, &mates, &kit) {
            clock = clock.slowed(b, conflict.added());
            let added_s = conflict.added().value() * rounds.saturating_sub(1) as f64;
            conflicts.push(ConflictAnswer { code: conflict.code(), text: conflict.to_string(), added_s });
        }
    }
    let slots = request.blocks.iter().flat_map(|b| &b.slots);
    let per_slot = slots.zip(done).map(|(slot, done)| slot_answer(slot, done, request.method)).collect();
    let sum = |kinds: &[SpanKind]| kinds.iter().map(|k| clock.of_kind(*k).value()).sum::<f64>();
    let total_s = clock.total().value() + f64::from(request.warm_up_s.unwrap_or(0));
    let over = request.minutes.map(|m| total_s - 60.0 * f64::from(m)).filter(|over| *over > 0.0);
    Ok(ClockAnswer {
        total_s,
        work_s: sum(&[SpanKind::Work]),
        rest_s: sum(&[SpanKind::Rest]),
        change_s: sum(&[SpanKind::SetUp, SpanKind::Change]),
        per_slot,
        conflicts,
        over_by_s: over,
    })
}

fn check(request: &ClockRequest) -> Result<(), RequestError> {
    if let Some(person) = &request.client {
        check_person(person)?;
    }
    if request.warm_up_s.is_some_and(|s| s > LONGEST_WARM_UP) {
        return Err(RequestError::new("warm_up_s", format!("must be at most {LONGEST_WARM_UP}")));
    }
    if let Some(minutes) = request.minutes {
        ranges::SESSION_MINUTES
            .check("minutes", f64::from(minutes))
            .map_err(|e| RequestError::new(e.path, e.message))?;
    }
    let stations: usize = request.blocks.iter().map(|b| b.slots.len()).sum();
    if stations > MOST_STATIONS {
        return Err(RequestError::new("blocks", format!("may hold at most {MOST_STATIONS} slots in all")));
    }
    for (b, block) in request.blocks.iter().enumerate() {
        if block.slots.is_empty() {
            return Err(RequestError::new(format!("blocks[{b}].slots"), "must hold at least one slot"));
        }
        for (s, slot) in block.slots.iter().enumerate() {
            let path = format!("blocks[{b}].slots[{s}].prescription");
            slot.prescription.validate().map_err(RequestError::at(&path))?;
        }
    }
    Ok(())
}

/// The step that resembles what was asked most, set up and loaded as asked; of a room that has everything where this one
/// cannot carry it, which is said.
fn step_of<'a>(movement: &'a Movement, person: &Person, kit: &[KitItem], slot: &ClockSlot) -> Option<Done<'a>> {
    let asked = (slot.load, &slot.setup.unwrap_or_default());
    let (mut step, warnings) = match Ladder::resembling(movement, person, kit, asked) {
        Ok(step) => (step, Vec::new()),
        Err(missing) => {
            let anywhere = Ladder::resembling(movement, person, &full_room(), asked).ok()?;
            (anywhere, told(&missing))
        }
    };
    step.load = slot.load.or(step.load);
    step.setup = slot.setup.unwrap_or(step.setup);
    Some(Done { movement, step, warnings })
}

fn slot_answer(slot: &ClockSlot, done: Done<'_>, method: Option<Method>) -> SlotAnswer {
    let set_tut_s: Vec<f64> = slot.prescription.sets.iter().map(|s| s.expected_seconds().value()).collect();
    let mut warnings = done.warnings;
    if let Some(floor) = method.and_then(Method::least_seconds_under_load) {
        let short = set_tut_s.iter().filter(|s| **s < floor.value()).count();
        if short > 0 {
            let method = method.map_or("", Method::label);
            warnings.push(format!("{short} of {} sets stay under the {floor} of the {method} school", set_tut_s.len()));
        }
    }
    SlotAnswer { set_tut_s, warnings }
}
