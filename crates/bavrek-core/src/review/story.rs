//! The first sentences of a review: what grew, what fell, what stands still, what was left out, what hurt.

use chrono::NaiveDate;

use super::{HeldLine, Line, PainfulDay, Verdict};
use crate::anatomy::Region;
use crate::strength::Change;

/// Log change below which growth is not worth a word.
const WORTH_A_WORD: f64 = 0.02;

/// What the sentences are made of.
#[derive(Debug, Clone, Copy)]
pub struct Told<'a> {
    /// The lines of strength.
    pub lines: &'a [Line<'a>],
    /// What was held.
    pub held: &'a [HeldLine<'a>],
    /// Regions with an aim that have had nothing, each with the last week in which it had, if it had.
    pub left_out: &'a [(Region, Option<NaiveDate>)],
    /// The last day that was painful enough to stop a movement.
    pub pain: Option<PainfulDay>,
}

/// The story in one to seven sentences, what became of strength first. `day` writes a day as everywhere else.
pub fn story(told: &Told<'_>, day: impl Fn(NaiveDate) -> String) -> Vec<String> {
    let strength = [grown(told), held_longer(told), fallen(told), stood_still(told), too_light(told)];
    let mut sentences: Vec<String> = strength.into_iter().flatten().collect();
    if told.lines.is_empty() && told.held.iter().all(|line| line.change.is_none()) {
        sentences.push("Nothing was logged often enough here to see a change.".into());
    } else if sentences.is_empty() {
        sentences.push("Strength is as it was: no change is more than chance yet.".into());
    } else if sentences.len() == 1 && held_longer(told).is_some() && !told.lines.is_empty() {
        sentences.push("All else is as it was: no change is more than chance yet.".into());
    }
    sentences.extend(neglected(told, &day));
    let hurt =
        |day_of: PainfulDay| format!("It hurt ({}, {} of 10), last {}.", day_of.place(), day_of.pain, day(day_of.on));
    sentences.extend(told.pain.map(hurt));
    sentences
}

/// The change of a line, where its sets say more than "at least": nothing is claimed of what was too light to tell.
fn known(line: &Line<'_>) -> Option<Change> {
    line.change.filter(|_| line.too_light_days.is_none())
}

fn percent(change: f64) -> f64 {
    (change.exp() - 1.0) * 100.0
}

/// `Horizontal press grew by 12 % and row by 9 %, through 2 swaps.`
fn grown(told: &Told<'_>) -> Option<String> {
    let mut grown: Vec<(&str, f64)> = Vec::new();
    let mut swaps = 0;
    for line in told.lines {
        let Some(change) = known(line).filter(|c| c.mean >= WORTH_A_WORD && c.bounds()[0] > 0.0) else { continue };
        grown.push((&line.pattern.name, percent(change.mean)));
        swaps += line.swaps.iter().filter(|s| matches!(s.verdict, Verdict::Kept | Verdict::Gained)).count();
    }
    grown.sort_by(|a, b| b.1.total_cmp(&a.1));
    let through = match swaps {
        0 => String::new(),
        1 => ", through a swap".to_owned(),
        n => format!(", through {n} swaps"),
    };
    let mut parts = grown.iter().enumerate().map(|(i, (name, by))| match i {
        0 => format!("{name} grew by {by:.0} %"),
        _ => format!("{} by {by:.0} %", name.to_lowercase()),
    });
    let first = parts.next()?;
    Some(format!("{}{through}.", listed(first, parts.collect())))
}

/// `Held longer or with more: hang from a bar by 12 %.` The per cent are those of the load that can be held.
fn held_longer(told: &Told<'_>) -> Option<String> {
    let grown = |line: &HeldLine<'_>| {
        let change = line.change.filter(|c| c.mean >= WORTH_A_WORD && c.bounds()[0] > 0.0)?;
        Some(format!("{} by {:.0} %", line.movement.name.to_lowercase(), percent(change.mean)))
    };
    let mut parts = told.held.iter().filter_map(grown);
    let first = parts.next()?;
    Some(format!("Held longer or with more: {}.", listed(first, parts.collect())))
}

fn fallen(told: &Told<'_>) -> Option<String> {
    let fell = |line: &&Line<'_>| known(line).is_some_and(|c| c.mean <= -WORTH_A_WORD && c.bounds()[1] < 0.0);
    let lines = told.lines.iter().filter(fell).map(|line| (line.change, &line.pattern.name));
    let less = |line: &&HeldLine<'_>| line.change.is_some_and(|c| c.mean <= -WORTH_A_WORD && c.bounds()[1] < 0.0);
    let held = told.held.iter().filter(less).map(|line| (line.change, &line.movement.name));
    let mut parts = lines.chain(held).map(|(change, name)| {
        let by = change.map_or(0.0, |c| -percent(c.mean));
        format!("{} by {by:.0} %", name.to_lowercase())
    });
    let first = parts.next()?;
    Some(capital(&format!("{}.", listed(format!("weaker: {first}"), parts.collect()))))
}

fn stood_still(told: &Told<'_>) -> Option<String> {
    let still = told.lines.iter().filter_map(|l| Some((l.pattern.name.to_lowercase(), l.still_weeks?)));
    let mut still: Vec<(String, i64)> = still.collect();
    still.sort_by_key(|(_, weeks)| -weeks);
    let mut parts = still.into_iter().map(|(name, weeks)| format!("{name} for {weeks} weeks"));
    let first = parts.next()?;
    Some(format!("Stands still: {}.", listed(first, parts.collect())))
}

/// What nobody can see growing, because no set comes near its end.
fn too_light(told: &Told<'_>) -> Option<String> {
    let light = told.lines.iter().filter_map(|l| Some((l.pattern.name.to_lowercase(), l.too_light_days?)));
    let mut parts = light.map(|(name, days)| format!("{name} on the last {days} days"));
    let first = parts.next()?;
    Some(format!("Too light to tell, five or more left in every set: {}.", listed(first, parts.collect())))
}

fn neglected(told: &Told<'_>, day: &impl Fn(NaiveDate) -> String) -> Option<String> {
    let mut parts = told.left_out.iter().map(|(region, last)| match last {
        Some(week) => format!("{region} since the week of {}", day(*week)),
        None => region.label().to_owned(),
    });
    let first = parts.next()?;
    Some(format!("Got nothing: {}.", listed(first, parts.collect())))
}

/// `a, b and c`.
fn listed(first: String, mut rest: Vec<String>) -> String {
    match rest.pop() {
        None => first,
        Some(last) if rest.is_empty() => format!("{first} and {last}"),
        Some(last) => format!("{first}, {} and {last}", rest.join(", ")),
    }
}

fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().collect::<String>() + letters.as_str())
}
