//! Guesses at passwords and codes, counted in the database so that any number of processes agree on them.

use chrono::{DateTime, Duration, Utc};
use sha2::{Digest, Sha256};

use crate::{Pool, StoreError};

/// How long a full count keeps the door shut, and how long without a guess it takes until counting begins anew.
pub const SHUT_FOR: Duration = Duration::minutes(15);

/// What guesses are counted for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Counted<'a> {
    /// An address, whether it has an account or not.
    Address(&'a str),
    /// The network address that they come from.
    Source(&'a str),
    /// The second step of an account.
    Code(&'a str),
    /// Letters with a new link, by address.
    Letters(&'a str),
}

impl Counted<'_> {
    /// Guesses before the door shuts. From half of them on, each waits twice as long as the last.
    const fn most(self) -> i32 {
        match self {
            Self::Address(_) | Self::Code(_) => 10,
            Self::Source(_) => 100,
            Self::Letters(_) => 4,
        }
    }

    /// Neither addresses nor sources are kept readable.
    fn key(self) -> Vec<u8> {
        let (kind, of) = match self {
            Self::Address(of) => ("address", of),
            Self::Source(of) => ("source", of),
            Self::Code(of) => ("code", of),
            Self::Letters(of) => ("letters", of),
        };
        Sha256::digest(format!("{kind}:{}", of.to_lowercase())).to_vec()
    }
}

/// Counts a guess before it is looked at. None where it may be; else from when on the next one may.
///
/// At most as many as are allowed are looked at in any [`SHUT_FOR`], however many come at once and to however many processes.
pub async fn count(pool: &Pool, what: Counted<'_>, now: DateTime<Utc>) -> Result<Option<DateTime<Utc>>, StoreError> {
    let (key, most) = (what.key(), what.most());
    // Most of a flood comes to a door that is shut: it waits for no row and writes nothing.
    let shut = sqlx::query_scalar!("select opens_at from sign_in_tries where key = $1 and opens_at > $2", key, now)
        .fetch_optional(pool)
        .await?;
    if shut.is_some() {
        return Ok(shut);
    }
    // An open door stands open since long: of two who come at once, the one who looked at the clock first may be counted second.
    let taken = sqlx::query_scalar!(
        "insert into sign_in_tries as t (key, tries, last_at, opens_at) values ($1, 1, $2, $2::timestamptz - interval '1 hour')
         on conflict (key) do update set
             tries = case when t.last_at <= $2 - $4::interval then 1 else t.tries + 1 end,
             last_at = $2,
             opens_at = case
                 when t.last_at <= $2 - $4::interval then $2::timestamptz - interval '1 hour'
                 when t.tries + 1 >= $3 then $2 + $4::interval
                 when t.tries + 1 > $3 / 2 then $2 + least(power(2, t.tries - $3 / 2), 60) * interval '1 second'
                 else $2::timestamptz - interval '1 hour' end
         where t.opens_at <= $2
         returning opens_at",
        key,
        now,
        most,
        sqlx::postgres::types::PgInterval { months: 0, days: 0, microseconds: SHUT_FOR.num_seconds() * 1_000_000 }
    )
    .fetch_optional(pool)
    .await?;
    if taken.is_some() {
        return Ok(None);
    }
    let opens =
        sqlx::query_scalar!("select opens_at from sign_in_tries where key = $1", key).fetch_optional(pool).await?;
    Ok(Some(opens.unwrap_or(now)))
}

/// Takes one back: it was no guess. Whoever shares a source with many others who sign in is not kept waiting by them.
pub async fn forgive(pool: &Pool, what: Counted<'_>) -> Result<(), StoreError> {
    let key = what.key();
    sqlx::query!("update sign_in_tries set tries = greatest(tries - 1, 0), opens_at = last_at - interval '1 hour' where key = $1", key)
        .execute(pool)
        .await?;
    Ok(())
}

/// Forgets the guesses at what was then opened.
pub async fn forget(pool: &Pool, what: Counted<'_>) -> Result<(), StoreError> {
    sqlx::query!("delete from sign_in_tries where key = $1", what.key()).execute(pool).await?;
    Ok(())
}

/// Deletes counts that no longer matter.
pub async fn sweep(pool: &Pool, now: DateTime<Utc>) -> Result<(), StoreError> {
    sqlx::query!("delete from sign_in_tries where last_at < $1", now - SHUT_FOR - SHUT_FOR).execute(pool).await?;
    Ok(())
}
