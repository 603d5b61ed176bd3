//! What a client can already do: recent sets as they are told, quick tests, and the strength that follows by pattern.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::dose::{PerHand, StampedLoad};
use bavrek_core::fit::ruled_out;
use bavrek_core::kit::KitItem;
use bavrek_core::log::{LoggedSet, MOST_REPS, MOST_RIR};
use bavrek_core::movement::Movement;
use bavrek_core::person::Side;
use bavrek_core::quantity;
use bavrek_core::ranges::{self, LegalRange};
use bavrek_core::reps;
use bavrek_core::strength::ledger::{LeftOut, effective_load};
use bavrek_core::strength::{Ledger, told_sd};
use bavrek_core::units::{Kilograms, MassUnit};
use bavrek_store::log::{self, RecordedSet, Source, ToldSet};
use bavrek_store::{TrainerId, kit, new_id, places};
use serde::Deserialize;
use uuid::Uuid;

use super::steps::{Step, StepView, steps};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::catalogue::named;
use crate::features::dates::day;
use crate::features::typed::{Input, Typed, focus_first};
use crate::features::who::Who;
use crate::state::App;

const REPS: LegalRange = LegalRange { min: 1.0, max: MOST_REPS as f64, unit: "repetitions" };
const RIR: LegalRange = LegalRange { min: 0.0, max: MOST_RIR as f64, unit: "in reserve" };
/// Sets listed on the page.
const SETS_SHOWN: usize = 14;
/// Width of a strength bar in the picture.
const BAR: f64 = 220.0;
/// Quantile that bounds nine of ten.
const NINETY: f64 = 1.645;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/strength", get(show).post(enter))
        .route("/clients/{client}/strength/{set}/withdraw", post(withdraw))
        .route("/clients/{client}/strength/{set}/restore", post(restore))
        .route("/clients/{client}/strength/{set}/aside", post(aside))
}

#[derive(Deserialize, Default)]
struct Shown {
    /// The movement of a quick test.
    #[serde(default)]
    test: String,
    /// The withdrawal that can be undone.
    withdrawn: Option<Uuid>,
}

#[derive(Template, WebTemplate)]
#[template(path = "clients/strength.html")]
struct Page {
    chrome: Chrome,
    client: Uuid,
    name: String,
    steps: Vec<StepView>,
    id: Uuid,
    inputs: Vec<Input>,
    movements: Vec<String>,
    testing: bool,
    tests: Vec<(String, String)>,
    patterns: Vec<PatternView>,
    sets: Vec<SetView>,
    withdrawn: Option<Uuid>,
}

/// Strength in one pattern, as load of its yardstick for ten repetitions with two in reserve.
pub(super) struct PatternView {
    pub(super) name: String,
    pub(super) yardstick: String,
    pub(super) now: String,
    pub(super) range: String,
    pub(super) known: bool,
    pub(super) basis: &'static str,
    /// The likely range and the estimate in the picture.
    pub(super) from: String,
    pub(super) width: String,
    pub(super) at: String,
}

struct SetView {
    id: Uuid,
    when: String,
    name: String,
    text: String,
    source: &'static str,
    own: bool,
    aside: bool,
    /// Why it says nothing of strength.
    left_out: Option<&'static str>,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    Query(shown): Query<Shown>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let mut usual = vec![
        ("on", who.today.to_string()),
        ("unit", who.client.mass_unit.symbol().to_owned()),
        ("source", if shown.test.is_empty() { "told" } else { "test" }.to_owned()),
        ("rir", if shown.test.is_empty() { "2" } else { "1" }.to_owned()),
    ];
    if let Some(movement) = app.catalogue.movement(&shown.test) {
        usual.push(("exercise", movement.name.clone()));
    }
    page(&app, trainer, &who, chrome, &Typed::usual(usual), shown.withdrawn).await
}

async fn page(
    app: &App,
    trainer: TrainerId,
    who: &Who,
    chrome: Chrome,
    typed: &Typed,
    withdrawn: Option<Uuid>,
) -> Result<Page, WebError> {
    let client = who.client.id;
    let room = Room::load(app, trainer, client).await?;
    let evidence = app.logs.of_client(&app.pool, trainer, &who.client, who.today).await?;
    let ledger = app.ledger(&evidence, &who.person, who.today);
    Ok(Page {
        chrome: who.frame(chrome, format!("{}: strength", who.client.name)),
        client,
        name: who.client.name.clone(),
        steps: steps(app, trainer, client, Step::Strength).await?,
        id: new_id(),
        inputs: inputs(typed, &room),
        movements: app.catalogue.movements.iter().map(|m| m.name.clone()).collect(),
        testing: typed.value("source") == "test",
        tests: tests(app, who, &room),
        patterns: patterns(app, &ledger),
        sets: evidence.records.iter().rev().take(SETS_SHOWN).map(|r| set_view(app, (who, &ledger), r)).collect(),
        withdrawn,
    })
}

/// All kit of all places of a client: a told set may have been done with any of it.
struct Room {
    kit: Vec<KitItem>,
    bands: Vec<(Uuid, KitItem)>,
}

impl Room {
    async fn load(app: &App, trainer: TrainerId, client: Uuid) -> Result<Self, WebError> {
        let mut room = Self { kit: Vec::new(), bands: Vec::new() };
        for place in places::of_client(&app.pool, trainer, client).await? {
            for piece in kit::pieces(&app.pool, trainer, place.id).await?.into_iter().filter(kit::Piece::usable) {
                if piece.item.band_knowledge().is_some() {
                    room.bands.push((piece.id, piece.item.clone()));
                }
                room.kit.push(piece.item);
            }
        }
        Ok(room)
    }
}

/// Yardsticks that this kit and these limits allow, and push-ups, which need nothing.
fn tests(app: &App, who: &Who, room: &Room) -> Vec<(String, String)> {
    let yardsticks = app.catalogue.priors.values().map(|p| p.anchor.as_str());
    std::iter::once("push_up")
        .chain(yardsticks)
        .filter_map(|id| app.catalogue.movement(id))
        .filter(|m| ruled_out(m, &who.person, &room.kit).is_empty())
        .map(|m| (m.id.clone(), m.name.clone()))
        .collect()
}

/// Strength in one pattern, as load of its yardstick for ten repetitions with two in reserve, kg.
pub(super) struct Level<'a> {
    pub(super) pattern: &'a str,
    pub(super) yardstick: &'a str,
    /// Likely at least, the estimate, and likely at most.
    pub(super) range: [f64; 3],
    /// Whether any set tells of it.
    pub(super) known: bool,
}

/// Strength in every pattern.
pub(super) fn levels<'a>(app: &'a App, ledger: &Ledger<'_>) -> Vec<Level<'a>> {
    let level = |prior: &'a bavrek_core::movement::PatternPrior| {
        let movement = app.catalogue.movement(&prior.anchor)?;
        let (mean, sd) = ledger.level(prior);
        let sd = told_sd(sd);
        let at = |z: f64| reps::log_load_for(mean + z * sd, 10.0, 2.0).exp();
        let range = [at(-NINETY), at(0.0), at(NINETY)];
        Some(Level { pattern: &prior.name, yardstick: &movement.name, range, known: ledger.has_evidence(movement) })
    };
    app.catalogue.priors.values().filter_map(level).collect()
}

/// Every pattern with what is known of it, those with evidence first.
pub(super) fn patterns(app: &App, ledger: &Ledger<'_>) -> Vec<PatternView> {
    let found = levels(app, ledger);
    // A logarithmic scale: equal lengths are equal ratios, so that the bars show how well each is known.
    let least = found.iter().map(|l| l.range[0]).fold(f64::MAX, f64::min);
    let most = found.iter().map(|l| l.range[2]).fold(least * 2.0, f64::max);
    let mut views: Vec<PatternView> = found
        .into_iter()
        .map(|Level { pattern, yardstick, range: [low, now, high], known }| {
            let load = |kg: f64| format!("{:.1}", Kilograms(kg).two_figures());
            let x = |kg: f64| (kg / least).ln() / (most / least).ln() * BAR;
            PatternView {
                name: pattern.to_owned(),
                yardstick: yardstick.to_owned(),
                now: load(now),
                range: format!("{} to {}", load(low), load(high)),
                known,
                basis: if known { "from sets" } else { "first guess" },
                from: format!("{:.1}", x(low)),
                width: format!("{:.1}", x(high) - x(low)),
                at: format!("{:.1}", x(now)),
            }
        })
        .collect();
    views.sort_by_key(|v| !v.known);
    views
}

fn set_view(app: &App, (who, ledger): (&Who, &Ledger<'_>), recorded: &RecordedSet) -> SetView {
    let set = &recorded.set;
    let movement = app.catalogue.movement(&set.exercise);
    let told = movement.map_or_else(String::new, |m| set.load_told(m));
    let effective = set.comes_to(movement).map(|kg| format!("{kg:.1} effective"));
    let mut parts: Vec<String> = match effective {
        Some(effective) if told.is_empty() => vec![effective],
        Some(effective) => vec![format!("{told} ({effective})")],
        None => Some(told).filter(|told| !told.is_empty()).into_iter().collect(),
    };
    parts.extend(set.reps_told().map(|r| format!("{r} reps")));
    parts.extend(
        set.from_the_change().zip(movement).map(|(after, m)| format!("the last of them with {}", after.load_told(m))),
    );
    parts.extend(set.rir.map(|r| format!("{} in reserve", reps::reserve_text(r))));
    parts.extend(set.side.filter(|s| *s != Side::Both).map(|s| s.label().to_owned()));
    SetView {
        id: recorded.id,
        when: day(set.date, who.today),
        name: movement.map_or(set.exercise.clone(), |m| m.name.clone()),
        text: parts.join(", "),
        source: match recorded.source {
            Source::Session => "session",
            Source::Told => "told",
            Source::Test => "quick test",
        },
        own: recorded.source != Source::Session,
        aside: set.set_aside,
        left_out: ledger.why_left_out(set).map(LeftOut::label),
    }
}

fn inputs(typed: &Typed, room: &Room) -> Vec<Input> {
    let text = |name, label, hint| Input::text(typed, name, label, hint);
    let bands: Vec<(String, String)> = room.bands.iter().map(|(id, item)| (id.to_string(), item.text())).collect();
    let mut inputs = vec![
        text("exercise", "Movement", "a part of its name").kind("movement").wide(),
        text("load", "Weight as stamped", "12"),
        text("unit", "Unit", "").select(None, [("kg", "kg"), ("lb", "lb")]),
        text("reps", "Reps", "10"),
        text("rir", "In reserve", "2"),
        text("on", "Day", "").kind("date"),
        text("source", "Known from", "").select(None, [("told", "was told"), ("test", "quick test")]),
        text("side", "Side", "").select(Some("both"), [("left", "left"), ("right", "right")]),
    ];
    if !bands.is_empty() {
        let choices = bands.iter().map(|(id, label)| (id.as_str(), label.as_str()));
        inputs.push(text("band", "Band", "").select(Some("none"), choices));
    }
    focus_first(&mut inputs);
    inputs
}

/// The set that was typed with its effective load, or nothing with the errors beside their fields.
fn read(app: &App, typed: &mut Typed, who: &Who, room: &Room) -> Option<(LoggedSet, Kilograms)> {
    let movement = movement(app, typed);
    let reps = typed.whole("reps", REPS);
    if reps.is_none() {
        typed.refuse("reps", "is needed: how many clean repetitions");
    }
    let rir = typed.whole("rir", RIR);
    let date = typed.past_day("on", who.today);
    if date.is_none() {
        typed.refuse("on", "is needed");
    }
    let unit = if typed.value("unit") == "lb" { MassUnit::Lb } else { MassUnit::Kg };
    let load = load(typed, unit, movement);
    let band =
        typed.word("band", |id| room.bands.iter().find(|(b, _)| b.to_string() == id).map(|(_, item)| item.clone()));
    let set = LoggedSet {
        load,
        band: band.map(Box::new),
        reps: Some(u16::try_from(reps?).ok()?),
        rir: rir.and_then(|r| u8::try_from(r).ok()),
        side: typed.word("side", Side::from_id),
        ..LoggedSet::of(movement?.id.clone(), date?)
    };
    if !typed.fine() {
        return None;
    }
    let effective = effective_load(&set, movement?, &who.person);
    if effective.is_none() {
        typed.refuse("load", why_unknown(movement?, load.is_some(), set.band.is_some()));
    }
    Some((set, effective?))
}

fn why_unknown(movement: &Movement, loaded: bool, banded: bool) -> String {
    let lever = movement.rig.is_lever();
    match (lever, loaded || banded) {
        (false, false) => "is needed: how heavy was it, or with which band?".into(),
        (true, true) => format!("{} is not known with this load here; enter it without", movement.name),
        _ => format!("how heavy {} is with this cannot be told", movement.name),
    }
}

fn movement<'a>(app: &'a App, typed: &mut Typed) -> Option<&'a Movement> {
    let text = typed.needed("exercise", 300);
    if text.is_empty() {
        return None;
    }
    match named(&app.catalogue, &text) {
        Ok(movement) => Some(movement),
        Err(unclear) => {
            typed.refuse("exercise", unclear.says(&text));
            typed.offer("exercise", unclear.names.into_iter().map(str::to_owned).collect());
            None
        }
    }
}

fn load(typed: &mut Typed, unit: MassUnit, movement: Option<&Movement>) -> Option<StampedLoad> {
    // What is stamped in another unit stays in it.
    let unit = quantity::mass_unit(typed.value("load")).unwrap_or(unit);
    let value = typed.number("load", LegalRange { min: 0.0, max: 1000.0, unit: unit.symbol() })?;
    let range = movement.map_or(ranges::HELD, Movement::load_range);
    let checked = range.check("load", value * unit.in_kilograms());
    typed.take("load", checked)?;
    let per = movement.map_or(PerHand::Hand, |m| m.hands.stated_per());
    Some(StampedLoad { value, unit, per })
}

async fn enter(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let id = fields.id("id")?;
    let mut typed = Typed::of(&fields);
    let room = Room::load(&app, trainer, client).await?;
    let Some((set, effective)) = read(&app, &mut typed, &who, &room) else {
        let page = page(&app, trainer, &who, chrome, &typed, None).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    let source = if typed.value("source") == "test" { Source::Test } else { Source::Told };
    log::append_told(&app.pool, trainer, &ToldSet { id, client_id: client, source, set: &set, effective }).await?;
    Ok(Redirect::to(&Step::Strength.href(client)).into_response())
}

async fn withdraw(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, set)): Ids<(Uuid, Uuid)>,
    fields: Fields,
) -> Result<Redirect, WebError> {
    let id = fields.id("id")?;
    log::set_withdrawn(&app.pool, trainer, client, id, set, true).await?;
    Ok(Redirect::to(&format!("{}?withdrawn={id}", Step::Strength.href(client))))
}

async fn restore(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, set)): Ids<(Uuid, Uuid)>,
    fields: Fields,
) -> Result<Redirect, WebError> {
    log::set_withdrawn(&app.pool, trainer, client, fields.id("id")?, set, false).await?;
    Ok(Redirect::to(&Step::Strength.href(client)))
}

/// Sets a set aside, or takes it in again.
async fn aside(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, set)): Ids<(Uuid, Uuid)>,
    fields: Fields,
) -> Result<Redirect, WebError> {
    log::set_aside(&app.pool, trainer, client, set, fields.text("aside") == "1").await?;
    Ok(Redirect::to(&Step::Strength.href(client)))
}
