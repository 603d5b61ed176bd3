//! Movements of one joint: curls, extensions, raises, flies and pullovers.
//!
//! The hand moves on an arc; by virtual work the moment that the muscle must supply is `M = −σ F·∂r/∂q`, with σ = +1
//! where shortening raises the joint angle q. Gravity and bands add.

use super::MechanicsError;
use super::band::{MAX_STRETCH, MIN_FREE, Rubber};
use super::profile::{Profile, Thirds};
use crate::anatomy::vocabulary;
use crate::units::{Degrees, GRAVITY, Kilograms, Metres};

vocabulary!(
    /// The joint action, which fixes the reference range of the working muscle.
    JointAction {
        Curl => "curl", "elbow flexion";
        Extension => "extension", "elbow extension";
        Raise => "raise", "raise";
        Fly => "fly", "fly";
        RearFly => "rear_fly", "rear fly";
        Pullover => "pullover", "pullover";
    }
);

/// Upper-arm length over stature.
pub const UPPER_ARM: f64 = 0.162;
/// Elbow to grip over stature.
pub const FOREARM: f64 = 0.195;
/// Shoulder to hand with bent arms over stature, for flies and pullovers.
pub const BENT_ARM: f64 = 0.32;
/// Shoulder to hand over stature, for raises.
pub const RAISED_ARM: f64 = 0.34;

/// A single-joint movement in its plane, the shoulder at the origin.
///
/// Side view: x forward, y up. Flies: x lateral, y towards the front of the body.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SingleJoint {
    /// The joint action.
    pub action: JointAction,
    /// World angle of the upper arm from straight down, forward positive (curls and extensions).
    pub upper_arm: Degrees,
    /// Trunk lean: 0 upright, positive forward, −90 supine.
    pub torso: Degrees,
    /// Joint angle in the lengthened position.
    pub from: Degrees,
    /// Joint angle in the shortened position.
    pub to: Degrees,
    /// Upper-arm length (curls and extensions).
    pub upper_arm_length: Metres,
    /// Length of the moving link: the forearm, or shoulder to hand.
    pub link: Metres,
}

/// A band acting on the hand of a single-joint movement.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BandPull {
    /// Force law of a strand.
    pub rubber: Rubber,
    /// Strands in parallel at the hand.
    pub strands: f64,
    /// Free length of a strand.
    pub free: Metres,
    /// Fixed end, in the plane of the movement, m from the shoulder.
    pub anchor: [f64; 2],
}

impl SingleJoint {
    /// The usual range of an action: lengthened and shortened joint angle.
    pub const fn usual_range(action: JointAction, on_floor: bool) -> (f64, f64) {
        match action {
            JointAction::Curl => (10.0, 130.0),
            JointAction::Extension => (130.0, 10.0),
            JointAction::Raise | JointAction::RearFly => (10.0, 90.0),
            JointAction::Fly if on_floor => (0.0, 80.0),
            JointAction::Fly => (-20.0, 80.0),
            JointAction::Pullover => (190.0, 90.0),
        }
    }

    /// A movement for a person of this stature over the usual range of its action.
    pub fn new(action: JointAction, upper_arm: Degrees, torso: Degrees, stature: Metres, on_floor: bool) -> Self {
        let (from, to) = Self::usual_range(action, on_floor);
        let link = match action {
            JointAction::Curl | JointAction::Extension => FOREARM,
            JointAction::Raise => RAISED_ARM,
            JointAction::Fly | JointAction::RearFly | JointAction::Pullover => BENT_ARM,
        };
        Self {
            action,
            upper_arm,
            torso,
            from: Degrees(from),
            to: Degrees(to),
            upper_arm_length: stature * UPPER_ARM,
            link: stature * link,
        }
    }

    /// Position of the hand and its derivative by the joint angle (m, m/rad) at a joint angle in degrees.
    pub fn hand(&self, angle: f64) -> ([f64; 2], [f64; 2]) {
        let (l, a) = (self.link.value(), angle.to_radians());
        match self.action {
            JointAction::Curl | JointAction::Extension => {
                let (u, alpha) = (self.upper_arm_length.value(), self.upper_arm.radians());
                let w = alpha + a;
                ([u * alpha.sin() + l * w.sin(), -u * alpha.cos() - l * w.cos()], [l * w.cos(), l * w.sin()])
            }
            JointAction::Raise | JointAction::RearFly => ([l * a.sin(), -l * a.cos()], [l * a.cos(), l * a.sin()]),
            JointAction::Fly => ([l * a.cos(), l * a.sin()], [-l * a.sin(), l * a.cos()]),
            JointAction::Pullover => {
                let w = a - self.torso.radians();
                ([l * w.sin(), -l * w.cos()], [l * w.cos(), l * w.sin()])
            }
        }
    }

    /// Gravity's share in the plane of the movement: flies only feel it as far as the trunk lies back, rear flies as
    /// far as it leans forward.
    fn gravity_factor(&self) -> f64 {
        match self.action {
            JointAction::Fly => -self.torso.radians().sin(),
            JointAction::RearFly => self.torso.radians().sin(),
            _ => 1.0,
        }
    }

    const fn sign(&self) -> f64 {
        match self.action {
            JointAction::Extension | JointAction::Pullover => -1.0,
            _ => 1.0,
        }
    }

    /// Moment of one held kilogram at a joint angle, N·m. Positive: the muscle must work.
    pub fn moment_of_kilogram(&self, angle: f64) -> f64 {
        let (_, d) = self.hand(angle);
        self.sign() * GRAVITY * self.gravity_factor() * d[1]
    }

    /// Moment of a band at a joint angle, N·m.
    pub fn moment_of_band(&self, band: &BandPull, angle: f64) -> Result<f64, MechanicsError> {
        let (r, d) = self.hand(angle);
        let (dx, dy) = (band.anchor[0] - r[0], band.anchor[1] - r[1]);
        let distance = dx.hypot(dy);
        if distance < 0.05 {
            return Err(MechanicsError::AnchorAtHand);
        }
        let force = band.rubber.force(band.strands, Metres(distance), band.free)?.value();
        Ok(-self.sign() * force * (dx * d[0] + dy * d[1]) / distance)
    }

    /// Joint angle at a share of the way from lengthened to shortened.
    pub fn angle_at(&self, share: f64) -> f64 {
        self.from.value() + (self.to.value() - self.from.value()) * share
    }

    /// Resistance of one held kilogram along the movement.
    pub fn kilogram_profile(&self) -> Profile {
        Profile::sample(|s| self.moment_of_kilogram(self.angle_at(s)))
    }

    /// Resistance of a band along the movement; refused where any point is.
    pub fn band_profile(&self, band: &BandPull) -> Result<Profile, MechanicsError> {
        if band.free.value() <= MIN_FREE {
            return Err(MechanicsError::TooShort(band.free.value()));
        }
        let mut refusal = None;
        let profile = Profile::sample(|s| {
            self.moment_of_band(band, self.angle_at(s)).unwrap_or_else(|e| {
                refusal = Some(e);
                0.0
            })
        });
        match refusal {
            Some(error) => Err(error),
            None => Ok(profile),
        }
    }

    /// Thirds of the working muscle's reference range (not of the movement's own range).
    pub fn thirds(&self) -> Thirds {
        let (lengthened, shortened) = match self.action {
            JointAction::Curl => (10.0, 130.0),
            JointAction::Extension => (130.0, 10.0),
            JointAction::Raise => (0.0, 120.0),
            JointAction::Fly => (-30.0, 90.0),
            JointAction::RearFly => (0.0, 110.0),
            JointAction::Pullover => (190.0, 90.0),
        };
        Thirds::of_reference(self.from.value(), self.to.value(), lengthened, shortened)
    }

    /// The reference dumbbell movement of the action, over the same range: one kilogram of it defines one kilogram of
    /// effective load for bands.
    #[must_use]
    pub fn reference(&self) -> Self {
        let (upper_arm, torso) = match self.action {
            JointAction::Curl | JointAction::Raise => (0.0, 0.0),
            JointAction::Extension => (180.0, 0.0),
            JointAction::Fly | JointAction::Pullover => (0.0, -90.0),
            JointAction::RearFly => (0.0, 90.0),
        };
        Self { upper_arm: Degrees(upper_arm), torso: Degrees(torso), ..*self }
    }

    /// Shoulder flexion against the trunk, degrees (curls and extensions).
    pub fn shoulder_flexion(&self) -> f64 {
        self.upper_arm.value() + self.torso.value()
    }

    /// Length of the two-joint muscle set by the shoulder: +1 lengthened, 0 neutral, −1 shortened. The moment curve
    /// does not show it, so substitution compares it beside the shares.
    pub fn stretch_tag(&self) -> i8 {
        let psi = self.shoulder_flexion();
        match self.action {
            JointAction::Curl if psi < -20.0 => 1,
            JointAction::Curl if psi > 45.0 => -1,
            JointAction::Extension if psi > 120.0 => 1,
            JointAction::Extension if psi < 30.0 => -1,
            _ => 0,
        }
    }

    /// Effective load of a band in kilograms of the reference dumbbell movement: `W / W(1 kg)`. A convention, log-SD
    /// 0.08.
    pub fn equal_load(&self, profile: &Profile) -> Result<Kilograms, MechanicsError> {
        let unit = self.reference().kilogram_profile().work();
        let load = profile.work() / unit;
        if load.is_finite() { Ok(Kilograms(load)) } else { Err(MechanicsError::NoLoad) }
    }

    /// Largest extension ratio of a band along the movement.
    pub fn largest_stretch(&self, band: &BandPull) -> f64 {
        (0..=40)
            .map(|i| {
                let (r, _) = self.hand(self.angle_at(f64::from(i) / 40.0));
                (band.anchor[0] - r[0]).hypot(band.anchor[1] - r[1]) / band.free.value()
            })
            .fold(0.0, f64::max)
            .min(MAX_STRETCH * 10.0)
    }
}
