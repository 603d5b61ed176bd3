//! A set in which something was changed: both of its parts count, as evidence, as repetitions and as work.

use crate::common::asked::{Asked, CATALOGUE, CURL, curls};
use crate::common::{day, dumbbell_set, person};
use bavrek_core::dose::{PerHand, StampedLoad};
use bavrek_core::log::{Changed, LoggedSet};
use bavrek_core::person::Side;
use bavrek_core::progress::CallKind;
use bavrek_core::reps;
use bavrek_core::review::{Done, side_gaps, weeks};
use bavrek_core::strength::Ledger;
use bavrek_core::units::{Kilograms, MassUnit};
use proptest::prelude::*;
use rstest::rstest;

/// A set of `reps` curls that began with so many kilograms and went on with others after some of them.
fn changed(date: &str, [from, to]: [f64; 2], [after, reps]: [u16; 2], rir: u8) -> LoggedSet {
    let load = StampedLoad { value: to, unit: MassUnit::Kg, per: PerHand::Hand };
    let then = Changed { after, load: Some(load), setup: None, bands: vec![], effective_kg: Kilograms(to) };
    let begun = dumbbell_set("dumbbell_curl", date, from, reps, rir);
    LoggedSet { effective_kg: Some(Kilograms(from)), changed: Some(Box::new(then)), ..begun }
}

fn level(history: &[LoggedSet]) -> f64 {
    Ledger::replay(&CATALOGUE, &person(), history, None)
        .predict(CATALOGUE.movement("dumbbell_curl").unwrap())
        .mean
        .exp()
}

/// What is possible on one load is possible on another by the relation of repetitions and load: half of either is half a set.
#[rstest]
#[case::to_a_lighter_one([12.0, 10.0], [5, 15])]
#[case::to_a_heavier_one([10.0, 12.0], [5, 12])]
#[case::to_the_same([10.0, 10.0], [5, 12])]
fn the_parts_of_a_set_to_failure_add_up_to_one(#[case] loads: [f64; 2], #[case] counts: [u16; 2]) {
    let [after, all] = counts;
    let set = changed("2026-03-02", loads, [after, all], 0);
    let whole = set.reps_as_begun((Kilograms(loads[0]), Kilograms(0.0)), 2.0).unwrap();
    let other = reps::n_of(reps::g(whole) + (loads[0] / loads[1]).ln() / reps::P);
    let spent = f64::from(after) / whole + f64::from(all - after) / other;
    assert!((spent - 1.0).abs() < 1e-6, "{whole} {other} {spent}");
}

/// Between the two sets that it lies between: all of it on the lighter load, and all of it on the heavier one.
#[test]
fn both_parts_are_evidence() {
    let whole = |kg: f64| level(&[dumbbell_set("dumbbell_curl", "2026-03-02", kg, 12, 1)]);
    let mixed = level(&[changed("2026-03-02", [12.0, 10.0], [6, 12], 1)]);
    assert!(whole(10.0) < mixed && mixed < whole(12.0), "{} {mixed} {}", whole(10.0), whole(12.0));
    let later = level(&[changed("2026-03-02", [12.0, 10.0], [10, 12], 1)]);
    assert!(mixed < later && later < whole(12.0), "more of it was done on the heavier one: {mixed} {later}");
}

/// A set that was made lighter is short of what was asked of it; one that was made heavier is more.
#[rstest]
#[case::lighter([10.0, 8.0], [4, 9], CallKind::Hold, 5)]
#[case::lighter_late([10.0, 9.0], [9, 11], CallKind::AddReps, 10)]
#[case::heavier([10.0, 12.0], [5, 13], CallKind::AddLoad, 22)]
fn a_call_reads_it_as_what_it_would_have_been(
    #[case] loads: [f64; 2],
    #[case] reps: [u16; 2],
    #[case] expected: CallKind,
    #[case] as_begun: u16,
) {
    let history: Vec<LoggedSet> = (0..3).map(|_| changed("2026-03-02", loads, reps, 2)).collect();
    let call = Asked::of(CURL, history).call();
    assert_eq!(call.call, expected, "{:?}", call.reasons);
    let told = format!(
        "3 sets of {} + {} (as good as {as_begun} on the first step) with 2 in reserve",
        reps[0],
        reps[1] - reps[0]
    );
    assert!(call.told().iter().any(|r| r.contains(&told)), "{:?}", call.reasons);
}

/// As the same repetitions in one piece would be read, so is one that changed to what it was.
#[test]
fn a_change_to_the_same_changes_nothing() {
    let plain = Asked::of(CURL, curls("2026-03-02", 10.0, &[12; 3], 2)).call();
    let same = (0..3).map(|_| changed("2026-03-02", [10.0, 10.0], [5, 12], 2)).collect();
    let call = Asked::of(CURL, same).call();
    assert_eq!((call.call, call.step), (plain.call, plain.step));
}

#[test]
fn what_was_moved_counts_each_part_on_its_load_and_no_side_is_weaker_by_a_guess() {
    let sided = |side: Side, [from, to]: [f64; 2]| LoggedSet {
        side: Some(side),
        ..changed("2026-03-02", [from, to], [4, 10], 1)
    };
    let sets = [sided(Side::Left, [10.0, 8.0]), sided(Side::Right, [10.0, 12.0])];
    let done: Vec<Done<'_>> = sets.iter().map(|set| Done { set, place: None }).collect();
    let range = [day("2026-03-02"), day("2026-03-02")];
    let week = &weeks(&CATALOGUE, &done, range, 0.5)[0];
    assert!((week.moved_kg - (40.0 + 48.0 + 40.0 + 72.0)).abs() < 1e-9, "{}", week.moved_kg);
    assert_eq!(week.reps, 20);
    let days: Vec<LoggedSet> = ["2026-03-02", "2026-03-05", "2026-03-09", "2026-03-12"]
        .iter()
        .flat_map(|date| sets.clone().map(|set| LoggedSet { date: day(date), ..set }))
        .collect();
    let done: Vec<Done<'_>> = days.iter().map(|set| Done { set, place: None }).collect();
    let gaps = side_gaps(&CATALOGUE, &done, [day("2026-03-02"), day("2026-03-12")]);
    assert_eq!(gaps, []);
    let plain: Vec<LoggedSet> = days.iter().map(|set| LoggedSet { changed: None, ..set.clone() }).collect();
    let done: Vec<Done<'_>> = plain.iter().map(|set| Done { set, place: None }).collect();
    assert_eq!(side_gaps(&CATALOGUE, &done, [day("2026-03-02"), day("2026-03-12")]).len(), 1, "both sides were done");
}

#[rstest]
#[case::all_of_it(12, 12, "changed.after")]
#[case::none_of_it(0, 12, "changed.after")]
#[case::beyond(13, 12, "changed.after")]
fn a_change_lies_within_the_set(#[case] after: u16, #[case] reps: u16, #[case] path: &str) {
    let set = changed("2026-03-02", [10.0, 8.0], [after, reps], 1);
    assert_eq!(set.validate().unwrap_err().path, path);
}

#[test]
fn what_is_held_or_weighs_nothing_cannot_be_changed_within() {
    let good = changed("2026-03-02", [10.0, 8.0], [5, 12], 1);
    assert!(good.validate().is_ok());
    let held = LoggedSet { reps: None, seconds: Some(30), ..good.clone() };
    assert_eq!(held.validate().unwrap_err().path, "changed");
    for kg in [0.0, -1.0, f64::NAN, 1e9] {
        let mut odd = good.clone();
        odd.changed.as_mut().unwrap().effective_kg = Kilograms(kg);
        assert_eq!(odd.validate().unwrap_err().path, "changed.effective_kg", "{kg}");
    }
    let kept = serde_json::to_value(&good).unwrap();
    assert_eq!(serde_json::from_value::<LoggedSet>(kept).unwrap(), good);
}

/// The arm is lifted with what is in the hand: twice the weight is not twice the load of a raise.
#[test]
fn the_arm_counts_on_both_loads() {
    let set = changed("2026-03-02", [2.0, 4.0], [10, 12], 2);
    let of = |arm: f64| set.reps_as_begun((Kilograms(2.0), Kilograms(arm)), 2.0).unwrap();
    assert!(of(1.4) < 0.75 * of(0.0), "{} {}", of(1.4), of(0.0));
    let raise = LoggedSet { exercise: "front_raise".into(), ..set.clone() };
    let wanted = r#"{"pattern":"front_raise","regions":{"delt_front":1.0},"reps":[8,12],"rir":2,"sets":3}"#;
    let call = Asked::of(wanted, vec![raise; 3]).call();
    let arm = CATALOGUE.movement("front_raise").unwrap().rig.own_arm(person().body_mass_kg);
    let expected = format!("as good as {:.0} on the first step", of(arm.value()));
    assert!(call.told()[0].contains(&expected), "{expected}: {:?}", call.reasons);
}

proptest! {
    /// Never more than all of them on the lighter load would have been, nor fewer than were done before the change; and the
    /// harder the rest was made, the more they count.
    #[test]
    fn repetitions_as_begun_lie_where_they_must(after in 1_u16..20, more in 1_u16..20, rir in 0.0..4.0_f64, ratio in -0.5..0.5_f64) {
        let parts = [f64::from(after), f64::from(more)];
        let found = reps::as_begun(parts, rir, ratio);
        prop_assert!(found.is_finite() && found >= parts[0]);
        let all = parts[0] + parts[1];
        prop_assert!(if ratio > 0.0 { found >= all - 1e-6 } else { found <= all + 1e-6 }, "{found}");
        prop_assert!(reps::as_begun(parts, rir, ratio + 0.05) >= found - 1e-6);
    }
}
