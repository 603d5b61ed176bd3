//! What leads what where scores alone would not say so: the plain movement before its doubted variant, the supported
//! before the unsupported.

use std::collections::BTreeMap;

use super::answer::Candidate;
use super::leanings::Leanings;
use super::score::{FEWEST, MOST};
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
        let scores: BTreeMap<String, Leader<'_>> = candidates
            .iter()
            .filter(|c| (FEWEST..=MOST).contains(&c.start.reps))
            .map(|c| (c.movement.id.clone(), Leader::of(c)))
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

/// What decides whether a candidate leads another.
#[derive(Debug, Clone, Copy)]
struct Leader<'a> {
    movement: &'a Movement,
    score: f64,
    sound: bool,
    tension: f64,
}

impl<'a> Leader<'a> {
    fn of(candidate: &Candidate<'a>) -> Self {
        let (score, tension) = (candidate.score, candidate.parts.tension);
        Self { movement: candidate.movement, score, sound: candidate.parts.joints >= SOUND, tension }
    }

    /// Whether one that names it yields to it: its joints are sound, it is no less hard where it should be, and it is no work of both
    /// sides where one was asked and that one gives it. Where the trainer has decided otherwise it is not.
    fn is_named_by(&self, other: &Self, (intent, leanings): (&Intent, Leanings)) -> bool {
        let named = other.movement.yields_to.contains(&self.movement.id);
        let decided = leanings.on(other.movement).before == Some(self.movement.id.as_str());
        let hard_there = self.tension >= other.tension - ALIKE;
        let one_wanted = intent.sides == Some(Sides::One);
        let other_sides = one_wanted && other.movement.unilateral() && !self.movement.unilateral();
        named && !decided && self.sound && hard_there && !other_sides
    }

    /// Whether one that comes from it stands behind it: doubted where it is not, or one side at a time where nobody asked. A variant that
    /// does another job than its parent answers for itself, and a doubt is no better than another.
    fn is_plainer_than(&self, other: &Self, intent: &Intent) -> bool {
        let same_job = self.movement.pattern == other.movement.pattern;
        let doubted = other.movement.is_doubted() && !self.movement.is_doubted();
        let alone = other.movement.unilateral() && !self.movement.unilateral();
        let one_side = alone && intent.sides != Some(Sides::One);
        same_job && (doubted || one_side)
    }
}

/// The most that a candidate may score; none where nothing stands before it.
fn cap(
    candidate: &Candidate<'_>,
    scores: &BTreeMap<String, Leader<'_>>,
    parents: &BTreeMap<&str, &str>,
    asked: (&Intent, Leanings),
) -> Option<f64> {
    let (movement, own) = (candidate.movement, Leader::of(candidate));
    let told = asked.1.on(movement);
    let free = |id: &&str| told.before != Some(*id);
    let plainer = ancestors(movement, parents).filter(free).filter_map(|id| scores.get(id));
    let plainer = plainer.filter(|leader| leader.is_plainer_than(&own, asked.0));
    // What yields to this one itself does not lead it besides: they would lower each other round and round.
    let leads = |leader: &Leader<'_>| scores.contains_key(&movement.id) && own.is_named_by(leader, asked);
    let plainer = plainer.filter(|leader| !leads(leader));
    let named = movement.yields_to.iter().filter_map(|id| scores.get(id));
    let named = named.filter(|leader| leader.is_named_by(&own, asked));
    // What the trainer has decided needs no reason but a sound joint.
    let decided = told.behind.and_then(|id| scores.get(id)).filter(|leader| leader.sound);
    let leaders = plainer.chain(named).chain(decided).map(|leader| leader.score);
    leaders.min_by(f64::total_cmp).map(|least| least * BEHIND)
}

/// The movements that one comes from, the nearest first.
fn ancestors<'p>(movement: &'p Movement, parents: &'p BTreeMap<&str, &str>) -> impl Iterator<Item = &'p str> {
    let next = |id: &&'p str| parents.get(id).copied();
    std::iter::successors(movement.variant_of.as_deref(), next).take(LONGEST_CHAIN)
}
