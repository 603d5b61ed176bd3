//! The log: append-only. A correction is a new row that supersedes the old one.

use std::collections::HashMap;

use bavrek_core::log::LoggedSet;
use bavrek_core::units::Kilograms;
use chrono::{DateTime, NaiveDate, Utc};
use sqlx::PgExecutor;
use sqlx::types::Json;
use uuid::Uuid;

use crate::document::word;
use crate::{Pool, StoreError, TrainerId};

/// Version of the load model with which effective loads are computed now.
pub const MODEL_VERSION: i16 = 1;

/// Where a set comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Source {
    /// Done in a planned session.
    Session,
    /// Told by the client.
    Told,
    /// A quick test.
    Test,
}

impl Source {
    const fn id(self) -> &'static str {
        match self {
            Self::Session => "session",
            Self::Told => "told",
            Self::Test => "test",
        }
    }

    pub(crate) fn from_id(id: &str) -> Option<Self> {
        [Self::Session, Self::Told, Self::Test].into_iter().find(|s| s.id() == id)
    }
}

/// A set on record.
#[derive(Debug, Clone, PartialEq)]
pub struct RecordedSet {
    /// Identifier, given by whoever logged it.
    pub id: Uuid,
    /// The slot it belongs to; none for what was told or tested outside of a session.
    pub slot_id: Option<Uuid>,
    /// Where it was done, where that is known.
    pub place_id: Option<Uuid>,
    /// Where it comes from.
    pub source: Source,
    /// Its number within the slot that day, from 1.
    pub position: i16,
    /// When it was done, where that is known.
    pub done_at: Option<DateTime<Utc>>,
    /// Whether it was done in a lighter week: what says nothing about the next step.
    pub light: bool,
    /// What was done.
    pub set: LoggedSet,
}

impl RecordedSet {
    /// Whether a next step may rest on it: not on what was done in a lighter week, unless it hurt.
    pub fn counts_for_steps(&self) -> bool {
        !self.light || self.set.pain.is_some_and(|pain| pain > 0)
    }
}

/// What a new entry consists of.
#[derive(Debug, Clone, PartialEq)]
pub struct NewSet<'a> {
    /// Identifier: the same one twice is stored once.
    pub id: Uuid,
    /// Whose it is.
    pub client_id: Uuid,
    /// The slot it belongs to.
    pub slot_id: Uuid,
    /// Where it was done.
    pub place_id: Uuid,
    /// Its number within the slot that day, from 1.
    pub position: i16,
    /// What was done.
    pub set: &'a LoggedSet,
    /// Effective load.
    pub effective: Kilograms,
    /// The workout it belongs to.
    pub workout: Option<Uuid>,
    /// When it was done; a correction keeps the time of what it corrects.
    pub done_at: DateTime<Utc>,
    /// The entry that this one corrects.
    pub supersedes: Option<Uuid>,
}

/// Appends a set; `false` where it was there already. `Conflict` where the identifier stands for something else, or where
/// what it corrects was corrected by somebody else.
pub async fn append(pool: &Pool, trainer: TrainerId, new: &NewSet<'_>) -> Result<bool, StoreError> {
    let entry = serde_json::to_value(new.set)?;
    let done = sqlx::query!(
        "insert into logged_sets (trainer_id, id, client_id, slot_id, place_id, position, performed_on, exercise,
                                  entry, effective_kg, model_version, supersedes, workout_id, done_at)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13,
                 coalesce((select done_at from logged_sets where trainer_id = $1 and id = $12), $14))
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        new.id,
        new.client_id,
        new.slot_id,
        new.place_id,
        new.position,
        new.set.date,
        new.set.exercise,
        entry,
        new.effective.value(),
        MODEL_VERSION,
        new.supersedes,
        new.workout,
        new.done_at
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 {
        return Ok(true);
    }
    let there = sqlx::query!("select entry from logged_sets where trainer_id = $1 and id = $2", trainer.0, new.id)
        .fetch_one(pool)
        .await?;
    if there.entry == entry { Ok(false) } else { Err(StoreError::Conflict) }
}

/// What a set that was told or tested consists of.
#[derive(Debug, Clone, PartialEq)]
pub struct ToldSet<'a> {
    /// Identifier: the same one twice is stored once.
    pub id: Uuid,
    /// Whose it is.
    pub client_id: Uuid,
    /// Told or tested; never `Session`.
    pub source: Source,
    /// What was done.
    pub set: &'a LoggedSet,
    /// Effective load.
    pub effective: Kilograms,
}

impl<'a> ToldSet<'a> {
    /// A set that a client's log is told.
    pub const fn told(client_id: Uuid, id: Uuid, set: &'a LoggedSet, effective: Kilograms) -> Self {
        Self { id, client_id, source: Source::Told, set, effective }
    }
}

/// Appends a set that was told or tested outside of any session; `false` where it was there already.
pub async fn append_told(pool: &Pool, trainer: TrainerId, new: &ToldSet<'_>) -> Result<bool, StoreError> {
    let done = sqlx::query!(
        "insert into logged_sets (trainer_id, id, client_id, position, performed_on, exercise, entry, effective_kg,
                                  model_version, source)
         values ($1, $2, $3, 1, $4, $5, $6, $7, $8, $9) on conflict (trainer_id, id) do nothing",
        trainer.0,
        new.id,
        new.client_id,
        new.set.date,
        new.set.exercise,
        serde_json::to_value(new.set)?,
        new.effective.value(),
        MODEL_VERSION,
        new.source.id()
    )
    .execute(pool)
    .await?;
    Ok(done.rows_affected() == 1)
}

/// Withdraws a set that was told or tested, or brings it back, by a new row that supersedes the last one. `Conflict`
/// where somebody was faster. Doing it twice under one identifier changes nothing.
pub async fn set_withdrawn(
    pool: &Pool,
    trainer: TrainerId,
    client_id: Uuid,
    id: Uuid,
    supersedes: Uuid,
    withdrawn: bool,
) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "insert into logged_sets (trainer_id, id, client_id, position, performed_on, exercise, entry, effective_kg,
                                  model_version, source, supersedes, withdrawn)
         select trainer_id, $4, client_id, position, performed_on, exercise, entry, effective_kg, model_version, source,
                id, $5
         from logged_sets where trainer_id = $1 and client_id = $2 and id = $3 and source <> 'session'
         on conflict (trainer_id, id) do update set withdrawn = logged_sets.withdrawn",
        trainer.0,
        client_id,
        supersedes,
        id,
        withdrawn
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// Sets a set aside, so that it says nothing of strength and of the next step, or takes it in again. Doing it twice changes
/// nothing; `NotFound` where it is none of the client's.
pub async fn set_aside(
    pool: &Pool,
    trainer: TrainerId,
    client_id: Uuid,
    set: Uuid,
    aside: bool,
) -> Result<(), StoreError> {
    sqlx::query!(
        "select id from logged_sets where trainer_id = $1 and client_id = $2 and id = $3",
        trainer.0,
        client_id,
        set
    )
    .fetch_one(pool)
    .await?;
    if aside {
        sqlx::query!(
            "insert into set_asides (trainer_id, set_id, client_id) values ($1, $2, $3) on conflict do nothing",
            trainer.0,
            set,
            client_id
        )
        .execute(pool)
        .await?;
    } else {
        sqlx::query!("delete from set_asides where trainer_id = $1 and set_id = $2", trainer.0, set)
            .execute(pool)
            .await?;
    }
    Ok(())
}

/// Takes a set of a session back that should not have been logged: a new row that supersedes it and stands for nothing. Doing it
/// twice under one identifier changes nothing; `Conflict` where it was corrected meanwhile, `NotFound` where it is none.
pub async fn take_back(
    pool: &Pool,
    trainer: TrainerId,
    session: Uuid,
    id: Uuid,
    supersedes: Uuid,
) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "insert into logged_sets (trainer_id, id, client_id, slot_id, place_id, position, performed_on, exercise, entry,
                                  effective_kg, model_version, source, workout_id, done_at, supersedes, withdrawn)
         select trainer_id, $4, client_id, slot_id, place_id, position, performed_on, exercise, entry, effective_kg,
                model_version, source, workout_id, done_at, id, true
         from logged_sets l
         where trainer_id = $1 and id = $3 and source = 'session'
           and exists (select 1 from slots s join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
                       where s.trainer_id = l.trainer_id and s.id = l.slot_id and b.session_id = $2)
         on conflict (trainer_id, id) do update set withdrawn = logged_sets.withdrawn",
        trainer.0,
        session,
        supersedes,
        id
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// A client's sets in force (superseded and withdrawn ones left out) up to and including a day, in order of time.
pub async fn of_client(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    client_id: Uuid,
    until: NaiveDate,
) -> Result<Vec<RecordedSet>, StoreError> {
    let mut sets = latest(db, trainer, client_id, until, i64::MAX).await?;
    sets.reverse();
    Ok(sets)
}

/// A row as it was appended, with whether its workout was one of a lighter week.
pub(crate) struct Row {
    id: Uuid,
    slot_id: Option<Uuid>,
    place_id: Option<Uuid>,
    source: String,
    position: i16,
    done_at: Option<DateTime<Utc>>,
    entry: Json<LoggedSet>,
    effective_kg: f64,
    light: bool,
    pub(crate) supersedes: Option<Uuid>,
    pub(crate) withdrawn: bool,
    set_aside: bool,
    pub(crate) logged_at: DateTime<Utc>,
}

impl TryFrom<Row> for RecordedSet {
    type Error = StoreError;

    fn try_from(row: Row) -> Result<Self, StoreError> {
        Ok(Self {
            id: row.id,
            slot_id: row.slot_id,
            place_id: row.place_id,
            source: word(&row.source, Source::from_id)?,
            position: row.position,
            done_at: row.done_at,
            light: row.light,
            set: LoggedSet { effective_kg: Some(Kilograms(row.effective_kg)), set_aside: row.set_aside, ..row.entry.0 },
        })
    }
}

/// The last `count` of a client's sets in force up to and including a day, the latest first.
pub async fn latest(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    client_id: Uuid,
    until: NaiveDate,
    count: i64,
) -> Result<Vec<RecordedSet>, StoreError> {
    // A workout is looked up for each set: joined, all of the trainer's would be read for one client's log.
    let rows = sqlx::query_as!(
        Row,
        r#"select l.id as "id!", l.slot_id, l.place_id, l.source as "source!", l.position as "position!", l.done_at,
                  l.entry as "entry!: Json<LoggedSet>", l.effective_kg as "effective_kg!", l.supersedes,
                  l.withdrawn as "withdrawn!", l.logged_at as "logged_at!",
                  exists (select 1 from set_asides a where a.trainer_id = l.trainer_id and a.set_id = l.id) as "set_aside!",
                  coalesce((select light from workouts w where w.trainer_id = l.trainer_id and w.id = l.workout_id),
                           false) as "light!"
           from sets_in_force l
           where l.trainer_id = $1 and l.client_id = $2 and l.performed_on <= $3
           order by l.performed_on desc, l.logged_at desc, l.position desc, l.id desc
           limit $4"#,
        trainer.0,
        client_id,
        until,
        count
    );
    rows.fetch_all(db).await?.into_iter().map(TryInto::try_into).collect()
}

/// The sets in force of a session on a day, in the order of the log.
pub async fn of_session(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    session: Uuid,
    on: NaiveDate,
) -> Result<Vec<RecordedSet>, StoreError> {
    let rows = sqlx::query_as!(
        Row,
        r#"select l.id as "id!", l.slot_id, l.place_id, l.source as "source!", l.position as "position!", l.done_at,
                  l.entry as "entry!: Json<LoggedSet>", l.effective_kg as "effective_kg!", l.supersedes,
                  l.withdrawn as "withdrawn!", l.logged_at as "logged_at!", false as "set_aside!", false as "light!"
           from slots s
           join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
           join sets_in_force l on l.trainer_id = s.trainer_id and l.slot_id = s.id
           where s.trainer_id = $1 and b.session_id = $2 and l.performed_on = $3
           order by l.logged_at, l.position, l.id"#,
        trainer.0,
        session,
        on
    );
    rows.fetch_all(db).await?.into_iter().map(TryInto::try_into).collect()
}

/// Every row of a client that was appended after a moment, in order of time, superseded and withdrawn ones as well.
pub(crate) async fn since(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    client_id: Uuid,
    moment: DateTime<Utc>,
) -> Result<Vec<Row>, StoreError> {
    let rows = sqlx::query_as!(
        Row,
        r#"select l.id, l.slot_id, l.place_id, l.source, l.position, l.done_at, l.entry as "entry: Json<LoggedSet>",
                  l.effective_kg, l.supersedes, l.withdrawn, l.logged_at,
                  exists (select 1 from set_asides a where a.trainer_id = l.trainer_id and a.set_id = l.id) as "set_aside!",
                  coalesce((select light from workouts w where w.trainer_id = l.trainer_id and w.id = l.workout_id),
                           false) as "light!"
           from logged_sets l
           where l.trainer_id = $1 and l.client_id = $2 and l.logged_at > $3
           order by l.performed_on, l.logged_at, l.position, l.id"#,
        trainer.0,
        client_id,
        moment
    );
    Ok(rows.fetch_all(db).await?)
}

/// When a client's newest row was appended; none where there is none.
pub(crate) async fn newest(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    client_id: Uuid,
) -> Result<Option<DateTime<Utc>>, StoreError> {
    let row = sqlx::query!(
        "select max(logged_at) as newest from logged_sets where trainer_id = $1 and client_id = $2",
        trainer.0,
        client_id
    );
    Ok(row.fetch_one(db).await?.newest)
}

/// A row of the log as it was appended, whatever became of it.
#[derive(Debug, Clone, PartialEq)]
pub struct Appended {
    /// Identifier.
    pub id: Uuid,
    /// The slot.
    pub slot_id: Option<Uuid>,
    /// What was said.
    pub set: LoggedSet,
    /// When it was done.
    pub done_at: Option<DateTime<Utc>>,
    /// When it was said.
    pub logged_at: DateTime<Utc>,
    /// What it corrects.
    pub supersedes: Option<Uuid>,
    /// Whether it takes back what it supersedes.
    pub withdrawn: bool,
    /// Whether the client's phone said it.
    pub by_phone: bool,
}

/// Every row of a session on a day in the order in which it was said: nothing that was corrected or taken back is gone.
pub async fn history(
    pool: &Pool,
    trainer: TrainerId,
    session: Uuid,
    on: NaiveDate,
) -> Result<Vec<Appended>, StoreError> {
    let rows = sqlx::query!(
        r#"select l.id, l.slot_id, l.entry as "entry: Json<LoggedSet>", l.done_at, l.logged_at, l.supersedes, l.withdrawn,
                  exists (select 1 from entries e where e.trainer_id = l.trainer_id and e.id = l.id) as "by_phone!"
           from blocks b
           join slots s on s.trainer_id = b.trainer_id and s.block_id = b.id
           join logged_sets l on l.trainer_id = s.trainer_id and l.slot_id = s.id
           where b.trainer_id = $1 and b.session_id = $2 and l.performed_on = $3
           order by l.done_at, l.logged_at, l.id"#,
        trainer.0,
        session,
        on
    )
    .fetch_all(pool)
    .await?;
    let appended = rows.into_iter().map(|row| Appended {
        id: row.id,
        slot_id: row.slot_id,
        set: row.entry.0,
        done_at: row.done_at,
        logged_at: row.logged_at,
        supersedes: row.supersedes,
        withdrawn: row.withdrawn,
        by_phone: row.by_phone,
    });
    Ok(appended.collect())
}

/// Every row ever appended for a client, superseded ones included: proof that nothing is lost.
pub async fn count_all(pool: &Pool, trainer: TrainerId, client_id: Uuid) -> Result<i64, StoreError> {
    let row = sqlx::query!(
        r#"select count(*) as "count!" from logged_sets where trainer_id = $1 and client_id = $2"#,
        trainer.0,
        client_id
    )
    .fetch_one(pool)
    .await?;
    Ok(row.count)
}

/// Whose each of these sets is, of those that a trainer's log knows: withdrawn and superseded ones as well.
pub async fn owners(pool: &Pool, trainer: TrainerId, ids: &[Uuid]) -> Result<HashMap<Uuid, Uuid>, StoreError> {
    let rows =
        sqlx::query!("select id, client_id from logged_sets where trainer_id = $1 and id = any($2)", trainer.0, ids);
    Ok(rows.fetch_all(pool).await?.into_iter().map(|r| (r.id, r.client_id)).collect())
}

/// Appends many told sets at once, all or none; says how many were new.
pub async fn append_all_told(pool: &Pool, trainer: TrainerId, all: &[ToldSet<'_>]) -> Result<u64, StoreError> {
    let mut entries = Vec::with_capacity(all.len());
    for told in all {
        entries.push(serde_json::to_value(told.set)?);
    }
    let ids: Vec<Uuid> = all.iter().map(|t| t.id).collect();
    let clients: Vec<Uuid> = all.iter().map(|t| t.client_id).collect();
    let days: Vec<NaiveDate> = all.iter().map(|t| t.set.date).collect();
    let exercises: Vec<String> = all.iter().map(|t| t.set.exercise.clone()).collect();
    let effective: Vec<f64> = all.iter().map(|t| t.effective.value()).collect();
    let sources: Vec<String> = all.iter().map(|t| t.source.id().to_owned()).collect();
    let done = sqlx::query!(
        "insert into logged_sets (trainer_id, id, client_id, position, performed_on, exercise, entry, effective_kg,
                                  model_version, source)
         select $1, id, client, 1, day, exercise, entry, effective, $8, source
         from unnest($2::uuid[], $3::uuid[], $4::date[], $5::text[], $6::jsonb[], $7::float8[], $9::text[])
              as t (id, client, day, exercise, entry, effective, source)
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        &ids,
        &clients,
        &days,
        &exercises,
        &entries,
        &effective,
        MODEL_VERSION,
        &sources
    )
    .execute(pool)
    .await?;
    Ok(done.rows_affected())
}
