//! Rows, curls and raises hanging from a handle on the heels.

use super::leaning::{Leaner, SHOULDER, STRAP, hang_rings, moving};
use super::scene::{ARM, Figure, Measure, PATH, Prop, Quantity, reach, share, toward};
use crate::anatomy::{Implement, Surface};
use crate::mechanics::ring_curl::{ELBOW_RANGE, RingCurl};
use crate::mechanics::single_joint::{FOREARM, UPPER_ARM};
use crate::units::{Degrees, Metres};

impl Leaner<'_> {
    /// Hanging under a handle on the heels, the body straight.
    pub(super) fn row(&self) -> Option<Figure> {
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
        let mut figure = moving(body, 1)?;
        let surface = setup.surface.unwrap_or(Surface::Rings);
        if self.rigged.movement.uses(Implement::Towel) {
            let anchor = [hand[0] + 0.45, (hand[1] + 0.15).max(0.9)];
            figure.props.push(Prop::Strap([hand, anchor]));
            figure.props.push(Prop::Wall(anchor[0], -1.0));
        } else {
            match surface {
                Surface::Bar => figure.props.push(Prop::Bar(hand)),
                Surface::Table => figure.props.push(Prop::Table([hand, [hand[0] - 0.55, hand[1]]])),
                _ => hang_rings(hand, &mut figure),
            }
        }
        let hip = figure.start.legs[0][0];
        figure.measures.push(Measure::new(Quantity::BodyAngle, angle.to_degrees(), heel, [0.8 * hip[0], 0.8 * hip[1]]));
        if surface != Surface::Table && !self.rigged.movement.uses(Implement::Towel) {
            let left = figure.start.head[0] - 0.12 * h;
            self.measure_height(Quantity::HandHeight, [left, hand[1]], &mut figure);
        }
        Some(figure)
    }

    /// Hanging back from rings, the straight arms going from in front to overhead.
    pub(super) fn arms_overhead(&self) -> Option<Figure> {
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
        let mut figure = moving(body, 0)?;
        figure.path = (0..PATH).map(|i| body(share(i)).map(|b| b.arms[0][2])).collect::<Option<_>>()?;
        let (start, end) = (figure.path[0], figure.path[PATH - 1]);
        let anchor = [start[0].max(end[0]) + 0.25, start[1].max(end[1]) + STRAP];
        for hand in [start, end] {
            figure.props.push(Prop::Strap([hand, anchor]));
            figure.props.push(Prop::Ring(hand));
        }
        figure.measures.push(Measure::new(
            Quantity::BodyAngle,
            b.to_degrees(),
            [0.0, 0.0],
            [0.4 * shoulder[0], 0.4 * shoulder[1]],
        ));
        Some(figure)
    }

    pub(super) fn ring_curl(&self) -> Option<Figure> {
        let h = self.h;
        let setup = &self.rigged.setup;
        let curl = RingCurl {
            stature: self.rigged.person.height_m,
            body_mass: self.rigged.person.body_mass_kg,
            start_angle: setup.body_angle_deg.unwrap_or(Degrees(60.0)),
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
        let mut figure = moving(body, 1)?;
        // Here the hands travel: the ribbon lies on their way.
        figure.path = (0..PATH).map(|i| body(share(i)).map(|b| b.arms[0][2])).collect::<Option<_>>()?;
        let anchor = curl.anchor_point();
        let hand = figure.end.arms[0][2];
        figure.props.push(Prop::Strap([hand, anchor]));
        figure.props.push(Prop::Ring(hand));
        let hip = figure.start.legs[0][0];
        figure.measures.push(Measure::new(
            Quantity::BodyAngle,
            curl.start_angle.value(),
            [0.0, 0.0],
            [0.8 * hip[0], 0.8 * hip[1]],
        ));
        Some(figure)
    }
}
