//! People, rooms and logs that several tests share. All invented.
#![allow(dead_code, reason = "each test file uses its part")]

pub(crate) mod asked;
pub(crate) mod grid;

use bavrek_core::dose::{PerHand, StampedLoad};
use bavrek_core::kit::KitItem;
use bavrek_core::log::LoggedSet;
use bavrek_core::person::{Experience, Limit, Person, Sex};
use bavrek_core::plan::Intent;
use bavrek_core::units::{Kilograms, MassUnit, Metres};
use chrono::NaiveDate;

pub(crate) fn person() -> Person {
    Person {
        body_mass_kg: Kilograms(75.0),
        height_m: Metres(1.75),
        experience: Experience::Intermediate,
        age_years: Some(35),
        sex: Some(Sex::Male),
        limits: vec![],
    }
}

pub(crate) fn limited(json: &str) -> Person {
    let limit: Limit = serde_json::from_str(json).unwrap();
    Person { limits: vec![limit], ..person() }
}

pub(crate) fn kit(json: &str) -> Vec<KitItem> {
    serde_json::from_str(json).unwrap()
}

pub(crate) fn intent(json: &str) -> Intent {
    let intent: Intent = serde_json::from_str(json).unwrap();
    intent.validate().unwrap();
    intent
}

pub(crate) fn day(text: &str) -> NaiveDate {
    text.parse().unwrap()
}

pub(crate) fn dumbbell_set(exercise: &str, date: &str, kg: f64, reps: u16, rir: u8) -> LoggedSet {
    LoggedSet {
        load: Some(StampedLoad { value: kg, unit: MassUnit::Kg, per: PerHand::Hand }),
        reps: Some(reps),
        rir: Some(rir),
        ..LoggedSet::of(exercise, day(date))
    }
}
