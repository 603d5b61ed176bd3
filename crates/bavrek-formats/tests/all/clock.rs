//! The clock of a session, asked as a file.

use crate::asked::{ask, near};
use rstest::rstest;
use serde_json::{Value, json};

fn pair(kind: &str, slots: &Value) -> Value {
    json!({ "blocks": [{ "kind": kind, "slots": slots }] })
}

fn slot(exercise: &str, kg: f64, sets: usize) -> Value {
    let set = json!({ "kind": "straight", "reps": [8, 12], "tempo": "2-0-1-0", "rest_s": 90 });
    json!({
        "exercise": exercise,
        "load": { "value": kg, "unit": "kg", "per": "hand" },
        "prescription": { "sets": vec![set; sets] },
    })
}

#[test]
fn a_clock_says_what_each_part_takes() {
    let mut request = pair("straight", &json!([slot("dumbbell_curl", 8.0, 3)]));
    let answer = ask("clock", &request).unwrap();
    let change = answer["change_s"].as_f64().unwrap();
    near(&answer["work_s"], 90.0, 1e-9);
    near(&answer["rest_s"], 180.0, 1e-9);
    near(&answer["total_s"], 270.0 + change, 1e-9);
    assert_eq!(answer["per_slot"][0]["set_tut_s"], json!([30.0, 30.0, 30.0]));
    assert_eq!((answer.get("over_by_s"), &answer["conflicts"]), (None, &json!([])));
    request["warm_up_s"] = json!(480);
    request["minutes"] = json!(12);
    let answer = ask("clock", &request).unwrap();
    near(&answer["total_s"], 750.0 + change, 1e-9);
    near(&answer["over_by_s"], 30.0 + change, 1e-9);
}

#[test]
fn one_pair_at_two_loads_is_said_and_costs_every_round() {
    let slots = json!([slot("dumbbell_floor_press", 20.0, 3), slot("dumbbell_curl", 8.0, 3)]);
    let mut request = pair("superset", &slots);
    let free = ask("clock", &request).unwrap();
    request["place"] = json!({ "name": "Attic", "kit": [
        { "kind": "adjustable_dumbbell", "unit": "kg", "count": 2, "min": 4, "max": 24, "step": 2 },
    ] });
    let answer = ask("clock", &request).unwrap();
    let [conflict] = &answer["conflicts"].as_array().unwrap()[..] else { panic!("{answer}") };
    assert_eq!(conflict["code"], "one_pair_two_loads");
    near(&conflict["added_s"], 80.0, 1e-9);
    let more = answer["total_s"].as_f64().unwrap() - free["total_s"].as_f64().unwrap();
    assert!((more - 80.0).abs() < 1e-9, "{more}");
}

#[test]
fn a_floor_of_time_under_load_belongs_to_the_school_that_has_one() {
    let heavy = json!({ "kind": "straight", "reps": [4, 6], "tempo": "2-0-X-0", "rest_s": 150 });
    let fives = json!([{ "exercise": "dumbbell_floor_press", "prescription": { "sets": [heavy] } }]);
    for (method, warnings) in [("heavy_compound", 0), ("slow_tempo", 0), ("high_rep_band", 1)] {
        let mut request = pair("straight", &fives);
        request["method"] = json!(method);
        let answer = ask("clock", &request).unwrap();
        assert_eq!(answer["per_slot"][0]["warnings"].as_array().unwrap().len(), warnings, "{method}");
    }
}

#[rstest]
#[case::nothing_to_do(json!({ "blocks": [{ "kind": "straight", "slots": [] }] }), "blocks[0].slots")]
#[case::forty_one(pair("circuit", &json!(vec![slot("push_up", 8.0, 1); 41])), "blocks")]
#[case::an_unknown_movement(pair("straight", &json!([slot("moon_press", 8.0, 1)])), "blocks[0].slots[0].exercise")]
#[case::no_sets(pair("straight", &json!([slot("push_up", 8.0, 0)])), "blocks[0].slots[0].prescription.sets")]
#[case::no_minutes(json!({ "blocks": [], "minutes": 5 }), "minutes")]
#[case::a_day_of_warming_up(json!({ "blocks": [], "warm_up_s": 9000 }), "warm_up_s")]
fn a_clock_that_cannot_be_worked_out_names_the_field(#[case] request: Value, #[case] path: &str) {
    assert_eq!(ask("clock", &request), Err(path.to_owned()));
}
