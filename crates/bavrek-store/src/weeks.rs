//! Proposed weeks, kept as they were shown until they are taken.

use bavrek_core::anatomy::Region;
use bavrek_core::calendar::Turn;
use bavrek_core::dose::Prescription;
use bavrek_core::ladder::LadderStep;
use bavrek_core::method::Method;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::script::WorkoutState;
use bavrek_core::template::TemplateWeeks;
use bavrek_core::week::Wish;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use sqlx::PgConnection;
use uuid::Uuid;

use crate::boards::{Standing, Step};
use crate::fits::{self, NewFit};
use crate::health::{self, PlanChange, Whose};
use crate::own_schools::Follows;
use crate::sessions::{self, SessionHead};
use crate::slots;
use crate::{Pool, StoreError, TrainerId, document, new_id};

/// A day on which is trained.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct AskedDay {
    /// Where.
    pub place: Uuid,
    /// How long, minutes.
    pub minutes: u16,
    /// 1 Monday to 7 Sunday.
    pub weekday: u8,
}

/// What was asked.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Asked {
    /// The days in order.
    pub days: Vec<AskedDay>,
    /// The school, or the one that the trainer's own is made from.
    pub method: Method,
    /// The trainer's own school.
    pub follows: Option<Follows>,
    /// How it differs from the plain proposal.
    pub wish: Wish,
}

/// A line of a day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct DraftLine {
    /// The slot that it is, or becomes when the week is taken.
    #[serde(default = "new_id")]
    pub slot: Uuid,
    /// What it is for, with its dose.
    pub intent: Intent,
    /// What does it; nothing where the room has nothing for it.
    #[serde(flatten)]
    pub done: Option<DraftFit>,
    /// The sets on that step.
    pub dose: Prescription,
    /// Repetitions that are expected, where they are counted.
    pub expected: Option<u16>,
    /// Whether it stays when the rest is proposed anew.
    #[serde(default)]
    pub pinned: bool,
    /// Whether it stands like this already: dose and fit are left as they are by the time it is taken.
    #[serde(default)]
    pub kept: bool,
}

/// What does a line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct DraftFit {
    /// The movement.
    pub exercise: String,
    /// The step it begins on.
    pub step: LadderStep,
}

/// A day of a week.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct DraftDay {
    /// The session that it is, or becomes when the week is taken.
    #[serde(default = "new_id")]
    pub session: Uuid,
    /// What that is called; by its day and place where nobody said.
    #[serde(default)]
    pub name: Option<String>,
    /// Its blocks.
    pub blocks: Vec<(BlockKind, Vec<DraftLine>)>,
    /// How long it takes, s.
    pub seconds: f64,
}

impl DraftDay {
    /// Its lines in order.
    pub fn lines(&self) -> impl Iterator<Item = &DraftLine> {
        self.blocks.iter().flat_map(|(_, lines)| lines)
    }
}

/// A session that a week was opened from, as it stood then.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Opened {
    /// The session.
    pub session: Uuid,
    /// How often it was changed, and the state of its board.
    pub version: i32,
    /// See `version`.
    pub board: i32,
}

/// Hard sets of a region in the week.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct DraftSets {
    /// The region.
    pub region: Region,
    /// By direct work, and by assisting.
    pub direct: f64,
    /// See `direct`.
    pub assisting: f64,
    /// Least and most that its aim asks.
    pub aim: [f64; 2],
}

/// What is not met.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct DraftUnmet {
    /// The region.
    pub region: Region,
    /// What it has of what it should have at least.
    pub sets: f64,
    /// See `sets`.
    pub least: f64,
    /// What stands in the way.
    pub why: String,
}

/// A week as it was proposed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Draft {
    /// What was asked.
    pub asked: Asked,
    /// The days in the same order.
    pub days: Vec<DraftDay>,
    /// By region.
    pub sets: Vec<DraftSets>,
    /// The most short first.
    pub unmet: Vec<DraftUnmet>,
    /// Its value, and the most that was possible.
    pub objective: f64,
    /// See `objective`.
    pub bound: f64,
    /// Sets that push, and sets that pull.
    pub balance: [usize; 2],
    /// Whether it was moved by hand since it was proposed: value and bound are those of the proposal then.
    #[serde(default)]
    pub by_hand: bool,
    /// The sessions it was opened from, where it is of what stands already.
    #[serde(default)]
    pub opened: Vec<Opened>,
    /// What is to be known of how it came about, in sentences.
    #[serde(default)]
    pub notes: Vec<String>,
    /// How it is to go on over weeks, where it came from such a template.
    #[serde(default)]
    pub weeks: Option<TemplateWeeks>,
}

impl Draft {
    /// All lines in order.
    pub fn lines(&self) -> impl Iterator<Item = &DraftLine> {
        self.days.iter().flat_map(DraftDay::lines)
    }
}

/// A draft on record.
#[derive(Debug, Clone, PartialEq)]
pub struct Kept {
    /// Whose week it is.
    pub client_id: Uuid,
    /// The week.
    pub draft: Draft,
    /// Whether its sessions were made.
    pub taken: bool,
    /// The sessions that went out of the plan for it.
    pub instead: Vec<Uuid>,
    /// Which of its states stands.
    pub standing: Standing,
}

/// Keeps a proposal. Sent twice it is kept once; those of the client that nobody took within a month go.
pub async fn keep(pool: &Pool, trainer: TrainerId, client: Uuid, id: Uuid, draft: &Draft) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    sqlx::query!(
        "delete from weeks where trainer_id = $1 and client_id = $2 and taken_at is null
         and made_at < now() - interval '30 days'",
        trainer.0,
        client
    )
    .execute(&mut *tx)
    .await?;
    sqlx::query!(
        "insert into weeks (trainer_id, id, client_id, draft) values ($1, $2, $3, $4)
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        id,
        client,
        serde_json::to_value(draft)?
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(())
}

/// A proposal. `NotFound` where it is not this trainer's.
pub async fn one(pool: &Pool, trainer: TrainerId, id: Uuid) -> Result<Kept, StoreError> {
    let row = sqlx::query!(
        r#"select w.client_id, w.draft, w.taken_at is not null as "taken!", w.instead, w.seq,
                  (select max(s.seq) from week_states s where s.trainer_id = w.trainer_id and s.week_id = w.id) as last
           from weeks w where w.trainer_id = $1 and w.id = $2"#,
        trainer.0,
        id
    )
    .fetch_one(pool)
    .await?;
    let draft = document::read(row.draft, "weeks.draft", id)?;
    let standing = Standing { seq: row.seq, undo: row.seq > 0, redo: row.last.is_some_and(|last| last > row.seq) };
    Ok(Kept { client_id: row.client_id, draft, taken: row.taken, instead: row.instead, standing })
}

/// The state before the one that stands; none of a week that nobody moved.
pub async fn before(pool: &Pool, trainer: TrainerId, id: Uuid, seq: i32) -> Result<Option<Draft>, StoreError> {
    let row = sqlx::query!(
        "select draft from week_states where trainer_id = $1 and week_id = $2 and seq = $3",
        trainer.0,
        id,
        seq - 1
    );
    let row = row.fetch_optional(pool).await?;
    row.map(|row| document::read(row.draft, "week_states.draft", id)).transpose()
}

/// Holds a week until the end of the transaction. `Conflict` where another state of it stands than was seen, or it was taken.
async fn hold(tx: &mut PgConnection, trainer: TrainerId, id: Uuid, seen: i32) -> Result<(), StoreError> {
    let row = sqlx::query!(
        r#"select seq, taken_at is not null as "taken!" from weeks where trainer_id = $1 and id = $2 for update"#,
        trainer.0,
        id
    )
    .fetch_one(tx)
    .await?;
    if row.seq != seen || row.taken { Err(StoreError::Conflict) } else { Ok(()) }
}

/// States that are kept of a week; the oldest go.
const MOST_STATES: i32 = 80;

/// Lays a week anew, what was undone before is gone. `Conflict` where another state of it stands than was seen, or it was
/// taken.
pub async fn lay(pool: &Pool, trainer: TrainerId, id: Uuid, seen: i32, draft: &Draft) -> Result<(), StoreError> {
    let draft = serde_json::to_value(draft)?;
    let mut tx = pool.begin().await?;
    hold(&mut tx, trainer, id, seen).await?;
    // The state that stands is kept as it stands: the first of all was in no list yet.
    sqlx::query!(
        "with gone as (
           delete from week_states where trainer_id = $1 and week_id = $2 and (seq > $3 or seq < $3 - $4::integer))
         insert into week_states (trainer_id, week_id, seq, draft)
         select trainer_id, id, seq, draft from weeks where trainer_id = $1 and id = $2
         on conflict (trainer_id, week_id, seq) do nothing",
        trainer.0,
        id,
        seen,
        MOST_STATES
    )
    .execute(&mut *tx)
    .await?;
    sqlx::query!(
        "with laid as (
           insert into week_states (trainer_id, week_id, seq, draft) values ($1, $2, $3, $4) returning seq, draft)
         update weeks set draft = laid.draft, seq = laid.seq from laid where trainer_id = $1 and id = $2",
        trainer.0,
        id,
        seen + 1,
        draft
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(())
}

/// Goes a step back or forth. `NotFound` where there is no such state, otherwise as [`lay`].
pub async fn step(pool: &Pool, trainer: TrainerId, id: Uuid, seen: i32, step: Step) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    hold(&mut tx, trainer, id, seen).await?;
    let wanted = if step == Step::Undo { seen - 1 } else { seen + 1 };
    let done = sqlx::query!(
        "update weeks w set draft = s.draft, seq = s.seq from week_states s
         where w.trainer_id = $1 and w.id = $2 and s.trainer_id = $1 and s.week_id = $2 and s.seq = $3",
        trainer.0,
        id,
        wanted
    )
    .execute(&mut *tx)
    .await?;
    if done.rows_affected() != 1 {
        return Err(StoreError::NotFound);
    }
    tx.commit().await?;
    Ok(())
}

/// What the client was last proposed, to begin from.
pub async fn latest(pool: &Pool, trainer: TrainerId, client: Uuid) -> Result<Option<Asked>, StoreError> {
    let row = sqlx::query!(
        "select id, draft from weeks where trainer_id = $1 and client_id = $2 order by made_at desc, id desc limit 1",
        trainer.0,
        client
    )
    .fetch_optional(pool)
    .await?;
    row.map(|row| Ok(document::read::<Draft>(row.draft, "weeks.draft", row.id)?.asked)).transpose()
}

/// When and as what the days of a week are taken.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct TakenAs {
    /// What the session is called.
    pub name: String,
    /// Its day.
    pub on: NaiveDate,
}

/// Makes the sessions of a week, with their movements, steps and doses, all or nothing: one for each day that has any
/// work, with the name and on the date that go with the day. Sessions that it was opened from are laid anew instead, their lines
/// and what was logged for them go on. Those of the client's that it is to stand instead of go out of the plan. A second time
/// it makes none. `ClearanceNeeded` where the client's screening stops new plans, `NotFound` where a place is not the client's,
/// `Conflict` where another state of it stands than was seen, or a session was changed since it was opened.
pub async fn take(
    pool: &Pool,
    trainer: TrainerId,
    (id, seen): (Uuid, i32),
    days: &[TakenAs],
    instead: &[Uuid],
) -> Result<Vec<Uuid>, StoreError> {
    let mut tx = pool.begin().await?;
    let row = sqlx::query!(
        r#"select client_id, draft, seq, taken_at is not null as "taken!" from weeks
           where trainer_id = $1 and id = $2 for update"#,
        trainer.0,
        id
    )
    .fetch_one(&mut *tx)
    .await?;
    if row.taken {
        return Ok(Vec::new());
    }
    if row.seq != seen {
        return Err(StoreError::Conflict);
    }
    health::pass(&mut tx, trainer, Whose::Client(row.client_id), PlanChange::Hardens).await?;
    let draft: Draft = document::read(row.draft, "weeks.draft", id)?;
    unchanged(&mut tx, trainer, row.client_id, &draft.opened).await?;
    let mut made = Vec::new();
    for ((asked, day), taken) in draft.asked.days.iter().zip(&draft.days).zip(days) {
        let stands = draft.opened.iter().any(|o| o.session == day.session);
        if day.blocks.is_empty() && !stands {
            continue;
        }
        sqlx::query!(
            "select id from places where trainer_id = $1 and id = $2 and client_id = $3",
            trainer.0,
            asked.place,
            row.client_id
        )
        .fetch_one(&mut *tx)
        .await?;
        if stands {
            relay(&mut tx, trainer, asked, day).await?;
        } else {
            let head = SessionHead {
                id: day.session,
                client_id: row.client_id,
                place_id: asked.place,
                name: taken.name.clone(),
                planned_on: taken.on,
                state: WorkoutState::Planned,
                turn: Turn::Usual,
                light: false,
                minutes: i16::try_from(asked.minutes).unwrap_or(i16::MAX),
                method: Some(draft.asked.method),
                follows: draft.asked.follows,
                version: 0,
            };
            sessions::insert(&mut tx, trainer, &head, &[]).await?.ok_or(StoreError::Conflict)?;
        }
        made.push(day.session);
    }
    // Lines are laid when every session is there: one may have come from another.
    let named: Vec<Uuid> = draft.lines().map(|line| line.slot).collect();
    let opened: Vec<Uuid> = draft.opened.iter().map(|o| o.session).collect();
    sqlx::query!(
        "update slots s set removed_at = coalesce(s.removed_at, now()) from blocks b
         where s.trainer_id = $1 and b.trainer_id = $1 and b.id = s.block_id and b.session_id = any($2) and s.id <> all($3)",
        trainer.0,
        &opened,
        &named
    )
    .execute(&mut *tx)
    .await?;
    for (asked, day) in draft.asked.days.iter().zip(&draft.days).filter(|(_, day)| made.contains(&day.session)) {
        lay_lines(&mut tx, trainer, row.client_id, asked, day).await?;
    }
    let gone = sqlx::query_scalar!(
        "update sessions set removed_at = now()
         where trainer_id = $1 and client_id = $2 and id = any($3) and removed_at is null returning id",
        trainer.0,
        row.client_id,
        instead
    )
    .fetch_all(&mut *tx)
    .await?;
    sqlx::query!(
        "update weeks set taken_at = now(), instead = $3 where trainer_id = $1 and id = $2",
        trainer.0,
        id,
        &gone
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(made)
}

/// `Conflict` unless the sessions stand as they did when they were opened; they are held until the end of the transaction.
async fn unchanged(
    tx: &mut sqlx::PgConnection,
    trainer: TrainerId,
    client: Uuid,
    opened: &[Opened],
) -> Result<(), StoreError> {
    for one in opened {
        let row = sqlx::query!(
            "select version, board from sessions
             where trainer_id = $1 and client_id = $2 and id = $3 and removed_at is null for update",
            trainer.0,
            client,
            one.session
        );
        let row = row.fetch_optional(&mut *tx).await?.ok_or(StoreError::Conflict)?;
        if (row.version, row.board) != (one.version, one.board) {
            return Err(StoreError::Conflict);
        }
    }
    Ok(())
}

/// A session that stands, as its day now asks. What its board could undo before named lines that may stand elsewhere now.
async fn relay(
    tx: &mut sqlx::PgConnection,
    trainer: TrainerId,
    asked: &AskedDay,
    day: &DraftDay,
) -> Result<(), StoreError> {
    sqlx::query!("delete from boards where trainer_id = $1 and session_id = $2", trainer.0, day.session)
        .execute(&mut *tx)
        .await?;
    sqlx::query!(
        "update sessions set minutes = $3, version = version + 1, board = 0 where trainer_id = $1 and id = $2",
        trainer.0,
        day.session,
        i16::try_from(asked.minutes).unwrap_or(i16::MAX)
    )
    .execute(&mut *tx)
    .await?;
    Ok(())
}

async fn lay_lines(
    tx: &mut sqlx::PgConnection,
    trainer: TrainerId,
    client: Uuid,
    asked: &AskedDay,
    day: &DraftDay,
) -> Result<(), StoreError> {
    for (b, (kind, lines)) in day.blocks.iter().enumerate() {
        let block = slots::add_block(tx, trainer, day.session, b as i16, *kind).await?;
        for (s, line) in lines.iter().enumerate() {
            let intent = serde_json::to_value(&line.intent)?;
            slots::insert(tx, trainer, block, line.slot, s as i16, &line.intent).await?;
            // One that stood already moves here; nobody else's does.
            let done = sqlx::query!(
                "update slots s set block_id = $4, position = $5, removed_at = null,
                        intent = case when $7 then s.intent else $6 end,
                        version = s.version + (not $7 and s.intent is distinct from $6)::integer
                 from blocks b, sessions x
                 where s.trainer_id = $1 and s.id = $3 and b.trainer_id = $1 and b.id = s.block_id
                   and x.trainer_id = $1 and x.id = b.session_id and x.client_id = $2",
                trainer.0,
                client,
                line.slot,
                block,
                s as i16,
                intent,
                line.kept
            );
            if done.execute(&mut *tx).await?.rows_affected() != 1 {
                return Err(StoreError::NotFound);
            }
            if let Some(fit) = line.done.as_ref().filter(|_| !line.kept) {
                let new = NewFit {
                    slot_id: line.slot,
                    place_id: asked.place,
                    exercise: &fit.exercise,
                    step: &fit.step,
                    prescription: &line.dose,
                    pinned: false,
                };
                fits::replace(tx, trainer, &new).await?;
            }
        }
    }
    Ok(())
}
