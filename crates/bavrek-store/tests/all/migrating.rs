//! Data of the version before, carried over: days become workouts, and nothing that was logged is lost.

use bavrek_store::{Pool, TrainerId, log, roster, sessions, workouts};
use sqlx::migrate::Migrate;
use uuid::Uuid;

/// The schema up to a version.
async fn migrated_to(pool: &Pool, version: i64) {
    let mut connection = pool.acquire().await.unwrap();
    connection.ensure_migrations_table("_sqlx_migrations").await.unwrap();
    for migration in bavrek_store::MIGRATOR.iter().filter(|m| m.version <= version) {
        connection.apply("_sqlx_migrations", migration).await.unwrap();
    }
}

/// A client trained on two days, with a correction, a withdrawal, a set that was told, and sessions on three days.
const BEFORE: &str = include_str!("../data/version_6.sql");

#[sqlx::test(migrations = false)]
async fn days_become_workouts_and_every_row_stays(pool: Pool) {
    migrated_to(&pool, 6).await;
    sqlx::raw_sql(BEFORE).execute(&pool).await.unwrap();
    let rows = |pool: Pool| async move {
        let all: Vec<(Uuid, serde_json::Value, f64)> =
            sqlx::query_as("select id, entry, effective_kg from logged_sets order by id")
                .fetch_all(&pool)
                .await
                .unwrap();
        all
    };
    let before = rows(pool.clone()).await;
    assert_eq!(before.len(), 6);
    bavrek_store::migrate(&pool).await.unwrap();
    assert_eq!(rows(pool.clone()).await, before, "no row is changed or gone");

    let id = |n: u128| Uuid::from_u128(n);
    let (trainer, client) = (TrainerId(id(1)), id(2));
    let days = |session| workouts::of_session(&pool, trainer, session);
    let told = |days: Vec<workouts::Day>| -> Vec<(String, &'static str, i64)> {
        days.iter().map(|d| (d.on.to_string(), d.state.id(), d.sets)).collect()
    };
    // Trained on the second and, as planned, on the ninth; the corrected row does not count twice.
    let expected = [("2026-03-09".to_owned(), "done", 1), ("2026-03-02".to_owned(), "done", 2)];
    assert_eq!(told(days(id(10)).await.unwrap()), expected);
    assert_eq!(told(days(id(11)).await.unwrap()), [("2026-03-16".to_owned(), "planned", 0)]);
    let heads = sessions::of_client(&pool, trainer, client).await.unwrap();
    let on: Vec<_> = heads.iter().map(|h| (h.id, h.planned_on.to_string())).collect();
    assert_eq!(on, [(id(10), "2026-03-09".into()), (id(11), "2026-03-16".into())]);

    let sets = log::of_client(&pool, trainer, client, "2026-04-01".parse().unwrap()).await.unwrap();
    assert_eq!(sets.len(), 4, "what was corrected or withdrawn is not in force");
    let timed = sets.iter().filter(|s| s.done_at.is_some()).count();
    assert_eq!(timed, 3, "what was told has no time of day");
    let line = &roster::page(&pool, trainer, "2026-03-10T12:00:00Z".parse().unwrap(), &roster::Wanted::default())
        .await
        .unwrap()
        .lines[0];
    assert_eq!(line.session.as_ref().map(|s| (s.0, s.2.to_string())), Some((id(11), "2026-03-16".into())));
    // The next set of the migrated session joins a workout like any other.
    let start = workouts::Start {
        session: id(11),
        place: id(3),
        today: "2026-03-16".parse().unwrap(),
        now: "2026-03-16T12:00:00Z".parse().unwrap(),
        script: &serde_json::Value::Null,
    };
    let begun = workouts::begin(&pool, trainer, &start).await.unwrap();
    assert_eq!(days(id(11)).await.unwrap()[0].id, begun);
}

/// Pieces that were changed before changes were told from additions: each row is the piece that its first state was.
#[sqlx::test(migrations = false)]
async fn what_was_changed_is_known_as_the_piece_it_was(pool: Pool) {
    let id = |n: u128| Uuid::from_u128(n);
    migrated_to(&pool, 6).await;
    sqlx::raw_sql(BEFORE).execute(&pool).await.unwrap();
    let at = |day: u8, hour: u8| format!("2026-03-{day:02} {hour}:00+00");
    let rows = [
        (10, 1, at(1, 10), Some(at(2, 10))),
        (11, 1, at(2, 10), Some(at(3, 10))),
        (12, 1, at(3, 10), None),
        (20, 2, at(2, 10), None),
        (30, 3, at(1, 10), Some(at(2, 10))),
        (31, 3, at(2, 11), None),
    ];
    for (n, position, added, removed) in rows {
        sqlx::query(
            r#"insert into kit_items (trainer_id, id, place_id, item, position, added_at, removed_at)
               values ($1, $2, $3, '{"kind":"sofa"}', $4, $5::timestamptz, $6::timestamptz)"#,
        )
        .bind(id(1))
        .bind(id(n))
        .bind(id(3))
        .bind(position)
        .bind(added)
        .bind(removed)
        .execute(&pool)
        .await
        .unwrap();
    }
    bavrek_store::migrate(&pool).await.unwrap();
    let found: Vec<(Uuid, Option<Uuid>)> =
        sqlx::query_as("select id, piece from kit_items order by id").fetch_all(&pool).await.unwrap();
    let of = |n| (id(n), None);
    // What came an hour after something else had gone is another piece.
    let changed = |n, first| (id(n), Some(id(first)));
    assert_eq!(found, [of(10), changed(11, 10), changed(12, 10), of(20), of(30), of(31)]);
}
