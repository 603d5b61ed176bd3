//! The fit: which movements do a slot's job in this room, best first, with what is kept and lost and where to start.

mod exclude;
mod score;
mod start;
mod words;

pub use exclude::{Excluded, ExclusionCode, Why};
pub use score::Parts;
pub use start::{Basis, Start};

use chrono::NaiveDate;

use crate::dose::Prescription;
use crate::kit::KitItem;
use crate::ladder::{Ladder, LadderStep};
use crate::log::LoggedSet;
use crate::movement::{Catalogue, Movement};
use crate::person::Person;
use crate::plan::Intent;
use crate::safety::{Caution, cautions};
use crate::strength::Ledger;

/// What a fit is asked for.
#[derive(Debug, Clone, Copy)]
pub struct FitQuestion<'a> {
    /// Who trains.
    pub person: &'a Person,
    /// What the room holds.
    pub kit: &'a [KitItem],
    /// What the slot is for.
    pub intent: &'a Intent,
    /// What was done before.
    pub history: &'a [LoggedSet],
    /// Sets after this day are left out.
    pub today: Option<NaiveDate>,
}

/// One way to carry out the intent here.
#[derive(Debug, Clone)]
pub struct Candidate<'a> {
    /// The movement.
    pub movement: &'a Movement,
    /// Its ladder here.
    pub ladder: Ladder,
    /// Where to start on it.
    pub start: Start,
    /// Overall score, 0 to 1.
    pub score: f64,
    /// Its parts.
    pub parts: Parts,
    /// What of the intent is kept.
    pub kept: Vec<String>,
    /// What of it is lost.
    pub lost: Vec<String>,
    /// Sets, reps and the starting load.
    pub prescription: Prescription,
    /// Cautions that apply.
    pub cautions: Vec<Caution>,
    /// How the score and the load came about.
    pub reasons: Vec<String>,
}

impl Candidate<'_> {
    /// The step to start on.
    pub fn step(&self) -> &LadderStep {
        &self.ladder.steps[self.start.step]
    }
}

/// All candidates by falling score, and what was ruled out with its reasons.
#[derive(Debug, Clone)]
pub struct FitAnswer<'a> {
    /// Best first.
    pub candidates: Vec<Candidate<'a>>,
    /// Movements that would do the job elsewhere.
    pub excluded: Vec<Excluded<'a>>,
}

/// A movement must give the wanted regions at least this much to be considered for the job at all.
const LEAST_TARGETING: f64 = 0.22;

/// Answers a fit question from the catalogue.
pub fn fit<'a>(catalogue: &'a Catalogue, question: &FitQuestion<'_>) -> FitAnswer<'a> {
    let ledger = Ledger::replay(catalogue, question.person, question.history, question.today);
    let reference = score::Reference::of(catalogue, question);
    let mut answer = FitAnswer { candidates: Vec::new(), excluded: Vec::new() };
    for movement in &catalogue.movements {
        let targeting = score::targeting(movement, question.intent);
        if targeting < LEAST_TARGETING {
            continue;
        }
        match judge(catalogue, question, movement, &ledger, &reference, targeting) {
            Ok(candidate) => answer.candidates.push(candidate),
            Err(why) => answer.excluded.push(Excluded { movement, why }),
        }
    }
    answer.candidates.sort_by(|a, b| b.score.total_cmp(&a.score).then(a.movement.id.cmp(&b.movement.id)));
    answer
}

/// Why a movement is not for this person in this room; empty where it is.
pub fn ruled_out(movement: &Movement, person: &Person, kit: &[KitItem]) -> Vec<Why> {
    let by_person = exclude::by_person(movement, person).err();
    let by_kit = || exclude::by_kit(&Ladder::of(movement, person, kit)).err();
    by_person.or_else(by_kit).unwrap_or_default()
}

fn judge<'a>(
    catalogue: &'a Catalogue,
    question: &FitQuestion<'_>,
    movement: &'a Movement,
    ledger: &Ledger<'_>,
    reference: &score::Reference,
    targeting: f64,
) -> Result<Candidate<'a>, Vec<Why>> {
    exclude::by_person(movement, question.person)?;
    let ladder = Ladder::of(movement, question.person, question.kit);
    exclude::by_kit(&ladder)?;
    let start = start::find(&ladder, movement, question.intent, ledger);
    exclude::by_reach(&ladder, &start, question.intent)?;
    let step = &ladder.steps[start.step];
    let parts = score::parts(movement, question, &ladder, &start, reference, targeting);
    let mut prescription = question.intent.prescription();
    for set in &mut prescription.sets {
        set.load = step.load;
    }
    let (kept, lost) = words::kept_and_lost(movement, question.intent, &ladder, &start, reference);
    let reasons = words::reasons(movement, question, &ladder, &start, &parts);
    let cautions = cautions(catalogue, movement, step, question.kit);
    Ok(Candidate { movement, start, score: parts.score(), parts, kept, lost, prescription, cautions, reasons, ladder })
}
