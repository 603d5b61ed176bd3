//! Points that hold a band: hooks, doors, and things that were not made for it.

use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::ranges::RangeError;
use crate::units::{Kilograms, trim_number};

/// Points that hold a band.
///
/// A door anchor can be put anywhere along the door's edge: its heights are only the usual ones.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Anchor {
    /// Heights above the floor at which a band can be fixed.
    pub heights_m: Vec<f64>,
    /// Whether it is a door anchor, which brings its own cautions.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub door: Option<bool>,
    /// What it is, where it was not made to hold anything.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub on: Option<AnchorOn>,
    /// Weight of a dumbbell that serves as one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub weight_kg: Option<Kilograms>,
}

vocabulary!(
    /// What serves as an anchor without being made for it.
    AnchorOn {
        Post => "post", "a bed post or pole";
        Furniture => "furniture", "a sofa or heavy furniture";
        Dumbbell => "dumbbell", "a heavy dumbbell on the floor";
    }
);

/// Share of its weight that a dumbbell on the floor withstands as an anchor before it slides or lifts: with a friction of
/// a half it slides at 0.45 to 0.5 of it, whatever the angle. Assumed, with a margin.
pub const DUMBBELL_HOLDS: f64 = 0.4;

/// Where along a door an anchor can be put, m above the floor: from the lowest strap to the top of a usual door.
pub const DOOR_HEIGHTS: [f64; 2] = [0.10, 2.00];
/// Heights at which a door anchor is usually put, m: low, at the chest, at the top.
pub const USUAL_DOOR_HEIGHTS: [f64; 3] = [0.10, 1.10, 2.00];

impl Anchor {
    /// A door anchor at its usual heights.
    pub fn in_door() -> Self {
        Self { heights_m: USUAL_DOOR_HEIGHTS.to_vec(), door: Some(true), on: None, weight_kg: None }
    }

    /// Whether it is put into a door's gap, anywhere along it.
    pub const fn is_in_door(&self) -> bool {
        matches!(self.door, Some(true))
    }

    /// The hardest pull that it withstands; none where that is not limited by its own weight.
    pub fn holds(&self) -> Option<Kilograms> {
        self.weight_kg.filter(|_| self.on == Some(AnchorOn::Dumbbell)).map(|weight| weight * DUMBBELL_HOLDS)
    }

    /// The same anchor that can be at one more height; whatever uses the others stays. Unchanged where it reaches it.
    #[must_use]
    pub fn with_height(mut self, height: f64) -> Self {
        if !self.reaches(height) {
            self.heights_m.push(height);
            self.heights_m.sort_by(f64::total_cmp);
        }
        self
    }

    /// Whether it can be put at another height: what stands on the floor or is furniture cannot.
    pub const fn can_move(&self) -> bool {
        matches!(self.on, None | Some(AnchorOn::Post))
    }

    /// Whether a band can be fixed at a height, m.
    pub fn reaches(&self, height: f64) -> bool {
        let [low, high] = DOOR_HEIGHTS;
        self.heights_m.iter().any(|h| (h - height).abs() <= SAME_HEIGHT)
            || (self.is_in_door() && (low..=high).contains(&height))
    }

    /// The height within `low..=high`, m, that is nearest to its middle; of a door anchor any that the door has, a usual
    /// one first. None where it cannot be there.
    pub fn within(&self, low: f64, high: f64) -> Option<f64> {
        let middle = 0.5 * (low + high);
        let usual = self.heights_m.iter().copied().filter(|h| (low..=high).contains(h));
        let nearest = usual.min_by(|a, b| (a - middle).abs().total_cmp(&(b - middle).abs()));
        let along = || {
            let (low, high) = (low.max(DOOR_HEIGHTS[0]), high.min(DOOR_HEIGHTS[1]));
            // In whole twentieths, which is as near as anybody measures on a door.
            let at = (middle.clamp(low.min(high), high) * 20.0).round() / 20.0;
            (self.is_in_door() && low <= high).then(|| at.clamp(low, high))
        };
        nearest.or_else(along)
    }

    /// Where it is, in words: `at 0.1, 1.2 m`, `anywhere from 0.1 to 2 m`.
    pub fn where_text(&self) -> String {
        if self.is_in_door() {
            return format!(
                "anywhere from {} to {} m",
                trim_number(DOOR_HEIGHTS[0], 2),
                trim_number(DOOR_HEIGHTS[1], 2)
            );
        }
        let heights: Vec<_> = self.heights_m.iter().map(|h| trim_number(*h, 2)).collect();
        let on = match (self.on, self.weight_kg) {
            (Some(AnchorOn::Dumbbell), Some(weight)) => format!(" on a dumbbell of {weight}"),
            (Some(on), _) => format!(" on {on}"),
            (None, _) => String::new(),
        };
        format!("at {} m{on}", heights.join(", "))
    }
}

/// Heights that are one, m.
const SAME_HEIGHT: f64 = 0.02;

impl Anchor {
    /// The same without what does not go together: a door is no furniture, and only a dumbbell holds by its weight.
    #[must_use]
    pub fn tidied(self) -> Self {
        let on = self.on.filter(|_| !self.is_in_door());
        Self { on, weight_kg: self.weight_kg.filter(|_| on == Some(AnchorOn::Dumbbell)), ..self }
    }

    pub(super) fn check_whole(&self) -> Result<(), RangeError> {
        match (self.on, self.weight_kg) {
            (Some(AnchorOn::Dumbbell), None) => {
                Err(RangeError::new("weight_kg", "is needed: a dumbbell holds a share of its weight"))
            }
            _ => Ok(()),
        }
    }
}
