//! Swaps on the spot: what is left of a room when a piece of it is taken or broken, and whom to spare when it hurts.

use crate::anatomy::Joint;
use crate::kit::{Dumbbells, KitItem};
use crate::ladder::{Ladder, LadderStep};
use crate::movement::Movement;
use crate::person::{Limit, LimitKind, Person, Severity, Side};

/// The kit without the piece at `index`, or without one stamped weight of it. A piece that does not exist changes
/// nothing.
pub fn kit_without(kit: &[KitItem], index: usize, weight: Option<f64>) -> Vec<KitItem> {
    let mut left = kit.to_vec();
    match (left.get_mut(index), weight) {
        (Some(KitItem::Dumbbells(dumbbells)), Some(weight)) => {
            let other = |v: &f64| (v - weight).abs() > 1e-9;
            dumbbells.pairs.retain(other);
            dumbbells.singles.retain(other);
            if matches!(dumbbells, Dumbbells { pairs, singles, .. } if pairs.is_empty() && singles.is_empty()) {
                left.remove(index);
            }
        }
        (Some(_), _) => {
            left.remove(index);
        }
        (None, _) => {}
    }
    left
}

/// Places in the kit of the pieces that a step cannot do without.
pub fn in_use(movement: &Movement, person: &Person, kit: &[KitItem], step: &LadderStep) -> Vec<usize> {
    let needed = |i: &usize| !Ladder::can_set_up(movement, person, &kit_without(kit, *i, None), step);
    (0..kit.len()).filter(needed).collect()
}

/// The person with a joint spared for today: everything that loads, stretches or raises it counts as painful.
pub fn sparing(person: &Person, joint: Joint) -> Person {
    let whats: &[LimitKind] = match joint {
        Joint::Shoulder => &[LimitKind::PainLoaded, LimitKind::PainDeepStretch, LimitKind::PainOverhead],
        Joint::Wrist => &[LimitKind::PainLoaded, LimitKind::PainGripping],
        _ => &[LimitKind::PainLoaded],
    };
    let mut spared = person.clone();
    spared.limits.extend(whats.iter().map(|what| Limit {
        joint,
        what: *what,
        side: Side::Both,
        severity: Severity::Moderate,
    }));
    spared
}
