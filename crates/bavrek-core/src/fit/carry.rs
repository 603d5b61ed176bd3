//! Lines that go elsewhere: to another day's room, on a trip, to another client.

use super::answer::Candidate;
use super::reason::{Reason, TEST_BEYOND};
use super::refit::{Because, Known};
use super::start::Miss;
use super::{Fitter, Worked};
use crate::plan::Intent;

/// Fewest and most repetitions to which a dose is bent, and how wide its zone then is.
const BENT: [u16; 2] = [4, 35];
const BENT_ZONE: u16 = 6;

/// A job with the zone that a movement can give where its own cannot be asked: long sets where nothing is heavier or what is would be too
/// heavy to begin with, short ones where nothing is lighter that is not too light. None beyond what is training.
pub fn bent<'a>(intent: &Intent, mut candidate: Candidate<'a>) -> Option<(Intent, Candidate<'a>)> {
    candidate.prescription.zone()?;
    let reps = candidate.start.reps.round();
    let high = (BENT[0]..=BENT[1]).find(|n| f64::from(*n) >= reps).filter(|n| f64::from(*n) - reps < 1.0)?;
    let zone = [high.saturating_sub(BENT_ZONE).max(BENT[0] - 1), high];
    for set in candidate.prescription.sets.iter_mut().filter(|s| s.reps.is_some()) {
        set.reps = Some(zone);
    }
    for reason in &mut candidate.reasons {
        if let Reason::TestSet { over: Some(over), .. } = reason {
            *over = zone[1] + TEST_BEYOND;
        }
    }
    let miss = if zone[1] > intent.dose.reps[1] { Miss::TooLight } else { Miss::TooHeavy };
    candidate.reasons.push(Reason::Bent { miss, end: candidate.is_at_its_end(miss), zone });
    let intent = intent.clone().dosed(candidate.prescription.loaded(None));
    Some((intent, candidate))
}

/// Score, as a share of the best, down to which a movement that suits the dose is taken before one that does not. Assumed: a dose
/// that can be done says more than a purpose that is met a little better.
const SUITS: f64 = 0.8;

/// What a line is done with elsewhere.
#[derive(Debug, Clone)]
pub struct Carried<'a> {
    /// The movement on its step.
    pub candidate: Candidate<'a>,
    /// Why it is the one.
    pub because: Because,
    /// What the line asks there: its own dose, or the one it is bent to where no step suits it.
    pub intent: Intent,
    /// Whether it was bent.
    pub bent: bool,
}

impl<'a> Fitter<'a, '_> {
    /// What a line is done with here after what is done before it in the session: what goes on from today where that suits the
    /// dose, else the best that suits it, else the best that can be borne, with its dose bent to what there is. None where nothing
    /// does the job so: what is resisted by the other hand is for who has nothing else, and that is decided on the bench.
    pub fn carried(&self, intent: &Intent, known: &Known<'_>, before: &[Worked<'_>]) -> Option<Carried<'a>> {
        let counted = intent.counted();
        let there = self.refit(&counted, known);
        let (first, why) = there.proposed.filter(|(_, why)| *why != Because::Nearest)?;
        let tired: Vec<Candidate<'a>> = there.candidates.into_iter().map(|c| c.after(before, false)).collect();
        let zone = counted.dose.reps;
        let counts = intent.dose.prescription().zone().is_some();
        // A careful start suits as well: the steps beyond it are there.
        let suits = |c: &Candidate<'_>| !counts || c.start.misses(zone).is_none_or(|miss| !c.is_at_its_end(miss));
        let usual = |c: &Candidate<'_>| !c.movement.rig.is_resisted();
        let goes_on = matches!(why, Because::Pinned | Because::Same | Because::Before);
        let least = SUITS * tired.iter().map(|c| c.score).fold(0.0, f64::max);
        let (at, because) = if why == Because::Pinned || (goes_on && suits(&tired[first])) {
            (first, why)
        } else if let Some(at) = tired.iter().position(|c| suits(c) && usual(c) && c.score >= least) {
            (at, Because::Best)
        } else if goes_on && tired[first].is_bearable(zone) {
            (first, why)
        } else {
            (tired.iter().position(|c| c.is_bearable(zone) && usual(c))?, Because::Best)
        };
        let candidate = tired.into_iter().nth(at)?;
        if because != Because::Pinned
            && !suits(&candidate)
            && let Some((intent, candidate)) = bent(intent, candidate.clone())
        {
            return Some(Carried { candidate, because, intent, bent: true });
        }
        Some(Carried { candidate, because, intent: intent.clone(), bent: false })
    }
}
