//! What a program gives: documents and what stands in the address, read with the path of what is wrong.

use axum::extract::{FromRequest, FromRequestParts, Path, Request};
use axum::http::StatusCode;
use axum::http::request::Parts;
use schemars::JsonSchema;
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::door;
use crate::error::WebError;
use crate::problem::Problem;
use crate::state::App;

/// Why a program was refused, whatever said so.
pub(super) enum Refusal {
    Problem(Problem),
    Web(WebError),
}

impl From<Problem> for Refusal {
    fn from(problem: Problem) -> Self {
        Self::Problem(problem)
    }
}

impl<E: Into<WebError>> From<E> for Refusal {
    fn from(error: E) -> Self {
        Self::Web(error.into())
    }
}

impl axum::response::IntoResponse for Refusal {
    fn into_response(self) -> axum::response::Response {
        match self {
            Self::Problem(problem) => problem.into_response(),
            Self::Web(error) => error.into_json(),
        }
    }
}

/// A document that was sent.
pub(super) struct Sent<T>(pub(super) T);

impl<T: DeserializeOwned> FromRequest<App> for Sent<T> {
    type Rejection = Problem;

    async fn from_request(request: Request, _: &App) -> Result<Self, Problem> {
        let bytes = door::body(request).await?;
        let mut reader = serde_json::Deserializer::from_slice(&bytes);
        let read = serde_path_to_error::deserialize(&mut reader).map_err(|error| {
            let path = error.path().to_string();
            Problem::field(if path == "." { "request".to_owned() } else { path }, error.inner().to_string())
        })?;
        reader.end().map_err(|error| Problem::field("request", error.to_string()))?;
        Ok(Self(read))
    }
}

/// What stands in the address after `?`.
pub(super) struct Asked<T>(pub(super) T);

impl<T: DeserializeOwned> FromRequestParts<App> for Asked<T> {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, _: &App) -> Result<Self, Problem> {
        let query = parts.uri.query().unwrap_or_default();
        let pairs = serde_urlencoded::Deserializer::new(form_urlencoded::parse(query.as_bytes()));
        serde_path_to_error::deserialize(pairs).map(Self).map_err(|error| {
            let path = error.path().to_string();
            Problem::field(if path == "." { "query".to_owned() } else { path }, error.inner().to_string())
        })
    }
}

/// Identifiers in the address.
pub(super) struct At<T = Uuid>(pub(super) T);

impl<T: DeserializeOwned + Send> FromRequestParts<App> for At<T> {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Problem> {
        let read = Path::<T>::from_request_parts(parts, app).await;
        read.map(|Path(ids)| Self(ids)).map_err(|_| Problem::of(StatusCode::NOT_FOUND, "not found"))
    }
}

/// Which part of a list.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub(super) struct Paging {
    /// Where to go on: `next` of the part before.
    pub(super) cursor: Option<Uuid>,
    /// How many at most, 1 to 200.
    #[serde(default = "usual")]
    #[schemars(range(min = 1, max = 200))]
    limit: u16,
}

/// Items of a part where nothing is said, and at most.
const fn usual() -> u16 {
    50
}
const MOST: u16 = 200;

impl Paging {
    /// How many there may be, checked.
    pub(super) fn limit(self) -> Result<usize, Problem> {
        match self.limit {
            1..=MOST => Ok(usize::from(self.limit)),
            _ => Err(Problem::field("limit", format!("must be 1 to {MOST}"))),
        }
    }
}

/// A part of a list.
#[derive(Debug, Serialize, JsonSchema)]
pub(super) struct PartOf<T> {
    /// What there is.
    pub(super) items: Vec<T>,
    /// For the cursor of the next part; null where this was the last.
    pub(super) next: Option<Uuid>,
}

impl<T> PartOf<T> {
    /// The first `limit` of `found`, which holds one more where the list goes on.
    pub(super) fn of(mut found: Vec<T>, limit: usize, id: impl Fn(&T) -> Uuid) -> Self {
        let more = found.len() > limit;
        found.truncate(limit);
        let next = found.last().filter(|_| more).map(id);
        Self { items: found, next }
    }
}
