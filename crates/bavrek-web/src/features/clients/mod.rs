//! A client: who is this, and what is in the room?

mod forms;
mod views;

use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::strength::Ledger;
use bavrek_store::{clients, kit, sessions};
use serde::Deserialize;
use uuid::Uuid;

use self::forms::KitForm;
use self::views::Page;
use super::scene::Scene;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;
use bavrek_store::TrainerId;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}", get(show))
        .route("/clients/{client}/places/{place}/kit", post(add_kit))
        .route("/clients/{client}/places/{place}/kit/{item}/remove", post(remove_kit))
        .route("/clients/{client}/places/{place}/kit/{item}/restore", post(restore_kit))
}

#[derive(Deserialize)]
struct Shown {
    place: Option<Uuid>,
    /// The piece just removed, which can come back.
    removed: Option<Uuid>,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    Query(shown): Query<Shown>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    page(&app, trainer, client, shown.place, shown.removed, KitForm::default(), chrome).await
}

async fn page(
    app: &App,
    trainer: TrainerId,
    client: Uuid,
    place: Option<Uuid>,
    removed: Option<Uuid>,
    form: KitForm,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let places = clients::places(&app.pool, trainer, client).await?;
    let chosen = match place {
        Some(id) => places.iter().find(|p| p.id == id).ok_or(WebError::NotFound)?,
        None => places.first().ok_or(WebError::NotFound)?,
    };
    let scene = Scene::at(app, trainer, client, chosen.id).await?;
    let pieces = kit::pieces(&app.pool, trainer, chosen.id).await?;
    let planned = sessions::of_client(&app.pool, trainer, client).await?;
    let history = scene.history();
    let ledger = Ledger::replay(&app.catalogue, &scene.person, &history, Some(scene.today));
    let chrome = chrome.titled(scene.client.name.clone());
    Ok(Page::new(chrome, app, &scene, &places, &pieces, &planned, &ledger, removed, &form))
}

async fn add_kit(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    own_place(&app, trainer, client, place).await?;
    let id = fields.id("id")?;
    match KitForm::read(&fields) {
        Ok(item) => {
            kit::add(&app.pool, trainer, place, id, &item).await?;
            Ok(Redirect::to(&format!("/clients/{client}?place={place}#kit")).into_response())
        }
        Err(form) => {
            let page = page(&app, trainer, client, Some(place), None, form, chrome).await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

async fn remove_kit(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place, item)): Ids<(Uuid, Uuid, Uuid)>,
) -> Result<Redirect, WebError> {
    own_place(&app, trainer, client, place).await?;
    kit::remove(&app.pool, trainer, place, item).await?;
    Ok(Redirect::to(&format!("/clients/{client}?place={place}&removed={item}#kit")))
}

async fn restore_kit(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place, item)): Ids<(Uuid, Uuid, Uuid)>,
) -> Result<Redirect, WebError> {
    own_place(&app, trainer, client, place).await?;
    kit::restore(&app.pool, trainer, place, item).await?;
    Ok(Redirect::to(&format!("/clients/{client}?place={place}#kit")))
}

async fn own_place(app: &App, trainer: TrainerId, client: Uuid, place: Uuid) -> Result<(), WebError> {
    let head = clients::place(&app.pool, trainer, place).await?;
    if head.client_id == client { Ok(()) } else { Err(WebError::NotFound) }
}
