//! The catalogue: every movement with its drawing, its numbers and its words; own movements are added from a copy.

mod forms;
mod gym;
mod list;
mod views;
mod wanted;

pub(in crate::features) use wanted::{gym_named, named};

use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::movement::Movement;
use bavrek_core::person::Person;
use bavrek_store::movements::MOST_OWN;
use bavrek_store::{TrainerId, connection, kit, movements, new_id, places};
use serde::Deserialize;
use uuid::Uuid;

use self::forms::OwnForm;
use self::list::ListPage;
use self::views::{FormPage, Page};
use self::wanted::{Room, Wanted, search};
use super::who::Who;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/catalogue", get(list))
        .route("/catalogue/gym", get(gym::list))
        .route("/catalogue/gym/{movement}", get(gym::show))
        .route("/catalogue/{movement}", get(show))
        .route("/catalogue/{movement}/copy", get(copy).post(save_copy))
        .route("/catalogue/{movement}/edit", get(edit).post(save_edit))
        .route("/catalogue/{movement}/preview", post(preview))
        .route("/catalogue/{movement}/archive", post(archive))
        .route("/catalogue/{movement}/restore", post(restore))
}

async fn list(
    Mine(app): Mine,
    Me(trainer): Me,
    Query(wanted): Query<Wanted>,
    chrome: Chrome,
) -> Result<ListPage, WebError> {
    let places = places::all(&app.pool, trainer).await?;
    let room = match wanted.place_id() {
        Some(place) => Some(room(&app, trainer, place).await?),
        None => None,
    };
    let person = room.as_ref().map_or_else(Person::default_figure, |r| r.person.clone());
    let found = search(&app, &wanted, room.as_ref());
    Ok(ListPage::new(chrome.titled("Catalogue"), &app, &wanted, &places, &person, &found))
}

async fn room(app: &App, trainer: TrainerId, place: Uuid) -> Result<Room, WebError> {
    let head = places::one(&app.pool, trainer, place).await?;
    let person = client_figure(app, trainer, head.client_id).await?;
    Ok(Room { person, kit: kit::place(&mut *connection(&app.pool).await?, trainer, &head).await?.kit })
}

async fn client_figure(app: &App, trainer: TrainerId, client: Uuid) -> Result<Person, WebError> {
    Ok(Who::load(app, trainer, client).await?.person)
}

#[derive(Deserialize)]
struct On {
    /// Whose proportions are drawn; a default figure's where it is empty.
    #[serde(default)]
    client: String,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(id): Ids<String>,
    Query(on): Query<On>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let movement = app.catalogue.movement(&id).ok_or(WebError::NotFound)?;
    let wanted = match on.client.as_str() {
        "" => None,
        text => Some(text.parse::<Uuid>().map_err(|_| WebError::NotFound)?),
    };
    let person = match wanted {
        Some(client) => client_figure(&app, trainer, client).await?,
        None => Person::default_figure(),
    };
    let figures = places::all(&app.pool, trainer).await?;
    Ok(Page::new(chrome.titled(movement.name.clone()), &app, movement, &person, wanted, &figures))
}

fn original<'a>(app: &'a App, id: &str) -> Result<&'a Movement, WebError> {
    app.catalogue.movement(id).ok_or(WebError::NotFound)
}

/// The row of an own movement; what ships cannot be changed.
fn own_row(id: &str) -> Result<Uuid, WebError> {
    movements::row_id(id).ok_or(WebError::NotFound)
}

async fn copy(Mine(app): Mine, Ids(id): Ids<String>, chrome: Chrome) -> Result<FormPage, WebError> {
    let base = original(&app, &id)?;
    let mut form = OwnForm::of(base);
    form.set_name(&format!("{}, own version", base.name));
    let chrome = chrome.titled(format!("Copy of {}", base.name));
    Ok(FormPage::new(chrome, &app, base, &form, Some(new_id())))
}

async fn edit(Mine(app): Mine, Ids(id): Ids<String>, chrome: Chrome) -> Result<FormPage, WebError> {
    own_row(&id)?;
    let base = original(&app, &id)?;
    let chrome = chrome.titled(base.name.clone());
    Ok(FormPage::new(chrome, &app, base, &OwnForm::of(base), None))
}

async fn save_copy(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(id): Ids<String>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let row = fields.id("id")?;
    save(&app, trainer, original(&app, &id)?, row, Some(row), chrome, &fields).await
}

async fn save_edit(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(id): Ids<String>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let row = own_row(&id)?;
    save(&app, trainer, original(&app, &id)?, row, None, chrome, &fields).await
}

async fn save(
    app: &App,
    trainer: TrainerId,
    base: &Movement,
    row: Uuid,
    fresh: Option<Uuid>,
    chrome: Chrome,
    fields: &Fields,
) -> Result<Response, WebError> {
    let mut form = OwnForm::typed(base, fields);
    if let Some(movement) = form.movement(&app.catalogue, base, &movements::movement_id(row)) {
        if movements::save(&app.pool, trainer, row, &movement).await? {
            return Ok(Redirect::to(&format!("/catalogue/{}", movement.id)).into_response());
        }
        form.refuse("name", format!("there are {MOST_OWN} movements of your own already: change one of them instead"));
    }
    let page = FormPage::new(chrome.titled(base.name.clone()), app, base, &form, fresh);
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

/// The form as typed with the drawing that follows from it; nothing is stored.
async fn preview(Mine(app): Mine, Ids(id): Ids<String>, chrome: Chrome, fields: Fields) -> Result<FormPage, WebError> {
    let base = original(&app, &id)?;
    let form = OwnForm::typed(base, &fields);
    let fresh = fields.text("id").parse().ok();
    Ok(FormPage::new(chrome.titled(base.name.clone()), &app, base, &form, fresh))
}

async fn archive(Mine(app): Mine, Me(trainer): Me, Ids(id): Ids<String>) -> Result<Redirect, WebError> {
    let row = own_row(&id)?;
    movements::archive(&app.pool, trainer, row, true).await?;
    Ok(Redirect::to(&format!("/catalogue?removed={row}")))
}

async fn restore(Mine(app): Mine, Me(trainer): Me, Ids(id): Ids<String>) -> Result<Redirect, WebError> {
    let row = own_row(&id)?;
    movements::archive(&app.pool, trainer, row, false).await?;
    Ok(Redirect::to(&format!("/catalogue/{}", movements::movement_id(row))))
}
