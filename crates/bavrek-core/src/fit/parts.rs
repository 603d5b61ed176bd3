//! The parts of a score.

use serde::{Deserialize, Serialize};

/// How well a movement does the job, part by part, each 0 to 1.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Parts {
    /// The wanted regions get the work.
    pub targeting: f64,
    /// It is hard where in the muscle's length it should be.
    pub tension: f64,
    /// A step exists on which the wanted repetitions are likely.
    pub reach: f64,
    /// Small steps, and some of them above today's.
    pub steps: f64,
    /// Kind to the client's joints.
    pub joints: f64,
    /// Steady and within the client's skill.
    pub stability: f64,
    /// Quick to set up, nothing improvised.
    pub setup: f64,
}

impl Parts {
    /// The parts in the order of their declaration.
    pub const fn values(&self) -> [f64; 7] {
        [self.targeting, self.tension, self.reach, self.steps, self.joints, self.stability, self.setup]
    }

    /// The fields of the parts, in the order of their declaration.
    pub const FIELDS: [&'static str; 7] = ["targeting", "tension", "reach", "steps", "joints", "stability", "setup"];

    /// What the parts are called, in the order of their declaration.
    pub const NAMES: [&'static str; 7] =
        ["target kept", "tension kept", "reach", "room to grow", "joints", "steadiness", "set-up"];
}
