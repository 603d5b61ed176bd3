//! Trainers: who signs in.

use bavrek_core::across::TrackRecord;
use bavrek_core::fit::{Leanings, Weights};
use sqlx::{PgConnection, PgExecutor};
use uuid::Uuid;

use crate::document;
use crate::{Pool, StoreError, TrainerId, new_id};

/// A trainer's account.
#[derive(Clone, PartialEq, Eq)]
pub struct Trainer {
    /// Identifier.
    pub id: TrainerId,
    /// Address to sign in with.
    pub email: String,
    /// Name shown.
    pub name: String,
    /// Argon2 hash of the password.
    pub password_hash: String,
    /// The secret of the second step, where there is one.
    pub code_secret: Option<Vec<u8>>,
    /// Raised with every change of the own movements.
    pub catalogue_version: i32,
}

impl std::fmt::Debug for Trainer {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        // Neither the address nor the hash may reach a log.
        f.debug_struct("Trainer").field("id", &self.id).finish_non_exhaustive()
    }
}

struct Row {
    id: Uuid,
    email: String,
    name: String,
    password_hash: String,
    code_secret: Option<Vec<u8>>,
    catalogue_version: i32,
}

impl From<Row> for Trainer {
    fn from(row: Row) -> Self {
        Self {
            id: TrainerId(row.id),
            email: row.email,
            name: row.name,
            password_hash: row.password_hash,
            code_secret: row.code_secret,
            catalogue_version: row.catalogue_version,
        }
    }
}

/// Adds a trainer; a second one with the same address is a conflict.
pub async fn add(pool: &Pool, email: &str, name: &str, password_hash: &str) -> Result<TrainerId, StoreError> {
    let mut connection = pool.acquire().await?;
    insert(&mut connection, email, name, password_hash).await
}

/// The same within another change.
pub(crate) async fn insert(
    connection: &mut PgConnection,
    email: &str,
    name: &str,
    password_hash: &str,
) -> Result<TrainerId, StoreError> {
    let id = new_id();
    sqlx::query!(
        "insert into trainers (id, email, name, password_hash) values ($1, $2, $3, $4)",
        id,
        email,
        name,
        password_hash
    )
    .execute(connection)
    .await?;
    Ok(TrainerId(id))
}

/// The trainer with this address, in any case of letters; none whose account is closed.
pub async fn by_email(pool: &Pool, email: &str) -> Result<Option<Trainer>, StoreError> {
    let row = sqlx::query_as!(
        Row,
        "select id, email, name, password_hash, code_secret, catalogue_version from trainers
         where lower(email) = lower($1) and disabled_at is null",
        email
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map(Into::into))
}

/// The trainer with this identifier; none whose account is closed.
pub async fn by_id(pool: &Pool, id: TrainerId) -> Result<Option<Trainer>, StoreError> {
    let row = sqlx::query_as!(
        Row,
        "select id, email, name, password_hash, code_secret, catalogue_version from trainers
         where id = $1 and disabled_at is null",
        id.0
    )
    .fetch_optional(pool)
    .await?;
    Ok(row.map(Into::into))
}

/// The version of a trainer's own movements.
pub async fn catalogue_version(pool: &Pool, id: TrainerId) -> Result<i32, StoreError> {
    Ok(sqlx::query_scalar!("select catalogue_version from trainers where id = $1", id.0).fetch_one(pool).await?)
}

/// Gives a trainer another name.
pub async fn call(pool: &Pool, id: TrainerId, name: &str) -> Result<(), StoreError> {
    sqlx::query!("update trainers set name = $2 where id = $1", id.0, name).execute(pool).await?;
    Ok(())
}

/// Gives a trainer another address to sign in with.
pub async fn rename(pool: &Pool, id: TrainerId, email: &str) -> Result<(), StoreError> {
    sqlx::query!("update trainers set email = $2 where id = $1", id.0, email).execute(pool).await?;
    Ok(())
}

/// How a trainer judges fits.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Judging {
    /// How the parts are weighed; none where that was never said.
    pub weights: Option<Weights>,
    /// What was decided where schools differ.
    pub leanings: Leanings,
    /// How movements went with the trainer's clients, where that counts.
    pub record: TrackRecord,
}

/// How a trainer judges fits.
pub async fn judging(db: impl PgExecutor<'_>, id: TrainerId) -> Result<Judging, StoreError> {
    let row = sqlx::query!(
        "select weights, leanings, case when heeds_record then track_record end as record from trainers where id = $1",
        id.0
    )
    .fetch_one(db)
    .await?;
    Ok(Judging {
        weights: row.weights.map(|w| document::read(w, "trainers.weights", id.0)).transpose()?,
        leanings: row.leanings.map(|l| document::read(l, "trainers.leanings", id.0)).transpose()?.unwrap_or_default(),
        record: row.record.map(|r| document::read(r, "trainers.track_record", id.0)).transpose()?.unwrap_or_default(),
    })
}

/// Sets how a trainer weighs the parts of a fit, or goes back to the usual.
pub async fn set_weights(pool: &Pool, id: TrainerId, weights: Option<&Weights>) -> Result<(), StoreError> {
    let weights = weights.map(serde_json::to_value).transpose()?;
    sqlx::query!("update trainers set weights = $2 where id = $1", id.0, weights).execute(pool).await?;
    Ok(())
}

/// Keeps what a trainer has decided where schools differ.
pub async fn set_leanings(pool: &Pool, id: TrainerId, leanings: Leanings) -> Result<(), StoreError> {
    let leanings = serde_json::to_value(leanings)?;
    sqlx::query!("update trainers set leanings = $2 where id = $1", id.0, leanings).execute(pool).await?;
    Ok(())
}
