//! The easier and the harder neighbour of a movement: nothing goes round in a circle, and what is called harder is.

use std::collections::{BTreeMap, BTreeSet};

use bavrek_catalogue::load;
use bavrek_core::movement::{Catalogue, Hands, Movement, RigModel};

/// Ratios are estimates: within this factor two movements count as equally hard.
const ALIKE: f64 = 1.03;

/// From the easier to the harder of two neighbours.
fn links(catalogue: &Catalogue) -> BTreeSet<(&str, &str)> {
    let mut found = BTreeSet::new();
    for movement in &catalogue.movements {
        let own = movement.id.as_str();
        found.extend(movement.easier.as_deref().map(|easier| (easier, own)));
        found.extend(movement.harder.as_deref().map(|harder| (own, harder)));
    }
    found
}

/// Whether the ratios of two movements can be held against each other: the same weights in one hand or in both, or the same body
/// on the same bar. Elsewhere the set-up says more than the ratio.
fn comparable(a: &Movement, b: &Movement) -> bool {
    let hung = |m: &Movement| matches!(m.rig, RigModel::ChinUp { .. } | RigModel::InvertedRow);
    let held = |m: &Movement| !m.rig.is_lever();
    let shared = |m: &Movement| m.hands == Hands::Shared;
    let same_load = (held(a) && held(b)) || (hung(a) && hung(b));
    same_load && a.carry_over.pattern == b.carry_over.pattern && shared(a) == shared(b) && a.style == b.style
}

#[test]
fn no_chain_of_harder_neighbours_comes_back() {
    let catalogue = load().unwrap();
    let mut harder: BTreeMap<&str, Vec<&str>> = BTreeMap::new();
    for (from, to) in links(&catalogue) {
        harder.entry(from).or_default().push(to);
    }
    assert!(harder.len() > 100);
    for start in harder.keys() {
        let (mut seen, mut next) = (BTreeSet::new(), harder[start].clone());
        while let Some(id) = next.pop() {
            assert!(id != *start, "{start} comes back to itself over {seen:?}");
            if seen.insert(id) {
                next.extend(harder.get(id).into_iter().flatten());
            }
        }
    }
}

#[test]
fn what_is_called_harder_asks_for_more() {
    let catalogue = load().unwrap();
    let (mut compared, mut wrong) = (0, Vec::new());
    for (easier, harder) in links(&catalogue) {
        let (Some(from), Some(to)) = (catalogue.movement(easier), catalogue.movement(harder)) else { continue };
        if comparable(from, to) {
            compared += 1;
            // The more a movement lets one lift, the easier it is.
            if to.carry_over.ratio > ALIKE * from.carry_over.ratio {
                wrong.push(format!("{easier} {} -> {harder} {}", from.carry_over.ratio, to.carry_over.ratio));
            }
        }
    }
    assert!(compared > 150, "{compared}");
    assert!(wrong.is_empty(), "\n{}", wrong.join("\n"));
}
