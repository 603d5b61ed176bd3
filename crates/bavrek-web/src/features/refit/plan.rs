//! What is moved where, and what each slot is answered with there.

use std::collections::BTreeMap;

use bavrek_core::fit::{Candidate, Fitter, Known, Refit};
use bavrek_core::method::Method;
use bavrek_store::fits::{self, Fit};
use bavrek_store::places::{self, PlaceHead};
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::slots::Slot;
use bavrek_store::{StoreError, TrainerId};
use uuid::Uuid;

use crate::error::WebError;
use crate::features::rooms::Rooms;
use crate::features::scene::Scene;
use crate::state::App;

/// Choices offered for a slot.
const MOST_CHOICES: usize = 5;

/// The field that holds what is taken for a slot.
pub(super) fn choice(slot: Uuid) -> String {
    format!("take-{slot}")
}

/// Sessions on their way to a place.
pub(super) struct Move {
    /// The client at the place to go to.
    pub(super) scene: Scene,
    pub(super) from: PlaceHead,
    /// Every place of the client in use.
    pub(super) places: Vec<PlaceHead>,
    pub(super) sessions: Vec<Moved>,
    /// The session that was asked for alone.
    pub(super) only: Option<Uuid>,
}

/// A session with its slots.
pub(super) struct Moved {
    pub(super) head: SessionHead,
    pub(super) slots: Vec<MovedSlot>,
}

/// A slot with its fit at the place that is left and the one at the place to go to, where there was one.
pub(super) struct MovedSlot {
    pub(super) slot: Slot,
    pub(super) today: Option<Fit>,
    pub(super) before: Option<Fit>,
}

impl Move {
    pub(super) async fn load(
        app: &App,
        trainer: TrainerId,
        client: Uuid,
        from: Uuid,
        to: Uuid,
        only: Option<Uuid>,
    ) -> Result<Self, WebError> {
        let scene = Scene::at(app, trainer, client, to).await?;
        let from = places::one(&app.pool, trainer, from).await?;
        if from.client_id != client {
            return Err(StoreError::NotFound.into());
        }
        let mut places = places::of_client(&app.pool, trainer, client).await?;
        places.retain(|p| !p.archived || p.id == to || p.id == from.id);
        if scene.place_head.is_proposal() {
            places.push(scene.place_head.clone());
        }
        let heads = match only {
            Some(id) => vec![sessions::head(&app.pool, trainer, id).await?],
            None => sessions::at_place(&app.pool, trainer, from.id).await?,
        };
        let rooms = Rooms::of(app, trainer, &[from.id, to]).await?;
        let mut moved = Vec::new();
        for head in heads {
            if head.client_id != client {
                return Err(StoreError::NotFound.into());
            }
            let (today, before) = tokio::try_join!(
                fits::of_session(&app.pool, trainer, head.id, from.id),
                fits::of_session(&app.pool, trainer, head.id, to),
            )?;
            let now = |fits: BTreeMap<Uuid, Fit>| {
                fits.into_iter()
                    .map(|(line, fit)| (line, rooms.now(app, &scene.person, fit)))
                    .collect::<BTreeMap<_, _>>()
            };
            let (mut today, mut before) = (now(today), now(before));
            let blocks = sessions::blocks(&app.pool, trainer, head.id).await?;
            let slots = blocks.into_iter().flat_map(|b| b.slots).map(|slot| MovedSlot {
                today: today.remove(&slot.id),
                before: before.remove(&slot.id),
                slot,
            });
            moved.push(Moved { slots: slots.collect(), head });
        }
        Ok(Self { scene, from, places, sessions: moved, only })
    }

    pub(super) fn slots(&self) -> impl Iterator<Item = &MovedSlot> {
        self.sessions.iter().flat_map(|s| &s.slots)
    }

    /// What every slot is answered with, in the order of [`Self::slots`]. Sessions of one school share a fitter.
    pub(super) fn answers<'a>(&self, app: &'a App) -> Vec<Refit<'a>> {
        let mut fitters: BTreeMap<Option<Method>, Fitter<'a, '_>> = BTreeMap::new();
        let mut answers = Vec::new();
        for session in &self.sessions {
            let method = session.head.method;
            let fitter = fitters.entry(method).or_insert_with(|| self.scene.fitter_by(app, method));
            answers.extend(session.slots.iter().map(|slot| slot.refit(fitter)));
        }
        answers
    }
}

impl MovedSlot {
    fn refit<'a>(&self, fitter: &Fitter<'a, '_>) -> Refit<'a> {
        let known = Known {
            today: self.today.as_ref().map(|f| (f.exercise.as_str(), f.pinned)),
            before: self.before.as_ref().map(|f| (f.exercise.as_str(), &f.step)),
        };
        fitter.refit(&self.slot.intent, &known)
    }

    /// The fit that was taken there before, where choosing this movement leaves it in force.
    pub(super) fn kept(&self, there: &Refit<'_>, exercise: &str) -> Option<&Fit> {
        self.before.as_ref().filter(|f| there.stands && f.exercise == exercise)
    }
}

/// The candidates to choose from: the proposed one, and the best.
pub(super) fn choices<'c, 'a>(there: &'c Refit<'a>) -> Vec<&'c Candidate<'a>> {
    let proposed = there.proposed.map(|(i, _)| i);
    let best = (0..there.candidates.len()).filter(|i| Some(*i) != proposed);
    proposed.into_iter().chain(best).take(MOST_CHOICES).map(|i| &there.candidates[i]).collect()
}
