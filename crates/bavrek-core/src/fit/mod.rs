//! The fit: which movements do a slot's job in this room, best first, with what is kept and lost and where to start.

mod exclude;
mod score;
mod start;
mod words;

pub use exclude::{Excluded, ExclusionCode, PutAside, Why};
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
    /// Movements that the trainer put aside for this client.
    pub put_aside: &'a [PutAside],
}

impl<'a> FitQuestion<'a> {
    /// The question without a log and with nothing put aside.
    pub const fn plain(person: &'a Person, kit: &'a [KitItem], intent: &'a Intent) -> Self {
        Self { person, kit, intent, history: &[], today: None, put_aside: &[] }
    }
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
    /// What of the log was left out, and what else is to be said.
    pub notes: Vec<String>,
}

impl<'a> FitAnswer<'a> {
    /// What became of a movement: its rank, or why it has none.
    pub fn verdict(&self, movement: &'a Movement, intent: &Intent) -> Verdict {
        if let Some(place) = self.candidates.iter().position(|c| c.movement.id == movement.id) {
            return Verdict::Ranked(place, self.behind(place));
        }
        match self.excluded.iter().find(|e| e.movement.id == movement.id) {
            Some(excluded) => Verdict::Excluded(excluded.why.clone()),
            None => Verdict::OffTarget(words::off_target(movement, intent)),
        }
    }

    /// The parts in which the leader is better than the candidate at `place`, the costliest first.
    fn behind(&self, place: usize) -> Vec<String> {
        let (leader, own) = (&self.candidates[0].parts, &self.candidates[place].parts);
        let mut behind: Vec<_> = leader.costs_against(own).into_iter().filter(|(_, cost)| *cost > 0.005).collect();
        behind.sort_by(|a, b| b.1.total_cmp(&a.1));
        behind.into_iter().map(|(name, _)| name.to_owned()).collect()
    }
}

/// What became of a movement in a fit.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Verdict {
    /// Its place from 0, and the parts in which the leader beats it, the costliest first.
    Ranked(usize, Vec<String>),
    /// Ruled out, with the reasons.
    Excluded(Vec<Why>),
    /// It does another job: what it does instead.
    OffTarget(String),
}

/// A movement must give the wanted regions at least this much to be considered for the job at all.
const LEAST_TARGETING: f64 = 0.22;

/// Answers a fit question from the catalogue.
pub fn fit<'a>(catalogue: &'a Catalogue, question: &FitQuestion<'_>) -> FitAnswer<'a> {
    let ledger = Ledger::replay(catalogue, question.person, question.history, question.today);
    let reference = score::Reference::of(catalogue, question);
    let mut answer = FitAnswer { candidates: Vec::new(), excluded: Vec::new(), notes: ledger.notes() };
    for movement in &catalogue.movements {
        let targeting = score::targeting(movement, question.intent, reference.style);
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
    exclude::by_trainer(movement, question.put_aside)?;
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
