//! A client's data as a whole: taken out, or erased. Which rows are a client's is read from the schema itself, so that no table can
//! be forgotten.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, NaiveDate, Utc};
use serde_json::{Map, Value};
use sqlx::{AssertSqlSafe, PgConnection};
use uuid::Uuid;

use crate::deeds::{self, What};
use crate::{Pool, StoreError, TrainerId};

/// A foreign key: which columns of which table point to which of which other.
#[derive(Debug)]
struct Key {
    child: String,
    columns: Vec<String>,
    parent: String,
    targets: Vec<String>,
}

/// Rows of one table.
#[derive(Debug, Clone, PartialEq)]
pub struct Table {
    /// Its name.
    pub name: String,
    /// Its rows, each as an object.
    pub rows: Vec<Map<String, Value>>,
}

/// What was erased.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Receipt {
    /// When.
    pub at: DateTime<Utc>,
    /// How many rows of which table.
    pub rows: BTreeMap<String, u64>,
}

/// Tables that hold a client's rows, each with the condition by which a row is the client's (`$1` the trainer, `$2` the client):
/// what points to others comes before them.
pub(crate) async fn reach(connection: &mut PgConnection) -> Result<Vec<(String, String)>, StoreError> {
    let rows = sqlx::query!(
        r#"select conrelid::regclass::text as "child!", confrelid::regclass::text as "parent!",
                  (select array_agg(a.attname::text order by k.n) from unnest(c.conkey) with ordinality k (num, n)
                   join pg_attribute a on a.attrelid = c.conrelid and a.attnum = k.num) as "columns!",
                  (select array_agg(a.attname::text order by k.n) from unnest(c.confkey) with ordinality k (num, n)
                   join pg_attribute a on a.attrelid = c.confrelid and a.attnum = k.num) as "targets!"
           from pg_constraint c
           where contype = 'f' and connamespace = 'public'::regnamespace and conrelid <> confrelid
           order by 1, conname"#
    )
    .fetch_all(connection)
    .await?;
    let keys =
        rows.into_iter().map(|r| Key { child: r.child, columns: r.columns, parent: r.parent, targets: r.targets });
    Ok(ordered(&keys.collect::<Vec<_>>()))
}

/// What is reached from `clients` by the keys that point there.
fn ordered(keys: &[Key]) -> Vec<(String, String)> {
    let mut found: BTreeMap<String, String> = BTreeMap::new();
    found.insert("clients".into(), "trainer_id = $1 and id = $2".into());
    loop {
        let before = found.len();
        for child in keys.iter().map(|k| &k.child).collect::<BTreeSet<_>>() {
            if !found.contains_key(child)
                && let Some(condition) = condition(child, keys, &found)
            {
                found.insert(child.clone(), condition);
            }
        }
        if found.len() == before {
            break;
        }
    }
    // Whoever is pointed to is deleted after all that point to it.
    let mut order: Vec<(String, String)> = Vec::new();
    while order.len() < found.len() {
        let done = |table: &str| order.iter().any(|(t, _)| t == table);
        let free =
            |table: &str| keys.iter().all(|k| k.parent != table || done(&k.child) || !found.contains_key(&k.child));
        let next = found.iter().find(|(table, _)| !done(table) && free(table));
        // Tables never point to each other in a circle.
        let Some((table, condition)) = next else { break };
        order.push((table.clone(), condition.clone()));
    }
    order
}

/// By what a row of a table is a client's: its own column where it has one, else what it points to.
fn condition(child: &str, keys: &[Key], found: &BTreeMap<String, String>) -> Option<String> {
    let mine = || keys.iter().filter(|k| k.child == child);
    if let Some(direct) = mine().find(|k| k.parent == "clients") {
        let column = direct.columns.iter().find(|c| *c != "trainer_id")?;
        return Some(format!("trainer_id = $1 and {column} = $2"));
    }
    let through = mine().filter_map(|k| {
        let of_parent = found.get(&k.parent)?;
        let (columns, targets) = (k.columns.join(", "), k.targets.join(", "));
        Some(format!("({columns}) in (select {targets} from {} where {of_parent})", k.parent))
    });
    let any: Vec<String> = through.collect();
    (!any.is_empty()).then(|| any.join(" or "))
}

/// The tables that hold a client's rows, in the order in which they are erased.
pub async fn tables(pool: &Pool) -> Result<Vec<String>, StoreError> {
    let mut connection = pool.acquire().await?;
    Ok(reach(&mut connection).await?.into_iter().map(|(table, _)| table).collect())
}

/// Everything that is kept of a client, table by table. What a client is not told of, the trainer's own catalogue and methods,
/// belongs to the trainer and stays out.
pub async fn all(pool: &Pool, trainer: TrainerId, client: Uuid, now: DateTime<Utc>) -> Result<Vec<Table>, StoreError> {
    let mut tx = pool.begin().await?;
    // One moment for all tables.
    sqlx::query("set transaction isolation level repeatable read").execute(&mut *tx).await?;
    let mut tables = Vec::new();
    for (name, condition) in reach(&mut tx).await? {
        let order = "order by 1";
        let query = format!("select to_jsonb(t) - 'trainer_id' from {name} t where {condition} {order}");
        let rows: Vec<Value> =
            sqlx::query_scalar(AssertSqlSafe(query)).bind(trainer.0).bind(client).fetch_all(&mut *tx).await?;
        let rows = rows.into_iter().filter_map(|row| if let Value::Object(row) = row { Some(row) } else { None });
        tables.push(Table { name, rows: rows.collect() });
    }
    if tables.iter().all(|t| t.name != "clients" || t.rows.is_empty()) {
        return Err(StoreError::NotFound);
    }
    deeds::add(&mut tx, trainer, What::TakenOut, (Some(client), ""), now).await?;
    tx.commit().await?;
    tables.retain(|t| !t.rows.is_empty());
    tables.reverse();
    Ok(tables)
}

/// Erases a client: no row of theirs stays in any table. Nothing brings it back but a backup.
pub async fn erase(pool: &Pool, trainer: TrainerId, client: Uuid, now: DateTime<Utc>) -> Result<Receipt, StoreError> {
    let mut tx = pool.begin().await?;
    // What was logged leaves with its client and in no other way.
    sqlx::query("select set_config('bavrek.erasing', $1, true)").bind(client.to_string()).execute(&mut *tx).await?;
    let mut rows = BTreeMap::new();
    for (name, condition) in reach(&mut tx).await? {
        let query = format!("delete from {name} where {condition}");
        let done = sqlx::query(AssertSqlSafe(query)).bind(trainer.0).bind(client).execute(&mut *tx).await?;
        if done.rows_affected() > 0 {
            rows.insert(name, done.rows_affected());
        }
    }
    if rows.get("clients") != Some(&1) {
        return Err(StoreError::NotFound);
    }
    // What programs were answered may tell of them.
    let answers = "delete from api_answers where trainer_id = $1";
    sqlx::query(answers).bind(trainer.0).execute(&mut *tx).await?;
    // That something was changed stays, of whom does not.
    let forget = "update deeds set client_id = null where trainer_id = $1 and client_id = $2";
    sqlx::query(forget).bind(trainer.0).bind(client).execute(&mut *tx).await?;
    let total: u64 = rows.values().sum();
    deeds::add(&mut tx, trainer, What::Erased, (None, &format!("{total} rows")), now).await?;
    tx.commit().await?;
    Ok(Receipt { at: now, rows })
}

/// What was agreed with a client about their data, and until when it is kept.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Agreed {
    /// What was agreed, in the trainer's words.
    pub consent: String,
    /// Until when it is kept.
    pub keep_until: Option<NaiveDate>,
}

/// What was agreed.
pub async fn agreed(pool: &Pool, trainer: TrainerId, client: Uuid) -> Result<Agreed, StoreError> {
    Ok(sqlx::query_as!(
        Agreed,
        "select consent, keep_until from clients where trainer_id = $1 and id = $2",
        trainer.0,
        client
    )
    .fetch_one(pool)
    .await?)
}

/// Keeps what was agreed.
pub async fn agree(pool: &Pool, trainer: TrainerId, client: Uuid, agreed: &Agreed) -> Result<(), StoreError> {
    let done = sqlx::query!(
        "update clients set consent = $3, keep_until = $4 where trainer_id = $1 and id = $2",
        trainer.0,
        client,
        agreed.consent,
        agreed.keep_until
    )
    .execute(pool)
    .await?;
    if done.rows_affected() == 1 { Ok(()) } else { Err(StoreError::NotFound) }
}
