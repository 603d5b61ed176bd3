//! Loads as they are stamped on the weight.

use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::units::{Kilograms, MassUnit, trim_number};

vocabulary!(
    /// Whether a stamped load is held in each hand or counts once.
    PerHand {
        Hand => "hand", "each hand";
        Total => "total", "in total";
    }
);

/// A load as it is stamped on the weight. Never converted: pounds stay pounds.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct StampedLoad {
    /// The figure on the weight.
    pub value: f64,
    /// Its unit.
    pub unit: MassUnit,
    /// Each hand, or in total.
    pub per: PerHand,
}

impl StampedLoad {
    /// The load in kilograms, of the one weight that is stamped.
    pub fn kilograms(&self) -> Kilograms {
        Kilograms(self.value * self.unit.in_kilograms())
    }

    /// For example `12 kg each hand`.
    pub fn text(&self) -> String {
        format!("{} {}", self.short(), self.per)
    }

    /// For example `12 kg`.
    pub fn short(&self) -> String {
        format!("{} {}", trim_number(self.value, 2), self.unit.symbol())
    }
}
