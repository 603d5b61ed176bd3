//! Strength carried over between movements, and read from what was logged.

mod common;

use std::sync::LazyLock;

use bavrek_catalogue::load;
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::Catalogue;
use bavrek_core::strength::ledger::effective_load;
use bavrek_core::strength::{Ledger, Prediction};
use common::{dumbbell_set, person};
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

fn predict(history: &[LoggedSet], exercise: &str) -> Prediction {
    Ledger::replay(&CATALOGUE, &person(), history, None).predict(CATALOGUE.movement(exercise).unwrap())
}

fn presses(count: usize) -> Vec<LoggedSet> {
    (0..count)
        .map(|i| dumbbell_set("dumbbell_bench_press", &format!("2026-03-{:02}", 1 + i / 3), 20.0, 10, 2))
        .collect()
}

#[test]
fn the_load_of_ten_with_two_in_reserve_is_the_reference_itself() {
    let known = predict(&presses(12), "dumbbell_bench_press");
    assert!((known.mean.exp() - 20.0).abs() < 1.0, "{}", known.mean.exp());
    assert_eq!(known.sessions, 4);
}

#[test]
fn certainty_grows_with_sets_and_shrinks_across_movements() {
    let sds: Vec<f64> = [0, 1, 3, 12].map(|n| predict(&presses(n), "dumbbell_bench_press").sd).to_vec();
    assert!(sds.windows(2).all(|w| w[1] < w[0]), "{sds:?}");
    assert!(predict(&presses(12), "dumbbell_bench_fly").sd > sds[3]);
}

#[rstest]
#[case::fly("dumbbell_bench_fly", 0.50)]
#[case::floor_fly("dumbbell_floor_fly", 0.55)]
#[case::incline("incline_dumbbell_press", 0.85)]
#[case::push_up_carries_both_hands("push_up", 3.1)]
fn a_new_movement_starts_from_its_ratio_and_a_little_lower(#[case] exercise: &str, #[case] ratio: f64) {
    let history = presses(12);
    let (anchor, other) = (predict(&history, "dumbbell_bench_press"), predict(&history, exercise));
    let actual = (other.mean - anchor.mean).exp();
    // Novelty takes up to 4 % off a movement that was never done.
    assert!(actual < ratio && actual > ratio * 0.955, "{actual}");
}

/// Presses above the guess raise what is expected of a curl, by less, and make it surer; the trunk stands alone.
#[test]
fn another_pattern_is_told_a_part_of_it() {
    let heavier: Vec<LoggedSet> =
        (1..=12).map(|d| dumbbell_set("dumbbell_bench_press", &format!("2026-03-{d:02}"), 26.0, 10, 2)).collect();
    let moved = |id: &str| predict(&heavier, id).mean - predict(&[], id).mean;
    let (press, curl) = (moved("seated_dumbbell_press"), moved("dumbbell_curl"));
    assert!(press > curl && curl > 0.05, "{press} {curl}");
    assert!(predict(&heavier, "dumbbell_curl").sd < predict(&[], "dumbbell_curl").sd);
    assert_eq!(predict(&heavier, "wheel_rollout"), predict(&[], "wheel_rollout"));
}

#[test]
fn evidence_of_the_new_movement_wins_over_its_ratio() {
    let flies: Vec<LoggedSet> =
        (10..16).map(|d| dumbbell_set("dumbbell_bench_fly", &format!("2026-03-{d}"), 14.0, 10, 2)).collect();
    let known = predict(&[presses(12), flies].concat(), "dumbbell_bench_fly");
    assert!((known.mean.exp() - 14.0).abs() < 1.0, "{}", known.mean.exp());
}

fn logged(json: &str) -> LoggedSet {
    let set: LoggedSet = serde_json::from_str(json).unwrap();
    set.validate().unwrap();
    set
}

#[rstest]
#[case::dumbbells(
    r#"{"exercise":"dumbbell_curl","date":"2026-03-01","load":{"value":10,"unit":"kg","per":"hand"},"reps":10}"#,
    10.0,
    0.01
)]
#[case::pounds(
    r#"{"exercise":"dumbbell_curl","date":"2026-03-01","load":{"value":20,"unit":"lb","per":"hand"},"reps":10}"#,
    9.07,
    0.01
)]
#[case::flat_push_up(r#"{"exercise":"push_up","date":"2026-03-01","reps":10}"#, 51.0, 0.1)]
#[case::hands_raised(
    r#"{"exercise":"push_up","date":"2026-03-01","setup":{"hands_height_m":0.45},"reps":10}"#,
    38.8,
    0.4
)]
#[case::on_knees(r#"{"exercise":"push_up","date":"2026-03-01","setup":{"knees":true},"reps":10}"#, 39.8, 0.1)]
#[case::chin_up(r#"{"exercise":"chin_up","date":"2026-03-01","reps":6}"#, 71.66, 0.1)]
#[case::weighted_chin_up(
    r#"{"exercise":"chin_up","date":"2026-03-01","load":{"value":10,"unit":"kg","per":"total"},"reps":6}"#,
    81.66,
    0.1
)]
#[case::ring_row(
    r#"{"exercise":"inverted_row","date":"2026-03-01","setup":{"surface":"rings","body_angle_deg":30},"reps":6}"#,
    46.35,
    0.3
)]
fn the_effective_load_of_a_logged_set(#[case] json: &str, #[case] kg: f64, #[case] tolerance: f64) {
    let set = logged(json);
    let load = effective_load(&set, CATALOGUE.movement(&set.exercise).unwrap(), &person()).unwrap();
    assert!((load.value() - kg).abs() <= tolerance, "{load}");
}

#[test]
fn a_banded_set_is_read_from_its_band_and_stance() {
    let with = |stance: f64| {
        let set = logged(&format!(
            r#"{{"exercise":"band_curl","date":"2026-03-01","reps":10,"setup":{{"stance_m":{stance},"grip_shorter_m":0.3}},
               "band":{{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}}}}"#
        ));
        effective_load(&set, CATALOGUE.movement("band_curl").unwrap(), &person()).unwrap()
    };
    assert!(with(0.4) > with(0.2), "a wider stance stretches the band");
}

#[test]
fn a_set_without_a_load_that_can_be_told_is_left_out() {
    let set = logged(r#"{"exercise":"dumbbell_curl","date":"2026-03-01","reps":10}"#);
    assert_eq!(effective_load(&set, CATALOGUE.movement("dumbbell_curl").unwrap(), &person()), None);
}
