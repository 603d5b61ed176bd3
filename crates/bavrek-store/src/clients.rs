//! Clients with their limits and places.

use bavrek_core::person::{Experience, Limit, Person, Sex};
use bavrek_core::units::{Kilograms, Metres};
use chrono::{Datelike, NaiveDate};
use uuid::Uuid;

use crate::error::word;
use crate::{Pool, StoreError, TrainerId, new_id};

/// A client.
#[derive(Debug, Clone, PartialEq)]
pub struct Client {
    /// Identifier.
    pub id: Uuid,
    /// Name shown.
    pub name: String,
    /// Body mass.
    pub body_mass: Kilograms,
    /// Stature.
    pub height: Metres,
    /// Experience.
    pub experience: Experience,
    /// Year of birth.
    pub birth_year: Option<i16>,
    /// Sex.
    pub sex: Option<Sex>,
    /// What they train for.
    pub goal: String,
    /// IANA time zone.
    pub time_zone: String,
    /// The trainer's note.
    pub note: String,
}

/// A limit with its dates.
#[derive(Debug, Clone, PartialEq)]
pub struct DatedLimit {
    /// Identifier.
    pub id: Uuid,
    /// What must be spared.
    pub rule: Limit,
    /// First day.
    pub since: NaiveDate,
    /// Last day, where known.
    pub until: Option<NaiveDate>,
    /// The trainer's note.
    pub note: String,
}

/// A place of a client.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PlaceHead {
    /// Identifier.
    pub id: Uuid,
    /// Whose it is.
    pub client_id: Uuid,
    /// Its name.
    pub name: String,
}

/// A client in the roster, with what needs the trainer.
#[derive(Debug, Clone, PartialEq)]
pub struct RosterLine {
    /// Identifier.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Goal.
    pub goal: String,
    /// First place by name.
    pub place: Option<String>,
    /// The next or latest planned session.
    pub session: Option<(Uuid, String, NaiveDate)>,
    /// Day of the last logged set.
    pub last_logged: Option<NaiveDate>,
    /// Highest pain logged in the last two weeks.
    pub pain: Option<u8>,
    /// Slots whose latest set nobody has decided about.
    pub calls_waiting: i64,
}

impl Client {
    /// The client as the computation sees one on a day, with the limits in force on it.
    pub fn person(&self, limits: &[DatedLimit], today: NaiveDate) -> Person {
        let in_force = |l: &&DatedLimit| l.since <= today && l.until.is_none_or(|until| today <= until);
        Person {
            body_mass_kg: self.body_mass,
            height_m: self.height,
            experience: self.experience,
            age_years: self.birth_year.and_then(|year| u8::try_from(today.year() - i32::from(year)).ok()),
            sex: self.sex,
            limits: limits.iter().filter(in_force).map(|l| l.rule).collect(),
        }
    }
}

/// Adds a client and returns its identifier; the one inside `client` is not used.
pub async fn add(pool: &Pool, trainer: TrainerId, client: &Client) -> Result<Uuid, StoreError> {
    let id = new_id();
    sqlx::query!(
        "insert into clients (trainer_id, id, name, body_mass_kg, height_m, experience, birth_year, sex, goal, time_zone, note)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)",
        trainer.0,
        id,
        client.name,
        client.body_mass.value(),
        client.height.value(),
        client.experience.id(),
        client.birth_year,
        client.sex.map(Sex::id),
        client.goal,
        client.time_zone,
        client.note
    )
    .execute(pool)
    .await?;
    Ok(id)
}

/// One client.
pub async fn one(pool: &Pool, trainer: TrainerId, id: Uuid) -> Result<Client, StoreError> {
    let row = sqlx::query!(
        "select id, name, body_mass_kg, height_m, experience, birth_year, sex, goal, time_zone, note
         from clients where trainer_id = $1 and id = $2",
        trainer.0,
        id
    )
    .fetch_one(pool)
    .await?;
    Ok(Client {
        id: row.id,
        name: row.name,
        body_mass: Kilograms(row.body_mass_kg),
        height: Metres(row.height_m),
        experience: word(&row.experience, Experience::from_id)?,
        birth_year: row.birth_year,
        sex: row.sex.as_deref().map(|s| word(s, Sex::from_id)).transpose()?,
        goal: row.goal,
        time_zone: row.time_zone,
        note: row.note,
    })
}

/// Adds a limit to a client.
pub async fn add_limit(
    pool: &Pool,
    trainer: TrainerId,
    client_id: Uuid,
    limit: &DatedLimit,
) -> Result<Uuid, StoreError> {
    let id = new_id();
    sqlx::query!(
        "insert into limits (trainer_id, id, client_id, rule, since, until, note) values ($1, $2, $3, $4, $5, $6, $7)",
        trainer.0,
        id,
        client_id,
        serde_json::to_value(limit.rule)?,
        limit.since,
        limit.until,
        limit.note
    )
    .execute(pool)
    .await?;
    Ok(id)
}

/// All limits of a client, newest first.
pub async fn limits(pool: &Pool, trainer: TrainerId, client_id: Uuid) -> Result<Vec<DatedLimit>, StoreError> {
    let rows = sqlx::query!(
        "select id, rule, since, until, note from limits
         where trainer_id = $1 and client_id = $2 order by since desc, id",
        trainer.0,
        client_id
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|row| {
            Ok(DatedLimit {
                id: row.id,
                rule: serde_json::from_value(row.rule)?,
                since: row.since,
                until: row.until,
                note: row.note,
            })
        })
        .collect()
}

/// Adds a place to a client.
pub async fn add_place(pool: &Pool, trainer: TrainerId, client_id: Uuid, name: &str) -> Result<Uuid, StoreError> {
    let id = new_id();
    sqlx::query!(
        "insert into places (trainer_id, id, client_id, name) values ($1, $2, $3, $4)",
        trainer.0,
        id,
        client_id,
        name
    )
    .execute(pool)
    .await?;
    Ok(id)
}

/// All places of a client by name.
pub async fn places(pool: &Pool, trainer: TrainerId, client_id: Uuid) -> Result<Vec<PlaceHead>, StoreError> {
    Ok(sqlx::query_as!(
        PlaceHead,
        "select id, client_id, name from places where trainer_id = $1 and client_id = $2 order by name, id",
        trainer.0,
        client_id
    )
    .fetch_all(pool)
    .await?)
}

/// One place.
pub async fn place(pool: &Pool, trainer: TrainerId, id: Uuid) -> Result<PlaceHead, StoreError> {
    Ok(sqlx::query_as!(
        PlaceHead,
        "select id, client_id, name from places where trainer_id = $1 and id = $2",
        trainer.0,
        id
    )
    .fetch_one(pool)
    .await?)
}

/// All clients of a trainer: those with pain first, then by next session.
pub async fn roster(pool: &Pool, trainer: TrainerId, today: NaiveDate) -> Result<Vec<RosterLine>, StoreError> {
    let rows = sqlx::query!(
        r#"select c.id, c.name, c.goal,
             (select min(p.name) from places p where p.trainer_id = c.trainer_id and p.client_id = c.id) as place,
             s.id as "session_id?", s.name as "session_name?", s.planned_on as "planned_on?",
             l.last_logged, l.pain, w.waiting as "waiting!"
           from clients c
           left join lateral (
             select id, name, planned_on from sessions
             where trainer_id = c.trainer_id and client_id = c.id
             order by (planned_on < $2), abs(planned_on - $2), id limit 1) s on true
           left join lateral (
             select max(performed_on) as last_logged,
                    max((entry->>'pain')::int) filter (where performed_on > $2 - 14) as pain
             from logged_sets where trainer_id = c.trainer_id and client_id = c.id) l on true
           left join lateral (
             select count(*) as waiting from (
               select distinct on (slot_id) slot_id, place_id, exercise, id from logged_sets
               where trainer_id = c.trainer_id and client_id = c.id
               order by slot_id, performed_on desc, logged_at desc, position desc, id desc) latest
             where not exists (
               select 1 from decisions d
               where d.trainer_id = $1 and d.slot_id = latest.slot_id and d.after_set = latest.id)
             -- A movement that was swapped away since leaves no call.
             and exists (
               select 1 from fits f
               where f.trainer_id = $1 and f.slot_id = latest.slot_id and f.place_id = latest.place_id
                 and f.replaced_at is null and f.exercise = latest.exercise)) w on true
           where c.trainer_id = $1
           order by (coalesce(l.pain, 0) >= 4) desc, s.planned_on nulls last, c.name"#,
        trainer.0,
        today
    )
    .fetch_all(pool)
    .await?;
    Ok(rows
        .into_iter()
        .map(|row| RosterLine {
            id: row.id,
            name: row.name,
            goal: row.goal,
            place: row.place,
            session: row.session_id.zip(row.session_name).zip(row.planned_on).map(|((id, name), on)| (id, name, on)),
            last_logged: row.last_logged,
            pain: row.pain.and_then(|p| u8::try_from(p).ok()),
            calls_waiting: row.waiting,
        })
        .collect())
}

/// A place with the name of the client who trains there.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ClientPlace {
    /// The place.
    pub place: PlaceHead,
    /// The client's name.
    pub client: String,
}

/// Every place of every client, by client and place.
pub async fn all_places(pool: &Pool, trainer: TrainerId) -> Result<Vec<ClientPlace>, StoreError> {
    let rows = sqlx::query!(
        "select p.id, p.client_id, p.name, c.name as client from places p
         join clients c on c.trainer_id = p.trainer_id and c.id = p.client_id
         where p.trainer_id = $1 order by c.name, p.name, p.id",
        trainer.0
    )
    .fetch_all(pool)
    .await?;
    let place = |id, client_id, name| PlaceHead { id, client_id, name };
    Ok(rows.into_iter().map(|r| ClientPlace { place: place(r.id, r.client_id, r.name), client: r.client }).collect())
}
