//! What was sent to clients: a stand-in for e-mail and text messages that ships with the application.

use chrono::{DateTime, Duration, Utc};
use sqlx::types::Json;
use uuid::Uuid;

use crate::document::word;
use crate::{Pool, StoreError, TrainerId};

/// What a message is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// The link to the workouts.
    Link,
    /// What happened in some weeks.
    Summary,
    /// To the trainer: a link to a new password.
    Reset,
    /// To a colleague: a link by which an account is made.
    Invitation,
    /// That a workout comes.
    Reminder,
    /// A link that a calendar follows.
    Calendar,
}

impl Kind {
    fn from_id(id: &str) -> Option<Self> {
        let all = [Self::Link, Self::Summary, Self::Reset, Self::Invitation, Self::Reminder, Self::Calendar];
        all.into_iter().find(|k| k.id() == id)
    }

    const fn id(self) -> &'static str {
        match self {
            Self::Link => "link",
            Self::Summary => "summary",
            Self::Reset => "reset",
            Self::Invitation => "invitation",
            Self::Reminder => "reminder",
            Self::Calendar => "calendar",
        }
    }
}

/// A message.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Message {
    /// Identifier: the same one twice is sent once.
    pub id: Uuid,
    /// The client whom it is for; none where it is for the trainer.
    pub client_id: Option<Uuid>,
    /// Their address as it was then; empty where none is known.
    pub recipient: String,
    /// What it is about.
    pub subject: String,
    /// What it says. A link stands in it by its last characters alone.
    pub body: String,
    /// What kind of message.
    pub kind: Kind,
    /// Pictures that come with it, as SVG.
    pub pictures: Vec<String>,
    /// When it was written.
    pub written_at: DateTime<Utc>,
    /// When it was delivered.
    pub delivered_at: Option<DateTime<Utc>>,
    /// How often that was tried.
    pub attempts: u16,
    /// When it is tried next.
    pub next_try_at: Option<DateTime<Utc>>,
    /// What went wrong last.
    pub trouble: String,
}

/// A letter that is to be delivered now.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Due {
    /// Whose it is.
    pub trainer: TrainerId,
    /// Identifier.
    pub id: Uuid,
    /// The address; empty where none is known.
    pub recipient: String,
    /// What it is about.
    pub subject: String,
    /// What it says, whole.
    pub whole: String,
    /// Pictures that come with it, as SVG.
    pub pictures: Vec<String>,
}

/// Waits after a try that failed, minutes: the last one tried is the last.
const WAITS: [i32; 6] = [1, 5, 30, 120, 480, 1440];
/// How long a letter that did not arrive is kept whole.
const KEPT_WHOLE: Duration = Duration::days(7);

/// Keeps a message with what is to be delivered of it, from a moment on where it is to be; `false` where it was kept before.
pub async fn add(pool: &Pool, trainer: TrainerId, message: &Message, whole: Option<&str>) -> Result<bool, StoreError> {
    let done = sqlx::query!(
        "insert into outbox (trainer_id, id, client_id, kind, recipient, subject, body, written_at, delivered_at,
                             pictures, whole, next_try_at)
         values ($1, $2, $3, $9, $4, $5, $6, $7, $8, $10, $11, $12) on conflict (trainer_id, id) do nothing",
        trainer.0,
        message.id,
        message.client_id,
        message.recipient,
        message.subject,
        message.body,
        message.written_at,
        message.delivered_at,
        message.kind.id(),
        serde_json::to_value(&message.pictures)?,
        whole,
        message.next_try_at
    )
    .execute(pool)
    .await?;
    Ok(done.rows_affected() == 1)
}

/// Which of these messages of a trainer are kept already.
pub async fn kept(pool: &Pool, trainer: TrainerId, ids: &[Uuid]) -> Result<Vec<Uuid>, StoreError> {
    let rows = sqlx::query_scalar!("select id from outbox where trainer_id = $1 and id = any($2)", trainer.0, ids);
    Ok(rows.fetch_all(pool).await?)
}

/// Takes a letter that is due, so that nobody else does; a named one at once. Should whoever took it be gone, it is due again later.
pub async fn claim(pool: &Pool, named: Option<Uuid>, now: DateTime<Utc>) -> Result<Option<Due>, StoreError> {
    let row = sqlx::query!(
        r#"update outbox o set attempts = o.attempts + 1,
                  next_try_at = $1 + make_interval(mins => ($2::int[])[least(o.attempts + 1, cardinality($2::int[]))])
           from (select trainer_id, id from outbox
                 where next_try_at <= $1 and whole is not null and ($3::uuid is null or id = $3)
                 order by next_try_at for update skip locked limit 1) d
           where o.trainer_id = d.trainer_id and o.id = d.id
           returning o.trainer_id, o.id, o.recipient, o.subject, o.whole as "whole!",
                     o.pictures as "pictures: Json<Vec<String>>""#,
        now,
        &WAITS,
        named
    );
    Ok(row.fetch_optional(pool).await?.map(|row| Due {
        trainer: TrainerId(row.trainer_id),
        id: row.id,
        recipient: row.recipient,
        subject: row.subject,
        whole: row.whole,
        pictures: row.pictures.0,
    }))
}

/// A letter arrived: what was to be delivered of it is kept no more.
pub async fn arrived(pool: &Pool, trainer: TrainerId, id: Uuid, now: DateTime<Utc>) -> Result<(), StoreError> {
    sqlx::query!(
        "update outbox set delivered_at = $3, next_try_at = null, whole = null, trouble = ''
         where trainer_id = $1 and id = $2",
        trainer.0,
        id,
        now
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// A letter did not arrive. After as many tries as there are waits nobody tries any more.
pub async fn failed(pool: &Pool, trainer: TrainerId, id: Uuid, why: &str) -> Result<(), StoreError> {
    let most = i16::try_from(WAITS.len()).unwrap_or(i16::MAX);
    sqlx::query!(
        "update outbox set trouble = $3, next_try_at = case when attempts < $4 then next_try_at end
         where trainer_id = $1 and id = $2",
        trainer.0,
        id,
        why,
        most
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Has a letter tried again now. `NotFound` where it arrived or is not kept whole any more.
pub async fn again(pool: &Pool, trainer: TrainerId, id: Uuid, now: DateTime<Utc>) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update outbox set attempts = 0, next_try_at = $3
         where trainer_id = $1 and id = $2 and delivered_at is null and whole is not null",
        trainer.0,
        id,
        now
    );
    if done.execute(pool).await?.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// Keeps letters that never arrived no longer whole.
pub async fn sweep(pool: &Pool, now: DateTime<Utc>) -> Result<(), StoreError> {
    sqlx::query!(
        "update outbox set whole = null, next_try_at = null where (trainer_id, id) in
            (select trainer_id, id from outbox where whole is not null and written_at < $1)",
        now - KEPT_WHOLE
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Messages that are listed.
const MOST_LISTED: i64 = 100;

/// What was sent, the newest first, each with its client's name.
pub async fn all(pool: &Pool, trainer: TrainerId) -> Result<Vec<(Option<String>, Message)>, StoreError> {
    let rows = sqlx::query!(
        r#"select o.id, o.client_id, o.kind, o.recipient, o.subject, o.body, o.written_at, o.delivered_at,
                o.attempts, o.next_try_at, o.trouble,
                c.name as "name?",
                o.pictures as "pictures: Json<Vec<String>>"
         from outbox o left join clients c on c.trainer_id = o.trainer_id and c.id = o.client_id
         where o.trainer_id = $1 order by o.written_at desc, o.id desc limit $2"#,
        trainer.0,
        MOST_LISTED
    );
    let listed = rows.fetch_all(pool).await?.into_iter().map(|row| {
        let message = Message {
            id: row.id,
            client_id: row.client_id,
            recipient: row.recipient,
            subject: row.subject,
            body: row.body,
            kind: word(&row.kind, Kind::from_id)?,
            pictures: row.pictures.0,
            written_at: row.written_at,
            delivered_at: row.delivered_at,
            attempts: row.attempts.unsigned_abs(),
            next_try_at: row.next_try_at,
            trouble: row.trouble,
        };
        Ok((row.name, message))
    });
    listed.collect()
}
