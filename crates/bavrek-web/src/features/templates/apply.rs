//! A template applied to a client: its lines fitted to the places of its days, dosed for the client, laid as a week to be looked at.

use std::collections::BTreeSet;

use askama::Template as Askama;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::method::Method;
use bavrek_core::ranges::SESSION_MINUTES;
use bavrek_core::school::taken_over;
use bavrek_core::template::{Template, TemplateDay};
use bavrek_core::week::Wish;
use bavrek_store::templates;
use bavrek_store::weeks::{self, Asked, AskedDay, Draft, DraftDay, DraftLine};
use bavrek_store::{TrainerId, new_id};
use serde::Deserialize;
use uuid::Uuid;

use super::{View, view};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::scene::purpose;
use crate::features::typed::Typed;
use crate::features::week::{DAYS, Desk, reread, scenes};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/clients/{client}/apply", get(ask).post(lay))
}

#[derive(Deserialize, Default)]
struct Wanted {
    #[serde(default)]
    template: Option<Uuid>,
}

#[derive(Askama, WebTemplate)]
#[template(path = "templates/apply.html")]
struct Page {
    chrome: Chrome,
    client: (Uuid, String),
    /// To choose from, where none is chosen.
    templates: Vec<View>,
    chosen: Option<Chosen>,
    placeless: bool,
}

struct Chosen {
    /// The template, and the week that it becomes.
    id: Uuid,
    week: Uuid,
    name: String,
    kind: &'static str,
    days: Vec<DayView>,
}

struct DayView {
    at: usize,
    name: String,
    lines: Vec<String>,
    places: Vec<(String, String, bool)>,
    weekdays: Vec<(String, &'static str, bool)>,
    minutes: String,
    error: Option<String>,
}

fn named(what: &str, day: usize) -> String {
    format!("{what}_{day}")
}

/// What a template says of its days, at the client's first place.
fn usual(template: &Template, desk: &Desk) -> Typed {
    let place = desk.places.first().map_or_else(String::new, |p| p.id.to_string());
    let mut values = Vec::new();
    let taken: Vec<u8> = template.days.iter().filter_map(|d| d.weekday).collect();
    let mut free = (1_u8..=7).filter(|w| !taken.contains(w));
    for (i, day) in template.days.iter().enumerate() {
        let weekday = day.weekday.or_else(|| free.next()).unwrap_or(1);
        values.push((named("place", i), place.clone()));
        values.push((named("weekday", i), weekday.to_string()));
        values.push((named("minutes", i), day.minutes.to_string()));
    }
    Typed::from_map(values.into_iter().collect())
}

fn day_view(desk: &Desk, typed: &Typed, at: usize, day: &TemplateDay) -> DayView {
    let [place, weekday, minutes] = ["place", "weekday", "minutes"].map(|w| named(w, at));
    let error = [&place, &weekday, &minutes].into_iter().find_map(|f| typed.error(f)).map(str::to_owned);
    let options = desk.places.iter().map(|p| {
        let id = p.id.to_string();
        let on = id == typed.value(&place);
        (id, p.name.clone(), on)
    });
    let days = DAYS.iter().enumerate().map(|(i, name)| {
        let number = (i + 1).to_string();
        let on = number == typed.value(&weekday);
        (number, *name, on)
    });
    let lines = day.blocks.iter().flat_map(|b| &b.lines);
    DayView {
        at,
        name: day.name.clone().unwrap_or_else(|| format!("Day {}", at + 1)),
        lines: lines.map(|l| format!("{}: {}", purpose(l), l.dose.prescription().text())).collect(),
        places: options.collect(),
        weekdays: days.collect(),
        minutes: typed.value(&minutes).to_owned(),
        error,
    }
}

async fn page(
    app: &App,
    trainer: TrainerId,
    (client, wanted): (Uuid, Option<Uuid>),
    chrome: Chrome,
    typed: Option<Typed>,
) -> Result<Page, WebError> {
    let desk = Desk::load(app, trainer, client).await?;
    let chosen = match wanted {
        None => None,
        Some(id) => {
            let template = templates::one(&app.pool, trainer, id).await?.template;
            let typed = typed.unwrap_or_else(|| usual(&template, &desk));
            let days = template.days.iter().enumerate().map(|(i, day)| day_view(&desk, &typed, i, day)).collect();
            Some(Chosen { id, week: new_id(), name: template.name.clone(), kind: template.kind.label(), days })
        }
    };
    let mut kept = templates::all(&app.pool, trainer).await?;
    kept.retain(|k| !k.archived);
    Ok(Page {
        client: (client, desk.who.client.name.clone()),
        templates: kept.iter().map(view).collect(),
        chosen,
        placeless: desk.places.is_empty(),
        chrome: desk.who.frame(chrome, format!("A template for {}", desk.who.client.name)),
    })
}

async fn ask(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    Query(wanted): Query<Wanted>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    page(&app, trainer, (client, wanted.template), chrome, None).await
}

/// The days that were typed; none where any of it is refused.
fn read(desk: &Desk, template: &Template, typed: &mut Typed) -> Option<Vec<AskedDay>> {
    let mut days: Vec<AskedDay> = Vec::new();
    for i in 0..template.days.len() {
        let [place, weekday, minutes] = ["place", "weekday", "minutes"].map(|w| named(w, i));
        let at = typed.needed_word(&place, |id| desk.places.iter().find(|p| p.id.to_string() == id).map(|p| p.id));
        let day = typed.needed_word(&weekday, |d| d.parse::<u8>().ok().filter(|d| (1..=7).contains(d)));
        let long = typed.whole(&minutes, SESSION_MINUTES);
        if long.is_none() {
            typed.refuse(&minutes, "minutes are needed");
        }
        if let (Some(place), Some(weekday), Some(minutes)) = (at, day, long) {
            days.push(AskedDay { place, minutes: minutes.unsigned_abs(), weekday });
        }
    }
    typed.fine().then_some(days)
}

/// A template as a week whose lines are still to be fitted.
fn draft(template: &Template, desk: &Desk, days: Vec<AskedDay>) -> Draft {
    let mut eased = Vec::new();
    let experience = desk.who.client.experience;
    let mut line = |intent: &bavrek_core::plan::Intent| {
        let dose = taken_over(&intent.dose.prescription(), experience);
        if let Some(dose) = &dose {
            eased.push(format!("{}: {}", purpose(intent), dose.text()));
        }
        let intent = dose.map_or_else(|| intent.clone(), |dose| intent.clone().dosed(dose));
        let dose = intent.dose.prescription();
        DraftLine { slot: new_id(), dose, intent, done: None, expected: None, pinned: false, kept: false }
    };
    let laid = template.days.iter().map(|day| DraftDay {
        session: new_id(),
        name: day.name.clone(),
        blocks: day.blocks.iter().map(|b| (b.kind, b.lines.iter().map(&mut line).collect())).collect(),
        seconds: 0.0,
    });
    let laid: Vec<DraftDay> = laid.collect();
    let mut notes = vec![format!("From the template {:?}.", template.name)];
    if !eased.is_empty() {
        notes.push(format!("Eased for the {experience}: {}.", eased.join("; ")));
    }
    Draft {
        asked: Asked {
            days,
            method: template.method.unwrap_or(Method::ReserveBased),
            follows: None,
            wish: Wish::Balanced,
        },
        days: laid,
        sets: Vec::new(),
        unmet: Vec::new(),
        objective: 0.0,
        bound: 0.0,
        balance: [0; 2],
        by_hand: true,
        opened: Vec::new(),
        notes,
        weeks: template.weeks.clone(),
    }
}

/// Fits the lines to their places and shows them as a week, to be moved and taken.
async fn lay(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::load(&app, trainer, client).await?;
    let id = fields.id("template")?;
    let template = templates::one(&app.pool, trainer, id).await?.template;
    let mut typed = Typed::of(&fields);
    let Some(days) = read(&desk, &template, &mut typed) else {
        let page = page(&app, trainer, (client, Some(id)), chrome, Some(typed)).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    let mut draft = draft(&template, &desk, days);
    let scenes = scenes(&app, trainer, client, &draft.asked.days).await?;
    let all: Vec<usize> = (0..draft.days.len()).collect();
    let every: BTreeSet<Uuid> = draft.lines().map(|l| l.slot).collect();
    let asked: Vec<_> = draft.lines().map(|l| (l.slot, l.dose.loaded(None))).collect();
    reread(&app, &scenes, &desk.aims_or_kept(), &mut draft, (&all, &every));
    let bent = draft.lines().filter(|l| {
        let same = asked.iter().any(|(slot, dose)| *slot == l.slot && *dose == l.intent.dose.prescription());
        l.done.is_some() && !same
    });
    let bent: Vec<String> =
        bent.map(|l| format!("{}: {}", purpose(&l.intent), l.intent.dose.prescription().text())).collect();
    if !bent.is_empty() {
        draft.notes.push(format!("No step there suits the dose of these, so it is another: {}.", bent.join("; ")));
    }
    let open = draft.lines().filter(|l| l.done.is_none()).map(|l| purpose(&l.intent)).collect::<Vec<_>>();
    if !open.is_empty() {
        draft.notes.push(format!("Nothing does these there, so they stay open: {}.", open.join("; ")));
    }
    let week = fields.id("id")?;
    weeks::keep(&app.pool, trainer, client, week, &draft).await?;
    Ok(Redirect::to(&format!("/clients/{client}/week/{week}")).into_response())
}
