//! Loads that are asked by what another movement is done with: read and written, the step that they become, what the next one is, and
//! where they give way.

use crate::common::asked::{Asked, CATALOGUE, PRESS, kg, session};
use crate::common::{day, grid, intent, kit, person};
use bavrek_core::anatomy::{Joint, Pattern};
use bavrek_core::dose::notation::{Usual, read};
use bavrek_core::dose::{Other, Prescription, Relation, Tempo};
use bavrek_core::fit::{Bearing, Candidate, FitQuestion, Fitter, Found, Met, Related, Room, bearing, fit};
use bavrek_core::kit::full_room;
use bavrek_core::log::LoggedSet;
use bavrek_core::person::{Limit, LimitKind, Person, Severity, Side};
use bavrek_core::plan::Intent;
use bavrek_core::progress::{Call, CallKind};
use bavrek_core::reading::resolve;
use bavrek_core::strength::Ledger;
use bavrek_core::units::Kilograms;
use bavrek_core::wording;
use rstest::rstest;

const ROOM: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[8,10,12,14,16,18,20,22,24,26,28,30]},{"kind":"bench","angles_deg":[0,30]}]"#;

/// As a trainer writes it.
fn dose(line: &str) -> Prescription {
    let mut written = read(line).unwrap();
    written.relation = written.relation.map(|relation| resolve(&CATALOGUE, relation).unwrap());
    written.filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 120 })
}

fn wanted(line: &str) -> Intent {
    intent(PRESS).dosed(dose(line))
}

fn relation(line: &str) -> (String, [u8; 2], i8) {
    match dose(line).relation.unwrap() {
        Relation::OfMovement { other, percent } => (other.movement, percent, 0),
        Relation::StepsFrom { other, steps } => (other.movement, [0, 0], steps),
        Relation::OfMaximum { percent } | Relation::PartBand { percent } => (String::new(), percent, 0),
    }
}

#[rstest]
#[case::half("3 x 8 at half of dumbbell bench press", "dumbbell_bench_press", [50, 50], 0)]
#[case::percent("3 x 8 @ 60-70 % of the dumbbell bench press, rest 2 min", "dumbbell_bench_press", [60, 70], 0)]
#[case::misspelt("3 x 8, a third of dumbell bench press", "dumbbell_bench_press", [33, 33], 0)]
#[case::the_same("3 x 8, at the same as incline dumbbell press", "incline_dumbbell_press", [100, 100], 0)]
#[case::a_step_above("3 x 8, a step above dumbbell bench press", "dumbbell_bench_press", [0, 0], 1)]
#[case::at_a_step("3 x 8 at one step above dumbbell bench press", "dumbbell_bench_press", [0, 0], 1)]
#[case::steps_below("12-10-8, each a step up, 2 steps below dumbbell bench press", "dumbbell_bench_press", [0, 0], -2)]
#[case::in_short("3 x 12 at half of dumbbell press", "dumbbell_bench_press", [50, 50], 0)]
#[case::in_short_above("3 x 6, a step above incline press", "incline_dumbbell_press", [0, 0], 1)]
#[case::of_the_maximum("5 x 5 at half of the maximum", "", [50, 50], 0)]
fn a_load_is_compared_with_another_movement(
    #[case] line: &str,
    #[case] movement: &str,
    #[case] percent: [u8; 2],
    #[case] steps: i8,
) {
    assert_eq!(relation(line), (movement.to_owned(), percent, steps));
    let read_once = dose(line);
    assert_eq!(dose(&read_once.text()), read_once, "what is written is read back: {}", read_once.text());
    let stored = serde_json::to_value(&read_once).unwrap();
    assert_eq!(serde_json::from_value::<Prescription>(stored).unwrap(), read_once);
}

#[rstest]
#[case::too_much("3 x 8 at 300 % of dumbbell bench press", "200 %")]
#[case::too_many_steps("3 x 8, 9 steps above dumbbell bench press", "cannot read")]
#[case::nothing_so_called(
    "3 x 8 at half of my best day",
    "no movement that can be logged is called \"my best day\"; name it as"
)]
#[case::only_in_a_gym("3 x 8 at half of seated cable row", "nearest: ")]
fn what_cannot_be_compared_with_is_refused(#[case] line: &str, #[case] says: &str) {
    let refused = read(line).and_then(|written| resolve(&CATALOGUE, written.relation.unwrap()));
    let message = refused.unwrap_err().message;
    assert!(message.contains(says), "{message}");
}

/// Every movement can be named by what it is called, and is written so that it is read back.
#[test]
fn every_movement_can_be_compared_with_by_its_name() {
    let mut told = 0;
    for movement in &CATALOGUE.movements {
        let by_id = Other { movement: movement.id.clone(), called: Some(movement.name.to_lowercase()) };
        let line = Prescription { relation: Some(Relation::StepsFrom { other: by_id, steps: -1 }), ..dose("3 x 8") };
        let again = dose(&line.text());
        assert_eq!(again.relation.unwrap().other().unwrap().movement, movement.id, "{}", movement.name);
        told += 1;
    }
    assert!(told > 100, "{told}");
}

fn press(line: &str, history: &[LoggedSet]) -> Candidate<'static> {
    let wanted = wanted(line);
    let answer = fit(&CATALOGUE, &FitQuestion { history, ..FitQuestion::plain(&person(), &kit(ROOM), &wanted) });
    answer.candidates.into_iter().find(|c| c.movement.id == "dumbbell_bench_press").unwrap()
}

/// What the other movement was done with last, by its heaviest set, not what it was done with before.
fn inclined(last: &[(&str, f64)]) -> Vec<LoggedSet> {
    let own = ["2026-02-23", "2026-02-27"].map(|on| session("dumbbell_bench_press", on, 20.0, &[10; 3], 2)).concat();
    let other = last.iter().flat_map(|(on, kg)| session("incline_dumbbell_press", on, *kg, &[10; 2], 2));
    own.into_iter().chain(other).collect()
}

#[rstest]
#[case::all_of_it("3 x 8 at the same as incline dumbbell press", 18.0)]
#[case::half("3 x 8 at half of incline dumbbell press", 8.0)]
#[case::a_step_above("3 x 8, a step above incline dumbbell press", 20.0)]
#[case::two_below("3 x 8, 2 steps below incline dumbbell press", 14.0)]
fn the_step_follows_what_the_other_was_done_with_last(#[case] line: &str, #[case] expected: f64) {
    let history = inclined(&[("2026-02-20", 22.0), ("2026-03-02", 16.0), ("2026-03-02", 18.0)]);
    let found = press(line, &history);
    let Some(Related::Found(Found { of, met, .. })) = found.start.related else { panic!("{:?}", found.start.related) };
    assert_eq!(
        (of.load.value().round(), of.done.unwrap().1.to_string().as_str(), met),
        (18.0, "2026-03-02", Met::Nearest)
    );
    assert!((found.step().effective_kg.value() - expected).abs() < 1e-6, "{}", found.step().label);
    let says = &wording::told(&found.reasons)[0];
    assert!(says.contains("the 18 kg that dumbbell press on an inclined bench was done with on 2 Mar is"), "{says}");
    assert!(says.ends_with(&format!("this step is {expected} kg")), "{says}");
}

#[rstest]
#[case::never_logged("3 x 8 at half of dumbbell fly", Related::NothingLogged, "nothing is logged of dumbbell fly")]
#[case::body_weight("3 x 8 at half of push-up", Related::Unlike, "one of the two lifts the body")]
#[case::itself("3 x 8 at half of dumbbell bench press", Related::Itself, "which is this movement itself")]
fn with_nothing_to_compare_with_the_repetitions_decide(#[case] line: &str, #[case] why: Related, #[case] says: &str) {
    let history = inclined(&[("2026-03-02", 18.0)]);
    let (plain, asked) = (press("3 x 8", &history), press(line, &history));
    assert_eq!((asked.start.related, asked.start.step), (Some(why), plain.start.step));
    assert!(wording::told(&asked.reasons)[0].contains(says), "{:?}", asked.reasons);
    let call = call(line, history);
    assert!(call.told().iter().any(|r| r.contains(says)), "{:?}", call.reasons);
}

/// Over all movements and people: whatever another movement was done with, on nobody's first day is a step heavier than it would be,
/// and never is one given on which the fewest repetitions cannot be done.
#[test]
fn no_other_movement_makes_a_first_day_heavier_than_it_would_be() {
    let (room, mut compared) = (full_room(), 0);
    let history = session("dumbbell_shrug", "2026-03-02", 32.0, &[12; 3], 1);
    for (who, person) in grid::people() {
        for pattern in Pattern::ALL {
            let mut regions =
                CATALOGUE.movements.iter().filter(|m| m.pattern == *pattern).filter_map(|m| m.main_region());
            let Some(region) = regions.next() else { continue };
            let of = |line: &str| Intent { pattern: *pattern, regions: [(region, 1.0)].into(), ..wanted(line) };
            let ask = |intent: &Intent| {
                let question = FitQuestion { history: &history, ..FitQuestion::plain(&person, &room, intent) };
                let found = fit(&CATALOGUE, &question).candidates;
                found.into_iter().map(|c| (c.movement.id.clone(), c.start)).collect::<Vec<_>>()
            };
            let plain = ask(&of("3 x 5-8"));
            for relation in ["at 200 % of dumbbell shrug", "at half of dumbbell shrug", "5 steps above dumbbell shrug"]
            {
                for (id, start) in ask(&of(&format!("3 x 5-8, {relation}"))) {
                    let Some((_, before)) = plain.iter().find(|(known, _)| *known == id) else { continue };
                    assert!(start.step <= before.step || id == "dumbbell_shrug", "{who:?}: {id} {relation}");
                    let suits = before.step == start.step || start.reps + 2.0 >= 5.0;
                    assert!(suits, "{who:?}: {id} {relation}: {}", start.reps);
                    compared += 1;
                }
            }
        }
    }
    assert!(compared > 3_000, "{compared}");
}

fn call(line: &str, history: Vec<LoggedSet>) -> Call {
    Asked { room: ROOM.into(), intent: wanted(line), ..Asked::of(PRESS, history) }.call()
}

/// Three sessions with 20 kg; the other movement decides.
#[rstest]
#[case::it_rose("3 x 8-12 at the same as incline dumbbell press", 22.0, CallKind::AddLoad, 22.0)]
#[case::it_is_there("3 x 8-12 at the same as incline dumbbell press", 20.0, CallKind::Hold, 20.0)]
#[case::it_fell("3 x 8-12 at the same as incline dumbbell press", 16.0, CallKind::Ease, 16.0)]
#[case::a_step_above_it("3 x 8-12, a step above incline dumbbell press", 20.0, CallKind::AddLoad, 22.0)]
#[case::nothing_so_light("3 x 8-12 at a quarter of incline dumbbell press", 20.0, CallKind::Ease, 8.0)]
fn the_next_step_goes_where_the_other_movement_goes(
    #[case] line: &str,
    #[case] other: f64,
    #[case] expected: CallKind,
    #[case] to: f64,
) {
    let mut history = inclined(&[("2026-03-01", other)]);
    history.extend(session("dumbbell_bench_press", "2026-03-02", 20.0, &[10; 3], 2));
    let call = call(line, history);
    assert_eq!((call.call, kg(&call)), (expected, to), "{:?}", call.reasons);
    let figure = format!("the {other} kg that dumbbell press on an inclined bench was done with on 1 Mar");
    assert!(call.told().iter().any(|r| r.contains(&figure)), "{:?}", call.reasons);
}

/// Nothing rises from sets in which less was left than was asked, or fewer were done.
#[rstest]
#[case::another("3 x 8-12, a step above incline dumbbell press", 1, &[10, 9, 8])]
#[case::too_few("3 x 8-12, a step above incline dumbbell press", 2, &[8, 7, 7])]
#[case::the_maximum("3 x 5-8 at 90 %", 0, &[8, 8, 7])]
fn what_was_not_kept_is_done_once_more_first(#[case] line: &str, #[case] rir: u8, #[case] last: &[u16]) {
    let mut history = inclined(&[("2026-03-01", 20.0)]);
    history.extend(session("dumbbell_bench_press", "2026-03-02", 20.0, last, rir));
    let call = call(line, history);
    assert!(!call.call.rises() && kg(&call) <= 20.0, "{:?} {:?}", call.call, call.reasons);
}

/// Safety comes before any other movement's load.
#[rstest]
#[case::it_hurt(Some(5), "2026-03-02", &[CallKind::Swap])]
#[case::half_a_year_away(None, "2025-09-01", &[CallKind::Ease])]
#[case::two_weeks_away(None, "2026-02-17", &[CallKind::Hold])]
fn another_movement_lifts_no_rule_of_safety(#[case] pain: Option<u8>, #[case] on: &str, #[case] expected: &[CallKind]) {
    let mut history = session("incline_dumbbell_press", on, 26.0, &[10; 3], 4);
    history.extend(session("dumbbell_bench_press", on, 20.0, &[10; 3], 4));
    history.last_mut().unwrap().pain = pain;
    let call = call("3 x 8, a step above incline dumbbell press", history);
    assert!(expected.contains(&call.call), "{:?} {:?}", call.call, call.reasons);
    assert!(call.step.is_none() || kg(&call) <= 20.0, "{}", kg(&call));
}
/// A bar is told in all, dumbbells by the hand: half of what both hands hold goes for each, and both are said.
#[rstest]
#[case::of_a_bar(
    "bar_bench_press",
    "dumbbell_bench_press",
    50.0,
    24.0,
    "the 50 kg in all that",
    ", 25 kg each hand, is 25 kg"
)]
#[case::of_dumbbells(
    "dumbbell_bench_press",
    "bar_bench_press",
    20.0,
    40.0,
    "the 20 kg each hand that",
    ", 40 kg in all, is 40 kg"
)]
fn what_both_hands_hold_is_halved(
    #[case] other: &str,
    #[case] own: &str,
    #[case] kg: f64,
    #[case] expected: f64,
    #[case] as_done: &str,
    #[case] as_here: &str,
) {
    let told = |exercise: &str, on: &str, kg: f64| LoggedSet {
        effective_kg: Some(Kilograms(kg)),
        reps: Some(8),
        rir: Some(2),
        ..LoggedSet::of(exercise, day(on))
    };
    let history = vec![told(other, "2026-03-01", kg), told(own, "2026-03-02", expected)];
    let name = CATALOGUE.movement(other).unwrap().name.to_lowercase().replace(',', "");
    let wanted = wanted(&format!("3 x 3-8 at the same as {name}"));
    let room = full_room();
    let answer = fit(&CATALOGUE, &FitQuestion { history: &history, ..FitQuestion::plain(&person(), &room, &wanted) });
    let found = answer.candidates.into_iter().find(|c| c.movement.id == own).unwrap();
    let says = &wording::told(&found.reasons)[0];
    assert!(says.contains(as_done) && says.contains(as_here), "{says}");
    let step = found.step().effective_kg.value();
    assert!((step / expected - 1.0).abs() < 0.07, "{step}: {says}");
}

/// Where there are not so many steps, it is the last there is, and says so.
#[rstest]
#[case::above("3 x 1-3, 5 steps above incline dumbbell press", 28.0, 30.0)]
#[case::below("3 x 8, 5 steps below incline dumbbell press", 10.0, 8.0)]
#[case::all_are_above("3 x 8, a step above incline dumbbell press", 5.0, 8.0)]
fn where_there_are_not_so_many_steps_it_is_the_last(#[case] line: &str, #[case] other: f64, #[case] expected: f64) {
    let mut history = session("dumbbell_bench_press", "2026-02-27", 28.0, &[10; 3], 2);
    history.extend(session("incline_dumbbell_press", "2026-03-02", other, &[10; 2], 2));
    let found = press(line, &history);
    assert!((found.step().effective_kg.value() - expected).abs() < 1e-6, "{}: {:?}", found.step().label, found.reasons);
    let is_there = line.contains("a step");
    assert_eq!(
        wording::told(&found.reasons)[0].contains("there are not so many here"),
        !is_there,
        "{:?}",
        found.reasons
    );
}

/// Over all movements, with each relation: long after a movement was last done, or while any joint is spared in it, no step is heavier
/// than without the relation, whatever the other movement was done with meanwhile.
#[rstest]
#[case::another("3 x 5-8 at the same as dumbbell shrug")]
#[case::far_above("3 x 5-8, 5 steps above dumbbell shrug")]
#[case::the_maximum("3 x 5-8 at 100 %")]
#[case::half_of_it_band("3 x 5-8, half from a band")]
#[case::a_little_of_it_band("3 x 5-8, 20 % from a band")]
fn nothing_is_heavier_after_time_away_or_where_a_joint_is_spared(#[case] line: &str) {
    let (room, mut away, mut spared) = (full_room(), 0, 0);
    let shrugs = session("dumbbell_shrug", "2026-03-02", 40.0, &[12; 3], 1);
    let limits: Vec<Limit> = Joint::ALL
        .iter()
        .flat_map(|joint| [LimitKind::PainLoaded, LimitKind::PainDeepStretch].map(|what| (*joint, what)))
        .map(|(joint, what)| Limit { joint, what, side: Side::Both, severity: Severity::Mild })
        .collect();
    for movement in CATALOGUE.movements.iter().filter(|m| m.id != "dumbbell_shrug") {
        let Some(region) = movement.main_region() else { continue };
        let wanted = |line: &str| Intent {
            pattern: movement.pattern,
            regions: [(region, 1.0)].into(),
            ..intent(PRESS).dosed(dose(line))
        };
        let on = |line: &str, person: &Person, history: &[LoggedSet], today: &str| {
            let fitter = Fitter::new(&CATALOGUE, Room::plain(person, &room), history, Some(day(today)));
            fitter.alone(movement, &wanted(line)).map(|c| (c.step().effective_kg, c.start))
        };
        let Some((_, first)) = on("3 x 5-8", &person(), &[], "2026-03-01") else { continue };
        let kg = first.expected.value().max(1.0);
        let done = |date: &str| -> Vec<LoggedSet> {
            let own = (0..3).map(|_| LoggedSet {
                effective_kg: Some(Kilograms(kg)),
                reps: Some(7),
                rir: Some(2),
                ..LoggedSet::of(movement.id.clone(), day(date))
            });
            own.chain(shrugs.clone()).collect()
        };
        // Half a year, while shrugs went on; what else is of their pattern was not away.
        let long_ago = done("2025-09-01");
        let ledger = Ledger::replay(&CATALOGUE, &person(), &long_ago, Some(day("2026-03-06")));
        if ledger.days_away(movement).is_some_and(|days| days > 14) {
            let [plain, asked] = ["3 x 5-8", line].map(|l| on(l, &person(), &long_ago, "2026-03-06"));
            if let (Some(plain), Some(asked)) = (plain, asked) {
                assert!(asked.0.value() <= 1.001 * plain.0.value(), "{} after half a year: {asked:?}", movement.id);
                away += 1;
            }
        }
        let lately = done("2026-03-04");
        for limit in limits.iter().filter(|limit| matches!(bearing(movement, limit), Bearing::Eases(_))) {
            let sore = Person { limits: vec![*limit], ..person() };
            let [plain, asked] = ["3 x 5-8", line].map(|l| on(l, &sore, &lately, "2026-03-06"));
            if let (Some(plain), Some(asked)) = (plain, asked) {
                assert!(asked.0.value() <= 1.001 * plain.0.value(), "{} with {limit:?}: {asked:?}", movement.id);
                spared += 1;
            }
        }
    }
    assert!(away > 80 && spared > 80, "{away} {spared}");
}
