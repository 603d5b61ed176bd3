//! What the body rests on, from the side.

use super::scene::{Arm, Prop, Sight, plus, reach};
use crate::anatomy::{Implement, Surface};
use crate::movement::{RigModel, Stance};
use crate::posture::{HALF_DEPTH, Point, SEAT};
use crate::rigging::Rigged;

/// Pad, seat or edge under the body.
pub(super) fn under(rigged: &Rigged<'_>, arm: &Arm) -> Vec<Prop> {
    let h = rigged.person.height_m.value();
    let (hip, shoulder) = (rigged.posture.hip, rigged.posture.shoulder);
    let surface = rigged.setup.surface;
    let raised = surface.is_some_and(|s| crate::rigging::usual_height(s).is_some());
    match rigged.movement.pose.stance {
        Stance::Supine | Stance::HipsRaised if raised => vec![pad_along(rigged, -1.0, 0.02, 0.16)],
        Stance::LyingBack => vec![pad_along(rigged, -1.0, 0.0, 0.16), seat(hip, h)],
        Stance::ChestSupported => vec![pad_along(rigged, 1.0, -0.06, -0.01)],
        Stance::Seated => {
            let mut props = vec![seat(hip, h)];
            if rigged.setup.bench_deg.is_some_and(|d| d.value() > 20.0) {
                props.push(pad_along(rigged, -1.0, 0.0, 0.02));
            }
            props
        }
        Stance::ShouldersOnEdge => {
            let top = shoulder[1] - HALF_DEPTH * h * 1.1;
            vec![Prop::Block([shoulder[0] - 0.24 * h, 0.0], [shoulder[0] + 0.05 * h, top])]
        }
        Stance::HandSupported => {
            let top = support_top(rigged);
            vec![Prop::Block([top[0] - 0.06 * h, 0.0], [top[0] + 0.14 * h, top[1]])]
        }
        Stance::KneeAndForearm => {
            let top = rigged.support.map_or(SEAT, crate::units::Metres::value);
            vec![Prop::Block([hip[0] - 0.30 * h, 0.0], [shoulder[0] + 0.22 * h, top])]
        }
        Stance::Standing if surface == Some(Surface::Bench) => vec![under_arm(arm, h)],
        _ => Vec::new(),
    }
}

/// A pad along the trunk, on its front (+1) or back (−1), longer than the trunk by shares of stature at either end.
fn pad_along(rigged: &Rigged<'_>, side: f64, below: f64, above: f64) -> Prop {
    let h = rigged.person.height_m.value();
    let (hip, shoulder) = (rigged.posture.hip, rigged.posture.shoulder);
    let length = (shoulder[0] - hip[0]).hypot(shoulder[1] - hip[1]);
    let along = [(shoulder[0] - hip[0]) / length, (shoulder[1] - hip[1]) / length];
    let off = [along[1] * side * HALF_DEPTH * 1.15 * h, -along[0] * side * HALF_DEPTH * 1.15 * h];
    let at = |from: Point, share: f64| plus([from[0] + along[0] * share * h, from[1] + along[1] * share * h], off);
    Prop::Pad([at(hip, -below), at(shoulder, above)])
}

fn seat(hip: Point, h: f64) -> Prop {
    let top = hip[1] - HALF_DEPTH * 0.9 * h;
    Prop::Block([hip[0] - 0.10 * h, 0.0], [hip[0] + 0.10 * h, top])
}

/// The pad of a curl with the arm supported in front.
fn under_arm(arm: &Arm, h: f64) -> Prop {
    let ([sx, sy], [ex, ey]) = (arm[0], arm[1]);
    let length = (ex - sx).hypot(ey - sy);
    let along = [(ex - sx) / length, (ey - sy) / length];
    let off = [along[1] * 0.035 * h, -along[0] * 0.035 * h];
    let at = |t: f64| plus([sx + along[0] * t * h, sy + along[1] * t * h], off);
    Prop::Pad([at(0.03), at(0.21)])
}

fn support_top(rigged: &Rigged<'_>) -> Point {
    let height = rigged.support.map_or(SEAT, crate::units::Metres::value);
    [rigged.posture.shoulder[0] + 0.05 * rigged.person.height_m.value(), height]
}

/// What the hands hold: a weight in each, or a bar in both, which is seen from its end where one looks from the side.
pub(super) fn in_hands(rigged: &Rigged<'_>, arms: &[Arm], sight: Sight) -> Vec<Prop> {
    let hand = |arm: &Arm| arm[2];
    match (rigged.movement.uses(Implement::Barbell), arms) {
        (true, [one, other]) if sight == Sight::Front => vec![Prop::Barbell([hand(one), hand(other)])],
        (true, _) => arms.first().map(|arm| Prop::BarEnd(hand(arm))).into_iter().collect(),
        (false, _) => arms.iter().map(|arm| Prop::Weight(hand(arm))).collect(),
    }
}

/// The arm that holds on to a support, or hangs beside one that works alone.
pub(super) fn holding_on(rigged: &Rigged<'_>, shoulder: Point) -> Option<Arm> {
    let h = rigged.person.height_m.value();
    let dorsal = [-1.0, 0.2];
    if rigged.movement.pose.stance == Stance::HandSupported {
        return Some(reach(shoulder, plus(support_top(rigged), [0.0, 0.02 * h]), h, dorsal));
    }
    if rigged.movement.pose.stance == Stance::KneeAndForearm {
        let elbow = [shoulder[0], shoulder[1] - crate::mechanics::single_joint::UPPER_ARM * h];
        return Some([shoulder, elbow, plus(elbow, [crate::mechanics::single_joint::FOREARM * h, 0.0])]);
    }
    if rigged.movement.pose.stance == Stance::Plank {
        return Some(reach(shoulder, [shoulder[0] + 0.02 * h, 0.05 * h], h, dorsal));
    }
    let alone = rigged.movement.unilateral() && matches!(rigged.movement.rig, RigModel::Line { .. });
    let standing = matches!(rigged.movement.pose.stance, Stance::Standing | Stance::Split | Stance::HalfKneeling);
    let upright = rigged.trunk.value().abs() < 30.0;
    (alone && standing && upright).then(|| reach(shoulder, plus(shoulder, [0.03 * h, -0.35 * h]), h, dorsal))
}
