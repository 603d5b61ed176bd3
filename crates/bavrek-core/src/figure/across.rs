//! Movements in the plane across the body: along the trunk where it lies or bends over, else from above.

use super::props;
use super::scene::{Arm, BandLine, Body, Figure, Measure, PATH, Prop, Quantity, Sight, Trunk, plus, reach, share};
use crate::anatomy::Surface;
use crate::mechanics::single_joint::{HALF_SHOULDERS, JointAction, SingleJoint, UPPER_ARM};
use crate::movement::{Hands, Mount, RigModel, Stance};
use crate::posture::{HALF_DEPTH, Point};
use crate::rigging::{Loaded, Loads, Rigged};
use crate::units::{Degrees, Metres};

/// Trunk lean from which gravity is in the picture, degrees.
const LYING: f64 = 30.0;
/// Length of straps drawn above a ring, m.
const STRAP: f64 = 1.0;

pub(super) fn draw(rigged: &Rigged<'_>, loads: &Loads) -> Option<Figure> {
    let Some(Loaded::Joint(joint)) = rigged.loaded else { return None };
    let lying = rigged.trunk.value().abs() >= LYING;
    let on_floor = rigged.setup.surface.is_none_or(|s| s == Surface::Floor) && lying;
    let plane = Plane { on_floor, ..Plane::of(&joint, rigged.person.height_m.value(), lying) };
    let mut figure = plane.figure(&joint, rigged.movement.hands);
    if lying {
        rest(rigged, joint.action, plane.h, &mut figure);
    }
    if loads.weight.value() > 0.0 {
        figure.props.extend(props::in_hands(rigged, &figure.end.arms, Sight::Front));
    }
    if let Some(from) = loads.band().and_then(|b| rigged.band_anchor(b)) {
        plane.band(rigged, from, &mut figure);
    }
    Some(figure)
}

/// A fly or rear fly under rings: the hands stay, the body sinks between them.
pub(super) fn under_rings(rigged: &Rigged<'_>) -> Option<Figure> {
    let RigModel::BodyArc { action } = rigged.movement.rig else { return None };
    let h = rigged.person.height_m.value();
    let lean = if action == JointAction::Fly { -90.0 } else { 90.0 };
    let joint =
        SingleJoint::new(action, Degrees(0.0), Degrees(lean), rigged.person.height_m, action == JointAction::Fly);
    let plane = Plane {
        h,
        origin: [HALF_SHOULDERS * h, 0.0],
        turn: [[1.0, 0.0], [0.0, -1.0]],
        lying: true,
        middle: false,
        on_floor: false,
    };
    let mut figure = plane.figure(&joint, rigged.movement.hands);
    let hands: Vec<Point> = figure.end.arms.iter().map(|a| a[2]).collect();
    for hand in hands {
        figure.props.push(Prop::Strap([hand, [hand[0], hand[1] + STRAP]]));
        figure.props.push(Prop::Ring(hand));
    }
    // The floor where the set-up puts the hands.
    let below = if action == JointAction::Fly {
        -(figure.path[0][1].min(figure.path[PATH - 1][1])).abs()
            - rigged.setup.hands_height_m.map_or(0.35, Metres::value)
    } else {
        -0.5 * h
    };
    figure.floor = Some(below);
    let lowest = figure.end.arms[0][2];
    if let Some(height) = rigged.setup.hands_height_m {
        figure.measures.push(Measure::new(
            Quantity::HandHeight,
            height.value(),
            [lowest[0] + 0.12, below],
            [lowest[0] + 0.12, lowest[1]],
        ));
    }
    Some(figure)
}

/// How the plane of the model lies on the page.
struct Plane {
    h: f64,
    /// The model's origin on the page.
    origin: Point,
    /// Page directions of the model's x and y.
    turn: [Point; 2],
    lying: bool,
    /// Whether one pair of hands turns about the body's middle.
    middle: bool,
    on_floor: bool,
}

impl Plane {
    fn of(joint: &SingleJoint, h: f64, lying: bool) -> Self {
        let shoulder = [HALF_SHOULDERS * h, 0.0];
        let upright = [[1.0, 0.0], [0.0, 1.0]];
        let (origin, turn, middle) = match joint.action {
            // Measured from arms in front: its y runs backwards.
            JointAction::RearFly if !lying => (shoulder, [[1.0, 0.0], [0.0, -1.0]], false),
            // x forwards, y outwards.
            JointAction::Rotation if lying => ([0.0, HALF_SHOULDERS * h], upright, false),
            JointAction::Rotation => (shoulder, [[0.0, 1.0], [1.0, 0.0]], false),
            JointAction::Twist => ([0.0, 0.0], [[0.0, 1.0], [1.0, 0.0]], true),
            _ => (shoulder, upright, false),
        };
        Self { h, origin, turn, lying, middle, on_floor: false }
    }

    fn page(&self, p: Point) -> Point {
        let [x, y] = self.turn;
        plus(self.origin, [p[0] * x[0] + p[1] * y[0], p[0] * x[1] + p[1] * y[1]])
    }

    fn hand(&self, joint: &SingleJoint, s: f64) -> Point {
        self.page(joint.hand(joint.angle_at(s)).0)
    }

    fn arm(&self, joint: &SingleJoint, s: f64) -> Arm {
        let hand = self.hand(joint, s);
        match joint.action {
            // The upper arm points at the viewer: shoulder and elbow fall together.
            JointAction::Rotation => [self.origin, self.origin, hand],
            JointAction::Twist => reach(self.turned_shoulder(joint, s, 1.0), hand, self.h, [1.0, -0.4]),
            _ => self.above_floor(reach(self.origin, hand, self.h, self.bend(joint))),
        }
    }

    /// A shoulder of a trunk that turns with the arms.
    fn turned_shoulder(&self, joint: &SingleJoint, s: f64, side: f64) -> Point {
        let (sin, cos) = joint.angle_at(s).to_radians().sin_cos();
        [side * HALF_SHOULDERS * self.h * cos, -side * HALF_SHOULDERS * self.h * sin]
    }

    /// The floor stops the elbow of a floor fly: it lies on it, the forearm rises from there.
    fn above_floor(&self, arm: Arm) -> Arm {
        let lowest = -0.6 * HALF_DEPTH * self.h;
        if !self.on_floor || arm[1][1] >= lowest {
            return arm;
        }
        let across = ((UPPER_ARM * self.h).powi(2) - lowest * lowest).sqrt();
        [arm[0], [arm[0][0] + across, lowest], arm[2]]
    }

    /// Elbows of a fly bend towards the back, those of a rear fly towards the front.
    fn bend(&self, joint: &SingleJoint) -> Point {
        let back = if joint.action == JointAction::RearFly { 1.0 } else { -1.0 };
        [0.5 * self.turn[1][0] * back, self.turn[1][1] * back]
    }

    fn figure(&self, joint: &SingleJoint, hands: Hands) -> Figure {
        let body = |s: f64| {
            let arm = self.arm(joint, s);
            let mirrored = arm.map(|p| [-p[0], p[1]]);
            let other = reach(self.turned_shoulder(joint, s, -1.0), arm[2], self.h, [-1.0, -0.4]);
            let mut arms = vec![arm];
            match hands {
                _ if self.middle => arms.push(other),
                Hands::Each => arms.push(mirrored),
                _ => {}
            }
            // The other arm of a one-sided movement rests on the body.
            let alone = arms.len() == 1 && self.origin[0] > 0.0;
            let idle = if alone { vec![self.resting_arm()] } else { vec![] };
            Body { head: [0.0, 0.0], trunk: self.section(joint), arms, idle, legs: vec![] }
        };
        let (start, end) = (body(0.0), body(1.0));
        Figure {
            sight: if self.lying { Sight::AlongTrunk } else { Sight::Above },
            joint: if self.middle { [0.0, 0.0] } else { end.arms[0][0] },
            start,
            end,
            path: (0..PATH).map(|i| self.hand(joint, share(i))).collect(),
            ribbon: Vec::new(),
            props: Vec::new(),
            bands: Vec::new(),
            measures: Vec::new(),
            floor: None,
        }
    }

    fn resting_arm(&self) -> Arm {
        let at = |x: f64, y: f64| [-x * self.h, y * self.h * self.turn[1][1].signum()];
        [at(HALF_SHOULDERS, 0.0), at(0.20, -0.02), at(0.10, 0.055)]
    }

    fn section(&self, joint: &SingleJoint) -> Trunk {
        let (wide, deep) = (HALF_SHOULDERS * self.h, HALF_DEPTH * self.h);
        // On the side, the shoulders stand one above the other.
        let on_side = self.lying && joint.action == JointAction::Rotation;
        Trunk::Section([0.0, 0.0], if on_side { [deep, wide] } else { [wide, deep] })
    }

    fn band(&self, rigged: &Rigged<'_>, from: Point, figure: &mut Figure) {
        let anchored = matches!(rigged.movement.rig.mount(), Some(Mount::Anchor { .. }));
        let at = self.page(from);
        let sides: &[f64] = if rigged.movement.hands == Hands::Each { &[1.0, -1.0] } else { &[1.0] };
        let (start, end) = (figure.path[0], figure.path[PATH - 1]);
        figure.bands.extend(sides.iter().map(|side| BandLine {
            from: [side * at[0], at[1]],
            start: [side * start[0], start[1]],
            end: [side * end[0], end[1]],
            anchored,
        }));
        let distance = from[1].abs();
        let foot = self.page([from[0], 0.0]);
        figure.measures.push(Measure::new(Quantity::AnchorDistance, distance, at, foot));
    }
}

/// Floor, bench or seat under a trunk that lies or bends over.
fn rest(rigged: &Rigged<'_>, action: JointAction, h: f64, figure: &mut Figure) {
    let height = rigged.posture.shoulder[1];
    let on = rigged.setup.surface;
    let half = 0.12 * h;
    match (rigged.movement.pose.stance, action) {
        (Stance::SideLying, _) => {
            figure.floor = Some(-HALF_SHOULDERS * h);
            if on == Some(Surface::Bench) {
                let top = -HALF_SHOULDERS * h;
                figure.props.push(Prop::Pad([[-half, top], [half, top]]));
                figure.floor = Some(top - 0.44);
            }
        }
        (Stance::ChestSupported, _) => {
            let top = -HALF_DEPTH * h * 1.15;
            figure.props.push(Prop::Pad([[-0.6 * half, top], [0.6 * half, top]]));
            figure.floor = Some(-height);
        }
        (_, JointAction::Fly) => {
            let top = -HALF_DEPTH * h;
            let raised = on.is_some_and(|s| crate::rigging::usual_height(s).is_some());
            if raised {
                figure.props.push(Prop::Pad([[-half, top], [half, top]]));
                figure.floor = Some(-height);
            } else {
                figure.floor = Some(top);
            }
        }
        _ => figure.floor = Some(-height),
    }
}
