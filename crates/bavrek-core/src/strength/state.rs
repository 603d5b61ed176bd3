//! What is known of a client's strength: one linear-Gaussian state over all movement patterns.
//!
//! State `x = [f₁…f_p, d, c, b₁…b_m]`: f the log load of a pattern's anchor movement for 12 repetitions to failure, d the
//! effect of the day, c how far the client's own curve of repetitions and load is from the usual one, b the log ratio of each
//! movement to its anchor. Every set is one observation of `f + b + d − c·(G(n) − G(12))`: without c the sets of one day, all
//! off by the same curve, would seem to confirm each other. The
//! patterns of a person are not independent: a surprise in one press says something of the other, and less of the pulls.

use std::collections::BTreeMap;
use std::sync::Arc;

use chrono::NaiveDate;
use nalgebra::{DMatrix, DVector};

use crate::movement::{Group, PatternPrior, covariance};
use crate::person::{Person, Side};
use crate::reps::{Bound, CURVE_SD, Reading};

/// Log-SD added to every prior ratio: what is usual is not known better. 0.03 left the truth outside too often in simulation.
const RATIO_SD: f64 = 0.05;
/// Log-SD of the drift of a pattern per week. 0.015 lags behind who adds 2 % a week, as novices do for months.
const DRIFT_PER_WEEK: f64 = 0.03;
/// Log-SD of the drift of a movement's own ratio per session, until it is settled.
const LEARNT_PER_SESSION: f64 = 0.015;
/// Log-SD of the day, with how reserve is judged that day and all else that its sets share. With 0.025 three sets of one
/// session seemed to say more than they do: the 90 % interval held 70 % in simulation.
const DAY_SD: f64 = 0.05;
/// Log-SD of what all sets of a client share and no set shows: how they judge reserve and slowness, day after day. It is in no estimate
/// and in no step, since it is in what will be said of the next set as well; it is in what is told of true strength. With it the 90 %
/// interval that is told after one to three sets holds 89 to 91 % in simulation, without it 79 to 81.
const UNSEEN_SD: f64 = 0.06;
/// Log load lost per earlier set of the day.
const FATIGUE_PER_SET: f64 = 0.03;
/// Sessions until a movement's own ratio stops wandering.
const SETTLED_SESSIONS: u32 = 6;
/// SDs beyond which a set and what was known disagree.
const GATE: f64 = 3.0;
/// Most by which a disagreement widens the level, log-SD.
const MOST_WIDENED: f64 = 0.22;
/// Later sets in agreement after which a disagreement is settled. Assumed.
const SETTLED_BY: u32 = 3;
/// Days without training of a pattern that change nothing.
const KEPT_DAYS: i64 = 14;
/// Log load lost per week beyond that.
const LOST_PER_WEEK: f64 = 0.010;
/// Most that is lost by time away.
const MOST_LOST: f64 = 0.20;
/// Log-SD gained per week beyond that.
const UNSURE_PER_WEEK: f64 = 0.02;
/// Most log-SD that time away adds.
const MOST_UNSURE: f64 = 0.15;

/// A set as evidence: which movement of which pattern, when, and how heavy it was for 12 repetitions.
#[derive(Debug, Clone, PartialEq)]
pub struct SetEvidence {
    /// The movement.
    pub exercise: Arc<str>,
    /// Place of its pattern in the state.
    pub pattern: usize,
    /// The day.
    pub date: NaiveDate,
    /// Log of the effective load in the pattern's unit.
    pub log_load: f64,
    /// Its repetitions read as evidence.
    pub reading: Reading,
    /// Log of the prior ratio to the anchor, and its SD; zero SD for the anchor itself.
    pub prior: (f64, f64),
    /// The side it was done with, of one-sided work: each side tires on its own.
    pub side: Option<Side>,
}

/// What an observation sums up: entries of the state with their factors.
type Entries = [(usize, f64); 4];

/// A set held against the state: what it says, and with which variance it is taken.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Judged {
    entries: Entries,
    observed: f64,
    variance: f64,
    bound: Bound,
    /// Whether it disagreed so far that the state was widened first.
    pub(super) widened: bool,
}

#[derive(Debug, Clone, PartialEq)]
struct Offset {
    index: usize,
    pattern: usize,
    /// Sessions begun, today's included.
    sessions: u32,
    last: Option<NaiveDate>,
    /// The day of a set that lay far above what was known, until another day confirms it.
    far_above: Option<NaiveDate>,
}

/// What the log says of one pattern besides its level.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
struct Trained {
    last: Option<NaiveDate>,
    /// Sets of today by side, left and right; work with both counts for each.
    sets_today: [u32; 2],
    /// Sets in agreement still wanted since a disagreement.
    unsettled: u32,
}

/// The state after some evidence.
#[derive(Debug, Clone, PartialEq)]
pub struct StrengthState {
    mean: DVector<f64>,
    cov: DMatrix<f64>,
    offsets: BTreeMap<String, Offset>,
    trained: Vec<Trained>,
    day: Option<NaiveDate>,
}

/// A predicted log load for 12 repetitions to failure.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Prediction {
    /// Mean.
    pub mean: f64,
    /// SD.
    pub sd: f64,
    /// Earlier sessions of the movement.
    pub sessions: u32,
}

/// The SD of a log load that is told, of what was estimated with an SD; what is certain stays so.
pub fn told_sd(sd: f64) -> f64 {
    if sd > 0.0 { sd.hypot(UNSEEN_SD) } else { sd }
}

impl Trained {
    /// Counts a set; returns how many the side had done before it, of both sides the one that had done more.
    fn tire(&mut self, side: Option<Side>) -> u32 {
        let sides = match side {
            Some(Side::Left) => 0..1,
            Some(Side::Right) => 1..2,
            Some(Side::Both) | None => 0..2,
        };
        let sets = &mut self.sets_today[sides];
        let before = sets.iter().copied().max().unwrap_or(0);
        for n in sets {
            *n += 1;
        }
        before
    }
}

/// How far the mean of a normal distribution of this SD moves when it is known to lie above `at` SDs from it, and by which
/// share of itself its variance falls.
fn above(at: f64, sd: f64) -> (f64, f64) {
    // Beyond eight SDs the tail is too thin to divide by; its mean lies 1/at above the bound.
    let hazard = if at > 8.0 {
        at + 1.0 / at
    } else {
        let density = (-at * at / 2.0).exp() / (2.0 * std::f64::consts::PI).sqrt();
        density / (0.5 * libm::erfc(at / std::f64::consts::SQRT_2))
    };
    (sd * hazard, (hazard * (hazard - at)).clamp(0.0, 1.0))
}

/// Whether a set can be taken at all.
fn usable(set: &SetEvidence, patterns: usize) -> bool {
    (set.log_load + set.reading.shift).is_finite() && set.pattern < patterns
}

/// What time away does to a pattern: log load lost, and variance gained.
fn away(last: Option<NaiveDate>, today: Option<NaiveDate>) -> (f64, f64) {
    let days = last.zip(today).map_or(0, |(last, today)| (today - last).num_days());
    let weeks = (days - KEPT_DAYS).max(0) as f64 / 7.0;
    ((LOST_PER_WEEK * weeks).min(MOST_LOST), (UNSURE_PER_WEEK.powi(2) * weeks).min(MOST_UNSURE.powi(2)))
}

impl StrengthState {
    /// The state of a person before any set, over these patterns in their order.
    pub fn new<'p>(person: &Person, priors: impl Iterator<Item = &'p PatternPrior> + Clone) -> Self {
        let guesses: Vec<f64> = priors.clone().map(|p| p.log_guess(person)).collect();
        let groups: Vec<Group> = priors.map(|p| p.group).collect();
        Self::of(&guesses, |i, j| covariance(groups[i], groups[j], i == j, person.sex))
    }

    fn of(guesses: &[f64], covariance: impl Fn(usize, usize) -> f64) -> Self {
        let n = guesses.len();
        let mut mean = DVector::from_element(n + 2, 0.0);
        let mut cov = DMatrix::from_element(n + 2, n + 2, 0.0);
        for i in 0..n {
            mean[i] = guesses[i];
            for j in 0..n {
                cov[(i, j)] = covariance(i, j);
            }
        }
        cov[(n, n)] = DAY_SD.powi(2);
        cov[(n + 1, n + 1)] = CURVE_SD.powi(2);
        Self { mean, cov, offsets: BTreeMap::new(), trained: vec![Trained::default(); n], day: None }
    }

    pub(super) fn day_index(&self) -> usize {
        self.trained.len()
    }

    const fn curve_index(&self) -> usize {
        self.trained.len() + 1
    }

    /// Novelty: a movement done `k` times before is this much below its ratio.
    fn novelty(sessions: u32) -> f64 {
        -0.04 * (-f64::from(sessions) / 2.0).exp()
    }

    fn offset(&mut self, exercise: &str, pattern: usize, prior: (f64, f64)) -> usize {
        if let Some(known) = self.offsets.get(exercise) {
            return known.index;
        }
        let index = self.mean.len();
        let (mean, variance) = if prior.1 == 0.0 { (0.0, 0.0) } else { (prior.0, prior.1.powi(2) + RATIO_SD.powi(2)) };
        self.mean = self.mean.clone().insert_row(index, mean);
        self.cov = self.cov.clone().insert_row(index, 0.0).insert_column(index, 0.0);
        self.cov[(index, index)] = variance;
        let offset = Offset { index, pattern, sessions: 0, last: None, far_above: None };
        self.offsets.insert(exercise.to_owned(), offset);
        index
    }

    fn start_day(&mut self, date: NaiveDate) {
        let weeks = self.day.map_or(0.0, |last| (date - last).num_days().max(0) as f64 / 7.0);
        for (i, trained) in self.trained.iter_mut().enumerate() {
            if trained.last.is_some() {
                self.cov[(i, i)] += DRIFT_PER_WEEK.powi(2) * weeks;
            }
            trained.sets_today = [0; 2];
        }
        let d = self.day_index();
        for i in 0..self.mean.len() {
            self.cov[(i, d)] = 0.0;
            self.cov[(d, i)] = 0.0;
        }
        self.mean[d] = 0.0;
        self.cov[(d, d)] = DAY_SD.powi(2);
        self.day = Some(date);
    }

    /// Takes a set in. Sets must come in order of time; one whose load is not finite is left out.
    pub fn take(&mut self, set: &SetEvidence) {
        self.open(set);
        self.weigh(set);
    }

    /// Takes the sets of one day in, in the order in which they were done. What the day itself does comes before all of them, so
    /// that nothing depends on which pattern was trained first.
    pub fn take_day(&mut self, sets: &[SetEvidence]) {
        for set in sets {
            self.open(set);
        }
        for set in sets {
            self.weigh(set);
        }
    }

    /// What the day of a set does before anything is seen of it: drift, time away, a movement met again. Once a day.
    pub(super) fn open(&mut self, set: &SetEvidence) {
        if !usable(set, self.trained.len()) {
            return;
        }
        if self.day != Some(set.date) {
            self.start_day(set.date);
        }
        let trained = &mut self.trained[set.pattern];
        if trained.last != Some(set.date) {
            let (lost, unsure) = away(trained.last, Some(set.date));
            trained.last = Some(set.date);
            self.mean[set.pattern] -= lost;
            self.cov[(set.pattern, set.pattern)] += unsure;
        }
        let index = self.know(set);
        self.begin_session(set, index);
    }

    /// Takes a set of an opened day in.
    fn weigh(&mut self, set: &SetEvidence) {
        if let Some(judged) = self.judge(set) {
            self.update(&judged);
        }
    }

    /// Holds a set of an opened day against what is known, and widens that where they disagree. None where it says nothing.
    pub(super) fn judge(&mut self, set: &SetEvidence) -> Option<Judged> {
        if !usable(set, self.trained.len()) {
            return None;
        }
        let offset = self.offsets.get(&*set.exercise)?;
        let (index, earlier) = (offset.index, offset.sessions.saturating_sub(1));
        let fatigue = FATIGUE_PER_SET * f64::from(self.trained[set.pattern].tire(set.side));
        let observed = set.log_load + set.reading.shift + fatigue - Self::novelty(earlier);
        let own = (self.curve_index(), -set.reading.along);
        self.observe(set, [(set.pattern, 1.0), (index, 1.0), (self.day_index(), 1.0), own], observed)
    }

    /// The entry of a movement, made where it is new.
    pub(super) fn know(&mut self, set: &SetEvidence) -> usize {
        self.offset(&set.exercise, set.pattern, set.prior)
    }

    /// The entry of a movement's own ratio, where any set of it was taken.
    pub(super) fn offset_of(&self, exercise: &str) -> Option<usize> {
        self.offsets.get(exercise).map(|o| o.index)
    }

    /// Mean and covariance as they are now.
    pub(super) fn snapshot(&self) -> (DVector<f64>, DMatrix<f64>) {
        (self.mean.clone(), self.cov.clone())
    }

    /// Counts a new session of the movement on its first set of a day.
    fn begin_session(&mut self, set: &SetEvidence, index: usize) {
        let Some(offset) = self.offsets.get_mut(&*set.exercise).filter(|o| o.last != Some(set.date)) else { return };
        offset.last = Some(set.date);
        offset.sessions += 1;
        if offset.sessions <= SETTLED_SESSIONS && set.prior.1 > 0.0 {
            self.cov[(index, index)] += LEARNT_PER_SESSION.powi(2);
        }
    }

    /// What a set says, after asking whether it agrees with what was known. None where it bounds what is certain already.
    fn observe(&mut self, set: &SetEvidence, entries: Entries, observed: f64) -> Option<Judged> {
        let bound = set.reading.bound;
        let z = observed - self.expected(&entries);
        let variance = set.reading.own_variance();
        let s = self.spread(&entries) + variance;
        let informs = match bound {
            Bound::Both => true,
            Bound::OnlyLowers => z < 0.0,
            Bound::OnlyRaises => z > 0.0,
        };
        let beyond = z.abs() - GATE * s.sqrt();
        if !informs && beyond > 0.0 {
            return None;
        }
        if informs && beyond > 0.0 {
            let variance = self.disagree(set, entries, (z, s, variance), beyond.min(MOST_WIDENED));
            return Some(Judged { entries, observed, variance, bound, widened: true });
        }
        if informs {
            let unsettled = &mut self.trained[set.pattern].unsettled;
            *unsettled = unsettled.saturating_sub(1);
        }
        Some(Judged { entries, observed, variance, bound, widened: false })
    }

    /// What a set and the state disagree by widens the level and, downwards or confirmed on another day, the movement's
    /// own ratio; upwards and unconfirmed the set is believed less. Returns the variance the set is taken with.
    fn disagree(
        &mut self,
        set: &SetEvidence,
        [(level, _), (own, _), ..]: Entries,
        (z, s, variance): (f64, f64, f64),
        width: f64,
    ) -> f64 {
        let others: Vec<usize> = self
            .offsets
            .iter()
            .filter(|(id, o)| o.pattern == set.pattern && **id != *set.exercise)
            .map(|(_, o)| o.index)
            .collect();
        let seen_before = self.offsets.get(&*set.exercise).is_some_and(|o| o.sessions > 1);
        let far_above = self.offsets.get(&*set.exercise).and_then(|o| o.far_above);
        let believed = z < 0.0 || far_above.is_some_and(|day| day != set.date);
        let variance = if believed {
            self.cov[(own, own)] += z * z / GATE.powi(2) - s;
            variance
        } else {
            variance + s * (z * z / (GATE.powi(2) * s) - 1.0)
        };
        if let Some(offset) = self.offsets.get_mut(&*set.exercise) {
            offset.far_above = (!believed).then_some(far_above.unwrap_or(set.date));
        }
        let mut direction = vec![(level, 1.0)];
        direction.extend(others.into_iter().chain(seen_before.then_some(own)).map(|i| (i, -1.0)));
        for (i, u) in &direction {
            for (j, v) in &direction {
                self.cov[(*i, *j)] += width * width * u * v;
            }
        }
        self.trained[set.pattern].unsettled = SETTLED_BY;
        variance
    }

    fn expected(&self, entries: &[(usize, f64)]) -> f64 {
        entries.iter().map(|(i, k)| k * self.mean[*i]).sum()
    }

    /// Variance of the sum of some entries.
    fn spread(&self, entries: &[(usize, f64)]) -> f64 {
        entries.iter().flat_map(|(i, k)| entries.iter().map(move |(j, l)| k * l * self.cov[(*i, *j)])).sum()
    }

    /// Kalman update by an observation of the sum of some entries; by a bound, with the moments of the normal distribution that
    /// is cut off there.
    pub(super) fn update(&mut self, judged: &Judged) {
        let Judged { entries, observed: y, variance, bound, .. } = *judged;
        // Only a few entries take part, so the products with the covariance are sums of its columns.
        let mut ph = DVector::zeros(self.mean.len());
        for (i, k) in &entries {
            ph.axpy(*k, &self.cov.column(*i), 1.0);
        }
        let s = entries.iter().map(|(i, k)| k * ph[*i]).sum::<f64>() + variance;
        let z = y - self.expected(&entries);
        let (shift, share) = match bound {
            Bound::Both => (z, 1.0),
            Bound::OnlyRaises => above(z / s.sqrt(), s.sqrt()),
            Bound::OnlyLowers => {
                let (shift, share) = above(-z / s.sqrt(), s.sqrt());
                (-shift, share)
            }
        };
        self.mean.axpy(shift / s, &ph, 1.0);
        // Column by column, and alike on both sides of the diagonal: a log of years is some thousand of these.
        ph *= (share / s).sqrt();
        self.cov.ger(-1.0, &ph, &ph, 1.0);
    }

    /// What the movement's load for 12 repetitions to failure will be on a day. A movement never done starts from its
    /// prior ratio and is expected lighter the first time; time away lowers and widens what is expected.
    pub fn predict(&self, exercise: &str, pattern: usize, prior: (f64, f64), today: Option<NaiveDate>) -> Prediction {
        let (level, level_variance) = (self.mean[pattern], self.cov[(pattern, pattern)]);
        let (mean, variance, sessions) = match self.offsets.get(exercise) {
            Some(offset) => {
                let i = offset.index;
                let variance = level_variance + self.cov[(i, i)] + 2.0 * self.cov[(pattern, i)];
                (level + self.mean[i], variance, offset.sessions)
            }
            None if prior.1 == 0.0 => (level, level_variance, 0),
            None => (level + prior.0, level_variance + prior.1.powi(2) + RATIO_SD.powi(2), 0),
        };
        let (lost, unsure) = away(self.trained[pattern].last, today);
        Prediction { mean: mean + Self::novelty(sessions) - lost, sd: (variance + unsure).max(0.0).sqrt(), sessions }
    }

    /// The level of a pattern on a day: the log load of its yardstick for 12 repetitions to failure once it is practised.
    pub fn level(&self, yardstick: &str, pattern: usize, today: Option<NaiveDate>) -> (f64, f64) {
        let own = self.offset_of(yardstick);
        let entries: Vec<(usize, f64)> = std::iter::once(pattern).chain(own).map(|i| (i, 1.0)).collect();
        let (lost, unsure) = away(self.trained[pattern].last, today);
        (self.expected(&entries) - lost, (self.spread(&entries) + unsure).max(0.0).sqrt())
    }

    /// Whether any set of the pattern was taken.
    pub fn has_evidence(&self, pattern: usize) -> bool {
        self.trained.get(pattern).is_some_and(|t| t.last.is_some())
    }

    /// Whether sets of other patterns say something of this one.
    pub fn is_informed(&self, pattern: usize) -> bool {
        self.trained.iter().enumerate().any(|(i, t)| {
            t.last.is_some() && i != pattern && i < self.trained.len() && self.cov[(i, pattern)].abs() > 1e-9
        })
    }

    /// Whether sets of the pattern disagree, and later ones have not settled it.
    pub fn disagrees(&self, pattern: usize) -> bool {
        self.trained.get(pattern).is_some_and(|t| t.unsettled > 0)
    }

    /// The last day on which the pattern was trained.
    pub fn last_trained(&self, pattern: usize) -> Option<NaiveDate> {
        self.trained.get(pattern).and_then(|t| t.last)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::reps;

    fn evidence(exercise: &str, pattern: usize, date: NaiveDate, log_load: f64, prior: (f64, f64)) -> SetEvidence {
        SetEvidence {
            exercise: exercise.into(),
            pattern,
            date,
            log_load,
            reading: reps::read(10.0, Some(2.0), None),
            prior,
            side: None,
        }
    }

    fn day(offset: u64) -> NaiveDate {
        NaiveDate::from_ymd_opt(2026, 1, 5).unwrap() + chrono::Days::new(offset)
    }

    /// Two pushes and a pull, linked as people are.
    fn linked() -> StrengthState {
        StrengthState::of(&[3.0, 2.5, 3.1], |i, j| match (i, j) {
            (i, j) if i == j => 0.1156,
            (0 | 1, 0 | 1) => 0.0865,
            _ => 0.0576,
        })
    }

    /// The worked update: anchor, movements A and B, day; one set of B.
    #[test]
    fn the_worked_update() {
        let sds = [0.04f64, 0.025, 0.11, 0.0, 0.20];
        let mut state = StrengthState {
            mean: DVector::from_vec(vec![3.0, 0.0, 0.0, 0.0, -std::f64::consts::LN_2]),
            cov: DMatrix::from_diagonal(&DVector::from_iterator(5, sds.iter().map(|s| s * s))),
            offsets: BTreeMap::new(),
            trained: vec![Trained::default()],
            day: None,
        };
        // A set of twelve to failure: the client's own curve does not matter.
        let entries = [(0, 1.0), (4, 1.0), (1, 1.0), (2, 0.0)];
        let variance = 0.045f64.powi(2);
        let judged = Judged { entries, observed: 2.45, variance, bound: Bound::Both, widened: false };
        state.update(&judged);
        for (actual, expected) in state.mean.iter().zip([3.00517, 0.00202, 0.0, 0.0, -0.56374]) {
            assert!((actual - expected).abs() < 1e-5, "{actual} {expected}");
        }
        for (i, expected) in [0.03927, 0.02482, 0.11, 0.0, 0.06198].into_iter().enumerate() {
            assert!((state.cov[(i, i)].sqrt() - expected).abs() < 1e-5);
        }
        assert!((state.cov[(0, 4)] + 0.001_446_3).abs() < 1e-7);
    }

    /// Ten thousand updates, surprises among them, leave the covariance symmetric and positive semi-definite.
    #[test]
    fn the_covariance_stays_sound() {
        let mut state = linked();
        for i in 0..10_000u32 {
            let exercise = ["anchor", "b", "c"][i as usize % 3];
            let prior = if exercise == "anchor" { (0.0, 0.0) } else { (-0.2, 0.15) };
            let surprise = if i % 997 == 0 { 1.5 } else { 0.0 };
            let load = 2.4 + 0.1 * f64::from(i % 5) - surprise;
            state.take(&evidence(exercise, i as usize % 2, day(u64::from(i / 9)), load, prior));
        }
        assert_eq!(state.cov, state.cov.transpose());
        let eigenvalues = state.cov.clone().symmetric_eigenvalues();
        assert!(eigenvalues.iter().all(|v| *v > -1e-12), "{eigenvalues}");
        assert!(state.mean.iter().all(|v| v.is_finite()));
    }

    /// A surprise in one press moves the other by three quarters of it and the pull by half.
    #[test]
    fn one_pattern_says_something_of_the_others() {
        let (mut state, before) = (linked(), linked());
        for d in 0..12 {
            state.take(&evidence("anchor", 0, day(d), 3.4, (0.0, 0.0)));
        }
        let moved: Vec<f64> = (0..3).map(|i| state.mean[i] - before.mean[i]).collect();
        assert!((moved[1] / moved[0] - 0.75).abs() < 0.02 && (moved[2] / moved[0] - 0.5).abs() < 0.02, "{moved:?}");
        for i in 0..3 {
            assert!(state.cov[(i, i)] < before.cov[(i, i)], "pattern {i} was widened");
        }
        assert!(state.is_informed(2) && !state.has_evidence(2) && !before.is_informed(2));
    }

    #[test]
    fn time_away_lowers_and_widens_within_limits() {
        let mut state = linked();
        state.take(&evidence("anchor", 0, day(0), 3.0, (0.0, 0.0)));
        let at = |d: u64| state.predict("anchor", 0, (0.0, 0.0), Some(day(d)));
        assert_eq!(at(0), at(14));
        assert!((at(14).mean - at(84).mean - 0.10).abs() < 1e-9);
        assert!((at(14).mean - at(700).mean - 0.20).abs() < 1e-9);
        assert!((at(84).sd.powi(2) - at(14).sd.powi(2) - 0.004).abs() < 1e-9);
        assert!((at(7000).sd.powi(2) - at(14).sd.powi(2) - 0.0225).abs() < 1e-9);
    }

    #[test]
    fn one_sided_sets_move_one_way_only() {
        let with = |reps: f64, load: f64| {
            let mut state = linked();
            let reading = reps::read(reps, Some(0.0), None);
            state.take(&SetEvidence { reading, ..evidence("anchor", 0, day(0), load, (0.0, 0.0)) });
            state.mean[0]
        };
        // Failing with four times the guess says next to nothing; with half of it, a lot.
        assert!((with(0.0, 4.4) - 3.0).abs() < 0.01 && with(0.0, 2.3) < 2.9);
        // Sixty repetitions with a tenth say nothing; with the guess itself, that it was too low.
        assert!((with(60.0, 0.7) - 3.0).abs() < 0.01 && with(60.0, 3.0) > 3.1);
    }
}
