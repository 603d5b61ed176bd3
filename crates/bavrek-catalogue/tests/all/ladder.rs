//! Ladders of whole movements: reference cases and what must hold for every kit.

use crate::common::{kit, person};
use bavrek_catalogue::load;
use bavrek_core::kit::{KitItem, NamedBand};
use bavrek_core::ladder::{
    BridgeCode, Familied, Ground, Ladder, Landing, Openings, Rung, Way, bands_left_out, bridges, distinct, join,
};
use bavrek_core::mechanics::lever::{PushUp, Support};
use bavrek_core::movement::Catalogue;
use bavrek_core::units::{Kilograms, Metres};
use proptest::prelude::*;
use rstest::rstest;
use std::sync::LazyLock;

fn assert_loads(actual: &[f64], expected: &[f64]) {
    assert_eq!(actual.len(), expected.len(), "{actual:?}");
    for (a, e) in actual.iter().zip(expected) {
        assert!((a - e).abs() < 0.011, "{actual:?}");
    }
}

#[test]
fn push_up_lever_ladder() {
    let at = |support, hands, feet| {
        let posture = PushUp { support, hands: Metres(hands), feet: Metres(feet) };
        posture.load(Metres(1.75), 0.64).unwrap().fraction * 75.0
    };
    let expected = [25.7, 31.5, 36.6, 37.4, 41.0, 43.6, 45.9, 48.0, 51.5, 54.4];
    let actual = [
        at(Support::Toes, 0.75, 0.0),
        at(Support::Toes, 0.60, 0.0),
        at(Support::Toes, 0.45, 0.0),
        at(Support::Knees, 0.0, 0.0),
        at(Support::Toes, 0.30, 0.0),
        at(Support::Toes, 0.20, 0.0),
        at(Support::Toes, 0.10, 0.0),
        at(Support::Toes, 0.0, 0.0),
        at(Support::Toes, 0.0, 0.20),
        at(Support::Toes, 0.0, 0.45),
    ];
    for (a, e) in actual.iter().zip(expected) {
        assert!((a - e).abs() < 0.06, "{a} {e}");
    }
}

fn ladder(exercise: &str, items: &str) -> Ladder {
    Ladder::of(load().unwrap().movement(exercise).unwrap(), &person(), &kit(items))
}

fn effective(ladder: &Ladder) -> Vec<f64> {
    ladder.steps.iter().map(|s| s.effective_kg.value()).collect()
}

#[rstest]
#[case::pairs_for_two_hands("dumbbell_curl", r#"[{"kind":"dumbbells","unit":"kg","pairs":[5,8,12],"singles":[20]}]"#, &[5.0, 8.0, 12.0])]
#[case::singles_too_for_one_hand("dumbbell_row", r#"[{"kind":"dumbbells","unit":"kg","pairs":[8,12],"singles":[20]},{"kind":"chair"}]"#, &[8.0, 12.0, 20.0])]
#[case::one_in_both_hands("overhead_extension", r#"[{"kind":"dumbbells","unit":"kg","pairs":[8],"singles":[20]}]"#, &[8.0, 20.0])]
#[case::pounds_as_kilograms("dumbbell_curl", r#"[{"kind":"dumbbells","unit":"lb","pairs":[10,20]}]"#, &[4.536, 9.072])]
#[case::one_adjustable_serves_no_pair("dumbbell_curl", r#"[{"kind":"adjustable_dumbbell","unit":"kg","count":1,"min":2,"max":8,"step":2}]"#, &[])]
#[case::two_adjustables("dumbbell_curl", r#"[{"kind":"adjustable_dumbbell","unit":"kg","count":2,"min":2,"max":8,"step":2}]"#, &[2.0, 4.0, 6.0, 8.0])]
#[case::no_bench("dumbbell_bench_press", r#"[{"kind":"dumbbells","unit":"kg","pairs":[8]}]"#, &[])]
fn what_the_hands_can_hold(#[case] exercise: &str, #[case] items: &str, #[case] expected: &[f64]) {
    assert_loads(&effective(&ladder(exercise, items)), expected);
}

#[test]
fn a_missing_bench_is_named() {
    let ladder = ladder(
        "incline_dumbbell_press",
        r#"[{"kind":"dumbbells","unit":"kg","pairs":[8]},{"kind":"bench","angles_deg":[0]}]"#,
    );
    assert_eq!(ladder.missing[0].to_string(), "needs a bench at 15 to 50°");
}

const BAND: &str = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045}"#;

#[test]
fn a_band_adds_steps_between_dumbbells_and_says_how() {
    let with = ladder("dumbbell_curl", &format!(r#"[{{"kind":"dumbbells","unit":"kg","pairs":[5,8,12]}},{BAND}]"#));
    assert!(with.steps.len() > 3);
    assert!(with.largest_jump(Some(Kilograms(8.0))) < 0.5);
    let mixed = with.steps.iter().find(|s| !s.bands.is_empty() && s.load.is_some()).unwrap();
    assert!(mixed.label.contains("pair of") && mixed.label.contains("loop 13 mm"), "{}", mixed.label);
    assert!(mixed.setup.stance_m.is_some() && mixed.band_share > 0.0);
}

#[test]
fn an_anchored_band_walks_out_for_more() {
    let items = format!(r#"[{BAND},{{"kind":"anchor","heights_m":[1.2]}}]"#);
    let steps = ladder("band_fly", &items).steps;
    assert!(steps.len() >= 3);
    for pair in steps.windows(2) {
        assert!(pair[0].setup.anchor_distance_m < pair[1].setup.anchor_distance_m);
    }
}

#[test]
fn band_help_makes_a_chin_up_lighter_and_weight_heavier() {
    let items = r#"[{"kind":"pull_up_bar","height_m":2.2},{"kind":"dumbbells","unit":"kg","singles":[5]},
        {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.032,"thickness_m":0.0045}]"#;
    let loads = effective(&ladder("chin_up", items));
    let body = 75.0 * (1.0 - 0.0446);
    // Under the foot of a long leg the loop helps about three times as much as under the knee.
    let [foot, knee, own, more] = loads[..] else { panic!("{loads:?}") };
    assert!((own - body).abs() < 0.01 && (more - body - 5.0).abs() < 0.01, "{loads:?}");
    let helps = (body - foot) / (body - knee);
    assert!(body - knee > 5.0 && (2.0..3.5).contains(&helps), "{loads:?}");
}

#[test]
fn push_ups_use_the_heights_of_the_room() {
    let items = r#"[{"kind":"box","height_m":0.3,"count":1},{"kind":"backpack","max_kg":10}]"#;
    let steps = ladder("push_up", items).steps;
    assert!(steps.iter().any(|s| s.setup.hands_height_m == Some(Metres(0.3))));
    assert!(steps.iter().any(|s| s.setup.knees == Some(true)));
    assert!(steps.last().unwrap().load.is_some(), "a backpack tops the ladder");
}

#[test]
fn a_gap_of_half_gets_no_bridge_by_reps_alone() {
    let catalogue = load().unwrap();
    let curl = catalogue.movement("dumbbell_curl").unwrap();
    let (person, room) = (person(), kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[8,12]}]"#));
    let ladder = Ladder::of(curl, &person, &room);
    let ground = Ground { movement: curl, person: &person, kit: &room };
    let gaps = bridges(&ladder, &ground, Some(Kilograms(8.0)), Landing { reps: 6, rir: 2 });
    assert!((gaps[0].jump - 0.5).abs() < 1e-9);
    assert!(gaps[0].ways.is_empty(), "no band is promised where none is: {:?}", gaps[0].ways);
}

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

/// A load with what it is made of.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Recipe {
    load: f64,
    weight: Option<f64>,
    tier: u8,
}

impl Familied for Recipe {
    fn load(&self) -> f64 {
        self.load
    }

    fn cost(&self) -> u8 {
        1 + self.tier
    }

    fn tier(&self) -> u8 {
        self.tier
    }

    fn band(&self) -> Option<usize> {
        None
    }

    fn weight_kg(&self) -> Option<f64> {
        self.weight
    }
}

proptest! {
    #[test]
    fn joining_only_takes_away(costs in proptest::collection::vec((1.0f64..60.0, 1u8..5), 1..60)) {
        let raw: Vec<Rung> = costs.iter().map(|(load, cost)| Rung::bare(*load, *cost, 0.0)).collect();
        let kept = join(raw.clone());
        prop_assert!(!kept.is_empty());
        prop_assert!(kept.iter().all(|k| raw.contains(k)));
        prop_assert!(kept.windows(2).all(|w| w[0].load < w[1].load));
        prop_assert!(kept.len() <= 25);
    }

    /// What is left out before joining is nothing that joining would have kept, but for weights far below the heaviest.
    #[test]
    fn openings_leave_out_nothing_of_use(
        pairs in proptest::collection::btree_set(1u16..80, 1..12),
        bands in proptest::collection::vec(0.5f64..30.0, 1..6),
    ) {
        let weights: Vec<f64> = pairs.iter().map(|half| f64::from(*half) / 2.0).collect();
        let recipe = |weight: Option<f64>, band: f64, tier: u8| Recipe { load: weight.unwrap_or(0.0) + band, weight, tier };
        let plain: Vec<Recipe> = weights.iter().map(|w| recipe(Some(*w), 0.0, 0)).collect();
        let mut all = plain.clone();
        for band in &bands {
            all.extend(weights.iter().map(|w| recipe(Some(*w), *band, 2)));
            all.push(recipe(None, *band, 5));
        }
        let openings = Openings::beside(&distinct(&plain)).unwrap();
        let wanted: Vec<Recipe> =
            all.iter().copied().filter(|r| r.tier == 0 || openings.takes(r.load, r.weight)).collect();
        let (whole, thinned) = (join(all), join(wanted));
        let far_below = 0.66 * weights.last().unwrap();
        // Above the heaviest, steps between steps may be made with weights that are far below it: those alone are left out.
        let odd = |r: &Recipe| r.load > *weights.last().unwrap() && r.weight.is_some_and(|w| w < far_below);
        if !whole.iter().any(odd) {
            prop_assert_eq!(whole, thinned);
        }
    }

    #[test]
    fn more_dumbbells_never_shorten_a_ladder(pairs in proptest::collection::btree_set(2u8..40, 1..12), more in 2u8..40) {
        let curl = CATALOGUE.movement("dumbbell_curl").unwrap();
        let of = |set: &std::collections::BTreeSet<u8>| {
            let pairs = set.iter().map(|kg| f64::from(*kg)).collect();
            let item = KitItem::Dumbbells(bavrek_core::kit::Dumbbells { pairs, ..Default::default() });
            Ladder::of(curl, &person(), &[item]).largest_jump(None)
        };
        let mut larger = pairs.clone();
        larger.insert(more.clamp(*pairs.first().unwrap(), *pairs.last().unwrap()));
        // Within 3 % two pairs are one step, and the step above them is counted from the lighter.
        prop_assert!(of(&larger) <= (1.0 + of(&pairs)) * 1.03 - 1.0 + 1e-9);
    }
}

const LOOP: &str = r#"{"kind":"loop_band","count":COUNT,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045}"#;
const HIGH: &str = r#"{"kind":"anchor","heights_m":[2.0]}"#;

/// Every load that a kit with so many light loops allows, before they are joined.
fn band_loads(id: &str, count: u8, more: &str) -> Vec<(f64, String)> {
    let room = kit(&format!("[{}{more}]", LOOP.replace("COUNT", &count.to_string())));
    let ladder = Ladder::whole(CATALOGUE.movement(id).unwrap(), &person(), &room);
    ladder.steps.into_iter().map(|s| (s.effective_kg.value(), s.label)).collect()
}

#[test]
fn a_doubled_band_is_a_step_of_its_own_and_about_as_heavy_as_two() {
    let steps = band_loads("one_arm_band_pulldown", 1, &format!(",{HIGH}"));
    let heaviest = |doubled: bool| {
        let found = steps.iter().filter(|(_, label)| label.ends_with("doubled") == doubled);
        found.map(|(kg, _)| *kg).fold(0.0, f64::max)
    };
    assert!(heaviest(true) > 1.5 * heaviest(false), "{steps:?}");
}

#[test]
fn two_of_the_same_band_join_where_both_are_stood_on() {
    let one = band_loads("band_curl", 1, "");
    let two = band_loads("band_curl", 2, "");
    assert!(one.iter().all(|(_, label)| !label.contains(" + ")));
    let pair = two.iter().find(|(_, label)| label.contains("loop 13 mm + loop 13 mm")).unwrap();
    let plain = one.iter().find(|(_, label)| !label.contains("nearer") && label.contains("0.2 m wide")).unwrap();
    assert!((pair.0 / plain.0 - 2.0).abs() < 0.01, "{pair:?} of {plain:?}");
}

#[test]
fn a_step_with_a_doubled_band_can_be_set_up_again() {
    let room = kit(&format!("[{},{HIGH}]", LOOP.replace("COUNT", "1")));
    let movement = CATALOGUE.movement("one_arm_band_pulldown").unwrap();
    let ladder = Ladder::of(movement, &person(), &room);
    let doubled = ladder.steps.iter().find(|s| s.label.ends_with("doubled")).unwrap();
    assert!(Ladder::can_set_up(movement, &person(), &room, doubled));
    assert!(!Ladder::can_set_up(movement, &person(), &kit(&format!("[{HIGH}]")), doubled));
}

// Families: a ladder that a client can follow.

const BANDS: &str = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.045,"thickness_m":0.0045}"#;
const COARSE: &str = r#"{"kind":"dumbbells","unit":"kg","pairs":[5,8,12,20]}"#;
const FLAT: &str = r#"{"kind":"bench","angles_deg":[0]}"#;

fn labels(exercise: &str, items: &str) -> Vec<String> {
    ladder(exercise, items).steps.into_iter().map(|s| s.label).collect()
}

#[test]
fn a_bench_press_climbs_weight_by_weight_and_then_by_bands() {
    let found = labels("dumbbell_bench_press", &format!("[{COARSE},{FLAT},{BANDS}]"));
    let plain: Vec<_> = found.iter().filter(|l| !l.contains("loop")).collect();
    assert_eq!(plain, ["pair of 5 kg", "pair of 8 kg", "pair of 12 kg", "pair of 20 kg"], "nothing obvious is pruned");
    let top = found.iter().position(|l| l == "pair of 20 kg").unwrap();
    assert_eq!(
        found[top + 1],
        "pair of 20 kg + loop 13 mm",
        "the heavy pair goes on with the lightest band: {found:?}"
    );
    assert!(found[top + 1..].iter().all(|l| l.starts_with("pair of 20 kg")), "{found:?}");
}

#[rstest]
#[case::press("dumbbell_bench_press")]
#[case::curl("dumbbell_curl")]
#[case::band_curl("band_curl")]
#[case::side_raise("side_raise")]
#[case::band_row("band_row")]
#[case::push_up("push_up")]
#[case::chin_up("chin_up")]
#[case::inverted_row("inverted_row")]
fn a_ladder_can_be_followed(#[case] exercise: &str) {
    let many = (1..=40).map(|k| k.to_string()).collect::<Vec<_>>().join(",");
    for dumbbells in [COARSE.to_owned(), format!(r#"{{"kind":"dumbbells","unit":"kg","pairs":[{many}]}}"#)] {
        let items = format!(
            r#"[{dumbbells},{FLAT},{BANDS},{{"kind":"anchor","heights_m":[0.1,1.2,2.0]}},{{"kind":"rings","max_height_m":2.3}},{{"kind":"pull_up_bar","height_m":2.3}},{{"kind":"backpack","max_kg":20}},{{"kind":"box","height_m":0.3,"count":1}}]"#
        );
        let steps = ladder(exercise, &items).steps;
        assert!((3..=25).contains(&steps.len()), "{} steps", steps.len());
        for pair in steps.windows(2) {
            let jump = pair[1].effective_kg.value() / pair[0].effective_kg.value();
            let changes = pair[0].implements != pair[1].implements;
            assert!(jump > 1.0 && (!changes || jump >= 1.029), "{} to {}: {jump:.3}", pair[0].label, pair[1].label);
        }
    }
}

/// One band is walked out in steps of twenty centimetres.
#[test]
fn a_band_is_walked_out_by_twenty_centimetres() {
    let items = format!(r#"[{BAND},{{"kind":"anchor","heights_m":[1.2]}}]"#);
    let out: Vec<f64> = ladder("band_row", &items)
        .steps
        .iter()
        .filter(|s| s.setup.band_fix.is_none())
        .map(|s| s.setup.anchor_distance_m.unwrap().value())
        .collect();
    assert!(out.len() >= 2);
    assert!(
        out.windows(2).all(|w| ((w[1] - w[0]) / 0.2).fract().min(1.0 - ((w[1] - w[0]) / 0.2).fract()) < 0.01),
        "{out:?}"
    );
}

#[rstest]
#[case::no_band(r#"[{"kind":"dumbbells","unit":"kg","pairs":[8,12]}]"#, false)]
#[case::with_a_band(r#"[{"kind":"dumbbells","unit":"kg","pairs":[8,12]},{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045}]"#, true)]
fn a_band_is_promised_only_where_one_is(#[case] items: &str, #[case] banded: bool) {
    let (movement, person, room) = (CATALOGUE.movement("dumbbell_curl").unwrap(), person(), kit(items));
    // The plain pairs alone: what a client sees who leaves the bands in the drawer.
    let mut plain = Ladder::of(movement, &person, &room);
    plain.steps.retain(|s| s.bands.is_empty());
    let ground = Ground { movement, person: &person, kit: &room };
    let gaps = bridges(&plain, &ground, None, Landing { reps: 8, rir: 2 });
    assert_eq!(gaps.len(), 1);
    let band = gaps[0].ways.iter().find(|w| w.code() == BridgeCode::AddBand);
    assert_eq!(band.is_some(), banded, "{:?}", gaps[0].ways);
    assert!(band.is_none_or(|w| w.to_string().contains("loop 13 mm")));
}

/// Repetitions before a jump are counted as they are done: with the reserve kept.
#[test]
fn repetitions_of_a_bridge_keep_the_reserve() {
    let (movement, person) = (CATALOGUE.movement("dumbbell_curl").unwrap(), person());
    let room = kit(r#"[{"kind":"dumbbells","unit":"kg","pairs":[8,10]}]"#);
    let ladder = Ladder::of(movement, &person, &room);
    let ground = Ground { movement, person: &person, kit: &room };
    let gaps = bridges(&ladder, &ground, None, Landing { reps: 8, rir: 2 });
    let more = gaps[0].ways.iter().find(|w| w.code() == BridgeCode::MoreReps).unwrap();
    assert_eq!(more, &Way::MoreReps { reps: 17, reserve: 2 });
}

#[test]
fn raised_feet_make_a_plank_harder() {
    let steps = ladder("forearm_plank", r#"[{"kind":"box","height_m":0.4,"count":1}]"#).steps;
    assert_eq!(steps.len(), 2);
    assert!(steps[0].setup.feet_height_m.is_none() && steps[1].setup.feet_height_m == Some(Metres(0.4)));
}

#[test]
fn nothing_to_stand_on_raises_no_feet() {
    for id in ["push_up", "feet_raised_push_up", "forearm_plank", "pike_push_up"] {
        let steps = ladder(id, "[]").steps;
        assert!(steps.iter().all(|s| s.setup.feet_height_m.is_none()), "{id}");
    }
    assert!(!ladder("push_up", "[]").steps.is_empty());
}

/// Body angles close the steep end of a row: neighbours lie within a third of each other.
#[rstest]
#[case::row("inverted_row")]
#[case::rear_fly("ring_rear_fly")]
#[case::curl("ring_curl")]
fn leaning_movements_have_angles_between(#[case] exercise: &str) {
    let steps = ladder(exercise, r#"[{"kind":"rings","max_height_m":2.4}]"#).steps;
    assert!(steps.len() >= 5, "{}", steps.len());
    let jumps: Vec<f64> = steps.windows(2).map(|w| w[1].effective_kg.value() / w[0].effective_kg.value()).collect();
    assert!(jumps.iter().all(|j| *j < 1.5), "{jumps:?}");
}

/// A pack can be held like a weight.
#[rstest]
#[case("backpack_row")]
#[case("backpack_curl")]
#[case("backpack_floor_press")]
#[case("backpack_overhead_extension")]
fn a_backpack_is_a_weight_in_the_hands(#[case] exercise: &str) {
    let found = ladder(exercise, r#"[{"kind":"backpack","max_kg":15}]"#);
    assert_eq!(found.steps.len(), 6);
    assert!(found.steps.iter().all(|s| s.label.contains("in the backpack")), "{}", found.steps[0].label);
    assert!(!ladder(exercise, COARSE_ONLY).missing.is_empty(), "dumbbells are another movement");
}

const COARSE_ONLY: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[5,8,12,20]}]"#;

/// A room with so many bands, adjustable dumbbells and other pieces, each a little unlike the last.
fn crowded(bands: usize, adjustable: usize, other: usize) -> Vec<KitItem> {
    let band = |i: usize| {
        let (length, width) = (1.0 + 0.002 * (i % 20) as f64, 0.006 + 0.094 * i as f64 / bands as f64);
        format!(
            r#"{{"kind":"loop_band","count":2,"flat_length_m":{length:.3},"width_m":{width:.4},"thickness_m":0.0045}}"#
        )
    };
    let dumbbell = |i: usize| {
        let (min, max, step) = (1.0 + 0.1 * i as f64, 50.0 + i as f64, 0.5 + 0.07 * i as f64);
        format!(r#"{{"kind":"adjustable_dumbbell","unit":"kg","count":2,"min":{min},"max":{max},"step":{step}}}"#)
    };
    let piece = |i: usize| match i % 5 {
        0 => format!(r#"{{"kind":"box","height_m":{:.2},"count":3}}"#, 0.1 + 0.01 * i as f64),
        1 => r#"{"kind":"bench","angles_deg":[-20,0,15,30,45,60,75]}"#.to_owned(),
        2 => r#"{"kind":"anchor","heights_m":[0.1,0.5,1.0,1.5,2.0]}"#.to_owned(),
        3 => r#"{"kind":"rings","max_height_m":2.4}"#.to_owned(),
        _ => r#"{"kind":"backpack","max_kg":40}"#.to_owned(),
    };
    let all: Vec<String> =
        (0..bands).map(band).chain((0..adjustable).map(dumbbell)).chain((0..other).map(piece)).collect();
    kit(&format!("[{}]", all.join(",")))
}

/// However much a room holds, every movement has a ladder that can be followed, and what is left out is named.
#[rstest]
#[case::as_many_as_ladders_are_made_of(24, 2, 10, 0)]
#[case::one_more(25, 2, 10, 1)]
#[case::as_many_pieces_as_a_place_takes(150, 20, 30, 126)]
fn a_crowded_room_has_short_ladders(
    #[case] bands: usize,
    #[case] adjustable: usize,
    #[case] other: usize,
    #[case] left: usize,
) {
    let room = crowded(bands, adjustable, other);
    let left_out = bands_left_out(&room);
    assert_eq!(left_out.len(), left);
    assert!(!left_out.contains(&0) && !left_out.contains(&(bands - 1)), "the lightest and the heaviest stay");
    let mut followed = 0;
    for movement in &CATALOGUE.movements {
        let steps = Ladder::of(movement, &person(), &room).steps;
        followed += usize::from(!steps.is_empty());
        assert!(steps.len() <= 25, "{}: {} steps", movement.id, steps.len());
        assert!(steps.windows(2).all(|w| w[0].effective_kg.value() < w[1].effective_kg.value()), "{}", movement.id);
        let names: Vec<String> = left_out.iter().map(|i| room[*i].name()).collect();
        let kept: Vec<String> =
            room.iter().enumerate().filter(|(i, _)| !left_out.contains(i)).map(|(_, k)| k.name()).collect();
        let gone = |band: &NamedBand| names.contains(&band.name) && !kept.contains(&band.name);
        assert!(!steps.iter().any(|s| s.bands.iter().any(gone)), "{}", movement.id);
    }
    assert!(followed > 100, "{followed}");
}

/// A second adjustable dumbbell of nearly the same settings changes no ladder but by what is within three percent.
#[test]
fn weights_that_are_nearly_alike_do_not_push_bands_out() {
    let plain = ladder(
        "dumbbell_curl",
        &format!(
            "[{}]",
            [r#"{"kind":"dumbbells","unit":"kg","pairs":[4,8,16]}"#, &LOOP.replace("COUNT", "1")].join(",")
        ),
    );
    let doubled = ladder(
        "dumbbell_curl",
        &format!(
            "[{}]",
            [r#"{"kind":"dumbbells","unit":"kg","pairs":[4,4.05,8,8.1,16]}"#, &LOOP.replace("COUNT", "1")].join(",")
        ),
    );
    let banded =
        |l: &Ladder| l.steps.iter().filter(|s| !s.bands.is_empty()).map(|s| s.label.clone()).collect::<Vec<_>>();
    assert!(banded(&plain).len() > 2, "{:?}", banded(&plain));
    assert_eq!(banded(&plain), banded(&doubled));
}
