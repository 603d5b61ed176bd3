//! A client's data as a whole: everything is taken out, and nothing is left.

use std::collections::BTreeMap;

use crate::common::{World, day, entry, set, world};
use bavrek_core::person::Experience;
use bavrek_core::units::{Kilograms, Metres};
use bavrek_store::clients::{self, Client};
use bavrek_store::deeds::{self, About, What};
use bavrek_store::people::{self, Agreed};
use bavrek_store::{Pool, StoreError, log, new_id};
use chrono::{DateTime, Duration, Utc};

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
    let deed = deeds::latest(&pool, mine.trainer, None, 5).await.unwrap().remove(0);
    let total: u64 = receipt.rows.values().sum();
    assert_eq!((deed.what, deed.detail), (What::Erased, format!("{total} rows")));
    assert!(matches!(people::erase(&pool, mine.trainer, mine.client, moment()).await, Err(StoreError::NotFound)));
}

/// Every table that belongs to a trainer is either a client's, and then reached, or known to be the trainer's own.
#[sqlx::test]
async fn no_table_is_forgotten(pool: Pool) {
    const TRAINERS_OWN: [&str; 9] = [
        "account_links",
        "api_answers",
        "api_tokens",
        "deeds",
        "http_sessions",
        "own_movements",
        "own_schools",
        "recovery_codes",
        "templates",
    ];
    // Taken away by the client's own going.
    const GO_ALONG: [&str; 1] = ["roster_changes"];
    let mine = world(&pool, "a").await;
    let reached = people::tables(&pool).await.unwrap();
    let all = rows(&pool).await;
    let forgotten: Vec<&String> = all
        .keys()
        .filter(|t| !reached.contains(t) && !TRAINERS_OWN.iter().chain(&GO_ALONG).any(|own| own == t))
        .collect();
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
    assert_eq!(deeds::latest(&pool, mine.trainer, None, 5).await.unwrap()[0].what, What::TakenOut);
    assert!(deeds::latest(&pool, other.trainer, None, 5).await.unwrap().is_empty());
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

/// What was logged is kept by the database itself, whoever asks; it leaves with its client alone.
#[sqlx::test(migrations = "./migrations")]
async fn what_was_logged_is_neither_changed_nor_deleted(pool: Pool) {
    let (mine, other) = (world(&pool, "a@b.example").await, world(&pool, "c@d.example").await);
    for world in [&mine, &other] {
        log::append(&pool, world.trainer, &entry(world, new_id(), &set("2026-03-10", 10))).await.unwrap();
    }
    for statement in [
        "update logged_sets set effective_kg = 1",
        "update logged_sets set withdrawn = true",
        "delete from logged_sets",
        "truncate logged_sets cascade",
    ] {
        let refused = sqlx::query(statement).execute(&pool).await.unwrap_err().to_string();
        assert!(refused.contains("what was logged is not changed"), "{statement}: {refused}");
    }
    // Erasing one client reaches nobody else's.
    let mut tx = pool.begin().await.unwrap();
    let erasing = "select set_config('bavrek.erasing', $1, true)";
    sqlx::query(erasing).bind(mine.client.to_string()).execute(&mut *tx).await.unwrap();
    let delete = "delete from logged_sets where trainer_id = $1";
    assert!(sqlx::query(delete).bind(other.trainer.0).execute(&mut *tx).await.is_err());
    tx.rollback().await.unwrap();
    people::erase(&pool, mine.trainer, mine.client, moment()).await.unwrap();
    let left: Vec<uuid::Uuid> = sqlx::query_scalar("select client_id from logged_sets").fetch_all(&pool).await.unwrap();
    assert_eq!(left, [other.client]);
}

/// Changes are told with whom they were about, also where the address named a session or slot; of an erased client no trace stays.
#[sqlx::test(migrations = "./migrations")]
async fn changes_are_kept_with_their_client_until_that_is_erased(pool: Pool) {
    let (mine, other) = (world(&pool, "a@b.example").await, world(&pool, "c@d.example").await);
    let none = About::default();
    let about = [
        About { client: Some(mine.client), ..none },
        About { session: Some(mine.session), ..none },
        About { slot: Some(mine.slot), ..none },
        // Another trainer's session leads to nobody.
        About { session: Some(other.session), ..none },
        none,
    ];
    for (i, about) in about.into_iter().enumerate() {
        deeds::changed(&pool, mine.trainer, about, &i.to_string(), moment()).await.unwrap();
    }
    let of = async |client| {
        let deeds = deeds::latest(&pool, mine.trainer, client, 10).await.unwrap();
        deeds.into_iter().rev().map(|d| (d.detail, d.client)).collect::<Vec<_>>()
    };
    let name = Some("C".to_owned());
    let told = ["0", "1", "2"].map(|n| (n.to_owned(), name.clone()));
    assert_eq!(of(Some(mine.client)).await, told);
    assert_eq!(of(None).await[3..], [("3".to_owned(), None), ("4".to_owned(), None)]);
    assert_eq!(deeds::latest(&pool, other.trainer, None, 10).await.unwrap(), []);
    people::erase(&pool, mine.trainer, mine.client, moment()).await.unwrap();
    assert_eq!(of(Some(mine.client)).await, []);
    assert!(of(None).await.iter().all(|(_, client)| client.is_none()));
    // After two years nobody asks any more.
    assert_eq!(deeds::sweep(&pool, moment() + Duration::days(730)).await.unwrap(), 0);
    assert_eq!(deeds::sweep(&pool, moment() + Duration::days(731)).await.unwrap(), 6);
}

/// An aim or a limit takes the place of one of the same client alone.
#[sqlx::test(migrations = "./migrations")]
async fn nothing_takes_the_place_of_another_clients(pool: Pool) {
    let mine = world(&pool, "a@b.example").await;
    let novice = Client::new("D", Kilograms(60.0), Metres(1.6), Experience::Novice);
    let second = clients::add(&pool, mine.trainer, &novice, day("2026-03-01")).await.unwrap();
    for (table, columns, values) in
        [("aims", "aims, set_on", "'{}', '2026-03-01'"), ("limits", "rule, since", "'{}', '2026-03-01'")]
    {
        let insert = format!(
            "insert into {table} (trainer_id, id, client_id, replaces, {columns}) values ($1, $2, $3, $4, {values})"
        );
        let add = async |client: uuid::Uuid, replaces: Option<uuid::Uuid>| {
            let id = new_id();
            let query = sqlx::query(sqlx::AssertSqlSafe(insert.clone())).bind(mine.trainer.0).bind(id);
            query.bind(client).bind(replaces).execute(&pool).await.map(|_| id)
        };
        let first = add(mine.client, None).await.unwrap();
        assert!(add(second, Some(first)).await.unwrap_err().to_string().contains("foreign key"), "{table}");
        add(mine.client, Some(first)).await.unwrap();
    }
}
