//! Documents: what is stored as a whole, as JSON. One without a version is of the first.

use serde::de::DeserializeOwned;
use serde_json::Value;
use uuid::Uuid;

use crate::StoreError;

/// The version of the documents that are written and read. The first carries no mark.
const VERSION: u64 = 1;

/// The mark of a later version.
const MARK: &str = "v";

/// Reads a document of a column, such as `slots.intent`, and row. One of a later version is refused, never guessed at.
pub(crate) fn read<T: DeserializeOwned>(value: Value, column: &'static str, row: Uuid) -> Result<T, StoreError> {
    let document = |why: String| StoreError::Document { column: column.to_owned(), row: Some(row), why };
    if let Some(mark) = value.as_object().and_then(|fields| fields.get(MARK)).filter(|m| m.as_u64() != Some(VERSION)) {
        return Err(document(format!("is of version {mark}, and this program reads version {VERSION}")));
    }
    serde_json::from_value(value).map_err(|e| document(e.to_string()))
}

/// Reads a stored text as one of the core's words.
pub(crate) fn word<T>(text: &str, read: impl Fn(&str) -> Option<T>) -> Result<T, StoreError> {
    read(text).ok_or_else(|| StoreError::Document {
        column: std::any::type_name::<T>().rsplit("::").next().unwrap_or_default().to_owned(),
        row: None,
        why: format!("unknown word {text:?}"),
    })
}

#[cfg(test)]
mod tests {
    use bavrek_core::plan::Intent;
    use rstest::rstest;
    use serde_json::json;

    use super::*;

    fn intent() -> Value {
        json!({"pattern":"fly","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3})
    }

    #[test]
    fn a_document_of_this_version_is_read() {
        let read: Intent = read(intent(), "slots.intent", Uuid::nil()).unwrap();
        assert_eq!(read.dose.reps, [8, 12]);
    }

    #[rstest]
    #[case::of_the_future(|v: &mut Value| v["v"] = json!(2), "is of version 2, and this program reads version 1")]
    #[case::with_an_unknown_field(|v: &mut Value| v["sparkle"] = json!(true), "unknown field `sparkle`")]
    #[case::without_a_field(|v: &mut Value| drop(v.as_object_mut().unwrap().remove("rir")), "missing field `rir`")]
    fn what_cannot_be_read_names_column_and_row(#[case] spoil: fn(&mut Value), #[case] says: &str) {
        let mut value = intent();
        spoil(&mut value);
        let row = Uuid::from_u128(7);
        let error = read::<Intent>(value, "slots.intent", row).unwrap_err();
        let text = error.to_string();
        assert!(text.contains("slots.intent") && text.contains(&row.to_string()) && text.contains(says), "{text}");
    }
}
