//! Left and right: how far one lags, from what both did on the same day with the same movement.

use std::collections::BTreeMap;

use chrono::NaiveDate;

use super::Done;
use crate::movement::{Catalogue, Movement};
use crate::person::Side;
use crate::reps;
use crate::strength::Change;

/// Days with both sides that are needed.
const FEWEST_DAYS: usize = 3;
/// Log difference between two sides of one day that is noise, SD. Assumed: of one set a side each.
const DAY_SD: f64 = 0.06;

/// The left side against the right in a movement: log of left over right.
#[derive(Debug, Clone, PartialEq)]
pub struct SideGap<'a> {
    /// The movement.
    pub movement: &'a Movement,
    /// Days on which both were done.
    pub days: usize,
    /// Below zero where the left is weaker.
    pub left: Change,
}

impl SideGap<'_> {
    /// The weaker side, where the gap is more than chance.
    pub fn weaker(&self) -> Option<Side> {
        let [low, high] = self.left.bounds();
        match () {
            () if high < 0.0 => Some(Side::Left),
            () if low > 0.0 => Some(Side::Right),
            () => None,
        }
    }
}

/// The gap in every movement that was done one side at a time on some days of a range.
pub fn side_gaps<'a>(
    catalogue: &'a Catalogue,
    history: &[Done<'_>],
    [from, until]: [NaiveDate; 2],
) -> Vec<SideGap<'a>> {
    let mut shown: BTreeMap<&str, BTreeMap<NaiveDate, [Vec<f64>; 2]>> = BTreeMap::new();
    for set in history.iter().map(|d| d.set).filter(|s| (from..=until).contains(&s.date) && s.tells_strength()) {
        let side = match set.side {
            Some(Side::Left) => 0,
            Some(Side::Right) => 1,
            _ => continue,
        };
        // What was changed within a set is read with an assumption that is larger than most gaps.
        let plain = set.reps.filter(|_| set.changed.is_none());
        let (Some(kg), Some(reps)) = (set.effective_kg.filter(|kg| kg.value() > 0.0), plain) else { continue };
        let reading = reps::read(f64::from(reps), set.rir.map(f64::from), None);
        let days = shown.entry(set.exercise.as_str()).or_default();
        days.entry(set.date).or_default()[side].push(kg.value().ln() + reading.shift);
    }
    let mean = |values: &[f64]| values.iter().sum::<f64>() / values.len() as f64;
    let gap = |(id, days): (&str, BTreeMap<NaiveDate, [Vec<f64>; 2]>)| {
        let both = days.into_values().filter(|[left, right]| !left.is_empty() && !right.is_empty());
        let gaps: Vec<f64> = both.map(|[left, right]| mean(&left) - mean(&right)).collect();
        let movement = catalogue.movement(id).filter(|_| gaps.len() >= FEWEST_DAYS)?;
        let sd = DAY_SD / (gaps.len() as f64).sqrt();
        Some(SideGap { movement, days: gaps.len(), left: Change { mean: mean(&gaps), sd } })
    };
    shown.into_iter().filter_map(gap).collect()
}
