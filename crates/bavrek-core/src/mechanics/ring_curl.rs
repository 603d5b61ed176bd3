//! The ring curl: the body pivots on its heels while the elbows bend, so the load depends on where the straps let it go.

use super::MechanicsError;
use super::profile::Profile;
use super::single_joint::{FOREARM, UPPER_ARM};
use crate::units::{Degrees, GRAVITY, Kilograms, Metres};

/// Shoulder height over stature along the body.
const SHOULDER: f64 = 0.82;
/// Mass centre over stature along the body.
const MASS_CENTRE: f64 = 0.585;
/// Brackets of the search for the body angle.
const BRACKETS: usize = 400;
/// Angles at which a profile is solved.
const NODES: usize = 25;
/// Lengthened and shortened elbow angle, degrees.
pub const ELBOW_RANGE: (f64, f64) = (10.0, 130.0);

/// A ring curl posture: heels fixed, upper arms square to the trunk.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RingCurl {
    /// Stature.
    pub stature: Metres,
    /// Body mass.
    pub body_mass: Kilograms,
    /// Angle of the body to the floor at the start.
    pub start_angle: Degrees,
    /// Strap length from the anchor to the ring.
    pub strap: Metres,
}

/// State of the movement at one elbow angle.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RingCurlPoint {
    /// Angle of the body to the floor.
    pub body: Degrees,
    /// Tension of both straps together, N.
    pub tension: f64,
    /// Moment about both elbows together, N·m.
    pub moment: f64,
}

impl RingCurl {
    fn frame(body: f64) -> ([f64; 2], [f64; 2]) {
        let (sin, cos) = body.sin_cos();
        ([-cos, sin], [sin, cos])
    }

    /// The hand along the body and square to it, metres from the heels.
    fn reach(&self, elbow: f64) -> (f64, f64) {
        let (h, (sin, cos)) = (self.stature.value(), elbow.sin_cos());
        (SHOULDER * h + FOREARM * h * sin, UPPER_ARM * h + FOREARM * h * cos)
    }

    fn hand(&self, body: f64, elbow: f64) -> [f64; 2] {
        let ((u, n), (along, out)) = (Self::frame(body), self.reach(elbow));
        [along * u[0] + out * n[0], along * u[1] + out * n[1]]
    }

    /// Hand at the start, and the direction of the strap there: the straps go on where the arm ends.
    fn start(&self) -> ([f64; 2], [f64; 2]) {
        let body = self.start_angle.radians();
        let (u, _) = Self::frame(body);
        let shoulder = [SHOULDER * self.stature.value() * u[0], SHOULDER * self.stature.value() * u[1]];
        let hand = self.hand(body, ELBOW_RANGE.0.to_radians());
        let arm = [hand[0] - shoulder[0], hand[1] - shoulder[1]];
        let length = arm[0].hypot(arm[1]);
        (hand, [arm[0] / length, arm[1] / length])
    }

    /// Where the straps are fixed, metres from the heels.
    pub fn anchor_point(&self) -> [f64; 2] {
        let (hand, strap) = self.start();
        [hand[0] + self.strap.value() * strap[0], hand[1] + self.strap.value() * strap[1]]
    }

    /// The same posture hung from an anchor this high above the floor; the straps take the length that needs.
    #[must_use]
    pub fn hung_from(self, anchor_height: Metres) -> Self {
        let (hand, strap) = self.start();
        Self { strap: Metres((anchor_height.value() - hand[1]) / strap[1]), ..self }
    }

    /// The body angle at which the strap is just tight: the root in the first of 400 brackets from `from` upwards that
    /// holds one.
    fn body_angle(&self, anchor: [f64; 2], elbow: f64, from: f64) -> Result<f64, MechanicsError> {
        let (along, out) = self.reach(elbow);
        let gap = |body: f64| {
            let (u, n) = Self::frame(body);
            let (dx, dy) = (anchor[0] - along * u[0] - out * n[0], anchor[1] - along * u[1] - out * n[1]);
            (dx * dx + dy * dy).sqrt() - self.strap.value()
        };
        let step = (std::f64::consts::PI - self.start_angle.radians()) / BRACKETS as f64;
        let (mut low, mut at_low) = (from, gap(from));
        if at_low.abs() < 1e-9 {
            return Ok(low);
        }
        while low < std::f64::consts::PI {
            let high = low + step;
            let at_high = gap(high);
            if at_low * at_high <= 0.0 {
                return Ok(root(gap, (low, at_low), (high, at_high)));
            }
            (low, at_low) = (high, at_high);
        }
        Err(MechanicsError::NoRingPosture)
    }

    /// The state at an elbow angle. Refused where the straps allow no posture or would be slack.
    pub fn point(&self, elbow: Degrees) -> Result<RingCurlPoint, MechanicsError> {
        self.point_from(elbow, self.start_angle.radians())
    }

    /// The same, searching body angles from `from` (rad) upwards.
    fn point_from(&self, elbow: Degrees, from: f64) -> Result<RingCurlPoint, MechanicsError> {
        let anchor = self.anchor_point();
        let theta = elbow.radians();
        let body = self.body_angle(anchor, theta, from)?;
        let (u, n) = Self::frame(body);
        let hand = self.hand(body, theta);
        let pull = [anchor[0] - hand[0], anchor[1] - hand[1]];
        let length = pull[0].hypot(pull[1]);
        let e = [pull[0] / length, pull[1] / length];
        let weight = self.body_mass.value() * GRAVITY;
        let tension = weight * MASS_CENTRE * self.stature.value() * body.cos() / -(hand[0] * e[1] - hand[1] * e[0]);
        if !tension.is_finite() || tension <= 0.0 {
            return Err(MechanicsError::SlackStrap);
        }
        let l = FOREARM * self.stature.value();
        let d = [l * (theta.cos() * u[0] - theta.sin() * n[0]), l * (theta.cos() * u[1] - theta.sin() * n[1])];
        let moment = -tension * (e[0] * d[0] + e[1] * d[1]);
        Ok(RingCurlPoint { body: Degrees(body.to_degrees()), tension, moment })
    }

    /// Moment about both elbows along the movement, N·m: solved at a few angles and interpolated, which is off by less
    /// than 0.3 %.
    pub fn profile(&self) -> Result<Profile, MechanicsError> {
        let mut nodes = [0.0; NODES];
        // The body only rises while the elbows bend, so each search begins where the last one ended.
        let mut from = self.start_angle.radians();
        for (i, node) in nodes.iter_mut().enumerate() {
            let share = i as f64 / (NODES - 1) as f64;
            let elbow = ELBOW_RANGE.0 + (ELBOW_RANGE.1 - ELBOW_RANGE.0) * share;
            let point = self.point_from(Degrees(elbow), from)?;
            from = (point.body.radians() - 1e-6).max(from);
            *node = point.moment;
        }
        Ok(Profile::sample(|s| {
            let place = s * (NODES - 1) as f64;
            let low = (place.floor() as usize).min(NODES - 2);
            nodes[low] + (nodes[low + 1] - nodes[low]) * (place - low as f64)
        }))
    }
}

/// The root between two places with values of unlike sign, by false position; an end that stays twice loses half its
/// value, so that the bracket closes from both sides.
fn root(f: impl Fn(f64) -> f64, mut low: (f64, f64), mut high: (f64, f64)) -> f64 {
    let mut guess = low.0;
    for _ in 0..40 {
        guess = (low.0 * high.1 - high.0 * low.1) / (high.1 - low.1);
        let value = f(guess);
        if value.abs() < 1e-12 {
            break;
        }
        if value * high.1 < 0.0 {
            low = high;
        } else {
            low.1 *= 0.5;
        }
        high = (guess, value);
    }
    guess
}
