//! What rules a movement out, always with the reason.

use super::joints::{Bearing, bearing};
use super::start::{Start, eligible};
use crate::anatomy::vocabulary;
use crate::ladder::{Ladder, Missing};
use crate::movement::{Movement, RigModel, Style};
use crate::person::{Experience, Limit, Person};
use crate::units::{Kilograms, Metres};

vocabulary!(
    /// Why a movement is ruled out.
    ExclusionCode {
        Kit => "kit", "kit";
        Limit => "limit", "limit";
        Experience => "experience", "experience";
        NoLoadOnTarget => "no_load_on_target", "no load on the target";
        OutOfReach => "out_of_reach", "out of reach";
        TooLight => "too_light", "too light";
        PutAside => "put_aside", "put aside";
    }
);

/// One reason.
#[derive(Debug, Clone, PartialEq)]
pub enum Why {
    /// The trainer put it aside, for this reason.
    PutAside(String),
    /// A limit of the client.
    Limit(Limit),
    /// It asks for more experience than the client has.
    Experience {
        /// What it asks for.
        asks: Experience,
        /// What the client has.
        has: Experience,
    },
    /// The room cannot carry it.
    Missing(Missing),
    /// Its lightest step is too heavy.
    OutOfReach {
        /// Load of that step.
        lightest: Kilograms,
        /// What is in reach.
        about: Kilograms,
        /// What would bring it there.
        lighter: Lighter,
    },
    /// Its heaviest step is too light.
    TooLight {
        /// Load of that step.
        heaviest: Kilograms,
        /// What would be right.
        about: Kilograms,
        /// Whether a heavier weight or band would help; a loaded backpack or a harder variation otherwise.
        by_weight: bool,
    },
}

impl Why {
    /// Kind of reason.
    pub const fn code(&self) -> ExclusionCode {
        match self {
            Self::PutAside(_) => ExclusionCode::PutAside,
            Self::Limit(_) => ExclusionCode::Limit,
            Self::Experience { .. } => ExclusionCode::Experience,
            Self::Missing(Missing::NoLoad) => ExclusionCode::NoLoadOnTarget,
            Self::Missing(_) => ExclusionCode::Kit,
            Self::OutOfReach { .. } => ExclusionCode::OutOfReach,
            Self::TooLight { .. } => ExclusionCode::TooLight,
        }
    }

    /// Whether all that is there is too heavy or too light for it.
    pub const fn is_of_load(&self) -> bool {
        matches!(self, Self::OutOfReach { .. } | Self::TooLight { .. })
    }

    /// Where an anchor that is there would have to be for the movement.
    pub const fn move_anchor_to(&self) -> Option<Metres> {
        if let Self::Missing(missing) = self { missing.move_anchor_to() } else { None }
    }
}

/// What would bring a movement into reach.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Lighter {
    /// Hands higher up.
    HigherHands,
    /// Push-ups with the feet raised, first.
    FeetRaisedFirst,
    /// A band that helps, or a foot on a box.
    Help,
    /// Handles higher up.
    HigherHandles,
    /// A lighter weight or band.
    Load,
}

impl Lighter {
    const fn of(movement: &Movement) -> Self {
        match movement.rig {
            RigModel::PushUp { .. } | RigModel::BodyExtension { .. } => Self::HigherHands,
            RigModel::Pike { .. } => Self::FeetRaisedFirst,
            RigModel::ChinUp { .. } | RigModel::Dip { .. } => Self::Help,
            RigModel::InvertedRow | RigModel::RingCurl { .. } | RigModel::BodyArc { .. } => Self::HigherHandles,
            _ => Self::Load,
        }
    }
}

/// A movement that is ruled out here.
#[derive(Debug, Clone)]
pub struct Excluded<'a> {
    /// The movement.
    pub movement: &'a Movement,
    /// Why.
    pub why: Vec<Why>,
}

/// Repetitions below which the lightest step is out of reach.
const LEAST_REPS: f64 = 2.0;
/// Repetitions above which the heaviest step is too light to train with.
pub(crate) const MOST_REPS: f64 = 60.0;

/// A movement that a trainer does not want for a client.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PutAside {
    /// The movement's identifier.
    pub exercise: String,
    /// Why, in the trainer's words.
    pub reason: String,
}

/// What the trainer put aside.
pub(super) fn by_trainer(movement: &Movement, put_aside: &[PutAside]) -> Result<(), Vec<Why>> {
    match put_aside.iter().find(|p| p.exercise == movement.id) {
        Some(aside) => Err(vec![Why::PutAside(aside.reason.clone())]),
        None => Ok(()),
    }
}

/// Limits and experience.
pub(super) fn by_person(movement: &Movement, person: &Person) -> Result<(), Vec<Why>> {
    let limits = person.limits.iter().filter(|limit| bearing(movement, limit) == Bearing::Excludes);
    let mut why: Vec<Why> = limits.copied().map(Why::Limit).collect();
    if person.experience < movement.experience {
        why.push(Why::Experience { asks: movement.experience, has: person.experience });
    }
    if why.is_empty() { Ok(()) } else { Err(why) }
}

/// What the room lacks, and gravity.
pub(super) fn by_kit(ladder: &Ladder) -> Result<(), Vec<Why>> {
    if !ladder.steps.is_empty() {
        return Ok(());
    }
    Err(ladder.missing.iter().cloned().map(Why::Missing).collect())
}

/// A ladder that begins too heavy or ends too light for this client.
pub(super) fn by_reach(ladder: &Ladder, movement: &Movement, start: &Start) -> Result<(), Vec<Why>> {
    if movement.style == Style::Hold {
        return Ok(());
    }
    let eligible = eligible(ladder, movement);
    let (Some(first), Some(last)) = (eligible.first(), eligible.last()) else { return Ok(()) };
    let [lightest, heaviest] = [first, last].map(|i| ladder.steps[*i].effective_kg);
    // Nobody is ruled out for being unknown: one SD towards the client decides.
    let expected = |sds: f64, load: Kilograms| start.reps_if(sds * start.sd, load.value());
    let about = start.expected;
    if expected(1.0, lightest) < LEAST_REPS {
        return Err(vec![out_of_reach(movement, lightest, about)]);
    }
    if expected(-1.0, heaviest) > MOST_REPS {
        let by_weight = matches!(movement.rig, RigModel::SingleJoint { .. } | RigModel::Line { .. });
        return Err(vec![Why::TooLight { heaviest, about, by_weight }]);
    }
    Ok(())
}

/// Whether hardly a repetition is expected on the step of a start: what is held has none.
pub(super) fn is_nearly_out_of_reach(movement: &Movement, start: &Start) -> bool {
    movement.style != Style::Hold && start.reps < LEAST_REPS
}

/// That a movement begins too heavy, with what would help.
pub(super) const fn out_of_reach(movement: &Movement, lightest: Kilograms, about: Kilograms) -> Why {
    Why::OutOfReach { lightest, about, lighter: Lighter::of(movement) }
}
