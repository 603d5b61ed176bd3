//! What was sent to clients: a stand-in for e-mail and text messages that ships with the application.

use chrono::{DateTime, Utc};
use uuid::Uuid;

use crate::{Pool, StoreError, TrainerId};

/// A message.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Message {
    /// Identifier: the same one twice is sent once.
    pub id: Uuid,
    /// Whom it is for.
    pub client_id: Uuid,
    /// Their address as it was then; empty where none is known.
    pub recipient: String,
    /// What it is about.
    pub subject: String,
    /// What it says. A link stands in it by its last characters alone.
    pub body: String,
    /// When it was written.
    pub written_at: DateTime<Utc>,
    /// When it was delivered.
    pub delivered_at: Option<DateTime<Utc>>,
}

/// Keeps a message; `false` where it was kept before.
pub async fn add(pool: &Pool, trainer: TrainerId, message: &Message) -> Result<bool, StoreError> {
    let done = sqlx::query!(
        "insert into outbox (trainer_id, id, client_id, kind, recipient, subject, body, written_at, delivered_at)
         values ($1, $2, $3, 'link', $4, $5, $6, $7, $8) on conflict (trainer_id, id) do nothing",
        trainer.0,
        message.id,
        message.client_id,
        message.recipient,
        message.subject,
        message.body,
        message.written_at,
        message.delivered_at
    )
    .execute(pool)
    .await?;
    Ok(done.rows_affected() == 1)
}

/// Messages that are listed.
const MOST_LISTED: i64 = 100;

/// What was sent, the newest first, each with its client's name.
pub async fn all(pool: &Pool, trainer: TrainerId) -> Result<Vec<(String, Message)>, StoreError> {
    let rows = sqlx::query!(
        "select o.id, o.client_id, o.recipient, o.subject, o.body, o.written_at, o.delivered_at, c.name
         from outbox o join clients c on c.trainer_id = o.trainer_id and c.id = o.client_id
         where o.trainer_id = $1 order by o.written_at desc, o.id desc limit $2",
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
            written_at: row.written_at,
            delivered_at: row.delivered_at,
        };
        (row.name, message)
    });
    Ok(listed.collect())
}
