//! How a movement is loaded, for the load model.

use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::mechanics::single_joint::JointAction;
use crate::units::Kilograms;

vocabulary!(
    /// Unit of an adjustable measure.
    AdjustmentUnit {
        Degrees => "deg", "degrees";
        Statures => "statures", "statures";
        Metres => "m", "metres";
    }
);

/// One adjustable measure of a set-up.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Adjustment {
    /// The field of a set-up that holds it, as forms and addresses name it.
    pub field: &'static str,
    /// What is adjusted.
    pub name: &'static str,
    /// Least sensible value.
    pub least: f64,
    /// Most.
    pub most: f64,
    /// Their unit.
    pub unit: AdjustmentUnit,
}

/// Where a band is fixed.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(tag = "at", rename_all = "snake_case", deny_unknown_fields)]
pub enum Mount {
    /// Under the feet.
    StoodOn,
    /// Under the bench or round the back, one side to each hand.
    UnderBack,
    /// From hand to hand.
    BetweenHands,
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
        Raised => "raised", "something raised";
        Rings => "rings", "rings";
        Handles => "handles", "handles";
        Boxes => "boxes", "two boxes";
        Wall => "wall", "the wall";
    }
);

vocabulary!(
    /// Which foot heights a push-up movement covers.
    RaisedFeet {
        None => "none", "feet on the floor";
        Only => "only", "feet raised";
        Also => "also", "feet on the floor or raised";
        Knees => "knees", "on the knees";
    }
);

vocabulary!(
    /// What the hands of a dip hold.
    DipOn {
        Bars => "bars", "parallel bars";
        Rings => "rings", "rings";
        Edge => "edge", "an edge behind";
        EdgeFeetRaised => "edge_feet_raised", "an edge behind, feet raised";
        Floor => "floor", "the floor behind";
    }
);

vocabulary!(
    /// Where the feet of a pike push-up are.
    PikeFeet {
        Floor => "floor", "on the floor";
        Raised => "raised", "raised";
        Wall => "wall", "up the wall";
    }
);

vocabulary!(
    /// What the hands of a bodyweight extension hold.
    ExtensionOn {
        Surface => "surface", "a bench or box edge";
        Bar => "bar", "a low bar";
        Rings => "rings", "rings";
        Floor => "floor", "the floor";
    }
);

vocabulary!(
    /// A plank or roll-out.
    TrunkWork {
        Plank => "plank", "plank on the forearms";
        LongPlank => "long_plank", "plank with the arms ahead";
        KneePlank => "knee_plank", "plank on forearms and knees";
        SidePlank => "side_plank", "plank on one forearm";
        WheelKnees => "wheel_knees", "roll-out from the knees";
        WheelToes => "wheel_toes", "roll-out from the toes";
        RingsKnees => "rings_knees", "roll-out in rings from the knees";
        RingsToes => "rings_toes", "roll-out in rings from the toes";
        WalkOut => "walk_out", "hands walked ahead";
        DeadBug => "dead_bug", "on the back, arm and leg lowered";
        CurlUp => "curl_up", "curl of the trunk on the back";
        ReverseCrunch => "reverse_crunch", "hips curled up on the back";
        HollowHold => "hollow_hold", "hollow hold on the back";
        BirdDog => "bird_dog", "on hands and knees, arm and leg raised";
        BackExtension => "back_extension", "trunk raised on the belly";
        KneeRaise => "knee_raise", "knees raised hanging";
        LegRaise => "leg_raise", "legs raised hanging";
    }
);

impl TrunkWork {
    /// What the waist meets where the body is no beam, as a share of body mass at a trunk's length. Moments of segment
    /// masses (de Leva 1996) in the hardest position, halved for the way there and back; assumed.
    pub const fn share_of_body(self) -> Option<f64> {
        match self {
            Self::DeadBug => Some(0.13),
            Self::CurlUp => Some(0.17),
            Self::ReverseCrunch => Some(0.21),
            Self::HollowHold => Some(0.28),
            Self::BirdDog => Some(0.10),
            Self::BackExtension => Some(0.22),
            Self::KneeRaise => Some(0.24),
            Self::LegRaise => Some(0.36),
            _ => None,
        }
    }

    /// Whether the body hangs from its hands.
    pub const fn hangs(self) -> bool {
        matches!(self, Self::KneeRaise | Self::LegRaise)
    }
}

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
        /// Joint angle lengthened and shortened, where it is not the usual range of the action.
        #[serde(default)]
        range: Option<[f64; 2]>,
        /// Whether the floor stops the elbow.
        #[serde(default)]
        floor: bool,
        /// Where a band may be fixed.
        #[serde(default)]
        mount: Option<Mount>,
    },
    /// The hand presses or pulls along a line with a dumbbell, a band or both. Gravity counts as far as the line rises.
    Line {
        /// Hand in the lengthened position, as shares of stature from the shoulder (forward, up).
        start: [f64; 2],
        /// Hand in the shortened position.
        end: [f64; 2],
        /// Whether the arm pulls; otherwise it presses.
        #[serde(default)]
        pull: bool,
        /// Whether the shoulder blade moves and the arm stays straight.
        #[serde(default)]
        girdle: bool,
        /// Where a press ends, m outside the shoulder at a stature of 1.75 m, where it is not the usual 0.10: 0 where
        /// the hands meet, 0.25 where they stay wide.
        #[serde(default)]
        hands_end: Option<f64>,
        /// Angle of the upper arm at the bottom of a press, degrees, where it is not the usual one of its support.
        #[serde(default)]
        bottom_deg: Option<f64>,
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
        /// Whether only the shoulder blades move.
        #[serde(default)]
        girdle: bool,
        /// Hands outside the shoulders, m at a stature of 1.75 m, where it is not the usual 0.15.
        #[serde(default)]
        hands_out: Option<f64>,
        /// Hands towards the feet from below the shoulders, m at a stature of 1.75 m.
        #[serde(default)]
        hands_back: f64,
    },
    /// A push-up with the hips high, or upside down at the wall.
    Pike {
        /// Where the feet are.
        feet: PikeFeet,
    },
    /// A row hanging below rings, a low bar, a table edge or a towel.
    InvertedRow,
    /// A dip.
    Dip {
        /// What the hands hold.
        on: DipOn,
        /// Whether only the shoulder blades move.
        #[serde(default)]
        girdle: bool,
    },
    /// A pull-up or chin-up.
    ChinUp {
        /// Whether only the shoulder blades move.
        #[serde(default)]
        girdle: bool,
    },
    /// A curl hanging in rings.
    RingCurl {
        /// Whether one arm does it, at one ring, and so carries what two would share.
        #[serde(default)]
        one_arm: bool,
    },
    /// An elbow extension with the body's weight.
    BodyExtension {
        /// What the hands hold.
        on: ExtensionOn,
    },
    /// An arc of the straight arms under the rings: a fly leaning on them, a rear fly hanging from them.
    BodyArc {
        /// Fly or rear fly.
        action: JointAction,
    },
    /// A plank or roll-out.
    Trunk {
        /// Which.
        work: TrunkWork,
    },
    /// The arm's own weight, or the other hand's resistance, on an arc about one joint.
    Limb {
        /// The joint action.
        action: JointAction,
        /// World angle of the upper arm from straight down, degrees.
        #[serde(default)]
        upper_arm_deg: f64,
        /// Joint angle lengthened and shortened, where it is not the usual range of the action.
        #[serde(default)]
        range: Option<[f64; 2]>,
        /// Load of each hand as a share of body mass: 0.02 for the arm itself, more where the other hand resists.
        share: f64,
        /// Whether the own other hand, a leg or a helper resists: as much as is needed, and nobody can state how much.
        #[serde(default)]
        resisted: bool,
    },
}

impl RigModel {
    /// What of the arm is lifted with the weight: a fiftieth of body mass in raises and flies, where a light weight is not
    /// all there is to lift; nothing elsewhere. Assumed.
    pub fn own_arm(&self, body_mass: Kilograms) -> Kilograms {
        match self {
            Self::SingleJoint { action: JointAction::Raise | JointAction::Fly | JointAction::RearFly, .. } => {
                body_mass * 0.02
            }
            _ => Kilograms(0.0),
        }
    }

    /// How wide the hands are, where that is a matter of the movement: outside the shoulders at its end or throughout, m.
    pub const fn hands_apart(&self) -> Option<f64> {
        match self {
            Self::Line { hands_end, .. } => *hands_end,
            Self::PushUp { hands_out, .. } => *hands_out,
            _ => None,
        }
    }

    /// Whether a hand or leg resists, so that the load meets whoever trains and is known to nobody.
    pub const fn is_resisted(&self) -> bool {
        matches!(self, Self::Limb { resisted: true, .. })
    }

    /// Whether the body itself is the load.
    pub const fn is_lever(&self) -> bool {
        !matches!(self, Self::SingleJoint { .. } | Self::Line { .. })
    }

    /// Whether a band takes weight off the body rather than add to it.
    pub const fn is_helped_by_bands(&self) -> bool {
        matches!(self, Self::ChinUp { .. } | Self::Dip { .. })
    }

    /// Where a band may be fixed.
    pub const fn mount(&self) -> Option<Mount> {
        match self {
            Self::SingleJoint { mount, .. } | Self::Line { mount, .. } => *mount,
            _ => None,
        }
    }

    /// The rig's own adjustable measures.
    pub(super) fn adjustments(&self) -> Vec<Adjustment> {
        let of = |field, name, least, most, unit| Adjustment { field, name, least, most, unit };
        let metres = AdjustmentUnit::Metres;
        let degrees = AdjustmentUnit::Degrees;
        let body_angle = |least, most| of("body_angle", "body angle", least, most, degrees);
        let hands = |name, least, most| of("hands_height", name, least, most, metres);
        let feet = |most| of("feet_height", "foot height", 0.1, most, metres);
        match self {
            Self::PushUp { hands: on, feet: raised, easier, .. } => {
                let mut found = Vec::new();
                if *easier || *on == PushUpHands::Raised {
                    found.push(hands("hand height", 0.0, 0.9));
                }
                match on {
                    PushUpHands::Rings => found.push(hands("ring height", 0.05, 0.9)),
                    PushUpHands::Boxes | PushUpHands::Handles => found.push(hands("hand height", 0.05, 0.6)),
                    _ => {}
                }
                if matches!(raised, RaisedFeet::Only | RaisedFeet::Also) {
                    found.push(feet(0.9));
                }
                found
            }
            Self::InvertedRow => vec![body_angle(5.0, 80.0)],
            Self::RingCurl { .. } => vec![body_angle(40.0, 80.0), of("strap", "strap length", 0.3, 3.5, metres)],
            Self::BodyArc { action: JointAction::Fly } => vec![hands("ring height", 0.1, 0.95)],
            Self::BodyArc { .. } => vec![body_angle(30.0, 85.0)],
            Self::BodyExtension { on: ExtensionOn::Floor } => Vec::new(),
            Self::BodyExtension { .. } => vec![hands("hand height", 0.2, 1.2)],
            Self::Pike { feet: PikeFeet::Raised } => vec![feet(0.95)],
            Self::Trunk { work: TrunkWork::Plank | TrunkWork::SidePlank } => vec![feet(0.61)],
            _ => self.mounted(),
        }
    }

    fn mounted(&self) -> Vec<Adjustment> {
        let metres = AdjustmentUnit::Metres;
        let of = |field, name, least, most, unit| Adjustment { field, name, least, most, unit };
        let nearer = of("grip_shorter", "grip nearer", 0.0, 0.6, metres);
        match self.mount() {
            Some(Mount::Anchor { height: [least, most], .. }) => vec![
                of("anchor_height", "anchor height", least, most, AdjustmentUnit::Statures),
                of("anchor_distance", "distance to the anchor", 0.3, 3.2, metres),
                nearer,
            ],
            Some(Mount::StoodOn) => vec![of("stance", "foot spacing", 0.05, 0.6, metres), nearer],
            _ => Vec::new(),
        }
    }
}
