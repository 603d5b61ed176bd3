//! Fits that were taken.

use std::collections::BTreeMap;

use bavrek_core::calendar::{Turn, light_dose};
use bavrek_core::dose::Prescription;
use bavrek_core::ladder::LadderStep;
use chrono::NaiveDate;
use sqlx::PgExecutor;
use sqlx::types::Json;
use uuid::Uuid;

use crate::document::word;
use crate::health::{self, PlanChange, Whose};
use crate::{Pool, StoreError, TrainerId, new_id};

/// A fit in force.
#[derive(Debug, Clone, PartialEq)]
pub struct Fit {
    /// Identifier.
    pub id: Uuid,
    /// The slot it carries out.
    pub slot_id: Uuid,
    /// The place it is for.
    pub place_id: Uuid,
    /// The movement.
    pub exercise: String,
    /// The step of its ladder.
    pub step: LadderStep,
    /// The dose.
    pub prescription: Prescription,
    /// Stays at a re-fit unless the movement is impossible there.
    pub pinned: bool,
    /// In which weeks it is done.
    pub turn: Turn,
}

/// A fit as it is stored.
struct Row {
    id: Uuid,
    slot_id: Uuid,
    place_id: Uuid,
    exercise: String,
    step: Json<LadderStep>,
    prescription: Json<Prescription>,
    pinned: bool,
    turn: String,
}

impl TryFrom<Row> for Fit {
    type Error = StoreError;

    fn try_from(row: Row) -> Result<Self, StoreError> {
        Ok(Self {
            turn: word(&row.turn, Turn::from_id)?,
            id: row.id,
            slot_id: row.slot_id,
            place_id: row.place_id,
            exercise: row.exercise,
            step: row.step.0,
            prescription: row.prescription.0,
            pinned: row.pinned,
        })
    }
}

/// What a new fit consists of.
#[derive(Debug, Clone, PartialEq)]
pub struct NewFit<'a> {
    /// The slot it carries out.
    pub slot_id: Uuid,
    /// The place it is for.
    pub place_id: Uuid,
    /// The movement.
    pub exercise: &'a str,
    /// The step of its ladder.
    pub step: &'a LadderStep,
    /// The dose.
    pub prescription: &'a Prescription,
    /// Pins it; a pinned fit of the same movement stays pinned either way.
    pub pinned: bool,
}

/// A fit of a slot, in force or replaced: what a form was filled in against.
pub async fn ever(pool: &Pool, trainer: TrainerId, slot_id: Uuid, id: Uuid) -> Result<Fit, StoreError> {
    let row = sqlx::query_as!(
        Row,
        r#"select id, slot_id, place_id, exercise, step as "step: Json<LadderStep>",
                  prescription as "prescription: Json<Prescription>", pinned, turn
           from fits where trainer_id = $1 and slot_id = $2 and id = $3"#,
        trainer.0,
        slot_id,
        id
    )
    .fetch_one(pool)
    .await?;
    row.try_into()
}

/// Takes a fit in place of the one in force, which stays on record. Taking the same one again changes nothing.
/// `ClearanceNeeded` where the client's screening stops new plans.
pub async fn take(pool: &Pool, trainer: TrainerId, new: &NewFit<'_>) -> Result<Uuid, StoreError> {
    let mut tx = pool.begin().await?;
    health::pass(&mut tx, trainer, Whose::Slot(new.slot_id), PlanChange::Hardens).await?;
    let id = replace(&mut tx, trainer, new).await?;
    tx.commit().await?;
    Ok(id)
}

/// Takes a fit for the weeks of a turn, beside the one of the usual weeks. Otherwise as [`take`].
pub async fn take_for(pool: &Pool, trainer: TrainerId, new: &NewFit<'_>, turn: Turn) -> Result<Uuid, StoreError> {
    let mut tx = pool.begin().await?;
    health::pass(&mut tx, trainer, Whose::Slot(new.slot_id), PlanChange::Hardens).await?;
    let id = replace_for(&mut tx, trainer, new, turn).await?;
    tx.commit().await?;
    Ok(id)
}

/// Ends the fits of a turn at a place, so that the usual one is done in its weeks again. What was done with them stays.
pub async fn end_turn(
    pool: &Pool,
    trainer: TrainerId,
    slot_id: Uuid,
    place_id: Uuid,
    turn: Turn,
) -> Result<(), StoreError> {
    sqlx::query!(
        "update fits set replaced_at = now()
         where trainer_id = $1 and slot_id = $2 and place_id = $3 and turn = $4 and turn <> 'usual' and replaced_at is null",
        trainer.0,
        slot_id,
        place_id,
        turn.id()
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// The fits of a client that alternate, with those of the usual weeks: session, and the fit of every second week.
pub async fn alternating(pool: &Pool, trainer: TrainerId, client: Uuid) -> Result<Vec<(Uuid, Fit)>, StoreError> {
    let rows = sqlx::query!(
        r#"select x.id as session_id, f.id, f.slot_id, f.place_id, f.exercise, f.step as "step: Json<LadderStep>",
                  f.prescription as "prescription: Json<Prescription>", f.pinned, f.turn
           from sessions x
           join blocks b on b.trainer_id = x.trainer_id and b.session_id = x.id
           join slots s on s.trainer_id = b.trainer_id and s.block_id = b.id and s.removed_at is null
           join fits f on f.trainer_id = s.trainer_id and f.slot_id = s.id and f.replaced_at is null and f.turn = 'other'
           where x.trainer_id = $1 and x.client_id = $2 and x.removed_at is null
           order by b.position, s.position"#,
        trainer.0,
        client
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    rows.map(|row| {
        let fit = Row {
            id: row.id,
            slot_id: row.slot_id,
            place_id: row.place_id,
            exercise: row.exercise,
            step: row.step,
            prescription: row.prescription,
            pinned: row.pinned,
            turn: row.turn,
        };
        Ok((row.session_id, fit.try_into()?))
    })
    .collect()
}

/// The same in place of what is done in the weeks that are next: of an alternating line that of its turn, else the usual one.
pub(crate) async fn replace(
    tx: &mut sqlx::PgConnection,
    trainer: TrainerId,
    new: &NewFit<'_>,
) -> Result<Uuid, StoreError> {
    let turn = sqlx::query_scalar!(
        "select turn from fits
         where trainer_id = $1 and slot_id = $2 and place_id = $3 and replaced_at is null and turn = 'other'
           and turn = turn_now($1, $2)",
        trainer.0,
        new.slot_id,
        new.place_id
    );
    let turn = turn.fetch_optional(&mut *tx).await?.map(|turn| word(&turn, Turn::from_id)).transpose()?;
    replace_for(tx, trainer, new, turn.unwrap_or(Turn::Usual)).await
}

pub(crate) async fn replace_for(
    tx: &mut sqlx::PgConnection,
    trainer: TrainerId,
    new: &NewFit<'_>,
    turn: Turn,
) -> Result<Uuid, StoreError> {
    // The slot's row serialises everyone who changes its fit.
    sqlx::query!("select id from slots where trainer_id = $1 and id = $2 for update", trainer.0, new.slot_id)
        .fetch_one(&mut *tx)
        .await?;
    let step = serde_json::to_value(new.step)?;
    let prescription = serde_json::to_value(new.prescription)?;
    let same = sqlx::query!(
        "select id from fits where trainer_id = $1 and slot_id = $2 and place_id = $3 and replaced_at is null
         and exercise = $4 and step = $5 and prescription = $6 and pinned >= $7 and turn = $8",
        trainer.0,
        new.slot_id,
        new.place_id,
        new.exercise,
        step,
        prescription,
        new.pinned,
        turn.id()
    )
    .fetch_optional(&mut *tx)
    .await?;
    if let Some(row) = same {
        return Ok(row.id);
    }
    let before = sqlx::query!(
        "update fits set replaced_at = now()
         where trainer_id = $1 and slot_id = $2 and place_id = $3 and turn = $4 and replaced_at is null
         returning exercise, pinned",
        trainer.0,
        new.slot_id,
        new.place_id,
        turn.id()
    )
    .fetch_optional(&mut *tx)
    .await?;
    let pinned = new.pinned || before.is_some_and(|old| old.pinned && old.exercise == new.exercise);
    let id = new_id();
    sqlx::query!(
        "insert into fits (trainer_id, id, slot_id, place_id, exercise, step, prescription, pinned, turn)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9)",
        trainer.0,
        id,
        new.slot_id,
        new.place_id,
        new.exercise,
        step,
        prescription,
        pinned,
        turn.id()
    )
    .execute(&mut *tx)
    .await?;
    Ok(id)
}

/// The fits in force for the slots of a session at a place on its next day, by slot.
pub async fn of_session(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    session_id: Uuid,
    place_id: Uuid,
) -> Result<BTreeMap<Uuid, Fit>, StoreError> {
    let rows = sqlx::query_as!(
        Row,
        r#"select f.id as "id!", f.slot_id as "slot_id!", f.place_id as "place_id!", f.exercise as "exercise!",
                  f.step as "step!: Json<LadderStep>", f.prescription as "prescription!: Json<Prescription>",
                  f.pinned as "pinned!", f.turn as "turn!"
           from session_days d, fits_for($1, $2, d.turn) f
           where d.trainer_id = $1 and d.session_id = $2 and f.place_id = $3"#,
        trainer.0,
        session_id,
        place_id
    );
    rows.fetch_all(db).await?.into_iter().map(|row| Ok((row.slot_id, row.try_into()?))).collect()
}

/// The fits in force for the slots of a session in the weeks of a turn, at every place.
pub async fn for_turn(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    session_id: Uuid,
    turn: Turn,
) -> Result<Vec<Fit>, StoreError> {
    let rows = sqlx::query_as!(
        Row,
        r#"select id as "id!", slot_id as "slot_id!", place_id as "place_id!", exercise as "exercise!",
                  step as "step!: Json<LadderStep>", prescription as "prescription!: Json<Prescription>",
                  pinned as "pinned!", turn as "turn!"
           from fits_for($1, $2, $3)"#,
        trainer.0,
        session_id,
        turn.id()
    );
    rows.fetch_all(db).await?.into_iter().map(TryInto::try_into).collect()
}

/// The fit in force for a slot at a place, on the next day of its session.
pub async fn of_slot(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    slot_id: Uuid,
    place_id: Uuid,
) -> Result<Option<Fit>, StoreError> {
    let row = sqlx::query_as!(
        Row,
        r#"select id, slot_id, place_id, exercise, step as "step: Json<LadderStep>",
                  prescription as "prescription: Json<Prescription>", pinned, turn
           from fits where trainer_id = $1 and slot_id = $2 and place_id = $3 and replaced_at is null
             and (turn = 'usual' or turn = turn_now($1, $2))
           order by turn = 'usual' limit 1"#,
        trainer.0,
        slot_id,
        place_id
    )
    .fetch_optional(db)
    .await?;
    row.map(TryInto::try_into).transpose()
}

/// Every fit in force at a place, of whichever slot.
pub async fn at_place(pool: &Pool, trainer: TrainerId, place_id: Uuid) -> Result<Vec<Fit>, StoreError> {
    let rows = sqlx::query_as!(
        Row,
        r#"select id, slot_id, place_id, exercise, step as "step: Json<LadderStep>",
                  prescription as "prescription: Json<Prescription>", pinned, turn
           from fits where trainer_id = $1 and place_id = $2 and replaced_at is null order by slot_id"#,
        trainer.0,
        place_id
    );
    rows.fetch_all(pool).await?.into_iter().map(TryInto::try_into).collect()
}

/// Gives the fits in force of a slot, wherever and in whichever weeks they are, new doses: what was changed takes effect at once.
pub async fn redose(
    pool: &Pool,
    trainer: TrainerId,
    change: PlanChange,
    doses: &[(Turn, NewFit<'_>)],
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    for (turn, new) in doses {
        health::pass(&mut tx, trainer, Whose::Slot(new.slot_id), change).await?;
        replace_for(&mut tx, trainer, new, *turn).await?;
    }
    tx.commit().await?;
    Ok(())
}

/// The fits in force of a slot, at every place and for every turn.
pub async fn of_slot_everywhere(pool: &Pool, trainer: TrainerId, slot_id: Uuid) -> Result<Vec<Fit>, StoreError> {
    let rows = sqlx::query_as!(
        Row,
        r#"select id, slot_id, place_id, exercise, step as "step: Json<LadderStep>",
                  prescription as "prescription: Json<Prescription>", pinned, turn
           from fits where trainer_id = $1 and slot_id = $2 and replaced_at is null order by place_id, turn"#,
        trainer.0,
        slot_id
    );
    rows.fetch_all(pool).await?.into_iter().map(TryInto::try_into).collect()
}

/// Pins the fit in force, or lets it go.
pub async fn set_pinned(
    pool: &Pool,
    trainer: TrainerId,
    slot_id: Uuid,
    place_id: Uuid,
    pinned: bool,
) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update fits set pinned = $4
         where trainer_id = $1 and slot_id = $2 and place_id = $3 and replaced_at is null
           and turn = coalesce(
             (select o.turn from fits o where o.trainer_id = $1 and o.slot_id = $2 and o.place_id = $3
                and o.replaced_at is null and o.turn = turn_now($1, $2)), 'usual')",
        trainer.0,
        slot_id,
        place_id,
        pinned
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// Moves sessions of a client from a place to another and takes fits there, all or nothing: their home where it is the place that
/// is left, and what is planned there. What was taken elsewhere stays in force there. `NotFound` where a session or the place is
/// not the client's.
pub async fn refit(
    pool: &Pool,
    trainer: TrainerId,
    client_id: Uuid,
    sessions: &[Uuid],
    [from, to]: [Uuid; 2],
    takes: &[NewFit<'_>],
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    health::pass(&mut tx, trainer, Whose::Client(client_id), PlanChange::Hardens).await?;
    let moved = sqlx::query!(
        "update sessions s set place_id = case when s.place_id = $5 then $4 else s.place_id end from places p
         where s.trainer_id = $1 and s.client_id = $2 and s.id = any($3) and p.trainer_id = $1 and p.id = $4
           and p.client_id = s.client_id and p.removed_at is null and p.proposal_of is null",
        trainer.0,
        client_id,
        sessions,
        to,
        from
    )
    .execute(&mut *tx)
    .await?;
    sqlx::query!(
        "update workouts set place_id = $3
         where trainer_id = $1 and session_id = any($2) and place_id = $4 and state = 'planned'",
        trainer.0,
        sessions,
        to,
        from
    )
    .execute(&mut *tx)
    .await?;
    if moved.rows_affected() != sessions.len() as u64 {
        return Err(StoreError::NotFound);
    }
    for new in takes {
        replace(&mut tx, trainer, new).await?;
    }
    tx.commit().await?;
    Ok(())
}

/// A line of a planned workout.
#[derive(Debug, Clone, PartialEq)]
pub struct Planned {
    /// Its session.
    pub session: Uuid,
    /// The day.
    pub on: NaiveDate,
    /// What is done.
    pub exercise: String,
    /// How much, as that day does it.
    pub dose: Prescription,
    /// How many such lines are enough, where it may be left out.
    pub optional: Option<u8>,
}

/// What is planned for a client from one day to another and not begun yet: every slot that has a fit at the workout's place, by day and
/// in the order of the session.
pub async fn planned(
    db: impl PgExecutor<'_>,
    trainer: TrainerId,
    client: Uuid,
    [from, until]: [NaiveDate; 2],
) -> Result<Vec<Planned>, StoreError> {
    let rows = sqlx::query!(
        r#"select x.id, w.planned_on, f.exercise as "exercise!", f.prescription as "prescription!: Json<Prescription>", w.light,
                  (s.intent->>'optional')::smallint as optional
           from workouts w
           join sessions x on x.trainer_id = w.trainer_id and x.id = w.session_id and x.removed_at is null
           join blocks b on b.trainer_id = x.trainer_id and b.session_id = x.id
           join slots s on s.trainer_id = b.trainer_id and s.block_id = b.id and s.removed_at is null
           join fits_for($1, x.id, w.turn) f on f.slot_id = s.id and f.place_id = w.place_id
           where w.trainer_id = $1 and x.client_id = $2 and w.planned_on between $3 and $4 and w.state = 'planned'
           order by w.planned_on, x.id, b.position, s.position"#,
        trainer.0,
        client,
        from,
        until
    )
    .fetch_all(db)
    .await?;
    let given = |dose: Prescription, light: bool| if light { light_dose(&dose) } else { dose };
    Ok(rows
        .into_iter()
        .map(|row| Planned {
            session: row.id,
            on: row.planned_on,
            exercise: row.exercise,
            dose: given(row.prescription.0, row.light),
            optional: row.optional.and_then(|n| u8::try_from(n).ok()),
        })
        .collect())
}
