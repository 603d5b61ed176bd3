//! Calls: which wait for the trainer, what was decided about them, and what was refused.

use std::collections::BTreeMap;

use bavrek_core::calendar::Turn;
use bavrek_core::dose::Prescription;
use bavrek_core::ladder::LadderStep;
use bavrek_core::log::PAIN_THAT_STOPS;
use bavrek_core::progress::{CallKind, Refused};
use chrono::{DateTime, NaiveDate, Utc};
use sqlx::PgExecutor;
use sqlx::types::Json;
use uuid::Uuid;

use crate::document::{self, word};
use crate::fits::{NewFit, replace, replace_for};
use crate::health::{self, PlanChange, Whose};
use crate::{Pool, StoreError, TrainerId, new_id};

/// A decision about a call.
#[derive(Debug, Clone, PartialEq)]
pub struct Decision {
    /// What was proposed.
    pub proposed: CallKind,
    /// The step that was proposed, by its label.
    pub step: Option<String>,
    /// What was decided.
    pub decided: CallKind,
    /// Whether the proposal was refused: it is not made again before there is more to it.
    pub refused: bool,
    /// The trainer's word on it.
    pub note: String,
    /// The reasons that were shown.
    pub reasons: Vec<String>,
    /// The last set it rests on.
    pub after_set: Uuid,
    /// When.
    pub decided_at: DateTime<Utc>,
}

/// A decision on record.
#[derive(Debug, Clone, PartialEq)]
pub struct Decided {
    /// Identifier.
    pub id: Uuid,
    /// What was decided.
    pub decision: Decision,
}

/// A client with calls that wait.
#[derive(Debug, Clone, PartialEq)]
pub struct Waiting {
    /// The client.
    pub client: Uuid,
    /// The name.
    pub name: String,
    /// Lines whose latest set nobody has decided about.
    pub lines: i64,
    /// Highest pain in the sets that wait, where it must change something.
    pub pain: Option<u8>,
    /// Day of the oldest of those sets.
    pub since: NaiveDate,
    /// The client's own day.
    pub today: NaiveDate,
}

/// Most clients whose calls are listed at once.
pub const MOST_WAITING: i64 = 200;

/// Clients with calls that wait, the worst first: who hurt, then those with sets in which something was seen to go wrong, then
/// who waits longest.
pub async fn waiting(pool: &Pool, trainer: TrainerId, now: DateTime<Utc>) -> Result<Vec<Waiting>, StoreError> {
    let rows = sqlx::query!(
        r#"select c.id, c.name, d.today as "today!", q.lines as "lines!", q.pain, q.since as "since!"
           from clients c
           cross join lateral (select ($2::timestamptz at time zone c.time_zone)::date as today) d
           join (
             select client_id, count(*) as lines, max(pain) as pain, min(performed_on) as since, bool_or(seen) as seen
             from waiting_lines where trainer_id = $1 group by client_id) q on q.client_id = c.id
           where c.trainer_id = $1 and c.archived_at is null
           order by coalesce(q.pain, 0) >= $4 desc, q.seen desc, q.since, lower(c.name), c.id
           limit $3"#,
        trainer.0,
        now,
        MOST_WAITING,
        i32::from(PAIN_THAT_STOPS)
    )
    .fetch_all(pool)
    .await?;
    Ok(rows
        .into_iter()
        .map(|row| Waiting {
            client: row.id,
            name: row.name,
            lines: row.lines,
            pain: row.pain.and_then(|p| u8::try_from(p).ok()).filter(|p| *p >= PAIN_THAT_STOPS),
            since: row.since,
            today: row.today,
        })
        .collect())
}

/// The lines of a client whose calls wait, and those that were decided since a moment, by session and in the order of the plan.
pub async fn lines(
    pool: &Pool,
    trainer: TrainerId,
    client: Uuid,
    since: DateTime<Utc>,
) -> Result<Vec<(Uuid, Uuid)>, StoreError> {
    let rows = sqlx::query!(
        "select x.id as session_id, s.id as slot_id
         from sessions x
         join blocks b on b.trainer_id = x.trainer_id and b.session_id = x.id
         join slots s on s.trainer_id = b.trainer_id and s.block_id = b.id and s.removed_at is null
         where x.trainer_id = $1 and x.client_id = $2 and x.removed_at is null
           and (s.id in (select slot_id from waiting_slots($1, $2))
                or exists (select 1 from decisions d
                           where d.trainer_id = s.trainer_id and d.slot_id = s.id and d.undone_at is null
                             and d.decided_at >= $3))
         order by x.id, b.position, s.position",
        trainer.0,
        client,
        since
    );
    Ok(rows.fetch_all(pool).await?.into_iter().map(|row| (row.session_id, row.slot_id)).collect())
}

/// Decides about a call and takes the fit that follows. `Conflict` where it was decided already, `ClearanceNeeded` where the
/// client's screening stops what hardens.
pub async fn decide(
    pool: &Pool,
    trainer: TrainerId,
    decision: &Decision,
    new: &NewFit<'_>,
) -> Result<Uuid, StoreError> {
    let mut tx = pool.begin().await?;
    let change = if decision.decided.hardens() { PlanChange::Hardens } else { PlanChange::Eases };
    health::pass(&mut tx, trainer, Whose::Slot(new.slot_id), change).await?;
    let before = sqlx::query_scalar!(
        "select id from fits
         where trainer_id = $1 and slot_id = $2 and place_id = $3 and replaced_at is null
           and (turn = 'usual' or turn = turn_now($1, $2))
         order by turn = 'usual' limit 1",
        trainer.0,
        new.slot_id,
        new.place_id
    )
    .fetch_optional(&mut *tx)
    .await?;
    let fit_id = replace(&mut tx, trainer, new).await?;
    let id = new_id();
    sqlx::query!(
        "insert into decisions (trainer_id, id, slot_id, fit_id, proposed, decided, reasons, after_set, decided_at, refused,
                                note, proposed_step, replaced_fit)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13)",
        trainer.0,
        id,
        new.slot_id,
        fit_id,
        decision.proposed.id(),
        decision.decided.id(),
        serde_json::to_value(&decision.reasons)?,
        decision.after_set,
        decision.decided_at,
        decision.refused,
        decision.note,
        decision.step,
        before
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(id)
}

/// Undoes a decision: the fit that stood before it stands again, and the call waits again. Undoing it twice changes nothing.
/// `Conflict` where the fit was changed or the line decided about since, `ClearanceNeeded` where what comes back is harder.
pub async fn undo(pool: &Pool, trainer: TrainerId, id: Uuid) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    // The slot's row serialises everyone who changes its fit.
    sqlx::query!(
        "select s.id from decisions d join slots s on s.trainer_id = d.trainer_id and s.id = d.slot_id
         where d.trainer_id = $1 and d.id = $2 for update of s",
        trainer.0,
        id
    )
    .fetch_one(&mut *tx)
    .await?;
    let row = sqlx::query!(
        r#"select d.slot_id, d.decided, d.undone_at, f.replaced_at as "replaced_at?", o.place_id, o.exercise,
                  o.step as "step: Json<LadderStep>", o.prescription as "prescription: Json<Prescription>", o.pinned, o.turn,
                  exists (select 1 from decisions l
                          where l.trainer_id = d.trainer_id and l.slot_id = d.slot_id and l.undone_at is null
                            and (l.decided_at, l.id) > (d.decided_at, d.id)) as "later!"
           from decisions d
           join fits f on f.trainer_id = d.trainer_id and f.id = d.fit_id
           join fits o on o.trainer_id = d.trainer_id and o.id = coalesce(d.replaced_fit, d.fit_id)
           where d.trainer_id = $1 and d.id = $2"#,
        trainer.0,
        id
    )
    .fetch_one(&mut *tx)
    .await?;
    if row.undone_at.is_some() {
        return Ok(());
    }
    if row.later || row.replaced_at.is_some() {
        return Err(StoreError::Conflict);
    }
    let decided = word(&row.decided, CallKind::from_id)?;
    let change = if decided.rises() { PlanChange::Eases } else { PlanChange::Hardens };
    health::pass(&mut tx, trainer, Whose::Slot(row.slot_id), change).await?;
    let before = NewFit {
        slot_id: row.slot_id,
        place_id: row.place_id,
        exercise: &row.exercise,
        step: &row.step.0,
        prescription: &row.prescription.0,
        pinned: row.pinned,
    };
    replace_for(&mut tx, trainer, &before, word(&row.turn, Turn::from_id)?).await?;
    sqlx::query!("update decisions set undone_at = now() where trainer_id = $1 and id = $2", trainer.0, id)
        .execute(&mut *tx)
        .await?;
    tx.commit().await?;
    Ok(())
}

/// The last set of every slot of a session about which was decided.
pub async fn decided_after(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    session: Uuid,
) -> Result<BTreeMap<Uuid, Uuid>, StoreError> {
    let rows = sqlx::query!(
        "select distinct on (d.slot_id) d.slot_id, d.after_set
         from decisions d
         join slots s on s.trainer_id = d.trainer_id and s.id = d.slot_id
         join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
         where d.trainer_id = $1 and b.session_id = $2 and d.undone_at is null
         order by d.slot_id, d.decided_at desc, d.id desc",
        trainer.0,
        session
    )
    .fetch_all(db)
    .await?;
    Ok(rows.into_iter().map(|row| (row.slot_id, row.after_set)).collect())
}

/// The latest decision about a slot that was not undone.
pub async fn latest(db: impl PgExecutor<'_>, trainer: TrainerId, slot_id: Uuid) -> Result<Option<Decided>, StoreError> {
    let row = sqlx::query!(
        "select id, proposed, proposed_step, decided, refused, note, reasons, after_set, decided_at from decisions
         where trainer_id = $1 and slot_id = $2 and undone_at is null order by decided_at desc, id desc limit 1",
        trainer.0,
        slot_id
    )
    .fetch_optional(db)
    .await?;
    row.map(|row| {
        let decision = Decision {
            proposed: word(&row.proposed, CallKind::from_id)?,
            step: row.proposed_step,
            decided: word(&row.decided, CallKind::from_id)?,
            refused: row.refused,
            note: row.note,
            reasons: document::read(row.reasons, "decisions.reasons", slot_id)?,
            after_set: row.after_set,
            decided_at: row.decided_at,
        };
        Ok(Decided { id: row.id, decision })
    })
    .transpose()
}

/// What keeps calls of a line from more.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Against {
    /// What was refused and not undone, the latest day first.
    pub refused: Vec<Refused>,
    /// Days of the last eight weeks on which it was planned, did not take place and was not let go.
    pub missed: Vec<NaiveDate>,
}

/// What keeps calls from more, by line of a client. Days are those of the client.
pub async fn against(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    client: Uuid,
    today: NaiveDate,
) -> Result<BTreeMap<Uuid, Against>, StoreError> {
    let rows = sqlx::query!(
        r#"select d.slot_id as "slot_id!", d.proposed as "proposed?", d.proposed_step as "step?", g.performed_on as "day!"
           from decisions d
           join slots s on s.trainer_id = d.trainer_id and s.id = d.slot_id
           join blocks b on b.trainer_id = s.trainer_id and b.id = s.block_id
           join sessions x on x.trainer_id = b.trainer_id and x.id = b.session_id
           join logged_sets g on g.trainer_id = d.trainer_id and g.id = d.after_set
           where d.trainer_id = $1 and x.client_id = $2 and d.refused and d.undone_at is null
           union all
           select s.id, null, null, w.planned_on
           from workouts w
           join sessions x on x.trainer_id = w.trainer_id and x.id = w.session_id
           join blocks b on b.trainer_id = x.trainer_id and b.session_id = x.id
           join slots s on s.trainer_id = b.trainer_id and s.block_id = b.id
           where w.trainer_id = $1 and x.client_id = $2 and x.removed_at is null and not w.let_go
             and w.state in ('planned', 'missed') and w.planned_on between $3::date - 56 and $3::date - 1
           order by 4 desc"#,
        trainer.0,
        client,
        today
    )
    .fetch_all(db)
    .await?;
    let mut lines: BTreeMap<Uuid, Against> = BTreeMap::new();
    for row in rows {
        let line = lines.entry(row.slot_id).or_default();
        match row.proposed {
            None => line.missed.push(row.day),
            Some(call) => {
                line.refused.push(Refused { call: word(&call, CallKind::from_id)?, step: row.step, after: row.day });
            }
        }
    }
    Ok(lines)
}
