//! Figures as people write them: lists, dumbbells in a line, body mass and height in any unit.

use bavrek_core::kit::{KitItem, line};
use bavrek_core::measures::{body_mass, doubt_height, doubt_mass, height};
use bavrek_core::quantity::numbers;
use bavrek_core::units::{Kilograms, MassUnit, Metres};
use proptest::prelude::*;
use rstest::rstest;

#[rstest]
#[case("5, 8, 12 kg pairs and a single 20", "dumbbells 5, 8, 12 kg pairs, 20 kg single")]
#[case("5,8,12 kg pairs", "dumbbells 5, 8, 12 kg pairs")]
#[case("pairs of 5, 8 and 12", "dumbbells 5, 8, 12 kg pairs")]
#[case("a pair of 12.5 kg", "dumbbells 12.5 kg pairs")]
#[case("12,5 kg pair", "dumbbells 12.5 kg pairs")]
#[case("12.5 kg pair", "dumbbells 12.5 kg pairs")]
#[case("2x8kg, 1x20", "dumbbells 8 kg pairs, 20 kg single")]
#[case("2 × 8 kg", "?")]
#[case("a single 20 and pairs of 8, 5 kg", "dumbbells 5, 8 kg pairs, 20 kg single")]
#[case("10 lb pair and 25 lb single", "dumbbells 10 lb pairs, 25 lb single")]
#[case("10, 15 pairs in lb", "dumbbells 10, 15 lb pairs")]
#[case("5 kg pair, 20 lb single", "dumbbells 5 kg pairs + dumbbells 20 lb single")]
#[case("5, 8 kg pairs and a single 20, 15 lb pair", "dumbbells 5, 8 kg pairs, 20 kg single + dumbbells 15 lb pairs")]
#[case("5 kg pair, 10, 15 pairs in lb", "dumbbells 5 kg pairs + dumbbells 10, 15 lb pairs")]
#[case("singles 4 6; pair 10", "dumbbells 10 kg pairs, 4, 6 kg single")]
#[case("2,5; 5; 7,5 kg pairs", "dumbbells 2.5, 5, 7.5 kg pairs")]
#[case("dumbbells: 3, 5 & 8 kg in pairs", "dumbbells 3, 5, 8 kg pairs")]
#[case("pairs of 4, 6, 10 kg, a 9 kg single", "dumbbells 4, 6, 10 kg pairs, 9 kg single")]
#[case("pairs of 4, 6, 10 kg, 9 kg single", "dumbbells 4, 6, 10 kg pairs, 9 kg single")]
#[case("pairs of 4 and 6 kg, one 9 kg", "dumbbells 4, 6 kg pairs, 9 kg single")]
#[case("a 9 kg single, pairs of 4, 6, 10 kg", "dumbbells 4, 6, 10 kg pairs, 9 kg single")]
#[case("a 9 single and a 12 single, 4, 6 kg pairs", "dumbbells 4, 6 kg pairs, 9, 12 kg single")]
fn a_line_of_dumbbells_is_understood(#[case] text: &str, #[case] expected: &str) {
    match line::dumbbells(text, MassUnit::Kg) {
        Ok(items) => {
            let said: Vec<_> = items.iter().map(KitItem::text).collect();
            assert_eq!(said.join(" + "), expected, "{text}");
        }
        Err(error) => assert_eq!(expected, "?", "{text}: {error}"),
    }
}

#[test]
fn the_clients_unit_stands_where_none_is_said() {
    let items = line::dumbbells("pairs of 10, 15", MassUnit::Lb).unwrap();
    assert_eq!(items[0].text(), "dumbbells 10, 15 lb pairs");
}

#[rstest]
#[case("", "name the weights")]
#[case("none", "\"none\" is not understood")]
#[case("5 stone pair", "\"stone\" is not understood")]
#[case("5, 8 kg", "say whether 5 comes in pairs or single")]
#[case("pairs of 4, 6, 9, 11 kg singles", "could mean two things")]
#[case("pairs of 4, 6 kg, a 9 kg", "say whether 9 comes in pairs or single")]
#[case("0 kg pair", "between 0.25 and 100 kg, not 0")]
#[case("-5 kg pair", "between 0.25 and 100 kg, not -5")]
#[case("10,000 kg single", "between 0.25 and 100 kg, not 10000")]
#[case("10000 pairs of 5 kg", "between 0.25 and 100 kg, not 10000")]
#[case("300 lb single", "between 0.25 and 100 kg")]
#[case("3x8 kg", "3 of the same")]
#[case("💪 pair", "is not understood")]
#[case("5.5.5 kg pair", "\"5.5.5\" is not a number")]
fn a_line_that_cannot_be_used_says_why(#[case] text: &str, #[case] expected: &str) {
    let error = line::dumbbells(text, MassUnit::Kg).unwrap_err();
    assert_eq!(error.path, "line");
    assert!(error.message.contains(expected), "{text}: {}", error.message);
}

#[test]
fn a_line_of_ten_thousand_is_refused_and_not_worked_through() {
    let many = "5 ".repeat(10_000) + "kg pairs";
    assert!(line::dumbbells(&many, MassUnit::Kg).unwrap_err().message.contains("at most 500 characters"));
    let sixty_one = "5 ".repeat(61) + "kg pairs";
    assert!(line::dumbbells(&sixty_one, MassUnit::Kg).unwrap_err().message.contains("60 are the most"));
}

#[rstest]
#[case("5, 8, 12.5", &[5.0, 8.0, 12.5])]
#[case("12,5", &[12.5])]
#[case("12.5", &[12.5])]
#[case("2,5", &[2.5])]
#[case("5,8", &[5.0, 8.0])]
#[case("0,1; 1,2; 2,0", &[0.1, 1.2, 2.0])]
#[case("10,000", &[10000.0])]
#[case("0, 30, 45", &[0.0, 30.0, 45.0])]
#[case("-20,0,30", &[-20.0, 0.0, 30.0])]
fn commas_separate_or_are_decimal(#[case] text: &str, #[case] expected: &[f64]) {
    assert_eq!(numbers(text).unwrap(), expected, "{text}");
}

proptest! {
    /// Whatever is typed, the answer is items that can be used or a reason; nothing panics.
    #[test]
    fn any_line_is_answered(text in "[0-9a-z ,.;x×-]{0,60}|\\PC{0,40}") {
        if let Ok(items) = line::dumbbells(&text, MassUnit::Kg) {
            prop_assert!(items.iter().all(|i| i.validate().is_ok()));
        }
        let _ = (body_mass(&text, MassUnit::Kg), height(&text));
    }

    /// Pairs and singles written out are read back.
    #[test]
    fn what_is_written_is_read(pairs in prop::collection::vec(1u32..90, 1..8), single in 1u32..90) {
        let list = pairs.iter().map(ToString::to_string).collect::<Vec<_>>().join(", ");
        let items = line::dumbbells(&format!("{list} kg pairs and a single {single}"), MassUnit::Lb).unwrap();
        let KitItem::Dumbbells(d) = &items[0] else { panic!() };
        let mut sorted: Vec<f64> = pairs.iter().map(|p| f64::from(*p)).collect();
        sorted.sort_by(f64::total_cmp);
        prop_assert_eq!(&d.pairs, &sorted);
        prop_assert_eq!(&d.singles, &vec![f64::from(single)]);
    }
}

#[rstest]
#[case("71", MassUnit::Kg, 71.0)]
#[case("71,5", MassUnit::Kg, 71.5)]
#[case("71.5 kg", MassUnit::Lb, 71.5)]
#[case("157 lb", MassUnit::Kg, 71.214)]
#[case("157", MassUnit::Lb, 71.214)]
fn a_body_mass_is_read(#[case] text: &str, #[case] usual: MassUnit, #[case] kg: f64) {
    assert!((body_mass(text, usual).unwrap().value() - kg).abs() < 0.001, "{text}");
}

#[rstest]
#[case("", "is needed")]
#[case("heavy", "\"heavy\" is not a number")]
#[case("3 stone", "3 stone is 19.1 kg: must be between 30 and 250 kg")]
#[case("0 kg", "between 30 and 250 kg, not 0")]
#[case("320", "320 lb would be 145.1 kg")]
#[case("NaN", "is not a number")]
#[case("50 lb", "50 lb is 22.7 kg")]
fn a_body_mass_that_cannot_be_used_says_why(#[case] text: &str, #[case] expected: &str) {
    let error = body_mass(text, MassUnit::Kg).unwrap_err();
    assert!(error.path == "body_mass" && error.message.contains(expected), "{text}: {}", error.message);
}

#[rstest]
#[case("1.68", 1.68)]
#[case("1,68 m", 1.68)]
#[case("168 cm", 1.68)]
#[case("168", 1.68)]
#[case("66 in", 1.6764)]
#[case("5'6\"", 1.6764)]
#[case("5 ft 6 in", 1.6764)]
#[case("6’", 1.8288)]
fn a_height_is_read(#[case] text: &str, #[case] metres: f64) {
    assert!((height(text).unwrap().value() - metres).abs() < 1e-9, "{text}");
}

#[rstest]
#[case("66", "66 in would be 1.68 m")]
#[case("5.5", "5.5 ft would be 1.68 m")]
#[case("5'14\"", "is not understood")]
#[case("3 m", "between 1.2 and 2.3 m, not 3")]
#[case("", "is needed")]
fn a_height_that_cannot_be_used_says_why(#[case] text: &str, #[case] expected: &str) {
    let error = height(text).unwrap_err();
    assert!(error.path == "height" && error.message.contains(expected), "{text}: {}", error.message);
}

#[rstest]
#[case(71.5, Some(71.0), None)]
#[case(157.0, Some(71.0), Some("157 lb would be 71.2 kg"))]
#[case(32.2, Some(71.0), Some("is it 71 kg, that is 157 lb?"))]
#[case(90.0, Some(71.0), Some("the last was 71 kg"))]
#[case(71.0, None, None)]
#[case(157.0, None, Some("unusual for 1.68 m"))]
#[case(32.0, None, Some("unusual for 1.68 m"))]
fn a_mass_in_another_unit_is_doubted(#[case] kg: f64, #[case] last: Option<f64>, #[case] expected: Option<&str>) {
    let doubt = doubt_mass(Kilograms(kg), Some(Metres(1.68)), last.map(Kilograms));
    match expected {
        None => assert_eq!(doubt, None),
        Some(text) => assert!(doubt.as_ref().is_some_and(|d| d.contains(text)), "{doubt:?}"),
    }
}

#[test]
fn a_height_that_jumps_is_doubted() {
    assert_eq!(doubt_height(Metres(1.69), Metres(1.68)), None);
    assert!(doubt_height(Metres(1.86), Metres(1.68)).unwrap().contains("the last, 1.68 m"));
}
