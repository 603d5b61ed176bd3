//! A workout laid out on a page, and the first page of a booklet.

use super::column::{Column, Look, Role};
use super::letters::Measure;
use super::pages::Pages;
use super::{Booklet, Line, Sheet};

/// Sizes that are tried, the largest first: it is read from the floor.
const SCALES: [f32; 6] = [1.25, 1.12, 1.0, 0.92, 0.85, 0.79];
/// What is too long for one page at any of them is set at this one, on several.
const LONG: f32 = 1.0;
/// The size of a drawing, points.
const DRAWING: [f32; 2] = [118.0, 95.0];
/// Most boxes beside each other.
const MOST_BOXES: usize = 6;

/// How large everything is.
struct Scale(f32);

impl Scale {
    const fn look(&self, size: f32, soft: bool) -> Look {
        Look { size: size * self.0, soft }
    }

    const fn title(&self) -> Look {
        self.look(19.0, false)
    }

    const fn heading(&self) -> Look {
        self.look(13.0, false)
    }

    const fn load(&self) -> Look {
        self.look(16.0, false)
    }

    const fn dose(&self) -> Look {
        self.look(12.0, false)
    }

    const fn text(&self) -> Look {
        self.look(8.8, false)
    }

    const fn small(&self) -> Look {
        self.look(8.0, true)
    }
}

/// Lays a workout out from the top of a page.
pub(super) fn lay(sheet: &Sheet, pages: &mut Pages, measure: &mut Measure<'_>) {
    let at = |scale: f32, measure: &mut Measure<'_>| columns(sheet, &Scale(scale), pages.width(), measure);
    let fits = |columns: &[Column]| columns.iter().map(|c| c.y).sum::<f32>() <= pages.height();
    let one = SCALES.into_iter().map(|scale| at(scale, measure)).find(|columns| fits(columns));
    let columns = one.unwrap_or_else(|| at(LONG, measure));
    pages.turn();
    for column in columns {
        pages.place(column);
    }
}

fn columns(sheet: &Sheet, scale: &Scale, width: f32, measure: &mut Measure<'_>) -> Vec<Column> {
    let mut columns = vec![head(sheet, scale, width, measure)];
    for (nth, line) in sheet.lines.iter().enumerate() {
        columns.push(movement(line, nth + 1, scale, width, measure));
    }
    columns.push(end(sheet, scale, width, measure));
    columns
}

fn head(sheet: &Sheet, scale: &Scale, width: f32, measure: &mut Measure<'_>) -> Column {
    let mut column = Column::default();
    let whole = [0.0, width];
    let title = Role::Title(sheet.name.clone());
    column.text(title, whole, scale.title(), &[(true, &sheet.name)], measure);
    let light = if sheet.light { " · a lighter week" } else { "" };
    let under = format!("{} · {} · {}{light}", sheet.client, sheet.place, sheet.day);
    column.text(Role::Text, whole, scale.text(), &[(false, &under)], measure);
    column.skip(8.0 * scale.0);
    for (nth, label) in ["Date", "Began", "Ended"].into_iter().enumerate() {
        column.blank(label, [nth as f32 * width / 3.0, width / 3.0], scale.text(), measure);
    }
    column.skip(scale.text().size * 1.6);
    let warm = format!("{} min of walking, skipping or cycling until it is warm. ", sheet.minutes);
    let joints: Vec<(String, String)> =
        sheet.joints.iter().map(|(joint, how)| (format!("{joint}: "), format!("{how}. "))).collect();
    let mut spans = vec![(true, "Warm up: "), (false, warm.as_str())];
    spans.extend(joints.iter().flat_map(|(joint, how)| [(true, joint.as_str()), (false, how.as_str())]));
    column.text(Role::Text, whole, scale.text(), &spans, measure);
    let boxes = [(true, "In each box: "), (false, "what was done, and how many more were in you.")];
    column.text(Role::Text, whole, scale.text(), &boxes, measure);
    column.skip(4.0 * scale.0);
    column
}

fn movement(line: &Line, nth: usize, scale: &Scale, width: f32, measure: &mut Measure<'_>) -> Column {
    let mut column = Column::default();
    column.rule(0.0, width, 1.2);
    column.skip(3.0 * scale.0);
    let name = format!("{nth}. {}", line.name);
    let together = if line.together { ", in turn with its neighbour" } else { "" };
    let job = format!("{}{together}", line.job);
    let heading = (Role::Heading(name.clone()), scale.heading(), name.as_str());
    column.pair([0.0, width], heading, (Role::Text, scale.small(), &job), false, measure);
    let top = column.y;
    let mut left = 0.0;
    if let Some(picture) = &line.picture {
        let size = DRAWING.map(|side| side * scale.0);
        column.drawing(0.0, size, (picture, &line.pictured));
        left = size[0] + 10.0 * scale.0;
        column.y = top;
    }
    let beside = [left, width - left];
    let load = (Role::Text, scale.load(), line.load.as_str());
    column.pair(beside, load, (Role::Text, scale.dose(), &line.dose), true, measure);
    let mut say = |look: Look, spans: &[(bool, &str)]| column.text(Role::Text, beside, look, spans, measure);
    if !line.how.is_empty() {
        say(scale.text(), &[(false, &line.how)]);
    }
    if !line.ramp.is_empty() {
        let ramp = format!("{}.", line.ramp.join(", then "));
        say(scale.text(), &[(true, "On the way up: "), (false, &ramp)]);
    }
    let tempo = (!line.tempo.is_empty()).then(|| ("Each repetition: ".to_owned(), format!("{} ", line.tempo)));
    let facts = line.facts.iter().map(|(term, text)| (format!("{term}: "), format!("{text} ")));
    let facts: Vec<(String, String)> = tempo.into_iter().chain(facts).collect();
    let spans: Vec<(bool, &str)> =
        facts.iter().flat_map(|(term, text)| [(true, term.as_str()), (false, text.as_str())]).collect();
    say(scale.text(), &spans);
    if let Some((when, steps)) = &line.ahead {
        let ahead = format!("{when}{}.", steps.join("; "));
        say(scale.text(), &[(true, "In the coming weeks: "), (false, &ahead)]);
    }
    if line.picture.is_some() {
        column.y = column.y.max(top + DRAWING[1] * scale.0);
    }
    column.skip(3.0 * scale.0);
    boxes(line, scale, width, &mut column, measure);
    column.skip(5.0 * scale.0);
    column
}

/// Boxes to write in, as many beside each other as can be written in.
fn boxes(line: &Line, scale: &Scale, width: f32, column: &mut Column, measure: &mut Measure<'_>) {
    let height = 27.0 * scale.0;
    for row in line.sets.chunks(MOST_BOXES) {
        let each = width / row.len().max(3) as f32;
        let top = column.y;
        for (nth, (label, asked)) in row.iter().enumerate() {
            let left = nth as f32 * each;
            column.y = top;
            column.frame(left, [each, height]);
            column.skip(2.0);
            let label = format!("{label} ");
            let spans = [(true, label.as_str()), (false, asked.as_str())];
            column.text(Role::Item, [left + 4.0, each - 8.0], scale.small(), &spans, measure);
        }
        column.y = top + height;
    }
}

fn end(sheet: &Sheet, scale: &Scale, width: f32, measure: &mut Measure<'_>) -> Column {
    let mut column = Column::default();
    let whole = [0.0, width];
    column.rule(0.0, width, 1.2);
    column.skip(3.0 * scale.0);
    let cool = format!("walk and breathe slowly for {} min, then move what was trained once more.", sheet.cool_down);
    column.text(Role::Text, whole, scale.text(), &[(true, "Cool down: "), (false, &cool)], measure);
    column.skip(4.0 * scale.0);
    column.blank("What hurt, where, 0 to 10", whole, scale.text(), measure);
    column.skip(scale.text().size * 1.7);
    let mut cautions = "Breathe out on the effort, in on the way back; do not hold the breath. ".to_owned();
    cautions.push_str(&sheet.cautions.join(" "));
    column.text(Role::Text, whole, scale.small(), &[(false, &cautions)], measure);
    column
}

/// What a booklet begins with: what is due when, and what holds for all of it.
pub(super) fn cover(booklet: &Booklet, pages: &mut Pages, measure: &mut Measure<'_>) {
    let scale = Scale(1.2);
    let width = pages.width();
    let mut column = Column::default();
    let whole = [0.0, width];
    column.text(Role::Title(booklet.title.clone()), whole, scale.title(), &[(true, &booklet.title)], measure);
    column.text(Role::Text, whole, scale.dose(), &[(false, &booklet.client)], measure);
    column.skip(10.0);
    pages.turn();
    pages.place(column);
    for (day, what) in &booklet.days {
        let mut row = Column::default();
        row.rule(0.0, width, 0.6);
        row.skip(4.0);
        let day = format!("{day}: ");
        row.text(Role::Item, whole, scale.dose(), &[(true, &day), (false, what)], measure);
        row.skip(3.0);
        pages.place(row);
    }
    for note in &booklet.notes {
        let mut row = Column::default();
        row.skip(6.0);
        row.text(Role::Text, whole, scale.text(), &[(false, note)], measure);
        pages.place(row);
    }
}
