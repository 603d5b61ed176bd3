//! A calendar, read back by another reader than the one that wrote it.

use std::collections::BTreeMap;

use bavrek_formats::calendar::{Clocked, Entry, calendar};
use chrono::{DateTime, NaiveDate, NaiveTime};
use rstest::rstest;
use uuid::Uuid;

const ID: Uuid = Uuid::from_u128(7);

fn entry(on: &str) -> Entry {
    Entry {
        id: ID,
        sequence: 3,
        changed_at: DateTime::from_timestamp(1_773_144_000, 0).unwrap(),
        on: on.parse::<NaiveDate>().unwrap(),
        minutes: 45,
        title: "Push; pull, legs\\none".into(),
        place: "Garage, behind".into(),
        lines: vec!["Row: 3 x 8\u{2013}12".into(), "A very long line ".repeat(12).trim_end().into()],
        off: false,
        zone: chrono_tz::Europe::Berlin,
    }
}

fn clocked(at: Option<&str>, alarm: Option<u16>) -> Clocked {
    Clocked { at: at.map(|t| NaiveTime::parse_from_str(t, "%H:%M").unwrap()), alarm }
}

/// Properties of the only event, with their parameters; those of its alarm begin with `alarm `.
fn read(text: &str) -> BTreeMap<String, String> {
    let mut calendars: Vec<_> = ical::IcalParser::new(text.as_bytes()).map(Result::unwrap).collect();
    assert_eq!(calendars.len(), 1);
    let mut events = calendars.remove(0).events;
    assert_eq!(events.len(), 1);
    let event = events.remove(0);
    let told = |p: &ical::property::Property| {
        let parameters: Vec<String> =
            p.params.iter().flatten().map(|(name, values)| format!(";{name}={}", values.join(","))).collect();
        (format!("{}{}", p.name, parameters.concat()), p.value.clone().unwrap_or_default())
    };
    let alarm = event.alarms.iter().flat_map(|a| &a.properties).map(|p| {
        let (name, value) = told(p);
        (format!("alarm {name}"), value)
    });
    alarm.chain(event.properties.iter().map(told)).collect()
}

#[test]
fn a_planned_day_is_a_whole_day_and_reads_back() {
    let text = calendar("Odalys", &[entry("2026-03-29")], clocked(None, None));
    assert!(text.lines().all(|line| line.len() <= 75), "lines are folded");
    assert!(text.contains("\r\n") && !text.replace("\r\n", "").contains('\n'), "lines end as the standard says");
    for once in ["VERSION:2.0\r\n", "PRODID:-//Bavrek//Workouts//EN\r\n", "CALSCALE:GREGORIAN\r\n"] {
        assert_eq!(text.matches(once).count(), 1, "{once}");
    }
    assert_eq!(text.matches("PRODID").count(), 1);
    let event = read(&text);
    assert_eq!(event["UID"], format!("{ID}@bavrek"));
    assert_eq!((&*event["SEQUENCE"], &*event["STATUS"]), ("3", "CONFIRMED"));
    assert_eq!(event["DTSTART;VALUE=DATE"], "20260329");
    assert_eq!(event["SUMMARY"], "Push\\; pull\\, legs\\\\none");
    assert_eq!(event["LOCATION"], "Garage\\, behind");
    assert!(event["DESCRIPTION"].starts_with("Row: 3 x 8\u{2013}12\\nA very long line"), "{}", event["DESCRIPTION"]);
    assert!(event.keys().all(|name| !name.starts_with("alarm")));
}

/// The time of day is the client's; where the clock is put forward over it, the workout begins when it goes on.
#[rstest]
#[case::winter("2026-03-28", "18:30", "20260328T173000Z", "20260328T181500Z")]
#[case::summer("2026-03-30", "18:30", "20260330T163000Z", "20260330T171500Z")]
#[case::no_such_time("2026-03-29", "02:30", "20260329T013000Z", "20260329T021500Z")]
#[case::twice("2026-10-25", "02:30", "20261025T003000Z", "20261025T011500Z")]
#[case::before_midnight("2026-03-28", "23:50", "20260328T225000Z", "20260328T233500Z")]
fn a_time_of_day_is_the_clients(#[case] on: &str, #[case] at: &str, #[case] from: &str, #[case] until: &str) {
    let event = read(&calendar("x", &[entry(on)], clocked(Some(at), Some(30))));
    assert_eq!((&*event["DTSTART"], &*event["DTEND"]), (from, until));
    assert_eq!(event["alarm TRIGGER"], "-PT1800S");
}

#[test]
fn what_does_not_take_place_is_cancelled_without_an_alarm() {
    let off = Entry { off: true, sequence: 4, ..entry("2026-03-28") };
    let event = read(&calendar("x", &[off], clocked(Some("18:00"), Some(30))));
    assert_eq!((&*event["STATUS"], &*event["SEQUENCE"]), ("CANCELLED", "4"));
    assert!(event.keys().all(|name| !name.starts_with("alarm")));
}
