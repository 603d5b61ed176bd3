//! Planned sessions: blocks and slots, each slot with its intent.

use bavrek_core::plan::{BlockKind, Intent};
use chrono::NaiveDate;
use uuid::Uuid;

use crate::error::word;
use crate::{Pool, StoreError, TrainerId, health, new_id};

/// A session's head.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SessionHead {
    /// Identifier.
    pub id: Uuid,
    /// Whose it is.
    pub client_id: Uuid,
    /// Where it is.
    pub place_id: Uuid,
    /// Its name.
    pub name: String,
    /// Its day.
    pub planned_on: NaiveDate,
    /// Minutes there are.
    pub minutes: i16,
}

/// A block with its slots.
#[derive(Debug, Clone, PartialEq)]
pub struct Block {
    /// Identifier.
    pub id: Uuid,
    /// How its slots are done together.
    pub kind: BlockKind,
    /// Slots in order.
    pub slots: Vec<Slot>,
}

/// A slot.
#[derive(Debug, Clone, PartialEq)]
pub struct Slot {
    /// Identifier.
    pub id: Uuid,
    /// What it is for.
    pub intent: Intent,
}

/// A slot with the session it belongs to.
#[derive(Debug, Clone, PartialEq)]
pub struct PlacedSlot {
    /// The slot.
    pub slot: Slot,
    /// Its session.
    pub session: SessionHead,
}

/// Adds a session with its blocks and slots, all or nothing; returns its identifier and those of the slots in order.
/// `ClearanceNeeded` where the client's screening stops new plans.
pub async fn add(
    pool: &Pool,
    trainer: TrainerId,
    head: &SessionHead,
    blocks: &[(BlockKind, Vec<Intent>)],
) -> Result<(Uuid, Vec<Uuid>), StoreError> {
    let mut tx = pool.begin().await?;
    health::refuse_if_stopped(&mut tx, trainer, head.client_id).await?;
    let session_id = new_id();
    sqlx::query!(
        "insert into sessions (trainer_id, id, client_id, place_id, name, planned_on, minutes)
         values ($1, $2, $3, $4, $5, $6, $7)",
        trainer.0,
        session_id,
        head.client_id,
        head.place_id,
        head.name,
        head.planned_on,
        head.minutes
    )
    .execute(&mut *tx)
    .await?;
    let mut slots = Vec::new();
    for (i, (kind, intents)) in blocks.iter().enumerate() {
        let block_id = new_id();
        sqlx::query!(
            "insert into blocks (trainer_id, id, session_id, position, kind) values ($1, $2, $3, $4, $5)",
            trainer.0,
            block_id,
            session_id,
            i as i16,
            kind.id()
        )
        .execute(&mut *tx)
        .await?;
        for (j, intent) in intents.iter().enumerate() {
            let slot_id = new_id();
            sqlx::query!(
                "insert into slots (trainer_id, id, block_id, position, intent) values ($1, $2, $3, $4, $5)",
                trainer.0,
                slot_id,
                block_id,
                j as i16,
                serde_json::to_value(intent)?
            )
            .execute(&mut *tx)
            .await?;
            slots.push(slot_id);
        }
    }
    tx.commit().await?;
    Ok((session_id, slots))
}

/// One session's head.
pub async fn head(pool: &Pool, trainer: TrainerId, id: Uuid) -> Result<SessionHead, StoreError> {
    Ok(sqlx::query_as!(
        SessionHead,
        "select id, client_id, place_id, name, planned_on, minutes from sessions where trainer_id = $1 and id = $2",
        trainer.0,
        id
    )
    .fetch_one(pool)
    .await?)
}

/// A client's sessions by day.
pub async fn of_client(pool: &Pool, trainer: TrainerId, client_id: Uuid) -> Result<Vec<SessionHead>, StoreError> {
    Ok(sqlx::query_as!(
        SessionHead,
        "select id, client_id, place_id, name, planned_on, minutes from sessions
         where trainer_id = $1 and client_id = $2 order by planned_on, id",
        trainer.0,
        client_id
    )
    .fetch_all(pool)
    .await?)
}

/// The sessions at a place by day.
pub async fn at_place(pool: &Pool, trainer: TrainerId, place_id: Uuid) -> Result<Vec<SessionHead>, StoreError> {
    Ok(sqlx::query_as!(
        SessionHead,
        "select id, client_id, place_id, name, planned_on, minutes from sessions
         where trainer_id = $1 and place_id = $2 order by planned_on, id",
        trainer.0,
        place_id
    )
    .fetch_all(pool)
    .await?)
}

/// The blocks of a session with their slots, in order.
pub async fn blocks(pool: &Pool, trainer: TrainerId, session_id: Uuid) -> Result<Vec<Block>, StoreError> {
    let rows = sqlx::query!(
        "select b.id as block_id, b.kind, s.id as slot_id, s.intent
         from blocks b join slots s on s.trainer_id = b.trainer_id and s.block_id = b.id
         where b.trainer_id = $1 and b.session_id = $2 order by b.position, s.position",
        trainer.0,
        session_id
    )
    .fetch_all(pool)
    .await?;
    let mut blocks: Vec<Block> = Vec::new();
    for row in rows {
        let slot = Slot { id: row.slot_id, intent: serde_json::from_value(row.intent)? };
        match blocks.last_mut().filter(|b| b.id == row.block_id) {
            Some(block) => block.slots.push(slot),
            None => {
                blocks.push(Block { id: row.block_id, kind: word(&row.kind, BlockKind::from_id)?, slots: vec![slot] });
            }
        }
    }
    Ok(blocks)
}

/// One slot with its session.
pub async fn slot(pool: &Pool, trainer: TrainerId, id: Uuid) -> Result<PlacedSlot, StoreError> {
    let row = sqlx::query!(
        "select s.intent, x.id, x.client_id, x.place_id, x.name, x.planned_on, x.minutes
         from slots s
         join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
         join sessions x on x.trainer_id = b.trainer_id and x.id = b.session_id
         where s.trainer_id = $1 and s.id = $2",
        trainer.0,
        id
    )
    .fetch_one(pool)
    .await?;
    Ok(PlacedSlot {
        slot: Slot { id, intent: serde_json::from_value(row.intent)? },
        session: SessionHead {
            id: row.id,
            client_id: row.client_id,
            place_id: row.place_id,
            name: row.name,
            planned_on: row.planned_on,
            minutes: row.minutes,
        },
    })
}
