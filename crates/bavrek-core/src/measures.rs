//! A body mass or height as people write it: units told apart, and doubt where a figure smells of another unit.

use crate::quantity;
use crate::ranges::{self, LegalRange, RangeError};
use crate::units::{KG_PER_LB, Kilograms, MassUnit, Metres, trim_number};

/// A body mass that changes by more than this share since the last one is asked about. Assumption: faster change is
/// rarer than a typing error.
const MOST_CHANGE: f64 = 0.12;
/// Height of a grown-up that changes by more than this is asked about, m.
const MOST_GROWTH: f64 = 0.04;
/// Body-mass indices outside of this are asked about, kg/m²; not a judgement, only a sign of a wrong unit.
const USUAL_INDEX: [f64; 2] = [14.0, 45.0];

/// A figure that must be there; the error gives an example.
fn needed(path: &str, text: &str, range: LegalRange, example: &str) -> Result<f64, RangeError> {
    if text.trim().is_empty() {
        return Err(RangeError::new(path, format!("is needed, for example {example}")));
    }
    quantity::read(path, text, range).map(|taken| taken.value)
}

/// The legal range of a body mass in a client's own unit, rounded inwards.
pub fn mass_range(unit: MassUnit) -> LegalRange {
    let LegalRange { min, max, .. } = ranges::BODY_MASS;
    match unit {
        MassUnit::Kg => ranges::BODY_MASS,
        MassUnit::Lb => {
            LegalRange { min: (min / KG_PER_LB).ceil(), max: (max / KG_PER_LB).floor(), unit: unit.symbol() }
        }
    }
}

/// Reads a body mass such as `71`, `71,5 kg`, `157 lb` or `11 st 3`; without a unit it is in `usual`.
pub fn body_mass(text: &str, usual: MassUnit) -> Result<Kilograms, RangeError> {
    let example = if usual == MassUnit::Lb { "157 lb" } else { "71.5 kg" };
    let value = needed("body_mass", text, mass_range(usual), example)?;
    Ok(Kilograms(value * usual.in_kilograms()))
}

/// Reads a height such as `1.68`, `168`, `1,68 m`, `168 cm`, `66 in` or `5'6"`; without a unit it is in metres, or in centimetres
/// where it can be nothing else.
pub fn height(text: &str) -> Result<Metres, RangeError> {
    needed("height", text, ranges::STATURE, "1.68 m or 168 cm").map(Metres)
}

/// Why a body mass in its legal range should be looked at again: far from the last one, or unlikely for the height.
pub fn doubt_mass(mass: Kilograms, height: Option<Metres>, last: Option<Kilograms>) -> Option<String> {
    if let Some(last) = last {
        let ratio = mass.value() / last.value();
        if (ratio - 1.0).abs() <= MOST_CHANGE {
            return None;
        }
        let was = format!("the last was {last:.1}");
        let hint = if (ratio * KG_PER_LB - 1.0).abs() <= MOST_CHANGE {
            format!("; {} lb would be {:.1}", trim_number(mass.value(), 1), mass * KG_PER_LB)
        } else if (ratio / KG_PER_LB - 1.0).abs() <= MOST_CHANGE {
            format!(
                "; is it {:.1}, that is {} lb?",
                mass * (1.0 / KG_PER_LB),
                trim_number(mass.value() / KG_PER_LB.powi(2), 0)
            )
        } else {
            String::new()
        };
        return Some(format!("{mass:.1} is far from it: {was}{hint}"));
    }
    let height = height?.value();
    let index = mass.value() / (height * height);
    if (USUAL_INDEX[0]..=USUAL_INDEX[1]).contains(&index) {
        return None;
    }
    Some(format!("{mass:.1} is unusual for {} m: is the unit right?", trim_number(height, 2)))
}

/// Why a height in its legal range should be looked at again: it moved by more than grown-ups do.
pub fn doubt_height(height: Metres, last: Metres) -> Option<String> {
    let moved = height - last;
    (moved.value().abs() > MOST_GROWTH).then(|| format!("{height:.2} is far from the last, {last:.2}"))
}
