//! Push-ups, pikes, rows and curls under straps, body extensions and planks, from the side.

use super::scene::{
    Arm, BandLine, Body, Figure, Measure, PATH, Prop, Quantity, Sight, Trunk, head_on, plus, share, toward,
};
use crate::mechanics::single_joint::TRUNK;
use crate::movement::RigModel;
use crate::posture::{HALF_DEPTH, Point, SHANK, THIGH};
use crate::rigging::{Loads, Rigged};

/// Toes or heels to shoulder over stature along a straight body.
pub(super) const SHOULDER: f64 = 0.82;
/// Straps drawn above rings, m.
pub(super) const STRAP: f64 = 0.9;

pub(super) fn draw(rigged: &Rigged<'_>, loads: &Loads) -> Option<Figure> {
    let leaner = Leaner { rigged, h: rigged.person.height_m.value() };
    let mut figure = match rigged.movement.rig {
        RigModel::PushUp { hands, girdle, hands_back, .. } => leaner.push_up(hands, girdle, hands_back / 1.75)?,
        RigModel::Pike { feet } => leaner.pike(feet)?,
        RigModel::InvertedRow => leaner.row()?,
        RigModel::BodyArc { .. } => leaner.arms_overhead()?,
        RigModel::RingCurl { .. } => leaner.ring_curl()?,
        RigModel::BodyExtension { .. } => leaner.extension()?,
        RigModel::Trunk { work } => leaner.plank(work)?,
        _ => return None,
    };
    leaner.loads(loads, &mut figure);
    Some(figure)
}

/// A straight body, or one on its knees, that leans on its hands or hangs from them.
pub(super) struct Leaner<'a> {
    pub(super) rigged: &'a Rigged<'a>,
    pub(super) h: f64,
}

impl Leaner<'_> {
    /// A straight body from its toes or heels to the shoulder.
    pub(super) fn straight(&self, foot: Point, shoulder: Point, arm: Arm, toes_down: bool) -> Body {
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

    pub(super) fn on_knees(&self, knee: Point, shoulder: Point, arm: Arm) -> Body {
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

    /// A height that can be set: of a movement that has none, nothing is measured.
    pub(super) fn measure_height(&self, quantity: Quantity, to: Point, figure: &mut Figure) {
        let adjustable = self.rigged.movement.adjustments().iter().any(|a| a.field == quantity.field());
        if !adjustable && to[1] < 0.02 {
            return;
        }
        figure.measures.push(Measure::new(quantity, to[1], [to[0], 0.0], to));
    }

    /// A pack on the back; a loop round it to the hands.
    pub(super) fn loads(&self, loads: &Loads, figure: &mut Figure) {
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

/// The two positions and the shoulder's way between them; `joint` of the arm is at work.
pub(super) fn moving(body: impl Fn(f64) -> Option<Body>, joint: usize) -> Option<Figure> {
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

pub(super) fn hang_rings(hand: Point, figure: &mut Figure) {
    figure.props.push(Prop::Strap([hand, [hand[0], hand[1] + STRAP]]));
    figure.props.push(Prop::Ring(hand));
}
