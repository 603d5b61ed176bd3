//! Workouts as a calendar (RFC 5545): a file or a feed that a calendar follows.

use chrono::{DateTime, Duration, NaiveDate, NaiveTime, TimeZone, Utc};
use chrono_tz::Tz;
use icalendar::{Alarm, Calendar, Component, Event, EventLike, EventStatus, Property};
use uuid::Uuid;

/// A workout as a calendar shows it.
#[derive(Debug, Clone, PartialEq)]
pub struct Entry {
    /// What stays the same however it is moved.
    pub id: Uuid,
    /// How often it was changed.
    pub sequence: u32,
    /// When it was changed last.
    pub changed_at: DateTime<Utc>,
    /// Its day.
    pub on: NaiveDate,
    /// How long it takes, min.
    pub minutes: u16,
    /// What it is called.
    pub title: String,
    /// Where it is.
    pub place: String,
    /// What is done, line by line.
    pub lines: Vec<String>,
    /// Whether it does not take place.
    pub off: bool,
    /// Where its day is.
    pub zone: Tz,
}

/// At what time of day workouts begin, and how long before an alarm is given; a whole day without a time.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Clocked {
    /// When workouts begin; none where only the day is planned.
    pub at: Option<NaiveTime>,
    /// Minutes before it begins at which an alarm is given; none gives none.
    pub alarm: Option<u16>,
}

/// A calendar by its name.
pub fn calendar(name: &str, entries: &[Entry], clocked: Clocked) -> String {
    let mut calendar = Calendar::empty();
    for (property, value) in [("VERSION", "2.0"), ("PRODID", "-//Bavrek//Workouts//EN"), ("CALSCALE", "GREGORIAN")] {
        calendar.append_property((property, value));
    }
    calendar.name(name);
    // Followed, it is asked for again every hour.
    calendar.append_property(Property::new("REFRESH-INTERVAL", "PT1H").add_parameter("VALUE", "DURATION").done());
    calendar.append_property(("X-PUBLISHED-TTL", "PT1H"));
    for entry in entries {
        calendar.push(event(entry, clocked));
    }
    calendar.done().to_string()
}

fn event(entry: &Entry, clocked: Clocked) -> Event {
    let mut event = Event::new();
    event
        .uid(&format!("{}@bavrek", entry.id))
        .sequence(entry.sequence)
        .timestamp(entry.changed_at)
        .summary(&entry.title)
        .status(if entry.off { EventStatus::Cancelled } else { EventStatus::Confirmed });
    if !entry.place.is_empty() {
        event.location(&entry.place);
    }
    if !entry.lines.is_empty() {
        event.description(&entry.lines.join("\n"));
    }
    match clocked.at.and_then(|at| begins(entry.on, at, entry.zone)) {
        Some(begins) => {
            event.starts(begins).ends(begins + Duration::minutes(i64::from(entry.minutes)));
        }
        None => {
            event.all_day(entry.on);
        }
    }
    if let (Some(minutes), false) = (clocked.alarm, entry.off) {
        event.alarm(Alarm::display(&entry.title, -Duration::minutes(i64::from(minutes))));
    }
    event.done()
}

/// The moment of a time of day. Where the clock is put forward over it, it begins when the clock goes on.
fn begins(on: NaiveDate, at: NaiveTime, zone: Tz) -> Option<DateTime<Utc>> {
    let local = on.and_time(at);
    let found = zone.from_local_datetime(&local).earliest();
    found.or_else(|| zone.from_local_datetime(&(local + Duration::hours(1))).earliest()).map(|t| t.to_utc())
}
