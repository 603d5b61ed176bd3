//! A planned session as a board: its pieces, what the week still owes, the piece that is picked, and the clock.

mod better;
mod copy;
mod head;
mod moves;
mod shorten;
mod table;
mod views;
mod whole;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::script::WorkoutState;
use bavrek_store::boards::Standing;
use bavrek_store::own_schools;
use bavrek_store::places::PlaceHead;
use bavrek_store::sessions::SessionHead;
use bavrek_store::{StoreError, TrainerId, new_id, slots, workouts};
use chrono::{Duration, NaiveDate};
use serde::Deserialize;
use uuid::Uuid;

use self::table::Table;
use super::dates::day;
use super::scene::purpose;
use super::typed::Typed;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::pictures::strip::Strip;
use crate::pictures::torso::{self, Torso};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/sessions/{session}", get(show))
        .route("/sessions/{session}/days", post(plan))
        .route("/sessions/{session}/days/{workout}/remove", post(take_out))
        .merge(moves::routes())
        .merge(shorten::routes())
        .merge(copy::routes())
        .merge(head::routes())
}

#[derive(Deserialize, Default)]
struct Shown {
    /// The slot just taken out, which can come back.
    removed: Option<Uuid>,
    /// The piece that is looked at; the first one otherwise.
    pick: Option<Uuid>,
    /// A slot whose earlier movement an undo did not bring back.
    away: Option<Uuid>,
    /// A slot whose block is to be chosen as a whole.
    whole: Option<Uuid>,
}

#[derive(Template, WebTemplate)]
#[template(path = "sessions/page.html")]
struct Page {
    chrome: Chrome,
    id: Uuid,
    name: String,
    when: String,
    client: (Uuid, String),
    place: String,
    at: Uuid,
    /// The client's places, others first, to re-fit to.
    elsewhere: Vec<(Uuid, String)>,
    limits: Vec<String>,
    /// The school it follows.
    method: Option<String>,
    /// That its next day is done lighter than it lies here, where it is.
    light: Option<&'static str>,
    /// The slot just taken out.
    removed: Option<(Uuid, String)>,
    /// What an undo did not bring back, by what it is for.
    away: Option<String>,
    blocks: Vec<views::BlockView>,
    picked: Option<views::Picked>,
    /// The pieces before and after the picked one.
    around: [Option<Uuid>; 2],
    standing: Standing,
    /// For a copy, and for a template that is made of it.
    copy: Uuid,
    template: Uuid,
    strip: Strip,
    spent: String,
    over: Option<String>,
    cuts: Vec<views::Cut>,
    /// An order in which less is set up anew.
    order: Option<better::OrderView>,
    warm_up: Vec<String>,
    owed: Vec<views::Owed>,
    aimed: bool,
    /// Whether nothing of it was done today, so that it begins with the warm-up.
    begins: bool,
    /// Days on which it was done or is planned, the latest first.
    days: Vec<DayView>,
    /// Whether there may be earlier ones.
    earlier: bool,
    /// One more day: identifier, day as typed or usual, what is wrong with it.
    planning: (Uuid, String, Option<String>),
    torso: Torso,
}

/// What is said on the board of a lighter week.
const LIGHTER: &str = "A lighter week: on that day the phone gives half of these sets, with two more in reserve and a step less \
                       where one is near. What lies here is for the weeks after it.";

struct DayView {
    id: Uuid,
    when: String,
    state: &'static str,
    told: String,
    /// Whether it can be taken out again.
    open: bool,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    Query(shown): Query<Shown>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    page(&app, trainer, session, shown, chrome, Typed::default()).await
}

async fn page(
    app: &App,
    trainer: TrainerId,
    session: Uuid,
    shown: Shown,
    chrome: Chrome,
    typed: Typed,
) -> Result<Page, WebError> {
    let mut table = Table::load(app, trainer, session).await?;
    let chrome = table.scene.frame(chrome);
    let (places, days) = (std::mem::take(&mut table.places), std::mem::take(&mut table.days));
    let removed = match shown.removed {
        Some(id) => removed(app, trainer, &table, id).await?,
        None => None,
    };
    let follows = match table.head.follows {
        Some(which) => {
            let own = own_schools::one(&app.pool, trainer, which).await?;
            Some(format!("{}, version {}", own.name, which.version))
        }
        None => None,
    };
    let slots: Vec<Uuid> = table.pieces().map(|p| p.slot.id).collect();
    let pick = shown.pick.filter(|p| slots.contains(p)).or_else(|| slots.first().copied());
    let (head, scene) = (&table.head, &table.scene);
    let title = match &table.aims {
        Some(_) => "This week with this session, against its aims",
        None => "Sets planned in this session",
    };
    let torso = match &table.aims {
        Some(aims) => super::clients::aims::draw(app, scene.client.experience, aims, table.week.regions(), false),
        None => torso::draw("t", title, table.own.regions(), &[]),
    };
    Ok(Page {
        id: session,
        name: head.name.clone(),
        when: when(head, scene.today),
        client: (scene.client.id, scene.client.name.clone()),
        place: scene.place.name.clone(),
        at: head.place_id,
        elsewhere: elsewhere(places, head.place_id),
        limits: scene.person.limits.iter().map(bavrek_core::person::Limit::text).collect(),
        method: follows.or(head.method.map(|m| m.label().to_owned())),
        light: (head.light && head.state.is_open()).then_some(LIGHTER),
        removed,
        away: shown.away.and_then(|slot| Some(purpose(&table.find(slot)?.1.slot.intent))),
        blocks: views::blocks(app, &table, pick, shown.whole),
        picked: pick.and_then(|pick| views::picked(app, &table, pick, &typed)),
        around: around(&slots, pick),
        standing: table.standing,
        copy: new_id(),
        template: new_id(),
        strip: views::strip(&table),
        spent: views::spent(&table),
        over: views::over(&table),
        cuts: views::cuts(app, &table),
        order: better::order_view(&table),
        warm_up: views::warm_up(&table),
        owed: views::owed(app, &table),
        aimed: table.aims.is_some(),
        begins: slots.iter().all(|slot| scene.done_today(*slot).next().is_none()),
        earlier: days.len() as i64 >= workouts::MOST_DAYS,
        days: days.iter().map(|d| day_view(d, scene.today, days.len() > 1)).collect(),
        planning: (new_id(), next_day(&typed, &days, scene.today), typed.error("on").map(str::to_owned)),
        torso,
        chrome: chrome.titled(head.name.clone()),
    })
}

/// The pieces before and after one.
fn around(slots: &[Uuid], pick: Option<Uuid>) -> [Option<Uuid>; 2] {
    let Some(at) = slots.iter().position(|s| Some(*s) == pick) else { return [None, None] };
    [at.checked_sub(1).map(|i| slots[i]), slots.get(at + 1).copied()]
}

/// When it is next done, or was last, and how long it takes.
fn when(head: &SessionHead, today: NaiveDate) -> String {
    let on = day(head.planned_on, today);
    match head.state {
        WorkoutState::Planned if head.planned_on < today => format!("was due {on}, {} min", head.minutes),
        WorkoutState::Planned => format!("{on}, {} min", head.minutes),
        state => format!("{state} {on}, {} min", head.minutes),
    }
}

fn day_view(one: &workouts::Day, today: NaiveDate, others: bool) -> DayView {
    let sets = if one.sets == 1 { "1 set".to_owned() } else { format!("{} sets", one.sets) };
    let moved = one.moved_from.map_or_else(String::new, |from| format!("planned for {} before", day(from, today)));
    let told: Vec<String> =
        [(one.sets > 0).then_some(sets), (!moved.is_empty()).then_some(moved)].into_iter().flatten().collect();
    DayView {
        id: one.id,
        when: day(one.on, today),
        state: one.state.label(),
        told: told.join(", "),
        open: others && one.state == WorkoutState::Planned && one.sets == 0,
    }
}

/// The day of one more: as typed, else a week after the latest, and not before tomorrow.
fn next_day(typed: &Typed, days: &[workouts::Day], today: NaiveDate) -> String {
    if typed.error("on").is_some() {
        return typed.value("on").to_owned();
    }
    let week = days.first().map_or(today, |d| d.on + Duration::days(7));
    week.max(today + Duration::days(1)).to_string()
}

/// Plans the session for one more day.
async fn plan(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let mut typed = Typed::of(&fields);
    let on = typed.day("on");
    if on.is_none() {
        typed.refuse("on", "is needed");
    }
    if let Some(on) = on.filter(|_| typed.fine()) {
        match workouts::plan(&app.pool, trainer, session, fields.id("id")?, on).await {
            Ok(()) => return Ok(Redirect::to(&format!("/sessions/{session}#days")).into_response()),
            Err(StoreError::Conflict) => typed.refuse("on", "stands on that day already"),
            Err(other) => return Err(other.into()),
        }
    }
    let page = page(&app, trainer, session, Shown::default(), chrome, typed).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

async fn take_out(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((session, workout)): Ids<(Uuid, Uuid)>,
) -> Result<Redirect, WebError> {
    workouts::take_out(&app.pool, trainer, session, workout).await?;
    Ok(Redirect::to(&format!("/sessions/{session}#days")))
}

/// A slot of the session that was taken out, by what it is for.
async fn removed(
    app: &App,
    trainer: TrainerId,
    table: &Table<'_>,
    slot: Uuid,
) -> Result<Option<(Uuid, String)>, WebError> {
    let placed = slots::one(&app.pool, trainer, slot).await?;
    let back = table.find(slot).is_some();
    Ok((placed.session.id == table.head.id && !back).then(|| (slot, purpose(&placed.slot.intent))))
}

/// Where the session can be re-fitted: other places first, and here after a change of kit or limits.
fn elsewhere(places: Vec<PlaceHead>, here: Uuid) -> Vec<(Uuid, String)> {
    let mut found: Vec<_> = places.into_iter().filter(|p| !p.archived || p.id == here).collect();
    found.sort_by_key(|p| p.id == here);
    let label = |p: PlaceHead| if p.id == here { format!("{}, as it is now", p.name) } else { p.name };
    found.into_iter().map(|p| (p.id, label(p))).collect()
}

impl Page {
    /// Undo and redo: address, words, key, and whether there is anything.
    const fn steps(&self) -> [(&'static str, &'static str, &'static str, bool); 2] {
        [("undo", "Undo", "u", self.standing.undo), ("redo", "Redo", "U", self.standing.redo)]
    }

    /// The pieces before and after: key, words, slot.
    const fn neighbours(&self) -> [(&'static str, &'static str, Option<Uuid>); 2] {
        let [before, after] = self.around;
        [("ArrowLeft", "Piece before", before), ("ArrowRight", "Piece after", after)]
    }
}
