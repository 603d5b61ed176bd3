//! The demo: one invented trainer with three invented clients, and two weeks of training that a seeded simulation did.

mod scenario;
mod simulation;

use bavrek_core::kit::KitItem;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_store::clients::{self, DatedLimit};
use bavrek_store::sessions::SessionHead;
use bavrek_store::{TrainerId, kit, sessions, trainers};
use bavrek_web::{App, auth};
use chrono::{Days, NaiveDate};

use self::scenario::{ClientPlan, clients as planned_clients};

/// Address of the demo trainer.
pub(crate) const EMAIL: &str = "trainer@bavrek.example";
/// Password of the demo trainer. It guards invented data on loopback only.
pub(crate) const PASSWORD: &str = "paper-and-ink";

/// Loads the scenario unless its trainer exists already.
pub(crate) async fn load_once(app: &App) -> anyhow::Result<()> {
    if trainers::by_email(&app.pool, EMAIL).await?.is_some() {
        return Ok(());
    }
    let hash = auth::hash_password(PASSWORD).map_err(|e| anyhow::anyhow!("hashing: {e}"))?;
    // The trainer comes last in effect: a load that failed halfway is repeated under a new trainer.
    let trainer =
        trainers::add(&app.pool, &format!("loading-{}", bavrek_store::new_id()), "Demo trainer", &hash).await?;
    for (number, plan) in planned_clients()?.into_iter().enumerate() {
        load_client(app, trainer, &plan, number as u64).await?;
    }
    Ok(trainers::rename(&app.pool, trainer, EMAIL).await?)
}

async fn load_client(app: &App, trainer: TrainerId, plan: &ClientPlan, number: u64) -> anyhow::Result<()> {
    let today = app.clock.today(&plan.client.time_zone);
    let client_id = clients::add(&app.pool, trainer, &plan.client).await?;
    for (rule, note) in &plan.limits {
        let since = today.checked_sub_days(Days::new(90)).unwrap_or(today);
        let limit = DatedLimit { id: client_id, rule: *rule, since, until: None, note: (*note).to_owned() };
        clients::add_limit(&app.pool, trainer, client_id, &limit).await?;
    }
    let place_id = clients::add_place(&app.pool, trainer, client_id, plan.place).await?;
    for item in &plan.kit {
        kit::add(&app.pool, trainer, place_id, bavrek_store::new_id(), item).await?;
    }
    let head = SessionHead {
        id: client_id,
        client_id,
        place_id,
        name: plan.session.to_owned(),
        planned_on: next_day(today, number),
        minutes: plan.minutes,
    };
    let (session_id, slots) = sessions::add(&app.pool, trainer, &head, &plan.blocks).await?;
    simulation::run(app, trainer, session_id, &slots, today, 7_000 + number).await
}

/// The first client trains today, the others on the days after.
fn next_day(today: NaiveDate, number: u64) -> NaiveDate {
    today.checked_add_days(Days::new(number)).unwrap_or(today)
}

/// Blocks of a session with their intents.
type Blocks = Vec<(BlockKind, Vec<Intent>)>;

/// Reads kit from its JSON form.
fn read_kit(json: &str) -> anyhow::Result<Vec<KitItem>> {
    Ok(serde_json::from_str(json)?)
}
