//! Calls that protect: time away, limits and pain are read before anything else.

use crate::common::asked::{Asked, CATALOGUE, CURL, FLY, PRESS, RACK, curls, kg, session};
use crate::common::{kit, person};
use bavrek_core::anatomy::Joint;
use bavrek_core::log::LoggedSet;
use bavrek_core::person::{Limit, LimitKind, Person, Severity, Side};
use bavrek_core::progress::CallKind;
use rstest::rstest;

// Time away.

/// Twelve easy repetitions on the top of the zone, and then so many days without: what is called, and on which pair.
#[rstest]
#[case::days_later("2026-03-06", CallKind::AddLoad, 11.0)]
#[case::two_weeks("2026-03-16", CallKind::AddLoad, 11.0)]
#[case::fifteen_days("2026-03-17", CallKind::Hold, 10.0)]
#[case::three_weeks("2026-03-23", CallKind::Hold, 10.0)]
#[case::twenty_two_days("2026-03-24", CallKind::Ease, 9.0)]
#[case::six_weeks("2026-04-13", CallKind::Ease, 9.0)]
#[case::forty_three_days("2026-04-14", CallKind::Ease, 8.0)]
#[case::half_a_year("2026-09-02", CallKind::Ease, 8.0)]
fn nothing_rises_after_time_away(#[case] today: &'static str, #[case] expected: CallKind, #[case] load: f64) {
    let call = Asked { today, ..Asked::of(CURL, curls("2026-03-02", 10.0, &[12, 12, 12], 2)) }.call();
    assert_eq!((call.call, kg(&call)), (expected, load), "{:?}", call.reasons);
    if expected != CallKind::AddLoad {
        assert!(call.alternatives.iter().all(|a| !a.call.rises()), "{:?}", call.alternatives);
        assert!(call.told()[0].contains("days since"), "{:?}", call.reasons);
    }
}

/// Where no lighter step lies near, the same one is done at the bottom of the zone, with one more left and one set fewer.
#[test]
fn without_a_lighter_step_the_dose_is_lighter() {
    let room = r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,10]}]"#.to_owned();
    let call =
        Asked { room, today: "2026-04-01", ..Asked::of(CURL, curls("2026-03-02", 10.0, &[12, 12, 12], 2)) }.call();
    assert_eq!((call.call, kg(&call)), (CallKind::Ease, 10.0), "{:?}", call.reasons);
    assert_eq!(call.prescription.sets.len(), 2);
    assert!(call.prescription.sets.iter().all(|s| s.reps == Some([8, 8]) && s.rir == Some(3)));
}

/// Training the same strength with another movement is no time away.
#[test]
fn another_movement_of_the_pattern_keeps_it_trained() {
    let mut history = curls("2026-03-02", 10.0, &[12, 12, 12], 2);
    history.extend(session("hammer_curl", "2026-03-25", 10.0, &[10, 10, 10], 2));
    let call = Asked { today: "2026-03-28", planned: Some("dumbbell_curl"), ..Asked::of(CURL, history) }.call();
    assert_eq!(call.call, CallKind::AddLoad, "{:?}", call.reasons);
}

// Limits.

fn limited(joint: Joint, what: LimitKind, severity: Severity) -> Person {
    Person { limits: vec![Limit { joint, what, side: Side::Both, severity }], ..person() }
}

#[rstest]
#[case::excluded(LimitKind::PainDeepStretch, Severity::Moderate, CallKind::Swap)]
#[case::severe(LimitKind::PainLoaded, Severity::Severe, CallKind::Swap)]
#[case::eased(LimitKind::PainLoaded, Severity::Moderate, CallKind::Ease)]
#[case::mild(LimitKind::PainLoaded, Severity::Mild, CallKind::AddLoad)]
#[case::elsewhere(LimitKind::PainGripping, Severity::Moderate, CallKind::AddLoad)]
fn a_limit_is_read_before_the_repetitions(
    #[case] what: LimitKind,
    #[case] severity: Severity,
    #[case] expected: CallKind,
) {
    let sore = limited(Joint::Shoulder, what, severity);
    let history = session("dumbbell_bench_fly", "2026-03-02", 8.0, &[12, 12, 12], 2);
    let call = Asked { person: sore.clone(), ..Asked::of(FLY, history) }.call();
    assert_eq!(call.call, expected, "{:?}", call.reasons);
    if expected != CallKind::AddLoad {
        assert!(call.told()[0].contains(&sore.limits[0].text()), "{:?}", call.reasons);
    }
    if expected == CallKind::Swap {
        let named: Vec<_> = call.alternatives.iter().filter_map(|a| a.exercise()).collect();
        // With a severe pain under load nothing here loads the chest: then nothing is named.
        assert!(named.is_empty() == (severity == Severity::Severe), "{named:?}");
        assert!(named.iter().all(|id| *id != "dumbbell_bench_fly"), "{named:?}");
    }
}

/// Easing happens once: trained since the limit counts, a movement goes on from where it was eased to.
#[rstest]
#[case::entered_after_the_session(Some("2026-03-04"), CallKind::Ease)]
#[case::trained_since(Some("2026-03-01"), CallKind::AddLoad)]
fn a_movement_is_eased_once(#[case] limits_since: Option<&'static str>, #[case] expected: CallKind) {
    let sore = limited(Joint::Shoulder, LimitKind::PainLoaded, Severity::Moderate);
    let history = session("dumbbell_bench_press", "2026-03-02", 12.0, &[12, 12, 12], 2);
    let call = Asked { person: sore, limits_since, ..Asked::of(PRESS, history) }.call();
    assert_eq!(call.call, expected, "{:?}", call.reasons);
}

// Pain.

fn hurting(mut sets: Vec<LoggedSet>, pain: u8) -> Vec<LoggedSet> {
    sets[0].pain = Some(pain);
    sets
}

#[rstest]
#[case::none(0, CallKind::AddLoad)]
#[case::mild(2, CallKind::Hold)]
#[case::three(3, CallKind::Hold)]
#[case::four(4, CallKind::Swap)]
#[case::nine(9, CallKind::Swap)]
fn pain_decides_before_repetitions(#[case] pain: u8, #[case] expected: CallKind) {
    let call = Asked::of(CURL, hurting(curls("2026-03-02", 10.0, &[12, 12, 12], 2), pain)).call();
    assert_eq!(call.call, expected, "{:?}", call.reasons);
    if pain > 0 {
        assert!(call.told()[0].contains(&format!("pain {pain} of 10")), "{:?}", call.reasons);
        assert!(call.alternatives.iter().all(|a| !a.call.rises()), "{:?}", call.alternatives);
    }
}

/// Pain counts by what the joints do, not by the name of the exercise: one day in the incline press and one in the bench
/// press are two days.
#[rstest]
#[case::twice_in_two_weeks("2026-02-25", CallKind::Refer)]
#[case::long_before("2026-02-01", CallKind::Swap)]
fn pain_in_a_sister_movement_counts(#[case] earlier: &str, #[case] expected: CallKind) {
    let mut history = hurting(session("incline_dumbbell_press", earlier, 12.0, &[10, 10], 2), 5);
    history.extend(hurting(session("dumbbell_bench_press", "2026-03-02", 14.0, &[12, 12, 12], 2), 4));
    let call = Asked::of(PRESS, history).call();
    assert_eq!(call.call, expected, "{:?}", call.reasons);
}

#[test]
fn pain_in_a_sister_movement_holds_this_one() {
    let mut history = hurting(session("incline_dumbbell_press", "2026-03-03", 12.0, &[10, 10], 2), 5);
    history.extend(session("dumbbell_bench_press", "2026-03-05", 14.0, &[12, 12, 12], 2));
    let call = Asked::of(PRESS, history).call();
    assert_eq!(call.call, CallKind::Hold, "{:?}", call.reasons);
    assert!(call.told()[0].contains("inclined bench"), "{:?}", call.reasons);
}

/// Where the joint was told, only what loads that joint is concerned.
#[rstest]
#[case::shoulder(Joint::Shoulder, CallKind::Hold)]
#[case::neck(Joint::Neck, CallKind::AddLoad)]
fn a_told_joint_says_what_is_concerned(#[case] joint: Joint, #[case] expected: CallKind) {
    let mut history = hurting(session("seated_dumbbell_press", "2026-03-03", 10.0, &[10], 2), 5);
    history[0].pain_at = Some(joint);
    history.extend(session("dumbbell_bench_press", "2026-03-05", 14.0, &[12, 12, 12], 2));
    let call = Asked::of(PRESS, history).call();
    assert_eq!(call.call, expected, "{:?}", call.reasons);
}

/// The pain-free list never holds the one-armed twin of what hurts.
#[test]
fn a_twin_is_no_way_out() {
    let call = Asked::of(PRESS, hurting(session("dumbbell_bench_press", "2026-03-02", 14.0, &[10, 10], 2), 6)).call();
    let named: Vec<_> = call.alternatives.iter().filter_map(|a| a.exercise()).collect();
    assert!(named.len() >= 2 && !named.contains(&"one_arm_bench_press"), "{named:?}");
}

/// What is named instead after pain asks as little of the joint as can be: from seven on nothing that loads it.
#[rstest]
#[case::shoulder(Joint::Shoulder, 8, 0)]
#[case::shoulder_less(Joint::Shoulder, 5, 3)]
#[case::elbow(Joint::Elbow, 8, 0)]
#[case::elbow_less(Joint::Elbow, 5, 3)]
#[case::wrist(Joint::Wrist, 7, 3)]
fn what_is_named_after_pain_spares_the_joint(#[case] joint: Joint, #[case] pain: u8, #[case] count: usize) {
    let mut sets = session("dumbbell_bench_press", "2026-03-02", 12.0, &[10, 10, 10], 2);
    (sets[2].pain, sets[2].pain_at) = (Some(pain), Some(joint));
    let call = Asked::of(PRESS, sets).call();
    assert_eq!(call.call, CallKind::Swap, "{:?}", call.reasons);
    let spared = bavrek_core::spot::sparing(&person(), joint, None, Some(pain));
    let named: Vec<&str> = call.alternatives.iter().filter_map(|a| a.exercise()).collect();
    assert_eq!(named.len(), count, "{named:?}");
    assert_eq!(call.told().iter().any(|r| r.contains("leave it out for now")), count == 0, "{:?}", call.reasons);
    for named in named {
        let movement = CATALOGUE.movement(named).unwrap();
        let why = bavrek_core::fit::ruled_out(movement, &spared, &kit(RACK));
        assert!(why.is_empty(), "{named}: {why:?}");
    }
    assert!(call.alternatives.iter().all(|a| !a.call.rises()));
}
