//! What leads what where scores alone would not say so: the plain movement before its doubted variant, the supported
//! before the unsupported.

use std::collections::BTreeMap;

use super::answer::Candidate;
use super::leanings::Leanings;
use super::score::{FEWEST, MOST};
use crate::anatomy::Pattern;
use crate::movement::Movement;
use crate::plan::{Intent, Sides};

/// A movement that yields stands this share below the one that leads it.
pub(super) const BEHIND: f64 = 0.995;
/// Longest chain of movements that yield to each other.
const LONGEST_CHAIN: usize = 8;
/// Tension that differs by less is alike.
const ALIKE: f64 = 0.02;
/// Joints at least this kind, so that a movement can lead for its plainness.
pub(super) const SOUND: f64 = 0.99;

/// Lowers the score of what must not lead. A doubted variant stays behind the plain movement it comes from, where that has
/// a step of five to thirty repetitions, and so does one side at a time behind both together. What yields to another does so where the joints are sound and
/// that one is no less hard where it should be. Where schools differ, what the trainer has decided leads.
pub(super) fn settle(candidates: &mut [Candidate<'_>], intent: &Intent, leanings: Leanings) {
    for _ in 0..LONGEST_CHAIN {
        let scores: BTreeMap<String, Leader> = candidates
            .iter()
            .filter(|c| (FEWEST..=MOST).contains(&c.start.reps))
            .map(|c| {
                let (score, sound) = (c.score, c.parts.joints >= SOUND);
                (
                    c.movement.id.clone(),
                    Leader {
                        score,
                        sound,
                        pattern: c.movement.pattern,
                        doubted: c.movement.is_doubted(),
                        one_side: c.movement.unilateral(),
                        tension: c.parts.tension,
                    },
                )
            })
            .collect();
        let parents: BTreeMap<&str, &str> = candidates
            .iter()
            .filter_map(|c| Some((c.movement.id.as_str(), c.movement.variant_of.as_deref()?)))
            .collect();
        let caps: Vec<Option<f64>> = candidates.iter().map(|c| cap(c, &scores, &parents, (intent, leanings))).collect();
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
    doubted: bool,
    one_side: bool,
    tension: f64,
}

/// The most that a candidate may score; none where nothing stands before it.
fn cap(
    candidate: &Candidate<'_>,
    scores: &BTreeMap<String, Leader>,
    parents: &BTreeMap<&str, &str>,
    (intent, leanings): (&Intent, Leanings),
) -> Option<f64> {
    let movement = candidate.movement;
    let told = leanings.on(movement);
    let free = |id: &str| told.before == Some(id);
    let one_wanted = intent.sides == Some(Sides::One);
    let mut leaders: Vec<f64> = Vec::new();
    for plainer in ancestors(movement, parents).filter(|id| !free(id)).filter_map(|id| scores.get(id)) {
        // A variant that does another job than its parent answers for itself, and a doubt is no better than another.
        let same_job = plainer.pattern == movement.pattern;
        let doubted = movement.is_doubted() && !plainer.doubted;
        let one_side = movement.unilateral() && !plainer.one_side && !one_wanted;
        if same_job && (doubted || one_side) {
            leaders.push(plainer.score);
        }
    }
    let named = movement.yields_to.iter().filter(|id| !free(id)).filter_map(|id| scores.get(id));
    let leads = |l: &&Leader| {
        let hard_there = l.tension >= candidate.parts.tension - ALIKE;
        l.sound && hard_there && !(one_wanted && movement.unilateral() && !l.one_side)
    };
    leaders.extend(named.filter(leads).map(|l| l.score));
    // What the trainer has decided needs no reason but a sound joint.
    leaders.extend(told.behind.and_then(|id| scores.get(id)).filter(|l| l.sound).map(|l| l.score));
    leaders.into_iter().min_by(f64::total_cmp).map(|least| least * BEHIND)
}

/// The movements that one comes from, the nearest first.
fn ancestors<'p>(movement: &'p Movement, parents: &'p BTreeMap<&str, &str>) -> impl Iterator<Item = &'p str> {
    let next = |id: &&'p str| parents.get(id).copied();
    std::iter::successors(movement.variant_of.as_deref(), next).take(LONGEST_CHAIN)
}
