//! Planned sessions: blocks and slots, each slot with its intent.

use bavrek_core::calendar::Turn;
use bavrek_core::method::Method;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::script::WorkoutState;
use chrono::NaiveDate;
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::document;
use crate::document::word;
use crate::health::{self, PlanChange, Whose};
use crate::own_schools::Follows;
use crate::slots::{self, Slot};
use crate::{Pool, StoreError, TrainerId, new_id};

/// A session's head.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SessionHead {
    /// Identifier.
    pub id: Uuid,
    /// Whose it is.
    pub client_id: Uuid,
    /// Where it is on that day.
    pub place_id: Uuid,
    /// Its name.
    pub name: String,
    /// The next day on which it is planned, else the last there was.
    pub planned_on: NaiveDate,
    /// How far the workout of that day is.
    pub state: WorkoutState,
    /// Which of its lines' fits are done on that day.
    pub turn: Turn,
    /// Whether that lies in a lighter week.
    pub light: bool,
    /// Minutes there are.
    pub minutes: i16,
    /// The school it follows; none where the trainer named none.
    pub method: Option<Method>,
    /// The school of the trainer's own that it follows, made from that one.
    pub follows: Option<Follows>,
    /// How often it was changed.
    pub version: i32,
}

/// A session's head as a row.
struct HeadRow {
    id: Uuid,
    client_id: Uuid,
    place_id: Uuid,
    name: String,
    planned_on: NaiveDate,
    state: String,
    turn: String,
    light: bool,
    minutes: i16,
    method: Option<String>,
    school_id: Option<Uuid>,
    school_version: Option<i32>,
    version: i32,
}

impl TryFrom<HeadRow> for SessionHead {
    type Error = StoreError;

    fn try_from(row: HeadRow) -> Result<Self, StoreError> {
        let HeadRow { id, client_id, place_id, name, planned_on, state, turn, light, minutes, method, version, .. } =
            row;
        let turn = word(&turn, Turn::from_id)?;
        let follows = Follows::of(row.school_id, row.school_version);
        let state = word(&state, WorkoutState::from_id)?;
        let method = method.map(|m| word(&m, Method::from_id)).transpose()?;
        Ok(Self { id, client_id, place_id, name, planned_on, state, turn, light, minutes, method, follows, version })
    }
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

/// Adds a session with its blocks and slots, all or nothing; returns its identifier and those of the slots in order.
/// Sent twice it is stored once. `ClearanceNeeded` where the client's screening stops new plans.
pub async fn add(
    pool: &Pool,
    trainer: TrainerId,
    head: &SessionHead,
    blocks: &[(BlockKind, Vec<Intent>)],
) -> Result<(Uuid, Vec<Uuid>), StoreError> {
    let mut tx = pool.begin().await?;
    health::pass(&mut tx, trainer, Whose::Client(head.client_id), PlanChange::Hardens).await?;
    let Some(slots) = insert(&mut tx, trainer, head, blocks).await? else {
        tx.rollback().await?;
        let slots = self::blocks(pool, trainer, head.id).await?;
        return Ok((head.id, slots.into_iter().flat_map(|b| b.slots).map(|s| s.id).collect()));
    };
    tx.commit().await?;
    Ok((head.id, slots))
}

/// The same within a transaction; none where a session of that identifier is there already.
pub(crate) async fn insert(
    tx: &mut sqlx::PgConnection,
    trainer: TrainerId,
    head: &SessionHead,
    blocks: &[(BlockKind, Vec<Intent>)],
) -> Result<Option<Vec<Uuid>>, StoreError> {
    let done = sqlx::query!(
        "insert into sessions (trainer_id, id, client_id, place_id, name, minutes, method, school_id, school_version)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9) on conflict (trainer_id, id) do nothing",
        trainer.0,
        head.id,
        head.client_id,
        head.place_id,
        head.name,
        head.minutes,
        head.method.map(Method::id),
        head.follows.map(|f| f.id),
        head.follows.map(|f| f.version)
    )
    .execute(&mut *tx)
    .await?;
    if done.rows_affected() == 0 {
        return Ok(None);
    }
    sqlx::query!(
        "insert into workouts (trainer_id, id, session_id, place_id, planned_on) values ($1, $2, $3, $4, $5)",
        trainer.0,
        new_id(),
        head.id,
        head.place_id,
        head.planned_on
    )
    .execute(&mut *tx)
    .await?;
    let mut slots = Vec::new();
    for (i, (kind, intents)) in blocks.iter().enumerate() {
        let block_id = slots::add_block(tx, trainer, head.id, i as i16, *kind).await?;
        for (j, intent) in intents.iter().enumerate() {
            let slot_id = new_id();
            slots::insert(tx, trainer, block_id, slot_id, j as i16, intent).await?;
            slots.push(slot_id);
        }
    }
    Ok(Some(slots))
}

/// Changes name, day, minutes and school of a session; where it takes place is a re-fit. The day is that of its open
/// workout; one that is done keeps its day, and another day is another workout. `Conflict` where it was changed since the
/// version that the head carries, or where another workout of it stands on that day.
pub async fn change(pool: &Pool, trainer: TrainerId, head: &SessionHead) -> Result<(), StoreError> {
    let stored = self::head(pool, trainer, head.id).await?;
    let mut tx = pool.begin().await?;
    let change = if stored.planned_on == head.planned_on { PlanChange::Eases } else { PlanChange::Hardens };
    health::pass(&mut tx, trainer, Whose::Client(stored.client_id), change).await?;
    // Another school than the one that an own one was made from ends that one.
    let done = sqlx::query!(
        "update sessions set name = $3, minutes = $4, method = $5, version = version + 1,
                school_id = case when method is not distinct from $5 then school_id end,
                school_version = case when method is not distinct from $5 then school_version end
         where trainer_id = $1 and id = $2 and version = $6",
        trainer.0,
        head.id,
        head.name,
        head.minutes,
        head.method.map(Method::id),
        head.version
    )
    .execute(&mut *tx)
    .await?;
    if done.rows_affected() != 1 {
        return Err(StoreError::Conflict);
    }
    if stored.planned_on != head.planned_on && stored.state.is_open() {
        sqlx::query!(
            "update workouts set planned_on = $4, moved_from = coalesce(moved_from, planned_on)
             where trainer_id = $1 and session_id = $2 and planned_on = $3",
            trainer.0,
            head.id,
            stored.planned_on,
            head.planned_on
        )
        .execute(&mut *tx)
        .await?;
    } else if stored.planned_on != head.planned_on {
        sqlx::query!(
            "insert into workouts (trainer_id, id, session_id, place_id, planned_on)
             select trainer_id, $2, id, place_id, $4 from sessions where trainer_id = $1 and id = $3",
            trainer.0,
            new_id(),
            head.id,
            head.planned_on
        )
        .execute(&mut *tx)
        .await?;
    }
    tx.commit().await?;
    Ok(())
}

/// Takes a session out of the plan, or puts it back; back it comes only where nothing waits for a clearance. What was
/// logged in it stays.
pub async fn set_removed(pool: &Pool, trainer: TrainerId, id: Uuid, removed: bool) -> Result<(), StoreError> {
    let client = head(pool, trainer, id).await?.client_id;
    let mut tx = pool.begin().await?;
    let change = if removed { PlanChange::Eases } else { PlanChange::Hardens };
    health::pass(&mut tx, trainer, Whose::Client(client), change).await?;
    sqlx::query!(
        "update sessions set removed_at = case when $3 then coalesce(removed_at, now()) end
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

/// One session's head, taken out or not.
pub async fn head(db: impl PgExecutor<'_>, trainer: TrainerId, id: Uuid) -> Result<SessionHead, StoreError> {
    sqlx::query_as!(
        HeadRow,
        r#"select s.id, s.client_id, d.place_id as "place_id!", s.name, d.planned_on as "planned_on!", d.state as "state!",
                  d.turn as "turn!", d.light as "light!", s.minutes,
                  s.method, s.school_id, s.school_version, s.version
           from sessions s join session_days d on d.trainer_id = s.trainer_id and d.session_id = s.id
           where s.trainer_id = $1 and s.id = $2"#,
        trainer.0,
        id
    )
    .fetch_one(db)
    .await?
    .try_into()
}

/// A head with the place, turn and weight of the workout that was begun on a day, where one was; what is next may differ.
pub async fn as_begun(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    head: SessionHead,
    on: NaiveDate,
) -> Result<SessionHead, StoreError> {
    on_day(db, trainer, head, (on, false)).await
}

/// The same of any workout that stands on a day, begun or still to come.
pub async fn as_planned(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    head: SessionHead,
    on: NaiveDate,
) -> Result<SessionHead, StoreError> {
    Ok(SessionHead { planned_on: on, ..on_day(db, trainer, head, (on, true)).await? })
}

async fn on_day(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    head: SessionHead,
    (on, to_come): (NaiveDate, bool),
) -> Result<SessionHead, StoreError> {
    let row = sqlx::query!(
        "select place_id, turn, light from workouts
         where trainer_id = $1 and session_id = $2 and planned_on = $3 and ($4 or state in ('under_way', 'done'))",
        trainer.0,
        head.id,
        on,
        to_come
    );
    let Some(row) = row.fetch_optional(db).await? else { return Ok(head) };
    Ok(SessionHead { place_id: row.place_id, turn: word(&row.turn, Turn::from_id)?, light: row.light, ..head })
}

/// A client's sessions by day.
pub async fn of_client(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    client_id: Uuid,
) -> Result<Vec<SessionHead>, StoreError> {
    let rows = sqlx::query_as!(
        HeadRow,
        r#"select s.id, s.client_id, d.place_id as "place_id!", s.name, d.planned_on as "planned_on!", d.state as "state!",
                  d.turn as "turn!", d.light as "light!", s.minutes,
                  s.method, s.school_id, s.school_version, s.version
           from sessions s join session_days d on d.trainer_id = s.trainer_id and d.session_id = s.id
           where s.trainer_id = $1 and s.client_id = $2 and s.removed_at is null order by d.planned_on, s.id"#,
        trainer.0,
        client_id
    );
    rows.fetch_all(db).await?.into_iter().map(TryInto::try_into).collect()
}

/// The sessions at a place by day.
pub async fn at_place(pool: &Pool, trainer: TrainerId, place_id: Uuid) -> Result<Vec<SessionHead>, StoreError> {
    let rows = sqlx::query_as!(
        HeadRow,
        r#"select s.id, s.client_id, d.place_id as "place_id!", s.name, d.planned_on as "planned_on!", d.state as "state!",
                  d.turn as "turn!", d.light as "light!", s.minutes,
                  s.method, s.school_id, s.school_version, s.version
           from sessions s join session_days d on d.trainer_id = s.trainer_id and d.session_id = s.id
           where s.trainer_id = $1 and s.place_id = $2 and s.removed_at is null order by d.planned_on, s.id"#,
        trainer.0,
        place_id
    );
    rows.fetch_all(pool).await?.into_iter().map(TryInto::try_into).collect()
}

/// The blocks of a session with their slots, in order.
pub async fn blocks(db: impl PgExecutor<'_>, trainer: TrainerId, session_id: Uuid) -> Result<Vec<Block>, StoreError> {
    let rows = sqlx::query!(
        "select b.id as block_id, b.kind, s.id as slot_id, s.intent, s.version
         from blocks b join slots s on s.trainer_id = b.trainer_id and s.block_id = b.id
         where b.trainer_id = $1 and b.session_id = $2 and s.removed_at is null
         order by b.position, b.id, s.position, s.id",
        trainer.0,
        session_id
    )
    .fetch_all(db)
    .await?;
    let mut blocks: Vec<Block> = Vec::new();
    for row in rows {
        let slot = Slot {
            id: row.slot_id,
            intent: document::read(row.intent, "slots.intent", row.slot_id)?,
            version: row.version,
        };
        match blocks.last_mut().filter(|b| b.id == row.block_id) {
            Some(block) => block.slots.push(slot),
            None => {
                blocks.push(Block { id: row.block_id, kind: word(&row.kind, BlockKind::from_id)?, slots: vec![slot] });
            }
        }
    }
    Ok(blocks)
}
