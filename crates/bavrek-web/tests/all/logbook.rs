//! The log of a day for the trainer: typed in from paper, corrected, taken back, with what was said first; and the paper itself.

use crate::common::lines::{slot, take};
use crate::common::{Page, Visitor, World, assert_refused, desk, now};
use bavrek_core::person::Side;
use bavrek_core::script::WorkoutState;
use bavrek_store::slots::Joining;
use bavrek_store::{Pool, log, workouts};
use reqwest::StatusCode;

/// The hidden fields of the grid as the page has them, with what is typed into rows.
pub(crate) fn filled<'a>(page: &'a Page, typed: &[(&'a str, &'a str)]) -> Vec<(&'a str, &'a str)> {
    let form = page.text.split("data-grid").nth(1).unwrap().split("</form>").next().unwrap();
    let mut fields: Vec<(&str, &str)> = form
        .split("<input type=\"hidden\" name=\"")
        .skip(1)
        .filter_map(|input| {
            let (name, rest) = input.split_once('"')?;
            let value = rest.split("value=\"").nth(1)?.split('"').next()?;
            (name != "csrf").then_some((name, value))
        })
        .collect();
    fields.extend(typed);
    fields
}

async fn grid(pool: &Pool) -> (World, Visitor, String) {
    let (world, visitor) = desk(pool).await;
    take(pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    slot(pool, &world, "one_arm_dumbbell_curl", "1 x 8-12", Joining::Alone).await;
    slot(pool, &world, "dumbbell_curl", "1 x 30 s", Joining::Alone).await;
    let path = format!("/sessions/{}/log", world.session);
    (world, visitor, path)
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_day_is_typed_in_and_stands_on_its_day(pool: Pool) {
    let (world, visitor, path) = grid(&pool).await;
    let page = visitor.get(&format!("{path}?on=2026-03-07")).await;
    assert!(page.text.contains("Log of Sat 7 Mar"), "{}", page.text);
    // One set is left empty: it was not done.
    let typed =
        [("reps_0", "10"), ("rir_0", "2"), ("reps_2", "9"), ("reps_3", "8"), ("rir_3", "0"), ("seconds_4", "35")];
    let fields = filled(&page, &typed);
    for _ in 0..2 {
        // Sent twice it is logged once.
        let page = visitor.post(&path, &fields).await;
        assert_eq!((page.status, page.address.as_str()), (StatusCode::OK, path.as_str()));
    }
    let records = log::of_client(&pool, world.trainer, world.client, now().date_naive()).await.unwrap();
    let what: Vec<_> = records.iter().map(|r| (r.set.reps, r.set.seconds, r.set.rir, r.set.side)).collect();
    let expected = [
        (Some(10), None, Some(2), None),
        (Some(9), None, None, Some(Side::Left)),
        (Some(8), None, Some(0), Some(Side::Right)),
        (None, Some(35), None, None),
    ];
    assert_eq!(what, expected);
    assert!(records.iter().all(|r| r.set.date.to_string() == "2026-03-07"));
    // No rest is read off that nobody measured.
    assert!(records.iter().all(|r| r.done_at == records[0].done_at));
    let days = workouts::of_session(&pool, world.trainer, world.session).await.unwrap();
    let state = |on: &str| days.iter().find(|d| d.on.to_string() == on).map(|d| d.state);
    assert_eq!(state("2026-03-07"), Some(WorkoutState::UnderWay), "a set of it is still open");
    let page = visitor.get(&format!("{path}?on=2026-03-07")).await;
    assert!(
        page.text.contains("set 2: 8–12") && !page.text.contains("set 1: 8–12"),
        "what is logged is not asked again"
    );
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn one_wrong_row_stops_all_of_them_and_keeps_what_was_typed(pool: Pool) {
    let (world, visitor, path) = grid(&pool).await;
    let page = visitor.get(&path).await;
    for (typed, says) in [
        (vec![("reps_0", "10"), ("reps_1", "lots")], "Curl, set 2: Reps: must be a whole number from 0 to 100"),
        (vec![("reps_0", "10"), ("rir_0", "9")], "Curl, set 1: Left in the tank: must be a whole number from 0 to 6"),
        (vec![("reps_0", "10"), ("seconds_4", "0")], "Curl, set 1: Seconds: must be a whole number from 1 to 900"),
        (vec![], "Nothing is filled in"),
    ] {
        let says = says.replace("Curl", "Standing dumbbell curl");
        let keeps = if typed.is_empty() { "Log what is filled in" } else { "value=\"10\"" };
        assert_refused(&visitor.post(&path, &filled(&page, &typed)).await, &says, keeps);
    }
    assert_eq!(log::count_all(&pool, world.trainer, world.client).await.unwrap(), 0);
    for on in ["2026-03-11", "2023-01-01", "soon", "2026-02-30"] {
        let page = visitor.get(&format!("{path}?on={on}")).await;
        assert_refused(&page, "Day: must be a date up to today", "Log of today");
        let fields = [("on", on), ("id_0", "x")];
        assert_eq!(visitor.post(&path, &fields).await.status, StatusCode::UNPROCESSABLE_ENTITY, "{on}");
    }
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_was_said_first_is_seen_beside_what_became_of_it(pool: Pool) {
    let (world, visitor, path) = grid(&pool).await;
    let page = visitor.get(&path).await;
    visitor.post(&path, &filled(&page, &[("reps_0", "10"), ("reps_1", "9")])).await;
    let records = log::of_client(&pool, world.trainer, world.client, now().date_naive()).await.unwrap();
    let train = format!("/sessions/{}/train", world.session);
    let first = records[0].id.to_string();
    let page = visitor.get(&format!("{train}?correct={first}")).await;
    let (id, slot, shown, turn) = (page.hidden("id"), page.hidden("slot"), page.hidden("shown"), page.hidden("turn"));
    let correction =
        [("id", &*id), ("slot", &*slot), ("shown", &*shown), ("turn", &*turn), ("supersedes", &*first), ("reps", "11")];
    assert_eq!(visitor.post(&train, &correction).await.status, StatusCode::OK);
    let second = records[1].id.to_string();
    let back = bavrek_store::new_id().to_string();
    for _ in 0..2 {
        let fields = [("on", "2026-03-10"), ("id", back.as_str()), ("set", second.as_str())];
        assert_eq!(visitor.post(&format!("{path}/take-back"), &fields).await.status, StatusCode::OK);
    }
    let page = visitor.get(&path).await;
    for line in [
        "8 kg each hand × 10, said by you, ",
        "corrected to 8 kg each hand × 11 by you, ",
        "8 kg each hand × 9, said by you, ",
        "taken back by you, ",
    ] {
        assert!(page.text.contains(line), "{line}: {}", page.text);
    }
    let stands = log::of_client(&pool, world.trainer, world.client, now().date_naive()).await.unwrap();
    assert_eq!(stands.iter().map(|r| r.set.reps).collect::<Vec<_>>(), [Some(11)]);
    assert_eq!(log::count_all(&pool, world.trainer, world.client).await.unwrap(), 4);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn the_paper_has_what_the_phone_has(pool: Pool) {
    let (world, visitor, _) = grid(&pool).await;
    let page = visitor.get(&format!("/sessions/{}/sheet", world.session)).await;
    assert_eq!(page.status, StatusCode::OK);
    for what in [
        "1. Standing dumbbell curl",
        "2. Standing dumbbell curl, one arm",
        "<b>1 left</b> 8–12",
        "<b>1 right</b> 8–12",
        "<b>1</b> 30 s",
        "Avoid:",
        "Cool down:",
        "Warm up:",
        "stops the exercise",
        "<svg",
    ] {
        assert!(page.text.contains(what), "{what}");
    }
}
