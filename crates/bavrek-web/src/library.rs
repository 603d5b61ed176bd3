//! What is worked out once and kept: what every movement is like before a client and a room narrow it, and the catalogues of
//! trainers with movements of their own.

use std::collections::BTreeMap;
use std::num::NonZeroUsize;
use std::sync::{Arc, Mutex, PoisonError};

use bavrek_core::example::Example;
use bavrek_core::movement::{Catalogue, Movement};
use bavrek_core::person::Person;
use bavrek_store::TrainerId;
use lru::LruCache;

/// Shares of work in thirds by movement, on a default figure.
#[derive(Debug)]
pub struct Library {
    thirds: BTreeMap<String, [f64; 3]>,
    overlaid: Mutex<LruCache<TrainerId, (i32, Arc<Catalogue>)>>,
}

/// Trainers whose catalogues are kept.
const MOST_KEPT: NonZeroUsize = NonZeroUsize::new(256).unwrap();

impl Library {
    /// Works out every movement of a catalogue.
    pub fn of(catalogue: &Catalogue) -> Self {
        let person = Person::default_figure();
        let thirds = catalogue.movements.iter().filter_map(|m| Some((m.id.clone(), shares(catalogue, m, &person)?)));
        Self { thirds: thirds.collect(), overlaid: Mutex::new(LruCache::new(MOST_KEPT)) }
    }

    /// The catalogue of a trainer at a version of the own movements, where it is kept.
    pub(crate) fn own(&self, trainer: TrainerId, version: i32) -> Option<Arc<Catalogue>> {
        let mut overlaid = self.overlaid.lock().unwrap_or_else(PoisonError::into_inner);
        overlaid.get(&trainer).filter(|(kept, _)| *kept == version).map(|(_, catalogue)| catalogue.clone())
    }

    /// Keeps the catalogue of a trainer in place of an older one.
    pub(crate) fn keep(&self, trainer: TrainerId, version: i32, catalogue: Arc<Catalogue>) -> Arc<Catalogue> {
        let mut overlaid = self.overlaid.lock().unwrap_or_else(PoisonError::into_inner);
        overlaid.put(trainer, (version, catalogue.clone()));
        catalogue
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
