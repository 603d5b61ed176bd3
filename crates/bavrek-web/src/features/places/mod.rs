//! Places: what is in the room? Rooms with their kit, shelf and wall.

mod followed;
mod forms;
mod rooms;
mod views;

use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::kit::improvised::StabilityCheck;
use bavrek_core::kit::{Anchor, Kind, KitItem, line, mistaken};
use bavrek_core::ranges;
use bavrek_core::units::trim_number;
use bavrek_store::kit::{DatedPiece, Piece};
use bavrek_store::places::PlaceHead;
use bavrek_store::{StoreError, TrainerId, kit, places};
use chrono::NaiveDate;
use serde::Deserialize;
use uuid::Uuid;

use self::forms::KitForm;
use self::views::{Page, View};
use super::typed::Typed;
use super::who::Who;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/places", get(show))
        .merge(rooms::routes())
        .route("/clients/{client}/places/{place}/kit", post(save_piece))
        .route("/clients/{client}/places/{place}/kit/line", post(add_line))
        .route("/clients/{client}/places/{place}/kit/start", post(add_start))
        .route("/clients/{client}/places/{place}/kit/quick", post(add_quick))
        .route("/clients/{client}/places/{place}/kit/{item}/move", post(move_height))
        .route("/clients/{client}/places/{place}/kit/{item}/weight", post(remove_weight))
        .route("/clients/{client}/places/{place}/kit/{item}/check", post(check))
        .route("/clients/{client}/places/{place}/kit/{item}/travels", post(set_travels))
        .route("/clients/{client}/places/{place}/kit/{item}/remove", post(remove))
        .route("/clients/{client}/places/{place}/kit/{item}/restore", post(restore))
}

#[derive(Deserialize, Default)]
struct Shown {
    place: Option<Uuid>,
    /// The piece just removed, which can come back.
    removed: Option<Uuid>,
    /// The piece just changed: what is done with a band follows it.
    changed: Option<Uuid>,
    /// The piece that is changed in the form.
    edit: Option<Uuid>,
    /// A day whose kit is shown.
    #[serde(default)]
    on: String,
    /// The place just removed, which can come back.
    gone: Option<Uuid>,
}

/// What lies on the desk when a place is looked at.
struct Desk {
    who: Who,
    places: Vec<PlaceHead>,
    place: Option<PlaceHead>,
    pieces: Vec<Piece>,
    history: Vec<DatedPiece>,
    /// What comes along from other places, with their names.
    along: Vec<(String, Piece)>,
    /// Places that are only thought about.
    proposals: Vec<PlaceHead>,
}

impl Desk {
    async fn load(app: &App, trainer: TrainerId, client: Uuid, place: Option<Uuid>) -> Result<Self, WebError> {
        let who = Who::load(app, trainer, client).await?;
        let places = places::of_client(&app.pool, trainer, client).await?;
        let place = match place {
            Some(id) => Some(places.iter().find(|p| p.id == id).ok_or(WebError::NotFound)?.clone()),
            None => places.first().cloned(),
        };
        let (mut pieces, mut history, mut along) = (Vec::new(), Vec::new(), Vec::new());
        if let Some(head) = &place {
            pieces = kit::pieces(&app.pool, trainer, head.id).await?;
            history = kit::history(&app.pool, trainer, head.id).await?;
            along = kit::along(&app.pool, trainer, head, &pieces).await?;
        }
        let proposals = places::proposals(&app.pool, trainer, client).await?;
        Ok(Self { who, places, place, pieces, history, along, proposals })
    }

    fn piece(&self, id: Uuid) -> Option<&Piece> {
        self.pieces.iter().find(|p| p.id == id)
    }
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    Query(shown): Query<Shown>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let desk = Desk::load(&app, trainer, client, shown.place).await?;
    let mut view = View { removed: shown.removed, changed: shown.changed, gone: shown.gone, ..View::default() };
    if let Some(piece) = shown.edit {
        view.form = KitForm::of(&desk.piece(piece).ok_or(WebError::NotFound)?.item);
        view.edit = Some(piece);
    }
    view.on = shown.on.parse::<NaiveDate>().ok();
    views::page(&app, trainer, &desk, chrome, view).await
}

/// The address of a place, at its kit.
fn address(client: Uuid, place: Uuid) -> String {
    format!("/clients/{client}/places?place={place}")
}

fn to_kit(client: Uuid, place: Uuid) -> Response {
    Redirect::to(&format!("{}#kit", address(client, place))).into_response()
}

/// The page of a place after a piece of its kit was changed.
pub(in crate::features) fn to_changed(client: Uuid, place: Uuid, piece: Uuid) -> Response {
    Redirect::to(&format!("{}&changed={piece}#kit", address(client, place))).into_response()
}

/// The page again with what was wrong.
async fn refused(app: &App, trainer: TrainerId, desk: &Desk, chrome: Chrome, view: View) -> Result<Response, WebError> {
    let status = if view.meanwhile.is_some() { StatusCode::CONFLICT } else { StatusCode::UNPROCESSABLE_ENTITY };
    Ok((status, views::page(app, trainer, desk, chrome, view).await?).into_response())
}

/// Adds a piece, or puts one in the place of another.
async fn save_piece(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::load(&app, trainer, client, Some(place)).await?;
    let id = fields.id("id")?;
    let edit = if fields.text("replaces").is_empty() { None } else { Some(fields.id("replaces")?) };
    let old = edit.and_then(|edit| desk.history.iter().find(|p| p.piece.id == edit));
    match KitForm::read(Typed::of(&fields), old.map(|p| &p.piece.item)) {
        Err(form) => refused(&app, trainer, &desk, chrome, View { form, edit, ..View::default() }).await,
        Ok(item) if desk.pieces.iter().any(|p| Some(p.id) != edit && mistaken(&p.item, &item)) => {
            let form = KitForm::of(&item).mistaken(&item.name());
            refused(&app, trainer, &desk, chrome, View { form, edit, ..View::default() }).await
        }
        Ok(item) => {
            let done = match edit {
                Some(old) => kit::replace(&app.pool, trainer, place, old, id, &item).await,
                None => kit::add(&app.pool, trainer, place, id, &item).await.map(drop),
            };
            match done {
                Ok(()) if edit.is_some() => Ok(to_changed(client, place, id)),
                Ok(()) => Ok(to_kit(client, place)),
                Err(StoreError::Conflict) => {
                    let meanwhile = Some(meanwhile(&desk, &item));
                    let view = View { form: KitForm::of(&item), meanwhile, ..View::default() };
                    refused(&app, trainer, &desk, chrome, view).await
                }
                Err(other) => {
                    let view = View { form: KitForm::of(&item), edit, ..View::default() };
                    beside(&app, trainer, &desk, chrome, view, other.into()).await
                }
            }
        }
    }
}

/// The page again with what the store had against it, where that can be mended there.
async fn beside(
    app: &App,
    trainer: TrainerId,
    desk: &Desk,
    chrome: Chrome,
    view: View,
    error: WebError,
) -> Result<Response, WebError> {
    let picture_error = Some(error.told()?);
    refused(app, trainer, desk, chrome, View { picture_error, ..view }).await
}

/// What stands now in place of a piece that was changed in another window, beside what was wanted.
fn meanwhile(desk: &Desk, wanted: &KitItem) -> String {
    let now: Vec<_> = desk.pieces.iter().filter(|p| p.item.kind() == wanted.kind()).map(|p| p.item.text()).collect();
    let now =
        if now.is_empty() { "it is no longer there".to_owned() } else { format!("now there: {}", now.join("; ")) };
    format!(
        "This piece was changed meanwhile, in another window; {now}. Yours was: {}. Nothing was overwritten.",
        wanted.text()
    )
}

/// Several dumbbells in one line.
async fn add_line(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::load(&app, trainer, client, Some(place)).await?;
    let id = fields.id("id")?;
    let mut typed = Typed::of(&fields);
    let read = line::dumbbells(typed.value("line"), desk.who.client.mass_unit);
    let Some(items) = typed.take("line", read) else {
        return refused(&app, trainer, &desk, chrome, View { line: typed, ..View::default() }).await;
    };
    match kit::add_all(&app.pool, trainer, place, &numbered(id, items)).await {
        Ok(()) => Ok(to_kit(client, place)),
        Err(error) => beside(&app, trainer, &desk, chrome, View { line: typed, ..View::default() }, error.into()).await,
    }
}

/// Items with identifiers that follow from the form's, so that sending it twice stores them once.
fn numbered(id: Uuid, items: Vec<KitItem>) -> Vec<(Uuid, KitItem)> {
    let nth = |i: usize| Uuid::from_u128(id.as_u128().wrapping_add(i as u128));
    items.into_iter().enumerate().map(|(i, item)| (nth(i), item)).collect()
}

/// A common set of kit as a starting point.
async fn add_start(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place)): Ids<(Uuid, Uuid)>,
    fields: Fields,
) -> Result<Response, WebError> {
    Desk::load(&app, trainer, client, Some(place)).await?;
    let start = rooms::starting_kit(&app, fields.text("start"))?;
    kit::add_all(&app.pool, trainer, place, &numbered(fields.id("id")?, start.kit.clone())).await?;
    Ok(to_kit(client, place))
}

/// A door anchor is an anchor that is put up in another way.
pub(super) const DOOR_ANCHOR: &str = "door_anchor";

/// What the palette under the picture offers: one of a usual size, or at the height that was pointed at.
fn quick(kind: &str, height: Option<f64>) -> Option<KitItem> {
    let item = if kind == DOOR_ANCHOR { KitItem::Anchor(Anchor::in_door()) } else { (Kind::of(kind)?.usual?.piece)() };
    Some(match (item, height) {
        (KitItem::Anchor(anchor), Some(height)) => KitItem::Anchor(Anchor { heights_m: vec![height], ..anchor }),
        (item, _) => item,
    })
}

async fn add_quick(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::load(&app, trainer, client, Some(place)).await?;
    let id = fields.id("id")?;
    let mut typed = Typed::of(&fields);
    let height = typed.number("height", ranges::HANGING_HEIGHT);
    if let Some(why) = typed.error("height").map(|e| format!("Height: {e}")) {
        return refused(&app, trainer, &desk, chrome, View { picture_error: Some(why), ..View::default() }).await;
    }
    let item =
        quick(fields.text("kind"), height).ok_or_else(|| WebError::bad("kind", "is nothing that can be added"))?;
    match kit::add(&app.pool, trainer, place, id, &item).await {
        Ok(_) => Ok(to_kit(client, place)),
        Err(error) => beside(&app, trainer, &desk, chrome, View::default(), error.into()).await,
    }
}

/// Moves one height of what hangs or holds.
async fn move_height(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place, item)): Ids<(Uuid, Uuid, Uuid)>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::load(&app, trainer, client, Some(place)).await?;
    let id = fields.id("id")?;
    let index: usize = fields.text("index").parse().map_err(|_| WebError::bad("index", "is no number"))?;
    let mut typed = Typed::of(&fields);
    let height = typed.number("height", ranges::HANGING_HEIGHT);
    let Some(height) = height else {
        let why = typed.error("height").map_or_else(|| "Height: is needed".to_owned(), |e| format!("Height: {e}"));
        return refused(&app, trainer, &desk, chrome, View { picture_error: Some(why), ..View::default() }).await;
    };
    let old = desk.history.iter().find(|p| p.piece.id == item).ok_or(WebError::NotFound)?;
    if old.piece.item.heights().len() <= index {
        return Err(WebError::bad("index", "is no height of this piece"));
    }
    let moved = old.piece.item.clone().at_height(index, (height * 100.0).round() / 100.0);
    match kit::replace(&app.pool, trainer, place, item, id, &moved).await {
        Ok(()) => Ok(to_kit(client, place)),
        Err(StoreError::Conflict) => {
            let view = View { meanwhile: Some(meanwhile(&desk, &moved)), ..View::default() };
            refused(&app, trainer, &desk, chrome, view).await
        }
        Err(other) => Err(other.into()),
    }
}

/// Takes one weight off the shelf: the piece without it, or no piece where it was the last.
async fn remove_weight(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place, item)): Ids<(Uuid, Uuid, Uuid)>,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::load(&app, trainer, client, Some(place)).await?;
    let piece = desk.piece(item).ok_or(WebError::ChangedMeanwhile)?;
    let (pairs, singles, _) = piece.item.fixed_weights().ok_or(WebError::NotFound)?;
    let pair = fields.text("pair") == "true";
    let weights = if pair { pairs } else { singles };
    let at = weights.iter().position(|w| trim_number(*w, 4) == fields.text("weight"));
    match piece.item.without_weight(pair, at.ok_or(WebError::ChangedMeanwhile)?) {
        Some(left) => kit::replace(&app.pool, trainer, place, item, fields.id("id")?, &left).await?,
        None => kit::remove(&app.pool, trainer, place, item).await.map(drop)?,
    }
    Ok(Redirect::to(&format!("{}&removed={item}#kit", address(client, place))).into_response())
}

/// The answers about an improvised thing.
async fn check(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place, item)): Ids<(Uuid, Uuid, Uuid)>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::load(&app, trainer, client, Some(place)).await?;
    desk.piece(item).ok_or(WebError::NotFound)?;
    let answer = |name: &str| match fields.text(name) {
        "yes" => Some(true),
        "no" => Some(false),
        _ => None,
    };
    let (Some(holds), Some(slips)) = (answer("holds"), answer("slips")) else {
        let view = View { check_error: Some(item), ..View::default() };
        return refused(&app, trainer, &desk, chrome, view).await;
    };
    kit::answer(&app.pool, trainer, place, item, StabilityCheck { holds, slips, on: desk.who.today }).await?;
    Ok(to_kit(client, place))
}

/// Says whether a piece goes along wherever the client trains.
async fn set_travels(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place, item)): Ids<(Uuid, Uuid, Uuid)>,
    fields: Fields,
) -> Result<Response, WebError> {
    own(&app, trainer, client, place).await?;
    kit::set_travels(&app.pool, trainer, place, item, fields.text("travels") == "1").await?;
    Ok(to_kit(client, place))
}

async fn remove(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place, item)): Ids<(Uuid, Uuid, Uuid)>,
) -> Result<Response, WebError> {
    own(&app, trainer, client, place).await?;
    kit::remove(&app.pool, trainer, place, item).await?;
    Ok(Redirect::to(&format!("{}&removed={item}#kit", address(client, place))).into_response())
}

/// Undoes a removal. Where only one weight of several was taken off, what was left of the piece goes.
async fn restore(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, place, item)): Ids<(Uuid, Uuid, Uuid)>,
    fields: Fields,
) -> Result<Response, WebError> {
    own(&app, trainer, client, place).await?;
    kit::restore(&app.pool, trainer, place, item).await?;
    if !fields.text("instead").is_empty() {
        kit::remove(&app.pool, trainer, place, fields.id("instead")?).await?;
    }
    Ok(to_kit(client, place))
}

async fn own(app: &App, trainer: TrainerId, client: Uuid, place: Uuid) -> Result<PlaceHead, WebError> {
    let head = places::one(&app.pool, trainer, place).await?;
    if head.client_id == client { Ok(head) } else { Err(WebError::NotFound) }
}
