//! Repetitions and load: how many repetitions a share of the maximum allows, and how certain a set is as evidence.

use crate::units::Seconds;

/// Exponent of the rep-load relation `load/1RM = (1 + (n−1)/10)^(−p)`.
pub const P: f64 = 0.45;
/// Repetitions to failure at which strength is expressed: 10 with 2 in reserve.
pub const REFERENCE_REPS: f64 = 12.0;
/// Most repetitions to failure from which a one-repetition maximum is shown.
pub const MOST_FOR_MAXIMUM: f64 = 12.0;

/// A set that says nothing usable about strength.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
pub enum RepsError {
    /// More repetitions than the relation covers.
    #[error("more than 40 repetitions say nothing about strength")]
    TooMany,
    /// A reserve nobody can judge.
    #[error("more than 6 in reserve cannot be judged")]
    ReserveUnknown,
}

/// `G(n) = ln(1 + (n−1)/10)`: log load lost from one repetition to n, divided by p.
pub fn g(n: f64) -> f64 {
    (1.0 + (n - 1.0) / 10.0).ln()
}

/// Inverse of [`g`].
pub fn n_of(value: f64) -> f64 {
    1.0 + 10.0 * (value.exp() - 1.0)
}

/// Share of the one-repetition maximum that can be lifted `n` times to failure; 1 at one repetition.
pub fn share_of_maximum(n: f64) -> f64 {
    (-P * g(n)).exp()
}

/// Log of the load for 12 repetitions to failure, from a load lifted `reps` times with `rir` in reserve.
pub fn reference_log_load(log_load: f64, reps: f64, rir: f64) -> Result<f64, RepsError> {
    check(reps, rir)?;
    Ok(log_load + P * (g_of_set(reps, rir) - g(REFERENCE_REPS)))
}

/// Log-SD of [`reference_log_load`] from one set.
pub fn reference_log_sd(reps: f64, rir: f64) -> Result<f64, RepsError> {
    check(reps, rir)?;
    if reps < 0.5 {
        return Ok(FAILED_SD);
    }
    Ok(log_sd(reps + rir, rir, 0.0))
}

/// Reserve assumed for a set that was logged without one.
pub const RESERVE_NOT_STATED: f64 = 2.0;
/// Log-SD of the count to failure where the reserve was not stated, repetitions. Assumed.
const NOT_STATED_SD: f64 = 1.5;
/// Repetitions to failure beyond which a set only tells that the load is light.
pub const MOST_REPS: f64 = 40.0;
/// Most repetitions of a set that are looked at: beyond, no load says anything of another.
const MOST_COUNTED: f64 = 100.0;
/// Repetitions in reserve that can still be judged.
pub const MOST_RESERVE: f64 = 6.0;
/// Reserve from which a set says at least: nobody counts repetitions that are so far off, and people say it of ten as well.
/// Assumed; read as exact, twelve repetitions that stopped at the top of the zone hold the estimate down for weeks.
pub const AT_LEAST_FROM: f64 = 5.0;
/// A reserve as people say it: `2`, and `5 or more` where it says only at least.
///
/// ```
/// use bavrek_core::reps::reserve_text;
/// assert_eq!([reserve_text(0), reserve_text(4), reserve_text(5), reserve_text(6)], ["0", "4", "5 or more", "6 or more"]);
/// ```
pub fn reserve_text(rir: u8) -> String {
    if f64::from(rir) >= AT_LEAST_FROM { format!("{rir} or more") } else { rir.to_string() }
}

/// Log-SD of a set in which not one repetition succeeded.
const FAILED_SD: f64 = 0.10;

/// Which way a set may move an estimate.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Bound {
    /// Both ways: it says how strong the client is.
    Both,
    /// Only down: who cannot lift a load once is not thereby stronger.
    OnlyLowers,
    /// Only up: beyond 40 repetitions, or with a reserve nobody can judge, it says at least.
    OnlyRaises,
}

/// A set read as evidence of the load for 12 repetitions to failure.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Reading {
    /// What is added to the log load of the set.
    pub shift: f64,
    /// Log-SD of the result.
    pub sd: f64,
    /// How far it is from the reference along the curve of repetitions and load: `G(n) − G(12)`. By that much it depends on the
    /// client's own curve.
    pub along: f64,
    /// Which way it may move an estimate.
    pub bound: Bound,
}

/// SD of a client's own exponent about [`P`].
pub const CURVE_SD: f64 = 0.11;

impl Reading {
    /// Variance of the set itself: without what the client's own curve adds to all sets alike.
    pub fn own_variance(&self) -> f64 {
        self.sd.powi(2) - (CURVE_SD * self.along).powi(2)
    }
}

/// Reads a set of any length: `reps` done with `rir` in reserve, where it was stated. `per_rep` are the seconds of a
/// repetition, where a tempo was kept: slower ones count for more.
///
/// ```
/// use bavrek_core::reps::{Bound, read};
/// // Ten with two in reserve is the reference itself.
/// let ten = read(10.0, Some(2.0), None);
/// assert!(ten.shift.abs() < 1e-12 && ten.bound == Bound::Both);
/// assert_eq!(read(0.0, Some(0.0), None).bound, Bound::OnlyLowers);
/// assert_eq!(read(60.0, Some(0.0), None).bound, Bound::OnlyRaises);
/// ```
pub fn read(reps: f64, rir: Option<f64>, per_rep: Option<Seconds>) -> Reading {
    if reps < 0.5 {
        return Reading {
            shift: P * (g(0.0) - g(REFERENCE_REPS)),
            sd: FAILED_SD,
            along: 0.0,
            bound: Bound::OnlyLowers,
        };
    }
    let stated = rir.unwrap_or(RESERVE_NOT_STATED);
    let reserve = stated.min(MOST_RESERVE);
    let whole = reps + reserve;
    let to_failure = per_rep.map_or(whole, |seconds| effective_reps(whole, seconds));
    let n = to_failure.min(MOST_REPS);
    let unsure = if rir.is_none() { NOT_STATED_SD } else { 0.0 };
    let bound = if to_failure > MOST_REPS || stated >= AT_LEAST_FROM { Bound::OnlyRaises } else { Bound::Both };
    let along = g(n) - g(REFERENCE_REPS);
    Reading { shift: P * along, sd: log_sd(n, reserve, unsure), along, bound }
}

/// Log-SD of the load for 12 repetitions, from a set to `n` with `rir` in reserve.
fn log_sd(n: f64, rir: f64, unsure: f64) -> f64 {
    let sigma_n = (0.6 + 0.3 * rir).powi(2) + 0.29f64.powi(2) + (0.05 * (n - 10.0).max(0.0)).powi(2) + unsure.powi(2);
    let far = if rir >= 4.0 { 0.06f64.powi(2) } else { 0.0 };
    let variance = 0.035f64.powi(2)
        + P.powi(2) * sigma_n / (9.0 + n).powi(2)
        + (CURVE_SD * (g(n) - g(REFERENCE_REPS))).powi(2)
        + far;
    variance.sqrt()
}

fn g_of_set(reps: f64, rir: f64) -> f64 {
    // A set that failed at the first repetition still bounds strength: n = 0 has G = ln 0.9.
    g(if reps < 0.5 { 0.0 } else { reps + rir })
}

fn check(reps: f64, rir: f64) -> Result<(), RepsError> {
    if reps + rir > MOST_REPS {
        return Err(RepsError::TooMany);
    }
    if rir > MOST_RESERVE {
        return Err(RepsError::ReserveUnknown);
    }
    Ok(())
}

/// Log load for one repetition from a set, and its log-SD: the same terms as for twelve, but the exponent's spread
/// counts over the whole way to one. None where it is not to be stated: over 12 repetitions to failure, or none done.
pub fn maximum(log_load: f64, reps: f64, rir: f64) -> Option<(f64, f64)> {
    let n = reps + rir;
    if n > MOST_FOR_MAXIMUM || reps < 0.5 {
        return None;
    }
    maximum_log_sd(reps, rir).map(|sd| (log_load + P * g(n), sd))
}

/// Log-SD of a one-repetition maximum from one set, whether it is to be stated or not.
pub fn maximum_log_sd(reps: f64, rir: f64) -> Option<f64> {
    let at_twelve = reference_log_sd(reps, rir).ok()?;
    let n = reps + rir;
    let spread = |way: f64| (CURVE_SD * way).powi(2);
    Some((at_twelve.powi(2) - spread(g(n) - g(REFERENCE_REPS)) + spread(g(n))).sqrt())
}

/// Repetitions as if a set had been done on the load it began on, where the load was changed within it by a log ratio: of
/// `[before, after]` that were done. A repetition tires by the share of those that its load allows, so that `before / N +
/// (after + rir) / N′ = 1`, N and N′ being what is possible on each (assumed: what tires adds up, whatever the order).
///
/// ```
/// use bavrek_core::reps::as_begun;
/// // Nothing changed: five and five are ten. Made harder, each of the last counts for more.
/// assert!((as_begun([5.0, 5.0], 2.0, 0.0) - 10.0).abs() < 1e-6);
/// assert!(as_begun([5.0, 5.0], 2.0, 0.1) > 10.5 && as_begun([5.0, 5.0], 2.0, -0.1) < 9.5);
/// ```
pub fn as_begun([before, after]: [f64; 2], rir: f64, log_ratio: f64) -> f64 {
    let possible = |n: f64| n_of(g(n) - log_ratio / P);
    let left = |n: f64| {
        let then = possible(n);
        if then <= 0.0 { f64::NEG_INFINITY } else { 1.0 - before / n - (after + rir) / then }
    };
    // What is possible rises with strength, so what is left does: halved until nothing is.
    let (mut low, mut high) = (before, 4.0 * MOST_COUNTED);
    for _ in 0..60 {
        let middle = f64::midpoint(low, high);
        if left(middle) < 0.0 { low = middle } else { high = middle }
    }
    (f64::midpoint(low, high) - rir).max(before)
}

/// Log load for a target of `reps` with `rir` in reserve, from the log load for 12 to failure.
pub fn log_load_for(reference: f64, reps: f64, rir: f64) -> f64 {
    reference - P * (g(reps + rir) - g(REFERENCE_REPS))
}

/// Repetitions expected on a log load with `rir` in reserve; may be zero or negative for a load that is too heavy.
pub fn expected_reps(reference: f64, log_load: f64, rir: f64) -> f64 {
    n_of((reference - log_load) / P + g(REFERENCE_REPS)) - rir
}

/// Repetitions needed before a jump by ratio `j` that should land at `landing`: `(9 + n_b)·j^(1/p) − 9`.
pub fn reps_before_jump(ratio: f64, landing: f64) -> f64 {
    (9.0 + landing) * ratio.powf(1.0 / P) - 9.0
}

/// Repetitions left after a jump by ratio `j` from `before`: `(9 + n_a)·j^(−1/p) − 9`.
pub fn reps_after_jump(ratio: f64, before: f64) -> f64 {
    (9.0 + before) * ratio.powf(-1.0 / P) - 9.0
}

/// Repetitions at three seconds each that are as hard as `n` at `per_rep` each: `n·(τ/3)^0.6` (exponent ±0.2).
pub fn effective_reps(n: f64, per_rep: Seconds) -> f64 {
    n * (per_rep.value() / 3.0).powf(0.6)
}

/// Log load gained by slowing `n` repetitions from `from` to `to` seconds each.
pub fn tempo_gain(n: f64, from: Seconds, to: Seconds) -> f64 {
    P * (g(effective_reps(n, to)) - g(effective_reps(n, from)))
}
