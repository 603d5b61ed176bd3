//! Ladders that were worked out before: a page asks for the same ladder several times, and the next page again. A ladder is made of
//! a person, a kit, a movement and the part of its range alone, so what is kept is held against all of that and never grows old.
//! Nothing depends on what is kept here; any number of processes may each keep their own.

use std::collections::BTreeMap;
use std::num::NonZeroUsize;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use bavrek_core::execution::RangePart;
use bavrek_core::kit::KitItem;
use bavrek_core::ladder::Ladder;
use bavrek_core::movement::Movement;
use bavrek_core::person::Person;
use bavrek_core::plan::Intent;
use lru::LruCache;
use uuid::Uuid;

/// Most steps that are kept, of all ladders together: some 800 bytes each, about 16 MB.
const MOST_STEPS: usize = 20_000;

/// Most rooms of which ladders are kept, and most ladders of one: the lines of a week lie on some thirty.
const MOST_ROOMS: NonZeroUsize = NonZeroUsize::new(500).unwrap();
const MOST_OF_A_ROOM: usize = 64;

/// Persons that are kept of one client in a room: as limits have it, and with what hurts spared as well.
const PERSONS: usize = 2;

/// A movement, the part of the range in which it is done, and what a band is to give of the load, percent.
type Key = (String, Option<RangePart>, Option<[u8; 2]>);

/// Ladders of one person with one kit.
#[derive(Debug)]
struct Kept {
    person: Person,
    kit: Vec<KitItem>,
    /// With the movement of each: a trainer changes what is their own.
    ladders: BTreeMap<Key, (Movement, Arc<Ladder>)>,
}

impl Kept {
    fn is_of(&self, person: &Person, kit: &[KitItem]) -> bool {
        self.person == *person && self.kit == kit
    }

    fn steps(&self) -> usize {
        self.ladders.values().map(|(_, ladder)| ladder.steps.len()).sum()
    }
}

/// Ladders by client and place, those asked for last.
#[derive(Debug)]
pub struct Ladders {
    kept: Mutex<LruCache<(Uuid, Uuid), Vec<Kept>>>,
}

impl Default for Ladders {
    fn default() -> Self {
        Self { kept: Mutex::new(LruCache::new(MOST_ROOMS)) }
    }
}

impl Ladders {
    /// The ladder of a line's movement for a client at a place: what [`Ladder::of_line`] gives for the person and the kit.
    pub(crate) fn of_line(
        &self,
        whose: (Uuid, Uuid),
        (person, kit): (&Person, &[KitItem]),
        movement: &Movement,
        intent: &Intent,
    ) -> Arc<Ladder> {
        let key = (movement.id.clone(), intent.part_for(movement), intent.dose.band_percent());
        if let Some(known) = self.known(whose, (person, kit), movement, &key) {
            return known;
        }
        // Worked out without holding the others up.
        let ladder = Arc::new(Ladder::of_line(movement, person, kit, intent));
        self.keep(whose, (person, kit), key, (movement.clone(), ladder.clone()));
        ladder
    }

    fn held(&self) -> MutexGuard<'_, LruCache<(Uuid, Uuid), Vec<Kept>>> {
        self.kept.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn known(
        &self,
        whose: (Uuid, Uuid),
        (person, kit): (&Person, &[KitItem]),
        movement: &Movement,
        key: &Key,
    ) -> Option<Arc<Ladder>> {
        let mut held = self.held();
        let kept = held.get(&whose)?.iter().find(|kept| kept.is_of(person, kit))?;
        let (of, ladder) = kept.ladders.get(key)?;
        (of == movement).then(|| ladder.clone())
    }

    fn keep(
        &self,
        whose: (Uuid, Uuid),
        (person, kit): (&Person, &[KitItem]),
        key: Key,
        ladder: (Movement, Arc<Ladder>),
    ) {
        let mut held = self.held();
        let persons = held.get_or_insert_mut(whose, Vec::new);
        let at = persons.iter().position(|kept| kept.is_of(person, kit)).unwrap_or_else(|| {
            // What a client was, or a place had, goes.
            persons.drain(..(persons.len() + 1).saturating_sub(PERSONS));
            persons.push(Kept { person: person.clone(), kit: kit.to_vec(), ladders: BTreeMap::new() });
            persons.len() - 1
        });
        let own = &mut persons[at].ladders;
        if own.len() >= MOST_OF_A_ROOM {
            own.clear();
        }
        own.insert(key, ladder);
        let mut steps: usize = held.iter().flat_map(|(_, persons)| persons).map(Kept::steps).sum();
        while steps > MOST_STEPS && held.len() > 1 {
            steps -= held.pop_lru().map_or(0, |(_, persons)| persons.iter().map(Kept::steps).sum());
        }
    }
}

#[cfg(test)]
mod tests {
    use bavrek_core::execution::Execution;
    use bavrek_core::kit::full_room;
    use bavrek_core::movement::Catalogue;
    use bavrek_core::units::Kilograms;
    use rstest::rstest;

    use super::*;

    /// What a ladder is made of.
    struct Made {
        person: Person,
        kit: Vec<KitItem>,
        movement: Movement,
        intent: Intent,
    }

    impl Made {
        fn usual(catalogue: &Catalogue, movement: &str) -> Self {
            let intent = r#"{"pattern": "horizontal_press", "regions": {"chest_sternal": 1.0}, "sets": 3, "reps": [8, 12], "rir": 2}"#;
            Self {
                person: Person::default_figure(),
                kit: full_room(),
                movement: catalogue.movement(movement).unwrap().clone(),
                intent: serde_json::from_str(intent).unwrap(),
            }
        }

        fn anew(&self) -> Ladder {
            Ladder::of_line(&self.movement, &self.person, &self.kit, &self.intent)
        }

        fn asked(&self, ladders: &Ladders, whose: (Uuid, Uuid)) -> Arc<Ladder> {
            ladders.of_line(whose, (&self.person, &self.kit), &self.movement, &self.intent)
        }
    }

    fn somewhere() -> (Uuid, Uuid) {
        (Uuid::now_v7(), Uuid::now_v7())
    }

    const PRESS: &str = "push_up";

    #[test]
    fn the_same_is_worked_out_once() {
        let made = Made::usual(&bavrek_catalogue::load().unwrap(), PRESS);
        let (ladders, whose) = (Ladders::default(), somewhere());
        let first = made.asked(&ladders, whose);
        assert!(!first.steps.is_empty());
        assert!(Arc::ptr_eq(&first, &made.asked(&ladders, whose)));
    }

    /// Whatever of it changes under the same client and place, the ladder is that of what is there now.
    #[rstest]
    #[case::a_heavier_client(|made: &mut Made| made.person.body_mass_kg = Kilograms(110.0))]
    #[case::a_taller_client(|made: &mut Made| made.person.height_m.0 += 0.2)]
    #[case::a_piece_gone(|made: &mut Made| made.kit.truncate(1))]
    #[case::nothing_left(|made: &mut Made| made.kit.clear())]
    #[case::a_movement_of_ones_own_changed(|made: &mut Made| made.movement.set_up_s += 60)]
    #[case::half_of_the_range(|made: &mut Made| made.intent.execution = Execution { range: Some(RangePart::LengthenedHalf), ..Execution::default() })]
    fn what_changed_is_worked_out_anew(#[case] change: fn(&mut Made)) {
        let mut made = Made::usual(&bavrek_catalogue::load().unwrap(), PRESS);
        let (ladders, whose) = (Ladders::default(), somewhere());
        let before = made.asked(&ladders, whose);
        change(&mut made);
        let after = made.asked(&ladders, whose);
        assert_eq!(*after, made.anew());
        assert_ne!(*after, *before);
    }

    /// A client who is spared something is asked about beside the same one who is not.
    #[test]
    fn both_persons_of_a_client_are_kept_and_a_third_takes_the_place_of_the_first() {
        let mut made = Made::usual(&bavrek_catalogue::load().unwrap(), PRESS);
        let (ladders, whose) = (Ladders::default(), somewhere());
        let weighing = |made: &mut Made, kg: f64| {
            made.person.body_mass_kg = Kilograms(kg);
            made.asked(&ladders, whose)
        };
        let [light, heavy] = [60.0, 90.0].map(|kg| weighing(&mut made, kg));
        assert!(Arc::ptr_eq(&light, &weighing(&mut made, 60.0)));
        assert!(Arc::ptr_eq(&heavy, &weighing(&mut made, 90.0)));
        weighing(&mut made, 110.0);
        assert!(Arc::ptr_eq(&heavy, &weighing(&mut made, 90.0)));
        assert!(!Arc::ptr_eq(&light, &weighing(&mut made, 60.0)));
    }

    /// However many clients are asked about, no more is kept than it may be.
    #[test]
    fn what_is_kept_is_bounded() {
        let catalogue = bavrek_catalogue::load().unwrap();
        let made = Made::usual(&catalogue, PRESS);
        let ladders = Ladders::default();
        let of_one = made.asked(&ladders, somewhere()).steps.len();
        let too_many = MOST_STEPS / of_one + 2;
        for _ in 0..too_many {
            let kept = (made.movement.clone(), Arc::new(made.anew()));
            let key = (made.movement.id.clone(), None, None);
            ladders.keep(somewhere(), (&made.person, &made.kit), key, kept);
        }
        let steps: usize = ladders.held().iter().flat_map(|(_, persons)| persons).map(Kept::steps).sum();
        assert!((1..=MOST_STEPS).contains(&steps), "{steps} steps are kept");
    }
}
