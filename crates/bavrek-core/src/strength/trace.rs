//! Strength on every day of a log, as it is known now: what came later says something of what was before.
//!
//! The level of a day is that of the pattern, and what the movement of the day has still to gain of its own: read on the ratio
//! that it has in the end, learning a movement counts as progress and going over to another one does not.
//!
//! The state of each day is kept while the log is replayed and then smoothed backwards (Rauch, Tung and Striebel 1965). Only
//! so is the change between two days a figure with an error of its own: the errors of both days hang together.

use std::collections::BTreeMap;

use chrono::NaiveDate;
use nalgebra::{DMatrix, DVector};

use super::state::{SetEvidence, StrengthState};
use crate::units::Kilograms;

/// Added to variances before they are divided by: a ratio that is known for certain has none. Far below any that matters.
const TINY: f64 = 1e-10;

/// A log load with its uncertainty.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Level {
    /// The day.
    pub date: NaiveDate,
    /// Mean of the log load for 12 repetitions to failure, of the pattern's yardstick.
    pub mean: f64,
    /// Its SD, as load of the movement that was done last.
    pub sd: f64,
}

/// A change of log load between two days.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Change {
    /// Mean.
    pub mean: f64,
    /// SD.
    pub sd: f64,
}

/// Quantile of the normal distribution that bounds nine of ten: half the width of a 90 % interval in standard deviations.
pub const NINETY: f64 = 1.645;

/// The bounds between which a load lies nine times in ten, by the standard deviation of its logarithm.
pub fn bounds(load: Kilograms, log_sd: f64) -> [Kilograms; 2] {
    [-NINETY, NINETY].map(|sds| load * (sds * log_sd).exp())
}

impl Change {
    /// The bounds of the middle nine tenths.
    pub fn bounds(&self) -> [f64; 2] {
        [self.mean - NINETY * self.sd, self.mean + NINETY * self.sd]
    }
}

/// The state between two additions of noise: nothing moves within it, sets are only taken in.
struct Stretch {
    date: NaiveDate,
    /// Before its first set; nothing once it is smoothed: a year of states is large, and what opened one is asked for no more.
    opened: (DVector<f64>, DMatrix<f64>),
    /// After its last set; after smoothing: as it is known from the whole log.
    closed: (DVector<f64>, DMatrix<f64>),
    /// Whether the day's effect is the one of the stretch before.
    same_day: bool,
    /// How a surprise in the next stretch moves this one.
    gain: DMatrix<f64>,
    /// Entries of the next stretch that the gain refers to.
    shared: Vec<usize>,
    /// Patterns that were trained in it, each with the entries of its movements' own ratios, one a set.
    trained: BTreeMap<usize, Vec<usize>>,
    /// Covariance with the state in the end.
    with_end: DMatrix<f64>,
}

/// Strength by day.
pub struct Trace {
    stretches: Vec<Stretch>,
    /// By pattern: the entry of its yardstick's own ratio, where the log holds it, and the log of what its load counts for.
    yardsticks: Vec<(Option<usize>, f64)>,
}

impl Trace {
    /// Replays evidence in order of time from a state before any, in which the yardsticks of all patterns are known.
    pub(super) fn of(mut state: StrengthState, evidence: &[SetEvidence], yardsticks: &[(&str, f64)]) -> Self {
        for set in evidence.iter().filter(|s| s.prior.1 == 0.0) {
            state.know(set);
        }
        let mut stretches = Vec::new();
        for day in evidence.chunk_by(|a, b| a.date == b.date) {
            follow(&mut state, day, &mut stretches);
        }
        let yardsticks = yardsticks.iter().map(|(id, basis)| (state.offset_of(id), basis.ln())).collect();
        smooth(&mut stretches, state.day_index());
        Self { stretches, yardsticks }
    }

    /// Days on which anything was taken in, in order of time.
    pub fn days(&self) -> impl Iterator<Item = NaiveDate> + '_ {
        let mut last = None;
        self.stretches.iter().map(|s| s.date).filter(move |d| last.replace(*d) != Some(*d))
    }

    /// The level of a pattern on every day on which it was trained.
    pub fn levels(&self, pattern: usize) -> Vec<Level> {
        let last = self.stretches.iter().rev().find_map(|s| s.trained.get(&pattern)?.last().copied());
        // How sure a level is, read on the movement that was done last: how that compares to the yardstick says nothing of the
        // way between two days.
        let mut levels: Vec<Level> = Vec::new();
        for k in (0..self.stretches.len()).filter(|k| self.stretches[*k].trained.contains_key(&pattern)) {
            let mean = self.mean(&self.reading(k, pattern, self.yardstick(pattern)));
            let sd = self.sd(&self.reading(k, pattern, last));
            let level = Level { date: self.stretches[k].date, mean, sd };
            match levels.last_mut().filter(|last| last.date == level.date) {
                Some(last) => *last = level,
                None => levels.push(level),
            }
        }
        levels
    }

    /// How the level of a pattern changed between the days on which it was trained last up to two: none where there is none up
    /// to the first, or where both are one.
    pub fn change(&self, pattern: usize, from: NaiveDate, to: NaiveDate) -> Option<Change> {
        let at = |day| self.stretches.iter().rposition(|s| s.date <= day && s.trained.contains_key(&pattern));
        let (a, b) = (at(from)?, at(to)?);
        if a >= b {
            return None;
        }
        let own = self.yardstick(pattern);
        let (then, now) = (self.reading(a, pattern, own), self.reading(b, pattern, own));
        let variance = self.sd(&then).powi(2) + self.sd(&now).powi(2) - 2.0 * self.covariance(&then, &now);
        Some(Change { mean: self.mean(&now) - self.mean(&then), sd: variance.max(0.0).sqrt() })
    }

    fn yardstick(&self, pattern: usize) -> Option<usize> {
        self.yardsticks.get(pattern).and_then(|(own, _)| *own)
    }

    /// A pattern's level in a stretch as a sum of entries there and in the end, as load of a movement with its ratio; where that
    /// is not in the log, as load of the yardstick.
    fn reading(&self, k: usize, pattern: usize, on: Option<usize>) -> Reading {
        let end = self.stretches.len() - 1;
        let basis = self.yardsticks.get(pattern).map_or(0.0, |(_, basis)| *basis);
        let mut here = vec![0.0; self.stretches[k].closed.0.len()];
        let mut there = vec![0.0; self.stretches[end].closed.0.len()];
        here[pattern] += 1.0;
        if let Some(i) = on {
            there[i] += 1.0;
        }
        let movements = self.stretches[k].trained.get(&pattern).map_or(&[][..], Vec::as_slice);
        for i in movements {
            here[*i] += 1.0 / movements.len() as f64;
            there[*i] -= 1.0 / movements.len() as f64;
        }
        Reading { k, here: here.into(), there: there.into(), basis }
    }

    fn mean(&self, reading: &Reading) -> f64 {
        let end = &self.stretches[self.stretches.len() - 1].closed.0;
        self.stretches[reading.k].closed.0.dot(&reading.here) + end.dot(&reading.there) - reading.basis
    }

    fn sd(&self, reading: &Reading) -> f64 {
        let (own, end) = (&self.stretches[reading.k], &self.stretches[self.stretches.len() - 1]);
        let variance = reading.here.dot(&(&own.closed.1 * &reading.here))
            + reading.there.dot(&(&end.closed.1 * &reading.there))
            + 2.0 * reading.here.dot(&(&own.with_end * &reading.there));
        variance.max(0.0).sqrt()
    }

    /// Covariance of two readings, the earlier one first.
    fn covariance(&self, then: &Reading, now: &Reading) -> f64 {
        let (first, last) = (&self.stretches[then.k], &self.stretches[now.k]);
        let end = &self.stretches[self.stretches.len() - 1];
        // What hangs together with the later state, carried back from day to day.
        let mut carried = &last.closed.1 * &now.here;
        for stretch in self.stretches[then.k..now.k].iter().rev() {
            carried = &stretch.gain * carried.select_rows(&stretch.shared);
        }
        then.here.dot(&carried)
            + then.here.dot(&(&first.with_end * &now.there))
            + now.here.dot(&(&last.with_end * &then.there))
            + then.there.dot(&(&end.closed.1 * &now.there))
    }
}

/// A level as a sum of entries of a stretch and of the end.
struct Reading {
    k: usize,
    here: DVector<f64>,
    there: DVector<f64>,
    basis: f64,
}

/// Takes a day in and keeps its stretches: one, and one more from each set that disagreed.
fn follow(state: &mut StrengthState, day: &[SetEvidence], stretches: &mut Vec<Stretch>) {
    for set in day {
        state.open(set);
    }
    let Some(date) = day.first().map(|s| s.date) else { return };
    let mut opened = state.snapshot();
    let mut same_day = false;
    let mut trained: BTreeMap<usize, Vec<usize>> = BTreeMap::new();
    for set in day {
        let before = state.snapshot();
        let Some(judged) = state.judge(set) else { continue };
        if judged.widened {
            let widened = state.snapshot();
            let opened = std::mem::replace(&mut opened, widened);
            stretches.push(Stretch::new(date, opened, before, same_day, std::mem::take(&mut trained)));
            same_day = true;
        }
        state.update(&judged);
        trained.entry(set.pattern).or_default().extend(state.offset_of(&set.exercise));
    }
    stretches.push(Stretch::new(date, opened, state.snapshot(), same_day, trained));
}

impl Stretch {
    fn new(
        date: NaiveDate,
        opened: (DVector<f64>, DMatrix<f64>),
        closed: (DVector<f64>, DMatrix<f64>),
        same_day: bool,
        trained: BTreeMap<usize, Vec<usize>>,
    ) -> Self {
        let gain = DMatrix::zeros(closed.0.len(), 0);
        Self { date, opened, closed, same_day, gain, shared: Vec::new(), trained, with_end: DMatrix::zeros(0, 0) }
    }
}

/// From the last stretch back to the first. A new day shares all entries with the day before but the day's own effect.
fn smooth(stretches: &mut [Stretch], day_effect: usize) {
    let Some(last) = stretches.last_mut() else { return };
    last.with_end = last.closed.1.clone();
    for k in (0..stretches.len().saturating_sub(1)).rev() {
        let (head, tail) = stretches.split_at_mut(k + 1);
        let (now, next) = (&mut head[k], &mut tail[0]);
        let opened = std::mem::replace(&mut next.opened, nothing());
        let entries = now.closed.0.len();
        let shared: Vec<usize> = (0..entries).filter(|i| next.same_day || *i != day_effect).collect();
        let across = now.closed.1.select_columns(&shared);
        let expected = opened.1.select_rows(&shared).select_columns(&shared);
        let firm = &expected + DMatrix::identity(shared.len(), shared.len()) * TINY;
        now.with_end = DMatrix::zeros(entries, next.with_end.ncols());
        let Some(factor) = firm.cholesky() else { continue };
        let gain = factor.solve(&across.transpose()).transpose();
        let surprise = next.closed.0.select_rows(&shared) - opened.0.select_rows(&shared);
        let surer = next.closed.1.select_rows(&shared).select_columns(&shared) - expected;
        now.closed.0 += &gain * surprise;
        now.closed.1 += &gain * surer * gain.transpose();
        now.with_end = &gain * next.with_end.select_rows(&shared);
        now.gain = gain;
        now.shared = shared;
    }
    if let Some(first) = stretches.first_mut() {
        first.opened = nothing();
    }
}

fn nothing() -> (DVector<f64>, DMatrix<f64>) {
    (DVector::zeros(0), DMatrix::zeros(0, 0))
}
