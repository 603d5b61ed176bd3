//! What the page of a client's places shows, ready to be written down.

use askama::Template;
use askama_web::WebTemplate;
use bavrek_core::kit::improvised::BandKnowledge;
use bavrek_core::kit::{ASKED, Kind, KitItem, Measure, Setting, Told};
use bavrek_core::ladder::{MOST_BANDS, bands_left_out};
use bavrek_core::units::MassUnit;
use bavrek_store::kit::{self, DatedPiece, Piece};
use bavrek_store::places::PlaceHead;
use bavrek_store::{TrainerId, new_id};
use chrono::NaiveDate;
use uuid::Uuid;

use super::followed::{Followed, followed};
use super::forms::KitForm;
use super::{DOOR_ANCHOR, Desk};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::features::clients::steps::{Step, StepView, steps};
use crate::features::dates::written;
use crate::features::typed::{Input, Typed};
use crate::pictures::shelf::{self, Shelf};
use crate::state::App;

/// Kinds on the palette under the picture, and their words.
fn palette() -> Vec<(&'static str, &'static str)> {
    let mut all: Vec<_> = Kind::ALL.iter().filter_map(|kind| Some((kind.id, kind.usual?.short))).collect();
    let anchor = all.iter().position(|(id, _)| *id == "anchor").map_or(0, |at| at + 1);
    all.insert(anchor, (DOOR_ANCHOR, "door anchor"));
    all
}

/// Changes of the kit that are listed.
const CHANGES_SHOWN: usize = 12;

/// What is special about this look at the page.
#[derive(Debug, Clone, Default)]
pub(super) struct View {
    pub(super) form: KitForm,
    pub(super) edit: Option<Uuid>,
    pub(super) line: Typed,
    pub(super) naming: Typed,
    pub(super) renaming: Typed,
    pub(super) copying: Typed,
    pub(super) picture_error: Option<String>,
    pub(super) check_error: Option<Uuid>,
    pub(super) meanwhile: Option<String>,
    pub(super) removed: Option<Uuid>,
    pub(super) changed: Option<Uuid>,
    pub(super) gone: Option<Uuid>,
    /// Sessions that use the place that was to be removed.
    pub(super) in_use: Vec<(Uuid, String)>,
    pub(super) on: Option<NaiveDate>,
    /// A proposal that was to be kept, with what was typed.
    pub(super) keeping: Option<(Uuid, Typed)>,
}

#[derive(Template, WebTemplate)]
#[template(path = "places/page.html")]
pub(super) struct Page {
    chrome: Chrome,
    client: Uuid,
    name: String,
    steps: Vec<StepView>,
    id: Uuid,
    places: Vec<(Uuid, String, bool, bool)>,
    place: Option<PlaceView>,
    starts: Vec<(String, String)>,
    naming: (String, Option<String>),
    /// What a place can be: identifier and words.
    settings: Vec<(&'static str, &'static str)>,
    meanwhile: Option<String>,
    gone: Option<Uuid>,
    proposals: Vec<ProposalView>,
}

/// A place that is only thought about.
struct ProposalView {
    id: Uuid,
    name: String,
    typed: String,
    error: Option<String>,
    /// The place it started from.
    from: Option<Uuid>,
}

struct PlaceView {
    id: Uuid,
    name: String,
    version: i32,
    archived: bool,
    setting: &'static str,
    shelf: Shelf,
    rows: Vec<PieceView>,
    /// What comes along, and from where.
    along: Vec<(String, String)>,
    removed: Option<Undo>,
    /// What follows from a change that was just made.
    followed: Option<Followed>,
    line: (String, Option<String>),
    unit: &'static str,
    form: FormView,
    palette: Vec<(&'static str, &'static str)>,
    picture_error: Option<String>,
    renaming: (String, Option<String>),
    copying: (String, Option<String>),
    in_use: Vec<(Uuid, String)>,
    others: Vec<(Uuid, String)>,
    changes: Vec<String>,
    then: Option<Then>,
    today: String,
    left_out: Option<String>,
    unchecked: usize,
}

/// A removal that can be undone.
struct Undo {
    piece: Uuid,
    text: String,
    /// What was left of the piece, which goes again.
    instead: Option<Uuid>,
}

/// The kit as it was on a day.
struct Then {
    on: String,
    shelf: Shelf,
    list: Vec<String>,
}

struct PieceView {
    id: Uuid,
    text: String,
    /// For a band: how well its force is known.
    known: Option<(String, bool)>,
    check: Option<CheckView>,
    on: bool,
    travels: bool,
}

/// The check of an improvised thing.
struct CheckView {
    questions: [&'static str; 2],
    caution: Option<String>,
    answered: Option<String>,
    passed: bool,
    error: bool,
}

/// The kit form with what was typed.
struct FormView {
    id: Uuid,
    edit: Option<Uuid>,
    kinds: Vec<(&'static str, &'static str, bool)>,
    inputs: Vec<Input>,
    open: bool,
    kind_error: Option<String>,
}

pub(super) async fn page(
    app: &App,
    trainer: TrainerId,
    desk: &Desk,
    chrome: Chrome,
    view: View,
) -> Result<Page, WebError> {
    let client = &desk.who.client;
    let followed = followed(app, trainer, desk, view.changed).await?;
    let typed = |form: &Typed, name: &str| (form.value(name).to_owned(), form.error(name).map(str::to_owned));
    Ok(Page {
        chrome: desk.who.frame(chrome, format!("{}: places", client.name)),
        client: client.id,
        name: client.name.clone(),
        steps: steps(app, trainer, client.id, Step::Places).await?,
        id: new_id(),
        places: desk
            .places
            .iter()
            .map(|p| (p.id, p.name.clone(), desk.place.as_ref() == Some(p), p.archived))
            .collect(),
        place: desk.place.as_ref().map(|head| place_view(app, desk, head, &view, followed)),
        starts: app.intake.starting_kits.iter().map(|k| (k.id.clone(), k.name.clone())).collect(),
        naming: typed(&view.naming, "name"),
        meanwhile: view.meanwhile.clone(),
        settings: Setting::ALL.iter().map(|s| (s.id(), s.label())).collect(),
        proposals: desk.proposals.iter().map(|p| proposal(p, &view)).collect(),
        gone: view.gone.filter(|id| desk.places.iter().all(|p| p.id != *id)),
    })
}

fn proposal(head: &PlaceHead, view: &View) -> ProposalView {
    let typed = view.keeping.as_ref().filter(|(id, _)| *id == head.id).map(|(_, typed)| typed);
    ProposalView {
        id: head.id,
        name: head.name.clone(),
        typed: typed.map_or_else(|| head.name.clone(), |t| t.value("keep_name").to_owned()),
        error: typed.and_then(|t| t.error("keep_name")).map(str::to_owned),
        from: head.proposal_of,
    }
}

fn place_view(app: &App, desk: &Desk, head: &PlaceHead, view: &View, followed: Option<Followed>) -> PlaceView {
    let typed = |form: &Typed, name: &str| (form.value(name).to_owned(), form.error(name).map(str::to_owned));
    let today = desk.who.today;
    PlaceView {
        id: head.id,
        version: head.version,
        archived: head.archived,
        setting: head.setting.map_or("", Setting::id),
        along: desk.along.iter().map(|(from, p)| (p.item.text(), from.clone())).collect(),
        shelf: shelf::draw_pieces(&head.name, &desk.pieces),
        rows: desk.pieces.iter().map(|p| piece_view(app, p, view)).collect(),
        removed: view.removed.and_then(|id| undo(desk, id)),
        followed,
        line: typed(&view.line, "line"),
        unit: desk.who.client.mass_unit.symbol(),
        form: FormView::new(view),
        palette: palette(),
        picture_error: view.picture_error.clone(),
        renaming: match view.renaming.value("new_name") {
            "" => (head.name.clone(), view.renaming.error("new_name").map(str::to_owned)),
            _ => typed(&view.renaming, "new_name"),
        },
        copying: typed(&view.copying, "copy_name"),
        in_use: view.in_use.clone(),
        others: desk.places.iter().filter(|p| p.id != head.id && !p.archived).map(|p| (p.id, p.name.clone())).collect(),
        changes: changes(&desk.history),
        then: view.on.map(|on| then(&head.name, &desk.history, on)),
        today: today.to_string(),
        left_out: left_out(&desk.pieces),
        unchecked: desk.pieces.iter().filter(|p| !p.usable()).count(),
        name: head.name.clone(),
    }
}

/// Which bands no ladder here is made of, because there are too many.
fn left_out(pieces: &[Piece]) -> Option<String> {
    let usable: Vec<KitItem> = pieces.iter().filter(|p| p.usable()).map(|p| p.item.clone()).collect();
    let bands = usable.iter().filter(|k| k.is_band()).count();
    let left: Vec<String> = bands_left_out(&usable).into_iter().map(|i| usable[i].name()).collect();
    (!left.is_empty()).then(|| {
        format!(
            "Of the {bands} bands here, steps are made with {MOST_BANDS}, from the lightest to the heaviest. Left out: {}.",
            left.join(", ")
        )
    })
}

fn undo(desk: &Desk, removed: Uuid) -> Option<Undo> {
    let gone = desk.history.iter().find(|p| p.piece.id == removed && p.removed_at.is_some())?;
    // Where one weight was taken off, the piece without it came at the same moment.
    let instead = desk.history.iter().find(|p| p.removed_at.is_none() && Some(p.added_at) == gone.removed_at);
    Some(Undo { piece: removed, text: gone.piece.item.text(), instead: instead.map(|p| p.piece.id) })
}

fn piece_view(app: &App, piece: &Piece, view: &View) -> PieceView {
    let known = piece.item.band_knowledge().map(|(knowledge, sd)| {
        let percent = (sd.exp() - 1.0) * 100.0;
        (format!("{}, force known to about {percent:.0} %", knowledge.label()), knowledge == BandKnowledge::Measured)
    });
    PieceView {
        id: piece.id,
        text: piece.item.text(),
        known,
        check: piece.item.improvised().then(|| CheckView {
            questions: piece.item.stability_questions(),
            caution: piece.item.improvised_caution().and_then(|code| app.catalogue.cautions.get(code)).cloned(),
            answered: piece.stability.map(|s| {
                let verdict = if s.passes() { "looked at and firm" } else { "not to be used" };
                format!("{verdict}, {}", written(s.on))
            }),
            passed: piece.usable(),
            error: view.check_error == Some(piece.id),
        }),
        on: view.edit == Some(piece.id),
        travels: piece.travels,
    }
}

/// What came and went, the newest first.
fn changes(history: &[DatedPiece]) -> Vec<String> {
    let mut changes: Vec<_> = history
        .iter()
        .flat_map(|p| {
            let text = p.piece.item.text();
            let came = Some((p.added_at, format!("{}: {text} came", written(p.added_at.date_naive()))));
            let went = p.removed_at.map(|at| (at, format!("{}: {text} went", written(at.date_naive()))));
            came.into_iter().chain(went)
        })
        .collect();
    changes.sort_by_key(|(at, _)| std::cmp::Reverse(*at));
    changes.into_iter().take(CHANGES_SHOWN).map(|(_, text)| text).collect()
}

fn then(name: &str, history: &[DatedPiece], on: NaiveDate) -> Then {
    let items: Vec<KitItem> = kit::on_day(history, on).into_iter().map(|p| p.item).collect();
    Then { on: on.to_string(), shelf: shelf::draw(name, &items), list: items.iter().map(KitItem::text).collect() }
}

/// The field for what is told of a piece.
fn input(measure: &Measure, form: &KitForm) -> Input {
    let kinds = Kind::ALL.iter().filter(|kind| kind.measure(measure.name).is_some());
    let input =
        Input::text(&form.typed, measure.name, measure.label, measure.example).of_kinds(kinds.map(|kind| kind.id));
    match measure.told {
        Told::Unit => input.select(None, [MassUnit::Kg, MassUnit::Lb].map(|unit| (unit.symbol(), unit.symbol()))),
        Told::Word(words, none) => input.select(Some(none), words()),
        Told::Whether => input.kind("check").wide(),
        _ => input,
    }
}

impl FormView {
    fn new(view: &View) -> Self {
        let form = &view.form;
        let kind = form.value("kind");
        Self {
            id: new_id(),
            edit: view.edit,
            kinds: Kind::ALL.iter().map(|k| (k.id, k.label, k.id == kind)).collect(),
            inputs: ASKED.iter().map(|measure| input(measure, form)).collect(),
            open: form.wrong() || view.edit.is_some() || !kind.is_empty(),
            kind_error: form.error("kind").map(str::to_owned),
        }
    }
}
