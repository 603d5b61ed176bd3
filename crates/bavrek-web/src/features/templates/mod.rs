//! Templates: sessions, weeks and plans kept as lines without exercises, shared as open documents, applied to any client.

mod apply;

use askama::Template as Askama;
use askama_web::WebTemplate;
use axum::Router;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::calendar::Every;
use bavrek_core::template::{self, Kind, Template, TemplateBlock, TemplateDay, TemplateWeeks};
use bavrek_store::plans::Plan;
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::templates::{self, Kept};
use bavrek_store::weeks::{self, Draft};
use bavrek_store::{StoreError, TrainerId, fits, new_id, plans};
use chrono::Datelike;
use uuid::Uuid;

use super::dosing;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/templates", get(list).post(load))
        .route("/templates/{template}/file", get(file))
        .route("/templates/{template}/away", post(away))
        .route("/templates/{template}/back", post(bring_back))
        .route("/sessions/{session}/template", get(to_session).post(of_session))
        .route("/clients/{client}/week/{week}/template", get(to_week).post(of_week))
        .route("/clients/{client}/plan/template", get(to_plan).post(of_plan))
        .merge(apply::routes())
}

#[derive(Askama, WebTemplate)]
#[template(path = "templates/page.html")]
struct Page {
    chrome: Chrome,
    /// For the document that is loaded.
    id: Uuid,
    templates: Vec<View>,
    /// What was pasted, and what is wrong with it.
    typed: String,
    wrong: Option<String>,
}

pub(super) struct View {
    pub(super) id: Uuid,
    pub(super) name: String,
    pub(super) kind: &'static str,
    /// `2 days, 11 lines, 31 sets`.
    pub(super) holds: String,
    pub(super) archived: bool,
}

/// `1 day`, `2 days`.
fn counted(n: usize, word: &str) -> String {
    if n == 1 { format!("1 {word}") } else { format!("{n} {word}s") }
}

pub(super) fn view(kept: &Kept) -> View {
    let template = &kept.template;
    let sets: usize = template.lines().map(|l| l.dose.prescription().sets.len()).sum();
    let mut holds =
        vec![counted(template.days.len(), "day"), counted(template.lines().count(), "line"), counted(sets, "set")];
    holds.extend(template.weeks.as_ref().map(|w| counted(usize::from(w.weeks), "week")));
    View {
        id: kept.id,
        name: template.name.clone(),
        kind: template.kind.label(),
        holds: holds.join(", "),
        archived: kept.archived,
    }
}

async fn page(
    app: &App,
    trainer: TrainerId,
    chrome: Chrome,
    (typed, wrong): (String, Option<String>),
) -> Result<Page, WebError> {
    let templates = templates::all(&app.pool, trainer).await?.iter().map(view).collect();
    Ok(Page { id: new_id(), templates, typed, wrong, chrome: chrome.titled("Templates") })
}

async fn list(Mine(app): Mine, Me(trainer): Me, chrome: Chrome) -> Result<Page, WebError> {
    page(&app, trainer, chrome, (String::new(), None)).await
}

/// The page with what was refused.
async fn refused(
    app: &App,
    trainer: TrainerId,
    chrome: Chrome,
    typed: &str,
    why: String,
) -> Result<Response, WebError> {
    let page = page(app, trainer, chrome, (typed.to_owned(), Some(why))).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

/// Keeps a document that somebody shared.
async fn load(Mine(app): Mine, Me(trainer): Me, chrome: Chrome, fields: Fields) -> Result<Response, WebError> {
    let text = fields.text("text");
    match bavrek_formats::templates::read(text) {
        Ok(template) => keep(&app, trainer, chrome, (fields.id("id")?, template)).await,
        Err(error) => refused(&app, trainer, chrome, text, error.to_string()).await,
    }
}

/// Keeps a template and shows the list.
async fn keep(
    app: &App,
    trainer: TrainerId,
    chrome: Chrome,
    (id, template): (Uuid, Template),
) -> Result<Response, WebError> {
    if let Err(error) = template.validate() {
        return refused(app, trainer, chrome, "", format!("{}: {}", error.path, error.message)).await;
    }
    match templates::keep(&app.pool, trainer, id, &template).await {
        Ok(()) => Ok(Redirect::to(&format!("/templates#t-{id}")).into_response()),
        Err(StoreError::Conflict) => {
            let why = format!("there are {} templates already: put some away first", templates::MOST);
            refused(app, trainer, chrome, "", why).await
        }
        Err(other) => Err(other.into()),
    }
}

/// A template as its open document.
async fn file(Mine(app): Mine, Me(trainer): Me, Ids(id): Ids) -> Result<Response, WebError> {
    let kept = templates::one(&app.pool, trainer, id).await?;
    let plain = |c: char| if c.is_ascii_alphanumeric() { c.to_ascii_lowercase() } else { '-' };
    let name: String = kept.template.name.chars().map(plain).collect();
    let head = [
        (header::CONTENT_TYPE, "application/json".to_owned()),
        (header::CONTENT_DISPOSITION, format!("attachment; filename=\"{name}.json\"")),
    ];
    Ok((head, bavrek_formats::templates::write(&kept.template)).into_response())
}

async fn away(Mine(app): Mine, Me(trainer): Me, Ids(id): Ids) -> Result<Redirect, WebError> {
    templates::set_archived(&app.pool, trainer, id, true).await?;
    Ok(Redirect::to("/templates"))
}

async fn bring_back(Mine(app): Mine, Me(trainer): Me, Ids(id): Ids) -> Result<Redirect, WebError> {
    templates::set_archived(&app.pool, trainer, id, false).await?;
    Ok(Redirect::to("/templates"))
}

async fn to_session(Ids(session): Ids) -> Redirect {
    Redirect::to(&format!("/sessions/{session}"))
}

async fn to_week(Ids((client, week)): Ids<(Uuid, Uuid)>) -> Redirect {
    Redirect::to(&format!("/clients/{client}/week/{week}"))
}

async fn to_plan(Ids(client): Ids) -> Redirect {
    Redirect::to(&format!("/clients/{client}/plan"))
}

/// The day of a session, its lines with the doses in force.
async fn day_of(app: &App, trainer: TrainerId, head: &SessionHead) -> Result<TemplateDay, WebError> {
    let (blocks, fits) = tokio::try_join!(
        sessions::blocks(&app.pool, trainer, head.id),
        fits::of_session(&app.pool, trainer, head.id, head.place_id),
    )?;
    let line = |slot: &bavrek_store::slots::Slot| {
        let fit = fits.get(&slot.id);
        template::line(&fit.map_or_else(|| slot.intent.clone(), |f| dosing::in_force(app, f, &slot.intent)))
    };
    let blocks = blocks.iter().map(|b| TemplateBlock { kind: b.kind, lines: b.slots.iter().map(line).collect() });
    Ok(TemplateDay {
        name: Some(head.name.clone()),
        weekday: Some(head.planned_on.weekday().number_from_monday() as u8),
        minutes: head.minutes.unsigned_abs(),
        every: None,
        blocks: blocks.collect(),
    })
}

async fn of_session(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let head = sessions::head(&app.pool, trainer, session).await?;
    let template = Template {
        version: template::VERSION,
        kind: Kind::Session,
        name: fields.text("name").to_owned(),
        method: head.method,
        days: vec![day_of(&app, trainer, &head).await?],
        weeks: None,
    };
    keep(&app, trainer, chrome, (fields.id("id")?, template)).await
}

fn days_of(draft: &Draft) -> Vec<TemplateDay> {
    let day = |(asked, day): (&weeks::AskedDay, &weeks::DraftDay)| TemplateDay {
        name: day.name.clone(),
        weekday: Some(asked.weekday),
        minutes: asked.minutes,
        every: None,
        blocks: day
            .blocks
            .iter()
            .map(|(kind, lines)| TemplateBlock {
                kind: *kind,
                lines: lines.iter().map(|l| template::line(&l.intent)).collect(),
            })
            .collect(),
    };
    draft.asked.days.iter().zip(&draft.days).filter(|(_, day)| !day.blocks.is_empty()).map(day).collect()
}

async fn of_week(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, week)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let kept = weeks::one(&app.pool, trainer, week).await?;
    if kept.client_id != client {
        return Err(WebError::NotFound);
    }
    let template = Template {
        version: template::VERSION,
        kind: Kind::Week,
        name: fields.text("name").to_owned(),
        method: Some(kept.draft.asked.method),
        days: days_of(&kept.draft),
        weeks: None,
    };
    keep(&app, trainer, chrome, (fields.id("id")?, template)).await
}

async fn of_plan(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let plan = plans::of_client(&app.pool, trainer, client).await?.ok_or(WebError::NotFound)?;
    let Plan { rules, .. } = &plan;
    let mut days = Vec::new();
    let mut method = None;
    for due in &rules.due {
        let head = sessions::head(&app.pool, trainer, due.session).await?;
        method = method.or(head.method);
        let every = (due.every != Every::Week).then_some(due.every);
        days.push(TemplateDay { weekday: Some(due.weekday), every, ..day_of(&app, trainer, &head).await? });
    }
    let template = Template {
        version: template::VERSION,
        kind: Kind::Plan,
        name: fields.text("name").to_owned(),
        method,
        days,
        weeks: Some(TemplateWeeks {
            weeks: rules.weeks,
            light_every: rules.light_every,
            light_weeks: rules.light_weeks.clone(),
            phases: rules.phases.iter().map(|p| (p.from_week, p.method)).collect(),
            missed: rules.missed,
        }),
    };
    keep(&app, trainer, chrome, (fields.id("id")?, template)).await
}
