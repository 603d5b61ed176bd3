//! A body mass or height as people write it: units told apart, and doubt where a figure smells of another unit.

use crate::ranges::{self, LegalRange, RangeError};
use crate::units::{KG_PER_LB, Kilograms, MassUnit, Metres, trim_number};

/// Metres in one inch (exact by definition).
const M_PER_INCH: f64 = 0.0254;
/// A body mass that changes by more than this share since the last one is asked about. Assumption: faster change is
/// rarer than a typing error.
const MOST_CHANGE: f64 = 0.12;
/// Height of a grown-up that changes by more than this is asked about, m.
const MOST_GROWTH: f64 = 0.04;
/// Body-mass indices outside of this are asked about, kg/m²; not a judgement, only a sign of a wrong unit.
const USUAL_INDEX: [f64; 2] = [14.0, 45.0];

/// Splits `71,5 kg` into the figure and the rest in lower case.
fn split(text: &str) -> (Option<f64>, String) {
    let text = text.trim().to_lowercase().replace(',', ".").replace(['’', '′'], "'").replace(['”', '″'], "\"");
    let end = text.find(|c: char| !(c.is_ascii_digit() || matches!(c, '.' | '-' | '+'))).unwrap_or(text.len());
    let number = text[..end].parse::<f64>().ok().filter(|n| n.is_finite());
    (number, text[end..].trim().to_owned())
}

fn no_number(path: &str, text: &str, example: &str) -> RangeError {
    let why = if text.trim().is_empty() { "is needed".to_owned() } else { format!("{text:?} is not a figure") };
    RangeError::new(path, format!("{why}, for example {example}"))
}

/// Reads a body mass such as `71`, `71,5 kg` or `157 lb`; without a unit it is in `usual`. A figure outside of the
/// legal range whose reading in the other unit lies inside says so.
pub fn body_mass(text: &str, usual: MassUnit) -> Result<Kilograms, RangeError> {
    let (Some(value), rest) = split(text) else { return Err(no_number("body_mass", text, "71.5 kg")) };
    let unit = match rest.as_str() {
        "" => usual,
        "kg" | "kgs" | "kilo" | "kilos" => MassUnit::Kg,
        "lb" | "lbs" | "pound" | "pounds" => MassUnit::Lb,
        other => return Err(RangeError::new("body_mass", format!("{other:?} is not a unit here: kg or lb"))),
    };
    let mass = value * unit.in_kilograms();
    let (other, word) = match unit {
        MassUnit::Kg => (value * KG_PER_LB, "lb"),
        MassUnit::Lb => (value, "kg"),
    };
    let hint = ranges::BODY_MASS
        .contains(other)
        .then(|| format!("{} {word} would be {} kg: write the unit", trim_number(value, 1), trim_number(other, 1)));
    inside(ranges::BODY_MASS, "body_mass", mass, hint).map(Kilograms)
}

/// The value inside its range, or the refusal with a hint at what may have been meant.
fn inside(range: LegalRange, path: &str, value: f64, hint: Option<String>) -> Result<f64, RangeError> {
    range.check(path, value).map_err(|error| match hint {
        Some(hint) => RangeError::new(error.path, format!("{}; {hint}", error.message)),
        None => error,
    })
}

/// Reads a height such as `1.68`, `1,68 m`, `168 cm`, `66 in` or `5'6"`; without a unit it is in metres. A figure that
/// is only possible in centimetres, feet or inches says so.
pub fn height(text: &str) -> Result<Metres, RangeError> {
    let (Some(value), rest) = split(text) else { return Err(no_number("height", text, "1.68 m or 168 cm")) };
    let metres = match rest.as_str() {
        "" | "m" | "metre" | "metres" => value,
        "cm" => value / 100.0,
        "in" | "inch" | "inches" | "\"" => value * M_PER_INCH,
        other => feet(value, other).ok_or_else(|| {
            RangeError::new("height", format!("{other:?} is not a unit here: m, cm, in, or feet and inches as 5'6\""))
        })?,
    };
    let readings = [(value / 100.0, "cm"), (value * M_PER_INCH, "in"), (value * 12.0 * M_PER_INCH, "ft")];
    let meant = readings.into_iter().find(|(m, _)| rest.is_empty() && ranges::STATURE.contains(*m));
    let hint = meant.map(|(metres, unit)| {
        format!("{} {unit} would be {} m: write the unit", trim_number(value, 2), trim_number(metres, 2))
    });
    inside(ranges::STATURE, "height", metres, hint).map(Metres)
}

/// `5` and `'6"` or `ft 6 in`.
fn feet(feet: f64, rest: &str) -> Option<f64> {
    let after = ["feet", "foot", "ft", "'"].iter().find_map(|unit| rest.strip_prefix(unit))?.trim();
    let inches = after.trim_end_matches("inches").trim_end_matches("in").trim_end_matches('"').trim();
    let inches =
        if inches.is_empty() { 0.0 } else { inches.parse::<f64>().ok().filter(|i| (0.0..12.0).contains(i))? };
    Some((feet * 12.0 + inches) * M_PER_INCH)
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
