//! The ladder: every difficulty that one movement can have for one client at one place, in order.

mod ahead;
mod bands;
mod bridges;
mod families;
mod levers;
mod missing;
mod needs;
mod now;
mod room;
mod rung;
mod rungs;
mod step;
mod supports;
mod weights;

pub use ahead::{Ahead, Next, ahead};
pub use bands::{MOST_BANDS, bands_left_out};
pub(crate) use bridges::ORDINARY_JUMP;
pub use bridges::{Bridge, BridgeCode, Ground, HandsOn, Landing, Way, bridges};
pub use families::{Familied, Openings, distinct, join};
pub use missing::{Missing, Piece, Rolling};
pub use needs::{Need, in_words, lacking, needs};
pub use room::{Absent, HeldAs, Lack, absent};
pub use rung::Rung;
pub use step::{LadderStep, beside, moved};

use self::rungs::{A_STEP, Scope};
use crate::dose::StampedLoad;
use crate::execution::RangePart;
use crate::kit::KitItem;
use crate::mechanics::profile::share_distance;
use crate::movement::Movement;
use crate::person::Person;
use crate::plan::Intent;
use crate::rigging::Setup;
use crate::units::Kilograms;

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
        match rungs::enumerate(movement, person, kit, Scope::Joining) {
            Ok(rungs) => Self { steps: rung::steps(&join(rungs), movement, person, kit), missing: vec![] },
            Err(missing) => Self { steps: vec![], missing },
        }
    }

    /// Whether a kit carries a movement at all.
    pub(crate) fn is_possible(movement: &Movement, person: &Person, kit: &[KitItem]) -> bool {
        rungs::enumerate(movement, person, kit, Scope::Any).is_ok()
    }

    /// The step that resembles a set-up and load most, whether the ladder shows it or not; the lightest where nothing does. None
    /// with what is missing where the kit cannot carry the movement.
    pub fn resembling(
        movement: &Movement,
        person: &Person,
        kit: &[KitItem],
        (load, setup): (Option<StampedLoad>, &Setup),
    ) -> Result<LadderStep, Vec<Missing>> {
        let near = Self::over(movement, person, kit, Scope::With(load));
        let banded = load.is_none() && near.steps.iter().all(|s| !s.bands.is_empty());
        let found = near.nearest(load, banded, setup).or_else(|| near.steps.first()).cloned();
        found.ok_or(near.missing)
    }

    fn over(movement: &Movement, person: &Person, kit: &[KitItem], scope: Scope<'_>) -> Self {
        match rungs::enumerate(movement, person, kit, scope) {
            Ok(rungs) => Self { steps: rung::steps(&rungs, movement, person, kit), missing: vec![] },
            Err(missing) => Self { steps: vec![], missing },
        }
    }

    /// All steps before they are joined: what was done may have been on a rung that is not worth offering. In a room of many
    /// weights and bands these are tens of thousands: only for a kit that was narrowed down.
    pub fn whole(movement: &Movement, person: &Person, kit: &[KitItem]) -> Self {
        Self::over(movement, person, kit, Scope::Whole)
    }

    /// For each pair of loads the step with a band in it that lies nearest to their middle, where there is one.
    fn banded_between(
        movement: &Movement,
        person: &Person,
        kit: &[KitItem],
        between: &[(f64, f64)],
    ) -> Vec<LadderStep> {
        let rungs = rungs::enumerate(movement, person, kit, Scope::Between(between)).unwrap_or_default();
        rung::steps(&rungs, movement, person, kit)
    }

    /// The ladder of a line: as [`Self::of`], each step in the part of the range that the line goes through; in two parts where a load
    /// is asked so and can be had.
    pub fn of_line(movement: &Movement, person: &Person, kit: &[KitItem], intent: &Intent) -> Self {
        let shares = intent.dose.band_percent().map(|percent| percent.map(|p| f64::from(p) / 100.0));
        let whole = shares.and_then(|share| Self::in_two(movement, person, kit, share));
        let whole = whole.unwrap_or_else(|| Self::of(movement, person, kit));
        whole.cut(movement, person, kit, intent.part_for(movement))
    }

    /// The ladder of weights with bands that give a share of the whole, and below it the weights alone that are lighter than all of
    /// these: who cannot begin with both begins with one. None where nothing here adds a band to a weight.
    fn in_two(movement: &Movement, person: &Person, kit: &[KitItem], share: [f64; 2]) -> Option<Self> {
        if movement.rig.is_lever() {
            return None;
        }
        let rungs = rungs::enumerate(movement, person, kit, Scope::InTwo(share)).ok()?;
        let steps = rung::steps(&rungs, movement, person, kit);
        let mixed: Vec<LadderStep> = steps.into_iter().filter(LadderStep::is_mixed).collect();
        let lightest = mixed.first()?.effective_kg.value();
        let alone =
            |s: &LadderStep| s.load.is_some() && s.bands.is_empty() && s.effective_kg.value() * A_STEP < lightest;
        let lighter = Self::of(movement, person, kit).steps.into_iter().filter(alone);
        Some(Self { steps: lighter.chain(mixed).collect(), missing: vec![] })
    }

    /// The same in a part of the range, or the whole of it.
    pub fn of_part(movement: &Movement, person: &Person, kit: &[KitItem], part: Option<RangePart>) -> Self {
        Self::of(movement, person, kit).cut(movement, person, kit, part)
    }

    /// Each step of it in a part of the range.
    fn cut(self, movement: &Movement, person: &Person, kit: &[KitItem], part: Option<RangePart>) -> Self {
        let Some(part) = part else { return self };
        let mut steps: Vec<LadderStep> =
            self.steps.iter().filter_map(|step| step.in_part(part, movement, person, kit)).collect();
        steps.sort_by(|a, b| a.effective_kg.value().total_cmp(&b.effective_kg.value()));
        Self { steps, ..self }
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
