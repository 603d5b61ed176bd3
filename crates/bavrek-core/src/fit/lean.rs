//! How what a trainer's clients showed leans a score: a little, and never towards what a joint must be spared.

use super::order::SOUND;
use super::parts::Parts;
use crate::across::TrackRecord;
use crate::movement::Movement;

/// By which share a score is leaned, and why.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Lean {
    pub(super) tilt: f64,
    pub(super) words: String,
}

/// How a movement is leaned here. None where nothing is known, and where it would be lifted although a joint is not all sound in it.
pub(super) fn lean(record: &TrackRecord, movement: &Movement, parts: &Parts) -> Option<Lean> {
    let tilt = record.tilt(&movement.id).filter(|tilt| *tilt < 0.0 || parts.joints >= SOUND)?;
    let way = if tilt > 0.0 { "for" } else { "against" };
    let went = record.went(&movement.id)?.text();
    let words = format!("{went}: that counts {:.1} % {way} it", tilt.abs() * 100.0);
    Some(Lean { tilt, words })
}
