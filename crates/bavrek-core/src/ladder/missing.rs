//! Why a movement has no step in a room.

use crate::units::Metres;

/// Why a movement has no step here.
#[derive(Debug, Clone, PartialEq)]
pub struct Missing {
    /// Kind of lack.
    pub kind: MissingKind,
    /// A sentence.
    pub text: String,
    /// Where the anchor that is there would have to be.
    pub move_anchor_to: Option<Metres>,
}

/// Kind of lack.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum MissingKind {
    /// The room lacks something.
    Kit,
    /// The resistance does not oppose the target.
    NoLoad,
}

impl Missing {
    pub(super) fn kit(text: impl Into<String>) -> Self {
        Self { kind: MissingKind::Kit, text: text.into(), move_anchor_to: None }
    }
}
