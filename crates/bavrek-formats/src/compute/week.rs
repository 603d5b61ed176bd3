//! `week`: which movements on which day with how many sets, within the minutes and towards the aims.

use std::collections::BTreeMap;

use bavrek_core::aims::{Aim, Aims, Goal, RegionAim};
use bavrek_core::anatomy::Region;
use bavrek_core::dose::{Prescription, StampedLoad};
use bavrek_core::fit::Room;
use bavrek_core::kit::Place;
use bavrek_core::log::LoggedSet;
use bavrek_core::method::Method;
use bavrek_core::person::Person;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::ranges::RangeError;
use bavrek_core::rigging::Setup;
use bavrek_core::week::{Binds, Day, DayPlan, Lately, Line, Pin, WeekQuestion, Wish, propose};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::Knowledge;
use super::fit::{CandidateAnswer, candidate};
use super::parts::{check_history, check_person, kit_of};
use crate::RequestError;

/// Most places of a request.
const MOST_PLACES: usize = 7;

/// What is asked.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct WeekRequest {
    client: Person,
    places: Vec<Place>,
    days: Vec<DayRequest>,
    /// What each region is to do; one that is not named is kept.
    aims: BTreeMap<Region, Aim>,
    /// What the client trains for as a whole, which makes sets heavier or rests shorter; size where it is left out.
    #[serde(default)]
    goal: Option<Goal>,
    method: Method,
    #[serde(default)]
    history: Vec<LoggedSet>,
    /// How it is to differ from the plain proposal.
    #[serde(default)]
    wish: Option<Wish>,
    /// Lines that stay where they are, as they are.
    #[serde(default)]
    pins: Vec<PinRequest>,
}

#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
struct PinRequest {
    /// The day's place in `days`.
    day: usize,
    exercise: String,
    prescription: Prescription,
    /// What it is for; what the movement trains most where it is left out.
    #[serde(default)]
    intent: Option<Intent>,
}

#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
struct DayRequest {
    /// The name of a place.
    place: String,
    minutes: u16,
    /// 1 Monday to 7 Sunday.
    #[serde(default)]
    weekday: Option<u8>,
}

/// What is answered.
#[derive(Debug, Clone, Serialize, JsonSchema)]
pub struct WeekAnswer {
    sessions: Vec<SessionAnswer>,
    /// Hard sets of the week by region, with its aim.
    weekly_sets: BTreeMap<Region, SetsAnswer>,
    unmet: Vec<UnmetAnswer>,
    /// The value of the week in weighted sets.
    objective: f64,
    /// No week of what can be done here has more.
    bound: f64,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct SessionAnswer {
    day: usize,
    place: String,
    blocks: Vec<BlockAnswer>,
    total_s: f64,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct BlockAnswer {
    kind: BlockKind,
    slots: Vec<SlotAnswer>,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct SlotAnswer {
    exercise: String,
    setup: Setup,
    #[serde(skip_serializing_if = "Option::is_none")]
    load: Option<StampedLoad>,
    prescription: Prescription,
    intent: Intent,
    fit: CandidateAnswer,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct SetsAnswer {
    direct: f64,
    assisting: f64,
    /// Least and most.
    aim: [f64; 2],
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct UnmetAnswer {
    region: Region,
    sets: f64,
    least: f64,
    code: Binds,
    why: String,
}

pub(super) fn answer(knowledge: &Knowledge<'_>, request: &WeekRequest) -> Result<WeekAnswer, RequestError> {
    check_person(&request.client)?;
    check_history(knowledge.catalogue, &request.history)?;
    if request.places.is_empty() || request.places.len() > MOST_PLACES {
        return Err(RequestError::new("places", format!("must hold 1 to {MOST_PLACES} places")));
    }
    let mut kits = Vec::new();
    for (i, place) in request.places.iter().enumerate() {
        if request.places[..i].iter().any(|p| p.name == place.name) {
            return Err(RequestError::new(format!("places[{i}].name"), "is there already"));
        }
        kits.push(kit_of(place).map_err(|e| {
            let path = e.path.replacen("place", &format!("places[{i}]"), 1);
            RequestError::new(path, e.message)
        })?);
    }
    let mut days = Vec::new();
    for (i, day) in request.days.iter().enumerate() {
        let room = request.places.iter().position(|p| p.name == day.place);
        let room = room.ok_or_else(|| {
            RequestError::new(format!("days[{i}].place"), format!("no place is called {:?}", day.place))
        })?;
        days.push(Day { room, minutes: day.minutes, weekday: day.weekday });
    }
    let school = knowledge.schools.iter().find(|s| s.id == request.method);
    let school = school.ok_or_else(|| RequestError::new("method", "is no school that is known"))?;
    let rooms: Vec<Room<'_>> =
        kits.iter().map(|kit| Room { method: Some(request.method), ..Room::plain(&request.client, kit) }).collect();
    let aims = Aims {
        goal: request.goal,
        regions: request.aims.iter().map(|(r, aim)| (*r, RegionAim { aim: *aim, sets: None })).collect(),
    };
    let mut intents = Vec::new();
    for (i, pin) in request.pins.iter().enumerate() {
        let intent = pinned_intent(knowledge, pin).map_err(|e| e.under(&format!("pins[{i}]")));
        intents.push(intent.map_err(|e| RequestError::new(e.path, e.message))?);
    }
    let pins: Vec<Pin<'_>> = request
        .pins
        .iter()
        .zip(&intents)
        .map(|(pin, intent)| Pin { day: pin.day, intent, exercise: &pin.exercise, step: None, dose: &pin.prescription })
        .collect();
    let question = WeekQuestion {
        rooms: &rooms,
        days: &days,
        aims: &aims,
        volumes: knowledge.volumes,
        school,
        history: &request.history,
        today: None,
        lately: Lately::default(),
        wish: request.wish.unwrap_or(Wish::Balanced),
        pins: &pins,
    };
    let week = propose(knowledge.catalogue, &question).map_err(|e| RequestError::new(e.path, e.message))?;
    let sets = |region: &Region| {
        let sets = week.volume.of(*region);
        let aim = aims.weekly_sets(*region, knowledge.volumes, request.client.experience);
        (*region, SetsAnswer { direct: sets.direct, assisting: sets.assisting, aim })
    };
    let sessions = week.days.iter().enumerate().map(|(day, plan)| {
        let room = days[day].room;
        let fit = |line: &Line<'_>| candidate(&line.candidate, knowledge.catalogue, &request.client, &kits[room]);
        session(day, request.places[room].name.clone(), plan, fit)
    });
    let unmet = week.unmet.iter().map(|u| UnmetAnswer {
        region: u.region,
        sets: u.sets,
        least: u.least,
        code: u.why.binds(),
        why: u.to_string(),
    });
    Ok(WeekAnswer {
        sessions: sessions.collect(),
        weekly_sets: Region::ALL.iter().map(sets).collect(),
        unmet: unmet.collect(),
        objective: week.objective,
        bound: week.bound,
    })
}

/// What a pinned line is for, with its dose.
fn pinned_intent(knowledge: &Knowledge<'_>, pin: &PinRequest) -> Result<Intent, RangeError> {
    let movement = knowledge.catalogue.movement(&pin.exercise);
    let movement = movement.ok_or_else(|| RangeError::new("exercise", "is no movement of the catalogue"))?;
    pin.prescription.validate().map_err(|e| e.under("prescription"))?;
    let intent = match &pin.intent {
        Some(intent) => intent.clone(),
        None => Intent::of(movement.pattern, movement.main_region().map(|r| (r, 1.0)).into_iter().collect()),
    };
    intent.validate().map_err(|e| e.under("intent"))?;
    Ok(intent.dosed(pin.prescription.clone()))
}

fn session(day: usize, place: String, plan: &DayPlan<'_>, fit: impl Fn(&Line<'_>) -> CandidateAnswer) -> SessionAnswer {
    let slot = |line: &Line<'_>| SlotAnswer {
        exercise: line.candidate.movement.id.clone(),
        setup: line.candidate.step().setup,
        load: line.candidate.step().load,
        prescription: line.candidate.prescription.clone(),
        intent: line.intent.clone(),
        fit: fit(line),
    };
    let blocks = plan.blocks.iter();
    let blocks = blocks.map(|(kind, lines)| BlockAnswer { kind: *kind, slots: lines.iter().map(slot).collect() });
    SessionAnswer { day, place, blocks: blocks.collect(), total_s: plan.total.value() }
}
