//! Cells of spreadsheets: nothing in them is taken for a formula.

use bavrek_formats::archive::{harmless, zipped};
use rstest::rstest;
use serde_json::{Map, Value, json};
use std::io::Read;

#[rstest]
#[case("=1+1", "'=1+1")]
#[case("+49 170", "'+49 170")]
#[case("-5", "'-5")]
#[case("@home", "'@home")]
#[case("\tx", "'\tx")]
#[case("a=b", "a=b")]
#[case("", "")]
fn formulas_are_texts(#[case] typed: &str, #[case] cell: &str) {
    assert_eq!(harmless(typed), cell);
}

#[test]
fn texts_and_nested_values_come_back_from_either_form() {
    let row = |note: &str, kit: Value| -> Map<String, Value> {
        [("note".to_owned(), json!(note)), ("kit".to_owned(), kit), ("kg".to_owned(), json!(-2.5))]
            .into_iter()
            .collect()
    };
    let rows = [row("=SUM(A1)", json!({ "kind": "bench" })), row("two\nlines, \"quoted\"", Value::Null)];
    let bytes = zipped(&[("places", &rows)], "2026-03-10T12:00:00Z").unwrap();
    let mut archive = zip::ZipArchive::new(std::io::Cursor::new(bytes)).unwrap();
    let mut text = |name: &str| {
        let mut text = String::new();
        archive.by_name(name).unwrap().read_to_string(&mut text).unwrap();
        text
    };
    let read: Vec<Map<String, Value>> = serde_json::from_str(&text("json/places.json")).unwrap();
    assert_eq!(read, rows);
    let csv = text("csv/places.csv");
    let mut reader = csv::Reader::from_reader(csv.as_bytes());
    let columns = reader.headers().unwrap().clone();
    let records: Vec<csv::StringRecord> = reader.records().map(Result::unwrap).collect();
    let cell = |row: usize, name: &str| &records[row][columns.iter().position(|c| c == name).unwrap()];
    assert_eq!((cell(0, "note"), cell(0, "kit"), cell(0, "kg")), ("'=SUM(A1)", "{\"kind\":\"bench\"}", "-2.5"));
    assert_eq!((cell(1, "note"), cell(1, "kit")), ("two\nlines, \"quoted\"", ""));
}
