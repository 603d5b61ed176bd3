//! The computing commands: one module each, all `request -> answer` on JSON text.

mod clock;
mod dose;
mod fit;
mod force;
mod ladder;
mod next;
mod parts;
mod read;
mod week;

pub use clock::{ClockAnswer, ClockRequest};
pub use dose::{DoseAnswer, DoseRequest};
pub use fit::{FitAnswer, FitRequest};
pub use force::{ForceAnswer, ForceRequest};
pub use ladder::{LadderAnswer, LadderRequest};
pub use next::{NextAnswer, NextRequest};
pub use read::{ReadAnswer, ReadRequest};
pub use week::{WeekAnswer, WeekRequest};

use bavrek_core::aims::Volumes;
use bavrek_core::movement::Catalogue;
use bavrek_core::school::School;
use serde::Serialize;
use serde::de::DeserializeOwned;

use crate::RequestError;

/// Names of the commands.
pub const NAMES: [&str; 8] = ["force", "ladder", "fit", "dose", "read", "clock", "next", "week"];

/// What the commands know besides what they are asked.
#[derive(Debug, Clone, Copy)]
pub struct Knowledge<'a> {
    /// The movements.
    pub catalogue: &'a Catalogue,
    /// Usual weekly sets.
    pub volumes: &'a Volumes,
    /// The schools.
    pub schools: &'a [School],
}

/// Answers a request by name.
pub fn run(knowledge: &Knowledge<'_>, name: &str, request: &[u8]) -> Result<serde_json::Value, RequestError> {
    let catalogue = knowledge.catalogue;
    match name {
        "force" => json(&force::answer(&parse(request)?)?),
        "ladder" => json(&ladder::answer(catalogue, &parse(request)?)?),
        "fit" => json(&fit::answer(catalogue, &parse(request)?)?),
        "dose" => json(&dose::answer(catalogue, &parse(request)?)?),
        "read" => json(&read::answer(catalogue, &parse(request)?)?),
        "clock" => json(&clock::answer(catalogue, &parse(request)?)?),
        "next" => json(&next::answer(catalogue, &parse(request)?)?),
        "week" => json(&week::answer(knowledge, &parse(request)?)?),
        _ => Err(RequestError::new("name", format!("{name:?} is not one of {}", NAMES.join(", ")))),
    }
}

/// The JSON Schemas of requests and answers by file name.
pub fn schemas() -> Vec<(String, serde_json::Value)> {
    fn pair<Q: schemars::JsonSchema, A: schemars::JsonSchema>(name: &str) -> [(String, serde_json::Value); 2] {
        [
            (format!("{name}.request.json"), schemars::schema_for!(Q).to_value()),
            (format!("{name}.answer.json"), schemars::schema_for!(A).to_value()),
        ]
    }
    [
        pair::<ForceRequest, ForceAnswer>("force"),
        pair::<LadderRequest, LadderAnswer>("ladder"),
        pair::<FitRequest, FitAnswer>("fit"),
        pair::<DoseRequest, DoseAnswer>("dose"),
        pair::<ReadRequest, ReadAnswer>("read"),
        pair::<ClockRequest, ClockAnswer>("clock"),
        pair::<NextRequest, NextAnswer>("next"),
        pair::<WeekRequest, WeekAnswer>("week"),
    ]
    .into_iter()
    .flatten()
    .chain([
        ("template.json".to_owned(), schemars::schema_for!(bavrek_core::template::Template).to_value()),
        ("method.json".to_owned(), schemars::schema_for!(crate::methods::Document).to_value()),
    ])
    .collect()
}

/// A document of a later version may have fields that are unknown here: that is said before all else.
pub(crate) fn check_version(text: &str, latest: u32) -> Result<(), RequestError> {
    let version = serde_json::from_str::<serde_json::Value>(text).ok().and_then(|v| v.get("version")?.as_u64());
    match version.filter(|version| *version > u64::from(latest)) {
        Some(version) => {
            Err(RequestError::new("version", format!("is {version}, which is later than what is known here")))
        }
        None => Ok(()),
    }
}

pub(crate) fn parse<T: DeserializeOwned>(request: &[u8]) -> Result<T, RequestError> {
    let mut reader = serde_json::Deserializer::from_slice(request);
    let value = serde_path_to_error::deserialize(&mut reader)
        .map_err(|e| RequestError::new(known_path(&e.path().to_string()), e.inner().to_string()))?;
    reader.end().map_err(|e| RequestError::new(".", e.to_string()))?;
    Ok(value)
}

/// The path as far as it is known: text that ends too early leaves a question mark at its end.
fn known_path(path: &str) -> &str {
    match path.trim_end_matches('?').trim_end_matches('.') {
        "" => ".",
        known => known,
    }
}

fn json<T: Serialize>(answer: &T) -> Result<serde_json::Value, RequestError> {
    serde_json::to_value(answer).map_err(|e| RequestError::new(".", e.to_string()))
}
