//! Health and limits over HTTP: a yes stops new plans until it is cleared, and a limit is kept with its history.

use crate::common::{LIMIT, PROFILE, Page, Refusal, Visitor, answers, assert_refused, desk, now, with};
use bavrek_store::{Pool, health, limits, new_id, put_aside};
use reqwest::StatusCode;
use uuid::Uuid;

async fn screen(visitor: &Visitor, client: Uuid, yes: Option<&str>, changed: &[(&str, &str)]) -> Page {
    let id = new_id().to_string();
    let answers = answers(yes);
    let usual: Vec<(&str, &str)> = answers.iter().map(|(n, v)| (n.as_str(), v.as_str())).collect();
    let usual = with(&usual, &[("id", id.as_str()), ("on", "2026-03-10")]);
    visitor.post(&format!("/clients/{client}/health"), &with(&usual, changed)).await
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_yes_puts_a_banner_everywhere_and_stops_new_fits_until_cleared(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let fit = format!("/slots/{}/fit", world.slot);
    let curl = [("exercise", "dumbbell_curl")];
    assert_eq!(screen(&visitor, world.client, None, &[]).await.address, format!("/clients/{}/limits", world.client));
    assert_eq!(visitor.post(&fit, &curl).await.status, StatusCode::OK);

    let page = screen(&visitor, world.client, Some("heart"), &[]).await;
    assert_eq!(page.address, format!("/clients/{}/health", world.client), "it stays to take the clearance");
    let about = ["", "/profile", "/health", "/limits", "/places", "/aims", "/strength", "/notes"];
    let mut pages: Vec<String> = about.iter().map(|tail| format!("/clients/{}{tail}", world.client)).collect();
    pages.push(format!("/sessions/{}", world.session));
    pages.push(format!("/sessions/{}/train", world.session));
    pages.push(format!("/slots/{}/bench", world.slot));
    pages.push(format!("/slots/{}/call", world.slot));
    pages.push(format!("/rig?slot={}", world.slot));
    pages.push(format!("/rig?client={}", world.client));
    for path in &pages {
        let page = visitor.get(path).await;
        assert!(page.text.contains("No new plans until a clearance is recorded"), "{path}");
    }
    let refused = visitor.post(&fit, &[("exercise", "hammer_curl")]).await;
    assert_refused(&refused, "New plans wait for a clearance", "Record the clearance");

    let screening = health::of_client(&pool, world.trainer, world.client).await.unwrap()[0].id;
    let path = format!("/clients/{}/health/{screening}/clearance", world.client);
    let id = new_id().to_string();
    let usual = [("id", id.as_str()), ("given_by", "the heart practice"), ("given_on", "2026-03-09")];
    let cases: &[Refusal<'_>] = &[
        (&[("given_by", "")], "Given by: is needed", "2026-03-09"),
        (&[("given_on", "2026-03-11")], "Wed 11 Mar 2026 is in the future", "the heart practice"),
        (&[("given_on", "soon")], "is no day", "the heart practice"),
    ];
    for (changed, says, keeps) in cases {
        assert_refused(&visitor.post(&path, &with(&usual, changed)).await, says, keeps);
    }
    assert_eq!(visitor.post(&path, &usual).await.status, StatusCode::OK);
    for path in &pages {
        assert!(!visitor.get(path).await.text.contains("No new plans until"), "{path}");
    }
    assert_eq!(visitor.post(&fit, &[("exercise", "hammer_curl")]).await.status, StatusCode::OK);
    assert!(visitor.get(&pages[2]).await.text.contains("cleared by the heart practice, yesterday"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_screening_is_answered_whole_and_not_in_the_future(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let page = screen(&visitor, world.client, Some("chest"), &[("q_nerve", "")]).await;
    assert_refused(&page, "Answer yes or no", "name=\"q_chest\" value=\"yes\" checked");
    let page = screen(&visitor, world.client, None, &[("on", "2026-03-11")]).await;
    assert_refused(&page, "Wed 11 Mar 2026 is in the future; today is Tue 10 Mar 2026", "2026-03-11");
    let long = "n".repeat(6000);
    let page = screen(&visitor, world.client, None, &[("note", &long)]).await;
    assert_refused(&page, "has 6000 characters", &long);
    assert!(health::of_client(&pool, world.trainer, world.client).await.unwrap().is_empty());
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn somebody_under_age_is_never_alone(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    for (field, value, told) in
        [("age_band", "under_18", true), ("birth_year", "2010", true), ("birth_year", "1990", false)]
    {
        let id = new_id().to_string();
        visitor.post("/clients", &with(&PROFILE, &[("id", &id), (field, value)])).await;
        let page = visitor.get(&format!("/clients/{id}")).await;
        assert_eq!(page.text.contains("an adult is present at every session"), told, "{field} {value}");
    }
    let _ = world;
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn limits_are_recorded_changed_ended_removed_and_brought_back(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/limits", world.client);
    let id = new_id().to_string();
    for _ in 0..2 {
        let page = visitor.post(&path, &with(&LIMIT, &[("id", &id), ("note", "since <i>spring</i>")])).await;
        assert_eq!(page.status, StatusCode::OK);
        assert!(page.text.contains("left shoulder: pain overhead (severe)") && page.text.contains("rules out"));
        assert!(!page.text.contains("<i>spring"));
    }
    let second = new_id().to_string();
    let milder = with(&LIMIT, &[("id", &second), ("change", &id), ("severity", "mild")]);
    assert!(visitor.get(&format!("{path}?change={id}")).await.text.contains("Change the limit"));
    assert_eq!(visitor.post(&path, &milder).await.status, StatusCode::OK);
    // The other window still shows the severe one.
    let third = new_id().to_string();
    let page = visitor.post(&path, &with(&LIMIT, &[("id", &third), ("change", &id), ("side", "right")])).await;
    assert_eq!(page.status, StatusCode::CONFLICT);
    assert!(page.text.contains("now it is left shoulder: pain overhead (mild)"));
    assert!(page.text.contains("saved meanwhile: left") && page.text.contains("saved meanwhile: mild"));

    let page = visitor.post(&format!("{path}/{second}/remove"), &[]).await;
    assert!(
        page.text.contains("Undo") && limits::of_client(&pool, world.trainer, world.client).await.unwrap().is_empty()
    );
    visitor.post(&format!("{path}/{second}/restore"), &[]).await;
    let ended = new_id().to_string();
    for _ in 0..2 {
        let page = visitor.post(&format!("{path}/{second}/end"), &[("id", &ended)]).await;
        assert!(page.text.contains("History") && page.text.contains("Sun 1 Mar to yesterday"));
    }
    let stand = limits::of_client(&pool, world.trainer, world.client).await.unwrap();
    assert_eq!(stand.iter().map(|l| l.in_force(now().date_naive())).collect::<Vec<_>>(), [false]);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_limit_is_refused_beside_its_field(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/limits", world.client);
    let id = new_id().to_string();
    let long = "n".repeat(5001);
    let cases: &[Refusal<'_>] = &[
        (&[("joint", "")], "Joint: choose one", "pain_overhead\" selected"),
        (&[("what", "itches")], "&#34;itches&#34; is none of the choices", "shoulder\" selected"),
        (&[("severity", "")], "Severity: choose one", "shoulder\" selected"),
        (&[("since", "2026-03-11")], "Wed 11 Mar 2026 is in the future", "value=\"2026-03-11\""),
        (&[("since", "")], "From: is needed", "shoulder\" selected"),
        (&[("until", "2026-02-01")], "lies before the first day, Sun 1 Mar", "value=\"2026-02-01\""),
        (&[("note", &long)], "has 5001 characters", &long),
    ];
    for (changed, says, keeps) in cases {
        assert_refused(&visitor.post(&path, &with(&with(&LIMIT, &[("id", &id)]), changed)).await, says, keeps);
    }
    assert!(limits::of_client(&pool, world.trainer, world.client).await.unwrap().is_empty());
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_limit_is_seen_where_it_changes_what_fits(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let bench = format!("/slots/{}/bench", world.slot);
    let before = visitor.get(&bench).await;
    assert!(before.status == StatusCode::OK && !before.text.contains("Limits "));
    let id = new_id().to_string();
    let wrist = [("id", id.as_str()), ("joint", "wrist"), ("what", "pain_gripping"), ("severity", "severe")];
    visitor.post(&format!("/clients/{}/limits", world.client), &with(&LIMIT, &wrist)).await;
    let page = visitor.get(&bench).await;
    assert!(page.text.contains("Limits rule out") && page.text.contains("left wrist: pain when gripping (severe)"));
    // What rules nothing out is not said to rule out some.
    let other = new_id().to_string();
    let milder = with(&wrist, &[("change", &id), ("id", &other), ("severity", "mild")]);
    let limits = visitor.post(&format!("/clients/{}/limits", world.client), &with(&LIMIT, &milder)).await;
    assert!(limits.text.contains("rule out no movement of the catalogue"), "{}", limits.text);
    assert!(limits.text.contains("counts against") && !limits.text.contains(" 0 movement"), "{}", limits.text);
    assert!(visitor.get(&bench).await.text.contains("Limits count against "));
}

/// A single movement is left out by its name: shown with its reason, missing from every choice, and taken back.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_single_movement_is_left_out_and_taken_back(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/limits", world.client);
    for (name, reason, says) in [
        ("", "clicks", "Movement: is needed"),
        ("Standing dumbbell curl", "", "is needed"),
        ("press", "clicks", "which one is"),
        ("standing dumbbel crul", "clicks", "near it"),
    ] {
        let page = visitor.post(&format!("{path}/movement"), &[("movement", name), ("reason", reason)]).await;
        assert_refused(&page, says, if name.is_empty() { reason } else { name });
    }
    assert!(put_aside::of_client(&pool, world.trainer, world.client).await.unwrap().is_empty());
    let fields = [("movement", "standing dumbbell curls"), ("reason", "the left elbow clicks")];
    let page = visitor.post(&format!("{path}/movement"), &fields).await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(page.text.contains("the left elbow clicks") && page.text.contains("Take back Standing dumbbell curl"));
    let aside = put_aside::of_client(&pool, world.trainer, world.client).await.unwrap();
    assert_eq!(aside.iter().map(|a| a.exercise.as_str()).collect::<Vec<_>>(), ["dumbbell_curl"]);
    let page = visitor.post(&format!("{path}/movement/back"), &[("movement", "dumbbell_curl")]).await;
    assert!(page.text.contains("None by itself"), "{}", page.text);
}
