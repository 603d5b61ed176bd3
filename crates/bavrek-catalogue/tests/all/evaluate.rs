//! Virtual clients: the same seed gives the same report, and what the calls must never do they never do.

use std::sync::LazyLock;

use bavrek_catalogue::{load, virtual_rooms};
use bavrek_core::evaluate::{EvaluateQuestion, Report, evaluate};

fn run(seed: u64, clients: u32) -> Report {
    evaluate(&load().unwrap(), &virtual_rooms().unwrap(), &EvaluateQuestion { seed, clients, weeks: 16 })
}

static REPORT: LazyLock<Report> = LazyLock::new(|| run(7, 40));

#[test]
fn the_same_seed_gives_the_same_report() {
    let twice = [run(3, 4), run(3, 4)];
    assert_eq!(twice[0], twice[1]);
    assert_ne!(twice[0].start_rmse, run(4, 4).start_rmse);
}

#[test]
fn nothing_rises_after_a_break_or_with_pain() {
    assert_eq!(REPORT.wrong_add.after_break, 0.0);
    assert_eq!(REPORT.wrong_add.with_pain, 0.0);
    assert!(REPORT.wrong_add.after_bad_day <= 0.02, "{:?}", REPORT.wrong_add);
}

/// A first set tells much; what is carried over from other movements tells something before it.
#[test]
fn estimates_get_better_and_strength_carries_over() {
    let [before, one, two, three] = REPORT.start_rmse;
    assert!(REPORT.swaps > 100, "{}", REPORT.swaps);
    assert!(one < 0.75 * before && two <= one + 0.01 && three <= two + 0.01, "{:?}", REPORT.start_rmse);
    let cut = REPORT.cut_at_swaps.start_rmse;
    assert!(before < 0.85 * cut[0] && one < cut[1], "{:?} {cut:?}", REPORT.start_rmse);
    assert!(REPORT.coverage_90.iter().all(|share| (0.85..=0.95).contains(share)), "{:?}", REPORT.coverage_90);
}

/// The calls are no worse than what is done without them, and better than steps by lot.
#[test]
fn calls_are_worth_following() {
    let weeks = &REPORT.weeks_to_5_percent;
    assert!(weeks.bavrek <= weeks.fixed_double_progression, "{weeks:?}");
    assert!(weeks.bavrek < weeks.random_steps, "{weeks:?}");
    assert!(REPORT.outside_reserve.bavrek <= REPORT.outside_reserve.fixed_double_progression + 0.02);
}
