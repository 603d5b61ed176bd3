//! Reading clients' logs for what they say of movements, beside the pages.

use std::collections::HashSet;

use bavrek_core::across::{Lessons, TrackRecord, lessons as read_log};
use bavrek_core::review::Done;
use bavrek_core::strength::Ledger;
use bavrek_store::{TrainerId, lessons, wall};
use uuid::Uuid;

use crate::budget::aside;
use crate::error::WebError;
use crate::features::who::Who;
use crate::state::App;

/// Clients whose logs are read in one go.
const AT_ONCE: i64 = 50;
/// What a log is said to have grown to that could not be read: it is tried again the next day.
const UNREAD: i64 = -1;

/// Reads the logs that are due, of any trainer's clients, and pools them for each trainer. Any number of processes may do so beside
/// each other. A log that cannot be read is told in the log, counts as empty and keeps the others not waiting.
pub(crate) async fn read_all(app: &App) -> Result<(), WebError> {
    let today = app.clock.now().date_naive();
    let due = lessons::due(&app.pool, today, AT_ONCE).await?;
    let trainers: HashSet<TrainerId> = due.iter().map(|(trainer, _)| *trainer).collect();
    for trainer in trainers {
        let app = app.of(trainer).await?;
        let of_one = due.iter().filter(|(whose, _)| *whose == trainer).map(|(_, client)| *client);
        wall::around(Some(trainer), async {
            for client in of_one {
                if let Err(error) = read(&app, trainer, client).await {
                    tracing::warn!(%error, "a log could not be read for what it says of movements");
                    lessons::keep(&app.pool, trainer, client, (UNREAD, today), &Lessons::default()).await?;
                }
            }
            pool_again(&app, trainer).await
        })
        .await?;
    }
    Ok(())
}

async fn read(app: &App, trainer: TrainerId, client: Uuid) -> Result<(), WebError> {
    let day = app.clock.now().date_naive();
    let who = Who::load(app, trainer, client).await?;
    let log = app.logs.of_client(&app.pool, trainer, &who.client, who.today).await?;
    let told = aside(|| {
        let ledger = Ledger::replay(&app.catalogue, &who.unspared, &log.sets, Some(who.today));
        let done: Vec<Done<'_>> = log.records.iter().map(|r| Done { set: &r.set, place: None }).collect();
        read_log(&app.catalogue, &ledger, &done, &who.unspared.limits, who.today)
    });
    Ok(lessons::keep(&app.pool, trainer, client, (who.client.logged, day), &told).await?)
}

/// Pools what the logs of a trainer's clients said.
pub(crate) async fn pool_again(app: &App, trainer: TrainerId) -> Result<(), WebError> {
    let told: Vec<Lessons> = lessons::of_trainer(&app.pool, trainer).await?.into_iter().map(|c| c.told).collect();
    Ok(lessons::keep_record(&app.pool, trainer, &TrackRecord::across(&told)).await?)
}
