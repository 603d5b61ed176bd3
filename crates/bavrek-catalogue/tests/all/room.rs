//! What a room has: what can be taken there, where its anchors reach, what is worth buying for it.

use std::sync::LazyLock;

use crate::common::{kit, person};
use bavrek_catalogue::{intake, load};
use bavrek_core::fit::{ExclusionCode, Why, ruled_out};
use bavrek_core::kit::offer::CheapItem;
use bavrek_core::kit::{KitItem, NamedBand, SIMULATED_MARK, Setting, count_of, full_room, mistaken, tell_apart};
use bavrek_core::ladder::{Lack, Ladder, LadderStep, absent};
use bavrek_core::movement::{Catalogue, Mount, Movement};
use bavrek_core::rigging::BandInUse;
use bavrek_core::units::Metres;
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

const ROOM: &str = r#"[
    {"kind":"dumbbells","unit":"kg","pairs":[4,8],"singles":[12]},
    {"kind":"bench","angles_deg":[0,30]},
    {"kind":"rings","max_height_m":1.4},
    {"kind":"box","height_m":0.4,"count":1},
    {"kind":"anchor","heights_m":[1.2]},
    {"kind":"backpack","max_kg":10},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}]"#;

fn movement(id: &str) -> &'static Movement {
    CATALOGUE.movement(id).unwrap()
}

/// The first step of a movement where everything is at hand, with something changed in it.
fn step(id: &str, change: &str) -> LadderStep {
    let kit = full_room();
    let ladder = Ladder::of(movement(id), &person(), &kit);
    let mut value = serde_json::to_value(&ladder.steps[0]).unwrap();
    let change: serde_json::Value = serde_json::from_str(change).unwrap();
    for (key, new) in change.as_object().unwrap() {
        match new {
            serde_json::Value::Object(inner) if key == "setup" => {
                for (k, v) in inner {
                    value["setup"][k] = v.clone();
                }
            }
            _ => value[key] = new.clone(),
        }
    }
    serde_json::from_value(value).unwrap()
}

#[rstest]
#[case::a_weight_that_nobody_owns(
    "dumbbell_curl",
    r#"{"load":{"value":9,"unit":"kg","per":"hand"}}"#,
    "weight",
    "no pair of 9 kg; there is 4, 8 kg"
)]
#[case::one_of_it_is_no_pair(
    "dumbbell_curl",
    r#"{"load":{"value":12,"unit":"kg","per":"hand"}}"#,
    "weight",
    "no pair of 12 kg"
)]
#[case::a_band_of_another_room("band_curl", r#"{"bands":["blue loop 45 mm"]}"#, "band", "there is no blue loop 45 mm")]
#[case::an_anchor_elsewhere(
    "band_pushdown",
    r#"{"bands":["loop 22 mm"],"setup":{"anchor_height_m":2.0}}"#,
    "anchor_height",
    "no anchor at 2 m; there is one at 1.2 m"
)]
#[case::a_steeper_bench(
    "incline_dumbbell_press",
    r#"{"load":{"value":8,"unit":"kg","per":"hand"},"setup":{"bench_deg":45}}"#,
    "bench_angle",
    "no bench at 45°; there is 0°, 30°"
)]
#[case::a_higher_box(
    "feet_raised_push_up",
    r#"{"setup":{"feet_height_m":0.6}}"#,
    "feet_height",
    "nothing of 0.6 m; there is 0.4 m, 0.44 m"
)]
#[case::rings_above_their_straps(
    "ring_push_up",
    r#"{"setup":{"hands_height_m":1.6}}"#,
    "hands_height",
    "the rings hang at 1.4 m at most"
)]
fn what_the_room_has_not_is_named_beside_its_field(
    #[case] id: &str,
    #[case] change: &str,
    #[case] field: &str,
    #[case] says: &str,
) {
    let found = absent(movement(id), &person(), &kit(ROOM), &step(id, change));
    let there = found.iter().find(|a| a.field == field).unwrap_or_else(|| panic!("{found:?}"));
    assert!(there.to_string().starts_with("not in this room: ") && there.to_string().contains(says), "{there}");
}

#[rstest]
#[case::small(ROOM, 300)]
#[case::a_flat(r#"[{"kind":"dumbbells","unit":"lb","pairs":[10,20]},{"kind":"chair"},{"kind":"sofa"},{"kind":"table","height_m":0.74},
    {"kind":"towel"},{"kind":"anchor","heights_m":[0.1,1.1,2.0],"door":true},
    {"kind":"loop_band","count":2,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045}]"#, 300)]
#[case::a_park(r#"[{"kind":"pull_up_bar","height_m":2.3},{"kind":"pull_up_bar","height_m":0.9},{"kind":"dip_bars"},{"kind":"step","height_m":0.4}]"#, 50)]
fn every_step_of_a_ladder_is_in_its_room(#[case] room: &str, #[case] steps: usize) {
    let (room, person) = (kit(room), person());
    let mut seen = 0;
    for movement in &CATALOGUE.movements {
        for step in Ladder::of(movement, &person, &room).steps {
            let lacking = absent(movement, &person, &room, &step);
            assert!(lacking.is_empty(), "{}, {}: {lacking:?}", movement.id, step.label);
            seen += 1;
        }
    }
    assert!(seen >= steps, "{seen}");
}

/// Every movement that an anchor carries, from the smallest to the tallest client.
#[rstest]
#[case::short(1.5)]
#[case::middling(1.75)]
#[case::tall(2.0)]
fn an_anchor_at_the_wrong_height_says_where_it_would_have_to_be(#[case] stature: f64) {
    let person = bavrek_core::person::Person { height_m: Metres(stature), ..person() };
    let loops = [0.013, 0.022, 0.032].map(|width| {
        format!(r#"{{"kind":"loop_band","count":2,"flat_length_m":1.04,"width_m":{width},"thickness_m":0.0045}}"#)
    });
    let band = loops.join(",");
    let tube = r#"{"kind":"tube_band","count":2,"rest_length_m":1.2,"rated_kg":[5,15]}"#;
    let (mut moved, mut in_door) = (0, 0);
    for movement in &CATALOGUE.movements {
        let Some(Mount::Anchor { height: [low, high], .. }) = movement.rig.mount() else { continue };
        if movement.is_weighed() {
            continue;
        }
        // As far from where it should be as a wall allows.
        let wrong = if 0.5 * (low + high) * stature > 1.2 { 0.0 } else { 3.0 };
        let room = |anchor: &str| {
            let mut room = full_room();
            room.retain(|k| !matches!(k, KitItem::Anchor(_) | KitItem::LoopBand(_)));
            room.extend(kit(&format!("[{band},{tube},{anchor}]")));
            room
        };
        let fixed = |h: f64| format!(r#"{{"kind":"anchor","heights_m":[{h}]}}"#);
        let why = ruled_out(movement, &person, &room(&fixed(wrong)));
        let Some(height) = why.iter().find_map(Why::move_anchor_to) else { panic!("{}: {why:?}", movement.id) };
        assert!(why[0].to_string().contains(&format!("move it to {height}")), "{}", why[0]);
        let why = ruled_out(movement, &person, &room(&fixed(height.value())));
        assert!(why.iter().all(|w| w.code() != ExclusionCode::Kit), "{} at {height}: {why:?}", movement.id);
        moved += 1;
        // A door has every height from the floor to its top, wherever its anchor usually is.
        let door = r#"{"kind":"anchor","heights_m":[1.2],"door":true}"#;
        let why = ruled_out(movement, &person, &room(door));
        in_door += usize::from(why.iter().all(|w| w.code() != ExclusionCode::Kit));
    }
    assert!(moved >= 30 && in_door * 10 >= moved * 9, "{moved} {in_door}");
}

#[test]
fn a_pushdown_at_a_door_goes_to_its_top() {
    let band = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#;
    let room = kit(&format!(r#"[{band},{{"kind":"anchor","heights_m":[1.2],"door":true}}]"#));
    let ladder = Ladder::of(movement("band_pushdown"), &person(), &room);
    let height = ladder.steps[0].setup.anchor_height_m.unwrap().value();
    assert!((1.7..=2.0).contains(&height), "{height}");
}

fn offer(id: &str) -> CheapItem {
    intake().unwrap().cheap.into_iter().find(|c| c.id == id).unwrap()
}

#[rstest]
#[case::a_door_anchor_for_a_room("door_anchor", Some(Setting::Doors), "[]", true)]
#[case::none_for_a_park("door_anchor", Some(Setting::Outdoors), "[]", false)]
#[case::nor_with_a_band("loop_and_anchor", Some(Setting::Outdoors), "[]", false)]
#[case::nor_a_doorway_bar("doorway_bar", Some(Setting::Outdoors), "[]", false)]
#[case::a_band_for_a_park("light_loop", Some(Setting::Outdoors), "[]", true)]
#[case::no_iron_for_a_hotel("pair_six", Some(Setting::Hotel), "[]", false)]
#[case::no_bar_for_a_hotel("doorway_bar", Some(Setting::Hotel), "[]", false)]
#[case::an_anchor_for_a_hotel("door_anchor", Some(Setting::Hotel), "[]", true)]
#[case::what_is_there_already("rings", None, r#"[{"kind":"rings","max_height_m":1.8}]"#, false)]
#[case::the_same_pair("pair_six", None, r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,6]}]"#, false)]
#[case::the_same_in_pounds("pair_six", None, r#"[{"kind":"dumbbells","unit":"lb","pairs":[13]}]"#, false)]
#[case::a_single_is_no_pair("pair_six", None, r#"[{"kind":"dumbbells","unit":"kg","pairs":[4],"singles":[6]}]"#, true)]
#[case::dialled_in(
    "pair_six",
    None,
    r#"[{"kind":"adjustable_dumbbell","unit":"kg","count":2,"min":2,"max":20,"step":2}]"#,
    false
)]
#[case::a_loop_as_wide(
    "middle_loop",
    None,
    r#"[{"kind":"loop_band","label":"green","flat_length_m":1.04,"width_m":0.021,"thickness_m":0.0045}]"#,
    false
)]
#[case::a_wider_one(
    "middle_loop",
    None,
    r#"[{"kind":"loop_band","flat_length_m":1.04,"width_m":0.032,"thickness_m":0.0045}]"#,
    true
)]
#[case::an_anchor_in_the_wall_is_no_door("door_anchor", None, r#"[{"kind":"anchor","heights_m":[1.2]}]"#, true)]
#[case::a_second_door_anchor("door_anchor", None, r#"[{"kind":"anchor","heights_m":[1.2],"door":true}]"#, false)]
fn what_is_advised_suits_the_place(
    #[case] id: &str,
    #[case] setting: Option<Setting>,
    #[case] room: &str,
    #[case] advised: bool,
) {
    assert_eq!(offer(id).suits(setting, &kit(room)), advised);
}

/// Readings of the simulated scale give a curve with a mark, and leave the band as uncertain as it was.
#[rstest]
#[case::by_its_size(r#""width_m":0.022,"thickness_m":0.0045"#)]
#[case::by_its_print(r#""rated_kg":[7,20]"#)]
fn simulated_readings_are_marked_and_narrow_nothing(#[case] known: &str) {
    let readings = |simulated: &str| {
        let point = |l: f64, kg: f64| format!(r#"{{"length_m":{l},"kg":{kg}{simulated}}}"#);
        [point(1.3, 4.9), point(1.82, 10.4), point(2.34, 14.8)].join(",")
    };
    let band = |measured: &str| {
        kit(&format!(r#"[{{"kind":"loop_band","label":"green","count":1,"flat_length_m":1.04,{known}{measured}}}]"#))
    };
    let without = band("");
    let simulated = band(&format!(r#","measured":[{}]"#, readings(r#","simulated":true"#)));
    let measured = band(&format!(r#","measured":[{}]"#, readings("")));
    let mixed = band(&format!(r#","measured":[{},{{"length_m":1.56,"kg":30,"simulated":true}}]"#, readings("")));
    let sd = |room: &[KitItem]| room[0].band_knowledge().unwrap().1;
    assert!(sd(&simulated) >= sd(&without) && sd(&measured) < sd(&without));
    // A simulated reading beside real ones does not count.
    assert!((sd(&mixed) - sd(&measured)).abs() < 1e-12);
    let ladder = |room: &[KitItem]| Ladder::of(movement("band_curl"), &person(), room);
    let (marked, plain) = (ladder(&simulated), ladder(&measured));
    assert!(!marked.steps.is_empty() && marked.steps.iter().all(|s| s.label.contains(SIMULATED_MARK)));
    assert!(!plain.steps.is_empty() && plain.steps.iter().all(|s| !s.label.contains(SIMULATED_MARK)));
    // The band is found again by its name, whatever was read of it.
    assert_eq!(marked.steps[0].bands, plain.steps[0].bands);
    assert!(marked.steps[0].log_sd > plain.steps[0].log_sd);
}

/// Hands rest on dumbbells only where their heads are known to be flat, and the answer says why not.
#[rstest]
#[case::flat(r#"{"kind":"dumbbells","unit":"kg","pairs":[8],"heads":"flat"}"#, None)]
#[case::round(r#"{"kind":"dumbbells","unit":"kg","pairs":[8],"heads":"round"}"#, Some("the round ones here roll"))]
#[case::not_told(
    r#"{"kind":"dumbbells","unit":"kg","pairs":[8]}"#,
    Some("whether the heads of those here are flat is not told")
)]
#[case::one_is_no_pair(r#"{"kind":"dumbbells","unit":"kg","singles":[8],"heads":"flat"}"#, Some("needs"))]
#[case::handles(r#"{"kind":"parallettes"}"#, None)]
fn hands_rest_on_flat_dumbbells_only(#[case] item: &str, #[case] refused: Option<&str>) {
    let room = kit(&format!("[{item}]"));
    for id in ["handle_push_up", "close_handle_push_up"] {
        let why = ruled_out(movement(id), &person(), &room);
        match refused {
            None => assert!(why.is_empty(), "{id}: {why:?}"),
            Some(says) => assert!(why[0].to_string().contains(says), "{id}: {why:?}"),
        }
    }
    // Rows from a plank put the hands on the weights, too.
    let rows = ruled_out(movement("plank_row"), &person(), &room);
    assert_eq!(rows.is_empty(), item.contains("pairs") && item.contains("flat"), "{rows:?}");
}

#[rstest]
#[case::floor("palms_floor_press", 20.0)]
#[case::bench("palms_bench_press", 20.0)]
#[case::incline("palms_incline_press", 16.0)]
#[case::a_bench_on_a_wedge("wedge_bench_press", 14.0)]
fn what_the_hands_cannot_hold_is_not_offered(#[case] id: &str, #[case] most: f64) {
    let ladder = Ladder::of(movement(id), &person(), &full_room());
    let held = ladder.steps.iter().filter_map(|s| s.load).map(|l| l.kilograms().value()).fold(0.0, f64::max);
    assert!((held - most).abs() < 1e-9, "{held}");
    let heavier = r#"{"load":{"value":30,"unit":"kg","per":"total"}}"#;
    let found = absent(movement(id), &person(), &full_room(), &step(id, heavier));
    assert!(found.iter().any(|a| a.field == "weight" && matches!(a.lack, Lack::CannotBeHeld(_))), "{found:?}");
}

/// A table carries the hands of a push-up, and feet on it are warned of, not dropped.
#[test]
fn feet_higher_than_was_measured_are_warned_of() {
    let room = kit(r#"[{"kind":"table","height_m":0.74},{"kind":"step","height_m":0.3}]"#);
    let raised = Ladder::of(movement("feet_raised_push_up"), &person(), &room);
    let at = |h: f64| raised.steps.iter().find(|s| s.setup.feet_height_m == Some(Metres(h))).unwrap();
    let codes = |step: &LadderStep| {
        let found = bavrek_core::safety::cautions(&CATALOGUE, movement("feet_raised_push_up"), step, &room);
        found.into_iter().map(|c| c.code).collect::<Vec<_>>()
    };
    assert!(codes(at(0.74)).contains(&"feet_high".to_owned()));
    assert!(!codes(at(0.3)).contains(&"feet_high".to_owned()));
    let hands = Ladder::of(movement("incline_push_up"), &person(), &room);
    assert!(hands.steps.iter().any(|s| s.setup.hands_height_m == Some(Metres(0.74))));
}

const DUMBBELL_ANCHOR: &str = r#"{"kind":"anchor","heights_m":[0.05],"on":"dumbbell","weight_kg":WEIGHT}"#;

/// A dumbbell as an anchor refuses a pull above four tenths of its weight; a heavier one lets more of the band be used.
#[test]
fn a_dumbbell_as_an_anchor_holds_a_share_of_its_weight() {
    let band = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045}"#;
    let room = |weight: &str| kit(&format!("[{band},{}]", DUMBBELL_ANCHOR.replace("WEIGHT", weight)));
    let steps = |weight: &str| Ladder::of(movement("band_side_raise_beside"), &person(), &room(weight)).steps;
    let heaviest = |steps: &[LadderStep]| steps.iter().map(|s| s.peak_kg.value()).fold(0.0, f64::max);
    let (light, heavy) = (steps("20"), steps("40"));
    assert!(!light.is_empty() && heaviest(&light) < heaviest(&heavy), "{} {}", light.len(), heavy.len());
    let why = ruled_out(movement("band_side_raise_beside"), &person(), &room("4"));
    assert!(
        why[0].to_string().contains("holds a pull of 1.6 kg at most")
            || why[0].to_string().contains("holds a pull of 2 kg at most"),
        "{why:?}"
    );
    // What the ladder does not offer cannot be set up by hand either.
    let far = heavy.iter().max_by(|a, b| a.peak_kg.value().total_cmp(&b.peak_kg.value())).unwrap();
    let found = absent(movement("band_side_raise_beside"), &person(), &room("20"), far);
    assert!(found.iter().any(|a| a.lack == Lack::AnchorHolds), "{found:?}");
    // It is looked at before it is used, and its caution is its own.
    let anchor = &room("20")[1];
    assert!(anchor.improvised() && anchor.validate().is_ok());
    let codes = bavrek_core::safety::cautions(&CATALOGUE, movement("band_side_raise_beside"), &light[0], &room("20"));
    assert!(codes.iter().any(|c| c.code == "improvised_anchor"));
    let weightless: KitItem = serde_json::from_str(r#"{"kind":"anchor","heights_m":[0.05],"on":"dumbbell"}"#).unwrap();
    assert_eq!(weightless.validate().unwrap_err().path, "weight_kg");
}

#[rstest]
#[case::a_hook(r#"{"kind":"anchor","heights_m":[1.2]}"#, false, true)]
#[case::a_bed_post(r#"{"kind":"anchor","heights_m":[0.6],"on":"post"}"#, true, true)]
#[case::a_sofa(r#"{"kind":"anchor","heights_m":[0.1],"on":"furniture"}"#, true, false)]
#[case::a_door(r#"{"kind":"anchor","heights_m":[1.1],"door":true}"#, true, true)]
fn what_was_not_made_to_hold_is_checked_first(#[case] item: &str, #[case] checked: bool, #[case] moves: bool) {
    let item: KitItem = serde_json::from_str(item).unwrap();
    assert_eq!((item.improvised(), item.improvised_caution().is_some()), (checked, checked));
    let KitItem::Anchor(anchor) = item else { panic!("an anchor") };
    assert_eq!(anchor.can_move(), moves);
}

const ONE_BENCH: &str = r#"{"kind":"bench","angles_deg":[0]}"#;
const TWO_BENCHES: &str = r#"{"kind":"bench","angles_deg":[0],"count":2}"#;
const LOW_TABLE: &str = r#"{"kind":"table","height_m":0.45}"#;
const HIGH_TABLE: &str = r#"{"kind":"table","height_m":0.74}"#;
const CHAIR: &str = r#"{"kind":"chair"}"#;

/// One edge does not carry hands and feet at once, and a table at hip height is no seat.
#[rstest]
#[case::one_bench("edge_dip_feet_raised", &[ONE_BENCH], false)]
#[case::two_benches("edge_dip_feet_raised", &[TWO_BENCHES], true)]
#[case::a_bench_and_a_chair("edge_dip_feet_raised", &[ONE_BENCH, CHAIR], true)]
#[case::two_low_edges("edge_dip_feet_raised", &[LOW_TABLE, CHAIR], true)]
#[case::a_high_table("edge_dip_feet_raised", &[HIGH_TABLE, CHAIR], false)]
#[case::a_low_table_alone("edge_dip", &[LOW_TABLE], true)]
#[case::a_high_table_alone("edge_dip", &[HIGH_TABLE], false)]
#[case::between_two_benches("box_push_up", &[TWO_BENCHES], true)]
#[case::between_nothing("box_push_up", &[ONE_BENCH], false)]
fn edges_are_counted(#[case] id: &str, #[case] items: &[&str], #[case] possible: bool) {
    let room = kit(&format!("[{}]", items.join(",")));
    let why = ruled_out(movement(id), &person(), &room);
    assert_eq!(why.is_empty(), possible, "{why:?}");
    assert_eq!(Ladder::of(movement(id), &person(), &room).steps.is_empty(), !possible);
}

/// Somebody's hands are kit, and what they resist with is nobody's estimate.
#[rstest]
#[case("helper_side_raise")]
#[case("helper_curl")]
fn a_helper_counts_as_kit(#[case] id: &str) {
    let why = ruled_out(movement(id), &person(), &[]);
    assert!(why.iter().any(|m| m.to_string() == "needs a helper"), "{why:?}");
    let room = kit(r#"[{"kind":"helper"}]"#);
    assert!(ruled_out(movement(id), &person(), &room).is_empty());
    let ladder = Ladder::of(movement(id), &person(), &room);
    assert_eq!(ladder.steps.len(), 1);
    assert_eq!(ladder.steps[0].label, "resisted by hand or leg");
}

/// One arm carries at a ring what two would share.
#[test]
fn one_arm_at_a_ring_carries_both_arms_load() {
    let load = |id: &str| Ladder::whole(movement(id), &person(), &full_room()).steps[0].effective_kg.value();
    assert!((load("one_arm_ring_curl") / load("ring_curl") - 2.0).abs() < 1e-9);
}

fn loop_of(thickness: f64, label: Option<&str>, count: u8) -> KitItem {
    let label = label.map_or_else(String::new, |l| format!(r#""label":"{l}","#));
    let text = format!(
        r#"{{"kind":"loop_band",{label}"count":{count},"flat_length_m":1.04,"width_m":0.022,"thickness_m":{thickness}}}"#
    );
    serde_json::from_str(&text).unwrap()
}

#[rstest]
#[case::two_without_a_label([None, None], ["loop 22 mm", "second loop 22 mm"])]
#[case::two_greens([Some("green"), Some("green")], ["green loop 22 mm", "second green loop 22 mm"])]
#[case::told_apart_already([Some("green"), None], ["green loop 22 mm", "loop 22 mm"])]
fn bands_of_one_name_are_two_bands(#[case] labels: [Option<&str>; 2], #[case] names: [&str; 2]) {
    let mut kit = vec![loop_of(0.0045, labels[0], 1), loop_of(0.009, labels[1], 1)];
    tell_apart(kit.iter_mut());
    assert_eq!(kit.iter().map(KitItem::name).collect::<Vec<_>>(), names);
    // Each has rungs of its own, and what stands on one is worked out with that one.
    let movement = CATALOGUE.movement("band_curl").unwrap();
    let ladder = Ladder::whole(movement, &person(), &kit);
    let heaviest = |name: &str| {
        let own = ladder.steps.iter().filter(|s| s.bands == [NamedBand::called(name)]);
        own.map(|s| s.effective_kg.value()).fold(0.0, f64::max)
    };
    assert!(heaviest(names[0]) > 0.0 && heaviest(names[1]) > 1.4 * heaviest(names[0]), "{ladder:?}");
    for step in &ladder.steps {
        let band = step.loads(&kit).bands[0].unwrap();
        assert_eq!(band.rubber, BandInUse::of(step.bands[0].in_kit(&kit).unwrap()).unwrap().rubber);
    }
}

#[test]
fn two_entries_of_the_same_band_are_two_of_it() {
    let mut kit = vec![loop_of(0.0045, None, 1), loop_of(0.0045, None, 1), loop_of(0.0045, None, 2)];
    tell_apart(kit.iter_mut());
    assert!(kit.iter().all(|k| k.name() == "loop 22 mm"));
    assert_eq!(count_of(&kit, "loop 22 mm"), 4);
    assert!(!mistaken(&kit[0], &kit[2]));
}
