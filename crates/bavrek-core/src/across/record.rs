//! How movements went with a trainer's clients, and how far that leans the order of fits.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::lessons::Outcome;

/// Fewest clients of whom something must be known before a movement is leaned at all. Assumed.
pub const FEWEST_CLIENTS: u16 = 4;
/// The most by which a score is leaned, as a share of it: it parts what is about as good as each other, no more. Assumed.
pub const MOST_TILT: f64 = 0.02;
/// A lean that is smaller is none.
const LEAST_TILT: f64 = 0.005;
/// How far a share of clients leans a score: all of them against the usual four of five are 2 %. Assumed.
const LEANS: f64 = 0.1;
/// Of how many clients a movement goes well where nothing is known, and with the weight of how many clients that is held. Assumed.
const USUALLY: (f64, f64) = (0.8, 10.0);
/// The weight of how many clients the trainer's own usual share is held with for a movement. Assumed.
const HELD_WITH: f64 = 6.0;

/// How many clients a movement went how with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Went {
    /// Kept or gained strength.
    #[serde(default)]
    pub kept: u16,
    /// Have not moved for four weeks.
    #[serde(default)]
    pub still: u16,
    /// Lost strength.
    #[serde(default)]
    pub lost: u16,
    /// Were hurt enough to stop.
    #[serde(default)]
    pub hurt: u16,
}

impl Went {
    /// Of how many clients something is known.
    pub fn known(&self) -> u16 {
        [self.kept, self.still, self.lost, self.hurt].into_iter().fold(0, u16::saturating_add)
    }

    /// One client more.
    pub const fn add(&mut self, outcome: Outcome) {
        let count = match outcome {
            Outcome::Kept => &mut self.kept,
            Outcome::Still => &mut self.still,
            Outcome::Lost => &mut self.lost,
            Outcome::Hurt => &mut self.hurt,
        };
        *count = count.saturating_add(1);
    }

    /// In words, for example `kept or raised strength in 4 of 6 of your clients, stood still in 1, hurt 1`.
    pub fn text(&self) -> String {
        let ways = [("stood still in", self.still), ("lost strength in", self.lost), ("hurt", self.hurt)];
        let others = ways.iter().filter(|(_, n)| *n > 0).map(|(words, n)| format!(", {words} {n}"));
        let (kept, known) = (self.kept, self.known());
        format!("kept or raised strength in {kept} of {known} of your clients{}", others.collect::<String>())
    }
}

/// How movements went, by identifier.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(transparent)]
pub struct TrackRecord(BTreeMap<String, Went>);

/// Where nothing is known, or nothing of it is to count.
pub static NO_RECORD: TrackRecord = TrackRecord(BTreeMap::new());

impl TrackRecord {
    /// A record of how movements went.
    pub const fn of(went: BTreeMap<String, Went>) -> Self {
        Self(went)
    }

    /// How a movement went.
    pub fn went(&self, movement: &str) -> Option<Went> {
        self.0.get(movement).copied()
    }

    /// Movements of which something is known.
    pub fn movements(&self) -> impl Iterator<Item = (&str, Went)> {
        self.0.iter().map(|(id, went)| (id.as_str(), *went))
    }

    /// The share of clients with whom movements go well on the whole.
    fn usual(&self) -> f64 {
        let (good, known) =
            self.0.values().fold((0.0, 0.0), |(g, k), w| (g + f64::from(w.kept), k + f64::from(w.known())));
        (good + USUALLY.0 * USUALLY.1) / (known + USUALLY.1)
    }

    /// By which share a movement's score is leaned, at most [`MOST_TILT`] either way: by how much better or worse it went than
    /// the trainer's movements go on the whole, held back where few clients say so. None where there are fewer than
    /// [`FEWEST_CLIENTS`], and where it makes no difference.
    pub fn tilt(&self, movement: &str) -> Option<f64> {
        let went = self.went(movement).filter(|w| w.known() >= FEWEST_CLIENTS)?;
        let usual = self.usual();
        let share = (f64::from(went.kept) + HELD_WITH * usual) / (f64::from(went.known()) + HELD_WITH);
        let tilt = ((share - usual) * LEANS).clamp(-MOST_TILT, MOST_TILT);
        (tilt.abs() >= LEAST_TILT).then_some(tilt)
    }
}
