//! The kit shelf and wall: dumbbells to scale on a shelf, the rest on a wall with a metre scale.

use askama::Template;
use bavrek_core::kit::KitItem;
use bavrek_core::units::{Metres, trim_number};

/// Pixels in a metre of wall.
const METRE: f64 = 72.0;
const FLOOR: f64 = 208.0;
/// Furthest left and right that the shelf may begin; it follows what hangs and stands beside it.
const SHELF_FROM: (f64, f64) = (150.0, 268.0);
const SHELF_RIGHT: f64 = 430.0;
const ROW: f64 = 58.0;
/// Heights written on the scale.
const MARKS: [f64; 6] = [0.0, 0.5, 1.0, 1.5, 2.0, 2.5];

#[derive(Template)]
#[template(path = "pictures/shelf.svg", escape = "html")]
pub(crate) struct Shelf {
    title: String,
    marks: Vec<(String, String)>,
    shapes: Vec<Shape>,
    words: Vec<Word>,
    rows: Vec<String>,
}

struct Shape {
    d: String,
    class: &'static str,
    width: Option<String>,
}

struct Word {
    x: String,
    y: String,
    text: String,
    anchor: &'static str,
}

struct Scene {
    shapes: Vec<Shape>,
    words: Vec<Word>,
    /// Next free place on the wall and on the floor.
    wall_x: f64,
    floor_x: f64,
    /// Left edge of the shelf, and the next free place on it.
    shelf: f64,
    shelf_x: f64,
    shelf_row: usize,
    bands: usize,
}

/// Draws what a place holds.
pub(crate) fn draw(place: &str, kit: &[KitItem]) -> Shelf {
    let mut scene = Scene {
        shapes: Vec::new(),
        words: Vec::new(),
        wall_x: 84.0,
        floor_x: 84.0,
        shelf: 0.0,
        shelf_x: 0.0,
        shelf_row: 0,
        bands: 0,
    };
    let shelved = |item: &&KitItem| matches!(item, KitItem::Dumbbells(_) | KitItem::AdjustableDumbbell(_));
    for item in kit.iter().filter(|i| !shelved(i)) {
        scene.item(item);
    }
    scene.shelf = (scene.wall_x.max(scene.floor_x) + 8.0).clamp(SHELF_FROM.0, SHELF_FROM.1);
    scene.shelf_x = scene.shelf + 6.0;
    for item in kit.iter().filter(shelved) {
        scene.item(item);
    }
    let listed: Vec<_> = kit.iter().map(KitItem::text).collect();
    Shelf {
        title: if kit.is_empty() {
            format!("{place}: nothing but the floor")
        } else {
            format!("{place}: {}", listed.join("; "))
        },
        marks: MARKS.iter().map(|h| (format!("{:.1}", level(*h)), trim_number(*h, 1))).collect(),
        rows: (0..=scene.shelf_row)
            .filter(|_| kit.iter().any(|i| shelved(&i)))
            .map(|r| format!("M{:.1} {:.1}H432", scene.shelf, shelf_y(r) + 1.0))
            .collect(),
        shapes: scene.shapes,
        words: scene.words,
    }
}

fn level(metres: f64) -> f64 {
    FLOOR - metres * METRE
}

fn shelf_y(row: usize) -> f64 {
    58.0 + ROW * row as f64
}

impl Scene {
    fn shape(&mut self, class: &'static str, d: String) {
        self.shapes.push(Shape { d, class, width: None });
    }

    fn word(&mut self, x: f64, y: f64, anchor: &'static str, text: impl Into<String>) {
        self.words.push(Word { x: format!("{x:.1}"), y: format!("{y:.1}"), text: text.into(), anchor });
    }

    fn item(&mut self, item: &KitItem) {
        match item {
            KitItem::Dumbbells(d) => {
                for (values, count) in [(&d.pairs, 2), (&d.singles, 1)] {
                    for value in values {
                        let label = format!("{count} × {}", trim_number(*value, 1));
                        self.dumbbell(value * d.unit.in_kilograms(), &label, d.unit.symbol());
                    }
                }
            }
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
            KitItem::Anchor(a) => self.anchors(&a.heights_m, a.door == Some(true)),
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
            KitItem::Towel(_) => self.block(0.3, 0.06, "towel"),
        }
    }

    /// A dumbbell whose heads grow with the cube root of its mass, as volume does.
    fn dumbbell(&mut self, kg: f64, label: &str, unit: &str) {
        let r = 3.0 + 4.6 * (kg / 2.0).cbrt();
        let width = (4.4 * r).max(46.0);
        if self.shelf_x + width > SHELF_RIGHT {
            self.shelf_x = self.shelf + 6.0;
            self.shelf_row += 1;
        }
        let (x, base) = (self.shelf_x + width / 2.0, shelf_y(self.shelf_row));
        let y = base - r;
        let head =
            |cx: f64| format!("M{:.1} {:.1}h{:.1}v{:.1}h-{:.1}Z", cx - r * 0.45, y - r, r * 0.9, 2.0 * r, r * 0.9);
        self.shape("solid", format!("M{:.1} {:.1}h{:.1}v2.4h-{:.1}Z", x - r * 1.5, y - 1.2, 3.0 * r, 3.0 * r));
        self.shape("thing", head(x - r * 1.4));
        self.shape("thing", head(x + r * 1.4));
        self.word(x, base + 12.0, "middle", format!("{label} {unit}"));
        self.shelf_x += width + 6.0;
    }

    /// A loop hung up at two metres: its length to scale, its stroke as wide as the band.
    fn band(&mut self, width: Metres, length: Metres, label: String) {
        let (x, top) = (self.wall_x + 8.0, level(2.25));
        let bottom = top + length.value() * METRE;
        self.shapes.push(Shape {
            d: format!("M{:.1} {top:.1}v{:.1}a5 5 0 0 0 10 0V{top:.1}a5 5 0 0 0-10 0", x - 5.0, bottom - top - 5.0),
            class: "band-shape",
            width: Some(format!("{:.1}", (width.value() * 90.0).clamp(1.0, 6.0))),
        });
        // Neighbours' labels stand at two heights, so that they do not run into each other.
        let low = if self.bands.is_multiple_of(2) { 14.0 } else { 26.0 };
        self.bands += 1;
        self.word(x, bottom + low, "middle", label);
        self.wall_x += 36.0;
    }

    fn rings(&mut self, height: f64) {
        let x = self.wall_x + 14.0;
        let y = level(height.min(2.6));
        for dx in [-8.0, 8.0] {
            let cx = x + dx;
            self.shape("strap", format!("M{cx:.1} {:.1}V{:.1}", level(2.75), y));
            self.shape("thing", format!("M{cx:.1} {y:.1}a6 6 0 1 0 .1 0"));
        }
        self.word(x, y + 26.0, "middle", "rings");
        self.wall_x += 44.0;
    }

    fn bar(&mut self, height: f64) {
        let (x, y) = (self.wall_x, level(height.min(2.7)));
        self.shape("strap", format!("M{:.1} {y:.1}v-14M{:.1} {y:.1}v-14", x + 4.0, x + 44.0));
        self.shape("solid", format!("M{x:.1} {:.1}h48v3h-48Z", y - 1.5));
        self.word(x + 24.0, y + 14.0, "middle", format!("bar {height} m"));
        self.wall_x += 58.0;
    }

    fn anchors(&mut self, heights: &[f64], door: bool) {
        for height in heights {
            let y = level(height.min(2.75));
            self.shape("anchor-shape", format!("M38 {:.1}l5 5-5 5-5-5Z", y - 5.0));
            self.word(46.0, y + 3.5, "start", trim_number(*height, 2));
        }
        if door {
            self.shape("scale", format!("M31 {:.1}h-7V{FLOOR:.1}", level(2.05)));
        }
    }

    fn block(&mut self, width: f64, height: f64, label: &str) {
        let (w, h) = (width * METRE, (height * METRE).max(4.0));
        self.shape("thing", format!("M{:.1} {FLOOR:.1}v-{h:.1}h{w:.1}v{h:.1}Z", self.floor_x));
        self.word(self.floor_x, FLOOR + 12.0, "start", label);
        self.floor_x += w.max(5.2 * label.chars().count() as f64) + 10.0;
    }

    fn chair(&mut self) {
        let x = self.floor_x;
        let (seat, back) = (level(0.45), level(0.9));
        self.shape("strap", format!("M{x:.1} {back:.1}V{FLOOR:.1}M{x:.1} {seat:.1}h28V{FLOOR:.1}"));
        self.word(x, FLOOR + 12.0, "start", "chair");
        self.floor_x += 42.0;
    }

    fn table(&mut self, height: f64) {
        let (x, top) = (self.floor_x, level(height));
        self.shape("thing", format!("M{x:.1} {top:.1}h64v4h-64Z"));
        self.shape("strap", format!("M{:.1} {top:.1}V{FLOOR:.1}M{:.1} {top:.1}V{FLOOR:.1}", x + 5.0, x + 59.0));
        self.word(x, FLOOR + 12.0, "start", "table");
        self.floor_x += 74.0;
    }

    fn bench(&mut self, height: f64, angles: &[f64]) {
        let (x, y) = (self.floor_x, level(height));
        self.shape("thing", format!("M{x:.1} {y:.1}h70v-5h-70Z"));
        self.shape("strap", format!("M{:.1} {y:.1}V{FLOOR:.1}M{:.1} {y:.1}V{FLOOR:.1}", x + 10.0, x + 60.0));
        for angle in angles.iter().filter(|a| a.abs() > 1.0) {
            let (sin, cos) = angle.to_radians().sin_cos();
            self.shape("third", format!("M{:.1} {:.1}l{:.1} {:.1}", x + 26.0, y - 5.0, 44.0 * cos, -44.0 * sin));
        }
        let list: Vec<_> = angles.iter().map(|a| trim_number(*a, 0)).collect();
        let label = format!("bench {}°", list.join(", "));
        self.floor_x += (5.2 * label.chars().count() as f64).max(70.0) + 10.0;
        self.word(x, FLOOR + 12.0, "start", label);
    }
}

fn short_band(name: &str) -> String {
    let short = name.replace("loop ", "").replace(" loop", "");
    short.chars().take(14).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use bavrek_core::kit::{Anchor, Dumbbells, PullUpBar};

    #[test]
    fn heights_are_to_scale() {
        let kit = [
            KitItem::Anchor(Anchor { heights_m: vec![1.0, 2.0], door: None }),
            KitItem::PullUpBar(PullUpBar { height_m: Metres(2.0) }),
        ];
        let shelf = draw("here", &kit);
        let y = |text: &str| shelf.words.iter().find(|w| w.text == text).unwrap().y.parse::<f64>().unwrap();
        assert!((y("1") - y("2") - METRE).abs() < 0.11);
    }

    #[test]
    fn a_full_shelf_starts_another_row_and_nothing_leaves_it() {
        let pairs = (1..=8).map(|k| 4.0 * f64::from(k)).collect();
        let shelf = draw("here", &[KitItem::Dumbbells(Dumbbells { pairs, ..Dumbbells::default() })]);
        assert!(shelf.rows.len() > 1);
        assert!(shelf.words.iter().all(|w| w.x.parse::<f64>().unwrap() < SHELF_RIGHT));
    }

    #[test]
    fn labels_of_users_are_escaped() {
        let band = bavrek_core::kit::LoopBand { label: Some("<b>".into()), ..Default::default() };
        let svg = draw("a & b", &[KitItem::LoopBand(band)]).render().unwrap();
        assert!(!svg.contains("<b>") && !svg.contains("a & b"));
    }
}
