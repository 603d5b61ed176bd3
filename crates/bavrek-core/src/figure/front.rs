//! Movements loaded in the hand, from the front: side raises, side bends, curls with the arm out.

use super::props;
use super::scene::{ARM, Arm, BandLine, Body, Figure, PATH, Prop, Sight, Trunk, anchor_measures, plus, reach, share};
use crate::mechanics::single_joint::{HALF_SHOULDERS, JointAction, TRUNK, UPPER_ARM};
use crate::movement::{Hands, Mount, Stance};
use crate::posture::{ANKLE, HALF_DEPTH, Leg, Point, SHANK};
use crate::rigging::{Loaded, Loads, Rigged};

/// Half the width of the hips over stature.
const HALF_HIPS: f64 = 0.075;

/// Where the post stands that is leant away from, statures beside the feet.
const POST: f64 = -0.23;

pub(super) fn draw(rigged: &Rigged<'_>, loads: &Loads) -> Option<Figure> {
    let Some(Loaded::Joint(joint)) = rigged.loaded else { return None };
    let h = rigged.person.height_m.value();
    let bends = joint.action == JointAction::SideBend;
    // Leaning away from a post the whole body tips about its feet, as far as the plane of the raise is turned back.
    let tipped = if joint.action == JointAction::Raise { (-joint.upper_arm.value()).max(0.0) } else { 0.0 };
    let (sin, cos) = tipped.to_radians().sin_cos();
    let middle = [rigged.posture.hip[1] * sin, rigged.posture.hip[1] * cos];
    let lean = |s: f64| if bends { joint.angle_at(s) } else { tipped };
    let origin = if bends { middle } else { shoulders(middle, h, tipped)[1] };
    let hand = |s: f64| plus(origin, joint.hand(joint.angle_at(s)).0);
    let arm = |s: f64| -> Arm {
        let shoulder = shoulders(middle, h, lean(s))[1];
        if joint.action == JointAction::Curl {
            let (upper, alpha) = (UPPER_ARM * h, joint.upper_arm.radians());
            [shoulder, plus(shoulder, [upper * alpha.sin(), -upper * alpha.cos()]), hand(s)]
        } else {
            reach(shoulder, hand(s), h, [0.3, -1.0])
        }
    };
    let body = |s: f64| {
        let [left, right] = shoulders(middle, h, lean(s));
        let top = [0.5 * (left[0] + right[0]), 0.5 * (left[1] + right[1])];
        let away = [top[0] - middle[0], top[1] - middle[1]];
        let both = rigged.movement.hands == Hands::Each;
        let mirrored = |a: Arm| a.map(|p| [-p[0], p[1]]);
        let hanging = if tipped > 0.0 {
            reach(left, [POST * h, left[1]], h, [0.0, -1.0])
        } else {
            reach(left, plus(left, [-0.02 * h, -0.99 * ARM * h]), h, [-1.0, 0.0])
        };
        Body {
            head: super::scene::toward(top, away, super::scene::NECK * h),
            trunk: Trunk::Front([
                [middle[0] - HALF_HIPS * h, middle[1]],
                [middle[0] + HALF_HIPS * h, middle[1]],
                right,
                left,
            ]),
            arms: if both { vec![arm(s), mirrored(arm(s))] } else { vec![arm(s)] },
            idle: if both { vec![] } else { vec![hanging] },
            legs: legs(rigged, middle, h),
        }
    };
    let (start, end) = (body(0.0), body(1.0));
    let mut figure = Figure {
        sight: Sight::Front,
        joint: match joint.action {
            JointAction::SideBend => middle,
            JointAction::Curl => end.arms[0][1],
            _ => end.arms[0][0],
        },
        start,
        end,
        path: (0..PATH).map(|i| hand(share(i))).collect(),
        ribbon: Vec::new(),
        props: seat(rigged, middle, h),
        bands: Vec::new(),
        measures: Vec::new(),
        floor: Some(0.0),
    };
    if tipped > 0.0 {
        figure.props.push(Prop::Block([(POST - 0.02) * h, 0.0], [(POST + 0.02) * h, 1.05 * h]));
    }
    if loads.weight.value() > 0.0 {
        figure.props.extend(props::in_hands(rigged, &figure.end.arms, Sight::Front));
    }
    if let Some(from) = loads.band().and_then(|b| rigged.band_anchor(b)) {
        fix_band(&mut figure, rigged, origin, plus(origin, from));
    }
    Some(figure)
}

fn fix_band(figure: &mut Figure, rigged: &Rigged<'_>, origin: Point, from: Point) {
    let anchored = matches!(rigged.movement.rig.mount(), Some(Mount::Anchor { .. }));
    let sides: &[f64] = if rigged.movement.hands == Hands::Each && !anchored { &[1.0, -1.0] } else { &[1.0] };
    let (start, end) = (figure.path[0], figure.path[PATH - 1]);
    figure.bands.extend(sides.iter().map(|side| BandLine {
        from: [side * from[0], from[1]],
        start: [side * start[0], start[1]],
        end: [side * end[0], end[1]],
        anchored,
    }));
    if anchored {
        figure.props.push(Prop::Wall(from[0], if from[0] > origin[0] { -1.0 } else { 1.0 }));
        figure.measures.extend(anchor_measures(from, from[1], (from[0] - origin[0]).abs(), origin[0]));
    }
}

/// Left and right shoulder of a trunk that leans to the right.
fn shoulders(middle: Point, h: f64, lean: f64) -> [Point; 2] {
    let (sin, cos) = lean.to_radians().sin_cos();
    [-1.0, 1.0].map(|side| {
        let out = side * HALF_SHOULDERS * h;
        [middle[0] + TRUNK * h * sin + out * cos, middle[1] + TRUNK * h * cos - out * sin]
    })
}

fn legs(rigged: &Rigged<'_>, middle: Point, h: f64) -> Vec<Leg> {
    [1.0, -1.0]
        .map(|side| {
            let hip = [middle[0] + side * HALF_HIPS * h * 0.8, middle[1]];
            let ankle = [side * 0.085 * h, ANKLE * h];
            let toe = [side * 0.115 * h, 0.0];
            let knee = if rigged.movement.pose.stance == Stance::Seated {
                // The thighs point at the viewer.
                [side * 0.085 * h, ankle[1] + SHANK * h]
            } else {
                [0.5 * (hip[0] + ankle[0]) + side * 0.005 * h, 0.5 * (hip[1] + ankle[1])]
            };
            [hip, knee, ankle, toe]
        })
        .to_vec()
}

fn seat(rigged: &Rigged<'_>, middle: Point, h: f64) -> Vec<Prop> {
    if rigged.movement.pose.stance != Stance::Seated {
        return Vec::new();
    }
    let top = middle[1] - HALF_DEPTH * 0.9 * h;
    vec![Prop::Block([-0.14 * h, 0.0], [0.14 * h, top])]
}
