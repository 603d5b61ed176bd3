//! What phones said: kept as it was said before anything is made of it, and whatever becomes of it.

use chrono::{DateTime, Utc};
use sha2::{Digest, Sha256};
use sqlx::PgExecutor;
use uuid::Uuid;

use crate::document::word;
use crate::links::Admitted;
use crate::{Pool, StoreError, TrainerId};

/// What became of an entry.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum State {
    /// Kept, and nothing made of it yet.
    Arrived,
    /// In the log.
    Taken,
    /// The trainer decides.
    Waiting,
    /// Its identifier stands for something else that came before.
    Conflict,
    /// Nothing could be made of it.
    Refused,
    /// The trainer decided against it.
    Dismissed,
}

impl State {
    const ALL: [Self; 6] = [Self::Arrived, Self::Taken, Self::Waiting, Self::Conflict, Self::Refused, Self::Dismissed];

    /// As it is stored and told to phones.
    pub const fn id(self) -> &'static str {
        match self {
            Self::Arrived => "arrived",
            Self::Taken => "taken",
            Self::Waiting => "waiting",
            Self::Conflict => "conflict",
            Self::Refused => "refused",
            Self::Dismissed => "dismissed",
        }
    }

    fn from_id(id: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|state| state.id() == id)
    }
}

/// Something that a phone said.
#[derive(Debug, Clone, PartialEq)]
pub struct Entry {
    /// Identifier, given by the phone: sent twice it counts once.
    pub id: Uuid,
    /// What was said.
    pub body: serde_json::Value,
    /// When it was done, the phone's clock set right.
    pub done_at: DateTime<Utc>,
    /// By how much the phone's clock was ahead, s.
    pub ahead_s: f64,
}

/// What an entry found when it arrived.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Received {
    /// Its name together with its identifier.
    pub digest: Vec<u8>,
    /// What became of it so far: `Arrived` where something is still to be made of it.
    pub state: State,
    /// Why, where that is not plain.
    pub why: String,
}

/// What is said of an entry whose identifier stands for something else.
pub const SENT_BEFORE: &str = "sent before under the same number with other figures; what was sent first counts";

/// Keeps an entry. What was kept before comes back as it stands; another content under the same identifier is a conflict.
pub async fn receive(
    pool: &Pool,
    who: &Admitted,
    entry: &Entry,
    came_at: DateTime<Utc>,
) -> Result<Received, StoreError> {
    let digest = Sha256::digest(entry.body.to_string().as_bytes()).to_vec();
    let mut tx = pool.begin().await?;
    // Two that arrive together under one identifier are seen by each other.
    sqlx::query!("select pg_advisory_xact_lock(hashtextextended($1::text, 0))", entry.id.to_string())
        .fetch_one(&mut *tx)
        .await?;
    let there = sqlx::query!(
        "select digest, state, why from entries where trainer_id = $1 and id = $2 order by came_at, digest",
        who.trainer.0,
        entry.id
    )
    .fetch_all(&mut *tx)
    .await?;
    if let Some(same) = there.iter().find(|row| row.digest == digest) {
        let state = word(&same.state, State::from_id)?;
        return Ok(Received { digest, state, why: same.why.clone() });
    }
    let (state, why) = if there.is_empty() { (State::Arrived, "") } else { (State::Conflict, SENT_BEFORE) };
    sqlx::query!(
        "insert into entries (trainer_id, id, digest, client_id, session_id, link_id, body, done_at, came_at, ahead_s,
                              state, why)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12)",
        who.trainer.0,
        entry.id,
        digest,
        who.client,
        who.session,
        who.link,
        entry.body,
        entry.done_at,
        came_at,
        entry.ahead_s,
        state.id(),
        why
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(Received { digest, state, why: why.to_owned() })
}

/// Says what became of an entry.
pub async fn settle(
    pool: &Pool,
    trainer: TrainerId,
    (id, digest): (Uuid, &[u8]),
    (state, why): (State, &str),
    now: DateTime<Utc>,
) -> Result<(), StoreError> {
    sqlx::query!(
        "update entries set state = $4, why = $5, settled_at = $6 where trainer_id = $1 and id = $2 and digest = $3",
        trainer.0,
        id,
        digest,
        state.id(),
        why,
        now
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// An entry as it was kept.
#[derive(Debug, Clone, PartialEq)]
pub struct Kept {
    /// Identifier.
    pub id: Uuid,
    /// Its name together with that.
    pub digest: Vec<u8>,
    /// The session it is about.
    pub session_id: Uuid,
    /// Its name.
    pub session: String,
    /// What was said.
    pub body: serde_json::Value,
    /// When it was done.
    pub done_at: DateTime<Utc>,
    /// When it came.
    pub came_at: DateTime<Utc>,
    /// By how much the phone's clock was ahead, s.
    pub ahead_s: f64,
    /// What became of it.
    pub state: State,
    /// Why.
    pub why: String,
}

struct Row {
    id: Uuid,
    digest: Vec<u8>,
    session_id: Uuid,
    session: String,
    body: serde_json::Value,
    done_at: DateTime<Utc>,
    came_at: DateTime<Utc>,
    ahead_s: f64,
    state: String,
    why: String,
}

impl TryFrom<Row> for Kept {
    type Error = StoreError;

    fn try_from(row: Row) -> Result<Self, StoreError> {
        let Row { id, digest, session_id, session, body, done_at, came_at, ahead_s, state, why } = row;
        let state = word(&state, State::from_id)?;
        Ok(Self { id, digest, session_id, session, body, done_at, came_at, ahead_s, state, why })
    }
}

/// Entries that are listed.
const MOST_LISTED: i64 = 100;
/// How late an entry is that is told of, s.
const LATE_S: f64 = 600.0;

/// What the trainer should see of a client's phone: what waits for a word, what contradicts, what was refused, what came late,
/// and what came from a clock that was wrong. The newest first.
pub async fn told(pool: &Pool, trainer: TrainerId, client: Uuid) -> Result<Vec<Kept>, StoreError> {
    let rows = sqlx::query_as!(
        Row,
        "select e.id, e.digest, e.session_id, s.name as session, e.body, e.done_at, e.came_at, e.ahead_s, e.state, e.why
         from entries e join sessions s on s.trainer_id = e.trainer_id and s.id = e.session_id
         where e.trainer_id = $1 and e.client_id = $2
           and (e.state <> 'taken' or e.why <> '' or extract(epoch from e.came_at - e.done_at)::float8 > $3
                or abs(e.ahead_s) > $3)
         order by e.state in ('waiting', 'conflict', 'refused') desc, e.came_at desc, e.id desc limit $4",
        trainer.0,
        client,
        LATE_S,
        MOST_LISTED
    );
    rows.fetch_all(pool).await?.into_iter().map(TryInto::try_into).collect()
}

/// One entry of a client.
pub async fn one(
    pool: &Pool,
    trainer: TrainerId,
    client: Uuid,
    (id, digest): (Uuid, &[u8]),
) -> Result<Kept, StoreError> {
    let row = sqlx::query_as!(
        Row,
        "select e.id, e.digest, e.session_id, s.name as session, e.body, e.done_at, e.came_at, e.ahead_s, e.state, e.why
         from entries e join sessions s on s.trainer_id = e.trainer_id and s.id = e.session_id
         where e.trainer_id = $1 and e.client_id = $2 and e.id = $3 and e.digest = $4",
        trainer.0,
        client,
        id,
        digest
    );
    row.fetch_one(pool).await?.try_into()
}

/// Whether another set that a phone told stands for the same turn: the same set of a slot, on the same side, within half a day.
pub async fn another_stands(
    pool: &Pool,
    who: &Admitted,
    id: Uuid,
    (slot, turn, side): (Uuid, usize, Option<&str>),
    done_at: DateTime<Utc>,
) -> Result<bool, StoreError> {
    let row = sqlx::query!(
        r#"select exists (
             select 1 from entries e join sets_in_force l on l.trainer_id = e.trainer_id and l.id = e.id
             where e.trainer_id = $1 and e.session_id = $2 and e.id <> $3 and e.state = 'taken'
               and e.done_at between $6::timestamptz - interval '12 hours' and $6::timestamptz + interval '12 hours'
               and l.slot_id = $4 and (e.body->'said'->>'turn')::integer = $5
               and l.entry->>'side' is not distinct from $7) as "stands!""#,
        who.trainer.0,
        who.session,
        id,
        slot,
        turn as i32,
        done_at,
        side
    );
    Ok(row.fetch_one(pool).await?.stands)
}

/// How many entries of a client wait for a word.
pub async fn waiting(db: impl PgExecutor<'_>, trainer: TrainerId, client: Uuid) -> Result<i64, StoreError> {
    let row = sqlx::query!(
        r#"select count(*) as "count!" from entries
           where trainer_id = $1 and client_id = $2 and state in ('waiting', 'conflict', 'refused')"#,
        trainer.0,
        client
    );
    Ok(row.fetch_one(db).await?.count)
}
