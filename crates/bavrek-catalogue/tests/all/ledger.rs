//! Strength carried over between movements, and read from what was logged.

use std::sync::LazyLock;

use crate::common::{day, dumbbell_set, person};
use bavrek_catalogue::load;
use bavrek_core::dose::SetKind;
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::Catalogue;
use bavrek_core::person::Side;
use bavrek_core::strength::ledger::{LeftOut, effective_load};
use bavrek_core::strength::{Ledger, Prediction};
use bavrek_core::wording::told;
use chrono::{DateTime, Days, NaiveDate, Utc};
use proptest::prelude::*;
use rand::seq::SliceRandom;
use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;
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

/// A year in small: presses, rows and curls that grow, on different movements, with pauses and a slip of the pen.
fn a_log(days: u32, seed: u64) -> Vec<(LoggedSet, DateTime<Utc>)> {
    const DONE: [(&str, f64); 5] = [
        ("dumbbell_bench_press", 18.0),
        ("dumbbell_floor_press", 17.0),
        ("dumbbell_curl", 10.0),
        ("dumbbell_row", 20.0),
        ("hammer_curl", 11.0),
    ];
    let mut random = ChaCha8Rng::seed_from_u64(seed);
    let mut date = NaiveDate::from_ymd_opt(2026, 1, 5).unwrap();
    let mut sets = Vec::new();
    for day in 0..days {
        date = date + Days::new(random.random_range(1..=4));
        for minute in 0..random.random_range(2..=9u32) {
            let (exercise, kg) = DONE[random.random_range(0..DONE.len())];
            let slip = if random.random_bool(0.02) { 10.0 } else { 1.0 };
            let reps = (10.0 + f64::from(day) / 12.0 + random.random_range(-2.0..=2.0)) as u16;
            let set = dumbbell_set(exercise, &date.to_string(), kg * slip, reps, 2);
            sets.push((set, date.and_hms_opt(17, minute, 0).unwrap().and_utc()));
        }
    }
    sets
}

fn replayed(sets: &[(LoggedSet, DateTime<Utc>)]) -> Ledger<'static> {
    let plain: Vec<LoggedSet> = sets.iter().map(|(set, _)| set.clone()).collect();
    Ledger::replay(&CATALOGUE, &person(), &plain, None)
}

/// All that is predicted, over every movement.
fn all(ledger: &Ledger<'_>) -> Vec<Prediction> {
    CATALOGUE.movements.iter().map(|m| ledger.predict(m)).collect()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// Sets that come late, twice shuffled or one at a time make the ledger that a replay makes.
    #[test]
    fn the_order_of_arrival_changes_nothing(days in 1u32..14, seed in any::<u64>(), shuffle in any::<u64>()) {
        let sets = a_log(days, seed);
        let mut arriving = sets.clone();
        arriving.shuffle(&mut ChaCha8Rng::seed_from_u64(shuffle));
        let mut ledger = Ledger::new(&CATALOGUE, &person(), None);
        for (set, at) in &arriving {
            ledger.take(set, Some(*at));
        }
        prop_assert_eq!(all(&ledger), all(&replayed(&sets)));
    }

    /// What is known of a day from the whole log is surer than what was known on it, and the last day is the same in both.
    #[test]
    fn a_trace_is_surer_of_the_past_and_ends_in_the_ledger(days in 3u32..40, seed in any::<u64>()) {
        let sets = a_log(days, seed);
        let ledger = replayed(&sets);
        let trace = ledger.trace();
        let all_days: Vec<NaiveDate> = trace.days().collect();
        // A day with nothing but a slip of the pen says nothing.
        prop_assert!(!all_days.is_empty() && all_days.len() <= days as usize);
        for prior in CATALOGUE.priors.values() {
            let place = ledger.place_of(&prior.id).unwrap();
            let levels = trace.levels(place);
            let (mean, _) = ledger.level(prior);
            let Some(last) = levels.last() else { continue };
            prop_assert!(levels.iter().all(|l| l.mean.is_finite() && l.sd > 0.0 && l.sd < 0.5), "{levels:?}");
            if last.date == *all_days.last().unwrap() {
                prop_assert!((last.mean - mean).abs() < 1e-6);
            }
            let first = levels[0];
            let until: Vec<_> = sets.iter().filter(|(s, _)| s.date <= first.date).cloned().collect();
            let then = replayed(&until).level(prior);
            // A trace is read on the movement that was done last: another one has a ratio of its own to be unsure of.
            let last_of = |sets: &[(LoggedSet, DateTime<Utc>)]| {
                let of_pattern = |s: &&(LoggedSet, DateTime<Utc>)| {
                    CATALOGUE.movement(&s.0.exercise).is_some_and(|m| m.carry_over.pattern == prior.id)
                };
                sets.iter().rfind(of_pattern).map(|(set, _)| set.exercise.clone())
            };
            prop_assert!(first.sd <= then.1 + 1e-6 || last_of(&until) != last_of(&sets), "{first:?} {then:?}");
        }
    }
}

/// On a day of several movements the last one is what a level is read on, not the first: curls after hammer curls are as sure as they
/// were before.
#[test]
fn a_level_is_read_on_what_was_done_last() {
    let sets = a_log(3, 14_418_335_206_785_355_678);
    let curls: Vec<&str> = sets.iter().map(|(s, _)| s.exercise.as_str()).filter(|id| id.ends_with("_curl")).collect();
    assert_eq!(curls, ["dumbbell_curl", "dumbbell_curl", "hammer_curl", "dumbbell_curl"]);
    let (ledger, prior) = (replayed(&sets), &CATALOGUE.priors["curl"]);
    let first = ledger.trace().levels(ledger.place_of(&prior.id).unwrap())[0];
    let until: Vec<_> = sets.iter().filter(|(s, _)| s.date <= first.date).cloned().collect();
    assert!(first.sd < replayed(&until).level(prior).1, "{first:?}");
}

/// The change between two days is surer than either of them: an error that both share does not count.
#[test]
fn a_change_is_surer_than_its_ends() {
    let start = day("2026-01-05");
    let sets: Vec<LoggedSet> = (0..36u32)
        .map(|i| {
            let on = start + Days::new(u64::from(i / 3) * 7);
            dumbbell_set("dumbbell_floor_press", &on.to_string(), 18.0 + 0.4 * f64::from(i / 3), 10, 2)
        })
        .collect();
    let ledger = Ledger::replay(&CATALOGUE, &person(), &sets, None);
    let trace = ledger.trace();
    let place = ledger.place_of("horizontal_press").unwrap();
    let levels = trace.levels(place);
    let change = trace.change(place, levels[0].date, levels[11].date).unwrap();
    // 18 to 22.4 kg, the first time 4 % below itself because it was new.
    let truth = (22.4f64 / 18.0).ln() - 0.04;
    assert!((change.mean - truth).abs() < 0.05 && change.bounds()[1] > truth, "{change:?} {truth}");
    assert!((change.mean - (levels[11].mean - levels[0].mean)).abs() < 1e-9);
    // The ratio of the floor press to the bench press is not known better than to a tenth, and does not matter for a change.
    assert!(change.sd < 0.06 && ledger.level(&CATALOGUE.priors["horizontal_press"]).1 > 0.09, "{change:?} {levels:?}");
    assert_eq!(trace.change(place, levels[3].date, levels[3].date), None);
}

/// Each side tires on its own: left and right in turn say what one side alone says.
#[test]
fn sides_tire_on_their_own() {
    let of = |sides: &[Side]| {
        let sets: Vec<LoggedSet> = sides
            .iter()
            .map(|side| LoggedSet { side: Some(*side), ..dumbbell_set("dumbbell_row", "2026-03-01", 20.0, 10, 2) })
            .collect();
        predict(&sets, "dumbbell_row").mean
    };
    let in_turn = of(&[Side::Left, Side::Right, Side::Left, Side::Right]);
    let as_four = of(&[Side::Left, Side::Left, Side::Left, Side::Left]);
    assert!(in_turn < as_four, "{in_turn} {as_four}");
}

#[rstest]
#[case::extension_below_says_nothing(SetKind::Extension, 6.0, false)]
#[case::extension_above_says_at_least(SetKind::Extension, 40.0, true)]
#[case::station(SetKind::Station, 40.0, false)]
#[case::mixed(SetKind::Mixed, 40.0, false)]
fn kinds_say_what_they_can(#[case] kind: SetKind, #[case] kg: f64, #[case] moves: bool) {
    let set = LoggedSet { kind: Some(kind), ..dumbbell_set("dumbbell_bench_press", "2026-03-01", kg, 10, 2) };
    let moved = predict(&[set], "dumbbell_bench_press").mean - predict(&[], "dumbbell_bench_press").mean;
    assert_eq!(moved.abs() > 0.02, moves, "{moved}");
    assert!(moved > -0.05, "only novelty may lower it: {moved}");
}

/// Of fifty in as few sets as possible the hardest says how strong somebody is, not the tired ones after it.
#[test]
fn a_total_speaks_by_its_hardest_set() {
    let portion = |reps| LoggedSet {
        kind: Some(SetKind::ToTotal),
        ..dumbbell_set("dumbbell_bench_press", "2026-03-01", 16.0, reps, 0)
    };
    let whole = predict(&[portion(22), portion(12), portion(9), portion(7)], "dumbbell_bench_press");
    assert_eq!(whole, predict(&[portion(22)], "dumbbell_bench_press"));
}

#[test]
fn what_was_set_aside_says_nothing_and_is_said() {
    let set = LoggedSet { set_aside: true, ..dumbbell_set("dumbbell_bench_press", "2026-03-01", 30.0, 10, 2) };
    let ledger = Ledger::replay(&CATALOGUE, &person(), std::slice::from_ref(&set), None);
    assert_eq!(all(&ledger), all(&replayed(&[])));
    assert_eq!(ledger.why_left_out(&set), Some(LeftOut::SetAside));
    assert_eq!(told(&ledger.notes()), ["1 set left out: set aside by the trainer"]);
}
