//! The ledger: logged sets read as evidence, pattern by pattern, so that strength survives a change of movement.

use std::collections::BTreeMap;

use super::reps;
use super::state::{Prediction, SetEvidence, StrengthState};
use crate::anatomy::vocabulary;
use crate::kit::KitItem;
use crate::ladder::Ladder;
use crate::log::LoggedSet;
use crate::movement::{Catalogue, Movement};
use crate::person::Person;
use crate::units::{Kilograms, Metres};

/// Reserve assumed for a set that was logged without one.
const RESERVE_NOT_STATED: f64 = 2.0;

/// Ratio to the first guess above which a set was typed wrong: nobody lifts eight times what is usual. Assumed.
const BEYOND_ANYONE: f64 = 8.0;

vocabulary!(
    /// Why a set says nothing about strength.
    LeftOut {
        Future => "future", "dated after today";
        Unknown => "unknown", "of a movement that the catalogue does not hold";
        NoLoad => "no_load", "without a load that can be told";
        Unusable => "unusable", "with more than 40 repetitions, or a reserve that nobody can judge";
        Beyond => "beyond", "heavier than anyone of this body mass lifts";
    }
);

/// Strength states of a client by strength pattern, derived from the log alone.
#[derive(Debug, Clone)]
pub struct Ledger<'a> {
    catalogue: &'a Catalogue,
    states: BTreeMap<&'a str, StrengthState>,
    guesses: BTreeMap<&'a str, f64>,
    left_out: BTreeMap<LeftOut, usize>,
}

impl<'a> Ledger<'a> {
    /// Replays the log. Sets that cannot be are left out and counted by their reason, never averaged in; holds are no
    /// evidence of repetitions and pass in silence.
    pub fn replay(
        catalogue: &'a Catalogue,
        person: &Person,
        history: &[LoggedSet],
        today: Option<chrono::NaiveDate>,
    ) -> Self {
        let guesses: BTreeMap<&str, f64> =
            catalogue.priors.iter().map(|(id, prior)| (id.as_str(), prior.log_guess(person))).collect();
        let mut evidence: BTreeMap<&str, Vec<SetEvidence<'_>>> = BTreeMap::new();
        let mut left_out = BTreeMap::new();
        for set in history.iter().filter(|s| s.reps.is_some()) {
            match read(catalogue, set, person, &guesses, today) {
                Ok((pattern, one)) => evidence.entry(pattern).or_default().push(one),
                Err(why) => *left_out.entry(why).or_insert(0) += 1,
            }
        }
        let states = evidence
            .into_iter()
            .filter_map(|(pattern, mut sets)| {
                sets.sort_by_key(|s| s.date);
                Some((pattern, StrengthState::replay(*guesses.get(pattern)?, sets)))
            })
            .collect();
        Self { catalogue, states, guesses, left_out }
    }

    /// What of the log was left out, in a sentence a reason.
    pub fn notes(&self) -> Vec<String> {
        let sets = |n: usize| if n == 1 { "1 set".to_owned() } else { format!("{n} sets") };
        self.left_out.iter().map(|(why, n)| format!("{} left out: {why}", sets(*n))).collect()
    }

    /// Log load for 12 repetitions to failure that is expected on a movement, as effective load of that movement.
    pub fn predict(&self, movement: &Movement) -> Prediction {
        let pattern = movement.carry_over.pattern.as_str();
        let predicted = if let Some(state) = self.states.get(pattern) {
            state.predict(&movement.id, movement.log_ratio())
        } else {
            let guess = self.guesses.get(pattern).copied().unwrap_or(0.0);
            StrengthState::new(guess).predict(&movement.id, movement.log_ratio())
        };
        Prediction { mean: predicted.mean - movement.carry_over.basis.ln(), ..predicted }
    }

    /// Whether any set of the movement's strength pattern was taken in.
    pub fn has_evidence(&self, movement: &Movement) -> bool {
        self.states.get(movement.carry_over.pattern.as_str()).is_some_and(StrengthState::has_evidence)
    }

    /// Patterns with evidence, with the predicted load of their anchor.
    pub fn anchors(&self) -> impl Iterator<Item = (&'a crate::strength::PatternPrior, Prediction)> + '_ {
        self.states.keys().filter_map(|pattern| {
            let prior = self.catalogue.priors.get(*pattern)?;
            let movement = self.catalogue.movement(&prior.anchor)?;
            Some((prior, self.predict(movement)))
        })
    }
}

fn read<'a>(
    catalogue: &'a Catalogue,
    set: &LoggedSet,
    person: &Person,
    guesses: &BTreeMap<&str, f64>,
    today: Option<chrono::NaiveDate>,
) -> Result<(&'a str, SetEvidence<'a>), LeftOut> {
    if today.is_some_and(|t| set.date > t) {
        return Err(LeftOut::Future);
    }
    let movement = catalogue.movement(&set.exercise).ok_or(LeftOut::Unknown)?;
    let load = effective_load(set, movement, person).ok_or(LeftOut::NoLoad)?;
    let one = SetEvidence {
        exercise: &movement.id,
        date: set.date,
        log_load: (load.value() * movement.carry_over.basis).ln(),
        reps: set.reps.map_or(0.0, f64::from),
        rir: set.rir.map_or(RESERVE_NOT_STATED, f64::from),
        prior: movement.log_ratio(),
    };
    let reference = reps::reference_log_load(one.log_load, one.reps, one.rir).map_err(|_| LeftOut::Unusable)?;
    let pattern = movement.carry_over.pattern.as_str();
    // What the set says of the anchor, against what is usual there.
    if guesses.get(pattern).is_some_and(|guess| reference - one.prior.0 > guess + BEYOND_ANYONE.ln()) {
        return Err(LeftOut::Beyond);
    }
    Ok((pattern, one))
}

/// Effective load of a logged set: as computed when it was logged, or from its load, band and set-up.
pub fn effective_load(set: &LoggedSet, movement: &Movement, person: &Person) -> Option<Kilograms> {
    if let Some(known) = set.effective_kg.filter(|kg| kg.value() > 0.0) {
        return Some(known);
    }
    let setup = set.setup.unwrap_or_default();
    let mut kit = crate::kit::full_room();
    kit.retain(|k| !matches!(k, KitItem::Dumbbells(_) | KitItem::LoopBand(_) | KitItem::Box(_) | KitItem::Backpack(_)));
    if let Some(load) = set.load {
        kit.push(KitItem::Dumbbells(crate::kit::Dumbbells {
            unit: load.unit,
            pairs: vec![load.value],
            singles: vec![],
        }));
    }
    kit.extend(set.band.clone());
    for height in [setup.hands_height_m, setup.feet_height_m].into_iter().flatten().filter(|h| h.value() > 0.0) {
        kit.push(KitItem::Box(crate::kit::Boxes { height_m: Metres(height.value()), count: 2 }));
    }
    if let Some(height) = setup.anchor_height_m {
        kit.push(KitItem::Anchor(crate::kit::Anchor { heights_m: vec![height.value()], door: None }));
    }
    let ladder = Ladder::unpruned(movement, person, &kit);
    ladder.nearest(set.load, set.band.is_some(), &setup).map(|step| step.effective_kg)
}
