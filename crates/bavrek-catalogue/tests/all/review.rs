//! What a review says of a log, and what a refused call does to the next.

use std::sync::LazyLock;

use crate::common::asked::the_day_after;
use crate::common::{day, dumbbell_set, intent, kit, person};
use bavrek_catalogue::load;
use bavrek_core::aims::{Aim, Aims, RegionAim};
use bavrek_core::anatomy::{Joint, Region};
use bavrek_core::kit::KitItem;
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::Catalogue;
use bavrek_core::person::Side;
use bavrek_core::progress::{Call, CallKind, NextQuestion, Refused, next};
use bavrek_core::review::{
    Done, Fact, Line, PainfulDay, SideGap, Told, Verdict, left_out, lines, painful_days, side_gaps, story, weeks,
};
use bavrek_core::strength::Ledger;
use bavrek_core::wording::sentence;
use chrono::{Days, NaiveDate};
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

const START: &str = "2026-01-05";

/// Three sets a session, a session a week: movement, load by week, reserve.
fn weekly(exercise: &str, loads: &[f64], from_week: u64, rir: u8) -> Vec<LoggedSet> {
    let on = |week: usize| day(START) + Days::new(7 * (from_week + week as u64));
    let session = |(week, kg): (usize, &f64)| {
        let set = dumbbell_set(exercise, &on(week).to_string(), *kg, 10, rir);
        [set.clone(), set.clone(), set]
    };
    loads.iter().enumerate().flat_map(session).collect()
}

fn rising(from: f64, by: f64, weeks: u32) -> Vec<f64> {
    (0..weeks).map(|w| from + by * f64::from(w)).collect()
}

fn done<'a>(sets: &'a [LoggedSet], place: &'a str) -> Vec<Done<'a>> {
    sets.iter().map(|set| Done { set, place: Some(place) }).collect()
}

fn range() -> [NaiveDate; 2] {
    [day(START), day(START) + Days::new(300)]
}

fn of(sets: &[LoggedSet], places: &[&'static str]) -> Vec<Line<'static>> {
    let done: Vec<Done<'_>> = sets
        .iter()
        .enumerate()
        .map(|(i, set)| Done { set, place: places.get(i / 3).or(places.last()).copied() })
        .collect();
    let ledger = Ledger::replay(&CATALOGUE, &person(), sets, None);
    lines(&CATALOGUE, &ledger, &done, range())
}

#[test]
fn a_swap_is_marked_and_keeps_the_line() {
    let presses = weekly("dumbbell_bench_press", &rising(18.0, 0.5, 6), 0, 2);
    let floor = weekly("dumbbell_floor_press", &rising(19.5, 0.5, 5), 6, 2);
    let sets = [presses, floor].concat();
    let lines = of(&sets, &["flat", "flat", "flat", "flat", "flat", "flat", "cabin"]);
    let [press] = &lines[..] else { panic!("one pattern was trained: {}", lines.len()) };
    assert_eq!((press.pattern.id.as_str(), press.levels.len()), ("horizontal_press", 11));
    let [mark] = &press.marks[..] else { panic!("{:?}", press.marks) };
    assert_eq!((mark.to.id.as_str(), mark.place.as_deref()), ("dumbbell_floor_press", Some("cabin")));
    assert_eq!(mark.date, day(START) + Days::new(42));
    let [swap] = &press.swaps[..] else { panic!("{:?}", press.swaps) };
    assert_eq!((swap.from.id.as_str(), swap.to.id.as_str()), ("dumbbell_bench_press", "dumbbell_floor_press"));
    assert!(matches!(swap.verdict, Verdict::Kept | Verdict::Gained), "{swap:?}");
    let change = press.change.unwrap();
    // How the floor press compares to the bench press is a guess, and so is a part of the way between them.
    assert!(change.mean > 0.05 && change.sd < 0.09, "{change:?}");
    assert_eq!((press.still_weeks, press.too_light_days), (None, None));
}

/// Who comes back to a movement with less than before has lost something meanwhile, and it is said.
#[test]
fn a_swap_that_costs_strength_is_called_so() {
    let good = weekly("dumbbell_bench_press", &[20.0; 6], 0, 2);
    let bad = weekly("dumbbell_bench_press", &[16.5; 5], 10, 2);
    let between = weekly("dumbbell_floor_press", &[19.0; 4], 6, 2);
    let lines = of(&[good, between, bad].concat(), &["flat"]);
    let verdicts: Vec<Verdict> = lines[0].swaps.iter().map(|s| s.verdict).collect();
    assert!(verdicts.len() == 2 && verdicts.contains(&Verdict::Lost), "{verdicts:?}");
    let change = lines[0].change.unwrap();
    assert!((change.mean - (16.5f64 / 20.0).ln()).abs() < 0.06, "{change:?}");
    let facts = story(&Told { lines: &lines, held: &[], left_out: &[], pain: None });
    assert!(in_words(&facts)[0].starts_with("Weaker: horizontal press by "), "{facts:?}");
}

#[rstest]
#[case::the_same_for_eight_weeks(vec![20.0; 8], 2, true, false)]
#[case::growing(rising(16.0, 0.8, 8), 2, false, false)]
#[case::too_light_to_tell(vec![20.0; 8], 5, false, true)]
#[case::three_weeks_are_no_standstill(vec![20.0; 3], 2, false, false)]
fn standing_still_is_told_from_never_trying(
    #[case] loads: Vec<f64>,
    #[case] rir: u8,
    #[case] still: bool,
    #[case] light: bool,
) {
    let sets = weekly("dumbbell_bench_press", &loads, 0, rir);
    let line = of(&sets, &["flat"]).remove(0);
    assert_eq!((line.still_weeks.is_some(), line.too_light_days.is_some()), (still, light), "{line:?}");
    let told = story(&Told { lines: &[line], held: &[], left_out: &[], pain: None });
    assert_eq!(told.iter().any(|fact| matches!(fact, Fact::StandsStill(_))), still, "{told:?}");
    assert_eq!(told.iter().any(|fact| matches!(fact, Fact::TooLight(_))), light, "{told:?}");
}

fn in_words(facts: &[Fact]) -> Vec<String> {
    facts.iter().map(|fact| sentence(fact, |d| d.to_string())).collect()
}

/// What was given, what was left out, what hurt: each in its sentence, and only where there is something to say.
#[test]
fn the_story_names_what_is_there() {
    let nothing = Told { lines: &[], held: &[], left_out: &[], pain: None };
    assert_eq!(in_words(&story(&nothing)), ["Nothing was logged often enough here to see a change."]);
    let left_out = [(Region::DeltSide, Some(day("2026-02-02"))), (Region::Lats, None)];
    let told = Told {
        left_out: &left_out,
        pain: Some(PainfulDay { on: day("2026-02-10"), pain: 5, joint: Some(Joint::Elbow) }),
        ..nothing
    };
    let sentences = in_words(&story(&told));
    let nothing = "Nothing was logged often enough here to see a change.";
    let neglected = "Got nothing: side shoulder since the week of 2026-02-02 and lats.";
    assert_eq!(sentences, [nothing, neglected, "It hurt (elbow, 5 of 10), last 2026-02-10."]);
}

#[test]
fn weeks_count_sides_once_and_keep_the_empty_ones() {
    let effective_kg = Some(bavrek_core::units::Kilograms(20.0));
    let one =
        |side| LoggedSet { side: Some(side), effective_kg, ..dumbbell_set("dumbbell_row", "2026-01-06", 20.0, 10, 2) };
    let held = LoggedSet { seconds: Some(30), reps: None, ..dumbbell_set("dumbbell_row", "2026-01-20", 20.0, 0, 2) };
    let hurt = LoggedSet { pain: Some(5), ..one(Side::Left) };
    let sets = [one(Side::Left), one(Side::Right), hurt, held];
    let weeks = weeks(&CATALOGUE, &done(&sets, "flat"), [day("2026-01-05"), day("2026-01-25")], 0.5);
    let figures: Vec<_> = weeks.iter().map(|w| (w.monday.to_string(), w.sets, w.reps, w.moved_kg, w.pain)).collect();
    assert_eq!(
        figures,
        [
            ("2026-01-05".to_owned(), 1.5, 30, 600.0, Some(5)),
            ("2026-01-12".to_owned(), 0.0, 0, 0.0, None),
            ("2026-01-19".to_owned(), 1.0, 0, 0.0, None),
        ]
    );
    assert!((weeks[2].tension_s - 30.0).abs() < 1e-9);
}

#[rstest]
#[case::left_is_weaker(8, 12, Some(Side::Left))]
#[case::right_is_weaker(12, 8, Some(Side::Right))]
#[case::even(10, 10, None)]
fn a_side_that_lags_is_found(#[case] left: u16, #[case] right: u16, #[case] weaker: Option<Side>) {
    let set = |side, reps, i: u64| {
        let effective_kg = Some(bavrek_core::units::Kilograms(20.0));
        let on = (day(START) + Days::new(i * 3)).to_string();
        LoggedSet { side: Some(side), effective_kg, ..dumbbell_set("dumbbell_row", &on, 20.0, reps, 2) }
    };
    let sets: Vec<LoggedSet> = (0..5).flat_map(|i| [set(Side::Left, left, i), set(Side::Right, right, i)]).collect();
    let done = done(&sets, "flat");
    let gaps: Vec<SideGap<'_>> = side_gaps(&CATALOGUE, &done, range());
    assert_eq!((gaps.len(), gaps[0].days, gaps[0].weaker()), (1, 5, weaker));
    assert!(side_gaps(&CATALOGUE, &done[..4], range()).is_empty(), "two days are too few");
}

const RACK: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[6,8,10,12,14,16,18,20]}]"#;

/// The call after so many sessions at the top of the zone, where adding load was refused after the first.
fn after_refusal(sessions: u32, rest: impl Fn(&mut LoggedSet)) -> (Call, Call) {
    let mut history: Vec<LoggedSet> = (0..sessions)
        .flat_map(|s| {
            let on = day(START) + Days::new(u64::from(s) * 3);
            let set = dumbbell_set("dumbbell_curl", &on.to_string(), 14.0, 12, 2);
            [set.clone(), set.clone(), set]
        })
        .collect();
    rest(history.last_mut().unwrap());
    let wanted = intent(r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
    let (who, room): (_, Vec<KitItem>) = (person(), kit(RACK));
    let prescription = wanted.dose.prescription();
    let question = the_day_after("dumbbell_curl", (&who, &room), (&wanted, &prescription), &history);
    let plain = next(&CATALOGUE, &question);
    let refused = Refused { call: plain.call, step: plain.step.as_ref().map(|s| s.label.clone()), after: day(START) };
    (plain.clone(), plain.heeding(&question, &[refused]))
}

#[rstest]
#[case::at_once(1, CallKind::Hold, Some("add load was refused: proposed again after 2 more sessions"))]
#[case::after_one_more(2, CallKind::Hold, Some("add load was refused: proposed again after 1 more session"))]
#[case::after_two_more(3, CallKind::AddLoad, None)]
fn a_refused_rise_comes_back_after_two_sessions(
    #[case] sessions: u32,
    #[case] call: CallKind,
    #[case] reason: Option<&str>,
) {
    let (plain, heeded) = after_refusal(sessions, |_| {});
    assert_eq!((plain.call, heeded.call), (CallKind::AddLoad, call));
    assert_eq!(heeded.told().last().map(String::as_str).filter(|r| r.contains("refused")), reason);
    let still_there = heeded.alternatives.iter().any(|a| a.call == CallKind::AddLoad);
    assert_eq!(still_there, call == CallKind::Hold, "{:?}", heeded.alternatives);
}

/// Who missed a line more than once in a row comes back to the same step; what was missed before the last set is past.
#[rstest]
#[case::none(&[], CallKind::AddLoad)]
#[case::once(&[2], CallKind::AddLoad)]
#[case::twice(&[5, 2], CallKind::Hold)]
#[case::one_day_is_one(&[2, 2], CallKind::AddLoad)]
#[case::thrice(&[2, 5, 7], CallKind::Hold)]
#[case::before_the_last_set(&[-2, -5, 2], CallKind::AddLoad)]
#[case::on_its_day(&[0, 2], CallKind::AddLoad)]
#[case::still_to_come(&[2, 9, 12], CallKind::AddLoad)]
fn nothing_is_added_after_workouts_that_were_missed(#[case] missed: &[i64], #[case] call: CallKind) {
    let history = [12, 12, 12].map(|reps| dumbbell_set("dumbbell_curl", START, 14.0, reps, 2));
    let wanted = intent(r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
    let (who, room): (_, Vec<KitItem>) = (person(), kit(RACK));
    let prescription = wanted.dose.prescription();
    let missed: Vec<NaiveDate> = missed.iter().map(|d| day(START) + chrono::TimeDelta::days(*d)).collect();
    let question = the_day_after("dumbbell_curl", (&who, &room), (&wanted, &prescription), &history);
    let found = next(&CATALOGUE, &NextQuestion { missed: &missed, today: day(START) + Days::new(9), ..question });
    let told = found.told().into_iter().find(|r| r.contains("in a row were missed"));
    assert_eq!((found.call, told.is_some()), (call, call == CallKind::Hold), "{:?}", found.reasons);
    if let Some(told) = told {
        let step = found.step.as_ref().and_then(|s| s.load).unwrap();
        assert_eq!(step.value, 14.0, "the same step");
        assert!(told.starts_with(&format!("but {} workouts in a row were missed (", missed.len())), "{told}");
        assert!(found.alternatives.iter().any(|a| a.call == CallKind::AddLoad), "the trainer may add all the same");
    }
}

/// A step that was far too light is no way back.
#[test]
fn what_was_far_too_light_is_put_right_whatever_was_missed() {
    let history = [12, 12, 12].map(|reps| dumbbell_set("dumbbell_curl", START, 14.0, reps, 6));
    let wanted = intent(r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
    let (who, room): (_, Vec<KitItem>) = (person(), kit(RACK));
    let prescription = wanted.dose.prescription();
    let question = the_day_after("dumbbell_curl", (&who, &room), (&wanted, &prescription), &history);
    let missed = [2, 5].map(|d| day(START) + Days::new(d));
    let found = next(&CATALOGUE, &NextQuestion { missed: &missed, today: day(START) + Days::new(9), ..question });
    assert_eq!((found.call, found.step.unwrap().load.unwrap().value), (CallKind::AddLoad, 16.0), "{:?}", found.reasons);
}

/// Who missed workouts was at rest: no lighter week after that; what eases, or sends to somebody who may look at it, stays.
#[test]
fn what_was_missed_holds_back_no_safety() {
    let sore = LoggedSet { pain: Some(6), ..dumbbell_set("dumbbell_curl", START, 14.0, 12, 2) };
    let wanted = intent(r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
    let (who, room): (_, Vec<KitItem>) = (person(), kit(RACK));
    let (prescription, history) = (wanted.dose.prescription(), [sore]);
    let question = the_day_after("dumbbell_curl", (&who, &room), (&wanted, &prescription), &history);
    let plain = next(&CATALOGUE, &question);
    let missed = [2, 5].map(|d| day(START) + Days::new(d));
    let after = next(&CATALOGUE, &NextQuestion { missed: &missed, ..question });
    assert!(!plain.call.rises() && plain.call != CallKind::Hold, "{:?}", plain.call);
    assert_eq!((after.call, after.reasons), (plain.call, plain.reasons));
}

/// After an easier time the slot's own sets come back before anything is added, and only when it went well.
#[rstest]
#[case::well(12, 2, Some(CallKind::AddReps))]
#[case::below_the_zone(6, 2, None)]
#[case::with_nothing_left(10, 0, None)]
fn a_reduced_dose_comes_back(#[case] reps: u16, #[case] rir: u8, #[case] back: Option<CallKind>) {
    let history = [dumbbell_set("dumbbell_curl", START, 14.0, reps, rir)];
    let wanted = intent(r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
    let (who, room): (_, Vec<KitItem>) = (person(), kit(RACK));
    let mut reduced = wanted.dose.prescription();
    reduced.sets.truncate(1);
    let question = the_day_after("dumbbell_curl", (&who, &room), (&wanted, &reduced), &history);
    let call = next(&CATALOGUE, &question);
    let whole = call.prescription.sets.len() == 3;
    assert_eq!(whole, back.is_some(), "{:?} {:?}", call.call, call.reasons);
    if let Some(kind) = back {
        assert_eq!(call.call, kind);
        assert_eq!(call.step.as_ref().unwrap().effective_kg.value(), 14.0, "the same load");
        assert_eq!(
            call.told()[0],
            format!("went well with {}: back to {}", reduced.text(), wanted.dose.prescription().text())
        );
    }
}

/// A harder movement that was refused leaves the line with its own movement and step, and comes back after two sessions of that.
#[rstest]
#[case::at_once(2, CallKind::Hold)]
#[case::after_one_more(1, CallKind::Hold)]
#[case::after_two_more(0, CallKind::HarderVariation)]
fn a_refused_harder_movement_leaves_the_own_one(#[case] refused_after: u64, #[case] expected: CallKind) {
    let history: Vec<LoggedSet> = (0..3u64)
        .flat_map(|s| {
            let on = day(START) + Days::new(s * 3);
            let effective_kg = Some(bavrek_core::units::Kilograms(51.0));
            let set = LoggedSet { reps: Some(12), rir: Some(3), effective_kg, ..LoggedSet::of("push_up", on) };
            [set.clone(), set.clone(), set]
        })
        .collect();
    let wanted =
        intent(r#"{"pattern":"horizontal_press","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
    let (who, room): (_, Vec<KitItem>) = (person(), kit(r#"[{"kind":"chair"},{"kind":"rings","max_height_m":2.4}]"#));
    let prescription = wanted.dose.prescription();
    let question = the_day_after("push_up", (&who, &room), (&wanted, &prescription), &history);
    let plain = next(&CATALOGUE, &question);
    assert_eq!(plain.call, CallKind::HarderVariation, "{:?}", plain.reasons);
    assert_ne!(plain.exercise.as_deref(), Some("push_up"));
    let after = day(START) + Days::new(refused_after * 3);
    let refused = Refused { call: plain.call, step: plain.step.as_ref().map(|s| s.label.clone()), after };
    let heeded = plain.heeding(&question, &[refused]);
    assert_eq!(heeded.call, expected);
    if expected == CallKind::Hold {
        assert_eq!(heeded.exercise.as_deref(), Some("push_up"));
        assert_eq!(heeded.exercise_of(CallKind::Hold), Some("push_up"));
        assert!(heeded.step.is_some());
    }
}

/// Under a limit that asks for care the dose stays as it was cut.
#[test]
fn a_limit_keeps_the_dose_reduced() {
    let who = crate::common::limited(r#"{"joint":"elbow","what":"pain_loaded","side":"both","severity":"moderate"}"#);
    let eased = CATALOGUE
        .movements
        .iter()
        .filter(|m| matches!(bavrek_core::fit::bearing(m, &who.limits[0]), bavrek_core::fit::Bearing::Eases(_)));
    let mut asked = 0;
    for movement in eased {
        let history = [dumbbell_set(&movement.id, START, 14.0, 10, 2)];
        let wanted =
            intent(r#"{"pattern":"elbow_flexion","regions":{"biceps_long":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
        let room = kit(RACK);
        let mut reduced = wanted.dose.prescription();
        reduced.sets.truncate(2);
        let question = NextQuestion {
            limits_since: Some(day(START)),
            ..the_day_after(&movement.id, (&who, &room), (&wanted, &reduced), &history)
        };
        let call = next(&CATALOGUE, &question);
        assert!(call.prescription.sets.len() <= 2, "{}: {:?} {:?}", movement.id, call.call, call.reasons);
        asked += 1;
    }
    assert!(asked > 20, "{asked}");
}

#[test]
fn what_got_nothing_and_what_hurt_are_found() {
    let aims = Aims {
        regions: [Region::Lats, Region::DeltSide, Region::BicepsLong]
            .map(|r| (r, RegionAim { aim: if r == Region::BicepsLong { Aim::Keep } else { Aim::Grow }, sets: None }))
            .into(),
        ..Aims::default()
    };
    let range = [day(START), day(START) + Days::new(55)];
    let hurt =
        |pain, joint| LoggedSet { pain: Some(pain), pain_at: joint, ..dumbbell_set("dumbbell_row", START, 20.0, 8, 2) };
    let row = dumbbell_set("dumbbell_row", &range[1].to_string(), 20.0, 10, 2);
    let raise = dumbbell_set("side_raise", START, 6.0, 12, 2);
    let sets = [hurt(4, None), hurt(6, Some(Joint::Elbow)), hurt(3, Some(Joint::Wrist)), row, raise];
    let done = done(&sets, "flat");
    let pains = painful_days(&done, range);
    assert_eq!(pains, [PainfulDay { on: day(START), pain: 6, joint: Some(Joint::Elbow) }]);
    let weeks = weeks(&CATALOGUE, &done, range, 0.5);
    assert_eq!(left_out(&weeks, &aims, range[1]), [(Region::DeltSide, Some(day(START)))]);
    assert!(left_out(&weeks[6..], &aims, range[1]).is_empty(), "two weeks are too few to say so");
    let nothing = bavrek_core::review::weeks(&CATALOGUE, &[], range, 0.5);
    assert!(
        nothing.len() > 6 && left_out(&nothing, &aims, range[1]).is_empty(),
        "nobody trained: it is said otherwise"
    );
}

/// What is there for safety is said again, however often it was refused.
#[test]
fn pain_is_never_silenced_by_a_refusal() {
    let (plain, heeded) = after_refusal(1, |set| set.pain = Some(6));
    assert!(matches!(plain.call, CallKind::Swap | CallKind::Refer), "{:?}", plain.call);
    assert_eq!(plain, heeded);
}
