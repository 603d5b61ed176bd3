//! `ladder`: every reachable difficulty of one movement with a kit.

use bavrek_core::kit::Place;
use bavrek_core::ladder::{Bridge, Ground, Ladder, Landing, bridges};
use bavrek_core::movement::Catalogue;
use bavrek_core::person::Person;
use bavrek_core::ranges;
use bavrek_core::units::Kilograms;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::parts::{StepAnswer, check_person, find, kit_of};
use crate::RequestError;

/// What a bridge lands on where no dose is given.
const LANDING: Landing = Landing { reps: 8, rir: 2 };

/// What is asked.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct LadderRequest {
    client: Person,
    place: Place,
    exercise: String,
    from_effective_kg: Option<f64>,
}

/// What is answered.
#[derive(Debug, Clone, Serialize, JsonSchema)]
pub struct LadderAnswer {
    steps: Vec<StepAnswer>,
    largest_jump: f64,
    #[serde(skip_serializing_if = "Option::is_none")]
    at: Option<usize>,
    #[serde(skip_serializing_if = "Option::is_none")]
    headroom: Option<usize>,
    bridges: Vec<Bridge>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    missing: Vec<String>,
}

pub(super) fn answer(catalogue: &Catalogue, request: &LadderRequest) -> Result<LadderAnswer, RequestError> {
    check_person(&request.client)?;
    let kit = kit_of(&request.place)?;
    let movement = find(catalogue, &request.exercise, "exercise")?;
    let from = match request.from_effective_kg {
        Some(kg) if !(kg > 0.0 && kg <= 2.0 * ranges::BODY_MASS.max) => {
            return Err(RequestError::new("from_effective_kg", "must be above 0 and at most 500 kg"));
        }
        other => other.map(Kilograms),
    };
    let ladder = Ladder::of(movement, &request.client, &kit);
    let ground = Ground { movement, person: &request.client, kit: &kit };
    let at = from.and_then(|load| ladder.at(load));
    Ok(LadderAnswer {
        largest_jump: ladder.largest_jump(from),
        at,
        headroom: at.map(|i| ladder.headroom(i)),
        bridges: bridges(&ladder, &ground, from, LANDING),
        missing: ladder.missing.iter().map(|m| m.text.clone()).collect(),
        steps: ladder.steps.iter().map(StepAnswer::from).collect(),
    })
}
