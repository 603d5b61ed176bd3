//! Rooms as such: added, named, copied, put away, removed.

use axum::Router;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::post;
use bavrek_catalogue::StartingKit;
use bavrek_core::kit::Setting;
use bavrek_store::{StoreError, kit, places, sessions};
use uuid::Uuid;

use super::views::View;
use super::{Desk, address, numbered, own, refused};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::typed::Typed;
use crate::state::App;

/// Longest name of a place, characters.
const LONGEST_NAME: usize = 120;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/places", post(add))
        .route("/clients/{client}/places/{place}/name", post(rename))
        .route("/clients/{client}/places/{place}/setting", post(set_setting))
        .route("/clients/{client}/places/{place}/keep", post(keep))
        .route("/clients/{client}/places/{place}/drop", post(drop_proposal))
        .route("/clients/{client}/places/{place}/copy", post(copy))
        .route("/clients/{client}/places/{place}/archive", post(archive))
        .route("/clients/{client}/places/{place}/reopen", post(reopen))
        .route("/clients/{client}/places/{place}/remove", post(remove))
        .route("/clients/{client}/places/{place}/restore", post(restore))
}

/// A starting point.
pub(super) fn starting_kit<'a>(app: &'a App, id: &str) -> Result<&'a StartingKit, WebError> {
    let start = app.intake.starting_kits.iter().find(|k| k.id == id);
    start.ok_or_else(|| WebError::bad("start", "is no common kit"))
}

/// What a place is said to be; nothing where nothing was chosen.
fn setting(fields: &Fields) -> Result<Option<Setting>, WebError> {
    match fields.text("setting") {
        "" => Ok(None),
        text => Setting::from_id(text).map(Some).ok_or_else(|| WebError::bad("setting", "is no kind of place")),
    }
}

/// Adds a place, with a common kit where one was chosen.
async fn add(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let id = fields.id("id")?;
    let mut typed = Typed::of(&fields);
    let name = typed.needed("name", LONGEST_NAME);
    if !typed.fine() {
        let desk = Desk::load(&app, trainer, client, None).await?;
        return refused(&app, trainer, &desk, chrome, View { naming: typed, ..View::default() }).await;
    }
    let start = match fields.text("start") {
        "" => None,
        start => Some(starting_kit(&app, start)?),
    };
    // A common kit knows what kind of place has it, where nothing else was said.
    let setting = setting(&fields)?.or_else(|| start.and_then(|s| s.setting));
    let start = start.map_or_else(Vec::new, |s| s.kit.clone());
    places::add(&app.pool, trainer, client, id, &name, setting).await?;
    own(&app, trainer, client, id).await?;
    let first = Uuid::from_u128(id.as_u128().wrapping_add(1));
    kit::add_all(&app.pool, trainer, id, &numbered(first, start)).await?;
    Ok(Redirect::to(&address(client, id)).into_response())
}

async fn rename(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let head = own(&app, trainer, client, place).await?;
    let version: i32 = fields.text("version").parse().map_err(|_| WebError::bad("version", "is no number"))?;
    let mut typed = Typed::of(&fields);
    let name = typed.needed("new_name", LONGEST_NAME);
    let mut meanwhile = None;
    if typed.fine() {
        match places::rename(&app.pool, trainer, place, version, &name).await {
            Ok(()) => return Ok(Redirect::to(&address(client, place)).into_response()),
            Err(StoreError::Conflict) => {
                meanwhile = Some(format!(
                    "This place was renamed meanwhile: saved is {:?}, yours is {name:?}. Nothing was overwritten.",
                    head.name
                ));
            }
            Err(other) => return Err(other.into()),
        }
    }
    let desk = Desk::load(&app, trainer, client, Some(place)).await?;
    refused(&app, trainer, &desk, chrome, View { renaming: typed, meanwhile, ..View::default() }).await
}

async fn set_setting(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place)): Ids<(Uuid, Uuid)>,
    fields: Fields,
) -> Result<Redirect, WebError> {
    own(&app, trainer, client, place).await?;
    places::set_setting(&app.pool, trainer, place, setting(&fields)?).await?;
    Ok(Redirect::to(&address(client, place)))
}

/// Keeps what was only thought about as a place, under its name.
async fn keep(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let head = own(&app, trainer, client, place).await?;
    let mut typed = Typed::of(&fields);
    let name = typed.needed("keep_name", LONGEST_NAME);
    if !typed.fine() {
        let desk = Desk::load(&app, trainer, client, head.proposal_of).await?;
        return refused(&app, trainer, &desk, chrome, View { keeping: Some((place, typed)), ..View::default() }).await;
    }
    places::keep(&app.pool, trainer, place, &name).await?;
    // On to what it was thought about for.
    let next = match head.proposal_of {
        Some(from) => format!("/clients/{client}/refit?from={from}&to={place}"),
        None => address(client, place),
    };
    Ok(Redirect::to(&next).into_response())
}

/// Thinks no more about it.
async fn drop_proposal(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place)): Ids<(Uuid, Uuid)>,
) -> Result<Redirect, WebError> {
    let head = own(&app, trainer, client, place).await?;
    let from = head.proposal_of.ok_or(WebError::ChangedMeanwhile)?;
    places::remove(&app.pool, trainer, place).await?;
    Ok(Redirect::to(&address(client, from)))
}

async fn copy(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    own(&app, trainer, client, place).await?;
    let id = fields.id("id")?;
    let mut typed = Typed::of(&fields);
    let name = typed.needed("copy_name", LONGEST_NAME);
    if !typed.fine() {
        let desk = Desk::load(&app, trainer, client, Some(place)).await?;
        return refused(&app, trainer, &desk, chrome, View { copying: typed, ..View::default() }).await;
    }
    places::copy(&app.pool, trainer, place, id, &name).await?;
    Ok(Redirect::to(&address(client, id)).into_response())
}

async fn archive(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place)): Ids<(Uuid, Uuid)>,
) -> Result<Redirect, WebError> {
    own(&app, trainer, client, place).await?;
    places::set_archived(&app.pool, trainer, place, true).await?;
    Ok(Redirect::to(&address(client, place)))
}

async fn reopen(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place)): Ids<(Uuid, Uuid)>,
) -> Result<Redirect, WebError> {
    own(&app, trainer, client, place).await?;
    places::set_archived(&app.pool, trainer, place, false).await?;
    Ok(Redirect::to(&address(client, place)))
}

/// Removes a place that no plan uses. Where one does, the sessions are named and the ways out are offered.
async fn remove(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
) -> Result<Response, WebError> {
    own(&app, trainer, client, place).await?;
    match places::remove(&app.pool, trainer, place).await {
        Ok(()) => Ok(Redirect::to(&format!("/clients/{client}/places?gone={place}")).into_response()),
        Err(StoreError::Conflict) => {
            let desk = Desk::load(&app, trainer, client, Some(place)).await?;
            let planned = sessions::at_place(&app.pool, trainer, place).await?;
            let in_use = planned.into_iter().map(|s| (s.id, format!("{}, {}", s.name, s.planned_on))).collect();
            refused(&app, trainer, &desk, chrome, View { in_use, ..View::default() }).await
        }
        Err(other) => Err(other.into()),
    }
}

async fn restore(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place)): Ids<(Uuid, Uuid)>,
) -> Result<Redirect, WebError> {
    own(&app, trainer, client, place).await?;
    places::restore(&app.pool, trainer, place).await?;
    Ok(Redirect::to(&address(client, place)))
}
