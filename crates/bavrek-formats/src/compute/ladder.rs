//! `ladder`: every reachable difficulty of one movement with a kit.

use bavrek_core::kit::Place;
use bavrek_core::ladder::{Bridge, BridgeCode, Ground, Ladder, Landing, Way, bridges};
use bavrek_core::movement::Catalogue;
use bavrek_core::person::Person;
use bavrek_core::ranges;
use bavrek_core::units::Kilograms;
use bavrek_core::wording::told;
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
    bridges: Vec<BridgeAnswer>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    missing: Vec<String>,
}

/// A gap between two neighbouring steps and the ways over it.
#[derive(Debug, Clone, Serialize, JsonSchema)]
struct BridgeAnswer {
    /// Index of the lower step.
    from: usize,
    /// Index of the upper step.
    to: usize,
    /// Ratio less one.
    jump: f64,
    /// Ways, cheapest first; empty means the gap is too big for this kit.
    ways: Vec<WayAnswer>,
}

/// One way over a gap.
#[derive(Debug, Clone, Serialize, JsonSchema)]
struct WayAnswer {
    /// What is done.
    code: BridgeCode,
    /// A sentence with its figures.
    text: String,
}

impl From<&Bridge> for BridgeAnswer {
    fn from(bridge: &Bridge) -> Self {
        let way = |way: &Way| WayAnswer { code: way.code(), text: way.to_string() };
        Self { from: bridge.from, to: bridge.to, jump: bridge.jump, ways: bridge.ways.iter().map(way).collect() }
    }
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
        bridges: bridges(&ladder, &ground, from, LANDING).iter().map(BridgeAnswer::from).collect(),
        missing: told(&ladder.missing),
        steps: ladder.steps.iter().map(StepAnswer::from).collect(),
    })
}
