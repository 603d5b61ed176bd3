//! A plan over weeks: which session is due on which day and where, which weeks are lighter, what becomes of days off, trips and
//! what was missed.

use chrono::{Datelike, Days, NaiveDate};
use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::dose::{Prescription, SetKind};
use crate::ladder::Ladder;
use crate::method::Method;
use crate::ranges::RangeError;

/// Fewest and most weeks of a plan.
pub const WEEKS: [u8; 2] = [4, 12];
/// Most trips, stretches of days off, and phases.
pub const MOST_STRETCHES: usize = 20;
/// Most sessions that are due in a week.
pub const MOST_DUE: usize = 14;
/// Weeks after which a lighter one may come round: more often there is little to rest from, less often it is no rule.
pub const LIGHT_EVERY: [u8; 2] = [3, 8];
/// Reserve that a lighter week adds, and the most it comes to. Coaching practice, assumed.
const LIGHT_RESERVE: u8 = 2;
const MOST_RESERVE: u8 = 5;
/// Least share of the usual load that a lighter week goes down to. Assumed.
const LIGHT_LOAD: f64 = 0.8;

vocabulary!(
    /// In which weeks of the plan something is due.
    Every {
        Week => "week", "every week";
        Odd => "odd", "weeks 1, 3, 5 and so on";
        Even => "even", "weeks 2, 4, 6 and so on";
    }
);

vocabulary!(
    /// What becomes of a session that was not done on its day, or whose day is off.
    Missed {
        Move => "move", "it moves to the next free day of its week, else it is left out";
        Drop => "drop", "it is left out";
    }
);

vocabulary!(
    /// Which of a line's fits is done: a line that alternates has one for every second week beside the usual one.
    Turn {
        Usual => "usual", "the usual weeks";
        Other => "other", "every second week";
    }
);

/// A session that is due on a weekday.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Due<K> {
    /// The session.
    pub session: K,
    /// 1 Monday to 7 Sunday.
    pub weekday: u8,
    /// Where.
    pub place: K,
    /// In which weeks.
    pub every: Every,
}

/// Days from one to another, both included.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Stretch {
    /// The first.
    pub from: NaiveDate,
    /// The last.
    pub until: NaiveDate,
}

impl Stretch {
    /// Whether a day lies within.
    pub fn holds(&self, day: NaiveDate) -> bool {
        (self.from..=self.until).contains(&day)
    }
}

/// Days at another place.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Trip<K> {
    /// When.
    pub days: Stretch,
    /// Where.
    pub place: K,
}

/// Weeks that follow a school, from one on until the next phase.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Phase<F> {
    /// The week with which it begins, 1 the first.
    pub from_week: u8,
    /// Its school, or the one that the trainer's own is made from.
    pub method: Method,
    /// The trainer's own school.
    pub follows: Option<F>,
}

/// A plan over weeks.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Plan<K, F> {
    /// Its first Monday.
    pub starts_on: NaiveDate,
    /// How many weeks it has.
    pub weeks: u8,
    /// What is due in a week.
    pub due: Vec<Due<K>>,
    /// By week.
    pub phases: Vec<Phase<F>>,
    /// Every how many weeks one is lighter; none by rule where it is left out.
    pub light_every: Option<u8>,
    /// Lighter weeks by hand.
    pub light_weeks: Vec<u8>,
    /// Days without training.
    pub off: Vec<Stretch>,
    /// Days elsewhere.
    pub trips: Vec<Trip<K>>,
    /// The rule for what was missed.
    pub missed: Missed,
}

/// A session on its day.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Coming<K> {
    /// The session.
    pub session: K,
    /// Its day.
    pub on: NaiveDate,
    /// The day it would have been on, where that is off.
    pub instead_of: Option<NaiveDate>,
    /// Where.
    pub place: K,
    /// Whether that is because of a trip.
    pub on_trip: bool,
    /// Which of its lines' fits are done.
    pub turn: Turn,
}

/// A week of a plan.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct WeekAhead<K> {
    /// 1 the first.
    pub number: u8,
    /// Its Monday.
    pub monday: NaiveDate,
    /// Whether it is lighter.
    pub light: bool,
    /// By day.
    pub coming: Vec<Coming<K>>,
    /// What is left out because its day is off, with that day.
    pub left_out: Vec<(K, NaiveDate)>,
}

/// A planned day with what may be known of it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Planned<K> {
    /// Whose it is.
    pub key: K,
    /// Its day.
    pub on: NaiveDate,
    /// Whether it is still to be done.
    pub open: bool,
}

impl<K: Copy + PartialEq, F: Copy> Plan<K, F> {
    /// Checks weeks, days and stretches; the path names the field.
    pub fn validate(&self) -> Result<(), RangeError> {
        let [fewest, most] = WEEKS;
        if !(fewest..=most).contains(&self.weeks) {
            return Err(RangeError::new("weeks", format!("must be {fewest} to {most}")));
        }
        if self.starts_on.weekday().num_days_from_monday() != 0 {
            return Err(RangeError::new("starts_on", "must be a Monday"));
        }
        if self.due.is_empty() || self.due.len() > MOST_DUE {
            return Err(RangeError::new("due", format!("put 1 to {MOST_DUE} sessions on weekdays")));
        }
        for (i, due) in self.due.iter().enumerate() {
            if !(1..=7).contains(&due.weekday) {
                return Err(RangeError::new(format!("due[{i}].weekday"), "must be 1 to 7"));
            }
            let meets = |other: &Due<K>| {
                other.session == due.session
                    && other.weekday == due.weekday
                    && (other.every == due.every || other.every == Every::Week || due.every == Every::Week)
            };
            if self.due[..i].iter().any(meets) {
                return Err(RangeError::new(format!("due[{i}].weekday"), "has this session already in the same weeks"));
            }
        }
        for (i, phase) in self.phases.iter().enumerate() {
            let path = || format!("phases[{i}].from_week");
            if !(1..=self.weeks).contains(&phase.from_week) {
                return Err(RangeError::new(path(), format!("must be 1 to {}", self.weeks)));
            }
            if i > 0 && self.phases[i - 1].from_week >= phase.from_week {
                return Err(RangeError::new(path(), "must come after the phase before"));
            }
        }
        let [fewest, most] = LIGHT_EVERY;
        if self.light_every.is_some_and(|n| !(fewest..=most).contains(&n)) {
            return Err(RangeError::new("light_every", format!("must be {fewest} to {most}")));
        }
        if self.light_weeks.iter().any(|n| !(1..=self.weeks).contains(n)) {
            return Err(RangeError::new("light_weeks", format!("must be weeks from 1 to {}", self.weeks)));
        }
        let stretches = self.off.iter().map(|s| ("off", s)).chain(self.trips.iter().map(|t| ("trips", &t.days)));
        if self.off.len() > MOST_STRETCHES || self.trips.len() > MOST_STRETCHES || self.phases.len() > MOST_STRETCHES {
            return Err(RangeError::new("off", format!("at most {MOST_STRETCHES} of each kind")));
        }
        for (field, stretch) in stretches {
            if stretch.until < stretch.from {
                return Err(RangeError::new(
                    field,
                    format!("{} to {} ends before it begins", stretch.from, stretch.until),
                ));
            }
        }
        for (i, trip) in self.trips.iter().enumerate() {
            let both = |other: &Trip<K>| other.days.from <= trip.days.until && trip.days.from <= other.days.until;
            if self.trips[..i].iter().any(both) {
                return Err(RangeError::new("trips", "two trips lie over each other"));
            }
        }
        Ok(())
    }

    /// The Monday of a week, 1 the first.
    pub fn monday(&self, week: u8) -> NaiveDate {
        self.starts_on + Days::new(7 * u64::from(week.max(1) - 1))
    }

    /// The last day.
    pub fn ends_on(&self) -> NaiveDate {
        self.monday(self.weeks) + Days::new(6)
    }

    /// The week in which a day lies; none outside of the plan.
    pub fn week_of(&self, day: NaiveDate) -> Option<u8> {
        let days = (day - self.starts_on).num_days();
        let week = u8::try_from(days.div_euclid(7) + 1).ok()?;
        (days >= 0 && week <= self.weeks).then_some(week)
    }

    /// Whether a week is lighter, by rule or by hand.
    pub fn is_light(&self, week: u8) -> bool {
        self.light_every.is_some_and(|every| every > 0 && week.is_multiple_of(every))
            || self.light_weeks.contains(&week)
    }

    /// The phase in which a week lies; none before the first.
    pub fn phase(&self, week: u8) -> Option<&Phase<F>> {
        self.phases.iter().rfind(|p| p.from_week <= week)
    }

    /// Which fits a week does.
    pub const fn turn(week: u8) -> Turn {
        if week.is_multiple_of(2) { Turn::Other } else { Turn::Usual }
    }

    fn is_off(&self, day: NaiveDate) -> bool {
        self.off.iter().any(|s| s.holds(day))
    }

    /// Where a session is done on a day: on a trip there.
    fn place(&self, due: &Due<K>, day: NaiveDate) -> (K, bool) {
        self.trips.iter().find(|t| t.days.holds(day)).map_or((due.place, false), |t| (t.place, true))
    }

    /// What a week holds. What is due on a day off moves by the rule for what was missed: to the nearest later day of the week
    /// that has nothing else and is not off, else to the nearest earlier one, else it is left out.
    pub fn week(&self, number: u8) -> WeekAhead<K> {
        let monday = self.monday(number);
        let falls = |due: &&Due<K>| match due.every {
            Every::Week => true,
            Every::Odd => !number.is_multiple_of(2),
            Every::Even => number.is_multiple_of(2),
        };
        let mut due: Vec<&Due<K>> = self.due.iter().filter(falls).collect();
        due.sort_by_key(|d| d.weekday);
        let day = |weekday: u8| monday + Days::new(u64::from(weekday) - 1);
        let mut taken: Vec<NaiveDate> = due.iter().map(|d| day(d.weekday)).filter(|d| !self.is_off(*d)).collect();
        let (mut coming, mut left_out) = (Vec::new(), Vec::new());
        for due in due {
            let asked = day(due.weekday);
            let on = if self.is_off(asked) {
                self.free_day(asked, &taken, monday, true).filter(|_| self.missed == Missed::Move)
            } else {
                Some(asked)
            };
            let Some(on) = on else {
                left_out.push((due.session, asked));
                continue;
            };
            taken.push(on);
            let (place, on_trip) = self.place(due, on);
            let instead_of = (on != asked).then_some(asked);
            coming.push(Coming { session: due.session, on, instead_of, place, on_trip, turn: Self::turn(number) });
        }
        coming.sort_by_key(|c| c.on);
        WeekAhead { number, monday, light: self.is_light(number), coming, left_out }
    }

    /// The nearest day of the week that is free: later ones first, earlier ones where they are asked for.
    fn free_day(&self, day: NaiveDate, taken: &[NaiveDate], monday: NaiveDate, earlier: bool) -> Option<NaiveDate> {
        let sunday = monday + Days::new(6);
        let free = |day: &NaiveDate| !self.is_off(*day) && !taken.contains(day);
        let later = day.iter_days().skip(1).take_while(|d| *d <= sunday).find(free);
        let before = || monday.iter_days().take_while(|d| *d < day).filter(free).last();
        later.or_else(|| before().filter(|_| earlier))
    }

    /// What becomes of what was not done by its day: what moves, with its new day, and what is missed. The first missed takes
    /// the first free day from today on.
    pub fn settle(&self, planned: &[Planned<K>], today: NaiveDate) -> (Vec<(K, NaiveDate)>, Vec<K>) {
        let (mut moved, mut missed) = (Vec::new(), Vec::new());
        let mut taken: Vec<NaiveDate> = planned.iter().map(|p| p.on).filter(|on| *on >= today).collect();
        let mut late: Vec<&Planned<K>> = planned.iter().filter(|p| p.open && p.on < today).collect();
        late.sort_by_key(|p| p.on);
        for one in late {
            let monday = self.week_of(one.on).map(|week| self.monday(week));
            let yesterday = today.pred_opt().unwrap_or(today).max(one.on);
            let free = monday.and_then(|monday| self.free_day(yesterday, &taken, monday, false));
            match free.filter(|_| self.missed == Missed::Move) {
                Some(day) => {
                    taken.push(day);
                    moved.push((one.key, day));
                }
                None => missed.push(one.key),
            }
        }
        (moved, missed)
    }
}

/// The dose of a lighter week: half the sets, half of a total, two more in reserve, so nothing to failure, and nothing at once
/// after a set.
#[must_use]
pub fn light_dose(dose: &Prescription) -> Prescription {
    let mut sets: Vec<_> = dose.sets.iter().filter(|s| s.kind != SetKind::Extension).cloned().collect();
    sets.truncate(sets.len().div_ceil(2));
    for set in &mut sets {
        set.total = set.total.map(|total| total.div_ceil(2));
        set.step = set.step.min(0);
        if !set.kind.is_timed() {
            set.rir = Some(set.rir.unwrap_or(0).saturating_add(LIGHT_RESERVE).min(MOST_RESERVE));
        }
    }
    // What is asked as a share of the maximum is not asked of a lighter week.
    Prescription::of(sets)
}

/// The step of a lighter week: the one below, unless that is less than four fifths of the load.
pub fn light_step(ladder: &Ladder, at: usize) -> usize {
    let kg = |i: usize| ladder.steps[i].effective_kg.value();
    at.checked_sub(1).filter(|below| at < ladder.steps.len() && kg(*below) >= LIGHT_LOAD * kg(at)).unwrap_or(at)
}
