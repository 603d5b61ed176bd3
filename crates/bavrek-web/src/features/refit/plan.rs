//! What is moved where, and what each slot is answered with there.

use bavrek_core::fit::{Candidate, Fitter, Room};
use bavrek_store::fits::{self, Fit};
use bavrek_store::places::{self, PlaceHead};
use bavrek_store::sessions::{self, SessionHead, Slot};
use bavrek_store::{StoreError, TrainerId};
use uuid::Uuid;

use crate::error::WebError;
use crate::features::scene::Scene;
use crate::state::App;

/// Choices offered for a slot.
const MOST_CHOICES: usize = 5;
/// A movement that is known already is kept where it scores at least this share of the best.
const AS_GOOD: f64 = 0.93;

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
        let heads = match only {
            Some(id) => vec![sessions::head(&app.pool, trainer, id).await?],
            None => sessions::at_place(&app.pool, trainer, from.id).await?,
        };
        let mut moved = Vec::new();
        for head in heads {
            if head.client_id != client {
                return Err(StoreError::NotFound.into());
            }
            let mut today = fits::of_session(&app.pool, trainer, head.id, from.id).await?;
            let mut before = fits::of_session(&app.pool, trainer, head.id, to).await?;
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

    /// What every slot is answered with, in the order of [`Self::slots`].
    pub(super) fn answers<'a>(&self, app: &'a App) -> Vec<There<'a>> {
        let history = self.scene.history();
        let room = Room {
            person: &self.scene.person,
            kit: &self.scene.place.kit,
            put_aside: &self.scene.put_aside,
            method: None,
        };
        let fitter = Fitter::new(&app.catalogue, room, &history, Some(self.scene.today));
        self.slots().map(|slot| There::of(&fitter, slot)).collect()
    }
}

/// Why a candidate is the one that is proposed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Because {
    /// It was taken there before, and still works.
    Before,
    /// It is pinned.
    Pinned,
    /// The movement goes on as it is.
    Same,
    /// It does the job best there.
    Best,
    /// Nothing does the job; this works a little of it.
    Nearest,
}

/// What a slot is answered with at the place.
pub(super) struct There<'a> {
    pub(super) candidates: Vec<Candidate<'a>>,
    /// The proposed one and why; none where nothing works there at all.
    pub(super) proposed: Option<(usize, Because)>,
    /// The fit that was taken there before and still works, by its movement.
    kept: Option<String>,
    /// A pinned movement that is impossible there.
    pub(super) unpinned: Option<String>,
}

impl<'a> There<'a> {
    fn of(fitter: &Fitter<'a, '_>, slot: &MovedSlot) -> Self {
        let mut candidates = fitter.fit(&slot.slot.intent).candidates;
        let at = |id: Option<&str>| candidates.iter().position(|c| Some(c.movement.id.as_str()) == id);
        let before = at(slot.before.as_ref().map(|f| f.exercise.as_str()));
        let same = at(slot.today.as_ref().map(|f| f.exercise.as_str()));
        let pinned = slot.today.as_ref().filter(|f| f.pinned);
        let good = |i: &usize| candidates[*i].score >= AS_GOOD * candidates[0].score;
        let proposed = match (pinned.and(same), before) {
            (Some(i), _) => Some((i, Because::Pinned)),
            (None, Some(i)) => Some((i, Because::Before)),
            (None, None) => same.filter(good).map(|i| (i, Because::Same)),
        };
        let unpinned = pinned.filter(|_| same.is_none()).map(|f| f.exercise.clone());
        let kept = before.map(|i| candidates[i].movement.id.clone());
        let proposed = match proposed {
            None if candidates.is_empty() => {
                candidates.extend(fitter.nearest(&slot.slot.intent));
                (!candidates.is_empty()).then_some((0, Because::Nearest))
            }
            found => found.or(Some((0, Because::Best))),
        };
        Self { candidates, proposed, kept, unpinned }
    }

    /// Whether this choice leaves the fit in force that was taken there before.
    pub(super) fn keeps(&self, exercise: &str) -> bool {
        self.kept.as_deref() == Some(exercise)
    }

    pub(super) fn candidate(&self, exercise: &str) -> Option<&Candidate<'a>> {
        self.candidates.iter().find(|c| c.movement.id == exercise)
    }

    /// The candidates to choose from: the proposed one, and the best.
    pub(super) fn choices(&self) -> Vec<&Candidate<'a>> {
        let proposed = self.proposed.map(|(i, _)| i);
        let best = (0..self.candidates.len()).filter(|i| Some(*i) != proposed);
        proposed.into_iter().chain(best).take(MOST_CHOICES).map(|i| &self.candidates[i]).collect()
    }
}
