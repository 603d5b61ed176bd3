//! The weights of a room, as hands or a backpack take them.

use crate::dose::{PerHand, StampedLoad};
use crate::kit::KitItem;
use crate::movement::Hands;
use crate::units::MassUnit;

/// Increments of a loaded backpack, kg.
const BACKPACK_STEP: f64 = 2.5;

/// What a backpack can be loaded with, lightest first.
pub(super) fn packed(kit: &[KitItem]) -> Vec<StampedLoad> {
    let most = kit.iter().find_map(|k| if let KitItem::Backpack(b) = k { Some(b.max_kg.value()) } else { None });
    let count = most.map_or(0, |kg| (kg / BACKPACK_STEP).floor().min(40.0) as usize);
    (1..=count)
        .map(|k| StampedLoad { value: BACKPACK_STEP * k as f64, unit: MassUnit::Kg, per: PerHand::Total })
        .collect()
}

/// The dumbbells that the hands can hold, lightest first, each stamped weight once.
pub(super) fn weights(kit: &[KitItem], hands: Hands) -> Vec<StampedLoad> {
    let per = hands.stated_per();
    let mut found: Vec<StampedLoad> = Vec::new();
    for item in kit {
        match item {
            KitItem::Dumbbells(d) => {
                let singles = d.singles.iter().filter(|_| hands != Hands::Each);
                found.extend(d.pairs.iter().chain(singles).map(|v| StampedLoad { value: *v, unit: d.unit, per }));
            }
            KitItem::AdjustableDumbbell(a) if a.count == 2 || hands != Hands::Each => {
                found.extend(a.settings().map(|value| StampedLoad { value, unit: a.unit, per }));
            }
            _ => {}
        }
    }
    found.sort_by(|a, b| a.kilograms().value().total_cmp(&b.kilograms().value()));
    found.dedup_by(|a, b| (a.kilograms().value() - b.kilograms().value()).abs() < 0.01);
    found
}
