//! Clients as a table from elsewhere: which columns it has, and what each row says by the fields of a profile.

use csv::ReaderBuilder;
use uuid::Uuid;

use crate::log_table::{Refusal, separator};

/// Rows that are read at most.
pub const MOST_ROWS: usize = 1_000;

/// A client as a row states one.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RowClient {
    /// Its line in the file, from 1.
    pub line: u64,
    /// Its own identifier, where it has one: a row that went out comes back as the same.
    pub id: Option<Uuid>,
    /// Fields of a profile with what stands in their cells, with their units.
    pub fields: Vec<(&'static str, String)>,
    /// Whether unlikely measures were looked at and are right.
    pub confirmed: bool,
}

impl RowClient {
    /// What a field says; empty where it says nothing.
    pub fn value(&self, field: &str) -> &str {
        self.fields.iter().find(|(name, _)| *name == field).map_or("", |(_, value)| value)
    }
}

/// A table as it was read.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct ClientTable {
    /// Clients, in the order of the file.
    pub clients: Vec<RowClient>,
    /// What cannot be read.
    pub refused: Vec<Refusal>,
    /// Heads that are not known and were passed over.
    pub passed_over: Vec<String>,
    /// The head of each field, as the file has it.
    heads: Vec<(&'static str, String)>,
}

impl ClientTable {
    /// How the file calls a field.
    pub fn head<'a>(&'a self, field: &'a str) -> &'a str {
        self.heads.iter().find(|(name, _)| *name == field).map_or(field, |(_, head)| head)
    }
}

/// Fields by the heads they go by, without units.
const HEADS: [(&str, &[&str]); 14] = [
    ("id", &["id"]),
    ("confirmed", &["confirmed"]),
    ("name", &["name", "client"]),
    ("body_mass", &["body mass", "weight", "mass", "bodyweight", "body weight"]),
    ("height", &["height", "stature"]),
    ("experience", &["experience", "level"]),
    ("birth_year", &["year of birth", "birth year", "born"]),
    ("sex", &["sex", "gender"]),
    ("goal", &["goal", "aim"]),
    ("days_a_week", &["days a week", "days per week", "days"]),
    ("minutes", &["minutes", "minutes a session", "session minutes"]),
    ("time_zone", &["time zone", "timezone", "zone"]),
    ("contact", &["address", "e-mail", "email", "mail", "contact", "mobile", "phone", "telephone", "number"]),
    ("note", &["note", "notes"]),
];

/// The field of a head, and the unit that stands with it.
fn field(head: &str) -> Option<(&'static str, String)> {
    let head = head.trim().trim_start_matches('\u{feff}').to_lowercase();
    let (name, unit) = match head.split_once(['(', '[']) {
        Some((name, unit)) => (name.trim(), unit.trim_end_matches([')', ']']).trim()),
        None => (head.as_str(), ""),
    };
    let (field, _) = HEADS.iter().find(|(_, names)| names.contains(&name))?;
    Some((field, unit.to_owned()))
}

/// A cell as the profile takes it: a bare number gets its column's unit, words are the profile's.
fn said(field: &str, unit: &str, cell: &str) -> String {
    let cell = cell.trim();
    // What went out so that it is no formula comes back without its mark.
    let cell = cell.strip_prefix('\'').unwrap_or(cell);
    let bare = !cell.is_empty() && cell.chars().all(|c| c.is_ascii_digit() || matches!(c, '.' | ','));
    match field {
        "body_mass" | "height" if bare => format!("{} {unit}", cell.replace(',', ".")).trim().to_owned(),
        "experience" => cell.to_lowercase(),
        "sex" => match cell.to_lowercase().as_str() {
            "f" | "w" | "woman" => "female".into(),
            "m" | "man" => "male".into(),
            other => other.into(),
        },
        "birth_year" => cell.split(['-', '/', '.']).find(|part| part.len() == 4).unwrap_or(cell).into(),
        _ => cell.into(),
    }
}

/// Reads a table. What is wrong with a value is for the profile to say.
pub fn read(text: &str) -> ClientTable {
    let mut table = ClientTable::default();
    if let Some(before) = text.find('\u{fffd}').map(|at| &text[..at]) {
        let line = 1 + before.matches('\n').count() as u64;
        let why = "the file is not in UTF-8: save it as CSV UTF-8 and load it again".to_owned();
        table.refused.push(Refusal { line, column: String::new(), why });
        return table;
    }
    let text = text.trim_start_matches('\u{feff}').trim_start();
    let mut reader = ReaderBuilder::new().delimiter(separator(text)).flexible(true).from_reader(text.as_bytes());
    let heads: Vec<String> = reader.headers().map(|h| h.iter().map(str::to_owned).collect()).unwrap_or_default();
    let columns: Vec<(usize, &'static str, String)> =
        heads.iter().enumerate().filter_map(|(at, head)| field(head).map(|(field, unit)| (at, field, unit))).collect();
    for needed in ["name", "body_mass", "height", "experience"] {
        if columns.iter().all(|(_, field, _)| *field != needed) {
            let column = needed.replace('_', " ");
            let why = format!("there is no column {column:?}: its first line has to name the columns");
            table.refused.push(Refusal { line: 1, column, why });
        }
    }
    if !table.refused.is_empty() {
        return table;
    }
    table.heads = columns.iter().map(|(at, field, _)| (*field, heads[*at].clone())).collect();
    for record in reader.records() {
        let record = match record {
            Ok(record) => record,
            Err(error) => {
                let line = error.position().map_or(0, csv::Position::line);
                table.refused.push(Refusal { line, column: String::new(), why: format!("cannot be read: {error}") });
                continue;
            }
        };
        if record.iter().all(|cell| cell.trim().is_empty()) {
            continue;
        }
        let line = record.position().map_or(0, csv::Position::line);
        if table.clients.len() == MOST_ROWS {
            let why = format!("more than {MOST_ROWS} rows: what comes after is not read; load it as a second file");
            table.refused.push(Refusal { line, column: String::new(), why });
            break;
        }
        let cells =
            columns.iter().map(|(at, field, unit)| (*field, said(field, unit, record.get(*at).unwrap_or_default())));
        let (own, fields): (Vec<_>, Vec<_>) = cells.partition(|(field, _)| matches!(*field, "id" | "confirmed"));
        let value = |name: &str| own.iter().find(|(field, _)| *field == name).map_or("", |(_, value)| value);
        table.clients.push(RowClient {
            line,
            id: value("id").parse().ok(),
            confirmed: matches!(value("confirmed").to_lowercase().as_str(), "yes" | "true" | "1"),
            fields,
        });
    }
    let known = |at: usize| columns.iter().any(|(column, ..)| *column == at);
    let unknown = heads.iter().enumerate().filter(|(at, head)| !known(*at) && !head.trim().is_empty());
    table.passed_over = unknown.map(|(_, head)| head.clone()).collect();
    table
}
