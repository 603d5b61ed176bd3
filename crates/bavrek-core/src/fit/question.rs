//! What a fit is asked for, and in which room.

use chrono::NaiveDate;

use super::beside::Mate;
use super::exclude::PutAside;
use super::leanings::Leanings;
use super::weights::Weights;
use crate::across::{NO_RECORD, TrackRecord};
use crate::kit::KitItem;
use crate::log::LoggedSet;
use crate::method::Method;
use crate::person::Person;
use crate::plan::Intent;

/// What a fit is asked for.
#[derive(Debug, Clone, Copy)]
pub struct FitQuestion<'a> {
    /// Who trains.
    pub person: &'a Person,
    /// What the room holds.
    pub kit: &'a [KitItem],
    /// What the slot is for.
    pub intent: &'a Intent,
    /// What was done before.
    pub history: &'a [LoggedSet],
    /// Sets after this day are left out.
    pub today: Option<NaiveDate>,
    /// Movements that the trainer put aside for this client.
    pub put_aside: &'a [PutAside],
    /// The school in force; none weighs as usual.
    pub method: Option<Method>,
    /// How the trainer weighs the parts of a score.
    pub weights: Weights,
    /// What the trainer has decided where schools differ.
    pub leanings: Leanings,
    /// How movements went with the trainer's clients, where that is to count.
    pub record: &'a TrackRecord,
    /// What the block's other slots are done with, where they alternate with this one.
    pub beside: &'a [Mate<'a>],
}

impl<'a> FitQuestion<'a> {
    /// The question without a log, with nothing put aside, and alone in its block.
    pub const fn plain(person: &'a Person, kit: &'a [KitItem], intent: &'a Intent) -> Self {
        Self {
            person,
            kit,
            intent,
            history: &[],
            today: None,
            put_aside: &[],
            method: None,
            weights: Weights::USUAL,
            leanings: Leanings::NONE,
            record: &NO_RECORD,
            beside: &[],
        }
    }

    /// All of it but the intent and the log.
    pub const fn room(&self) -> Room<'a> {
        let Self { person, kit, put_aside, method, weights, leanings, record, .. } = *self;
        Room { person, kit, put_aside, method, weights, leanings, record }
    }
}

/// Who trains with what: all of a fit question but the intent and the log.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Room<'a> {
    /// Who trains.
    pub person: &'a Person,
    /// What the room holds.
    pub kit: &'a [KitItem],
    /// Movements that the trainer put aside for this client.
    pub put_aside: &'a [PutAside],
    /// The school in force; none weighs as usual.
    pub method: Option<Method>,
    /// How the trainer weighs the parts of a score.
    pub weights: Weights,
    /// What the trainer has decided where schools differ.
    pub leanings: Leanings,
    /// How movements went with the trainer's clients, where that is to count.
    pub record: &'a TrackRecord,
}

impl<'a> Room<'a> {
    /// The room with nothing put aside, weighed as usual.
    pub const fn plain(person: &'a Person, kit: &'a [KitItem]) -> Self {
        Self {
            person,
            kit,
            put_aside: &[],
            method: None,
            weights: Weights::USUAL,
            leanings: Leanings::NONE,
            record: &NO_RECORD,
        }
    }
}
