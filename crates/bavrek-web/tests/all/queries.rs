//! How many times a page asks the database: bounded, whatever a client has logged, so that no loop asks row by row unseen.

use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};

use crate::common::lines::{self, take};
use crate::common::{Visitor, World, desk, now};
use bavrek_core::dose::{PerHand, StampedLoad};
use bavrek_core::log::LoggedSet;
use bavrek_core::person::Experience;
use bavrek_core::units::{Kilograms, MassUnit, Metres};
use bavrek_store::clients::{self, Client};
use bavrek_store::log::NewSet;
use bavrek_store::slots::Joining;
use bavrek_store::{Pool, log, new_id};
use chrono::Duration;
use reqwest::StatusCode;
use sqlx::postgres::PgPoolOptions;
use tracing::Subscriber;
use tracing_subscriber::layer::{Context, Layer, SubscriberExt};

/// Counts what is sent to the database.
#[derive(Clone, Default)]
struct Counting(Arc<AtomicUsize>);

impl<S: Subscriber> Layer<S> for Counting {
    fn on_event(&self, event: &tracing::Event<'_>, _: Context<'_, S>) {
        if event.metadata().target() == "sqlx::query" {
            self.0.fetch_add(1, Ordering::Relaxed);
        }
    }
}

impl Counting {
    /// How often a page asks.
    async fn of(&self, visitor: &Visitor, path: &str) -> usize {
        // What is kept between requests is read the first time.
        assert_eq!(visitor.get(path).await.status, StatusCode::OK, "{path}");
        // Other tests of this program, which listen to nothing, may have been asked first whether anybody does.
        tracing::callsite::rebuild_interest_cache();
        let before = self.0.load(Ordering::Relaxed);
        visitor.get(path).await;
        self.0.load(Ordering::Relaxed) - before
    }
}

/// Logs a set of some days ago.
async fn log_one(pool: &Pool, world: &World, days: i64) {
    let done_at = now() - Duration::days(days);
    let load = StampedLoad { value: 8.0, unit: MassUnit::Kg, per: PerHand::Hand };
    let set = LoggedSet {
        reps: Some(10),
        rir: Some(2),
        load: Some(load),
        effective_kg: Some(Kilograms(8.0)),
        ..LoggedSet::of("dumbbell_curl", done_at.date_naive())
    };
    let new = NewSet {
        id: new_id(),
        client_id: world.client,
        slot_id: world.slot,
        place_id: world.place,
        position: 1,
        set: &set,
        effective: Kilograms(8.0),
        workout: None,
        done_at,
        supersedes: None,
    };
    log::append(pool, world.trainer, &new).await.unwrap();
}

/// The test's runtime has one thread, so that what is counted on it is this test's alone.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn pages_ask_the_database_so_often_and_no_more(pool: Pool) {
    let counting = Counting::default();
    let _guard = tracing::subscriber::set_default(tracing_subscriber::registry().with(counting.clone()));
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12 @ 2-0-1-0, 2 in reserve, rest 90 s").await;
    let (client, session, slot) = (
        format!("/clients/{}", world.client),
        format!("/sessions/{}", world.session),
        format!("/slots/{}", world.slot),
    );
    let pages = [
        ("/".to_owned(), 3),
        ("/calls".to_owned(), 23),
        ("/catalogue".to_owned(), 3),
        ("/account".to_owned(), 4),
        (client.clone(), 14),
        (format!("{client}/places"), 12),
        (format!("{client}/aims"), 11),
        (format!("{client}/strength"), 9),
        (format!("{client}/review"), 11),
        (format!("{client}/week"), 11),
        (format!("/calls/{}", world.client), 22),
        (session.clone(), 23),
        (format!("{session}/train"), 21),
        (format!("{slot}/bench"), 20),
        (format!("{slot}/ladder"), 19),
        (format!("{slot}/call"), 17),
    ];
    for (sets, more) in [(2, 0), (40, 4)] {
        for i in 0..more {
            lines::slot(&pool, &world, "hammer_curl", "3 x 8-12 @ 2-0-1-0, 2 in reserve, rest 90 s", Joining::Alone)
                .await;
            let client = Client::new(&format!("Client {i}"), Kilograms(70.0), Metres(1.7), Experience::Novice);
            clients::add(&pool, world.trainer, &client, now().date_naive()).await.unwrap();
        }
        for i in 0..sets {
            log_one(&pool, &world, i).await;
        }
        for (path, most) in &pages {
            let asked = counting.of(&visitor, path).await;
            assert!(
                asked > 0 && asked <= *most,
                "{path}: {asked}, at most {most}, with {sets} sets and {more} lines more"
            );
        }
    }
}

/// Who holds a connection waits for no other: pages that are asked for at once are all answered, though there are but two to share.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn pages_share_two_connections_and_none_stands_still(pool: Pool) {
    let narrow = PgPoolOptions::new().max_connections(2).acquire_timeout(Duration::seconds(20).to_std().unwrap());
    let narrow = narrow.connect_with((*pool.connect_options()).clone()).await.unwrap();
    let (world, visitor) = desk(&narrow).await;
    take(&narrow, &world, world.slot, "dumbbell_curl", "2 x 8-12 @ 2-0-1-0, 2 in reserve, rest 90 s").await;
    log_one(&narrow, &world, 3).await;
    let (client, session, slot) = (world.client, world.session, world.slot);
    let get = |path: String| async { visitor.get(&{ path }).await.status };
    for _ in 0..3 {
        let answers = tokio::join!(
            get(format!("/clients/{client}")),
            get(format!("/clients/{client}/places")),
            get(format!("/clients/{client}/review")),
            get(format!("/sessions/{session}")),
            get(format!("/sessions/{session}/train")),
            get(format!("/slots/{slot}/bench")),
            get(format!("/slots/{slot}/ladder")),
            get(format!("/slots/{slot}/call")),
        );
        assert_eq!(<[StatusCode; 8]>::from(answers), [StatusCode::OK; 8]);
    }
}
