//! What was done with an account and with people's data: kept so that it can be shown, without anybody's name.

use chrono::{DateTime, Utc};
use sqlx::PgConnection;

use crate::document::word;
use crate::{Pool, StoreError, TrainerId, new_id};

/// What was done.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum What {
    /// Somebody signed in.
    SignedIn,
    /// The password was changed.
    PasswordChanged,
    /// The second step was set up or ended.
    SecondStep,
    /// All of a client's data were taken out.
    TakenOut,
    /// A client was erased.
    Erased,
}

impl What {
    const ALL: [Self; 5] = [Self::SignedIn, Self::PasswordChanged, Self::SecondStep, Self::TakenOut, Self::Erased];

    const fn id(self) -> &'static str {
        match self {
            Self::SignedIn => "signed_in",
            Self::PasswordChanged => "password_changed",
            Self::SecondStep => "second_step",
            Self::TakenOut => "taken_out",
            Self::Erased => "erased",
        }
    }

    /// In words.
    pub const fn label(self) -> &'static str {
        match self {
            Self::SignedIn => "signed in",
            Self::PasswordChanged => "password changed",
            Self::SecondStep => "second step changed",
            Self::TakenOut => "a client's data taken out",
            Self::Erased => "a client erased",
        }
    }
}

/// Something that was done.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Deed {
    /// When.
    pub at: DateTime<Utc>,
    /// What.
    pub what: What,
    /// More about it; never a name.
    pub detail: String,
}

/// Keeps a deed, within the change that it is about.
pub(crate) async fn add(
    connection: &mut PgConnection,
    trainer: TrainerId,
    what: What,
    detail: &str,
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into deeds (trainer_id, id, at, what, detail) values ($1, $2, $3, $4, $5)",
        trainer.0,
        new_id(),
        at,
        what.id(),
        detail
    )
    .execute(connection)
    .await?;
    Ok(())
}

/// Keeps a deed that stands for itself.
pub async fn note(
    pool: &Pool,
    trainer: TrainerId,
    what: What,
    detail: &str,
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let mut connection = pool.acquire().await?;
    add(&mut connection, trainer, what, detail, at).await
}

/// The latest deeds, the newest first.
pub async fn latest(pool: &Pool, trainer: TrainerId, most: i64) -> Result<Vec<Deed>, StoreError> {
    let rows = sqlx::query!(
        "select at, what, detail from deeds where trainer_id = $1 order by at desc, id desc limit $2",
        trainer.0,
        most
    );
    let read = |id: &str| What::ALL.into_iter().find(|w| w.id() == id);
    let deeds = rows.fetch_all(pool).await?.into_iter();
    deeds.map(|r| Ok(Deed { at: r.at, what: word(&r.what, read)?, detail: r.detail })).collect()
}
