//! Signing in and out.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use serde::Deserialize;

use crate::auth::{AuthSession, Credentials, LONGEST_PASSWORD};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::Fields;
use crate::state::App;

pub(super) fn open_routes() -> Router<App> {
    Router::new().route("/sign-in", get(show).post(sign_in))
}

pub(super) fn closed_routes() -> Router<App> {
    Router::new().route("/sign-out", post(sign_out))
}

#[derive(Template, WebTemplate)]
#[template(path = "sign_in/page.html")]
struct Page {
    chrome: Chrome,
    email: String,
    next: String,
    error: Option<&'static str>,
}

#[derive(Deserialize)]
struct Wanted {
    #[serde(default)]
    next: String,
}

/// Only an address within the application may follow the sign-in.
fn inside(next: &str) -> &str {
    if next.starts_with('/') && !next.starts_with("//") && !next.contains('\\') { next } else { "/" }
}

async fn show(chrome: Chrome, Query(wanted): Query<Wanted>) -> Page {
    let next = inside(&wanted.next).to_owned();
    Page { chrome: chrome.titled("Sign in"), email: String::new(), next, error: None }
}

async fn sign_in(chrome: Chrome, mut session: AuthSession, fields: Fields) -> Result<Response, WebError> {
    let (email, password) = (fields.text("email").to_owned(), fields.all("password").next().unwrap_or("").to_owned());
    let next = inside(fields.text("next")).to_owned();
    let refuse = |error| {
        let page =
            Page { chrome: chrome.titled("Sign in"), email: email.clone(), next: next.clone(), error: Some(error) };
        (StatusCode::UNPROCESSABLE_ENTITY, page).into_response()
    };
    if email.is_empty() || password.is_empty() {
        return Ok(refuse("E-mail address and password: give both."));
    }
    if email.chars().count() > LONGEST_PASSWORD || password.chars().count() > LONGEST_PASSWORD {
        return Ok(refuse("E-mail address and password: at most 200 characters each."));
    }
    let given = Credentials { email: email.clone(), password };
    match session.authenticate(given).await.map_err(WebError::session)? {
        Some(trainer) => {
            session.login(&trainer).await.map_err(WebError::session)?;
            Ok(Redirect::to(&next).into_response())
        }
        None => Ok(refuse("E-mail address or password: they do not match.")),
    }
}

async fn sign_out(mut session: AuthSession) -> Result<Redirect, WebError> {
    session.logout().await.map_err(WebError::session)?;
    Ok(Redirect::to("/sign-in"))
}
