//! A client's data as a whole: what was agreed about them, taking them out, erasing them.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_formats::archive;
use bavrek_store::deeds::{self, Deed};
use bavrek_store::people::{self, Agreed, Receipt};
use bavrek_store::{TrainerId, clients};
use uuid::Uuid;

use super::steps::{Step, StepView, steps};
use crate::chrome::Chrome;
use crate::downloads;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::dates::written;
use crate::features::typed::{Input, Typed};
use crate::features::{account, across};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/data", get(show).post(agree))
        .route("/clients/{client}/data/archive", get(take_out))
        .route("/clients/{client}/data/erase", get(back).post(erase))
}

#[derive(Template, WebTemplate)]
#[template(path = "clients/data.html")]
struct Page {
    chrome: Chrome,
    client: Uuid,
    name: String,
    steps: Vec<StepView>,
    inputs: Vec<Input>,
    /// The field in which the name is typed before the client is erased.
    erasing: Vec<Input>,
    /// What was done lately: when, and what.
    deeds: Vec<(String, String)>,
}

/// Deeds that are shown.
const MOST_DEEDS: i64 = 40;

#[derive(Template, WebTemplate)]
#[template(path = "clients/erased.html")]
struct ErasedPage {
    chrome: Chrome,
    at: String,
    rows: Vec<(String, u64)>,
    total: u64,
}

async fn page(
    app: &App,
    trainer: TrainerId,
    client: Uuid,
    chrome: Chrome,
    (agreed, erasing): (Typed, Typed),
) -> Result<Page, WebError> {
    let who = clients::one(&app.pool, trainer, client).await?;
    let today = app.clock.today(&who.time_zone);
    Ok(Page {
        chrome: chrome.titled(format!("{}: data", who.name)),
        client,
        steps: steps(app, trainer, client, Step::Data).await?,
        name: who.name,
        inputs: vec![
            Input::text(&agreed, "consent", "What was agreed", "may train data be kept, since when, on which paper")
                .area(),
            Input::text(&agreed, "keep_until", "Kept until", "").kind("date"),
        ],
        erasing: vec![Input::text(&erasing, "erase_name", "The client's name, to be sure", "")],
        deeds: deeds::latest(&app.pool, trainer, Some(client), MOST_DEEDS)
            .await?
            .into_iter()
            // Whose page it is needs no saying.
            .map(|deed| account::told(&Deed { client: None, ..deed }, today))
            .collect(),
    })
}

fn stored(agreed: &Agreed) -> Typed {
    let until = agreed.keep_until.map_or_else(String::new, |day| day.to_string());
    Typed::usual([("consent", agreed.consent.clone()), ("keep_until", until)])
}

async fn show(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, chrome: Chrome) -> Result<Page, WebError> {
    let agreed = people::agreed(&app.pool, trainer, client).await?;
    page(&app, trainer, client, chrome, (stored(&agreed), Typed::default())).await
}

async fn back(Ids(client): Ids) -> Redirect {
    Redirect::to(&format!("/clients/{client}/data"))
}

/// Longest note about what was agreed, characters.
const LONGEST: usize = 2_000;

async fn agree(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let mut form = Typed::of(&fields);
    let agreed = Agreed { consent: form.text("consent", LONGEST), keep_until: form.day("keep_until") };
    if !form.fine() {
        let page = page(&app, trainer, client, chrome, (form, Typed::default())).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    people::agree(&app.pool, trainer, client, &agreed).await?;
    Ok(Redirect::to(&format!("/clients/{client}/data")).into_response())
}

async fn take_out(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids) -> Result<Response, WebError> {
    let now = app.clock.now();
    let tables = people::all(&app.pool, trainer, client, now).await?;
    let rows: Vec<archive::Rows<'_>> = tables.iter().map(|t| (t.name.as_str(), t.rows.as_slice())).collect();
    let zipped = archive::zipped(&rows, &now.to_rfc3339()).map_err(|_| WebError::Failed)?;
    Ok(downloads::file(&format!("bavrek-client-{}.zip", now.format("%Y-%m-%d")), zipped))
}

async fn erase(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let who = clients::one(&app.pool, trainer, client).await?;
    let mut form = Typed::of(&fields);
    if form.value("erase_name").to_lowercase() != who.name.trim().to_lowercase() {
        form.refuse("erase_name", "is not the name of this client: nothing was erased");
        let agreed = people::agreed(&app.pool, trainer, client).await?;
        let page = page(&app, trainer, client, chrome, (stored(&agreed), form)).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    let receipt = people::erase(&app.pool, trainer, client, app.clock.now()).await?;
    // What the client's log added to what is known of movements goes as well.
    across::pool_again(&app, trainer).await?;
    Ok(erased(chrome, &receipt).into_response())
}

fn erased(chrome: Chrome, receipt: &Receipt) -> ErasedPage {
    ErasedPage {
        chrome: chrome.titled("Erased"),
        at: format!("{}, {} UTC", written(receipt.at.date_naive()), receipt.at.format("%H:%M")),
        rows: receipt.rows.iter().map(|(table, count)| (table.replace('_', " "), *count)).collect(),
        total: receipt.rows.values().sum(),
    }
}
