//! `next`: the call for a slot.

use bavrek_core::dose::Prescription;
use bavrek_core::kit::Place;
use bavrek_core::log::LoggedSet;
use bavrek_core::method::Method;
use bavrek_core::movement::Catalogue;
use bavrek_core::person::Person;
use bavrek_core::plan::Intent;
use bavrek_core::progress::{self, CallKind, Maximum, NextQuestion, Refused};
use chrono::NaiveDate;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::fit::check_intent;
use super::parts::{StepAnswer, check_history, check_person, kit_of};
use crate::RequestError;

/// What is asked.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct NextRequest {
    client: Person,
    place: Place,
    intent: Intent,
    prescription: Prescription,
    history: Vec<LoggedSet>,
    today: NaiveDate,
    /// The school in force: it weighs what else could be done.
    method: Option<Method>,
    /// What was proposed of this line before and refused: it is not proposed again before there is more to it.
    #[serde(default)]
    refused: Vec<RefusedAsked>,
    /// Days on which the line was planned and did not take place. Two in a row since its last set, and nothing is added.
    #[serde(default)]
    missed: Vec<NaiveDate>,
}

/// A proposal that was refused.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
struct RefusedAsked {
    /// What was proposed.
    call: CallKind,
    /// On which step, by its label; left out where whatever step.
    step: Option<String>,
    /// Day of the last set that it rested on.
    after: NaiveDate,
}

/// Most refusals, and most missed days, that are heeded: more than a line has in years.
const MOST_HEEDED: usize = 500;

/// What is answered.
#[derive(Debug, Clone, Serialize, JsonSchema)]
pub struct NextAnswer {
    call: CallKind,
    #[serde(skip_serializing_if = "Option::is_none")]
    exercise: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    step: Option<StepAnswer>,
    prescription: Prescription,
    reasons: Vec<String>,
    alternatives: Vec<AlternativeAnswer>,
    /// Null where no set was short enough to tell (12 repetitions to failure at most).
    e1rm: Option<Maximum>,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct AlternativeAnswer {
    call: CallKind,
    text: String,
    #[serde(skip_serializing_if = "Option::is_none")]
    step: Option<StepAnswer>,
    /// The movement, where it is another one.
    #[serde(skip_serializing_if = "Option::is_none")]
    exercise: Option<String>,
}

pub(super) fn answer(catalogue: &Catalogue, request: &NextRequest) -> Result<NextAnswer, RequestError> {
    check_person(&request.client)?;
    let kit = kit_of(&request.place)?;
    check_intent(catalogue, &request.intent)?;
    request.prescription.validate().map_err(RequestError::at("prescription"))?;
    check_history(catalogue, &request.history)?;
    for (what, many) in [("refused", request.refused.len()), ("missed", request.missed.len())] {
        if many > MOST_HEEDED {
            return Err(RequestError::new(what, format!("lists more than {MOST_HEEDED}")));
        }
    }
    let question = NextQuestion {
        person: &request.client,
        kit: &kit,
        intent: &request.intent,
        prescription: &request.prescription,
        history: &request.history,
        today: request.today,
        limits_since: None,
        planned: None,
        put_aside: &[],
        method: request.method,
        missed: &request.missed,
    };
    let refused = request.refused.iter();
    let refused: Vec<Refused> =
        refused.map(|r| Refused { call: r.call, step: r.step.clone(), after: r.after }).collect();
    let call = progress::next(catalogue, &question).heeding(&question, &refused);
    let alternatives = call.alternatives.iter().map(|a| AlternativeAnswer {
        call: a.call,
        text: a.to_string(),
        step: a.step.as_ref().map(StepAnswer::from),
        exercise: a.exercise().map(str::to_owned),
    });
    Ok(NextAnswer {
        alternatives: alternatives.collect(),
        reasons: call.told(),
        call: call.call,
        exercise: call.exercise,
        step: call.step.as_ref().map(StepAnswer::from),
        prescription: call.prescription,
        e1rm: call.e1rm,
    })
}
