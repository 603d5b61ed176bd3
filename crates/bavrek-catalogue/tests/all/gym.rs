//! Movements of a gym: what a slot can be measured against, and what takes their place at home.

use std::sync::LazyLock;

use crate::common::{kit, person};
use bavrek_catalogue::{add_gym, load};
use bavrek_core::anatomy::{ArmPosition, Grip, LengthEmphasis, Pattern, Region};
use bavrek_core::dose::Dose;
use bavrek_core::fit::{FitQuestion, fit};
use bavrek_core::kit::full_room;
use bavrek_core::movement::{Catalogue, Station};
use bavrek_core::person::Person;
use bavrek_core::plan::Sides;
use bavrek_core::reference::{Named, Reference};
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

const DUMBBELLS: &str = r#"{"kind":"dumbbells","unit":"kg","pairs":[4,6,8,10,12,16,20]}"#;
const BENCH: &str = r#"{"kind":"bench","angles_deg":[0,30,45,60,75]}"#;
const BANDS: &str = r#"{"kind":"loop_band","count":2,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},
    {"kind":"loop_band","count":2,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.045,"thickness_m":0.0045}"#;
const ANCHOR: &str = r#"{"kind":"anchor","heights_m":[0.1,1.2,1.5,2.0]}"#;

fn named(id: &str) -> Named<'static> {
    Named::find(&CATALOGUE, id).unwrap()
}

fn thirds(id: &str) -> [f64; 3] {
    Reference::of(named(id), &person()).unwrap().thirds
}

#[test]
fn all_stations_and_most_patterns_are_there() {
    for station in Station::ALL {
        let count = CATALOGUE.gym.values().filter(|g| g.station == *station).count();
        assert!(count >= 10, "{station}: {count}");
    }
    let missing: Vec<_> = Pattern::ALL.iter().filter(|p| !CATALOGUE.gym.values().any(|g| g.pattern == **p)).collect();
    assert!(missing.is_empty(), "{missing:?}");
}

#[test]
fn every_one_has_a_substitute_in_a_room_that_has_everything() {
    let (person, room) = (Person::default_figure(), full_room());
    for gym in CATALOGUE.gym.values() {
        let intent = Named::Gym(gym).intent(&person, &Dose::USUAL);
        intent.validate().unwrap();
        let answer = fit(&CATALOGUE, &FitQuestion::plain(&person, &room, &intent));
        let best = answer.candidates.first().map_or(0.0, |c| c.parts.targeting);
        assert!(best > 0.4, "{}: {best}", gym.id);
        assert!(answer.reference.is_some() && answer.notes.is_empty(), "{}: {:?}", gym.id, answer.notes);
        // A share of every third of the length, and all of the work.
        let shares = Reference::of(Named::Gym(gym), &person).unwrap().thirds;
        assert!((shares.iter().sum::<f64>() - 1.0).abs() < 1e-9 && shares.iter().all(|s| *s >= 0.0));
    }
}

#[rstest]
#[case::pulldown("lat_pulldown", &[BANDS, ANCHOR], "band_pulldown", 3)]
#[case::barbell_press("barbell_bench_press", &[DUMBBELLS, BENCH], "dumbbell_bench_press", 1)]
#[case::barbell_press_on_the_floor("barbell_bench_press", &[DUMBBELLS], "dumbbell_floor_press", 3)]
#[case::row_machine("supported_row_machine", &[DUMBBELLS, BENCH], "chest_supported_wide_row", 3)]
#[case::cable_row("seated_cable_row", &[BANDS, ANCHOR], "seated_band_row", 3)]
#[case::pushdown("cable_pushdown", &[BANDS, ANCHOR], "band_pushdown", 3)]
#[case::overhead_cable("overhead_cable_extension", &[DUMBBELLS], "overhead_extension", 3)]
#[case::side_raise("cable_side_raise", &[DUMBBELLS], "one_arm_side_raise", 2)]
#[case::arm_behind("arm_behind_cable_curl", &[BANDS, ANCHOR], "arm_behind_band_curl", 2)]
#[case::rope_curl("rope_hammer_curl", &[DUMBBELLS], "hammer_curl", 2)]
#[case::face_pull("cable_face_pull", &[BANDS, ANCHOR], "band_face_pull", 2)]
#[case::low_to_high("low_to_high_cable_fly", &[BANDS, ANCHOR], "low_to_high_band_fly", 3)]
fn its_place_is_taken_by(#[case] gym: &str, #[case] pieces: &[&str], #[case] expected: &str, #[case] within: usize) {
    let (person, room) = (person(), kit(&format!("[{}]", pieces.join(","))));
    let intent = named(gym).intent(&person, &Dose::USUAL);
    let answer = fit(&CATALOGUE, &FitQuestion::plain(&person, &room, &intent));
    let first: Vec<_> = answer.candidates.iter().take(6).map(|c| (c.movement.id.as_str(), c.score)).collect();
    let place = first.iter().position(|(id, _)| *id == expected);
    assert!(place.is_some_and(|p| p < within), "{expected} for {gym}: {first:?}");
}

#[test]
fn an_intent_is_read_off() {
    let dose = Dose { reps: [12, 15], rir: 1, sets: 4, ..Dose::USUAL };
    let intent = named("arm_behind_cable_curl").intent(&person(), &dose);
    assert_eq!((intent.pattern, intent.arm_position), (Pattern::ElbowFlexion, Some(ArmPosition::Behind)));
    assert_eq!((intent.grip, intent.sides), (Some(Grip::Supinated), Some(Sides::One)));
    assert_eq!(intent.regions.get(&Region::BicepsLong), Some(&1.0));
    assert_eq!((intent.dose.reps, intent.dose.rir, intent.dose.sets), ([12, 15], 1, 4));
    assert_eq!(intent.reference_exercise.as_deref(), Some("arm_behind_cable_curl"));
    let fly = named("dumbbell_bench_fly").intent(&person(), &dose);
    assert_eq!((fly.length_emphasis, fly.sides), (Some(LengthEmphasis::Middle), None));
}

/// Gravity and a cable load a joint in different parts of its range.
#[test]
fn a_cable_is_hard_elsewhere_than_a_dumbbell() {
    assert!(thirds("dumbbell_bench_fly")[0] > thirds("cable_fly")[0] + 0.1);
    assert!(thirds("cable_side_raise")[0] > thirds("side_raise")[0] + 0.1);
    // A barbell is a weight like another: the same arc, the same shares.
    let (barbell, dumbbell) = (thirds("barbell_curl"), thirds("dumbbell_curl"));
    assert!(barbell.iter().zip(dumbbell).all(|(a, b)| (a - b).abs() < 1e-9), "{barbell:?} {dumbbell:?}");
    // On a sloped pad the forearm is level at the start.
    assert!(thirds("sloped_pad_curl")[0] > 0.4);
}

const ENTRY: &str = r#"[[gym]]
id = "odd_machine"
name = "Odd machine"
station = "machine"
pattern = "fly"
arm_position = "out_to_side"
direct = { chest_sternal = 1.0 }
resistance = { kind = "even" }
"#;

#[rstest]
#[case::twice("id = \"odd_machine\"", "id = \"push_up\"", "id: is used twice")]
#[case::station("\"machine\"", "\"lathe\"", "unknown variant `lathe`")]
#[case::region("chest_sternal = 1.0", "chest_sternal = 1.5", "direct.chest_sternal: must be above 0")]
#[case::no_region("{ chest_sternal = 1.0 }", "{}", "direct: names no region")]
#[case::no_load("{ kind = \"even\" }", "{ kind = \"arc\", action = \"fly\" }", "resistance: does not load the target")]
#[case::unknown_field("{ kind = \"even\" }", "{ kind = \"arc\", action = \"fly\", pully = [1, 1] }", "pully")]
fn a_bad_entry_is_refused_by_name(#[case] from: &str, #[case] to: &str, #[case] expected: &str) {
    let mut catalogue = CATALOGUE.clone();
    add_gym(&mut catalogue, ("gym.toml", ENTRY)).unwrap();
    let mut catalogue = CATALOGUE.clone();
    let error = add_gym(&mut catalogue, ("gym.toml", &ENTRY.replace(from, to))).unwrap_err();
    assert!(error.file == "gym.toml" && error.message.contains(expected), "{error}");
}
