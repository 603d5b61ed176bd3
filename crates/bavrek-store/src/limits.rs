//! What a client must be spared, with its history: a change is a new row, a removal is dated.

use bavrek_core::person::Limit;
use chrono::{DateTime, NaiveDate, Utc};
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::document;
use crate::{Pool, StoreError, TrainerId};

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

impl DatedLimit {
    /// Whether it counts on a day.
    pub fn in_force(&self, today: NaiveDate) -> bool {
        self.since <= today && self.until.is_none_or(|until| today <= until)
    }
}

/// A limit as it once stood.
#[derive(Debug, Clone, PartialEq)]
pub struct PastLimit {
    /// The limit.
    pub limit: DatedLimit,
    /// When it was written down.
    pub recorded_at: DateTime<Utc>,
    /// When it was removed; none where a change took its place.
    pub removed_at: Option<DateTime<Utc>>,
}

/// Adds a limit to a client under its own identifier: the same one twice is stored once.
pub async fn add(pool: &Pool, trainer: TrainerId, client: Uuid, limit: &DatedLimit) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    insert(&mut tx, trainer, client, limit, None).await?;
    tx.commit().await?;
    Ok(())
}

async fn insert(
    tx: &mut sqlx::PgConnection,
    trainer: TrainerId,
    client: Uuid,
    limit: &DatedLimit,
    replaces: Option<Uuid>,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into limits (trainer_id, id, client_id, rule, since, until, note, replaces)
         values ($1, $2, $3, $4, $5, $6, $7, $8) on conflict (trainer_id, id) do nothing",
        trainer.0,
        limit.id,
        client,
        serde_json::to_value(limit.rule)?,
        limit.since,
        limit.until,
        limit.note,
        replaces
    )
    .execute(tx)
    .await?;
    Ok(())
}

/// Puts `limit` in the place of `old`, which stays in the history. `Conflict` where somebody changed or removed `old`
/// in the meantime.
pub async fn change(
    pool: &Pool,
    trainer: TrainerId,
    client: Uuid,
    old: Uuid,
    limit: &DatedLimit,
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    let row = sqlx::query!(
        r#"select removed_at is not null as "removed!" from limits
           where trainer_id = $1 and client_id = $2 and id = $3 for update"#,
        trainer.0,
        client,
        old
    )
    .fetch_one(&mut *tx)
    .await?;
    if row.removed {
        return Err(StoreError::Conflict);
    }
    insert(&mut tx, trainer, client, limit, Some(old)).await?;
    tx.commit().await?;
    Ok(())
}

/// Removes a limit that was entered by mistake, or brings it back.
pub async fn set_removed(
    pool: &Pool,
    trainer: TrainerId,
    client: Uuid,
    id: Uuid,
    removed: bool,
) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update limits set removed_at = case when $4 then coalesce(removed_at, now()) end
         where trainer_id = $1 and client_id = $2 and id = $3",
        trainer.0,
        client,
        id,
        removed
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// The limits of a client that stand, whatever their dates, newest first.
pub async fn of_client(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    client: Uuid,
) -> Result<Vec<DatedLimit>, StoreError> {
    let rows = sqlx::query!(
        "select id, rule, since, until, note from limits l
         where trainer_id = $1 and client_id = $2 and removed_at is null
           and not exists (select 1 from limits n where n.trainer_id = l.trainer_id and n.replaces = l.id)
         order by since desc, id",
        trainer.0,
        client
    )
    .fetch_all(db)
    .await?;
    rows.into_iter()
        .map(|row| {
            Ok(DatedLimit {
                id: row.id,
                rule: document::read(row.rule, "limits.rule", row.id)?,
                since: row.since,
                until: row.until,
                note: row.note,
            })
        })
        .collect()
}

/// What stood once and was changed or removed since, newest first.
pub async fn history(pool: &Pool, trainer: TrainerId, client: Uuid) -> Result<Vec<PastLimit>, StoreError> {
    let rows = sqlx::query!(
        "select id, rule, since, until, note, recorded_at, removed_at from limits l
         where trainer_id = $1 and client_id = $2
           and (removed_at is not null
                or exists (select 1 from limits n where n.trainer_id = l.trainer_id and n.replaces = l.id))
         order by recorded_at desc, id",
        trainer.0,
        client
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|row| {
            let rule = document::read(row.rule, "limits.rule", row.id)?;
            let limit = DatedLimit { id: row.id, rule, since: row.since, until: row.until, note: row.note };
            Ok(PastLimit { limit, recorded_at: row.recorded_at, removed_at: row.removed_at })
        })
        .collect()
}
