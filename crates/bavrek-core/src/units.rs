//! Quantities with their unit in the type.
//!
//! Bare `f64` stays inside an equation; whatever crosses a module boundary says what it measures. Conversions from
//! pounds and inches happen at the edges only.

use serde::{Deserialize, Serialize};

/// Standard gravity, m/s².
pub const GRAVITY: f64 = 9.80665;

/// Kilograms in one international avoirdupois pound (exact by definition).
pub const KG_PER_LB: f64 = 0.453_592_37;

macro_rules! quantity {
    ($(#[$doc:meta])* $name:ident, $unit:literal) => {
        $(#[$doc])*
        #[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Default, Serialize, Deserialize)]
        #[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
        #[serde(transparent)]
        pub struct $name(pub f64);

        impl $name {
            /// The bare number, in the unit of the type.
            pub const fn value(self) -> f64 {
                self.0
            }
        }

        impl std::fmt::Display for $name {
            fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
                write!(f, "{} {}", trim_number(self.0, f.precision().unwrap_or(2)), $unit)
            }
        }

        impl std::ops::Add for $name {
            type Output = Self;
            fn add(self, other: Self) -> Self {
                Self(self.0 + other.0)
            }
        }

        impl std::ops::Sub for $name {
            type Output = Self;
            fn sub(self, other: Self) -> Self {
                Self(self.0 - other.0)
            }
        }

        impl std::ops::Mul<f64> for $name {
            type Output = Self;
            fn mul(self, factor: f64) -> Self {
                Self(self.0 * factor)
            }
        }
    };
}

quantity!(
    /// Mass, or a force expressed as the mass whose weight it equals. Unit: kg.
    Kilograms,
    "kg"
);
quantity!(
    /// Force. Unit: N.
    Newtons,
    "N"
);
quantity!(
    /// Length. Unit: m.
    Metres,
    "m"
);
quantity!(
    /// Plane angle as a trainer says it. Unit: degree.
    Degrees,
    "°"
);
quantity!(
    /// Duration. Unit: s.
    Seconds,
    "s"
);

impl Newtons {
    /// The mass whose weight equals this force.
    pub fn as_kilograms(self) -> Kilograms {
        Kilograms(self.0 / GRAVITY)
    }
}

impl Kilograms {
    /// The weight of this mass.
    pub fn weight(self) -> Newtons {
        Newtons(self.0 * GRAVITY)
    }

    /// Rounds to two significant figures, the precision at which band and lever loads are shown.
    ///
    /// ```
    /// use bavrek_core::units::Kilograms;
    /// assert_eq!(Kilograms(8.473).two_figures().value(), 8.5);
    /// assert_eq!(Kilograms(43.61).two_figures().value(), 44.0);
    /// ```
    #[must_use]
    pub fn two_figures(self) -> Self {
        if self.0 == 0.0 || !self.0.is_finite() {
            return self;
        }
        let scale = 10f64.powi(1 - self.0.abs().log10().floor() as i32);
        Self((self.0 * scale).round() / scale)
    }
}

impl Degrees {
    /// The angle in radians.
    pub fn radians(self) -> f64 {
        self.0.to_radians()
    }
}

/// The unit stamped on a weight.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(rename_all = "lowercase")]
pub enum MassUnit {
    /// Kilograms.
    #[default]
    Kg,
    /// International pounds.
    Lb,
}

impl MassUnit {
    /// Kilograms in one of this unit.
    pub const fn in_kilograms(self) -> f64 {
        match self {
            Self::Kg => 1.0,
            Self::Lb => KG_PER_LB,
        }
    }

    /// The abbreviation on the weight: `kg` or `lb`.
    pub const fn symbol(self) -> &'static str {
        match self {
            Self::Kg => "kg",
            Self::Lb => "lb",
        }
    }
}

/// Writes a number with at most `decimals` decimals and without trailing zeros.
///
/// ```
/// assert_eq!(bavrek_core::units::trim_number(12.50, 2), "12.5");
/// assert_eq!(bavrek_core::units::trim_number(8.0, 1), "8");
/// ```
pub fn trim_number(value: f64, decimals: usize) -> String {
    let text = format!("{value:.decimals$}");
    if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.').to_owned() } else { text }
}
