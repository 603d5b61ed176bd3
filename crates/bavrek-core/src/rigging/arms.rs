//! How the arm goes through a press, a push-up or a row, and which joint its target is read off.

use crate::anatomy::Pattern;
use crate::mechanics::profile::{Profile, Thirds};
use crate::mechanics::two_joint::{ArmWay, TwoJoint, row};
use crate::movement::{Movement, PushUpHands, RigModel, Stance, SupportKind};
use crate::person::Person;
use crate::units::{Degrees, Metres};

/// Upper arm at the bottom of a press on a bench, degrees. Assumed, like all here.
const BENCH: f64 = -25.0;
/// Where the floor stops it.
const FLOOR: f64 = 0.0;
/// At the bottom of an overhead press, the weights at the ears.
const OVERHEAD: f64 = -30.0;
/// Hands at the end of a press, m outside the shoulder.
const HANDS_END: f64 = 0.10;
/// Hands of a push-up, m outside the shoulder.
const HANDS_OUT: f64 = 0.15;
/// Shoulder above the hands at the bottom of a push-up on the floor, m: with the hands near, usual and wide. The elbow folds
/// no further than about 150 degrees, so narrow hands stop higher.
const CHEST_DOWN: [f64; 3] = [0.16, 0.13, 0.12];
/// Hands so near or so wide, m outside the shoulder, count as narrow or wide.
const NARROW_OR_WIDE: [f64; 2] = [0.08, 0.18];
/// Shoulder above the hands on handles, boxes or rings: the chest sinks between them.
const CHEST_BETWEEN: f64 = 0.06;
/// The elbow's part of the work from which a push-up is one for the triceps.
const MOSTLY_ELBOW: f64 = 0.6;

/// Whether the floor stops the elbows of who lies on it.
fn on_floor(movement: &Movement) -> bool {
    movement.needs.iter().flatten().any(|s| s.kit == SupportKind::Floor)
        && matches!(movement.pose.stance, Stance::Supine | Stance::HipsRaised)
}

/// The way of the arm; none for movements about one joint, hangs and dips: their curve stays even, since the body's swing
/// under or over the hands is not modelled.
pub fn arm_way(movement: &Movement, trunk: Degrees) -> Option<ArmWay> {
    let pattern = movement.pattern;
    match movement.rig {
        RigModel::Line { pull: true, girdle: false, .. } if matches!(pattern, Pattern::WideRow | Pattern::CloseRow) => {
            // A band row from an anchor pulls square to an upright trunk; a dumbbell hangs, square to a level one.
            let anchored = movement.rig.mount().is_some_and(|m| !matches!(m, crate::movement::Mount::StoodOn));
            let lean = if anchored { 0.0 } else { (90.0 - trunk.value()).clamp(0.0, 60.0) };
            Some(row(Degrees(lean)))
        }
        RigModel::Line { pull: false, girdle: false, hands_end, bottom_deg, .. } => {
            let usual = match pattern {
                Pattern::OverheadPress => OVERHEAD,
                Pattern::HorizontalPress | Pattern::InclinePress | Pattern::DeclinePress | Pattern::ElbowExtension => {
                    if on_floor(movement) {
                        FLOOR
                    } else {
                        BENCH
                    }
                }
                _ => return None,
            };
            Some(ArmWay::Press { bottom_deg: bottom_deg.unwrap_or(usual), hands_end: hands_end.unwrap_or(HANDS_END) })
        }
        _ => body_way(&movement.rig),
    }
}

/// The same where the body itself is the load.
fn body_way(rig: &RigModel) -> Option<ArmWay> {
    match rig {
        RigModel::PushUp { girdle: false, hands, hands_out, .. } => {
            let between = matches!(hands, PushUpHands::Rings | PushUpHands::Handles | PushUpHands::Boxes);
            let hands_out = hands_out.unwrap_or(HANDS_OUT);
            let [narrow, wide] = NARROW_OR_WIDE;
            let bottom = match hands_out {
                _ if between => CHEST_BETWEEN,
                out if out < narrow => CHEST_DOWN[0],
                out if out < wide => CHEST_DOWN[1],
                _ => CHEST_DOWN[2],
            };
            Some(ArmWay::PushUp { hands_out, bottom })
        }
        RigModel::InvertedRow => Some(row(Degrees(0.0))),
        _ => None,
    }
}

/// Both joints of a movement along its way, for a person.
pub fn two_joint(movement: &Movement, person: &Person, trunk: Degrees) -> Option<TwoJoint> {
    arm_way(movement, trunk).map(|way| TwoJoint::of(way, person.height_m))
}

/// The way of an arm with the joint that the movement is for.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AimedArm {
    way: ArmWay,
    stature: Metres,
    /// The elbow, for an elbow extension; else the shoulder.
    elbow: bool,
}

impl AimedArm {
    pub(super) fn of(movement: &Movement, person: &Person, trunk: Degrees) -> Option<Self> {
        let way = arm_way(movement, trunk)?;
        Some(Self { way, stature: person.height_m, elbow: movement.pattern == Pattern::ElbowExtension })
    }

    /// Thirds of the joint that the movement is for.
    pub fn thirds(&self) -> Thirds {
        let both = TwoJoint::of(self.way, self.stature);
        both.elbow.filter(|_| self.elbow).unwrap_or(both.shoulder).thirds()
    }
}

/// Thirds where the body is the load: narrow hands make a push-up one for the triceps.
pub(crate) fn body_thirds(rig: &RigModel, person: &Person) -> Thirds {
    let Some(way) = body_way(rig) else { return Thirds::of_path() };
    let both = TwoJoint::of(way, person.height_m);
    let for_elbow = both.elbow_part(&Profile([1.0; 60])) > MOSTLY_ELBOW;
    both.elbow.filter(|_| for_elbow).unwrap_or(both.shoulder).thirds()
}
