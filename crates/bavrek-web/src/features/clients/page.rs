//! The overview of a client: torso with aims, limits, places, strength, next session.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::routing::get;
use bavrek_core::aims::Aims;
use bavrek_core::anatomy::Region;
use bavrek_core::kit::KitItem;
use bavrek_core::units::trim_number;
use bavrek_core::volume::{self, RegionSets, Volume};
use bavrek_store::kit::Piece;
use bavrek_store::places::PlaceHead;
use bavrek_store::sessions::SessionHead;
use bavrek_store::{aims, clients, connection, entries, kit, observations, places, sessions};
use chrono::{Duration, NaiveDate};
use serde::Deserialize;
use uuid::Uuid;

use super::profile::mass_text;
use super::steps::{Step, StepView, tabs};
use super::strength::{PatternView, patterns};
use crate::chrome::{Banner, Chrome};
use crate::error::WebError;
use crate::extract::{Ids, Me, Mine};
use crate::features::dates::day;
use crate::features::who::Who;
use crate::pictures::shelf::{self, Shelf};
use crate::pictures::torso::Torso;
use crate::state::App;

/// Observations on the overview.
const NOTES_SHOWN: usize = 2;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/clients/{client}", get(show))
}

#[derive(Deserialize)]
struct Shown {
    place: Option<Uuid>,
    /// The session just taken out.
    removed: Option<Uuid>,
}

#[derive(Template, WebTemplate)]
#[template(path = "clients/page.html")]
struct Page {
    chrome: Chrome,
    id: Uuid,
    name: String,
    goal: String,
    steps: Vec<StepView>,
    facts: Vec<(&'static str, String)>,
    note: String,
    limits: Vec<(String, String)>,
    screening: Option<String>,
    torso: Torso,
    aimed: bool,
    focus: String,
    worked: Vec<Worked>,
    next: Option<(Uuid, String, String)>,
    sessions: Vec<(Uuid, String, String)>,
    /// The session just taken out, which can come back.
    removed: Option<(Uuid, String)>,
    /// Where the sessions of the place that is shown can be re-fitted; empty where it has none.
    elsewhere: Vec<(Uuid, String)>,
    strength: Vec<PatternView>,
    places: Vec<(Uuid, String, bool)>,
    room: Option<RoomView>,
    notes: Vec<(String, String)>,
}

/// Sets of a region in this week and the one before, against its aim.
struct Worked {
    region: &'static str,
    done: String,
    before: String,
    aim: String,
}

struct RoomView {
    id: Uuid,
    shelf: Shelf,
    list: String,
    waiting: usize,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    Query(shown): Query<Shown>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    // Two connections at once: each is told but once for whom it works.
    let (who, (steps, all, aims, planned, notes, waits)) = tokio::try_join!(Who::load(&app, trainer, client), async {
        let mut own = connection(&app.pool).await?;
        Ok((
            tabs(client, Step::Overview, clients::progress(&mut *own, trainer, client).await?),
            places::in_use(&mut *own, trainer, client).await?,
            aims::of_client(&mut *own, trainer, client).await?,
            sessions::of_client(&mut *own, trainer, client).await?,
            observations::of_client(&mut *own, trainer, client).await?,
            entries::waiting(&mut *own, trainer, client).await?,
        ))
    })?;
    let chosen = match shown.place {
        Some(id) => Some(all.iter().find(|p| p.id == id).ok_or(WebError::NotFound)?),
        None => all.first(),
    };
    let monday = volume::week_of(who.today);
    let mut own = connection(&app.pool).await?;
    let room = match chosen {
        Some(head) => Some(room(head.id, &head.name, &kit::pieces(&mut *own, trainer, head.id).await?)),
        None => None,
    };
    let evidence = app.logs.over(&mut own, trainer, &who.client, who.today).await?;
    drop(own);
    let wanted = aims.into_iter().next().map(|a| a.aims);
    let week_of = |which: &dyn Fn(NaiveDate) -> bool| {
        let mut week = Volume::default();
        let worked = evidence.worked(monday - Duration::days(7)).filter(|set| which(set.date));
        worked.for_each(|set| week.done(&app.catalogue, set));
        week
    };
    let (week, before) = (week_of(&|day| day >= monday), week_of(&|day| day < monday));
    let aims = wanted.clone().unwrap_or_default();
    let ledger = app.ledger(&evidence, &who.person, who.today);
    let (next, sessions) = next_session(&who, &planned);
    let removed = match shown.removed {
        Some(id) => Some(sessions::head(&app.pool, trainer, id).await?).filter(|s| s.client_id == client),
        None => None,
    };
    let removed = removed.filter(|s| planned.iter().all(|p| p.id != s.id)).map(|s| (s.id, s.name));
    Ok(Page {
        id: client,
        name: who.client.name.clone(),
        goal: goal(&who),
        steps,
        facts: facts(&who),
        note: who.client.note.clone(),
        limits: who.limits.iter().filter(|l| l.in_force(who.today)).map(|l| (l.rule.text(), l.note.clone())).collect(),
        screening: screening(&who),
        torso: super::aims::draw(&app, who.client.experience, &aims, week.regions(), false),
        aimed: wanted.is_some(),
        focus: focus(&aims),
        worked: by_region(&app, &who, &aims, [&week, &before]),
        next,
        sessions,
        removed,
        elsewhere: chosen.map_or_else(Vec::new, |here| elsewhere(here, &all, &planned)),
        strength: patterns(&app, &ledger).into_iter().filter(|p| p.known).collect(),
        places: all.iter().map(|p| (p.id, p.name.clone(), chosen == Some(p))).collect(),
        room,
        notes: notes
            .into_iter()
            .take(NOTES_SHOWN)
            .map(|n| (format!("{}, {}", day(n.on, who.today), n.kind), n.note))
            .collect(),
        chrome: with_phone(who.frame(chrome, who.client.name.clone()), client, waits),
    })
}

fn room(id: Uuid, name: &str, pieces: &[Piece]) -> RoomView {
    let items: Vec<KitItem> = pieces.iter().map(|p| p.item.clone()).collect();
    let waiting = pieces.iter().filter(|p| !p.usable()).count();
    let list: Vec<_> = items.iter().map(KitItem::text).collect();
    RoomView { id, shelf: shelf::draw(name, &items), list: list.join(" · "), waiting }
}

fn goal(who: &Who) -> String {
    let client = &who.client;
    match (client.aim, client.goal.is_empty()) {
        (Some(aim), true) => aim.label().to_owned(),
        (Some(aim), false) => format!("{aim}: {}", client.goal),
        (None, _) => client.goal.clone(),
    }
}

fn facts(who: &Who) -> Vec<(&'static str, String)> {
    let client = &who.client;
    let mut facts = vec![
        ("Body mass", mass_text(client.body_mass, client.mass_unit)),
        ("Height", format!("{:.2}", client.height)),
        ("Experience", client.experience.label().to_owned()),
    ];
    facts.extend(client.age(who.today).map(|age| ("Age", age.to_string())));
    facts.extend(client.age_band.map(|band| ("Age", band.label().to_owned())));
    facts.extend(client.sex.map(|sex| ("Sex", sex.label().to_owned())));
    let days = client.days_a_week.map(|d| format!("{d} days a week"));
    let minutes = client.minutes.map(|m| format!("{m} min a session"));
    let time: Vec<_> = days.into_iter().chain(minutes).collect();
    if !time.is_empty() {
        facts.push(("Time", time.join(", ")));
    }
    facts.push(("Time zone", client.time_zone.clone()));
    facts
}

fn screening(who: &Who) -> Option<String> {
    let screening = who.screening.as_ref()?;
    Some(match (&screening.clearance, screening.refers) {
        (Some(clearance), _) => format!("Cleared by {} on {}", clearance.given_by, clearance.given_on),
        (None, true) => format!("Clearance needed since {}", screening.on),
        (None, false) => format!("Screened {}, nothing to clear", screening.on),
    })
}

fn focus(aims: &Aims) -> String {
    let focus: Vec<_> = aims.with(bavrek_core::aims::Aim::Focus).map(Region::label).collect();
    focus.join(", ")
}

/// What the phone said that waits for a word comes before all else on the page.
fn with_phone(mut chrome: Chrome, client: Uuid, waits: i64) -> Chrome {
    let text = match waits {
        0 => return chrome,
        1 => "One thing that the phone said waits for your word.".to_owned(),
        n => format!("{n} things that the phone said wait for your word."),
    };
    let link = Some((format!("/clients/{client}/phone"), "Look at it"));
    chrome.banners.push(Banner { text, link, stop: false });
    chrome
}

/// The places to which sessions at a place can go: others first, and there after a change of kit or limits.
fn elsewhere(here: &PlaceHead, all: &[PlaceHead], planned: &[SessionHead]) -> Vec<(Uuid, String)> {
    if !planned.iter().any(|s| s.place_id == here.id) {
        return Vec::new();
    }
    let others = all.iter().filter(|p| p.id != here.id).map(|p| (p.id, p.name.clone()));
    others.chain([(here.id, format!("{}, as it is now", here.name))]).collect()
}

/// The next session, and the others.
type Planned = (Option<(Uuid, String, String)>, Vec<(Uuid, String, String)>);

fn next_session(who: &Who, planned: &[SessionHead]) -> Planned {
    let view = |s: &SessionHead| (s.id, s.name.clone(), format!("{}, {} min", day(s.planned_on, who.today), s.minutes));
    let next = planned.iter().find(|s| s.state.is_open() && s.planned_on >= who.today);
    (next.map(view), planned.iter().filter(|s| Some(s.id) != next.map(|n| n.id)).rev().take(4).map(view).collect())
}

/// What was done this week and in the one before, by the one rule, beside what is aimed at.
fn by_region(app: &App, who: &Who, aims: &Aims, [now, before]: [&Volume; 2]) -> Vec<Worked> {
    let both = |sets: RegionSets| format!("{} + {}", trim_number(sets.direct, 1), trim_number(sets.assisting, 1));
    Region::ALL
        .iter()
        .map(|region| {
            let [least, most] = aims.weekly_sets(*region, &app.intake.volumes, who.client.experience);
            Worked {
                region: region.label(),
                done: both(now.of(*region)),
                before: both(before.of(*region)),
                aim: format!("{} {}–{}", aims.of(*region).aim, trim_number(least, 0), trim_number(most, 0)),
            }
        })
        .collect()
}
