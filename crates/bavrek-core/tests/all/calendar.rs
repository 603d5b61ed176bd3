//! Plans over weeks: what is due when and where, lighter weeks, days off, trips, and what was missed.

use bavrek_core::calendar::{Due, Every, Missed, Phase, Plan, Planned, Stretch, Trip, Turn, light_dose};
use bavrek_core::dose::notation;
use bavrek_core::method::Method;
use chrono::{Days, NaiveDate};
use proptest::prelude::*;
use rstest::rstest;

fn day(text: &str) -> NaiveDate {
    text.parse().unwrap()
}

/// From Monday 7 December 2026: session 1 on Mondays and Thursdays at place 10, session 2 on Fridays there.
fn plan() -> Plan<u8, u8> {
    let due = |session, weekday| Due { session, weekday, place: 10, every: Every::Week };
    Plan {
        starts_on: day("2026-12-07"),
        weeks: 6,
        due: vec![due(1, 1), due(1, 4), due(2, 5)],
        phases: Vec::new(),
        light_every: None,
        light_weeks: Vec::new(),
        off: Vec::new(),
        trips: Vec::new(),
        missed: Missed::Move,
    }
}

/// `Mon 1@10` and so on: what a week holds, by day of the month.
fn told(plan: &Plan<u8, u8>, week: u8) -> String {
    let one = |c: &bavrek_core::calendar::Coming<u8>| {
        let from = c.instead_of.map_or_else(String::new, |d| format!("<{}", d.format("%-d")));
        format!("{}{from}:{}@{}", c.on.format("%-d"), c.session, c.place)
    };
    let ahead = plan.week(week);
    let mut words: Vec<String> = ahead.coming.iter().map(one).collect();
    words.extend(ahead.left_out.iter().map(|(s, d)| format!("-{s}@{}", d.format("%-d"))));
    words.join(" ")
}

fn off(from: &str, until: &str) -> Stretch {
    Stretch { from: day(from), until: day(until) }
}

#[rstest]
#[case::plain(&[], Missed::Move, "7:1@10 10:1@10 11:2@10")]
#[case::a_day_off_moves_later(&[off("2026-12-07", "2026-12-07")], Missed::Move, "8<7:1@10 10:1@10 11:2@10")]
#[case::past_what_is_taken(&[off("2026-12-10", "2026-12-10")], Missed::Move, "7:1@10 11:2@10 12<10:1@10")]
#[case::earlier_where_nothing_later_is_free(&[off("2026-12-11", "2026-12-13")], Missed::Move, "7:1@10 9<11:2@10 10:1@10")]
#[case::a_week_off(&[off("2026-12-07", "2026-12-13")], Missed::Move, "-1@7 -1@10 -2@11")]
#[case::left_out_by_rule(&[off("2026-12-10", "2026-12-10")], Missed::Drop, "7:1@10 11:2@10 -1@10")]
fn days_off_move_or_leave_out(#[case] off: &[Stretch], #[case] missed: Missed, #[case] week: &str) {
    assert_eq!(told(&Plan { off: off.to_vec(), missed, ..plan() }, 1), week);
}

#[test]
fn a_trip_changes_the_place_of_its_days_alone() {
    let trips = vec![Trip { days: off("2026-12-17", "2026-12-21"), place: 77 }];
    let plan = Plan { trips, ..plan() };
    assert_eq!(told(&plan, 1), "7:1@10 10:1@10 11:2@10");
    assert_eq!(told(&plan, 2), "14:1@10 17:1@77 18:2@77");
    assert_eq!(told(&plan, 3), "21:1@77 24:1@10 25:2@10");
}

#[test]
fn weeks_alternate_by_place_and_by_turn() {
    let mut plan = plan();
    plan.due = vec![
        Due { session: 1, weekday: 1, place: 10, every: Every::Odd },
        Due { session: 1, weekday: 1, place: 20, every: Every::Even },
        Due { session: 1, weekday: 4, place: 30, every: Every::Week },
    ];
    plan.validate().unwrap();
    assert_eq!([1, 2, 3].map(|w| told(&plan, w)), ["7:1@10 10:1@30", "14:1@20 17:1@30", "21:1@10 24:1@30"]);
    plan.light_every = Some(4);
    plan.light_weeks = vec![5];
    let turns = [1, 2, 3, 4, 5, 6].map(|w| plan.week(w).coming[0].turn);
    assert_eq!(turns, [Turn::Usual, Turn::Other, Turn::Usual, Turn::Other, Turn::Usual, Turn::Other]);
    assert_eq!([1, 2, 3, 4, 5, 6].map(|w| plan.week(w).light), [false, false, false, true, true, false]);
}

#[test]
fn a_week_lies_in_the_latest_phase_that_has_begun() {
    let phase = |from_week, method| Phase { from_week, method, follows: None };
    let phases = vec![phase(2, Method::SlowTempo), phase(5, Method::HeavyCompound)];
    let plan = Plan { phases, ..plan() };
    let methods: Vec<Option<Method>> = (1..=6).map(|w| plan.phase(w).map(|p| p.method)).collect();
    let (slow, heavy) = (Some(Method::SlowTempo), Some(Method::HeavyCompound));
    assert_eq!(methods, [None, slow, slow, slow, heavy, heavy]);
    assert_eq!(plan.ends_on(), day("2027-01-17"));
    assert_eq!(
        [day("2026-12-06"), day("2026-12-20"), day("2027-01-18")].map(|d| plan.week_of(d)),
        [None, Some(2), None]
    );
}

/// Two of week 1 were not done: by the day on which that is noticed.
#[rstest]
#[case::the_day_after("2026-12-08", Missed::Move, &[(1, "2026-12-08")], &[])]
#[case::on_a_day_that_has_its_own("2026-12-10", Missed::Move, &[(1, "2026-12-12")], &[])]
#[case::two_at_the_end("2026-12-12", Missed::Move, &[(1, "2026-12-12"), (2, "2026-12-13")], &[3])]
#[case::the_week_is_over("2026-12-14", Missed::Move, &[], &[1, 2, 3])]
#[case::left_out_by_rule("2026-12-09", Missed::Drop, &[], &[1])]
fn what_was_missed_moves_within_its_week_or_is_left_out(
    #[case] today: &str,
    #[case] missed: Missed,
    #[case] moved: &[(u8, &str)],
    #[case] gone: &[u8],
) {
    let plan = Plan { missed, ..plan() };
    let planned = |key, on: &str| Planned { key, on: day(on), open: true };
    let week = [planned(1, "2026-12-07"), planned(2, "2026-12-10"), planned(3, "2026-12-11")];
    let (to, out) = plan.settle(&week, day(today));
    let wanted: Vec<(u8, NaiveDate)> = moved.iter().map(|(k, d)| (*k, day(d))).collect();
    assert_eq!((to, out), (wanted, gone.to_vec()));
}

#[test]
fn what_is_done_or_still_to_come_is_left_alone() {
    let done = Planned { key: 1, on: day("2026-12-07"), open: false };
    let ahead = Planned { key: 2, on: day("2026-12-10"), open: true };
    assert_eq!(plan().settle(&[done, ahead], day("2026-12-10")), (vec![], vec![]));
}

#[rstest]
#[case::thirty_weeks(Plan { weeks: 30, ..plan() }, "weeks", "4 to 12")]
#[case::a_tuesday(Plan { starts_on: day("2026-12-08"), ..plan() }, "starts_on", "Monday")]
#[case::nothing_due(Plan { due: vec![], ..plan() }, "due", "1 to 14")]
#[case::phase_too_late(Plan { phases: vec![Phase { from_week: 7, method: Method::SlowTempo, follows: None }], ..plan() }, "phases[0].from_week", "1 to 6")]
#[case::light_too_often(Plan { light_every: Some(1), ..plan() }, "light_every", "3 to 8")]
#[case::light_week_beyond(Plan { light_weeks: vec![9], ..plan() }, "light_weeks", "1 to 6")]
#[case::backwards(Plan { off: vec![off("2026-12-10", "2026-12-08")], ..plan() }, "off", "ends before it begins")]
#[case::two_trips(Plan { trips: vec![Trip { days: off("2026-12-10", "2026-12-12"), place: 1 }, Trip { days: off("2026-12-12", "2026-12-13"), place: 2 }], ..plan() }, "trips", "over each other")]
fn what_makes_no_plan_names_its_field(#[case] plan: Plan<u8, u8>, #[case] path: &str, #[case] says: &str) {
    let refused = plan.validate().unwrap_err();
    assert_eq!(refused.path, path);
    assert!(refused.message.contains(says), "{}", refused.message);
}

#[rstest]
#[case::half_the_sets(
    "4 x 8-10 @ 3-1-1-0, 1 in reserve, last to failure, rest 90 s",
    "2 × 8–10 @ 3-1-1-0, 3 in reserve, rest 90 s"
)]
#[case::of_three_two("3 x 12 @ 2-0-1-0, 2 in reserve, rest 60 s", "2 × 12 @ 2-0-1-0, 4 in reserve, rest 60 s")]
#[case::one_stays("1 x 5 @ 2-0-1-0, 4 in reserve, rest 60 s", "1 × 5 @ 2-0-1-0, 5 in reserve, rest 60 s")]
fn a_lighter_week_is_half_of_it_and_easier(#[case] dose: &str, #[case] light: &str) {
    let dose = notation::read(dose).unwrap().filled(notation::Usual {
        tempo: bavrek_core::dose::Tempo::USUAL,
        rir: 2,
        rest_s: 90,
    });
    assert_eq!(light_dose(&dose).text(), light);
}

proptest! {
    /// Whatever is off and wherever one is: nothing is due twice on a day, nothing on a day off, nothing outside of its week, and
    /// each session that is due either comes or is left out.
    #[test]
    fn a_week_keeps_its_sessions_within_itself(
        weekdays in prop::collection::btree_set(1_u8..=7, 1..=6),
        offs in prop::collection::vec((0_u64..42, 0_u64..9), 0..5),
        week in 1_u8..=6,
        rule in prop::bool::ANY,
    ) {
        let due: Vec<Due<u8>> =
            weekdays.iter().map(|w| Due { session: *w, weekday: *w, place: 10, every: Every::Week }).collect();
        let stretch = |(from, long): &(u64, u64)| {
            let from = plan().starts_on + Days::new(*from);
            Stretch { from, until: from + Days::new(*long) }
        };
        let off: Vec<Stretch> = offs.iter().map(stretch).collect();
        let missed = if rule { Missed::Move } else { Missed::Drop };
        let plan = Plan { due: due.clone(), off: off.clone(), missed, ..plan() };
        let ahead = plan.week(week);
        prop_assert_eq!(ahead.coming.len() + ahead.left_out.len(), due.len());
        for (i, coming) in ahead.coming.iter().enumerate() {
            prop_assert!(ahead.coming[..i].iter().all(|other| other.on < coming.on));
            prop_assert!(off.iter().all(|s| !s.holds(coming.on)));
            prop_assert_eq!(plan.week_of(coming.on), Some(week));
        }
    }
}
