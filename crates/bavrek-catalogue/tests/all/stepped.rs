//! Sets on other steps than their line's own: read, written, found on a ladder, timed, and left out of what decides the line's step.

use crate::common::asked::{Asked, CATALOGUE, PRESS, session};
use crate::common::{dumbbell_set, intent, kit, person};
use bavrek_core::between::HeldBack;
use bavrek_core::calendar::light_dose;
use bavrek_core::dose::notation::{Usual, read};
use bavrek_core::dose::{PerHand, Prescription, SetKind, SetPlan, StampedLoad, Tempo};
use bavrek_core::ladder::{Ladder, moved};
use bavrek_core::log::LoggedSet;
use bavrek_core::person::Side;
use bavrek_core::plan::BlockKind;
use bavrek_core::progress::CallKind;
use bavrek_core::script::{Block, Script, Station};
use bavrek_core::stepped::{Short, landing};
use bavrek_core::units::MassUnit;
use proptest::prelude::*;
use rstest::rstest;

fn dose(line: &str) -> Prescription {
    read(line).unwrap().filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 })
}

fn steps(dose: &Prescription) -> Vec<i8> {
    dose.sets.iter().map(|set| set.step).collect()
}

#[rstest]
#[case::rising("12-10-8, each a step up", &[0, 1, 2], "each a step up")]
#[case::falling("3 x 8-12, each a step down", &[0, -1, -2], "each a step down")]
#[case::a_lighter_last("4 x 8, last a step down", &[0, 0, 0, -1], "last a step down")]
#[case::two_down("3 x 8, the last two steps lighter", &[0, 0, -2], "last 2 steps down")]
#[case::dropped("2 x 8-12, then max a step down", &[0, 0, -1], "then max a step down")]
#[case::dropped_twice("2 x 8-12, then max a step down, then max 2 steps down", &[0, 0, -1, -3], "then max a step down, then max 2 steps down")]
#[case::dropped_and_gone_on("2 x 8-12, then max a step down, then max", &[0, 0, -1, -1], "then max a step down, then max, rest")]
#[case::rising_then_dropped("10-8-6, each a step up, then max 2 steps down", &[0, 1, 2, 0], "each a step up, then max 2 steps down")]
#[case::up_and_down("12-8-12, steps 0/1/0", &[0, 1, 0], "steps 0/1/0")]
#[case::all_alike("3 x 8", &[0, 0, 0], "2 in reserve, rest")]
#[case::at_the_same("3 x 8, then max", &[0, 0, 0, 0], "then max, rest")]
fn sets_on_other_steps_are_read_and_written(#[case] line: &str, #[case] expected: &[i8], #[case] text: &str) {
    let once = dose(line);
    assert_eq!(steps(&once), expected);
    assert!(once.text().contains(text), "{}", once.text());
    assert_eq!(dose(&once.text()), once, "what is written is read back");
}

#[rstest]
#[case::too_many("7 x 3, each a step up", "-5 to 5")]
#[case::nowhere("3 x 8, each a step sideways", "each a step sideways")]
#[case::no_number("3 x 8, last many steps down", "last many steps down")]
#[case::no_steps("3 x 8, steps up/up/up", "steps up/up/up")]
#[case::of_fewer_sets("3 x 8, steps 0/1", "of 2 sets, and there are 3")]
#[case::of_more_sets("2 x 8, then max, steps 0/1/2", "of 3 sets, and there are 2")]
#[case::four_after_each_other("3 x 8, then max, then max, then max, then max", "at most 3 sets to the end")]
#[case::dropped_below_all("3 x 8, then max 3 steps down, then max 3 steps down", "-5 to 5")]
fn what_cannot_be_is_refused_by_its_word(#[case] line: &str, #[case] says: &str) {
    assert!(read(line).unwrap_err().message.contains(says));
}

/// A load is stated of the sets on the line's own step alone.
#[test]
fn a_load_is_stated_of_the_own_step_alone() {
    let load = StampedLoad { value: 10.0, unit: MassUnit::Kg, per: PerHand::Hand };
    let loads: Vec<_> = dose("12-10-8, each a step up").loaded(Some(load)).sets.iter().map(|s| s.load).collect();
    assert_eq!(loads, [Some(load), None, None]);
}

fn presses(pairs: &str) -> Vec<bavrek_core::ladder::LadderStep> {
    let room = kit(&format!(
        r#"[{{"kind":"dumbbells","unit":"kg","pairs":[{pairs}]}},{{"kind":"bench","angles_deg":[0]}},{{"kind":"loop_band","width_m":0.013,"flat_length_m":1.04}}]"#
    ));
    Ladder::of(CATALOGUE.movement("dumbbell_bench_press").unwrap(), &person(), &room).steps
}

/// Weights go on to weights, wide gaps are not jumped, and nothing lies beyond the ends.
#[rstest]
#[case::up("10,12,14,16", 12.0, 1, 14.0)]
#[case::two_up("10,12,14,16", 12.0, 2, 16.0)]
#[case::down("10,12,14,16", 12.0, -1, 10.0)]
#[case::no_farther_than_there_are("10,12,14,16", 12.0, -4, 10.0)]
#[case::nothing_above("10,12,14,16", 16.0, 1, 16.0)]
#[case::over_no_gap("8,20", 8.0, 1, 8.0)]
#[case::down_a_third("8,12", 12.0, -1, 8.0)]
#[case::down_no_gap_either("4,14", 14.0, -1, 14.0)]
fn another_step_is_found_on_the_ladder(#[case] pairs: &str, #[case] from: f64, #[case] by: i8, #[case] to: f64) {
    let steps = presses(pairs);
    let plain = |kg: f64| steps.iter().position(|s| s.bands.is_empty() && s.effective_kg.value() == kg).unwrap();
    assert_eq!(steps[moved(&steps, plain(from), by)].label, steps[plain(to)].label);
}

/// Whatever holds the load back, nothing is done above the own step, and down is free.
#[test]
fn what_is_held_back_is_done_on_the_own_step() {
    let steps = presses("10,12,14,16");
    let at = steps.iter().position(|s| s.label == "pair of 12 kg").unwrap();
    let set = |by: i8| SetPlan { step: by, ..SetPlan::straight([8, 12], Some(2), Tempo::USUAL, 90) };
    for held in HeldBack::ALL {
        for by in 1..=5 {
            assert_eq!(landing(&steps, at, &set(by), Some(*held)), (at, Some(Short::Held(*held))), "{held} {by}");
        }
        for by in -5..=0 {
            assert_eq!(landing(&steps, at, &set(by), Some(*held)), landing(&steps, at, &set(by), None), "{held} {by}");
        }
    }
    let label = |by: i8| steps[landing(&steps, at, &set(by), None).0].label.as_str();
    assert_eq!([label(-1), label(0), label(2)], ["pair of 10 kg", "pair of 12 kg", "pair of 16 kg"]);
    let short = |by: i8| landing(&steps, at, &set(by), None).1;
    let expected = [(-2, Some(Short::NothingBelow)), (-1, None), (0, None), (2, None), (3, Some(Short::NothingAbove))];
    for (by, why) in expected {
        assert_eq!(short(by), why, "{by}");
    }
}

proptest! {
    /// Over all movements in a room of everything: down is never heavier nor over more than a third a step, up never lighter nor over
    /// more than a quarter.
    #[test]
    fn moving_keeps_its_way(movement in 0..CATALOGUE.movements.len(), at in 0_usize..200, by in -5_i8..=5) {
        let ladder = Ladder::anywhere(&CATALOGUE.movements[movement], &person());
        prop_assume!(!ladder.steps.is_empty());
        let at = at % ladder.steps.len();
        let to = moved(&ladder.steps, at, by);
        let ratio = ladder.steps[to].effective_kg.value() / ladder.steps[at].effective_kg.value();
        if by <= 0 {
            prop_assert!(ratio <= 1.0 + 1e-9 && ratio >= 0.65_f64.powi(-i32::from(by)) - 1e-9);
        } else {
            prop_assert!(ratio >= 1.0 - 1e-9 && ratio <= 1.25_f64.powi(i32::from(by)) + 1e-9);
        }
    }
}

/// Another weight is taken up between sets of one line, which the script counts as changing over.
#[test]
fn another_step_is_changed_over_to() {
    let movement = CATALOGUE.movement("dumbbell_bench_press").unwrap();
    let step = &presses("10,12,14")[0];
    let turns = |line: &str| {
        let station = Station::of('a', movement, step, dose(line), Side::Left);
        Script::of(&[Block { kind: BlockKind::Straight, stations: vec![station] }]).turns
    };
    let changes = |line: &str| turns(line).iter().skip(1).map(|t| t.change_over.value()).collect::<Vec<_>>();
    let change = f64::from(movement.change_s);
    assert!(change > 0.0);
    assert_eq!(changes("12-10-8, each a step up"), [change, change]);
    assert_eq!(changes("3 x 8, last a step down"), [0.0, change]);
    assert_eq!(changes("3 x 8"), [0.0, 0.0]);
}

/// In a lighter week nothing is done above the line's own step.
#[test]
fn a_lighter_week_has_no_steps_up() {
    assert_eq!(steps(&light_dose(&dose("12-10-8-6, each a step up"))), [0, 0]);
    assert_eq!(steps(&light_dose(&dose("4 x 8, each a step down"))), [0, -1]);
}

// The next step.

fn pyramid(reps: [u16; 3], rir: u8) -> Vec<LoggedSet> {
    [20.0, 22.0, 24.0]
        .iter()
        .zip(reps)
        .map(|(kg, reps)| dumbbell_set("dumbbell_bench_press", "2026-03-02", *kg, reps, rir))
        .collect()
}

/// The line's own step is what its own sets were done on: the heavier ones above it are no reason to call them its load.
#[rstest]
#[case::as_asked([12, 10, 8], 2, CallKind::AddLoad, 22.0)]
#[case::inside([10, 10, 8], 2, CallKind::AddReps, 20.0)]
#[case::the_own_set_failed([5, 10, 8], 2, CallKind::Hold, 20.0)]
// What was done above the own step says nothing of it.
#[case::the_others_failed([12, 3, 2], 2, CallKind::AddLoad, 22.0)]
fn the_own_step_is_called_by_its_own_sets(
    #[case] reps: [u16; 3],
    #[case] rir: u8,
    #[case] expected: CallKind,
    #[case] to: f64,
) {
    let asked = dose("3 x 8-12, each a step up");
    let wanted = intent(PRESS).dosed(asked.clone());
    let call = Asked { intent: wanted, prescription: Some(asked), ..Asked::of(PRESS, pyramid(reps, rir)) }.call();
    let kg = call.step.as_ref().map(|s| s.effective_kg.value());
    assert_eq!((call.call, kg), (expected, Some(to)), "{:?}", call.reasons);
    assert_eq!(steps(&call.prescription), [0, 1, 2], "the shape of the line stays");
}

/// A set dropped at once after another is no short set of the line.
#[test]
fn what_is_dropped_to_is_no_set_of_the_line() {
    let asked = dose("2 x 8-12, then max a step down");
    let own = session("dumbbell_bench_press", "2026-03-02", 20.0, &[12, 12], 2);
    let after =
        LoggedSet { kind: Some(SetKind::Extension), ..dumbbell_set("dumbbell_bench_press", "2026-03-02", 18.0, 4, 0) };
    let wanted = intent(PRESS).dosed(asked.clone());
    let history = [own, vec![after]].concat();
    let call = Asked { intent: wanted, prescription: Some(asked), ..Asked::of(PRESS, history) }.call();
    assert_eq!(call.call, CallKind::AddLoad, "{:?}", call.reasons);
}
