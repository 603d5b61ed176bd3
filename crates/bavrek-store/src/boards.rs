//! The board of a session: its blocks and slots as they lie, and every state before, so that moves can be undone.

use std::collections::BTreeMap;

use bavrek_core::calendar::Turn;
use bavrek_core::dose::Prescription;
use bavrek_core::ladder::LadderStep;
use bavrek_core::method::Method;
use bavrek_core::plan::{BlockKind, Intent};
use serde::{Deserialize, Serialize};
use sqlx::types::Json;
use sqlx::{PgConnection, PgExecutor};
use uuid::Uuid;

use crate::health::{self, PlanChange, Whose};
use crate::own_schools::Follows;
use crate::{Pool, StoreError, TrainerId, document, sessions};

/// States that are kept; the oldest go.
const MOST_STATES: i32 = 60;

/// What lies there: the school and the blocks in order.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Layout {
    /// The school it follows; none where the trainer named none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub method: Option<Method>,
    /// The school of the trainer's own that it follows.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub follows: Option<Follows>,
    /// In order.
    pub blocks: Vec<LaidBlock>,
}

/// A block as it lies.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct LaidBlock {
    /// Identifier.
    pub id: Uuid,
    /// How its slots are done together.
    pub kind: BlockKind,
    /// In order.
    pub slots: Vec<LaidSlot>,
}

/// A slot as it lies.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct LaidSlot {
    /// Identifier.
    pub id: Uuid,
    /// What it is for, with its dose.
    pub intent: Intent,
    /// What is done there, by place.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub fits: BTreeMap<Uuid, LaidFit>,
}

/// What is done at a slot.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct LaidFit {
    /// The movement.
    pub exercise: String,
    /// Its step.
    pub step: LadderStep,
    /// Its dose, which a call that was taken may have changed since.
    pub prescription: Prescription,
    /// Whether it is pinned.
    pub pinned: bool,
    /// In which weeks it is done.
    #[serde(default = "usual")]
    pub turn: Turn,
}

/// What states of before say nothing about.
const fn usual() -> Turn {
    Turn::Usual
}

impl Layout {
    /// What lies there, with what is done.
    async fn now(db: &mut PgConnection, trainer: TrainerId, session: Uuid) -> Result<Self, StoreError> {
        let rows = sqlx::query!(
            r#"select f.slot_id as "slot_id!", f.place_id as "place_id!", f.exercise as "exercise!",
                      f.step as "step!: Json<LadderStep>", f.prescription as "prescription!: Json<Prescription>",
                      f.pinned as "pinned!", f.turn as "turn!"
               from session_days d, fits_for($1, $2, d.turn) f
               where d.trainer_id = $1 and d.session_id = $2"#,
            trainer.0,
            session
        );
        let mut fits: BTreeMap<Uuid, BTreeMap<Uuid, LaidFit>> = BTreeMap::new();
        for row in rows.fetch_all(&mut *db).await? {
            let (step, prescription) = (row.step.0, row.prescription.0);
            let turn = document::word(&row.turn, Turn::from_id)?;
            let fit = LaidFit { exercise: row.exercise, step, prescription, pinned: row.pinned, turn };
            fits.entry(row.slot_id).or_default().insert(row.place_id, fit);
        }
        let mut slot = |s: crate::slots::Slot| LaidSlot {
            fits: fits.remove(&s.id).unwrap_or_default(),
            id: s.id,
            intent: s.intent,
        };
        let blocks = sessions::blocks(&mut *db, trainer, session).await?;
        let laid = blocks.into_iter().map(|b| LaidBlock {
            id: b.id,
            kind: b.kind,
            slots: b.slots.into_iter().map(&mut slot).collect(),
        });
        let row = sqlx::query!(
            "select method, school_id, school_version from sessions where trainer_id = $1 and id = $2",
            trainer.0,
            session
        );
        let row = row.fetch_one(db).await?;
        let follows = Follows::of(row.school_id, row.school_version);
        let method = row.method.map(|m| document::word(&m, Method::from_id)).transpose()?;
        Ok(Self { method, follows, blocks: laid.collect() })
    }

    /// Whether another lies the same way, whatever is done there.
    fn lies_like(&self, other: &Self) -> bool {
        let bare = |layout: &Self| {
            let mut bare = layout.clone();
            bare.blocks.iter_mut().flat_map(|b| &mut b.slots).for_each(|s| s.fits.clear());
            bare
        };
        bare(self) == bare(other)
    }

    /// All slots, in order.
    pub fn slots(&self) -> impl Iterator<Item = &LaidSlot> {
        self.blocks.iter().flat_map(|b| &b.slots)
    }
}

/// Which state of a board stands, and what can be done about it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Standing {
    /// Its number, which a form carries.
    pub seq: i32,
    /// Whether there is one before.
    pub undo: bool,
    /// Whether there is one after, undone.
    pub redo: bool,
}

/// One step among the states of a board.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Step {
    /// To the one before.
    Undo,
    /// To the one after.
    Redo,
}

/// A change of a board.
#[derive(Debug, Clone, Copy)]
pub struct Change<'l> {
    /// The state that its form was filled in against.
    pub seen: i32,
    /// What lay there when the change was worked out.
    pub from: &'l Layout,
    /// Whether it eases the plan or adds to it.
    pub kind: PlanChange,
    /// What lies there from now on.
    pub layout: &'l Layout,
    /// A slot that is new, with the one it was copied from.
    pub copied: Option<(Uuid, Uuid)>,
}

/// Which state stands.
pub async fn standing(db: impl PgExecutor<'_>, trainer: TrainerId, session: Uuid) -> Result<Standing, StoreError> {
    let row = sqlx::query!(
        r#"select s.board, min(b.seq) as first, max(b.seq) as last
           from sessions s left join boards b on b.trainer_id = s.trainer_id and b.session_id = s.id
           where s.trainer_id = $1 and s.id = $2 group by s.board"#,
        trainer.0,
        session
    )
    .fetch_one(db)
    .await?;
    let undo = row.first.is_some_and(|first| first < row.board);
    let redo = row.last.is_some_and(|last| last > row.board);
    Ok(Standing { seq: row.board, undo, redo })
}

/// Lays a board anew. `Conflict` where it was changed since the form was filled in, `ClearanceNeeded` where the client's
/// screening stops it.
pub async fn lay(pool: &Pool, trainer: TrainerId, session: Uuid, change: Change<'_>) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    let board = locked(&mut tx, trainer, session, (change.seen, change.kind)).await?;
    let now = Layout::now(&mut tx, trainer, session).await?;
    // A slot that was added in this very moment would be taken out by a layout that does not know it.
    if !now.lies_like(change.from) {
        return Err(StoreError::Conflict);
    }
    // What was undone and not done again is gone with the next change.
    let board = remember(&mut tx, trainer, session, board, &now).await?;
    if let Some((new, from)) = change.copied {
        copy(&mut tx, trainer, (session, change.layout), new, from).await?;
    }
    apply(&mut tx, trainer, session, change.layout).await?;
    keep(&mut tx, trainer, session, board + 1, change.layout).await?;
    tx.commit().await?;
    Ok(())
}

/// Goes a step back or forth and says what lies there now. `NotFound` where there is no such state,
/// otherwise as [`lay`].
pub async fn step(pool: &Pool, trainer: TrainerId, session: Uuid, seen: i32, step: Step) -> Result<Layout, StoreError> {
    let mut tx = pool.begin().await?;
    let mut board = locked(&mut tx, trainer, session, (seen, PlanChange::Hardens)).await?;
    let now = Layout::now(&mut tx, trainer, session).await?;
    // What was changed on another page since is a state of its own, which ends what was undone before it.
    let left = remember_if_new(&mut tx, trainer, session, board, &now).await?;
    if step == Step::Redo && left != board {
        return Err(StoreError::NotFound);
    }
    board = left;
    let wanted = if step == Step::Undo { board - 1 } else { board + 1 };
    let row = sqlx::query!(
        "select layout from boards where trainer_id = $1 and session_id = $2 and seq = $3",
        trainer.0,
        session,
        wanted
    )
    .fetch_one(&mut *tx)
    .await?;
    let layout: Layout = document::read(row.layout, "boards.layout", session)?;
    apply(&mut tx, trainer, session, &layout).await?;
    stand(&mut tx, trainer, session, wanted).await?;
    tx.commit().await?;
    Ok(layout)
}

/// Keeps what is done now with the state that stands: after a change whose fits follow from it.
pub async fn settle(pool: &Pool, trainer: TrainerId, session: Uuid) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    let now = Layout::now(&mut tx, trainer, session).await?;
    sqlx::query!(
        "update boards b set layout = $3 from sessions s
         where s.trainer_id = $1 and s.id = $2 and b.trainer_id = $1 and b.session_id = $2 and b.seq = s.board",
        trainer.0,
        session,
        serde_json::to_value(&now)?
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(())
}

/// The state that stands, with the session held until the end of the transaction, if the change may pass.
async fn locked(
    tx: &mut PgConnection,
    trainer: TrainerId,
    session: Uuid,
    (seen, kind): (i32, PlanChange),
) -> Result<i32, StoreError> {
    let row = sqlx::query!(
        "select board, client_id from sessions where trainer_id = $1 and id = $2 for update",
        trainer.0,
        session
    )
    .fetch_one(&mut *tx)
    .await?;
    if row.board != seen {
        return Err(StoreError::Conflict);
    }
    health::pass(tx, trainer, Whose::Client(row.client_id), kind).await?;
    Ok(row.board)
}

/// Keeps what lies there as the state that stands, if it is not that already; returns its number.
async fn remember(
    tx: &mut PgConnection,
    trainer: TrainerId,
    session: Uuid,
    board: i32,
    now: &Layout,
) -> Result<i32, StoreError> {
    let board = remember_if_new(tx, trainer, session, board, now).await?;
    sqlx::query!(
        "delete from boards where trainer_id = $1 and session_id = $2 and (seq > $3 or seq <= $4)",
        trainer.0,
        session,
        board,
        board - MOST_STATES
    )
    .execute(tx)
    .await?;
    Ok(board)
}

async fn remember_if_new(
    tx: &mut PgConnection,
    trainer: TrainerId,
    session: Uuid,
    board: i32,
    now: &Layout,
) -> Result<i32, StoreError> {
    let row = sqlx::query!(
        "select layout from boards where trainer_id = $1 and session_id = $2 and seq = $3",
        trainer.0,
        session,
        board
    )
    .fetch_optional(&mut *tx)
    .await?;
    let kept = row.map(|r| document::read::<Layout>(r.layout, "boards.layout", session)).transpose()?;
    if kept.as_ref() == Some(now) {
        return Ok(board);
    }
    let seq = if kept.is_some() { board + 1 } else { board };
    sqlx::query!("delete from boards where trainer_id = $1 and session_id = $2 and seq >= $3", trainer.0, session, seq)
        .execute(&mut *tx)
        .await?;
    keep(tx, trainer, session, seq, now).await?;
    Ok(seq)
}

async fn keep(
    tx: &mut PgConnection,
    trainer: TrainerId,
    session: Uuid,
    seq: i32,
    layout: &Layout,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into boards (trainer_id, session_id, seq, layout) values ($1, $2, $3, $4)",
        trainer.0,
        session,
        seq,
        serde_json::to_value(layout)?
    )
    .execute(&mut *tx)
    .await?;
    stand(tx, trainer, session, seq).await
}

async fn stand(tx: &mut PgConnection, trainer: TrainerId, session: Uuid, seq: i32) -> Result<(), StoreError> {
    sqlx::query!("update sessions set board = $3 where trainer_id = $1 and id = $2", trainer.0, session, seq)
        .execute(tx)
        .await?;
    Ok(())
}

/// A slot like another, with its fits at every place.
async fn copy(
    tx: &mut PgConnection,
    trainer: TrainerId,
    (session, layout): (Uuid, &Layout),
    new: Uuid,
    from: Uuid,
) -> Result<(), StoreError> {
    let block = layout.blocks.iter().find(|b| b.slots.iter().any(|s| s.id == new)).ok_or(StoreError::NotFound)?;
    lay_blocks(tx, trainer, session, std::slice::from_ref(block)).await?;
    sqlx::query!(
        "insert into slots (trainer_id, id, block_id, position, intent)
         select trainer_id, $3, $4, 0, intent from slots where trainer_id = $1 and id = $2
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        from,
        new,
        block.id
    )
    .execute(&mut *tx)
    .await?;
    sqlx::query!(
        "insert into fits (trainer_id, id, slot_id, place_id, exercise, step, prescription, pinned, turn)
         select f.trainer_id, gen_random_uuid(), $3, f.place_id, f.exercise, f.step, f.prescription, f.pinned, f.turn
         from fits f
         where f.trainer_id = $1 and f.slot_id = $2 and f.replaced_at is null
           and not exists (select 1 from fits n where n.trainer_id = $1 and n.slot_id = $3)",
        trainer.0,
        from,
        new
    )
    .execute(tx)
    .await?;
    Ok(())
}

/// Makes the blocks of a session lie in this order. `NotFound` where one is another session's.
async fn lay_blocks(
    tx: &mut PgConnection,
    trainer: TrainerId,
    session: Uuid,
    blocks: &[LaidBlock],
) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "insert into blocks (trainer_id, id, session_id, position, kind)
         select $1, n.id, $2, n.position, n.kind from unnest($3::uuid[], $4::smallint[], $5::text[]) n (id, position, kind)
         on conflict (trainer_id, id) do update set position = excluded.position, kind = excluded.kind
         where blocks.session_id = excluded.session_id",
        trainer.0,
        session,
        &blocks.iter().map(|b| b.id).collect::<Vec<_>>(),
        &(0_i16..).take(blocks.len()).collect::<Vec<_>>(),
        &blocks.iter().map(|b| b.kind.id().to_owned()).collect::<Vec<_>>()
    )
    .execute(tx)
    .await?;
    if done.rows_affected() == blocks.len() as u64 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// Makes blocks and slots lie as a layout says; slots that it does not name are taken out.
async fn apply(tx: &mut PgConnection, trainer: TrainerId, session: Uuid, layout: &Layout) -> Result<(), StoreError> {
    sqlx::query!(
        "update sessions set method = $3, school_id = $4, school_version = $5, version = version + 1
         where trainer_id = $1 and id = $2
           and (method, school_id, school_version) is distinct from ($3::text, $4::uuid, $5::integer)",
        trainer.0,
        session,
        layout.method.map(Method::id),
        layout.follows.map(|f| f.id),
        layout.follows.map(|f| f.version)
    )
    .execute(&mut *tx)
    .await?;
    let named: Vec<Uuid> = layout.slots().map(|s| s.id).collect();
    sqlx::query!(
        "update slots s set removed_at = coalesce(s.removed_at, now())
         from blocks b
         where s.trainer_id = $1 and b.trainer_id = $1 and b.id = s.block_id and b.session_id = $2 and s.id <> all($3)",
        trainer.0,
        session,
        &named
    )
    .execute(&mut *tx)
    .await?;
    lay_blocks(tx, trainer, session, &layout.blocks).await?;
    lay_slots(tx, trainer, session, layout).await
}

/// Makes the slots of a layout lie in its blocks, in order. `NotFound` where one is not of the session.
async fn lay_slots(
    tx: &mut PgConnection,
    trainer: TrainerId,
    session: Uuid,
    layout: &Layout,
) -> Result<(), StoreError> {
    let (mut ids, mut within, mut positions, mut intents) = (Vec::new(), Vec::new(), Vec::new(), Vec::new());
    for block in &layout.blocks {
        for (position, slot) in (0_i16..).zip(&block.slots) {
            ids.push(slot.id);
            within.push(block.id);
            positions.push(position);
            intents.push(serde_json::to_value(&slot.intent)?);
        }
    }
    let done = sqlx::query!(
        "update slots s set block_id = n.block, position = n.position, removed_at = null, intent = n.intent,
                version = s.version + (s.intent is distinct from n.intent)::integer
         from blocks b, unnest($3::uuid[], $4::uuid[], $5::smallint[], $6::jsonb[]) n (id, block, position, intent)
         where s.trainer_id = $1 and s.id = n.id and b.trainer_id = $1 and b.id = s.block_id and b.session_id = $2",
        trainer.0,
        session,
        &ids,
        &within,
        &positions,
        &intents
    )
    .execute(tx)
    .await?;
    if done.rows_affected() == ids.len() as u64 { Ok(()) } else { Err(StoreError::NotFound) }
}
