//! What a region's sets of a week are worth.

/// What a set counts up to half of the least, and up to it: a little for every region comes before much for one.
pub(super) const BELOW_LEAST: [f64; 2] = [1.25, 0.75];
/// What a set between the least and the most counts, in the same measure.
pub(super) const BEYOND_LEAST: f64 = 0.35;
/// What a set above the most costs.
pub(super) const BEYOND_MOST: f64 = 0.5;
/// What a direct set counts besides, up to half of the least: assisting work alone does not meet an aim.
pub(super) const DIRECT: f64 = 0.5;

/// What the sets of a region are worth. A set counts less the more there are, so the value is the least of four straight lines.
#[derive(Debug, Clone, Copy)]
pub(super) struct Cover {
    /// Slope and height at zero of each.
    lines: [[f64; 2]; 4],
    /// What a direct set counts besides, and up to how many.
    direct: [f64; 2],
}

impl Cover {
    /// Of a region with its least and most, that counts so much.
    pub(super) fn of([least, most]: [f64; 2], weight: f64) -> Self {
        let half = 0.5 * least;
        let ends = [half, least, most.max(least)];
        let slopes = [BELOW_LEAST[0], BELOW_LEAST[1], BEYOND_LEAST, -BEYOND_MOST].map(|s| weight * s);
        let mut lines = [[slopes[0], 0.0]; 4];
        for i in 1..4 {
            lines[i] = [slopes[i], lines[i - 1][1] + (slopes[i - 1] - slopes[i]) * ends[i - 1]];
        }
        Self { lines, direct: [weight * DIRECT, half] }
    }

    /// The value of so many sets, of which so many are direct.
    pub(super) fn value(&self, sets: f64, direct: f64) -> f64 {
        let [a, b, c, d] = self.lines.map(|[slope, height]| slope * sets + height);
        a.min(b).min(c.min(d)) + self.direct[0] * direct.min(self.direct[1])
    }
}
