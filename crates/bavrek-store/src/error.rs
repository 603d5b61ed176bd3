//! What can go wrong in the store.

/// Why the store did not do it.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// Not there, or not this trainer's.
    #[error("not found")]
    NotFound,
    /// Somebody else changed it in the meantime.
    #[error("it was changed in the meantime")]
    Conflict,
    /// A place holds as many pieces as it may.
    #[error("a place takes no more pieces")]
    PlaceFull,
    /// The client's screening calls for a clearance that was not recorded.
    #[error("a clearance is needed first")]
    ClearanceNeeded,
    /// A stored document does not read.
    #[error("{column}{} does not read: {why}", .row.map(|row| format!(" of row {row}")).unwrap_or_default())]
    Document {
        /// Table and column, or the kind of word.
        column: String,
        /// The row, where it is known.
        row: Option<uuid::Uuid>,
        /// What is wrong with it.
        why: String,
    },
    /// A document cannot be written: never of values that were checked.
    #[error("a document cannot be written: {0}")]
    Unwritable(#[from] serde_json::Error),
    /// The schema could not be brought up to date.
    #[error("migration: {0}")]
    Migration(sqlx::migrate::MigrateError),
    /// The database does not answer, or not in time.
    #[error("the database does not answer: {0}")]
    Away(sqlx::Error),
    /// The database refused.
    #[error("database: {0}")]
    Database(sqlx::Error),
}

/// Codes of what another try may mend: the server is stopping or starting, has no place left, or took longer than a statement or
/// a lock may.
const AWAY: [&str; 6] = ["57P01", "57P02", "57P03", "53300", "57014", "55P03"];

impl From<sqlx::Error> for StoreError {
    fn from(error: sqlx::Error) -> Self {
        match &error {
            sqlx::Error::RowNotFound => Self::NotFound,
            // A foreign key that does not hold means the row it points to is not this trainer's, or not there.
            sqlx::Error::Database(e) if e.is_foreign_key_violation() => Self::NotFound,
            sqlx::Error::Database(e) if e.is_unique_violation() => Self::Conflict,
            sqlx::Error::Io(_)
            | sqlx::Error::Tls(_)
            | sqlx::Error::PoolTimedOut
            | sqlx::Error::PoolClosed
            | sqlx::Error::WorkerCrashed => Self::Away(error),
            sqlx::Error::Database(e) if e.code().is_some_and(|code| AWAY.contains(&code.as_ref())) => Self::Away(error),
            sqlx::Error::ColumnDecode { index, source } => {
                Self::Document { column: index.clone(), row: None, why: source.to_string() }
            }
            _ => Self::Database(error),
        }
    }
}
