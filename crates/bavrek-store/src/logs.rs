//! Logs that were read before: a client's whole log is decoded once and again only when it grew. Nothing depends on what is
//! kept here; any number of processes may each keep their own.

use std::collections::HashSet;
use std::sync::{Arc, Mutex, PoisonError};

use bavrek_core::log::LoggedSet;
use chrono::{DateTime, NaiveDate, Utc};
use lru::LruCache;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::clients::Client;
use crate::log::{self, RecordedSet, Row, Source};
use crate::{Pool, StoreError, TrainerId};

/// Most sets that are kept, of all logs together: some 800 bytes each, once as on record and once in order, about 40 MB.
const MOST_SETS: usize = 50_000;

/// Most rows that are added to a log that was kept; where more came it is read as a whole.
const MOST_AT_ONCE: i64 = 200;

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

    /// What was done in sessions from a day on.
    pub fn worked(&self, from: NaiveDate) -> impl Iterator<Item = &LoggedSet> {
        let own = move |r: &&RecordedSet| r.source == Source::Session && r.set.date >= from;
        self.records.iter().filter(own).map(|r| &r.set)
    }

    /// The same with the rows that were appended since: each after all of its day, without what they supersede.
    fn with(&self, rows: Vec<Row>) -> Result<Self, StoreError> {
        let superseded: HashSet<Uuid> = rows.iter().filter_map(|row| row.supersedes).collect();
        let mut records: Vec<RecordedSet> =
            self.records.iter().filter(|r| !superseded.contains(&r.id)).cloned().collect();
        for row in rows.into_iter().filter(|row| !row.withdrawn) {
            let set = RecordedSet::try_from(row)?;
            if !superseded.contains(&set.id) && records.iter().all(|r| r.id != set.id) {
                let at = records.partition_point(|r| r.set.date <= set.set.date);
                records.insert(at, set);
            }
        }
        Ok(Self::of(records))
    }

    fn of(records: Vec<RecordedSet>) -> Self {
        let counted = || records.iter().filter(|r| r.counts_for_steps());
        let usual = (counted().count() < records.len()).then(|| in_order(counted()));
        Self { sets: in_order(&records), usual, records }
    }
}

/// Sets in the order in which they were done, as far as that is known: a phone may send them late and in any order.
fn in_order<'r>(records: impl IntoIterator<Item = &'r RecordedSet>) -> Vec<LoggedSet> {
    let mut records: Vec<&RecordedSet> = records.into_iter().collect();
    records.sort_by_key(|r| (r.set.date, r.done_at.is_none(), r.done_at));
    records.into_iter().map(|r| r.set.clone()).collect()
}

/// A log as it was when it had grown so often.
#[derive(Debug, Clone)]
struct Kept {
    logged: i64,
    /// When the newest row of it was appended.
    newest: DateTime<Utc>,
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
        match self.as_new_as(trainer, client) {
            Some(log) => Ok(up_to(log, until)),
            None => self.over(&mut *crate::connection(pool).await?, trainer, client, until).await,
        }
    }

    /// The same over a connection that is held already.
    pub async fn over(
        &self,
        connection: &mut PgConnection,
        trainer: TrainerId,
        client: &Client,
        until: NaiveDate,
    ) -> Result<Arc<ClientLog>, StoreError> {
        if let Some(log) = self.as_new_as(trainer, client) {
            return Ok(up_to(log, until));
        }
        let kept = match self.known(trainer, client) {
            Some(kept) => grown(connection, trainer, client, kept).await?,
            None => None,
        };
        let kept = match kept {
            Some(kept) => kept,
            None => whole(connection, trainer, client).await?,
        };
        let log = kept.log.clone();
        self.keep((trainer, client.id), kept);
        Ok(up_to(log, until))
    }

    /// What is kept, where nothing was appended since.
    fn as_new_as(&self, trainer: TrainerId, client: &Client) -> Option<Arc<ClientLog>> {
        self.known(trainer, client).filter(|kept| kept.logged == client.logged).map(|kept| kept.log)
    }

    fn known(&self, trainer: TrainerId, client: &Client) -> Option<Kept> {
        let mut kept = self.kept.lock().unwrap_or_else(PoisonError::into_inner);
        kept.get(&(trainer, client.id)).cloned()
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

/// A log without what is dated later than a day, which is rare.
fn up_to(whole: Arc<ClientLog>, until: NaiveDate) -> Arc<ClientLog> {
    if whole.sets.last().is_none_or(|s| s.date <= until) {
        return whole;
    }
    let records = whole.records.iter().filter(|r| r.set.date <= until).cloned();
    Arc::new(ClientLog::of(records.collect()))
}

/// A client's log decoded as a whole.
async fn whole(connection: &mut PgConnection, trainer: TrainerId, client: &Client) -> Result<Kept, StoreError> {
    let records = log::of_client(&mut *connection, trainer, client.id, NaiveDate::MAX).await?;
    let newest = log::newest(connection, trainer, client.id).await?.unwrap_or(DateTime::UNIX_EPOCH);
    Ok(Kept { logged: client.logged, newest, log: Arc::new(ClientLog::of(records)) })
}

/// A log that was kept with what was appended since. None where that is not all there is: a row that was begun before the newest and
/// came after it, or one that was in it already. All that came since has a later time exactly where as many are later as came.
async fn grown(
    connection: &mut PgConnection,
    trainer: TrainerId,
    client: &Client,
    kept: Kept,
) -> Result<Option<Kept>, StoreError> {
    let came = client.logged - kept.logged;
    if !(1..=MOST_AT_ONCE).contains(&came) {
        return Ok(None);
    }
    let rows = log::since(connection, trainer, client.id, kept.newest).await?;
    if rows.len() as i64 != came {
        return Ok(None);
    }
    let newest = rows.iter().map(|row| row.logged_at).max().unwrap_or(kept.newest);
    Ok(Some(Kept { logged: client.logged, newest, log: Arc::new(kept.log.with(rows)?) }))
}
