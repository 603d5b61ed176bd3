//! Logs that were read before: a client's whole log is decoded once and again only when it grew. Nothing depends on what is
//! kept here; any number of processes may each keep their own.

use std::sync::{Arc, Mutex, PoisonError};

use bavrek_core::log::LoggedSet;
use chrono::NaiveDate;
use lru::LruCache;
use uuid::Uuid;

use crate::clients::Client;
use crate::log::{self, RecordedSet};
use crate::{Pool, StoreError, TrainerId};

/// Most sets that are kept, of all logs together: about 60 MB.
const MOST_SETS: usize = 80_000;

/// What a client did: the sets in force, in order of time.
#[derive(Debug, Default, PartialEq)]
pub struct ClientLog {
    /// As they are on record.
    pub records: Vec<RecordedSet>,
    /// The same as plain sets.
    pub sets: Vec<LoggedSet>,
    /// The same without what was done in lighter weeks and did not hurt, where there is any: what steps are decided by.
    usual: Option<Vec<LoggedSet>>,
}

impl ClientLog {
    /// What steps are decided by: all but what was done in lighter weeks; what hurt in one counts.
    pub fn usual(&self) -> &[LoggedSet] {
        self.usual.as_deref().unwrap_or(&self.sets)
    }

    fn of(records: Vec<RecordedSet>) -> Self {
        let counted = || records.iter().filter(|r| r.counts_for_steps());
        let usual = (counted().count() < records.len()).then(|| counted().map(|r| r.set.clone()).collect());
        Self { sets: records.iter().map(|r| r.set.clone()).collect(), usual, records }
    }
}

/// A log as it was when it had grown so often.
#[derive(Debug)]
struct Kept {
    logged: i64,
    log: Arc<ClientLog>,
}

/// Logs by trainer and client, those read last.
#[derive(Debug)]
pub struct Logs {
    kept: Mutex<LruCache<(TrainerId, Uuid), Kept>>,
}

impl Default for Logs {
    fn default() -> Self {
        Self { kept: Mutex::new(LruCache::unbounded()) }
    }
}

impl Logs {
    /// A client's log up to and including a day, as new as the client was read.
    pub async fn of_client(
        &self,
        pool: &Pool,
        trainer: TrainerId,
        client: &Client,
        until: NaiveDate,
    ) -> Result<Arc<ClientLog>, StoreError> {
        let whole = if let Some(log) = self.known(trainer, client) {
            log
        } else {
            let log = Arc::new(ClientLog::of(log::of_client(pool, trainer, client.id, NaiveDate::MAX).await?));
            self.keep((trainer, client.id), Kept { logged: client.logged, log: log.clone() });
            log
        };
        // What is dated later than today is rare.
        if whole.sets.last().is_none_or(|s| s.date <= until) {
            return Ok(whole);
        }
        let records = whole.records.iter().filter(|r| r.set.date <= until).cloned();
        Ok(Arc::new(ClientLog::of(records.collect())))
    }

    fn known(&self, trainer: TrainerId, client: &Client) -> Option<Arc<ClientLog>> {
        let mut kept = self.kept.lock().unwrap_or_else(PoisonError::into_inner);
        kept.get(&(trainer, client.id)).filter(|k| k.logged == client.logged).map(|k| k.log.clone())
    }

    fn keep(&self, whose: (TrainerId, Uuid), new: Kept) {
        let mut kept = self.kept.lock().unwrap_or_else(PoisonError::into_inner);
        kept.put(whose, new);
        let mut sets: usize = kept.iter().map(|(_, k)| k.log.sets.len()).sum();
        while sets > MOST_SETS && kept.len() > 1 {
            sets -= kept.pop_lru().map_or(0, |(_, k)| k.log.sets.len());
        }
    }
}
