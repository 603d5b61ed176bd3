//! Whatever a request leaves open when it is given up: what the next one writes on its connection is kept.

use bavrek_store::tries::{self, Counted};
use bavrek_store::{Pool, released};
use chrono::Utc;
use sqlx::postgres::PgPoolOptions;

/// A beginning that is given up before it was answered leaves a transaction of which the driver knows nothing, as this does.
#[sqlx::test]
async fn what_is_written_after_a_request_that_was_given_up_is_kept(pool: Pool) {
    let options = (*pool.connect_options()).clone();
    let one = released::cleared(PgPoolOptions::new().max_connections(1)).connect_with(options).await.unwrap();
    for given_up in 1..=3 {
        let mut connection = one.acquire().await.unwrap();
        sqlx::raw_sql("begin").execute(&mut *connection).await.unwrap();
        drop(connection);
        tries::count(&one, Counted::Source(&given_up.to_string()), Utc::now()).await.unwrap();
        let kept: i64 = sqlx::query_scalar("select count(*) from sign_in_tries").fetch_one(&pool).await.unwrap();
        assert_eq!(kept, given_up);
    }
    // One that the driver knows of it ends itself, as ever.
    let mut begun = one.begin().await.unwrap();
    sqlx::query("delete from sign_in_tries").execute(&mut *begun).await.unwrap();
    drop(begun);
    let kept: i64 = sqlx::query_scalar("select count(*) from sign_in_tries").fetch_one(&one).await.unwrap();
    assert_eq!(kept, 3);
    one.close().await;
}
