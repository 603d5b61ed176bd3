//! The session on the phone: what now? One set at a time, in the order of the script, logged in two taps.

mod asked;
mod course;
mod floor;
mod forms;
mod logbook;
mod paper;
mod phone;
mod record;
mod remind;
mod told;
mod views;
mod warm;
mod within;

use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::anatomy::Joint;
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::Movement;
use bavrek_core::person::Side;
use bavrek_store::fits::{self, Fit};
use bavrek_store::skips::{self, Skip};
use bavrek_store::spot_swaps::{self, SpotSwap};
use bavrek_store::{StoreError, TrainerId, new_id};
use serde::Deserialize;
use uuid::Uuid;

use self::asked::Asked;
use self::floor::{Floor, Post, Shown};
use self::forms::{Basis, SetForm};
use self::record::New;
pub(crate) use self::remind::remind_all;
pub(super) use self::told::what;
use self::views::{Page, Showing, Stale};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::scene::Scene;
use crate::state::App;

/// What is said of a form whose identifier stands for other figures.
const SENT_BEFORE: &str =
    "This was sent before with other figures, and what was sent first stands below. Log again to add a set.";

/// Longest reason for leaving something out, characters.
const LONGEST_REASON: usize = 120;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/sessions/{session}/train", get(show).post(log_set))
        .route("/sessions/{session}/train/warm-up", get(warm::show))
        .route("/sessions/{session}/train/skip", get(back).post(skip))
        .route("/sessions/{session}/train/enough", get(back).post(enough))
        .route("/sessions/{session}/train/take-up", get(back).post(take_up))
        .merge(logbook::routes())
        .merge(paper::routes())
        .merge(phone::routes())
}

/// What a client reaches by a link.
pub(super) fn linked_routes(app: &App) -> Router<App> {
    phone::linked_routes(app).merge(paper::linked_routes(app))
}

#[derive(Deserialize, Default)]
struct Wanted {
    /// A slot other than the next one.
    slot: Option<Uuid>,
    /// A set to correct.
    correct: Option<Uuid>,
    /// Whether the steps are wanted to which it can be changed within the set.
    #[serde(default)]
    change: bool,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    Query(wanted): Query<Wanted>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let mut floor = Floor::load(&app, trainer, session).await?;
    let chrome = floor.scene.frame(chrome);
    let correcting = match wanted.correct {
        Some(id) => Some(floor.scene.records().iter().find(|r| r.id == id).ok_or(WebError::NotFound)?.clone()),
        None => None,
    };
    let slot = wanted.slot.or(correcting.as_ref().and_then(|r| r.slot_id));
    let slot = match slot {
        Some(id) => Some(floor.post(id).map(|p| p.slot.id).ok_or(WebError::NotFound)?),
        None => None,
    };
    let showing = Showing { slot, correcting: correcting.as_ref(), change: wanted.change, ..Showing::default() };
    Page::of(&app, trainer, chrome, &floor, showing).await
}

/// Where a logged set leads: on with the session, or, where it hurt, to what can be done without pain.
fn after(session: Uuid, slot: Uuid, set: &LoggedSet, stopped: bool) -> String {
    match set.pain_at.filter(|_| stopped || set.hurt()) {
        Some(joint) => pain_free(slot, joint, set.pain_side, set.pain),
        None => format!("/sessions/{session}/train"),
    }
}

/// The answers to a joint that hurts.
pub(super) fn pain_free(slot: Uuid, joint: Joint, side: Option<Side>, strength: Option<u8>) -> String {
    let side = side.map_or("", Side::id);
    let strength = strength.map_or_else(String::new, |n| n.to_string());
    format!("/slots/{slot}/spot?hurts={}&side={side}&pain={strength}", joint.id())
}

/// What a set is logged against: the fit or swap that the form was filled in with.
async fn basis(app: &App, trainer: TrainerId, (scene, post): (&Scene, &Post), shown: Shown) -> Result<Basis, WebError> {
    let mut fit = fits::ever(&app.pool, trainer, post.slot.id, shown.fit).await?;
    if let Some(id) = shown.swap {
        let SpotSwap { exercise, step, prescription, .. } =
            spot_swaps::ever(&app.pool, trainer, post.slot.id, id).await?;
        fit = Fit { exercise, step, prescription, ..fit };
    }
    Ok(Basis::of(app, scene.for_the_day(app, &post.slot.intent, fit), shown.day))
}

/// Appends a set. The identifier comes from the form: sent twice, it is stored once; sent again with other figures, or
/// after the plan changed in another window, the page comes back with both.
async fn log_set(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let mut floor = Floor::load(&app, trainer, session).await?;
    let chrome = floor.scene.frame(chrome);
    let slot = fields.id("slot")?;
    let post = floor.post(slot).ok_or(WebError::NotFound)?;
    let id = fields.id("id")?;
    let supersedes = if fields.text("supersedes").is_empty() { None } else { Some(fields.id("supersedes")?) };
    let corrected = match supersedes {
        // A correction that was sent twice finds the corrected set superseded already; the append below decides.
        Some(old) => floor.scene.records().iter().find(|r| r.id == old || r.id == id).cloned(),
        None => None,
    };
    if supersedes.is_some() && corrected.as_ref().is_none_or(|r| r.slot_id != Some(slot)) {
        return Err(WebError::NotFound);
    }
    let now = post.shown(floor.scene.today);
    let given = |field: &str| Shown::read(fields.text(field));
    // Which of two was meant was said by the button; else what the form was filled in with.
    let chosen = given("as");
    let shown = chosen.or_else(|| given("shown")).unwrap_or(now);
    let already = floor.scene.records().iter().any(|r| r.id == id);
    let stale = chosen.is_none() && corrected.is_none() && shown != now && !already;
    let mut basis = basis(&app, trainer, (&floor.scene, post), shown).await?;
    if let Some(corrected) = &corrected {
        // A correction is one of its own movement, whatever stands in the slot now.
        basis.one_sided = app.catalogue.movement(&corrected.set.exercise).is_some_and(Movement::unilateral);
    }
    let asked = Asked::of(&floor, post, &basis, fields.text("turn"));
    if let Some(step) = basis.step_of(&app, &floor, post, asked.as_ref()) {
        basis.step = step;
    }
    if !fields.text("changed_to").is_empty() {
        basis.around = within::around(&app, &floor, &basis, corrected.as_ref().map(|r| &r.set));
    }
    let (status, form) = match SetForm::read(&fields, &basis, asked.as_ref(), corrected.as_ref().map(|r| &r.set)) {
        Ok(set) if !stale => match record::store(
            &app,
            trainer,
            &floor,
            &New {
                id,
                slot,
                position: record::position(post, corrected.as_ref()),
                set: &set,
                done_at: app.clock.now(),
                supersedes,
                script: None,
            },
        )
        .await
        {
            Ok(()) => {
                record::finish(&app, trainer, session, set.date).await?;
                let stopped = !fields.text("stop").is_empty();
                return Ok(Redirect::to(&after(session, slot, &set, stopped)).into_response());
            }
            Err(StoreError::Conflict) => (StatusCode::CONFLICT, SetForm::of(&set).with(SENT_BEFORE)),
            Err(other) => return Err(other.into()),
        },
        Ok(set) => (StatusCode::CONFLICT, SetForm::of(&set)),
        Err(form) => (StatusCode::UNPROCESSABLE_ENTITY, *form),
    };
    let stale = stale.then(|| Stale::between(&app, post, (shown, &basis), now));
    let showing = Showing {
        slot: Some(slot),
        correcting: corrected.as_ref(),
        form: Some(form),
        stale,
        turn: fields.text("turn"),
        change: false,
    };
    let page = Page::of(&app, trainer, chrome, &floor, showing).await?;
    Ok((status, page).into_response())
}

async fn back(Ids(session): Ids) -> Redirect {
    Redirect::to(&format!("/sessions/{session}/train"))
}

/// Leaves a slot out today; what was logged of it stays, and it can be taken up again.
async fn skip(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let mut floor = Floor::load(&app, trainer, session).await?;
    let chrome = floor.scene.frame(chrome);
    let slot = fields.id("slot")?;
    let reason: String = fields.text("reason").to_owned();
    if reason.chars().count() > LONGEST_REASON {
        let errors = vec![format!("Why it is left out may have at most {LONGEST_REASON} characters.")];
        let form = SetForm { errors, ..SetForm::default() };
        let showing = Showing { slot: Some(slot), form: Some(form), ..Showing::default() };
        let page = Page::of(&app, trainer, chrome, &floor, showing).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    let left_out = Skip { id: fields.id("id")?, slot_id: slot, on: floor.scene.today, reason };
    skips::add(&app.pool, trainer, session, &left_out).await?;
    record::finish(&app, trainer, session, floor.scene.today).await?;
    Ok(Redirect::to(&format!("/sessions/{session}/train")).into_response())
}

/// Leaves out today what may be left out and is not done.
async fn enough(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids) -> Result<Redirect, WebError> {
    let floor = Floor::load(&app, trainer, session).await?;
    for slot_id in floor.may_be_left() {
        let left_out = Skip { id: new_id(), slot_id, on: floor.scene.today, reason: String::new() };
        skips::add(&app.pool, trainer, session, &left_out).await?;
    }
    record::finish(&app, trainer, session, floor.scene.today).await?;
    Ok(Redirect::to(&format!("/sessions/{session}/train")))
}

async fn take_up(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let floor = Floor::load(&app, trainer, session).await?;
    let slot = fields.id("slot")?;
    skips::take_up(&app.pool, trainer, slot, floor.scene.today).await?;
    record::finish(&app, trainer, session, floor.scene.today).await?;
    Ok(Redirect::to(&format!("/sessions/{session}/train?slot={slot}")))
}
