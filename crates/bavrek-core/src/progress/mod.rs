//! The next step of a slot: what was done, held against what was asked, becomes one proposal with its reasons.
//!
//! Safety is read first: what the place and the limits allow, pain, time away. Then what was seen, then what the
//! repetitions say.

mod call;
mod dose;
mod elsewhere;
mod grown;
mod kept;
mod kind;
mod reason;
mod refusal;
mod related;
mod sessions;
mod watched;

pub use call::{Call, Maximum, NextQuestion};
pub use dose::dose_for;
pub use kind::{Alternative, CallKind, Other};
pub use reason::{
    Asks, Beside, Difference, Done, DoneSet, Held, Lighter, Next, OtherKind, Pain, Reason, Seen, Target, Then, Toward,
    Went,
};
pub use refusal::Refused;

use std::collections::BTreeSet;
use std::sync::Arc;

use chrono::NaiveDate;

use crate::fit::{Fitter, Room};
use crate::ladder::{Ladder, LadderStep};
use crate::log::LoggedSet;
use crate::movement::{Catalogue, Movement, Style};
use crate::person::Person;
use crate::reps;
use crate::strength::{Ledger, bounds, told_sd};
use crate::units::Kilograms;

use self::sessions::Session;

/// Two percent of tolerance finds the rung that was used although its load may have been rounded when logged.
const ROUNDED: f64 = 1.02;
/// Missed workouts of a line in a row after which nothing is added; one is nothing. Assumed.
const MISSED_IN_A_ROW: usize = 2;

/// The call for a slot.
pub fn next(catalogue: &Catalogue, question: &NextQuestion<'_>) -> Call {
    let ledger = Ledger::replay(catalogue, question.person, question.history, Some(question.today));
    next_by(catalogue, question, &ledger)
}

/// The call for a slot where the log was replayed already, for the same person, log and day: many slots share one ledger.
pub fn next_by<'a>(catalogue: &'a Catalogue, question: &NextQuestion<'a>, ledger: &Ledger<'a>) -> Call {
    let anew =
        |movement: &Movement| Arc::new(Ladder::of_line(movement, question.person, question.kit, question.intent));
    next_on(catalogue, question, ledger, anew)
}

/// The same where the ladder of the line's movement may have been worked out already, for the question's person, kit and line.
pub fn next_on<'a>(
    catalogue: &'a Catalogue,
    question: &NextQuestion<'a>,
    ledger: &Ledger<'a>,
    ladder: impl FnOnce(&Movement) -> Arc<Ladder>,
) -> Call {
    match sessions::called(catalogue, question) {
        Some(movement) => Caller::new(catalogue, question, movement, (ledger, ladder(movement))).decide(),
        None => Call {
            call: CallKind::Hold,
            exercise: None,
            step: None,
            prescription: question.prescription.clone(),
            reasons: vec![Reason::FirstSession],
            alternatives: vec![],
            e1rm: None,
        },
    }
}

/// All that a call is decided from.
struct Caller<'a> {
    catalogue: &'a Catalogue,
    question: &'a NextQuestion<'a>,
    movement: &'a Movement,
    ledger: &'a Ledger<'a>,
    ladder: Arc<Ladder>,
    /// The rung of the working load of the last session.
    at: Option<usize>,
    /// Sessions of the movement, oldest first.
    sessions: Vec<Session<'a>>,
    e1rm: Option<Maximum>,
}

impl<'a> Caller<'a> {
    fn new(
        catalogue: &'a Catalogue,
        question: &'a NextQuestion<'a>,
        movement: &'a Movement,
        (ledger, ladder): (&'a Ledger<'a>, Arc<Ladder>),
    ) -> Self {
        let sessions = sessions::of(movement, question);
        let at = sessions.last().and_then(|s| s.load).and_then(|load| ladder.at(load * ROUNDED));
        let e1rm = maximum(ledger, movement, &sessions);
        Self { catalogue, question, movement, ledger, ladder, at, sessions, e1rm }
    }

    fn decide(&self) -> Call {
        let Some(last) = self.sessions.last() else {
            let in_part = self.question.history.iter().any(|s| s.exercise == self.movement.id);
            return self.call(CallKind::Hold, self.at, vec![Reason::NoSetYet { in_part }]);
        };
        let mut call = self
            .referred()
            .or_else(|| self.impossible())
            .or_else(|| self.ruled_out())
            .or_else(|| self.hurt(last))
            .or_else(|| self.eased_by_limit())
            .or_else(|| self.sore())
            .or_else(|| self.away())
            .or_else(|| self.watched(last))
            .unwrap_or_else(|| self.grown(last));
        if (call.call.rises() || call.call == CallKind::Deload)
            && let Some(reason) = self.missed_since(last)
        {
            let mut reasons = call.reasons;
            reasons.push(reason);
            call = self.call(CallKind::Hold, self.at, reasons);
        }
        if call.call.rises() && self.nothing_is_added() {
            let mut reasons = call.reasons;
            reasons.push(Reason::NothingAdded);
            call = self.call(CallKind::Hold, self.at, reasons);
        }
        if self.nothing_is_added() {
            call.alternatives.retain(|a| !a.call.rises());
        }
        if !self.painful_days().is_empty() {
            call.alternatives.retain(|a| a.call != CallKind::Hold || call.call == CallKind::Hold);
        }
        call.reasons.extend(Self::beside(last));
        call
    }

    /// Why neither more nor a lighter week comes next where several workouts in a row were missed: the way back is the same
    /// step, and rest there was. A step that was far too light is no way back: it is put right all the same.
    fn missed_since(&self, last: &Session<'_>) -> Option<Reason> {
        let since = |day: &NaiveDate| *day > last.date && *day < self.question.today;
        let days: BTreeSet<NaiveDate> = self.question.missed.iter().copied().filter(since).collect();
        let far_off = self.question.intent.dose.compared().is_none() && self.far_off(last).is_some();
        (days.len() >= MISSED_IN_A_ROW && !far_off).then(|| Reason::Missed(days.into_iter().collect()))
    }

    /// What the figures say, once nothing else stands in the way: seconds of what is held, repetitions of what is counted,
    /// and of everything else what it is compared by.
    fn grown(&self, last: &Session<'_>) -> Call {
        if last.counted.is_empty() {
            return self.of_other_kinds(last);
        }
        if self.movement.style == Style::Hold || last.is_held() {
            return self.held(last);
        }
        let unknown = if self.is_step_unknown() { self.on_unknown_step(last) } else { None };
        unknown.unwrap_or_else(|| self.counted(last))
    }

    /// What the repetitions say.
    fn counted(&self, last: &Session<'_>) -> Call {
        if let Some(asked) = self.question.intent.dose.compared() {
            return self.by_relation(last, asked);
        }
        self.by_repetitions(last)
    }

    fn by_repetitions(&self, last: &Session<'_>) -> Call {
        self.far_off(last)
            .or_else(|| self.restored(last))
            .or_else(|| self.upwards(last))
            .or_else(|| self.too_hard(last))
            .or_else(|| self.worn(last))
            .or_else(|| self.stalled())
            .unwrap_or_else(|| self.within(last))
    }

    fn step(&self, index: Option<usize>) -> Option<LadderStep> {
        index.and_then(|i| self.ladder.steps.get(i)).cloned()
    }

    fn label(&self, index: usize) -> String {
        self.ladder.steps[index].label.clone()
    }

    fn load(&self, index: usize) -> f64 {
        self.ladder.steps[index].effective_kg.value()
    }

    /// The next step up that keeps the resistance curve: a much larger or smaller band share is another exercise.
    fn above(&self) -> Option<usize> {
        let at = self.at?;
        (at + 1..self.ladder.steps.len()).find(|i| self.is_same_way(at, *i))
    }

    /// Whether a step is done the way of another: along the same curve, or in two parts where that is asked, whose first steps have one.
    fn is_same_way(&self, from: usize, to: usize) -> bool {
        self.question.intent.dose.band_percent().is_some() || !self.ladder.changes_curve(from, to)
    }

    /// The next step down that keeps the curve.
    fn below(&self) -> Option<usize> {
        let at = self.at?;
        (0..at).rev().find(|i| self.is_same_way(at, *i))
    }

    /// The largest step of at most so many kilograms, and of at least so many.
    fn at_most(&self, most: f64, least: f64) -> Option<usize> {
        let fits = |i: &usize| (least..=most).contains(&self.load(*i));
        (0..self.ladder.steps.len()).rev().filter(|i| self.at.is_none_or(|at| self.is_same_way(at, *i))).find(fits)
    }

    /// How a load compares with another where the arm is lifted with it.
    fn ratio(&self, from: f64, to: f64) -> f64 {
        let arm = self.movement.rig.own_arm(self.question.person.body_mass_kg).value();
        (to + arm) / (from + arm)
    }

    fn call(&self, call: CallKind, index: Option<usize>, reasons: Vec<Reason>) -> Call {
        let step = self.step(index);
        let prescription = match &step {
            Some(step) => dose_for(call, self.question.intent, self.question.prescription, step),
            None => self.question.prescription.clone(),
        };
        let alternatives = self.alternatives(call);
        let exercise = Some(self.movement.id.clone());
        Call { call, exercise, step, prescription, reasons, alternatives, e1rm: self.e1rm }
    }

    fn alternatives(&self, taken: CallKind) -> Vec<Alternative> {
        let to = |call, step| Alternative { call, step, other: None };
        let mut all = vec![to(CallKind::Hold, self.step(self.at))];
        all.extend(self.step(self.above()).map(|up| to(CallKind::AddLoad, Some(up))));
        all.extend(self.step(self.below()).map(|down| to(CallKind::Ease, Some(down))));
        all.push(to(CallKind::Swap, None));
        all.retain(|a| a.call != taken);
        all
    }

    /// What does the job here, with all that is known of the client.
    fn fitter(&self) -> Fitter<'a, 'a> {
        self.fitter_for(self.question.person)
    }

    /// The same for a person who must be spared something more.
    fn fitter_for<'p>(&self, person: &'p Person) -> Fitter<'a, 'p>
    where
        'a: 'p,
    {
        let NextQuestion { kit, put_aside, method, history, today, .. } = *self.question;
        let room = Room { put_aside, method, ..Room::plain(person, kit) };
        Fitter::new(self.catalogue, room, history, Some(today))
    }
}

fn maximum(ledger: &Ledger<'_>, movement: &Movement, sessions: &[Session<'_>]) -> Option<Maximum> {
    let short_enough =
        |s: &&LoggedSet| s.reps.is_some_and(|r| f64::from(r + u16::from(s.rir.unwrap_or(2))) <= reps::MOST_FOR_MAXIMUM);
    sessions.iter().flat_map(|d| &d.sets).copied().find(short_enough)?;
    let predicted = ledger.predict(movement);
    let top = reps::log_load_for(predicted.mean, 1.0, 0.0);
    // From 12 repetitions to one, the relation itself is uncertain.
    let sd = told_sd(predicted.sd).hypot(0.11 * reps::g(reps::REFERENCE_REPS));
    let kg = Kilograms(top.exp());
    let [low_kg, high_kg] = bounds(kg, sd);
    Some(Maximum { kg, low_kg, high_kg })
}
