//! Up, down, or on: what the repetitions say.

use super::Caller;
use super::call::Call;
use super::dose::way_back;
use super::elsewhere::Hardest;
use super::kind::CallKind;
use super::reason::{Held, Next, OtherKind, Reason, Went};
use super::sessions::Session;
use crate::dose::{Count, SetKind, Tempo};
use crate::reps;
use crate::units::Kilograms;

/// Sessions below what was asked in which strength does not move: fatigue, half the sets.
const WORN_SESSIONS: usize = 3;
/// Sessions without credible change that are a stall, whatever the reserve said.
const STALL_SESSIONS: usize = 6;
/// Log load that is noise over a stall.
const NOISE: f64 = 0.025;
/// Most repetitions that stand in for a missing load.
const MOST_REPS: u16 = 30;
/// Most repetitions to failure before a jump that still count as a bridge.
const MOST_BEFORE_JUMP: f64 = 25.0;
/// Slowest lowering that is prescribed as a bridge, s.
const SLOWEST_LOWERING: Count = Count::whole(5);
/// Reserve beyond what was asked from which the load follows the estimate at once.
const FAR_ABOVE: f64 = 3.0;
/// Fewest repetitions of a set that is still work for growth, not a test. Assumed.
const FEWEST_REPS: u16 = 4;
/// Repetitions over the top of the zone, as a ratio, from which a step is far too light to go back to. Assumed.
const TOO_LIGHT: f64 = 1.3;
/// Two loads within this ratio are one step.
const SAME: f64 = 1.03;
/// Seconds by which a hold grows.
const MORE_SECONDS: u16 = 5;
/// Longest hold that is prescribed, s.
const LONGEST_HOLD: u16 = 60;

impl Caller<'_> {
    fn low(&self) -> u16 {
        self.question.intent.dose.reps[0]
    }

    /// Load at which the middle of the zone is done with the reserve kept, from repetitions to failure on another load.
    fn load_for_middle(&self, load: f64, to_failure: f64, reserve: f64) -> f64 {
        let middle = f64::from(u16::midpoint(self.question.intent.dose.reps[0], self.question.intent.dose.reps[1]));
        let arm = self.movement.rig.own_arm(self.question.person.body_mass_kg).value();
        (load + arm) * (reps::P * (reps::g(to_failure) - reps::g(middle + reserve))).exp() - arm
    }

    /// The step that the estimate of strength itself would take.
    pub(super) fn estimated_step(&self) -> Option<usize> {
        let reserve = f64::from(self.question.intent.dose.reserve());
        let known = self.ledger.predict(self.movement);
        let load = self.load_for_middle(known.mean.exp(), reps::REFERENCE_REPS, reserve);
        self.at_most(SAME * load, 0.0)
    }

    /// Far from the zone at once: down now, or up by the estimate, without one more try.
    pub(super) fn far_off(&self, last: &Session<'_>) -> Option<Call> {
        let load = last.load?.value();
        let reserve = last.asked_reserve();
        let worst = last.counted.iter().min_by_key(|c| c.reps())?;
        if 2 * worst.reps() <= worst.zone[0] && worst.reserve() < 0.5 {
            let right = self.load_for_middle(load, last.least_to_failure(), reserve);
            let down = self.at_most(SAME * right, 0.0).or((!self.ladder.steps.is_empty()).then_some(0));
            let down = down.filter(|d| self.at.is_none_or(|at| *d < at)).or_else(|| self.below());
            let why = Reason::Went(Went::FarBelow { done: last.told(), bottom: worst.zone[0] });
            return Some(match down {
                Some(down) => {
                    self.call(CallKind::Ease, Some(down), vec![why, Reason::Next(Next::RightNow(Kilograms(right)))])
                }
                None => self.easier(vec![why]),
            });
        }
        let beyond = last.counted.iter().all(|c| c.reserve() >= c.rir + FAR_ABOVE && c.reps() >= c.zone[0]);
        let far_over = last.counted.iter().all(|c| c.reps() >= c.zone[1] + 5) && last.reserve_kept();
        (beyond || far_over).then(|| self.risen_by_estimate(last, Reason::Went(Went::FarAbove(last.told())))).flatten()
    }

    /// Up to the step that the sets themselves say, where that is above today's.
    pub(super) fn risen_by_estimate(&self, last: &Session<'_>, why: Reason) -> Option<Call> {
        let at = self.at?;
        let right = self.load_for_middle(last.load?.value(), last.least_to_failure(), last.asked_reserve());
        let estimated = self.at_most(SAME * right, 0.0).filter(|up| *up > at);
        // The next step, where the estimate lies between two.
        let up = estimated.or_else(|| self.above().filter(|up| self.lands(last, at, *up, 1.0)))?;
        let jump = self.load(up) / self.load(at) - 1.0;
        let reasons = vec![why, Reason::Next(Next::ByEstimate { step: self.label(up), jump })];
        Some(self.call(CallKind::AddLoad, Some(up), reasons))
    }

    /// Whether the step of the last sets was not logged, so that no step lies above or below it.
    pub(super) fn is_step_unknown(&self) -> bool {
        self.at.is_none() && !self.ladder.steps.is_empty()
    }

    /// What the repetitions say of sets whose step was not logged: no step follows from them.
    pub(super) fn on_unknown_step(&self, last: &Session<'_>) -> Option<Call> {
        let unknown = Reason::Next(Next::StepUnknown);
        if last.below_bottom() {
            let bottom = last.counted.iter().map(|c| c.zone[0]).max().unwrap_or_else(|| self.low());
            let again = self.was_below_before();
            let kind = if again { CallKind::Ease } else { CallKind::Hold };
            let below = Reason::Went(Went::Below { done: last.told(), bottom, again });
            let mut call = self.call(kind, None, vec![below, unknown]);
            if again {
                way_back(&mut call.prescription, self.question.intent);
            }
            return Some(call);
        }
        let top = last.at_top().then(|| Reason::Went(Went::AtTop(last.told())))?;
        Some(self.call(CallKind::Hold, None, vec![top, unknown]))
    }

    pub(super) fn upwards(&self, last: &Session<'_>) -> Option<Call> {
        // Sets on other steps say nothing of this one.
        let own = self.question.prescription.sets.iter().filter(|set| set.step == 0).count();
        let enough_sets = last.counted.len() >= own.clamp(1, 2);
        if !last.at_top() || !last.reserve_kept() || !enough_sets {
            return None;
        }
        let done = Reason::Went(Went::AtTop(last.told()));
        let Some(up) = self.above() else { return Some(self.beyond_the_ladder(done)) };
        let at = self.at?;
        let ratio = self.ratio(self.load(at), self.load(up));
        let jump = self.load(up) / self.load(at) - 1.0;
        let reserve = last.asked_reserve();
        // Repetitions that were done slower than the slot's tempo count for more at that tempo.
        let done_at = self.question.prescription.sets.first().map_or(Tempo::USUAL, |s| s.tempo).seconds();
        let usual = self.question.intent.dose.tempo.unwrap_or(Tempo::USUAL).seconds();
        let slower = reps::effective_reps(1.0, done_at) / reps::effective_reps(1.0, usual);
        let capacity = (f64::from(last.least_reps()) + last.reserve()) * slower;
        let size = Reason::Next(Next::NextStep { step: self.label(up), jump });
        if self.lands(last, at, up, slower) {
            let reps = (reps::reps_after_jump(ratio, capacity) - reserve).max(0.0);
            let expected = Reason::Next(Next::Expected { reps, reserve });
            return Some(self.call(CallKind::AddLoad, Some(up), vec![done, size, expected]));
        }
        Some(self.bridge(done, size, (ratio, slower), last))
    }

    /// Whether a step up may be taken: in every set, with one less in reserve than asked, at least its bottom less one is
    /// expected on the new step.
    fn lands(&self, last: &Session<'_>, at: usize, up: usize, slower: f64) -> bool {
        let ratio = self.ratio(self.load(at), self.load(up));
        last.counted.iter().all(|c| {
            // Single judgements of the reserve are too noisy: the average stands for each.
            let capacity = (f64::from(c.reps()) + last.reserve()) * slower;
            let left = reps::reps_after_jump(ratio, capacity) - (c.rir - 1.0).max(0.0);
            left >= f64::from(c.zone[0].min(self.low())) - 1.0
        })
    }

    /// The next step is too far to land on: more reps first, then slower lowering, then more reps as slow as that. `slower` is
    /// how many repetitions at the slot's tempo one counts for as it is done now.
    fn bridge(&self, done: Reason, size: Reason, (ratio, slower): (f64, f64), last: &Session<'_>) -> Call {
        let (low, high) = (self.low(), last.counted.iter().map(|c| c.zone[1]).max().unwrap_or(0));
        let reserve = last.asked_reserve();
        let landing = f64::from(low) - 1.0 + (reserve - 1.0).max(0.0);
        let needed = reps::reps_before_jump(ratio, landing) / slower;
        if needed <= MOST_BEFORE_JUMP {
            // Counted as they are counted in a set: with the reserve kept.
            let reps = ((needed - reserve).ceil() as u16).max(high);
            let why = Reason::Next(Next::RepsFirst(reps));
            let mut call = self.call(CallKind::AddReps, self.at, vec![done, size, why]);
            for set in &mut call.prescription.sets {
                set.reps = set.reps.map(|_| [high.min(reps), reps]);
            }
            return call;
        }
        if let Some(call) = self.slower(done.clone(), vec![size.clone()]) {
            return call;
        }
        self.call(CallKind::Hold, self.at, vec![done, size, Reason::Next(Next::GapTooBig)])
    }

    fn slower(&self, done: Reason, more: Vec<Reason>) -> Option<Call> {
        let tempo = self.question.prescription.sets.first()?.tempo;
        if tempo.lowering >= SLOWEST_LOWERING {
            return None;
        }
        let slower = Tempo { lowering: tempo.lowering.longer(2).min(SLOWEST_LOWERING), ..tempo };
        let gain = reps::tempo_gain(10.0, tempo.seconds(), slower.seconds()).exp() - 1.0;
        let why = Reason::Next(Next::Slower { from: tempo.lowering, to: slower.lowering, gain });
        let mut reasons = vec![done];
        reasons.extend(more);
        reasons.push(why);
        let mut call = self.call(CallKind::AddTempo, self.at, reasons);
        for set in &mut call.prescription.sets {
            set.tempo = slower;
        }
        Some(call)
    }

    fn beyond_the_ladder(&self, done: Reason) -> Call {
        let top = Reason::Next(Next::HardestStep);
        // The body gets a longer lever; a weight that is all there is gets a slower way down first.
        let harder = |most: Hardest| self.harder(most, vec![done.clone(), top.clone()]);
        let in_zone = || harder(Hardest::InZone);
        let slower = || self.slower(done.clone(), vec![top.clone()]);
        let more = if self.movement.rig.is_lever() { in_zone().or_else(slower) } else { slower().or_else(in_zone) };
        if let Some(call) = more {
            return call;
        }
        // As long as a set may be: a few repetitions of what is harder, or the same again.
        if self.question.prescription.sets.iter().filter_map(|set| set.reps).any(|[_, high]| high >= MOST_REPS) {
            let again = || self.call(CallKind::Hold, self.at, vec![done.clone(), top.clone()]);
            return harder(Hardest::AFew).unwrap_or_else(again);
        }
        let mut call = self.call(CallKind::AddReps, self.at, vec![done, top, Reason::Next(Next::MoreReps(MOST_REPS))]);
        for set in &mut call.prescription.sets {
            set.reps = set.reps.map(|[_, high]| [high, (high + 4).min(MOST_REPS).max(high)]);
        }
        call
    }

    pub(super) fn too_hard(&self, last: &Session<'_>) -> Option<Call> {
        if !last.below_bottom() {
            return None;
        }
        let low = last.counted.iter().map(|c| c.zone[0]).max().unwrap_or(0);
        if !self.was_below_before() {
            let reason = Reason::Went(Went::Below { done: last.told(), bottom: low, again: false });
            return Some(self.call(CallKind::Hold, self.at, vec![reason]));
        }
        let reason = Reason::Went(Went::Below { done: last.told(), bottom: low, again: true });
        if let Some(call) = self.between_steps(last, low, &reason) {
            return Some(call);
        }
        Some(match self.below() {
            Some(below) => self.call(CallKind::Ease, Some(below), vec![reason]),
            None => self.easier(vec![reason]),
        })
    }

    /// Whether the session before the last was below its zone as well.
    fn was_below_before(&self) -> bool {
        self.sessions.iter().rev().nth(1).is_some_and(Session::below_bottom)
    }

    /// Where this step is a little too heavy and the one below it far too light: on it stays, with fewer repetitions that grow.
    fn between_steps(&self, last: &Session<'_>, low: u16, reason: &Reason) -> Option<Call> {
        let (at, below) = (self.at?, self.below()?);
        let least = last.least_reps();
        let ratio = self.ratio(self.load(at), self.load(below));
        let there = reps::reps_after_jump(ratio, last.least_to_failure()) - last.asked_reserve();
        if least < (low / 2).max(FEWEST_REPS) || there <= TOO_LIGHT * f64::from(self.question.intent.dose.reps[1]) {
            return None;
        }
        let why = Reason::Next(Next::TooLightBelow { step: self.label(below), reps: there, grow: [least, low] });
        let mut call = self.call(CallKind::Hold, self.at, vec![reason.clone(), why]);
        for set in &mut call.prescription.sets {
            set.reps = set.reps.map(|_| [least, low]);
        }
        Some(call)
    }

    /// Less in reserve than asked, session after session, without progress: half the sets for a week.
    pub(super) fn worn(&self, last: &Session<'_>) -> Option<Call> {
        let recent: Vec<_> = self.sessions.iter().rev().take(WORN_SESSIONS).collect();
        let no_gain = recent.windows(2).all(|w| level(w[0]) <= level(w[1]) + 1e-9);
        let hard = recent.iter().all(|d| !d.reserve_kept());
        if recent.len() < WORN_SESSIONS || !no_gain || !hard || last.counted.is_empty() {
            return None;
        }
        Some(self.deload(vec![Reason::Went(Went::Worn(WORN_SESSIONS))]))
    }

    fn deload(&self, reasons: Vec<Reason>) -> Call {
        let mut call = self.call(CallKind::Deload, self.below().or(self.at), reasons);
        let kept = call.prescription.sets.len().div_ceil(2);
        call.prescription.sets.truncate(kept);
        call
    }

    /// Six sessions without credible change: tempo first, then another step, then another movement, then a lighter week.
    pub(super) fn stalled(&self) -> Option<Call> {
        let recent: Vec<_> = self.sessions.iter().rev().take(STALL_SESSIONS).collect();
        if recent.len() < STALL_SESSIONS {
            return None;
        }
        // Who has much left in reserve does not stall: nothing was asked that would show a change.
        if recent.iter().any(|s| s.reserve() >= s.asked_reserve() + FAR_ABOVE) {
            return None;
        }
        let levels: Vec<f64> = recent.iter().map(|s| level(s)).collect();
        let half = STALL_SESSIONS / 2;
        let mean = |part: &[f64]| part.iter().sum::<f64>() / part.len() as f64;
        if mean(&levels[..half]) - mean(&levels[half..]) > NOISE {
            return None;
        }
        let why = Reason::Went(Went::Stalled(STALL_SESSIONS));
        let tempo_now = self.question.prescription.sets.first().map(|s| s.tempo);
        let usual = self.question.intent.dose.tempo.unwrap_or(Tempo::USUAL);
        let loads: Vec<f64> = recent.iter().filter_map(|s| s.load).map(Kilograms::value).collect();
        let one_step = loads.iter().all(|kg| (kg / loads[0] - 1.0).abs() < 1.0 - 1.0 / SAME);
        if tempo_now == Some(usual)
            && let Some(call) = self.slower(why.clone(), vec![])
        {
            return Some(call);
        }
        if one_step && let Some(below) = self.below() {
            return Some(self.call(
                CallKind::Ease,
                Some(below),
                vec![why, Reason::Next(Next::AnotherStep(self.label(below)))],
            ));
        }
        let swap = self.swap(vec![why.clone(), Reason::Next(Next::AnotherMovement)]);
        if swap.alternatives.iter().any(|a| a.other.is_some()) {
            return Some(swap);
        }
        Some(self.deload(vec![why, Reason::Next(Next::NothingElse)]))
    }

    pub(super) fn within(&self, last: &Session<'_>) -> Call {
        let went = Reason::Went(if last.at_top() {
            Went::AtTop(last.told())
        } else if last.counted.iter().all(|c| (c.zone[0]..=c.zone[1]).contains(&c.reps())) {
            Went::Inside(last.told())
        } else {
            Went::Done(last.told())
        });
        if last.reserve_kept() {
            let top = last.counted.iter().map(|c| c.zone[1]).max().unwrap_or(self.question.intent.dose.reps[1]);
            let at_top = last.counted.iter().any(|c| c.reps() >= c.zone[1]);
            let more = Reason::Next(Next::OneMore { below: at_top.then_some(top) });
            return self.call(CallKind::AddReps, self.at, vec![went, more]);
        }
        self.call(CallKind::Hold, self.at, vec![went, Reason::Went(Went::LessReserve(last.asked_reserve()))])
    }

    /// Sets that no zone of repetitions judges: to a total, mixed, against the clock.
    pub(super) fn of_other_kinds(&self, last: &Session<'_>) -> Call {
        let kind = last.sets.iter().rev().find_map(|s| s.kind);
        let reps: u16 = last.sets.iter().filter(|s| s.kind == kind).filter_map(|s| s.reps).sum();
        let sets = last.count(|s| s.kind == kind);
        let total = self.question.prescription.sets.iter().find_map(|s| s.total);
        let why = match (kind, total) {
            (Some(SetKind::ToTotal), Some(total)) if reps >= total => {
                if let Some(up) = self.above().filter(|_| sets == 1) {
                    let done = Reason::OtherKind(OtherKind::Total { reps, sets, fewer_first: false });
                    return self.call(
                        CallKind::AddLoad,
                        Some(up),
                        vec![done, Reason::Next(Next::AllInOne(self.label(up)))],
                    );
                }
                OtherKind::Total { reps, sets, fewer_first: true }
            }
            (Some(SetKind::ToTotal), Some(total)) => OtherKind::ShortOfTotal { reps, total, sets },
            (Some(SetKind::Mixed), _) => OtherKind::Mixed,
            (Some(SetKind::Station), _) if last.count(|s| s.kind == kind && s.reps.is_none()) > 0 => {
                OtherKind::ClockUncounted { sets }
            }
            (Some(SetKind::Station), _) => OtherKind::Clock { reps, sets },
            _ => OtherKind::Uncounted,
        };
        self.call(CallKind::Hold, self.at, vec![Reason::OtherKind(why)])
    }

    /// Holds grow by seconds, then by the step, then by a harder position.
    pub(super) fn held(&self, last: &Session<'_>) -> Call {
        let seconds: Vec<u16> = last.counted.iter().filter_map(|c| c.set.seconds).collect();
        let asked = last.counted.iter().filter_map(|c| c.seconds).max().unwrap_or(self.question.intent.hold_seconds());
        let Some(least) = seconds.iter().copied().min() else {
            return self.call(CallKind::Hold, self.at, vec![Reason::Held(Held::Uncounted)]);
        };
        if least < asked {
            return self.call(CallKind::Hold, self.at, vec![Reason::Held(Held::Short { seconds: least, asked })]);
        }
        let done = Reason::Held(Held::Lasted(least));
        // Who held for much longer than asked goes on from there.
        if asked.max(least) < LONGEST_HOLD {
            let reached = least / MORE_SECONDS * MORE_SECONDS;
            let more = (asked + MORE_SECONDS).max(reached).min(LONGEST_HOLD);
            let mut call = self.call(CallKind::AddReps, self.at, vec![done, Reason::Held(Held::Longer(more))]);
            for set in &mut call.prescription.sets {
                set.seconds = Some(more);
            }
            return call;
        }
        match self.above() {
            Some(up) => {
                self.call(CallKind::AddLoad, Some(up), vec![done, Reason::Next(Next::HarderPosition(self.label(up)))])
            }
            None if self.is_step_unknown() => {
                self.call(CallKind::Hold, self.at, vec![done, Reason::Next(Next::StepUnknown)])
            }
            None => {
                let reasons = vec![done, Reason::Next(Next::HardestStep)];
                let harder = self.harder(Hardest::AFew, reasons.clone());
                harder.unwrap_or_else(|| self.call(CallKind::Hold, self.at, reasons))
            }
        }
    }
}

/// Log load for 12 repetitions that the best counted set of a session shows.
fn level(session: &Session<'_>) -> f64 {
    let load = session.load.map_or(0.0, |kg| kg.value().ln());
    let shown = |c: &super::sessions::Counted<'_>| {
        let per_rep = c.set.tempo.map(|t| t.seconds());
        load + reps::read(f64::from(c.reps()), Some(c.reserve()), per_rep).shift
    };
    session.counted.iter().map(shown).fold(f64::MIN, f64::max)
}
