//! Labels that keep out of each other's way.

/// Height of a line of text, px.
const LINE: f64 = 12.0;
/// Mean width of a letter, px, in a class's type.
fn letter(class: &str) -> f64 {
    match class {
        "load-text" => 7.0,
        "measure-text" => 6.4,
        _ => 6.0,
    }
}

/// A placed label.
#[derive(Debug, Clone)]
pub(crate) struct Word {
    pub(crate) x: String,
    pub(crate) y: String,
    pub(crate) anchor: &'static str,
    pub(crate) class: &'static str,
    pub(crate) text: String,
    /// Left, top, right, bottom.
    bounds: [f64; 4],
}

#[cfg(test)]
impl Word {
    pub(crate) fn inside(&self, width: f64, height: f64) -> bool {
        self.bounds[0] >= 0.0 && self.bounds[1] >= 0.0 && self.bounds[2] <= width && self.bounds[3] <= height
    }
}

/// Labels of one picture.
pub(crate) struct Labels {
    width: f64,
    height: f64,
    pub(crate) words: Vec<Word>,
}

/// Steps by which a label moves aside: near ones first.
const ASIDE: [(f64, f64); 17] = [
    (0.0, 0.0),
    (0.0, -13.0),
    (0.0, 13.0),
    (0.0, -26.0),
    (0.0, 26.0),
    (-1.0, 0.0),
    (-1.0, -13.0),
    (-1.0, 13.0),
    (0.0, -39.0),
    (0.0, 39.0),
    (-1.0, -26.0),
    (-1.0, 26.0),
    (12.0, -52.0),
    (12.0, 52.0),
    (-1.0, -52.0),
    (-1.0, 52.0),
    (40.0, -65.0),
];

impl Labels {
    pub(crate) const fn new(width: f64, height: f64) -> Self {
        Self { width, height, words: Vec::new() }
    }

    /// A label that stands where it is put: a scale's figures.
    pub(crate) fn fixed(&mut self, class: &'static str, x: f64, y: f64, anchor: &'static str, text: &str) {
        let word = word(class, x, y, anchor, text);
        if !self.words.iter().any(|w| meet(&w.bounds, &word.bounds)) {
            self.words.push(word);
        }
    }

    /// A label at a point or as near to it as the others allow; left out where there is no room at all.
    pub(crate) fn near(&mut self, class: &'static str, x: f64, y: f64, text: &str) {
        let wide = letter(class) * text.chars().count() as f64;
        for (dx, dy) in ASIDE {
            // −1 stands for the other side of the point.
            let left = if dx == -1.0 { x - wide - 26.0 } else { x + dx };
            let left = left.clamp(2.0, (self.width - wide - 2.0).max(2.0));
            let base = (y + dy).clamp(LINE, self.height - 4.0);
            let found = word(class, left, base, "start", text);
            if !self.words.iter().any(|w| meet(&w.bounds, &found.bounds)) {
                self.words.push(found);
                return;
            }
        }
    }
}

fn word(class: &'static str, x: f64, y: f64, anchor: &'static str, text: &str) -> Word {
    let wide = letter(class) * text.chars().count() as f64;
    let left = match anchor {
        "end" => x - wide,
        "middle" => x - 0.5 * wide,
        _ => x,
    };
    Word {
        x: format!("{x:.1}"),
        y: format!("{y:.1}"),
        anchor,
        class,
        text: text.to_owned(),
        bounds: [left, y - LINE + 2.0, left + wide, y + 2.0],
    }
}

fn meet(a: &[f64; 4], b: &[f64; 4]) -> bool {
    a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3]
}

/// Two labels that overlap.
#[cfg(test)]
pub(crate) fn overlap(words: &[Word]) -> Option<(String, String)> {
    let pairs = words.iter().enumerate().flat_map(|(i, a)| words[i + 1..].iter().map(move |b| (a, b)));
    pairs.into_iter().find(|(a, b)| meet(&a.bounds, &b.bounds)).map(|(a, b)| (a.text.clone(), b.text.clone()))
}
