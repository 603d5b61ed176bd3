//! Isometric holds: how long a share of full strength can be held, and what a longer hold says about progress.

use crate::anatomy::Pattern;
use crate::reps::share_of_maximum;

/// Log-SD of one hold as evidence. Assumed.
pub const HOLD_SD: f64 = 0.10;
/// Exponent by which progress is read from times: between those of elbow and shoulder.
const PROGRESS_EXPONENT: f64 = 2.0;

/// The joint that holds; endurance follows `t = a·f^(−b)` (Frey Law and Avin 2010, recalled).
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum HoldingJoint {
    /// Elbow: a = 17.98 s, b = 2.21.
    Elbow,
    /// Shoulder: a = 14.86 s, b = 1.83.
    Shoulder,
}

impl HoldingJoint {
    /// The joint that holds in a pattern.
    pub const fn of(pattern: Pattern) -> Self {
        match pattern {
            Pattern::ElbowFlexion | Pattern::ElbowExtension => Self::Elbow,
            _ => Self::Shoulder,
        }
    }
}

/// Repetitions to failure, at three seconds each, of which one must be capable on a load so that so many repetitions and so many
/// seconds of holding in mid-range last: each takes its share of what can be done there. 1 to [`MOST_NEEDED`].
pub fn repetitions_needed(joint: HoldingJoint, reps: f64, seconds: f64) -> f64 {
    let used = |n: f64| reps / n + seconds_to_failure(joint, share_of_maximum(n)).map_or(0.0, |all| seconds / all);
    let (mut too_few, mut enough) = (1.0, MOST_NEEDED);
    for _ in 0..HALVINGS {
        let middle = 0.5 * (too_few + enough);
        if used(middle) > 1.0 { too_few = middle } else { enough = middle }
    }
    enough
}

/// Most repetitions that are said to be needed: beyond, no load is light enough.
pub const MOST_NEEDED: f64 = 60.0;
/// Halvings of that range: to a thousandth of a repetition.
const HALVINGS: u32 = 16;

/// Seconds to failure at a fraction of full strength. None outside 0.05 to 1, where the law was never fitted.
///
/// ```
/// use bavrek_core::holds::{HoldingJoint, seconds_to_failure};
/// assert_eq!(seconds_to_failure(HoldingJoint::Elbow, 0.5).map(f64::round), Some(83.0));
/// assert_eq!(seconds_to_failure(HoldingJoint::Elbow, 0.0), None);
/// ```
pub fn seconds_to_failure(joint: HoldingJoint, fraction: f64) -> Option<f64> {
    let (a, b) = match joint {
        HoldingJoint::Elbow => (17.98, 2.21),
        HoldingJoint::Shoulder => (14.86, 1.83),
    };
    (0.05..=1.0).contains(&fraction).then(|| a * fraction.powf(-b))
}

/// Gain in log load that holding the same load for `after` instead of `before` seconds shows: `ln(t₂/t₁)/2`, log-SD
/// [`HOLD_SD`] a hold. Never mixed with repetitions: a hold is an exercise of its own. None for times of nothing.
pub fn progress(before: f64, after: f64) -> Option<f64> {
    let gain = (after / before).ln() / PROGRESS_EXPONENT;
    (before > 0.0 && after > 0.0 && gain.is_finite()).then_some(gain)
}
