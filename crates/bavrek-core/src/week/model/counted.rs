//! What of a choice is counted. A search asks for it a million times, so it lies together, apart from steps and ladders.

use crate::anatomy::{Pattern, Region};
use crate::movement::Movement;
use crate::week::pool::Choice;

/// What is counted of a choice.
#[derive(Debug)]
pub(super) struct Counted {
    /// What a set of it gives: region, sets by direct work, sets in all.
    pub(super) gives: Vec<(usize, f64, f64)>,
    /// Seconds that it takes once, and that a set of it takes.
    pub(super) once: f64,
    pub(super) a_set: f64,
    /// How well it does its job, 0 to 1.
    pub(super) score: f64,
    /// A number for its movement.
    pub(super) movement: usize,
    /// What of it is not done twice on a day.
    pub(super) job: (Pattern, Region),
    /// Whether it pushes (1), pulls (-1) or does neither.
    pub(super) side: i8,
}

impl Counted {
    /// Of a choice whose movement has a number.
    pub(super) fn of(choice: &Choice<'_>, movement: usize) -> Self {
        let own = choice.candidate.movement;
        Self {
            gives: choice.gives.iter().map(|(region, direct, all)| (*region as usize, *direct, *all)).collect(),
            once: choice.once.value(),
            a_set: choice.a_set.value(),
            score: choice.candidate.score,
            movement,
            job: (own.pattern, own.main_region().unwrap_or(choice.region)),
            side: side_of(own),
        }
    }
}

/// Whether a movement pushes (1), pulls (-1) or does neither, by the region that has most of it.
pub(in crate::week) fn side_of(movement: &Movement) -> i8 {
    match movement.main_region() {
        Some(Region::ChestClavicular | Region::ChestSternal | Region::ChestCostal | Region::DeltFront) => 1,
        Some(Region::Lats | Region::TrapsMiddle | Region::TrapsLower | Region::DeltRear) => -1,
        _ => 0,
    }
}
