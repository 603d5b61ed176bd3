//! The catalogue that ships: complete, computable, and refusing bad entries by name.

use std::collections::BTreeSet;

use bavrek_catalogue::{load, load_from};
use bavrek_core::anatomy::{Implement, Pattern, Region};
use bavrek_core::kit::full_room;
use bavrek_core::ladder::{Ladder, Missing};
use bavrek_core::movement::{Catalogue, Movement};
use bavrek_core::person::{Experience, Person};
use bavrek_core::safety::cautions;
use rstest::rstest;

fn default_person() -> Person {
    Person { experience: Experience::Advanced, ..Person::default_figure() }
}

/// Kept in the catalogue because they are popular, and flagged by the model because gravity does not load their target.
const WITHOUT_LOAD: [&str; 2] = ["standing_dumbbell_press_out", "standing_dumbbell_fly"];

#[test]
fn the_catalogue_covers_every_pattern_and_region() {
    let catalogue = load().unwrap();
    assert!(catalogue.movements.len() >= 180, "{} movements", catalogue.movements.len());
    for pattern in Pattern::ALL {
        let count = catalogue.movements.iter().filter(|m| m.pattern == *pattern).count();
        assert!(count >= 4, "{pattern}: {count}");
    }
    for region in Region::ALL {
        let direct: Vec<_> = catalogue.movements.iter().filter(|m| m.direct.contains_key(region)).collect();
        let implements: BTreeSet<Implement> = direct.iter().flat_map(|m| m.implements.clone()).collect();
        assert!(direct.len() >= 3 && implements.len() >= 2, "{region}: {} on {implements:?}", direct.len());
    }
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

/// Collects complaints about every movement, so that one run shows them all.
fn for_every_movement(check: impl Fn(&Catalogue, &Movement) -> Result<(), String>) {
    let catalogue = load().unwrap();
    let complaints: Vec<String> = catalogue
        .movements
        .iter()
        .filter_map(|m| check(&catalogue, m).err().map(|e| format!("{}: {e}", m.id)))
        .collect();
    assert!(complaints.is_empty(), "\n{}", complaints.join("\n"));
}

fn ensure(holds: bool, complaint: impl FnOnce() -> String) -> Result<(), String> {
    if holds { Ok(()) } else { Err(complaint()) }
}

#[test]
fn every_movement_computes_on_a_default_figure_and_its_ladder_rises() {
    let person = default_person();
    for_every_movement(|_, movement| {
        let ladder = Ladder::of(movement, &person, &full_room());
        if WITHOUT_LOAD.contains(&movement.id.as_str()) {
            return ensure(ladder.missing[0] == Missing::NoLoad, || "is not flagged".into());
        }
        ensure(!ladder.steps.is_empty(), || format!("{:?}", ladder.missing))?;
        ensure(ladder.steps.windows(2).all(|p| p[0].effective_kg < p[1].effective_kg), || "does not rise".into())?;
        for step in &ladder.steps {
            let sum: f64 = step.thirds.iter().sum();
            ensure((sum - 1.0).abs() < 1e-9, || format!("thirds {:?}", step.thirds))?;
            ensure(step.peak_kg.value() >= step.effective_kg.value() * 0.99, || "peak below mean".into())?;
            ensure(step.log_sd > 0.0 && step.log_sd < 0.5, || format!("log-SD {}", step.log_sd))?;
            ensure(!step.label.is_empty() && !step.implements.is_empty(), || "says nothing".into())?;
        }
        Ok(())
    });
}

#[test]
fn every_movement_loads_its_direct_regions_in_the_direction_they_act() {
    let person = default_person();
    for_every_movement(|_, movement| {
        if WITHOUT_LOAD.contains(&movement.id.as_str()) {
            return Ok(());
        }
        let ladder = Ladder::of(movement, &person, &full_room());
        // Work against the movement over at least half of its range: a load that has crossed the joint does nothing.
        let working = |step: &bavrek_core::ladder::LadderStep| {
            step.curve.iter().filter(|v| **v > 0.02).count() * 2 >= step.curve.len()
        };
        ensure(ladder.steps.iter().all(working), || "is without load over most of its range".into())
    });
}

#[test]
fn every_movement_has_cues_and_cautions() {
    let person = default_person();
    for_every_movement(|catalogue, movement| {
        let cues = &movement.cues;
        for cue in [&cues.set_up, &cues.action, &cues.feel, &cues.avoid, &cues.breathing, &cues.range] {
            ensure(cue.len() > 5, || format!("cue {cue:?}"))?;
        }
        let ladder = Ladder::of(movement, &person, &full_room());
        let mut codes: BTreeSet<String> = movement.cautions.iter().cloned().collect();
        for step in &ladder.steps {
            codes.extend(cautions(catalogue, movement, step, &full_room()).into_iter().map(|c| c.code));
        }
        ensure(!codes.is_empty(), || "no caution".into())
    });
}

#[test]
fn neighbours_can_be_reached_and_do_related_work() {
    for_every_movement(|catalogue, movement| {
        let neighbours: Vec<&Movement> = [&movement.easier, &movement.harder]
            .into_iter()
            .flatten()
            .filter_map(|id| catalogue.movement(id))
            .collect();
        ensure(!neighbours.is_empty(), || "has no neighbour".into())?;
        for neighbour in neighbours {
            ensure(neighbour.id != movement.id, || "is its own neighbour".into())?;
            let shared = movement.direct.keys().any(|r| neighbour.region_weight(*r) > 0.0);
            ensure(shared || neighbour.pattern == movement.pattern, || format!("{} is unrelated", neighbour.id))?;
        }
        Ok(())
    });
}

#[test]
fn names_and_synonyms_are_told_apart() {
    let catalogue = load().unwrap();
    let mut names = BTreeSet::new();
    for movement in &catalogue.movements {
        assert!(names.insert(movement.name.to_lowercase()), "{} is named twice", movement.name);
        assert!(!movement.synonyms.is_empty(), "{} has no synonym", movement.id);
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
const STRENGTH: &str =
    "[[pattern]]\nid = \"p\"\nname = \"P\"\nanchor = \"a\"\nshare = [0.1, 0.2, 0.3]\nfemale = 0.6\ngroup = \"push\"\n";

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
pose = { trunk_deg = -90 }
rig = { kind = "single_joint", action = "fly" }
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

fn two(second: &str) -> String {
    entry() + second
}

#[test]
fn an_entry_takes_from_the_one_it_is_like_cue_by_cue() {
    let text = two("[[movement]]\nid = \"b\"\nlike = \"a\"\nname = \"B\"\ncues = { feel = \"other\" }\n");
    let catalogue = load_from(&[("like.toml", &text)], ("c.toml", CAUTIONS), ("s.toml", STRENGTH)).unwrap();
    let (a, b) = (catalogue.movement("a").unwrap(), catalogue.movement("b").unwrap());
    assert_eq!((b.name.as_str(), b.cues.feel.as_str(), b.cues.avoid.as_str()), ("B", "other", a.cues.avoid.as_str()));
    assert_eq!(b.direct, a.direct);
}

#[rstest]
#[case::unknown("[[movement]]\nid = \"b\"\nlike = \"z\"\n", "\"z\" is not known")]
#[case::circle("[[movement]]\nid = \"b\"\nlike = \"c\"\n[[movement]]\nid = \"c\"\nlike = \"b\"\n", "leads back")]
fn a_wrong_like_is_refused(#[case] second: &str, #[case] names: &str) {
    let error = load_from(&[("bad.toml", &two(second))], ("c.toml", CAUTIONS), ("s.toml", STRENGTH)).unwrap_err();
    assert_eq!(error.entry, "b");
    assert!(error.message.contains(names), "{error}");
}

#[test]
fn an_identifier_used_twice_is_refused() {
    let text = entry() + &entry();
    let error = load_from(&[("twice.toml", &text)], ("c.toml", CAUTIONS), ("s.toml", STRENGTH)).unwrap_err();
    assert!(error.message.contains("twice"));
}

/// Where trainers differ about how a movement is done, both views stand, and they doubt nothing of what it trains.
#[rstest]
#[case::long_head("supine_dumbbell_extension")]
#[case::fingers_at_an_edge("edge_dip")]
#[case::fingers_on_the_floor("floor_dip")]
#[case::handles("handle_push_up")]
#[case::grip("dumbbell_bench_press")]
#[case::width("chin_up")]
#[case::end_of_a_fly("dumbbell_bench_fly")]
fn both_views_of_how_it_is_done_stand(#[case] id: &str) {
    let catalogue = load().unwrap();
    let movement = catalogue.movement(id).unwrap();
    let views = movement.views.as_deref().unwrap();
    assert!(views.contains("; ") || views.contains(", or "), "{views}");
    assert!(movement.disputed.is_none() && !movement.is_doubted());
    // A child of it speaks for itself.
    let children = catalogue.movements.iter().filter(|m| m.variant_of.as_deref() == Some(id));
    assert!(children.into_iter().all(|m| m.views.as_deref() != Some(views)));
}

/// No two movements are one: done, loaded, carried over and working the same under two names.
#[test]
fn no_movement_stands_twice() {
    let catalogue = load().unwrap();
    let mut seen: Vec<(String, &str)> = Vec::new();
    for m in &catalogue.movements {
        let what = format!(
            "{:?} {:?} {:?} {:?} {:?} {:?} {:?} {:?}",
            m.pattern,
            m.rig,
            m.pose,
            m.grip,
            m.hands,
            m.style,
            m.needs,
            (m.arm_position, &m.implements, &m.direct, &m.assisting, m.carry_over.ratio)
        );
        seen.push((what, &m.id));
    }
    seen.sort();
    let twice: Vec<_> = seen.windows(2).filter(|w| w[0].0 == w[1].0).map(|w| (w[0].1, w[1].1)).collect();
    assert!(seen.len() > 250 && twice.is_empty(), "{twice:?}");
}
