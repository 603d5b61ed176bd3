//! Virtual clients: their true strength, how it answers to training, and what they do and say in a set.
//!
//! The world is not the filter's model. Where it differs is listed in [`DIFFERENCES`], and is part of every report.

use std::collections::BTreeMap;

use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;
use rand_distr::{Distribution, Normal, StudentT};

use crate::anatomy::Implement;
use crate::movement::{Catalogue, Movement};
use crate::person::{Experience, Person, Sex};
use crate::reps;
use crate::units::{Kilograms, Metres};

/// How the world differs from what the ledger assumes.
pub(super) const DIFFERENCES: [&str; 9] = [
    "every client has an own curve of repetitions and load: exponent 0.45 with a log-SD of 0.25, the ledger knows 0.45 alone",
    "reserve is judged with a bias of the client's own (on average half a repetition too little is said, SD 0.8) and in whole repetitions",
    "strength grows by a general and a pattern's own part, with how the sets were done, and ever more slowly; the ledger drifts at random",
    "the first time costs 5 % and fades with one over the sessions; the ledger assumes 4 % that fade exponentially",
    "slow repetitions count by an exponent of the client's own, 0.6 with an SD of 0.2; the ledger knows 0.6 alone",
    "days have heavy tails (Student t with 4 degrees of freedom, scale 0.025)",
    "a set costs 2 to 5 % of strength by client; the ledger assumes 3 %",
    "the usual ratio of every movement is off by a log-SD of 0.05 for everybody, besides each client's own",
    "time off loses 1.5 % a week after ten days; the ledger assumes 1 % after fourteen",
];

/// Log-SD of the general part of a client's strength, and of each pattern's own.
const GENERAL_SD: f64 = 0.24;
const OWN_SD: f64 = 0.17;
/// Most that is gained, log.
const CEILING: f64 = 0.35;
/// Share of the gain that all patterns have in common.
const COMMON: f64 = 0.6;
/// Days after which strength is lost, and log loss per week.
const KEPT_DAYS: i64 = 10;
const LOST_PER_WEEK: f64 = 0.015;
/// Seconds of a repetition at which strength is expressed.
const USUAL_SECONDS: f64 = 3.0;
/// What pain takes of strength, log.
const PAIN_COST: f64 = 0.08;

/// What the world itself is like: the same for all its clients.
#[derive(Debug, Clone)]
pub struct World {
    off: BTreeMap<String, f64>,
}

impl World {
    /// A world with a seed.
    pub fn new(catalogue: &Catalogue, seed: u64) -> Self {
        let mut random = ChaCha8Rng::seed_from_u64(seed);
        let off = catalogue.movements.iter().map(|m| (m.id.clone(), lot(&mut random, m, 0.05)));
        Self { off: off.collect() }
    }
}

fn normal(random: &mut ChaCha8Rng, sd: f64) -> f64 {
    Normal::new(0.0, sd).map_or(0.0, |n| n.sample(random))
}

/// What chance makes of a movement. Barbell movements came later and draw lots of their own, so that the worlds and clients of
/// a seed stay as they were.
fn lot(random: &mut ChaCha8Rng, movement: &Movement, sd: f64) -> f64 {
    if !movement.uses(Implement::Barbell) {
        return normal(random, sd);
    }
    let mut own = random.clone();
    // Fowler, Noll and Vo's hash: another stream for every name.
    let stream = movement
        .id
        .bytes()
        .fold(0xcbf2_9ce4_8422_2325, |hash: u64, byte| (hash ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3));
    own.set_stream(stream);
    normal(&mut own, sd)
}

/// What a set asks.
#[derive(Debug, Clone, Copy)]
pub struct Task {
    /// Log of the effective load in kg.
    pub log_load: f64,
    /// Fewest and most repetitions.
    pub zone: [u16; 2],
    /// Reserve at which to stop.
    pub rir: u8,
    /// Sets of the pattern before it that day.
    pub earlier: usize,
    /// Seconds of a repetition.
    pub per_rep: f64,
}

/// What a client did and said.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Answer {
    /// Whole repetitions.
    pub reps: u16,
    /// Reserve as it was said.
    pub said: u8,
    /// Reserve as it was; below zero where the load could not be lifted once.
    pub left: f64,
}

/// A virtual client.
#[derive(Debug, Clone)]
pub struct Client {
    /// As a trainer knows them.
    pub person: Person,
    random: ChaCha8Rng,
    /// By pattern: log load of the yardstick for 12 repetitions to failure at the start, and what was gained since.
    levels: BTreeMap<String, (f64, f64)>,
    /// Log gain a week where every set is right: general, and by pattern.
    common_gain: f64,
    own_gain: BTreeMap<String, f64>,
    ratios: BTreeMap<String, f64>,
    sessions: BTreeMap<String, u32>,
    exponent: f64,
    slowed: f64,
    tires: f64,
    bias: f64,
    /// Effect of the day.
    pub day: f64,
}

impl Client {
    /// Somebody of a world.
    pub fn new(catalogue: &Catalogue, world: &World, seed: u64) -> Self {
        let mut random = ChaCha8Rng::seed_from_u64(seed);
        let person = person(&mut random);
        Self::drawn(catalogue, world, person, random)
    }

    /// A client of a world with this body and experience.
    pub fn of(catalogue: &Catalogue, world: &World, person: Person, seed: u64) -> Self {
        Self::drawn(catalogue, world, person, ChaCha8Rng::seed_from_u64(seed))
    }

    /// The same with a level of a pattern that is known: log load of its yardstick for 12 repetitions to failure.
    #[must_use]
    pub fn with_level(mut self, pattern: &str, level: f64) -> Self {
        self.levels.insert(pattern.to_owned(), (level, 0.0));
        self
    }

    fn drawn(catalogue: &Catalogue, world: &World, person: Person, mut random: ChaCha8Rng) -> Self {
        let general = normal(&mut random, GENERAL_SD);
        let rate = match person.experience {
            Experience::Novice => 0.013,
            Experience::Intermediate => 0.007,
            Experience::Advanced => 0.004,
        };
        let common_gain = rate * COMMON * normal(&mut random, 0.4).exp();
        let (mut levels, mut own_gain) = (BTreeMap::new(), BTreeMap::new());
        for prior in catalogue.priors.values() {
            let own = normal(&mut random, OWN_SD);
            levels.insert(prior.id.clone(), (prior.log_guess(&person) + general + own, 0.0));
            own_gain.insert(prior.id.clone(), rate * (1.0 - COMMON) * normal(&mut random, 0.6).exp());
        }
        let ratios = catalogue.movements.iter().map(|m| {
            let (mean, sd) = m.log_ratio();
            let off = if sd == 0.0 { 0.0 } else { world.off.get(&m.id).copied().unwrap_or(0.0) };
            (m.id.clone(), mean + off + lot(&mut random, m, sd))
        });
        Self {
            ratios: ratios.collect::<Vec<_>>().into_iter().collect(),
            exponent: reps::P * normal(&mut random, 0.25).exp(),
            slowed: (0.6 + normal(&mut random, 0.2)).clamp(0.0, 1.2),
            tires: random.random_range(0.02..0.05),
            bias: 0.5 + normal(&mut random, 0.8),
            person,
            levels,
            common_gain,
            own_gain,
            sessions: BTreeMap::new(),
            day: 0.0,
            random,
        }
    }

    /// A new day.
    pub fn wake(&mut self) {
        self.day = StudentT::new(4.0).map_or(0.0, |t| t.sample(&mut self.random)) * 0.025;
    }

    /// Whether something with this probability happens.
    pub fn happens(&mut self, probability: f64) -> bool {
        self.random.random_bool(probability.clamp(0.0, 1.0))
    }

    /// One of so many, at random.
    pub fn one_of(&mut self, count: usize) -> usize {
        self.random.random_range(0..count.max(1))
    }

    /// Log of what was gained in a pattern since the start.
    pub fn gained(&self, pattern: &str) -> f64 {
        self.levels.get(pattern).map_or(0.0, |(_, gained)| *gained)
    }

    /// The true log load for 12 repetitions to failure on a movement, on an even day, as effective load.
    pub fn truth(&self, movement: &Movement) -> f64 {
        let (start, gained) = self.levels.get(&movement.carry_over.pattern).copied().unwrap_or_default();
        let ratio = self.ratios.get(&movement.id).copied().unwrap_or(0.0);
        let sessions = self.sessions.get(&movement.id).copied().unwrap_or(0);
        start + gained + ratio - movement.carry_over.basis.ln() - 0.05 / f64::from(sessions + 1)
    }

    /// Repetitions to failure that are there on an even day.
    pub fn capacity(&self, movement: &Movement, log_load: f64) -> f64 {
        reps::n_of((self.truth(movement) - log_load) / self.exponent + reps::g(reps::REFERENCE_REPS))
    }

    /// Does a set.
    pub fn perform(&mut self, movement: &Movement, task: &Task, hurts: bool) -> Answer {
        let today = self.day - self.tires * task.earlier as f64 + normal(&mut self.random, 0.015)
            - if hurts { PAIN_COST } else { 0.0 };
        let quick = self.capacity(movement, task.log_load - today);
        let capacity = quick * (USUAL_SECONDS / task.per_rep.max(1.0)).powf(self.slowed);
        // The client stops where the reserve feels right, never beyond the top of the zone, and feels it with a bias.
        let felt = f64::from(task.rir) + self.bias + normal(&mut self.random, 0.5);
        let reps = (capacity - felt).floor().clamp(0.0, f64::from(task.zone[1])).min(capacity.max(0.0).floor());
        let left = capacity - reps;
        let said = (left - self.bias + normal(&mut self.random, 0.4)).round().clamp(0.0, 5.0);
        Answer { reps: reps as u16, said: said as u8, left }
    }

    /// Counts a session of a movement: it is less new from now on.
    pub fn practise(&mut self, movement: &Movement) {
        *self.sessions.entry(movement.id.clone()).or_insert(0) += 1;
    }

    /// What a session's sets do to a pattern, each worth 0 to 1, of so many sessions a week.
    pub fn grow(&mut self, pattern: &str, worth: f64, per_week: f64) {
        let rate = self.common_gain + self.own_gain.get(pattern).copied().unwrap_or(0.0);
        if let Some((_, gained)) = self.levels.get_mut(pattern) {
            *gained += rate / per_week * worth * (1.0 - *gained / CEILING).max(0.0);
        }
    }

    /// What days without a session do to a pattern.
    pub fn rest(&mut self, pattern: &str, days: i64) {
        let weeks = (days - KEPT_DAYS).max(0) as f64 / 7.0;
        if let Some((_, gained)) = self.levels.get_mut(pattern) {
            *gained -= (weeks * LOST_PER_WEEK).min(0.25);
        }
    }
}

/// What a set is worth as training, by the reserve that was left: most near failure, little far from it; what failed early
/// costs more than it gives.
pub(super) fn worth(answer: &Answer, zone: [u16; 2]) -> f64 {
    let near = match answer.left {
        left if left <= 3.0 => 1.0,
        left => (1.0 - 0.2 * (left - 3.0)).max(0.2),
    };
    if answer.reps + 3 < zone[0] { near * 0.6 } else { near }
}

fn person(random: &mut ChaCha8Rng) -> Person {
    let sex = if random.random_bool(0.5) { Sex::Male } else { Sex::Female };
    let mass = if sex == Sex::Male { 80.0 } else { 65.0 } + normal(random, 11.0);
    let experience = match random.random_range(0..10) {
        0..=4 => Experience::Novice,
        5..=7 => Experience::Intermediate,
        _ => Experience::Advanced,
    };
    Person {
        body_mass_kg: Kilograms(mass.clamp(45.0, 130.0)),
        height_m: Metres(if sex == Sex::Male { 1.79 } else { 1.66 }),
        experience,
        age_years: Some(random.random_range(20..68)),
        sex: Some(sex),
        limits: vec![],
    }
}
