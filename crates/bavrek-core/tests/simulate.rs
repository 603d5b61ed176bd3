//! The simulation that fills the demo: repeatable, and plausible enough to learn from.

use bavrek_core::simulate::{Simulation, Task, Truth};
use bavrek_core::units::Kilograms;
use proptest::prelude::*;

const TRUTH: Truth = Truth { reference: Kilograms(10.0), weekly_gain: 0.0 };

fn task(load: f64) -> Task {
    Task { load: Kilograms(load), zone: [8, 12], rir: 2, earlier: 0 }
}

fn mean_reps(load: f64) -> f64 {
    let mut simulation = Simulation::new(1);
    let total: u16 = (0..200).map(|_| simulation.set(&TRUTH, 0.0, 0.0, &task(load)).reps).sum();
    f64::from(total) / 200.0
}

#[test]
fn the_same_seed_gives_the_same_sets() {
    let run = |seed| {
        let mut simulation = Simulation::new(seed);
        (0..50).map(|_| simulation.set(&TRUTH, 0.0, 0.0, &task(10.0))).collect::<Vec<_>>()
    };
    assert_eq!(run(7), run(7));
    assert_ne!(run(7), run(8));
}

#[test]
fn the_reference_load_gives_about_ten_with_two_in_reserve() {
    assert!((mean_reps(10.0) - 10.0).abs() < 1.0, "{}", mean_reps(10.0));
    assert!(mean_reps(12.0) < mean_reps(10.0) && mean_reps(10.0) < mean_reps(9.0));
}

#[test]
fn clients_get_stronger_with_the_weeks() {
    let truth = Truth { weekly_gain: 0.02, ..TRUTH };
    let total = |weeks: f64| {
        let mut simulation = Simulation::new(3);
        (0..100).map(|_| u32::from(simulation.set(&truth, weeks, 0.0, &task(10.5)).reps)).sum::<u32>()
    };
    assert!(total(8.0) > total(0.0));
}

proptest! {
    #[test]
    fn nobody_goes_beyond_the_zone_or_below_nothing(seed in 0u64..500, load in 1.0f64..60.0) {
        let set = Simulation::new(seed).set(&TRUTH, 0.0, 0.0, &task(load));
        prop_assert!(set.reps <= 12 && set.rir <= 5);
    }
}
