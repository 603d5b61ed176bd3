//! Everything at a place that can load, anchor or support.

pub mod improvised;
pub mod line;
pub mod offer;

use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::mechanics::{MechanicsError, band::Rubber};
use crate::ranges::{self, RangeError};
use crate::units::{Kilograms, MassUnit, Metres, trim_number};

vocabulary!(
    /// What a place is: it decides what can be advised there.
    Setting {
        Doors => "doors", "a room with doors";
        Outdoors => "outdoors", "outdoors";
        Hotel => "hotel", "a hotel or borrowed room";
    }
);

/// Where a client trains, and what is there.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Place {
    /// The trainer's name for it.
    pub name: String,
    /// What it is, where that was told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub setting: Option<Setting>,
    /// What is there.
    pub kit: Vec<KitItem>,
}

/// One typed piece of kit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum KitItem {
    /// Fixed dumbbells.
    Dumbbells(Dumbbells),
    /// One or two dumbbells with changeable plates.
    AdjustableDumbbell(AdjustableDumbbell),
    /// A closed flat loop.
    LoopBand(LoopBand),
    /// A tube with two handles.
    TubeBand(TubeBand),
    /// A pair of rings on straps.
    Rings(Rings),
    /// A bar to hang from.
    PullUpBar(PullUpBar),
    /// Parallel bars.
    DipBars(Plain),
    /// A bench.
    Bench(Bench),
    /// Sturdy boxes of one height.
    Box(Boxes),
    /// A sturdy chair.
    Chair(Plain),
    /// A sofa.
    Sofa(Plain),
    /// A step or stair.
    Step(Step),
    /// A point that holds a band.
    Anchor(Anchor),
    /// A backpack to load.
    Backpack(Backpack),
    /// A wheel for roll-outs.
    AbWheel(Plain),
    /// Low handles for push-ups.
    Parallettes(Plain),
    /// A plate or book that tilts a bench.
    Wedge(Plain),
    /// A sturdy table whose edge can be held.
    Table(Table),
    /// A towel to hold or to slide on.
    Towel(Plain),
}

/// An item with no measures.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Plain {}

/// Fixed dumbbells, as stamped.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Dumbbells {
    /// The stamped unit.
    pub unit: MassUnit,
    /// Weights there are two of.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub pairs: Vec<f64>,
    /// Weights there is one of.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub singles: Vec<f64>,
    /// Whether their heads are flat, so that hands can rest on them, where that was told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub heads: Option<Heads>,
}

vocabulary!(
    /// The heads of dumbbells: round ones roll.
    Heads {
        Flat => "flat", "flat heads";
        Round => "round", "round heads";
    }
);

/// Dumbbells with changeable plates.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct AdjustableDumbbell {
    /// The stamped unit.
    pub unit: MassUnit,
    /// One or two.
    pub count: u8,
    /// Lightest setting.
    pub min: f64,
    /// Heaviest setting.
    pub max: f64,
    /// Increment.
    pub step: f64,
}

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
}

/// A pair of rings on straps.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Rings {
    /// Highest height of the rings above the floor.
    pub max_height_m: Metres,
}

/// A bar to hang from.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct PullUpBar {
    /// Height above the floor.
    pub height_m: Metres,
}

/// A bench and the angles it can take.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Bench {
    /// Back angles from the horizontal; negative is a decline.
    pub angles_deg: Vec<f64>,
    /// Height of the seat.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub height_m: Option<Metres>,
}

/// Sturdy boxes of one height.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Boxes {
    /// Height.
    pub height_m: Metres,
    /// How many.
    pub count: u8,
}

/// A step or stair.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Step {
    /// Height.
    pub height_m: Metres,
}

/// A sturdy table.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Table {
    /// Height of its edge.
    pub height_m: Metres,
}

/// Points that hold a band.
///
/// A door anchor can be put anywhere along the door's edge: its heights are only the usual ones.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Anchor {
    /// Heights above the floor at which a band can be fixed.
    pub heights_m: Vec<f64>,
    /// Whether it is a door anchor, which brings its own cautions.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub door: Option<bool>,
    /// What it is, where it was not made to hold anything.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub on: Option<AnchorOn>,
    /// Weight of a dumbbell that serves as one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub weight_kg: Option<Kilograms>,
}

vocabulary!(
    /// What serves as an anchor without being made for it.
    AnchorOn {
        Post => "post", "a bed post or pole";
        Furniture => "furniture", "a sofa or heavy furniture";
        Dumbbell => "dumbbell", "a heavy dumbbell on the floor";
    }
);

/// Share of its weight that a dumbbell on the floor withstands as an anchor before it slides or lifts: with a friction of
/// a half it slides at 0.45 to 0.5 of it, whatever the angle. Assumed, with a margin.
pub const DUMBBELL_HOLDS: f64 = 0.4;

/// Where along a door an anchor can be put, m above the floor: from the lowest strap to the top of a usual door.
pub const DOOR_HEIGHTS: [f64; 2] = [0.10, 2.00];
/// Heights at which a door anchor is usually put, m: low, at the chest, at the top.
pub const USUAL_DOOR_HEIGHTS: [f64; 3] = [0.10, 1.10, 2.00];

impl Anchor {
    /// A door anchor at its usual heights.
    pub fn in_door() -> Self {
        Self { heights_m: USUAL_DOOR_HEIGHTS.to_vec(), door: Some(true), on: None, weight_kg: None }
    }

    /// Whether it is put into a door's gap, anywhere along it.
    pub const fn is_in_door(&self) -> bool {
        matches!(self.door, Some(true))
    }

    /// The hardest pull that it withstands; none where that is not limited by its own weight.
    pub fn holds(&self) -> Option<Kilograms> {
        self.weight_kg.filter(|_| self.on == Some(AnchorOn::Dumbbell)).map(|weight| weight * DUMBBELL_HOLDS)
    }

    /// Whether it can be put at another height: what stands on the floor or is furniture cannot.
    pub const fn can_move(&self) -> bool {
        matches!(self.on, None | Some(AnchorOn::Post))
    }

    /// Whether a band can be fixed at a height, m.
    pub fn reaches(&self, height: f64) -> bool {
        let [low, high] = DOOR_HEIGHTS;
        self.heights_m.iter().any(|h| (h - height).abs() <= SAME_HEIGHT)
            || (self.is_in_door() && (low..=high).contains(&height))
    }

    /// The height within `low..=high`, m, that is nearest to its middle; of a door anchor any that the door has, a usual
    /// one first. None where it cannot be there.
    pub fn within(&self, low: f64, high: f64) -> Option<f64> {
        let middle = 0.5 * (low + high);
        let usual = self.heights_m.iter().copied().filter(|h| (low..=high).contains(h));
        let nearest = usual.min_by(|a, b| (a - middle).abs().total_cmp(&(b - middle).abs()));
        let along = || {
            let (low, high) = (low.max(DOOR_HEIGHTS[0]), high.min(DOOR_HEIGHTS[1]));
            // In whole twentieths, which is as near as anybody measures on a door.
            let at = (middle.clamp(low.min(high), high) * 20.0).round() / 20.0;
            (self.is_in_door() && low <= high).then(|| at.clamp(low, high))
        };
        nearest.or_else(along)
    }

    /// Where it is, in words: `at 0.1, 1.2 m`, `anywhere from 0.1 to 2 m`.
    pub fn where_text(&self) -> String {
        if self.is_in_door() {
            return format!(
                "anywhere from {} to {} m",
                trim_number(DOOR_HEIGHTS[0], 2),
                trim_number(DOOR_HEIGHTS[1], 2)
            );
        }
        let heights: Vec<_> = self.heights_m.iter().map(|h| trim_number(*h, 2)).collect();
        let on = match (self.on, self.weight_kg) {
            (Some(AnchorOn::Dumbbell), Some(weight)) => format!(" on a dumbbell of {weight}"),
            (Some(on), _) => format!(" on {on}"),
            (None, _) => String::new(),
        };
        format!("at {} m{on}", heights.join(", "))
    }
}

/// Heights that are one, m.
const SAME_HEIGHT: f64 = 0.02;

/// A backpack to load.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Backpack {
    /// What it can carry.
    pub max_kg: Kilograms,
}

const fn one() -> u8 {
    1
}

/// What is said with a band whose curve rests on the simulated scale alone.
pub const SIMULATED_MARK: &str = " (simulated readings)";

/// How many dumbbells, boxes or band readings one item may list; beyond it a typing error is likelier than a gym.
pub const MOST_ENTRIES: usize = 60;
/// Longest label of a band, characters.
pub const LONGEST_LABEL: usize = 60;

impl KitItem {
    /// What it is called where it is used: a band's name, anything else in words.
    pub fn name(&self) -> String {
        match self {
            Self::LoopBand(b) => b.name(),
            Self::TubeBand(b) => b.name(),
            other => other.text(),
        }
    }

    /// The name with a mark where the band's curve rests on the simulated scale alone.
    pub fn marked_name(&self) -> String {
        let mark = if self.is_simulated() { SIMULATED_MARK } else { "" };
        format!("{}{mark}", self.name())
    }

    /// Whether it is a band whose curve rests on the simulated scale alone.
    pub fn is_simulated(&self) -> bool {
        match self {
            Self::LoopBand(b) => is_simulated(b.measured.as_deref()),
            Self::TubeBand(b) => is_simulated(b.measured.as_deref()),
            _ => false,
        }
    }

    /// Whether it is rubber that a movement can be loaded with.
    pub const fn is_band(&self) -> bool {
        matches!(self, Self::LoopBand(_) | Self::TubeBand(_))
    }

    /// The identifier of the kind, as in files.
    pub const fn kind(&self) -> &'static str {
        match self {
            Self::Dumbbells(_) => "dumbbells",
            Self::AdjustableDumbbell(_) => "adjustable_dumbbell",
            Self::LoopBand(_) => "loop_band",
            Self::TubeBand(_) => "tube_band",
            Self::Rings(_) => "rings",
            Self::PullUpBar(_) => "pull_up_bar",
            Self::DipBars(_) => "dip_bars",
            Self::Bench(_) => "bench",
            Self::Box(_) => "box",
            Self::Chair(_) => "chair",
            Self::Sofa(_) => "sofa",
            Self::Step(_) => "step",
            Self::Anchor(_) => "anchor",
            Self::Backpack(_) => "backpack",
            Self::AbWheel(_) => "ab_wheel",
            Self::Parallettes(_) => "parallettes",
            Self::Wedge(_) => "wedge",
            Self::Table(_) => "table",
            Self::Towel(_) => "towel",
        }
    }

    /// The item in words, for example `dumbbells 5, 8, 12 kg pairs`.
    pub fn text(&self) -> String {
        let list = |values: &[f64]| values.iter().map(|v| trim_number(*v, 2)).collect::<Vec<_>>().join(", ");
        match self {
            Self::Dumbbells(d) => {
                let mut parts = Vec::new();
                if !d.pairs.is_empty() {
                    parts.push(format!("{} {} pairs", list(&d.pairs), d.unit.symbol()));
                }
                if !d.singles.is_empty() {
                    parts.push(format!("{} {} single", list(&d.singles), d.unit.symbol()));
                }
                parts.extend(d.heads.map(|h| h.label().to_owned()));
                format!("dumbbells {}", parts.join(", "))
            }
            Self::AdjustableDumbbell(a) => format!(
                "{} adjustable {} to {} {} by {}",
                if a.count == 2 { "two" } else { "one" },
                trim_number(a.min, 2),
                trim_number(a.max, 2),
                a.unit.symbol(),
                trim_number(a.step, 2)
            ),
            Self::LoopBand(_) | Self::TubeBand(_) => self.marked_name(),
            Self::Rings(r) => format!("rings, up to {}", r.max_height_m),
            Self::PullUpBar(b) => format!("bar at {}", b.height_m),
            Self::DipBars(_) => "dip bars".into(),
            Self::Bench(b) => format!("bench {}°", list(&b.angles_deg)),
            Self::Box(b) => format!("{} box {}", b.count, b.height_m),
            Self::Chair(_) => "sturdy chair".into(),
            Self::Sofa(_) => "sofa".into(),
            Self::Step(s) => format!("step {}", s.height_m),
            Self::Anchor(a) if a.is_in_door() => {
                format!("door anchor, {}, usually at {} m", a.where_text(), list(&a.heights_m))
            }
            Self::Anchor(a) => format!("anchor {}", a.where_text()),
            Self::Backpack(b) => format!("backpack, up to {}", b.max_kg),
            Self::AbWheel(_) => "roll-out wheel".into(),
            Self::Parallettes(_) => "push-up handles".into(),
            Self::Wedge(_) => "wedge".into(),
            Self::Table(t) => format!("table {}", t.height_m),
            Self::Towel(_) => "towel".into(),
        }
    }

    /// Checks every measure against its legal range; the error carries the field's path within the item.
    pub fn validate(&self) -> Result<(), RangeError> {
        match self {
            Self::Dumbbells(d) => d.validate(),
            Self::AdjustableDumbbell(a) => a.validate(),
            Self::LoopBand(b) => b.validate(),
            Self::TubeBand(b) => b.validate(),
            Self::Rings(r) => hanging("max_height_m", r.max_height_m.value()),
            Self::PullUpBar(b) => hanging("height_m", b.height_m.value()),
            Self::Bench(b) => {
                few("angles_deg", b.angles_deg.len())?;
                each("angles_deg", &b.angles_deg, ranges::BENCH_ANGLE)?;
                b.height_m.map_or(Ok(()), |h| support("height_m", h.value()))
            }
            Self::Box(b) => {
                support("height_m", b.height_m.value())?;
                ranges::COUNT.check("count", f64::from(b.count)).map(drop)
            }
            Self::Step(s) => support("height_m", s.height_m.value()),
            Self::Table(t) => support("height_m", t.height_m.value()),
            Self::Anchor(a) => {
                few("heights_m", a.heights_m.len())?;
                each("heights_m", &a.heights_m, ranges::HANGING_HEIGHT)?;
                match (a.on, a.weight_kg) {
                    (Some(AnchorOn::Dumbbell), None) => {
                        Err(RangeError::new("weight_kg", "is needed: a dumbbell holds a share of its weight"))
                    }
                    (_, Some(weight)) => ranges::DUMBBELL.check("weight_kg", weight.value()).map(drop),
                    _ => Ok(()),
                }
            }
            Self::Backpack(b) => ranges::ADDED_LOAD.check("max_kg", b.max_kg.value()).map(drop),
            Self::DipBars(_)
            | Self::Chair(_)
            | Self::Sofa(_)
            | Self::AbWheel(_)
            | Self::Parallettes(_)
            | Self::Wedge(_)
            | Self::Towel(_) => Ok(()),
        }
    }
}

impl From<LoopBand> for KitItem {
    fn from(band: LoopBand) -> Self {
        Self::LoopBand(band)
    }
}

impl From<TubeBand> for KitItem {
    fn from(band: TubeBand) -> Self {
        Self::TubeBand(band)
    }
}

fn hanging(path: &str, value: f64) -> Result<(), RangeError> {
    ranges::HANGING_HEIGHT.check(path, value).map(drop)
}

fn support(path: &str, value: f64) -> Result<(), RangeError> {
    ranges::SUPPORT_HEIGHT.check(path, value).map(drop)
}

fn few(path: &str, count: usize) -> Result<(), RangeError> {
    if count == 0 {
        return Err(RangeError::new(path, "needs at least one value"));
    }
    if count > MOST_ENTRIES {
        return Err(RangeError::new(path, format!("lists {count} values; {MOST_ENTRIES} are the most")));
    }
    Ok(())
}

fn each(path: &str, values: &[f64], range: ranges::LegalRange) -> Result<(), RangeError> {
    values.iter().enumerate().try_for_each(|(i, v)| range.check(&format!("{path}[{i}]"), *v).map(drop))
}

fn label_fits(label: Option<&str>) -> Result<(), RangeError> {
    match label {
        Some(text) if text.chars().count() > LONGEST_LABEL => {
            Err(RangeError::new("label", format!("may have at most {LONGEST_LABEL} characters")))
        }
        _ => Ok(()),
    }
}

impl Dumbbells {
    fn validate(&self) -> Result<(), RangeError> {
        few("pairs", self.pairs.len() + self.singles.len())?;
        for (path, values) in [("pairs", &self.pairs), ("singles", &self.singles)] {
            for (i, value) in values.iter().enumerate() {
                ranges::DUMBBELL.check(&format!("{path}[{i}]"), value * self.unit.in_kilograms())?;
            }
        }
        Ok(())
    }
}

impl AdjustableDumbbell {
    fn validate(&self) -> Result<(), RangeError> {
        if !(1..=2).contains(&self.count) {
            return Err(RangeError::new("count", "must be 1 or 2"));
        }
        let kg = self.unit.in_kilograms();
        ranges::DUMBBELL.check("min", self.min * kg)?;
        ranges::DUMBBELL.check("max", self.max * kg)?;
        ranges::DUMBBELL_STEP.check("step", self.step * kg)?;
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

/// Log-SD of a band of which only simulated readings are known: as of one by its size. Assumed.
pub const UNMEASURED_SD: f64 = 0.20;

/// Readings that were really taken; the simulated ones where there are no others.
fn counted(measured: &[MeasuredPoint]) -> Vec<(Metres, Kilograms)> {
    let own = measured.iter().any(|p| !p.simulated);
    measured.iter().filter(|p| !(own && p.simulated)).map(|p| (p.length_m, p.kg)).collect()
}

/// Whether a curve rests on the simulated scale alone.
fn is_simulated(measured: Option<&[MeasuredPoint]>) -> bool {
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
    count: u8,
    rated: Option<[f64; 2]>,
    measured: Option<&[MeasuredPoint]>,
) -> Result<(), RangeError> {
    label_fits(label)?;
    ranges::COUNT.check("count", f64::from(count))?;
    if let Some([min, max]) = rated {
        ranges::BAND_FORCE.check("rated_kg[0]", min)?;
        ranges::BAND_FORCE.check("rated_kg[1]", max)?;
        if max <= min {
            return Err(RangeError::new("rated_kg", "the larger force must come second"));
        }
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

    fn validate(&self) -> Result<(), RangeError> {
        ranges::BAND_LENGTH.check("flat_length_m", self.flat_length_m.value())?;
        if let Some(width) = self.width_m {
            ranges::BAND_WIDTH.check("width_m", width.value())?;
        }
        if let Some(thickness) = self.thickness_m {
            ranges::BAND_THICKNESS.check("thickness_m", thickness.value())?;
        }
        validate_band(self.label.as_deref(), self.count, self.rated_kg, self.measured.as_deref())?;
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

    fn validate(&self) -> Result<(), RangeError> {
        ranges::BAND_LENGTH.check("rest_length_m", self.rest_length_m.value())?;
        validate_band(self.label.as_deref(), self.count, self.rated_kg, self.measured.as_deref())?;
        self.rubber().map(drop).map_err(|e| RangeError::new(e.field(), e.to_string()))
    }
}

/// A room that has everything in a usual size: the yardstick for what a movement is like before a kit narrows it.
pub fn full_room() -> Vec<KitItem> {
    let band = |width: f64| {
        KitItem::LoopBand(LoopBand {
            count: 2,
            flat_length_m: Metres(1.04),
            width_m: Some(Metres(width)),
            thickness_m: Some(Metres(0.0045)),
            ..LoopBand::default()
        })
    };
    vec![
        KitItem::Dumbbells(Dumbbells {
            unit: MassUnit::Kg,
            pairs: (1..=20).map(|k| 2.0 * f64::from(k)).collect(),
            singles: vec![],
            heads: Some(Heads::Flat),
        }),
        band(0.013),
        band(0.032),
        KitItem::Rings(Rings { max_height_m: Metres(2.4) }),
        KitItem::PullUpBar(PullUpBar { height_m: Metres(2.3) }),
        KitItem::PullUpBar(PullUpBar { height_m: Metres(1.0) }),
        KitItem::DipBars(Plain {}),
        KitItem::Bench(Bench { angles_deg: vec![-20.0, 0.0, 30.0, 45.0, 75.0], height_m: None }),
        KitItem::Box(Boxes { height_m: Metres(0.45), count: 2 }),
        KitItem::Chair(Plain {}),
        KitItem::Anchor(Anchor {
            heights_m: vec![0.1, 0.6, 1.0, 1.4, 1.8, 2.1],
            door: None,
            on: None,
            weight_kg: None,
        }),
        KitItem::Parallettes(Plain {}),
        KitItem::Wedge(Plain {}),
        KitItem::Backpack(Backpack { max_kg: Kilograms(20.0) }),
        KitItem::AbWheel(Plain {}),
        KitItem::Table(Table { height_m: Metres(0.74) }),
        KitItem::Towel(Plain {}),
        KitItem::Sofa(Plain {}),
    ]
}

impl Place {
    /// Checks every item; error paths start with `kit[i]`.
    pub fn validate(&self) -> Result<(), RangeError> {
        if self.kit.len() > 200 {
            return Err(RangeError::new("kit", "may list at most 200 items"));
        }
        self.kit.iter().enumerate().try_for_each(|(i, item)| item.validate().map_err(|e| e.under(&format!("kit[{i}]"))))
    }
}
