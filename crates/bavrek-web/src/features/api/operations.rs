//! What a program may ask for: each operation with its route, its scope and what it takes and answers, from which both the router and
//! the document that describes it are made.

use axum::Router;
use axum::handler::Handler;
use axum::http::Method;
use axum::middleware;
use axum::routing::{MethodFilter, on};
use bavrek_store::tokens::Scope;
use schemars::generate::SchemaSettings;
use schemars::{JsonSchema, SchemaGenerator};
use serde_json::{Map, Value, json};

use super::door::{self, Needs};
use crate::problem::{self, Details};
use crate::state::App;

/// An operation.
pub(super) struct Operation {
    method: Method,
    /// The address under `/api/v1`.
    path: &'static str,
    /// Its name, the only one of it.
    id: &'static str,
    summary: &'static str,
    scope: Scope,
    /// What is asked for in the address after `?`.
    query: Option<Value>,
    body: Option<Value>,
    /// The status of what was done.
    done: u16,
    answer: Option<Value>,
    /// Statuses of what may be wrong, besides those of every operation.
    refused: &'static [u16],
}

/// Operations that are being collected.
pub(super) struct Operations {
    schemas: SchemaGenerator,
    router: Router<App>,
    paths: Map<String, Value>,
}

/// Says what an operation takes and answers.
pub(super) struct Describe<'o> {
    operations: &'o mut Operations,
    operation: Operation,
}

impl Operations {
    pub(super) fn new() -> Self {
        let mut settings = SchemaSettings::draft2020_12();
        settings.definitions_path = "/components/schemas".into();
        settings.meta_schema = None;
        Self { schemas: settings.into_generator(), router: Router::new(), paths: Map::new() }
    }

    /// Begins an operation.
    pub(super) const fn describe(
        &mut self,
        method: Method,
        path: &'static str,
        id: &'static str,
        summary: &'static str,
    ) -> Describe<'_> {
        let scope = Scope::Read;
        let operation = Operation {
            method,
            path,
            id,
            summary,
            scope,
            query: None,
            body: None,
            done: 200,
            answer: None,
            refused: &[],
        };
        Describe { operations: self, operation }
    }

    /// The router, and the document.
    pub(super) fn built(mut self) -> (Router<App>, Value) {
        let problem = self.schemas.subschema_for::<Details>();
        let paths = std::mem::take(&mut self.paths);
        let schemas = self.schemas.take_definitions(true);
        let document = json!({
            "openapi": "3.1.0",
            "info": {
                "title": "Bavrek",
                "version": "1",
                "description": "Clients, places, plans, workouts, log, calls and computations of one trainer.",
            },
            "servers": [{ "url": "/api/v1" }],
            "security": [{ "token": [] }],
            "paths": paths,
            "components": {
                "schemas": schemas,
                "securitySchemes": {
                    "token": {
                        "type": "http",
                        "scheme": "bearer",
                        "description": "A token from the account page. What it may is chosen when it is made: read, write, compute.",
                    }
                },
                "responses": {
                    "Problem": {
                        "description": "It was not done, and why.",
                        "content": { problem::KIND: { "schema": problem } },
                    }
                },
            },
        });
        (self.router, document)
    }
}

impl Describe<'_> {
    /// What a token needs to be allowed; reading where nothing is said.
    pub(super) const fn needs(mut self, scope: Scope) -> Self {
        self.operation.scope = scope;
        self
    }

    /// What may follow the address after `?`.
    pub(super) fn asks<T: JsonSchema>(mut self) -> Self {
        self.operation.query = Some(self.operations.schemas.root_schema_for::<T>().to_value());
        self
    }

    /// What is sent with it.
    pub(super) fn takes<T: JsonSchema>(mut self) -> Self {
        self.operation.body = Some(self.operations.schemas.subschema_for::<T>().to_value());
        self
    }

    /// What it answers.
    pub(super) fn answers<T: JsonSchema>(mut self) -> Self {
        self.operation.answer = Some(self.operations.schemas.subschema_for::<T>().to_value());
        self
    }

    /// The status of what was done; 200 where nothing is said.
    pub(super) const fn done(mut self, status: u16) -> Self {
        self.operation.done = status;
        self
    }

    /// Statuses of what may be wrong with just this one.
    pub(super) const fn refuses(mut self, statuses: &'static [u16]) -> Self {
        self.operation.refused = statuses;
        self
    }

    /// Who does it.
    pub(super) fn by<H, T>(self, handler: H)
    where
        H: Handler<T, App>,
        T: 'static,
    {
        let Self { operations, operation } = self;
        let filter = MethodFilter::try_from(operation.method.clone()).unwrap_or(MethodFilter::GET);
        let needs = Needs(operation.scope);
        let handled = on(filter, handler).route_layer(middleware::from_fn_with_state(needs, door::allowed));
        let router = std::mem::take(&mut operations.router);
        operations.router = router.route(&format!("/api/v1{}", operation.path), handled);
        let at = operations.paths.entry(operation.path).or_insert_with(|| json!({}));
        at[operation.method.as_str().to_lowercase()] = operation.document();
    }
}

impl Operation {
    fn document(&self) -> Value {
        let mut parameters: Vec<Value> = placeholders(self.path)
            .map(|name| {
                let id = json!({ "type": "string", "format": "uuid" });
                json!({ "name": name, "in": "path", "required": true, "schema": id })
            })
            .collect();
        if let Some(query) = &self.query {
            let fields = query["properties"].as_object().cloned().unwrap_or_default();
            for (name, schema) in fields {
                let about = schema["description"].clone();
                parameters.push(json!({
                    "name": name, "in": "query", "required": false, "description": about, "schema": schema
                }));
            }
        }
        let changes = self.method != Method::GET && self.scope == Scope::Write;
        if changes {
            parameters.push(json!({
                "name": "Idempotency-Key", "in": "header", "required": false,
                "description": "Up to 200 printable characters. Sent again within 48 hours, the same request is answered as before and done once.",
                "schema": { "type": "string", "minLength": 1, "maxLength": 200, "pattern": "^[!-~]+$" },
            }));
        }
        let mut responses = Map::new();
        let done = match &self.answer {
            Some(schema) => {
                json!({ "description": "Done.", "content": { "application/json": { "schema": schema } } })
            }
            None => json!({ "description": "Done." }),
        };
        responses.insert(self.done.to_string(), done);
        let changing: &[u16] = if changes { &[409] } else { &[] };
        let sent: &[u16] = if self.body.is_some() { &[413, 422] } else { &[] };
        let placed: &[u16] = if self.path.contains('{') { &[404] } else { &[] };
        let asked: &[u16] = if self.query.is_some() || changes { &[422] } else { &[] };
        let always: &[u16] = &[401, 403, 503];
        for status in [always, changing, sent, placed, asked, self.refused].concat() {
            responses.insert(status.to_string(), json!({ "$ref": "#/components/responses/Problem" }));
        }
        let mut document = json!({
            "operationId": self.id,
            "summary": self.summary,
            "description": format!("Needs a token that may {}.", self.scope.id()),
            "parameters": parameters,
            "responses": responses,
        });
        if let Some(body) = &self.body {
            document["requestBody"] =
                json!({ "required": true, "content": { "application/json": { "schema": body } } });
        }
        document
    }
}

/// The names in `/clients/{client}`.
fn placeholders(path: &str) -> impl Iterator<Item = &str> {
    path.split('/').filter_map(|part| part.strip_prefix('{')?.strip_suffix('}'))
}
