//! The ledger: logged sets read as evidence, pattern by pattern, so that strength survives a change of movement.

use std::collections::{BTreeMap, VecDeque};
use std::sync::Arc;

use chrono::{DateTime, NaiveDate, Utc};

use super::state::{Prediction, SetEvidence, StrengthState};
use super::trace::Trace;
use crate::anatomy::{Implement, vocabulary};
use crate::dose::SetKind;
use crate::execution::RangePart;
use crate::kit::KitItem;
use crate::ladder::Ladder;
use crate::log::LoggedSet;
use crate::movement::PatternPrior;
use crate::movement::{Catalogue, Movement, Style};
use crate::person::Person;
use crate::reps::{self, Bound};
use crate::units::{Kilograms, Metres};

/// Ratio to the first guess above which a set was typed wrong: nobody lifts eight times what is usual. Assumed.
const BEYOND_ANYONE: f64 = 8.0;

vocabulary!(
    /// Why a set says nothing about strength.
    LeftOut {
        Future => "future", "dated after today";
        Unknown => "unknown", "of a movement that the catalogue does not hold";
        Resisted => "resisted", "against a hand or leg, whose force nobody knows";
        NoLoad => "no_load", "without a load that can be told";
        HalfRange => "half_range", "in half of the range, which says nothing sure of the whole";
        Beyond => "beyond", "heavier than anyone of this body mass lifts";
        SetAside => "set_aside", "set aside by the trainer";
    }
);

/// What is to be known of a log beside what it says of strength.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Note {
    /// Sets that say nothing.
    LeftOut {
        /// How many.
        sets: usize,
        /// Why.
        why: LeftOut,
    },
    /// Sets of a pattern, by its name, that disagree.
    Torn(String),
}

/// Log-SD of what a set says in which the load was changed, beside that of any set: how what tires adds up is assumed. Assumed.
const CHANGED_SD: f64 = 0.05;

/// Days since a pattern was last trained after which nothing rises.
pub(crate) const NO_RISE: i64 = 14;

/// Days before the last one from which the replay can go on when something arrives late; beyond, all of it is replayed.
const REMEMBERED_DAYS: usize = 6;

/// A set that was read, at its place in time.
#[derive(Debug, Clone)]
struct Entry {
    set: SetEvidence,
    /// When it was done, where that is known: the order within its day.
    at: Option<DateTime<Utc>>,
    /// Whether it is one of several in which a total was reached: only the hardest of a day counts.
    portion: bool,
}

/// A client's strength over all patterns, derived from the log alone.
#[derive(Debug, Clone)]
pub struct Ledger<'a> {
    catalogue: &'a Catalogue,
    replayed: Arc<Replayed>,
}

/// What a log came to when it was replayed: a ledger without its catalogue, which can be kept.
#[derive(Debug, Clone)]
pub struct Replayed {
    person: Person,
    state: StrengthState,
    /// Patterns in the order of the state, with their guesses.
    patterns: BTreeMap<String, (usize, f64)>,
    today: Option<NaiveDate>,
    left_out: BTreeMap<LeftOut, usize>,
    /// All evidence in order of time.
    evidence: Vec<Entry>,
    /// The state before the first set of the latest days: how many entries lie before it.
    before: VecDeque<(usize, StrengthState)>,
}

impl<'a> Ledger<'a> {
    /// The ledger of a person of whom nothing was logged. What is predicted is for `today`, where it is given.
    pub fn new(catalogue: &'a Catalogue, person: &Person, today: Option<NaiveDate>) -> Self {
        let patterns = catalogue.priors.values().enumerate();
        let replayed = Replayed {
            person: person.clone(),
            state: StrengthState::new(person, catalogue.priors.values()),
            patterns: patterns.map(|(i, prior)| (prior.id.clone(), (i, prior.log_guess(person)))).collect(),
            today,
            left_out: BTreeMap::new(),
            evidence: Vec::new(),
            before: VecDeque::new(),
        };
        Self { catalogue, replayed: Arc::new(replayed) }
    }

    /// The ledger that a log came to before. The catalogue must be the one by which it was replayed.
    pub const fn kept(catalogue: &'a Catalogue, replayed: Arc<Replayed>) -> Self {
        Self { catalogue, replayed }
    }

    /// What it came to, to be kept: without the days from which a replay could go on.
    pub fn keep(&self) -> Arc<Replayed> {
        Arc::new(Replayed { before: VecDeque::new(), ..self.replayed.as_ref().clone() })
    }

    /// Replays the log. Sets that cannot be are left out and counted by their reason, never averaged in; holds are no
    /// evidence of repetitions and pass in silence. Within a day the order of the log is the order in which they were done.
    pub fn replay(catalogue: &'a Catalogue, person: &Person, history: &[LoggedSet], today: Option<NaiveDate>) -> Self {
        let mut ledger = Self::new(catalogue, person, today);
        let replayed = Arc::make_mut(&mut ledger.replayed);
        for set in history {
            match replayed.read(catalogue, set) {
                Some(Ok(entry)) => replayed.evidence.push(entry),
                Some(Err(why)) => *replayed.left_out.entry(why).or_insert(0) += 1,
                None => {}
            }
        }
        replayed.evidence.sort_by_key(|e| e.set.date);
        replayed.go_on(catalogue, 0);
        ledger
    }

    /// Takes one more set in, done at a moment where it is known. In whichever order sets arrive, the ledger is the one that a
    /// replay of all of them in the order of their moments gives.
    pub fn take(&mut self, set: &LoggedSet, at: Option<DateTime<Utc>>) {
        let replayed = Arc::make_mut(&mut self.replayed);
        match replayed.read(self.catalogue, set) {
            Some(Ok(entry)) => {
                let entry = Entry { at, ..entry };
                // What has no moment comes after what has one.
                let key = |e: &Entry| (e.set.date, e.at.is_none(), e.at);
                let place = replayed.evidence.partition_point(|e| key(e) <= key(&entry));
                replayed.evidence.insert(place, entry);
                replayed.go_on(self.catalogue, place);
            }
            Some(Err(why)) => *replayed.left_out.entry(why).or_insert(0) += 1,
            None => {}
        }
    }

    /// The day for which is predicted from now on.
    pub fn on(&mut self, today: NaiveDate) {
        Arc::make_mut(&mut self.replayed).today = Some(today);
    }

    /// Strength on every day of the log, as it is known now.
    pub fn trace(&self) -> Trace {
        let basis = |id: &str| self.catalogue.movement(id).map_or(1.0, |m| m.carry_over.basis);
        let yardsticks: Vec<(&str, f64)> =
            self.catalogue.priors.values().map(|p| (p.anchor.as_str(), basis(&p.anchor))).collect();
        let evidence: Vec<SetEvidence> =
            self.replayed.evidence.chunk_by(|a, b| a.set.date == b.set.date).flat_map(told).collect();
        Trace::of(StrengthState::new(&self.replayed.person, self.catalogue.priors.values()), &evidence, &yardsticks)
    }

    /// Why a set says nothing about strength; none where it does, or where it is none of repetitions.
    pub fn why_left_out(&self, set: &LoggedSet) -> Option<LeftOut> {
        self.replayed.read(self.catalogue, set).and_then(Result::err)
    }

    /// What of the log was left out, by reason, and where its sets disagree.
    pub fn notes(&self) -> Vec<Note> {
        let left_out = self.replayed.left_out.iter().map(|(why, sets)| Note::LeftOut { sets: *sets, why: *why });
        let priors = self.catalogue.priors.values();
        let torn = priors.filter(|p| {
            self.replayed.patterns.get(p.id.as_str()).is_some_and(|(i, _)| self.replayed.state.disagrees(*i))
        });
        left_out.chain(torn.map(|p| Note::Torn(p.name.clone()))).collect()
    }

    /// Where a pattern stands in the state, and in a [`Trace`] of it.
    pub fn place_of(&self, pattern: &str) -> Option<usize> {
        self.replayed.patterns.get(pattern).map(|(i, _)| *i)
    }

    /// The level of a pattern today: log load of its yardstick for 12 repetitions to failure once that is practised, and its SD.
    pub fn level(&self, prior: &PatternPrior) -> (f64, f64) {
        let place = self.place_of(&prior.id).unwrap_or(0);
        let basis = self.catalogue.movement(&prior.anchor).map_or(1.0, |m| m.carry_over.basis);
        let (mean, sd) = self.replayed.state.level(&prior.anchor, place, self.replayed.today);
        (mean - basis.ln(), sd)
    }

    fn pattern(&self, movement: &Movement) -> usize {
        self.replayed.patterns.get(movement.carry_over.pattern.as_str()).map_or(0, |(i, _)| *i)
    }

    /// Log load for 12 repetitions to failure that is expected on a movement, as effective load of that movement.
    pub fn predict(&self, movement: &Movement) -> Prediction {
        let pattern = self.pattern(movement);
        let predicted = self.replayed.state.predict(&movement.id, pattern, movement.log_ratio(), self.replayed.today);
        Prediction { mean: predicted.mean - movement.carry_over.basis.ln(), ..predicted }
    }

    /// What a movement was done with on its latest day, as effective load of that movement: its heaviest set. None where nothing is logged
    /// of it that a load can be told of.
    pub fn done_with(&self, movement: &Movement) -> Option<(NaiveDate, Kilograms)> {
        let own = |e: &&Entry| *e.set.exercise == *movement.id;
        let day = self.replayed.evidence.iter().rfind(own)?.set.date;
        let latest =
            self.replayed.evidence.iter().rev().skip_while(|e| e.set.date > day).take_while(|e| e.set.date == day);
        let heaviest = latest.filter(own).map(|e| e.set.log_load).max_by(f64::total_cmp)?;
        Some((day, Kilograms(heaviest.exp() / movement.carry_over.basis)))
    }

    /// A movement of the catalogue that it reads by.
    pub fn movement(&self, id: &str) -> Option<&'a Movement> {
        self.catalogue.movement(id)
    }

    /// Whether any set of the movement's strength pattern was taken in.
    pub fn has_evidence(&self, movement: &Movement) -> bool {
        self.replayed.state.has_evidence(self.pattern(movement))
    }

    /// Whether sets of other patterns say something of this movement's.
    pub fn is_informed(&self, movement: &Movement) -> bool {
        self.replayed.state.is_informed(self.pattern(movement))
    }

    /// Whether sets of the movement's pattern disagree so far that one may have been typed wrong.
    pub fn disagrees(&self, movement: &Movement) -> bool {
        self.replayed.state.disagrees(self.pattern(movement))
    }

    /// Days since the movement's pattern was last trained; none where it never was, or where no day is known.
    pub fn days_away(&self, movement: &Movement) -> Option<i64> {
        let last = self.replayed.state.last_trained(self.pattern(movement))?;
        Some((self.replayed.today? - last).num_days())
    }

    /// The same where they are so many, more than 14, that nothing may rise.
    pub fn long_away(&self, movement: &Movement) -> Option<i64> {
        self.days_away(movement).filter(|days| *days > NO_RISE)
    }
}

impl Replayed {
    /// Replays the days from the one of an entry on.
    fn go_on(&mut self, catalogue: &Catalogue, from: usize) {
        let day = self.evidence.get(from).map(|e| e.set.date);
        let first = day.map_or(from, |day| self.evidence.partition_point(|e| e.set.date < day));
        while self.before.back().is_some_and(|(count, _)| *count > first) {
            self.before.pop_back();
        }
        let (start, state) = match self.before.back() {
            Some((count, state)) => (*count, state.clone()),
            None if first == self.evidence.len() => return,
            None => (0, StrengthState::new(&self.person, catalogue.priors.values())),
        };
        self.before.pop_back();
        self.state = state;
        let mut done = start;
        for day in self.evidence[start..].chunk_by(|a, b| a.set.date == b.set.date) {
            self.before.push_back((done, self.state.clone()));
            if self.before.len() > REMEMBERED_DAYS {
                self.before.pop_front();
            }
            self.state.take_day(&told(day));
            done += day.len();
        }
    }

    /// A set as evidence; none for what is no evidence of repetitions.
    fn read(&self, catalogue: &Catalogue, set: &LoggedSet) -> Option<Result<Entry, LeftOut>> {
        if set.set_aside {
            return Some(Err(LeftOut::SetAside));
        }
        let read = set.tells_strength().then(|| read(catalogue, set, &self.person, &self.patterns, self.today))?;
        let portion = set.kind == Some(SetKind::ToTotal);
        Some(read.map(|set| Entry { set, at: None, portion }))
    }
}

/// The sets of a day that count, in their order: of a total that was reached in several, the hardest alone.
fn told(day: &[Entry]) -> Vec<SetEvidence> {
    let says = |e: &Entry| e.set.log_load + e.set.reading.shift;
    let same = |a: &Entry, b: &Entry| a.set.exercise == b.set.exercise && a.set.side == b.set.side;
    let counts = |(i, entry): &(usize, &Entry)| {
        !entry.portion
            || day.iter().enumerate().filter(|(_, e)| e.portion && same(e, entry)).all(|(j, other)| {
                says(other) < says(entry) || (says(other) - says(entry)).abs() < f64::EPSILON && j >= *i
            })
    };
    day.iter().enumerate().filter(counts).map(|(_, entry)| entry.set.clone()).collect()
}

fn read(
    catalogue: &Catalogue,
    set: &LoggedSet,
    person: &Person,
    patterns: &BTreeMap<String, (usize, f64)>,
    today: Option<NaiveDate>,
) -> Result<SetEvidence, LeftOut> {
    if today.is_some_and(|t| set.date > t) {
        return Err(LeftOut::Future);
    }
    let movement = catalogue.movement(&set.exercise).ok_or(LeftOut::Unknown)?;
    if movement.rig.is_resisted() {
        return Err(LeftOut::Resisted);
    }
    if set.setup.and_then(|s| s.range).is_some_and(RangePart::is_half) {
        return Err(LeftOut::HalfRange);
    }
    let (pattern, guess) = *patterns.get(movement.carry_over.pattern.as_str()).ok_or(LeftOut::Unknown)?;
    let load = effective_load(set, movement, person).ok_or(LeftOut::NoLoad)?;
    // Slow lowering alone is slow by design: its ratio holds that already.
    let slowed = set.tempo.filter(|_| movement.style == Style::Reps).map(|tempo| tempo.seconds());
    let arm = movement.rig.own_arm(person.body_mass_kg);
    let reps = set.reps_as_begun((load, arm), reps::RESERVE_NOT_STATED).unwrap_or(0.0);
    let mut reading = reps::read(reps, set.rir.map(f64::from), slowed);
    if set.changed.is_some() {
        reading.sd = reading.sd.hypot(CHANGED_SD);
    }
    // What was done on top of another set was done tired: it says at least.
    if set.kind == Some(SetKind::Extension) && reading.bound == Bound::Both {
        reading.bound = Bound::OnlyRaises;
    }
    let one = SetEvidence {
        exercise: movement.id.as_str().into(),
        pattern,
        date: set.date,
        log_load: (load.value() * movement.carry_over.basis).ln(),
        reading,
        prior: movement.log_ratio(),
        side: set.side,
    };
    // What the set says of the anchor, against what is usual there.
    if one.log_load + one.reading.shift - one.prior.0 > guess + BEYOND_ANYONE.ln() {
        return Err(LeftOut::Beyond);
    }
    Ok(one)
}

/// Effective load of a logged set: as computed when it was logged, or from its load, band and set-up.
pub fn effective_load(set: &LoggedSet, movement: &Movement, person: &Person) -> Option<Kilograms> {
    if let Some(known) = set.effective_kg.filter(|kg| kg.value() > 0.0) {
        return Some(known);
    }
    let setup = set.setup.unwrap_or_default();
    let mut kit = crate::kit::full_room();
    kit.retain(|k| {
        use KitItem::{Backpack, Barbell, Box, Dumbbells, LoopBand};
        !matches!(k, Dumbbells(_) | Barbell(_) | LoopBand(_) | Box(_) | Backpack(_))
    });
    if let Some(load) = set.load {
        let (unit, value) = (load.unit, load.value);
        let barbell = KitItem::Barbell(crate::kit::Barbell { unit, bar: value, plates: Vec::new() });
        let pairs = vec![value];
        let dumbbells = KitItem::Dumbbells(crate::kit::Dumbbells { unit, pairs, ..crate::kit::Dumbbells::default() });
        kit.push(if movement.uses(Implement::Barbell) { barbell } else { dumbbells });
    }
    kit.extend(set.band.as_deref().cloned());
    for height in [setup.hands_height_m, setup.feet_height_m].into_iter().flatten().filter(|h| h.value() > 0.0) {
        kit.push(KitItem::Box(crate::kit::Boxes { height_m: Metres(height.value()), count: 2 }));
    }
    if let Some(height) = setup.anchor_height_m {
        kit.push(KitItem::Anchor(crate::kit::Anchor {
            heights_m: vec![height.value()],
            ..crate::kit::Anchor::default()
        }));
    }
    let ladder = Ladder::whole(movement, person, &kit);
    ladder.nearest(set.load, set.band.is_some(), &setup).map(|step| step.effective_kg)
}
