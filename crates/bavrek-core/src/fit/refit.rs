//! A slot at another place, or at the same one after a change: what is proposed, and why.

use super::Fitter;
use super::answer::Candidate;
use crate::ladder::LadderStep;
use crate::plan::Intent;

/// A movement that is known already goes on where it scores at least this share of the best. Assumed: a little worse is
/// worth the continuity.
const AS_GOOD: f64 = 0.93;

/// What is known of a slot before it is re-fitted.
#[derive(Debug, Clone, Copy, Default)]
pub struct Known<'k> {
    /// The movement in force at the place that is left, and whether it is pinned.
    pub today: Option<(&'k str, bool)>,
    /// The movement and step that were taken at the place to go to.
    pub before: Option<(&'k str, &'k LadderStep)>,
}

/// Why a candidate is the one that is proposed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Because {
    /// It is pinned.
    Pinned,
    /// It was taken there before, and can be set up as it was.
    Before,
    /// The movement goes on as it is.
    Same,
    /// It does the job best there.
    Best,
    /// Nothing does the job; this works a little of it.
    Nearest,
}

/// What a slot is answered with at a place.
#[derive(Debug, Clone)]
pub struct Refit<'a> {
    /// Best first; where nothing does the job, the nearest alone.
    pub candidates: Vec<Candidate<'a>>,
    /// The proposed one and why; none where nothing works there at all.
    pub proposed: Option<(usize, Because)>,
    /// Whether what was taken there before is still possible as it was.
    pub stands: bool,
    /// Whether a pinned movement is impossible there.
    pub unpinned: bool,
}

impl<'a> Fitter<'a, '_> {
    /// What to propose for a slot here: a pinned movement where it is possible, else what was taken here before where
    /// it can be set up as it was, else today's movement where it is nearly as good as the best, else the best. Where
    /// nothing does the job, the nearest is named.
    pub fn refit(&self, intent: &Intent, known: &Known<'_>) -> Refit<'a> {
        let mut candidates = self.fit(intent).candidates;
        let at = |id: &str| candidates.iter().position(|c| c.movement.id == id);
        let before =
            known.before.and_then(|(id, step)| at(id).filter(|i| self.possible(candidates[*i].movement, step)));
        let same = known.today.and_then(|(id, _)| at(id));
        let pinned = known.today.is_some_and(|(_, pinned)| pinned);
        let good = |i: &usize| candidates[*i].score >= AS_GOOD * candidates[0].score;
        let proposed = match (same.filter(|_| pinned), before) {
            (Some(i), _) => Some((i, Because::Pinned)),
            (None, Some(i)) => Some((i, Because::Before)),
            (None, None) => same.filter(good).map(|i| (i, Because::Same)),
        };
        let proposed = if candidates.is_empty() {
            candidates.extend(self.nearest(intent));
            (!candidates.is_empty()).then_some((0, Because::Nearest))
        } else {
            proposed.or(Some((0, Because::Best)))
        };
        Refit { candidates, proposed, stands: before.is_some(), unpinned: pinned && same.is_none() }
    }
}
