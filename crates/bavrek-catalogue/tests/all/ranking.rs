//! What leads what: the plain before the special, the supported before the unsupported, the head that was asked for.

use std::sync::LazyLock;

use crate::common::{intent, kit, person};
use bavrek_catalogue::load;
use bavrek_core::fit::{FitAnswer, FitQuestion, Leanings, fit};
use bavrek_core::method::Method;
use bavrek_core::movement::Catalogue;
use bavrek_core::person::{Limit, Person};
use bavrek_core::wording::told;
use rstest::rstest;

static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| load().unwrap());

const ALL: &str = r#"[{"kind":"dumbbells","unit":"kg","pairs":[2,4,6,8,10,12,14,16,18,20,24]},{"kind":"bench","angles_deg":[0,30,45,75]},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045},
    {"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045},
    {"kind":"anchor","heights_m":[0.1,1.2,2.0]},{"kind":"rings","max_height_m":2.3},{"kind":"pull_up_bar","height_m":2.3},{"kind":"chair"}]"#;

fn ask(person: &Person, pattern: &str, regions: &str, more: &str) -> FitAnswer<'static> {
    let wanted =
        intent(&format!(r#"{{"pattern":"{pattern}","regions":{{{regions}}},"reps":[8,12],"rir":2,"sets":3{more}}}"#));
    fit(&CATALOGUE, &FitQuestion::plain(person, &kit(ALL), &wanted))
}

fn score(answer: &FitAnswer<'_>, id: &str) -> f64 {
    let found = answer.candidates.iter().find(|c| c.movement.id == id);
    found.unwrap_or_else(|| panic!("{id} is not offered")).score
}

#[rstest]
#[case::bench_before_turned("horizontal_press", r#""chest_sternal":1"#, "dumbbell_bench_press", "twisting_bench_press")]
#[case::bench_before_squeezed(
    "horizontal_press",
    r#""chest_sternal":1"#,
    "dumbbell_bench_press",
    "pressed_together_bench_press"
)]
#[case::bench_before_floor("horizontal_press", r#""chest_sternal":1"#, "dumbbell_bench_press", "dumbbell_floor_press")]
#[case::bench_before_one_arm("horizontal_press", r#""chest_sternal":1"#, "dumbbell_bench_press", "one_arm_bench_press")]
#[case::bench_fly_before_floor_fly("fly", r#""chest_sternal":1"#, "dumbbell_bench_fly", "dumbbell_floor_fly")]
#[case::bench_fly_before_turned("fly", r#""chest_sternal":1"#, "dumbbell_bench_fly", "turning_fly")]
#[case::incline_before_squeezed(
    "incline_press",
    r#""chest_clavicular":1"#,
    "incline_dumbbell_press",
    "incline_pressed_together"
)]
#[case::incline_before_steep(
    "incline_press",
    r#""chest_clavicular":1"#,
    "incline_dumbbell_press",
    "high_incline_press"
)]
#[case::supported_row("close_row", r#""lats":1"#, "dumbbell_row", "two_arm_close_row")]
#[case::supported_wide_row("wide_row", r#""traps_middle":1"#, "chest_supported_wide_row", "wide_dumbbell_row")]
#[case::supported_rear_fly("rear_fly", r#""delt_rear":1"#, "chest_supported_rear_fly", "bent_over_rear_fly")]
#[case::raise_before_upright_pull("side_raise", r#""delt_side":1"#, "side_raise", "wide_upright_pull")]
#[case::kickback_before_turned("elbow_extension", r#""triceps_lateral":1"#, "dumbbell_kickback", "outward_kickback")]
#[case::curl_before_resisted(
    "elbow_flexion",
    r#""biceps_long":1,"biceps_short":1"#,
    "dumbbell_curl",
    "self_resisted_curl"
)]
#[case::press_before_push_press("overhead_press", r#""delt_front":1"#, "overhead_dumbbell_press", "leg_driven_press")]
#[case::plain_pullover("pullover", r#""lats":1"#, "lat_pullover", "chest_pullover")]
fn the_plain_leads(#[case] pattern: &str, #[case] regions: &str, #[case] first: &str, #[case] second: &str) {
    let answer = ask(&person(), pattern, regions, "");
    let (a, b) = (score(&answer, first), score(&answer, second));
    assert!(a > b, "{first} {a:.3}, {second} {b:.3}");
}

/// Where the shoulder is sore in the stretch, the floor leads the bench.
#[test]
fn a_sore_shoulder_turns_the_order_round() {
    let limit: Limit =
        serde_json::from_str(r#"{"joint":"shoulder","what":"pain_deep_stretch","side":"both","severity":"mild"}"#)
            .unwrap();
    let answer = ask(&Person { limits: vec![limit], ..person() }, "fly", r#""chest_sternal":1"#, "");
    assert!(score(&answer, "dumbbell_floor_fly") > score(&answer, "dumbbell_bench_fly"));
}

/// For one head alone, a movement with the arm where that head works leads a neutral one clearly.
#[rstest]
#[case::short_head(r#""biceps_short":1"#, "elbow_flexion", "supported_front_curl", "dumbbell_curl")]
#[case::long_head(r#""biceps_long":1"#, "elbow_flexion", "incline_bench_curl", "dumbbell_curl")]
#[case::triceps_long(r#""triceps_long":1"#, "elbow_extension", "overhead_extension", "supine_dumbbell_extension")]
fn the_arm_of_the_head_leads_clearly(
    #[case] regions: &str,
    #[case] pattern: &str,
    #[case] first: &str,
    #[case] second: &str,
) {
    let answer = ask(&person(), pattern, regions, "");
    let (a, b) = (score(&answer, first), score(&answer, second));
    assert!(a > b + 0.03, "{first} {a:.3}, {second} {b:.3}");
}

/// Heads asked for together are no work beside the target.
#[test]
fn heads_asked_for_together_do_not_count_against_each_other() {
    let both = ask(&person(), "elbow_flexion", r#""biceps_long":1,"biceps_short":1"#, "");
    assert!(score(&both, "dumbbell_curl") > score(&both, "supported_front_curl"));
    let two_of_three = ask(&person(), "elbow_extension", r#""triceps_lateral":1,"triceps_medial":1"#, "");
    let supine = two_of_three.candidates.iter().find(|c| c.movement.id == "supine_dumbbell_extension").unwrap();
    assert!(supine.parts.targeting > 0.7, "{}", supine.parts.targeting);
}

/// One side at a time costs time, not a class of rank.
#[test]
fn one_side_at_a_time_costs_little() {
    let answer = ask(&person(), "close_row", r#""lats":1"#, "");
    let (row, leader) = (score(&answer, "dumbbell_row"), answer.candidates[0].score);
    assert!(row > 0.93 * leader, "{row:.3} {leader:.3}");
}

/// No candidate says of itself what another of its words takes back.
#[test]
fn words_do_not_contradict() {
    let mut read = 0;
    for (pattern, regions) in [
        ("fly", r#""chest_sternal":1"#),
        ("horizontal_press", r#""chest_sternal":1"#),
        ("elbow_extension", r#""triceps_long":1"#),
        ("elbow_flexion", r#""biceps_long":1"#),
        ("wide_row", r#""traps_middle":1"#),
    ] {
        for emphasis in ["lengthened", "middle", "shortened"] {
            let answer = ask(&person(), pattern, regions, &format!(r#","length_emphasis":"{emphasis}""#));
            for candidate in &answer.candidates {
                read += 1;
                let kept = told(&candidate.kept).iter().any(|k| k.starts_with("hard in"));
                let lost = told(&candidate.lost).iter().any(|l| l.starts_with("less work"));
                assert!(!(kept && lost), "{}: {:?} {:?}", candidate.movement.id, candidate.kept, candidate.lost);
            }
        }
    }
    assert!(read > 100, "{read}");
}

/// What the floor takes away, and what handles add, is said from the shoulder's own curve.
#[rstest]
#[case::floor("dumbbell_floor_press", true)]
#[case::bench("dumbbell_bench_press", false)]
#[case::rings("ring_push_up", false)]
fn a_floor_press_loses_the_stretch(#[case] id: &str, #[case] loses: bool) {
    let answer = ask(&person(), "horizontal_press", r#""chest_sternal":1"#, r#","length_emphasis":"lengthened""#);
    let found = answer.candidates.iter().find(|c| c.movement.id == id).unwrap();
    assert_eq!(told(&found.lost).iter().any(|l| l.starts_with("less work lengthened")), loses, "{:?}", found.lost);
}

/// Every school gives full reach to what gives the wanted repetitions, and less to what does not.
#[test]
fn reach_is_full_where_a_step_fits() {
    let wanted =
        intent(r#"{"pattern":"horizontal_press","regions":{"chest_sternal":1},"reps":[8,12],"rir":2,"sets":3}"#);
    for method in Method::ALL {
        let (person, room) = (person(), kit(ALL));
        let answer =
            fit(&CATALOGUE, &FitQuestion { method: Some(*method), ..FitQuestion::plain(&person, &room, &wanted) });
        let bench = answer.candidates.iter().find(|c| c.movement.id == "dumbbell_bench_press").unwrap();
        assert!((bench.parts.reach - 1.0).abs() < 1e-9, "{method}: {}", bench.parts.reach);
        assert!(
            answer
                .candidates
                .iter()
                .filter(|c| c.start.reps > 45.0 && c.start.reps < 60.0)
                .all(|c| c.parts.reach < 0.6)
        );
    }
}

/// What is missing is named as it is.
#[test]
fn what_is_missing_is_named() {
    let answer = ask(&person(), "decline_press", r#""chest_costal":1"#, "");
    let out = answer.excluded.iter().find(|e| e.movement.id == "decline_bench_press").unwrap();
    assert_eq!(out.why[0].to_string(), "needs a bench that declines");
}

/// Where schools differ the plain bench version leads; what the trainer has decided leads in its place, where the shoulder
/// is sound.
#[rstest]
#[case::open_fly("fly", "{}", "dumbbell_bench_fly", "dumbbell_floor_fly")]
#[case::fly_past_the_bench("fly", r#"{"fly_end":"bench"}"#, "dumbbell_bench_fly", "dumbbell_floor_fly")]
#[case::fly_to_the_floor("fly", r#"{"fly_end":"floor"}"#, "dumbbell_floor_fly", "dumbbell_bench_fly")]
#[case::open_press("horizontal_press", "{}", "dumbbell_bench_press", "pressed_together_bench_press")]
#[case::plain_press(
    "horizontal_press",
    r#"{"squeeze":"plain"}"#,
    "dumbbell_bench_press",
    "pressed_together_bench_press"
)]
#[case::together(
    "horizontal_press",
    r#"{"squeeze":"together"}"#,
    "pressed_together_bench_press",
    "dumbbell_bench_press"
)]
#[case::together_on_the_floor(
    "horizontal_press",
    r#"{"squeeze":"together"}"#,
    "pressed_together_floor_press",
    "dumbbell_floor_press"
)]
#[case::each_for_itself("fly", r#"{"squeeze":"together"}"#, "dumbbell_bench_fly", "dumbbell_floor_fly")]
fn a_decision_of_the_trainer_leads(
    #[case] pattern: &str,
    #[case] decided: &str,
    #[case] leads: &str,
    #[case] follows: &str,
) {
    let leanings: Leanings = serde_json::from_str(decided).unwrap();
    let room = kit(
        r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,6,8,10,12,14,16,20,24]},{"kind":"bench","angles_deg":[0,30]}]"#,
    );
    let wanted = intent(&format!(
        r#"{{"pattern":"{pattern}","regions":{{"chest_sternal":1.0}},"reps":[8,12],"rir":2,"sets":3}}"#
    ));
    let person = person();
    let answer = fit(&CATALOGUE, &FitQuestion { leanings, ..FitQuestion::plain(&person, &room, &wanted) });
    let place = |id: &str| answer.candidates.iter().position(|c| c.movement.id == id).unwrap();
    assert!(
        place(leads) < place(follows),
        "{:?}",
        answer.candidates.iter().map(|c| &c.movement.id).collect::<Vec<_>>()
    );
}
