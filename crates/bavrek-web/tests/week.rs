//! A client's week over HTTP: asked for, shown as it is kept, taken once, refused with what was typed.

mod common;

use bavrek_store::{Pool, fits, new_id, sessions, weeks};
use common::{DESK, LIMIT, Page, Visitor, World, assert_refused, desk, now, start, with, world};
use reqwest::StatusCode;
use uuid::Uuid;

/// Tuesday and Friday in the world's room.
async fn ask(visitor: &Visitor, world: &World, changed: &[(&str, &str)]) -> Page {
    let (place, id) = (world.place.to_string(), new_id().to_string());
    let usual = [
        ("id", id.as_str()),
        ("place_2", place.as_str()),
        ("minutes_2", "40"),
        ("place_5", place.as_str()),
        ("minutes_5", "25 min"),
        ("school", "reserve_based"),
        ("wish", "balanced"),
    ];
    visitor.post(&format!("/clients/{}/week", world.client), &with(&usual, changed)).await
}

fn id_of(page: &Page) -> Uuid {
    page.address.rsplit('/').next().unwrap().parse().unwrap()
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_week_is_proposed_shown_again_and_taken_once_as_it_was_shown(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let form = visitor.get(&format!("/clients/{}/week", world.client)).await;
    assert_eq!(form.status, StatusCode::OK);
    assert!(form.text.contains("Propose a week") && form.text.contains("Set the aims first"));
    let shown = ask(&visitor, &world, &[]).await;
    assert_eq!(shown.status, StatusCode::OK);
    assert!(shown.address.starts_with(&format!("/clients/{}/week/", world.client)), "{}", shown.address);
    let week = id_of(&shown);
    let kept = weeks::one(&pool, world.trainer, week).await.unwrap();
    assert!(!kept.taken);
    let draft = kept.draft;
    let minutes: Vec<(u8, u16)> = draft.asked.days.iter().map(|d| (d.weekday, d.minutes)).collect();
    assert_eq!(minutes, [(2, 40), (5, 25)]);
    for (day, asked) in draft.days.iter().zip(&draft.asked.days) {
        assert!(!day.blocks.is_empty() && day.seconds <= 60.0 * f64::from(asked.minutes));
    }
    // A page that is loaded again shows the same.
    let again = visitor.get(&shown.address).await;
    let first = &draft.days[0].blocks[0].1[0];
    for page in [&shown, &again] {
        assert!(page.text.contains(&first.step.label), "{}", first.step.label);
        assert!(page.text.contains("Take this week"));
    }
    let before = sessions_of(&pool, &world).await.len();
    for _ in 0..2 {
        let taken = visitor.post(&format!("{}/take", shown.address), &[]).await;
        assert_eq!((taken.status, taken.address), (StatusCode::OK, format!("/clients/{}", world.client)));
    }
    let made = sessions_of(&pool, &world).await;
    assert_eq!(made.len(), before + 2);
    // 10 March 2026 is a Tuesday.
    let today = now().date_naive();
    let on: Vec<i64> =
        made.iter().filter(|(_, n, ..)| n != "Session").map(|(.., on)| (*on - today).num_days()).collect();
    assert_eq!(on, [0, 3]);
    let (tuesday, ..) = made.iter().find(|(_, name, _)| name == "Tuesday, Room").unwrap();
    let blocks = sessions::blocks(&pool, world.trainer, *tuesday).await.unwrap();
    let lines: Vec<_> = draft.days[0].blocks.iter().flat_map(|(_, lines)| lines).collect();
    let slots: Vec<_> = blocks.iter().flat_map(|b| &b.slots).collect();
    assert_eq!(slots.len(), lines.len());
    for (slot, line) in slots.into_iter().zip(lines) {
        let fit = fits::of_slot(&pool, world.trainer, slot.id, world.place).await.unwrap().unwrap();
        assert_eq!((&fit.exercise, &fit.step.label, &fit.prescription), (&line.exercise, &line.step.label, &line.dose));
        assert_eq!(slot.intent, line.intent);
    }
    let after = visitor.get(&shown.address).await;
    assert!(after.text.contains("This week is taken") && !after.text.contains("Take this week"));
}

/// A client's sessions by identifier, name and next day, in the order of the days.
async fn sessions_of(pool: &Pool, world: &World) -> Vec<(Uuid, String, chrono::NaiveDate)> {
    sqlx::query_as(
        "select s.id, s.name, w.planned_on from sessions s
         join workouts w on w.trainer_id = s.trainer_id and w.session_id = s.id
         where s.trainer_id = $1 and s.client_id = $2 order by w.planned_on, s.name",
    )
    .bind(world.trainer.0)
    .bind(world.client)
    .fetch_all(pool)
    .await
    .unwrap()
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn wrong_figures_stand_beside_their_day_and_are_kept(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let minutes = ask(&visitor, &world, &[("minutes_2", "three")]).await;
    assert_refused(&minutes, "Tuesday: ", "value=\"three\"");
    assert!(minutes.text.contains("value=\"25 min\""), "the other day stays as typed");
    let short = ask(&visitor, &world, &[("minutes_5", "5")]).await;
    assert_refused(&short, "Friday: must be between 10 and 240", "value=\"5\"");
    let none = ask(&visitor, &world, &[("place_2", ""), ("place_5", "")]).await;
    assert_refused(&none, "Days: choose a place for at least one day", "value=\"40\"");
    let strange = ask(&visitor, &world, &[("place_2", &new_id().to_string())]).await;
    assert_eq!(strange.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(strange.text.contains("Tuesday: "));
    let school = ask(&visitor, &world, &[("school", "no_such")]).await;
    assert_eq!(school.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(sessions_of(&pool, &world).await.len(), 1, "nothing was made");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_week_is_its_trainers_and_its_clients_alone(pool: Pool) {
    let (mine, theirs) = (world(&pool, DESK).await, world(&pool, "b@bavrek.example").await);
    let base = start(pool.clone()).await;
    let me = Visitor::signed_in(&base, DESK).await;
    let them = Visitor::signed_in(&base, "b@bavrek.example").await;
    let address = ask(&them, &theirs, &[]).await.address;
    assert_eq!(them.get(&address).await.status, StatusCode::OK);
    assert_eq!(me.get(&address).await.status, StatusCode::NOT_FOUND);
    assert_eq!(me.post(&format!("{address}/take"), &[]).await.status, StatusCode::NOT_FOUND);
    // Nor under a client of one's own.
    let week = address.rsplit('/').next().unwrap();
    let under = format!("/clients/{}/week/{week}", mine.client);
    assert_eq!(me.get(&under).await.status, StatusCode::NOT_FOUND);
    assert_eq!(me.post(&format!("{under}/take"), &[]).await.status, StatusCode::NOT_FOUND);
    assert_eq!(sessions_of(&pool, &theirs).await.len(), 1);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_is_asked_again_begins_from_the_last_and_a_shorter_week_is_shorter(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let plain = id_of(&ask(&visitor, &world, &[("school", "slow_tempo")]).await);
    let shorter = id_of(&ask(&visitor, &world, &[("school", "slow_tempo"), ("wish", "shorter")]).await);
    let seconds = async |week| {
        let days = weeks::one(&pool, world.trainer, week).await.unwrap().draft.days;
        days.iter().map(|d| d.seconds).sum::<f64>()
    };
    assert!(seconds(shorter).await < seconds(plain).await);
    let form = visitor.get(&format!("/clients/{}/week", world.client)).await;
    assert!(form.text.contains("<option value=\"slow_tempo\" selected>"));
    assert!(form.text.contains("<option value=\"shorter\" selected>"));
    assert!(form.text.contains("name=\"minutes_5\" value=\"25\""));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_was_planned_stays_unless_it_is_ticked_and_comes_back(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let shown = ask(&visitor, &world, &[]).await;
    let own = world.session.to_string();
    assert!(shown.text.contains(&format!("name=\"instead\" value=\"{own}\"")), "what is planned already is said");
    let taken = visitor.post(&format!("{}/take", shown.address), &[("instead", &own)]).await;
    assert_eq!((taken.status, &taken.address), (StatusCode::OK, &shown.address));
    assert!(taken.text.contains("Session went out of the plan for this week"));
    let heads = async || sessions::of_client(&pool, world.trainer, world.client).await.unwrap();
    assert_eq!((heads().await.len(), heads().await.iter().any(|s| s.id == world.session)), (2, false));
    assert_eq!(visitor.post(&format!("/sessions/{own}/restore"), &[]).await.status, StatusCode::OK);
    assert_eq!(heads().await.len(), 3);
    let back = visitor.get(&shown.address).await;
    assert!(back.status == StatusCode::OK && !back.text.contains("went out of the plan"));
    // A session of somebody else is not touched by its name.
    let theirs = common::world(&pool, "b@bavrek.example").await;
    let again = ask(&visitor, &world, &[]).await;
    visitor.post(&format!("{}/take", again.address), &[("instead", &theirs.session.to_string())]).await;
    assert_eq!(sessions::of_client(&pool, theirs.trainer, theirs.client).await.unwrap().len(), 1);
}

/// What changed while a proposal waited is said, and it is not taken as if nothing had.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_week_that_can_no_longer_be_done_is_not_taken(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let shown = ask(&visitor, &world, &[]).await;
    let take = format!("{}/take", shown.address);
    let refused = async |why: &str| {
        let page = visitor.get(&shown.address).await;
        assert!(page.status == StatusCode::OK && page.text.contains("something changed"), "{why}");
        assert!(page.text.contains(why), "{why} is not said");
        assert_eq!(visitor.post(&take, &[]).await.status, StatusCode::CONFLICT, "{why}");
        assert_eq!(sessions_of(&pool, &world).await.len(), 1, "{why}: sessions were made all the same");
    };
    // The dumbbells are gone.
    let draft = weeks::one(&pool, world.trainer, id_of(&shown)).await.unwrap().draft;
    let lines = || draft.days.iter().flat_map(|d| &d.blocks).flat_map(|(_, lines)| lines);
    assert!(lines().any(|l| l.step.load.is_some()), "the room's dumbbells are used");
    bavrek_store::kit::remove(&pool, world.trainer, world.place, world.dumbbells).await.unwrap();
    refused("dumbbell").await;
    bavrek_store::kit::restore(&pool, world.trainer, world.place, world.dumbbells).await.unwrap();
    let page = visitor.get(&shown.address).await;
    assert!(page.status == StatusCode::OK && !page.text.contains("something changed"));
    // A limit has come up.
    let id = new_id().to_string();
    let elbow = with(&LIMIT, &[("id", &id), ("joint", "elbow"), ("what", "pain_loaded"), ("side", "both")]);
    let limited = visitor.post(&format!("/clients/{}/limits", world.client), &elbow).await;
    assert_eq!(limited.status, StatusCode::OK);
    refused("elbow").await;
}
