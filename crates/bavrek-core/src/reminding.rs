//! When a client is reminded of a workout by a letter.

use chrono::{Days, NaiveDate, NaiveDateTime, NaiveTime};

use crate::anatomy::vocabulary;

vocabulary!(
    /// When a letter before a workout is wanted.
    Reminded {
        Never => "never", "never";
        EveningBefore => "evening_before", "the evening before";
        SameMorning => "same_morning", "in the morning of the day";
    }
);

/// Hours of the client's day in which a reminder goes out, of the evening before and of the same morning: one that is later helps
/// nobody any more. Assumed.
const EVENING: [u32; 2] = [18, 22];
const MORNING: [u32; 2] = [6, 11];

impl Reminded {
    /// The day of whose workouts is reminded at a moment of the client's own day; none where it is not the time.
    pub fn of_day(self, local: NaiveDateTime) -> Option<NaiveDate> {
        let within = |[from, until]: [u32; 2]| {
            let hour = |h| NaiveTime::from_hms_opt(h, 0, 0).unwrap_or_default();
            (hour(from)..hour(until)).contains(&local.time())
        };
        match self {
            Self::EveningBefore if within(EVENING) => local.date().checked_add_days(Days::new(1)),
            Self::SameMorning if within(MORNING) => Some(local.date()),
            _ => None,
        }
    }
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    #[rstest]
    #[case("2026-03-02T17:59:59", None, None)]
    #[case("2026-03-02T18:00:00", Some("2026-03-03"), None)]
    #[case("2026-12-31T21:59:59", Some("2027-01-01"), None)]
    #[case("2026-03-02T22:00:00", None, None)]
    #[case("2026-03-02T05:59:59", None, None)]
    #[case("2026-03-02T06:00:00", None, Some("2026-03-02"))]
    #[case("2026-03-02T10:59:59", None, Some("2026-03-02"))]
    #[case("2026-03-02T11:00:00", None, None)]
    fn a_reminder_has_its_hours(#[case] local: &str, #[case] evening: Option<&str>, #[case] morning: Option<&str>) {
        let local: NaiveDateTime = local.parse().unwrap();
        let day = |text: Option<&str>| text.map(|t| t.parse().unwrap());
        assert_eq!(Reminded::EveningBefore.of_day(local), day(evening));
        assert_eq!(Reminded::SameMorning.of_day(local), day(morning));
        assert_eq!(Reminded::Never.of_day(local), None);
    }
}
