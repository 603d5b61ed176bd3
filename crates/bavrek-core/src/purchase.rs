//! What would help: the single purchase, or the measurement, that closes most of the gaps in the ladders in use. Every
//! offer is tried out by adding it to the kit and working the ladders out again.

use crate::kit::improvised::BandKnowledge;
use crate::kit::offer::CheapItem;
use crate::kit::{Dumbbells, KitItem, Setting};
use crate::ladder::{Ladder, LadderStep, ORDINARY_JUMP};
use crate::movement::Movement;
use crate::person::Person;
use crate::units::{Kilograms, MassUnit, trim_number};

/// A movement in use with today's step.
#[derive(Debug, Clone, Copy)]
pub struct InUse<'a> {
    /// The movement.
    pub movement: &'a Movement,
    /// Its step today.
    pub step: &'a LadderStep,
}

/// The gaps around today's load of some ladders.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Gaps {
    /// Jumps that are no ordinary step, and ladders that end at today's rung.
    pub count: usize,
    /// How far the jumps go beyond an ordinary one, as log ratios; an end counts as [`AN_END`].
    pub excess: f64,
}

/// What one purchase would do.
#[derive(Debug, Clone, PartialEq)]
pub struct Help {
    /// What to buy.
    pub offer: CheapItem,
    /// Gaps that it closes.
    pub closes: usize,
    /// Excess that it takes away, as a log ratio.
    pub eases: f64,
    /// Movements of those in use that gain by it.
    pub movements: Vec<String>,
}

/// What a ladder that ends at today's rung counts for: like a jump by half. Assumed.
pub const AN_END: f64 = 0.3;
/// Less than this is not worth a purchase.
const LEAST_EASING: f64 = 0.03;

/// The gaps of one ladder around a load: within `[0.7, 1.5]` of it, where the next weeks take place.
pub fn gaps(ladder: &Ladder, around: Kilograms) -> Gaps {
    let mut gaps = Gaps::default();
    for (i, step) in ladder.steps.iter().enumerate() {
        let ratio = step.effective_kg.value() / around.value();
        if !(0.7..=1.5).contains(&ratio) {
            continue;
        }
        match ladder.jump(i) {
            Some(jump) if jump > ORDINARY_JUMP => {
                gaps.count += 1;
                gaps.excess += ((1.0 + jump) / (1.0 + ORDINARY_JUMP)).ln();
            }
            Some(_) => {}
            None => {
                gaps.count += 1;
                gaps.excess += AN_END;
            }
        }
    }
    gaps
}

/// Pairs of dumbbells that would lie in the middle of the gaps between the pairs of a kit, and one above the heaviest.
pub fn pairs_between(kit: &[KitItem]) -> Vec<CheapItem> {
    let mut found = Vec::new();
    for item in kit {
        let KitItem::Dumbbells(dumbbells) = item else { continue };
        let mut weights = dumbbells.pairs.clone();
        weights.sort_by(f64::total_cmp);
        let between = weights.windows(2).filter(|w| w[1] / w[0] > 1.0 + 2.0 * ORDINARY_JUMP);
        let middles = between.map(|w| sold((w[0] * w[1]).sqrt(), dumbbells.unit));
        let above = weights.last().map(|w| sold(w * 1.2, dumbbells.unit));
        for weight in middles.chain(above) {
            if !weights.contains(&weight) {
                found.push(pair(weight, dumbbells.unit));
            }
        }
    }
    found
}

/// The nearest weight that is sold: whole kilograms, five pounds.
fn sold(weight: f64, unit: MassUnit) -> f64 {
    let grain = if unit == MassUnit::Lb { 5.0 } else { 1.0 };
    ((weight / grain).round() * grain).max(grain)
}

fn pair(weight: f64, unit: MassUnit) -> CheapItem {
    let text = format!("{} {}", trim_number(weight, 1), unit.symbol());
    CheapItem {
        id: format!("pair_{}_{}", trim_number(weight, 1), unit.symbol()),
        name: format!("a pair of {text} dumbbells"),
        needs_door: false,
        travels: false,
        kit: vec![KitItem::Dumbbells(Dumbbells { unit, pairs: vec![weight], ..Dumbbells::default() })],
    }
}

/// What each offer would do for the movements in use, the most helpful first; what helps nothing, is there already or
/// has no place there is left out. Of several things of one kind, such as bands, the best.
pub fn would_help(
    person: &Person,
    (kit, setting): (&[KitItem], Option<Setting>),
    in_use: &[InUse<'_>],
    offers: &[CheapItem],
) -> Vec<Help> {
    let now: Vec<Gaps> =
        in_use.iter().map(|u| gaps(&Ladder::of(u.movement, person, kit), u.step.effective_kg)).collect();
    let mut found: Vec<Help> = offers
        .iter()
        .filter(|offer| offer.suits(setting, kit))
        .filter_map(|offer| {
            let larger: Vec<KitItem> = kit.iter().chain(&offer.kit).cloned().collect();
            let mut help = Help { offer: offer.clone(), closes: 0, eases: 0.0, movements: Vec::new() };
            for (used, before) in in_use.iter().zip(&now) {
                let after = gaps(&Ladder::of(used.movement, person, &larger), used.step.effective_kg);
                let eased = before.excess - after.excess;
                if eased > LEAST_EASING {
                    help.eases += eased;
                    help.closes += before.count.saturating_sub(after.count);
                    if !help.movements.contains(&used.movement.name) {
                        help.movements.push(used.movement.name.clone());
                    }
                }
            }
            (help.eases > LEAST_EASING).then_some(help)
        })
        .collect();
    found.sort_by(|a, b| b.eases.total_cmp(&a.eases));
    // The best of each kind: three bands in a row say less than a band, a pair and an anchor.
    let kinds = |help: &Help| help.offer.kit.iter().map(KitItem::kind).collect::<Vec<_>>();
    let mut seen = Vec::new();
    found.retain(|help| {
        let new = !seen.contains(&kinds(help));
        seen.push(kinds(help));
        new
    });
    found
}

/// The band that most of today's steps rest on without having been measured: its place in the kit, and how many steps.
pub fn worth_measuring(kit: &[KitItem], in_use: &[InUse<'_>]) -> Option<(usize, usize)> {
    let uses = |item: &KitItem| {
        let own = item.named();
        in_use.iter().filter(|u| u.step.bands.iter().any(|b| b.is(&own))).count()
    };
    let unmeasured = kit
        .iter()
        .enumerate()
        .filter(|(_, item)| matches!(item.band_knowledge(), Some((known, _)) if known != BandKnowledge::Measured));
    let best = unmeasured.map(|(i, item)| (i, uses(item))).max_by_key(|(i, n)| (*n, std::cmp::Reverse(*i)))?;
    (best.1 > 0).then_some(best)
}
