//! What a written line says of sets, repetitions, loads, tempo and rests, in the many ways people write them.

use std::sync::LazyLock;

use regex::{Captures, Regex};

use crate::dose::notation::{self, Written};
use crate::dose::{MOST_STEPS, PerHand, Relation};
use crate::units::{MassUnit, trim_number};

/// A load as it was written.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum WrittenLoad {
    /// On a weight.
    Stamped(Stamp),
    /// Added to the body.
    Added(Stamp),
    /// A share of the maximum, percent.
    OfMaximum(u8),
    /// The body alone.
    Body,
}

/// What stands on a weight, as it was written.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Stamp {
    /// The figure.
    pub value: f64,
    /// Its unit.
    pub unit: MassUnit,
    /// Each hand or in total; none where that is not stated.
    pub per: Option<PerHand>,
}

impl Stamp {
    fn text(&self) -> String {
        let per = self.per.map_or_else(String::new, |per| format!(" {per}"));
        format!("{} {}{per}", trim_number(self.value, 2), self.unit.symbol())
    }
}

impl WrittenLoad {
    /// In words.
    pub fn text(&self) -> String {
        match self {
            Self::Stamped(load) => load.text(),
            Self::Added(load) => format!("{} added", load.text()),
            Self::OfMaximum(percent) => format!("{percent} % of the maximum"),
            Self::Body => "body weight".to_owned(),
        }
    }
}

/// What of a line was understood, and what is left of it.
#[derive(Debug, Clone, PartialEq, Default)]
pub(super) struct Amounts {
    pub(super) sets: Option<u16>,
    /// The head of a dose without the number of sets: `8-10`, `45 s`, `max`; or the whole of it: `12-10-8`.
    pub(super) work: Option<Work>,
    pub(super) tempo: Option<String>,
    pub(super) rest_s: Option<u16>,
    pub(super) rir: Option<u8>,
    pub(super) last_to_failure: bool,
    pub(super) lowering_only: bool,
    pub(super) a_side: bool,
    pub(super) load: Option<WrittenLoad>,
    /// The least and the most of a share of the maximum, percent.
    shares: Option<[u8; 2]>,
    /// How the loads of its sets lie to each other.
    shape: Shape,
    /// What was understood otherwise than it stands there.
    pub(super) remarks: Vec<String>,
    /// The line without all that, its parts divided by `|`.
    pub(super) left: String,
}

/// How the loads of a line's sets lie to each other, as it is written.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
struct Shape {
    /// Whether each set is done on a step above the one before it, or below it where false.
    rising: Option<bool>,
    /// How often the last set goes on at once with less.
    drops: usize,
}

/// What one set is made of, as it is written in a dose.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum Work {
    /// Of every set.
    Each(String),
    /// All sets one by one.
    OneByOne(Vec<u16>),
    /// A total over as many sets as it takes.
    Total(u16),
}

macro_rules! patterns {
    ($($name:ident = $text:expr;)*) => {
        $(static $name: LazyLock<Regex> = LazyLock::new(|| Regex::new($text).expect("a pattern of this file"));)*
    };
}

patterns! {
    TEMPO = r"(?:@\s*)?\btempo\s*:?\s*@?\s*(\d(?:\.5)?[-/. ]?\d(?:\.5)?[-/. ]?[\dx](?:\.5)?(?:[-/. ]?[\dx](?:\.5)?)?)\b|@\s*(\d[-/]\d[-/][\dx](?:[-/][\dx])?|[1-9]\d[\dx][\dx])(?:\s+tempo)?\b|\b(\d[-/]\d[-/][\dx][-/][\dx])(?:\s+tempo)?\b";
    REST_MINUTES = r"(?:\brest(?:ing)?\b|\bpause\b|\br\s*:)\s*(?:of|for|:|=|-)?\s*(\d+)\s*:\s*(\d\d)\b|\b(\d+):(\d\d)\s*rest\b";
    REST = r#"(?:\brest(?:ing)?\b|\bpause\b|\br\s*:)\s*(?:of|for|:|=|-)?\s*(\d+(?:[.,]\d+)?)(?:\s*(?:-|to)\s*(\d+(?:[.,]\d+)?))?\s*(s|sec|secs|seconds|"|min|mins|minutes|minute|m|')?(?:\s+(?:between|after|per|each)\b[a-z ]*)?(?:[^\w]|$)|\b(\d+(?:[.,]\d+)?)(?:\s*(?:-|to)\s*(\d+(?:[.,]\d+)?))?\s*(s|sec|secs|seconds|"|min|mins|minutes|minute|m|')\s*(?:of\s+)?(?:rest|off)\b(?:\s+(?:between|after|per|each)\b[a-z ]*)?"#;
    RPE = r"@?\s*\brpe\s*:?\s*(\d{1,2}(?:[.,]5)?)(?:\s*(?:-|to)\s*(\d{1,2}(?:[.,]5)?))?";
    AT = r"@\s*(\d{1,3}(?:[.,]\d+)?)(?:\s*-\s*(\d{1,2}))?\s*(%|kg|kgs|lb|lbs|s\b)?";
    RIR = r"\b(\d)(?:\s*(?:-|to)\s*(\d))?\s*(?:rir|reps? in reserve|in reserve|reps? in the tank|in the tank|reps? left)\b|\brir\s*:?\s*(\d)(?:\s*(?:-|to)\s*(\d))?";
    LAST_FAILURE = r"\b(?:the\s+)?last\s+(?:set\s+)?(?:(?:to|till|until)\s+(?:technical\s+)?failure|amrap|max(?:imum)?(?:\s+reps?)?)\b";
    EACH_MAX = r"\b(\d{1,2})(?:\s*-\s*(\d{1,2}))?\s*(?:x|sets?)?\s*(?:x|of|to|:|till|until)?\s*(?:amrap|max(?:imum)?(?:\s+reps?)?|as many as possible|(?:to\s+)?(?:technical\s+)?failure)\b";
    MAX = r"\bamrap\b|\bmax(?:imum)? reps?\b|\bas many (?:reps? )?as possible\b";
    FAILURE = r"\b(?:each\s+)?(?:to|till|until)\s+(?:technical\s+)?failure\b";
    PERCENT = r"@?\s*\b(?:(\d{2,3})\s*%?\s*(?:-|to)\s*)?(\d{2,3})\s*%(?:\s*(?:of\s+)?(?:1\s*rm|e1rm|max(?:imum)?))?";
    FULL = r"\b(\d{1,2})\s*x\s*(\d{1,3}(?:\s*-\s*\d{1,3})?)\s*(?:x|@)\s*(\d+(?:[.,]\d+)?)\s*(kgs?|kilos?|lbs?|pounds)\b";
    ADDED = r"(?:^|[\s(])\+\s*(\d+(?:[.,]\d+)?)\s*(kgs?|kilos?|lbs?|pounds|#)?(?:[^\w]|$)";
    PAIR = r"\b2\s*x\s*(\d+(?:[.,]\d+)?)\s*(kgs?|kilos?|lbs?|pounds)\b(?:\s*(?:dumbbells?|dbs?))?";
    LOAD = r"@?\s*\b(\d+(?:[.,]\d+)?)\s*(kgs?|kilos?|lbs?|pounds|#)(?:\s*(each hand|per hand|a hand|each|/hand|/side|dumbbells?|dbs?|total|in total))?";
    BODY = r"\b(?:bw|body\s*weight(?: only)?)\b";
    TIMED = r#"\b(\d{1,2})\s*(?:sets?\s*(?:x|of|:|,|-)?|x|:|,)\s*(\d{1,3})(?:\s*(?:-|to)\s*(\d{1,3}))?\s*(s|sec|secs|second|seconds|"|min|mins|minute|minutes)(?:[^\w]|$)(?:\s*(?:hold|holds|on|work)\b)?"#;
    STATION = r#"\b(\d{1,3})\s*(s|sec|secs|second|seconds|")?\s*(?:on|work)\s*[/,]?\s*(\d{1,3})\s*(?:s|sec|secs|second|seconds|")?\s*(?:off|rest)\b"#;
    LONE_TIME = r#"\b(\d{1,3})\s*(s|sec|secs|second|seconds|"|min|mins|minute|minutes)(?:[^\w]|$)(?:\s*(?:hold|holds)\b)?"#;
    LIST = r"\b(\d{1,3})\s*([/,-])\s*(\d{1,3})(?:\s*[/,-]\s*\d{1,3})+(?:\s*reps?)?\b";
    TOTAL = r"\b(\d{1,3})\s*(?:reps?\s*)?(?:in total|total(?:\s+reps?)?|in as few sets as possible|altogether)\b|\btotal\s*(?:of|:)?\s*(\d{1,3})\s*reps?\b";
    REVERSED = r"\b(\d{1,3})(?:\s*(?:-|to)\s*(\d{1,3}))?\s*(?:reps?|repetitions)\s*(?:x|for|,|by|-)?\s*(\d{1,2})\s*(?:sets?|rounds?)\b";
    SETS_OF = r"\b(\d{1,2})(?:\s*(?:-|to)\s*(\d{1,2}))?\s*(?:sets?|rounds?)\s*(?:x|of|,|:|-|@|for)?\s*(\d{1,3})(?:\s*(?:-|to)\s*(\d{1,3}))?(?:\s*(?:reps?|repetitions)\b)?";
    TIMES = r"\b(\d{1,2})(?:\s*-\s*(\d{1,2}))?\s*x\s*(\d{1,3})(?:\s*(?:-|to)\s*(\d{1,3}))?(?:\s*(?:reps?|repetitions)\b)?";
    LONE_REPS = r"\b(?:x\s*)?(\d{1,3})(?:\s*(?:-|to)\s*(\d{1,3}))?\s*(?:reps?|repetitions)\b|\bx\s*(\d{1,3})(?:\s*-\s*(\d{1,3}))?\b";
    LONE_SETS = r"\b(\d{1,2})(?:\s*-\s*(\d{1,2}))?\s*(?:sets?|rounds?)\b|\b(?:sets?|rounds?)\s*:?\s*(\d{1,2})\b|\bx\s*(\d{1,2})\s*(?:sets?|rounds?)\b";
    SIDE = r"(?:\b(?:each|per|a|every)\s+(?:side|arm|hand)\b|/\s*(?:side|arm)\b|\be/s\b|\bp/s\b|\bea\.?(?:[^\w]|$))";
    LOWERING = r"\b(?:lowering|eccentrics?|negatives?) only\b|\blowered only\b";
    RISING = r"\b(?:add(?:ing)?|increas(?:e|ing)|rais(?:e|ing))\s+(?:the\s+)?(?:weight|load)\s+(?:each|every|per)\s+set\b|\bheavier\s+(?:each|every)\s+set\b|\bascending(?:\s+sets)?\b|\bpyramid(?:\s+up)?\s*(?:[|,;.)]|$)";
    FALLING = r"\breverse\s+pyramid\b|\bpyramid\s+down\b|\b(?:decreas(?:e|ing)|reduc(?:e|ing)|drop(?:ping)?|lower(?:ing)?)\s+(?:the\s+)?(?:weight|load)\s+(?:each|every|per)\s+set\b|\blighter\s+(?:each|every)\s+set\b|\bdescending(?:\s+sets)?\b";
    DROPPED = r"(?:\b(?:then|with|plus|and|last\s+set|final\s+set)\s*:?\s*(?:is\s+|as\s+)?(?:a\s+)?|\+\s*)(double\s+|triple\s+)?drop\s*-?\s*set\b|\b(double\s+|triple\s+)?drop\s*-?\s*set\s+(?:on|after|at)\s+(?:the\s+)?(?:last|final)(?:\s+set)?\b";
    SPACE = r"\s+";
}

fn number(text: &str) -> Option<f64> {
    text.replace(',', ".").parse().ok()
}

fn whole(found: &Captures<'_>, group: usize) -> Option<u16> {
    found.get(group)?.as_str().trim().parse().ok()
}

fn unit(text: &str) -> MassUnit {
    if text.starts_with('k') { MassUnit::Kg } else { MassUnit::Lb }
}

/// `8-10`, or `8` where both ends are one.
fn range(low: u16, high: Option<u16>) -> String {
    high.filter(|h| *h != low).map_or_else(|| low.to_string(), |high| format!("{}-{}", low.min(high), low.max(high)))
}

const fn is_minutes(unit: &str) -> bool {
    matches!(unit.as_bytes().first(), Some(b'm' | b'\''))
}

impl Amounts {
    /// Reads what it can of a line in lower case.
    pub(super) fn of(line: &str) -> Self {
        let mut amounts =
            Self { left: line.replace(['×', '*'], "x").replace(['–', '—', '−', '‑'], "-"), ..Self::default() };
        amounts.tempo();
        amounts.rests();
        amounts.totals();
        amounts.dropped();
        amounts.effort();
        amounts.loads();
        amounts.sets_and_reps();
        amounts.steps();
        amounts.rest_of_it();
        amounts
    }

    /// Takes the first find out of the line; what is left is divided there.
    fn cut(&mut self, pattern: &Regex, mut read: impl FnMut(&mut Self, &Captures<'_>)) {
        let line = self.left.clone();
        if let Some(found) = pattern.captures(&line) {
            let whole = found.get_match();
            self.left = format!("{} | {}", &line[..whole.start()], &line[whole.end()..]);
            read(self, &found);
        }
    }

    fn tempo(&mut self) {
        self.cut(&TEMPO, |it, found| {
            let text = (1..=3).find_map(|g| found.get(g)).map_or("", |m| m.as_str());
            let counts: Vec<String> = if text.contains(['-', '/', ' ']) {
                text.split(['-', '/', ' ']).map(str::to_uppercase).collect()
            } else {
                text.chars().filter(|c| *c != '.').map(|c| c.to_uppercase().to_string()).collect()
            };
            // Three counts leave out the pause at the top.
            let top = (counts.len() == 3).then(|| "0".to_owned());
            it.tempo = Some(counts.into_iter().chain(top).collect::<Vec<_>>().join("-"));
        });
    }

    fn rests(&mut self) {
        self.cut(&STATION, |it, found| {
            it.work = whole(found, 1).map(|s| Work::Each(format!("{s} s")));
            it.rest_s = whole(found, 3);
        });
        if self.rest_s.is_none() {
            self.cut(&REST_MINUTES, |it, found| {
                let minutes = whole(found, 1).or_else(|| whole(found, 3)).unwrap_or(0);
                let seconds = whole(found, 2).or_else(|| whole(found, 4)).unwrap_or(0);
                it.rest_s = Some(60 * minutes + seconds);
            });
        }
        if self.rest_s.is_none() {
            self.cut(&REST, |it, found| {
                let at = if found.get(1).is_some() { 1 } else { 4 };
                let value = |group: usize| found.get(group).and_then(|m| number(m.as_str()));
                let Some(low) = value(at) else { return };
                let unit = found.get(at + 2).map_or("", |m| m.as_str());
                // A bare figure up to ten is minutes: nobody rests for two seconds.
                let scale = if is_minutes(unit) || (unit.is_empty() && low <= 10.0) { 60.0 } else { 1.0 };
                let high = value(at + 1).unwrap_or(low);
                if high > low {
                    it.remarks.push(format!("rest {low} to {high} written, its middle taken"));
                }
                it.rest_s = Some((0.5 * (low + high) * scale).round() as u16);
            });
        }
    }

    fn totals(&mut self) {
        if self.work.is_none() {
            self.cut(&TOTAL, |it, found| {
                it.work = whole(found, 1).or_else(|| whole(found, 2)).map(Work::Total);
            });
        }
    }

    /// How the loads lie to each other, once the figures are out of the way: what a pyramid is said of may be a movement.
    fn steps(&mut self) {
        self.cut(&FALLING, |it, _| it.shape.rising = Some(false));
        if self.shape.rising.is_none() {
            self.cut(&RISING, |it, _| it.shape.rising = Some(true));
        }
    }

    fn dropped(&mut self) {
        self.cut(&DROPPED, |it, found| {
            let times = found.get(1).or_else(|| found.get(2)).map(|times| times.as_str().trim().to_lowercase());
            it.shape.drops = match times.as_deref() {
                Some("double") => 2,
                Some("triple") => 3,
                _ => 1,
            };
        });
    }

    fn effort(&mut self) {
        self.cut(&LAST_FAILURE, |it, _| it.last_to_failure = true);
        self.cut(&RIR, |it, found| {
            let at = if found.get(1).is_some() { 1 } else { 3 };
            let (low, high) = (whole(found, at), whole(found, at + 1));
            it.reserve(low, high);
        });
        if self.rir.is_none() {
            self.cut(&RPE, |it, found| it.exertion(found, 1));
        }
        if self.work.is_none() {
            self.cut(&EACH_MAX, |it, found| {
                it.set_count(whole(found, 1), whole(found, 2));
                it.work = Some(Work::Each("max".into()));
            });
        }
        if self.work.is_none() {
            self.cut(&MAX, |it, _| it.work = Some(Work::Each("max".into())));
        }
        if self.rir.is_none() {
            self.cut(&FAILURE, |it, _| it.rir = Some(0));
        }
    }

    fn reserve(&mut self, low: Option<u16>, high: Option<u16>) {
        let most = low.max(high);
        if high.is_some_and(|h| Some(h) != low) {
            self.remarks.push(format!(
                "{} to {} in reserve written, {} taken",
                low.unwrap_or(0),
                high.unwrap_or(0),
                most.unwrap_or(0)
            ));
        }
        self.rir = most.map(|r| r.min(6) as u8);
    }

    /// Exertion of ten as repetitions in reserve: what is left up to ten, a half counted as kept.
    fn exertion(&mut self, found: &Captures<'_>, group: usize) {
        let value = |g: usize| found.get(g).and_then(|m| number(m.as_str())).filter(|v| *v <= 10.0);
        let least = value(group).map(|a| value(group + 1).map_or(a, |b| a.min(b)));
        if let Some(exertion) = least {
            self.rir = Some((10.0 - exertion).ceil().clamp(0.0, 6.0) as u8);
            self.remarks.push(format!("exertion {exertion} of 10 read as {} in reserve", self.rir.unwrap_or(0)));
        }
    }

    fn loads(&mut self) {
        self.cut(&PERCENT, |it, found| {
            let share = |group: usize| whole(found, group).filter(|p| (10..=150).contains(p)).map(|p| p as u8);
            let Some(most) = share(2) else { return };
            let least = share(1).unwrap_or(most);
            it.shares = Some([least.min(most), least.max(most)]);
            it.load = Some(WrittenLoad::OfMaximum(least.min(most)));
        });
        let stamped = |text: &str, of: &str, per| number(text).map(|value| Stamp { value, unit: unit(of), per });
        if self.load.is_none() {
            self.cut(&FULL, |it, found| {
                it.sets = whole(found, 1);
                it.work = Some(Work::Each(found[2].replace(' ', "")));
                it.load = stamped(&found[3], &found[4], None).map(WrittenLoad::Stamped);
            });
        }
        if self.load.is_none() {
            self.cut(&ADDED, |it, found| {
                let of = found.get(2).map_or("kg", |m| m.as_str());
                if found.get(2).is_none() {
                    it.remarks.push(format!("{} without a unit read as kg", &found[1]));
                }
                it.load = stamped(&found[1], of, None).map(WrittenLoad::Added);
            });
        }
        if self.load.is_none() {
            self.cut(&PAIR, |it, found| {
                it.load = stamped(&found[1], &found[2], Some(PerHand::Hand)).map(WrittenLoad::Stamped);
            });
        }
        if self.load.is_none() {
            self.cut(&LOAD, |it, found| {
                let per = found.get(3).map(|m| m.as_str().contains("total"));
                let per = per.map(|total| if total { PerHand::Total } else { PerHand::Hand });
                it.load = stamped(&found[1], &found[2], per).map(WrittenLoad::Stamped);
            });
        }
        if self.load.is_none() {
            self.cut(&BODY, |it, _| it.load = Some(WrittenLoad::Body));
        }
    }

    fn sets_and_reps(&mut self) {
        if self.work.is_none() {
            self.cut(&TIMED, |it, found| {
                it.sets = whole(found, 1);
                it.seconds(found, 2);
            });
        }
        if self.work.is_none() {
            let listed = LIST.find(&self.left).map(|m| m.as_str().to_owned());
            self.cut(&LIST, |it, _| {
                let text = listed.as_deref().unwrap_or_default().replace("reps", "").replace("rep", "");
                let figures: Vec<u16> = text.split(['/', ',', '-']).filter_map(|n| n.trim().parse().ok()).collect();
                it.work = Some(Work::OneByOne(figures));
            });
        }
        if self.work.is_none() {
            self.cut(&REVERSED, |it, found| {
                it.work = whole(found, 1).map(|low| Work::Each(range(low, whole(found, 2))));
                it.sets = whole(found, 3);
            });
        }
        for pattern in [&*SETS_OF, &*TIMES] {
            if self.work.is_none() {
                self.cut(pattern, |it, found| {
                    it.set_count(whole(found, 1), whole(found, 2));
                    it.work = whole(found, 3).map(|low| Work::Each(range(low, whole(found, 4))));
                });
            }
        }
        if self.sets.is_none() {
            self.cut(&LONE_SETS, |it, found| {
                it.set_count(whole(found, 1).or_else(|| whole(found, 3)).or_else(|| whole(found, 4)), whole(found, 2));
            });
        }
        if self.work.is_none() {
            self.cut(&LONE_TIME, Self::lone_seconds);
        }
        if self.work.is_none() {
            self.cut(&LONE_REPS, |it, found| {
                let at = if found.get(1).is_some() { 1 } else { 3 };
                it.work = whole(found, at).map(|low| Work::Each(range(low, whole(found, at + 1))));
            });
        }
        // What stands after an @ by itself is exertion up to ten.
        if self.rir.is_none() {
            self.cut(&AT, |it, found| {
                let bare = found.get(3).is_none() && number(&found[1]).is_some_and(|v| (5.0..=10.0).contains(&v));
                if bare {
                    it.exertion(found, 1);
                } else {
                    it.remarks.push(format!("{:?} was not understood", found[0].trim()));
                }
            });
        }
    }

    fn set_count(&mut self, least: Option<u16>, most: Option<u16>) {
        self.sets = least;
        if let (Some(least), Some(most)) = (least, most)
            && least != most
        {
            self.remarks.push(format!("{least} to {most} sets written, {least} taken"));
        }
    }

    fn seconds(&mut self, found: &Captures<'_>, group: usize) {
        let scale = if is_minutes(&found[group + 2]) { 60 } else { 1 };
        if let (Some(low), Some(high)) = (whole(found, group), whole(found, group + 1))
            && low != high
        {
            self.remarks.push(format!("{low} to {high} written, {low} taken"));
        }
        self.work = whole(found, group).map(|s| Work::Each(format!("{} s", s * scale)));
    }

    fn lone_seconds(&mut self, found: &Captures<'_>) {
        let scale = if is_minutes(&found[2]) { 60 } else { 1 };
        self.work = whole(found, 1).map(|s| Work::Each(format!("{} s", s * scale)));
    }

    fn rest_of_it(&mut self) {
        self.cut(&SIDE, |it, _| it.a_side = true);
        self.cut(&LOWERING, |it, _| it.lowering_only = true);
        self.left = SPACE.replace_all(&self.left, " ").into_owned();
    }

    /// Whether anything of a dose was found.
    pub(super) const fn any(&self) -> bool {
        self.sets.is_some() || self.work.is_some()
    }

    /// The load as a share of the maximum, where it can be asked so.
    fn relation(&self) -> Option<Relation> {
        Relation::of_maximum(self.shares?).ok()
    }

    /// How the sets lie to each other, where that can be said of so many.
    fn steps_text(&self, sets: usize) -> Option<&'static str> {
        let said = if self.shape.rising? { "each a step up" } else { "each a step down" };
        ((2..=usize::from(MOST_STEPS.unsigned_abs()) + 1).contains(&sets)).then_some(said)
    }

    /// The dose; none where the sets or what is done in them are not stated. What cannot be is told among the remarks.
    pub(super) fn dose(&mut self) -> Option<Written> {
        let head = match (&self.work, self.sets) {
            (Some(Work::Each(work)), Some(sets)) => format!("{sets} x {work}"),
            (Some(Work::OneByOne(figures)), sets) => {
                if sets.is_some_and(|n| usize::from(n) != figures.len()) {
                    self.remarks.push(format!("{} figures for {} sets", figures.len(), sets.unwrap_or(0)));
                }
                match figures[..] {
                    [a, b] => format!("2 x {}", range(a, Some(b))),
                    _ => figures.iter().map(u16::to_string).collect::<Vec<_>>().join("-"),
                }
            }
            (Some(Work::Total(total)), _) => format!("{total} in as few sets as possible"),
            _ => return None,
        };
        let side = if self.a_side { " a side" } else { "" };
        let mut clauses = vec![format!("{head}{side}")];
        clauses.extend(self.tempo.as_ref().map(|t| format!("@ {t}")));
        clauses.extend(self.rir.map(|r| if r == 0 { "to failure".to_owned() } else { format!("{r} in reserve") }));
        clauses.extend(self.last_to_failure.then(|| "last to failure".to_owned()));
        clauses.extend(self.lowering_only.then(|| "lowering only".to_owned()));
        clauses.extend(self.relation().map(|relation| relation.text()));
        let counted = match (&self.work, self.sets) {
            (Some(Work::OneByOne(figures)), _) => figures.len(),
            (_, sets) => sets.map_or(0, usize::from),
        };
        clauses.extend(self.steps_text(counted).map(str::to_owned));
        clauses.extend(std::iter::repeat_n("then max a step down".to_owned(), self.shape.drops));
        clauses.extend(self.rest_s.map(|s| format!("rest {s} s")));
        match notation::read(&clauses.join(", ")) {
            Ok(dose) => Some(dose),
            Err(error) => {
                self.remarks.push(format!("{head}: {}", error.message));
                None
            }
        }
    }
}
