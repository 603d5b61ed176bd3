//! What is said beside an answer.

use super::exclude::Why;
use crate::anatomy::Region;
use crate::person::Person;
use crate::strength;

/// What is said beside an answer.
#[derive(Debug, Clone, PartialEq)]
pub enum Note {
    /// Of the log.
    Log(strength::Note),
    /// The client's age asks for a warm-up of so many minutes.
    WarmUp([u8; 2]),
    /// What the intent was to be measured against works none of its regions.
    NotMeasured {
        /// Its name.
        reference: String,
        /// The regions.
        asked: Vec<Region>,
    },
    /// Nothing here trains a region directly.
    Untrained(Untrained),
}

/// A region that nothing here trains directly.
#[derive(Debug, Clone, PartialEq)]
pub struct Untrained {
    /// The region.
    pub region: Region,
    /// The plainest movement that would, with what it takes.
    pub would: Option<(String, Vec<Why>)>,
}

impl Note {
    /// What is said to a client of this age.
    pub(super) fn of_age(person: &Person) -> Option<Self> {
        person.is_eased_by_age().then(|| Self::WarmUp(person.warm_up_minutes()))
    }
}
