//! What every movement is like before a client and a room narrow it, worked out once.

use std::collections::BTreeMap;

use bavrek_core::example::Example;
use bavrek_core::movement::{Catalogue, Movement};
use bavrek_core::person::{Experience, Person};
use bavrek_core::units::{Kilograms, Metres};

/// Shares of work in thirds by movement, on a default figure.
#[derive(Debug, Default)]
pub struct Library {
    thirds: BTreeMap<String, [f64; 3]>,
}

/// The figure that is drawn where no client is chosen.
pub(crate) fn default_figure() -> Person {
    Person {
        body_mass_kg: Kilograms(75.0),
        height_m: Metres(1.75),
        experience: Experience::Intermediate,
        age_years: None,
        sex: None,
        limits: vec![],
    }
}

impl Library {
    /// Works out every movement of a catalogue.
    pub fn of(catalogue: &Catalogue) -> Self {
        let person = default_figure();
        let thirds = catalogue.movements.iter().filter_map(|m| Some((m.id.clone(), shares(catalogue, m, &person)?)));
        Self { thirds: thirds.collect() }
    }

    /// The shares of a movement; a trainer's own are worked out here and now. None where nothing loads it.
    pub(crate) fn thirds(&self, catalogue: &Catalogue, movement: &Movement) -> Option<[f64; 3]> {
        let known = self.thirds.get(&movement.id).copied();
        known.or_else(|| shares(catalogue, movement, &default_figure()))
    }
}

fn shares(catalogue: &Catalogue, movement: &Movement, person: &Person) -> Option<[f64; 3]> {
    Example::of(catalogue, movement, person).step.map(|step| step.thirds)
}
