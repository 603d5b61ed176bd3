//! Rungs: every recipe of load that a movement, a client and a kit allow, before pruning.

use super::bands::{self, BandUse};
use super::families::{Familied, MOST_STEPS, Openings, distinct, join};
use super::levers;
use super::missing::Missing;
use super::rung::{Made, Rung};
use super::supports::{self, Resting};
use super::weights::{Held, held};
use crate::anatomy::Implement;
use crate::dose::StampedLoad;
use crate::kit::KitItem;
use crate::mechanics::profile::{Profile, Thirds};
use crate::movement::Movement;
use crate::person::Person;
use crate::rigging::{self, EQUAL_WORK_SD, Loaded, WEIGHED_SD};

/// Which rungs are made.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Scope<'a> {
    /// Those that are worth joining: of hundreds of recipes nearly all are left out early.
    Joining,
    /// All of them.
    Whole,
    /// All that are made with the weight nearest to one, or with none where none is asked for.
    With(Option<StampedLoad>),
    /// For each pair of loads, the one with a band in it that lies nearest to their middle.
    Between(&'a [(f64, f64)]),
    /// Those of a weight with one band that gives the share of the whole that is asked, or nearly.
    InTwo([f64; 2]),
    /// One is enough.
    Any,
}

/// Rungs of a scope, or what is missing.
pub(super) fn enumerate(
    movement: &Movement,
    person: &Person,
    kit: &[KitItem],
    scope: Scope<'_>,
) -> Result<Vec<Rung>, Vec<Missing>> {
    let resting = supports::resolve(movement, person, kit).map_err(|mut missing| {
        // All that is missing is said at once.
        if held_weights(movement, kit).is_some_and(|weights| weights.is_empty()) {
            missing.push(lacking_load(movement));
        }
        missing
    })?;
    let rungs = if movement.rig.is_lever() {
        let bodily = levers::enumerate(movement, person, kit, &resting)?;
        let all: Vec<Rung> = bodily.into_iter().map(|rung| rung.in_family(movement)).collect();
        match scope {
            Scope::Between(gaps) => gaps.iter().filter_map(|gap| nearest_banded(&all, *gap)).collect(),
            _ => all,
        }
    } else {
        held_loads(movement, person, kit, &resting, scope)?
    };
    // Between two loads there may be nothing where there is much elsewhere.
    if !rungs.is_empty() || matches!(scope, Scope::Between(_)) {
        return Ok(rungs);
    }
    let banded = !movement.is_weighed() && !movement.rig.is_lever() && bands::is_any_in(kit, movement);
    Err(vec![if banded { Missing::Pull } else { lacking_load(movement) }])
}

/// The rung with a band in it that lies nearest to the middle of two loads.
fn nearest_banded(all: &[Rung], gap: (f64, f64)) -> Option<Rung> {
    let inside = |r: &&Rung| r.bands[0].is_some() && r.band_share >= 0.0 && r.load >= gap.0 && r.load <= gap.1;
    all.iter().filter(inside).min_by(|a, b| off(a.load, gap).total_cmp(&off(b.load, gap))).copied()
}

/// How far a load is from the middle of two others, as a logarithm.
fn off(load: f64, (low, high): (f64, f64)) -> f64 {
    (load / (low * high).sqrt()).ln().abs()
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
fn held_weights(movement: &Movement, kit: &[KitItem]) -> Option<Vec<Held>> {
    if movement.rig.is_lever() || !movement.is_weighed() {
        return None;
    }
    let held = held(movement, kit).into_iter();
    Some(held.filter(|w| movement.heaviest_kg.is_none_or(|most| w.kilograms() <= most)).collect())
}

fn lacking_load(movement: &Movement) -> Missing {
    // Where weights carry the movement, bands only add to them.
    let weight = |i: &&Implement| matches!(i, Implement::Dumbbell | Implement::Kettlebell | Implement::Barbell);
    let weighed = movement.implements.iter().any(|i| weight(&i));
    let carriers = movement.implements.iter().filter(|i| !weighed || weight(i));
    Missing::Load { any_of: carriers.copied().collect(), hands: movement.hands }
}

fn held_loads(
    movement: &Movement,
    person: &Person,
    kit: &[KitItem],
    resting: &Resting,
    scope: Scope<'_>,
) -> Result<Vec<Rung>, Vec<Missing>> {
    let trunk = rigging::trunk_lean(movement, resting.setup.bench_deg);
    let Some(loaded) = Loaded::of(movement, person, trunk, resting.on_floor()) else { return Ok(Vec::new()) };
    let posture = rigging::posture(movement, person, trunk, resting.height);
    let weighed = movement.is_weighed();
    let mount = movement.rig.mount();
    let weighing = loaded.weighing();
    if weighed && !weighing.loads() {
        return Err(vec![Missing::NoLoad]);
    }
    let weights = held_weights(movement, kit).unwrap_or_default();
    if weighed && weights.is_empty() {
        return Err(vec![lacking_load(movement)]);
    }
    let banded = match mount {
        Some(mount) => bands::options(&loaded, mount, movement, person, kit, &posture)?,
        None => Vec::new(),
    };
    let mixer =
        Mixer { kilogram: weighing.kilogram, unit: weighing.unit(weighed), thirds: loaded.thirds(), banded: &banded };
    Ok(mixer.rungs(&weights, resting, scope))
}

/// How far off the share that is asked a band may be, as a share of the whole. Assumed: bands come in few strengths.
const NEAR_SHARE: f64 = 0.1;
/// Ratio of two loads that are a step apart there.
pub(super) const A_STEP: f64 = 1.04;

/// A weight with at most two bands, before its resistance is worked out: there are hundreds, and few are kept.
#[derive(Clone, Copy)]
struct Recipe {
    load: f64,
    cost: u8,
    tier: u8,
    /// The piece of kit, where it is one band.
    band: Option<u16>,
    weight: Option<Held>,
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
        self.weight.map(|w| w.kilograms())
    }
}

struct Mixer<'a> {
    kilogram: Profile,
    unit: Profile,
    thirds: Thirds,
    banded: &'a [bands::BandOption],
}

impl Mixer<'_> {
    fn rungs(&self, weights: &[Held], resting: &Resting, scope: Scope<'_>) -> Vec<Rung> {
        let made = |recipes: &[Recipe]| recipes.iter().filter_map(|r| self.rung(r, resting)).collect();
        match scope {
            Scope::Whole => made(&self.recipes(weights, resting, |_| true)),
            Scope::Joining => {
                // Weights within three percent of each other are one step, with a band as without; bands go on from the heaviest.
                let plain = distinct(&self.plain(weights, resting).collect::<Vec<_>>());
                let mut mixed: Vec<Held> = plain.iter().filter_map(|r| r.weight).collect();
                mixed.extend(weights.last().filter(|w| !mixed.contains(w)));
                let openings = Openings::beside(&plain);
                let wanted = |r: &Recipe| openings.as_ref().is_none_or(|o| o.takes(r.load, r.weight_kg()));
                made(&join(self.recipes(&mixed, resting, wanted)))
            }
            Scope::With(None) => made(&self.recipes(weights, resting, |r| r.weight.is_none())),
            Scope::With(Some(load)) => {
                let wanted = load.kilograms().value();
                let off = |w: &&Held| (w.kilograms() - wanted).abs();
                let nearest = weights.iter().min_by(|a, b| off(a).total_cmp(&off(b)));
                made(&self.recipes(nearest.map_or(&[], std::slice::from_ref), resting, |_| true))
            }
            Scope::Between(gaps) => gaps.iter().filter_map(|gap| self.between(*gap, weights, resting)).collect(),
            Scope::InTwo(share) => made(&self.in_two(share, weights, resting)),
            Scope::Any => {
                let lightest = &weights[..weights.len().min(1)];
                let recipes = self.recipes(lightest, resting, |_| true);
                recipes.iter().find_map(|r| self.rung(r, resting)).into_iter().collect()
            }
        }
    }

    /// The recipe with a band in it that lies nearest to the middle of two loads and pulls from the first third on.
    fn between(&self, gap: (f64, f64), weights: &[Held], resting: &Resting) -> Option<Rung> {
        let mut inside = self.recipes(weights, resting, |r| r.load >= gap.0 && r.load <= gap.1);
        inside.retain(|r| r.bands[0].is_some());
        inside.sort_by(|a, b| off(a.load, gap).total_cmp(&off(b.load, gap)));
        inside.iter().find_map(|r| self.rung(r, resting))
    }

    /// The recipes of a weight with a band that gives a share of the whole, or nearly, by rising load: of those within a step of each
    /// other the one whose band comes nearest to it, and no more than a ladder has.
    fn in_two(&self, [least, most]: [f64; 2], weights: &[Held], resting: &Resting) -> Vec<Recipe> {
        let share = |r: &Recipe| 1.0 - r.weight_kg().unwrap_or(0.0) * self.per_kilogram() / r.load;
        let near = |r: &Recipe| (least - NEAR_SHARE..=most + NEAR_SHARE).contains(&share(r));
        let off = |r: &Recipe| (share(r) - f64::midpoint(least, most)).abs();
        let mut all = self.recipes(weights, resting, |r| r.weight.is_some() && near(r));
        // One band: who asks for a band beside a weight does not mean a contraption.
        all.retain(|r| r.bands[0].is_some() && r.bands[1].is_none());
        all.sort_by(|a, b| a.load.total_cmp(&b.load));
        let mut apart: Vec<Recipe> = Vec::new();
        let mut from = 0.0;
        for recipe in all {
            match apart.last_mut() {
                Some(last) if recipe.load < from * A_STEP => {
                    if off(&recipe) < off(last) {
                        *last = recipe;
                    }
                }
                _ => {
                    from = recipe.load;
                    apart.push(recipe);
                }
            }
        }
        let spread = |i: usize| apart[i * (apart.len() - 1) / (MOST_STEPS - 1)];
        if apart.len() <= MOST_STEPS { apart } else { (0..MOST_STEPS).map(spread).collect() }
    }

    /// Weights alone.
    fn plain<'w>(&self, weights: &'w [Held], resting: &Resting) -> impl Iterator<Item = Recipe> + use<'w> {
        let (per_kilogram, cost) = (self.per_kilogram(), resting.cost + 1);
        weights.iter().map(move |weight| Recipe {
            load: weight.kilograms() * per_kilogram,
            cost,
            tier: 0,
            band: None,
            weight: Some(*weight),
            bands: [None; 2],
        })
    }

    /// Effective load of one held kilogram.
    fn per_kilogram(&self) -> f64 {
        self.kilogram.work() / self.unit.work()
    }

    /// Every weight alone, and of the recipes with bands those that are wanted.
    fn recipes(&self, weights: &[Held], resting: &Resting, wanted: impl Fn(&Recipe) -> bool) -> Vec<Recipe> {
        let unit = self.unit.work();
        let per_kilogram = self.per_kilogram();
        let band_loads: Vec<f64> = self.banded.iter().map(|b| b.profile.work() / unit).collect();
        let mut recipes: Vec<Recipe> = self.plain(weights, resting).collect();
        let weighed = !weights.is_empty();
        let tier = |weight: bool, bands: &[&BandUse]| Made { weight, bands, body: false, weighed }.tier();
        for weight in std::iter::once(None).chain(weights.iter().copied().map(Some)) {
            let held = weight.map_or(0.0, |w| w.kilograms()) * per_kilogram;
            // Where dumbbells carry a movement, a band alone is no easier to set up than one: the dumbbell stays.
            let cost = resting.cost + u8::from(weight.is_some() || !weights.is_empty());
            for (i, first) in self.banded.iter().enumerate() {
                let (load, cost) = (held + band_loads[i], cost + first.cost);
                let band = Some(first.used.item);
                let tier_of_one = tier(weight.is_some(), &[&first.used]);
                let one = Recipe { load, cost, tier: tier_of_one, band, weight, bands: [Some(i), None] };
                recipes.extend(wanted(&one).then_some(one));
                // A second band joins only in its plainest configuration; an anchor holds one at a time.
                if first.plain && first.joins {
                    let rest = self.banded.iter().enumerate().skip(i);
                    let other = |j: usize, b: &bands::BandOption| {
                        b.plain && if j == i { b.twice } else { b.used.item != first.used.item }
                    };
                    let two = rest.filter(|(j, b)| other(*j, b)).map(|(j, b)| Recipe {
                        load: load + band_loads[j],
                        cost: cost + b.cost,
                        tier: tier(weight.is_some(), &[&first.used, &b.used]),
                        band: None,
                        weight,
                        bands: [Some(i), Some(j)],
                    });
                    recipes.extend(two.filter(&wanted));
                }
            }
        }
        recipes
    }

    /// The recipe with its resistance; none where that is slack beyond the first third.
    fn rung(&self, recipe: &Recipe, resting: &Resting) -> Option<Rung> {
        let banded: Vec<_> = recipe.bands.iter().flatten().map(|i| &self.banded[*i]).collect();
        let kilograms = recipe.weight.map_or(0.0, |w| w.kilograms());
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
            bands: [banded.first().map(|b| b.used), banded.get(1).map(|b| b.used)],
            setup,
            profile,
        })
    }
}
