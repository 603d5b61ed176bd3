//! Barbells, kettlebells and handles with plates: what they can be loaded to, what they carry, and who lies under them.

use std::sync::LazyLock;

use crate::common::{day, kit, person};
use bavrek_catalogue::load;
use bavrek_core::anatomy::{Implement, Joint};
use bavrek_core::dose::{PerHand, StampedLoad};
use bavrek_core::fit::{ConflictCode, Mate, conflicts, ruled_out};
use bavrek_core::kit::{KitItem, full_room};
use bavrek_core::ladder::{Ladder, LadderStep, absent};
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::{Catalogue, Movement, Stance};
use bavrek_core::person::{Limit, LimitKind, Person, Severity, Side};
use bavrek_core::units::MassUnit;
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

/// 10, 20 and 30 kg, and with the small plates 2.5 kg more.
const BARBELL: &str =
    r#"{"kind":"barbell","unit":"kg","bar":10,"plates":[{"weight":1.25,"count":2},{"weight":5,"count":4}]}"#;
const BENCH: &str = r#"{"kind":"bench","angles_deg":[0,30]}"#;
const RACK: &str = r#"{"kind":"rack"}"#;
const HELPER: &str = r#"{"kind":"helper"}"#;
const BELLS: &str = r#"{"kind":"kettlebells","unit":"kg","pairs":[8,16],"singles":[24]}"#;
const PAIRS: &str = r#"{"kind":"dumbbells","unit":"kg","pairs":[6,16]}"#;
const TWO_HANDLES: &str = r#"{"kind":"plate_dumbbell","unit":"kg","count":2,"handle":2,"plates":[{"weight":2.5,"count":4},{"weight":1,"count":4},{"weight":1.25,"count":2}]}"#;

fn movement(id: &str) -> &'static Movement {
    CATALOGUE.movement(id).unwrap()
}

fn room(pieces: &[&str]) -> Vec<KitItem> {
    kit(&format!("[{}]", pieces.join(",")))
}

fn whole(id: &str, pieces: &[&str]) -> Vec<LadderStep> {
    Ladder::whole(movement(id), &person(), &room(pieces)).steps
}

fn loads(id: &str, pieces: &[&str]) -> Vec<f64> {
    whole(id, pieces).iter().filter_map(|s| s.load).map(|l| l.value).collect()
}

#[rstest]
#[case::the_bar_and_its_plates("bar_curl", &[BARBELL], &[10.0, 12.5, 20.0, 22.5, 30.0, 32.5])]
#[case::two_handles_share_the_plates("dumbbell_curl", &[TWO_HANDLES], &[2.0, 4.0, 7.0, 9.0])]
#[case::one_handle_has_them_all("dumbbell_row", &[TWO_HANDLES, BENCH], &[2.0, 4.0, 4.5, 6.0, 6.5, 7.0, 8.5, 9.0, 9.5, 11.0, 11.5, 12.0, 13.5, 14.0, 14.5, 16.0, 16.5, 18.5])]
#[case::pairs_of_bells("dumbbell_floor_press", &[BELLS], &[8.0, 16.0])]
#[case::one_bell("dumbbell_row", &[BELLS, BENCH], &[8.0, 16.0, 24.0])]
#[case::no_bell_in_a_curl("dumbbell_curl", &[BELLS], &[])]
#[case::a_bell_is_no_bar("bar_curl", &[BELLS], &[])]
#[case::a_bar_is_no_pair("dumbbell_curl", &[BARBELL], &[])]
fn what_can_be_put_into_the_hands(#[case] id: &str, #[case] pieces: &[&str], #[case] expected: &[f64]) {
    assert_eq!(loads(id, pieces), expected);
}

#[rstest]
#[case("bar_curl", &[BARBELL], 22.5, "bar of 22.5 kg in all, 6.25 a side", Implement::Barbell)]
#[case("bar_curl", &[BARBELL], 10.0, "bar of 10 kg in all", Implement::Barbell)]
#[case("dumbbell_floor_press", &[BELLS], 16.0, "pair of 16 kg kettlebells", Implement::Kettlebell)]
#[case::of_both_the_dumbbell("dumbbell_floor_press", &[BELLS, PAIRS], 16.0, "pair of 16 kg", Implement::Dumbbell)]
#[case("overhead_extension", &[BELLS], 8.0, "one 8 kg kettlebell in both hands", Implement::Kettlebell)]
fn a_step_says_what_is_taken(
    #[case] id: &str,
    #[case] pieces: &[&str],
    #[case] kg: f64,
    #[case] words: &str,
    #[case] with: Implement,
) {
    let steps = whole(id, pieces);
    let step = steps.iter().find(|s| s.load.is_some_and(|l| (l.value - kg).abs() < 0.01)).unwrap();
    let label = step.label.split(", on").next().unwrap().split(", standing").next().unwrap();
    assert_eq!((label, step.in_hands().unwrap().0), (words, with));
    assert!(absent(movement(id), &person(), &room(pieces), step).is_empty(), "what is offered is there");
}

/// Half of a bar counts as one hand, and a bar is a little more than two dumbbells.
#[test]
fn a_bar_is_told_in_all_and_counts_by_hand() {
    let press = movement("bar_bench_press");
    let step = &whole("bar_bench_press", &[BARBELL, BENCH, RACK])[4];
    assert_eq!(step.load.unwrap().text(), "30 kg in total");
    assert!((step.effective_kg.value() - 30.0).abs() < 1e-9);
    let by_hand = step.effective_kg.value() * press.carry_over.basis / press.carry_over.ratio;
    assert!((by_hand - 12.5).abs() < 1e-9, "as hard as 12.5 kg in each hand, not 15: {by_hand}");
}

/// Over all movements: whoever lies under a bar has arms that catch it or somebody who does, and nobody else is sent there.
#[test]
fn nobody_lies_under_a_bar_that_nothing_catches() {
    use Stance::{HipsRaised, LyingBack, ShouldersOnEdge, Supine};
    let on_the_back = |m: &Movement| matches!(m.pose.stance, Supine | LyingBack | HipsRaised | ShouldersOnEdge);
    let lying = |m: &Movement| m.uses(Implement::Barbell) && on_the_back(m);
    let catches = |k: &KitItem| matches!(k, KitItem::Rack(_) | KitItem::Helper(_));
    let bare: Vec<KitItem> = full_room().into_iter().filter(|k| !catches(k)).collect();
    let mut asked = 0;
    for movement in CATALOGUE.movements.iter().filter(|m| m.uses(Implement::Barbell)) {
        assert!(!movement.cues.avoid.is_empty());
        let steps = |kit: &[KitItem]| Ladder::of(movement, &person(), kit).steps.len();
        assert!(steps(&full_room()) > 2, "{}", movement.id);
        assert_eq!(steps(&bare) == 0, lying(movement), "{}", movement.id);
        if lying(movement) {
            asked += 1;
            assert!(movement.cautions.iter().any(|c| c == "under_a_bar"), "{}", movement.id);
            for one in [RACK, HELPER] {
                let kit: Vec<KitItem> = bare.iter().cloned().chain(room(&[one])).collect();
                assert!(steps(&kit) > 2, "{} with {one}", movement.id);
            }
            // Nor by a set-up of the trainer's own: each step says what is not there.
            for step in &Ladder::whole(movement, &person(), &full_room()).steps {
                let lacks = absent(movement, &person(), &bare, step);
                assert!(lacks.iter().any(|a| a.to_string().contains("rack that catches the bar")), "{lacks:?}");
            }
            let why = Ladder::of(movement, &person(), &bare).missing;
            assert!(why.iter().any(|m| m.to_string().contains("rack that catches the bar")), "{why:?}");
        }
    }
    assert!(asked >= 5, "{asked}");
}

#[rstest]
#[case::one_bar_two_loads(("bar_curl", 20.0), ("bar_row", 30.0), &[BARBELL], true)]
#[case::one_bar_one_load(("bar_curl", 20.0), ("bar_row", 20.0), &[BARBELL], false)]
#[case::a_bar_and_dumbbells(("bar_row", 30.0), ("dumbbell_curl", 6.0), &[BARBELL, PAIRS], false)]
#[case::two_bars(("bar_curl", 20.0), ("bar_row", 30.0), &[BARBELL, BARBELL], false)]
#[case::two_bells(("dumbbell_row", 24.0), ("overhead_extension", 8.0), &[BELLS, BENCH], false)]
#[case::one_pair_of_handles(("dumbbell_curl", 4.0), ("overhead_dumbbell_press", 9.0), &[TWO_HANDLES], true)]
fn one_bar_carries_one_load(
    #[case] own: (&str, f64),
    #[case] other: (&str, f64),
    #[case] pieces: &[&str],
    #[case] conflict: bool,
) {
    let at = |(id, kg): (&str, f64)| {
        let found = whole(id, pieces).into_iter().find(|s| s.load.is_some_and(|l| (l.value - kg).abs() < 0.01));
        (movement(id), found.unwrap())
    };
    let ((a, step), (b, mates)) = (at(own), at(other));
    let found = conflicts(a, &step, &Mate { movement: b, step: &mates }, &room(pieces));
    assert_eq!(found.iter().any(|c| c.clash.code() == ConflictCode::OnePairTwoLoads), conflict, "{found:?}");
}

/// A straight bar turns no wrist: with one that hurts under load the curls on it are out, those with dumbbells eased.
#[test]
fn a_wrist_that_hurts_curls_no_straight_bar() {
    let limit =
        Limit { joint: Joint::Wrist, what: LimitKind::PainLoaded, side: Side::Both, severity: Severity::Moderate };
    let sore = Person { limits: vec![limit], ..person() };
    for (id, out) in
        [("bar_curl", true), ("bar_reverse_curl", true), ("bar_wrist_curl", true), ("dumbbell_curl", false)]
    {
        assert_eq!(!ruled_out(movement(id), &sore, &full_room()).is_empty(), out, "{id}");
        assert!(ruled_out(movement(id), &person(), &full_room()).is_empty(), "{id} without pain");
    }
}

/// What a set was done with, as a trainer says it.
#[rstest]
#[case::each_hand("dumbbell_curl", r#""load":{"value":8,"unit":"kg","per":"hand"}"#, "8 kg each hand")]
#[case::one_side("dumbbell_row", r#""load":{"value":35,"unit":"lb","per":"hand"}"#, "35 lb")]
#[case::in_both("overhead_extension", r#""load":{"value":12,"unit":"kg","per":"total"}"#, "12 kg in all")]
#[case::a_bar("bar_row", r#""load":{"value":42.5,"unit":"kg","per":"total"}"#, "42.5 kg in all")]
#[case::with_a_band(
    "dumbbell_bench_press",
    r#""load":{"value":8,"unit":"kg","per":"hand"},"bands":["loop 22 mm"]"#,
    "8 kg each hand + loop 22 mm"
)]
#[case::a_band("band_curl", r#""bands":["loop 22 mm"]"#, "loop 22 mm")]
#[case::the_body("push_up", r#""effective_kg":50"#, "body weight")]
#[case::the_body_and_a_band("push_up", r#""bands":["loop 13 mm"]"#, "body weight + loop 13 mm")]
#[case::the_body_and_a_weight("chin_up", r#""load":{"value":10,"unit":"kg","per":"total"}"#, "body weight + 10 kg")]
#[case::helped("chin_up", r#""bands":["loop 45 mm"]"#, "body weight, loop 45 mm helping")]
#[case::nothing_told("dumbbell_curl", r#""reps":8"#, "")]
fn a_set_says_what_it_was_done_with(#[case] id: &str, #[case] with: &str, #[case] told: &str) {
    let set: LoggedSet = serde_json::from_str(&format!(r#"{{"exercise":"{id}","date":"2026-03-01",{with}}}"#)).unwrap();
    assert_eq!(set.load_told(movement(id)), told);
}

/// What it came to is told where that cannot be read off what was in the hands.
#[rstest]
#[case::a_weight("dumbbell_curl", r#""load":{"value":8,"unit":"kg","per":"hand"}"#, 8.0, None)]
#[case::a_bar("bar_row", r#""load":{"value":42.5,"unit":"kg","per":"total"}"#, 21.25, None)]
#[case::with_a_band(
    "dumbbell_curl",
    r#""load":{"value":8,"unit":"kg","per":"hand"},"bands":["loop 13 mm"]"#,
    11.26,
    Some("11 kg")
)]
#[case::a_band("band_curl", r#""bands":["loop 22 mm"]"#, 8.76, Some("8.8 kg"))]
#[case::the_body("push_up", r#""reps":8"#, 59.8, Some("60 kg"))]
#[case::the_body_and_a_weight("chin_up", r#""load":{"value":10,"unit":"kg","per":"total"}"#, 81.2, Some("81 kg"))]
#[case::resisted_by_hand("self_resisted_curl", r#""reps":10"#, 8.0, None)]
#[case::told_of_no_load("dumbbell_curl", r#""reps":8"#, 0.0, None)]
fn a_set_says_what_it_came_to(
    #[case] id: &str,
    #[case] with: &str,
    #[case] effective: f64,
    #[case] told: Option<&str>,
) {
    let set: LoggedSet = serde_json::from_str(&format!(
        r#"{{"exercise":"{id}","date":"2026-03-01","effective_kg":{effective},{with}}}"#
    ))
    .unwrap();
    assert_eq!(set.comes_to(Some(movement(id))).map(|kg| format!("{kg:.1}")).as_deref(), told);
}

#[rstest]
#[case("dumbbell_curl", 100.0, true)]
#[case("dumbbell_curl", 101.0, false)]
#[case("bar_curl", 101.0, true)]
#[case("bar_curl", 301.0, false)]
#[case("bar_curl", 0.5, false)]
fn a_logged_load_is_one_that_can_be_held(#[case] id: &str, #[case] kg: f64, #[case] fine: bool) {
    let load = StampedLoad { value: kg, unit: MassUnit::Kg, per: PerHand::Total };
    let set = LoggedSet { reps: Some(8), load: Some(load), ..LoggedSet::of(id, day("2026-03-01")) };
    let checked = set.validate_as(movement(id));
    assert_eq!(checked.as_ref().err().map(|e| e.path.as_str()), (!fine).then_some("load.value"));
}
