//! All clients' calls on one screen, and what a review says, over HTTP.

use bavrek_store::{Pool, decisions, fits, health, log, new_id};
use reqwest::StatusCode;

use crate::common::lines::take;
use crate::common::{Page, Visitor, World, assert_refused, desk, now, start, world};

/// A curl that was taken, and a workout of it at the top of the zone.
async fn trained(pool: &Pool) -> (World, Visitor) {
    let (world, visitor) = desk(pool).await;
    take(pool, &world, world.slot, "dumbbell_curl", "2 x 8-12, 2 in reserve").await;
    let slot = world.slot.to_string();
    for _ in 0..2 {
        let id = new_id().to_string();
        let set = [("id", id.as_str()), ("slot", slot.as_str()), ("reps", "12"), ("rir", "3")];
        assert_eq!(visitor.post(&format!("/sessions/{}/train", world.session), &set).await.status, StatusCode::OK);
    }
    (world, visitor)
}

async fn calls(visitor: &Visitor, world: &World) -> Page {
    visitor.get(&format!("/calls/{}", world.client)).await
}

async fn say(visitor: &Visitor, world: &World, fields: &[(&str, &str)]) -> Page {
    let slot = world.slot.to_string();
    let all: Vec<_> = [("slot", slot.as_str())].into_iter().chain(fields.iter().copied()).collect();
    visitor.post(&format!("/calls/{}/decide", world.client), &all).await
}

async fn load(pool: &Pool, world: &World) -> f64 {
    let fit = fits::of_slot(pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    fit.step.effective_kg.value()
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_call_is_taken_undone_and_refused_with_a_word(pool: Pool) {
    let (world, visitor) = trained(&pool).await;
    let list = visitor.get("/calls").await;
    assert!(list.text.contains("1 line waits"), "{}", list.text);
    let page = calls(&visitor, &world).await;
    let (before, after) = (load(&pool, &world).await, page.hidden("after_set"));
    let taken = say(&visitor, &world, &[("decided", "add_load"), ("after_set", &after)]).await;
    assert_eq!(taken.status, StatusCode::OK);
    assert!(taken.text.contains("Decided: add load"), "{}", taken.text);
    assert!(load(&pool, &world).await > before);
    assert!(visitor.get("/calls").await.text.contains("nothing waits"));

    let decision = taken.hidden("decision");
    for _ in 0..2 {
        let undone = visitor.post(&format!("/calls/{}/undo", world.client), &[("decision", &decision)]).await;
        assert_eq!((undone.status, load(&pool, &world).await), (StatusCode::OK, before));
    }
    let refused =
        say(&visitor, &world, &[("decided", "refused"), ("after_set", &after), ("note", "elbow first")]).await;
    assert!(refused.text.contains("add load refused, the same step (elbow first)"), "{}", refused.text);
    assert_eq!(load(&pool, &world).await, before);
    // The session's own page of the call says the same.
    let own = visitor.get(&format!("/slots/{}/call", world.slot)).await;
    assert!(own.text.contains("add load refused, the same step (elbow first)"), "{}", own.text);
}

/// Once nothing waits, what comes next is a button: the next workout that is planned, else the weeks to plan.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn after_the_calls_comes_the_next_workout_or_the_next_week(pool: Pool) {
    let (world, visitor) = trained(&pool).await;
    let waits = calls(&visitor, &world).await;
    assert!(waits.status == StatusCode::OK && !waits.text.contains("data-next"), "{}", waits.text);
    let after = waits.hidden("after_set");
    let decided = say(&visitor, &world, &[("decided", "add_load"), ("after_set", &after)]).await;
    let week = format!("href=\"/clients/{}/week\"", world.client);
    assert!(decided.text.contains("Plan the next week") && decided.text.contains(&week), "{}", decided.text);
    sqlx::query(
        "insert into workouts (trainer_id, id, session_id, place_id, planned_on, state, turn, light)
         select trainer_id, gen_random_uuid(), session_id, place_id, '2026-03-12', 'planned', 'usual', false from workouts",
    )
    .execute(&pool)
    .await
    .unwrap();
    let next = calls(&visitor, &world).await.text;
    let session = format!("href=\"/sessions/{}\"", world.session);
    assert!(next.contains("Next: Session, Thu 12 Mar") && next.contains(&session), "{next}");
}

/// A set beside a call says what was in the hands, which says itself what that comes to.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_set_beside_a_call_is_told_of_the_hands(pool: Pool) {
    let (world, visitor) = trained(&pool).await;
    let page = visitor.get(&format!("/slots/{}/call", world.slot)).await;
    assert_eq!(page.status, StatusCode::OK);
    let cell = page.text.split("<td>").find(|cell| cell.contains("each hand")).expect("a load that is told");
    assert!(cell.contains("8 kg each hand") && cell.contains("today") && !cell.contains("effective"), "{cell}");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn plain_calls_are_taken_together_and_only_as_they_were_shown(pool: Pool) {
    let (world, visitor) = trained(&pool).await;
    let before = load(&pool, &world).await;
    let path = format!("/calls/{}/plain", world.client);
    let after = calls(&visitor, &world).await.hidden("after_set");
    let stale = format!("{}.{}", world.slot, new_id());
    assert_eq!(visitor.post(&path, &[("call", &stale)]).await.status, StatusCode::OK);
    assert_eq!(load(&pool, &world).await, before, "another set than was shown: nothing is taken");
    assert_eq!(visitor.post(&path, &[("call", "nonsense")]).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    let shown = format!("{}.{after}", world.slot);
    assert_eq!(visitor.post(&path, &[("call", &shown)]).await.status, StatusCode::OK);
    assert!(load(&pool, &world).await > before);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_cannot_be_decided_is_said_and_changes_nothing(pool: Pool) {
    let (world, visitor) = trained(&pool).await;
    let (before, after) = (load(&pool, &world).await, calls(&visitor, &world).await.hidden("after_set"));
    let long = "x".repeat(301);
    let cases: [&[(&str, &str)]; 4] = [
        &[("decided", "dance"), ("after_set", &after)],
        &[("decided", "hold"), ("after_set", "soon")],
        &[("decided", "hold"), ("after_set", &after), ("note", &long)],
        &[("decided", "deload"), ("after_set", &after)],
    ];
    for fields in cases {
        let page = say(&visitor, &world, fields).await;
        let refused = page.status == StatusCode::UNPROCESSABLE_ENTITY || page.text.contains("role=\"alert\"");
        assert!(refused, "{fields:?}: {}", page.status);
    }
    let stale = say(&visitor, &world, &[("decided", "add_load"), ("after_set", &new_id().to_string())]).await;
    assert!(stale.text.contains("another set was logged in the meantime"), "{}", stale.text);
    assert_eq!(load(&pool, &world).await, before);
    assert!(decisions::latest(&pool, world.trainer, world.slot).await.unwrap().is_none());
}

/// Whoever waits for a clearance gets nothing harder, one by one or together.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_clearance_that_is_missing_stops_what_hardens(pool: Pool) {
    let (world, visitor) = trained(&pool).await;
    let (before, after) = (load(&pool, &world).await, calls(&visitor, &world).await.hidden("after_set"));
    let screening = health::Screening {
        id: new_id(),
        on: now().date_naive(),
        answers: [("heart".to_owned(), true)].into(),
        refers: true,
        note: String::new(),
        clearance: None,
    };
    health::add(&pool, world.trainer, world.client, &screening).await.unwrap();
    let page = say(&visitor, &world, &[("decided", "add_load"), ("after_set", &after)]).await;
    assert!(page.text.contains("waits for a clearance"), "{}", page.text);
    let shown = format!("{}.{after}", world.slot);
    visitor.post(&format!("/calls/{}/plain", world.client), &[("call", &shown)]).await;
    assert_eq!(load(&pool, &world).await, before);
    let page = say(&visitor, &world, &[("decided", "refused"), ("after_set", &after)]).await;
    assert!(page.text.contains("refused, the same step"), "{}", page.text);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn another_trainers_calls_are_not_there(pool: Pool) {
    let (theirs, _) = trained(&pool).await;
    let after =
        log::of_client(&pool, theirs.trainer, theirs.client, now().date_naive()).await.unwrap()[1].id.to_string();
    world(&pool, "b@bavrek.example").await;
    let other = Visitor::signed_in(&start(pool.clone()).await, "b@bavrek.example").await;
    assert_eq!(calls(&other, &theirs).await.status, StatusCode::NOT_FOUND);
    let word = say(&other, &theirs, &[("decided", "hold"), ("after_set", &after)]).await;
    assert_eq!(word.status, StatusCode::NOT_FOUND);
    assert!(other.get("/calls").await.text.contains("nothing waits"));
    assert_eq!(other.get(&format!("/clients/{}/review", theirs.client)).await.status, StatusCode::NOT_FOUND);
    assert!(decisions::latest(&pool, theirs.trainer, theirs.slot).await.unwrap().is_none());
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_review_says_what_it_cannot_show(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    for (query, says) in [
        ("", "Nothing was logged often enough"),
        ("?from=2026-03-10&until=2026-03-01", "The first day must lie before the last"),
        ("?from=yesterday", "could not be read"),
        ("?from=1990-01-01", "At most three years"),
    ] {
        let page = visitor.get(&format!("/clients/{}/review{query}", world.client)).await;
        assert_eq!(page.status, StatusCode::OK, "{query}");
        assert!(page.text.contains(says), "{query}: {}", page.text);
    }
}

/// The month goes out as the trainer left it, with both pictures, once.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn the_month_is_looked_over_and_sent_once(pool: Pool) {
    let (world, visitor) = trained(&pool).await;
    let path = format!("/clients/{}/review/month", world.client);
    let page = visitor.get(&path).await;
    assert!(page.text.contains("2 sets and 24 repetitions"), "{}", page.text);
    let id = page.hidden("id");
    let empty = visitor.post(&path, &[("id", &id), ("text", " ")]).await;
    assert_refused(&empty, "an empty message is not sent", "");
    let long = "n".repeat(4_001);
    assert_refused(&visitor.post(&path, &[("id", &id), ("text", &long)]).await, "4001 characters, at most 4000", &long);
    for _ in 0..2 {
        let sent = visitor.post(&path, &[("id", &id), ("text", "Well done <b>you</b>")]).await;
        assert_eq!((sent.status, sent.address.as_str()), (StatusCode::OK, "/outbox"));
        assert!(sent.text.contains("Well done &#60;b&#62;you&#60;/b&#62;"), "{}", sent.text);
    }
    let messages = bavrek_store::outbox::all(&pool, world.trainer).await.unwrap();
    let [(_, message)] = &messages[..] else { panic!("{} messages", messages.len()) };
    assert!(message.pictures.iter().any(|p| p.contains("2 sets")), "{:?}", message.pictures);
}
