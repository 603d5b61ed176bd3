//! The body in its two positions.

use super::{Arm, Body, Drawer, Figure, HEAD, Point, Sight, Trunk};

impl Drawer {
    /// The lengthened position: only what moves, dashed.
    pub(super) fn ghost(&mut self, start: &Body, end: &Body) {
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

    pub(super) fn body(&mut self, body: &Body, sight: Sight) {
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

    pub(super) fn section(&mut self, middle: Point, half: [f64; 2], sight: Sight) {
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

    pub(super) fn arm(&mut self, arm: &Arm) {
        if arm[0] != arm[1] {
            self.limb(&arm[..2], 0.042);
        }
        self.limb(&arm[1..], 0.034);
        for p in [arm[0], arm[1]] {
            let d = self.page.circle(p, 2.6);
            self.shape("joint", d);
        }
    }

    pub(super) fn joint(&mut self, figure: &Figure) {
        let d = self.page.circle(figure.joint, 4.2);
        self.shape("joint-at-work", d);
        for arm in &figure.end.arms {
            let d = self.page.circle(arm[2], 3.4);
            self.shape("hand", d);
        }
    }
}
