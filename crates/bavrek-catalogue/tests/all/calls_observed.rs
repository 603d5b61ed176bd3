//! Calls from what was seen or felt: each observation decides something.

use crate::common::asked::{Asked, CATALOGUE, CURL, FLY, PRESS, curls, kg, session};
use crate::common::{day, dumbbell_set, kit, person};
use bavrek_core::log::{LoggedSet, Observation};
use bavrek_core::person::Side;
use bavrek_core::progress::CallKind;
use rstest::rstest;

// Observations: each of them changes the call or the advice.

const BANDED: &str = r#"[{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},{"kind":"anchor","heights_m":[1.2]}]"#;

fn seen_in(sets: usize, seen: Observation, exercise: &str, kg: f64, reps: &[u16]) -> Vec<LoggedSet> {
    let mut history = session(exercise, "2026-03-02", kg, reps, 2);
    for set in &mut history[..sets] {
        set.seen.push(seen);
    }
    history
}

#[rstest]
#[case::range_once(1, Observation::RangeShort, CallKind::Hold, "range cut short")]
#[case::range_twice(2, Observation::RangeShort, CallKind::Ease, "range comes first")]
#[case::drift_once(1, Observation::ElbowDrift, CallKind::Hold, "elbow drifts")]
#[case::drift_twice(2, Observation::ElbowDrift, CallKind::Ease, "elbow drifts")]
#[case::swinging(2, Observation::Swinging, CallKind::Ease, "swinging")]
#[case::rolled(2, Observation::ShoulderRolled, CallKind::Ease, "shoulder rolls")]
#[case::back(1, Observation::BackLifted, CallKind::Ease, "the set ends there")]
#[case::hips(1, Observation::HipsSagged, CallKind::Ease, "the set ends there")]
#[case::became_a_press(1, Observation::FlyBecamePress, CallKind::Ease, "become a press")]
#[case::tips(1, Observation::ForearmTips, CallKind::Hold, "forearms tip")]
#[case::triceps(1, Observation::FeltInTriceps, CallKind::Hold, "wider hands")]
#[case::front(1, Observation::FeltInFrontShoulder, CallKind::Hold, "tuck the elbows")]
#[case::slack(1, Observation::BandSlack, CallKind::Hold, "slack at the start")]
#[case::hard(2, Observation::Hard, CallKind::Hold, "were hard")]
#[case::impossible_inside(1, Observation::Impossible, CallKind::Hold, "enough for size")]
#[case::speed(1, Observation::SpeedLost, CallKind::Hold, "lowering speed")]
#[case::anchor(1, Observation::AnchorMoved, CallKind::Hold, "change the set-up")]
#[case::gap(1, Observation::SideGap, CallKind::AddLoad, "weaker side first")]
#[case::on_target(1, Observation::FeltOnTarget, CallKind::AddLoad, "this variant fits")]
#[case::elsewhere(1, Observation::FeltElsewhere, CallKind::Hold, "felt somewhere else")]
#[case::rings_at_first(1, Observation::RingsShook, CallKind::AddLoad, "top of the zone")]
fn each_observation_decides(
    #[case] sets: usize,
    #[case] seen: Observation,
    #[case] expected: CallKind,
    #[case] words: &str,
) {
    let call = Asked::of(CURL, seen_in(sets, seen, "dumbbell_curl", 10.0, &[12, 12, 12])).call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    assert!(call.told().iter().any(|r| r.contains(words)), "{:?}", call.told());
}

/// All of them have a row above or below.
#[test]
fn no_observation_is_without_a_rule() {
    let plain = Asked::of(CURL, curls("2026-03-02", 10.0, &[9, 9, 9], 2)).call();
    for seen in Observation::ALL.iter().filter(|o| !matches!(o, Observation::RingsShook | Observation::BandTooEasy)) {
        let call = Asked::of(CURL, seen_in(3, *seen, "dumbbell_curl", 10.0, &[9, 9, 9])).call();
        assert!(call.call != plain.call || call.reasons != plain.reasons, "{seen} changes nothing");
    }
}

#[test]
fn easy_repetitions_inside_the_zone_raise_the_load() {
    let call = Asked::of(CURL, {
        let mut sets = seen_in(3, Observation::Easy, "dumbbell_curl", 10.0, &[11, 11, 11]);
        for set in &mut sets {
            set.rir = Some(3);
        }
        sets
    })
    .call();
    assert_eq!(call.call, CallKind::AddLoad, "{:?}", call.told());
}

#[test]
fn impossible_repetitions_below_the_zone_go_down() {
    let call = Asked::of(CURL, seen_in(1, Observation::Impossible, "dumbbell_curl", 10.0, &[7, 7, 7])).call();
    assert_eq!((call.call, kg(&call)), (CallKind::Ease, 9.0), "{:?}", call.told());
}

/// A band that is too easy early is stretched further, on the same band.
#[test]
fn a_band_too_easy_is_stretched() {
    let room = kit(BANDED);
    let movement = CATALOGUE.movement("band_fly").unwrap();
    let ladder = bavrek_core::ladder::Ladder::of(movement, &person(), &room);
    let first = &ladder.steps[0];
    let set = LoggedSet {
        reps: Some(12),
        rir: Some(2),
        setup: Some(first.setup),
        effective_kg: Some(first.effective_kg),
        seen: vec![Observation::BandTooEasy],
        ..LoggedSet::of("band_fly", day("2026-03-02"))
    };
    let call = Asked { room: BANDED.into(), ..Asked::of(FLY, vec![set.clone(), set]) }.call();
    assert_eq!(call.call, CallKind::AddLoad, "{:?}", call.told());
    let step = call.step.unwrap();
    assert!(
        step.bands == first.bands && step.setup.anchor_distance_m > first.setup.anchor_distance_m,
        "{}",
        step.label
    );
}

/// Felt in the wrong place on two days running: another movement.
#[test]
fn felt_elsewhere_twice_is_another_movement() {
    let felt = |date: &str| {
        let mut sets = session("dumbbell_bench_press", date, 12.0, &[10, 10, 10], 2);
        sets[0].seen.push(Observation::FeltInTriceps);
        sets
    };
    let call = Asked::of(PRESS, [felt("2026-03-02"), felt("2026-03-05")].concat()).call();
    assert_eq!(call.call, CallKind::Swap, "{:?}", call.told());
}

/// Felt in a region that is not meant: advice first; again, and a variant is named with what is different about it.
#[rstest]
#[case::twice(&[Some("delt_front"), Some("delt_front")], CallKind::Swap, Some("felt in the front shoulder on two days running"))]
#[case::once(&[None, Some("delt_front")], CallKind::Hold, Some("felt in the front shoulder: "))]
#[case::two_places(&[Some("triceps_lateral"), Some("delt_front")], CallKind::Hold, Some("felt in the front shoulder: "))]
#[case::on_the_target(&[Some("chest_sternal"), Some("chest_sternal")], CallKind::Swap, Some("felt somewhere else on two days"))]
fn felt_elsewhere_names_a_variant(
    #[case] places: &[Option<&str>],
    #[case] expected: CallKind,
    #[case] says: Option<&str>,
) {
    let mut history = Vec::new();
    for (date, place) in ["2026-03-02", "2026-03-05"].into_iter().zip(places) {
        let mut sets = session("dumbbell_bench_press", date, 12.0, &[10, 10, 10], 2);
        if let Some(region) = place {
            sets[1].seen.push(Observation::FeltElsewhere);
            sets[1].felt_at = Some(bavrek_core::anatomy::Region::from_id(region).unwrap());
        }
        history.extend(sets);
    }
    let call = Asked::of(PRESS, history).call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    assert!(says.is_none_or(|words| call.told()[0].starts_with(words)), "{:?}", call.told());
    if expected == CallKind::Swap {
        let named = call.alternatives[0].exercise().unwrap();
        let variant = CATALOGUE.movement(named).unwrap();
        assert!(call.told()[0].contains(&variant.name) && call.told()[0].contains("with another"), "{:?}", call.told());
        assert_eq!(variant.variant_of.as_deref(), Some("dumbbell_bench_press"));
    }
}

#[test]
fn straps_that_still_shake_after_weeks_hold() {
    let mut history = Vec::new();
    for date in ["2026-02-20", "2026-02-24", "2026-02-27", "2026-03-02"] {
        history.extend(curls(date, 10.0, &[12, 12, 12], 2));
    }
    for set in &mut history[9..] {
        set.seen.push(Observation::RingsShook);
    }
    assert_eq!(Asked::of(CURL, history).call().call, CallKind::Hold);
}

/// Sides that differ by fifteen percent or more are named, with what is done about it.
#[rstest]
#[case::alike([12, 12], false)]
#[case::a_little([12, 11], false)]
#[case::much([12, 9], true)]
fn a_gap_between_sides_is_named(#[case] reps: [u16; 2], #[case] named: bool) {
    let side = |side: Side, reps: u16| LoggedSet {
        side: Some(side),
        ..dumbbell_set("one_arm_dumbbell_curl", "2026-03-02", 10.0, reps, 1)
    };
    let sets = (0..3).flat_map(|_| [side(Side::Left, reps[1]), side(Side::Right, reps[0])]).collect();
    let call = Asked::of(CURL, sets).call();
    assert_eq!(call.told().iter().any(|r| r.contains("the left side does")), named, "{:?}", call.told());
}
