//! Places with what stands in them.

use axum::Json;
use axum::extract::State;
use axum::http::{Method, StatusCode};
use bavrek_core::kit::{KitItem, Setting};
use bavrek_store::kit::{self, Piece};
use bavrek_store::places::{self, PlaceHead};
use bavrek_store::tokens::Scope;
use bavrek_store::{TrainerId, clients};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::door::Caller;
use super::given::{At, Refusal, Sent};
use super::operations::Operations;
use crate::problem::Problem;
use crate::state::App;

/// Longest name of a place, characters.
const LONGEST_NAME: usize = 120;

pub(super) fn describe(all: &mut Operations) {
    all.describe(
        Method::GET,
        "/clients/{client}/places",
        "listPlaces",
        "Where a client trains, with the kit that is there",
    )
    .answers::<Vec<PlaceView>>()
    .by(list);
    all.describe(
        Method::POST,
        "/clients/{client}/places",
        "addPlace",
        "Adds a place; the same identifier twice adds one",
    )
    .needs(Scope::Write)
    .takes::<NewPlace>()
    .answers::<PlaceView>()
    .done(201)
    .by(add);
    all.describe(Method::GET, "/places/{place}", "readPlace", "One place").answers::<PlaceView>().by(one);
    all.describe(Method::POST, "/places/{place}/kit", "addKit", "Adds a piece of kit")
        .needs(Scope::Write)
        .takes::<NewPiece>()
        .answers::<PlaceView>()
        .done(201)
        .by(add_piece);
    all.describe(
        Method::DELETE,
        "/places/{place}/kit/{item}",
        "removeKit",
        "Takes a piece of kit away; it can come back on its page",
    )
    .needs(Scope::Write)
    .answers::<PlaceView>()
    .by(remove_piece);
}

/// A place.
#[derive(Debug, Serialize, JsonSchema)]
#[schemars(rename = "Place")]
struct PlaceView {
    id: Uuid,
    client: Uuid,
    name: String,
    setting: Option<Setting>,
    /// Put away: kept for its plans, offered no more.
    archived: bool,
    kit: Vec<PieceView>,
}

/// A piece of kit.
#[derive(Debug, Serialize, JsonSchema)]
#[schemars(rename = "Piece")]
struct PieceView {
    id: Uuid,
    item: KitItem,
    /// In words.
    text: String,
    /// Whether it goes along wherever the client trains.
    travels: bool,
    /// Whether it may be used: an improvised thing only after a check that it passed.
    usable: bool,
}

/// A place as it is sent.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
struct NewPlace {
    /// Made up where it is left out.
    id: Option<Uuid>,
    #[schemars(length(min = 1, max = 120))]
    name: String,
    setting: Option<Setting>,
}

/// A piece as it is sent.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
struct NewPiece {
    /// Made up where it is left out.
    id: Option<Uuid>,
    item: KitItem,
}

fn piece(piece: Piece) -> PieceView {
    PieceView {
        id: piece.id,
        text: piece.item.text(),
        travels: piece.travels,
        usable: piece.usable(),
        item: piece.item,
    }
}

async fn view(app: &App, trainer: TrainerId, head: PlaceHead) -> Result<PlaceView, Refusal> {
    let pieces = kit::pieces(&app.pool, trainer, head.id).await?;
    Ok(PlaceView {
        id: head.id,
        client: head.client_id,
        name: head.name,
        setting: head.setting,
        archived: head.archived,
        kit: pieces.into_iter().map(piece).collect(),
    })
}

async fn list(State(app): State<App>, caller: Caller, At(client): At) -> Result<Json<Vec<PlaceView>>, Refusal> {
    clients::one(&app.pool, caller.trainer, client).await?;
    let mut views = Vec::new();
    for head in places::of_client(&app.pool, caller.trainer, client).await? {
        views.push(view(&app, caller.trainer, head).await?);
    }
    Ok(Json(views))
}

async fn one(State(app): State<App>, caller: Caller, At(place): At) -> Result<Json<PlaceView>, Refusal> {
    let head = places::one(&app.pool, caller.trainer, place).await?;
    Ok(Json(view(&app, caller.trainer, head).await?))
}

async fn add(
    State(app): State<App>,
    caller: Caller,
    At(client): At,
    Sent(sent): Sent<NewPlace>,
) -> Result<(StatusCode, Json<PlaceView>), Refusal> {
    clients::one(&app.pool, caller.trainer, client).await?;
    let name: String = sent.name.chars().filter(|c| !c.is_control()).collect();
    let name = name.trim();
    if name.is_empty() || name.chars().count() > LONGEST_NAME {
        return Err(Problem::field("name", format!("must have 1 to {LONGEST_NAME} characters")).into());
    }
    let id = sent.id.unwrap_or_else(|| caller.new_id());
    places::add(&app.pool, caller.trainer, client, id, name, sent.setting).await?;
    let head = places::one(&app.pool, caller.trainer, id).await?;
    if head.client_id != client {
        return Err(Problem::field("id", "is that of another place").into());
    }
    Ok((StatusCode::CREATED, Json(view(&app, caller.trainer, head).await?)))
}

async fn add_piece(
    State(app): State<App>,
    caller: Caller,
    At(place): At,
    Sent(sent): Sent<NewPiece>,
) -> Result<(StatusCode, Json<PlaceView>), Refusal> {
    let head = places::one(&app.pool, caller.trainer, place).await?;
    sent.item.validate().map_err(|e| {
        let error = e.under("item");
        Problem::field(error.path, error.message)
    })?;
    kit::add(&app.pool, caller.trainer, place, sent.id.unwrap_or_else(|| caller.new_id()), &sent.item).await?;
    Ok((StatusCode::CREATED, Json(view(&app, caller.trainer, head).await?)))
}

async fn remove_piece(
    State(app): State<App>,
    caller: Caller,
    At((place, item)): At<(Uuid, Uuid)>,
) -> Result<Json<PlaceView>, Refusal> {
    let head = places::one(&app.pool, caller.trainer, place).await?;
    kit::remove(&app.pool, caller.trainer, place, item).await?;
    Ok(Json(view(&app, caller.trainer, head).await?))
}
