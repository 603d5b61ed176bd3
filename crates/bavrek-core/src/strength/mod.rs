//! Strength: what a set says about it, and how it carries over between movements and patterns.

pub mod holds;
pub mod ledger;
mod prior;
pub mod reps;
pub mod state;

pub use ledger::Ledger;
pub use prior::{Group, PatternPrior, log_of_age};
pub use state::{Prediction, SetEvidence, StrengthState};
