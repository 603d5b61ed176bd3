//! Whatever a request waits for when it is given up: what the next one writes on its connection is kept.

use std::future::{Future, poll_fn};
use std::pin::pin;
use std::task::Poll;
use std::time::Duration;

use bavrek_store::tries::{self, Counted};
use bavrek_store::{Pool, released};
use chrono::Utc;
use sqlx::postgres::PgPoolOptions;

/// Looks so often whether a transaction has begun, then waits no longer; whether it was given up before it had.
async fn given_up(pool: &Pool, looks: u32) -> bool {
    let mut begins = pin!(pool.begin());
    for _ in 0..looks {
        if poll_fn(|context| Poll::Ready(begins.as_mut().poll(context).is_ready())).await {
            return false;
        }
        tokio::time::sleep(Duration::from_millis(1)).await;
    }
    true
}

#[sqlx::test]
async fn what_is_written_after_a_request_that_was_given_up_is_kept(pool: Pool) {
    let options = (*pool.connect_options()).clone();
    let one = released::cleared(PgPoolOptions::new().max_connections(1)).connect_with(options).await.unwrap();
    let mut gave_up = 0;
    for looks in 0..8 {
        gave_up += usize::from(given_up(&one, looks).await);
        tries::count(&one, Counted::Source(&looks.to_string()), Utc::now()).await.unwrap();
        let kept: i64 = sqlx::query_scalar("select count(*) from sign_in_tries").fetch_one(&pool).await.unwrap();
        assert_eq!(kept, i64::from(looks) + 1, "given up after {looks} looks");
    }
    assert!((2..8).contains(&gave_up), "{gave_up}");
    one.close().await;
}
