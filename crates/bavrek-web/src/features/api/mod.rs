//! What programs reach: one trainer's clients, places, plans, workouts, log and calls, and the computing commands, by a token that
//! says what it may.

mod calls;
mod compute;
mod door;
mod given;
mod log;
mod operations;
mod people;
mod plans;
mod rooms;
mod tokens;

use std::sync::LazyLock;

use axum::http::{StatusCode, header};
use axum::response::IntoResponse;
use axum::routing::get;
use axum::{Router, middleware};
use serde_json::Value;

use self::operations::Operations;
pub use self::tokens::new_token;
use crate::problem::Problem;
use crate::state::App;

/// Where the trainer makes tokens and revokes them.
pub(super) fn closed_routes() -> Router<App> {
    tokens::routes()
}

fn operations() -> (Router<App>, Value) {
    let mut all = Operations::new();
    people::describe(&mut all);
    rooms::describe(&mut all);
    plans::describe(&mut all);
    log::describe(&mut all);
    calls::describe(&mut all);
    compute::describe(&mut all);
    all.built()
}

/// What is reached by a token.
pub(super) fn routes(app: &App) -> Router<App> {
    let (router, _) = operations();
    router
        .route_layer(middleware::from_fn_with_state(app.clone(), door::noted))
        .route_layer(middleware::from_fn_with_state(app.clone(), door::in_turn))
        .route_layer(middleware::from_fn_with_state(app.clone(), door::once))
        .route_layer(middleware::from_fn_with_state(app.clone(), door::known))
        .route("/api/v1/openapi.json", get(described))
        .route("/api/{*rest}", get(nothing).post(nothing).put(nothing).patch(nothing).delete(nothing))
}

/// The document that describes all of it, as it is published.
pub fn openapi() -> &'static Value {
    static DOCUMENT: LazyLock<Value> = LazyLock::new(|| operations().1);
    &DOCUMENT
}

async fn described() -> impl IntoResponse {
    ([(header::CACHE_CONTROL, "public, max-age=300")], axum::Json(openapi()))
}

async fn nothing() -> Problem {
    Problem::of(StatusCode::NOT_FOUND, "there is no such operation: /api/v1/openapi.json lists what there is")
}
