//! A client's data as a whole: everything is taken out, and nothing is left.

use std::collections::BTreeMap;

use crate::common::{World, entry, set, world};
use bavrek_store::deeds::{self, What};
use bavrek_store::people::{self, Agreed};
use bavrek_store::{Pool, StoreError, log, new_id};
use chrono::{DateTime, Utc};

fn moment() -> DateTime<Utc> {
    DateTime::from_timestamp(1_773_144_000, 0).unwrap()
}

/// Rows of every table of the schema that carries a trainer.
async fn rows(pool: &Pool) -> BTreeMap<String, i64> {
    let tables: Vec<String> = sqlx::query_scalar(
        "select c.table_name::text from information_schema.columns c join information_schema.tables t using (table_schema, table_name)
         where c.table_schema = 'public' and c.column_name = 'trainer_id' and t.table_type = 'BASE TABLE' order by 1",
    )
    .fetch_all(pool)
    .await
    .unwrap();
    assert!(tables.len() > 30, "{}", tables.len());
    let mut counts = BTreeMap::new();
    for table in tables {
        let count: i64 = sqlx::query_scalar(sqlx::AssertSqlSafe(format!("select count(*) from {table}")))
            .fetch_one(pool)
            .await
            .unwrap();
        counts.insert(table, count);
    }
    counts
}

/// A row of every table that can hold one of a client's, whatever it says: the schema is asked for its columns.
async fn fill(pool: &Pool, world: &World) {
    let first = new_id();
    log::append(pool, world.trainer, &entry(world, first, &set("2026-03-10", 10))).await.unwrap();
    for statement in [
        "insert into limits (trainer_id, id, client_id, rule, since) values ($1, $3, $2, '{}', '2026-03-01')",
        "insert into body_masses (trainer_id, id, client_id, mass_kg, measured_on) values ($1, $3, $2, 71, '2026-03-01')",
        "insert into observations (trainer_id, id, client_id, seen_on, kind, note) values ($1, $3, $2, '2026-03-01', 'posture', 'shrugs')",
        "insert into screenings (trainer_id, id, client_id, answered_on, answers, refers)
         values ($1, $3, $2, '2026-03-01', '{}', false)",
        "insert into outbox (trainer_id, id, client_id, kind, recipient, subject, body, written_at)
         values ($1, $3, $2, 'summary', '', 'May', 'Well done', now())",
    ] {
        sqlx::query(statement).bind(world.trainer.0).bind(world.client).bind(new_id()).execute(pool).await.unwrap();
    }
}

#[sqlx::test]
async fn an_erased_client_leaves_no_row_and_takes_nobody_along(pool: Pool) {
    let other = world(&pool, "b").await;
    fill(&pool, &other).await;
    let before = rows(&pool).await;
    let mine = world(&pool, "a").await;
    fill(&pool, &mine).await;
    let full = rows(&pool).await;
    let grown: Vec<&String> = full.keys().filter(|t| full[*t] > before[*t]).collect();
    assert!(grown.len() >= 11, "{grown:?}");

    // Nobody erases another trainer's client.
    let stranger = people::erase(&pool, other.trainer, mine.client, moment()).await;
    assert!(matches!(stranger, Err(StoreError::NotFound)));
    assert_eq!(rows(&pool).await, full);

    let receipt = people::erase(&pool, mine.trainer, mine.client, moment()).await.unwrap();
    let mut after = rows(&pool).await;
    assert_eq!(after.remove("deeds"), Some(1), "that it was done is kept, without a name");
    let expected: BTreeMap<String, i64> = before.into_iter().filter(|(table, _)| table != "deeds").collect();
    assert_eq!(after, expected);
    for (table, count) in &receipt.rows {
        assert_eq!(i64::try_from(*count).unwrap(), full[table] - after[table], "{table}");
    }
    let deed = deeds::latest(&pool, mine.trainer, 5).await.unwrap().remove(0);
    let total: u64 = receipt.rows.values().sum();
    assert_eq!((deed.what, deed.detail), (What::Erased, format!("{total} rows")));
    assert!(matches!(people::erase(&pool, mine.trainer, mine.client, moment()).await, Err(StoreError::NotFound)));
}

/// Every table that belongs to a trainer is either a client's, and then reached, or known to be the trainer's own.
#[sqlx::test]
async fn no_table_is_forgotten(pool: Pool) {
    const TRAINERS_OWN: [&str; 7] =
        ["account_links", "deeds", "http_sessions", "own_movements", "own_schools", "recovery_codes", "templates"];
    let mine = world(&pool, "a").await;
    let reached = people::tables(&pool).await.unwrap();
    let all = rows(&pool).await;
    let forgotten: Vec<&String> =
        all.keys().filter(|t| !reached.contains(t) && !TRAINERS_OWN.contains(&t.as_str())).collect();
    assert!(forgotten.is_empty(), "{forgotten:?}");
    assert!(reached.iter().all(|t| !TRAINERS_OWN.contains(&t.as_str())), "{reached:?}");
    assert_eq!(reached.last().unwrap(), "clients", "what is pointed to goes last");
    assert!(people::all(&pool, mine.trainer, mine.client, moment()).await.is_ok());
}

#[sqlx::test]
async fn what_is_taken_out_is_all_of_one_client_and_nothing_of_another(pool: Pool) {
    let (mine, other) = (world(&pool, "a").await, world(&pool, "b").await);
    fill(&pool, &mine).await;
    fill(&pool, &other).await;
    let tables = people::all(&pool, mine.trainer, mine.client, moment()).await.unwrap();
    let counts: BTreeMap<&str, usize> = tables.iter().map(|t| (t.name.as_str(), t.rows.len())).collect();
    for (table, count) in
        [("clients", 1), ("logged_sets", 1), ("limits", 1), ("places", 1), ("slots", 1), ("outbox", 1)]
    {
        assert_eq!(counts.get(table), Some(&count), "{table} of {counts:?}");
    }
    let text = serde_json::to_string(&tables.iter().map(|t| &t.rows).collect::<Vec<_>>()).unwrap();
    assert!(text.contains(&mine.client.to_string()) && !text.contains(&other.client.to_string()));
    assert!(!text.contains("trainer_id"), "whose client it is concerns nobody else");
    let stranger = people::all(&pool, other.trainer, mine.client, moment()).await;
    assert!(matches!(stranger, Err(StoreError::NotFound)));
    assert_eq!(deeds::latest(&pool, mine.trainer, 5).await.unwrap()[0].what, What::TakenOut);
    assert!(deeds::latest(&pool, other.trainer, 5).await.unwrap().is_empty());
}

#[sqlx::test]
async fn what_was_agreed_is_kept(pool: Pool) {
    let (mine, other) = (world(&pool, "a").await, world(&pool, "b").await);
    let agreed = Agreed { consent: "on paper, 1 March".into(), keep_until: "2028-03-01".parse().ok() };
    people::agree(&pool, mine.trainer, mine.client, &agreed).await.unwrap();
    assert_eq!(people::agreed(&pool, mine.trainer, mine.client).await.unwrap(), agreed);
    let stranger = people::agree(&pool, other.trainer, mine.client, &Agreed::default()).await;
    assert!(matches!(stranger, Err(StoreError::NotFound)));
    assert!(matches!(people::agreed(&pool, other.trainer, mine.client).await, Err(StoreError::NotFound)));
}
