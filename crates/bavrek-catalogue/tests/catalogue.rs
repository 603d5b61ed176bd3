//! The catalogue that ships: complete, computable, and refusing bad entries by name.

use std::collections::BTreeSet;

use bavrek_catalogue::{load, load_from};
use bavrek_core::anatomy::{Implement, Pattern};
use bavrek_core::kit::full_room;
use bavrek_core::ladder::{Ladder, MissingKind};
use bavrek_core::person::{Experience, Person};
use bavrek_core::units::{Kilograms, Metres};
use rstest::rstest;

fn default_person() -> Person {
    Person {
        body_mass_kg: Kilograms(75.0),
        height_m: Metres(1.75),
        experience: Experience::Advanced,
        age_years: None,
        sex: None,
        limits: vec![],
    }
}

/// Kept in the catalogue because they are popular, and flagged by the model because gravity does not load their target.
const WITHOUT_LOAD: [&str; 2] = ["standing_dumbbell_press_out", "standing_dumbbell_fly"];

#[test]
fn the_starter_catalogue_covers_patterns_and_implements() {
    let catalogue = load().unwrap();
    assert!(catalogue.movements.len() >= 36, "{} movements", catalogue.movements.len());
    let patterns: BTreeSet<Pattern> = catalogue.movements.iter().map(|m| m.pattern).collect();
    assert!(patterns.len() >= 10, "{} patterns", patterns.len());
    for implement in [Implement::Dumbbell, Implement::LoopBand, Implement::Rings, Implement::Bar, Implement::Bodyweight]
    {
        assert!(catalogue.movements.iter().any(|m| m.uses(implement)), "{implement}");
    }
    let both = |i| move |m: &&bavrek_core::movement::Movement| m.uses(i);
    assert!(catalogue.movements.iter().filter(both(Implement::Dumbbell)).any(|m| m.uses(Implement::LoopBand)));
}

#[rstest]
#[case("dumbbell_bench_press")]
#[case("dumbbell_floor_press")]
#[case("dumbbell_floor_fly")]
#[case("dumbbell_bench_fly")]
#[case("push_up")]
#[case("band_curl")]
#[case("dumbbell_curl")]
#[case("chin_up")]
#[case("inverted_row")]
#[case("ring_curl")]
#[case("dumbbell_row")]
#[case("overhead_extension")]
#[case("side_raise")]
#[case("bar_dip")]
fn fixed_identifiers_exist(#[case] id: &str) {
    assert!(load().unwrap().movement(id).is_some());
}

#[test]
fn every_movement_has_a_ladder_in_a_full_room_and_rises() {
    let catalogue = load().unwrap();
    let person = default_person();
    for movement in &catalogue.movements {
        let ladder = Ladder::of(movement, &person, &full_room());
        if WITHOUT_LOAD.contains(&movement.id.as_str()) {
            assert_eq!(ladder.missing[0].kind, MissingKind::NoLoad, "{}", movement.id);
            continue;
        }
        assert!(!ladder.steps.is_empty(), "{}: {:?}", movement.id, ladder.missing);
        for pair in ladder.steps.windows(2) {
            assert!(pair[0].effective_kg < pair[1].effective_kg, "{}", movement.id);
        }
        for step in &ladder.steps {
            let sum: f64 = step.thirds.iter().sum();
            assert!(
                (sum - 1.0).abs() < 1e-9 && step.peak_kg.value() >= step.effective_kg.value() * 0.99,
                "{}",
                movement.id
            );
            assert!(!step.label.is_empty() && !step.implements.is_empty(), "{}", movement.id);
        }
    }
}

#[test]
fn an_empty_room_leaves_bodyweight_only() {
    let catalogue = load().unwrap();
    for movement in &catalogue.movements {
        let ladder = Ladder::of(movement, &default_person(), &[]);
        if ladder.steps.is_empty() {
            assert!(!ladder.missing.is_empty(), "{} says nothing", movement.id);
        } else {
            assert!(movement.uses(Implement::Bodyweight), "{} works with nothing", movement.id);
        }
    }
}

const CAUTIONS: &str = "[general]\n[caution]\nbreathing = \"Breathe.\"\n";
const STRENGTH: &str = "[[pattern]]\nid = \"p\"\nname = \"P\"\nanchor = \"a\"\nshare = [0.1, 0.2, 0.3]\nfemale = 0.6\n";

fn entry() -> String {
    r#"
[[movement]]
id = "a"
name = "A"
pattern = "fly"
arm_position = "out_to_side"
implements = ["dumbbell"]
hands = "each"
direct = { chest_sternal = 1.0 }
confidence = 0.9
rig = { kind = "single_joint", action = "fly", torso_deg = -90.0 }
carry_over = { pattern = "p", ratio = 1.0, log_sd = 0.0 }
experience = "novice"
stability = 0.9
set_up_s = 10
[movement.cues]
set_up = "s"
do = "d"
feel = "f"
avoid = "a"
"#
    .to_owned()
}

#[test]
fn a_good_entry_loads() {
    load_from(&[("good.toml", &entry())], ("c.toml", CAUTIONS), ("s.toml", STRENGTH)).unwrap();
}

#[rstest]
#[case::unknown_field("set_up_s = 10", "set_up_s = 10\ncolour = 1", "colour")]
#[case::unknown_region("chest_sternal", "chest_middle", "chest_middle")]
#[case::weight_above_one("chest_sternal = 1.0", "chest_sternal = 1.5", "direct.chest_sternal")]
#[case::no_region("{ chest_sternal = 1.0 }", "{}", "direct")]
#[case::unknown_pattern("pattern = \"p\"", "pattern = \"q\"", "carry_over.pattern")]
#[case::unknown_neighbour("set_up_s = 10", "set_up_s = 10\neasier = \"nobody\"", "easier")]
#[case::unknown_caution("set_up_s = 10", "set_up_s = 10\ncautions = [\"nope\"]", "cautions")]
#[case::empty_cue("feel = \"f\"", "feel = \" \"", "cues.feel")]
#[case::wrong_type("set_up_s = 10", "set_up_s = \"ten\"", "set_up_s")]
#[case::unknown_action("action = \"fly\"", "action = \"flap\"", "flap")]
fn a_bad_entry_is_refused_with_file_entry_and_field(#[case] from: &str, #[case] to: &str, #[case] names: &str) {
    let text = entry().replace(from, to);
    let error = load_from(&[("bad.toml", &text)], ("c.toml", CAUTIONS), ("s.toml", STRENGTH)).unwrap_err();
    assert_eq!((error.file.as_str(), error.entry.as_str()), ("bad.toml", "a"));
    assert!(error.message.contains(names), "{error}");
}

#[test]
fn an_identifier_used_twice_is_refused() {
    let text = entry() + &entry();
    let error = load_from(&[("twice.toml", &text)], ("c.toml", CAUTIONS), ("s.toml", STRENGTH)).unwrap_err();
    assert!(error.message.contains("twice"));
}
