//! One recipe of load: what it is made of, its family, and its words.

use std::fmt::{self, Write as _};

use super::bands::{self, BandUse};
use super::families::Familied;
use super::step::LadderStep;
use super::weights::Held;
use crate::anatomy::Implement;
use crate::dose::StampedLoad;
use crate::kit::{KitItem, NamedBand};
use crate::mechanics::profile::Profile;
use crate::movement::{Hands, Movement, RigModel};
use crate::person::Person;
use crate::rigging::setup::add;
use crate::rigging::{Assembly, Rigged, Setup, WEIGHED_SD};
use crate::units::{Kilograms, Seconds, Trimmed};

/// One recipe of load.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Rung {
    /// Effective load, kg.
    pub load: f64,
    /// Largest load in the range, kg.
    pub peak: f64,
    /// Trouble of setting it up: dumbbell 1, band 1 or 2, anchor 1 more.
    pub cost: u8,
    /// Share of the load that bands give.
    pub band_share: f64,
    /// Shares of work in thirds.
    pub thirds: [f64; 3],
    /// Log-SD of the load.
    pub log_sd: f64,
    /// 0 for the plain family, more for what is more trouble.
    pub(super) tier: u8,
    /// Whether its band helps rather than loads.
    pub(super) helped: bool,
    pub(super) weight: Option<Held>,
    pub(super) bands: [Option<BandUse>; 2],
    pub(super) setup: Setup,
    pub(super) profile: Profile,
}

/// What a step is made of, as far as its family goes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Made<'a> {
    /// Whether a weight is in it.
    pub(super) weight: bool,
    pub(super) bands: &'a [&'a BandUse],
    /// Whether the body itself is the load.
    pub(super) body: bool,
    /// Whether dumbbells carry the movement.
    pub(super) weighed: bool,
}

impl Made<'_> {
    /// 0 plain, more for what is more trouble: a plain weight, one band at an ordinary stance, or the body alone comes
    /// first; weight with band, bands doubled or two of them come last.
    pub(super) fn tier(&self) -> u8 {
        let odd = self.bands.iter().any(|b| b.is_odd());
        let doubled = self.bands.iter().any(|b| b.is_doubled());
        let plain = !odd && !doubled;
        let bands = self.bands.len();
        if self.body {
            return if bands > 0 { 2 } else { u8::from(self.weight) };
        }
        if self.weight {
            return match bands {
                0 => 0,
                1 if plain => 2,
                1 => 3,
                _ => 4,
            };
        }
        // Bands alone, where dumbbells carry the movement, are the last resort.
        match (self.weighed, bands) {
            (true, 1) => 5 + u8::from(!plain),
            (true, _) => 7,
            (false, 1) if plain => 0,
            (false, 1) if odd => 1,
            (false, _) => 2,
        }
    }
}

impl Familied for Rung {
    fn load(&self) -> f64 {
        self.load
    }

    fn cost(&self) -> u8 {
        self.cost
    }

    fn tier(&self) -> u8 {
        self.tier
    }

    fn band(&self) -> Option<usize> {
        match self.bands {
            [Some(one), None] => Some(usize::from(one.item)),
            _ => None,
        }
    }

    fn weight_kg(&self) -> Option<f64> {
        self.weight.map(|w| w.kilograms())
    }
}

impl Rung {
    /// A rung of which only load, cost and band share matter, for joining on its own.
    pub fn bare(load: f64, cost: u8, band_share: f64) -> Self {
        Self {
            load,
            peak: load,
            cost,
            band_share,
            thirds: [1.0 / 3.0; 3],
            log_sd: WEIGHED_SD,
            tier: 0,
            helped: false,
            weight: None,
            bands: [None; 2],
            setup: Setup::default(),
            profile: Profile([1.0; 60]),
        }
    }

    /// The rung with its family worked out from what it is made of.
    pub(super) fn in_family(self, movement: &Movement) -> Self {
        let bands: Vec<&BandUse> = self.bands.iter().flatten().collect();
        let (body, weighed) = (movement.rig.is_lever(), movement.is_weighed());
        // A band that helps is as plain as the body alone.
        let bands = if self.helped { &[][..] } else { &bands[..] };
        Self { tier: Made { weight: self.weight.is_some(), bands, body, weighed }.tier(), ..self }
    }

    /// The rung as a step, with its words. `names` are the kit's bands, as they are found again and as they are shown.
    fn step(&self, movement: &Movement, kit: &[KitItem], names: &[Option<(NamedBand, String)>]) -> LadderStep {
        let used = self.bands.iter().flatten().filter_map(|b| names[usize::from(b.item)].clone());
        let (bands, shown): (Vec<NamedBand>, Vec<String>) = used.unzip();
        let mut implements: Vec<Implement> = self.weight.iter().map(|held| held.with).collect();
        for used in self.bands.iter().flatten() {
            let implement = bands::implement_of(&kit[usize::from(used.item)]);
            if !implements.contains(&implement) {
                implements.push(implement);
            }
        }
        for implement in [Implement::Rings, Implement::Bar, Implement::Bodyweight] {
            if movement.uses(implement) && movement.rig.is_lever() {
                implements.push(implement);
            }
        }
        LadderStep {
            effective_kg: Kilograms(self.load),
            peak_kg: Kilograms(self.peak),
            label: label(movement, self.weight, &shown, &self.setup),
            implements,
            setup: self.setup,
            set_up_s: Seconds(f64::from(movement.set_up_s) + 15.0 * f64::from(self.cost.saturating_sub(1))),
            load: self.weight.map(|held| held.load),
            bands,
            body_kg: None,
            log_sd: self.log_sd,
            band_share: self.band_share,
            thirds: self.thirds,
            curve: self.profile.curve(),
        }
    }
}

/// The rungs as steps. A band is named once for all of them.
pub(super) fn steps(rungs: &[Rung], movement: &Movement, person: &Person, kit: &[KitItem]) -> Vec<LadderStep> {
    // Only bands that are used need a name.
    let used: Vec<u16> = rungs.iter().flat_map(|r| r.bands.iter().flatten().map(|b| b.item)).collect();
    let named = |(i, item): (usize, &KitItem)| used.contains(&(i as u16)).then(|| (item.named(), item.marked_name()));
    let names: Vec<Option<(NamedBand, String)>> = kit.iter().enumerate().map(named).collect();
    let body_kg = movement.rig.is_lever().then_some(person.body_mass_kg);
    rungs.iter().map(|rung| LadderStep { body_kg, ..rung.step(movement, kit, &names) }).collect()
}

/// A step in words: what is taken, and how it is set up.
pub(super) fn label(movement: &Movement, weight: Option<Held>, bands: &[String], setup: &Setup) -> String {
    let lever = movement.rig.is_lever();
    let mut text = String::with_capacity(48);
    let mut plus = |words: fmt::Arguments<'_>| {
        if !text.is_empty() {
            text.push_str(" + ");
        }
        // Writing to a string cannot fail.
        let _ = text.write_fmt(words);
    };
    if movement.rig.is_resisted() {
        plus(format_args!("resisted by hand or leg"));
    } else if lever {
        plus(format_args!("body weight"));
    }
    if let Some(Held { load, with, each_end }) = weight {
        let (number, unit) = (Trimmed(load.value, 2), load.unit.symbol());
        let bell = if with == Implement::Kettlebell { " kettlebell" } else { "" };
        match (with, movement.hands) {
            (Implement::Backpack, _) => plus(format_args!("{number} {unit} in the backpack")),
            (Implement::Barbell, _) => match each_end {
                Some(end) => plus(format_args!("bar of {number} {unit} in all, {} a side", Trimmed(end, 3))),
                None => plus(format_args!("bar of {number} {unit} in all")),
            },
            _ if lever => plus(format_args!("{number} {unit} between the feet")),
            (_, Hands::Each) if !bell.is_empty() => plus(format_args!("pair of {number} {unit} kettlebells")),
            (_, Hands::Each) => plus(format_args!("pair of {number} {unit}")),
            (_, Hands::One) => plus(format_args!("{number} {unit}{bell}")),
            (_, Hands::Shared) => plus(format_args!("one {number} {unit}{bell} in both hands")),
        }
    }
    let helps = movement.rig.is_helped_by_bands();
    for band in bands {
        plus(format_args!("{band}{}", if helps { " helping" } else { "" }));
    }
    if weight.is_none() && !lever && movement.is_weighed() {
        add(&mut text, format_args!("{}", if movement.uses(Implement::Barbell) { "no bar" } else { "no dumbbell" }));
    }
    if matches!(movement.rig, RigModel::Dip { .. }) && setup.knees == Some(true) {
        add(&mut text, format_args!("knees bent"));
        Setup { knees: None, ..*setup }.add_geometry(&mut text);
    } else {
        setup.add_geometry(&mut text);
    }
    text
}

impl LadderStep {
    /// A set-up of the trainer's own as a step: what the rig says, with the weight as stamped and what it is, and the band's
    /// item.
    pub fn of_rig(
        rigged: &Rigged<'_>,
        assembly: &Assembly,
        weight: Option<(StampedLoad, Implement)>,
        band: Option<&KitItem>,
    ) -> Self {
        let movement = rigged.movement;
        let bands: Vec<NamedBand> = band.map(KitItem::named).into_iter().collect();
        let marked: Vec<String> = band.map(KitItem::marked_name).into_iter().collect();
        let held = weight.map(|(load, with)| Held { load, with, each_end: None });
        let mut implements: Vec<Implement> = held.iter().map(|held| held.with).collect();
        implements.extend(band.map(bands::implement_of));
        let own = [Implement::Rings, Implement::Bar, Implement::Bodyweight];
        implements.extend(own.into_iter().filter(|i| movement.uses(*i) && movement.rig.is_lever()));
        let trouble = if band.is_some() { 15.0 } else { 0.0 };
        Self {
            effective_kg: assembly.effective(),
            peak_kg: assembly.peak(),
            label: label(movement, held, &marked, &rigged.setup),
            implements,
            setup: rigged.setup,
            set_up_s: Seconds(f64::from(movement.set_up_s) + trouble),
            load: held.map(|held| held.load),
            bands,
            body_kg: movement.rig.is_lever().then_some(rigged.person.body_mass_kg),
            log_sd: assembly.log_sd,
            band_share: assembly.band_share,
            thirds: assembly.thirds,
            curve: assembly.curve(),
        }
    }
}
