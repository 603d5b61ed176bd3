//! What a trainer chose for a line: a part of the range changes load and curve, is no fault, and says nothing of the whole.

use crate::common::asked::{Asked, CATALOGUE, CURL, RACK, curls, kg};
use crate::common::{intent, kit};
use bavrek_core::anatomy::Pattern;
use bavrek_core::execution::{Elbows, Execution, RangePart};
use bavrek_core::fit::{Fitter, Room};
use bavrek_core::kit::full_room;
use bavrek_core::ladder::Ladder;
use bavrek_core::log::{LoggedSet, Observation};
use bavrek_core::movement::Style;
use bavrek_core::person::Person;
use bavrek_core::plan::Intent;
use bavrek_core::progress::CallKind;
use bavrek_core::rigging::{Rigged, Setup};
use bavrek_core::strength::Ledger;
use bavrek_core::wording::told;
use rstest::rstest;
use std::collections::BTreeMap;

fn cut(part: RangePart) -> Intent {
    let usual = Intent::of(Pattern::HorizontalPress, BTreeMap::new());
    Intent { execution: Execution { range: Some(part), ..Execution::USUAL }, ..usual }
}

fn halved(set: LoggedSet, part: RangePart) -> LoggedSet {
    LoggedSet { setup: Some(Setup { range: Some(part), ..Setup::default() }), ..set }
}

#[rstest]
fn every_movement_is_cut_or_left_whole_and_ladder_and_rig_agree(
    #[values(RangePart::LengthenedHalf, RangePart::ShortenedHalf, RangePart::ShortOfLockOut)] part: RangePart,
) {
    let (person, room) = (Person::default_figure(), full_room());
    let mut seen = 0;
    for movement in &CATALOGUE.movements {
        let line = cut(part);
        let whole = Ladder::of(movement, &person, &room);
        let ladder = Ladder::of_line(movement, &person, &room, &line);
        if line.part_for(movement).is_none() {
            assert_eq!(ladder, whole, "{}", movement.id);
            continue;
        }
        assert!(!movement.rig.is_resisted() && movement.style != Style::Hold, "{}", movement.id);
        for step in &ladder.steps {
            let rig = Rigged::new(movement, &person, step.setup).load(&step.loads(&room)).unwrap();
            assert!(
                (rig.effective().value() - step.effective_kg.value()).abs() < 1e-9,
                "{}: {}",
                movement.id,
                step.label
            );
            assert!((step.thirds.iter().sum::<f64>() - 1.0).abs() < 1e-9, "{}: {}", movement.id, step.label);
            assert!(step.effective_kg.value() > 0.0 && step.label.ends_with(part.label()), "{}", step.label);
            let from = whole.steps.iter().find(|s| s.is_alike(step)).unwrap();
            if step.bands.is_empty() && movement.is_weighed() && step.load.is_some() {
                let same = (step.effective_kg.value() / from.effective_kg.value() - 1.0).abs() < 1e-6;
                assert!(same, "a weight weighs the same in half of the way: {}", movement.id);
            }
            seen += 1;
        }
        assert!(ladder.steps.windows(2).all(|p| p[0].effective_kg <= p[1].effective_kg), "{}", movement.id);
    }
    assert!(seen > 500, "{seen}");
}

#[test]
fn a_band_asks_less_where_it_is_short_and_more_where_it_is_long() {
    let person = Person::default_figure();
    let room = kit(r#"[{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}]"#);
    let curl = CATALOGUE.movement("band_curl").unwrap();
    let whole = Ladder::of(curl, &person, &room);
    let first = &whole.steps[0];
    let of = |part| {
        let ladder = Ladder::of_line(curl, &person, &room, &cut(part));
        ladder.steps.into_iter().find(|s| s.is_alike(first)).unwrap()
    };
    let (early, late) = (of(RangePart::LengthenedHalf), of(RangePart::ShortenedHalf));
    assert!(early.effective_kg < first.effective_kg && first.effective_kg < late.effective_kg);
    assert!(early.thirds[0] > first.thirds[0] && late.thirds[2] > first.thirds[2]);
}

#[test]
fn only_presses_and_extensions_stop_short_of_lock_out() {
    let line = cut(RangePart::ShortOfLockOut);
    let stops = |id: &str| line.part_for(CATALOGUE.movement(id).unwrap()).is_some();
    assert!(stops("push_up") && stops("dumbbell_bench_press") && stops("overhead_extension"));
    assert!(!stops("dumbbell_curl") && !stops("dumbbell_row") && !stops("dumbbell_bench_fly"));
}

#[test]
fn half_a_range_says_nothing_of_the_whole_and_stopping_short_does() {
    let person = Person::default_figure();
    let sets = curls("2026-03-02", 14.0, &[12, 12], 2);
    let curl = CATALOGUE.movement("dumbbell_curl").unwrap();
    let of = |sets: &[LoggedSet]| Ledger::replay(&CATALOGUE, &person, sets, None);
    let half: Vec<_> = sets.iter().cloned().map(|s| halved(s, RangePart::LengthenedHalf)).collect();
    assert!(of(&sets).has_evidence(curl));
    assert!(!of(&half).has_evidence(curl));
    assert_eq!(of(&half).notes().len(), 1);
    let note = of(&half).notes()[0].to_string();
    assert!(note.starts_with("2 sets left out: in half of the range"), "{note}");
    let nearly: Vec<_> = sets.into_iter().map(|s| halved(s, RangePart::ShortOfLockOut)).collect();
    assert!(of(&nearly).has_evidence(curl));
}

#[test]
fn a_chosen_half_is_no_range_cut_short_and_is_compared_with_itself_alone() {
    let seen = |part: Option<RangePart>| {
        let sets = curls("2026-03-04", 10.0, &[10, 10, 10], 2).into_iter();
        sets.map(move |s| LoggedSet {
            seen: vec![Observation::RangeShort],
            setup: Some(Setup { range: part, ..Setup::default() }),
            ..s
        })
    };
    let whole = Asked::of(CURL, seen(None).collect()).call();
    assert_eq!(whole.call, CallKind::Ease, "{:?}", whole.reasons);
    let line = Intent { execution: cut(RangePart::LengthenedHalf).execution, ..intent(CURL) };
    let history: Vec<_> = seen(Some(RangePart::LengthenedHalf)).collect();
    let half = Asked { intent: line, ..Asked::of(CURL, history.clone()) }.call();
    assert!(!matches!(half.call, CallKind::Ease | CallKind::Swap), "{:?} {:?}", half.call, half.reasons);
    assert!((kg(&half) - 10.0).abs() < 1e-6, "{}", kg(&half));
    // The same sets say nothing of a line that goes through the whole.
    let other = Asked::of(CURL, history).call();
    assert!(other.told().iter().any(|r| r == "no set is logged yet in this part of the range"), "{:?}", other.reasons);
}

#[test]
fn the_choice_stands_in_the_fit_and_survives_the_movement() {
    let (person, room) = (crate::common::person(), kit(RACK));
    let fitter = Fitter::new(&CATALOGUE, Room::plain(&person, &room), &[], None);
    let line = Intent { execution: cut(RangePart::ShortenedHalf).execution, ..intent(CURL) };
    let answer = fitter.fit(&line);
    let counted: Vec<_> = answer.candidates.iter().filter(|c| c.movement.style == Style::Reps).collect();
    assert!(counted.len() > 3);
    for candidate in counted.into_iter().filter(|c| !c.movement.rig.is_resisted()) {
        let name = &candidate.movement.name;
        assert_eq!(candidate.step().setup.range, Some(RangePart::ShortenedHalf), "{name}");
        assert!(told(&candidate.reasons).iter().any(|r| r.starts_with("the shortened half: ")), "{name}");
    }
    assert!(fitter.fit(&intent(CURL)).candidates.iter().all(|c| c.step().setup.range.is_none()));
}

#[rstest]
#[case::nothing(Execution::USUAL, true, "Curl it.")]
#[case::own(Execution { cue: Some("Slow!".into()), ..Execution::USUAL }, true, "Slow!")]
#[case::half(Execution { range: Some(RangePart::LengthenedHalf), ..Execution::USUAL }, true, "Curl it. Only the lengthened half.")]
#[case::lock_out(Execution { range: Some(RangePart::ShortOfLockOut), ..Execution::USUAL }, true, "Curl it. Stop short of lock-out.")]
#[case::not_cut(Execution { range: Some(RangePart::ShortOfLockOut), ..Execution::USUAL }, false, "Curl it.")]
#[case::all(
    Execution { elbows: Some(Elbows::Tucked), cue: Some("Slow!".into()), range: Some(RangePart::ShortenedHalf) },
    true,
    "Slow! Only the shortened half. Elbows at the sides."
)]
fn what_is_said_is_the_trainers_own(#[case] execution: Execution, #[case] cut: bool, #[case] said: &str) {
    assert_eq!(execution.cue("Curl it.", cut), said);
}

#[rstest]
#[case("   ", "says nothing")]
#[case(&"x".repeat(241), "at most 240")]
fn a_cue_that_cannot_be_kept_is_refused(#[case] cue: &str, #[case] why: &str) {
    let execution = Execution { cue: Some(cue.into()), ..Execution::USUAL };
    let refused = Intent { execution, ..intent(CURL) }.validate().unwrap_err();
    assert_eq!(refused.path, "execution.cue");
    assert!(refused.message.contains(why), "{}", refused.message);
}
