//! What is kept and lost, and why, in words with figures.

use super::Case;
use super::score::Parts;
use super::start::{Basis, target_reps};
use crate::mechanics::profile::share_distance;
use crate::movement::Movement;
use crate::plan::{Intent, Sides};
use crate::reference::stretch_tag;
use crate::strength::reps;

/// Steadiness below which failure is one of balance. Assumed; rings lie below it.
const STEADY: f64 = 0.7;

/// The word with its article: `a fly`, `an incline press`.
fn one(word: &str) -> String {
    format!("{} {word}", if word.starts_with(['a', 'e', 'i', 'o', 'u']) { "an" } else { "a" })
}

fn percent(share: f64) -> f64 {
    (share * 100.0).round()
}

pub(super) fn kept_and_lost(case: &Case<'_>) -> (Vec<String>, Vec<String>) {
    let Case { movement, intent, yardstick, ladder, start, .. } = *case;
    let (mut kept, mut lost) = (Vec::new(), Vec::new());
    for region in intent.regions.keys() {
        if movement.direct.contains_key(region) {
            kept.push(format!("{region} worked directly"));
        } else if movement.assisting.contains_key(region) {
            lost.push(format!("{region} only assists"));
        } else {
            lost.push(format!("{region} not worked"));
        }
    }
    if movement.pattern == intent.pattern {
        kept.push(format!("pattern: {}", intent.pattern));
    } else {
        lost.push(format!("{} instead of {}", one(movement.pattern.label()), one(intent.pattern.label())));
    }
    if let Some(arm) = intent.arm_position {
        let list = if arm == movement.arm_position { &mut kept } else { &mut lost };
        list.push(format!("arm {}", movement.arm_position));
    }
    if let Some(wanted) = yardstick.thirds {
        length(&ladder.steps[start.step].thirds, &wanted, &mut kept, &mut lost);
    }
    if let (Some(wanted), Some(tag)) = (yardstick.tag, stretch_tag(movement))
        && wanted > tag
    {
        lost.push("the two-joint head is less stretched at the shoulder".into());
    }
    if ladder.headroom(start.step) == 0 {
        lost.push("no heavier step here".into());
    }
    if movement.style != yardstick.style {
        lost.push(format!("{} instead of {}", movement.style, yardstick.style));
    }
    match (intent.sides, movement.unilateral()) {
        (Some(Sides::One), true) => kept.push("one side at a time".into()),
        (Some(Sides::One), false) => lost.push("both sides together instead of one at a time".into()),
        (_, true) => lost.push("one side at a time: twice the time".into()),
        (_, false) => {}
    }
    if intent.to_failure() && movement.stability < STEADY {
        lost.push("too unsteady for sets to failure: balance ends them first".into());
    }
    (kept, lost)
}

fn length(thirds: &[f64; 3], wanted: &[f64; 3], kept: &mut Vec<String>, lost: &mut Vec<String>) {
    let distance = share_distance(thirds, wanted);
    if distance <= 0.12 {
        kept.push(format!("hard in the same part of the length: {:.0} % lengthened", percent(thirds[0])));
    } else if distance <= 0.25 {
        kept.push(format!("hard in nearly the same part: {:.0} % lengthened", percent(thirds[0])));
    }
    if wanted[0] - thirds[0] > 0.08 {
        lost.push(format!("less work lengthened: {:.0} % instead of {:.0} %", percent(thirds[0]), percent(wanted[0])));
    }
    if wanted[2] - thirds[2] > 0.12 {
        lost.push(format!("less work shortened: {:.0} % instead of {:.0} %", percent(thirds[2]), percent(wanted[2])));
    }
}

/// What a movement does instead of the job that is asked for.
pub(super) fn off_target(movement: &Movement, intent: &Intent) -> String {
    let direct: Vec<_> = movement.direct.keys().map(|r| r.label()).collect();
    let asked: Vec<_> = intent.regions.keys().map(|r| r.label()).collect();
    let shared = intent.regions.keys().any(|r| movement.region_weight(*r) > 0.0);
    let how = if shared { "hardly works" } else { "does not work" };
    format!("{} for {}; it {how} {}", one(movement.pattern.label()), direct.join(", "), asked.join(", "))
}

pub(super) fn reasons(case: &Case<'_>, parts: &Parts) -> Vec<String> {
    let Case { movement, person, intent, ladder, start, .. } = *case;
    let step = &ladder.steps[start.step];
    let expected = reps::expected_reps(start.reference, step.effective_kg.value().ln(), f64::from(intent.reserve()));
    let source = match start.basis {
        Basis::ThisExercise => "from this exercise's own sets".to_owned(),
        Basis::Pattern => {
            format!("from other sets of the pattern, taken at {} of the anchor", movement.carry_over.ratio)
        }
        Basis::Prior => "a first guess from body mass and experience".to_owned(),
    };
    let mut reasons = vec![format!(
        "{:.1} to {:.1} likely for {} reps with {} in reserve: {source}",
        start.low.two_figures(),
        start.high.two_figures(),
        target_reps(intent),
        intent.reserve()
    )];
    reasons.push(if start.above_estimate {
        format!("even the lightest step is above the estimate: about {:.0} reps expected", expected.max(0.0))
    } else {
        format!("rounded down to a step that exists: about {:.0} reps expected on it", expected.max(0.0))
    });
    if start.basis != Basis::ThisExercise {
        let above = ladder.steps.get(start.step + 1);
        reasons.push(above.map_or_else(
            || "the first set is a test set".to_owned(),
            |next| format!("the first set is a test set: over {} clean reps, take {}", intent.reps[1] + 4, next.label),
        ));
    }
    let jump = ladder.largest_jump(Some(step.effective_kg));
    reasons.push(format!(
        "{} steps above; the largest jump nearby is {:.0} %",
        ladder.headroom(start.step),
        percent(jump)
    ));
    for limit in &person.limits {
        if parts.joints < 1.0 && movement.limits.iter().any(|r| r.joint == limit.joint && r.what == limit.what) {
            reasons.push(format!("go easy: {}", limit.text()));
        }
    }
    reasons
}
