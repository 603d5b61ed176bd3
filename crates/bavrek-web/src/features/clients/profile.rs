//! The profile: who is this, how tall and heavy, how experienced, for what, when.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::{get, post};
use bavrek_core::aims::Goal;
use bavrek_core::contact::Contact;
use bavrek_core::measures;
use bavrek_core::notes::LONGEST_NOTE;
use bavrek_core::person::{AgeBand, Experience, Sex};
use bavrek_core::ranges::{self, LegalRange, SESSION_MINUTES};
use bavrek_core::units::{Kilograms, MassUnit, Metres, trim_number};
use bavrek_store::clients::{self, Client};
use bavrek_store::{StoreError, new_id};
use chrono::{Datelike, NaiveDate};
use chrono_tz::{TZ_VARIANTS, Tz};
use uuid::Uuid;

use super::steps::{Step, StepView, steps};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::dates::day;
use crate::features::typed::{Input, Typed, focus_first, mark_meanwhile};
use crate::features::who::Who;
use crate::state::App;

/// Days of training a week.
const DAYS: LegalRange = LegalRange { min: 1.0, max: 7.0, unit: "days" };
/// Longest name and address, characters.
const LONGEST_NAME: usize = 120;
const LONGEST_LINE: usize = 300;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/new", get(fresh))
        .route("/clients", post(create))
        .route("/clients/{client}/profile", get(edit).post(save))
        .route("/clients/{client}/archive", post(archive))
        .route("/clients/{client}/restore", post(restore))
}

#[derive(Template, WebTemplate)]
#[template(path = "clients/profile.html")]
struct Page {
    chrome: Chrome,
    /// None while the client is new.
    client: Option<Uuid>,
    name: String,
    id: Uuid,
    version: i32,
    steps: Vec<StepView>,
    inputs: Vec<Input>,
    meanwhile: bool,
    masses: Vec<(String, String)>,
    archived: bool,
}

/// The form of a client who weighs and lives as the last one did.
async fn fresh(Mine(app): Mine, Me(trainer): Me, chrome: Chrome) -> Result<Page, WebError> {
    let (zone, unit) = clients::habits(&app.pool, trainer).await?;
    let typed = Typed::usual([("mass_unit", unit.symbol().to_owned()), ("time_zone", zone)]);
    Ok(new_page(chrome, new_id(), &typed))
}

fn new_page(chrome: Chrome, id: Uuid, typed: &Typed) -> Page {
    Page {
        chrome: chrome.titled("New client"),
        client: None,
        name: "New client".into(),
        id,
        version: 0,
        steps: Vec::new(),
        inputs: inputs(typed),
        meanwhile: false,
        masses: Vec::new(),
        archived: false,
    }
}

async fn create(Mine(app): Mine, Me(trainer): Me, chrome: Chrome, fields: Fields) -> Result<Response, WebError> {
    let id = fields.id("id")?;
    let mut typed = Typed::of(&fields);
    let zone = typed.value("time_zone").to_owned();
    let today = app.clock.today(&zone);
    let Some(client) = read(&mut typed, None, today) else {
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, new_page(chrome, id, &typed)).into_response());
    };
    clients::add(&app.pool, trainer, &Client { id, ..client }, today).await?;
    Ok(Redirect::to(&after(&fields, id)).into_response())
}

/// Where the button that was pressed leads.
fn after(fields: &Fields, client: Uuid) -> String {
    if fields.text("then") == "health" { Step::Health.href(client) } else { Step::Profile.href(client) }
}

async fn edit(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, chrome: Chrome) -> Result<Page, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let typed = typed_of(&who.client);
    let version = who.client.version;
    page(&app, trainer, &who, chrome, &typed, version).await
}

async fn page(
    app: &App,
    trainer: bavrek_store::TrainerId,
    who: &Who,
    chrome: Chrome,
    typed: &Typed,
    version: i32,
) -> Result<Page, WebError> {
    let client = &who.client;
    let masses = clients::masses(&app.pool, trainer, client.id).await?;
    Ok(Page {
        chrome: who.frame(chrome, format!("{}: profile", client.name)),
        client: Some(client.id),
        name: client.name.clone(),
        id: client.id,
        version,
        steps: steps(app, trainer, client.id, Step::Profile).await?,
        inputs: inputs(typed),
        meanwhile: false,
        masses: masses.iter().map(|m| (day(m.on, who.today), mass_text(m.mass, client.mass_unit))).collect(),
        archived: client.archived,
    })
}

async fn save(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let who = Who::load(&app, trainer, client).await?;
    let version: i32 = fields.text("version").parse().map_err(|_| WebError::bad("version", "is no number"))?;
    let mut typed = Typed::of(&fields);
    if let Some(changed) = read(&mut typed, Some(&who.client), who.today) {
        match clients::update(&app.pool, trainer, &Client { id: client, version, ..changed }, who.today).await {
            Ok(()) => return Ok(Redirect::to(&after(&fields, client)).into_response()),
            Err(StoreError::Conflict) => return meanwhile(&app, trainer, client, chrome, &typed).await,
            Err(other) => return Err(other.into()),
        }
    }
    let page = page(&app, trainer, &who, chrome, &typed, version).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

/// Somebody was faster: both values stand side by side, and saving once more takes what is typed.
async fn meanwhile(
    app: &App,
    trainer: bavrek_store::TrainerId,
    client: Uuid,
    chrome: Chrome,
    typed: &Typed,
) -> Result<Response, WebError> {
    let who = Who::load(app, trainer, client).await?;
    let mut page = page(app, trainer, &who, chrome, typed, who.client.version).await?;
    page.meanwhile = true;
    mark_meanwhile(&mut page.inputs, &typed.differing(&typed_of(&who.client)));
    Ok((StatusCode::CONFLICT, page).into_response())
}

async fn archive(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids) -> Result<Redirect, WebError> {
    clients::set_archived(&app.pool, trainer, client, true).await?;
    Ok(Redirect::to(&Step::Profile.href(client)))
}

async fn restore(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids) -> Result<Redirect, WebError> {
    clients::set_archived(&app.pool, trainer, client, false).await?;
    Ok(Redirect::to(&Step::Profile.href(client)))
}

/// A mass in a client's own unit.
pub(super) fn mass_text(mass: Kilograms, unit: MassUnit) -> String {
    format!("{} {}", trim_number(mass.value() / unit.in_kilograms(), 1), unit.symbol())
}

fn height_text(height: Metres) -> String {
    format!("{height:.3}")
}

/// The form of a stored client.
fn typed_of(client: &Client) -> Typed {
    let number = |n: Option<i16>| n.map_or_else(String::new, |n| n.to_string());
    let text = |t: Option<&str>| t.unwrap_or_default().to_owned();
    Typed::usual([
        ("name", client.name.clone()),
        ("body_mass", mass_text(client.body_mass, client.mass_unit)),
        ("height", height_text(client.height)),
        ("birth_year", number(client.birth_year)),
        ("age_band", text(client.age_band.map(AgeBand::id))),
        ("sex", text(client.sex.map(Sex::id))),
        ("experience", client.experience.id().to_owned()),
        ("aim", text(client.aim.map(Goal::id))),
        ("goal", client.goal.clone()),
        ("days_a_week", number(client.days_a_week)),
        ("minutes", number(client.minutes)),
        ("time_zone", client.time_zone.clone()),
        ("mass_unit", client.mass_unit.symbol().to_owned()),
        ("contact", client.contact.clone()),
        ("note", client.note.clone()),
    ])
}

/// The client that fields describe, each named as in the form, or what is wrong with which.
pub(in crate::features) fn described(
    fields: impl IntoIterator<Item = (&'static str, String)>,
    stored: Option<&Client>,
    today: NaiveDate,
) -> Result<Client, Vec<(String, String)>> {
    let fields: Vec<(String, String)> = fields.into_iter().map(|(name, value)| (name.to_owned(), value)).collect();
    let mut typed = Typed::of(&Fields::from(fields));
    read(&mut typed, stored, today).ok_or_else(|| typed.into_errors())
}

fn mass_unit(typed: &Typed) -> MassUnit {
    if typed.value("mass_unit") == "lb" { MassUnit::Lb } else { MassUnit::Kg }
}

/// The client that was typed, or nothing with the errors beside their fields.
fn read(typed: &mut Typed, stored: Option<&Client>, today: NaiveDate) -> Option<Client> {
    let name = typed.needed("name", LONGEST_NAME);
    let unit = mass_unit(typed);
    let height = measured_height(typed, stored);
    let body_mass = measured_mass(typed, stored, unit, height);
    let birth_year = birth_year(typed, today);
    let client = Client {
        age_band: typed.word("age_band", AgeBand::from_id).filter(|_| birth_year.is_none()),
        birth_year,
        sex: typed.word("sex", Sex::from_id),
        aim: typed.word("aim", Goal::from_id),
        goal: typed.text("goal", LONGEST_LINE),
        days_a_week: typed.whole("days_a_week", DAYS),
        minutes: typed.whole("minutes", SESSION_MINUTES),
        time_zone: time_zone(typed),
        mass_unit: unit,
        contact: contact(typed),
        note: typed.text("note", LONGEST_NOTE),
        ..Client::new(
            &name,
            body_mass.unwrap_or(Kilograms(0.0)),
            height.unwrap_or(Metres(0.0)),
            typed.needed_word("experience", Experience::from_id).unwrap_or(Experience::Novice),
        )
    };
    typed.fine().then_some(client)
}

/// The height; one that moved by more than grown-ups do has to be confirmed.
fn measured_height(typed: &mut Typed, stored: Option<&Client>) -> Option<Metres> {
    let text = typed.value("height").to_owned();
    if let Some(stored) = stored.filter(|c| height_text(c.height) == text) {
        return Some(stored.height);
    }
    let height = typed.take("height", measures::height(&text))?;
    let doubt = stored.and_then(|c| measures::doubt_height(height, c.height));
    confirm(typed, "height", doubt);
    Some(height)
}

/// The body mass; one far from the last, or unlikely for the height, has to be confirmed.
fn measured_mass(
    typed: &mut Typed,
    stored: Option<&Client>,
    unit: MassUnit,
    height: Option<Metres>,
) -> Option<Kilograms> {
    let text = typed.value("body_mass").to_owned();
    if let Some(stored) = stored.filter(|c| mass_text(c.body_mass, c.mass_unit) == text) {
        return Some(stored.body_mass);
    }
    let mass = typed.take("body_mass", measures::body_mass(&text, unit))?;
    let doubt = measures::doubt_mass(mass, height, stored.map(|c| c.body_mass));
    confirm(typed, "body_mass", doubt);
    Some(mass)
}

/// A doubt stands until it is confirmed for just this value.
fn confirm(typed: &mut Typed, name: &'static str, doubt: Option<String>) {
    let confirmed = if name == "height" { "height_is_right" } else { "body_mass_is_right" };
    if let Some(doubt) = doubt.filter(|_| typed.value(confirmed) != typed.value(name)) {
        typed.refuse(name, format!("{doubt} (tick below if it is right)"));
    }
}

fn birth_year(typed: &mut Typed, today: NaiveDate) -> Option<i16> {
    let year = f64::from(today.year());
    let range = LegalRange { min: year - ranges::AGE.max, max: year - ranges::AGE.min, unit: "as a year" };
    typed.whole("birth_year", range)
}

fn time_zone(typed: &mut Typed) -> String {
    let zone = typed.needed("time_zone", LONGEST_LINE);
    if !zone.is_empty() && zone.parse::<Tz>().is_err() {
        typed.offer("time_zone", zones_like(&zone));
        typed.refuse("time_zone", format!("{zone:?} is no time zone; choose one such as Europe/Lisbon"));
    }
    zone
}

/// Time zones that may be meant: those in whose names the words stand, of a city alone the one of that city.
fn zones_like(text: &str) -> Vec<String> {
    /// Most of them; of more nobody means one.
    const MOST: usize = 3;
    let plain = |name: &str| name.to_lowercase().replace([' ', '-'], "_");
    let wanted = plain(text.trim());
    let city = |zone: &&str| plain(zone.rsplit('/').next().unwrap_or_default());
    let all = || TZ_VARIANTS.iter().map(|zone| zone.name()).filter(|zone| zone.contains('/'));
    let exact: Vec<&str> = all().filter(|zone| city(zone) == wanted || plain(zone) == wanted).collect();
    let found = if exact.is_empty() { all().filter(|zone| plain(zone).contains(&wanted)).collect() } else { exact };
    if wanted.len() < 3 || found.len() > MOST { Vec::new() } else { found.into_iter().map(str::to_owned).collect() }
}

fn contact(typed: &mut Typed) -> String {
    let text = typed.text("contact", LONGEST_LINE);
    if text.is_empty() {
        return text;
    }
    typed.take("contact", Contact::parse(&text)).map_or(text, |contact| contact.text().to_owned())
}

fn inputs(typed: &Typed) -> Vec<Input> {
    let words = |all: &[(&'static str, &'static str)]| all.to_vec();
    let text = |name, label, hint| Input::text(typed, name, label, hint);
    let mut inputs = vec![
        text("name", "Name", "").wide(),
        text("height", "Height", "1.68 m, 168 cm or 5'6\"").measured(ranges::STATURE),
        text("body_mass", "Body mass", "71.5 kg or 157 lb").measured(measures::mass_range(mass_unit(typed))),
        text("experience", "Experience", "").select(
            Some("choose"),
            [
                ("novice", "novice: under a year with purpose"),
                ("intermediate", "intermediate: one to three years"),
                ("advanced", "advanced: longer, with steady progress"),
            ],
        ),
        text("birth_year", "Year of birth", "1987"),
        text("age_band", "or age band", "")
            .select(Some("not stated"), AgeBand::ALL.iter().map(|b| (b.id(), b.label()))),
        text("sex", "Sex (segment masses differ)", "")
            .select(Some("not stated"), Sex::ALL.iter().map(|s| (s.id(), s.label()))),
        text("aim", "Goal", "").select(Some("not stated"), Goal::ALL.iter().map(|g| (g.id(), g.label()))),
        text("goal", "Goal in their words", "broader shoulders"),
        text("days_a_week", "Days a week", "3"),
        text("minutes", "Minutes a session", "45").measured(SESSION_MINUTES),
        text("mass_unit", "Weighs in", "").select(None, words(&[("kg", "kg"), ("lb", "lb")])),
        text("time_zone", "Time zone", "Europe/Lisbon").suggest(TZ_VARIANTS.iter().map(|z| z.name().to_owned())),
        text("contact", "E-mail or mobile number, for sending", "name@somewhere.example or +43 660 1234567"),
        text("note", "Note", "").area(),
    ];
    for (name, confirmed) in [("height", "height_is_right"), ("body_mass", "body_mass_is_right")] {
        let at = inputs.iter().position(|i| i.name == name && typed.error(name).is_some_and(|e| e.ends_with("right)")));
        if let Some(at) = at {
            let value = inputs[at].value.clone();
            let label = if name == "height" { "The height is right" } else { "The body mass is right" };
            let tick = Input { value, kind: "confirm", ..Input::text(typed, confirmed, label, "") };
            inputs.insert(at + 1, tick);
        }
    }
    if inputs[0].value.is_empty() || inputs.iter().any(|i| i.error.is_some()) {
        focus_first(&mut inputs);
    }
    inputs
}
