//! Holds, each movement on its own scale: what was held how long, and what became of it.

use std::collections::BTreeMap;

use chrono::NaiveDate;

use super::Done;
use crate::dose::SetKind;
use crate::holds::{HOLD_SD, progress};
use crate::log::LoggedSet;
use crate::movement::{Catalogue, Movement};
use crate::strength::Change;
use crate::units::Kilograms;

/// Days that are needed to say what became of it.
const FEWEST_DAYS: usize = 2;
/// Time to which holds of unlike loads are brought, s. It is only a unit: changes do not depend on it.
const UNIT_S: f64 = 20.0;

/// A day's best hold of a movement.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Held {
    /// The day.
    pub date: NaiveDate,
    /// How long it was held, s.
    pub seconds: u16,
    /// What was held, as effective load of the movement.
    pub load: Kilograms,
}

impl Held {
    /// Log of the load that could be held for 20 s that day; none of a time of nothing.
    pub fn strength(self) -> Option<f64> {
        Some(self.load.value().ln() + progress(UNIT_S, f64::from(self.seconds))?)
    }
}

/// A movement that was held.
#[derive(Debug, Clone, PartialEq)]
pub struct HeldLine<'a> {
    /// The movement.
    pub movement: &'a Movement,
    /// The best of each day, the earliest first: at least one.
    pub days: Vec<Held>,
    /// What became of the load that can be held, from the first day to the last along a straight line through all of them. None of
    /// a single day.
    pub change: Option<Change>,
}

/// What was held in a range, in the order of the catalogue. A hold that ended before its end counts as it is: it says at least.
pub fn held_lines<'a>(
    catalogue: &'a Catalogue,
    history: &[Done<'_>],
    [from, until]: [NaiveDate; 2],
) -> Vec<HeldLine<'a>> {
    let mut best: BTreeMap<&str, BTreeMap<NaiveDate, Held>> = BTreeMap::new();
    for set in history.iter().map(|d| d.set).filter(|s| (from..=until).contains(&s.date)) {
        let Some(held) = held(set) else { continue };
        let day = best.entry(set.exercise.as_str()).or_default().entry(set.date).or_insert(held);
        if held.strength() > day.strength() {
            *day = held;
        }
    }
    let line = |movement: &'a Movement| {
        // What a hand or leg holds against, nobody knows.
        let days = best.get(movement.id.as_str()).filter(|_| !movement.rig.is_resisted())?;
        let days: Vec<Held> = days.values().copied().collect();
        Some(HeldLine { movement, change: change(&days), days })
    };
    catalogue.movements.iter().filter_map(|movement| line(movement)).collect()
}

/// A set as a hold, where it was one with a load that is known, and was not set aside.
fn held(set: &LoggedSet) -> Option<Held> {
    let is_hold = set.kind.is_none_or(|kind| kind == SetKind::Hold) && set.reps.is_none();
    let (seconds, load) = (set.seconds.filter(|s| *s > 0)?, set.effective_kg.filter(|kg| kg.value() > 0.0)?);
    (is_hold && !set.set_aside).then_some(Held { date: set.date, seconds, load })
}

/// Least squares of strength over days, with the spread of single holds.
fn change(days: &[Held]) -> Option<Change> {
    let [first, .., last] = days else { return None };
    let at: Vec<(f64, f64)> =
        days.iter().filter_map(|d| Some(((d.date - first.date).num_days() as f64, d.strength()?))).collect();
    if at.len() < FEWEST_DAYS {
        return None;
    }
    let count = at.len() as f64;
    let middle = at.iter().fold((0.0, 0.0), |sum, (x, y)| (sum.0 + x / count, sum.1 + y / count));
    let spread: f64 = at.iter().map(|(x, _)| (x - middle.0).powi(2)).sum();
    let slope = at.iter().map(|(x, y)| (x - middle.0) * (y - middle.1)).sum::<f64>() / spread;
    let length = (last.date - first.date).num_days() as f64;
    Some(Change { mean: slope * length, sd: HOLD_SD * length / spread.sqrt() })
}
