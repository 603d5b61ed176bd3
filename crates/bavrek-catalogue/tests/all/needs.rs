//! What a movement needs, held against the ladders of every movement: what its needs leave out, no room may lack.

use crate::common::kit;
use bavrek_core::anatomy::Implement;
use bavrek_core::kit::{KitItem, full_room};
use bavrek_core::ladder::{Ladder, Missing, in_words, lacking, needs};
use bavrek_core::person::Person;
use rstest::rstest;

/// Nothing is needed that a movement can be done without: with each of its alternatives alone beside all else, it has
/// steps; and with all of them taken away, it has none.
#[test]
fn needs_are_what_the_ladders_need() {
    let catalogue = bavrek_catalogue::load().unwrap();
    let (person, room) = (Person::default_figure(), full_room());
    let mut checked = 0;
    for movement in &catalogue.movements {
        // What nothing loads has no steps anywhere.
        if Ladder::of(movement, &person, &room).steps.is_empty() {
            continue;
        }
        assert_eq!(lacking(movement, &room), Vec::<Vec<&str>>::new(), "{}", movement.id);
        for need in needs(movement) {
            let without: Vec<KitItem> = room.iter().filter(|item| !need.contains(&item.kind())).cloned().collect();
            let steps = Ladder::of(movement, &person, &without).steps;
            assert!(steps.is_empty(), "{} needs none of {need:?}: {}", movement.id, steps[0].label);
            checked += 1;
        }
    }
    assert!(checked > 200, "{checked}");
}

/// In a room with nothing, whatever has no step lacks something by name.
#[test]
fn what_an_empty_room_rules_out_is_named() {
    let catalogue = bavrek_catalogue::load().unwrap();
    let person = Person::default_figure();
    let mut silent = Vec::new();
    for movement in &catalogue.movements {
        let somewhere = !Ladder::of(movement, &person, &full_room()).steps.is_empty();
        if somewhere && Ladder::of(movement, &person, &[]).steps.is_empty() && lacking(movement, &[]).is_empty() {
            silent.push(movement.id.as_str());
        }
    }
    assert_eq!(silent, Vec::<&str>::new());
}

/// Bands that are here are not called missing: of every movement that they could load, none of them will do, or some will.
#[rstest]
#[case::too_hard(
    r#"{"kind":"loop_band","count":2,"flat_length_m":0.3,"width_m":0.064,"thickness_m":0.0045}"#,
    Implement::LoopBand,
    20
)]
#[case::slack(
    r#"{"kind":"loop_band","count":1,"flat_length_m":2.5,"width_m":0.013,"thickness_m":0.0045}"#,
    Implement::LoopBand,
    5
)]
#[case::usual(
    r#"{"kind":"loop_band","count":2,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#,
    Implement::LoopBand,
    0
)]
fn bands_that_are_here_are_not_called_missing(#[case] band: &str, #[case] implement: Implement, #[case] least: usize) {
    let catalogue = bavrek_catalogue::load().unwrap();
    let room = kit(&format!(r#"[{band},{{"kind":"anchor","heights_m":[0.1,1.2,2.0]}},{{"kind":"chair"}}]"#));
    let (mut looked, mut none_will_do) = (0, 0);
    for movement in catalogue.movements.iter().filter(|m| m.uses(implement)) {
        let ladder = Ladder::of(movement, &Person::default_figure(), &room);
        let named = |m: &Missing| matches!(m, Missing::Load { any_of, .. } if any_of.contains(&implement));
        assert!(!ladder.missing.iter().any(named), "{}: {:?}", movement.id, ladder.missing);
        none_will_do += usize::from(ladder.missing.contains(&Missing::Pull));
        looked += 1;
    }
    assert!(looked > 60 && none_will_do >= least, "{none_will_do} of {looked}");
}

#[rstest]
#[case("bar_dip", &["dip_bars"])]
#[case("pull_up", &["pull_up_bar"])]
#[case("dumbbell_bench_press", &["dumbbells", "bench"])]
#[case("band_face_pull", &["loop_band", "anchor"])]
#[case("push_up", &[])]
#[case("wheel_rollout", &["ab_wheel"])]
fn the_usual_kit_comes_first(#[case] id: &str, #[case] expected: &[&str]) {
    let catalogue = bavrek_catalogue::load().unwrap();
    let first: Vec<&str> = needs(catalogue.movement(id).unwrap()).iter().map(|need| need[0]).collect();
    assert_eq!(first, expected);
}

/// Every need of every movement is said in words, and no identifier shows.
#[test]
fn needs_are_said_in_words() {
    let catalogue = bavrek_catalogue::load().unwrap();
    let said: Vec<String> = catalogue.movements.iter().flat_map(|m| needs(m)).map(|need| in_words(&need)).collect();
    assert!(said.len() > 200, "{}", said.len());
    assert!(said.iter().all(|words| !words.is_empty() && !words.contains('_')), "{said:?}");
    assert!(said.contains(&"dumbbells".to_owned()) && said.contains(&"parallel bars".to_owned()));
}
