//! The ladder: every difficulty that one movement can have for one client at one place, in order.

mod bands;
mod bridges;
mod families;
mod levers;
mod room;
mod rungs;
mod supports;

pub(crate) use bridges::ORDINARY_JUMP;
pub use bridges::{Bridge, BridgeCode, Ground, Landing, Way, bridges};
pub use families::{Familied, join};
pub use room::{Absent, absent};
pub use rungs::{Missing, MissingKind, Rung};

use serde::{Deserialize, Serialize};

use crate::anatomy::Implement;
use crate::dose::StampedLoad;
use crate::kit::KitItem;
use crate::mechanics::profile::{Profile, share_distance};
use crate::movement::Movement;
use crate::person::Person;
use crate::rigging::Setup;
use crate::rigging::{Assembly, BandInUse, Loads, Rigged};
use crate::units::{Kilograms, Seconds};

/// Distance to an anchor beyond which stepping out is for later steps, m. Assumed.
const FAR_OUT: f64 = 1.5;

/// One reachable difficulty.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct LadderStep {
    /// Mean load over the range.
    pub effective_kg: Kilograms,
    /// Largest load in the range.
    pub peak_kg: Kilograms,
    /// What to take and how, for example `pair of 12 kg + loop 13 mm, grip 0.2 m down`.
    pub label: String,
    /// What carries the load.
    pub implements: Vec<Implement>,
    /// How it is set up.
    pub setup: Setup,
    /// Time to set it up.
    pub set_up_s: Seconds,
    /// The dumbbell or added weight in it, as stamped.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub load: Option<StampedLoad>,
    /// The bands in it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub bands: Vec<String>,
    /// Log-SD of the effective load.
    pub log_sd: f64,
    /// Share of the load that bands give.
    pub band_share: f64,
    /// Shares of work in the lengthened, middle and shortened third.
    pub thirds: [f64; 3],
    /// Resistance over its peak at equal distances, lengthened to shortened.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub curve: Vec<f64>,
}

impl LadderStep {
    /// A set-up of the trainer's own as a step: what the rig says, with the weight as stamped and the band's item.
    pub fn of_rig(
        rigged: &Rigged<'_>,
        assembly: &Assembly,
        weight: Option<StampedLoad>,
        packed: bool,
        band: Option<&KitItem>,
    ) -> Self {
        let movement = rigged.movement;
        let bands: Vec<String> = band.map(KitItem::name).into_iter().collect();
        let marked: Vec<String> = band.map(KitItem::marked_name).into_iter().collect();
        let mut implements: Vec<Implement> = Vec::new();
        implements.extend(weight.map(|_| if packed { Implement::Backpack } else { Implement::Dumbbell }));
        implements.extend(band.map(bands::implement_of));
        let own = [Implement::Rings, Implement::Bar, Implement::Bodyweight];
        implements.extend(own.into_iter().filter(|i| movement.uses(*i) && movement.rig.is_lever()));
        let trouble = if band.is_some() { 15.0 } else { 0.0 };
        Self {
            effective_kg: assembly.effective(),
            peak_kg: assembly.peak(),
            label: rungs::label(movement, weight, packed, &marked, &rigged.setup),
            implements,
            setup: rigged.setup,
            set_up_s: Seconds(f64::from(movement.set_up_s) + trouble),
            load: weight,
            bands,
            log_sd: assembly.log_sd,
            band_share: assembly.band_share,
            thirds: assembly.thirds,
            curve: assembly.curve(),
        }
    }

    /// The resistance along the way over its peak, from the curve; none where that was not kept.
    pub fn force(&self) -> Option<Profile> {
        let last = self.curve.len().checked_sub(1)?;
        Some(Profile::sample(|s| self.curve[((s * self.curve.len() as f64) as usize).min(last)]))
    }

    /// Whether it is set up without a contraption: one weight, one band at an ordinary stance, or the body's position
    /// alone. First test sets are plain.
    pub fn is_plain(&self) -> bool {
        let nearer = self.setup.grip_shorter_m.is_some_and(|m| m.value() > 0.0);
        let far = self.setup.anchor_distance_m.is_some_and(|m| m.value() > FAR_OUT);
        let fixed_oddly = self.setup.band_fix == Some(crate::rigging::BandFix::Doubled);
        let body =
            self.implements.iter().any(|i| matches!(i, Implement::Bodyweight | Implement::Rings | Implement::Bar));
        // A band may help in a chin-up or dip; on top of the body it is a load of a later day.
        let helped = self.band_share < 0.0;
        let things = usize::from(self.load.is_some()) + if helped { 0 } else { self.bands.len() };
        !(nearer || far || fixed_oddly) && things <= usize::from(!body)
    }

    /// What is held and strapped on in this step, with the bands found in the kit again by their names.
    pub fn loads(&self, kit: &[KitItem]) -> Loads {
        let mut found =
            self.bands.iter().filter_map(|name| kit.iter().find(|item| item.name() == *name).and_then(BandInUse::of));
        Loads { weight: self.load.map_or(Kilograms(0.0), |load| load.kilograms()), bands: [found.next(), found.next()] }
    }
}

/// The ladder of one movement.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Ladder {
    /// Steps by rising effective load.
    pub steps: Vec<LadderStep>,
    /// What the place lacks, where there is no step.
    pub missing: Vec<Missing>,
}

impl Ladder {
    /// All steps of `movement` for `person` with `kit`, joined from their families. Empty with the reasons where the kit cannot carry it.
    pub fn of(movement: &Movement, person: &Person, kit: &[KitItem]) -> Self {
        match rungs::enumerate(movement, person, kit, true) {
            Ok(rungs) => Self { steps: rungs::steps(&join(rungs), movement, kit), missing: vec![] },
            Err(missing) => Self { steps: vec![], missing },
        }
    }

    /// All steps before they are joined: what was done may have been on a rung that is not worth offering.
    pub fn whole(movement: &Movement, person: &Person, kit: &[KitItem]) -> Self {
        match rungs::enumerate(movement, person, kit, false) {
            Ok(rungs) => Self { steps: rungs::steps(&rungs, movement, kit), missing: vec![] },
            Err(missing) => Self { steps: vec![], missing },
        }
    }

    /// Whether a step can be set up with a kit: the kit carries the movement at all, and all that the step takes is there.
    /// Distances, grips and leans are the trainer's own.
    pub fn can_set_up(movement: &Movement, person: &Person, kit: &[KitItem], step: &LadderStep) -> bool {
        absent(movement, person, kit, step).is_empty() && !Self::of(movement, person, kit).steps.is_empty()
    }

    /// Curve, and shares of work in thirds, of a movement with a dumbbell alone. None where none loads it or its support
    /// is missing.
    pub fn weighed_curve(movement: &Movement, person: &Person, kit: &[KitItem]) -> Option<(Vec<f64>, [f64; 3])> {
        let kilogram = rungs::kilogram(movement, person, kit)?;
        Some((kilogram.0.curve(), kilogram.0.shares(&kilogram.1)?))
    }

    /// The ladder in a room that has everything: what the movement is like before a kit narrows it.
    pub fn anywhere(movement: &Movement, person: &Person) -> Self {
        Self::of(movement, person, &crate::kit::full_room())
    }

    /// Index of the step nearest below or at a load; the lightest where none is.
    pub fn at(&self, load: Kilograms) -> Option<usize> {
        let below = self.steps.iter().rposition(|s| s.effective_kg.value() <= load.value() * 1.0001);
        below.or_else(|| (!self.steps.is_empty()).then_some(0))
    }

    /// Steps above an index.
    pub fn headroom(&self, index: usize) -> usize {
        self.steps.len().saturating_sub(index + 1)
    }

    /// Ratio less one from a step to the next.
    pub fn jump(&self, index: usize) -> Option<f64> {
        let next = self.steps.get(index + 1)?;
        Some(next.effective_kg.value() / self.steps[index].effective_kg.value() - 1.0)
    }

    /// Largest jump between neighbours within `[0.7, 1.5]` of a load, or on the whole ladder without one.
    pub fn largest_jump(&self, around: Option<Kilograms>) -> f64 {
        let inside =
            |load: Kilograms| around.is_none_or(|a| load.value() >= 0.7 * a.value() && load.value() <= 1.5 * a.value());
        (0..self.steps.len())
            .filter(|i| inside(self.steps[*i].effective_kg))
            .filter_map(|i| self.jump(i))
            .fold(0.0, f64::max)
    }

    /// The step that resembles a set-up and load most: what was done, found again on today's ladder.
    pub fn nearest(&self, load: Option<StampedLoad>, banded: bool, setup: &Setup) -> Option<&LadderStep> {
        let same_kind = |s: &&LadderStep| s.load.is_some() == load.is_some() && s.bands.is_empty() != banded;
        let distance = |s: &LadderStep| {
            let kg = |l: Option<StampedLoad>| l.map_or(0.0, |l| l.kilograms().value());
            (kg(s.load) - kg(load)).abs() + 10.0 * s.setup.distance(setup)
        };
        self.steps.iter().filter(same_kind).min_by(|a, b| distance(a).total_cmp(&distance(b)))
    }

    /// Whether a step changes the resistance curve rather than only its size: the band's share moves by over 0.35.
    pub fn changes_curve(&self, from: usize, to: usize) -> bool {
        let (a, b) = (&self.steps[from], &self.steps[to]);
        (a.band_share - b.band_share).abs() > 0.35 || share_distance(&a.thirds, &b.thirds) > 0.25
    }
}
