//! Tokens by which a program works for a trainer. Only their hashes are kept.

use chrono::{DateTime, Duration, NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use uuid::Uuid;

use crate::document::word;
use crate::{Pool, StoreError, TrainerId, new_id, wall};

/// What a token may.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Scope {
    /// Read what there is of clients.
    Read,
    /// Add and change it.
    Write,
    /// Have something computed from what it sends.
    Compute,
}

impl Scope {
    /// Every scope.
    pub const ALL: [Self; 3] = [Self::Read, Self::Write, Self::Compute];

    /// Its word.
    pub const fn id(self) -> &'static str {
        match self {
            Self::Read => "read",
            Self::Write => "write",
            Self::Compute => "compute",
        }
    }

    /// The scope of a word.
    pub fn from_id(id: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|s| s.id() == id)
    }
}

/// A token as it is listed.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Token {
    /// Identifier.
    pub id: Uuid,
    /// What it is called.
    pub name: String,
    /// What it may.
    pub scopes: Vec<Scope>,
    /// When it was made.
    pub made_at: DateTime<Utc>,
    /// The last day on which it opens; none opens until it is revoked.
    pub ends_on: Option<NaiveDate>,
    /// When it was last used, to the minute.
    pub used_at: Option<DateTime<Utc>>,
    /// When it was revoked.
    pub revoked_at: Option<DateTime<Utc>>,
}

/// Most tokens that a trainer may have that open.
pub const MOST_TOKENS: i64 = 20;
/// A use is noted when the last one noted is so long ago.
const NOTED_EVERY: Duration = Duration::minutes(1);

fn hash(secret: &str) -> Vec<u8> {
    Sha256::digest(secret.as_bytes()).to_vec()
}

/// Makes a token; the secret is the caller's to show once. `false` where there are as many as there may be.
pub async fn make(
    pool: &Pool,
    trainer: TrainerId,
    (name, scopes, ends_on): (&str, &[Scope], Option<NaiveDate>),
    secret: &str,
    now: DateTime<Utc>,
) -> Result<bool, StoreError> {
    let words: Vec<String> = scopes.iter().map(|s| s.id().to_owned()).collect();
    let done = sqlx::query!(
        "insert into api_tokens (trainer_id, id, name, hash, scopes, made_at, ends_on)
         select $1, $2, $3, $4, $5, $6, $7
         where (select count(*) from api_tokens
                where trainer_id = $1 and revoked_at is null and (ends_on is null or ends_on >= $6::timestamptz::date)) < $8",
        trainer.0,
        new_id(),
        name,
        hash(secret),
        &words,
        now,
        ends_on,
        MOST_TOKENS
    )
    .execute(pool)
    .await?;
    Ok(done.rows_affected() == 1)
}

/// A trainer's tokens, the newest first; those that were revoked stay listed.
pub async fn all(pool: &Pool, trainer: TrainerId) -> Result<Vec<Token>, StoreError> {
    let rows = sqlx::query!(
        "select id, name, scopes, made_at, ends_on, used_at, revoked_at from api_tokens
         where trainer_id = $1 order by revoked_at is not null, made_at desc limit 100",
        trainer.0
    );
    let read = rows.fetch_all(pool).await?.into_iter().map(|row| {
        Ok(Token {
            id: row.id,
            name: row.name,
            scopes: row.scopes.iter().map(|s| word(s, Scope::from_id)).collect::<Result<_, _>>()?,
            made_at: row.made_at,
            ends_on: row.ends_on,
            used_at: row.used_at,
            revoked_at: row.revoked_at,
        })
    });
    read.collect()
}

/// Revokes a token: it opens nothing more. Twice is once.
pub async fn revoke(pool: &Pool, trainer: TrainerId, id: Uuid, now: DateTime<Utc>) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update api_tokens set revoked_at = coalesce(revoked_at, $3) where trainer_id = $1 and id = $2",
        trainer.0,
        id,
        now
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}

/// Whose token it is and what it may; `NotFound` where it opens nothing, also where the account is closed. From here on, what is done is done for its trainer.
pub async fn open(pool: &Pool, secret: &str, now: DateTime<Utc>) -> Result<(TrainerId, Vec<Scope>), StoreError> {
    let row = sqlx::query!(
        "select k.trainer_id, k.id, k.scopes, k.used_at
         from api_tokens k join trainers t on t.id = k.trainer_id and t.disabled_at is null
         where k.hash = $1 and k.revoked_at is null and (k.ends_on is null or k.ends_on >= $2::date)",
        hash(secret),
        now.date_naive()
    )
    .fetch_one(pool)
    .await?;
    let trainer = TrainerId(row.trainer_id);
    wall::raise(trainer);
    if row.used_at.is_none_or(|at| now - at >= NOTED_EVERY) {
        sqlx::query!(
            "update api_tokens set used_at = $3 where trainer_id = $1 and id = $2",
            row.trainer_id,
            row.id,
            now
        )
        .execute(pool)
        .await?;
    }
    let scopes = row.scopes.iter().map(|s| word(s, Scope::from_id)).collect::<Result<_, _>>()?;
    Ok((trainer, scopes))
}
