//! Swaps on the spot: what a movement uses, what is left without it, and whom to spare.

use std::sync::LazyLock;

use crate::common::{intent, kit, person};
use bavrek_catalogue::load;
use bavrek_core::anatomy::Joint;
use bavrek_core::fit::{Candidate, FitQuestion, fit};
use bavrek_core::kit::KitItem;
use bavrek_core::ladder::Ladder;
use bavrek_core::movement::Catalogue;
use bavrek_core::spot::{in_use, kindest_first, kit_without, sparing};
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

const ROOM: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[8,12],"singles":[20]},
    {"kind":"bench","angles_deg":[0,30]},{"kind":"rings","max_height_m":2.2},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},{"kind":"chair"}]"#;

#[rstest]
#[case::weights_and_bench("dumbbell_bench_press", &[0, 1])]
#[case::a_curl_stands("dumbbell_curl", &[0])]
#[case::rings("ring_push_up", &[2])]
#[case::the_floor_is_always_there("push_up", &[])]
fn what_a_step_uses(#[case] id: &str, #[case] expected: &[usize]) {
    let (room, movement) = (kit(ROOM), CATALOGUE.movement(id).unwrap());
    let ladder = Ladder::whole(movement, &person(), &room);
    let plain = ladder.steps.iter().find(|s| s.bands.is_empty()).unwrap();
    assert_eq!(in_use(movement, &person(), &room, plain), expected);
}

#[rstest]
#[case::a_piece(1, None, 4)]
#[case::one_weight_leaves_the_others(0, Some(12.0), 5)]
#[case::a_weight_that_is_not_there(0, Some(50.0), 5)]
#[case::a_piece_that_is_not_there(9, None, 5)]
fn what_is_left(#[case] index: usize, #[case] weight: Option<f64>, #[case] pieces: usize) {
    let left = kit_without(&kit(ROOM), index, weight);
    assert_eq!(left.len(), pieces);
    if weight == Some(12.0) {
        assert_eq!(left[0].text(), "dumbbells 8 kg pairs, 20 kg single");
    }
}

#[test]
fn the_last_weight_takes_the_shelf_with_it() {
    let only: Vec<KitItem> = kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[8]}]"#);
    assert_eq!(kit_without(&only, 0, Some(8.0)), []);
}

#[test]
fn a_sore_shoulder_is_not_pressed_overhead() {
    let wanted = intent(r#"{"pattern":"overhead_press","regions":{"delt_front":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
    let (room, sore) = (kit(ROOM), sparing(&person(), Joint::Shoulder, None, None));
    let before = fit(&CATALOGUE, &FitQuestion::plain(&person(), &room, &wanted)).candidates.len();
    let answer = fit(&CATALOGUE, &FitQuestion::plain(&sore, &room, &wanted));
    assert!(answer.candidates.len() < before);
    assert!(answer.candidates.iter().all(|c| c.movement.id != "overhead_dumbbell_press"));
}

/// A sore elbow: what keeps its angle comes before what bends it, wherever both are allowed.
#[rstest]
#[case::a_pull("vertical_pull", "lats", "straight_arm_band_pulldown", "pull_up")]
#[case::a_press("horizontal_press", "chest_sternal", "dumbbell_bench_fly", "dumbbell_bench_press")]
fn a_sore_elbow_keeps_its_angle_first(
    #[case] pattern: &str,
    #[case] region: &str,
    #[case] first: &str,
    #[case] later: &str,
) {
    let wanted =
        intent(&format!(r#"{{"pattern":"{pattern}","regions":{{"{region}":1.0}},"reps":[8,12],"rir":2,"sets":3}}"#));
    let sore = sparing(&person(), Joint::Elbow, None, Some(5));
    let room = bavrek_core::kit::full_room();
    let mut found = fit(&CATALOGUE, &FitQuestion::plain(&sore, &room, &wanted)).candidates;
    let place = |found: &[Candidate<'_>], id: &str| found.iter().position(|c| c.movement.id == id).unwrap();
    assert!(place(&found, first) > place(&found, later), "the job alone puts it the other way round");
    kindest_first(&mut found, Joint::Elbow);
    assert!(place(&found, first) < place(&found, later));
    assert!(found.windows(2).all(|w| w[0].kindness() >= w[1].kindness()));
}

/// A sore elbow curls and extends in the middle of its range first, in every room, whatever leads for a sound one.
#[rstest]
#[case::curls("elbow_flexion", "biceps_long")]
#[case::short_head("elbow_flexion", "biceps_short")]
#[case::extensions("elbow_extension", "triceps_long")]
fn a_sore_elbow_is_loaded_in_the_middle_of_its_range_first(#[case] pattern: &str, #[case] region: &str) {
    use bavrek_core::anatomy::ArmPosition::{Behind, InFront, Overhead};
    let wanted =
        intent(&format!(r#"{{"pattern":"{pattern}","regions":{{"{region}":1.0}},"reps":[8,12],"rir":2,"sets":3}}"#));
    let room = bavrek_core::kit::full_room();
    for severity in ["mild", "moderate"] {
        let sore = crate::common::limited(&format!(
            r#"{{"joint":"elbow","what":"pain_loaded","side":"both","severity":"{severity}"}}"#
        ));
        let mut found = fit(&CATALOGUE, &FitQuestion::plain(&sore, &room, &wanted)).candidates;
        kindest_first(&mut found, Joint::Elbow);
        let single = |c: &&Candidate<'_>| c.movement.pattern.id() == pattern && !c.movement.rig.is_lever();
        let first = found.iter().find(single).unwrap();
        let ends = match pattern {
            "elbow_flexion" => [Behind, InFront].contains(&first.movement.arm_position),
            _ => first.movement.arm_position == Overhead,
        };
        assert!(!ends, "{severity}: {}", first.movement.id);
    }
}
