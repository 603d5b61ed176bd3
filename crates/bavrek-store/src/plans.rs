//! Plans over weeks: one at a time for a client. Workouts are made from it as its weeks open; what was done is never rewritten.

use bavrek_core::calendar::{Plan as Weeks, Planned, Turn};
use bavrek_core::script::WorkoutState;
use chrono::{DateTime, Duration, NaiveDate, Utc};
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::document::{self, word};
use crate::health::{self, PlanChange, Whose};
use crate::own_schools::Follows;
use crate::{Pool, StoreError, TrainerId, new_id};

/// Sessions and places by identifier, schools of the trainer's own as they are followed.
pub type Rules = Weeks<Uuid, Follows>;

/// After so long a claim of a week is taken to be of somebody who is gone.
const CLAIM: Duration = Duration::minutes(5);

/// A plan on record.
#[derive(Debug, Clone, PartialEq)]
pub struct Plan {
    /// Identifier.
    pub id: Uuid,
    /// Whose it is.
    pub client_id: Uuid,
    /// What it is called.
    pub name: String,
    /// Its rules.
    pub rules: Rules,
    /// How often it was changed.
    pub version: i32,
}

/// A week that was opened.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Opened {
    /// 1 the first.
    pub week: u8,
    /// What was done for it, in sentences.
    pub notes: Vec<String>,
}

/// A workout of a plan.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PlanDay {
    /// Identifier.
    pub id: Uuid,
    /// Its session.
    pub session: Uuid,
    /// Its day.
    pub on: NaiveDate,
    /// Where it is.
    pub place: Uuid,
    /// How far it is.
    pub state: WorkoutState,
    /// The day it was planned for before.
    pub moved_from: Option<NaiveDate>,
    /// Its week.
    pub week: u8,
    /// Whether that is a lighter one.
    pub light: bool,
}

impl PlanDay {
    /// As the rule for what was missed sees it.
    pub fn planned(&self) -> Planned<Uuid> {
        Planned { key: self.id, on: self.on, open: self.state == WorkoutState::Planned }
    }
}

/// A workout that a week is to have.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct NewDay {
    /// Its session.
    pub session: Uuid,
    /// Its day.
    pub on: NaiveDate,
    /// The day it would have been on.
    pub instead_of: Option<NaiveDate>,
    /// Where it is.
    pub place: Uuid,
    /// Which fits of its lines are done.
    pub turn: Turn,
    /// Whether it is lighter.
    pub light: bool,
}

fn read(id: Uuid, client_id: Uuid, name: String, plan: serde_json::Value, version: i32) -> Result<Plan, StoreError> {
    Ok(Plan { id, client_id, name, rules: document::read(plan, "plans.plan", id)?, version })
}

/// The plan that a client follows.
pub async fn of_client(db: impl PgExecutor<'_>, trainer: TrainerId, client: Uuid) -> Result<Option<Plan>, StoreError> {
    let row = sqlx::query!(
        "select id, client_id, name, plan, version from plans
         where trainer_id = $1 and client_id = $2 and ended_at is null",
        trainer.0,
        client
    );
    let row = row.fetch_optional(db).await?;
    row.map(|row| read(row.id, row.client_id, row.name, row.plan, row.version)).transpose()
}

/// A plan. `NotFound` where it is not this trainer's.
pub async fn one(pool: &Pool, trainer: TrainerId, id: Uuid) -> Result<Plan, StoreError> {
    let row = sqlx::query!(
        "select id, client_id, name, plan, version from plans where trainer_id = $1 and id = $2",
        trainer.0,
        id
    );
    let row = row.fetch_one(pool).await?;
    read(row.id, row.client_id, row.name, row.plan, row.version)
}

/// Sessions and places of the rules are the client's and stand, or `NotFound`.
async fn check(tx: &mut sqlx::PgConnection, trainer: TrainerId, plan: &Plan) -> Result<(), StoreError> {
    let mut sessions: Vec<Uuid> = plan.rules.due.iter().map(|d| d.session).collect();
    sessions.sort_unstable();
    sessions.dedup();
    let mut places: Vec<Uuid> = plan.rules.due.iter().map(|d| d.place).collect();
    places.extend(plan.rules.trips.iter().map(|t| t.place));
    places.sort_unstable();
    places.dedup();
    let row = sqlx::query!(
        r#"select (select count(*) from sessions where trainer_id = $1 and client_id = $2 and id = any($3)
                     and removed_at is null) as "sessions!",
                  (select count(*) from places where trainer_id = $1 and client_id = $2 and id = any($4)
                     and removed_at is null and proposal_of is null) as "places!""#,
        trainer.0,
        plan.client_id,
        &sessions,
        &places
    );
    let row = row.fetch_one(tx).await?;
    let whole = (row.sessions, row.places) == (sessions.len() as i64, places.len() as i64);
    if whole { Ok(()) } else { Err(StoreError::NotFound) }
}

/// Begins a plan in place of the one that the client followed, which ends; what was planned by that and not begun goes. Sent
/// twice it is stored once. `ClearanceNeeded` where the client's screening stops new plans, `NotFound` where a session or place
/// is not the client's.
pub async fn begin(pool: &Pool, trainer: TrainerId, plan: &Plan) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    health::pass(&mut tx, trainer, Whose::Client(plan.client_id), PlanChange::Hardens).await?;
    check(&mut tx, trainer, plan).await?;
    let known = sqlx::query!("select id from plans where trainer_id = $1 and id = $2", trainer.0, plan.id);
    if known.fetch_optional(&mut *tx).await?.is_some() {
        return Ok(());
    }
    end_open(&mut tx, trainer, plan.client_id).await?;
    sqlx::query!(
        "insert into plans (trainer_id, id, client_id, name, plan) values ($1, $2, $3, $4, $5)",
        trainer.0,
        plan.id,
        plan.client_id,
        plan.name,
        serde_json::to_value(&plan.rules)?
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(())
}

/// Changes a plan; its open weeks are to be laid anew after it. `Conflict` where it was changed since the version it carries,
/// otherwise as [`begin`].
pub async fn change(pool: &Pool, trainer: TrainerId, plan: &Plan) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    health::pass(&mut tx, trainer, Whose::Client(plan.client_id), PlanChange::Hardens).await?;
    check(&mut tx, trainer, plan).await?;
    let done = sqlx::query!(
        "update plans set name = $4, plan = $5, version = version + 1
         where trainer_id = $1 and id = $2 and version = $3 and client_id = $6 and ended_at is null",
        trainer.0,
        plan.id,
        plan.version,
        plan.name,
        serde_json::to_value(&plan.rules)?,
        plan.client_id
    );
    if done.execute(&mut *tx).await?.rows_affected() != 1 {
        return Err(StoreError::Conflict);
    }
    tx.commit().await?;
    Ok(())
}

/// Ends the plan that a client follows: what it planned and nobody began goes, what was done stays.
pub async fn end(pool: &Pool, trainer: TrainerId, client: Uuid) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    end_open(&mut tx, trainer, client).await?;
    tx.commit().await?;
    Ok(())
}

async fn end_open(tx: &mut sqlx::PgConnection, trainer: TrainerId, client: Uuid) -> Result<(), StoreError> {
    let ended = sqlx::query_scalar!(
        "update plans set ended_at = now() where trainer_id = $1 and client_id = $2 and ended_at is null returning id",
        trainer.0,
        client
    );
    if let Some(plan) = ended.fetch_optional(&mut *tx).await? {
        clear(tx, trainer, plan, None).await?;
    }
    Ok(())
}

/// Takes away what a plan planned and nobody began, of one week or of all. A session keeps one day at least: what is the only one
/// is let go by the plan and stays.
async fn clear(
    tx: &mut sqlx::PgConnection,
    trainer: TrainerId,
    plan: Uuid,
    week: Option<i16>,
) -> Result<(), StoreError> {
    sqlx::query!(
        "delete from workouts w
         where w.trainer_id = $1 and w.plan_id = $2 and ($3::smallint is null or w.plan_week = $3) and w.state = 'planned'
           and not exists (select 1 from logged_sets l where l.trainer_id = $1 and l.workout_id = w.id)
           and exists (
             select 1 from workouts o where o.trainer_id = $1 and o.session_id = w.session_id and o.id <> w.id
               and (o.plan_id is distinct from $2 or o.state <> 'planned'
                    or ($3::smallint is not null and o.plan_week <> $3)))",
        trainer.0,
        plan,
        week
    )
    .execute(&mut *tx)
    .await?;
    sqlx::query!(
        "update workouts set plan_id = null, plan_week = null, light = false, turn = 'usual', let_go = true
         where trainer_id = $1 and plan_id = $2 and ($3::smallint is null or plan_week = $3) and state = 'planned'",
        trainer.0,
        plan,
        week
    )
    .execute(tx)
    .await?;
    Ok(())
}

/// The weeks that were opened, the latest last.
pub async fn opened(pool: &Pool, trainer: TrainerId, plan: Uuid) -> Result<Vec<Opened>, StoreError> {
    let rows = sqlx::query!(
        "select week, notes from plan_weeks
         where trainer_id = $1 and plan_id = $2 and opened_at is not null order by week",
        trainer.0,
        plan
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    rows.map(|row| {
        let notes = document::read(row.notes, "plan_weeks.notes", plan)?;
        Ok(Opened { week: row.week.unsigned_abs() as u8, notes })
    })
    .collect()
}

/// The workouts of a plan by day.
pub async fn days(pool: &Pool, trainer: TrainerId, plan: Uuid) -> Result<Vec<PlanDay>, StoreError> {
    let rows = sqlx::query!(
        r#"select id, session_id, planned_on, place_id, state, moved_from, plan_week as "week!", light from workouts
           where trainer_id = $1 and plan_id = $2 and plan_week is not null order by planned_on, id"#,
        trainer.0,
        plan
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    rows.map(|row| {
        Ok(PlanDay {
            id: row.id,
            session: row.session_id,
            on: row.planned_on,
            place: row.place_id,
            state: word(&row.state, WorkoutState::from_id)?,
            moved_from: row.moved_from,
            week: row.week.unsigned_abs() as u8,
            light: row.light,
        })
    })
    .collect()
}

/// Claims a week, to open it: `false` where somebody else has or did. A claim that came to nothing can be made again.
pub async fn claim(
    pool: &Pool,
    trainer: TrainerId,
    plan: Uuid,
    week: u8,
    now: DateTime<Utc>,
) -> Result<bool, StoreError> {
    let done = sqlx::query!(
        "insert into plan_weeks (trainer_id, plan_id, week, claimed_at) values ($1, $2, $3, $4)
         on conflict (trainer_id, plan_id, week) do update set claimed_at = $4
         where plan_weeks.opened_at is null and plan_weeks.claimed_at < $5",
        trainer.0,
        plan,
        i16::from(week),
        now,
        now - CLAIM
    );
    Ok(done.execute(pool).await?.rows_affected() == 1)
}

/// Gives a week its workouts, in place of those of it that were planned and not begun, and says that it is open. What lies before
/// `from` is left as it is. The first week that opens, or opens again, takes over what was planned for itself. `ClearanceNeeded`
/// where the client's screening stops new plans.
pub async fn open(
    pool: &Pool,
    trainer: TrainerId,
    plan: &Plan,
    (week, days, from): (u8, &[NewDay], NaiveDate),
    notes: &[String],
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    health::pass(&mut tx, trainer, Whose::Client(plan.client_id), PlanChange::Hardens).await?;
    let number = i16::from(week);
    // What stands already of the week: a session that was begun or missed is not planned again.
    let settled = sqlx::query!(
        "select session_id, coalesce(moved_from, planned_on) as \"on!\" from workouts
         where trainer_id = $1 and plan_id = $2 and plan_week = $3 and state <> 'planned'",
        trainer.0,
        plan.id,
        number
    );
    let settled: Vec<(Uuid, NaiveDate)> =
        settled.fetch_all(&mut *tx).await?.into_iter().map(|r| (r.session_id, r.on)).collect();
    clear(&mut tx, trainer, plan.id, Some(number)).await?;
    for day in days {
        let asked = day.instead_of.unwrap_or(day.on);
        if day.on < from || settled.iter().any(|(session, on)| *session == day.session && *on == asked) {
            continue;
        }
        // A day that stands for itself becomes the plan's; one that was begun stays what it is.
        sqlx::query!(
            "insert into workouts (trainer_id, id, session_id, place_id, planned_on, moved_from, plan_id, plan_week, turn, light)
             values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)
             on conflict (trainer_id, session_id, planned_on) do update
             set place_id = excluded.place_id, plan_id = excluded.plan_id, plan_week = excluded.plan_week,
                 turn = excluded.turn, light = excluded.light, let_go = false
             where workouts.state = 'planned'",
            trainer.0,
            new_id(),
            day.session,
            day.place,
            day.on,
            day.instead_of,
            plan.id,
            number,
            day.turn.id(),
            day.light
        )
        .execute(&mut *tx)
        .await?;
    }
    take_over(&mut tx, trainer, plan, from).await?;
    sqlx::query!(
        "insert into plan_weeks (trainer_id, plan_id, week, opened_at, notes) values ($1, $2, $3, now(), $4)
         on conflict (trainer_id, plan_id, week) do update
         set opened_at = coalesce(plan_weeks.opened_at, now()), notes = plan_weeks.notes || excluded.notes",
        trainer.0,
        plan.id,
        number,
        serde_json::to_value(notes)?
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(())
}

/// What the plan let go because a session keeps one day at least is gone where the plan has days of it again; where it opens
/// its first week, what was planned for itself before, since the plan began or overdue, would be done beside it. A day that was
/// planned by hand while it runs stays.
async fn take_over(
    tx: &mut sqlx::PgConnection,
    trainer: TrainerId,
    plan: &Plan,
    from: NaiveDate,
) -> Result<(), StoreError> {
    sqlx::query!(
        "delete from workouts w using sessions s
         where w.trainer_id = $1 and s.trainer_id = $1 and s.id = w.session_id and s.client_id = $2 and w.plan_id is null
           and w.state = 'planned'
           and (w.let_go
                or ((w.planned_on < $3 or w.planned_on >= $5)
                    and not exists (select 1 from plan_weeks o
                                    where o.trainer_id = $1 and o.plan_id = $4 and o.opened_at is not null)))
           and not exists (select 1 from logged_sets l where l.trainer_id = $1 and l.workout_id = w.id)
           and exists (select 1 from workouts o where o.trainer_id = $1 and o.session_id = w.session_id and o.plan_id = $4)",
        trainer.0,
        plan.client_id,
        from,
        plan.id,
        plan.rules.starts_on
    )
    .execute(tx)
    .await?;
    Ok(())
}

/// Whether the lines of a plan were dosed by a school in one of some weeks already.
pub async fn dosed(
    pool: &Pool,
    trainer: TrainerId,
    plan: Uuid,
    [from, until]: [u8; 2],
    school: &str,
) -> Result<bool, StoreError> {
    let row = sqlx::query_scalar!(
        r#"select exists (select 1 from plan_weeks where trainer_id = $1 and plan_id = $2 and week between $3 and $4
                            and dosed_by = $5) as "dosed!""#,
        trainer.0,
        plan,
        i16::from(from),
        i16::from(until),
        school
    );
    Ok(row.fetch_one(pool).await?)
}

/// Says by which school the lines of a week were dosed, and what became of each.
pub async fn say_dosed(
    pool: &Pool,
    trainer: TrainerId,
    (plan, week): (Uuid, u8),
    school: &str,
    notes: &[String],
) -> Result<(), StoreError> {
    sqlx::query!(
        "update plan_weeks set dosed_by = $4, notes = notes || $5 where trainer_id = $1 and plan_id = $2 and week = $3",
        trainer.0,
        plan,
        i16::from(week),
        school,
        serde_json::to_value(notes)?
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Moves what was missed to other days, and says of the rest that it is missed. What was begun meanwhile stays.
pub async fn settle(
    pool: &Pool,
    trainer: TrainerId,
    moved: &[(Uuid, NaiveDate)],
    missed: &[Uuid],
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    for (id, on) in moved {
        sqlx::query!(
            "update workouts w set planned_on = $3, moved_from = coalesce(moved_from, planned_on)
             where trainer_id = $1 and id = $2 and state = 'planned'
               and not exists (select 1 from workouts o where o.trainer_id = $1 and o.session_id = w.session_id
                                 and o.planned_on = $3)",
            trainer.0,
            id,
            on
        )
        .execute(&mut *tx)
        .await?;
    }
    sqlx::query!(
        "update workouts set state = 'missed' where trainer_id = $1 and id = any($2) and state = 'planned'",
        trainer.0,
        missed
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(())
}

/// Plans of all trainers that may have something to be done: a week that is not open and begins by a day, what was planned before
/// today and not begun, or a phase that has come and doses nothing yet.
pub async fn waiting(pool: &Pool, by: NaiveDate, today: NaiveDate) -> Result<Vec<(TrainerId, Uuid)>, StoreError> {
    let rows = sqlx::query!(
        "select p.trainer_id, p.id from plans p join clients c on c.trainer_id = p.trainer_id and c.id = p.client_id
         where p.ended_at is null and c.archived_at is null and (p.plan->>'starts_on')::date <= $1
           and ((select count(*) from plan_weeks o
                 where o.trainer_id = p.trainer_id and o.plan_id = p.id and o.opened_at is not null)
                  < least((p.plan->>'weeks')::integer, ($1 - (p.plan->>'starts_on')::date) / 7 + 1)
                or exists (select 1 from workouts w where w.trainer_id = p.trainer_id and w.plan_id = p.id
                             and w.state = 'planned' and w.planned_on < $2)
                or exists (select 1 from jsonb_array_elements(p.plan->'phases') f
                           where (f->>'from_week')::integer <= ($2 + 1 - (p.plan->>'starts_on')::date) / 7 + 1
                             and $2 + 1 >= (p.plan->>'starts_on')::date
                             and not exists (select 1 from plan_weeks o
                                             where o.trainer_id = p.trainer_id and o.plan_id = p.id
                                               and o.week >= (f->>'from_week')::integer and o.dosed_by is not null)))",
        by,
        today
    );
    Ok(rows.fetch_all(pool).await?.into_iter().map(|row| (TrainerId(row.trainer_id), row.id)).collect())
}

/// The plan that a client followed last, where it was ended.
pub async fn ended_last(pool: &Pool, trainer: TrainerId, client: Uuid) -> Result<Option<(Uuid, String)>, StoreError> {
    let row = sqlx::query!(
        "select id, name from plans where trainer_id = $1 and client_id = $2 and ended_at is not null
         order by ended_at desc limit 1",
        trainer.0,
        client
    );
    Ok(row.fetch_optional(pool).await?.map(|row| (row.id, row.name)))
}

/// Takes up a plan that was ended, in place of the one that runs. `NotFound` where it is not the client's, `ClearanceNeeded` where
/// the client's screening stops new plans.
pub async fn again(pool: &Pool, trainer: TrainerId, client: Uuid, id: Uuid) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    health::pass(&mut tx, trainer, Whose::Client(client), PlanChange::Hardens).await?;
    end_open(&mut tx, trainer, client).await?;
    let done = sqlx::query!(
        "update plans set ended_at = null where trainer_id = $1 and client_id = $2 and id = $3",
        trainer.0,
        client,
        id
    );
    if done.execute(&mut *tx).await?.rows_affected() != 1 {
        return Err(StoreError::NotFound);
    }
    tx.commit().await?;
    Ok(())
}
