//! A person's data as one archive: every table as JSON, which is exact, and as CSV, which a spreadsheet opens.

use std::io::{self, Cursor, Write};

use serde_json::{Map, Value, json};
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipWriter};

/// The form of the archive; raised when it changes.
const VERSION: u32 = 1;

/// A table: its name and its rows.
pub type Rows<'a> = (&'a str, &'a [Map<String, Value>]);

/// What stands in the archive beside the tables.
const READ_ME: &str = "Everything that was kept of one person, table by table.

bavrek.json   what this archive is: its version, when it was made, how many rows each table has
json/         every table as it was kept; times are UTC, masses kg, lengths m unless a field says otherwise
csv/          the same for a spreadsheet (UTF-8, comma, RFC 4180); what is nested stands in a cell as JSON, and a text
              that a spreadsheet would take for a formula begins with an apostrophe
";

/// The archive of some tables, made at a moment (RFC 3339).
pub fn zipped(tables: &[Rows<'_>], made_at: &str) -> io::Result<Vec<u8>> {
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    let options = SimpleFileOptions::default().compression_method(CompressionMethod::Deflated);
    let mut file = |name: &str, bytes: &[u8]| -> io::Result<()> {
        zip.start_file(name, options)?;
        zip.write_all(bytes)
    };
    let counts: Map<String, Value> =
        tables.iter().map(|(name, rows)| ((*name).to_owned(), json!(rows.len()))).collect();
    let about = json!({ "format": "bavrek-person", "version": VERSION, "made_at": made_at, "rows": counts });
    file("read-me.txt", READ_ME.as_bytes())?;
    file("bavrek.json", &serde_json::to_vec_pretty(&about)?)?;
    for (name, rows) in tables {
        file(&format!("json/{name}.json"), &serde_json::to_vec_pretty(rows)?)?;
        file(&format!("csv/{name}.csv"), &csv_of(rows)?)?;
    }
    Ok(zip.finish()?.into_inner())
}

/// Rows for a spreadsheet, with the columns of the first one.
fn csv_of(rows: &[Map<String, Value>]) -> io::Result<Vec<u8>> {
    let mut out = csv::Writer::from_writer(Vec::new());
    let Some(first) = rows.first() else { return Ok(Vec::new()) };
    let columns: Vec<&String> = first.keys().collect();
    out.write_record(&columns)?;
    for row in rows {
        out.write_record(columns.iter().map(|column| row.get(*column).map_or_else(String::new, cell)))?;
    }
    out.into_inner().map_err(csv::IntoInnerError::into_error)
}

/// A value as a cell.
fn cell(value: &Value) -> String {
    match value {
        Value::Null => String::new(),
        Value::String(text) => harmless(text),
        other => other.to_string(),
    }
}

/// A text that no spreadsheet takes for a formula.
pub fn harmless(text: &str) -> String {
    if text.starts_with(['=', '+', '-', '@', '\t', '\r']) { format!("'{text}") } else { text.to_owned() }
}
