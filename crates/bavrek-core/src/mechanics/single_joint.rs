//! Movements of one joint: curls, extensions, raises, flies and pullovers.
//!
//! The hand moves on an arc; by virtual work the moment that the muscle must supply is `M = −σ F·∂r/∂q`, with σ = +1
//! where shortening raises the joint angle q. Gravity and bands add.

use super::MechanicsError;
use super::band::{MAX_STRETCH, Rubber};
use super::profile::{Profile, SAMPLES, Thirds};
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
        Wrist => "wrist", "wrist flexion or extension";
        Rotation => "rotation", "rotation of the upper arm";
        Twist => "twist", "trunk rotation";
        SideBend => "side_bend", "side bend";
        Hinge => "hinge", "hip hinge";
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

/// Wrist to the middle of the grip over stature.
pub const PALM: f64 = 0.055;
/// Hip to shoulder over stature.
pub const TRUNK: f64 = 0.29;
/// Midline to shoulder over stature.
pub const HALF_SHOULDERS: f64 = 0.11;

/// A single-joint movement in its plane, the turning joint at the origin: the shoulder, for wrists the wrist, for side
/// bends and hinges the hip.
///
/// Side view: x forward, y up. Flies, rotations and twists: x lateral, y towards the front of the body. Side bends:
/// x towards the loaded side, y up.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SingleJoint {
    /// The joint action.
    pub action: JointAction,
    /// World angle of the upper arm from straight down, forward positive (curls and extensions). Raises: how far the
    /// plane is turned, 0 upright, 90 lying on the side.
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

/// Position of the hand and its derivative by the joint angle, m and m/rad.
pub type HandPoint = ([f64; 2], [f64; 2]);

/// Distance from the hand to a point, m, and the moment of one newton towards it against the rising joint angle, m.
fn pull_towards(point: [f64; 2], (r, d): &HandPoint) -> (f64, f64) {
    let (dx, dy) = (point[0] - r[0], point[1] - r[1]);
    // Not `hypot`: a ladder asks for thousands of these, and no length here is near the ends of the number range.
    let distance = (dx * dx + dy * dy).sqrt();
    (distance, -(dx * d[0] + dy * d[1]) / distance)
}

impl BandPull {
    /// Moment against the rising joint angle where the hand is, N·m.
    fn moment(&self, hand: &HandPoint) -> Result<f64, MechanicsError> {
        let (distance, arm) = pull_towards(self.anchor, hand);
        if distance < 0.05 {
            return Err(MechanicsError::AnchorAtHand);
        }
        Ok(arm * self.rubber.force(self.strands, Metres(distance), self.free)?.value())
    }
}

/// The way of the hand at the midpoints of a profile. A ladder asks it for dozens of bands.
#[derive(Debug, Clone)]
pub struct Track {
    sign: f64,
    points: [HandPoint; SAMPLES],
}

impl Track {
    /// Resistance of a band along the movement; refused where any point is.
    pub fn band_profile(&self, band: &BandPull) -> Result<Profile, MechanicsError> {
        let mut profile = Profile::ZERO;
        for (value, point) in profile.0.iter_mut().zip(&self.points) {
            *value = self.sign * band.moment(point)?;
        }
        Ok(profile)
    }

    /// Resistance of a cable of one newton to a pulley, m from the joint.
    pub fn pulled(&self, pulley: [f64; 2]) -> Profile {
        let mut profile = Profile::ZERO;
        for (value, point) in profile.0.iter_mut().zip(&self.points) {
            let (distance, arm) = pull_towards(pulley, point);
            *value = if distance > 0.0 { self.sign * arm } else { 0.0 };
        }
        profile
    }
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
            JointAction::Wrist => (-50.0, 50.0),
            JointAction::Rotation => (-35.0, 55.0),
            JointAction::Twist => (-45.0, 45.0),
            JointAction::SideBend => (25.0, -10.0),
            JointAction::Hinge => (75.0, 5.0),
        }
    }

    /// A movement for a person of this stature over the usual range of its action.
    pub fn new(action: JointAction, upper_arm: Degrees, torso: Degrees, stature: Metres, on_floor: bool) -> Self {
        let (from, to) = Self::usual_range(action, on_floor);
        let link = match action {
            JointAction::Curl | JointAction::Extension | JointAction::Rotation => FOREARM,
            JointAction::Raise | JointAction::Twist => RAISED_ARM,
            JointAction::Wrist => PALM,
            JointAction::SideBend | JointAction::Hinge => TRUNK,
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
    pub fn hand(&self, angle: f64) -> HandPoint {
        let (l, a) = (self.link.value(), angle.to_radians());
        match self.action {
            JointAction::Curl | JointAction::Extension => {
                let (u, alpha) = (self.upper_arm_length.value(), self.upper_arm.radians());
                let w = alpha + a;
                ([u * alpha.sin() + l * w.sin(), -u * alpha.cos() - l * w.cos()], [l * w.cos(), l * w.sin()])
            }
            JointAction::Raise | JointAction::RearFly => {
                let w = a + self.tilt();
                ([l * w.sin(), -l * w.cos()], [l * w.cos(), l * w.sin()])
            }
            JointAction::Fly | JointAction::Wrist | JointAction::Rotation | JointAction::Twist => {
                ([l * a.cos(), l * a.sin()], [-l * a.sin(), l * a.cos()])
            }
            JointAction::Hinge => ([l * a.sin(), l * a.cos()], [l * a.cos(), -l * a.sin()]),
            JointAction::SideBend => {
                // The weight hangs from the lower shoulder at arm's length.
                let (out, arm) = (l * HALF_SHOULDERS / TRUNK, l * (UPPER_ARM + FOREARM) / TRUNK);
                (
                    [l * a.sin() + out * a.cos(), l * a.cos() - out * a.sin() - arm],
                    [l * a.cos() - out * a.sin(), -l * a.sin() - out * a.cos()],
                )
            }
            JointAction::Pullover => {
                let w = a - self.torso.radians();
                ([l * w.sin(), -l * w.cos()], [l * w.cos(), l * w.sin()])
            }
        }
    }

    /// How far the hanging arm is turned from straight down where the trunk lies or leans in the plane of a raise.
    fn tilt(&self) -> f64 {
        match self.action {
            JointAction::Raise => self.upper_arm.radians(),
            _ => 0.0,
        }
    }

    /// Gravity's share in the plane of the movement: flies only feel it as far as the trunk lies back, rear flies as
    /// far as it leans forward.
    fn gravity_factor(&self) -> f64 {
        match self.action {
            JointAction::Fly | JointAction::Rotation | JointAction::Twist => -self.torso.radians().sin(),
            JointAction::RearFly => self.torso.radians().sin(),
            _ => 1.0,
        }
    }

    const fn sign(&self) -> f64 {
        match self.action {
            JointAction::Extension | JointAction::Pullover | JointAction::SideBend | JointAction::Hinge => -1.0,
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
        Ok(self.sign() * band.moment(&self.hand(angle))?)
    }

    /// Whether the movement lies in the plane across the body, where gravity only counts as far as the trunk lies down.
    pub const fn is_across(action: JointAction) -> bool {
        matches!(action, JointAction::Fly | JointAction::RearFly | JointAction::Rotation | JointAction::Twist)
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
        self.track().band_profile(band)
    }

    /// Where the hand goes, for any number of bands.
    pub fn track(&self) -> Track {
        let share = |i: usize| (i as f64 + 0.5) / SAMPLES as f64;
        Track { sign: self.sign(), points: std::array::from_fn(|i| self.hand(self.angle_at(share(i)))) }
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
            JointAction::Wrist => (-60.0, 60.0),
            JointAction::Rotation => (-45.0, 60.0),
            JointAction::Twist => (-45.0, 45.0),
            JointAction::SideBend => (25.0, -10.0),
            JointAction::Hinge => (80.0, 0.0),
        };
        Thirds::of_reference(self.from.value(), self.to.value(), lengthened, shortened)
    }

    /// The reference dumbbell movement of the action, over the same range: one kilogram of it defines one kilogram of
    /// effective load for bands.
    #[must_use]
    pub fn reference(&self) -> Self {
        let (upper_arm, torso) = match self.action {
            JointAction::Curl
            | JointAction::Raise
            | JointAction::Wrist
            | JointAction::SideBend
            | JointAction::Hinge => (0.0, 0.0),
            JointAction::Extension => (180.0, 0.0),
            JointAction::Fly | JointAction::Pullover | JointAction::Rotation | JointAction::Twist => (0.0, -90.0),
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
