//! The rig page: how is it set up, and what does it pull? The whole state is in the address.

pub(super) mod forms;
mod views;

use std::collections::BTreeMap;

use axum::Router;
use axum::extract::Query;
use axum::http::{HeaderMap, StatusCode};
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::kit::{KitItem, full_room};
use bavrek_core::ladder::LadderStep;
use bavrek_core::movement::Movement;
use bavrek_core::person::Person;
use bavrek_store::fits::{self, NewFit};
use bavrek_store::slots::PlacedSlot;
use bavrek_store::{TrainerId, connection, kit};
use uuid::Uuid;

use self::forms::{Band, RigForm};
use self::views::Page;
use super::scene;
use super::who::Who;
use crate::chrome::{Banner, Chrome};
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/rig", get(show)).route("/slots/{slot}/rig", post(take))
}

/// Who does it, where, and for which slot.
struct Setting {
    person: Person,
    /// Whose proportions are drawn.
    client: Option<(Uuid, String)>,
    /// The place's name; without one a room that has everything.
    place: Option<String>,
    kit: Vec<KitItem>,
    bands: Vec<Band>,
    slot: Option<PlacedSlot>,
    /// The step in force in the slot.
    current: Option<(String, LadderStep)>,
    banners: Vec<Banner>,
}

impl Setting {
    async fn load(app: &App, trainer: TrainerId, asked: &BTreeMap<String, String>) -> Result<Self, WebError> {
        let id = |name: &str| match asked.get(name).filter(|v| !v.is_empty()) {
            Some(text) => text.parse::<Uuid>().map(Some).map_err(|_| WebError::NotFound),
            None => Ok(None),
        };
        if let Some(slot) = id("slot")? {
            return Self::of_slot(app, trainer, slot).await;
        }
        let (mut person, mut client, mut banners) = (Person::default_figure(), None, Vec::new());
        if let Some(wanted) = id("client")? {
            let who = Who::load(app, trainer, wanted).await?;
            banners = who.banners();
            person = who.person;
            client = Some((who.client.id, who.client.name));
        }
        let kit = full_room();
        Ok(Self { person, client, place: None, bands: forms::common_bands(), kit, slot: None, current: None, banners })
    }

    async fn of_slot(app: &App, trainer: TrainerId, slot: Uuid) -> Result<Self, WebError> {
        let (placed, scene) = scene::of_slot(app, trainer, slot).await?;
        let mut pieces = kit::at_hand(&mut *connection(&app.pool).await?, trainer, &scene.place_head).await?;
        pieces.retain(kit::Piece::usable);
        let current = fits::of_slot(&app.pool, trainer, slot, scene.place_head.id).await?;
        Ok(Self {
            bands: forms::bands_of(&pieces),
            kit: scene.place.kit.clone(),
            client: Some((scene.client.id, scene.client.name.clone())),
            place: Some(scene.place.name.clone()),
            current: current.map(|f| scene.now(app, f)).map(|f| (f.exercise, f.step)),
            person: scene.person,
            banners: scene.banners,
            slot: Some(placed),
        })
    }
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Query(asked): Query<BTreeMap<String, String>>,
    headers: HeaderMap,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let mut setting = Setting::load(&app, trainer, &asked).await?;
    let chrome = Chrome { banners: std::mem::take(&mut setting.banners), ..chrome };
    let movement = chosen(&app, &asked, &setting)?;
    let form = RigForm::read(&app, movement, &setting, &asked);
    let page = Page::new(chrome.titled(format!("Rig: {}", movement.name)), &app, movement, &setting, &form);
    // While a handle is dragged only the parts that change are wanted: the long list of movements stays behind.
    Ok(if headers.contains_key("x-live") { page.without_choice() } else { page })
}

impl Setting {
    fn step_of(&self, movement: &Movement) -> Option<&LadderStep> {
        self.current.as_ref().filter(|(id, _)| *id == movement.id).map(|(_, step)| step)
    }
}

fn chosen<'a>(app: &'a App, asked: &BTreeMap<String, String>, setting: &Setting) -> Result<&'a Movement, WebError> {
    let wanted = asked.get("movement").map(String::as_str).filter(|id| !id.is_empty());
    let usual = setting.current.as_ref().map_or("band_fly", |(id, _)| id.as_str());
    app.catalogue.movement(wanted.unwrap_or(usual)).ok_or(WebError::NotFound)
}

/// Puts the set-up in force in the slot. What is not for this client or this room is refused with the reason, and what
/// was typed stays on the page.
async fn take(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(slot): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let mut setting = Setting::of_slot(&app, trainer, slot).await?;
    let chrome = Chrome { banners: std::mem::take(&mut setting.banners), ..chrome };
    let asked = fields.to_map();
    let movement = chosen(&app, &asked, &setting)?;
    let form = RigForm::read(&app, movement, &setting, &asked);
    let Some(placed) = &setting.slot else { return Err(WebError::NotFound) };
    if let Some(step) = form.step(movement, &setting.person) {
        let prescription = placed.slot.intent.dose.prescription().loaded(step.load);
        let new = NewFit {
            slot_id: slot,
            place_id: placed.session.place_id,
            exercise: &movement.id,
            step: &step,
            prescription: &prescription,
            pinned: false,
        };
        fits::take(&app.pool, trainer, &new).await?;
        Ok(Redirect::to(&format!("/sessions/{}?pick={slot}#slot-{slot}", placed.session.id)).into_response())
    } else {
        let page = Page::new(chrome.titled(format!("Rig: {}", movement.name)), &app, movement, &setting, &form);
        Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
    }
}
