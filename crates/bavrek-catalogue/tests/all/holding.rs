//! Holds in a review: each movement on its own scale.

use std::f64::consts::{LN_2, SQRT_2};
use std::sync::LazyLock;

use bavrek_catalogue::load;
use bavrek_core::dose::SetKind;
use bavrek_core::holds::HOLD_SD;
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::Catalogue;
use bavrek_core::review::{Done, HeldLine, Told, held_lines, story};
use bavrek_core::units::Kilograms;
use bavrek_core::wording::sentence;
use chrono::Days;
use rstest::rstest;

use crate::common::day;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

/// A hold so many weeks after the first of May.
fn hold(weeks: u64, seconds: u16, kg: f64) -> LoggedSet {
    LoggedSet {
        kind: Some(SetKind::Hold),
        seconds: Some(seconds),
        effective_kg: Some(Kilograms(kg)),
        ..LoggedSet::of("bar_hang", day("2026-05-01") + Days::new(7 * weeks))
    }
}

fn lines(sets: &[LoggedSet]) -> Vec<HeldLine<'static>> {
    let done: Vec<Done<'_>> = sets.iter().map(|set| Done { set, place: None }).collect();
    held_lines(&CATALOGUE, &done, [day("2026-05-01"), day("2026-12-31")])
}

/// Time counts by its root, load as it is: the change of what can be held.
#[rstest]
#[case::twice_as_long(&[(0, 30, 80.0), (8, 60, 80.0)], Some((0.5 * LN_2, HOLD_SD * SQRT_2)))]
#[case::twice_the_load(&[(0, 30, 40.0), (8, 30, 80.0)], Some((LN_2, HOLD_SD * SQRT_2)))]
#[case::half_the_time_with_more(&[(0, 60, 80.0), (8, 30, 80.0 * SQRT_2)], Some((0.0, HOLD_SD * SQRT_2)))]
#[case::shorter(&[(0, 60, 80.0), (4, 30, 80.0)], Some((-0.5 * LN_2, HOLD_SD * SQRT_2)))]
#[case::the_best_of_a_day(&[(0, 30, 80.0), (0, 12, 80.0), (8, 60, 80.0), (8, 20, 80.0)], Some((0.5 * LN_2, HOLD_SD * SQRT_2)))]
#[case::more_days_are_surer(&[(0, 30, 80.0), (1, 30, 80.0), (2, 30, 80.0)], Some((0.0, HOLD_SD * SQRT_2)))]
#[case::four_days(&[(0, 30, 80.0), (1, 30, 80.0), (2, 30, 80.0), (3, 30, 80.0)], Some((0.0, HOLD_SD * 3.0 / 5.0_f64.sqrt())))]
#[case::one_day(&[(0, 30, 80.0), (0, 45, 80.0)], None)]
fn a_hold_is_compared_with_itself(#[case] held: &[(u64, u16, f64)], #[case] expected: Option<(f64, f64)>) {
    let sets: Vec<LoggedSet> = held.iter().map(|(weeks, seconds, kg)| hold(*weeks, *seconds, *kg)).collect();
    let found = lines(&sets);
    assert_eq!((found.len(), found[0].movement.id.as_str()), (1, "bar_hang"));
    match (found[0].change, expected) {
        (Some(change), Some((mean, sd))) => {
            assert!((change.mean - mean).abs() < 1e-9 && (change.sd - sd).abs() < 1e-9, "{change:?}");
        }
        (change, expected) => assert_eq!((change, found[0].days.len()), (None, 1), "{expected:?}"),
    }
}

/// What is no hold of a load that is known is none.
#[rstest]
#[case::a_hold(|_: &mut LoggedSet| (), 1)]
#[case::of_a_movement_that_is_held(|set: &mut LoggedSet| set.kind = None, 1)]
#[case::repetitions(|set: &mut LoggedSet| set.reps = Some(8), 0)]
#[case::mixed(|set: &mut LoggedSet| set.kind = Some(SetKind::Mixed), 0)]
#[case::station(|set: &mut LoggedSet| set.kind = Some(SetKind::Station), 0)]
#[case::of_nothing(|set: &mut LoggedSet| set.seconds = Some(0), 0)]
#[case::unknown_load(|set: &mut LoggedSet| set.effective_kg = None, 0)]
#[case::set_aside(|set: &mut LoggedSet| set.set_aside = true, 0)]
#[case::unknown_movement(|set: &mut LoggedSet| set.exercise = "gone".into(), 0)]
#[case::before_the_range(|set: &mut LoggedSet| set.date = day("2026-04-30"), 0)]
fn what_is_held(#[case] change: fn(&mut LoggedSet), #[case] expected: usize) {
    let mut set = hold(2, 40, 80.0);
    change(&mut set);
    assert_eq!(lines(&[set]).len(), expected);
}

/// The story tells of holds, also where nothing else was done.
#[rstest]
#[case::longer(&[20, 30, 45, 60], "Held longer or with more: hang from a bar by 74 %.")]
#[case::shorter(&[60, 45, 30, 20], "Weaker: hang from a bar by 43 %.")]
#[case::as_before(&[30, 31, 30, 31], "Strength is as it was: no change is more than chance yet.")]
#[case::once(&[30], "Nothing was logged often enough here to see a change.")]
fn the_story_tells_of_holds(#[case] seconds: &[u16], #[case] expected: &str) {
    let sets: Vec<LoggedSet> = seconds.iter().zip(0..).map(|(s, week)| hold(week, *s, 80.0)).collect();
    let held = lines(&sets);
    let told = story(&Told { lines: &[], held: &held, left_out: &[], pain: None });
    let told: Vec<String> = told.iter().map(|fact| sentence(fact, |on| on.to_string())).collect();
    assert_eq!(told, [expected]);
}
