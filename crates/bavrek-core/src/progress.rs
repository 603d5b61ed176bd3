//! The next step of a slot: double progression, with its reasons and what else could be done.

use chrono::{Days, NaiveDate};
use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::dose::{Prescription, Tempo};
use crate::kit::KitItem;
use crate::ladder::{Ladder, LadderStep, ORDINARY_JUMP};
use crate::log::{LoggedSet, Observation};
use crate::movement::{Catalogue, Movement};
use crate::person::Person;
use crate::plan::Intent;
use crate::strength::{Ledger, reps};
use crate::units::{Kilograms, trim_number};

vocabulary!(
    /// A proposed next step.
    CallKind {
        AddLoad => "add_load", "add load";
        AddReps => "add_reps", "add reps";
        AddTempo => "add_tempo", "slow the lowering";
        HarderVariation => "harder_variation", "harder variation";
        Hold => "hold", "hold";
        Ease => "ease", "ease";
        Swap => "swap", "swap";
        Deload => "deload", "deload";
        Refer => "refer", "refer";
    }
);

/// What a call is asked for.
#[derive(Debug, Clone, Copy)]
pub struct NextQuestion<'a> {
    /// Who trains.
    pub person: &'a Person,
    /// What the room holds.
    pub kit: &'a [KitItem],
    /// What the slot is for.
    pub intent: &'a Intent,
    /// What was prescribed.
    pub prescription: &'a Prescription,
    /// What was done.
    pub history: &'a [LoggedSet],
    /// Today, in the client's time zone.
    pub today: NaiveDate,
}

/// An estimated one-repetition maximum, as effective load.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Maximum {
    /// Estimate.
    pub kg: Kilograms,
    /// Lower end of the 90 % interval.
    pub low_kg: Kilograms,
    /// Upper end.
    pub high_kg: Kilograms,
}

/// Another step that could be taken instead.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Alternative {
    /// What it is.
    pub call: CallKind,
    /// A sentence.
    pub text: String,
    /// The step it leads to.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub step: Option<LadderStep>,
}

/// A proposed next step with its reasons.
#[derive(Debug, Clone, PartialEq)]
pub struct Call {
    /// What to do.
    pub call: CallKind,
    /// The movement it concerns.
    pub exercise: Option<String>,
    /// The step to take.
    pub step: Option<LadderStep>,
    /// The next prescription.
    pub prescription: Prescription,
    /// Why.
    pub reasons: Vec<String>,
    /// What else could be done.
    pub alternatives: Vec<Alternative>,
    /// Estimated maximum; absent where every set was too long to tell (over 12 repetitions to failure).
    pub e1rm: Option<Maximum>,
}

/// Days within which pain twice is referred on.
const PAIN_DAYS: u64 = 14;
/// Sessions without progress that call for a deload.
const STUCK_SESSIONS: usize = 3;
/// Most repetitions that stand in for a missing load.
const MOST_REPS: u16 = 30;
/// Slowest lowering that is prescribed as a bridge, s.
const SLOWEST_LOWERING: u8 = 5;

/// The sets of one day on one movement.
struct Day<'a> {
    date: NaiveDate,
    sets: Vec<&'a LoggedSet>,
}

impl Day<'_> {
    fn least_reps(&self) -> u16 {
        self.sets.iter().filter_map(|s| s.reps).min().unwrap_or(0)
    }

    fn total_reps(&self) -> u16 {
        self.sets.iter().filter_map(|s| s.reps).sum()
    }

    /// Repetitions left in reserve on average; a set logged without them counts as wanted.
    fn reserve(&self, wanted: f64) -> f64 {
        let total: f64 = self.sets.iter().map(|s| s.rir.map_or(wanted, f64::from)).sum();
        total / self.sets.len().max(1) as f64
    }

    /// Whether the sets left as much in reserve as wanted, on average and to half a repetition: single judgements are
    /// too noisy to decide alone.
    fn reserve_kept(&self, wanted: f64) -> bool {
        self.reserve(wanted) >= wanted - 0.5
    }

    fn count(&self, test: impl Fn(&LoggedSet) -> bool) -> usize {
        self.sets.iter().filter(|s| test(s)).count()
    }

    fn saw(&self, observation: Observation) -> usize {
        self.count(|s| s.seen.contains(&observation))
    }
}

/// The call for a slot whose latest movement is the last one in the log.
pub fn next(catalogue: &Catalogue, question: &NextQuestion<'_>) -> Call {
    let known = |s: &&LoggedSet| s.date <= question.today && catalogue.movement(&s.exercise).is_some();
    let latest = question.history.iter().filter(known).max_by_key(|s| s.date);
    let Some(movement) = latest.and_then(|s| catalogue.movement(&s.exercise)) else {
        return Call {
            call: CallKind::Hold,
            exercise: None,
            step: None,
            prescription: question.prescription.clone(),
            reasons: vec!["no set is logged yet: the first session is the test".into()],
            alternatives: vec![],
            e1rm: None,
        };
    };
    Caller::new(catalogue, question, movement).decide()
}

struct Caller<'a> {
    question: &'a NextQuestion<'a>,
    movement: &'a Movement,
    ladder: Ladder,
    at: Option<usize>,
    days: Vec<Day<'a>>,
    e1rm: Option<Maximum>,
}

impl<'a> Caller<'a> {
    fn new(catalogue: &Catalogue, question: &'a NextQuestion<'a>, movement: &'a Movement) -> Self {
        let mut days: Vec<Day<'a>> = Vec::new();
        let mut sets: Vec<&LoggedSet> =
            question.history.iter().filter(|s| s.exercise == movement.id && s.date <= question.today).collect();
        sets.sort_by_key(|s| s.date);
        for set in sets {
            match days.last_mut().filter(|d| d.date == set.date) {
                Some(day) => day.sets.push(set),
                None => days.push(Day { date: set.date, sets: vec![set] }),
            }
        }
        let ladder = Ladder::of(movement, question.person, question.kit);
        let last_load = days
            .last()
            .and_then(|d| d.sets.last())
            .and_then(|s| crate::strength::ledger::effective_load(s, movement, question.person));
        // Two percent of tolerance finds the rung that was used although its load may have been rounded when logged.
        let at = last_load.and_then(|load| ladder.at(load * 1.02));
        let ledger = Ledger::replay(catalogue, question.person, question.history, Some(question.today));
        let e1rm = maximum(&ledger, movement, &days);
        Self { question, movement, ladder, at, days, e1rm }
    }

    fn step(&self, index: Option<usize>) -> Option<LadderStep> {
        index.and_then(|i| self.ladder.steps.get(i)).cloned()
    }

    /// The next step up that keeps the resistance curve: a much larger or smaller band share is another exercise.
    fn above(&self) -> Option<usize> {
        let at = self.at?;
        (at + 1..self.ladder.steps.len()).find(|i| !self.ladder.changes_curve(at, *i))
    }

    /// The next step down that keeps the curve.
    fn below(&self) -> Option<usize> {
        let at = self.at?;
        (0..at).rev().find(|i| !self.ladder.changes_curve(at, *i))
    }

    /// Ratio less one to the next step up.
    fn jump(&self) -> f64 {
        let load = |i: usize| self.ladder.steps[i].effective_kg.value();
        self.at.zip(self.above()).map_or(0.0, |(at, up)| load(up) / load(at) - 1.0)
    }

    fn call(&self, call: CallKind, index: Option<usize>, reasons: Vec<String>) -> Call {
        let step = self.step(index);
        let prescription = match &step {
            Some(step) => dose_for(call, self.question.intent, self.question.prescription, step),
            None => self.question.prescription.clone(),
        };
        let alternatives = self.alternatives(call);
        let exercise = Some(self.movement.id.clone());
        Call { call, exercise, step, prescription, reasons, alternatives, e1rm: self.e1rm }
    }

    fn alternatives(&self, taken: CallKind) -> Vec<Alternative> {
        let mut all = vec![Alternative {
            call: CallKind::Hold,
            text: "the same step once more".into(),
            step: self.step(self.at),
        }];
        if let Some(up) = self.step(self.above()) {
            all.push(Alternative { call: CallKind::AddLoad, text: format!("up to {}", up.label), step: Some(up) });
        }
        if let Some(down) = self.step(self.below()) {
            all.push(Alternative { call: CallKind::Ease, text: format!("down to {}", down.label), step: Some(down) });
        }
        all.push(Alternative { call: CallKind::Swap, text: "another movement for the same job".into(), step: None });
        all.retain(|a| a.call != taken);
        all
    }

    fn decide(&self) -> Call {
        let Some(last) = self.days.last() else {
            return self.call(CallKind::Hold, self.at, vec!["no set is logged yet".into()]);
        };
        self.pain(last)
            .or_else(|| self.form(last))
            .or_else(|| self.upwards(last))
            .or_else(|| self.too_hard(last))
            .or_else(|| self.stuck(last))
            .unwrap_or_else(|| self.within(last))
    }

    fn pain(&self, last: &Day<'_>) -> Option<Call> {
        if last.count(LoggedSet::hurt) == 0 {
            return None;
        }
        let since = last.date.checked_sub_days(Days::new(PAIN_DAYS)).unwrap_or(last.date);
        let days = self.days.iter().filter(|d| d.date >= since && d.count(LoggedSet::hurt) > 0).count();
        if days >= 2 {
            let reason = format!(
                "joint pain on {days} days within two weeks: stop, and have it looked at by a doctor or physiotherapist"
            );
            return Some(self.call(CallKind::Refer, None, vec![reason]));
        }
        let reason = "joint pain was reported: swap within what does not hurt".to_owned();
        Some(self.call(CallKind::Swap, None, vec![reason]))
    }

    fn form(&self, last: &Day<'_>) -> Option<Call> {
        if last.saw(Observation::AnchorMoved) > 0 {
            return Some(self.call(
                CallKind::Hold,
                self.at,
                vec!["the anchor or furniture moved: change the set-up first".into()],
            ));
        }
        let short = last.saw(Observation::RangeShort);
        let broken = last.count(|s| s.form_kept == Some(false))
            + last.saw(Observation::HipsSagged)
            + last.saw(Observation::BackLifted)
            + last.saw(Observation::Swinging);
        if short + broken == 0 {
            return None;
        }
        if short + broken >= 2 {
            let reason = "range or form was lost in two sets: the load is too heavy, the range comes first".to_owned();
            return Some(self.call(CallKind::Ease, self.below().or(self.at), vec![reason]));
        }
        let reason = "range or form was lost in one set: the same load once more, clean".to_owned();
        Some(self.call(CallKind::Hold, self.at, vec![reason]))
    }

    /// Repetitions to be left in reserve on average: the last set may be the only one to failure.
    fn wanted_reserve(&self) -> f64 {
        let NextQuestion { intent, prescription, .. } = self.question;
        let sets = &prescription.sets;
        let total: f64 = sets.iter().map(|s| f64::from(s.rir.unwrap_or(intent.reserve()))).sum();
        if sets.is_empty() { f64::from(intent.reserve()) } else { total / sets.len() as f64 }
    }

    fn upwards(&self, last: &Day<'_>) -> Option<Call> {
        let [low, high] = self.question.intent.reps;
        let wanted = self.wanted_reserve();
        let enough_sets = last.sets.len() >= self.question.prescription.sets.len().min(2);
        if last.least_reps() < high || !last.reserve_kept(wanted) || !enough_sets {
            return None;
        }
        let done = format!("every set reached {high} reps with {} or more in reserve", trim_number(wanted, 1));
        let Some(up) = self.above() else {
            return Some(self.beyond_the_ladder(done));
        };
        let jump = self.jump();
        // Repetitions that were done slower than the slot's tempo count for more at that tempo.
        let done_at = self.question.prescription.sets.first().map_or(Tempo::USUAL, |s| s.tempo).seconds();
        let usual = self.question.intent.tempo.unwrap_or(Tempo::USUAL).seconds();
        let slower = reps::effective_reps(1.0, done_at) / reps::effective_reps(1.0, usual);
        let capacity = (f64::from(last.least_reps()) + last.reserve(wanted)) * slower;
        let landing = reps::reps_after_jump(1.0 + jump, capacity) - wanted;
        let size = format!("the next step is {} ({:+.0} %)", self.ladder.steps[up].label, jump * 100.0);
        if jump <= ORDINARY_JUMP || landing >= f64::from(low) - 0.5 {
            let expected = format!("about {:.0} reps are expected on it", landing.max(0.0));
            return Some(self.call(CallKind::AddLoad, Some(up), vec![done, size, expected]));
        }
        Some(self.bridge(done, size, jump, low, high))
    }

    /// The next step is too far to land on: more reps first, then slower lowering.
    fn bridge(&self, done: String, size: String, jump: f64, low: u16, high: u16) -> Call {
        let needed = reps::reps_before_jump(1.0 + jump, f64::from(low)).ceil() as u16;
        if needed <= 25 {
            let why = format!("too large a jump at once: reach {needed} reps here, then {low} remain on it");
            let mut call = self.call(CallKind::AddReps, self.at, vec![done, size, why]);
            for set in &mut call.prescription.sets {
                set.reps = set.reps.map(|_| [high, needed.max(high)]);
            }
            return call;
        }
        if let Some(call) = self.slower(done.clone(), vec![size.clone()]) {
            return call;
        }
        let why = "the gap is too big for reps or tempo: a weight in between would halve it".to_owned();
        self.call(CallKind::Hold, self.at, vec![done, size, why])
    }

    fn slower(&self, done: String, more: Vec<String>) -> Option<Call> {
        let tempo = self.question.prescription.sets.first()?.tempo;
        if tempo.lowering >= SLOWEST_LOWERING {
            return None;
        }
        let slower = Tempo { lowering: (tempo.lowering + 2).min(SLOWEST_LOWERING), ..tempo };
        let gain = reps::tempo_gain(10.0, tempo.seconds(), slower.seconds()).exp() - 1.0;
        let why = format!(
            "lower in {} s instead of {}: like {:.0} % more load",
            slower.lowering,
            tempo.lowering,
            gain * 100.0
        );
        let mut reasons = vec![done];
        reasons.extend(more);
        reasons.push(why);
        let mut call = self.call(CallKind::AddTempo, self.at, reasons);
        for set in &mut call.prescription.sets {
            set.tempo = slower;
        }
        Some(call)
    }

    fn beyond_the_ladder(&self, done: String) -> Call {
        let top = "this is the hardest step here".to_owned();
        if let Some(harder) = &self.movement.harder {
            let why = format!("go on with the harder variation: {}", harder.replace('_', " "));
            return self.call(CallKind::HarderVariation, self.at, vec![done, top, why]);
        }
        if let Some(call) = self.slower(done.clone(), vec![top.clone()]) {
            return call;
        }
        let mut call = self.call(CallKind::AddReps, self.at, vec![done, top, format!("more reps, up to {MOST_REPS}")]);
        for set in &mut call.prescription.sets {
            set.reps = set.reps.map(|[_, high]| [high, (high + 4).min(MOST_REPS).max(high)]);
        }
        call
    }

    fn too_hard(&self, last: &Day<'_>) -> Option<Call> {
        let low = self.question.intent.reps[0];
        if last.least_reps() >= low {
            return None;
        }
        let before = self.days.iter().rev().nth(1).is_some_and(|d| d.least_reps() < low);
        if before {
            let reason = format!("below {low} reps in two sessions running");
            return Some(self.call(CallKind::Ease, self.below().or(self.at), vec![reason]));
        }
        let reason = format!("below {low} reps for the first time: once more before going down");
        Some(self.call(CallKind::Hold, self.at, vec![reason]))
    }

    fn stuck(&self, last: &Day<'_>) -> Option<Call> {
        let recent: Vec<_> = self.days.iter().rev().take(STUCK_SESSIONS).collect();
        let no_gain = recent.windows(2).all(|w| w[0].total_reps() <= w[1].total_reps());
        let hard = recent.iter().all(|d| !d.reserve_kept(self.wanted_reserve()));
        if recent.len() < STUCK_SESSIONS || !no_gain || !hard || last.sets.is_empty() {
            return None;
        }
        let reason = format!(
            "{STUCK_SESSIONS} sessions without progress and less in reserve than asked: half the sets for a week"
        );
        let mut call = self.call(CallKind::Deload, self.below().or(self.at), vec![reason]);
        let kept = call.prescription.sets.len().div_ceil(2);
        call.prescription.sets.truncate(kept);
        Some(call)
    }

    fn within(&self, last: &Day<'_>) -> Call {
        let [low, high] = self.question.intent.reps;
        let wanted = self.wanted_reserve();
        let inside = format!("reps lie inside {low}–{high}");
        if last.reserve_kept(wanted) {
            let why = "one more rep in each set, the same load".to_owned();
            return self.call(CallKind::AddReps, self.at, vec![inside, why]);
        }
        self.call(
            CallKind::Hold,
            self.at,
            vec![inside, format!("fewer than {} were in reserve", trim_number(wanted, 1))],
        )
    }
}

/// The dose of a step: its load; and, where the load changes, the slot's own repetitions and tempo again, since the
/// bridges over a gap end with it.
pub fn dose_for(call: CallKind, intent: &Intent, now: &Prescription, step: &LadderStep) -> Prescription {
    let mut dose = now.clone();
    let fresh = matches!(call, CallKind::AddLoad | CallKind::Ease);
    for set in &mut dose.sets {
        set.load = step.load;
        if fresh {
            set.reps = set.reps.map(|_| intent.reps);
            set.tempo = intent.tempo.unwrap_or(Tempo::USUAL);
        }
    }
    dose
}

fn maximum(ledger: &Ledger<'_>, movement: &Movement, days: &[Day<'_>]) -> Option<Maximum> {
    let short_enough =
        |s: &&LoggedSet| s.reps.is_some_and(|r| f64::from(r + u16::from(s.rir.unwrap_or(2))) <= reps::MOST_FOR_MAXIMUM);
    days.iter().flat_map(|d| &d.sets).copied().find(short_enough)?;
    let predicted = ledger.predict(movement);
    let top = reps::log_load_for(predicted.mean, 1.0, 0.0);
    // From 12 repetitions to one, the relation itself is uncertain.
    let sd = predicted.sd.hypot(0.11 * reps::g(reps::REFERENCE_REPS));
    let at = |z: f64| Kilograms((top + z * sd).exp());
    Some(Maximum { kg: at(0.0), low_kg: at(-1.645), high_kg: at(1.645) })
}
