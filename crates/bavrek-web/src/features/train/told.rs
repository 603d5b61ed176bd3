//! A logged set in a few words.

use bavrek_core::kit::same_bands;
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::Movement;
use bavrek_core::reps::reserve_text;
use bavrek_core::rigging::Setup;

/// A logged set in a few words: `left: 8 kg × 12, 2 in reserve`, `12 kg each hand × 10`, `body + 5 kg × 8`.
pub(in crate::features) fn what(set: &LoggedSet, movement: Option<&Movement>) -> String {
    // Of a band or of the body what it weighs says nothing here: the step does.
    let body = movement.is_some_and(|m| m.rig.is_lever());
    let load = set.load.map(|load| match movement {
        Some(_) if body => format!("body + {}", load.short()),
        Some(movement) => movement.told(&load),
        None => load.short(),
    });
    let band = if set.bands.is_empty() { "" } else { " + band" };
    let load = load.map_or_else(String::new, |load| format!("{load}{band} × "));
    let unit = if set.load.is_none() { " reps" } else { "" };
    let before = set.changed.as_ref().map_or(set.reps, |changed| Some(changed.after));
    let reps = before.map(|r| format!("{r}{unit}"));
    let held = set.seconds.map(|s| format!("{s} s"));
    let done: Vec<String> = reps.into_iter().chain(held).collect();
    let done = if done.is_empty() { "–".to_owned() } else { done.join(" + ") };
    let then = set
        .from_the_change()
        .map_or_else(String::new, |after| format!(", then {}", after_change(set, &after, movement)));
    let left = set.rir.map_or_else(String::new, |r| format!(", {} in reserve", reserve_text(r)));
    let side = set.side.map_or_else(String::new, |s| format!("{s}: "));
    format!("{side}{load}{done}{then}{left}")
}

/// What was done of a set from a change on: `10 kg × 10`, and how it was set up where that is what was changed.
fn after_change(set: &LoggedSet, after: &LoggedSet, movement: Option<&Movement>) -> String {
    let geometry = |setup: Option<Setup>| setup.unwrap_or_default().text();
    let (was, is) = (geometry(set.setup), geometry(after.setup));
    let names = || after.bands.iter().map(|band| band.name.as_str()).collect::<Vec<_>>().join(" + ");
    let bands = (!same_bands(&after.bands, &set.bands) && !after.bands.is_empty()).then(names);
    let told: Vec<String> = bands.into_iter().chain((was != is && !is.is_empty()).then_some(is)).collect();
    let how = if told.is_empty() { String::new() } else { format!(" ({})", told.join(", ")) };
    let plain = LoggedSet { rir: None, side: None, ..after.clone() };
    format!("{}{how}", what(&plain, movement))
}
