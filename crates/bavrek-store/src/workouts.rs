//! Workouts: one dated performance of a session plan each.

use bavrek_core::calendar::Turn;
use bavrek_core::person::Side;
use bavrek_core::script::WorkoutState;
use bavrek_core::volume::share_of_set;
use chrono::{DateTime, NaiveDate, Utc};
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::document::word;
use crate::health::{self, PlanChange, Whose};
use crate::{Pool, StoreError, TrainerId, new_id};

/// A workout as the list of a session plan's days shows it.
#[derive(Debug, Clone, PartialEq)]
pub struct Day {
    /// Identifier.
    pub id: Uuid,
    /// The day it is planned for, or was done on.
    pub on: NaiveDate,
    /// How far it is.
    pub state: WorkoutState,
    /// The day it was planned for before it was moved.
    pub moved_from: Option<NaiveDate>,
    /// Sets of it that stand; both sides of one are one.
    pub sets: i64,
}

/// Most days that are listed: of a session that was done for years nobody reads them all here.
pub const MOST_DAYS: i64 = 24;

/// The workout of a session plan on a day, and how far it is.
pub async fn on_day(
    pool: &Pool,
    trainer: TrainerId,
    session: Uuid,
    day: NaiveDate,
) -> Result<Option<(Uuid, WorkoutState)>, StoreError> {
    let row = sqlx::query!(
        "select id, state from workouts where trainer_id = $1 and session_id = $2 and planned_on = $3",
        trainer.0,
        session,
        day
    );
    let found = row.fetch_optional(pool).await?;
    found.map(|r| Ok((r.id, word(&r.state, WorkoutState::from_id)?))).transpose()
}

/// The latest [`MOST_DAYS`] days of a session plan, the latest first.
pub async fn of_session(db: impl PgExecutor<'_>, trainer: TrainerId, session: Uuid) -> Result<Vec<Day>, StoreError> {
    let rows = sqlx::query!(
        r#"select w.id, w.planned_on, w.state, w.moved_from, coalesce(l.sides, 0) as "sides!", coalesce(l.rows, 0) as "rows!"
           from (
             select * from workouts where trainer_id = $1 and session_id = $2 order by planned_on desc limit $3) w
           left join lateral (
             select count(*) as rows, count(*) filter (where entry->>'side' in ('left', 'right')) as sides
             from sets_in_force where trainer_id = w.trainer_id and workout_id = w.id) l on true
           order by w.planned_on desc"#,
        trainer.0,
        session,
        MOST_DAYS
    )
    .fetch_all(db)
    .await?;
    rows.into_iter()
        .map(|row| {
            let sets = (row.rows - row.sides) as f64 + row.sides as f64 * share_of_set(Some(Side::Left));
            Ok(Day {
                id: row.id,
                on: row.planned_on,
                state: word(&row.state, WorkoutState::from_id)?,
                moved_from: row.moved_from,
                sets: sets.ceil() as i64,
            })
        })
        .collect()
}

/// The days of a client's workouts in a range in order of time, each with whether it was done or begun. A day that was moved
/// is the one it was moved to.
pub async fn between(
    pool: &Pool,
    trainer: TrainerId,
    client: Uuid,
    [from, until]: [NaiveDate; 2],
) -> Result<Vec<(NaiveDate, bool)>, StoreError> {
    let rows = sqlx::query!(
        "select w.planned_on, w.state from workouts w
         join sessions x on x.trainer_id = w.trainer_id and x.id = w.session_id
         where w.trainer_id = $1 and x.client_id = $2 and w.planned_on between $3 and $4
           and (x.removed_at is null or w.state in ('done', 'under_way'))
         order by w.planned_on, w.id",
        trainer.0,
        client,
        from,
        until
    );
    let kept = |state: &str| matches!(WorkoutState::from_id(state), Some(WorkoutState::Done | WorkoutState::UnderWay));
    Ok(rows.fetch_all(pool).await?.into_iter().map(|r| (r.planned_on, kept(&r.state))).collect())
}

/// A workout that is still to come or was begun.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Due {
    /// Its day.
    pub on: NaiveDate,
    /// Its session.
    pub session: Uuid,
    /// Where it is.
    pub place: Uuid,
    /// Which of its lines' fits are done.
    pub turn: Turn,
    /// Whether it lies in a lighter week.
    pub light: bool,
}

impl Due {
    /// Whether the same is done in both, whatever the day.
    pub fn is_alike(&self, other: &Self) -> bool {
        Self { on: other.on, ..*self } == *other
    }
}

/// The workouts of a client in a range of days that take or took place, in order of time.
pub async fn due(
    pool: &Pool,
    trainer: TrainerId,
    client: Uuid,
    [from, until]: [NaiveDate; 2],
) -> Result<Vec<Due>, StoreError> {
    let rows = sqlx::query!(
        "select w.planned_on, w.session_id, w.place_id, w.turn, w.light from workouts w
         join sessions x on x.trainer_id = w.trainer_id and x.id = w.session_id
         where w.trainer_id = $1 and x.client_id = $2 and w.planned_on between $3 and $4
           and x.removed_at is null and w.state <> 'missed' and not w.let_go
         order by w.planned_on, w.id",
        trainer.0,
        client,
        from,
        until
    );
    let due = rows.fetch_all(pool).await?.into_iter().map(|row| {
        let turn = word(&row.turn, Turn::from_id)?;
        Ok(Due { on: row.planned_on, session: row.session_id, place: row.place_id, turn, light: row.light })
    });
    due.collect()
}

/// A workout as it is listed for programs.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Listed {
    /// Identifier.
    pub id: Uuid,
    /// Its session.
    pub session: Uuid,
    /// Whose it is.
    pub client: Uuid,
    /// Where it is done.
    pub place: Uuid,
    /// Its day.
    pub on: NaiveDate,
    /// How far it is.
    pub state: WorkoutState,
    /// Whether it lies in a lighter week.
    pub light: bool,
    /// Whether it was let go.
    pub let_go: bool,
}

struct ListedRow {
    id: Uuid,
    session_id: Uuid,
    client_id: Uuid,
    place_id: Uuid,
    planned_on: NaiveDate,
    state: String,
    light: bool,
    let_go: bool,
}

impl TryFrom<ListedRow> for Listed {
    type Error = StoreError;

    fn try_from(row: ListedRow) -> Result<Self, StoreError> {
        Ok(Self {
            id: row.id,
            session: row.session_id,
            client: row.client_id,
            place: row.place_id,
            on: row.planned_on,
            state: word(&row.state, WorkoutState::from_id)?,
            light: row.light,
            let_go: row.let_go,
        })
    }
}

/// One workout.
pub async fn one(pool: &Pool, trainer: TrainerId, id: Uuid) -> Result<Listed, StoreError> {
    let row = sqlx::query_as!(
        ListedRow,
        "select w.id, w.session_id, x.client_id, w.place_id, w.planned_on, w.state, w.light, w.let_go
         from workouts w join sessions x on x.trainer_id = w.trainer_id and x.id = w.session_id
         where w.trainer_id = $1 and w.id = $2",
        trainer.0,
        id
    );
    row.fetch_one(pool).await?.try_into()
}

/// All workouts of a client in a range of days, whatever became of them, in order of time.
pub async fn listed(
    pool: &Pool,
    trainer: TrainerId,
    client: Uuid,
    [from, until]: [NaiveDate; 2],
) -> Result<Vec<Listed>, StoreError> {
    let rows = sqlx::query_as!(
        ListedRow,
        "select w.id, w.session_id, x.client_id, w.place_id, w.planned_on, w.state, w.light, w.let_go
         from workouts w join sessions x on x.trainer_id = w.trainer_id and x.id = w.session_id
         where w.trainer_id = $1 and x.client_id = $2 and w.planned_on between $3 and $4
         order by w.planned_on, w.id",
        trainer.0,
        client,
        from,
        until
    );
    rows.fetch_all(pool).await?.into_iter().map(TryInto::try_into).collect()
}

/// Plans a session for another day. The same identifier twice is stored once; `Conflict` where it stands on that day
/// already, `ClearanceNeeded` where the client's screening stops new plans.
pub async fn plan(pool: &Pool, trainer: TrainerId, session: Uuid, id: Uuid, on: NaiveDate) -> Result<(), StoreError> {
    let head = crate::sessions::head(pool, trainer, session).await?;
    let mut tx = pool.begin().await?;
    health::pass(&mut tx, trainer, Whose::Client(head.client_id), PlanChange::Hardens).await?;
    let done = sqlx::query!(
        "insert into workouts (trainer_id, id, session_id, place_id, planned_on)
         select trainer_id, $2, id, place_id, $4 from sessions where trainer_id = $1 and id = $3
         on conflict (trainer_id, id) do nothing",
        trainer.0,
        id,
        session,
        on
    )
    .execute(&mut *tx)
    .await?;
    if done.rows_affected() == 0 {
        sqlx::query!(
            "select id from workouts where trainer_id = $1 and id = $2 and session_id = $3 and planned_on = $4",
            trainer.0,
            id,
            session,
            on
        )
        .fetch_one(&mut *tx)
        .await?;
    }
    tx.commit().await?;
    Ok(())
}

/// Takes a planned day out again; one on which something was logged stays.
pub async fn take_out(pool: &Pool, trainer: TrainerId, session: Uuid, id: Uuid) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "delete from workouts w where w.trainer_id = $1 and w.session_id = $2 and w.id = $3 and w.state = 'planned'
           and not exists (select 1 from logged_sets l where l.trainer_id = w.trainer_id and l.workout_id = w.id)
           and exists (select 1 from workouts o
                       where o.trainer_id = w.trainer_id and o.session_id = w.session_id and o.id <> w.id)",
        trainer.0,
        session,
        id
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// What a workout begins with.
#[derive(Debug, Clone)]
pub struct Start<'a> {
    /// The session plan.
    pub session: Uuid,
    /// Where it is performed.
    pub place: Uuid,
    /// The client's day.
    pub today: NaiveDate,
    /// Now.
    pub now: DateTime<Utc>,
    /// Its turns as they are given.
    pub script: &'a serde_json::Value,
}

/// The workout of today, begun if it was not: the one planned for today, else the latest that was planned before and not
/// done, which moves here, else of a plan over weeks the next one of this week, done ahead of its day, else a new one that is
/// done as the next one would be.
pub async fn begin(pool: &Pool, trainer: TrainerId, start: &Start<'_>) -> Result<Uuid, StoreError> {
    // All sets but the first find it begun: nothing is locked or written for them.
    let begun = on_day(pool, trainer, start.session, start.today).await?;
    if let Some((id, WorkoutState::UnderWay | WorkoutState::Done)) = begun {
        return Ok(id);
    }
    let mut tx = pool.begin().await?;
    // One at a time: two sets that arrive together belong to one workout.
    sqlx::query!("select id from sessions where trainer_id = $1 and id = $2 for update", trainer.0, start.session)
        .fetch_one(&mut *tx)
        .await?;
    let found = sqlx::query!(
        "select id, planned_on from workouts
         where trainer_id = $1 and session_id = $2
           and (planned_on = $3 or (planned_on < $3 and state in ('planned', 'missed'))
                or (plan_id is not null and state = 'planned'
                    and date_trunc('week', planned_on) = date_trunc('week', $3::date)))
         order by planned_on > $3, abs(planned_on - $3) limit 1",
        trainer.0,
        start.session,
        start.today
    )
    .fetch_optional(&mut *tx)
    .await?;
    let id = if let Some(row) = found {
        sqlx::query!(
            "update workouts set planned_on = $3,
                    moved_from = case when planned_on <> $3 then coalesce(moved_from, planned_on) else moved_from end,
                    state = case when state = 'done' then 'done' else 'under_way' end,
                    place_id = $6, started_at = coalesce(started_at, $4), script = coalesce(script, $5)
             where trainer_id = $1 and id = $2",
            trainer.0,
            row.id,
            start.today,
            start.now,
            start.script,
            start.place
        )
        .execute(&mut *tx)
        .await?;
        row.id
    } else {
        let id = new_id();
        sqlx::query!(
            "insert into workouts (trainer_id, id, session_id, place_id, planned_on, state, started_at, script, turn, light)
             select $1, $2, $3, $4, $5, 'under_way', $6, $7, turn, light from session_days
             where trainer_id = $1 and session_id = $3",
            trainer.0,
            id,
            start.session,
            start.place,
            start.today,
            start.now,
            start.script
        )
        .execute(&mut *tx)
        .await?;
        id
    };
    tx.commit().await?;
    Ok(id)
}

/// Says that a workout is done, or that it goes on; one that was ended early is done, whatever comes late.
pub async fn set_done(
    pool: &Pool,
    trainer: TrainerId,
    id: Uuid,
    now: DateTime<Utc>,
    done: bool,
) -> Result<(), StoreError> {
    sqlx::query!(
        "update workouts set state = case when $4 or ended_early is not null then 'done' else 'under_way' end,
                finished_at = case when $4 or ended_early is not null then coalesce(finished_at, $3) end
         where trainer_id = $1 and id = $2",
        trainer.0,
        id,
        now,
        done
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Ends a workout before its last turn, with what was said of it.
pub async fn end_early(
    pool: &Pool,
    trainer: TrainerId,
    id: Uuid,
    now: DateTime<Utc>,
    why: &str,
) -> Result<(), StoreError> {
    sqlx::query!(
        "update workouts set state = 'done', finished_at = coalesce(finished_at, $3), ended_early = $4
         where trainer_id = $1 and id = $2",
        trainer.0,
        id,
        now,
        why
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Whether the workout of a session on a day is done, and what was said where it was ended early.
pub async fn ended(
    pool: &Pool,
    trainer: TrainerId,
    session: Uuid,
    on: NaiveDate,
) -> Result<Option<(bool, Option<String>)>, StoreError> {
    let row = sqlx::query!(
        r#"select state = 'done' as "done!", ended_early from workouts
           where trainer_id = $1 and session_id = $2 and planned_on = $3"#,
        trainer.0,
        session,
        on
    );
    Ok(row.fetch_optional(pool).await?.map(|r| (r.done, r.ended_early)))
}

/// The script with which a workout of a day began; none where none did.
pub async fn script(
    pool: &Pool,
    trainer: TrainerId,
    session: Uuid,
    on: NaiveDate,
) -> Result<Option<serde_json::Value>, StoreError> {
    let row = sqlx::query!(
        "select script from workouts where trainer_id = $1 and session_id = $2 and planned_on = $3",
        trainer.0,
        session,
        on
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.and_then(|r| r.script))
}
