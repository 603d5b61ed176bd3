//! What a step of a press, push-up or row asks of the shoulder and of the elbow.

use crate::ladder::LadderStep;
use crate::mechanics::two_joint::TwoJoint;
use crate::movement::Movement;
use crate::person::Person;
use crate::rigging::{trunk_lean, two_joint};

/// Where in its range each joint of a press, push-up or row is loaded, and the elbow's part of the work of both.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct JointShares {
    /// Thirds of the shoulder's work; none where it does none.
    pub shoulder: Option<[f64; 3]>,
    /// Thirds of the elbow's work; none for rows.
    pub elbow: Option<[f64; 3]>,
    /// The elbow's part, 0 to 1.
    pub elbow_part: f64,
}

impl JointShares {
    /// What a step asks of both joints; none for movements about one joint, and for hangs and dips, whose curve is even.
    pub fn of(movement: &Movement, person: &Person, step: &LadderStep) -> Option<Self> {
        let both = both_joints(movement, person, step)?;
        let force = step.force()?;
        Some(Self {
            shoulder: both.shoulder.shares(&force),
            elbow: both.elbow.and_then(|elbow| elbow.shares(&force)),
            elbow_part: both.elbow_part(&force),
        })
    }
}

/// Moments about both joints along the way, each a share of the larger one's peak at twenty equal distances.
#[derive(Debug, Clone, PartialEq)]
pub struct JointCurves {
    /// What the shoulder meets.
    pub shoulder: Vec<f64>,
    /// What the elbow meets.
    pub elbow: Vec<f64>,
    /// Where in their ranges, and how much of the work is the elbow's.
    pub shares: JointShares,
}

impl JointCurves {
    /// The curves of a step; none where only one joint is followed.
    pub fn of(movement: &Movement, person: &Person, step: &LadderStep) -> Option<Self> {
        let both = both_joints(movement, person, step)?;
        let force = step.force()?;
        let (shoulder, elbow) = (both.shoulder.moment(&force), both.elbow?.moment(&force));
        let peak = shoulder.peak().max(elbow.peak());
        if peak <= 0.0 {
            return None;
        }
        let over_peak =
            |own: &crate::mechanics::profile::Profile| own.curve().iter().map(|v| v * own.peak() / peak).collect();
        Some(Self {
            shoulder: over_peak(&shoulder),
            elbow: over_peak(&elbow),
            shares: JointShares::of(movement, person, step)?,
        })
    }
}

/// None where only a part of the range is gone through: the joints are followed over the whole.
fn both_joints(movement: &Movement, person: &Person, step: &LadderStep) -> Option<TwoJoint> {
    if step.setup.range.is_some() {
        return None;
    }
    two_joint(movement, person, trunk_lean(movement, step.setup.bench_deg))
}
