//! The swap bench: what else does this job here?

mod views;

use axum::Router;
use axum::extract::Query;
use axum::response::Redirect;
use axum::routing::{get, post};
use bavrek_core::fit::{FitAnswer, FitQuestion, fit};
use bavrek_core::plan::Intent;
use bavrek_store::fits::{self, NewFit};
use serde::Deserialize;

use self::views::Page;
use super::scene::{self, Scene};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/slots/{slot}/bench", get(show)).route("/slots/{slot}/fit", post(take))
}

#[derive(Deserialize)]
struct Picked {
    pick: Option<String>,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(slot): Ids,
    Query(picked): Query<Picked>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let (placed, mut scene) = scene::of_slot(&app, trainer, slot).await?;
    let chrome = scene.frame(chrome);
    let current = fits::of_slot(&app.pool, trainer, slot, scene.place_head.id).await?;
    let answer = answer(&app, &scene, &placed.slot.intent);
    Ok(Page::new(chrome, &app, &placed, &scene, current.as_ref(), &answer, picked.pick.as_deref()))
}

/// What does the job of an intent at the scene's place.
fn answer<'a>(app: &'a App, scene: &Scene, intent: &Intent) -> FitAnswer<'a> {
    let history = scene.history();
    let question = FitQuestion {
        history: &history,
        today: Some(scene.today),
        ..FitQuestion::plain(&scene.person, &scene.place.kit, intent)
    };
    fit(&app.catalogue, &question)
}

/// Puts a candidate in force. It is computed again, so that only what does the job here can be taken.
async fn take(Mine(app): Mine, Me(trainer): Me, Ids(slot): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let (placed, scene) = scene::of_slot(&app, trainer, slot).await?;
    let answer = answer(&app, &scene, &placed.slot.intent);
    let wanted = fields.text("exercise");
    let candidate =
        answer.candidates.iter().find(|c| c.movement.id == wanted).ok_or_else(|| {
            WebError::bad("exercise", "does not do this job here; the kit or a limit may have changed")
        })?;
    let new = NewFit {
        slot_id: slot,
        place_id: scene.place_head.id,
        exercise: &candidate.movement.id,
        step: candidate.step(),
        prescription: &candidate.prescription,
    };
    fits::take(&app.pool, trainer, &new).await?;
    Ok(Redirect::to(&format!("/sessions/{}#slot-{slot}", placed.session.id)))
}
