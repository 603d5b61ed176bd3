//! Trainers, clients, plans, fits and logs in `PostgreSQL`: one module an aggregate, all SQL in here.
//!
//! Every function takes the trainer whose data it may touch; what belongs to another trainer is not found.

pub mod accounts;
pub mod aims;
pub mod answers;
pub mod boards;
pub mod clients;
pub mod decisions;
pub mod deeds;
mod document;
pub mod entries;
mod error;
pub mod feeds;
pub mod fits;
pub mod handed;
pub mod health;
pub mod http_sessions;
pub mod kit;
pub mod lessons;
pub mod limits;
pub mod links;
pub mod live;
pub mod log;
pub mod logs;
pub mod movements;
pub mod moving;
pub mod notes;
pub mod observations;
pub mod outbox;
pub mod own_schools;
pub mod pains;
pub mod people;
pub mod places;
pub mod plans;
pub mod put_aside;
pub mod released;
pub mod reminders;
pub mod roster;
pub mod sessions;
pub mod skips;
pub mod slots;
pub mod spares;
pub mod spot_swaps;
pub mod templates;
pub mod tokens;
pub mod trainers;
pub mod tries;
pub mod wall;
pub mod weeks;
pub mod workouts;

pub use error::StoreError;
pub use sqlx::PgPool as Pool;
/// One of its connections, given back when it is dropped.
pub type Connection = sqlx::pool::PoolConnection<sqlx::Postgres>;
use std::time::Duration;

use sha2::{Digest, Sha256};
use sqlx::Connection as _;
use sqlx::postgres::{PgConnectOptions, PgPoolOptions};
use uuid::Uuid;

/// A trainer's identifier: the tenant of everything below.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, serde::Serialize, serde::Deserialize)]
pub struct TrainerId(pub Uuid);

/// The schema's migrations, for those who run them.
pub static MIGRATOR: sqlx::migrate::Migrator = sqlx::migrate!();

/// Connects to the database.
pub async fn connect(url: &str) -> Result<Pool, StoreError> {
    Ok(pool(ACQUIRING).connect_with(options(url)?).await?)
}

/// A connection for what is asked one thing after another: it is told but once for whom it works. Whoever holds one waits for no other.
pub async fn connection(pool: &Pool) -> Result<Connection, StoreError> {
    Ok(pool.acquire().await?)
}

/// A copy of the database that is only read, and may lag behind. It need not be there yet: who reads asks first whether it
/// [`answers()`].
pub fn replica(url: &str) -> Result<Pool, StoreError> {
    let options = options(url)?.options([("default_transaction_read_only", "on")]);
    Ok(pool(REPLICA_ANSWERS).connect_lazy_with(options))
}

/// A pool that is waited for no longer than this.
fn pool(acquiring: Duration) -> PgPoolOptions {
    let pool = PgPoolOptions::new().max_connections(MOST_CONNECTIONS).acquire_timeout(acquiring);
    released::cleared(wall::guarded(pool))
}

fn options(url: &str) -> Result<PgConnectOptions, StoreError> {
    // Every query here goes by an index whatever its parameters are: planning it anew each time costs more than running it.
    let options: PgConnectOptions = url.parse()?;
    Ok(options.options([
        ("plan_cache_mode", "force_generic_plan"),
        ("statement_timeout", STATEMENT),
        ("lock_timeout", LOCK),
    ]))
}

/// Connections of a process at most.
const MOST_CONNECTIONS: u32 = 16;
/// How long a copy may take to answer before the database itself is asked.
const REPLICA_ANSWERS: Duration = Duration::from_secs(1);

/// Longest that a statement may take.
const STATEMENT: &str = "5s";
/// Longest that a statement waits for another to let go.
const LOCK: &str = "2s";
/// Longest that a request waits for a connection.
const ACQUIRING: Duration = Duration::from_secs(3);

/// Brings the schema up to date, for as long as that takes.
pub async fn migrate(pool: &Pool) -> Result<(), StoreError> {
    let mut connection = pool.acquire().await?.detach();
    sqlx::query("set statement_timeout = 0").execute(&mut connection).await?;
    sqlx::query("set lock_timeout = 0").execute(&mut connection).await?;
    MIGRATOR.run(&mut connection).await.map_err(StoreError::Migration)?;
    Ok(connection.close().await?)
}

/// Whether the database answers.
pub async fn answers(pool: &Pool) -> bool {
    sqlx::query("select 1").execute(pool).await.is_ok()
}

/// A text as a pattern of `like` finds it and nothing else.
pub(crate) fn like(text: &str) -> String {
    text.replace('\\', "\\\\").replace('%', "\\%").replace('_', "\\_")
}

/// The identifier that follows from what is said: the same words have the same one, whenever they are said.
pub fn id_of(said: &str) -> Uuid {
    let digest = Sha256::digest(said);
    let mut bytes = [0_u8; 16];
    bytes.copy_from_slice(&digest[..16]);
    Uuid::from_bytes(bytes)
}

/// A fresh identifier; later ones sort after earlier ones.
pub fn new_id() -> Uuid {
    Uuid::now_v7()
}
