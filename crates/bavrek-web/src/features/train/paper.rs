//! The workout on paper, for no phone at all: set-up, steps, what to do and to avoid, and space to write. As a page of the browser, as
//! PDF, and as a booklet of a week or of all that a plan still holds.

use std::collections::BTreeSet;
use std::sync::OnceLock;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::{Query, State as Shared};
use axum::middleware;
use axum::response::Response;
use axum::routing::get;
use bavrek_core::ladder::{Ahead, Ladder, Next, ahead};
use bavrek_core::person::Side;
use bavrek_core::script::Turn;
use bavrek_core::warm_up::cool_down;
use bavrek_formats::paper::{self, Booklet, Letters, Line, Paper, Sheet};
use bavrek_store::sessions::SessionHead;
use bavrek_store::workouts::{self, Due};
use bavrek_store::{TrainerId, clients, plans, sessions};
use chrono::{Datelike, Days, NaiveDate};
use serde::Deserialize;
use uuid::Uuid;

use super::floor::{Floor, Post};
use super::phone::{admitted, reached};
use super::views::SETS_TO_A_TOTAL;
use super::{phone::pack::Way, warm};
use crate::error::WebError;
use crate::extract::{Ids, Me, Mine};
use crate::features::dates::written;
use crate::features::scene::{dose_text, purpose};
use crate::pictures::rig;
use crate::state::App;
use crate::{assets, auth, budget, downloads};

/// Steps that are told ahead.
const AHEAD: usize = 3;
/// Days of which a booklet of a plan is made: what is further off is fitted when it comes nearer.
const FARTHEST: u64 = 56;
/// How far from today a week may lie that a booklet is made of, days.
const FARTHEST_WEEK: i64 = 3_660;
/// Most workouts of a booklet.
const MOST_SHEETS: usize = 40;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/sessions/{session}/sheet", get(for_trainer))
        .route("/sessions/{session}/sheet.pdf", get(pdf_for_trainer))
        .route("/clients/{client}/booklet.pdf", get(of_week))
        .route("/clients/{client}/plan/booklet.pdf", get(of_plan))
}

/// What a client reaches by a link.
pub(super) fn linked_routes(app: &App) -> Router<App> {
    Router::new()
        .route("/go/{link}/{session}/sheet", get(by_link))
        .route("/go/{link}/{session}/sheet.pdf", get(pdf_by_link))
        .route_layer(middleware::from_fn_with_state(app.clone(), budget::computing_by_link))
        .route_layer(middleware::from_fn(auth::within_a_wall))
}

#[derive(Template, WebTemplate)]
#[template(path = "go/sheet.html")]
struct Page {
    css: String,
    js: String,
    /// Where it was opened from.
    back: String,
    /// Where it is as PDF.
    pdf: String,
    sheet: Sheet,
}

impl Page {
    fn of(app: &App, floor: &Floor, back: String, pdf: String) -> Self {
        Self { css: assets::url("app.css"), js: assets::url("app.js"), back, pdf, sheet: sheet(app, floor) }
    }
}

/// What is asked for of a document.
#[derive(Deserialize, Default)]
struct Wanted {
    /// The size of its pages.
    size: Option<String>,
    /// A day of the week that it is of.
    week: Option<NaiveDate>,
}

impl Wanted {
    fn paper(&self) -> Result<Paper, WebError> {
        let Some(size) = self.size.as_deref().filter(|s| !s.is_empty()) else { return Ok(Paper::default()) };
        Paper::from_id(size).ok_or_else(|| WebError::bad("size", "must be a4 or letter"))
    }
}

fn line(app: &App, floor: &Floor, post: &Post, ramp: Vec<String>) -> Option<Line> {
    let way = Way::own(app, floor, post)?;
    let dose = &post.fit.prescription;
    let (load, how) = way.figure(post);
    let drawn = floor.scene.drawing(way.movement, &post.fit.step, rig::Detail::Printed);
    let pictured = drawn.as_ref().map_or_else(String::new, |p| format!("{}: {}", p.title, p.description));
    Some(Line {
        name: way.movement.name.clone(),
        job: match post.slot.intent.optional_text() {
            Some(may) => format!("{}; {may}", purpose(&post.slot.intent)),
            None => purpose(&post.slot.intent),
        },
        together: floor.script.is_shared(post.slot.id),
        load,
        how,
        dose: dose_text(app, &way.movement.id, dose),
        tempo: dose.tempo_in_words().map_or_else(String::new, |words| format!("{words}.")),
        ramp,
        picture: drawn.and_then(|picture| picture.render().ok()),
        pictured,
        // Breathing is said once, for all.
        facts: way
            .facts(post)
            .into_iter()
            .filter(|(term, _)| *term != "Breathe")
            .map(|(term, text)| (term.to_owned(), text))
            .collect(),
        ahead: coming(floor, post, &way),
        sets: boxes(floor, post, &way),
    })
}

/// Which steps come next and what goes before each, or why none does: nothing rises in a lighter week, before a clearance, and where
/// a joint is spared.
fn coming(floor: &Floor, post: &Post, way: &Way<'_>) -> Option<(String, Vec<String>)> {
    let alone = |text: &str| Some((text.to_owned(), Vec::new()));
    if let Some(reason) = way.held_back(floor) {
        return alone(reason.label());
    }
    let (person, kit) = (&floor.scene.person, &floor.scene.place.kit);
    let ladder = Ladder::of_line(way.movement, person, kit, &post.slot.intent);
    let dose = &post.fit.prescription;
    let told = match ahead(&post.fit.step, &ladder.steps, dose, AHEAD) {
        Ahead::Steps(told) => told,
        Ahead::Far(step, jump) => {
            let percent = 100.0 * jump;
            return alone(&format!(
                "the next step, {}, is {percent:.0} % heavier: more repetitions first, then your trainer decides",
                step.label
            ));
        }
        Ahead::Top => return alone("nothing here is heavier: more repetitions first, then your trainer decides"),
        Ahead::Untold => return None,
    };
    let rir = dose.sets.iter().filter_map(|set| set.rir).min().unwrap_or(0);
    let left = if rir == 0 { String::new() } else { format!(" with {rir} more in you") };
    let first = told.first()?.reps;
    let alike = told.iter().all(|next| next.reps == first);
    let when = match first {
        Some(reps) if alike => format!("after {reps} clean in every set{left} and without pain, one further: "),
        Some(_) => format!("after so many clean in every set{left} and without pain, one further: "),
        None => "after every hold lasted its whole time without pain, one further: ".to_owned(),
    };
    let say = |next: &Next<'_>| match next.reps.filter(|_| !alike) {
        Some(reps) => format!("{} (after {reps})", next.step.label),
        None => next.step.label.clone(),
    };
    Some((when, told.iter().map(say).collect()))
}

/// What is asked, and of which side, with space to write.
fn boxes(floor: &Floor, post: &Post, way: &Way<'_>) -> Vec<(String, String)> {
    let turns = || floor.script.turns.iter().filter(|t| t.key == post.slot.id);
    let set = |(nth, turn): (usize, &Turn<Uuid>)| {
        let side = turn.side.map(Side::label);
        let label = match turn.work.total {
            Some(_) => format!("{}", nth + 1),
            None => format!("{}{}", turn.round + 1, side.map_or_else(String::new, |s| format!(" {s}"))),
        };
        // A total is asked once; there is space for as many sets as it takes.
        let other = Some(way.step_of(floor, &turn.work)).filter(|step| !step.is_alike(&post.fit.step));
        let on = other.map_or_else(String::new, |step| format!(" on {}", step.label));
        let on = on + &way.falls_short(floor, &turn.work);
        let asked =
            if turn.work.total.is_some() && nth > 0 { String::new() } else { format!("{}{on}", turn.work.amount()) };
        (label, asked)
    };
    let spare = turns().next().and_then(|t| t.work.total).map_or(usize::MAX, |_| SETS_TO_A_TOTAL);
    turns().enumerate().take(spare).map(set).collect()
}

fn sheet(app: &App, floor: &Floor) -> Sheet {
    let warm_up = warm::of(app, floor);
    let lines = floor.posts.iter().filter_map(|p| line(app, floor, p, warm::ramp(&warm_up, p.slot.id)));
    // What applies to several is said once.
    let mut cautions = app.cautions.0.clone();
    for way in floor.posts.iter().filter_map(|post| Way::own(app, floor, post)) {
        cautions.extend(way.cautions(app, floor));
    }
    let mut seen = BTreeSet::new();
    cautions.retain(|text| seen.insert(text.clone()));
    let minutes = |seconds: f64| format!("{:.0}", seconds / 60.0);
    Sheet {
        name: floor.session.name.clone(),
        client: floor.scene.client.name.clone(),
        place: floor.scene.place_head.name.clone(),
        day: written(floor.session.planned_on),
        light: floor.scene.light,
        minutes: minutes(warm_up.general.value()),
        joints: warm::drills(&warm_up).into_iter().map(|(joint, how)| (joint, how.to_owned())).collect(),
        cool_down: minutes(cool_down().value()),
        lines: lines.collect(),
        cautions,
    }
}

async fn for_trainer(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids) -> Result<Page, WebError> {
    let floor = Floor::load(&app, trainer, session).await?;
    Ok(Page::of(&app, &floor, format!("/sessions/{session}"), format!("/sessions/{session}/sheet.pdf")))
}

async fn by_link(Shared(app): Shared<App>, Ids((link, session)): Ids<(String, Uuid)>) -> Result<Page, WebError> {
    let who = admitted(&app, &link, session).await?;
    let (app, floor) = reached(&app, &who).await?;
    Ok(Page::of(&app, &floor, format!("/go/{link}"), format!("/go/{link}/{session}/sheet.pdf")))
}

async fn pdf_for_trainer(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    Query(wanted): Query<Wanted>,
) -> Result<Response, WebError> {
    let floor = Floor::load(&app, trainer, session).await?;
    pdf_of(&app, &floor, wanted.paper()?)
}

async fn pdf_by_link(
    Shared(app): Shared<App>,
    Ids((link, session)): Ids<(String, Uuid)>,
    Query(wanted): Query<Wanted>,
) -> Result<Response, WebError> {
    let who = admitted(&app, &link, session).await?;
    let (app, floor) = reached(&app, &who).await?;
    pdf_of(&app, &floor, wanted.paper()?)
}

fn pdf_of(app: &App, floor: &Floor, size: Paper) -> Result<Response, WebError> {
    let sheet = printed(sheet(app, floor));
    let name = format!("{}-{}.pdf", downloads::part(&sheet.name), floor.session.planned_on);
    let document = paper::sheet(letters()?, &sheet, size).map_err(|e| unprinted(&e))?;
    Ok(downloads::file(&name, document))
}

/// A booklet of a week, or of every session where no day of it is planned.
async fn of_week(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    Query(wanted): Query<Wanted>,
) -> Result<Response, WebError> {
    let who = clients::one(&app.pool, trainer, client).await?;
    let today = app.clock.today(&who.time_zone);
    let day = wanted.week.unwrap_or(today);
    if (day - today).num_days().abs() > FARTHEST_WEEK {
        return Err(WebError::bad("week", format!("must lie within {FARTHEST_WEEK} days of today, {today}")));
    }
    let monday = day - Days::new(u64::from(day.weekday().num_days_from_monday()));
    let due = workouts::due(&app.pool, trainer, client, [monday, monday + Days::new(6)]).await?;
    let title = format!("Week of {}", monday.format("%-d %B %Y"));
    let booklet = bound(&app, trainer, (&who.name, client), title, &due).await?;
    downloaded(&who.name, &format!("week-{monday}"), &booklet, wanted.paper()?)
}

/// A booklet of what a plan, or whatever else is planned, still holds: every session once, with the days on which it is due.
async fn of_plan(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    Query(wanted): Query<Wanted>,
) -> Result<Response, WebError> {
    let who = clients::one(&app.pool, trainer, client).await?;
    let today = app.clock.today(&who.time_zone);
    let until = today + Days::new(FARTHEST);
    let due = workouts::due(&app.pool, trainer, client, [today, until]).await?;
    let title = format!("Plan from {}", today.format("%-d %B %Y"));
    let mut booklet = bound(&app, trainer, (&who.name, client), title, &due).await?;
    booklet.days.extend(further(&app, trainer, client).await?);
    downloaded(&who.name, "plan", &booklet, wanted.paper()?)
}

/// The days of a plan's weeks that are not open yet: what is done on them is found when they open.
async fn further(app: &App, trainer: TrainerId, client: Uuid) -> Result<Vec<(String, String)>, WebError> {
    let Some(plan) = plans::of_client(&app.pool, trainer, client).await? else { return Ok(Vec::new()) };
    let (heads, opened) =
        tokio::try_join!(sessions::of_client(&app.pool, trainer, client), plans::opened(&app.pool, trainer, plan.id))?;
    let last = opened.iter().map(|week| week.week).max().unwrap_or(0);
    let weeks = (last + 1..=plan.rules.weeks).map(|number| plan.rules.week(number));
    let days = weeks.flat_map(|week| week.coming.into_iter().map(move |day| (day, week.light)));
    let told = days.filter_map(|(day, light)| {
        let name = &heads.iter().find(|h| h.id == day.session)?.name;
        let away = if day.on_trip { ", on a trip" } else { "" };
        Some((written(day.on), format!("{name}{away}{}", if light { ", a lighter week" } else { "" })))
    });
    Ok(told.collect())
}

fn downloaded(client: &str, what: &str, booklet: &Booklet, size: Paper) -> Result<Response, WebError> {
    let document = paper::booklet(letters()?, booklet, size).map_err(|e| unprinted(&e))?;
    Ok(downloads::file(&format!("{}-{what}.pdf", downloads::part(client)), document))
}

/// Each session once, as its next day among those does it; a day that does it otherwise once more: in a lighter week, at another
/// place, with what every second week does.
async fn bound(
    app: &App,
    trainer: TrainerId,
    (name, client): (&str, Uuid),
    title: String,
    due: &[Due],
) -> Result<Booklet, WebError> {
    let heads = sessions::of_client(&app.pool, trainer, client).await?;
    let mut days: Vec<(String, String)> = Vec::new();
    let mut sheets: Vec<(Due, Sheet)> = Vec::new();
    // Without a day every session is printed as it stands.
    let as_it_stands =
        |h: &SessionHead| Due { on: h.planned_on, session: h.id, place: h.place_id, turn: h.turn, light: h.light };
    let undated: Vec<Due> = heads.iter().map(as_it_stands).collect();
    let shown = if due.is_empty() { &undated } else { due };
    for each in shown {
        let Some(head) = heads.iter().find(|h| h.id == each.session) else { continue };
        let day = if due.is_empty() { "when it suits".to_owned() } else { written(each.on) };
        let at = sheets.iter().position(|(other, _)| other.is_alike(each));
        let place = if let Some(at) = at {
            let sheet = &mut sheets[at].1;
            sheet.day = format!("{}, {day}", sheet.day);
            sheet.place.clone()
        } else {
            if sheets.len() == MOST_SHEETS {
                break;
            }
            let floor = Floor::planned(app, trainer, head.clone(), each.on).await?;
            let sheet = Sheet { day: day.clone(), ..printed(sheet(app, &floor)) };
            let place = sheet.place.clone();
            sheets.push((*each, sheet));
            place
        };
        let light = if each.light { ", a lighter week" } else { "" };
        days.push((day, format!("{}, {place}{light}", head.name)));
    }
    Ok(Booklet {
        title,
        client: name.to_owned(),
        days,
        notes: notes(app),
        sheets: sheets.into_iter().map(|(_, s)| s).collect(),
    })
}

/// What holds for all of a booklet.
fn notes(app: &App) -> Vec<String> {
    let own = [
        "Steps and sets are those of the day this was printed: what you write down decides what comes next.",
        "\"2 in reserve\" means: you could have done two more clean ones. Stop there, or earlier when the range gets shorter.",
        "Write the repetitions of every set into its box, and behind them how many more were in you.",
    ];
    own.into_iter().map(str::to_owned).chain(app.cautions.0.iter().cloned()).collect()
}

/// The same with its drawings as they stand on no page of the browser.
fn printed(mut sheet: Sheet) -> Sheet {
    for line in &mut sheet.lines {
        line.picture = line.picture.take().map(|svg| alone(&svg));
    }
    sheet
}

/// A drawing with the styles it needs, as it stands by itself.
fn alone(svg: &str) -> String {
    static STYLES: OnceLock<String> = OnceLock::new();
    let styles = STYLES.get_or_init(|| assets::text("pictures.css").unwrap_or_default());
    let named = svg.replacen("<svg ", "<svg xmlns=\"http://www.w3.org/2000/svg\" ", 1);
    match named.find('>') {
        Some(end) => format!("{}<style>{styles}</style>{}", &named[..=end], &named[end + 1..]),
        None => named,
    }
}

/// The letters of printed pages, read once.
fn letters() -> Result<&'static Letters, WebError> {
    static LETTERS: OnceLock<Option<Letters>> = OnceLock::new();
    let read = || {
        let files = (0..).map_while(|nth| assets::bytes(&format!("printed-{nth}.ttf")));
        Letters::new(files.collect()).ok()
    };
    LETTERS.get_or_init(read).as_ref().ok_or(WebError::Failed)
}

fn unprinted(error: &paper::PaperError) -> WebError {
    tracing::error!(%error, "a page was not printed");
    WebError::Failed
}
