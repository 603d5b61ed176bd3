//! What rules a movement out, always with the reason.

use super::start::{NINETY, Start};
use crate::anatomy::vocabulary;
use crate::ladder::{Ladder, MissingKind};
use crate::movement::{LimitEffect, Movement};
use crate::person::{Person, Severity};
use crate::plan::Intent;
use crate::strength::reps;

vocabulary!(
    /// Why a movement is ruled out.
    ExclusionCode {
        Kit => "kit", "kit";
        Limit => "limit", "limit";
        Experience => "experience", "experience";
        NoLoadOnTarget => "no_load_on_target", "no load on the target";
        OutOfReach => "out_of_reach", "out of reach";
        PutAside => "put_aside", "put aside";
    }
);

/// One reason.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Why {
    /// Kind of reason.
    pub code: ExclusionCode,
    /// A sentence.
    pub text: String,
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
        Some(aside) => Err(vec![Why { code: ExclusionCode::PutAside, text: format!("put aside: {}", aside.reason) }]),
        None => Ok(()),
    }
}

/// Limits and experience.
pub(super) fn by_person(movement: &Movement, person: &Person) -> Result<(), Vec<Why>> {
    let mut why: Vec<Why> = Vec::new();
    for limit in &person.limits {
        for rule in movement.limits.iter().filter(|r| r.joint == limit.joint && r.what == limit.what) {
            let excluded = match rule.effect {
                LimitEffect::Exclude => limit.severity >= Severity::Moderate,
                LimitEffect::Ease => limit.severity == Severity::Severe,
            };
            if excluded {
                why.push(Why { code: ExclusionCode::Limit, text: limit.text() });
            }
        }
    }
    if person.experience < movement.experience {
        why.push(Why {
            code: ExclusionCode::Experience,
            text: format!("for {} clients; this one is {}", movement.experience, person.experience),
        });
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
    Err(ladder.missing.iter().map(|m| Why { code: code(m.kind), text: m.text.clone() }).collect())
}

/// A lightest step on which hardly a repetition is expected.
pub(super) fn by_reach(ladder: &Ladder, start: &Start, intent: &Intent) -> Result<(), Vec<Why>> {
    let lightest = ladder.steps[0].effective_kg;
    // The sure side of the estimate decides: nobody is ruled out for being unknown.
    let hopeful = start.reference + NINETY * start.sd;
    let reps = reps::expected_reps(hopeful, lightest.value().ln(), f64::from(intent.reserve()));
    if reps >= LEAST_REPS {
        return Ok(());
    }
    Err(vec![Why {
        code: ExclusionCode::OutOfReach,
        text: format!(
            "the lightest step here is {:.0}; about {:.0} is in reach",
            lightest.two_figures(),
            start.expected.two_figures()
        ),
    }])
}
