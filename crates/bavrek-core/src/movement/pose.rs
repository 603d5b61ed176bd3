//! How the body is placed: stance, trunk lean, and from where it is looked at.

use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;

vocabulary!(
    /// How trunk and legs are placed. Movements loaded by the body itself place it by their rig.
    Stance {
        Standing => "standing", "standing";
        Split => "split", "one foot forward";
        HalfKneeling => "half_kneeling", "on one knee";
        Kneeling => "kneeling", "kneeling";
        Seated => "seated", "seated";
        SeatedFloor => "seated_floor", "seated on the floor";
        LyingBack => "lying_back", "lying back on a backrest";
        Supine => "supine", "lying on the back";
        HipsRaised => "hips_raised", "on the back, hips raised";
        ShouldersOnEdge => "shoulders_on_edge", "shoulders on an edge, hips low";
        ChestSupported => "chest_supported", "chest on an inclined bench";
        HandSupported => "hand_supported", "bent over, one hand on a support";
        SideLying => "side_lying", "lying on the side";
        Prone => "prone", "lying on the belly";
        KneeAndForearm => "knee_and_forearm", "on one knee and the same forearm";
        Plank => "plank", "in a push-up position";
    }
);

vocabulary!(
    /// From where a movement is looked at.
    View {
        Side => "side", "from the side";
        Front => "front", "from the front";
        Across => "across", "along the body";
    }
);

/// Posture of trunk and legs.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Pose {
    /// How trunk and legs are placed.
    #[serde(default = "standing")]
    pub stance: Stance,
    /// Trunk lean, degrees: 0 upright, positive forward, −90 on the back.
    #[serde(default)]
    pub trunk_deg: f64,
    /// Trunk lean at the end, where the trunk moves.
    #[serde(default)]
    pub trunk_to_deg: Option<f64>,
    /// From where it is looked at.
    #[serde(default = "side")]
    pub view: View,
}

const fn standing() -> Stance {
    Stance::Standing
}

const fn side() -> View {
    View::Side
}

impl Default for Pose {
    fn default() -> Self {
        Self { stance: Stance::Standing, trunk_deg: 0.0, trunk_to_deg: None, view: View::Side }
    }
}
