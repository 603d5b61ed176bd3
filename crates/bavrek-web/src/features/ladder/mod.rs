//! The ladder: what is the next step? Every rung of a slot's movement here, the ways over the gaps, and what would help.

use std::ops::Range;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::response::Redirect;
use axum::routing::{get, post};
use bavrek_core::kit::offer::CheapItem;
use bavrek_core::ladder::{Bridge, Ground, Ladder, LadderStep, Landing, bridges};
use bavrek_core::movement::Movement;
use bavrek_core::purchase::{Help, InUse, pairs_between, worth_measuring, would_help};
use bavrek_core::wording::told;
use bavrek_store::fits::{self, Fit};
use bavrek_store::slots::PlacedSlot;
use bavrek_store::{TrainerId, connection, kit, new_id, places};
use serde::Deserialize;
use uuid::Uuid;

use super::dates::day;
use super::scene::{self, Scene, likely};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::pictures::whole_ladder::{self, WholeLadder};
use crate::state::App;

/// Rungs drawn below and above today's, unless all are asked for.
const BELOW: usize = 5;
const ABOVE: usize = 11;
/// Purchases shown.
const MOST_HELP: usize = 3;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/slots/{slot}/ladder", get(show)).route("/slots/{slot}/what-if", post(what_if))
}

#[derive(Template, WebTemplate)]
#[template(path = "ladder/page.html")]
struct Page {
    chrome: Chrome,
    slot: Uuid,
    session: (Uuid, String),
    client: String,
    place: String,
    name: String,
    today: String,
    facts: Vec<(&'static str, String)>,
    picture: WholeLadder,
    /// Rungs that are not drawn.
    hidden: usize,
    all: bool,
    rows: Vec<Row>,
    gaps: Vec<Gap>,
    help: Vec<HelpView>,
    measure: Option<Measure>,
}

/// A rung in the table behind the picture.
struct Row {
    load: String,
    peak: String,
    label: String,
    jump: String,
    set_up: String,
    on: bool,
    /// Among those drawn.
    drawn: bool,
}

struct Gap {
    from: String,
    to: String,
    jump: String,
    ways: Vec<String>,
}

struct HelpView {
    /// Of the place that it would become.
    place: Uuid,
    id: String,
    name: String,
    text: String,
}

struct Measure {
    band: String,
    address: String,
    steps: usize,
}

/// A slot's movement with its ladder here, and all movements in use at the place.
struct Climb {
    placed: PlacedSlot,
    scene: Scene,
    fit: Fit,
    others: Vec<Fit>,
}

impl Climb {
    async fn load(app: &App, trainer: TrainerId, slot: Uuid) -> Result<Self, WebError> {
        let (placed, scene) = scene::of_slot(app, trainer, slot).await?;
        let place = scene.place_head.id;
        let fit = fits::of_slot(&app.pool, trainer, slot, place).await?.ok_or(WebError::NotFound)?;
        let others = fits::at_place(&app.pool, trainer, place).await?;
        let fit = scene.now(app, fit);
        let others = others.into_iter().map(|other| scene.now(app, other)).collect();
        Ok(Self { placed, scene, fit, others })
    }

    fn in_use<'a>(&'a self, app: &'a App) -> Vec<InUse<'a>> {
        let movement = |f: &Fit| app.catalogue.movement(&f.exercise);
        self.others.iter().filter_map(|f| Some(InUse { movement: movement(f)?, step: &f.step })).collect()
    }

    /// What would help here: cheap things, and pairs between those that are there.
    fn help(&self, app: &App) -> Vec<Help> {
        let kit = &self.scene.place.kit;
        let offers: Vec<CheapItem> = app.intake.cheap.iter().cloned().chain(pairs_between(kit)).collect();
        would_help(&self.scene.person, (kit, self.scene.place.setting), &self.in_use(app), &offers)
    }
}

#[derive(Deserialize)]
struct Shown {
    /// Every rung instead of those near today's.
    all: Option<u8>,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(slot): Ids,
    Query(shown): Query<Shown>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let mut climb = Climb::load(&app, trainer, slot).await?;
    let chrome = climb.scene.frame(chrome);
    let movement = app.catalogue.movement(&climb.fit.exercise).ok_or(WebError::NotFound)?;
    let ladder = climb.scene.ladder(&app, movement, &climb.placed.slot.intent);
    let load = climb.fit.step.effective_kg;
    let at = ladder
        .at(load * 1.005)
        .ok_or_else(|| WebError::bad("kit", "carries this movement no more: re-fit the slot"))?;
    let intent = &climb.placed.slot.intent;
    let landing = Landing { reps: intent.dose.reps[0], rir: intent.dose.reserve() };
    let ground = Ground { movement, person: &climb.scene.person, kit: &climb.scene.place.kit };
    let all = shown.all.is_some();
    let over = bridges(&ladder, &ground, (!all).then_some(load), landing);
    let range =
        if all { 0..ladder.steps.len() } else { at.saturating_sub(BELOW)..(at + ABOVE + 1).min(ladder.steps.len()) };
    let pieces = kit::at_hand(&mut *connection(&app.pool).await?, trainer, &climb.scene.place_head).await?;
    let usable: Vec<&kit::Piece> = pieces.iter().filter(|p| p.usable()).collect();
    let rows = rows(&ladder, at, &range);
    Ok(Page {
        slot,
        session: (climb.placed.session.id, climb.placed.session.name.clone()),
        client: climb.scene.client.name.clone(),
        place: climb.scene.place.name.clone(),
        name: movement.name.clone(),
        today: today(&climb.fit, &ladder.steps[at]),
        facts: facts(&ladder, at, &climb.fit.step),
        hidden: ladder.steps.len() - range.len(),
        all,
        picture: whole_ladder::draw(&ladder, range, at, &past(&climb.scene, movement, &ladder), &over),
        rows,
        gaps: over.iter().map(|b| gap(&ladder, b)).collect(),
        help: climb.help(&app).iter().take(MOST_HELP).map(help_view).collect(),
        measure: worth_measuring(&climb.scene.place.kit, &climb.in_use(&app)).and_then(|(i, steps)| {
            let piece = usable.get(i)?;
            Some(Measure { band: piece.item.text(), address: format!("/lab?band={}", piece.id), steps })
        }),
        chrome: chrome.titled(format!("Ladder: {}", movement.name)),
    })
}

/// Whether a step of the ladder here is the one that the slot is done on.
fn is_same(step: &LadderStep, taken: &LadderStep) -> bool {
    (step.effective_kg.value() / taken.effective_kg.value() - 1.0).abs() < 0.02
}

/// Today's rung in words; one that the room no longer has says so and names the nearest below it.
fn today(fit: &Fit, here: &LadderStep) -> String {
    let taken = &fit.step.label;
    if is_same(here, &fit.step) {
        return taken.clone();
    }
    format!("{taken} is not in this room any more. Nearest: {}", here.label)
}

fn facts(ladder: &Ladder, at: usize, taken: &LadderStep) -> Vec<(&'static str, String)> {
    let step = &ladder.steps[at];
    let top = ladder.steps.last().map_or(0.0, |s| s.effective_kg.value());
    let jump = ladder.largest_jump(Some(step.effective_kg));
    vec![
        (
            if is_same(step, taken) { "Today" } else { "Nearest" },
            format!("{:.1} effective, {:.1} at the peak", step.effective_kg, step.peak_kg),
        ),
        ("Nine times in ten", likely(step.effective_kg, step.log_sd)),
        ("Steps above", ladder.headroom(at).to_string()),
        ("Room", format!("{:.0} % up to the heaviest", (top / step.effective_kg.value() - 1.0) * 100.0)),
        ("Largest jump nearby", format!("{:.0} %", jump * 100.0)),
    ]
}

/// The last day on which each rung was used.
fn past(scene: &Scene, movement: &Movement, ladder: &Ladder) -> Vec<Option<String>> {
    let mut days = vec![None; ladder.steps.len()];
    for recorded in scene.records().iter().filter(|r| r.set.exercise == movement.id) {
        let Some(load) = recorded.set.effective_kg else { continue };
        let near = |i: &usize| (ladder.steps[*i].effective_kg.value() / load.value() - 1.0).abs();
        let found = (0..ladder.steps.len()).min_by(|a, b| near(a).total_cmp(&near(b))).filter(|i| near(i) < 0.02);
        if let Some(i) = found {
            days[i] = Some(day(recorded.set.date, scene.today));
        }
    }
    days
}

fn rows(ladder: &Ladder, at: usize, drawn: &Range<usize>) -> Vec<Row> {
    let row = |(i, step): (usize, &LadderStep)| Row {
        load: format!("{:.1}", step.effective_kg),
        peak: format!("{:.1}", step.peak_kg),
        label: step.label.clone(),
        jump: ladder.jump(i).map_or_else(String::new, |j| format!("+{:.0} %", j * 100.0)),
        set_up: format!("{:.0} s", step.set_up_s.value()),
        on: i == at,
        drawn: drawn.contains(&i),
    };
    ladder.steps.iter().enumerate().map(row).rev().collect()
}

fn gap(ladder: &Ladder, bridge: &Bridge) -> Gap {
    Gap {
        from: format!("{:.1}", ladder.steps[bridge.from].effective_kg),
        to: format!("{:.1}", ladder.steps[bridge.to].effective_kg),
        jump: format!("+{:.0} %", bridge.jump * 100.0),
        ways: told(&bridge.ways),
    }
}

fn help_view(help: &Help) -> HelpView {
    let closes = match help.closes {
        0 => "makes the jumps smaller".to_owned(),
        1 => "closes 1 gap".to_owned(),
        n => format!("closes {n} gaps"),
    };
    HelpView {
        place: new_id(),
        id: help.offer.id.clone(),
        name: help.offer.name.clone(),
        text: format!("{closes} for: {}", help.movements.join(", ")),
    }
}

/// A copy of the place with a purchase in it, only thought about, and the session as it would be there. Nothing is moved.
async fn what_if(Mine(app): Mine, Me(trainer): Me, Ids(slot): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let climb = Climb::load(&app, trainer, slot).await?;
    let wanted = fields.text("offer");
    let help = climb.help(&app);
    let offer =
        help.iter().find(|h| h.offer.id == wanted).ok_or(WebError::bad("offer", "helps nothing here any more"))?;
    let (place, id) = (&climb.scene.place_head, fields.id("id")?);
    let name: String = format!("{} with {}", place.name, offer.offer.name).chars().take(120).collect();
    places::what_if(&app.pool, trainer, place.id, id, &name, &offer.offer.kit).await?;
    let session = climb.placed.session.id;
    let client = climb.scene.client.id;
    Ok(Redirect::to(&format!("/clients/{client}/refit?from={}&to={id}&session={session}", place.id)))
}
