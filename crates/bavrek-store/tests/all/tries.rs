//! Guesses, counted.

use bavrek_store::Pool;
use bavrek_store::tries::{Counted, count, forget, forgive, sweep};
use chrono::{DateTime, Duration, Utc};

fn start() -> DateTime<Utc> {
    DateTime::from_timestamp(1_773_144_000, 0).unwrap()
}

/// In any quarter of an hour ten guesses at an address are looked at, however patiently they come.
#[sqlx::test]
async fn ten_guesses_a_quarter_of_an_hour(pool: Pool) {
    let mut looked_at: Vec<DateTime<Utc>> = Vec::new();
    // Two hours of guessing, one every twenty seconds.
    for i in 0..360 {
        let now = start() + Duration::seconds(20 * i);
        if count(&pool, Counted::Address("a@bavrek.example"), now).await.unwrap().is_none() {
            looked_at.push(now);
        }
    }
    assert!(looked_at.len() > 50, "{}", looked_at.len());
    for (i, first) in looked_at.iter().enumerate() {
        let within = looked_at[i..].iter().take_while(|at| **at - *first < Duration::minutes(15)).count();
        assert!(within <= 10, "{within} from {first}");
    }
}

/// From the sixth on each waits twice as long as the last, and the tenth shuts the door for a quarter of an hour.
#[sqlx::test]
async fn waits_grow(pool: Pool) {
    let mut now = start();
    let mut waits = Vec::new();
    for guess in 1..=10 {
        assert_eq!(count(&pool, Counted::Address("a@bavrek.example"), now).await.unwrap(), None, "guess {guess}");
        if guess > 5 {
            // Asked again at once it is not looked at, and does not count.
            let opens = count(&pool, Counted::Address("A@Bavrek.example"), now).await.unwrap().unwrap();
            waits.push((opens - now).num_seconds());
            now = opens;
        }
    }
    assert_eq!(waits, [1, 2, 4, 8, 900]);
}

/// However many sign in from one source, none of them waits; guesses among them still count.
#[sqlx::test]
async fn who_signs_in_is_no_guesser(pool: Pool) {
    let office = Counted::Source("192.0.2.7");
    for i in 0..300 {
        let now = start() + Duration::seconds(i);
        assert_eq!(count(&pool, office, now).await.unwrap(), None, "sign-in {i}");
        forgive(&pool, office).await.unwrap();
    }
    let mut looked_at = 0;
    for i in 300..600 {
        let now = start() + Duration::seconds(i);
        looked_at += usize::from(count(&pool, office, now).await.unwrap().is_none());
    }
    assert!((50..=100).contains(&looked_at), "{looked_at}");
}

/// What is counted for one is not counted for another.
#[sqlx::test]
async fn counts_are_apart_and_forgotten(pool: Pool) {
    let one = "a@bavrek.example";
    for _ in 0..20 {
        count(&pool, Counted::Address(one), start()).await.unwrap();
    }
    assert!(count(&pool, Counted::Address(one), start()).await.unwrap().is_some());
    for free in [Counted::Address("b@bavrek.example"), Counted::Code(one), Counted::Letters(one), Counted::Source(one)]
    {
        assert_eq!(count(&pool, free, start()).await.unwrap(), None, "{free:?}");
    }
    forget(&pool, Counted::Address(one)).await.unwrap();
    assert_eq!(count(&pool, Counted::Address(one), start()).await.unwrap(), None);
    let rows =
        async || sqlx::query_scalar::<_, i64>("select count(*) from sign_in_tries").fetch_one(&pool).await.unwrap();
    assert_eq!(rows().await, 5);
    sweep(&pool, start() + Duration::minutes(29)).await.unwrap();
    assert_eq!(rows().await, 5);
    sweep(&pool, start() + Duration::minutes(31)).await.unwrap();
    assert_eq!(rows().await, 0);
}
