//! Movements loaded by the body itself: what one set-up of them asks.

use super::arms::body_thirds;
use crate::anatomy::Surface;
use crate::mechanics::MechanicsError;
use crate::mechanics::body_extension::{BODY_EXTENSION_SD, BodyExtension, ELBOW_RANGE};
use crate::mechanics::bridge::{BRIDGE_SD, Base, Bridge, Rest};
use crate::mechanics::lever::{
    self, DipSupport, HANG_SD, LOOSE_SD, LeverLoad, PUSH_UP_SHARE, PushUp, RING_PUSH_UP_SD, Support,
    WALL_HANDSTAND_SHARE,
};
use crate::mechanics::profile::{Profile, Thirds};
use crate::mechanics::ring_curl::RingCurl;
use crate::mechanics::single_joint::{FOREARM, JointAction, SingleJoint, UPPER_ARM};
use crate::movement::{DipOn, PikeFeet, RigModel, TrunkWork};
use crate::person::Person;
use crate::rigging::Setup;
use crate::units::{Degrees, GRAVITY, Metres};

/// Log-SD of a ring curl: posture and straps vary.
const RING_CURL_SD: f64 = 0.15;
/// Height of a roll-out wheel's axle, m.
const AXLE: f64 = 0.09;
/// Height of rings for a roll-out, m.
const LOW_RINGS: f64 = 0.25;
/// Share of body mass on the hands at a wall, the feet a long step away. No study; assumed, and said so.
const WALL_PUSH_UP_SHARE: f64 = 0.22;
/// Log-SD of it.
const WALL_SD: f64 = 0.25;
/// Ring height where none is stated, m.
const RING_HEIGHT: f64 = 0.35;
/// Body angle where none is stated, degrees.
const LEAN: f64 = 45.0;
/// How much harder a plank gets per metre of raised feet. Assumed.
const RAISED_FEET: f64 = 0.5;
/// A hand this high counts as raised.
const RAISED: f64 = 0.005;

/// Resistance along a movement with what a kilogram of effective load is in it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BodyLoad {
    /// Resistance, N or N·m.
    pub profile: Profile,
    /// Resistance of one kilogram of effective load.
    pub unit: Profile,
    /// Thirds of the muscle's range.
    pub thirds: Thirds,
    /// Log-SD of the effective load.
    pub log_sd: f64,
    /// Share of body mass on the hands, where the load is a force.
    pub share: Option<f64>,
    /// Whether the resistance is a moment, N·m, rather than a force.
    pub moment: bool,
    /// Whether the posture lies beyond what was ever measured.
    pub beyond_data: bool,
}

impl BodyLoad {
    fn of_force(newtons: Profile, log_sd: f64) -> Self {
        Self {
            profile: newtons,
            unit: Profile([GRAVITY; 60]),
            thirds: Thirds::of_path(),
            log_sd,
            share: None,
            moment: false,
            beyond_data: false,
        }
    }

    fn of_moment(newton_metres: Profile, unit: Profile, log_sd: f64) -> Self {
        Self { profile: newton_metres, unit, moment: true, ..Self::of_force(Profile::ZERO, log_sd) }
    }

    fn level(person: &Person, share: f64, log_sd: f64) -> Self {
        let weight = person.body_mass_kg.weight().value();
        Self { share: Some(share), ..Self::of_force(Profile([share * weight; 60]), log_sd) }
    }

    /// Effective load, kg.
    pub fn kilograms(&self) -> f64 {
        self.profile.work() / self.unit.work()
    }
}

/// What a set-up of a movement asks of this person. Measures that the set-up leaves open take a usual value. Refused
/// where the posture does not close or no number is known for it.
pub fn body_load(rig: &RigModel, person: &Person, setup: &Setup) -> Result<BodyLoad, MechanicsError> {
    body_load_along(rig, person, setup, &body_thirds(rig, person))
}

/// The same with the thirds of the arm's way, which are those of all set-ups of a movement (`body_thirds`).
pub(crate) fn body_load_along(
    rig: &RigModel,
    person: &Person,
    setup: &Setup,
    way: &Thirds,
) -> Result<BodyLoad, MechanicsError> {
    match rig {
        RigModel::PushUp { hands: crate::movement::PushUpHands::Wall, .. } => {
            let level = BodyLoad::level(person, WALL_PUSH_UP_SHARE, WALL_SD);
            Ok(BodyLoad { thirds: *way, beyond_data: true, ..level })
        }
        RigModel::PushUp { hands_back, .. } => {
            Ok(BodyLoad { thirds: *way, ..push_up(person, setup, lever::hands_back_factor(Metres(*hands_back)))? })
        }
        RigModel::Pike { feet } => Ok(pike(person, *feet, setup)),
        RigModel::InvertedRow => {
            let angle = setup.body_angle_deg.unwrap_or(Degrees(LEAN));
            let load = lever::inverted_row(angle, Degrees(90.0))?;
            Ok(BodyLoad { thirds: *way, ..BodyLoad::level(person, load.fraction, load.log_sd) })
        }
        RigModel::Dip { on, .. } => Ok(dip(person, *on, setup)),
        RigModel::ChinUp { .. } => Ok(BodyLoad::level(person, lever::moved_share(person.sex), HANG_SD)),
        RigModel::RingCurl { one_arm } => ring_curl(person, *one_arm, setup),
        RigModel::BodyExtension { .. } => body_extension(person, setup),
        RigModel::BodyArc { action } => body_arc(person, *action, setup),
        RigModel::Trunk { work } => match work.share_of_body() {
            Some(share) => Ok(waist(person, share)),
            None => trunk(person, *work, setup),
        },
        RigModel::Limb { .. } => limb(rig, person),
        RigModel::SingleJoint { .. } | RigModel::Line { .. } => Err(MechanicsError::NoLoad),
    }
}

fn push_up_share(person: &Person, setup: &Setup) -> Result<(PushUp, LeverLoad), MechanicsError> {
    let support = if setup.knees == Some(true) { Support::Knees } else { Support::Toes };
    let height = |h: Option<Metres>| h.unwrap_or(Metres(0.0));
    let posture = PushUp { support, hands: height(setup.hands_height_m), feet: height(setup.feet_height_m) };
    Ok((posture, posture.load(person.height_m, PUSH_UP_SHARE)?))
}

fn push_up(person: &Person, setup: &Setup, factor: f64) -> Result<BodyLoad, MechanicsError> {
    let (posture, load) = push_up_share(person, setup)?;
    let load = LeverLoad { fraction: load.fraction * factor, ..load };
    let [bottom, top] = posture.ends(load.fraction * person.body_mass_kg.weight().value());
    let profile = Profile::sample(|s| bottom + (top - bottom) * s);
    let on_rings = setup.surface == Some(Surface::Rings);
    let log_sd = if on_rings { load.log_sd.max(RING_PUSH_UP_SD) } else { load.log_sd };
    Ok(BodyLoad { share: Some(load.fraction), beyond_data: load.beyond_data, ..BodyLoad::of_force(profile, log_sd) })
}

fn pike(person: &Person, feet: PikeFeet, setup: &Setup) -> BodyLoad {
    let share = match feet {
        PikeFeet::Wall => WALL_HANDSTAND_SHARE,
        PikeFeet::Floor => lever::pike_share(Metres(0.0), person.height_m),
        PikeFeet::Raised => lever::pike_share(setup.feet_height_m.unwrap_or(Metres(0.45)), person.height_m),
    };
    BodyLoad::level(person, share, LOOSE_SD)
}

fn dip(person: &Person, on: DipOn, setup: &Setup) -> BodyLoad {
    let support = match on {
        DipOn::Bars | DipOn::Rings => DipSupport::Free,
        DipOn::EdgeFeetRaised => DipSupport::EdgeFeetRaised,
        DipOn::Floor => DipSupport::EdgeBentLegs,
        DipOn::Edge if setup.knees == Some(true) => DipSupport::EdgeBentLegs,
        DipOn::Edge => DipSupport::EdgeStraightLegs,
    };
    let (share, log_sd) = match lever::edge_dip_share(support) {
        None => (lever::moved_share(person.sex), HANG_SD),
        Some(share) => (share, LOOSE_SD),
    };
    BodyLoad::level(person, share, log_sd)
}

fn ring_curl(person: &Person, one_arm: bool, setup: &Setup) -> Result<BodyLoad, MechanicsError> {
    let posture = RingCurl {
        stature: person.height_m,
        body_mass: person.body_mass_kg,
        start_angle: setup.body_angle_deg.unwrap_or(Degrees(60.0)),
        strap: setup.strap_m.unwrap_or(Metres(1.2)),
    };
    let curl = SingleJoint::new(JointAction::Curl, Degrees(0.0), Degrees(0.0), person.height_m, false);
    // Two arms share the moment; an effective load is each hand's.
    let each = posture.profile()?.times(if one_arm { 1.0 } else { 0.5 });
    Ok(BodyLoad { thirds: curl.thirds(), ..BodyLoad::of_moment(each, curl.kilogram_profile(), RING_CURL_SD) })
}

fn body_extension(person: &Person, setup: &Setup) -> Result<BodyLoad, MechanicsError> {
    let posture = BodyExtension {
        stature: person.height_m,
        body_mass: person.body_mass_kg,
        hands: setup.hands_height_m.unwrap_or(Metres(0.6)),
    };
    let reference = SingleJoint::new(JointAction::Extension, Degrees(180.0), Degrees(0.0), person.height_m, false);
    let reference = SingleJoint { from: Degrees(ELBOW_RANGE.0), to: Degrees(ELBOW_RANGE.1), ..reference };
    let both = BodyLoad::of_moment(posture.profile()?, reference.kilogram_profile(), BODY_EXTENSION_SD);
    Ok(BodyLoad { thirds: reference.thirds(), ..both })
}

/// The share of body mass on each hand acts like a dumbbell of that mass on a trunk that lies flat.
fn body_arc(person: &Person, action: JointAction, setup: &Setup) -> Result<BodyLoad, MechanicsError> {
    let (share, trunk) = if action == JointAction::RearFly {
        let angle = setup.body_angle_deg.unwrap_or(Degrees(60.0));
        (lever::inverted_row(angle, Degrees(90.0))?.fraction, 90.0)
    } else {
        let height = setup.hands_height_m.or(Some(Metres(RING_HEIGHT)));
        (push_up_share(person, &Setup { hands_height_m: height, ..*setup })?.1.fraction, -90.0)
    };
    let arc = SingleJoint::new(action, Degrees(0.0), Degrees(trunk), person.height_m, action == JointAction::Fly);
    let unit = arc.kilogram_profile();
    let each = unit.times(0.5 * share * person.body_mass_kg.value());
    Ok(BodyLoad { thirds: arc.thirds(), share: Some(share), ..BodyLoad::of_moment(each, unit, LOOSE_SD) })
}

/// Trunk work in which the body is no beam.
fn waist(person: &Person, share: f64) -> BodyLoad {
    let unit = GRAVITY * crate::mechanics::single_joint::TRUNK * person.height_m.value();
    let moment = unit * share * person.body_mass_kg.value();
    BodyLoad::of_moment(Profile([moment; 60]), Profile([unit; 60]), LOOSE_SD)
}

/// The arm's own weight on an arc.
fn limb(rig: &RigModel, person: &Person) -> Result<BodyLoad, MechanicsError> {
    let RigModel::Limb { action, upper_arm_deg, range, share, .. } = *rig else { return Err(MechanicsError::NoLoad) };
    // The reference posture of the action: what turns the trunk is the movement's own business.
    let joint = SingleJoint::new(action, Degrees(upper_arm_deg), Degrees(0.0), person.height_m, false);
    let joint = range.map_or(joint, |[from, to]| SingleJoint { from: Degrees(from), to: Degrees(to), ..joint });
    let unit = joint.reference().kilogram_profile();
    let own = unit.times(share * person.body_mass_kg.value());
    Ok(BodyLoad { thirds: joint.thirds(), ..BodyLoad::of_moment(own, unit, LOOSE_SD) })
}

/// The beam of a plank or roll-out, and its arm angles lengthened and shortened.
pub fn trunk_postures(person: &Person, work: TrunkWork, setup: &Setup) -> (Bridge, [Degrees; 2]) {
    let (base, rest, hands, arms) = match work {
        TrunkWork::LongPlank => (Base::Toes, Rest::Forearms, 0.0, [130.0, 130.0]),
        TrunkWork::KneePlank => (Base::Knees, Rest::Forearms, 0.0, [90.0, 90.0]),
        TrunkWork::WheelKnees => (Base::Knees, Rest::Hands, AXLE, [160.0, 80.0]),
        TrunkWork::WheelToes => (Base::Toes, Rest::Hands, AXLE, [155.0, 85.0]),
        TrunkWork::RingsKnees => (Base::Knees, Rest::Hands, LOW_RINGS, [155.0, 80.0]),
        TrunkWork::RingsToes => (Base::Toes, Rest::Hands, LOW_RINGS, [150.0, 85.0]),
        TrunkWork::WalkOut => (Base::Toes, Rest::Hands, 0.0, [140.0, 85.0]),
        // The plank and the side plank; the other work is no beam and is asked for by nobody.
        _ => (Base::Toes, Rest::Forearms, 0.0, [90.0, 90.0]),
    };
    let hands = setup.hands_height_m.map_or(hands, Metres::value);
    let feet = setup.feet_height_m.unwrap_or(Metres(0.0));
    let bridge =
        Bridge { stature: person.height_m, body_mass: person.body_mass_kg, base, rest, hands: Metres(hands), feet };
    (bridge, arms.map(Degrees))
}

fn trunk(person: &Person, work: TrunkWork, setup: &Setup) -> Result<BodyLoad, MechanicsError> {
    let (bridge, [lengthened, shortened]) = trunk_postures(person, work, setup);
    let unit = GRAVITY * crate::mechanics::single_joint::TRUNK * person.height_m.value();
    // As a beam a plank with raised feet would be lighter; in life weight comes onto the arms and the waist works more.
    let raised = setup.feet_height_m.map_or(0.0, Metres::value);
    let level = Bridge { feet: Metres(0.0), ..bridge };
    let moment = level.profile(lengthened, shortened)?.times(1.0 + RAISED_FEET * raised);
    Ok(BodyLoad::of_moment(moment, Profile([unit; 60]), BRIDGE_SD))
}

/// Height of the handles of an inverted row with straight arms at a body angle, m.
pub fn handle_height(stature: Metres, body: Degrees) -> Metres {
    let b = body.radians();
    Metres(stature.value() * (0.82 * b.sin() + (UPPER_ARM + FOREARM) * b.cos()))
}

/// Whether a height counts as raised.
pub(crate) fn raised(height: Metres) -> Option<Metres> {
    (height.value() > RAISED).then_some(height)
}
