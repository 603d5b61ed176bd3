//! What could be done in each room: for every job that a movement does, the best few that do it here.

use std::collections::{BTreeMap, BTreeSet};
use std::panic::resume_unwind;
use std::thread;

use super::question::{WeekQuestion, Wish};
use crate::anatomy::{Pattern, Region};
use crate::dose::{Prescription, SetKind};
use crate::fit::{Candidate, ExclusionCode, FitAnswer, Fitter, Note, Untrained, Why, bent};
use crate::movement::Catalogue;
use crate::plan::Intent;
use crate::ranges::RangeError;
use crate::school::{Asked, Pairing};
use crate::units::Seconds;
use crate::volume::Volume;
use crate::warm_up::{Ahead, WarmUp};

/// Movements of a job that are weighed against each other.
const OF_A_JOB: usize = 2;
/// The same where variety is wanted.
const OF_A_JOB_VARIED: usize = 3;
/// Score below which a movement does its job too badly to be proposed.
const GOOD_ENOUGH: f64 = 0.45;
/// Movements of a room that the model sees in any case for each region, and most in all; what serves the aims least is left
/// out.
const OF_A_REGION: usize = 3;
const MOST_OF_A_ROOM: usize = 40;
/// Fewest sets for which a movement is set up, and how many more than the school's there may be.
const FEWEST_SETS: usize = 2;
const MORE_THAN_ASKED: usize = 1;
/// Rooms that are looked at at once: others want the processors as well.
const LOOKED_AT_AT_ONCE: usize = 2;

/// A movement that could be done in a room, dosed by the school.
#[derive(Debug, Clone)]
pub struct Choice<'a> {
    /// The room's place.
    pub room: usize,
    /// What it is for.
    pub intent: Intent,
    /// The region it is for.
    pub region: Region,
    /// The movement with its step and dose.
    pub candidate: Candidate<'a>,
    /// What a set of it gives: region, sets by direct work, sets in all.
    pub gives: Vec<(Region, f64, f64)>,
    /// A set with the rest after it, as far as nobody else works in it.
    pub a_set: Seconds,
    /// What it takes once: setting up, sets on the way up.
    pub once: Seconds,
    /// Whether it is heavy enough to be led up to where nothing of its kind went before.
    pub led_up: bool,
    /// Fewest and most sets.
    pub sets: [usize; 2],
    /// The day on which it is pinned; it is on no other then.
    pub pin: Option<usize>,
}

impl Choice<'_> {
    /// Its dose with so many sets.
    pub(super) fn dose(&self, sets: usize) -> Prescription {
        let mut all = self.candidate.prescription.sets.clone();
        while all.len() > sets && all.len() > 1 {
            all.remove(all.len() - 2);
        }
        while let Some(first) = all.first().filter(|_| all.len() < sets).cloned() {
            all.insert(0, first);
        }
        self.candidate.prescription.with_sets(all)
    }

    /// Whether all its sets are alike, so that there may be more or fewer.
    fn is_even(dose: &Prescription) -> bool {
        let shape = |s: &crate::dose::SetPlan| (s.kind, s.reps, s.seconds, s.tempo, s.step);
        dose.sets.windows(2).all(|pair| shape(&pair[0]) == shape(&pair[1]))
    }
}

/// What the rooms of a week lack for a region.
#[derive(Debug, Clone, PartialEq)]
pub enum Lacking {
    /// What trains it does not suit the dose.
    Unsuited {
        /// The best of it.
        movement: String,
        /// The step it would be on.
        step: String,
    },
    /// What trains it is ruled out for the client.
    RuledOut(Why),
    /// Nothing trains it directly.
    Untrained(Untrained),
    /// Nothing trains it at all.
    Nothing,
}

/// What there is to pick from, and why some regions have nothing.
#[derive(Debug, Clone, Default)]
pub(super) struct Pool<'a> {
    pub(super) choices: Vec<Choice<'a>>,
    /// Regions that nothing trains directly in a room, with what is missing.
    pub(super) lacking: BTreeMap<Region, Lacking>,
}

/// The jobs that movements of the catalogue do, by pattern and the region that has most of it.
fn jobs(catalogue: &Catalogue) -> BTreeSet<(Pattern, Region)> {
    catalogue.movements.iter().filter_map(|m| Some((m.pattern, m.main_region()?))).collect()
}

pub(super) fn gather<'a>(catalogue: &'a Catalogue, question: &WeekQuestion<'a>) -> Result<Pool<'a>, RangeError> {
    let mut pool = Pool::default();
    let used: BTreeSet<usize> = question.days.iter().map(|d| d.room).collect();
    // Places that hold the same are one room: what is there is looked for once.
    let alike = |room: usize| used.iter().copied().find(|other| question.rooms[*other] == question.rooms[room]);
    let mut same: BTreeMap<usize, Vec<usize>> = BTreeMap::new();
    for room in &used {
        same.entry(alike(*room).unwrap_or(*room)).or_default().push(*room);
    }
    let mut here: BTreeMap<usize, Vec<Choice<'a>>> = BTreeMap::new();
    for looked in look_at_once(catalogue, question, &same.into_values().collect::<Vec<_>>()) {
        let Looked { choices, pinned, lacking } = looked?;
        for (room, pinned) in pinned {
            let own = choices.iter().map(|choice| Choice { room, ..choice.clone() });
            here.insert(room, own.chain(pinned).collect());
        }
        for (region, lacking) in lacking {
            add_lack(&mut pool.lacking, region, lacking);
        }
    }
    pool.choices = here.into_values().flatten().collect();
    let trained: BTreeSet<Region> =
        pool.choices.iter().flat_map(|c| c.candidate.movement.direct.keys().copied()).collect();
    pool.lacking.retain(|region, _| !trained.contains(region));
    Ok(pool)
}

/// What was found in rooms that hold the same.
struct Looked<'a> {
    choices: Vec<Choice<'a>>,
    /// What is pinned in each.
    pinned: Vec<(usize, Vec<Choice<'a>>)>,
    lacking: BTreeMap<Region, Lacking>,
}

/// Looks for what could be done in rooms, in several at once: in one as full as a place may be that takes a tenth of a second.
fn look_at_once<'a>(
    catalogue: &'a Catalogue,
    question: &WeekQuestion<'a>,
    rooms: &[Vec<usize>],
) -> Vec<Result<Looked<'a>, RangeError>> {
    let of = |part: usize| -> Vec<(usize, Result<Looked<'a>, RangeError>)> {
        let own = rooms.iter().enumerate().skip(part).step_by(LOOKED_AT_AT_ONCE);
        own.map(|(i, alike)| (i, look(catalogue, question, alike))).collect()
    };
    thread::scope(|scope| {
        let others: Vec<_> =
            (1..LOOKED_AT_AT_ONCE.min(rooms.len())).map(|part| scope.spawn(move || of(part))).collect();
        let mut looked = of(0);
        for other in others {
            // What panics there panics here.
            looked.extend(other.join().unwrap_or_else(|cause| resume_unwind(cause)));
        }
        // In the order of the rooms, whichever were done first.
        looked.sort_by_key(|(i, _)| *i);
        looked.into_iter().map(|(_, looked)| looked).collect()
    })
}

/// Looks for what could be done in rooms that hold the same. All their ladders are there only meanwhile: those of a full room take
/// some ten megabytes.
fn look<'a>(catalogue: &'a Catalogue, question: &WeekQuestion<'a>, alike: &[usize]) -> Result<Looked<'a>, RangeError> {
    let room = alike.first().copied().unwrap_or_default();
    let mut lacking = BTreeMap::new();
    let fitter = Fitter::new(catalogue, question.rooms[room], question.history, question.today);
    let mut here: BTreeMap<&str, Choice<'a>> = BTreeMap::new();
    let mut second: Vec<Choice<'a>> = Vec::new();
    for (pattern, region) in jobs(catalogue) {
        let intent = intent(question, room, pattern, region);
        let answer = fitter.fit(&intent);
        note_lack(&mut lacking, region, &answer);
        let (suits, misses) = few(question, answer, &intent);
        second.extend(misses.into_iter().filter_map(|c| {
            let (intent, candidate) = bent(&intent, c)?;
            Some(choice(question, room, region, &intent, candidate))
        }));
        for candidate in suits {
            let id = candidate.movement.id.as_str();
            if here.get(id).is_none_or(|known| known.candidate.score < candidate.score) {
                here.insert(id, choice(question, room, region, &intent, candidate));
            }
        }
    }
    // What misses its dose is taken only for what nothing here does in it.
    second.sort_by(|a, b| b.candidate.score.total_cmp(&a.candidate.score));
    for choice in second {
        let served = here.values().any(|c| c.candidate.movement.trains_directly(choice.region));
        if !served {
            here.insert(choice.candidate.movement.id.as_str(), choice);
        }
    }
    let choices = narrowed(question, here.into_values().collect());
    let pinned = |room: &usize| Ok((*room, pinned(catalogue, question, *room, &fitter)?));
    Ok(Looked { choices, pinned: alike.iter().map(pinned).collect::<Result<_, RangeError>>()?, lacking })
}

/// What is pinned in a room, as it is.
fn pinned<'a>(
    catalogue: &'a Catalogue,
    question: &WeekQuestion<'a>,
    room: usize,
    fitter: &Fitter<'a, '_>,
) -> Result<Vec<Choice<'a>>, RangeError> {
    let here = question.pins.iter().enumerate().filter(|(_, pin)| question.days[pin.day].room == room);
    here.map(|(i, pin)| {
        let lost = |why: &str| RangeError::new(format!("pins[{i}].exercise"), format!("{}: {why}", pin.exercise));
        let movement = catalogue.movement(pin.exercise).ok_or_else(|| lost("is no movement"))?;
        let counted = pin.intent.counted();
        let candidate = match pin.step {
            Some(step) => fitter.on_step(movement, step, &counted, &[]),
            None => fitter.alone(movement, &counted),
        };
        let mut candidate = candidate.ok_or_else(|| lost("can no longer be done there"))?;
        candidate.prescription = pin.dose.loaded(candidate.step().load);
        let region = pin.intent.main_region().or_else(|| movement.main_region());
        let region = region.ok_or_else(|| lost("trains no region"))?;
        let sets = [pin.dose.sets.len(); 2];
        Ok(Choice { sets, pin: Some(pin.day), ..choice(question, room, region, pin.intent, candidate) })
    })
    .collect()
}

/// Those of a room that serve the aims most, and a few for every region.
fn narrowed<'a>(question: &WeekQuestion<'_>, mut all: Vec<Choice<'a>>) -> Vec<Choice<'a>> {
    all.sort_by(|a, b| worth(question, b).total_cmp(&worth(question, a)));
    let mut of_region: BTreeMap<Region, usize> = BTreeMap::new();
    let (mut kept, mut rest) = (Vec::new(), Vec::new());
    for choice in all {
        let seen = of_region.entry(choice.region).or_default();
        *seen += 1;
        if *seen <= OF_A_REGION { kept.push(choice) } else { rest.push(choice) }
    }
    let free = MOST_OF_A_ROOM.saturating_sub(kept.len());
    kept.extend(rest.into_iter().take(free));
    kept
}

/// A job dosed as the school does for this client and aim.
fn intent(question: &WeekQuestion<'_>, room: usize, pattern: Pattern, region: Region) -> Intent {
    let experience = question.rooms[room].person.experience;
    let asked = Asked { pattern, aim: question.aims.of(region).aim, experience, emphasis: question.emphasis() };
    Intent::of(pattern, BTreeMap::from([(region, 1.0)])).dosed(question.school.dose(&asked).dose)
}

/// What a room lacks for a region, as the fit has it.
fn note_lack(lacking: &mut BTreeMap<Region, Lacking>, region: Region, answer: &FitAnswer<'_>) {
    let barred = |e: &&crate::fit::Excluded<'_>| {
        e.movement.trains_directly(region) && e.why.iter().any(|w| w.code() == ExclusionCode::Limit)
    };
    let untrained = |note: &Note| if let Note::Untrained(u) = note { Some(u.clone()) } else { None };
    if let Some(first) = answer.candidates.iter().find(|c| c.movement.trains_directly(region)) {
        let (movement, step) = (first.movement.name.clone(), first.step().label.clone());
        add_lack(lacking, region, Lacking::Unsuited { movement, step });
    } else if let Some(why) = answer.excluded.iter().find(barred).and_then(|e| e.why.first()) {
        add_lack(lacking, region, Lacking::RuledOut(why.clone()));
    } else if let Some(untrained) = answer.notes.iter().find_map(untrained) {
        add_lack(lacking, region, Lacking::Untrained(untrained));
    }
}

/// Where one room has something, that another has nothing is no news.
fn add_lack(all: &mut BTreeMap<Region, Lacking>, region: Region, lacking: Lacking) {
    if matches!(lacking, Lacking::Unsuited { .. }) {
        all.insert(region, lacking);
    } else {
        all.entry(region).or_insert(lacking);
    }
}

/// The best few of an answer: those that suit the dose, and those that nearly do. What is resisted by the other hand is for
/// who has nothing else, and that is decided on the bench.
fn few<'a>(
    question: &WeekQuestion<'_>,
    answer: FitAnswer<'a>,
    intent: &Intent,
) -> (Vec<Candidate<'a>>, Vec<Candidate<'a>>) {
    let zone = intent.counted().dose.reps;
    let good = |c: &Candidate<'_>| c.score >= GOOD_ENOUGH && c.is_bearable(zone) && !c.movement.rig.is_resisted();
    let most = if question.wish == Wish::MoreVariety { OF_A_JOB_VARIED } else { OF_A_JOB };
    let (suits, misses): (Vec<_>, Vec<_>) =
        answer.candidates.into_iter().filter(good).partition(|c| c.start.misses(zone).is_none());
    (suits.into_iter().take(most).collect(), misses.into_iter().take(1).collect())
}

fn choice<'a>(
    question: &WeekQuestion<'_>,
    room: usize,
    region: Region,
    intent: &Intent,
    candidate: Candidate<'a>,
) -> Choice<'a> {
    let dose = &candidate.prescription;
    let movement = candidate.movement;
    let one = dose.with_sets(dose.sets.iter().filter(|s| s.kind != SetKind::Extension).take(1).cloned().collect());
    let mut volume = Volume::default();
    volume.plan(movement, &one);
    let gives = volume.regions().iter().map(|(r, s)| (*r, s.direct, s.total())).collect();
    let asked = dose.sets.len();
    let sets = if Choice::is_even(dose) { [FEWEST_SETS.min(asked), asked + MORE_THAN_ASKED] } else { [asked; 2] };
    let sides = if movement.unilateral() { 2.0 } else { 1.0 };
    let change = f64::from(movement.change_s);
    let (mut work, mut rest) = (0.0, 0.0);
    for set in &dose.sets {
        work += sides * set.expected_seconds().value() + (sides - 1.0) * change;
        rest += f64::from(set.rest_s);
    }
    let share = match question.school.pairing {
        Pairing::Alone => 1.0,
        Pairing::Antagonist => 0.75,
        Pairing::SameRegion => 0.7,
        Pairing::Circuit => 0.5,
    };
    let each = (work + share * rest) / asked.max(1) as f64;
    let person = question.rooms[room].person;
    let ahead = Ahead { key: (), movement, ladder: &candidate.ladder, step: candidate.step(), dose };
    let ramps: f64 = WarmUp::of(person, &[ahead]).ramps.iter().map(|r| r.seconds.value()).sum();
    // A set-up goes on within the rest before it, and every second heavy movement finds the body warm.
    let rest = rest / asked.max(1) as f64;
    let once = Seconds((candidate.step().set_up_s.value() - share * rest).max(0.0) + 0.6 * ramps);
    let (intent, a_set, led_up) = (intent.clone(), Seconds(each), ramps > 0.0);
    Choice { room, intent, region, gives, a_set, once, led_up, sets, candidate, pin: None }
}

/// How much a set of it serves the aims.
fn worth(question: &WeekQuestion<'_>, choice: &Choice<'_>) -> f64 {
    let wanted: f64 = choice.gives.iter().map(|(r, _, all)| question.weight(*r) * all).sum();
    wanted * choice.candidate.score
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    fn unsuited() -> Lacking {
        Lacking::Unsuited { movement: "Curl".into(), step: "8 kg".into() }
    }

    /// Whichever room is looked at first, what is told is of the one that has something; of two that have nothing it is the first.
    #[rstest]
    #[case::something_first([unsuited(), Lacking::Nothing], unsuited())]
    #[case::something_last([Lacking::Nothing, unsuited()], unsuited())]
    #[case::nothing_in_both([Lacking::Nothing, Lacking::RuledOut(Why::PutAside("sore".into()))], Lacking::Nothing)]
    fn a_room_that_has_something_speaks_for_all(#[case] rooms: [Lacking; 2], #[case] told: Lacking) {
        let mut all = BTreeMap::new();
        for lacking in rooms {
            add_lack(&mut all, Region::Lats, lacking);
        }
        assert_eq!(all, BTreeMap::from([(Region::Lats, told)]));
    }
}
