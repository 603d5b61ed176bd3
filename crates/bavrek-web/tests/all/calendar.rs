//! Calendars over HTTP: a link that is followed, what it shows, and whom it shows nothing.

use crate::common::lines::take;
use std::sync::Arc;

use crate::common::{DESK, Visitor, World, app_at, assert_refused, desk, now, serve, start, world};
use bavrek_store::outbox::{self, Kind};
use bavrek_store::{Pool, clients, new_id, workouts};
use bavrek_web::{App, Replica};
use chrono::NaiveDate;
use reqwest::StatusCode;

/// The address in a page that shows a fresh link, as this server has it.
fn link(text: &str) -> String {
    let from = text.find("http://bavrek.example/follow/").expect("a link is shown");
    let whole = text[from..].split('"').next().unwrap();
    whole.trim_start_matches("http://bavrek.example").to_owned()
}

/// Makes a calendar link of a client.
async fn made(visitor: &Visitor, world: &World, fields: &[(&str, &str)]) -> String {
    let page = visitor.post(&format!("/clients/{}/calendar", world.client), fields).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    link(&page.text)
}

fn day(text: &str) -> NaiveDate {
    text.parse().unwrap()
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_calendar_is_followed_by_its_link_alone(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    let path = format!("/clients/{}/calendar", world.client);
    assert!(visitor.get(&path).await.text.contains("No link opens now."));
    let wrong = visitor.post(&path, &[("starts_at", "25:99"), ("alarm", "soon")]).await;
    assert_refused(&wrong, "soon", "25:99");
    let first = made(&visitor, &world, &[("starts_at", "18:30"), ("alarm", "30")]).await;

    // Whoever has the link needs nothing else.
    let stranger = Visitor::new(&visitor.base());
    let calendar = stranger.get(&first).await;
    assert_eq!(calendar.status, StatusCode::OK);
    for part in ["BEGIN:VCALENDAR", "SUMMARY:Session", "TRIGGER:-PT1800S", "SEQUENCE:0", "STATUS:CONFIRMED"] {
        assert!(calendar.text.contains(part), "{part}: {}", calendar.text);
    }
    assert!(calendar.text.contains("Standing dumbbell curl: 2 × 8–12"), "{}", calendar.text);
    let second = made(&visitor, &world, &[("starts_at", ""), ("alarm", "")]).await;
    assert_eq!(stranger.get(&first).await.status, StatusCode::NOT_FOUND, "the link before opens no more");
    assert!(stranger.get(&second).await.text.contains("DTSTART;VALUE=DATE:"));
    assert_eq!(visitor.post(&format!("{path}/end"), &[]).await.status, StatusCode::OK);
    assert_eq!(stranger.get(&second).await.status, StatusCode::NOT_FOUND);
    let file = visitor.get(&format!("{path}/file")).await;
    assert!(file.status == StatusCode::OK && file.text.contains("BEGIN:VEVENT"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_is_moved_or_taken_out_keeps_its_name_and_is_newer(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let followed = made(&visitor, &world, &[]).await;
    let id = new_id();
    workouts::plan(&pool, world.trainer, world.session, id, day("2026-03-20")).await.unwrap();
    let event = async || {
        let text = visitor.get(&followed).await.text;
        let of = text.split("BEGIN:VEVENT").find(|e| e.contains(&format!("UID:{id}@bavrek"))).map(str::to_owned);
        of.unwrap_or_else(|| panic!("the workout is shown: {text}"))
    };
    let shows = |event: &str, parts: [&str; 3]| {
        for part in parts {
            assert!(event.contains(part), "{part}: {event}");
        }
    };
    shows(&event().await, ["DTSTART;VALUE=DATE:20260320", "SEQUENCE:0", "STATUS:CONFIRMED"]);
    let moved = "update workouts set planned_on = '2026-03-22' where id = $1";
    sqlx::query(moved).bind(id).execute(&pool).await.unwrap();
    shows(&event().await, ["DTSTART;VALUE=DATE:20260322", "SEQUENCE:1", "STATUS:CONFIRMED"]);
    // What a calendar does not show raises nothing.
    sqlx::query("update workouts set light = true where id = $1").bind(id).execute(&pool).await.unwrap();
    shows(&event().await, ["DTSTART;VALUE=DATE:20260322", "SEQUENCE:1", "STATUS:CONFIRMED"]);
    workouts::take_out(&pool, world.trainer, world.session, id).await.unwrap();
    shows(&event().await, ["DTSTART;VALUE=DATE:20260322", "SEQUENCE:2", "STATUS:CANCELLED"]);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_calendar_of_all_shows_ones_own_clients_alone(pool: Pool) {
    let (_, visitor) = desk(&pool).await;
    world(&pool, "other@bavrek.example").await;
    let page = visitor.post("/calendar", &[("starts_at", "07:00")]).await;
    let calendar = Visitor::new(&start(pool.clone()).await).get(&link(&page.text)).await;
    assert_eq!(calendar.status, StatusCode::OK);
    assert!(calendar.text.contains(&format!("SUMMARY:Client of {DESK}: Session")), "{}", calendar.text);
    assert!(!calendar.text.contains("other@bavrek.example"));
}

/// What may be a little old is read from a copy of the database while that answers, and from the database itself while not.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_copy_of_the_database_is_asked_for_calendars_while_it_answers(pool: Pool) {
    let world = world(&pool, DESK).await;
    let at = |replica: Option<Arc<Replica>>| App { replica, ..app_at(pool.clone(), now()) };
    let base = serve(at(None)).await;
    let visitor = Visitor::signed_in(&base, DESK).await;
    let followed = made(&visitor, &world, &[]).await;
    let asked = visitor.get(&followed).await.text;
    assert!(asked.contains("BEGIN:VEVENT"), "{asked}");
    // A copy that can be read, and one that is not there.
    let url = std::env::var("DATABASE_URL").unwrap();
    let own = format!("{}/{}", url.rsplit_once('/').unwrap().0, pool.connect_options().get_database().unwrap());
    for (url, answers) in [(own.as_str(), true), ("postgres://nobody@127.0.0.1:1/none", false)] {
        let copy = bavrek_store::replica(url).unwrap();
        assert_eq!(bavrek_store::answers(&copy).await, answers);
        let base = serve(at(Some(Arc::new(Replica::new(copy.clone()))))).await;
        let other = Visitor::signed_in(&base, DESK).await.get(&followed).await;
        assert_eq!(other.status, StatusCode::OK);
        assert_eq!(other.text.matches("BEGIN:VEVENT").count(), asked.matches("BEGIN:VEVENT").count());
        let written = bavrek_store::clients::set_archived(&copy, world.trainer, world.client, true).await;
        assert!(written.is_err(), "a copy is only read");
    }
}

/// The link goes to the client where that is wanted and their address is known, once for every link, and is kept by its end alone.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn the_link_of_a_calendar_is_sent_where_that_is_wanted(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let sent = || async { outbox::all(&pool, world.trainer).await.unwrap() };
    made(&visitor, &world, &[("send", "on")]).await;
    assert!(sent().await.is_empty(), "no address is known");
    let client = clients::one(&pool, world.trainer, world.client).await.unwrap();
    let client = clients::Client { contact: "odalys@bavrek.example".into(), ..client };
    clients::update(&pool, world.trainer, &client, now().date_naive()).await.unwrap();
    made(&visitor, &world, &[]).await;
    assert!(sent().await.is_empty(), "it was not wanted");
    let link = made(&visitor, &world, &[("send", "on")]).await;
    let secret = link.split('/').nth(2).unwrap();
    let [(_, letter)] = &sent().await[..] else { panic!("one letter") };
    assert_eq!((letter.kind, letter.recipient.as_str()), (Kind::Calendar, "odalys@bavrek.example"));
    assert!(letter.body.contains("to subscribe to") && letter.body.contains(&secret[secret.len() - 6..]));
    assert!(!letter.body.contains(secret), "{}", letter.body);
}
