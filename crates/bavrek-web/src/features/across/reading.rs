//! Reading clients' logs for what they say of movements, beside the pages.

use std::collections::HashMap;
use std::time::Instant;

use bavrek_core::across::{Lessons, Reader, TrackRecord, lessons as read_log};
use bavrek_core::log::LoggedSet;
use bavrek_core::review::Done;
use bavrek_core::strength::Ledger;
use bavrek_store::{TrainerId, aims, lessons, log, wall};
use tokio::runtime::Handle;
use uuid::Uuid;

use crate::budget::idly;
use crate::error::WebError;
use crate::features::who::Who;
use crate::state::App;

/// Clients whose logs are read in one go.
const AT_ONCE: i64 = 50;
/// Rest after each log, in times that it took: what the database does for it does not stand behind the pages, and a hundredth of its time is
/// not felt. A trainer's 500 logs are read in half an hour where little else is done.
const REST: u32 = 24;

/// Reads the logs that are due, of any trainer's clients, and pools them for each trainer. Any number of processes may do so beside
/// each other. What cannot be read is told in the log, is tried again the next day and keeps nobody else waiting.
pub(crate) async fn read_all(app: &App) -> Result<(), WebError> {
    let due = lessons::due(&app.pool, app.clock.now().date_naive(), AT_ONCE).await?;
    let mut by_trainer: HashMap<TrainerId, Vec<Uuid>> = HashMap::new();
    for (trainer, client) in due {
        by_trainer.entry(trainer).or_default().push(client);
    }
    for (trainer, clients) in by_trainer {
        if let Err(error) = wall::around(Some(trainer), read_of(app, trainer, &clients)).await {
            tracing::warn!(%error, "a trainer's logs were not pooled");
        }
    }
    Ok(())
}

async fn read_of(app: &App, trainer: TrainerId, clients: &[Uuid]) -> Result<(), WebError> {
    let app = app.of(trainer).await?;
    for client in clients {
        let begun = Instant::now();
        if let Err(error) = read_idly(&app, trainer, *client).await {
            tracing::warn!(%error, "a log could not be read for what it says of movements");
            lessons::put_off(&app.pool, trainer, *client, app.clock.now().date_naive()).await?;
        }
        tokio::time::sleep(REST * begun.elapsed()).await;
    }
    pool_again(&app, trainer).await
}

/// Reads a log where nobody waits for it: what comes from the database is taken apart there as well.
async fn read_idly(app: &App, trainer: TrainerId, client: Uuid) -> Result<(), WebError> {
    let (app, runtime) = (app.clone(), Handle::current());
    idly(move || runtime.block_on(wall::around(Some(trainer), read(&app, trainer, client)))).await?
}

async fn read(app: &App, trainer: TrainerId, client: Uuid) -> Result<(), WebError> {
    let day = app.clock.now().date_naive();
    let who = Who::load(app, trainer, client).await?;
    // Read past the logs that are kept for pages: those of a day's clients would be pushed out by everybody's.
    let (log, aims) = tokio::try_join!(
        log::of_client(&app.pool, trainer, client, who.today),
        aims::of_client(&app.pool, trainer, client),
    )?;
    let sets: Vec<LoggedSet> = log.into_iter().map(|r| r.set).collect();
    let ledger = Ledger::replay(&app.catalogue, &who.unspared, &sets, Some(who.today));
    let done: Vec<Done<'_>> = sets.iter().map(|set| Done { set, place: None }).collect();
    let aims = aims.first().map(|a| &a.aims);
    let reader = Reader { aims, limits: &who.unspared.limits, today: who.today };
    let told = read_log(&app.catalogue, &ledger, &done, reader);
    Ok(lessons::keep(&app.pool, trainer, client, (who.client.logged, day), &told).await?)
}

/// Pools what the logs of a trainer's clients said.
pub(crate) async fn pool_again(app: &App, trainer: TrainerId) -> Result<(), WebError> {
    let told: Vec<Lessons> = lessons::of_trainer(&app.pool, trainer).await?.into_iter().map(|c| c.told).collect();
    Ok(lessons::keep_record(&app.pool, trainer, &TrackRecord::across(&told)).await?)
}
