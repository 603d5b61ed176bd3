//! What comes later in a session starts lighter by what was done before it, and only then.

use bavrek_core::dose::Dose;
use bavrek_core::fit::{Basis, Candidate, FitQuestion, Lost, Miss, Reason, Worked, fit, tired};
use bavrek_core::kit::full_room;
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::Catalogue;
use bavrek_core::person::Person;
use bavrek_core::reference::Named;
use rstest::rstest;
use std::sync::LazyLock;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| bavrek_catalogue::load().unwrap());

fn worked(id: &str, sets: usize) -> Worked<'static> {
    Worked { movement: CATALOGUE.movement(id).unwrap(), sets }
}

/// A movement as it would start in a room that has everything.
fn candidate(id: &str, history: &[LoggedSet]) -> Candidate<'static> {
    let (person, kit) = (Person::default_figure(), full_room());
    let intent = Named::find(&CATALOGUE, id).unwrap().intent(&person, &Dose::USUAL);
    let question = FitQuestion { history, ..FitQuestion::plain(&person, &kit, &intent) };
    fit(&CATALOGUE, &question).candidates.into_iter().find(|c| c.movement.id == id).unwrap()
}

#[rstest]
#[case::arms_after_pull_ups("dumbbell_curl", "chin_up", true)]
#[case::a_fly_before_the_press("dumbbell_bench_press", "dumbbell_bench_fly", true)]
#[case::triceps_after_presses("supine_dumbbell_extension", "dumbbell_bench_press", true)]
#[case::a_press_after_curls("dumbbell_bench_press", "dumbbell_curl", false)]
#[case::a_curl_after_side_raises("dumbbell_curl", "side_raise", false)]
fn what_shares_regions_is_taken_lighter(#[case] id: &str, #[case] before: &str, #[case] lighter: bool) {
    let fresh = candidate(id, &[]);
    assert_ne!(fresh.start.basis, Basis::ThisExercise);
    let later = fresh.clone().after(&[worked(before, 4)], true);
    assert_eq!(later.start.reps < fresh.start.reps - 0.2, lighter, "{} {}", fresh.start.reps, later.start.reps);
    assert_eq!(later.reasons.len() > fresh.reasons.len(), lighter);
    assert_eq!(later.step(), fresh.step(), "the step is kept where that is asked");
    let begun = fresh.clone().after(&[worked(before, 4)], false);
    assert!(begun.step().effective_kg <= fresh.step().effective_kg);
    assert_eq!(begun.prescription.sets[0].load, begun.step().load, "the dose says the step's own load");
}

#[test]
fn four_sets_of_the_same_region_take_a_tenth_and_never_more_than_the_most() {
    let curl = CATALOGUE.movement("dumbbell_curl").unwrap();
    let (less, _) = tired(&[worked("hammer_curl", 4)], curl).unwrap();
    assert!((0.03..=0.12).contains(&less), "{less}");
    let (most, _) = tired(&[worked("dumbbell_curl", 40)], curl).unwrap();
    assert_eq!(most, 0.15);
    assert_eq!(tired(&[], curl), None);
}

#[test]
fn what_was_done_as_tired_before_is_not_taken_twice() {
    let set = |day: &str| {
        let text = format!(
            r#"{{"exercise":"dumbbell_curl","date":"{day}","load":{{"value":10,"unit":"kg","per":"hand"}},"reps":10,"rir":2}}"#
        );
        serde_json::from_str(&text).unwrap()
    };
    let known = candidate("dumbbell_curl", &[set("2026-03-01"), set("2026-03-04")]);
    assert_eq!(known.start.basis, Basis::ThisExercise);
    let later = known.clone().after(&[worked("chin_up", 5)], false);
    assert_eq!((later.start, later.reasons), (known.start, known.reasons));
}

/// Over all pairs: never heavier, never more than the most, and nothing where nothing is shared.
#[test]
fn every_pair_is_bounded_and_what_shares_nothing_is_left_alone() {
    let mut shared = 0;
    for movement in &CATALOGUE.movements {
        for other in &CATALOGUE.movements {
            let found = tired(&[Worked { movement: other, sets: 4 }], movement);
            let common = movement.direct.keys().any(|region| other.region_weight(*region) > 0.0);
            if let Some((less, region)) = found {
                assert!(common && less > 0.0 && less <= 0.15, "{} after {}: {less}", movement.id, other.id);
                assert!(movement.direct.contains_key(&region) && other.region_weight(region) > 0.0);
                shared += 1;
            }
            if movement.id == other.id && !movement.direct.is_empty() {
                assert!(found.is_some(), "{} after itself", movement.id);
            }
        }
    }
    assert!(shared > 1000, "{shared}");
}

/// Over all movements that start in a full room and in one of three pairs: being tired never adds, and makes a set too light
/// for its zone only where the step above it is too heavy for that; a set without end only where fewer than five would go.
#[test]
fn nobody_is_sent_to_a_set_without_end() {
    let person = Person::default_figure();
    let sparse: Vec<bavrek_core::kit::KitItem> = serde_json::from_str(
        r#"[{"kind":"dumbbells","unit":"kg","pairs":[3,8,20]},{"kind":"bench","angles_deg":[0,30,45]}]"#,
    )
    .unwrap();
    let (mut lighter, mut kept, mut told) = (0, 0, 0);
    for room in [full_room(), sparse] {
        for movement in CATALOGUE.movements.iter().step_by(4) {
            let intent = Named::Movement(movement).intent(&person, &Dose::USUAL);
            let question = FitQuestion::plain(&person, &room, &intent);
            let before = [Worked { movement, sets: 5 }];
            for fresh in fit(&CATALOGUE, &question).candidates {
                let Some(zone) = fresh.prescription.zone() else { continue };
                let later = fresh.clone().after(&before, false);
                told += says_what_is(&later) + says_what_is(&fresh.clone().after(&before, true));
                let less = later.reasons.iter().find_map(|reason| match reason {
                    Reason::Tired { less, .. } => Some(*less),
                    _ => None,
                });
                let weaker = 1.0 - (later.start.reference - fresh.start.reference).exp();
                assert!((less.unwrap_or(0.0) - weaker).abs() < 1e-9, "{}: {less:?} for {weaker}", fresh.movement.id);
                let (was, is) = (fresh.step().effective_kg.value(), later.step().effective_kg.value());
                assert!(is <= was, "{}", fresh.movement.id);
                let on_its_own = later.reps_on(fresh.start.step).unwrap();
                if is < was {
                    lighter += 1;
                    assert!(on_its_own < f64::from(zone[0]), "{}: {on_its_own} were enough", fresh.movement.id);
                    let above = later.reps_on(later.start.step + 1).unwrap();
                    let too_light = later.start.misses(zone) == Some(Miss::TooLight);
                    assert!(!too_light || above < f64::from(zone[0]) * 0.75, "{}", fresh.movement.id);
                    assert!(!later.start.is_too_light() || above < 5.0, "{}", fresh.movement.id);
                } else {
                    kept += 1;
                }
            }
        }
    }
    assert!(lighter > 20 && kept > 200 && told > 2000, "{lighter} {kept} {told}");
}

/// What is said of a start is said of the one it has, fresh or tired; how many sayings that were.
fn says_what_is(candidate: &Candidate<'_>) -> usize {
    let (start, ladder, id) = (&candidate.start, &candidate.ladder, &candidate.movement.id);
    let above = ladder.steps.get(start.step + 1).map(|step| &step.label);
    let holds = |reason: &&Reason| -> bool {
        match reason {
            Reason::LoadLikely { load, .. } => assert_eq!(*load, [start.low, start.high], "{id}"),
            Reason::Expected { likely, .. } | Reason::LightestAbove { likely, .. } => {
                assert_eq!(*likely, start.likely(), "{id}");
            }
            Reason::FirstOn(label) => assert_eq!(*label, ladder.steps[start.feeler.unwrap()].label, "{id}"),
            Reason::TestSet { next, .. } => assert_eq!(next.as_ref(), above, "{id}"),
            Reason::RoomToGrow { above, .. } => assert_eq!(*above, ladder.headroom(start.step), "{id}"),
            _ => return false,
        }
        true
    };
    assert_eq!(candidate.lost.contains(&Lost::NothingHeavier), ladder.headroom(start.step) == 0, "{id}");
    assert_eq!(candidate.lost.contains(&Lost::TooLight), start.is_too_light(), "{id}");
    candidate.reasons.iter().filter(holds).count()
}

/// Between two pairs there may be a gap: what the start misses is said with what its neighbour misses.
#[rstest]
#[case::between_two_pairs("dumbbell_bench_press", &[2.0, 60.0], Miss::TooLight, Some(Miss::TooHeavy), false)]
#[case::only_light_ones("dumbbell_bench_press", &[7.0, 8.0], Miss::TooLight, None, true)]
#[case::only_heavy_ones("dumbbell_curl", &[14.0, 20.0], Miss::TooHeavy, None, true)]
fn a_step_that_misses_says_what_the_next_one_would(
    #[case] id: &str,
    #[case] pairs: &[f64],
    #[case] misses: Miss,
    #[case] next: Option<Miss>,
    #[case] at_its_end: bool,
) {
    let kit =
        serde_json::json!([{"kind": "dumbbells", "unit": "kg", "pairs": pairs}, {"kind": "bench", "angles_deg": [0]}]);
    let kit: Vec<bavrek_core::kit::KitItem> = serde_json::from_value(kit).unwrap();
    let person = Person::default_figure();
    let intent = Named::Movement(CATALOGUE.movement(id).unwrap()).intent(&person, &Dose::USUAL);
    let answer = fit(&CATALOGUE, &FitQuestion::plain(&person, &kit, &intent));
    let candidate = answer.candidates.iter().find(|c| c.movement.id == id).unwrap();
    assert_eq!(candidate.start.misses(intent.dose.reps), Some(misses));
    assert_eq!(candidate.neighbour_misses(intent.dose.reps), next);
    assert_eq!(candidate.is_at_its_end(misses), at_its_end);
}
