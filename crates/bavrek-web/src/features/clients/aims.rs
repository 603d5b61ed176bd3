//! Aims on the torso: keep, grow or focus for every region, the weekly sets that follow, and what the room can do.

use std::collections::BTreeMap;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::aims::{Aim, Aims, Goal, MOST_WEEKLY_SETS, RegionAim};
use bavrek_core::anatomy::Region;
use bavrek_core::feasibility::{Feasibility, Reach};
use bavrek_core::person::Experience;
use bavrek_core::ranges::LegalRange;
use bavrek_core::units::trim_number;
use bavrek_core::volume::RegionSets;
use bavrek_store::aims::DatedAims;
use bavrek_store::places::PlaceHead;
use bavrek_store::{StoreError, TrainerId, aims, connection, kit, new_id, places};
use serde::Deserialize;
use uuid::Uuid;

use super::steps::{Step, StepView, steps};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::scene::capital;
use crate::features::typed::Typed;
use crate::features::who::Who;
use crate::pictures::torso::{self, Torso, Wanted};
use crate::state::App;

const SETS: LegalRange = LegalRange { min: 0.0, max: MOST_WEEKLY_SETS, unit: "sets" };

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/aims", get(show).post(save))
        .route("/clients/{client}/aims/preview", post(preview))
        .route("/clients/{client}/aims/{aims}/again", post(again))
}

#[derive(Deserialize, Default)]
struct Shown {
    /// Aims of a goal that are laid into the form.
    #[serde(default)]
    goal: String,
    /// The place whose kit is asked; the first one otherwise.
    place: Option<Uuid>,
}

#[derive(Template, WebTemplate)]
#[template(path = "clients/aims.html")]
struct Page {
    chrome: Chrome,
    client: Uuid,
    name: String,
    steps: Vec<StepView>,
    id: Uuid,
    after: Option<Uuid>,
    goal: String,
    goals: Vec<(&'static str, String, bool)>,
    torso: Torso,
    rows: Vec<Row>,
    /// The parts that follow what is chosen.
    live: String,
    places: Vec<(Uuid, String, bool)>,
    place: Option<Uuid>,
    reach: ReachView,
    source: String,
    note: String,
    experience: &'static str,
    meanwhile: Option<String>,
    /// Since when the aims in force hold.
    since: Option<String>,
    earlier: Vec<(Uuid, String)>,
}

struct Row {
    id: &'static str,
    label: String,
    /// Identifier, label and usual range of each aim, and whether it is chosen.
    choices: Vec<(&'static str, String, String, bool)>,
    least: String,
    most: String,
    error: Option<String>,
    reach: String,
    class: &'static str,
}

/// What the room can do, in words.
struct ReachView {
    room: String,
    summary: String,
    assisting: String,
    none: String,
    held: Option<String>,
    opening: Option<String>,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    Query(shown): Query<Shown>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let desk = Desk::load(&app, trainer, client, shown.place).await?;
    let wanted = match Goal::from_id(&shown.goal) {
        Some(goal) => app.intake.volumes.preset(goal),
        None => desk.stored(&app),
    };
    let typed = typed_of(&wanted);
    desk.page(&app, trainer, chrome, &wanted, &typed).await
}

/// What lies on the desk when aims are set: who, which aims are in force, which room.
struct Desk {
    who: Who,
    history: Vec<DatedAims>,
    places: Vec<PlaceHead>,
    place: Option<PlaceHead>,
    kit: Vec<bavrek_core::kit::KitItem>,
    setting: Option<bavrek_core::kit::Setting>,
}

impl Desk {
    async fn load(app: &App, trainer: TrainerId, client: Uuid, place: Option<Uuid>) -> Result<Self, WebError> {
        let who = Who::load(app, trainer, client).await?;
        let places = places::in_use(&app.pool, trainer, client).await?;
        let place = match place {
            Some(id) => Some(places.iter().find(|p| p.id == id).ok_or(WebError::NotFound)?.clone()),
            None => places.first().cloned(),
        };
        let kit = match &place {
            Some(head) => kit::place(&mut *connection(&app.pool).await?, trainer, head).await?.kit,
            None => Vec::new(),
        };
        let setting = place.as_ref().and_then(|head| head.setting);
        Ok(Self { history: aims::of_client(&app.pool, trainer, client).await?, who, places, place, kit, setting })
    }

    /// The aims in force; those of the client's goal where none were set.
    fn stored(&self, app: &App) -> Aims {
        match (self.history.first(), self.who.client.aim) {
            (Some(latest), _) => latest.aims.clone(),
            (None, Some(goal)) => app.intake.volumes.preset(goal),
            (None, None) => Aims::default(),
        }
    }

    async fn page(
        &self,
        app: &App,
        trainer: TrainerId,
        chrome: Chrome,
        wanted: &Aims,
        typed: &Typed,
    ) -> Result<Page, WebError> {
        let client = &self.who.client;
        let room = (&self.kit[..], self.setting);
        let found = Feasibility::of(&app.catalogue, &self.who.person, room, wanted, &app.intake.cheap);
        let latest = self.history.first();
        Ok(Page {
            chrome: self.who.frame(chrome, format!("{}: aims", client.name)),
            client: client.id,
            name: client.name.clone(),
            steps: steps(app, trainer, client.id, Step::Aims).await?,
            id: new_id(),
            after: latest.map(|a| a.id),
            goal: wanted.goal.map_or("", Goal::id).to_owned(),
            goals: Goal::ALL.iter().map(|g| (g.id(), capital(g.label()), Some(*g) == wanted.goal)).collect(),
            torso: draw(app, client.experience, wanted, &BTreeMap::new(), true),
            rows: rows(app, &self.who, wanted, typed, &found),
            live: live(),
            places: self.places.iter().map(|p| (p.id, p.name.clone(), self.place.as_ref() == Some(p))).collect(),
            place: self.place.as_ref().map(|p| p.id),
            reach: reach_view(&found, self.place.as_ref()),
            source: app.intake.volumes.source.clone(),
            note: app.intake.volumes.note.clone(),
            experience: client.experience.label(),
            meanwhile: None,
            since: latest.map(|a| format!("in force since {}", a.on)),
            earlier: self.history.iter().skip(1).take(6).map(|a| (a.id, earlier(a))).collect(),
        })
    }
}

fn earlier(aims: &DatedAims) -> String {
    let focus: Vec<_> = aims.aims.with(Aim::Focus).map(Region::label).collect();
    let grow = aims.aims.with(Aim::Grow).count();
    let focus = if focus.is_empty() { String::new() } else { format!(", focus on {}", focus.join(", ")) };
    format!("{}: {grow} to grow{focus}", aims.on)
}

/// The torso with what is wanted and what was done.
pub(in crate::features) fn draw(
    app: &App,
    experience: Experience,
    wanted: &Aims,
    work: &BTreeMap<Region, RegionSets>,
    choosing: bool,
) -> Torso {
    let aimed = Region::ALL.iter().map(|r| {
        let sets = wanted.weekly_sets(*r, &app.intake.volumes, experience);
        (*r, Wanted { aim: wanted.of(*r).aim, sets })
    });
    torso::draw_aims("t", "Aims: darts mark what is to grow, two darts the focus", work, &aimed.collect(), choosing)
}

fn rows(app: &App, who: &Who, wanted: &Aims, typed: &Typed, found: &Feasibility<'_>) -> Vec<Row> {
    let range = |region: Region, aim: Aim| {
        let [least, most] = app.intake.volumes.sets(region, aim, who.client.experience);
        format!("{}–{}", trim_number(least, 0), trim_number(most, 0))
    };
    Region::ALL
        .iter()
        .map(|region| {
            let reach = found.regions[region];
            let id = region.id();
            Row {
                id,
                label: capital(region.label()),
                choices: Aim::ALL
                    .iter()
                    .map(|a| (a.id(), a.label().to_owned(), range(*region, *a), wanted.of(*region).aim == *a))
                    .collect(),
                least: typed.value(&format!("least_{id}")).to_owned(),
                most: typed.value(&format!("most_{id}")).to_owned(),
                error: typed.error(&format!("least_{id}")).map(str::to_owned),
                reach: match reach.reach() {
                    Reach::Direct => format!("directly, {}", ways(reach.direct)),
                    Reach::Assisting => "only assisting".to_owned(),
                    Reach::None => "not here".to_owned(),
                },
                class: match reach.reach() {
                    Reach::Direct => "reach-direct",
                    Reach::Assisting => "reach-assisting",
                    Reach::None => "reach-none",
                },
            }
        })
        .collect()
}

/// What is drawn anew with every choice: the torso, what the room can do, and where each region is trained.
fn live() -> String {
    let rows = Region::ALL.iter().map(|r| format!(" #reach-{}", r.id()));
    format!("#aims-torso #reach{}", rows.collect::<String>())
}

fn ways(count: usize) -> String {
    if count == 1 { "1 way".to_owned() } else { format!("{count} ways") }
}

fn reach_view(found: &Feasibility<'_>, place: Option<&PlaceHead>) -> ReachView {
    let of = |wanted: Reach| -> Vec<&'static str> {
        found.regions.iter().filter(|(_, r)| r.reach() == wanted).map(|(region, _)| region.label()).collect()
    };
    let held: Vec<_> = found
        .regions
        .iter()
        .filter(|(_, r)| r.held_back > 0)
        .map(|(region, r)| format!("{} ({})", region.label(), r.held_back))
        .collect();
    ReachView {
        room: place.map_or_else(|| "bare floor, no place yet".to_owned(), |p| p.name.clone()),
        summary: format!("{} of {} regions can be trained directly", of(Reach::Direct).len(), Region::ALL.len()),
        assisting: of(Reach::Assisting).join(", "),
        none: of(Reach::None).join(", "),
        held: (!held.is_empty())
            .then(|| format!("Limits and experience leave out movements for: {}.", held.join(", "))),
        opening: found.opening.as_ref().map(|opening| {
            let regions: Vec<_> = opening.regions.iter().map(|r| r.label()).collect();
            if regions.is_empty() {
                format!(
                    "{} would add {} more movements for what is to grow",
                    capital(&opening.item.name),
                    opening.movements
                )
            } else {
                format!("{} would open {}", capital(&opening.item.name), regions.join(", "))
            }
        }),
    }
}

/// The form of aims.
fn typed_of(wanted: &Aims) -> Typed {
    let mut values = BTreeMap::new();
    for (region, aim) in &wanted.regions {
        if let Some([least, most]) = aim.sets {
            values.insert(format!("least_{}", region.id()), trim_number(least, 1));
            values.insert(format!("most_{}", region.id()), trim_number(most, 1));
        }
    }
    Typed::from_map(values)
}

/// The aims that were typed; what cannot be used gets its error and stays out.
fn read(typed: &mut Typed) -> Aims {
    let mut wanted = Aims { goal: Goal::from_id(typed.value("goal")), regions: BTreeMap::new() };
    for region in Region::ALL {
        let id = region.id();
        let (least, most) = (format!("least_{id}"), format!("most_{id}"));
        let aim = typed.word(&format!("aim_{id}"), Aim::from_id).unwrap_or(Aim::Keep);
        let sets = match (typed.number(&least, SETS), typed.number(&most, SETS)) {
            (Some(a), Some(b)) if a > b => {
                typed.refuse(
                    &least,
                    format!("the larger number comes second: {} to {}", trim_number(b, 1), trim_number(a, 1)),
                );
                None
            }
            (Some(a), Some(b)) => Some([a, b]),
            (Some(_), None) | (None, Some(_)) if typed.error(&least).is_none() && typed.error(&most).is_none() => {
                typed.refuse(&least, "give both ends, or leave both empty for the usual range");
                None
            }
            _ => None,
        };
        if let Some(why) = typed.error(&most).map(str::to_owned) {
            typed.refuse(&least, why);
        }
        if aim != Aim::Keep || sets.is_some() {
            wanted.regions.insert(*region, RegionAim { aim, sets });
        }
    }
    wanted
}

fn place_of(fields: &Fields) -> Option<Uuid> {
    fields.text("place").parse().ok()
}

/// The page as it would be with what is chosen; nothing is stored.
async fn preview(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Page, WebError> {
    let desk = Desk::load(&app, trainer, client, place_of(&fields)).await?;
    let mut typed = Typed::of(&fields);
    let wanted = read(&mut typed);
    desk.page(&app, trainer, chrome, &wanted, &typed).await
}

async fn save(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let desk = Desk::load(&app, trainer, client, place_of(&fields)).await?;
    let id = fields.id("id")?;
    let after = if fields.text("after").is_empty() { None } else { Some(fields.id("after")?) };
    let mut typed = Typed::of(&fields);
    let wanted = read(&mut typed);
    if !typed.fine() {
        let page = desk.page(&app, trainer, chrome, &wanted, &typed).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    let new = DatedAims { id, aims: wanted.clone(), on: desk.who.today };
    match aims::set(&app.pool, trainer, client, after, &new).await {
        Ok(()) => Ok(Redirect::to(&Step::Aims.href(client)).into_response()),
        Err(StoreError::Conflict) => {
            let desk = Desk::load(&app, trainer, client, place_of(&fields)).await?;
            let mut page = desk.page(&app, trainer, chrome, &wanted, &typed).await?;
            page.meanwhile = Some(both(&desk.stored(&app), &wanted));
            Ok((StatusCode::CONFLICT, page).into_response())
        }
        Err(other) => Err(other.into()),
    }
}

/// What differs between the aims saved meanwhile and these, both values.
fn both(stored: &Aims, mine: &Aims) -> String {
    let text = |aim: RegionAim| {
        let sets = aim.sets.map_or_else(String::new, |[a, b]| format!(" {}–{}", trim_number(a, 1), trim_number(b, 1)));
        format!("{}{sets}", aim.aim)
    };
    let differing: Vec<_> = Region::ALL
        .iter()
        .filter(|r| stored.of(**r) != mine.of(**r))
        .map(|r| format!("{}: saved {}, yours {}", r.label(), text(stored.of(*r)), text(mine.of(*r))))
        .collect();
    if differing.is_empty() { "the same aims are saved already".to_owned() } else { differing.join("; ") }
}

/// Puts earlier aims in force again.
async fn again(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, old)): Ids<(Uuid, Uuid)>,
    fields: Fields,
) -> Result<Redirect, WebError> {
    let desk = Desk::load(&app, trainer, client, None).await?;
    let old = desk.history.iter().find(|a| a.id == old).ok_or(WebError::NotFound)?;
    let new = DatedAims { id: fields.id("id")?, aims: old.aims.clone(), on: desk.who.today };
    aims::set(&app.pool, trainer, client, desk.history.first().map(|a| a.id), &new).await?;
    Ok(Redirect::to(&Step::Aims.href(client)))
}
