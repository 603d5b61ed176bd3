//! A client's week: asked for by days, places and minutes, proposed as a whole, taken as it was shown.

mod ask;
mod moves;
mod table;
mod views;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_store::boards::Standing;
use bavrek_store::weeks::{self, Kept, TakenAs};
use bavrek_store::{StoreError, TrainerId, new_id, sessions};
use chrono::{Datelike, Duration, NaiveDate};
use serde::Deserialize;
use uuid::Uuid;

pub(super) use self::ask::Desk;
use self::ask::Form;
pub(super) use self::table::{reread, scenes};
use super::dates::day;
use super::dosing;
use super::typed::Typed;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

/// Days of the week, Monday first.
pub(super) const DAYS: [&str; 7] = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/week", get(fresh).post(propose))
        .route("/clients/{client}/week/{week}", get(show))
        .route("/clients/{client}/week/{week}/take", get(back).post(take))
        .merge(moves::routes())
}

/// What of a week is looked at.
#[derive(Deserialize, Default)]
struct Shown {
    /// The line that is picked; the first one otherwise.
    pick: Option<Uuid>,
}

/// What was refused: whose day, what was typed, what is wrong with it.
#[derive(Default)]
struct Wrong {
    day: Option<usize>,
    typed: String,
    says: Option<String>,
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
    wrong: Wrong,
    /// For a week opened from what stands.
    opening: Uuid,
    /// Whether anything stands to be opened.
    stands: bool,
    /// For a template that is made of it.
    template: Uuid,
    /// What would help most, where that was asked: what, and how many more of the sets that are owed.
    helps: Option<Vec<(String, String)>>,
}

impl Page {
    /// Undo and redo: address, words, key, and whether there is anything.
    fn steps(&self) -> [(&'static str, &'static str, &'static str, bool); 2] {
        let standing = self.week.as_ref().map(|w| w.standing);
        let can = |which: fn(Standing) -> bool| standing.is_some_and(which);
        [("undo", "Undo", "u", can(|s| s.undo)), ("redo", "Redo", "U", can(|s| s.redo))]
    }

    /// Whether it is of sessions that stand already.
    fn is_open(&self) -> bool {
        self.week.as_ref().is_some_and(|w| w.open)
    }

    /// Why nothing was proposed.
    fn trouble(&self) -> Option<&str> {
        self.wrong.says.as_deref().filter(|_| self.wrong.day.is_none())
    }

    /// Minutes of a day as they stand in its field, and what is wrong with them.
    fn minutes(&self, day: &views::DayView) -> (String, Option<&str>) {
        match &self.wrong {
            Wrong { day: Some(at), typed, says } if *at == day.at => (typed.clone(), says.as_deref()),
            _ => (day.minutes.to_string(), None),
        }
    }
}

fn page(desk: &Desk, chrome: Chrome, typed: &Typed, week: Option<views::WeekView>) -> Page {
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
        wrong: Wrong::default(),
        opening: new_id(),
        template: new_id(),
        helps: None,
        stands: desk.planned.iter().any(|s| s.planned_on <= today + Duration::days(6)),
        week,
        chrome: desk.who.frame(chrome, format!("Week of {}", desk.who.client.name)),
    }
}

async fn fresh(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, chrome: Chrome) -> Result<Page, WebError> {
    let desk = Desk::load(&app, trainer, client).await?;
    let latest = weeks::latest(&app.pool, trainer, client).await?;
    let typed = latest.map_or_else(|| desk.usual(), |asked| desk.typed_of(&asked));
    Ok(page(&desk, chrome, &typed, None))
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
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page(&desk, chrome, &typed, None)).into_response());
    };
    let draft = ask::answer(&app, trainer, &desk, (asked, Vec::new())).await?;
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
    Query(shown): Query<Shown>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let kept = kept(&app, trainer, client, week).await?;
    let desk = Desk::load(&app, trainer, client).await?;
    proposal(&app, trainer, &desk, chrome, (week, kept, shown.pick)).await
}

/// The page of a proposal.
async fn proposal(
    app: &App,
    trainer: TrainerId,
    desk: &Desk,
    chrome: Chrome,
    (week, kept, pick): (Uuid, Kept, Option<Uuid>),
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
    let before = weeks::before(&app.pool, trainer, week, kept.standing.seq).await?;
    let view = views::week(app, desk, (week, &kept), (before.as_ref(), pick));
    Ok(Page { gone, outdated, ..page(desk, chrome, &typed, Some(view)) })
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
        let shown = proposal(&app, trainer, &desk, chrome, (week, kept.clone(), None)).await?;
        if !shown.outdated.is_empty() {
            return Ok((StatusCode::CONFLICT, shown).into_response());
        }
    }
    let days = kept.draft.asked.days.iter().zip(&kept.draft.days).map(|(asked, day)| {
        let place = desk.places.iter().find(|p| p.id == asked.place).map_or("", |p| p.name.as_str());
        TakenAs {
            name: day.name.clone().unwrap_or_else(|| format!("{}, {place}", weekday(asked.weekday))),
            on: next(asked.weekday, desk.who.today),
        }
    });
    let instead: Vec<Uuid> = fields.all("instead").filter_map(|id| id.parse().ok()).collect();
    let seen = fields.seen()?;
    weeks::take(&app.pool, trainer, (week, seen), &days.collect::<Vec<_>>(), &instead).await?;
    redosed(&app, trainer, &kept).await?;
    let tail = match (kept.draft.weeks.is_some(), instead.is_empty()) {
        // What came from a plan's template goes on as a plan.
        (true, _) => format!("/plan?from={week}"),
        (false, true) => String::new(),
        (false, false) => format!("/week/{week}"),
    };
    Ok(Redirect::to(&format!("/clients/{client}{tail}")).into_response())
}

/// A dose that was changed on a week that stood already takes effect wherever its line is done.
async fn redosed(app: &App, trainer: TrainerId, kept: &Kept) -> Result<(), WebError> {
    if kept.taken || kept.draft.opened.is_empty() {
        return Ok(());
    }
    for (asked, day) in kept.draft.asked.days.iter().zip(&kept.draft.days) {
        for line in day.lines().filter(|line| !line.kept) {
            let onto = line.done.as_ref().map(|done| (asked.place, &done.step));
            dosing::redose_onto(app, trainer, line.slot, &line.intent, onto).await?;
        }
    }
    Ok(())
}

pub(super) fn weekday(number: u8) -> &'static str {
    DAYS[usize::from(number.clamp(1, 7)) - 1]
}

/// The next day of a weekday: today where it is one.
fn next(weekday: u8, today: NaiveDate) -> NaiveDate {
    let ahead = (i64::from(weekday) + 7 - i64::from(today.weekday().number_from_monday())) % 7;
    today + Duration::days(ahead)
}
