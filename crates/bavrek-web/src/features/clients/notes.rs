//! Observations: left and right, posture, looks, movement, each on its day.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::notes::{LONGEST_NOTE, NoteKind};
use bavrek_core::person::Side;
use bavrek_store::observations::{self, Observation};
use bavrek_store::{TrainerId, new_id};
use serde::Deserialize;
use uuid::Uuid;

use super::steps::{Step, StepView, steps};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::typed::{Input, Typed};
use crate::features::who::Who;
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/notes", get(show).post(add))
        .route("/clients/{client}/notes/{note}/remove", post(remove))
        .route("/clients/{client}/notes/{note}/restore", post(restore))
}

#[derive(Deserialize, Default)]
struct Shown {
    /// The observation just removed, which can come back.
    removed: Option<Uuid>,
}

#[derive(Template, WebTemplate)]
#[template(path = "clients/notes.html")]
struct Page {
    chrome: Chrome,
    client: Uuid,
    name: String,
    steps: Vec<StepView>,
    id: Uuid,
    inputs: Vec<Input>,
    seen: Vec<(Uuid, String, String, String)>,
    removed: Option<Uuid>,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    Query(shown): Query<Shown>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let typed = Typed::usual([("on", who.today.to_string())]);
    page(&app, trainer, &who, chrome, &typed, shown.removed).await
}

async fn page(
    app: &App,
    trainer: TrainerId,
    who: &Who,
    chrome: Chrome,
    typed: &Typed,
    removed: Option<Uuid>,
) -> Result<Page, WebError> {
    let client = who.client.id;
    let text = |name, label| Input::text(typed, name, label, "");
    Ok(Page {
        chrome: who.frame(chrome, format!("{}: notes", who.client.name)),
        client,
        name: who.client.name.clone(),
        steps: steps(app, trainer, client, Step::Notes).await?,
        id: new_id(),
        inputs: vec![
            text("kind", "About").select(Some("choose"), NoteKind::ALL.iter().map(|k| (k.id(), k.label()))),
            text("side", "Side").select(Some("none"), Side::ALL.iter().map(|s| (s.id(), s.label()))),
            text("on", "Seen on").kind("date"),
            text("note", "What was seen").area(),
        ],
        seen: observations::of_client(&app.pool, trainer, client).await?.into_iter().map(view).collect(),
        removed,
    })
}

fn view(seen: Observation) -> (Uuid, String, String, String) {
    let side = seen.side.map_or_else(String::new, |s| format!(", {s}"));
    (seen.id, seen.on.to_string(), format!("{}{side}", seen.kind), seen.note)
}

async fn add(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let id = fields.id("id")?;
    let mut typed = Typed::of(&fields);
    let kind = typed.needed_word("kind", NoteKind::from_id);
    let side = typed.word("side", Side::from_id);
    let on = typed.past_day("on", who.today);
    if on.is_none() {
        typed.refuse("on", "is needed");
    }
    let note = typed.needed("note", LONGEST_NOTE);
    let (Some(kind), Some(on), true) = (kind, on, typed.fine()) else {
        let page = page(&app, trainer, &who, chrome, &typed, None).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    observations::add(&app.pool, trainer, client, &Observation { id, on, kind, side, note }).await?;
    Ok(Redirect::to(&Step::Notes.href(client)).into_response())
}

async fn remove(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, note)): Ids<(Uuid, Uuid)>,
) -> Result<Redirect, WebError> {
    observations::set_removed(&app.pool, trainer, client, note, true).await?;
    Ok(Redirect::to(&format!("{}?removed={note}", Step::Notes.href(client))))
}

async fn restore(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, note)): Ids<(Uuid, Uuid)>,
) -> Result<Redirect, WebError> {
    observations::set_removed(&app.pool, trainer, client, note, false).await?;
    Ok(Redirect::to(&Step::Notes.href(client)))
}
