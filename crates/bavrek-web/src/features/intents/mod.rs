//! Intents: what a slot is for, from scratch or read off a movement, with what does the job here beside it.

mod form;
mod views;

use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::anatomy::Region;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_store::fits::Fit;
use bavrek_store::health::PlanChange;
use bavrek_store::sessions::{self, Block, SessionHead};
use bavrek_store::slots::{self, Joining, Slot};
use bavrek_store::{StoreError, TrainerId};
use serde::Deserialize;
use uuid::Uuid;

use self::views::{Page, Seen};
use super::dosing;
use super::scene::{self, Around, Scene};
use super::typed::Typed;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/sessions/{session}/slots/new", get(fresh).post(add))
        .route("/sessions/{session}/slots/try", get(back_to_fresh).post(try_fresh))
        .route("/sessions/{session}/slots/read-off", get(back_to_fresh).post(read_off_fresh))
        .route("/slots/{slot}/intent", get(edit).post(save))
        .route("/slots/{slot}/intent/try", get(back_to_edit).post(try_edit))
        .route("/slots/{slot}/intent/read-off", get(back_to_edit).post(read_off_edit))
        .route("/slots/{slot}/remove", post(remove))
        .route("/slots/{slot}/restore", post(restore))
}

/// Where an intent is written: a session, the slot if it is there already, and who trains where.
struct Desk {
    scene: Scene,
    session: SessionHead,
    blocks: Vec<Block>,
    slot: Option<Slot>,
}

impl Desk {
    async fn of_session(app: &App, trainer: TrainerId, session: Uuid) -> Result<Self, WebError> {
        let session = sessions::head(&app.pool, trainer, session).await?;
        Self::load(app, trainer, session, None).await
    }

    async fn of_slot(app: &App, trainer: TrainerId, slot: Uuid) -> Result<Self, WebError> {
        let placed = slots::one(&app.pool, trainer, slot).await?;
        Self::load(app, trainer, placed.session, Some(placed.slot)).await
    }

    async fn load(app: &App, trainer: TrainerId, session: SessionHead, slot: Option<Slot>) -> Result<Self, WebError> {
        let scene = Scene::load(app, trainer, &session).await?;
        let blocks = sessions::blocks(&app.pool, trainer, session.id).await?;
        Ok(Self { scene, session, blocks, slot })
    }

    /// Where a new slot is to go; none where the form names a block that is not of this session.
    fn joining(&self, typed: &mut Typed) -> Option<Joining> {
        let block = typed.value("block").to_owned();
        if block.is_empty() {
            return Some(Joining::Alone);
        }
        let block = block.parse::<Uuid>().ok().filter(|id| self.blocks.iter().any(|b| b.id == *id));
        let kind = typed.word("kind", BlockKind::from_id).unwrap_or(BlockKind::Superset);
        if block.is_none() {
            typed.refuse("block", "is not in this session any more");
        }
        Some(Joining::Block(block?, kind))
    }

    /// The fits that would alternate with the slot.
    async fn beside(&self, app: &App, trainer: TrainerId, typed: &Typed) -> Result<Vec<Fit>, WebError> {
        let id = self.slot.as_ref().map(|s| s.id);
        if let Some(id) = id {
            return Ok(Around::of(app, trainer, &self.session).await?.beside(id));
        }
        let Ok(joined) = typed.value("block").parse::<Uuid>() else { return Ok(Vec::new()) };
        // A block on its own becomes a joined one with this slot.
        let mut fits =
            bavrek_store::fits::of_session(&app.pool, trainer, self.session.id, self.session.place_id).await?;
        let block = self.blocks.iter().find(|b| b.id == joined);
        Ok(block.map_or_else(Vec::new, |b| b.slots.iter().filter_map(|s| fits.remove(&s.id)).collect()))
    }

    async fn page(
        mut self,
        app: &App,
        trainer: TrainerId,
        chrome: Chrome,
        typed: Typed,
        intent: Option<&Intent>,
    ) -> Result<Page, WebError> {
        let beside = self.beside(app, trainer, &typed).await?;
        let chrome = self.scene.frame(chrome);
        Ok(Page::new(
            chrome,
            app,
            &Seen { scene: &self.scene, session: &self.session, blocks: &self.blocks, slot: self.slot.as_ref() },
            &typed,
            intent,
            &scene::mates(app, &beside),
        ))
    }
}

#[derive(Deserialize, Default)]
struct Wanted {
    /// A region that the new slot is to train.
    #[serde(default)]
    region: String,
    /// A press of the session whose path the new slot is to mirror, by turns with it.
    mirror: Option<Uuid>,
}

async fn fresh(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    Query(wanted): Query<Wanted>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let desk = Desk::of_session(&app, trainer, session).await?;
    if let Some(press) = wanted.mirror {
        let found = desk.blocks.iter().find_map(|b| Some((b.id, b.slots.iter().find(|s| s.id == press)?)));
        let (block, slot) = found.ok_or(WebError::NotFound)?;
        let typed = form::mirrored(&app.catalogue, &slot.intent, block);
        return match typed {
            Some(typed) => tried(desk, &app, trainer, chrome, typed).await,
            None => desk.page(&app, trainer, chrome, form::usual(), None).await,
        };
    }
    match Region::from_id(&wanted.region) {
        Some(region) => tried(desk, &app, trainer, chrome, form::of_region(&app.catalogue, region)).await,
        None => desk.page(&app, trainer, chrome, form::usual(), None).await,
    }
}

async fn edit(Mine(app): Mine, Me(trainer): Me, Ids(slot): Ids, chrome: Chrome) -> Result<Page, WebError> {
    let desk = Desk::of_slot(&app, trainer, slot).await?;
    let intent = desk.slot.as_ref().map(|s| s.intent.clone()).ok_or(WebError::NotFound)?;
    let typed = form::typed_of(&app.catalogue, &intent);
    desk.page(&app, trainer, chrome, typed, Some(&intent)).await
}

async fn back_to_fresh(Ids(session): Ids) -> Redirect {
    Redirect::to(&format!("/sessions/{session}/slots/new"))
}

async fn back_to_edit(Ids(slot): Ids) -> Redirect {
    Redirect::to(&format!("/slots/{slot}/intent"))
}

/// The page as it would be with what is typed; nothing is stored.
async fn tried(desk: Desk, app: &App, trainer: TrainerId, chrome: Chrome, mut typed: Typed) -> Result<Page, WebError> {
    let intent = form::read(&app.catalogue, &mut typed);
    typed.forgive_missing();
    desk.page(app, trainer, chrome, typed, intent.as_ref()).await
}

async fn try_fresh(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Page, WebError> {
    let desk = Desk::of_session(&app, trainer, session).await?;
    tried(desk, &app, trainer, chrome, Typed::of(&fields)).await
}

async fn try_edit(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(slot): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Page, WebError> {
    let desk = Desk::of_slot(&app, trainer, slot).await?;
    tried(desk, &app, trainer, chrome, Typed::of(&fields)).await
}

/// The form filled with what the named movement says.
async fn filled(desk: Desk, app: &App, trainer: TrainerId, chrome: Chrome, fields: &Fields) -> Result<Page, WebError> {
    let typed = form::read_off(&app.catalogue, &desk.scene.person, Typed::of(fields));
    if typed.fine() {
        return tried(desk, app, trainer, chrome, typed).await;
    }
    desk.page(app, trainer, chrome, typed, None).await
}

async fn read_off_fresh(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Page, WebError> {
    let desk = Desk::of_session(&app, trainer, session).await?;
    filled(desk, &app, trainer, chrome, &fields).await
}

async fn read_off_edit(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(slot): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Page, WebError> {
    let desk = Desk::of_slot(&app, trainer, slot).await?;
    filled(desk, &app, trainer, chrome, &fields).await
}

async fn add(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::of_session(&app, trainer, session).await?;
    let id = fields.id("id")?;
    let mut typed = Typed::of(&fields);
    let intent = form::read(&app.catalogue, &mut typed);
    let joining = desk.joining(&mut typed);
    let (Some(intent), Some(joining), true) = (&intent, joining, typed.fine()) else {
        let page = desk.page(&app, trainer, chrome, typed, intent.as_ref()).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    slots::add(&app.pool, trainer, session, id, intent, joining).await?;
    Ok(Redirect::to(&format!("/slots/{id}/bench")).into_response())
}

async fn save(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(slot): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::of_slot(&app, trainer, slot).await?;
    let mut typed = Typed::of(&fields);
    let intent = form::read(&app.catalogue, &mut typed);
    let Some(intent) = intent else {
        let page = desk.page(&app, trainer, chrome, typed, None).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    let version = fields.text("version").parse().map_err(|_| WebError::bad("version", "is no number"))?;
    match slots::set_intent(&app.pool, trainer, slot, version, &intent).await {
        Ok(()) => {
            let before = desk.slot.as_ref().map(|s| s.intent.clone());
            let target = onwards(&app, trainer, &desk, slot, (before.as_ref(), &intent)).await?;
            Ok(Redirect::to(&target).into_response())
        }
        Err(StoreError::Conflict) => {
            let desk = Desk::of_slot(&app, trainer, slot).await?;
            let now = desk.slot.as_ref().map(|s| (s.version, s.intent.clone()));
            let page = desk.page(&app, trainer, chrome, typed, Some(&intent)).await?;
            let page = match now {
                Some((version, stored)) => page.changed_meanwhile(version, &stored),
                None => page,
            };
            Ok((StatusCode::CONFLICT, page).into_response())
        }
        Err(other) => Err(other.into()),
    }
}

/// Where to go on after a change: with the same job the movements stay, so back to the session; with another one to the
/// swap bench.
async fn onwards(
    app: &App,
    trainer: TrainerId,
    desk: &Desk,
    slot: Uuid,
    (before, now): (Option<&Intent>, &Intent),
) -> Result<String, WebError> {
    let fits = dosing::redose(app, trainer, (slot, PlanChange::Hardens), (before, now)).await?;
    let here = fits.iter().any(|f| f.place_id == desk.session.place_id);
    let same_job = here && before.is_some_and(|b| b.is_same_job(now));
    let back = format!("/sessions/{}?pick={slot}#slot-{slot}", desk.session.id);
    Ok(if same_job { back } else { format!("/slots/{slot}/bench") })
}

async fn remove(Mine(app): Mine, Me(trainer): Me, Ids(slot): Ids) -> Result<Redirect, WebError> {
    let placed = slots::one(&app.pool, trainer, slot).await?;
    slots::set_removed(&app.pool, trainer, slot, true).await?;
    Ok(Redirect::to(&format!("/sessions/{}?removed={slot}", placed.session.id)))
}

async fn restore(Mine(app): Mine, Me(trainer): Me, Ids(slot): Ids) -> Result<Redirect, WebError> {
    let placed = slots::one(&app.pool, trainer, slot).await?;
    slots::set_removed(&app.pool, trainer, slot, false).await?;
    Ok(Redirect::to(&format!("/sessions/{}?pick={slot}#slot-{slot}", placed.session.id)))
}
