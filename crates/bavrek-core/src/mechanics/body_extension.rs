//! The elbow extension with the body's own weight: hands fixed on a bar, a bench edge, rings or the floor, the body
//! straight and pivoting on its toes while the elbows bend.
//!
//! Two circles meet at the shoulder: one about the toes, one about the hands. The hand force is taken normal to the
//! line from toes to hands, as in the push-up law, and rings with hanging straps count like a support of their height.

use super::MechanicsError;
use super::profile::Profile;
use super::single_joint::{FOREARM, UPPER_ARM};
use crate::units::{Degrees, GRAVITY, Kilograms, Metres};

/// Toes to shoulder over stature.
const SHOULDER: f64 = 0.82;
/// Toes to mass centre over stature.
const MASS_CENTRE: f64 = 0.585;
/// Elbow flexion in the lengthened and in the shortened position, degrees.
pub const ELBOW_RANGE: (f64, f64) = (110.0, 10.0);
/// Log-SD of the load: posture and grip vary. Assumed.
pub const BODY_EXTENSION_SD: f64 = 0.15;

/// The posture: arms straight and square to the body at the top.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BodyExtension {
    /// Stature.
    pub stature: Metres,
    /// Body mass.
    pub body_mass: Kilograms,
    /// Height of the hands above the floor under the toes.
    pub hands: Metres,
}

/// State at one elbow angle: points in metres from the toes, x towards the hands, y up.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BodyExtensionPoint {
    /// Angle of the body to the floor.
    pub body: Degrees,
    /// The shoulder.
    pub shoulder: [f64; 2],
    /// The elbow.
    pub elbow: [f64; 2],
    /// The hands.
    pub hand: [f64; 2],
    /// Moment about both elbows together, N·m.
    pub moment: f64,
}

impl BodyExtension {
    /// Body angle at the top, arms square to the body: `R sin(b − φ) = h`.
    fn top(&self) -> Result<f64, MechanicsError> {
        let h = self.stature.value();
        let (along, out) = (SHOULDER * h, (UPPER_ARM + FOREARM) * h);
        let reach = along.hypot(out);
        let sine = self.hands.value() / reach;
        if !sine.is_finite() {
            return Err(MechanicsError::NotFinite);
        }
        if !(0.0..=0.85).contains(&sine) {
            return Err(MechanicsError::WallPushUp);
        }
        Ok(sine.asin() + out.atan2(along))
    }

    /// Where the hands stay.
    pub fn hand(&self) -> Result<[f64; 2], MechanicsError> {
        let (b, h) = (self.top()?, self.stature.value());
        let (along, out) = (SHOULDER * h, (UPPER_ARM + FOREARM) * h);
        Ok([along * b.cos() + out * b.sin(), along * b.sin() - out * b.cos()])
    }

    /// The state at an elbow flexion. Refused where the circles do not meet.
    pub fn point(&self, elbow: Degrees) -> Result<BodyExtensionPoint, MechanicsError> {
        let hand = self.hand()?;
        let h = self.stature.value();
        let (u, l, along) = (UPPER_ARM * h, FOREARM * h, SHOULDER * h);
        let chord = (u * u + l * l + 2.0 * u * l * elbow.radians().cos()).sqrt();
        let base = hand[0].hypot(hand[1]);
        // The body's angle above the line to the hands, from the triangle toes, shoulder, hands.
        let cosine = (along * along + base * base - chord * chord) / (2.0 * along * base);
        if !cosine.is_finite() {
            return Err(MechanicsError::NotFinite);
        }
        if cosine.abs() > 1.0 {
            return Err(MechanicsError::NoRingPosture);
        }
        let body = hand[1].atan2(hand[0]) + cosine.acos();
        let shoulder = [along * body.cos(), along * body.sin()];
        let joint = elbow_between(shoulder, hand, u, l);
        let force = self.body_mass.value() * GRAVITY * MASS_CENTRE * h * body.cos() / base;
        // Normal to the line from toes to hands, pushing the body away from the floor.
        let push = [-hand[1] / base * force, hand[0] / base * force];
        let arm = [hand[0] - joint[0], hand[1] - joint[1]];
        let moment = (arm[0] * push[1] - arm[1] * push[0]).abs();
        Ok(BodyExtensionPoint { body: Degrees(body.to_degrees()), shoulder, elbow: joint, hand, moment })
    }

    /// Elbow flexion at a share of the way from lengthened to shortened.
    pub fn angle_at(share: f64) -> Degrees {
        Degrees(ELBOW_RANGE.0 + (ELBOW_RANGE.1 - ELBOW_RANGE.0) * share)
    }

    /// Moment about both elbows along the movement, N·m.
    pub fn profile(&self) -> Result<Profile, MechanicsError> {
        self.point(Self::angle_at(0.0))?;
        Ok(Profile::sample(|s| self.point(Self::angle_at(s)).map_or(0.0, |p| p.moment)))
    }
}

/// The elbow between a shoulder and a hand, bent towards the head side of the line.
fn elbow_between(shoulder: [f64; 2], hand: [f64; 2], upper: f64, lower: f64) -> [f64; 2] {
    let (dx, dy) = (hand[0] - shoulder[0], hand[1] - shoulder[1]);
    let d = dx.hypot(dy);
    let along = (upper * upper - lower * lower + d * d) / (2.0 * d);
    let off = (upper * upper - along * along).max(0.0).sqrt();
    let (ex, ey) = (dx / d, dy / d);
    [shoulder[0] + along * ex - off * ey, shoulder[1] + along * ey + off * ex]
}
