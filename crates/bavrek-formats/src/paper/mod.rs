//! Workouts on paper, as PDF: one page a session where it fits, a booklet for more. Fonts are embedded, and what stands on a page is
//! tagged for those who have it read to them.

mod column;
mod letters;
mod pages;
mod sheet;

use self::letters::Measure;
use self::pages::Pages;

pub use self::letters::Letters;

/// What could not be put on paper.
#[derive(Debug, thiserror::Error)]
pub enum PaperError {
    /// A font file is none, or there is none.
    #[error("a font for printed pages cannot be read")]
    Font,
    /// A drawing is no SVG.
    #[error("a drawing cannot be read: {0}")]
    Drawing(String),
    /// The document could not be written.
    #[error("the document could not be written: {0}")]
    Writing(String),
}

/// The size of a page.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Paper {
    /// 210 by 297 mm.
    #[default]
    A4,
    /// 8.5 by 11 inches.
    Letter,
}

impl Paper {
    /// Every size.
    pub const ALL: [Self; 2] = [Self::A4, Self::Letter];

    /// Its word.
    pub const fn id(self) -> &'static str {
        match self {
            Self::A4 => "a4",
            Self::Letter => "letter",
        }
    }

    /// The size of that word.
    pub fn from_id(id: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|p| p.id() == id)
    }

    /// Width and height, points.
    const fn points(self) -> [f32; 2] {
        match self {
            Self::A4 => [595.28, 841.89],
            Self::Letter => [612.0, 792.0],
        }
    }
}

/// A workout with space to write.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Sheet {
    /// The session's name.
    pub name: String,
    /// The client's.
    pub client: String,
    /// Where it is done.
    pub place: String,
    /// When: a day, or several.
    pub day: String,
    /// Whether it lies in a lighter week.
    pub light: bool,
    /// Minutes of warming up.
    pub minutes: String,
    /// Joints to move first, each with how.
    pub joints: Vec<(String, String)>,
    /// Minutes of cooling down.
    pub cool_down: String,
    /// What is done, in order.
    pub lines: Vec<Line>,
    /// What is said before every workout, and of what is done in this one.
    pub cautions: Vec<String>,
}

/// A movement of a workout.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Line {
    /// Its name.
    pub name: String,
    /// What it is for.
    pub job: String,
    /// Whether it is done in turn with its neighbour.
    pub together: bool,
    /// The load to read from the floor.
    pub load: String,
    /// How it is set up.
    pub how: String,
    /// Sets and what is asked of each.
    pub dose: String,
    /// The tempo in words; empty where there is none.
    pub tempo: String,
    /// Sets on the way up.
    pub ramp: Vec<String>,
    /// Its drawing, as SVG with its styles.
    pub picture: Option<String>,
    /// What the drawing shows, for those who do not see it.
    pub pictured: String,
    /// Set up, do, feel, avoid.
    pub facts: Vec<(String, String)>,
    /// When the next step is due, and the steps from there, harder each; without steps why there is none.
    pub ahead: Option<(String, Vec<String>)>,
    /// What is asked set by set.
    pub sets: Vec<(String, String)>,
}

/// Several workouts.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Booklet {
    /// What it is: `Week of 23 November`.
    pub title: String,
    /// Whose.
    pub client: String,
    /// What is due when: day, session with place.
    pub days: Vec<(String, String)>,
    /// What is said once for all.
    pub notes: Vec<String>,
    /// The workouts.
    pub sheets: Vec<Sheet>,
}

/// A workout as PDF.
pub fn sheet(letters: &Letters, sheet: &Sheet, paper: Paper) -> Result<Vec<u8>, PaperError> {
    let mut measure = Measure::new(letters);
    let mut pages = Pages::new(paper);
    sheet::lay(sheet, &mut pages, &mut measure);
    let title = format!("{} for {}", sheet.name, sheet.client);
    pages.written(letters, &mut measure, &title)
}

/// Several as one, with a page that says when each is due.
pub fn booklet(letters: &Letters, booklet: &Booklet, paper: Paper) -> Result<Vec<u8>, PaperError> {
    let mut measure = Measure::new(letters);
    let mut pages = Pages::new(paper);
    sheet::cover(booklet, &mut pages, &mut measure);
    for sheet in &booklet.sheets {
        sheet::lay(sheet, &mut pages, &mut measure);
    }
    let title = format!("{} for {}", booklet.title, booklet.client);
    pages.written(letters, &mut measure, &title)
}
