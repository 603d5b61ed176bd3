//! The contract: figures of the load model through JSON, and refusals that name their field.

use crate::asked::{KNOWLEDGE, ask, client, loop_band, near, place};
use bavrek_formats::compute::run;
use rstest::rstest;
use serde_json::{Value, json};

#[rstest]
#[case::flat_push_up(json!({"kind":"push_up","support":"toes","hands_height_m":0,"feet_height_m":0,"hands_on":"floor"}), 51.0, 0.1)]
#[case::feet_raised(json!({"kind":"push_up","support":"toes","hands_height_m":0,"feet_height_m":0.45,"hands_on":"floor"}), 57.8, 0.2)]
#[case::on_knees(json!({"kind":"push_up","support":"knees","hands_height_m":0,"feet_height_m":0,"hands_on":"floor"}), 39.8, 0.2)]
#[case::inverted_row(json!({"kind":"inverted_row","handle_height_m":1.0,"body_angle_deg":30}), 46.35, 0.3)]
#[case::chin_up(json!({"kind":"chin_up","added":{"value":10,"unit":"kg"}}), 81.85, 0.1)]
#[case::dip_in_pounds(json!({"kind":"dip","added":{"value":10,"unit":"lb"}}), 76.39, 0.1)]
#[case::band_press(json!({"kind":"press","bench_deg":0,"band":loop_band(0.013)}), 7.47, 0.04)]
#[case::dumbbell_and_band_press(json!({"kind":"press","bench_deg":0,"dumbbell":{"value":12,"unit":"kg"},"band":loop_band(0.013)}), 19.47, 0.1)]
#[case::dumbbell_curl(json!({"kind":"single_joint","movement":"curl","upper_arm_deg":0,"torso_deg":0,"dumbbell":{"value":10,"unit":"kg"}}), 10.0, 1e-6)]
#[case::ring_curl(json!({"kind":"ring_curl","handle_height_m":1.4,"body_angle_deg":50}), 12.0, 1.2)]
fn effective_loads(#[case] rig: Value, #[case] kg: f64, #[case] tolerance: f64) {
    let answer = ask("force", &json!({ "client": client(), "rig": rig })).unwrap();
    near(&answer["effective_kg"], kg, tolerance);
    assert!(answer["curve"].as_array().unwrap().len() >= 9);
    let thirds: f64 = answer["thirds"].as_array().unwrap().iter().map(|v| v.as_f64().unwrap()).sum();
    assert!((thirds - 1.0).abs() < 1e-9);
    assert!(answer["warnings"].is_array() && answer["start_kg"].is_number() && answer["end_kg"].is_number());
}

#[rstest]
#[case::rings(json!({"kind":"push_up","support":"toes","hands_height_m":0.3,"feet_height_m":0,"hands_on":"rings"}), "unstable")]
#[case::too_high(json!({"kind":"push_up","support":"toes","hands_height_m":0.8,"feet_height_m":0,"hands_on":"floor"}), "beyond_data")]
#[case::helped(json!({"kind":"chin_up","assist_band":loop_band(0.032)}), "help_at_bottom")]
#[case::trapped(json!({"kind":"press","bench_deg":0,"band":loop_band(0.013)}), "pinned_or_slipping")]
#[case::slack_start(json!({"kind":"band_pull","band":loop_band(0.013),"anchor":[-0.9,0],"hand_start":[0.1,0],"hand_end":[0.6,0]}), "slack")]
#[case::long(json!({"kind":"band_pull","band":loop_band(0.013),"anchor":[-2.7,0],"hand_start":[0.1,0],"hand_end":[0.6,0]}), "long_stretch")]
#[case::kickback(json!({"kind":"single_joint","movement":"extension","upper_arm_deg":-90,"torso_deg":90,"dumbbell":{"value":8,"unit":"kg"}}), "no_load")]
fn a_load_with_a_reservation_says_so(#[case] rig: Value, #[case] code: &str) {
    let answer = ask("force", &json!({ "client": client(), "rig": rig })).unwrap();
    let warnings = answer["warnings"].as_array().unwrap();
    let found = warnings.iter().find(|w| w["code"] == code).unwrap_or_else(|| panic!("{warnings:?}"));
    assert!(found["text"].as_str().unwrap().len() > 10);
    assert!(answer["log_sd"].as_f64().unwrap() > 0.0);
}

#[rstest]
#[case::raise(json!({"kind":"single_joint","movement":"raise","upper_arm_deg":0,"torso_deg":0,"dumbbell":{"value":8,"unit":"kg"}}), 8.0, [0.222, 0.602, 0.176])]
#[case::pullover(json!({"kind":"single_joint","movement":"pullover","upper_arm_deg":0,"torso_deg":-90,"dumbbell":{"value":15,"unit":"kg"}}), 15.0, [0.485, 0.374, 0.140])]
#[case::overhead_extension(json!({"kind":"single_joint","movement":"extension","upper_arm_deg":180,"torso_deg":0,"dumbbell":{"value":8,"unit":"kg"}}), 8.0, [0.395, 0.395, 0.210])]
#[case::curl_in_front(json!({"kind":"single_joint","movement":"curl","upper_arm_deg":45,"torso_deg":0,"dumbbell":{"value":10,"unit":"kg"}}), 10.0, [0.421, 0.395, 0.184])]
fn single_joints_answer_the_reference_shares(#[case] rig: Value, #[case] kg: f64, #[case] thirds: [f64; 3]) {
    let answer = ask("force", &json!({ "client": client(), "rig": rig })).unwrap();
    near(&answer["effective_kg"], kg, 1e-6);
    for (value, expected) in answer["thirds"].as_array().unwrap().iter().zip(thirds) {
        near(value, expected, 0.006);
    }
}

#[test]
fn more_strands_fold_the_band() {
    let pull = |strands: u8, reach: f64| json!({"kind":"band_pull","band":loop_band(0.022),"anchor":[-reach,0],"hand_start":[0.1,0],"hand_end":[0.13,0],"strands":strands});
    let load =
        |rig| ask("force", &json!({ "client": client(), "rig": rig })).unwrap()["effective_kg"].as_f64().unwrap();
    // Folded once more it is half as long: at the same stretch twice as strong.
    let (single, doubled) = (load(pull(2, 1.455)), load(pull(4, 0.675)));
    assert!((doubled / single - 2.0).abs() < 0.06, "{single} {doubled}");
}

#[test]
fn a_band_that_helps_most_at_the_bottom_takes_its_share() {
    let load = |rig| ask("force", &json!({ "client": client(), "rig": rig })).unwrap();
    let alone = load(json!({"kind":"chin_up"}));
    let helped = load(json!({"kind":"chin_up","assist_band":loop_band(0.032)}));
    let gain = |end: &str| alone[end].as_f64().unwrap() - helped[end].as_f64().unwrap();
    assert!(gain("start_kg") > gain("end_kg") && gain("end_kg") > 0.0);
    assert!(gain("effective_kg") > 5.0 && gain("effective_kg") < 12.0);
}

#[test]
fn a_floor_fly_answers_the_reference_shares() {
    let rig = json!({"kind":"single_joint","movement":"fly","upper_arm_deg":0,"torso_deg":-90,"floor":true,"dumbbell":{"value":10,"unit":"kg"}});
    let answer = ask("force", &json!({ "client": client(), "rig": rig })).unwrap();
    for (value, expected) in answer["thirds"].as_array().unwrap().iter().zip([0.176, 0.602, 0.222]) {
        near(value, expected, 0.006);
    }
    near(&answer["curve"][0]["n_m"], 54.92, 0.3);
}

#[test]
fn a_band_from_behind_gives_three_reference_points() {
    let rig = json!({"kind":"band_pull","band":loop_band(0.013),"anchor":[-1.0,0],"hand_start":[0.1,0],"hand_end":[0.6,0],"wrapped_m":0.09});
    let answer = ask("force", &json!({ "client": client(), "rig": rig })).unwrap();
    near(&answer["start_kg"], 2.10, 0.02);
    near(&answer["end_kg"], 6.35, 0.04);
    near(&answer["curve"][6]["kg"], 4.53, 0.03);
}

#[rstest]
#[case::wall(json!({"kind":"push_up","support":"toes","hands_height_m":1.3,"feet_height_m":0,"hands_on":"floor"}), "rig.hands_height_m")]
#[case::overstretched(json!({"kind":"band_pull","band":loop_band(0.013),"anchor":[-4,0],"hand_start":[0.1,0],"hand_end":[0.6,0]}), "rig.band")]
#[case::anchor_at_hand(json!({"kind":"band_pull","band":loop_band(0.013),"anchor":[0.1,0],"hand_start":[0.1,0],"hand_end":[0.6,0]}), "rig.anchor")]
#[case::nothing_held(json!({"kind":"press","bench_deg":0}), "rig.dumbbell")]
#[case::bench_at_200(json!({"kind":"press","bench_deg":200,"dumbbell":{"value":10,"unit":"kg"}}), "rig.bench_deg")]
#[case::a_dumbbell_of_a_ton(json!({"kind":"press","bench_deg":0,"dumbbell":{"value":1000,"unit":"kg"}}), "rig.dumbbell.value")]
#[case::a_bench_is_no_band(json!({"kind":"press","bench_deg":0,"band":{"kind":"chair"}}), "rig.band.kind")]
#[case::standing_fly(json!({"kind":"single_joint","movement":"fly","upper_arm_deg":0,"torso_deg":0,"dumbbell":{"value":10,"unit":"kg"}}), "rig")]
fn rigs_that_are_refused(#[case] rig: Value, #[case] path: &str) {
    assert_eq!(ask("force", &json!({ "client": client(), "rig": rig })).unwrap_err(), path);
}

#[test]
fn a_ladder_rises_and_shows_its_gaps() {
    let request = json!({ "client": client(), "place": place(), "exercise": "dumbbell_curl", "from_effective_kg": 9 });
    let answer = ask("ladder", &request).unwrap();
    let steps = answer["steps"].as_array().unwrap();
    assert!(steps.windows(2).all(|w| w[0]["effective_kg"].as_f64() < w[1]["effective_kg"].as_f64()));
    let at = answer["at"].as_u64().unwrap() as usize;
    assert!(
        steps[at]["effective_kg"].as_f64().unwrap() <= 9.0 && steps[at + 1]["effective_kg"].as_f64().unwrap() > 9.0
    );
    assert_eq!(answer["headroom"].as_u64().unwrap() as usize, steps.len() - at - 1);
    for field in ["peak_kg", "label", "implements", "setup", "set_up_s"] {
        assert!(!steps[0][field].is_null(), "{field}");
    }
}

#[test]
fn a_ladder_without_its_kit_says_what_is_missing() {
    let request = json!({ "client": client(), "place": place(), "exercise": "chin_up" });
    let answer = ask("ladder", &request).unwrap();
    assert_eq!(answer["steps"], json!([]));
    assert_eq!(answer["missing"], json!(["needs a bar to hang from"]));
}

fn fly() -> Value {
    json!({ "pattern": "fly", "regions": { "chest_sternal": 1.0 }, "reps": [8, 12], "rir": 2, "sets": 3,
            "reference_exercise": "dumbbell_bench_fly" })
}

/// A slot may be measured against a movement of a gym, be one-sided and stop at failure; nobody logs gym movements here.
#[test]
fn an_intent_may_say_more() {
    let mut intent = fly();
    intent["reference_exercise"] = json!("cable_fly");
    intent["sides"] = json!("one");
    intent["stop"] = json!("last_to_failure");
    let request = json!({ "client": client(), "place": place(), "intent": intent, "limit": 1 });
    let first = &ask("fit", &request).unwrap()["candidates"][0];
    assert_eq!(first["unilateral"], true);
    let reserves: Vec<_> = first["prescription"]["sets"].as_array().unwrap().iter().map(|s| s["rir"].clone()).collect();
    assert_eq!(reserves, [json!(2), json!(2), json!(0)]);
    let logged = json!([{ "exercise": "cable_fly", "date": "2026-03-02", "reps": 10 }]);
    let request = json!({ "client": client(), "place": place(), "intent": fly(), "history": logged });
    assert_eq!(ask("fit", &request).unwrap_err(), "history[0].exercise");
}

/// What a reference of another muscle cannot say is said in the notes.
#[test]
fn a_reference_that_works_nothing_asked_for_is_noted() {
    let mut intent = fly();
    intent["reference_exercise"] = json!("cable_curl");
    let request = json!({ "client": client(), "place": place(), "intent": intent });
    let answer = ask("fit", &request).unwrap();
    assert!(answer["notes"][0].as_str().unwrap().contains("works none of"), "{}", answer["notes"]);
    assert!(!answer["candidates"].as_array().unwrap().is_empty());
}

#[test]
fn a_fit_answers_every_field_of_the_contract() {
    let set = |date: &str| {
        json!({ "exercise": "dumbbell_floor_fly", "date": date, "reps": 10, "rir": 2,
                "load": { "value": 8, "unit": "kg", "per": "hand" } })
    };
    let history = json!([set("2026-03-02"), set("2026-03-02"), set("2026-03-05"), set("2026-03-05")]);
    let request = json!({ "client": client(), "place": place(), "intent": fly(), "history": history, "limit": 1 });
    let answer = ask("fit", &request).unwrap();
    assert_eq!(answer["candidates"].as_array().unwrap().len(), 1);
    let first = &answer["candidates"][0];
    assert_eq!(first["exercise"], "dumbbell_floor_fly");
    assert_eq!(first["start"]["basis"], "this exercise");
    near(&first["start"]["effective_kg"], 8.0, 1e-9);
    for field in [
        "name",
        "pattern",
        "implements",
        "regions",
        "arm_position",
        "unilateral",
        "setup",
        "setup_text",
        "score",
        "parts",
        "kept",
        "lost",
        "prescription",
        "cautions",
        "reasons",
    ] {
        assert!(!first[field].is_null(), "{field}");
    }
    for part in ["targeting", "tension", "reach", "steps", "joints", "stability", "setup"] {
        assert!((0.0..=1.0).contains(&first["parts"][part].as_f64().unwrap()), "{part}");
    }
    assert_eq!(first["setup"]["surface"], "floor");
    let bench = answer["excluded"].as_array().unwrap().iter().find(|e| e["exercise"] == "dumbbell_bench_fly").unwrap();
    assert_eq!(bench["why"][0]["code"], "kit");
}

#[test]
fn a_call_answers_every_field_of_the_contract() {
    let set = |date: &str| {
        json!({ "exercise": "dumbbell_floor_fly", "date": date, "reps": 8, "rir": 2,
                "load": { "value": 8, "unit": "kg", "per": "hand" } })
    };
    let planned = json!({ "reps": [6, 8], "tempo": "2-0-1-0", "rir": 2, "kind": "straight", "rest_s": 90 });
    let mut intent = fly();
    intent["reps"] = json!([6, 8]);
    let request = json!({ "client": client(), "place": place(), "intent": intent, "today": "2026-03-09",
        "prescription": { "sets": [planned, planned] }, "history": [set("2026-03-05"), set("2026-03-05")] });
    let answer = ask("next", &request).unwrap();
    assert_eq!(answer["call"], "add_reps", "8 to 12 kg is too far: {answer}");
    assert_eq!(answer["prescription"]["sets"][0]["tempo"], "2-0-1-0", "the tempo is kept while repetitions grow");
    assert!(answer["reasons"].as_array().unwrap().len() >= 2 && answer["alternatives"].is_array());
    assert!(answer["e1rm"]["low_kg"].as_f64() < answer["e1rm"]["high_kg"].as_f64());
}

/// What was refused is held for two sessions, then proposed again; another proposal that was refused changes nothing.
#[test]
fn a_refusal_is_heeded_until_there_is_more_to_it() {
    let set = |date: &str| {
        json!({ "exercise": "dumbbell_floor_fly", "date": date, "reps": 8, "rir": 2,
                "load": { "value": 8, "unit": "kg", "per": "hand" } })
    };
    let planned = json!({ "reps": [6, 8], "tempo": "2-0-1-0", "rir": 2, "kind": "straight", "rest_s": 90 });
    let mut intent = fly();
    intent["reps"] = json!([6, 8]);
    let call = |refused: &Value, days: &[&str]| {
        let history: Vec<Value> = days.iter().flat_map(|day| [set(day), set(day)]).collect();
        let request = json!({ "client": client(), "place": place(), "intent": intent, "today": "2026-03-13",
            "prescription": { "sets": [planned, planned] }, "history": history, "refused": refused });
        ask("next", &request).unwrap()
    };
    let refused = json!([{ "call": "add_reps", "after": "2026-03-05" }]);
    let held = call(&refused, &["2026-03-05"]);
    assert_eq!(held["call"], "hold");
    assert!(held["reasons"].to_string().contains("was refused: proposed again after 2 more sessions"), "{held}");
    assert_eq!(call(&refused, &["2026-03-05", "2026-03-08", "2026-03-11"])["call"], "add_reps");
    let other = json!([{ "call": "deload", "after": "2026-03-05" }]);
    assert_eq!(call(&other, &["2026-03-05"])["call"], "add_reps");
}

#[rstest]
#[case::refused("next", json!({"client":client(),"place":place(),"intent":fly(),"prescription":{"sets":[]},"history":[],"today":"2026-03-09","refused":[{"call":"more","after":"2026-03-05"}]}), "refused[0].call")]
#[case::unknown_field("fit", json!({"client":client(),"place":place(),"intent":fly(),"colour":1}), "colour")]
#[case::unknown_name("moon", json!({}), "name")]
#[case::body_mass("fit", json!({"client":{"body_mass_kg":7,"height_m":1.7,"experience":"novice"},"place":place(),"intent":fly()}), "client.body_mass_kg")]
#[case::kit("fit", json!({"client":client(),"place":{"name":"x","kit":[{"kind":"chair"},{"kind":"dumbbells","unit":"kg","pairs":[0]}]},"intent":fly()}), "place.kit[1].pairs[0]")]
#[case::region_weight("fit", json!({"client":client(),"place":place(),"intent":{"pattern":"fly","regions":{"lats":2},"reps":[8,12],"rir":2,"sets":3}}), "intent.regions.lats")]
#[case::no_regions("fit", json!({"client":client(),"place":place(),"intent":{"pattern":"fly","regions":{},"reps":[8,12],"rir":2,"sets":3}}), "intent.regions")]
#[case::reps_backwards("fit", json!({"client":client(),"place":place(),"intent":{"pattern":"fly","regions":{"lats":1},"reps":[12,8],"rir":2,"sets":3}}), "intent.reps")]
#[case::reference("fit", json!({"client":client(),"place":place(),"intent":{"pattern":"fly","regions":{"lats":1},"reps":[8,12],"rir":2,"sets":3,"reference_exercise":"nope"}}), "intent.reference_exercise")]
#[case::stop("fit", json!({"client":client(),"place":place(),"intent":{"pattern":"fly","regions":{"lats":1},"reps":[8,12],"rir":2,"sets":3,"stop":"never"}}), "intent.stop")]
#[case::sides("fit", json!({"client":client(),"place":place(),"intent":{"pattern":"fly","regions":{"lats":1},"reps":[8,12],"rir":2,"sets":3,"sides":"three"}}), "intent.sides")]
#[case::method("fit", json!({"client":client(),"place":place(),"intent":fly(),"method":"wishful"}), "method")]
#[case::limit("fit", json!({"client":client(),"place":place(),"intent":fly(),"limit":0}), "limit")]
#[case::history("fit", json!({"client":client(),"place":place(),"intent":fly(),"history":[{"exercise":"push_up","date":"2026-03-02","reps":500}]}), "history[0].reps")]
#[case::exercise("ladder", json!({"client":client(),"place":place(),"exercise":"nope"}), "exercise")]
#[case::from_nothing("ladder", json!({"client":client(),"place":place(),"exercise":"push_up","from_effective_kg":-3}), "from_effective_kg")]
#[case::tempo("next", json!({"client":client(),"place":place(),"intent":fly(),"prescription":{"sets":[{"reps":[8,12],"tempo":"fast","kind":"straight","rest_s":90}]},"history":[],"today":"2026-03-09"}), "prescription.sets[0].tempo")]
#[case::date("next", json!({"client":client(),"place":place(),"intent":fly(),"prescription":{"sets":[]},"history":[],"today":"tomorrow"}), "today")]
fn a_bad_request_names_its_field(#[case] name: &str, #[case] request: Value, #[case] path: &str) {
    assert_eq!(ask(name, &request).unwrap_err(), path);
}

#[rstest]
#[case::not_json("{", ".")]
#[case::cut_off(r#"{"client":{"body_mass_kg":75,"#, "client")]
#[case::nothing("", ".")]
#[case::wrong_type(r#"{"client":3}"#, "client")]
fn text_that_is_no_request(#[case] text: &str, #[case] path: &str) {
    assert_eq!(run(&KNOWLEDGE, "fit", text.as_bytes()).unwrap_err().path, path);
}

#[test]
fn the_published_schemas_are_those_of_the_types() {
    let folder = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/formats");
    for (file, schema) in bavrek_formats::compute::schemas() {
        let published = std::fs::read_to_string(folder.join(&file)).unwrap_or_default();
        let published: Value = serde_json::from_str(&published).unwrap_or_default();
        assert!(published == schema, "{file} is out of date: run `bavrek schemas docs/formats`");
    }
}

// Both joints.

#[rstest]
#[case::bench(json!({"kind":"two_joint","movement":"press","dumbbell":{"value":10,"unit":"kg"}}), 0.489, Some(0.268))]
#[case::floor(json!({"kind":"two_joint","movement":"press","bottom_deg":0,"dumbbell":{"value":10,"unit":"kg"}}), 0.217, Some(0.182))]
#[case::push_up(json!({"kind":"two_joint","movement":"push_up"}), 0.519, Some(0.378))]
#[case::row(json!({"kind":"two_joint","movement":"row","dumbbell":{"value":20,"unit":"kg"}}), 0.197, None)]
fn two_joints_answer_their_thirds_and_parts(#[case] rig: Value, #[case] lengthened: f64, #[case] part: Option<f64>) {
    let answer = ask("force", &json!({ "client": client(), "rig": rig })).unwrap();
    near(&answer["shoulder"]["thirds"][0], lengthened, 0.006);
    assert!(answer["shoulder"]["work_nm"].as_f64().unwrap() > 1.0);
    assert!(answer["shoulder"]["curve"].as_array().unwrap().len() >= 9);
    match part {
        Some(part) => near(&answer["elbow_part"], part, 0.004),
        None => assert!(answer["elbow"].is_null() && answer["elbow_part"].is_null()),
    }
}

#[rstest]
#[case::nothing_to_press(json!({"kind":"two_joint","movement":"press"}), "rig.dumbbell")]
#[case::no_anchor(json!({"kind":"two_joint","movement":"press","band":loop_band(0.013)}), "rig.anchor")]
#[case::an_angle_beyond(json!({"kind":"two_joint","movement":"press","bottom_deg":-200,"dumbbell":{"value":10,"unit":"kg"}}), "rig.bottom_deg")]
fn two_joints_refuse_by_field(#[case] rig: Value, #[case] path: &str) {
    assert_eq!(ask("force", &json!({ "client": client(), "rig": rig })).unwrap_err(), path);
}

#[test]
fn a_press_answers_the_curves_of_both_joints_and_what_is_expected() {
    let press = json!({ "pattern": "horizontal_press", "regions": { "chest_sternal": 1.0 }, "reps": [8, 12], "rir": 2, "sets": 3 });
    let answer = ask("fit", &json!({ "client": client(), "place": place(), "intent": press })).unwrap();
    let candidates = answer["candidates"].as_array().unwrap();
    let floor = candidates.iter().find(|c| c["exercise"] == "dumbbell_floor_press").unwrap();
    near(&floor["curves"]["shoulder"]["thirds"][0], 0.217, 0.02);
    near(&floor["curves"]["elbow"]["part"], 0.182, 0.01);
    assert!((1..=41).contains(&floor["start"]["expected_reps"].as_u64().unwrap()));
    let held = json!({ "pattern": "trunk", "regions": { "trunk_front": 1.0 }, "reps": [8, 12], "rir": 2, "sets": 3 });
    let answer = ask("fit", &json!({ "client": client(), "place": place(), "intent": held })).unwrap();
    let plank = answer["candidates"].as_array().unwrap().iter().find(|c| c["exercise"] == "forearm_plank").unwrap();
    assert!(plank["start"]["expected_reps"].is_null());
    assert_eq!(plank["prescription"]["sets"][0]["seconds"], 30);
}

// A dose in one line.

#[test]
fn a_line_is_read_with_its_gaps() {
    let answer =
        ask("dose", &json!({ "text": "4 x 8-10 @ 3-1-1-0, 2 in reserve, last to failure, rest 90 s" })).unwrap();
    let set = |rir: u8| json!({"kind":"straight","reps":[8,10],"tempo":"3-1-1-0","rir":rir,"rest_s":90});
    assert_eq!(answer["prescription"]["sets"], json!([set(2), set(2), set(2), set(0)]));
    assert_eq!(answer["text"], "4 × 8–10 @ 3-1-1-0, 2 in reserve, last to failure, rest 90 s");
    assert_eq!(answer["not_stated"], json!(["load"]));
    let open = ask("dose", &json!({ "text": "18-9-9-14" })).unwrap();
    assert_eq!(open["prescription"]["sets"][0], json!({"kind":"straight","reps":[18,18]}));
    assert_eq!(
        (&open["text"], &open["not_stated"]),
        (&json!("18-9-9-14"), &json!(["tempo", "rest", "reserve", "load"]))
    );
    let sides = ask("dose", &json!({ "text": "3x12 each side, rest 1 min" })).unwrap();
    assert_eq!(sides["text"], "3 × 12 a side, rest 60 s");
    let total = ask("dose", &json!({ "text": "50 in as few sets as possible" })).unwrap();
    assert_eq!(total["prescription"]["sets"], json!([{"kind":"to_total","total":50}]));
    // Another movement is named as people write it, and told by its identifier.
    let compared = ask("dose", &json!({ "text": "3 x 8 at half of dumbell bench press" })).unwrap();
    let relation = &compared["prescription"]["relation"]["of_movement"];
    assert_eq!(
        (&relation["other"]["movement"], &relation["percent"]),
        (&json!("dumbbell_bench_press"), &json!([50, 50]))
    );
}

#[rstest]
#[case("3 x 8-12, slowly", "slowly")]
#[case("eight", "eight")]
#[case("3 x 8 at half of my best day", "my best day")]
fn a_word_of_a_line_that_cannot_be_read_is_named(#[case] text: &str, #[case] word: &str) {
    let error = run(&KNOWLEDGE, "dose", json!({ "text": text }).to_string().as_bytes()).unwrap_err();
    assert_eq!(error.path, "text");
    assert!(error.message.contains(word), "{}", error.message);
}
