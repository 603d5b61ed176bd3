//! One written line, taken apart: what it is, the label of its block, the name and what is asked.

use std::sync::LazyLock;

use regex::Regex;

use super::amounts::Amounts;
use super::names::{Match, Names, SURE_ENOUGH};
use crate::plan::BlockKind;

/// What a line is.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum Line<'a> {
    /// The name of a session.
    Session(String),
    /// The head of what is done together: how, and the rounds where they are stated.
    Together(BlockKind, Option<u16>),
    /// The head of lines of which so many are enough, 0 being any number.
    Any(u8),
    /// Movements; several where the line joins them. Optional where it says so itself.
    Movements { label: Option<char>, joined: Option<BlockKind>, parts: Vec<Part<'a>>, optional: bool },
    /// Nothing of that.
    Unread,
}

/// A movement of a line.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Part<'a> {
    pub(super) name: String,
    pub(super) matches: Vec<Match<'a>>,
    pub(super) amounts: Amounts,
    /// What stands beside the name and the dose.
    pub(super) notes: Vec<String>,
}

/// A name that stands without any figure is taken as one from here on.
const CLEAR_NAME: f64 = 0.75;
/// Both halves of a joined line must be like a name this much.
const CLEAR_HALF: f64 = 0.6;
/// A longer line is prose.
const LONGEST_LINE: usize = 240;

static LABEL: LazyLock<Regex> = LazyLock::new(|| pattern(r"^\(?([a-z])\s?(\d)\s*[).:\-]?\s+|^\(?([a-z])\s*[).:]\s+"));
static BULLET: LazyLock<Regex> = LazyLock::new(|| pattern(r"^(?:\d{1,2}\s*[.)]\s+|[-*•·>+]\s+|\[[ x]?\]\s*)+"));
static DAY: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"^(?:(?:day|session|workout|week|training|phase)\s*(?:\d{1,2}|[a-f])?\b|(?:mon|tues|wednes|thurs|fri|satur|sun)day\b|(?:mon|tue|wed|thu|fri|sat|sun)\b\s*[:\-])",
    )
});
static SPLIT_NAME: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"^(?:(?:upper|lower|full|push|pull|legs?|arms?|chest|back|shoulders?|body|day|session|workout|hypertrophy|strength|and|&|/|\+|[a-d]|\d)\s*)+:?$",
    )
});
static TOGETHER: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"^(?:(\d{1,2})\s*(?:x\s*)?(?:rounds?|sets?)\s*(?:of|for)?\s*:?\s*)?(?:the\s+)?(superset|super set|tri-?set|giant set|circuit|antagonist pair|pair|filled rests?|rests? filled)?\s*(?:of|for|x|:|-)?\s*(?:(\d{1,2})\s*(?:rounds?|sets?|x)?)?\s*(?:of|for|:)?\s*$",
    )
});
static JOINT: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"\s+(?:superset(?:ted)?\s+with|super-set\s+with|paired\s+with|super\s+set\s+with|s/s|ss(?:\s+with)?|(?:then\s+)?straight into)\s+|\s+[+&]\s+(?:[a-z])",
    )
});
/// Between a movement and what is done in its rests.
static FILLED: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"[\s,;:-]+(?:(?:with\s+)?(?:the\s+|each\s+)?rests?\s+filled\s+with|fill(?:ing)?\s+(?:the\s+|each\s+)?rests?\s+with|(?:in|during)\s+(?:the|each)\s+rests?\b|between\s+(?:the\s+)?sets\b)\s*[:,]?\s*",
    )
});
/// Words with a figure behind them that is no dose yet.
static TRAILING_COUNT: LazyLock<Regex> = LazyLock::new(|| pattern(r"^([a-z -]*[a-z]{2,})\s+(\d{1,3})$"));
static LEADING_COUNT: LazyLock<Regex> = LazyLock::new(|| pattern(r"^(\d{1,3})\s+([a-z].*)$"));

/// Words for how many, from one.
const COUNTS: [&str; 6] = ["one", "two", "three", "four", "five", "six"];
static ANY_OF: LazyLock<Regex> = LazyLock::new(|| {
    let count = format!(r"(\d|{})", COUNTS.join("|"));
    pattern(&format!(
        r"^(?:(?:do|choose|pick|take)\s+(?:any\s+)?|any\s+){count}\s+(?:out\s+)?(?:of|from)\s+(?:(?:the|these|those|following|next|below|movements|exercises|lines|\d|{})\s*)+:?$",
        COUNTS.join("|")
    ))
});
static OPTIONAL: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r"[\s,;-]*[(\[]?\s*\b(?:optional(?:ly)?|if (?:there(?:'s| is)|you have) (?:any )?time(?: left)?|if time allows)\b\s*[)\]]?\s*:?",
    )
});

static BESIDE: LazyLock<Regex> = LazyLock::new(|| {
    pattern(r"^(?:warm[ -]?up|cool[ -]?down|stretch(?:es|ing)?|mobility|cardio|foam roll(?:ing)?|notes?|rest day)\b")
});
static IN_TOTAL: LazyLock<Regex> =
    LazyLock::new(|| pattern(r"^(\d{1,3})\s+([a-z].*?)\s+(?:in total|total|altogether|in as few sets as possible)$"));

fn pattern(text: &str) -> Regex {
    Regex::new(text).expect("a pattern of this file")
}

/// Takes a line apart. `in_rounds`: whether it stands in a block with rounds, where a leading figure is repetitions.
pub(super) fn take_apart<'a>(names: &Names<'a>, written: &str, in_rounds: bool) -> Line<'a> {
    if written.chars().count() > LONGEST_LINE {
        return Line::Unread;
    }
    let headed = written.starts_with('#') || (written.starts_with("**") && written.ends_with("**"));
    // A lone star between figures is a times sign.
    let lower = written.to_lowercase().replace("**", " ").replace(['_', '#', '`'], " ");
    let mut line = BULLET.replace(lower.trim(), "").trim().to_owned();
    let label = LABEL.captures(&line).and_then(|c| c.get(1).or_else(|| c.get(3))?.as_str().chars().next());
    if label.is_some() {
        line = LABEL.replace(&line, "").into_owned();
    }
    if let Some(block) = together(&line) {
        return block;
    }
    if let Some(count) = any_of(&line) {
        return Line::Any(count);
    }
    let optional = OPTIONAL.is_match(&line);
    if optional {
        line = OPTIONAL.replace_all(&line, " ").trim().to_owned();
        // `Optional:` alone, or `optional extras:`, goes for what stands beneath.
        if line.is_empty() || (line.ends_with(':') && !Amounts::of(&line).any()) {
            return Line::Any(0);
        }
    }
    if label.is_none() && (headed || DAY.is_match(&line) || SPLIT_NAME.is_match(&line)) && !Amounts::of(&line).any() {
        return Line::Session(tidy(written));
    }
    // What goes round the work is no movement of the plan.
    if BESIDE.is_match(&line) {
        return Line::Unread;
    }
    let line = IN_TOTAL.replace(&line, "$2 $1 in total").into_owned();
    let (halves, joined) = halves(names, &line);
    let mut parts: Vec<Part<'a>> = halves.iter().map(|half| part(names, half, in_rounds)).collect();
    if let [first, second] = &mut parts[..] {
        share(first, second);
    }
    let sure = |p: &Part<'_>, least: f64| p.matches.first().is_some_and(|m| m.confidence >= least);
    let stated = parts.iter().any(|p| p.amounts.any() || p.amounts.load.is_some());
    if parts.iter().any(|p| p.name.is_empty()) {
        return Line::Unread;
    }
    if !stated && !parts.iter().all(|p| sure(p, CLEAR_NAME)) {
        let headline = line.ends_with(':') && line.split_whitespace().count() <= 6;
        return if headline { Line::Session(tidy(written)) } else { Line::Unread };
    }
    // Prose with a figure in it is no movement.
    let words = |p: &Part<'_>| p.name.split_whitespace().count();
    if parts.iter().any(|p| words(p) > 10 && !sure(p, SURE_ENOUGH)) {
        return Line::Unread;
    }
    Line::Movements { label, joined, parts, optional }
}

/// Of how many of the lines that follow it says that they are enough.
fn any_of(line: &str) -> Option<u8> {
    let found = ANY_OF.captures(line)?.get(1)?.as_str();
    let word = || COUNTS.iter().zip(1..).find_map(|(word, count)| (*word == found).then_some(count));
    found.parse().ok().or_else(word).filter(|count| *count > 0)
}

fn tidy(written: &str) -> String {
    written.trim().trim_matches(|c: char| "#*_:=- ".contains(c)).trim().chars().take(80).collect()
}

fn together<'a>(line: &str) -> Option<Line<'a>> {
    let found = TOGETHER.captures(line)?;
    let rounds = found.get(1).or_else(|| found.get(3)).and_then(|m| m.as_str().parse().ok());
    let kind = match found.get(2).map(|m| m.as_str()) {
        Some("circuit" | "giant set") => BlockKind::Circuit,
        Some("antagonist pair") => BlockKind::Antagonist,
        Some(words) if words.contains("filled") => BlockKind::FilledRest,
        Some(_) => BlockKind::Superset,
        None if rounds.is_some() => BlockKind::Circuit,
        None => return None,
    };
    Some(Line::Together(kind, rounds))
}

/// A line that joins two movements, in two.
fn halves(names: &Names<'_>, line: &str) -> (Vec<String>, Option<BlockKind>) {
    if let Some(joint) = FILLED.find(line) {
        let [first, second] = [&line[..joint.start()], &line[joint.end()..]].map(str::to_owned);
        // A figure that stands alone behind what fills a rest is how often it is done.
        let second = TRAILING_COUNT.replace(&second, "$1 x $2").into_owned();
        // `rest 90 s between sets` fills nothing, nor does a walk between sets.
        let name = |half: &str| name_of(&Amounts::of(half).left).0;
        if !name(&first).is_empty() && names.matches(&name(&second)).first().is_some_and(|m| m.confidence >= CLEAR_HALF)
        {
            return (vec![first, second], Some(BlockKind::FilledRest));
        }
    }
    if let Some(joint) = JOINT.find(line) {
        let plus = joint.as_str().trim_start().starts_with(['+', '&']);
        let end = if plus { joint.end() - 1 } else { joint.end() };
        let (first, second) = (line[..joint.start()].to_owned(), line[end..].to_owned());
        let like = |half: &str| {
            let name = name_of(&Amounts::of(half).left).0;
            names.matches(&name).first().is_some_and(|m| m.confidence >= CLEAR_HALF)
        };
        if !plus || (like(&first) && like(&second)) {
            return (vec![first, second], Some(BlockKind::Superset));
        }
    }
    (vec![line.to_owned()], None)
}

/// What one half states goes for the other where that states nothing.
fn share(first: &mut Part<'_>, second: &mut Part<'_>) {
    let give = |from: &Amounts, to: &mut Amounts| {
        if !to.any() {
            (to.sets, to.work) = (from.sets, from.work.clone());
        }
        to.sets = to.sets.or(from.sets);
        to.rest_s = to.rest_s.or(from.rest_s);
    };
    give(&second.amounts.clone(), &mut first.amounts);
    give(&first.amounts.clone(), &mut second.amounts);
}

fn part<'a>(names: &Names<'a>, text: &str, in_rounds: bool) -> Part<'a> {
    let mut text = text.trim().to_owned();
    let mut leading = None;
    if in_rounds && let Some(found) = LEADING_COUNT.captures(&text) {
        let rest = found[2].to_owned();
        // `30 s plank` is read as a time below.
        if !Amounts::of(&text).any() {
            leading = found[1].parse::<u16>().ok();
            text = rest;
        }
    }
    let mut amounts = Amounts::of(&text);
    if let Some(reps) = leading {
        amounts.work = Some(super::amounts::Work::Each(reps.to_string()));
    }
    let (name, notes) = name_of(&amounts.left);
    Part { matches: names.matches(&name), name, amounts, notes }
}

/// Words that join figures and are no name.
const BETWEEN: &[&str] = &["of", "for", "sets", "reps", "with", "on", "at", "x", "each", "then", "and"];

/// The name in what is left of a line, the first stretch that has words, and the rest as notes.
fn name_of(left: &str) -> (String, Vec<String>) {
    let plain = left.replace(['(', ')', '[', ']', ';', ':'], "|").replace(" - ", "|").replace(", ", "|");
    let stretches = plain.split('|').map(|s| s.trim_matches(|c: char| !c.is_alphanumeric()).trim());
    let (mut name, mut notes) = (String::new(), Vec::new());
    for stretch in stretches.filter(|s| !s.is_empty() && !BETWEEN.contains(s)) {
        let worded = stretch.chars().filter(|c| c.is_alphabetic()).count() > 2;
        if worded && name.is_empty() {
            let bare = stretch.trim_end_matches(" of").trim_end_matches(" for").trim_start_matches("of ");
            bare.clone_into(&mut name);
        } else {
            notes.push(stretch.to_owned());
        }
    }
    (name, notes)
}
