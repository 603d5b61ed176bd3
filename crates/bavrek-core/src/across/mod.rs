//! Across clients: what the logs of all of a trainer's clients show together, and how far that leans the order of fits.

mod lessons;
mod pooled;
mod record;

pub use lessons::{Came, Hurt, Lessons, Outcome, Reader, lessons};
pub use pooled::{Across, JointRow, MovementRow, SwapRow};
pub use record::{FEWEST_CLIENTS, MOST_TILT, NO_RECORD, TrackRecord, Went};
