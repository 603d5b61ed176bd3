//! Movements of a gym with machines: nobody here owns what they need, but a slot can be measured against them.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::anatomy::{ArmPosition, Grip, Pattern, Region, vocabulary};
use crate::mechanics::profile::{Profile, Thirds};
use crate::mechanics::single_joint::{JointAction, SingleJoint};
use crate::mechanics::two_joint::{ArmWay, TwoJoint, row};
use crate::person::Person;
use crate::units::Degrees;

vocabulary!(
    /// What a gym movement is done on.
    Station {
        Barbell => "barbell", "barbell";
        Cable => "cable", "cable station";
        Machine => "machine", "machine";
    }
);

/// Where the resistance of a gym movement comes from.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Resistance {
    /// Even along the way: a straight pull or press, or a cam that follows the muscle.
    Even,
    /// On an arc about one joint.
    Arc(Arc),
}

/// The arc of the hand about one joint.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Arc {
    /// What the joint does.
    pub action: JointAction,
    /// World angle of the upper arm from straight down, degrees, forward positive.
    #[serde(default)]
    pub upper_arm_deg: f64,
    /// Trunk lean, degrees: 0 upright, forward positive, −90 on the back.
    #[serde(default)]
    pub trunk_deg: f64,
    /// Joint angles, lengthened and shortened, where they are not the usual ones, degrees.
    #[serde(default)]
    pub range: Option<[f64; 2]>,
    /// Where the pulley of a cable of constant tension is in the plane of the movement, statures from the joint; none
    /// where a weight is held.
    #[serde(default)]
    pub pulley: Option<[f64; 2]>,
}

impl Arc {
    fn joint(&self, person: &Person) -> SingleJoint {
        let joint =
            SingleJoint::new(self.action, Degrees(self.upper_arm_deg), Degrees(self.trunk_deg), person.height_m, false);
        match self.range {
            Some([from, to]) => SingleJoint { from: Degrees(from), to: Degrees(to), ..joint },
            None => joint,
        }
    }
}

/// A movement of a gym, as far as a slot can be measured against it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct GymMovement {
    /// Identifier: lower case with underscores.
    pub id: String,
    /// Descriptive name.
    pub name: String,
    /// Other names it is searched by.
    #[serde(default)]
    pub synonyms: Vec<String>,
    /// What it is done on.
    pub station: Station,
    /// Movement pattern.
    pub pattern: Pattern,
    /// Where the upper arm is.
    pub arm_position: ArmPosition,
    /// How the palm is turned, where it matters.
    #[serde(default)]
    pub grip: Option<Grip>,
    /// Whether it is done one side at a time.
    #[serde(default)]
    pub one_side: bool,
    /// Regions it trains directly, with weights 0 to 1.
    pub direct: BTreeMap<Region, f64>,
    /// Regions that assist, with weights 0 to 1.
    #[serde(default)]
    pub assisting: BTreeMap<Region, f64>,
    /// Where its resistance comes from.
    pub resistance: Resistance,
}

impl GymMovement {
    /// Resistance along the movement, in units of its own weight or tension, and the thirds of the muscle's range.
    pub fn resistance(&self, person: &Person) -> (Profile, Thirds) {
        match self.resistance {
            Resistance::Even => (Profile([1.0; 60]), self.even_thirds(person)),
            Resistance::Arc(arc) => {
                let joint = arc.joint(person);
                let profile = match arc.pulley {
                    Some(pulley) => joint.track().pulled(pulley.map(|share| share * person.height_m.value())),
                    None => joint.kilogram_profile(),
                };
                (profile, joint.thirds())
            }
        }
    }

    /// Thirds of what an even force is for: a press or a row turns both joints, so its moments are not even.
    fn even_thirds(&self, person: &Person) -> Thirds {
        let (way, elbow) = match self.pattern {
            Pattern::HorizontalPress | Pattern::InclinePress | Pattern::DeclinePress | Pattern::OverheadPress => {
                (ArmWay::Press { bottom_deg: -25.0, hands_end: 0.10 }, false)
            }
            Pattern::ElbowExtension => (ArmWay::Press { bottom_deg: -25.0, hands_end: 0.0 }, true),
            Pattern::WideRow | Pattern::CloseRow => (row(Degrees(0.0)), false),
            _ => return Thirds::of_path(),
        };
        let both = TwoJoint::of(way, person.height_m);
        both.elbow.filter(|_| elbow).unwrap_or(both.shoulder).thirds()
    }

    /// Length of the two-joint muscle set by the shoulder, as [`SingleJoint::stretch_tag`]; none off an arc.
    pub fn stretch_tag(&self, person: &Person) -> Option<i8> {
        match self.resistance {
            Resistance::Even => None,
            Resistance::Arc(arc) => Some(arc.joint(person).stretch_tag()),
        }
    }
}
