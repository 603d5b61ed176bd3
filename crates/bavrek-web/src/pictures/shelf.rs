//! The kit shelf and wall: dumbbells to scale on a shelf, the rest on a wall with a metre scale.
//!
//! On the page of a place every piece can be taken hold of: heights are dragged or moved with the arrow keys, and what
//! is no longer there is removed with the delete key.

use askama::Template;
use bavrek_core::kit::{Barbell, KitItem, PlateDumbbell};
use bavrek_core::units::{Metres, trim_number};
use bavrek_store::kit::Piece;
use uuid::Uuid;

/// Height of the picture that is wall, pixels.
const WALL: f64 = 196.0;
/// Pixels in a metre of wall, where nothing hangs higher than a usual ceiling.
const METRE: f64 = 72.0;
const FLOOR: f64 = 208.0;
/// Width of the picture, pixels, unless a full room needs more.
const WIDTH: f64 = 440.0;
/// Left edge of what hangs and stands.
const LEFT: f64 = 84.0;
/// Least width of the shelf, and the distance of its two boards.
const SHELF_WIDTH: f64 = 170.0;
const ROW: f64 = 54.0;
/// Size of letters at the usual width: on the page of a place the picture is shown larger.
const LETTERS: f64 = 10.0;
const LETTERS_LIVE: f64 = 7.0;
/// How much letters may grow in a wide picture: beyond it they would need the room that they are to be read in.
const MOST_GROWTH: f64 = 1.5;
/// Width of a letter over its size.
const LETTER_WIDTH: f64 = 0.52;
/// Heights written on the scale.
const MARKS: [f64; 8] = [0.0, 0.5, 1.0, 1.5, 2.0, 2.5, 3.0, 3.5];

#[derive(Template)]
#[template(path = "pictures/shelf.svg", escape = "html")]
pub(crate) struct Shelf {
    title: String,
    marks: Vec<(String, String)>,
    rows: Vec<String>,
    things: Vec<Thing>,
    /// Whether pieces can be taken hold of.
    live: bool,
    /// Pixels in a metre.
    metre: String,
    width: String,
    letters: String,
}

/// Something on the wall, on the floor or on the shelf.
struct Thing {
    piece: Option<Uuid>,
    /// What it is, in words.
    label: String,
    /// Not used before its check is answered.
    unchecked: bool,
    shapes: Vec<Shape>,
    words: Vec<Word>,
    hold: Hold,
}

/// How a thing is taken hold of.
enum Hold {
    /// Only as a whole.
    Whole,
    /// One weight of several: its figure, and whether it is a pair.
    Weight(String, bool),
    /// A height that can be moved: which one, and how high it is.
    Height(usize, String),
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
    things: Vec<Thing>,
    /// Pixels in a metre.
    metre: f64,
    /// Size of letters.
    letters: f64,
    /// Next free place on the wall and on the floor.
    wall_x: f64,
    floor_x: f64,
    /// Left and right edge of the shelf, and the next free place on it.
    shelf: (f64, f64),
    shelf_x: f64,
    shelf_row: usize,
    bands: usize,
}

/// Weights stand on the shelf, everything else hangs or stands in the room.
const fn shelved(item: &KitItem) -> bool {
    use KitItem::{AdjustableDumbbell, Dumbbells, Kettlebells, PlateDumbbell};
    matches!(item, Dumbbells(_) | AdjustableDumbbell(_) | PlateDumbbell(_) | Kettlebells(_))
}

/// Draws what a place holds, to be looked at.
pub(crate) fn draw(place: &str, kit: &[KitItem]) -> Shelf {
    let items: Vec<_> = kit.iter().map(|item| (None, item, false)).collect();
    drawn(place, &items, false)
}

/// Draws what a place holds, to be taken hold of.
pub(crate) fn draw_pieces(place: &str, pieces: &[Piece]) -> Shelf {
    let items: Vec<_> = pieces.iter().map(|p| (Some(p.id), &p.item, !p.usable())).collect();
    drawn(place, &items, true)
}

fn drawn(place: &str, items: &[(Option<Uuid>, &KitItem, bool)], live: bool) -> Shelf {
    let letters = if live { LETTERS_LIVE } else { LETTERS };
    // A wider picture is shown smaller, so its letters grow with it, and what it needs with them, up to a limit.
    let mut scene = Scene::of(items, letters);
    for _ in 0..2 {
        scene = Scene::of(items, letters * (scene.width() / WIDTH).min(MOST_GROWTH));
    }
    let (width, metre) = (scene.width(), scene.metre);
    let listed: Vec<_> = items.iter().map(|(_, item, _)| item.text()).collect();
    let marks = MARKS.iter().filter(|h| *h * metre <= WALL);
    let boards = if items.iter().any(|(_, i, _)| shelved(i)) { scene.shelf_row + 1 } else { 0 };
    Shelf {
        title: if items.is_empty() {
            format!("{place}: nothing but the floor")
        } else {
            format!("{place}: {}", listed.join("; "))
        },
        marks: marks.map(|h| (format!("{:.1}", FLOOR - h * metre), trim_number(*h, 1))).collect(),
        rows: (0..boards)
            .map(|r| format!("M{:.1} {:.1}H{:.1}", scene.shelf.0, shelf_y(r) + 1.0, scene.shelf.1))
            .collect(),
        letters: format!("{:.1}", scene.letters),
        things: scene.things,
        live,
        metre: format!("{metre:.2}"),
        width: format!("{width:.0}"),
    }
}

fn shelf_y(row: usize) -> f64 {
    50.0 + ROW * row as f64
}

/// Height of a dumbbell's head over two, and the width it takes: it grows with the cube root of its mass, as volume does.
fn dumbbell_size(kg: f64) -> (f64, f64) {
    let r = 3.0 + 4.6 * (kg / 2.0).cbrt();
    (r, 4.4 * r)
}

impl Scene {
    fn of(items: &[(Option<Uuid>, &KitItem, bool)], letters: f64) -> Self {
        let highest = items.iter().flat_map(|(_, item, _)| item.heights()).fold(0.0, f64::max);
        let mut scene = Self {
            things: Vec::new(),
            metre: if highest > 2.6 { WALL / (highest + 0.15) } else { METRE },
            letters,
            wall_x: LEFT,
            floor_x: LEFT,
            shelf: (0.0, 0.0),
            shelf_x: 0.0,
            shelf_row: 0,
            bands: 0,
        };
        for (piece, item, unchecked) in items.iter().filter(|(_, i, _)| !shelved(i)) {
            scene.item(*piece, item, *unchecked);
        }
        // Two boards above what stands on the floor, wide enough for all weights.
        let widths = items.iter().flat_map(|(_, item, _)| scene.widths(item));
        let (sum, widest) = widths.fold((0.0, 0.0), |(sum, widest), w| (sum + w, f64::max(widest, w)));
        let left = (scene.wall_x + 8.0).max(150.0);
        scene.shelf = (left, (left + f64::max(SHELF_WIDTH, sum / 2.0 + widest)).max(WIDTH - 8.0));
        scene.shelf_x = left + 6.0;
        for (piece, item, unchecked) in items.iter().filter(|(_, i, _)| shelved(i)) {
            scene.item(*piece, item, *unchecked);
        }
        scene.name_what_is_seen();
        scene
    }

    /// Width of the whole picture.
    fn width(&self) -> f64 {
        let shelf = if self.shelf_x > self.shelf.0 + 6.0 || self.shelf_row > 0 { self.shelf.1 } else { 0.0 };
        (self.wall_x.max(self.floor_x).max(shelf) + 8.0).max(WIDTH)
    }

    /// What each weight of an item takes on the shelf.
    fn widths(&self, item: &KitItem) -> Vec<f64> {
        let room = |kg: f64| dumbbell_size(kg).1.max(9.0 * LETTER_WIDTH * self.letters) + 6.0;
        match item {
            KitItem::AdjustableDumbbell(a) => vec![room(a.max * a.unit.in_kilograms()) + 20.0],
            KitItem::PlateDumbbell(d) => vec![room(heaviest(d) * d.unit.in_kilograms()) + 20.0],
            _ => match item.fixed_weights() {
                Some((pairs, singles, unit)) => {
                    pairs.iter().chain(singles).map(|v| room(v * unit.in_kilograms())).collect()
                }
                None => Vec::new(),
            },
        }
    }

    /// The name that is read out holds the words that are seen.
    fn name_what_is_seen(&mut self) {
        for thing in &mut self.things {
            let words = thing.words.iter().map(|w| w.text.as_str());
            let unsaid: Vec<_> = words.filter(|w| !thing.label.contains(w)).collect();
            if !unsaid.is_empty() {
                thing.label = format!("{}: {}", unsaid.join(" "), thing.label);
            }
        }
    }

    /// Width of a text.
    fn text_width(&self, text: &str) -> f64 {
        LETTER_WIDTH * self.letters * text.chars().count() as f64
    }

    fn level(&self, metres: f64) -> f64 {
        FLOOR - metres * self.metre
    }

    /// What is drawn from now on belongs to a new thing.
    fn begin(&mut self, like: &Begun, label: String, hold: Hold) {
        self.things.push(Thing {
            piece: like.piece,
            label,
            unchecked: like.unchecked,
            shapes: Vec::new(),
            words: Vec::new(),
            hold,
        });
    }

    fn shape(&mut self, class: &'static str, d: String) {
        self.push(Shape { d, class, width: None });
    }

    fn push(&mut self, shape: Shape) {
        if let Some(thing) = self.things.last_mut() {
            thing.shapes.push(shape);
        }
    }

    fn word(&mut self, x: f64, y: f64, anchor: &'static str, text: impl Into<String>) {
        if let Some(thing) = self.things.last_mut() {
            thing.words.push(Word { x: format!("{x:.1}"), y: format!("{y:.1}"), text: text.into(), anchor });
        }
    }

    fn item(&mut self, piece: Option<Uuid>, item: &KitItem, unchecked: bool) {
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

    /// Room on the shelf for something so wide with its words: its middle and the board it stands on.
    fn place_on_shelf(&mut self, width: f64, text: &str) -> (f64, f64) {
        let width = width.max(self.text_width(text));
        if self.shelf_x + width > self.shelf.1 {
            self.shelf_x = self.shelf.0 + 6.0;
            self.shelf_row += 1;
        }
        let middle = self.shelf_x + width / 2.0;
        self.shelf_x += width + 6.0;
        (middle, shelf_y(self.shelf_row))
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

/// The heaviest of a handle with plates.
fn heaviest(dumbbell: &PlateDumbbell) -> f64 {
    dumbbell.settings_of_one().last().copied().unwrap_or(dumbbell.handle)
}

/// Whose thing it is that is drawn.
struct Begun {
    piece: Option<Uuid>,
    unchecked: bool,
}

fn height_hold(index: usize, height: f64) -> Hold {
    Hold::Height(index, trim_number(height, 2))
}

fn short_band(name: &str) -> String {
    let short = name.replace("loop ", "").replace(" loop", "");
    short.chars().take(14).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use bavrek_core::kit::{Anchor, Dumbbells, PullUpBar, Rings};

    fn words(shelf: &Shelf) -> impl Iterator<Item = &Word> {
        shelf.things.iter().flat_map(|t| &t.words)
    }

    fn pieces(items: Vec<KitItem>) -> Vec<Piece> {
        items
            .into_iter()
            .map(|item| {
                let id = bavrek_store::new_id();
                Piece { id, origin: id, item, stability: None, travels: false }
            })
            .collect()
    }

    #[test]
    fn heights_are_to_scale() {
        for (low, high, metre) in [(1.0, 2.0, METRE), (1.0, 3.5, WALL / 3.65)] {
            let kit = [
                KitItem::Anchor(Anchor { heights_m: vec![low, high], ..Anchor::default() }),
                KitItem::PullUpBar(PullUpBar { height_m: Metres(2.0) }),
            ];
            let shelf = draw("here", &kit);
            let y =
                |text: f64| words(&shelf).find(|w| w.text == trim_number(text, 2)).unwrap().y.parse::<f64>().unwrap();
            assert!((y(low) - y(high) - metre * (high - low)).abs() < 0.11, "{high}");
            assert!(y(high) > 8.0, "nothing leaves the picture");
        }
    }

    #[test]
    fn a_full_room_makes_the_picture_wider_and_nothing_leaves_it() {
        for many in [4, 8, 20, 40] {
            let pairs = (1..=many).map(f64::from).collect();
            let mut kit = vec![KitItem::Dumbbells(Dumbbells { pairs, ..Dumbbells::default() })];
            kit.extend((0..many / 4).map(|_| KitItem::Sofa(bavrek_core::kit::Plain {})));
            let shelf = draw("here", &kit);
            let width: f64 = shelf.width.parse().unwrap();
            assert!(width < WIDTH + 60.0 * f64::from(many), "{many}: {width}");
            assert!(shelf.rows.len() <= 2, "{many}: a third board would stand in what is on the floor");
            for word in words(&shelf) {
                let half = word.text.chars().count() as f64 * LETTER_WIDTH * LETTERS / 2.0;
                assert!(word.x.parse::<f64>().unwrap() + half < width + 8.0, "{many}: {} at {}", word.text, word.x);
            }
        }
    }

    #[test]
    fn labels_of_users_are_escaped() {
        let band = bavrek_core::kit::LoopBand { label: Some("<b>".into()), ..Default::default() };
        let svg = draw("a & b", &[KitItem::LoopBand(band)]).render().unwrap();
        assert!(!svg.contains("<b>") && !svg.contains("a & b"));
    }

    #[test]
    fn every_weight_and_every_height_can_be_taken_hold_of() {
        let kit = pieces(vec![
            KitItem::Dumbbells(Dumbbells { pairs: vec![5.0, 8.0], singles: vec![20.0], ..Dumbbells::default() }),
            KitItem::Anchor(Anchor { heights_m: vec![0.1, 1.2], door: Some(true), ..Anchor::default() }),
            KitItem::Rings(Rings { max_height_m: Metres(2.0) }),
        ]);
        let svg = draw_pieces("here", &kit).render().unwrap();
        assert_eq!(svg.matches("role=\"slider\"").count(), 3, "two anchors and the rings");
        assert_eq!(svg.matches("data-weight=").count(), 3);
        assert!(svg.contains("aria-valuetext=\"1.2 m\"") && svg.contains("data-pair=\"true\""));
        assert_eq!(svg.matches("unchecked").count(), 2, "a door anchor that nobody looked at is drawn so");
        let looked_at = draw("here", &[kit[2].item.clone()]).render().unwrap();
        assert!(!looked_at.contains("tabindex"), "a picture to look at has no stops");
    }
}
