//! What every handler may use.

use std::sync::Arc;
use std::time::Duration;

use bavrek_catalogue::{GeneralCautions, Intake};
use bavrek_core::movement::Catalogue;
use bavrek_store::Pool;
use bavrek_store::handed::Recent;
use bavrek_store::live::Live;
use bavrek_store::logs::Logs;
use chrono::{DateTime, NaiveDate, Utc};
use chrono_tz::Tz;

use crate::budget::Budget;
use crate::delivery::Delivery;
use crate::hashing::Hashing;
use crate::ladders::Ladders;
use crate::ledgers::Ledgers;
use crate::library::Library;

/// Where the time comes from.
#[derive(Debug, Clone, Copy)]
pub enum Clock {
    /// The machine's clock.
    System,
    /// Always the same moment, for tests.
    Fixed(DateTime<Utc>),
}

impl Clock {
    /// Now.
    pub fn now(self) -> DateTime<Utc> {
        match self {
            Self::System => Utc::now(),
            Self::Fixed(moment) => moment,
        }
    }

    /// Today in a time zone; in UTC where the name is not known.
    pub fn today(self, time_zone: &str) -> NaiveDate {
        let zone: Tz = time_zone.parse().unwrap_or(Tz::UTC);
        self.now().with_timezone(&zone).date_naive()
    }
}

/// A copy of the database that is only read, with what was read of it before.
#[derive(Debug)]
pub struct Replica {
    pool: Pool,
    logs: Arc<Logs>,
}

impl Replica {
    /// The copy behind a pool.
    pub fn new(pool: Pool) -> Self {
        Self { pool, logs: Arc::default() }
    }
}

/// The application's parts. What in here changes between requests is kept for speed alone, so any number of processes can serve.
#[derive(Clone)]
pub struct App {
    /// The database.
    pub pool: Pool,
    /// A copy of the database for what may be a little old, where there is one.
    pub replica: Option<Arc<Replica>>,
    /// Movements, cautions and first guesses.
    pub catalogue: Arc<Catalogue>,
    /// What every movement that ships is like on a default figure.
    pub library: Arc<Library>,
    /// Cautions that concern every session.
    pub cautions: Arc<GeneralCautions>,
    /// What taking a client in needs to know.
    pub intake: Arc<Intake>,
    /// Logs that were read before.
    pub logs: Arc<Logs>,
    /// Logs that were replayed before.
    pub ledgers: Arc<Ledgers>,
    /// Ladders that were worked out before.
    pub ladders: Arc<Ladders>,
    /// What phones were given of late.
    pub handed: Arc<Recent>,
    /// How long a request may take.
    pub longest: Duration,
    /// How much may compute at once.
    pub budget: Arc<Budget>,
    /// What happens in sessions, as it happens.
    pub live: Arc<Live>,
    /// How messages leave, where they do.
    pub outbox: Arc<Delivery>,
    /// Makes and checks hashes of passwords, a few at once.
    pub hashing: Arc<Hashing>,
    /// Under which address others reach the application: what links in letters begin with.
    pub address: String,
    /// Whether a proxy stands before it and says where requests come from.
    pub behind_proxy: bool,
    /// Where the time comes from.
    pub clock: Clock,
    /// Whether cookies travel over HTTPS only.
    pub secure_cookies: bool,
}

impl App {
    /// The same for what only reads and may be a little old: from the copy of the database, while that answers.
    pub(crate) async fn reading(&self) -> Self {
        match &self.replica {
            Some(replica) if bavrek_store::answers(&replica.pool).await => {
                Self { pool: replica.pool.clone(), logs: replica.logs.clone(), ..self.clone() }
            }
            _ => self.clone(),
        }
    }
}
