//! The session on the phone: what now? One set at a time, logged in two taps.

mod forms;
mod views;

use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::anatomy::Joint;
use bavrek_core::log::LoggedSet;
use bavrek_core::person::Side;
use bavrek_store::fits::{self, Fit};
use bavrek_store::log::{self, NewSet, RecordedSet};
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::slots::Slot;
use bavrek_store::{TrainerId, spot_swaps};
use serde::Deserialize;
use uuid::Uuid;

use self::forms::SetForm;
use self::views::{Instead, Page, Turn};
use super::scene::Scene;
use super::sessions::expected_sets;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/sessions/{session}/train", get(show).post(log_set))
}

#[derive(Deserialize, Default)]
struct Shown {
    /// A slot other than the next one.
    slot: Option<Uuid>,
    /// A set to correct.
    correct: Option<Uuid>,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    Query(shown): Query<Shown>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let mut floor = Floor::load(&app, trainer, session).await?;
    let chrome = floor.scene.frame(chrome);
    let correcting = match shown.correct {
        Some(id) => Some(floor.scene.log.iter().find(|r| r.id == id).ok_or(WebError::NotFound)?.clone()),
        None => None,
    };
    let slot = shown.slot.or(correcting.as_ref().and_then(|r| r.slot_id));
    floor.page(&app, chrome, slot, correcting.as_ref(), None)
}

/// A session in progress.
struct Floor {
    session: SessionHead,
    scene: Scene,
    turns: Vec<Turn>,
}

impl Floor {
    async fn load(app: &App, trainer: TrainerId, session: Uuid) -> Result<Self, WebError> {
        let head = sessions::head(&app.pool, trainer, session).await?;
        let scene = Scene::load(app, trainer, &head).await?;
        let mut fits = fits::of_session(&app.pool, trainer, session, head.place_id).await?;
        let mut swaps = spot_swaps::of_session(&app.pool, trainer, session, head.place_id, scene.today).await?;
        let slots: Vec<Slot> =
            sessions::blocks(&app.pool, trainer, session).await?.into_iter().flat_map(|b| b.slots).collect();
        let turns = slots
            .into_iter()
            .filter_map(|slot| {
                let fit = fits.remove(&slot.id)?;
                // A swap stands in for the fit it was made for, no other.
                let swap = swaps.remove(&slot.id).filter(|s| s.instead_of == fit.exercise);
                let (fit, swap) = match swap {
                    Some(swap) => {
                        let instead = Instead { of: fit.exercise.clone(), reason: swap.reason };
                        let (exercise, step, prescription) = (swap.exercise, swap.step, swap.prescription);
                        (Fit { exercise, step, prescription, ..fit }, Some(instead))
                    }
                    None => (fit, None),
                };
                let done: Vec<RecordedSet> = scene.done_today(slot.id).cloned().collect();
                let expected = expected_sets(app, &fit);
                Some(Turn { slot, fit, swap, done, expected })
            })
            .collect();
        Ok(Self { session: head, scene, turns })
    }

    fn turn(&self, slot: Uuid) -> Option<&Turn> {
        self.turns.iter().find(|t| t.slot.id == slot)
    }

    fn page(
        &self,
        app: &App,
        chrome: Chrome,
        slot: Option<Uuid>,
        correcting: Option<&RecordedSet>,
        form: Option<SetForm>,
    ) -> Result<Page, WebError> {
        let turn = match slot {
            Some(id) => Some(self.turn(id).ok_or(WebError::NotFound)?),
            None => self.turns.iter().find(|t| t.done.len() < t.expected && !t.is_stopped()),
        };
        Ok(Page::new(chrome, app, &self.session, &self.scene, &self.turns, turn, correcting, form))
    }
}

/// Where a logged set leads: on with the session, or, where it hurt, to what can be done without pain.
fn after(session: Uuid, slot: Uuid, set: &LoggedSet, stopped: bool) -> String {
    match set.pain_at.filter(|_| stopped || set.hurt()) {
        Some(joint) => pain_free(slot, joint, set.pain_side, set.pain),
        None => format!("/sessions/{session}/train"),
    }
}

/// The answers to a joint that hurts.
pub(super) fn pain_free(slot: Uuid, joint: Joint, side: Option<Side>, strength: Option<u8>) -> String {
    let side = side.map_or("", Side::id);
    let strength = strength.map_or_else(String::new, |n| n.to_string());
    format!("/slots/{slot}/spot?hurts={}&side={side}&pain={strength}", joint.id())
}

/// Appends a set. The identifier comes from the form: sent twice, it is stored once.
async fn log_set(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let mut floor = Floor::load(&app, trainer, session).await?;
    let chrome = floor.scene.frame(chrome);
    let slot = fields.id("slot")?;
    let turn = floor.turn(slot).ok_or(WebError::NotFound)?;
    let id = fields.id("id")?;
    let supersedes = if fields.text("supersedes").is_empty() { None } else { Some(fields.id("supersedes")?) };
    let corrected = match supersedes {
        // A correction that was sent twice finds the corrected set superseded already; the append below decides.
        Some(old) => floor.scene.log.iter().find(|r| r.id == old || r.id == id).cloned(),
        None => None,
    };
    if supersedes.is_some() && corrected.as_ref().is_none_or(|r| r.slot_id != Some(slot)) {
        return Err(WebError::NotFound);
    }
    match SetForm::read(&fields, turn, floor.scene.today, corrected.as_ref().map(|r| &r.set)) {
        Ok(set) => {
            let new = NewSet {
                id,
                client_id: floor.scene.client.id,
                slot_id: slot,
                place_id: floor.scene.place_head.id,
                position: corrected.as_ref().map_or(turn.done.len() as i16 + 1, |r| r.position),
                effective: set.effective_kg.unwrap_or(turn.fit.step.effective_kg),
                set: &set,
                supersedes,
            };
            log::append(&app.pool, trainer, &new).await?;
            let stopped = !fields.text("stop").is_empty();
            Ok(Redirect::to(&after(session, slot, &set, stopped)).into_response())
        }
        Err(form) => {
            let page = floor.page(&app, chrome, Some(slot), corrected.as_ref(), Some(*form))?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}
