//! The screens: one folder each.

pub(crate) mod account;
pub(crate) mod across;
pub(crate) mod api;
mod bench;
mod calendar;
mod calls;
mod catalogue;
mod clients;
mod dates;
mod dosing;
mod fields;
mod intents;
mod lab;
mod ladder;
mod outbox;
mod places;
pub(crate) mod plan;
mod reading;
mod refit;
mod review;
mod rig;
mod rooms;
mod roster;
mod scene;
mod schools;
mod sessions;
mod spot;
mod taken;
mod templates;
pub(crate) mod train;
mod typed;
mod week;
mod weights;
mod who;

use axum::Router;

use crate::state::App;

/// Routes that only a signed-in trainer reaches and that read and write alone.
pub(crate) fn closed_routes() -> Router<App> {
    Router::new()
        .merge(roster::routes())
        .merge(outbox::routes())
        .merge(taken::routes())
        .merge(weights::routes())
        .merge(calendar::routes())
        .merge(account::closed_routes())
        .merge(api::closed_routes())
}

/// Routes that only a signed-in trainer reaches and that compute: they take turns.
pub(crate) fn computing_routes() -> Router<App> {
    Router::new()
        .merge(clients::routes())
        .merge(places::routes())
        .merge(sessions::routes())
        .merge(schools::routes())
        .merge(intents::routes())
        .merge(bench::routes())
        .merge(reading::routes())
        .merge(refit::routes())
        .merge(review::routes())
        .merge(across::routes())
        .merge(ladder::routes())
        .merge(train::routes())
        .merge(spot::routes())
        .merge(calls::routes())
        .merge(catalogue::routes())
        .merge(rig::routes())
        .merge(lab::routes())
        .merge(plan::routes())
        .merge(templates::routes())
        .merge(account::computing_routes())
}

/// Routes that only a signed-in trainer reaches and that compute whole weeks: they take turns of their own.
pub(crate) fn building_routes() -> Router<App> {
    week::routes()
}

/// Routes for everybody.
pub(crate) fn open_routes() -> Router<App> {
    account::open_routes()
}

/// Routes for programs.
pub(crate) fn program_routes(app: &App) -> Router<App> {
    api::routes(app)
}

/// Routes for whoever has a link.
pub(crate) fn linked_routes(app: &App) -> Router<App> {
    train::linked_routes(app).merge(calendar::linked_routes())
}
