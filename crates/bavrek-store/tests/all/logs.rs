//! Logs that were read before are as new as the database: after every way in which a log changes.

use crate::common::{World, day, entry, set, world};
use bavrek_core::units::Kilograms;
use bavrek_store::log::{self, NewSet, Source, ToldSet};
use bavrek_store::logs::Logs;
use bavrek_store::{Pool, clients, new_id};
use std::sync::Arc;

/// Repetitions of the log as it is kept, held against a fresh reading.
async fn kept(pool: &Pool, logs: &Logs, world: &World, until: &str) -> Vec<Option<u16>> {
    let client = clients::one(pool, world.trainer, world.client).await.unwrap();
    let log = logs.of_client(pool, world.trainer, &client, day(until)).await.unwrap();
    let fresh = log::of_client(pool, world.trainer, world.client, day(until)).await.unwrap();
    assert_eq!(log.records, fresh);
    assert_eq!(log.sets, fresh.iter().map(|r| r.set.clone()).collect::<Vec<_>>());
    log.sets.iter().map(|s| s.reps).collect()
}

#[sqlx::test(migrations = "./migrations")]
async fn every_change_of_a_log_is_seen(pool: Pool) {
    let (world, logs) = (world(&pool, "a").await, Logs::default());
    let World { trainer, client, .. } = world;
    assert_eq!(kept(&pool, &logs, &world, "2026-03-20").await, []);
    let (first, wrong) = (new_id(), new_id());
    for (id, date, reps) in [(first, "2026-03-08", 8), (wrong, "2026-03-10", 30)] {
        log::append(&pool, trainer, &entry(&world, id, &set(date, reps))).await.unwrap();
    }
    assert_eq!(kept(&pool, &logs, &world, "2026-03-20").await, [Some(8), Some(30)]);
    let right = set("2026-03-10", 13);
    log::append(&pool, trainer, &NewSet { supersedes: Some(wrong), ..entry(&world, new_id(), &right) }).await.unwrap();
    assert_eq!(kept(&pool, &logs, &world, "2026-03-20").await, [Some(8), Some(13)]);
    let (told, told_id) = (set("2026-03-01", 5), new_id());
    let new = ToldSet { id: told_id, client_id: client, source: Source::Told, set: &told, effective: Kilograms(9.0) };
    log::append_told(&pool, trainer, &new).await.unwrap();
    assert_eq!(kept(&pool, &logs, &world, "2026-03-20").await, [Some(5), Some(8), Some(13)]);
    log::set_withdrawn(&pool, trainer, client, new_id(), told_id, true).await.unwrap();
    assert_eq!(kept(&pool, &logs, &world, "2026-03-20").await, [Some(8), Some(13)]);
    assert_eq!(kept(&pool, &logs, &world, "2026-03-09").await, [Some(8)], "what is dated later is left out");
}

/// What was told or tested is no work of a week, nor is what was corrected or lies before it.
#[sqlx::test(migrations = "./migrations")]
async fn work_is_what_was_done_in_sessions(pool: Pool) {
    let (world, logs) = (world(&pool, "a").await, Logs::default());
    let World { trainer, client, .. } = world;
    let wrong = new_id();
    for (id, date, reps) in [(new_id(), "2026-03-08", 8), (wrong, "2026-03-10", 30)] {
        log::append(&pool, trainer, &entry(&world, id, &set(date, reps))).await.unwrap();
    }
    let right = set("2026-03-10", 13);
    log::append(&pool, trainer, &NewSet { supersedes: Some(wrong), ..entry(&world, new_id(), &right) }).await.unwrap();
    for (source, reps) in [(Source::Told, 5), (Source::Test, 6)] {
        let set = set("2026-03-10", reps);
        let new = ToldSet { id: new_id(), client_id: client, source, set: &set, effective: Kilograms(9.0) };
        log::append_told(&pool, trainer, &new).await.unwrap();
    }
    assert_eq!(kept(&pool, &logs, &world, "2026-03-20").await.len(), 4);
    let client = clients::one(&pool, trainer, client).await.unwrap();
    let log = logs.of_client(&pool, trainer, &client, day("2026-03-20")).await.unwrap();
    let worked = |from: &str| log.worked(day(from)).map(|s| s.reps).collect::<Vec<_>>();
    assert_eq!(worked("2026-03-08"), [Some(8), Some(13)]);
    assert_eq!(worked("2026-03-09"), [Some(13)]);
    assert_eq!(worked("2026-03-11"), []);
}

#[sqlx::test(migrations = "./migrations")]
async fn an_unchanged_log_is_read_once_and_each_client_has_its_own(pool: Pool) {
    let (mine, theirs, logs) = (world(&pool, "a").await, world(&pool, "b").await, Logs::default());
    log::append(&pool, mine.trainer, &entry(&mine, new_id(), &set("2026-03-08", 8))).await.unwrap();
    let client = clients::one(&pool, mine.trainer, mine.client).await.unwrap();
    let other = clients::one(&pool, theirs.trainer, theirs.client).await.unwrap();
    assert_eq!((client.logged, other.logged), (1, 0));
    let until = day("2026-03-20");
    let once = logs.of_client(&pool, mine.trainer, &client, until).await.unwrap();
    let twice = logs.of_client(&pool, mine.trainer, &client, until).await.unwrap();
    assert!(Arc::ptr_eq(&once, &twice));
    assert_eq!(logs.of_client(&pool, theirs.trainer, &other, until).await.unwrap().sets, []);
    // Who asks for another trainer's client finds nothing, whatever is kept.
    assert_eq!(logs.of_client(&pool, theirs.trainer, &client, until).await.unwrap().sets, []);
}

/// A log that grows is kept as a fresh reading has it, in whatever order rows come: on earlier days, on one day, corrected, corrected
/// again, taken back, and begun before what came first.
#[sqlx::test(migrations = "./migrations")]
async fn a_log_that_grows_is_that_of_a_fresh_reading(pool: Pool) {
    let (world, logs) = (world(&pool, "a").await, Logs::default());
    let trainer = world.trainer;
    assert_eq!(kept(&pool, &logs, &world, "2026-03-20").await, []);
    let ids: Vec<_> = (0..6).map(|_| new_id()).collect();
    let days = ["2026-03-08", "2026-03-10", "2026-03-06", "2026-03-08", "2026-03-10", "2026-03-10"];
    for (i, (id, on)) in ids.iter().zip(days).enumerate() {
        log::append(&pool, trainer, &entry(&world, *id, &set(on, i as u16))).await.unwrap();
        // Seen one by one, and several at once.
        if i % 2 == 0 {
            assert_eq!(kept(&pool, &logs, &world, "2026-03-20").await.len(), i + 1);
        }
    }
    let by_day = [2, 0, 3, 1, 4, 5].map(Some);
    assert_eq!(kept(&pool, &logs, &world, "2026-03-20").await, by_day);
    let (better, best) = (new_id(), new_id());
    for (id, old, reps) in [(better, ids[3], 13), (best, better, 14)] {
        let right = set("2026-03-08", reps);
        log::append(&pool, trainer, &NewSet { supersedes: Some(old), ..entry(&world, id, &right) }).await.unwrap();
    }
    log::take_back(&pool, trainer, world.session, new_id(), ids[4]).await.unwrap();
    assert_eq!(kept(&pool, &logs, &world, "2026-03-20").await, [2, 0, 14, 1, 5].map(Some));
    // A row that was begun before the newest and comes after it.
    let mut early = pool.begin().await.unwrap();
    sqlx::query("select now()").execute(&mut *early).await.unwrap();
    log::append(&pool, trainer, &entry(&world, new_id(), &set("2026-03-11", 7))).await.unwrap();
    assert_eq!(kept(&pool, &logs, &world, "2026-03-20").await.len(), 6);
    sqlx::query(
        "insert into logged_sets (trainer_id, id, client_id, slot_id, place_id, position, performed_on, exercise, entry,
                                  effective_kg, model_version, workout_id, done_at)
         select trainer_id, gen_random_uuid(), client_id, slot_id, place_id, position, performed_on, exercise, entry,
                effective_kg, model_version, workout_id, done_at from logged_sets where id = $1",
    )
    .bind(ids[0])
    .execute(&mut *early)
    .await
    .unwrap();
    early.commit().await.unwrap();
    assert_eq!(kept(&pool, &logs, &world, "2026-03-20").await.len(), 7);
}
