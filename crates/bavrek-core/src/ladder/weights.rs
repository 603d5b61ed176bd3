//! The weights of a room, as hands or a backpack take them.

use crate::anatomy::Implement;
use crate::dose::{PerHand, StampedLoad};
use crate::kit::KitItem;
use crate::movement::{Hands, Movement};
use crate::units::MassUnit;

/// Increments of a loaded backpack, kg.
const BACKPACK_STEP: f64 = 2.5;

/// A weight, and what it is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Held {
    pub(super) load: StampedLoad,
    pub(super) with: Implement,
    /// What hangs on each end of a bar.
    pub(super) each_end: Option<f64>,
}

impl Held {
    const fn new(load: StampedLoad, with: Implement) -> Self {
        Self { load, with, each_end: None }
    }

    pub(super) fn kilograms(&self) -> f64 {
        self.load.kilograms().value()
    }
}

/// What a backpack can be loaded with, lightest first.
pub(super) fn packed(kit: &[KitItem]) -> Vec<Held> {
    let most = kit.iter().find_map(|k| if let KitItem::Backpack(b) = k { Some(b.max_kg.value()) } else { None });
    let count = most.map_or(0, |kg| (kg / BACKPACK_STEP).floor().min(40.0) as usize);
    (1..=count)
        .map(|k| StampedLoad { value: BACKPACK_STEP * k as f64, unit: MassUnit::Kg, per: PerHand::Total })
        .map(|load| Held::new(load, Implement::Backpack))
        .collect()
}

/// What the hands can hold for a movement that a weight carries, lightest first, each weight once.
pub(super) fn held(movement: &Movement, kit: &[KitItem]) -> Vec<Held> {
    if movement.holds_pack() {
        return packed(kit);
    }
    if movement.uses(Implement::Barbell) {
        return barbells(kit);
    }
    let bells = movement.uses(Implement::Kettlebell).then(|| kettlebells(kit, movement.hands));
    in_order(dumbbells(kit, movement.hands).into_iter().chain(bells.into_iter().flatten()).collect())
}

/// The dumbbells that the hands can hold, lightest first, each stamped weight once.
pub(super) fn dumbbells(kit: &[KitItem], hands: Hands) -> Vec<Held> {
    let both = hands == Hands::Each;
    let mut found: Vec<(f64, MassUnit)> = Vec::new();
    for item in kit {
        match item {
            KitItem::Dumbbells(d) => {
                let singles = d.singles.iter().filter(|_| !both);
                found.extend(d.pairs.iter().chain(singles).map(|v| (*v, d.unit)));
            }
            KitItem::AdjustableDumbbell(a) if a.count == 2 || !both => {
                found.extend(a.settings().map(|value| (value, a.unit)));
            }
            KitItem::PlateDumbbell(d) if d.count == 2 || !both => {
                let settings = if both { d.settings() } else { d.settings_of_one() };
                found.extend(settings.into_iter().map(|value| (value, d.unit)));
            }
            _ => {}
        }
    }
    in_order(stated(found, hands, Implement::Dumbbell))
}

fn kettlebells(kit: &[KitItem], hands: Hands) -> Vec<Held> {
    let bells = kit.iter().filter_map(|k| if let KitItem::Kettlebells(b) = k { Some(b) } else { None });
    let weights = bells.flat_map(|b| {
        let singles = b.singles.iter().filter(|_| hands != Hands::Each);
        b.pairs.iter().chain(singles).map(|v| (*v, b.unit))
    });
    stated(weights.collect(), hands, Implement::Kettlebell)
}

fn barbells(kit: &[KitItem]) -> Vec<Held> {
    let bars = kit.iter().filter_map(|k| if let KitItem::Barbell(b) = k { Some(b) } else { None });
    let loads = bars.flat_map(|bar| {
        bar.loads().into_iter().map(|value| {
            let load = StampedLoad { value, unit: bar.unit, per: PerHand::Total };
            let each_end = Some(bar.each_end(value)).filter(|end| *end > 0.0);
            Held { each_end, ..Held::new(load, Implement::Barbell) }
        })
    });
    in_order(loads.collect())
}

fn stated(weights: Vec<(f64, MassUnit)>, hands: Hands, with: Implement) -> Vec<Held> {
    let per = hands.stated_per();
    weights.into_iter().map(|(value, unit)| Held::new(StampedLoad { value, unit, per }, with)).collect()
}

/// Lightest first; of one weight the first, so that a dumbbell goes before a kettlebell.
fn in_order(mut found: Vec<Held>) -> Vec<Held> {
    found.sort_by(|a, b| a.kilograms().total_cmp(&b.kilograms()));
    found.dedup_by(|a, b| (a.kilograms() - b.kilograms()).abs() < 0.01);
    found
}
