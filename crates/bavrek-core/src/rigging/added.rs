//! What is added to a movement that the body itself loads: a weight, a band round the back, a band that helps.

use super::BandInUse;
use super::body::BodyLoad;
use crate::mechanics::MechanicsError;
use crate::mechanics::path::{AnchoredPath, BandUnderBack, Trapped};
use crate::mechanics::profile::Profile;
use crate::movement::RigModel;
use crate::person::Person;
use crate::units::{Kilograms, Metres};

/// Share of a pack's weight, high on the back of a plank, that the waist meets at a trunk's length. Assumed.
const PACK_ON_PLANK: f64 = 0.33;
/// Stature for which the reference geometries are stated, m.
const REFERENCE_STATURE: f64 = 1.75;

/// Resistance that a weight adds: all of it where the body hangs, the hands' share where it leans.
pub(crate) fn weight(rig: &RigModel, person: &Person, base: &BodyLoad, kg: Kilograms) -> Profile {
    let newtons = kg.weight().value();
    let level = match rig {
        RigModel::Trunk { .. } => PACK_ON_PLANK * newtons * super::trunk_length(person),
        RigModel::Dip { .. } | RigModel::ChinUp { .. } => newtons,
        _ => base.share.unwrap_or(1.0) * newtons,
    };
    Profile([level; 60])
}

/// Resistance that a loop adds: round the back of a push-up to both hands, or helping from above (negative) in a dip
/// or chin-up. None for movements that take no band.
pub(crate) fn band(
    rig: &RigModel,
    person: &Person,
    band: &BandInUse,
    foot: bool,
) -> Option<Result<Profile, MechanicsError>> {
    let scale = person.height_m.value() / REFERENCE_STATURE;
    match rig {
        RigModel::PushUp { .. } => {
            let round = BandUnderBack {
                rubber: band.rubber,
                flat: band.flat,
                trapped_width: Metres(0.42 * scale),
                exit: Metres(0.0),
                hand: Metres(0.0),
                trapped: Trapped::Pinned,
            };
            Some(round.profile(Metres(0.25 * scale), Metres(0.62 * scale)).map(|one| one.times(2.0)))
        }
        RigModel::ChinUp { .. } | RigModel::Dip { .. } => Some(helping_band(person, band, foot).profile()),
        _ => None,
    }
}

/// How far below a bent knee the foot of a long leg is, m.
const KNEE_TO_FOOT: f64 = 0.5;

/// A loop hung over the bar helping a chin-up or dip, along the way of the knee in it: 1.5 m below the bar to 1.0 m for a
/// person of 1.75 m. Under the foot of a long leg it is stretched half a metre further and helps about three times as much.
pub fn helping_band(person: &Person, band: &BandInUse, foot: bool) -> AnchoredPath {
    let scale = person.height_m.value() / REFERENCE_STATURE;
    let lower = if foot { KNEE_TO_FOOT } else { 0.0 };
    AnchoredPath {
        rubber: band.rubber,
        strands: 2.0,
        free: band.hooked(),
        anchor: [0.0, 0.0],
        start: [0.0, -(1.5 + lower) * scale],
        end: [0.0, -(1.0 + lower) * scale],
    }
}
