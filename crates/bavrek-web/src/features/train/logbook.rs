//! The log of a workout for the trainer: a day that was written on paper is typed in as a grid, and what stands can be corrected or
//! taken back. What was said first stays and is seen.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::dose::SetPlan;
use bavrek_core::log::LoggedSet;
use bavrek_core::person::Side;
use bavrek_core::script::Turn;
use bavrek_store::clients::Client;
use bavrek_store::log::{self, Appended};
use bavrek_store::sessions::SessionHead;
use bavrek_store::{TrainerId, clients, new_id, notes, sessions, workouts};
use chrono::{DateTime, NaiveDate, NaiveTime, TimeZone, Utc};
use serde::Deserialize;
use uuid::Uuid;

use super::asked::Asked;
use super::floor::Floor;
use super::forms::{Basis, SetForm};
use super::record::{self, New};
use super::told::what;
use super::views::SETS_TO_A_TOTAL;
use super::{Shown, basis};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::dates::{day, moment};
use crate::state::App;

/// How far back a day may be typed in, days.
const LONGEST_BACK: i64 = 730;
/// Most rows of a grid.
const MOST_ROWS: usize = 200;
/// The time of day of what was written down without one.
const NOON: NaiveTime = NaiveTime::from_hms_opt(12, 0, 0).expect("there is a noon");

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/sessions/{session}/log", get(show).post(enter))
        .route("/sessions/{session}/log/take-back", get(super::back).post(take_back))
}

#[derive(Template, WebTemplate)]
#[template(path = "train/log.html")]
struct Page {
    chrome: Chrome,
    session: (Uuid, String),
    client: (Uuid, String),
    on: String,
    day: String,
    /// What is wrong with the day that was asked for.
    day_error: Option<String>,
    /// Days that something is known of.
    days: Vec<(String, String)>,
    rows: Vec<Row>,
    errors: Vec<String>,
    sets: Vec<Line>,
    notes: Vec<String>,
    ended: Option<String>,
}

/// A set that can be typed in.
struct Row {
    id: Uuid,
    slot: Uuid,
    turn: usize,
    shown: String,
    side: &'static str,
    name: String,
    how: String,
    asked: String,
    /// As typed; none where it is not asked for.
    reps: Option<String>,
    seconds: Option<String>,
    rir: Option<String>,
    wrong: bool,
}

/// A set that stands or stood, with what became of it.
struct Line {
    id: Uuid,
    name: String,
    what: String,
    stands: bool,
    /// Who said it, when; then what came after.
    history: Vec<String>,
    /// For taking it back.
    back: Uuid,
}

#[derive(Deserialize, Default)]
struct Wanted {
    on: Option<String>,
}

/// A session with its client's today.
async fn head_of(app: &App, trainer: TrainerId, session: Uuid) -> Result<(SessionHead, Client, NaiveDate), WebError> {
    let head = sessions::head(&app.pool, trainer, session).await?;
    let client = clients::one(&app.pool, trainer, head.client_id).await?;
    let today = app.clock.today(&client.time_zone);
    Ok((head, client, today))
}

/// The day that was asked for, or what is wrong with it.
fn wanted_day(text: Option<&str>, today: NaiveDate) -> Result<NaiveDate, String> {
    let Some(text) = text.filter(|t| !t.is_empty()) else { return Ok(today) };
    match text.parse::<NaiveDate>() {
        Ok(on) if on <= today && (today - on).num_days() <= LONGEST_BACK => Ok(on),
        _ => Err(format!("Day: must be a date up to today, at most {LONGEST_BACK} days back, not {text:?}")),
    }
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    Query(wanted): Query<Wanted>,
    chrome: Chrome,
) -> Result<Response, WebError> {
    let (head, _, today) = head_of(&app, trainer, session).await?;
    let (on, day_error) = match wanted_day(wanted.on.as_deref(), today) {
        Ok(on) => (on, None),
        Err(error) => (today, Some(error)),
    };
    let status = if day_error.is_some() { StatusCode::UNPROCESSABLE_ENTITY } else { StatusCode::OK };
    let floor = Floor::on(&app, trainer, head, on).await?;
    let rows = rows(&app, &floor);
    let page = page(&app, trainer, chrome, floor, (rows, Vec::new())).await?;
    Ok((status, Page { day_error, ..page }).into_response())
}

/// The sets that were not logged on the day yet, each with a row.
fn rows(app: &App, floor: &Floor) -> Vec<Row> {
    let done = floor.done();
    let open = floor.script.open(&done);
    // As many sets as a total may take would be rows that nobody fills in.
    let first_of_total = |turn: &&&Turn<Uuid>| turn.work.total.is_none() || turn.round < SETS_TO_A_TOTAL;
    open.iter()
        .filter(first_of_total)
        .take(MOST_ROWS)
        .filter_map(|turn| {
            let post = floor.post(turn.key)?;
            let movement = app.catalogue.movement(&post.fit.exercise)?;
            let asked = Asked::from_turn(turn);
            let side = turn.side.map_or("", Side::id);
            Some(Row {
                id: new_id(),
                slot: turn.key,
                turn: turn.round,
                shown: post.shown(floor.scene.today).text(),
                side,
                name: movement.name.clone(),
                how: post.fit.step.label.clone(),
                asked: asked_text(turn.round, side, &turn.work),
                reps: asked.reps.map(|_| String::new()),
                seconds: asked.seconds.map(|_| String::new()),
                rir: asked.asks_reserve().then(String::new),
                wrong: false,
            })
        })
        .collect()
}

/// `set 2, left: 8–12`.
fn asked_text(round: usize, side: &str, plan: &SetPlan) -> String {
    let side = if side.is_empty() { String::new() } else { format!(", {side}") };
    format!("set {}{side}: {}", round + 1, plan.amount())
}

async fn page(
    app: &App,
    trainer: TrainerId,
    chrome: Chrome,
    mut floor: Floor,
    (rows, errors): (Vec<Row>, Vec<String>),
) -> Result<Page, WebError> {
    let chrome = floor.scene.frame(chrome);
    let (session, on) = (floor.session.id, floor.scene.today);
    let today = app.clock.today(&floor.scene.client.time_zone);
    let (appended, noted, ended, days) = tokio::try_join!(
        log::history(&app.pool, trainer, session, on),
        notes::of_session(&app.pool, trainer, session, on),
        workouts::ended(&app.pool, trainer, session, on),
        workouts::of_session(&app.pool, trainer, session),
    )?;
    let listed = days.into_iter().filter(|d| d.on <= today && d.on != on);
    Ok(Page {
        session: (session, floor.session.name.clone()),
        client: (floor.scene.client.id, floor.scene.client.name.clone()),
        on: on.to_string(),
        day: day(on, today),
        day_error: None,
        days: listed.map(|d| (d.on.to_string(), day(d.on, today))).collect(),
        rows,
        errors,
        sets: lines(app, &appended, (&floor.scene.client.time_zone, today)),
        notes: noted.into_iter().map(|n| n.text).collect(),
        ended: ended.and_then(|(_, why)| why),
        chrome: chrome.titled(format!("{}: log", floor.session.name)),
    })
}

/// Each set with its history, the first saying first.
fn lines(app: &App, appended: &[Appended], (zone, today): (&str, NaiveDate)) -> Vec<Line> {
    let when = |at: DateTime<Utc>| moment(at, zone, today);
    let who = |row: &Appended| if row.by_phone { "the phone" } else { "you" };
    let what = |set: &LoggedSet| what(set, app.catalogue.movement(&set.exercise));
    let after = |id: Uuid| appended.iter().find(|r| r.supersedes == Some(id));
    let name = |set: &LoggedSet| {
        app.catalogue.movement(&set.exercise).map_or_else(|| set.exercise.clone(), |m| m.name.clone())
    };
    appended
        .iter()
        .filter(|row| row.supersedes.is_none())
        .map(|first| {
            let mut history = vec![format!("{}, said by {}, {}", what(&first.set), who(first), when(first.logged_at))];
            let mut last = first;
            while let Some(next) = after(last.id) {
                let became =
                    if next.withdrawn { "taken back".to_owned() } else { format!("corrected to {}", what(&next.set)) };
                history.push(format!("{became} by {}, {}", who(next), when(next.logged_at)));
                last = next;
            }
            Line {
                id: last.id,
                name: name(&last.set),
                what: what(&last.set),
                stands: !last.withdrawn,
                history,
                back: new_id(),
            }
        })
        .collect()
}

/// A row as it was typed: itself, with the set that it makes; none where it is empty or wrong.
async fn read_row(
    app: &App,
    trainer: TrainerId,
    floor: &Floor,
    (fields, n): (&Fields, usize),
    errors: &mut Vec<String>,
) -> Result<(Row, Option<LoggedSet>), WebError> {
    let of = |name: &str| fields.text(&format!("{name}_{n}"));
    let typed = |name: &str| of(name).chars().take(20).collect::<String>();
    let id = |name: &str| of(name).parse::<Uuid>().map_err(|_| WebError::bad("row", "names nothing"));
    let slot = id("slot")?;
    let turn: usize = of("turn").parse().map_err(|_| WebError::bad("turn", "is no number"))?;
    let post = floor.post(slot).ok_or(WebError::NotFound)?;
    let shown = Shown::read(of("shown")).ok_or(WebError::bad("shown", "cannot be read"))?;
    // Only where something was changed since the grid was shown is it looked up what it was.
    let basis = if shown == post.shown(shown.day) {
        Basis::of(app, post.fit.clone(), floor.scene.today)
    } else {
        basis(app, trainer, (&floor.scene, post), Shown { day: floor.scene.today, ..shown }).await?
    };
    let plan = basis.dose.sets.get(turn.min(basis.dose.sets.len().saturating_sub(1)));
    let asked = plan.map(|plan| Asked::from_plan(plan, turn));
    let name = app.catalogue.movement(&basis.exercise).map_or(basis.exercise.clone(), |m| m.name.clone());
    let side = Side::from_id(of("side")).map_or("", Side::id);
    let [reps, seconds, rir] = ["reps", "seconds", "rir"].map(typed);
    let empty = reps.is_empty() && seconds.is_empty();
    let pairs = [("reps", reps.as_str()), ("seconds", &seconds), ("rir", &rir), ("side", side)];
    let pairs = pairs.map(|(name, value)| (name.to_owned(), value.to_owned())).to_vec();
    let read = SetForm::read(&pairs.into(), &basis, asked.as_ref(), None);
    let wrong = !empty && read.is_err();
    if let (false, Err(form)) = (empty, &read) {
        errors.extend(form.errors.iter().map(|e| format!("{name}, set {}: {e}", turn + 1)));
    }
    let row = Row {
        id: id("id")?,
        slot,
        turn,
        shown: shown.text(),
        side,
        name,
        how: basis.step.label.clone(),
        asked: plan.map_or_else(String::new, |plan| asked_text(turn, side, plan)),
        reps: asked.is_none_or(|a| a.reps.is_some()).then_some(reps),
        seconds: asked.is_some_and(|a| a.seconds.is_some()).then_some(seconds),
        rir: asked.is_none_or(|a| a.asks_reserve()).then_some(rir),
        wrong,
    };
    Ok((row, read.ok().filter(|_| !empty)))
}

/// Stores the rows that were filled in: all of them, or none where one is wrong.
async fn enter(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let (head, client, today) = head_of(&app, trainer, session).await?;
    let on = wanted_day(Some(fields.text("on")), today).map_err(|e| WebError::bad("on", e))?;
    let mut floor = Floor::on(&app, trainer, head, on).await?;
    let (mut good, mut errors, mut kept) = (Vec::new(), Vec::new(), Vec::new());
    for n in (0..MOST_ROWS).take_while(|n| !fields.text(&format!("id_{n}")).is_empty()) {
        let (row, set) = read_row(&app, trainer, &floor, (&fields, n), &mut errors).await?;
        good.extend(set.map(|set| (row.id, row.slot, set)));
        kept.push(row);
    }
    if errors.is_empty() && good.is_empty() {
        errors.push("Nothing is filled in: give the repetitions or seconds of a set at least.".into());
    }
    if !errors.is_empty() {
        let page = page(&app, trainer, chrome, floor, (kept, errors)).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    let done_at = time_of(on, today, &client.time_zone, app.clock.now());
    for (id, slot, set) in &good {
        let position = floor.post(*slot).map_or(1, |post| record::position(post, None));
        let new = New { id: *id, slot: *slot, position, set, done_at, supersedes: None, script: None };
        record::store(&app, trainer, &floor, &new).await?;
        let recorded = new.recorded(floor.session.place_id);
        floor.add(*slot, recorded, None);
    }
    record::say_done(&app, trainer, &floor).await?;
    Ok(Redirect::to(&format!("/sessions/{session}/log?on={on}")).into_response())
}

/// When what was written down was done: now where it is of today, else noon of its day. All sets of a day have one time, so that no
/// rest is read off that nobody measured.
fn time_of(on: NaiveDate, today: NaiveDate, zone: &str, now: DateTime<Utc>) -> DateTime<Utc> {
    let zone: chrono_tz::Tz = zone.parse().unwrap_or(chrono_tz::UTC);
    let noon = zone.from_local_datetime(&on.and_time(NOON)).earliest().map(|local| local.with_timezone(&Utc));
    noon.filter(|_| on != today).unwrap_or(now)
}

async fn take_back(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let (head, _, today) = head_of(&app, trainer, session).await?;
    let on = wanted_day(Some(fields.text("on")), today).map_err(|e| WebError::bad("on", e))?;
    log::take_back(&app.pool, trainer, session, fields.id("id")?, fields.id("set")?).await?;
    let floor = Floor::on(&app, trainer, head, on).await?;
    record::say_done(&app, trainer, &floor).await?;
    Ok(Redirect::to(&format!("/sessions/{session}/log?on={on}")))
}
