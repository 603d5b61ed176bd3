//! What a trainer saw of a client on a day: posture, left and right, looks. Removals are dated and can be undone.

use bavrek_core::notes::NoteKind;
use bavrek_core::person::Side;
use chrono::NaiveDate;
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::document::word;
use crate::{Pool, StoreError, TrainerId};

/// An observation.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Observation {
    /// Identifier.
    pub id: Uuid,
    /// The day.
    pub on: NaiveDate,
    /// What it is about.
    pub kind: NoteKind,
    /// The side, where it has one.
    pub side: Option<Side>,
    /// What was seen, at most 5000 characters.
    pub note: String,
}

/// Adds an observation under its own identifier: the same one twice is stored once.
pub async fn add(pool: &Pool, trainer: TrainerId, client: Uuid, seen: &Observation) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into observations (trainer_id, id, client_id, seen_on, kind, side, note)
         values ($1, $2, $3, $4, $5, $6, $7) on conflict (trainer_id, id) do nothing",
        trainer.0,
        seen.id,
        client,
        seen.on,
        seen.kind.id(),
        seen.side.map(Side::id),
        seen.note
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Removes an observation, or brings it back.
pub async fn set_removed(
    pool: &Pool,
    trainer: TrainerId,
    client: Uuid,
    id: Uuid,
    removed: bool,
) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update observations set removed_at = case when $4 then coalesce(removed_at, now()) end
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

/// All observations of a client, newest first.
pub async fn of_client(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    client: Uuid,
) -> Result<Vec<Observation>, StoreError> {
    let rows = sqlx::query!(
        "select id, seen_on, kind, side, note from observations
         where trainer_id = $1 and client_id = $2 and removed_at is null
         order by seen_on desc, recorded_at desc, id desc",
        trainer.0,
        client
    )
    .fetch_all(db)
    .await?;
    rows.into_iter()
        .map(|r| {
            Ok(Observation {
                id: r.id,
                on: r.seen_on,
                kind: word(&r.kind, NoteKind::from_id)?,
                side: r.side.as_deref().map(|s| word(s, Side::from_id)).transpose()?,
                note: r.note,
            })
        })
        .collect()
}
