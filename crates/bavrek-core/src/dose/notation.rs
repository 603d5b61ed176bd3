//! A dose in one line, both ways: `4 × 8–10 @ 3-1-1-0, 2 in reserve, last to failure, rest 90 s`.
//!
//! The reader takes what trainers write: `x` and `×`, `-` and `–`, clauses in any order. What is not stated stays unstated;
//! whoever reads a line decides what is usual.

use super::steps::{Steps, WAYS, read_steps, steps_text};
use super::{Part, Prescription, Relation, SetKind, SetPlan, Tempo};
use crate::ranges::RangeError;

/// Longest line that is read, characters.
pub const LONGEST_LINE: usize = 300;

/// A dose as it was written, with its gaps.
#[derive(Debug, Clone, PartialEq)]
pub struct Written {
    /// What each set is made of: kind, repetitions, seconds, total, parts.
    works: Vec<Amount>,
    /// Tempo of all sets.
    pub tempo: Option<Tempo>,
    /// Repetitions in reserve of all sets but the last.
    pub rir: Option<u8>,
    /// Those of the last set, where they are stated by themselves.
    pub last_rir: Option<u8>,
    /// Rest after each set, s.
    pub rest_s: Option<u16>,
    /// What the load is compared with.
    pub relation: Option<Relation>,
    /// How the sets lie to the line's own step.
    steps: Steps,
    /// Whether it is said of one side at a time.
    pub a_side: bool,
}

/// Stands in for gaps where only what was stated matters.
const GAPS: Usual = Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 };

/// What a line leaves open is filled in with this.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Usual {
    /// Tempo.
    pub tempo: Tempo,
    /// Repetitions in reserve.
    pub rir: u8,
    /// Rest, s.
    pub rest_s: u16,
}

/// What one set is made of.
#[derive(Debug, Clone, PartialEq, Default)]
struct Amount {
    kind: Option<SetKind>,
    reps: Option<[u16; 2]>,
    seconds: Option<u16>,
    total: Option<u16>,
    max: bool,
    parts: Vec<Part>,
    /// Of an extension: how many steps above the set before it.
    step: i8,
}

impl Written {
    /// What the line does not state: `tempo`, `rest`, `reserve`, `load`.
    pub fn not_stated(&self) -> Vec<&'static str> {
        let counted = self.works.iter().any(|w| w.reps.is_some());
        let mut open = Vec::new();
        open.extend(self.tempo.is_none().then_some("tempo"));
        open.extend(self.rest_s.is_none().then_some("rest"));
        open.extend((counted && self.rir.is_none()).then_some("reserve"));
        open.extend(self.relation.is_none().then_some("load"));
        open
    }

    /// The canonical line, its gaps left open.
    pub fn text(&self) -> String {
        let said = Said { tempo: self.tempo.is_some(), rest: self.rest_s.is_some(), reserve: self.rir.is_some() };
        line(&self.filled(GAPS), self.a_side, said)
    }

    /// The dose, with its gaps filled by what is usual.
    pub fn filled(&self, usual: Usual) -> Prescription {
        let counted = self.works.iter().filter(|w| !w.is_after()).count();
        let last = counted.saturating_sub(1);
        // An extension lies so many steps off the set before it, which may be one itself.
        let step = |i: usize| {
            let after = self.works[..=i].iter().filter(|w| w.is_after());
            after.fold(self.steps.of(i.min(last), counted), |step, work| step.saturating_add(work.step))
        };
        let set = |(i, work): (usize, &Amount)| {
            let kind = work.kind.unwrap_or(SetKind::Straight);
            let own = if i == last { self.last_rir.or(self.rir) } else { self.rir };
            // As many as possible leaves none; what is not counted in repetitions has no reserve.
            let rir = match kind {
                SetKind::Hold | SetKind::Station | SetKind::Mixed | SetKind::ToTotal => own,
                SetKind::Amrap => Some(own.unwrap_or(0)),
                _ => Some(own.unwrap_or(usual.rir)),
            };
            SetPlan {
                reps: work.reps,
                seconds: work.seconds,
                total: work.total,
                max: work.max.then_some(true),
                parts: work.parts.clone(),
                tempo: self.tempo.unwrap_or(usual.tempo),
                load: None,
                step: step(i),
                rir,
                kind,
                rest_s: self.rest_s.unwrap_or(usual.rest_s),
            }
        };
        Prescription { sets: self.works.iter().enumerate().map(set).collect(), relation: self.relation.clone() }
    }
}

/// Most sets that can follow the last one at once, each to its end: a triple drop has three, and nobody does a fourth well. Assumed.
const MOST_EXTENSIONS: usize = 3;

fn refusal(message: String) -> RangeError {
    RangeError::new("text", message)
}

/// Reads a line. The error's path is `text` and its message names the word that cannot be read.
///
/// ```
/// use bavrek_core::dose::notation::read;
/// let line = read("4 x 8-10 @ 3-1-1-0, 2 in reserve, last to failure, rest 90 s").unwrap();
/// assert_eq!((line.rir, line.last_rir, line.rest_s), (Some(2), Some(0), Some(90)));
/// assert_eq!(line.not_stated(), ["load"]);
/// assert!(read("4 x 8-10, with gusto").unwrap_err().message.contains("with gusto"));
/// ```
pub fn read(text: &str) -> Result<Written, RangeError> {
    if text.chars().count() > LONGEST_LINE {
        return Err(refusal(format!("may have at most {LONGEST_LINE} characters")));
    }
    let tidy = text.to_lowercase().replace(['×', '*'], "x").replace(['–', '−', '‑'], "-");
    let mut tidy = tidy.replace('@', ", @");
    // What a load is compared with stands by itself, with a comma before it or without.
    let compared =
        |at: &usize| Relation::read(tidy[at + " at ".len()..].split(',').next().unwrap_or_default().trim()).is_some();
    if let Some(at) = tidy.match_indices(" at ").map(|(at, _)| at).find(compared) {
        tidy.insert(at, ',');
    }
    let mut clauses = tidy.split(',').map(str::trim).filter(|c| !c.is_empty());
    let head = clauses.next().ok_or_else(|| refusal("write a dose such as \"3 x 8-12, 2 in reserve\"".into()))?;
    let a_side = ["a side", "each side", "per side"].iter().any(|words| tidy.contains(words));
    let mut written = Written {
        works: amounts(head)?,
        tempo: None,
        rir: None,
        last_rir: None,
        rest_s: None,
        relation: None,
        steps: Steps::None,
        a_side,
    };
    for clause in clauses {
        written.clause(clause)?;
    }
    let counted = written.works.iter().filter(|work| !work.is_after()).count();
    if let Steps::List(all) = &written.steps
        && all.len() != counted
    {
        return Err(refusal(format!("steps are said of {} sets, and there are {counted}", all.len())));
    }
    if written.works.len() > counted + MOST_EXTENSIONS {
        return Err(refusal(format!("at most {MOST_EXTENSIONS} sets to the end can follow at once")));
    }
    if written.works.is_empty() || written.works.len() > 20 {
        return Err(refusal("must hold 1 to 20 sets".into()));
    }
    written.filled(GAPS).validate().map_err(|e| refusal(e.message))?;
    Ok(written)
}

impl Written {
    fn clause(&mut self, clause: &str) -> Result<(), RangeError> {
        let unread = || refusal(format!("cannot read {clause:?}"));
        let bare = clause.trim_start_matches('@').trim();
        if let Some(relation) = Relation::read(bare.strip_prefix("at ").unwrap_or(bare)) {
            self.relation = Some(relation.map_err(|e| refusal(e.message))?);
            return Ok(());
        }
        if let Some(tempo) = clause.strip_prefix('@') {
            self.tempo = Some(tempo.trim().parse().map_err(|e: RangeError| refusal(e.message))?);
            return Ok(());
        }
        let words: Vec<&str> = clause.split_whitespace().collect();
        match words[..] {
            ["to", "failure"] | ["each", "to", "failure"] => self.rir = Some(0),
            ["last" | "last set", "to", "failure"]
            | ["the", "last", "to", "failure"]
            | ["last", "set", "to", "failure"] => {
                self.last_rir = Some(0);
            }
            [n, "in", "reserve"] | [n, "left"] => self.rir = Some(small(n).ok_or_else(unread)?),
            ["last", n, "in", "reserve"] | ["the", "last", n, "in", "reserve"] => {
                self.last_rir = Some(small(n).ok_or_else(unread)?);
            }
            ["rest", n, "min" | "minutes"] => {
                let minutes = n.parse::<f64>().ok().filter(|m| (0.0..=15.0).contains(m)).ok_or_else(unread)?;
                self.rest_s = Some((60.0 * minutes).round() as u16);
            }
            ["rest", n, "s" | "seconds"] | ["rest", n] => {
                self.rest_s = Some(n.trim_end_matches('s').parse().map_err(|_| unread())?);
            }
            ["tempo", tempo] => self.tempo = Some(tempo.parse().map_err(|e: RangeError| refusal(e.message))?),
            ["lowering" | "lowered", "only"] => self.each(SetKind::LoweringOnly),
            ["as", "an", "extension"] => self.each(SetKind::Extension),
            ["as", "a", "station"] | ["station" | "timed"] => self.each(SetKind::Station),
            ["then", "max"] | ["then", "as", "many", "as", "possible"] => {
                self.works.push(Amount { kind: Some(SetKind::Extension), max: true, ..Amount::default() });
            }
            ["then", "max", ref steps @ ..] => {
                let step = read_steps(steps).ok_or_else(unread)?;
                self.works.push(Amount { kind: Some(SetKind::Extension), max: true, step, ..Amount::default() });
            }
            ["each", ref steps @ ..] if steps.contains(&"step") || steps.contains(&"steps") => {
                self.steps = Steps::Each(read_steps(steps).ok_or_else(unread)?);
            }
            ["last" | "the", ref steps @ ..] if steps.contains(&"step") || steps.contains(&"steps") => {
                let steps = if steps.first() == Some(&"last") { &steps[1..] } else { steps };
                self.steps = Steps::Last(read_steps(steps).ok_or_else(unread)?);
            }
            ["steps", list] => {
                let all: Option<Vec<i8>> = list.split('/').map(|n| n.parse().ok()).collect();
                self.steps = Steps::List(all.ok_or_else(unread)?);
            }
            ["a" | "each" | "per", "side"] => {}
            _ => return Err(unread()),
        }
        Ok(())
    }

    fn each(&mut self, kind: SetKind) {
        for work in &mut self.works {
            work.kind = Some(kind);
        }
    }
}

impl Amount {
    /// Whether it was added after the sets that the head of the line counts.
    fn is_after(&self) -> bool {
        self.kind == Some(SetKind::Extension) && self.max
    }
}

fn small(text: &str) -> Option<u8> {
    text.parse().ok().filter(|n| *n <= 6)
}

/// The head of a line: `4 x 8-10`, `18-9-9-14`, `3 x 45 s`, `3 x max`, `50 in as few sets as possible`, `2 x 4 fast + ...`.
fn amounts(head: &str) -> Result<Vec<Amount>, RangeError> {
    let unread = || refusal(format!("cannot read {head:?}: write it as 3 x 8-12, 3 x 45 s or 18-9-9-14"));
    let head = head.trim_end_matches(" a side").trim_end_matches(" each side").trim_end_matches(" per side");
    if let Some(total) =
        ["in as few sets as possible", "in all", "in total", "total"].iter().find_map(|end| head.strip_suffix(end))
    {
        let total = total.trim().trim_start_matches("1 x").trim().parse().map_err(|_| unread())?;
        return Ok(vec![Amount { kind: Some(SetKind::ToTotal), total: Some(total), ..Amount::default() }]);
    }
    if let Some((count, what)) = head.split_once('x').filter(|(count, _)| count.trim().parse::<usize>().is_ok()) {
        let count: usize = count.trim().parse().map_err(|_| unread())?;
        let amount = amount(what.trim()).ok_or_else(unread)?;
        return Ok(vec![amount; count.min(21)]);
    }
    let numbers: Vec<u16> =
        head.split('-').map(|n| n.trim().parse()).collect::<Result<_, _>>().map_err(|_| unread())?;
    if numbers.len() < 3 {
        return Err(refusal(format!("{head:?}: say how many sets, for example \"3 x {head}\"")));
    }
    let exactly = |n: u16| Amount { reps: Some([n, n]), ..Amount::default() };
    Ok(numbers.into_iter().map(exactly).collect())
}

fn amount(what: &str) -> Option<Amount> {
    if what == "max" || what == "amrap" || what == "as many as possible" {
        return Some(Amount { kind: Some(SetKind::Amrap), max: true, ..Amount::default() });
    }
    if what == "mixed" {
        return Some(Amount { kind: Some(SetKind::Mixed), ..Amount::default() });
    }
    if what.contains('+') {
        let parts = what.split('+').map(|p| part(p.trim())).collect::<Option<Vec<_>>>()?;
        return Some(Amount { kind: Some(SetKind::Mixed), parts, ..Amount::default() });
    }
    if let Some(seconds) = what.strip_suffix("seconds").or_else(|| what.strip_suffix('s')) {
        let seconds = seconds.trim().parse().ok()?;
        return Some(Amount { kind: Some(SetKind::Hold), seconds: Some(seconds), ..Amount::default() });
    }
    let (low, high) = what.split_once('-').unwrap_or((what, what));
    let reps = [low.trim().parse().ok()?, high.trim().parse().ok()?];
    Some(Amount { reps: Some(reps), ..Amount::default() })
}

/// `4 at 1-0-X-0` or `2 held 8 s`.
fn part(text: &str) -> Option<Part> {
    match text.split_whitespace().collect::<Vec<_>>()[..] {
        [reps, "at", tempo] => Some(Part::Reps { reps: reps.parse().ok()?, tempo: tempo.parse().ok()? }),
        [reps, "fast"] => Some(Part::Reps { reps: reps.parse().ok()?, tempo: Tempo::whole(1, 0, None, 0) }),
        [reps, "slow"] => Some(Part::Reps { reps: reps.parse().ok()?, tempo: Tempo::whole(5, 0, Some(4), 0) }),
        [holds, "held", seconds, "s"] => {
            Some(Part::Holds { holds: holds.parse().ok()?, seconds: seconds.parse().ok()? })
        }
        _ => None,
    }
}

/// The parts of a mixed set: `4 at 1-0-X-0 + 2 held 8 s + 3 at 5-0-4-0`.
pub(super) fn parts(parts: &[Part]) -> String {
    parts.iter().map(Part::text).collect::<Vec<_>>().join(" + ")
}

/// The canonical line of a dose. Sets that differ in more than their repetitions are told by the first.
pub fn write(dose: &Prescription, one_side: bool) -> String {
    let Some(first) = dose.sets.first() else { return "no sets".into() };
    line(dose, one_side, Said { tempo: true, rest: true, reserve: first.rir.is_some() })
}

/// What of a dose a line says.
#[derive(Clone, Copy)]
struct Said {
    tempo: bool,
    rest: bool,
    reserve: bool,
}

fn line(dose: &Prescription, one_side: bool, said: Said) -> String {
    let Some(first) = dose.sets.first() else { return "no sets".into() };
    let extends = |s: &&SetPlan| s.kind == SetKind::Extension && first.kind != SetKind::Extension;
    let extensions = dose.sets.iter().rev().take_while(extends).count();
    let (counted, extensions) = dose.sets.split_at(dose.sets.len() - extensions);
    let side = if one_side { " a side" } else { "" };
    // At a station repetitions are done at a tempo, which is told where it is not the usual one.
    let paced = first.kind == SetKind::Station && first.tempo != Tempo::USUAL;
    let timed = !paced && (first.kind == SetKind::Mixed || first.kind.is_timed());
    let tempo = if timed || !said.tempo { String::new() } else { format!(" @ {}", first.tempo) };
    let mut clauses = vec![format!("{}{side}{tempo}", head(counted))];
    match first.kind {
        SetKind::LoweringOnly => clauses.push("lowering only".into()),
        SetKind::Station => clauses.push("as a station".into()),
        SetKind::Extension => clauses.push("as an extension".into()),
        _ => {}
    }
    let in_reserve = |rir: u8| if rir == 0 { "to failure".to_owned() } else { format!("{rir} in reserve") };
    clauses.extend(first.rir.filter(|_| said.reserve && first.kind != SetKind::Amrap).map(in_reserve));
    let last = counted.last().and_then(|s| s.rir).filter(|r| first.rir.is_some_and(|f| f != *r));
    clauses.extend(last.map(|rir| format!("last {}", in_reserve(rir))));
    let steps: Vec<i8> = counted.iter().map(|s| s.step).collect();
    clauses.extend(Steps::from_list(&steps).text());
    let mut before = steps.last().copied().unwrap_or(0);
    for extension in extensions {
        let by = extension.step.saturating_sub(before);
        clauses.push(if by == 0 { "then max".to_owned() } else { format!("then max {}", steps_text(by, WAYS)) });
        before = extension.step;
    }
    clauses.extend(dose.relation.as_ref().map(Relation::text));
    clauses.extend(said.rest.then(|| format!("rest {} s", first.rest_s)));
    clauses.join(", ")
}

fn head(sets: &[SetPlan]) -> String {
    let Some(first) = sets.first() else { return "no sets".into() };
    if first.kind == SetKind::ToTotal {
        return first.amount();
    }
    let alike = sets.iter().all(|s| s.amount() == first.amount());
    let exact = sets.iter().all(|s| s.reps.is_some_and(|[a, b]| a == b));
    if !alike && exact && sets.len() > 2 {
        return sets.iter().map(SetPlan::amount).collect::<Vec<_>>().join("-");
    }
    format!("{} × {}", sets.len(), first.amount())
}

impl SetPlan {
    /// What is asked, without tempo, reserve and rest: `8–12`, `45 s`, `max`, `50 in all`.
    pub fn amount(&self) -> String {
        match (self.kind, self.reps, self.seconds) {
            (SetKind::Mixed, ..) => parts(self.mix()),
            (SetKind::ToTotal, ..) => format!("{} in all", self.total.unwrap_or(0)),
            (kind, _, Some(s)) if kind.is_timed() => format!("{s} s"),
            (_, Some([a, b]), _) if a == b => a.to_string(),
            (_, Some([a, b]), _) => format!("{a}–{b}"),
            (_, None, Some(s)) => format!("{s} s"),
            (_, None, None) => "max".into(),
        }
    }
}

impl Prescription {
    /// For example `3 × 8–12 @ 2-0-1-0, 2 in reserve, rest 90 s`; [`read`] reads it.
    pub fn text(&self) -> String {
        write(self, false)
    }

    /// The same for one side at a time: `3 × 8–12 a side @ 2-0-1-0, 2 in reserve, ...`.
    pub fn text_a_side(&self) -> String {
        write(self, true)
    }
}
