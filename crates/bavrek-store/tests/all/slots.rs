//! Sessions and slots as trainers write them: sent twice, in two windows, taken out and back, by strangers.

use crate::common::{World, day, entry, fit, intent, noon, set, step, world};
use bavrek_core::dose::{Dose, StopRule};
use bavrek_core::fit::Weights;
use bavrek_core::method::Method;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::script::WorkoutState;
use bavrek_store::roster::{self, Wanted};
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::slots::{self, Joining};
use bavrek_store::{Pool, StoreError, fits, log, new_id, trainers};
use uuid::Uuid;

async fn slots_of(pool: &Pool, world: &World) -> Vec<Vec<Uuid>> {
    let blocks = sessions::blocks(pool, world.trainer, world.session).await.unwrap();
    blocks.iter().map(|b| b.slots.iter().map(|s| s.id).collect()).collect()
}

#[sqlx::test(migrations = "./migrations")]
async fn a_slot_sent_twice_is_one_and_joins_where_it_should(pool: Pool) {
    let world = world(&pool, "a").await;
    let (alone, paired) = (new_id(), new_id());
    for _ in 0..2 {
        slots::add(&pool, world.trainer, world.session, alone, &intent(), Joining::Alone).await.unwrap();
    }
    assert_eq!(slots_of(&pool, &world).await, [vec![world.slot], vec![alone]]);
    let blocks = sessions::blocks(&pool, world.trainer, world.session).await.unwrap();
    let joining = Joining::Block(blocks[0].id, BlockKind::Antagonist);
    slots::add(&pool, world.trainer, world.session, paired, &intent(), joining).await.unwrap();
    assert_eq!(slots_of(&pool, &world).await, [vec![world.slot, paired], vec![alone]]);
    let blocks = sessions::blocks(&pool, world.trainer, world.session).await.unwrap();
    assert_eq!((blocks[0].kind, blocks[1].kind), (BlockKind::Antagonist, BlockKind::Straight));
    let joining = Joining::Block(new_id(), BlockKind::Superset);
    let nowhere = slots::add(&pool, world.trainer, world.session, new_id(), &intent(), joining).await;
    assert!(matches!(nowhere, Err(StoreError::NotFound)));
}

#[sqlx::test(migrations = "./migrations")]
async fn two_windows_do_not_overwrite_each_others_intent(pool: Pool) {
    let world = world(&pool, "a").await;
    let with = |dose| Intent { dose, ..intent() };
    let (mine, theirs) =
        (with(Dose { sets: 4, ..Dose::USUAL }), with(Dose { stop: Some(StopRule::Failure), ..Dose::USUAL }));
    let change =
        async |version, intent: &Intent| slots::set_intent(&pool, world.trainer, world.slot, version, intent).await;
    change(0, &mine).await.unwrap();
    assert!(matches!(change(0, &theirs).await, Err(StoreError::Conflict)));
    let stands = slots::one(&pool, world.trainer, world.slot).await.unwrap().slot;
    assert_eq!((stands.version, &stands.intent), (1, &mine));
    change(1, &theirs).await.unwrap();
    let stands = slots::one(&pool, world.trainer, world.slot).await.unwrap().slot;
    assert_eq!((stands.version, &stands.intent), (2, &theirs));
    let gone = slots::set_intent(&pool, world.trainer, new_id(), 0, &mine).await;
    assert!(matches!(gone, Err(StoreError::NotFound)));
}

#[sqlx::test(migrations = "./migrations")]
async fn a_slot_taken_out_keeps_its_fit_and_log_and_comes_back(pool: Pool) {
    let world = world(&pool, "a").await;
    let (ten, dose, done) = (step(10.0), intent().dose.prescription(), set("2026-03-02", 10));
    fits::take(&pool, world.trainer, &fit(&world, "dumbbell_curl", &ten, &dose)).await.unwrap();
    log::append(&pool, world.trainer, &entry(&world, new_id(), &done)).await.unwrap();
    slots::set_removed(&pool, world.trainer, world.slot, true).await.unwrap();
    slots::set_removed(&pool, world.trainer, world.slot, true).await.unwrap();
    assert!(slots_of(&pool, &world).await.is_empty());
    let kept = log::of_client(&pool, world.trainer, world.client, day("2026-03-10")).await.unwrap();
    assert_eq!(kept.len(), 1, "what was logged is never lost");
    assert!(slots::one(&pool, world.trainer, world.slot).await.is_ok());
    slots::set_removed(&pool, world.trainer, world.slot, false).await.unwrap();
    assert_eq!(slots_of(&pool, &world).await, [vec![world.slot]]);
    let fit = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    assert_eq!(fit.exercise, "dumbbell_curl");
}

#[sqlx::test(migrations = "./migrations")]
async fn a_session_is_made_once_and_changed_by_version(pool: Pool) {
    let world = world(&pool, "a").await;
    let head = SessionHead {
        id: new_id(),
        client_id: world.client,
        place_id: world.place,
        name: "Upper A".into(),
        planned_on: day("2026-03-12"),
        state: WorkoutState::Planned,
        turn: bavrek_core::calendar::Turn::Usual,
        light: false,
        minutes: 50,
        method: Some(Method::SlowTempo),
        follows: None,
        version: 0,
    };
    for _ in 0..2 {
        assert_eq!(sessions::add(&pool, world.trainer, &head, &[]).await.unwrap(), (head.id, vec![]));
    }
    assert_eq!(sessions::head(&pool, world.trainer, head.id).await.unwrap(), head);
    let renamed = SessionHead { name: "Upper B".into(), method: None, ..head.clone() };
    sessions::change(&pool, world.trainer, &renamed).await.unwrap();
    let again = sessions::change(&pool, world.trainer, &SessionHead { name: "Upper C".into(), ..head }).await;
    assert!(matches!(again, Err(StoreError::Conflict)));
    let stands = sessions::head(&pool, world.trainer, renamed.id).await.unwrap();
    assert_eq!(stands, SessionHead { version: 1, ..renamed });
}

#[sqlx::test(migrations = "./migrations")]
async fn a_session_taken_out_leaves_no_trace_in_the_plan_and_comes_back(pool: Pool) {
    let world = world(&pool, "a").await;
    let (ten, dose, done) = (step(10.0), intent().dose.prescription(), set("2026-03-02", 10));
    fits::take(&pool, world.trainer, &fit(&world, "dumbbell_curl", &ten, &dose)).await.unwrap();
    log::append(&pool, world.trainer, &entry(&world, new_id(), &done)).await.unwrap();
    let line = async || {
        let page = roster::page(&pool, world.trainer, noon("2026-03-05"), &Wanted::default()).await.unwrap();
        (page.lines[0].session.as_ref().map(|s| s.0), page.lines[0].calls_waiting)
    };
    let planned = async || sessions::of_client(&pool, world.trainer, world.client).await.unwrap().len();
    assert_eq!((line().await, planned().await), ((Some(world.session), 1), 1));
    sessions::set_removed(&pool, world.trainer, world.session, true).await.unwrap();
    assert_eq!((line().await, planned().await), ((None, 0), 0));
    assert!(sessions::at_place(&pool, world.trainer, world.place).await.unwrap().is_empty());
    let kept = log::of_client(&pool, world.trainer, world.client, day("2026-03-10")).await.unwrap();
    assert_eq!(kept.len(), 1, "what was logged is never lost");
    sessions::set_removed(&pool, world.trainer, world.session, false).await.unwrap();
    assert_eq!((line().await, planned().await), ((Some(world.session), 1), 1));
}

#[sqlx::test(migrations = "./migrations")]
async fn strangers_write_nothing(pool: Pool) {
    let (mine, other) = (world(&pool, "a").await, world(&pool, "b").await);
    let me = mine.trainer;
    let refused = |result: Result<(), StoreError>| assert!(matches!(result, Err(StoreError::NotFound)), "{result:?}");
    refused(slots::add(&pool, me, other.session, new_id(), &intent(), Joining::Alone).await);
    refused(slots::set_intent(&pool, me, other.slot, 0, &intent()).await);
    refused(slots::set_removed(&pool, me, other.slot, true).await);
    refused(sessions::set_removed(&pool, me, other.session, true).await);
    let theirs = sessions::head(&pool, other.trainer, other.session).await.unwrap();
    refused(sessions::change(&pool, me, &theirs).await);
    // A block of another session of the same trainer is not joined either.
    let block = sessions::blocks(&pool, other.trainer, other.session).await.unwrap()[0].id;
    let joining = Joining::Block(block, BlockKind::Superset);
    refused(slots::add(&pool, me, mine.session, new_id(), &intent(), joining).await);
    assert_eq!(slots_of(&pool, &other).await, [vec![other.slot]]);
}

#[sqlx::test(migrations = "./migrations")]
async fn weights_are_each_trainers_own(pool: Pool) {
    let (mine, other) = (world(&pool, "a").await, world(&pool, "b").await);
    let own = Weights::from_percent([30.0, 10.0, 10.0, 10.0, 20.0, 10.0, 10.0]).unwrap();
    trainers::set_weights(&pool, mine.trainer, Some(&own)).await.unwrap();
    assert_eq!(trainers::judging(&pool, mine.trainer).await.unwrap().weights, Some(own));
    assert_eq!(trainers::judging(&pool, other.trainer).await.unwrap().weights, None);
    trainers::set_weights(&pool, mine.trainer, None).await.unwrap();
    assert_eq!(trainers::judging(&pool, mine.trainer).await.unwrap().weights, None);
}
