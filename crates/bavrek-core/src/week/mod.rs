//! The week: which movements on which day with how many sets, so that the aims are met within the minutes there are.
//!
//! [`pool`](self) gathers what could be done in each room, a mixed-integer model picks from it with a proven bound, and the
//! days are then laid as the school lays a session and read by the session's own clock.

mod lay;
mod model;
mod pool;
mod propose;
mod question;
mod search;
mod unmet;

pub use lay::{DayPlan, Line};
pub use model::{Model, Pick, Proposal};
pub use pool::Choice;
pub use propose::{Week, choices, lay_days, propose};
pub use question::{Day, MOST_DAYS, WeekQuestion, Wish};
pub use unmet::{Unmet, Why};
