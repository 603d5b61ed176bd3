//! What a phone is given to begin with: the list of its workouts, the page that goes through one, and what keeps both when the
//! signal is gone.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State as Shared;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use bavrek_core::script::WorkoutState;
use bavrek_store::sessions::SessionHead;
use uuid::Uuid;

use super::super::floor::Post;
use super::{admitted, opened, reached};
use crate::assets;
use crate::error::WebError;
use crate::extract::Ids;
use crate::features::dates::day;
use crate::state::App;

/// What every page of a phone carries.
struct Frame {
    title: String,
    css: String,
    js: String,
    theme_js: String,
    /// Where the link leads.
    link: String,
}

impl Frame {
    fn of(link: &str, title: impl Into<String>) -> Self {
        Self {
            title: title.into(),
            css: assets::url("app.css"),
            js: assets::url("phone.js"),
            theme_js: assets::url("theme.js"),
            link: link.to_owned(),
        }
    }
}

/// Days before today of which an open workout is still offered.
const DAYS_BACK: i64 = 7;

#[derive(Template, WebTemplate)]
#[template(path = "go/home.html")]
struct Home {
    frame: Frame,
    /// Identifier, name, day, whether it is done.
    sessions: Vec<(Uuid, String, String, bool)>,
    cautions: Vec<String>,
}

#[derive(Template, WebTemplate)]
#[template(path = "go/ended.html")]
struct Ended {
    frame: Frame,
}

#[derive(Template, WebTemplate)]
#[template(path = "go/player.html")]
struct Player {
    frame: Frame,
    session: Uuid,
    /// What is done where no script runs: movement, step and dose of each job in order.
    lines: Vec<(String, String, String)>,
}

fn ended(link: &str) -> Response {
    (StatusCode::GONE, Ended { frame: Frame::of(link, "This link opens no more") }).into_response()
}

/// The workouts that a link reaches, the next one first.
pub(super) async fn home(Shared(app): Shared<App>, Ids(link): Ids<String>) -> Result<Response, WebError> {
    let access = match opened(&app, &link).await {
        Err(WebError::LinkEnded) => return Ok(ended(&link)),
        other => other?,
    };
    let today = app.clock.today(access.time_zone());
    let mut heads = access.sessions(&app.pool).await?;
    heads.retain(|h| (h.planned_on - today).num_days() >= -DAYS_BACK);
    heads.sort_by_key(|h| (h.state == WorkoutState::Done && h.planned_on < today, h.planned_on));
    let line = |head: SessionHead| (head.id, head.name, day(head.planned_on, today), head.state == WorkoutState::Done);
    let home = Home {
        frame: Frame::of(&link, "Your workouts"),
        sessions: heads.into_iter().map(line).collect(),
        cautions: app.cautions.0.clone(),
    };
    Ok(home.into_response())
}

/// The page that goes through a workout; what it shows comes apart from it, and stays when the signal goes.
pub(super) async fn player(
    Shared(app): Shared<App>,
    Ids((link, session)): Ids<(String, Uuid)>,
) -> Result<Response, WebError> {
    let who = match admitted(&app, &link, session).await {
        Err(WebError::LinkEnded) => return Ok(ended(&link)),
        other => other?,
    };
    let (app, floor) = reached(&app, &who).await?;
    let line = |post: &Post| {
        let name = app.catalogue.movement(&post.fit.exercise).map_or(post.fit.exercise.as_str(), |m| &m.name);
        (name.to_owned(), post.fit.step.label.clone(), post.fit.prescription.text())
    };
    let lines = floor.posts.iter().map(line).collect();
    Ok(Player { frame: Frame::of(&link, floor.session.name.clone()), session, lines }.into_response())
}

/// What makes the page an application of the phone's own.
pub(super) async fn manifest(Ids(link): Ids<String>) -> impl IntoResponse {
    let manifest = serde_json::json!({
        "name": "Bavrek: your workouts",
        "short_name": "Workouts",
        "start_url": format!("/go/{link}"),
        "scope": "/go/",
        "display": "standalone",
        "background_color": "#0f1513",
        "theme_color": "#0f1513",
        "icons": [{ "src": "/favicon.ico", "sizes": "any", "type": "image/svg+xml", "purpose": "any" }],
    });
    ([(header::CONTENT_TYPE, "application/manifest+json")], manifest.to_string())
}

/// What keeps the pages, served where it may reach all of them.
pub(super) async fn worker() -> Result<Response, WebError> {
    let script = assets::text("go-worker.js").ok_or(WebError::NotFound)?;
    Ok(([(header::CONTENT_TYPE, "text/javascript"), (header::CACHE_CONTROL, "no-cache")], script).into_response())
}
