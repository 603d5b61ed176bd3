//! What a trainer refused is not proposed again before there is more to it.

use std::collections::BTreeSet;

use chrono::NaiveDate;

use super::call::{Call, NextQuestion};
use super::kind::{Alternative, CallKind};
use super::reason::Reason;

/// Sessions of the line's movement after which what was refused is proposed again, where it is still due. Assumed.
const AGAIN_AFTER: usize = 2;

/// A proposal that the trainer refused.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Refused {
    /// What was proposed.
    pub call: CallKind,
    /// On which step, by its label.
    pub step: Option<String>,
    /// Day of the last set that it rested on.
    pub after: NaiveDate,
}

impl Call {
    /// The call after what was refused of the line: what asks for more, or for a lighter week, is held for some sessions where
    /// the same was refused. Never what eases, swaps or refers: that is there for safety's sake, and is said every time.
    #[must_use]
    pub fn heeding(self, question: &NextQuestion<'_>, refused: &[Refused]) -> Self {
        if !self.call.rises() && self.call != CallKind::Deload {
            return self;
        }
        let label = self.step.as_ref().map(|s| s.label.clone());
        let same = |r: &&Refused| r.call == self.call && (r.step.is_none() || r.step == label);
        let Some(last) = refused.iter().filter(same).max_by_key(|r| r.after) else { return self };
        // A harder variation carries its own movement; the line goes on with the one that is planned.
        let own = question.planned.map(str::to_owned).or_else(|| self.exercise.clone());
        let since: BTreeSet<NaiveDate> = question
            .history
            .iter()
            .filter(|s| Some(s.exercise.as_str()) == own.as_deref() && s.date > last.after)
            .map(|s| s.date)
            .collect();
        if since.len() >= AGAIN_AFTER {
            return self;
        }
        Self { exercise: own, ..self.held(question, AGAIN_AFTER - since.len()) }
    }

    /// The same step and dose once more, with what was due as another choice.
    fn held(self, question: &NextQuestion<'_>, left: usize) -> Self {
        let mut reasons = self.reasons;
        reasons.push(Reason::Refused { call: self.call, sessions: left });
        let step = self.alternatives.iter().find(|a| a.call == CallKind::Hold).and_then(|a| a.step.clone());
        // A step can be taken all the same; other doses come back with the proposal.
        let due = self.step.filter(|_| self.call == CallKind::AddLoad);
        let due = due.map(|step| Alternative { call: self.call, step: Some(step), other: None });
        let others = self.alternatives.into_iter().filter(|a| a.call != CallKind::Hold && a.call != self.call);
        Self {
            call: CallKind::Hold,
            exercise: self.exercise,
            step,
            prescription: question.prescription.clone(),
            reasons,
            alternatives: due.into_iter().chain(others).collect(),
            e1rm: self.e1rm,
        }
    }
}
