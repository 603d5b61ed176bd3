//! Who asks: a program with a token, or for computations a page of somebody who is signed in. And what is sent twice is done once.

use std::time::Duration;

use axum::body::{Body, to_bytes};
use axum::extract::{FromRequestParts, MatchedPath, RawPathParams, Request, State};
use axum::http::request::Parts;
use axum::http::{HeaderName, HeaderValue, Method, StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use bavrek_store::answers::{self, Answer, Known};
use bavrek_store::tokens::{self, Scope};
use bavrek_store::{StoreError, TrainerId, deeds, id_of, new_id, wall};
use sha2::{Digest, Sha256};
use tokio::time::sleep;
use uuid::Uuid;

use crate::auth::AuthSession;
use crate::error::WebError;
use crate::problem::Problem;
use crate::state::App;
use crate::{budget, changes};

/// Largest request, bytes.
const LARGEST: usize = 2 * 1024 * 1024;
/// Largest answer that is kept to be given again, bytes.
const LARGEST_KEPT: usize = 256 * 1024;
/// How often a request waits for its like that is under way, and how long each time.
const WAITS: [Duration; 5] = [Duration::from_millis(200); 5];

/// The name of the head by which a program names its request.
const KEY: HeaderName = HeaderName::from_static("idempotency-key");
/// Longest name of one.
const LONGEST_KEY: usize = 200;

/// Whoever asks.
#[derive(Debug, Clone)]
pub(super) struct Caller {
    pub(super) trainer: TrainerId,
    scopes: Vec<Scope>,
    /// The name of the request, where it has one.
    key: Option<String>,
}

impl Caller {
    const fn of(trainer: TrainerId, scopes: Vec<Scope>) -> Self {
        Self { trainer, scopes, key: None }
    }

    /// The identifier of what is added, where none was sent. A request with a name adds the same whenever it is sent: even where the
    /// answer to the first was never heard and its name is free again.
    pub(super) fn new_id(&self) -> Uuid {
        self.key.as_ref().map_or_else(new_id, |key| id_of(&format!("{} {key}", self.trainer.0)))
    }
}

impl FromRequestParts<App> for Caller {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, _: &App) -> Result<Self, Problem> {
        parts.extensions.get::<Self>().cloned().ok_or_else(unknown)
    }
}

fn unknown() -> Problem {
    let how = HeaderValue::from_static("Bearer realm=\"bavrek\"");
    Problem::of(StatusCode::UNAUTHORIZED, "send a token that opens: Authorization: Bearer ...")
        .head(header::WWW_AUTHENTICATE, how)
}

/// The token that was sent.
fn sent(request: &Request) -> Option<&str> {
    let text = request.headers().get(header::AUTHORIZATION)?.to_str().ok()?;
    let (scheme, token) = text.split_once(' ')?;
    scheme.eq_ignore_ascii_case("bearer").then(|| token.trim())
}

/// Lets in whoever is known, and does what is asked for their trainer.
pub(super) async fn known(State(app): State<App>, session: AuthSession, mut request: Request, next: Next) -> Response {
    let entered = wall::around(None, async {
        let caller = match (sent(&request), session.user) {
            (Some(token), _) => match tokens::open(&app.pool, token, app.clock.now()).await {
                Ok((trainer, scopes)) => Caller::of(trainer, scopes),
                Err(StoreError::NotFound) => return unknown().into_response(),
                Err(other) => return WebError::from(other).into_json(),
            },
            // A page changes nothing here: whoever would forge its request gains a computation.
            (None, Some(user)) if !request.headers().contains_key(header::AUTHORIZATION) => {
                wall::raise(user.0.id);
                Caller::of(user.0.id, vec![Scope::Compute])
            }
            _ => return unknown().into_response(),
        };
        request.extensions_mut().insert(caller);
        next.run(request).await
    });
    entered.await
}

/// What an operation needs.
#[derive(Debug, Clone, Copy)]
pub(super) struct Needs(pub(super) Scope);

/// Keeps out a token that may not.
pub(super) async fn allowed(State(Needs(scope)): State<Needs>, request: Request, next: Next) -> Response {
    match request.extensions().get::<Caller>() {
        Some(caller) if caller.scopes.contains(&scope) => next.run(request).await,
        Some(_) => {
            let why = format!("this token may not {}", scope.id());
            Problem::of(StatusCode::FORBIDDEN, why).into_response()
        }
        None => unknown().into_response(),
    }
}

/// Gives a request its turn.
pub(super) async fn in_turn(State(app): State<App>, request: Request, next: Next) -> Response {
    let Some(trainer) = request.extensions().get::<Caller>().map(|c| c.trainer) else {
        return unknown().into_response();
    };
    budget::for_program(&app, trainer, request, next).await
}

/// Notes what a program changed, once it was done. What cannot be noted is told in the log and holds up nobody.
pub(super) async fn noted(
    State(app): State<App>,
    pattern: MatchedPath,
    params: RawPathParams,
    request: Request,
    next: Next,
) -> Response {
    let caller = request.extensions().get::<Caller>().cloned();
    let changes = *request.method() != Method::GET && !pattern.as_str().contains("/compute/");
    let response = next.run(request).await;
    if let Some(caller) = caller.filter(|_| changes && response.status().is_success()) {
        let about = changes::about(&params);
        let what = format!("by a program: {}", changes::in_words(pattern.as_str().trim_start_matches("/api/v1")));
        if let Err(error) = deeds::changed(&app.pool, caller.trainer, about, &what, app.clock.now()).await {
            tracing::warn!(%error, "a change was not noted");
        }
    }
    response
}

/// Does what has a name once: sent again, it is answered as before.
pub(super) async fn once(State(app): State<App>, request: Request, next: Next) -> Response {
    let changes = !matches!(*request.method(), Method::GET | Method::HEAD);
    let named = request.headers().get(KEY).cloned();
    let (Some(caller), Some(named), true) = (request.extensions().get::<Caller>().cloned(), named, changes) else {
        return next.run(request).await;
    };
    let Some(key) = named.to_str().ok().filter(|key| readable(key)).map(str::to_owned) else {
        let why = format!("must be 1 to {LONGEST_KEY} printable characters without spaces");
        return Problem::field("Idempotency-Key", why).into_response();
    };
    let (parts, body) = request.into_parts();
    let Ok(bytes) = to_bytes(body, LARGEST).await else {
        return too_large().into_response();
    };
    let mut digest = Sha256::new();
    digest.update(format!("{} {}\n", parts.method, parts.uri));
    digest.update(&bytes);
    let hash = digest.finalize().to_vec();
    match claimed(&app, caller.trainer, (&key, &hash)).await {
        Ok(Known::New) => {}
        Ok(Known::Answered(answer)) => return again(answer),
        Ok(Known::UnderWay) => {
            return Problem::of(StatusCode::CONFLICT, "the same request is being done: ask again in a moment")
                .head(header::RETRY_AFTER, HeaderValue::from_static("1"))
                .into_response();
        }
        Ok(Known::Another) => {
            return Problem::field("Idempotency-Key", "was given to another request before").into_response();
        }
        Err(error) => return WebError::from(error).into_json(),
    }
    let mut request = Request::from_parts(parts, Body::from(bytes));
    request.extensions_mut().insert(Caller { key: Some(key.clone()), ..caller.clone() });
    let answer = next.run(request).await;
    kept(&app, caller.trainer, &key, answer).await
}

fn readable(key: &str) -> bool {
    (1..=LONGEST_KEY).contains(&key.len()) && key.bytes().all(|b| b.is_ascii_graphic())
}

/// Claims a key; waits a little for its like.
async fn claimed(app: &App, trainer: TrainerId, request: (&str, &[u8])) -> Result<Known, StoreError> {
    for wait in WAITS {
        match answers::claim(&app.pool, trainer, request, app.clock.now()).await? {
            Known::UnderWay => sleep(wait).await,
            known => return Ok(known),
        }
    }
    Ok(Known::UnderWay)
}

/// Keeps an answer under its key. What failed for a while, or is too much to keep, may be sent again.
async fn kept(app: &App, trainer: TrainerId, key: &str, answer: Response) -> Response {
    let (parts, body) = answer.into_parts();
    let kind = parts.headers.get(header::CONTENT_TYPE).and_then(|v| v.to_str().ok()).unwrap_or_default().to_owned();
    let passing = parts.status.is_server_error() || parts.status == StatusCode::TOO_MANY_REQUESTS;
    let Ok(bytes) = to_bytes(body, LARGEST_KEPT).await else {
        return WebError::Failed.into_json();
    };
    let noted = if passing {
        answers::let_go(&app.pool, trainer, key).await
    } else {
        let answer = Answer { status: parts.status.as_u16(), kind, body: bytes.to_vec() };
        answers::keep(&app.pool, trainer, key, &answer).await
    };
    if let Err(error) = noted {
        tracing::warn!(%error, "an answer was not kept under its key");
    }
    Response::from_parts(parts, Body::from(bytes))
}

/// An answer that was given before.
fn again(answer: Answer) -> Response {
    let status = StatusCode::from_u16(answer.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
    let mut response = (status, answer.body).into_response();
    let heads = response.headers_mut();
    heads.remove(header::CONTENT_TYPE);
    if let Ok(kind) = HeaderValue::from_str(&answer.kind)
        && !kind.is_empty()
    {
        heads.insert(header::CONTENT_TYPE, kind);
    }
    heads.insert(HeaderName::from_static("idempotent-replayed"), HeaderValue::from_static("true"));
    response
}

pub(super) fn too_large() -> Problem {
    Problem::of(StatusCode::PAYLOAD_TOO_LARGE, format!("a request takes at most {} kB", LARGEST / 1024))
}

/// Reads a body as far as one may be.
pub(super) async fn body(request: Request) -> Result<axum::body::Bytes, Problem> {
    to_bytes(request.into_body(), LARGEST).await.map_err(|_| too_large())
}
