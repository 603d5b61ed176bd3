//! The rig drawing: a jointed figure at the client's proportions, what it rests on and pulls at, and the ribbon along
//! the hand's path, as wide as the load is there.

mod body;
mod measures;
mod props;

use askama::Template;
use bavrek_core::figure::{Arm, BandLine, Body, Figure, HEAD, Measure, PATH, Prop, Quantity, Sight, Trunk};
use bavrek_core::posture::Point;
use bavrek_core::rigging::Assembly;
use bavrek_core::units::{GRAVITY, trim_number};

use super::label::{Labels, Word};

/// Size of the picture.
pub(crate) const WIDTH: f64 = 480.0;
/// Its height.
pub(crate) const HEIGHT: f64 = 340.0;
/// Size of one that is printed small.
const PRINTED: [f64; 2] = [236.0, 190.0];
/// Room left for labels, left and right, above and below.
const MARGIN: [f64; 4] = [56.0, 70.0, 22.0, 40.0];
/// Half-width of the ribbon where the load is greatest, px.
const RIBBON: f64 = 11.0;
/// Largest scale, px a metre, so that small movements are not blown up.
const MOST_SCALE: f64 = 190.0;

#[derive(Template)]
#[template(path = "pictures/rig.svg", escape = "html")]
pub(crate) struct RigPicture {
    pub(crate) title: String,
    pub(crate) description: String,
    shapes: Vec<Shape>,
    words: Vec<Word>,
    grips: Vec<Grip>,
    view_box: String,
}

struct Shape {
    d: String,
    class: &'static str,
    width: Option<String>,
}

/// A handle to drag or to move with the arrow keys.
struct Grip {
    x: String,
    y: String,
    field: &'static str,
    label: String,
    value: String,
    /// Metres or degrees for one pixel to the right and one down.
    per: [String; 2],
    step: &'static str,
}

struct Page {
    size: [f64; 2],
    scale: f64,
    left: f64,
    top: f64,
    low: Point,
    high: Point,
}

impl Page {
    fn around(figure: &Figure, stature: f64, size: [f64; 2]) -> Self {
        let (mut low, mut high) = (figure.path[0], figure.path[0]);
        let mut take = |p: Point, r: f64| {
            for i in 0..2 {
                low[i] = low[i].min(p[i] - r);
                high[i] = high[i].max(p[i] + r);
            }
        };
        for body in [&figure.start, &figure.end] {
            take(body.head, HEAD * stature);
            body.arms.iter().chain(&body.idle).flatten().for_each(|p| take(*p, 0.03));
            body.legs.iter().flatten().for_each(|p| take(*p, 0.03));
            match body.trunk {
                Trunk::Side(points) => points.iter().for_each(|p| take(*p, 0.05 * stature)),
                Trunk::Front(points) => points.iter().for_each(|p| take(*p, 0.02)),
                Trunk::Section(middle, half) => take(middle, half[0].max(half[1])),
            }
        }
        figure.path.iter().for_each(|p| take(*p, 0.04));
        figure.bands.iter().for_each(|b| take(b.from, 0.04));
        figure.measures.iter().for_each(|m| take(m.to, 0.03));
        for prop in &figure.props {
            for p in corners(prop) {
                take(p, 0.02);
            }
        }
        if let Some(floor) = figure.floor {
            take([low_x(figure), floor], 0.0);
        }
        let room = [size[0] - MARGIN[0] - MARGIN[1], size[1] - MARGIN[2] - MARGIN[3]];
        let scale = (room[0] / (high[0] - low[0])).min(room[1] / (high[1] - low[1])).min(MOST_SCALE);
        let left = MARGIN[0] + 0.5 * (room[0] - scale * (high[0] - low[0])) - scale * low[0];
        let top = MARGIN[2] + 0.5 * (room[1] - scale * (high[1] - low[1])) + scale * high[1];
        Self { size, scale, left, top, low, high }
    }

    fn at(&self, p: Point) -> (f64, f64) {
        (self.left + self.scale * p[0], self.top - self.scale * p[1])
    }

    /// The part of the picture that is drawn on, at the proportions of a card.
    fn cut(&self) -> String {
        let ((left, bottom), (right, top)) = (self.at(self.low), self.at(self.high));
        let (width, height) = (right - left + 44.0, bottom - top + 34.0);
        let width = width.max(height * 1.55);
        let height = width / 1.55;
        let (x, y) = (0.5 * (left + right - width), 0.5 * (top + bottom - height));
        format!("{x:.1} {y:.1} {width:.1} {height:.1}")
    }

    fn line(&self, points: &[Point]) -> String {
        super::path(&points.iter().map(|p| self.at(*p)).collect::<Vec<_>>())
    }

    fn circle(&self, centre: Point, radius: f64) -> String {
        let (x, y) = self.at(centre);
        format!(
            "M{:.1} {y:.1}a{radius:.1} {radius:.1} 0 1 0 {:.1} 0a{radius:.1} {radius:.1} 0 1 0 -{:.1} 0Z",
            x - radius,
            2.0 * radius,
            2.0 * radius
        )
    }
}

fn low_x(figure: &Figure) -> f64 {
    figure.path[0][0]
}

fn corners(prop: &Prop) -> Vec<Point> {
    match prop {
        Prop::Barbell(l) | Prop::Pad(l) | Prop::Post(l) | Prop::Strap(l) | Prop::Table(l) => l.to_vec(),
        Prop::Block(a, b) => vec![*a, *b],
        Prop::Bar(p)
        | Prop::Ring(p)
        | Prop::Handle(p)
        | Prop::Weight(p)
        | Prop::BarEnd(p)
        | Prop::Pack(p)
        | Prop::Wheel(p, _) => vec![*p],
        Prop::Wall(x, _) => vec![[*x, 0.0]],
    }
}

/// How much is written into a picture.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Detail {
    /// No words, cut to what is drawn: for lists.
    Card,
    /// Measures and loads.
    Whole,
    /// The same, with handles on the measures.
    Movable,
    /// Measures and loads for a picture of a hand's width: smaller, so that its words are larger in it.
    Printed,
}

impl Detail {
    /// Width and height.
    const fn size(self) -> [f64; 2] {
        match self {
            Self::Printed => PRINTED,
            _ => [WIDTH, HEIGHT],
        }
    }
}

/// Draws a figure.
pub(crate) fn draw(
    title: &str,
    figure: &Figure,
    assembly: Option<&Assembly>,
    stature: f64,
    detail: Detail,
) -> RigPicture {
    let [width, height] = detail.size();
    let page = Page::around(figure, stature, [width, height]);
    let mut drawer =
        Drawer { page, h: stature, shapes: Vec::new(), labels: Labels::new(width, height), grips: Vec::new() };
    drawer.floor(figure);
    figure.props.iter().for_each(|p| drawer.behind(p, figure.floor.unwrap_or(0.0)));
    drawer.ghost(&figure.start, &figure.end);
    drawer.body(&figure.end, figure.sight);
    drawer.ribbon(figure);
    figure.bands.iter().for_each(|b| drawer.band(b));
    figure.props.iter().for_each(|p| drawer.before(p));
    drawer.joint(figure);
    if detail == Detail::Card {
        drawer.labels.words.clear();
    } else {
        figure.measures.iter().for_each(|m| drawer.measure(m, figure, detail == Detail::Movable));
        drawer.loads(figure, assembly);
    }
    let view_box = match detail {
        Detail::Card => drawer.page.cut(),
        _ => format!("0 0 {width} {height}"),
    };
    RigPicture {
        title: format!("{title}, {}", figure.sight.label()),
        description: describe(figure, assembly),
        shapes: drawer.shapes,
        words: drawer.labels.words,
        grips: drawer.grips,
        view_box,
    }
}

/// What the picture shows, in words.
fn describe(figure: &Figure, assembly: Option<&Assembly>) -> String {
    let measures = figure.measures.iter().map(|m| format!("{} {}", m.quantity.label(), value_text(m)));
    let mut parts: Vec<String> = vec![format!("seen {}", figure.sight.label())];
    parts.extend(measures);
    if let Some(assembly) = assembly {
        let [long, middle, short] = assembly.thirds.map(|t| t * 100.0);
        parts.push(format!("{long:.0} % of the work lengthened, {middle:.0} % middle, {short:.0} % shortened"));
    }
    parts.join("; ")
}

fn value_text(measure: &Measure) -> String {
    if measure.quantity.is_angle() {
        format!("{}°", trim_number(measure.value, 0))
    } else {
        format!("{} m", trim_number(measure.value, 2))
    }
}

struct Drawer {
    page: Page,
    h: f64,
    shapes: Vec<Shape>,
    labels: Labels,
    grips: Vec<Grip>,
}

impl Drawer {
    fn shape(&mut self, class: &'static str, d: String) {
        self.shapes.push(Shape { d, class, width: None });
    }

    fn stroke(&mut self, class: &'static str, d: &str, width: f64) {
        self.shapes.push(Shape { d: d.to_owned(), class, width: Some(format!("{width:.1}")) });
    }

    /// A limb: an outline with the sheet's colour in it.
    fn limb(&mut self, points: &[Point], width: f64) {
        let d = self.page.line(points);
        let w = width * self.h * self.page.scale;
        self.stroke("limb-edge", &d, w + 2.4);
        self.stroke("limb", &d, w);
    }

    /// The ribbon: a band of ochre between the path moved out to either side.
    fn ribbon(&mut self, figure: &Figure) {
        if figure.ribbon.len() != PATH {
            let d = self.page.line(&figure.path);
            self.shape("path-bare", d);
            return;
        }
        let points: Vec<(f64, f64)> = figure.path.iter().map(|p| self.page.at(*p)).collect();
        let (mut left, mut right) = (Vec::new(), Vec::new());
        for i in 0..PATH {
            let (a, b) = (points[i.saturating_sub(1)], points[(i + 1).min(PATH - 1)]);
            let (dx, dy) = (b.0 - a.0, b.1 - a.1);
            let length = dx.hypot(dy).max(1e-6);
            let half = 0.8 + RIBBON * figure.ribbon[i];
            let (nx, ny) = (-dy / length * half, dx / length * half);
            left.push((points[i].0 + nx, points[i].1 + ny));
            right.push((points[i].0 - nx, points[i].1 - ny));
        }
        right.reverse();
        left.extend(right);
        self.shape("ribbon", super::path(&left) + "Z");
    }
}

impl RigPicture {
    /// A label that reaches out of the picture.
    #[cfg(test)]
    pub(crate) fn outside(&self) -> Option<String> {
        self.words.iter().find(|w| !w.inside(WIDTH, HEIGHT)).map(|w| w.text.clone())
    }

    /// Two labels that overlap.
    #[cfg(test)]
    pub(crate) fn overlap(&self) -> Option<(String, String)> {
        super::label::overlap(&self.words)
    }
}
