//! The second wall between trainers. Every query names its trainer; should one forget it, the database itself keeps back what is
//! another's: while something is done for a trainer, each connection is told for whom before it is used.

use std::cell::Cell;

use sqlx::postgres::{PgConnection, PgPoolOptions};

use crate::TrainerId;

tokio::task_local! {
    static FOR: Cell<Option<TrainerId>>;
}

/// Does something for a trainer; for nobody in particular until [`raise`] says for whom.
pub async fn around<F: Future>(trainer: Option<TrainerId>, work: F) -> F::Output {
    FOR.scope(Cell::new(trainer), work).await
}

/// From here on, what is done within [`around`] is for this trainer. Outside of it nothing changes.
pub fn raise(trainer: TrainerId) {
    // Whoever works for all, like what tends plans, has no wall to raise.
    let _ = FOR.try_with(|of| of.set(Some(trainer)));
}

/// For whom something is done just now.
fn now_for() -> Option<TrainerId> {
    FOR.try_with(Cell::get).ok().flatten()
}

/// Tells a connection for whom it works. It answers, so that one that broke meanwhile is found here.
async fn tell(connection: &mut PgConnection) -> Result<(), sqlx::Error> {
    let trainer = now_for().map_or_else(String::new, |t| t.0.to_string());
    sqlx::query("select set_config('bavrek.trainer', $1, false)").bind(trainer).execute(connection).await?;
    Ok(())
}

/// A pool with the wall: every connection is told for whom it works before it is used.
pub fn guarded(pool: PgPoolOptions) -> PgPoolOptions {
    pool
        // Told and asked in one.
        .test_before_acquire(false)
        .after_connect(|connection, _| Box::pin(tell(connection)))
        .before_acquire(|connection, _| Box::pin(async move { tell(connection).await.map(|()| true) }))
}
