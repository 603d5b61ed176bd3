//! What a client is told of the weeks ahead, over every movement, every step of a full room and unlike people.

use crate::common::grid;
use bavrek_core::dose::{Prescription, Tempo};
use bavrek_core::kit::full_room;
use bavrek_core::ladder::{Ahead, Ladder, ahead};
use bavrek_core::movement::Style;

/// Nothing told is lighter or hardly felt, nothing beyond the first is more than a third above today, and no more is asked before a
/// step than half again the top of the zone; what is said to be too far, or the top, is.
#[test]
fn what_is_told_ahead_can_be_done_in_weeks() {
    let catalogue = bavrek_catalogue::load().unwrap();
    let (kit, mut steps_told, mut far, mut tops) = (full_room(), 0, 0, 0);
    for (who, person) in grid::people() {
        for movement in catalogue.movements.iter().filter(|m| m.style != Style::Hold) {
            let ladder = Ladder::of(movement, &person, &kit);
            for zone in [[6, 9], [8, 12], [15, 25]] {
                let dose = Prescription::straight(3, zone, 2, Tempo::USUAL, 90);
                for (nth, now) in ladder.steps.iter().enumerate() {
                    let case = format!("{who}, {}, {} {zone:?}", movement.id, now.label);
                    let above = |kg: f64, by: f64| kg >= now.effective_kg.value() * (1.0 + by);
                    match ahead(now, &ladder.steps, &dose, 3) {
                        Ahead::Steps(told) => {
                            assert!((1..=3).contains(&told.len()), "{case}");
                            let mut before = now.effective_kg.value();
                            for (place, next) in told.iter().enumerate() {
                                let kg = next.step.effective_kg.value();
                                assert!(kg >= before * 1.025, "{case}: {before} to {kg}");
                                assert!(place == 0 || !above(kg, 0.3001), "{case}: {kg}");
                                let reps = next.reps.expect("repetitions go before it");
                                assert!(zone[1] <= reps && 2 * reps <= 3 * zone[1], "{case}: {reps}");
                                (before, steps_told) = (kg, steps_told + 1);
                            }
                        }
                        Ahead::Far(step, share) => {
                            assert!(above(step.effective_kg.value(), share - 1e-9) && share > 0.1, "{case}: {share}");
                            far += 1;
                        }
                        Ahead::Top => {
                            let harder = ladder.steps[nth..].iter().filter(|s| above(s.effective_kg.value(), 0.025));
                            assert_eq!(harder.count(), 0, "{case}");
                            tops += 1;
                        }
                        Ahead::Untold => panic!("{case}: straight sets are told"),
                    }
                }
            }
        }
    }
    assert!(steps_told > 10_000 && far > 100 && tops > 1_000, "{steps_told} told, {far} too far, {tops} at the top");
}
