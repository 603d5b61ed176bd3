//! What is asked of a call, and what it says.

use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

use super::kind::{Alternative, CallKind};
use super::reason::Reason;
use crate::dose::Prescription;
use crate::fit::PutAside;
use crate::kit::KitItem;
use crate::ladder::LadderStep;
use crate::log::LoggedSet;
use crate::method::Method;
use crate::person::Person;
use crate::plan::Intent;
use crate::units::Kilograms;

/// What a call is asked for.
#[derive(Debug, Clone, Copy)]
pub struct NextQuestion<'a> {
    /// Who trains.
    pub person: &'a Person,
    /// What the room holds.
    pub kit: &'a [KitItem],
    /// What the slot is for.
    pub intent: &'a Intent,
    /// What was prescribed.
    pub prescription: &'a Prescription,
    /// What was done.
    pub history: &'a [LoggedSet],
    /// Today, in the client's time zone.
    pub today: NaiveDate,
    /// The day from which the newest limit in force counts, where it is known.
    pub limits_since: Option<NaiveDate>,
    /// The movement of the plan, where it is known: what was swapped in for a day is not called.
    pub planned: Option<&'a str>,
    /// Movements that the trainer put aside for this client.
    pub put_aside: &'a [PutAside],
    /// The school in force.
    pub method: Option<Method>,
    /// Days on which the line was planned and did not take place; those before its last set say nothing any more.
    pub missed: &'a [NaiveDate],
}

/// An estimated one-repetition maximum, as effective load.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Maximum {
    /// Estimate.
    pub kg: Kilograms,
    /// Lower end of the 90 % interval.
    pub low_kg: Kilograms,
    /// Upper end.
    pub high_kg: Kilograms,
}

/// A proposed next step with its reasons.
#[derive(Debug, Clone, PartialEq)]
pub struct Call {
    /// What to do.
    pub call: CallKind,
    /// The movement it concerns.
    pub exercise: Option<String>,
    /// The step to take.
    pub step: Option<LadderStep>,
    /// The next prescription.
    pub prescription: Prescription,
    /// Why.
    pub reasons: Vec<Reason>,
    /// What else could be done.
    pub alternatives: Vec<Alternative>,
    /// Estimated maximum; absent where every set was too long to tell (over 12 repetitions to failure).
    pub e1rm: Option<Maximum>,
}

impl Call {
    /// The movement that a decision leads to: a harder or easier one carries its own, whatever else stays.
    pub fn exercise_of(&self, decided: CallKind) -> Option<&str> {
        self.exercise.as_deref().filter(|_| decided == self.call && self.step.is_some())
    }
}
