//! What stands in the way of more: the place, limits, pain, time away.

use std::collections::BTreeSet;

use chrono::{Days, NaiveDate};

use super::Caller;
use super::call::Call;
use super::dose::way_back;
use super::kind::CallKind;
use super::reason::{Lighter, Next, Pain, Reason};
use super::sessions::Session;
use crate::dose::SetPlan;
use crate::fit::{Bearing, bearing};
use crate::log::LoggedSet;
use crate::movement::Movement;
use crate::person::{Limit, Severity};
use crate::strength::ledger::NO_RISE;

/// Days within which pain twice is referred on.
const PAIN_DAYS: u64 = 14;
/// Days away after which a session is lighter, with the most and the least of the last load.
const LIGHTER: (i64, f64, f64) = (21, 0.93, 0.80);
/// The same for a long time away.
const MUCH_LIGHTER: (i64, f64, f64) = (42, 0.85, 0.70);
/// A load below this share of the best of the last weeks has been eased already.
const EASED: f64 = 0.97;
/// Weeks that count for that.
const EASED_WEEKS: u64 = 6;

impl Caller<'_> {
    /// A movement that this place cannot carry, or that the client is not ready for.
    pub(super) fn impossible(&self) -> Option<Call> {
        let missing = self.ladder.missing.first().filter(|_| self.ladder.steps.is_empty())?;
        let (movement, missing) = (self.movement.name.clone(), missing.clone());
        Some(self.swap(vec![Reason::NotHere { movement, missing }]))
    }

    /// A limit in force that excludes the movement.
    pub(super) fn ruled_out(&self) -> Option<Call> {
        let limits = &self.question.person.limits;
        let limit = *limits.iter().find(|l| bearing(self.movement, l) == Bearing::Excludes)?;
        Some(self.swap(vec![Reason::RulesOut { limit, movement: self.movement.name.clone() }]))
    }

    /// A limit in force that eases the movement, where that has not been done.
    pub(super) fn eased_by_limit(&self) -> Option<Call> {
        let eased = self.easing_limit()?;
        (!self.is_eased()).then(|| self.eased_for(eased))
    }

    /// A limit in force under which the movement is done with care.
    fn easing_limit(&self) -> Option<Limit> {
        let eases =
            |l: &&Limit| l.severity >= Severity::Moderate && matches!(bearing(self.movement, l), Bearing::Eases(_));
        self.question.person.limits.iter().find(eases).copied()
    }

    /// What an easier time took away comes back once it went well: the slot's own sets, before anything is added to them. Only
    /// of a line in a plan, whose dose is cut by calls alone (a dose written into a question is what somebody wanted), and not under a limit that
    /// asks for care.
    pub(super) fn restored(&self, last: &Session<'_>) -> Option<Call> {
        let (now, own) = (&self.question.prescription.sets, self.question.intent.dose.prescription());
        let well = !last.below_bottom() && last.reserve_kept() && !last.counted.is_empty();
        let top = |sets: &[SetPlan]| sets.first().and_then(|s| s.reps).map(|[_, high]| high);
        let fewer = now.len() < own.sets.len();
        // Fewer repetitions grow first: the slot's own come back from the top of them.
        let shorter = last.at_top() && top(now).zip(top(&own.sets)).is_some_and(|(now, own)| now < own);
        if self.question.planned.is_none() || !well || !(fewer || shorter) || self.easing_limit().is_some() {
            return None;
        }
        let why = Reason::WentWell { with: self.question.prescription.clone(), own: own.clone() };
        let mut call = self.call(CallKind::AddReps, self.at, vec![why]);
        if let Some(step) = &call.step {
            call.prescription = own.loaded(step.load);
        }
        Some(call)
    }

    fn eased_for(&self, limit: Limit) -> Call {
        let mut call = self.call(CallKind::Ease, self.below().or(self.at), vec![Reason::GoEasy(limit)]);
        if self.below().is_none() {
            way_back(&mut call.prescription, self.question.intent);
            call.reasons.push(self.cut(Lighter::Nothing));
        }
        call
    }

    /// That the dose is cut, for want of a step like this.
    fn cut(&self, why: Lighter) -> Reason {
        Reason::Next(Next::Cut(if self.is_step_unknown() { Lighter::Unknown } else { why }))
    }

    /// Whether the movement has been eased: it was trained since the limit counts, or, where that day is not known, the
    /// last load lies below what was done in the weeks before.
    fn is_eased(&self) -> bool {
        let Some(last) = self.sessions.last() else { return false };
        if let Some(since) = self.question.limits_since {
            return last.date >= since;
        }
        let since = last.date.checked_sub_days(Days::new(7 * EASED_WEEKS)).unwrap_or(last.date);
        let best = self
            .sessions
            .iter()
            .filter(|s| s.date >= since)
            .filter_map(|s| s.load)
            .map(super::super::units::Kilograms::value);
        last.load.is_some_and(|kg| kg.value() < EASED * best.fold(0.0, f64::max))
    }

    /// Whether a set says something about the same joints: the same pattern, or the same chain of strength.
    fn concerns(&self, set: &LoggedSet) -> Option<&Movement> {
        let other = self.catalogue.movement(&set.exercise)?;
        let same_joint = set.pain_at.is_some_and(|joint| self.movement.loads_joint(joint));
        let same_work =
            other.pattern == self.movement.pattern || other.carry_over.pattern == self.movement.carry_over.pattern;
        (same_joint || (set.pain_at.is_none() && same_work)).then_some(other)
    }

    /// Days of the last two weeks on which it hurt by 4 or more, in whatever movement of the same joints.
    pub(super) fn painful_days(&self) -> BTreeSet<NaiveDate> {
        let since = self.question.today.checked_sub_days(Days::new(PAIN_DAYS)).unwrap_or(self.question.today);
        let last = self.sessions.last().map_or(since, |s| s.date);
        let since = since.min(last.checked_sub_days(Days::new(PAIN_DAYS)).unwrap_or(last));
        let sets =
            self.question.history.iter().filter(|s| s.hurt() && s.date >= since && s.date <= self.question.today);
        sets.filter(|s| self.concerns(s).is_some()).map(|s| s.date).collect()
    }

    /// The worst mild pain of the last session.
    fn mild_pain(&self) -> Option<u8> {
        self.sessions.last()?.sets.iter().filter_map(|s| s.pain).filter(|p| (1..4).contains(p)).max()
    }

    /// Whether pain or time away forbids that anything is added.
    pub(super) fn nothing_is_added(&self) -> bool {
        !self.painful_days().is_empty() || self.mild_pain().is_some() || self.long_away().is_some()
    }

    /// Days since the movement, or what says as much of it, was last trained, where they are so many that nothing may rise. Sets whose
    /// load nobody wrote down say nothing of strength, and yet that it was trained.
    fn long_away(&self) -> Option<i64> {
        let days = self.ledger.days_away(self.movement);
        let days = days.or_else(|| Some((self.question.today - self.sessions.last()?.date).num_days()))?;
        (days > NO_RISE).then_some(days)
    }

    /// Pain on several days: before all else, whatever a limit asks.
    pub(super) fn referred(&self) -> Option<Call> {
        let days = self.painful_days().len();
        (days >= 2).then(|| self.call(CallKind::Refer, None, vec![Reason::Pain(Pain::OnDays(days))]))
    }

    /// Pain in the last session: going easy is not enough.
    pub(super) fn hurt(&self, last: &Session<'_>) -> Option<Call> {
        let set = last.sets.iter().copied().filter(|s| s.hurt()).max_by_key(|s| s.pain)?;
        let why = Reason::Pain(Pain::Here { of_ten: set.pain.unwrap_or(0), at: set.pain_at });
        Some(self.swap_sparing(set, vec![why]))
    }

    /// Pain that holds: lately in another movement of the same joints, or a little in this one.
    pub(super) fn sore(&self) -> Option<Call> {
        if let Some(day) = self.painful_days().first() {
            let other =
                self.question.history.iter().find(|s| s.date == *day && s.hurt()).and_then(|s| self.concerns(s));
            let why = Reason::Pain(Pain::Elsewhere { movement: other.map(|m| m.name.clone()) });
            return Some(self.call(CallKind::Hold, self.at, vec![why]));
        }
        let mild = self.mild_pain()?;
        Some(self.call(CallKind::Hold, self.at, vec![Reason::Pain(Pain::Mild(mild))]))
    }

    pub(super) fn away(&self) -> Option<Call> {
        let days = self.long_away()?;
        let away = Reason::Away { days, same_step: days <= LIGHTER.0 };
        if days <= LIGHTER.0 {
            return Some(self.call(CallKind::Hold, self.at, vec![away]));
        }
        let (_, most, least) = if days > MUCH_LIGHTER.0 { MUCH_LIGHTER } else { LIGHTER };
        let last = self.sessions.last().and_then(|s| s.load).map_or(0.0, super::super::units::Kilograms::value);
        let own = self.estimated_step().filter(|_| days > MUCH_LIGHTER.0);
        let lighter = self.at_most(most * last, least * last);
        let step = [lighter, own.filter(|i| self.load(*i) < most * last)].into_iter().flatten().min();
        if let Some(step) = step {
            let reasons = vec![away, Reason::Next(Next::LighterFirst(self.label(step)))];
            return Some(self.call(CallKind::Ease, Some(step), reasons));
        }
        let mut call = self.call(CallKind::Ease, self.at, vec![away, self.cut(Lighter::NothingLittle)]);
        way_back(&mut call.prescription, self.question.intent);
        Some(call)
    }
}
