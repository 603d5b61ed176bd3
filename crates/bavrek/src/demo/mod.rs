//! The demo: one invented trainer with invented clients as they were taken in, and weeks of training that a seeded
//! simulation did.

mod scenario;
mod simulation;

use bavrek_core::aims::{Aim, RegionAim};
use bavrek_core::anatomy::Region;
use bavrek_core::dose::{PerHand, StampedLoad};
use bavrek_core::kit::KitItem;
use bavrek_core::kit::improvised::StabilityCheck;
use bavrek_core::log::LoggedSet;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::script::WorkoutState;
use bavrek_core::strength::ledger::effective_load;
use bavrek_core::units::MassUnit;
use bavrek_store::aims::DatedAims;
use bavrek_store::health::{Clearance, Screening};
use bavrek_store::limits::{self, DatedLimit};
use bavrek_store::log::{self, Source, ToldSet};
use bavrek_store::observations::{self, Observation};
use bavrek_store::sessions::SessionHead;
use bavrek_store::{TrainerId, aims, clients, health, kit, new_id, places, sessions, trainers};
use bavrek_web::{App, hash_password};
use chrono::{Days, NaiveDate};
use uuid::Uuid;

use self::scenario::{ClientPlan, clients as planned_clients};

/// Address of the demo trainer.
pub(crate) const EMAIL: &str = "trainer@bavrek.example";
/// Password of the demo trainer. It guards invented data on loopback only.
pub(crate) const PASSWORD: &str = "paper-and-ink";
/// Days before the first session on which the clients were taken in.
const TAKEN_IN: u64 = 7;

/// Loads the scenario unless its trainer exists already.
pub(crate) async fn load_once(app: &App) -> anyhow::Result<()> {
    if trainers::by_email(&app.pool, EMAIL).await?.is_some() {
        return Ok(());
    }
    let hash = hash_password(PASSWORD).map_err(|e| anyhow::anyhow!("hashing: {e}"))?;
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
    let then = days_before(today, TAKEN_IN + 7 * plan.weeks.max(2));
    let client = clients::add(&app.pool, trainer, &plan.client, then).await?;
    for (rule, note) in &plan.limits {
        let limit = DatedLimit {
            id: new_id(),
            rule: *rule,
            since: days_before(today, 120),
            until: None,
            note: (*note).to_owned(),
        };
        limits::add(&app.pool, trainer, client, &limit).await?;
    }
    let mut rooms = Vec::new();
    for (name, setting, items, checked) in &plan.places {
        let place = new_id();
        places::add(&app.pool, trainer, client, place, name, Some(*setting)).await?;
        furnish(app, trainer, place, items, checked.then_some(then)).await?;
        rooms.push(place);
    }
    set_aims(app, trainer, client, plan, then).await?;
    told(app, trainer, client, plan, then).await?;
    for (kind, side, note) in &plan.seen {
        let seen = Observation { id: new_id(), on: then, kind: *kind, side: *side, note: (*note).to_owned() };
        observations::add(&app.pool, trainer, client, &seen).await?;
    }
    if let (Some(place_id), Some((name, minutes))) = (rooms.first().copied(), plan.session) {
        let head = SessionHead {
            id: new_id(),
            client_id: client,
            place_id,
            name: name.to_owned(),
            planned_on: next_day(today, number),
            state: WorkoutState::Planned,
            turn: bavrek_core::calendar::Turn::Usual,
            light: false,
            minutes,
            method: None,
            follows: None,
            version: 0,
        };
        let (session, slots) = sessions::add(&app.pool, trainer, &head, &plan.blocks).await?;
        let history =
            simulation::Asked { session, slots: &slots, rooms: &rooms, weeks: plan.weeks, seed: 7_000 + number };
        simulation::run(app, trainer, &history, today).await?;
    }
    screen(app, trainer, client, plan, then).await
}

/// Puts the kit into a place; improvised things are looked at where `checked` says when.
async fn furnish(
    app: &App,
    trainer: TrainerId,
    place: Uuid,
    items: &[KitItem],
    checked: Option<NaiveDate>,
) -> anyhow::Result<()> {
    for item in items {
        let id = new_id();
        kit::add(&app.pool, trainer, place, id, item).await?;
        if let (true, Some(on)) = (item.improvised(), checked) {
            kit::answer(&app.pool, trainer, place, id, StabilityCheck { holds: true, slips: false, on }).await?;
        }
    }
    Ok(())
}

/// The goal's aims with the client's focus.
async fn set_aims(app: &App, trainer: TrainerId, client: Uuid, plan: &ClientPlan, on: NaiveDate) -> anyhow::Result<()> {
    let Some(goal) = plan.client.aim else { return Ok(()) };
    let mut wanted = app.intake.volumes.preset(goal);
    for region in &plan.focus {
        wanted.regions.insert(*region, RegionAim { aim: Aim::Focus, sets: None });
    }
    Ok(aims::set(&app.pool, trainer, client, None, &DatedAims { id: new_id(), aims: wanted, on }).await?)
}

/// Sets that the client told of when taken in.
async fn told(app: &App, trainer: TrainerId, client: Uuid, plan: &ClientPlan, on: NaiveDate) -> anyhow::Result<()> {
    let person = plan.client.person(&[], on);
    for (exercise, kg, reps) in &plan.told {
        let movement = app.catalogue.movement(exercise).ok_or_else(|| anyhow::anyhow!("no movement {exercise}"))?;
        let load = kg.map(|value| StampedLoad { value, unit: MassUnit::Kg, per: PerHand::Hand });
        let mut set: LoggedSet =
            serde_json::from_value(serde_json::json!({ "exercise": exercise, "date": on, "reps": reps, "rir": 2 }))?;
        set.load = load;
        let effective =
            effective_load(&set, movement, &person).ok_or_else(|| anyhow::anyhow!("{exercise}: no load"))?;
        let new = ToldSet { id: new_id(), client_id: client, source: Source::Told, set: &set, effective };
        log::append_told(&app.pool, trainer, &new).await?;
    }
    Ok(())
}

/// The screening, with the clearance where one was given.
async fn screen(app: &App, trainer: TrainerId, client: Uuid, plan: &ClientPlan, on: NaiveDate) -> anyhow::Result<()> {
    let Some((yes, cleared)) = plan.screening else { return Ok(()) };
    let answers = app.intake.questions.iter().map(|q| (q.id.clone(), Some(q.id.as_str()) == yes)).collect();
    let screening =
        Screening { id: new_id(), on, answers, refers: yes.is_some(), note: String::new(), clearance: None };
    health::add(&app.pool, trainer, client, &screening).await?;
    if let Some(by) = cleared {
        let clearance = Clearance { given_by: by.to_owned(), given_on: on, note: "full range, no jerks".to_owned() };
        health::clear(&app.pool, trainer, client, screening.id, new_id(), &clearance).await?;
    }
    Ok(())
}

fn days_before(today: NaiveDate, days: u64) -> NaiveDate {
    today.checked_sub_days(Days::new(days)).unwrap_or(today)
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

/// Regions that are named as the focus of somebody.
type Focus = Vec<Region>;
