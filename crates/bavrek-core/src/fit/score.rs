//! The parts of a score, each 0 to 1, and how they combine.

use super::case::{Case, Yardstick};
use super::joints::kindness;
use super::parts::Parts;
use super::start::Start;
use super::weights::Weights;
use crate::anatomy::{Region, Surface};
use crate::ladder::{Ladder, LadderStep};
use crate::mechanics::profile::share_distance;
use crate::movement::{Movement, Style};
use crate::plan::{Intent, Sides};
use crate::reference::stretch_tag;
use crate::reps;
use crate::units::Seconds;

/// A part never counts below this, so that one weak part does not erase the others.
const FLOOR: f64 = 0.03;

impl Parts {
    /// What each part of `other` costs it against these, as a share of log score; negative where `other` is better.
    pub(super) fn costs_against(&self, other: &Self, weights: &Weights) -> [(&'static str, f64); 7] {
        let (mine, theirs) = (self.values(), other.values());
        std::array::from_fn(|i| {
            (Self::NAMES[i], weights.values()[i] * (mine[i].max(FLOOR).ln() - theirs[i].max(FLOOR).ln()))
        })
    }

    /// Weighted geometric mean.
    pub fn score(&self, weights: &Weights) -> f64 {
        self.values().iter().zip(weights.values()).map(|(v, w)| w * v.max(FLOOR).ln()).sum::<f64>().exp()
    }
}

/// What is left of the target where the arm is not where the one head asked for works. Assumed.
const ARM_OF_ANOTHER_HEAD: f64 = 0.85;
/// What is left of it where one side or both were asked for and the other is done: time, not another movement. Assumed.
const OTHER_SIDES: f64 = 0.88;

/// What is left of the target where practitioners disagree about it: it weighs less and is never promised. Assumed.
const DISPUTED: f64 = 0.96;

/// How much of the wanted work goes to the wanted regions.
///
/// A hold or lowering alone answers an intent of whole repetitions only in part. Where several heads of a muscle are asked
/// for together, the rest of that muscle is no work beside the target; where one head is asked for alone, it is, and the
/// arm must be where that head works.
pub(super) fn targeting(movement: &Movement, intent: &Intent, style: Style) -> f64 {
    let wanted: f64 = intent.regions.values().sum();
    let given: f64 = intent.regions.iter().map(|(r, w)| w * movement.region_weight(*r)).sum();
    let direct: f64 = movement.direct.values().sum();
    let is_beside = |region: &Region| {
        let heads = intent.regions.keys().filter(|asked| asked.same_muscle(*region)).count();
        !intent.regions.contains_key(region) && heads < 2
    };
    let beside: f64 = movement.direct.iter().filter(|(r, _)| is_beside(r)).map(|(_, w)| w).sum();
    let covered = given / wanted * (1.0 - 0.25 * beside / direct.max(0.01));
    let unlike = |differs: bool, factor: f64| if differs { factor } else { 1.0 };
    covered
        * unlike(movement.pattern != intent.pattern, 0.6)
        * unlike(intent.arm_position.is_some_and(|a| a != movement.arm_position), 0.8)
        * unlike(favours_another_head(movement, intent), ARM_OF_ANOTHER_HEAD)
        * unlike(intent.grip.is_some_and(|g| movement.grip.is_some_and(|m| m != g)), 0.85)
        * unlike(intent.sides.is_some_and(|s| (s == Sides::One) != movement.unilateral()), OTHER_SIDES)
        * unlike(movement.style != style, if movement.style == Style::Hold { 0.5 } else { 0.75 })
        * (0.7 + 0.3 * movement.confidence)
        * unlike(movement.disputed.is_some(), DISPUTED)
}

/// Whether one head alone is asked for, no arm position is, and the movement's favours another head.
fn favours_another_head(movement: &Movement, intent: &Intent) -> bool {
    let mut asked = intent.regions.keys();
    let (Some(head), None) = (asked.next(), asked.next()) else { return false };
    let arms = head.arms_that_favour();
    intent.arm_position.is_none() && !arms.is_empty() && !arms.contains(&movement.arm_position)
}

pub(super) fn parts(case: &Case<'_>, targeting: f64, added: Seconds) -> Parts {
    let Case { movement, person, intent, yardstick, ladder, start } = *case;
    let step = &ladder.steps[start.step];
    // To failure, what is unsteady ends with the balance and not with the muscle.
    let steady = if intent.dose.to_failure() { movement.stability.powi(2) } else { movement.stability };
    Parts {
        targeting,
        tension: tension(movement, step, yardstick),
        reach: reach(start, intent, yardstick.long_sets),
        steps: steps(ladder, start),
        joints: kindness(movement, person, step.setup.bench_deg.map(crate::units::Degrees::value)),
        stability: steady,
        setup: setup(movement, step, intent, added),
    }
}

fn tension(movement: &Movement, step: &LadderStep, yardstick: &Yardstick) -> f64 {
    let Some(thirds) = yardstick.thirds else { return 1.0 };
    let match_of_shares = 1.0 - (share_distance(&step.thirds, &thirds) / 0.5).min(1.0);
    let tags = yardstick.tag.zip(stretch_tag(movement));
    let off = tags.map_or(0.0, |(a, b)| f64::from((a - b).abs()));
    match_of_shares * (1.0 - 0.15 * off)
}

/// Fewest repetitions of a set that still trains size.
pub(super) const FEWEST: f64 = 5.0;
/// Most repetitions of a set that still does.
pub(super) const MOST: f64 = 30.0;

/// Whether the start reaches the wanted repetitions: in full within the uncertainty of the estimate, nearly so from five
/// to thirty for a method that allows long sets, and less and less beyond. A lighter load earns nothing for being light.
fn reach(start: &Start, intent: &Intent, long_sets: f64) -> f64 {
    let [low, high] = intent.dose.reps.map(f64::from);
    let at = |sds: f64| reps_at(start, sds);
    let trains = (FEWEST..=MOST).contains(&start.reps);
    let inside = (low - 0.5..=high + 0.5).contains(&start.reps);
    let within = at(1.0) >= low - 0.5 && at(-1.0) <= high + 0.5;
    match start.reps {
        _ if inside || (within && trains) => 1.0,
        _ if trains => 0.4 + 0.58 * long_sets.sqrt(),
        few if few < FEWEST => 0.6 * (few / FEWEST).max(0.05),
        many => (0.7 * long_sets.sqrt() * (60.0 - many) / (60.0 - MOST)).max(0.03),
    }
}

/// Repetitions on the starting step for a strength so many SDs off the estimate.
fn reps_at(start: &Start, sds: f64) -> f64 {
    let shift = (sds * start.sd / reps::P).exp();
    // `n + 9` scales with the load to the power of 1/p; the reserve moves with it and stays out of the difference.
    (start.reps + start.reserve + 9.0) * shift - 9.0 - start.reserve
}

/// Half for four steps of headroom, half for jumps of at most 10 %.
fn steps(ladder: &Ladder, start: &Start) -> f64 {
    let headroom = (ladder.headroom(start.step) as f64 / 4.0).min(1.0);
    let jump = ladder.largest_jump(Some(ladder.steps[start.step].effective_kg));
    let smooth = 1.0 - ((jump - 0.10) / 0.40).clamp(0.0, 1.0);
    if ladder.steps.len() == 1 { 0.1 } else { 0.5 * headroom + 0.5 * smooth }
}

/// What is left of the set-up part where each side takes its own set: the work takes twice the time. Assumed.
const ONE_SIDE: f64 = 0.75;

/// What weight and band together, a grip nearer or a step far out take off the set-up part. Assumed.
const CONTRAPTION: f64 = 0.2;

fn setup(movement: &Movement, step: &LadderStep, intent: &Intent, added: Seconds) -> f64 {
    let improvised = matches!(step.setup.surface, Some(Surface::Chair | Surface::Sofa | Surface::Table));
    let sides = if movement.unilateral() && intent.sides != Some(Sides::One) { ONE_SIDE } else { 1.0 };
    let time = step.set_up_s.value() + added.value();
    let fiddly = if step.is_plain() { 0.0 } else { CONTRAPTION };
    (sides * (1.0 - time / 240.0 - fiddly - if improvised { 0.15 } else { 0.0 })).clamp(0.1, 1.0)
}
