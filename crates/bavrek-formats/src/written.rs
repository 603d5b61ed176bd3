//! Plans from elsewhere as lines of text: plain text, CSV with one row a movement, and JSON. Their fields are composed to the
//! line that somebody would have written, so that all three are read by one reader.

use bavrek_core::reading::{LONGEST_TEXT, RawLine};
use schemars::JsonSchema;
use serde::Deserialize;
use serde_json::{Map, Value};

use crate::RequestError;

/// How a plan is written down.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum Format {
    /// Plain text.
    Text,
    /// CSV.
    Csv,
    /// JSON.
    Json,
}

/// What a column or field holds, by the names people give it: lower case, letters, digits and `%` alone.
const FIELDS: &[(&str, &[&str])] = &[
    ("name", &["exercise", "exercises", "movement", "name", "lift", "exercisename"]),
    ("sets", &["sets", "set", "rounds", "setcount"]),
    ("reps", &["reps", "rep", "repetitions", "reprange", "repsrange", "targetreps"]),
    ("seconds", &["seconds", "secs", "time", "duration", "hold", "holds"]),
    ("kg", &["kg", "weightkg", "loadkg", "kilos"]),
    ("lb", &["lb", "lbs", "weightlb", "weightlbs", "loadlb", "loadlbs", "pounds"]),
    ("load", &["load", "weight"]),
    ("percent", &["percent", "%", "%1rm", "percent1rm", "intensity"]),
    ("tempo", &["tempo"]),
    ("rest", &["rest", "rests", "resttime", "restseconds", "restsec", "restsecs", "break"]),
    ("rir", &["rir", "reserve", "inreserve", "repsinreserve"]),
    ("rpe", &["rpe"]),
    ("side", &["side", "sides", "perside"]),
    ("notes", &["notes", "note", "comment", "comments", "cue", "cues", "remarks"]),
    ("session", &["session", "day", "workout", "title"]),
    ("block", &["block", "group", "superset", "order"]),
];
/// Fields of a JSON document that hold more of it.
const SESSIONS: &[&str] = &["sessions", "days", "workouts", "week", "plan"];
const SLOTS: &[&str] = &["exercises", "slots", "movements", "items", "lines"];

fn field(name: &str) -> Option<&'static str> {
    let plain: String = name.to_lowercase().chars().filter(|c| c.is_alphanumeric() || *c == '%').collect();
    FIELDS.iter().find(|(_, names)| names.contains(&plain.as_str())).map(|(field, _)| *field)
}

/// One movement's fields as they were given.
#[derive(Debug, Default)]
struct Row(Vec<(&'static str, String)>);

impl Row {
    fn get(&self, field: &str) -> Option<&str> {
        self.0.iter().find(|(name, value)| *name == field && !value.is_empty()).map(|(_, value)| value.as_str())
    }

    /// The line that says the same.
    fn line(&self) -> Option<String> {
        let bare = |text: &str| text.chars().all(|c| c.is_ascii_digit() || ".,".contains(c));
        let mut parts = vec![self.get("name")?.to_owned()];
        match (self.get("sets"), self.get("reps"), self.get("seconds")) {
            (_, Some(reps), _) if reps.contains(['x', '×']) => parts.push(reps.to_owned()),
            (Some(sets), Some(reps), _) => parts.push(format!("{sets} x {reps}")),
            (Some(sets), None, Some(time)) if bare(time) => parts.push(format!("{sets} x {time} s")),
            (Some(sets), None, Some(time)) => parts.push(format!("{sets} x {time}")),
            (Some(sets), None, None) => parts.push(format!("{sets} sets")),
            (None, Some(reps), _) => parts.push(format!("{reps} reps")),
            (None, None, Some(time)) if bare(time) => parts.push(format!("{time} s")),
            (None, None, Some(time)) => parts.push(time.to_owned()),
            (None, None, None) => {}
        }
        let unit = |text: &str, unit: &str| if bare(text) { format!("{text} {unit}") } else { text.to_owned() };
        parts.extend(self.get("kg").map(|kg| unit(kg, "kg")));
        parts.extend(self.get("lb").map(|lb| unit(lb, "lb")));
        // A bare figure states no unit: it stays a note.
        parts.extend(self.get("load").map(|load| if bare(load) { format!("(load {load})") } else { load.to_owned() }));
        parts.extend(self.get("percent").map(|p| format!("{}%", p.trim_end_matches('%').trim())));
        parts.extend(self.get("tempo").map(|tempo| format!("tempo {tempo}")));
        parts.extend(self.get("rest").map(|rest| format!("rest {}", unit(rest, "s"))));
        parts.extend(self.get("rir").map(|rir| format!("{rir} RIR")));
        parts.extend(self.get("rpe").map(|rpe| format!("RPE {rpe}")));
        let one_side =
            |side: &&str| matches!(side.to_lowercase().as_str(), "each" | "per side" | "each side" | "yes" | "true");
        parts.extend(self.get("side").filter(one_side).map(|_| "each side".to_owned()));
        parts.extend(self.get("notes").map(|notes| format!("({notes})")));
        parts.retain(|part| !part.is_empty());
        Some(parts.join(", ").replace(['\n', '\r'], " "))
    }
}

/// The lines of a plan. Where the format is not stated it is told by how the text begins.
pub fn lines(text: &str, format: Option<Format>) -> Result<Vec<RawLine>, RequestError> {
    let count = text.chars().count();
    if count > LONGEST_TEXT {
        let message = format!("has {count} characters; at most {LONGEST_TEXT} are read");
        return Err(RequestError::new("text", message));
    }
    match format.unwrap_or_else(|| told(text)) {
        Format::Text => Ok(plain(text)),
        Format::Csv => csv(text),
        Format::Json => json(text),
    }
}

fn plain(text: &str) -> Vec<RawLine> {
    let lines = text.lines().enumerate();
    lines.map(|(i, line)| RawLine { number: i + 1, session: None, text: line.trim().to_owned() }).collect()
}

/// What a text looks like.
fn told(text: &str) -> Format {
    let start = text.trim_start();
    if start.starts_with(['[', '{']) && serde_json::from_str::<Value>(start).is_ok() {
        return Format::Json;
    }
    let head = start.lines().next().unwrap_or_default();
    let columns: Vec<_> = head.split(delimiter(head)).filter_map(|name| field(name.trim_matches('"'))).collect();
    let named = columns.contains(&"name") && columns.len() > 1;
    if named { Format::Csv } else { Format::Text }
}

/// What divides the columns of a head.
fn delimiter(head: &str) -> char {
    [',', ';', '\t'].into_iter().max_by_key(|c| head.matches(*c).count()).unwrap_or(',')
}

fn csv(text: &str) -> Result<Vec<RawLine>, RequestError> {
    let head = text.trim_start().lines().next().unwrap_or_default();
    let refused = |e: csv::Error| RequestError::new("text", format!("is no CSV that can be read: {e}"));
    let mut reader = csv::ReaderBuilder::new()
        .delimiter(delimiter(head) as u8)
        .flexible(true)
        .trim(csv::Trim::All)
        .from_reader(text.trim_start().as_bytes());
    let columns: Vec<Option<&'static str>> = reader.headers().map_err(refused)?.iter().map(field).collect();
    if !columns.contains(&Some("name")) {
        let message = "names no column \"exercise\" in its first line: without it nobody knows which movement is meant";
        return Err(RequestError::new("text", message));
    }
    let mut lines = Vec::new();
    for record in reader.records() {
        let record = record.map_err(refused)?;
        let number = record.position().map_or(0, |p| p.line() as usize);
        let row = Row(columns
            .iter()
            .zip(&record)
            .filter_map(|(column, value)| Some(((*column)?, value.to_owned())))
            .collect());
        lines.extend(labelled(&row, number, None));
    }
    Ok(lines)
}

/// A row's line, with the label of its block.
fn labelled(row: &Row, number: usize, session: Option<&str>) -> Option<RawLine> {
    let line = row.line()?;
    let label = row.get("block").and_then(letter);
    let text = label.map_or(line.clone(), |letter| format!("{letter}1) {line}"));
    let session = row.get("session").or(session).map(str::to_owned);
    Some(RawLine { number, session, text })
}

/// The letter of a block: `A`, `B2`; of a numbered one that of the alphabet.
fn letter(block: &str) -> Option<char> {
    let first = block.trim().chars().next()?.to_ascii_lowercase();
    match first {
        'a'..='z' if block.trim().chars().count() <= 2 => Some(first),
        '0'..='9' => {
            let number: u32 = block.trim().parse().ok()?;
            char::from_u32(u32::from(b'a') + number % 26)
        }
        _ => None,
    }
}

fn json(text: &str) -> Result<Vec<RawLine>, RequestError> {
    let value: Value = serde_json::from_str(text)
        .map_err(|e| RequestError::new("text", format!("is no JSON that can be read: {e}")))?;
    let mut found = Vec::new();
    walk(&value, &mut Walk { session: None, block: None, blocks: 0, found: &mut found });
    if found.is_empty() {
        let message = "holds no movement: write a list of objects with \"exercise\", \"sets\" and \"reps\"";
        return Err(RequestError::new("text", message));
    }
    Ok(found)
}

struct Walk<'f> {
    session: Option<String>,
    block: Option<char>,
    blocks: u32,
    found: &'f mut Vec<RawLine>,
}

/// Goes through a document; its depth is limited by the parser.
fn walk(value: &Value, at: &mut Walk<'_>) {
    match value {
        Value::Array(items) => items.iter().for_each(|item| walk(item, at)),
        Value::String(line) => at.push(line),
        Value::Object(fields) => object(fields, at),
        _ => {}
    }
}

fn object(fields: &Map<String, Value>, at: &mut Walk<'_>) {
    let part =
        |names: &[&str]| fields.iter().find(|(name, v)| names.contains(&name.to_lowercase().as_str()) && v.is_array());
    if let Some((_, sessions)) = part(SESSIONS) {
        return walk(sessions, at);
    }
    if let Some((_, blocks)) = part(&["blocks", "supersets"]) {
        at.name(fields);
        return walk(blocks, at);
    }
    if let Some((_, slots)) = part(SLOTS) {
        let together = fields.iter().any(|(name, v)| matches!(name.as_str(), "kind" | "type") && v != "straight");
        if together {
            at.block = char::from_u32(u32::from(b'a') + at.blocks % 26);
            at.blocks += 1;
        } else {
            at.name(fields);
        }
        walk(slots, at);
        at.block = None;
        return;
    }
    let said = fields.iter().filter_map(|(name, value)| Some((field(name)?, words(value)?)));
    let row = Row(said.collect());
    let block = at.block.map(String::from);
    let row = Row(row.0.into_iter().chain(block.map(|b| ("block", b))).collect());
    let (number, session) = (at.found.len() + 1, at.session.clone());
    at.found.extend(labelled(&row, number, session.as_deref()));
}

impl Walk<'_> {
    fn name(&mut self, fields: &Map<String, Value>) {
        let name = ["name", "title", "day", "session"].iter().find_map(|key| fields.get(*key).and_then(words));
        self.session = name.or_else(|| self.session.clone());
    }

    fn push(&mut self, line: &str) {
        let text = self.block.map_or_else(|| line.to_owned(), |letter| format!("{letter}1) {line}"));
        self.found.push(RawLine { number: self.found.len() + 1, session: self.session.clone(), text });
    }
}

/// A value as it would be written; a range of two numbers as `8-12`.
fn words(value: &Value) -> Option<String> {
    match value {
        Value::String(text) => Some(text.trim().to_owned()),
        Value::Number(number) => Some(number.to_string()),
        Value::Bool(true) => Some("yes".to_owned()),
        Value::Array(items) => {
            let numbers: Vec<String> = items.iter().filter_map(words).collect();
            (!numbers.is_empty()).then(|| numbers.join(if numbers.len() == 2 { "-" } else { "/" }))
        }
        _ => None,
    }
}
