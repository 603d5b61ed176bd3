//! Calls as a coach would sign them, from what the repetitions say; and every reason is true.

use crate::common::asked::{Asked, CATALOGUE, CURL, PRESS, curls, kg, session};
use crate::common::{day, dumbbell_set, intent, person};
use bavrek_core::dose::notation::{Usual, read};
use bavrek_core::dose::{SetKind, Tempo};
use bavrek_core::log::LoggedSet;
use bavrek_core::person::Person;
use bavrek_core::progress::CallKind;
use rstest::rstest;

// Far from the zone.

#[rstest]
#[case::half_with_nothing_left(&[4, 4, 3], 0, CallKind::Ease)]
#[case::half_with_two_left(&[4, 4, 4], 2, CallKind::Hold)]
#[case::just_below(&[7, 7, 6], 0, CallKind::Hold)]
#[case::inside(&[10, 10, 10], 2, CallKind::AddReps)]
#[case::five_left_everywhere(&[12, 12, 12], 5, CallKind::AddLoad)]
#[case::five_left_inside(&[10, 10, 10], 5, CallKind::AddLoad)]
#[case::far_over_the_top(&[18, 18, 18], 2, CallKind::AddLoad)]
fn far_from_the_zone_is_answered_at_once(#[case] reps: &[u16], #[case] rir: u8, #[case] expected: CallKind) {
    let call = Asked::of(CURL, curls("2026-03-02", 10.0, reps, rir)).call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    if expected == CallKind::Ease {
        assert!(kg(&call) <= 8.0, "by the estimate, not by one step: {}", kg(&call));
    }
    if reps[0] == 18 {
        assert!(kg(&call) >= 11.0, "by the estimate: {}", kg(&call));
    }
}

/// A step up is taken when, with one less in reserve, one below the bottom is still expected.
#[rstest]
#[case::twenty_to_twenty_two(20.0, 22.0, 12, CallKind::AddLoad)]
#[case::twenty_four_to_twenty_six(24.0, 26.0, 12, CallKind::AddLoad)]
#[case::ten_to_twelve_from_twelve(10.0, 12.0, 12, CallKind::AddReps)]
#[case::ten_to_twelve_from_fifteen(10.0, 12.0, 15, CallKind::AddLoad)]
#[case::eight_to_ten(8.0, 10.0, 12, CallKind::AddReps)]
fn a_step_is_taken_by_where_it_lands(
    #[case] from: f64,
    #[case] to: f64,
    #[case] reps: u16,
    #[case] expected: CallKind,
) {
    let room =
        format!(r#"[{{"kind":"dumbbells","unit":"kg","pairs":[{from},{to}]}},{{"kind":"bench","angles_deg":[0]}}]"#);
    let history = session("dumbbell_bench_press", "2026-03-02", from, &[reps; 3], 2);
    let call = Asked { room, ..Asked::of(PRESS, history) }.call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    if expected == CallKind::AddReps {
        let zone = call.prescription.sets[0].reps.unwrap();
        // As counted: with the reserve kept, so at most 25 to failure.
        assert!(zone[1] > 12 && zone[1] <= 23, "{zone:?}");
        assert!(call.told().iter().any(|r| r.contains(&format!("first {} reps", zone[1]))), "{:?}", call.told());
    }
}

// Stalls.

fn six(reps: u16, rir: u8, kg: f64) -> Vec<LoggedSet> {
    let dates = ["2026-02-14", "2026-02-17", "2026-02-20", "2026-02-24", "2026-02-27", "2026-03-02"];
    dates.iter().flat_map(|d| curls(d, kg, &[reps; 3], rir)).collect()
}

#[test]
fn six_sessions_without_change_slow_the_lowering_first() {
    let call = Asked::of(CURL, six(10, 2, 10.0)).call();
    assert_eq!(call.call, CallKind::AddTempo, "{:?}", call.told());
    assert!(call.told()[0].starts_with("6 sessions"), "{:?}", call.told());
}

#[test]
fn then_another_step_is_tried() {
    let wanted = intent(CURL);
    let mut slow = wanted.dose.prescription();
    slow.sets.iter_mut().for_each(|s| s.tempo = "4-0-1-0".parse().unwrap());
    let call = Asked { prescription: Some(slow), ..Asked::of(CURL, six(10, 2, 10.0)) }.call();
    assert_eq!((call.call, kg(&call)), (CallKind::Ease, 9.0), "{:?}", call.told());
}

#[test]
fn progress_is_no_stall() {
    let mut history = six(10, 2, 10.0);
    history.iter_mut().enumerate().for_each(|(i, s)| s.reps = Some(8 + (i / 3) as u16 / 2));
    assert_eq!(Asked::of(CURL, history).call().call, CallKind::AddReps);
}

// What counts as the day's work.

/// The working load is the one that counts, not the last lighter set.
#[test]
fn a_lighter_last_set_is_not_the_working_load() {
    let mut history = curls("2026-03-02", 12.0, &[12, 12, 12], 2);
    history.extend(curls("2026-03-02", 6.0, &[20], 2));
    let call = Asked::of(CURL, history).call();
    assert_eq!((call.call, kg(&call)), (CallKind::AddLoad, 13.0), "{:?}", call.told());
}

/// Each set is held against its own zone.
#[test]
fn every_set_has_its_own_zone() {
    let wanted = intent(CURL);
    let mut falling = wanted.dose.prescription();
    for (set, zone) in falling.sets.iter_mut().zip([[8, 12], [6, 10], [5, 8]]) {
        set.reps = Some(zone);
    }
    let asked = |reps: &[u16]| Asked {
        prescription: Some(falling.clone()),
        ..Asked::of(CURL, curls("2026-03-02", 10.0, reps, 2))
    };
    assert_eq!(asked(&[12, 10, 8]).call().call, CallKind::AddLoad);
    assert_eq!(asked(&[12, 10, 7]).call().call, CallKind::AddReps);
}

/// What was swapped in for a day does not become what is called.
#[rstest]
#[case::told(Some("dumbbell_curl"))]
#[case::read_off_the_log(None)]
fn a_swap_of_a_day_is_not_called(#[case] planned: Option<&'static str>) {
    let mut history =
        [curls("2026-02-24", 10.0, &[11, 11, 10], 2), curls("2026-02-27", 10.0, &[12, 12, 12], 2)].concat();
    history.extend(session("hammer_curl", "2026-03-02", 12.0, &[10, 10], 2));
    let call = Asked { planned, ..Asked::of(CURL, history) }.call();
    assert_eq!(call.exercise.as_deref(), Some("dumbbell_curl"));
    assert_eq!((call.call, kg(&call)), (CallKind::AddLoad, 11.0), "{:?}", call.told());
}

/// What this place cannot carry is swapped, with the best three.
#[test]
fn a_movement_that_the_place_cannot_carry_is_swapped() {
    let room = r#"[{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},{"kind":"rings","max_height_m":2.2}]"#;
    let call = Asked { room: room.into(), ..Asked::of(CURL, curls("2026-03-02", 10.0, &[12, 12, 12], 2)) }.call();
    assert_eq!((call.call, &call.step), (CallKind::Swap, &None), "{:?}", call.told());
    let named: Vec<_> = call.alternatives.iter().filter_map(|a| a.exercise()).collect();
    assert_eq!(named.len(), 3, "{named:?}");
    assert!(call.told()[0].contains("a pair of dumbbells"), "{:?}", call.told());
}

// Harder and easier are worked out here and now.

fn push_ups(reps: u16, rir: u8) -> Vec<LoggedSet> {
    vec![LoggedSet { reps: Some(reps), rir: Some(rir), ..LoggedSet::of("push_up", day("2026-03-02")) }; 3]
}

#[test]
fn harder_is_what_this_room_allows_and_gives_fewer_repetitions() {
    let room = r#"[{"kind":"rings","max_height_m":2.2}]"#.to_owned();
    let call = Asked { room, ..Asked::of(PRESS, push_ups(16, 2)) }.call();
    assert_eq!(call.call, CallKind::HarderVariation, "{:?}", call.told());
    let id = call.exercise.as_deref().unwrap();
    let name = &CATALOGUE.movement(id).unwrap().name;
    assert!(id != "push_up" && call.told().iter().any(|r| r.contains(name.as_str())), "{id}: {:?}", call.told());
    assert!(call.step.is_some() && !call.prescription.sets.is_empty());
}

#[test]
fn experience_and_limits_are_read_for_what_is_harder() {
    let novice = Person { experience: bavrek_core::person::Experience::Novice, ..person() };
    let room = r#"[{"kind":"rings","max_height_m":2.2}]"#.to_owned();
    let call = Asked { room, person: novice, ..Asked::of(PRESS, push_ups(16, 2)) }.call();
    let harder = call.exercise.as_deref().and_then(|id| CATALOGUE.movement(id)).unwrap();
    assert!(harder.experience <= bavrek_core::person::Experience::Novice, "{}", harder.id);
}

#[test]
fn below_the_lightest_step_an_easier_movement_is_named() {
    let room = "[]".to_owned();
    let weak: Vec<LoggedSet> =
        vec![LoggedSet { reps: Some(2), rir: Some(0), ..LoggedSet::of("feet_raised_push_up", day("2026-03-02")) }; 3];
    let wide: Vec<LoggedSet> =
        weak.iter().map(|s| LoggedSet { exercise: "wide_push_up".into(), ..s.clone() }).collect();
    let call = Asked { room, ..Asked::of(PRESS, wide) }.call();
    assert_eq!(call.call, CallKind::Ease, "{:?}", call.told());
    assert!(call.exercise.as_deref() != Some("wide_push_up"), "{:?} {:?}", call.exercise, call.told());
}

// Reasons are true.

/// Numbers in a text, in their order.
fn numbers(text: &str) -> Vec<u16> {
    text.split(|c: char| !c.is_ascii_digit()).filter_map(|n| n.parse().ok()).collect()
}

/// Whatever a reason says of the sets is what was logged.
#[rstest]
#[case(&[12, 12, 12], &[3, 2, 1])]
#[case(&[12, 13, 12], &[2, 2, 2])]
#[case(&[10, 9, 8], &[2, 1, 1])]
#[case(&[7, 6, 6], &[1, 1, 0])]
#[case(&[15, 14, 13], &[2, 3, 3])]
fn reasons_tell_what_was_done(#[case] reps: &[u16], #[case] rirs: &[u8]) {
    let sets =
        reps.iter().zip(rirs).map(|(r, rir)| dumbbell_set("dumbbell_curl", "2026-03-02", 10.0, *r, *rir)).collect();
    let call = Asked::of(CURL, sets).call();
    let told = call.told().into_iter().find(|r| r.contains(" reps with ") || r.contains(" sets of ")).unwrap();
    let alike = reps.iter().all(|r| *r == reps[0]) && rirs.iter().all(|r| *r == rirs[0]);
    let expected: Vec<u16> = if alike {
        vec![reps.len() as u16, reps[0], u16::from(rirs[0])]
    } else {
        reps.iter().copied().chain(rirs.iter().map(|r| u16::from(*r))).collect()
    };
    assert!(numbers(&told).starts_with(&expected), "{told}");
}

// What is said.

/// Only sets that have room in their zone are asked for one more.
#[rstest]
#[case::all_below(&[10, 9, 9], "one more rep in each set, the same load")]
#[case::one_at_the_top(&[12, 11, 10], "one more rep in each set that was below 12, the same load")]
fn more_repetitions_are_asked_where_the_zone_has_room(#[case] reps: &[u16], #[case] said: &str) {
    let call = Asked::of(CURL, curls("2026-03-02", 10.0, reps, 2)).call();
    assert_eq!(call.call, CallKind::AddReps, "{:?}", call.told());
    assert!(call.told().iter().any(|r| r == said), "{:?}", call.told());
}

/// Nothing lighter in the room: an easier movement is named with a dose that trains.
#[rstest]
#[case("lying_side_raise")]
#[case("seated_side_raise")]
fn an_easier_movement_is_still_training(#[case] exercise: &str) {
    let wanted = r#"{"pattern":"side_raise","regions":{"delt_side":1.0},"reps":[12,16],"rir":2,"sets":2}"#;
    let room = r#"[{"kind":"dumbbells","unit":"kg","pairs":[2,4,6,8]},{"kind":"bench","angles_deg":[0,30,75]}]"#;
    let weak = |date| session(exercise, date, 2.0, &[6, 4], 2);
    let history = [weak("2026-02-27"), weak("2026-03-02")].concat();
    let call = Asked { room: room.into(), ..Asked::of(wanted, history) }.call();
    assert_eq!(call.call, CallKind::Ease, "{:?}", call.told());
    assert!(call.exercise.as_deref().is_some_and(|other| other != exercise), "{:?}", call.told());
    let promised: Vec<f64> =
        call.told().iter().filter_map(|r| r.split_once("about ")?.1.split(' ').next()?.parse().ok()).collect();
    assert_eq!(promised.len(), 1, "{:?}", call.told());
    assert!(promised.iter().all(|reps| (12.0..=30.0).contains(reps)), "{:?}", call.told());
}

// Sets that no zone of repetitions judges.

fn of_kind(kind: SetKind, reps: &[u16], seconds: Option<u16>) -> Vec<LoggedSet> {
    let one =
        |n: &u16| LoggedSet { kind: Some(kind), seconds, ..dumbbell_set("dumbbell_curl", "2026-03-02", 10.0, *n, 0) };
    reps.iter().map(one).collect()
}

#[rstest]
#[case::a_total_in_three_sets("50 in all", of_kind(SetKind::ToTotal, &[22, 16, 12], None), CallKind::Hold, "50 reps in 3 sets")]
#[case::a_total_in_one("50 in all", of_kind(SetKind::ToTotal, &[50], None), CallKind::AddLoad, "50 reps in 1 set")]
#[case::a_total_missed("50 in all", of_kind(SetKind::ToTotal, &[22, 10], None), CallKind::Hold, "32 of 50 reps in 2 sets")]
#[case::mixed("2 x mixed", of_kind(SetKind::Mixed, &[7, 7], Some(16)), CallKind::Hold, "judged by eye")]
#[case::a_station("2 x 30 s, as a station", of_kind(SetKind::Station, &[14, 12], Some(30)), CallKind::Hold, "26 reps in 2 sets against the clock")]
fn what_no_zone_judges_is_compared_by_what_it_is(
    #[case] line: &str,
    #[case] history: Vec<LoggedSet>,
    #[case] expected: CallKind,
    #[case] says: &str,
) {
    let dose = read(line).unwrap().filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 });
    let wanted = intent(CURL).dosed(dose);
    let call = Asked { intent: wanted, ..Asked::of(CURL, history) }.call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    assert!(call.told().iter().any(|r| r.contains(says)), "{:?}", call.told());
    assert_eq!(
        call.prescription.sets[0].kind,
        read(line).unwrap().filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 }).sets[0].kind
    );
}

/// A curl that is held is judged by its seconds, as a plank is.
#[rstest]
#[case::short(20, CallKind::Hold, "held for 20 s of 30")]
#[case::done(32, CallKind::AddReps, "35 s in each set")]
#[case::much_longer(48, CallKind::AddReps, "45 s in each set")]
fn a_hold_of_any_movement_is_judged_by_its_seconds(#[case] held: u16, #[case] expected: CallKind, #[case] says: &str) {
    let dose = read("2 x 30 s").unwrap().filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 });
    let one = LoggedSet {
        reps: None,
        rir: None,
        seconds: Some(held),
        ..dumbbell_set("dumbbell_curl", "2026-03-02", 10.0, 0, 0)
    };
    let call = Asked { intent: intent(CURL).dosed(dose), ..Asked::of(CURL, vec![one.clone(), one]) }.call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    assert!(call.told().iter().any(|r| r.contains(says)), "{:?}", call.told());
}

/// After a step up every set goes back to what the line asked of it, not to one zone for all.
#[test]
fn a_step_up_keeps_the_sets_of_a_written_line() {
    let dose = read("12-10-8").unwrap().filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 });
    let call =
        Asked { intent: intent(CURL).dosed(dose), ..Asked::of(CURL, curls("2026-03-02", 10.0, &[18, 16, 14], 3)) }
            .call();
    assert_eq!(call.call, CallKind::AddLoad, "{:?}", call.told());
    let asked: Vec<_> = call.prescription.sets.iter().map(|s| s.reps.unwrap()).collect();
    assert_eq!(asked, [[12, 12], [10, 10], [8, 8]]);
}

/// Below the zone twice on the lightest weight, with nothing easier in the room: less is asked, not the same again.
#[test]
fn easing_on_the_lightest_weight_asks_for_less() {
    let room = r#"[{"kind":"dumbbells","unit":"kg","pairs":[10,20]}]"#.to_owned();
    let history = ["2026-03-02", "2026-03-04"].into_iter().flat_map(|day| curls(day, 10.0, &[5, 4, 4], 2)).collect();
    let asked = Asked { room, ..Asked::of(CURL, history) };
    let call = asked.call();
    assert_eq!(call.call, CallKind::Ease, "{:?}", call.told());
    let before = asked.intent.dose.prescription();
    let lighter = call.step.as_ref().is_some_and(|s| s.effective_kg.value() < 10.0);
    let elsewhere = call.exercise.as_deref() != Some("dumbbell_curl");
    assert!(
        lighter || elsewhere || call.prescription != before,
        "{:?} {:?}",
        call.step.as_ref().map(|s| &s.label),
        call.told()
    );
}
