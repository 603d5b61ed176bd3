//! A written plan as a whole: sessions, blocks and slots, with the lines that could not be read.

use super::amounts::{Amounts, WrittenLoad};
use super::line::{Line, Part, take_apart};
use super::names::{Match, Names};
use crate::dose::notation::Written;
use crate::plan::BlockKind;
use crate::ranges::RangeError;

/// Longest text that is read, characters, and most lines of it.
pub const LONGEST_TEXT: usize = 60_000;
/// Most lines that are read.
pub const MOST_LINES: usize = 400;
/// Most slots that a plan may have: no week holds more.
const MOST_SLOTS: usize = 120;

/// A line before it is read.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RawLine {
    /// Its number in the text, from 1.
    pub number: usize,
    /// The session that it says it belongs to.
    pub session: Option<String>,
    /// What it says.
    pub text: String,
}

/// A slot as it was written.
#[derive(Debug, Clone, PartialEq)]
pub struct WrittenSlot<'a> {
    /// The line's number in the text.
    pub number: usize,
    /// The line.
    pub written: String,
    /// The name in it.
    pub name: String,
    /// What it may mean, surest first.
    pub matches: Vec<Match<'a>>,
    /// Its dose; none where sets or repetitions are not stated.
    pub dose: Option<Written>,
    /// Its load.
    pub load: Option<WrittenLoad>,
    /// A number shared by slots that are done together.
    pub block: Option<usize>,
    /// How they are.
    pub kind: Option<BlockKind>,
    /// Whether it may be left out, and at least how many such lines are done: 0 where any number is enough.
    pub optional: Option<u8>,
    /// What was understood otherwise than it stands there.
    pub remarks: Vec<String>,
    /// What else stands there.
    pub notes: Vec<String>,
    /// What is not stated: `sets`, `reps`, `tempo`, `rest`, `reserve`, `load`.
    pub not_stated: Vec<&'static str>,
}

/// A session as it was written.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct WrittenSession<'a> {
    /// Its name.
    pub name: Option<String>,
    /// Its slots in order.
    pub slots: Vec<WrittenSlot<'a>>,
    /// The line that names it, where one does.
    headed: Option<usize>,
}

/// A line that could not be read.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Unread {
    /// Its number in the text.
    pub number: usize,
    /// What it says.
    pub text: String,
}

/// All that was read.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct WrittenPlan<'a> {
    /// Sessions in order, none empty.
    pub sessions: Vec<WrittenSession<'a>>,
    /// What could not be read.
    pub unread: Vec<Unread>,
}

impl WrittenPlan<'_> {
    /// All slots.
    pub fn slots(&self) -> impl Iterator<Item = &WrittenSlot<'_>> {
        self.sessions.iter().flat_map(|s| &s.slots)
    }
}

/// What goes on from line to line.
#[derive(Debug, Default)]
struct Running {
    /// Blocks so far.
    blocks: usize,
    /// The label of the block that goes on.
    label: Option<char>,
    /// The head of the block that goes on: its number, how, and its rounds.
    headed: Option<(usize, BlockKind, Option<u16>)>,
    /// Whether a paragraph goes on: a line at its beginning may be its heading.
    within: bool,
    /// How many of the lines that go on are enough, where that was said.
    any: Option<u8>,
    /// Heads of blocks and choices under which nothing was read so far.
    bare: Vec<Unread>,
}

/// Reads a text of lines.
///
/// ```
/// # use bavrek_core::movement::Catalogue;
/// use bavrek_core::reading::{Names, read_text};
/// let catalogue = Catalogue::default();
/// let plan = read_text(&Names::of(&catalogue), "Curl 3 x 10").unwrap();
/// assert_eq!(plan.sessions[0].slots[0].name, "curl");
/// assert!(read_text(&Names::of(&catalogue), &"x".repeat(60_001)).is_err());
/// ```
pub fn read_text<'a>(names: &Names<'a>, text: &str) -> Result<WrittenPlan<'a>, RangeError> {
    let count = text.chars().count();
    if count > LONGEST_TEXT {
        return Err(RangeError::new("text", format!("has {count} characters; at most {LONGEST_TEXT} are read")));
    }
    let lines = text.lines().enumerate();
    let raw = lines.map(|(i, line)| RawLine { number: i + 1, session: None, text: line.trim().to_owned() });
    Ok(read_lines(names, raw))
}

/// Reads lines. Those beyond the first [`MOST_LINES`] that say anything are left unread.
pub fn read_lines<'a>(names: &Names<'a>, lines: impl IntoIterator<Item = RawLine>) -> WrittenPlan<'a> {
    let mut plan = WrittenPlan::default();
    let (mut running, mut read) = (Running::default(), 0);
    for raw in lines {
        if raw.text.is_empty() {
            running.begin_anew(&mut plan);
            continue;
        }
        read += 1;
        if let Some(name) = &raw.session
            && plan.sessions.last().is_none_or(|s| s.name.as_ref() != Some(name))
        {
            plan.sessions.push(WrittenSession { name: Some(name.clone()), ..WrittenSession::default() });
            running.begin_anew(&mut plan);
        }
        if read > MOST_LINES || plan.slots().count() >= MOST_SLOTS {
            plan.unread.push(Unread { number: raw.number, text: short(&raw.text) });
            continue;
        }
        let in_rounds = running.headed.is_some();
        let line = match take_apart(names, &raw.text, in_rounds) {
            Line::Unread if !running.within && is_title(&raw.text) => Line::Session(raw.text.clone()),
            line => line,
        };
        take(&mut plan, &mut running, &raw, line);
        running.within = true;
    }
    running.begin_anew(&mut plan);
    // A heading with nothing under it was none.
    let empty = plan.sessions.iter().filter(|s| s.slots.is_empty());
    let headings = empty.filter_map(|s| Some(Unread { number: s.headed?, text: s.name.clone()? }));
    plan.unread.extend(headings.collect::<Vec<_>>());
    plan.unread.sort_by_key(|u| u.number);
    plan.sessions.retain(|s| !s.slots.is_empty());
    for session in &mut plan.sessions {
        alone(session);
    }
    plan
}

/// Whether a line that begins a paragraph may be the name of what follows: a few words, no sentence and no figures.
fn is_title(text: &str) -> bool {
    let plain = |c: char| c.is_alphabetic() || " -&/'".contains(c);
    text.split_whitespace().count() <= 4 && text.trim_end_matches(':').chars().all(plain)
}

fn short(text: &str) -> String {
    text.chars().take(200).collect()
}

fn take<'a>(plan: &mut WrittenPlan<'a>, running: &mut Running, raw: &RawLine, line: Line<'a>) {
    match line {
        Line::Session(name) => {
            plan.sessions.push(WrittenSession {
                name: Some(name),
                headed: Some(raw.number),
                ..WrittenSession::default()
            });
            running.begin_anew(plan);
        }
        Line::Together(kind, rounds) => {
            running.blocks += 1;
            running.label = None;
            running.headed = Some((running.blocks, kind, rounds));
            running.bare.push(Unread { number: raw.number, text: short(&raw.text) });
        }
        Line::Any(count) => {
            running.any = Some(count);
            running.bare.push(Unread { number: raw.number, text: short(&raw.text) });
        }
        Line::Unread => plan.unread.push(Unread { number: raw.number, text: short(&raw.text) }),
        Line::Movements { label, joined, parts, optional } => {
            running.bare.clear();
            let optional = running.any.or(optional.then_some(0));
            let (block, kind) = running.block(label, joined);
            let rounds = running.headed.and_then(|(_, _, rounds)| rounds);
            if plan.sessions.is_empty() {
                plan.sessions.push(WrittenSession::default());
            }
            if let Some(session) = plan.sessions.last_mut() {
                let slots = parts.into_iter().map(|part| slot(part, raw, rounds, (block, kind)));
                session.slots.extend(slots.map(|slot| WrittenSlot { optional, ..slot }));
            }
        }
    }
}

impl Running {
    /// What went on ends; a head under which nothing stood was none.
    fn begin_anew(&mut self, plan: &mut WrittenPlan<'_>) {
        plan.unread.append(&mut self.bare);
        *self = Self { blocks: self.blocks, ..Self::default() };
    }

    /// The block that a line belongs to.
    fn block(&mut self, label: Option<char>, joined: Option<BlockKind>) -> (Option<usize>, Option<BlockKind>) {
        if let Some(letter) = label {
            if self.label != Some(letter) {
                self.blocks += 1;
            }
            (self.label, self.headed) = (Some(letter), None);
            return (Some(self.blocks), Some(joined.unwrap_or(BlockKind::Superset)));
        }
        self.label = None;
        if let Some((block, kind, _)) = self.headed {
            return (Some(block), Some(kind));
        }
        let Some(kind) = joined else { return (None, None) };
        self.blocks += 1;
        (Some(self.blocks), Some(kind))
    }
}

/// What is open of a line without a dose.
fn open(amounts: &Amounts) -> Vec<&'static str> {
    let all = [
        (amounts.sets.is_none(), "sets"),
        (amounts.work.is_none(), "reps"),
        (amounts.tempo.is_none(), "tempo"),
        (amounts.rest_s.is_none(), "rest"),
        (amounts.rir.is_none(), "reserve"),
        (true, "load"),
    ];
    all.into_iter().filter_map(|(open, what)| open.then_some(what)).collect()
}

fn slot<'a>(
    part: Part<'a>,
    raw: &RawLine,
    rounds: Option<u16>,
    (block, kind): (Option<usize>, Option<BlockKind>),
) -> WrittenSlot<'a> {
    let Part { name, matches, mut amounts, notes } = part;
    amounts.sets = amounts.sets.or(rounds);
    let dose = amounts.dose();
    let mut not_stated = dose.as_ref().map_or_else(|| open(&amounts), Written::not_stated);
    if amounts.load.is_some() {
        not_stated.retain(|what| *what != "load");
    }
    WrittenSlot {
        number: raw.number,
        written: short(&raw.text),
        name,
        matches,
        dose,
        load: amounts.load,
        block,
        kind,
        optional: None,
        remarks: amounts.remarks,
        notes,
        not_stated,
    }
}

/// What has a label but no mate is done on its own; three and more together are a circuit.
fn alone(session: &mut WrittenSession<'_>) {
    let sizes = |slots: &[WrittenSlot<'_>], block: usize| slots.iter().filter(|s| s.block == Some(block)).count();
    for i in 0..session.slots.len() {
        let Some(block) = session.slots[i].block else { continue };
        match sizes(&session.slots, block) {
            1 => (session.slots[i].block, session.slots[i].kind) = (None, None),
            n if n > 2 && session.slots[i].kind == Some(BlockKind::Superset) => {
                session.slots[i].kind = Some(BlockKind::Circuit);
            }
            _ => {}
        }
    }
}
