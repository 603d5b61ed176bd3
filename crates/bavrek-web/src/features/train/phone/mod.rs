//! The workout on the client's own phone: opened by a link, gone through without a signal, and told to the server when there is one.

mod given;
pub(super) mod pack;
mod standing;
mod take;
mod told;

use std::convert::Infallible;

use axum::Json;
use axum::Router;
use axum::body::Bytes;
use axum::extract::{DefaultBodyLimit, State as Shared};
use axum::http::StatusCode;
use axum::middleware;
use axum::response::sse::{Event, KeepAlive, Sse};
use axum::response::{IntoResponse, Response};
use axum::routing::{get, post};
use bavrek_store::links::{self, Access, Admitted};
use bavrek_store::live::Watcher;
use bavrek_store::{StoreError, sessions};
use chrono::{DateTime, Utc};
use futures_util::stream::{self, Stream};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use self::pack::Pack;
use self::standing::Standing;
use self::take::{Answer, Statement, Taker};
use super::floor::Floor;
use crate::error::WebError;
use crate::extract::{Ids, Me, Mine};
use crate::state::App;
use crate::{auth, budget};

/// Largest bundle of things said at once, bytes; a workout is a tenth of it.
const LARGEST: usize = 512 * 1024;
/// Most things said at once.
const MOST_SAID: usize = 500;
/// What is said of something that came by a link that opens no more.
const LINK_ENDED: &str = "the link was ended before this came: your trainer decides";

pub(super) fn routes() -> Router<App> {
    Router::new().route("/sessions/{session}/train/live", get(live_for_trainer)).merge(told::routes())
}

pub(super) fn linked_routes(app: &App) -> Router<App> {
    let computing = Router::new()
        .route("/go/{link}/{session}/pack", get(pack))
        .route("/go/{link}/{session}/state", get(standing))
        .route_layer(middleware::from_fn_with_state(app.clone(), budget::computing_by_link));
    // What a phone says is taken however much is being computed.
    Router::new()
        .merge(computing)
        .route("/go/{link}", get(given::home))
        .route("/go/{link}/app.webmanifest", get(given::manifest))
        .route("/go/{link}/entries", post(receive).layer(DefaultBodyLimit::max(LARGEST)))
        .route("/go/{link}/{session}", get(given::player))
        .route("/go/{link}/{session}/live", get(live))
        .route("/go-worker.js", get(given::worker))
        .route_layer(middleware::from_fn(auth::within_a_wall))
}

/// What a link reaches today; `LinkEnded` where it opens no more.
async fn opened(app: &App, link: &str) -> Result<Access, WebError> {
    let access = links::open(&app.pool, link, app.clock.now()).await?;
    let today = app.clock.today(access.time_zone());
    if access.opens(today) { Ok(access) } else { Err(WebError::LinkEnded) }
}

/// The right to a session by a link that opens.
pub(super) async fn admitted(app: &App, link: &str, session: Uuid) -> Result<Admitted, WebError> {
    Ok(opened(app, link).await?.admit(&app.pool, session).await?)
}

/// The application as the trainer has it who gave a link, and the workout of a session it reaches.
pub(super) async fn reached(app: &App, who: &Admitted) -> Result<(App, Floor), WebError> {
    let app = app.of(who.trainer).await?;
    let floor = Floor::load(&app, who.trainer, who.session).await?;
    Ok((app, floor))
}

async fn pack(Shared(app): Shared<App>, Ids((link, session)): Ids<(String, Uuid)>) -> Result<Json<Pack>, WebError> {
    let who = admitted(&app, &link, session).await?;
    let (app, floor) = reached(&app, &who).await?;
    Ok(Json(pack::of(&app, &who, floor).await?))
}

async fn standing(
    Shared(app): Shared<App>,
    Ids((link, session)): Ids<(String, Uuid)>,
) -> Result<Json<Standing>, WebError> {
    let who = admitted(&app, &link, session).await?;
    let (app, floor) = reached(&app, &who).await?;
    Ok(Json(Standing::of(&app, &who, &floor).await?))
}

async fn live(
    Shared(app): Shared<App>,
    Ids((link, session)): Ids<(String, Uuid)>,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, WebError> {
    let who = admitted(&app, &link, session).await?;
    Ok(watching(app.live.watch(who.session)))
}

async fn live_for_trainer(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, WebError> {
    sessions::head(&app.pool, trainer, session).await?;
    Ok(watching(app.live.watch(session)))
}

/// Says whenever something happened in a session.
fn watching(watcher: Watcher) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    let happened = stream::unfold(watcher, |mut watcher| async move {
        watcher.next().await.then(|| (Ok(Event::default().event("happened").data("now")), watcher))
    });
    Sse::new(happened).keep_alive(KeepAlive::default())
}

/// What a phone sends: what was said in it, and what its clock shows.
#[derive(Deserialize)]
struct Batch {
    now: DateTime<Utc>,
    entries: Vec<Statement>,
}

#[derive(Serialize)]
struct Answers {
    answers: Vec<Answer>,
}

/// Takes what a phone says. A link that was ended is still heard: what was done is kept until the trainer has decided.
async fn receive(Shared(app): Shared<App>, Ids(link): Ids<String>, body: Bytes) -> Result<Response, WebError> {
    let access = links::open(&app.pool, &link, app.clock.now()).await?;
    let opens = access.opens(app.clock.today(access.time_zone()));
    let waits = (!opens).then_some(LINK_ENDED);
    let batch: Batch = match serde_json::from_slice(&body) {
        Ok(batch) => batch,
        Err(error) => return Ok((StatusCode::UNPROCESSABLE_ENTITY, error.to_string()).into_response()),
    };
    if batch.entries.len() > MOST_SAID {
        return Ok((StatusCode::PAYLOAD_TOO_LARGE, format!("at most {MOST_SAID} at once")).into_response());
    }
    let mut answers = Vec::new();
    let mut takers: Vec<(Uuid, Taker)> = Vec::new();
    for said in &batch.entries {
        let at = match takers.iter().position(|(session, _)| *session == said.session) {
            Some(at) => at,
            None => match access.admit(&app.pool, said.session).await {
                Ok(who) => {
                    let app = app.of(who.trainer).await?;
                    takers.push((said.session, Taker::new(app, who, access.time_zone(), batch.now)));
                    takers.len() - 1
                }
                Err(StoreError::NotFound) => {
                    answers.push(Answer::unreached(said.id));
                    continue;
                }
                Err(other) => return Err(other.into()),
            },
        };
        answers.push(takers[at].1.take(said, waits).await?);
    }
    Ok(Json(Answers { answers }).into_response())
}
