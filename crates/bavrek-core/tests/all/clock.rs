//! The session's clock, against hand-computed sessions.

use bavrek_core::clock::{Clock, Span, SpanKind};
use bavrek_core::dose::notation::{Usual, read};
use bavrek_core::dose::{Prescription, Tempo};
use bavrek_core::person::Side;
use bavrek_core::plan::BlockKind;
use bavrek_core::script::{Block, Script, Station};
use bavrek_core::units::Seconds;
use bavrek_core::warm_up::WarmUp;
use proptest::prelude::*;
use rstest::rstest;

fn dose(line: &str) -> Prescription {
    read(line).unwrap().filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 })
}

fn station(key: usize, line: &str, one_sided: bool) -> Station<usize> {
    let (set_up, change) = (Seconds(30.0), Seconds(10.0));
    Station { key, dose: dose(line), one_sided, first: Side::Left, set_up, change }
}

fn clock(kind: BlockKind, lines: &[(&str, bool)]) -> Clock<usize> {
    let stations = lines.iter().enumerate().map(|(i, (line, one))| station(i, line, *one)).collect();
    Clock::of(&Script::of(&[Block { kind, stations }]), None, Seconds(0.0))
}

/// Total, work, rest, set-up and change, s.
fn parts(clock: &Clock<usize>) -> [f64; 5] {
    let of = |kind| clock.of_kind(kind).value();
    [clock.total().value(), of(SpanKind::Work), of(SpanKind::Rest), of(SpanKind::SetUp), of(SpanKind::Change)]
}

#[rstest]
// 3 sets of 10 at 3 s, two rests of 90 s.
#[case::straight(BlockKind::Straight, &[("3 x 10", false)], [300.0, 90.0, 180.0, 30.0, 0.0])]
// 2 sets of two sides at 24 s; 10 s to change sides, 10 s of the 90 s to go back.
#[case::one_sided(BlockKind::Straight, &[("2 x 8", true)], [30.0 + 4.0 * 24.0 + 20.0 + 90.0, 96.0, 90.0, 30.0, 20.0])]
// A and B by turns: 20 + 30 s a round, no rest within it, 90 s after it; 30 s to set each up, 10 s to go over afterwards.
#[case::superset(BlockKind::Superset, &[("2 x 10 @ 2-0-0-0", false), ("2 x 10", false)],
    [30.0 + 20.0 + 30.0 + 30.0 + 90.0 + 20.0 + 10.0 + 30.0, 100.0, 80.0, 60.0, 20.0])]
// Half of the 90 s after each set; the second is set up within the first of them.
#[case::antagonist(BlockKind::Antagonist, &[("2 x 10", false), ("2 x 10", false)],
    [30.0 + 4.0 * 30.0 + 3.0 * 45.0, 120.0, 15.0 + 35.0 + 35.0, 60.0, 20.0])]
// 45 s each, 15 s to the next round, which is longer than the way over.
#[case::circuit(BlockKind::Circuit, &[("2 x 45 s, rest 15 s", false), ("2 x 45 s, rest 15 s", false)],
    [30.0 + 45.0 + 30.0 + 45.0 + 15.0 + 45.0 + 10.0 + 45.0, 180.0, 5.0, 60.0, 20.0])]
fn a_session_takes_what_its_parts_take(
    #[case] kind: BlockKind,
    #[case] lines: &[(&str, bool)],
    #[case] expected: [f64; 5],
) {
    assert_eq!(parts(&clock(kind, lines)), expected);
}

#[rstest]
#[case::middle_of_the_zone("1 x 8-12 @ 3-1-1-0", 50.0)]
#[case::half_seconds("1 x 10 @ 2-0-1-0.5", 35.0)]
#[case::as_fast_as_control_allows("1 x 6 @ 3-0-X-0", 24.0)]
#[case::a_hold("1 x 45 s", 45.0)]
#[case::mixed("1 x mixed", 4.0 * 2.0 + 16.0 + 3.0 * 9.0)]
#[case::as_many_as_possible("1 x max", 45.0)]
// 50 in four sets of twelve and a half.
#[case::to_a_total("50 in as few sets as possible", 37.5)]
fn a_set_takes_its_work_at_its_tempo(#[case] line: &str, #[case] seconds: f64) {
    assert!((dose(line).sets[0].expected_seconds().value() - seconds).abs() < 1e-9, "{:?}", dose(line).sets[0]);
}

#[test]
fn a_total_takes_the_sets_it_is_expected_to_take() {
    let clock = clock(BlockKind::Straight, &[("50 in as few sets as possible, rest 60 s", false)]);
    assert_eq!(parts(&clock), [30.0 + 150.0 + 180.0, 150.0, 180.0, 30.0, 0.0]);
}

#[test]
fn what_a_round_costs_more_is_paid_in_every_round_but_the_first() {
    let lines = [("3 x 10", false), ("3 x 10", false)];
    let plain = clock(BlockKind::Superset, &lines);
    let slowed = plain.clone().slowed(0, Seconds(30.0));
    assert_eq!(slowed.total().value() - plain.total().value(), 60.0);
    assert_eq!(slowed.of_kind(SpanKind::Change).value() - plain.of_kind(SpanKind::Change).value(), 60.0);
    assert_eq!(plain.clone().slowed(7, Seconds(30.0)), plain, "no such block");
}

#[test]
fn what_goes_before_and_after_counts() {
    let script = Script::of(&[Block { kind: BlockKind::Straight, stations: vec![station(0, "2 x 10", false)] }]);
    let warm_up = WarmUp { general: Seconds(300.0), joints: vec![], ramps: vec![] };
    let clock = Clock::of(&script, Some(&warm_up), Seconds(120.0));
    assert_eq!(clock.total().value(), 300.0 + 30.0 + 30.0 + 90.0 + 30.0 + 120.0);
    let kinds: Vec<SpanKind> = clock.spans.iter().map(|s| s.kind).collect();
    let ids: Vec<&str> = kinds.iter().map(|k| k.id()).collect();
    assert_eq!(ids, ["warm_up", "set_up", "work", "rest", "work", "cool_down"]);
}

proptest! {
    /// One stretch after the other without a gap, and nothing is lost.
    #[test]
    fn stretches_follow_each_other(sets in proptest::collection::vec(1u8..5, 1..5), kind in 0usize..5, reps in 1u16..30) {
        let kind = BlockKind::ALL[kind];
        let stations = sets.iter().enumerate().map(|(i, n)| station(i, &format!("{n} x {reps}"), i % 2 == 1)).collect();
        let script = Script::of(&[Block { kind, stations }]);
        let clock = Clock::of(&script, None, Seconds(0.0)).slowed(0, Seconds(20.0));
        let mut from = 0.0;
        for Span { from: begins, long, .. } in &clock.spans {
            prop_assert!((begins.value() - from).abs() < 1e-9 && long.value() > 0.0);
            from += long.value();
        }
        prop_assert!((clock.total().value() - from).abs() < 1e-9);
        prop_assert!((clock.of_block(0).value() - from).abs() < 1e-9);
        let turns = sets.iter().enumerate().map(|(i, n)| usize::from(*n) * if i % 2 == 1 { 2 } else { 1 }).sum::<usize>();
        prop_assert_eq!(clock.spans.iter().filter(|s| s.kind == SpanKind::Work).count(), turns);
    }
}
