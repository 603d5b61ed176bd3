//! The rig drawing: a jointed figure at the client's proportions, what it rests on and pulls at, and the ribbon along
//! the hand's path, as wide as the load is there.

use std::fmt::Write;

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
    scale: f64,
    left: f64,
    top: f64,
    low: Point,
    high: Point,
}

impl Page {
    fn around(figure: &Figure, stature: f64) -> Self {
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
        let room = [WIDTH - MARGIN[0] - MARGIN[1], HEIGHT - MARGIN[2] - MARGIN[3]];
        let scale = (room[0] / (high[0] - low[0])).min(room[1] / (high[1] - low[1])).min(MOST_SCALE);
        let left = MARGIN[0] + 0.5 * (room[0] - scale * (high[0] - low[0])) - scale * low[0];
        let top = MARGIN[2] + 0.5 * (room[1] - scale * (high[1] - low[1])) + scale * high[1];
        Self { scale, left, top, low, high }
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
        Prop::Pad(l) | Prop::Post(l) | Prop::Strap(l) | Prop::Table(l) => l.to_vec(),
        Prop::Block(a, b) => vec![*a, *b],
        Prop::Bar(p) | Prop::Ring(p) | Prop::Handle(p) | Prop::Weight(p) | Prop::Pack(p) | Prop::Wheel(p, _) => {
            vec![*p]
        }
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
}

/// Draws a figure.
pub(crate) fn draw(
    title: &str,
    figure: &Figure,
    assembly: Option<&Assembly>,
    stature: f64,
    detail: Detail,
) -> RigPicture {
    let page = Page::around(figure, stature);
    let mut drawer =
        Drawer { page, h: stature, shapes: Vec::new(), labels: Labels::new(WIDTH, HEIGHT), grips: Vec::new() };
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
        _ => format!("0 0 {WIDTH} {HEIGHT}"),
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

    fn floor(&mut self, figure: &Figure) {
        let Some(floor) = figure.floor else { return };
        let (left, right) =
            (self.page.at([self.page.low[0], floor]).0 - 14.0, self.page.at([self.page.high[0], floor]).0 + 14.0);
        let y = self.page.at([0.0, floor]).1;
        self.shape("ground", format!("M{left:.1} {y:.1}H{right:.1}"));
        let mut hatch = String::new();
        let mut x = left + 6.0;
        while x < right {
            let _ = write!(hatch, "M{x:.1} {:.1}l-5 5", y + 1.0);
            x += 16.0;
        }
        self.shape("ground-hatch", hatch);
    }

    /// Props that the body covers.
    fn behind(&mut self, prop: &Prop, floor: f64) {
        let thick = 0.035;
        match *prop {
            Prop::Pad([a, b]) => {
                let (first, second) = (mid(a, b, 0.22), mid(a, b, 0.78));
                for foot in [first, second] {
                    let legs = self.page.line(&[foot, [foot[0], floor]]);
                    self.shape("prop-leg", legs);
                }
                let d = self.page.line(&[a, b]);
                let w = thick * self.page.scale;
                self.stroke("prop-edge", &d, w + 2.4);
                self.stroke("prop-fill", &d, w);
            }
            Prop::Block(a, b) => {
                let d = self.page.line(&[a, [a[0], b[1]], b, [b[0], a[1]]]) + "Z";
                self.shape("prop", d);
            }
            Prop::Table([edge, end]) => {
                let d = self.page.line(&[edge, end]);
                self.stroke("prop-edge", &d, 6.4);
                self.stroke("prop-fill", &d, 4.0);
                let leg = self.page.line(&[end, [end[0], floor]]);
                self.shape("prop-leg", leg);
            }
            Prop::Post(line) => {
                let d = self.page.line(&line);
                self.shape("prop-leg", d);
            }
            Prop::Wall(x, side) => self.wall(x, side),
            Prop::Strap(line) => {
                let d = self.page.line(&line);
                self.shape("strap", d);
            }
            _ => {}
        }
    }

    /// A wall with a metre scale.
    fn wall(&mut self, x: f64, side: f64) {
        let top = self.page.high[1].max(1.6);
        let (wx, y0) = self.page.at([x, 0.0]);
        let y1 = self.page.at([x, top]).1.max(8.0);
        let thick = -side * 8.0;
        self.shape("scale", format!("M{wx:.1} {y0:.1}V{y1:.1}h{thick:.1}V{y0:.1}"));
        let mut tick = 0.5;
        while tick < top {
            let y = self.page.at([x, tick]).1;
            if y < 12.0 {
                break;
            }
            self.shape("scale", format!("M{wx:.1} {y:.1}h{thick:.1}"));
            let anchor = if side > 0.0 { "end" } else { "start" };
            self.labels.fixed("scale-text", wx + 1.4 * thick, y + 3.4, anchor, &trim_number(tick, 1));
            tick += 0.5;
        }
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

    /// The lengthened position: only what moves, dashed.
    fn ghost(&mut self, start: &Body, end: &Body) {
        for arm in &start.arms {
            let d = self.page.line(arm);
            self.stroke("ghost", &d, 0.036 * self.h * self.page.scale);
        }
        if start.trunk == end.trunk && start.legs == end.legs {
            return;
        }
        if let Trunk::Side(line) = start.trunk {
            let d = self.page.line(&line);
            self.stroke("ghost", &d, 0.075 * self.h * self.page.scale);
        }
        if let Trunk::Front(corners) = start.trunk {
            let d = self.page.line(&corners) + "Z";
            self.shape("ghost-edge", d);
        }
        for leg in &start.legs {
            let d = self.page.line(&leg[..3]);
            self.stroke("ghost", &d, 0.045 * self.h * self.page.scale);
        }
        let d = self.page.circle(start.head, HEAD * self.h * self.page.scale);
        self.shape("ghost-edge", d);
    }

    fn body(&mut self, body: &Body, sight: Sight) {
        for arm in &body.idle {
            self.limb(arm, 0.034);
        }
        if let Trunk::Section(middle, half) = body.trunk {
            self.section(middle, half, sight);
        }
        for leg in body.legs.iter().rev() {
            self.limb(&leg[..2], 0.058);
            self.limb(&leg[1..3], 0.044);
            self.limb(&leg[2..], 0.03);
        }
        match body.trunk {
            Trunk::Side(line) => self.limb(&line, 0.096),
            Trunk::Front(corners) => {
                let d = self.page.line(&corners) + "Z";
                self.shape("body", d);
            }
            Trunk::Section(..) => {}
        }
        if !matches!(body.trunk, Trunk::Section(..)) {
            let d = self.page.circle(body.head, HEAD * self.h * self.page.scale);
            self.shape("body", d);
        }
        for arm in &body.arms {
            self.arm(arm);
        }
    }

    fn section(&mut self, middle: Point, half: [f64; 2], sight: Sight) {
        let (x, y) = self.page.at(middle);
        let (rx, ry) = (half[0] * self.page.scale, half[1] * self.page.scale);
        self.shape(
            "body",
            format!(
                "M{:.1} {y:.1}a{rx:.1} {ry:.1} 0 1 0 {:.1} 0a{rx:.1} {ry:.1} 0 1 0 -{:.1} 0Z",
                x - rx,
                2.0 * rx,
                2.0 * rx
            ),
        );
        let d = self.page.circle(middle, HEAD * self.h * self.page.scale);
        self.shape(if sight == Sight::Above { "body" } else { "ghost-edge" }, d);
        if sight == Sight::Above {
            // The nose shows where the front is.
            let r = HEAD * self.h * self.page.scale;
            self.shape("body", format!("M{:.1} {:.1}l4 -6 4 6", x - 4.0, y - r + 0.5));
        }
    }

    fn arm(&mut self, arm: &Arm) {
        if arm[0] != arm[1] {
            self.limb(&arm[..2], 0.042);
        }
        self.limb(&arm[1..], 0.034);
        for p in [arm[0], arm[1]] {
            let d = self.page.circle(p, 2.6);
            self.shape("joint", d);
        }
    }

    fn band(&mut self, band: &BandLine) {
        let ghost = self.page.line(&[band.from, band.start]);
        self.shape("band-ghost", ghost);
        let line = self.page.line(&[band.from, band.end]);
        self.shape("band-line", line);
        if band.anchored {
            let d = self.page.circle(band.from, 4.4);
            self.shape("anchor-shape", d);
        }
    }

    /// Props in the hand.
    fn before(&mut self, prop: &Prop) {
        match *prop {
            Prop::Weight(at) => {
                let (x, y) = self.page.at(at);
                self.shape("weight", format!("M{:.1} {:.1}h4v12h-4Zm8 4h-4v4h4Zm0-4h4v12h-4Z", x - 8.0, y - 6.0));
            }
            Prop::Ring(at) => {
                let d = self.page.circle(at, 5.5);
                self.shape("ring-shape", d);
            }
            Prop::Bar(at) => {
                let d = self.page.circle(at, 4.5);
                self.shape("solid", d);
            }
            Prop::Handle(at) => {
                let (x, y) = self.page.at(at);
                let drop = at[1] * self.page.scale;
                self.shape(
                    "strap",
                    format!(
                        "M{:.1} {y:.1}h14M{:.1} {y:.1}v{drop:.1}M{:.1} {y:.1}v{drop:.1}",
                        x - 7.0,
                        x - 5.0,
                        x + 5.0
                    ),
                );
            }
            Prop::Wheel(at, radius) => {
                let d = self.page.circle(at, radius * self.page.scale);
                self.shape("wheel-shape", d);
            }
            Prop::Pack(at) => {
                let (x, y) = self.page.at(at);
                self.shape("prop", format!("M{:.1} {:.1}h22v14h-22Z", x - 11.0, y - 8.0));
            }
            _ => {}
        }
    }

    fn joint(&mut self, figure: &Figure) {
        let d = self.page.circle(figure.joint, 4.2);
        self.shape("joint-at-work", d);
        for arm in &figure.end.arms {
            let d = self.page.circle(arm[2], 3.4);
            self.shape("hand", d);
        }
    }

    fn measure(&mut self, measure: &Measure, figure: &Figure, movable: bool) {
        // The floor is no height worth a figure, but a place from which to drag.
        if measure.value.abs() < 0.02 && !measure.quantity.is_angle() && !movable {
            return;
        }
        let text = format!("{} {}", measure.quantity.label(), value_text(measure));
        match measure.quantity {
            Quantity::AnchorDistance => self.distance(measure, figure, &text),
            Quantity::BodyAngle | Quantity::BenchAngle => self.angle(measure, &text),
            _ => self.height(measure, &text),
        }
        if movable {
            self.grip(measure, figure);
        }
    }

    fn distance(&mut self, measure: &Measure, figure: &Figure, text: &str) {
        let (x0, y0) = self.page.at(measure.from);
        let (x1, y1) = self.page.at(measure.to);
        if figure.sight == Sight::Above && (y1 - y0).abs() > (x1 - x0).abs() {
            // Along the picture's height, beside the figure.
            let x = x0 + 16.0;
            self.shape("measure", format!("M{x:.1} {y0:.1}V{y1:.1}M{:.1} {y0:.1}h8M{:.1} {y1:.1}h8", x - 4.0, x - 4.0));
            self.labels.near("measure-text", x + 5.0, 0.5 * (y0 + y1), text);
            return;
        }
        let y = y0.max(y1) + 17.0;
        self.shape("measure", format!("M{x0:.1} {y:.1}H{x1:.1}M{x0:.1} {:.1}v8M{x1:.1} {:.1}v8", y - 4.0, y - 4.0));
        self.labels.near("measure-text", 0.5 * (x0 + x1) - 2.7 * text.len() as f64, y + 14.0, text);
    }

    fn height(&mut self, measure: &Measure, text: &str) {
        let (x, y0) = self.page.at(measure.from);
        let y1 = self.page.at(measure.to).1;
        self.shape("measure", format!("M{x:.1} {y0:.1}V{y1:.1}M{:.1} {y1:.1}h8M{:.1} {y0:.1}h8", x - 4.0, x - 4.0));
        // On the side where the room is.
        let wide = 6.4 * text.chars().count() as f64;
        let left = if x > 0.5 * WIDTH { x - wide - 6.0 } else { x + 6.0 };
        let outside = measure.quantity != Quantity::AnchorHeight;
        let left = if outside { x + 6.0 } else { left };
        self.labels.near("measure-text", left, 0.5 * (y0 + y1), text);
    }

    fn angle(&mut self, measure: &Measure, text: &str) {
        let (x, y) = self.page.at(measure.from);
        let (tx, ty) = self.page.at(measure.to);
        let radius = 30.0;
        let length = (tx - x).hypot(ty - y).max(1e-6);
        let side = if tx >= x { 1.0 } else { -1.0 };
        let (ex, ey) = (x + (tx - x) / length * radius, y + (ty - y) / length * radius);
        let sweep = i32::from(side < 0.0);
        self.shape(
            "measure",
            format!("M{:.1} {y:.1}A{radius} {radius} 0 0 {sweep} {ex:.1} {ey:.1}", x + side * radius),
        );
        let at = x + side * (radius + 6.0) - if side < 0.0 { 5.6 * text.len() as f64 } else { 0.0 };
        self.labels.near("measure-text", at, y - 6.0, text);
    }

    fn grip(&mut self, measure: &Measure, figure: &Figure) {
        let (mut x, y) = self.page.at(measure.to);
        let per = 1.0 / self.page.scale;
        let away = if measure.to[0] >= measure.from[0] { 1.0 } else { -1.0 };
        let per = match measure.quantity {
            Quantity::AnchorDistance if figure.sight == Sight::Above => {
                let up = if measure.from[1] > measure.to[1] { -1.0 } else { 1.0 };
                [0.0, up * per]
            }
            Quantity::AnchorDistance => [away * per, 0.0],
            Quantity::BodyAngle | Quantity::BenchAngle => {
                let reach = (measure.to[0] - measure.from[0]).hypot(measure.to[1] - measure.from[1]);
                [0.0, -(per / reach.max(0.1)).to_degrees()]
            }
            _ => [0.0, -per],
        };
        let mut at_y = y;
        if measure.quantity == Quantity::AnchorDistance {
            // Of a distance the anchor's end moves from above, the body's end from the side.
            if figure.sight == Sight::Above {
                (x, at_y) = self.page.at(measure.from);
            } else {
                at_y = self.page.at([0.0, 0.0]).1 + 17.0;
            }
        }
        self.grips.push(Grip {
            x: format!("{x:.1}"),
            y: format!("{at_y:.1}"),
            field: measure.quantity.field(),
            label: format!("{} {}", measure.quantity.label(), value_text(measure)),
            value: trim_number(measure.value, 3),
            per: per.map(|v| format!("{v:.5}")),
            step: if measure.quantity.is_angle() { "1" } else { "0.05" },
        });
    }

    /// The load at either end of the ribbon.
    fn loads(&mut self, figure: &Figure, assembly: Option<&Assembly>) {
        let Some(assembly) = assembly else { return };
        let text = |share: f64| {
            let value = assembly.profile.at(share);
            if assembly.moment {
                format!("{:.0} % of peak", (value / assembly.profile.peak()).max(0.0) * 100.0)
            } else {
                format!("{} kg", trim_number(bavrek_core::units::Kilograms(value / GRAVITY).two_figures().value(), 1))
            }
        };
        let (first, last) = (self.page.at(figure.path[0]), self.page.at(figure.path[PATH - 1]));
        self.labels.near("load-text", last.0 + 15.0, last.1 - 8.0, &text(1.0));
        if (first.0 - last.0).hypot(first.1 - last.1) > 14.0 {
            self.labels.near("load-text", first.0 + 13.0, first.1 + 14.0, &text(0.0));
        }
    }
}

fn mid(a: Point, b: Point, share: f64) -> Point {
    [a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share]
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
