//! What a request that is given up leaves behind on its connection.
//!
//! A request is given up where its browser goes away or its time is over, whatever it waits for just then. Where that is the
//! beginning of a transaction, the driver does not know yet that there is one and ends none: whoever is next on the connection
//! would write into it, seen by nobody else, and lose it in the end.

use sqlx::postgres::PgPoolOptions;

/// A pool whose connections come back to it without a transaction.
pub fn cleared(pool: PgPoolOptions) -> PgPoolOptions {
    pool.after_release(|connection, _| {
        Box::pin(async move {
            // The first word keeps the second from complaining where there is nothing to end, as there almost never is.
            sqlx::raw_sql("begin; rollback").execute(connection).await?;
            Ok(true)
        })
    })
}
