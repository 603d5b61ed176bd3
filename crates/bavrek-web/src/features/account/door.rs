//! The door: signing in, the second step, invitations and new passwords.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::{HeaderMap, HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_store::accounts::{self, LinkKind};
use bavrek_store::deeds::{self, What};
use bavrek_store::http_sessions::{AGENT, TRAINER};
use bavrek_store::trainers::{self, Trainer};
use bavrek_store::tries::{self, Counted};
use bavrek_store::{Pool, StoreError, TrainerId, new_id};
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use tower_sessions::Session;
use uuid::Uuid;

use super::{code, password};
use crate::auth::{AuthSession, SignedIn};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids};
use crate::features::outbox::{self, Letter};
use crate::features::typed::{Input, Typed, focus_first};
use crate::source::Source;
use crate::state::App;
use axum::extract::State as Shared;

/// How long the second step may be taken after the first, s.
const HALF_WAY_S: i64 = 300;
/// The key under which stands who has taken the first step.
const HALF: &str = "half";

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/sign-in", get(show).post(sign_in))
        .route("/sign-in/code", get(show_code).post(take_code))
        .route("/forgotten", get(show_forgotten).post(forgotten))
        .route("/reset/{secret}", get(show_reset).post(reset))
        .route("/join/{secret}", get(show_join).post(join))
}

pub(super) fn closed_routes() -> Router<App> {
    Router::new().route("/sign-out", post(sign_out))
}

#[derive(Template, WebTemplate)]
#[template(path = "sign_in/page.html")]
struct SignInPage {
    chrome: Chrome,
    email: String,
    next: String,
    error: Option<String>,
}

/// A form of its own: what it is for, its fields, where it goes.
#[derive(Template, WebTemplate)]
#[template(path = "account/form.html")]
struct FormPage {
    chrome: Chrome,
    heading: &'static str,
    text: String,
    error: Option<String>,
    action: String,
    button: &'static str,
    inputs: Vec<Input>,
}

#[derive(Deserialize)]
struct Wanted {
    #[serde(default)]
    next: String,
}

/// Who has taken the first step, when, and where to go after the second.
#[derive(Serialize, Deserialize)]
struct HalfWay {
    trainer: TrainerId,
    at: DateTime<Utc>,
    next: String,
}

/// Only an address within the application may follow the sign-in.
fn inside(next: &str) -> &str {
    let plain = next.starts_with('/') && !next.starts_with("//") && !next.contains('\\');
    if plain && !next.chars().any(char::is_control) { next } else { "/" }
}

async fn show(chrome: Chrome, Query(wanted): Query<Wanted>) -> SignInPage {
    let next = inside(&wanted.next).to_owned();
    SignInPage { chrome: chrome.titled("Sign in"), email: String::new(), next, error: None }
}

/// Until when nobody may guess any more, in words, with the status that says so.
fn shut(until: DateTime<Utc>, now: DateTime<Utc>) -> (HeaderMap, String) {
    let seconds = (until - now).num_seconds().max(1);
    let mut headers = HeaderMap::new();
    if let Ok(value) = HeaderValue::from_str(&seconds.to_string()) {
        headers.insert(header::RETRY_AFTER, value);
    }
    let wait = if seconds < 90 { format!("{seconds} s") } else { format!("{} min", (seconds + 59) / 60) };
    (headers, format!("Too many tries. The next one is looked at in {wait}. A link to a new password opens meanwhile."))
}

async fn sign_in(
    Shared(app): Shared<App>,
    chrome: Chrome,
    auth: AuthSession,
    source: Source,
    headers: HeaderMap,
    fields: Fields,
) -> Result<Response, WebError> {
    let (email, password) = (fields.text("email").to_owned(), password::typed(&fields, "password"));
    let next = inside(fields.text("next")).to_owned();
    let page = |error: &str| SignInPage {
        chrome: chrome.clone().titled("Sign in"),
        email: email.clone(),
        next: next.clone(),
        error: Some(error.to_owned()),
    };
    let refuse = |error: &str| (StatusCode::UNPROCESSABLE_ENTITY, page(error)).into_response();
    if email.is_empty() || password.is_empty() {
        return Ok(refuse("E-mail address and password: give both."));
    }
    if email.chars().count() > password::LONGEST || password.chars().count() > password::LONGEST {
        return Ok(refuse("E-mail address and password: at most 200 characters each."));
    }
    let now = app.clock.now();
    for counted in [Counted::Source(&source.0), Counted::Address(&email)] {
        if let Some(until) = tries::count(&app.pool, counted, now).await? {
            let (later, text) = shut(until, now);
            return Ok((StatusCode::TOO_MANY_REQUESTS, later, page(&text)).into_response());
        }
    }
    let trainer = trainers::by_email(&app.pool, &email).await?;
    let hash = trainer.as_ref().map(|t| t.password_hash.clone());
    let right = app.hashing.check(password, hash).await?;
    let Some(trainer) = trainer.filter(|_| right) else {
        return Ok(refuse("E-mail address or password: they do not match."));
    };
    tries::forget(&app.pool, Counted::Address(&email)).await?;
    tries::forgive(&app.pool, Counted::Source(&source.0)).await?;
    if trainer.code_secret.is_some() {
        let half = HalfWay { trainer: trainer.id, at: now, next };
        auth.session.insert(HALF, half).await.map_err(WebError::session)?;
        return Ok(Redirect::to("/sign-in/code").into_response());
    }
    let_in(&app, auth, trainer, &headers).await?;
    Ok(Redirect::to(&next).into_response())
}

/// Signs a trainer in on this device.
async fn let_in(app: &App, mut auth: AuthSession, trainer: Trainer, headers: &HeaderMap) -> Result<(), WebError> {
    let id = trainer.id;
    auth.login(&SignedIn(trainer)).await.map_err(WebError::session)?;
    let agent = headers.get(header::USER_AGENT).and_then(|h| h.to_str().ok()).unwrap_or_default();
    let device = if agent.contains("Mobile") { "a phone or tablet" } else { "a computer" };
    deeds::note(&app.pool, id, What::SignedIn, device, app.clock.now()).await?;
    auth.session.insert(TRAINER, id.0).await.map_err(WebError::session)?;
    auth.session.insert(AGENT, device).await.map_err(WebError::session)
}

async fn sign_out(mut auth: AuthSession) -> Result<Redirect, WebError> {
    auth.logout().await.map_err(WebError::session)?;
    Ok(Redirect::to("/sign-in"))
}

/// Who has taken the first step lately.
async fn half_way(session: &Session, now: DateTime<Utc>) -> Result<Option<HalfWay>, WebError> {
    let half: Option<HalfWay> = session.get(HALF).await.map_err(WebError::session)?;
    Ok(half.filter(|h| (now - h.at).num_seconds() < HALF_WAY_S))
}

fn code_page(chrome: Chrome, form: &Typed, error: Option<String>) -> FormPage {
    let mut inputs = vec![Input::text(form, "code", "Code", "six digits, or a recovery code").kind("code")];
    focus_first(&mut inputs);
    FormPage {
        chrome: chrome.titled("Second step"),
        heading: "Second step",
        text: "The code that your device shows for Bavrek now. Without the device: one of your recovery codes.".into(),
        error,
        action: "/sign-in/code".into(),
        button: "Sign in",
        inputs,
    }
}

async fn show_code(Shared(app): Shared<App>, chrome: Chrome, session: Session) -> Result<Response, WebError> {
    if half_way(&session, app.clock.now()).await?.is_none() {
        return Ok(Redirect::to("/sign-in").into_response());
    }
    Ok(code_page(chrome, &Typed::default(), None).into_response())
}

async fn take_code(
    Shared(app): Shared<App>,
    chrome: Chrome,
    auth: AuthSession,
    headers: HeaderMap,
    fields: Fields,
) -> Result<Response, WebError> {
    let now = app.clock.now();
    let Some(half) = half_way(&auth.session, now).await? else { return Ok(Redirect::to("/sign-in").into_response()) };
    let Some(trainer) = trainers::by_id(&app.pool, half.trainer).await? else {
        return Ok(Redirect::to("/sign-in").into_response());
    };
    let key = half.trainer.0.to_string();
    if let Some(until) = tries::count(&app.pool, Counted::Code(&key), now).await? {
        let (later, text) = shut(until, now);
        let page = code_page(chrome, &Typed::default(), Some(text));
        return Ok((StatusCode::TOO_MANY_REQUESTS, later, page).into_response());
    }
    if !opens(&app, &trainer, fields.text("code"), now).await? {
        let mut form = Typed::of(&fields);
        form.refuse("code", "is not the code of now, and no recovery code that is left");
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, code_page(chrome, &form, None)).into_response());
    }
    tries::forget(&app.pool, Counted::Code(&key)).await?;
    auth.session.remove::<HalfWay>(HALF).await.map_err(WebError::session)?;
    let_in(&app, auth, trainer, &headers).await?;
    Ok(Redirect::to(&half.next).into_response())
}

/// Whether a code or a recovery code opens the second step; either does once.
async fn opens(app: &App, trainer: &Trainer, given: &str, now: DateTime<Utc>) -> Result<bool, WebError> {
    let secret = trainer.code_secret.as_deref().unwrap_or_default();
    if let Some(step) = code::step_of(secret, given, now) {
        return Ok(accounts::use_step(&app.pool, trainer.id, step).await?);
    }
    Ok(accounts::use_recovery(&app.pool, trainer.id, &given.trim().to_lowercase()).await?)
}

fn forgotten_page(chrome: Chrome, form: &Typed, text: &str) -> FormPage {
    let mut inputs = vec![Input::text(form, "email", "E-mail address", "").kind("email")];
    focus_first(&mut inputs);
    FormPage {
        chrome: chrome.titled("New password"),
        heading: "New password",
        text: text.to_owned(),
        error: None,
        action: "/forgotten".into(),
        button: "Send a link",
        inputs,
    }
}

async fn show_forgotten(chrome: Chrome) -> FormPage {
    let text = "A link by which a new password is set goes to the address of your account. It opens for an hour.";
    forgotten_page(chrome, &Typed::default(), text)
}

async fn forgotten(
    Shared(app): Shared<App>,
    chrome: Chrome,
    source: Source,
    fields: Fields,
) -> Result<Response, WebError> {
    let mut form = Typed::of(&fields);
    let email = form.needed("email", password::LONGEST);
    if !form.fine() {
        let page = forgotten_page(chrome, &form, "To which address is the link to go?");
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    let now = app.clock.now();
    for counted in [Counted::Source(&source.0), Counted::Letters(&email)] {
        if let Some(until) = tries::count(&app.pool, counted, now).await? {
            let (later, text) = shut(until, now);
            return Ok((StatusCode::TOO_MANY_REQUESTS, later, forgotten_page(chrome, &form, &text)).into_response());
        }
    }
    // Whether there is an account is told to nobody, nor shown by how long the answer takes: the letter is written aside.
    tokio::spawn(async move {
        if let Err(error) = send_reset(&app, &email, now).await {
            tracing::warn!(%error, "a link to a new password was not sent");
        }
    });
    let text = "If there is an account with this address, a link is on its way. It opens for an hour, and once.";
    Ok(forgotten_page(chrome, &Typed::default(), text).into_response())
}

/// Keeps an invitation and gives its link.
pub async fn invite(pool: &Pool, address: &str, whom: (&str, &str)) -> Result<String, StoreError> {
    let secret = new_secret();
    accounts::invite(pool, &secret, whom, Utc::now()).await?;
    Ok(format!("{address}/join/{secret}"))
}

/// A secret that nobody guesses: 244 random bits.
pub fn new_secret() -> String {
    format!("{}{}", Uuid::new_v4().simple(), Uuid::new_v4().simple())
}

async fn send_reset(app: &App, email: &str, now: DateTime<Utc>) -> Result<(), WebError> {
    let Some(trainer) = trainers::by_email(&app.pool, email).await? else { return Ok(()) };
    let secret = new_secret();
    accounts::allow_reset(&app.pool, &secret, (trainer.id, &trainer.email), now).await?;
    let text = |link: &str| {
        format!(
            "Somebody asked for a new password for this account. This link sets one, once, within the hour:\n\n{link}\n\nIf it was not you, nothing needs doing: the password stays as it is.\n"
        )
    };
    let letter = Letter {
        client: None,
        recipient: &trainer.email,
        kind: bavrek_store::outbox::Kind::Reset,
        subject: "A new password for Bavrek",
        whole: text(&format!("{}/reset/{secret}", app.address)),
        shown: text("(the link itself was only in the letter)"),
        pictures: Vec::new(),
    };
    outbox::post(app, trainer.id, new_id(), letter).await
}

/// What stands where a link opens no more.
fn ended(chrome: Chrome) -> Response {
    let page = FormPage {
        chrome: chrome.titled("This link opens no more"),
        heading: "This link opens no more",
        text: "It was used, or its time is over. Ask for a new one.".into(),
        error: None,
        action: String::new(),
        button: "",
        inputs: Vec::new(),
    };
    (StatusCode::GONE, page).into_response()
}

fn password_inputs(form: &Typed) -> [Input; 2] {
    [
        Input::text(form, "new_password", "New password", "at least 10 characters").kind("new-password"),
        Input::text(form, "again", "The same again", "").kind("new-password"),
    ]
}

fn reset_page(chrome: Chrome, form: &Typed, secret: &str) -> FormPage {
    let mut inputs = password_inputs(form).to_vec();
    focus_first(&mut inputs);
    FormPage {
        chrome: chrome.titled("New password"),
        heading: "New password",
        text: "It takes the place of the old one, and signs the account out everywhere.".into(),
        error: None,
        action: format!("/reset/{secret}"),
        button: "Set it",
        inputs,
    }
}

async fn show_reset(Shared(app): Shared<App>, Ids(secret): Ids<String>, chrome: Chrome) -> Result<Response, WebError> {
    match accounts::open(&app.pool, &secret, app.clock.now()).await? {
        Some(link) if link.kind == LinkKind::Reset => {
            Ok(reset_page(chrome, &Typed::default(), &secret).into_response())
        }
        _ => Ok(ended(chrome)),
    }
}

async fn reset(
    Shared(app): Shared<App>,
    Ids(secret): Ids<String>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let now = app.clock.now();
    let Some(link) = accounts::open(&app.pool, &secret, now).await?.filter(|l| l.kind == LinkKind::Reset) else {
        return Ok(ended(chrome));
    };
    let mut form = Typed::default();
    let Some(password) = password::chosen(&fields, &mut form, &link.email) else {
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, reset_page(chrome, &form, &secret)).into_response());
    };
    let hash = app.hashing.hash(password).await?;
    match accounts::reset(&app.pool, &secret, &hash, now).await {
        Ok(_) => {}
        Err(StoreError::NotFound) => return Ok(ended(chrome)),
        Err(other) => return Err(other.into()),
    }
    tries::forget(&app.pool, Counted::Address(&link.email)).await?;
    Ok(Redirect::to("/sign-in").into_response())
}

fn join_page(chrome: Chrome, form: &Typed, (secret, email): (&str, &str)) -> FormPage {
    let mut inputs = vec![Input::text(form, "name", "Your name", "as it is shown")];
    inputs.extend(password_inputs(form));
    focus_first(&mut inputs);
    FormPage {
        chrome: chrome.titled("Welcome"),
        heading: "Welcome",
        text: format!("An account for {email}: with this address and the password you choose, you sign in."),
        error: None,
        action: format!("/join/{secret}"),
        button: "Make the account",
        inputs,
    }
}

async fn show_join(Shared(app): Shared<App>, Ids(secret): Ids<String>, chrome: Chrome) -> Result<Response, WebError> {
    match accounts::open(&app.pool, &secret, app.clock.now()).await? {
        Some(link) if link.kind == LinkKind::Invitation => {
            let form = Typed::usual([("name", link.name)]);
            Ok(join_page(chrome, &form, (&secret, &link.email)).into_response())
        }
        _ => Ok(ended(chrome)),
    }
}

async fn join(
    Shared(app): Shared<App>,
    Ids(secret): Ids<String>,
    chrome: Chrome,
    auth: AuthSession,
    headers: HeaderMap,
    fields: Fields,
) -> Result<Response, WebError> {
    let now = app.clock.now();
    let Some(link) = accounts::open(&app.pool, &secret, now).await?.filter(|l| l.kind == LinkKind::Invitation) else {
        return Ok(ended(chrome));
    };
    let mut form = Typed::usual([("name", fields.text("name").to_owned())]);
    let name = form.needed("name", 120);
    let Some(password) = password::chosen(&fields, &mut form, &link.email) else {
        let page = join_page(chrome, &form, (&secret, &link.email));
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    let hash = app.hashing.hash(password).await?;
    let id = match accounts::join(&app.pool, &secret, (&name, &hash), now).await {
        Ok(id) => id,
        Err(StoreError::NotFound | StoreError::Conflict) => return Ok(ended(chrome)),
        Err(other) => return Err(other.into()),
    };
    if let Some(trainer) = trainers::by_id(&app.pool, id).await? {
        let_in(&app, auth, trainer, &headers).await?;
    }
    Ok(Redirect::to("/").into_response())
}

#[cfg(test)]
mod tests {
    use super::inside;
    use rstest::rstest;

    #[rstest]
    #[case("/clients/1?x=2", "/clients/1?x=2")]
    #[case("//elsewhere.example", "/")]
    #[case("/\\elsewhere.example", "/")]
    #[case("https://elsewhere.example", "/")]
    #[case("/\t/elsewhere.example", "/")]
    #[case("/\r\nSet-Cookie: x=y", "/")]
    #[case("", "/")]
    fn only_what_is_inside_follows(#[case] next: &str, #[case] followed: &str) {
        assert_eq!(inside(next), followed);
    }
}
