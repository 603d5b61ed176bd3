//! Where clients train. A place that is put away or removed keeps its kit and its plans.

use bavrek_core::kit::{KitItem, Setting};
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::document::word;
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
    /// What it is; unknown for places of before.
    pub setting: Option<Setting>,
    /// Only thought about: the place it started from. It is offered nowhere until it is kept.
    pub proposal_of: Option<Uuid>,
}

impl PlaceHead {
    /// Whether it is no place yet, only thought about.
    pub const fn is_proposal(&self) -> bool {
        self.proposal_of.is_some()
    }
}

/// A row as it is read.
struct HeadRow {
    id: Uuid,
    client_id: Uuid,
    name: String,
    version: i32,
    archived: bool,
    removed: bool,
    setting: Option<String>,
    proposal_of: Option<Uuid>,
}

impl HeadRow {
    fn head(self) -> Result<PlaceHead, StoreError> {
        let Self { id, client_id, name, version, archived, removed, setting, proposal_of } = self;
        let setting = setting.as_deref().map(|s| word(s, Setting::from_id)).transpose()?;
        Ok(PlaceHead { id, client_id, name, version, archived, removed, setting, proposal_of })
    }
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
pub async fn add(
    pool: &Pool,
    trainer: TrainerId,
    client: Uuid,
    id: Uuid,
    name: &str,
    setting: Option<Setting>,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into places (trainer_id, id, client_id, name, setting) values ($1, $2, $3, $4, $5)
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        id,
        client,
        name,
        setting.map(Setting::id)
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Adds a place with the kit that another one holds now, checks of furniture left out: another room is looked at anew.
pub async fn copy(pool: &Pool, trainer: TrainerId, from: Uuid, id: Uuid, name: &str) -> Result<(), StoreError> {
    copy_with(pool, trainer, from, id, name, &[], None).await
}

/// Thinks about a place that is another one with more in it: the same room, so the checks of its furniture hold. It is a
/// proposal until it is kept, and the one that was thought about before goes.
pub async fn what_if(
    pool: &Pool,
    trainer: TrainerId,
    from: Uuid,
    id: Uuid,
    name: &str,
    more: &[KitItem],
) -> Result<(), StoreError> {
    copy_with(pool, trainer, from, id, name, more, Some(from)).await
}

async fn copy_with(
    pool: &Pool,
    trainer: TrainerId,
    from: Uuid,
    id: Uuid,
    name: &str,
    more: &[KitItem],
    proposal_of: Option<Uuid>,
) -> Result<(), StoreError> {
    let checked = proposal_of.is_some();
    let mut tx = pool.begin().await?;
    if checked {
        sqlx::query!(
            "update places set removed_at = now()
             where trainer_id = $1 and proposal_of = $2 and id <> $3 and removed_at is null",
            trainer.0,
            from,
            id
        )
        .execute(&mut *tx)
        .await?;
    }
    let done = sqlx::query!(
        "insert into places (trainer_id, id, client_id, name, setting, proposal_of)
         select trainer_id, $3, client_id, $4, setting, $5 from places where trainer_id = $1 and id = $2
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        from,
        id,
        name,
        proposal_of
    )
    .execute(&mut *tx)
    .await?;
    if done.rows_affected() == 1 {
        let kit = sqlx::query!(
            r#"select item, position, stability, travels, coalesce(piece, id) as "origin!" from kit_items
             where trainer_id = $1 and place_id = $2 and removed_at is null order by position, id"#,
            trainer.0,
            from
        )
        .fetch_all(&mut *tx)
        .await?;
        for piece in kit {
            sqlx::query!(
                "insert into kit_items (trainer_id, id, place_id, item, position, stability, travels, piece)
                 values ($1, $2, $3, $4, $5, $6, $7, $8)",
                trainer.0,
                new_id(),
                id,
                piece.item,
                piece.position,
                piece.stability.filter(|_| checked),
                piece.travels,
                // The room is the same, and so is what is in it.
                checked.then_some(piece.origin)
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

/// What a place is, for advice.
pub async fn set_setting(
    pool: &Pool,
    trainer: TrainerId,
    id: Uuid,
    setting: Option<Setting>,
) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update places set setting = $3 where trainer_id = $1 and id = $2",
        trainer.0,
        id,
        setting.map(Setting::id)
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// Keeps a place that was only thought about, under its name. Keeping it twice changes nothing.
pub async fn keep(pool: &Pool, trainer: TrainerId, id: Uuid, name: &str) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update places set name = case when proposal_of is null then name else $3 end, proposal_of = null,
                removed_at = case when proposal_of is null then removed_at end
         where trainer_id = $1 and id = $2",
        trainer.0,
        id,
        name
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// All places of a client that were not removed and are no mere proposals, those in use first, by name.
pub async fn of_client(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    client: Uuid,
) -> Result<Vec<PlaceHead>, StoreError> {
    let rows = sqlx::query_as!(
        HeadRow,
        r#"select id, client_id, name, version, archived_at is not null as "archived!",
                  removed_at is not null as "removed!", setting, proposal_of
           from places where trainer_id = $1 and client_id = $2 and removed_at is null and proposal_of is null
           order by archived_at is not null, name, id"#,
        trainer.0,
        client
    );
    rows.fetch_all(db).await?.into_iter().map(HeadRow::head).collect()
}

/// The places of a client that are in use, by name.
pub async fn in_use(db: impl PgExecutor<'_>, trainer: TrainerId, client: Uuid) -> Result<Vec<PlaceHead>, StoreError> {
    let mut places = of_client(db, trainer, client).await?;
    places.retain(|p| !p.archived);
    Ok(places)
}

/// A place with whose it is.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Owned {
    /// The place.
    pub id: Uuid,
    /// Its name.
    pub name: String,
    /// The client's name.
    pub client: String,
}

/// Places in use of clients whose names hold a text, by client and name, at most so many.
pub async fn found(pool: &Pool, trainer: TrainerId, text: &str, most: i64) -> Result<Vec<Owned>, StoreError> {
    let escaped = crate::like(text);
    let rows = sqlx::query_as!(
        Owned,
        "select p.id, p.name, c.name as client
         from places p join clients c on c.trainer_id = p.trainer_id and c.id = p.client_id
         where p.trainer_id = $1 and p.removed_at is null and p.archived_at is null and p.proposal_of is null
           and c.archived_at is null and c.name ilike '%' || $2 || '%'
         order by lower(c.name), p.name, p.id limit $3",
        trainer.0,
        escaped,
        most
    );
    Ok(rows.fetch_all(pool).await?)
}

/// The places of a client that are thought about and were neither kept nor dropped, newest first.
pub async fn proposals(pool: &Pool, trainer: TrainerId, client: Uuid) -> Result<Vec<PlaceHead>, StoreError> {
    let rows = sqlx::query_as!(
        HeadRow,
        r#"select id, client_id, name, version, archived_at is not null as "archived!",
                  removed_at is not null as "removed!", setting, proposal_of
           from places where trainer_id = $1 and client_id = $2 and removed_at is null and proposal_of is not null
           order by id desc"#,
        trainer.0,
        client
    );
    rows.fetch_all(pool).await?.into_iter().map(HeadRow::head).collect()
}

/// One place, whatever became of it.
pub async fn one(db: impl PgExecutor<'_>, trainer: TrainerId, id: Uuid) -> Result<PlaceHead, StoreError> {
    sqlx::query_as!(
        HeadRow,
        r#"select id, client_id, name, version, archived_at is not null as "archived!",
                  removed_at is not null as "removed!", setting, proposal_of
           from places where trainer_id = $1 and id = $2"#,
        trainer.0,
        id
    )
    .fetch_one(db)
    .await?
    .head()
}

/// Every place in use of every client, by client and place.
pub async fn all(pool: &Pool, trainer: TrainerId) -> Result<Vec<ClientPlace>, StoreError> {
    let rows = sqlx::query!(
        "select p.id, p.client_id, p.name, p.version, p.setting, c.name as client from places p
         join clients c on c.trainer_id = p.trainer_id and c.id = p.client_id
         where p.trainer_id = $1 and p.removed_at is null and p.archived_at is null and c.archived_at is null
           and p.proposal_of is null
         order by c.name, p.name, p.id",
        trainer.0
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|r| {
            let row = HeadRow {
                id: r.id,
                client_id: r.client_id,
                name: r.name,
                version: r.version,
                archived: false,
                removed: false,
                setting: r.setting,
                proposal_of: None,
            };
            Ok(ClientPlace { place: row.head()?, client: r.client })
        })
        .collect()
}
