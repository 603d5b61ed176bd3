//! Every address of the application, read from the routers' own sources, so that none can be forgotten: closed to
//! strangers, nobody's but its trainer's, and a page when it is reloaded.

use std::collections::BTreeSet;
use std::path::Path;

use crate::common::{Visitor, World, start, world};
use bavrek_store::{Pool, new_id};
use reqwest::StatusCode;

/// Addresses that are the same for everyone who is signed in, or that anyone may see.
const NOBODYS: &[&str] = &[
    "/sign-in",
    "/sign-out",
    "/lab",
    "/rig",
    "/catalogue",
    "/weights",
    "/across",
    "/api",
    "/clients/new",
    "/clients/from-table",
    "/clients",
    "/templates",
    "/outbox",
    "/go-worker.js",
    "/calls",
    "/methods",
    "/account",
    "/forgotten",
    "/reset/",
    "/join/",
    "/calendar",
    "/tables/",
    "/taken",
];

/// Answers for programs, a stream of readings, and the way out.
const NO_PAGES: &[&str] = &["/api", "/lab/scale", "/sign-out", "/sessions/{session}/train/live"];

/// Whether an address is reached by a link, without a sign-in.
fn by_link(route: &str) -> bool {
    route.starts_with("/go/") || route.starts_with("/follow/")
}

/// The addresses in the sources of the routers, with their placeholders.
fn routes() -> BTreeSet<String> {
    fn walk(folder: &Path, found: &mut BTreeSet<String>) {
        for entry in std::fs::read_dir(folder).unwrap() {
            let path = entry.unwrap().path();
            if path.is_dir() {
                walk(&path, found);
            } else if path.extension().is_some_and(|e| e == "rs") {
                let text = std::fs::read_to_string(&path).unwrap();
                let words: Vec<&str> = text.split(".route(").skip(1).collect();
                found.extend(
                    words
                        .into_iter()
                        .filter_map(|w| Some(w.trim_start().strip_prefix('"')?.split('"').next()?.to_owned())),
                );
            }
        }
    }
    let mut found = BTreeSet::new();
    walk(&Path::new(env!("CARGO_MANIFEST_DIR")).join("src/features"), &mut found);
    found
}

/// An address with the identifiers of a world; what a world does not have is a fresh one.
fn filled(route: &str, world: &World) -> String {
    let fresh = new_id();
    let of = |name: &str| match name {
        "client" => world.client.to_string(),
        "place" => world.place.to_string(),
        "session" => world.session.to_string(),
        "slot" => world.slot.to_string(),
        "movement" => "push_up".into(),
        "item" => world.dumbbells.to_string(),
        "name" => "fit".into(),
        _ => fresh.to_string(),
    };
    let part = |part: &str| match part.strip_prefix('{').and_then(|p| p.strip_suffix('}')) {
        Some(name) => of(name),
        None => part.to_owned(),
    };
    let path = route.split('/').map(part).collect::<Vec<_>>().join("/");
    // A re-fit says from where to where.
    let place = world.place;
    if route.ends_with("/refit") { format!("{path}?from={place}&to={place}") } else { path }
}

fn is_somebodys(route: &str) -> bool {
    !by_link(route) && ["{client}", "{session}", "{slot}"].iter().any(|id| route.contains(id))
}

#[test]
fn the_table_of_routes_is_whole() {
    let all = routes();
    assert!(all.len() > 80, "{}", all.len());
    for known in ["/slots/{slot}/call", "/sessions/{session}/days", "/clients/{client}/places/{place}/kit"] {
        assert!(all.contains(known), "{known}");
    }
    let nobodys = |route: &str| route == "/" || NOBODYS.iter().any(|n| route.starts_with(n));
    let unknown: Vec<_> = all.iter().filter(|r| !is_somebodys(r) && !by_link(r) && !nobodys(r)).collect();
    assert!(unknown.is_empty(), "belongs to nobody and is not known to: {unknown:?}");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_stranger_gets_no_further_than_the_sign_in(pool: Pool) {
    let world = world(&pool, crate::common::DESK).await;
    let stranger = Visitor::new(&start(pool).await);
    for route in routes().iter().filter(|r| is_somebodys(r)) {
        let path = filled(route, &world);
        let page = stranger.get(&path).await;
        assert_eq!((page.status, page.address.as_str()), (StatusCode::OK, "/sign-in"), "{route}");
        let page = stranger.post(&path, &[]).await;
        assert!(page.status == StatusCode::FORBIDDEN || page.address == "/sign-in", "{route}: {}", page.status);
    }
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn another_trainers_addresses_are_not_there(pool: Pool) {
    let (_, theirs) = (world(&pool, crate::common::DESK).await, world(&pool, "b@bavrek.example").await);
    let me = Visitor::signed_in(&start(pool).await, crate::common::DESK).await;
    let id = new_id().to_string();
    let (slot, place) = (theirs.slot.to_string(), theirs.place.to_string());
    let fields = [
        ("id", id.as_str()),
        ("slot", slot.as_str()),
        ("place", place.as_str()),
        ("after_set", id.as_str()),
        ("reminded", "never"),
        ("decision", id.as_str()),
        ("exercise", "dumbbell_curl"),
        ("version", "0"),
        ("decided", "hold"),
        ("reps", "10"),
        ("pinned", "1"),
        ("on", "2026-03-10"),
        ("name", "N"),
        ("to", place.as_str()),
        ("from", place.as_str()),
        ("height", "1"),
        ("plan", id.as_str()),
        ("week", "1"),
    ];
    for route in routes().iter().filter(|r| is_somebodys(r)) {
        let path = filled(route, &theirs);
        assert_eq!(me.get(&path).await.status, StatusCode::NOT_FOUND, "GET {route}");
        let page = me.post(&path, &fields).await;
        let page_only = page.status == StatusCode::METHOD_NOT_ALLOWED;
        assert!(page_only || page.status == StatusCode::NOT_FOUND, "POST {route}: {}", page.status);
    }
}

/// Without a link that was made there is nothing, signed in or not.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_link_that_nobody_made_reaches_nothing(pool: Pool) {
    let world = world(&pool, crate::common::DESK).await;
    let base = start(pool).await;
    let mut asked = 0;
    for visitor in [Visitor::new(&base), Visitor::signed_in(&base, crate::common::DESK).await] {
        for route in routes().iter().filter(|r| by_link(r) && !r.ends_with(".webmanifest")) {
            let path = filled(route, &world);
            for page in [visitor.get(&path).await, visitor.post_json(&path, "{}").await] {
                let none = matches!(page.status, StatusCode::NOT_FOUND | StatusCode::METHOD_NOT_ALLOWED);
                assert!(none, "{route}: {}", page.status);
                asked += usize::from(page.status == StatusCode::NOT_FOUND);
            }
        }
    }
    assert!(asked >= 10, "{asked}");
}

/// Whatever address stands in the bar after a refused form, reloading it leads to a page.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn every_address_can_be_reloaded(pool: Pool) {
    let world = world(&pool, crate::common::DESK).await;
    let visitor = Visitor::signed_in(&start(pool).await, crate::common::DESK).await;
    let mut asked = 0;
    for route in routes().iter().filter(|r| !by_link(r) && !NO_PAGES.iter().any(|n| r.starts_with(n))) {
        let page = visitor.get(&filled(route, &world)).await;
        // A row that is not there is said to be nowhere; no address is a bare refusal.
        let fine = page.status == StatusCode::OK
            || (page.status == StatusCode::NOT_FOUND && page.text.contains("Nothing here"))
            || (page.status == StatusCode::GONE && page.text.contains("opens no more"));
        assert!(fine, "{route}: {} {}", page.status, page.address);
        asked += 1;
    }
    assert!(asked > 70, "{asked}");
}
