//! Quantities with their unit in the type.
//!
//! Bare `f64` stays inside an equation; whatever crosses a module boundary says what it measures. Conversions from
//! pounds and inches happen at the edges only.

use std::fmt;

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
        // A load that was reckoned may lie a hair below the half it is.
        Self((self.0 * scale * (1.0 + 1e-9)).round() / scale)
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
    Trimmed(value, decimals).to_string()
}

/// A number that writes itself with at most so many decimals and without trailing zeros.
///
/// Whole numbers are written many times faster than fractions, and every step of a ladder is labelled.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Trimmed(pub f64, pub usize);

impl fmt::Display for Trimmed {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let &Self(value, decimals) = self;
        let factor = 10_f64.powi(decimals as i32);
        let scaled = (value * factor).round();
        if scaled.abs() > 1e15 || !scaled.is_finite() {
            return write!(f, "{value}");
        }
        let sign = if scaled < 0.0 { "-" } else { "" };
        let (scaled, factor) = (scaled.abs() as u64, factor as u64);
        let (whole, mut part, mut digits) = (scaled / factor, scaled % factor, decimals);
        if part == 0 {
            return write!(f, "{sign}{whole}");
        }
        while part % 10 == 0 {
            part /= 10;
            digits -= 1;
        }
        write!(f, "{sign}{whole}.{part:0digits$}")
    }
}

#[cfg(test)]
mod tests {
    use super::trim_number;
    use rstest::rstest;

    #[rstest]
    #[case(0.05, 2, "0.05")]
    #[case(-0.004, 2, "0")]
    #[case(-12.5, 1, "-12.5")]
    #[case(99.999, 2, "100")]
    #[case(1.1, 0, "1")]
    #[case(20.0, 0, "20")]
    #[case(3.0625, 3, "3.063")]
    #[case(f64::INFINITY, 2, "inf")]
    #[case(1e18, 1, "1000000000000000000")]
    fn numbers_are_written_short(#[case] value: f64, #[case] decimals: usize, #[case] expected: &str) {
        assert_eq!(trim_number(value, decimals), expected);
    }
}
