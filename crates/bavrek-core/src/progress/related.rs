//! The next step of a load that is asked by what it is compared with: it goes where the maximum goes, or the other movement.

use super::Caller;
use super::call::{Call, CallKind};
use super::sessions::Session;
use crate::dose::Relation;
use crate::fit::{Related, asked_in_figures, compared, landing, nothing_to_compare};
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
        let says = match asked {
            Relation::OfMaximum { .. } => {
                let [low, high] = bounds(maximum, told_sd(known.sd)).map(Kilograms::two_figures);
                format!(
                    "{} of a maximum of about {:.1} ({low:.1} to {high:.1})",
                    asked.share_text(),
                    maximum.two_figures()
                )
            }
            _ => asked_in_figures(asked, of, found.wanted),
        };
        if self.is_too_few_on(to, known.mean, arm) {
            let mut call = self.by_repetitions(last);
            call.reasons.push(format!(
                "{says} would be {}, on which {} reps cannot be done: the reps decide",
                self.ladder.steps[to].label, self.question.intent.dose.reps[0]
            ));
            return call;
        }
        let short = last.below_bottom() || !last.reserve_kept();
        let (kind, step, to) = match self.above().filter(|_| to > at) {
            Some(_) if short => (CallKind::Hold, at, "not before the sets keep what is asked on this step".to_owned()),
            Some(up) => (CallKind::AddLoad, up, format!("up to {}", self.ladder.steps[up].label)),
            None if to < at => (CallKind::Ease, to, format!("down to {}", self.ladder.steps[to].label)),
            None => (CallKind::Hold, at, "the same step".to_owned()),
        };
        self.call(kind, Some(step), vec![last.told(), format!("{says}: {to}")])
    }

    /// The call of the repetitions, where a relation has nothing to go by.
    fn without(&self, last: &Session<'_>, asked: &Relation, why: Related) -> Call {
        let mut call = self.by_repetitions(last);
        call.reasons.push(format!("{} was asked, {}: the reps decide", asked.text(), nothing_to_compare(why, asked)));
        call
    }

    /// Whether the fewest repetitions that are asked cannot be done on a step, with nothing left in reserve. As for a start.
    fn is_too_few_on(&self, step: usize, reference: f64, arm: f64) -> bool {
        let load = (self.load(step) + arm).ln();
        reps::expected_reps((reference.exp() + arm).ln(), load, 0.0) < f64::from(self.question.intent.dose.reps[0])
    }
}
