//! What is guessed about a client's strength before any set, and what one pattern says of another.

use serde::{Deserialize, Serialize};

use crate::anatomy::vocabulary;
use crate::person::{Experience, Person, Sex};

/// Body mass that the shares refer to, kg.
const REFERENCE_MASS: f64 = 75.0;
/// Strength grows with body mass to this power, as muscle cross-section does.
const MASS_EXPONENT: f64 = 0.67;
/// Variance of the log guess of a pattern, of a SD of 0.34.
const VARIANCE: f64 = 0.1156;
/// Covariance of two patterns of one group.
const WITHIN: f64 = 0.0865;
/// Covariance of a push and a pull.
const ACROSS: f64 = 0.0576;
/// SD of the guess where sex is not stated, over that where it is.
const SEX_UNKNOWN: f64 = 0.40 / 0.34;

vocabulary!(
    /// Patterns that tell much of each other.
    Group {
        Push => "push", "presses and extensions";
        Pull => "pull", "rows, pulls, curls and forearms";
        Alone => "alone", "on its own";
    }
);

/// What is guessed about a pattern before any set: load of its anchor for 12 repetitions.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct PatternPrior {
    /// Identifier of the strength pattern.
    pub id: String,
    /// What people call it.
    pub name: String,
    /// The anchor movement.
    pub anchor: String,
    /// Share of 75 kg for a novice, an intermediate and an advanced man of that mass.
    pub share: [f64; 3],
    /// Factor for women; the root of it where sex is not stated.
    pub female: f64,
    /// Which other patterns it tells much of.
    pub group: Group,
}

impl PatternPrior {
    /// Log of the guessed anchor load for 12 repetitions to failure: `share · 75 · (mass/75)^0.67`, by sex and age.
    pub fn log_guess(&self, person: &Person) -> f64 {
        let share = match person.experience {
            Experience::Novice => self.share[0],
            Experience::Intermediate => self.share[1],
            Experience::Advanced => self.share[2],
        };
        let sex = match person.sex {
            Some(Sex::Male) => 1.0,
            Some(Sex::Female) => self.female,
            None => self.female.sqrt(),
        };
        let mass = REFERENCE_MASS * (person.body_mass_kg.value() / REFERENCE_MASS).powf(MASS_EXPONENT);
        (share * sex * mass).ln() + person.age_years.map_or(0.0, log_of_age)
    }
}

/// Log of the strength left at an age over that at 35: 0.006 a year to 60, 0.013 a year beyond, 0.60 at most.
///
/// ```
/// use bavrek_core::movement::log_of_age;
/// let left = [35, 60, 70, 80].map(|age| (log_of_age(age).exp() * 100.0).round());
/// assert_eq!(left, [100.0, 86.0, 76.0, 66.0]);
/// ```
pub fn log_of_age(years: u8) -> f64 {
    let years = f64::from(years);
    let early = (years.min(60.0) - 35.0).max(0.0) * 0.006;
    let late = (years - 60.0).max(0.0) * 0.013;
    -(early + late).min(0.60)
}

/// Prior covariance of two patterns' log guesses; `same` where they are one pattern.
pub(crate) fn covariance(a: Group, b: Group, same: bool, sex: Option<Sex>) -> f64 {
    let scale = if sex.is_none() { SEX_UNKNOWN.powi(2) } else { 1.0 };
    let known = match (a, b) {
        _ if same => VARIANCE,
        (Group::Alone, _) | (_, Group::Alone) => 0.0,
        (a, b) if a == b => WITHIN,
        _ => ACROSS,
    };
    known * scale
}
