//! What a slot can be measured against: any movement of the catalogue, and those of a gym with machines.

use std::collections::BTreeMap;

use crate::anatomy::{ArmPosition, Grip, Pattern, Region};
use crate::dose::Dose;
use crate::kit::full_room;
use crate::ladder::Ladder;
use crate::mechanics::profile::emphasis;
use crate::mechanics::single_joint::SingleJoint;
use crate::movement::{Catalogue, GymMovement, Movement, RigModel, Style};
use crate::person::Person;
use crate::plan::{Intent, Sides};
use crate::units::{Degrees, Metres};

/// A movement of either kind, by its identifier.
#[derive(Debug, Clone, Copy)]
pub enum Named<'a> {
    /// One that can be done at home.
    Movement(&'a Movement),
    /// One of a gym.
    Gym(&'a GymMovement),
}

impl<'a> Named<'a> {
    /// The movement with this identifier.
    pub fn find(catalogue: &'a Catalogue, id: &str) -> Option<Self> {
        let home = catalogue.movement(id).map(Self::Movement);
        home.or_else(|| catalogue.gym_movement(id).map(Self::Gym))
    }

    /// Its identifier.
    pub const fn id(&self) -> &'a str {
        match self {
            Self::Movement(m) => m.id.as_str(),
            Self::Gym(g) => g.id.as_str(),
        }
    }

    /// Its name.
    pub const fn name(&self) -> &'a str {
        match self {
            Self::Movement(m) => m.name.as_str(),
            Self::Gym(g) => g.name.as_str(),
        }
    }

    /// The regions it trains directly, with weights.
    pub const fn direct(&self) -> &'a BTreeMap<Region, f64> {
        match self {
            Self::Movement(m) => &m.direct,
            Self::Gym(g) => &g.direct,
        }
    }

    /// Whether it works a region at all.
    pub fn works(&self, region: Region) -> bool {
        let assisting = match self {
            Self::Movement(m) => &m.assisting,
            Self::Gym(g) => &g.assisting,
        };
        self.direct().contains_key(&region) || assisting.contains_key(&region)
    }

    const fn kind(&self) -> (Pattern, ArmPosition, Option<Grip>, bool) {
        match self {
            Self::Movement(m) => (m.pattern, m.arm_position, m.grip, m.unilateral()),
            Self::Gym(g) => (g.pattern, g.arm_position, g.grip, g.one_side),
        }
    }

    /// What a slot asks for that is to do the job of this movement, at a dose.
    pub fn intent(&self, person: &Person, dose: &Dose) -> Intent {
        let (pattern, arm_position, grip, one_side) = self.kind();
        Intent {
            arm_position: Some(arm_position),
            grip,
            length_emphasis: Reference::of(*self, person).and_then(|r| emphasis(&r.thirds)),
            sides: one_side.then_some(Sides::One),
            reference_exercise: Some(self.id().to_owned()),
            dose: dose.clone(),
            ..Intent::of(pattern, self.direct().clone())
        }
    }
}

/// A movement as a yardstick.
#[derive(Debug, Clone, PartialEq)]
pub struct Reference {
    /// Its name.
    pub name: String,
    /// Resistance over its peak at equal distances, lengthened to shortened.
    pub curve: Vec<f64>,
    /// Shares of work in the lengthened, middle and shortened third.
    pub thirds: [f64; 3],
    /// Length of the two-joint muscle set by the shoulder, where it is known.
    pub tag: Option<i8>,
    /// What its sets are made of.
    pub style: Style,
}

impl Reference {
    /// The yardstick that a movement is, with its plainest load in a room that has everything. None where nothing loads
    /// the target.
    pub fn of(named: Named<'_>, person: &Person) -> Option<Self> {
        match named {
            Named::Gym(gym) => {
                let (profile, thirds) = gym.resistance(person);
                Some(Self {
                    name: gym.name.clone(),
                    curve: profile.curve(),
                    thirds: profile.shares(&thirds)?,
                    tag: gym.stretch_tag(person),
                    style: Style::Reps,
                })
            }
            Named::Movement(movement) => {
                let (curve, thirds) = plain(movement, person)?;
                let (name, tag) = (movement.name.clone(), stretch_tag(movement));
                Some(Self { name, curve, thirds, tag, style: movement.style })
            }
        }
    }
}

/// Curve and thirds with the plainest load: a dumbbell alone gives them without a ladder.
fn plain(movement: &Movement, person: &Person) -> Option<(Vec<f64>, [f64; 3])> {
    if let Some(found) = Ladder::weighed_curve(movement, person, &full_room()) {
        return Some(found);
    }
    let ladder = Ladder::anywhere(movement, person);
    let plain = ladder.steps.iter().find(|s| s.bands.is_empty()).or_else(|| ladder.steps.first())?;
    Some((plain.curve.clone(), plain.thirds))
}

/// The stretch tag of a movement, where its model has one.
pub(crate) fn stretch_tag(movement: &Movement) -> Option<i8> {
    match movement.rig {
        RigModel::SingleJoint { action, upper_arm_deg, .. } => {
            let trunk = Degrees(movement.pose.trunk_deg);
            let joint = SingleJoint::new(action, Degrees(upper_arm_deg), trunk, Metres(1.75), false);
            Some(joint.stretch_tag())
        }
        _ => None,
    }
}
