//! Tempo, stamped loads, kit and person: what is legal, and what a refusal says.

use bavrek_core::dose::{Prescription, Tempo};
use bavrek_core::kit::{KitItem, Place};
use bavrek_core::person::Person;
use bavrek_core::units::Kilograms;
use rstest::rstest;

#[rstest]
#[case("3-1-1-0", 5.0)]
#[case("2-0-X-0", 3.0)]
#[case("4-0-4-1", 9.0)]
#[case("2-0-1-0.5", 3.5)]
#[case("1.5-0-X-0", 2.5)]
fn a_tempo_reads_and_writes_itself(#[case] text: &str, #[case] seconds: f64) {
    let tempo: Tempo = text.parse().unwrap();
    assert_eq!(tempo.to_string(), text);
    assert_eq!(tempo.seconds().value(), seconds);
}

#[rstest]
#[case("")]
#[case("3-1-1")]
#[case("3-1-1-0-2")]
#[case("X-1-1-0")]
#[case("30-0-1-0")]
#[case("a-b-c-d")]
#[case("0-0-0-0")]
#[case("2-0-1.25-0")]
#[case("20.5-0-1-0")]
fn a_tempo_that_is_none(#[case] text: &str) {
    assert_eq!(text.parse::<Tempo>().unwrap_err().path, "tempo");
}

#[rstest]
#[case(8.473, 8.5)]
#[case(43.61, 44.0)]
#[case(0.0312, 0.031)]
#[case(0.0, 0.0)]
fn band_and_lever_loads_show_two_figures(#[case] kg: f64, #[case] shown: f64) {
    assert!((Kilograms(kg).two_figures().value() - shown).abs() < 1e-12);
}

fn place(item: &str) -> Result<Place, String> {
    serde_json::from_str(&format!(r#"{{"name":"flat","kit":[{item}]}}"#)).map_err(|e| e.to_string())
}

#[rstest]
#[case::no_dumbbells(r#"{"kind":"dumbbells","unit":"kg"}"#, "kit[0].pairs")]
#[case::zero_kilograms(r#"{"kind":"dumbbells","unit":"kg","pairs":[5,0]}"#, "kit[0].pairs[1]")]
#[case::bench_at_200(r#"{"kind":"bench","angles_deg":[0,200]}"#, "kit[0].angles_deg[1]")]
#[case::anchor_at_4_m(r#"{"kind":"anchor","heights_m":[4]}"#, "kit[0].heights_m[0]")]
#[case::band_without_force(r#"{"kind":"loop_band","flat_length_m":1.04}"#, "kit[0].width_m")]
#[case::range_the_wrong_way(r#"{"kind":"loop_band","flat_length_m":1.04,"rated_kg":[16,7]}"#, "kit[0].rated_kg")]
#[case::implausible_range(r#"{"kind":"loop_band","flat_length_m":1.04,"rated_kg":[2,60]}"#, "kit[0].rated_kg")]
#[case::slack_point(
    r#"{"kind":"loop_band","flat_length_m":1.04,"measured":[{"length_m":1.0,"kg":3}]}"#,
    "kit[0].measured"
)]
#[case::three_adjustables(
    r#"{"kind":"adjustable_dumbbell","unit":"kg","count":3,"min":2,"max":20,"step":2}"#,
    "kit[0].count"
)]
#[case::no_boxes(r#"{"kind":"box","height_m":0.5,"count":0}"#, "kit[0].count")]
fn kit_out_of_range_names_its_field(#[case] item: &str, #[case] path: &str) {
    assert_eq!(place(item).unwrap().validate().unwrap_err().path, path);
}

#[rstest]
#[case::unknown_kind(r#"{"kind":"trampoline"}"#, "trampoline")]
#[case::unknown_field(r#"{"kind":"chair","legs":4}"#, "legs")]
#[case::missing_field(r#"{"kind":"rings"}"#, "max_height_m")]
#[case::wrong_type(r#"{"kind":"dumbbells","unit":"stone","pairs":[1]}"#, "stone")]
fn kit_that_is_none(#[case] item: &str, #[case] says: &str) {
    assert!(place(item).unwrap_err().contains(says));
}

#[test]
fn pounds_stay_pounds() {
    let place = place(r#"{"kind":"dumbbells","unit":"lb","pairs":[15, 25]}"#).unwrap();
    assert_eq!(place.kit[0].text(), "dumbbells 15, 25 lb pairs");
    let KitItem::Dumbbells(dumbbells) = &place.kit[0] else { panic!("dumbbells expected") };
    assert_eq!(dumbbells.pairs, [15.0, 25.0]);
}

#[rstest]
#[case(r#"{"body_mass_kg":20,"height_m":1.7,"experience":"novice"}"#, "body_mass_kg")]
#[case(r#"{"body_mass_kg":70,"height_m":170,"experience":"novice"}"#, "height_m")]
fn a_person_out_of_range(#[case] json: &str, #[case] path: &str) {
    let person: Person = serde_json::from_str(json).unwrap();
    assert_eq!(person.validate().unwrap_err().path, path);
}

#[test]
fn a_prescription_reads_as_a_trainer_writes_it() {
    let prescription = Prescription::straight(3, [8, 12], 2, "3-0-1-1".parse().unwrap(), 90);
    assert_eq!(prescription.text(), "3 × 8–12 @ 3-0-1-1, 2 in reserve, rest 90 s");
    assert_eq!(prescription.text_a_side(), "3 × 8–12 a side @ 3-0-1-1, 2 in reserve, rest 90 s");
    prescription.validate().unwrap();
}
