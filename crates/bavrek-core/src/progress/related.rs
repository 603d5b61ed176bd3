//! The next step of a load that is asked by what it is compared with: it goes where the maximum goes, or the other movement.

use super::Caller;
use super::call::Call;
use super::kind::CallKind;
use super::reason::{Asks, Reason, Toward, Went};
use super::sessions::Session;
use crate::dose::Relation;
use crate::fit::{Related, compared, landing};
use crate::reps;
use crate::strength::{bounds, told_sd};
use crate::units::Kilograms;

impl Caller<'_> {
    /// The step that a relation asks today, one at a time upwards and only from sets that kept what was asked. What went far wrong or
    /// wrong twice is answered first, as of any other line; and where the sets cannot be done on that load, or there is nothing to
    /// compare it with, their repetitions decide as of any other.
    pub(super) fn by_relation(&self, last: &Session<'_>, asked: &Relation) -> Call {
        let down = self.far_off(last).filter(|call| !call.call.rises());
        if let Some(call) = down.or_else(|| self.restored(last)).or_else(|| self.too_hard(last)) {
            return call;
        }
        let Some(at) = self.at else { return self.by_repetitions(last) };
        let known = self.ledger.predict(self.movement);
        let arm = self.movement.rig.own_arm(self.question.person.body_mass_kg).value();
        let once = |log_load: f64| reps::log_load_for((log_load.exp() + arm).ln(), 1.0, 0.0).exp() - arm;
        let maximum = Kilograms(once(known.mean));
        let of = match compared(asked, self.movement, maximum, self.ledger) {
            Ok(of) => of,
            Err(why) => return self.without(last, asked, why),
        };
        let steps: Vec<usize> = (0..self.ladder.steps.len()).filter(|i| self.is_same_way(at, *i)).collect();
        let found = landing(asked, of.load, &self.ladder, &steps);
        // Where even the lightest step is heavier, it is that.
        let to = found.step.or(steps.first().copied()).unwrap_or(at);
        let asks = match asked {
            Relation::OfMaximum { .. } => {
                Asks::OfMaximum { asked: asked.clone(), maximum, within: bounds(maximum, told_sd(known.sd)) }
            }
            _ => Asks::OfOther { asked: asked.clone(), of, wanted: found.wanted },
        };
        if self.is_too_few_on(to, known.mean, arm) {
            let mut call = self.by_repetitions(last);
            let (step, reps) = (self.label(to), self.question.intent.dose.reps[0]);
            call.reasons.push(Reason::TooHeavyForReps { asks, step, reps });
            return call;
        }
        let short = last.below_bottom() || !last.reserve_kept();
        let (kind, step, to) = match self.above().filter(|_| to > at) {
            Some(_) if short => (CallKind::Hold, at, Toward::NotYet),
            Some(up) => (CallKind::AddLoad, up, Toward::Up(self.label(up))),
            None if to < at => (CallKind::Ease, to, Toward::Down(self.label(to))),
            None => (CallKind::Hold, at, Toward::Same),
        };
        self.call(kind, Some(step), vec![Reason::Went(Went::Done(last.told())), Reason::InRelation { asks, to }])
    }

    /// The call of the repetitions, where a relation has nothing to go by.
    fn without(&self, last: &Session<'_>, asked: &Relation, why: Related) -> Call {
        let mut call = self.by_repetitions(last);
        call.reasons.push(Reason::NothingToCompare { asked: asked.clone(), why });
        call
    }

    /// Whether the fewest repetitions that are asked cannot be done on a step, with nothing left in reserve. As for a start.
    fn is_too_few_on(&self, step: usize, reference: f64, arm: f64) -> bool {
        let load = (self.load(step) + arm).ln();
        reps::expected_reps((reference.exp() + arm).ln(), load, 0.0) < f64::from(self.question.intent.dose.reps[0])
    }
}
