//! What breaks a plan: which single missing thing stops which lines, and what stands ready for each.

use crate::anatomy::Joint;
use crate::fit::{Candidate, Fitter, ruled_out};
use crate::kit::KitItem;
use crate::ladder::{Ladder, LadderStep};
use crate::movement::Movement;
use crate::person::Person;
use crate::plan::Intent;
use crate::spot::{are_twins, in_use, kit_without, sparing};

/// Score, as a share of the best, below which a movement is no spare: it does another job. Assumed.
const GOOD_ENOUGH: f64 = 0.7;
/// Score, as a share of the best spare, down to which the one that spares more joints is taken. Assumed.
const NEARLY_AS_GOOD: f64 = 0.9;
/// Least and most of the load that another step may have, to go on with where the very weight is taken. Assumed.
const NEAR: [f64; 2] = [0.7, 1.1];
/// Movements of a line that are weighed as spares.
const WEIGHED: usize = 24;

/// A thing that may be missing on a day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Loss {
    /// A piece of the kit by its place, or one stamped weight of it: taken, or broken.
    Piece {
        /// Its place in the kit.
        index: usize,
        /// The weight.
        weight: Option<f64>,
    },
    /// A joint that has become sore.
    Sore(Joint),
}

/// A line as it is done.
#[derive(Debug, Clone, Copy)]
pub struct Done<'l, 'a> {
    /// What it is for.
    pub intent: &'l Intent,
    /// What does it.
    pub movement: &'a Movement,
    /// On this step.
    pub step: &'l LadderStep,
}

/// What may happen to a line.
#[derive(Debug, Clone)]
pub struct Risk<'a> {
    /// What would stop it, one thing at a time.
    pub breaks: Vec<Loss>,
    /// What stands ready, and what of [`Self::breaks`] would stop that as well. None where nothing else does the job here.
    pub spare: Option<(Candidate<'a>, Vec<Loss>)>,
}

/// Whether a movement on a step can go on without something: where one weight is taken, on a step near it.
pub fn stands(movement: &Movement, step: &LadderStep, (person, kit): (&Person, &[KitItem]), loss: Loss) -> bool {
    match loss {
        Loss::Sore(joint) => ruled_out(movement, &sparing(person, joint, None, None), kit).is_empty(),
        Loss::Piece { index, weight } => {
            let left = kit_without(kit, index, weight);
            let near = |other: &LadderStep| {
                let ratio = other.effective_kg.value() / step.effective_kg.value().max(f64::MIN_POSITIVE);
                (NEAR[0]..=NEAR[1]).contains(&ratio)
            };
            Ladder::can_set_up(movement, person, &left, step)
                || (weight.is_some() && Ladder::of(movement, person, &left).steps.iter().any(near))
        }
    }
}

/// What would stop a movement on a step: each piece it cannot do without, of dumbbells the very weight where no other is near, and
/// each joint.
pub fn breaks(movement: &Movement, step: &LadderStep, person: &Person, kit: &[KitItem]) -> Vec<Loss> {
    let weight = |index: &usize| match &kit[*index] {
        KitItem::Dumbbells(_) => step.load.map(|load| load.value),
        _ => None,
    };
    let pieces = in_use(movement, person, kit, step);
    let pieces = pieces.into_iter().map(|index| Loss::Piece { index, weight: weight(&index) });
    let sore = Joint::ALL.iter().map(|joint| Loss::Sore(*joint));
    pieces.chain(sore).filter(|loss| !stands(movement, step, (person, kit), *loss)).collect()
}

/// What may happen to a line, and what stands ready: the best other movement that goes on without the kit that would stop it, of
/// those nearly as good the one that spares most of the joints. One that the same kit would stop is none.
pub fn risk<'a>(fitter: &Fitter<'a, '_>, (person, kit): (&Person, &[KitItem]), done: &Done<'_, 'a>) -> Risk<'a> {
    let breaks = breaks(done.movement, done.step, person, kit);
    let zone = done.intent.counted().reps;
    let all = fitter.fit(&done.intent.counted()).candidates;
    let best = all.first().map_or(0.0, |c| c.score);
    let other = |c: &Candidate<'a>| {
        let same = c.movement.id == done.movement.id || are_twins(c.movement, done.movement);
        !same && c.score >= GOOD_ENOUGH * best && c.is_bearable(zone) && !c.movement.rig.is_resisted()
    };
    let pieces = |losses: &[Loss]| losses.iter().filter(|l| matches!(l, Loss::Piece { .. })).count();
    let still = |candidate: &Candidate<'a>| -> Vec<Loss> {
        let stopped = |loss: &&Loss| !stands(candidate.movement, candidate.step(), (person, kit), **loss);
        breaks.iter().filter(stopped).copied().collect()
    };
    let weighed = all.into_iter().filter(other).take(WEIGHED).map(|c| {
        let still = still(&c);
        (c, still)
    });
    let mut ready: Vec<(Candidate<'a>, Vec<Loss>)> =
        weighed.filter(|(_, still)| pieces(&breaks) == 0 || pieces(still) < pieces(&breaks)).collect();
    let fewest = ready.iter().map(|(_, still)| pieces(still)).min().unwrap_or_default();
    ready.retain(|(_, still)| pieces(still) == fewest);
    let top = ready.iter().map(|(c, _)| c.score).fold(0.0, f64::max);
    ready.retain(|(c, _)| c.score >= NEARLY_AS_GOOD * top);
    let spare = ready.into_iter().min_by_key(|(_, still)| still.len());
    Risk { breaks, spare }
}
