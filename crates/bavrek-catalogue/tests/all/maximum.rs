//! Loads that are asked as a share of the maximum: the step that they become, what the next one is, and where they give way.

use crate::common::asked::{Asked, CATALOGUE, PRESS, kg, session};
use crate::common::{grid, intent, kit, person};
use bavrek_core::dose::notation::{Usual, read};
use bavrek_core::dose::{Prescription, Relation, Tempo};
use bavrek_core::fit::{Basis, FitAnswer, FitQuestion, Met, Related, fit};
use bavrek_core::kit::full_room;
use bavrek_core::log::LoggedSet;
use bavrek_core::plan::Intent;
use bavrek_core::progress::CallKind;
use bavrek_core::wording::told;
use rstest::rstest;

const ROOM: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[10,12,14,16,18,20,22,24,26,28,30,32,34,36]},{"kind":"bench","angles_deg":[0,30]}]"#;

fn dose(line: &str) -> Prescription {
    read(line).unwrap().filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 120 })
}

fn wanted(line: &str) -> Intent {
    intent(PRESS).dosed(dose(line))
}

fn ask(wanted: &Intent, history: &[LoggedSet]) -> FitAnswer<'static> {
    fit(&CATALOGUE, &FitQuestion { history, ..FitQuestion::plain(&person(), &kit(ROOM), wanted) })
}

#[rstest]
#[case::plainly("5 x 5 at 80 % of the maximum", [80, 80], "at 80 % of the maximum")]
#[case::short("5 x 5 @ 80%", [80, 80], "at 80 % of the maximum")]
#[case::between("4 x 4-6, at 78-85 % of max, rest 3 min", [78, 85], "at 78–85 % of the maximum")]
#[case::of_one("3 x 8, 65 % of 1RM", [65, 65], "at 65 % of the maximum")]
fn a_share_of_the_maximum_is_read_and_written(#[case] line: &str, #[case] percent: [u8; 2], #[case] text: &str) {
    let read_once = dose(line);
    assert_eq!(read_once.relation, Some(Relation::OfMaximum { percent }));
    assert!(read_once.text().contains(text), "{}", read_once.text());
    assert_eq!(dose(&read_once.text()), read_once, "what is written is read back");
    assert!(!read(line).unwrap().not_stated().contains(&"load"));
}

#[rstest]
#[case::more_than_all("5 x 5 at 120 %")]
#[case::hardly_any("5 x 5 at 10 %")]
#[case::backwards("5 x 5 at 85-75 %")]
#[case::no_number("5 x 5 at some % of the maximum")]
fn what_is_no_share_of_a_maximum_is_refused(#[case] line: &str) {
    let error = read(line).unwrap_err();
    assert!(error.message.contains('%') || error.message.contains("cannot read"), "{}", error.message);
}

/// Known from its own sets, the step is the nearest there is to the share, and what is said of it adds up.
#[rstest]
#[case::heavy("5 x 5 at 80 %", 0.80)]
#[case::middling("3 x 8 at 70 %", 0.70)]
#[case::light("3 x 10 at 55 %", 0.55)]
fn the_step_is_the_nearest_to_the_share_of_what_is_known(#[case] line: &str, #[case] share: f64) {
    let history =
        [1, 3, 5].map(|d| session("dumbbell_bench_press", &format!("2026-03-0{d}"), 24.0, &[10; 3], 1)).concat();
    let answer = ask(&wanted(line), &history);
    let candidate = answer.candidates.iter().find(|c| c.movement.id == "dumbbell_bench_press").unwrap();
    let related = candidate.start.related.and_then(Related::found).unwrap();
    assert_eq!((related.met, candidate.start.basis), (Met::Nearest, Basis::ThisExercise));
    // Eleven to failure with 24 kg: a maximum of about 24 / 0.73.
    assert!((32.0..36.0).contains(&related.of.load.value()), "{}", related.of.load.value());
    let asked = share * related.of.load.value();
    assert!((related.wanted.unwrap()[0].value() - asked).abs() < 1e-9);
    assert!((candidate.step().effective_kg.value() - asked).abs() <= 1.1, "{asked} {}", candidate.step().label);
    let said = told(&candidate.reasons).into_iter().find(|r| r.contains("of a maximum of about")).unwrap();
    assert!(said.ends_with(&format!("this step is {:.1}", candidate.step().effective_kg)), "{said}");
}

/// Where one set was typed wrong, or another lied, a share is taken of what is in doubt: no heavier than the estimate allows.
#[test]
fn where_sets_disagree_a_share_makes_nothing_heavier() {
    let typed = |kg: f64, day: u32| session("dumbbell_bench_press", &format!("2026-03-{day:02}"), kg, &[10; 3], 2);
    let history = [typed(10.0, 1), typed(10.0, 3), typed(24.0, 5), typed(10.0, 7), typed(24.0, 9)].concat();
    let of = |line: &str| {
        let answer = ask(&wanted(line), &history);
        answer.candidates.into_iter().find(|c| c.movement.id == "dumbbell_bench_press").unwrap()
    };
    let (plain, asked) = (of("3 x 5"), of("3 x 5 at 95 %"));
    assert!(plain.start.torn, "the sets disagree");
    assert!(asked.start.step <= plain.start.step, "{} {}", asked.step().label, plain.step().label);
    assert!(told(&asked.reasons)[0].contains("its sets disagree"), "{:?}", asked.reasons);
}

/// The repetitions have the last word: what cannot be done so often is not given, and it says so.
#[test]
fn a_share_that_is_too_heavy_for_the_repetitions_gives_way_to_them() {
    let history = session("dumbbell_bench_press", "2026-03-02", 24.0, &[10; 3], 1);
    let plain = ask(&wanted("3 x 12-15"), &history);
    let asked = ask(&wanted("3 x 12-15 at 90 %"), &history);
    let of = |answer: &FitAnswer<'static>| {
        let found = answer.candidates.iter().find(|c| c.movement.id == "dumbbell_bench_press").unwrap();
        (
            found.step().label.clone(),
            found.start.related.and_then(Related::found).map(|f| f.met),
            told(&found.reasons).join("; "),
        )
    };
    assert_eq!(of(&plain).0, of(&asked).0);
    assert_eq!(of(&asked).1, Some(Met::TooHeavy));
    assert!(of(&asked).2.contains("12 reps cannot be done on that"), "{}", of(&asked).2);
}

/// Over all movements, people and shares: on nobody's first day is a step heavier than without the share, and never is one given on
/// which the fewest repetitions cannot be done.
#[test]
fn no_share_of_a_maximum_makes_a_first_day_heavier_than_it_would_be() {
    let (room, mut compared) = (full_room(), 0);
    for (who, person) in grid::people() {
        for pattern in bavrek_core::anatomy::Pattern::ALL {
            let regions: std::collections::BTreeSet<_> =
                CATALOGUE.movements.iter().filter(|m| m.pattern == *pattern).filter_map(|m| m.main_region()).collect();
            let Some(region) = regions.first() else { continue };
            let of = |line: &str| Intent { pattern: *pattern, regions: [(*region, 1.0)].into(), ..wanted(line) };
            let plain_intent = of("3 x 5-8");
            let plain = fit(&CATALOGUE, &FitQuestion::plain(&person, &room, &plain_intent));
            for share in ["30 %", "80 %", "100 %"] {
                let intent = of(&format!("3 x 5-8 at {share}"));
                let asked = fit(&CATALOGUE, &FitQuestion::plain(&person, &room, &intent));
                for candidate in &asked.candidates {
                    let Some(before) = plain.candidates.iter().find(|c| c.movement.id == candidate.movement.id) else {
                        continue;
                    };
                    let what = format!("{who:?}: {} at {share}", candidate.movement.id);
                    assert!(candidate.start.step <= before.start.step, "{what}");
                    let suits = before.start.step == candidate.start.step || candidate.start.reps + 2.0 >= 5.0;
                    assert!(suits, "{what}: {}", candidate.start.reps);
                    compared += 1;
                }
            }
        }
    }
    assert!(compared > 3_000, "{compared}");
}

/// What is held or resisted has no maximum, and says so.
#[rstest]
#[case::held("forearm", "forearm_flexors", "dumbbell_hold", "held")]
#[case::resisted("elbow_flexion", "biceps_long", "self_resisted_curl", "resisted")]
fn of_what_has_no_maximum_no_share_is_taken(
    #[case] pattern: &str,
    #[case] region: &str,
    #[case] exercise: &str,
    #[case] why: &str,
) {
    let job = format!(r#"{{"pattern":"{pattern}","regions":{{"{region}":1.0}},"reps":[8,12],"rir":2,"sets":3}}"#);
    let asked = intent(&job).dosed(dose("3 x 8 at 70 %"));
    let answer = fit(&CATALOGUE, &FitQuestion::plain(&person(), &full_room(), &asked));
    let candidate = answer.candidates.iter().find(|c| c.movement.id == exercise).unwrap();
    assert_eq!(candidate.start.related, None);
    assert!(
        told(&candidate.reasons).iter().any(|r| r.contains(&format!("of what is {why}"))),
        "{:?}",
        candidate.reasons
    );
}

// The next step.

fn call(line: &str, history: Vec<LoggedSet>) -> bavrek_core::progress::Call {
    Asked { room: ROOM.into(), intent: wanted(line), ..Asked::of(PRESS, history) }.call()
}

/// Three sessions of twelve to failure with 24 kg: a maximum of about 34.
#[rstest]
#[case::it_lies_above("5 x 5 at 78 %", &[10; 3], 2, CallKind::AddLoad, 26.0)]
#[case::it_is_there("5 x 5 at 71 %", &[10; 3], 2, CallKind::Hold, 24.0)]
#[case::it_lies_below("5 x 5 at 60 %", &[10; 3], 2, CallKind::Ease, 20.0)]
// Even the lightest is heavier: it is that.
#[case::nothing_is_so_light("3 x 8 at 30 %", &[10; 3], 2, CallKind::Ease, 10.0)]
// Far beyond the top of the zone, but that is what the share is.
#[case::the_repetitions_alone_do_not_raise_it("3 x 5-6 at 71 %", &[10; 3], 2, CallKind::Hold, 24.0)]
// A share on which the sets cannot be done leaves it to the repetitions: inside the zone, one more each.
#[case::too_heavy_for_the_reps("3 x 10-12 at 95 %", &[10; 3], 2, CallKind::AddReps, 24.0)]
// What went far wrong is answered first.
#[case::half_with_nothing_left("5 x 8 at 80 %", &[3; 3], 0, CallKind::Ease, 20.0)]
fn the_next_step_goes_where_the_maximum_goes(
    #[case] line: &str,
    #[case] last: &[u16],
    #[case] rir: u8,
    #[case] expected: CallKind,
    #[case] to: f64,
) {
    let before = ["2026-02-23", "2026-02-27"].map(|on| session("dumbbell_bench_press", on, 24.0, &[10; 3], 2)).concat();
    let history = [before, session("dumbbell_bench_press", "2026-03-02", 24.0, last, rir)].concat();
    let call = call(line, history);
    assert_eq!((call.call, kg(&call)), (expected, to), "{:?}", call.reasons);
}

/// Safety comes before any share: pain, time away and limits answer as they do of any other line.
#[rstest]
#[case::it_hurt(Some(5), "2026-03-02", &[CallKind::Swap])]
#[case::half_a_year_away(None, "2025-09-01", &[CallKind::Ease])]
#[case::two_weeks_away(None, "2026-02-17", &[CallKind::Hold])]
fn a_share_lifts_no_rule_of_safety(#[case] pain: Option<u8>, #[case] on: &str, #[case] expected: &[CallKind]) {
    let mut history = session("dumbbell_bench_press", on, 20.0, &[10; 3], 4);
    history[2].pain = pain;
    let call = call("5 x 5 at 90 %", history);
    assert!(expected.contains(&call.call), "{:?} {:?}", call.call, call.reasons);
    assert!(call.step.is_none() || kg(&call) <= 20.0, "{}", kg(&call));
}
