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
    /// The client's screening calls for a clearance that was not recorded.
    #[error("a clearance is needed first")]
    ClearanceNeeded,
    /// A stored document no longer reads.
    #[error("a stored document does not read: {0}")]
    Document(#[from] serde_json::Error),
    /// The schema could not be brought up to date.
    #[error("migration: {0}")]
    Migration(sqlx::migrate::MigrateError),
    /// The database refused or is away.
    #[error("database: {0}")]
    Database(sqlx::Error),
}

impl From<sqlx::Error> for StoreError {
    fn from(error: sqlx::Error) -> Self {
        match &error {
            sqlx::Error::RowNotFound => Self::NotFound,
            // A foreign key that does not hold means the row it points to is not this trainer's, or not there.
            sqlx::Error::Database(e) if e.is_foreign_key_violation() => Self::NotFound,
            sqlx::Error::Database(e) if e.is_unique_violation() => Self::Conflict,
            _ => Self::Database(error),
        }
    }
}

/// Reads a stored text as one of the core's words.
pub(crate) fn word<T>(text: &str, read: impl Fn(&str) -> Option<T>) -> Result<T, StoreError> {
    read(text).ok_or_else(|| {
        StoreError::Document(<serde_json::Error as serde::de::Error>::custom(format!("unknown word {text:?}")))
    })
}
