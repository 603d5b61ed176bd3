//! The kit of a place. Nothing is deleted: additions, changes and removals are dated, and a removal can be undone.

use bavrek_core::kit::improvised::StabilityCheck;
use bavrek_core::kit::{KitItem, MOST_PIECES, PieceState, Place, Setting, tell_apart};
use chrono::{DateTime, NaiveDate, Utc};
use sqlx::{PgConnection, PgExecutor};
use uuid::Uuid;

use crate::document;
use crate::places::{ClientPlace, PlaceHead};
use crate::{Pool, StoreError, TrainerId};

/// A piece of kit with its identifier.
#[derive(Debug, Clone, PartialEq)]
pub struct Piece {
    /// Identifier of what is said of it now: a change has one of its own.
    pub id: Uuid,
    /// What stays the same however it is renamed or measured anew.
    pub origin: Uuid,
    /// What it is.
    pub item: KitItem,
    /// The answers about an improvised thing.
    pub stability: Option<StabilityCheck>,
    /// Whether it goes along wherever the client trains.
    pub travels: bool,
}

impl Piece {
    /// Whether it may be used: an improvised thing only after a check that it passed.
    pub fn usable(&self) -> bool {
        !self.item.improvised() || self.stability.is_some_and(StabilityCheck::passes)
    }

    /// What it is, told to be this piece where it is a band.
    pub fn into_item(self) -> KitItem {
        self.item.as_piece(Some(PieceState { piece: self.origin, state: self.id }))
    }
}

/// A piece with the days between which it was there.
#[derive(Debug, Clone, PartialEq)]
pub struct DatedPiece {
    /// The piece.
    pub piece: Piece,
    /// When it came.
    pub added_at: DateTime<Utc>,
    /// When it went.
    pub removed_at: Option<DateTime<Utc>>,
}

fn read(
    [id, origin]: [Uuid; 2],
    item: serde_json::Value,
    stability: Option<serde_json::Value>,
    travels: bool,
) -> Result<Piece, StoreError> {
    let stability = stability.map(|s| document::read(s, "kit_items.stability", id)).transpose()?;
    Ok(Piece { id, origin, item: document::read(item, "kit_items.item", id)?, stability, travels })
}

/// The pieces at a place now, in the order they were added.
pub async fn pieces(db: impl PgExecutor<'_>, trainer: TrainerId, place_id: Uuid) -> Result<Vec<Piece>, StoreError> {
    let rows = sqlx::query!(
        r#"select id, coalesce(piece, id) as "origin!", item, stability, travels from kit_items
         where trainer_id = $1 and place_id = $2 and removed_at is null order by position, id"#,
        trainer.0,
        place_id
    )
    .fetch_all(db)
    .await?;
    rows.into_iter().map(|row| read([row.id, row.origin], row.item, row.stability, row.travels)).collect()
}

/// The bands at every place in use of every client, by client and place.
pub async fn bands(pool: &Pool, trainer: TrainerId) -> Result<Vec<(ClientPlace, Piece)>, StoreError> {
    let rows = sqlx::query!(
        r#"select k.id, coalesce(k.piece, k.id) as "origin!", k.item, k.stability, k.travels, p.id as place_id, p.client_id,
                p.name, p.version, c.name as client
         from kit_items k
         join places p on p.trainer_id = k.trainer_id and p.id = k.place_id
         join clients c on c.trainer_id = p.trainer_id and c.id = p.client_id
         where k.trainer_id = $1 and k.removed_at is null and k.item->>'kind' in ('loop_band', 'tube_band')
           and p.removed_at is null and p.archived_at is null and c.archived_at is null and p.proposal_of is null
         order by c.name, p.name, p.id, k.position, k.id"#,
        trainer.0
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|row| {
            let place = PlaceHead {
                id: row.place_id,
                client_id: row.client_id,
                name: row.name,
                version: row.version,
                archived: false,
                removed: false,
                setting: None,
                proposal_of: None,
            };
            Ok((
                ClientPlace { place, client: row.client },
                read([row.id, row.origin], row.item, row.stability, row.travels)?,
            ))
        })
        .collect()
}

/// Every piece that a place ever had, the last changed first.
pub async fn history(pool: &Pool, trainer: TrainerId, place_id: Uuid) -> Result<Vec<DatedPiece>, StoreError> {
    let rows = sqlx::query!(
        r#"select id, coalesce(piece, id) as "origin!", item, stability, travels, added_at, removed_at from kit_items
         where trainer_id = $1 and place_id = $2
         order by coalesce(removed_at, added_at) desc, position, id"#,
        trainer.0,
        place_id
    )
    .fetch_all(pool)
    .await?;
    rows.into_iter()
        .map(|row| {
            let piece = read([row.id, row.origin], row.item, row.stability, row.travels)?;
            Ok(DatedPiece { piece, added_at: row.added_at, removed_at: row.removed_at })
        })
        .collect()
}

/// The pieces that were there at the end of a day.
pub fn on_day(history: &[DatedPiece], day: NaiveDate) -> Vec<Piece> {
    let there = |p: &&DatedPiece| {
        p.added_at.date_naive() <= day && p.removed_at.is_none_or(|removed| removed.date_naive() > day)
    };
    history.iter().filter(there).map(|p| p.piece.clone()).collect()
}

/// What comes along to a place from the client's other places, by where it stands: nothing that is at the place anyway,
/// and no door anchor where there is no door.
pub async fn along(
    pool: &Pool,
    trainer: TrainerId,
    head: &PlaceHead,
    here: &[Piece],
) -> Result<Vec<(String, Piece)>, StoreError> {
    Ok(of_use(travelling(pool, trainer, head).await?, head, here))
}

/// What travels with a client and does not stand at a place, with where it stands.
async fn travelling(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    head: &PlaceHead,
) -> Result<Vec<(String, Piece)>, StoreError> {
    let rows = sqlx::query!(
        r#"select k.id, coalesce(k.piece, k.id) as "origin!", k.item, k.stability, k.travels, p.name from kit_items k
         join places p on p.trainer_id = k.trainer_id and p.id = k.place_id
         where k.trainer_id = $1 and p.client_id = $2 and p.id <> $3 and k.travels and k.removed_at is null
           and p.removed_at is null and p.archived_at is null and p.proposal_of is null
         order by p.name, p.id, k.position, k.id"#,
        trainer.0,
        head.client_id,
        head.id
    )
    .fetch_all(db)
    .await?;
    rows.into_iter()
        .map(|row| Ok((row.name, read([row.id, row.origin], row.item, row.stability, row.travels)?)))
        .collect()
}

/// Of what travels what is of use at a place.
fn of_use(travelling: Vec<(String, Piece)>, head: &PlaceHead, here: &[Piece]) -> Vec<(String, Piece)> {
    let mut found: Vec<(String, Piece)> = Vec::new();
    for (from, piece) in travelling {
        let needs_door = matches!(&piece.item, KitItem::Anchor(a) if a.is_in_door());
        let useless = needs_door && head.setting == Some(Setting::Outdoors);
        let known = here.iter().chain(found.iter().map(|(_, p)| p)).any(|p| p.item == piece.item);
        if !(known || useless) {
            found.push((from, piece));
        }
    }
    found
}

/// The pieces at a place now and those that come along, for whoever trains there.
pub async fn at_hand(
    connection: &mut PgConnection,
    trainer: TrainerId,
    head: &PlaceHead,
) -> Result<Vec<Piece>, StoreError> {
    let mut pieces = pieces(&mut *connection, trainer, head.id).await?;
    let along = of_use(travelling(connection, trainer, head).await?, head, &pieces);
    pieces.extend(along.into_iter().map(|(_, piece)| piece));
    tell_apart(pieces.iter_mut().map(|p| &mut p.item));
    Ok(pieces)
}

/// The place as the computation sees it: what may be used, every band with the piece that it is.
pub async fn place(connection: &mut PgConnection, trainer: TrainerId, head: &PlaceHead) -> Result<Place, StoreError> {
    let pieces = at_hand(connection, trainer, head).await?;
    let kit = pieces.into_iter().filter(Piece::usable).map(Piece::into_item).collect();
    Ok(Place { name: head.name.clone(), setting: head.setting, kit })
}

/// Says whether a piece goes along wherever the client trains.
pub async fn set_travels(
    pool: &Pool,
    trainer: TrainerId,
    place_id: Uuid,
    id: Uuid,
    travels: bool,
) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update kit_items set travels = $4 where trainer_id = $1 and place_id = $2 and id = $3",
        trainer.0,
        place_id,
        id,
        travels
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// Adds an item. The identifier comes from the form, so that sending it twice stores it once; `false` then.
pub async fn add(
    pool: &Pool,
    trainer: TrainerId,
    place_id: Uuid,
    id: Uuid,
    item: &KitItem,
) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let done = sqlx::query!(
        "insert into kit_items (trainer_id, id, place_id, item, position)
         values ($1, $2, $3, $4, (select coalesce(max(position), 0) + 1 from kit_items where trainer_id = $1 and place_id = $3))
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        id,
        place_id,
        serde_json::to_value(item)?
    )
    .execute(&mut *tx)
    .await?;
    keep_within(&mut tx, trainer, place_id).await?;
    tx.commit().await?;
    Ok(done.rows_affected() == 1)
}

/// Refuses what makes a place hold more than [`MOST_PIECES`].
async fn keep_within(tx: &mut sqlx::PgConnection, trainer: TrainerId, place_id: Uuid) -> Result<(), StoreError> {
    let held = sqlx::query_scalar!(
        r#"select count(*) as "count!" from kit_items where trainer_id = $1 and place_id = $2 and removed_at is null"#,
        trainer.0,
        place_id
    )
    .fetch_one(tx)
    .await?;
    if usize::try_from(held).is_ok_and(|held| held <= MOST_PIECES) { Ok(()) } else { Err(StoreError::PlaceFull) }
}

/// Adds several items, all or nothing, under the given identifiers.
pub async fn add_all(
    pool: &Pool,
    trainer: TrainerId,
    place_id: Uuid,
    items: &[(Uuid, KitItem)],
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    for (id, item) in items {
        sqlx::query!(
            "insert into kit_items (trainer_id, id, place_id, item, position)
             values ($1, $2, $3, $4, (select coalesce(max(position), 0) + 1 from kit_items where trainer_id = $1 and place_id = $3))
             on conflict (trainer_id, id) do nothing",
            trainer.0,
            id,
            place_id,
            serde_json::to_value(item)?
        )
        .execute(&mut *tx)
        .await?;
    }
    keep_within(&mut tx, trainer, place_id).await?;
    tx.commit().await?;
    Ok(())
}

/// Stores the answers about an improvised thing.
pub async fn answer(
    pool: &Pool,
    trainer: TrainerId,
    place_id: Uuid,
    id: Uuid,
    check: StabilityCheck,
) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update kit_items set stability = $4 where trainer_id = $1 and place_id = $2 and id = $3",
        trainer.0,
        place_id,
        id,
        serde_json::to_value(check)?
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
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
    document::read(row.item, "kit_items.item", id)
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
    document::read(row.item, "kit_items.item", id)
}

/// Puts another item in the place of one, dated like a removal and an addition, so that what was logged with the old
/// one stays explainable; the answers about its stability go along. `Conflict` where the old one was changed or removed
/// in the meantime. Replacing it twice with the same identifier changes nothing.
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
        r#"select coalesce(piece, id) as "origin!", position, stability, travels, removed_at is not null as "removed!"
           from kit_items
           where trainer_id = $1 and place_id = $2 and id = $3 for update"#,
        trainer.0,
        place_id,
        old
    )
    .fetch_one(&mut *tx)
    .await?;
    let done = sqlx::query!(
        "insert into kit_items (trainer_id, id, place_id, item, position, stability, travels, piece)
         values ($1, $2, $3, $4, $5, $6, $7, $8)
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        new,
        place_id,
        serde_json::to_value(item)?,
        row.position,
        row.stability,
        row.travels,
        row.origin
    )
    .execute(&mut *tx)
    .await?;
    if done.rows_affected() == 0 {
        return Ok(());
    }
    if row.removed {
        return Err(StoreError::Conflict);
    }
    sqlx::query!(
        "update kit_items set removed_at = now() where trainer_id = $1 and place_id = $2 and id = $3",
        trainer.0,
        place_id,
        old
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(())
}
