//! The week: which movements on which day with how many sets, so that the aims are met within the minutes there are.
//!
//! A pool of what could be done in each room, a mixed-integer program that says what a pick of it is worth and proves how much
//! better any could be, a search, and sessions as the school lays them, read by the session's own clock.

mod beam;
mod cover;
mod found;
mod helps;
mod lay;
mod model;
mod pool;
mod propose;
mod question;
mod search;
mod timing;
mod unmet;

pub use helps::{Help, MORE_MINUTES, helps};
pub use lay::{DayPlan, Line};
pub use model::{Model, Pick, Proposal};
pub use pool::{Choice, Lacking};
pub use propose::{Week, balance, choices, lay_days, propose};
pub use question::{Day, Lately, MOST_DAYS, Pin, WeekQuestion, Wish};
pub use timing::{Reading, Timing};
pub use unmet::{Binds, Unmet, Why};
