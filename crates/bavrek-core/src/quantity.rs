//! Figures as people write them, with a unit or without: `168`, `1,68 m`, `104 cm`, `5'6`, `1 h 15`, `5 lb`.
//!
//! A field knows the unit it keeps. A figure with another unit of the same kind is converted; one without a unit that the field cannot
//! hold is taken in centimetres where it can be nothing else, and refused with what it might be where it is anybody's guess.

use crate::ranges::{LegalRange, RangeError};
use crate::units::{KG_PER_LB, MassUnit, trim_number};

/// What a unit measures.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Kind {
    Mass,
    Length,
    Time,
    Angle,
    Share,
}

/// A unit by the words it is written with; the first one is how it is told.
struct Unit {
    kind: Kind,
    /// In kilograms, metres, seconds, degrees or percent.
    size: f64,
    words: &'static [&'static str],
    /// The next smaller unit, in which a figure behind this one is: `5 ft 6`.
    then: Option<&'static str>,
}

const fn unit(kind: Kind, size: f64, words: &'static [&'static str], then: Option<&'static str>) -> Unit {
    Unit { kind, size, words, then }
}

/// Metres in an inch, exact by definition.
const INCH: f64 = 0.0254;

const UNITS: [Unit; 14] = [
    unit(Kind::Mass, 1.0, &["kg", "kgs", "kilo", "kilos", "kilogram", "kilograms"], Some("g")),
    unit(Kind::Mass, 0.001, &["g", "gram", "grams"], None),
    unit(Kind::Mass, KG_PER_LB, &["lb", "lbs", "pound", "pounds", "#"], None),
    unit(Kind::Mass, 14.0 * KG_PER_LB, &["st", "stone", "stones"], Some("lb")),
    unit(Kind::Length, 1.0, &["m", "metre", "metres", "meter", "meters"], Some("cm")),
    unit(Kind::Length, 0.01, &["cm", "cms", "centimetre", "centimetres", "centimeter", "centimeters"], None),
    unit(Kind::Length, 0.001, &["mm", "millimetre", "millimetres", "millimeter", "millimeters"], None),
    unit(Kind::Length, INCH, &["in", "ins", "inch", "inches", "\""], None),
    unit(Kind::Length, 12.0 * INCH, &["ft", "foot", "feet", "'"], Some("in")),
    unit(Kind::Time, 1.0, &["s", "sec", "secs", "second", "seconds"], None),
    unit(Kind::Time, 60.0, &["min", "mins", "minute", "minutes"], Some("s")),
    unit(Kind::Time, 3600.0, &["h", "hr", "hrs", "hour", "hours"], Some("min")),
    unit(Kind::Angle, 1.0, &["°", "deg", "degs", "degree", "degrees"], None),
    unit(Kind::Share, 1.0, &["%", "percent", "per cent"], None),
];

/// Least figure that is taken in centimetres where metres are kept: nobody means so many metres, and a smaller one may be a slip.
const IN_CENTIMETRES: f64 = 20.0;
/// Units that are only offered for such a figure.
const OFFERED: [(&str, &str); 6] =
    [("m", "in"), ("m", "ft"), ("kg", "lb"), ("lb", "kg"), ("minutes", "h"), ("s", "min")];

/// What was read.
#[derive(Debug, Clone, PartialEq)]
pub struct Taken {
    /// In the field's own unit.
    pub value: f64,
    /// The figure in the field's own unit, in words, where it was written otherwise.
    pub said: Option<String>,
}

fn named(word: &str) -> Option<&'static Unit> {
    UNITS.iter().find(|u| u.words.contains(&word))
}

/// The parts of a text: figures, each with the word behind it.
fn parts(text: &str) -> Option<Vec<(f64, String)>> {
    let text = text.trim().to_lowercase().replace(',', ".").replace('−', "-");
    let text = text.replace(['’', '′'], "'").replace(['”', '″'], "\"").replace("''", "\"");
    let mut rest = text.as_str();
    let mut found = Vec::new();
    while !rest.is_empty() {
        let end = rest.find(|c: char| !(c.is_ascii_digit() || matches!(c, '.' | '-' | '+'))).unwrap_or(rest.len());
        let number = rest[..end].parse::<f64>().ok().filter(|n| n.is_finite())?;
        rest = rest[end..].trim_start();
        let end = rest.find(|c: char| c.is_ascii_digit()).unwrap_or(rest.len());
        found.push((number, rest[..end].trim().to_owned()));
        rest = &rest[end..];
    }
    (!found.is_empty()).then_some(found)
}

/// The figure in a unit, and whether a unit stood behind it; or the word that is no unit here.
fn summed(parts: &[(f64, String)], own: &str) -> Result<(f64, bool), String> {
    let own_unit = named(own);
    let [(value, word)] = parts else { return composed(parts, own_unit) };
    // Whatever counts in pieces, sets or years is known by its own word, in full or cut short.
    let counted = own_unit.is_none() && word.chars().count() >= 3 && (own.starts_with(word) || word.starts_with(own));
    if word.is_empty() || word == own || counted {
        return Ok((*value, !word.is_empty()));
    }
    match (named(word), own_unit) {
        (Some(typed), Some(own)) if typed.kind == own.kind => Ok((value * typed.size / own.size, true)),
        _ => Err(word.clone()),
    }
}

/// Several figures, each in a smaller unit than the one before: `1 h 15 min`, `5'6`, `1:30`.
fn composed(parts: &[(f64, String)], own: Option<&Unit>) -> Result<(f64, bool), String> {
    let refuse = |word: &str| Err(word.to_owned());
    let Some(own) = own else { return refuse(&parts[0].1) };
    let mut sum = 0.0;
    let mut last: Option<&Unit> = None;
    for (value, word) in parts {
        let clock = word == ":" && own.kind == Kind::Time && last.is_none();
        let found = match (word.as_str(), last) {
            // Of minutes the hours stand before the colon, of seconds the minutes.
            (":", None) if clock => named(if own.size < 60.0 { "min" } else { "h" }),
            ("", Some(before)) => before.then.and_then(named),
            (word, _) => named(word),
        };
        let Some(found) = found.filter(|u| u.kind == own.kind) else { return refuse(word) };
        let fits = last.is_none_or(|before| found.size < before.size && value * found.size < before.size);
        if !fits || *value < 0.0 {
            return refuse(word);
        }
        sum += value * found.size;
        last = Some(found);
    }
    Ok((sum / own.size, true))
}

/// Decimals with which a figure is told.
fn told(value: f64, unit: &str) -> String {
    let decimals = match unit {
        // A body to a hundred grams, a small weight to ten.
        "kg" | "lb" if value >= 15.0 => 1,
        "kg" | "lb" => 2,
        // A person to the centimetre, a board to the millimetre.
        "m" if value >= 1.0 => 2,
        "m" => 3,
        _ => 1,
    };
    let space = if matches!(unit, "%" | "°") { "" } else { " " };
    format!("{}{space}{unit}", trim_number(value, decimals))
}

/// Reads a figure into a field's range. The error says what is wrong and, where one thing is meant, that.
pub fn read(path: &str, text: &str, range: LegalRange) -> Result<Taken, RangeError> {
    let Some(parts) = parts(text) else {
        return Err(RangeError::new(path, format!("{:?} is not a number", text.trim())));
    };
    let (value, with_unit) = summed(&parts, range.unit).map_err(|word| {
        let what = if parts.len() > 1 || word.is_empty() { text.trim() } else { word.as_str() };
        RangeError::new(path, format!("{what:?} is not understood here: write {}", range.unit))
    })?;
    if range.contains(value) {
        let as_typed = parts.len() == 1 && (parts[0].0 - value).abs() < 1e-9;
        return Ok(Taken { value, said: (!as_typed).then(|| told(value, range.unit)) });
    }
    let mut error = range.check(path, value).err().unwrap_or_else(|| RangeError::new(path, "is not a number"));
    if with_unit && (parts.len() > 1 || (parts[0].0 - value).abs() > 1e-9) {
        error.message = format!("{} is {}: {}", text.trim(), told(value, range.unit), error.message);
    }
    let Some(own) = named(range.unit).filter(|_| !with_unit) else { return Err(error) };
    let in_unit = |word: &str| {
        let typed = named(word)?;
        let converted = value * typed.size / own.size;
        range.contains(converted).then_some(converted)
    };
    if own.words[0] == "m"
        && value >= IN_CENTIMETRES
        && let Some(value) = in_unit("cm")
    {
        return Ok(Taken { value, said: Some(told(value, range.unit)) });
    }
    let offered = OFFERED.iter().filter(|(field, _)| named(field).is_some_and(|u| u.words == own.words));
    let offered: Vec<(&str, f64)> = offered.filter_map(|(_, word)| Some((*word, in_unit(word)?))).collect();
    match offered[..] {
        [(word, converted)] => {
            let meant = format!("{} {word}", trim_number(value, 3));
            let message = format!("{}; {meant} would be {}", error.message, told(converted, range.unit));
            Err(RangeError::new(path, message).meaning(meant))
        }
        _ => Err(error),
    }
}

/// The unit that a mass is written in, where one stands behind it.
pub fn mass_unit(text: &str) -> Option<MassUnit> {
    let (_, word) = parts(text)?.pop()?;
    match named(&word)?.words[0] {
        "kg" => Some(MassUnit::Kg),
        "lb" => Some(MassUnit::Lb),
        _ => None,
    }
}

/// Reads the numbers of a list such as `5, 8, 12.5` or `2,5; 5; 7,5`.
///
/// A comma between two figures without a space is a thousands separator where three digits follow (`10,000`) and a
/// decimal comma where 5, 25, 50 or 75 follows or the list would fall (`12,5`); in every other case it separates. The
/// error names the piece that is no number.
pub fn numbers(text: &str) -> Result<Vec<f64>, RangeError> {
    let mut found = Vec::new();
    // Where semicolons separate, every comma is decimal.
    let decimal = text.contains(';');
    for chunk in text.split([';', ' ', '\t', '\n']).map(|c| c.trim_matches(',')).filter(|c| !c.is_empty()) {
        if decimal {
            found.push(one(&chunk.replacen(',', ".", 1))?);
        } else {
            found.extend(chunk_numbers(chunk)?);
        }
    }
    Ok(found)
}

fn chunk_numbers(chunk: &str) -> Result<Vec<f64>, RangeError> {
    let parts: Vec<&str> = chunk.split(',').filter(|p| !p.is_empty()).collect();
    let whole = |text: &str| !text.is_empty() && text.bytes().all(|b| b.is_ascii_digit());
    if let [a, b] = parts[..]
        && whole(a)
        && whole(b)
    {
        let thousands = b.len() == 3;
        let fraction = matches!(b, "5" | "25" | "50" | "75");
        let falls = one(b)? < one(a)?;
        if thousands {
            return Ok(vec![one(&format!("{a}{b}"))?]);
        }
        if fraction || (falls && b.len() <= 2) {
            return Ok(vec![one(&format!("{a}.{b}"))?]);
        }
    }
    parts.into_iter().map(one).collect()
}

fn one(text: &str) -> Result<f64, RangeError> {
    let number = text.replace('−', "-").parse::<f64>().ok().filter(|n| n.is_finite());
    number.ok_or_else(|| RangeError::new("line", format!("{text:?} is not a number; write them as 5, 8, 12.5")))
}

/// Reads several figures, `10, 120, 200 cm`: a unit behind the last one is that of all that have none.
pub fn read_list(path: &str, text: &str, range: LegalRange) -> Result<Vec<f64>, RangeError> {
    let unit = text.trim().trim_start_matches(|c: char| !c.is_alphabetic());
    if !text.chars().any(|c| c.is_alphabetic() || c == '"' || c == '\'') {
        let numbers = numbers(text)?;
        return numbers.into_iter().map(|n| read(path, &n.to_string(), range).map(|t| t.value)).collect();
    }
    let last = unit.rsplit(|c: char| !c.is_alphabetic()).next().unwrap_or_default();
    let split = text.replace(" and ", ", ").replace(';', ", ");
    split
        .split(", ")
        .map(str::trim)
        .filter(|part| !part.is_empty())
        .map(|part| {
            let whole =
                if part.ends_with(|c: char| c.is_ascii_digit()) { format!("{part} {last}") } else { part.to_owned() };
            read(path, &whole, range).map(|taken| taken.value)
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;
    use crate::ranges::{BAND_LENGTH, BENCH_ANGLE, BODY_MASS, COUNT, HANGING_HEIGHT, SESSION_MINUTES, STATURE};

    const REST: LegalRange = LegalRange { min: 0.0, max: 600.0, unit: "s" };
    const WIDTH: LegalRange = LegalRange { min: 3.0, max: 110.0, unit: "mm" };

    #[rstest]
    #[case(STATURE, "1.68", 1.68, None)]
    #[case(STATURE, "1,68 m", 1.68, None)]
    #[case(STATURE, "168", 1.68, Some("1.68 m"))]
    #[case(STATURE, "168cm", 1.68, Some("1.68 m"))]
    #[case(STATURE, "1m68", 1.68, Some("1.68 m"))]
    #[case(STATURE, "5'6", 1.6764, Some("1.68 m"))]
    #[case(STATURE, "5'6\"", 1.6764, Some("1.68 m"))]
    #[case(STATURE, "5 ft 6 in", 1.6764, Some("1.68 m"))]
    #[case(STATURE, "5’11”", 1.8034, Some("1.8 m"))]
    #[case(STATURE, "66 in", 1.6764, Some("1.68 m"))]
    #[case(BODY_MASS, "71,5", 71.5, None)]
    #[case(BODY_MASS, "71.5 kilos", 71.5, None)]
    #[case(BODY_MASS, "157 lb", 71.2140, Some("71.2 kg"))]
    #[case(BODY_MASS, "11 st 3", 71.2140, Some("71.2 kg"))]
    #[case(BAND_LENGTH, "104 cm", 1.04, Some("1.04 m"))]
    #[case(BAND_LENGTH, "41 inches", 1.0414, Some("1.04 m"))]
    #[case(SESSION_MINUTES, "45 min", 45.0, None)]
    #[case(SESSION_MINUTES, "1 h 15", 75.0, Some("75 minutes"))]
    #[case(SESSION_MINUTES, "1h15min", 75.0, Some("75 minutes"))]
    #[case(SESSION_MINUTES, "1:15", 75.0, Some("75 minutes"))]
    #[case(SESSION_MINUTES, "1,5 hours", 90.0, Some("90 minutes"))]
    #[case(REST, "1:30", 90.0, Some("90 s"))]
    #[case(REST, "2 min", 120.0, Some("120 s"))]
    #[case(REST, "1 min 30 s", 90.0, Some("90 s"))]
    #[case(WIDTH, "4.5 cm", 45.0, Some("45 mm"))]
    #[case(WIDTH, "1\"", 25.4, Some("25.4 mm"))]
    #[case(BENCH_ANGLE, "30°", 30.0, None)]
    #[case(BENCH_ANGLE, "−15", -15.0, None)]
    #[case(COUNT, "2 pieces", 2.0, None)]
    #[case(COUNT, "2 pie", 2.0, None)]
    fn a_figure_is_taken_as_it_is_meant(
        #[case] range: LegalRange,
        #[case] text: &str,
        #[case] value: f64,
        #[case] said: Option<&str>,
    ) {
        let taken = read("f", text, range).unwrap_or_else(|e| panic!("{text}: {e}"));
        assert!((taken.value - value).abs() < 1e-4, "{text}: {}", taken.value);
        assert_eq!(taken.said.as_deref(), said, "{text}");
    }

    #[rstest]
    #[case(STATURE, "66", "between 1.2 and 2.3 m, not 66; 66 in would be 1.68 m", Some("66 in"))]
    #[case(STATURE, "5.6", "5.6 ft would be 1.71 m", Some("5.6 ft"))]
    #[case(HANGING_HEIGHT, "4", "between 0 and 3.5 m, not 4", None)]
    #[case(HANGING_HEIGHT, "12.5", "12.5 in would be 0.318 m", Some("12.5 in"))]
    #[case(STATURE, "168 kg", "\"kg\" is not understood here: write m", None)]
    #[case(STATURE, "5'14", "\"5'14\" is not understood", None)]
    #[case(STATURE, "tall", "\"tall\" is not a number", None)]
    #[case(STATURE, "-1.7", "not -1.7", None)]
    #[case(BODY_MASS, "300", "300 lb would be 136.1 kg", Some("300 lb"))]
    #[case(BODY_MASS, "20", "not 20", None)]
    #[case(BODY_MASS, "20 kg", "not 20", None)]
    #[case(BODY_MASS, "50 lb", "50 lb is 22.7 kg: must be between 30 and 250 kg", None)]
    #[case(SESSION_MINUTES, "45 kg", "\"kg\" is not understood here: write minutes", None)]
    #[case(SESSION_MINUTES, "1", "1 h would be 60 minutes", Some("1 h"))]
    #[case(COUNT, "2 kg", "\"kg\" is not understood here: write pieces", None)]
    #[case(COUNT, "1e400", "is not", None)]
    #[case(COUNT, "2 3", "\"2 3\" is not understood", None)]
    #[case(COUNT, "51", "between 1 and 50 pieces, not 51", None)]
    fn what_is_not_clear_is_refused_with_what_it_might_be(
        #[case] range: LegalRange,
        #[case] text: &str,
        #[case] why: &str,
        #[case] meant: Option<&str>,
    ) {
        let error = read("f", text, range).expect_err(text);
        assert!(error.message.contains(why), "{text}: {}", error.message);
        assert_eq!(error.meant.as_deref(), meant, "{text}");
        // What is offered is taken.
        assert!(meant.is_none_or(|meant| read("f", meant, range).is_ok()));
    }

    #[rstest]
    #[case("5 lbs", Some(MassUnit::Lb))]
    #[case("5kg", Some(MassUnit::Kg))]
    #[case("5", None)]
    #[case("5 m", None)]
    #[case("five", None)]
    fn the_unit_of_a_stamp_is_known(#[case] text: &str, #[case] unit: Option<MassUnit>) {
        assert_eq!(mass_unit(text), unit);
    }

    #[rstest]
    #[case("0.1, 1.2, 2", &[0.1, 1.2, 2.0])]
    #[case("10, 120, 200 cm", &[0.1, 1.2, 2.0])]
    #[case("10 cm, 1,2 m and 2 m", &[0.1, 1.2, 2.0])]
    #[case("30; 120; 200", &[0.3, 1.2, 2.0])]
    #[case("4 in, 4 ft", &[0.1016, 1.2192])]
    fn a_list_has_its_unit_once_or_each_time(#[case] text: &str, #[case] expected: &[f64]) {
        let read = read_list("heights", text, crate::ranges::HANGING_HEIGHT).unwrap_or_else(|e| panic!("{text}: {e}"));
        assert_eq!(read.len(), expected.len(), "{text}: {read:?}");
        assert!(read.iter().zip(expected).all(|(a, b)| (a - b).abs() < 1e-9), "{text}: {read:?}");
    }

    proptest::proptest! {
        /// Whatever is typed is read or refused, and what is read lies within the range.
        #[test]
        fn nothing_breaks_it(text in "\\PC{0,16}|[0-9]{1,4}[ .,:'\"hmsckgl]{0,3}[0-9]{0,3}[a-z]{0,3}") {
            for range in [STATURE, BODY_MASS, SESSION_MINUTES, REST, COUNT] {
                if let Ok(taken) = read("f", &text, range) {
                    proptest::prop_assert!(range.contains(taken.value));
                }
            }
        }
    }
}
