//! Bridges over jumps that are too large to make at once, cheapest first.

use super::Ladder;
use super::step::LadderStep;
use crate::anatomy::vocabulary;
use crate::kit::KitItem;
use crate::movement::{Movement, PushUpHands, RigModel};
use crate::person::Person;
use crate::reps;
use crate::units::{Kilograms, Seconds};

/// A jump up to this ratio is an ordinary step.
pub(crate) const ORDINARY_JUMP: f64 = 0.10;
/// Most repetitions to failure before a jump that still count as a bridge.
const MOST_REPS: f64 = 25.0;
/// A step in a gap stands at least this far from both ends, ratio.
const APART: f64 = 1.04;

vocabulary!(
    /// How a gap can be bridged.
    BridgeCode {
        MoreReps => "more_reps", "more reps first";
        SlowerLowering => "slower_lowering", "slower lowering";
        Pause => "pause", "a pause in the lengthened position";
        OneSide => "one_side", "one side at a time";
        AddBand => "add_band", "a band added";
        Deficit => "deficit", "a deficit";
    }
);

/// One way over a gap.
#[derive(Debug, Clone, PartialEq)]
pub enum Way {
    /// Repetitions on the lower step before the next is taken.
    MoreReps {
        /// So many.
        reps: u16,
        /// With so many in reserve.
        reserve: u8,
    },
    /// A slower lowering.
    SlowerLowering {
        /// How long it takes, where two seconds are usual.
        seconds: f64,
        /// The share of load that it is like.
        like: f64,
    },
    /// A pause of two seconds in the lengthened position, with the share of load that it is like.
    Pause(f64),
    /// A band added: the step with it, and its load.
    AddBand(String, Kilograms),
    /// A deeper stretch.
    Deficit(HandsOn),
}

/// What raises the hands for a deeper stretch.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum HandsOn {
    /// Push-up handles.
    Handles,
    /// Two boxes.
    TwoBoxes,
}

impl Way {
    /// What is done.
    pub const fn code(&self) -> BridgeCode {
        match self {
            Self::MoreReps { .. } => BridgeCode::MoreReps,
            Self::SlowerLowering { .. } => BridgeCode::SlowerLowering,
            Self::Pause(_) => BridgeCode::Pause,
            Self::AddBand(..) => BridgeCode::AddBand,
            Self::Deficit(_) => BridgeCode::Deficit,
        }
    }
}

/// A gap between two neighbouring steps and the ways over it.
#[derive(Debug, Clone, PartialEq)]
pub struct Bridge {
    /// Index of the lower step.
    pub from: usize,
    /// Index of the upper step.
    pub to: usize,
    /// Ratio less one.
    pub jump: f64,
    /// Ways, cheapest first; empty means the gap is too big for this kit.
    pub ways: Vec<Way>,
}

/// The dose that a bridge leads to: the bottom of the zone and the reserve of its sets.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Landing {
    /// Bottom of the zone, repetitions.
    pub reps: u16,
    /// Repetitions in reserve.
    pub rir: u8,
}

impl Landing {
    /// Repetitions to failure at which a step up is taken: one below the bottom, with one less in reserve.
    pub(super) fn to_failure(self) -> f64 {
        f64::from(self.reps) - 1.0 + (f64::from(self.rir) - 1.0).max(0.0)
    }
}

/// Who trains with what, as far as a bridge may promise it.
#[derive(Debug, Clone, Copy)]
pub struct Ground<'a> {
    /// The movement.
    pub movement: &'a Movement,
    /// Who does it.
    pub person: &'a Person,
    /// What the room holds.
    pub kit: &'a [KitItem],
}

/// Bridges over every jump above 10 % within `[0.7, 1.5]` of `around` (the whole ladder without it). Only what the room
/// holds and what is enough is a way: what is left of the jump is an ordinary step.
pub fn bridges(ladder: &Ladder, ground: &Ground<'_>, around: Option<Kilograms>, landing: Landing) -> Vec<Bridge> {
    let near = |i: &usize| {
        let load = ladder.steps[*i].effective_kg.value();
        around.is_none_or(|a| load >= 0.7 * a.value() && load <= 1.5 * a.value())
    };
    let gaps: Vec<(usize, f64)> = (0..ladder.steps.len())
        .filter(near)
        .filter_map(|i| Some((i, ladder.jump(i).filter(|j| *j > ORDINARY_JUMP)?)))
        .collect();
    if gaps.is_empty() {
        return Vec::new();
    }
    let between = banded_between(ladder, ground, &gaps);
    let bridge = |((i, jump), rung): ((usize, f64), Option<&LadderStep>)| Bridge {
        from: i,
        to: i + 1,
        jump,
        ways: ways(ground, rung, jump, landing),
    };
    let rungs = gaps.iter().map(|(i, _)| {
        let (low, high) = ends(ladder, *i);
        between.iter().find(|s| s.effective_kg.value() >= low && s.effective_kg.value() <= high)
    });
    gaps.iter().copied().zip(rungs).map(bridge).collect()
}

/// Between which loads a step bridges the jump from a step to the next.
fn ends(ladder: &Ladder, from: usize) -> (f64, f64) {
    (APART * ladder.steps[from].effective_kg.value(), ladder.steps[from + 1].effective_kg.value() / APART)
}

/// For each gap the step with a band in it that lies in its middle, whether the ladder shows it or not.
fn banded_between(ladder: &Ladder, ground: &Ground<'_>, gaps: &[(usize, f64)]) -> Vec<LadderStep> {
    if !ground.kit.iter().any(KitItem::is_band) {
        return Vec::new();
    }
    let ends: Vec<(f64, f64)> = gaps.iter().map(|(i, _)| ends(ladder, *i)).collect();
    Ladder::banded_between(ground.movement, ground.person, ground.kit, &ends)
}

fn ways(ground: &Ground<'_>, between: Option<&LadderStep>, jump: f64, landing: Landing) -> Vec<Way> {
    // What a way must bring so that an ordinary step is left.
    let enough = ((1.0 + jump) / (1.0 + ORDINARY_JUMP)).ln();
    let mut ways = Vec::new();
    let needed = reps::reps_before_jump(1.0 + jump, landing.to_failure());
    if needed <= MOST_REPS {
        let reps = (needed - f64::from(landing.rir)).ceil().max(1.0) as u16;
        ways.push(Way::MoreReps { reps, reserve: landing.rir });
    }
    let gain = |to: f64| reps::tempo_gain(10.0, Seconds(3.0), Seconds(to));
    let like = |gain: f64| gain.exp() - 1.0;
    if let Some(to) = [5.0, 6.0].into_iter().find(|to| gain(*to) >= enough) {
        ways.push(Way::SlowerLowering { seconds: to - 1.0, like: like(gain(to)) });
    }
    let pause = gain(5.0);
    if pause >= enough {
        ways.push(Way::Pause(like(pause)));
    }
    ways.extend(between.map(|step| Way::AddBand(step.label.clone(), step.effective_kg)));
    ways.extend(deeper(ground));
    ways
}

/// A deficit, where the room has something to raise the hands on.
fn deeper(ground: &Ground<'_>) -> Option<Way> {
    let on_floor = matches!(ground.movement.rig, RigModel::PushUp { hands: PushUpHands::Floor, .. });
    let on = ground.kit.iter().find_map(|item| match item {
        KitItem::Parallettes(_) => Some(HandsOn::Handles),
        KitItem::Box(b) if b.count >= 2 => Some(HandsOn::TwoBoxes),
        _ => None,
    })?;
    on_floor.then_some(Way::Deficit(on))
}
