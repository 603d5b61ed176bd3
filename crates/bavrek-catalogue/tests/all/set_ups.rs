//! What stands already need not be set up again, and the order of blocks in which least is.

use std::sync::LazyLock;

use bavrek_core::fit::{Mate, may_replace};
use bavrek_core::kit::{KitItem, full_room};
use bavrek_core::ladder::{Ladder, LadderStep};
use bavrek_core::movement::{Catalogue, Movement};
use bavrek_core::person::Person;
use bavrek_core::plan::BlockKind;
use bavrek_core::set_ups::{fewest, in_order, stands, turns};
use proptest::prelude::*;
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| bavrek_catalogue::load().unwrap());
static ROOM: LazyLock<Vec<KitItem>> = LazyLock::new(full_room);
static LADDERS: LazyLock<Vec<(&'static Movement, Ladder)>> = LazyLock::new(|| {
    let person = Person::default_figure();
    CATALOGUE
        .movements
        .iter()
        .map(|m| (&**m, Ladder::of(m, &person, &ROOM)))
        .filter(|(_, l)| !l.steps.is_empty())
        .collect()
});

/// The step of a movement that a text is in; the first otherwise.
fn mate(id: &str, with: &str) -> Mate<'static> {
    let (movement, ladder) = LADDERS.iter().find(|(m, _)| m.id == id).unwrap();
    let has = |s: &&LadderStep| s.label.contains(with) || s.setup.text().contains(with);
    Mate { movement, step: ladder.steps.iter().find(has).unwrap() }
}

#[rstest]
#[case::the_bench_stands(("dumbbell_bench_press", "pair of 20 kg"), ("supine_dumbbell_extension", "pair of 6 kg"), 15.0)]
#[case::the_weights_lie_there(("dumbbell_curl", "pair of 10 kg"), ("side_raise", "pair of 10 kg"), 10.0)]
#[case::nothing_in_common(("dumbbell_curl", "pair of 10 kg"), ("push_up", "body"), 0.0)]
#[case::other_weights(("dumbbell_curl", "pair of 10 kg"), ("side_raise", "pair of 6 kg"), 0.0)]
fn what_stands_is_spared(#[case] before: (&str, &str), #[case] after: (&str, &str), #[case] spared: f64) {
    let (a, b) = (mate(before.0, before.1), mate(after.0, after.1));
    assert_eq!(stands(&a, &b).value(), spared);
}

#[test]
fn no_pair_of_movements_leaves_less_than_the_least_or_adds_anything() {
    let mut spared = 0;
    for (movement, ladder) in LADDERS.iter() {
        for (other, steps) in LADDERS.iter() {
            let (a, b) = (Mate { movement, step: &ladder.steps[0] }, Mate { movement: other, step: &steps.steps[0] });
            let s = stands(&a, &b).value();
            let whole = b.step.set_up_s.value();
            assert!(s >= 0.0 && whole - s >= whole.min(5.0) - 1e-9, "{} {}", movement.id, other.id);
            spared += usize::from(s > 0.0);
        }
    }
    assert!(spared > 100, "{spared}");
}

/// Of two on the flat bench and two on the inclined one: by turns the bench moves four times a round, one sort after the other twice.
/// What works the same does not come after each other more often for it.
#[rstest]
#[case::four_changes_become_two(
    &["dumbbell_bench_press", "incline_dumbbell_press", "dumbbell_bench_fly", "incline_dumbbell_fly"],
    Some((&[0, 1, 3, 2][..], 30.0))
)]
#[case::the_triceps_would_follow_the_press(
    &["dumbbell_bench_press", "incline_bench_curl", "supine_dumbbell_extension", "chest_supported_rear_fly"],
    None
)]
#[case::three_are_one_way_round(&["dumbbell_bench_press", "incline_dumbbell_press", "dumbbell_bench_fly"], None)]
#[case::nothing_in_the_way(&["push_up", "chin_up", "side_raise", "dumbbell_curl"], None)]
fn a_circuit_is_turned_where_that_spares_changes(#[case] stations: &[&str], #[case] expected: Option<(&[usize], f64)>) {
    let mates: Vec<Mate<'_>> = stations.iter().map(|id| mate(id, "")).collect();
    let found = turns(&mates, &ROOM);
    assert_eq!(found.as_ref().map(|t| (&t.stations[..], t.spared.value())), expected);
}

#[test]
fn what_shares_a_bench_comes_together_and_heavy_stays_first() {
    let press = vec![mate("dumbbell_bench_press", "pair of 20 kg")];
    let fly = vec![mate("dumbbell_bench_fly", "pair of 10 kg")];
    let curl = vec![mate("dumbbell_curl", "pair of 8 kg")];
    let extension = vec![mate("supine_dumbbell_extension", "pair of 6 kg")];
    let blocks = [press.clone(), fly, curl, extension];
    let order = fewest(&blocks).unwrap().blocks;
    assert_eq!(order[0], 0, "the press stays first");
    let at = |i: usize| order.iter().position(|b| *b == i).unwrap();
    assert_eq!(at(1).abs_diff(at(3)), 1, "both on the flat bench: {order:?}");
    let settled: Vec<_> = order.iter().map(|i| blocks[*i].clone()).collect();
    assert_eq!(fewest(&settled), None, "once is enough");
    assert_eq!(fewest(&[press]), None);
    assert_eq!(fewest(&[]), None);
}

/// Heavy stays with heavy, a pair works against each other, no region is worked twice by turns.
#[rstest]
#[case::a_press_for_a_press("dumbbell_bench_press", "push_up", BlockKind::Antagonist, "dumbbell_row", true)]
#[case::two_presses_are_no_pair("dumbbell_row", "push_up", BlockKind::Antagonist, "dumbbell_bench_press", false)]
#[case::a_curl_for_a_press("dumbbell_bench_press", "dumbbell_curl", BlockKind::Antagonist, "overhead_extension", false)]
#[case::other_regions_by_turns("side_raise", "dumbbell_curl", BlockKind::Superset, "overhead_extension", true)]
#[case::one_region_twice("side_raise", "hammer_curl", BlockKind::Circuit, "hammer_curl", false)]
#[case::a_push_up_beside_a_fly("dumbbell_row", "push_up", BlockKind::Superset, "dumbbell_bench_fly", false)]
#[case::what_assists_tires_as_well(
    "dumbbell_row",
    "dumbbell_bench_press",
    BlockKind::Circuit,
    "overhead_extension",
    false
)]
#[case::straight_sets_have_no_partner("side_raise", "dumbbell_curl", BlockKind::Straight, "overhead_extension", false)]
fn a_partner_takes_anothers_place_only_where_it_suits(
    #[case] own: &str,
    #[case] new: &str,
    #[case] kind: BlockKind,
    #[case] beside: &str,
    #[case] may: bool,
) {
    let [own, new, beside] = [own, new, beside].map(|id| CATALOGUE.movement(id).unwrap());
    assert_eq!(may_replace(own, new, kind, &[new, beside]), may);
}

proptest! {
    #[test]
    fn an_order_names_each_block_once_costs_less_and_keeps_sorts_apart(
        picks in prop::collection::vec((0..LADDERS.len(), 0_usize..40), 0..10)
    ) {
        let mates: Vec<Mate<'_>> = picks.iter().map(|(m, s)| {
            let (movement, ladder) = &LADDERS[*m];
            Mate { movement, step: &ladder.steps[s % ladder.steps.len()] }
        }).collect();
        let blocks: Vec<Vec<Mate<'_>>> = mates.iter().map(|m| vec![*m]).collect();
        let sum = |stations: &[Mate<'_>]| in_order(stations).iter().map(|s| s.value()).sum::<f64>();
        if let Some(order) = fewest(&blocks) {
            let mut named = order.blocks.clone();
            named.sort_unstable();
            prop_assert_eq!(named, (0..blocks.len()).collect::<Vec<_>>());
            let after: Vec<Mate<'_>> = order.blocks.iter().map(|i| mates[*i]).collect();
            prop_assert!(sum(&after) < sum(&mates));
            let sort = |m: &Mate<'_>| bavrek_core::school::is_compound(m.movement.pattern);
            prop_assert!(mates.iter().zip(&after).all(|(a, b)| sort(a) == sort(b)));
        }
    }
}
