//! What goes round the sets on the phone: the warm-up before, what is left out between, the cool-down after.

use crate::common::phones::at_work;
use crate::common::{Page, Visitor, desk, with};
use bavrek_core::plan::Intent;
use bavrek_core::script::WorkoutState;
use bavrek_store::slots::{self, Joining};
use bavrek_store::{Pool, workouts};
use reqwest::StatusCode;
use serde_json::json;
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

/// Any one of two lines that may be left out is enough, after what is always done; the other is left out without a word and is not missed.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn enough_of_what_may_be_left_out_ends_the_workout(pool: Pool) {
    let (world, me) = desk(&pool).await;
    let intent = slots::one(&pool, world.trainer, world.slot).await.unwrap().slot.intent;
    let (train, board) = (format!("/sessions/{}/train", world.session), format!("/sessions/{}", world.session));
    me.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let mut may = Vec::new();
    for (exercise, wanted) in [("hammer_curl", 1), ("elbows_back_curl", 0)] {
        let (slot, intent) = (bavrek_store::new_id(), Intent { optional: Some(wanted), ..intent.clone() });
        slots::add(&pool, world.trainer, world.session, slot, &intent, Joining::Alone).await.unwrap();
        me.post(&format!("/slots/{slot}/fit"), &[("exercise", exercise)]).await;
        may.push(slot);
    }
    let page = me.get(&board).await;
    assert!(page.text.contains("optional, any one such line is enough") && page.text.contains(">optional; "));
    let form = me.get(&format!("/slots/{}/intent", may[0])).await;
    assert!(form.text.contains("<option value=\"1\" selected>optional, any one such line is enough</option>"));

    let state = || async { workouts::of_session(&pool, world.trainer, world.session).await.unwrap()[0].state };
    for _ in 0..2 {
        assert_eq!(log_one(&me, &train, world.slot).await.status, StatusCode::OK);
    }
    let next = me.get(&train).await;
    assert!(next.text.contains("<h1>Dumbbell curl, neutral grip</h1>") && !next.text.contains("Enough is done"));
    assert_eq!(state().await, WorkoutState::UnderWay, "none of the two is done");
    for _ in 0..2 {
        log_one(&me, &train, may[0]).await;
    }
    assert_eq!(state().await, WorkoutState::Done);
    let offered = me.get(&train).await;
    assert!(offered.text.contains("Enough is done for today"), "the other one is still there: {}", offered.text);
    // Half of it is no less than nothing; then it is left out.
    log_one(&me, &train, may[1]).await;
    assert_eq!(state().await, WorkoutState::Done);
    for _ in 0..2 {
        let left = me.post(&format!("{train}/enough"), &[]).await;
        assert!(left.text.contains("Session done") && left.text.contains("All is logged but what was left out"));
    }
    let skips = sqlx::query_scalar::<_, Uuid>("select slot_id from skips").fetch_all(&pool).await.unwrap();
    assert_eq!(skips, [may[1]], "once, and nothing of what is always done");
    let other = crate::common::world(&pool, "b@bavrek.example").await;
    let theirs = me.post(&format!("/sessions/{}/train/enough", other.session), &[]).await;
    assert_eq!(theirs.status, StatusCode::NOT_FOUND);
}

/// The phone is told what may be left out, and takes that without a reason.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_phone_knows_what_may_be_left_out(pool: Pool) {
    let (world, me, phone) = at_work(&pool, "2 x 8-12").await;
    let asked = phone.pack().await;
    assert!(asked["stations"][0]["optional"].is_null());
    let form = me.get(&format!("/slots/{}/intent", world.slot)).await;
    let typed = [
        ("version", form.hidden("version")),
        ("pattern", "elbow_flexion".to_owned()),
        ("region_biceps_long", "1".to_owned()),
        ("line", "2 x 8-12".to_owned()),
        ("optional", "3".to_owned()),
    ];
    let typed: Vec<(&str, &str)> = typed.iter().map(|(n, v)| (*n, v.as_str())).collect();
    let wrong = me.post(&format!("/slots/{}/intent", world.slot), &with(&typed, &[("optional", "99")])).await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY, "{}", wrong.text);
    let saved = me.post(&format!("/slots/{}/intent", world.slot), &typed).await;
    assert_eq!(saved.status, StatusCode::OK, "{}", saved.text);
    assert_eq!(phone.pack().await["stations"][0]["optional"], json!([3, "optional, any 3 such lines are enough"]));
    let sheet = me.get(&format!("/sessions/{}/sheet", world.session)).await;
    assert!(sheet.text.contains("; optional, any 3 such lines are enough"), "{}", sheet.text);
    let (_, (state, why)) = phone.say(&json!({ "kind": "skip", "slot": world.slot, "reason": "" })).await;
    assert_eq!((state.as_str(), why.as_str()), ("taken", ""));
}
