//! What a fit answers.

use std::sync::Arc;

use super::beside::Conflict;
use super::exclude::{Excluded, ExclusionCode, Why, is_nearly_out_of_reach};
use super::joint_shares::JointShares;
use super::kept::{Kept, Lost};
use super::note::{Note, Untrained};
use super::parts::Parts;
use super::reason::{self, Comparison, Lasts, Reason};
use super::start::{Miss, Start, eligible};
use super::weights::Weights;
use crate::anatomy::{Pattern, Region};
use crate::dose::Prescription;
use crate::ladder::{Ladder, LadderStep};
use crate::movement::Movement;
use crate::person::Person;
use crate::plan::Intent;
use crate::reference::Reference;

/// One way to carry out the intent here.
#[derive(Debug, Clone)]
pub struct Candidate<'a> {
    /// The movement.
    pub movement: &'a Movement,
    /// Its ladder here.
    pub ladder: Arc<Ladder>,
    /// Where to start on it.
    pub start: Start,
    /// Overall score, 0 to 1.
    pub score: f64,
    /// Its parts.
    pub parts: Parts,
    /// By which share of it the score was leaned by how the movement went with the trainer's clients; 0 where it was not.
    pub tilt: f64,
    /// What of the intent is kept.
    pub kept: Vec<Kept>,
    /// What of it is lost.
    pub lost: Vec<Lost>,
    /// Sets, reps and the starting load.
    pub prescription: Prescription,
    /// How it gets in the way of the block's other slots.
    pub conflicts: Vec<Conflict>,
    /// What the score and the load rest on.
    pub reasons: Vec<Reason>,
}

impl Candidate<'_> {
    /// How kind it is to the joints, in steps of a tenth, so that what is nearly as kind is judged by the job: 10 asks
    /// nothing of what must be spared.
    pub fn kindness(&self) -> u8 {
        (self.parts.joints.clamp(0.0, 1.0) * 10.0).round() as u8
    }

    /// Repetitions expected on a step of its ladder with the wanted reserve kept; none for a step that is not there.
    pub fn reps_on(&self, step: usize) -> Option<f64> {
        let load = self.ladder.steps.get(step)?.effective_kg.value();
        Some(self.start.reps_on(load))
    }

    /// How far a mixed set is expected to go on its step; none where no such set is asked.
    pub fn lasts(&self, intent: &Intent) -> Option<Lasts> {
        reason::mixed(self.movement, intent).map(|set| Lasts::of(intent, set, &self.start))
    }

    /// What a load that is asked by what it is compared with came to on this step; none where none is asked so.
    pub fn in_relation(&self, intent: &Intent) -> Option<Comparison> {
        Comparison::of(intent, self.movement, &self.ladder, &self.start)
    }

    /// What the first set asks of both joints of a press, push-up or row.
    pub fn curves(&self, person: &Person) -> Option<JointShares> {
        JointShares::of(self.movement, person, self.step())
    }

    /// Whether no step of its ladder misses a zone less: the heaviest is too light, or the lightest to start on too heavy.
    pub fn is_at_its_end(&self, miss: Miss) -> bool {
        self.towards(miss).is_none()
    }

    /// The next step that misses a zone less: up from one that is too light, down from one that is too heavy.
    fn towards(&self, miss: Miss) -> Option<usize> {
        let at = self.start.step;
        let steps = eligible(&self.ladder, self.movement);
        match miss {
            Miss::TooLight => steps.into_iter().find(|i| *i > at),
            Miss::TooHeavy => steps.into_iter().rfind(|i| *i < at),
        }
    }

    /// How a step of its ladder misses a zone; none where it suits it or is not there.
    pub fn misses_on(&self, step: usize, zone: [u16; 2]) -> Option<Miss> {
        let there = step < self.ladder.steps.len();
        there.then(|| self.start.on(step, &self.ladder).misses(zone)).flatten()
    }

    /// How the step that would miss a zone less misses it in its turn, where the step of the start does.
    pub fn neighbour_misses(&self, zone: [u16; 2]) -> Option<Miss> {
        self.misses_on(self.towards(self.start.misses(zone)?)?, zone)
    }

    /// Whether a zone can be asked of it at all: it is not too heavy for that even on its lightest step.
    pub fn is_bearable(&self, zone: [u16; 2]) -> bool {
        self.start.misses(zone) != Some(Miss::TooHeavy) || !self.is_at_its_end(Miss::TooHeavy)
    }

    /// Whether hardly a repetition is expected on its step.
    pub fn is_nearly_out_of_reach(&self) -> bool {
        is_nearly_out_of_reach(self.movement, &self.start)
    }

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
    pub notes: Vec<Note>,
    /// How the parts were weighed.
    pub weights: Weights,
    /// What the candidates were measured against, where the intent names it.
    pub reference: Option<Reference>,
}

impl<'a> FitAnswer<'a> {
    /// What became of a movement: its rank, or why it has none.
    pub fn verdict(&self, movement: &'a Movement, intent: &Intent) -> Verdict {
        if let Some(place) = self.candidates.iter().position(|c| c.movement.id == movement.id) {
            return Verdict::Ranked(place, self.behind(place));
        }
        match self.excluded.iter().find(|e| e.movement.id == movement.id) {
            Some(excluded) => Verdict::Excluded(excluded.why.clone()),
            None => Verdict::OffTarget(OffTarget::of(movement, intent)),
        }
    }

    /// The regions that nothing here trains directly, each with the plainest movement that would and what that takes.
    pub(super) fn untrained(&self, intent: &Intent) -> Vec<Note> {
        let trained = |region: &Region| self.candidates.iter().any(|c| c.movement.trains_directly(*region));
        let of = |region: &Region| {
            let trains = self.excluded.iter().filter(|e| e.movement.trains_directly(*region));
            // What is here and too heavy or too light says more than what is not here; of that what does the job as it is asked.
            let plain = |e: &&Excluded<'_>| (e.movement.pattern != intent.pattern, e.movement.variant_of.is_some());
            let of_load = |e: &&Excluded<'_>| e.why.iter().all(Why::is_of_load);
            let closed = trains.clone().filter(of_load).min_by_key(plain);
            let only_kit = |e: &&Excluded<'_>| e.why.iter().all(|w| w.code() == ExclusionCode::Kit);
            let closed = closed.or_else(|| trains.filter(only_kit).min_by_key(|e| e.why.len()));
            let would = closed.map(|e| (e.movement.name.clone(), e.why.clone()));
            Note::Untrained(Untrained { region: *region, would })
        };
        intent.regions.keys().filter(|region| !trained(region)).map(of).collect()
    }

    /// The parts in which the leader is better than the candidate at `place`, the costliest first.
    fn behind(&self, place: usize) -> Vec<String> {
        let (leader, own) = (&self.candidates[0], &self.candidates[place]);
        let parts = leader.parts.costs_against(&own.parts, &self.weights);
        let leaned = ("how it went with your clients", leader.tilt.ln_1p() - own.tilt.ln_1p());
        let mut behind: Vec<_> = parts.into_iter().chain([leaned]).filter(|(_, cost)| *cost > 0.005).collect();
        behind.sort_by(|a, b| b.1.total_cmp(&a.1));
        behind.into_iter().map(|(name, _)| name.to_owned()).collect()
    }
}

/// What became of a movement in a fit.
#[derive(Debug, Clone, PartialEq)]
pub enum Verdict {
    /// Its place from 0, and the parts in which the leader beats it, the costliest first.
    Ranked(usize, Vec<String>),
    /// Ruled out, with the reasons.
    Excluded(Vec<Why>),
    /// It does another job.
    OffTarget(OffTarget),
}

/// What a movement does instead of the job that is asked for.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct OffTarget {
    /// Its pattern.
    pub pattern: Pattern,
    /// What it trains directly.
    pub direct: Vec<Region>,
    /// What was asked for.
    pub asked: Vec<Region>,
    /// Whether it works a little of that; nothing of it otherwise.
    pub hardly: bool,
}

impl OffTarget {
    fn of(movement: &Movement, intent: &Intent) -> Self {
        Self {
            pattern: movement.pattern,
            direct: movement.direct.keys().copied().collect(),
            asked: intent.regions.keys().copied().collect(),
            hardly: intent.regions.keys().any(|r| movement.region_weight(*r) > 0.0),
        }
    }
}
