//! Health screenings and the clearance that answers one. Nothing is ever changed: a screening is repeated.

use bavrek_core::screening::Answers;
use chrono::NaiveDate;
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::document;
use crate::{Pool, StoreError, TrainerId};

/// A screening as it was answered.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Screening {
    /// Identifier.
    pub id: Uuid,
    /// The day it was answered.
    pub on: NaiveDate,
    /// The answers.
    pub answers: Answers,
    /// Whether one of them called for a doctor or physiotherapist.
    pub refers: bool,
    /// The trainer's note.
    pub note: String,
    /// The clearance that was given for it.
    pub clearance: Option<Clearance>,
}

/// Somebody's agreement to training.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Clearance {
    /// Who gave it.
    pub given_by: String,
    /// When.
    pub given_on: NaiveDate,
    /// What they said.
    pub note: String,
}

impl Screening {
    /// Whether new plans must wait for a clearance.
    pub const fn stops(&self) -> bool {
        self.refers && self.clearance.is_none()
    }
}

/// Adds a screening under its own identifier: the same one twice is stored once. Its clearance is not stored.
pub async fn add(pool: &Pool, trainer: TrainerId, client: Uuid, screening: &Screening) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into screenings (trainer_id, id, client_id, answered_on, answers, refers, note)
         values ($1, $2, $3, $4, $5, $6, $7) on conflict (trainer_id, id) do nothing",
        trainer.0,
        screening.id,
        client,
        screening.on,
        serde_json::to_value(&screening.answers)?,
        screening.refers,
        screening.note
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Records the clearance for a screening of a client.
pub async fn clear(
    pool: &Pool,
    trainer: TrainerId,
    client: Uuid,
    screening: Uuid,
    id: Uuid,
    clearance: &Clearance,
) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "insert into clearances (trainer_id, id, screening_id, given_by, given_on, note)
         select trainer_id, $4, id, $5, $6, $7 from screenings where trainer_id = $1 and client_id = $2 and id = $3
         on conflict (trainer_id, id) do update set given_by = clearances.given_by",
        trainer.0,
        client,
        screening,
        id,
        clearance.given_by,
        clearance.given_on,
        clearance.note
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// All screenings of a client, newest first; the first one counts.
pub async fn of_client(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    client: Uuid,
) -> Result<Vec<Screening>, StoreError> {
    let rows = sqlx::query!(
        r#"select s.id, s.answered_on, s.answers, s.refers, s.note,
                  c.given_by as "given_by?", c.given_on as "given_on?", c.note as "clearance_note?"
           from screenings s
           left join lateral (
             select given_by, given_on, note from clearances
             where trainer_id = s.trainer_id and screening_id = s.id order by recorded_at desc, id desc limit 1) c on true
           where s.trainer_id = $1 and s.client_id = $2
           order by s.answered_on desc, s.recorded_at desc, s.id desc"#,
        trainer.0,
        client
    )
    .fetch_all(db)
    .await?;
    rows.into_iter()
        .map(|r| {
            let clearance = r.given_by.zip(r.given_on).map(|(given_by, given_on)| Clearance {
                given_by,
                given_on,
                note: r.clearance_note.unwrap_or_default(),
            });
            Ok(Screening {
                id: r.id,
                on: r.answered_on,
                answers: document::read(r.answers, "screenings.answers", r.id)?,
                refers: r.refers,
                note: r.note,
                clearance,
            })
        })
        .collect()
}

/// What a write does to a client's plan.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PlanChange {
    /// Holds, eases or takes out: always allowed.
    Eases,
    /// Adds, changes or hardens: not while the latest screening waits for a clearance.
    Hardens,
}

/// Whose plan it is.
#[derive(Debug, Clone, Copy)]
pub(crate) enum Whose {
    /// A client's.
    Client(Uuid),
    /// That of a slot's client.
    Slot(Uuid),
}

/// The one gate that every write to a plan passes: refuses with `ClearanceNeeded` what hardens the plan of a client whose
/// latest screening calls for a clearance that is not there. `NotFound` for a slot of nobody's.
pub(crate) async fn pass(
    tx: &mut sqlx::PgConnection,
    trainer: TrainerId,
    whose: Whose,
    change: PlanChange,
) -> Result<(), StoreError> {
    let client = match whose {
        Whose::Client(client) => client,
        Whose::Slot(slot) => {
            sqlx::query!(
                "select x.client_id from slots s
                 join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
                 join sessions x on x.trainer_id = b.trainer_id and x.id = b.session_id
                 where s.trainer_id = $1 and s.id = $2",
                trainer.0,
                slot
            )
            .fetch_one(&mut *tx)
            .await?
            .client_id
        }
    };
    if change == PlanChange::Eases {
        return Ok(());
    }
    let row = sqlx::query!(
        r#"select s.refers and not exists (
             select 1 from clearances c where c.trainer_id = s.trainer_id and c.screening_id = s.id) as "stopped!"
           from screenings s where s.trainer_id = $1 and s.client_id = $2
           order by s.answered_on desc, s.recorded_at desc, s.id desc limit 1"#,
        trainer.0,
        client
    )
    .fetch_optional(tx)
    .await?;
    if row.is_some_and(|r| r.stopped) { Err(StoreError::ClearanceNeeded) } else { Ok(()) }
}
