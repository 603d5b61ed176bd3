//! What is nested in a row, read as it will be read when it is asked for.

use bavrek_core::aims::{Aims, Goal};
use bavrek_core::anatomy::Joint;
use bavrek_core::calendar::Turn;
use bavrek_core::dose::Prescription;
use bavrek_core::kit::improvised::StabilityCheck;
use bavrek_core::kit::{KitItem, Setting};
use bavrek_core::ladder::LadderStep;
use bavrek_core::log::LoggedSet;
use bavrek_core::method::Method;
use bavrek_core::movement::Movement;
use bavrek_core::notes::NoteKind;
use bavrek_core::person::{AgeBand, Experience, Limit, Sex, Side};
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::progress::CallKind;
use bavrek_core::ranges::{self, LegalRange, RangeError};
use bavrek_core::reminding::Reminded;
use bavrek_core::school::School;
use bavrek_core::screening::Answers;
use bavrek_core::script::WorkoutState;

use bavrek_core::template::Template;
use serde::de::DeserializeOwned;
use serde_json::Value;

use crate::boards::Layout;
use crate::log::Source;

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

/// Whether a text is one of the words it is read as.
fn word<T>(value: &Value, read: impl Fn(&str) -> Option<T>) -> Result<(), String> {
    let text = value.as_str().unwrap_or_default();
    read(text).map(drop).ok_or_else(|| format!("{text:?} is no word known here"))
}

fn within(value: &Value, range: LegalRange) -> Result<(), String> {
    range.check("", value.as_f64().unwrap_or(f64::NAN)).map(drop).map_err(|e| e.message)
}

/// A step of a ladder within what anybody lifts.
fn step(value: &Value) -> Result<(), String> {
    checked(value, |step: &LadderStep| {
        [step.effective_kg, step.peak_kg].iter().try_for_each(|kg| LIFTED.check("effective_kg", kg.value()).map(drop))
    })
}

/// What a step may weigh over its range; help takes it below nothing.
const LIFTED: LegalRange = LegalRange { min: 0.0, max: 1_000.0, unit: "kg" };

/// What is wrong with a word or a figure that stands by itself.
fn plain(table: &str, column: &str, value: &Value) -> Option<Result<(), String>> {
    Some(match (table, column) {
        ("clients", "experience") => word(value, Experience::from_id),
        ("clients", "age_band") => word(value, AgeBand::from_id),
        ("clients", "sex") => word(value, Sex::from_id),
        ("clients", "aim") => word(value, Goal::from_id),
        ("clients", "reminded") => word(value, Reminded::from_id),
        ("clients", "mass_unit") => word(value, |text| matches!(text, "kg" | "lb").then_some(())),
        ("clients", "body_mass_kg") | ("body_masses", "mass_kg") => within(value, ranges::BODY_MASS),
        ("clients", "height_m") => within(value, ranges::STATURE),
        ("clients" | "sessions", "minutes") => within(value, ranges::SESSION_MINUTES),
        ("logged_sets", "effective_kg") => within(value, LIFTED),
        ("logged_sets", "source") => word(value, Source::from_id),
        ("observations", "kind") => word(value, NoteKind::from_id),
        ("observations", "side") => word(value, Side::from_id),
        ("pain_settled", "joint") => word(value, Joint::from_id),
        ("places", "setting") => word(value, Setting::from_id),
        ("sessions", "method") => word(value, Method::from_id),
        ("blocks", "kind") => word(value, BlockKind::from_id),
        ("workouts", "state") => word(value, WorkoutState::from_id),
        ("workouts" | "fits", "turn") => word(value, Turn::from_id),
        ("decisions", "proposed" | "decided") => word(value, CallKind::from_id),
        _ => return None,
    })
}

/// What is wrong with a field, if anything is.
pub(super) fn check(table: &str, column: &str, value: &Value) -> Result<(), String> {
    if value.is_null() {
        return Ok(());
    }
    if let Some(found) = plain(table, column, value) {
        return found;
    }
    match (table, column) {
        ("aims", "aims") => checked(value, Aims::validate),
        ("boards", "layout") => read::<Layout>(value).map(drop),
        ("decisions", "reasons") | ("plan_weeks", "notes") => read::<Vec<String>>(value).map(drop),
        ("fits" | "spot_swaps" | "spares", "step") => step(value),
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
