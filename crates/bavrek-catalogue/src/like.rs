//! Entries that are written as what differs from another: `like = "dumbbell_curl"`.
//!
//! `like` keeps the files short and a family of movements of one mind: limits, cautions and needs stand once.
//!
//! Whatever an entry leaves out it takes from the one it is like, cue by cue. Limits add up: an entry that states one
//! keeps all others, and leaves one out only by naming it under `drop`. What belongs to one movement alone is
//! never taken: its other names, a dispute, a note on its name, its neighbours.

use std::collections::BTreeMap;

use toml::{Table, Value};

use crate::LoadError;

/// Fields that are never taken from another entry.
const OWN: [&str; 9] = ["id", "like", "synonyms", "views", "name_note", "easier", "harder", "variant_of", "yields_to"];

/// Every entry with what it takes from others filled in, in the same order.
pub(crate) fn resolve<'a>(raw: &[(&'a str, Table)]) -> Result<Vec<(&'a str, Table)>, LoadError> {
    let by_id: BTreeMap<String, &Table> = raw.iter().map(|(_, t)| (identifier(t).to_owned(), t)).collect();
    raw.iter()
        .map(|(file, entry)| {
            let mut whole = entry.clone();
            let mut next = parent(entry).map(str::to_owned);
            let mut seen = vec![identifier(entry).to_owned()];
            while let Some(id) = next {
                let refused = |message: String| LoadError::new(file, identifier(entry), message);
                if seen.contains(&id) {
                    return Err(refused(format!("like: {id:?} leads back to itself")));
                }
                let base = by_id.get(&id).ok_or_else(|| refused(format!("like: {id:?} is not known")))?;
                fill(&mut whole, base);
                next = parent(base).map(str::to_owned);
                seen.push(id);
            }
            keep_apart(entry, &mut whole);
            if let Some(plainer) = whole.remove("like") {
                whole.entry("variant_of").or_insert(plainer);
            }
            Ok((*file, whole))
        })
        .collect()
}

/// A region that an entry itself names in one list is not taken over in the other.
fn keep_apart(own: &Table, whole: &mut Table) {
    for (stated, taken) in [("direct", "assisting"), ("assisting", "direct")] {
        let named = own.get(stated).and_then(Value::as_table).filter(|_| !own.contains_key(taken));
        if let (Some(named), Some(Value::Table(other))) = (named, whole.get_mut(taken)) {
            other.retain(|region, _| !named.contains_key(region));
        }
    }
}

fn identifier(entry: &Table) -> &str {
    entry.get("id").and_then(Value::as_str).unwrap_or_default()
}

fn parent(entry: &Table) -> Option<&str> {
    entry.get("like").and_then(Value::as_str)
}

fn fill(entry: &mut Table, base: &Table) {
    for (key, value) in base.iter().filter(|(key, _)| !OWN.contains(&key.as_str())) {
        match (entry.get_mut(key), value) {
            (None, _) => {
                entry.insert(key.clone(), value.clone());
            }
            (Some(Value::Table(own)), Value::Table(cues)) if key == "cues" => {
                for (cue, text) in cues {
                    own.entry(cue.clone()).or_insert_with(|| text.clone());
                }
            }
            (Some(Value::Array(_)), Value::Array(rules)) if key == "limits" || key == "drop" => {
                merge(entry, key, rules);
            }
            _ => {}
        }
    }
    leave_out(entry);
}

/// Adds the rules of the other entry that this one does not state itself.
fn merge(entry: &mut Table, key: &str, rules: &[Value]) {
    let Some(Value::Array(own)) = entry.get_mut(key) else { return };
    let more: Vec<Value> = rules.iter().filter(|r| !own.iter().any(|o| about(o) == about(r))).cloned().collect();
    own.extend(more);
}

/// Takes dropped rules out of what was taken over.
fn leave_out(entry: &mut Table) {
    let Some(Value::Array(dropped)) = entry.get("drop").cloned() else { return };
    if let Some(Value::Array(limits)) = entry.get_mut("limits") {
        limits.retain(|limit| !dropped.iter().any(|d| about(d) == about(limit)));
    }
}

/// The joint and the kind of limit that a rule is about.
fn about(rule: &Value) -> (Option<&str>, Option<&str>) {
    let word = |key: &str| rule.get(key).and_then(Value::as_str);
    (word("joint"), word("what"))
}
