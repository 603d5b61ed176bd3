//! Where clients train. A place that is put away or removed keeps its kit and its plans.

use bavrek_core::kit::KitItem;
use uuid::Uuid;

use crate::{Pool, StoreError, TrainerId, new_id};

/// A place of a client.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PlaceHead {
    /// Identifier.
    pub id: Uuid,
    /// Whose it is.
    pub client_id: Uuid,
    /// Its name.
    pub name: String,
    /// Rises with every change of the name.
    pub version: i32,
    /// Put away: kept for its plans, offered no more.
    pub archived: bool,
    /// Removed; it can come back.
    pub removed: bool,
}

/// A place with the name of the client who trains there.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ClientPlace {
    /// The place.
    pub place: PlaceHead,
    /// The client's name.
    pub client: String,
}

/// Adds a place to a client under the given identifier: the same one twice is stored once.
pub async fn add(pool: &Pool, trainer: TrainerId, client: Uuid, id: Uuid, name: &str) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into places (trainer_id, id, client_id, name) values ($1, $2, $3, $4)
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        id,
        client,
        name
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Adds a place with the kit that another one holds now, checks of furniture left out: another room is looked at anew.
pub async fn copy(pool: &Pool, trainer: TrainerId, from: Uuid, id: Uuid, name: &str) -> Result<(), StoreError> {
    copy_with(pool, trainer, from, id, name, &[], false).await
}

/// Adds a place that is another one with more in it: the same room, so the checks of its furniture hold.
pub async fn what_if(
    pool: &Pool,
    trainer: TrainerId,
    from: Uuid,
    id: Uuid,
    name: &str,
    more: &[KitItem],
) -> Result<(), StoreError> {
    copy_with(pool, trainer, from, id, name, more, true).await
}

async fn copy_with(
    pool: &Pool,
    trainer: TrainerId,
    from: Uuid,
    id: Uuid,
    name: &str,
    more: &[KitItem],
    checked: bool,
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    let done = sqlx::query!(
        "insert into places (trainer_id, id, client_id, name)
         select trainer_id, $3, client_id, $4 from places where trainer_id = $1 and id = $2
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        from,
        id,
        name
    )
    .execute(&mut *tx)
    .await?;
    if done.rows_affected() == 1 {
        let kit = sqlx::query!(
            "select item, position, stability from kit_items
             where trainer_id = $1 and place_id = $2 and removed_at is null order by position, id",
            trainer.0,
            from
        )
        .fetch_all(&mut *tx)
        .await?;
        for piece in kit {
            sqlx::query!(
                "insert into kit_items (trainer_id, id, place_id, item, position, stability)
                 values ($1, $2, $3, $4, $5, $6)",
                trainer.0,
                new_id(),
                id,
                piece.item,
                piece.position,
                piece.stability.filter(|_| checked)
            )
            .execute(&mut *tx)
            .await?;
        }
        for item in more {
            sqlx::query!(
                "insert into kit_items (trainer_id, id, place_id, item, position)
                 values ($1, $2, $3, $4, (select coalesce(max(position), 0) + 1 from kit_items
                                          where trainer_id = $1 and place_id = $3))",
                trainer.0,
                new_id(),
                id,
                serde_json::to_value(item)?
            )
            .execute(&mut *tx)
            .await?;
        }
    }
    tx.commit().await?;
    Ok(())
}

/// Names a place anew. `Conflict` where it was changed since `version`.
pub async fn rename(pool: &Pool, trainer: TrainerId, id: Uuid, version: i32, name: &str) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update places set name = $4, version = version + 1 where trainer_id = $1 and id = $2 and version = $3",
        trainer.0,
        id,
        version,
        name
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 {
        return Ok(());
    }
    one(pool, trainer, id).await?;
    Err(StoreError::Conflict)
}

/// Puts a place away for new plans, or takes it out again.
pub async fn set_archived(pool: &Pool, trainer: TrainerId, id: Uuid, archived: bool) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update places set archived_at = case when $3 then coalesce(archived_at, now()) end
         where trainer_id = $1 and id = $2",
        trainer.0,
        id,
        archived
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// Removes a place that no session uses, `Conflict` where one does. It can be brought back.
pub async fn remove(pool: &Pool, trainer: TrainerId, id: Uuid) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update places p set removed_at = coalesce(removed_at, now()) where trainer_id = $1 and id = $2
           and not exists (select 1 from sessions s
             where s.trainer_id = p.trainer_id and s.place_id = p.id and s.removed_at is null)",
        trainer.0,
        id
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 {
        return Ok(());
    }
    one(pool, trainer, id).await?;
    Err(StoreError::Conflict)
}

/// Brings a removed place back.
pub async fn restore(pool: &Pool, trainer: TrainerId, id: Uuid) -> Result<(), StoreError> {
    let done = sqlx::query!("update places set removed_at = null where trainer_id = $1 and id = $2", trainer.0, id)
        .execute(pool)
        .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// All places of a client that were not removed, those in use first, by name.
pub async fn of_client(pool: &Pool, trainer: TrainerId, client: Uuid) -> Result<Vec<PlaceHead>, StoreError> {
    Ok(sqlx::query_as!(
        PlaceHead,
        r#"select id, client_id, name, version, archived_at is not null as "archived!",
                  removed_at is not null as "removed!"
           from places where trainer_id = $1 and client_id = $2 and removed_at is null
           order by archived_at is not null, name, id"#,
        trainer.0,
        client
    )
    .fetch_all(pool)
    .await?)
}

/// One place, whatever became of it.
pub async fn one(pool: &Pool, trainer: TrainerId, id: Uuid) -> Result<PlaceHead, StoreError> {
    Ok(sqlx::query_as!(
        PlaceHead,
        r#"select id, client_id, name, version, archived_at is not null as "archived!",
                  removed_at is not null as "removed!"
           from places where trainer_id = $1 and id = $2"#,
        trainer.0,
        id
    )
    .fetch_one(pool)
    .await?)
}

/// Every place in use of every client, by client and place.
pub async fn all(pool: &Pool, trainer: TrainerId) -> Result<Vec<ClientPlace>, StoreError> {
    let rows = sqlx::query!(
        "select p.id, p.client_id, p.name, p.version, c.name as client from places p
         join clients c on c.trainer_id = p.trainer_id and c.id = p.client_id
         where p.trainer_id = $1 and p.removed_at is null and p.archived_at is null and c.archived_at is null
         order by c.name, p.name, p.id",
        trainer.0
    )
    .fetch_all(pool)
    .await?;
    Ok(rows
        .into_iter()
        .map(|r| ClientPlace {
            place: PlaceHead {
                id: r.id,
                client_id: r.client_id,
                name: r.name,
                version: r.version,
                archived: false,
                removed: false,
            },
            client: r.client,
        })
        .collect())
}
