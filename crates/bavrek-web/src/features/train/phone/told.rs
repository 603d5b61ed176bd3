//! The client's phone as the trainer sees it: the link, when it was used, and what it said that needs a word.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::contact::{Contact, in_short};
use bavrek_core::reminding::Reminded;
use bavrek_store::entries::{self, Kept, State};
use bavrek_store::links::{self, Admitted, Link, NewLink};
use bavrek_store::outbox::Kind;
use bavrek_store::{TrainerId, new_id, reminders, sessions};
use chrono::{DateTime, NaiveDate, Utc};
use uuid::Uuid;

use super::take::{Taker, WRONG_CLOCK_S, ahead};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::dates::{day, moment};
use crate::features::outbox::{self, Letter};
use crate::features::who::Who;
use crate::pictures::code;
use crate::state::App;

/// Latest end of a link, days from today.
const LONGEST_DAYS: i64 = 730;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/phone", get(show).post(make))
        .route("/clients/{client}/phone/end", get(back).post(end))
        .route("/clients/{client}/phone/entry", get(back).post(decide))
        .route("/clients/{client}/phone/reminders", get(back).post(remind))
}

#[derive(Template, WebTemplate)]
#[template(path = "train/phone.html")]
struct Page {
    chrome: Chrome,
    client: (Uuid, String),
    contact: String,
    /// Whether that is a number for text messages.
    is_number: bool,
    /// The link just made, told once: address and picture.
    fresh: Option<(String, String)>,
    /// For the next link.
    id: Uuid,
    sessions: Vec<(Uuid, String)>,
    open: Vec<LinkView>,
    ended: Vec<LinkView>,
    entries: Vec<EntryView>,
    ends: Typed,
    /// When a letter before a workout is wanted: value, words, whether it is so.
    reminded: Vec<(&'static str, &'static str, bool)>,
}

/// The end of a link as it was typed.
#[derive(Default)]
struct Typed {
    value: String,
    error: Option<String>,
}

struct LinkView {
    id: Uuid,
    reach: String,
    made: String,
    until: String,
    used: String,
}

struct EntryView {
    id: Uuid,
    digest: String,
    what: String,
    session: (Uuid, String),
    when: String,
    came: String,
    state: &'static str,
    why: String,
    /// Whether the trainer can take or dismiss it.
    open: bool,
    /// Whether it can be taken at all: a conflict cannot, what was sent first has its place.
    takeable: bool,
}

async fn show(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, chrome: Chrome) -> Result<Page, WebError> {
    page(&app, trainer, client, chrome, None, Typed::default()).await
}

async fn back(Ids(client): Ids) -> Redirect {
    Redirect::to(&format!("/clients/{client}/phone"))
}

async fn page(
    app: &App,
    trainer: TrainerId,
    client: Uuid,
    chrome: Chrome,
    fresh: Option<(String, String)>,
    ends: Typed,
) -> Result<Page, WebError> {
    let who = Who::load(app, trainer, client).await?;
    let (known, told, heads, reminded) = tokio::try_join!(
        links::of_client(&app.pool, trainer, client),
        entries::told(&app.pool, trainer, client),
        sessions::of_client(&app.pool, trainer, client),
        reminders::of_client(&app.pool, trainer, client),
    )?;
    let zone = &who.client.time_zone;
    let when = |at: DateTime<Utc>| moment(at, zone, who.today);
    let view = |link: &Link| LinkView {
        id: link.id,
        reach: link.session.clone().map_or("all workouts".into(), |name| format!("{name} alone")),
        made: when(link.made_at),
        until: link.ends_on.map_or("no end".into(), |on| format!("until {}", day(on, who.today))),
        used: link.used_at.map_or("not used yet".into(), |at| format!("last used {}", when(at))),
    };
    let opens = |link: &&Link| link.ended_at.is_none() && link.ends_on.is_none_or(|on| who.today <= on);
    Ok(Page {
        client: (client, who.client.name.clone()),
        is_number: Contact::is_number(&who.client.contact),
        contact: who.client.contact.clone(),
        fresh,
        id: new_id(),
        sessions: heads.into_iter().map(|h| (h.id, h.name)).collect(),
        open: known.iter().filter(opens).map(view).collect(),
        ended: known.iter().filter(|l| !opens(l)).map(view).collect(),
        entries: told.iter().map(|kept| entry_view(app, kept, &when)).collect(),
        ends,
        reminded: Reminded::ALL.iter().map(|r| (r.id(), r.label(), *r == reminded)).collect(),
        chrome: who.frame(chrome, format!("{}: phone", who.client.name)),
    })
}

fn entry_view(app: &App, kept: &Kept, when: &impl Fn(DateTime<Utc>) -> String) -> EntryView {
    let open = matches!(kept.state, State::Waiting | State::Conflict | State::Refused);
    let mut why = kept.why.clone();
    if kept.state != State::Taken && kept.ahead_s.abs() > WRONG_CLOCK_S {
        why = format!("{why}; the phone's clock was {}", ahead(kept.ahead_s));
    }
    EntryView {
        id: kept.id,
        digest: hex::encode(&kept.digest),
        what: in_words(app, &kept.body),
        session: (kept.session_id, kept.session.clone()),
        when: when(kept.done_at),
        came: when(kept.came_at),
        state: match kept.state {
            State::Arrived => "arrived",
            State::Taken => "in the log",
            State::Waiting => "waits for you",
            State::Conflict => "contradicts",
            State::Refused => "refused",
            State::Dismissed => "dismissed",
        },
        why,
        open,
        takeable: matches!(kept.state, State::Waiting | State::Refused),
    }
}

/// What was said, in a few words.
fn in_words(app: &App, body: &serde_json::Value) -> String {
    let said = &body["said"];
    let fields = said["fields"].as_array().map(Vec::as_slice).unwrap_or_default();
    let field = |name: &str| {
        let found = fields.iter().find(|pair| pair[0] == name).and_then(|pair| pair[1].as_str());
        found.filter(|text| !text.is_empty())
    };
    let name = said["exercise"].as_str().and_then(|id| app.catalogue.movement(id)).map(|m| m.name.clone());
    match said["kind"].as_str().unwrap_or_default() {
        "set" => {
            let figures = [("reps", "reps"), ("reps_typed", "reps"), ("seconds", "s"), ("seconds_typed", "s")];
            let done = figures.into_iter().filter_map(|(f, unit)| field(f).map(|n| format!("{n} {unit}")));
            let rest = [("rir", "in reserve"), ("side", "side")].into_iter();
            let rest = rest.filter_map(|(f, unit)| field(f).map(|n| format!("{n} {unit}")));
            let told: Vec<String> = name.into_iter().chain(done).chain(rest).collect();
            let what = if said["supersedes"].is_null() { "A set" } else { "A correction" };
            format!("{what}: {}", told.join(", "))
        }
        "undo" => "A set taken back".into(),
        "skip" => match said["reason"].as_str() {
            Some(reason) if !reason.is_empty() => format!("Left out: {reason}"),
            _ => "Left out".into(),
        },
        "take_up" => "Done after all".into(),
        "swap" => format!("Swapped: {}", said["reason"].as_str().unwrap_or_default()),
        "unswap" => "Back to the plan".into(),
        "note" => format!("A note: {}", said["text"].as_str().unwrap_or_default()),
        "finish" => format!("Ended early: {}", said["why"].as_str().unwrap_or_default()),
        _ => "Something that could not be read".into(),
    }
}

/// Makes a link in the place of the one before, and sends it.
async fn make(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    headers: HeaderMap,
    fields: Fields,
) -> Result<Response, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let typed = fields.text("ends_on").to_owned();
    let ends_on = match (typed.is_empty(), typed.parse::<NaiveDate>()) {
        (true, _) => None,
        (false, Ok(on)) if on >= who.today && (on - who.today).num_days() <= LONGEST_DAYS => Some(on),
        _ => {
            let error = format!("The last day must be a date from today on, at most {LONGEST_DAYS} days ahead.");
            let ends = Typed { value: typed, error: Some(error) };
            let page = page(&app, trainer, client, chrome, None, ends).await?;
            return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
        }
    };
    let session = if fields.text("session").is_empty() { None } else { Some(fields.id("session")?) };
    if let Some(session) = session
        && sessions::head(&app.pool, trainer, session).await?.client_id != client
    {
        return Err(WebError::NotFound);
    }
    let secret = format!("{}{}", Uuid::new_v4().simple(), Uuid::new_v4().simple());
    let made_at = app.clock.now();
    let new = NewLink { id: fields.id("id")?, client, session, secret: &secret, made_at, ends_on };
    let fresh = if links::make(&app.pool, trainer, &new).await? {
        let host = headers.get(header::HOST).and_then(|h| h.to_str().ok()).unwrap_or("localhost");
        let scheme = if app.secure_cookies { "https" } else { "http" };
        let address = format!("{scheme}://{host}/go/{secret}");
        send(&app, trainer, &who, &address).await?;
        Some((address.clone(), code::draw(&address)))
    } else {
        None
    };
    Ok(page(&app, trainer, client, chrome, fresh, Typed::default()).await?.into_response())
}

/// Writes the message with the link: shown with the link's last characters alone, and delivered whole.
async fn send(app: &App, trainer: TrainerId, who: &Who, address: &str) -> Result<(), WebError> {
    let name = &who.client.name;
    let brief = Contact::is_number(&who.client.contact);
    let text = |link: &str| {
        if brief {
            let name = in_short(name);
            return format!(
                "{name}, your workouts: {link}\nOpen it once with a signal, then it works without. Yours alone: whoever has it sees your log."
            );
        }
        format!(
            "Hello {name},\n\nyour workouts: {link}\n\nOpen it once where there is a signal; from then on it works without one. \
             It is yours alone: whoever has it can see and log your workouts.\n"
        )
    };
    let letter = Letter {
        client: Some(who.client.id),
        recipient: &who.client.contact,
        kind: Kind::Link,
        subject: "Your workouts",
        whole: text(address),
        shown: outbox::masked(&text(address), address.rsplit('/').next().unwrap_or_default()),
        pictures: Vec::new(),
    };
    outbox::post(app, trainer, new_id(), letter).await
}

/// When a letter before each workout is sent from now on.
async fn remind(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let reminded = Reminded::from_id(fields.text("reminded"));
    let reminded = reminded.ok_or(WebError::bad("reminded", "is none of the choices"))?;
    reminders::set(&app.pool, trainer, client, reminded).await?;
    Ok(Redirect::to(&format!("/clients/{client}/phone")))
}

async fn end(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, fields: Fields) -> Result<Redirect, WebError> {
    bavrek_store::clients::one(&app.pool, trainer, client).await?;
    links::end(&app.pool, trainer, client, fields.id("link")?, app.clock.now()).await?;
    Ok(Redirect::to(&format!("/clients/{client}/phone")))
}

/// The trainer's word on what a phone said: taken into the log as it was done, or dismissed. It stays on record either way.
async fn decide(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let digest = hex::decode(fields.text("digest")).map_err(|_| WebError::bad("digest", "is not one"))?;
    let id = fields.id("id")?;
    let kept = entries::one(&app.pool, trainer, client, (id, &digest)).await?;
    let now = app.clock.now();
    let outcome = match fields.text("act") {
        "take" if matches!(kept.state, State::Waiting | State::Refused) => {
            let admitted = Admitted::of_trainer(&app.pool, trainer, kept.session_id).await?;
            // The clock was set right when it came.
            let mut taker = Taker::new(app.clone(), admitted, &who.client.time_zone, now);
            taker.make(id, &kept.body["said"], kept.done_at).await?
        }
        "dismiss" if kept.state != State::Taken => (State::Dismissed, kept.why.clone()),
        _ => return Err(WebError::ChangedMeanwhile),
    };
    entries::settle(&app.pool, trainer, (id, &digest), (outcome.0, &outcome.1), now).await?;
    Ok(Redirect::to(&format!("/clients/{client}/phone")))
}
