//! Rungs: every recipe of load that a movement, a client and a kit allow, before pruning.

use super::bands::{self, BandUse};
use super::families::{Familied, join};
use super::levers;
use super::missing::{Missing, MissingKind};
use super::rung::{Made, Rung};
use super::supports::{self, Resting};
use super::weights::{packed, weights};
use crate::anatomy::Implement;
use crate::dose::StampedLoad;
use crate::kit::KitItem;
use crate::mechanics::profile::{Profile, Thirds};
use crate::movement::{Hands, Movement};
use crate::person::Person;
use crate::rigging::{self, EQUAL_WORK_SD, Loaded, WEIGHED_SD};

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
