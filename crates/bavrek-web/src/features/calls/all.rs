//! All clients' calls on one screen, the worst first, by keyboard. The list is read at once; each client's calls are worked out
//! when they are asked for, so that sixty clients do not wait for one another.

use std::collections::BTreeMap;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::http::HeaderMap;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::log::LoggedSet;
use bavrek_core::progress::{Call, CallKind};
use bavrek_core::reps::reserve_text;
use bavrek_store::decisions::{self, Decided, Waiting};
use bavrek_store::fits::{self, Fit};
use bavrek_store::slots::Slot;
use bavrek_store::{TrainerId, clients, sessions};
use chrono::{Duration, NaiveDate};
use schemars::JsonSchema;
use serde::Serialize;
use uuid::Uuid;

use super::{Way, Word, carry_out, decided_text, ways};
use crate::budget::aside;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::dates::day;
use crate::features::scene::{self, Scene, capital, dose_text};
use crate::features::who::Who;
use crate::state::App;

/// Hours in which a decision is still shown with its undo.
const SHOWN_HOURS: i64 = 12;
/// Latest sets told beside a call.
const SETS_TOLD: usize = 4;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/calls", get(list))
        .route("/calls/{client}", get(client))
        .route("/calls/{client}/decide", post(decide))
        .route("/calls/{client}/plain", post(plain))
        .route("/calls/{client}/undo", post(undo))
}

#[derive(Template, WebTemplate)]
#[template(path = "calls/all.html")]
struct Page {
    chrome: Chrome,
    clients: Vec<ClientHead>,
    lines: i64,
    /// The first client's calls, where they are worked out already.
    first: Option<String>,
}

struct ClientHead {
    id: Uuid,
    name: String,
    note: String,
    pain: bool,
}

/// The calls of one client, as a part of the screen.
#[derive(Template, WebTemplate)]
#[template(path = "calls/client.html")]
struct ClientCalls {
    csrf: String,
    client: Uuid,
    name: String,
    notes: Vec<String>,
    stopped: bool,
    lines: Vec<Line>,
    /// The plain ones, each as slot and the set it rests on.
    plain: Vec<String>,
    /// What comes next once nothing waits: where, and in words.
    next: Option<(String, String)>,
    /// What went wrong with the last word.
    error: Option<String>,
}

/// The same as a page of its own.
#[derive(Template, WebTemplate)]
#[template(path = "calls/one.html")]
struct ClientPage {
    chrome: Chrome,
    calls: String,
}

/// A line with its call.
struct Line {
    slot: Uuid,
    session: (Uuid, String),
    name: String,
    now: String,
    sets: Vec<String>,
    heading: String,
    reasons: Vec<String>,
    ways: Vec<Way>,
    proposed: CallKind,
    after: Uuid,
    /// Whether it may be taken with others without a look at each.
    plain: bool,
    /// Whether there is something to refuse.
    refusable: bool,
    /// How pressing it is, the least first.
    rank: u8,
    decided: Option<(Uuid, String)>,
}

fn head(waiting: Waiting) -> ClientHead {
    let lines = if waiting.lines == 1 { "1 line".to_owned() } else { format!("{} lines", waiting.lines) };
    let since = day(waiting.since, waiting.today);
    let note = match waiting.pain {
        Some(pain) => format!("{lines}, since {since}, pain {pain} of 10"),
        None => format!("{lines}, since {since}"),
    };
    ClientHead { id: waiting.client, name: waiting.name, note, pain: waiting.pain.is_some() }
}

async fn list(Mine(app): Mine, Me(trainer): Me, chrome: Chrome) -> Result<Page, WebError> {
    let waiting = decisions::waiting(&app.pool, trainer, app.clock.now()).await?;
    let lines = waiting.iter().map(|w| w.lines).sum();
    let clients: Vec<ClientHead> = waiting.into_iter().map(head).collect();
    let first = match clients.first() {
        Some(one) => {
            let calls = of_client(&app, trainer, one.id, &chrome.csrf, None).await?;
            Some(calls.render()?)
        }
        None => None,
    };
    Ok(Page { chrome: chrome.titled("Calls"), clients, lines, first })
}

/// The calls of a client.
async fn of_client(
    app: &App,
    trainer: TrainerId,
    client: Uuid,
    csrf: &str,
    error: Option<String>,
) -> Result<ClientCalls, WebError> {
    let who = Who::load(app, trainer, client).await?;
    let since = app.clock.now() - Duration::hours(SHOWN_HOURS);
    let found = decisions::lines(&app.pool, trainer, client, since).await?;
    let mut by_session: BTreeMap<Uuid, Vec<Uuid>> = BTreeMap::new();
    for (session, slot) in found {
        by_session.entry(session).or_default().push(slot);
    }
    let mut lines = Vec::new();
    for (session, slots) in by_session {
        lines.extend(of_session(app, trainer, session, &slots).await?);
    }
    lines.sort_by_key(|line| (line.decided.is_some(), line.rank));
    let next =
        if lines.iter().all(|line| line.decided.is_some()) { Some(what_next(app, trainer, &who).await?) } else { None };
    Ok(ClientCalls {
        next,
        csrf: csrf.to_owned(),
        client,
        name: who.client.name.clone(),
        notes: who.banners().into_iter().map(|b| b.text).collect(),
        stopped: who.stopped(),
        plain: lines.iter().filter(|l| l.plain).map(|l| format!("{}.{}", l.slot, l.after)).collect(),
        lines,
        error,
    })
}

/// Where a client's calls lead once all are decided: the next workout that is planned, else the weeks to plan.
async fn what_next(app: &App, trainer: TrainerId, who: &Who) -> Result<(String, String), WebError> {
    let planned = sessions::of_client(&app.pool, trainer, who.client.id).await?;
    let open = planned.into_iter().filter(|s| s.state.is_open() && s.planned_on >= who.today);
    Ok(match open.min_by_key(|s| s.planned_on) {
        Some(next) => {
            (format!("/sessions/{}", next.id), format!("Next: {}, {}", next.name, day(next.planned_on, who.today)))
        }
        None => (format!("/clients/{}/week", who.client.id), "Plan the next week".to_owned()),
    })
}

async fn of_session(app: &App, trainer: TrainerId, session: Uuid, wanted: &[Uuid]) -> Result<Vec<Line>, WebError> {
    let head = sessions::head(&app.pool, trainer, session).await?;
    let scene = Scene::load(app, trainer, &head).await?;
    let blocks = sessions::blocks(&app.pool, trainer, session).await?;
    let mut fits = scene.all_now(app, fits::of_session(&app.pool, trainer, session, scene.place_head.id).await?);
    let mut asked: Vec<(Slot, Fit, Option<Decided>)> = Vec::new();
    for slot in blocks.into_iter().flat_map(|b| b.slots).filter(|s| wanted.contains(&s.id)) {
        let Some(fit) = fits.remove(&slot.id) else { continue };
        let latest = decisions::latest(&app.pool, trainer, slot.id).await?;
        asked.push((slot, fit, latest));
    }
    // Calls look at whole ladders: not on the threads that serve.
    Ok(aside(|| {
        let ledger = scene.ledger(app);
        let of = |(slot, fit, latest): (Slot, Fit, Option<Decided>)| {
            let (call, after) = scene.call_by(app, &ledger, &slot, &fit)?;
            Some(line(app, &scene, (head.id, &head.name), (&slot, &fit), (call, after), latest))
        };
        asked.into_iter().filter_map(of).collect()
    }))
}

fn line(
    app: &App,
    scene: &Scene,
    (session, session_name): (Uuid, &str),
    (slot, fit): (&Slot, &Fit),
    (call, after): (Call, Uuid),
    latest: Option<Decided>,
) -> Line {
    let name = app.catalogue.movement(&fit.exercise).map_or(fit.exercise.clone(), |m| m.name.clone());
    let decided = latest.filter(|d| d.decision.after_set == after).map(|d| (d.id, decided_text(&d.decision)));
    // Where nothing was seen and nothing hurt on its last day there is no reason to look at each.
    let on = scene.records().iter().rfind(|r| r.id == after).map(|r| r.set.date);
    let its = scene.records().iter().filter(|r| r.slot_id == Some(slot.id) && Some(r.set.date) == on).map(|r| &r.set);
    let trouble = its.into_iter().any(LoggedSet::shows_trouble);
    let usual = matches!(call.call, CallKind::AddLoad | CallKind::AddReps | CallKind::AddTempo | CallKind::Hold);
    Line {
        slot: slot.id,
        session: (session, session_name.to_owned()),
        name,
        now: format!("{}; {}", fit.step.label, dose_text(app, &fit.exercise, &fit.prescription)),
        sets: told(scene, slot.id, &fit.exercise),
        heading: scene::headline(&call),
        ways: ways(app, fit, &call),
        proposed: call.call,
        after,
        plain: usual && !trouble && !scene.stopped && decided.is_none(),
        refusable: !matches!(call.call, CallKind::Hold | CallKind::Swap | CallKind::Refer),
        rank: rank(call.call, trouble),
        reasons: call.told().iter().map(|r| capital(r)).collect(),
        decided,
    }
}

/// The most pressing first: what sends somebody elsewhere, what eases, what was seen, what holds, what goes on.
fn rank(call: CallKind, trouble: bool) -> u8 {
    match call {
        CallKind::Refer => 0,
        CallKind::Swap => 1,
        CallKind::Ease | CallKind::Deload => 2,
        _ if trouble => 3,
        CallKind::HarderVariation => 4,
        CallKind::Hold => 5,
        CallKind::AddLoad | CallKind::AddReps | CallKind::AddTempo => 6,
    }
}

/// The latest sets of the movement, a day in a line: `Mon 23 Nov: 12 (2 left), 12 (2 left), 11 (1 left)`.
fn told(scene: &Scene, slot: Uuid, exercise: &str) -> Vec<String> {
    let mut days: Vec<(NaiveDate, Vec<String>)> = Vec::new();
    for record in scene.records().iter().rev().filter(|r| r.slot_id == Some(slot) && r.set.exercise == exercise) {
        let set = &record.set;
        let reps = set.reps_told().or(set.seconds.map(|s| format!("{s} s"))).unwrap_or_default();
        let side = set.side.map(|s| format!("{} ", s.label())).unwrap_or_default();
        let left = set.rir.map(|r| format!(" ({} left)", reserve_text(r))).unwrap_or_default();
        let text = format!("{side}{reps}{left}");
        let told = days.len();
        match days.last_mut().filter(|(date, _)| *date == set.date) {
            Some((_, sets)) => sets.insert(0, text),
            None if told == SETS_TOLD => break,
            None => days.push((set.date, vec![text])),
        }
    }
    days.into_iter().map(|(date, sets)| format!("{}: {}", capital(&day(date, scene.today)), sets.join(", "))).collect()
}

async fn client(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    headers: HeaderMap,
    chrome: Chrome,
) -> Result<Response, WebError> {
    answer(&app, trainer, client, (chrome, &headers), None).await
}

/// The client's calls: into the screen where a part of it asked, else as a page.
async fn answer(
    app: &App,
    trainer: TrainerId,
    client: Uuid,
    (chrome, headers): (Chrome, &HeaderMap),
    error: Option<String>,
) -> Result<Response, WebError> {
    let calls = of_client(app, trainer, client, &chrome.csrf, error).await?;
    if headers.contains_key("hx-request") {
        return Ok(calls.into_response());
    }
    let title = format!("{}: calls", calls.name);
    Ok(ClientPage { chrome: chrome.titled(title), calls: calls.render()? }.into_response())
}

/// After a word: the client's calls as they stand now, or the whole screen again where no script is at work.
async fn after_word(
    app: &App,
    trainer: TrainerId,
    client: Uuid,
    (chrome, headers): (Chrome, &HeaderMap),
    error: Option<WebError>,
) -> Result<Response, WebError> {
    let error = error.map(WebError::told).transpose()?;
    if error.is_none() && !headers.contains_key("hx-request") {
        return Ok(Redirect::to(&format!("/calls/{client}")).into_response());
    }
    answer(app, trainer, client, (chrome, headers), error).await
}

async fn decide(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    headers: HeaderMap,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let word = Word::read(&fields)?;
    let (placed, scene) = scene::of_slot(&app, trainer, fields.id("slot")?).await?;
    if placed.session.client_id != client {
        return Err(WebError::NotFound);
    }
    let ledger = scene.ledger(&app);
    let error = carry_out(&app, trainer, (&scene, &ledger), &placed.slot, &word).await.err();
    drop(ledger);
    after_word(&app, trainer, client, (chrome, &headers), error).await
}

/// Takes every plain call of a client that was shown: slot and the set it rests on, one a field.
async fn plain(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    headers: HeaderMap,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let shown = fields.all("call").map(|pair| {
        let (slot, after) = pair.split_once('.')?;
        Some((slot.parse::<Uuid>().ok()?, after.parse::<Uuid>().ok()?))
    });
    let shown: Vec<(Uuid, Uuid)> = shown.collect::<Option<_>>().ok_or_else(|| WebError::bad("call", "is no call"))?;
    let page = of_client(&app, trainer, client, &chrome.csrf, None).await?;
    let mut error = None;
    for line in page.lines.iter().filter(|l| l.plain && shown.contains(&(l.slot, l.after))) {
        let word = Word { decided: line.proposed, after: line.after, refused: false, note: String::new() };
        let (placed, scene) = scene::of_slot(&app, trainer, line.slot).await?;
        let ledger = scene.ledger(&app);
        error = error.or(carry_out(&app, trainer, (&scene, &ledger), &placed.slot, &word).await.err());
    }
    after_word(&app, trainer, client, (chrome, &headers), error).await
}

async fn undo(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    headers: HeaderMap,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    clients::one(&app.pool, trainer, client).await?;
    let undone = decisions::undo(&app.pool, trainer, fields.id("decision")?).await;
    let error = match undone {
        Err(bavrek_store::StoreError::Conflict) => {
            Some(WebError::bad("decision", "was changed since: what stands now is on the session's page"))
        }
        other => other.err().map(WebError::from),
    };
    after_word(&app, trainer, client, (chrome, &headers), error).await
}

/// A call as a program is told it.
#[derive(Debug, Serialize, JsonSchema)]
#[schemars(rename = "Call")]
pub(in crate::features) struct TellCall {
    /// The line.
    line: Uuid,
    session: Uuid,
    /// The movement that does it now, by its name.
    movement: String,
    /// Its step and dose.
    now: String,
    /// What is proposed, in words.
    proposed: String,
    /// The same as a word; none once it was decided.
    kind: Option<CallKind>,
    reasons: Vec<String>,
    /// What may be chosen instead.
    others: Vec<CallKind>,
    /// The set that it rests on.
    after_set: Uuid,
    /// What was decided, in words.
    decided: Option<String>,
}

/// A client's calls, the most pressing first.
pub(in crate::features) async fn told_to_program(
    app: &App,
    trainer: TrainerId,
    client: Uuid,
) -> Result<Vec<TellCall>, WebError> {
    let found = of_client(app, trainer, client, "", None).await?;
    let tell = |line: Line| TellCall {
        line: line.slot,
        session: line.session.0,
        movement: line.name,
        now: line.now,
        proposed: line.heading,
        kind: line.decided.is_none().then_some(line.proposed),
        reasons: line.reasons,
        others: line.ways.iter().filter(|w| !w.proposed).filter_map(|w| CallKind::from_id(w.id)).collect(),
        after_set: line.after,
        decided: line.decided.map(|(_, text)| text),
    };
    Ok(found.lines.into_iter().map(tell).collect())
}

/// A word about a call of a client's line: what is chosen, none to refuse; the set it rests on; why.
pub(in crate::features) async fn decide_for(
    app: &App,
    trainer: TrainerId,
    (client, slot): (Uuid, Uuid),
    (chosen, after, note): (Option<CallKind>, Uuid, String),
) -> Result<(), WebError> {
    let word = Word::of(chosen, after, &note)?;
    let (placed, scene) = scene::of_slot(app, trainer, slot).await?;
    if placed.session.client_id != client {
        return Err(WebError::NotFound);
    }
    let ledger = scene.ledger(app);
    carry_out(app, trainer, (&scene, &ledger), &placed.slot, &word).await
}
