//! What holds for every answer: it comes in time, and no refusal is blank or speaks like a parser.

use std::time::Duration;

use axum::extract::{Request, State};
use axum::http::{HeaderValue, Method, StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use tokio::time::timeout;

use crate::error::{self, WebError};
use crate::problem::Problem;
use crate::state::App;

/// How long a request may take where it is served, with all that is sent.
pub const LONGEST_REQUEST: Duration = Duration::from_secs(15);
/// How long the database may take to say that it is there.
const READY: Duration = Duration::from_secs(1);

/// Ends what takes too long.
pub(crate) async fn in_time(State(app): State<App>, request: Request, next: Next) -> Response {
    let machine = is_machine(&request);
    match timeout(app.longest, next.run(request)).await {
        Ok(response) => response,
        Err(_) if machine => WebError::TooLong.into_json(),
        Err(_) => WebError::TooLong.into_response(),
    }
}

fn is_machine(request: &Request) -> bool {
    request.uri().path().starts_with("/api/")
}

/// Gives a refusal that has no words of ours a page, or a document where a program asked.
pub(crate) async fn in_words(request: Request, next: Next) -> Response {
    let (machine, method) = (is_machine(&request), request.method().clone());
    let response = next.run(request).await;
    let status = response.status();
    let plain = |r: &Response| {
        let kind = r.headers().get(header::CONTENT_TYPE).and_then(|v| v.to_str().ok());
        kind.is_none_or(|kind| kind.starts_with("text/plain"))
    };
    let refused = status.is_client_error() || status.is_server_error();
    // Where the browser is sent elsewhere it shows nothing.
    if !refused || method == Method::HEAD || response.headers().contains_key("hx-redirect") || !plain(&response) {
        return response;
    }
    let said = said(status);
    if machine {
        let mut told = Problem::of(said.0, said.1).into_response();
        if let Some(allowed) = response.headers().get(header::ALLOW) {
            told.headers_mut().insert(header::ALLOW, allowed.clone());
        }
        return told;
    }
    let mut page = error::page(said.0, "That did not work", said.1.to_owned());
    // What the refusal tells in its head still holds: methods that are allowed, when to come back.
    for name in [header::ALLOW, header::RETRY_AFTER] {
        if let Some(value) = response.headers().get(&name) {
            page.headers_mut().insert(name, value.clone());
        }
    }
    if said.0 == StatusCode::SERVICE_UNAVAILABLE {
        page.headers_mut().entry(header::RETRY_AFTER).or_insert(HeaderValue::from_static("5"));
    }
    page
}

/// A status in words. Only where the session cannot be looked up is anything blank with 500: the database does not answer.
const fn said(status: StatusCode) -> (StatusCode, &'static str) {
    let words = match status {
        StatusCode::BAD_REQUEST => "The address or what was sent with it does not read. Nothing was changed.",
        StatusCode::NOT_FOUND => "There is no such page.",
        StatusCode::METHOD_NOT_ALLOWED => "This address takes no such request. Nothing was changed.",
        StatusCode::REQUEST_TIMEOUT => "What was sent did not arrive in time. Nothing was changed.",
        StatusCode::PAYLOAD_TOO_LARGE => "That is too much at once. Nothing was changed.",
        StatusCode::UNSUPPORTED_MEDIA_TYPE => "This takes a form. Nothing was changed.",
        StatusCode::INTERNAL_SERVER_ERROR => {
            let away = "The database does not answer. Nothing that was logged is lost: try again in a moment.";
            return (StatusCode::SERVICE_UNAVAILABLE, away);
        }
        _ => "Nothing was changed. Go back and try again.",
    };
    (status, words)
}

/// Whether the process lives.
pub(crate) async fn alive() -> &'static str {
    "ok\n"
}

/// Whether it can serve: the database answers.
pub(crate) async fn ready(State(app): State<App>) -> Response {
    match timeout(READY, bavrek_store::answers(&app.pool)).await {
        Ok(true) => "ok\n".into_response(),
        _ => (
            StatusCode::SERVICE_UNAVAILABLE,
            [(header::CONTENT_TYPE, "text/plain; charset=utf-8")],
            "the database does not answer\n",
        )
            .into_response(),
    }
}
