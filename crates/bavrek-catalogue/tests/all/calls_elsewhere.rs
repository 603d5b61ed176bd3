//! Calls that lead elsewhere, and what is offered and told beside them.

use crate::common::asked::{Asked, CATALOGUE, CURL, curls, session, set_on, the_day_after};
use crate::common::{day, intent, kit, person};
use bavrek_core::anatomy::Region;
use bavrek_core::dose::notation::{Usual, read};
use bavrek_core::dose::{Dose, Tempo};
use bavrek_core::fit::{FitQuestion, fit};
use bavrek_core::kit::full_room;
use bavrek_core::ladder::Ladder;
use bavrek_core::log::{LoggedSet, Observation};
use bavrek_core::movement::Style;
use bavrek_core::plan::Intent;
use bavrek_core::progress::{Call, CallKind, Difference, Next, Reason, Refused, Seen, Then, next};
use bavrek_core::reps;
use rstest::rstest;

use CallKind::{AddLoad, AddTempo, Ease, HarderVariation, Hold, Swap};

fn says(call: &Call, words: &str) -> bool {
    call.told().iter().any(|reason| reason.contains(words))
}

fn offers(call: &Call, kind: CallKind) -> usize {
    call.alternatives.iter().filter(|a| a.call == kind).count()
}

/// What another movement is called for offers the same again and the step below, and never more.
#[test]
fn beside_another_movement_nothing_rises() {
    let dates = ["2026-02-12", "2026-02-15", "2026-02-18", "2026-02-22", "2026-02-26", "2026-03-02"];
    let days = dates.into_iter().zip([(10.0, 11), (11.0, 8)].into_iter().cycle());
    let history: Vec<LoggedSet> = days.flat_map(|(date, (kg, n))| curls(date, kg, &[n; 3], 2)).collect();
    let slow = read("3 x 8-12 @ 5-0-1-0").unwrap().filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 });
    let call = Asked { intent: intent(CURL).dosed(slow), ..Asked::of(CURL, history) }.call();
    assert_eq!(call.call, Swap, "{:?}", call.told());
    assert_eq!(
        (offers(&call, Hold), offers(&call, Ease), offers(&call, AddLoad)),
        (1, 1, 0),
        "{:?}",
        call.alternatives
    );
    assert_eq!(call.alternatives.iter().filter(|a| a.exercise().is_some()).count(), 3);
}

/// What was swapped in on one day is not called; on a second day it is, as what it is.
#[rstest]
#[case::one_day(&["2026-02-24", "2026-02-27"], &["2026-03-02"], "dumbbell_curl")]
#[case::two_days(&["2026-02-20", "2026-02-24", "2026-02-27"], &["2026-03-01", "2026-03-02"], "hammer_curl")]
#[case::one_day_each(&["2026-02-27"], &["2026-03-02"], "hammer_curl")]
#[case::days_of_long_ago(&["2026-01-20", "2026-01-24"], &["2026-03-02"], "hammer_curl")]
fn what_is_called(#[case] usual: &[&str], #[case] then: &[&str], #[case] expected: &str) {
    let mut history: Vec<LoggedSet> = usual.iter().flat_map(|date| curls(date, 10.0, &[10, 10, 10], 2)).collect();
    history.extend(then.iter().flat_map(|date| session("hammer_curl", date, 10.0, &[10, 10], 2)));
    let call = Asked::of(CURL, history).call();
    assert_eq!(call.exercise.as_deref(), Some(expected), "{:?}", call.told());
}

/// Over all movements that were felt elsewhere twice: the variant that is named differs in what is said, and in what comes before that not.
#[test]
fn a_variant_differs_as_it_is_said() {
    let (who, room) = (person(), full_room());
    let mut told = [0; 3];
    for movement in CATALOGUE.movements.iter().filter(|m| m.style == Style::Reps) {
        let Some(main) = movement.main_region() else { continue };
        let job = Intent::of(movement.pattern, [(main, 1.0)].into());
        let felt = if main == Region::DeltFront { Region::TricepsLateral } else { Region::DeltFront };
        let set = |date: &str| LoggedSet {
            reps: Some(10),
            rir: Some(2),
            seen: vec![Observation::FeltElsewhere],
            felt_at: Some(felt),
            ..LoggedSet::of(&movement.id, day(date))
        };
        let history = [set("2026-03-02"), set("2026-03-05")];
        let dose = job.dose.prescription();
        let question = the_day_after(&movement.id, (&who, &room), (&job, &dose), &history);
        let call = next(&CATALOGUE, &question);
        let variant = call.reasons.iter().find_map(|reason| match reason {
            Reason::Seen(Seen::FeltElsewhere { then: Then::Variant { variant, differs }, .. }) => {
                Some((variant, differs))
            }
            _ => None,
        });
        let Some((variant, differs)) = variant else { continue };
        let other = CATALOGUE.movement(variant.exercise().unwrap()).unwrap();
        let unlike = [
            other.grip != movement.grip,
            other.arm_position != movement.arm_position,
            other.rig.hands_apart() != movement.rig.hands_apart(),
        ];
        let first = unlike.iter().position(|differs| *differs);
        let said = [Difference::Handle, Difference::Elbow, Difference::Hands].iter().position(|d| d == differs);
        assert_eq!(said, first, "{} and {}", movement.id, other.id);
        assert!(other.region_weight(felt) <= movement.region_weight(felt), "{} and {}", movement.id, other.id);
        told[said.unwrap()] += 1;
    }
    assert!(told.iter().all(|n| *n > 0), "{told:?}");
}

/// A refused step up is held for two sessions: the line's own dose, and the step as another choice, once.
#[test]
fn what_was_refused_is_another_choice() {
    let (who, room) = (person(), kit(crate::common::asked::RACK));
    let wanted = intent(CURL);
    let history = curls("2026-03-02", 10.0, &[12, 12, 12], 2);
    let dose = wanted.dose.prescription();
    let question = the_day_after("dumbbell_curl", (&who, &room), (&wanted, &dose), &history);
    let call = next(&CATALOGUE, &question);
    assert_eq!(call.call, AddLoad, "{:?}", call.told());
    let due = call.step.as_ref().map(|s| s.label.clone());
    let refused =
        |step: Option<&str>| Refused { call: AddLoad, step: step.map(str::to_owned), after: day("2026-03-02") };
    let held = call.clone().heeding(&question, &[refused(due.as_deref())]);
    assert_eq!((held.call, &held.prescription), (Hold, &wanted.dose.prescription()));
    assert_eq!(held.step.as_ref().map(|s| s.effective_kg.value()), Some(10.0));
    assert_eq!((offers(&held, Hold), offers(&held, AddLoad), offers(&held, Ease), offers(&held, Swap)), (0, 1, 1, 1));
    let offered = held.alternatives.iter().find(|a| a.call == AddLoad).and_then(|a| a.step.as_ref());
    assert_eq!(offered.map(|s| s.label.clone()), due);
    // Another step was refused: this one is proposed.
    assert_eq!(call.clone().heeding(&question, &[refused(Some("pair of 99 kg"))]).call, AddLoad);
    assert_eq!(call.clone().heeding(&question, &[refused(None)]).call, Hold);
}

/// A decision leads to the call's own movement where it is the call's own kind and has a step.
#[test]
fn a_decision_leads_to_its_movement() {
    let call = Asked::of(CURL, curls("2026-03-02", 10.0, &[12, 12, 12], 2)).call();
    assert_eq!(call.exercise_of(AddLoad), Some("dumbbell_curl"));
    assert_eq!((call.exercise_of(Hold), call.exercise_of(Swap)), (None, None));
    let nowhere = Call { step: None, ..call };
    assert_eq!(nowhere.exercise_of(AddLoad), None);
}

/// What slower lowering is like, and what is expected of the next step, is what the repetitions say.
#[test]
fn figures_of_steps_and_tempo_are_true() {
    let stalled: Vec<LoggedSet> = ["2026-02-12", "2026-02-15", "2026-02-18", "2026-02-22", "2026-02-26", "2026-03-02"]
        .into_iter()
        .flat_map(|date| curls(date, 10.0, &[10, 10, 10], 2))
        .collect();
    let call = Asked::of(CURL, stalled).call();
    assert_eq!(call.call, AddTempo);
    let gain = call.reasons.iter().find_map(|r| match r {
        Reason::Next(Next::Slower { gain, .. }) => Some(*gain),
        _ => None,
    });
    // Ten repetitions of three seconds and of five: effective repetitions go with the root of their time, load with 0.45 of these plus nine.
    let [usual, slow] =
        [Tempo::USUAL, "4-0-1-0".parse().unwrap()].map(|t: Tempo| reps::effective_reps(10.0, t.seconds()));
    let expected = ((slow + 9.0) / (usual + 9.0)).powf(reps::P) - 1.0;
    assert!((gain.unwrap() - expected).abs() < 1e-9, "{gain:?} for {expected}");
    assert!((0.03..0.15).contains(&expected), "{expected}");
    for (tempo, done) in [("2-0-1-0", 14), ("5-0-1-0", 13)] {
        let mut given = intent(CURL).dose.prescription();
        given.sets.iter_mut().for_each(|set| set.tempo = tempo.parse().unwrap());
        let history = curls("2026-03-02", 10.0, &[done; 3], 2);
        let call = Asked { prescription: Some(given), ..Asked::of(CURL, history) }.call();
        let told = call.reasons.iter().find_map(|r| match r {
            Reason::Next(Next::Expected { reps, reserve }) => Some((*reps, *reserve)),
            _ => None,
        });
        let slower = reps::effective_reps(1.0, tempo.parse::<Tempo>().unwrap().seconds())
            / reps::effective_reps(1.0, Tempo::USUAL.seconds());
        let capacity = (f64::from(done) + 2.0) * slower;
        // From ten to eleven: repetitions plus nine go with the load to the power of 1/p.
        let there = (capacity + 9.0) / 1.1_f64.powf(1.0 / reps::P) - 9.0 - 2.0;
        assert!(told.is_some_and(|(n, reserve)| (n - there).abs() < 1e-9 && reserve == 2.0), "{told:?} for {there}");
    }
}

/// At the top with less left than asked the top is told, not the zone.
#[rstest]
#[case::at_the_top(&[12, 12, 12], "the top of the zone in every set")]
#[case::inside(&[12, 11, 12], "inside the zone")]
#[case::beyond(&[13, 11, 12], "3 ")]
fn where_the_sets_lay_is_told(#[case] reps: &[u16], #[case] words: &str) {
    let call = Asked::of(CURL, curls("2026-03-02", 10.0, reps, 0)).call();
    assert_eq!(call.call, Hold, "{:?}", call.told());
    assert_eq!(call.told()[0].contains("the top of the zone"), words.starts_with("the top"), "{:?}", call.told());
    assert_eq!(call.told()[0].contains("inside the zone"), words.starts_with("inside"), "{:?}", call.told());
}

/// Over all holds, a minute on the hardest step: the harder hold that the catalogue names where it is here, and never one that is counted.
#[test]
fn a_minute_on_the_hardest_step_leads_to_a_harder_hold() {
    let (who, room) = (person(), full_room());
    let (mut harder, mut held) = (0, 0);
    for movement in CATALOGUE.movements.iter().filter(|m| m.style == Style::Hold) {
        let Some(step) = Ladder::of(movement, &who, &room).steps.pop() else { continue };
        let regions = movement.direct.keys().map(|region| (*region, 1.0)).collect();
        let job = Intent::of(movement.pattern, regions);
        let set = LoggedSet { seconds: Some(60), ..set_on(&movement.id, "2026-03-02", &step) };
        let (dose, history) = (job.prescription_for(Style::Hold), [set.clone(), set]);
        let question = the_day_after(&movement.id, (&who, &room), (&job, &dose), &history);
        let call = next(&CATALOGUE, &question);
        match call.call {
            HarderVariation => {
                let other = CATALOGUE.movement(call.exercise.as_deref().unwrap()).unwrap();
                let up = |id: &String| CATALOGUE.movement(id)?.harder.clone();
                let mut ways_up = std::iter::successors(movement.harder.clone(), up).take(8);
                assert!(ways_up.any(|id| id == other.id), "{} to {}", movement.id, other.id);
                assert_eq!(other.style, Style::Hold, "{} to {}", movement.id, other.id);
                harder += 1;
            }
            Hold => held += 1,
            kind => panic!("{}: {kind} {:?}", movement.id, call.told()),
        }
        assert!(says(&call, "hardest step"), "{:?}", call.told());
    }
    assert!(harder > 0 && held > 0, "{harder} {held}");
}

/// A movement that works some of what is asked is a yardstick for it; one that works none is left out, with a note.
#[rstest]
#[case::both(&[Region::BicepsLong, Region::Brachialis], true)]
#[case::one_of_two(&[Region::BicepsLong, Region::ChestSternal], true)]
#[case::none(&[Region::ChestSternal, Region::TricepsLong], false)]
fn what_measures(#[case] regions: &[Region], #[case] measures: bool) {
    let (who, room) = (person(), full_room());
    let curl = CATALOGUE.movement("dumbbell_curl").unwrap();
    let job = Intent {
        reference_exercise: Some("dumbbell_curl".into()),
        dose: Dose::USUAL,
        ..Intent::of(curl.pattern, regions.iter().map(|r| (*r, 1.0)).collect())
    };
    let answer = fit(&CATALOGUE, &FitQuestion::plain(&who, &room, &job));
    assert_eq!(answer.reference.is_some(), measures);
}
