//! What a turn asks for, as the phone asks it back.

use bavrek_core::dose::{Part, SetKind, SetPlan};
use bavrek_core::script::Turn;
use uuid::Uuid;

use super::floor::{Floor, Post};
use super::forms::Basis;

/// What is counted of a set.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Asked {
    /// What the set is made of.
    pub(super) kind: SetKind,
    /// Repetitions that are wanted, where they are counted.
    pub(super) reps: Option<[u16; 2]>,
    /// Seconds that are wanted, where they are counted.
    pub(super) seconds: Option<u16>,
    /// Which set of the slot it is, from 0.
    pub(super) round: usize,
}

impl Asked {
    /// What a form's turn asks of what it was filled in against. A form without one is about the next turn of its slot.
    pub(super) fn of(floor: &Floor, post: &Post, basis: &Basis, turn: &str) -> Option<Self> {
        let next = floor.turn_of(post.slot.id);
        let round = turn.parse::<usize>().ok().or_else(|| next.map(|t| t.round))?;
        let sets = &basis.dose.sets;
        let plan = sets.get(round.min(sets.len().checked_sub(1)?))?;
        Some(Self::from_plan(plan, round))
    }

    /// The same of a turn of the script.
    pub(super) fn from_turn(turn: &Turn<Uuid>) -> Self {
        Self::from_plan(&turn.work, turn.round)
    }

    pub(super) fn from_plan(plan: &SetPlan, round: usize) -> Self {
        let (moved, held) = plan.mix().iter().fold((0_u16, 0_u16), |(moved, held), part| match part {
            Part::Reps { reps, .. } => (moved.saturating_add(*reps), held),
            Part::Holds { holds, seconds } => (moved, held.saturating_add(holds.saturating_mul(*seconds))),
        });
        let (reps, seconds) = match plan.kind {
            SetKind::Hold => (None, plan.seconds),
            SetKind::Station => (plan.reps.or(Some([5, 30])), plan.seconds),
            SetKind::Mixed => (Some([moved.max(1), moved.max(1)]), (held > 0).then_some(held)),
            _ => (Some(plan.reps.unwrap_or([5, 20])), None),
        };
        Self { kind: plan.kind, reps, seconds, round }
    }

    /// Whether a set is logged with its kind: a plain one is not.
    pub(super) fn logged_kind(&self) -> Option<SetKind> {
        matches!(self.kind, SetKind::Mixed | SetKind::Station | SetKind::ToTotal | SetKind::Extension | SetKind::Amrap)
            .then_some(self.kind)
    }

    /// Whether it asks what was left in the tank: not of what is counted in seconds alone.
    pub(super) fn asks_reserve(&self) -> bool {
        self.reps.is_some() && !matches!(self.kind, SetKind::Mixed | SetKind::Station)
    }

    /// Whether repetitions may be left open: whoever works against the clock need not count.
    pub(super) fn may_be_uncounted(&self) -> bool {
        self.kind == SetKind::Station
    }

    /// The question for the repetitions.
    pub(super) fn reps_legend(&self) -> &'static str {
        match self.kind {
            SetKind::Mixed => "Reps done, fast and slow together",
            SetKind::LoweringOnly => "Reps lowered",
            SetKind::Station => "Reps done, if they were counted",
            _ => "Reps done",
        }
    }

    /// The question for the seconds.
    pub(super) fn seconds_legend(&self) -> &'static str {
        match self.kind {
            SetKind::Mixed => "Seconds held in all",
            SetKind::Station => "Seconds worked",
            _ => "Seconds held",
        }
    }
}
