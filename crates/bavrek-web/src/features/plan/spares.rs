//! What a plan hangs on: which single missing thing stops which lines, and what stands ready for each.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::response::Redirect;
use axum::routing::get;
use bavrek_core::kit::KitItem;
use bavrek_core::spare::{Done, Loss, Risk, risk};
use bavrek_core::units::trim_number;
use bavrek_store::TrainerId;
use bavrek_store::fits;
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::spares::{self, Spare};
use uuid::Uuid;

use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Ids, Me, Mine};
use crate::features::scene::{Scene, purpose};
use crate::features::who::Who;
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/clients/{client}/spares", get(show).post(keep))
}

#[derive(Template, WebTemplate)]
#[template(path = "plan/spares.html")]
struct Page {
    chrome: Chrome,
    client: (Uuid, String),
    /// What stops most lines first: what, how many, which.
    most: Vec<(String, usize, String)>,
    sessions: Vec<SessionView>,
}

struct SessionView {
    id: Uuid,
    name: String,
    place: String,
    lines: Vec<LineView>,
}

struct LineView {
    purpose: String,
    /// Movement and step.
    done: String,
    breaks: String,
    /// Movement and step of what stands ready.
    spare: Option<String>,
    /// What would stop that as well.
    still: String,
}

/// A thing that may be missing, in words.
fn told(loss: Loss, kit: &[KitItem]) -> String {
    match loss {
        Loss::Sore(joint) => format!("a sore {}", joint.label()),
        Loss::Piece { index, weight } => match (kit.get(index), weight) {
            (Some(item @ (KitItem::Dumbbells(_) | KitItem::Kettlebells(_))), Some(weight)) => {
                let unit = item.fixed_weights().map_or("", |(_, _, unit)| unit.symbol());
                format!("the {} {unit} {}", trim_number(weight, 2), item.weights_word())
            }
            (Some(KitItem::Bench(_)), _) => "the bench".to_owned(),
            // What it is, without its measures.
            (Some(item), _) if item.is_band() => format!("the {}", item.name()),
            (Some(item), _) => {
                let name = item.name();
                let end = name.find([',', '0', '1', '2', '3', '4', '5', '6', '7', '8', '9']).unwrap_or(name.len());
                format!("the {}", name[..end].trim_end().trim_end_matches(" at"))
            }
            (None, _) => "a piece of the kit".to_owned(),
        },
    }
}

fn listed(losses: &[Loss], kit: &[KitItem]) -> String {
    losses.iter().map(|loss| told(*loss, kit)).collect::<Vec<_>>().join(", ")
}

/// A line that is done, with what may happen to it.
struct Line<'a> {
    slot: Uuid,
    purpose: String,
    fit: fits::Fit,
    risk: Risk<'a>,
}

/// The lines of a session where it takes place next.
async fn lines<'a>(app: &'a App, trainer: TrainerId, head: &SessionHead) -> Result<(Scene, Vec<Line<'a>>), WebError> {
    let scene = Scene::load(app, trainer, head).await?;
    let mut fits = scene.all_now(app, fits::of_session(&app.pool, trainer, head.id, head.place_id).await?);
    let blocks = sessions::blocks(&app.pool, trainer, head.id).await?;
    let fitter = scene.fitter_by(app, head.method);
    let mut found = Vec::new();
    for slot in blocks.into_iter().flat_map(|b| b.slots) {
        let Some(fit) = fits.remove(&slot.id) else { continue };
        let Some(movement) = app.catalogue.movement(&fit.exercise) else { continue };
        let done = Done { intent: &slot.intent, movement, step: &fit.step };
        let risk = risk(&fitter, (&scene.person, &scene.place.kit), &done);
        found.push(Line { slot: slot.id, purpose: purpose(&slot.intent), fit, risk });
    }
    drop(fitter);
    Ok((scene, found))
}

/// Sessions that are still to be done.
async fn ahead(app: &App, trainer: TrainerId, client: Uuid) -> Result<Vec<SessionHead>, WebError> {
    let mut heads = sessions::of_client(&app.pool, trainer, client).await?;
    heads.retain(|h| h.state.is_open());
    Ok(heads)
}

async fn show(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, chrome: Chrome) -> Result<Page, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let mut most: Vec<(String, Vec<String>)> = Vec::new();
    let mut views = Vec::new();
    for head in ahead(&app, trainer, client).await? {
        let (scene, lines) = lines(&app, trainer, &head).await?;
        let kit = &scene.place.kit;
        for line in &lines {
            for loss in &line.risk.breaks {
                let what = match loss {
                    Loss::Sore(_) => told(*loss, kit),
                    Loss::Piece { .. } => format!("{} at {}", told(*loss, kit), scene.place_head.name),
                };
                match most.iter_mut().find(|(known, _)| *known == what) {
                    Some((_, of)) => of.push(line.purpose.clone()),
                    None => most.push((what, vec![line.purpose.clone()])),
                }
            }
        }
        views.push(SessionView {
            id: head.id,
            name: head.name.clone(),
            place: scene.place_head.name.clone(),
            lines: lines.iter().map(|line| line_view(&app, line, kit)).collect(),
        });
    }
    most.sort_by_key(|(_, of)| std::cmp::Reverse(of.len()));
    let counted = most.into_iter().map(|(what, of)| {
        let lines = of.len();
        let mut names = of;
        names.sort_unstable();
        names.dedup();
        (what, lines, names.join("; "))
    });
    Ok(Page {
        client: (client, who.client.name.clone()),
        most: counted.collect(),
        sessions: views,
        chrome: who.frame(chrome, format!("What the plan of {} hangs on", who.client.name)),
    })
}

fn line_view(app: &App, line: &Line<'_>, kit: &[KitItem]) -> LineView {
    let name = app.catalogue.movement(&line.fit.exercise).map_or(line.fit.exercise.as_str(), |m| &m.name);
    let spare = line.risk.spare.as_ref();
    LineView {
        purpose: line.purpose.clone(),
        done: format!("{name}, {}", line.fit.step.label),
        breaks: listed(&line.risk.breaks, kit),
        spare: spare.map(|(c, _)| format!("{}, {}", c.movement.name, c.step().label)),
        still: spare.map_or_else(String::new, |(_, still)| listed(still, kit)),
    }
}

/// Keeps what stands ready for a session where it takes place next, so that the phone has it.
pub(super) async fn keep_for(app: &App, trainer: TrainerId, head: &SessionHead) -> Result<(), WebError> {
    let (_, lines) = lines(app, trainer, head).await?;
    let spare = |line: Line<'_>| {
        let (candidate, _) = line.risk.spare?;
        Some(Spare {
            slot_id: line.slot,
            place_id: line.fit.place_id,
            instead_of: line.fit.exercise,
            exercise: candidate.movement.id.clone(),
            step: candidate.step().clone(),
        })
    };
    let spares: Vec<Spare> = lines.into_iter().filter_map(spare).collect();
    Ok(spares::keep(&app.pool, trainer, &spares).await?)
}

async fn keep(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids) -> Result<Redirect, WebError> {
    bavrek_store::clients::one(&app.pool, trainer, client).await?;
    for head in ahead(&app, trainer, client).await? {
        keep_for(&app, trainer, &head).await?;
    }
    Ok(Redirect::to(&format!("/clients/{client}/spares")))
}
