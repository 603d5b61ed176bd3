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
const GOOD_ENOUGH: f64 = 0.6;
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

/// Whether a movement on a step can go on without something.
fn stands(movement: &Movement, step: &LadderStep, (person, kit): (&Person, &[KitItem]), loss: Loss) -> bool {
    match loss {
        Loss::Piece { index, weight } => Ladder::can_set_up(movement, person, &kit_without(kit, index, weight), step),
        Loss::Sore(joint) => ruled_out(movement, &sparing(person, joint, None, None), kit).is_empty(),
    }
}

/// What would stop a movement on a step: each piece it cannot do without, of dumbbells the very weight, and each joint.
pub fn breaks(movement: &Movement, step: &LadderStep, person: &Person, kit: &[KitItem]) -> Vec<Loss> {
    let weight = |index: &usize| match &kit[*index] {
        KitItem::Dumbbells(_) => step.load.map(|load| load.value),
        _ => None,
    };
    let pieces = in_use(movement, person, kit, step);
    let pieces = pieces.into_iter().map(|index| Loss::Piece { index, weight: weight(&index) });
    let sore = Joint::ALL.iter().map(|joint| Loss::Sore(*joint));
    let stops = |loss: &Loss| !stands(movement, step, (person, kit), *loss);
    pieces.chain(sore.filter(stops)).collect()
}

/// What may happen to a line, and what stands ready: the best other movement that goes on through all of it, else through most
/// of it.
pub fn risk<'a>(fitter: &Fitter<'a, '_>, (person, kit): (&Person, &[KitItem]), done: &Done<'_, 'a>) -> Risk<'a> {
    let breaks = breaks(done.movement, done.step, person, kit);
    let zone = done.intent.counted().reps;
    let all = fitter.fit(&done.intent.counted()).candidates;
    let best = all.first().map_or(0.0, |c| c.score);
    let other = |c: &Candidate<'a>| {
        let same = c.movement.id == done.movement.id || are_twins(c.movement, done.movement);
        !same && c.score >= GOOD_ENOUGH * best && c.is_bearable(zone) && !c.movement.rig.is_resisted()
    };
    let mut spare: Option<(Candidate<'a>, Vec<Loss>)> = None;
    for candidate in all.into_iter().filter(other).take(WEIGHED) {
        let stopped = |loss: &&Loss| !stands(candidate.movement, candidate.step(), (person, kit), **loss);
        let still: Vec<Loss> = breaks.iter().filter(stopped).copied().collect();
        if spare.as_ref().is_none_or(|(_, known)| still.len() < known.len()) {
            let through = still.is_empty();
            spare = Some((candidate, still));
            if through {
                break;
            }
        }
    }
    Risk { breaks, spare }
}
