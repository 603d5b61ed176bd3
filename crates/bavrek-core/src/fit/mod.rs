//! The fit: which movements do a slot's job in this room, best first, with what is kept and lost and where to start.

mod answer;
mod as_written;
mod beside;
mod carry;
mod case;
mod compared;
mod exclude;
mod in_reach;
mod joint_shares;
mod joints;
mod kept;
mod lean;
mod leanings;
mod note;
mod order;
mod parts;
mod question;
mod reason;
mod refit;
mod related;
mod retold;
mod score;
mod start;
mod tired;
mod together;
mod weights;
mod whole;

pub use answer::{Candidate, FitAnswer, OffTarget, Verdict};
pub use as_written::AsWritten;
pub use beside::{Clash, Conflict, ConflictCode, Mate, conflicts};
pub use carry::{Carried, bent};
pub use compared::{Compared, Found, Met, Related};
pub(crate) use compared::{compared, landing};
pub(crate) use exclude::MOST_REPS;
pub use exclude::{Excluded, ExclusionCode, Lighter, PutAside, Why};
pub use joint_shares::{JointCurves, JointShares};
pub use joints::{Bearing, bearing, kindness};
pub use kept::{Kept, Lost};
pub use leanings::{DISPUTES, Dispute, FlyEnd, Leanings, Squeeze};
pub use note::{Note, Untrained};
pub use parts::Parts;
pub use question::{FitQuestion, Room};
pub use reason::{Asked, Care, Comparison, Lasts, Reason};
pub use refit::{Because, Known, Refit};
pub use start::{Basis, FEELER_REPS, FEELER_RESERVE, Likely, Miss, Start};
pub use tired::{Worked, tired};
pub use together::{BlockConflict, Repair, block_conflicts, may_replace, repair, shared};
pub use weights::Weights;
pub use whole::{Chosen, Seat, chosen};

use std::borrow::Cow;
use std::cell::RefCell;
use std::collections::BTreeMap;
use std::sync::Arc;

use chrono::NaiveDate;

use crate::execution::RangePart;
use crate::kit::KitItem;
use crate::ladder::{Ladder, LadderStep};
use crate::log::LoggedSet;
use crate::movement::{Catalogue, Movement};
use crate::person::Person;
use crate::plan::Intent;
use crate::reference::{Named, Reference};
use crate::strength::Ledger;
use crate::units::Seconds;

use self::case::{Case, Yardstick};

/// A movement must give the wanted regions at least this much to be considered for the job at all.
const LEAST_TARGETING: f64 = 0.22;

/// The least that counts where nothing does the job properly.
const LAST_RESORT: f64 = 0.08;

/// Answers a fit question from the catalogue.
pub fn fit<'a>(catalogue: &'a Catalogue, question: &FitQuestion<'_>) -> FitAnswer<'a> {
    let fitter = Fitter::new(catalogue, question.room(), question.history, question.today);
    fitter.fit_beside(question.intent, question.beside)
}

/// What a movement is judged by: the job, and how much each part of it counts.
struct Job<'j> {
    intent: &'j Intent,
    yardstick: Yardstick,
    weights: Weights,
    beside: &'j [Mate<'j>],
}

/// What is left of a score where a load is asked in two parts and the movement takes a band or a weight, but not both here. Assumed: what
/// does the job that way comes first, unless it does it badly.
const NOT_IN_TWO: f64 = 0.7;

/// A movement with the part of the range in which it is done, and what a band is to give of the load, percent.
type LadderKey<'a> = (&'a str, Option<RangePart>, Option<[u8; 2]>);

fn key<'a>(movement: &'a Movement, intent: &Intent) -> LadderKey<'a> {
    (&movement.id, intent.part_for(movement), intent.dose.band_percent())
}

/// Answers any number of intents for one client in one room: the log is replayed once, and a ladder that several slots
/// ask for is worked out once.
#[derive(Debug)]
pub struct Fitter<'a, 'r> {
    catalogue: &'a Catalogue,
    room: Room<'r>,
    ledger: Ledger<'a>,
    ladders: RefCell<BTreeMap<LadderKey<'a>, Arc<Ladder>>>,
}

/// The intent with what a mixed set needs in the place of repetitions that it does not ask for.
fn asked_of(intent: &Intent) -> Cow<'_, Intent> {
    if intent.dose.mixed().is_some() { Cow::Owned(intent.counted()) } else { Cow::Borrowed(intent) }
}

impl<'a, 'r> Fitter<'a, 'r> {
    /// Replays the log; sets after `today` are left out.
    pub fn new(catalogue: &'a Catalogue, room: Room<'r>, history: &[LoggedSet], today: Option<NaiveDate>) -> Self {
        Self::of(catalogue, room, Ledger::replay(catalogue, room.person, history, today))
    }

    /// The same where the log was replayed already, by the same catalogue and for the same person.
    pub fn of(catalogue: &'a Catalogue, room: Room<'r>, ledger: Ledger<'a>) -> Self {
        Self { catalogue, room, ledger, ladders: RefCell::default() }
    }

    /// The same with the ladder of a movement for an intent that was worked out already, for the same person and kit.
    #[must_use]
    pub fn knowing(self, movement: &'a Movement, intent: &Intent, ladder: Arc<Ladder>) -> Self {
        self.ladders.borrow_mut().insert(key(movement, intent), ladder);
        self
    }

    /// Which movements do the job of an intent.
    pub fn fit(&self, intent: &Intent) -> FitAnswer<'a> {
        self.fit_from(intent, &[], LEAST_TARGETING)
    }

    /// The same in a block where it alternates with others.
    pub fn fit_beside(&self, intent: &Intent, beside: &[Mate<'_>]) -> FitAnswer<'a> {
        self.fit_from(intent, beside, LEAST_TARGETING)
    }

    /// The nearest honest answer where nothing does the job: what works a little of it. None where nothing does even
    /// that.
    pub fn nearest(&self, intent: &Intent) -> Option<Candidate<'a>> {
        self.fit_from(intent, &[], LAST_RESORT).candidates.into_iter().next()
    }

    /// A movement on a step of its ladder, judged as the job's other candidates are. None where the movement or the step
    /// is not possible here.
    pub fn on_step(
        &self,
        movement: &'a Movement,
        step: &LadderStep,
        intent: &Intent,
        beside: &[Mate<'_>],
    ) -> Option<Candidate<'a>> {
        let found = self.one(movement, intent, beside, Some(step))?;
        (found.step().label == step.label).then_some(found)
    }

    /// A movement that is done already, for another dose: on today's step where that suits the zone, else where it would
    /// start. None where it is ruled out.
    pub fn kept_or_started(
        &self,
        movement: &'a Movement,
        today: &LadderStep,
        intent: &Intent,
    ) -> Option<Candidate<'a>> {
        let zone = intent.dose.prescription().zone().unwrap_or(intent.dose.reps);
        let kept = self.on_step(movement, today, intent, &[]).filter(|c| c.start.misses(zone).is_none());
        kept.or_else(|| self.one(movement, intent, &[], None))
    }

    /// A movement where it would start for a job, whether it does that best or not. None where it is ruled out.
    pub fn alone(&self, movement: &'a Movement, intent: &Intent) -> Option<Candidate<'a>> {
        self.one(movement, intent, &[], None)
    }

    /// A single movement judged for a job, whether it does that best or not.
    fn one(
        &self,
        movement: &'a Movement,
        intent: &Intent,
        beside: &[Mate<'_>],
        on: Option<&LadderStep>,
    ) -> Option<Candidate<'a>> {
        let intent = &asked_of(intent);
        let (reference, _) = self.reference(intent);
        let yardstick = Yardstick::of(intent, reference.as_ref(), self.room.method);
        let weights = self.room.weights.bent_by(self.room.method);
        let job = Job { intent, yardstick, weights, beside };
        let targeting = score::targeting(movement, intent, job.yardstick.style);
        self.judge(movement, &job, targeting, on).ok()
    }

    fn fit_from(&self, intent: &Intent, beside: &[Mate<'_>], least: f64) -> FitAnswer<'a> {
        let intent = &asked_of(intent);
        let (reference, note) = self.reference(intent);
        let yardstick = Yardstick::of(intent, reference.as_ref(), self.room.method);
        let weights = self.room.weights.bent_by(self.room.method);
        let job = Job { intent, yardstick, weights, beside };
        let mut notes: Vec<Note> = self.ledger.notes().into_iter().map(Note::Log).collect();
        notes.extend(Note::of_age(self.room.person));
        notes.extend(note);
        let mut answer = FitAnswer { candidates: Vec::new(), excluded: Vec::new(), notes, weights, reference };
        for movement in &self.catalogue.movements {
            let targeting = score::targeting(movement, intent, job.yardstick.style);
            if targeting < least {
                continue;
            }
            match self.judge(movement, &job, targeting, None) {
                Ok(candidate) => answer.candidates.push(candidate),
                Err(why) => answer.excluded.push(Excluded { movement, why }),
            }
        }
        lean::settle(&mut answer.candidates, &weights, (intent, self.room.leanings));
        answer.candidates.sort_by(|a, b| b.score.total_cmp(&a.score).then(a.movement.id.cmp(&b.movement.id)));
        in_reach::settle(&mut answer);
        let untrained = answer.untrained(intent);
        answer.notes.extend(untrained);
        answer
    }

    /// What the intent is measured against. A movement that works none of the asked regions says nothing about where
    /// they are hard: it is left out, with a note.
    fn reference(&self, intent: &Intent) -> (Option<Reference>, Option<Note>) {
        let named = intent.reference_exercise.as_deref().and_then(|id| Named::find(self.catalogue, id));
        let Some(named) = named else { return (None, None) };
        if !intent.regions.keys().any(|region| named.works(*region)) {
            let asked = intent.regions.keys().copied().collect();
            return (None, Some(Note::NotMeasured { reference: named.name().to_owned(), asked }));
        }
        (Reference::of(named, self.room.person), None)
    }

    /// Whether a step can be set up here as it is.
    pub fn possible(&self, movement: &Movement, step: &LadderStep) -> bool {
        Ladder::can_set_up(movement, self.room.person, self.room.kit, step)
    }

    fn ladder(&self, movement: &'a Movement, intent: &Intent) -> Arc<Ladder> {
        let mut ladders = self.ladders.borrow_mut();
        let ladder = ladders.entry(key(movement, intent));
        ladder.or_insert_with(|| Arc::new(Ladder::of_line(movement, self.room.person, self.room.kit, intent))).clone()
    }

    fn judge(
        &self,
        movement: &'a Movement,
        job: &Job<'_>,
        targeting: f64,
        on: Option<&LadderStep>,
    ) -> Result<Candidate<'a>, Vec<Why>> {
        let (person, intent) = (self.room.person, job.intent);
        exclude::by_trainer(movement, self.room.put_aside)?;
        exclude::by_person(movement, person)?;
        let ladder = self.ladder(movement, intent);
        exclude::by_kit(&ladder)?;
        let start = start::find(&ladder, movement, person, intent, &self.ledger);
        let ordinary = || {
            let intent = intent.uncompared();
            let ladder = self.ladder(movement, &intent);
            let step = start::find(&ladder, movement, person, &intent, &self.ledger).step;
            Some(ladder.steps.get(step)?.effective_kg)
        };
        let mut start = related::as_asked(start, &ladder, movement, intent, (person, &self.ledger), ordinary);
        match on.and_then(|on| ladder.steps.iter().position(|s| s.label == on.label)) {
            Some(step) => start = start.on(step, &ladder),
            None => exclude::by_reach(&ladder, movement, &start)?,
        }
        let step = &ladder.steps[start.step];
        let conflicts: Vec<_> =
            job.beside.iter().flat_map(|mate| conflicts(movement, step, mate, self.room.kit)).collect();
        let added = Seconds(conflicts.iter().map(|c| c.added_s.value()).sum());
        let case = Case { movement, person, intent, yardstick: &job.yardstick, ladder: &ladder, start: &start };
        let parts = score::parts(&case, targeting, added);
        let prescription = intent.prescription_for(movement.style).loaded(step.load);
        let (kept, mut lost) = kept::kept_and_lost(&case);
        let mut reasons = reason::reasons(&case);
        reasons.extend(self.room.method.map(Reason::School));
        if !conflicts.is_empty() {
            lost.extend(conflicts.iter().cloned().map(Lost::InTheWay));
            let around = beside::way_round(&case, job.beside, self.room.kit);
            reasons.extend(around.map(|(step, reps)| Reason::WithoutChanging { on: step.label.clone(), reps }));
        }
        let lean = lean::lean(self.room.record, movement, &parts);
        let tilt = lean.map_or(0.0, |(_, tilt)| tilt);
        reasons.extend(lean.map(|(went, tilt)| Reason::Leaned { went, tilt }));
        let mut score = lean::leaned(&parts, &job.weights, tilt);
        let apart = match start.related {
            Some(Related::NoMix) => Some(Lost::NoBandBeside),
            Some(Related::MixTooHeavy) => Some(Lost::TooHeavyWithBand),
            _ => None,
        };
        if let Some(apart) = apart {
            score *= NOT_IN_TWO;
            lost.push(apart);
        }
        Ok(Candidate { movement, ladder, start, score, parts, tilt, kept, lost, prescription, conflicts, reasons })
    }
}

/// Why a movement is not for this person in any room: limits and experience. Empty where it is.
pub fn ruled_out_anywhere(movement: &Movement, person: &Person) -> Vec<Why> {
    exclude::by_person(movement, person).err().unwrap_or_default()
}

/// Why a movement is not for this person in this room; empty where it is.
pub fn ruled_out(movement: &Movement, person: &Person, kit: &[KitItem]) -> Vec<Why> {
    let by_person = exclude::by_person(movement, person).err();
    let by_kit = || exclude::by_kit(&Ladder::of(movement, person, kit)).err();
    by_person.or_else(by_kit).unwrap_or_default()
}
