//! The planar load model: what a band, a dumbbell or a lever asks of the working limb.
//!
//! Quasi-static: inertia is ignored, which costs less than about 5 % at two seconds or more a phase. Everything is
//! closed form but the ring curl (bisection) and short sums; every refusal is a [`MechanicsError`], and no NaN leaves.

pub mod band;
pub mod body_extension;
pub mod bridge;
pub mod lever;
pub mod path;
pub mod profile;
pub mod ring_curl;
pub mod single_joint;
pub mod two_joint;

/// Why a load cannot be stated.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum MechanicsError {
    /// A number is missing or not finite.
    #[error("a number is not finite")]
    NotFinite,
    /// The band would be stretched beyond three and a half times its free length.
    #[error("the band would be stretched by {0:.0} %; 250 % is the most")]
    Overstretched(f64),
    /// The free length left after wraps and deductions is too short to work with.
    #[error("only {0:.2} m of free band would be left; 0.10 m is the least")]
    TooShort(f64),
    /// A measured point lies at or below the resting length.
    #[error("the band was slack at {0:.2} m: measure where it already pulls, and check the resting length")]
    SlackPoint(f64),
    /// A printed range that no rubber follows.
    #[error("the printed range is not in line with rubber; measure this band")]
    RatingImplausible,
    /// Neither size, rating nor measurement is given.
    #[error("give the width and thickness, the printed range or a measurement of this band")]
    BandUnknown,
    /// The anchor lies at the hand, so the pull has no direction.
    #[error("the anchor is at the hand; keep them at least 0.05 m apart")]
    AnchorAtHand,
    /// Hands so high that no study supports a number.
    #[error("the hands are too high for a push-up load: count reps only")]
    WallPushUp,
    /// No body angle satisfies the strap's length.
    #[error("this ring posture has no solution: change the strap or the body angle")]
    NoRingPosture,
    /// The strap would be slack.
    #[error("the strap would be slack in this posture")]
    SlackStrap,
    /// The band never pulls.
    #[error("the band is slack over the whole movement: step away, grip nearer or take a shorter one")]
    SlackBand,
    /// A movement whose resistance never opposes the target.
    #[error("the resistance does not oppose the movement anywhere")]
    NoLoad,
}

impl MechanicsError {
    /// The kit or rig field the refusal is about.
    pub const fn field(&self) -> &'static str {
        match self {
            Self::SlackPoint(_) => "measured",
            Self::RatingImplausible => "rated_kg",
            Self::BandUnknown => "width_m",
            Self::AnchorAtHand => "anchor",
            Self::WallPushUp => "hands_height_m",
            Self::NoRingPosture | Self::SlackStrap => "body_angle_deg",
            _ => "band",
        }
    }
}
