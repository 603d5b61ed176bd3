//! Pieces of kit as a record keeps them.

use uuid::Uuid;

/// A piece of kit in one of its states.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct PieceState {
    /// The piece, which stays the same however it is renamed or measured anew.
    pub piece: Uuid,
    /// What was said of it: another after each change.
    pub state: Uuid,
}
