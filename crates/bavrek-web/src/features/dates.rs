//! How days and moments are written: in one way everywhere, in words that are read alike in every country.

use chrono::{DateTime, NaiveDate, Utc};
use chrono_tz::Tz;

/// A day as people say it near today.
pub(super) fn day(date: NaiveDate, today: NaiveDate) -> String {
    match (date - today).num_days() {
        0 => "today".into(),
        1 => "tomorrow".into(),
        -1 => "yesterday".into(),
        -200..=200 => date.format("%a %-d %b").to_string(),
        _ => date.format("%-d %b %Y").to_string(),
    }
}

/// A day as it stands where it is read on another day: on paper, in a letter, in a record.
pub(super) fn written(day: NaiveDate) -> String {
    day.format("%a %-d %b %Y").to_string()
}

/// A moment in a time zone: `Tue 10 Mar, 13:00`.
pub(super) fn moment(at: DateTime<Utc>, zone: &str, today: NaiveDate) -> String {
    let local = at.with_timezone(&zone.parse().unwrap_or(Tz::UTC));
    format!("{}, {}", day(local.date_naive(), today), local.format("%H:%M"))
}

/// A moment by the clock of the world: `Tue 10 Mar, 12:00 UTC`.
pub(super) fn moment_utc(at: DateTime<Utc>, today: NaiveDate) -> String {
    format!("{} UTC", moment(at, "UTC", today))
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    #[rstest]
    #[case("2026-03-10", "today")]
    #[case("2026-03-11", "tomorrow")]
    #[case("2026-03-09", "yesterday")]
    #[case("2026-03-12", "Thu 12 Mar")]
    #[case("2026-01-01", "Thu 1 Jan")]
    #[case("2025-03-10", "10 Mar 2025")]
    fn a_day_is_said_as_near_as_it_is(#[case] date: &str, #[case] said: &str) {
        assert_eq!(day(date.parse().unwrap(), "2026-03-10".parse().unwrap()), said);
    }

    #[test]
    fn a_moment_is_told_by_the_clock_on_the_wall() {
        let (at, today) = ("2026-03-10T23:30:00Z".parse().unwrap(), "2026-03-10".parse().unwrap());
        assert_eq!(moment(at, "Europe/Paris", today), "tomorrow, 00:30");
        assert_eq!(moment(at, "nowhere", today), "today, 23:30");
        assert_eq!(moment_utc(at, today), "today, 23:30 UTC");
        assert_eq!(written(today), "Tue 10 Mar 2026");
    }
}
