//! Fewer rungs, none of them missed: duplicates within 3 % and dear rungs between near neighbours go.

/// What pruning needs to know of a difficulty.
pub trait Rated {
    /// Effective load, kg.
    fn load(&self) -> f64;
    /// Trouble of setting it up.
    fn cost(&self) -> u8;
}

/// Two loads within this ratio are one.
const SAME: f64 = 0.03;
/// A dear rung goes where its neighbours are within this ratio.
const NEAR: f64 = 0.08;

/// Keeps the cheapest of nearly equal rungs, then removes the dearest interior rungs whose neighbours are near. The
/// result is a subset of `raw`, by rising load.
///
/// Only places in `raw` are sorted and moved about, since rungs are large.
pub fn prune<T: Rated + Copy>(mut raw: Vec<T>) -> Vec<T> {
    raw.retain(|r| r.load().is_finite() && r.load() > 0.0);
    let mut order: Vec<usize> = (0..raw.len()).collect();
    order.sort_by(|a, b| raw[*a].cost().cmp(&raw[*b].cost()).then(raw[*a].load().total_cmp(&raw[*b].load())));
    let mut kept: Vec<usize> = Vec::with_capacity(raw.len());
    for candidate in order {
        let load = raw[candidate].load();
        // `kept` is by rising load: only the two around the candidate can be near it.
        let place = kept.partition_point(|k| raw[*k].load() < load);
        let near = |k: Option<&usize>| {
            k.is_some_and(|k| {
                (load / raw[*k].load() - 1.0).abs() <= SAME || (raw[*k].load() / load - 1.0).abs() <= SAME
            })
        };
        if !near(kept.get(place)) && !near(place.checked_sub(1).and_then(|p| kept.get(p))) {
            kept.insert(place, candidate);
        }
    }
    while let Some(index) = dearest_superfluous(&raw, &kept) {
        kept.remove(index);
    }
    kept.into_iter().map(|k| raw[k]).collect()
}

fn dearest_superfluous<T: Rated>(raw: &[T], kept: &[usize]) -> Option<usize> {
    let rung = |i: usize| &raw[kept[i]];
    (1..kept.len().saturating_sub(1))
        .filter(|&i| {
            let (below, middle, above) = (rung(i - 1), rung(i), rung(i + 1));
            let near = above.load() / below.load() - 1.0 <= NEAR;
            near && middle.cost() >= below.cost() && middle.cost() >= above.cost()
        })
        .max_by_key(|&i| (rung(i).cost(), std::cmp::Reverse(i)))
}
