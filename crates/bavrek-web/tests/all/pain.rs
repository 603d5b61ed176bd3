//! Pain over HTTP: asked with its place, it stops the movement, opens what does not hurt, and is remembered.

use crate::common::{Page, Visitor, World, desk, now, start};
use bavrek_core::anatomy::Joint;
use bavrek_core::kit::KitItem;
use bavrek_core::person::Side;
use bavrek_store::{Pool, kit, log, new_id, pains, sessions};
use reqwest::StatusCode;

/// A desk whose slot is done with dumbbell curls, and a set that hurts.
async fn curling(pool: &Pool) -> (World, Visitor) {
    let (world, visitor) = desk(pool).await;
    visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    (world, visitor)
}

async fn log_set(world: &World, visitor: &Visitor, fields: &[(&str, &str)]) -> Page {
    let (slot, id) = (world.slot.to_string(), new_id().to_string());
    let base = [("id", id.as_str()), ("slot", slot.as_str()), ("reps", "8"), ("rir", "2")];
    visitor.post(&format!("/sessions/{}/train", world.session), &[&base, fields].concat()).await
}

async fn told(pool: &Pool, world: &World) -> Vec<bavrek_core::spot::Pain> {
    pains::of_client(pool, world.trainer, world.client, now().date_naive()).await.unwrap()
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn pain_of_four_stops_the_movement_and_opens_what_does_not_hurt(pool: Pool) {
    let (world, visitor) = curling(&pool).await;
    let train = format!("/sessions/{}/train", world.session);
    // Where it hurts is needed, and what was typed stays.
    let asked = log_set(&world, &visitor, &[("pain", "6")]).await;
    assert_eq!(asked.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(asked.text.contains("say where it hurts") && asked.text.contains("<option value=\"6\" selected>"));
    assert_eq!(log::count_all(&pool, world.trainer, world.client).await.unwrap(), 0);
    let hurt = [("pain", "6"), ("pain_at", "elbow"), ("pain_side", "left")];
    let page = log_set(&world, &visitor, &hurt).await;
    assert_eq!((page.status, page.address), (StatusCode::OK, format!("/slots/{}/spot", world.slot)));
    assert!(page.text.contains("left elbow hurts, 6 of 10"));
    assert!(!page.text.contains("value=\"dumbbell_curl\""), "what hurt is not offered again");
    // The movement is over for today, even asked for by its address; the set is on record.
    let page = visitor.get(&train).await;
    assert!(page.text.contains("Session done") && page.text.contains("Stopped because it hurt"));
    let page = visitor.get(&format!("{train}?slot={}", world.slot)).await;
    assert!(page.text.contains("this movement is stopped for today") && !page.text.contains("name=\"reps\""));
    let sets = log::of_client(&pool, world.trainer, world.client, now().date_naive()).await.unwrap();
    assert_eq!(
        (sets[0].set.pain, sets[0].set.pain_at, sets[0].set.pain_side),
        (Some(6), Some(Joint::Elbow), Some(Side::Left))
    );
    // A tap in error is corrected, and the movement goes on.
    let old = sets[0].id.to_string();
    log_set(&world, &visitor, &[("supersedes", &old), ("pain", "0")]).await;
    assert!(told(&pool, &world).await.is_empty());
    assert!(visitor.get(&train).await.text.contains("name=\"reps\""));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn mild_pain_is_logged_and_stops_nothing(pool: Pool) {
    let (world, visitor) = curling(&pool).await;
    let page = log_set(&world, &visitor, &[("pain", "3")]).await;
    assert_eq!((page.status, page.address), (StatusCode::OK, format!("/sessions/{}/train", world.session)));
    assert!(page.text.contains("name=\"reps\"") && told(&pool, &world).await.is_empty());
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn stopping_in_the_middle_of_a_set_needs_no_count(pool: Pool) {
    let (world, visitor) = curling(&pool).await;
    let slot = world.slot.to_string();
    let send = |fields: Vec<(&'static str, &'static str)>| {
        let (visitor, slot, id) = (&visitor, slot.clone(), new_id().to_string());
        let path = format!("/sessions/{}/train", world.session);
        async move {
            let base = [("id", id.as_str()), ("slot", slot.as_str()), ("stop", "1")];
            visitor.post(&path, &[&base[..], &fields].concat()).await
        }
    };
    let refused = send(vec![("pain_at", "wrist")]).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("say how strong"));
    let page = send(vec![("pain", "5"), ("pain_at", "wrist")]).await;
    assert_eq!(page.address, format!("/slots/{}/spot", world.slot));
    assert!(page.text.contains("wrist hurts, 5 of 10"));
    let sets = log::of_client(&pool, world.trainer, world.client, now().date_naive()).await.unwrap();
    assert_eq!((sets.len(), sets[0].set.reps), (1, Some(0)));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn pain_is_flagged_everywhere_until_it_is_settled(pool: Pool) {
    let (world, visitor) = curling(&pool).await;
    log_set(&world, &visitor, &[("pain", "8"), ("pain_at", "elbow"), ("pain_side", "right")]).await;
    let client = world.client;
    let pages = [
        format!("/clients/{client}"),
        format!("/clients/{client}/profile"),
        format!("/clients/{client}/limits"),
        format!("/clients/{client}/places"),
        format!("/clients/{client}/aims"),
        format!("/clients/{client}/strength"),
        format!("/clients/{client}/health"),
        format!("/clients/{client}/notes"),
        format!("/sessions/{}", world.session),
        format!("/slots/{}/bench", world.slot),
        format!("/slots/{}/ladder", world.slot),
        format!("/slots/{}/call", world.slot),
        format!("/sessions/{}/train", world.session),
        format!("/slots/{}/spot", world.slot),
        format!("/rig?slot={}", world.slot),
    ];
    for path in &pages {
        let page = visitor.get(path).await;
        assert_eq!(page.status, StatusCode::OK, "{path}");
        assert!(page.text.contains("it hurt (right elbow, 8 of 10) in Standing dumbbell curl, today."), "{path}");
    }
    // Curls load the elbow: at eight of ten none is proposed, and the bench says why.
    let bench = visitor.get(&format!("/slots/{}/bench", world.slot)).await;
    assert!(bench.text.contains("right elbow: pain under load (severe)") && !bench.text.contains("pick=hammer_curl"));
    // Another trainer can neither see nor settle it.
    let (theirs, base) = (crate::common::world(&pool, "b@bavrek.example").await, start(pool.clone()).await);
    let other = Visitor::signed_in(&base, "b@bavrek.example").await;
    let settle = format!("/clients/{client}/limits/settle");
    let id = new_id().to_string();
    let refused = other.post(&settle, &[("id", &id), ("joint", "elbow")]).await;
    assert_eq!(refused.status, StatusCode::NOT_FOUND);
    assert_eq!(told(&pool, &world).await.len(), 1);
    assert!(told(&pool, &theirs).await.is_empty());
    assert_eq!(visitor.post(&settle, &[("id", &id), ("joint", "soul")]).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    let page = visitor.post(&settle, &[("id", &id), ("joint", "elbow")]).await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(!page.text.contains("it hurt (") && told(&pool, &world).await.is_empty());
    let bench = visitor.get(&format!("/slots/{}/bench", world.slot)).await;
    assert!(bench.status == StatusCode::OK && bench.text.contains("pick=hammer_curl"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_limit_for_the_joint_takes_over(pool: Pool) {
    let (world, visitor) = curling(&pool).await;
    log_set(&world, &visitor, &[("pain", "5"), ("pain_at", "elbow"), ("pain_side", "right")]).await;
    let limits = format!("/clients/{}/limits", world.client);
    let form = visitor.get(&format!("{limits}?joint=elbow&side=right")).await;
    assert!(form.text.contains("<option value=\"pain_loaded\" selected>"));
    let (id, day) = (new_id().to_string(), now().date_naive().to_string());
    let fields = [
        ("id", id.as_str()),
        ("joint", "elbow"),
        ("what", "pain_loaded"),
        ("side", "right"),
        ("severity", "mild"),
        ("since", &day),
    ];
    let page = visitor.post(&limits, &fields).await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(told(&pool, &world).await.is_empty() && page.text.contains("right elbow: pain under load (mild)"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_hurt_in_a_swap_is_remembered_by_the_next_session(pool: Pool) {
    let (world, visitor) = curling(&pool).await;
    // Something that does the job and does not load the wrist much.
    let band: KitItem = serde_json::from_str(r#"{"kind":"anchor","heights_m":[0.1,1.1,2.0],"door":null}"#).unwrap();
    kit::add(&pool, world.trainer, world.place, new_id(), &band).await.unwrap();
    let spot = format!("/slots/{}/spot", world.slot);
    let page = visitor.get(&format!("{spot}?hurts=elbow&side=left")).await;
    let exercise = page.hidden("exercise");
    let id = new_id().to_string();
    let fields = [("id", id.as_str()), ("hurts", "elbow"), ("side", "left"), ("exercise", &exercise)];
    assert_eq!(visitor.post(&spot, &fields).await.status, StatusCode::OK);
    let pains = told(&pool, &world).await;
    assert_eq!((pains.len(), pains[0].joint, pains[0].side), (1, Some(Joint::Elbow), Some(Side::Left)));
    // The next session is on another day, with the plan's own movement; it knows.
    let later = start_on(&pool, 3).await;
    let visitor = visitor.through(&later);
    let page = visitor.get(&format!("/sessions/{}/train?slot={}", world.session, world.slot)).await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(page.text.contains("Left elbow hurt") && page.text.contains("a light set first"), "{}", page.text);
    assert!(page.text.contains("name=\"reps\""), "a new day starts the movement again");
    // After four weeks it is past.
    let much_later = start_on(&pool, 40).await;
    let page = visitor.through(&much_later).get(&format!("/clients/{}", world.client)).await;
    assert!(page.status == StatusCode::OK && !page.text.contains("it hurt ("));
    assert_eq!(sessions::head(&pool, world.trainer, world.session).await.unwrap().place_id, world.place);
}

async fn start_on(pool: &Pool, days: i64) -> String {
    crate::common::start_at(pool.clone(), now() + chrono::Duration::days(days)).await
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn every_joint_can_be_told_and_wrong_words_are_refused(pool: Pool) {
    let (world, visitor) = curling(&pool).await;
    let spot = format!("/slots/{}/spot", world.slot);
    let page = visitor.get(&spot).await;
    for joint in Joint::ALL {
        assert!(page.text.contains(&format!("hurts={}", joint.id())), "{joint}");
        let answered = visitor.get(&format!("{spot}?hurts={}", joint.id())).await;
        assert_eq!(answered.status, StatusCode::OK, "{joint}");
        assert!(answered.text.contains("Instead, right now"), "{joint}");
    }
    for wrong in ["hurts=soul", "hurts=elbow&side=top", "hurts=elbow&pain=11", "hurts=elbow&pain=much"] {
        assert_eq!(visitor.get(&format!("{spot}?{wrong}")).await.status, StatusCode::UNPROCESSABLE_ENTITY, "{wrong}");
    }
}
