//! The swap bench: what else does this job here?

mod views;

use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::calendar::Turn;
use bavrek_core::fit::{FitAnswer, PutAside};
use bavrek_core::kit::KitItem;
use bavrek_core::ranges;
use bavrek_store::fits::{self, NewFit};
use bavrek_store::slots::Slot;
use bavrek_store::{TrainerId, connection, kit, new_id, plans, put_aside};
use serde::Deserialize;
use uuid::Uuid;

use self::views::Page;
use super::scene::{self, Around, Scene};
use super::typed::Typed;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

/// Longest reason to put a movement aside.
const LONGEST_REASON: usize = 300;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/slots/{slot}/bench", get(show))
        .route("/slots/{slot}/fit", post(take))
        .route("/slots/{slot}/aside", post(aside))
        .route("/slots/{slot}/take-back", post(take_back))
        .route("/slots/{slot}/anchor", post(move_anchor))
}

/// What the address asks to see.
#[derive(Debug, Clone, Deserialize, Default)]
struct Asked {
    /// The candidate that is drawn.
    pick: Option<String>,
    /// The candidate to compare it with.
    beside: Option<String>,
    /// Only candidates with this implement.
    #[serde(default)]
    with: String,
    /// A movement whose place is to be explained, as typed.
    #[serde(default)]
    why: String,
    /// The movement that was just put aside.
    #[serde(default)]
    aside: String,
    /// A reason to put a movement aside that could not be taken.
    #[serde(skip)]
    refused: Option<Typed>,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(slot): Ids,
    Query(asked): Query<Asked>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    bench(&app, trainer, slot, &asked, chrome).await
}

async fn bench(app: &App, trainer: TrainerId, slot: Uuid, asked: &Asked, chrome: Chrome) -> Result<Page, WebError> {
    let (placed, mut scene) = scene::of_slot(app, trainer, slot).await?;
    let chrome = scene.frame(chrome);
    let mut own = connection(&app.pool).await?;
    let current = fits::of_slot(&mut *own, trainer, slot, scene.place_head.id).await?;
    let around = Around::over(&mut own, trainer, &placed.session).await?;
    let planned = plans::of_client(&mut *own, trainer, scene.client.id).await?.is_some();
    drop(own);
    let current = current.map(|fit| scene.now(app, fit));
    let answer = answer(app, &scene, &placed.slot, &around);
    let mut page = Page::new(chrome, app, &placed, &scene, current.as_ref(), &answer, asked);
    page.alternates = planned && current.is_some();
    Ok(page)
}

/// What does the job of a slot here, beside what alternates with it and after what comes before.
fn answer<'a>(app: &'a App, scene: &Scene, slot: &Slot, around: &Around) -> FitAnswer<'a> {
    let beside = around.beside(slot.id);
    scene.fit_here(app, &slot.intent, &scene::mates(app, &beside)).after(&around.before(app, slot.id))
}

/// Puts a candidate in force. It is computed again, so that only what does the job here can be taken.
async fn take(Mine(app): Mine, Me(trainer): Me, Ids(slot): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let (placed, scene) = scene::of_slot(&app, trainer, slot).await?;
    let around = Around::of(&app, trainer, &placed.session).await?;
    let answer = answer(&app, &scene, &placed.slot, &around);
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
        pinned: false,
    };
    match Turn::from_id(fields.text("turn")) {
        Some(turn) => fits::take_for(&app.pool, trainer, &new, turn).await?,
        None => fits::take(&app.pool, trainer, &new).await?,
    };
    Ok(Redirect::to(&format!("/sessions/{}?pick={slot}#slot-{slot}", placed.session.id)))
}

/// Puts a movement aside for the client, with the reason.
async fn aside(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(slot): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let movement = app.catalogue.movement(fields.text("exercise")).ok_or(WebError::NotFound)?;
    let mut typed = Typed::of(&fields);
    let reason = typed.needed("reason", LONGEST_REASON);
    if !typed.fine() {
        let asked = Asked { pick: Some(movement.id.clone()), refused: Some(typed), ..Asked::default() };
        let page = bench(&app, trainer, slot, &asked, chrome).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    let placed = bavrek_store::slots::one(&app.pool, trainer, slot).await?;
    let aside = PutAside { exercise: movement.id.clone(), reason };
    put_aside::put(&app.pool, trainer, placed.session.client_id, new_id(), &aside).await?;
    Ok(Redirect::to(&format!("/slots/{slot}/bench?aside={}", movement.id)).into_response())
}

/// An anchor of the room that can be at one more height, which is what moving it means: whatever uses it elsewhere stays.
async fn move_anchor(Mine(app): Mine, Me(trainer): Me, Ids(slot): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let (placed, scene) = scene::of_slot(&app, trainer, slot).await?;
    let mut typed = Typed::of(&fields);
    let height = typed.number("height", ranges::HANGING_HEIGHT).ok_or(WebError::bad("height", "must be 0 to 3.5 m"))?;
    let pieces = kit::pieces(&app.pool, trainer, scene.place_head.id).await?;
    let found = pieces.into_iter().find_map(|p| match p.item {
        KitItem::Anchor(anchor) if !anchor.is_in_door() && anchor.can_move() => Some((p.id, anchor)),
        _ => None,
    });
    let (piece, anchor) = found.ok_or(WebError::bad("height", "no anchor here can be moved"))?;
    if !anchor.reaches(height) {
        let moved = KitItem::Anchor(anchor.with_height(height));
        moved.validate().map_err(|e| WebError::bad("height", e.message))?;
        kit::replace(&app.pool, trainer, scene.place_head.id, piece, fields.id("id")?, &moved).await?;
    }
    Ok(Redirect::to(&format!("/slots/{}/bench", placed.slot.id)))
}

async fn take_back(Mine(app): Mine, Me(trainer): Me, Ids(slot): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let placed = bavrek_store::slots::one(&app.pool, trainer, slot).await?;
    let movement = app.catalogue.movement(fields.text("exercise")).ok_or(WebError::NotFound)?;
    put_aside::take_back(&app.pool, trainer, placed.session.client_id, &movement.id).await?;
    Ok(Redirect::to(&format!("/slots/{slot}/bench?pick={}", movement.id)))
}
