//! How much each part of a score counts.

use serde::{Deserialize, Serialize};

use super::parts::Parts;
use crate::method::Method;
use crate::ranges::RangeError;

/// Weights of the parts in the geometric mean, in the order of [`Parts`]. They sum to 1; more weight makes a weak part
/// count for more.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Weights([f64; 7]);

/// Place of the joints among the parts.
const JOINTS: usize = 4;

/// A hundred parts, give or take rounding to one decimal.
const WHOLE: f64 = 100.0;

impl Weights {
    /// Where neither a method nor a trainer says otherwise. Assumed.
    pub const USUAL: Self = Self([0.42, 0.14, 0.14, 0.05, 0.15, 0.05, 0.05]);

    /// What a school holds dear. Assumed from what it says of itself; joints never count for less.
    pub const fn of(method: Method) -> Self {
        match method {
            Method::ReserveBased => Self::USUAL,
            Method::HeavyCompound => Self([0.38, 0.07, 0.20, 0.07, 0.15, 0.08, 0.05]),
            Method::SlowTempo => Self([0.43, 0.20, 0.10, 0.02, 0.15, 0.06, 0.04]),
            Method::HighRepBand => Self([0.45, 0.20, 0.06, 0.02, 0.17, 0.05, 0.05]),
            Method::PastFailure => Self([0.38, 0.12, 0.16, 0.05, 0.15, 0.10, 0.04]),
            Method::AntagonistPairs | Method::TimedCircuit => Self([0.38, 0.12, 0.12, 0.04, 0.15, 0.07, 0.12]),
            Method::RegionSweep => Self([0.50, 0.12, 0.12, 0.04, 0.15, 0.03, 0.04]),
            Method::MixedContractions => Self([0.41, 0.13, 0.13, 0.04, 0.15, 0.10, 0.04]),
        }
    }

    /// A trainer's own weights, in percent of the whole. What they sum to does not matter: shares are taken. Refused
    /// where one is negative, where nothing is left, and where the joints would count for less than usual; the path is
    /// the part's field.
    pub fn from_percent(percent: [f64; 7]) -> Result<Self, RangeError> {
        for (value, field) in percent.iter().zip(Parts::FIELDS) {
            if !(value.is_finite() && (0.0..=WHOLE).contains(value)) {
                return Err(RangeError::new(field, "must be 0 to 100"));
            }
        }
        let total: f64 = percent.iter().sum();
        if total <= 0.0 {
            return Err(RangeError::new(Parts::FIELDS[0], "something must count"));
        }
        let weights = Self(percent.map(|value| value / total));
        let least = Self::USUAL.0[JOINTS];
        if weights.0[JOINTS] < least - 0.0005 {
            return Err(RangeError::new(
                Parts::FIELDS[JOINTS],
                format!("must stay at {:.0} of a hundred or more: joints never count for less", least * WHOLE),
            ));
        }
        Ok(weights)
    }

    /// The weights in percent of the whole, to one decimal.
    pub fn percent(&self) -> [f64; 7] {
        self.0.map(|weight| (weight * 10.0 * WHOLE).round() / 10.0)
    }

    /// These weights as a method bends them: each by as much as the method differs from the usual; joints keep their
    /// share at least.
    #[must_use]
    pub fn bent_by(&self, method: Option<Method>) -> Self {
        let Some(method) = method else { return *self };
        let (school, usual) = (Self::of(method).0, Self::USUAL.0);
        let bent: [f64; 7] = std::array::from_fn(|i| self.0[i] * school[i] / usual[i]);
        let joints = bent[JOINTS] / bent.iter().sum::<f64>();
        let joints = joints.max(self.0[JOINTS].min(Self::USUAL.0[JOINTS]));
        let others: f64 = bent.iter().sum::<f64>() - bent[JOINTS];
        let scale = if others > 0.0 { (1.0 - joints) / others } else { 0.0 };
        Self(std::array::from_fn(|i| if i == JOINTS { joints } else { bent[i] * scale }))
    }

    /// The weights in the order of the parts.
    pub const fn values(&self) -> [f64; 7] {
        self.0
    }
}

impl Default for Weights {
    fn default() -> Self {
        Self::USUAL
    }
}
