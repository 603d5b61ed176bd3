//! `read`: a session or week as people write it, with the movements that may be meant, their doses, and what is missing.

use bavrek_core::dose::{Dose, PerHand};
use bavrek_core::fit::{Fitter, Room, ruled_out};
use bavrek_core::kit::{KitItem, Place};
use bavrek_core::ladder::{lacking, needs};
use bavrek_core::movement::Catalogue;
use bavrek_core::person::Person;
use bavrek_core::plan::BlockKind;
use bavrek_core::reading::{self, Names, Stamp, WrittenLoad, WrittenSlot};
use bavrek_core::reference::Named;
use bavrek_core::units::MassUnit;
use bavrek_core::wording::told;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::dose::{StatedPrescription, stated};
use super::parts::{check_person, kit_of};
use crate::RequestError;
use crate::written::{self, Format};

/// Most movements that are offered in place of one.
const MOST_SUBSTITUTES: usize = 3;

/// What is asked.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct ReadRequest {
    text: String,
    /// Told by how the text begins where it is left out.
    #[serde(default)]
    format: Option<Format>,
    #[serde(default)]
    client: Option<Person>,
    #[serde(default)]
    place: Option<Place>,
}

/// What is answered.
#[derive(Debug, Clone, Serialize, JsonSchema)]
pub struct ReadAnswer {
    sessions: Vec<SessionAnswer>,
    unread: Vec<UnreadAnswer>,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct SessionAnswer {
    #[serde(skip_serializing_if = "Option::is_none")]
    name: Option<String>,
    slots: Vec<SlotAnswer>,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct UnreadAnswer {
    line: usize,
    text: String,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct SlotAnswer {
    /// The line it was written in, and its number.
    written: String,
    line: usize,
    /// The movement of the catalogue that is meant, where one is surely enough.
    #[serde(skip_serializing_if = "Option::is_none")]
    exercise: Option<String>,
    /// The movement of a gym that is meant.
    #[serde(skip_serializing_if = "Option::is_none")]
    reference: Option<String>,
    /// What may be meant, surest first.
    matches: Vec<MatchAnswer>,
    #[serde(skip_serializing_if = "Option::is_none")]
    prescription: Option<StatedPrescription>,
    #[serde(skip_serializing_if = "Option::is_none")]
    load: Option<LoadAnswer>,
    not_stated: Vec<String>,
    /// A number shared by slots that are done together.
    #[serde(skip_serializing_if = "Option::is_none")]
    block: Option<usize>,
    #[serde(skip_serializing_if = "Option::is_none")]
    block_kind: Option<BlockKind>,
    /// Where it may be left out: how many such lines are enough, 0 being any number.
    #[serde(skip_serializing_if = "Option::is_none")]
    optional: Option<u8>,
    /// Kinds of kit that it needs, the usual one of each.
    needs: Vec<String>,
    /// Those of them that the place has not.
    #[serde(skip_serializing_if = "Option::is_none")]
    missing_kit: Option<Vec<String>>,
    /// Why it is not for this client in this place.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    ruled_out: Vec<String>,
    /// What does its job here, where it is ruled out or only a movement of a gym is meant.
    substitutes: Vec<SubstituteAnswer>,
    /// What was understood otherwise than it stands there, and what else stands there.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    remarks: Vec<String>,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct MatchAnswer {
    id: String,
    confidence: f64,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct SubstituteAnswer {
    exercise: String,
    score: f64,
}

/// What a written load is.
#[derive(Debug, Clone, Copy, Serialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
enum LoadKind {
    /// On a weight.
    Stamped,
    /// Added to the body.
    Added,
    /// A share of the maximum.
    OfMaximum,
    /// The body alone.
    Body,
}

#[derive(Debug, Clone, Serialize, JsonSchema)]
struct LoadAnswer {
    kind: LoadKind,
    /// The figure on the weight; of a share, percent.
    #[serde(skip_serializing_if = "Option::is_none")]
    value: Option<f64>,
    #[serde(skip_serializing_if = "Option::is_none")]
    unit: Option<MassUnit>,
    /// Each hand or in total, where it is stated.
    #[serde(skip_serializing_if = "Option::is_none")]
    per: Option<PerHand>,
}

impl From<WrittenLoad> for LoadAnswer {
    fn from(load: WrittenLoad) -> Self {
        let bare = |kind, value| Self { kind, value, unit: None, per: None };
        let of = |kind, Stamp { value, unit, per }| Self { kind, value: Some(value), unit: Some(unit), per };
        match load {
            WrittenLoad::Stamped(stamp) => of(LoadKind::Stamped, stamp),
            WrittenLoad::Added(stamp) => of(LoadKind::Added, stamp),
            WrittenLoad::OfMaximum(percent) => bare(LoadKind::OfMaximum, Some(f64::from(percent))),
            WrittenLoad::Body => bare(LoadKind::Body, None),
        }
    }
}

/// Who trains where; a default figure where only the place was given.
struct Here<'a> {
    person: Person,
    kit: Option<Vec<KitItem>>,
    catalogue: &'a Catalogue,
}

pub(super) fn answer(catalogue: &Catalogue, request: &ReadRequest) -> Result<ReadAnswer, RequestError> {
    if let Some(person) = &request.client {
        check_person(person)?;
    }
    let kit = request.place.as_ref().map(kit_of).transpose()?;
    let lines = written::lines(&request.text, request.format)?;
    let plan = reading::read_lines(&Names::of(catalogue), lines);
    let here = Here { person: request.client.clone().unwrap_or_else(Person::default_figure), kit, catalogue };
    let room = here.kit.as_ref().map(|kit| Fitter::new(catalogue, Room::plain(&here.person, kit), &[], None));
    let sessions = plan.sessions.iter().map(|session| SessionAnswer {
        name: session.name.clone(),
        slots: session.slots.iter().map(|slot| here.slot(slot, room.as_ref())).collect(),
    });
    Ok(ReadAnswer {
        sessions: sessions.collect(),
        unread: plan.unread.iter().map(|u| UnreadAnswer { line: u.number, text: u.text.clone() }).collect(),
    })
}

impl Here<'_> {
    fn slot(&self, slot: &WrittenSlot<'_>, room: Option<&Fitter<'_, '_>>) -> SlotAnswer {
        let (exercise, reference) = reading::chosen(&slot.matches);
        let movement = exercise.and_then(|id| self.catalogue.movement(id));
        let usual = |found: Vec<Vec<&'static str>>| found.iter().map(|need| need[0].to_owned()).collect::<Vec<_>>();
        let missing = self.kit.as_ref().map(|kit| movement.map(|m| usual(lacking(m, kit))).unwrap_or_default());
        let why = match (movement, &self.kit) {
            (Some(movement), Some(kit)) => ruled_out(movement, &self.person, kit),
            _ => Vec::new(),
        };
        let needed = movement.is_none() || !why.is_empty();
        let named = exercise.or(reference).filter(|_| needed).and_then(|id| Named::find(self.catalogue, id));
        let substitutes = named.zip(room).map_or_else(Vec::new, |(named, room)| {
            let found = room.fit(&named.intent(&self.person, &Dose::USUAL));
            let best = found.candidates.iter().take(MOST_SUBSTITUTES);
            best.map(|c| SubstituteAnswer { exercise: c.movement.id.clone(), score: c.score }).collect()
        });
        SlotAnswer {
            written: slot.written.clone(),
            line: slot.number,
            exercise: exercise.map(str::to_owned),
            reference: reference.map(str::to_owned),
            matches: slot
                .matches
                .iter()
                .map(|m| MatchAnswer { id: m.id.to_owned(), confidence: m.confidence })
                .collect(),
            prescription: slot.dose.as_ref().map(stated),
            load: slot.load.map(LoadAnswer::from),
            not_stated: slot.not_stated.iter().map(|&w| w.to_owned()).collect(),
            block: slot.block,
            block_kind: slot.kind,
            optional: slot.optional,
            needs: movement.map(|m| usual(needs(m))).unwrap_or_default(),
            missing_kit: missing,
            ruled_out: told(&why),
            substitutes,
            remarks: slot.remarks.iter().chain(&slot.notes).cloned().collect(),
        }
    }
}
