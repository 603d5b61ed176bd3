//! The knowledge that trainers edit: movements, cautions and first guesses as TOML, checked when loaded.
//!
//! A bad entry is refused with its file, entry and field; nothing is repaired silently.

mod check;
mod intake;
mod like;

pub use intake::{Intake, StartingKit, intake, intake_from, schools, schools_from, virtual_rooms};

use std::collections::BTreeMap;

use bavrek_core::movement::PatternPrior;
use bavrek_core::movement::{Catalogue, GymMovement, Movement};
use serde::Deserialize;

/// The files that ship with the application.
const FILES: &[(&str, &str)] = &[
    ("movements/presses.toml", include_str!("../data/movements/presses.toml")),
    ("movements/push_ups.toml", include_str!("../data/movements/push_ups.toml")),
    ("movements/dips.toml", include_str!("../data/movements/dips.toml")),
    ("movements/flies_and_pullovers.toml", include_str!("../data/movements/flies_and_pullovers.toml")),
    ("movements/shoulders.toml", include_str!("../data/movements/shoulders.toml")),
    ("movements/pulls.toml", include_str!("../data/movements/pulls.toml")),
    ("movements/rows.toml", include_str!("../data/movements/rows.toml")),
    ("movements/curls.toml", include_str!("../data/movements/curls.toml")),
    ("movements/extensions.toml", include_str!("../data/movements/extensions.toml")),
    ("movements/forearm_and_trunk.toml", include_str!("../data/movements/forearm_and_trunk.toml")),
    ("movements/barbell.toml", include_str!("../data/movements/barbell.toml")),
];
const GYM: (&str, &str) = ("gym.toml", include_str!("../data/gym.toml"));
const CAUTIONS: (&str, &str) = ("cautions.toml", include_str!("../data/cautions.toml"));
const STRENGTH: (&str, &str) = ("strength.toml", include_str!("../data/strength.toml"));

/// An entry that cannot be used.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{file}: {entry}: {message}")]
pub struct LoadError {
    /// The file.
    pub file: String,
    /// The entry's identifier, or its number where it has none.
    pub entry: String,
    /// What is wrong, with the field.
    pub message: String,
}

impl LoadError {
    fn new(file: &str, entry: &str, message: impl Into<String>) -> Self {
        Self { file: file.into(), entry: entry.into(), message: message.into() }
    }
}

/// The general cautions, shown with every session.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct GeneralCautions(pub Vec<String>);

/// Loads and checks the catalogue that ships with the application.
pub fn load() -> Result<Catalogue, LoadError> {
    let mut catalogue = load_from(FILES, CAUTIONS, STRENGTH)?;
    add_gym(&mut catalogue, GYM)?;
    Ok(catalogue)
}

/// Adds the movements of a gym from a `(file name, text)` pair.
pub fn add_gym(catalogue: &mut Catalogue, source: (&str, &str)) -> Result<(), LoadError> {
    for (file, mut entry) in like::resolve(&raw(&[source], "gym")?)? {
        let id = entry.get("id").and_then(toml::Value::as_str).unwrap_or_default().to_owned();
        let refused = |message: String| LoadError::new(file, &id, message);
        // One that is like another is measured by itself all the same.
        entry.remove("variant_of");
        let movement = GymMovement::deserialize(toml::Value::Table(entry)).map_err(|e| refused(e.to_string()))?;
        check::gym_movement(catalogue, &movement).map_err(refused)?;
        catalogue.add_gym(movement);
    }
    Ok(())
}

/// Loads and checks a catalogue from `(file name, text)` pairs.
pub fn load_from(
    movement_files: &[(&str, &str)],
    cautions: (&str, &str),
    strength: (&str, &str),
) -> Result<Catalogue, LoadError> {
    let cautions = read_cautions(cautions)?;
    let priors = read_priors(strength)?;
    let mut movements = Vec::new();
    let mut origin = BTreeMap::new();
    for (file, entry) in like::resolve(&raw(movement_files, "movement")?)? {
        let id = entry.get("id").and_then(toml::Value::as_str).unwrap_or_default().to_owned();
        let movement =
            Movement::deserialize(toml::Value::Table(entry)).map_err(|e| LoadError::new(file, &id, e.to_string()))?;
        origin.insert(id, file);
        movements.push(movement);
    }
    let catalogue = Catalogue::new(movements, cautions, priors);
    for movement in &catalogue.movements {
        check::movement(&catalogue, movement).map_err(|m| LoadError::new(origin[&movement.id], &movement.id, m))?;
    }
    for prior in catalogue.priors.values() {
        check::prior(&catalogue, prior).map_err(|m| LoadError::new(strength.0, &prior.id, m))?;
    }
    Ok(catalogue)
}

/// Checks a movement that does not come from a file. The error is the field and what is wrong with it.
pub fn check(catalogue: &Catalogue, movement: &Movement) -> Result<(), (String, String)> {
    check::movement(catalogue, movement).map_err(|message| match message.split_once(": ") {
        Some((field, why)) => (field.to_owned(), why.to_owned()),
        None => (String::new(), message),
    })
}

/// The entries of all files as they are written, each with its file.
fn raw<'a>(files: &[(&'a str, &str)], kind: &str) -> Result<Vec<(&'a str, toml::Table)>, LoadError> {
    let mut found = Vec::new();
    let mut seen = std::collections::BTreeSet::new();
    for (file, text) in files {
        for (i, value) in list(file, text, kind)?.into_iter().enumerate() {
            let toml::Value::Table(entry) = value else {
                return Err(LoadError::new(file, &format!("entry {}", i + 1), "is no table"));
            };
            let Some(id) = entry.get("id").and_then(toml::Value::as_str) else {
                return Err(LoadError::new(file, &format!("entry {}", i + 1), "id: is missing"));
            };
            if !seen.insert(id.to_owned()) {
                return Err(LoadError::new(file, id, "id is used twice"));
            }
            found.push((*file, entry));
        }
    }
    Ok(found)
}

/// The cautions that concern every session.
pub fn general_cautions() -> Result<GeneralCautions, LoadError> {
    let file: CautionFile = parse(CAUTIONS)?;
    Ok(GeneralCautions(file.general.into_values().collect()))
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct CautionFile {
    general: BTreeMap<String, String>,
    caution: BTreeMap<String, String>,
}

fn parse<T: for<'de> Deserialize<'de>>((file, text): (&str, &str)) -> Result<T, LoadError> {
    toml::from_str(text).map_err(|e| LoadError::new(file, "file", e.to_string()))
}

fn read_cautions(source: (&str, &str)) -> Result<BTreeMap<String, String>, LoadError> {
    let file: CautionFile = parse(source)?;
    if let Some((code, _)) = file.caution.iter().find(|(_, text)| text.trim().is_empty()) {
        return Err(LoadError::new(source.0, code, "the text is empty"));
    }
    Ok(file.caution)
}

fn read_priors((file, text): (&str, &str)) -> Result<BTreeMap<String, PatternPrior>, LoadError> {
    Ok(entries::<PatternPrior>(file, text, "pattern")?.into_iter().map(|p| (p.id.clone(), p)).collect())
}

fn list(file: &str, text: &str, kind: &str) -> Result<Vec<toml::Value>, LoadError> {
    let table: toml::Table = parse((file, text))?;
    Ok(table.get(kind).and_then(toml::Value::as_array).cloned().unwrap_or_default())
}

/// Reads the entries of one kind, each on its own, so that an error names its entry.
fn entries<T: for<'de> Deserialize<'de>>(file: &str, text: &str, kind: &str) -> Result<Vec<T>, LoadError> {
    list(file, text, kind)?
        .into_iter()
        .enumerate()
        .map(|(i, value)| {
            let entry =
                value.get("id").and_then(toml::Value::as_str).map_or_else(|| format!("entry {}", i + 1), Into::into);
            T::deserialize(value).map_err(|e| LoadError::new(file, &entry, e.to_string()))
        })
        .collect()
}
