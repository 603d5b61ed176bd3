//! The kit shelf and wall: dumbbells to scale on a shelf, the rest on a wall with a metre scale.
//!
//! On the page of a place every piece can be taken hold of: heights are dragged or moved with the arrow keys, and what
//! is no longer there is removed with the delete key.

mod kinds;

use askama::Template;
use bavrek_core::kit::{KitItem, PlateDumbbell};
use bavrek_core::units::trim_number;
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

#[cfg(test)]
mod tests {
    use super::*;
    use bavrek_core::kit::{Anchor, Dumbbells, PullUpBar, Rings};
    use bavrek_core::units::Metres;

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
