//! Lines of strength by pattern, through every change of movement and place.

use std::collections::BTreeMap;

use chrono::NaiveDate;

use super::Done;
use crate::anatomy::vocabulary;
use crate::movement::{Catalogue, Movement, PatternPrior};
use crate::reps::AT_LEAST_FROM;
use crate::strength::{Change, Ledger, Level};

/// Log load within which a line stands still.
const STILL: f64 = 0.01;
/// Days for which it must, and days with training of the pattern in them.
const STILL_DAYS: i64 = 28;
const STILL_TRAINED: usize = 4;
/// Log-SD of a change from which nothing can be said of it.
const UNSURE: f64 = 0.08;
/// Days in a row that were too light to tell anything.
const TOO_LIGHT_DAYS: usize = 3;
/// Days of a stint of a movement that are needed to judge it.
const JUDGED_DAYS: usize = 2;

vocabulary!(
    /// What a swap did to the progress.
    Verdict {
        Kept => "kept", "kept it";
        Gained => "gained", "gained";
        Lost => "lost", "lost";
        Unsure => "unsure", "not known yet";
    }
);

/// A change of what was done for a pattern.
#[derive(Debug, Clone, PartialEq)]
pub struct Mark<'a> {
    /// The first day of it.
    pub date: NaiveDate,
    /// The movement that came.
    pub to: &'a Movement,
    /// Where, if that changed as well.
    pub place: Option<String>,
}

/// A movement that came in place of another, and what became of the strength meanwhile.
#[derive(Debug, Clone, PartialEq)]
pub struct Swap<'a> {
    /// The first day of the new one.
    pub date: NaiveDate,
    /// What was done before.
    pub from: &'a Movement,
    /// What came.
    pub to: &'a Movement,
    /// From the last day of the old one to the last of the new one.
    pub change: Change,
    /// In a word.
    pub verdict: Verdict,
}

/// A run of days on which one movement led a pattern, wherever that was.
#[derive(Debug, Clone, PartialEq)]
pub struct Spell<'a> {
    /// The movement.
    pub movement: &'a Movement,
    /// The first day.
    pub first: NaiveDate,
    /// The last day.
    pub last: NaiveDate,
    /// Days on which it was done.
    pub days: usize,
    /// From the first day to the last.
    pub change: Option<Change>,
}

impl Spell<'_> {
    /// What became of the strength meanwhile, in a word.
    pub fn verdict(&self) -> Option<Verdict> {
        self.change.as_ref().map(verdict)
    }
}

/// The strength of a pattern over time.
#[derive(Debug, Clone, PartialEq)]
pub struct Line<'a> {
    /// The pattern.
    pub pattern: &'a PatternPrior,
    /// The movement as whose load it is told.
    pub yardstick: &'a Movement,
    /// By day on which it was trained.
    pub levels: Vec<Level>,
    /// Where movement or place changed.
    pub marks: Vec<Mark<'a>>,
    /// From the first day to the last.
    pub change: Option<Change>,
    /// Latest days in a row on which every set left so much in reserve that it says only "at least", where they are many.
    pub too_light_days: Option<usize>,
    /// Whole weeks for which it has not moved, where that is long.
    pub still_weeks: Option<i64>,
    /// What came of each swap.
    pub swaps: Vec<Swap<'a>>,
    /// What led it when.
    pub spells: Vec<Spell<'a>>,
}

/// A run of days on which one movement led a pattern at one place.
struct Stint<'a> {
    movement: &'a Movement,
    place: Option<String>,
    days: Vec<NaiveDate>,
}

/// The lines of all patterns of which two days or more lie within a range, in the order of the catalogue. The history may hold
/// more than the range: what was before and after says something of it.
pub fn lines<'a>(
    catalogue: &'a Catalogue,
    ledger: &Ledger<'a>,
    history: &[Done<'_>],
    [from, until]: [NaiveDate; 2],
) -> Vec<Line<'a>> {
    let trace = ledger.trace();
    let within = |date: NaiveDate| (from..=until).contains(&date);
    let mut lines = Vec::new();
    for pattern in catalogue.priors.values() {
        let yardstick = catalogue.movement(&pattern.anchor);
        let (Some(place), Some(yardstick)) = (ledger.place_of(&pattern.id), yardstick) else { continue };
        let levels: Vec<Level> = trace.levels(place).into_iter().filter(|l| within(l.date)).collect();
        let (Some(first), Some(last)) = (levels.first(), levels.last()) else { continue };
        let days: Vec<NaiveDate> = levels.iter().map(|l| l.date).collect();
        let stints = stints(catalogue, history, pattern, &days);
        let too_light = too_light(catalogue, history, pattern, &days);
        let change = |from, to| trace.change(place, from, to);
        lines.push(Line {
            pattern,
            yardstick,
            marks: marks(&stints),
            change: change(first.date, last.date),
            still_weeks: still(&levels).filter(|_| too_light.is_none()),
            too_light_days: too_light,
            swaps: swaps(&stints, change),
            spells: spells(&stints, change),
            levels,
        });
    }
    lines.retain(|line| line.levels.len() > 1);
    lines
}

/// What led a pattern on each of its days: the movement with most sets.
fn stints<'a>(
    catalogue: &'a Catalogue,
    history: &[Done<'_>],
    pattern: &PatternPrior,
    days: &[NaiveDate],
) -> Vec<Stint<'a>> {
    let mut stints: Vec<Stint<'a>> = Vec::new();
    for day in days {
        let mut counts: BTreeMap<&str, (usize, Option<&str>)> = BTreeMap::new();
        for done in history.iter().filter(|d| d.set.date == *day && d.set.tells_strength()) {
            let movement = catalogue.movement(&done.set.exercise);
            if movement.is_some_and(|m| m.carry_over.pattern == pattern.id) {
                counts.entry(done.set.exercise.as_str()).or_insert((0, done.place)).0 += 1;
            }
        }
        let Some((id, (_, place))) = counts.into_iter().max_by_key(|(_, (count, _))| *count) else { continue };
        let Some(movement) = catalogue.movement(id) else { continue };
        match stints.last_mut().filter(|s| s.movement.id == movement.id && s.place.as_deref() == place) {
            Some(stint) => stint.days.push(*day),
            None => stints.push(Stint { movement, place: place.map(str::to_owned), days: vec![*day] }),
        }
    }
    stints
}

/// Days from the last one back on which no set of the pattern came near its end.
fn too_light(catalogue: &Catalogue, history: &[Done<'_>], pattern: &PatternPrior, days: &[NaiveDate]) -> Option<usize> {
    let far = |day: &&NaiveDate| {
        let sets = history.iter().map(|d| d.set).filter(|s| s.date == **day && s.tells_strength());
        let mut of_it =
            sets.filter(|s| catalogue.movement(&s.exercise).is_some_and(|m| m.carry_over.pattern == pattern.id));
        of_it.all(|s| s.rir.is_some_and(|rir| f64::from(rir) >= AT_LEAST_FROM))
    };
    let count = days.iter().rev().take_while(far).count();
    (count >= TOO_LIGHT_DAYS).then_some(count)
}

fn marks<'a>(stints: &[Stint<'a>]) -> Vec<Mark<'a>> {
    let changed = stints.windows(2).map(|pair| {
        let moved = pair[0].place != pair[1].place;
        Mark { date: pair[1].days[0], to: pair[1].movement, place: pair[1].place.clone().filter(|_| moved) }
    });
    changed.collect()
}

fn swaps<'a>(stints: &[Stint<'a>], change: impl Fn(NaiveDate, NaiveDate) -> Option<Change>) -> Vec<Swap<'a>> {
    let judged = stints.windows(2).filter(|pair| pair[0].movement.id != pair[1].movement.id);
    let judged = judged.filter(|pair| pair[1].days.len() >= JUDGED_DAYS);
    let swap = |pair: &[Stint<'a>]| {
        let (before, after) = (pair[0].days.last()?, pair[1].days.last()?);
        let change = change(*before, *after)?;
        let verdict = verdict(&change);
        Some(Swap { date: pair[1].days[0], from: pair[0].movement, to: pair[1].movement, change, verdict })
    };
    judged.filter_map(swap).collect()
}

/// What led when: stints of one movement that follow each other at several places are one.
fn spells<'a>(stints: &[Stint<'a>], change: impl Fn(NaiveDate, NaiveDate) -> Option<Change>) -> Vec<Spell<'a>> {
    let of_one = stints.chunk_by(|a, b| a.movement.id == b.movement.id);
    let spell = |run: &[Stint<'a>]| {
        let days: Vec<NaiveDate> = run.iter().flat_map(|s| s.days.iter().copied()).collect();
        let (first, last) = (*days.first()?, *days.last()?);
        Some(Spell { movement: run.first()?.movement, first, last, days: days.len(), change: change(first, last) })
    };
    of_one.filter_map(spell).collect()
}

fn verdict(change: &Change) -> Verdict {
    let [low, high] = change.bounds();
    match () {
        () if low > 0.0 => Verdict::Gained,
        () if high < 0.0 => Verdict::Lost,
        () if change.sd > UNSURE => Verdict::Unsure,
        () => Verdict::Kept,
    }
}

/// Weeks since which every day lies within what is noise of the last one.
fn still(levels: &[Level]) -> Option<i64> {
    let last = levels.last()?;
    let same = levels.iter().rev().take_while(|l| (l.mean - last.mean).abs() <= STILL);
    let days: Vec<NaiveDate> = same.map(|l| l.date).collect();
    let since = *days.last()?;
    let long = (last.date - since).num_days() >= STILL_DAYS && days.len() >= STILL_TRAINED;
    long.then(|| (last.date - since).num_weeks())
}
