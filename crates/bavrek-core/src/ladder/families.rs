//! A ladder that a client can follow: families of steps are thinned one by one and then joined.
//!
//! A family is one way of loading: a plain weight, one band from farther and farther away, the body's position. The plain
//! family is kept; the others fill its gaps and go on above it, the heaviest plain weight first with the lightest band.
//! Nothing obvious goes for the sake of a contraption, and nobody changes implements back and forth for three percent.

/// Steps that a ladder has at most.
pub(super) const MOST_STEPS: usize = 25;
/// Two loads within this ratio are one step.
const SAME: f64 = 1.03;
/// Gaps above this ratio are filled from the next family.
const GAP: f64 = 1.10;
/// The same where bands alone load: nobody changes bands for less.
const BAND_GAP: f64 = 1.20;
/// What fills a gap stands at least this far from both of its ends.
const APART: f64 = 1.04;
/// The same where bands alone load.
const BAND_APART: f64 = 1.08;
/// On one band the next step is at most this far up; beyond it another band takes over.
const SAME_BAND: f64 = 1.30;
/// Steps of one band are at least this far apart.
const BAND_STEP: f64 = 1.05;
/// Steps above the plain family at most.
const MOST_ABOVE: usize = 6;
/// How far above the heaviest plain step a ladder goes where weights or the body load.
const HIGHEST: f64 = 1.8;
/// Steps below the plain family at most, where it starts heavier than others.
const MOST_BELOW: usize = 3;
/// Steps below a plain weight are at least this far apart: the band alone is a movement of its own.
const FAR_APART: f64 = 1.25;
/// A lighter weight with a band fills a gap only where that is wider than this ratio,
const WIDE_GAP: f64 = 1.25;
/// and only one of at least this share of the weight below the gap.
const NEARLY_THE_WEIGHT: f64 = 0.66;

/// What joining needs to know of a difficulty.
pub trait Familied: Copy {
    /// Effective load, kg.
    fn load(&self) -> f64;
    /// Trouble of setting it up; 0 for none.
    fn cost(&self) -> u8;
    /// 0 for the plain family, more for what is more trouble.
    fn tier(&self) -> u8;
    /// The band it hangs on, where it is one band.
    fn band(&self) -> Option<usize>;
    /// The weight in it, kg; none without.
    fn weight_kg(&self) -> Option<f64>;
}

/// Where joining can use anything beside the plain family: in its gaps, above it and below it. What stands elsewhere need not
/// be made, and in a room of many weights and bands that is nearly everything.
#[derive(Debug)]
pub struct Openings {
    gaps: Vec<Gap>,
    lightest: f64,
    heaviest: f64,
    heaviest_kg: f64,
}

/// Two neighbours of the plain family that stand far apart.
#[derive(Debug)]
struct Gap {
    below: f64,
    above: f64,
    /// The least weight that a step between them is made with, kg.
    least_kg: f64,
}

impl Openings {
    /// Those of a plain family of weights that differ; none without one.
    pub fn beside<T: Familied>(kept: &[T]) -> Option<Self> {
        let (first, last) = (kept.first()?, kept.last()?);
        let gaps = kept.windows(2).filter_map(|pair| {
            let (below, above) = (pair[0].load(), pair[1].load());
            // In a wide gap a lighter weight may do, and between it and the rest a lighter one still.
            let least_kg = if above / below > WIDE_GAP { 0.0 } else { pair[0].weight_kg().unwrap_or(0.0) };
            (above / below > GAP).then_some(Gap { below, above, least_kg })
        });
        Some(Self {
            gaps: gaps.collect(),
            lightest: first.load(),
            heaviest: last.load(),
            heaviest_kg: kept.iter().filter_map(Familied::weight_kg).fold(0.0, f64::max),
        })
    }

    /// Whether joining could use a recipe with a band in it, of a load and a weight in kg.
    pub fn takes(&self, load: f64, weight_kg: Option<f64>) -> bool {
        let Some(weight) = weight_kg else { return load * FAR_APART <= self.lightest };
        if load > self.heaviest {
            // Above, too, a gap may be wide enough for a lighter weight.
            return weight >= NEARLY_THE_WEIGHT * self.heaviest_kg && load <= self.heaviest * HIGHEST;
        }
        self.gaps.iter().any(|g| load > g.below && load < g.above && weight >= g.least_kg)
    }
}

/// The steps of a ladder by rising load: a subset of `raw`.
pub fn join<T: Familied>(mut raw: Vec<T>) -> Vec<T> {
    raw.retain(|r| r.load().is_finite() && r.load() > 0.0);
    raw.sort_by(|a, b| a.load().total_cmp(&b.load()).then(a.cost().cmp(&b.cost())));
    let Some(first) = raw.iter().map(Familied::tier).min() else { return raw };
    let plain: Vec<T> = raw.iter().filter(|r| r.tier() == first).copied().collect();
    let banded = plain.iter().all(|r| r.band().is_some() && r.weight_kg().is_none());
    let mut joining =
        Joining { kept: if banded { walk(&plain) } else { distinct(&plain) }, banded, above: 0, below: 0 };
    let top = if banded { f64::INFINITY } else { joining.kept.last().map_or(0.0, Familied::load) * HIGHEST };
    let last = raw.iter().map(Familied::tier).max().unwrap_or(first);
    for tier in first + 1..=last {
        let more: Vec<T> = raw.iter().filter(|r| r.tier() == tier && r.load() <= top).copied().collect();
        joining.take(&more);
    }
    let mut kept = joining.kept;
    while kept.len() > MOST_STEPS {
        let Some(least) = least_missed(&kept, first) else { break };
        kept.remove(least);
    }
    kept
}

/// A ladder on the way from its plain family to all of them.
struct Joining<T> {
    kept: Vec<T>,
    /// Whether bands alone load.
    banded: bool,
    above: usize,
    below: usize,
}

impl<T: Familied> Joining<T> {
    fn take(&mut self, more: &[T]) {
        let weighed = self.kept.iter().any(|r| r.weight_kg().is_some());
        let (with, alone): (Vec<T>, Vec<T>) = more.iter().partition(|r| !weighed || r.weight_kg().is_some());
        self.fill(&with);
        self.go_on_above(&with);
        self.go_on_below(if weighed { &alone } else { more });
    }

    /// Fills the gaps between kept steps.
    fn fill(&mut self, more: &[T]) {
        let (gap, apart) = if self.banded { (BAND_GAP, BAND_APART) } else { (GAP, APART) };
        let mut i = 0;
        while i + 1 < self.kept.len() {
            let (below, above) = (self.kept[i], self.kept[i + 1]);
            let best = (above.load() / below.load() > gap).then(|| between(&below, &above, more, apart)).flatten();
            match best {
                Some(rung) => self.kept.insert(i + 1, rung),
                None => i += 1,
            }
        }
    }

    /// Steps above the heaviest kept one: its own weight with more, the least first.
    fn go_on_above(&mut self, more: &[T]) {
        let apart = if self.banded { BAND_APART } else { BAND_STEP };
        while self.above < MOST_ABOVE {
            let Some(top) = self.kept.last().copied() else { return };
            let heaviest = self.kept.iter().filter_map(Familied::weight_kg).fold(0.0, f64::max);
            let goes_on =
                |r: &&T| r.load() >= apart * top.load() && r.weight_kg().is_none_or(|weight| weight >= heaviest);
            let Some(rung) = more.iter().find(goes_on) else { return };
            self.kept.push(*rung);
            self.above += 1;
        }
    }

    /// Steps below the lightest kept one.
    fn go_on_below(&mut self, more: &[T]) {
        while self.below < MOST_BELOW {
            let Some(bottom) = self.kept.first().copied() else { return };
            let weighed = self.kept.iter().any(|r| r.weight_kg().is_some());
            let apart = if weighed { FAR_APART } else { GAP };
            let Some(rung) = more.iter().rev().find(|r| r.load() * apart <= bottom.load()) else { return };
            self.kept.insert(0, *rung);
            self.below += 1;
        }
    }
}

/// What fills a gap best: the lower step's own weight or band first, then the least trouble, then the middle.
fn between<T: Familied>(below: &T, above: &T, more: &[T], apart: f64) -> Option<T> {
    let middle = (below.load() * above.load()).sqrt();
    let fits = |r: &&T| {
        let inside = r.load() >= apart * below.load() && above.load() >= apart * r.load();
        let own = below.weight_kg().zip(r.weight_kg());
        let wide = above.load() / below.load() > WIDE_GAP;
        inside && own.is_none_or(|(plain, weight)| weight >= plain || (wide && weight >= NEARLY_THE_WEIGHT * plain))
    };
    let other =
        |r: &T| u8::from(r.weight_kg() != below.weight_kg() || (r.weight_kg().is_none() && r.band() != below.band()));
    let off = |r: &T| (r.load() / middle).ln().abs();
    let found = more
        .iter()
        .filter(fits)
        .min_by(|a, b| (other(a), a.cost()).cmp(&(other(b), b.cost())).then(off(a).total_cmp(&off(b))));
    found.copied()
}

/// Of loads that rise, those that differ: the less troublesome of two alike.
pub fn distinct<T: Familied>(rising: &[T]) -> Vec<T> {
    let mut kept: Vec<T> = Vec::new();
    for rung in rising {
        match kept.last_mut() {
            Some(last) if rung.load() / last.load() <= SAME => {
                if rung.cost() < last.cost() {
                    *last = *rung;
                }
            }
            _ => kept.push(*rung),
        }
    }
    kept
}

/// Up one band as long as its next step is near, then over to another.
fn walk<T: Familied>(rising: &[T]) -> Vec<T> {
    let mut kept: Vec<T> = Vec::new();
    let mut rest = rising;
    while let Some(next) = next_on_walk(kept.last(), rest) {
        let rung = rest[next];
        kept.push(rung);
        rest = &rest[next + 1..];
    }
    kept
}

fn next_on_walk<T: Familied>(last: Option<&T>, rest: &[T]) -> Option<usize> {
    let Some(last) = last else { return (!rest.is_empty()).then_some(0) };
    let ratio = |r: &T| r.load() / last.load();
    let same = rest.iter().position(|r| r.band() == last.band() && (BAND_STEP..=SAME_BAND).contains(&ratio(r)));
    same.or_else(|| {
        let near: Vec<usize> =
            (0..rest.len()).filter(|i| (BAND_STEP..=SAME_BAND).contains(&ratio(&rest[*i]))).collect();
        near.iter().copied().min_by_key(|i| (rest[*i].cost(), *i))
    })
    .or_else(|| rest.iter().position(|r| ratio(r) >= BAND_STEP))
}

/// The step whose neighbours are nearest to each other: of the more troublesome families first.
fn least_missed<T: Familied>(kept: &[T], plain: u8) -> Option<usize> {
    let gap = |i: usize| kept[i + 1].load() / kept[i - 1].load();
    let inner = 1..kept.len().saturating_sub(1);
    let fancy = inner.clone().filter(|i| kept[*i].tier() > plain);
    fancy.min_by(|a, b| gap(*a).total_cmp(&gap(*b))).or_else(|| inner.min_by(|a, b| gap(*a).total_cmp(&gap(*b))))
}
