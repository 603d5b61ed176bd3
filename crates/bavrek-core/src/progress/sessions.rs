//! The sessions of a movement as the dose sees them: which sets count, at which load, against which zone.

use std::collections::{BTreeMap, BTreeSet};

use chrono::NaiveDate;

use super::call::NextQuestion;
use super::reason::{Done, DoneSet};
use crate::dose::{SetKind, SetPlan};
use crate::log::{LoggedSet, Observation};
use crate::movement::{Catalogue, Movement, Style};
use crate::person::Side;
use crate::strength::ledger::effective_load;
use crate::units::Kilograms;

/// Days in which a movement that was done more often outweighs one that was done last: a swap of a day.
const RECENT_DAYS: i64 = 28;
/// A set this much below the working load is a lighter one, ratio.
const LIGHTER: f64 = 0.97;

/// The sets of one day on one movement.
pub(super) struct Session<'a> {
    pub(super) date: NaiveDate,
    /// All of them, in the order of the log.
    pub(super) sets: Vec<&'a LoggedSet>,
    /// Those that count for the prescription: at the working load.
    pub(super) counted: Vec<Counted<'a>>,
    /// The working load.
    pub(super) load: Option<Kilograms>,
}

/// A set with what was asked of it.
#[derive(Clone, Copy)]
pub(super) struct Counted<'a> {
    pub(super) set: &'a LoggedSet,
    /// Repetitions, as if nothing had been changed within it.
    reps: u16,
    /// Its own zone.
    pub(super) zone: [u16; 2],
    /// The reserve asked of it.
    pub(super) rir: f64,
    /// Seconds asked of it, where it is held.
    pub(super) seconds: Option<u16>,
}

impl Counted<'_> {
    pub(super) const fn reps(&self) -> u16 {
        self.reps
    }

    fn told(&self) -> DoneSet {
        let reps = self.set.reps_told().unwrap_or_else(|| "0".into());
        DoneSet { reps, as_good_as: self.set.changed.as_ref().map(|_| self.reps), rir: self.set.rir }
    }

    /// Reserve left; a set logged without it counts as asked.
    pub(super) fn reserve(&self) -> f64 {
        self.set.rir.map_or(self.rir, f64::from)
    }
}

impl Session<'_> {
    pub(super) fn least_reps(&self) -> u16 {
        self.counted.iter().map(Counted::reps).min().unwrap_or(0)
    }

    /// Repetitions to failure of the set that had least: what surely can be done.
    pub(super) fn least_to_failure(&self) -> f64 {
        self.counted.iter().map(|c| f64::from(c.reps()) + c.reserve()).fold(f64::MAX, f64::min)
    }

    pub(super) fn reserve(&self) -> f64 {
        let total: f64 = self.counted.iter().map(Counted::reserve).sum();
        total / self.counted.len().max(1) as f64
    }

    pub(super) fn asked_reserve(&self) -> f64 {
        let total: f64 = self.counted.iter().map(|c| c.rir).sum();
        total / self.counted.len().max(1) as f64
    }

    /// Whether the sets left as much in reserve as asked, on average and to half a repetition: single judgements are too
    /// noisy to decide alone.
    pub(super) fn reserve_kept(&self) -> bool {
        self.reserve() >= self.asked_reserve() - 0.5
    }

    /// Whether its sets were held: counted in seconds, without repetitions.
    pub(super) fn is_held(&self) -> bool {
        self.counted.iter().all(|c| c.set.reps.is_none() && c.set.seconds.is_some())
    }

    pub(super) fn at_top(&self) -> bool {
        !self.counted.is_empty() && self.counted.iter().all(|c| c.reps() >= c.zone[1])
    }

    pub(super) fn below_bottom(&self) -> bool {
        self.counted.iter().any(|c| c.reps() < c.zone[0])
    }

    pub(super) fn count(&self, test: impl Fn(&LoggedSet) -> bool) -> usize {
        self.sets.iter().filter(|s| test(s)).count()
    }

    pub(super) fn saw(&self, observation: Observation) -> usize {
        self.count(|s| s.seen.contains(&observation))
    }

    /// What was done, for a reason.
    pub(super) fn told(&self) -> Done {
        Done(self.counted.iter().map(Counted::told).collect())
    }
}

/// The movement that is called: the plan's, else the one done last, unless that was for one day what another has been for
/// several.
pub(super) fn called<'a>(catalogue: &'a Catalogue, question: &NextQuestion<'a>) -> Option<&'a Movement> {
    let logged = || question.history.iter().filter(|s| s.date <= question.today);
    if let Some(planned) = question.planned.and_then(|id| catalogue.movement(id)) {
        return logged().any(|s| s.exercise == planned.id).then_some(planned);
    }
    let known: Vec<&LoggedSet> = logged().filter(|s| catalogue.movement(&s.exercise).is_some()).collect();
    let latest = known.iter().max_by_key(|s| s.date)?;
    // Days of each movement, and its place in the log.
    let mut recent: BTreeMap<&str, (BTreeSet<NaiveDate>, usize)> = BTreeMap::new();
    for (i, set) in known.iter().enumerate() {
        let (days, place) = recent.entry(&set.exercise).or_default();
        *place = i;
        if (latest.date - set.date).num_days() <= RECENT_DAYS {
            days.insert(set.date);
        }
    }
    let days = |id: &str| recent.get(id).map_or(0, |(days, _)| days.len());
    let usual = recent.iter().max_by_key(|(id, (days, place))| (days.len(), **id == latest.exercise, *place));
    let usual = usual.map(|(id, _)| *id).filter(|id| days(&latest.exercise) == 1 && days(id) > 1);
    catalogue.movement(usual.unwrap_or(&latest.exercise))
}

/// The sessions of a movement up to today, oldest first.
pub(super) fn of<'a>(movement: &Movement, question: &NextQuestion<'a>) -> Vec<Session<'a>> {
    let asked = question.intent.part_for(movement);
    // What the trainer set aside says nothing of the next step, unless it hurt.
    let in_question = |s: &&LoggedSet| {
        s.exercise == movement.id && s.date <= question.today && s.is_of_part(asked) && (!s.set_aside || s.hurt())
    };
    let mut sets: Vec<&LoggedSet> = question.history.iter().filter(in_question).collect();
    sets.sort_by_key(|s| s.date);
    let days = sets.chunk_by(|a, b| a.date == b.date);
    days.map(|day| session(day, movement, question)).collect()
}

fn session<'a>(day: &[&'a LoggedSet], movement: &Movement, question: &NextQuestion<'a>) -> Session<'a> {
    let loads: Vec<Option<Kilograms>> = day.iter().map(|s| effective_load(s, movement, question.person)).collect();
    let planned = &question.prescription.sets;
    let moved = on_other_steps(day, planned);
    let own: Vec<Option<Kilograms>> = loads.iter().zip(&moved).map(|(load, moved)| load.filter(|_| !moved)).collect();
    let load = working_load(&own);
    let mut places = [0_usize; 3];
    let mut counted = Vec::new();
    for ((set, own), moved) in day.iter().zip(&loads).zip(&moved) {
        if *moved {
            places[side_of(set)] += 1;
            continue;
        }
        let lighter = load.zip(*own).is_some_and(|(working, own)| own.value() < LIGHTER * working.value());
        let other = matches!(set.kind, Some(SetKind::Mixed | SetKind::Station | SetKind::Extension | SetKind::ToTotal));
        if lighter || other || set.set_aside {
            continue;
        }
        let side = side_of(set);
        let plan = planned.get(places[side].min(planned.len().saturating_sub(1)));
        places[side] += 1;
        let rir = plan.and_then(|p| p.rir).unwrap_or(question.intent.dose.reserve());
        let arm = movement.rig.own_arm(question.person.body_mass_kg);
        let reps = own.map_or_else(|| set.reps.map(f64::from), |own| set.reps_as_begun((own, arm), f64::from(rir)));
        counted.push(Counted {
            set,
            reps: reps.unwrap_or(0.0).round() as u16,
            zone: plan.and_then(|p| p.reps).unwrap_or(question.intent.dose.reps),
            rir: f64::from(rir),
            seconds: plan.filter(|p| movement.style == Style::Hold || p.kind.is_timed()).and_then(|p| p.seconds),
        });
    }
    let date = day.first().map_or(question.today, |s| s.date);
    Session { date, sets: day.to_vec(), counted, load }
}

/// Left and right of one set are one place in the prescription: each side counts for itself.
const fn side_of(set: &LoggedSet) -> usize {
    match set.side {
        Some(Side::Left) => 1,
        Some(Side::Right) => 2,
        _ => 0,
    }
}

/// For each set of a day whether it was asked on another step than the line's own: it is evidence, and says nothing of that step.
fn on_other_steps(day: &[&LoggedSet], planned: &[SetPlan]) -> Vec<bool> {
    let mut places = [0_usize; 3];
    day.iter()
        .map(|set| {
            let place = &mut places[side_of(set)];
            let plan = planned.get(*place);
            *place += 1;
            plan.is_some_and(|plan| plan.step != 0)
        })
        .collect()
}

/// The load that most sets of a day were done at; of two as common, the heavier.
fn working_load(loads: &[Option<Kilograms>]) -> Option<Kilograms> {
    let known: Vec<f64> = loads.iter().flatten().map(|kg| kg.value()).collect();
    let near = |a: f64, b: f64| (a / b - 1.0).abs() < 1.0 - LIGHTER;
    let common = |kg: f64| known.iter().filter(|other| near(kg, **other)).count();
    known.iter().copied().max_by(|a, b| common(*a).cmp(&common(*b)).then(a.total_cmp(b))).map(Kilograms)
}
