//! The strength ledger of one movement pattern: a linear-Gaussian state over movements.
//!
//! State `x = [f, b₁…b_m, d]`: f the log load of the anchor movement for 12 repetitions to failure, b the log ratio of
//! each movement to the anchor, d the effect of the day. Every set is one observation of `f + b + d`.

use std::collections::BTreeMap;

use chrono::NaiveDate;
use nalgebra::{DMatrix, DVector};
use serde::{Deserialize, Serialize};

use super::reps;
use crate::person::{Experience, Person, Sex};

/// Log-SD of the first guess of a client's strength.
const GUESS_SD: f64 = 0.35;
/// Log-SD added to every prior ratio.
const RATIO_SD: f64 = 0.03;
/// Log-SD of the drift per week.
const DRIFT_PER_WEEK: f64 = 0.015;
/// Log-SD of the day.
const DAY_SD: f64 = 0.025;
/// Log load lost per earlier set of the day.
const FATIGUE_PER_SET: f64 = 0.03;
/// Sessions until a movement's own ratio stops wandering.
const SETTLED_SESSIONS: u32 = 6;

/// What is guessed about a pattern before any set: load of its anchor for 12 repetitions over body mass.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct PatternPrior {
    /// Identifier of the strength pattern.
    pub id: String,
    /// What people call it.
    pub name: String,
    /// The anchor movement.
    pub anchor: String,
    /// Share of body mass for a novice, an intermediate and an advanced man.
    pub share: [f64; 3],
    /// Factor for women; the root of it where sex is not stated.
    pub female: f64,
}

impl PatternPrior {
    /// Log of the guessed anchor load for 12 repetitions to failure.
    pub fn log_guess(&self, person: &Person) -> f64 {
        let share = match person.experience {
            Experience::Novice => self.share[0],
            Experience::Intermediate => self.share[1],
            Experience::Advanced => self.share[2],
        };
        let sex = match person.sex {
            Some(Sex::Male) => 1.0,
            Some(Sex::Female) => self.female,
            None => self.female.sqrt(),
        };
        (share * sex * person.body_mass_kg.value()).ln()
    }
}

/// A set as evidence: which movement, when, and how heavy it was for 12 repetitions.
#[derive(Debug, Clone, PartialEq)]
pub struct SetEvidence<'a> {
    /// The movement.
    pub exercise: &'a str,
    /// The day.
    pub date: NaiveDate,
    /// Log of the effective load in the pattern's unit.
    pub log_load: f64,
    /// Repetitions.
    pub reps: f64,
    /// Repetitions in reserve.
    pub rir: f64,
    /// Log of the prior ratio to the anchor, and its SD; zero SD for the anchor itself.
    pub prior: (f64, f64),
}

#[derive(Debug, Clone, PartialEq)]
struct Offset {
    index: usize,
    /// Sessions begun, today's included.
    sessions: u32,
    last: Option<NaiveDate>,
}

/// The state after some evidence.
#[derive(Debug, Clone, PartialEq)]
pub struct StrengthState {
    mean: DVector<f64>,
    cov: DMatrix<f64>,
    offsets: BTreeMap<String, Offset>,
    day: Option<NaiveDate>,
    sets_today: u32,
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

impl StrengthState {
    /// The state before any set.
    pub fn new(log_guess: f64) -> Self {
        Self {
            mean: DVector::from_vec(vec![log_guess, 0.0]),
            cov: DMatrix::from_diagonal(&DVector::from_vec(vec![GUESS_SD.powi(2), DAY_SD.powi(2)])),
            offsets: BTreeMap::new(),
            day: None,
            sets_today: 0,
        }
    }

    /// The state after `evidence`, which must be in order of time. Sets of no use (over 40 repetitions, a reserve over
    /// 6, a load that is not finite) are left out.
    pub fn replay<'a>(log_guess: f64, evidence: impl IntoIterator<Item = SetEvidence<'a>>) -> Self {
        let mut state = Self::new(log_guess);
        for set in evidence {
            state.take(&set);
        }
        state
    }

    fn day_index(&self) -> usize {
        self.mean.len() - 1
    }

    /// Novelty: a movement done `k` times before is this much below its ratio.
    fn novelty(sessions: u32) -> f64 {
        -0.04 * (-f64::from(sessions) / 2.0).exp()
    }

    fn offset(&mut self, exercise: &str, prior: (f64, f64)) -> usize {
        if let Some(known) = self.offsets.get(exercise) {
            return known.index;
        }
        let index = self.day_index();
        let (mean, variance) = if prior.1 == 0.0 { (0.0, 0.0) } else { (prior.0, prior.1.powi(2) + RATIO_SD.powi(2)) };
        self.mean = self.mean.clone().insert_row(index, mean);
        self.cov = self.cov.clone().insert_row(index, 0.0).insert_column(index, 0.0);
        self.cov[(index, index)] = variance;
        self.offsets.insert(exercise.to_owned(), Offset { index, sessions: 0, last: None });
        index
    }

    fn start_day(&mut self, date: NaiveDate) {
        let weeks = self.day.map_or(0.0, |last| (date - last).num_days().max(0) as f64 / 7.0);
        self.cov[(0, 0)] += DRIFT_PER_WEEK.powi(2) * weeks;
        let d = self.day_index();
        for i in 0..self.mean.len() {
            self.cov[(i, d)] = 0.0;
            self.cov[(d, i)] = 0.0;
        }
        self.mean[d] = 0.0;
        self.cov[(d, d)] = DAY_SD.powi(2);
        self.day = Some(date);
        self.sets_today = 0;
    }

    fn take(&mut self, set: &SetEvidence<'_>) {
        let (Ok(y), Ok(sd)) =
            (reps::reference_log_load(set.log_load, set.reps, set.rir), reps::reference_log_sd(set.reps, set.rir))
        else {
            return;
        };
        if !y.is_finite() {
            return;
        }
        if self.day != Some(set.date) {
            self.start_day(set.date);
        }
        let index = self.offset(set.exercise, set.prior);
        let earlier = self.begin_session(set, index);
        let observed = y + FATIGUE_PER_SET * f64::from(self.sets_today) - Self::novelty(earlier);
        self.update(&[0, index, self.day_index()], observed, sd * sd);
        self.sets_today += 1;
    }

    /// Counts a new session of the movement on its first set of a day; returns how many lay before today.
    fn begin_session(&mut self, set: &SetEvidence<'_>, index: usize) -> u32 {
        let Some(offset) = self.offsets.get_mut(set.exercise) else { return 0 };
        if offset.last != Some(set.date) {
            offset.last = Some(set.date);
            offset.sessions += 1;
            if offset.sessions <= SETTLED_SESSIONS && set.prior.1 > 0.0 {
                self.cov[(index, index)] += DRIFT_PER_WEEK.powi(2);
            }
        }
        offset.sessions - 1
    }

    /// Kalman update with a soft gate: a set more than three SDs off is believed less.
    fn update(&mut self, entries: &[usize], y: f64, variance: f64) {
        // Only a few entries take part, so the products with the covariance are sums of its columns.
        let ph = entries.iter().fold(DVector::zeros(self.mean.len()), |sum, i| sum + self.cov.column(*i));
        let z = y - entries.iter().map(|i| self.mean[*i]).sum::<f64>();
        let mut s = entries.iter().map(|i| ph[*i]).sum::<f64>() + variance;
        if z * z > 9.0 * s {
            s += s * (z * z / (9.0 * s) - 1.0);
        }
        self.mean.axpy(z / s, &ph, 1.0);
        for j in 0..ph.len() {
            for i in 0..=j {
                let lower = self.cov[(i, j)] - ph[i] * ph[j] / s;
                self.cov[(i, j)] = lower;
                self.cov[(j, i)] = lower;
            }
        }
    }

    /// What the movement's load for 12 repetitions to failure will be. A movement never done starts from its prior
    /// ratio and is expected lighter the first time.
    pub fn predict(&self, exercise: &str, prior: (f64, f64)) -> Prediction {
        let (mean, variance, sessions) = match self.offsets.get(exercise) {
            Some(offset) => {
                let i = offset.index;
                (
                    self.mean[0] + self.mean[i],
                    self.cov[(0, 0)] + self.cov[(i, i)] + 2.0 * self.cov[(0, i)],
                    offset.sessions,
                )
            }
            None if prior.1 == 0.0 => (self.mean[0], self.cov[(0, 0)], 0),
            None => (self.mean[0] + prior.0, self.cov[(0, 0)] + prior.1.powi(2) + RATIO_SD.powi(2), 0),
        };
        Prediction { mean: mean + Self::novelty(sessions), sd: variance.max(0.0).sqrt(), sessions }
    }

    /// Whether any set was taken.
    pub fn has_evidence(&self) -> bool {
        self.day.is_some()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The worked update: anchor, movements A and B, day; one set of B.
    #[test]
    fn the_worked_update() {
        let sds = [0.04f64, 0.0, 0.20, 0.025];
        let mut state = StrengthState {
            mean: DVector::from_vec(vec![3.0, 0.0, -std::f64::consts::LN_2, 0.0]),
            cov: DMatrix::from_diagonal(&DVector::from_iterator(4, sds.iter().map(|s| s * s))),
            offsets: BTreeMap::new(),
            day: None,
            sets_today: 0,
        };
        state.update(&[0, 2, 3], 2.45, 0.045f64.powi(2));
        for (actual, expected) in state.mean.iter().zip([3.00517, 0.0, -0.56374, 0.00202]) {
            assert!((actual - expected).abs() < 1e-5, "{actual} {expected}");
        }
        for (i, expected) in [0.03927, 0.0, 0.06198, 0.02482].into_iter().enumerate() {
            assert!((state.cov[(i, i)].sqrt() - expected).abs() < 1e-5);
        }
        assert!((state.cov[(0, 2)] + 0.001_446_3).abs() < 1e-7);
    }

    /// Ten thousand updates leave the covariance symmetric and positive semi-definite.
    #[test]
    fn the_covariance_stays_sound() {
        let mut state = StrengthState::new(2.5);
        let mut date = NaiveDate::from_ymd_opt(2026, 1, 5).unwrap();
        for i in 0..10_000u32 {
            if i % 9 == 0 {
                date = date.succ_opt().unwrap();
            }
            let exercise = ["anchor", "b", "c"][i as usize % 3];
            let prior = if exercise == "anchor" { (0.0, 0.0) } else { (-0.2, 0.15) };
            let log_load = 2.4 + 0.1 * f64::from(i % 5);
            state.take(&SetEvidence {
                exercise,
                date,
                log_load,
                reps: f64::from(6 + i % 9),
                rir: f64::from(i % 4),
                prior,
            });
        }
        assert_eq!(state.cov, state.cov.transpose());
        let eigenvalues = state.cov.clone().symmetric_eigenvalues();
        assert!(eigenvalues.iter().all(|v| *v > -1e-12), "{eigenvalues}");
        assert!(state.mean.iter().all(|v| v.is_finite()));
    }
}
