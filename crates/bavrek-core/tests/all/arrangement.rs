//! Moves on a session: what becomes of its blocks.

use bavrek_core::arrangement::{Arrangement, Days, Joined, Move};
use bavrek_core::plan::BlockKind;
use proptest::prelude::*;
use rstest::rstest;

/// `A B+C D`: blocks by blanks, a superset by `+`, a circuit by `*`.
fn read(text: &str) -> Arrangement<usize, char> {
    let block = |(i, word): (usize, &str)| {
        let kind = match word {
            w if w.contains('+') => BlockKind::Superset,
            w if w.contains('*') => BlockKind::Circuit,
            _ => BlockKind::Straight,
        };
        Joined { id: Some(i), kind, keys: word.chars().filter(|c| c.is_alphabetic()).collect() }
    };
    Arrangement { blocks: text.split(' ').enumerate().map(block).collect() }
}

fn write(arrangement: &Arrangement<usize, char>) -> String {
    let block = |b: &Joined<usize, char>| {
        let joint = match b.kind {
            BlockKind::Superset => "+",
            BlockKind::Circuit => "*",
            BlockKind::Antagonist => "=",
            _ => "-",
        };
        b.keys.iter().map(char::to_string).collect::<Vec<_>>().join(joint)
    };
    arrangement.blocks.iter().map(block).collect::<Vec<_>>().join(" ")
}

#[rstest]
#[case::a_lone_one_goes_before_the_block("A B+C", 'B', Move::Earlier, "B+C A")]
#[case::within_its_block_first("A B+C", 'C', Move::Earlier, "A C+B")]
#[case::later_within_its_block("B+C D", 'B', Move::Later, "C+B D")]
#[case::later_with_its_block("B+C D", 'C', Move::Later, "D B+C")]
#[case::two_become_a_superset("A B C", 'A', Move::Join, "A+B C")]
#[case::the_last_joins_the_one_before("A B C", 'C', Move::Join, "A B+C")]
#[case::a_superset_takes_in_a_third("A+B C", 'A', Move::Join, "A+B+C")]
#[case::a_lone_one_joins_a_circuit("A B*C", 'A', Move::Join, "A*B*C")]
#[case::parted_it_stands_behind("A+B C", 'A', Move::Part, "B A C")]
#[case::out_of_three("A*B*C", 'B', Move::Part, "A*C B")]
#[case::what_is_left_alone_is_straight("A+B", 'B', Move::TakeOut, "A")]
#[case::the_last_goes("A", 'A', Move::TakeOut, "")]
#[case::another_way("A+B", 'A', Move::Kind(BlockKind::Antagonist), "A=B")]
fn a_move_does_what_it_says(#[case] before: &str, #[case] key: char, #[case] change: Move, #[case] after: &str) {
    assert_eq!(write(&read(before).after(key, change).unwrap()), after);
}

#[rstest]
#[case::to_the_front("A B C", 'C', 'A', "C A B")]
#[case::out_of_its_block("A+B C", 'B', 'C', "A B C")]
#[case::before_a_whole_block("A B+C", 'A', 'C', "A B+C")]
#[case::out_of_a_block_before_it("A+B C", 'B', 'A', "B A C")]
#[case::from_behind_a_block("A*B*C D", 'D', 'B', "D A*B*C")]
fn dropped_before_another_it_stands_alone(
    #[case] before: &str,
    #[case] key: char,
    #[case] other: char,
    #[case] after: &str,
) {
    let laid = read(before);
    assert_eq!(write(&laid.before(key, other).unwrap_or(laid)), after);
}

#[rstest]
#[case::two_alone("A B C", 'C', 'A', "A+C B")]
#[case::into_a_circuit("A B*C", 'A', 'B', "B*A*C")]
#[case::from_block_to_block("A+B C+D", 'B', 'C', "A C+B+D")]
#[case::within_its_block("A*B*C", 'A', 'C', "B*C*A")]
fn dropped_onto_another_it_joins_it(#[case] before: &str, #[case] key: char, #[case] other: char, #[case] after: &str) {
    assert_eq!(write(&read(before).with(key, other).unwrap()), after);
}

#[rstest]
#[case('A', 'A')]
#[case('Z', 'A')]
#[case('A', 'Z')]
fn dropped_onto_itself_or_nowhere_nothing_moves(#[case] key: char, #[case] other: char) {
    let laid = read("A B+C");
    assert_eq!((laid.before(key, other), laid.with(key, other)), (None, None));
}

#[rstest]
#[case::the_first_cannot_go_earlier("A B", 'A', Move::Earlier)]
#[case::the_last_cannot_go_later("A B", 'B', Move::Later)]
#[case::alone_there_is_nobody_to_join("A+B", 'A', Move::Join)]
#[case::a_lone_one_cannot_be_parted("A B", 'A', Move::Part)]
#[case::a_lone_one_has_no_way_but_straight("A B", 'A', Move::Kind(BlockKind::Circuit))]
#[case::it_is_that_already("A+B", 'A', Move::Kind(BlockKind::Superset))]
#[case::nobody_of_that_name("A B", 'Z', Move::Earlier)]
fn a_move_that_changes_nothing_is_none(#[case] before: &str, #[case] key: char, #[case] change: Move) {
    assert_eq!(read(before).after(key, change), None);
}

proptest! {
    /// Whatever is moved, nobody is lost or doubled, no block is empty, and a lone station is straight.
    #[test]
    fn nobody_is_lost(moves in proptest::collection::vec((0usize..6, 0usize..5), 0..30)) {
        let mut arrangement = read("A B+C D*E*F");
        for (who, what) in moves {
            let key = ['A', 'B', 'C', 'D', 'E', 'F'][who];
            let change = [Move::Earlier, Move::Later, Move::Join, Move::Part, Move::Kind(BlockKind::Antagonist)][what];
            arrangement = arrangement.after(key, change).unwrap_or(arrangement);
            let mut all: Vec<char> = arrangement.blocks.iter().flat_map(|b| b.keys.clone()).collect();
            all.sort_unstable();
            prop_assert_eq!(all, vec!['A', 'B', 'C', 'D', 'E', 'F']);
            prop_assert!(arrangement.blocks.iter().all(|b| !b.keys.is_empty()));
            prop_assert!(arrangement.blocks.iter().all(|b| b.keys.len() > 1 || b.kind == BlockKind::Straight));
        }
    }
}

fn days(text: &str) -> Days<usize, char> {
    Days { days: text.split('|').map(|day| read(day.trim())).collect() }
}

fn write_days(days: &Days<usize, char>) -> String {
    days.days.iter().map(write).collect::<Vec<_>>().join(" | ")
}

#[rstest]
#[case::to_another_day("A B | C", 'A', "B | C A")]
#[case::out_of_a_block("A+B | C", 'B', "A | C B")]
#[case::the_last_of_its_day("A | C", 'A', " | C A")]
fn a_station_goes_to_another_day(#[case] before: &str, #[case] key: char, #[case] after: &str) {
    assert_eq!(write_days(&days(before).onto_day(key, 1).unwrap()), after);
}

#[rstest]
#[case::before("A B | C D", 'A', 'C', false, "B | A C D")]
#[case::onto("A B | C D", 'A', 'C', true, "B | C+A D")]
#[case::onto_a_pair("A | C+D E", 'A', 'C', true, " | C+A+D E")]
#[case::within_a_day("A B | C D", 'D', 'C', false, "A B | D C")]
#[case::back("A | B", 'B', 'A', true, "A+B | ")]
fn a_station_is_dropped_on_another_day(
    #[case] before: &str,
    #[case] key: char,
    #[case] other: char,
    #[case] onto: bool,
    #[case] after: &str,
) {
    let before = days(before);
    let moved = if onto { before.with(key, other) } else { before.before(key, other) };
    assert_eq!(write_days(&moved.unwrap()), after);
}

#[test]
fn what_changes_nothing_is_no_move_between_days() {
    let week = days("A B | C");
    assert_eq!(week.onto_day('A', 0), None);
    assert_eq!(week.onto_day('A', 7), None);
    assert_eq!(week.onto_day('X', 1), None);
    assert_eq!(week.with('A', 'A'), None);
    assert_eq!(week.after('C', Move::Earlier), None);
    assert_eq!(write_days(&week.after('B', Move::Earlier).unwrap()), "B A | C");
    assert_eq!(write_days(&week.added('N', 1).unwrap()), "A B | C N");
    assert_eq!(week.added('N', 2), None);
}

proptest! {
    /// Whatever goes where, nothing is lost and nothing stands twice.
    #[test]
    fn no_move_between_days_loses_a_station(moves in prop::collection::vec((0_usize..6, 0_usize..6, 0_usize..4), 0..40)) {
        let mut week = days("A B+C | D | E*F");
        let keys = ['A', 'B', 'C', 'D', 'E', 'F'];
        for (key, other, what) in moves {
            let moved = match what {
                0 => week.onto_day(keys[key], other % 3),
                1 => week.before(keys[key], keys[other]),
                2 => week.with(keys[key], keys[other]),
                _ => week.after(keys[key], Move::Part),
            };
            week = moved.unwrap_or(week);
            let mut all: Vec<char> =
                week.days.iter().flat_map(|d| &d.blocks).flat_map(|b| b.keys.clone()).collect();
            all.sort_unstable();
            prop_assert_eq!(all, keys.to_vec());
            prop_assert!(week.days.iter().flat_map(|d| &d.blocks).all(|b| !b.keys.is_empty()));
        }
    }
}
