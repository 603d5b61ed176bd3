//! What a movement is like before a kit narrows it: one usual step in a room that has everything.

use crate::kit::{KitItem, full_room};
use crate::ladder::{Ladder, LadderStep};
use crate::mechanics::MechanicsError;
use crate::movement::{Catalogue, Movement};
use crate::person::Person;
use crate::rigging::Setup;
use crate::rigging::{Assembly, Loads, Rigged};
use crate::strength::Ledger;
use crate::units::Kilograms;

/// Dumbbell held where the room's ladder has no step, kg: only to be drawn.
const TOKEN_WEIGHT: f64 = 6.0;

/// A movement at a usual difficulty.
#[derive(Debug, Clone)]
pub struct Example {
    /// How it is set up.
    pub setup: Setup,
    /// What loads it.
    pub loads: Loads,
    /// The step of the ladder it is; none where nothing loads the movement at all.
    pub step: Option<LadderStep>,
}

impl Example {
    /// The step of the whole ladder on which this person is expected to do about twelve repetitions: with the movement's
    /// plainest load, so that a drawing shows what is usual.
    pub fn of(catalogue: &Catalogue, movement: &Movement, person: &Person) -> Self {
        Self::among(catalogue, movement, person, &full_room())
    }

    /// The same among the steps that a kit allows.
    pub fn among(catalogue: &Catalogue, movement: &Movement, person: &Person, kit: &[KitItem]) -> Self {
        let mut ladder = Ladder::of(movement, person, kit);
        let plain = |s: &LadderStep| match (movement.rig.is_lever(), movement.is_weighed()) {
            (true, _) => s.load.is_none() && s.bands.is_empty(),
            (_, true) => s.load.is_some() && s.bands.is_empty(),
            _ => s.bands.len() == 1,
        };
        if ladder.steps.iter().any(plain) {
            ladder.steps.retain(plain);
        }
        // The movement in its own form, where easier or harder ones belong to its ladder: flat, on the feet.
        let flat = |s: &LadderStep| {
            s.setup.knees.is_none() && s.setup.feet_height_m.is_none() && s.setup.hands_height_m.is_none()
        };
        if ladder.steps.iter().any(flat) {
            ladder.steps.retain(flat);
        }
        let expected = Ledger::replay(catalogue, person, &[], None).predict(movement).mean.exp();
        match ladder.at(Kilograms(expected)) {
            Some(index) => {
                let step = ladder.steps.swap_remove(index);
                Self { setup: step.setup, loads: step.loads(kit), step: Some(step) }
            }
            None => Self {
                setup: Setup::default(),
                loads: Loads { weight: Kilograms(TOKEN_WEIGHT), ..Loads::default() },
                step: None,
            },
        }
    }

    /// The rig with what it asks, or why no load can be stated.
    pub fn rig<'a>(
        &self,
        movement: &'a Movement,
        person: &'a Person,
    ) -> (Rigged<'a>, Result<Assembly, MechanicsError>) {
        let rigged = Rigged::new(movement, person, self.setup);
        let assembly = rigged.load(&self.loads);
        (rigged, assembly)
    }
}
