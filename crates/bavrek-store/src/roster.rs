//! The list of clients with what needs the trainer, searched, filtered, sorted and a page at a time.

use bavrek_core::log::PAIN_THAT_STOPS;
use chrono::{DateTime, NaiveDate, Utc};
use sqlx::{Connection as _, PgConnection};
use uuid::Uuid;

use crate::{Pool, StoreError, TrainerId};

/// Clients on one page.
pub const PAGE: i64 = 25;

/// Clients whose lines are worked out anew at once, which holds their lines for a tenth of a second.
const AT_ONCE: usize = 500;

/// Which clients are listed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Show {
    /// All that are not put away.
    #[default]
    All,
    /// With calls that nobody has decided about.
    Waiting,
    /// Who reported pain of 4 or more in the last two weeks.
    Pain,
    /// Whose latest screening waits for a clearance.
    Stopped,
    /// Without a session from today on.
    Unplanned,
    /// Put away.
    Archived,
}

/// In which order.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Order {
    /// Pain first, then the next session.
    #[default]
    Need,
    /// By name.
    Name,
    /// Those who trained last first.
    Logged,
}

impl Show {
    /// Every choice with its identifier and label.
    pub const ALL: [(Self, &'static str, &'static str); 6] = [
        (Self::All, "all", "all"),
        (Self::Waiting, "waiting", "calls waiting"),
        (Self::Pain, "pain", "pain reported"),
        (Self::Stopped, "stopped", "clearance needed"),
        (Self::Unplanned, "unplanned", "no session ahead"),
        (Self::Archived, "archived", "archived"),
    ];

    /// The identifier.
    pub fn id(self) -> &'static str {
        Self::ALL.iter().find(|(s, ..)| *s == self).map_or("all", |(_, id, _)| id)
    }
}

impl Order {
    /// Every choice with its identifier and label.
    pub const ALL: [(Self, &'static str, &'static str); 3] = [
        (Self::Need, "need", "who needs me first"),
        (Self::Name, "name", "name"),
        (Self::Logged, "logged", "last logged"),
    ];

    /// The identifier.
    pub fn id(self) -> &'static str {
        Self::ALL.iter().find(|(s, ..)| *s == self).map_or("need", |(_, id, _)| id)
    }
}

/// What is asked of the list.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Wanted {
    /// Part of the name or goal; empty for everybody.
    pub search: String,
    /// Which clients.
    pub show: Show,
    /// In which order.
    pub order: Order,
    /// The page, from 0.
    pub page: i64,
}

/// A client in the roster, with what needs the trainer.
#[derive(Debug, Clone, PartialEq)]
pub struct RosterLine {
    /// Identifier.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Goal.
    pub goal: String,
    /// First place by name.
    pub place: Option<String>,
    /// The next or latest planned session.
    pub session: Option<(Uuid, String, NaiveDate)>,
    /// Day of the last logged set.
    pub last_logged: Option<NaiveDate>,
    /// The client's own day.
    pub today: NaiveDate,
    /// Highest pain logged in the last two weeks.
    pub pain: Option<u8>,
    /// Slots whose latest set nobody has decided about.
    pub calls_waiting: i64,
    /// Whether the latest screening waits for a clearance.
    pub stopped: bool,
}

/// A page of the roster.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct RosterPage {
    /// Its lines.
    pub lines: Vec<RosterLine>,
    /// Clients on all pages together.
    pub total: i64,
}

/// The page that is asked for; the last one where it lies beyond.
pub async fn page(
    pool: &Pool,
    trainer: TrainerId,
    now: DateTime<Utc>,
    wanted: &Wanted,
) -> Result<RosterPage, StoreError> {
    let mut connection = crate::connection(pool).await?;
    let (mut found, fresh) = read(&mut connection, trainer, now, wanted).await?;
    if !fresh {
        let changed = changed(&mut connection, trainer, now).await?;
        if !changed.is_empty() {
            for some in changed.chunks(AT_ONCE) {
                renew(&mut connection, trainer, now, some).await?;
            }
            (found, _) = read(&mut connection, trainer, now, wanted).await?;
        }
    }
    if found.lines.is_empty() && wanted.page > 0 {
        let (first, _) = read(&mut connection, trainer, now, &Wanted { page: 0, ..wanted.clone() }).await?;
        let last = (first.total - 1).max(0) / PAGE;
        (found, _) = read(&mut connection, trainer, now, &Wanted { page: last, ..wanted.clone() }).await?;
    }
    Ok(found)
}

/// Clients of whom something was written, or for whom another day began, since their lines were worked out.
async fn changed(db: &mut PgConnection, trainer: TrainerId, now: DateTime<Utc>) -> Result<Vec<Uuid>, StoreError> {
    let found = sqlx::query_scalar!(
        r#"with days as materialized (
             select time_zone, ($2::timestamptz at time zone time_zone)::date as today
             from (select distinct time_zone from clients where trainer_id = $1) z)
           select distinct client_id as "id!" from roster_changes where trainer_id = $1
           union
           select r.client_id from roster_lines r
           join clients c on c.trainer_id = r.trainer_id and c.id = r.client_id
           join days d on d.time_zone = c.time_zone
           where r.trainer_id = $1 and r.day is distinct from d.today"#,
        trainer.0,
        now
    );
    Ok(found.fetch_all(db).await?)
}

/// Works out anew what is shown of some clients.
///
/// Their lines are held first, so that of two readers the later one does not write over what it has not seen. What was noted
/// is taken away by the very statement that looks: what is written meanwhile stays noted.
async fn renew(
    db: &mut PgConnection,
    trainer: TrainerId,
    now: DateTime<Utc>,
    clients: &[Uuid],
) -> Result<(), StoreError> {
    let mut tx = db.begin().await?;
    sqlx::query!(
        "select client_id from roster_lines where trainer_id = $1 and client_id = any ($2) order by client_id for update",
        trainer.0,
        clients
    )
    .fetch_all(&mut *tx)
    .await?;
    sqlx::query!(
        // Looked up by itself: for a table that it knows nothing of yet the planner may think it worth doing for each row.
        r#"with seen as (
             delete from roster_changes where trainer_id = $1 and client_id = any ($3)),
           found as materialized (select * from work_out_roster($1, $2, $3))
           update roster_lines r
           set day = n.day, place = n.place, session_id = n.session_id, session_name = n.session_name,
               planned_on = n.planned_on, open = n.open, last_logged = n.last_logged, pain = n.pain, waiting = n.waiting,
               stopped = n.stopped
           from found n where r.trainer_id = $1 and r.client_id = n.client_id"#,
        trainer.0,
        now,
        clients
    )
    .execute(&mut *tx)
    .await?;
    Ok(tx.commit().await?)
}

/// A page by the lines as they are kept, and whether all of the trainer's are known to hold still.
async fn read(
    db: &mut PgConnection,
    trainer: TrainerId,
    now: DateTime<Utc>,
    wanted: &Wanted,
) -> Result<(RosterPage, bool), StoreError> {
    let escaped = crate::like(&wanted.search);
    let rows = sqlx::query!(
        r#"with days as materialized (
             select time_zone, ($2::timestamptz at time zone time_zone)::date as today
             from (select distinct time_zone from clients where trainer_id = $1) z),
           listed as (
             select c.id, c.name, c.goal, d.today, r.place, r.session_id, r.session_name, r.planned_on, r.last_logged, r.pain,
               r.waiting, r.stopped, r.stopped or coalesce(r.pain, 0) >= $8 as urgent,
               not r.open or coalesce(r.planned_on < d.today, true) as later
             from clients c
             join days d on d.time_zone = c.time_zone
             join roster_lines r on r.trainer_id = c.trainer_id and r.client_id = c.id
             where c.trainer_id = $1 and (c.archived_at is not null) = ($4 = 'archived')
               and ($3 = '' or c.name ilike '%' || $3 || '%' or c.goal ilike '%' || $3 || '%'))
           select id as "id!", name as "name!", goal as "goal!", today as "today!", place, session_id, session_name, planned_on,
             last_logged, pain, waiting as "waiting!", stopped as "stopped!", count(*) over () as "total!",
             not exists (select 1 from roster_changes where trainer_id = $1) and not exists (
               select 1 from roster_lines o
               join clients c on c.trainer_id = o.trainer_id and c.id = o.client_id
               join days d on d.time_zone = c.time_zone
               where o.trainer_id = $1 and o.day is distinct from d.today) as "fresh!"
           from listed
           where case $4
             when 'waiting' then waiting > 0
             when 'pain' then coalesce(pain, 0) >= $8
             when 'stopped' then stopped
             when 'unplanned' then later
             else true end
           order by case when $5 = 'need' then urgent end desc, case when $5 = 'need' then later end,
             case when $5 = 'need' then abs(planned_on - today) end nulls last,
             case when $5 = 'logged' then last_logged end desc nulls last, lower(name), id
           limit $6 offset $7"#,
        trainer.0,
        now,
        escaped,
        wanted.show.id(),
        wanted.order.id(),
        PAGE,
        wanted.page.clamp(0, 100_000) * PAGE,
        i32::from(PAIN_THAT_STOPS)
    )
    .fetch_all(db)
    .await?;
    let total = rows.first().map_or(0, |r| r.total);
    // Of a page without lines nothing is known.
    let fresh = rows.first().is_some_and(|r| r.fresh);
    let lines = rows
        .into_iter()
        .map(|row| RosterLine {
            id: row.id,
            name: row.name,
            goal: row.goal,
            place: row.place,
            session: row.session_id.zip(row.session_name).zip(row.planned_on).map(|((id, name), on)| (id, name, on)),
            last_logged: row.last_logged,
            today: row.today,
            pain: row.pain.and_then(|p| u8::try_from(p).ok()),
            calls_waiting: row.waiting,
            stopped: row.stopped,
        })
        .collect();
    Ok((RosterPage { lines, total }, fresh))
}
