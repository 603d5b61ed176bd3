//! What is kept and lost, and why, in words with figures.

use super::case::Case;
use super::in_relation::in_relation;
use super::joints::{Bearing, bearing, is_steep_for};
use super::start::{Basis, FEELER_REPS, FEELER_RESERVE, Start, target_reps};
use crate::anatomy::Pattern;
use crate::dose::{Part, SetPlan};
use crate::execution::RangePart;
use crate::ladder::Ladder;
use crate::mechanics::profile::share_distance;
use crate::movement::{Movement, Style};
use crate::person::{Limit, Person};
use crate::plan::{Intent, Sides};
use crate::reference::stretch_tag;

/// Steadiness below which failure is one of balance. Assumed; rings lie below it.
const STEADY: f64 = 0.7;

/// Repetitions below which a start is said to be nearly out of reach.
const LEAST_EXPECTED: f64 = 2.0;

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
    if movement.style != Style::Hold {
        if start.is_too_light() {
            lost.push("too light: over 40 reps expected".into());
        } else if start.reps < LEAST_EXPECTED {
            lost.push("nearly out of reach: fewer than 2 reps expected".into());
        }
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
    if intent.dose.to_failure() && movement.stability < STEADY {
        lost.push("too unsteady for sets to failure: balance ends them first".into());
    }
    (kept, lost)
}

/// Share of work beyond which less of it lengthened is said.
const LESS_LENGTHENED: f64 = 0.08;
/// The same of the shortened end.
const LESS_SHORTENED: f64 = 0.12;

/// Where the movement is hard, beside where it should be: one word, and never one that the next takes back.
fn length(thirds: &[f64; 3], wanted: &[f64; 3], kept: &mut Vec<String>, lost: &mut Vec<String>) {
    let distance = share_distance(thirds, wanted);
    let mut less = Vec::new();
    if distance > 0.12 {
        if wanted[0] - thirds[0] > LESS_LENGTHENED {
            less.push(format!(
                "less work lengthened: {:.0} % instead of {:.0} %",
                percent(thirds[0]),
                percent(wanted[0])
            ));
        }
        if wanted[2] - thirds[2] > LESS_SHORTENED {
            less.push(format!(
                "less work shortened: {:.0} % instead of {:.0} %",
                percent(thirds[2]),
                percent(wanted[2])
            ));
        }
    }
    match distance {
        d if d <= 0.12 => {
            kept.push(format!("hard in the same part of the length: {:.0} % lengthened", percent(thirds[0])));
        }
        d if d <= 0.25 && less.is_empty() => {
            kept.push(format!("hard in nearly the same part: {:.0} % lengthened", percent(thirds[0])));
        }
        _ => {}
    }
    lost.extend(less);
}

/// What a movement does instead of the job that is asked for.
pub(super) fn off_target(movement: &Movement, intent: &Intent) -> String {
    let direct: Vec<_> = movement.direct.keys().map(|r| r.label()).collect();
    let asked: Vec<_> = intent.regions.keys().map(|r| r.label()).collect();
    let shared = intent.regions.keys().any(|r| movement.region_weight(*r) > 0.0);
    let how = if shared { "hardly works" } else { "does not work" };
    format!("{} for {}; it {how} {}", one(movement.pattern.label()), direct.join(", "), asked.join(", "))
}

pub(super) fn reasons(case: &Case<'_>) -> Vec<String> {
    let Case { movement, person, intent, ladder, start, .. } = *case;
    let step = &ladder.steps[start.step];
    let mut reasons = match movement.style {
        Style::Hold => vec![hold(intent)],
        _ if start.basis == Basis::Resisted => vec![resisted(intent)],
        _ => load(case),
    };
    // What decides the step comes first.
    if let Some(text) = in_relation(intent, movement, ladder, start) {
        let first = if start.related.is_some() { 0 } else { reasons.len() };
        reasons.insert(first, text);
    }
    if !matches!(start.basis, Basis::ThisExercise | Basis::Resisted) && movement.style != Style::Hold {
        let above = ladder.steps.get(start.step + 1);
        reasons.push(above.map_or_else(
            || "the first set is a test set".to_owned(),
            |next| match mixed(movement, intent) {
                Some(_) => format!("the first set is a test set: where its end is easy, take {}", next.label),
                None => {
                    format!(
                        "the first set is a test set: over {} clean reps, take {}",
                        intent.dose.reps[1] + 4,
                        next.label
                    )
                }
            },
        ));
    }
    if start.basis != Basis::Resisted {
        reasons.push(room_to_grow(ladder, start));
    }
    reasons.extend(in_part(intent.execution.range, intent.part_for(movement)));
    reasons.extend(person.limits.iter().filter_map(|limit| of_limit(movement, *limit)));
    reasons.extend(of_age(person, step.setup.bench_deg.map(crate::units::Degrees::value), movement));
    reasons
}

/// What a chosen part of the range means for a movement.
fn in_part(chosen: Option<RangePart>, part: Option<RangePart>) -> Option<String> {
    Some(match (chosen?, part) {
        (chosen, None) => format!("{chosen} was asked for, which this cannot be cut to: the whole range"),
        (_, Some(part)) if part.is_half() => {
            format!("{part}: the repetitions are guessed from the whole range and count for no estimate of it")
        }
        (_, Some(part)) => format!("{part}, as chosen"),
    })
}

fn hold(intent: &Intent) -> String {
    format!("held for {} s: seconds stand for {} reps", intent.hold_seconds(), target_reps(intent))
}

fn resisted(intent: &Intent) -> String {
    format!(
        "resist as much as leaves {} in reserve at {} reps: nobody can state the load, so it counts for no estimate",
        intent.dose.reserve(),
        target_reps(intent)
    )
}

/// The load that is likely, what it rests on, and what to expect of the step.
fn load(case: &Case<'_>) -> Vec<String> {
    let Case { movement, intent, ladder, start, .. } = *case;
    let source = match start.basis {
        Basis::ThisExercise => "from this exercise's own sets".to_owned(),
        Basis::Pattern => "from other sets of the pattern".to_owned(),
        Basis::Resisted => "whoever resists sets it".to_owned(),
        Basis::OtherPatterns => "from sets of other patterns".to_owned(),
        Basis::Prior => "a first guess from body mass, experience and age".to_owned(),
    };
    let mixed = mixed(movement, intent);
    let asked = match mixed {
        Some(set) => format!("{}, as hard as {} reps,", set.mix_text(), target_reps(intent)),
        None => format!("{} reps", target_reps(intent)),
    };
    let (low, high) = (start.low.two_figures(), start.high.two_figures());
    let mut reasons =
        vec![format!("{low:.1} to {high:.1} likely for {asked} with {} in reserve: {source}", intent.dose.reserve())];
    let expected = start.reps_text();
    reasons.push(if let Some(set) = mixed {
        let step = if start.above_estimate {
            "on the lightest step here, which is above the estimate"
        } else {
            "on a step that exists"
        };
        format!("{step}: {}", lasts(intent, set, start))
    } else if start.above_estimate {
        let lightest = if movement.is_weighed() && !movement.rig.is_lever() { "weight" } else { "step" };
        format!("even the lightest {lightest} here is above the estimate: {expected} expected")
    } else {
        format!("on a step that exists: {expected} expected with {} in reserve", intent.dose.reserve())
    });
    if start.torn {
        reasons.push("sets disagree: the start is a whole uncertainty lower until more are logged".into());
    }
    if let Some(feeler) = start.feeler {
        reasons.push(format!(
            "first {FEELER_REPS} on {}; go on only with {FEELER_RESERVE} or more left",
            ladder.steps[feeler].label
        ));
    }
    reasons
}

/// The mixed set that is asked, where the movement is one of repetitions.
pub(super) fn mixed<'i>(movement: &Movement, intent: &'i Intent) -> Option<&'i SetPlan> {
    intent.dose.mixed().filter(|_| movement.style == Style::Reps)
}

/// How likely the last hold of a mixed set lasts on the step of a start; where nothing is held, its end.
pub(super) fn lasts(intent: &Intent, set: &SetPlan, start: &Start) -> String {
    let holds = set.mix().iter().any(|part| matches!(part, Part::Holds { .. }));
    let needed = intent.needed(set).map_or(0.0, |n| if holds { n.last_hold } else { n.whole });
    let what = if holds { "the last hold is expected to last" } else { "the set is expected to be finished" };
    let times = match start.chance_of(needed) {
        sure if sure > 0.95 => "in nearly every set".to_owned(),
        never if never < 0.05 => "in hardly any set".to_owned(),
        some => format!("in about {:.0} of 10 sets", (10.0 * some).round().clamp(1.0, 9.0)),
    };
    format!("{what} {times}")
}

fn room_to_grow(ladder: &Ladder, start: &Start) -> String {
    let jump = percent(ladder.largest_jump(Some(ladder.steps[start.step].effective_kg)));
    match ladder.headroom(start.step) {
        0 => "no step above".into(),
        1 => format!("one step above; the largest jump nearby is {jump:.0} %"),
        above => format!("{above} steps above; the largest jump nearby is {jump:.0} %"),
    }
}

/// How a limit bears on the movement, where it does.
fn of_limit(movement: &Movement, limit: Limit) -> Option<String> {
    match bearing(movement, &limit) {
        Bearing::Free => None,
        Bearing::Eases(_) if movement.rule(limit.joint, limit.what).is_none() => {
            Some(format!("mind it, stop at the first sign: {}", limit.text()))
        }
        Bearing::Eases(_) if limit.what.is_of_range() => Some(format!("only as far as it goes: {}", limit.text())),
        Bearing::Eases(_) | Bearing::Excludes => Some(format!("go easy: {}", limit.text())),
    }
}

/// What age changes about an inclined bench.
fn of_age(person: &Person, bench_deg: Option<f64>, movement: &Movement) -> Option<String> {
    let inclined = matches!(movement.pattern, Pattern::InclinePress | Pattern::FlyLowToHigh);
    let deg = bench_deg.filter(|deg| person.is_eased_by_age() && inclined && *deg >= 15.0)?;
    Some(if is_steep_for(person, Some(deg)) {
        format!("{deg:.0}° is steep from 50 on: 30° is kinder to the shoulder")
    } else {
        "30° or less rather than 45° from 50 on: kinder to the shoulder".into()
    })
}
