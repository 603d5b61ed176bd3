//! Things that could be bought, and whether one makes sense at a place.

use serde::Deserialize;

use super::{KitItem, LoopBand, Setting};
use crate::units::Metres;

/// Loops whose widths differ by no more than this share are one and the same strength. Assumed.
const SAME_WIDTH: f64 = 0.15;

/// A cheap thing that could be bought.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct CheapItem {
    /// Identifier.
    pub id: String,
    /// What to buy, as one would say it.
    pub name: String,
    /// Whether it works in a door or its frame only.
    #[serde(default)]
    pub needs_door: bool,
    /// Whether a client can carry it along: all that is advised where nothing can be left.
    #[serde(default)]
    pub travels: bool,
    /// What it adds to the kit.
    pub kit: Vec<KitItem>,
}

impl CheapItem {
    /// Whether to advise it: nothing that is there already, nothing for a door where there is none, nothing that would
    /// have to be left behind outdoors or in a hotel.
    pub fn suits(&self, setting: Option<Setting>, kit: &[KitItem]) -> bool {
        let fits = match setting {
            Some(Setting::Outdoors) => self.travels && !self.needs_door,
            Some(Setting::Hotel) => self.travels,
            Some(Setting::Doors) | None => true,
        };
        fits && !self.kit.iter().any(|new| kit.iter().any(|there| is_alike(new, there)))
    }
}

/// Whether a piece that is there makes a new one needless.
fn is_alike(new: &KitItem, there: &KitItem) -> bool {
    let same = |a: f64, b: f64| (a - b).abs() < 0.3;
    match (new, there) {
        (KitItem::Dumbbells(new), KitItem::Dumbbells(there)) => {
            let (unit, theirs) = (new.unit.in_kilograms(), there.unit.in_kilograms());
            let known = |w: &f64| there.pairs.iter().any(|v| same(v * theirs, w * unit));
            new.singles.is_empty() && new.pairs.iter().all(known)
        }
        (KitItem::Dumbbells(new), KitItem::AdjustableDumbbell(there)) => {
            let (unit, theirs) = (new.unit.in_kilograms(), there.unit.in_kilograms());
            let known = |w: &f64| there.settings().any(|v| same(v * theirs, w * unit));
            there.count == 2 && new.singles.is_empty() && new.pairs.iter().all(known)
        }
        (KitItem::LoopBand(new), KitItem::LoopBand(there)) => is_as_wide(new, there),
        (KitItem::Anchor(new), KitItem::Anchor(there)) => {
            there.is_in_door() || (!new.is_in_door() && new.heights_m.iter().all(|h| there.reaches(*h)))
        }
        (KitItem::PullUpBar(new), KitItem::PullUpBar(there)) => there.height_m.value() >= new.height_m.value() - 0.3,
        (new, there) => new.kind() == there.kind(),
    }
}

fn is_as_wide(new: &LoopBand, there: &LoopBand) -> bool {
    let width = |b: &LoopBand| b.width_m.map(Metres::value);
    width(new).zip(width(there)).is_some_and(|(a, b)| (a / b - 1.0).abs() <= SAME_WIDTH)
}
