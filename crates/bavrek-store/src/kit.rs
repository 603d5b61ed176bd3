//! The kit of a place. Nothing is deleted: a removal is dated and can be undone.

use bavrek_core::kit::{KitItem, Place};
use uuid::Uuid;

use crate::clients::PlaceHead;
use crate::{Pool, StoreError, TrainerId};

/// A piece of kit with its identifier.
#[derive(Debug, Clone, PartialEq)]
pub struct Piece {
    /// Identifier.
    pub id: Uuid,
    /// What it is.
    pub item: KitItem,
}

/// The pieces at a place now, in the order they were added.
pub async fn pieces(pool: &Pool, trainer: TrainerId, place_id: Uuid) -> Result<Vec<Piece>, StoreError> {
    let rows = sqlx::query!(
        "select id, item from kit_items
         where trainer_id = $1 and place_id = $2 and removed_at is null order by position, id",
        trainer.0,
        place_id
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter().map(|row| Ok(Piece { id: row.id, item: serde_json::from_value(row.item)? })).collect()
}

/// The place as the computation sees it.
pub async fn place(pool: &Pool, trainer: TrainerId, head: &PlaceHead) -> Result<Place, StoreError> {
    let kit = pieces(pool, trainer, head.id).await?.into_iter().map(|p| p.item).collect();
    Ok(Place { name: head.name.clone(), kit })
}

/// Adds an item. The identifier comes from the form, so that sending it twice stores it once; `false` then.
pub async fn add(
    pool: &Pool,
    trainer: TrainerId,
    place_id: Uuid,
    id: Uuid,
    item: &KitItem,
) -> Result<bool, StoreError> {
    let done = sqlx::query!(
        "insert into kit_items (trainer_id, id, place_id, item, position)
         values ($1, $2, $3, $4, (select coalesce(max(position), 0) + 1 from kit_items where trainer_id = $1 and place_id = $3))
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        id,
        place_id,
        serde_json::to_value(item)?
    )
    .execute(pool)
    .await?;
    Ok(done.rows_affected() == 1)
}

/// Takes an item away, dated. Taking it away twice changes nothing.
pub async fn remove(pool: &Pool, trainer: TrainerId, place_id: Uuid, id: Uuid) -> Result<KitItem, StoreError> {
    let row = sqlx::query!(
        "update kit_items set removed_at = coalesce(removed_at, now())
         where trainer_id = $1 and place_id = $2 and id = $3 returning item",
        trainer.0,
        place_id,
        id
    )
    .fetch_one(pool)
    .await?;
    Ok(serde_json::from_value(row.item)?)
}

/// Brings a removed item back.
pub async fn restore(pool: &Pool, trainer: TrainerId, place_id: Uuid, id: Uuid) -> Result<KitItem, StoreError> {
    let row = sqlx::query!(
        "update kit_items set removed_at = null
         where trainer_id = $1 and place_id = $2 and id = $3 returning item",
        trainer.0,
        place_id,
        id
    )
    .fetch_one(pool)
    .await?;
    Ok(serde_json::from_value(row.item)?)
}

/// Puts another item in the place of one, dated like a removal and an addition, so that what was logged with the old
/// one stays explainable. Replacing it twice with the same identifier changes nothing.
pub async fn replace(
    pool: &Pool,
    trainer: TrainerId,
    place_id: Uuid,
    old: Uuid,
    new: Uuid,
    item: &KitItem,
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    let row = sqlx::query!(
        "update kit_items set removed_at = coalesce(removed_at, now())
         where trainer_id = $1 and place_id = $2 and id = $3 returning position",
        trainer.0,
        place_id,
        old
    )
    .fetch_one(&mut *tx)
    .await?;
    sqlx::query!(
        "insert into kit_items (trainer_id, id, place_id, item, position) values ($1, $2, $3, $4, $5)
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        new,
        place_id,
        serde_json::to_value(item)?,
        row.position
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(())
}
