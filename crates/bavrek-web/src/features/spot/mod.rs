//! The swap on the spot: something is taken, broken or hurts; the three best for right now, taken with one tap.

mod trouble;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::response::Redirect;
use axum::routing::{get, post};
use bavrek_core::anatomy::Joint;
use bavrek_core::fit::Candidate;
use bavrek_core::person::Person;
use bavrek_core::spot::{are_twins, kindest_first};
use bavrek_store::fits::{self, Fit};
use bavrek_store::slots::PlacedSlot;
use bavrek_store::spot_swaps::{self, SpotSwap};
use bavrek_store::{TrainerId, connection, kit, new_id, spares};
use uuid::Uuid;

use self::trouble::{Choice, Told, Trouble};
use super::scene::{self, Around, Scene, capital};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

/// Answers offered: more would have to be read.
const BEST: usize = 3;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/slots/{slot}/spot", get(show).post(swap)).route("/slots/{slot}/spot/back", post(back))
}

#[derive(Template, WebTemplate)]
#[template(path = "spot/page.html")]
struct Page {
    chrome: Chrome,
    slot: Uuid,
    session: (Uuid, String),
    planned: String,
    /// What can be in the way: first what the movement uses, then the rest of the room.
    used: Vec<Choice>,
    others: Vec<Choice>,
    /// Joints with the sides that can be told.
    joints: Vec<JointChoice>,
    /// What was in the way earlier today and still counts.
    earlier: String,
    /// What was said to be in the way, and the answers to it.
    answer: Option<Answer>,
}

/// A joint: identifier, words, and its sides in both.
type JointChoice = (&'static str, String, Vec<(&'static str, &'static str)>);

struct Answer {
    reason: String,
    advice: Option<&'static str>,
    told: Vec<(&'static str, String)>,
    best: Vec<Best>,
}

struct Best {
    id: Uuid,
    exercise: String,
    name: String,
    load: String,
    how: String,
    lost: Option<String>,
    /// Whether it asks something of what hurts, too.
    eased: bool,
}

/// A slot in a session in progress with the fit that the plan has for it.
struct Spot {
    placed: PlacedSlot,
    scene: Scene,
    fit: Fit,
    /// What alternates with it in its block.
    beside: Vec<Fit>,
    /// The client, with what hurt earlier today spared.
    person: Person,
    /// What is in the room, without what was taken earlier today.
    pieces: Vec<kit::Piece>,
    /// What was in the way earlier today.
    earlier: Vec<String>,
    /// What stands ready for the line here.
    ready: Option<String>,
}

impl Spot {
    async fn load(app: &App, trainer: TrainerId, slot: Uuid) -> Result<Self, WebError> {
        let (placed, scene) = scene::of_slot(app, trainer, slot).await?;
        let fit = fits::of_slot(&app.pool, trainer, slot, scene.place_head.id).await?.ok_or(WebError::NotFound)?;
        let fit = scene.now(app, fit);
        let mut pieces = kit::at_hand(&mut *connection(&app.pool).await?, trainer, &scene.place_head).await?;
        pieces.retain(kit::Piece::usable);
        let beside = Around::of(app, trainer, &placed.session).await?.beside(slot);
        let (session, place) = (placed.session.id, scene.place_head.id);
        let told = spot_swaps::in_the_way(&app.pool, trainer, session, place, scene.today).await?;
        let (person, pieces, earlier) = trouble::earlier(&scene.person, &pieces, slot, &told);
        let mut spares = spares::of_session(&app.pool, trainer, session, place).await?;
        let ready = spares.remove(&slot).filter(|s| s.instead_of == fit.exercise).map(|s| s.exercise);
        Ok(Self { placed, scene, fit, beside, person, pieces, earlier, ready })
    }

    /// The best answers to a trouble; where it hurts without the plan's own movement, and without the same with one arm or
    /// both.
    fn best<'a>(&self, app: &'a App, trouble: &Trouble) -> Vec<Candidate<'a>> {
        let (person, kit) = trouble.leaves(&self.person, &self.pieces);
        let mates = scene::mates(app, &self.beside);
        let answer = self.scene.fit(app, (&person, &kit), &self.placed.slot.intent, &mates);
        let planned = app.catalogue.movement(&self.fit.exercise);
        let alike = |c: &Candidate<'_>| planned.is_some_and(|p| p.id == c.movement.id || are_twins(p, c.movement));
        let other = |c: &Candidate<'_>| trouble.joint().is_none() || !alike(c);
        let mut found: Vec<Candidate<'a>> = answer.candidates.into_iter().filter(other).collect();
        if let Some(joint) = trouble.joint() {
            kindest_first(&mut found, joint);
        } else if let Some(at) = found.iter().position(|c| self.ready.as_ref() == Some(&c.movement.id)) {
            // What stood ready comes first; where it hurts what is kindest does.
            found[..=at].rotate_right(1);
        }
        found.truncate(BEST);
        for candidate in &mut found {
            self.scene.answered_for_the_day(candidate);
        }
        found
    }
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(slot): Ids,
    Query(told): Query<Told>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let mut spot = Spot::load(&app, trainer, slot).await?;
    let chrome = spot.scene.frame(chrome);
    let movement = app.catalogue.movement(&spot.fit.exercise).ok_or(WebError::NotFound)?;
    let (used, others) = trouble::choices(movement, &spot.person, &spot.pieces, &spot.fit.step);
    let trouble = told.read(&spot.pieces)?;
    Ok(Page {
        chrome: chrome.titled("Swap on the spot"),
        slot,
        session: (spot.placed.session.id, spot.placed.session.name.clone()),
        planned: movement.name.clone(),
        used,
        others,
        earlier: spot.earlier.join("; "),
        joints: Joint::ALL.iter().map(|j| (j.id(), capital(j.label()), trouble::sides(*j))).collect(),
        answer: trouble.map(|trouble| Answer {
            reason: trouble.reason(&spot.pieces),
            advice: trouble.advice(),
            best: spot.best(&app, &trouble).iter().map(best).collect(),
            told: told.fields(),
        }),
    })
}

fn best(candidate: &Candidate<'_>) -> Best {
    let step = candidate.step();
    Best {
        id: new_id(),
        exercise: candidate.movement.id.clone(),
        name: candidate.movement.name.clone(),
        load: step.label.clone(),
        how: step.setup.surface.map_or_else(String::new, |s| s.label().to_owned()),
        lost: candidate.lost.first().map(ToString::to_string),
        eased: candidate.parts.joints < 1.0,
    }
}

/// Takes an answer for today. It is computed again; a broken piece leaves the kit, dated, and can come back.
async fn swap(Mine(app): Mine, Me(trainer): Me, Ids(slot): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let spot = Spot::load(&app, trainer, slot).await?;
    let train = Redirect::to(&format!("/sessions/{}/train?slot={slot}", spot.placed.session.id));
    let id = fields.id("id")?;
    if spot_swaps::known(&app.pool, trainer, id).await? {
        return Ok(train);
    }
    let trouble = Told::of(&fields).read(&spot.pieces)?.ok_or(WebError::bad("piece", "say what is in the way"))?;
    let wanted = fields.text("exercise");
    let best = spot.best(&app, &trouble);
    let candidate = best
        .iter()
        .find(|c| c.movement.id == wanted)
        .ok_or(WebError::bad("exercise", "is not among the answers any more; look again"))?;
    let new = SpotSwap {
        id,
        slot_id: slot,
        place_id: spot.scene.place_head.id,
        on: spot.scene.today,
        instead_of: spot.fit.exercise.clone(),
        exercise: candidate.movement.id.clone(),
        step: candidate.step().clone(),
        prescription: candidate.prescription.clone(),
        reason: trouble.reason(&spot.pieces),
        trouble: trouble.kept(&spot.pieces),
    };
    spot_swaps::add(&app.pool, trainer, &new, trouble.broken(&spot.pieces).as_ref()).await?;
    Ok(train)
}

/// Back to what the plan says.
async fn back(Mine(app): Mine, Me(trainer): Me, Ids(slot): Ids) -> Result<Redirect, WebError> {
    let (placed, scene) = scene::of_slot(&app, trainer, slot).await?;
    spot_swaps::take_back(&app.pool, trainer, slot, scene.today).await?;
    Ok(Redirect::to(&format!("/sessions/{}/train?slot={slot}", placed.session.id)))
}
