//! A step as it is today: what makes it was kept; what follows from that is worked out again where a band or the body changed.

use super::Ladder;
use super::rung::label;
use super::rungs::Scope;
use super::step::LadderStep;
use super::weights::Held;
use crate::anatomy::Implement;
use crate::kit::{KitItem, NamedBand};
use crate::movement::Movement;
use crate::person::Person;
use crate::rigging::Rigged;

impl LadderStep {
    /// The same step with the kit and the person as they are now: its bands by the names they have now, its load and curve by how they
    /// were measured last, and by what the body weighs. As it was kept where nothing of that changed since, where a band is gone, or
    /// where it loads nothing any more.
    #[must_use]
    pub fn as_now(&self, movement: &Movement, person: &Person, kit: &[KitItem]) -> Self {
        let found: Option<Vec<&KitItem>> = self.bands.iter().map(|band| band.in_kit(kit)).collect();
        let Some(found) = found else { return self.clone() };
        let stands = |band: &NamedBand, item: &KitItem| band.piece.is_some() && band.piece == item.piece();
        let body = movement.rig.is_lever().then_some(person.body_mass_kg);
        if self.body_kg == body && self.bands.iter().zip(&found).all(|(band, item)| stands(band, item)) {
            return self.clone();
        }
        let ladder = Ladder::over(movement, person, &self.own_kit(kit), Scope::With(self.load));
        let whole = ladder.steps.into_iter().find(|step| step.is_alike(self));
        let same = match self.setup.range {
            None => whole,
            Some(part) => whole.and_then(|step| step.in_part(part, movement, person, kit)),
        };
        // Where the band is of another length the ladder goes other distances: the set-up stays, and has the load that it has.
        same.or_else(|| self.rigged_now(movement, person, kit, &found)).unwrap_or_else(|| self.clone())
    }

    /// The kit without the bands that are not in this step.
    pub(super) fn own_kit(&self, kit: &[KitItem]) -> Vec<KitItem> {
        let names: Vec<String> = self.bands.iter().filter_map(|band| band.in_kit(kit)).map(KitItem::name).collect();
        kit.iter().filter(|item| !item.is_band() || names.contains(&item.name())).cloned().collect()
    }

    /// The step with its set-up as it stands, worked out by the rig; none where it loads nothing.
    fn rigged_now(&self, movement: &Movement, person: &Person, kit: &[KitItem], found: &[&KitItem]) -> Option<Self> {
        let assembly = Rigged::new(movement, person, self.setup).load(&self.loads(kit)).ok()?;
        let effective = assembly.effective();
        let shown: Vec<String> = found.iter().map(|item| item.marked_name()).collect();
        let text = label(movement, self.held(), &shown, &self.setup);
        (effective.value() > 0.0).then(|| Self {
            effective_kg: effective,
            peak_kg: assembly.peak(),
            label: self.setup.range.map_or_else(|| text.clone(), |part| format!("{text}, {part}")),
            bands: found.iter().map(|item| item.named()).collect(),
            body_kg: movement.rig.is_lever().then_some(person.body_mass_kg),
            log_sd: assembly.log_sd,
            band_share: assembly.band_share,
            thirds: assembly.thirds,
            curve: assembly.curve(),
            ..self.clone()
        })
    }

    /// The weight in it.
    fn held(&self) -> Option<Held> {
        let weight = [Implement::Dumbbell, Implement::Kettlebell, Implement::Barbell, Implement::Backpack];
        let with = *self.implements.iter().find(|i| weight.contains(i))?;
        Some(Held { load: self.load?, with, each_end: None })
    }
}
