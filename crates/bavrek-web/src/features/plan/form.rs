//! A plan as it is asked for: rows of days, phases, days off and trips, each with one more to fill in.

use bavrek_core::calendar::{Due, Every, LIGHT_EVERY, Missed, Phase, Plan as Weeks, Stretch, Trip, WEEKS};
use bavrek_core::ranges::RangeError;
use bavrek_store::own_schools::Follows;
use bavrek_store::places::PlaceHead;
use bavrek_store::plans::{Plan, Rules};
use bavrek_store::sessions::SessionHead;
use bavrek_store::weeks::Draft;
use chrono::{Datelike, Duration, NaiveDate};
use uuid::Uuid;

use crate::features::schools::{self, Chosen};
use crate::features::typed::Typed;
use crate::features::week::DAYS;

/// Longest name.
const LONGEST: usize = 80;
/// Most rows of a kind that a form has.
const MOST_ROWS: usize = 20;

/// What may be chosen.
pub(super) struct Choices<'c> {
    pub(super) sessions: &'c [SessionHead],
    pub(super) places: &'c [PlaceHead],
    pub(super) schools: &'c [Chosen],
}

/// A select or an input of a row.
pub(super) struct Field {
    pub(super) name: String,
    pub(super) label: String,
    pub(super) value: String,
    /// Of a select: value, words, chosen.
    pub(super) options: Vec<(String, String, bool)>,
    pub(super) date: bool,
}

/// Fields beside each other.
pub(super) struct RowView {
    pub(super) label: String,
    pub(super) fields: Vec<Field>,
    pub(super) error: Option<String>,
}

/// The form as it is shown.
pub(super) struct Form {
    pub(super) head: Vec<RowView>,
    pub(super) due: Vec<RowView>,
    pub(super) phases: Vec<RowView>,
    pub(super) off: Vec<RowView>,
    pub(super) trips: Vec<RowView>,
    pub(super) errors: Vec<String>,
}

fn named(what: &str, row: usize) -> String {
    format!("{what}_{row}")
}

/// What a plan says, as its form holds it.
pub(super) fn typed_of(plan: &Plan) -> Typed {
    let rules = &plan.rules;
    let mut values = vec![
        ("name".to_owned(), plan.name.clone()),
        ("starts_on".to_owned(), rules.starts_on.to_string()),
        ("weeks".to_owned(), rules.weeks.to_string()),
        ("light_every".to_owned(), rules.light_every.map_or_else(String::new, |n| n.to_string())),
        ("light_weeks".to_owned(), rules.light_weeks.iter().map(u8::to_string).collect::<Vec<_>>().join(", ")),
        ("missed".to_owned(), rules.missed.id().to_owned()),
    ];
    for (i, due) in rules.due.iter().enumerate() {
        values.push((named("session", i), due.session.to_string()));
        values.push((named("weekday", i), due.weekday.to_string()));
        values.push((named("at", i), due.place.to_string()));
        values.push((named("every", i), due.every.id().to_owned()));
    }
    for (i, phase) in rules.phases.iter().enumerate() {
        values.push((named("phase", i), phase.from_week.to_string()));
        values.push((named("school", i), schools::key(phase.method, phase.follows)));
    }
    for (i, off) in rules.off.iter().enumerate() {
        values.push((named("off_from", i), off.from.to_string()));
        values.push((named("off_until", i), off.until.to_string()));
    }
    for (i, trip) in rules.trips.iter().enumerate() {
        values.push((named("trip_from", i), trip.days.from.to_string()));
        values.push((named("trip_until", i), trip.days.until.to_string()));
        values.push((named("trip_at", i), trip.place.to_string()));
    }
    Typed::from_map(values.into_iter().collect())
}

/// What a new plan begins with: the sessions that stand, on the weekdays of their next days, from the next Monday on.
pub(super) fn usual(sessions: &[SessionHead], today: NaiveDate) -> Typed {
    let monday = today + Duration::days(7 - i64::from(today.weekday().num_days_from_monday()));
    let mut values = vec![
        ("name".to_owned(), format!("Eight weeks from {}", monday.format("%-d %b"))),
        ("starts_on".to_owned(), monday.to_string()),
        ("weeks".to_owned(), "8".to_owned()),
        ("light_every".to_owned(), "4".to_owned()),
        ("missed".to_owned(), Missed::Move.id().to_owned()),
    ];
    for (i, session) in sessions.iter().enumerate().take(MOST_ROWS) {
        values.push((named("session", i), session.id.to_string()));
        values.push((named("weekday", i), session.planned_on.weekday().number_from_monday().to_string()));
        values.push((named("at", i), session.place_id.to_string()));
    }
    Typed::from_map(values.into_iter().collect())
}

/// What a week from a plan's template says: its sessions on its days, and how it goes on. None of other weeks.
pub(super) fn typed_of_week(draft: &Draft, today: NaiveDate) -> Option<Typed> {
    let weeks = draft.weeks.as_ref()?;
    let monday = today + Duration::days(7 - i64::from(today.weekday().num_days_from_monday()));
    let mut values = vec![
        ("name".to_owned(), format!("{} weeks from {}", weeks.weeks, monday.format("%-d %b"))),
        ("starts_on".to_owned(), monday.to_string()),
        ("weeks".to_owned(), weeks.weeks.to_string()),
        ("light_every".to_owned(), weeks.light_every.map_or_else(String::new, |n| n.to_string())),
        ("light_weeks".to_owned(), weeks.light_weeks.iter().map(u8::to_string).collect::<Vec<_>>().join(", ")),
        ("missed".to_owned(), weeks.missed.id().to_owned()),
    ];
    for (i, (asked, day)) in draft.asked.days.iter().zip(&draft.days).enumerate() {
        values.push((named("session", i), day.session.to_string()));
        values.push((named("weekday", i), asked.weekday.to_string()));
        values.push((named("at", i), asked.place.to_string()));
    }
    for (i, (from, method)) in weeks.phases.iter().enumerate() {
        values.push((named("phase", i), from.to_string()));
        values.push((named("school", i), method.id().to_owned()));
    }
    Some(Typed::from_map(values.into_iter().collect()))
}

/// How many rows of a kind hold anything, and so how many are shown: one more.
fn rows(typed: &Typed, what: &[&str]) -> usize {
    let holds = |i: &usize| what.iter().any(|w| !typed.value(&named(w, *i)).is_empty());
    let last = (0..MOST_ROWS).rev().find(holds).map_or(0, |i| i + 1);
    (last + 1).min(MOST_ROWS)
}

impl Choices<'_> {
    /// The form of what was typed.
    pub(super) fn form(&self, typed: &Typed) -> Form {
        let input = |name: &str, label: &str, date: bool| Field {
            name: name.to_owned(),
            label: label.to_owned(),
            value: typed.value(name).to_owned(),
            options: Vec::new(),
            date,
        };
        let select = |name: &str, label: &str, none: &str, options: Vec<(String, String)>| {
            let chosen = typed.value(name).to_owned();
            let first = (!none.is_empty()).then(|| (String::new(), none.to_owned(), chosen.is_empty()));
            let rest = options.into_iter().map(|(value, words)| {
                let on = value == chosen;
                (value, words, on)
            });
            Field { options: first.into_iter().chain(rest).collect(), ..input(name, label, false) }
        };
        let row = |label: String, fields: Vec<Field>| {
            let error = fields.iter().find_map(|f| typed.error(&f.name)).map(str::to_owned);
            RowView { label, fields, error }
        };
        let places = || self.places.iter().map(|p| (p.id.to_string(), p.name.clone())).collect::<Vec<_>>();
        let weekdays = || DAYS.iter().enumerate().map(|(i, d)| ((i + 1).to_string(), (*d).to_owned())).collect();
        let every = || Every::ALL.iter().map(|e| (e.id().to_owned(), e.label().to_owned())).collect();
        let sessions = || self.sessions.iter().map(|s| (s.id.to_string(), s.name.clone())).collect::<Vec<_>>();
        let schools = || self.schools.iter().map(|s| (s.key.clone(), s.name.clone())).collect();
        let light = (LIGHT_EVERY[0]..=LIGHT_EVERY[1]).map(|n| (n.to_string(), format!("every {n} weeks"))).collect();
        let missed = Missed::ALL.iter().map(|m| (m.id().to_owned(), m.label().to_owned())).collect();
        let due = (0..rows(typed, &["session", "weekday"])).map(|i| {
            row(
                format!("Day {}", i + 1),
                vec![
                    select(&named("session", i), "Session", "none", sessions()),
                    select(&named("weekday", i), "Weekday", "choose", weekdays()),
                    select(&named("at", i), "Where", "choose", places()),
                    select(&named("every", i), "Weeks", "", every()),
                ],
            )
        });
        let phases = (0..rows(typed, &["phase", "school"])).map(|i| {
            row(
                format!("Phase {}", i + 1),
                vec![
                    input(&named("phase", i), "From week", false),
                    select(&named("school", i), "School", "as the sessions are", schools()),
                ],
            )
        });
        let off = (0..rows(typed, &["off_from", "off_until"])).map(|i| {
            row(
                format!("Days off {}", i + 1),
                vec![input(&named("off_from", i), "From", true), input(&named("off_until", i), "Until", true)],
            )
        });
        let trips = (0..rows(typed, &["trip_from", "trip_until", "trip_at"])).map(|i| {
            row(
                format!("Trip {}", i + 1),
                vec![
                    input(&named("trip_from", i), "From", true),
                    input(&named("trip_until", i), "Until", true),
                    select(&named("trip_at", i), "Where", "choose", places()),
                ],
            )
        });
        Form {
            head: vec![
                row(String::new(), vec![input("name", "Name", false)]),
                row(String::new(), vec![input("starts_on", "First Monday", true)]),
                row(String::new(), vec![input("weeks", "Weeks", false)]),
                row(String::new(), vec![select("light_every", "A lighter week", "none by rule", light)]),
                row(String::new(), vec![input("light_weeks", "Lighter by hand, weeks", false)]),
                row(String::new(), vec![select("missed", "What was missed or lies on a day off", "", missed)]),
            ],
            due: due.collect(),
            phases: phases.collect(),
            off: off.collect(),
            trips: trips.collect(),
            errors: ["due", "off", "trips", "light_every", "light_weeks"]
                .iter()
                .filter_map(|name| typed.error(name).filter(|_| !["light_every", "light_weeks"].contains(name)))
                .map(str::to_owned)
                .collect(),
        }
    }

    /// The name and rules that were typed; none where any of it is refused.
    pub(super) fn read(&self, typed: &mut Typed) -> Option<(String, Rules)> {
        let name = typed.needed("name", LONGEST);
        let starts_on = typed.day("starts_on");
        if typed.value("starts_on").is_empty() {
            typed.refuse("starts_on", "is needed");
        }
        let weeks = number(typed, "weeks");
        if weeks.is_none() {
            typed.refuse("weeks", format!("must be {} to {}", WEEKS[0], WEEKS[1]));
        }
        let light_every = number(typed, "light_every");
        let light_weeks = self::weeks(typed);
        let missed = typed.word("missed", Missed::from_id).unwrap_or(Missed::Move);
        let due = self.due(typed);
        let phases = self.phases(typed);
        let off = (0..MOST_ROWS).filter_map(|i| stretch(typed, i, "off")).collect();
        let trips = self.trips(typed);
        if !typed.fine() {
            return None;
        }
        let (starts_on, weeks) = (starts_on?, weeks?);
        let rules = Weeks { starts_on, weeks, due, phases, light_every, light_weeks, off, trips, missed };
        match rules.validate() {
            Ok(()) => Some((name, rules)),
            Err(error) => {
                refuse(typed, error, starts_on);
                None
            }
        }
    }

    fn due(&self, typed: &mut Typed) -> Vec<Due<Uuid>> {
        let mut all = Vec::new();
        for i in 0..MOST_ROWS {
            let [session, weekday, at, every] = ["session", "weekday", "at", "every"].map(|w| named(w, i));
            if typed.value(&session).is_empty() {
                continue;
            }
            let own = typed.word(&session, |id| self.sessions.iter().find(|s| s.id.to_string() == id).map(|s| s.id));
            let day = typed.needed_word(&weekday, |d| d.parse::<u8>().ok().filter(|d| (1..=7).contains(d)));
            let place = typed.needed_word(&at, |id| self.places.iter().find(|p| p.id.to_string() == id).map(|p| p.id));
            let every = typed.word(&every, Every::from_id).unwrap_or(Every::Week);
            if let (Some(session), Some(weekday), Some(place)) = (own, day, place) {
                all.push(Due { session, weekday, place, every });
            }
        }
        all
    }

    fn phases(&self, typed: &mut Typed) -> Vec<Phase<Follows>> {
        let mut all = Vec::new();
        for i in 0..MOST_ROWS {
            let [from, school] = ["phase", "school"].map(|w| named(w, i));
            if typed.value(&from).is_empty() && typed.value(&school).is_empty() {
                continue;
            }
            let from_week = number(typed, &from);
            if from_week.is_none() {
                typed.refuse(&from, "say with which week it begins");
            }
            let chosen = typed.needed_word(&school, |key| self.schools.iter().find(|s| s.key == key));
            if let (Some(from_week), Some(chosen)) = (from_week, chosen) {
                all.push(Phase { from_week, method: chosen.school.id, follows: chosen.follows });
            }
        }
        all
    }

    fn trips(&self, typed: &mut Typed) -> Vec<Trip<Uuid>> {
        let mut all = Vec::new();
        for i in 0..MOST_ROWS {
            let at = named("trip_at", i);
            let Some(days) = stretch(typed, i, "trip") else {
                if !typed.value(&at).is_empty() {
                    typed.refuse(&at, "say from when until when");
                }
                continue;
            };
            let place = typed.needed_word(&at, |id| self.places.iter().find(|p| p.id.to_string() == id).map(|p| p.id));
            all.extend(place.map(|place| Trip { days, place }));
        }
        all
    }
}

/// A small whole number; what is no number is refused.
fn number(typed: &mut Typed, name: &str) -> Option<u8> {
    let text = typed.value(name).to_owned();
    if text.is_empty() {
        return None;
    }
    let words = text.trim_end_matches(|c: char| c.is_alphabetic() || c == ' ');
    let found = words.parse().ok();
    if found.is_none() {
        typed.refuse(name, format!("{text:?} is not a whole number"));
    }
    found
}

/// Weeks by hand: `4, 8`.
fn weeks(typed: &mut Typed) -> Vec<u8> {
    let text = typed.value("light_weeks").to_owned();
    let words = text.split([',', ' ', ';']).filter(|w| !w.is_empty());
    let mut all = Vec::new();
    for word in words {
        match word.parse() {
            Ok(week) => all.push(week),
            Err(_) => typed.refuse("light_weeks", format!("{word:?} is no week: write 4, 8")),
        }
    }
    all.sort_unstable();
    all.dedup();
    all
}

/// Days from one to another; the same day twice where only one was typed.
fn stretch(typed: &mut Typed, row: usize, what: &str) -> Option<Stretch> {
    let [from, until] = ["from", "until"].map(|w| named(&format!("{what}_{w}"), row));
    let (a, b) = (typed.day(&from), typed.day(&until));
    let (from_day, until_day) = (a.or(b)?, b.or(a)?);
    if until_day < from_day {
        typed.refuse(&until, "lies before the first day");
        return None;
    }
    Some(Stretch { from: from_day, until: until_day })
}

/// Puts what the core refuses beside its field.
fn refuse(typed: &mut Typed, error: RangeError, starts_on: NaiveDate) {
    let row = |path: &str| path.split(['[', ']']).nth(1).and_then(|n| n.parse::<usize>().ok());
    let name = match error.path.as_str() {
        path if path.starts_with("phases[") => row(path).map_or_else(|| path.to_owned(), |i| named("phase", i)),
        path if path.starts_with("due[") => row(path).map_or_else(|| path.to_owned(), |i| named("weekday", i)),
        path => path.to_owned(),
    };
    let message = if name == "starts_on" {
        let monday = starts_on - Duration::days(i64::from(starts_on.weekday().num_days_from_monday()));
        format!("must be a Monday: {} or {}", monday.format("%-d %b"), (monday + Duration::days(7)).format("%-d %b"))
    } else {
        error.message
    };
    typed.refuse(&name, message);
}
