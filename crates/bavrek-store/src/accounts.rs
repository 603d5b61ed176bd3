//! Accounts: invitations, new passwords, the second step, and what a trainer is signed in on.

use chrono::{DateTime, Duration, Utc};
use sha2::{Digest, Sha256};
use sqlx::PgConnection;
use uuid::Uuid;

use crate::document::word;
use crate::{Pool, StoreError, TrainerId, http_sessions, trainers};

/// How long an invitation opens.
pub const INVITED_FOR: Duration = Duration::days(7);
/// How long a link to a new password opens.
pub const RESET_FOR: Duration = Duration::hours(1);

/// The hash by which a secret is known.
fn hash(secret: &str) -> Vec<u8> {
    Sha256::digest(secret.as_bytes()).to_vec()
}

/// What a link is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LinkKind {
    /// To make an account.
    Invitation,
    /// To set a new password.
    Reset,
}

impl LinkKind {
    fn from_id(id: &str) -> Option<Self> {
        match id {
            "invitation" => Some(Self::Invitation),
            "reset" => Some(Self::Reset),
            _ => None,
        }
    }
}

/// A link that opens.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct AccountLink {
    /// What it is for.
    pub kind: LinkKind,
    /// The address that it was made for.
    pub email: String,
    /// The name that was given with it.
    pub name: String,
}

/// Keeps an invitation to an address that has no account; a conflict where it has one.
pub async fn invite(
    pool: &Pool,
    secret: &str,
    (email, name): (&str, &str),
    now: DateTime<Utc>,
) -> Result<(), StoreError> {
    let taken = sqlx::query_scalar!(
        r#"select exists (select from trainers where lower(email) = lower($1)) as "taken!""#,
        email
    )
    .fetch_one(pool)
    .await?;
    if taken {
        return Err(StoreError::Conflict);
    }
    sqlx::query!(
        "insert into account_links (hash, kind, email, name, made_at, ends_at) values ($1, 'invitation', $2, $3, $4, $5)",
        hash(secret),
        email,
        name,
        now,
        now + INVITED_FOR
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// Keeps a link to a new password; earlier ones of the same account open no more.
pub async fn allow_reset(
    pool: &Pool,
    secret: &str,
    (trainer, email): (TrainerId, &str),
    now: DateTime<Utc>,
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    end_links(&mut tx, trainer).await?;
    sqlx::query!(
        "insert into account_links (hash, kind, email, trainer_id, made_at, ends_at) values ($1, 'reset', $2, $3, $4, $5)",
        hash(secret),
        email,
        trainer.0,
        now,
        now + RESET_FOR
    )
    .execute(&mut *tx)
    .await?;
    tx.commit().await?;
    Ok(())
}

/// What a link is for; none where it opens no more.
pub async fn open(pool: &Pool, secret: &str, now: DateTime<Utc>) -> Result<Option<AccountLink>, StoreError> {
    let row = sqlx::query!(
        "select kind, email, name from account_links where hash = $1 and used_at is null and ends_at > $2",
        hash(secret),
        now
    )
    .fetch_optional(pool)
    .await?;
    row.map(|r| Ok(AccountLink { kind: word(&r.kind, LinkKind::from_id)?, email: r.email, name: r.name })).transpose()
}

/// Makes the account of an invitation, once. A conflict where the address has one by now.
pub async fn join(
    pool: &Pool,
    secret: &str,
    (name, password_hash): (&str, &str),
    now: DateTime<Utc>,
) -> Result<TrainerId, StoreError> {
    let mut tx = pool.begin().await?;
    let email = sqlx::query_scalar!(
        "update account_links set used_at = $2
         where hash = $1 and kind = 'invitation' and used_at is null and ends_at > $2 returning email",
        hash(secret),
        now
    )
    .fetch_one(&mut *tx)
    .await?;
    let id = trainers::insert(&mut tx, &email, name, password_hash).await?;
    tx.commit().await?;
    Ok(id)
}

/// Sets the password of a link, once, and signs the account out everywhere.
pub async fn reset(
    pool: &Pool,
    secret: &str,
    password_hash: &str,
    now: DateTime<Utc>,
) -> Result<TrainerId, StoreError> {
    let mut tx = pool.begin().await?;
    let trainer = sqlx::query_scalar!(
        r#"update account_links set used_at = $2
           where hash = $1 and kind = 'reset' and used_at is null and ends_at > $2 returning trainer_id as "trainer!""#,
        hash(secret),
        now
    )
    .fetch_one(&mut *tx)
    .await?;
    sqlx::query!("update trainers set password_hash = $2 where id = $1", trainer, password_hash)
        .execute(&mut *tx)
        .await?;
    sqlx::query!("delete from http_sessions where trainer_id = $1", trainer).execute(&mut *tx).await?;
    tx.commit().await?;
    Ok(TrainerId(trainer))
}

/// Sets a password and signs the account out everywhere else: sessions but the one with this identifier end, and links to a new
/// password open no more.
pub async fn set_password(pool: &Pool, trainer: TrainerId, password_hash: &str, here: &str) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    sqlx::query!("update trainers set password_hash = $2 where id = $1", trainer.0, password_hash)
        .execute(&mut *tx)
        .await?;
    sqlx::query!(
        "delete from http_sessions where trainer_id = $1 and id <> $2",
        trainer.0,
        http_sessions::stored_id(here)
    )
    .execute(&mut *tx)
    .await?;
    end_links(&mut tx, trainer).await?;
    tx.commit().await?;
    Ok(())
}

/// Ends all links to a new password of an account.
async fn end_links(tx: &mut PgConnection, trainer: TrainerId) -> Result<(), StoreError> {
    sqlx::query!("update account_links set used_at = now() where trainer_id = $1 and used_at is null", trainer.0)
        .execute(tx)
        .await?;
    Ok(())
}

/// An account as whoever runs the program sees it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Account {
    /// Address to sign in with.
    pub email: String,
    /// Name shown.
    pub name: String,
    /// Since when it is closed.
    pub disabled_at: Option<DateTime<Utc>>,
    /// When it was last used by somebody who is still signed in.
    pub seen_at: Option<DateTime<Utc>>,
    /// How many clients it has.
    pub clients: i64,
}

/// All accounts by address.
pub async fn all(pool: &Pool) -> Result<Vec<Account>, StoreError> {
    Ok(sqlx::query_as!(
        Account,
        r#"select t.email, t.name, t.disabled_at,
                  (select max(s.seen_at) from http_sessions s where s.trainer_id = t.id) as seen_at,
                  (select count(*) from clients c where c.trainer_id = t.id) as "clients!"
           from trainers t order by lower(t.email)"#
    )
    .fetch_all(pool)
    .await?)
}

/// Whether there is any account yet.
pub async fn any(pool: &Pool) -> Result<bool, StoreError> {
    Ok(sqlx::query_scalar!(r#"select exists (select from trainers) as "any!""#).fetch_one(pool).await?)
}

/// Closes an account, or opens it again. Nothing of it is deleted; whoever is signed in to it is out.
pub async fn set_disabled(pool: &Pool, email: &str, since: Option<DateTime<Utc>>) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    let trainer = sqlx::query_scalar!(
        "update trainers set disabled_at = $2 where lower(email) = lower($1) returning id",
        email,
        since
    )
    .fetch_one(&mut *tx)
    .await?;
    sqlx::query!("delete from http_sessions where trainer_id = $1", trainer).execute(&mut *tx).await?;
    tx.commit().await?;
    Ok(())
}

/// Something that a trainer is signed in on.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Device {
    /// By what it is named where it is signed out.
    pub handle: Uuid,
    /// What it calls itself.
    pub agent: String,
    /// Since when.
    pub began_at: DateTime<Utc>,
    /// When it was last used, to the day.
    pub seen_at: DateTime<Utc>,
    /// Whether it is the one that asks.
    pub here: bool,
}

/// What a trainer is signed in on, the latest first. `here` is the identifier of the session that asks.
pub async fn devices(pool: &Pool, trainer: TrainerId, here: &str) -> Result<Vec<Device>, StoreError> {
    Ok(sqlx::query_as!(
        Device,
        r#"select handle, coalesce(record ->> 'agent', '') as "agent!", began_at, seen_at, id = $2 as "here!"
           from http_sessions where trainer_id = $1 and expires_at > now() order by seen_at desc, began_at desc"#,
        trainer.0,
        http_sessions::stored_id(here)
    )
    .fetch_all(pool)
    .await?)
}

/// Signs a device out.
pub async fn sign_out(pool: &Pool, trainer: TrainerId, handle: Uuid) -> Result<(), StoreError> {
    sqlx::query!("delete from http_sessions where trainer_id = $1 and handle = $2", trainer.0, handle)
        .execute(pool)
        .await?;
    Ok(())
}

/// Signs every device out but the one that asks.
pub async fn sign_out_others(pool: &Pool, trainer: TrainerId, here: &str) -> Result<(), StoreError> {
    let here = http_sessions::stored_id(here);
    sqlx::query!("delete from http_sessions where trainer_id = $1 and id <> $2", trainer.0, here).execute(pool).await?;
    Ok(())
}

/// Asks for a code after the password from now on, or for none. Earlier recovery codes end.
pub async fn set_second_step(
    pool: &Pool,
    trainer: TrainerId,
    secret: Option<&[u8]>,
    recovery: &[String],
) -> Result<(), StoreError> {
    let mut tx = pool.begin().await?;
    sqlx::query!("update trainers set code_secret = $2, code_used = 0 where id = $1", trainer.0, secret)
        .execute(&mut *tx)
        .await?;
    sqlx::query!("delete from recovery_codes where trainer_id = $1", trainer.0).execute(&mut *tx).await?;
    for code in recovery {
        sqlx::query!("insert into recovery_codes (trainer_id, hash) values ($1, $2)", trainer.0, hash(code))
            .execute(&mut *tx)
            .await?;
    }
    tx.commit().await?;
    Ok(())
}

/// Uses the code of a time step; `false` where that or a later one was used before.
pub async fn use_step(pool: &Pool, trainer: TrainerId, step: i64) -> Result<bool, StoreError> {
    let done = sqlx::query!("update trainers set code_used = $2 where id = $1 and code_used < $2", trainer.0, step)
        .execute(pool)
        .await?;
    Ok(done.rows_affected() == 1)
}

/// Uses a recovery code; `false` where it is none, or was used before.
pub async fn use_recovery(pool: &Pool, trainer: TrainerId, code: &str) -> Result<bool, StoreError> {
    let done = sqlx::query!("delete from recovery_codes where trainer_id = $1 and hash = $2", trainer.0, hash(code))
        .execute(pool)
        .await?;
    Ok(done.rows_affected() == 1)
}

/// How many recovery codes are left.
pub async fn recovery_left(pool: &Pool, trainer: TrainerId) -> Result<i64, StoreError> {
    Ok(sqlx::query_scalar!(r#"select count(*) as "left!" from recovery_codes where trainer_id = $1"#, trainer.0)
        .fetch_one(pool)
        .await?)
}
