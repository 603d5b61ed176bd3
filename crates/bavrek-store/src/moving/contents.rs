//! What is nested in a row, read as it will be read when it is asked for.

use bavrek_core::aims::Aims;
use bavrek_core::dose::Prescription;
use bavrek_core::kit::KitItem;
use bavrek_core::kit::improvised::StabilityCheck;
use bavrek_core::ladder::LadderStep;
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::Movement;
use bavrek_core::person::Limit;
use bavrek_core::plan::Intent;
use bavrek_core::ranges::RangeError;
use bavrek_core::school::School;
use bavrek_core::screening::Answers;

use bavrek_core::template::Template;
use serde::de::DeserializeOwned;
use serde_json::Value;

use crate::boards::Layout;
use crate::plans::Rules;
use crate::spot_swaps::InTheWay;
use crate::weeks::Draft;

/// Longest text of a field, characters: more is no note.
const LONGEST: usize = 20_000;

/// Reads a value.
fn read<T: DeserializeOwned>(value: &Value) -> Result<T, String> {
    serde_path_to_error::deserialize(value).map_err(|e| format!("cannot be read at {}: {}", e.path(), e.inner()))
}

/// Reads a value and checks its figures.
fn checked<T: DeserializeOwned>(value: &Value, check: impl Fn(&T) -> Result<(), RangeError>) -> Result<(), String> {
    check(&read(value)?).map_err(|e| format!("{}: {}", e.path, e.message))
}

/// What is wrong with a field, if anything is.
pub(super) fn check(table: &str, column: &str, value: &Value) -> Result<(), String> {
    if value.is_null() {
        return Ok(());
    }
    match (table, column) {
        ("aims", "aims") => checked(value, Aims::validate),
        ("boards", "layout") => read::<Layout>(value).map(drop),
        ("decisions", "reasons") | ("plan_weeks", "notes") => read::<Vec<String>>(value).map(drop),
        ("fits" | "spot_swaps" | "spares", "step") => read::<LadderStep>(value).map(drop),
        ("fits" | "spot_swaps", "prescription") => checked(value, Prescription::validate),
        ("kit_items", "item") => checked(value, KitItem::validate),
        ("kit_items", "stability") => read::<StabilityCheck>(value).map(drop),
        ("limits", "rule") => read::<Limit>(value).map(drop),
        ("logged_sets", "entry") => checked(value, LoggedSet::validate),
        ("own_movements", "movement") => read::<Movement>(value).map(drop),
        ("own_schools", "school") => checked(value, School::validate),
        ("plans", "plan") => checked(value, Rules::validate),
        ("screenings", "answers") => read::<Answers>(value).map(drop),
        ("slots", "intent") => checked(value, Intent::validate),
        ("spot_swaps", "trouble") => read::<InTheWay>(value).map(drop),
        ("templates", "template") => checked(value, Template::validate),
        ("weeks" | "week_states", "draft") => read::<Draft>(value).map(drop),
        _ if value.as_str().is_some_and(|text| text.chars().count() > LONGEST) => {
            Err(format!("must have at most {LONGEST} characters"))
        }
        _ => Ok(()),
    }
}
