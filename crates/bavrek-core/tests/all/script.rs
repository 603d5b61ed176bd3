//! The script of a workout: order, sides, rests, and what comes next whatever was done.

use bavrek_core::dose::notation::{Usual, read};
use bavrek_core::dose::{Prescription, Tempo};
use bavrek_core::log::LoggedSet;
use bavrek_core::person::Side;
use bavrek_core::plan::BlockKind;
use bavrek_core::script::{Block, DoneTurn, Script, Station, WorkoutState, first_side};
use bavrek_core::units::Seconds;
use chrono::{Duration, NaiveDate};
use proptest::prelude::*;
use rstest::rstest;

fn dose(line: &str) -> Prescription {
    read(line).unwrap().filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 })
}

fn station(key: char, line: &str, one_sided: bool) -> Station<char> {
    Station { key, dose: dose(line), one_sided, first: Side::Left, set_up: Seconds(20.0), change: Seconds(15.0) }
}

fn both(key: char, line: &str) -> Station<char> {
    station(key, line, false)
}

fn script(blocks: Vec<(BlockKind, Vec<Station<char>>)>) -> Script<char> {
    let blocks: Vec<_> = blocks.into_iter().map(|(kind, stations)| Block { kind, stations }).collect();
    Script::of(&blocks)
}

/// `A1 B1 A2`, a one-sided set as `A1l A1r`.
fn order(script: &Script<char>) -> String {
    let side = |s: Option<Side>| s.map_or("", |s| if s == Side::Left { "l" } else { "r" });
    let turns = script.turns.iter().map(|t| format!("{}{}{}", t.key, t.round + 1, side(t.side)));
    turns.collect::<Vec<_>>().join(" ")
}

fn done(key: char, side: Option<Side>, reps: u16) -> DoneTurn<char> {
    DoneTurn { key, side, reps }
}

#[rstest]
#[case::straight(BlockKind::Straight, "A1 A2 A3 B1 B2")]
#[case::superset(BlockKind::Superset, "A1 B1 A2 B2 A3")]
#[case::antagonist(BlockKind::Antagonist, "A1 B1 A2 B2 A3")]
#[case::circuit(BlockKind::Circuit, "A1 B1 A2 B2 A3")]
#[case::filled_rest(BlockKind::FilledRest, "A1 B1 A2 B2 A3")]
fn stations_go_round_as_their_block_says(#[case] kind: BlockKind, #[case] expected: &str) {
    let script = script(vec![(kind, vec![both('A', "3 x 8"), both('B', "2 x 8")])]);
    assert_eq!(order(&script), expected);
}

/// The first station rests as long as it asks, less what fills its rest; what fills it begins after a breath.
#[rstest]
// 30 s of work; getting there takes 20 s the first time and 15 s after, which the breath is part of.
#[case::a_short_one("3 x 8, rest 120 s", "2 x 10 @ 2-0-1-0", &[0.0, 15.0, 70.0, 15.0, 75.0])]
#[case::longer_than_the_rest("3 x 8, rest 60 s", "3 x 60 s", &[0.0, 15.0, 15.0, 15.0, 15.0, 15.0])]
#[case::what_is_left_of_it_rests_itself("1 x 8, rest 120 s", "3 x 10, rest 70 s", &[0.0, 15.0, 70.0, 70.0])]
#[case::without_one_left("3 x 8, rest 120 s", "1 x 10 @ 2-0-1-0", &[0.0, 15.0, 70.0, 120.0])]
fn a_rest_is_filled(#[case] main: &str, #[case] filler: &str, #[case] rests: &[f64]) {
    let script = script(vec![(BlockKind::FilledRest, vec![both('A', main), both('B', filler)])]);
    assert_eq!(script.turns.iter().map(|t| t.rest_before.value()).collect::<Vec<_>>(), rests);
}

/// Any two of these three, after what is always done. `A2` are two sets of A that are done; what hurt or was left out is closed.
#[rstest]
#[case::nothing("", "", 2, false)]
#[case::what_is_always_done("A2", "", 2, false)]
#[case::one_of_them("A2 B2", "", 2, false)]
#[case::one_and_a_half("A2 B2 C1", "", 2, false)]
#[case::two_of_them("A2 B2 D2", "", 2, true)]
#[case::all("A2 B2 C2 D2", "", 2, true)]
#[case::two_of_them_alone("B2 D2", "", 2, false)]
#[case::one_hurt("A2 B2", "D", 2, false)]
#[case::the_others_left_out("A2 B2", "CD", 2, true)]
#[case::broken_off_and_left_out("A2 B1 C2", "B", 2, false)]
#[case::what_is_always_done_hurt("B2 C2", "A", 2, true)]
#[case::none_is_wanted("A2", "", 0, true)]
#[case::more_than_there_are("A2 B2 C2", "", 9, false)]
#[case::all_of_more_than_there_are("A2 B2 C2 D2", "", 9, true)]
#[case::nothing_done_yet("", "A", 0, false)]
#[case::a_set_of_what_may_be_left_out("B1", "A", 0, false)]
#[case::one_of_what_may_be_left_out("B2", "A", 0, true)]
#[case::all_left_out("", "ABCD", 2, true)]
fn some_of_what_may_be_left_out_is_enough(
    #[case] sets: &str,
    #[case] closed: &str,
    #[case] wanted: u8,
    #[case] enough: bool,
) {
    let stations = |kind, keys: &str| (kind, keys.chars().map(|key| both(key, "2 x 8")).collect());
    let script = script(vec![stations(BlockKind::Straight, "AB"), stations(BlockKind::Superset, "CD")]);
    let told = |text: &str| {
        let mut chars = text.chars();
        (chars.next().unwrap(), chars.as_str().parse::<usize>().unwrap())
    };
    let sets = sets.split_whitespace().map(told);
    let done: Vec<_> = sets.flat_map(|(key, n)| std::iter::repeat_n(done(key, None, 8), n)).collect();
    let closed: Vec<char> = closed.chars().collect();
    // One of them says how many; those that say less do not lower it.
    let optional = [('B', 0), ('C', wanted), ('D', 0)];
    assert_eq!(script.is_enough(&done, &closed, &optional), enough);
    assert_eq!(script.is_enough(&done, &closed, &[]), script.next(&done, &closed).is_none());
    let mut left = script.may_be_left(&done, &closed, &optional);
    left.sort_unstable();
    let open = |key: &char| !closed.contains(key) && script.next_of(*key, &done).is_some();
    assert_eq!(left, ['B', 'C', 'D'].into_iter().filter(open).collect::<Vec<_>>(), "each once, and nothing else");
}

#[test]
fn both_sides_of_a_set_follow_each_other() {
    let right = Station { first: Side::Right, ..station('B', "1 x 8", true) };
    let script = script(vec![(BlockKind::Superset, vec![station('A', "2 x 8", true), right])]);
    assert_eq!(order(&script), "A1l A1r B1r B1l A2l A2r");
    let rests: Vec<f64> = script.turns.iter().map(|t| t.rest_before.value()).collect();
    assert_eq!(rests, [0.0, 0.0, 0.0, 0.0, 90.0, 0.0]);
    let changes: Vec<f64> = script.turns.iter().map(|t| t.change_over.value()).collect();
    // Each is set up once.
    assert_eq!(changes, [20.0, 15.0, 20.0, 15.0, 15.0, 15.0]);
    assert_eq!((script.sets_of('A'), script.sets_of('B')), (2, 1));
}

/// Rests as they stand before each turn.
#[rstest]
#[case::straight(BlockKind::Straight, vec![0.0, 60.0, 60.0, 60.0, 120.0])]
#[case::superset(BlockKind::Superset, vec![0.0, 0.0, 120.0, 0.0, 120.0])]
#[case::antagonist(BlockKind::Antagonist, vec![0.0, 30.0, 60.0, 30.0, 60.0])]
fn rests_follow_the_set_before(#[case] kind: BlockKind, #[case] expected: Vec<f64>) {
    let (a, b) = (both('A', "3 x 8, rest 60 s"), both('B', "2 x 8, rest 120 s"));
    let script = script(vec![(kind, vec![a, b])]);
    let rests: Vec<f64> = script.turns.iter().map(|t| t.rest_before.value()).collect();
    assert_eq!(rests, expected);
}

/// What extends a set goes on at once: with less in hand as soon as that is taken up, with the same after a breath.
#[rstest]
#[case::dropped("2 x 10, rest 90 s, then max a step down", &[0.0, 90.0, 0.0])]
#[case::dropped_twice("2 x 10, rest 90 s, then max a step down, then max a step down", &[0.0, 90.0, 0.0, 0.0])]
#[case::gone_on("1 x 10, rest 120 s, then max, then max a step down", &[0.0, 15.0, 0.0])]
#[case::as_a_school_says("1 x 10, rest 20 s, then max", &[0.0, 20.0])]
fn an_extension_follows_at_once(
    #[values(BlockKind::Straight, BlockKind::Superset, BlockKind::FilledRest)] kind: BlockKind,
    #[case] line: &str,
    #[case] rests: &[f64],
) {
    let blocks = vec![(kind, vec![both('a', line)]), (BlockKind::Straight, vec![both('b', "1 x 8, rest 60 s")])];
    let script = script(blocks);
    let found: Vec<f64> = script.turns.iter().map(|t| t.rest_before.value()).collect();
    let (own, next) = found.split_at(rests.len());
    assert_eq!(own, rests);
    // The last of them is rested from like any other.
    assert_eq!(next, [f64::from(script.turns[rests.len() - 1].work.rest_s)]);
}

#[test]
fn a_block_begins_after_the_rest_of_the_one_before() {
    let blocks = vec![
        (BlockKind::Superset, vec![both('A', "1 x 8, rest 45 s"), both('B', "1 x 8, rest 75 s")]),
        (BlockKind::Straight, vec![both('C', "2 x 45 s, rest 30 s")]),
    ];
    let rests: Vec<f64> = script(blocks).turns.iter().map(|t| t.rest_before.value()).collect();
    assert_eq!(rests, [0.0, 0.0, 75.0, 30.0]);
}

#[test]
fn every_set_carries_what_is_asked_of_it() {
    let script = script(vec![(BlockKind::Straight, vec![both('A', "18-9-14"), both('B', "2 x 8, last to failure")])]);
    let asked: Vec<_> = script.turns.iter().map(|t| (t.work.reps.unwrap()[0], t.work.rir.unwrap())).collect();
    assert_eq!(asked, [(18, 2), (9, 2), (14, 2), (8, 2), (8, 0)]);
}

#[test]
fn what_was_done_out_of_order_is_not_asked_again() {
    let script = script(vec![(BlockKind::Superset, vec![both('A', "2 x 8"), both('B', "2 x 8")])]);
    let next = |done: &[DoneTurn<char>], closed: &[char]| script.next(done, closed).map(|t| (t.key, t.round));
    assert_eq!(next(&[], &[]), Some(('A', 0)));
    let b = done('B', None, 8);
    assert_eq!(next(&[b], &[]), Some(('A', 0)), "B was done first");
    assert_eq!(next(&[b, done('A', None, 8)], &[]), Some(('A', 1)));
    assert_eq!(next(&[b], &['A']), Some(('B', 1)), "what hurts is passed over");
    assert_eq!(next(&[b, b, b], &['A']), None, "one set too many closes nothing else");
    assert_eq!(script.next_of('B', &[b]).map(|t| t.round), Some(1));
}

#[test]
fn a_side_that_was_done_first_leaves_the_other() {
    let script = script(vec![(BlockKind::Straight, vec![station('A', "2 x 8", true)])]);
    let (left, right) = (done('A', Some(Side::Left), 8), done('A', Some(Side::Right), 8));
    let next = |done: &[DoneTurn<char>]| script.next(done, &[]).map(|t| (t.round, t.side.unwrap()));
    assert_eq!(next(&[right]), Some((0, Side::Left)));
    assert_eq!(next(&[right, left]), Some((1, Side::Left)));
    assert_eq!(next(&[left, left, right]), Some((1, Side::Right)));
    assert_eq!(next(&[done('A', None, 8)]), Some((0, Side::Right)), "a set without a side takes the next");
    assert_eq!(next(&[left, right, left, right]), None);
}

#[test]
fn a_total_goes_on_until_it_is_reached() {
    let script =
        script(vec![(BlockKind::Straight, vec![both('A', "50 in as few sets as possible"), both('B', "1 x 8")])]);
    let next = |reps: &[u16]| {
        let sets: Vec<_> = reps.iter().map(|n| done('A', None, *n)).collect();
        script.next(&sets, &[]).map(|t| (t.key, t.round))
    };
    assert_eq!(next(&[]), Some(('A', 0)));
    assert_eq!(next(&[20, 14]), Some(('A', 2)));
    assert_eq!(next(&[20, 14, 16]), Some(('B', 0)));
    assert_eq!(next(&[5; 10]), Some(('B', 0)));
    assert_eq!(next(&[1; 10]), Some(('B', 0)), "ten sets are the most");
}

/// Sets of one-arm work: days ago, side, repetitions, reserve.
type Told = (i64, Option<Side>, u16, Option<u8>);

#[rstest]
#[case::weaker_left(&[(2, Some(Side::Left), 10, Some(0)), (2, Some(Side::Right), 12, Some(0))], Side::Left)]
#[case::weaker_right(&[(2, Some(Side::Left), 12, None), (2, Some(Side::Left), 9, None), (2, Some(Side::Right), 10, None)], Side::Right)]
#[case::with_the_reserve(&[(2, Some(Side::Left), 10, Some(3)), (2, Some(Side::Right), 11, Some(0))], Side::Right)]
#[case::the_last_day_counts(&[(9, Some(Side::Left), 12, None), (9, Some(Side::Right), 8, None), (2, Some(Side::Left), 9, None), (2, Some(Side::Right), 11, None)], Side::Left)]
#[case::alike_after_one_day(&[(2, Some(Side::Left), 12, None), (2, Some(Side::Right), 12, None)], Side::Right)]
#[case::alike_after_two_days(&[(9, Some(Side::Left), 12, None), (2, Some(Side::Left), 12, None), (2, Some(Side::Right), 12, None)], Side::Left)]
#[case::weaker_right_after_two_days(&[(9, Some(Side::Left), 12, None), (2, Some(Side::Left), 12, None), (2, Some(Side::Right), 11, None)], Side::Right)]
#[case::weaker_left_after_one_day(&[(2, Some(Side::Left), 11, None), (2, Some(Side::Right), 12, None)], Side::Left)]
#[case::unknown_first(&[], Side::Left)]
#[case::unknown_then(&[(2, None, 10, None)], Side::Right)]
#[case::one_side_only_twice(&[(9, Some(Side::Left), 8, None), (2, Some(Side::Left), 8, None)], Side::Left)]
#[case::today_is_not_earlier(&[(0, Some(Side::Left), 12, None), (0, Some(Side::Right), 8, None)], Side::Left)]
fn the_weaker_side_begins_and_unknown_ones_take_turns(#[case] told: &[Told], #[case] expected: Side) {
    let today: NaiveDate = "2026-03-10".parse().unwrap();
    let set = |(ago, side, reps, rir): &Told| LoggedSet {
        side: *side,
        reps: Some(*reps),
        rir: *rir,
        ..LoggedSet::of("one_arm_dumbbell_curl", today - Duration::days(*ago))
    };
    let mut log: Vec<LoggedSet> = told.iter().map(set).collect();
    // Another movement says nothing of this one.
    log.push(LoggedSet {
        side: Some(Side::Right),
        reps: Some(1),
        ..LoggedSet::of("dumbbell_row", today - Duration::days(1))
    });
    assert_eq!(first_side(log.iter(), "one_arm_dumbbell_curl", today), expected);
}

fn any_blocks() -> impl Strategy<Value = Vec<(BlockKind, Vec<Station<char>>)>> {
    let kinds = prop_oneof![
        Just(BlockKind::Straight),
        Just(BlockKind::Superset),
        Just(BlockKind::Antagonist),
        Just(BlockKind::Circuit)
    ];
    let block = (kinds, proptest::collection::vec((1u8..5, any::<bool>()), 1..4));
    proptest::collection::vec(block, 1..4).prop_map(|blocks| {
        let mut key = 'A'..;
        let station = |key, (sets, one_sided): (u8, bool)| station(key, &format!("{sets} x 8"), one_sided);
        blocks
            .into_iter()
            .map(|(kind, of)| (kind, of.into_iter().map(|s| station(key.next().unwrap(), s)).collect()))
            .collect()
    })
}

proptest! {
    /// Whoever follows the script does every turn once and in order, and then nothing is left.
    #[test]
    fn following_it_ends_it(blocks in any_blocks()) {
        let asked: usize = blocks.iter().flat_map(|(_, s)| s).map(|s| s.dose.sets.len() * (1 + usize::from(s.one_sided))).sum();
        let script = script(blocks);
        prop_assert_eq!(script.turns.len(), asked);
        let mut log = Vec::new();
        for turn in &script.turns {
            let next = script.next(&log, &[]).unwrap();
            prop_assert_eq!((next.key, next.round, next.side), (turn.key, turn.round, turn.side));
            log.push(done(turn.key, turn.side, 8));
        }
        prop_assert!(script.next(&log, &[]).is_none());
    }

    /// In whatever order the same sets are logged, the same turns are left.
    #[test]
    fn order_does_not_matter(blocks in any_blocks(), shuffle in proptest::collection::vec(any::<u16>(), 40), part in 0.0f64..1.0) {
        let script = script(blocks);
        let mut log: Vec<_> = script.turns.iter().map(|t| done(t.key, t.side, 8)).collect();
        log.truncate((log.len() as f64 * part) as usize);
        let straight: Vec<_> = script.open(&log).into_iter().cloned().collect();
        let mut mixed: Vec<_> = log.into_iter().zip(shuffle.iter().cycle()).collect();
        mixed.sort_by_key(|(_, place)| **place);
        let mixed: Vec<_> = mixed.into_iter().map(|(one, _)| one).collect();
        let left: Vec<_> = script.open(&mixed).into_iter().cloned().collect();
        prop_assert_eq!(straight, left);
    }
}

#[test]
fn without_its_last_set_a_station_has_one_fewer_on_either_side() {
    let script = script(vec![(BlockKind::Superset, vec![station('A', "2 x 8", true), both('B', "3 x 8")])]);
    assert_eq!(order(&script), "A1l A1r B1 A2l A2r B2 B3");
    assert_eq!(order(&script.without_last_set('A')), "A1l A1r B1 B2 B3");
    assert_eq!(order(&script.without_last_set('B')), "A1l A1r B1 A2l A2r B2");
    assert_eq!(script.without_last_set('Z'), script);
}

#[rstest]
#[case::planned(WorkoutState::Planned, true)]
#[case::under_way(WorkoutState::UnderWay, true)]
#[case::done(WorkoutState::Done, false)]
#[case::missed(WorkoutState::Missed, false)]
fn what_is_still_to_be_done_is_open(#[case] state: WorkoutState, #[case] open: bool) {
    assert_eq!(state.is_open(), open);
}

/// Alone in its block is alone, whatever else the session holds.
#[test]
fn a_station_is_shared_with_those_of_its_own_block() {
    let pair = vec![both('B', "2 x 8"), both('C', "2 x 8")];
    let script = script(vec![(BlockKind::Straight, vec![both('A', "2 x 8")]), (BlockKind::Superset, pair)]);
    assert_eq!(['A', 'B', 'C'].map(|key| script.is_shared(key)), [false, true, true]);
}

/// What was done today, and what a wrong clock says of tomorrow, decides nothing about who begins.
#[test]
fn only_earlier_days_say_which_side_begins() {
    let today: NaiveDate = "2026-03-09".parse().unwrap();
    let set = |days: i64, side: Side, reps: u16| LoggedSet {
        side: Some(side),
        reps: Some(reps),
        ..LoggedSet::of("one_arm_dumbbell_curl", today + Duration::days(days))
    };
    let weaker_right = [set(-2, Side::Left, 12), set(-2, Side::Right, 9)];
    let weaker_left = |days| [set(days, Side::Left, 7), set(days, Side::Right, 12)];
    let begins = |log: &[LoggedSet]| first_side(log.iter(), "one_arm_dumbbell_curl", today);
    assert_eq!(begins(&weaker_right), Side::Right);
    for days in [0, 1] {
        assert_eq!(begins(&[weaker_right.clone(), weaker_left(days)].concat()), Side::Right, "{days}");
    }
    assert_eq!(begins(&[weaker_right.clone(), weaker_left(-1)].concat()), Side::Left);
}
