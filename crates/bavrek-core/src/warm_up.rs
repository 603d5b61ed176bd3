//! What goes before and after the work: a general part, the joints that will be loaded, ramps up to heavy sets, and a
//! way down.

use std::collections::BTreeSet;

use crate::anatomy::{Joint, Pattern};
use crate::dose::{Prescription, SetKind, Tempo};
use crate::ladder::{Ladder, LadderStep};
use crate::movement::Movement;
use crate::person::Person;
use crate::school::is_compound;
use crate::units::Seconds;

/// Moving a joint through its easy range, s a joint. Coaching practice, assumed.
pub(crate) const A_JOINT: f64 = 40.0;
/// Rest after a ramp set, s: nobody gets tired of it. Assumed.
const AFTER_A_RAMP: f64 = 45.0;
/// Walking and breathing slowly after the work, s. Assumed.
const COOL_DOWN: f64 = 120.0;
/// Longest first set that is warmed up to; a longer one is work and warm-up at once.
const LONGEST_RAMPED: u16 = 12;
/// Share of body mass, in the hand or hands that hold it, below which work is light enough to begin with. Assumed.
const LIGHT: f64 = 0.1;
/// A step counts as near enough to a share of the work where it lies within this ratio of it.
const NEAR_ENOUGH: f64 = 1.04;

/// Shares of the first set's load with their repetitions, by the most repetitions of that set. Coaching practice, assumed:
/// the heavier the work, the more steps up to it. What moves a single joint is light enough to begin with, unless it is
/// done in very few repetitions.
const fn shares(most_reps: u16, pattern: Pattern) -> &'static [(f64, u16)] {
    match (most_reps, is_compound(pattern)) {
        (0..=6, _) => &[(0.5, 8), (0.7, 5), (0.85, 3)],
        (7..=10, true) => &[(0.5, 8), (0.75, 4)],
        (11..=LONGEST_RAMPED, true) => &[(0.6, 6)],
        _ => &[],
    }
}

/// What a session warms up for: a station as it will be done.
#[derive(Debug, Clone, Copy)]
pub struct Ahead<'a, K> {
    /// Whose it is.
    pub key: K,
    /// Its movement.
    pub movement: &'a Movement,
    /// All steps of it here.
    pub ladder: &'a Ladder,
    /// The step of its first set.
    pub step: &'a LadderStep,
    /// Its sets.
    pub dose: &'a Prescription,
}

/// A set on the way up, on a step that exists.
#[derive(Debug, Clone, PartialEq)]
pub struct Ramp<K> {
    /// Whose station it leads to.
    pub key: K,
    /// The step.
    pub step: LadderStep,
    /// Its share of the first set's load, 0 to 1.
    pub share: f64,
    /// Repetitions, easy ones.
    pub reps: u16,
    /// Time of the set and the rest after it.
    pub seconds: Seconds,
}

/// What goes before the first working set.
#[derive(Debug, Clone, PartialEq)]
pub struct WarmUp<K> {
    /// Walking, cycling, skipping: until it is warm.
    pub general: Seconds,
    /// Joints that the session loads, to be moved through their range.
    pub joints: Vec<Joint>,
    /// Sets on the way up, each before its station.
    pub ramps: Vec<Ramp<K>>,
}

/// Walking and breathing slowly after the work.
pub const fn cool_down() -> Seconds {
    Seconds(COOL_DOWN)
}

/// Whether a joint is moved before a movement that loads it: what the general part, on the feet, has warmed already is not.
pub(crate) fn is_to_be_moved(movement: &Movement, joint: Joint) -> bool {
    !matches!(joint, Joint::Hip | Joint::Knee | Joint::Fingers) && movement.loads_joint(joint)
}

/// How a joint is moved before it is loaded.
pub const fn drill(joint: Joint) -> &'static str {
    match joint {
        Joint::Shoulder => "arm circles, then raise both arms slowly as high as comes easily, ten times",
        Joint::Elbow => "bend and straighten the elbows slowly, palms up and palms down, ten times each",
        Joint::Wrist => "circle the wrists, then lean lightly on flat hands, ten times",
        Joint::Neck => "turn and tilt the head slowly, shoulders low, five times each way",
        Joint::LowBack => "on hands and knees, round and hollow the back slowly, ten times",
        Joint::Hip => "swing each leg forward and back beside a support, ten times",
        Joint::Knee => "sit down to a chair and stand up again slowly, five times",
        Joint::Fingers => "open the hands wide and close them to soft fists, ten times",
    }
}

impl<K: Copy> WarmUp<K> {
    /// The warm-up of a session, its stations in the order in which they are done. The first station of each kind of
    /// strength is ramped up to; those after it find it warm.
    pub fn of(person: &Person, ahead: &[Ahead<'_, K>]) -> Self {
        let loaded = |joint: &Joint| ahead.iter().any(|a| is_to_be_moved(a.movement, *joint));
        let mut warm: BTreeSet<&str> = BTreeSet::new();
        let mut ramps = Vec::new();
        for station in ahead {
            if warm.insert(station.movement.carry_over.pattern.as_str()) {
                ramps.extend(up_to(station, person));
            }
        }
        Self {
            general: Seconds(60.0 * f64::from(person.warm_up_minutes()[0])),
            joints: Joint::ALL.iter().copied().filter(loaded).collect(),
            ramps,
        }
    }

    /// Time of the general part and the joints.
    pub fn before_all(&self) -> Seconds {
        Seconds(self.general.value() + A_JOINT * self.joints.len() as f64)
    }

    /// Time of all of it.
    pub fn seconds(&self) -> Seconds {
        Seconds(self.before_all().value() + self.ramps.iter().map(|r| r.seconds.value()).sum::<f64>())
    }
}

/// Ramp sets up to a station's first set: none where it is long, timed, light or without a lighter step.
fn up_to<K: Copy>(station: &Ahead<'_, K>, person: &Person) -> Vec<Ramp<K>> {
    let ramped = |kind| matches!(kind, SetKind::Straight | SetKind::Amrap | SetKind::ToTotal | SetKind::Extension);
    let most = station.dose.sets.first().filter(|s| ramped(s.kind)).and_then(|s| s.reps).map(|[_, most]| most);
    let work = station.step.effective_kg.value();
    let mut ramps: Vec<Ramp<K>> = Vec::new();
    if work < LIGHT * person.body_mass_kg.value() {
        return ramps;
    }
    for (share, reps) in most.map_or(&[][..], |most| shares(most, station.movement.pattern)) {
        // A step is taken as long as it is not heavier than asked and nearer to it than the one before.
        let below = station.ladder.steps.iter().rfind(|s| s.effective_kg.value() <= share * NEAR_ENOUGH * work);
        let Some(step) = below.filter(|s| s.effective_kg.value() >= 0.25 * work) else { continue };
        if ramps.last().is_some_and(|r| r.step.effective_kg.value() >= step.effective_kg.value() * 0.98) {
            continue;
        }
        let share = step.effective_kg.value() / work;
        let seconds = Tempo::USUAL.seconds() * f64::from(*reps);
        let seconds = Seconds(seconds.value() + AFTER_A_RAMP);
        ramps.push(Ramp { key: station.key, step: step.clone(), share, reps: *reps, seconds });
    }
    ramps
}
