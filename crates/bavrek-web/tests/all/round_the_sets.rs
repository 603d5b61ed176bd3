//! What goes round the sets on the phone: the warm-up before, what is left out between, the cool-down after.

use crate::common::{Page, Visitor, desk, with};
use bavrek_core::script::WorkoutState;
use bavrek_store::slots::{self, Joining};
use bavrek_store::{Pool, workouts};
use reqwest::StatusCode;
use uuid::Uuid;

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_session_begins_warm_and_says_the_sets_on_the_way_up_once(pool: Pool) {
    let (world, me) = desk(&pool).await;
    me.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let (board, train) = (format!("/sessions/{}", world.session), format!("/sessions/{}/train", world.session));
    let begins = format!("href=\"{train}/warm-up\"");
    assert!(me.get(&board).await.text.contains(&begins));
    let warm = me.get(&format!("{train}/warm-up")).await;
    assert_eq!(warm.status, StatusCode::OK);
    for said in
        ["5 min of walking", "data-seconds=\"300\"", "bend and straighten the elbows", "Then: Standing dumbbell curl"]
    {
        assert!(warm.text.contains(said), "{said}");
    }
    let first = me.get(&train).await;
    let form = [
        ("id", first.hidden("id")),
        ("slot", world.slot.to_string()),
        ("shown", first.hidden("shown")),
        ("turn", "0".to_owned()),
        ("reps", "10".to_owned()),
    ];
    let form: Vec<(&str, &str)> = form.iter().map(|(n, v)| (*n, v.as_str())).collect();
    assert_eq!(me.post(&train, &form).await.status, StatusCode::OK);
    let page = me.get(&board).await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(!page.text.contains(&begins) && page.text.contains(&format!("href=\"{train}\"")));
    // Another trainer finds no warm-up.
    let other = crate::common::world(&pool, "b@bavrek.example").await;
    let theirs = me.get(&format!("/sessions/{}/train/warm-up", other.session)).await;
    assert_eq!(theirs.status, StatusCode::NOT_FOUND);
}

/// Logs a set of a slot as its page asks for it.
async fn log_one(me: &Visitor, train: &str, slot: Uuid) -> Page {
    let page = me.get(&format!("{train}?slot={slot}")).await;
    let form = [
        ("id", page.hidden("id")),
        ("slot", slot.to_string()),
        ("shown", page.hidden("shown")),
        ("turn", page.hidden("turn")),
        ("reps", "10".to_owned()),
    ];
    let form: Vec<(&str, &str)> = form.iter().map(|(n, v)| (*n, v.as_str())).collect();
    me.post(train, &form).await
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_is_left_out_is_passed_over_told_and_can_be_taken_up_again(pool: Pool) {
    let (world, me) = desk(&pool).await;
    let intent = slots::one(&pool, world.trainer, world.slot).await.unwrap().slot.intent;
    let second = bavrek_store::new_id();
    slots::add(&pool, world.trainer, world.session, second, &intent, Joining::Alone).await.unwrap();
    for (slot, exercise) in [(world.slot, "dumbbell_curl"), (second, "hammer_curl")] {
        me.post(&format!("/slots/{slot}/fit"), &[("exercise", exercise)]).await;
    }
    let train = format!("/sessions/{}/train", world.session);
    assert!(me.get(&train).await.text.contains("<h1>Standing dumbbell curl</h1>"));
    let (id, slot) = (bavrek_store::new_id().to_string(), world.slot.to_string());
    let form = [("id", id.as_str()), ("slot", &slot), ("reason", "no time")];
    for _ in 0..2 {
        let page = me.post(&format!("{train}/skip"), &form).await;
        assert!(page.text.contains("<h1>Dumbbell curl, neutral grip</h1>"), "the next one comes");
        assert!(page.text.contains("Left out today") && page.text.contains(", no time"));
    }
    let state = || async { workouts::of_session(&pool, world.trainer, world.session).await.unwrap()[0].state };
    assert_eq!(state().await, WorkoutState::Planned);
    // With the rest done the workout is done; taken up again it goes on.
    for _ in 0..2 {
        assert_eq!(log_one(&me, &train, second).await.status, StatusCode::OK);
    }
    let done = me.get(&train).await;
    assert!(done.text.contains("All is logged but what was left out.") && done.text.contains("Cool down"));
    assert_eq!(state().await, WorkoutState::Done);
    let again = me.post(&format!("{train}/take-up"), &[("slot", &slot)]).await;
    assert!(again.text.contains("<h1>Standing dumbbell curl</h1>") && !again.text.contains("Left out today"));
    assert_eq!(state().await, WorkoutState::UnderWay);
    // Too long a reason is named; nobody leaves out what is another's.
    let long = "x".repeat(121);
    let refused = me.post(&format!("{train}/skip"), &with(&form, &[("reason", &long)])).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("at most 120 characters"));
    let other = crate::common::world(&pool, "b@bavrek.example").await;
    let theirs = me.post(&format!("{train}/skip"), &with(&form, &[("slot", &other.slot.to_string())])).await;
    assert_eq!(theirs.status, StatusCode::NOT_FOUND);
    let count = sqlx::query_scalar::<_, i64>("select count(*) from skips").fetch_one(&pool).await.unwrap();
    assert_eq!(count, 1, "what was taken up again stays on record, and nothing else was added");
}
