//! Answers to programs by the keys of their requests: what is sent again is answered again and done once.

use chrono::{DateTime, Duration, Utc};

use crate::{Pool, StoreError, TrainerId};

/// How long a key is remembered.
const REMEMBERED: Duration = Duration::hours(48);
/// After so long a request that was never answered is taken to be of a process that is gone.
const GIVEN_UP: Duration = Duration::minutes(1);

/// An answer that was given.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Answer {
    /// Its status.
    pub status: u16,
    /// Its content type.
    pub kind: String,
    /// Its body.
    pub body: Vec<u8>,
}

/// What a key stands for.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Known {
    /// Nothing yet: whoever asked is to do it.
    New,
    /// It was answered so.
    Answered(Answer),
    /// It is being done.
    UnderWay,
    /// It was given to another request.
    Another,
}

/// Claims a key for a request, told by its hash.
pub async fn claim(
    pool: &Pool,
    trainer: TrainerId,
    (key, request): (&str, &[u8]),
    now: DateTime<Utc>,
) -> Result<Known, StoreError> {
    let claimed = sqlx::query!(
        "insert into api_answers (trainer_id, key, request, asked_at) values ($1, $2, $3, $4)
         on conflict (trainer_id, key) do update set request = excluded.request, asked_at = excluded.asked_at
            where api_answers.status is null and api_answers.asked_at < $5",
        trainer.0,
        key,
        request,
        now,
        now - GIVEN_UP
    );
    if claimed.execute(pool).await?.rows_affected() == 1 {
        return Ok(Known::New);
    }
    let row = sqlx::query!(
        "select request, status, kind, body from api_answers where trainer_id = $1 and key = $2",
        trainer.0,
        key
    )
    .fetch_one(pool)
    .await?;
    Ok(match (row.request == request, row.status, row.kind, row.body) {
        (false, ..) => Known::Another,
        (true, Some(status), Some(kind), Some(body)) => {
            Known::Answered(Answer { status: status.unsigned_abs(), kind, body })
        }
        _ => Known::UnderWay,
    })
}

/// Keeps the answer of a key that was claimed.
pub async fn keep(pool: &Pool, trainer: TrainerId, key: &str, answer: &Answer) -> Result<(), StoreError> {
    sqlx::query!(
        "update api_answers set status = $3, kind = $4, body = $5 where trainer_id = $1 and key = $2",
        trainer.0,
        key,
        i16::try_from(answer.status).unwrap_or(500),
        answer.kind,
        answer.body
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Lets a key go that came to nothing: it may be sent again.
pub async fn let_go(pool: &Pool, trainer: TrainerId, key: &str) -> Result<(), StoreError> {
    sqlx::query!("delete from api_answers where trainer_id = $1 and key = $2 and status is null", trainer.0, key)
        .execute(pool)
        .await?;
    Ok(())
}

/// Forgets keys of long ago.
pub async fn sweep(pool: &Pool, now: DateTime<Utc>) -> Result<(), StoreError> {
    sqlx::query!(
        "delete from api_answers where (trainer_id, key) in
            (select trainer_id, key from api_answers where asked_at < $1)",
        now - REMEMBERED
    )
    .execute(pool)
    .await?;
    Ok(())
}
