//! What phones were given for a session: what they say later is said of this, whatever the plan is by then.

use std::num::NonZeroUsize;
use std::sync::{Arc, Mutex, PoisonError};

use bavrek_core::dose::Prescription;
use bavrek_core::ladder::LadderStep;
use lru::LruCache;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use uuid::Uuid;

use crate::links::Admitted;
use crate::{Pool, StoreError, TrainerId, document};

/// One way to do a station: the plan's, or one that came along should something be missing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Choice {
    /// The movement.
    pub exercise: String,
    /// Steps that can be told, by rising load.
    pub steps: Vec<LadderStep>,
    /// Which of them is asked for.
    pub at: usize,
    /// How much of it.
    pub dose: Prescription,
    /// Whether one side works at a time.
    pub one_sided: bool,
}

/// A station.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Station {
    /// The slot.
    pub slot: Uuid,
    /// The plan's way first.
    pub choices: Vec<Choice>,
    /// The movement that the plan has, whatever is done today.
    pub planned: String,
}

/// What a phone was given.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Handed {
    /// In order.
    pub stations: Vec<Station>,
    /// Where.
    pub place: Uuid,
    /// The turns as they were given.
    pub script: serde_json::Value,
}

impl Handed {
    /// A station's way to be done.
    pub fn choice(&self, slot: Uuid, choice: usize) -> Option<(&Station, &Choice)> {
        let station = self.stations.iter().find(|s| s.slot == slot)?;
        Some((station, station.choices.get(choice)?))
    }
}

/// How long what was given is kept after it was given last, days: what is said of it later than that waits for the trainer's word.
pub const KEPT_DAYS: i32 = 90;

/// Keeps what is given; the same is kept once, and what was given long ago no more. Returns the name by which the phone speaks of
/// it.
pub async fn keep(pool: &Pool, who: &Admitted, given: &Handed) -> Result<String, StoreError> {
    let content = serde_json::to_value(given)?;
    let digest = Sha256::digest(content.to_string().as_bytes()).to_vec();
    sqlx::query!(
        "insert into handed (trainer_id, session_id, digest, content) values ($1, $2, $3, $4)
         on conflict (trainer_id, session_id, digest) do update set handed_at = now()",
        who.trainer.0,
        who.session,
        digest,
        content
    )
    .execute(pool)
    .await?;
    sqlx::query!(
        "delete from handed where trainer_id = $1 and session_id = $2 and handed_at < now() - make_interval(days => $3)",
        who.trainer.0,
        who.session,
        KEPT_DAYS
    )
    .execute(pool)
    .await?;
    Ok(hex::encode(digest))
}

/// What was given of late, so that it is not read anew for every set that is said of it: what has a name never changes.
#[derive(Debug)]
pub struct Recent {
    kept: Mutex<LruCache<(TrainerId, Uuid, String), Arc<Handed>>>,
}

/// Most that are kept at hand: as many workouts as are likely under way at once.
const MOST_AT_HAND: NonZeroUsize = NonZeroUsize::new(200).unwrap();

impl Default for Recent {
    fn default() -> Self {
        Self { kept: Mutex::new(LruCache::new(MOST_AT_HAND)) }
    }
}

impl Recent {
    /// What was given by that name; `NotFound` where nothing was.
    pub async fn of(&self, pool: &Pool, who: &Admitted, name: &str) -> Result<Arc<Handed>, StoreError> {
        let key = (who.trainer, who.session, name.to_owned());
        let kept = || self.kept.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(known) = kept().get(&key) {
            return Ok(known.clone());
        }
        let read = Arc::new(of(pool, who, name).await?);
        kept().put(key, read.clone());
        Ok(read)
    }
}

async fn of(pool: &Pool, who: &Admitted, name: &str) -> Result<Handed, StoreError> {
    let digest = hex::decode(name).map_err(|_| StoreError::NotFound)?;
    let row = sqlx::query!(
        "select content from handed where trainer_id = $1 and session_id = $2 and digest = $3",
        who.trainer.0,
        who.session,
        digest
    )
    .fetch_one(pool)
    .await?;
    document::read(row.content, "handed.content", who.session)
}
