//! A week, asked as a file.

use crate::asked::{ask, client, place};
use rstest::rstest;
use serde_json::{Value, json};

/// Least repetitions and rest, s.
const SIZE: (u64, u64) = (6, 120);
const STRENGTH: (u64, u64) = (4, 150);
const GENERAL: (u64, u64) = (6, 75);

fn week(days: &Value) -> Value {
    json!({ "client": client(), "places": [place()], "days": days, "aims": { "chest_sternal": "grow" }, "method": "reserve_based" })
}

#[test]
fn a_week_answers_with_sessions_sets_and_its_bound() {
    let name = place()["name"].clone();
    let days = json!([{ "place": name, "minutes": 40, "weekday": 1 }, { "place": name, "minutes": 30, "weekday": 4 }]);
    let answer = ask("week", &week(&days)).unwrap();
    let sessions = answer["sessions"].as_array().unwrap();
    assert_eq!(sessions.len(), 2);
    let mut warned = 0;
    for (session, minutes) in sessions.iter().zip([40.0, 30.0]) {
        let seconds = session["total_s"].as_f64().unwrap();
        assert!(seconds > 0.0 && seconds <= 60.0 * minutes, "{seconds}");
        let slots: Vec<&Value> =
            session["blocks"].as_array().unwrap().iter().flat_map(|b| b["slots"].as_array().unwrap()).collect();
        assert!(!slots.is_empty());
        for slot in slots {
            assert_eq!(slot["exercise"], slot["fit"]["exercise"]);
            assert_eq!(slot["prescription"], slot["fit"]["prescription"]);
            assert!(slot["intent"]["regions"].is_object());
            // It warns of what is in the hand on the step where the line begins.
            let holds = |id: &str| slot["fit"]["implements"].as_array().unwrap().iter().any(|i| i == id);
            let warns = |code: &str| slot["fit"]["cautions"].as_array().unwrap().iter().any(|c| c["code"] == code);
            assert_eq!(warns("band_check"), holds("loop_band"), "{}", slot["fit"]["start"]);
            assert_eq!(warns("dumbbell_hands"), holds("dumbbell"), "{}", slot["fit"]["start"]);
            warned += usize::from(warns("band_check") || warns("dumbbell_hands"));
        }
        // What is answered can be asked of the clock.
        let blocks: Vec<Value> = session["blocks"].as_array().unwrap().iter().map(|b| {
            let slots: Vec<Value> = b["slots"].as_array().unwrap().iter().map(|s| {
                json!({ "exercise": s["exercise"], "setup": s["setup"], "load": s["load"], "prescription": s["prescription"] })
            }).collect();
            json!({ "kind": b["kind"], "slots": slots })
        }).collect();
        let clock = ask("clock", &json!({ "blocks": blocks, "place": place(), "client": client() })).unwrap();
        assert!(clock["total_s"].as_f64().unwrap() <= seconds, "the clock has no warm-up of its own");
    }
    assert!(warned > 0, "nothing is in the hand");
    let (objective, bound) = (answer["objective"].as_f64().unwrap(), answer["bound"].as_f64().unwrap());
    assert!(objective > 0.0 && objective <= bound);
    assert!(answer["weekly_sets"]["chest_sternal"]["direct"].as_f64().unwrap() > 0.0);
}

/// Repetitions and rests of a week's first movement: heavier for strength, shorter rests for general shape.
#[rstest]
#[case::left_out(None, SIZE)]
#[case::size(Some("size_first"), SIZE)]
#[case::strength(Some("strength_with_size"), STRENGTH)]
#[case::general(Some("general_shape"), GENERAL)]
fn what_a_client_trains_for_makes_the_doses(#[case] goal: Option<&str>, #[case] expected: (u64, u64)) {
    let mut asked = week(&json!([{ "place": place()["name"], "minutes": 40 }]));
    if let Some(goal) = goal {
        asked["goal"] = json!(goal);
    }
    let answer = ask("week", &asked).unwrap();
    let set = &answer["sessions"][0]["blocks"][0]["slots"][0]["prescription"]["sets"][0];
    assert_eq!((set["reps"][0].as_u64().unwrap(), set["rest_s"].as_u64().unwrap()), expected, "{set}");
}

#[test]
fn a_goal_that_is_none_is_named() {
    let mut asked = week(&json!([{ "place": place()["name"], "minutes": 40 }]));
    asked["goal"] = json!("fame");
    assert_eq!(ask("week", &asked).unwrap_err(), "goal");
}

#[rstest]
#[case::no_days(&json!([]), "days")]
#[case::no_such_place(&json!([{ "place": "moon", "minutes": 30 }]), "days[0].place")]
#[case::five_minutes(&json!([{ "place": place()["name"], "minutes": 5 }]), "days[0].minutes")]
#[case::a_field_too_many(&json!([{ "place": "x", "minutes": 30, "hour": 7 }]), "days[0].hour")]
fn a_week_that_cannot_be_asked_names_its_field(#[case] days: &Value, #[case] path: &str) {
    assert_eq!(ask("week", &week(days)).unwrap_err(), path);
}

/// Tired of what was before it, a line between two far pairs is left one of which he does forty: it is not proposed there. What is said of
/// a line's repetitions is what it is expected to give.
#[test]
fn no_line_is_a_set_without_end_and_each_says_what_it_expects() {
    let kit = json!([
        { "kind": "dumbbells", "unit": "kg", "pairs": [4, 12, 30] },
        { "kind": "loop_band", "count": 1, "flat_length_m": 1.04, "width_m": 0.032, "thickness_m": 0.0045 },
        { "kind": "loop_band", "count": 1, "flat_length_m": 1.04, "width_m": 0.022, "thickness_m": 0.0045 },
        { "kind": "anchor", "heights_m": [0.1, 1.2, 2.0], "door": true },
        { "kind": "box", "height_m": 0.4, "count": 1 },
    ]);
    let sore = json!({ "joint": "elbow", "what": "pain_overhead", "side": "both", "severity": "mild" });
    let asked = json!({
        "client": { "sex": "male", "body_mass_kg": 90, "height_m": 1.84, "experience": "advanced", "age_years": 20, "limits": [sore] },
        "places": [{ "name": "garage", "kit": kit }],
        "days": [{ "place": "garage", "minutes": 75, "weekday": 6 }],
        "aims": { "chest_sternal": "focus", "delt_front": "keep", "traps_middle": "grow" },
        "method": "slow_tempo",
        "goal": "strength_with_size",
    });
    let answer = ask("week", &asked).unwrap();
    let blocks = answer["sessions"][0]["blocks"].as_array().unwrap();
    let lines: Vec<&Value> = blocks.iter().flat_map(|b| b["slots"].as_array().unwrap()).collect();
    assert!(lines.len() >= 4, "{}", lines.len());
    let mut said = 0;
    for line in lines {
        let Some(expected) = line["fit"]["start"]["expected_reps"].as_u64() else { continue };
        assert!(expected <= 40, "{}: {expected}", line["exercise"]);
        let reasons = line["fit"]["reasons"].as_array().unwrap();
        let of_reps = reasons
            .iter()
            .filter_map(|r| r.as_str()?.split("about ").nth(1)?.strip_suffix(" reps expected with 2 in reserve"));
        for reps in of_reps {
            assert_eq!(reps.parse::<u64>().unwrap(), expected, "{}: {reasons:?}", line["exercise"]);
            said += 1;
        }
    }
    assert!(said >= 3, "{said}");
}
