//! Cautions: shown where they apply, and only there.

use crate::common::{kit, person};
use bavrek_catalogue::{general_cautions, load};
use bavrek_core::anatomy::Implement;
use bavrek_core::handling::{Handling, HandlingKind, handling};
use bavrek_core::kit::full_room;
use bavrek_core::ladder::Ladder;
use bavrek_core::movement::{Mount, Stance};
use bavrek_core::safety::cautions;
use rstest::rstest;

const BAND: &str = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#;

#[rstest]
#[case::door_anchor("band_fly", &[BAND, r#"{"kind":"anchor","heights_m":[1.2],"door":true}"#], &["band_check", "door_anchor"], &["anchor_fixed", "dumbbell_hands"])]
#[case::wall_anchor("band_fly", &[BAND, r#"{"kind":"anchor","heights_m":[1.2]}"#], &["band_check", "anchor_fixed"], &["door_anchor"])]
#[case::stood_on("band_curl", &[BAND], &["band_check"], &["anchor_fixed", "door_anchor"])]
#[case::dumbbells("dumbbell_floor_fly", &[r#"{"kind":"dumbbells","unit":"kg","pairs":[8]}"#], &["dumbbell_hands"], &["band_check", "deep_fly"])]
#[case::bench_fly("dumbbell_bench_fly", &[r#"{"kind":"dumbbells","unit":"kg","pairs":[8]}"#, r#"{"kind":"bench","angles_deg":[0]}"#], &["deep_fly"], &["furniture"])]
#[case::over_the_face("overhead_extension", &[r#"{"kind":"dumbbells","unit":"kg","singles":[8]}"#], &["over_face", "elbow_light"], &["band_check"])]
#[case::chair("feet_raised_push_up", &[r#"{"kind":"chair"}"#], &["furniture", "wrists"], &["dumbbell_hands", "band_check", "handles"])]
#[case::handles("handle_push_up", &[r#"{"kind":"parallettes"}"#], &["handles"], &["wrists", "furniture"])]
#[case::table("table_row", &[r#"{"kind":"table","height_m":0.75}"#], &["table_check"], &["rings_check"])]
#[case::rings("inverted_row", &[r#"{"kind":"rings","max_height_m":2.2}"#], &["rings_check"], &["dumbbell_hands"])]
#[case::dips("bar_dip", &[r#"{"kind":"dip_bars"}"#], &["dip_depth", "bar_check"], &["rings_check"])]
fn cautions_of_a_step(#[case] exercise: &str, #[case] items: &[&str], #[case] shown: &[&str], #[case] absent: &[&str]) {
    let catalogue = load().unwrap();
    let kit = kit(&format!("[{}]", items.join(",")));
    let movement = catalogue.movement(exercise).unwrap();
    let ladder = Ladder::of(movement, &person(), &kit);
    let found = cautions(&catalogue, movement, &ladder.steps[0], &kit);
    let codes: Vec<&str> = found.iter().map(|c| c.code.as_str()).collect();
    assert!(shown.iter().all(|code| codes.contains(code)), "{codes:?}");
    assert!(absent.iter().all(|code| !codes.contains(code)), "{codes:?}");
    assert!(found.iter().all(|c| !c.text.is_empty()));
}

#[test]
fn what_stops_a_session_is_always_there() {
    let general = general_cautions().unwrap().0.join(" ");
    for word in ["chest pain", "doctor", "physiotherapist", "Warm up"] {
        assert!(general.contains(word), "{word}");
    }
}

/// Over every movement and every step that a room with everything allows.
#[test]
fn whoever_lies_with_weights_is_told_the_way_in_and_out() {
    use HandlingKind::{ChangingHands, FailedRep, WayIn, WayOut};
    let (catalogue, room) = (load().unwrap(), full_room());
    let lies = |stance: Stance| {
        matches!(
            stance,
            Stance::Supine | Stance::HipsRaised | Stance::LyingBack | Stance::ShouldersOnEdge | Stance::SideLying
        )
    };
    let mut seen = 0;
    for movement in &catalogue.movements {
        for step in Ladder::of(movement, &person(), &room).steps {
            let kinds: Vec<HandlingKind> = handling(movement, &step).iter().map(Handling::kind).collect();
            let wanted = [WayIn, WayOut, ChangingHands, FailedRep];
            let held = step.load.is_some() && !movement.rig.is_lever();
            let asked = held && lies(movement.pose.stance);
            assert_eq!(wanted.iter().all(|k| kinds.contains(k)), asked, "{}, {}: {kinds:?}", movement.id, step.label);
            seen += usize::from(asked);
        }
    }
    assert!(seen > 500, "{seen}");
}

#[test]
fn whoever_hangs_a_band_on_an_anchor_is_told_how() {
    use HandlingKind::{BandFixed, BandRuns, Feet};
    let (catalogue, room) = (load().unwrap(), full_room());
    let mut seen = 0;
    for movement in &catalogue.movements {
        let anchored = matches!(movement.rig.mount(), Some(Mount::Anchor { .. }));
        for step in Ladder::of(movement, &person(), &room).steps.iter().filter(|s| !s.bands.is_empty()) {
            let facts = handling(movement, step);
            let said = |kind: HandlingKind| facts.iter().find(|h| h.kind() == kind);
            if anchored {
                assert!(said(Feet).is_some() && said(BandRuns).is_some(), "{}", movement.id);
                let height = step.setup.anchor_height_m.unwrap().to_string();
                assert!(said(BandFixed).unwrap().to_string().contains(&height), "{}: {facts:?}", movement.id);
                seen += 1;
            } else if movement.rig.mount().is_some() {
                assert!(said(BandFixed).is_some(), "{}", movement.id);
            }
        }
    }
    assert!(seen > 200, "{seen}");
}

/// Nothing is said of a helper's hands, and no weight is ever passed over the face.
#[test]
fn no_weight_is_passed_over_the_face() {
    let (catalogue, room) = (load().unwrap(), full_room());
    let mut lying = 0;
    for movement in catalogue.movements.iter().filter(|m| m.uses(Implement::Dumbbell)) {
        let Some(step) = Ladder::of(movement, &person(), &room).steps.into_iter().find(|s| s.load.is_some()) else {
            continue;
        };
        for fact in handling(movement, &step).iter().filter(|h| h.kind() == HandlingKind::ChangingHands) {
            assert!(fact.to_string().contains("never over the face"), "{}: {fact}", movement.id);
            lying += 1;
        }
    }
    assert!(lying > 40, "{lying}");
}
