//! Logs as tables from elsewhere: every way to write a day, a number and a head, and what is refused with its line and column.

use bavrek_core::person::Side;
use bavrek_core::units::MassUnit;
use bavrek_formats::log_table::{LogTable, MOST_ROWS, read};
use chrono::NaiveDate;
use rstest::rstest;

fn day(text: &str) -> NaiveDate {
    text.parse().unwrap()
}

/// The refusals as line, column and what they say.
fn refused(table: &LogTable) -> Vec<(u64, &str, &str)> {
    table.refused.iter().map(|r| (r.line, r.column.as_str(), r.why.as_str())).collect()
}

#[rstest]
#[case::iso("2026-04-03", "2026-04-03")]
#[case::moment("2026-04-03T18:30:00Z", "2026-04-03")]
#[case::slashed("2026/04/03", "2026-04-03")]
#[case::compact("20260403", "2026-04-03")]
#[case::points("3.4.2026", "2026-04-03")]
#[case::short_year("03.04.26", "2026-04-03")]
#[case::words("3 Apr 2026", "2026-04-03")]
#[case::words_first("April 3, 2026", "2026-04-03")]
#[case::day_over_twelve("25/4/2026", "2026-04-25")]
#[case::month_first("4/25/2026", "2026-04-25")]
#[case::both_alike("4/4/2026", "2026-04-04")]
fn a_day_is_read_in_every_usual_way(#[case] written: &str, #[case] expected: &str) {
    let table = read(&format!("date;exercise;reps\n\"{written}\";Row;8\n"));
    assert_eq!(refused(&table), []);
    assert_eq!(table.sets[0].day, day(expected));
}

/// Of two numbers alone nobody knows which is the month; the rest of the column tells.
#[rstest]
#[case::nothing_tells(&["3/4/2026"], &[])]
#[case::days_first(&["3/4/2026", "25/4/2026"], &["2026-04-03", "2026-04-25"])]
#[case::months_first(&["3/4/2026", "4/25/2026"], &["2026-03-04", "2026-04-25"])]
#[case::they_contradict(&["3/4/2026", "25/4/2026", "4/25/2026"], &["2026-04-25", "2026-04-25"])]
fn a_column_tells_which_is_the_month(#[case] written: &[&str], #[case] expected: &[&str]) {
    let rows = written.join(",Row,8\n") + ",Row,8\n";
    let table = read(&format!("day,movement,reps\n{rows}"));
    assert_eq!(
        table.sets.iter().map(|s| s.day).collect::<Vec<_>>(),
        expected.iter().map(|d| day(d)).collect::<Vec<_>>()
    );
    let doubtful = refused(&table);
    assert_eq!(doubtful.len(), written.len() - expected.len());
    for (line, column, why) in doubtful {
        assert_eq!((line, column), (2, "day"));
        assert!(why.contains("can be read in two ways: write it as 2026-04-03"), "{why}");
    }
}

#[rstest]
#[case::kilograms("load (kg)", "12.5", Some((12.5, MassUnit::Kg)))]
#[case::comma("Weight (kg)", "\"12,5\"", Some((12.5, MassUnit::Kg)))]
#[case::pounds("weight [lbs]", "25", Some((25.0, MassUnit::Lb)))]
#[case::bare("kg", "20", Some((20.0, MassUnit::Kg)))]
#[case::in_the_cell("weight", "45 lbs", Some((45.0, MassUnit::Lb)))]
#[case::the_cell_wins("load (kg)", "45lb", Some((45.0, MassUnit::Lb)))]
#[case::body("weight", "BW", None)]
#[case::nothing("weight", "", None)]
#[case::none("load (kg)", "0", None)]
fn a_load_is_read_with_its_unit(#[case] head: &str, #[case] cell: &str, #[case] expected: Option<(f64, MassUnit)>) {
    let table = read(&format!("day,movement,reps,{head}\n2026-04-03,Row,8,{cell}\n"));
    assert_eq!(refused(&table), []);
    assert_eq!(table.sets[0].load, expected);
}

#[rstest]
#[case("2026-13-01,Row,8,,", "day", "\"2026-13-01\" is no day")]
#[case(",Row,8,,", "day", "is no day")]
#[case("2026-04-03,,8,,", "movement", "is empty")]
#[case("2026-04-03,Row,8.5,,", "reps", "whole number from 0 to 100")]
#[case("2026-04-03,Row,1516,,", "reps", "whole number from 0 to 100")]
#[case("2026-04-03,Row,eight,,", "reps", "whole number from 0 to 100")]
#[case("2026-04-03,Row,,,", "reps", "neither repetitions nor seconds")]
#[case("2026-04-03,Row,8,1e9,", "load (kg)", "a load from 0 to 500 kg")]
#[case("2026-04-03,Row,8,-5,", "load (kg)", "a load from 0 to 500 kg")]
#[case("2026-04-03,Row,8,heavy,", "load (kg)", "a load from 0 to 500 kg")]
#[case("2026-04-03,Row,8,,up", "side", "left, right or both")]
fn what_cannot_be_read_says_where(#[case] row: &str, #[case] column: &str, #[case] why: &str) {
    let table =
        read(&format!("day,movement,reps,load (kg),side\n2026-04-01,Row,8,20,left\n{row}\n2026-04-05,Row,9,20,\n"));
    let found = refused(&table);
    assert_eq!((found.len(), found[0].0, found[0].1), (1, 3, column), "{found:?}");
    assert!(found[0].2.contains(why), "{found:?}");
    assert_eq!(
        table.sets.iter().map(|s| (s.line, s.reps, s.side)).collect::<Vec<_>>(),
        [(2, Some(8), Some(Side::Left)), (4, Some(9), None)]
    );
}

#[rstest]
#[case::empty("", "there is no column \"day\"")]
#[case::prose("Today I did some rows.\nIt went well.", "there is no column \"day\"")]
#[case::no_movement("day,reps\n2026-04-03,8", "there is no column \"movement\"")]
#[case::nothing_counted("day,movement\n2026-04-03,Row", "there is no column \"reps\"")]
#[case::other_encoding("day,movement,reps\n2026-04-03,Curl \u{fffd},8", "not in UTF-8")]
fn a_file_that_is_no_log_is_refused_as_a_whole(#[case] text: &str, #[case] why: &str) {
    let table = read(text);
    assert!(table.sets.is_empty());
    assert!(table.refused.iter().any(|r| r.why.contains(why)), "{:?}", table.refused);
}

#[test]
fn what_is_not_known_is_passed_over_and_said() {
    let table = read("\u{feff}Date\tExercise Name\tReps\tMood\tRIR\n2026-04-03\tRow\t8\tgood\t9\n\t\t\t\t\n");
    assert_eq!(refused(&table), []);
    assert_eq!(table.passed_over, ["Mood"]);
    assert_eq!(table.sets.iter().map(|s| (s.reps, s.rir)).collect::<Vec<_>>(), [(Some(8), Some(6))]);
}

#[rstest]
#[case("5+", Some(5))]
#[case("9", Some(6))]
#[case("", None)]
fn reserve_is_read_as_far_as_it_can_be_judged(#[case] cell: &str, #[case] rir: Option<u8>) {
    let table = read(&format!("day,movement,reps,RIR,effective load (kg)\n2026-04-03,Row,8,{cell},\"41,5\"\n"));
    assert_eq!(refused(&table), []);
    assert_eq!((table.sets[0].rir, table.sets[0].effective_kg), (rir, Some(41.5)));
}

/// A file that never ends is read to its bound, and that is said.
#[test]
fn a_long_file_is_read_to_its_bound() {
    let rows = "2026-04-03,Row,8\n".repeat(MOST_ROWS + 3);
    let table = read(&format!("day,movement,reps\n{rows}"));
    assert_eq!(table.sets.len(), MOST_ROWS);
    assert!(refused(&table)[0].2.contains("more than 5000 rows"));
}

/// A quote that is never closed swallows the rest, and breaks nothing.
#[test]
fn a_half_file_breaks_nothing() {
    let table = read("day,movement,reps\n2026-04-03,\"Row,8\n2026-04-04,Row,9\n");
    assert!(table.sets.is_empty());
    assert_eq!(table.refused.len(), 1);
}

#[rstest]
#[case("3/4/2026", &["2026-04-03", "2026-03-04"])]
#[case("3-4-2026", &["2026-04-03", "2026-03-04"])]
#[case("4/4/2026", &[])]
#[case("13/4/2026", &[])]
#[case("3.4.2026", &[])]
#[case("soon", &[])]
fn a_day_of_two_readings_is_told_as_both(#[case] text: &str, #[case] both: &[&str]) {
    let found: Vec<String> = bavrek_formats::log_table::both_days(text).iter().map(ToString::to_string).collect();
    assert_eq!(found, both);
    assert!(both.is_empty() || bavrek_formats::log_table::day(text).is_err());
}
