//! The computing commands over HTTP: the same documents as on the command line.

use axum::Router;
use axum::body::Bytes;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use axum::routing::post;
use bavrek_formats::compute::{self, Knowledge};

use crate::extract::{Ids, Mine};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/api/v1/compute/{name}", post(run))
}

/// What takes seconds.
pub(super) fn building_routes() -> Router<App> {
    Router::new().route("/api/v1/compute/week", post(run_week))
}

async fn run_week(Mine(app): Mine, body: Bytes) -> Response {
    answered(&app, "week", &body)
}

async fn run(Mine(app): Mine, Ids(name): Ids<String>, body: Bytes) -> Response {
    answered(&app, &name, &body)
}

fn answered(app: &App, name: &str, body: &[u8]) -> Response {
    let knowledge = Knowledge { catalogue: &app.catalogue, volumes: &app.intake.volumes, schools: &app.intake.schools };
    match compute::run(&knowledge, name, body) {
        Ok(answer) => axum::Json(answer).into_response(),
        Err(error) => (StatusCode::UNPROCESSABLE_ENTITY, axum::Json(error.body())).into_response(),
    }
}
