//! What one client's log says of movements: how each went, which took another's place, where it hurt.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{Days, NaiveDate};
use serde::{Deserialize, Serialize};

use crate::aims::{Aim, Aims};
use crate::anatomy::{Joint, vocabulary};
use crate::movement::{Catalogue, Movement};
use crate::person::Limit;
use crate::review::{Done, Line, Spell, Verdict, lines};
use crate::strength::Ledger;

/// Days of the log that are looked at.
const LOOKED_AT: u64 = 365;
/// Days with a movement from which its own course is judged, where it took no other's place.
const JUDGED_DAYS: usize = 4;
/// Days for which a movement must have led where it is said to stand still.
const STILL_DAYS: i64 = 28;

vocabulary!(
    /// How a movement went with a client.
    Outcome {
        Kept => "kept", "kept or gained";
        Still => "still", "stood still";
        Lost => "lost", "lost";
        Hurt => "hurt", "hurt";
    }
);

/// A movement that took another's place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Came {
    /// What was done before.
    pub from: String,
    /// What came.
    pub to: String,
    /// Change of log load from the last day of the one to the last of the other.
    pub mean: f64,
    /// Its SD.
    pub sd: f64,
    /// In a word.
    pub verdict: Verdict,
}

/// A movement that hurt.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Hurt {
    /// The movement.
    pub movement: String,
    /// Where, if that was told.
    pub joint: Option<Joint>,
    /// On how many days.
    pub days: usize,
}

/// What a client's last year says.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Lessons {
    /// How each movement went of which that can be said.
    pub outcomes: BTreeMap<String, Outcome>,
    /// What took another's place; the latest of each pair.
    pub swaps: Vec<Came>,
    /// Where it hurt, by movement.
    pub hurt: Vec<Hurt>,
    /// Joints that are limited now.
    pub limited: BTreeSet<Joint>,
}

/// Whose log is read.
#[derive(Debug, Clone, Copy)]
pub struct Reader<'a> {
    /// What is wanted of each region; none where that was never said, which is taken as growing.
    pub aims: Option<&'a Aims>,
    /// Limits in force.
    pub limits: &'a [Limit],
    /// The day.
    pub today: NaiveDate,
}

impl Reader<'_> {
    /// Whether anything that a movement trains directly is to grow: where all of it is only kept, standing still is what was asked.
    fn is_to_grow(&self, movement: &Movement) -> bool {
        self.aims.is_none_or(|aims| movement.direct.keys().any(|region| aims.of(*region).aim != Aim::Keep))
    }
}

/// Reads a client's last year.
pub fn lessons(catalogue: &Catalogue, ledger: &Ledger<'_>, history: &[Done<'_>], reader: Reader<'_>) -> Lessons {
    let Reader { limits, today, .. } = reader;
    let from = today.checked_sub_days(Days::new(LOOKED_AT)).unwrap_or(today);
    let hurt = painful(history, [from, today]);
    let lines = lines(catalogue, ledger, history, [from, today]);
    let mut outcomes: BTreeMap<String, Outcome> = BTreeMap::new();
    for line in &lines {
        let led: BTreeMap<&str, &Movement> = line.spells.iter().map(|s| (s.movement.id.as_str(), s.movement)).collect();
        let went =
            |(id, movement): (&str, &Movement)| Some((id.to_owned(), course(line, id, reader.is_to_grow(movement))?));
        outcomes.extend(led.into_iter().filter_map(went));
    }
    outcomes.extend(hurt.iter().map(|h| (h.movement.clone(), Outcome::Hurt)));
    let mut swaps: BTreeMap<(&str, &str), Came> = BTreeMap::new();
    for swap in lines.iter().flat_map(|l| &l.swaps) {
        let (from, to) = (swap.from.id.as_str(), swap.to.id.as_str());
        let (mean, sd, verdict) = (swap.change.mean, swap.change.sd, swap.verdict);
        swaps.insert((from, to), Came { from: from.into(), to: to.into(), mean, sd, verdict });
    }
    Lessons { outcomes, swaps: swaps.into_values().collect(), hurt, limited: limits.iter().map(|l| l.joint).collect() }
}

/// How a movement went by the strength of its pattern: standing still now weighs more than that it went well before, and a loss
/// more than both. What is only to be kept stands still rightly.
fn course(line: &Line<'_>, id: &str, to_grow: bool) -> Option<Outcome> {
    let spells: Vec<&Spell<'_>> = line.spells.iter().filter(|s| s.movement.id == id).collect();
    let came = line.swaps.iter().filter(|s| s.to.id == id).max_by_key(|s| s.date).map(|s| s.verdict);
    let own = spells.iter().filter(|s| s.days >= JUDGED_DAYS).max_by_key(|s| s.last).and_then(|s| s.verdict());
    let latest = line.spells.last().filter(|s| s.movement.id == id);
    let long = latest.is_some_and(|s| (s.last - s.first).num_days() >= STILL_DAYS);
    let told = |verdict| came == Some(verdict) || own == Some(verdict);
    match () {
        () if told(Verdict::Lost) => Some(Outcome::Lost),
        () if to_grow && long && line.still_weeks.is_some() => Some(Outcome::Still),
        () if told(Verdict::Gained) || told(Verdict::Kept) => Some(Outcome::Kept),
        () => None,
    }
}

/// Where it hurt enough to stop, by movement and joint.
fn painful(history: &[Done<'_>], [from, until]: [NaiveDate; 2]) -> Vec<Hurt> {
    let mut days: BTreeMap<(&str, Option<Joint>), BTreeSet<NaiveDate>> = BTreeMap::new();
    for set in history.iter().map(|d| d.set).filter(|s| s.hurt() && (from..=until).contains(&s.date)) {
        days.entry((set.exercise.as_str(), set.pain_at)).or_default().insert(set.date);
    }
    days.into_iter()
        .map(|((movement, joint), days)| Hurt { movement: movement.to_owned(), joint, days: days.len() })
        .collect()
}
