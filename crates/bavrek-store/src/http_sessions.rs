//! Sign-in sessions in the database, so that any number of web processes can serve. However much one is used, it ends after 90
//! days.

use async_trait::async_trait;
use chrono::{DateTime, Utc};
use sha2::{Digest, Sha256};
use time::OffsetDateTime;
use tower_sessions::SessionStore;
use tower_sessions::session::{Id, Record};
use tower_sessions::session_store::{Error, ExpiredDeletion, Result};

use uuid::Uuid;

use crate::Pool;

/// The key under which a record's trainer stands, once somebody signed in.
pub const TRAINER: &str = "trainer";
/// The key under which stands what the device calls itself.
pub const AGENT: &str = "agent";

/// How an identifier is kept: whoever reads the database cannot take a session over.
pub(crate) fn stored_id(id: &str) -> String {
    hex::encode(Sha256::digest(id.as_bytes()))
}

/// The trainer of a record.
fn trainer(record: &Record) -> Option<Uuid> {
    record.data.get(TRAINER)?.as_str()?.parse().ok()
}

/// Keeps session records in the table `http_sessions`.
#[derive(Debug, Clone)]
pub struct HttpSessions {
    pool: Pool,
}

impl HttpSessions {
    /// A store on this database.
    pub const fn new(pool: Pool) -> Self {
        Self { pool }
    }
}

#[expect(clippy::needless_pass_by_value, reason = "the shape that map_err wants")]
fn backend(error: sqlx::Error) -> Error {
    Error::Backend(error.to_string())
}

fn moment(at: OffsetDateTime) -> DateTime<Utc> {
    DateTime::from_timestamp(at.unix_timestamp(), 0).unwrap_or(DateTime::UNIX_EPOCH)
}

#[async_trait]
impl SessionStore for HttpSessions {
    async fn create(&self, record: &mut Record) -> Result<()> {
        loop {
            let data = serde_json::to_value(&record.data).map_err(|e| Error::Encode(e.to_string()))?;
            let done = sqlx::query!(
                "insert into http_sessions (id, record, expires_at, trainer_id) values ($1, $2, $3, $4)
                 on conflict (id) do nothing",
                stored_id(&record.id.to_string()),
                data,
                moment(record.expiry_date),
                trainer(record)
            )
            .execute(&self.pool)
            .await
            .map_err(backend)?;
            if done.rows_affected() == 1 {
                return Ok(());
            }
            record.id = Id::default();
        }
    }

    async fn save(&self, record: &Record) -> Result<()> {
        let data = serde_json::to_value(&record.data).map_err(|e| Error::Encode(e.to_string()))?;
        // A session that was signed out meanwhile stays out: what a request of it still wanted to keep is dropped.
        sqlx::query!(
            "update http_sessions set record = $2, expires_at = $3, trainer_id = $4, seen_at = now() where id = $1",
            stored_id(&record.id.to_string()),
            data,
            moment(record.expiry_date),
            trainer(record)
        )
        .execute(&self.pool)
        .await
        .map_err(backend)?;
        Ok(())
    }

    async fn load(&self, id: &Id) -> Result<Option<Record>> {
        let row = sqlx::query!(
            "select record, expires_at from http_sessions
             where id = $1 and expires_at > now() and began_at > now() - interval '90 days'",
            stored_id(&id.to_string())
        )
        .fetch_optional(&self.pool)
        .await
        .map_err(backend)?;
        row.map(|r| {
            let data = serde_json::from_value(r.record).map_err(|e| Error::Decode(e.to_string()))?;
            let expiry_date = OffsetDateTime::from_unix_timestamp(r.expires_at.timestamp())
                .map_err(|e| Error::Decode(e.to_string()))?;
            Ok(Record { id: *id, data, expiry_date })
        })
        .transpose()
    }

    async fn delete(&self, id: &Id) -> Result<()> {
        sqlx::query!("delete from http_sessions where id = $1", stored_id(&id.to_string()))
            .execute(&self.pool)
            .await
            .map_err(backend)?;
        Ok(())
    }
}

#[async_trait]
impl ExpiredDeletion for HttpSessions {
    async fn delete_expired(&self) -> Result<()> {
        sqlx::query!("delete from http_sessions where expires_at < now() or began_at < now() - interval '90 days'")
            .execute(&self.pool)
            .await
            .map_err(backend)?;
        Ok(())
    }
}
