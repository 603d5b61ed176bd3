//! How good the ledger and the calls are: virtual clients in a world that is not theirs, trained in four ways.

mod trained;
mod world;

use serde::Serialize;

use trained::{Outcome, Training, Way};
pub use world::{Answer, Client, Task, World};

use crate::kit::KitItem;
use crate::movement::Catalogue;
use crate::strength::NINETY;

/// What is evaluated.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct EvaluateQuestion {
    /// The same seed gives the same report.
    pub seed: u64,
    /// Clients, 1 to 5,000.
    pub clients: u32,
    /// Weeks each is trained, 1 to 104.
    pub weeks: u32,
}

/// Median weeks to 5 % more true strength by way of choosing steps.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Weeks {
    /// The calls.
    pub bavrek: f64,
    /// Up at the top of the zone, down after two misses.
    pub fixed_double_progression: f64,
    /// By lot.
    pub random_steps: f64,
}

/// Share of sets whose true reserve was more than two off the wanted one.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct OutsideReserve {
    /// With the calls.
    pub bavrek: f64,
    /// With double progression.
    pub fixed_double_progression: f64,
}

/// Shares of calls that asked for more when they should not have.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct WrongAdd {
    /// After a bad day: a step that leaves less than the bottom of the zone on an even one.
    pub after_bad_day: f64,
    /// After more than fourteen days: any rise.
    pub after_break: f64,
    /// After a session that hurt: any rise.
    pub with_pain: f64,
}

/// The calls from a ledger that begins anew with every movement.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct CutAtSwaps {
    /// As [`Report::start_rmse`].
    pub start_rmse: [f64; 4],
    /// Median weeks.
    pub weeks_to_5_percent: f64,
}

/// What came out.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Report {
    /// The seed.
    pub seed: u64,
    /// Clients.
    pub clients: u32,
    /// Weeks.
    pub weeks: u32,
    /// How the world differs from the ledger's model.
    pub world: Vec<&'static str>,
    /// New movements that came in place of others.
    pub swaps: usize,
    /// Root of the mean squared error of the log load expected of them, before any set and after one, two and three.
    pub start_rmse: [f64; 4],
    /// Share of those within the 90 % interval.
    pub coverage_90: [f64; 4],
    /// Medians; one more than the weeks where more than half never got there.
    pub weeks_to_5_percent: Weeks,
    /// Of all sets.
    pub outside_reserve: OutsideReserve,
    /// Of the calls in question.
    pub wrong_add: WrongAdd,
    /// What carrying strength over is worth.
    pub cut_at_swaps: CutAtSwaps,
}

/// Trains all clients in all ways, on as many threads as there are processors.
pub fn evaluate(catalogue: &Catalogue, rooms: &[Vec<KitItem>], question: &EvaluateQuestion) -> Report {
    let world = World::new(catalogue, question.seed);
    let all = |way| merged(catalogue, rooms, (&world, way), question);
    let (called, cut) = (all(Way::Called), all(Way::CutAtSwaps));
    let (double, random) = (all(Way::DoubleProgression), all(Way::Random));
    let share = |[of, wrong]: [usize; 2]| three(wrong as f64 / of.max(1) as f64);
    Report {
        seed: question.seed,
        clients: question.clients,
        weeks: question.weeks,
        world: world::DIFFERENCES.to_vec(),
        swaps: called.starts[0].len(),
        start_rmse: called.starts.each_ref().map(|s| rmse(s)),
        coverage_90: called.starts.each_ref().map(|s| coverage(s)),
        weeks_to_5_percent: Weeks {
            bavrek: median(&called.weeks),
            fixed_double_progression: median(&double.weeks),
            random_steps: median(&random.weeks),
        },
        outside_reserve: OutsideReserve { bavrek: share(called.sets), fixed_double_progression: share(double.sets) },
        wrong_add: WrongAdd {
            after_bad_day: share(called.after_bad_day),
            after_break: share(called.after_break),
            with_pain: share(called.with_pain),
        },
        cut_at_swaps: CutAtSwaps {
            start_rmse: cut.starts.each_ref().map(|s| rmse(s)),
            weeks_to_5_percent: median(&cut.weeks),
        },
    }
}

fn merged(
    catalogue: &Catalogue,
    rooms: &[Vec<KitItem>],
    (world, way): (&World, Way),
    question: &EvaluateQuestion,
) -> Outcome {
    let threads = std::thread::available_parallelism().map_or(1, usize::from).min(question.clients.max(1) as usize);
    let train = |number: u32| {
        let seed = question.seed.wrapping_mul(1_000_003).wrapping_add(u64::from(number));
        Training::new(catalogue, rooms, Client::new(catalogue, world, seed), way).run(question.weeks)
    };
    let outcomes = std::thread::scope(|scope| {
        let running: Vec<_> = (0..threads as u32)
            .map(|t| {
                let train = &train;
                scope.spawn(move || (t..question.clients).step_by(threads).map(|n| (n, train(n))).collect::<Vec<_>>())
            })
            .collect();
        let mut all: Vec<(u32, Outcome)> = running
            .into_iter()
            .flat_map(|r| r.join().unwrap_or_else(|panic| std::panic::resume_unwind(panic)))
            .collect();
        all.sort_by_key(|(number, _)| *number);
        all
    });
    let mut whole = Outcome::default();
    for (_, one) in outcomes {
        for (all, new) in whole.starts.iter_mut().zip(one.starts) {
            all.extend(new);
        }
        whole.weeks.extend(one.weeks);
        add(&mut whole.sets, one.sets);
        add(&mut whole.after_bad_day, one.after_bad_day);
        add(&mut whole.after_break, one.after_break);
        add(&mut whole.with_pain, one.with_pain);
    }
    whole
}

fn add(sum: &mut [usize; 2], more: [usize; 2]) {
    sum[0] += more[0];
    sum[1] += more[1];
}

fn rmse(errors: &[(f64, f64)]) -> f64 {
    three((errors.iter().map(|(e, _)| e * e).sum::<f64>() / errors.len().max(1) as f64).sqrt())
}

fn coverage(errors: &[(f64, f64)]) -> f64 {
    let within = errors.iter().filter(|(e, sd)| e.abs() <= NINETY * sd).count();
    three(within as f64 / errors.len().max(1) as f64)
}

fn median(values: &[f64]) -> f64 {
    let mut sorted = values.to_vec();
    sorted.sort_by(f64::total_cmp);
    match sorted.len() {
        0 => 0.0,
        n if n % 2 == 1 => sorted[n / 2],
        n => f64::midpoint(sorted[n / 2 - 1], sorted[n / 2]),
    }
}

fn three(value: f64) -> f64 {
    (value * 1000.0).round() / 1000.0
}
