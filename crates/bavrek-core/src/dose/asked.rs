//! How much a line asks for: in short, or written set by set.

use serde::{Deserialize, Serialize};

use super::{Prescription, Relation, SetKind, SetPlan, Tempo};
use crate::anatomy::vocabulary;
use crate::ranges::RangeError;

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

/// Most sets of a line.
pub const MOST_SETS: u8 = 12;
/// Most repetitions of a zone: beyond it the load is not one for growth.
const MOST_REPS: u16 = 40;
/// Most repetitions in reserve; with more left a set is a warm-up.
const MOST_RESERVE: u8 = 6;

/// How much a line asks for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Dose {
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
    #[serde(default, rename = "dose", skip_serializing_if = "Option::is_none")]
    pub written: Option<Prescription>,
}

/// Usual rest after a set of so many repetitions, s. Schools differ; these lie in the middle.
pub const fn usual_rest(reps: u16) -> u16 {
    match reps {
        0..=6 => 150,
        7..=10 => 120,
        _ => 90,
    }
}

impl Dose {
    /// Three sets of 8 to 12 with two in reserve.
    pub const USUAL: Self = Self { reps: [8, 12], rir: 2, sets: 3, tempo: None, stop: None, written: None };

    /// Checks zone, reserve and sets; the path names the field.
    pub fn validate(&self) -> Result<(), RangeError> {
        let [low, high] = self.reps;
        if low == 0 || high > MOST_REPS || low > high {
            return Err(RangeError::new("reps", format!("must rise within 1 to {MOST_REPS}")));
        }
        if self.rir > MOST_RESERVE {
            return Err(RangeError::new("rir", format!("must be 0 to {MOST_RESERVE}")));
        }
        if self.sets == 0 || self.sets > MOST_SETS {
            return Err(RangeError::new("sets", format!("must be 1 to {MOST_SETS}")));
        }
        self.written.as_ref().map_or(Ok(()), |dose| dose.validate().map_err(|e| e.under("dose")))
    }

    /// The same with the sets that a trainer wrote in a line: as they are, and zone, reserve, number and stop rule as they follow
    /// from them.
    #[must_use]
    pub fn with(&self, written: Prescription) -> Self {
        let rirs: Vec<u8> = written.sets.iter().filter_map(|s| s.rir).collect();
        let first = rirs.first().copied().unwrap_or(self.rir);
        let stop = match (first, rirs.last()) {
            (0, _) => Some(StopRule::Failure),
            (_, Some(0)) => Some(StopRule::LastToFailure),
            _ => self.stop.filter(|s| matches!(s, StopRule::RangeLost | StopRule::SpeedLost)),
        };
        let ends = written.sets.iter().filter_map(|s| s.reps);
        let reps = ends.reduce(|[a, b], [c, d]| [a.min(c), b.max(d)]).map_or(self.reps, Self::within);
        Self {
            reps,
            rir: first,
            sets: written.sets.len().clamp(1, usize::from(MOST_SETS)) as u8,
            tempo: written.sets.first().map(|s| s.tempo),
            stop,
            written: Some(written),
        }
    }

    /// A zone within what one may be.
    pub(crate) fn within(zone: [u16; 2]) -> [u16; 2] {
        zone.map(|n| n.clamp(1, MOST_REPS))
    }

    /// The sets that it asks for, with the rest of its rep zone: the fewer the reps, the longer the rest.
    pub fn prescription(&self) -> Prescription {
        if let Some(written) = &self.written {
            return written.clone();
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

    /// Its first set, where that is a mixed one.
    pub fn mixed(&self) -> Option<&SetPlan> {
        self.written.as_ref()?.sets.first().filter(|set| set.kind == SetKind::Mixed)
    }

    /// What its load is compared with, where that decides the step.
    pub fn relation(&self) -> Option<&Relation> {
        self.written.as_ref()?.relation.as_ref()
    }

    /// The same with no load asked.
    #[must_use]
    pub fn uncompared(&self) -> Self {
        let written = self.written.clone().map(|dose| Prescription { relation: None, ..dose });
        Self { written, ..self.clone() }
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
        Some(match &self.written {
            Some(_) => self.with(dose),
            None => Self { sets, ..self.clone() },
        })
    }

    /// Repetitions in reserve at which its sets end, the last one aside: none where they go to failure.
    pub fn reserve(&self) -> u8 {
        if self.stop == Some(StopRule::Failure) { 0 } else { self.rir }
    }

    /// Whether a set of it goes to failure.
    pub fn to_failure(&self) -> bool {
        matches!(self.stop, Some(StopRule::Failure | StopRule::LastToFailure)) || self.rir == 0
    }
}
