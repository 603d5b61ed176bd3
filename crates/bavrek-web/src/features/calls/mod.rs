//! Calls: what is the next step of a line, and why? One line on its page, and all clients' on one screen.

mod all;

pub(super) use self::all::{TellCall, decide_for, told_to_program as told};

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::dose::Prescription;
use bavrek_core::ladder::LadderStep;
use bavrek_core::plan::Intent;
use bavrek_core::progress::{Call, CallKind, dose_for};
use bavrek_core::strength::Ledger;
use bavrek_store::decisions::{self, Decision};
use bavrek_store::fits::{self, Fit, NewFit};
use bavrek_store::log::RecordedSet;
use bavrek_store::slots::Slot;
use bavrek_store::{StoreError, TrainerId, connection};
use uuid::Uuid;

use super::dates::day;
use super::scene::{self, Scene, capital, dose_text, purpose};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/slots/{slot}/call", get(show).post(decide)).merge(all::routes())
}

#[derive(Template, WebTemplate)]
#[template(path = "calls/page.html")]
struct Page {
    chrome: Chrome,
    slot: Uuid,
    session: (Uuid, String),
    client: String,
    purpose: String,
    name: String,
    now: String,
    after_set: Option<Uuid>,
    heading: String,
    stopping: bool,
    reasons: Vec<String>,
    ways: Vec<Way>,
    maximum: Option<String>,
    sets: Vec<SetLine>,
    decided: Option<String>,
}

struct Way {
    id: &'static str,
    label: String,
    text: String,
    proposed: bool,
}

struct SetLine {
    load: String,
    /// The day, and what it comes to where the load does not say that.
    detail: String,
    reps: String,
    rir: String,
    note: String,
}

/// Latest sets shown beside a call.
const SETS_SHOWN: usize = 9;

async fn show(Mine(app): Mine, Me(trainer): Me, Ids(slot): Ids, chrome: Chrome) -> Result<Page, WebError> {
    let (placed, mut scene) = scene::of_slot(&app, trainer, slot).await?;
    let chrome = scene.frame(chrome);
    let mut own = connection(&app.pool).await?;
    let fit = fits::of_slot(&mut *own, trainer, slot, scene.place_head.id).await?.ok_or(WebError::NotFound)?;
    let latest = decisions::latest(&mut *own, trainer, slot).await?;
    drop(own);
    let fit = scene.now(&app, fit);
    let name = app.catalogue.movement(&fit.exercise).map_or(fit.exercise.clone(), |m| m.name.clone());
    let found = scene.call(&app, &placed.slot, &fit);
    let decided = latest
        .map(|d| d.decision)
        .filter(|d| found.as_ref().is_some_and(|(_, after)| *after == d.after_set))
        .map(|d| format!("Decided {}: {}", day(d.decided_at.date_naive(), scene.today), decided_text(&d)));
    let mut page = Page {
        slot,
        session: (placed.session.id, placed.session.name.clone()),
        client: scene.client.name.clone(),
        purpose: purpose(&placed.slot.intent),
        now: format!("{}; {}", fit.step.label, dose_text(&app, &fit.exercise, &fit.prescription)),
        after_set: None,
        heading: "No call yet".into(),
        stopping: false,
        reasons: vec![first_reason(&app, &scene, slot)],
        ways: Vec::new(),
        maximum: None,
        sets: sets(&app, &scene, slot, &fit.exercise),
        decided,
        chrome: chrome.titled(format!("Next step: {name}")),
        name,
    };
    if let Some((call, after)) = found {
        page.heading = scene::headline(&call);
        page.stopping = matches!(call.call, CallKind::Swap | CallKind::Refer);
        page.maximum = call.e1rm.map(|m| {
            format!("{:.1} ({:.1} to {:.1})", m.kg.two_figures(), m.low_kg.two_figures(), m.high_kg.two_figures())
        });
        page.ways = ways(&app, &fit, &call);
        page.reasons = call.told();
        page.after_set = Some(after);
    }
    Ok(page)
}

/// Why there is no call yet: nothing was logged, or another movement was done for the slot.
fn first_reason(app: &App, scene: &Scene, slot: Uuid) -> String {
    match scene.records().iter().rfind(|r| r.slot_id == Some(slot)) {
        Some(last) => {
            let id = &last.set.exercise;
            let name = app.catalogue.movement(id).map_or(id.as_str(), |m| &m.name);
            format!(
                "{} {name} was done instead. The call follows from sets of the movement that is planned.",
                capital(&day(last.set.date, scene.today))
            )
        }
        None => "Log a session of this movement first; the call follows from it.".into(),
    }
}

fn ways(app: &App, fit: &Fit, call: &Call) -> Vec<Way> {
    let exercise = call.exercise.as_deref().unwrap_or(&fit.exercise);
    let text = dose_text(app, exercise, &call.prescription);
    let proposed = Way { id: call.call.id(), label: capital(call.call.label()), text, proposed: true };
    let others = call.alternatives.iter().map(|a| Way {
        id: a.call.id(),
        label: capital(a.call.label()),
        text: a.to_string(),
        proposed: false,
    });
    std::iter::once(proposed).chain(others).collect()
}

/// The sets that the call rests on: those of the movement, wherever they were logged, and what else was done for the slot.
fn sets(app: &App, scene: &Scene, slot: Uuid, exercise: &str) -> Vec<SetLine> {
    let told = |r: &&RecordedSet| r.slot_id == Some(slot) || r.set.exercise == exercise;
    scene
        .records()
        .iter()
        .rev()
        .filter(told)
        .take(SETS_SHOWN)
        .map(|r| set_line(app, scene, (slot, exercise), r))
        .collect()
}

fn set_line(app: &App, scene: &Scene, (slot, exercise): (Uuid, &str), recorded: &RecordedSet) -> SetLine {
    let set = &recorded.set;
    let mut notes: Vec<String> = Vec::new();
    if set.exercise != exercise {
        notes.push(app.catalogue.movement(&set.exercise).map_or(set.exercise.clone(), |m| m.name.clone()));
    } else if recorded.slot_id != Some(slot) {
        notes.push(if recorded.slot_id.is_some() { "in another slot" } else { "told or tested" }.to_owned());
    }
    notes.extend(set.side.map(|s| s.label().to_owned()));
    notes.extend(set.seen.iter().map(|s| s.label().to_owned()));
    notes.extend(set.from_the_change().zip(app.catalogue.movement(&set.exercise)).map(|(after, movement)| {
        let load = after.load_told(movement);
        let effective =
            after.effective_kg.map_or_else(String::new, |kg| format!(" ({:.1} effective)", kg.two_figures()));
        format!("then {load}{effective}")
    }));
    if let Some(pain) = set.pain.filter(|p| *p > 0) {
        notes.push(format!("pain {pain} of 10"));
    }
    let held = set.seconds.map(|s| format!("{s} s"));
    let done: Vec<String> = set.reps_told().into_iter().chain(held).collect();
    let movement = app.catalogue.movement(&set.exercise);
    let effective = set.comes_to(movement).map(|kg| format!("{kg:.1} effective"));
    let detail: Vec<String> = std::iter::once(day(set.date, scene.today)).chain(effective).collect();
    SetLine {
        load: movement.map_or_else(String::new, |m| set.load_told(m)),
        detail: detail.join(", "),
        reps: done.join(" + "),
        rir: set.rir.map_or_else(String::new, |r| r.to_string()),
        note: notes.join(", "),
    }
}

/// Takes the proposed call or another one. What was logged since the page was shown makes the decision stale.
async fn decide(Mine(app): Mine, Me(trainer): Me, Ids(slot): Ids, fields: Fields) -> Result<Response, WebError> {
    let (placed, scene) = scene::of_slot(&app, trainer, slot).await?;
    let word = Word::read(&fields)?;
    let ledger = scene.ledger(&app);
    carry_out(&app, trainer, (&scene, &ledger), &placed.slot, &word).await?;
    let decided = word.decided;
    let target = match decided {
        CallKind::Swap | CallKind::Refer => format!("/slots/{slot}/bench"),
        _ => format!("/sessions/{}?pick={slot}#slot-{slot}", placed.session.id),
    };
    Ok(Redirect::to(&target).into_response())
}

/// The trainer's word about a call.
struct Word {
    decided: CallKind,
    /// The set that the call rested on as it was shown.
    after: Uuid,
    refused: bool,
    note: String,
}

/// Longest word about a call, characters.
const LONGEST_NOTE: usize = 300;

impl Word {
    /// What was chosen; a refusal keeps the step as it is.
    fn read(fields: &Fields) -> Result<Self, WebError> {
        let chosen = match fields.text("decided") {
            "refused" => None,
            id => Some(CallKind::from_id(id).ok_or_else(|| WebError::bad("decided", "choose one of the steps"))?),
        };
        Self::of(chosen, fields.id("after_set")?, fields.text("note"))
    }

    /// The same of what was said otherwise: none chosen is a refusal.
    fn of(chosen: Option<CallKind>, after: Uuid, note: &str) -> Result<Self, WebError> {
        let note: String = note.trim().chars().filter(|c| !c.is_control()).collect();
        if note.chars().count() > LONGEST_NOTE {
            return Err(WebError::bad("note", format!("is longer than {LONGEST_NOTE} characters")));
        }
        Ok(Self { decided: chosen.unwrap_or(CallKind::Hold), after, refused: chosen.is_none(), note })
    }
}

/// Carries a decision out. What was logged since the call was shown makes it stale.
async fn carry_out(
    app: &App,
    trainer: TrainerId,
    (scene, ledger): (&Scene, &Ledger<'_>),
    slot: &Slot,
    word: &Word,
) -> Result<(), WebError> {
    let fit = fits::of_slot(&app.pool, trainer, slot.id, scene.place_head.id).await?.ok_or(WebError::NotFound)?;
    let fit = scene.now(app, fit);
    let (call, after) = scene.call_by(app, ledger, slot, &fit).ok_or(WebError::NotFound)?;
    if word.after != after {
        return Err(WebError::bad("after_set", "another set was logged in the meantime: look at the call again"));
    }
    let (step, prescription) = if word.refused {
        (fit.step.clone(), fit.prescription.clone())
    } else {
        outcome(&call, word.decided, &slot.intent, &fit)
            .ok_or_else(|| WebError::bad("decided", "is not one of the steps offered here"))?
    };
    let new = NewFit {
        slot_id: slot.id,
        place_id: scene.place_head.id,
        exercise: call.exercise_of(word.decided).unwrap_or(&fit.exercise),
        step: &step,
        prescription: &prescription,
        pinned: false,
    };
    let decision = Decision {
        proposed: call.call,
        step: call.step.as_ref().map(|s| s.label.clone()),
        decided: word.decided,
        refused: word.refused,
        note: word.note.clone(),
        reasons: call.told(),
        after_set: after,
        decided_at: app.clock.now(),
    };
    match decisions::decide(&app.pool, trainer, &decision, &new).await {
        // Sent twice: the first one counts, and leads to the same page.
        Ok(_) | Err(StoreError::Conflict) => Ok(()),
        Err(other) => Err(other.into()),
    }
}

/// A decision in words: what was decided, and of which proposal where that was refused.
fn decided_text(decision: &Decision) -> String {
    let said = if decision.refused {
        format!("{} refused, the same step", decision.proposed.label())
    } else {
        decision.decided.label().to_owned()
    };
    if decision.note.is_empty() { said } else { format!("{said} ({})", decision.note) }
}

/// The step and dose that a decision leads to; none for what was not offered.
fn outcome(call: &Call, decided: CallKind, intent: &Intent, fit: &Fit) -> Option<(LadderStep, Prescription)> {
    let keeps = |step: Option<LadderStep>| step.unwrap_or_else(|| fit.step.clone());
    if decided == call.call {
        return Some((keeps(call.step.clone()), call.prescription.clone()));
    }
    let other = call.alternatives.iter().find(|a| a.call == decided)?;
    let step = keeps(other.step.clone());
    let prescription = dose_for(decided, intent, &fit.prescription, &step);
    Some((step, prescription))
}
