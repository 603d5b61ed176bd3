//! What was noted in a workout.

use chrono::{DateTime, NaiveDate, Utc};
use uuid::Uuid;

use crate::{Pool, StoreError, TrainerId};

/// A note.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Note {
    /// Identifier: the same one twice is stored once.
    pub id: Uuid,
    /// The slot it is about, where it is about one.
    pub slot_id: Option<Uuid>,
    /// The day.
    pub on: NaiveDate,
    /// When.
    pub at: DateTime<Utc>,
    /// What was noted, 1 to [`LONGEST`] characters.
    pub text: String,
}

/// Longest note, characters.
pub const LONGEST: usize = 1000;

/// Keeps a note.
pub async fn add(pool: &Pool, trainer: TrainerId, session: Uuid, note: &Note) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into workout_notes (trainer_id, id, session_id, slot_id, noted_on, noted_at, text)
         values ($1, $2, $3, $4, $5, $6, $7) on conflict (trainer_id, id) do nothing",
        trainer.0,
        note.id,
        session,
        note.slot_id,
        note.on,
        note.at,
        note.text
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// The notes of a session on a day, in order of time.
pub async fn of_session(
    pool: &Pool,
    trainer: TrainerId,
    session: Uuid,
    on: NaiveDate,
) -> Result<Vec<Note>, StoreError> {
    let rows = sqlx::query_as!(
        Note,
        r#"select id, slot_id, noted_on as "on", noted_at as "at", text from workout_notes
           where trainer_id = $1 and session_id = $2 and noted_on = $3 order by noted_at, id"#,
        trainer.0,
        session,
        on
    );
    Ok(rows.fetch_all(pool).await?)
}
