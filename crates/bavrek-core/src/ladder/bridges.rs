//! Bridges over jumps that are too large to make at once, cheapest first.

use serde::{Deserialize, Serialize};

use super::Ladder;
use crate::anatomy::{Implement, vocabulary};
use crate::movement::{Movement, RigModel};
use crate::strength::reps;
use crate::units::{Kilograms, Seconds};

/// A jump up to this ratio is an ordinary step.
pub(crate) const ORDINARY_JUMP: f64 = 0.10;
/// Most repetitions before a jump that still count as a bridge.
const MOST_REPS: f64 = 25.0;

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
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Way {
    /// What is done.
    pub code: BridgeCode,
    /// A sentence with its figures.
    pub text: String,
}

/// A gap between two neighbouring steps and the ways over it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
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

/// Bridges over every jump above 10 % within `[0.7, 1.5]` of `around` (the whole ladder without it). `landing` is the
/// number of reps wanted after the jump.
pub fn bridges(ladder: &Ladder, movement: &Movement, around: Option<Kilograms>, landing: u16) -> Vec<Bridge> {
    (0..ladder.steps.len())
        .filter(|i| {
            let load = ladder.steps[*i].effective_kg.value();
            around.is_none_or(|a| load >= 0.7 * a.value() && load <= 1.5 * a.value())
        })
        .filter_map(|i| {
            let jump = ladder.jump(i).filter(|j| *j > ORDINARY_JUMP)?;
            Some(Bridge { from: i, to: i + 1, jump, ways: ways(ladder, movement, i, jump, f64::from(landing)) })
        })
        .collect()
}

fn ways(ladder: &Ladder, movement: &Movement, from: usize, jump: f64, landing: f64) -> Vec<Way> {
    let gap = (1.0 + jump).ln();
    let mut ways = Vec::new();
    let needed = reps::reps_before_jump(1.0 + jump, landing);
    if needed <= MOST_REPS {
        ways.push(Way {
            code: BridgeCode::MoreReps,
            text: format!("reach {:.0} clean reps here; {landing:.0} then remain on the next step", needed.ceil()),
        });
    }
    for to in [5.0, 6.0] {
        let gain = reps::tempo_gain(10.0, Seconds(3.0), Seconds(to));
        if gain >= 0.5 * gap {
            ways.push(Way {
                code: BridgeCode::SlowerLowering,
                text: format!(
                    "lower in {:.0} s instead of 2: like {:.0} % more load",
                    to - 1.0,
                    (gain.exp() - 1.0) * 100.0
                ),
            });
            break;
        }
    }
    let pause = reps::tempo_gain(10.0, Seconds(3.0), Seconds(5.0));
    if pause >= 0.5 * gap {
        ways.push(Way {
            code: BridgeCode::Pause,
            text: "pause 2 s in the lengthened position: like 8 % more load".into(),
        });
    }
    if movement.uses(Implement::LoopBand) && ladder.steps[from].bands.is_empty() && movement.uses(Implement::Dumbbell) {
        ways.push(Way { code: BridgeCode::AddBand, text: "a light loop band with the dumbbell closes the gap".into() });
    }
    if matches!(movement.rig, RigModel::PushUp { .. }) {
        ways.push(Way {
            code: BridgeCode::Deficit,
            text: "hands on handles or books: a deeper stretch before the next lever".into(),
        });
    }
    ways
}
