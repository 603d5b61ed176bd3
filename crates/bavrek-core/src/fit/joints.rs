//! How a client's limits bear on a movement: ruled out, eased, to be minded, or not at all.

use crate::anatomy::{ArmPosition, Joint, Pattern};
use crate::movement::{LimitEffect, Movement, RigModel};
use crate::person::{Limit, Person, Severity};

/// Kindness to a joint below which nothing is said. One is untouched.
const UNTOUCHED: f64 = 1.0;
/// Kindness of a movement that a mild limit would rule out if it were worse. Assumed.
const NEARLY_OUT: f64 = 0.45;
/// Kindness of a movement that a mild limit eases. Assumed.
const MILD: f64 = 0.8;
/// Kindness of a movement that a moderate limit eases. Assumed.
const MODERATE: f64 = 0.4;
/// Kindness of a movement that asks for range a very stiff joint does not have: done within what is there. Assumed.
const LITTLE_RANGE: f64 = 0.25;
/// Kindness of a movement that loads a joint with a severe limit of a kind that it does not provoke. Assumed.
const MINDED: f64 = 0.85;
/// Kindness of a steep incline from the age on at which a flatter one is kinder. Assumed.
const STEEP_WITH_AGE: f64 = 0.8;
/// Kindness to a sore elbow of what is hardest at an end of its range, against what is hardest in the middle. Assumed.
const END_OF_ELBOW: f64 = 0.7;
/// Bench angle from which an incline counts as steep, degrees.
const STEEP: f64 = 40.0;

/// How one limit bears on a movement.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Bearing {
    /// It rules the movement out.
    Excludes,
    /// The movement is possible with care; less kind the smaller the factor, 0 to 1.
    Eases(f64),
    /// It does not touch the movement.
    Free,
}

/// How a limit bears on a movement. A moderate limit that a movement provokes rules it out, a severe one also where the
/// movement would otherwise be eased; a joint that is only short of range is trained within what it has. A severe limit of
/// a joint that carries load is never passed over.
pub fn bearing(movement: &Movement, limit: &Limit) -> Bearing {
    match (movement.rule(limit.joint, limit.what), limit.severity) {
        (Some(LimitEffect::Exclude), Severity::Mild) => Bearing::Eases(NEARLY_OUT),
        (Some(LimitEffect::Ease), Severity::Mild) => Bearing::Eases(MILD),
        (Some(LimitEffect::Ease), Severity::Moderate) => Bearing::Eases(MODERATE),
        (Some(LimitEffect::Ease), Severity::Severe) if limit.what.is_of_range() => Bearing::Eases(LITTLE_RANGE),
        (Some(LimitEffect::Exclude | LimitEffect::Ease), _) => Bearing::Excludes,
        (None, Severity::Severe) if movement.loads_joint(limit.joint) => Bearing::Eases(MINDED),
        (None, _) => Bearing::Free,
    }
}

/// Kindness of a movement to a client's joints, 0 to 1, at a bench angle where it has one.
pub fn kindness(movement: &Movement, person: &Person, bench_deg: Option<f64>) -> f64 {
    let of_limits: f64 = person
        .limits
        .iter()
        .map(|limit| match bearing(movement, limit) {
            Bearing::Excludes => 0.0,
            Bearing::Eases(factor) if limit.joint == Joint::Elbow && ends_hard_on_elbow(movement) => {
                factor * END_OF_ELBOW
            }
            Bearing::Eases(factor) => factor,
            Bearing::Free => UNTOUCHED,
        })
        .product();
    if is_steep_for(person, bench_deg) { of_limits * STEEP_WITH_AGE } else { of_limits }
}

/// Whether a curl or extension is hardest where the elbow is nearly straight or nearly folded: with the arms behind or
/// supported in front, overhead, or under the body's weight. A sore elbow takes the middle of its range best.
fn ends_hard_on_elbow(movement: &Movement) -> bool {
    let leaning = matches!(movement.rig, RigModel::RingCurl { .. } | RigModel::BodyExtension { .. });
    match movement.pattern {
        Pattern::ElbowFlexion => leaning || matches!(movement.arm_position, ArmPosition::Behind | ArmPosition::InFront),
        Pattern::ElbowExtension => leaning || movement.arm_position == ArmPosition::Overhead,
        _ => false,
    }
}

/// Whether a bench angle is steeper than a client's age makes wise.
fn is_steep_for(person: &Person, bench_deg: Option<f64>) -> bool {
    person.is_eased_by_age() && bench_deg.is_some_and(is_steep)
}

/// Whether a bench at so many degrees is steep for whoever age makes ease off.
pub(super) fn is_steep(deg: f64) -> bool {
    // Steeper than a press for the chest is a backrest, which spares the shoulder nothing.
    (STEEP..65.0).contains(&deg)
}
