//! What rules a movement out, always with the reason.

use super::joints::{Bearing, bearing};
use super::start::{Start, eligible};
use crate::anatomy::vocabulary;
use crate::ladder::{Ladder, Missing, MissingKind};
use crate::movement::{Movement, RigModel, Style};
use crate::person::Person;
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
pub struct Why {
    /// Kind of reason.
    pub code: ExclusionCode,
    /// A sentence.
    pub text: String,
    /// Where an anchor that is there would have to be for the movement.
    pub move_anchor_to: Option<Metres>,
}

impl Why {
    /// A reason that no anchor changes.
    pub fn new(code: ExclusionCode, text: impl Into<String>) -> Self {
        Self { code, text: text.into(), move_anchor_to: None }
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
const MOST_REPS: f64 = 60.0;

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
        Some(aside) => Err(vec![Why::new(ExclusionCode::PutAside, format!("put aside: {}", aside.reason))]),
        None => Ok(()),
    }
}

/// Limits and experience.
pub(super) fn by_person(movement: &Movement, person: &Person) -> Result<(), Vec<Why>> {
    let mut why: Vec<Why> = Vec::new();
    for limit in person.limits.iter().filter(|limit| bearing(movement, limit) == Bearing::Excludes) {
        why.push(Why::new(ExclusionCode::Limit, limit.text()));
    }
    if person.experience < movement.experience {
        why.push(Why::new(
            ExclusionCode::Experience,
            format!("for {} clients; this one is {}", movement.experience, person.experience),
        ));
    }
    if why.is_empty() { Ok(()) } else { Err(why) }
}

/// What the room lacks, and gravity.
pub(super) fn by_kit(ladder: &Ladder) -> Result<(), Vec<Why>> {
    if !ladder.steps.is_empty() {
        return Ok(());
    }
    let code = |kind| match kind {
        MissingKind::Kit => ExclusionCode::Kit,
        MissingKind::NoLoad => ExclusionCode::NoLoadOnTarget,
    };
    let why = |m: &Missing| Why { move_anchor_to: m.move_anchor_to, ..Why::new(code(m.kind), m.text.clone()) };
    Err(ladder.missing.iter().map(why).collect())
}

/// A ladder that begins too heavy or ends too light for this client.
pub(super) fn by_reach(ladder: &Ladder, movement: &Movement, start: &Start) -> Result<(), Vec<Why>> {
    if movement.style == Style::Hold {
        return Ok(());
    }
    let eligible = eligible(ladder, movement);
    let (Some(first), Some(last)) = (eligible.first(), eligible.last()) else { return Ok(()) };
    let load = |i: &usize| ladder.steps[*i].effective_kg;
    // Nobody is ruled out for being unknown: one SD towards the client decides.
    let expected = |sds: f64, load: Kilograms| start.reps_if(sds * start.sd, load.value());
    let about = start.expected.two_figures();
    if expected(1.0, load(first)) < LEAST_REPS {
        let text = format!(
            "the lightest step here is {:.0}; about {about:.0} is in reach: {}",
            load(first).two_figures(),
            what_lightens(movement)
        );
        return Err(vec![Why::new(ExclusionCode::OutOfReach, text)]);
    }
    if expected(-1.0, load(last)) > MOST_REPS {
        let text = format!(
            "over {MOST_REPS:.0} reps on the heaviest step here, {:.0}; about {about:.0} would be right: {}",
            load(last).two_figures(),
            what_weighs(movement)
        );
        return Err(vec![Why::new(ExclusionCode::TooLight, text)]);
    }
    Ok(())
}

/// What would bring a movement into reach.
const fn what_lightens(movement: &Movement) -> &'static str {
    match movement.rig {
        RigModel::PushUp { .. } | RigModel::BodyExtension { .. } => "higher hands would help",
        RigModel::Pike { .. } => "push-ups with the feet raised come first",
        RigModel::ChinUp { .. } | RigModel::Dip { .. } => "a band that helps, or a foot on a box, would do",
        RigModel::InvertedRow | RigModel::RingCurl { .. } | RigModel::BodyArc { .. } => "higher handles would help",
        _ => "a lighter weight or band would help",
    }
}

/// What would make a movement heavy enough.
const fn what_weighs(movement: &Movement) -> &'static str {
    match movement.rig {
        RigModel::SingleJoint { .. } | RigModel::Line { .. } => "a heavier weight or band would help",
        _ => "a loaded backpack or a harder variation would help",
    }
}
