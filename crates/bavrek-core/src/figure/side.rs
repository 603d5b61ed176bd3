//! Movements loaded in the hand, from the side.

use super::props;
use super::scene::{
    Arm, BandLine, Body, Figure, Measure, PATH, Prop, Quantity, Sight, Trunk, anchor_measures, head_on, plus, reach,
    share,
};
use crate::anatomy::Surface;
use crate::mechanics::single_joint::{FOREARM, JointAction, PALM, TRUNK, UPPER_ARM};
use crate::movement::{Mount, RigModel, Stance};
use crate::posture::{HALF_DEPTH, Point, Posture, between, upward};
use crate::rigging::{Loaded, Loads, Rigged};
use crate::units::Degrees;

pub(super) fn draw(rigged: &Rigged<'_>, loads: &Loads) -> Option<Figure> {
    let loaded = rigged.loaded.as_ref()?;
    let scene = Scene::new(rigged, loaded);
    let h = scene.h;
    let (first, last) = (scene.arm(0.0), scene.arm(1.0));
    let path: Vec<Point> = (0..PATH).map(|i| scene.arm(share(i))[2]).collect();
    let body = |arm: Arm, shoulder: Point| Body {
        head: head_on(rigged.posture.hip, shoulder, h),
        trunk: Trunk::Side([rigged.posture.hip, shoulder]),
        arms: vec![arm],
        idle: props::holding_on(rigged, shoulder).into_iter().collect(),
        legs: rigged.posture.legs.to_vec(),
    };
    let mut figure = Figure {
        sight: Sight::Side,
        start: body(first, scene.shoulder(0.0)),
        end: body(last, scene.shoulder(1.0)),
        joint: scene.joint(&last),
        path,
        ribbon: Vec::new(),
        props: props::under(rigged, &last),
        bands: Vec::new(),
        measures: Vec::new(),
        floor: Some(0.0),
    };
    if loads.weight.value() > 0.0 {
        figure.props.extend(props::in_hands(rigged, &[last], Sight::Side));
    }
    scene.band(loads, &mut figure);
    scene.bench_angle(&mut figure);
    Some(figure)
}

struct Scene<'a> {
    rigged: &'a Rigged<'a>,
    loaded: &'a Loaded,
    h: f64,
    posture: Posture,
    origin: Point,
}

impl<'a> Scene<'a> {
    fn new(rigged: &'a Rigged<'a>, loaded: &'a Loaded) -> Self {
        let (posture, h) = (rigged.posture, rigged.person.height_m.value());
        let origin = match crate::rigging::origin(&rigged.movement.rig) {
            crate::rigging::Origin::Shoulder => posture.shoulder,
            crate::rigging::Origin::Hip => posture.hip,
            // The forearm rests on the thigh, the wrist just past the knee.
            crate::rigging::Origin::Wrist => plus(posture.legs[0][1], [0.02 * h, 0.035 * h]),
        };
        Self { rigged, loaded, h, posture, origin }
    }

    fn action(&self) -> Option<JointAction> {
        match self.loaded {
            Loaded::Joint(joint) => Some(joint.action),
            Loaded::Line { .. } => None,
        }
    }

    fn girdle(&self) -> bool {
        matches!(self.rigged.movement.rig, RigModel::Line { girdle: true, .. })
    }

    /// The shoulder: it moves where the trunk or the shoulder blade does.
    fn shoulder(&self, share: f64) -> Point {
        let pose = &self.rigged.movement.pose;
        if self.action() == Some(JointAction::Hinge) {
            return plus(self.origin, self.loaded.hand(share));
        }
        if self.girdle() {
            let (start, now) = (self.loaded.hand(0.0), self.loaded.hand(share));
            return plus(self.posture.shoulder, [now[0] - start[0], now[1] - start[1]]);
        }
        match pose.trunk_to_deg {
            Some(to) => {
                let lean = self.rigged.trunk.value() + (to - self.rigged.trunk.value()) * share;
                upward(self.posture.hip, TRUNK * self.h, lean)
            }
            None => self.posture.shoulder,
        }
    }

    fn arm(&self, share: f64) -> Arm {
        let shoulder = self.shoulder(share);
        let hand = plus(self.origin, self.loaded.hand(share));
        match self.loaded {
            Loaded::Joint(joint) => match joint.action {
                JointAction::Curl | JointAction::Extension => {
                    let alpha = joint.upper_arm.radians();
                    let upper = UPPER_ARM * self.h;
                    [shoulder, plus(shoulder, [upper * alpha.sin(), -upper * alpha.cos()]), hand]
                }
                JointAction::Hinge => {
                    // The weight is hugged to the chest, just below the shoulder that the model loads.
                    let held = plus(shoulder, self.along_trunk(share, -0.07, 0.07));
                    reach(shoulder, held, self.h, self.along_trunk(share, -1.0, 0.4))
                }
                JointAction::Wrist => self.resting_forearm(shoulder, hand),
                _ => reach(shoulder, hand, self.h, self.bend(false)),
            },
            Loaded::Line { .. } => reach(shoulder, hand, self.h, self.bend(true)),
        }
    }

    /// A step from the shoulder along the trunk at a share of the way, shares of stature towards head and front.
    fn along_trunk(&self, share: f64, up: f64, front: f64) -> Point {
        let (hip, shoulder) = (self.posture.hip, self.shoulder(share));
        let length = (shoulder[0] - hip[0]).hypot(shoulder[1] - hip[1]).max(1e-9);
        let cranial = [(shoulder[0] - hip[0]) / length * self.h, (shoulder[1] - hip[1]) / length * self.h];
        [up * cranial[0] + front * cranial[1], up * cranial[1] - front * cranial[0]]
    }

    /// The forearm rests on the thigh; the hand beyond the wrist is the palm, drawn as the forearm's end.
    fn resting_forearm(&self, shoulder: Point, hand: Point) -> Arm {
        let elbow = between(shoulder, self.origin, UPPER_ARM * self.h, (FOREARM - PALM) * self.h, [-1.0, 0.2]);
        [shoulder, elbow, hand]
    }

    /// The side to which the elbow bends.
    fn bend(&self, moving_elbow: bool) -> Point {
        let lean = self.rigged.trunk.radians();
        let (cranial, ventral) = ([lean.sin(), lean.cos()], [lean.cos(), -lean.sin()]);
        let mix = |up: f64, front: f64| [up * cranial[0] + front * ventral[0], up * cranial[1] + front * ventral[1]];
        if !moving_elbow {
            // Nearly straight arms: raises bend towards the floor, pullovers towards the feet.
            return mix(-1.0, 0.2);
        }
        let (start, end) = (self.loaded.hand(0.0), self.loaded.hand(1.0));
        let way = [end[0] - start[0], end[1] - start[1]];
        let along = (way[0] * cranial[0] + way[1] * cranial[1]) / way[0].hypot(way[1]).max(1e-9);
        match self.rigged.movement.rig {
            RigModel::Line { pull: true, .. } if along > 0.7 => mix(0.6, -1.0),
            _ if along.abs() > 0.7 => mix(-1.0, 0.35),
            _ => mix(-0.5, -1.0),
        }
    }

    fn joint(&self, arm: &Arm) -> Point {
        match self.action() {
            Some(JointAction::Curl | JointAction::Extension) => arm[1],
            Some(JointAction::Wrist | JointAction::Hinge) => self.origin,
            _ => arm[0],
        }
    }

    fn band(&self, loads: &Loads, figure: &mut Figure) {
        let Some(band) = loads.band() else { return };
        let mount = self.rigged.movement.rig.mount();
        let (start, end) = (figure.path[0], figure.path[PATH - 1]);
        if let Some(from) = self.rigged.band_anchor(band) {
            let from = self.fixed(from);
            let anchored = matches!(mount, Some(Mount::Anchor { .. }));
            figure.bands.push(BandLine { from, start, end, anchored });
            if anchored {
                let facing = from[0] > self.origin[0];
                figure.props.push(Prop::Wall(from[0], if facing { -1.0 } else { 1.0 }));
                let distance = (from[0] - self.origin[0]).abs();
                figure.measures.extend(anchor_measures(from, from[1], distance, self.origin[0]));
            }
        } else if mount == Some(Mount::UnderBack) {
            let lean = self.rigged.trunk.radians();
            let dorsal = [-lean.cos() * HALF_DEPTH * self.h, lean.sin() * HALF_DEPTH * self.h];
            figure.bands.push(BandLine { from: plus(self.posture.shoulder, dorsal), start, end, anchored: false });
        }
    }

    /// The band's fixed end in the room. A hinge hangs from the hands, a straight arm below the model's point.
    fn fixed(&self, from: Point) -> Point {
        let at = plus(self.origin, from);
        if crate::rigging::origin(&self.rigged.movement.rig) == crate::rigging::Origin::Wrist {
            // Under the foot below the knee.
            let ankle = self.posture.legs[0][2];
            return [ankle[0] + 0.03 * self.h, 0.01 * self.h];
        }
        at
    }

    fn bench_angle(&self, figure: &mut Figure) {
        let Some(Degrees(deg)) = self.rigged.setup.bench_deg.filter(|d| d.value().abs() > 1.0) else { return };
        if self.rigged.setup.surface != Some(Surface::Bench) || self.rigged.movement.pose.stance == Stance::Seated {
            return;
        }
        let pad = figure.props.iter().rev().find_map(|p| match p {
            Prop::Pad(line) if (line[0][1] - line[1][1]).abs() > 0.05 => Some(*line),
            _ => None,
        });
        if let Some([a, b]) = pad {
            let (low, high) = if a[1] < b[1] { (a, b) } else { (b, a) };
            figure.measures.push(Measure::new(Quantity::BenchAngle, deg, low, high));
        }
    }
}
