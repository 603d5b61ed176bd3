//! Reference numbers of repetitions, load and tempo.

use bavrek_core::reps;
use bavrek_core::units::Seconds;
use proptest::prelude::*;
use rstest::rstest;

fn within(actual: f64, expected: f64, tolerance: f64) {
    assert!((actual - expected).abs() <= tolerance, "{actual} is not {expected} within {tolerance}");
}

#[rstest]
#[case(1.0, 100.0)]
#[case(2.0, 95.8)]
#[case(3.0, 92.1)]
#[case(5.0, 85.9)]
#[case(6.0, 83.3)]
#[case(8.0, 78.8)]
#[case(10.0, 74.9)]
#[case(12.0, 71.6)]
#[case(15.0, 67.4)]
#[case(20.0, 61.9)]
#[case(25.0, 57.7)]
#[case(30.0, 54.2)]
fn share_of_the_maximum(#[case] n: f64, #[case] percent: f64) {
    within(reps::share_of_maximum(n) * 100.0, percent, 0.06);
}

#[rstest]
#[case::five_to_failure(5.0, 0.0, 0.061)]
#[case::eight_with_one(8.0, 1.0, 0.046)]
#[case::eight_with_three(8.0, 3.0, 0.049)]
#[case::ten_with_two(10.0, 2.0, 0.044)]
#[case::twelve_to_failure(12.0, 0.0, 0.038)]
#[case::twelve_with_four(12.0, 4.0, 0.079)]
#[case::twenty_with_two(20.0, 2.0, 0.059)]
#[case::twenty_eight_with_one(28.0, 1.0, 0.076)]
#[case::failed(0.0, 0.0, 0.10)]
fn certainty_of_a_set(#[case] done: f64, #[case] rir: f64, #[case] sd: f64) {
    within(reps::reference_log_sd(done, rir).unwrap(), sd, 0.0006);
}

#[rstest]
#[case::too_many(41.0, 0.0, reps::RepsError::TooMany)]
#[case::reserve(10.0, 7.0, reps::RepsError::ReserveUnknown)]
fn sets_that_say_nothing(#[case] done: f64, #[case] rir: f64, #[case] error: reps::RepsError) {
    assert_eq!(reps::reference_log_load(2.0, done, rir), Err(error));
}

#[rstest]
#[case(1.05, 8.0, 9.9)]
#[case(1.10, 8.0, 12.0)]
#[case(1.25, 8.0, 18.9)]
#[case(1.5, 6.0, 27.9)]
#[case(1.6, 6.0, 33.6)]
fn repetitions_before_a_jump(#[case] ratio: f64, #[case] landing: f64, #[case] needed: f64) {
    within(reps::reps_before_jump(ratio, landing), needed, 0.06);
}

#[rstest]
#[case(1.05, 9.8)]
#[case(1.10, 8.0)]
#[case(1.15, 6.4)]
#[case(1.25, 3.8)]
fn repetitions_after_a_jump_from_twelve(#[case] ratio: f64, #[case] left: f64) {
    within(reps::reps_after_jump(ratio, 12.0), left, 0.06);
}

#[rstest]
#[case(5.0, 0.078)]
#[case(6.0, 0.108)]
fn slower_lowering_of_ten(#[case] seconds: f64, #[case] gain: f64) {
    within(reps::tempo_gain(10.0, Seconds(3.0), Seconds(seconds)), gain, 0.0006);
    within(reps::effective_reps(10.0, Seconds(5.0)), 13.59, 0.01);
}

proptest! {
    #[test]
    fn repetitions_and_their_log_round_trip(n in 0.5f64..40.0) {
        prop_assert!((reps::n_of(reps::g(n)) - n).abs() < 1e-9);
    }

    #[test]
    fn a_target_on_its_own_load_is_met(reference in 0.5f64..5.0, target in 3.0f64..20.0, rir in 0.0f64..4.0) {
        let load = reps::log_load_for(reference, target, rir);
        prop_assert!((reps::expected_reps(reference, load, rir) - target).abs() < 1e-9);
    }
}
