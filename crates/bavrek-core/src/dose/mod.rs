//! How much is asked: the sets in order, each with its repetitions or seconds, tempo, rest and point at which to stop.

mod asked;
mod load;
pub mod notation;
mod relation;
mod steps;
mod tempo;

pub use asked::{Dose, MOST_SETS, StopRule, usual_rest};
pub use load::{PerHand, StampedLoad};
pub use relation::{Other, Relation};
pub use tempo::{Count, Tempo};

use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::holds::{HoldingJoint, repetitions_needed};
use crate::ranges::RangeError;
use crate::reps::effective_reps;
use crate::units::Seconds;

vocabulary!(
    /// What a set is made of.
    SetKind {
        Straight => "straight", "straight set";
        Amrap => "amrap", "as many as possible";
        Hold => "hold", "hold";
        Station => "station", "timed station";
        LoweringOnly => "lowering_only", "lowering only";
        Mixed => "mixed" | "mixed_nine", "mixed set";
        ToTotal => "to_total", "to a total";
        Extension => "extension", "extension of the set before";
    }
);

impl SetKind {
    /// Whether it is counted in seconds alone.
    pub const fn is_timed(self) -> bool {
        matches!(self, Self::Hold | Self::Station)
    }
}

/// A part of a mixed set.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(untagged, deny_unknown_fields)]
pub enum Part {
    /// Repetitions at a tempo of their own.
    Reps {
        /// How many.
        reps: u16,
        /// Their tempo.
        tempo: Tempo,
    },
    /// Holds in mid-range.
    Holds {
        /// How many.
        holds: u16,
        /// Seconds of each.
        seconds: u16,
    },
}

impl Part {
    /// For example `4 at 1-0-X-0` or `2 held 8 s`.
    pub fn text(&self) -> String {
        match self {
            Self::Reps { reps, tempo } => format!("{reps} at {tempo}"),
            Self::Holds { holds, seconds } => format!("{holds} held {seconds} s"),
        }
    }

    /// Seconds under load.
    pub fn seconds(&self) -> Seconds {
        match self {
            Self::Reps { reps, tempo } => tempo.seconds() * f64::from(*reps),
            Self::Holds { holds, seconds } => Seconds(f64::from(*holds) * f64::from(*seconds)),
        }
    }
}

/// Four fast repetitions, two holds of eight seconds in mid-range, three slow repetitions: the usual mixed set.
pub const USUAL_MIX: [Part; 3] = [
    Part::Reps { reps: 4, tempo: Tempo::whole(1, 0, None, 0) },
    Part::Holds { holds: 2, seconds: 8 },
    Part::Reps { reps: 3, tempo: Tempo::whole(5, 0, Some(4), 0) },
];

/// Repetitions to failure, at three seconds each, of which one must be capable on a load for a mixed set.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Needed {
    /// So that its last hold lasts.
    pub last_hold: f64,
    /// So that it ends.
    pub whole: f64,
}

/// One prescribed set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct SetPlan {
    /// Fewest and most repetitions.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reps: Option<[u16; 2]>,
    /// Seconds, for holds and timed stations.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub seconds: Option<u16>,
    /// Repetitions to reach over as many sets as it takes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub total: Option<u16>,
    /// As many as possible.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub max: Option<bool>,
    /// Parts of a mixed set, in order.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub parts: Vec<Part>,
    /// Tempo.
    pub tempo: Tempo,
    /// Load as stamped; none where the set is done on another step than the line's own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub load: Option<StampedLoad>,
    /// How many steps above the line's own it is done on; below it where negative.
    #[serde(default, skip_serializing_if = "is_zero")]
    pub step: i8,
    /// Repetitions in reserve at which to stop.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rir: Option<u8>,
    /// Kind of set.
    pub kind: SetKind,
    /// Rest after it, s.
    pub rest_s: u16,
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde asks so")]
const fn is_zero(steps: &i8) -> bool {
    *steps == 0
}

/// Most steps by which a set can lie off its line's own.
pub const MOST_STEPS: i8 = 5;

/// Repetitions taken for a set of as many as possible, and of one of those in which a total is done: nobody knows before.
/// Assumed.
pub const OPEN_SET_REPS: f64 = 15.0;

/// Sets that a total is expected to take, at least one.
pub fn sets_to(total: u16) -> usize {
    ((f64::from(total) / OPEN_SET_REPS).ceil() as usize).max(1)
}

/// Most repetitions of a set, and longest hold or station, s; longest rest, s; largest total.
const MOST_REPS: u16 = 100;
const LONGEST: u16 = 900;
const MOST_TOTAL: u16 = 500;
/// Most parts of a mixed set.
const MOST_PARTS: usize = 6;

impl SetPlan {
    /// A straight set in a range of repetitions.
    pub const fn straight(reps: [u16; 2], rir: Option<u8>, tempo: Tempo, rest_s: u16) -> Self {
        Self {
            reps: Some(reps),
            seconds: None,
            total: None,
            max: None,
            parts: Vec::new(),
            tempo,
            load: None,
            step: 0,
            rir,
            kind: SetKind::Straight,
            rest_s,
        }
    }

    /// The same on what its line is done with, or on nothing that is stated where it is done on another step.
    #[must_use]
    pub fn on(&self, load: Option<StampedLoad>) -> Self {
        Self { load: load.filter(|_| self.step == 0), ..self.clone() }
    }

    /// Parts of a mixed set: those stated, or the usual ones.
    pub fn mix(&self) -> &[Part] {
        if self.parts.is_empty() { &USUAL_MIX } else { &self.parts }
    }

    /// The parts of a mixed set in words: `4 at 1-0-X-0, 2 held 8 s, 3 at 5-0-4-0`.
    pub fn mix_text(&self) -> String {
        self.mix().iter().map(Part::text).collect::<Vec<_>>().join(", ")
    }

    /// Seconds under load, at the middle of the range of repetitions; none where nobody can tell beforehand.
    pub fn seconds_under_load(&self) -> Option<Seconds> {
        match self.kind {
            SetKind::Hold | SetKind::Station => self.seconds.map(|s| Seconds(f64::from(s))),
            SetKind::Mixed => Some(Seconds(self.mix().iter().map(|p| p.seconds().value()).sum())),
            _ => self.reps.map(|[low, high]| self.tempo.seconds() * (0.5 * f64::from(low + high))),
        }
    }

    /// Seconds that a set of one side is expected to take: under load, or what is usual where nobody can tell beforehand.
    pub fn expected_seconds(&self) -> Seconds {
        let open = |reps: f64| self.tempo.seconds() * reps;
        match (self.kind, self.total) {
            (SetKind::ToTotal, Some(total)) => open(f64::from(total) / sets_to(total) as f64),
            _ => self.seconds_under_load().unwrap_or_else(|| open(OPEN_SET_REPS)),
        }
    }

    /// What a mixed set needs of whoever does it; none of any other set.
    pub fn needed(&self, joint: HoldingJoint) -> Option<Needed> {
        (self.kind == SetKind::Mixed).then_some(())?;
        let parts = self.mix();
        let last_hold = parts.iter().rposition(|part| matches!(part, Part::Holds { .. })).map_or(0, |at| at + 1);
        let upto = |end: usize| {
            let (mut all, mut held) = (0.0, 0.0);
            for part in &parts[..end] {
                match part {
                    Part::Reps { reps, tempo } => all += effective_reps(f64::from(*reps), tempo.seconds()),
                    Part::Holds { .. } => held += part.seconds().value(),
                }
            }
            repetitions_needed(joint, all, held)
        };
        Some(Needed { last_hold: upto(last_hold), whole: upto(parts.len()) })
    }

    fn validate(&self, path: impl Fn(&str) -> String) -> Result<(), RangeError> {
        if let Some([low, high]) = self.reps
            && (low == 0 || high > MOST_REPS || low > high)
        {
            return Err(RangeError::new(path("reps"), format!("must rise within 1 to {MOST_REPS}")));
        }
        if self.seconds.is_some_and(|s| s == 0 || s > LONGEST) {
            return Err(RangeError::new(path("seconds"), format!("must be 1 to {LONGEST}")));
        }
        if self.total.is_some_and(|t| t == 0 || t > MOST_TOTAL) {
            return Err(RangeError::new(path("total"), format!("must be 1 to {MOST_TOTAL}")));
        }
        if self.parts.len() > MOST_PARTS {
            return Err(RangeError::new(path("parts"), format!("may have at most {MOST_PARTS} parts")));
        }
        let (missing, words) = match self.kind {
            SetKind::Hold | SetKind::Station => (self.seconds.is_none(), "give the seconds"),
            SetKind::ToTotal => (self.total.is_none(), "give the total"),
            SetKind::Mixed => (false, ""),
            _ => (self.reps.is_none() && self.seconds.is_none() && self.max != Some(true), "give reps, seconds or max"),
        };
        if missing {
            let field = match self.kind {
                SetKind::Hold | SetKind::Station => "seconds",
                SetKind::ToTotal => "total",
                _ => "reps",
            };
            return Err(RangeError::new(path(field), words));
        }
        if self.step.unsigned_abs() > MOST_STEPS.unsigned_abs() {
            return Err(RangeError::new(path("step"), format!("must be -{MOST_STEPS} to {MOST_STEPS}")));
        }
        if self.rir.is_some_and(|r| r > 6) {
            return Err(RangeError::new(path("rir"), "must be 0 to 6"));
        }
        if self.rest_s > LONGEST {
            return Err(RangeError::new(path("rest_s"), format!("must be at most {LONGEST} s")));
        }
        Ok(())
    }
}

/// Sets x reps, tempo, rest, stop rule and load of a slot.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Prescription {
    /// The sets in order.
    pub sets: Vec<SetPlan>,
    /// What their load is compared with, where that decides the step; otherwise repetitions and reserve do.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub relation: Option<Relation>,
}

impl Prescription {
    /// Sets on the step that their repetitions and reserve ask for.
    pub const fn of(sets: Vec<SetPlan>) -> Self {
        Self { sets, relation: None }
    }

    /// The same dose with other sets.
    #[must_use]
    pub fn with_sets(&self, sets: Vec<SetPlan>) -> Self {
        Self { sets, relation: self.relation.clone() }
    }

    /// `count` straight sets.
    pub fn straight(count: u8, reps: [u16; 2], rir: u8, tempo: Tempo, rest_s: u16) -> Self {
        Self::of(vec![SetPlan::straight(reps, Some(rir), tempo, rest_s); usize::from(count)])
    }

    /// The same sets on a load, or on none: what is asked, whatever it is done with.
    #[must_use]
    pub fn loaded(&self, load: Option<StampedLoad>) -> Self {
        self.with_sets(self.sets.iter().map(|set| set.on(load)).collect())
    }

    /// Fewest and most repetitions that its sets ask for; none where none is counted in repetitions.
    pub fn zone(&self) -> Option<[u16; 2]> {
        self.sets.iter().find_map(|s| s.reps)
    }

    /// The tempo in words, where all sets have the same; the parts of a mixed set have their own, and what is held has none.
    pub fn tempo_in_words(&self) -> Option<String> {
        let moved = |kind: SetKind| !kind.is_timed() && kind != SetKind::Mixed;
        let (first, rest) = self.sets.split_first()?;
        let alike = moved(first.kind) && rest.iter().all(|set| set.tempo == first.tempo && moved(set.kind));
        alike.then(|| first.tempo.in_words())
    }

    /// Checks counts and orders; the path starts with `sets[i]`.
    pub fn validate(&self) -> Result<(), RangeError> {
        if self.sets.is_empty() || self.sets.len() > 20 {
            return Err(RangeError::new("sets", "must hold 1 to 20 sets"));
        }
        self.relation.as_ref().map_or(Ok(()), Relation::validate)?;
        self.sets.iter().enumerate().try_for_each(|(i, set)| set.validate(|field| format!("sets[{i}].{field}")))
    }
}
