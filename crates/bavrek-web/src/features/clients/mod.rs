//! A client: who is this? The overview, and the pages on which one is taken in.

pub(super) mod aims;
mod bring_in;
mod data;
mod health;
mod limits;
mod notes;
mod page;
pub(super) mod profile;
mod single;
pub(super) mod steps;
mod strength;
mod table_in;
mod tables;

use axum::Router;

use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .merge(page::routes())
        .merge(profile::routes())
        .merge(health::routes())
        .merge(limits::routes())
        .merge(single::routes())
        .merge(aims::routes())
        .merge(strength::routes())
        .merge(notes::routes())
        .merge(data::routes())
        .merge(tables::routes())
        .merge(table_in::routes())
        .merge(bring_in::routes())
}
