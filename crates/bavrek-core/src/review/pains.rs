//! What hurt: days on which a set was painful enough to stop a movement.

use std::collections::BTreeMap;

use chrono::NaiveDate;

use super::Done;
use crate::anatomy::Joint;

/// The worst of a day.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct PainfulDay {
    /// The day.
    pub on: NaiveDate,
    /// Highest pain, 4 to 10.
    pub pain: u8,
    /// The joint, where it was told.
    pub joint: Option<Joint>,
}

impl PainfulDay {
    /// Where it hurt, in a word.
    pub fn place(&self) -> &'static str {
        self.joint.map_or("somewhere", Joint::label)
    }
}

/// The painful days of a range, in order of time.
pub fn painful_days(history: &[Done<'_>], [from, until]: [NaiveDate; 2]) -> Vec<PainfulDay> {
    let mut days: BTreeMap<NaiveDate, PainfulDay> = BTreeMap::new();
    for set in history.iter().map(|d| d.set).filter(|s| s.hurt() && (from..=until).contains(&s.date)) {
        let pain = set.pain.unwrap_or(0);
        let one = PainfulDay { on: set.date, pain, joint: set.pain_at };
        let worst = days.entry(set.date).or_insert(one);
        if pain > worst.pain {
            *worst = one;
        }
    }
    days.into_values().collect()
}
