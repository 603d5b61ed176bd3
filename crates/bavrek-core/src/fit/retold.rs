//! What is said of a start, said again after it moved: to another step, or to fewer repetitions on its own.

use super::answer::Candidate;
use super::exclude::is_nearly_out_of_reach;
use super::kept::Lost;
use super::reason::{Lasts, Reason, of_incline};
use crate::movement::Style;

impl Candidate<'_> {
    /// Makes what was said of the start true of the one that it has now. What does not hang on it stays as it was said.
    pub(crate) fn retell(&mut self) {
        let reasons = std::mem::take(&mut self.reasons);
        self.reasons = reasons.into_iter().filter_map(|reason| self.retold(reason)).collect();
        let (start, ladder) = (&self.start, &self.ladder);
        let told = [
            (Lost::OutOfReach, is_nearly_out_of_reach(self.movement, start)),
            (Lost::TooLight, self.movement.style != Style::Hold && start.is_too_light()),
            (Lost::NothingHeavier, ladder.headroom(start.step) == 0),
        ];
        for (lost, holds) in told {
            let said = self.lost.contains(&lost);
            if said && !holds {
                self.lost.retain(|other| *other != lost);
            } else if holds && !said {
                self.lost.push(lost);
            }
        }
    }

    /// A reason as it holds now; none where it no longer does.
    fn retold(&self, reason: Reason) -> Option<Reason> {
        let (start, ladder) = (&self.start, &self.ladder);
        Some(match reason {
            Reason::LoadLikely { asked, reserve, basis, .. } => {
                Reason::LoadLikely { load: [start.low, start.high], asked, reserve, basis }
            }
            Reason::Expected { reserve, .. } => Reason::Expected { likely: start.likely(), reserve },
            Reason::LightestAbove { weight, .. } => Reason::LightestAbove { weight, likely: start.likely() },
            Reason::MixedOn { above, lasts } => {
                Reason::MixedOn { above, lasts: Lasts { chance: start.chance_of(lasts.needed), ..lasts } }
            }
            Reason::Age(_) => of_incline(self.step().setup.bench_deg)?,
            Reason::FirstOn(_) => Reason::FirstOn(ladder.steps[start.feeler?].label.clone()),
            Reason::TestSet { over, .. } => {
                Reason::TestSet { next: ladder.steps.get(start.step + 1).map(|above| above.label.clone()), over }
            }
            Reason::Bent { miss, zone, .. } => Reason::Bent { miss, end: self.is_at_its_end(miss), zone },
            Reason::RoomToGrow { .. } => Reason::RoomToGrow {
                above: ladder.headroom(start.step),
                jump: ladder.largest_jump(Some(self.step().effective_kg)),
            },
            Reason::WithoutChanging { on, .. } => {
                let load = ladder.steps.iter().find(|step| step.label == on)?.effective_kg.value();
                Reason::WithoutChanging { on, reps: start.reps_on(load) }
            }
            as_it_was => as_it_was,
        })
    }
}
