//! How days and moments are written: in one way everywhere, in words that are read alike in every country.

use chrono::{DateTime, NaiveDate, Utc};
use chrono_tz::Tz;

/// A day as people say it near today.
pub(super) fn day(date: NaiveDate, today: NaiveDate) -> String {
    match (date - today).num_days() {
        0 => "today".into(),
        1 => "tomorrow".into(),
        -1 => "yesterday".into(),
        _ => dated(date, today),
    }
}

/// A week by its Monday: the name of a week, which is a date also while that is yesterday.
pub(super) fn week_of(monday: NaiveDate, today: NaiveDate) -> String {
    dated(monday, today)
}

/// A date, with its year where it is far from today.
fn dated(date: NaiveDate, today: NaiveDate) -> String {
    let near = (date - today).num_days().abs() <= 200;
    date.format(if near { "%a %-d %b" } else { "%-d %b %Y" }).to_string()
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
    #[case("2026-03-10", "today", "Tue 10 Mar")]
    #[case("2026-03-11", "tomorrow", "Wed 11 Mar")]
    #[case("2026-03-09", "yesterday", "Mon 9 Mar")]
    #[case("2026-03-12", "Thu 12 Mar", "Thu 12 Mar")]
    #[case("2026-01-01", "Thu 1 Jan", "Thu 1 Jan")]
    #[case("2025-03-10", "10 Mar 2025", "10 Mar 2025")]
    fn a_day_is_said_as_near_as_it_is_and_a_week_by_its_date(
        #[case] date: &str,
        #[case] said: &str,
        #[case] week: &str,
    ) {
        let (date, today) = (date.parse().unwrap(), "2026-03-10".parse().unwrap());
        assert_eq!((day(date, today).as_str(), week_of(date, today).as_str()), (said, week));
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
