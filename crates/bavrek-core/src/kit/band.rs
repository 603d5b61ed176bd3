//! Bands: what is known of their force, and how well.

use serde::{Deserialize, Serialize};

use super::checks::few;
use super::piece::PieceState;
use crate::mechanics::{MechanicsError, band::Rubber};
use crate::ranges::{self, RangeError};
use crate::units::{Kilograms, Metres, trim_number};

/// A point of a hanging-scale measurement.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct MeasuredPoint {
    /// Length of the stretched band.
    pub length_m: Metres,
    /// Reading of the scale.
    pub kg: Kilograms,
    /// Whether it comes from the simulated scale: nothing was measured.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub simulated: bool,
}

/// A closed flat loop.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct LoopBand {
    /// The trainer's name for it, such as a colour.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub label: Option<String>,
    /// How many of the same.
    #[serde(default = "one")]
    pub count: u8,
    /// Length of the flattened loop: half its circumference.
    pub flat_length_m: Metres,
    /// Width.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub width_m: Option<Metres>,
    /// Thickness of the rubber.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub thickness_m: Option<Metres>,
    /// Smallest and largest force printed on it, kg.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rated_kg: Option<[f64; 2]>,
    /// Hanging-scale readings of the whole loop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub measured: Option<Vec<MeasuredPoint>>,
    /// The piece that it is, where a record of pieces is kept. No property of the band, so no part of what is written of it.
    #[serde(skip)]
    pub piece: Option<PieceState>,
}

/// A tube with two handles.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct TubeBand {
    /// The trainer's name for it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub label: Option<String>,
    /// How many of the same.
    #[serde(default = "one")]
    pub count: u8,
    /// Unstretched length from handle to handle.
    pub rest_length_m: Metres,
    /// Smallest and largest force printed on it, kg.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rated_kg: Option<[f64; 2]>,
    /// Hanging-scale readings of the single tube.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub measured: Option<Vec<MeasuredPoint>>,
    /// The piece that it is, where a record of pieces is kept. No property of the band, so no part of what is written of it.
    #[serde(skip)]
    pub piece: Option<PieceState>,
}

/// What is said with a band whose curve rests on the simulated scale alone.
pub const SIMULATED_MARK: &str = " (simulated readings)";

/// Longest label of a band, characters.
pub const LONGEST_LABEL: usize = 60;

const fn one() -> u8 {
    1
}

fn label_fits(label: Option<&str>) -> Result<(), RangeError> {
    match label {
        Some(text) if text.chars().count() > LONGEST_LABEL => {
            Err(RangeError::new("label", format!("may have at most {LONGEST_LABEL} characters")))
        }
        _ => Ok(()),
    }
}

/// Log-SD of a band of which only simulated readings are known: as of one by its size. Assumed.
pub const UNMEASURED_SD: f64 = 0.20;

/// Readings that were really taken; the simulated ones where there are no others.
fn counted(measured: &[MeasuredPoint]) -> Vec<(Metres, Kilograms)> {
    let own = measured.iter().any(|p| !p.simulated);
    measured.iter().filter(|p| !(own && p.simulated)).map(|p| (p.length_m, p.kg)).collect()
}

/// Whether a curve rests on the simulated scale alone.
pub(super) fn is_simulated(measured: Option<&[MeasuredPoint]>) -> bool {
    measured.is_some_and(|m| !m.is_empty() && m.iter().all(|p| p.simulated))
}

/// The force law of a band from whatever is known about it. Readings of the simulated scale give a curve, and leave its
/// uncertainty as wide as without them.
fn rubber(
    strands: u8,
    rest: Metres,
    geometry: Option<(Metres, Metres)>,
    rated: Option<[f64; 2]>,
    measured: Option<&[MeasuredPoint]>,
) -> Result<Rubber, MechanicsError> {
    if let Some(points) = measured.filter(|p| !p.is_empty()) {
        let fitted = Rubber::from_measurements(&counted(points), rest, strands)?.rubber;
        if !is_simulated(measured) {
            return Ok(fitted);
        }
        let without = self::rubber(strands, rest, geometry, rated, None).map_or(UNMEASURED_SD, |r| r.source_sd);
        return Ok(Rubber { source_sd: fitted.source_sd.max(without), ..fitted });
    }
    if let Some((width, thickness)) = geometry {
        return Ok(Rubber::from_geometry(width, thickness));
    }
    match rated {
        Some([min, max]) => Rubber::from_rating(Kilograms(min), Kilograms(max), strands),
        None => Err(MechanicsError::BandUnknown),
    }
}

fn validate_band(
    label: Option<&str>,
    rated: Option<[f64; 2]>,
    measured: Option<&[MeasuredPoint]>,
) -> Result<(), RangeError> {
    label_fits(label)?;
    if rated.is_some_and(|[min, max]| max <= min) {
        return Err(RangeError::new("rated_kg", "the larger force must come second"));
    }
    if let Some(points) = measured {
        few("measured", points.len())?;
        for (i, point) in points.iter().enumerate() {
            ranges::STRETCHED_LENGTH.check(&format!("measured[{i}].length_m"), point.length_m.value())?;
            ranges::BAND_FORCE.check(&format!("measured[{i}].kg"), point.kg.value())?;
        }
    }
    Ok(())
}

impl LoopBand {
    /// What it is called: its label, or its width.
    pub fn name(&self) -> String {
        match (&self.label, self.width_m) {
            (Some(label), Some(width)) => format!("{label} loop {} mm", trim_number(width.value() * 1000.0, 1)),
            (Some(label), None) => format!("{label} loop"),
            (None, Some(width)) => format!("loop {} mm", trim_number(width.value() * 1000.0, 1)),
            (None, None) => match self.rated_kg {
                Some([min, max]) => format!("loop rated {} to {} kg", trim_number(min, 1), trim_number(max, 1)),
                None => "loop".into(),
            },
        }
    }

    /// The force law of one strand. Measurements win over geometry, geometry over a rating.
    pub fn rubber(&self) -> Result<Rubber, MechanicsError> {
        let geometry = self.width_m.zip(self.thickness_m);
        rubber(2, self.flat_length_m, geometry, self.rated_kg, self.measured.as_deref())
    }

    pub(super) fn check_whole(&self) -> Result<(), RangeError> {
        validate_band(self.label.as_deref(), self.rated_kg, self.measured.as_deref())?;
        self.rubber().map(drop).map_err(|e| RangeError::new(e.field(), e.to_string()))
    }
}

impl TubeBand {
    /// What it is called.
    pub fn name(&self) -> String {
        self.label.as_ref().map_or_else(|| "tube".into(), |label| format!("{label} tube"))
    }

    /// The force law of the single tube.
    pub fn rubber(&self) -> Result<Rubber, MechanicsError> {
        rubber(1, self.rest_length_m, None, self.rated_kg, self.measured.as_deref())
    }

    pub(super) fn check_whole(&self) -> Result<(), RangeError> {
        validate_band(self.label.as_deref(), self.rated_kg, self.measured.as_deref())?;
        self.rubber().map(drop).map_err(|e| RangeError::new(e.field(), e.to_string()))
    }
}
