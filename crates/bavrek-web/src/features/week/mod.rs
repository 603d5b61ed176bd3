//! A client's week: asked for by days, places and minutes, proposed as a whole, taken as it was shown.

mod ask;
mod views;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_store::weeks::{self, Kept};
use bavrek_store::{StoreError, TrainerId, new_id, sessions};
use chrono::{Datelike, Duration, NaiveDate};
use uuid::Uuid;

use self::ask::{Desk, Form};
use super::roster::day;
use super::typed::Typed;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

/// Days of the week, Monday first.
const DAYS: [&str; 7] = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/week", get(fresh).post(propose))
        .route("/clients/{client}/week/{week}", get(show))
        .route("/clients/{client}/week/{week}/take", get(back).post(take))
}

#[derive(Template, WebTemplate)]
#[template(path = "week/page.html")]
struct Page {
    chrome: Chrome,
    client: (Uuid, String),
    form: Form,
    /// For the proposal that the form leads to.
    id: Uuid,
    stopped: bool,
    /// Whether nobody said yet what each region is to do.
    aimless: bool,
    week: Option<views::WeekView>,
    /// What is planned already: identifier, name, day.
    planned: Vec<(Uuid, String, String)>,
    /// What went out of the plan for this week and can come back.
    gone: Vec<(Uuid, String)>,
    /// What of it can no longer be done as it is shown.
    outdated: Vec<String>,
}

fn page(app: &App, desk: &Desk, chrome: Chrome, typed: &Typed, kept: Option<(Uuid, Kept)>) -> Page {
    let today = desk.who.today;
    Page {
        client: (desk.who.client.id, desk.who.client.name.clone()),
        form: desk.form(typed),
        id: new_id(),
        stopped: desk.who.stopped(),
        aimless: desk.aims.is_none(),
        planned: desk.planned.iter().map(|s| (s.id, s.name.clone(), day(s.planned_on, today))).collect(),
        gone: Vec::new(),
        outdated: Vec::new(),
        week: kept.map(|(id, kept)| views::week(app, desk, id, &kept)),
        chrome: desk.who.frame(chrome, format!("Week of {}", desk.who.client.name)),
    }
}

async fn fresh(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, chrome: Chrome) -> Result<Page, WebError> {
    let desk = Desk::load(&app, trainer, client).await?;
    let latest = weeks::latest(&app.pool, trainer, client).await?;
    let typed = latest.map_or_else(|| desk.usual(), |asked| desk.typed_of(&asked));
    Ok(page(&app, &desk, chrome, &typed, None))
}

async fn propose(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::load(&app, trainer, client).await?;
    let mut typed = Typed::of(&fields);
    let Some(asked) = desk.read(&mut typed) else {
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page(&app, &desk, chrome, &typed, None)).into_response());
    };
    let draft = ask::answer(&app, trainer, &desk, asked).await?;
    let id = fields.id("id")?;
    weeks::keep(&app.pool, trainer, client, id, &draft).await?;
    Ok(Redirect::to(&format!("/clients/{client}/week/{id}")).into_response())
}

async fn kept(app: &App, trainer: TrainerId, client: Uuid, week: Uuid) -> Result<Kept, WebError> {
    let kept = weeks::one(&app.pool, trainer, week).await?;
    if kept.client_id == client { Ok(kept) } else { Err(StoreError::NotFound.into()) }
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, week)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let kept = kept(&app, trainer, client, week).await?;
    let desk = Desk::load(&app, trainer, client).await?;
    proposal(&app, trainer, &desk, chrome, (week, kept)).await
}

/// The page of a proposal.
async fn proposal(
    app: &App,
    trainer: TrainerId,
    desk: &Desk,
    chrome: Chrome,
    (week, kept): (Uuid, Kept),
) -> Result<Page, WebError> {
    let outdated = if kept.taken { Vec::new() } else { ask::outdated(app, trainer, desk, &kept.draft).await? };
    let mut gone = Vec::new();
    for session in &kept.instead {
        // What came back is no longer offered.
        if desk.planned.iter().all(|s| s.id != *session) {
            gone.push((*session, sessions::head(&app.pool, trainer, *session).await?.name));
        }
    }
    let typed = desk.typed_of(&kept.draft.asked);
    Ok(Page { gone, outdated, ..page(app, desk, chrome, &typed, Some((week, kept))) })
}

async fn back(Ids((client, week)): Ids<(Uuid, Uuid)>) -> Redirect {
    Redirect::to(&format!("/clients/{client}/week/{week}"))
}

/// Makes the sessions of a proposal as it was shown, each on the next of its weekdays. One that can no longer be done so is not
/// taken: the page says what changed.
async fn take(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, week)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let kept = kept(&app, trainer, client, week).await?;
    let desk = Desk::load(&app, trainer, client).await?;
    if !kept.taken && !desk.who.stopped() {
        let shown = proposal(&app, trainer, &desk, chrome, (week, kept.clone())).await?;
        if !shown.outdated.is_empty() {
            return Ok((StatusCode::CONFLICT, shown).into_response());
        }
    }
    let days = kept.draft.asked.days.iter().map(|day| {
        let place = desk.places.iter().find(|p| p.id == day.place).map_or("", |p| p.name.as_str());
        (format!("{}, {place}", weekday(day.weekday)), next(day.weekday, desk.who.today))
    });
    let instead: Vec<Uuid> = fields.all("instead").filter_map(|id| id.parse().ok()).collect();
    weeks::take(&app.pool, trainer, week, &days.collect::<Vec<_>>(), &instead).await?;
    let tail = if instead.is_empty() { String::new() } else { format!("/week/{week}") };
    Ok(Redirect::to(&format!("/clients/{client}{tail}")).into_response())
}

fn weekday(number: u8) -> &'static str {
    DAYS[usize::from(number.clamp(1, 7)) - 1]
}

/// The next day of a weekday: today where it is one.
fn next(weekday: u8, today: NaiveDate) -> NaiveDate {
    let ahead = (i64::from(weekday) + 7 - i64::from(today.weekday().number_from_monday())) % 7;
    today + Duration::days(ahead)
}
