//! The one error type of the pages, and how it looks.

use std::any::Any;

use askama::Template;
use axum::http::{HeaderValue, StatusCode, header};
use axum::response::{Html, IntoResponse, Response};
use bavrek_core::kit::MOST_PIECES;
use bavrek_store::StoreError;

use crate::problem::Problem;

/// What a page could not do.
#[derive(Debug, thiserror::Error)]
pub enum WebError {
    /// Not there, or another trainer's: nobody can tell which.
    #[error("not found")]
    NotFound,
    /// The form's token is not the session's.
    #[error("stale form")]
    StaleForm,
    /// A field that only a broken or forged form could send.
    #[error("{field}: {message}")]
    BadRequest {
        /// The field.
        field: &'static str,
        /// What is wrong with it.
        message: String,
    },
    /// A place holds as many pieces as it may.
    #[error("a place takes no more pieces")]
    PlaceFull,
    /// The client's screening calls for a clearance first.
    #[error("a clearance is needed first")]
    ClearanceNeeded,
    /// Somebody else changed it since the page was shown.
    #[error("changed in the meantime")]
    ChangedMeanwhile,
    /// The database failed.
    #[error("store: {0}")]
    Store(StoreError),
    /// The sign-in session failed.
    #[error("session: {0}")]
    Session(String),
    /// The link by which it was asked opens no more.
    #[error("the link was ended")]
    LinkEnded,
    /// As much is being computed as there is room for.
    #[error("as much is being worked out as there is room for: try again in a few seconds")]
    Busy,
    /// The database does not answer.
    #[error("the database does not answer")]
    Away,
    /// It took longer than anything may.
    #[error("this took too long: nothing was changed")]
    TooLong,
    /// A computation was cut off.
    #[error("a computation failed")]
    Failed,
    /// A page could not be rendered.
    #[error("template: {0}")]
    Template(#[from] askama::Error),
}

impl WebError {
    pub(crate) fn session(error: impl std::fmt::Display) -> Self {
        Self::Session(error.to_string())
    }

    /// What to say beside what was asked; what nobody can mend there is passed on.
    pub(crate) fn told(self) -> Result<String, Self> {
        match self {
            Self::BadRequest { message, .. } => Ok(message),
            Self::ClearanceNeeded => Ok("This waits for a clearance: nothing was changed.".into()),
            Self::PlaceFull => Ok(place_full()),
            Self::ChangedMeanwhile => Ok("This was changed since it was shown: nothing was overwritten.".into()),
            other => Err(other),
        }
    }

    /// What a program is told: the same status, with the reason as a document.
    pub(crate) fn into_json(self) -> Response {
        let problem = match &self {
            Self::BadRequest { field, message } => return Problem::field(*field, message).into_response(),
            // What failed inside is for the log.
            Self::Store(_) | Self::Session(_) | Self::Template(_) => "a computation failed".to_owned(),
            other => other.to_string(),
        };
        let told = self.into_response();
        let problem = Problem::of(told.status(), problem);
        match told.headers().get(header::RETRY_AFTER) {
            Some(later) => problem.head(header::RETRY_AFTER, later.clone()).into_response(),
            None => problem.into_response(),
        }
    }

    pub(crate) fn bad(field: &'static str, message: impl Into<String>) -> Self {
        Self::BadRequest { field, message: message.into() }
    }
}

impl From<StoreError> for WebError {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::NotFound => Self::NotFound,
            StoreError::ClearanceNeeded => Self::ClearanceNeeded,
            StoreError::PlaceFull => Self::PlaceFull,
            StoreError::Conflict => Self::ChangedMeanwhile,
            StoreError::Away(error) => {
                tracing::error!(%error, "the database does not answer");
                Self::Away
            }
            other => Self::Store(other),
        }
    }
}

/// What is said where a place takes no more.
fn place_full() -> String {
    format!(
        "A place takes {MOST_PIECES} pieces at most: nothing was added. Take out what is not used, or keep it at another place."
    )
}

#[derive(Template)]
#[template(path = "error.html")]
struct ErrorPage {
    css: String,
    heading: &'static str,
    text: String,
}

/// A page that says to come back.
fn later(heading: &'static str, text: &str) -> Response {
    let mut told = page(StatusCode::SERVICE_UNAVAILABLE, heading, text.to_owned());
    told.headers_mut().insert(header::RETRY_AFTER, HeaderValue::from_static("5"));
    told
}

pub(crate) fn page(status: StatusCode, heading: &'static str, text: String) -> Response {
    let page = ErrorPage { css: crate::assets::url("app.css"), heading, text };
    match page.render() {
        Ok(html) => (status, Html(html)).into_response(),
        Err(_) => (status, heading).into_response(),
    }
}

impl IntoResponse for WebError {
    fn into_response(self) -> Response {
        match &self {
            Self::NotFound => {
                page(StatusCode::NOT_FOUND, "Nothing here", "There is no such page, or it is not yours.".into())
            }
            Self::LinkEnded => page(
                StatusCode::GONE,
                "This link opens no more",
                "It was ended or replaced. Ask your trainer for a new one.".into(),
            ),
            Self::StaleForm => page(
                StatusCode::FORBIDDEN,
                "This form is too old",
                "Nothing was changed. Go back, reload the page and send it again.".into(),
            ),
            Self::Busy => later(
                "Much is being worked out",
                "As much is being worked out as there is room for. Nothing was changed: try again in a few seconds.",
            ),
            Self::TooLong => {
                later("This took too long", "It was ended before it was done. Nothing was changed: try again, or ask for less.")
            }
            Self::Away => later(
                "The database does not answer",
                "Nothing that was logged is lost. What you sent was not stored: go back and send it again in a moment.",
            ),
            Self::PlaceFull => page(StatusCode::UNPROCESSABLE_ENTITY, "This place is full", place_full()),
            Self::ClearanceNeeded => page(
                StatusCode::UNPROCESSABLE_ENTITY,
                "New plans wait for a clearance",
                "An answer of the client's health screening calls for a doctor or physiotherapist first. Record the clearance on the client's health page. Nothing was changed.".into(),
            ),
            Self::ChangedMeanwhile => page(
                StatusCode::CONFLICT,
                "Changed meanwhile",
                "Somebody, or another window of yours, changed this since the page was shown. Nothing was overwritten: go back, reload and look at it again.".into(),
            ),
            Self::BadRequest { field, message } => {
                page(StatusCode::UNPROCESSABLE_ENTITY, "That cannot be done", format!("{field}: {message}"))
            }
            Self::Store(_) | Self::Session(_) | Self::Template(_) | Self::Failed => {
                tracing::error!(error = %self, "failed");
                page(
                    StatusCode::INTERNAL_SERVER_ERROR,
                    "Something failed here",
                    "Nothing that was logged is lost. Try again in a moment.".into(),
                )
            }
        }
    }
}

pub(crate) async fn nothing_here() -> WebError {
    WebError::NotFound
}

pub(crate) fn panicked(_: Box<dyn Any + Send + 'static>) -> Response {
    tracing::error!("a handler panicked");
    page(StatusCode::INTERNAL_SERVER_ERROR, "Something failed here", "Nothing that was logged is lost.".into())
}
