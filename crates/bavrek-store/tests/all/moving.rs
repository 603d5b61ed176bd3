//! People who move: what goes out comes in again as it was, all or nothing.

use std::collections::BTreeMap;

use bavrek_core::kit::KitItem;
use bavrek_store::limits::{self, DatedLimit};
use bavrek_store::moving::{self, People, Refused};
use bavrek_store::{Pool, clients, fits, kit, log, new_id, people, places, sessions, workouts};
use chrono::{DateTime, Utc};
use proptest::prelude::*;
use proptest::strategy::ValueTree;
use proptest::test_runner::{Config, TestRunner};
use serde_json::{Value, json};

use crate::common::{World, day, entry, set, world};

fn moment() -> DateTime<Utc> {
    DateTime::from_timestamp(1_773_144_000, 0).unwrap()
}

/// A world in which something of most kinds happened.
async fn lived(pool: &Pool, email: &str) -> World {
    let world = world(pool, email).await;
    let first = new_id();
    log::append(pool, world.trainer, &entry(&world, first, &set("2026-03-10", 10))).await.unwrap();
    let corrected = set("2026-03-10", 9);
    let again = log::NewSet { supersedes: Some(first), ..entry(&world, new_id(), &corrected) };
    log::append(pool, world.trainer, &again).await.unwrap();
    workouts::plan(pool, world.trainer, world.session, new_id(), day("2026-03-20")).await.unwrap();
    let rule = json!({ "joint": "shoulder", "what": "pain_loaded", "side": "left", "severity": "moderate" });
    let rule = serde_json::from_value(rule).unwrap();
    let limit = DatedLimit { id: new_id(), rule, since: day("2026-03-01"), until: None, note: "sore".into() };
    limits::add(pool, world.trainer, world.client, &limit).await.unwrap();
    let band = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#;
    let band: KitItem = serde_json::from_str(band).unwrap();
    kit::add(pool, world.trainer, world.place, new_id(), &band).await.unwrap();
    world
}

async fn out(pool: &Pool, world: &World) -> People {
    moving::out(pool, world.trainer, Some(world.client), moment()).await.unwrap()
}

/// What stands in a document but the moment it was made.
fn what(people: &People) -> Value {
    serde_json::to_value((&people.own, &people.people)).unwrap()
}

#[sqlx::test]
async fn who_was_taken_out_and_erased_comes_back_as_they_were(pool: Pool) {
    let world = lived(&pool, "a").await;
    let document = out(&pool, &world).await;
    assert!(document.people[0].len() > 8, "{:?}", document.people[0].keys());
    // Through text, as a file is.
    let text = serde_json::to_vec(&document).unwrap();
    let document = moving::read(&text).unwrap();
    people::erase(&pool, world.trainer, world.client, moment()).await.unwrap();
    let looked = moving::take(&pool, world.trainer, &document, false).await.unwrap();
    assert!(clients::all(&pool, world.trainer).await.unwrap().is_empty(), "looking keeps nothing");
    let arrived = moving::take(&pool, world.trainer, &document, true).await.unwrap();
    assert_eq!(looked, arrived);
    let rows: usize = document.people[0].values().map(Vec::len).sum();
    assert_eq!(arrived.new.iter().map(|(_, rows)| *rows).collect::<Vec<_>>(), [rows]);
    assert_eq!(what(&out(&pool, &world).await), what(&document));
    // Once more changes nothing.
    let again = moving::take(&pool, world.trainer, &document, true).await.unwrap();
    assert_eq!((again.new.len(), again.known.len()), (0, 1));
    assert_eq!(what(&out(&pool, &world).await), what(&document));
}

#[sqlx::test]
async fn another_trainer_has_the_same_and_nobody_else_is_touched(pool: Pool) {
    let (mine, other) = (lived(&pool, "a").await, lived(&pool, "b").await);
    let (document, before) = (out(&pool, &mine).await, out(&pool, &other).await);
    moving::take(&pool, other.trainer, &document, true).await.unwrap();
    let moved = moving::out(&pool, other.trainer, Some(mine.client), moment()).await.unwrap();
    assert_eq!(what(&moved), what(&document));
    assert_eq!(what(&out(&pool, &other).await), what(&before));
    let all = moving::out(&pool, other.trainer, None, moment()).await.unwrap();
    assert_eq!(all.people.len(), 2);
}

#[sqlx::test]
async fn what_is_no_document_of_this_version_says_so(pool: Pool) {
    let world = lived(&pool, "a").await;
    let whole = serde_json::to_value(out(&pool, &world).await).unwrap();
    let with = |name: &str, value: Value| {
        let mut changed = whole.clone();
        changed[name] = value;
        changed.to_string()
    };
    let half = whole.to_string();
    for (text, path) in [
        (with("version", json!(2)), "version"),
        (with("format", json!("else")), "format"),
        (with("sparkle", json!(1)), "document"),
        (half[..half.len() / 2].to_owned(), "line 1"),
        (String::new(), "line 1"),
        ("[]".to_owned(), "format"),
    ] {
        let Err(Refused::Wrong { path: found, .. }) = moving::read(text.as_bytes()) else {
            panic!("{path} was read");
        };
        assert!(found.starts_with(path), "{found} for {path}");
    }
}

#[sqlx::test]
async fn what_is_wrong_is_told_by_where_it_stands(pool: Pool) {
    let world = lived(&pool, "a").await;
    let document = serde_json::to_value(out(&pool, &world).await).unwrap();
    people::erase(&pool, world.trainer, world.client, moment()).await.unwrap();
    let cases: [(&str, Value, &str); 8] = [
        ("/people/0/logged_sets/0/performed_on", json!("yesterday"), "must be a day"),
        ("/people/0/logged_sets/0/entry/reps", json!(1516), "reps: must be 0 to 100"),
        ("/people/0/slots/0/intent/rir", json!("two"), "cannot be read at rir"),
        ("/people/0/clients/0/name", json!("  "), "must be a name"),
        ("/people/0/sessions/0/client_id", json!(new_id()), "another client"),
        ("/people/0/sessions/0/place_id", json!(new_id()), "points to something"),
        ("/people/0/sessions/0/sparkle", json!(1), "is not known"),
        ("/people/0/kit_items/0/item/kind", json!("jetpack"), "cannot be read"),
    ];
    for (at, value, says) in cases {
        let mut changed = document.clone();
        let (parent, field) = at.rsplit_once('/').unwrap();
        changed.pointer_mut(parent).unwrap()[field] = value;
        let people = moving::read(changed.to_string().as_bytes()).unwrap();
        let refused = moving::take(&pool, world.trainer, &people, true).await;
        let Err(Refused::Wrong { path, why }) = refused else { panic!("{at} was taken") };
        assert!(why.contains(says), "{path}: {why}");
        assert!(path.starts_with("people[0]"), "{path}");
    }
    assert!(clients::all(&pool, world.trainer).await.unwrap().is_empty());
}

/// Every place in a document where a value stands, as a pointer.
fn places(value: &Value, at: &str, found: &mut Vec<String>) {
    match value {
        Value::Object(fields) => fields.iter().for_each(|(name, v)| places(v, &format!("{at}/{name}"), found)),
        Value::Array(items) => items.iter().enumerate().for_each(|(n, v)| places(v, &format!("{at}/{n}"), found)),
        _ => found.push(at.to_owned()),
    }
}

async fn counts(pool: &Pool) -> BTreeMap<String, i64> {
    let mut counts = BTreeMap::new();
    for table in people::tables(pool).await.unwrap() {
        let query = sqlx::AssertSqlSafe(format!("select count(*) from {table}"));
        counts.insert(table, sqlx::query_scalar(query).fetch_one(pool).await.unwrap());
    }
    counts
}

#[sqlx::test]
async fn whatever_is_changed_in_a_document_it_is_taken_in_whole_or_not_at_all(pool: Pool) {
    let world = lived(&pool, "a").await;
    let document = serde_json::to_value(out(&pool, &world).await).unwrap();
    people::erase(&pool, world.trainer, world.client, moment()).await.unwrap();
    let empty = counts(&pool).await;
    let mut spots = Vec::new();
    places(&document["people"], "/people", &mut spots);
    let odd = prop_oneof![
        Just(json!(null)),
        Just(json!(-1)),
        Just(json!(1e300)),
        Just(json!("")),
        Just(json!("2026-02-30")),
        Just(json!([])),
        Just(json!({ "a": {} })),
        Just(json!(new_id())),
    ];
    let mut runner = TestRunner::new(Config::with_cases(1));
    let (mut taken, mut refused) = (0, 0);
    for _ in 0..150 {
        let change = (prop::sample::select(spots.clone()), odd.clone());
        let (spot, value) = change.new_tree(&mut runner).unwrap().current();
        let mut changed = document.clone();
        *changed.pointer_mut(&spot).unwrap() = value.clone();
        let read = moving::read(changed.to_string().as_bytes());
        let came = match &read {
            Ok(people) => moving::take(&pool, world.trainer, people, true).await.is_ok(),
            Err(_) => false,
        };
        if came {
            taken += 1;
            let rows = clients::all(&pool, world.trainer).await.unwrap();
            assert_eq!(rows.len(), 1, "{spot} = {value}");
            // What came in can be read by whoever asks for it.
            let (trainer, client) = (world.trainer, rows[0].id);
            log::of_client(&pool, trainer, client, day("2030-01-01")).await.unwrap();
            limits::of_client(&pool, trainer, client).await.unwrap();
            for head in sessions::of_client(&pool, trainer, client).await.unwrap() {
                sessions::blocks(&pool, trainer, head.id).await.unwrap();
                fits::for_turn(&pool, trainer, head.id, head.turn).await.unwrap();
                workouts::of_session(&pool, trainer, head.id).await.unwrap();
            }
            for place in places::of_client(&pool, trainer, client).await.unwrap() {
                kit::pieces(&pool, trainer, place.id).await.unwrap();
            }
            people::erase(&pool, world.trainer, rows[0].id, moment()).await.unwrap();
        } else {
            refused += 1;
        }
        assert_eq!(counts(&pool).await, empty, "{spot} = {value}");
    }
    assert!(refused > 10 && taken > 3, "{taken} taken, {refused} refused");
}

#[sqlx::test]
async fn the_published_schema_is_that_of_the_tables(pool: Pool) {
    let file = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/formats/people.json");
    let schema = moving::schema(&pool).await.unwrap();
    let published: Value = serde_json::from_str(&std::fs::read_to_string(file).unwrap_or_default()).unwrap_or_default();
    if std::env::var_os("BAVREK_WRITE_SCHEMAS").is_some() {
        std::fs::write(file, serde_json::to_string_pretty(&schema).unwrap() + "\n").unwrap();
        return;
    }
    assert!(published == schema, "people.json is out of date: run this test with BAVREK_WRITE_SCHEMAS=1");
}
