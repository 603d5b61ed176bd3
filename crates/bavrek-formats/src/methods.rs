//! Methods as open documents: JSON with a published schema.

use bavrek_core::school::{LONGEST_NAME, School};
use serde::{Deserialize, Serialize};

use crate::RequestError;
use crate::compute::{check_version, parse};

/// Longest document, bytes.
pub const LONGEST: usize = 100_000;
/// The version that is written, and the latest that is read.
pub const VERSION: u32 = 1;

/// A method with its name.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Document {
    /// Version of the format.
    pub version: u32,
    /// What it is called.
    pub name: String,
    /// Its rules; the identifier is that of the method it was copied from.
    pub method: School,
}

impl Document {
    /// A school under a name.
    pub fn of(name: &str, method: School) -> Self {
        Self { version: VERSION, name: name.to_owned(), method }
    }
}

/// Reads a method; the error names the field.
pub fn read(text: &str) -> Result<Document, RequestError> {
    if text.len() > LONGEST {
        return Err(RequestError::new(".", format!("has {} bytes; at most {LONGEST} are read", text.len())));
    }
    check_version(text, VERSION)?;
    let document: Document = parse(text.as_bytes())?;
    if document.version != VERSION {
        return Err(RequestError::new(
            "version",
            format!("is {}: only version {VERSION} is known here", document.version),
        ));
    }
    let long = document.name.chars().count();
    if document.name.trim().is_empty() || long > LONGEST_NAME || document.name.chars().any(char::is_control) {
        return Err(RequestError::new("name", format!("must have 1 to {LONGEST_NAME} characters")));
    }
    document.method.validate().map_err(|e| RequestError::new(format!("method.{}", e.path), e.message))?;
    Ok(document)
}

/// Writes a method, as people may read it.
pub fn write(document: &Document) -> String {
    serde_json::to_string_pretty(document).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    fn shipped() -> Vec<Document> {
        let schools = bavrek_catalogue::schools().unwrap();
        schools.into_iter().map(|school| Document::of(school.id.label(), school)).collect()
    }

    #[test]
    fn every_method_comes_back_as_it_went_out() {
        let all = shipped();
        assert_eq!(all.len(), 9);
        for document in all {
            assert_eq!(read(&write(&document)).as_ref(), Ok(&document), "{}", document.name);
        }
    }

    #[rstest]
    #[case::later("\"version\": 1", "\"version\": 2", "version")]
    #[case::none_such("\"version\": 1", "\"version\": 0", "version")]
    #[case::unknown("\"version\": 1", "\"version\": 1, \"colour\": 1", "colour")]
    #[case::no_name("\"name\": \"", "\"name\": \"\", \"was\": \"", "was")]
    #[case::half("\"isolation\"", "\"isolated\"", "method.isolated")]
    #[case::cut("}", "", ".")]
    fn what_is_no_method_names_its_field(#[case] from: &str, #[case] to: &str, #[case] path: &str) {
        let text = write(&shipped()[0]);
        assert!(text.contains(from));
        let error = read(&text.replacen(from, to, 1)).unwrap_err();
        assert!(error.path.starts_with(path) || path == ".", "{}: {}", error.path, error.message);
    }

    #[test]
    fn figures_that_contradict_are_refused_with_their_field() {
        let mut document = shipped().remove(0);
        document.method.movements = [5, 2];
        assert_eq!(read(&write(&document)).unwrap_err().path, "method.movements");
        document.method.movements = [2, 13];
        assert_eq!(read(&write(&document)).unwrap_err().path, "method.movements");
        document.method.movements = [2, 5];
        document.method.logic = "x".repeat(401);
        assert_eq!(read(&write(&document)).unwrap_err().path, "method.logic");
        document.method.logic = String::new();
        document.name = " ".into();
        assert_eq!(read(&write(&document)).unwrap_err().path, "name");
        document.name = "Mine".into();
        document.method.compound.clear();
        assert!(read(&write(&document)).unwrap_err().path.starts_with("method.compound"));
    }
}
