//! A load that somebody wrote down is taken where its step is here and gives what is asked; else it is said what becomes of it.

use crate::common::asked::CATALOGUE;
use crate::common::person;
use bavrek_core::dose::Dose;
use bavrek_core::fit::{AsWritten, Fitter, Room, Worked};
use bavrek_core::kit::full_room;
use bavrek_core::ladder::LadderStep;
use bavrek_core::reference::Named;
use bavrek_core::units::Kilograms;

/// Stamped weights differ by more than this from step to step: a written load this near to one is that one.
const NEAR: f64 = 1.029;

fn stamped(step: &LadderStep) -> Option<f64> {
    step.load.map(|load| load.kilograms().value())
}

/// Over every movement that takes a weight, on each of its weights, written a little too low and a little too high.
#[test]
fn a_written_weight_is_its_own_step_or_it_is_said_what_it_misses() {
    let (person, kit) = (person(), full_room());
    let fitter = Fitter::new(&CATALOGUE, Room::plain(&person, &kit), &[], None);
    let (mut taken, mut missed, mut absent) = (0, 0, 0);
    for movement in &CATALOGUE.movements {
        let intent = Named::Movement(movement).intent(&person, &Dose::USUAL);
        let Some(candidate) = fitter.alone(movement, &intent) else { continue };
        let weights: Vec<f64> = candidate.ladder.steps.iter().filter_map(stamped).collect();
        let plain = || candidate.ladder.steps.iter().filter(|step| step.bands.is_empty()).filter_map(stamped);
        for written in weights.iter().flat_map(|kg| [kg / NEAR, kg * NEAR, kg * 1.2]) {
            let is_it = |kg: f64| (kg / written - 1.0).abs() < 0.0301;
            let here = plain().any(is_it);
            let found = fitter.as_written(&candidate, Kilograms(written), &intent, &[]);
            let on = match found {
                AsWritten::NotHere => {
                    assert!(!here, "{} with {written} kg", movement.id);
                    absent += 1;
                    continue;
                }
                AsWritten::On(on) => {
                    assert_eq!(on.start.misses(intent.dose.reps), None, "{} with {written} kg", movement.id);
                    taken += 1;
                    on
                }
                AsWritten::Misses(on, miss) => {
                    assert_eq!(on.start.misses(intent.dose.reps), Some(miss), "{} with {written} kg", movement.id);
                    missed += 1;
                    on
                }
            };
            assert!(stamped(on.step()).is_some_and(is_it), "{}: {} for {written} kg", movement.id, on.step().label);
            assert!(on.step().bands.is_empty(), "{}: {} is more than {written} kg", movement.id, on.step().label);
        }
    }
    assert!(taken > 200 && missed > 200 && absent > 200, "{taken} {missed} {absent}");
}

/// After others in its session less is expected on the same weight, never another weight.
#[test]
fn a_written_weight_stays_when_tired() {
    let (person, kit) = (person(), full_room());
    let fitter = Fitter::new(&CATALOGUE, Room::plain(&person, &kit), &[], None);
    let curl = CATALOGUE.movement("dumbbell_curl").unwrap();
    let intent = Named::Movement(curl).intent(&person, &Dose::USUAL);
    let candidate = fitter.alone(curl, &intent).unwrap();
    let weight = Kilograms(stamped(candidate.step()).unwrap());
    let on = |before: &[Worked<'_>]| match fitter.as_written(&candidate, weight, &intent, before) {
        AsWritten::On(on) | AsWritten::Misses(on, _) => *on,
        AsWritten::NotHere => panic!("its own step is here"),
    };
    let chins = Worked { movement: CATALOGUE.movement("chin_up").unwrap(), sets: 4 };
    let (fresh, tired) = (on(&[]), on(&[chins]));
    assert_eq!(fresh.step(), tired.step());
    assert!(tired.start.reps < fresh.start.reps - 0.2, "{} {}", tired.start.reps, fresh.start.reps);
}
