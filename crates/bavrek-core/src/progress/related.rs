//! The next step of a load that is asked as a share of the maximum: it goes where the maximum goes.

use super::Caller;
use super::call::{Call, CallKind};
use super::sessions::Session;
use crate::dose::Relation;
use crate::fit::nearest;
use crate::reps;
use crate::strength::{bounds, told_sd};
use crate::units::Kilograms;

impl Caller<'_> {
    /// The step that a share of the maximum asks today, one at a time upwards. What went far wrong or wrong twice is answered first, as
    /// of any other line; and where the sets cannot be done on that share, their repetitions decide as of any other.
    pub(super) fn by_maximum(&self, last: &Session<'_>, asked: Relation) -> Call {
        let down = self.far_off(last).filter(|call| !call.call.rises());
        if let Some(call) = down.or_else(|| self.restored(last)).or_else(|| self.too_hard(last)) {
            return call;
        }
        let Some(at) = self.at else { return self.by_repetitions(last) };
        let known = self.ledger.predict(self.movement);
        let arm = self.movement.rig.own_arm(self.question.person.body_mass_kg).value();
        let once = |log_load: f64| reps::log_load_for((log_load.exp() + arm).ln(), 1.0, 0.0).exp() - arm;
        let maximum = Kilograms(once(known.mean));
        let wanted = asked.shares().map(|share| share * maximum.value());
        let steps: Vec<usize> = (0..self.ladder.steps.len()).filter(|i| !self.ladder.changes_curve(at, *i)).collect();
        // Where even the lightest step is heavier, it is that.
        let to = nearest(&self.ladder, &steps, wanted).or(steps.first().copied()).unwrap_or(at);
        let [low, high] = bounds(maximum, told_sd(known.sd)).map(Kilograms::two_figures);
        let says = format!(
            "{} of a maximum of about {:.1} ({low:.1} to {high:.1})",
            asked.share_text(),
            maximum.two_figures()
        );
        if self.is_too_few_on(to, known.mean, arm) {
            let mut call = self.by_repetitions(last);
            call.reasons.push(format!(
                "{says} would be {}, on which {} reps cannot be done: the reps decide",
                self.ladder.steps[to].label, self.question.intent.reps[0]
            ));
            return call;
        }
        let (kind, step, to) = match self.above().filter(|_| to > at) {
            Some(up) => (CallKind::AddLoad, up, format!("up to {}", self.ladder.steps[up].label)),
            None if to < at => (CallKind::Ease, to, format!("down to {}", self.ladder.steps[to].label)),
            None => (CallKind::Hold, at, "the same step".to_owned()),
        };
        self.call(kind, Some(step), vec![last.told(), format!("{says}: {to}")])
    }

    /// Whether the fewest repetitions that are asked cannot be done on a step, with nothing left in reserve. As for a start.
    fn is_too_few_on(&self, step: usize, reference: f64, arm: f64) -> bool {
        let load = (self.load(step) + arm).ln();
        reps::expected_reps((reference.exp() + arm).ln(), load, 0.0) < f64::from(self.question.intent.reps[0])
    }
}
