//! The door: signing in and out, and the second step.

use std::time::Duration;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::{HeaderMap, StatusCode, header};
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_store::TrainerId;
use bavrek_store::accounts;
use bavrek_store::deeds::{self, What};
use bavrek_store::http_sessions::{AGENT, TRAINER};
use bavrek_store::trainers::{self, Trainer};
use bavrek_store::tries::{self, Counted};
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use tower_sessions::Session;

use super::{code, password};
use crate::auth::{AuthSession, SignedIn};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::Fields;
use crate::features::typed::{Input, Typed, focus_first};
use crate::source::Source;
use crate::state::App;
use axum::extract::State as Shared;

/// How long the second step may be taken after the first, s.
const HALF_WAY_S: i64 = 300;
/// The key under which stands who has taken the first step.
const HALF: &str = "half";

pub(super) fn routes() -> Router<App> {
    Router::new().route("/sign-in", get(show).post(sign_in)).route("/sign-in/code", get(show_code).post(take_code))
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
pub(super) struct FormPage {
    pub(super) chrome: Chrome,
    pub(super) heading: &'static str,
    pub(super) text: String,
    pub(super) error: Option<String>,
    pub(super) action: String,
    pub(super) button: &'static str,
    /// None where there is nothing to fill in: then it leads elsewhere.
    pub(super) inputs: Vec<Input>,
}

impl FormPage {
    /// Looks at the first field, or at the first that is wrong.
    pub(super) fn focused(mut self) -> Self {
        focus_first(&mut self.inputs);
        self
    }
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

/// How long whoever guesses too often waits to be told so: what guesses as fast as it is answered has one answer a second on each of
/// its connections, and leaves the processors to those who work.
const DAWDLE: Duration = Duration::from_secs(1);

/// Tells, after a while, until when nobody may guess any more.
pub(super) async fn shut<P: IntoResponse>(
    (until, now): (DateTime<Utc>, DateTime<Utc>),
    page: impl FnOnce(String) -> P,
) -> Response {
    let seconds = ((until - now).num_seconds() - DAWDLE.as_secs().cast_signed()).max(1);
    let wait = if seconds < 90 { format!("{seconds} s") } else { format!("{} min", (seconds + 59) / 60) };
    let page =
        page(format!("Too many tries. The next one is looked at in {wait}. A link to a new password opens meanwhile."));
    tokio::time::sleep(DAWDLE).await;
    (StatusCode::TOO_MANY_REQUESTS, [(header::RETRY_AFTER, seconds.to_string())], page).into_response()
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
            return Ok(shut((until, now), |text| page(&text)).await);
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
pub(super) async fn let_in(
    app: &App,
    mut auth: AuthSession,
    trainer: Trainer,
    headers: &HeaderMap,
) -> Result<(), WebError> {
    let id = trainer.id;
    auth.login(&SignedIn(trainer)).await.map_err(WebError::session)?;
    let agent = headers.get(header::USER_AGENT).and_then(|h| h.to_str().ok()).unwrap_or_default();
    let device = if agent.contains("Mobile") { "a phone or tablet" } else { "a computer" };
    deeds::note(&app.pool, id, What::SignedIn, (None, device), app.clock.now()).await?;
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
    FormPage {
        chrome: chrome.titled("Second step"),
        heading: "Second step",
        text: "The code that your device shows for Bavrek now. Without the device: one of your recovery codes.".into(),
        error,
        action: "/sign-in/code".into(),
        button: "Sign in",
        inputs: vec![Input::text(form, "code", "Code", "six digits, or a recovery code").kind("code")],
    }
    .focused()
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
        return Ok(shut((until, now), |text| code_page(chrome, &Typed::default(), Some(text))).await);
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

#[cfg(test)]
mod tests {
    use super::*;
    use axum::http::HeaderValue;
    use rstest::rstest;
    use tokio::time::Instant;

    /// Whoever guesses as fast as is answered has one answer a second, and is told how long it is from that on.
    #[rstest]
    #[case::of_the_first(2, "1", "in 1 s.")]
    #[case::at_least_a_second(0, "1", "in 1 s.")]
    #[case::of_a_full_count(900, "899", "in 15 min.")]
    #[tokio::test(start_paused = true)]
    async fn who_guesses_too_often_waits_to_be_told(#[case] left: i64, #[case] after: &str, #[case] says: &str) {
        let (now, asked) = (DateTime::UNIX_EPOCH, Instant::now());
        let mut told = String::new();
        let answer = shut((now + chrono::Duration::seconds(left), now), |text| told = text).await;
        assert_eq!(asked.elapsed(), DAWDLE);
        assert_eq!(
            (answer.status(), &answer.headers()[header::RETRY_AFTER]),
            (StatusCode::TOO_MANY_REQUESTS, &HeaderValue::from_str(after).unwrap())
        );
        assert!(told.contains(says), "{told}");
    }

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
