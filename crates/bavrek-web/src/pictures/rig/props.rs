//! Floor, walls, supports, bands, and what is in the hand.

use std::fmt::Write;

use super::{BandLine, Drawer, Figure, Point, Prop, trim_number};

impl Drawer {
    pub(super) fn floor(&mut self, figure: &Figure) {
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
    pub(super) fn behind(&mut self, prop: &Prop, floor: f64) {
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
    pub(super) fn wall(&mut self, x: f64, side: f64) {
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

    pub(super) fn band(&mut self, band: &BandLine) {
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
    pub(super) fn before(&mut self, prop: &Prop) {
        match *prop {
            Prop::Weight(at) => {
                let (x, y) = self.page.at(at);
                self.shape("weight", format!("M{:.1} {:.1}h4v12h-4Zm8 4h-4v4h4Zm0-4h4v12h-4Z", x - 8.0, y - 6.0));
            }
            Prop::BarEnd(at) => {
                // The rim of a plate, its hub, and the bar's end.
                for r in [10.0, 3.0] {
                    let d = self.page.circle(at, r);
                    self.shape(if r > 5.0 { "ring-shape" } else { "solid" }, d);
                }
            }
            Prop::Barbell([from, to]) => {
                let ((x1, y1), (x2, y2)) = (self.page.at(from), self.page.at(to));
                let (left, right) = (x1.min(x2) - 26.0, x1.max(x2) + 26.0);
                let y = f64::midpoint(y1, y2);
                self.shape("strap", format!("M{left:.1} {y:.1}H{right:.1}"));
                let disc = |x: f64| format!("M{x:.1} {:.1}h4v20h-4Z", y - 10.0);
                self.shape("weight", format!("{}{}", disc(left + 4.0), disc(right - 8.0)));
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
}

fn mid(a: Point, b: Point, share: f64) -> Point {
    [a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share]
}
