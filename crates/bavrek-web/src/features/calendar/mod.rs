//! Workouts in a calendar: a link that a calendar follows, of one client or of all, and a file.

use std::collections::BTreeMap;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::State as Shared;
use axum::http::{StatusCode, header};
use axum::middleware;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::contact::{Contact, in_short};
use bavrek_core::ranges::LegalRange;
use bavrek_formats::calendar::{Clocked, Entry, calendar};
use bavrek_store::clients::Client;
use bavrek_store::deeds::{self, What};
use bavrek_store::feeds::{self, Feed};
use bavrek_store::outbox::Kind;
use bavrek_store::{StoreError, TrainerId, clients, fits, new_id};
use chrono::{Days, NaiveDate, NaiveTime};
use uuid::Uuid;

use super::account::new_secret;
use super::dates::day;
use super::outbox::{self, Letter};
use super::typed::{Input, Typed};
use crate::auth::within_a_wall;
use crate::chrome::Chrome;
use crate::downloads;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

/// Days before and after today that a client's calendar shows, and that of all.
const OF_ONE: [u64; 2] = [60, 400];
const OF_ALL: [u64; 2] = [7, 60];
/// Minutes before a workout at which an alarm may be given: up to two days.
const ALARM: LegalRange = LegalRange { min: 0.0, max: 2880.0, unit: "min" };

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/calendar", get(show_all).post(make_all))
        .route("/calendar/end", post(end_all))
        .route("/clients/{client}/calendar", get(show).post(make))
        .route("/clients/{client}/calendar/end", post(end))
        .route("/clients/{client}/calendar/file", get(file))
}

/// What a calendar asks for by its link.
pub(super) fn linked_routes() -> Router<App> {
    Router::new().route("/follow/{secret}/workouts.ics", get(follow)).route_layer(middleware::from_fn(within_a_wall))
}

#[derive(Template, WebTemplate)]
#[template(path = "calendar/page.html")]
struct Page {
    chrome: Chrome,
    /// The client whose workouts it shows; none shows those of all.
    client: Option<(Uuid, String)>,
    /// Where the client is reached, by what, so that the link can be sent; empty where that is not known.
    contact: String,
    by: &'static str,
    /// Whether the link just made was sent.
    sent: bool,
    /// Where its forms go.
    action: String,
    inputs: Vec<Input>,
    /// When the link that opens was made.
    made: Option<String>,
    /// The link, the one time it is shown.
    fresh: Option<String>,
}

/// Whose calendar it is.
async fn whose(app: &App, trainer: TrainerId, client: Option<Uuid>) -> Result<Option<Client>, WebError> {
    Ok(match client {
        Some(id) => Some(clients::one(&app.pool, trainer, id).await?),
        None => None,
    })
}

async fn page(
    app: &App,
    (trainer, client): (TrainerId, Option<Uuid>),
    chrome: Chrome,
    (typed, fresh, sent): (Option<Typed>, Option<String>, bool),
) -> Result<Page, WebError> {
    let feed = feeds::of(&app.pool, trainer, client).await?;
    let client = whose(app, trainer, client).await?;
    let today = app.clock.now().date_naive();
    let typed = typed.unwrap_or_else(|| {
        let at = feed.and_then(|f| f.starts_at).map_or_else(String::new, |at| at.format("%H:%M").to_string());
        let alarm = feed.and_then(|f| f.alarm).map_or_else(String::new, |m| m.to_string());
        Typed::usual([("starts_at", at), ("alarm", alarm)])
    });
    Ok(Page {
        chrome: chrome.titled("Calendar"),
        action: client.as_ref().map_or_else(|| "/calendar".into(), |c| format!("/clients/{}/calendar", c.id)),
        contact: client.as_ref().map_or_else(String::new, |c| c.contact.clone()),
        by: client.as_ref().map_or("", |c| if Contact::is_number(&c.contact) { "a text message" } else { "a letter" }),
        sent,
        inputs: vec![
            Input::text(&typed, "starts_at", "Workouts begin at", "empty: the whole day").kind("time"),
            Input::text(&typed, "alarm", "Alarm, minutes before", "empty: none"),
        ],
        made: feed.map(|f| day(f.made_at.date_naive(), today)),
        client: client.map(|c| (c.id, c.name)),
        fresh,
    })
}

async fn show(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, chrome: Chrome) -> Result<Page, WebError> {
    page(&app, (trainer, Some(client)), chrome, (None, None, false)).await
}

async fn show_all(Mine(app): Mine, Me(trainer): Me, chrome: Chrome) -> Result<Page, WebError> {
    page(&app, (trainer, None), chrome, (None, None, false)).await
}

async fn make(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    link(&app, (trainer, Some(client)), chrome, &fields).await
}

async fn make_all(Mine(app): Mine, Me(trainer): Me, chrome: Chrome, fields: Fields) -> Result<Response, WebError> {
    link(&app, (trainer, None), chrome, &fields).await
}

/// Makes a link and sends it where that is wanted, or says what is wrong with what was typed.
async fn link(
    app: &App,
    (trainer, client): (TrainerId, Option<Uuid>),
    chrome: Chrome,
    fields: &Fields,
) -> Result<Response, WebError> {
    let whom = whose(app, trainer, client).await?;
    let mut typed = Typed::of(fields);
    let starts_at = typed.word("starts_at", |text| NaiveTime::parse_from_str(text, "%H:%M").ok());
    let alarm = typed.whole("alarm", ALARM).and_then(|minutes| u16::try_from(minutes).ok());
    if !typed.fine() {
        let page = page(app, (trainer, client), chrome, (Some(typed), None, false)).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    let secret = new_secret();
    let new = Feed { client, starts_at, alarm, made_at: app.clock.now() };
    feeds::make(&app.pool, trainer, &new, &secret).await?;
    let address = format!("{}/follow/{secret}/workouts.ics", app.address);
    let whom = whom.filter(|c| !c.contact.is_empty() && fields.text("send") == "on");
    if let Some(client) = &whom {
        send(app, trainer, client, (&address, &secret)).await?;
    }
    Ok(page(app, (trainer, client), chrome, (None, Some(address), whom.is_some())).await?.into_response())
}

/// Sends a client the link that their calendar can follow.
async fn send(app: &App, trainer: TrainerId, client: &Client, (address, secret): (&str, &str)) -> Result<(), WebError> {
    let whole = if Contact::is_number(&client.contact) {
        format!("{}, your workouts for your calendar, to follow: {address}\nYours alone.", in_short(&client.name))
    } else {
        format!(
            "Hello {},\n\nyour workouts for your calendar: {address}\n\nGive it to your calendar as an address to follow, or to \
             subscribe to: what is moved or called off then changes there by itself. It is yours alone: whoever has it sees \
             when and where you train.\n",
            client.name
        )
    };
    let letter = Letter {
        client: Some(client.id),
        recipient: &client.contact,
        kind: Kind::Calendar,
        subject: "Your workouts for your calendar",
        shown: outbox::masked(&whole, secret),
        whole,
        pictures: Vec::new(),
    };
    outbox::post(app, trainer, new_id(), letter).await
}

async fn end(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids) -> Result<Redirect, WebError> {
    whose(&app, trainer, Some(client)).await?;
    feeds::end(&app.pool, trainer, Some(client)).await?;
    Ok(Redirect::to(&format!("/clients/{client}/calendar")))
}

async fn end_all(Mine(app): Mine, Me(trainer): Me) -> Result<Redirect, WebError> {
    feeds::end(&app.pool, trainer, None).await?;
    Ok(Redirect::to("/calendar"))
}

/// The workouts of a client as a file, with the times of their link where there is one.
async fn file(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids) -> Result<Response, WebError> {
    let name = clients::one(&app.pool, trainer, client).await?.name;
    let feed = feeds::of(&app.pool, trainer, Some(client)).await?;
    let clocked = Clocked { at: feed.and_then(|f| f.starts_at), alarm: feed.and_then(|f| f.alarm) };
    let text = written(&app, trainer, Some(client), clocked).await?;
    deeds::note(&app.pool, trainer, What::TakenOut, (Some(client), "calendar"), app.clock.now()).await?;
    Ok(downloads::file(&format!("workouts-{}.ics", downloads::part(&name)), text))
}

async fn follow(Shared(app): Shared<App>, Ids(secret): Ids<String>) -> Result<Response, WebError> {
    let (trainer, feed) = feeds::open(&app.pool, &secret).await?;
    let app = app.of(trainer).await?.reading().await;
    let clocked = Clocked { at: feed.starts_at, alarm: feed.alarm };
    let text = written(&app, trainer, feed.client, clocked).await?;
    Ok(([(header::CONTENT_TYPE, "text/calendar; charset=utf-8")], text).into_response())
}

/// The calendar of a client, or of all, around today.
async fn written(app: &App, trainer: TrainerId, client: Option<Uuid>, clocked: Clocked) -> Result<String, WebError> {
    let today = app.clock.now().date_naive();
    let [before, after] = if client.is_some() { OF_ONE } else { OF_ALL };
    let span = [today - Days::new(before), today + Days::new(after)];
    let mut lines = match client {
        Some(client) => lines(app, trainer, client, [today, span[1]]).await?,
        None => BTreeMap::new(),
    };
    let shown = feeds::shown(&app.pool, trainer, client, (span, today)).await?;
    let entries: Vec<Entry> = shown
        .into_iter()
        .map(|w| Entry {
            id: w.id,
            sequence: w.sequence,
            changed_at: w.changed_at,
            on: w.on,
            minutes: w.minutes,
            title: if client.is_some() { w.name } else { format!("{}: {}", w.client, w.name) },
            place: w.place,
            lines: lines.get_mut(&(w.session, w.on)).map(std::mem::take).unwrap_or_default(),
            off: w.off,
            zone: w.time_zone.parse().unwrap_or(chrono_tz::UTC),
        })
        .collect();
    let name = whose(app, trainer, client).await?.map_or_else(|| "Workouts".to_owned(), |client| client.name);
    Ok(calendar(&name, &entries, clocked))
}

/// What is done on planned days, line by line.
async fn lines(
    app: &App,
    trainer: TrainerId,
    client: Uuid,
    span: [NaiveDate; 2],
) -> Result<BTreeMap<(Uuid, NaiveDate), Vec<String>>, StoreError> {
    let mut lines: BTreeMap<(Uuid, NaiveDate), Vec<String>> = BTreeMap::new();
    for line in fits::planned(&app.pool, trainer, client, span).await? {
        let name = app.catalogue.movement(&line.exercise).map_or(line.exercise.as_str(), |m| &m.name);
        lines.entry((line.session, line.on)).or_default().push(format!("{name}: {}", line.dose.text()));
    }
    Ok(lines)
}
