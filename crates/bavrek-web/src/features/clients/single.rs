//! Single movements that a client leaves out, whatever the joints allow: one list for all of their sessions, the same that the
//! bench adds to.

use axum::Router;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::post;
use bavrek_core::fit::PutAside;
use bavrek_store::{TrainerId, new_id, put_aside};
use uuid::Uuid;

use super::limits;
use super::steps::Step;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::catalogue;
use crate::features::typed::{Input, Typed};
use crate::features::who::Who;
use crate::state::App;

/// Longest reason, characters.
const LONGEST_REASON: usize = 200;
/// Longest name that is looked for, characters.
const LONGEST_NAME: usize = 200;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/limits/movement", post(add))
        .route("/clients/{client}/limits/movement/back", post(take_back))
}

/// A movement that is left out.
pub(super) struct Single {
    pub(super) id: String,
    pub(super) name: String,
    pub(super) reason: String,
}

/// What is left out now.
pub(super) async fn of(app: &App, trainer: TrainerId, client: Uuid) -> Result<Vec<Single>, WebError> {
    let aside = put_aside::of_client(&app.pool, trainer, client).await?.into_iter();
    let view = |aside: PutAside| Single {
        name: app.catalogue.movement(&aside.exercise).map_or_else(|| aside.exercise.clone(), |m| m.name.clone()),
        id: aside.exercise,
        reason: aside.reason,
    };
    Ok(aside.map(view).collect())
}

/// The form that leaves one more out.
pub(super) fn inputs(typed: &Typed) -> Vec<Input> {
    vec![
        Input::text(typed, "movement", "Movement", "skull crusher"),
        Input::text(typed, "reason", "Why; shown wherever it is missed", "the left elbow clicks"),
    ]
}

/// Leaves a movement out, or says beside its field which may be meant.
async fn add(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let mut typed = Typed::of(&fields);
    let name = typed.needed("movement", LONGEST_NAME);
    let reason = typed.needed("reason", LONGEST_REASON);
    let movement = if name.is_empty() { None } else { Some(catalogue::named(&app.catalogue, &name)) };
    match movement {
        Some(Ok(movement)) if typed.fine() => {
            let aside = PutAside { exercise: movement.id.clone(), reason };
            put_aside::put(&app.pool, trainer, client, new_id(), &aside).await?;
            return Ok(Redirect::to(&format!("{}#single", Step::Limits.href(client))).into_response());
        }
        Some(Err(unclear)) => {
            typed.offer("movement", unclear.names.iter().map(|name| (*name).to_owned()).collect());
            typed.refuse("movement", unclear.says(&name));
        }
        _ => {}
    }
    let page = limits::with_single(&app, trainer, &who, chrome, &typed).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

/// Takes a movement back into the choice.
async fn take_back(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, fields: Fields) -> Result<Redirect, WebError> {
    bavrek_store::clients::one(&app.pool, trainer, client).await?;
    put_aside::take_back(&app.pool, trainer, client, fields.text("movement")).await?;
    Ok(Redirect::to(&format!("{}#single", Step::Limits.href(client))))
}
