//! Legal ranges of measured inputs, each stated once: they feed the checks, the error texts and the forms.

use crate::units::trim_number;

/// A closed range of legal values with its unit.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LegalRange {
    /// Smallest legal value.
    pub min: f64,
    /// Largest legal value.
    pub max: f64,
    /// Unit symbol, for messages.
    pub unit: &'static str,
}

/// A value outside its legal range, with the field it was given for.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[error("{message}")]
pub struct RangeError {
    /// Path of the field, for example `loads[2]`.
    pub path: String,
    /// A sentence that names the range.
    pub message: String,
    /// What was meant, where one thing is.
    pub meant: Option<String>,
}

impl RangeError {
    /// An error for `path` with a ready sentence.
    pub fn new(path: impl Into<String>, message: impl Into<String>) -> Self {
        Self { path: path.into(), message: message.into(), meant: None }
    }

    /// The same with what was meant.
    #[must_use]
    pub fn meaning(mut self, meant: impl Into<String>) -> Self {
        self.meant = Some(meant.into());
        self
    }

    /// Puts a parent path in front: `loads[2]` under `kit[0]` becomes `kit[0].loads[2]`.
    #[must_use]
    pub fn under(mut self, parent: &str) -> Self {
        self.path = if self.path.is_empty() { parent.to_owned() } else { format!("{parent}.{}", self.path) };
        self
    }
}

impl LegalRange {
    const fn new(min: f64, max: f64, unit: &'static str) -> Self {
        Self { min, max, unit }
    }

    /// Whether the value is finite and inside.
    pub fn contains(&self, value: f64) -> bool {
        value.is_finite() && value >= self.min && value <= self.max
    }

    /// Accepts a value inside; the error names the field, the range and what was given.
    pub fn check(&self, path: &str, value: f64) -> Result<f64, RangeError> {
        if self.contains(value) {
            return Ok(value);
        }
        Err(RangeError::new(
            path,
            format!(
                "must be between {} and {} {}, not {}",
                trim_number(self.min, 3),
                trim_number(self.max, 3),
                self.unit,
                trim_number(value, 3)
            ),
        ))
    }
}

/// Stature of a client.
pub const STATURE: LegalRange = LegalRange::new(1.2, 2.3, "m");
/// Body mass of a client.
pub const BODY_MASS: LegalRange = LegalRange::new(30.0, 250.0, "kg");
/// Age of a client.
pub const AGE: LegalRange = LegalRange::new(10.0, 110.0, "years");
/// Width of a loop band.
pub const BAND_WIDTH: LegalRange = LegalRange::new(0.003, 0.11, "m");
/// Thickness of a loop band.
pub const BAND_THICKNESS: LegalRange = LegalRange::new(0.001, 0.008, "m");
/// Flat length of a loop, or rest length of a tube.
pub const BAND_LENGTH: LegalRange = LegalRange::new(0.15, 3.0, "m");
/// A force printed on a band or read off a hanging scale.
pub const BAND_FORCE: LegalRange = LegalRange::new(0.2, 150.0, "kg");
/// A length at which a band was measured.
pub const STRETCHED_LENGTH: LegalRange = LegalRange::new(0.15, 8.0, "m");
/// One dumbbell, in either unit after conversion.
pub const DUMBBELL: LegalRange = LegalRange::new(0.25, 100.0, "kg");
/// The bar of a barbell without plates.
pub const BAR: LegalRange = LegalRange::new(1.0, 30.0, "kg");
/// A barbell with its plates: beyond it, upper-body work at home has left its field.
pub const BARBELL: LegalRange = LegalRange::new(1.0, 300.0, "kg");
/// One plate.
pub const PLATE: LegalRange = LegalRange::new(0.1, 25.0, "kg");
/// A weight in the hands, whatever it is.
pub const HELD: LegalRange = LegalRange::new(0.25, 300.0, "kg");
/// What a set comes to over its range, whatever carries it.
pub const EFFECTIVE: LegalRange = LegalRange::new(0.01, 500.0, "kg");
/// Increment of an adjustable dumbbell.
pub const DUMBBELL_STEP: LegalRange = LegalRange::new(0.1, 20.0, "kg");
/// Bench angle; negative is a decline.
pub const BENCH_ANGLE: LegalRange = LegalRange::new(-45.0, 90.0, "degrees");
/// Height of an anchor, a bar or rings above the floor.
pub const HANGING_HEIGHT: LegalRange = LegalRange::new(0.0, 3.5, "m");
/// Height of a box, a step, a bench or a support for hands or feet.
pub const SUPPORT_HEIGHT: LegalRange = LegalRange::new(0.02, 1.2, "m");
/// Added weight on a belt, in a backpack or between the feet.
pub const ADDED_LOAD: LegalRange = LegalRange::new(0.0, 150.0, "kg");
/// Body angle of a strap movement, from the horizontal.
pub const BODY_ANGLE: LegalRange = LegalRange::new(0.0, 89.0, "degrees");
/// A coordinate of an anchor or a hand, relative to the shoulder.
pub const COORDINATE: LegalRange = LegalRange::new(-5.0, 5.0, "m");
/// A limb angle.
pub const LIMB_ANGLE: LegalRange = LegalRange::new(-360.0, 360.0, "degrees");
/// How many of one kind a place may hold.
pub const COUNT: LegalRange = LegalRange::new(1.0, 50.0, "pieces");
/// Minutes of a session, as planned and as a client has them.
pub const SESSION_MINUTES: LegalRange = LegalRange::new(10.0, 240.0, "minutes");
