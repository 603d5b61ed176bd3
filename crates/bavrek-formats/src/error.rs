//! A request that is not valid, as the contract reports it.

use bavrek_core::mechanics::MechanicsError;
use bavrek_core::ranges::RangeError;
use serde::Serialize;

/// Names the field and says in a sentence what is wrong with it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, thiserror::Error)]
#[error("{path}: {message}")]
pub struct RequestError {
    /// Path of the field, for example `place.kit[2].pairs[0]`.
    pub path: String,
    /// What is wrong with it.
    pub message: String,
}

impl RequestError {
    /// An error at a path.
    pub fn new(path: impl Into<String>, message: impl Into<String>) -> Self {
        Self { path: path.into(), message: message.into() }
    }

    /// The body of the answer: `{"error": {"path", "message"}}`.
    pub fn body(&self) -> serde_json::Value {
        serde_json::json!({ "error": self })
    }

    pub(crate) fn at(parent: &str) -> impl Fn(RangeError) -> Self + '_ {
        move |error| {
            let error = error.under(parent);
            Self { path: error.path, message: error.message }
        }
    }

    pub(crate) fn refused(parent: &str) -> impl Fn(MechanicsError) -> Self + '_ {
        move |error| Self::new(format!("{parent}.{}", error.field()), error.to_string())
    }
}
