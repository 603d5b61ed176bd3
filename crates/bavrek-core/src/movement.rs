//! Movements as data: what each trains, how it is rigged, what it needs and whom it does not suit.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::anatomy::{ArmPosition, Grip, Implement, Joint, Pattern, Region, vocabulary};
use crate::mechanics::single_joint::JointAction;
use crate::person::{Experience, LimitKind};
use crate::strength::PatternPrior;

vocabulary!(
    /// How the hands share the implement.
    Hands {
        Each => "each", "one in each hand";
        One => "one", "one side at a time";
        Shared => "shared", "one in both hands";
    }
);

vocabulary!(
    /// What a movement may rest on or needs in the room besides its load.
    SupportKind {
        Floor => "floor", "floor";
        Bench => "bench", "bench";
        Chair => "chair", "sturdy chair";
        Box => "box", "box";
        Sofa => "sofa", "sofa";
        Standing => "standing", "standing room";
        Kneeling => "kneeling", "room to kneel";
        Parallettes => "parallettes", "push-up handles";
    }
);

/// One way to meet a need.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Support {
    /// What supports.
    pub kit: SupportKind,
    /// For a bench: the angles that will do, degrees.
    #[serde(default)]
    pub deg: Option<[f64; 2]>,
}

vocabulary!(
    /// Whether a limit rules a movement out or makes it less suitable.
    LimitEffect {
        Exclude => "exclude", "ruled out";
        Ease => "ease", "go easy";
    }
);

/// How a client's limit bears on a movement.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct LimitRule {
    /// The joint.
    pub joint: Joint,
    /// The kind of limit.
    pub what: LimitKind,
    /// What it does.
    pub effect: LimitEffect,
}

/// Where a band is fixed.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(tag = "at", rename_all = "snake_case", deny_unknown_fields)]
pub enum Mount {
    /// Under the feet.
    StoodOn,
    /// Under the bench or round the back, one side to each hand.
    UnderBack,
    /// To an anchor in the wall or door.
    Anchor {
        /// Heights that will do, as shares of stature.
        height: [f64; 2],
        /// Whether the client faces it; otherwise it lies behind.
        facing: bool,
    },
}

vocabulary!(
    /// What the hands of a push-up rest on.
    PushUpHands {
        Floor => "floor", "floor";
        Rings => "rings", "rings";
        Handles => "handles", "handles";
    }
);

vocabulary!(
    /// Which foot heights a push-up movement covers.
    RaisedFeet {
        None => "none", "feet on the floor";
        Only => "only", "feet raised";
        Also => "also", "feet on the floor or raised";
    }
);

/// How a movement is loaded, for the load model.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum RigModel {
    /// One joint turns; the hand moves on an arc.
    SingleJoint {
        /// The joint action.
        action: JointAction,
        /// World angle of the upper arm from straight down, degrees.
        #[serde(default)]
        upper_arm_deg: f64,
        /// Trunk lean, degrees.
        #[serde(default)]
        torso_deg: f64,
        /// Whether the floor stops the elbow.
        #[serde(default)]
        floor: bool,
        /// Where a band may be fixed.
        #[serde(default)]
        mount: Option<Mount>,
    },
    /// The hand presses or pulls along a line with a dumbbell, a band or both.
    Line {
        /// Angle of the path to the vertical, degrees; at 90 a dumbbell resists nothing.
        #[serde(default)]
        path_deg: f64,
        /// Hand at the start, as shares of stature from the shoulder (forward, up).
        #[serde(default)]
        start: [f64; 2],
        /// Hand at the end.
        #[serde(default)]
        end: [f64; 2],
        /// Where a band may be fixed.
        #[serde(default)]
        mount: Option<Mount>,
    },
    /// A push-up.
    PushUp {
        /// What the hands rest on.
        hands: PushUpHands,
        /// Whether easier levers (raised hands, knees) belong to it.
        #[serde(default)]
        easier: bool,
        /// Which foot heights belong to it.
        feet: RaisedFeet,
        /// Whether a band round the back or a backpack may be added.
        #[serde(default)]
        added: bool,
    },
    /// A row hanging below rings or a low bar.
    InvertedRow,
    /// A dip between bars.
    Dip,
    /// A pull-up or chin-up.
    ChinUp,
    /// A curl hanging in rings.
    RingCurl,
}

/// How a movement carries strength over to others of its pattern.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct CarryOver {
    /// Identifier of the strength pattern.
    pub pattern: String,
    /// Load for the same repetitions over the anchor's.
    pub ratio: f64,
    /// Log-SD of the ratio; 0 for the anchor.
    pub log_sd: f64,
    /// Turns an effective load into the pattern's unit: 0.5 where a total load is compared with a load per hand.
    #[serde(default = "unity")]
    pub basis: f64,
}

const fn unity() -> f64 {
    1.0
}

/// What the trainer says.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Cues {
    /// Getting into place.
    pub set_up: String,
    /// Doing it.
    #[serde(rename = "do")]
    pub action: String,
    /// Where it should be felt.
    pub feel: String,
    /// What to avoid.
    pub avoid: String,
}

/// One movement of the catalogue.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Movement {
    /// Identifier: lower case with underscores.
    pub id: String,
    /// Descriptive name.
    pub name: String,
    /// Other names it is searched by.
    #[serde(default)]
    pub synonyms: Vec<String>,
    /// Movement pattern.
    pub pattern: Pattern,
    /// Where the upper arm is.
    pub arm_position: ArmPosition,
    /// How the palm is turned, where it matters.
    #[serde(default)]
    pub grip: Option<Grip>,
    /// What may carry the load.
    pub implements: Vec<Implement>,
    /// How the hands share it.
    pub hands: Hands,
    /// Regions it trains directly, with weights 0 to 1.
    pub direct: BTreeMap<Region, f64>,
    /// Regions that assist, with weights 0 to 1.
    #[serde(default)]
    pub assisting: BTreeMap<Region, f64>,
    /// How far practitioners agree on the regions, 0 to 1.
    pub confidence: f64,
    /// Both views, where they do not.
    #[serde(default)]
    pub disputed: Option<String>,
    /// How it is loaded.
    pub rig: RigModel,
    /// All that must be met, each by one of several supports.
    #[serde(default)]
    pub needs: Vec<Vec<Support>>,
    /// How strength carries over.
    pub carry_over: CarryOver,
    /// Least experience.
    pub experience: Experience,
    /// How steady it is, 0 to 1: bench 1, rings lower.
    pub stability: f64,
    /// Time to set it up, s.
    pub set_up_s: u16,
    /// How limits bear on it.
    #[serde(default)]
    pub limits: Vec<LimitRule>,
    /// Codes of cautions.
    #[serde(default)]
    pub cautions: Vec<String>,
    /// An easier neighbour.
    #[serde(default)]
    pub easier: Option<String>,
    /// A harder neighbour.
    #[serde(default)]
    pub harder: Option<String>,
    /// Cues.
    pub cues: Cues,
}

impl Movement {
    /// Weight with which a region is trained: direct in full, assisting at half.
    pub fn region_weight(&self, region: Region) -> f64 {
        let assisting = 0.5 * self.assisting.get(&region).copied().unwrap_or(0.0);
        self.direct.get(&region).copied().unwrap_or(0.0).max(assisting)
    }

    /// Whether this implement may load it.
    pub fn uses(&self, implement: Implement) -> bool {
        self.implements.contains(&implement)
    }

    /// Whether it trains one side at a time.
    pub const fn unilateral(&self) -> bool {
        matches!(self.hands, Hands::One)
    }

    /// Log prior ratio to the anchor of its strength pattern, and its SD.
    pub fn log_ratio(&self) -> (f64, f64) {
        (self.carry_over.ratio.ln(), self.carry_over.log_sd)
    }
}

/// All movements with the knowledge that goes with them. Built and checked by the loader; read only afterwards.
#[derive(Debug, Clone, Default)]
pub struct Catalogue {
    /// Movements in the order of the files.
    pub movements: Vec<Movement>,
    /// Caution texts by code.
    pub cautions: BTreeMap<String, String>,
    /// First guesses by strength pattern.
    pub priors: BTreeMap<String, PatternPrior>,
    index: BTreeMap<String, usize>,
}

impl Catalogue {
    /// Indexes movements, cautions and priors.
    pub fn new(
        movements: Vec<Movement>,
        cautions: BTreeMap<String, String>,
        priors: BTreeMap<String, PatternPrior>,
    ) -> Self {
        let index = movements.iter().enumerate().map(|(i, m)| (m.id.clone(), i)).collect();
        Self { movements, cautions, priors, index }
    }

    /// The movement with this identifier.
    pub fn movement(&self, id: &str) -> Option<&Movement> {
        self.index.get(id).map(|i| &self.movements[*i])
    }
}
