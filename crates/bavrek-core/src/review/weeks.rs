//! Work by week: sets by region, repetitions, time under tension, load moved, pain.

use std::collections::BTreeMap;

use chrono::{Days, NaiveDate};

use super::Done;
use crate::aims::{Aim, Aims};
use crate::anatomy::Region;
use crate::log::LoggedSet;
use crate::movement::Catalogue;
use crate::units::Kilograms;
use crate::volume::{Volume, share_of_set, week_of};

/// What was done in a calendar week.
#[derive(Debug, Clone, PartialEq)]
pub struct Week {
    /// Its Monday.
    pub monday: NaiveDate,
    /// Hard sets by region.
    pub volume: Volume,
    /// Sets; both sides of one are one.
    pub sets: f64,
    /// Repetitions.
    pub reps: u32,
    /// Seconds under tension: of repetitions by their tempo where it was logged, and of what was held.
    pub tension_s: f64,
    /// Effective load times repetitions, kg.
    pub moved_kg: f64,
    /// Highest pain.
    pub pain: Option<u8>,
}

/// Weeks without a set after which a region with an aim is said to get nothing.
const LEFT_OUT_WEEKS: u64 = 3;

/// Regions with an aim above keeping that have had nothing in the last weeks up to a day, each with the last week in which they
/// had. None where the range is too short to tell, or nothing was trained at all.
pub fn left_out(weeks: &[Week], aims: &Aims, until: NaiveDate) -> Vec<(Region, Option<NaiveDate>)> {
    let since = until.checked_sub_days(Days::new(7 * LEFT_OUT_WEEKS)).unwrap_or(until);
    if weeks.first().is_none_or(|w| w.monday > since) || weeks.iter().all(|w| w.sets == 0.0) {
        return Vec::new();
    }
    let wanted = Region::ALL.iter().filter(|r| matches!(aims.of(**r).aim, Aim::Grow | Aim::Focus));
    let last = |region: &Region| weeks.iter().rev().find(|w| w.volume.of(*region).total() > 0.0).map(|w| w.monday);
    wanted.map(|r| (*r, last(r))).filter(|(_, week)| week.is_none_or(|w| w < since)).collect()
}

/// Every week of a range, also those in which nothing was done. `assisting` is what an assisting set counts of a direct one.
pub fn weeks(catalogue: &Catalogue, history: &[Done<'_>], [from, until]: [NaiveDate; 2], assisting: f64) -> Vec<Week> {
    let mut by_week: BTreeMap<NaiveDate, Week> = BTreeMap::new();
    let mut monday = week_of(from);
    while monday <= until {
        let empty = Week {
            monday,
            volume: Volume::counting(assisting),
            sets: 0.0,
            reps: 0,
            tension_s: 0.0,
            moved_kg: 0.0,
            pain: None,
        };
        by_week.insert(monday, empty);
        monday = monday + Days::new(7);
    }
    for set in history.iter().map(|d| d.set).filter(|s| (from..=until).contains(&s.date)) {
        let Some(week) = by_week.get_mut(&week_of(set.date)) else { continue };
        week.volume.done(catalogue, set);
        week.sets += share_of_set(set.side);
        let reps = set.reps.unwrap_or(0);
        week.reps += u32::from(reps);
        let per_rep = set.tempo.map_or(0.0, |tempo| tempo.seconds().value());
        week.tension_s += f64::from(reps) * per_rep + f64::from(set.seconds.unwrap_or(0));
        week.moved_kg += moved_kg(set);
        week.pain = week.pain.max(set.pain.filter(|p| *p > 0));
    }
    by_week.into_values().collect()
}

/// Effective load times repetitions of a set, each part of it on what it was done with, kg.
fn moved_kg(set: &LoggedSet) -> f64 {
    let (after, changed) = set.changed.as_deref().map_or((0.0, 0.0), |changed| {
        let after = f64::from(set.reps.unwrap_or(0).saturating_sub(changed.after));
        (after, after * changed.effective_kg.value())
    });
    changed + set.effective_kg.unwrap_or(Kilograms(0.0)).value() * (f64::from(set.reps.unwrap_or(0)) - after)
}
