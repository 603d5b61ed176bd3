//! What the clock said of days that were laid.

use crate::anatomy::Joint;

/// What was read.
#[derive(Debug, Clone)]
pub(super) struct Readings {
    /// By day and choice, what it takes over what was reckoned.
    pub(super) scale: Vec<Vec<f64>>,
    /// By day, seconds that it takes less than was reckoned.
    pub(super) spared: Vec<f64>,
    /// By day, joints that were moved before the work; those of a day that was not read cost nothing more.
    pub(super) moved: Vec<Vec<Joint>>,
    /// Seconds by which all days are taken to be longer.
    pub(super) looser: f64,
}

impl Readings {
    /// Nothing was read of so many days and choices.
    pub(super) fn none(days: usize, choices: usize) -> Self {
        Self {
            scale: vec![vec![1.0; choices]; days],
            spared: vec![0.0; days],
            moved: vec![Joint::ALL.to_vec(); days],
            looser: 0.0,
        }
    }
}
