//! The list of clients with what needs the trainer, searched, filtered, sorted and a page at a time.

use bavrek_core::log::PAIN_THAT_STOPS;
use chrono::{DateTime, NaiveDate, Utc};
use uuid::Uuid;

use crate::{Pool, StoreError, TrainerId};

/// Clients on one page.
pub const PAGE: i64 = 25;

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
    let found = read(pool, trainer, now, wanted).await?;
    if found.lines.is_empty() && wanted.page > 0 {
        let first = read(pool, trainer, now, &Wanted { page: 0, ..wanted.clone() }).await?;
        let last = (first.total - 1).max(0) / PAGE;
        return read(pool, trainer, now, &Wanted { page: last, ..wanted.clone() }).await;
    }
    Ok(found)
}

async fn read(pool: &Pool, trainer: TrainerId, now: DateTime<Utc>, wanted: &Wanted) -> Result<RosterPage, StoreError> {
    let escaped = crate::like(&wanted.search);
    let rows = sqlx::query!(
        // What costs most is worked out for the page alone unless it decides who is listed.
        // Open workouts are found first, in one go: looked up session by session they took half of the time.
        r#"with days as materialized (
             select time_zone, ($2::timestamptz at time zone time_zone)::date as today
             from (select distinct time_zone from clients where trainer_id = $1) z),
           open as materialized (
             select session_id, planned_on from workouts where trainer_id = $1 and state in ('planned', 'under_way')),
           ahead as materialized (
             select distinct on (x.client_id) x.client_id, x.id, x.name, w.planned_on
             from open w
             join sessions x on x.trainer_id = $1 and x.id = w.session_id and x.removed_at is null
             join clients c on c.trainer_id = x.trainer_id and c.id = x.client_id
             join days d on d.time_zone = c.time_zone
             order by x.client_id, w.planned_on < d.today, abs(w.planned_on - d.today), x.id),
           past as materialized (
             select distinct on (x.client_id) x.client_id, x.id, x.name, w.planned_on
             from sessions x
             join clients c on c.trainer_id = x.trainer_id and c.id = x.client_id join days d on d.time_zone = c.time_zone
             cross join lateral (
               select planned_on from workouts
               where trainer_id = x.trainer_id and session_id = x.id order by planned_on desc limit 1) w
             where x.trainer_id = $1 and x.removed_at is null and x.client_id not in (select client_id from ahead)
             order by x.client_id, abs(w.planned_on - d.today), x.id),
           screened as materialized (
             select distinct on (s.client_id) s.client_id, s.refers and not exists (
               select 1 from clearances k where k.trainer_id = s.trainer_id and k.screening_id = s.id) as stopped
             from screenings s where s.trainer_id = $1
             order by s.client_id, s.answered_on desc, s.recorded_at desc, s.id desc),
           listed as (
             select c.id, c.name, c.goal, d.today, coalesce(a.id, s.id) as session_id,
               coalesce(a.name, s.name) as session_name, coalesce(a.planned_on, s.planned_on) as planned_on,
               a.id is not null as open,
               case when $5 = 'logged' then (
                 select performed_on from sets_in_force
                 where trainer_id = c.trainer_id and client_id = c.id order by performed_on desc limit 1) end as logged,
               h.pain, coalesce(q.stopped, false) as stopped
             from clients c
             join days d on d.time_zone = c.time_zone
             left join ahead a on a.client_id = c.id
             left join past s on s.client_id = c.id
             left join lateral (
               select max((g.entry->>'pain')::int) as pain from sets_in_force g
               where g.trainer_id = c.trainer_id and g.client_id = c.id and g.entry ? 'pain'
                 and g.performed_on > d.today - 14) h on true
             left join screened q on q.client_id = c.id
             where c.trainer_id = $1 and (c.archived_at is not null) = ($4 = 'archived')
               and ($3 = '' or c.name ilike '%' || $3 || '%' or c.goal ilike '%' || $3 || '%')),
           ranked as (
             select *, count(*) over () as total,
               case when $5 = 'need' then stopped or coalesce(pain, 0) >= $8 end as urgent,
               case when $5 = 'need' then not open or planned_on < today end as later,
               case when $5 = 'need' then abs(planned_on - today) end as far, lower(name) as called
             from listed
             where case $4
               when 'waiting' then exists (select 1 from waiting_slots($1, id))
               when 'pain' then coalesce(pain, 0) >= $8
               when 'stopped' then stopped
               when 'unplanned' then coalesce(not open or planned_on < today, true)
               else true end),
           paged as (
             select * from ranked order by urgent desc, later, far nulls last, logged desc nulls last, called, id
             limit $6 offset $7)
           select id as "id!", name as "name!", goal as "goal!", today as "today!",
             (select min(p.name) from places p where p.trainer_id = $1 and p.client_id = paged.id
                and p.removed_at is null and p.archived_at is null) as place,
             session_id as "session_id?", session_name as "session_name?", planned_on as "planned_on?",
             (select performed_on from sets_in_force where trainer_id = $1 and client_id = paged.id
                order by performed_on desc limit 1) as last_logged,
             pain, (select count(*) from waiting_slots($1, id)) as "waiting!", stopped as "stopped!", total as "total!"
           from paged order by urgent desc, later, far nulls last, logged desc nulls last, called, id"#,
        trainer.0,
        now,
        escaped,
        wanted.show.id(),
        wanted.order.id(),
        PAGE,
        wanted.page.clamp(0, 100_000) * PAGE,
        i32::from(PAIN_THAT_STOPS)
    )
    .fetch_all(pool)
    .await?;
    let total = rows.first().map_or(0, |r| r.total);
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
    Ok(RosterPage { lines, total })
}
