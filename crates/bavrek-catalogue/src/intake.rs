//! What taking a client in needs to know: questions, weekly sets, common sets of kit, cheap things.

use bavrek_core::aims::Volumes;
use bavrek_core::kit::offer::CheapItem;
use bavrek_core::kit::{KitItem, Setting};
use bavrek_core::method::Method;
use bavrek_core::school::{Disagreement, School};
use bavrek_core::screening::Question;
use serde::Deserialize;

use crate::{LoadError, entries, parse};

const SCREENING: (&str, &str) = ("screening.toml", include_str!("../data/screening.toml"));
const AIMS: (&str, &str) = ("aims.toml", include_str!("../data/aims.toml"));
const METHODS: (&str, &str) = ("methods.toml", include_str!("../data/methods.toml"));
const DISAGREEMENTS: (&str, &str) = ("disagreements.toml", include_str!("../data/disagreements.toml"));
const KITS: (&str, &str) = ("kits.toml", include_str!("../data/kits.toml"));

/// The schools, in the order of their names.
///
/// # Errors
/// Where the file does not read, a school has none or two entries, or its sets are out of range.
pub fn schools() -> Result<Vec<School>, LoadError> {
    schools_from(METHODS)
}

/// Loads and checks them from a file's name and text.
pub fn schools_from(methods: (&str, &str)) -> Result<Vec<School>, LoadError> {
    let mut schools: Vec<School> = entries(methods.0, methods.1, "method")?;
    schools.sort_by_key(|s| s.id);
    for school in &schools {
        school.validate().map_err(|e| LoadError::new(methods.0, school.id.id(), e.to_string()))?;
    }
    for method in Method::ALL {
        if schools.iter().filter(|s| s.id == *method).count() != 1 {
            return Err(LoadError::new(methods.0, method.id(), "must be there once"));
        }
    }
    Ok(schools)
}

/// A common set of kit to start from.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct StartingKit {
    /// Identifier.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// What kind of place has it, where it is of one kind.
    pub setting: Option<Setting>,
    /// What is in it.
    pub kit: Vec<KitItem>,
}

/// The knowledge for taking a client in.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Intake {
    /// Questions of the health screening, in the order they are asked.
    pub questions: Vec<Question>,
    /// Usual weekly sets and the aims of each goal.
    pub volumes: Volumes,
    /// Common sets of kit.
    pub starting_kits: Vec<StartingKit>,
    /// Cheap things that could be bought.
    pub cheap: Vec<CheapItem>,
    /// The schools, in the order of their names.
    pub schools: Vec<School>,
    /// Where practitioners disagree.
    pub disagreements: Vec<Disagreement>,
}

/// Starting kits between which virtual clients move, in their order.
const VIRTUAL_ROOMS: [&str; 4] = ["hotel", "bands", "garage", "adjustable"];

/// The rooms of an evaluation: what some of the starting kits hold.
pub fn virtual_rooms() -> Result<Vec<Vec<KitItem>>, LoadError> {
    let kits = intake()?.starting_kits;
    let room = |id: &&str| kits.iter().find(|kit| kit.id == *id).map(|kit| kit.kit.clone());
    Ok(VIRTUAL_ROOMS.iter().filter_map(room).collect())
}

/// Loads and checks what ships with the application.
pub fn intake() -> Result<Intake, LoadError> {
    let disagreements = entries(DISAGREEMENTS.0, DISAGREEMENTS.1, "disagreement")?;
    Ok(Intake { schools: schools()?, disagreements, ..intake_from(SCREENING, AIMS, KITS)? })
}

/// Loads and checks it from `(file name, text)` pairs.
pub fn intake_from(screening: (&str, &str), aims: (&str, &str), kits: (&str, &str)) -> Result<Intake, LoadError> {
    let intake = Intake {
        questions: entries(screening.0, screening.1, "question")?,
        volumes: parse(aims)?,
        starting_kits: entries(kits.0, kits.1, "start")?,
        cheap: entries(kits.0, kits.1, "cheap")?,
        schools: Vec::new(),
        disagreements: Vec::new(),
    };
    for (i, question) in intake.questions.iter().enumerate() {
        if question.text.trim().is_empty() {
            return Err(LoadError::new(screening.0, &question.id, "text is empty"));
        }
        if intake.questions[..i].iter().any(|q| q.id == question.id) {
            return Err(LoadError::new(screening.0, &question.id, "id is used twice"));
        }
    }
    intake.volumes.validate().map_err(|e| LoadError::new(aims.0, &e.path, e.message))?;
    let starting = intake.starting_kits.iter().map(|s| (&s.id, &s.kit));
    for (id, kit) in starting.chain(intake.cheap.iter().map(|c| (&c.id, &c.kit))) {
        for item in kit {
            item.validate().map_err(|e| LoadError::new(kits.0, id, format!("{}: {}", e.path, e.message)))?;
        }
    }
    Ok(intake)
}
