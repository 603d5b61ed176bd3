//! How what a trainer's clients showed leans a score: a little, and never towards what a joint must be spared.

use super::answer::Candidate;
use super::leanings::Leanings;
use super::order::{self, BEHIND, SOUND};
use super::parts::Parts;
use super::weights::Weights;
use crate::across::{TrackRecord, Went};
use crate::movement::Movement;
use crate::plan::Intent;

/// Most rounds in which what goes back takes others with it: more than movements lead each other in a chain.
const MOST_ROUNDS: usize = 16;

/// How a movement went and by which share its score is leaned here. None where nothing is known, and where it would be lifted although a
/// joint is not all sound in it.
pub(super) fn lean(record: &TrackRecord, movement: &Movement, parts: &Parts) -> Option<(Went, f64)> {
    let tilt = record.tilt(&movement.id).filter(|tilt| *tilt < 0.0 || parts.joints >= SOUND)?;
    Some((record.went(&movement.id)?, tilt))
}

/// Puts candidates in their order, then leans it by the record. What would stand behind something kinder to the joints without the
/// record does so with it, however badly that one went.
pub(super) fn settle(candidates: &mut [Candidate<'_>], weights: &Weights, asked: (&Intent, Leanings)) {
    let (intent, leanings) = asked;
    if candidates.iter().all(|c| c.tilt == 0.0) {
        return order::settle(candidates, intent, leanings);
    }
    for candidate in &mut *candidates {
        candidate.score = candidate.parts.score(weights);
    }
    order::settle(candidates, intent, leanings);
    let plain: Vec<f64> = candidates.iter().map(|c| c.score).collect();
    for candidate in &mut *candidates {
        candidate.score = leaned(&candidate.parts, weights, candidate.tilt);
    }
    for _ in 0..MOST_ROUNDS {
        order::settle(candidates, intent, leanings);
        if !keep_kinder_ahead(candidates, &plain) {
            return;
        }
    }
}

/// A score with what the record says of its movement, at most 1.
pub(super) fn leaned(parts: &Parts, weights: &Weights, tilt: f64) -> f64 {
    (parts.score(weights) * (1.0 + tilt)).min(1.0)
}

/// Whether something was put back behind what is kinder. What goes back may lead others, which then follow it.
fn keep_kinder_ahead(candidates: &mut [Candidate<'_>], plain: &[f64]) -> bool {
    let mut order: Vec<usize> = (0..candidates.len()).collect();
    order.sort_by(|a, b| candidates[*b].parts.joints.total_cmp(&candidates[*a].parts.joints));
    let mut moved = false;
    for (place, at) in order.iter().enumerate() {
        let joints = candidates[*at].parts.joints;
        let kinder = order[..place].iter().filter(|i| candidates[**i].parts.joints > joints);
        let before = kinder.filter(|i| plain[**i] >= plain[*at]);
        let most = before.map(|i| candidates[*i].score).fold(f64::INFINITY, f64::min);
        if candidates[*at].score >= most {
            candidates[*at].score = most * BEHIND;
            moved = true;
        }
    }
    moved
}
