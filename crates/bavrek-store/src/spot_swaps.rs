//! Swaps on the spot: what was done instead, that day, and why. The plan's fit stays in force.

use std::collections::BTreeMap;

use bavrek_core::anatomy::Joint;
use bavrek_core::dose::Prescription;
use bavrek_core::kit::KitItem;
use bavrek_core::ladder::LadderStep;
use bavrek_core::person::Side;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::document;
use crate::health::{self, PlanChange, Whose};
use crate::{Pool, StoreError, TrainerId, new_id};

/// A swap of one slot for one day.
#[derive(Debug, Clone, PartialEq)]
pub struct SpotSwap {
    /// Identifier, given by the form: the same one twice is stored once.
    pub id: Uuid,
    /// The slot.
    pub slot_id: Uuid,
    /// Where.
    pub place_id: Uuid,
    /// The day it holds for.
    pub on: NaiveDate,
    /// The movement it stands in for.
    pub instead_of: String,
    /// What is done.
    pub exercise: String,
    /// On which step.
    pub step: LadderStep,
    /// How much of it.
    pub prescription: Prescription,
    /// Why, for example `the bench is taken`.
    pub reason: String,
    /// The same for the next swap of the day.
    pub trouble: InTheWay,
}

/// What was in the way of a movement: a piece of kit, one weight of it, or a joint that hurts.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
pub struct InTheWay {
    /// The piece.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub piece: Option<Uuid>,
    /// One stamped weight of it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub weight: Option<f64>,
    /// The joint.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub joint: Option<Joint>,
    /// Its side, where that was told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub side: Option<Side>,
    /// How strong, 0 to 10, where that was told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pain: Option<u8>,
}

/// A piece of kit that broke: it leaves the kit, dated.
#[derive(Debug, Clone, PartialEq)]
pub struct Broken {
    /// The piece.
    pub piece: Uuid,
    /// What is left of it, where only a part broke.
    pub left: Option<KitItem>,
}

/// Whether a swap was stored already.
pub async fn known(pool: &Pool, trainer: TrainerId, id: Uuid) -> Result<bool, StoreError> {
    let row = sqlx::query!(
        r#"select exists (select 1 from spot_swaps where trainer_id = $1 and id = $2) as "known!""#,
        trainer.0,
        id
    )
    .fetch_one(pool)
    .await?;
    Ok(row.known)
}

/// Stores a swap, and takes what broke out of the kit. `ClearanceNeeded` where the client's screening stops it.
pub async fn add(pool: &Pool, trainer: TrainerId, swap: &SpotSwap, broken: Option<&Broken>) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    health::pass(&mut tx, trainer, Whose::Slot(swap.slot_id), PlanChange::Hardens).await?;
    let done = sqlx::query!(
        "insert into spot_swaps (trainer_id, id, slot_id, place_id, swapped_on, instead_of, exercise, step,
                                 prescription, reason, trouble)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) on conflict (trainer_id, id) do nothing",
        trainer.0,
        swap.id,
        swap.slot_id,
        swap.place_id,
        swap.on,
        swap.instead_of,
        swap.exercise,
        serde_json::to_value(&swap.step)?,
        serde_json::to_value(&swap.prescription)?,
        swap.reason,
        serde_json::to_value(swap.trouble)?
    )
    .execute(&mut *tx)
    .await?;
    if let Some(broken) = broken.filter(|_| done.rows_affected() == 1) {
        take_out(&mut tx, trainer, swap.place_id, broken).await?;
    }
    tx.commit().await?;
    Ok(())
}

/// Takes what broke out of the kit of the place where it stands: what came along belongs to another one.
async fn take_out(
    tx: &mut sqlx::PgConnection,
    trainer: TrainerId,
    place: Uuid,
    broken: &Broken,
) -> Result<(), StoreError> {
    let gone = sqlx::query!(
        r#"update kit_items k set removed_at = now() from places p
         where k.trainer_id = $1 and k.id = $3 and k.removed_at is null
           and p.trainer_id = k.trainer_id and p.id = k.place_id
           and p.client_id = (select client_id from places where trainer_id = $1 and id = $2)
         returning k.place_id, k.position, k.stability, k.travels, coalesce(k.piece, k.id) as "origin!""#,
        trainer.0,
        place,
        broken.piece
    )
    .fetch_optional(&mut *tx)
    .await?;
    // Whoever took it out before was faster; it is gone either way.
    let (Some(gone), Some(left)) = (gone, &broken.left) else { return Ok(()) };
    sqlx::query!(
        "insert into kit_items (trainer_id, id, place_id, item, position, stability, travels, piece)
         values ($1, $2, $3, $4, $5, $6, $7, $8)",
        trainer.0,
        new_id(),
        gone.place_id,
        serde_json::to_value(left)?,
        gone.position,
        gone.stability,
        gone.travels,
        gone.origin
    )
    .execute(tx)
    .await?;
    Ok(())
}

/// Goes back to the plan: the swaps of a slot on a day count no longer. Their rows stay.
pub async fn take_back(pool: &Pool, trainer: TrainerId, slot: Uuid, on: NaiveDate) -> Result<(), StoreError> {
    sqlx::query!(
        "update spot_swaps set taken_back_at = now()
         where trainer_id = $1 and slot_id = $2 and swapped_on = $3 and taken_back_at is null",
        trainer.0,
        slot,
        on
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// What was in the way of a session's slots on a day at a place, by slot, the earliest first.
pub async fn in_the_way(
    pool: &Pool,
    trainer: TrainerId,
    session: Uuid,
    place: Uuid,
    on: NaiveDate,
) -> Result<Vec<(Uuid, InTheWay)>, StoreError> {
    let rows = sqlx::query!(
        r#"select w.slot_id, w.trouble as "trouble!"
         from spot_swaps w
         join slots s on s.trainer_id = w.trainer_id and s.id = w.slot_id
         join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
         where w.trainer_id = $1 and b.session_id = $2 and w.place_id = $3 and w.swapped_on = $4
           and w.taken_back_at is null and w.trouble is not null
         order by w.swapped_at, w.id"#,
        trainer.0,
        session,
        place,
        on
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|row| Ok((row.slot_id, document::read(row.trouble, "spot_swaps.trouble", row.slot_id)?)))
        .collect()
}

/// A swap as it is stored.
struct Row {
    id: Uuid,
    slot_id: Uuid,
    place_id: Uuid,
    swapped_on: NaiveDate,
    instead_of: String,
    exercise: String,
    step: serde_json::Value,
    prescription: serde_json::Value,
    reason: String,
    trouble: Option<serde_json::Value>,
}

impl TryFrom<Row> for SpotSwap {
    type Error = StoreError;

    fn try_from(row: Row) -> Result<Self, StoreError> {
        let trouble = row.trouble.map(|t| document::read(t, "spot_swaps.trouble", row.id));
        Ok(Self {
            id: row.id,
            slot_id: row.slot_id,
            place_id: row.place_id,
            on: row.swapped_on,
            instead_of: row.instead_of,
            exercise: row.exercise,
            step: document::read(row.step, "spot_swaps.step", row.id)?,
            prescription: document::read(row.prescription, "spot_swaps.prescription", row.id)?,
            reason: row.reason,
            trouble: trouble.transpose()?.unwrap_or_default(),
        })
    }
}

/// A swap of a slot, in force or taken back: what a form was filled in against.
pub async fn ever(pool: &Pool, trainer: TrainerId, slot_id: Uuid, id: Uuid) -> Result<SpotSwap, StoreError> {
    sqlx::query_as!(
        Row,
        "select id, slot_id, place_id, swapped_on, instead_of, exercise, step, prescription, reason, trouble
         from spot_swaps where trainer_id = $1 and slot_id = $2 and id = $3",
        trainer.0,
        slot_id,
        id
    )
    .fetch_one(pool)
    .await?
    .try_into()
}

/// The swaps of a session that hold on a day at a place, the latest of each slot.
pub async fn of_session(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    session: Uuid,
    place: Uuid,
    on: NaiveDate,
) -> Result<BTreeMap<Uuid, SpotSwap>, StoreError> {
    let rows = sqlx::query_as!(
        Row,
        "select distinct on (w.slot_id) w.id, w.slot_id, w.place_id, w.swapped_on, w.instead_of, w.exercise, w.step,
                w.prescription, w.reason, w.trouble
         from spot_swaps w
         join slots s on s.trainer_id = w.trainer_id and s.id = w.slot_id
         join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
         where w.trainer_id = $1 and b.session_id = $2 and w.place_id = $3 and w.swapped_on = $4
           and w.taken_back_at is null
         order by w.slot_id, w.swapped_at desc, w.id desc",
        trainer.0,
        session,
        place,
        on
    )
    .fetch_all(db)
    .await?;
    rows.into_iter().map(|row| SpotSwap::try_from(row).map(|swap| (swap.slot_id, swap))).collect()
}
