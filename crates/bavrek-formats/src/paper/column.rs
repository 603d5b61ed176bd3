//! What stays together on a page: texts that wrap, rules, boxes to write in, drawings, laid from the top down.

use super::letters::{Measure, Run};

/// What a part of a page is, for those who have it read to them.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum Role {
    /// The heading of a workout or booklet.
    Title(String),
    /// The heading of a movement.
    Heading(String),
    /// Text.
    Text,
    /// One of a list.
    Item,
    /// A drawing, with what it shows.
    Figure(String),
}

/// How a text looks.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Look {
    pub(super) size: f32,
    pub(super) soft: bool,
}

/// Text that is bold or not.
pub(super) type Span<'t> = (bool, &'t str);

/// What is drawn; places are points from the column's top left.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum Ink {
    Text { at: [f32; 2], look: Look, bold: bool, run: Run },
    Rule { at: [f32; 2], width: f32, thick: f32 },
    Frame { at: [f32; 2], size: [f32; 2] },
    Drawing { at: [f32; 2], size: [f32; 2], svg: String },
}

impl Ink {
    /// Its lower end.
    pub(super) const fn bottom(&self) -> f32 {
        match self {
            Self::Text { at, look, .. } => at[1] + 0.3 * look.size,
            Self::Rule { at, thick, .. } => at[1] + *thick,
            Self::Frame { at, size } | Self::Drawing { at, size, .. } => at[1] + size[1],
        }
    }

    /// The same further down.
    pub(super) const fn lowered(mut self, by: f32) -> Self {
        match &mut self {
            Self::Text { at, .. } | Self::Rule { at, .. } | Self::Frame { at, .. } | Self::Drawing { at, .. } => {
                at[1] += by;
            }
        }
        self
    }
}

/// Parts in reading order, each with its ink; what is decoration has no role.
#[derive(Debug, Clone, PartialEq, Default)]
pub(super) struct Column {
    pub(super) parts: Vec<(Option<Role>, Vec<Ink>)>,
    /// How far down it reaches.
    pub(super) y: f32,
}

/// From one line to the next, in sizes.
const LEADING: f32 = 1.22;
/// From the top of a line to where its letters stand, in sizes.
const ASCENT: f32 = 0.93;

/// A word, and whether space goes before it.
struct Word<'t> {
    bold: bool,
    text: &'t str,
    width: f32,
    apart: bool,
}

impl Column {
    /// Goes further down.
    pub(super) const fn skip(&mut self, by: f32) {
        self.y += by;
    }

    /// A text in a width from a left edge; goes down by its lines.
    pub(super) fn text(
        &mut self,
        role: Role,
        [left, width]: [f32; 2],
        look: Look,
        spans: &[Span<'_>],
        measure: &mut Measure<'_>,
    ) {
        let lines = lines(spans, width / look.size, measure);
        let mut ink = Vec::new();
        for line in lines {
            let mut x = left;
            for (bold, text) in line {
                for run in measure.runs(&text) {
                    let advance = measure.width(&run, bold) * look.size;
                    ink.push(Ink::Text { at: [x, self.y + ASCENT * look.size], look, bold, run });
                    x += advance;
                }
            }
            self.y += LEADING * look.size;
        }
        if !ink.is_empty() {
            self.parts.push((Some(role), ink));
        }
    }

    /// A text and another beside it on the same line, where both fit; else below it.
    pub(super) fn pair(
        &mut self,
        [left, width]: [f32; 2],
        (role, look, text): (Role, Look, &str),
        (other_role, other, beside): (Role, Look, &str),
        bold: bool,
        measure: &mut Measure<'_>,
    ) {
        let mut wide = |text: &str, bold: bool, size: f32| {
            text.split_inclusive(' ').map(|word| measure.word(word, bold)).sum::<f32>() * size
        };
        let (taken, needed) = (wide(text, true, look.size) + 0.8 * look.size, wide(beside, bold, other.size));
        let top = self.y;
        self.text(role, [left, width], look, &[(true, text)], measure);
        if taken + needed > width {
            self.text(other_role, [left, width], other, &[(bold, beside)], measure);
            return;
        }
        let bottom = self.y;
        self.y = top + ASCENT * (look.size - other.size);
        self.text(other_role, [left + taken, width], other, &[(bold, beside)], measure);
        self.y = bottom;
    }

    /// A line across.
    pub(super) fn rule(&mut self, left: f32, width: f32, thick: f32) {
        self.parts.push((None, vec![Ink::Rule { at: [left, self.y], width, thick }]));
    }

    /// A word with a line to write on, on the line that is next.
    pub(super) fn blank(&mut self, label: &str, [left, width]: [f32; 2], look: Look, measure: &mut Measure<'_>) {
        let y = self.y;
        self.text(Role::Text, [left, width], look, &[(false, label)], measure);
        let taken = measure.word(label, false) * look.size + 4.0;
        let line = Ink::Rule { at: [left + taken, y + LEADING * look.size], width: width - taken - 8.0, thick: 0.6 };
        self.parts.push((None, vec![line]));
        self.y = y;
    }

    /// A frame; does not go down.
    pub(super) fn frame(&mut self, left: f32, size: [f32; 2]) {
        self.parts.push((None, vec![Ink::Frame { at: [left, self.y], size }]));
    }

    /// A drawing; does not go down.
    pub(super) fn drawing(&mut self, left: f32, size: [f32; 2], (svg, shows): (&str, &str)) {
        let ink = Ink::Drawing { at: [left, self.y], size, svg: svg.to_owned() };
        self.parts.push((Some(Role::Figure(shows.to_owned())), vec![ink]));
    }
}

/// A word in parts that are no wider than a width in sizes: of a word nearly all there is is one.
fn parts<'t>(word: &'t str, bold: bool, width: f32, measure: &mut Measure<'_>) -> Vec<&'t str> {
    if measure.word(word, bold) <= width {
        return vec![word];
    }
    let (mut parts, mut from, mut filled) = (Vec::new(), 0, 0.0);
    for (at, letter) in word.char_indices() {
        let wide = measure.word(letter.encode_utf8(&mut [0; 4]), bold);
        if at > from && filled + wide > width {
            parts.push(&word[from..at]);
            (from, filled) = (at, 0.0);
        }
        filled += wide;
    }
    parts.push(&word[from..]);
    parts
}

/// Breaks spans into lines no wider than a width in sizes.
fn lines(spans: &[Span<'_>], width: f32, measure: &mut Measure<'_>) -> Vec<Vec<(bool, String)>> {
    let mut words: Vec<Word<'_>> = Vec::new();
    let mut apart = false;
    for (bold, text) in spans {
        apart |= text.starts_with(char::is_whitespace);
        for (nth, word) in text.split_whitespace().enumerate() {
            apart |= nth > 0;
            for part in parts(word, *bold, width, measure) {
                words.push(Word { bold: *bold, text: part, width: measure.word(part, *bold), apart });
                apart = false;
            }
        }
        apart |= text.ends_with(char::is_whitespace);
    }
    let space = measure.word(" ", false);
    let mut lines: Vec<Vec<(bool, String)>> = Vec::new();
    let mut filled = f32::INFINITY;
    for word in words {
        let gap = if word.apart { space } else { 0.0 };
        if filled + gap + word.width > width {
            lines.push(vec![(word.bold, word.text.to_owned())]);
            filled = word.width;
            continue;
        }
        filled += gap + word.width;
        let Some(line) = lines.last_mut() else { continue };
        let between = if word.apart { " " } else { "" };
        match line.last_mut() {
            Some((bold, text)) if *bold == word.bold => {
                text.push_str(between);
                text.push_str(word.text);
            }
            Some((_, text)) => {
                // The space stays with what is before it: a reader of the page hears two words.
                text.push_str(between);
                line.push((word.bold, word.text.to_owned()));
            }
            None => {}
        }
    }
    lines
}
