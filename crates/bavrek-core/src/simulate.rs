//! A seeded simulation of clients who train: demo logs and test worlds that no one typed in.

use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;
use rand_distr::{Distribution, Normal};

use crate::reps;
use crate::units::Kilograms;

/// A client's true strength on one movement, known to the simulation only.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Truth {
    /// Load for 12 repetitions to failure.
    pub reference: Kilograms,
    /// Log gain per week.
    pub weekly_gain: f64,
}

/// A simulated set.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct SimulatedSet {
    /// Repetitions done.
    pub reps: u16,
    /// Repetitions in reserve as the client judged them.
    pub rir: u8,
}

/// What the client is asked to do in a set.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Task {
    /// Effective load.
    pub load: Kilograms,
    /// Fewest and most repetitions.
    pub zone: [u16; 2],
    /// Repetitions in reserve at which to stop.
    pub rir: u8,
    /// Sets done before it that day.
    pub earlier: usize,
}

/// Simulates sets. The same seed gives the same sets.
#[derive(Debug, Clone)]
pub struct Simulation {
    rng: ChaCha8Rng,
}

impl Simulation {
    /// A simulation with a seed.
    pub fn new(seed: u64) -> Self {
        Self { rng: ChaCha8Rng::seed_from_u64(seed) }
    }

    fn noise(&mut self, sd: f64) -> f64 {
        Normal::new(0.0, sd).map_or(0.0, |n| n.sample(&mut self.rng))
    }

    /// How far a client's own strength lies from a first guess, as log.
    pub fn deviation(&mut self) -> f64 {
        self.noise(0.10)
    }

    /// Whether something with this probability happens.
    pub fn happens(&mut self, probability: f64) -> bool {
        self.rng.random_bool(probability.clamp(0.0, 1.0))
    }

    /// The effect of a day on log strength.
    pub fn day(&mut self) -> f64 {
        self.noise(0.025)
    }

    /// One set under `task`, `weeks` into the simulation, with the day's effect on log strength.
    pub fn set(&mut self, truth: &Truth, weeks: f64, day: f64, task: &Task) -> SimulatedSet {
        let strength = truth.reference.value().ln() + truth.weekly_gain * weeks + day - 0.03 * task.earlier as f64;
        let log_load = task.load.value().ln();
        let capacity = reps::expected_reps(strength + self.noise(0.02), log_load, 0.0).max(0.0).floor();
        // The client stops where the reserve feels right, but never beyond the top of the zone.
        let felt = (f64::from(task.rir) + self.noise(0.5)).round().clamp(0.0, 5.0);
        let reps = (capacity - felt).clamp(0.0, f64::from(task.zone[1]));
        let left = capacity - reps;
        let reported = (left + self.noise(0.4)).round().clamp(0.0, 5.0);
        SimulatedSet { reps: reps as u16, rir: reported as u8 }
    }
}
