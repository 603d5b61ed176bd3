//! A program with a token as tests hold it.

use bavrek_store::tokens::{self, Scope};
use bavrek_store::{Pool, TrainerId};
use reqwest::{Method, Response, StatusCode};
use serde_json::Value;

use crate::common::now;

/// A program.
pub(crate) struct Program {
    http: reqwest::Client,
    base: String,
    token: String,
}

impl Program {
    /// A program with a new token of a trainer.
    pub(crate) async fn of(base: &str, pool: &Pool, trainer: TrainerId, scopes: &[Scope]) -> Self {
        let secret = bavrek_web::new_token();
        assert!(tokens::make(pool, trainer, ("tests", scopes, None), &secret, now()).await.unwrap());
        Self::with(base, &secret)
    }

    /// A program with some token.
    pub(crate) fn with(base: &str, token: &str) -> Self {
        Self { http: reqwest::Client::new(), base: base.to_owned(), token: token.to_owned() }
    }

    /// A request under a key, as it comes back.
    pub(crate) async fn keyed(&self, method: Method, path: &str, body: Option<&Value>, key: &str) -> Response {
        let request = self.http.request(method, format!("{}/api/v1{path}", self.base));
        let request = if self.token.is_empty() { request } else { request.bearer_auth(&self.token) };
        let request = if key.is_empty() { request } else { request.header("Idempotency-Key", key) };
        let request = match body {
            Some(body) => request.header("content-type", "application/json").body(body.to_string()),
            None => request,
        };
        request.send().await.unwrap()
    }

    /// A request, with its status and what it answers; null where that is nothing.
    pub(crate) async fn ask(&self, method: Method, path: &str, body: Option<&Value>) -> (StatusCode, Value) {
        let answer = self.keyed(method, path, body, "").await;
        let status = answer.status();
        (status, serde_json::from_str(&answer.text().await.unwrap()).unwrap_or(Value::Null))
    }

    pub(crate) async fn get(&self, path: &str) -> (StatusCode, Value) {
        self.ask(Method::GET, path, None).await
    }

    pub(crate) async fn post(&self, path: &str, body: &Value) -> (StatusCode, Value) {
        self.ask(Method::POST, path, Some(body)).await
    }
}
