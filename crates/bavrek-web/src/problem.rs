//! What a program is told when something is not done: problem details as RFC 9457 has them, with the fields that are wrong.

use axum::http::{HeaderName, HeaderValue, StatusCode, header};
use axum::response::{IntoResponse, Response};
use schemars::JsonSchema;
use serde::Serialize;

/// A field that is wrong.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, JsonSchema)]
pub(crate) struct FieldProblem {
    /// Its path, for example `sets[2].reps`; `request` where it is the whole.
    pub(crate) path: String,
    /// What is wrong with it.
    pub(crate) message: String,
}

/// Why something was not done.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Problem(Box<Details>);

/// The same as it is told.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, JsonSchema)]
#[schemars(rename = "Problem")]
pub(crate) struct Details {
    /// Always `about:blank`: the status says what kind it is.
    r#type: &'static str,
    /// The status in words.
    title: &'static str,
    /// The status.
    status: u16,
    /// What is wrong, in a sentence.
    detail: String,
    /// Every field that is wrong.
    errors: Vec<FieldProblem>,
    /// The first of them, or the request as a whole.
    error: FieldProblem,
    #[serde(skip)]
    heads: Vec<(HeaderName, HeaderValue)>,
}

/// The media type of problem details.
pub(crate) const KIND: &str = "application/problem+json";

impl Problem {
    /// A problem with the request as a whole.
    pub(crate) fn of(status: StatusCode, detail: impl Into<String>) -> Self {
        Self::with(status, detail, Vec::new())
    }

    /// A field that is wrong.
    pub(crate) fn field(path: impl Into<String>, message: impl Into<String>) -> Self {
        Self::fields(vec![FieldProblem { path: path.into(), message: message.into() }])
    }

    /// Fields that are wrong.
    pub(crate) fn fields(errors: Vec<FieldProblem>) -> Self {
        let detail = errors.first().map_or_else(String::new, |e| format!("{}: {}", e.path, e.message));
        Self::with(StatusCode::UNPROCESSABLE_ENTITY, detail, errors)
    }

    fn with(status: StatusCode, detail: impl Into<String>, errors: Vec<FieldProblem>) -> Self {
        let detail = detail.into();
        let whole = || FieldProblem { path: "request".into(), message: detail.clone() };
        Self(Box::new(Details {
            r#type: "about:blank",
            title: status.canonical_reason().unwrap_or("Error"),
            status: status.as_u16(),
            error: errors.first().cloned().unwrap_or_else(whole),
            detail,
            errors,
            heads: Vec::new(),
        }))
    }

    /// The same with something in its head.
    pub(crate) fn head(mut self, name: HeaderName, value: HeaderValue) -> Self {
        self.0.heads.push((name, value));
        self
    }
}

impl IntoResponse for Problem {
    fn into_response(self) -> Response {
        let status = StatusCode::from_u16(self.0.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
        let mut answer = (status, axum::Json(&self.0)).into_response();
        answer.headers_mut().insert(header::CONTENT_TYPE, HeaderValue::from_static(KIND));
        answer.headers_mut().extend(self.0.heads);
        answer
    }
}
