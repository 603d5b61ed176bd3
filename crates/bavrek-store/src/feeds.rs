//! Calendars that others follow: links to them, and what they show.

use chrono::{DateTime, NaiveDate, NaiveTime, Utc};
use sha2::{Digest, Sha256};
use uuid::Uuid;

use crate::{Pool, StoreError, TrainerId, new_id, wall};

/// A calendar that is followed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Feed {
    /// Whose workouts it shows; none shows those of all clients.
    pub client: Option<Uuid>,
    /// When workouts begin; none where only the day is planned.
    pub starts_at: Option<NaiveTime>,
    /// Minutes before that at which an alarm is given.
    pub alarm: Option<u16>,
    /// When its link was made.
    pub made_at: DateTime<Utc>,
}

/// A workout in it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Shown {
    /// The workout.
    pub id: Uuid,
    /// Its session.
    pub session: Uuid,
    /// What that is called.
    pub name: String,
    /// Whose it is.
    pub client: String,
    /// Where their day is.
    pub time_zone: String,
    /// Where it is done.
    pub place: String,
    /// Its day.
    pub on: NaiveDate,
    /// How long it takes, min.
    pub minutes: u16,
    /// How often it was changed, and when last.
    pub sequence: u32,
    /// See `sequence`.
    pub changed_at: DateTime<Utc>,
    /// Whether it does not take place.
    pub off: bool,
}

/// Workouts that one calendar shows: those of 500 clients in two months, four a week each.
const MOST_SHOWN: i64 = 20_000;

fn hash(secret: &str) -> Vec<u8> {
    Sha256::digest(secret.as_bytes()).to_vec()
}

fn feed(client: Option<Uuid>, starts_at: Option<NaiveTime>, alarm: Option<i16>, made_at: DateTime<Utc>) -> Feed {
    Feed { client, starts_at, alarm: alarm.and_then(|m| u16::try_from(m).ok()), made_at }
}

/// Makes a link to a calendar; the one before it opens no more.
pub async fn make(pool: &Pool, trainer: TrainerId, new: &Feed, secret: &str) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into calendar_feeds (trainer_id, id, client_id, hash, starts_at, alarm_minutes, made_at)
         values ($1, $2, $3, $4, $5, $6, $7)
         on conflict (trainer_id, client_id) do update set id = excluded.id, hash = excluded.hash,
            starts_at = excluded.starts_at, alarm_minutes = excluded.alarm_minutes, made_at = excluded.made_at",
        trainer.0,
        new_id(),
        new.client,
        hash(secret),
        new.starts_at,
        new.alarm.and_then(|m| i16::try_from(m).ok()),
        new.made_at
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// The calendar of a client, or of all, where there is a link to it.
pub async fn of(pool: &Pool, trainer: TrainerId, client: Option<Uuid>) -> Result<Option<Feed>, StoreError> {
    let row = sqlx::query!(
        "select client_id, starts_at, alarm_minutes, made_at from calendar_feeds
         where trainer_id = $1 and client_id is not distinct from $2",
        trainer.0,
        client
    );
    let found = row.fetch_optional(pool).await?;
    Ok(found.map(|r| feed(r.client_id, r.starts_at, r.alarm_minutes, r.made_at)))
}

/// Ends the link to a calendar. Ending it twice changes nothing.
pub async fn end(pool: &Pool, trainer: TrainerId, client: Option<Uuid>) -> Result<(), StoreError> {
    sqlx::query!(
        "delete from calendar_feeds where trainer_id = $1 and client_id is not distinct from $2",
        trainer.0,
        client
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// The calendar to which a link leads. From here on, what is done is done for its trainer.
pub async fn open(pool: &Pool, secret: &str) -> Result<(TrainerId, Feed), StoreError> {
    let row = sqlx::query!(
        "select trainer_id, client_id, starts_at, alarm_minutes, made_at from calendar_feeds where hash = $1",
        hash(secret)
    )
    .fetch_one(pool)
    .await?;
    let trainer = TrainerId(row.trainer_id);
    wall::raise(trainer);
    Ok((trainer, feed(row.client_id, row.starts_at, row.alarm_minutes, row.made_at)))
}

/// What a calendar shows of some days: workouts, those that were missed or let go, and those that were taken out. Where there are
/// more than it takes, what lies furthest from today is left out, the past first.
pub async fn shown(
    pool: &Pool,
    trainer: TrainerId,
    client: Option<Uuid>,
    ([from, until], today): ([NaiveDate; 2], NaiveDate),
) -> Result<Vec<Shown>, StoreError> {
    let rows = sqlx::query!(
        r#"select w.id as "id!", w.session_id as "session_id!", s.name as "name!", c.name as "client!", c.time_zone as "time_zone!",
                  p.name as "place!", w.planned_on as "planned_on!", s.minutes as "minutes!", w.sequence as "sequence!",
                  w.changed_at as "changed_at!", w.off or s.removed_at is not null or c.archived_at is not null as "off!"
           from (
             select trainer_id, id, session_id, place_id, planned_on, sequence, changed_at, state = 'missed' or let_go as off
             from workouts where trainer_id = $1 and planned_on between $3 and $4
             union all
             select trainer_id, id, session_id, null, planned_on, sequence, out_at, true
             from workouts_out where trainer_id = $1 and planned_on between $3 and $4) w
           join sessions s on s.trainer_id = w.trainer_id and s.id = w.session_id
           join clients c on c.trainer_id = s.trainer_id and c.id = s.client_id
           join places p on p.trainer_id = s.trainer_id and p.id = coalesce(w.place_id, s.place_id)
           where $2::uuid is null or s.client_id = $2
           order by w.planned_on < $6, abs(w.planned_on - $6), w.id limit $5"#,
        trainer.0,
        client,
        from,
        until,
        MOST_SHOWN,
        today
    )
    .fetch_all(pool)
    .await?;
    Ok(rows
        .into_iter()
        .map(|r| Shown {
            id: r.id,
            session: r.session_id,
            name: r.name,
            client: r.client,
            time_zone: r.time_zone,
            place: r.place,
            on: r.planned_on,
            minutes: u16::try_from(r.minutes).unwrap_or_default(),
            sequence: u32::try_from(r.sequence).unwrap_or_default(),
            changed_at: r.changed_at,
            off: r.off,
        })
        .collect())
}
