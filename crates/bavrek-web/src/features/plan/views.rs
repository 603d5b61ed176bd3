//! A plan as a calendar: what was, what stands, and what the rules will make of the weeks to come.

use bavrek_core::calendar::{Coming, Missed};
use bavrek_core::script::WorkoutState;
use bavrek_store::fits::Fit;
use bavrek_store::plans::{Opened, Plan, PlanDay};
use chrono::{Duration, NaiveDate};
use uuid::Uuid;

use super::Desk;
use crate::features::dates::{day, week_of};
use crate::features::schools;
use crate::features::week::weekday;
use crate::state::App;

pub(super) struct PlanView {
    pub(super) id: Uuid,
    pub(super) name: String,
    pub(super) version: i32,
    /// From when until when.
    pub(super) span: String,
    pub(super) weeks: Vec<WeekView>,
    /// The week that may be opened by hand.
    pub(super) next: Option<u8>,
}

pub(super) struct WeekView {
    pub(super) number: u8,
    pub(super) from: String,
    /// Lighter, a phase, a trip.
    pub(super) marks: Vec<String>,
    /// How far it is.
    pub(super) state: &'static str,
    pub(super) days: Vec<DayView>,
    pub(super) notes: Vec<String>,
    /// What of it is left out.
    pub(super) left_out: Vec<String>,
}

pub(super) struct DayView {
    pub(super) when: String,
    pub(super) today: bool,
    /// Whether no training is meant to be.
    pub(super) off: bool,
    pub(super) trip: bool,
    pub(super) entries: Vec<Entry>,
}

pub(super) struct Entry {
    pub(super) session: Uuid,
    pub(super) name: String,
    pub(super) place: String,
    pub(super) state: &'static str,
    pub(super) class: &'static str,
    pub(super) moved: Option<String>,
}

/// A line that alternates.
pub(super) struct Alternating {
    pub(super) slot: Uuid,
    pub(super) place: (Uuid, String),
    pub(super) session: String,
    pub(super) usual: String,
    pub(super) other: String,
}

fn place_name(desk: &Desk, id: Uuid) -> String {
    desk.places.iter().find(|p| p.id == id).map_or_else(|| "a place no longer in use".to_owned(), |p| p.name.clone())
}

fn session_name(desk: &Desk, id: Uuid) -> String {
    let found = desk.sessions.iter().find(|s| s.id == id);
    found.map_or_else(|| "a session that was taken out".to_owned(), |s| s.name.clone())
}

pub(super) fn alternating(app: &App, desk: &Desk, session: Uuid, usual: Option<&Fit>, other: &Fit) -> Alternating {
    let told = |fit: &Fit| {
        let name = app.catalogue.movement(&fit.exercise).map_or(fit.exercise.as_str(), |m| &m.name);
        format!("{name}, {}", fit.step.label)
    };
    Alternating {
        slot: other.slot_id,
        place: (other.place_id, place_name(desk, other.place_id)),
        session: session_name(desk, session),
        usual: usual.map_or_else(|| "nothing".to_owned(), told),
        other: told(other),
    }
}

pub(super) fn plan(desk: &Desk, plan: &Plan, opened: &[Opened], days: &[PlanDay]) -> PlanView {
    let today = desk.who.today;
    let rules = &plan.rules;
    let is_open = |week: u8| opened.iter().any(|o| o.week == week);
    let weeks: Vec<WeekView> = (1..=rules.weeks)
        .map(|number| {
            let own: Vec<&PlanDay> = days.iter().filter(|d| d.week == number).collect();
            week(desk, plan, number, (opened.iter().find(|o| o.week == number), &own))
        })
        .collect();
    let next = (1..=rules.weeks).find(|w| !is_open(*w) && rules.monday(*w) + Duration::days(6) >= today);
    PlanView {
        id: plan.id,
        name: plan.name.clone(),
        version: plan.version,
        span: format!("{} weeks, {} to {}", rules.weeks, day(rules.starts_on, today), day(rules.ends_on(), today)),
        weeks,
        next,
    }
}

fn week(desk: &Desk, plan: &Plan, number: u8, (opened, own): (Option<&Opened>, &[&PlanDay])) -> WeekView {
    let (rules, today) = (&plan.rules, desk.who.today);
    let ahead = rules.week(number);
    let sunday = ahead.monday + Duration::days(6);
    let mut marks = Vec::new();
    if ahead.light {
        marks.push("lighter: half the sets, two more in reserve".to_owned());
    }
    if let Some(phase) = rules.phases.iter().find(|p| p.from_week == number) {
        let key = schools::key(phase.method, phase.follows);
        let name = desk.schools.iter().find(|s| s.key == key).map(|s| s.name.clone());
        marks.push(format!("from here {}", name.unwrap_or_else(|| phase.method.label().to_owned())));
    }
    for trip in rules.trips.iter().filter(|t| t.days.from <= sunday && t.days.until >= ahead.monday) {
        marks.push(format!(
            "at {} from {} to {}",
            place_name(desk, trip.place),
            day(trip.days.from, today),
            day(trip.days.until, today)
        ));
    }
    let state = match opened {
        _ if sunday < today => "past",
        Some(_) => "open",
        None => "to come",
    };
    let on_day = |i: i64| {
        let on = ahead.monday + Duration::days(i);
        // An open week is what its workouts are; a week to come is what the rules will make of it.
        let entries: Vec<Entry> = if opened.is_some() || sunday < today {
            own.iter().filter(|d| d.on == on).map(|d| done(desk, d)).collect()
        } else {
            ahead.coming.iter().filter(|c| c.on == on).map(|c| coming(desk, c)).collect()
        };
        DayView {
            when: format!("{} {}", &weekday(u8::try_from(i + 1).unwrap_or(1))[..3], on.format("%-d %b")),
            today: on == today,
            off: rules.off.iter().any(|s| s.holds(on)),
            trip: rules.trips.iter().any(|t| t.days.holds(on)),
            entries,
        }
    };
    let left_out = ahead.left_out.iter().map(|(session, on)| left_out(desk, (*session, *on), rules.missed));
    WeekView {
        number,
        from: week_of(ahead.monday, today),
        marks,
        state,
        days: (0..7).map(on_day).collect(),
        notes: opened.map_or_else(Vec::new, |o| o.notes.clone()),
        left_out: left_out.collect(),
    }
}

fn left_out(desk: &Desk, (session, on): (Uuid, NaiveDate), rule: Missed) -> String {
    let why = match rule {
        Missed::Move => "a day off, and no free day in that week",
        Missed::Drop => "a day off",
    };
    format!("{} of {} is left out: {why}", session_name(desk, session), day(on, desk.who.today))
}

fn done(desk: &Desk, one: &PlanDay) -> Entry {
    let today = desk.who.today;
    let class = match one.state {
        WorkoutState::Done => "done",
        WorkoutState::Missed => "missed",
        WorkoutState::UnderWay => "under-way",
        WorkoutState::Planned => "planned",
    };
    Entry {
        session: one.session,
        name: session_name(desk, one.session),
        place: place_name(desk, one.place),
        state: one.state.label(),
        class,
        moved: one.moved_from.map(|from| format!("moved from {}", day(from, today))),
    }
}

fn coming(desk: &Desk, one: &Coming<Uuid>) -> Entry {
    Entry {
        session: one.session,
        name: session_name(desk, one.session),
        place: place_name(desk, one.place),
        state: "to come",
        class: "ahead",
        moved: one.instead_of.map(|from| format!("moved from {}", day(from, desk.who.today))),
    }
}
