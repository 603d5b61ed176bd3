//! What was sent to clients: a stand-in for e-mail and text messages that ships with the application.

use chrono::{DateTime, Utc};
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
}

impl Kind {
    fn from_id(id: &str) -> Option<Self> {
        [Self::Link, Self::Summary, Self::Reset, Self::Invitation].into_iter().find(|k| k.id() == id)
    }

    const fn id(self) -> &'static str {
        match self {
            Self::Link => "link",
            Self::Summary => "summary",
            Self::Reset => "reset",
            Self::Invitation => "invitation",
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
}

/// Keeps a message; `false` where it was kept before.
pub async fn add(pool: &Pool, trainer: TrainerId, message: &Message) -> Result<bool, StoreError> {
    let done = sqlx::query!(
        "insert into outbox (trainer_id, id, client_id, kind, recipient, subject, body, written_at, delivered_at,
                             pictures)
         values ($1, $2, $3, $9, $4, $5, $6, $7, $8, $10) on conflict (trainer_id, id) do nothing",
        trainer.0,
        message.id,
        message.client_id,
        message.recipient,
        message.subject,
        message.body,
        message.written_at,
        message.delivered_at,
        message.kind.id(),
        serde_json::to_value(&message.pictures)?
    )
    .execute(pool)
    .await?;
    Ok(done.rows_affected() == 1)
}

/// Messages that are listed.
const MOST_LISTED: i64 = 100;

/// What was sent, the newest first, each with its client's name.
pub async fn all(pool: &Pool, trainer: TrainerId) -> Result<Vec<(Option<String>, Message)>, StoreError> {
    let rows = sqlx::query!(
        r#"select o.id, o.client_id, o.kind, o.recipient, o.subject, o.body, o.written_at, o.delivered_at,
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
        };
        Ok((row.name, message))
    });
    listed.collect()
}
