//! Weekly work by region: one rule for what is planned and for what was done.

use std::collections::BTreeMap;

use chrono::{Datelike, Days, NaiveDate};

use crate::aims::{Aims, Volumes};
use crate::anatomy::Region;
use crate::dose::{Prescription, SetKind};
use crate::log::LoggedSet;
use crate::movement::{Catalogue, Movement};
use crate::person::{Experience, Side};

/// What an assisting set counts of a direct one, where the trainer has not decided otherwise. A convention.
pub const ASSISTING_COUNTS: f64 = 0.5;
/// What one side of one-sided work counts: both sides are one set.
const ONE_SIDE: f64 = 0.5;

/// Hard sets of a region.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct RegionSets {
    /// By movements that train it directly.
    pub direct: f64,
    /// By movements in which it assists, as they count.
    pub assisting: f64,
}

impl RegionSets {
    /// Both together.
    pub fn total(&self) -> f64 {
        self.direct + self.assisting
    }
}

/// Hard sets by region.
///
/// A hard set counts once by the movement's weight of a region, both sides of one-sided work are one set, assisting counts
/// half, and where it is disputed that a movement trains what it claims, its confidence counts as well. What was told or
/// tested, an extension of the set before, and a set that was given up before its first repetition count nothing.
#[derive(Debug, Clone, PartialEq)]
pub struct Volume {
    sets: BTreeMap<Region, RegionSets>,
    assisting: f64,
}

impl Default for Volume {
    fn default() -> Self {
        Self::counting(ASSISTING_COUNTS)
    }
}

impl Volume {
    /// Nothing yet, with what an assisting set counts of a direct one, 0 to 1.
    pub fn counting(assisting: f64) -> Self {
        Self { sets: BTreeMap::new(), assisting: assisting.clamp(0.0, 1.0) }
    }

    /// Adds the sets of a dose.
    pub fn plan(&mut self, movement: &Movement, dose: &Prescription) {
        self.plan_share(movement, dose, 1.0);
    }

    /// Adds the sets of a line as far as its session asks for them: of one that may be left out, which says how many such lines are
    /// enough, the share that [`asked_of`] gives.
    pub fn plan_as_asked(&mut self, movement: &Movement, dose: &Prescription, optional: Option<u8>, asked: f64) {
        self.plan_share(movement, dose, if optional.is_some() { asked } else { 1.0 });
    }

    fn plan_share(&mut self, movement: &Movement, dose: &Prescription, share: f64) {
        self.add(movement, share * dose.sets.iter().filter(|s| s.kind != SetKind::Extension).count() as f64);
    }

    /// Adds a set that was done in a session; one of a movement that the catalogue does not hold counts nothing.
    pub fn done(&mut self, catalogue: &Catalogue, set: &LoggedSet) {
        let extends = set.kind == Some(SetKind::Extension);
        let worked = !extends && (set.reps.is_some_and(|r| r > 0) || set.seconds.is_some_and(|s| s > 0));
        let Some(movement) = catalogue.movement(&set.exercise).filter(|_| worked) else { return };
        self.add(movement, share_of_set(set.side));
    }

    fn add(&mut self, movement: &Movement, sets: f64) {
        let sure = if movement.disputed.is_some() { movement.confidence } else { 1.0 };
        for (region, weight) in &movement.direct {
            self.sets.entry(*region).or_default().direct += sets * weight * sure;
        }
        for (region, weight) in &movement.assisting {
            self.sets.entry(*region).or_default().assisting += self.assisting * sets * weight * sure;
        }
    }

    /// The sets of a region.
    pub fn of(&self, region: Region) -> RegionSets {
        self.sets.get(&region).copied().unwrap_or_default()
    }

    /// All regions with any work.
    pub fn regions(&self) -> &BTreeMap<Region, RegionSets> {
        &self.sets
    }
}

/// A region that is short of what a week asks.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Owed {
    /// The region.
    pub region: Region,
    /// Hard sets it has.
    pub sets: f64,
    /// Hard sets a week, least and most.
    pub asked: [f64; 2],
}

/// Sets by which a region may be short without a word.
const NEARLY: f64 = 0.5;

impl Owed {
    /// Whether it is short by more than what nobody would mind.
    pub fn is_short(&self) -> bool {
        self.asked[0] - self.sets > NEARLY
    }
}

impl Volume {
    /// The regions that have fewer sets than their aim asks at least, the most short first.
    pub fn owed(&self, aims: &Aims, volumes: &Volumes, experience: Experience) -> Vec<Owed> {
        let owed = |region: &Region| {
            let asked = aims.weekly_sets(*region, volumes, experience);
            let sets = self.of(*region).total();
            (sets < asked[0]).then_some(Owed { region: *region, sets, asked })
        };
        let mut short: Vec<Owed> = Region::ALL.iter().filter_map(owed).collect();
        short.sort_by(|a, b| (b.asked[0] - b.sets).total_cmp(&(a.asked[0] - a.sets)));
        short
    }
}

/// What a line that may be left out counts of its sets in a plan: the share of such lines of its session that is asked. Of `any four of
/// five` each counts four fifths, and where any number is enough nothing is asked. `optional` are how many are enough, of all such lines
/// of the session, of which the highest counts, as for the workout.
pub fn asked_of(optional: impl IntoIterator<Item = u8>) -> f64 {
    let wanted: Vec<u8> = optional.into_iter().collect();
    let most = wanted.iter().max().map_or(0.0, |most| f64::from(*most));
    (most / wanted.len().max(1) as f64).min(1.0)
}

/// What of a set is done where this side of it was: a half in one-sided work.
pub fn share_of_set(side: Option<Side>) -> f64 {
    if side.is_none_or(|side| side == Side::Both) { 1.0 } else { ONE_SIDE }
}

/// The first day of the calendar week of a day: its Monday.
///
/// ```
/// use bavrek_core::volume::week_of;
/// let day = |text: &str| text.parse().unwrap();
/// assert_eq!(week_of(day("2026-03-08")), day("2026-03-02"), "a Sunday closes its week");
/// assert_eq!(week_of(day("2026-03-09")), day("2026-03-09"));
/// ```
pub fn week_of(day: NaiveDate) -> NaiveDate {
    day.checked_sub_days(Days::new(u64::from(day.weekday().num_days_from_monday()))).unwrap_or(day)
}
