//! Which tables and columns travel: read from the schema itself, for checking what comes in and for the JSON Schema of it.

use std::collections::BTreeMap;

use chrono::DateTime;
use serde_json::{Map, Value, json};
use sqlx::PgConnection;
use uuid::Uuid;

use super::{FORMAT, OWN, Refused, Rows, STAY, VERSION, contents, wrong};
use crate::people::reach;
use crate::{Pool, StoreError};

/// A column as the schema has it.
#[derive(Debug, Clone)]
struct Column {
    name: String,
    kind: String,
    nullable: bool,
    defaulted: bool,
}

impl Column {
    /// Whether a row may leave it out.
    const fn optional(&self) -> bool {
        self.nullable || self.defaulted
    }

    /// Whether a value is of its kind, or what it must be.
    fn check(&self, value: &Value) -> Result<(), &'static str> {
        let text = || value.as_str();
        let right = match self.kind.as_str() {
            _ if value.is_null() => self.nullable,
            "jsonb" => true,
            "uuid" => text().is_some_and(|t| t.parse::<Uuid>().is_ok()),
            "date" => text().is_some_and(|t| t.parse::<chrono::NaiveDate>().is_ok()),
            "timestamptz" => text().is_some_and(|t| DateTime::parse_from_rfc3339(t).is_ok()),
            "bool" => value.is_boolean(),
            "int2" => value.as_i64().is_some_and(|n| i16::try_from(n).is_ok()),
            "int4" => value.as_i64().is_some_and(|n| i32::try_from(n).is_ok()),
            "int8" => value.as_i64().is_some(),
            "float8" => value.as_f64().is_some(),
            "text" => text().is_some_and(|t| !t.contains('\0')),
            "_uuid" => value
                .as_array()
                .is_some_and(|all| all.iter().all(|v| v.as_str().is_some_and(|t| t.parse::<Uuid>().is_ok()))),
            _ => text().is_some(),
        };
        if right { Ok(()) } else { Err(self.in_words()) }
    }

    fn in_words(&self) -> &'static str {
        match self.kind.as_str() {
            "uuid" => "must be an identifier",
            "date" => "must be a day such as 2026-03-01",
            "timestamptz" => "must be a moment such as 2026-03-01T10:00:00+00:00",
            "bool" => "must be true or false",
            "int2" | "int4" | "int8" => "must be a whole number that is not too large",
            "float8" => "must be a number",
            "_uuid" => "must be a list of identifiers",
            _ => "must be a text",
        }
    }

    /// Its JSON Schema.
    fn schema(&self) -> Value {
        let (kind, format) = match self.kind.as_str() {
            "jsonb" => return json!(true),
            "uuid" => ("string", Some("uuid")),
            "date" => ("string", Some("date")),
            "timestamptz" => ("string", Some("date-time")),
            "bool" => ("boolean", None),
            "int2" | "int4" | "int8" => ("integer", None),
            "float8" => ("number", None),
            "_uuid" => ("array", None),
            _ => ("string", None),
        };
        let kinds = if self.nullable { json!([kind, "null"]) } else { json!(kind) };
        match format {
            Some(format) => json!({ "type": kinds, "format": format }),
            None => json!({ "type": kinds }),
        }
    }
}

/// The columns of tables that travel, without the trainer.
pub(super) struct Catalog {
    /// Tables of a person, what is pointed to before what points to it.
    pub(super) person: Vec<String>,
    columns: BTreeMap<String, Vec<Column>>,
}

impl Catalog {
    pub(super) async fn read(connection: &mut PgConnection) -> Result<Self, StoreError> {
        let mut person: Vec<String> = reach(connection).await?.into_iter().map(|(table, _)| table).collect();
        person.retain(|table| !STAY.contains(&table.as_str()));
        person.reverse();
        let rows = sqlx::query!(
            r#"select c.table_name::text as "table!", c.column_name::text as "name!", c.udt_name::text as "kind!",
                      c.is_nullable = 'YES' as "nullable!", c.column_default is not null as "defaulted!"
               from information_schema.columns c
               join information_schema.tables t using (table_schema, table_name)
               where c.table_schema = 'public' and t.table_type = 'BASE TABLE' and c.column_name <> 'trainer_id'
               order by c.table_name, c.ordinal_position"#
        )
        .fetch_all(connection)
        .await?;
        let travels = |table: &str| OWN.contains(&table) || person.iter().any(|t| t == table);
        let mut columns: BTreeMap<String, Vec<Column>> = BTreeMap::new();
        for row in rows.into_iter().filter(|row| travels(&row.table)) {
            let column = Column { name: row.name, kind: row.kind, nullable: row.nullable, defaulted: row.defaulted };
            columns.entry(row.table).or_default().push(column);
        }
        Ok(Self { person, columns })
    }

    fn of(&self, table: &str) -> &[Column] {
        self.columns.get(table).map_or(&[], Vec::as_slice)
    }

    /// Checks rows: every field known and of its kind, none missing that is needed, and what is nested read as it will be.
    pub(super) fn check(&self, table: &str, rows: &Rows, at: &str) -> Result<(), Refused> {
        let columns = self.of(table);
        for (nth, row) in rows.iter().enumerate() {
            let at = format!("{at}[{nth}]");
            for (name, value) in row {
                let column = columns.iter().find(|c| c.name == *name);
                let column = column.ok_or_else(|| wrong(format!("{at}.{name}"), "is not known"))?;
                column.check(value).map_err(|why| wrong(format!("{at}.{name}"), why))?;
                contents::check(table, name, value).map_err(|why| wrong(format!("{at}.{name}"), why))?;
            }
            if let Some(column) = columns.iter().find(|c| !c.optional() && !row.contains_key(&c.name)) {
                return Err(wrong(format!("{at}.{}", column.name), "is missing"));
            }
        }
        Ok(())
    }
}

/// The JSON Schema of documents.
pub async fn schema(pool: &Pool) -> Result<Value, StoreError> {
    let mut connection = pool.acquire().await?;
    let catalog = Catalog::read(&mut connection).await?;
    let table = |name: &str| {
        let columns = catalog.of(name);
        let properties: Map<String, Value> = columns.iter().map(|c| (c.name.clone(), c.schema())).collect();
        let required: Vec<&str> = columns.iter().filter(|c| !c.optional()).map(|c| c.name.as_str()).collect();
        let row = json!({
            "type": "object", "properties": properties, "required": required, "additionalProperties": false
        });
        (name.to_owned(), json!({ "type": "array", "items": row }))
    };
    let person: Map<String, Value> = catalog.person.iter().map(|name| table(name)).collect();
    let own: Map<String, Value> = OWN.iter().map(|name| table(name)).collect();
    Ok(json!({
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "People",
        "description": "Everything that is kept of some clients. Masses are kg, lengths m, times UTC.",
        "type": "object",
        "properties": {
            "format": { "const": FORMAT },
            "version": { "const": VERSION },
            "made_at": { "type": "string", "format": "date-time" },
            "own": { "type": "object", "properties": own, "additionalProperties": false },
            "people": {
                "type": "array",
                "items": { "type": "object", "properties": person, "required": ["clients"], "additionalProperties": false }
            }
        },
        "required": ["format", "version", "made_at", "own", "people"],
        "additionalProperties": false
    }))
}
