//! A planned session: blocks and slots, each with its intent and its fit.

mod head;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::routing::get;
use bavrek_core::dose::Prescription;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::progress::{Call, CallKind};
use bavrek_store::TrainerId;
use bavrek_store::fits::{self, Fit};
use bavrek_store::places::{self, PlaceHead};
use bavrek_store::sessions;
use bavrek_store::slots::{self, Slot};
use serde::Deserialize;
use uuid::Uuid;

use super::roster::day;
use super::scene::{Scene, dose_text, purpose};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Ids, Me, Mine};
use crate::pictures::torso::{self, Torso, Work};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/sessions/{session}", get(show)).merge(head::routes())
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
    torso: Torso,
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
    let head = sessions::head(&app.pool, trainer, session).await?;
    let mut scene = Scene::load(&app, trainer, &head).await?;
    let chrome = scene.frame(chrome);
    let fits = fits::of_session(&app.pool, trainer, session, head.place_id).await?;
    let places = places::of_client(&app.pool, trainer, head.client_id).await?;
    let mut blocks = Vec::new();
    let mut work = std::collections::BTreeMap::new();
    for block in sessions::blocks(&app.pool, trainer, session).await? {
        let mut slots = Vec::new();
        for slot in &block.slots {
            let fit = fits.get(&slot.id);
            if let Some(fit) = fit {
                add_work(&app, &mut work, fit);
            }
            let call = match fit {
                Some(fit) => scene.open_call(&app, trainer, slot, fit).await?.map(|(call, _)| call),
                None => None,
            };
            slots.push(slot_view(&app, &scene, slot, fit, call.as_ref()));
        }
        let kind = (block.kind != BlockKind::Straight && slots.len() > 1).then(|| block.kind.label());
        blocks.push(BlockView { kind, slots });
    }
    let removed = match shown.removed {
        Some(id) => removed(&app, trainer, session, id).await?,
        None => None,
    };
    Ok(Page {
        id: session,
        name: head.name.clone(),
        when: format!("{}, {} min", day(head.planned_on, scene.today), head.minutes),
        client: (scene.client.id, scene.client.name.clone()),
        place: scene.place.name.clone(),
        at: head.place_id,
        elsewhere: elsewhere(places, head.place_id),
        limits: scene.person.limits.iter().map(bavrek_core::person::Limit::text).collect(),
        method: head.method.map(bavrek_core::method::Method::label),
        removed,
        blocks,
        torso: torso::draw("t", "Sets planned in this session", &work, &[]),
        chrome: chrome.titled(head.name),
    })
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

fn add_work(app: &App, work: &mut std::collections::BTreeMap<bavrek_core::anatomy::Region, Work>, fit: &Fit) {
    let Some(movement) = app.catalogue.movement(&fit.exercise) else { return };
    let sets = fit.prescription.sets.len() as f64;
    for (region, weight) in &movement.direct {
        work.entry(*region).or_default().direct += sets * weight;
    }
    for (region, weight) in &movement.assisting {
        work.entry(*region).or_default().assisting += 0.5 * sets * weight;
    }
}

fn slot_view(app: &App, scene: &Scene, slot: &Slot, fit: Option<&Fit>, call: Option<&Call>) -> SlotView {
    let done = scene.done_today(slot.id).count();
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
            done: (done > 0).then(|| format!("{done} of {} sets logged today", expected_sets(app, fit))),
        }),
        call: call.map(|call| CallView {
            what: call.call.label(),
            to: call.step.as_ref().map_or_else(String::new, |s| s.label.clone()),
            stopping: matches!(call.call, CallKind::Swap | CallKind::Refer),
        }),
    }
}

/// Sets to log for a fit: a one-sided movement counts each side.
pub(super) fn expected_sets(app: &App, fit: &Fit) -> usize {
    let sides = if app.catalogue.movement(&fit.exercise).is_some_and(bavrek_core::movement::Movement::unilateral) {
        2
    } else {
        1
    };
    fit.prescription.sets.len() * sides
}

/// What the intent asks for: `fly, hardest lengthened, 3 × 8–12, 2 in reserve`.
fn asked(intent: &Intent) -> String {
    let dose: Prescription = intent.prescription();
    format!("{}: {}", intent.pattern, dose.text())
}
