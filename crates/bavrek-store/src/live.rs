//! Who watches a session is told that something happened in it, whichever process it happened in.

use std::time::Duration;

use sqlx::postgres::PgListener;
use tokio::sync::{broadcast, watch};
use uuid::Uuid;

use crate::{Pool, StoreError};

/// Sessions in which something happened, that one watcher may fall behind.
const BEHIND: usize = 256;
/// How long to wait before listening again after the database was away.
const AGAIN: Duration = Duration::from_secs(1);

/// What happens in sessions, as it happens.
#[derive(Debug)]
pub struct Live {
    happened: broadcast::Sender<Uuid>,
    closed: watch::Sender<bool>,
}

impl Default for Live {
    fn default() -> Self {
        Self { happened: broadcast::channel(BEHIND).0, closed: watch::channel(false).0 }
    }
}

/// One watcher of one session.
#[derive(Debug)]
pub struct Watcher {
    session: Uuid,
    happened: broadcast::Receiver<Uuid>,
    closed: watch::Receiver<bool>,
}

impl Live {
    /// Watches a session from now on.
    pub fn watch(&self, session: Uuid) -> Watcher {
        Watcher { session, happened: self.happened.subscribe(), closed: self.closed.subscribe() }
    }

    /// Ends all watching: nobody holds up the end of the process.
    pub fn close(&self) {
        self.closed.send_replace(true);
    }

    /// Listens to the database until the process ends. While it was away anything may have happened: every watcher looks again.
    pub async fn listen(&self, pool: &Pool) {
        while !*self.closed.borrow() {
            if let Err(error) = self.hear(pool).await {
                tracing::debug!(%error, "nobody is heard");
            }
            self.happened.send(Uuid::nil()).ok();
            tokio::time::sleep(AGAIN).await;
        }
    }

    async fn hear(&self, pool: &Pool) -> Result<(), StoreError> {
        let mut ear = PgListener::connect_with(pool).await?;
        ear.listen("bavrek_session").await?;
        // What happened before it was listened to.
        self.happened.send(Uuid::nil()).ok();
        while let Some(told) = ear.try_recv().await? {
            if let Ok(session) = told.payload().parse() {
                // Where nobody watches, nobody is told.
                self.happened.send(session).ok();
            }
        }
        Ok(())
    }
}

impl Watcher {
    /// Waits until something happened in the session; `false` when the watching ends.
    pub async fn next(&mut self) -> bool {
        loop {
            tokio::select! {
                _ = self.closed.wait_for(|closed| *closed) => return false,
                told = self.happened.recv() => match told {
                    Ok(session) if session == self.session || session.is_nil() => return true,
                    Ok(_) => {}
                    // So much happened that some of it was missed: it may have been here.
                    Err(broadcast::error::RecvError::Lagged(_)) => return true,
                    Err(broadcast::error::RecvError::Closed) => return false,
                },
            }
        }
    }
}
