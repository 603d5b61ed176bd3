//! Everything at a place that can load, anchor or support.

mod anchor;
mod apart;
mod band;
mod checks;
pub mod improvised;
pub mod line;
mod named;
pub mod offer;
mod piece;
mod weights;

pub use anchor::{Anchor, AnchorOn, DOOR_HEIGHTS, DUMBBELL_HOLDS, USUAL_DOOR_HEIGHTS};
pub use apart::{count_of, mistaken, tell_apart};
use band::is_simulated;
pub use band::{LONGEST_LABEL, LoopBand, MeasuredPoint, SIMULATED_MARK, TubeBand, UNMEASURED_SD};
pub use checks::{MOST_ENTRIES, MOST_PIECES};
use checks::{each, few, hanging, support};
pub use named::{NamedBand, same_bands};
pub use piece::PieceState;
pub use weights::{Barbell, Kettlebells, MOST_PLATES, PlateDumbbell, Plates, plates_text, read_plates};

use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::ranges::{self, RangeError};
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

/// One typed piece of kit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum KitItem {
    /// Fixed dumbbells.
    Dumbbells(Dumbbells),
    /// One or two dumbbells with changeable plates.
    AdjustableDumbbell(AdjustableDumbbell),
    /// Dumbbell handles with the plates that go onto them.
    PlateDumbbell(PlateDumbbell),
    /// Kettlebells.
    Kettlebells(Kettlebells),
    /// A barbell with its plates.
    Barbell(Barbell),
    /// A rack or stands with arms that catch a bar.
    Rack(Plain),
    /// A closed flat loop.
    LoopBand(LoopBand),
    /// A tube with two handles.
    TubeBand(TubeBand),
    /// A pair of rings on straps.
    Rings(Rings),
    /// A bar to hang from.
    PullUpBar(PullUpBar),
    /// Parallel bars.
    DipBars(Plain),
    /// A bench.
    Bench(Bench),
    /// Sturdy boxes of one height.
    Box(Boxes),
    /// A sturdy chair.
    Chair(Plain),
    /// A sofa.
    Sofa(Plain),
    /// A step or stair.
    Step(Step),
    /// A point that holds a band.
    Anchor(Anchor),
    /// A backpack to load.
    Backpack(Backpack),
    /// A wheel for roll-outs.
    AbWheel(Plain),
    /// Low handles for push-ups.
    Parallettes(Plain),
    /// A plate or book that tilts a bench.
    Wedge(Plain),
    /// A sturdy table whose edge can be held.
    Table(Table),
    /// A towel to hold or to slide on.
    Towel(Plain),
    /// Somebody who can lend their hands.
    Helper(Plain),
}

/// An item with no measures.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Plain {}

/// Fixed dumbbells, as stamped.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Dumbbells {
    /// The stamped unit.
    pub unit: MassUnit,
    /// Weights there are two of.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub pairs: Vec<f64>,
    /// Weights there is one of.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub singles: Vec<f64>,
    /// Whether their heads are flat, so that hands can rest on them, where that was told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub heads: Option<Heads>,
}

vocabulary!(
    /// The heads of dumbbells: round ones roll.
    Heads {
        Flat => "flat", "flat heads";
        Round => "round", "round heads";
    }
);

/// Dumbbells with changeable plates.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct AdjustableDumbbell {
    /// The stamped unit.
    pub unit: MassUnit,
    /// One or two.
    pub count: u8,
    /// Lightest setting.
    pub min: f64,
    /// Heaviest setting.
    pub max: f64,
    /// Increment.
    pub step: f64,
}

/// A pair of rings on straps.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Rings {
    /// Highest height of the rings above the floor.
    pub max_height_m: Metres,
}

/// A bar to hang from.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct PullUpBar {
    /// Height above the floor.
    pub height_m: Metres,
}

/// A bench and the angles it can take.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Bench {
    /// Back angles from the horizontal; negative is a decline.
    pub angles_deg: Vec<f64>,
    /// Height of the seat.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub height_m: Option<Metres>,
    /// How many alike there are; one where it is left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub count: Option<u8>,
}

/// Sturdy boxes of one height.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Boxes {
    /// Height.
    pub height_m: Metres,
    /// How many.
    pub count: u8,
}

/// A step or stair.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Step {
    /// Height.
    pub height_m: Metres,
}

/// A sturdy table.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Table {
    /// Height of its edge.
    pub height_m: Metres,
}

/// A backpack to load.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Backpack {
    /// What it can carry.
    pub max_kg: Kilograms,
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

    /// The identifier of the kind, as in files.
    pub const fn kind(&self) -> &'static str {
        match self {
            Self::Dumbbells(_) => "dumbbells",
            Self::AdjustableDumbbell(_) => "adjustable_dumbbell",
            Self::PlateDumbbell(_) => "plate_dumbbell",
            Self::Kettlebells(_) => "kettlebells",
            Self::Barbell(_) => "barbell",
            Self::Rack(_) => "rack",
            Self::LoopBand(_) => "loop_band",
            Self::TubeBand(_) => "tube_band",
            Self::Rings(_) => "rings",
            Self::PullUpBar(_) => "pull_up_bar",
            Self::DipBars(_) => "dip_bars",
            Self::Bench(_) => "bench",
            Self::Box(_) => "box",
            Self::Chair(_) => "chair",
            Self::Sofa(_) => "sofa",
            Self::Step(_) => "step",
            Self::Anchor(_) => "anchor",
            Self::Backpack(_) => "backpack",
            Self::AbWheel(_) => "ab_wheel",
            Self::Parallettes(_) => "parallettes",
            Self::Wedge(_) => "wedge",
            Self::Table(_) => "table",
            Self::Towel(_) => "towel",
            Self::Helper(_) => "helper",
        }
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
            Self::Bench(b) => match b.count {
                Some(count) if count > 1 => format!("{count} benches {}°", list(&b.angles_deg)),
                _ => format!("bench {}°", list(&b.angles_deg)),
            },
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
        match self {
            Self::Dumbbells(d) => d.validate(),
            Self::AdjustableDumbbell(a) => a.validate(),
            Self::PlateDumbbell(d) => d.validate(),
            Self::Kettlebells(k) => k.validate(),
            Self::Barbell(b) => b.validate(),
            Self::LoopBand(b) => b.validate(),
            Self::TubeBand(b) => b.validate(),
            Self::Rings(r) => hanging("max_height_m", r.max_height_m.value()),
            Self::PullUpBar(b) => hanging("height_m", b.height_m.value()),
            Self::Bench(b) => {
                few("angles_deg", b.angles_deg.len())?;
                each("angles_deg", &b.angles_deg, ranges::BENCH_ANGLE)?;
                ranges::COUNT.check("count", f64::from(b.count.unwrap_or(1)))?;
                b.height_m.map_or(Ok(()), |h| support("height_m", h.value()))
            }
            Self::Box(b) => {
                support("height_m", b.height_m.value())?;
                ranges::COUNT.check("count", f64::from(b.count)).map(drop)
            }
            Self::Step(s) => support("height_m", s.height_m.value()),
            Self::Table(t) => support("height_m", t.height_m.value()),
            Self::Anchor(a) => a.validate(),
            Self::Backpack(b) => ranges::ADDED_LOAD.check("max_kg", b.max_kg.value()).map(drop),
            Self::DipBars(_)
            | Self::Rack(_)
            | Self::Chair(_)
            | Self::Sofa(_)
            | Self::AbWheel(_)
            | Self::Parallettes(_)
            | Self::Wedge(_)
            | Self::Towel(_)
            | Self::Helper(_) => Ok(()),
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
