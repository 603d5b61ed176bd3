//! Limits: what must be spared, on which side, how strongly, from when to when, with their history.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::anatomy::Joint;
use bavrek_core::fit::ruled_out;
use bavrek_core::kit::full_room;
use bavrek_core::notes::LONGEST_NOTE;
use bavrek_core::person::{Limit, LimitKind, Person, Severity, Side};
use bavrek_store::limits::{self, DatedLimit, PastLimit};
use bavrek_store::{StoreError, TrainerId, new_id, pains};
use chrono::{DateTime, NaiveDate, Utc};
use serde::Deserialize;
use uuid::Uuid;

use super::single::{self, Single};
use super::steps::{Step, StepView, steps};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::dates::day;
use crate::features::scene::{capital, movements};
use crate::features::typed::{Input, Typed, focus_first, mark_meanwhile};
use crate::features::who::Who;
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/limits", get(show).post(save))
        .route("/clients/{client}/limits/settle", post(settle))
        .route("/clients/{client}/limits/{limit}/end", post(end))
        .route("/clients/{client}/limits/{limit}/remove", post(remove))
        .route("/clients/{client}/limits/{limit}/restore", post(restore))
}

#[derive(Deserialize, Default)]
struct Shown {
    /// The limit that is changed.
    change: Option<Uuid>,
    /// The limit just removed, which can come back.
    removed: Option<Uuid>,
    /// A joint that hurt, to be made a limit, and its side.
    #[serde(default)]
    joint: String,
    #[serde(default)]
    side: String,
}

#[derive(Template, WebTemplate)]
#[template(path = "clients/limits.html")]
struct Page {
    chrome: Chrome,
    client: Uuid,
    name: String,
    steps: Vec<StepView>,
    id: Uuid,
    /// The limit that is changed; none for a new one.
    change: Option<Uuid>,
    inputs: Vec<Input>,
    meanwhile: Option<String>,
    removed: Option<Uuid>,
    now: Vec<LimitView>,
    other: Vec<LimitView>,
    past: Vec<String>,
    excluded: String,
    hurt: Vec<HurtView>,
    /// Movements that are left out by themselves, and the form for one more.
    singles: Vec<Single>,
    single: Vec<Input>,
}

/// A joint that hurt lately and is not settled.
struct HurtView {
    joint: &'static str,
    side: &'static str,
    text: String,
    /// Whether the joint was told, so that a limit can be made of it.
    told: bool,
}

struct LimitView {
    id: Uuid,
    text: String,
    dates: String,
    note: String,
    does: String,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    Query(shown): Query<Shown>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let typed = match shown.change {
        Some(id) => typed_of(who.limits.iter().find(|l| l.id == id).ok_or(WebError::NotFound)?),
        None => usual(&who, &shown),
    };
    page(&app, trainer, &who, chrome, &typed, &shown).await
}

/// The empty form; filled in with a joint that hurt, where that is to become a limit.
fn usual(who: &Who, shown: &Shown) -> Typed {
    let side = Side::from_id(&shown.side).unwrap_or(Side::Both);
    let mut values = vec![("since", who.today.to_string()), ("side", side.id().to_owned())];
    if let Some(joint) = Joint::from_id(&shown.joint) {
        values.extend([("joint", joint.id().to_owned()), ("what", LimitKind::PainLoaded.id().to_owned())]);
    }
    Typed::usual(values)
}

fn typed_of(limit: &DatedLimit) -> Typed {
    Typed::usual([
        ("joint", limit.rule.joint.id().to_owned()),
        ("what", limit.rule.what.id().to_owned()),
        ("side", limit.rule.side.id().to_owned()),
        ("severity", limit.rule.severity.id().to_owned()),
        ("since", limit.since.to_string()),
        ("until", limit.until.map_or_else(String::new, |d| d.to_string())),
        ("note", limit.note.clone()),
    ])
}

async fn page(
    app: &App,
    trainer: TrainerId,
    who: &Who,
    chrome: Chrome,
    typed: &Typed,
    shown: &Shown,
) -> Result<Page, WebError> {
    let client = who.client.id;
    let (now, other): (Vec<_>, Vec<_>) = who.limits.iter().partition(|l| l.in_force(who.today));
    let past = limits::history(&app.pool, trainer, client).await?;
    Ok(Page {
        chrome: who.frame(chrome, format!("{}: limits", who.client.name)),
        client,
        name: who.client.name.clone(),
        steps: steps(app, trainer, client, Step::Limits).await?,
        id: new_id(),
        change: shown.change,
        inputs: inputs(typed),
        meanwhile: None,
        removed: shown.removed.filter(|id| past.iter().any(|p| p.limit.id == *id && p.removed_at.is_some())),
        hurt: hurt(app, who),
        singles: single::of(app, trainer, client).await?,
        single: single::inputs(&Typed::default()),
        excluded: movements(excluded(app, &who.unspared)),
        now: now.into_iter().map(|l| view(app, who, l)).collect(),
        other: other.into_iter().map(|l| view(app, who, l)).collect(),
        past: past.iter().map(|p| past_text(p, who.today)).collect(),
    })
}

/// The page with what was typed of a single movement, and what is wrong with it.
pub(super) async fn with_single(
    app: &App,
    trainer: TrainerId,
    who: &Who,
    chrome: Chrome,
    typed: &Typed,
) -> Result<impl IntoResponse + use<>, WebError> {
    let shown = Shown::default();
    let mut page = page(app, trainer, who, chrome, &usual(who, &shown), &shown).await?;
    page.single = single::inputs(typed);
    // One field alone has the focus.
    for input in &mut page.inputs {
        input.focus = false;
    }
    focus_first(&mut page.single);
    Ok(page)
}

fn hurt(app: &App, who: &Who) -> Vec<HurtView> {
    let view = |pain: &bavrek_core::spot::Pain| {
        let name = app.catalogue.movement(&pain.exercise).map_or(pain.exercise.as_str(), |m| &m.name);
        HurtView {
            joint: pain.joint.map_or("", Joint::id),
            side: pain.side.map_or("", Side::id),
            text: capital(&format!("{}: {}, in {name}", day(pain.on, who.today), pain.text())),
            told: pain.joint.is_some(),
        }
    };
    who.pains.iter().map(view).collect()
}

/// Movements that the limits alone rule out, in a room that has everything.
fn excluded(app: &App, person: &Person) -> usize {
    let kit = full_room();
    let unlimited = Person { limits: Vec::new(), ..person.clone() };
    let movements = app.catalogue.movements.iter();
    movements
        .filter(|m| {
            touched(m, person) && ruled_out(m, &unlimited, &kit).is_empty() && !ruled_out(m, person, &kit).is_empty()
        })
        .count()
}

/// Whether any of the limits concerns the movement.
fn touched(movement: &bavrek_core::movement::Movement, person: &Person) -> bool {
    person.limits.iter().any(|l| movement.limits.iter().any(|r| r.joint == l.joint && r.what == l.what))
}

fn view(app: &App, who: &Who, limit: &DatedLimit) -> LimitView {
    let alone = Person { limits: vec![limit.rule], ..who.unspared.clone() };
    let excluded = excluded(app, &alone);
    let concerned = app.catalogue.movements.iter().filter(|m| touched(m, &alone)).count();
    let does = match (excluded, concerned.saturating_sub(excluded)) {
        (0, 0) => "concerns no movement of the catalogue".to_owned(),
        (0, eased) => format!("counts against {}", movements(eased)),
        (excluded, 0) => format!("rules out {}", movements(excluded)),
        (excluded, eased) => format!("rules out {} and counts against {eased} more", movements(excluded)),
    };
    LimitView {
        id: limit.id,
        text: limit.rule.text(),
        dates: match limit.until {
            Some(until) => format!("{} to {}", day(limit.since, who.today), day(until, who.today)),
            None => format!("since {}", day(limit.since, who.today)),
        },
        note: limit.note.clone(),
        does,
    }
}

fn past_text(past: &PastLimit, today: NaiveDate) -> String {
    let limit = &past.limit;
    let until = limit.until.map_or_else(String::new, |u| format!(" to {}", day(u, today)));
    let removed = |at: DateTime<Utc>| format!("removed {}", day(at.date_naive(), today));
    let fate = past.removed_at.map_or_else(|| "changed since".to_owned(), removed);
    format!("{}, from {}{until}; {fate}", limit.rule.text(), day(limit.since, today))
}

fn inputs(typed: &Typed) -> Vec<Input> {
    let text = |name, label| Input::text(typed, name, label, "");
    let mut inputs = vec![
        text("joint", "Joint").select(Some("choose"), Joint::ALL.iter().map(|j| (j.id(), j.label()))),
        text("what", "What").select(Some("choose"), LimitKind::ALL.iter().map(|k| (k.id(), k.label()))),
        text("side", "Side").select(None, Side::ALL.iter().map(|s| (s.id(), s.label()))),
        text("severity", "Severity").select(
            Some("choose"),
            [
                ("mild", "mild: go easy"),
                ("moderate", "moderate: leave out what provokes it"),
                ("severe", "severe: leave out what touches it"),
            ],
        ),
        text("since", "From").kind("date"),
        text("until", "Until, if known").kind("date"),
        text("note", "Note").area(),
    ];
    focus_first(&mut inputs);
    inputs
}

fn read(typed: &mut Typed, who: &Who, id: Uuid) -> Option<DatedLimit> {
    let joint = typed.needed_word("joint", Joint::from_id);
    let what = typed.needed_word("what", LimitKind::from_id);
    let side = typed.needed_word("side", Side::from_id);
    let severity = typed.needed_word("severity", Severity::from_id);
    let since = typed.past_day("since", who.today);
    if since.is_none() {
        typed.refuse("since", "is needed");
    }
    let until = typed.day("until");
    if let (Some(since), Some(until)) = (since, until)
        && until < since
    {
        typed.refuse("until", format!("lies before the first day, {}", day(since, who.today)));
    }
    let note = typed.text("note", LONGEST_NOTE);
    let rule = Limit { joint: joint?, what: what?, side: side?, severity: severity? };
    let limit = DatedLimit { id, rule, since: since?, until, note };
    typed.fine().then_some(limit)
}

/// Adds a limit, or puts one in the place of another.
async fn save(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let id = fields.id("id")?;
    let change = if fields.text("change").is_empty() { None } else { Some(fields.id("change")?) };
    let shown = Shown { change, ..Shown::default() };
    let mut typed = Typed::of(&fields);
    let Some(limit) = read(&mut typed, &who, id) else {
        let page = page(&app, trainer, &who, chrome, &typed, &shown).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    let done = match change {
        Some(old) => limits::change(&app.pool, trainer, client, old, &limit).await,
        None => limits::add(&app.pool, trainer, client, &limit).await,
    };
    // The limit takes over from the pain that was told of the joint.
    if done.is_ok() && who.pains.iter().any(|p| p.joint == Some(limit.rule.joint)) {
        pains::settle(&app.pool, trainer, client, id, Some(limit.rule.joint)).await?;
    }
    match done {
        Ok(()) => Ok(Redirect::to(&Step::Limits.href(client)).into_response()),
        Err(StoreError::Conflict) => {
            let mut page = page(&app, trainer, &who, chrome, &typed, &Shown::default()).await?;
            page.meanwhile = Some(changed_to(&mut page.inputs, &typed, &who, &limit));
            Ok((StatusCode::CONFLICT, page).into_response())
        }
        Err(other) => Err(other.into()),
    }
}

/// What stands now in place of the limit that was to be changed: the one about the same joint, where there is one.
fn changed_to(inputs: &mut [Input], typed: &Typed, who: &Who, mine: &DatedLimit) -> String {
    match who.limits.iter().find(|l| l.rule.joint == mine.rule.joint) {
        Some(now) => {
            mark_meanwhile(inputs, &typed.differing(&typed_of(now)));
            format!(
                "This limit was changed meanwhile; now it is {}. Yours is below: recording it adds it beside that one.",
                now.rule.text()
            )
        }
        None => "This limit was removed meanwhile. Yours is below: recording it adds it anew.".to_owned(),
    }
}

/// What was told of a joint so far is settled.
async fn settle(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let joint = match fields.text("joint") {
        "" => None,
        text => Some(Joint::from_id(text).ok_or(WebError::bad("joint", "is no joint that is asked for"))?),
    };
    pains::settle(&app.pool, trainer, client, fields.id("id")?, joint).await?;
    Ok(Redirect::to(&Step::Limits.href(client)))
}

/// The limit holds until yesterday: from today on it no longer counts.
async fn end(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, limit)): Ids<(Uuid, Uuid)>,
    fields: Fields,
) -> Result<Redirect, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let id = fields.id("id")?;
    if who.limits.iter().any(|l| l.id == id) {
        // Sent twice: it is over already.
        return Ok(Redirect::to(&Step::Limits.href(client)));
    }
    let old = who.limits.iter().find(|l| l.id == limit).ok_or(WebError::ChangedMeanwhile)?;
    let until = who.today.pred_opt().unwrap_or(who.today).max(old.since);
    let ended = DatedLimit { id, until: Some(until), ..old.clone() };
    limits::change(&app.pool, trainer, client, limit, &ended).await?;
    Ok(Redirect::to(&Step::Limits.href(client)))
}

async fn remove(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, limit)): Ids<(Uuid, Uuid)>,
) -> Result<Redirect, WebError> {
    limits::set_removed(&app.pool, trainer, client, limit, true).await?;
    Ok(Redirect::to(&format!("{}?removed={limit}", Step::Limits.href(client))))
}

async fn restore(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, limit)): Ids<(Uuid, Uuid)>,
) -> Result<Redirect, WebError> {
    limits::set_removed(&app.pool, trainer, client, limit, false).await?;
    Ok(Redirect::to(&Step::Limits.href(client)))
}
