//! The latest set of each line that is kept beside the log is that of a fresh reading, after whatever changes a log.

use crate::common::{World, day, entry, set, world};
use bavrek_core::log::LoggedSet;
use bavrek_store::log::{self, NewSet};
use bavrek_store::{Pool, new_id, workouts};
use uuid::Uuid;

/// The latest set of each line, as it is kept.
async fn kept(pool: &Pool) -> Vec<(Uuid, Uuid)> {
    sqlx::query_as("select slot_id, set_id from latest_sets order by slot_id").fetch_all(pool).await.unwrap()
}

/// The set on which the next step of the line rests; what is kept is held against the whole log.
async fn latest(pool: &Pool, world: &World) -> Option<Uuid> {
    let fresh: Vec<(Uuid, Uuid)> = sqlx::query_as(
        "select distinct on (g.slot_id) g.slot_id, g.id
         from sets_in_force g left join workouts w on w.trainer_id = g.trainer_id and w.id = g.workout_id
         where g.slot_id is not null and (w.light is not true or coalesce((g.entry->>'pain')::int, 0) > 0)
         order by g.slot_id, g.performed_on desc, g.logged_at desc, g.position desc, g.id desc",
    )
    .fetch_all(pool)
    .await
    .unwrap();
    assert_eq!(kept(pool).await, fresh);
    fresh.into_iter().find(|(slot, _)| *slot == world.slot).map(|(_, set)| set)
}

async fn append(pool: &Pool, world: &World, told: &LoggedSet, supersedes: Option<Uuid>) -> Uuid {
    let id = new_id();
    let workout = workouts::on_day(pool, world.trainer, world.session, told.date).await.unwrap().map(|(id, _)| id);
    log::append(pool, world.trainer, &NewSet { supersedes, workout, ..entry(world, id, told) }).await.unwrap();
    id
}

async fn lighten(pool: &Pool, light: bool, planned: &str) {
    let change = "update workouts set light = $1 where planned_on = $2::date";
    let done = sqlx::query(change).bind(light).bind(day(planned)).execute(pool).await.unwrap();
    assert_eq!(done.rows_affected(), 1);
}

#[sqlx::test(migrations = "./migrations")]
async fn the_latest_set_of_a_line_follows_its_log(pool: Pool) {
    let (mine, theirs) = (world(&pool, "a").await, world(&pool, "b").await);
    assert_eq!(latest(&pool, &mine).await, None);
    let first = append(&pool, &mine, &set("2026-03-08", 8), None).await;
    assert_eq!((latest(&pool, &mine).await, latest(&pool, &theirs).await), (Some(first), None));
    append(&pool, &mine, &set("2026-03-06", 9), None).await;
    assert_eq!(latest(&pool, &mine).await, Some(first), "what comes late of an earlier day changes nothing");
    let second = append(&pool, &mine, &set("2026-03-10", 30), None).await;
    assert_eq!(latest(&pool, &mine).await, Some(second));
    let corrected = append(&pool, &mine, &set("2026-03-10", 13), Some(second)).await;
    assert_eq!(latest(&pool, &mine).await, Some(corrected));
    log::take_back(&pool, mine.trainer, mine.session, new_id(), corrected).await.unwrap();
    assert_eq!(latest(&pool, &mine).await, Some(first), "what was taken back is none");
    log::take_back(&pool, mine.trainer, mine.session, new_id(), first).await.unwrap();
    assert_ne!(latest(&pool, &mine).await, None);
    let other = append(&pool, &theirs, &set("2026-03-01", 5), None).await;
    assert_eq!(latest(&pool, &theirs).await, Some(other));
}

/// A lighter week asks for nothing, whether it was lighter before or is said to be so after, unless it hurt.
#[sqlx::test(migrations = "./migrations")]
async fn what_a_lighter_week_holds_counts_where_it_hurt(pool: Pool) {
    let world = world(&pool, "a").await;
    // The other day is planned with the session.
    workouts::plan(&pool, world.trainer, world.session, new_id(), day("2026-03-08")).await.unwrap();
    let first = append(&pool, &world, &set("2026-03-08", 8), None).await;
    let second = append(&pool, &world, &set("2026-03-10", 9), None).await;
    lighten(&pool, true, "2026-03-10").await;
    assert_eq!(latest(&pool, &world).await, Some(first));
    let plain = append(&pool, &world, &set("2026-03-10", 10), None).await;
    assert_eq!(latest(&pool, &world).await, Some(first));
    let hurt = append(&pool, &world, &LoggedSet { pain: Some(2), ..set("2026-03-10", 10) }, None).await;
    assert_eq!(latest(&pool, &world).await, Some(hurt));
    lighten(&pool, true, "2026-03-08").await;
    assert_eq!(latest(&pool, &world).await, Some(hurt));
    let eased = append(&pool, &world, &LoggedSet { pain: Some(0), ..set("2026-03-10", 10) }, Some(hurt)).await;
    assert_eq!(latest(&pool, &world).await, None, "all of it is of lighter weeks");
    lighten(&pool, false, "2026-03-10").await;
    assert!([second, plain, eased].contains(&latest(&pool, &world).await.unwrap()));
}

/// Two who write at once for one client do not overlook each other.
#[sqlx::test(migrations = "./migrations")]
async fn who_writes_at_once_is_not_overlooked(pool: Pool) {
    let world = world(&pool, "a").await;
    append(&pool, &world, &set("2026-03-01", 5), None).await;
    for on in 2..22_u16 {
        let (later, earlier) = (set(&format!("2026-03-{on:02}"), on), set("2026-02-28", on));
        let both = (append(&pool, &world, &earlier, None), append(&pool, &world, &later, None));
        let (_, newest) = tokio::join!(both.0, both.1);
        assert_eq!(latest(&pool, &world).await, Some(newest));
    }
}
