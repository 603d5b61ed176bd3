//! Weights in the hands: dumbbells, kettlebells, and bars and handles that plates go onto.

use serde::{Deserialize, Serialize};

use super::checks::few;
use super::pieces::{AdjustableDumbbell, Dumbbells};
use crate::ranges::{self, RangeError};
use crate::units::{MassUnit, trim_number};

/// Plates of one weight.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Plates {
    /// Of each, in the unit of the piece.
    pub weight: f64,
    /// How many.
    pub count: u8,
}

/// A long bar for both hands with the plates that go onto it.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Barbell {
    /// The stamped unit.
    pub unit: MassUnit,
    /// The bar alone, with its collars.
    pub bar: f64,
    /// The plates.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub plates: Vec<Plates>,
}

/// One or two dumbbell handles with the plates that go onto them: what lies in between even steps follows from the plates.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct PlateDumbbell {
    /// The stamped unit.
    pub unit: MassUnit,
    /// One or two.
    pub count: u8,
    /// A handle alone, with its collars.
    pub handle: f64,
    /// The plates for all of them.
    pub plates: Vec<Plates>,
}

/// Kettlebells, as stamped.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Kettlebells {
    /// The stamped unit.
    pub unit: MassUnit,
    /// Weights there are two of.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub pairs: Vec<f64>,
    /// Weights there is one of.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub singles: Vec<f64>,
}

/// Most kinds of plates of one piece: beyond them a typing error is likelier.
pub const MOST_PLATES: usize = 12;
/// Most loads that are made of plates; with more of them neighbours differ by less than anybody feels.
const MOST_LOADS: usize = 400;
/// Grain in which loads of plates count as one, of the stamped unit.
const GRAIN: f64 = 100.0;

/// Ends of one handle: what hangs on it hangs on both.
const ENDS: f64 = 2.0;

/// What can be put together on `ends` ends that all carry the same: the loads of one handle, rising.
fn loads(handle: f64, plates: &[Plates], ends: u8) -> Vec<f64> {
    let mut sums: Vec<i64> = vec![0];
    for plate in plates {
        let of_each = i64::from(plate.count / ends.max(1));
        let step = (plate.weight * ENDS * GRAIN).round() as i64;
        sums = sums.iter().flat_map(|sum| (0..=of_each).map(move |n| sum + n * step)).collect();
        sums.sort_unstable();
        sums.dedup();
        sums = thinned(&sums, 10 * MOST_LOADS);
    }
    thinned(&sums, MOST_LOADS).into_iter().map(|sum| handle + sum as f64 / GRAIN).collect()
}

/// The heaviest that one handle of so many ends can be.
fn heaviest(handle: f64, plates: &[Plates], ends: u8) -> f64 {
    handle + plates.iter().map(|p| f64::from(p.count / ends.max(1)) * p.weight * ENDS).sum::<f64>()
}

/// Of very many the lightest and the heaviest, and what lies evenly between.
fn thinned(sums: &[i64], most: usize) -> Vec<i64> {
    let every = sums.len().div_ceil(most).max(1);
    let last = sums.len().saturating_sub(1);
    sums.iter().enumerate().filter(|(i, _)| i % every == 0 || *i == last).map(|(_, sum)| *sum).collect()
}

impl Barbell {
    /// All loads, rising: the bar alone, and with the same plates on both ends.
    pub fn loads(&self) -> Vec<f64> {
        loads(self.bar, &self.plates, 2)
    }

    /// What hangs on each end at a load.
    pub fn each_end(&self, load: f64) -> f64 {
        (load - self.bar) / 2.0
    }

    pub(super) fn check_whole(&self) -> Result<(), RangeError> {
        let kg = self.unit.in_kilograms();
        check_plates(&self.plates, kg)?;
        ranges::BARBELL.check("plates", heaviest(self.bar, &self.plates, 2) * kg).map(drop)
    }

    pub(super) fn text(&self) -> String {
        let unit = self.unit.symbol();
        let bar = format!("barbell, bar {} {unit}", trim_number(self.bar, 2));
        if self.plates.is_empty() { bar } else { format!("{bar}, plates {} {unit}", plates_text(&self.plates)) }
    }
}

impl PlateDumbbell {
    /// What every handle can be set to at once, rising.
    pub fn settings(&self) -> Vec<f64> {
        loads(self.handle, &self.plates, 2 * self.count.clamp(1, 2))
    }

    /// What one handle alone can be set to, rising.
    pub fn settings_of_one(&self) -> Vec<f64> {
        loads(self.handle, &self.plates, 2)
    }

    pub(super) fn check_whole(&self) -> Result<(), RangeError> {
        let kg = self.unit.in_kilograms();
        few("plates", self.plates.len())?;
        check_plates(&self.plates, kg)?;
        ranges::DUMBBELL.check("plates", heaviest(self.handle, &self.plates, 2) * kg).map(drop)
    }

    pub(super) fn text(&self) -> String {
        format!(
            "{} with a handle of {} {unit}, plates {} {unit}",
            if self.count == 2 { "two dumbbells" } else { "one dumbbell" },
            trim_number(self.handle, 2),
            plates_text(&self.plates),
            unit = self.unit.symbol()
        )
    }
}

impl Kettlebells {
    pub(super) fn check_whole(&self) -> Result<(), RangeError> {
        stamped(&self.pairs, &self.singles, self.unit)
    }

    pub(super) fn text(&self) -> String {
        format!("kettlebells {}", weights_text(&self.pairs, &self.singles, self.unit))
    }
}

impl Dumbbells {
    pub(super) fn check_whole(&self) -> Result<(), RangeError> {
        stamped(&self.pairs, &self.singles, self.unit)
    }

    pub(super) fn text(&self) -> String {
        let weights = weights_text(&self.pairs, &self.singles, self.unit);
        let heads = self.heads.map_or_else(String::new, |heads| format!(", {}", heads.label()));
        format!("dumbbells {weights}{heads}")
    }
}

impl AdjustableDumbbell {
    pub(super) fn check_whole(&self) -> Result<(), RangeError> {
        if self.max < self.min {
            return Err(RangeError::new("max", "must not be below the lightest setting"));
        }
        Ok(())
    }

    /// All settings, rising.
    pub fn settings(&self) -> impl Iterator<Item = f64> + '_ {
        let count = ((self.max - self.min) / self.step + 1e-9).floor() as usize;
        (0..=count.min(400)).map(|k| self.min + self.step * k as f64)
    }
}

/// Checks stamped weights, each of which is one of a dumbbell's.
fn stamped(pairs: &[f64], singles: &[f64], unit: MassUnit) -> Result<(), RangeError> {
    few("pairs", pairs.len() + singles.len())?;
    for (path, values) in [("pairs", pairs), ("singles", singles)] {
        for (i, value) in values.iter().enumerate() {
            ranges::DUMBBELL.check(&format!("{path}[{i}]"), value * unit.in_kilograms())?;
        }
    }
    Ok(())
}

fn check_plates(plates: &[Plates], kg: f64) -> Result<(), RangeError> {
    if plates.len() > MOST_PLATES {
        return Err(RangeError::new("plates", format!("lists {} weights; {MOST_PLATES} are the most", plates.len())));
    }
    for (i, plate) in plates.iter().enumerate() {
        ranges::PLATE.check(&format!("plates[{i}].weight"), plate.weight * kg)?;
        ranges::COUNT.check(&format!("plates[{i}].count"), f64::from(plate.count))?;
        if plates[..i].iter().any(|other| (other.weight - plate.weight).abs() < 1e-9) {
            let weight = trim_number(plate.weight, 3);
            return Err(RangeError::new("plates", format!("lists plates of {weight} twice: say how many in all")));
        }
    }
    Ok(())
}

/// Plates as they are typed: `2×1.25, 4×5`.
pub fn plates_text(plates: &[Plates]) -> String {
    let one = |p: &Plates| format!("{}×{}", p.count, trim_number(p.weight, 3));
    plates.iter().map(one).collect::<Vec<_>>().join(", ")
}

/// Reads plates as they are typed: `2x1.25, 4 x 5`; a weight without a number is a pair. The error says what is meant.
pub fn read_plates(text: &str) -> Result<Vec<Plates>, RangeError> {
    let wrong = |part: &str| {
        let why = format!("“{part}” is not understood: write how many of each, for example 4x5, 2x1.25");
        RangeError::new("plates", why)
    };
    let plain = text.to_lowercase().replace(['×', '*'], "x").replace("kg", " ").replace("lbs", " ").replace("lb", " ");
    let tight = plain.split('x').map(str::trim).collect::<Vec<_>>().join("x");
    // A comma between figures is a decimal one: `2x1,25`; with a blank it divides.
    let parts = tight.split([';', ' ']).map(|p| p.trim_matches(',')).filter(|p| !p.is_empty() && *p != "and");
    let mut found: Vec<Plates> = Vec::new();
    for part in parts {
        let (count, weight) = part.split_once('x').unwrap_or(("2", part));
        let count = count.parse::<u8>().map_err(|_| wrong(part))?;
        let weight: f64 = weight.replace(',', ".").parse().map_err(|_| wrong(part))?;
        match found.iter_mut().find(|p| (p.weight - weight).abs() < 1e-9) {
            Some(same) => same.count = same.count.saturating_add(count),
            None => found.push(Plates { weight, count }),
        }
    }
    found.sort_by(|a, b| a.weight.total_cmp(&b.weight));
    Ok(found)
}

fn weights_text(pairs: &[f64], singles: &[f64], unit: MassUnit) -> String {
    let list = |values: &[f64]| values.iter().map(|v| trim_number(*v, 2)).collect::<Vec<_>>().join(", ");
    let of = |values: &[f64], what: &str| format!("{} {} {what}", list(values), unit.symbol());
    let parts = [(pairs, "pairs"), (singles, "single")];
    parts.iter().filter(|(v, _)| !v.is_empty()).map(|(v, what)| of(v, what)).collect::<Vec<_>>().join(", ")
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    fn plates(text: &str) -> Vec<Plates> {
        read_plates(text).unwrap()
    }

    #[rstest]
    #[case("4x5, 2x1.25", "2×1.25, 4×5")]
    #[case("2 x 10 kg and 2x1,25", "2×1.25, 2×10")]
    #[case("10; 4×2.5", "4×2.5, 2×10")]
    #[case("2x5 2x5", "4×5")]
    #[case("", "")]
    fn plates_are_read_as_people_write_them(#[case] text: &str, #[case] expected: &str) {
        assert_eq!(plates_text(&plates(text)), expected);
        assert_eq!(plates(expected), plates(text), "what is shown reads as itself");
    }

    #[rstest]
    #[case("four of five")]
    #[case("x5")]
    #[case("999x5")]
    fn what_is_no_plate_is_named(#[case] text: &str) {
        assert!(read_plates(text).unwrap_err().message.contains("is not understood"));
    }

    /// By hand: a bar of 10 takes the same on both ends; a plate without its like stays on the floor.
    #[test]
    fn loads_are_what_both_ends_can_carry() {
        let bar = Barbell { unit: MassUnit::Kg, bar: 10.0, plates: plates("3x5, 2x1.25") };
        assert_eq!(bar.loads(), [10.0, 12.5, 20.0, 22.5]);
        assert!((bar.each_end(22.5) - 6.25).abs() < 1e-9);
        let two = PlateDumbbell { unit: MassUnit::Kg, count: 2, handle: 2.0, plates: plates("4x2, 2x1.25, 4x0.5") };
        assert_eq!(two.settings(), [2.0, 3.0, 6.0, 7.0], "of the 1.25 there are too few for two");
        assert!(two.settings_of_one().contains(&4.5) && two.settings_of_one().last() == Some(&14.5));
    }

    #[test]
    fn very_many_plates_are_few_loads() {
        let all = (1..=12).map(|k| Plates { weight: 0.25 + 0.37 * f64::from(k), count: 20 }).collect();
        let bar = Barbell { unit: MassUnit::Kg, bar: 20.0, plates: all };
        let loads = bar.loads();
        assert!(loads.len() <= MOST_LOADS + 1 && loads.windows(2).all(|w| w[0] < w[1]));
    }
}
