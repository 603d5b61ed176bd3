//! Planks and roll-outs: the straight body as a beam between its knees or toes and its hands or forearms.
//!
//! Segment masses are those of de Leva (1996), the mean of men and women, rounded; the supports carry vertical forces
//! only. The waist meets `M = F·(x_hand − x_hip) − Σ m·g·(x − x_hip)` over what lies beyond it: positive, the trunk
//! would sag and the abdominals must work.

use super::MechanicsError;
use super::profile::Profile;
use super::single_joint::{FOREARM, TRUNK, UPPER_ARM};
use crate::units::{Degrees, GRAVITY, Kilograms, Metres};

/// Thigh over stature: knee to hip.
const THIGH: f64 = 0.245;
/// Toes to hip over stature.
const LEG: f64 = 0.53;
/// The head, as all masses here a share of body mass.
const HEAD: f64 = 0.068;
/// The trunk.
const TORSO: f64 = 0.430;
/// Both arms.
const ARMS: f64 = 0.098;
/// Both thighs.
const THIGHS: f64 = 0.290;
/// Both lower legs and feet.
const SHANKS: f64 = 0.114;
/// Log-SD of the load: nobody is a beam. Assumed.
pub const BRIDGE_SD: f64 = 0.15;

/// What the lower end rests on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Base {
    /// Knees; the lower legs rest on the floor.
    Knees,
    /// Toes.
    Toes,
}

/// What the upper end rests on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Rest {
    /// Hands, arms straight.
    Hands,
    /// Forearms.
    Forearms,
}

/// A straight body between two supports.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bridge {
    /// Stature.
    pub stature: Metres,
    /// Body mass.
    pub body_mass: Kilograms,
    /// Lower end.
    pub base: Base,
    /// Upper end.
    pub rest: Rest,
    /// Height of the upper support above the floor: 0 for the floor, a wheel's axle, a ring.
    pub hands: Metres,
    /// Height of the feet above the floor (toes only).
    pub feet: Metres,
}

/// State at one shoulder angle: metres from the lower support, x towards the head, y up.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BridgePoint {
    /// The hip.
    pub hip: [f64; 2],
    /// The shoulder.
    pub shoulder: [f64; 2],
    /// The hand, or the elbow of a forearm rest.
    pub hand: [f64; 2],
    /// Moment at the waist, N·m.
    pub moment: f64,
}

impl Bridge {
    fn arm(&self) -> f64 {
        match self.rest {
            Rest::Hands => UPPER_ARM + FOREARM,
            Rest::Forearms => UPPER_ARM,
        }
    }

    /// The state with the arms at an angle to the trunk: 90 square to it, 180 overhead. Refused where the posture
    /// does not close.
    pub fn point(&self, arms: Degrees) -> Result<BridgePoint, MechanicsError> {
        let h = self.stature.value();
        let below = match self.base {
            Base::Knees => THIGH,
            Base::Toes => LEG,
        };
        let (length, arm, psi) = (below + TRUNK, self.arm(), arms.radians());
        // Height of the hand: length·sin b − arm·sin(b + ψ) = rise, solved for the body angle b.
        let rise = (self.hands.value() - self.feet.value()) / h;
        let (a, c) = (length - arm * psi.cos(), arm * psi.sin());
        let sine = rise / a.hypot(c);
        if !sine.is_finite() {
            return Err(MechanicsError::NotFinite);
        }
        if sine.abs() > 1.0 {
            return Err(MechanicsError::NoRingPosture);
        }
        let b = sine.asin() + c.atan2(a);
        let along = |share: f64| [share * h * b.cos(), share * h * b.sin() + self.feet.value()];
        let shoulder = along(length);
        let hand = [
            shoulder[0] - arm * h * (b.cos() * psi.cos() - b.sin() * psi.sin()),
            shoulder[1] - arm * h * (b + psi).sin(),
        ];
        let hip = along(below);
        let moment = self.moment(below, hip[0], shoulder[0], hand[0]);
        if !moment.is_finite() {
            return Err(MechanicsError::NotFinite);
        }
        Ok(BridgePoint { hip, shoulder, hand, moment })
    }

    fn moment(&self, below: f64, hip: f64, shoulder: f64, hand: f64) -> f64 {
        let beyond = [
            (TORSO, hip + 0.55 * (shoulder - hip)),
            (HEAD, shoulder + 0.30 * (shoulder - hip)),
            (ARMS, 0.5 * (shoulder + hand)),
        ];
        let legs = match self.base {
            Base::Knees => vec![(THIGHS, 0.57 * hip)],
            Base::Toes => vec![(THIGHS, hip * (1.0 - 0.43 * THIGH / below)), (SHANKS, 0.25 * hip)],
        };
        let weight = self.body_mass.value() * GRAVITY;
        let about_base: f64 = beyond.iter().chain(&legs).map(|(m, x)| m * x).sum();
        let support = about_base / hand;
        weight * (support * (hand - hip) - beyond.iter().map(|(m, x)| m * (x - hip)).sum::<f64>())
    }

    /// Kilograms at a trunk's length from the waist that would load it alike.
    pub fn kilograms(&self, moment: f64) -> Kilograms {
        Kilograms(moment / (GRAVITY * TRUNK * self.stature.value()))
    }

    /// Moment at the waist between two arm angles, lengthened first, N·m.
    pub fn profile(&self, lengthened: Degrees, shortened: Degrees) -> Result<Profile, MechanicsError> {
        self.point(lengthened)?;
        self.point(shortened)?;
        let angle = |s: f64| Degrees(lengthened.value() + (shortened.value() - lengthened.value()) * s);
        Ok(Profile::sample(|s| self.point(angle(s)).map_or(0.0, |p| p.moment)))
    }
}
