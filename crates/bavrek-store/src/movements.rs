//! Movements of a trainer's own. Archived ones are no longer offered but still read: the log refers to them.

use bavrek_core::movement::Movement;
use uuid::Uuid;

use crate::document;
use crate::{Pool, StoreError, TrainerId};

/// A trainer's own movement.
#[derive(Debug, Clone, PartialEq)]
pub struct OwnMovement {
    /// Identifier of the row; the movement's own identifier is made of it.
    pub id: Uuid,
    /// The movement.
    pub movement: Movement,
    /// Whether it is no longer offered.
    pub archived: bool,
}

/// The identifier that a row gives its movement: `own_` and the row's digits.
pub fn movement_id(row: Uuid) -> String {
    format!("own_{}", row.simple())
}

/// The row behind a movement's identifier; none for movements that ship.
pub fn row_id(movement: &str) -> Option<Uuid> {
    movement.strip_prefix("own_")?.parse().ok()
}

/// All of a trainer's own movements, the first added first.
pub async fn all(pool: &Pool, trainer: TrainerId) -> Result<Vec<OwnMovement>, StoreError> {
    let rows = sqlx::query!(
        r#"select id, movement, archived_at is not null as "archived!" from own_movements
           where trainer_id = $1 order by added_at, id"#,
        trainer.0
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|row| {
            let movement = document::read(row.movement, "own_movements.movement", row.id)?;
            Ok(OwnMovement { id: row.id, movement, archived: row.archived })
        })
        .collect()
}

/// Movements of one's own, archived ones with them: every fit weighs them all.
pub const MOST_OWN: i64 = 300;

/// Stores a movement, or what it has become; says whether there was room for one more. The identifier comes from the form, so
/// that sending it twice stores it once.
pub async fn save(pool: &Pool, trainer: TrainerId, id: Uuid, movement: &Movement) -> Result<bool, StoreError> {
    let done = sqlx::query!(
        "insert into own_movements (trainer_id, id, name, movement)
         select $1, $2, $3, $4 where (select count(*) from own_movements where trainer_id = $1 and id <> $2) < $5
         on conflict (trainer_id, id) do update set name = excluded.name, movement = excluded.movement",
        trainer.0,
        id,
        movement.name,
        serde_json::to_value(movement)?,
        MOST_OWN
    )
    .execute(pool)
    .await?;
    Ok(done.rows_affected() == 1)
}

/// Takes a movement out of what is offered, or brings it back.
pub async fn archive(pool: &Pool, trainer: TrainerId, id: Uuid, archived: bool) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update own_movements set archived_at = case when $3 then coalesce(archived_at, now()) end
         where trainer_id = $1 and id = $2",
        trainer.0,
        id,
        archived
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}
