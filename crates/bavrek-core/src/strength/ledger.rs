//! The ledger: logged sets read as evidence, pattern by pattern, so that strength survives a change of movement.

use std::collections::BTreeMap;

use chrono::NaiveDate;

use super::state::{Prediction, SetEvidence, StrengthState};
use crate::anatomy::vocabulary;
use crate::execution::RangePart;
use crate::kit::KitItem;
use crate::ladder::Ladder;
use crate::log::LoggedSet;
use crate::movement::PatternPrior;
use crate::movement::{Catalogue, Movement, Style};
use crate::person::Person;
use crate::reps;
use crate::units::{Kilograms, Metres};

/// Ratio to the first guess above which a set was typed wrong: nobody lifts eight times what is usual. Assumed.
const BEYOND_ANYONE: f64 = 8.0;

vocabulary!(
    /// Why a set says nothing about strength.
    LeftOut {
        Future => "future", "dated after today";
        Unknown => "unknown", "of a movement that the catalogue does not hold";
        Resisted => "resisted", "against a hand or leg, whose force nobody knows";
        NoLoad => "no_load", "without a load that can be told";
        HalfRange => "half_range", "in half of the range, which says nothing sure of the whole";
        Beyond => "beyond", "heavier than anyone of this body mass lifts";
    }
);

/// A client's strength over all patterns, derived from the log alone.
#[derive(Debug, Clone)]
pub struct Ledger<'a> {
    catalogue: &'a Catalogue,
    state: StrengthState,
    /// Patterns in the order of the state, with their guesses.
    patterns: BTreeMap<&'a str, (usize, f64)>,
    today: Option<NaiveDate>,
    left_out: BTreeMap<LeftOut, usize>,
}

impl<'a> Ledger<'a> {
    /// Replays the log. Sets that cannot be are left out and counted by their reason, never averaged in; holds are no
    /// evidence of repetitions and pass in silence. What is predicted is for `today`, where it is given.
    pub fn replay(catalogue: &'a Catalogue, person: &Person, history: &[LoggedSet], today: Option<NaiveDate>) -> Self {
        let patterns: BTreeMap<&str, (usize, f64)> = catalogue
            .priors
            .values()
            .enumerate()
            .map(|(i, prior)| (prior.id.as_str(), (i, prior.log_guess(person))))
            .collect();
        let mut evidence: Vec<SetEvidence<'_>> = Vec::new();
        let mut left_out = BTreeMap::new();
        for set in history.iter().filter(|s| s.tells_strength()) {
            match read(catalogue, set, person, &patterns, today) {
                Ok(one) => evidence.push(one),
                Err(why) => *left_out.entry(why).or_insert(0) += 1,
            }
        }
        evidence.sort_by_key(|s| s.date);
        let mut state = StrengthState::new(person, catalogue.priors.values());
        for set in &evidence {
            state.take(set);
        }
        Self { catalogue, state, patterns, today, left_out }
    }

    /// What of the log was left out, in a sentence a reason, and where its sets disagree.
    pub fn notes(&self) -> Vec<String> {
        let sets = |n: usize| if n == 1 { "1 set".to_owned() } else { format!("{n} sets") };
        let left_out = self.left_out.iter().map(|(why, n)| format!("{} left out: {why}", sets(*n)));
        let priors = self.catalogue.priors.values();
        let torn = priors.filter(|p| self.patterns.get(p.id.as_str()).is_some_and(|(i, _)| self.state.disagrees(*i)));
        let torn = torn.map(|p| {
            format!(
                "sets disagree ({}): was one typed wrong? Starts are kept low until more are logged",
                p.name.to_lowercase()
            )
        });
        left_out.chain(torn).collect()
    }

    fn pattern(&self, movement: &Movement) -> usize {
        self.patterns.get(movement.carry_over.pattern.as_str()).map_or(0, |(i, _)| *i)
    }

    /// Log load for 12 repetitions to failure that is expected on a movement, as effective load of that movement.
    pub fn predict(&self, movement: &Movement) -> Prediction {
        let pattern = self.pattern(movement);
        let predicted = self.state.predict(&movement.id, pattern, movement.log_ratio(), self.today);
        Prediction { mean: predicted.mean - movement.carry_over.basis.ln(), ..predicted }
    }

    /// Whether any set of the movement's strength pattern was taken in.
    pub fn has_evidence(&self, movement: &Movement) -> bool {
        self.state.has_evidence(self.pattern(movement))
    }

    /// Whether sets of other patterns say something of this movement's.
    pub fn is_informed(&self, movement: &Movement) -> bool {
        self.state.is_informed(self.pattern(movement))
    }

    /// Whether sets of the movement's pattern disagree so far that one may have been typed wrong.
    pub fn disagrees(&self, movement: &Movement) -> bool {
        self.state.disagrees(self.pattern(movement))
    }

    /// Days since the movement's pattern was last trained; none where it never was, or where no day is known.
    pub fn days_away(&self, movement: &Movement) -> Option<i64> {
        let last = self.state.last_trained(self.pattern(movement))?;
        Some((self.today? - last).num_days())
    }

    /// Patterns with evidence, with the predicted load of their anchor.
    pub fn anchors(&self) -> impl Iterator<Item = (&'a PatternPrior, Prediction)> + '_ {
        self.catalogue.priors.values().filter_map(|prior| {
            let movement = self.catalogue.movement(&prior.anchor)?;
            self.has_evidence(movement).then(|| (prior, self.predict(movement)))
        })
    }
}

fn read<'a>(
    catalogue: &'a Catalogue,
    set: &LoggedSet,
    person: &Person,
    patterns: &BTreeMap<&str, (usize, f64)>,
    today: Option<NaiveDate>,
) -> Result<SetEvidence<'a>, LeftOut> {
    if today.is_some_and(|t| set.date > t) {
        return Err(LeftOut::Future);
    }
    let movement = catalogue.movement(&set.exercise).ok_or(LeftOut::Unknown)?;
    if movement.rig.is_resisted() {
        return Err(LeftOut::Resisted);
    }
    if set.setup.and_then(|s| s.range).is_some_and(RangePart::is_half) {
        return Err(LeftOut::HalfRange);
    }
    let (pattern, guess) = *patterns.get(movement.carry_over.pattern.as_str()).ok_or(LeftOut::Unknown)?;
    let load = effective_load(set, movement, person).ok_or(LeftOut::NoLoad)?;
    // Slow lowering alone is slow by design: its ratio holds that already.
    let slowed = set.tempo.filter(|_| movement.style == Style::Reps).map(|tempo| tempo.seconds());
    let one = SetEvidence {
        exercise: &movement.id,
        pattern,
        date: set.date,
        log_load: (load.value() * movement.carry_over.basis).ln(),
        reading: reps::read(set.reps.map_or(0.0, f64::from), set.rir.map(f64::from), slowed),
        prior: movement.log_ratio(),
    };
    // What the set says of the anchor, against what is usual there.
    if one.log_load + one.reading.shift - one.prior.0 > guess + BEYOND_ANYONE.ln() {
        return Err(LeftOut::Beyond);
    }
    Ok(one)
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
            ..crate::kit::Dumbbells::default()
        }));
    }
    kit.extend(set.band.clone());
    for height in [setup.hands_height_m, setup.feet_height_m].into_iter().flatten().filter(|h| h.value() > 0.0) {
        kit.push(KitItem::Box(crate::kit::Boxes { height_m: Metres(height.value()), count: 2 }));
    }
    if let Some(height) = setup.anchor_height_m {
        kit.push(KitItem::Anchor(crate::kit::Anchor {
            heights_m: vec![height.value()],
            ..crate::kit::Anchor::default()
        }));
    }
    let ladder = Ladder::whole(movement, person, &kit);
    ladder.nearest(set.load, set.band.is_some(), &setup).map(|step| step.effective_kg)
}
