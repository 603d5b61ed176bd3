//! What was left out of a workout on purpose: that day, and why.

use std::collections::BTreeMap;

use chrono::NaiveDate;
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::{Pool, StoreError, TrainerId};

/// A slot that is left out for a day.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Skip {
    /// Identifier, given by the form: the same one twice is stored once.
    pub id: Uuid,
    /// The slot.
    pub slot_id: Uuid,
    /// The day.
    pub on: NaiveDate,
    /// Why; empty where nobody said.
    pub reason: String,
}

/// Leaves a slot out for a day. Doing it twice changes nothing; `NotFound` where the slot is not of this session.
pub async fn add(pool: &Pool, trainer: TrainerId, session: Uuid, skip: &Skip) -> Result<(), StoreError> {
    let own = sqlx::query!(
        "select s.id from slots s join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
         where s.trainer_id = $1 and s.id = $2 and b.session_id = $3",
        trainer.0,
        skip.slot_id,
        session
    );
    own.fetch_one(pool).await?;
    sqlx::query!(
        "insert into skips (trainer_id, id, slot_id, skipped_on, reason) values ($1, $2, $3, $4, $5)
         on conflict do nothing",
        trainer.0,
        skip.id,
        skip.slot_id,
        skip.on,
        skip.reason
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Takes a slot up again that was left out on a day.
pub async fn take_up(pool: &Pool, trainer: TrainerId, slot: Uuid, on: NaiveDate) -> Result<(), StoreError> {
    sqlx::query!(
        "update skips set taken_up_at = now()
         where trainer_id = $1 and slot_id = $2 and skipped_on = $3 and taken_up_at is null",
        trainer.0,
        slot,
        on
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// What of a session is left out on a day, by slot.
pub async fn of_session(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    session: Uuid,
    on: NaiveDate,
) -> Result<BTreeMap<Uuid, Skip>, StoreError> {
    let rows = sqlx::query!(
        "select k.id, k.slot_id, k.reason
         from skips k
         join slots s on s.trainer_id = k.trainer_id and s.id = k.slot_id
         join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
         where k.trainer_id = $1 and b.session_id = $2 and k.skipped_on = $3 and k.taken_up_at is null",
        trainer.0,
        session,
        on
    )
    .fetch_all(db)
    .await?;
    let skip = |(id, slot_id, reason)| (slot_id, Skip { id, slot_id, on, reason });
    Ok(rows.into_iter().map(|r| skip((r.id, r.slot_id, r.reason))).collect())
}
