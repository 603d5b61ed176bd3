//! Sets that are asked on other steps than their line's own: which step that is here, and why it is not as far as was asked.

use crate::between::HeldBack;
use crate::dose::SetPlan;
use crate::ladder::{LadderStep, moved};

/// Why a set is done less far off its line's own step than it says.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Short {
    /// Nothing may get heavier.
    Held(HeldBack),
    /// There is no step up within reach, as sets of one line are moved.
    NothingAbove,
    /// The same downwards.
    NothingBelow,
}

impl Short {
    /// In words that follow what is asked.
    pub fn text(self) -> String {
        match self {
            Self::Held(why) => why.to_string(),
            Self::NothingAbove => "no step up within reach here: no heavier than that".to_owned(),
            Self::NothingBelow => "no lighter step within reach here: no lighter than that".to_owned(),
        }
    }
}

/// Among steps by rising load the place of the one on which a set is done whose line's own lies at `at`: so many above or below it as the
/// set says, as far as there are any; and why not so far. Where the load is held back nothing is done above the own step.
pub fn landing(steps: &[LadderStep], at: usize, work: &SetPlan, held: Option<HeldBack>) -> (usize, Option<Short>) {
    let by = work.step;
    if let Some(why) = held.filter(|_| by > 0) {
        return (at, Some(Short::Held(why)));
    }
    let to = moved(steps, at, by);
    // The last of its steps leads nowhere.
    let short = by != 0 && to == moved(steps, at, by - by.signum());
    let why = if by > 0 { Short::NothingAbove } else { Short::NothingBelow };
    (to, short.then_some(why))
}
