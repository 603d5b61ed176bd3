//! `fit`: which movements do an intent's job at a place.

use std::collections::BTreeMap;

use bavrek_core::across::TrackRecord;
use bavrek_core::anatomy::{ArmPosition, Implement, Pattern, Region};
use bavrek_core::dose::Prescription;
use bavrek_core::fit::{self, Candidate, ExclusionCode, FitQuestion, Parts};
use bavrek_core::kit::{KitItem, Place};
use bavrek_core::log::LoggedSet;
use bavrek_core::method::Method;
use bavrek_core::movement::{Catalogue, Style};
use bavrek_core::person::Person;
use bavrek_core::plan::Intent;
use bavrek_core::rigging::Setup;
use bavrek_core::safety::{Caution, cautions};
use bavrek_core::wording::told;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::parts::{check_history, check_person, find, kit_of};
use crate::RequestError;

/// What is asked.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct FitRequest {
    client: Person,
    place: Place,
    intent: Intent,
    method: Option<Method>,
    #[serde(default)]
    history: Vec<LoggedSet>,
    limit: Option<u16>,
    /// How movements went with other clients, by identifier: leans the order a little.
    #[serde(default)]
    track_record: TrackRecord,
}

/// What is answered.
#[derive(Debug, Clone, Serialize, JsonSchema)]
pub struct FitAnswer {
    candidates: Vec<CandidateAnswer>,
    excluded: Vec<ExcludedAnswer>,
    /// What of the history was left out, and why.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    notes: Vec<String>,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
pub(super) struct CandidateAnswer {
    exercise: String,
    name: String,
    pattern: Pattern,
    implements: Vec<Implement>,
    regions: BTreeMap<Region, f64>,
    arm_position: ArmPosition,
    unilateral: bool,
    setup: Setup,
    setup_text: String,
    score: f64,
    parts: Parts,
    kept: Vec<String>,
    lost: Vec<String>,
    start: StartAnswer,
    #[serde(skip_serializing_if = "Option::is_none")]
    curves: Option<CurvesAnswer>,
    prescription: Prescription,
    #[serde(skip_serializing_if = "Option::is_none")]
    easier: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    harder: Option<String>,
    cautions: Vec<Caution>,
    reasons: Vec<String>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    disputed: Vec<String>,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct StartAnswer {
    label: String,
    effective_kg: f64,
    low_kg: f64,
    high_kg: f64,
    /// Whole repetitions to failure less the reserve; 41 stands for more than 40. Null where seconds are asked.
    expected_reps: Option<u16>,
    basis: String,
}

/// What both joints of a press or row meet.
#[derive(Debug, Clone, Serialize, JsonSchema)]
struct CurvesAnswer {
    #[serde(skip_serializing_if = "Option::is_none")]
    shoulder: Option<JointAnswer>,
    #[serde(skip_serializing_if = "Option::is_none")]
    elbow: Option<JointAnswer>,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct JointAnswer {
    /// Shares of its work in the lengthened, middle and shortened third.
    thirds: [f64; 3],
    /// Its part of the work of both, 0 to 1.
    part: f64,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct ExcludedAnswer {
    exercise: String,
    why: Vec<WhyAnswer>,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct WhyAnswer {
    code: ExclusionCode,
    text: String,
}

pub(super) fn check_intent(catalogue: &Catalogue, intent: &Intent) -> Result<(), RequestError> {
    intent.validate().map_err(RequestError::at("intent"))?;
    if let Some(id) = &intent.reference_exercise {
        // What a slot is measured against may be a movement of a gym.
        if catalogue.gym_movement(id).is_none() {
            find(catalogue, id, "intent.reference_exercise")?;
        }
    }
    Ok(())
}

pub(super) fn answer(catalogue: &Catalogue, request: &FitRequest) -> Result<FitAnswer, RequestError> {
    check_person(&request.client)?;
    let kit = kit_of(&request.place)?;
    check_intent(catalogue, &request.intent)?;
    check_history(catalogue, &request.history)?;
    for (id, _) in request.track_record.movements() {
        find(catalogue, id, "track_record")?;
    }
    let limit = match request.limit {
        Some(0) => return Err(RequestError::new("limit", "must be at least 1")),
        limit => usize::from(limit.unwrap_or(20)),
    };
    let found = fit::fit(
        catalogue,
        &FitQuestion {
            history: &request.history,
            method: request.method,
            record: &request.track_record,
            ..FitQuestion::plain(&request.client, &kit, &request.intent)
        },
    );
    let excluded = found.excluded.iter().map(|e| ExcludedAnswer {
        exercise: e.movement.id.clone(),
        why: e.why.iter().map(|w| WhyAnswer { code: w.code(), text: w.to_string() }).collect(),
    });
    Ok(FitAnswer {
        candidates: found
            .candidates
            .iter()
            .take(limit)
            .map(|c| candidate(c, catalogue, &request.client, &kit))
            .collect(),
        excluded: excluded.collect(),
        notes: told(&found.notes),
    })
}

pub(super) fn candidate(
    found: &Candidate<'_>,
    catalogue: &Catalogue,
    person: &Person,
    kit: &[KitItem],
) -> CandidateAnswer {
    let (movement, step) = (found.movement, found.step());
    let mut regions = movement.direct.clone();
    for (region, weight) in &movement.assisting {
        regions.entry(*region).or_insert(0.5 * weight);
    }
    CandidateAnswer {
        exercise: movement.id.clone(),
        name: movement.name.clone(),
        pattern: movement.pattern,
        implements: step.implements.clone(),
        regions,
        arm_position: movement.arm_position,
        unilateral: movement.unilateral(),
        setup: step.setup,
        setup_text: step.setup.text(),
        score: found.score,
        parts: found.parts,
        kept: told(&found.kept),
        lost: told(&found.lost),
        start: StartAnswer {
            label: step.label.clone(),
            effective_kg: step.effective_kg.value(),
            low_kg: found.start.low.value(),
            high_kg: found.start.high.value(),
            expected_reps: (movement.style != Style::Hold).then(|| found.start.expected_reps()),
            basis: found.start.basis.id().to_owned(),
        },
        curves: found.curves(person).map(|c| CurvesAnswer {
            shoulder: c.shoulder.map(|thirds| JointAnswer { thirds, part: 1.0 - c.elbow_part }),
            elbow: c.elbow.map(|thirds| JointAnswer { thirds, part: c.elbow_part }),
        }),
        prescription: found.prescription.clone(),
        easier: movement.easier.clone(),
        harder: movement.harder.clone(),
        cautions: cautions(catalogue, movement, step, kit),
        reasons: told(&found.reasons),
        disputed: movement.disputed.iter().chain(&movement.views).cloned().collect(),
    }
}
