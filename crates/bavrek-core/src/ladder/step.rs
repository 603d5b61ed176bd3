//! One reachable difficulty of a movement.

use serde::{Deserialize, Serialize};

use crate::anatomy::Implement;
use crate::dose::StampedLoad;
use crate::execution::RangePart;
use crate::kit::{KitItem, NamedBand, same_bands};
use crate::mechanics::profile::Profile;
use crate::movement::Movement;
use crate::person::Person;
use crate::rigging::{BandFix, BandInUse, Loads, Rigged, Setup};
use crate::units::{Kilograms, Seconds};

/// Distance to an anchor beyond which stepping out is for later steps, m. Assumed.
pub(super) const FAR_OUT: f64 = 1.5;

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
    pub bands: Vec<NamedBand>,
    /// The body mass that it was worked out for, where the body is part of the load.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub body_kg: Option<Kilograms>,
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
    /// The resistance along the way over its peak, from the curve; none where that was not kept.
    pub fn force(&self) -> Option<Profile> {
        let last = self.curve.len().checked_sub(1)?;
        Some(Profile::sample(|s| self.curve[((s * self.curve.len() as f64) as usize).min(last)]))
    }

    /// The same in a part of the range only. None where nothing loads that part.
    pub(super) fn in_part(
        &self,
        part: RangePart,
        movement: &Movement,
        person: &Person,
        kit: &[KitItem],
    ) -> Option<Self> {
        let setup = Setup { range: Some(part), ..self.setup };
        let assembly = Rigged::new(movement, person, setup).load(&self.loads(kit)).ok()?;
        let effective = assembly.effective();
        (effective.value() > 0.0).then(|| Self {
            effective_kg: effective,
            peak_kg: assembly.peak(),
            label: format!("{}, {part}", self.label),
            setup,
            log_sd: assembly.log_sd,
            band_share: assembly.band_share,
            thirds: assembly.thirds,
            curve: assembly.curve(),
            ..self.clone()
        })
    }

    /// Whether another is set up and loaded alike, whatever part of the range is gone through.
    pub fn is_alike(&self, other: &Self) -> bool {
        let whole = |setup: Setup| Setup { range: None, ..setup };
        same_bands(&self.bands, &other.bands) && (self.load, whole(self.setup)) == (other.load, whole(other.setup))
    }

    /// Whether it is set up without a contraption: one weight, one band at an ordinary stance, or the body's position
    /// alone. First test sets are plain.
    pub fn is_plain(&self) -> bool {
        let nearer = self.setup.grip_shorter_m.is_some_and(|m| m.value() > 0.0);
        let far = self.setup.anchor_distance_m.is_some_and(|m| m.value() > FAR_OUT);
        let fixed_oddly = self.setup.band_fix == Some(BandFix::Doubled);
        let body =
            self.implements.iter().any(|i| matches!(i, Implement::Bodyweight | Implement::Rings | Implement::Bar));
        // A band may help in a chin-up or dip; on top of the body it is a load of a later day.
        let helped = self.band_share < 0.0;
        let things = usize::from(self.load.is_some()) + if helped { 0 } else { self.bands.len() };
        !(nearer || far || fixed_oddly) && things <= usize::from(!body)
    }

    /// Whether it is in two parts, a weight and what a band adds to it.
    pub fn is_mixed(&self) -> bool {
        self.load.is_some() && !self.bands.is_empty() && self.band_share > 0.0
    }

    /// The weight in the hands, and what it is.
    pub fn in_hands(&self) -> Option<(Implement, StampedLoad)> {
        let held = |i: &Implement| matches!(i, Implement::Dumbbell | Implement::Kettlebell | Implement::Barbell);
        self.implements.iter().copied().find(held).zip(self.load)
    }

    /// What is held and strapped on in this step, with the bands found in the kit again.
    pub fn loads(&self, kit: &[KitItem]) -> Loads {
        let mut found = self.bands.iter().filter_map(|band| band.in_kit(kit).and_then(BandInUse::of));
        Loads { weight: self.load.map_or(Kilograms(0.0), |load| load.kilograms()), bands: [found.next(), found.next()] }
    }
}

/// Smallest and largest ratio from one set to the next within a line, a step: over a wider gap the next set would be another exercise,
/// or one without end. Assumed: what is dropped to is usually a tenth to a third lighter.
const WITHIN: [f64; 2] = [0.65, 1.25];

/// The place that lies so many steps above one, or below it where negative, as sets of one line are moved: with the same things in hand
/// where that goes on, not over wide gaps, and no farther than there are steps.
pub fn moved(steps: &[LadderStep], at: usize, by: i8) -> usize {
    let ratio = |from: usize, to: usize| steps[to].effective_kg.value() / steps[from].effective_kg.value();
    let next = |now: usize| {
        let [lighter, heavier] = beside(steps, now);
        let to = if by < 0 { lighter } else { heavier };
        to.filter(|to| (WITHIN[0]..=WITHIN[1]).contains(&ratio(now, *to)))
    };
    (0..by.unsigned_abs()).fold(at, |now, _| next(now).unwrap_or(now))
}

/// The places of the steps below and above one to which it can be changed within a set: of the nearest with the same things in hand,
/// or else the nearest; none where there is none.
pub fn beside(steps: &[LadderStep], at: usize) -> [Option<usize>; 2] {
    let Some(own) = steps.get(at) else { return [None, None] };
    let same = |i: &usize| {
        let other = &steps[*i];
        (other.load.is_some(), &other.bands) == (own.load.is_some(), &own.bands)
    };
    let lighter = (0..at).rev().find(same).or_else(|| at.checked_sub(1));
    let heavier = (at + 1..steps.len()).find(same).or_else(|| (at + 1 < steps.len()).then_some(at + 1));
    [lighter, heavier]
}
