//! What a slot is for. An intent names no exercise: that is the fit's business.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::anatomy::{ArmPosition, Grip, LengthEmphasis, Pattern, Region, vocabulary};
use crate::dose::{Count, Needed, Prescription, Relation, SetKind, SetPlan, Tempo};
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

vocabulary!(
    /// When a set ends. Trainers disagree on failure; whichever is chosen is prescribed as it is.
    StopRule {
        Reserve => "reserve", "with the repetitions in reserve";
        LastToFailure => "last_to_failure", "the last set to failure";
        Failure => "failure", "every set to failure";
        RangeLost => "range_lost", "when the range is cut short";
        SpeedLost => "speed_lost", "when the lowering speed is lost";
    }
);

/// Most sets of a slot.
pub const MOST_SETS: u8 = 12;
/// Lowering of a set that is only lowered, s: as its cues say.
const SLOW_LOWERING: Count = Count::whole(5);
/// Shortest hold that is prescribed for growth, s. Assumed.
const SHORTEST_HOLD: f64 = 15.0;
/// Longest, s; beyond it a harder position is due.
const LONGEST_HOLD: f64 = 60.0;

/// The purpose of a slot: what it must load, where in the length, in which rep zone, and when to stop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
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
    /// Rep zone.
    pub reps: [u16; 2],
    /// Repetitions in reserve at which to stop.
    pub rir: u8,
    /// Sets.
    pub sets: u8,
    /// Wanted tempo.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tempo: Option<Tempo>,
    /// When a set ends; with the reserve where it is left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stop: Option<StopRule>,
    /// The sets one by one, where the trainer wrote them in a line; otherwise they follow from zone, reserve and sets.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub dose: Option<Prescription>,
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

/// Usual rest after a set of so many repetitions, s. Schools differ; these lie in the middle.
pub const fn usual_rest(reps: u16) -> u16 {
    match reps {
        0..=6 => 150,
        7..=10 => 120,
        _ => 90,
    }
}

impl Intent {
    /// An intent of which only the dose is said: three sets of 8 to 12 with two in reserve.
    pub const fn usual_dose() -> Self {
        Self {
            pattern: Pattern::HorizontalPress,
            regions: BTreeMap::new(),
            arm_position: None,
            grip: None,
            length_emphasis: None,
            sides: None,
            reps: [8, 12],
            rir: 2,
            sets: 3,
            tempo: None,
            stop: None,
            dose: None,
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
        let [low, high] = self.reps;
        if low == 0 || high > 40 || low > high {
            return Err(RangeError::new("reps", "must rise within 1 to 40"));
        }
        if self.rir > 6 {
            return Err(RangeError::new("rir", "must be 0 to 6"));
        }
        if self.sets == 0 || self.sets > MOST_SETS {
            return Err(RangeError::new("sets", format!("must be 1 to {MOST_SETS}")));
        }
        if self.optional.is_some_and(|wanted| wanted > MOST_WANTED) {
            return Err(RangeError::new("optional", format!("must be 0 to {MOST_WANTED}")));
        }
        self.execution.validate().map_err(|e| e.under("execution"))?;
        self.dose.as_ref().map_or(Ok(()), |dose| dose.validate().map_err(|e| e.under("dose")))
    }

    /// The same with the dose that a trainer wrote in a line: its sets as they are, and zone, reserve, number and stop rule
    /// as they follow from them.
    #[must_use]
    pub fn dosed(self, dose: Prescription) -> Self {
        let rirs: Vec<u8> = dose.sets.iter().filter_map(|s| s.rir).collect();
        let first = rirs.first().copied().unwrap_or(self.rir);
        let stop = match (first, rirs.last()) {
            (0, _) => Some(StopRule::Failure),
            (_, Some(0)) => Some(StopRule::LastToFailure),
            _ => self.stop.filter(|s| matches!(s, StopRule::RangeLost | StopRule::SpeedLost)),
        };
        let ends = dose.sets.iter().filter_map(|s| s.reps);
        let reps =
            ends.reduce(|[a, b], [c, d]| [a.min(c), b.max(d)]).map_or(self.reps, |zone| zone.map(|n| n.clamp(1, 40)));
        Self {
            reps,
            rir: first,
            sets: dose.sets.len().clamp(1, usize::from(MOST_SETS)) as u8,
            tempo: dose.sets.first().map(|s| s.tempo),
            stop,
            dose: Some(dose),
            ..self
        }
    }

    /// The dose it asks for, with the rest of its rep zone: the fewer the reps, the longer the rest.
    pub fn prescription(&self) -> Prescription {
        if let Some(dose) = &self.dose {
            return dose.clone();
        }
        let rest = usual_rest(self.reps[1]);
        let tempo = self.tempo.unwrap_or(Tempo::USUAL);
        let mut dose = Prescription::straight(self.sets, self.reps, self.reserve(), tempo, rest);
        if self.stop == Some(StopRule::LastToFailure)
            && let Some(last) = dose.sets.last_mut()
        {
            last.rir = Some(0);
        }
        dose
    }

    /// The same with the zone of its first set, which decides the step: of one that is counted in seconds or in parts as many
    /// repetitions as go into that time, or as it needs.
    #[must_use]
    pub fn counted(&self) -> Self {
        let dose = self.prescription();
        let Some(set) = dose.sets.first() else { return self.clone() };
        if let Some(zone) = set.reps {
            return Self { reps: zone.map(|n| n.clamp(1, 40)), ..self.clone() };
        }
        let timed = || set.seconds_under_load().map_or(12.0, |s| s.value() / set.tempo.seconds().value());
        let reps = self.needed(set).map_or_else(timed, |needed| needed.whole);
        let reps = reps.round().clamp(1.0, 40.0) as u16;
        Self { reps: [reps; 2], tempo: None, ..self.clone() }
    }

    /// Its first set, where that is a mixed one.
    pub fn mixed(&self) -> Option<&SetPlan> {
        self.dose.as_ref()?.sets.first().filter(|set| set.kind == SetKind::Mixed)
    }

    /// What its load is compared with, where that decides the step.
    pub fn relation(&self) -> Option<&Relation> {
        self.dose.as_ref()?.relation.as_ref()
    }

    /// The same intent with no load asked.
    #[must_use]
    pub fn uncompared(&self) -> Self {
        let dose = self.dose.clone().map(|dose| Prescription { relation: None, ..dose });
        Self { dose, ..self.clone() }
    }

    /// The same where it says how heavy: of a load in two parts the repetitions decide that.
    pub fn compared(&self) -> Option<&Relation> {
        self.relation().filter(|relation| !matches!(relation, Relation::PartBand { .. }))
    }

    /// The least and the most of a load in two parts that a band is to give, percent.
    pub fn band_percent(&self) -> Option<[u8; 2]> {
        match self.relation()? {
            Relation::PartBand { percent } => Some(*percent),
            _ => None,
        }
    }

    /// What a mixed set of it needs; none of any other set.
    pub fn needed(&self, set: &SetPlan) -> Option<Needed> {
        set.needed(HoldingJoint::of(self.pattern))
    }

    /// The same with one set more, like its last one; `None` above the most there may be.
    #[must_use]
    pub fn one_set_more(&self) -> Option<Self> {
        let mut dose = self.prescription();
        let last = dose.sets.last()?.clone();
        dose.sets.push(last);
        self.with_sets(dose)
    }

    /// The same with one set fewer: the last stays the last, so that its stop rule does. `None` where there is only one.
    #[must_use]
    pub fn one_set_fewer(&self) -> Option<Self> {
        let mut dose = self.prescription();
        let at = dose.sets.len().checked_sub(2)?;
        dose.sets.remove(at);
        self.with_sets(dose)
    }

    fn with_sets(&self, dose: Prescription) -> Option<Self> {
        let sets = u8::try_from(dose.sets.len()).ok().filter(|n| (1..=MOST_SETS).contains(n))?;
        Some(match &self.dose {
            Some(_) => self.clone().dosed(dose),
            None => Self { sets, ..self.clone() },
        })
    }

    /// The dose with which a movement of this style answers: holds in seconds, lowering alone slowly.
    pub fn prescription_for(&self, style: Style) -> Prescription {
        let mut dose = self.prescription();
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
        let middle = u16::midpoint(self.reps[0], self.reps[1]);
        let seconds = f64::from(middle) * Tempo::USUAL.seconds().value();
        ((seconds / 5.0).round() * 5.0).clamp(SHORTEST_HOLD, LONGEST_HOLD) as u16
    }

    /// Whether another intent is for the same thing, whatever its dose and however its repetitions are done.
    pub fn is_same_job(&self, other: &Self) -> bool {
        let job = |i: &Self| Self {
            reps: [0; 2],
            rir: 0,
            sets: 0,
            tempo: None,
            stop: None,
            dose: None,
            execution: Execution::USUAL,
            optional: None,
            ..i.clone()
        };
        job(self) == job(other)
    }

    /// That it may be left out, in words: `optional, any 4 such lines are enough`.
    pub fn optional_text(&self) -> Option<String> {
        self.optional.map(optional_in_words)
    }

    /// Repetitions in reserve at which its sets end, the last one aside: none where they go to failure.
    pub fn reserve(&self) -> u8 {
        if self.stop == Some(StopRule::Failure) { 0 } else { self.rir }
    }

    /// Whether a set of it goes to failure.
    pub fn to_failure(&self) -> bool {
        matches!(self.stop, Some(StopRule::Failure | StopRule::LastToFailure)) || self.rir == 0
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
