//! What is nearly out of reach leads nothing.

use super::answer::{Candidate, FitAnswer};
use super::exclude::{Excluded, out_of_reach};
use super::order::BEHIND;

/// Puts what is nearly out of reach behind all that can be done, whatever else speaks for it; candidates come best first. Where there
/// is nothing else it is ruled out: nobody begins a job with what may not go up twice.
pub(super) fn settle(answer: &mut FitAnswer<'_>) {
    let doable = answer.candidates.iter().filter(|c| !c.is_nearly_out_of_reach());
    if let Some(least) = doable.map(|c| c.score).min_by(f64::total_cmp) {
        let mut most = least * BEHIND;
        for candidate in answer.candidates.iter_mut().filter(|c| c.is_nearly_out_of_reach()) {
            candidate.score = candidate.score.min(most);
            most = candidate.score * BEHIND;
        }
        answer.candidates.sort_by_key(Candidate::is_nearly_out_of_reach);
    } else {
        let none = std::mem::take(&mut answer.candidates);
        answer.excluded.extend(none.into_iter().map(|c| {
            let why = vec![out_of_reach(c.movement, c.step().effective_kg, c.start.expected)];
            Excluded { movement: c.movement, why }
        }));
    }
}
