//! Pages: columns are placed on them one after another, then all is written with its tags.

use std::collections::HashMap;
use std::num::NonZeroU16;

use krilla::Document;
use krilla::SerializeSettings;
use krilla::color::rgb;
use krilla::configure::{Accessibility, ConfigurationBuilder};
use krilla::destination::XyzDestination;
use krilla::geom::{PathBuilder, Point, Rect, Size, Transform};
use krilla::metadata::Metadata;
use krilla::outline::{Outline, OutlineNode};
use krilla::page::PageSettings;
use krilla::paint::{Fill, Paint, Stroke};
use krilla::surface::Surface;
use krilla::tagging::{ArtifactType, ContentTag, Identifier, ListNumbering, Node, SpanTag, Tag, TagGroup, TagTree};
use krilla::text::TextDirection;
use krilla_svg::{SurfaceExt, SvgSettings};

use super::column::{Column, Ink, Look, Role};
use super::letters::{Letters, Measure};
use super::{Paper, PaperError};

/// Room around what is printed, points: 10 mm, more than any printer leaves white.
const MARGIN: f32 = 28.4;
/// Room for the number of a page.
const FOOT: f32 = 14.0;

/// Red, green and blue of what is printed, and of what is less important.
const INK: [u8; 3] = [0x11, 0x17, 0x14];
const SOFT: [u8; 3] = [0x44, 0x4f, 0x49];

fn paint([red, green, blue]: [u8; 3]) -> Paint {
    Paint::from(rgb::Color::new(red, green, blue))
}

/// What stands on a page: a part's number and its ink.
type Placed = (usize, Ink);

/// Pages that are being filled.
pub(super) struct Pages {
    size: [f32; 2],
    sheets: Vec<Vec<Placed>>,
    /// How far the last one is filled.
    filled: f32,
    /// Roles of the parts, none where they are decoration.
    roles: Vec<Option<Role>>,
}

impl Pages {
    pub(super) const fn new(paper: Paper) -> Self {
        Self { size: paper.points(), sheets: Vec::new(), filled: 0.0, roles: Vec::new() }
    }

    /// Width that can be printed on, points.
    pub(super) const fn width(&self) -> f32 {
        self.size[0] - 2.0 * MARGIN
    }

    /// The same down.
    pub(super) const fn height(&self) -> f32 {
        self.size[1] - 2.0 * MARGIN - FOOT
    }

    /// Begins a page.
    pub(super) fn turn(&mut self) {
        self.sheets.push(Vec::new());
        self.filled = 0.0;
    }

    /// Places what stays together under what is there, on the next page where it does not fit; what is longer than a page goes on
    /// on the one after.
    pub(super) fn place(&mut self, column: Column) {
        if self.sheets.is_empty() || (self.filled > 0.0 && self.filled + column.y > self.height()) {
            self.turn();
        }
        let mut above = -self.filled;
        for (role, inks) in column.parts {
            self.roles.push(role);
            for ink in inks {
                if ink.bottom() - above > self.height() {
                    self.turn();
                    above = match &ink {
                        Ink::Text { at, look, .. } => at[1] - look.size,
                        Ink::Rule { at, .. } | Ink::Frame { at, .. } | Ink::Drawing { at, .. } => at[1],
                    };
                }
                let part = self.roles.len() - 1;
                let Some(page) = self.sheets.last_mut() else { return };
                page.push((part, ink.lowered(-above)));
            }
        }
        self.filled = column.y - above;
    }

    /// The drawings, read with our letters alone: before anything is written, so that nothing is half written.
    fn drawings(&self, letters: &Letters) -> Result<HashMap<String, usvg::Tree>, PaperError> {
        let options =
            usvg::Options { fontdb: letters.database(), font_family: letters.family(), ..usvg::Options::default() };
        let mut read = HashMap::new();
        for (_, ink) in self.sheets.iter().flatten() {
            if let Ink::Drawing { svg, .. } = ink
                && !read.contains_key(svg)
            {
                let tree = usvg::Tree::from_str(svg, &options).map_err(|e| PaperError::Drawing(e.to_string()))?;
                read.insert(svg.clone(), tree);
            }
        }
        Ok(read)
    }

    /// Workouts with what is done in them, each with its place.
    fn outline(&self) -> Outline {
        let mut outline = Outline::new();
        let mut title: Option<OutlineNode> = None;
        let mut seen = 0;
        for (nth, page) in self.sheets.iter().enumerate() {
            for (part, ink) in page {
                let (Ink::Text { at, look, .. }, true) = (ink, *part >= seen) else { continue };
                let place = Point::from_xy(MARGIN + at[0], MARGIN + at[1] - look.size);
                let node = |text: &str| OutlineNode::new(text.to_owned(), XyzDestination::new(nth, place));
                seen = part + 1;
                match &self.roles[*part] {
                    Some(Role::Title(text)) => {
                        if let Some(done) = title.replace(node(text)) {
                            outline.push_child(done);
                        }
                    }
                    Some(Role::Heading(text)) => {
                        if let Some(title) = &mut title {
                            title.push_child(node(text));
                        }
                    }
                    _ => {}
                }
            }
        }
        if let Some(done) = title {
            outline.push_child(done);
        }
        outline
    }

    /// The document.
    pub(super) fn written(
        self,
        letters: &Letters,
        measure: &mut Measure<'_>,
        title: &str,
    ) -> Result<Vec<u8>, PaperError> {
        let configuration = ConfigurationBuilder::new()
            .with_accessibility_validator(Accessibility::UA1)
            .finish()
            .map_err(|e| PaperError::Writing(format!("{e:?}")))?;
        let settings = SerializeSettings { configuration, ..SerializeSettings::default() };
        let mut document = Document::new_with(settings);
        document.set_metadata(Metadata::new().title(title.to_owned()).language("en".into()).creator("Bavrek".into()));
        let mut said: Vec<Vec<Identifier>> = vec![Vec::new(); self.roles.len()];
        let many = self.sheets.len();
        let pens = Pens { letters, drawings: self.drawings(letters)? };
        for (nth, page) in self.sheets.iter().enumerate() {
            let settings = PageSettings::from_wh(self.size[0], self.size[1]).ok_or(PaperError::Font)?;
            let mut sheet = document.start_page_with(settings);
            let mut surface = sheet.surface();
            for (part, ink) in page {
                let tag = match (&self.roles[*part], ink) {
                    (None, _) => ContentTag::Artifact(krilla::tagging::Artifact::with_kind(ArtifactType::Other)),
                    (Some(_), Ink::Text { .. }) => ContentTag::Span(SpanTag::empty()),
                    (Some(_), _) => ContentTag::Other,
                };
                let identifier = surface.start_tagged(tag);
                pens.draw(&mut surface, ink);
                surface.end_tagged();
                if self.roles[*part].is_some() {
                    said[*part].push(identifier);
                }
            }
            let foot = format!("{title} · page {} of {many}", nth + 1);
            surface.start_tagged(ContentTag::Artifact(krilla::tagging::Artifact::with_kind(ArtifactType::Footer)));
            let mut x = 0.0;
            for run in measure.runs(&foot) {
                let advance = measure.width(&run, false) * 8.0;
                let at = [x, self.height() + FOOT];
                pens.draw(&mut surface, &Ink::Text { at, look: Look { size: 8.0, soft: true }, bold: false, run });
                x += advance;
            }
            surface.end_tagged();
            surface.finish();
            sheet.finish();
        }
        document.set_outline(self.outline());
        document.set_tag_tree(tree(&self.roles, said));
        document.finish().map_err(|e| PaperError::Writing(format!("{e:?}")))
    }
}

/// The parts as a reader hears them: one after another, items of a list together.
fn tree(roles: &[Option<Role>], said: Vec<Vec<Identifier>>) -> TagTree {
    const LEVELS: [NonZeroU16; 2] = [NonZeroU16::MIN, NonZeroU16::new(2).expect("two is not zero")];
    let mut tree = TagTree::new().with_lang(Some("en".into()));
    let mut list: Option<TagGroup> = None;
    for (role, inks) in roles.iter().zip(said) {
        let Some(role) = role else { continue };
        let nodes: Vec<Node> = inks.into_iter().map(Node::from).collect();
        if *role == Role::Item {
            let body = TagGroup::with_children(Tag::LBody, nodes);
            let item = TagGroup::with_children(Tag::LI, vec![body.into()]);
            list.get_or_insert_with(|| TagGroup::new(Tag::L(ListNumbering::None))).push(item);
            continue;
        }
        if let Some(list) = list.take() {
            tree.push(list);
        }
        tree.push(match role {
            Role::Title(text) => TagGroup::with_children(Tag::Hn(LEVELS[0], Some(text.clone())), nodes),
            Role::Heading(text) => TagGroup::with_children(Tag::Hn(LEVELS[1], Some(text.clone())), nodes),
            Role::Figure(shows) => TagGroup::with_children(Tag::Figure(Some(shows.clone())), nodes),
            Role::Text | Role::Item => TagGroup::with_children(Tag::P, nodes),
        });
    }
    if let Some(list) = list {
        tree.push(list);
    }
    tree
}

/// What draws.
struct Pens<'l> {
    letters: &'l Letters,
    /// Drawings as they were read.
    drawings: HashMap<String, usvg::Tree>,
}

impl Pens<'_> {
    fn draw(&self, surface: &mut Surface<'_>, ink: &Ink) {
        let at = |[x, y]: [f32; 2]| [x + MARGIN, y + MARGIN];
        match ink {
            Ink::Text { at: place, look, bold, run } => {
                let [x, y] = at(*place);
                let colour = paint(if look.soft { SOFT } else { INK });
                surface.set_stroke(None);
                surface.set_fill(Some(Fill { paint: colour, ..Fill::default() }));
                let font = self.letters.font(run.font, *bold);
                surface.draw_text(Point::from_xy(x, y), font, look.size, &run.text, false, TextDirection::Auto);
            }
            Ink::Rule { at: place, width, thick } => {
                let [x, y] = at(*place);
                let mut path = PathBuilder::new();
                path.move_to(x, y);
                path.line_to(x + width, y);
                stroked(surface, path, *thick);
            }
            Ink::Frame { at: place, size } => {
                let [x, y] = at(*place);
                let mut path = PathBuilder::new();
                if let Some(rect) = Rect::from_xywh(x, y, size[0], size[1]) {
                    path.push_rect(rect);
                }
                stroked(surface, path, 0.7);
            }
            Ink::Drawing { at: place, size, svg } => {
                let [x, y] = at(*place);
                if let (Some(tree), Some(size)) = (self.drawings.get(svg), Size::from_wh(size[0], size[1])) {
                    surface.push_transform(&Transform::from_translate(x, y));
                    surface.draw_svg(tree, size, SvgSettings::default());
                    surface.pop();
                }
            }
        }
    }
}

fn stroked(surface: &mut Surface<'_>, path: PathBuilder, width: f32) {
    let Some(path) = path.finish() else { return };
    surface.set_fill(None);
    surface.set_stroke(Some(Stroke { paint: paint(INK), width, ..Stroke::default() }));
    surface.draw_path(&path);
}
