//! Everything at a place that can load, anchor or support.

mod anchor;
mod apart;
mod band;
mod checks;
mod fixed;
pub mod improvised;
mod kinds;
pub mod line;
mod named;
pub mod offer;
mod piece;
mod pieces;
mod told;
mod weights;

pub use anchor::{Anchor, AnchorOn, DOOR_HEIGHTS, DUMBBELL_HOLDS, USUAL_DOOR_HEIGHTS};
pub use apart::{count_of, mistaken, tell_apart};
use band::is_simulated;
pub use band::{LONGEST_LABEL, LoopBand, MeasuredPoint, SIMULATED_MARK, TubeBand, UNMEASURED_SD};
pub use checks::{MOST_ENTRIES, MOST_PIECES};
pub use kinds::{Kind, KitItem, Usual};
pub use named::{NamedBand, same_bands};
pub use piece::PieceState;
pub use pieces::{AdjustableDumbbell, Backpack, Bench, Boxes, Dumbbells, Heads, Plain, PullUpBar, Rings, Step, Table};
pub use told::{ASKED, Measure, Told, Words};
pub use weights::{Barbell, Kettlebells, MOST_PLATES, PlateDumbbell, Plates, plates_text, read_plates};

use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::ranges::RangeError;
use crate::units::{Kilograms, MassUnit, Metres, trim_number};

vocabulary!(
    /// What a place is: it decides what can be advised there.
    Setting {
        Doors => "doors", "a room with doors";
        Outdoors => "outdoors", "outdoors";
        Hotel => "hotel", "a hotel or borrowed room";
    }
);

/// Where a client trains, and what is there.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Place {
    /// The trainer's name for it.
    pub name: String,
    /// What it is, where that was told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub setting: Option<Setting>,
    /// What is there.
    pub kit: Vec<KitItem>,
}

impl KitItem {
    /// What it is called where it is used: a band's name, anything else in words.
    pub fn name(&self) -> String {
        match self {
            Self::LoopBand(b) => b.name(),
            Self::TubeBand(b) => b.name(),
            other => other.text(),
        }
    }

    /// The name with a mark where the band's curve rests on the simulated scale alone.
    pub fn marked_name(&self) -> String {
        let mark = if self.is_simulated() { SIMULATED_MARK } else { "" };
        format!("{}{mark}", self.name())
    }

    /// Whether it is a band whose curve rests on the simulated scale alone.
    pub fn is_simulated(&self) -> bool {
        match self {
            Self::LoopBand(b) => is_simulated(b.measured.as_deref()),
            Self::TubeBand(b) => is_simulated(b.measured.as_deref()),
            _ => false,
        }
    }

    /// Whether it is rubber that a movement can be loaded with.
    pub const fn is_band(&self) -> bool {
        matches!(self, Self::LoopBand(_) | Self::TubeBand(_))
    }

    /// The item in words, for example `dumbbells 5, 8, 12 kg pairs`.
    pub fn text(&self) -> String {
        let list = |values: &[f64]| values.iter().map(|v| trim_number(*v, 2)).collect::<Vec<_>>().join(", ");
        match self {
            Self::Dumbbells(d) => d.text(),
            Self::PlateDumbbell(d) => d.text(),
            Self::Kettlebells(k) => k.text(),
            Self::Barbell(b) => b.text(),
            Self::Rack(_) => "rack that catches a bar".into(),
            Self::AdjustableDumbbell(a) => format!(
                "{} adjustable {} to {} {} by {}",
                if a.count == 2 { "two" } else { "one" },
                trim_number(a.min, 2),
                trim_number(a.max, 2),
                a.unit.symbol(),
                trim_number(a.step, 2)
            ),
            Self::LoopBand(_) | Self::TubeBand(_) => self.marked_name(),
            Self::Rings(r) => format!("rings, up to {}", r.max_height_m),
            Self::PullUpBar(b) => format!("bar at {}", b.height_m),
            Self::DipBars(_) => "dip bars".into(),
            Self::Bench(b) => {
                let which = match b.count {
                    Some(count) if count > 1 => format!("{count} benches"),
                    _ => "bench".to_owned(),
                };
                let high = b.height_m.map_or_else(String::new, |height| format!(", {height} high"));
                format!("{which} {}°{high}", list(&b.angles_deg))
            }
            Self::Box(b) => format!("{} box {}", b.count, b.height_m),
            Self::Chair(_) => "sturdy chair".into(),
            Self::Sofa(_) => "sofa".into(),
            Self::Step(s) => format!("step {}", s.height_m),
            Self::Anchor(a) if a.is_in_door() => {
                format!("door anchor, {}, usually at {} m", a.where_text(), list(&a.heights_m))
            }
            Self::Anchor(a) => format!("anchor {}", a.where_text()),
            Self::Backpack(b) => format!("backpack, up to {}", b.max_kg),
            Self::AbWheel(_) => "roll-out wheel".into(),
            Self::Parallettes(_) => "push-up handles".into(),
            Self::Wedge(_) => "wedge".into(),
            Self::Table(t) => format!("table {}", t.height_m),
            Self::Towel(_) => "towel".into(),
            Self::Helper(_) => "a helper".into(),
        }
    }

    /// Checks every measure against its legal range; the error carries the field's path within the item.
    pub fn validate(&self) -> Result<(), RangeError> {
        told::check(self.described().measures, &serde_json::to_value(self).unwrap_or_default())?;
        // What several figures have to do with each other.
        match self {
            Self::Dumbbells(d) => d.check_whole(),
            Self::AdjustableDumbbell(a) => a.check_whole(),
            Self::PlateDumbbell(d) => d.check_whole(),
            Self::Kettlebells(k) => k.check_whole(),
            Self::Barbell(b) => b.check_whole(),
            Self::LoopBand(b) => b.check_whole(),
            Self::TubeBand(b) => b.check_whole(),
            Self::Anchor(a) => a.check_whole(),
            _ => Ok(()),
        }
    }
}

/// A room that has everything in a usual size: the yardstick for what a movement is like before a kit narrows it.
pub fn full_room() -> Vec<KitItem> {
    let band = |width: f64| {
        KitItem::LoopBand(LoopBand {
            count: 2,
            flat_length_m: Metres(1.04),
            width_m: Some(Metres(width)),
            thickness_m: Some(Metres(0.0045)),
            ..LoopBand::default()
        })
    };
    vec![
        KitItem::Dumbbells(Dumbbells {
            unit: MassUnit::Kg,
            pairs: (1..=20).map(|k| 2.0 * f64::from(k)).collect(),
            singles: vec![],
            heads: Some(Heads::Flat),
        }),
        KitItem::Barbell(Barbell {
            unit: MassUnit::Kg,
            bar: 10.0,
            plates: [1.25, 2.5, 5.0, 10.0].map(|weight| Plates { weight, count: 4 }).to_vec(),
        }),
        KitItem::Rack(Plain {}),
        band(0.013),
        band(0.032),
        KitItem::Rings(Rings { max_height_m: Metres(2.4) }),
        KitItem::PullUpBar(PullUpBar { height_m: Metres(2.3) }),
        KitItem::PullUpBar(PullUpBar { height_m: Metres(1.0) }),
        KitItem::DipBars(Plain {}),
        KitItem::Bench(Bench { angles_deg: vec![-20.0, 0.0, 30.0, 45.0, 75.0], height_m: None, count: None }),
        KitItem::Box(Boxes { height_m: Metres(0.45), count: 2 }),
        KitItem::Chair(Plain {}),
        KitItem::Anchor(Anchor {
            heights_m: vec![0.1, 0.6, 1.0, 1.4, 1.8, 2.1],
            door: None,
            on: None,
            weight_kg: None,
        }),
        KitItem::Parallettes(Plain {}),
        KitItem::Wedge(Plain {}),
        KitItem::Backpack(Backpack { max_kg: Kilograms(20.0) }),
        KitItem::AbWheel(Plain {}),
        KitItem::Table(Table { height_m: Metres(0.74) }),
        KitItem::Helper(Plain {}),
        KitItem::Towel(Plain {}),
        KitItem::Sofa(Plain {}),
    ]
}

impl Place {
    /// Checks every item; error paths start with `kit[i]`.
    pub fn validate(&self) -> Result<(), RangeError> {
        if self.kit.len() > MOST_PIECES {
            return Err(RangeError::new("kit", format!("may list at most {MOST_PIECES} items")));
        }
        self.kit.iter().enumerate().try_for_each(|(i, item)| item.validate().map_err(|e| e.under(&format!("kit[{i}]"))))
    }
}

impl From<LoopBand> for KitItem {
    fn from(band: LoopBand) -> Self {
        Self::LoopBand(band)
    }
}

impl From<TubeBand> for KitItem {
    fn from(band: TubeBand) -> Self {
        Self::TubeBand(band)
    }
}
