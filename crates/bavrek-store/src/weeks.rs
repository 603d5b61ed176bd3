//! Proposed weeks, kept as they were shown until they are taken.

use bavrek_core::anatomy::Region;
use bavrek_core::dose::Prescription;
use bavrek_core::ladder::LadderStep;
use bavrek_core::method::Method;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::script::WorkoutState;
use bavrek_core::week::Wish;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::fits::{self, NewFit};
use crate::health::{self, PlanChange, Whose};
use crate::own_schools::Follows;
use crate::sessions::{self, SessionHead};
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
    /// What it is for, with its dose.
    pub intent: Intent,
    /// The movement.
    pub exercise: String,
    /// The step it begins on.
    pub step: LadderStep,
    /// The sets on that step.
    pub dose: Prescription,
    /// Repetitions that are expected, where they are counted.
    pub expected: Option<u16>,
}

/// A day as it was proposed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct DraftDay {
    /// Its blocks.
    pub blocks: Vec<(BlockKind, Vec<DraftLine>)>,
    /// How long it takes, s.
    pub seconds: f64,
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
        r#"select client_id, draft, taken_at is not null as "taken!", instead from weeks where trainer_id = $1 and id = $2"#,
        trainer.0,
        id
    )
    .fetch_one(pool)
    .await?;
    let draft = document::read(row.draft, "weeks.draft", id)?;
    Ok(Kept { client_id: row.client_id, draft, taken: row.taken, instead: row.instead })
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

/// Makes the sessions of a proposal, with their movements, steps and doses, all or nothing: one for each day that has any
/// work, with the name and on the date that go with the day; those of the client's that it is to stand instead of go out of the
/// plan. A second time it makes none. `ClearanceNeeded` where the
/// client's screening stops new plans, `NotFound` where a place is not the client's.
pub async fn take(
    pool: &Pool,
    trainer: TrainerId,
    id: Uuid,
    days: &[(String, NaiveDate)],
    instead: &[Uuid],
) -> Result<Vec<Uuid>, StoreError> {
    let mut tx = pool.begin().await?;
    let row = sqlx::query!(
        r#"select client_id, draft, taken_at is not null as "taken!" from weeks
           where trainer_id = $1 and id = $2 for update"#,
        trainer.0,
        id
    )
    .fetch_one(&mut *tx)
    .await?;
    if row.taken {
        return Ok(Vec::new());
    }
    health::pass(&mut tx, trainer, Whose::Client(row.client_id), PlanChange::Hardens).await?;
    let draft: Draft = document::read(row.draft, "weeks.draft", id)?;
    let mut made = Vec::new();
    for ((asked, day), (name, on)) in draft.asked.days.iter().zip(&draft.days).zip(days) {
        if day.blocks.is_empty() {
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
        let head = SessionHead {
            id: new_id(),
            client_id: row.client_id,
            place_id: asked.place,
            name: name.clone(),
            planned_on: *on,
            state: WorkoutState::Planned,
            minutes: i16::try_from(asked.minutes).unwrap_or(i16::MAX),
            method: Some(draft.asked.method),
            follows: draft.asked.follows,
            version: 0,
        };
        let blocks: Vec<(BlockKind, Vec<Intent>)> = day
            .blocks
            .iter()
            .map(|(kind, lines)| (*kind, lines.iter().map(|line| line.intent.clone()).collect()))
            .collect();
        let slots = sessions::insert(&mut tx, trainer, &head, &blocks).await?.ok_or(StoreError::Conflict)?;
        for (slot, line) in slots.into_iter().zip(day.blocks.iter().flat_map(|(_, lines)| lines)) {
            let new = NewFit {
                slot_id: slot,
                place_id: asked.place,
                exercise: &line.exercise,
                step: &line.step,
                prescription: &line.dose,
                pinned: false,
            };
            fits::replace(&mut tx, trainer, &new).await?;
        }
        made.push(head.id);
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
