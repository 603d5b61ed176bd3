//! Fewer rungs, none of them missed: duplicates within 3 % and dear rungs between near neighbours go.

use super::rungs::Rung;

/// Two loads within this ratio are one.
const SAME: f64 = 0.03;
/// A dear rung goes where its neighbours are within this ratio.
const NEAR: f64 = 0.08;

/// Keeps the cheapest of nearly equal rungs, then removes the dearest interior rungs whose neighbours are near. The
/// result is a subset of `raw`, by rising load.
pub fn prune(mut raw: Vec<Rung>) -> Vec<Rung> {
    raw.retain(|r| r.load.is_finite() && r.load > 0.0);
    raw.sort_by(|a, b| a.cost.cmp(&b.cost).then(a.load.total_cmp(&b.load)));
    let mut kept: Vec<Rung> = Vec::with_capacity(raw.len());
    for rung in raw {
        let near = |k: &Rung| (rung.load / k.load - 1.0).abs() <= SAME || (k.load / rung.load - 1.0).abs() <= SAME;
        if !kept.iter().any(near) {
            kept.push(rung);
        }
    }
    kept.sort_by(|a, b| a.load.total_cmp(&b.load));
    while let Some(index) = dearest_superfluous(&kept) {
        kept.remove(index);
    }
    kept
}

fn dearest_superfluous(rungs: &[Rung]) -> Option<usize> {
    (1..rungs.len().saturating_sub(1))
        .filter(|&i| {
            let (below, rung, above) = (&rungs[i - 1], &rungs[i], &rungs[i + 1]);
            above.load / below.load - 1.0 <= NEAR && rung.cost >= below.cost && rung.cost >= above.cost
        })
        .max_by_key(|&i| (rungs[i].cost, std::cmp::Reverse(i)))
}
