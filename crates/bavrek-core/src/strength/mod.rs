//! Strength: what a set says about it, and how it carries over between movements of one pattern.

pub mod holds;
pub mod ledger;
pub mod reps;
pub mod state;

pub use ledger::Ledger;
pub use state::{PatternPrior, Prediction, SetEvidence, StrengthState};
