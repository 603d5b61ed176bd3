//! Two of everything: a trainer with a client, a place, a session and a slot.
#![allow(dead_code, reason = "each test file uses its part")]

use bavrek_core::ladder::LadderStep;
use bavrek_core::log::LoggedSet;
use bavrek_core::person::Experience;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::rigging::Setup;
use bavrek_core::script::WorkoutState;
use bavrek_core::units::{Kilograms, Metres, Seconds};
use bavrek_store::clients::{self, Client};
use bavrek_store::fits::NewFit;
use bavrek_store::log::NewSet;
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::{Pool, TrainerId, new_id, places, trainers};
use chrono::{DateTime, NaiveDate, Utc};
use uuid::Uuid;

pub(crate) struct World {
    pub(crate) trainer: TrainerId,
    pub(crate) client: Uuid,
    pub(crate) place: Uuid,
    pub(crate) session: Uuid,
    pub(crate) slot: Uuid,
}

pub(crate) fn day(text: &str) -> NaiveDate {
    text.parse().unwrap()
}

pub(crate) fn noon(text: &str) -> DateTime<Utc> {
    day(text).and_hms_opt(12, 0, 0).unwrap().and_utc()
}

pub(crate) fn intent() -> Intent {
    serde_json::from_str(r#"{"pattern":"fly","regions":{"lats":1.0},"reps":[8,12],"rir":2,"sets":3}"#).unwrap()
}

pub(crate) async fn world(pool: &Pool, email: &str) -> World {
    let trainer = trainers::add(pool, email, "T", "hash").await.unwrap();
    let novice = Client::new("C", Kilograms(70.0), Metres(1.7), Experience::Novice);
    let client = Client { birth_year: Some(1990), ..novice };
    let client = clients::add(pool, trainer, &client, day("2026-03-01")).await.unwrap();
    let place = new_id();
    places::add(pool, trainer, client, place, "P", None).await.unwrap();
    let head = SessionHead {
        id: new_id(),
        client_id: client,
        place_id: place,
        name: "S".into(),
        planned_on: day("2026-03-10"),
        state: WorkoutState::Planned,
        turn: bavrek_core::calendar::Turn::Usual,
        light: false,
        minutes: 45,
        method: None,
        follows: None,
        version: 0,
    };
    let blocks = [(BlockKind::Straight, vec![intent()])];
    let (session, slots) = sessions::add(pool, trainer, &head, &blocks).await.unwrap();
    World { trainer, client, place, session, slot: slots[0] }
}

pub(crate) fn step(kg: f64) -> LadderStep {
    LadderStep {
        effective_kg: Kilograms(kg),
        peak_kg: Kilograms(kg),
        label: format!("{kg} kg"),
        implements: vec![],
        setup: Setup::default(),
        set_up_s: Seconds(10.0),
        load: None,
        bands: vec![],
        log_sd: 0.01,
        band_share: 0.0,
        body_kg: None,
        thirds: [0.2, 0.4, 0.4],
        curve: vec![],
    }
}

pub(crate) fn fit<'a>(
    world: &World,
    exercise: &'a str,
    step: &'a LadderStep,
    prescription: &'a bavrek_core::dose::Prescription,
) -> NewFit<'a> {
    NewFit { slot_id: world.slot, place_id: world.place, exercise, step, prescription, pinned: false }
}

pub(crate) fn set(date: &str, reps: u16) -> LoggedSet {
    serde_json::from_value(serde_json::json!({ "exercise": "dumbbell_curl", "date": date, "reps": reps, "rir": 2 }))
        .unwrap()
}

pub(crate) fn entry<'a>(world: &World, id: Uuid, set: &'a LoggedSet) -> NewSet<'a> {
    NewSet {
        id,
        client_id: world.client,
        slot_id: world.slot,
        place_id: world.place,
        position: 1,
        set,
        effective: Kilograms(10.0),
        workout: None,
        done_at: set.date.and_hms_opt(18, 0, 0).unwrap().and_utc(),
        supersedes: None,
    }
}
