//! Calls that protect: time away, limits and pain are read before anything else.

use crate::common::asked::{Asked, CATALOGUE, CURL, FLY, PRESS, RACK, curls, kg, session};
use crate::common::{day, dumbbell_set, kit, person};
use bavrek_core::anatomy::{Joint, Region};
use bavrek_core::fit::{Bearing, Likely};
use bavrek_core::kit::{KitItem, full_room};
use bavrek_core::ladder::Ladder;
use bavrek_core::log::{LoggedSet, Observation};
use bavrek_core::movement::{Movement, Style};
use bavrek_core::person::{Experience, Limit, LimitKind, Person, Severity, Side};
use bavrek_core::plan::Intent;
use bavrek_core::progress::{Call, CallKind, NextQuestion, next};
use bavrek_core::units::Kilograms;
use chrono::{Days, NaiveDate};
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

// Over all movements.

/// What is called for a movement on a day after a log, in a room that holds everything, for a line that is for what it does.
fn called(movement: &Movement, person: &Person, history: &[LoggedSet], today: NaiveDate) -> Call {
    called_in(&full_room(), movement, person, history, today)
}

/// The same in a room.
fn called_in(room: &[KitItem], movement: &Movement, person: &Person, history: &[LoggedSet], today: NaiveDate) -> Call {
    called_after(&[], room, movement, person, history, today)
}

/// The same where workouts were missed on some days.
fn called_after(
    missed: &[NaiveDate],
    room: &[KitItem],
    movement: &Movement,
    person: &Person,
    history: &[LoggedSet],
    today: NaiveDate,
) -> Call {
    let regions = movement.direct.keys().map(|region| (*region, 1.0)).collect();
    let wanted = Intent::of(movement.pattern, regions);
    let question = NextQuestion {
        person,
        kit: room,
        intent: &wanted,
        prescription: &wanted.dose.prescription(),
        history,
        today,
        limits_since: None,
        planned: Some(&movement.id),
        put_aside: &[],
        method: None,
        missed,
    };
    next(&CATALOGUE, &question)
}

/// All movements but those that load their target nowhere: a lesson, not a line.
fn doable() -> Vec<&'static Movement> {
    let (who, room) = (person(), full_room());
    let all = CATALOGUE.movements.iter().map(AsRef::as_ref);
    let all: Vec<&Movement> = all.filter(|m| !Ladder::of(m, &who, &room).steps.is_empty()).collect();
    assert!(all.len() >= CATALOGUE.movements.len() - 3, "{} of {}", all.len(), CATALOGUE.movements.len());
    all
}

const DONE: &str = "2026-03-02";

/// Three good sets as somebody writes them down who leaves out the load.
fn without_load(movement: &Movement) -> Vec<LoggedSet> {
    let set = LoggedSet { load: None, ..dumbbell_set(&movement.id, DONE, 10.0, 15, 2) };
    let set = match movement.style {
        Style::Hold => LoggedSet { reps: None, rir: None, seconds: Some(90), ..set },
        Style::Reps | Style::LoweringOnly => set,
    };
    vec![set; 3]
}

#[rstest]
#[case::fifteen_days(15)]
#[case::a_month(30)]
#[case::two_months(60)]
fn nothing_rises_after_time_away_whatever_was_written_down(#[case] days: u64) {
    for movement in doable() {
        let call = called(movement, &person(), &without_load(movement), day(DONE) + Days::new(days));
        assert!(!call.call.rises(), "{}: {:?} {:?}", movement.id, call.call, call.told());
        assert!(call.told()[0].contains(&format!("{days} days since")), "{}: {:?}", movement.id, call.told());
        assert!(call.alternatives.iter().all(|a| !a.call.rises()), "{}: {:?}", movement.id, call.alternatives);
    }
}

/// After two workouts in a row that were missed nothing is added, whatever the movement and however good the last sets; one alone, and
/// days before the last sets or today's, which may still be done, change nothing.
#[rstest]
#[case::none(&[], true)]
#[case::one(&["2026-03-04"], true)]
#[case::one_told_twice(&["2026-03-04", "2026-03-04"], true)]
#[case::before_the_last_sets_or_on_their_day(&["2026-02-26", "2026-02-28", DONE], true)]
#[case::one_and_today(&["2026-03-04", "2026-03-09"], true)]
#[case::two(&["2026-03-04", "2026-03-06"], false)]
fn nothing_is_added_after_missed_workouts(#[case] missed: &[&str], #[case] may_rise: bool) {
    let (who, room) = (person(), full_room());
    let missed: Vec<NaiveDate> = missed.iter().map(|d| day(d)).collect();
    let mut rose = 0;
    for movement in doable() {
        let steps = Ladder::of(movement, &who, &room).steps;
        let Some(step) = steps.iter().filter(|s| s.load.is_some()).nth(2) else { continue };
        let sets = vec![LoggedSet { load: step.load, ..dumbbell_set(&movement.id, DONE, 10.0, 12, 3) }; 3];
        let asked = |missed: &[NaiveDate]| called_after(missed, &room, movement, &who, &sets, day("2026-03-09"));
        let (call, without) = (asked(&missed), asked(&[]));
        if may_rise {
            assert_eq!(call.call, without.call, "{}: {:?}", movement.id, call.told());
        } else if without.call.rises() && call.call.rises() {
            // What was far too light is put right all the same.
            assert!(call.told()[0].contains("far"), "{}: {:?}", movement.id, call.told());
        } else if without.call.rises() {
            assert!(call.told().iter().any(|r| r.contains("missed")), "{}: {:?}", movement.id, call.told());
        }
        rose += usize::from(without.call.rises() && call.call.rises() == may_rise);
    }
    assert!(rose > 30, "{rose}");
}

/// Of sets whose load nobody wrote down it is not said that nothing heavier or lighter is there, and no step follows.
#[test]
fn a_step_that_was_not_logged_has_none_above_it() {
    let mut unknown = 0;
    for movement in doable() {
        let call = called(movement, &person(), &without_load(movement), day(DONE) + Days::new(3));
        let told = call.told();
        if told.iter().any(|reason| reason.contains("was not logged")) {
            unknown += 1;
            assert_eq!(call.call, CallKind::Hold, "{}: {told:?}", movement.id);
            let said = told.iter().any(|reason| reason.contains("hardest step") || reason.contains("no lighter"));
            assert!(!said, "{}: {told:?}", movement.id);
        } else {
            assert!(
                call.step.is_some() || call.exercise.as_deref() != Some(&*movement.id),
                "{}: {told:?}",
                movement.id
            );
        }
    }
    assert!(unknown > 80, "{unknown}");
}

/// Too few repetitions of a load nobody wrote down: once they are tried again; twice, less is asked, for every movement.
#[test]
fn twice_too_few_of_an_unknown_load_asks_for_less() {
    let mut eased = 0;
    for movement in doable() {
        let few = |date: &str| {
            let one = LoggedSet { reps: Some(5), rir: Some(1), ..LoggedSet::of(&movement.id, day(date)) };
            vec![one; 3]
        };
        let told_unknown = |call: &Call| call.told().iter().any(|reason| reason.contains("was not logged"));
        let once = called(movement, &person(), &few("2026-03-02"), day("2026-03-06"));
        let twice = called(movement, &person(), &[few("2026-02-27"), few("2026-03-02")].concat(), day("2026-03-06"));
        if !told_unknown(&once) {
            continue;
        }
        assert_eq!(once.call, CallKind::Hold, "{}: {:?}", movement.id, once.told());
        assert!(told_unknown(&twice), "{}: {:?}", movement.id, twice.told());
        assert_eq!(twice.call, CallKind::Ease, "{}: {:?}", movement.id, twice.told());
        let sets = |call: &Call| call.prescription.sets.len();
        assert_eq!(sets(&twice) + 1, sets(&once), "{}", movement.id);
        for (less, before) in twice.prescription.sets.iter().zip(&once.prescription.sets) {
            assert_eq!(less.reps.map(|zone| zone[1]), before.reps.map(|zone| zone[0]), "{}", movement.id);
            assert_eq!(less.rir, before.rir.map(|rir| rir + 1), "{}", movement.id);
        }
        eased += 1;
    }
    assert!(eased > 80, "{eased}");
}

/// Joint pain stops a movement that a limit would have eased, and on a second day sends to a doctor, whatever the limit. The same again
/// is not even offered then, nor more.
#[test]
fn pain_comes_before_what_a_limit_asks() {
    let offers_it_again = |call: &Call| call.alternatives.iter().any(|a| a.call == CallKind::Hold || a.call.rises());
    let mut eased = 0;
    for movement in doable() {
        for joint in Joint::ALL {
            let sore = limited(*joint, LimitKind::PainLoaded, Severity::Moderate);
            let mut log = without_load(movement);
            (log[2].pain, log[2].pain_at) = (Some(5), Some(*joint));
            let bears = bavrek_core::fit::bearing(movement, &sore.limits[0]);
            if matches!(bears, Bearing::Eases(_)) {
                eased += 1;
                let call = called(movement, &sore, &log, day(DONE) + Days::new(3));
                assert_eq!(call.call, CallKind::Swap, "{} {joint}: {:?}", movement.id, call.told());
                assert!(!offers_it_again(&call), "{} {joint}: {:?}", movement.id, call.alternatives);
            }
            if movement.loads_joint(*joint) {
                let before = log.clone().into_iter().map(|set| LoggedSet { date: day("2026-02-27"), ..set });
                let twice: Vec<LoggedSet> = before.chain(log).collect();
                let call = called(movement, &sore, &twice, day(DONE) + Days::new(3));
                assert_eq!(call.call, CallKind::Refer, "{} {joint}: {:?}", movement.id, call.told());
                assert!(!offers_it_again(&call), "{} {joint}: {:?}", movement.id, call.alternatives);
            }
        }
    }
    assert!(eased > 100, "{eased}");
}

/// Who is hurt is sent to nothing that is too heavy: what is named can be done for more than half of the fewest repetitions.
#[rstest]
#[case::shoulder(Joint::Shoulder)]
#[case::elbow(Joint::Elbow)]
#[case::wrist(Joint::Wrist)]
fn nothing_too_heavy_is_named_after_pain(#[case] joint: Joint) {
    let room = kit(
        r#"[{"kind":"dumbbells","unit":"kg","pairs":[20,25]},{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.045,"thickness_m":0.0045},{"kind":"rings","max_height_m":2.4},{"kind":"pull_up_bar","height_m":2.3},{"kind":"dip_bars"}]"#,
    );
    let who = Person { body_mass_kg: Kilograms(58.0), experience: Experience::Novice, ..person() };
    let mut named = 0;
    for movement in doable() {
        let mut sets = without_load(movement);
        (sets[2].pain, sets[2].pain_at) = (Some(5), Some(joint));
        let call = called_in(&room, movement, &who, &sets, day(DONE) + Days::new(3));
        for other in call.alternatives.iter().filter_map(|a| a.other.as_ref()) {
            let held = CATALOGUE.movement(&other.exercise).unwrap().style == Style::Hold;
            let fine = match other.likely {
                Some(Likely::About(reps)) => reps >= 4.0,
                Some(Likely::TooLight) => true,
                Some(Likely::NearlyNone) => false,
                None => held,
            };
            assert!(fine, "{}: {} {:?}", movement.id, other.exercise, other.likely);
            named += 1;
        }
    }
    assert!(named > 100, "{named}");
}

/// Felt in the muscle that it is for, a movement fits.
#[rstest]
#[case::triceps(Observation::FeltInTriceps, &[Region::TricepsLong, Region::TricepsLateral, Region::TricepsMedial])]
#[case::front_shoulder(Observation::FeltInFrontShoulder, &[Region::DeltFront])]
fn felt_where_it_is_meant_is_no_reason_to_leave(#[case] sign: Observation, #[case] meant: &[Region]) {
    let (mut fitting, mut others) = (0, 0);
    for movement in doable() {
        let plain = without_load(movement);
        let mut felt = plain.clone();
        felt[0].seen.push(sign);
        let [plain, felt] = [plain, felt].map(|log| called(movement, &person(), &log, day(DONE) + Days::new(3)));
        if movement.direct.keys().any(|region| meant.contains(region)) {
            fitting += 1;
            assert_eq!(felt, plain, "{}", movement.id);
        } else {
            others += 1;
            assert_ne!(felt.reasons, plain.reasons, "{}", movement.id);
        }
    }
    assert!(fitting > 10 && others > 100, "{fitting} {others}");
}
