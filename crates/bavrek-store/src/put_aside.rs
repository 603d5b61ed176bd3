//! Movements that a trainer does not want for a client, each with the reason. Taking one back keeps its row.

use bavrek_core::fit::PutAside;
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::{Pool, StoreError, TrainerId};

/// Puts a movement aside under the given identifier. Doing it twice, or anew while it is aside, changes nothing.
pub async fn put(pool: &Pool, trainer: TrainerId, client: Uuid, id: Uuid, aside: &PutAside) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into put_aside (trainer_id, id, client_id, exercise, reason) values ($1, $2, $3, $4, $5)
         on conflict do nothing",
        trainer.0,
        id,
        client,
        aside.exercise,
        aside.reason
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Takes a movement back into the choice.
pub async fn take_back(pool: &Pool, trainer: TrainerId, client: Uuid, exercise: &str) -> Result<(), StoreError> {
    sqlx::query!(
        "update put_aside set taken_back_at = now()
         where trainer_id = $1 and client_id = $2 and exercise = $3 and taken_back_at is null",
        trainer.0,
        client,
        exercise
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// What is put aside for a client now, by movement.
pub async fn of_client(db: impl PgExecutor<'_>, trainer: TrainerId, client: Uuid) -> Result<Vec<PutAside>, StoreError> {
    Ok(sqlx::query_as!(
        PutAside,
        "select exercise, reason from put_aside
         where trainer_id = $1 and client_id = $2 and taken_back_at is null order by exercise",
        trainer.0,
        client
    )
    .fetch_all(db)
    .await?)
}
