//! Letters: which font has them, and how wide a text is.

use std::collections::HashMap;
use std::sync::Arc;

use krilla::text::{Font, Tag};
use rustybuzz::{Face, UnicodeBuffer, ttf_parser};
use usvg::fontdb::Database;

use super::PaperError;

/// The fonts that a paper is set in, in the order in which they are asked for a letter; each varies in weight.
pub struct Letters {
    files: Vec<Typeface>,
    /// For drawings.
    database: Arc<Database>,
}

struct Typeface {
    data: Arc<Vec<u8>>,
    usual: Font,
    bold: Font,
}

/// A part of a text in one font.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Run {
    pub(super) font: usize,
    pub(super) text: String,
}

/// Weights on the axis of that name.
const USUAL: f32 = 400.0;
const BOLD: f32 = 700.0;
/// What stands for a letter that no font has.
const UNKNOWN: char = '?';

impl Letters {
    /// Letters from font files (TrueType, with an axis of weight).
    pub fn new(files: Vec<Vec<u8>>) -> Result<Self, PaperError> {
        let mut database = Database::new();
        let mut faces = Vec::new();
        for data in files {
            database.load_font_data(data.clone());
            let data = Arc::new(data);
            let font = |weight| Font::new_variable(data.clone().into(), 0, &[(Tag::new(b"wght"), weight)]);
            let (usual, bold) = font(USUAL).zip(font(BOLD)).ok_or(PaperError::Font)?;
            if Face::from_slice(&data, 0).is_none() {
                return Err(PaperError::Font);
            }
            faces.push(Typeface { data: data.clone(), usual, bold });
        }
        if faces.is_empty() {
            return Err(PaperError::Font);
        }
        Ok(Self { files: faces, database: Arc::new(database) })
    }

    /// The fonts for drawings.
    pub(super) fn database(&self) -> Arc<Database> {
        self.database.clone()
    }

    /// The family that drawings fall back on.
    pub(super) fn family(&self) -> String {
        let first = self.database.faces().next().and_then(|face| face.families.first());
        first.map_or_else(String::new, |(name, _)| name.clone())
    }

    pub(super) fn font(&self, at: usize, bold: bool) -> Font {
        let face = &self.files[at];
        if bold { face.bold.clone() } else { face.usual.clone() }
    }
}

/// Measures texts with letters, and remembers words.
pub(super) struct Measure<'l> {
    faces: Vec<[Face<'l>; 2]>,
    words: HashMap<(bool, String), f32>,
}

impl<'l> Measure<'l> {
    pub(super) fn new(letters: &'l Letters) -> Self {
        let face = |file: &'l Typeface, weight| {
            // Read before, when the letters were made.
            let mut face = Face::from_slice(&file.data, 0)?;
            face.set_variation(ttf_parser::Tag::from_bytes(b"wght"), weight);
            Some(face)
        };
        let faces = letters.files.iter().filter_map(|f| Some([face(f, USUAL)?, face(f, BOLD)?]));
        Self { faces: faces.collect(), words: HashMap::new() }
    }

    /// A text in parts, each in the first font that has its letters.
    pub(super) fn runs(&self, text: &str) -> Vec<Run> {
        let mut runs: Vec<Run> = Vec::new();
        for letter in text.chars() {
            let has = |at: &usize| self.faces[*at][0].glyph_index(letter).is_some();
            // What goes on in the font it stands in is not torn apart.
            let found = runs.last().map(|run| run.font).filter(has).or_else(|| (0..self.faces.len()).find(has));
            let (font, letter) = found.map_or((0, UNKNOWN), |font| (font, letter));
            match runs.last_mut() {
                Some(run) if run.font == font => run.text.push(letter),
                _ => runs.push(Run { font, text: letter.into() }),
            }
        }
        runs
    }

    /// The width of a run at a size of one.
    pub(super) fn width(&mut self, run: &Run, bold: bool) -> f32 {
        let face = &self.faces[run.font][usize::from(bold)];
        let mut buffer = UnicodeBuffer::new();
        buffer.push_str(&run.text);
        buffer.guess_segment_properties();
        let shaped = rustybuzz::shape(face, &[], buffer);
        let advance: i32 = shaped.glyph_positions().iter().map(|p| p.x_advance).sum();
        advance as f32 / face.units_per_em() as f32
    }

    /// The width of a word at a size of one.
    pub(super) fn word(&mut self, word: &str, bold: bool) -> f32 {
        let key = (bold, word.to_owned());
        if let Some(known) = self.words.get(&key) {
            return *known;
        }
        let width = self.runs(word).iter().map(|run| self.width(run, bold)).sum();
        self.words.insert(key, width);
        width
    }
}
