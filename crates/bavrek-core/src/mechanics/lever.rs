//! Body-weight levers: push-ups, inverted rows, dips and chin-ups.

use super::MechanicsError;
use crate::person::Sex;
use crate::units::{Degrees, Kilograms, Metres};

/// Mean share of body mass on the hands in a flat push-up over a repetition. Published levels disagree: 0.64 (Ebben et
/// al. 2011, peak) and 0.69 to 0.75 (Suprak et al. 2011, static); progress depends on ratios, which do not.
pub const PUSH_UP_SHARE: f64 = 0.68;
/// Log-SD of a push-up load.
pub const PUSH_UP_SD: f64 = 0.06;
/// Log-SD of a push-up load on rings.
pub const RING_PUSH_UP_SD: f64 = 0.08;
/// Log-SD on knees with raised hands, where the lever is not known.
pub const KNEES_RAISED_SD: f64 = 0.12;
/// Log-SD of an inverted row.
pub const ROW_SD: f64 = 0.10;
/// Log-SD of a dip or chin-up: only the segment masses are uncertain.
pub const HANG_SD: f64 = 0.02;
/// Log-SD of a dip at a bench edge or on the floor, of a pike and of arcs under rings: the posture is not fixed.
/// Assumed.
pub const LOOSE_SD: f64 = 0.15;
/// Elevation of the mass centre above the toe-hand line. Fitted to published conditions, partly empirical.
const PHI_DEG: f64 = 30.0;
/// Toe-hand distance over stature.
const REACH: f64 = 0.80;
/// Load on knees over load on toes (0.783 from segment masses).
const KNEES: f64 = 0.78;
/// Height difference of hands and feet beyond which no number is stated, over stature.
const HIGHEST: f64 = 0.56;

/// What hands set back towards the feet carry over hands below the shoulders, at a stature of 1.75 m: the mass centre and
/// the toes stay, the lever of the hands grows shorter. For example 1.12 for 0.15 m.
pub fn hands_back_factor(back: Metres) -> f64 {
    let reach = REACH * 1.75;
    reach / (reach - back.value().clamp(0.0, 0.5 * reach))
}

/// What the lower body rests on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Support {
    /// Toes.
    Toes,
    /// Knees.
    Knees,
}

/// A push-up posture.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PushUp {
    /// Toes or knees.
    pub support: Support,
    /// Height of the hands above the floor.
    pub hands: Metres,
    /// Height of the feet above the floor.
    pub feet: Metres,
}

/// A total load on the hands as a share of body mass.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LeverLoad {
    /// Share of body mass.
    pub fraction: f64,
    /// Log-SD of the load.
    pub log_sd: f64,
    /// Whether the posture lies beyond the heights that were ever measured (0.61 m).
    pub beyond_data: bool,
}

impl PushUp {
    /// Share of body mass on the hands: `f0·cos(α+φ)/cos φ`, `sin α = (h_h − h_f)/(0.80·H)`; on knees 0.78 of it.
    ///
    /// `flat` is the share in a flat push-up ([`PUSH_UP_SHARE`] unless compared with a study). Refused for hands more
    /// than 0.56 statures above the feet, as at a wall.
    pub fn load(&self, stature: Metres, flat: f64) -> Result<LeverLoad, MechanicsError> {
        let difference = self.hands.value() - self.feet.value();
        if !difference.is_finite() || !stature.value().is_finite() {
            return Err(MechanicsError::NotFinite);
        }
        if difference.abs() > HIGHEST * stature.value() {
            return Err(MechanicsError::WallPushUp);
        }
        let phi = PHI_DEG.to_radians();
        let alpha = (difference / (REACH * stature.value())).asin();
        let toes = flat * (alpha + phi).cos() / phi.cos();
        let (fraction, log_sd) = match self.support {
            Support::Toes => (toes, PUSH_UP_SD),
            Support::Knees if self.hands.value() > 0.05 => (toes * KNEES, KNEES_RAISED_SD),
            Support::Knees => (toes * KNEES, PUSH_UP_SD),
        };
        Ok(LeverLoad { fraction, log_sd, beyond_data: difference.abs() > 0.61 })
    }

    /// Load at the bottom and at the top of a repetition whose mean is `mean`, in its unit.
    ///
    /// ```
    /// use bavrek_core::mechanics::lever::{PushUp, Support};
    /// use bavrek_core::units::Metres;
    /// let flat = PushUp { support: Support::Toes, hands: Metres(0.0), feet: Metres(0.0) };
    /// let [bottom, top] = flat.ends(51.0);
    /// assert!((bottom / top - 1.085).abs() < 0.001 && (bottom + top - 102.0).abs() < 1e-9);
    /// ```
    pub fn ends(&self, mean: f64) -> [f64; 2] {
        let ratio = self.bottom_over_top();
        [mean * 2.0 * ratio / (1.0 + ratio), mean * 2.0 / (1.0 + ratio)]
    }

    /// Load at the bottom over load at the top of a repetition: 1.085 on toes, 1.197 on knees.
    pub fn bottom_over_top(&self) -> f64 {
        let (radius, pivot) = match self.support {
            Support::Toes => (0.82, 0.0),
            Support::Knees => (0.535, 0.029),
        };
        let level = |y: f64| (1.0_f64 - ((y - pivot) / radius).powi(2)).sqrt();
        level(0.080) / level(0.326)
    }
}

/// Share of body mass in the straps of an inverted row: `0.713·cos β/sin χ`, body straight on the heels at an angle β
/// to the floor, straps at χ to the body line.
pub fn inverted_row(body: Degrees, strap: Degrees) -> Result<LeverLoad, MechanicsError> {
    let fraction = 0.713 * body.radians().cos() / strap.radians().sin();
    if !fraction.is_finite() {
        return Err(MechanicsError::NotFinite);
    }
    if fraction <= 0.0 {
        return Err(MechanicsError::SlackStrap);
    }
    Ok(LeverLoad { fraction, log_sd: ROW_SD, beyond_data: false })
}

/// Share of body mass that a dip or chin-up moves: forearms and hands stay (de Leva 1996).
pub const fn moved_share(sex: Option<Sex>) -> f64 {
    match sex {
        Some(Sex::Male) => 1.0 - 0.0446,
        Some(Sex::Female) => 1.0 - 0.0388,
        None => 0.958,
    }
}

/// Load of a dip or chin-up: moved body mass plus what is added. Help from a band is subtracted along the path by the
/// caller, since it is largest at the bottom.
pub fn hanging_load(body: Kilograms, sex: Option<Sex>, added: Kilograms) -> Kilograms {
    Kilograms(body.value() * moved_share(sex) + added.value())
}

/// Where the hands of a dip are, and what carries the rest of the body.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum DipSupport {
    /// Hanging free between bars or rings.
    Free,
    /// Hands on an edge behind, legs straight, heels on the floor.
    EdgeStraightLegs,
    /// The same with bent knees.
    EdgeBentLegs,
    /// The same with the heels raised to the height of the hands.
    EdgeFeetRaised,
}

/// Share of body mass on the hands of a dip with the feet supported.
///
/// Moments of segment masses (de Leva 1996) about the heels with an upright trunk: legs straight 0.70, bent 0.61,
/// raised 0.72, hands at 0.58, 0.36 and 0.58 statures from the heels. Assumed posture, log-SD [`LOOSE_SD`].
pub const fn edge_dip_share(support: DipSupport) -> Option<f64> {
    match support {
        DipSupport::Free => None,
        DipSupport::EdgeStraightLegs => Some(0.70),
        DipSupport::EdgeBentLegs => Some(0.61),
        DipSupport::EdgeFeetRaised => Some(0.72),
    }
}

/// Share of body mass on the hands of a pike push-up: 0.50 with the feet on the floor (moments of segment masses about
/// the toes in an even inverted V), rising evenly to 0.72 with the feet at hip height, 0.53 statures. Assumed posture.
pub fn pike_share(feet: Metres, stature: Metres) -> f64 {
    0.50 + 0.22 * (feet.value() / (0.53 * stature.value())).clamp(0.0, 1.0)
}

/// Share of body mass on the hands of a handstand at the wall: all but the forearms and hands, and what the wall
/// carries (about 4 %, assumed).
pub const WALL_HANDSTAND_SHARE: f64 = 0.92;
