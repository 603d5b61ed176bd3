//! Elastic bands: force of a strand, free lengths, and what is known about a given band.

use std::f64::consts::PI;

use super::MechanicsError;
use crate::units::{GRAVITY, Kilograms, Metres, Newtons};

/// First Mooney-Rivlin coefficient of latex band rubber, Pa. Assumed; see [`Rubber::from_geometry`].
const C1: f64 = 0.170e6;
/// Second Mooney-Rivlin coefficient, Pa. Assumed.
const C2: f64 = 0.050e6;
/// Q/P of the default rubber, used where only one number is known.
const DEFAULT_RATIO: f64 = 0.294;
/// Extension ratio below which a start is called slack.
pub const SLACK: f64 = 1.05;
/// Extension ratio above which to warn (200 % elongation).
pub const WARN_STRETCH: f64 = 3.0;
/// Extension ratio above which to refuse (250 % elongation).
pub const MAX_STRETCH: f64 = 3.5;
/// Shortest free length that is still a band to work with, m.
pub const MIN_FREE: f64 = 0.10;
/// Log-SD of hysteresis between lengthening and shortening. Assumed.
const HYSTERESIS_SD: f64 = 0.04;
/// Log-SD of first-stretch softening and ageing. Assumed.
const AGEING_SD: f64 = 0.05;

/// The force law of one strand: `F1(λ) = P(λ − λ⁻²) + Q(1 − λ⁻³)` for λ > 1, else 0 (Mooney 1940, Rivlin 1948).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Rubber {
    /// First coefficient times the strand's cross-section, N.
    pub p: f64,
    /// Second coefficient times the strand's cross-section, N.
    pub q: f64,
    /// Log-SD of the force at a fixed stretch from the source of P and Q alone.
    pub source_sd: f64,
}

/// A fit to hanging-scale points.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RubberFit {
    /// The fitted law.
    pub rubber: Rubber,
    /// Relative residual `sqrt(Σr²/(N−2))`; absent for two points or fewer ("not checked").
    pub residual: Option<f64>,
    /// Whether measuring again is advised: a large residual, or a coefficient that had to be forced to zero. The
    /// usual cause is a wrong resting length.
    pub measure_again: bool,
}

fn phi(stretch: f64) -> f64 {
    stretch - stretch.powi(-2)
}

fn psi(stretch: f64) -> f64 {
    1.0 - stretch.powi(-3)
}

impl Rubber {
    /// From the width and thickness of a strand. Log-SD 0.20: filler, wear and tolerance.
    ///
    /// The two coefficients were chosen so that the small-strain modulus is 0.44 megapascal and common printed ranges are met, so their
    /// agreement with such ranges is a fit, not a validation.
    pub fn from_geometry(width: Metres, thickness: Metres) -> Self {
        let area = width.value() * thickness.value();
        Self { p: 2.0 * C1 * area, q: 2.0 * C2 * area, source_sd: 0.20 }
    }

    /// From a printed range, taken as 65 % and 260 % elongation of `strands` in parallel. Refused where the two ends
    /// differ by more than a factor of e^0.8.
    pub fn from_rating(min: Kilograms, max: Kilograms, strands: u8) -> Result<Self, MechanicsError> {
        let one_point = |kg: Kilograms, stretch: f64| {
            kg.weight().value() / f64::from(strands) / (phi(stretch) + DEFAULT_RATIO * psi(stretch))
        };
        let (low, high) = (one_point(min, 1.65), one_point(max, 3.6));
        let misfit = 0.5 * (high / low).ln().abs();
        if !misfit.is_finite() {
            return Err(MechanicsError::NotFinite);
        }
        if misfit > 0.4 {
            return Err(MechanicsError::RatingImplausible);
        }
        let p = (low * high).sqrt();
        Ok(Self { p, q: DEFAULT_RATIO * p, source_sd: 0.15f64.hypot(misfit) })
    }

    /// From hanging-scale readings `(stretched length, kg)` of `strands` in parallel with free length `rest`.
    ///
    /// Least squares of relative errors with one weak ridge row towards Q = 0.294 P.
    pub fn from_measurements(
        points: &[(Metres, Kilograms)],
        rest: Metres,
        strands: u8,
    ) -> Result<RubberFit, MechanicsError> {
        let rows = relative_rows(points, rest, strands)?;
        let p0 = single_coefficient(rows.iter().map(|(a, b)| a + DEFAULT_RATIO * b));
        let v = 0.03 / (0.6 * p0);
        let (mut saa, mut sab, mut sbb, mut sa, mut sb) =
            ((DEFAULT_RATIO * v).powi(2), -DEFAULT_RATIO * v * v, v * v, 0.0, 0.0);
        for (a, b) in &rows {
            saa += a * a;
            sab += a * b;
            sbb += b * b;
            sa += a;
            sb += b;
        }
        let det = saa * sbb - sab * sab;
        let (mut p, mut q) = ((sa * sbb - sb * sab) / det, (sb * saa - sa * sab) / det);
        let forced = p < 0.0 || q < 0.0;
        if q < 0.0 {
            (p, q) = (single_coefficient(rows.iter().map(|r| r.0)), 0.0);
        } else if p < 0.0 {
            (p, q) = (0.0, single_coefficient(rows.iter().map(|r| r.1)));
        }
        if !(p.is_finite() && q.is_finite()) {
            return Err(MechanicsError::NotFinite);
        }
        let squares: f64 = rows.iter().map(|(a, b)| (1.0 - a * p - b * q).powi(2)).sum();
        let residual = (rows.len() > 2).then(|| (squares / (rows.len() - 2) as f64).sqrt());
        let source_sd = match (rows.len(), residual) {
            (1, _) => 0.10,
            (_, None) => 0.07,
            (_, Some(s)) => s.max(0.03),
        };
        let measure_again = forced || residual.is_some_and(|s| s > 0.06);
        Ok(RubberFit { rubber: Self { p, q, source_sd }, residual, measure_again })
    }

    /// Force of one strand at an extension ratio, N.
    pub fn strand_force(&self, stretch: f64) -> f64 {
        if stretch > 1.0 { self.p * phi(stretch) + self.q * psi(stretch) } else { 0.0 }
    }

    /// Relative change of force for a relative change of length: `S = λF1′/F1`, so that an error of the resting length
    /// counts S times. Infinite where the band is slack.
    ///
    /// ```
    /// use bavrek_core::mechanics::band::Rubber;
    /// use bavrek_core::units::Metres;
    /// let rubber = Rubber::from_geometry(Metres(0.022), Metres(0.0045));
    /// assert!((rubber.sensitivity(2.0) - 1.30).abs() < 0.01);
    /// ```
    pub fn sensitivity(&self, stretch: f64) -> f64 {
        if stretch <= 1.0 {
            return f64::INFINITY;
        }
        let slope = self.p * (1.0 + 2.0 * stretch.powi(-3)) + 3.0 * self.q * stretch.powi(-4);
        stretch * slope / self.strand_force(stretch)
    }

    /// Force of `strands` in parallel whose ends are `distance` apart. Zero when slack; refused beyond 250 %.
    pub fn force(&self, strands: f64, distance: Metres, free: Metres) -> Result<Newtons, MechanicsError> {
        if !(distance.value().is_finite() && free.value().is_finite()) {
            return Err(MechanicsError::NotFinite);
        }
        if free.value() <= MIN_FREE {
            return Err(MechanicsError::TooShort(free.value()));
        }
        let stretch = distance.value() / free.value();
        if stretch > MAX_STRETCH {
            return Err(MechanicsError::Overstretched((stretch - 1.0) * 100.0));
        }
        Ok(Newtons(strands * self.strand_force(stretch)))
    }

    /// Log-SD of a force stated to a client: source, hysteresis and ageing in quadrature.
    pub fn log_sd(&self) -> f64 {
        (self.source_sd.powi(2) + HYSTERESIS_SD.powi(2) + AGEING_SD.powi(2)).sqrt()
    }
}

fn relative_rows(points: &[(Metres, Kilograms)], rest: Metres, strands: u8) -> Result<Vec<(f64, f64)>, MechanicsError> {
    if points.is_empty() || rest.value() <= MIN_FREE {
        return Err(MechanicsError::BandUnknown);
    }
    points
        .iter()
        .map(|(length, kg)| {
            let stretch = length.value() / rest.value();
            let force = kg.value() * GRAVITY / f64::from(strands);
            if !(stretch.is_finite() && force.is_finite() && force > 0.0) {
                return Err(MechanicsError::NotFinite);
            }
            if stretch <= 1.02 {
                return Err(MechanicsError::SlackPoint(length.value()));
            }
            Ok((phi(stretch) / force, psi(stretch) / force))
        })
        .collect()
}

/// Least squares of `1 = c·x` for one coefficient.
fn single_coefficient(column: impl Iterator<Item = f64>) -> f64 {
    let (mut sx, mut sxx) = (0.0, 0.0);
    for x in column {
        sx += x;
        sxx += x * x;
    }
    sx / sxx
}

/// Free length of a loop hung over a bar or hook: `L0 − π/4(D+t) − π/4(dh+t)`; two strands at the hand.
pub fn hooked(flat: Metres, thickness: Metres, anchor_diameter: Metres, grip_diameter: Metres) -> Metres {
    let wrap = |d: Metres| PI / 4.0 * (d.value() + thickness.value());
    Metres(flat.value() - wrap(anchor_diameter) - wrap(grip_diameter))
}

/// Free length of a loop passed through itself round a pole: `L0 − π(D+t) − π/4(dh+t)`; two strands at the hand.
pub fn choked(flat: Metres, thickness: Metres, anchor_diameter: Metres, grip_diameter: Metres) -> Metres {
    let (d, g, t) = (anchor_diameter.value(), grip_diameter.value(), thickness.value());
    Metres(flat.value() - PI * (d + t) - PI / 4.0 * (g + t))
}

/// Free length per hand of a loop stood on inside, one side per hand: `(2·L0 − s − u)/2`, `stance` the rubber pinned
/// between the outer edges of the feet, `in_hands` the rubber between or inside the hands. Foot spacing matters most.
pub fn stood_on(flat: Metres, stance: Metres, in_hands: Metres) -> Metres {
    Metres((2.0 * flat.value() - stance.value() - in_hands.value()) / 2.0)
}

/// Free length per hand of a tube stood on at its middle: `(Ltube − s)/2`.
pub fn tube_stood_on(rest: Metres, stance: Metres) -> Metres {
    Metres((rest.value() - stance.value()) / 2.0)
}
