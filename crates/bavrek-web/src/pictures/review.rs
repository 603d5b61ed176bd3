//! Strength over time: a line with its band by pattern, marks where movement or place changed, and beneath them the sessions
//! that were kept and what hurt, on one scale of days.

use askama::Template;
use bavrek_core::review::Line;
use bavrek_core::strength::trace::NINETY;
use bavrek_core::units::trim_number;
use chrono::{Datelike, Days, NaiveDate};

/// Where the lines begin and end in a picture of 900 units.
const LEFT: f64 = 170.0;
const RIGHT: f64 = 820.0;
/// Height of a line's strip, of what lies above the line in it, and of the rows beneath.
const STRIP: f64 = 84.0;
const HEAD: f64 = 24.0;
const ROW: f64 = 26.0;
/// Width of a letter of a mark, the most letters of one, and the fewest that still say something.
const MARK_LETTER: f64 = 6.0;
const MOST_LETTERS: usize = 34;
const FEWEST_LETTERS: usize = 8;

/// The picture.
#[derive(Template)]
#[template(path = "pictures/review.svg", escape = "html")]
pub(crate) struct ReviewPicture {
    title: String,
    height: f64,
    strips: Vec<Strip>,
    /// Place, words, and whether it was kept.
    kept: Vec<(String, String, bool)>,
    kept_words: String,
    kept_at: f64,
    /// Place and words of what hurt.
    pains: Vec<(String, String)>,
    pain_at: f64,
    months: Vec<(String, String)>,
    months_at: f64,
}

struct Strip {
    name: String,
    note: String,
    top: f64,
    /// Points of the band and of the line.
    band: String,
    line: String,
    first: (String, String),
    last: (String, String),
    /// Place, and words where there is room for them.
    marks: Vec<(String, String)>,
}

/// What is drawn besides the lines.
pub(crate) struct Beneath<'a> {
    /// Days that were planned, each with whether it was kept.
    pub(crate) sessions: &'a [(NaiveDate, bool)],
    /// Days that hurt, each with words.
    pub(crate) pains: &'a [(NaiveDate, String)],
    /// Sessions kept, in words.
    pub(crate) kept: String,
}

/// Draws the lines, each with a note, over a range of days.
pub(crate) fn draw(
    title: &str,
    lines: &[(Line<'_>, String)],
    beneath: &Beneath<'_>,
    [from, until]: [NaiveDate; 2],
) -> ReviewPicture {
    let days = (until - from).num_days().max(1) as f64;
    let x = |date: NaiveDate| LEFT + (date - from).num_days() as f64 / days * (RIGHT - LEFT);
    let place = |value: f64| format!("{value:.1}");
    let strips: Vec<Strip> =
        lines.iter().enumerate().map(|(i, (line, note))| strip(line, note, i as f64 * STRIP, &x)).collect();
    let kept_at = lines.len() as f64 * STRIP + ROW * 0.7;
    let sessions = beneath.sessions.iter().map(|(date, kept)| {
        let words = if *kept { "kept" } else { "missed" };
        (place(x(*date)), format!("{date}: {words}"), *kept)
    });
    let pains = beneath.pains.iter().map(|(date, words)| (place(x(*date)), words.clone()));
    ReviewPicture {
        title: title.to_owned(),
        height: kept_at + 2.0 * ROW + 12.0,
        strips,
        kept: sessions.collect(),
        kept_words: beneath.kept.clone(),
        kept_at,
        pains: pains.collect(),
        pain_at: kept_at + ROW,
        months: months([from, until]).into_iter().map(|d| (place(x(d)), d.format("%b").to_string())).collect(),
        months_at: kept_at + 2.0 * ROW,
    }
}

fn strip(line: &Line<'_>, note: &str, top: f64, x: &impl Fn(NaiveDate) -> f64) -> Strip {
    let low = line.levels.iter().map(|l| l.mean - NINETY * l.sd).fold(f64::MAX, f64::min);
    let high = line.levels.iter().map(|l| l.mean + NINETY * l.sd).fold(f64::MIN, f64::max);
    // A line of hardly any change is not blown up to the height of the strip.
    let scale = (STRIP - HEAD - 8.0) / (high - low).max(0.2);
    let middle = f64::midpoint(low, high);
    let y = |mean: f64| top + f64::midpoint(HEAD, STRIP - 8.0) - (mean - middle) * scale;
    let point = |date, mean| format!("{:.1},{:.1}", x(date), y(mean));
    let above = line.levels.iter().map(|l| point(l.date, l.mean + NINETY * l.sd));
    let below = line.levels.iter().rev().map(|l| point(l.date, l.mean - NINETY * l.sd));
    let kg = |mean: f64| trim_number(mean.exp(), 1);
    let end = |level: Option<&bavrek_core::strength::Level>| {
        level.map_or_else(Default::default, |l| (format!("{:.1}", y(l.mean) + 4.0), kg(l.mean)))
    };
    let mut marks: Vec<(String, String)> = Vec::new();
    for (i, mark) in line.marks.iter().enumerate() {
        let at = x(mark.date);
        let name = &mark.to.name;
        let words = mark.place.as_ref().map_or_else(|| name.clone(), |place| format!("{place}: {name}"));
        // The table names all of them; here each has the room up to the next.
        let room = line.marks.get(i + 1).map_or(RIGHT + 70.0, |next| x(next.date)) - at - 10.0;
        marks.push((format!("{at:.1}"), short(&words, (room / MARK_LETTER) as usize)));
    }
    Strip {
        name: line.pattern.name.clone(),
        note: note.to_owned(),
        top,
        band: above.chain(below).collect::<Vec<_>>().join(" "),
        line: line.levels.iter().map(|l| point(l.date, l.mean)).collect::<Vec<_>>().join(" "),
        first: end(line.levels.first()),
        last: end(line.levels.last()),
        marks,
    }
}

fn short(words: &str, letters: usize) -> String {
    let letters = letters.min(MOST_LETTERS);
    if words.chars().count() <= letters {
        return words.to_owned();
    }
    if letters < FEWEST_LETTERS {
        return String::new();
    }
    let cut: String = words.chars().take(letters - 1).collect();
    format!("{}…", cut.trim_end_matches([' ', ',', ':']))
}

/// The first days of the months that begin within a range, and its first day.
fn months([from, until]: [NaiveDate; 2]) -> Vec<NaiveDate> {
    let firsts = from.iter_days().take_while(|d| *d <= until).filter(|d| d.day() == 1);
    let near = |d: &NaiveDate| *d > from + Days::new(12);
    std::iter::once(from).chain(firsts.filter(near)).collect()
}

/// Sets by week, as a picture of its own.
#[derive(Template)]
#[template(path = "pictures/weeks.svg", escape = "html")]
pub(crate) struct WeeksPicture {
    title: String,
    width: f64,
    /// Left, top, height, sets, week.
    bars: Vec<[String; 5]>,
}

/// Height of the highest bar and width of a week.
const TALL: f64 = 120.0;
const WEEK: f64 = 90.0;

/// Draws the sets of each week, each with its day in words.
pub(crate) fn draw_weeks(title: &str, weeks: &[(String, f64)]) -> WeeksPicture {
    let most = weeks.iter().map(|(_, sets)| *sets).fold(1.0, f64::max);
    let bar = |(i, (week, sets)): (usize, &(String, f64))| {
        let high = sets / most * TALL;
        let left = 10.0 + i as f64 * WEEK;
        [
            format!("{left:.1}"),
            format!("{:.1}", 24.0 + TALL - high),
            format!("{high:.1}"),
            trim_number(*sets, 1),
            week.clone(),
        ]
    };
    WeeksPicture {
        title: title.to_owned(),
        width: 20.0 + weeks.len() as f64 * WEEK,
        bars: weeks.iter().enumerate().map(bar).collect(),
    }
}
