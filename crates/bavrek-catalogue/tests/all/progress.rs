//! Calls: one table of cases a rule.

use std::sync::LazyLock;

use crate::common::asked::Asked;
use crate::common::{day, dumbbell_set, intent, kit, person};
use bavrek_catalogue::load;
use bavrek_core::dose::StopRule;
use bavrek_core::log::{LoggedSet, Observation};
use bavrek_core::movement::Catalogue;
use bavrek_core::plan::Intent;
use bavrek_core::progress::{Call, CallKind, NextQuestion, next};
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

const FINE: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[8,9,10,11,12]}]"#;
const COARSE: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[8,10,20]}]"#;
const CURL: &str = r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":3}"#;

fn call(items: &str, history: &[LoggedSet]) -> Call {
    call_for(&intent(CURL), items, history)
}

fn call_for(intent: &Intent, items: &str, history: &[LoggedSet]) -> Call {
    let asked = Asked::of(CURL, history.to_vec());
    Asked { intent: intent.clone(), room: items.into(), today: "2026-03-12", ..asked }.call()
}

/// Three sets of one day.
fn session(date: &str, kg: f64, reps: [u16; 3], rir: u8) -> Vec<LoggedSet> {
    reps.into_iter().map(|r| dumbbell_set("dumbbell_curl", date, kg, r, rir)).collect()
}

#[rstest]
#[case::top_of_the_range(FINE, 10.0, [12, 12, 12], 2, CallKind::AddLoad, Some(11.0))]
#[case::inside_the_range(FINE, 10.0, [11, 10, 10], 2, CallKind::AddReps, Some(10.0))]
#[case::inside_with_too_little_left(FINE, 10.0, [11, 10, 9], 0, CallKind::Hold, Some(10.0))]
#[case::below_once(FINE, 10.0, [8, 7, 6], 2, CallKind::Hold, Some(10.0))]
#[case::top_before_a_large_jump(COARSE, 8.0, [12, 12, 12], 2, CallKind::AddReps, Some(8.0))]
#[case::top_before_a_doubling(COARSE, 10.0, [12, 12, 12], 2, CallKind::AddTempo, Some(10.0))]
#[case::top_of_the_ladder(FINE, 12.0, [12, 12, 12], 2, CallKind::AddTempo, Some(12.0))]
fn double_progression(
    #[case] items: &str,
    #[case] kg: f64,
    #[case] reps: [u16; 3],
    #[case] rir: u8,
    #[case] expected: CallKind,
    #[case] load: Option<f64>,
) {
    let call = call(items, &session("2026-03-02", kg, reps, rir));
    assert_eq!(call.call, expected, "{:?}", call.told());
    assert_eq!(call.step.as_ref().map(|s| s.effective_kg.value()), load);
    assert!(!call.told().is_empty());
}

/// The reserve that is asked for is the prescription's, set by set: a last set to failure is as it should be, and so is
/// every set of a rule that goes to failure.
#[rstest]
#[case(None, [2, 2, 2], CallKind::AddLoad)]
#[case(None, [2, 1, 0], CallKind::Hold)]
#[case(Some(StopRule::LastToFailure), [2, 2, 0], CallKind::AddLoad)]
#[case(Some(StopRule::LastToFailure), [0, 0, 0], CallKind::Hold)]
#[case(Some(StopRule::Failure), [0, 0, 0], CallKind::AddLoad)]
fn a_stop_rule_says_what_reserve_is_kept(
    #[case] stop: Option<StopRule>,
    #[case] reserves: [u8; 3],
    #[case] expected: CallKind,
) {
    let mut wanted = intent(CURL);
    wanted.dose.stop = stop;
    let sets = reserves.map(|rir| dumbbell_set("dumbbell_curl", "2026-03-02", 10.0, 12, rir));
    let call = call_for(&wanted, FINE, &sets);
    assert_eq!(call.call, expected, "{:?}", call.told());
}

#[test]
fn below_twice_goes_down() {
    let history = [session("2026-03-02", 10.0, [7, 7, 6], 2), session("2026-03-05", 10.0, [8, 7, 6], 2)].concat();
    let call = call(FINE, &history);
    assert_eq!(call.call, CallKind::Ease);
    assert_eq!(call.step.unwrap().effective_kg.value(), 9.0);
    assert_eq!(call.prescription.sets[0].load.unwrap().value, 9.0);
}

#[test]
fn more_reps_before_a_jump_are_written_into_the_prescription() {
    let call = call(COARSE, &session("2026-03-02", 8.0, [12, 12, 12], 2));
    // From 8 to 10 kg: 17 with 2 in reserve leave 7 with 1 on the next step.
    assert_eq!(call.prescription.sets[0].reps, Some([12, 17]));
}

#[test]
fn slower_lowering_is_written_into_the_prescription() {
    let call = call(COARSE, &session("2026-03-02", 10.0, [12, 12, 12], 2));
    assert_eq!(call.prescription.sets[0].tempo.lowering.seconds(), 4.0);
}

#[rstest]
#[case::once(&["2026-03-02"], CallKind::Swap)]
#[case::twice_in_two_weeks(&["2026-03-02", "2026-03-09"], CallKind::Refer)]
#[case::twice_but_long_ago(&["2026-02-02", "2026-03-09"], CallKind::Swap)]
fn pain_stops(#[case] dates: &[&str], #[case] expected: CallKind) {
    let history: Vec<LoggedSet> = dates
        .iter()
        .flat_map(|date| session(date, 10.0, [12, 12, 12], 2))
        .map(|set| LoggedSet { pain: Some(5), ..set })
        .collect();
    assert_eq!(call(FINE, &history).call, expected);
}

#[rstest]
#[case::range_short_once(1, Observation::RangeShort, CallKind::Hold)]
#[case::range_short_twice(2, Observation::RangeShort, CallKind::Ease)]
#[case::swinging_twice(2, Observation::Swinging, CallKind::Ease)]
#[case::anchor_moved(1, Observation::AnchorMoved, CallKind::Hold)]
#[case::rings_shook_is_normal(2, Observation::RingsShook, CallKind::AddLoad)]
fn what_was_seen_decides(#[case] sets: usize, #[case] seen: Observation, #[case] expected: CallKind) {
    let mut history = session("2026-03-02", 10.0, [12, 12, 12], 2);
    for set in &mut history[..sets] {
        set.seen.push(seen);
    }
    assert_eq!(call(FINE, &history).call, expected);
}

#[test]
fn three_sessions_without_progress_call_for_a_deload() {
    let history: Vec<_> =
        ["2026-03-02", "2026-03-05", "2026-03-09"].iter().flat_map(|d| session(d, 10.0, [9, 9, 8], 0)).collect();
    let call = call(FINE, &history);
    assert_eq!(call.call, CallKind::Deload);
    assert_eq!(call.prescription.sets.len(), 2);
}

#[test]
fn an_empty_log_holds_and_the_future_is_not_read() {
    assert_eq!(call(FINE, &[]).call, CallKind::Hold);
    let call = call(FINE, &session("2026-04-10", 10.0, [12, 12, 12], 2));
    assert_eq!((call.call, call.exercise), (CallKind::Hold, None));
}

#[test]
fn a_maximum_is_told_from_short_sets_only() {
    let short = call(FINE, &session("2026-03-02", 10.0, [8, 8, 8], 2)).e1rm.unwrap();
    assert!(short.low_kg < short.kg && short.kg < short.high_kg && short.kg.value() > 10.0);
    assert_eq!(call(FINE, &session("2026-03-02", 10.0, [18, 18, 18], 2)).e1rm, None);
}

#[test]
fn every_call_offers_other_ways() {
    let call = call(FINE, &session("2026-03-02", 10.0, [12, 12, 12], 2));
    let others: Vec<_> = call.alternatives.iter().map(|a| a.call).collect();
    assert_eq!(others, [CallKind::Hold, CallKind::Ease, CallKind::Swap]);
}

#[test]
fn a_heavier_step_ends_the_bridge_that_led_to_it() {
    let intent = intent(CURL);
    let mut prescription = intent.dose.prescription();
    for set in &mut prescription.sets {
        (set.reps, set.tempo) = (Some([12, 19]), "4-0-1-0".parse().unwrap());
    }
    let history = session("2026-03-02", 8.0, [19, 19, 19], 2);
    let question = NextQuestion {
        person: &person(),
        kit: &kit(COARSE),
        intent: &intent,
        prescription: &prescription,
        history: &history,
        today: day("2026-03-12"),
        limits_since: None,
        planned: None,
        put_aside: &[],
        method: None,
        missed: &[],
    };
    let call = next(&CATALOGUE, &question);
    assert_eq!(call.call, CallKind::AddLoad, "{:?}", call.told());
    let set = &call.prescription.sets[0];
    assert_eq!((set.reps, set.tempo.to_string()), (Some([8, 12]), "2-0-1-0".to_owned()));
    assert_eq!(set.load.unwrap().value, 10.0);
}
