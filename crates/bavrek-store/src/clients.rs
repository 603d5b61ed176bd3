//! Clients: who they are, with the history of their body mass.

use bavrek_core::aims::Goal;
use bavrek_core::person::{AgeBand, Experience, Person, Sex};
use bavrek_core::units::{Kilograms, MassUnit, Metres};
use chrono::{Datelike, NaiveDate};
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::document::word;
use crate::limits::DatedLimit;
use crate::{Pool, StoreError, TrainerId, new_id};

/// A client.
#[derive(Debug, Clone, PartialEq)]
pub struct Client {
    /// Identifier.
    pub id: Uuid,
    /// Rises with every change; a change must name the version it was made on.
    pub version: i32,
    /// Whether it is put away.
    pub archived: bool,
    /// Name shown.
    pub name: String,
    /// Body mass as last measured.
    pub body_mass: Kilograms,
    /// Stature.
    pub height: Metres,
    /// Experience.
    pub experience: Experience,
    /// Year of birth.
    pub birth_year: Option<i16>,
    /// Age where the year of birth is not given.
    pub age_band: Option<AgeBand>,
    /// Sex.
    pub sex: Option<Sex>,
    /// What they train for, as one of the goals.
    pub aim: Option<Goal>,
    /// What they train for in their own words.
    pub goal: String,
    /// Training days a week.
    pub days_a_week: Option<i16>,
    /// Minutes a session.
    pub minutes: Option<i16>,
    /// IANA time zone.
    pub time_zone: String,
    /// Unit in which they weigh themselves.
    pub mass_unit: MassUnit,
    /// Address to which sessions are sent.
    pub contact: String,
    /// The trainer's note.
    pub note: String,
    /// How often the log grew: another number means that there is something new in it.
    pub logged: i64,
}

/// A body mass on a day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct DatedMass {
    /// The day.
    pub on: NaiveDate,
    /// The mass.
    pub mass: Kilograms,
}

impl Client {
    /// A client of whom only the necessary is known.
    pub fn new(name: &str, body_mass: Kilograms, height: Metres, experience: Experience) -> Self {
        Self {
            id: new_id(),
            version: 1,
            archived: false,
            name: name.to_owned(),
            body_mass,
            height,
            experience,
            birth_year: None,
            age_band: None,
            sex: None,
            aim: None,
            goal: String::new(),
            days_a_week: None,
            minutes: None,
            time_zone: "UTC".to_owned(),
            mass_unit: MassUnit::Kg,
            contact: String::new(),
            note: String::new(),
            logged: 0,
        }
    }

    /// The client as the computation sees one on a day, with the limits in force on it.
    pub fn person(&self, limits: &[DatedLimit], today: NaiveDate) -> Person {
        Person {
            body_mass_kg: self.body_mass,
            height_m: self.height,
            experience: self.experience,
            age_years: self.age(today),
            sex: self.sex,
            limits: limits.iter().filter(|l| l.in_force(today)).map(|l| l.rule).collect(),
        }
    }

    /// Age reached in the year of a day, where the year of birth is known.
    pub fn age(&self, today: NaiveDate) -> Option<u8> {
        self.birth_year.and_then(|year| u8::try_from(today.year() - i32::from(year)).ok())
    }

    /// Whether an adult must be present.
    pub fn under_age(&self, today: NaiveDate) -> bool {
        self.age(today).map_or(self.age_band == Some(AgeBand::Under18), |age| age <= 17)
    }
}

const fn unit_id(unit: MassUnit) -> &'static str {
    unit.symbol()
}

fn unit_from(id: &str) -> Option<MassUnit> {
    match id {
        "kg" => Some(MassUnit::Kg),
        "lb" => Some(MassUnit::Lb),
        _ => None,
    }
}

/// Adds a client with its first body mass and returns its identifier. The identifier inside `client` is used, so that
/// sending the same form twice adds one client.
pub async fn add(pool: &Pool, trainer: TrainerId, client: &Client, on: NaiveDate) -> Result<Uuid, StoreError> {
    add_all(pool, trainer, std::slice::from_ref(client), on).await?;
    Ok(client.id)
}

/// The same of several, all or nobody.
pub async fn add_all(pool: &Pool, trainer: TrainerId, all: &[Client], on: NaiveDate) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    for client in all {
        insert(&mut tx, trainer, client, on).await?;
    }
    tx.commit().await?;
    Ok(())
}

async fn insert(
    tx: &mut sqlx::PgConnection,
    trainer: TrainerId,
    client: &Client,
    on: NaiveDate,
) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "insert into clients (trainer_id, id, name, body_mass_kg, height_m, experience, birth_year, age_band, sex, aim,
                              goal, days_a_week, minutes, time_zone, mass_unit, contact, note)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17)
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        client.id,
        client.name,
        client.body_mass.value(),
        client.height.value(),
        client.experience.id(),
        client.birth_year,
        client.age_band.map(AgeBand::id),
        client.sex.map(Sex::id),
        client.aim.map(Goal::id),
        client.goal,
        client.days_a_week,
        client.minutes,
        client.time_zone,
        unit_id(client.mass_unit),
        client.contact,
        client.note
    )
    .execute(&mut *tx)
    .await?;
    if done.rows_affected() == 1 {
        note_mass(tx, trainer, client.id, on, client.body_mass).await?;
    }
    Ok(())
}

async fn note_mass(
    tx: &mut sqlx::PgConnection,
    trainer: TrainerId,
    client: Uuid,
    on: NaiveDate,
    mass: Kilograms,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into body_masses (trainer_id, id, client_id, measured_on, mass_kg) values ($1, $2, $3, $4, $5)",
        trainer.0,
        new_id(),
        client,
        on,
        mass.value()
    )
    .execute(tx)
    .await?;
    Ok(())
}

/// Changes the profile. The body mass goes into its history when it differs from the last one. `Conflict` where the
/// client was changed since `client.version`.
pub async fn update(pool: &Pool, trainer: TrainerId, client: &Client, on: NaiveDate) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    let before = sqlx::query!(
        "select version, body_mass_kg from clients where trainer_id = $1 and id = $2 for update",
        trainer.0,
        client.id
    )
    .fetch_one(&mut *tx)
    .await?;
    if before.version != client.version {
        return Err(StoreError::Conflict);
    }
    sqlx::query!(
        "update clients set version = version + 1, name = $3, body_mass_kg = $4, height_m = $5, experience = $6,
                birth_year = $7, age_band = $8, sex = $9, aim = $10, goal = $11, days_a_week = $12, minutes = $13,
                time_zone = $14, mass_unit = $15, contact = $16, note = $17
         where trainer_id = $1 and id = $2",
        trainer.0,
        client.id,
        client.name,
        client.body_mass.value(),
        client.height.value(),
        client.experience.id(),
        client.birth_year,
        client.age_band.map(AgeBand::id),
        client.sex.map(Sex::id),
        client.aim.map(Goal::id),
        client.goal,
        client.days_a_week,
        client.minutes,
        client.time_zone,
        unit_id(client.mass_unit),
        client.contact,
        client.note
    )
    .execute(&mut *tx)
    .await?;
    if (before.body_mass_kg - client.body_mass.value()).abs() > 1e-9 {
        note_mass(&mut tx, trainer, client.id, on, client.body_mass).await?;
    }
    tx.commit().await?;
    Ok(())
}

/// Time zone and unit of the client who was added last: of the next one they are likely the same.
pub async fn habits(pool: &Pool, trainer: TrainerId) -> Result<(String, MassUnit), StoreError> {
    let row = sqlx::query!(
        "select time_zone, mass_unit from clients where trainer_id = $1 order by id desc limit 1",
        trainer.0
    );
    match row.fetch_optional(pool).await? {
        Some(row) => Ok((row.time_zone, word(&row.mass_unit, unit_from)?)),
        None => Ok(("UTC".to_owned(), MassUnit::Kg)),
    }
}

/// The history of the body mass, newest first.
pub async fn masses(pool: &Pool, trainer: TrainerId, client: Uuid) -> Result<Vec<DatedMass>, StoreError> {
    let rows = sqlx::query!(
        "select measured_on, mass_kg from body_masses where trainer_id = $1 and client_id = $2
         order by measured_on desc, recorded_at desc, id desc",
        trainer.0,
        client
    )
    .fetch_all(pool)
    .await?;
    Ok(rows.into_iter().map(|r| DatedMass { on: r.measured_on, mass: Kilograms(r.mass_kg) }).collect())
}

/// Puts a client away, or takes one out again. Everything about it stays.
pub async fn set_archived(pool: &Pool, trainer: TrainerId, client: Uuid, archived: bool) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update clients set archived_at = case when $3 then coalesce(archived_at, now()) end
         where trainer_id = $1 and id = $2",
        trainer.0,
        client,
        archived
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// A client as it is stored.
struct Row {
    id: Uuid,
    version: i32,
    archived: bool,
    name: String,
    body_mass_kg: f64,
    height_m: f64,
    experience: String,
    birth_year: Option<i16>,
    age_band: Option<String>,
    sex: Option<String>,
    aim: Option<String>,
    goal: String,
    days_a_week: Option<i16>,
    minutes: Option<i16>,
    time_zone: String,
    mass_unit: String,
    contact: String,
    note: String,
    logged: i64,
}

impl Row {
    fn read(self) -> Result<Client, StoreError> {
        Ok(Client {
            id: self.id,
            version: self.version,
            archived: self.archived,
            name: self.name,
            body_mass: Kilograms(self.body_mass_kg),
            height: Metres(self.height_m),
            experience: word(&self.experience, Experience::from_id)?,
            birth_year: self.birth_year,
            age_band: self.age_band.as_deref().map(|b| word(b, AgeBand::from_id)).transpose()?,
            sex: self.sex.as_deref().map(|s| word(s, Sex::from_id)).transpose()?,
            aim: self.aim.as_deref().map(|g| word(g, Goal::from_id)).transpose()?,
            goal: self.goal,
            days_a_week: self.days_a_week,
            minutes: self.minutes,
            time_zone: self.time_zone,
            mass_unit: word(&self.mass_unit, unit_from)?,
            contact: self.contact,
            note: self.note,
            logged: self.logged,
        })
    }
}

/// One client.
pub async fn one(db: impl PgExecutor<'_>, trainer: TrainerId, id: Uuid) -> Result<Client, StoreError> {
    let row = sqlx::query_as!(
        Row,
        r#"select id, version, archived_at is not null as "archived!", name, body_mass_kg, height_m, experience,
                  birth_year, age_band, sex, aim, goal, days_a_week, minutes, time_zone, mass_unit, contact, note, logged
           from clients where trainer_id = $1 and id = $2"#,
        trainer.0,
        id
    );
    row.fetch_one(db).await?.read()
}

/// All clients of a trainer, archived ones with them, by name.
pub async fn all(pool: &Pool, trainer: TrainerId) -> Result<Vec<Client>, StoreError> {
    let rows = sqlx::query_as!(
        Row,
        r#"select id, version, archived_at is not null as "archived!", name, body_mass_kg, height_m, experience,
                  birth_year, age_band, sex, aim, goal, days_a_week, minutes, time_zone, mass_unit, contact, note, logged
           from clients where trainer_id = $1 order by lower(name), id"#,
        trainer.0
    );
    rows.fetch_all(pool).await?.into_iter().map(Row::read).collect()
}

/// Clients of a trainer in the order of their identifiers, which is that in which they were added: at most so many after one.
pub async fn page(pool: &Pool, trainer: TrainerId, after: Option<Uuid>, most: i64) -> Result<Vec<Client>, StoreError> {
    let rows = sqlx::query_as!(
        Row,
        r#"select id, version, archived_at is not null as "archived!", name, body_mass_kg, height_m, experience,
                  birth_year, age_band, sex, aim, goal, days_a_week, minutes, time_zone, mass_unit, contact, note, logged
           from clients where trainer_id = $1 and ($2::uuid is null or id > $2) order by id limit $3"#,
        trainer.0,
        after,
        most
    );
    rows.fetch_all(pool).await?.into_iter().map(Row::read).collect()
}

/// How far taking a client in has come.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
#[expect(clippy::struct_excessive_bools, reason = "each step of taking in is done or not")]
pub struct Progress {
    /// Whether a health screening was answered.
    pub screened: bool,
    /// Whether a place is known.
    pub placed: bool,
    /// Whether aims were set.
    pub aimed: bool,
    /// Whether any set is on record.
    pub tried: bool,
}

/// How far taking a client in has come.
pub async fn progress(db: impl PgExecutor<'_>, trainer: TrainerId, client: Uuid) -> Result<Progress, StoreError> {
    Ok(sqlx::query_as!(
        Progress,
        r#"select exists (select 1 from screenings where trainer_id = $1 and client_id = $2) as "screened!",
                  exists (select 1 from places where trainer_id = $1 and client_id = $2 and removed_at is null) as "placed!",
                  exists (select 1 from aims where trainer_id = $1 and client_id = $2) as "aimed!",
                  exists (select 1 from logged_sets where trainer_id = $1 and client_id = $2) as "tried!""#,
        trainer.0,
        client
    )
    .fetch_one(db)
    .await?)
}
