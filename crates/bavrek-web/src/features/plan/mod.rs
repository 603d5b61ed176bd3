//! A client's plan over weeks: asked for as rows, shown as a calendar, opened week by week.

mod form;
mod opening;
mod spares;
mod views;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::calendar::Turn;
use bavrek_store::places::{self, PlaceHead};
use bavrek_store::plans::{self, Plan};
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::{StoreError, TrainerId, fits, new_id, weeks};
use serde::Deserialize;
use uuid::Uuid;

use self::form::{Choices, Form};
use super::rooms::Rooms;
use super::schools::{self, Chosen};
use super::typed::Typed;
use super::who::Who;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

pub(crate) use opening::tend_all;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/plan", get(show).post(save))
        .route("/clients/{client}/plan/open", get(back).post(open))
        .route("/clients/{client}/plan/end", get(back).post(end))
        .route("/clients/{client}/plan/again", get(back).post(again))
        .route("/slots/{slot}/alternate/end", get(to_slot).post(end_alternating))
        .merge(spares::routes())
}

#[derive(Template, WebTemplate)]
#[template(path = "plan/page.html")]
struct Page {
    chrome: Chrome,
    client: (Uuid, String),
    /// For a plan that is begun with the form.
    id: Uuid,
    form: Form,
    stopped: bool,
    /// Whether there is anything to be put on weekdays.
    bare: bool,
    plan: Option<views::PlanView>,
    /// Lines that alternate: slot, place, session, what the usual weeks do, what every second week does.
    alternating: Vec<views::Alternating>,
    /// The plan that was ended last and can be taken up again.
    ended: Option<(Uuid, String)>,
    /// For a template that is made of it.
    template: Uuid,
}

#[derive(Deserialize, Default)]
struct Shown {
    /// A week from a plan's template, whose sessions were just made.
    from: Option<Uuid>,
}

impl Page {
    /// The groups of rows: title, hint, rows.
    fn groups(&self) -> [(&'static str, &'static str, &[form::RowView]); 4] {
        let Form { due, phases, off, trips, .. } = &self.form;
        [
            (
                "What is due in a week",
                "A session may be due on several days, at one place on one and at another on the next.",
                due,
            ),
            ("Phases", "From a week on the lines are dosed as a school does; the movements go on.", phases),
            ("Days off", "", off),
            (
                "Trips",
                "The sessions of these days are done there: their lines are fitted to that place, and go on at home after it.",
                trips,
            ),
        ]
    }
}

/// The client with all that a plan is made of.
struct Desk {
    who: Who,
    sessions: Vec<SessionHead>,
    places: Vec<PlaceHead>,
    schools: Vec<Chosen>,
    plan: Option<Plan>,
}

impl Desk {
    async fn load(app: &App, trainer: TrainerId, client: Uuid) -> Result<Self, WebError> {
        let who = Who::load(app, trainer, client).await?;
        let (sessions, places, plan) = tokio::try_join!(
            sessions::of_client(&app.pool, trainer, client),
            places::in_use(&app.pool, trainer, client),
            plans::of_client(&app.pool, trainer, client),
        )?;
        let schools = schools::choices(app, trainer).await?;
        Ok(Self { who, sessions, places, schools, plan })
    }

    const fn choices(&self) -> Choices<'_> {
        Choices { sessions: self.sessions.as_slice(), places: self.places.as_slice(), schools: self.schools.as_slice() }
    }
}

async fn page(
    app: &App,
    trainer: TrainerId,
    desk: &Desk,
    chrome: Chrome,
    typed: Option<Typed>,
) -> Result<Page, WebError> {
    let who = &desk.who;
    let mut ahead = desk.sessions.clone();
    ahead.retain(|s| s.state.is_open() && s.planned_on >= who.today);
    let usual = || match &desk.plan {
        Some(plan) => form::typed_of(plan),
        None => form::usual(&ahead, who.today),
    };
    let typed = typed.unwrap_or_else(usual);
    let plan = match &desk.plan {
        Some(plan) => {
            let (opened, days) = tokio::try_join!(
                plans::opened(&app.pool, trainer, plan.id),
                plans::days(&app.pool, trainer, plan.id),
            )?;
            Some(views::plan(desk, plan, &opened, &days))
        }
        None => None,
    };
    let ended = match &desk.plan {
        None => plans::ended_last(&app.pool, trainer, who.client.id).await?,
        Some(_) => None,
    };
    let mut alternating = Vec::new();
    let others = fits::alternating(&app.pool, trainer, who.client.id).await?;
    let places: Vec<Uuid> = others.iter().map(|(_, fit)| fit.place_id).collect();
    let rooms = Rooms::of(app, trainer, &places).await?;
    for (session, other) in others {
        let fits = fits::for_turn(&app.pool, trainer, session, Turn::Usual).await?;
        let usual = fits.into_iter().find(|f| f.slot_id == other.slot_id && f.place_id == other.place_id);
        let now = |fit| rooms.now(app, &who.person, fit);
        let (usual, other) = (usual.map(now), now(other));
        alternating.push(views::alternating(app, desk, session, usual.as_ref(), &other));
    }
    Ok(Page {
        client: (who.client.id, who.client.name.clone()),
        id: new_id(),
        template: new_id(),
        form: desk.choices().form(&typed),
        stopped: who.stopped(),
        bare: desk.sessions.is_empty() || desk.places.is_empty(),
        plan,
        alternating,
        ended,
        chrome: who.frame(chrome, format!("Plan of {}", who.client.name)),
    })
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    Query(shown): Query<Shown>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let desk = Desk::load(&app, trainer, client).await?;
    let typed = match shown.from {
        Some(week) => {
            let kept = weeks::one(&app.pool, trainer, week).await?;
            if kept.client_id != client {
                return Err(WebError::NotFound);
            }
            form::typed_of_week(&kept.draft, desk.who.today)
        }
        None => None,
    };
    page(&app, trainer, &desk, chrome, typed).await
}

/// Begins or changes the plan; open weeks are laid anew from today on, weeks that are due open.
async fn save(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::load(&app, trainer, client).await?;
    let mut typed = Typed::of(&fields);
    let Some((name, rules)) = desk.choices().read(&mut typed) else {
        let page = page(&app, trainer, &desk, chrome, Some(typed)).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    let version = fields.text("version");
    let plan = if version.is_empty() {
        let plan = Plan { id: fields.id("id")?, client_id: client, name, rules, version: 0 };
        plans::begin(&app.pool, trainer, &plan).await?;
        plan
    } else {
        let version = version.parse().map_err(|_| WebError::bad("version", "is no number"))?;
        let plan = Plan { id: fields.id("plan")?, client_id: client, name, rules, version };
        plans::change(&app.pool, trainer, &plan).await?;
        plan
    };
    opening::tend(&app, trainer, &plan, true).await?;
    Ok(to_plan(client).into_response())
}

fn to_plan(client: Uuid) -> Redirect {
    Redirect::to(&format!("/clients/{client}/plan"))
}

async fn back(Ids(client): Ids) -> Redirect {
    to_plan(client)
}

/// Opens the next week before it would by itself.
async fn open(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let desk = Desk::load(&app, trainer, client).await?;
    let plan = desk.plan.as_ref().ok_or(WebError::ChangedMeanwhile)?;
    let week: u8 = fields.text("week").parse().map_err(|_| WebError::bad("week", "is no number"))?;
    if !(1..=plan.rules.weeks).contains(&week) {
        return Err(WebError::bad("week", "is none of this plan"));
    }
    if desk.who.stopped() {
        return Err(StoreError::ClearanceNeeded.into());
    }
    if plans::claim(&app.pool, trainer, plan.id, week, app.clock.now()).await? {
        opening::open_week(&app, trainer, plan, (week, desk.who.today)).await?;
    }
    Ok(to_plan(client))
}

async fn end(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids) -> Result<Redirect, WebError> {
    bavrek_store::clients::one(&app.pool, trainer, client).await?;
    plans::end(&app.pool, trainer, client).await?;
    Ok(to_plan(client))
}

/// Takes up a plan that was ended; its open weeks are laid anew.
async fn again(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, fields: Fields) -> Result<Redirect, WebError> {
    bavrek_store::clients::one(&app.pool, trainer, client).await?;
    plans::again(&app.pool, trainer, client, fields.id("plan")?).await?;
    if let Some(plan) = plans::of_client(&app.pool, trainer, client).await? {
        opening::tend(&app, trainer, &plan, true).await?;
    }
    Ok(to_plan(client))
}

async fn to_slot(Mine(app): Mine, Me(trainer): Me, Ids(slot): Ids) -> Result<Redirect, WebError> {
    let placed = bavrek_store::slots::one(&app.pool, trainer, slot).await?;
    Ok(Redirect::to(&format!("/sessions/{}?pick={slot}", placed.session.id)))
}

/// A line does the same every week again.
async fn end_alternating(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(slot): Ids,
    fields: Fields,
) -> Result<Redirect, WebError> {
    let placed = bavrek_store::slots::one(&app.pool, trainer, slot).await?;
    fits::end_turn(&app.pool, trainer, slot, fields.id("place")?, Turn::Other).await?;
    Ok(to_plan(placed.session.client_id))
}
