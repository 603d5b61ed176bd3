//! Protection against forms posted from elsewhere: every form carries a token that only this browser was given.
//!
//! Whoever is signed in has a token of the session. Whoever is not has one in a cookie, so that looking at the sign-in page writes
//! nothing; signing in leaves it behind. A page shows the token under a mask of its own, so that no two pages that are compressed
//! hold the same bytes.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use axum::body::{Body, Bytes, to_bytes};
use axum::extract::{Request, State};
use axum::http::{HeaderMap, HeaderValue, Method, StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use tower_sessions::Session;
use uuid::Uuid;

use crate::auth;
use crate::error::{self, WebError};
use crate::state::App;
use crate::upload;

const KEY: &str = "csrf";
/// Largest form that is read, bytes.
const LARGEST_FORM: usize = 256 * 1024;
/// The same of a table that somebody who is signed in brings in, at such an address.
const LARGEST_TABLE: usize = 1536 * 1024;
const TABLES: &str = "/data/bring-in";
/// The same of a file with people, at its address: a client with 20,000 sets, or many with a year of training each.
pub(crate) const LARGEST_FILE: usize = 16 * 1024 * 1024;
const FILES: &str = "/account/people";
/// Where forms are sent before anybody is signed in.
const AT_THE_DOOR: [&str; 4] = ["/sign-in", "/forgotten", "/reset/", "/join/"];
/// Bytes of a token.
const LENGTH: usize = 16;

type Token = [u8; LENGTH];

/// The token of a browser that is not signed in, and whether a page used it.
#[derive(Clone)]
pub(crate) struct Anonymous {
    token: Token,
    used: Arc<AtomicBool>,
}

/// The token for a page's forms, masked: the session's where somebody is signed in, else the browser's.
pub(crate) async fn token(
    session: &Session,
    signed_in: bool,
    anonymous: Option<&Anonymous>,
) -> Result<String, WebError> {
    let token = match anonymous.filter(|_| !signed_in) {
        Some(anonymous) => {
            anonymous.used.store(true, Ordering::Relaxed);
            anonymous.token
        }
        None => of_session(session).await?,
    };
    Ok(masked(token, fresh()))
}

async fn of_session(session: &Session) -> Result<Token, WebError> {
    let kept = session.get::<String>(KEY).await.map_err(WebError::session)?;
    if let Some(token) = kept.and_then(|kept| read(&kept)) {
        return Ok(token);
    }
    let token = fresh();
    session.insert(KEY, hex::encode(token)).await.map_err(WebError::session)?;
    Ok(token)
}

fn fresh() -> Token {
    Uuid::new_v4().into_bytes()
}

fn read(text: &str) -> Option<Token> {
    hex::decode(text).ok()?.try_into().ok()
}

/// The mask, and the token under it.
fn masked(token: Token, mask: Token) -> String {
    let mut under = token;
    under.iter_mut().zip(mask).for_each(|(byte, mask)| *byte ^= mask);
    hex::encode(mask) + &hex::encode(under)
}

/// The token of a form.
fn unmasked(text: &str) -> Option<Token> {
    let bytes = hex::decode(text).ok()?;
    let (mask, under) = bytes.split_at_checked(LENGTH)?;
    let mut token: Token = under.try_into().ok()?;
    token.iter_mut().zip(mask).for_each(|(byte, mask)| *byte ^= mask);
    Some(token)
}

/// The name of the cookie; a browser keeps the longer one to this host and to HTTPS.
const fn cookie_name(secure: bool) -> &'static str {
    if secure { "__Host-bavrek-form" } else { "bavrek-form" }
}

fn of_cookie(headers: &HeaderMap, secure: bool) -> Option<Token> {
    let cookies = headers.get(header::COOKIE)?.to_str().ok()?;
    let mut pairs = cookies.split(';').filter_map(|pair| pair.trim().split_once('='));
    pairs.find(|(name, _)| *name == cookie_name(secure)).and_then(|(_, value)| read(value))
}

/// Refuses a form without the browser's token. JSON requests change nothing and cannot be sent by a foreign form.
pub(crate) async fn protect(State(app): State<App>, session: Session, mut request: Request, next: Next) -> Response {
    let held = of_cookie(request.headers(), app.secure_cookies);
    let anonymous = Anonymous { token: held.unwrap_or_else(fresh), used: Arc::default() };
    request.extensions_mut().insert(anonymous.clone());
    let reads = matches!(*request.method(), Method::GET | Method::HEAD) || request.uri().path().starts_with("/api/");
    let request = if reads {
        request
    } else {
        match checked(&session, held, request).await {
            Ok(request) => request,
            Err(refusal) => return refusal,
        }
    };
    let mut response = next.run(request).await;
    if held.is_none() && anonymous.used.load(Ordering::Relaxed) {
        let secure = if app.secure_cookies { "; Secure" } else { "" };
        let (name, token) = (cookie_name(app.secure_cookies), hex::encode(anonymous.token));
        let cookie = format!("{name}={token}; Path=/; HttpOnly; SameSite=Lax{secure}");
        if let Ok(cookie) = HeaderValue::from_str(&cookie) {
            response.headers_mut().append(header::SET_COOKIE, cookie);
        }
    }
    response
}

/// The token that a form carries, whichever way it is sent.
async fn given(headers: &HeaderMap, bytes: &Bytes) -> Option<Token> {
    if upload::is_sent(headers) {
        let fields = upload::fields(headers, bytes.clone()).await?;
        let token = fields.iter().find(|(name, _)| name == KEY).map(|(_, value)| value)?;
        return unmasked(std::str::from_utf8(token).ok()?);
    }
    let fields: Vec<(String, String)> = serde_urlencoded::from_bytes(bytes).unwrap_or_default();
    fields.iter().find(|(name, _)| name == KEY).and_then(|(_, value)| unmasked(value))
}

/// The form again, once its token was found to be the session's or, where it has none, the browser's.
async fn checked(session: &Session, held: Option<Token>, request: Request) -> Result<Request, Response> {
    let (parts, body) = request.into_parts();
    let kept = session.get::<String>(KEY).await.ok().flatten();
    let signed_in = kept.is_some();
    let table = signed_in && parts.uri.path().contains(TABLES);
    let file = signed_in && parts.uri.path() == FILES;
    let most = if file {
        LARGEST_FILE
    } else if table {
        LARGEST_TABLE
    } else {
        LARGEST_FORM
    };
    let Ok(bytes) = to_bytes(body, most).await else {
        return Err(error::page(
            StatusCode::PAYLOAD_TOO_LARGE,
            "That is too much at once",
            format!("A form takes at most {} kB. Nothing was changed.", most / 1024),
        ));
    };
    let known = kept.map_or(held, |kept| read(&kept));
    let given = given(&parts.headers, &bytes).await;
    if known.is_none() || given != known {
        // Without a session a form of a trainer's page meets a sign-in that has ended, not a forgery: nothing is done but to ask for it.
        let ended = !signed_in && !AT_THE_DOOR.iter().any(|door| parts.uri.path().starts_with(door));
        let refusal = || WebError::StaleForm.into_response();
        return Err(if ended { auth::to_the_door(&parts.method, &parts.uri, &parts.headers) } else { refusal() });
    }
    Ok(Request::from_parts(parts, Body::from(bytes)))
}

#[cfg(test)]
mod tests {
    use super::{fresh, masked, unmasked};

    #[test]
    fn a_token_is_read_back_from_under_any_mask_and_never_looks_the_same() {
        let token = fresh();
        let (one, other) = (masked(token, fresh()), masked(token, fresh()));
        assert_ne!(one, other);
        assert_eq!((unmasked(&one), unmasked(&other)), (Some(token), Some(token)));
        assert_ne!(unmasked(&masked(fresh(), fresh())), Some(token));
    }

    #[test]
    fn what_is_no_token_is_none() {
        for text in ["", "00", "zz", &"0".repeat(62), &"0".repeat(66)] {
            assert_eq!(unmasked(text), None, "{text}");
        }
    }
}
