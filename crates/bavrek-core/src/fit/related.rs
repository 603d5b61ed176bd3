//! A load that is asked as a share of the maximum: the start on the step that it becomes, and why where that is another one.

use super::share::{Met, Related, nearest};
use super::start::{Basis, Start, eligible};
use crate::dose::Relation;
use crate::ladder::Ladder;
use crate::movement::{Movement, Style};
use crate::plan::Intent;
use crate::units::Kilograms;

/// A start as an intent asks it: on its share of the maximum where it asks one of what has one.
pub(super) fn as_asked(start: Start, ladder: &Ladder, movement: &Movement, intent: &Intent) -> Start {
    match intent.relation().filter(|_| movement.style != Style::Hold && !movement.rig.is_resisted()) {
        Some(asked) => relate(asked, start, (ladder, movement), intent.reps),
        None => start,
    }
}

/// A start on the step that a share of the maximum asks. Never one on which the fewest repetitions cannot be done with nothing left; nor,
/// where no set of the movement is known or its sets disagree, one above the ordinary start: what a share is taken of is a guess then.
fn relate(asked: Relation, start: Start, (ladder, movement): (&Ladder, &Movement), zone: [u16; 2]) -> Start {
    let maximum = start.maximum();
    let wanted = asked.shares().map(|share| share * maximum);
    let among = eligible(ladder, movement);
    let found = nearest(ladder, &among, wanted);
    let (step, met) = match found.map(|step| start.on(step, ladder)) {
        None => (start.on(among.first().copied().unwrap_or(start.step), ladder), Met::NothingSoLight),
        Some(there) if start.basis != Basis::ThisExercise && there.step > start.step => (start, Met::Unknown),
        Some(there) if start.torn && there.step > start.step => (start, Met::Torn),
        Some(there) if there.reps + there.reserve < f64::from(zone[0]) => (start, Met::TooHeavy),
        Some(there) => (there, Met::Nearest),
    };
    let related = Related { asked, maximum: Kilograms(maximum), wanted: wanted.map(Kilograms), met };
    Start { related: Some(related), ..step }
}
