//! People who move: all that is kept of a client, or of all clients, as one document, and such a document taken in. Which columns there
//! are is read from the schema itself, so that none can be forgotten; what came in is read as it will be read later before it is kept.

use std::collections::{BTreeMap, BTreeSet};

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value, json};
use sqlx::{AssertSqlSafe, PgConnection};
use uuid::Uuid;

use crate::deeds::{self, What};
use crate::people::reach;
use crate::{Pool, StoreError, TrainerId};

mod columns;
mod contents;

use self::columns::Catalog;
pub use self::columns::schema;

/// What a document calls itself.
pub const FORMAT: &str = "bavrek-people";
/// The version of documents that are written and read.
pub const VERSION: u32 = 1;
/// Most people that one document brings.
pub const MOST_PEOPLE: usize = 200;
/// Most sets of all of them that one document takes out: as many as it may bring in.
const MOST_SETS: i64 = 25_000;

/// Tables that stay: ways in that were given, what came by them, letters as they were sent, and what is worked out again.
const STAY: [&str; 9] = [
    "links",
    "entries",
    "handed",
    "calendar_feeds",
    "outbox",
    "lessons",
    "latest_sets",
    "roster_lines",
    "roster_changes",
];
/// Tables of the trainer's own that go along.
const OWN: [&str; 3] = ["own_movements", "own_schools", "templates"];

/// Rows of a table.
pub type Rows = Vec<Map<String, Value>>;
/// Tables by name.
pub type Tables = BTreeMap<String, Rows>;

/// Everything that is kept of some people.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct People {
    /// Always [`FORMAT`].
    pub format: String,
    /// The version of the document.
    pub version: u32,
    /// When it was made.
    pub made_at: DateTime<Utc>,
    /// Own movements, methods and templates that it needs.
    pub own: Tables,
    /// Each person's tables.
    pub people: Vec<Tables>,
}

/// What a document came to.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Arrived {
    /// Names of those who were new, each with the number of rows.
    pub new: Vec<(String, usize)>,
    /// Names of those who were there already: nothing of theirs was changed.
    pub known: Vec<String>,
    /// Own movements, methods and templates that were new.
    pub own: usize,
}

/// Why a document was not taken in.
#[derive(Debug, thiserror::Error)]
pub enum Refused {
    /// Something in it is wrong.
    #[error("{path}: {why}")]
    Wrong {
        /// Where: `people[0].logged_sets[12].performed_on`.
        path: String,
        /// What is wrong with it.
        why: String,
    },
    /// The database failed.
    #[error(transparent)]
    Store(#[from] StoreError),
}

impl From<sqlx::Error> for Refused {
    fn from(error: sqlx::Error) -> Self {
        Self::Store(error.into())
    }
}

fn wrong(path: impl Into<String>, why: impl Into<String>) -> Refused {
    Refused::Wrong { path: path.into(), why: why.into() }
}

/// Whether all clients of a trainer are too many, or did too much, for one document: then each goes out alone.
pub async fn is_too_much(pool: &Pool, trainer: TrainerId) -> Result<bool, StoreError> {
    let most = i64::try_from(MOST_PEOPLE).unwrap_or(i64::MAX);
    let found = sqlx::query!(
        r#"select (select count(*) from (select from clients where trainer_id = $1 limit $2::bigint + 1) c) > $2::bigint as "people!",
                  (select count(*) from (select from logged_sets where trainer_id = $1 limit $3::bigint + 1) l) > $3::bigint as "sets!""#,
        trainer.0,
        most,
        MOST_SETS
    )
    .fetch_one(pool)
    .await?;
    Ok(found.people || found.sets)
}

/// Everything that is kept of a client, or of all of a trainer's, at one moment. That it was taken out is noted.
pub async fn out(
    pool: &Pool,
    trainer: TrainerId,
    client: Option<Uuid>,
    now: DateTime<Utc>,
) -> Result<People, StoreError> {
    let mut tx = pool.begin().await?;
    sqlx::query("set transaction isolation level repeatable read").execute(&mut *tx).await?;
    let clients = match client {
        Some(client) => vec![client],
        None => {
            sqlx::query_scalar!("select id from clients where trainer_id = $1 order by id", trainer.0)
                .fetch_all(&mut *tx)
                .await?
        }
    };
    let reached = reach(&mut tx).await?;
    let mut people = Vec::new();
    for client in clients {
        let mut tables = Tables::new();
        for (table, condition) in reached.iter().filter(|(table, _)| !STAY.contains(&table.as_str())) {
            let rows = rows(&mut tx, table, condition, (trainer, client)).await?;
            if !rows.is_empty() {
                tables.insert(table.clone(), rows);
            }
        }
        if !tables.contains_key("clients") {
            return Err(StoreError::NotFound);
        }
        people.push(tables);
    }
    let mut own = Tables::new();
    for table in OWN {
        let rows = rows(&mut tx, table, "trainer_id = $1 and $2::uuid is not null", (trainer, Uuid::nil())).await?;
        own.insert(table.to_owned(), rows);
    }
    if client.is_some() {
        keep_what_is_named(&mut own, &people)?;
    }
    own.retain(|_, rows| !rows.is_empty());
    deeds::add(&mut tx, trainer, What::TakenOut, (client, "document"), now).await?;
    tx.commit().await?;
    Ok(People { format: FORMAT.into(), version: VERSION, made_at: now, own, people })
}

async fn rows(
    connection: &mut PgConnection,
    table: &str,
    condition: &str,
    (trainer, client): (TrainerId, Uuid),
) -> Result<Rows, StoreError> {
    let query = format!("select to_jsonb(t) - 'trainer_id' from {table} t where {condition} order by 1");
    let found: Vec<Value> =
        sqlx::query_scalar(AssertSqlSafe(query)).bind(trainer.0).bind(client).fetch_all(connection).await?;
    Ok(found.into_iter().filter_map(|row| if let Value::Object(row) = row { Some(row) } else { None }).collect())
}

/// Of what is the trainer's own only what is named by the people: a client's document says nothing of others.
fn keep_what_is_named(own: &mut Tables, people: &[Tables]) -> Result<(), StoreError> {
    let text = serde_json::to_string(people)?;
    let named = |row: &Map<String, Value>| {
        row.get("id").and_then(Value::as_str).is_some_and(|id| text.contains(id) || text.contains(&id.replace('-', "")))
    };
    for (table, rows) in own.iter_mut() {
        rows.retain(|row| table != "templates" && named(row));
    }
    Ok(())
}

/// Reads a document; what is none, or of a later version, is refused before anything else of it is looked at.
pub fn read(text: &[u8]) -> Result<People, Refused> {
    let at = |error: &serde_json::Error| format!("line {}, column {}", error.line(), error.column());
    let value: Value = serde_json::from_slice(text).map_err(|e| wrong(at(&e), format!("cannot be read: {e}")))?;
    let said = |name: &str| value.get(name);
    if said("format").and_then(Value::as_str) != Some(FORMAT) {
        return Err(wrong("format", format!("must be {FORMAT:?}: this is another kind of file")));
    }
    match said("version").and_then(Value::as_u64) {
        Some(version) if version == u64::from(VERSION) => {}
        Some(version) if version > u64::from(VERSION) => {
            return Err(wrong(
                "version",
                format!("is {version}, and this program reads {VERSION}: it is of a later one"),
            ));
        }
        _ => return Err(wrong("version", format!("must be {VERSION}"))),
    }
    let people: People = serde_json::from_value(value).map_err(|e| wrong("document", e.to_string()))?;
    if people.people.len() > MOST_PEOPLE {
        return Err(wrong("people", format!("must be at most {MOST_PEOPLE}")));
    }
    Ok(people)
}

/// Takes a document in, all or nothing; or only says what that would come to. Who is there already is left as they are.
pub async fn take(pool: &Pool, trainer: TrainerId, document: &People, keep: bool) -> Result<Arrived, Refused> {
    let mut tx = pool.begin().await.map_err(StoreError::from)?;
    // One document at a time: sent twice at once it is taken in once.
    sqlx::query!("select id from trainers where id = $1 for update", trainer.0)
        .fetch_one(&mut *tx)
        .await
        .map_err(StoreError::from)?;
    let catalog = Catalog::read(&mut tx).await?;
    let mut arrived = Arrived::default();
    for (table, rows) in &document.own {
        let at = format!("own.{table}");
        if !OWN.contains(&table.as_str()) {
            return Err(wrong(at, "is not known"));
        }
        catalog.check(table, rows, &at)?;
        arrived.own += insert(&mut tx, trainer, (table, rows), &at, true).await?;
    }
    for (nth, person) in document.people.iter().enumerate() {
        let at = format!("people[{nth}]");
        let (client, name) = one_client(person, &at)?;
        if let Some(table) = person.keys().find(|table| !catalog.person.contains(table)) {
            return Err(wrong(format!("{at}.{table}"), "is not known"));
        }
        for (table, rows) in person {
            catalog.check(table, rows, &format!("{at}.{table}"))?;
        }
        let there = sqlx::query_scalar!(
            r#"select exists (select 1 from clients where trainer_id = $1 and id = $2) as "there!""#,
            trainer.0,
            client
        );
        if there.fetch_one(&mut *tx).await.map_err(StoreError::from)? {
            arrived.known.push(name);
            continue;
        }
        let count = settle(&mut tx, trainer, &catalog, (client, person), &at).await?;
        arrived.new.push((name, count));
    }
    if keep {
        tx.commit().await.map_err(StoreError::from)?;
    } else {
        tx.rollback().await.map_err(StoreError::from)?;
    }
    Ok(arrived)
}

/// The one client whom a person's tables are of, with the name.
fn one_client(person: &Tables, at: &str) -> Result<(Uuid, String), Refused> {
    let rows = person.get("clients").filter(|rows| rows.len() == 1);
    let row = &rows.ok_or_else(|| wrong(format!("{at}.clients"), "must be one client"))?[0];
    let id = row.get("id").and_then(Value::as_str).and_then(|id| id.parse().ok());
    let id: Uuid = id.ok_or_else(|| wrong(format!("{at}.clients[0].id"), "must be an identifier"))?;
    let name = row.get("name").and_then(Value::as_str).unwrap_or_default().trim();
    if name.is_empty() {
        return Err(wrong(format!("{at}.clients[0].name"), "must be a name"));
    }
    for (table, rows) in person {
        for (nth, row) in rows.iter().enumerate() {
            let other = row.get("client_id").filter(|of| **of != json!(id));
            if other.is_some_and(|of| !of.is_null()) {
                return Err(wrong(format!("{at}.{table}[{nth}].client_id"), "is that of another client"));
            }
        }
    }
    Ok((id, name.to_owned()))
}

/// Puts a person's rows into their tables; says how many.
async fn settle(
    tx: &mut PgConnection,
    trainer: TrainerId,
    catalog: &Catalog,
    (client, person): (Uuid, &Tables),
    at: &str,
) -> Result<usize, Refused> {
    let mut count = 0;
    for table in &catalog.person {
        if let Some(rows) = person.get(table) {
            count += insert(tx, trainer, (table, rows), &format!("{at}.{table}"), false).await?;
        }
    }
    // Counted up by the rows that came: it stands as it stood.
    let logged = person["clients"][0].get("logged").and_then(Value::as_i64);
    if let Some(logged) = logged {
        sqlx::query!("update clients set logged = $3 where trainer_id = $1 and id = $2", trainer.0, client, logged)
            .execute(tx)
            .await
            .map_err(StoreError::from)?;
    }
    Ok(count)
}

/// Inserts rows that were checked; those that are there already are left where that is allowed, else refused.
async fn insert(
    tx: &mut PgConnection,
    trainer: TrainerId,
    (table, rows): (&str, &Rows),
    at: &str,
    leave: bool,
) -> Result<usize, Refused> {
    let names: BTreeSet<&String> = rows.iter().flat_map(Map::keys).collect();
    let Some(odd) = rows.iter().position(|row| row.len() != names.len()) else {
        if rows.is_empty() {
            return Ok(0);
        }
        let columns = names.iter().map(|name| format!("\"{name}\"")).collect::<Vec<_>>().join(", ");
        let leave = if leave { " on conflict do nothing" } else { "" };
        let query = format!(
            "insert into {table} (trainer_id, {columns})
             select $1, {columns} from jsonb_populate_recordset(null::{table}, $2){leave}"
        );
        let all = Value::Array(rows.iter().cloned().map(Value::Object).collect());
        let done = sqlx::query(AssertSqlSafe(query)).bind(trainer.0).bind(all).execute(tx).await;
        return match done {
            Ok(done) => Ok(done.rows_affected() as usize),
            Err(sqlx::Error::Database(error)) => Err(wrong(at, told(error.code().as_deref()))),
            Err(other) => Err(StoreError::from(other).into()),
        };
    };
    Err(wrong(format!("{at}[{odd}]"), "has other fields than the rest of its table"))
}

/// What the database has against rows, in words.
fn told(code: Option<&str>) -> &'static str {
    match code {
        Some("23505") => "holds something twice, or something that is kept here already",
        Some("23503") => "points to something that is not in the document",
        Some("23502") => "leaves out something that is needed",
        Some("23514") => "holds a value that is not allowed",
        Some(code) if code.starts_with("22") => "holds a value that cannot be read",
        _ => "cannot be kept",
    }
}
