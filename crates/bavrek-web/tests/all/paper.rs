//! Workouts on paper over HTTP, read from the documents themselves.

use crate::common::lines::take;
use crate::common::phones::Phone;
use crate::common::{Visitor, desk};
use bavrek_store::limits::{self, DatedLimit};
use bavrek_store::{Pool, new_id, places, workouts};
use chrono::NaiveDate;
use lopdf::Document;
use reqwest::StatusCode;

/// A document's pages, each as its text without spaces.
async fn pages(visitor: &Visitor, path: &str) -> Vec<String> {
    let answer = visitor.stream(path).await;
    assert_eq!(answer.status(), StatusCode::OK, "{path}");
    assert_eq!(answer.headers()["content-type"], "application/pdf");
    let document = Document::load_mem(&answer.bytes().await.unwrap()).expect("it is a PDF");
    let close = |text: String| text.split_whitespace().collect::<String>();
    document.get_pages().into_keys().map(|n| close(document.extract_text(&[n]).unwrap())).collect()
}

fn day(text: &str) -> NaiveDate {
    text.parse().unwrap()
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_session_is_printed_with_what_comes_next(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    let path = format!("/sessions/{}/sheet", world.session);
    let page = visitor.get(&path).await;
    assert!(page.text.contains("In the coming weeks:"), "{}", page.text);
    assert!(page.text.contains("1 s for the effort, 2 s for the way back"), "{}", page.text);
    let printed = pages(&visitor, &format!("{path}.pdf")).await;
    assert_eq!(printed.len(), 1);
    for what in ["1.Standingdumbbellcurl", "18–12", "28–12", "Inthecomingweeks:", "Setup:", "Cooldown:"] {
        assert!(printed[0].contains(what), "{what}: {}", printed[0]);
    }
    let refused = visitor.get(&format!("{path}.pdf?size=a5")).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("a4 or letter"), "{}", refused.text);
    // The client has the same by the link, as long as it opens.
    let phone = Phone::of(&visitor.base(), &visitor, &world).await;
    let by_link = pages(&phone.visitor, &format!("/go/{}/{}/sheet.pdf", phone.link, phone.session)).await;
    assert_eq!(by_link, printed);
}

/// Where nothing may rise the sheet says so, and names no heavier step.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_may_not_rise_is_printed_with_its_reason(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    let path = format!("/sessions/{}/sheet", world.session);
    let rises = visitor.get(&path).await.text;
    assert!(rises.contains("one further: pair of"), "{rises}");
    let rule = serde_json::json!({ "joint": "elbow", "what": "pain_loaded", "side": "left", "severity": "moderate" });
    let limit = DatedLimit {
        id: new_id(),
        rule: serde_json::from_value(rule).unwrap(),
        since: day("2026-03-01"),
        until: None,
        note: String::new(),
    };
    limits::add(&pool, world.trainer, world.client, &limit).await.unwrap();
    let spared = visitor.get(&path).await.text;
    assert!(spared.contains("a joint is spared here") && !spared.contains("one further"), "{spared}");
    sqlx::query("update workouts set light = true").execute(&pool).await.unwrap();
    let light = visitor.get(&path).await.text;
    assert!(light.contains("this week is lighter") && !light.contains("one further"), "{light}");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_booklet_holds_the_workouts_of_its_week(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    for on in ["2026-03-17", "2026-03-19", "2026-03-24"] {
        workouts::plan(&pool, world.trainer, world.session, new_id(), day(on)).await.unwrap();
    }
    let week = pages(&visitor, &format!("/clients/{}/booklet.pdf?week=2026-03-18", world.client)).await;
    assert_eq!(week.len(), 2, "a page that says when, and one workout that is done twice");
    assert!(week[0].contains("Weekof16March2026"), "{}", week[0]);
    for day in ["Tue17Mar2026:", "Thu19Mar2026:"] {
        assert!(week[0].contains(day), "{}", week[0]);
    }
    assert!(!week[0].contains("24Mar"), "{}", week[0]);
    assert!(week[1].contains("Tue17Mar2026,Thu19Mar2026"), "{}", week[1]);
    // What is done elsewhere or in a lighter week is another sheet.
    let hotel = new_id();
    places::add(&pool, world.trainer, world.client, hotel, "Hotel", None).await.unwrap();
    let moved = "update workouts set place_id = $1 where planned_on = '2026-03-19'";
    sqlx::query(moved).bind(hotel).execute(&pool).await.unwrap();
    let week = pages(&visitor, &format!("/clients/{}/booklet.pdf?week=2026-03-18", world.client)).await;
    assert_eq!(week.len(), 3);
    assert!(week[0].contains("Thu19Mar2026:Session,Hotel"), "{}", week[0]);
    assert!(week[1].contains("Room·Tue17Mar2026") && week[2].contains("Hotel·Thu19Mar2026"), "{} {}", week[1], week[2]);
    for far in ["-262143-01-01", "9999-12-31"] {
        let refused = visitor.get(&format!("/clients/{}/booklet.pdf?week={far}", world.client)).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{far}");
    }
    // A plan's booklet has all that is still to come.
    let plan = pages(&visitor, &format!("/clients/{}/plan/booklet.pdf?size=letter", world.client)).await;
    assert!(plan[0].contains("Tue24Mar2026:"), "{}", plan[0]);
    // A week without any day prints what there is.
    let undated = pages(&visitor, &format!("/clients/{}/booklet.pdf?week=2026-06-01", world.client)).await;
    assert!(undated[0].contains("whenitsuits:"), "{}", undated[0]);
    assert_eq!(undated.len(), 2);
}
