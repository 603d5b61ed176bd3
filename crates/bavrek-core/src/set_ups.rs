//! What of a set-up stands already from what was done before, and the order of blocks that changes least.

use crate::anatomy::Surface;
use crate::fit::{Mate, block_conflicts, shared};
use crate::kit::KitItem;
use crate::plan::BlockKind;
use crate::school::is_compound;
use crate::script::Block;
use crate::units::Seconds;

/// What need not be done again, s: the bench stands at its angle, the band hangs at its anchor, the rings at their height,
/// the dumbbells lie there. Assumed, like the times of change-overs.
const BENCH_STANDS: f64 = 15.0;
const BAND_HANGS: f64 = 15.0;
const RINGS_HANG: f64 = 30.0;
const WEIGHTS_LIE: f64 = 10.0;
/// Time that walking over and getting into place takes in any case, s. Assumed.
const LEAST: f64 = 5.0;
/// Least for which blocks change places, s: a bench that need not be set twice. Assumed.
const WORTH: f64 = 15.0;
/// Most blocks whose orders are all tried; of more the next is the one that changes least.
const MOST_TRIED: usize = 7;

/// How much of the set-up of a station is there already when another was done just before it; never all of it.
pub fn stands(before: &Mate<'_>, after: &Mate<'_>) -> Seconds {
    let (a, b) = (before.step, after.step);
    let alike = |x: f64, y: f64| (x - y).abs() < 0.01;
    let bench = a.setup.bench_deg.zip(b.setup.bench_deg).is_some_and(|(x, y)| alike(x.value(), y.value()));
    let anchor = a.setup.anchor_height_m.zip(b.setup.anchor_height_m).is_some_and(|(x, y)| alike(x.value(), y.value()));
    let band = anchor && b.bands.iter().any(|band| a.bands.iter().any(|other| other.is(band)));
    let rings = [a, b].iter().all(|s| s.setup.surface == Some(Surface::Rings))
        && a.setup.hands_height_m == b.setup.hands_height_m
        && a.setup.strap_m == b.setup.strap_m;
    let weights = a
        .in_hands()
        .zip(b.in_hands())
        .is_some_and(|(x, y)| x.0 == y.0 && alike(x.1.kilograms().value(), y.1.kilograms().value()));
    let saved: f64 = [(bench, BENCH_STANDS), (band, BAND_HANGS), (rings, RINGS_HANG), (weights, WEIGHTS_LIE)]
        .iter()
        .filter(|(same, _)| *same)
        .map(|(_, s)| s)
        .sum();
    Seconds(saved.min((b.set_up_s.value() - LEAST).max(0.0)))
}

/// Set-ups of stations in the order in which they are first done, each shortened by what stands already.
pub fn in_order(stations: &[Mate<'_>]) -> Vec<Seconds> {
    let before = std::iter::once(None).chain(stations.iter().map(Some));
    before
        .zip(stations)
        .map(|(before, own)| {
            let stands = before.map_or(0.0, |b| stands(b, own).value());
            Seconds(own.step.set_up_s.value() - stands)
        })
        .collect()
}

/// Another order of a session's blocks.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Order {
    /// Places of the blocks as they lie now, in the new order.
    pub blocks: Vec<usize>,
}

/// The order of blocks in which least has to be set up anew. What the school's order says stays: only blocks that follow each
/// other and are of one sort, several joints or one, change places; empty blocks stand where they stand. None where too
/// little is gained.
pub fn fewest(blocks: &[Vec<Mate<'_>>]) -> Option<Order> {
    let spared = |a: usize, b: usize| match (blocks[a].last(), blocks[b].first()) {
        (Some(last), Some(first)) => stands(last, first).value(),
        _ => 0.0,
    };
    let sorts: Vec<_> = blocks.iter().map(|b| b.first().map(|m| is_compound(m.movement.pattern))).collect();
    best_order(&sorts, &Between::of(blocks.iter().map(Vec::is_empty).collect(), spared))
}

/// The same of blocks of one station each, by whether each moves several joints and the seconds that stand of one after another.
pub(crate) fn fewest_of(compound: &[bool], stands: impl FnMut(usize, usize) -> f64) -> Option<Order> {
    best_order(compound, &Between::of(vec![false; compound.len()], stands))
}

fn best_order<S: PartialEq>(sorts: &[S], between: &Between) -> Option<Order> {
    let as_it_is: Vec<usize> = (0..sorts.len()).collect();
    let spared = between.spared(None, &as_it_is);
    // Most sessions have nothing that stands twice: no order need be tried.
    if between.most() - spared < WORTH {
        return None;
    }
    let mut order: Vec<usize> = Vec::new();
    let mut from = 0;
    while from < sorts.len() {
        let mut to = from + 1;
        while to < sorts.len() && sorts[to] == sorts[from] {
            to += 1;
        }
        let run: Vec<usize> = (from..to).collect();
        order.extend(best(between, order.last().copied(), &run));
        from = to;
    }
    (between.spared(None, &order) - spared >= WORTH).then_some(Order { blocks: order })
}

/// What stands already of one block when it is done right after another: within a block nothing changes with the order of blocks.
struct Between {
    /// Seconds, by the block before and the one after.
    stands: Vec<Vec<f64>>,
    /// Blocks without a station: what is done before one is done before the next.
    empty: Vec<bool>,
}

impl Between {
    fn of(empty: Vec<bool>, mut stands: impl FnMut(usize, usize) -> f64) -> Self {
        let blocks = 0..empty.len();
        let after = |a: usize| blocks.clone().map(|b| if a == b { 0.0 } else { stands(a, b) }).collect();
        Self { stands: blocks.clone().map(after).collect(), empty }
    }

    /// Seconds that need not be set up of blocks in an order, after another.
    fn spared(&self, before: Option<usize>, order: &[usize]) -> f64 {
        let done = before.iter().chain(order).copied().filter(|i| !self.empty[*i]);
        let next = done.clone().skip(1);
        done.zip(next).map(|(a, b)| self.stands[a][b]).sum()
    }

    /// Seconds that no order could spare more than: each block after what it shares most with.
    fn most(&self) -> f64 {
        (0..self.empty.len()).map(|b| self.stands.iter().map(|a| a[b]).fold(0.0, f64::max)).sum()
    }
}

/// Another order of a circuit's stations.
#[derive(Debug, Clone, PartialEq)]
pub struct Turns {
    /// Their places as they lie, in the order to be.
    pub stations: Vec<usize>,
    /// What it spares a round.
    pub spared: Seconds,
}

/// Most stations of a circuit whose orders are all tried.
const MOST_TURNS: usize = 6;

/// The order of a circuit in which least is changed over on the way round: two that share the bench's angle come after each other. The
/// first stays first, and what works the same region comes after each other no more often than now. None where no order spares anything;
/// of two or three every order is the same way round.
pub fn turns(stations: &[Mate<'_>], kit: &[KitItem]) -> Option<Turns> {
    if !(4..=MOST_TURNS).contains(&stations.len()) {
        return None;
    }
    let in_order = |order: &[usize]| -> Vec<Mate<'_>> { order.iter().map(|i| stations[*i]).collect() };
    let cost = |mates: &[Mate<'_>]| -> f64 {
        block_conflicts(BlockKind::Circuit, mates, kit).iter().map(|c| c.added().value()).sum()
    };
    let tired = |mates: &[Mate<'_>]| {
        let next = mates.iter().cycle().skip(1);
        mates.iter().zip(next).filter(|(a, b)| shared(a.movement, b.movement).is_some()).count()
    };
    let (now, tired_now) = (cost(stations), tired(stations));
    let mut found: (f64, Vec<usize>) = (now, Vec::new());
    let mut order: Vec<usize> = (0..stations.len()).collect();
    permute(&mut order, 1, &mut |order| {
        let mates = in_order(order);
        let cost = cost(&mates);
        if cost < found.0 - 1e-9 && tired(&mates) <= tired_now {
            found = (cost, order.to_vec());
        }
    });
    (!found.1.is_empty()).then_some(Turns { stations: found.1, spared: Seconds(now - found.0) })
}

fn best(between: &Between, before: Option<usize>, run: &[usize]) -> Vec<usize> {
    if run.len() > MOST_TRIED {
        return nearest(between, before, run);
    }
    // The first of the best: what lies already is not moved for nothing.
    let mut found = (between.spared(before, run), run.to_vec());
    permute(&mut run.to_vec(), 0, &mut |order| {
        let spared = between.spared(before, order);
        if spared > found.0 + 1e-9 {
            found = (spared, order.to_vec());
        }
    });
    found.1
}

fn permute(items: &mut [usize], at: usize, each: &mut impl FnMut(&[usize])) {
    if at == items.len() {
        each(items);
        return;
    }
    for i in at..items.len() {
        items.swap(at, i);
        permute(items, at + 1, each);
        items.swap(at, i);
    }
}

fn nearest(between: &Between, before: Option<usize>, run: &[usize]) -> Vec<usize> {
    let (mut left, mut order) = (run.to_vec(), Vec::new());
    let mut last = before;
    while !left.is_empty() {
        // Where nothing stands already they come as they lie.
        let spared = |at: &usize| between.spared(last, &[left[*at]]);
        let at = (0..left.len()).min_by(|a, b| spared(b).total_cmp(&spared(a))).unwrap_or(0);
        let chosen = left.remove(at);
        order.push(chosen);
        last = Some(chosen);
    }
    order
}

/// Gives the stations of a workout the set-ups that are left to do. `done` says what is done at each, in the order in which
/// they lie in the blocks.
pub fn settle<K>(blocks: &mut [Block<K>], done: &[Mate<'_>]) {
    let stations = blocks.iter_mut().flat_map(|block| &mut block.stations);
    for (station, set_up) in stations.zip(in_order(done)) {
        station.set_up = set_up;
    }
}
