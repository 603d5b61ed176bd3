//! A load that is asked by what it is compared with: the start on the step that it becomes, and why where that is another one.

use super::compared::{Found, Met, Related, compared, landing};
use super::joints::{Bearing, bearing};
use super::start::{Basis, Start, eligible};
use crate::dose::Relation;
use crate::ladder::{Ladder, LadderStep};
use crate::movement::{Movement, Style};
use crate::person::{Limit, Person};
use crate::plan::Intent;
use crate::strength::Ledger;
use crate::units::Kilograms;

/// A start as an intent asks it: on what it is compared with where it asks so of what has a load. `ordinary` is the load that a start
/// without has.
pub(super) fn as_asked(
    start: Start,
    ladder: &Ladder,
    movement: &Movement,
    intent: &Intent,
    (person, ledger): (&Person, &Ledger<'_>),
    ordinary: impl FnOnce() -> Option<Kilograms>,
) -> Start {
    match intent.dose.relation().filter(|_| movement.style != Style::Hold && !movement.rig.is_resisted()) {
        Some(Relation::PartBand { .. }) => {
            let most = held_back(&start, movement, (person, ledger)).and_then(|_| ordinary());
            in_two(start, (ladder, movement), most)
        }
        Some(asked) => relate(asked, start, (ladder, movement), intent.dose.reps, (person, ledger)),
        None => start,
    }
}

/// A start on a ladder in two parts: no heavier than the ordinary start where nothing above that is given.
fn in_two(start: Start, (ladder, movement): (&Ladder, &Movement), most: Option<Kilograms>) -> Start {
    let heavier =
        |step: usize| most.is_some_and(|most| ladder.steps[step].effective_kg.value() > 1.0001 * most.value());
    let start = if heavier(start.step) {
        let among = eligible(ladder, movement);
        let step = among.iter().rfind(|step| !heavier(**step)).or(among.first());
        start.on(step.copied().unwrap_or(start.step), ladder)
    } else {
        start
    };
    let related = match ladder.steps[start.step].is_mixed() {
        true => Related::Parts,
        false if ladder.steps.iter().any(LadderStep::is_mixed) => Related::MixTooHeavy,
        false => Related::NoMix,
    };
    Start { related: Some(related), ..start }
}

/// Why nothing above the ordinary start is given, whatever a relation asks: what is not known of the movement, and what is careful
/// with any line.
fn held_back(start: &Start, movement: &Movement, (person, ledger): (&Person, &Ledger<'_>)) -> Option<Met> {
    if start.basis != Basis::ThisExercise {
        return Some(Met::Unknown);
    }
    if start.torn {
        return Some(Met::Torn);
    }
    if let Some(days) = ledger.long_away(movement) {
        return Some(Met::Away { days });
    }
    let spares = |limit: &Limit| matches!(bearing(movement, limit), Bearing::Eases(_));
    person.limits.iter().any(spares).then_some(Met::Spared)
}

/// A start on the step that a relation asks. Never one on which the fewest repetitions cannot be done with nothing left; nor, where no
/// set of the movement is known, its sets disagree, it was long not trained or a joint is spared in it, one above the ordinary start: a
/// share of a maximum is one of a guess then, and what another movement is done with says little of this one.
fn relate(
    asked: &Relation,
    start: Start,
    (ladder, movement): (&Ladder, &Movement),
    zone: [u16; 2],
    (person, ledger): (&Person, &Ledger<'_>),
) -> Start {
    let of = match compared(asked, movement, Kilograms(start.maximum()), ledger) {
        Ok(of) => of,
        Err(why) => return Start { related: Some(why), ..start },
    };
    let among = eligible(ladder, movement);
    let held = held_back(&start, movement, (person, ledger));
    let found = landing(asked, of.load, ladder, &among);
    let (step, met) = match (found.step.map(|step| start.on(step, ladder)), held) {
        (None, _) => (start.on(among.first().copied().unwrap_or(start.step), ladder), Met::NothingSoLight),
        (Some(there), Some(why)) if there.step > start.step => (start, why),
        (Some(there), _) if there.reps + there.reserve < f64::from(zone[0]) => (start, Met::TooHeavy),
        (Some(there), _) if found.wanted.is_none() => (there, Met::NoSuchStep),
        (Some(there), _) => (there, Met::Nearest),
    };
    let found = Found { of, wanted: found.wanted, met };
    Start { related: Some(Related::Found(found)), ..step }
}
