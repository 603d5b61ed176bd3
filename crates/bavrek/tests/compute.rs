//! The computing commands as a caller of the program meets them: exit status, standard output and standard error.

use std::io::Write;
use std::process::{Command, Output, Stdio};

use rstest::rstest;
use serde_json::Value;

fn run(name: &str, request: &str) -> Output {
    let mut child = Command::new(env!("CARGO_BIN_EXE_bavrek"))
        .args(["compute", name])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    child.stdin.take().unwrap().write_all(request.as_bytes()).unwrap();
    child.wait_with_output().unwrap()
}

const FORCE: &str = r#"{"client":{"body_mass_kg":75,"height_m":1.75,"experience":"novice"},
    "rig":{"kind":"push_up","support":"toes","hands_height_m":0,"feet_height_m":0,"hands_on":"floor"}}"#;
const LADDER: &str = r#"{"client":{"body_mass_kg":75,"height_m":1.75,"experience":"novice"},
    "place":{"name":"x","kit":[]},"exercise":"push_up"}"#;
const FIT: &str = r#"{"client":{"body_mass_kg":75,"height_m":1.75,"experience":"novice"},
    "place":{"name":"x","kit":[]},
    "intent":{"pattern":"horizontal_press","regions":{"chest_sternal":1},"reps":[8,12],"rir":2,"sets":3}}"#;
const NEXT: &str = r#"{"client":{"body_mass_kg":75,"height_m":1.75,"experience":"novice"},
    "place":{"name":"x","kit":[]},
    "intent":{"pattern":"horizontal_press","regions":{"chest_sternal":1},"reps":[8,12],"rir":2,"sets":1},
    "prescription":{"sets":[{"reps":[8,12],"tempo":"2-0-1-0","rir":2,"kind":"straight","rest_s":90}]},
    "history":[],"today":"2026-03-09"}"#;

#[rstest]
#[case("force", FORCE, "effective_kg")]
#[case("ladder", LADDER, "steps")]
#[case("fit", FIT, "candidates")]
#[case("next", NEXT, "call")]
fn an_answer_goes_to_standard_output(#[case] name: &str, #[case] request: &str, #[case] field: &str) {
    let output = run(name, request);
    assert_eq!(output.status.code(), Some(0), "{}", String::from_utf8_lossy(&output.stderr));
    let answer: Value = serde_json::from_slice(&output.stdout).unwrap();
    assert!(!answer[field].is_null());
    assert!(output.stderr.is_empty());
}

#[rstest]
#[case("force", "{", ".")]
#[case("guess", "{}", "name")]
#[case("ladder", r#"{"client":{"body_mass_kg":7,"height_m":1.75,"experience":"novice"},"place":{"name":"x","kit":[]},"exercise":"push_up"}"#, "client.body_mass_kg")]
fn a_refusal_goes_to_standard_error_with_status_2(#[case] name: &str, #[case] request: &str, #[case] path: &str) {
    let output = run(name, request);
    assert_eq!(output.status.code(), Some(2));
    assert!(output.stdout.is_empty());
    let refusal: Value = serde_json::from_slice(&output.stderr).unwrap();
    assert_eq!(refusal["error"]["path"], path);
    assert!(!refusal["error"]["message"].as_str().unwrap().is_empty());
}
