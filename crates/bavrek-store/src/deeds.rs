//! What was done with an account and with people's data: kept so that it can be shown, without anybody's name.

use chrono::{DateTime, Duration, Utc};
use sqlx::PgConnection;
use uuid::Uuid;

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
    /// Something was changed by a form.
    Changed,
}

impl What {
    const ALL: [Self; 6] =
        [Self::SignedIn, Self::PasswordChanged, Self::SecondStep, Self::TakenOut, Self::Erased, Self::Changed];

    const fn id(self) -> &'static str {
        match self {
            Self::SignedIn => "signed_in",
            Self::PasswordChanged => "password_changed",
            Self::SecondStep => "second_step",
            Self::TakenOut => "taken_out",
            Self::Erased => "erased",
            Self::Changed => "changed",
        }
    }

    /// In words.
    pub const fn label(self) -> &'static str {
        match self {
            Self::SignedIn => "signed in",
            Self::PasswordChanged => "password changed",
            Self::SecondStep => "second step changed",
            Self::TakenOut => "data taken out",
            Self::Erased => "a client erased",
            Self::Changed => "changed",
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
    /// The name of the client whom it was about, where that is known and they are still there.
    pub client: Option<String>,
}

/// What a change was about, as far as it is told: its client, or what leads to one.
#[derive(Debug, Clone, Copy, Default)]
pub struct About {
    /// The client.
    pub client: Option<Uuid>,
    /// A session of theirs.
    pub session: Option<Uuid>,
    /// A slot of one.
    pub slot: Option<Uuid>,
}

/// How long deeds are kept.
const KEPT: Duration = Duration::days(2 * 365);

/// Keeps a deed, within the change that it is about.
pub(crate) async fn add(
    connection: &mut PgConnection,
    trainer: TrainerId,
    what: What,
    (client, detail): (Option<Uuid>, &str),
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into deeds (trainer_id, id, at, what, detail, client_id) values ($1, $2, $3, $4, $5, $6)",
        trainer.0,
        new_id(),
        at,
        what.id(),
        detail,
        client
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
    (client, detail): (Option<Uuid>, &str),
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let mut connection = pool.acquire().await?;
    add(&mut connection, trainer, what, (client, detail), at).await
}

/// Keeps that something was changed.
pub async fn changed(
    pool: &Pool,
    trainer: TrainerId,
    about: About,
    detail: &str,
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into deeds (trainer_id, id, at, what, detail, client_id)
         values ($1, $2, $3, 'changed', $4, coalesce($5,
            (select client_id from sessions where trainer_id = $1 and id = $6),
            (select s.client_id from slots l
                join blocks b on b.trainer_id = l.trainer_id and b.id = l.block_id
                join sessions s on s.trainer_id = b.trainer_id and s.id = b.session_id
                where l.trainer_id = $1 and l.id = $7)))",
        trainer.0,
        new_id(),
        at,
        detail,
        about.client,
        about.session,
        about.slot
    )
    .execute(pool)
    .await?;
    Ok(())
}

/// The latest deeds, the newest first: all of a trainer's, or those about a client.
pub async fn latest(pool: &Pool, trainer: TrainerId, client: Option<Uuid>, most: i64) -> Result<Vec<Deed>, StoreError> {
    let rows = sqlx::query!(
        r#"select d.at, d.what, d.detail, c.name as "name?" from deeds d
           left join clients c on c.trainer_id = d.trainer_id and c.id = d.client_id
           where d.trainer_id = $1 and ($2::uuid is null or d.client_id = $2)
           order by d.at desc, d.id desc limit $3"#,
        trainer.0,
        client,
        most
    );
    let read = |id: &str| What::ALL.into_iter().find(|w| w.id() == id);
    let deeds = rows.fetch_all(pool).await?.into_iter();
    deeds.map(|r| Ok(Deed { at: r.at, what: word(&r.what, read)?, detail: r.detail, client: r.name })).collect()
}

/// Drops what was done so long ago that nobody asks any more. Any number of processes may do it beside each other.
pub async fn sweep(pool: &Pool, now: DateTime<Utc>) -> Result<u64, StoreError> {
    let old = "delete from deeds d using trainers t where d.trainer_id = t.id and d.at < $1";
    Ok(sqlx::query(old).bind(now - KEPT).execute(pool).await?.rows_affected())
}
