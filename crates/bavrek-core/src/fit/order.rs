//! What leads what where scores alone would not say so: the plain movement before its doubted variant, the supported
//! before the unsupported.

use std::collections::BTreeMap;

use super::Candidate;
use super::score::{FEWEST, MOST};
use crate::anatomy::Pattern;
use crate::plan::Intent;

/// A movement that yields stands this share below the one that leads it.
const BEHIND: f64 = 0.995;
/// Longest chain of movements that yield to each other.
const LONGEST_CHAIN: usize = 8;
/// Joints at least this kind, so that a movement can lead for its plainness.
const SOUND: f64 = 0.99;

/// Lowers the score of what must not lead. A doubted variant stays behind the plain movement it comes from, where that has
/// a step of five to thirty repetitions. What yields to another does so where the joints are sound and nothing is said about
/// where in the length it must be hard.
pub(super) fn settle(candidates: &mut [Candidate<'_>], intent: &Intent) {
    let plain_word = intent.length_emphasis.is_none() && intent.reference_exercise.is_none();
    for _ in 0..LONGEST_CHAIN {
        let scores: BTreeMap<String, Leader> = candidates
            .iter()
            .filter(|c| (FEWEST..=MOST).contains(&c.start.reps))
            .map(|c| {
                let (score, sound) = (c.score, c.parts.joints >= SOUND);
                (c.movement.id.clone(), Leader { score, sound, pattern: c.movement.pattern })
            })
            .collect();
        let parents: BTreeMap<&str, &str> = candidates
            .iter()
            .filter_map(|c| Some((c.movement.id.as_str(), c.movement.variant_of.as_deref()?)))
            .collect();
        let caps: Vec<Option<f64>> =
            candidates.iter().map(|c| cap(c, &scores, &parents, plain_word)).collect();
        let mut moved = false;
        for (candidate, cap) in candidates.iter_mut().zip(caps) {
            if let Some(cap) = cap.filter(|cap| candidate.score > *cap) {
                candidate.score = cap;
                moved = true;
            }
        }
        if !moved {
            return;
        }
    }
}

/// A candidate with a step of five to thirty repetitions.
#[derive(Debug, Clone, Copy)]
struct Leader {
    score: f64,
    sound: bool,
    pattern: Pattern,
}

/// The most that a candidate may score; none where nothing stands before it.
fn cap(
    candidate: &Candidate<'_>,
    scores: &BTreeMap<String, Leader>,
    parents: &BTreeMap<&str, &str>,
    plain_word: bool,
) -> Option<f64> {
    let movement = candidate.movement;
    let mut leaders: Vec<f64> = Vec::new();
    if movement.is_doubted() {
        let mut next = movement.variant_of.as_deref();
        for _ in 0..LONGEST_CHAIN {
            let Some(id) = next else { break };
            // A variant that does another job than its parent answers for itself.
            leaders.extend(scores.get(id).filter(|l| l.pattern == movement.pattern).map(|l| l.score));
            next = parents.get(id).copied();
        }
    }
    if plain_word {
        let sound = movement.yields_to.iter().filter_map(|id| scores.get(id).filter(|l| l.sound));
        leaders.extend(sound.map(|l| l.score));
    }
    leaders.into_iter().min_by(f64::total_cmp).map(|least| least * BEHIND)
}
