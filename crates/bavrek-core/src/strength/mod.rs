//! Strength: what a set says about it, and how it carries over between movements and patterns.

pub mod ledger;
pub mod state;
pub mod trace;

pub use ledger::{Ledger, Note, Replayed};
pub use state::{Prediction, SetEvidence, StrengthState, told_sd};
pub use trace::{Change, Level, NINETY, Trace, bounds};
