//! Plans from elsewhere: pasted, read, checked line by line, and laid as sessions. Nothing is stored before that.

mod rows;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::reading::{Names, Unread, WrittenPlan, read_lines};
use bavrek_core::script::WorkoutState;
use bavrek_formats::written;
use bavrek_store::fits::{self, NewFit};
use bavrek_store::places::{self, PlaceHead};
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::{TrainerId, new_id};
use chrono::Duration;
use uuid::Uuid;

use self::rows::{Row, Seen};
use super::scene::Scene;
use super::typed::{Input, Typed, focus_first};
use super::who::{Who, usual_minutes};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

/// Most lines that are checked at once; who has more reads them in two goes.
const MOST_ROWS: usize = 60;
/// Most sessions of one text.
const MOST_SESSIONS: usize = 14;
/// Longest name of a session, characters.
const LONGEST_NAME: usize = 80;
/// Days from one session to the next where no days are stated.
const DAYS_BETWEEN: i64 = 2;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/read", get(paste).post(read))
        .route("/clients/{client}/read/again", get(back).post(again))
        .route("/clients/{client}/read/take", get(back).post(take))
}

#[derive(Template, WebTemplate)]
#[template(path = "reading/paste.html")]
struct Paste {
    chrome: Chrome,
    client: (Uuid, String),
    inputs: Vec<Input>,
    no_place: bool,
}

#[derive(Template, WebTemplate)]
#[template(path = "reading/check.html")]
struct Check {
    chrome: Chrome,
    client: (Uuid, String),
    place: (Uuid, String),
    sessions: Vec<SessionView>,
    unread: Vec<Unread>,
    /// How many lines were left out because there are too many.
    beyond: usize,
    /// Every name that may be meant.
    names: Vec<String>,
    stopped: bool,
    wrong: usize,
    /// Whether it was to be laid with nothing ticked.
    nothing: bool,
}

struct SessionView {
    number: usize,
    id: Uuid,
    name: Input,
    on: Input,
    minutes: i16,
    taken: bool,
    rows: Vec<Seen>,
}

/// Whose plan it is, and where it goes.
struct Desk {
    who: Who,
    places: Vec<PlaceHead>,
}

impl Desk {
    async fn load(app: &App, trainer: TrainerId, client: Uuid) -> Result<Self, WebError> {
        let who = Who::load(app, trainer, client).await?;
        let places = places::in_use(&app.pool, trainer, client).await?;
        Ok(Self { who, places })
    }

    fn client(&self) -> (Uuid, String) {
        (self.who.client.id, self.who.client.name.clone())
    }

    fn paste(&self, chrome: Chrome, typed: &Typed) -> Paste {
        let places: Vec<_> = self.places.iter().map(|p| (p.id.to_string(), p.name.clone())).collect();
        let options = places.iter().map(|(id, name)| (id.as_str(), name.as_str()));
        let mut inputs = vec![
            Input::text(typed, "text", "The plan", "Bench press 3 x 8-12, 2 in reserve, rest 90 s").area(),
            Input::text(typed, "place", "Where it is to be done", "").select(None, options),
        ];
        inputs[0].most = 200_000;
        focus_first(&mut inputs);
        Paste {
            chrome: self.who.frame(chrome, "Read a plan in"),
            client: self.client(),
            inputs,
            no_place: self.places.is_empty(),
        }
    }

    fn place(&self, typed: &mut Typed) -> Option<Uuid> {
        typed.needed_word("place", |id| self.places.iter().find(|p| p.id.to_string() == id).map(|p| p.id))
    }
}

async fn paste(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, chrome: Chrome) -> Result<Paste, WebError> {
    let desk = Desk::load(&app, trainer, client).await?;
    Ok(desk.paste(chrome, &Typed::default()))
}

async fn back(Ids(client): Ids) -> Redirect {
    Redirect::to(&format!("/clients/{client}/read"))
}

/// The text as a plan, each line with what it may mean here.
async fn read(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::load(&app, trainer, client).await?;
    let mut typed = Typed::of(&fields);
    let place = desk.place(&mut typed);
    let text = typed.value("text").to_owned();
    if text.is_empty() {
        typed.refuse("text", "paste or type a plan, a movement a line");
    }
    let lines = written::lines(&text, None).map_err(|e| typed.refuse("text", e.message)).ok();
    let names = Names::of(&app.catalogue);
    let plan = lines.map(|lines| read_lines(&names, lines));
    if plan.as_ref().is_some_and(|plan| plan.sessions.is_empty()) && typed.fine() {
        typed.refuse("text", "no line of it reads as a movement with a dose: write one as \"Curl 3 x 10\"");
    }
    let (Some(plan), Some(place), true) = (plan, place, typed.fine()) else {
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, desk.paste(chrome, &typed)).into_response());
    };
    let (read, rows) = first_guess(&app, &desk, place, &plan);
    let beyond = plan.slots().count() - rows;
    Ok(check(&app, trainer, chrome, &read, (plan.unread, beyond)).await?.into_response())
}

/// The check as it begins: what is most surely meant, and the days as far as they follow from nothing else; with how many
/// lines of it are there.
fn first_guess(app: &App, desk: &Desk, place: Uuid, plan: &WrittenPlan<'_>) -> (Typed, usize) {
    let mut values = std::collections::BTreeMap::from([("place".to_owned(), place.to_string())]);
    let mut k = 0;
    for (i, session) in plan.sessions.iter().take(MOST_SESSIONS).enumerate() {
        let on = desk.who.today + Duration::days(1 + DAYS_BETWEEN * i as i64);
        let name = session.name.clone().unwrap_or_else(|| format!("Plan of {}", desk.who.today));
        values.insert(format!("name-{i}"), name.chars().take(LONGEST_NAME).collect());
        values.insert(format!("on-{i}"), on.to_string());
        values.insert(format!("take-{i}"), "on".to_owned());
        values.insert(format!("id-{i}"), new_id().to_string());
        for (at, slot) in session.slots.iter().take(MOST_ROWS.saturating_sub(k)).enumerate() {
            let part = session.slots[..at].iter().filter(|s| s.number == slot.number).count();
            values.extend(Row::of(app, slot, part).fields(k, i));
            k += 1;
        }
    }
    (Typed::from_map(values), k)
}

async fn check(
    app: &App,
    trainer: TrainerId,
    chrome: Chrome,
    typed: &Typed,
    (unread, beyond): (Vec<Unread>, usize),
) -> Result<Check, WebError> {
    let place: Uuid = typed.value("place").parse().map_err(|_| WebError::NotFound)?;
    let head = places::one(&app.pool, trainer, place).await?;
    let mut scene = Scene::at(app, trainer, head.client_id, place).await?;
    let chrome = scene.frame(chrome).titled("Check the plan");
    let mut sessions: Vec<SessionView> = (0..MOST_SESSIONS).map_while(|i| session(typed, &scene, i)).collect();
    let fitter = scene.fitter(app);
    let mut desk =
        rows::Desk { app, person: &scene.person, kit: &scene.place.kit, fitter: &fitter, before: Vec::new() };
    let mut at = 0;
    for k in 0..MOST_ROWS {
        let Some((i, row)) = Row::read(typed, k) else { break };
        if i != at {
            (at, desk.before) = (i, Vec::new());
        }
        if let Some(session) = sessions.get_mut(i) {
            session.rows.push(Seen::of(&mut desk, (k, row)));
        }
    }
    let wrong = sessions.iter().filter(|s| s.taken).flat_map(|s| &s.rows).filter(|r| r.is_wrong()).count()
        + sessions.iter().filter(|s| s.name.error.is_some() || s.on.error.is_some()).count();
    let home = app.catalogue.movements.iter().map(|m| m.name.clone());
    let names = home.chain(app.catalogue.gym.values().map(|g| g.name.clone())).collect();
    Ok(Check {
        client: (scene.client.id, scene.client.name.clone()),
        place: (place, scene.place.name.clone()),
        sessions,
        unread,
        beyond,
        names,
        stopped: scene.stopped,
        wrong,
        nothing: false,
        chrome,
    })
}

/// A session's head as it was typed; none where there is no such session in the form.
fn session(typed: &Typed, scene: &Scene, i: usize) -> Option<SessionView> {
    let id = typed.value(&format!("id-{i}")).parse().ok()?;
    let mut own = Typed::usual([
        ("name", typed.value(&format!("name-{i}")).to_owned()),
        ("on", typed.value(&format!("on-{i}")).to_owned()),
    ]);
    own.needed("name", LONGEST_NAME);
    if own.day("on").is_none() {
        own.refuse("on", "is needed");
    }
    Some(SessionView {
        number: i,
        id,
        name: Input::text(&own, "name", "Session", ""),
        on: Input::text(&own, "on", "Day", "").kind("date"),
        minutes: usual_minutes(&scene.client),
        taken: typed.value(&format!("take-{i}")) == "on",
        rows: Vec::new(),
    })
}

/// The lines that could not be read, as the form carries them along: `12 Drink water`.
fn unread(fields: &Fields) -> Vec<Unread> {
    let line = |text: &str| {
        let (number, text) = text.split_once(' ')?;
        Some(Unread { number: number.parse().ok()?, text: text.chars().take(300).collect() })
    };
    fields.all("unread").filter_map(line).collect()
}

/// The same with what was changed: another movement is meant, another dose.
async fn again(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Check, WebError> {
    let page = check(&app, trainer, chrome, &Typed::of(&fields), (unread(&fields), 0)).await?;
    if page.client.0 == client { Ok(page) } else { Err(WebError::NotFound) }
}

/// Lays the sessions that are ticked: their slots in blocks, each with what does its job here.
async fn take(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let page = check(&app, trainer, chrome, &Typed::of(&fields), (unread(&fields), 0)).await?;
    if page.client.0 != client {
        return Err(WebError::NotFound);
    }
    let nothing = page.sessions.iter().all(|s| !s.taken || s.rows.iter().all(|r| r.out));
    if page.wrong > 0 || nothing {
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, Check { nothing, ..page }).into_response());
    }
    let mut laid = Vec::new();
    for session in page.sessions.iter().filter(|s| s.taken) {
        laid.extend(lay(&app, trainer, (client, page.place.0), session).await?);
    }
    let target = match laid[..] {
        [only] => format!("/sessions/{only}"),
        _ => format!("/clients/{client}"),
    };
    Ok(Redirect::to(&target).into_response())
}

async fn lay(
    app: &App,
    trainer: TrainerId,
    (client, place): (Uuid, Uuid),
    session: &SessionView,
) -> Result<Option<Uuid>, WebError> {
    let rows: Vec<&Seen> = session.rows.iter().filter(|r| !r.out).collect();
    let Some(planned_on) = session.on.value.parse().ok().filter(|_| !rows.is_empty()) else { return Ok(None) };
    let head = SessionHead {
        id: session.id,
        client_id: client,
        place_id: place,
        name: session.name.value.clone(),
        planned_on,
        state: WorkoutState::Planned,
        turn: bavrek_core::calendar::Turn::Usual,
        light: false,
        minutes: session.minutes,
        method: None,
        follows: None,
        version: 0,
    };
    let (session, slots) = sessions::add(&app.pool, trainer, &head, &blocks(&rows)).await?;
    for (slot_id, row) in slots.into_iter().zip(rows) {
        if let Some((exercise, step, prescription)) = &row.fit {
            let new = NewFit { slot_id, place_id: place, exercise, step, prescription, pinned: false };
            fits::take(&app.pool, trainer, &new).await?;
        }
    }
    Ok(Some(session))
}

/// The rows in blocks: those that share a number stand together.
fn blocks(rows: &[&Seen]) -> Vec<(BlockKind, Vec<Intent>)> {
    let mut blocks: Vec<(Option<usize>, BlockKind, Vec<Intent>)> = Vec::new();
    for row in rows {
        let Some(intent) = row.intent.clone() else { continue };
        match blocks.last_mut().filter(|(number, ..)| number.is_some() && *number == row.block) {
            Some((.., intents)) => intents.push(intent),
            None => blocks.push((row.block, row.kind.unwrap_or(BlockKind::Straight), vec![intent])),
        }
    }
    let kind = |kind, intents: &[Intent]| if intents.len() > 1 { kind } else { BlockKind::Straight };
    blocks.into_iter().map(|(_, k, intents)| (kind(k, &intents), intents)).collect()
}
