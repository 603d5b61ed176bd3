//! What each kind of kit looks like, and where it goes.

use bavrek_core::kit::{Barbell, KitItem};
use bavrek_core::units::{Metres, trim_number};
use uuid::Uuid;

use super::{Begun, FLOOR, Hold, Scene, Shape, WALL, dumbbell_size, heaviest};

impl Scene {
    /// Draws a piece.
    pub(super) fn item(&mut self, piece: Option<Uuid>, item: &KitItem, unchecked: bool) {
        let begun = Begun { piece, unchecked };
        match item {
            KitItem::Dumbbells(_) | KitItem::Kettlebells(_) | KitItem::Anchor(_) => {}
            KitItem::Rings(r) => self.begin(&begun, item.text(), height_hold(0, r.max_height_m.value())),
            KitItem::PullUpBar(b) => self.begin(&begun, item.text(), height_hold(0, b.height_m.value())),
            _ => self.begin(&begun, item.text(), Hold::Whole),
        }
        match item {
            KitItem::Dumbbells(_) | KitItem::Kettlebells(_) => self.weights(&begun, item),
            KitItem::PlateDumbbell(d) => {
                let (handle, most) = (trim_number(d.handle, 2), trim_number(heaviest(d), 2));
                let label = format!("{} × {handle}–{most}", d.count);
                self.dumbbell(heaviest(d) * d.unit.in_kilograms(), &label, d.unit.symbol());
            }
            KitItem::Barbell(b) => self.barbell(b),
            KitItem::Rack(_) => self.rack(),
            KitItem::AdjustableDumbbell(a) => {
                let label = format!("{} × {}–{}", a.count, trim_number(a.min, 1), trim_number(a.max, 1));
                self.dumbbell(a.max * a.unit.in_kilograms(), &label, a.unit.symbol());
            }
            KitItem::LoopBand(b) => {
                self.band(b.width_m.unwrap_or(Metres(0.02)), b.flat_length_m, short_band(&b.name()));
            }
            KitItem::TubeBand(b) => self.band(Metres(0.012), b.rest_length_m * 0.5, short_band(&b.name())),
            KitItem::Rings(r) => self.rings(r.max_height_m.value()),
            KitItem::PullUpBar(b) => self.bar(b.height_m.value()),
            KitItem::Anchor(a) => self.anchors(&begun, &a.heights_m, a.door == Some(true)),
            KitItem::Bench(b) => self.bench(b.height_m.map_or(0.44, Metres::value), &b.angles_deg),
            KitItem::Box(b) => self.block(0.5, b.height_m.value(), &format!("{} × box", b.count)),
            KitItem::Step(s) => self.block(0.5, s.height_m.value(), "step"),
            KitItem::Chair(_) => self.chair(),
            KitItem::Sofa(_) => self.block(0.8, 0.42, "sofa"),
            KitItem::DipBars(_) => self.block(0.6, 1.1, "dip bars"),
            KitItem::Backpack(b) => self.block(0.3, 0.45, &format!("pack {}", b.max_kg)),
            KitItem::AbWheel(_) => self.block(0.2, 0.18, "wheel"),
            KitItem::Parallettes(_) => self.block(0.35, 0.12, "handles"),
            KitItem::Wedge(_) => self.block(0.25, 0.08, "wedge"),
            KitItem::Table(t) => self.table(t.height_m.value()),
            KitItem::Helper(_) => self.helper(),
            KitItem::Towel(_) => self.block(0.3, 0.06, "towel"),
        }
    }

    /// Fixed weights, each to be taken hold of.
    fn weights(&mut self, begun: &Begun, item: &KitItem) {
        let Some((pairs, singles, unit)) = item.fixed_weights() else { return };
        for (values, count) in [(pairs, 2), (singles, 1)] {
            for value in values {
                let label = format!("{count} × {}", trim_number(*value, 1));
                let hold = Hold::Weight(trim_number(*value, 4), count == 2);
                let (kg, is_bell) = (value * unit.in_kilograms(), matches!(item, KitItem::Kettlebells(_)));
                let what = if is_bell { " kettlebell" } else { "" };
                self.begin(begun, format!("{label} {}{what}", unit.symbol()), hold);
                if is_bell {
                    self.kettlebell(kg, &label, unit.symbol());
                } else {
                    self.dumbbell(kg, &label, unit.symbol());
                }
            }
        }
    }

    /// A ball with a handle above it.
    fn kettlebell(&mut self, kg: f64, label: &str, unit: &str) {
        let r = 0.85 * dumbbell_size(kg).0;
        let text = format!("{label} {unit}");
        let (x, base) = self.place_on_shelf(2.0 * r, &text);
        let arc = format!("a{r:.1} {r:.1} 0 1 0");
        self.shape("thing", format!("M{:.1} {:.1}{arc} {:.1} 0{arc} {:.1} 0Z", x - r, base - r, 2.0 * r, -2.0 * r));
        let (w, top) = (0.62 * r, base - 2.0 * r);
        self.shape(
            "strap",
            format!("M{:.1} {:.1}V{:.1}h{:.1}V{:.1}", x - w, top + 2.0, top - 0.5 * r, 2.0 * w, top + 2.0),
        );
        self.word(x, base + 2.0 + self.letters, "middle", text);
    }

    /// A bar on the floor with its plates on both ends, heaviest inside.
    fn barbell(&mut self, bar: &Barbell) {
        let kg = bar.unit.in_kilograms();
        let mut discs: Vec<f64> = Vec::new();
        for plate in bar.plates.iter().rev() {
            discs.extend(std::iter::repeat_n(plate.weight * kg, usize::from(plate.count / 2).min(4)));
        }
        discs.truncate(6);
        let most = bar.loads().last().copied().unwrap_or(bar.bar);
        let label = format!("bar {}–{} {}", trim_number(bar.bar, 2), trim_number(most, 2), bar.unit.symbol());
        let (half, y) = (38.0_f64, FLOOR - 12.0);
        let width = (2.0 * half + 8.0).max(self.text_width(&label));
        let middle = self.floor_x + width / 2.0;
        self.shape("solid", format!("M{:.1} {:.1}h{:.1}v2.4h-{:.1}Z", middle - half, y - 1.2, 2.0 * half, 2.0 * half));
        for (nth, disc) in discs.iter().enumerate() {
            let r = (5.0 + 2.6 * disc.cbrt()).min(11.5);
            for side in [-1.0, 1.0] {
                let x = middle + side * (half - 30.0 + 4.4 * nth as f64) - 1.6;
                self.shape("thing", format!("M{x:.1} {:.1}h3.2v{:.1}h-3.2Z", y - r, 2.0 * r));
            }
        }
        self.word(middle, FLOOR + 2.0 + self.letters, "middle", label);
        self.floor_x += width + 10.0;
    }

    /// Two uprights with arms.
    fn rack(&mut self) {
        let (x, top, arm) = (self.floor_x, self.level(1.5), self.level(0.5));
        self.shape("strap", format!("M{:.1} {FLOOR:.1}V{top:.1}M{:.1} {FLOOR:.1}V{top:.1}", x + 4.0, x + 30.0));
        self.shape("solid", format!("M{:.1} {arm:.1}h12v2.4h-12ZM{:.1} {arm:.1}h12v2.4h-12Z", x + 4.0, x + 30.0));
        self.word(x, FLOOR + 2.0 + self.letters, "start", "rack");
        self.floor_x += 52.0_f64.max(self.text_width("rack") + self.letters) + 4.0;
    }

    fn dumbbell(&mut self, kg: f64, label: &str, unit: &str) {
        let r = dumbbell_size(kg).0;
        let text = format!("{label} {unit}");
        let (x, base) = self.place_on_shelf(dumbbell_size(kg).1, &text);
        let y = base - r;
        let head =
            |cx: f64| format!("M{:.1} {:.1}h{:.1}v{:.1}h-{:.1}Z", cx - r * 0.45, y - r, r * 0.9, 2.0 * r, r * 0.9);
        self.shape("solid", format!("M{:.1} {:.1}h{:.1}v2.4h-{:.1}Z", x - r * 1.5, y - 1.2, 3.0 * r, 3.0 * r));
        self.shape("thing", head(x - r * 1.4));
        self.shape("thing", head(x + r * 1.4));
        self.word(x, base + 2.0 + self.letters, "middle", text);
    }

    /// A loop hung up at two metres: its length to scale, its stroke as wide as the band.
    fn band(&mut self, width: Metres, length: Metres, label: String) {
        let (x, top) = (self.wall_x + 8.0, self.level(2.25));
        let bottom = top + length.value() * self.metre;
        self.push(Shape {
            d: format!("M{:.1} {top:.1}v{:.1}a5 5 0 0 0 10 0V{top:.1}a5 5 0 0 0-10 0", x - 5.0, bottom - top - 5.0),
            class: "band-shape",
            width: Some(format!("{:.1}", (width.value() * 90.0).clamp(1.0, 6.0))),
        });
        // Neighbours' labels stand at two heights above them, so that they do not run into each other.
        let up = if self.bands.is_multiple_of(2) { 4.0 } else { 5.0 + self.letters };
        self.bands += 1;
        self.word(x, top - 6.0 - up, "middle", label);
        self.wall_x += 36.0_f64.max(5.0 * self.letters);
    }

    fn rings(&mut self, height: f64) {
        let x = self.wall_x + 14.0;
        let y = self.level(height);
        for dx in [-8.0, 8.0] {
            let cx = x + dx;
            self.shape("strap", format!("M{cx:.1} {:.1}V{y:.1}", FLOOR - WALL));
            self.shape("thing", format!("M{cx:.1} {y:.1}a6 6 0 1 0 .1 0"));
        }
        self.word(x, y + 16.0 + self.letters, "middle", format!("rings {} m", trim_number(height, 2)));
        self.wall_x += 44.0_f64.max(self.text_width("rings 2.25 m") + 4.0);
    }

    fn bar(&mut self, height: f64) {
        let (x, y) = (self.wall_x, self.level(height));
        self.shape("strap", format!("M{:.1} {y:.1}v-14M{:.1} {y:.1}v-14", x + 4.0, x + 44.0));
        self.shape("solid", format!("M{x:.1} {:.1}h48v3h-48Z", y - 1.5));
        self.word(x + 24.0, y + 4.0 + self.letters, "middle", format!("bar {} m", trim_number(height, 2)));
        self.wall_x += 58.0;
    }

    fn anchors(&mut self, begun: &Begun, heights: &[f64], door: bool) {
        for (i, height) in heights.iter().enumerate() {
            let kind = if door { "door anchor" } else { "anchor" };
            let text = trim_number(*height, 2);
            self.begin(begun, format!("{kind} at {text} m"), height_hold(i, *height));
            let y = self.level(*height);
            self.shape("anchor-shape", format!("M38 {:.1}l5 5-5 5-5-5Z", y - 5.0));
            self.word(46.0, y + 3.5, "start", text);
            if door && i == 0 {
                let top = self.level(2.05);
                self.shape("scale", format!("M31 {top:.1}h-7V{FLOOR:.1}"));
            }
        }
    }

    fn block(&mut self, width: f64, height: f64, label: &str) {
        let (w, h) = (width * self.metre, (height * self.metre).max(4.0));
        self.shape("thing", format!("M{:.1} {FLOOR:.1}v-{h:.1}h{w:.1}v{h:.1}Z", self.floor_x));
        self.word(self.floor_x, FLOOR + 2.0 + self.letters, "start", label);
        self.floor_x += w.max(self.text_width(label) + self.letters) + 10.0;
    }

    fn chair(&mut self) {
        let x = self.floor_x;
        let (seat, back) = (self.level(0.45), self.level(0.9));
        self.shape("strap", format!("M{x:.1} {back:.1}V{FLOOR:.1}M{x:.1} {seat:.1}h28V{FLOOR:.1}"));
        self.word(x, FLOOR + 2.0 + self.letters, "start", "chair");
        self.floor_x += 38.0_f64.max(self.text_width("chair ?") + 8.0);
    }

    /// Somebody, as tall as people are.
    fn helper(&mut self) {
        let (head, shoulder, hip) = (self.level(1.6), self.level(1.42), self.level(0.85));
        let (r, middle) = (0.11 * self.metre, self.floor_x + 16.0);
        let arc = |sweep: &str| format!("a{r:.1} {r:.1} 0 1 {sweep}");
        self.shape(
            "strap",
            format!("M{:.1} {head:.1}{} {:.1} 0{} {:.1} 0", middle - r, arc("1"), 2.0 * r, arc("1"), -2.0 * r),
        );
        self.shape(
            "strap",
            format!(
                "M{middle:.1} {:.1}V{hip:.1}L{:.1} {FLOOR:.1}M{middle:.1} {hip:.1}L{:.1} {FLOOR:.1}",
                head + r,
                middle - 8.0,
                middle + 8.0
            ),
        );
        self.shape(
            "strap",
            format!("M{:.1} {hip:.1}L{middle:.1} {shoulder:.1}L{:.1} {hip:.1}", middle - 14.0, middle + 14.0),
        );
        self.word(self.floor_x, FLOOR + 2.0 + self.letters, "start", "helper");
        self.floor_x += 32.0_f64.max(self.text_width("helper") + self.letters) + 10.0;
    }

    fn table(&mut self, height: f64) {
        let (x, top) = (self.floor_x, self.level(height));
        self.shape("thing", format!("M{x:.1} {top:.1}h64v4h-64Z"));
        self.shape("strap", format!("M{:.1} {top:.1}V{FLOOR:.1}M{:.1} {top:.1}V{FLOOR:.1}", x + 5.0, x + 59.0));
        self.word(x, FLOOR + 2.0 + self.letters, "start", "table");
        self.floor_x += 74.0;
    }

    fn bench(&mut self, height: f64, angles: &[f64]) {
        let (x, y) = (self.floor_x, self.level(height));
        self.shape("thing", format!("M{x:.1} {y:.1}h70v-5h-70Z"));
        self.shape("strap", format!("M{:.1} {y:.1}V{FLOOR:.1}M{:.1} {y:.1}V{FLOOR:.1}", x + 10.0, x + 60.0));
        for angle in angles.iter().filter(|a| a.abs() > 1.0) {
            let (sin, cos) = angle.to_radians().sin_cos();
            self.shape("third", format!("M{:.1} {:.1}l{:.1} {:.1}", x + 26.0, y - 5.0, 44.0 * cos, -44.0 * sin));
        }
        let list: Vec<_> = angles.iter().map(|a| trim_number(*a, 0)).collect();
        let label = format!("bench {}°", list.join(", "));
        self.floor_x += self.text_width(&label).max(70.0) + 10.0;
        self.word(x, FLOOR + 2.0 + self.letters, "start", label);
    }
}

fn height_hold(index: usize, height: f64) -> Hold {
    Hold::Height(index, trim_number(height, 2))
}

fn short_band(name: &str) -> String {
    let short = name.replace("loop ", "").replace(" loop", "");
    short.chars().take(14).collect()
}
