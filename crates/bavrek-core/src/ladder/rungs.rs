//! Rungs: every recipe of load that a movement, a client and a kit allow, before pruning.

use std::fmt::{self, Write as _};

use super::LadderStep;
use super::bands::{self, BandUse};
use super::families::{Familied, join};
use super::levers;
use super::supports::{self, Resting};
use crate::anatomy::Implement;
use crate::dose::{PerHand, StampedLoad};
use crate::kit::KitItem;
use crate::mechanics::profile::{Profile, Thirds};
use crate::movement::{Hands, Movement, RigModel};
use crate::person::Person;
use crate::rigging::Setup;
use crate::rigging::setup::add;
use crate::rigging::{self, EQUAL_WORK_SD, Loaded, WEIGHED_SD};
use crate::units::{Kilograms, MassUnit, Metres, Seconds, Trimmed};

/// Why a movement has no step here.
#[derive(Debug, Clone, PartialEq)]
pub struct Missing {
    /// Kind of lack.
    pub kind: MissingKind,
    /// A sentence.
    pub text: String,
    /// Where the anchor that is there would have to be.
    pub move_anchor_to: Option<Metres>,
}

/// Kind of lack.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum MissingKind {
    /// The room lacks something.
    Kit,
    /// The resistance does not oppose the target.
    NoLoad,
}

impl Missing {
    pub(super) fn kit(text: impl Into<String>) -> Self {
        Self { kind: MissingKind::Kit, text: text.into(), move_anchor_to: None }
    }
}

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
    pub(super) weight: Option<StampedLoad>,
    /// Whether the weight is in a backpack.
    pub(super) packed: bool,
    pub(super) bands: [Option<BandUse>; 2],
    pub(super) setup: Setup,
    pub(super) profile: Profile,
}

/// What a step is made of, as far as its family goes.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Made<'a> {
    weight: Option<StampedLoad>,
    bands: &'a [&'a BandUse],
    /// Whether the body itself is the load.
    body: bool,
    /// Whether dumbbells carry the movement.
    weighed: bool,
}

impl Made<'_> {
    /// 0 plain, more for what is more trouble: a plain weight, one band at an ordinary stance, or the body alone comes
    /// first; weight with band, bands doubled or two of them come last.
    fn tier(&self) -> u8 {
        let odd = self.bands.iter().any(|b| b.is_odd());
        let doubled = self.bands.iter().any(|b| b.is_doubled());
        let plain = !odd && !doubled;
        let bands = self.bands.len();
        if self.body {
            return if bands > 0 { 2 } else { u8::from(self.weight.is_some()) };
        }
        if self.weight.is_some() {
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
        self.weight.map(|w| w.kilograms().value())
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
            packed: false,
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
        Self { tier: Made { weight: self.weight, bands, body, weighed }.tier(), ..self }
    }

    /// The rung as a step, with its words. `names` are those of the kit's bands, as they are found again and as they are
    /// shown.
    fn step(&self, movement: &Movement, kit: &[KitItem], names: &[[String; 2]]) -> LadderStep {
        let named = |which: usize| -> Vec<String> {
            self.bands.iter().flatten().map(|b| names[usize::from(b.item)][which].clone()).collect()
        };
        let (bands, shown) = (named(0), named(1));
        let mut implements = Vec::new();
        if self.weight.is_some() {
            implements.push(if self.packed { Implement::Backpack } else { Implement::Dumbbell });
        }
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
            label: label(movement, self.weight, self.packed, &shown, &self.setup),
            implements,
            setup: self.setup,
            set_up_s: Seconds(f64::from(movement.set_up_s) + 15.0 * f64::from(self.cost.saturating_sub(1))),
            load: self.weight,
            bands,
            log_sd: self.log_sd,
            band_share: self.band_share,
            thirds: self.thirds,
            curve: self.profile.curve(),
        }
    }
}

/// The rungs as steps. A band is named once for all of them.
pub(super) fn steps(rungs: &[Rung], movement: &Movement, kit: &[KitItem]) -> Vec<LadderStep> {
    // Only bands that are used need a name.
    let used: Vec<u16> = rungs.iter().flat_map(|r| r.bands.iter().flatten().map(|b| b.item)).collect();
    let named = |(i, item): (usize, &KitItem)| {
        if used.contains(&(i as u16)) { [item.name(), item.marked_name()] } else { Default::default() }
    };
    let names: Vec<[String; 2]> = kit.iter().enumerate().map(named).collect();
    rungs.iter().map(|rung| rung.step(movement, kit, &names)).collect()
}

/// A step in words: what is taken, and how it is set up.
pub(super) fn label(
    movement: &Movement,
    weight: Option<StampedLoad>,
    packed: bool,
    bands: &[String],
    setup: &Setup,
) -> String {
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
    if let Some(weight) = weight {
        let (number, unit) = (Trimmed(weight.value, 2), weight.unit.symbol());
        match movement.hands {
            _ if packed => plus(format_args!("{number} {unit} in the backpack")),
            _ if lever => plus(format_args!("{number} {unit} between the feet")),
            Hands::Each => plus(format_args!("pair of {number} {unit}")),
            Hands::One => plus(format_args!("{number} {unit}")),
            Hands::Shared => plus(format_args!("one {number} {unit} in both hands")),
        }
    }
    let helps = matches!(movement.rig, RigModel::ChinUp { .. } | RigModel::Dip { .. });
    for band in bands {
        plus(format_args!("{band}{}", if helps { " helping" } else { "" }));
    }
    if weight.is_none() && !lever && movement.is_weighed() {
        add(&mut text, format_args!("no dumbbell"));
    }
    if matches!(movement.rig, RigModel::Dip { .. }) && setup.knees == Some(true) {
        add(&mut text, format_args!("knees bent"));
        Setup { knees: None, ..*setup }.add_geometry(&mut text);
    } else {
        setup.add_geometry(&mut text);
    }
    text
}

/// All rungs, or what is missing. `thin` leaves out early what joining would leave out of hundreds of recipes.
pub(super) fn enumerate(
    movement: &Movement,
    person: &Person,
    kit: &[KitItem],
    thin: bool,
) -> Result<Vec<Rung>, Vec<Missing>> {
    let resting = supports::resolve(movement, person, kit).map_err(|mut missing| {
        // All that is missing is said at once.
        if held_weights(movement, kit).is_some_and(|weights| weights.is_empty()) {
            missing.push(Missing::kit(lacking_load(movement)));
        }
        missing
    })?;
    let rungs = if movement.rig.is_lever() {
        let bodily = levers::enumerate(movement, person, kit, &resting)?;
        bodily.into_iter().map(|rung| rung.in_family(movement)).collect()
    } else {
        held_loads(movement, person, kit, &resting, thin)?
    };
    if rungs.is_empty() { Err(vec![Missing::kit(lacking_load(movement))]) } else { Ok(rungs) }
}

/// Resistance of one held kilogram with the supports of a room; none where dumbbells do not load the movement.
pub(super) fn kilogram(movement: &Movement, person: &Person, kit: &[KitItem]) -> Option<(Profile, Thirds)> {
    if movement.rig.is_lever() || !movement.is_weighed() {
        return None;
    }
    let resting = supports::resolve(movement, person, kit).ok()?;
    let trunk = rigging::trunk_lean(movement, resting.setup.bench_deg);
    let loaded = Loaded::of(movement, person, trunk, resting.on_floor()).filter(Loaded::weighs)?;
    Some((loaded.kilogram(), loaded.thirds()))
}

/// What the hands can hold of a kit for a movement that weights carry; none for any other movement.
fn held_weights(movement: &Movement, kit: &[KitItem]) -> Option<Vec<StampedLoad>> {
    if movement.rig.is_lever() || !movement.is_weighed() {
        return None;
    }
    if movement.holds_pack() {
        return Some(packed(kit));
    }
    let held = weights(kit, movement.hands).into_iter();
    Some(held.filter(|w| movement.heaviest_kg.is_none_or(|most| w.kilograms().value() <= most)).collect())
}

fn lacking_load(movement: &Movement) -> String {
    // Where dumbbells carry the movement, bands only add to them.
    let carriers =
        movement.implements.iter().filter(|i| **i == Implement::Dumbbell || !movement.uses(Implement::Dumbbell));
    let what: Vec<_> = carriers
        .map(|i| match (i, movement.hands) {
            (Implement::Dumbbell, Hands::Each) => "a pair of dumbbells".to_owned(),
            (Implement::Dumbbell, _) => "a dumbbell".to_owned(),
            (Implement::Backpack, _) => "a backpack to load".to_owned(),
            (other, _) => format!("a {other} that works at this set-up"),
        })
        .collect();
    format!("needs {}", what.join(" or "))
}

fn held_loads(
    movement: &Movement,
    person: &Person,
    kit: &[KitItem],
    resting: &Resting,
    thin: bool,
) -> Result<Vec<Rung>, Vec<Missing>> {
    let trunk = rigging::trunk_lean(movement, resting.setup.bench_deg);
    let Some(loaded) = Loaded::of(movement, person, trunk, resting.on_floor()) else { return Ok(Vec::new()) };
    let posture = rigging::posture(movement, person, trunk, resting.height);
    let weighed = movement.is_weighed();
    let mount = movement.rig.mount();
    let weighing = loaded.weighing();
    if weighed && !weighing.loads() {
        return Err(vec![Missing {
            kind: MissingKind::NoLoad,
            text: "gravity does not pull against this movement: the target is hardly loaded".into(),
            move_anchor_to: None,
        }]);
    }
    let weights = held_weights(movement, kit).unwrap_or_default();
    if weighed && weights.is_empty() {
        return Err(vec![Missing::kit(lacking_load(movement))]);
    }
    let banded = match mount {
        Some(mount) => bands::options(&loaded, mount, movement, person, kit, &posture)?,
        None => Vec::new(),
    };
    let mixer = Mixer {
        kilogram: weighing.kilogram,
        unit: weighing.unit(weighed),
        thirds: loaded.thirds(),
        banded: &banded,
        packed: movement.holds_pack(),
    };
    let recipes = mixer.recipes(&weights, resting);
    let recipes = if thin { join(recipes) } else { recipes };
    Ok(recipes.iter().filter_map(|r| mixer.rung(r, resting)).collect())
}

/// A weight with at most two bands, before its resistance is worked out: there are hundreds, and few are kept.
#[derive(Clone, Copy)]
struct Recipe {
    load: f64,
    cost: u8,
    tier: u8,
    /// The piece of kit, where it is one band.
    band: Option<u16>,
    weight: Option<StampedLoad>,
    bands: [Option<usize>; 2],
}

impl Familied for Recipe {
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
        self.band.map(usize::from)
    }

    fn weight_kg(&self) -> Option<f64> {
        self.weight.map(|w| w.kilograms().value())
    }
}

struct Mixer<'a> {
    kilogram: Profile,
    unit: Profile,
    thirds: Thirds,
    banded: &'a [bands::BandOption],
    /// Whether the weight is a pack held in the hands.
    packed: bool,
}

impl Mixer<'_> {
    fn recipes(&self, weights: &[StampedLoad], resting: &Resting) -> Vec<Recipe> {
        let unit = self.unit.work();
        let per_kilogram = self.kilogram.work() / unit;
        let band_loads: Vec<f64> = self.banded.iter().map(|b| b.profile.work() / unit).collect();
        let mut recipes = Vec::new();
        let weighed = !weights.is_empty();
        let tier =
            |weight: Option<StampedLoad>, bands: &[&BandUse]| Made { weight, bands, body: false, weighed }.tier();
        for weight in std::iter::once(None).chain(weights.iter().copied().map(Some)) {
            let held = weight.map_or(0.0, |w| w.kilograms().value()) * per_kilogram;
            // Where dumbbells carry a movement, a band alone is no easier to set up than one: the dumbbell stays.
            let cost = resting.cost + u8::from(weight.is_some() || !weights.is_empty());
            if weight.is_some() {
                recipes.push(Recipe { load: held, cost, tier: 0, band: None, weight, bands: [None; 2] });
            }
            for (i, first) in self.banded.iter().enumerate() {
                let (load, cost) = (held + band_loads[i], cost + first.cost);
                let band = Some(first.used.item);
                recipes.push(Recipe {
                    load,
                    cost,
                    tier: tier(weight, &[&first.used]),
                    band,
                    weight,
                    bands: [Some(i), None],
                });
                // A second band joins only in its plainest configuration; an anchor holds one at a time.
                if first.plain && first.joins {
                    let rest = self.banded.iter().enumerate().skip(i);
                    let other = |j: usize, b: &bands::BandOption| {
                        b.plain && if j == i { b.twice } else { b.used.item != first.used.item }
                    };
                    recipes.extend(rest.filter(|(j, b)| other(*j, b)).map(|(j, b)| Recipe {
                        load: load + band_loads[j],
                        cost: cost + b.cost,
                        tier: tier(weight, &[&first.used, &b.used]),
                        band: None,
                        weight,
                        bands: [Some(i), Some(j)],
                    }));
                }
            }
        }
        recipes
    }

    /// The recipe with its resistance; none where that is slack beyond the first third.
    fn rung(&self, recipe: &Recipe, resting: &Resting) -> Option<Rung> {
        let banded: Vec<_> = recipe.bands.iter().flatten().map(|i| &self.banded[*i]).collect();
        let kilograms = recipe.weight.map_or(0.0, |w| w.kilograms().value());
        let rubber = banded.iter().fold(Profile::ZERO, |sum, b| sum.plus(&b.profile));
        let profile = self.kilogram.times(kilograms).plus(&rubber);
        if profile.slack_beyond_first_third() {
            return None;
        }
        let band_share = rubber.work() / self.unit.work() / recipe.load;
        let rubber_sd = banded.iter().map(|b| b.log_sd).fold(0.0, f64::max).hypot(EQUAL_WORK_SD);
        let setup = banded.iter().rev().fold(resting.setup, |setup, b| b.used.merge(setup));
        Some(Rung {
            load: recipe.load,
            // A flatter curve than the reference's can peak below its mean equivalent; the mean is then the most.
            peak: recipe.load.max(profile.peak() / self.unit.peak()),
            cost: recipe.cost,
            band_share,
            thirds: profile.shares(&self.thirds)?,
            log_sd: WEIGHED_SD.max(band_share * rubber_sd),
            tier: recipe.tier,
            helped: false,
            weight: recipe.weight,
            packed: self.packed,
            bands: [banded.first().map(|b| b.used), banded.get(1).map(|b| b.used)],
            setup,
            profile,
        })
    }
}

/// Increments of a loaded backpack, kg.
const BACKPACK_STEP: f64 = 2.5;

/// What a backpack can be loaded with, lightest first.
pub(super) fn packed(kit: &[KitItem]) -> Vec<StampedLoad> {
    let most = kit.iter().find_map(|k| if let KitItem::Backpack(b) = k { Some(b.max_kg.value()) } else { None });
    let count = most.map_or(0, |kg| (kg / BACKPACK_STEP).floor().min(40.0) as usize);
    (1..=count)
        .map(|k| StampedLoad { value: BACKPACK_STEP * k as f64, unit: MassUnit::Kg, per: PerHand::Total })
        .collect()
}

/// The dumbbells that the hands can hold, lightest first, each stamped weight once.
pub(super) fn weights(kit: &[KitItem], hands: Hands) -> Vec<StampedLoad> {
    let per = if hands == Hands::Shared { PerHand::Total } else { PerHand::Hand };
    let mut found: Vec<StampedLoad> = Vec::new();
    for item in kit {
        match item {
            KitItem::Dumbbells(d) => {
                let singles = d.singles.iter().filter(|_| hands != Hands::Each);
                found.extend(d.pairs.iter().chain(singles).map(|v| StampedLoad { value: *v, unit: d.unit, per }));
            }
            KitItem::AdjustableDumbbell(a) if a.count == 2 || hands != Hands::Each => {
                found.extend(a.settings().map(|value| StampedLoad { value, unit: a.unit, per }));
            }
            _ => {}
        }
    }
    found.sort_by(|a, b| a.kilograms().value().total_cmp(&b.kilograms().value()));
    found.dedup_by(|a, b| (a.kilograms().value() - b.kilograms().value()).abs() < 0.01);
    found
}
