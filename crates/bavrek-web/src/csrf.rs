//! Protection against forms posted from elsewhere: every form carries the session's token.

use axum::body::{Body, to_bytes};
use axum::extract::Request;
use axum::http::{Method, StatusCode};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use tower_sessions::Session;
use uuid::Uuid;

use crate::error::WebError;

const KEY: &str = "csrf";
/// Largest form that is read, bytes.
const LARGEST_FORM: usize = 256 * 1024;

/// The session's token, made when a form first needs one.
pub(crate) async fn token(session: &Session) -> Result<String, WebError> {
    if let Some(token) = session.get::<String>(KEY).await.map_err(WebError::session)? {
        return Ok(token);
    }
    let token = Uuid::new_v4().simple().to_string();
    session.insert(KEY, &token).await.map_err(WebError::session)?;
    Ok(token)
}

/// Refuses a form without the session's token. JSON requests change nothing and cannot be sent by a foreign form.
pub(crate) async fn protect(session: Session, request: Request, next: Next) -> Response {
    if matches!(*request.method(), Method::GET | Method::HEAD) || request.uri().path().starts_with("/api/") {
        return next.run(request).await;
    }
    let (parts, body) = request.into_parts();
    let Ok(bytes) = to_bytes(body, LARGEST_FORM).await else {
        return (StatusCode::PAYLOAD_TOO_LARGE, "The form is too large.").into_response();
    };
    let known = session.get::<String>(KEY).await.ok().flatten();
    let fields: Vec<(String, String)> = serde_urlencoded::from_bytes(&bytes).unwrap_or_default();
    let given = fields.iter().find(|(name, _)| name == KEY).map(|(_, value)| value);
    if known.is_none() || given != known.as_ref() {
        return WebError::StaleForm.into_response();
    }
    next.run(Request::from_parts(parts, Body::from(bytes))).await
}
