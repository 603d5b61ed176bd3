//! Questions as programs ask them, of the shipped knowledge.

use bavrek_catalogue::Intake;
use bavrek_core::movement::Catalogue;
use bavrek_formats::compute::{Knowledge, run};
use serde_json::{Value, json};
use std::sync::LazyLock;

pub(crate) static CATALOGUE: LazyLock<Catalogue> = LazyLock::new(|| bavrek_catalogue::load().unwrap());
pub(crate) static INTAKE: LazyLock<Intake> = LazyLock::new(|| bavrek_catalogue::intake().unwrap());
pub(crate) static KNOWLEDGE: LazyLock<Knowledge<'static>> =
    LazyLock::new(|| Knowledge { catalogue: &CATALOGUE, volumes: &INTAKE.volumes, schools: &INTAKE.schools });

pub(crate) fn ask(name: &str, request: &Value) -> Result<Value, String> {
    run(&KNOWLEDGE, name, request.to_string().as_bytes()).map_err(|e| e.path)
}

pub(crate) fn client() -> Value {
    json!({ "body_mass_kg": 75, "height_m": 1.75, "experience": "intermediate" })
}

pub(crate) fn loop_band(width_m: f64) -> Value {
    json!({ "kind": "loop_band", "count": 1, "flat_length_m": 1.04, "width_m": width_m, "thickness_m": 0.0045 })
}

pub(crate) fn near(value: &Value, expected: f64, tolerance: f64) {
    let actual = value.as_f64().unwrap();
    assert!((actual - expected).abs() <= tolerance, "{actual} is not {expected} within {tolerance}");
}

pub(crate) fn place() -> Value {
    json!({ "name": "flat", "kit": [
        { "kind": "dumbbells", "unit": "kg", "pairs": [5, 8, 12], "singles": [20] }, loop_band(0.013), loop_band(0.022)
    ]})
}
