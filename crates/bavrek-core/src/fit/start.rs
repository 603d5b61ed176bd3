//! Where to start: the load for the wanted repetitions, from the best evidence there is, on a step that exists.

use super::compared::Related;
use crate::anatomy::vocabulary;
use crate::holds::HOLD_SD;
use crate::ladder::Ladder;
use crate::movement::{Movement, RigModel, Style};
use crate::person::Person;
use crate::plan::Intent;
use crate::reps;
use crate::strength::{Ledger, Prediction, bounds, told_sd};
use crate::units::Kilograms;

vocabulary!(
    /// What the starting load rests on.
    Basis {
        ThisExercise => "this exercise", "this exercise";
        Pattern => "pattern", "the pattern";
        OtherPatterns => "other patterns", "other patterns";
        Prior => "prior", "body mass and experience";
        Resisted => "resisted", "whoever resists";
    }
);

/// A starting step with its estimate.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Start {
    /// Index on the ladder.
    pub step: usize,
    /// Log load for 12 repetitions to failure.
    pub reference: f64,
    /// Its SD.
    pub sd: f64,
    /// Load expected to give the wanted repetitions.
    pub expected: Kilograms,
    /// Lower end of the 90 % interval of it.
    pub low: Kilograms,
    /// Upper end.
    pub high: Kilograms,
    /// What it rests on.
    pub basis: Basis,
    /// Whether even the lightest step is above the estimate.
    pub above_estimate: bool,
    /// Repetitions that are to stay in reserve.
    pub reserve: f64,
    /// Kilograms of the arm itself that are lifted with the weight; none but in raises and flies.
    pub arm: f64,
    /// How much harder a repetition is at the slot's tempo than at three seconds.
    pub slow: f64,
    /// Repetitions expected on the step with the wanted reserve kept; below zero where it cannot be lifted once.
    pub reps: f64,
    /// A lighter step on which a first set of eight shows whether the step is right, where the gap between them is large.
    pub feeler: Option<usize>,
    /// Whether sets of the pattern disagree, so that the start is kept low.
    pub torn: bool,
    /// What became of a load that is asked as a share of the maximum.
    pub related: Option<Related>,
}

vocabulary!(
    /// How a step misses what is asked of it.
    Miss {
        TooHeavy => "too_heavy", "too heavy";
        TooLight => "too_light", "too light";
    }
);

/// Share of the fewest repetitions asked below which a step is too heavy for them, and of the most above which it is too
/// light. Assumed: within a set or two of training.
const TOO_FEW: f64 = 0.75;
const TOO_MANY: f64 = 1.5;
/// Two loads within this ratio are one step, as in pruning: an estimate of 7.9 takes the 8.
const SAME: f64 = 1.03;
/// Above this SD the uncertain side decides.
const CERTAIN: f64 = 0.05;
/// Repetitions beyond which a lighter step is passed over for a heavier one, where the zone does not ask for more.
const LONG: f64 = 30.0;
/// A start this much above the step that the cautious side allows is felt out first, ratio.
const FELT_OUT: f64 = 1.25;
/// Only where the estimate is less certain than this, log-SD.
const FELT_OUT_SD: f64 = 0.15;
/// A plain step takes the place of the best one within this ratio.
const PLAIN_ENOUGH: f64 = 1.10;
/// Repetitions that the easy end of a leaning movement may give on the first day.
const EASY_END: f64 = 20.0;
/// Repetitions that are better than a set without end.
pub(super) const FEW: f64 = 5.0;
/// A load is at least this share of what is lifted with the arm.
const MOST_OF_ARM: f64 = 0.2;
/// Repetitions of a set that feels a load out.
pub const FEELER_REPS: u16 = 8;
/// Repetitions in reserve after it from which the heavier step is taken.
pub const FEELER_RESERVE: u16 = 5;
/// Repetitions beyond which a load is said to be too light rather than counted.
const MOST_EXPECTED: f64 = 40.0;

/// Repetitions that are likely on a step, as far as they are worth telling.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Likely {
    /// More than are ever asked.
    TooLight,
    /// Hardly any.
    NearlyNone,
    /// About so many.
    About(f64),
}

impl Start {
    /// Whole repetitions expected on the step with the reserve kept, 0 to 41; 41 stands for more than 40.
    pub fn expected_reps(&self) -> u16 {
        // What is called too light is never written as 40.
        let whole = if self.is_too_light() { MOST_EXPECTED + 1.0 } else { self.reps.round() };
        whole.max(0.0) as u16
    }

    /// Repetitions expected on an effective load, kg, with the reserve kept, at the slot's tempo.
    pub fn reps_on(&self, load: f64) -> f64 {
        expected_reps(self.reference, load, self.effort())
    }

    /// How likely whoever does it is capable, on its step, of so many repetitions to failure at the slot's tempo or of what is as hard,
    /// 0 to 1: by how sure the estimate is, and by how much holds differ from day to day.
    pub(super) fn chance_of(&self, needed: f64) -> f64 {
        let capable = (self.reps + self.reserve).max(0.1);
        let margin = reps::P * (reps::g(capable) - reps::g(needed));
        0.5 * libm::erfc(-margin / (self.sd.hypot(HOLD_SD) * std::f64::consts::SQRT_2))
    }

    /// The same where strength is as much more or less, in logs, than it is thought to be.
    pub(super) fn reps_if(&self, more: f64, load: f64) -> f64 {
        expected_reps(self.reference + more, load, self.effort())
    }

    /// Load that can be lifted once at the usual tempo, kg, as it is expected.
    pub(super) fn maximum(&self) -> f64 {
        movement_load(self.reference, 1.0, Effort { reserve: 0.0, slow: 1.0, ..self.effort() })
    }

    const fn effort(&self) -> Effort {
        Effort { reserve: self.reserve, arm: self.arm, slow: self.slow }
    }

    /// The same on another step of the ladder, with the repetitions that are expected there.
    pub(crate) fn on(self, step: usize, ladder: &Ladder) -> Self {
        let reps = self.reps_on(ladder.steps[step].effective_kg.value());
        Self { step, reps, feeler: None, above_estimate: self.above_estimate && step == 0, ..self }
    }

    /// The same by someone who is more tired, log: weaker for now by so much.
    /// `load`: that of its step, kg.
    pub(super) fn after(self, less: f64, load: f64) -> Self {
        let lighter = |load: Kilograms| Kilograms(load.value() * (-less).exp());
        let tired = Self {
            reference: self.reference - less,
            expected: lighter(self.expected),
            low: lighter(self.low),
            high: lighter(self.high),
            ..self
        };
        Self { reps: tired.reps_on(load), ..tired }
    }

    /// How the step misses a zone of repetitions, where it does by so much that the zone had better not be asked of it.
    pub fn misses(&self, zone: [u16; 2]) -> Option<Miss> {
        let [low, high] = zone.map(f64::from);
        match self.reps {
            reps if reps < TOO_FEW * low => Some(Miss::TooHeavy),
            reps if reps > TOO_MANY * high => Some(Miss::TooLight),
            _ => None,
        }
    }

    /// Whether more than 40 repetitions are expected.
    pub fn is_too_light(&self) -> bool {
        self.reps > MOST_EXPECTED
    }

    /// The expectation in words: `about 12 reps`.
    pub fn reps_text(&self) -> String {
        self.likely().to_string()
    }

    /// The same as it is worth telling.
    pub fn likely(&self) -> Likely {
        match self.reps {
            _ if self.is_too_light() => Likely::TooLight,
            reps if reps < 2.0 => Likely::NearlyNone,
            reps => Likely::About(reps),
        }
    }
}

/// Repetitions that a start aims at: the middle of the zone, rounded down.
pub(super) fn target_reps(intent: &Intent) -> f64 {
    f64::from(u16::midpoint(intent.dose.reps[0], intent.dose.reps[1]))
}

/// Steps of a ladder on which a movement may start, with what is expected on each.
struct Finder<'f> {
    ladder: &'f Ladder,
    eligible: Vec<usize>,
    reference: f64,
    /// Load for the wanted repetitions, as expected and on the cautious side.
    expected: f64,
    cautious: f64,
    zone: [f64; 2],
    effort: Effort,
}

/// What makes repetitions harder than their number.
#[derive(Debug, Clone, Copy)]
struct Effort {
    /// Repetitions that are to stay in reserve.
    reserve: f64,
    /// Kilograms of the arm itself that are lifted with the weight.
    arm: f64,
    /// How much harder a repetition is at the slot's tempo than at three seconds.
    slow: f64,
}

impl<'f> Finder<'f> {
    fn new(
        ladder: &'f Ladder,
        movement: &Movement,
        intent: &Intent,
        predicted: Prediction,
        (torn, effort): (bool, Effort),
    ) -> Self {
        let expected = movement_load(predicted.mean, target_reps(intent), effort);
        let share = if torn { 1.0 } else { 0.5 };
        let caution = if predicted.sd > CERTAIN { share * predicted.sd } else { 0.0 };
        Self {
            ladder,
            eligible: eligible(ladder, movement),
            reference: predicted.mean,
            expected,
            cautious: expected * (-caution).exp(),
            zone: intent.dose.reps.map(f64::from),
            effort,
        }
    }

    fn load(&self, step: usize) -> f64 {
        self.ladder.steps[step].effective_kg.value()
    }

    fn reps(&self, step: usize) -> f64 {
        expected_reps(self.reference, self.load(step), self.effort)
    }

    /// The largest step on the cautious side of the estimate, else the lightest.
    fn cautious_step(&self) -> usize {
        let below = self.eligible.iter().rev().find(|i| self.load(**i) <= SAME * self.cautious);
        below.or(self.eligible.first()).copied().unwrap_or(0)
    }

    /// A heavier step where the cautious one would make the set very long.
    fn long_sets_shortened(&self, cautious: usize) -> usize {
        let most = LONG.max(2.0 * self.zone[1]);
        if self.reps(cautious) <= most {
            return cautious;
        }
        // Where the cautious step would be no training at all, a few repetitions are better than none.
        let fewest = if self.reps(cautious) > MOST_EXPECTED { FEW } else { self.zone[0] - 1.0 };
        let bearable = |i: &&usize| self.load(**i) <= SAME * self.expected || self.reps(**i) >= fewest;
        let heavier: Vec<usize> = self.eligible.iter().filter(|i| **i > cautious).filter(bearable).copied().collect();
        let short_enough = heavier.iter().find(|i| self.reps(**i) <= most);
        short_enough.or(heavier.last()).copied().unwrap_or(cautious)
    }

    /// A plain step near the best one: the first day is a test, and a test is plain.
    fn plain(&self, best: usize) -> usize {
        if self.ladder.steps[best].is_plain() {
            return best;
        }
        let place = self.eligible.iter().position(|i| *i == best).unwrap_or(0);
        let bearable = |i: usize| self.load(i) <= SAME * self.cautious || self.reps(i) >= self.zone[0] - 1.0;
        let near = |(at, i): &(usize, usize)| {
            let ratio = self.load(*i) / self.load(best);
            let within = (1.0 / PLAIN_ENOUGH..=PLAIN_ENOUGH).contains(&ratio);
            let near = within || at.abs_diff(place) <= 1;
            // A test set without end is no test.
            let short = self.reps(*i) <= LONG.max(2.0 * self.zone[1]).max(self.reps(best));
            self.ladder.steps[*i].is_plain() && near && short && (*i < best || bearable(*i))
        };
        let off = |i: usize| (self.load(i) / self.load(best)).ln().abs();
        let steps = self.eligible.iter().copied().enumerate().filter(near);
        steps.map(|(_, i)| i).min_by(|a, b| off(*a).total_cmp(&off(*b))).unwrap_or(best)
    }

    /// The easy end, no harder than `most`: where the body leans, the first day shows how much of it is felt.
    fn easy_end(&self, most: usize) -> usize {
        let long = EASY_END.max(self.zone[1]);
        self.eligible.iter().copied().find(|i| *i <= most && self.reps(*i) <= long).unwrap_or(most)
    }
}

pub(super) fn find(
    ladder: &Ladder,
    movement: &Movement,
    person: &Person,
    intent: &Intent,
    ledger: &Ledger<'_>,
) -> Start {
    let mut predicted = ledger.predict(movement);
    if movement.rig.is_resisted()
        && let Some(step) = ladder.steps.first()
    {
        // Who resists gives what the zone asks for: the middle of it is what is to be expected.
        let own = step.effective_kg.value().ln();
        predicted.mean = own - reps::log_load_for(0.0, target_reps(intent), f64::from(intent.dose.reserve()));
        predicted.sd = 0.0;
    }
    let torn = ledger.disagrees(movement);
    let arm = movement.rig.own_arm(person.body_mass_kg).value();
    // Lowering alone is slow by design: its ratio holds that already.
    let tempo = intent.dose.tempo.filter(|_| movement.style == Style::Reps);
    let slow = tempo.map_or(1.0, |tempo| reps::effective_reps(1.0, tempo.seconds()));
    let effort = Effort { reserve: f64::from(intent.dose.reserve()), arm, slow };
    let finder = Finder::new(ladder, movement, intent, predicted, (torn, effort));
    let cautious = finder.cautious_step();
    let mut step = finder.long_sets_shortened(cautious);
    if predicted.sessions == 0 {
        step = finder.plain(step);
        if leans(&movement.rig) {
            step = finder.easy_end(step);
        }
    }
    let gap = finder.load(step) / finder.load(cautious);
    let lightest = finder.eligible.first().map_or(0.0, |i| finder.load(*i));
    let [low, high] = bounds(Kilograms(finder.expected), told_sd(predicted.sd));
    Start {
        step,
        reference: predicted.mean,
        sd: predicted.sd,
        expected: Kilograms(finder.expected),
        low,
        high,
        basis: basis(movement, ledger, predicted.sessions),
        above_estimate: lightest > SAME * finder.expected,
        reserve: effort.reserve,
        arm,
        slow,
        reps: finder.reps(step),
        feeler: (gap > FELT_OUT && predicted.sd > FELT_OUT_SD).then_some(cautious),
        torn,
        related: None,
    }
}

/// Load for some repetitions with a reserve, kg: the arm is lifted with it.
fn movement_load(reference: f64, reps: f64, effort: Effort) -> f64 {
    let Effort { reserve, arm, slow } = effort;
    let whole = reps::log_load_for((reference.exp() + arm).ln(), (reps + reserve) * slow, 0.0).exp();
    (whole - arm).max(MOST_OF_ARM * whole)
}

/// Repetitions expected on a load with a reserve kept: the arm is lifted with it, and slow repetitions are fewer.
fn expected_reps(reference: f64, load: f64, effort: Effort) -> f64 {
    let Effort { reserve, arm, slow } = effort;
    let to_failure = reps::expected_reps((reference.exp() + arm).ln(), (load + arm).ln(), 0.0);
    // What cannot be lifted once cannot be lifted less often for being slow.
    let to_failure = if to_failure > 0.0 { to_failure / slow } else { to_failure };
    to_failure - reserve
}

fn basis(movement: &Movement, ledger: &Ledger<'_>, sessions: u32) -> Basis {
    match sessions {
        _ if movement.rig.is_resisted() => Basis::Resisted,
        1.. => Basis::ThisExercise,
        _ if ledger.has_evidence(movement) => Basis::Pattern,
        _ if ledger.is_informed(movement) => Basis::OtherPatterns,
        _ => Basis::Prior,
    }
}

/// Movements in which the body leans on or hangs from the hands at an angle.
const fn leans(rig: &RigModel) -> bool {
    matches!(
        rig,
        RigModel::BodyExtension { .. } | RigModel::RingCurl { .. } | RigModel::BodyArc { .. } | RigModel::InvertedRow
    )
}

/// Steps on which a movement may start: a dumbbell movement starts with a dumbbell in the hand, though bands alone are
/// steps of its ladder.
pub(super) fn eligible(ladder: &Ladder, movement: &Movement) -> Vec<usize> {
    let all = 0..ladder.steps.len();
    if !movement.is_weighed() || movement.rig.is_lever() {
        return all.collect();
    }
    let held: Vec<usize> = all.clone().filter(|i| ladder.steps[*i].load.is_some()).collect();
    if held.is_empty() { all.collect() } else { held }
}
