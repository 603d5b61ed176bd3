//! Resistance along a movement, and where in the muscle's length it is hard.

use crate::anatomy::LengthEmphasis;

/// Midpoints at which a movement is sampled from lengthened to shortened.
pub const SAMPLES: usize = 60;

/// Resistance (N·m or N) at the midpoints of equal intervals, lengthened to shortened.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Profile(pub [f64; SAMPLES]);

/// How much of each sample's interval lies in the lengthened, middle and shortened third of the muscle's range.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Thirds([[f64; 3]; SAMPLES]);

impl Profile {
    /// No resistance anywhere.
    pub const ZERO: Self = Self([0.0; SAMPLES]);

    /// Samples `f` at the midpoints of `[0, 1]`.
    pub fn sample(mut f: impl FnMut(f64) -> f64) -> Self {
        Self(std::array::from_fn(|i| f((i as f64 + 0.5) / SAMPLES as f64)))
    }

    /// The sum of two resistances met together.
    #[must_use]
    pub fn plus(mut self, other: &Self) -> Self {
        for (a, b) in self.0.iter_mut().zip(&other.0) {
            *a += b;
        }
        self
    }

    /// The resistance scaled.
    #[must_use]
    pub fn times(mut self, factor: f64) -> Self {
        for a in &mut self.0 {
            *a *= factor;
        }
        self
    }

    /// Mean of the working part (negative values count as zero): work over range.
    pub fn work(&self) -> f64 {
        self.0.iter().map(|v| v.max(0.0)).sum::<f64>() / SAMPLES as f64
    }

    /// The largest sampled value.
    pub fn peak(&self) -> f64 {
        self.0.iter().copied().fold(f64::MIN, f64::max)
    }

    /// Resistance over its peak at twenty equal distances, lengthened to shortened.
    pub fn curve(&self) -> Vec<f64> {
        let peak = self.peak();
        self.0.chunks(3).map(|c| c.iter().sum::<f64>() / c.len() as f64 / peak).collect()
    }

    /// Resistance at a share of the way, between the samples around it.
    pub fn at(&self, share: f64) -> f64 {
        let place = (share * SAMPLES as f64 - 0.5).clamp(0.0, SAMPLES as f64 - 1.0);
        let low = (place.floor() as usize).min(SAMPLES - 2);
        let part = place - low as f64;
        self.0[low] * (1.0 - part) + self.0[low + 1] * part
    }

    /// The resistance between two shares of the way, sampled as finely as the whole was.
    #[must_use]
    pub fn within(&self, [from, to]: [f64; 2]) -> Self {
        Self::sample(|share| self.at(from + (to - from) * share))
    }

    /// Shares of work in the lengthened, middle and shortened third; sum 1. `None` without any work.
    pub fn shares(&self, thirds: &Thirds) -> Option<[f64; 3]> {
        let mut sums = [0.0; 3];
        for (value, weights) in self.0.iter().zip(&thirds.0) {
            for (sum, weight) in sums.iter_mut().zip(weights) {
                *sum += value.max(0.0) * weight;
            }
        }
        let total: f64 = sums.iter().sum();
        (total > 1e-9).then(|| sums.map(|s| s / total))
    }

    /// Whether more than the first third of the samples is without resistance.
    pub fn slack_beyond_first_third(&self) -> bool {
        self.0.iter().take_while(|v| **v <= 1e-9).count() > SAMPLES / 3
    }
}

impl Thirds {
    /// Thirds of the movement's own path, for movements without a reference range.
    pub fn of_path() -> Self {
        Self::of_reference(0.0, 1.0, 0.0, 1.0)
    }

    /// Thirds of a reference range (lengthened, shortened) for a joint that stands at these angles at the edges of the
    /// samples; each sample counts by how far the joint turns in it.
    pub(crate) fn of_turning(edges: &[f64; SAMPLES + 1], (lengthened, shortened): (f64, f64)) -> Self {
        let place = |angle: f64| (angle - lengthened) / (shortened - lengthened) * 3.0;
        Self(std::array::from_fn(|i| {
            let (a, b) = (place(edges[i]), place(edges[i + 1]));
            if (b - a).abs() < 1e-12 {
                return [0.0; 3];
            }
            let below = |edge: f64| ((edge - a) / (b - a)).clamp(0.0, 1.0);
            let (first, second) = if b > a { (below(1.0), below(2.0)) } else { (1.0 - below(1.0), 1.0 - below(2.0)) };
            [first, second - first, 1.0 - second].map(|share| share * (b - a))
        }))
    }

    /// The thirds between two shares of the way, sampled as finely as the whole was.
    #[must_use]
    pub(crate) fn within(&self, [from, to]: [f64; 2]) -> Self {
        Self(std::array::from_fn(|i| {
            let share = from + (to - from) * (i as f64 + 0.5) / SAMPLES as f64;
            self.0[((share * SAMPLES as f64) as usize).min(SAMPLES - 1)]
        }))
    }

    /// The thirds with every sample counting by a factor more; negative factors count as none.
    #[must_use]
    pub(crate) fn weighted(mut self, factors: &[f64; SAMPLES]) -> Self {
        for (weights, factor) in self.0.iter_mut().zip(factors) {
            *weights = weights.map(|w| (w * factor).max(0.0));
        }
        self
    }

    /// Thirds of a reference range running from `lengthened` to `shortened`, sampled along `from..to` (same unit).
    /// Angles beyond the reference range count to its nearer end.
    pub fn of_reference(from: f64, to: f64, lengthened: f64, shortened: f64) -> Self {
        // Position on the reference range in thirds: 0 at the lengthened end, 3 at the shortened one.
        let place = |share: f64| (from + (to - from) * share - lengthened) / (shortened - lengthened) * 3.0;
        Self(std::array::from_fn(|i| {
            let (a, b) = (place(i as f64 / SAMPLES as f64), place((i + 1) as f64 / SAMPLES as f64));
            let below = |edge: f64| ((edge - a) / (b - a)).clamp(0.0, 1.0);
            let (first, second) = (below(1.0), below(2.0));
            [first, second - first, 1.0 - second]
        }))
    }
}

/// Share of work in a third from which a movement counts as hard there. Assumed; an even curve has 0.33 in each.
const HARD: f64 = 0.38;

/// Where in the muscle's length most of the work is done; none where it is spread evenly.
///
/// ```
/// use bavrek_core::anatomy::LengthEmphasis;
/// use bavrek_core::mechanics::profile::emphasis;
/// assert_eq!(emphasis(&[0.42, 0.39, 0.19]), Some(LengthEmphasis::Lengthened));
/// assert_eq!(emphasis(&[0.34, 0.33, 0.33]), None);
/// ```
pub fn emphasis(shares: &[f64; 3]) -> Option<LengthEmphasis> {
    let thirds = [LengthEmphasis::Lengthened, LengthEmphasis::Middle, LengthEmphasis::Shortened];
    let most = shares.iter().zip(thirds).max_by(|a, b| a.0.total_cmp(b.0));
    most.filter(|(share, _)| **share >= HARD).map(|(_, third)| third)
}

/// Distance between two sets of shares, 0 to 1: `½Σ|a − b|`. Up to 0.12 is "same", up to 0.25 "close".
pub fn share_distance(a: &[f64; 3], b: &[f64; 3]) -> f64 {
    0.5 * a.iter().zip(b).map(|(x, y)| (x - y).abs()).sum::<f64>()
}
