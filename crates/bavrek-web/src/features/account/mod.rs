//! The trainer's own account: name, password, second step, devices.

mod code;
mod door;
mod links;
mod password;
mod people;

pub use links::{invite, new_secret};

use std::iter::once;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_store::accounts::{self, Device};
use bavrek_store::deeds::{self, Deed, What};
use bavrek_store::trainers::{self, Trainer};
use bavrek_store::tries::{self, Counted};
use chrono::NaiveDate;
use tower_sessions::Session;
use uuid::Uuid;

use crate::auth::{AuthSession, SignedIn};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me};
use crate::features::dates::{day, moment_utc};
use crate::features::typed::{Input, Typed};
use crate::pictures::code::draw;
use crate::state::App;
use axum::extract::State as Shared;

/// The key under which stands a secret that is not yet in force.
const OFFERED: &str = "offered";
/// The password field of the form that ends the second step.
const OFF: &str = "off_password";

pub(super) fn open_routes() -> Router<App> {
    Router::new().merge(door::routes()).merge(links::routes())
}

pub(super) fn closed_routes() -> Router<App> {
    Router::new()
        .merge(door::closed_routes())
        .route("/account", get(show))
        .route("/account/name", post(rename))
        .route("/account/invite", post(invite_colleague))
        .route("/account/password", post(change_password))
        .route("/account/devices/others", post(sign_out_others))
        .route("/account/devices/{handle}", post(sign_out_device))
        .route("/account/code", get(offer).post(begin))
        .route("/account/code/off", post(end))
}

/// What reads and writes much at once.
pub(super) fn computing_routes() -> Router<App> {
    people::routes()
}

#[derive(Template, WebTemplate)]
#[template(path = "account/page.html")]
struct Page {
    chrome: Chrome,
    email: String,
    name: Vec<Input>,
    password: Vec<Input>,
    off: Vec<Input>,
    invite: Vec<Input>,
    /// Recovery codes that are left, where there is a second step.
    second: Option<i64>,
    devices: Vec<DeviceView>,
    /// What was done lately: when, and what.
    deeds: Vec<(String, String)>,
    /// What was just done.
    done: Option<&'static str>,
}

/// Deeds that are shown.
const MOST_DEEDS: i64 = 12;

struct DeviceView {
    handle: Uuid,
    what: String,
    when: String,
    here: bool,
}

/// What was typed and what was done on the page.
#[derive(Default)]
struct View {
    name: Option<Typed>,
    password: Typed,
    off: Typed,
    invite: Typed,
    done: Option<&'static str>,
}

/// Whoever is signed in, as the session knows them.
fn me(auth: &AuthSession) -> Result<Trainer, WebError> {
    auth.user.as_ref().map(|u| u.0.clone()).ok_or(WebError::NotFound)
}

fn identifier(session: &Session) -> String {
    session.id().map(|id| id.to_string()).unwrap_or_default()
}

async fn page(app: &App, auth: &AuthSession, chrome: Chrome, view: View) -> Result<Page, WebError> {
    let me = me(auth)?;
    let today = app.clock.now().date_naive();
    let devices = accounts::devices(&app.pool, me.id, &identifier(&auth.session)).await?;
    let second = match me.code_secret {
        Some(_) => Some(accounts::recovery_left(&app.pool, me.id).await?),
        None => None,
    };
    let name = view.name.unwrap_or_else(|| Typed::usual([("name", me.name)]));
    Ok(Page {
        chrome: chrome.titled("Account"),
        email: me.email,
        name: vec![Input::text(&name, "name", "Name", "as it is shown")],
        password: once(Input::text(&view.password, "password", "Password now", "").kind("password"))
            .chain(password::inputs(&view.password))
            .collect(),
        off: vec![Input::text(&view.off, OFF, "Password", "").kind("password")],
        invite: vec![Input::text(&view.invite, "colleague", "Their e-mail address", "").kind("email")],
        second,
        devices: devices.into_iter().map(|d| device(d, today)).collect(),
        deeds: deeds::latest(&app.pool, me.id, None, MOST_DEEDS).await?.iter().map(|d| told(d, today)).collect(),
        done: view.done,
    })
}

/// Something that was done, for a list: when, and what to whom.
pub(super) fn told(deed: &Deed, today: NaiveDate) -> (String, String) {
    let mut what = deed.what.label().to_owned();
    if !deed.detail.is_empty() {
        what = format!("{what}: {}", deed.detail);
    }
    if let Some(client) = &deed.client {
        what = format!("{what} ({client})");
    }
    (moment_utc(deed.at, today), what)
}

fn device(device: Device, today: NaiveDate) -> DeviceView {
    let (since, seen) = (device.began_at.date_naive(), device.seen_at.date_naive());
    let what = if device.agent.is_empty() { "a device".to_owned() } else { device.agent };
    let when = format!("since {}, last used {}", day(since, today), day(seen, today));
    DeviceView { handle: device.handle, what, when, here: device.here }
}

async fn show(Shared(app): Shared<App>, auth: AuthSession, chrome: Chrome) -> Result<Page, WebError> {
    page(&app, &auth, chrome, View::default()).await
}

async fn refused(app: &App, auth: &AuthSession, chrome: Chrome, view: View) -> Result<Response, WebError> {
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page(app, auth, chrome, view).await?).into_response())
}

async fn rename(
    Shared(app): Shared<App>,
    auth: AuthSession,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let mut form = Typed::of(&fields);
    let name = form.needed("name", 120);
    if !form.fine() {
        return refused(&app, &auth, chrome, View { name: Some(form), ..View::default() }).await;
    }
    trainers::call(&app.pool, me(&auth)?.id, &name).await?;
    Ok(Redirect::to("/account").into_response())
}

async fn invite_colleague(
    Shared(app): Shared<App>,
    auth: AuthSession,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let me = me(&auth)?;
    let mut form = Typed::of(&fields);
    let email = form.needed("colleague", password::LONGEST);
    if form.fine() && !email.contains('@') {
        form.refuse("colleague", "is no e-mail address");
    }
    if form.fine() {
        let now = app.clock.now();
        for counted in [Counted::Letters(&me.email), Counted::Letters(&email)] {
            if let Some(until) = tries::count(&app.pool, counted, now).await? {
                let later = (until - now).num_minutes() + 1;
                form.refuse("colleague", format!("has to wait: many letters went out; try again in {later} min"));
            }
        }
    }
    if !form.fine() {
        return refused(&app, &auth, chrome, View { invite: form, ..View::default() }).await;
    }
    links::invite_by_letter(&app, &me, &email).await?;
    let done = "If this address has no account yet, an invitation is on its way. It opens once, for seven days.";
    Ok(page(&app, &auth, chrome, View { done: Some(done), ..View::default() }).await?.into_response())
}

/// Whether a password is the account's. Guesses count as those at the door do.
async fn is_mine(app: &App, me: &Trainer, (fields, name): (&Fields, &str), form: &mut Typed) -> Result<bool, WebError> {
    let now = app.clock.now();
    if let Some(until) = tries::count(&app.pool, Counted::Address(&me.email), now).await? {
        form.refuse(name, format!("was tried too often; try again in {} min", (until - now).num_minutes() + 1));
        return Ok(false);
    }
    let right = app.hashing.check(password::typed(fields, name), Some(me.password_hash.clone())).await?;
    if right {
        tries::forget(&app.pool, Counted::Address(&me.email)).await?;
    } else {
        form.refuse(name, "is not the password of this account");
    }
    Ok(right)
}

async fn change_password(
    Shared(app): Shared<App>,
    mut auth: AuthSession,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let me = me(&auth)?;
    let mut form = Typed::default();
    let chosen = password::chosen(&fields, &mut form, &me.email);
    let right = is_mine(&app, &me, (&fields, "password"), &mut form).await?;
    let Some(new) = chosen.filter(|_| right) else {
        return refused(&app, &auth, chrome, View { password: form, ..View::default() }).await;
    };
    let hash = app.hashing.hash(new).await?;
    accounts::set_password(&app.pool, me.id, &hash, &identifier(&auth.session)).await?;
    deeds::note(&app.pool, me.id, What::PasswordChanged, (None, ""), app.clock.now()).await?;
    // This session goes on with the new password, under an identifier of its own.
    auth.login(&SignedIn(Trainer { password_hash: hash, ..me })).await.map_err(WebError::session)?;
    let view = View { done: Some("The password is changed; every other device is signed out."), ..View::default() };
    Ok(page(&app, &auth, chrome, view).await?.into_response())
}

async fn sign_out_device(Shared(app): Shared<App>, Me(trainer): Me, Ids(handle): Ids) -> Result<Redirect, WebError> {
    accounts::sign_out(&app.pool, trainer, handle).await?;
    Ok(Redirect::to("/account"))
}

async fn sign_out_others(Shared(app): Shared<App>, Me(trainer): Me, session: Session) -> Result<Redirect, WebError> {
    accounts::sign_out_others(&app.pool, trainer, &identifier(&session)).await?;
    Ok(Redirect::to("/account"))
}

#[derive(Template, WebTemplate)]
#[template(path = "account/code.html")]
struct CodePage {
    chrome: Chrome,
    secret: String,
    picture: String,
    inputs: Vec<Input>,
}

#[derive(Template, WebTemplate)]
#[template(path = "account/recovery.html")]
struct RecoveryPage {
    chrome: Chrome,
    codes: Vec<String>,
}

/// The secret that is offered, the same until it is taken.
async fn offered(session: &Session) -> Result<Vec<u8>, WebError> {
    let kept: Option<Vec<u8>> = session.get(OFFERED).await.map_err(WebError::session)?;
    if let Some(kept) = kept {
        return Ok(kept);
    }
    let secret = code::new_secret();
    session.insert(OFFERED, &secret).await.map_err(WebError::session)?;
    Ok(secret)
}

fn code_page(chrome: Chrome, secret: &[u8], email: &str, form: &Typed) -> CodePage {
    CodePage {
        chrome: chrome.titled("Second step"),
        secret: code::readable(secret),
        picture: draw(&code::address(secret, email)),
        inputs: vec![
            Input::text(form, "code", "Code that the device shows", "six digits").kind("code"),
            Input::text(form, "password", "Password", "").kind("password"),
        ],
    }
}

async fn offer(auth: AuthSession, chrome: Chrome) -> Result<Response, WebError> {
    let me = me(&auth)?;
    if me.code_secret.is_some() {
        return Ok(Redirect::to("/account").into_response());
    }
    let secret = offered(&auth.session).await?;
    Ok(code_page(chrome, &secret, &me.email, &Typed::default()).into_response())
}

async fn begin(
    Shared(app): Shared<App>,
    auth: AuthSession,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let me = me(&auth)?;
    if me.code_secret.is_some() {
        return Ok(Redirect::to("/account").into_response());
    }
    let secret = offered(&auth.session).await?;
    let mut form = Typed::usual([("code", fields.text("code").to_owned())]);
    let step = code::step_of(&secret, fields.text("code"), app.clock.now());
    if step.is_none() {
        form.refuse("code", "is not the code of now: is the device's clock right?");
    }
    let right = is_mine(&app, &me, (&fields, "password"), &mut form).await?;
    let Some(step) = step.filter(|_| right) else {
        let page = code_page(chrome, &secret, &me.email, &form);
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    let codes = code::recovery_codes();
    accounts::set_second_step(&app.pool, me.id, Some(&secret), &codes).await?;
    accounts::use_step(&app.pool, me.id, step).await?;
    deeds::note(&app.pool, me.id, What::SecondStep, (None, "set up"), app.clock.now()).await?;
    auth.session.remove::<Vec<u8>>(OFFERED).await.map_err(WebError::session)?;
    Ok(RecoveryPage { chrome: chrome.titled("Recovery codes"), codes }.into_response())
}

async fn end(
    Shared(app): Shared<App>,
    auth: AuthSession,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let me = me(&auth)?;
    let mut form = Typed::default();
    if !is_mine(&app, &me, (&fields, OFF), &mut form).await? {
        return refused(&app, &auth, chrome, View { off: form, ..View::default() }).await;
    }
    accounts::set_second_step(&app.pool, me.id, None, &[]).await?;
    deeds::note(&app.pool, me.id, What::SecondStep, (None, "ended"), app.clock.now()).await?;
    Ok(Redirect::to("/account").into_response())
}
