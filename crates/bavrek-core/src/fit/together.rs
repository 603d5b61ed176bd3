//! What the stations of a whole block cost each other every round, and the step that would spare it.

use std::collections::BTreeSet;

use super::beside::{Clash, Conflict, ConflictCode, Mate, conflicts};
use crate::anatomy::Region;
use crate::kit::KitItem;
use crate::ladder::{Ladder, LadderStep};
use crate::movement::Movement;
use crate::plan::BlockKind;
use crate::school::{is_compound, work_against_each_other};
use crate::units::Seconds;

/// How far a step that spares a change may be from today's, as a ratio: three repetitions or so make up for it. Assumed.
const WITHIN: f64 = 1.12;
/// Rest that has to be added where what fills one tires what should rest, s: half of a usual one. Assumed.
const REST_LOST_S: f64 = 60.0;
/// Share of a region from which a movement tires it. Assumed.
const WORKS: f64 = 0.5;

/// Stations of a block that get in each other's way.
#[derive(Debug, Clone, PartialEq)]
pub struct BlockConflict {
    /// Places of the stations in the block.
    pub stations: Vec<usize>,
    /// Name of the movement that is in the way first.
    pub own: String,
    /// In whose way and how, with the time that it adds to every round.
    pub conflict: Conflict,
}

impl BlockConflict {
    /// Its kind.
    pub const fn code(&self) -> ConflictCode {
        self.conflict.clash.code()
    }

    /// Time that it adds to every round.
    pub const fn added(&self) -> Seconds {
        self.conflict.added_s
    }
}

/// What gets in the way in a block whose stations alternate, each kind once: with two stations there and back, with more
/// once for every change on the way round.
pub fn block_conflicts(kind: BlockKind, stations: &[Mate<'_>], kit: &[KitItem]) -> Vec<BlockConflict> {
    let between = |i: usize, j: usize| conflicts(stations[i].movement, stations[i].step, &stations[j], kit);
    let pairs = (0..stations.len()).flat_map(|i| (i + 1..stations.len()).map(move |j| (i, j)));
    let mut found: Vec<BlockConflict> = Vec::new();
    for (i, j) in pairs {
        for conflict in between(i, j) {
            if let Some(known) = found.iter_mut().find(|f| f.code() == conflict.clash.code()) {
                let all: BTreeSet<usize> = known.stations.iter().copied().chain([i, j]).collect();
                known.stations = all.into_iter().collect();
            } else {
                let own = stations[i].movement.name.clone();
                found.push(BlockConflict { stations: vec![i, j], own, conflict });
            }
        }
    }
    for conflict in found.iter_mut().filter(|c| c.stations.len() > 2) {
        // One way from each of those in the way to the next, round and round.
        let next = conflict.stations.iter().cycle().skip(1);
        let ways = conflict.stations.iter().zip(next).filter_map(|(i, j)| {
            let found = between(*i, *j).into_iter().find(|c| c.clash.code() == conflict.code())?;
            Some(0.5 * found.added_s.value())
        });
        conflict.conflict.added_s = Seconds(ways.sum());
    }
    found.extend(tired(kind, stations));
    found
}

/// What fills the rests of the first station although it works the same: that one then rests less than it should.
fn tired(kind: BlockKind, stations: &[Mate<'_>]) -> Option<BlockConflict> {
    let (main, fillers) = stations.split_first().filter(|_| kind == BlockKind::FilledRest)?;
    let mut fillers = fillers.iter().zip(1..);
    let (at, region) = fillers.find_map(|(filler, at)| Some((at, shared(main.movement, filler.movement)?)))?;
    let conflict =
        Conflict { clash: Clash::Tires(region), with: main.movement.name.clone(), added_s: Seconds(REST_LOST_S) };
    Some(BlockConflict { stations: vec![0, at], own: stations[at].movement.name.clone(), conflict })
}

/// What two movements both work by half or more, whether directly or not, the most worked first: biceps that tire between chin-ups are
/// missing in these.
pub fn shared(main: &Movement, other: &Movement) -> Option<Region> {
    let share = |movement: &Movement, region: &Region| {
        movement.direct.get(region).or_else(|| movement.assisting.get(region)).copied().unwrap_or(0.0)
    };
    let both = |region: &Region| share(main, region).min(share(other, region));
    let tired = Region::ALL.iter().copied().filter(|region| both(region) >= WORKS);
    tired.max_by(|a, b| both(a).total_cmp(&both(b)))
}

/// A step of a station that leaves a block without conflicts of one kind, near enough to today's.
#[derive(Debug, Clone, PartialEq)]
pub struct Repair {
    /// The station's place in the block.
    pub station: usize,
    /// The step's place on its ladder.
    pub step: usize,
    /// Its load over today's, less one.
    pub change: f64,
}

/// The nearest step of any of the stations that spares a conflict, and brings no other. None where no step within reach
/// does.
pub fn repair(
    conflict: &BlockConflict,
    (kind, stations): (BlockKind, &[Mate<'_>]),
    ladders: &[&Ladder],
    kit: &[KitItem],
) -> Option<Repair> {
    let cost =
        |stations: &[Mate<'_>]| -> f64 { block_conflicts(kind, stations, kit).iter().map(|c| c.added().value()).sum() };
    let today = cost(stations);
    let near = |station: usize, step: &LadderStep| {
        let ratio = step.effective_kg.value() / stations[station].step.effective_kg.value();
        (ratio > 1.0 / WITHIN && ratio < WITHIN && step != stations[station].step).then_some(ratio - 1.0)
    };
    let offers = conflict.stations.iter().flat_map(|station| {
        let steps = ladders.get(*station).map_or(&[][..], |l| &l.steps[..]).iter().enumerate();
        steps.filter_map(move |(i, step)| Some((*station, i, step, near(*station, step)?)))
    });
    let spares = |(station, i, step, change): (usize, usize, &LadderStep, f64)| {
        let mut tried = stations.to_vec();
        tried[station].step = step;
        let spared =
            !block_conflicts(kind, &tried, kit).iter().any(|c| c.code() == conflict.code()) && cost(&tried) < today;
        spared.then_some(Repair { station, step: i, change })
    };
    offers.filter_map(spares).min_by(|a, b| a.change.abs().total_cmp(&b.change.abs()))
}

/// Whether a movement may take another's place in a block: it is of its kind, and fits together with the rest. `block` is what would
/// stand there then.
pub fn may_replace(own: &Movement, new: &Movement, kind: BlockKind, block: &[&Movement]) -> bool {
    let mut pairs = (0..block.len()).flat_map(|i| (i + 1..block.len()).map(move |j| (i, j)));
    may_stand_for(own, new)
        && !matches!(kind, BlockKind::Straight | BlockKind::Extension)
        && pairs.all(|(i, j)| fits_together(kind, i == 0, block[i], block[j]))
}

/// What one joint carries does not take the place of what several do.
pub(super) fn may_stand_for(own: &Movement, new: &Movement) -> bool {
    is_compound(own.pattern) == is_compound(new.pattern)
}

/// Whether two movements, in their order, are what a kind of block is for: a pair works against each other, and no region is worked
/// twice where rest is what the turns are for. `leads` where the first of them is the block's first.
pub(super) fn fits_together(kind: BlockKind, leads: bool, first: &Movement, second: &Movement) -> bool {
    match kind {
        BlockKind::Antagonist => work_against_each_other(first.pattern, second.pattern),
        BlockKind::Superset | BlockKind::Circuit => shared(first, second).is_none(),
        BlockKind::FilledRest => !leads || shared(first, second).is_none(),
        BlockKind::Straight | BlockKind::Extension => true,
    }
}
