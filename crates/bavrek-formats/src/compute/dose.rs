//! `dose`: a dose written in one line, read with its gaps.

use bavrek_core::dose::notation::{self, Usual, Written};
use bavrek_core::dose::{Part, Relation, SetKind, Tempo};
use bavrek_core::movement::Catalogue;
use bavrek_core::ranges::RangeError;
use bavrek_core::reading::resolve;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::RequestError;

/// What is asked.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct DoseRequest {
    text: String,
}

/// What is answered. What the line does not state is absent from the sets, never filled in.
#[derive(Debug, Clone, Serialize, JsonSchema)]
pub struct DoseAnswer {
    prescription: StatedPrescription,
    /// The canonical line.
    text: String,
    /// `tempo`, `rest`, `reserve`, `load`.
    not_stated: Vec<String>,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
pub(super) struct StatedPrescription {
    sets: Vec<StatedSet>,
    /// What the load is compared with.
    #[serde(skip_serializing_if = "Option::is_none")]
    relation: Option<Relation>,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct StatedSet {
    kind: SetKind,
    #[serde(skip_serializing_if = "Option::is_none")]
    reps: Option<[u16; 2]>,
    #[serde(skip_serializing_if = "Option::is_none")]
    seconds: Option<u16>,
    #[serde(skip_serializing_if = "Option::is_none")]
    total: Option<u16>,
    #[serde(skip_serializing_if = "Option::is_none")]
    max: Option<bool>,
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    parts: Vec<Part>,
    #[serde(skip_serializing_if = "Option::is_none")]
    tempo: Option<Tempo>,
    #[serde(skip_serializing_if = "Option::is_none")]
    rir: Option<u8>,
    #[serde(skip_serializing_if = "Option::is_none")]
    rest_s: Option<u16>,
    /// Steps above the line's own on which it is done; below it where negative.
    #[serde(skip_serializing_if = "Option::is_none")]
    step: Option<i8>,
}

pub(super) fn answer(catalogue: &Catalogue, request: &DoseRequest) -> Result<DoseAnswer, RequestError> {
    let wrong = |e: RangeError| RequestError::new(e.path, e.message);
    let mut written = notation::read(&request.text).map_err(wrong)?;
    written.relation = written.relation.map(|relation| resolve(catalogue, relation)).transpose().map_err(wrong)?;
    Ok(DoseAnswer {
        prescription: stated(&written),
        text: written.text(),
        not_stated: written.not_stated().into_iter().map(str::to_owned).collect(),
    })
}

/// What a line states, and nothing else.
pub(super) fn stated(written: &Written) -> StatedPrescription {
    // Only what was stated is passed on; what stands in for the rest is dropped below.
    let filled = written.filled(Usual { tempo: Tempo::USUAL, rir: 0, rest_s: 0 });
    let last = filled.sets.len().saturating_sub(1);
    let sets = filled.sets.into_iter().enumerate().map(|(i, set)| {
        let own = if i == last { written.last_rir.or(written.rir) } else { written.rir };
        StatedSet {
            kind: set.kind,
            reps: set.reps,
            seconds: set.seconds,
            total: set.total,
            max: set.max,
            parts: set.parts,
            tempo: written.tempo,
            rir: own,
            rest_s: written.rest_s,
            step: (set.step != 0).then_some(set.step),
        }
    });
    StatedPrescription { sets: sets.collect(), relation: written.relation.clone() }
}
