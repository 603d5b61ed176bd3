//! What every movement is like before a client and a room narrow it, worked out once.

use std::collections::BTreeMap;

use bavrek_core::example::Example;
use bavrek_core::movement::{Catalogue, Movement};
use bavrek_core::person::Person;

/// Shares of work in thirds by movement, on a default figure.
#[derive(Debug, Default)]
pub struct Library {
    thirds: BTreeMap<String, [f64; 3]>,
}

impl Library {
    /// Works out every movement of a catalogue.
    pub fn of(catalogue: &Catalogue) -> Self {
        let person = Person::default_figure();
        let thirds = catalogue.movements.iter().filter_map(|m| Some((m.id.clone(), shares(catalogue, m, &person)?)));
        Self { thirds: thirds.collect() }
    }

    /// The shares of a movement; a trainer's own are worked out here and now. None where nothing loads it.
    pub(crate) fn thirds(&self, catalogue: &Catalogue, movement: &Movement) -> Option<[f64; 3]> {
        let known = self.thirds.get(&movement.id).copied();
        known.or_else(|| shares(catalogue, movement, &Person::default_figure()))
    }
}

fn shares(catalogue: &Catalogue, movement: &Movement, person: &Person) -> Option<[f64; 3]> {
    Example::of(catalogue, movement, person).step.map(|step| step.thirds)
}
