//! One movement with one set-up: from posture and geometry to the resistance along the movement.
//!
//! The ladder asks this of every set-up that a room allows, the rig page of the one that is typed, and the drawing
//! shows it.

mod added;
mod arms;
mod assembly;
mod banding;
mod body;
mod held;
mod notice;
pub(crate) mod setup;

pub use added::helping_band;
pub(crate) use added::{band as added_band, weight as added_weight};
pub(crate) use arms::body_thirds;
pub use arms::{AimedArm, arm_way, two_joint};
pub use assembly::{Assembly, Loads, Rigged, usual_height};
pub(crate) use assembly::{EQUAL_WORK_SD, TRAPPED_SD, WEIGHED_SD, under_back};
pub use banding::{BandFix, BandInUse, Strands, USUAL_STANCE};
pub use body::{BodyLoad, body_load, handle_height, trunk_postures};
pub(crate) use body::{body_load_along, raised};
pub use held::{Loaded, Way, Weighing};
pub use notice::Notice;
pub use setup::Setup;

use crate::mechanics::single_joint::JointAction;
use crate::movement::{Movement, RigModel, Stance};
use crate::person::Person;
use crate::posture::{Point, Posture, SEAT};
use crate::units::{Degrees, Metres};

/// Height of the wrist above a band under the foot when the forearm rests on the thigh, over stature.
const WRIST_ABOVE_FOOT: f64 = 0.28;
/// Height of a band under the foot above the floor, over stature: the sole and the shoe.
const UNDER_FOOT: f64 = 0.02;
/// Half of a hip-wide stance over stature.
const HALF_STANCE: f64 = 0.08;
/// Lateral distance of an anchor from the shoulder in flies over stature.
const ANCHOR_SIDE: f64 = 0.17;

/// Trunk lean of a movement with a bench at an angle: a bench tips whoever lies on it.
pub fn trunk_lean(movement: &Movement, bench: Option<Degrees>) -> Degrees {
    let stated = movement.pose.trunk_deg;
    Degrees(match (movement.pose.stance, bench) {
        (Stance::ChestSupported, Some(deg)) => 90.0 - deg.value(),
        (Stance::LyingBack, Some(deg)) => deg.value() - 90.0,
        (_, Some(deg)) if stated <= -80.0 => deg.value() - 90.0,
        _ => stated,
    })
}

/// The posture at the start of a movement. `support` is the height of what it rests on; where it is not known, a usual
/// seat, or the floor.
pub fn posture(movement: &Movement, person: &Person, trunk: Degrees, support: Option<Metres>) -> Posture {
    let usual = match movement.pose.stance {
        Stance::Seated
        | Stance::LyingBack
        | Stance::ChestSupported
        | Stance::ShouldersOnEdge
        | Stance::KneeAndForearm
        | Stance::HandSupported => SEAT,
        _ => 0.0,
    };
    let support = support.unwrap_or(Metres(usual));
    Posture::of(&movement.pose, trunk, person.height_m, support)
}

/// The joint that is the origin of the load model's plane.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Origin {
    /// The shoulder.
    Shoulder,
    /// The hip.
    Hip,
    /// The wrist, the forearm resting on the thigh.
    Wrist,
}

/// The origin of a movement's plane.
pub const fn origin(rig: &RigModel) -> Origin {
    match rig {
        RigModel::SingleJoint { action: JointAction::SideBend | JointAction::Hinge, .. } => Origin::Hip,
        RigModel::SingleJoint { action: JointAction::Wrist, .. } => Origin::Wrist,
        _ => Origin::Shoulder,
    }
}

/// Half of the shoulders' width over stature.
const HALF_SHOULDERS: f64 = 0.11;
/// Soles of the feet ahead of the hip of who sits on the floor, over stature.
const SOLES: f64 = 0.49;

/// The middle of a band between the hands, from the shoulder, in the plane across the body.
pub(crate) fn midline(person: &Person) -> Point {
    let h = person.height_m.value();
    [-HALF_SHOULDERS * h, -0.26 * h]
}

/// Where a band under the feet is held, from the origin.
pub fn stood_on_anchor(movement: &Movement, person: &Person, posture: &Posture) -> Point {
    let h = person.height_m.value();
    let ground = UNDER_FOOT * h;
    match (origin(&movement.rig), &movement.rig) {
        (Origin::Wrist, _) => [0.0, -WRIST_ABOVE_FOOT * h],
        (Origin::Hip, RigModel::SingleJoint { action: JointAction::SideBend, .. }) => {
            [HALF_STANCE * h, ground - posture.hip[1]]
        }
        (Origin::Hip, _) => [-posture.hip[0], ground - posture.hip[1]],
        (Origin::Shoulder, RigModel::SingleJoint { action: JointAction::RearFly, .. }) => {
            [HALF_STANCE * h, ground - posture.shoulder[1]]
        }
        (Origin::Shoulder, _) if movement.pose.stance == Stance::SeatedFloor => {
            [SOLES * h - posture.shoulder[0], 0.06 * h - posture.shoulder[1]]
        }
        (Origin::Shoulder, RigModel::SingleJoint { action: JointAction::Raise, .. }) => {
            [0.0, ground - posture.shoulder[1]]
        }
        (Origin::Shoulder, _) => [-posture.shoulder[0], ground - posture.shoulder[1]],
    }
}

/// The side on which the anchor lies in the plane of the movement: +1 in front (x, or y across the body).
const fn anchor_sign(facing: bool) -> f64 {
    if facing { 1.0 } else { -1.0 }
}

/// Where an anchor at a height and a distance lies, from the origin, in the plane of the movement.
pub fn anchor_point(loaded: &Loaded, person: &Person, rise: f64, distance: f64, facing: bool) -> Point {
    let h = person.height_m.value();
    match loaded {
        Loaded::Joint(joint) => match joint.action {
            JointAction::Fly => [ANCHOR_SIDE * h, anchor_sign(facing) * distance],
            // A rear fly is measured from arms in front, so its front lies the other way.
            JointAction::RearFly => [ANCHOR_SIDE * h, -anchor_sign(facing) * distance],
            JointAction::Rotation | JointAction::Twist => [0.8 * joint.link.value(), -distance],
            _ => [anchor_sign(facing) * distance, rise],
        },
        Loaded::Line { .. } => [anchor_sign(facing) * distance, rise],
    }
}

/// The distance, to 5 cm, at which a band from an anchor has a length at the start of the movement. None where the
/// anchor is farther up or down than the band is long.
pub fn anchor_distance(loaded: &Loaded, person: &Person, rise: f64, length: f64, facing: bool) -> Option<f64> {
    let start = loaded.hand(0.0);
    let zero = anchor_point(loaded, person, rise, 0.0, facing);
    let one = anchor_point(loaded, person, rise, 1.0, facing);
    // The axis along which the distance runs, and how far the hand is off it.
    let axis = [one[0] - zero[0], one[1] - zero[1]];
    let to_hand = [start[0] - zero[0], start[1] - zero[1]];
    let along = to_hand[0] * axis[0] + to_hand[1] * axis[1];
    let off = to_hand[0] * axis[1] - to_hand[1] * axis[0];
    let reach = length * length - off * off;
    if reach <= 0.0 {
        return None;
    }
    let distance = ((along + reach.sqrt()) / 0.05).round() * 0.05;
    (distance > 0.0).then_some(distance)
}

/// Height of the origin above the floor.
pub fn origin_height(movement: &Movement, posture: &Posture) -> f64 {
    match origin(&movement.rig) {
        Origin::Hip => posture.hip[1],
        _ => posture.shoulder[1],
    }
}

/// Hip to shoulder, m.
pub(crate) fn trunk_length(person: &Person) -> f64 {
    crate::mechanics::single_joint::TRUNK * person.height_m.value()
}
