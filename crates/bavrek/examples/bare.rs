//! The yardstick for pages: a bare page of the same server and database with so many indexed queries of so many rows, which
//! nothing that reads as much can beat. `cargo run --release --example bare -- 127.0.0.1:8130` with `DATABASE_URL`; then
//! `/page/10/40` reads ten times forty rows. Only for load tests on made-up data.

use std::fmt::Write as _;

use axum::Router;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::Html;
use axum::routing::get;
use sqlx::{PgPool, Row};
use uuid::Uuid;

/// Whose log is read.
#[derive(Clone)]
struct Desk {
    pool: PgPool,
    trainer: Uuid,
    client: Uuid,
}

async fn page(State(desk): State<Desk>, Path((queries, rows)): Path<(i64, i64)>) -> Result<Html<String>, StatusCode> {
    let mut table = String::from("<!doctype html><title>bare</title><table>");
    for nth in 0..queries {
        let found = sqlx::query(
            "select exercise, effective_kg from logged_sets where trainer_id = $1 and client_id = $2
             order by performed_on desc offset $3 limit $4",
        )
        .bind(desk.trainer)
        .bind(desk.client)
        .bind(nth)
        .bind(rows)
        .fetch_all(&desk.pool)
        .await
        .map_err(|_| StatusCode::INTERNAL_SERVER_ERROR)?;
        for row in &found {
            let (exercise, kg): (String, f64) = (row.get(0), row.get(1));
            let _ = write!(table, "<tr><td>{exercise}</td><td>{kg}</td></tr>");
        }
    }
    table.push_str("</table>");
    Ok(Html(table))
}

#[tokio::main]
async fn main() -> anyhow::Result<()> {
    let pool = PgPool::connect(&std::env::var("DATABASE_URL")?).await?;
    let row = sqlx::query("select trainer_id, client_id from logged_sets limit 1").fetch_one(&pool).await?;
    let desk = Desk { trainer: row.get(0), client: row.get(1), pool };
    let address = std::env::args().nth(1).unwrap_or_else(|| "127.0.0.1:8130".to_owned());
    let listener = tokio::net::TcpListener::bind(address).await?;
    axum::serve(listener, Router::new().route("/page/{queries}/{rows}", get(page)).with_state(desk)).await?;
    Ok(())
}
