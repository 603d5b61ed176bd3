//! Templates over HTTP: kept without movements and loads, shared as documents, applied to other clients and places.

use crate::common::{DESK, Visitor, World, assert_refused, desk, start, with, world};
use bavrek_core::kit::KitItem;
use bavrek_core::template::{Kind, Template};
use bavrek_store::{Pool, clients, kit, new_id, places, plans, sessions, templates, weeks};
use reqwest::StatusCode;
use uuid::Uuid;

/// The world with a movement taken for its slot, and its session kept as a template.
async fn kept(pool: &Pool) -> (World, Visitor, Uuid) {
    let (world, visitor) = desk(pool).await;
    visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let id = new_id();
    let keep = [("id", id.to_string()), ("name", "Arms".to_owned())];
    let keep: Vec<(&str, &str)> = keep.iter().map(|(k, v)| (*k, v.as_str())).collect();
    for _ in 0..2 {
        let page = visitor.post(&format!("/sessions/{}/template", world.session), &keep).await;
        assert!(page.status == StatusCode::OK && page.text.contains("Arms"), "{}", page.status);
    }
    (world, visitor, id)
}

async fn template(pool: &Pool, world: &World, id: Uuid) -> Template {
    templates::one(pool, world.trainer, id).await.unwrap().template
}

/// A room of the client with bands alone.
async fn bands(pool: &Pool, world: &World) -> Uuid {
    let id = new_id();
    places::add(pool, world.trainer, world.client, id, "Bands", None).await.unwrap();
    let band = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#;
    let band: KitItem = serde_json::from_str(band).unwrap();
    kit::add(pool, world.trainer, id, new_id(), &band).await.unwrap();
    id
}

fn apply<'a>(template: &'a str, week: &'a str, place: &'a str) -> Vec<(&'a str, &'a str)> {
    vec![("template", template), ("id", week), ("place_0", place), ("weekday_0", "4"), ("minutes_0", "40")]
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_session_is_kept_without_movement_and_load_and_goes_to_another_trainer(pool: Pool) {
    let (world, visitor, id) = kept(&pool).await;
    assert_eq!(templates::all(&pool, world.trainer).await.unwrap().len(), 1, "kept twice it is one");
    let own = template(&pool, &world, id).await;
    assert_eq!((own.kind, own.days.len(), own.lines().count()), (Kind::Session, 1, 1));
    let file = visitor.get(&format!("/templates/{id}/file")).await;
    assert_eq!(file.status, StatusCode::OK);
    assert!(!file.text.contains("dumbbell_curl") && !file.text.contains("\"load\""), "{}", file.text);
    // The document goes to somebody else and is the same there.
    let theirs = world_of(&pool, "b@bavrek.example").await;
    let them = Visitor::signed_in(&start(pool.clone()).await, "b@bavrek.example").await;
    let new = new_id();
    let loaded = them.post("/templates", &[("id", &new.to_string()), ("text", &file.text)]).await;
    assert!(loaded.status == StatusCode::OK && loaded.text.contains("Arms"));
    assert_eq!(template(&pool, &theirs, new).await, own);
    // Nobody reads or applies what is another trainer's.
    assert_eq!(them.get(&format!("/templates/{id}/file")).await.status, StatusCode::NOT_FOUND);
    assert_eq!(them.post(&format!("/templates/{id}/away"), &[]).await.status, StatusCode::NOT_FOUND);
    let at = theirs.place.to_string();
    let foreign = apply(&id.to_string(), &new_id().to_string(), &at)
        .iter()
        .map(|(k, v)| (k.to_string(), v.to_string()))
        .collect::<Vec<_>>();
    let foreign: Vec<(&str, &str)> = foreign.iter().map(|(k, v)| (k.as_str(), v.as_str())).collect();
    assert_eq!(them.post(&format!("/clients/{}/apply", theirs.client), &foreign).await.status, StatusCode::NOT_FOUND);
    // Put away it is offered no more, and comes back.
    visitor.post(&format!("/templates/{id}/away"), &[]).await;
    let choose = format!("/clients/{}/apply", world.client);
    assert!(!visitor.get(&choose).await.text.contains("Arms"));
    visitor.post(&format!("/templates/{id}/back"), &[]).await;
    let offered = visitor.get(&choose).await;
    assert!(offered.status == StatusCode::OK && offered.text.contains("Arms"));
}

async fn world_of(pool: &Pool, email: &str) -> World {
    world(pool, email).await
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn applied_it_is_fitted_to_the_room_looked_at_and_taken(pool: Pool) {
    let (world, visitor, id) = kept(&pool).await;
    let room = bands(&pool, &world).await.to_string();
    let (template, week) = (id.to_string(), new_id().to_string());
    let shown = visitor.post(&format!("/clients/{}/apply", world.client), &apply(&template, &week, &room)).await;
    assert!(shown.status == StatusCode::OK && shown.text.contains("From the template"), "{}", shown.status);
    let draft = weeks::one(&pool, world.trainer, week.parse().unwrap()).await.unwrap().draft;
    let line = draft.lines().next().unwrap();
    let done = line.done.as_ref().expect("bands do it");
    assert!(done.exercise.contains("band"), "{}", done.exercise);
    assert!(draft.days[0].seconds > 0.0 && line.expected.is_some());
    let taken = visitor.post(&format!("{}/take", shown.address), &[("seen", "0")]).await;
    assert_eq!(taken.status, StatusCode::OK);
    let made = sessions::head(&pool, world.trainer, draft.days[0].session).await.unwrap();
    assert_eq!((made.name.as_str(), made.minutes, made.place_id.to_string()), ("Session", 40, room));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_nothing_does_there_stays_open_and_a_novice_is_eased(pool: Pool) {
    let (world, visitor, id) = kept(&pool).await;
    let bare = new_id();
    places::add(&pool, world.trainer, world.client, bare, "Nothing", None).await.unwrap();
    let (template, week, at) = (id.to_string(), new_id().to_string(), bare.to_string());
    let path = format!("/clients/{}/apply", world.client);
    let shown = visitor.post(&path, &apply(&template, &week, &at)).await;
    assert!(shown.status == StatusCode::OK && shown.text.contains("so they stay open"), "{}", shown.status);
    let draft = weeks::one(&pool, world.trainer, week.parse().unwrap()).await.unwrap().draft;
    assert!(draft.lines().all(|l| l.done.is_none()));
    // To failure is not for who is new.
    let text = visitor.get(&format!("/templates/{id}/file")).await.text.replace("\"rir\": 2", "\"rir\": 0");
    let hard = new_id().to_string();
    assert_eq!(visitor.post("/templates", &[("id", &hard), ("text", &text)]).await.status, StatusCode::OK);
    sqlx::query("update clients set experience = 'novice' where id = $1")
        .bind(world.client)
        .execute(&pool)
        .await
        .unwrap();
    let (again, room) = (new_id().to_string(), world.place.to_string());
    let eased = visitor.post(&path, &apply(&hard, &again, &room)).await;
    assert!(eased.status == StatusCode::OK && eased.text.contains("Eased for the novice"));
    let draft = weeks::one(&pool, world.trainer, again.parse().unwrap()).await.unwrap().draft;
    assert!(draft.lines().all(|l| l.dose.sets.iter().all(|s| s.rir.is_none_or(|rir| rir >= 2))));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_plan_is_kept_with_how_it_goes_on_and_becomes_one_again(pool: Pool) {
    let (world, visitor, _) = kept(&pool).await;
    let (session, place, id) = (world.session.to_string(), world.place.to_string(), new_id().to_string());
    let plan = [
        ("id", id.as_str()),
        ("name", "Ten weeks"),
        ("starts_on", "2026-03-16"),
        ("weeks", "10"),
        ("light_every", "5"),
        ("phase_0", "6"),
        ("school_0", "slow_tempo"),
        ("session_0", &session),
        ("weekday_0", "2"),
        ("at_0", &place),
    ];
    assert_eq!(visitor.post(&format!("/clients/{}/plan", world.client), &plan).await.status, StatusCode::OK);
    let (template_id, week) = (new_id().to_string(), new_id().to_string());
    let keep = [("id", template_id.as_str()), ("name", "Ten weeks of arms")];
    let listed = visitor.post(&format!("/clients/{}/plan/template", world.client), &keep).await;
    assert!(listed.text.contains("10 weeks"), "{}", listed.status);
    let own = template(&pool, &world, template_id.parse().unwrap()).await;
    assert_eq!(own.weeks.as_ref().map(|w| (w.weeks, w.light_every, w.phases.len())), Some((10, Some(5), 1)));
    // Applied, taken, and on the plan's page with all of it filled in.
    let path = format!("/clients/{}/apply", world.client);
    let shown = visitor.post(&path, &apply(&template_id, &week, &place)).await;
    let taken = visitor.post(&format!("{}/take", shown.address), &[("seen", "0")]).await;
    assert!(taken.address.ends_with("/plan"), "{}", taken.address);
    assert!(taken.text.contains("value=\"10\"") && taken.text.contains("<option value=\"slow_tempo\" selected>"));
    assert!(plans::of_client(&pool, world.trainer, world.client).await.unwrap().is_some());
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn documents_that_are_none_are_refused_with_their_field(pool: Pool) {
    let (_, visitor, id) = kept(&pool).await;
    let good = visitor.get(&format!("/templates/{id}/file")).await.text;
    let refused = async |text: &str, says: &str| {
        let page = visitor.post("/templates", &[("id", &new_id().to_string()), ("text", text)]).await;
        assert_refused(&page, says, "Keep it");
    };
    refused("", "EOF").await;
    refused("half a document {", "expected").await;
    refused(&good[..good.len() / 2], "EOF").await;
    refused(&good.replace("\"version\": 1", "\"version\": 7"), "version: is 7, which is later").await;
    refused(&good.replace("\"minutes\"", "\"minuets\""), "unknown field").await;
    refused(&good.replace("\"minutes\": 30", "\"minutes\": 3000"), "days[0].minutes: must be between 10 and 240").await;
    refused(&good.replace("\"kind\": \"session\"", "\"kind\": \"plan\""), "weeks: belongs to a plan").await;
    let nameless = visitor
        .post("/templates", &with(&[("id", &new_id().to_string())], &[("text", &good.replace("\"Arms\"", "\" \""))]))
        .await;
    assert_refused(&nameless, "name: must have 1 to 80", "Keep it");
    let novel = format!("{good}{}", " ".repeat(bavrek_formats::templates::LONGEST));
    assert!(bavrek_formats::templates::read(&novel).unwrap_err().message.contains("at most 400000 are read"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn wrong_days_of_a_template_are_kept_as_typed(pool: Pool) {
    let (world, visitor, id) = kept(&pool).await;
    let (template, week, room) = (id.to_string(), new_id().to_string(), world.place.to_string());
    let usual = apply(&template, &week, &room);
    let path = format!("/clients/{}/apply", world.client);
    let wrong = visitor.post(&path, &with(&usual, &[("minutes_0", "an hour")])).await;
    assert_refused(&wrong, "Session: ", "value=\"an hour\"");
    let nowhere = visitor.post(&path, &with(&usual, &[("place_0", &new_id().to_string())])).await;
    assert_eq!(nowhere.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(clients::one(&pool, world.trainer, world.client).await.is_ok());
    assert_eq!(
        Visitor::signed_in(&start(pool.clone()).await, DESK).await.get("/templates").await.status,
        StatusCode::OK
    );
}
