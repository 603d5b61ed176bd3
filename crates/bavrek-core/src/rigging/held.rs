//! Movements loaded in the hand: the resistance of one held kilogram, and what a band adds.

use super::arms::AimedArm;
use crate::mechanics::MechanicsError;
use crate::mechanics::band::Rubber;
use crate::mechanics::path::AnchoredPath;
use crate::mechanics::profile::{Profile, Thirds};
use crate::mechanics::single_joint::{BandPull, SingleJoint, Track};
use crate::movement::{Movement, RigModel};
use crate::person::Person;
use crate::posture::Point;
use crate::units::{Degrees, GRAVITY, Metres};

/// Resistance of one kilogram below which gravity counts as not loading the target, as a share of full resistance.
const NO_LOAD: f64 = 0.2;

/// The path of the hand for a person, as the load model sees it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Loaded {
    /// On an arc about one joint.
    Joint(SingleJoint),
    /// On a straight line, metres from the shoulder.
    Line {
        /// Lengthened position.
        start: Point,
        /// Shortened position.
        end: Point,
        /// How the arm goes along it, and the joint the movement is for.
        arm: Option<AimedArm>,
    },
}

/// The way of the hand, worked out once for all bands that may pull at it.
#[derive(Debug, Clone)]
pub enum Way {
    /// On an arc about one joint.
    Arc(Box<Track>),
    /// On a straight line, metres from the shoulder.
    Line {
        /// Lengthened position.
        start: Point,
        /// Shortened position.
        end: Point,
    },
}

impl Way {
    /// Resistance of a band from a fixed end; refused where it is anywhere.
    pub fn band(&self, rubber: Rubber, strands: f64, free: Metres, anchor: Point) -> Result<Profile, MechanicsError> {
        match self {
            Self::Arc(track) => track.band_profile(&BandPull { rubber, strands, free, anchor }),
            Self::Line { start, end } => {
                AnchoredPath { rubber, strands, free, anchor, start: *start, end: *end }.profile()
            }
        }
    }
}

/// The resistance of a held kilogram, and of one in the reference movement.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Weighing {
    /// Of one kilogram held in the movement.
    pub kilogram: Profile,
    full: Profile,
    line: bool,
}

impl Weighing {
    /// The kilogram that defines the effective load: the held one where dumbbells load an arc, else that of the
    /// reference movement.
    pub const fn unit(&self, weighed: bool) -> Profile {
        if weighed && !self.line { self.kilogram } else { self.full }
    }

    /// Whether gravity loads the target at all.
    pub fn loads(&self) -> bool {
        self.kilogram.work() >= NO_LOAD * self.full.work()
    }
}

impl Loaded {
    /// The path of a movement at a trunk lean; `on_floor` where the floor stops the elbows. None for movements loaded
    /// by the body itself.
    pub fn of(movement: &Movement, person: &Person, trunk: Degrees, on_floor: bool) -> Option<Self> {
        let stature = person.height_m;
        match movement.rig {
            RigModel::SingleJoint { action, upper_arm_deg, range, floor, .. } => {
                let joint = SingleJoint::new(action, Degrees(upper_arm_deg), trunk, stature, floor && on_floor);
                Some(Self::Joint(match range {
                    Some([from, to]) => SingleJoint { from: Degrees(from), to: Degrees(to), ..joint },
                    None => joint,
                }))
            }
            RigModel::Limb { action, upper_arm_deg, range, .. } => {
                let joint = SingleJoint::new(action, Degrees(upper_arm_deg), trunk, stature, false);
                Some(Self::Joint(match range {
                    Some([from, to]) => SingleJoint { from: Degrees(from), to: Degrees(to), ..joint },
                    None => joint,
                }))
            }
            RigModel::Line { start, end, .. } => {
                let scaled = |p: Point| p.map(|v| v * stature.value());
                let arm = AimedArm::of(movement, person, trunk);
                Some(Self::Line { start: scaled(start), end: scaled(end), arm })
            }
            _ => None,
        }
    }

    /// The hand at a share of the way, metres from the origin.
    pub fn hand(&self, share: f64) -> Point {
        match self {
            Self::Joint(joint) => joint.hand(joint.angle_at(share)).0,
            Self::Line { start, end, .. } => {
                [start[0] + (end[0] - start[0]) * share, start[1] + (end[1] - start[1]) * share]
            }
        }
    }

    /// Resistance of one held kilogram.
    pub fn kilogram(&self) -> Profile {
        match self {
            Self::Joint(joint) => joint.kilogram_profile(),
            Self::Line { start, end, .. } => {
                let (dx, dy) = (end[0] - start[0], end[1] - start[1]);
                let length = dx.hypot(dy);
                Profile([if length > 0.0 { GRAVITY * dy / length } else { 0.0 }; 60])
            }
        }
    }

    /// Thirds of the muscle's range.
    pub fn thirds(&self) -> Thirds {
        match self {
            Self::Joint(joint) => joint.thirds(),
            Self::Line { arm, .. } => arm.map_or_else(Thirds::of_path, |arm| arm.thirds()),
        }
    }

    /// What a held kilogram does along the way, beside what it does in the reference movement.
    pub fn weighing(&self) -> Weighing {
        let full = match self {
            Self::Joint(joint) => joint.reference().kilogram_profile(),
            Self::Line { .. } => Profile([GRAVITY; 60]),
        };
        Weighing { kilogram: self.kilogram(), full, line: matches!(self, Self::Line { .. }) }
    }

    /// The resistance of the kilogram that defines the effective load.
    pub fn unit(&self, weighed: bool) -> Profile {
        self.weighing().unit(weighed)
    }

    /// Whether gravity loads the target at all.
    pub fn weighs(&self) -> bool {
        self.weighing().loads()
    }

    /// Where the hand goes, for any number of bands.
    pub fn way(&self) -> Way {
        match self {
            Self::Joint(joint) => Way::Arc(Box::new(joint.track())),
            Self::Line { start, end, .. } => Way::Line { start: *start, end: *end },
        }
    }

    /// Extension ratios of a band at the start and at its longest.
    pub fn stretches(&self, free: Metres, anchor: Point) -> (f64, f64) {
        let at = |share: f64| {
            let r = self.hand(share);
            (r[0] - anchor[0]).hypot(r[1] - anchor[1]) / free.value()
        };
        (at(0.0), (0..=40).map(|i| at(f64::from(i) / 40.0)).fold(0.0, f64::max))
    }
}
