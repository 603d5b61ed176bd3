//! Dumbbells told in one line, as people say them: `5, 8, 12 kg pairs and a single 20`.

use super::{Dumbbells, KitItem};
use crate::quantity::numbers;
use crate::ranges::{self, RangeError};
use crate::units::{MassUnit, trim_number};

/// Longest line that is read, characters.
pub const LONGEST_LINE: usize = 500;

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Count {
    Pair,
    Single,
}

/// Words between the figures: what they say.
enum Word {
    /// A count, and whether it is said of many.
    Count(Count, bool),
    Unit(MassUnit),
    /// `and`, `a`, `of`, `each`.
    Filler,
}

fn word(text: &str) -> Option<Word> {
    Some(match text {
        "pair" => Word::Count(Count::Pair, false),
        "pairs" | "both" => Word::Count(Count::Pair, true),
        "single" => Word::Count(Count::Single, false),
        "singles" => Word::Count(Count::Single, true),
        "kg" | "kgs" | "kilo" | "kilos" | "kilogram" | "kilograms" => Word::Unit(MassUnit::Kg),
        "lb" | "lbs" | "pound" | "pounds" => Word::Unit(MassUnit::Lb),
        "and" | "a" | "an" | "of" | "each" | "one" | "in" | "at" | "the" | "dumbbell" | "dumbbells" | "plus" | "&"
        | "+" => Word::Filler,
        _ => return None,
    })
}

fn is_figure(token: &str) -> bool {
    token.starts_with(|c: char| c.is_ascii_digit() || c == '-' || c == '.')
}

/// A weight with what has been said of it so far.
struct Figure {
    value: f64,
    count: Option<Count>,
    unit: Option<MassUnit>,
}

/// A line while it is read.
#[derive(Default)]
struct Reading {
    figures: Vec<Figure>,
    /// A count said ahead of its figures: `a single 20` takes one, `pairs of 5, 8` all that follow.
    ahead: Option<(Count, bool)>,
    /// Where the list that is being told begins; a unit reaches back to there.
    list: usize,
    /// Whether the next figure begins another list.
    told: bool,
}

impl Reading {
    /// Takes a token in; `more` are those after it.
    fn token(&mut self, token: &str, more: &[String]) -> Result<(), RangeError> {
        let figure_next =
            more.iter().find(|t| !matches!(t.as_str(), "of" | "at" | "the")).is_some_and(|t| is_figure(t));
        match token {
            "one" if figure_next => {
                self.ahead = Some((Count::Single, false));
                return Ok(());
            }
            // `pairs of 4, 6, a 9 kg single`: what comes after the article is a thing of its own.
            "a" | "an" => self.ahead = None,
            _ => {}
        }
        if is_figure(token) {
            return self.figures(token);
        }
        match word(token) {
            Some(Word::Count(count, many)) => return self.count(count, many, figure_next),
            Some(Word::Unit(unit)) => {
                for figure in self.figures[self.list..].iter_mut().filter(|f| f.unit.is_none()) {
                    figure.unit = Some(unit);
                }
            }
            Some(Word::Filler) => {}
            None => {
                let why = format!("{token:?} is not understood: figures, kg or lb, pairs and singles are");
                return Err(RangeError::new("line", why));
            }
        }
        Ok(())
    }

    /// Said after figures that have no count it is theirs; else it belongs to what follows. With nothing to follow, `9 kg
    /// single` corrects the last figure of `pairs of`, and what could mean two things is asked back.
    fn count(&mut self, count: Count, many: bool, figure_next: bool) -> Result<(), RangeError> {
        let mut theirs = false;
        for figure in self.figures.iter_mut().filter(|f| f.count.is_none()) {
            figure.count = Some(count);
            theirs = true;
        }
        if !theirs && !figure_next {
            match self.figures.last_mut() {
                Some(last) if !many => last.count = Some(count),
                _ => {
                    let why = "could mean two things: say the count on one side of its weights, for example \"4, 6 kg pairs, 9 kg single\"";
                    return Err(RangeError::new("line", why));
                }
            }
        }
        self.ahead = (!theirs && figure_next).then_some((count, many));
        self.told = true;
        Ok(())
    }

    /// `12`, `5,8,12`, `2x8`.
    fn figures(&mut self, token: &str) -> Result<(), RangeError> {
        let (times, list) = match token.split_once('x') {
            Some(("2", rest)) => (Some(Count::Pair), rest),
            Some(("1", rest)) => (Some(Count::Single), rest),
            Some((many, _)) => {
                let why = format!("{many} of the same: write 2x for a pair or 1x for a single");
                return Err(RangeError::new("line", why));
            }
            None => (None, token),
        };
        for value in numbers(list)? {
            if std::mem::take(&mut self.told) {
                self.list = self.figures.len();
            }
            let count = times.or(self.ahead.map(|(count, _)| count));
            self.figures.push(Figure { value, count, unit: None });
            if matches!(self.ahead, Some((_, false))) {
                self.ahead = None;
                self.told = true;
            }
        }
        Ok(())
    }

    /// The weights by unit. A figure whose list has none has the unit before it, else the first that is said, else
    /// `usual`.
    fn sort(self, usual: MassUnit) -> Result<[Dumbbells; 2], RangeError> {
        let mut found = [MassUnit::Kg, MassUnit::Lb].map(|unit| Dumbbells { unit, ..Dumbbells::default() });
        let mut unit = self.figures.iter().find_map(|f| f.unit).unwrap_or(usual);
        for figure in self.figures {
            unit = figure.unit.unwrap_or(unit);
            ranges::DUMBBELL.check("line", figure.value * unit.in_kilograms())?;
            let all = &mut found[usize::from(unit == MassUnit::Lb)];
            match figure.count {
                Some(Count::Pair) => all.pairs.push(figure.value),
                Some(Count::Single) => all.singles.push(figure.value),
                None => {
                    let value = trim_number(figure.value, 3);
                    let why = format!("say whether {value} comes in pairs or single, for example \"5, 8 kg pairs\"");
                    return Err(RangeError::new("line", why));
                }
            }
        }
        Ok(found.map(Dumbbells::sorted))
    }
}

/// Reads a line. A unit belongs to the list it stands in; a list without one has that of the list before, else the
/// first that is said, else `usual`.
/// The error names the word or figure that cannot be used; nothing is guessed, also not whether a weight is a pair.
pub fn dumbbells(text: &str, usual: MassUnit) -> Result<Vec<KitItem>, RangeError> {
    if text.chars().count() > LONGEST_LINE {
        return Err(RangeError::new("line", format!("may have at most {LONGEST_LINE} characters")));
    }
    let mut reading = Reading::default();
    let tokens = tokens(&text.to_lowercase().replace('×', "x"));
    for (i, token) in tokens.iter().enumerate() {
        reading.token(token, &tokens[i + 1..])?;
    }
    let mut items = Vec::new();
    for found in reading.sort(usual)?.into_iter().filter(|d| !(d.pairs.is_empty() && d.singles.is_empty())) {
        let item = KitItem::Dumbbells(found);
        item.validate().map_err(|e| RangeError::new("line", e.message))?;
        items.push(item);
    }
    if items.is_empty() {
        return Err(RangeError::new("line", "name the weights, for example \"5, 8, 12 kg pairs and a single 20\""));
    }
    Ok(items)
}

/// Splits figures from words: `12kg` is two tokens, `2x8` and `5,8` are one.
fn tokens(text: &str) -> Vec<String> {
    let mut tokens = Vec::new();
    for chunk in text.split(|c: char| c.is_whitespace() || c == ';' || c == '/' || c == '(' || c == ')') {
        let chunk = chunk.trim_matches([',', '.', ':']);
        if chunk.is_empty() {
            continue;
        }
        let figure = |c: char| c.is_ascii_digit() || matches!(c, '.' | ',' | '-');
        let end = chunk.char_indices().find(|(i, c)| {
            let times = *c == 'x' && chunk[i + 1..].starts_with(|n: char| n.is_ascii_digit());
            !(figure(*c) || times)
        });
        match end {
            Some((i, _)) if i > 0 && chunk.starts_with(figure) => {
                tokens.push(chunk[..i].trim_end_matches(',').to_owned());
                tokens.push(chunk[i..].to_owned());
            }
            _ => tokens.push(chunk.to_owned()),
        }
    }
    tokens
}

impl Dumbbells {
    /// The same weights in rising order.
    #[must_use]
    pub fn sorted(mut self) -> Self {
        self.pairs.sort_by(f64::total_cmp);
        self.singles.sort_by(f64::total_cmp);
        self
    }
}
