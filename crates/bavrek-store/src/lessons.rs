//! What clients' logs say of movements: kept for each client, and pooled for each trainer.

use bavrek_core::across::{Lessons, TrackRecord};
use chrono::NaiveDate;
use uuid::Uuid;

use crate::{Pool, StoreError, TrainerId, document};

/// Days after which a log is read again although nothing was logged: standing still is a matter of time, and limits end.
const READ_AGAIN: i32 = 7;

/// Clients who are not put away and whose log is to be read: it grew since it was read on an earlier day, or was never read, or not for a week. Those that
/// waited longest come first.
pub async fn due(pool: &Pool, today: NaiveDate, most: i64) -> Result<Vec<(TrainerId, Uuid)>, StoreError> {
    let rows = sqlx::query!(
        r#"select c.trainer_id, c.id from clients c
           left join lessons l on l.trainer_id = c.trainer_id and l.client_id = c.id
           where c.archived_at is null
             and (l.client_id is null or (l.logged <> c.logged and l.seen_on < $1) or l.seen_on < $1 - $3::int)
           order by l.seen_on nulls first, c.id limit $2"#,
        today,
        most,
        READ_AGAIN
    )
    .fetch_all(pool)
    .await?;
    Ok(rows.into_iter().map(|r| (TrainerId(r.trainer_id), r.id)).collect())
}

/// Keeps what a client's log says. A client who was erased meanwhile stays erased.
pub async fn keep(
    pool: &Pool,
    trainer: TrainerId,
    client: Uuid,
    (logged, seen_on): (i64, NaiveDate),
    told: &Lessons,
) -> Result<(), StoreError> {
    let told = serde_json::to_value(told)?;
    sqlx::query!(
        "insert into lessons (trainer_id, client_id, logged, seen_on, told)
         select trainer_id, id, $3, $4, $5 from clients where trainer_id = $1 and id = $2
         on conflict (trainer_id, client_id) do update
         set logged = excluded.logged, seen_on = excluded.seen_on, told = excluded.told",
        trainer.0,
        client,
        logged,
        seen_on,
        told
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Says that a log could not be read on a day: what it said before stands, and it is due again the next day.
pub async fn put_off(pool: &Pool, trainer: TrainerId, client: Uuid, on: NaiveDate) -> Result<(), StoreError> {
    let nothing = serde_json::to_value(Lessons::default())?;
    sqlx::query!(
        "insert into lessons (trainer_id, client_id, logged, seen_on, told)
         select trainer_id, id, -1, $3, $4 from clients where trainer_id = $1 and id = $2
         on conflict (trainer_id, client_id) do update set logged = -1, seen_on = excluded.seen_on",
        trainer.0,
        client,
        on,
        nothing
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// A client's lessons.
#[derive(Debug, Clone, PartialEq)]
pub struct OfClient {
    /// The client.
    pub client: Uuid,
    /// What the client is called.
    pub name: String,
    /// What the log says.
    pub told: Lessons,
}

/// What the logs of a trainer's clients say, one of each that was read, by name. Who was put away is left out.
pub async fn of_trainer(pool: &Pool, trainer: TrainerId) -> Result<Vec<OfClient>, StoreError> {
    let rows = sqlx::query!(
        "select c.id, c.name, l.told from lessons l
         join clients c on c.trainer_id = l.trainer_id and c.id = l.client_id
         where l.trainer_id = $1 and c.archived_at is null order by c.name, c.id",
        trainer.0
    )
    .fetch_all(pool)
    .await?;
    let read = |told, id| document::read(told, "lessons.told", id);
    rows.into_iter().map(|r| Ok(OfClient { client: r.id, name: r.name, told: read(r.told, r.id)? })).collect()
}

/// What a page about them begins with.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Standing {
    /// Clients there are.
    pub clients: i64,
    /// Those whose log was read.
    pub read: i64,
    /// The day of the log that was read longest ago.
    pub since: Option<NaiveDate>,
    /// Whether the record leans the order of fits.
    pub heeded: bool,
}

/// How many clients' logs were read, and whether they count.
pub async fn standing(pool: &Pool, trainer: TrainerId) -> Result<Standing, StoreError> {
    let row = sqlx::query_as!(
        Standing,
        r#"select q.clients as "clients!", q.read as "read!", q.since, t.heeds_record as heeded
           from trainers t cross join lateral (
             select count(*) as clients, count(l.client_id) as read, min(l.seen_on) as since from clients c
             left join lessons l on l.trainer_id = c.trainer_id and l.client_id = c.id
             where c.trainer_id = $1 and c.archived_at is null) q
           where t.id = $1"#,
        trainer.0
    )
    .fetch_one(pool)
    .await?;
    Ok(row)
}

/// Keeps what the logs come to together.
pub async fn keep_record(pool: &Pool, trainer: TrainerId, record: &TrackRecord) -> Result<(), StoreError> {
    let record = serde_json::to_value(record)?;
    sqlx::query!(
        "update trainers set track_record = $2 where id = $1 and track_record is distinct from $2",
        trainer.0,
        record
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Sets whether the record leans the order of fits.
pub async fn heed(pool: &Pool, trainer: TrainerId, heeded: bool) -> Result<(), StoreError> {
    sqlx::query!("update trainers set heeds_record = $2 where id = $1", trainer.0, heeded).execute(pool).await?;
    Ok(())
}
