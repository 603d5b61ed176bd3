//! What may come next: kinds of calls, and what could be done instead of one.

use crate::anatomy::vocabulary;
use crate::fit::Likely;
use crate::ladder::LadderStep;

vocabulary!(
    /// A proposed next step.
    CallKind {
        AddLoad => "add_load", "add load";
        AddReps => "add_reps", "add reps";
        AddTempo => "add_tempo", "slow the lowering";
        HarderVariation => "harder_variation", "harder variation";
        Hold => "hold", "hold";
        Ease => "ease", "ease";
        Swap => "swap", "swap";
        Deload => "deload", "deload";
        Refer => "refer", "refer";
    }
);

impl CallKind {
    /// Whether it changes the plan otherwise than by holding or easing: what waits for a clearance.
    pub const fn hardens(self) -> bool {
        !matches!(self, Self::Hold | Self::Ease | Self::Deload | Self::Refer)
    }

    /// Whether it asks more of the client than before.
    pub const fn rises(self) -> bool {
        matches!(self, Self::AddLoad | Self::AddReps | Self::AddTempo | Self::HarderVariation)
    }
}

/// Another step that could be taken instead.
#[derive(Debug, Clone, PartialEq)]
pub struct Alternative {
    /// What it is.
    pub call: CallKind,
    /// The step it leads to.
    pub step: Option<LadderStep>,
    /// The movement, where it is another one.
    pub other: Option<Other>,
}

/// Another movement for the job.
#[derive(Debug, Clone, PartialEq)]
pub struct Other {
    /// Its identifier.
    pub exercise: String,
    /// Its name.
    pub name: String,
    /// Repetitions that are expected on its step; none of what is held.
    pub likely: Option<Likely>,
}

impl Alternative {
    /// The identifier of the movement, where it is another one.
    pub fn exercise(&self) -> Option<&str> {
        self.other.as_ref().map(|other| other.exercise.as_str())
    }
}
