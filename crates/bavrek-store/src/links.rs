//! Links by which clients reach their own workouts, and what whoever comes by one may touch.
//!
//! A link is 32 random bytes, of which only the hash is kept: whoever reads the database cannot come in. What it reaches is a value,
//! [`Access`]: it holds the trainer's identifier to itself, and gives out the right to one session of its client, nothing else.

use chrono::{DateTime, Duration, NaiveDate, Utc};
use sha2::{Digest, Sha256};
use uuid::Uuid;

use crate::sessions::{self, SessionHead};
use crate::{Pool, StoreError, TrainerId, wall};

/// The hash by which a link is known.
fn hash(secret: &str) -> Vec<u8> {
    Sha256::digest(secret.as_bytes()).to_vec()
}

/// A new link.
#[derive(Debug, Clone)]
pub struct NewLink<'a> {
    /// Identifier, given by the form: the same one twice is one link.
    pub id: Uuid,
    /// Whose workouts it reaches.
    pub client: Uuid,
    /// Where it reaches one session alone.
    pub session: Option<Uuid>,
    /// What stands in it.
    pub secret: &'a str,
    /// Now.
    pub made_at: DateTime<Utc>,
    /// The last day on which it opens.
    pub ends_on: Option<NaiveDate>,
}

/// Makes a link; all others of the same reach end with it. `false` where it was made before.
pub async fn make(pool: &Pool, trainer: TrainerId, new: &NewLink<'_>) -> Result<bool, StoreError> {
    let mut tx = pool.begin().await?;
    let done = sqlx::query!(
        "insert into links (trainer_id, id, client_id, session_id, hash, made_at, ends_on)
         values ($1, $2, $3, $4, $5, $6, $7) on conflict (trainer_id, id) do nothing",
        trainer.0,
        new.id,
        new.client,
        new.session,
        hash(new.secret),
        new.made_at,
        new.ends_on
    )
    .execute(&mut *tx)
    .await?;
    if done.rows_affected() == 1 {
        sqlx::query!(
            "update links set ended_at = $5
             where trainer_id = $1 and client_id = $2 and session_id is not distinct from $3 and id <> $4
               and ended_at is null",
            trainer.0,
            new.client,
            new.session,
            new.id,
            new.made_at
        )
        .execute(&mut *tx)
        .await?;
    }
    tx.commit().await?;
    Ok(done.rows_affected() == 1)
}

/// A link as its trainer sees it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Link {
    /// Identifier.
    pub id: Uuid,
    /// The session, where it reaches one alone.
    pub session: Option<String>,
    /// When it was made.
    pub made_at: DateTime<Utc>,
    /// The last day on which it opens.
    pub ends_on: Option<NaiveDate>,
    /// When it was ended.
    pub ended_at: Option<DateTime<Utc>>,
    /// When it was last used.
    pub used_at: Option<DateTime<Utc>>,
}

/// Links that are listed.
const MOST_LISTED: i64 = 20;

/// A client's links, the newest first.
pub async fn of_client(pool: &Pool, trainer: TrainerId, client: Uuid) -> Result<Vec<Link>, StoreError> {
    Ok(sqlx::query_as!(
        Link,
        r#"select l.id, s.name as "session?", l.made_at, l.ends_on, l.ended_at, l.used_at
           from links l left join sessions s on s.trainer_id = l.trainer_id and s.id = l.session_id
           where l.trainer_id = $1 and l.client_id = $2 order by l.made_at desc, l.id desc limit $3"#,
        trainer.0,
        client,
        MOST_LISTED
    )
    .fetch_all(pool)
    .await?)
}

/// Ends a link. Ending it twice changes nothing.
pub async fn end(
    pool: &Pool,
    trainer: TrainerId,
    client: Uuid,
    id: Uuid,
    now: DateTime<Utc>,
) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update links set ended_at = coalesce(ended_at, $4) where trainer_id = $1 and client_id = $2 and id = $3",
        trainer.0,
        client,
        id,
        now
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// What a link reaches. Only [`open`] makes one.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Access {
    trainer: TrainerId,
    client: Uuid,
    session: Option<Uuid>,
    link: Uuid,
    time_zone: String,
    ends_on: Option<NaiveDate>,
    ended: bool,
}

/// The right to one session: what the phone may read and where it may write.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Admitted {
    /// Whose data it is.
    pub trainer: TrainerId,
    /// The client.
    pub client: Uuid,
    /// The session.
    pub session: Uuid,
    /// The link by which it was reached; none on the trainer's own device.
    pub link: Option<Uuid>,
}

/// How often it is marked that a link was used: a phone asks many times a minute.
const MARKED_EVERY: Duration = Duration::minutes(1);

/// Finds what a link reaches, ended or not, and marks that it was used where it still opens.
pub async fn open(pool: &Pool, secret: &str, now: DateTime<Utc>) -> Result<Access, StoreError> {
    let row = sqlx::query!(
        r#"select l.trainer_id, l.id, l.client_id, l.session_id, l.ends_on, l.ended_at, c.time_zone,
                  l.ended_at is null and coalesce(l.used_at < $2, true) as "to_mark!"
           from links l join clients c on c.trainer_id = l.trainer_id and c.id = l.client_id where l.hash = $1"#,
        hash(secret),
        now - MARKED_EVERY
    )
    .fetch_one(pool)
    .await?;
    wall::raise(TrainerId(row.trainer_id));
    if row.to_mark {
        sqlx::query!("update links set used_at = $3 where trainer_id = $1 and id = $2", row.trainer_id, row.id, now)
            .execute(pool)
            .await?;
    }
    Ok(Access {
        trainer: TrainerId(row.trainer_id),
        client: row.client_id,
        session: row.session_id,
        link: row.id,
        time_zone: row.time_zone,
        ends_on: row.ends_on,
        ended: row.ended_at.is_some(),
    })
}

impl Access {
    /// The client's time zone: days are theirs.
    pub fn time_zone(&self) -> &str {
        &self.time_zone
    }

    /// Whether it still opens on a day.
    pub fn opens(&self, today: NaiveDate) -> bool {
        !self.ended && self.ends_on.is_none_or(|last| today <= last)
    }

    /// The sessions that it reaches, by day.
    pub async fn sessions(&self, pool: &Pool) -> Result<Vec<SessionHead>, StoreError> {
        let mut heads = sessions::of_client(pool, self.trainer, self.client).await?;
        heads.retain(|head| self.session.is_none_or(|only| head.id == only));
        Ok(heads)
    }

    /// The right to a session; `NotFound` where it does not reach it. A session that was taken out is reached: what was done in it
    /// can still be told.
    pub async fn admit(&self, pool: &Pool, session: Uuid) -> Result<Admitted, StoreError> {
        let reached = self.session.is_none_or(|only| session == only);
        let head = sessions::head(pool, self.trainer, session).await?;
        if !reached || head.client_id != self.client {
            return Err(StoreError::NotFound);
        }
        Ok(Admitted { trainer: self.trainer, client: self.client, session, link: Some(self.link) })
    }
}

impl Admitted {
    /// The right of a trainer to a session.
    pub async fn of_trainer(pool: &Pool, trainer: TrainerId, session: Uuid) -> Result<Self, StoreError> {
        let head = sessions::head(pool, trainer, session).await?;
        Ok(Self { trainer, client: head.client_id, session, link: None })
    }
}
