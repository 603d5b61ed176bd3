//! The link of a client: what it reaches, when it ends, and who sees what came by it.

use crate::common::lines::logged;
use crate::common::to_folder;
use crate::common::{Visitor, assert_refused, now, start, start_at, world};
use bavrek_store::{Pool, log, new_id, sessions};
use chrono::Duration;
use reqwest::StatusCode;
use serde_json::json;
use uuid::Uuid;

use crate::common::phones::{Phone, at_work, make_link, set};

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_link_reaches_its_clients_workouts_and_nothing_else(pool: Pool) {
    let (world, trainer, phone) = at_work(&pool, "2 x 8-12").await;
    let home = phone.visitor.get(&format!("/go/{}", phone.link)).await;
    assert_eq!(home.status, StatusCode::OK);
    assert!(home.text.contains(&phone.session.to_string()));
    assert_eq!(phone.pack().await["stations"][0]["choices"][0]["exercise"], "dumbbell_curl");
    // Another client of the same trainer, and another trainer's.
    let other = crate::common::world(&pool, "b@bavrek.example").await;
    for session in [other.session, new_id()] {
        let page = phone.visitor.get(&format!("/go/{}/{session}/pack", phone.link)).await;
        assert_eq!(page.status, StatusCode::NOT_FOUND);
        let (base, visitor, link) = (String::new(), phone.visitor.through(""), phone.link.clone());
        let elsewhere = Phone { base, visitor, link, session, ahead: phone.ahead };
        let entry = elsewhere.entry(new_id(), now(), &json!({ "kind": "note", "slot": null, "text": "in" }));
        let answer = phone.send(&[entry]).await.remove(0);
        assert_eq!(answer, ("refused".into(), "this link does not reach that workout".into()));
    }
    let (theirs, mine) = (other.slot, phone.pack().await);
    let (_, answer) = phone.say(&set(&mine, theirs, 0, &[("reps", "8")])).await;
    assert_eq!(answer.0, "refused");
    assert!(logged(&pool, &world).await.is_empty() && logged(&pool, &other).await.is_empty());
    // The trainer's pages are not the client's.
    let page = phone.visitor.get(&format!("/clients/{}", world.client)).await;
    assert_eq!((page.status, page.address.as_str()), (StatusCode::OK, "/sign-in"));
    // It is not told who it was made for by whoever reads the database, nor by the outbox.
    let kept: Vec<(String,)> =
        sqlx::query_as("select links::text || coalesce((select string_agg(body, ' ') from outbox), '') from links")
            .fetch_all(&pool)
            .await
            .unwrap();
    assert_eq!(kept.len(), 1);
    assert!(kept[0].0.len() > 100 && !kept[0].0.contains(&phone.link));
    let page = trainer.get("/outbox").await;
    assert!(page.text.contains(&format!("…{}", &phone.link[58..])) && !page.text.contains(&phone.link));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_link_to_one_session_reaches_no_other_and_ends_on_its_day(pool: Pool) {
    let (world, trainer, phone) = at_work(&pool, "2 x 8-12").await;
    let mut head = sessions::head(&pool, world.trainer, world.session).await.unwrap();
    head.id = new_id();
    let (second, _) = sessions::add(&pool, world.trainer, &head, &[]).await.unwrap();
    let only = world.session.to_string();
    let link = make_link(&trainer, &world, &[("session", &only), ("ends_on", "2026-03-11")]).await;
    // Nor what was done in the other one: by that link nothing of it is corrected or taken back.
    let pack = phone.pack().await;
    let (done, _) = phone.say(&set(&pack, world.slot, 0, &[("reps", "9"), ("rir", "2")])).await;
    let elsewhere = make_link(&trainer, &world, &[("session", &second.to_string())]).await;
    let visitor = phone.visitor.through(&phone.base);
    let other = Phone { base: phone.base.clone(), visitor, link: elsewhere, session: second, ahead: phone.ahead };
    assert_eq!(other.say(&json!({ "kind": "undo", "set": done })).await.1.0, "refused");
    assert_eq!(logged(&pool, &world).await.len(), 1);
    // The link to all workouts stays: it reaches something else.
    assert_eq!(phone.get("pack").await.status, StatusCode::OK);
    let narrow = |session: Uuid| format!("/go/{link}/{session}/pack");
    assert_eq!(phone.visitor.get(&narrow(world.session)).await.status, StatusCode::OK);
    assert_eq!(phone.visitor.get(&narrow(second)).await.status, StatusCode::NOT_FOUND);
    let home = phone.visitor.get(&format!("/go/{link}")).await;
    assert!(home.text.contains(&only) && !home.text.contains(&second.to_string()));
    for (days, status) in [(1, StatusCode::OK), (2, StatusCode::GONE)] {
        let base = start_at(pool.clone(), now() + Duration::days(days)).await;
        assert_eq!(phone.visitor.through(&base).get(&narrow(world.session)).await.status, status, "{days}");
    }
    for (on, says) in [("2026-03-09", "2026-03-09"), ("2030-01-01", "2030-01-01"), ("soon", "soon")] {
        let path = format!("/clients/{}/phone", world.client);
        let page = trainer.post(&path, &[("id", &new_id().to_string()), ("ends_on", on)]).await;
        assert_refused(&page, "The last day must be a date", says);
    }
    let theirs = crate::common::world(&pool, "b@bavrek.example").await.session.to_string();
    let path = format!("/clients/{}/phone", world.client);
    let page = trainer.post(&path, &[("id", &new_id().to_string()), ("session", &theirs)]).await;
    assert_eq!(page.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_replaced_link_is_closed_and_what_comes_by_it_waits_for_the_trainers_word(pool: Pool) {
    let (world, trainer, phone) = at_work(&pool, "2 x 8-12").await;
    let pack = phone.pack().await;
    let new = make_link(&trainer, &world, &[]).await;
    for page in ["pack", "state", "live"] {
        assert_eq!(phone.get(page).await.status, StatusCode::GONE, "{page}");
    }
    let page = phone.visitor.get(&format!("/go/{}", phone.link)).await;
    assert_eq!(page.status, StatusCode::GONE);
    assert!(page.text.contains("This link opens no more"));
    assert_eq!(phone.visitor.get(&format!("/go/{new}")).await.status, StatusCode::OK);
    // Done without a signal before it was replaced.
    let sets = [("9", "into"), ("7", "not")].map(|(reps, _)| {
        phone.entry(new_id(), now() - Duration::hours(2), &set(&pack, world.slot, 0, &[("reps", reps), ("rir", "2")]))
    });
    for answer in phone.send(&sets).await {
        assert_eq!(answer, ("waiting".into(), "the link was ended before this came: your trainer decides".into()));
    }
    assert!(logged(&pool, &world).await.is_empty());
    let path = format!("/clients/{}/phone", world.client);
    for (reps, act) in [("9 reps", "take"), ("7 reps", "dismiss")] {
        let page = trainer.get(&path).await;
        let own = page.text.split("<li>").find(|li| li.contains(reps)).unwrap();
        let field = |name: &str| own.split(&format!("name=\"{name}\" value=\"")).nth(1).unwrap().split('"').next();
        let (id, digest) = (field("id").unwrap(), field("digest").unwrap());
        let page = trainer.post(&format!("{path}/entry"), &[("id", id), ("digest", digest), ("act", act)]).await;
        assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    }
    let sets = logged(&pool, &world).await;
    assert_eq!(sets.iter().map(|s| s.reps).collect::<Vec<_>>(), [Some(9)]);
    let records = log::of_client(&pool, world.trainer, world.client, now().date_naive()).await.unwrap();
    assert_eq!(records[0].done_at, Some(now() - Duration::hours(2)), "when it was done, not when it was allowed");
    // A second word on the same finds it decided.
    let page = trainer.get(&path).await;
    assert!(page.text.contains("dismissed") && !page.text.contains("Into the log"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn another_trainer_sees_and_decides_nothing(pool: Pool) {
    let (world, trainer, phone) = at_work(&pool, "2 x 8-12").await;
    let (dance, _) = phone.say(&json!({ "kind": "dance" })).await;
    let theirs = crate::common::world(&pool, "b@bavrek.example").await;
    let other = Visitor::signed_in(&start(pool.clone()).await, "b@bavrek.example").await;
    let (link, digest): (Uuid, Vec<u8>) =
        sqlx::query_as("select l.id, e.digest from links l, entries e").fetch_one(&pool).await.unwrap();
    let (link, dance, digest) = (link.to_string(), dance.to_string(), hex::encode(digest));
    let entry = [("id", dance.as_str()), ("digest", &digest), ("act", "dismiss")];
    for client in [world.client, theirs.client] {
        let path = format!("/clients/{client}/phone");
        assert_eq!(other.post(&format!("{path}/end"), &[("link", &link)]).await.status, StatusCode::NOT_FOUND);
        assert_eq!(other.post(&format!("{path}/entry"), &entry).await.status, StatusCode::NOT_FOUND);
    }
    assert_eq!(phone.get("pack").await.status, StatusCode::OK);
    // What stands in the outbox of the one does not stand in that of the other.
    for (visitor, there) in [(&trainer, true), (&other, false)] {
        let page = visitor.get("/outbox").await;
        assert_eq!(page.status, StatusCode::OK);
        assert_eq!(page.text.contains("Client of a@bavrek.example"), there);
    }
    let path = format!("/clients/{}/phone/entry", world.client);
    assert!(trainer.post(&path, &entry).await.text.contains("dismissed"));
}

/// Where a folder is set, a message is delivered whole.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_message_is_delivered_to_the_folder(pool: Pool) {
    let world = world(&pool, crate::common::DESK).await;
    let folder = std::env::temp_dir().join(format!("outbox-{}", Uuid::new_v4()));
    let app = bavrek_web::App { outbox: to_folder(&folder), ..crate::common::app_at(pool.clone(), now()) };
    let base = crate::common::serve(app).await;
    let trainer = Visitor::signed_in(&base, crate::common::DESK).await;
    let link = make_link(&trainer, &world, &[]).await;
    let files: Vec<_> = std::fs::read_dir(&folder).unwrap().map(|f| f.unwrap().path()).collect();
    assert_eq!(files.len(), 1);
    assert!(std::fs::read_to_string(&files[0]).unwrap().contains(&format!("/go/{link}")));
    assert!(trainer.get("/outbox").await.text.contains("delivered"));
    std::fs::remove_dir_all(folder).unwrap();
}
