//! Which steps come next on a ladder, and what has to be done before each: what a client can be told weeks ahead.

use super::bridges::{Landing, ORDINARY_JUMP};
use super::step::LadderStep;
use crate::dose::{Prescription, SetKind};
use crate::reps::reps_before_jump;

/// A step is told only where it is harder by this share: less is not felt. Assumed.
const LEAST_JUMP: f64 = 0.025;
/// Beyond this share above the step of today only the first is told: more is not for weeks. Assumed.
const MOST_TOLD: f64 = 0.30;
/// So many times the top of the zone is asked for at most: beyond it a trainer decides. Assumed.
const MOST_OF_TOP: f64 = 1.5;
/// Largest jump of a hold, of which no repetition says when it is due.
const MOST_OF_HOLD: f64 = ORDINARY_JUMP;

/// A step that comes next.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Next<'a> {
    /// The step.
    pub step: &'a LadderStep,
    /// Clean repetitions in every set of the step before it, with the reserve that is asked for; none where it is held.
    pub reps: Option<u16>,
}

/// What can be told of the weeks ahead.
#[derive(Debug, Clone, PartialEq)]
pub enum Ahead<'a> {
    /// Steps, in order; at least one.
    Steps(Vec<Next<'a>>),
    /// The next step is harder by this share: more than repetitions can prepare for.
    Far(&'a LadderStep, f64),
    /// There is nothing harder here.
    Top,
    /// A dose of which no repetition says when a step is due: to a total, mixed, against the clock.
    Untold,
}

/// At most so many steps above one, in order, for a dose: of straight sets, or of holds. Where a jump is larger than an ordinary one,
/// more repetitions than are asked for go before it, as many as leave the bottom of the zone; where these are more than can be
/// asked, nothing beyond is told.
pub fn ahead<'a>(now: &'a LadderStep, steps: &'a [LadderStep], dose: &Prescription, most: usize) -> Ahead<'a> {
    let all = |kind: SetKind| dose.sets.iter().all(|set| set.kind == kind);
    let zone = dose.zone().filter(|_| all(SetKind::Straight));
    if zone.is_none() && !all(SetKind::Hold) {
        return Ahead::Untold;
    }
    let rir = dose.sets.iter().filter_map(|set| set.rir).min().unwrap_or(0);
    let (mut told, mut from) = (Vec::new(), now);
    while told.len() < most {
        // As it was taken: a ladder of today may reckon it a little otherwise.
        let Some(next) = steps.iter().find(|step| jump(from, step) >= LEAST_JUMP) else { break };
        if !told.is_empty() && jump(now, next) > MOST_TOLD {
            break;
        }
        let jump = jump(from, next);
        let reps = match zone {
            Some([low, high]) if jump <= ORDINARY_JUMP => Some(high.max(low)),
            Some([low, high]) => {
                let to_failure = reps_before_jump(1.0 + jump, Landing { reps: low, rir }.to_failure());
                let counted = (to_failure - f64::from(rir)).ceil() as u16;
                (f64::from(counted) <= MOST_OF_TOP * f64::from(high)).then_some(counted.max(high))
            }
            None => None,
        };
        let too_far = if zone.is_some() { reps.is_none() } else { jump > MOST_OF_HOLD };
        if too_far {
            return if told.is_empty() { Ahead::Far(next, jump) } else { Ahead::Steps(told) };
        }
        told.push(Next { step: next, reps });
        from = next;
    }
    if told.is_empty() { Ahead::Top } else { Ahead::Steps(told) }
}

fn jump(from: &LadderStep, to: &LadderStep) -> f64 {
    to.effective_kg.value() / from.effective_kg.value() - 1.0
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;
    use crate::dose::Tempo;
    use crate::dose::notation::{Usual, read};
    use crate::rigging::Setup;
    use crate::units::{Kilograms, Seconds};

    fn step(kg: f64) -> LadderStep {
        LadderStep {
            effective_kg: Kilograms(kg),
            peak_kg: Kilograms(kg),
            label: format!("{kg} kg"),
            implements: Vec::new(),
            setup: Setup::default(),
            set_up_s: Seconds(0.0),
            load: None,
            bands: Vec::new(),
            body_kg: None,
            log_sd: 0.0,
            band_share: 0.0,
            thirds: [0.0; 3],
            curve: Vec::new(),
        }
    }

    // 10 to 10.1 is not felt; twice as much is never told.
    #[rstest]
    #[case::fine_steps(&[10.0, 10.1, 10.5, 11.0], "3 x 8-12, 2 in reserve", &[("10.5 kg", Some(12)), ("11 kg", Some(12))])]
    #[case::not_all_the_way(&[10.0, 11.0, 12.0, 13.1], "3 x 8-12, 2 in reserve", &[("11 kg", Some(12)), ("12 kg", Some(12))])]
    #[case::one_that_is_too_far(&[10.0, 20.0], "3 x 8-12, 2 in reserve", &[])]
    #[case::nothing_above(&[10.0], "3 x 8-12, 2 in reserve", &[])]
    #[case::a_hold(&[10.0, 10.8, 14.0], "3 x 30 s", &[("10.8 kg", None)])]
    #[case::a_total(&[10.0, 10.5], "40 in total", &[])]
    fn what_comes_next(#[case] kg: &[f64], #[case] line: &str, #[case] told: &[(&str, Option<u16>)]) {
        let steps: Vec<LadderStep> = kg.iter().map(|kg| step(*kg)).collect();
        let usual = Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 };
        let dose = read(line).expect("a line of the notation").filled(usual);
        let found = match ahead(&steps[0], &steps, &dose, 3) {
            Ahead::Steps(found) => found.iter().map(|n| (n.step.label.as_str(), n.reps)).collect(),
            Ahead::Far(step, jump) => {
                assert_eq!((step.label.as_str(), jump), ("20 kg", 1.0));
                Vec::new()
            }
            Ahead::Top => {
                assert_eq!(steps.len(), 1);
                Vec::new()
            }
            Ahead::Untold => {
                assert_eq!(line, "40 in total");
                Vec::new()
            }
        };
        assert_eq!(found, told);
    }

    #[rstest]
    #[case(1.15)]
    #[case(1.25)]
    fn a_larger_jump_is_earned_by_more_repetitions_and_lands_in_the_zone(#[case] ratio: f64) {
        let steps = [step(10.0), step(10.0 * ratio)];
        let dose = Prescription::straight(3, [8, 12], 2, Tempo::USUAL, 90);
        let Ahead::Steps(told) = ahead(&steps[0], &steps, &dose, 3) else { panic!("a step is told") };
        let reps = told[0].reps.expect("repetitions are counted");
        assert!(reps > 12, "{reps}");
        let left = crate::reps::reps_after_jump(ratio, f64::from(reps) + 2.0) - 1.0;
        assert!(left >= 6.9, "{left} repetitions with one in reserve are left of {reps}");
    }
}
