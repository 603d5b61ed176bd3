//! Days that count: how far back pain, limits, time away and swaps of a day reach, each to the day.

use crate::common::asked::{Asked, CATALOGUE, CURL, curls, kg, session, set_on, the_day_after};
use crate::common::{intent, kit, person};
use bavrek_core::dose::Dose;
use bavrek_core::ladder::Ladder;
use bavrek_core::log::{LoggedSet, Observation};
use bavrek_core::movement::Style;
use bavrek_core::person::{Limit, Person, Side};
use bavrek_core::plan::Intent;
use bavrek_core::progress::{Call, CallKind, next};
use rstest::rstest;

use CallKind::{AddLoad, AddReps, Ease, Hold, Refer};

fn says(call: &Call, words: &str) -> bool {
    call.told().iter().any(|reason| reason.contains(words))
}

/// A set of another movement of the same work that hurt.
fn hurt(date: &str, of_ten: u8) -> LoggedSet {
    LoggedSet { pain: Some(of_ten), ..session("hammer_curl", date, 8.0, &[10], 2).remove(0) }
}

/// Pain of four and more holds what comes next for two weeks: back from today, or from the last day of the movement where that is longer.
#[rstest]
#[case::two_weeks_before_the_last_day("2026-03-18", &[("2026-03-04", 4)], Hold)]
#[case::a_day_more("2026-03-18", &[("2026-03-03", 4)], AddLoad)]
#[case::less_pain("2026-03-18", &[("2026-03-17", 3)], AddLoad)]
#[case::after_the_last_day("2026-03-18", &[("2026-03-19", 6)], Hold)]
#[case::today("2026-03-18", &[("2026-03-20", 6)], Hold)]
#[case::not_yet("2026-03-18", &[("2026-03-21", 6)], AddLoad)]
#[case::two_weeks_before_a_day_long_ago("2026-03-08", &[("2026-02-22", 5)], Hold)]
#[case::a_day_more_than_these("2026-03-08", &[("2026-02-21", 5)], AddLoad)]
#[case::on_two_days("2026-03-18", &[("2026-03-10", 4), ("2026-03-14", 4)], Refer)]
#[case::on_two_days_one_of_them_too_long_ago("2026-03-18", &[("2026-03-02", 4), ("2026-03-14", 4)], Hold)]
#[case::twice_on_one_day("2026-03-18", &[("2026-03-14", 4), ("2026-03-14", 5)], Hold)]
fn pain_counts_for_two_weeks(#[case] last: &str, #[case] pains: &[(&str, u8)], #[case] expected: CallKind) {
    let mut history = curls(last, 10.0, &[12, 12, 12], 2);
    history.extend(pains.iter().map(|(date, of_ten)| hurt(date, *of_ten)));
    let asked = Asked { today: "2026-03-20", planned: Some("dumbbell_curl"), ..Asked::of(CURL, history) };
    let call = asked.call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    if expected == Hold {
        assert!(says(&call, "Dumbbell curl, neutral grip"), "{:?}", call.told());
        assert!(call.alternatives.iter().all(|a| !a.call.rises()), "{:?}", call.alternatives);
    }
}

fn sore_elbow() -> Person {
    let limit: Limit =
        serde_json::from_str(r#"{"joint":"elbow","what":"pain_loaded","side":"both","severity":"moderate"}"#).unwrap();
    Person { limits: vec![limit], ..person() }
}

/// What a limit asks to go easy on is eased once: it was, where it was trained since that day, or is lighter than the best of six weeks.
#[rstest]
#[case::trained_on_that_day(Some("2026-03-02"), &[("2026-03-02", 10.0)], false)]
#[case::trained_before(Some("2026-03-03"), &[("2026-03-02", 10.0)], true)]
#[case::no_day_known(None, &[("2026-03-02", 10.0)], true)]
#[case::lighter_than_six_weeks_ago(None, &[("2026-01-19", 12.0), ("2026-03-02", 10.0)], false)]
#[case::lighter_than_longer_ago(None, &[("2026-01-18", 12.0), ("2026-03-02", 10.0)], true)]
#[case::hardly_lighter(None, &[("2026-02-20", 10.2), ("2026-03-02", 10.0)], true)]
#[case::heavier(None, &[("2026-02-20", 9.0), ("2026-03-02", 10.0)], true)]
fn a_limit_eases_once(#[case] since: Option<&'static str>, #[case] days: &[(&str, f64)], #[case] eases: bool) {
    let history: Vec<LoggedSet> = days.iter().flat_map(|(date, kg)| curls(date, *kg, &[10, 10, 10], 2)).collect();
    let asked =
        Asked { person: sore_elbow(), limits_since: since, planned: Some("dumbbell_curl"), ..Asked::of(CURL, history) };
    let call = asked.call();
    assert_eq!(call.call == Ease, eases, "{:?}", call.told());
    assert_eq!(kg(&call), if eases { 9.0 } else { 10.0 }, "{:?}", call.told());
}

/// To the day: what is said of the time away goes with what is called.
#[rstest]
#[case::fourteen("2026-03-16", AddLoad, None)]
#[case::fifteen("2026-03-17", Hold, Some("15 days"))]
#[case::twenty_one("2026-03-23", Hold, Some("21 days"))]
#[case::twenty_two("2026-03-24", Ease, Some("22 days"))]
fn away_to_the_day(#[case] today: &'static str, #[case] expected: CallKind, #[case] says_days: Option<&str>) {
    let call = Asked { today, ..Asked::of(CURL, curls("2026-03-02", 10.0, &[12, 12, 12], 2)) }.call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    if let Some(words) = says_days {
        let told = &call.told()[0];
        assert!(told.contains(words), "{told}");
        assert_eq!(told.contains("the same step"), expected == Hold, "{told}");
    }
}

/// What a line is called for is what it was done with last: of days up to today, in a movement that the catalogue holds.
#[rstest]
#[case::what_is_logged_for_tomorrow("dumbbell_curl", "2026-03-07")]
#[case::what_nobody_knows("nobody_knows", "2026-03-05")]
fn what_does_not_count(#[case] id: &str, #[case] date: &str) {
    let mut history = curls("2026-03-02", 10.0, &[12, 12, 12], 2);
    history.extend(session(id, date, 20.0, &[5, 5, 5], 0));
    let call = Asked::of(CURL, history).call();
    let expected = (Some("dumbbell_curl"), AddLoad, 11.0);
    assert_eq!((call.exercise.as_deref(), call.call, kg(&call)), expected, "{:?}", call.told());
}

#[test]
fn what_was_logged_today_counts() {
    let call = Asked::of(CURL, curls("2026-03-06", 10.0, &[12, 12, 12], 2)).call();
    assert_eq!((call.call, kg(&call)), (AddLoad, 11.0), "{:?}", call.told());
}

/// The working load is the one most sets were done on; of two as common, the heavier; what differs by less than a step is one.
#[rstest]
#[case::most(&[10.0, 10.0, 12.0], 10.0)]
#[case::as_common(&[10.0, 12.0, 10.0, 12.0], 12.0)]
#[case::a_lighter_last_set(&[12.0, 12.0, 8.0], 12.0)]
#[case::all_differ(&[8.0, 10.0, 12.0], 12.0)]
fn the_working_load(#[case] loads: &[f64], #[case] expected: f64) {
    // Inside the zone on each: the same load is called again, with more repetitions.
    let history = loads.iter().flat_map(|kg| curls("2026-03-02", *kg, &[10], 2)).collect();
    let call = Asked::of(CURL, history).call();
    assert_eq!((call.call, kg(&call)), (AddReps, expected), "{:?}", call.told());
}

/// Sides that differ by fifteen in a hundred of the better one are told, by the average of their sets.
#[rstest]
#[case::alike(&[10], &[10, 10], None)]
#[case::just_less(&[10], &[12], None)]
#[case::just_as_much(&[15], &[18], Some("left"))]
#[case::more(&[12], &[9], Some("right"))]
#[case::on_average(&[12, 8], &[10, 10], None)]
#[case::in_one_of_two(&[8, 8], &[12, 8], Some("left"))]
fn sides_that_differ(#[case] left: &[u16], #[case] right: &[u16], #[case] weaker: Option<&str>) {
    let of = |reps: &[u16], side| -> Vec<LoggedSet> {
        let sets = session("dumbbell_row", "2026-03-02", 20.0, reps, 2);
        sets.into_iter().map(|set| LoggedSet { side: Some(side), ..set }).collect()
    };
    let history = [of(left, Side::Left), of(right, Side::Right)].concat();
    let row = r#"{"pattern":"close_row","regions":{"lats":1.0},"reps":[8,18],"rir":2,"sets":3}"#;
    let call = Asked::of(row, history).call();
    let told = call.told().into_iter().find(|reason| reason.contains("side") && !reason.contains("inside"));
    assert_eq!(told.is_some(), weaker.is_some(), "{:?}", call.told());
    assert!(weaker.is_none_or(|side| told.as_ref().unwrap().contains(side)), "{told:?}");
}

/// What broke the form is told as it was seen, and nothing else.
#[rstest]
#[case::swinging(Observation::Swinging)]
#[case::range(Observation::RangeShort)]
#[case::elbow(Observation::ElbowDrift)]
#[case::shoulder(Observation::ShoulderRolled)]
fn signs_are_told_as_seen(#[case] seen: Observation) {
    let signs = [Observation::Swinging, Observation::RangeShort, Observation::ElbowDrift, Observation::ShoulderRolled];
    let told_of = |sign: Observation| {
        let mut history = curls("2026-03-02", 10.0, &[10, 10, 10], 2);
        history[0].seen = vec![sign];
        Asked::of(CURL, history).call().told()
    };
    let told = told_of(seen);
    for other in signs.into_iter().filter(|sign| *sign != seen) {
        assert_ne!(told, told_of(other), "{seen:?} and {other:?} are told alike");
    }
    assert_eq!(Asked::of(CURL, curls("2026-03-02", 10.0, &[10, 10, 10], 2)).call().call, AddReps);
}

/// Slower than the line asks counts for more: from it a step up lands that the same repetitions at the usual tempo do not reach.
#[rstest]
#[case::as_asked("2-0-1-0", AddReps)]
#[case::slower("5-0-1-0", AddLoad)]
fn slow_repetitions_count_for_more(#[case] tempo: &str, #[case] expected: CallKind) {
    let wanted = intent(CURL);
    let mut given = wanted.dose.prescription();
    given.sets.iter_mut().for_each(|set| set.tempo = tempo.parse().unwrap());
    let mut history = curls("2026-03-02", 10.0, &[13, 13, 13], 2);
    for set in &mut history {
        set.tempo = Some(tempo.parse().unwrap());
    }
    let room = r#"[{"kind":"dumbbells","unit":"kg","pairs":[10,12]}]"#.to_owned();
    let call = Asked { room, prescription: Some(given), ..Asked::of(CURL, history) }.call();
    assert_eq!(call.call, expected, "{:?}", call.told());
    if expected == AddLoad {
        assert!(call.prescription.sets.iter().all(|set| set.tempo == wanted.dose.prescription().sets[0].tempo));
    }
}

/// On the only pair, twice far too few: an easier movement, or as many as were done and three more to grow by; over all movements that
/// are done with it.
#[test]
fn repetitions_come_down_to_what_was_done() {
    let (who, room) = (person(), kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[10]}]"#));
    let (mut easier, mut fewer) = (0, 0);
    for movement in CATALOGUE.movements.iter().filter(|m| m.is_weighed() && m.style == Style::Reps) {
        let Some(step) = Ladder::of(movement, &who, &room).steps.pop() else { continue };
        let regions = movement.direct.keys().map(|region| (*region, 1.0)).collect();
        let dose = Dose { reps: [12, 16], ..Dose::USUAL };
        let job = Intent { dose, ..Intent::of(movement.pattern, regions) };
        let day = |date| LoggedSet { reps: Some(7), rir: Some(1), ..set_on(&movement.id, date, &step) };
        let history = [day("2026-02-27"), day("2026-03-02")];
        let dose = job.dose.prescription();
        let call = next(&CATALOGUE, &the_day_after(&movement.id, (&who, &room), (&job, &dose), &history));
        assert_eq!(call.call, Ease, "{}: {:?}", movement.id, call.told());
        if call.exercise.as_deref() != Some(&*movement.id) {
            easier += 1;
            continue;
        }
        assert!(call.prescription.sets.iter().all(|set| set.reps == Some([7, 10])), "{}: {:?}", movement.id, call);
        assert!(says(&call, "7"), "{:?}", call.told());
        fewer += 1;
    }
    assert!(easier > 0 && fewer > 10, "{easier} {fewer}");
}

/// A maximum is told from sets that are short enough to show one.
#[rstest]
#[case::short(&[10, 10, 10], 2, true)]
#[case::too_long(&[12, 12, 12], 2, false)]
#[case::one_short_enough(&[14, 12, 10], 2, true)]
fn a_maximum_needs_a_short_set(#[case] reps: &[u16], #[case] rir: u8, #[case] told: bool) {
    let call = Asked::of(CURL, curls("2026-03-02", 10.0, reps, rir)).call();
    assert_eq!(call.e1rm.is_some(), told);
    if let Some(maximum) = call.e1rm {
        // From twelve to one the relation itself is uncertain: the ends are never nearer than that.
        let [low, top, high] = [maximum.low_kg, maximum.kg, maximum.high_kg].map(bavrek_core::units::Kilograms::value);
        assert!(low < 0.87 * top && high > 1.15 * top, "{low} {top} {high}");
        let whole = bavrek_core::reps::share_of_maximum(12.0);
        assert!((top * whole / 10.0 - 1.0).abs() < 0.12, "{top}");
    }
}

/// A set without repetitions shows no maximum.
#[test]
fn a_hold_shows_no_maximum() {
    let held = LoggedSet { reps: None, rir: None, seconds: Some(30), ..curls("2026-03-02", 10.0, &[1], 2).remove(0) };
    assert_eq!(Asked::of(CURL, vec![held; 3]).call().e1rm, None);
}
