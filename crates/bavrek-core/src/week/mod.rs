//! The week: which movements on which day with how many sets, so that the aims are met within the minutes there are.
//!
//! [`pool`](self) gathers what could be done in each room, a mixed-integer model picks from it with a proven bound, and the
//! days are then laid as the school lays a session and read by the session's own clock.

mod lay;
mod model;
mod pool;
mod search;
mod unmet;

pub use lay::{DayPlan, Line};
pub use model::{Model, Pick, Proposal};
pub use pool::Choice;
pub use unmet::{Unmet, Why};

use self::search::Greed;
use chrono::NaiveDate;

use crate::aims::{Aims, Goal, Volumes};
use crate::anatomy::{Region, vocabulary};
use crate::fit::Room;
use crate::log::LoggedSet;
use crate::movement::Catalogue;
use crate::person::Experience;
use crate::ranges::RangeError;
use crate::school::{Emphasis, School};
use crate::volume::Volume;

/// Most days of a week.
pub const MOST_DAYS: usize = 7;
/// How often the estimate of a set's time is corrected by the clock.
const ROUNDS: usize = 2;

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
    /// How it is to differ from the plain proposal.
    pub wish: Wish,
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
        Ok(())
    }

    /// Weekly sets of a region, least and most.
    fn ranges(&self, region: Region) -> [f64; 2] {
        let experience = self.rooms.first().map_or(Experience::Novice, |r| r.person.experience);
        self.aims.weekly_sets(region, self.volumes, experience)
    }

    /// What the aims make of a session.
    const fn emphasis(&self) -> Emphasis {
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

    /// Whether one day follows the other at once.
    pub fn follows(&self, day: usize, other: usize) -> bool {
        day != other && (self.weekday(day) + 1) % 7 == self.weekday(other)
    }
}

/// A proposed week.
#[derive(Debug, Clone)]
pub struct Week<'a> {
    /// The days in the order of the question.
    pub days: Vec<DayPlan<'a>>,
    /// Sets by region.
    pub volume: Volume,
    /// What could not be met, the most short first.
    pub unmet: Vec<Unmet>,
    /// The value of what is proposed, and the most that any week of this pool could have, on the same scale.
    pub objective: f64,
    /// See `objective`.
    pub bound: f64,
    /// Sets that push, and sets that pull.
    pub balance: [usize; 2],
}

/// Proposes a week. The same question has the same answer unless the solver runs out of time.
pub fn propose<'a>(catalogue: &'a Catalogue, question: &WeekQuestion<'a>) -> Result<Week<'a>, RangeError> {
    question.validate()?;
    let pool = pool::gather(catalogue, question);
    let mut model = Model::of(question, &pool.choices);
    // First what the clock says of a good week, so that the program reckons as the clock reads.
    for _ in 0..ROUNDS {
        let picks = search::improve(question, &model, Vec::new(), Greed::PerSecond);
        model.correct(&lay::days(question, &pool.choices, &picks), &picks);
    }
    let start = search::search(question, &model);
    let mut found = model.solve(&start);
    found.picks = search::improve(question, &model, found.picks, Greed::Gain);
    found.objective = model.value(&found.picks);
    let mut days = lay::days(question, &pool.choices, &found.picks);
    lay::cut_to_minutes(question, &model, &mut found, &mut days);
    lay::fill_minutes(question, &model, &mut found, &mut days);
    let mut volume = Volume::default();
    for line in days.iter().flat_map(DayPlan::lines) {
        volume.plan(line.candidate.movement, &line.candidate.prescription);
    }
    let unmet = unmet::of(question, &pool, &found.picks, &days, &volume);
    let balance = balance(&days);
    Ok(Week { days, volume, unmet, objective: found.objective, bound: found.bound.max(found.objective), balance })
}

fn balance(days: &[DayPlan<'_>]) -> [usize; 2] {
    let of = |which: i8| {
        let lines = days.iter().flat_map(DayPlan::lines).map(|line| &line.candidate);
        lines.filter(|c| model::side_of(c.movement.pattern) == which).map(|c| c.prescription.sets.len()).sum()
    };
    [of(1), of(-1)]
}

/// What could be done in the rooms of a question, from which a week is picked.
pub fn choices<'a>(catalogue: &'a Catalogue, question: &WeekQuestion<'a>) -> Vec<Choice<'a>> {
    pool::gather(catalogue, question).choices
}

/// The days of picks, ordered and paired by the school and read by the clock.
pub fn lay_days<'a>(question: &WeekQuestion<'_>, choices: &[Choice<'a>], picks: &[Pick]) -> Vec<DayPlan<'a>> {
    lay::days(question, choices, picks)
}

/// Share of the minutes that a shorter week takes.
const SHORTER: f64 = 0.8;

/// Most seconds of a day.
fn limit(question: &WeekQuestion<'_>, day: usize) -> f64 {
    let share = if question.wish == Wish::Shorter { SHORTER } else { 1.0 };
    share * 60.0 * f64::from(question.days[day].minutes)
}
