//! What the roster shows is kept from look to look; whatever changes it is noticed at the next one.

use std::collections::BTreeSet;

use crate::common::{World, day, entry, fit, intent, noon, set, step, world};
use bavrek_store::roster::{self, RosterLine, Wanted};
use bavrek_store::{Pool, fits, log, new_id, people};

/// The only line, at noon of a day in Greenwich.
async fn line(pool: &Pool, world: &World, today: &str) -> RosterLine {
    let page = roster::page(pool, world.trainer, noon(today), &Wanted::default()).await.unwrap();
    assert_eq!((page.total, page.lines.len()), (1, 1));
    page.lines.into_iter().next().unwrap()
}

/// What is kept of the only client, which is what a fresh look at everything finds.
async fn kept(pool: &Pool, world: &World, today: &str) -> String {
    let differing: i64 = sqlx::query_scalar(
        "select count(*) from (
           select client_id, day, place, session_id, session_name, planned_on, open, last_logged, pain, waiting, stopped
           from roster_lines where trainer_id = $1
           except select * from work_out_roster($1, $2, array(select id from clients where trainer_id = $1))) x",
    )
    .bind(world.trainer.0)
    .bind(noon(today))
    .fetch_one(pool)
    .await
    .unwrap();
    assert_eq!(differing, 0);
    let kept = sqlx::query_scalar("select r::text from roster_lines r where trainer_id = $1").bind(world.trainer.0);
    kept.fetch_one(pool).await.unwrap()
}

/// A client with a line that waits for a call.
async fn trained(pool: &Pool) -> World {
    let world = world(pool, "a").await;
    let (ten, dose) = (step(10.0), intent().dose.prescription());
    fits::take(pool, world.trainer, &fit(&world, "dumbbell_curl", &ten, &dose)).await.unwrap();
    log::append(pool, world.trainer, &entry(&world, new_id(), &set("2026-03-06", 8))).await.unwrap();
    world
}

/// Changes of each table that the roster rests on: every one shows.
const CHANGES: [(&str, &str); 20] = [
    ("places", "update places set name = 'Attic'"),
    ("places", "update places set archived_at = now()"),
    ("sessions", "update sessions set name = 'Push'"),
    ("workouts", "update workouts set planned_on = planned_on + 2"),
    ("workouts", "update workouts set state = 'done'"),
    (
        "workouts",
        "insert into workouts (trainer_id, id, session_id, place_id, planned_on)
         select trainer_id, gen_random_uuid(), session_id, place_id, planned_on + 2 from workouts",
    ),
    ("workouts", "delete from workouts where state = 'planned'"),
    ("fits", "update fits set exercise = 'dumbbell_row'"),
    ("fits", "update fits set exercise = 'dumbbell_curl'"),
    (
        "decisions",
        "insert into decisions (trainer_id, id, slot_id, fit_id, proposed, decided, reasons, after_set)
         select l.trainer_id, gen_random_uuid(), l.slot_id, f.id, 'repeat', 'repeat', '[]', l.set_id
         from latest_sets l join fits f using (trainer_id, slot_id)",
    ),
    ("decisions", "update decisions set undone_at = now()"),
    ("slots", "update slots set removed_at = now()"),
    ("slots", "update slots set removed_at = null"),
    (
        "logged_sets",
        "insert into logged_sets (trainer_id, id, client_id, slot_id, place_id, position, performed_on, exercise, entry,
             effective_kg, model_version, logged_at, done_at)
         select trainer_id, gen_random_uuid(), client_id, slot_id, place_id, position, performed_on + 1, exercise,
             entry || '{\"pain\": 6}', effective_kg, model_version, logged_at, done_at from logged_sets",
    ),
    (
        "screenings",
        "insert into screenings (trainer_id, id, client_id, answered_on, answers, refers)
         select trainer_id, gen_random_uuid(), id, '2026-03-08', '{}', true from clients",
    ),
    (
        "clearances",
        "insert into clearances (trainer_id, id, screening_id, given_by, given_on, note)
         select trainer_id, gen_random_uuid(), id, 'Dr Nobody', '2026-03-09', '' from screenings",
    ),
    ("clients", "update clients set time_zone = 'Pacific/Auckland'"),
    ("sessions", "update sessions set removed_at = now()"),
    ("sessions", "update sessions set removed_at = null"),
    (
        "blocks",
        "with put_away as (
           insert into sessions (trainer_id, id, client_id, place_id, name, minutes, removed_at)
           select trainer_id, gen_random_uuid(), client_id, place_id, 'Old', 30, now() from sessions returning trainer_id, id)
         update blocks b set session_id = s.id from put_away s where s.trainer_id = b.trainer_id",
    ),
];

#[sqlx::test]
async fn every_change_shows_at_the_next_look(pool: Pool) {
    let world = trained(&pool).await;
    let first = line(&pool, &world, "2026-03-10").await;
    assert_eq!((first.calls_waiting, first.pain, first.last_logged), (1, None, Some(day("2026-03-06"))));
    let mut before = kept(&pool, &world, "2026-03-10").await;
    for (table, change) in CHANGES {
        let done = sqlx::raw_sql(change).execute(&pool).await.unwrap();
        assert!(done.rows_affected() > 0, "{change}");
        line(&pool, &world, "2026-03-10").await;
        let after = kept(&pool, &world, "2026-03-10").await;
        assert_ne!(after, before, "{table}: {change}");
        before = after;
    }
    let last = line(&pool, &world, "2026-03-10").await;
    assert_eq!((last.pain, last.last_logged, last.calls_waiting), (Some(6), Some(day("2026-03-07")), 0));
}

/// Of everything that the roster is worked out from, by the text of the functions and views that do it, a change is tried above; only
/// the latest sets are not, which follow the log and the workouts by themselves.
#[sqlx::test]
async fn no_table_that_the_roster_rests_on_is_forgotten(pool: Pool) {
    let texts: Vec<(String, Option<String>)> = sqlx::query_as(
        "select proname::text, prosrc from pg_proc where pronamespace = 'public'::regnamespace
         union all select viewname::text, definition from pg_views where schemaname = 'public'
         union all select tablename::text, null from pg_tables where schemaname = 'public'",
    )
    .fetch_all(&pool)
    .await
    .unwrap();
    let mut found = BTreeSet::from(["work_out_roster"]);
    let mut rests_on = BTreeSet::new();
    let mut ahead = vec!["work_out_roster"];
    while let Some(name) = ahead.pop() {
        let (name, text) = texts.iter().find(|(known, _)| known == name).unwrap();
        let Some(text) = text else {
            rests_on.insert(name.as_str());
            continue;
        };
        let words: BTreeSet<&str> = text.split(|c: char| !(c.is_alphanumeric() || c == '_')).collect();
        for (next, _) in texts.iter().filter(|(known, _)| words.contains(known.as_str())) {
            if found.insert(next) {
                ahead.push(next);
            }
        }
    }
    let tried: BTreeSet<&str> = CHANGES.iter().map(|(table, _)| *table).chain(["latest_sets"]).collect();
    assert_eq!(rests_on, tried);
}

#[sqlx::test]
async fn another_day_is_another_line(pool: Pool) {
    let world = trained(&pool).await;
    let hurt = bavrek_core::log::LoggedSet { pain: Some(5), ..set("2026-03-08", 8) };
    log::append(&pool, world.trainer, &entry(&world, new_id(), &hurt)).await.unwrap();
    for (today, pain) in
        [("2026-03-10", Some(5)), ("2026-03-21", Some(5)), ("2026-03-22", None), ("2026-03-09", Some(5))]
    {
        let line = line(&pool, &world, today).await;
        assert_eq!((line.today, line.pain), (day(today), pain), "{today}");
    }
}

/// A change that is not finished while the roster is looked at makes nobody wait, and shows as soon as it is.
#[sqlx::test]
async fn a_change_under_way_is_not_lost(pool: Pool) {
    let world = trained(&pool).await;
    for (change, before, after) in [
        ("update places set name = 'Attic'", Some("P"), Some("Attic")),
        ("update places set removed_at = now()", Some("Attic"), None),
    ] {
        let mut writer = pool.begin().await.unwrap();
        sqlx::query(change).execute(&mut *writer).await.unwrap();
        // Something else that is finished meanwhile: the line is worked out anew while the change is under way.
        let other = "update sessions set minutes = minutes + 1";
        assert_eq!(sqlx::query(other).execute(&pool).await.unwrap().rows_affected(), 1);
        assert_eq!(line(&pool, &world, "2026-03-10").await.place.as_deref(), before, "{change}");
        writer.commit().await.unwrap();
        assert_eq!(line(&pool, &world, "2026-03-10").await.place.as_deref(), after, "{change}");
    }
}

/// Readers and writers at once: in the end everything shows.
#[sqlx::test]
async fn many_at_once_leave_what_is_true(pool: Pool) {
    let world = trained(&pool).await;
    let write = |nth: u32| {
        let pool = pool.clone();
        async move {
            let named = sqlx::query("update places set name = $1").bind(format!("Room {nth}"));
            assert_eq!(named.execute(&pool).await.unwrap().rows_affected(), 1);
        }
    };
    for round in 0..12 {
        tokio::join!(
            write(2 * round),
            line(&pool, &world, "2026-03-10"),
            write(2 * round + 1),
            line(&pool, &world, "2026-03-11"),
            line(&pool, &world, "2026-03-10"),
        );
        let name: String = sqlx::query_scalar("select name from places").fetch_one(&pool).await.unwrap();
        assert_eq!(line(&pool, &world, "2026-03-10").await.place, Some(name));
        kept(&pool, &world, "2026-03-10").await;
    }
}

/// More clients than are worked out at once: all of them are, at the first look.
#[sqlx::test]
async fn a_thousand_lines_are_all_worked_out(pool: Pool) {
    let world = trained(&pool).await;
    let crowd = "insert into clients (trainer_id, id, name, body_mass_kg, height_m, experience)
                 select $1, gen_random_uuid(), 'Person ' || i, 70, 1.7, 'novice' from generate_series(1, 1100) i";
    sqlx::query(crowd).bind(world.trainer.0).execute(&pool).await.unwrap();
    let page = roster::page(&pool, world.trainer, noon("2026-03-10"), &Wanted::default()).await.unwrap();
    assert_eq!(page.total, 1101);
    let worked_out = "select count(*) from roster_lines where day = '2026-03-10'";
    assert_eq!(sqlx::query_scalar::<_, i64>(worked_out).fetch_one(&pool).await.unwrap(), 1101);
}

#[sqlx::test]
async fn what_was_noted_is_taken_away_and_goes_with_its_client(pool: Pool) {
    let (mine, theirs) = (trained(&pool).await, world(&pool, "b").await);
    let noted = |world: &World| {
        let count = "select count(*) from roster_changes where trainer_id = $1";
        let (pool, trainer) = (pool.clone(), world.trainer.0);
        async move { sqlx::query_scalar::<_, i64>(count).bind(trainer).fetch_one(&pool).await.unwrap() }
    };
    assert!(noted(&mine).await > 0 && noted(&theirs).await > 0);
    line(&pool, &mine, "2026-03-10").await;
    assert_eq!(noted(&mine).await, 0);
    assert!(noted(&theirs).await > 0, "another trainer's look takes nothing away");
    people::erase(&pool, theirs.trainer, theirs.client, noon("2026-03-10")).await.unwrap();
    assert_eq!(noted(&theirs).await, 0);
}
