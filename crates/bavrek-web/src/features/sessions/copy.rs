//! A session copied to another day, another place or another client, re-fitted there.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::dose::Prescription;
use bavrek_core::fit::{Because, Candidate, Known, Worked};
use bavrek_core::ladder::LadderStep;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::school::taken_over;
use bavrek_core::script::WorkoutState;
use bavrek_store::fits::{self, Fit, NewFit};
use bavrek_store::places::{self, Owned, PlaceHead};
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::slots::Slot;
use bavrek_store::{TrainerId, new_id};
use serde::Deserialize;
use std::collections::BTreeMap;
use uuid::Uuid;

use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::dosing;
use crate::features::scene::{Scene, purpose};
use crate::features::typed::{Input, Typed};
use crate::state::App;

/// Most places that are listed; a search narrows them.
const MOST_PLACES: i64 = 30;
/// Longest search that is taken, and longest name.
const LONGEST: usize = 80;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/sessions/{session}/copy", get(ask).post(make))
}

#[derive(Deserialize, Default)]
struct Asked {
    /// Part of a client's name; the session's own client without.
    #[serde(default)]
    q: String,
    /// The place to copy to.
    #[serde(default)]
    to: Option<Uuid>,
}

#[derive(Template, WebTemplate)]
#[template(path = "sessions/copy.html")]
struct Page {
    chrome: Chrome,
    id: Uuid,
    name: String,
    q: String,
    places: Vec<Owned>,
    to: Option<Uuid>,
    there: Option<There>,
}

/// The copy as it would be.
struct There {
    copy: Uuid,
    whose: String,
    inputs: Vec<Input>,
    lines: Vec<LineView>,
    stopped: bool,
}

struct LineView {
    purpose: String,
    today: String,
    then: String,
    why: &'static str,
    /// Where no step there suits the dose.
    doubt: Option<String>,
    dose: String,
    /// What of the dose was eased.
    eased: bool,
}

/// A slot at the place to go to.
struct Copied<'a> {
    intent: Intent,
    eased: bool,
    candidate: Option<(Candidate<'a>, Because)>,
    /// The fit that goes along as it is, at the same place.
    kept: Option<&'a Fit>,
}

impl Copied<'_> {
    /// The step and dose with which it begins there.
    fn begins(&self) -> Option<(&LadderStep, Prescription)> {
        if let Some(fit) = self.kept {
            return Some((&fit.step, fit.prescription.clone()));
        }
        let (candidate, _) = self.candidate.as_ref()?;
        let step = candidate.step();
        Some((step, self.intent.prescription_for(candidate.movement.style).loaded(step.load)))
    }
}

/// The session with where it goes.
struct Desk {
    head: SessionHead,
    blocks: Vec<sessions::Block>,
    fits: BTreeMap<Uuid, Fit>,
}

impl Desk {
    async fn load(app: &App, trainer: TrainerId, session: Uuid) -> Result<Self, WebError> {
        let head = sessions::head(&app.pool, trainer, session).await?;
        let blocks = sessions::blocks(&app.pool, trainer, session).await?;
        let fits = fits::of_session(&app.pool, trainer, session, head.place_id).await?;
        Ok(Self { head, blocks, fits })
    }

    /// Who gets it where, as the school of the session weighs a choice.
    async fn scene(&self, app: &App, trainer: TrainerId, place: &PlaceHead) -> Result<Scene, WebError> {
        let mut scene = Scene::at(app, trainer, place.client_id, place.id).await?;
        scene.method = self.head.method;
        Ok(scene)
    }

    fn slots(&self) -> impl Iterator<Item = &Slot> {
        self.blocks.iter().flat_map(|b| &b.slots)
    }

    /// Every slot as it would be there, in order, each after those before it. The client's own dose in force goes along, at
    /// the same place with its very step; somebody else begins with what the slot asks.
    fn copied<'a>(&'a self, app: &'a App, scene: &Scene) -> Vec<Copied<'a>> {
        let fitter = scene.fitter(app);
        let own = scene.client.id == self.head.client_id;
        let here = scene.place_head.id == self.head.place_id;
        let mut before: Vec<Worked<'a>> = Vec::new();
        let mut all = Vec::new();
        for slot in self.slots() {
            let fit = self.fits.get(&slot.id);
            let asked = match fit {
                Some(fit) if own => dosing::in_force(app, fit, &slot.intent),
                _ => slot.intent.clone(),
            };
            let eased = if own { None } else { taken_over(&asked.dose.prescription(), scene.client.experience) };
            let is_eased = eased.is_some();
            let intent = eased.map_or_else(|| asked.clone(), |dose| asked.clone().dosed(dose));
            // A pin is a wish for this client alone.
            let known = Known { today: fit.map(|f| (f.exercise.as_str(), f.pinned && own)), before: None };
            let candidate = fitter.carried(&intent, &known, &before).map(|c| (c.candidate, c.because));
            let goes_on = |(c, _): &(Candidate<'_>, Because), f: &Fit| c.movement.id == f.exercise;
            let kept = fit.filter(|f| own && here && candidate.as_ref().is_some_and(|c| goes_on(c, f)));
            before.extend(
                candidate
                    .as_ref()
                    .map(|(c, _)| Worked { movement: c.movement, sets: intent.dose.prescription().sets.len() }),
            );
            all.push(Copied { intent, eased: is_eased, candidate, kept });
        }
        all
    }
}

/// The copy of a slot in words.
fn view(app: &App, desk: &Desk, slot: &Slot, copied: &Copied<'_>) -> LineView {
    let name = |fit: &Fit| app.catalogue.movement(&fit.exercise).map_or(fit.exercise.clone(), |m| m.name.clone());
    let then = match (&copied.candidate, copied.kept) {
        (Some((c, _)), Some(fit)) => format!("{}: {}", c.movement.name, fit.step.label),
        (Some((c, _)), None) => format!("{}: {}, {} expected", c.movement.name, c.step().label, c.start.reps_text()),
        (None, _) => "nothing there does this job: the slot stays open".to_owned(),
    };
    let why = match (copied.kept, copied.candidate.as_ref().map(|(_, why)| *why)) {
        (Some(_), _) => "goes along as it is",
        (None, Some(Because::Pinned)) => "pinned",
        (None, Some(Because::Same)) => "the movement goes on",
        (None, Some(_)) => "does the job best there",
        (None, None) => "",
    };
    let doubt = copied.candidate.as_ref().filter(|_| copied.kept.is_none());
    LineView {
        purpose: purpose(&slot.intent),
        today: desk.fits.get(&slot.id).map_or_else(|| "nothing chosen yet".to_owned(), name),
        then,
        why,
        doubt: doubt.and_then(|(c, _)| dosing::doubt(c, &copied.intent)),
        dose: copied.intent.dose.prescription().text(),
        eased: copied.eased,
    }
}

fn inputs(typed: &Typed) -> Vec<Input> {
    vec![Input::text(typed, "name", "Name", ""), Input::text(typed, "on", "Day", "").kind("date")]
}

async fn ask(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    Query(asked): Query<Asked>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    page(&app, trainer, session, chrome, asked, None).await
}

async fn page(
    app: &App,
    trainer: TrainerId,
    session: Uuid,
    chrome: Chrome,
    asked: Asked,
    typed: Option<(Typed, Uuid)>,
) -> Result<Page, WebError> {
    let desk = Desk::load(app, trainer, session).await?;
    let own = bavrek_store::clients::one(&app.pool, trainer, desk.head.client_id).await?.name;
    let q: String = asked.q.trim().chars().filter(|c| *c != '\0').take(LONGEST).collect();
    let text = if q.is_empty() { own.as_str() } else { q.as_str() };
    let places = places::found(&app.pool, trainer, text, MOST_PLACES).await?;
    let mut chrome = chrome.titled(format!("{}: copied", desk.head.name));
    let there = match asked.to {
        None => None,
        Some(to) => {
            let head = places::one(&app.pool, trainer, to).await?;
            let mut scene = desk.scene(app, trainer, &head).await?;
            chrome = scene.frame(chrome);
            let copied = desk.copied(app, &scene);
            let usual = || {
                let day = scene.today + chrono::Duration::days(1);
                (Typed::usual([("name", desk.head.name.clone()), ("on", day.to_string())]), new_id())
            };
            let (typed, copy) = typed.unwrap_or_else(usual);
            Some(There {
                copy,
                whose: format!("{}, {}", scene.client.name, scene.place.name),
                inputs: inputs(&typed),
                lines: desk.slots().zip(&copied).map(|(slot, c)| view(app, &desk, slot, c)).collect(),
                stopped: scene.stopped,
            })
        }
    };
    Ok(Page { id: session, name: desk.head.name, q, places, to: asked.to, there, chrome })
}

/// Makes the copy and opens it. Sent twice it is made once.
async fn make(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::load(&app, trainer, session).await?;
    let (to, id) = (fields.id("to")?, fields.id("id")?);
    let mut typed = Typed::of(&fields);
    let name = typed.needed("name", LONGEST);
    let on = typed.day("on");
    if on.is_none() {
        typed.refuse("on", "is needed");
    }
    let (Some(planned_on), true) = (on, typed.fine()) else {
        let asked = Asked { q: fields.text("q").to_owned(), to: Some(to) };
        let page = page(&app, trainer, session, chrome, asked, Some((typed, id))).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    let place = places::one(&app.pool, trainer, to).await?;
    let scene = desk.scene(&app, trainer, &place).await?;
    let copied = desk.copied(&app, &scene);
    let head = SessionHead {
        id,
        client_id: place.client_id,
        place_id: to,
        name,
        planned_on,
        state: WorkoutState::Planned,
        version: 0,
        ..desk.head.clone()
    };
    let mut intents = copied.iter().map(|c| c.intent.clone());
    let blocks: Vec<(BlockKind, Vec<Intent>)> =
        desk.blocks.iter().map(|b| (b.kind, intents.by_ref().take(b.slots.len()).collect())).collect();
    let (copy, slots) = sessions::add(&app.pool, trainer, &head, &blocks).await?;
    for (slot_id, copied) in slots.into_iter().zip(&copied) {
        if let (Some((candidate, why)), Some((step, prescription))) = (&copied.candidate, copied.begins()) {
            let exercise = &candidate.movement.id;
            let pinned = *why == Because::Pinned;
            let new = NewFit { slot_id, place_id: to, exercise, step, prescription: &prescription, pinned };
            fits::take(&app.pool, trainer, &new).await?;
        }
    }
    Ok(Redirect::to(&format!("/sessions/{copy}")).into_response())
}
