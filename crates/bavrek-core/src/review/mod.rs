//! What happened: strength through every swap, what was held, what worked, what stands still, and a first sentence that tells it.

mod continuity;
mod holding;
mod pains;
mod sides;
mod story;
mod weeks;

pub use continuity::{Line, Mark, Spell, Swap, Verdict, lines};
pub use holding::{Held, HeldLine, held_lines};
pub use pains::{PainfulDay, painful_days};
pub use sides::{SideGap, side_gaps};
pub use story::{ByShare, Fact, Told, story};
pub use weeks::{Week, left_out, weeks};

use crate::log::LoggedSet;

/// A set with where it was done.
#[derive(Debug, Clone, Copy)]
pub struct Done<'a> {
    /// The set.
    pub set: &'a LoggedSet,
    /// What the place is called, where that is known.
    pub place: Option<&'a str>,
}
