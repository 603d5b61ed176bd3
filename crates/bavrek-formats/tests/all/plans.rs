//! Written plans, read and held against a client and a place.

use crate::asked::{ask, client};
use rstest::rstest;
use serde_json::{Value, json};

/// The same plan as text, CSV and JSON.
#[rstest]
#[case::text("Push\nBench press 3 x 8-12, 60 kg, rest 90 s\nDips 4x6\n")]
#[case::csv("day,exercise,sets,reps,kg,rest\nPush,Bench press,3,8-12,60,90\nPush,Dips,4,6,,\n")]
#[case::semicolons("Day;Exercise;Sets;Reps;Weight (kg);Rest\nPush;Bench press;3;8-12;60,0;90 s\nPush;Dips;4;6;;\n")]
#[case::json(r#"{"sessions":[{"name":"Push","exercises":[{"exercise":"Bench press","sets":3,"reps":[8,12],"kg":60,"rest":90},"Dips 4x6"]}]}"#)]
fn a_written_plan_is_one_in_every_format(#[case] text: &str) {
    let kit = json!({ "name": "Room", "kit": [{ "kind": "dumbbells", "unit": "kg", "pairs": [8, 12, 16] }] });
    let answer = ask("read", &json!({ "text": text, "client": client(), "place": kit })).unwrap();
    let session = &answer["sessions"][0];
    assert_eq!((session["name"].as_str(), session["slots"].as_array().unwrap().len()), (Some("Push"), 2));
    let [press, dips] = [0, 1].map(|i| &session["slots"][i]);
    assert_eq!(
        (&press["exercise"], &press["reference"]),
        (&json!("dumbbell_bench_press"), &json!("barbell_bench_press"))
    );
    let sets = press["prescription"]["sets"].as_array().unwrap();
    assert_eq!((sets.len(), &sets[0]["reps"], &sets[0]["rest_s"]), (3, &json!([8, 12]), &json!(90)));
    assert_eq!(press["not_stated"], json!(["tempo", "reserve"]));
    assert!(sets[0].get("tempo").is_none() && sets[0].get("rir").is_none(), "nothing is filled in");
    assert_eq!(press["load"], json!({ "kind": "stamped", "value": 60.0, "unit": "kg" }));
    assert_eq!((&dips["needs"], &dips["missing_kit"]), (&json!(["dip_bars"]), &json!(["dip_bars"])));
    let substitutes = dips["substitutes"].as_array().unwrap();
    assert!((1..=3).contains(&substitutes.len()) && substitutes.iter().all(|s| s["score"].as_f64().unwrap() > 0.0));
    assert_eq!(answer["unread"], json!([]));
}

#[rstest]
#[case::too_long(json!({ "text": "x".repeat(60_001) }), "text")]
#[case::no_json(json!({ "text": "{", "format": "json" }), "text")]
#[case::no_columns(json!({ "text": "a,b\n1,2\n", "format": "csv" }), "text")]
#[case::no_format(json!({ "text": "Curl 3x10", "format": "pdf" }), "format")]
#[case::no_client(json!({ "text": "Curl 3x10", "client": { "body_mass_kg": 7, "height_m": 1.7, "experience": "novice" } }), "client.body_mass_kg")]
fn plans_that_cannot_be_read_name_the_field(#[case] request: Value, #[case] path: &str) {
    assert_eq!(ask("read", &request).unwrap_err(), path);
}

#[test]
fn what_a_limit_rules_out_is_said_with_what_does_the_job() {
    let mut sore = client();
    sore["limits"] =
        json!([{ "joint": "shoulder", "what": "pain_deep_stretch", "side": "both", "severity": "severe" }]);
    let kit = json!({ "name": "Room", "kit": [{ "kind": "dip_bars" }, { "kind": "dumbbells", "unit": "kg", "pairs": [10, 14] }] });
    let answer = ask("read", &json!({ "text": "Dips 3x8", "client": sore, "place": kit })).unwrap();
    let slot = &answer["sessions"][0]["slots"][0];
    assert_eq!(slot["missing_kit"], json!([]));
    assert!(slot["ruled_out"][0].as_str().unwrap().contains("shoulder"), "{slot}");
    let substitutes = slot["substitutes"].as_array().unwrap();
    assert!(!substitutes.is_empty() && substitutes.iter().all(|s| s["exercise"] != "bar_dip"));
}

#[test]
fn below_half_sure_nothing_is_chosen_and_unread_lines_are_told() {
    let answer = ask("read", &json!({ "text": "Curl 3x10\nGardening 3x10\nDrink water" })).unwrap();
    let slots = answer["sessions"][0]["slots"].as_array().unwrap();
    assert_eq!(slots[0]["exercise"], "dumbbell_curl");
    assert!(slots[1].get("exercise").is_none() && slots[1].get("reference").is_none());
    assert_eq!(answer["unread"], json!([{ "line": 3, "text": "Drink water" }]));
    assert!(slots[0].get("missing_kit").is_none(), "no place, no lack");
}
