//! What is told of a piece of kit: its words, and within what it is legal. Forms ask for it, and what is out of range is refused, by
//! the same list.

use serde_json::Value;

use super::anchor::AnchorOn;
use super::checks::{each, few};
use super::pieces::Heads;
use crate::ranges::{self, LegalRange, RangeError};
use crate::units::MassUnit;

/// Something that is told of a piece.
#[derive(Debug, Clone, Copy)]
pub struct Measure {
    /// Its field, as files name it.
    pub path: &'static str,
    /// Its field in a form. The two ends of a range have one path and two of these; a length has one and several paths.
    pub name: &'static str,
    /// Its words in a form, with the unit.
    pub label: &'static str,
    /// How it may look.
    pub example: &'static str,
    /// What it is.
    pub told: Told,
    /// Whether a piece is nothing without it.
    pub is_needed: bool,
}

/// What can be told, and within what.
#[derive(Debug, Clone, Copy)]
pub enum Told {
    /// A name or colour.
    Name,
    /// The unit that its weights are stamped in.
    Unit,
    /// A weight in that unit, legal within these kilograms.
    Stamped(LegalRange),
    /// Weights in that unit; how many and how heavy is checked of pairs and singles together.
    AllStamped,
    /// Plates in that unit, how many of each.
    Plates,
    /// A figure.
    Figure(LegalRange),
    /// A length in metres that is typed in millimetres.
    Millimetres(LegalRange),
    /// Figures.
    Figures(LegalRange),
    /// The smaller end of a range that has both or none.
    From(LegalRange),
    /// Its larger end.
    To(LegalRange),
    /// How many alike: one, or up to so many.
    Count(u8),
    /// One of some words, with what none of them means.
    Word(Words, &'static str),
    /// Whether it is so.
    Whether,
}

/// Identifiers of words, and how they are said.
pub type Words = fn() -> Vec<(&'static str, &'static str)>;

/// Most of one kind.
const MANY: u8 = ranges::COUNT.max as u8;

const fn measure(path: &'static str, label: &'static str, example: &'static str, told: Told) -> Measure {
    Measure { path, name: path, label, example, told, is_needed: true }
}

impl Measure {
    /// The same under another name in forms.
    const fn named(self, name: &'static str) -> Self {
        Self { name, ..self }
    }

    const fn optional(self) -> Self {
        Self { is_needed: false, ..self }
    }
}

fn heads() -> Vec<(&'static str, &'static str)> {
    Heads::ALL.iter().map(|h| (h.id(), h.label())).collect()
}

fn anchors() -> Vec<(&'static str, &'static str)> {
    AnchorOn::ALL.iter().map(|on| (on.id(), on.label())).collect()
}

pub(super) const UNIT: Measure = measure("unit", "Stamped in", "kg", Told::Unit);
pub(super) const HEADS: Measure = measure("heads", "Heads", "", Told::Word(heads, "not told")).optional();
pub(super) const PAIRS: Measure = measure("pairs", "Pairs", "5, 8, 12", Told::AllStamped).optional();
pub(super) const SINGLES: Measure = measure("singles", "Singles", "20", Told::AllStamped).optional();
pub(super) const BAR: Measure = measure("bar", "Bar alone, with collars", "10", Told::Stamped(ranges::BAR));
pub(super) const HANDLE: Measure =
    measure("handle", "Handle alone, with collars", "2", Told::Stamped(ranges::DUMBBELL));
pub(super) const PLATES: Measure =
    measure("plates", "Plates in all, how many of each", "4x5, 4x2.5, 2x1.25", Told::Plates).optional();
pub(super) const LIGHTEST: Measure = measure("min", "Lightest", "2.5", Told::Stamped(ranges::DUMBBELL));
pub(super) const HEAVIEST: Measure = measure("max", "Heaviest", "24", Told::Stamped(ranges::DUMBBELL));
pub(super) const INCREMENT: Measure = measure("step", "Increment", "1.5", Told::Stamped(ranges::DUMBBELL_STEP));
pub(super) const LABEL: Measure = measure("label", "Name or colour", "green", Told::Name).optional();
pub(super) const FLAT_LENGTH: Measure =
    measure("flat_length_m", "Flat or rest length, m", "1.04", Told::Figure(ranges::BAND_LENGTH)).named("length_m");
pub(super) const REST_LENGTH: Measure = Measure { path: "rest_length_m", ..FLAT_LENGTH };
pub(super) const WIDTH: Measure =
    measure("width_m", "Width, mm", "22", Told::Millimetres(ranges::BAND_WIDTH)).named("width_mm").optional();
pub(super) const THICKNESS: Measure =
    measure("thickness_m", "Thickness, mm", "4.5", Told::Millimetres(ranges::BAND_THICKNESS))
        .named("thickness_mm")
        .optional();
pub(super) const RATED_FROM: Measure =
    measure("rated_kg", "Printed from, kg", "11", Told::From(ranges::BAND_FORCE)).named("rated_min").optional();
pub(super) const RATED_TO: Measure =
    measure("rated_kg", "Printed to, kg", "29", Told::To(ranges::BAND_FORCE)).named("rated_max").optional();
pub(super) const ANGLES: Measure =
    measure("angles_deg", "Angles, degrees", "0, 30, 45", Told::Figures(ranges::BENCH_ANGLE)).named("angles");
pub(super) const TOP: Measure = measure("height_m", "Height, m", "0.45", Told::Figure(ranges::SUPPORT_HEIGHT));
/// A bench has the usual height where none is told.
pub(super) const SEAT: Measure = TOP.optional();
pub(super) const BAR_HEIGHT: Measure = Measure { told: Told::Figure(ranges::HANGING_HEIGHT), ..TOP };
pub(super) const HIGHEST: Measure = Measure { path: "max_height_m", ..BAR_HEIGHT };
pub(super) const HEIGHTS: Measure =
    measure("heights_m", "Heights, m", "0.1, 1.2, 2", Told::Figures(ranges::HANGING_HEIGHT)).named("heights");
pub(super) const CARRIES: Measure = measure("max_kg", "Carries up to, kg", "15", Told::Figure(ranges::ADDED_LOAD));
pub(super) const IN_DOOR: Measure = measure("door", "It is a door anchor", "", Told::Whether).optional();
pub(super) const ANCHORED_ON: Measure =
    measure("on", "Otherwise it is", "", Told::Word(anchors, "a hook, bar or eye that is made to hold")).optional();
pub(super) const WEIGHT: Measure =
    measure("weight_kg", "Weight of the dumbbell that holds it, kg", "20", Told::Figure(ranges::DUMBBELL)).optional();
pub(super) const ONE_OR_TWO: Measure = measure("count", "How many", "1", Told::Count(2));
pub(super) const COUNT: Measure = Measure { told: Told::Count(MANY), ..ONE_OR_TWO };
pub(super) const COUNT_OR_ONE: Measure = COUNT.optional();

/// Everything that a form may ask for, in the order in which it does.
pub const ASKED: &[Measure] = &[
    UNIT,
    HEADS,
    PAIRS,
    SINGLES,
    BAR,
    HANDLE,
    PLATES,
    LIGHTEST,
    HEAVIEST,
    INCREMENT,
    LABEL,
    FLAT_LENGTH,
    WIDTH,
    THICKNESS,
    RATED_FROM,
    RATED_TO,
    ANGLES,
    TOP,
    HEIGHTS,
    CARRIES,
    IN_DOOR,
    ANCHORED_ON,
    WEIGHT,
    COUNT,
];

/// Checks what files tell of a piece, figure by figure; the error carries the field's path within the piece.
pub(super) fn check(measures: &[Measure], told: &Value) -> Result<(), RangeError> {
    let unit = told.get("unit").and_then(Value::as_str).unwrap_or_default();
    let kg = if unit == MassUnit::Lb.symbol() { MassUnit::Lb } else { MassUnit::Kg }.in_kilograms();
    measures.iter().try_for_each(|measure| of(measure, told.get(measure.path), kg))
}

fn of(measure: &Measure, told: Option<&Value>, kg: f64) -> Result<(), RangeError> {
    // What is no figure at all is written as nothing.
    let figure = |value: &Value| value.as_f64().unwrap_or(f64::NAN);
    let (path, value) = (measure.path, told.unwrap_or(&Value::Null));
    if value.is_null() && !measure.is_needed {
        return Ok(());
    }
    let end = |at: usize| (format!("{path}[{at}]"), figure(&value[at]));
    match measure.told {
        Told::Stamped(range) => range.check(path, figure(value) * kg).map(drop),
        Told::Figure(range) | Told::Millimetres(range) => range.check(path, figure(value)).map(drop),
        Told::Figures(range) => {
            let values: Vec<f64> = value.as_array().into_iter().flatten().map(figure).collect();
            few(path, values.len())?;
            each(path, &values, range)
        }
        Told::From(range) => range.check(&end(0).0, end(0).1).map(drop),
        Told::To(range) => range.check(&end(1).0, end(1).1).map(drop),
        Told::Count(2) if !(1.0..=2.0).contains(&figure(value)) => Err(RangeError::new(path, "must be 1 or 2")),
        Told::Count(_) => ranges::COUNT.check(path, figure(value)).map(drop),
        Told::Name | Told::Unit | Told::AllStamped | Told::Plates | Told::Word(..) | Told::Whether => Ok(()),
    }
}
