//! Calls that lead to another movement: what else does the job, and what is harder or easier here and now.

use super::Caller;
use super::call::Call;
use super::kind::{Alternative, CallKind, Other};
use super::reason::{Difference, Next, Pain, Reason, Target};
use crate::anatomy::{Joint, Region};
use crate::fit::{Candidate, Miss};
use crate::log::LoggedSet;
use crate::movement::{Movement, Style};
use crate::person::Person;
use crate::spot::{are_twins, kindest_first, sparing};

/// Movements that are named with a swap.
const NAMED: usize = 3;
/// Repetitions below which a harder movement is out of reach for now.
const LEAST_REPS: f64 = 3.0;
/// Repetitions above which an easier movement is no training.
const MOST_REPS: f64 = 30.0;
/// A harder movement gives at least so many repetitions fewer than the one that is left.
const HARDER_BY: f64 = 2.0;

/// Repetitions from the bottom to the top of a zone that came down to what was done. Assumed.
const EASED_ZONE: u16 = 3;

/// Movements that are looked at on the catalogue's way up, which may lead round.
const MOST_WAYS_UP: usize = 8;

/// How hard a harder movement may be.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Hardest {
    /// The line's zone is nearly reached on it: what a step up must do as well.
    InZone,
    /// A few repetitions are enough, where nothing else is left to grow by.
    AFew,
}

impl Caller<'_> {
    /// Another movement for the job, with the best three named.
    pub(super) fn swap(&self, reasons: Vec<Reason>) -> Call {
        self.swap_for(self.question.person, None, reasons)
    }

    /// The same for the person as a pain leaves them: what hurt is spared in what is named, and what asks least of the
    /// joint comes first.
    pub(super) fn swap_sparing(&self, hurt: &LoggedSet, reasons: Vec<Reason>) -> Call {
        let Some(joint) = hurt.pain_at else { return self.swap(reasons) };
        let spared = sparing(self.question.person, joint, hurt.pain_side, hurt.pain);
        let mut call = self.swap_for(&spared, Some(joint), reasons);
        if call.alternatives.iter().all(|a| a.other.is_none()) {
            call.reasons.push(Reason::Pain(Pain::NothingSpares(joint)));
        }
        call
    }

    fn swap_for(&self, person: &Person, hurt: Option<Joint>, reasons: Vec<Reason>) -> Call {
        let mut call = self.call(CallKind::Swap, None, reasons);
        let mut found = self.fitter_for(person).fit(self.question.intent).candidates;
        if let Some(joint) = hurt {
            kindest_first(&mut found, joint);
        }
        let others = found
            .iter()
            .filter(|c| c.movement.id != self.movement.id)
            .filter(|c| !are_twins(self.movement, c.movement))
            // What is too heavy on its lightest step is no way out, least of all for who is hurt.
            .filter(|c| c.movement.style == Style::Hold || c.is_bearable(self.question.intent.dose.reps))
            .take(NAMED);
        let named: Vec<Alternative> = others.map(|c| alternative(CallKind::Swap, c)).collect();
        call.alternatives.retain(|a| !a.call.rises());
        if !named.is_empty() {
            call.alternatives.extend(named);
        }
        call
    }

    /// A movement for the same job that is harder in this room, by so much at most: it gives fewer repetitions, but some. How long
    /// something can be held says nothing of another hold: there the catalogue alone says what is harder. None where there is none.
    pub(super) fn harder(&self, most: Hardest, mut reasons: Vec<Reason>) -> Option<Call> {
        let here = self.believed_here()?;
        let found = self.related();
        let zone = self.question.intent.dose.reps;
        let up: Vec<&str> = self.ways_up().collect();
        let place = |c: &Candidate<'_>| up.iter().position(|id| *id == c.movement.id);
        // The lightest step that gives fewer repetitions than here, but some.
        let step_of = |c: &Candidate<'_>| {
            let trains = |i: usize| most == Hardest::AFew || c.misses_on(i, zone) != Some(Miss::TooHeavy);
            let some = |n: f64| (LEAST_REPS..=here - HARDER_BY).contains(&n);
            let fewer = |i: &usize| c.reps_on(*i).is_some_and(some) && trains(*i);
            if self.movement.style == Style::Hold {
                return place(c).map(|_| c.start.step);
            }
            (0..c.ladder.steps.len()).find(fewer)
        };
        // A variation is of the same strength: a dip goes on to no pushdown. And a weight is no heavier for a hand that works alone: only
        // the body's own is.
        let alike = |c: &&Candidate<'_>| {
            let kin = c.movement.carry_over.pattern == self.movement.carry_over.pattern;
            let sides = c.movement.unilateral() == self.movement.unilateral() || !c.movement.is_weighed();
            kin && sides || place(c).is_some()
        };
        let stepped = found.iter().filter(alike).filter_map(|c| Some((c, step_of(c)?)));
        // The catalogue's way up is tried first, the nearest before the next; then what does the job best.
        let order = |c: &Candidate<'_>| place(c).unwrap_or(usize::MAX);
        let (chosen, step) =
            stepped.min_by(|(a, _), (b, _)| order(a).cmp(&order(b)).then(b.score.total_cmp(&a.score)))?;
        reasons.push(Reason::Next(Next::Harder(self.expected_on(chosen, step))));
        Some(self.to(CallKind::HarderVariation, chosen, step, reasons))
    }

    /// The movements that the catalogue puts above this one, the nearest first.
    fn ways_up(&self) -> impl Iterator<Item = &str> {
        let above = |id: &&str| self.catalogue.movement(id)?.harder.as_deref();
        std::iter::successors(self.movement.harder.as_deref(), above).take(MOST_WAYS_UP)
    }

    /// Repetitions that are expected on the step in use, as the last sets say and as all that is known says, whichever are fewer: sets that
    /// nobody believes are no measure of what is harder.
    fn believed_here(&self) -> Option<f64> {
        let told = self.expected_here()?;
        let step = self.at.map(|at| &self.ladder.steps[at]).filter(|_| self.movement.style != Style::Hold);
        let known = step.and_then(|step| self.fitter().on_step(self.movement, step, self.question.intent, &[]));
        Some(known.map_or(told, |own| own.start.reps.min(told)))
    }

    /// A movement on a step with what is expected of it.
    fn expected_on(&self, chosen: &Candidate<'_>, step: usize) -> Target {
        let reps = chosen.reps_on(step).filter(|_| self.movement.style != Style::Hold).map(|reps| reps.max(0.0));
        Target { movement: chosen.movement.name.clone(), step: chosen.ladder.steps[step].label.clone(), reps }
    }

    /// A movement for the same job that is easier in this room; the lightest step again where there is none.
    pub(super) fn easier(&self, mut reasons: Vec<Reason>) -> Call {
        let found = self.related();
        let here = self.expected_here().unwrap_or(0.0);
        let low = f64::from(self.question.intent.dose.reps[0]);
        // The heaviest step that gives the bottom of the zone, and more than here.
        let step_of = |c: &Candidate<'_>| {
            let more = |i: &usize| {
                c.reps_on(*i).is_some_and(|n| n >= low && n > here + HARDER_BY && n <= MOST_REPS.max(2.0 * low))
            };
            (0..c.ladder.steps.len()).rev().find(more)
        };
        let first = |c: &Candidate<'_>| Some(c.movement.id.as_str()) == self.movement.easier.as_deref();
        let mut fitting: Vec<(&Candidate<'_>, usize)> = found.iter().filter_map(|c| Some((c, step_of(c)?))).collect();
        fitting.sort_by(|(a, _), (b, _)| first(b).cmp(&first(a)).then(b.score.total_cmp(&a.score)));
        let Some((chosen, step)) = fitting.first().copied() else {
            return self.eased_here(reasons);
        };
        reasons.push(Reason::Next(Next::Easier(self.expected_on(chosen, step))));
        self.to(CallKind::Ease, chosen, step, reasons)
    }

    /// Nothing lighter and nothing easier here: the repetitions come down to what was done, and grow from there.
    fn eased_here(&self, mut reasons: Vec<Reason>) -> Call {
        let mut call = self.call(CallKind::Ease, self.at, Vec::new());
        let done = self.sessions.last().map_or(0, super::sessions::Session::least_reps);
        let zone = [done.max(1), (done + EASED_ZONE).max(1)];
        let counted = done < self.question.intent.dose.reps[0];
        for set in call.prescription.sets.iter_mut().filter(|_| counted) {
            set.reps = set.reps.map(|_| zone);
        }
        if counted {
            reasons.push(Reason::Next(Next::RepsDown(zone)));
        }
        reasons.push(Reason::Next(Next::LighterWouldHelp));
        Call { reasons, ..call }
    }

    /// A variant of the movement that does the job here and asks less of a region, with what is different about it.
    pub(super) fn variant_without(&self, felt: Option<Region>) -> Option<(Alternative, Difference)> {
        let root = |m: &Movement| m.variant_of.clone().unwrap_or_else(|| m.id.clone());
        let asks = |m: &Movement| felt.map_or(0.0, |region| m.region_weight(region));
        let mine = self.movement;
        for candidate in self.related() {
            let other = candidate.movement;
            let kin = root(other) == root(mine) && !are_twins(mine, other) && asks(other) <= asks(mine);
            let differs = if other.grip != mine.grip {
                Difference::Handle
            } else if other.arm_position != mine.arm_position {
                Difference::Elbow
            } else if other.rig.hands_apart() != mine.rig.hands_apart() {
                Difference::Hands
            } else {
                continue;
            };
            if kin {
                return Some((alternative(CallKind::Swap, &candidate), differs));
            }
        }
        None
    }

    /// Movements of the same pattern that do the job here, limits and experience read.
    fn related(&self) -> Vec<Candidate<'_>> {
        let mut found = self.fitter().fit(self.question.intent).candidates;
        found.retain(|c| {
            c.movement.id != self.movement.id
                && c.movement.pattern == self.movement.pattern
                && c.movement.style == self.movement.style
        });
        found
    }

    /// Repetitions expected on the step in use with the reserve kept.
    fn expected_here(&self) -> Option<f64> {
        let last = self.sessions.last()?;
        if self.movement.style == Style::Hold {
            return Some(f64::MAX);
        }
        Some(last.least_to_failure() - f64::from(self.question.intent.dose.reserve()))
    }

    fn to(&self, call: CallKind, chosen: &Candidate<'_>, step: usize, reasons: Vec<Reason>) -> Call {
        let mut made = self.call(call, None, reasons);
        let step = &chosen.ladder.steps[step];
        made.exercise = Some(chosen.movement.id.clone());
        made.prescription = chosen.prescription.clone();
        for set in &mut made.prescription.sets {
            *set = set.on(step.load);
        }
        made.step = Some(step.clone());
        made
    }
}

fn alternative(call: CallKind, candidate: &Candidate<'_>) -> Alternative {
    Alternative {
        call,
        step: Some(candidate.step().clone()),
        other: Some(Other {
            exercise: candidate.movement.id.clone(),
            name: candidate.movement.name.clone(),
            likely: (candidate.movement.style != Style::Hold).then(|| candidate.start.likely()),
        }),
    }
}
