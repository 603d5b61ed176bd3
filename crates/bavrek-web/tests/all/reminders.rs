//! Letters before a workout: in the client's own hours, once for each day, and to nobody who should not train.

use crate::common::{DESK, World, app_at, desk, now, world};
use bavrek_core::reminding::Reminded;
use bavrek_store::clients::{self, Client};
use bavrek_store::outbox::{self, Kind, Message};
use bavrek_store::{Pool, reminders, workouts};
use chrono::NaiveDate;
use reqwest::StatusCode;

fn day(text: &str) -> NaiveDate {
    text.parse().unwrap()
}

/// The client with an address and a time zone; their workout is on 10 March.
async fn wants(pool: &Pool, world: &World, zone: &str, reminded: Reminded) {
    let client = clients::one(pool, world.trainer, world.client).await.unwrap();
    let client = Client { contact: "odalys@bavrek.example".into(), time_zone: zone.into(), ..client };
    clients::update(pool, world.trainer, &client, now().date_naive()).await.unwrap();
    reminders::set(pool, world.trainer, world.client, reminded).await.unwrap();
}

/// The reminders that are there after it was looked whether it is time, at a moment.
async fn at(pool: &Pool, world: &World, moment: &str) -> Vec<Message> {
    let app = app_at(pool.clone(), moment.parse().unwrap());
    bavrek_web::remind(&app).await.unwrap();
    let all = outbox::all(pool, world.trainer).await.unwrap().into_iter().map(|(_, message)| message);
    all.filter(|message| message.kind == Kind::Reminder).collect()
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_reminder_comes_in_the_hours_of_the_clients_own_day_and_once(pool: Pool) {
    let world = world(&pool, DESK).await;
    wants(&pool, &world, "Pacific/Auckland", Reminded::EveningBefore).await;
    // 13 hours ahead: their evening of the 9th is the morning of the 9th by the clock here.
    for (moment, sent) in [
        ("2026-03-09T04:59:00Z", 0),
        ("2026-03-09T09:01:00Z", 0),
        ("2026-03-09T05:00:00Z", 1),
        ("2026-03-09T05:01:00Z", 1),
        ("2026-03-09T08:59:00Z", 1),
    ] {
        assert_eq!(at(&pool, &world, moment).await.len(), sent, "{moment}");
    }
    let letter = at(&pool, &world, "2026-03-09T05:02:00Z").await.remove(0);
    assert_eq!((letter.recipient.as_str(), letter.subject.as_str()), ("odalys@bavrek.example", "Tomorrow: Session"));
    assert!(letter.body.contains("tomorrow, Tuesday 10 March: Session, about 30 minutes at Room."), "{}", letter.body);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn in_the_morning_it_says_today_and_a_day_that_moves_is_said_again(pool: Pool) {
    let world = world(&pool, DESK).await;
    wants(&pool, &world, "Europe/Lisbon", Reminded::SameMorning).await;
    let letters = at(&pool, &world, "2026-03-10T07:00:00Z").await;
    assert_eq!(letters.iter().map(|l| l.subject.as_str()).collect::<Vec<_>>(), ["Today: Session"]);
    let planned = workouts::of_session(&pool, world.trainer, world.session).await.unwrap();
    sqlx::query("update workouts set planned_on = $1 where id = $2")
        .bind(day("2026-03-12"))
        .bind(planned[0].id)
        .execute(&pool)
        .await
        .unwrap();
    assert_eq!(at(&pool, &world, "2026-03-11T07:00:00Z").await.len(), 1);
    assert_eq!(at(&pool, &world, "2026-03-12T07:00:00Z").await.len(), 2);
}

/// Why nobody is reminded, as it stands in the database, and what takes it back.
const NOT_NOW: [(&str, &str); 10] = [
    ("update clients set reminded = 'never'", "update clients set reminded = 'same_morning'"),
    ("update clients set contact = ''", "update clients set contact = 'odalys@bavrek.example'"),
    ("update clients set archived_at = now()", "update clients set archived_at = null"),
    ("update trainers set disabled_at = now()", "update trainers set disabled_at = null"),
    ("update sessions set removed_at = now()", "update sessions set removed_at = null"),
    ("update workouts set state = 'under_way'", "update workouts set state = 'planned'"),
    ("update workouts set state = 'done'", "update workouts set state = 'planned'"),
    ("update workouts set state = 'missed'", "update workouts set state = 'planned'"),
    ("update workouts set let_go = true", "update workouts set let_go = false"),
    (
        "insert into screenings (trainer_id, id, client_id, answered_on, answers, refers, note)
         select trainer_id, gen_random_uuid(), id, '2026-03-01', '{}', true, '' from clients",
        "insert into clearances (trainer_id, id, screening_id, given_by, given_on, note)
         select trainer_id, gen_random_uuid(), id, 'A doctor', '2026-03-02', '' from screenings",
    ),
];

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn nobody_is_called_to_what_does_not_take_place(pool: Pool) {
    let world = world(&pool, DESK).await;
    wants(&pool, &world, "UTC", Reminded::SameMorning).await;
    for (change, back) in NOT_NOW {
        sqlx::query(change).execute(&pool).await.unwrap();
        assert_eq!(at(&pool, &world, "2026-03-10T08:00:00Z").await, [], "{change}");
        sqlx::query(back).execute(&pool).await.unwrap();
    }
    assert_eq!(at(&pool, &world, "2026-03-10T08:00:00Z").await.len(), 1, "it takes place after all");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn it_is_chosen_on_the_page_of_the_phone_by_their_own_trainer(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let without = visitor.get(&format!("/clients/{}/phone", world.client)).await;
    assert!(without.text.contains("so nothing goes out") && !without.text.contains("name=\"reminded\""));
    wants(&pool, &world, "UTC", Reminded::Never).await;
    let path = format!("/clients/{}/phone/reminders", world.client);
    let refused = visitor.post(&path, &[("reminded", "at_midnight")]).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{}", refused.text);
    let page = visitor.post(&path, &[("reminded", "same_morning")]).await;
    assert_eq!(page.status, StatusCode::OK);
    let page = visitor.get(&format!("/clients/{}/phone", world.client)).await;
    assert!(page.text.contains("<option value=\"same_morning\" selected>"), "{}", page.text);
    let of = reminders::of_client(&pool, world.trainer, world.client).await.unwrap();
    assert_eq!(of, Reminded::SameMorning);
    let other = crate::common::world(&pool, "b@bavrek.example").await;
    assert!(reminders::set(&pool, other.trainer, world.client, Reminded::Never).await.is_err());
}
