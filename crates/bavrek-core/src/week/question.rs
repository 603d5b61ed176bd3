//! What a week is asked for.

use chrono::{Datelike, Days, NaiveDate};

use crate::aims::{Aim, Aims, Goal, Volumes};
use crate::anatomy::{Region, vocabulary};
use crate::dose::Prescription;
use crate::fit::Room;
use crate::ladder::LadderStep;
use crate::log::LoggedSet;
use crate::movement::Catalogue;
use crate::person::Experience;
use crate::plan::Intent;
use crate::ranges::RangeError;
use crate::school::{Emphasis, School};
use crate::volume::Volume;

/// What a set up to the least of an aim counts, by aim: what lags first. Assumed.
const WEIGHTS: [(Aim, f64); 3] = [(Aim::Focus, 3.0), (Aim::Grow, 2.0), (Aim::Keep, 1.0)];

/// Most days of a week.
pub const MOST_DAYS: usize = 7;

vocabulary!(
    /// How a proposal differs from the plain one.
    Wish {
        Balanced => "balanced", "balanced";
        Shorter => "shorter", "shorter";
        FewerMovements => "fewer_movements", "fewer movements";
        MoreVariety => "more_variety", "more variety";
    }
);

/// A day on which is trained.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Day {
    /// The room's place among the rooms.
    pub room: usize,
    /// Minutes there are.
    pub minutes: u16,
    /// 1 Monday to 7 Sunday; spread over the week where it is left out.
    pub weekday: Option<u8>,
}

/// Direct sets that were done yesterday, and today so far: what was trained hard just before is not crushed again.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Lately {
    yesterday: [f64; REGIONS],
    today: [f64; REGIONS],
}

const REGIONS: usize = Region::ALL.len();

impl Lately {
    /// Of sets that were done in sessions, of any days.
    pub fn of(catalogue: &Catalogue, done: &[&LoggedSet], today: NaiveDate) -> Self {
        let on = |day: NaiveDate| {
            let mut volume = Volume::default();
            for set in done.iter().filter(|set| set.date == day) {
                volume.done(catalogue, set);
            }
            let mut direct = [0.0; REGIONS];
            for region in Region::ALL {
                direct[*region as usize] = volume.of(*region).direct;
            }
            direct
        };
        Self { yesterday: today.checked_sub_days(Days::new(1)).map_or([0.0; REGIONS], on), today: on(today) }
    }

    /// Direct sets of a region on the day before one that lies so many days ahead, and on that day itself.
    fn around(&self, ahead: u32, region: Region) -> [f64; 2] {
        let r = region as usize;
        match ahead {
            0 => [self.yesterday[r], self.today[r]],
            1 => [self.today[r], 0.0],
            _ => [0.0; 2],
        }
    }
}

/// A line that stays where it is, as it is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pin<'a> {
    /// The day's place.
    pub day: usize,
    /// What it is for.
    pub intent: &'a Intent,
    /// The movement.
    pub exercise: &'a str,
    /// Its step; where it would begin without.
    pub step: Option<&'a LadderStep>,
    /// Its sets.
    pub dose: &'a Prescription,
}

/// What a week is asked for.
#[derive(Debug, Clone, Copy)]
pub struct WeekQuestion<'a> {
    /// Where is trained, all for the same person.
    pub rooms: &'a [Room<'a>],
    /// When.
    pub days: &'a [Day],
    /// What each region is to do.
    pub aims: &'a Aims,
    /// Usual weekly sets.
    pub volumes: &'a Volumes,
    /// The school that doses and orders.
    pub school: &'a School,
    /// What was done before.
    pub history: &'a [LoggedSet],
    /// Sets after this day are left out.
    pub today: Option<NaiveDate>,
    /// What was done just before; it counts for the days that follow today, where that is given.
    pub lately: Lately,
    /// How it is to differ from the plain proposal.
    pub wish: Wish,
    /// What is not moved, whatever the rest.
    pub pins: &'a [Pin<'a>],
}

impl WeekQuestion<'_> {
    /// Checks days and rooms; the path names the field.
    pub fn validate(&self) -> Result<(), RangeError> {
        if self.days.is_empty() || self.days.len() > MOST_DAYS {
            return Err(RangeError::new("days", format!("must hold 1 to {MOST_DAYS} days")));
        }
        for (i, day) in self.days.iter().enumerate() {
            if day.room >= self.rooms.len() {
                return Err(RangeError::new(format!("days[{i}].place"), "is no place of this request"));
            }
            let minutes = crate::ranges::SESSION_MINUTES;
            minutes.check(&format!("days[{i}].minutes"), f64::from(day.minutes))?;
            if day.weekday.is_some_and(|w| !(1..=7).contains(&w)) {
                return Err(RangeError::new(format!("days[{i}].weekday"), "must be 1 to 7"));
            }
            let twice = |other: &Day| day.weekday.is_some() && other.weekday == day.weekday;
            if self.days[..i].iter().any(twice) {
                return Err(RangeError::new(format!("days[{i}].weekday"), "is there already"));
            }
        }
        for (i, pin) in self.pins.iter().enumerate() {
            if pin.day >= self.days.len() {
                return Err(RangeError::new(format!("pins[{i}].day"), "is no day of this request"));
            }
            pin.dose.validate().map_err(|e| e.under(&format!("pins[{i}]")))?;
            let twice = |other: &Pin<'_>| other.day == pin.day && other.exercise == pin.exercise;
            if self.pins[..i].iter().any(twice) {
                return Err(RangeError::new(format!("pins[{i}].exercise"), "is pinned on that day already"));
            }
        }
        Ok(())
    }

    /// Weekly sets of a region, least and most.
    pub(super) fn ranges(&self, region: Region) -> [f64; 2] {
        let experience = self.rooms.first().map_or(Experience::Novice, |r| r.person.experience);
        self.aims.weekly_sets(region, self.volumes, experience)
    }

    /// What a set of a region counts.
    pub(super) fn weight(&self, region: Region) -> f64 {
        let aim = self.aims.of(region).aim;
        WEIGHTS.iter().find(|(a, _)| *a == aim).map_or(1.0, |(_, w)| *w)
    }

    /// What the aims make of a session.
    pub(super) const fn emphasis(&self) -> Emphasis {
        match self.aims.goal {
            Some(Goal::StrengthWithSize) => Emphasis::Strength,
            Some(Goal::GeneralShape) => Emphasis::General,
            _ => Emphasis::Size,
        }
    }

    /// The weekday of a day, 0 Monday to 6 Sunday: as stated, else spread over the week.
    fn weekday(&self, day: usize) -> usize {
        self.days[day].weekday.map_or_else(|| day * 7 / self.days.len(), |w| usize::from(w) - 1)
    }

    /// Direct sets of a region that were done on the day before a day, and on that day itself.
    pub(super) fn done_around(&self, day: usize, region: Region) -> [f64; 2] {
        let (Some(today), Some(weekday)) = (self.today, self.days[day].weekday) else { return [0.0; 2] };
        let ahead = (7 + u32::from(weekday) - today.weekday().number_from_monday()) % 7;
        self.lately.around(ahead, region)
    }

    /// Whether one day follows the other at once.
    pub fn follows(&self, day: usize, other: usize) -> bool {
        day != other && (self.weekday(day) + 1) % 7 == self.weekday(other)
    }
}

/// Share of the minutes that a shorter week takes.
const SHORTER: f64 = 0.8;

/// Most seconds of a day.
pub(super) fn limit(question: &WeekQuestion<'_>, day: usize) -> f64 {
    let share = if question.wish == Wish::Shorter { SHORTER } else { 1.0 };
    share * 60.0 * f64::from(question.days[day].minutes)
}
