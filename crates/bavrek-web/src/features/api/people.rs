//! Clients.

use axum::Json;
use axum::extract::State;
use axum::http::{Method, StatusCode};
use bavrek_core::aims::Goal;
use bavrek_core::person::{AgeBand, Experience, Sex};
use bavrek_store::clients::{self, Client};
use bavrek_store::tokens::Scope;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::door::Caller;
use super::given::{Asked, At, Paging, PartOf, Refusal, Sent};
use super::operations::Operations;
use crate::features::clients::profile;
use crate::problem::{FieldProblem, Problem};
use crate::state::App;

pub(super) fn describe(all: &mut Operations) {
    all.describe(Method::GET, "/clients", "listClients", "Clients, in the order in which they were added")
        .asks::<Paging>()
        .answers::<PartOf<ClientView>>()
        .by(list);
    all.describe(Method::POST, "/clients", "addClient", "Adds a client; the same identifier twice adds one")
        .needs(Scope::Write)
        .takes::<Profile>()
        .answers::<ClientView>()
        .done(201)
        .by(add);
    all.describe(Method::GET, "/clients/{client}", "readClient", "One client").answers::<ClientView>().by(one);
    all.describe(
        Method::PUT,
        "/clients/{client}",
        "changeClient",
        "Changes a client; names the version it was made on",
    )
    .needs(Scope::Write)
    .takes::<Profile>()
    .answers::<ClientView>()
    .refuses(&[409])
    .by(change);
}

/// A client.
#[derive(Debug, Serialize, JsonSchema)]
#[schemars(rename = "Client")]
pub(super) struct ClientView {
    id: Uuid,
    /// Rises with every change.
    version: i32,
    /// Whether it is put away.
    archived: bool,
    name: String,
    /// Body mass as last measured, kg.
    body_mass_kg: f64,
    /// Stature, m.
    height_m: f64,
    experience: Experience,
    birth_year: Option<i16>,
    /// Age where the year of birth is not given.
    age_band: Option<AgeBand>,
    sex: Option<Sex>,
    aim: Option<Goal>,
    /// What they train for, in their words.
    goal: String,
    days_a_week: Option<i16>,
    /// Minutes a session.
    minutes: Option<i16>,
    /// IANA time zone.
    time_zone: String,
    contact: String,
    note: String,
}

impl From<Client> for ClientView {
    fn from(client: Client) -> Self {
        Self {
            id: client.id,
            version: client.version,
            archived: client.archived,
            name: client.name,
            body_mass_kg: client.body_mass.value(),
            height_m: client.height.value(),
            experience: client.experience,
            birth_year: client.birth_year,
            age_band: client.age_band,
            sex: client.sex,
            aim: client.aim,
            goal: client.goal,
            days_a_week: client.days_a_week,
            minutes: client.minutes,
            time_zone: client.time_zone,
            contact: client.contact,
            note: client.note,
        }
    }
}

/// A client's profile as it is sent.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
struct Profile {
    /// For a new one: the same twice adds one client. Made up where it is left out.
    id: Option<Uuid>,
    /// For a change: the version that it was made on.
    version: Option<i32>,
    #[schemars(length(min = 1, max = 120))]
    name: String,
    /// Body mass, kg.
    #[schemars(range(min = 30, max = 250))]
    body_mass_kg: f64,
    /// Stature, m.
    #[schemars(range(min = 1.2, max = 2.3))]
    height_m: f64,
    /// Whether unlikely measures were looked at and are right.
    #[serde(default)]
    confirmed: bool,
    experience: Experience,
    birth_year: Option<i16>,
    age_band: Option<AgeBand>,
    sex: Option<Sex>,
    aim: Option<Goal>,
    #[serde(default)]
    goal: String,
    #[schemars(range(min = 1, max = 7))]
    days_a_week: Option<i16>,
    #[schemars(range(min = 10, max = 240))]
    minutes: Option<i16>,
    /// IANA time zone; UTC where it is left out.
    #[serde(default = "utc")]
    time_zone: String,
    #[serde(default)]
    contact: String,
    #[serde(default)]
    note: String,
}

fn utc() -> String {
    "UTC".into()
}

impl Profile {
    /// The client that it describes, by the rules of the profile's own page.
    fn client(self, app: &App, stored: Option<&Client>) -> Result<Client, Problem> {
        let number = |n: Option<i16>| n.map_or_else(String::new, |n| n.to_string());
        let word = |w: Option<&'static str>| w.unwrap_or_default().to_owned();
        let (mass, height) = (format!("{} kg", self.body_mass_kg), format!("{} m", self.height_m));
        let right = |value: &str| if self.confirmed { value.to_owned() } else { String::new() };
        let fields = [
            ("body_mass_is_right", right(&mass)),
            ("height_is_right", right(&height)),
            ("name", self.name),
            ("body_mass", mass),
            ("height", height),
            ("experience", self.experience.id().to_owned()),
            ("birth_year", number(self.birth_year)),
            ("age_band", word(self.age_band.map(AgeBand::id))),
            ("sex", word(self.sex.map(Sex::id))),
            ("aim", word(self.aim.map(Goal::id))),
            ("goal", self.goal),
            ("days_a_week", number(self.days_a_week)),
            ("minutes", number(self.minutes)),
            ("time_zone", self.time_zone.clone()),
            ("mass_unit", stored.map_or("kg", |c| c.mass_unit.symbol()).to_owned()),
            ("contact", self.contact),
            ("note", self.note),
        ];
        let today = app.clock.today(&self.time_zone);
        profile::described(fields, stored, today).map_err(|wrong| {
            let named = |name: String| match name.as_str() {
                "body_mass" => "body_mass_kg".to_owned(),
                "height" => "height_m".to_owned(),
                _ => name,
            };
            let told =
                |text: String| text.replace("(tick below if it is right)", "(send confirmed: true if it is right)");
            let wrong = wrong.into_iter().map(|(name, why)| FieldProblem { path: named(name), message: told(why) });
            Problem::fields(wrong.collect())
        })
    }
}

async fn list(
    State(app): State<App>,
    caller: Caller,
    Asked(paging): Asked<Paging>,
) -> Result<Json<PartOf<ClientView>>, Refusal> {
    let limit = paging.limit()?;
    let found = clients::page(&app.pool, caller.trainer, paging.cursor, limit as i64 + 1).await?;
    Ok(Json(PartOf::of(found.into_iter().map(ClientView::from).collect(), limit, |c| c.id)))
}

async fn one(State(app): State<App>, caller: Caller, At(client): At) -> Result<Json<ClientView>, Refusal> {
    Ok(Json(clients::one(&app.pool, caller.trainer, client).await?.into()))
}

async fn add(
    State(app): State<App>,
    caller: Caller,
    Sent(sent): Sent<Profile>,
) -> Result<(StatusCode, Json<ClientView>), Refusal> {
    let id = sent.id.unwrap_or_else(|| caller.new_id());
    let client = Client { id, ..sent.client(&app, None)? };
    let today = app.clock.today(&client.time_zone);
    clients::add(&app.pool, caller.trainer, &client, today).await?;
    Ok((StatusCode::CREATED, Json(clients::one(&app.pool, caller.trainer, id).await?.into())))
}

async fn change(
    State(app): State<App>,
    caller: Caller,
    At(client): At,
    Sent(sent): Sent<Profile>,
) -> Result<Json<ClientView>, Refusal> {
    let stored = clients::one(&app.pool, caller.trainer, client).await?;
    let version = sent.version.ok_or_else(|| Problem::field("version", "name the version that this was made on"))?;
    let changed = Client { id: client, version, ..sent.client(&app, Some(&stored))? };
    let today = app.clock.today(&changed.time_zone);
    clients::update(&app.pool, caller.trainer, &changed, today).await?;
    Ok(Json(clients::one(&app.pool, caller.trainer, client).await?.into()))
}
