//! Slots of one block: what gets in each other's way, and the way round it.

use std::sync::LazyLock;

use crate::common::{intent, kit, person};
use bavrek_catalogue::load;
use bavrek_core::fit::{Candidate, ConflictCode, FitAnswer, FitQuestion, Mate, Reason, Worked, conflicts, fit};
use bavrek_core::kit::KitItem;
use bavrek_core::ladder::{Ladder, LadderStep};
use bavrek_core::method::Method;
use bavrek_core::movement::{Catalogue, Movement};
use bavrek_core::wording::told;
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

const ADJUSTABLE: &str = r#"{"kind":"adjustable_dumbbell","unit":"kg","count":2,"min":4,"max":20,"step":2}"#;
const FIXED: &str = r#"{"kind":"dumbbells","unit":"kg","pairs":[8,16]}"#;
const LIGHT_FIXED: &str = r#"{"kind":"dumbbells","unit":"kg","pairs":[8]}"#;
const SINGLE: &str = r#"{"kind":"dumbbells","unit":"kg","pairs":[16],"singles":[8]}"#;
const BENCH: &str = r#"{"kind":"bench","angles_deg":[0,45]}"#;
const BAND: &str = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#;
const TWO_BANDS: &str = r#"{"kind":"loop_band","count":2,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#;
const ANCHOR: &str = r#"{"kind":"anchor","heights_m":[0.1,1.2,2.0]}"#;
const RINGS: &str = r#"{"kind":"rings","max_height_m":2.2}"#;

fn movement(id: &str) -> &'static Movement {
    CATALOGUE.movement(id).unwrap()
}

/// The step of a movement with this weight, or its first one.
fn step(id: &str, room: &[KitItem], kg: Option<f64>) -> LadderStep {
    let steps = Ladder::whole(movement(id), &person(), room).steps;
    let wanted = |s: &LadderStep| match kg {
        Some(kg) => s.bands.is_empty() && s.load.is_some_and(|l| (l.value - kg).abs() < 0.01),
        None => true,
    };
    steps.into_iter().find(wanted).unwrap_or_else(|| panic!("{id} has no step with {kg:?}"))
}

#[rstest]
#[case::one_pair_two_loads("dumbbell_bench_press", Some(16.0), "dumbbell_bench_fly", Some(8.0), &[ADJUSTABLE, BENCH], &[ConflictCode::OnePairTwoLoads])]
#[case::the_same_load("dumbbell_bench_press", Some(8.0), "dumbbell_bench_fly", Some(8.0), &[ADJUSTABLE, BENCH], &[])]
#[case::two_pairs("dumbbell_bench_press", Some(16.0), "dumbbell_bench_fly", Some(8.0), &[FIXED, BENCH], &[])]
#[case::a_fixed_and_an_adjustable_pair("dumbbell_bench_press", Some(16.0), "dumbbell_bench_fly", Some(8.0), &[ADJUSTABLE, LIGHT_FIXED, BENCH], &[])]
#[case::one_weight_beside_a_pair("dumbbell_bench_press", Some(16.0), "dumbbell_row", Some(8.0), &[SINGLE, BENCH], &[])]
#[case::one_of_two_adjustable_ones("dumbbell_row", Some(16.0), "overhead_extension", Some(8.0), &[ADJUSTABLE, BENCH], &[])]
#[case::the_bench_flips("dumbbell_bench_press", Some(8.0), "incline_dumbbell_press", Some(8.0), &[FIXED, BENCH], &[ConflictCode::BenchAngleFlip])]
#[case::two_benches("dumbbell_bench_press", Some(8.0), "incline_dumbbell_press", Some(8.0), &[FIXED, BENCH, BENCH], &[])]
#[case::the_anchor_moves("band_pulldown", None, "seated_band_row", None, &[BAND, ANCHOR], &[ConflictCode::AnchorMove])]
#[case::two_bands("band_pulldown", None, "seated_band_row", None, &[TWO_BANDS, ANCHOR], &[])]
#[case::fixed_another_way("band_curl", None, "seated_band_row", None, &[BAND, ANCHOR], &[ConflictCode::KitInUse])]
#[case::rings_at_two_heights("ring_push_up", None, "ring_chin_up", None, &[RINGS], &[ConflictCode::KitInUse])]
fn what_is_needed_twice(
    #[case] own: &str,
    #[case] own_kg: Option<f64>,
    #[case] other: &str,
    #[case] other_kg: Option<f64>,
    #[case] pieces: &[&str],
    #[case] expected: &[ConflictCode],
) {
    let room = kit(&format!("[{}]", pieces.join(",")));
    let (a, b) = (step(own, &room, own_kg), step(other, &room, other_kg));
    let codes = |own: &str, a: &LadderStep, other: &str, b: &LadderStep| {
        let found = conflicts(movement(own), a, &Mate { movement: movement(other), step: b }, &room);
        assert!(found.iter().all(|c| c.added_s.value() > 0.0 && !c.to_string().is_empty()));
        found.iter().map(|c| c.clash.code()).collect::<Vec<_>>()
    };
    assert_eq!(codes(own, &a, other, &b), expected);
    assert_eq!(codes(other, &b, own, &a), expected, "it works both ways");
}

/// One adjustable pair cannot be at the press's and the fly's load within one superset: it is said, it costs set-up,
/// and the fly is offered without changing over.
#[test]
fn the_partner_of_a_superset_is_dosed_to_fit() {
    let (room, person) = (kit(&format!("[{ADJUSTABLE},{BENCH}]")), person());
    let wanted = intent(r#"{"pattern":"fly","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
    let press = step("dumbbell_bench_press", &room, Some(10.0));
    let mates = [Mate { movement: movement("dumbbell_bench_press"), step: &press }];
    let alone = FitQuestion::plain(&person, &room, &wanted);
    let paired = FitQuestion { beside: &mates, ..alone };
    let of = |question: &FitQuestion<'_>| {
        let answer = fit(&CATALOGUE, question);
        answer.candidates.into_iter().find(|c| c.movement.id == "dumbbell_bench_fly").unwrap()
    };
    let (before, after) = (of(&alone), of(&paired));
    assert!(before.conflicts.is_empty() && after.conflicts.len() == 1);
    assert!(after.parts.setup < before.parts.setup && after.score < before.score);
    assert!(
        told(&after.lost).iter().any(|l| l.contains("not there at once") && l.contains("40 s a round")),
        "{:?}",
        after.lost
    );
    let around = told(&after.reasons).into_iter().find(|r| r.starts_with("without changing over")).unwrap();
    assert!(around.contains("pair of 10 kg"), "{around}");
    // A school of pairs minds more.
    let score = |question: FitQuestion<'_>, method| of(&FitQuestion { method, ..question }).score;
    let loss = |method| 1.0 - score(paired, method) / score(alone, method);
    assert!(loss(Some(Method::AntagonistPairs)) > loss(None));
}

/// After others in the session as well: what it would give without changing over is what is expected of who is tired.
#[test]
fn without_changing_over_is_told_of_who_is_tired() {
    let (room, person) = (kit(&format!("[{ADJUSTABLE},{BENCH}]")), person());
    let wanted = intent(r#"{"pattern":"fly","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3}"#);
    let press = step("dumbbell_bench_press", &room, Some(10.0));
    let mates = [Mate { movement: movement("dumbbell_bench_press"), step: &press }];
    let question = FitQuestion { beside: &mates, ..FitQuestion::plain(&person, &room, &wanted) };
    let told_reps = |found: &Candidate<'_>| {
        let around = found.reasons.iter().find_map(|reason| match reason {
            Reason::WithoutChanging { on, reps } => Some((on.clone(), *reps)),
            _ => None,
        });
        let (on, reps) = around.unwrap();
        let at = found.ladder.steps.iter().position(|s| s.label == on).unwrap();
        assert_eq!(Some(reps), found.reps_on(at));
        // Of the steps that leave the press's weights as they are it is the one nearest to ten, and one that trains.
        assert!(
            (5.0..=30.0).contains(&reps)
                && conflicts(found.movement, &found.ladder.steps[at], &mates[0], &room).is_empty()
        );
        reps
    };
    let fresh = fit(&CATALOGUE, &question);
    let fly = |answer: FitAnswer<'static>| {
        answer.candidates.into_iter().find(|c| c.movement.id == "dumbbell_bench_fly").unwrap()
    };
    let before = [Worked { movement: movement("dumbbell_bench_press"), sets: 4 }];
    let (then, now) = (fly(fresh.clone()), fly(fresh.after(&before)));
    assert!(told_reps(&now) < told_reps(&then) - 0.3, "{} {}", told_reps(&now), told_reps(&then));
}
