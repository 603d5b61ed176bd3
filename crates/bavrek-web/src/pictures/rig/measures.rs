//! Measures with their figures and handles, and the loads at the ribbon's ends.

use super::{Assembly, Drawer, Figure, GRAVITY, Grip, Measure, PATH, Quantity, Sight, trim_number, value_text};

impl Drawer {
    pub(super) fn measure(&mut self, measure: &Measure, figure: &Figure, movable: bool) {
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
        if movable && measure.movable {
            self.grip(measure, figure);
        }
    }

    pub(super) fn distance(&mut self, measure: &Measure, figure: &Figure, text: &str) {
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

    pub(super) fn height(&mut self, measure: &Measure, text: &str) {
        let (x, y0) = self.page.at(measure.from);
        let y1 = self.page.at(measure.to).1;
        self.shape("measure", format!("M{x:.1} {y0:.1}V{y1:.1}M{:.1} {y1:.1}h8M{:.1} {y0:.1}h8", x - 4.0, x - 4.0));
        // On the side where the room is.
        let wide = 6.4 * text.chars().count() as f64;
        let left = if x > 0.5 * self.page.size[0] { x - wide - 6.0 } else { x + 6.0 };
        let outside = measure.quantity != Quantity::AnchorHeight;
        let left = if outside { x + 6.0 } else { left };
        self.labels.near("measure-text", left, 0.5 * (y0 + y1), text);
    }

    pub(super) fn angle(&mut self, measure: &Measure, text: &str) {
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

    pub(super) fn grip(&mut self, measure: &Measure, figure: &Figure) {
        let (mut x, y) = self.page.at(measure.to);
        let per = 1.0 / self.page.scale;
        let away = if measure.to[0] >= measure.from[0] { 1.0 } else { -1.0 };
        let per = match measure.quantity {
            Quantity::AnchorDistance if figure.sight == Sight::Above => {
                // The anchor's end moves, whichever way it lies.
                let way = [measure.from[0] - measure.to[0], measure.from[1] - measure.to[1]];
                let length = way[0].hypot(way[1]).max(0.01);
                [way[0] / length * per, -way[1] / length * per]
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
    pub(super) fn loads(&mut self, figure: &Figure, assembly: Option<&Assembly>) {
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
