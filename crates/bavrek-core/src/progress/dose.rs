//! How a call changes the dose.

use super::kind::CallKind;
use crate::dose::{Prescription, SetKind, Tempo};
use crate::ladder::LadderStep;
use crate::plan::Intent;

/// The dose of a step: its load; and, where the load changes, the slot's own repetitions and tempo again, since the
/// bridges over a gap end with it.
pub fn dose_for(call: CallKind, intent: &Intent, now: &Prescription, step: &LadderStep) -> Prescription {
    let mut dose = now.clone();
    let fresh = matches!(call, CallKind::AddLoad | CallKind::Ease);
    let asked = intent.dose.prescription().sets;
    for (i, set) in dose.sets.iter_mut().enumerate() {
        *set = set.on(step.load);
        if fresh && set.kind != SetKind::LoweringOnly {
            let own = asked.get(i).or(asked.last());
            set.reps = set.reps.map(|_| own.and_then(|s| s.reps).unwrap_or(intent.dose.reps));
            set.tempo = own.map_or(Tempo::USUAL, |s| s.tempo);
        }
    }
    dose
}

/// The lighter way back on a step that cannot be made lighter: the bottom of the zone, one more in reserve, one set fewer.
pub(super) fn way_back(dose: &mut Prescription, intent: &Intent) {
    for set in &mut dose.sets {
        set.reps = set.reps.map(|_| [intent.dose.reps[0], intent.dose.reps[0]]);
        set.rir = set.rir.map(|rir| (rir + 1).min(6));
    }
    if dose.sets.len() > 1 {
        dose.sets.pop();
    }
}
