//! Every query reaches a trainer's tables by the trainer: so no trainer reaches another's rows, and the tables can be distributed by
//! trainer over several machines.

use std::collections::BTreeSet;
use std::path::Path;

use crate::common::world;
use bavrek_store::{Pool, new_id, wall};
use sqlx::postgres::PgPoolOptions;
use uuid::Uuid;

/// Tables that are there before anybody is signed in, and the one that lists the trainers themselves.
const NOBODYS: [&str; 4] = ["trainers", "account_links", "sign_in_tries", "http_sessions"];

/// The queries of the store, as they were checked against the schema.
fn queries() -> Vec<String> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../.sqlx");
    let files = std::fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path());
    let read = |path: std::path::PathBuf| -> String {
        let text = std::fs::read_to_string(path).unwrap();
        let document: serde_json::Value = serde_json::from_str(&text).unwrap();
        document["query"].as_str().unwrap().to_lowercase()
    };
    files.filter(|path| path.extension().is_some_and(|e| e == "json")).map(read).collect()
}

/// The words of a query.
fn words(query: &str) -> Vec<&str> {
    query.split(|c: char| !(c.is_alphanumeric() || matches!(c, '_' | '$'))).filter(|w| !w.is_empty()).collect()
}

/// Whether the trainer is asked for: as a parameter, or passed to a function that asks for it.
fn asks_for_the_trainer(query: &str) -> bool {
    let words = words(query);
    words.contains(&"trainer_id") || words.windows(3).any(|w| w[0] == "from" && w[1] == "fits_for" && w[2] == "$1")
}

#[sqlx::test]
async fn every_query_of_a_trainers_table_names_the_trainer(pool: Pool) {
    let tables: Vec<String> = sqlx::query_scalar(
        "select distinct table_name::text from information_schema.columns
         where table_schema = 'public' and column_name = 'trainer_id'",
    )
    .fetch_all(&pool)
    .await
    .unwrap();
    let tables: BTreeSet<&str> = tables.iter().map(String::as_str).filter(|t| !NOBODYS.contains(t)).collect();
    assert!(tables.len() > 35, "{}", tables.len());
    let queries = queries();
    let touches = |query: &str| words(query).iter().any(|word| tables.contains(word));
    let touching: Vec<&String> = queries.iter().filter(|q| touches(q)).collect();
    assert!(queries.len() > 250 && touching.len() > 200, "{} of {}", touching.len(), queries.len());
    let loose: Vec<&&String> = touching.iter().filter(|q| !asks_for_the_trainer(q)).collect();
    assert!(loose.is_empty(), "{loose:#?}");
}

/// What the test above looks for is not found where it is not.
#[test]
fn a_query_that_forgets_its_trainer_is_noticed() {
    assert!(!asks_for_the_trainer("select name from clients where id = $1"));
    assert!(!asks_for_the_trainer("select name from clients where not_trainer_id = $1"));
    assert!(asks_for_the_trainer("select name from clients where trainer_id = $1 and id = $2"));
    assert!(asks_for_the_trainer("select id from fits_for($1, $2, $3)"));
}

/// A pool as the application connects, on a test's database.
async fn walled(pool: &Pool) -> Pool {
    let options = (*pool.connect_options()).clone();
    wall::guarded(PgPoolOptions::new().max_connections(2)).connect_with(options).await.unwrap()
}

/// A second wall stands under the queries: one that forgets its trainer finds nothing of another's.
#[sqlx::test]
async fn a_query_that_forgets_its_trainer_meets_the_wall(pool: Pool) {
    let (mine, other) = (world(&pool, "a@b.example").await, world(&pool, "c@d.example").await);
    let walled = walled(&pool).await;
    let found = async || -> Vec<Uuid> {
        sqlx::query_scalar("select id from clients order by id").fetch_all(&walled).await.unwrap()
    };
    let mut both = vec![mine.client, other.client];
    both.sort_unstable();
    assert_eq!(found().await, both, "what works for nobody in particular sees all");
    assert_eq!(wall::around(Some(mine.trainer), found()).await, [mine.client]);
    assert_eq!(wall::around(Some(other.trainer), found()).await, [other.client], "on the same connections");
    let opened = async {
        let before = found().await;
        wall::raise(mine.trainer);
        (before, found().await)
    };
    assert_eq!(wall::around(None, opened).await, (both.clone(), vec![mine.client]));
    assert_eq!(found().await, both, "and it is gone afterwards");

    // Nor does one write there.
    let renamed = sqlx::query("update clients set name = 'x'").execute(&walled);
    assert_eq!(wall::around(Some(mine.trainer), renamed).await.unwrap().rows_affected(), 1);
    let into = sqlx::query("insert into places (trainer_id, id, client_id, name) values ($1, $2, $3, 'x')")
        .bind(other.trainer.0)
        .bind(new_id())
        .bind(other.client)
        .execute(&walled);
    let refused = wall::around(Some(mine.trainer), into).await.unwrap_err().to_string();
    assert!(refused.contains("row-level security"), "{refused}");
    walled.close().await;
}

/// No table with a trainer is without the wall, also none that is added later.
#[sqlx::test]
async fn the_wall_stands_around_every_table_of_a_trainer(pool: Pool) {
    let tables: Vec<(String, bool)> = sqlx::query_as(
        "select c.relname::text, c.relrowsecurity and c.relforcerowsecurity
                and exists (select 1 from pg_policy p where p.polrelid = c.oid)
         from pg_class c join pg_attribute a on a.attrelid = c.oid and a.attname = 'trainer_id' and a.attnotnull
         where c.relnamespace = 'public'::regnamespace and c.relkind = 'r'",
    )
    .fetch_all(&pool)
    .await
    .unwrap();
    assert!(tables.len() > 35, "{}", tables.len());
    let open: Vec<&String> = tables.iter().filter(|(_, walled)| !walled).map(|(name, _)| name).collect();
    assert!(open.is_empty(), "{open:?}");
}
