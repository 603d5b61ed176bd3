//! What a movement gets in the way of when it alternates with others of its block.

use super::case::Case;
use super::start::target_reps;
use crate::anatomy::{Implement, Region, Surface, vocabulary};
use crate::dose::{PerHand, StampedLoad};
use crate::kit::{KitItem, NamedBand, count_of};
use crate::ladder::LadderStep;
use crate::movement::{Hands, Movement};
use crate::rigging::Setup;
use crate::units::{Degrees, Kilograms, Seconds};

vocabulary!(
    /// How two movements of a block get in each other's way.
    ConflictCode {
        OnePairTwoLoads => "one_pair_two_loads", "one pair, two loads";
        BenchAngleFlip => "bench_angle_flip", "the bench changes its angle";
        AnchorMove => "anchor_move", "the anchor moves";
        KitInUse => "kit_in_use", "the same piece is needed twice";
        NoRest => "no_rest", "what fills the rest tires what should rest";
    }
);

/// Another slot of the block with what it is done with.
#[derive(Debug, Clone, Copy)]
pub struct Mate<'a> {
    /// Its movement.
    pub movement: &'a Movement,
    /// Its step.
    pub step: &'a LadderStep,
}

/// One conflict.
#[derive(Debug, Clone, PartialEq)]
pub struct Conflict {
    /// What is in the way.
    pub clash: Clash,
    /// Name of the movement that it is in the way of.
    pub with: String,
    /// Time that it adds to every round.
    pub added_s: Seconds,
}

/// How a movement is in the way of another.
#[derive(Debug, Clone, PartialEq)]
pub enum Clash {
    /// Two loads that are not there at once: its own, and the other's.
    TwoLoads(StampedLoad, StampedLoad),
    /// The bench stands at two angles: its own, and the other's.
    BenchAngles(Degrees, Degrees),
    /// A band moves to another anchor.
    BandMoves(String),
    /// A band is fixed another way.
    BandRefixed(String),
    /// The rings hang at another height.
    RingHeights,
    /// It works a region that should rest.
    Tires(Region),
}

impl Clash {
    /// Its kind.
    pub const fn code(&self) -> ConflictCode {
        match self {
            Self::TwoLoads(..) => ConflictCode::OnePairTwoLoads,
            Self::BenchAngles(..) => ConflictCode::BenchAngleFlip,
            Self::BandMoves(_) => ConflictCode::AnchorMove,
            Self::BandRefixed(_) | Self::RingHeights => ConflictCode::KitInUse,
            Self::Tires(_) => ConflictCode::NoRest,
        }
    }
}

/// Time to change the load of an adjustable dumbbell, s each way. Assumed.
const CHANGE_LOAD: f64 = 20.0;
/// Time to re-angle a bench, s each way. Assumed.
const RE_ANGLE: f64 = 15.0;
/// Time to move an anchor or to fix a band another way, s each way. Assumed.
const RE_RIG: f64 = 15.0;
/// Time to set rings to another height, s each way. Assumed.
const RE_STRAP: f64 = 30.0;

/// How a step gets in the way of a mate's.
pub fn conflicts(movement: &Movement, step: &LadderStep, mate: &Mate<'_>, kit: &[KitItem]) -> Vec<Conflict> {
    let conflict = |(clash, each_way): (Clash, f64)| Conflict {
        clash,
        with: mate.movement.name.clone(),
        added_s: Seconds(2.0 * each_way),
    };
    let found = [
        two_loads(movement, step, mate, kit),
        bench_angles(&step.setup, &mate.step.setup, kit),
        one_band(step, mate.step, kit),
        ring_heights(&step.setup, &mate.step.setup),
    ];
    found.into_iter().flatten().map(conflict).collect()
}

fn two_loads(movement: &Movement, step: &LadderStep, mate: &Mate<'_>, kit: &[KitItem]) -> Option<(Clash, f64)> {
    let ((with, own), (others, other)) = step.in_hands().zip(mate.step.in_hands())?;
    let clash = with == others && !both_at_once(kit, with, (own, hands(movement)), (other, hands(mate.movement)));
    clash.then_some((Clash::TwoLoads(own, other), CHANGE_LOAD))
}

fn bench_angles(own: &Setup, other: &Setup, kit: &[KitItem]) -> Option<(Clash, f64)> {
    let (own, other) = own.bench_deg.zip(other.bench_deg)?;
    let benches = kit.iter().filter(|k| matches!(k, KitItem::Bench(_))).count();
    let clash = benches < 2 && (own.value() - other.value()).abs() > 1.0;
    clash.then_some((Clash::BenchAngles(own, other), RE_ANGLE))
}

/// A band that is there once and used for both, each in another way.
fn one_band(step: &LadderStep, mate: &LadderStep, kit: &[KitItem]) -> Option<(Clash, f64)> {
    let one = |b: &&NamedBand| b.in_kit(kit).is_none_or(|item| count_of(kit, &item.name()) < 2);
    let shared = step.bands.iter().filter(|b| mate.bands.iter().any(|other| other.is(b))).find(one)?;
    let (own, other) = (&step.setup, &mate.setup);
    let moved = own.anchor_height_m != other.anchor_height_m;
    let refixed = own.band_fix != other.band_fix || own.stance_m.is_some() != other.stance_m.is_some();
    if moved && own.anchor_height_m.is_some() && other.anchor_height_m.is_some() {
        return Some((Clash::BandMoves(shared.name.clone()), RE_RIG));
    }
    (moved || refixed).then(|| (Clash::BandRefixed(shared.name.clone()), RE_RIG))
}

fn ring_heights(own: &Setup, other: &Setup) -> Option<(Clash, f64)> {
    let rings = own.surface == Some(Surface::Rings) && other.surface == Some(Surface::Rings);
    let clash = rings && (own.hands_height_m, own.strap_m) != (other.hands_height_m, other.strap_m);
    clash.then_some((Clash::RingHeights, RE_STRAP))
}

const fn hands(movement: &Movement) -> usize {
    if matches!(movement.hands, Hands::Each) { 2 } else { 1 }
}

/// Whether a kit holds two loads of a kind side by side, each so many times: fixed weights first, what is missing set on
/// adjustable ones. Of bars each carries one load.
fn both_at_once(kit: &[KitItem], with: Implement, first: (StampedLoad, usize), second: (StampedLoad, usize)) -> bool {
    let alike = |a: Kilograms, b: Kilograms| (a.value() - b.value()).abs() < 0.01;
    if alike(first.0.kilograms(), second.0.kilograms()) {
        return true;
    }
    let (mut fixed, mut adjustable) = (Vec::new(), 0_usize);
    for item in kit {
        match (item, with) {
            (KitItem::Dumbbells(_), Implement::Dumbbell) | (KitItem::Kettlebells(_), Implement::Kettlebell) => {
                let Some((pairs, singles, unit)) = item.fixed_weights() else { continue };
                let stamped = |value: f64| StampedLoad { value, unit, per: PerHand::Hand }.kilograms();
                fixed.extend(pairs.iter().flat_map(|v| [stamped(*v); 2]));
                fixed.extend(singles.iter().map(|v| stamped(*v)));
            }
            (KitItem::AdjustableDumbbell(a), Implement::Dumbbell) => adjustable += usize::from(a.count),
            (KitItem::PlateDumbbell(d), Implement::Dumbbell) => adjustable += usize::from(d.count),
            (KitItem::Barbell(_), Implement::Barbell) => adjustable += 1,
            _ => {}
        }
    }
    let missing = |(load, n): (StampedLoad, usize)| {
        n.saturating_sub(fixed.iter().filter(|kg| alike(**kg, load.kilograms())).count())
    };
    missing(first) + missing(second) <= adjustable
}

/// A step that leaves the weights of a mate as they are, with the repetitions expected on it: the way round one pair and
/// two loads. None where none gives between five and thirty.
pub(super) fn way_round<'c>(case: &Case<'c>, mates: &[Mate<'_>], kit: &[KitItem]) -> Option<(&'c LadderStep, f64)> {
    let Case { movement, intent, ladder, start, .. } = *case;
    let expected = |step: &LadderStep| start.reps_on(step.effective_kg.value());
    let free = |step: &&LadderStep| mates.iter().all(|mate| conflicts(movement, step, mate, kit).is_empty());
    let off = |step: &LadderStep| (expected(step) - target_reps(intent)).abs();
    let step = ladder.steps.iter().filter(free).min_by(|a, b| off(a).total_cmp(&off(b)))?;
    let reps = expected(step);
    (5.0..=30.0).contains(&reps).then_some((step, reps))
}
