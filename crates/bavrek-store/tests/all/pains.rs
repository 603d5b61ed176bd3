//! Pain as the log remembers it: what stands counts, what was taken back or settled does not.

use crate::common::{World, day, entry, set, world};
use bavrek_core::anatomy::Joint;
use bavrek_core::log::LoggedSet;
use bavrek_core::person::Side;
use bavrek_core::units::Kilograms;
use bavrek_store::log::{NewSet, Source, ToldSet};
use bavrek_store::{Pool, log, new_id, pains};
use uuid::Uuid;

fn sore(date: &str, pain: u8, at: Option<Joint>) -> LoggedSet {
    LoggedSet { pain: Some(pain), pain_at: at, pain_side: at.map(|_| Side::Left), ..set(date, 8) }
}

async fn log_one(pool: &Pool, world: &World, set: &LoggedSet, supersedes: Option<Uuid>) -> Uuid {
    let id = new_id();
    log::append(pool, world.trainer, &NewSet { supersedes, ..entry(world, id, set) }).await.unwrap();
    id
}

async fn hurting(pool: &Pool, world: &World, today: &str) -> Vec<Option<Joint>> {
    let found = pains::of_client(pool, world.trainer, world.client, day(today)).await.unwrap();
    found.into_iter().map(|p| p.joint).collect()
}

#[sqlx::test(migrations = "./migrations")]
async fn pain_of_four_and_more_is_told_with_its_place(pool: Pool) {
    let world = world(&pool, "a").await;
    log_one(&pool, &world, &sore("2026-03-10", 3, Some(Joint::Wrist)), None).await;
    log_one(&pool, &world, &sore("2026-03-11", 4, Some(Joint::Elbow)), None).await;
    log_one(&pool, &world, &sore("2026-03-12", 9, None), None).await;
    let found = pains::of_client(&pool, world.trainer, world.client, day("2026-03-12")).await.unwrap();
    let told: Vec<_> = found.iter().map(|p| (p.on, p.joint, p.side, p.strength)).collect();
    let elbow = (day("2026-03-11"), Some(Joint::Elbow), Some(Side::Left), Some(4));
    assert_eq!(told, [(day("2026-03-12"), None, None, Some(9)), elbow]);
    assert_eq!(found[1].exercise, "dumbbell_curl");
}

#[sqlx::test(migrations = "./migrations")]
async fn a_correction_and_a_withdrawal_take_pain_back_and_a_restored_set_brings_it_again(pool: Pool) {
    let world = world(&pool, "a").await;
    let hurt = sore("2026-03-11", 6, Some(Joint::Shoulder));
    let first = log_one(&pool, &world, &hurt, None).await;
    log_one(&pool, &world, &sore("2026-03-11", 1, None), Some(first)).await;
    assert!(hurting(&pool, &world, "2026-03-12").await.is_empty(), "corrected to a pain of 1");
    let told = new_id();
    let tested =
        ToldSet { id: told, client_id: world.client, source: Source::Test, set: &hurt, effective: Kilograms(10.0) };
    log::append_told(&pool, world.trainer, &tested).await.unwrap();
    assert_eq!(hurting(&pool, &world, "2026-03-12").await, [Some(Joint::Shoulder)]);
    let taken_back = new_id();
    log::set_withdrawn(&pool, world.trainer, world.client, taken_back, told, true).await.unwrap();
    assert!(hurting(&pool, &world, "2026-03-12").await.is_empty());
    log::set_withdrawn(&pool, world.trainer, world.client, new_id(), taken_back, false).await.unwrap();
    assert_eq!(hurting(&pool, &world, "2026-03-12").await, [Some(Joint::Shoulder)]);
}

#[sqlx::test(migrations = "./migrations")]
async fn one_joint_is_settled_at_a_time_and_new_pain_counts_again(pool: Pool) {
    let world = world(&pool, "a").await;
    for joint in [Some(Joint::Elbow), Some(Joint::Shoulder), None] {
        log_one(&pool, &world, &sore("2026-03-11", 5, joint), None).await;
    }
    let settled = new_id();
    for _ in 0..2 {
        pains::settle(&pool, world.trainer, world.client, settled, Some(Joint::Elbow)).await.unwrap();
    }
    assert_eq!(hurting(&pool, &world, "2026-03-12").await, [None, Some(Joint::Shoulder)]);
    pains::settle(&pool, world.trainer, world.client, new_id(), None).await.unwrap();
    assert_eq!(hurting(&pool, &world, "2026-03-12").await, [Some(Joint::Shoulder)]);
    log_one(&pool, &world, &sore("2026-03-12", 5, Some(Joint::Elbow)), None).await;
    assert_eq!(hurting(&pool, &world, "2026-03-12").await, [Some(Joint::Elbow), Some(Joint::Shoulder)]);
}

#[sqlx::test(migrations = "./migrations")]
async fn it_is_remembered_for_four_weeks(pool: Pool) {
    let world = world(&pool, "a").await;
    log_one(&pool, &world, &sore("2026-03-11", 5, Some(Joint::Elbow)), None).await;
    let days = [("2026-03-10", false), ("2026-03-11", true), ("2026-04-08", true), ("2026-04-09", false)];
    for (today, remembered) in days {
        assert_eq!(!hurting(&pool, &world, today).await.is_empty(), remembered, "{today}");
    }
}

#[sqlx::test(migrations = "./migrations")]
async fn nobody_sees_or_settles_another_trainers_pain(pool: Pool) {
    let (mine, theirs) = (world(&pool, "a").await, world(&pool, "b").await);
    log_one(&pool, &mine, &sore("2026-03-11", 5, Some(Joint::Elbow)), None).await;
    let seen = pains::of_client(&pool, theirs.trainer, mine.client, day("2026-03-12")).await.unwrap();
    assert!(seen.is_empty());
    let settled = pains::settle(&pool, theirs.trainer, mine.client, new_id(), Some(Joint::Elbow)).await;
    assert!(settled.is_err(), "a client of somebody else's");
    assert_eq!(hurting(&pool, &mine, "2026-03-12").await, [Some(Joint::Elbow)]);
}
