//! Slots: what each is for. A slot that is taken out keeps its fits and its log.

use bavrek_core::plan::{BlockKind, Intent};
use sqlx::PgConnection;
use uuid::Uuid;

use crate::document;
use crate::health::{self, PlanChange, Whose};
use crate::sessions::{self, SessionHead};
use crate::{Pool, StoreError, TrainerId, new_id};

/// A slot.
#[derive(Debug, Clone, PartialEq)]
pub struct Slot {
    /// Identifier.
    pub id: Uuid,
    /// What it is for.
    pub intent: Intent,
    /// How often that was changed.
    pub version: i32,
}

/// A slot with the session it belongs to.
#[derive(Debug, Clone, PartialEq)]
pub struct PlacedSlot {
    /// The slot.
    pub slot: Slot,
    /// Its session.
    pub session: SessionHead,
}

/// Where a new slot goes.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Joining {
    /// At the end, on its own.
    Alone,
    /// Into a block, whose slots are done together so from now on.
    Block(Uuid, BlockKind),
}

pub(crate) async fn add_block(
    tx: &mut PgConnection,
    trainer: TrainerId,
    session: Uuid,
    position: i16,
    kind: BlockKind,
) -> Result<Uuid, StoreError> {
    let id = new_id();
    sqlx::query!(
        "insert into blocks (trainer_id, id, session_id, position, kind) values ($1, $2, $3, $4, $5)",
        trainer.0,
        id,
        session,
        position,
        kind.id()
    )
    .execute(tx)
    .await?;
    Ok(id)
}

pub(crate) async fn insert(
    tx: &mut PgConnection,
    trainer: TrainerId,
    block: Uuid,
    id: Uuid,
    position: i16,
    intent: &Intent,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into slots (trainer_id, id, block_id, position, intent) values ($1, $2, $3, $4, $5)
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        id,
        block,
        position,
        serde_json::to_value(intent)?
    )
    .execute(tx)
    .await?;
    Ok(())
}

/// Adds a slot to a session; sent twice it is stored once. `ClearanceNeeded` where the client's screening stops new
/// plans, `NotFound` where the block is not of this session.
pub async fn add(
    pool: &Pool,
    trainer: TrainerId,
    session: Uuid,
    id: Uuid,
    intent: &Intent,
    joining: Joining,
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    let row =
        sqlx::query!("select client_id from sessions where trainer_id = $1 and id = $2 for update", trainer.0, session)
            .fetch_one(&mut *tx)
            .await?;
    let known = sqlx::query!("select id from slots where trainer_id = $1 and id = $2", trainer.0, id);
    if known.fetch_optional(&mut *tx).await?.is_some() {
        return Ok(());
    }
    health::pass(&mut tx, trainer, Whose::Client(row.client_id), PlanChange::Hardens).await?;
    let block = match joining {
        Joining::Alone => {
            let next = sqlx::query!(
                r#"select (coalesce(max(position), -1) + 1)::smallint as "next!" from blocks where trainer_id = $1 and session_id = $2"#,
                trainer.0,
                session
            );
            let position = next.fetch_one(&mut *tx).await?.next;
            add_block(&mut tx, trainer, session, position, BlockKind::Straight).await?
        }
        Joining::Block(block, kind) => {
            let done = sqlx::query!(
                "update blocks set kind = $4 where trainer_id = $1 and session_id = $2 and id = $3",
                trainer.0,
                session,
                block,
                kind.id()
            );
            if done.execute(&mut *tx).await?.rows_affected() == 0 {
                return Err(StoreError::NotFound);
            }
            block
        }
    };
    let next = sqlx::query!(
        r#"select (coalesce(max(position), -1) + 1)::smallint as "next!" from slots where trainer_id = $1 and block_id = $2"#,
        trainer.0,
        block
    );
    let position = next.fetch_one(&mut *tx).await?.next;
    insert(&mut tx, trainer, block, id, position, intent).await?;
    tx.commit().await?;
    Ok(())
}

/// Changes what a slot is for; its fits stay. `Conflict` where it was changed since `version`, `ClearanceNeeded` where the
/// client's screening stops it.
pub async fn set_intent(
    pool: &Pool,
    trainer: TrainerId,
    id: Uuid,
    version: i32,
    intent: &Intent,
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    health::pass(&mut tx, trainer, Whose::Slot(id), PlanChange::Hardens).await?;
    let done = sqlx::query!(
        "update slots set intent = $4, version = version + 1
         where trainer_id = $1 and id = $2 and version = $3",
        trainer.0,
        id,
        version,
        serde_json::to_value(intent)?
    )
    .execute(&mut *tx)
    .await?;
    if done.rows_affected() != 1 {
        return Err(StoreError::Conflict);
    }
    tx.commit().await?;
    Ok(())
}

/// Takes a slot out of its session, or puts it back where it was; back it comes only where nothing waits for a clearance.
pub async fn set_removed(pool: &Pool, trainer: TrainerId, id: Uuid, removed: bool) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    let change = if removed { PlanChange::Eases } else { PlanChange::Hardens };
    health::pass(&mut tx, trainer, Whose::Slot(id), change).await?;
    sqlx::query!(
        "update slots set removed_at = case when $3 then coalesce(removed_at, now()) end
         where trainer_id = $1 and id = $2",
        trainer.0,
        id,
        removed
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(())
}

/// One slot with its session, taken out or not: the log still points to it.
pub async fn one(pool: &Pool, trainer: TrainerId, id: Uuid) -> Result<PlacedSlot, StoreError> {
    let mut connection = crate::connection(pool).await?;
    over(&mut connection, trainer, id).await
}

/// The same over a connection that is held already.
pub async fn over(connection: &mut PgConnection, trainer: TrainerId, id: Uuid) -> Result<PlacedSlot, StoreError> {
    let row = sqlx::query!(
        "select s.intent, s.version, b.session_id
         from slots s join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
         where s.trainer_id = $1 and s.id = $2",
        trainer.0,
        id
    )
    .fetch_one(&mut *connection)
    .await?;
    Ok(PlacedSlot {
        slot: Slot { id, intent: document::read(row.intent, "slots.intent", id)?, version: row.version },
        session: sessions::head(connection, trainer, row.session_id).await?,
    })
}
