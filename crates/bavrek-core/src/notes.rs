//! What a trainer writes down about how a client looks and moves.

use crate::anatomy::vocabulary;

/// Longest note, characters.
pub const LONGEST_NOTE: usize = 5000;

vocabulary!(
    /// What an observation is about.
    NoteKind {
        Posture => "posture", "posture";
        LeftRight => "left_right", "left and right";
        Visual => "visual", "looks";
        Movement => "movement", "movement";
    }
);
