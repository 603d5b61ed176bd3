//! What several commands share.

use bavrek_core::kit::{KitItem, Place, tell_apart};
use bavrek_core::ladder::LadderStep;
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::{Catalogue, Movement};
use bavrek_core::person::Person;
use bavrek_core::ranges::RangeError;
use bavrek_core::rigging::Setup;
use schemars::JsonSchema;
use serde::Serialize;

use crate::RequestError;

/// Most sets that a request's history may hold.
const MOST_SETS: usize = 20_000;

/// One step of a ladder as answers show it.
#[derive(Debug, Clone, Serialize, JsonSchema)]
pub(super) struct StepAnswer {
    effective_kg: f64,
    peak_kg: f64,
    label: String,
    implements: Vec<bavrek_core::anatomy::Implement>,
    setup: Setup,
    set_up_s: f64,
    #[serde(skip_serializing_if = "Option::is_none")]
    load: Option<bavrek_core::dose::StampedLoad>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    bands: Vec<String>,
    band_share: f64,
    log_sd: f64,
    thirds: [f64; 3],
}

impl From<&LadderStep> for StepAnswer {
    fn from(step: &LadderStep) -> Self {
        Self {
            effective_kg: step.effective_kg.value(),
            peak_kg: step.peak_kg.value(),
            label: step.label.clone(),
            implements: step.implements.clone(),
            setup: step.setup,
            set_up_s: step.set_up_s.value(),
            load: step.load,
            bands: step.bands.iter().map(|band| band.name.clone()).collect(),
            band_share: step.band_share,
            log_sd: step.log_sd,
            thirds: step.thirds,
        }
    }
}

pub(super) fn check_person(person: &Person) -> Result<(), RequestError> {
    person.validate().map_err(RequestError::at("client"))
}

/// The kit of a place that was checked, every band with a name of its own.
pub(super) fn kit_of(place: &Place) -> Result<Vec<KitItem>, RequestError> {
    place.validate().map_err(RequestError::at("place"))?;
    let mut kit = place.kit.clone();
    tell_apart(kit.iter_mut());
    Ok(kit)
}

pub(super) fn check_history(catalogue: &Catalogue, history: &[LoggedSet]) -> Result<(), RequestError> {
    if history.len() > MOST_SETS {
        return Err(RequestError::new("history", format!("may hold at most {MOST_SETS} sets")));
    }
    for (i, set) in history.iter().enumerate() {
        let path = format!("history[{i}]");
        let movement = find(catalogue, &set.exercise, &format!("{path}.exercise"))?;
        set.validate_as(movement).map_err(|e: RangeError| RequestError::at(&path)(e))?;
    }
    Ok(())
}

pub(super) fn find<'a>(catalogue: &'a Catalogue, id: &str, path: &str) -> Result<&'a Movement, RequestError> {
    catalogue.movement(id).ok_or_else(|| RequestError::new(path, format!("no movement is called {id:?}")))
}
