//! Pieces that are told by a few plain figures.

use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::units::{Kilograms, MassUnit, Metres};

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
