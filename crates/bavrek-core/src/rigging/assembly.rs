//! A movement set up and loaded: the one place where the ladder's steps, the rig page and the catalogue agree.

use super::notice::Notice;
use super::{BandFix, BandInUse, BodyLoad, Loaded, added, banding, body_load};
use crate::anatomy::Surface;
use crate::execution::RangePart;
use crate::mechanics::MechanicsError;
use crate::mechanics::path::{BandUnderBack, Trapped};
use crate::mechanics::profile::{Profile, Thirds};
use crate::movement::{Mount, Movement, RigModel};
use crate::person::Person;
use crate::posture::{Point, Posture};
use crate::rigging::Setup;
use crate::units::{Degrees, GRAVITY, Kilograms, Metres};

/// Log-SD of a weighed load.
pub(crate) const WEIGHED_SD: f64 = 0.01;
/// Log-SD of the convention that equal work is equal load.
pub(crate) const EQUAL_WORK_SD: f64 = 0.08;
/// Pinned and slipping differ by a fifth; the middle of the two is off by at most half of that, log-SD.
pub(crate) const TRAPPED_SD: f64 = 0.10;
/// Extension ratio at the start from which a usual distance to an anchor follows.
const USUAL_STRETCH: f64 = 1.3;

/// What is held or strapped on.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Loads {
    /// Weight as the movement counts it: of each hand, of both together, or added to the body.
    pub weight: Kilograms,
    /// Bands, at most two.
    pub bands: [Option<BandInUse>; 2],
}

impl Loads {
    /// The first band.
    pub const fn band(&self) -> Option<&BandInUse> {
        self.bands[0].as_ref()
    }
}

/// A movement with a set-up for a person, before it is loaded.
#[derive(Debug, Clone, Copy)]
pub struct Rigged<'a> {
    /// The movement.
    pub movement: &'a Movement,
    /// Who does it.
    pub person: &'a Person,
    /// How it is set up.
    pub setup: Setup,
    /// Trunk lean, as the bench makes it.
    pub trunk: Degrees,
    /// Height of what the body rests on.
    pub support: Option<Metres>,
    /// Trunk and legs at the start.
    pub posture: Posture,
    /// The hand's path; none where the body itself is the load.
    pub loaded: Option<Loaded>,
}

/// A rig under load.
#[derive(Debug, Clone, PartialEq)]
pub struct Assembly {
    /// Resistance, N·m where one joint turns, else N.
    pub profile: Profile,
    /// Resistance of one kilogram of effective load.
    pub unit: Profile,
    /// Shares of work in the lengthened, middle and shortened third.
    pub thirds: [f64; 3],
    /// Log-SD of the effective load.
    pub log_sd: f64,
    /// Share of the load that bands give; negative where they help.
    pub band_share: f64,
    /// Whether the profile is a moment.
    pub moment: bool,
    /// Share of body mass on the hands, where the load is that.
    pub body_mass_fraction: Option<f64>,
    /// Extension ratios of the band at the start and at its longest.
    pub stretch: Option<(f64, f64)>,
    /// Reservations.
    pub notices: Vec<Notice>,
}

impl Assembly {
    /// Mean load over the range.
    pub fn effective(&self) -> Kilograms {
        Kilograms(self.profile.work() / self.unit.work())
    }

    /// Largest load in the range.
    pub fn peak(&self) -> Kilograms {
        Kilograms((self.profile.peak() / self.unit.peak()).max(self.effective().value()))
    }

    /// Resistance over its peak at equal distances, lengthened to shortened.
    pub fn curve(&self) -> Vec<f64> {
        self.profile.curve()
    }
}

/// The usual height of a surface, m.
pub const fn usual_height(surface: Surface) -> Option<Metres> {
    match surface {
        Surface::Bench => Some(Metres(0.44)),
        Surface::Chair | Surface::Box => Some(Metres(0.45)),
        Surface::Sofa => Some(Metres(0.42)),
        Surface::Table => Some(Metres(0.74)),
        _ => None,
    }
}

impl<'a> Rigged<'a> {
    /// Places a movement.
    pub fn new(movement: &'a Movement, person: &'a Person, setup: Setup) -> Self {
        let trunk = super::trunk_lean(movement, setup.bench_deg);
        let support = setup.support_height_m.or(setup.surface.and_then(usual_height));
        let on_floor = setup.surface.is_none_or(|s| s == Surface::Floor);
        Self {
            movement,
            person,
            setup,
            trunk,
            support,
            posture: super::posture(movement, person, trunk, support),
            loaded: Loaded::of(movement, person, trunk, on_floor),
        }
    }

    /// What a band does here: its strands and where it is fixed, from the origin.
    fn band(&self, loaded: &Loaded, band: &BandInUse) -> Option<Result<(banding::Strands, Point), MechanicsError>> {
        let zero = Metres(0.0);
        let nearer = self.setup.grip_shorter_m.unwrap_or(zero);
        let fix = self.setup.band_fix.unwrap_or(BandFix::Hung);
        match self.movement.rig.mount()? {
            Mount::UnderBack => None,
            Mount::BetweenHands => {
                let strands = banding::usable(band.between_hands(nearer));
                Some(strands.map(|s| (s, super::midline(self.person))))
            }
            Mount::StoodOn => {
                let stance = self.setup.stance_m.unwrap_or(Metres(banding::USUAL_STANCE));
                let strands = banding::usable(band.stood_on(self.movement.hands, stance, nearer, fix));
                Some(strands.map(|s| (s, super::stood_on_anchor(self.movement, self.person, &self.posture))))
            }
            Mount::Anchor { height, facing } => {
                let strands = banding::usable(band.anchored(self.movement.hands, nearer, fix));
                Some(strands.map(|s| (s, self.anchor(loaded, height, facing, s.free))))
            }
        }
    }

    fn anchor(&self, loaded: &Loaded, height: [f64; 2], facing: bool, free: Metres) -> Point {
        let usual = 0.5 * (height[0] + height[1]) * self.person.height_m.value();
        let rise = self.setup.anchor_height_m.map_or(usual, Metres::value)
            - super::origin_height(self.movement, &self.posture);
        let length = free.value() * USUAL_STRETCH;
        let distance = self.setup.anchor_distance_m.map_or_else(
            || super::anchor_distance(loaded, self.person, rise, length, facing).unwrap_or(1.0),
            Metres::value,
        );
        super::anchor_point(loaded, self.person, rise, distance, facing)
    }

    /// Where the band is fixed, from the origin of the movement's plane. None without a band that is fixed to a point.
    pub fn band_anchor(&self, band: &BandInUse) -> Option<Point> {
        self.band(self.loaded.as_ref()?, band)?.ok().map(|(_, anchor)| anchor)
    }

    /// The resistance under these loads. Refused where the load model refuses, or where nothing opposes the movement.
    pub fn load(&self, loads: &Loads) -> Result<Assembly, MechanicsError> {
        let assembly = match &self.loaded {
            Some(loaded) if !self.movement.rig.is_lever() => self.held(loaded, loads)?,
            _ => self.body(loads)?,
        };
        let finite =
            [assembly.effective().value(), assembly.log_sd].iter().chain(&assembly.thirds).all(|v| v.is_finite());
        if finite { Ok(assembly) } else { Err(MechanicsError::NotFinite) }
    }

    fn held(&self, loaded: &Loaded, loads: &Loads) -> Result<Assembly, MechanicsError> {
        let weighed = loads.weight.value() > 0.0 || self.movement.is_weighed();
        let gravity = loaded.kilogram().times(loads.weight.value());
        let unit = loaded.unit(weighed);
        let (mut rubber, mut notices, mut stretch, mut band_sd) = (Profile::ZERO, Vec::new(), None, 0.0_f64);
        for band in loads.bands.iter().flatten() {
            band_sd = band_sd.max(band.rubber.log_sd().hypot(EQUAL_WORK_SD));
            match self.band(loaded, band) {
                Some(fixed) => {
                    let (strands, anchor) = fixed?;
                    rubber = rubber.plus(&loaded.way().band(band.rubber, strands.strands, strands.free, anchor)?);
                    let (start, longest) = loaded.stretches(strands.free, anchor);
                    if longest <= 1.0 && loads.weight.value() <= 0.0 {
                        return Err(MechanicsError::SlackBand);
                    }
                    notices.extend(Notice::of_stretch(start, longest));
                    stretch = Some((start, longest));
                }
                None if self.movement.rig.mount() == Some(Mount::UnderBack) => {
                    let (pinned, slipping) = under_back(band, self.person)?;
                    let kg = |p: &Profile| Kilograms(loads.weight.value() + p.work() / GRAVITY);
                    notices.push(Notice::PinnedOrSlipping(kg(&pinned), kg(&slipping)));
                    rubber = rubber.plus(&pinned);
                    band_sd = band_sd.hypot(TRAPPED_SD);
                }
                None => {}
            }
        }
        let profile = gravity.plus(&rubber);
        let band_share = if profile.work() > 0.0 { (rubber.work() / profile.work()).min(1.0) } else { 0.0 };
        let whole = (profile, unit, loaded.thirds());
        finish(whole, self.setup.range, WEIGHED_SD.max(band_share * band_sd), notices).map(|a| Assembly {
            moment: matches!(loaded, Loaded::Joint(_)),
            stretch,
            band_share,
            ..a
        })
    }

    fn body(&self, loads: &Loads) -> Result<Assembly, MechanicsError> {
        let rig = &self.movement.rig;
        let base = body_load(rig, self.person, &self.setup)?;
        let extra = added::weight(rig, self.person, &base, loads.weight);
        let mut profile = base.profile.plus(&extra);
        let mut notices = Vec::new();
        let (mut log_sd, mut band_share) = (base.log_sd, 0.0);
        for band in loads.bands.iter().flatten().filter(|b| !b.tube) {
            let Some(pull) = added::band(rig, self.person, band, self.setup.foot_in_loop == Some(true)) else {
                continue;
            };
            let pull = pull?;
            profile = profile.plus(&pull);
            let helps = pull.peak() <= 0.0;
            notices.extend(helps.then_some(Notice::HelpAtBottom));
            band_share += pull.0.iter().sum::<f64>() / profile.0.iter().sum::<f64>();
            let share = if helps { 0.05 } else { pull.work() / profile.work() * band.rubber.log_sd() };
            log_sd = log_sd.hypot(share);
        }
        notices.extend(base.beyond_data.then_some(Notice::BeyondData));
        let on_rings = self.setup.surface == Some(Surface::Rings) && matches!(rig, RigModel::PushUp { .. });
        notices.extend(on_rings.then_some(Notice::Unstable));
        let BodyLoad { unit, thirds, share, moment, .. } = base;
        finish((profile, unit, thirds), self.setup.range, log_sd, notices).map(|a| Assembly {
            moment,
            band_share,
            body_mass_fraction: share,
            ..a
        })
    }
}

/// What the resistance over the whole range comes to in the part that is gone through.
fn finish(
    (mut profile, mut unit, mut thirds): (Profile, Profile, Thirds),
    part: Option<RangePart>,
    log_sd: f64,
    mut notices: Vec<Notice>,
) -> Result<Assembly, MechanicsError> {
    if let Some(window) = part.map(RangePart::window) {
        (profile, unit, thirds) = (profile.within(window), unit.within(window), thirds.within(window));
    }
    let thirds = profile.shares(&thirds).ok_or(MechanicsError::NoLoad)?;
    if profile.0.iter().any(|v| *v < -1e-9) {
        notices.push(Notice::PartWithoutLoad);
    }
    Ok(Assembly {
        profile,
        unit,
        thirds,
        log_sd,
        band_share: 0.0,
        moment: false,
        body_mass_fraction: None,
        stretch: None,
        notices,
    })
}

/// A loop under the bench or the back, pinned and slipping, for one hand.
pub(crate) fn under_back(band: &BandInUse, person: &Person) -> Result<(Profile, Profile), MechanicsError> {
    if band.tube {
        return Err(MechanicsError::BandUnknown);
    }
    let scale = person.height_m.value() / 1.75;
    let of = |trapped| {
        BandUnderBack::usual(band.rubber, band.flat, person.height_m, trapped)
            .profile(Metres(0.5 * scale), Metres(0.9 * scale))
    };
    Ok((of(Trapped::Pinned)?, of(Trapped::Slipping)?))
}
