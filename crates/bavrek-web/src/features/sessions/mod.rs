//! A planned session: blocks and slots, each with its intent and its fit.

mod head;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::dose::Prescription;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::progress::{Call, CallKind};
use bavrek_core::script::WorkoutState;
use bavrek_core::volume::{Volume, share_of_set};
use bavrek_store::fits::{self, Fit};
use bavrek_store::places::{self, PlaceHead};
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::slots::{self, Slot};
use bavrek_store::{StoreError, TrainerId, new_id, workouts};
use chrono::{Duration, NaiveDate};
use serde::Deserialize;
use uuid::Uuid;

use super::roster::day;
use super::scene::{Scene, dose_text, purpose};
use super::typed::Typed;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::pictures::torso::{self, Torso};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/sessions/{session}", get(show))
        .route("/sessions/{session}/days", post(plan))
        .route("/sessions/{session}/days/{workout}/remove", post(take_out))
        .merge(head::routes())
}

#[derive(Deserialize, Default)]
struct Shown {
    /// The slot just taken out, which can come back.
    removed: Option<Uuid>,
}

#[derive(Template, WebTemplate)]
#[template(path = "sessions/page.html")]
struct Page {
    chrome: Chrome,
    id: Uuid,
    name: String,
    when: String,
    client: (Uuid, String),
    place: String,
    at: Uuid,
    /// The client's places, others first, to re-fit to.
    elsewhere: Vec<(Uuid, String)>,
    limits: Vec<String>,
    /// The school it follows.
    method: Option<&'static str>,
    /// The slot just taken out.
    removed: Option<(Uuid, String)>,
    blocks: Vec<BlockView>,
    /// Days on which it was done or is planned, the latest first.
    days: Vec<DayView>,
    /// One more day: identifier, day as typed or usual, what is wrong with it.
    planning: (Uuid, String, Option<String>),
    torso: Torso,
}

struct DayView {
    id: Uuid,
    when: String,
    state: &'static str,
    told: String,
    /// Whether it can be taken out again.
    open: bool,
}

struct BlockView {
    kind: Option<&'static str>,
    slots: Vec<SlotView>,
}

struct SlotView {
    id: Uuid,
    purpose: String,
    asked: String,
    fit: Option<FitView>,
    call: Option<CallView>,
}

struct FitView {
    name: String,
    load: String,
    setup: String,
    dose: String,
    pinned: bool,
    done: Option<String>,
}

struct CallView {
    what: &'static str,
    to: String,
    stopping: bool,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    Query(shown): Query<Shown>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    page(&app, trainer, session, shown, chrome, Typed::default()).await
}

async fn page(
    app: &App,
    trainer: TrainerId,
    session: Uuid,
    shown: Shown,
    chrome: Chrome,
    planning: Typed,
) -> Result<Page, WebError> {
    let head = sessions::head(&app.pool, trainer, session).await?;
    let mut scene = Scene::load(app, trainer, &head).await?;
    let chrome = scene.frame(chrome);
    let fits = fits::of_session(&app.pool, trainer, session, head.place_id).await?;
    let places = places::of_client(&app.pool, trainer, head.client_id).await?;
    let mut blocks = Vec::new();
    let mut volume = Volume::default();
    for block in sessions::blocks(&app.pool, trainer, session).await? {
        let mut slots = Vec::new();
        for slot in &block.slots {
            let fit = fits.get(&slot.id);
            if let Some((fit, movement)) = fit.and_then(|f| Some((f, app.catalogue.movement(&f.exercise)?))) {
                volume.plan(movement, &fit.prescription);
            }
            let call = match fit {
                Some(fit) => scene.open_call(app, trainer, slot, fit).await?.map(|(call, _)| call),
                None => None,
            };
            slots.push(slot_view(app, &scene, slot, fit, call.as_ref()));
        }
        let kind = (block.kind != BlockKind::Straight && slots.len() > 1).then(|| block.kind.label());
        blocks.push(BlockView { kind, slots });
    }
    let removed = match shown.removed {
        Some(id) => removed(app, trainer, session, id).await?,
        None => None,
    };
    let days = workouts::of_session(&app.pool, trainer, session).await?;
    Ok(Page {
        id: session,
        name: head.name.clone(),
        when: when(&head, scene.today),
        client: (scene.client.id, scene.client.name.clone()),
        place: scene.place.name.clone(),
        at: head.place_id,
        elsewhere: elsewhere(places, head.place_id),
        limits: scene.person.limits.iter().map(bavrek_core::person::Limit::text).collect(),
        method: head.method.map(bavrek_core::method::Method::label),
        removed,
        blocks,
        days: days.iter().map(|d| day_view(d, scene.today, days.len() > 1)).collect(),
        planning: (new_id(), next_day(&planning, &days, scene.today), planning.error("on").map(str::to_owned)),
        torso: torso::draw("t", "Sets planned in this session", volume.regions(), &[]),
        chrome: chrome.titled(head.name),
    })
}

/// When it is next done, or was last, and how long it takes.
fn when(head: &SessionHead, today: NaiveDate) -> String {
    let on = day(head.planned_on, today);
    match head.state {
        WorkoutState::Planned if head.planned_on < today => format!("was due {on}, {} min", head.minutes),
        WorkoutState::Planned => format!("{on}, {} min", head.minutes),
        state => format!("{state} {on}, {} min", head.minutes),
    }
}

fn day_view(one: &workouts::Day, today: NaiveDate, others: bool) -> DayView {
    let sets = if one.sets == 1 { "1 set".to_owned() } else { format!("{} sets", one.sets) };
    let moved = one.moved_from.map_or_else(String::new, |from| format!("planned for {} before", day(from, today)));
    let told: Vec<String> =
        [(one.sets > 0).then_some(sets), (!moved.is_empty()).then_some(moved)].into_iter().flatten().collect();
    DayView {
        id: one.id,
        when: day(one.on, today),
        state: one.state.label(),
        told: told.join(", "),
        open: others && one.state == WorkoutState::Planned && one.sets == 0,
    }
}

/// The day of one more: as typed, else a week after the latest, and not before tomorrow.
fn next_day(typed: &Typed, days: &[workouts::Day], today: NaiveDate) -> String {
    if typed.error("on").is_some() {
        return typed.value("on").to_owned();
    }
    let week = days.first().map_or(today, |d| d.on + Duration::days(7));
    week.max(today + Duration::days(1)).to_string()
}

/// Plans the session for one more day.
async fn plan(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let mut typed = Typed::of(&fields);
    let on = typed.day("on");
    if on.is_none() {
        typed.refuse("on", "is needed");
    }
    if let Some(on) = on.filter(|_| typed.fine()) {
        match workouts::plan(&app.pool, trainer, session, fields.id("id")?, on).await {
            Ok(()) => return Ok(Redirect::to(&format!("/sessions/{session}#days")).into_response()),
            Err(StoreError::Conflict) => typed.refuse("on", "stands on that day already"),
            Err(other) => return Err(other.into()),
        }
    }
    let page = page(&app, trainer, session, Shown::default(), chrome, typed).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

async fn take_out(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((session, workout)): Ids<(Uuid, Uuid)>,
) -> Result<Redirect, WebError> {
    workouts::take_out(&app.pool, trainer, session, workout).await?;
    Ok(Redirect::to(&format!("/sessions/{session}#days")))
}

/// A slot of the session that was taken out, by what it is for.
async fn removed(app: &App, trainer: TrainerId, session: Uuid, slot: Uuid) -> Result<Option<(Uuid, String)>, WebError> {
    let placed = slots::one(&app.pool, trainer, slot).await?;
    let there = sessions::blocks(&app.pool, trainer, session).await?;
    let back = there.iter().flat_map(|b| &b.slots).any(|s| s.id == slot);
    Ok((placed.session.id == session && !back).then(|| (slot, purpose(&placed.slot.intent))))
}

/// Where the session can be re-fitted: other places first, and here after a change of kit or limits.
fn elsewhere(places: Vec<PlaceHead>, here: Uuid) -> Vec<(Uuid, String)> {
    let mut found: Vec<_> = places.into_iter().filter(|p| !p.archived || p.id == here).collect();
    found.sort_by_key(|p| p.id == here);
    let label = |p: PlaceHead| if p.id == here { format!("{}, as it is now", p.name) } else { p.name };
    found.into_iter().map(|p| (p.id, label(p))).collect()
}

fn slot_view(app: &App, scene: &Scene, slot: &Slot, fit: Option<&Fit>, call: Option<&Call>) -> SlotView {
    let done: f64 = scene.done_today(slot.id).map(|r| share_of_set(r.set.side)).sum();
    SlotView {
        id: slot.id,
        purpose: purpose(&slot.intent),
        asked: asked(&slot.intent),
        fit: fit.map(|fit| FitView {
            name: app.catalogue.movement(&fit.exercise).map_or(fit.exercise.clone(), |m| m.name.clone()),
            load: fit.step.label.clone(),
            setup: fit.step.setup.surface.map_or_else(String::new, |s| s.label().to_owned()),
            dose: dose_text(app, &fit.exercise, &fit.prescription),
            pinned: fit.pinned,
            done: (done > 0.0)
                .then(|| format!("{} of {} sets logged today", done.floor(), fit.prescription.sets.len())),
        }),
        call: call.map(|call| CallView {
            what: call.call.label(),
            to: call.step.as_ref().map_or_else(String::new, |s| s.label.clone()),
            stopping: matches!(call.call, CallKind::Swap | CallKind::Refer),
        }),
    }
}

/// What the intent asks for: `fly, hardest lengthened, 3 × 8–12, 2 in reserve`.
fn asked(intent: &Intent) -> String {
    let dose: Prescription = intent.prescription();
    format!("{}: {}", intent.pattern, dose.text())
}
