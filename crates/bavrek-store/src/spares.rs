//! What stands ready for a slot at a place, should something be missing there.

use std::collections::BTreeMap;

use bavrek_core::ladder::LadderStep;
use sqlx::types::Json;
use uuid::Uuid;

use crate::{Pool, StoreError, TrainerId};

/// What stands ready.
#[derive(Debug, Clone, PartialEq)]
pub struct Spare {
    /// The slot.
    pub slot_id: Uuid,
    /// Where.
    pub place_id: Uuid,
    /// The movement that it stands in for: of another it is none.
    pub instead_of: String,
    /// The movement.
    pub exercise: String,
    /// Its step.
    pub step: LadderStep,
}

/// Keeps what stands ready, in place of what did.
pub async fn keep(pool: &Pool, trainer: TrainerId, spares: &[Spare]) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    for spare in spares {
        sqlx::query!(
            "insert into spares (trainer_id, slot_id, place_id, instead_of, exercise, step) values ($1, $2, $3, $4, $5, $6)
             on conflict (trainer_id, slot_id, place_id) do update
             set instead_of = excluded.instead_of, exercise = excluded.exercise, step = excluded.step, made_at = now()",
            trainer.0,
            spare.slot_id,
            spare.place_id,
            spare.instead_of,
            spare.exercise,
            serde_json::to_value(&spare.step)?
        )
        .execute(&mut *tx)
        .await?;
    }
    tx.commit().await?;
    Ok(())
}

/// What stands ready for the slots of a session at a place.
pub async fn of_session(
    pool: &Pool,
    trainer: TrainerId,
    session: Uuid,
    place: Uuid,
) -> Result<BTreeMap<Uuid, Spare>, StoreError> {
    let rows = sqlx::query!(
        r#"select p.slot_id, p.place_id, p.instead_of, p.exercise, p.step as "step: Json<LadderStep>"
           from spares p
           join slots s on s.trainer_id = p.trainer_id and s.id = p.slot_id
           join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
           where p.trainer_id = $1 and b.session_id = $2 and p.place_id = $3"#,
        trainer.0,
        session,
        place
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    Ok(rows
        .map(|row| {
            let (slot_id, place_id) = (row.slot_id, row.place_id);
            let spare =
                Spare { slot_id, place_id, instead_of: row.instead_of, exercise: row.exercise, step: row.step.0 };
            (slot_id, spare)
        })
        .collect())
}
