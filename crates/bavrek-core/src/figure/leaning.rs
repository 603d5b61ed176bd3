//! Push-ups, pikes, rows and curls under straps, body extensions and planks, from the side.

use super::{
    ARM, Arm, BandLine, Body, Figure, Measure, PATH, Prop, Quantity, Sight, Trunk, head_on, height_of, plus, reach,
    share, toward,
};
use crate::anatomy::{Implement, Surface};
use crate::mechanics::body_extension::BodyExtension;
use crate::mechanics::bridge::{Base, Rest};
use crate::mechanics::ring_curl::{ELBOW_RANGE, RingCurl};
use crate::mechanics::single_joint::{FOREARM, TRUNK, UPPER_ARM};
use crate::movement::{PikeFeet, PushUpHands, RigModel, TrunkWork};
use crate::posture::{HALF_DEPTH, Point, SHANK, THIGH, between};
use crate::rigging::{Loads, Rigged, trunk_postures};
use crate::units::{Degrees, Metres};

/// Toes or heels to shoulder over stature along a straight body.
const SHOULDER: f64 = 0.82;
/// Knees to shoulder over stature.
const KNEES: f64 = 0.535;
/// Toes to hands of a push-up over stature, as in the load model.
const TOES_TO_HANDS: f64 = 0.80;
/// Knees to hands over stature.
const KNEES_TO_HANDS: f64 = 0.50;
/// Height of the ankle above the toes' support in a push-up over stature.
const ON_TOES: f64 = 0.055;
/// Straps drawn above rings, m.
const STRAP: f64 = 0.9;

pub(super) fn draw(rigged: &Rigged<'_>, loads: &Loads) -> Option<Figure> {
    let leaner = Leaner { rigged, h: rigged.person.height_m.value() };
    let mut figure = match rigged.movement.rig {
        RigModel::PushUp { hands, .. } => leaner.push_up(hands)?,
        RigModel::Pike { feet } => leaner.pike(feet)?,
        RigModel::InvertedRow => leaner.row()?,
        RigModel::BodyArc { .. } => leaner.arms_overhead()?,
        RigModel::RingCurl => leaner.ring_curl()?,
        RigModel::BodyExtension { .. } => leaner.extension()?,
        RigModel::Trunk { work } => leaner.plank(work)?,
        _ => return None,
    };
    leaner.loads(loads, &mut figure);
    Some(figure)
}

struct Leaner<'a> {
    rigged: &'a Rigged<'a>,
    h: f64,
}

impl Leaner<'_> {
    /// A straight body from its toes or heels to the shoulder.
    fn straight(&self, foot: Point, shoulder: Point, arm: Arm, toes_down: bool) -> Body {
        let h = self.h;
        let along = [shoulder[0] - foot[0], shoulder[1] - foot[1]];
        let hip = toward(shoulder, [-along[0], -along[1]], TRUNK * h);
        let back = [foot[0] - hip[0], foot[1] - hip[1]];
        let knee = toward(hip, back, THIGH * h);
        let ankle = toward(hip, back, (THIGH + SHANK) * h);
        let toe = if toes_down { foot } else { plus(foot, [-along[1] * 0.08, along[0].abs() * 0.08]) };
        Body {
            head: head_on(hip, shoulder, h),
            trunk: Trunk::Side([hip, shoulder]),
            arms: vec![arm],
            idle: vec![],
            legs: vec![[hip, knee, ankle, toe]],
        }
    }

    fn on_knees(&self, knee: Point, shoulder: Point, arm: Arm) -> Body {
        let h = self.h;
        let hip = toward(shoulder, [knee[0] - shoulder[0], knee[1] - shoulder[1]], TRUNK * h);
        let ankle = plus(knee, [-SHANK * h, 0.02 * h]);
        Body {
            head: head_on(hip, shoulder, h),
            trunk: Trunk::Side([hip, shoulder]),
            arms: vec![arm],
            idle: vec![],
            legs: vec![[hip, knee, ankle, plus(ankle, [-0.05 * h, 0.02 * h])]],
        }
    }

    fn figure(&self, body: impl Fn(f64) -> Option<Body>, joint: usize) -> Option<Figure> {
        let shoulder = |b: &Body| b.arms[0][0];
        let path = (0..PATH).map(|i| body(share(i)).map(|b| shoulder(&b))).collect::<Option<Vec<_>>>()?;
        let (start, end) = (body(0.0)?, body(1.0)?);
        Some(Figure {
            sight: Sight::Side,
            joint: end.arms[0][joint],
            start,
            end,
            path,
            ribbon: Vec::new(),
            props: Vec::new(),
            bands: Vec::new(),
            measures: Vec::new(),
            floor: Some(0.0),
        })
    }

    fn push_up(&self, hands: PushUpHands) -> Option<Figure> {
        let (h, setup) = (self.h, &self.rigged.setup);
        let (hand_height, foot_height) = (height_of(setup.hands_height_m), height_of(setup.feet_height_m));
        let knees = setup.knees == Some(true);
        let foot = if knees { [0.0, 0.03 * h] } else { [0.0, foot_height] };
        let (radius, apart) = if knees { (KNEES, KNEES_TO_HANDS) } else { (SHOULDER, TOES_TO_HANDS) };
        // Only the blades move in a reach; deep hands let the chest sink below them.
        let girdle = self.rigged.movement.id.ends_with("_reach");
        let deep = matches!(hands, PushUpHands::Handles | PushUpHands::Boxes | PushUpHands::Rings);
        let top = if girdle { ARM * 1.01 } else { ARM * 0.99 };
        let bottom = if girdle { 0.94 * ARM } else { [0.085, 0.045][usize::from(deep)] };
        // Hands and feet stand as far apart as in the load model.
        let rise = ((hand_height - foot[1]) / (apart * h)).clamp(-0.99, 0.99).asin();
        let hand = [foot[0] + apart * h * rise.cos(), hand_height];
        let body = |s: f64| {
            let shoulder = between(foot, hand, radius * h, (bottom + (top - bottom) * s) * h, [0.0, 1.0]);
            let arm = reach(shoulder, hand, h, [-1.0, 0.6]);
            Some(if knees { self.on_knees(foot, shoulder, arm) } else { self.straight(foot, shoulder, arm, true) })
        };
        let mut figure = self.figure(body, if girdle { 0 } else { 1 })?;
        self.under_hands(hands, hand, &mut figure);
        if foot_height > 0.0 {
            figure.props.push(Prop::Block([foot[0] - 0.24 * h, 0.0], [foot[0] + 0.04 * h, foot_height]));
        }
        self.measure_height(Quantity::FootHeight, [foot[0] - 0.28 * h, foot_height], &mut figure);
        Some(figure)
    }

    fn under_hands(&self, hands: PushUpHands, hand: Point, figure: &mut Figure) {
        let h = self.h;
        match hands {
            PushUpHands::Rings => self.rings(hand, figure),
            PushUpHands::Handles => figure.props.push(Prop::Handle(hand)),
            PushUpHands::Boxes => {
                figure.props.push(Prop::Block([hand[0] - 0.09 * h, 0.0], [hand[0] + 0.09 * h, hand[1]]))
            }
            _ if hand[1] > 0.02 => {
                figure.props.push(Prop::Block([hand[0] - 0.04 * h, 0.0], [hand[0] + 0.24 * h, hand[1]]));
            }
            _ => {}
        }
        self.measure_height(Quantity::HandHeight, [hand[0] + 0.28 * h, hand[1]], figure);
    }

    fn rings(&self, hand: Point, figure: &mut Figure) {
        figure.props.push(Prop::Strap([hand, [hand[0], hand[1] + STRAP]]));
        figure.props.push(Prop::Ring(hand));
    }

    /// A height that can be set: of a movement that has none, nothing is measured.
    fn measure_height(&self, quantity: Quantity, to: Point, figure: &mut Figure) {
        let adjustable = self.rigged.movement.adjustments().iter().any(|a| a.field == quantity.field());
        if !adjustable && to[1] < 0.02 {
            return;
        }
        figure.measures.push(Measure { quantity, value: to[1], from: [to[0], 0.0], to });
    }

    /// Hips high: trunk and arms in one line, legs in another.
    fn pike(&self, feet: PikeFeet) -> Option<Figure> {
        let h = self.h;
        if feet == PikeFeet::Wall {
            return self.handstand();
        }
        let foot_height = if feet == PikeFeet::Raised { height_of(self.rigged.setup.feet_height_m) } else { 0.0 };
        let leg = (THIGH + SHANK + ON_TOES) * h;
        // The hands stand so that trunk and arms lean by the same angle as in an even inverted V.
        let foot = [0.0, foot_height];
        let spread = if feet == PikeFeet::Raised { 0.58 } else { 0.74 } * h;
        let hand = [spread, 0.0];
        let body = |s: f64| {
            let arm_reach = (0.22 + (0.985 * ARM - 0.22) * s) * h;
            let hip = between(foot, hand, leg * 0.99, TRUNK * h + arm_reach, [0.0, 1.0]);
            let shoulder = toward(hip, [hand[0] - hip[0], hand[1] - hip[1]], TRUNK * h);
            let knee = toward(foot, [hip[0] - foot[0], hip[1] - foot[1]], (SHANK + ON_TOES) * h);
            let ankle = toward(foot, [hip[0] - foot[0], hip[1] - foot[1]], ON_TOES * h);
            Some(Body {
                head: head_on(hip, shoulder, h * 0.8),
                trunk: Trunk::Side([hip, shoulder]),
                arms: vec![reach(shoulder, hand, h, [-1.0, 0.4])],
                idle: vec![],
                legs: vec![[hip, knee, ankle, foot]],
            })
        };
        let mut figure = self.figure(body, 1)?;
        if foot_height > 0.0 {
            figure.props.push(Prop::Block([foot[0] - 0.24 * h, 0.0], [foot[0] + 0.04 * h, foot_height]));
            self.measure_height(Quantity::FootHeight, [foot[0] - 0.28 * h, foot_height], &mut figure);
        }
        Some(figure)
    }

    fn handstand(&self) -> Option<Figure> {
        let h = self.h;
        let hand = [0.0, 0.0];
        let lean = 0.05_f64;
        let body = |s: f64| {
            let shoulder_height = (0.12 + (0.985 * ARM - 0.12) * s) * h;
            let at = |above: f64| [-(shoulder_height + above) * lean, shoulder_height + above];
            let (shoulder, hip) = (at(0.0), at(TRUNK * h));
            let (knee, ankle) = (at((TRUNK + THIGH) * h), at((TRUNK + THIGH + SHANK) * h));
            Some(Body {
                head: head_on(hip, shoulder, h * 0.8),
                trunk: Trunk::Side([hip, shoulder]),
                arms: vec![reach(shoulder, hand, h, [1.0, 0.2])],
                idle: vec![],
                legs: vec![[hip, knee, ankle, plus(ankle, [0.07 * h, 0.05 * h])]],
            })
        };
        let mut figure = self.figure(body, 1)?;
        let heel = figure.end.legs[0][2];
        figure.props.push(Prop::Wall(heel[0] - 0.03 * h, 1.0));
        Some(figure)
    }

    /// Hanging under a handle on the heels, the body straight.
    fn row(&self) -> Option<Figure> {
        let h = self.h;
        let setup = &self.rigged.setup;
        let angle = setup.body_angle_deg.unwrap_or(Degrees(45.0)).radians();
        let heel = [0.0, 0.0];
        // The head lies to the left of the heels, the front of the body up.
        let along = |b: f64| [-b.cos(), b.sin()];
        let ventral = |b: f64| [b.sin(), b.cos()];
        let low = [along(angle)[0] * SHOULDER * h, along(angle)[1] * SHOULDER * h];
        let hand = toward(low, ventral(angle), 0.985 * ARM * h);
        // Pulled up until the upper arms lie at the trunk: the shoulder comes to a hand's length of the handle.
        let near = 0.16 * h;
        let radius = SHOULDER * h;
        let reach_of = |s: f64| 0.985 * ARM * h + (near - 0.985 * ARM * h) * s;
        let base = hand[0].hypot(hand[1]);
        let body = |s: f64| {
            let chord = reach_of(s);
            let cosine = (radius * radius + base * base - chord * chord) / (2.0 * radius * base);
            let b = (hand[1].atan2(-hand[0]) - cosine.clamp(-1.0, 1.0).acos()).max(angle);
            let shoulder = [along(b)[0] * radius, along(b)[1] * radius];
            Some(self.straight(heel, shoulder, reach(shoulder, hand, h, [0.3, -1.0]), false))
        };
        let mut figure = self.figure(body, 1)?;
        let surface = setup.surface.unwrap_or(Surface::Rings);
        if self.rigged.movement.uses(Implement::Towel) {
            let anchor = [hand[0] + 0.45, (hand[1] + 0.15).max(0.9)];
            figure.props.push(Prop::Strap([hand, anchor]));
            figure.props.push(Prop::Wall(anchor[0], -1.0));
        } else {
            match surface {
                Surface::Bar => figure.props.push(Prop::Bar(hand)),
                Surface::Table => figure.props.push(Prop::Table([hand, [hand[0] - 0.55, hand[1]]])),
                _ => self.rings(hand, &mut figure),
            }
        }
        let corner = figure.start.legs[0][2];
        figure.measures.push(Measure {
            quantity: Quantity::BodyAngle,
            value: angle.to_degrees(),
            from: heel,
            to: [0.55 * corner[0], 0.55 * corner[1]],
        });
        if surface != Surface::Table && !self.rigged.movement.uses(Implement::Towel) {
            let left = figure.start.head[0] - 0.12 * h;
            self.measure_height(Quantity::HandHeight, [left, hand[1]], &mut figure);
        }
        Some(figure)
    }

    /// Hanging back from rings, the straight arms going from in front to overhead.
    fn arms_overhead(&self) -> Option<Figure> {
        let h = self.h;
        let b = self.rigged.setup.body_angle_deg.unwrap_or(Degrees(60.0)).radians();
        let shoulder = [-b.cos() * SHOULDER * h, b.sin() * SHOULDER * h];
        let body = |s: f64| {
            let raised = (90.0 + 75.0 * s).to_radians();
            // From straight out in front (90) towards the head (180).
            let along = [-b.cos(), b.sin()];
            let ventral = [b.sin(), b.cos()];
            let mix = |i: usize| raised.sin() * ventral[i] - raised.cos() * along[i];
            let hand = toward(shoulder, [mix(0), mix(1)], 0.985 * ARM * h);
            Some(self.straight([0.0, 0.0], shoulder, reach(shoulder, hand, h, [0.3, -1.0]), false))
        };
        let mut figure = self.figure(&body, 0)?;
        figure.path = (0..PATH).map(|i| body(share(i)).map(|b| b.arms[0][2])).collect::<Option<_>>()?;
        let (start, end) = (figure.path[0], figure.path[PATH - 1]);
        let anchor = [start[0].max(end[0]) + 0.25, start[1].max(end[1]) + STRAP];
        for hand in [start, end] {
            figure.props.push(Prop::Strap([hand, anchor]));
            figure.props.push(Prop::Ring(hand));
        }
        figure.measures.push(Measure {
            quantity: Quantity::BodyAngle,
            value: b.to_degrees(),
            from: [0.0, 0.0],
            to: [0.4 * shoulder[0], 0.4 * shoulder[1]],
        });
        Some(figure)
    }

    fn ring_curl(&self) -> Option<Figure> {
        let h = self.h;
        let setup = &self.rigged.setup;
        let curl = RingCurl {
            stature: self.rigged.person.height_m,
            body_mass: self.rigged.person.body_mass_kg,
            start_angle: setup.body_angle_deg.unwrap_or(Degrees(50.0)),
            strap: setup.strap_m.unwrap_or(Metres(1.2)),
        };
        let body = |s: f64| {
            let elbow = ELBOW_RANGE.0 + (ELBOW_RANGE.1 - ELBOW_RANGE.0) * s;
            let point = curl.point(Degrees(elbow)).ok()?;
            let (b, e) = (point.body.radians(), elbow.to_radians());
            let (u, n) = ([-b.cos(), b.sin()], [b.sin(), b.cos()]);
            let shoulder = [SHOULDER * h * u[0], SHOULDER * h * u[1]];
            let joint = toward(shoulder, n, UPPER_ARM * h);
            let fore = [e.cos() * n[0] + e.sin() * u[0], e.cos() * n[1] + e.sin() * u[1]];
            let hand = toward(joint, fore, FOREARM * h);
            Some(self.straight([0.0, 0.0], shoulder, [shoulder, joint, hand], false))
        };
        let mut figure = self.figure(&body, 1)?;
        // Here the hands travel: the ribbon lies on their way.
        figure.path = (0..PATH).map(|i| body(share(i)).map(|b| b.arms[0][2])).collect::<Option<_>>()?;
        let anchor = curl.anchor_point();
        let hand = figure.end.arms[0][2];
        figure.props.push(Prop::Strap([hand, anchor]));
        figure.props.push(Prop::Ring(hand));
        let corner = figure.start.legs[0][2];
        figure.measures.push(Measure {
            quantity: Quantity::BodyAngle,
            value: curl.start_angle.value(),
            from: [0.0, 0.0],
            to: [0.55 * corner[0], 0.55 * corner[1]],
        });
        Some(figure)
    }

    fn extension(&self) -> Option<Figure> {
        let setup = &self.rigged.setup;
        let posture = BodyExtension {
            stature: self.rigged.person.height_m,
            body_mass: self.rigged.person.body_mass_kg,
            hands: setup.hands_height_m.unwrap_or(Metres(0.6)),
        };
        let body = |s: f64| {
            let p = posture.point(BodyExtension::angle_at(s)).ok()?;
            Some(self.straight([0.0, 0.0], p.shoulder, [p.shoulder, p.elbow, p.hand], true))
        };
        let mut figure = self.figure(body, 1)?;
        let hand = figure.end.arms[0][2];
        match setup.surface {
            Some(Surface::Bar) => figure.props.push(Prop::Bar(hand)),
            Some(Surface::Rings) => self.rings(hand, &mut figure),
            _ if hand[1] > 0.02 => {
                figure.props.push(Prop::Block([hand[0] - 0.04 * self.h, 0.0], [hand[0] + 0.24 * self.h, hand[1]]));
            }
            _ => {}
        }
        if hand[1] > 0.02 {
            self.measure_height(Quantity::HandHeight, [hand[0] + 0.28 * self.h, hand[1]], &mut figure);
        }
        Some(figure)
    }

    fn plank(&self, work: TrunkWork) -> Option<Figure> {
        let h = self.h;
        let setup = &self.rigged.setup;
        let (bridge, [from, to]) = trunk_postures(self.rigged.person, work, setup);
        let feet = bridge.feet.value();
        let body = |s: f64| {
            let arms = Degrees(from.value() + (to.value() - from.value()) * s);
            let p = bridge.point(arms).ok()?;
            let arm = match bridge.rest {
                Rest::Hands => reach(p.shoulder, p.hand, h, [0.2, -1.0]),
                Rest::Forearms => [p.shoulder, p.hand, plus(p.hand, [(FOREARM + 0.02) * h, 0.0])],
            };
            Some(match bridge.base {
                Base::Knees => self.on_knees([0.0, 0.0], p.shoulder, arm),
                Base::Toes => self.straight([0.0, feet], p.shoulder, arm, true),
            })
        };
        let mut figure = self.figure(&body, 0)?;
        let hand = figure.start.arms[0][2];
        figure.path = (0..PATH).map(|i| body(share(i)).map(|b| b.arms[0][2])).collect::<Option<_>>()?;
        figure.joint = match figure.end.trunk {
            Trunk::Side([hip, _]) => hip,
            _ => figure.joint,
        };
        match work {
            TrunkWork::WheelKnees | TrunkWork::WheelToes => {
                figure.props.push(Prop::Wheel(figure.end.arms[0][2], bridge.hands.value()));
                figure.props.push(Prop::Wheel(hand, bridge.hands.value()));
            }
            TrunkWork::RingsKnees | TrunkWork::RingsToes => {
                let top = [0.5 * (hand[0] + figure.end.arms[0][2][0]), 1.6];
                for at in [hand, figure.end.arms[0][2]] {
                    figure.props.push(Prop::Strap([at, top]));
                    figure.props.push(Prop::Ring(at));
                }
            }
            _ => {}
        }
        if feet > 0.0 {
            figure.props.push(Prop::Block([-0.24 * h, 0.0], [0.04 * h, feet]));
        }
        self.measure_height(Quantity::FootHeight, [-0.28 * h, feet], &mut figure);
        Some(figure)
    }

    /// A pack on the back; a loop round it to the hands.
    fn loads(&self, loads: &Loads, figure: &mut Figure) {
        let Trunk::Side([hip, shoulder]) = figure.end.trunk else { return };
        let h = self.h;
        let along = [shoulder[0] - hip[0], shoulder[1] - hip[1]];
        let up = [-along[1], along[0]];
        let up = if up[1] < 0.0 { [-up[0], -up[1]] } else { up };
        let back = |at: Point, out: f64| toward(at, up, out * h);
        if loads.weight.value() > 0.0 {
            let between = [0.35 * hip[0] + 0.65 * shoulder[0], 0.35 * hip[1] + 0.65 * shoulder[1]];
            figure.props.push(Prop::Pack(back(between, HALF_DEPTH + 0.03)));
        }
        if loads.band().is_some() && matches!(self.rigged.movement.rig, RigModel::PushUp { .. }) {
            let hand = figure.end.arms[0][2];
            let line = BandLine { from: back(shoulder, HALF_DEPTH), start: hand, end: hand, anchored: false };
            figure.bands.push(line);
        }
    }
}
