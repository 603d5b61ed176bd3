//! What a slot is for. An intent names no exercise: that is the fit's business.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::anatomy::{ArmPosition, Grip, LengthEmphasis, Pattern, Region, vocabulary};
use crate::dose::{Count, Dose, Needed, Prescription, SetKind, SetPlan, StopRule, Tempo};
use crate::execution::{Execution, RangePart};
use crate::holds::HoldingJoint;
use crate::movement::{Movement, Style};
use crate::ranges::RangeError;

/// That a line may be left out where so many such lines are done, 0 being any number: `optional, any 4 such lines are enough`.
pub fn optional_in_words(wanted: u8) -> String {
    match wanted {
        0 => "optional".to_owned(),
        1 => "optional, any one such line is enough".to_owned(),
        wanted => format!("optional, any {wanted} such lines are enough"),
    }
}

vocabulary!(
    /// Slots done together.
    BlockKind {
        Straight => "straight", "straight sets";
        Superset => "superset", "superset";
        Antagonist => "antagonist", "antagonist pair";
        Circuit => "circuit", "circuit";
        Extension => "extension", "set with an extension";
        FilledRest => "filled_rest", "filled rests";
    }
);

vocabulary!(
    /// Whether the sides work together.
    Sides {
        Both => "both", "both sides together";
        One => "one", "one side at a time";
    }
);

/// Lowering of a set that is only lowered, s: as its cues say.
const SLOW_LOWERING: Count = Count::whole(5);
/// Shortest hold that is prescribed for growth, s. Assumed.
const SHORTEST_HOLD: f64 = 15.0;
/// Longest, s; beyond it a harder position is due.
const LONGEST_HOLD: f64 = 60.0;

/// What a line is for: what it must load, where in the length, how its repetitions are done, and how much.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Intent {
    /// Movement pattern.
    pub pattern: Pattern,
    /// Regions to load with their weights, 0 to 1.
    pub regions: BTreeMap<Region, f64>,
    /// Wanted arm position.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub arm_position: Option<ArmPosition>,
    /// Wanted grip.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub grip: Option<Grip>,
    /// Where in the muscle's length it must be hard.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub length_emphasis: Option<LengthEmphasis>,
    /// One or both sides at a time, where it matters.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub sides: Option<Sides>,
    /// How much.
    #[serde(flatten)]
    pub dose: Dose,
    /// The movement it is measured against.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reference_exercise: Option<String>,
    /// How its repetitions are done, whatever the movement.
    #[serde(default, skip_serializing_if = "Execution::is_usual")]
    pub execution: Execution,
    /// That it may be left out: once so many of the session's lines that may be are done, 0 to [`MOST_WANTED`]. None where it is always
    /// done. Of several lines the highest number counts.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub optional: Option<u8>,
}

/// An intent as files tell it: purpose and dose beside each other.
#[derive(Deserialize)]
#[serde(rename = "Intent", deny_unknown_fields)]
struct Told {
    pattern: Pattern,
    regions: BTreeMap<Region, f64>,
    #[serde(default)]
    arm_position: Option<ArmPosition>,
    #[serde(default)]
    grip: Option<Grip>,
    #[serde(default)]
    length_emphasis: Option<LengthEmphasis>,
    #[serde(default)]
    sides: Option<Sides>,
    reps: [u16; 2],
    rir: u8,
    sets: u8,
    #[serde(default)]
    tempo: Option<Tempo>,
    #[serde(default)]
    stop: Option<StopRule>,
    #[serde(default)]
    dose: Option<Prescription>,
    #[serde(default)]
    reference_exercise: Option<String>,
    #[serde(default)]
    execution: Execution,
    #[serde(default)]
    optional: Option<u8>,
}

// By hand: a field that is told within another names itself in an error only where it is read as one list.
impl<'de> Deserialize<'de> for Intent {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let told = Told::deserialize(deserializer)?;
        let Told { reps, rir, sets, tempo, stop, dose, .. } = told;
        Ok(Self {
            pattern: told.pattern,
            regions: told.regions,
            arm_position: told.arm_position,
            grip: told.grip,
            length_emphasis: told.length_emphasis,
            sides: told.sides,
            dose: Dose { reps, rir, sets, tempo, stop, written: dose },
            reference_exercise: told.reference_exercise,
            execution: told.execution,
            optional: told.optional,
        })
    }
}

/// Most of the lines that may be left out that can be wanted.
pub const MOST_WANTED: u8 = 12;

impl SetPlan {
    /// A mixed set as a movement of this style does it: one that is only held or only lowered is so for as long as the mix takes.
    fn unmixed(&self, style: Style) -> Self {
        let seconds = self.seconds_under_load().unwrap_or_default().value();
        match style {
            Style::Reps => self.clone(),
            Style::Hold => {
                let seconds = ((seconds / 5.0).round() * 5.0).clamp(SHORTEST_HOLD, LONGEST_HOLD) as u16;
                Self { kind: SetKind::Hold, parts: Vec::new(), seconds: Some(seconds), ..self.clone() }
            }
            Style::LoweringOnly => {
                let tempo = Tempo { lowering: self.tempo.lowering.max(SLOW_LOWERING), ..self.tempo };
                let reps = (seconds / tempo.seconds().value()).round().clamp(1.0, 40.0) as u16;
                Self { kind: SetKind::LoweringOnly, parts: Vec::new(), reps: Some([reps; 2]), tempo, ..self.clone() }
            }
        }
    }
}

impl Intent {
    /// For one region by a pattern, at the usual dose and with nothing else said.
    pub fn of(pattern: Pattern, regions: BTreeMap<Region, f64>) -> Self {
        Self {
            pattern,
            regions,
            arm_position: None,
            grip: None,
            length_emphasis: None,
            sides: None,
            dose: Dose::USUAL,
            reference_exercise: None,
            execution: Execution::USUAL,
            optional: None,
        }
    }

    /// Checks regions, reps, reserve and sets; the path names the field.
    pub fn validate(&self) -> Result<(), RangeError> {
        if self.regions.is_empty() {
            return Err(RangeError::new("regions", "name at least one region"));
        }
        for (region, weight) in &self.regions {
            if !(weight.is_finite() && *weight > 0.0 && *weight <= 1.0) {
                return Err(RangeError::new(format!("regions.{}", region.id()), "must be above 0 and at most 1"));
            }
        }
        self.dose.validate()?;
        if self.optional.is_some_and(|wanted| wanted > MOST_WANTED) {
            return Err(RangeError::new("optional", format!("must be 0 to {MOST_WANTED}")));
        }
        self.execution.validate().map_err(|e| e.under("execution"))
    }

    /// The same with the sets that a trainer wrote in a line.
    #[must_use]
    pub fn dosed(self, written: Prescription) -> Self {
        Self { dose: self.dose.with(written), ..self }
    }

    /// The same with the zone of its first set, which decides the step: of one that is counted in seconds or in parts as many
    /// repetitions as go into that time, or as it needs.
    #[must_use]
    pub fn counted(&self) -> Self {
        let dose = self.dose.prescription();
        let Some(set) = dose.sets.first() else { return self.clone() };
        let asked = |dose: Dose| Self { dose, ..self.clone() };
        if let Some(zone) = set.reps {
            return asked(Dose { reps: Dose::within(zone), ..self.dose.clone() });
        }
        let timed = || set.seconds_under_load().map_or(12.0, |s| s.value() / set.tempo.seconds().value());
        let reps = self.needed(set).map_or_else(timed, |needed| needed.whole);
        let reps = reps.round().clamp(1.0, f64::from(u16::MAX)) as u16;
        asked(Dose { reps: Dose::within([reps; 2]), tempo: None, ..self.dose.clone() })
    }

    /// The same intent with no load asked.
    #[must_use]
    pub fn uncompared(&self) -> Self {
        Self { dose: self.dose.uncompared(), ..self.clone() }
    }

    /// What a mixed set of it needs; none of any other set.
    pub fn needed(&self, set: &SetPlan) -> Option<Needed> {
        set.needed(HoldingJoint::of(self.pattern))
    }

    /// The same with one set more; `None` above the most there may be.
    #[must_use]
    pub fn one_set_more(&self) -> Option<Self> {
        Some(Self { dose: self.dose.one_set_more()?, ..self.clone() })
    }

    /// The same with one set fewer; `None` where there is only one.
    #[must_use]
    pub fn one_set_fewer(&self) -> Option<Self> {
        Some(Self { dose: self.dose.one_set_fewer()?, ..self.clone() })
    }

    /// The dose with which a movement of this style answers: holds in seconds, lowering alone slowly.
    pub fn prescription_for(&self, style: Style) -> Prescription {
        let mut dose = self.dose.prescription();
        if style == Style::Hold {
            // Of what is held there is no maximum.
            dose.relation = None;
        }
        for set in dose.sets.iter_mut().filter(|s| s.kind == SetKind::Mixed) {
            *set = set.unmixed(style);
        }
        for set in dose.sets.iter_mut().filter(|s| s.kind == SetKind::Straight) {
            match style {
                Style::Reps => {}
                Style::Hold => {
                    set.kind = SetKind::Hold;
                    set.reps = None;
                    set.seconds = Some(self.hold_seconds());
                }
                Style::LoweringOnly => {
                    set.kind = SetKind::LoweringOnly;
                    set.tempo = Tempo { lowering: set.tempo.lowering.max(SLOW_LOWERING), ..set.tempo };
                }
            }
        }
        dose
    }

    /// Seconds of a hold that stand for the middle of the rep zone at the usual tempo, to five seconds.
    pub fn hold_seconds(&self) -> u16 {
        let middle = u16::midpoint(self.dose.reps[0], self.dose.reps[1]);
        let seconds = f64::from(middle) * Tempo::USUAL.seconds().value();
        ((seconds / 5.0).round() * 5.0).clamp(SHORTEST_HOLD, LONGEST_HOLD) as u16
    }

    /// Whether another intent is for the same thing, whatever its dose and however its repetitions are done.
    pub fn is_same_job(&self, other: &Self) -> bool {
        let job = |i: &Self| Self { dose: Dose::USUAL, execution: Execution::USUAL, optional: None, ..i.clone() };
        job(self) == job(other)
    }

    /// That it may be left out, in words: `optional, any 4 such lines are enough`.
    pub fn optional_text(&self) -> Option<String> {
        self.optional.map(optional_in_words)
    }

    /// The part of the range in which a movement does this job, where it can be cut to it: what is held has no range, and only
    /// a press or an extension of the elbow can stop short of lock-out.
    pub fn part_for(&self, movement: &Movement) -> Option<RangePart> {
        let part = self.execution.range.filter(|_| movement.style != Style::Hold && !movement.rig.is_resisted())?;
        let locks_out = matches!(
            movement.pattern,
            Pattern::HorizontalPress
                | Pattern::InclinePress
                | Pattern::DeclinePress
                | Pattern::OverheadPress
                | Pattern::ElbowExtension
        );
        (part != RangePart::ShortOfLockOut || locks_out).then_some(part)
    }

    /// The region with the largest weight; the first of equals.
    pub fn main_region(&self) -> Option<Region> {
        let heaviest = self.regions.values().copied().fold(0.0, f64::max);
        self.regions.iter().find(|(_, w)| **w >= heaviest).map(|(r, _)| *r)
    }
}
