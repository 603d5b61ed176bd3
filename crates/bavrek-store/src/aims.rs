//! Aims: every change is a new row, so that a plan can be held against what was wanted when it was made.

use bavrek_core::aims::Aims;
use chrono::NaiveDate;
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::document;
use crate::{Pool, StoreError, TrainerId};

/// Aims with their day.
#[derive(Debug, Clone, PartialEq)]
pub struct DatedAims {
    /// Identifier.
    pub id: Uuid,
    /// What is wanted.
    pub aims: Aims,
    /// Since when.
    pub on: NaiveDate,
}

/// Sets aims in place of those named by `after`, none for the first ones. `Conflict` where others were set in the
/// meantime; sending the same identifier twice changes nothing.
pub async fn set(
    pool: &Pool,
    trainer: TrainerId,
    client: Uuid,
    after: Option<Uuid>,
    new: &DatedAims,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into aims (trainer_id, id, client_id, aims, set_on, replaces) values ($1, $2, $3, $4, $5, $6)
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        new.id,
        client,
        serde_json::to_value(&new.aims)?,
        new.on,
        after
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// All aims of a client, newest first; the first are in force.
pub async fn of_client(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    client: Uuid,
) -> Result<Vec<DatedAims>, StoreError> {
    let rows = sqlx::query!(
        "select id, aims, set_on from aims where trainer_id = $1 and client_id = $2 order by recorded_at desc, id desc",
        trainer.0,
        client
    )
    .fetch_all(db)
    .await?;
    rows.into_iter()
        .map(|r| Ok(DatedAims { id: r.id, aims: document::read(r.aims, "aims.aims", r.id)?, on: r.set_on }))
        .collect()
}
