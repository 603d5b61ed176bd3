//! A session cut to a budget: what goes first, what never goes, and what is put back.

use std::collections::BTreeMap;

use bavrek_core::aims::Aim;
use bavrek_core::anatomy::Pattern;
use bavrek_core::clock::Clock;
use bavrek_core::dose::notation::{Usual, read};
use bavrek_core::dose::{Prescription, Tempo};
use bavrek_core::person::Side;
use bavrek_core::plan::BlockKind;
use bavrek_core::script::{Block, Script, Station};
use bavrek_core::shorten::{Blocks, Cut, Line, Means, Shorter, shorten};
use bavrek_core::units::Seconds;
use proptest::prelude::*;
use rstest::rstest;

fn line(key: usize, pattern: Pattern, aim: Aim, dose: &str) -> Line<usize> {
    let dose = read(dose).unwrap().filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 120 });
    Line { key, pattern, aim, works: 2.0, spare: false, optional: None, dose }
}

fn straight(lines: &[Line<usize>]) -> Blocks<usize> {
    lines.iter().map(|l| (BlockKind::Straight, vec![l.key])).collect()
}

fn measure(blocks: &Blocks<usize>, doses: &BTreeMap<usize, Prescription>) -> Seconds {
    let station = |key: &usize| Station {
        key: *key,
        dose: doses[key].clone(),
        one_sided: false,
        first: Side::Left,
        set_up: Seconds(30.0),
        change: Seconds(10.0),
    };
    let block =
        |(kind, keys): &(BlockKind, Vec<usize>)| Block { kind: *kind, stations: keys.iter().map(station).collect() };
    Clock::of(&Script::of(&blocks.iter().map(block).collect::<Vec<_>>()), None, Seconds(0.0)).total()
}

fn cut(lines: &[Line<usize>], minutes: f64, allowed: &[Means]) -> Shorter<usize> {
    shorten(lines, &straight(lines), Seconds(60.0 * minutes), allowed, measure)
}

fn five() -> Vec<Line<usize>> {
    vec![
        line(0, Pattern::HorizontalPress, Aim::Focus, "4 x 8-10"),
        line(1, Pattern::CloseRow, Aim::Grow, "4 x 8-10"),
        line(2, Pattern::SideRaise, Aim::Grow, "3 x 12-15"),
        line(3, Pattern::ElbowFlexion, Aim::Keep, "3 x 10-12"),
        line(4, Pattern::ElbowExtension, Aim::Keep, "3 x 10-12"),
    ]
}

#[test]
fn what_works_against_each_other_takes_turns_first() {
    let lines = five();
    let before = measure(&straight(&lines), &lines.iter().map(|l| (l.key, l.dose.clone())).collect()).value();
    let found = cut(&lines, before / 60.0 - 4.0, Means::ALL);
    assert!(found.cuts.iter().all(|(c, _)| matches!(c, Cut::Pair(..))), "{:?}", found.cuts);
    assert!(found.total.value() <= before - 240.0);
    let pair = found.blocks.iter().find(|(kind, _)| *kind == BlockKind::Antagonist).unwrap();
    assert!(pair.1 == [0, 1] || pair.1 == [3, 4], "{pair:?}");
}

#[test]
fn sets_go_where_they_matter_least_and_two_stay() {
    let lines = five();
    let found = cut(&lines, 1.0, &[Means::Sets]);
    assert!(found.doses.values().all(|d| d.sets.len() == 2), "{:?}", found.cuts);
    let first: Vec<_> = found.cuts.iter().take(2).map(|(c, _)| *c).collect();
    assert!(first.iter().all(|c| matches!(c, Cut::Set(3 | 4))), "what is only kept goes first: {first:?}");
    assert!(found.total.value() > 60.0, "what cannot be reached is not claimed");
}

/// What may be left out goes before what grows less, as long as enough like it stay.
#[rstest]
#[case::any(&[(1, 0)], Some(1))]
#[case::none_of_them(&[], Some(4))]
#[case::one_of_two_is_to_be_done(&[(1, 1), (2, 0)], Some(2))]
#[case::both_are_to_be_done(&[(1, 2), (2, 0)], Some(4))]
fn what_may_be_left_out_goes_first(#[case] optional: &[(usize, u8)], #[case] first: Option<usize>) {
    let mut lines = five();
    for (key, wanted) in optional {
        lines[*key].optional = Some(*wanted);
    }
    let before = measure(&straight(&lines), &lines.iter().map(|l| (l.key, l.dose.clone())).collect()).value();
    let found = cut(&lines, before / 60.0 - 1.0, &[Means::Lines]);
    let left = found.cuts.first().and_then(|(cut, _)| if let Cut::Leave(key) = cut { Some(*key) } else { None });
    assert_eq!(left, first, "{:?}", found.cuts);
    assert_eq!(found.cuts.len(), 1);
}

#[rstest]
#[case::heavy("3 x 5", 120)]
#[case::middling("3 x 8", 75)]
#[case::long("3 x 15", 45)]
fn rests_are_not_cut_below_what_the_repetitions_ask(#[case] dose: &str, #[case] least: u16) {
    let lines = [line(0, Pattern::HorizontalPress, Aim::Grow, &format!("{dose}, rest 180 s"))];
    let found = cut(&lines, 1.0, &[Means::Rests]);
    assert!(found.doses[&0].sets.iter().all(|s| s.rest_s == least));
}

#[test]
fn the_last_set_keeps_its_stop_rule_and_lines_leave_last() {
    let lines = vec![
        line(0, Pattern::SideRaise, Aim::Grow, "4 x 12, 2 in reserve, last to failure"),
        line(1, Pattern::FrontRaise, Aim::Keep, "4 x 12"),
        line(2, Pattern::Shrug, Aim::Focus, "4 x 12"),
    ];
    let found = cut(&lines, 1.0, &[Means::Sets]);
    assert_eq!(found.doses[&0].sets.iter().map(|s| s.rir).collect::<Vec<_>>(), [Some(2), Some(0)]);
    let found = cut(&lines, 1.0, &[Means::Lines]);
    assert_eq!(found.doses.keys().copied().collect::<Vec<_>>(), [0, 2], "two lines stay, and the focus among them");
}

#[test]
fn what_works_more_stays_longer() {
    let curl = Line { works: 1.0, ..line(0, Pattern::ElbowFlexion, Aim::Grow, "3 x 10") };
    let row = Line { works: 3.0, ..line(1, Pattern::SideRaise, Aim::Grow, "3 x 10") };
    let raise = Line { works: 2.0, ..line(2, Pattern::FrontRaise, Aim::Grow, "3 x 10") };
    let found = cut(&[row, curl, raise], 13.0, &[Means::Lines]);
    assert_eq!(found.cuts.iter().map(|(c, _)| *c).collect::<Vec<_>>(), [Cut::Leave(0)]);
}

#[test]
fn what_fits_already_is_left_alone() {
    let lines = five();
    let found = cut(&lines, 90.0, Means::ALL);
    assert_eq!((found.cuts.len(), found.blocks), (0, straight(&lines)));
    assert!(lines.iter().all(|l| found.doses[&l.key] == l.dose));
}

const PATTERNS: [Pattern; 6] = [
    Pattern::HorizontalPress,
    Pattern::WideRow,
    Pattern::ElbowFlexion,
    Pattern::ElbowExtension,
    Pattern::SideRaise,
    Pattern::OverheadPress,
];

proptest! {
    /// Whatever the session and the budget: each cut saves what it says, none is needless, and what stays is a session.
    #[test]
    fn every_cut_saves_what_it_says_and_is_needed(
        drawn in prop::collection::vec((0_usize..6, 0_usize..3, 1_u8..6, 4_u16..20), 1..7),
        minutes in 5.0_f64..60.0,
    ) {
        let lines: Vec<_> = drawn.iter().enumerate().map(|(i, (pattern, aim, sets, reps))| {
            line(i, PATTERNS[*pattern], Aim::ALL[*aim], &format!("{sets} x {reps}"))
        }).collect();
        let whole = measure(&straight(&lines), &lines.iter().map(|l| (l.key, l.dose.clone())).collect()).value();
        let found = cut(&lines, minutes, Means::ALL);
        let saved: f64 = found.cuts.iter().map(|(_, s)| s.value()).sum();
        prop_assert!((whole - saved - found.total.value()).abs() < 1e-6);
        prop_assert!((measure(&found.blocks, &found.doses).value() - found.total.value()).abs() < 1e-6);
        prop_assert!(found.doses.len() >= lines.len().min(2));
        prop_assert!(found.blocks.iter().flat_map(|(_, keys)| keys).all(|k| found.doses.contains_key(k)));
        prop_assert!(found.doses.iter().all(|(k, d)| d.sets.len() >= lines[*k].dose.sets.len().min(2)));
        if whole <= minutes * 60.0 {
            prop_assert!(found.cuts.is_empty());
        }
    }
}
