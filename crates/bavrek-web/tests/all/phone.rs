//! The client's phone over HTTP: what a link reaches, and what becomes of everything that a phone says.

use crate::common::lines::{logged, slot, take};
use crate::common::{Page, Visitor, World, assert_refused, desk, now, start, start_at, world};
use bavrek_core::dose::SetKind;
use bavrek_core::person::Side;
use bavrek_core::script::WorkoutState;
use bavrek_store::slots::Joining;
use bavrek_store::{Pool, fits, log, new_id, notes, sessions, slots, workouts};
use chrono::{DateTime, Duration, Utc};
use reqwest::StatusCode;
use serde_json::{Value, json};
use uuid::Uuid;

/// A phone with a link.
struct Phone {
    base: String,
    visitor: Visitor,
    link: String,
    session: Uuid,
    /// By how much its clock is ahead.
    ahead: Duration,
}

impl Phone {
    /// The phone to which the trainer's new link was sent.
    async fn of(base: &str, trainer: &Visitor, world: &World) -> Self {
        let link = make_link(trainer, world, &[]).await;
        Self {
            base: base.to_owned(),
            visitor: Visitor::new(base),
            link,
            session: world.session,
            ahead: Duration::zero(),
        }
    }

    async fn get(&self, part: &str) -> Page {
        self.visitor.get(&format!("/go/{}/{}/{part}", self.link, self.session)).await
    }

    async fn pack(&self) -> Value {
        let page = self.get("pack").await;
        assert_eq!(page.status, StatusCode::OK, "{}", page.text);
        serde_json::from_str(&page.text).unwrap()
    }

    /// One thing said, done at a moment, under an identifier.
    fn entry(&self, id: Uuid, at: DateTime<Utc>, said: &Value) -> Value {
        json!({ "id": id, "session": self.session, "at": at + self.ahead, "said": said })
    }

    async fn send(&self, entries: &[Value]) -> Vec<(String, String)> {
        let body = json!({ "now": now() + self.ahead, "entries": entries });
        let page = self.visitor.post_json(&format!("/go/{}/entries", self.link), &body.to_string()).await;
        assert_eq!(page.status, StatusCode::OK, "{}", page.text);
        let answers: Value = serde_json::from_str(&page.text).unwrap();
        let text = |v: &Value| v.as_str().unwrap().to_owned();
        answers["answers"].as_array().unwrap().iter().map(|a| (text(&a["state"]), text(&a["why"]))).collect()
    }

    /// The same of one thing said now.
    async fn say(&self, said: &Value) -> (Uuid, (String, String)) {
        let id = new_id();
        let answer = self.send(&[self.entry(id, now(), said)]).await.remove(0);
        (id, answer)
    }
}

/// The link that stands on the trainer's page this once.
async fn make_link(trainer: &Visitor, world: &World, fields: &[(&str, &str)]) -> String {
    let path = format!("/clients/{}/phone", world.client);
    let id = trainer.get(&path).await.hidden("id");
    let page = trainer.post(&path, &[&[("id", id.as_str())], fields].concat()).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    page.text.split("/go/").nth(1).unwrap().split('"').next().unwrap().to_owned()
}

/// A set of a slot with what was tapped.
fn set(pack: &Value, slot: Uuid, turn: usize, fields: &[(&str, &str)]) -> Value {
    let stations = pack["stations"].as_array().unwrap();
    let station = stations.iter().find(|s| s["slot"] == json!(slot));
    let exercise = station.map_or(&Value::Null, |s| &s["choices"][0]["exercise"]).as_str().unwrap_or("push_up");
    json!({ "kind": "set", "given": pack["given"], "slot": slot, "choice": 0, "exercise": exercise, "rung": 0, "turn": turn,
            "fields": fields, "supersedes": null })
}

fn taken() -> (String, String) {
    ("taken".into(), String::new())
}

/// A trainer's world with a curl in it, the trainer, and the client's phone.
async fn at_work(pool: &Pool, dose: &str) -> (World, Visitor, Phone) {
    let (world, _) = desk(pool).await;
    take(pool, &world, world.slot, "dumbbell_curl", dose).await;
    let base = start(pool.clone()).await;
    let trainer = Visitor::signed_in(&base, crate::common::DESK).await;
    let phone = Phone::of(&base, &trainer, &world).await;
    (world, trainer, phone)
}

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

/// A dose, what is tapped for its first set, and what the log has of it: kind, repetitions, seconds.
type Work = (&'static str, &'static [(&'static str, &'static str)], (Option<SetKind>, Option<u16>, Option<u16>));
const WORK: [Work; 8] = [
    ("2 x 8-12", &[("reps", "10"), ("rir", "2")], (None, Some(10), None)),
    ("2 x 30 s", &[("seconds", "31")], (None, None, Some(31))),
    ("2 x 40 s, as a station", &[("reps", "14"), ("seconds", "40")], (Some(SetKind::Station), Some(14), Some(40))),
    ("2 x 5-8 @ 5-0-1-0, lowering only", &[("reps", "5")], (None, Some(5), None)),
    ("50 in as few sets as possible", &[("reps", "22"), ("rir", "0")], (Some(SetKind::ToTotal), Some(22), None)),
    (
        "1 x 4 fast + 2 held 8 s + 3 slow",
        &[("reps", "7"), ("seconds", "16")],
        (Some(SetKind::Mixed), Some(7), Some(16)),
    ),
    ("2 x max", &[("reps", "19"), ("rir", "0")], (Some(SetKind::Amrap), Some(19), None)),
    ("1 x 8-12, as an extension", &[("reps", "9"), ("rir", "0")], (Some(SetKind::Extension), Some(9), None)),
];

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn every_kind_of_work_is_logged_as_what_it_is(pool: Pool) {
    let (world, _, phone) = at_work(&pool, WORK[0].0).await;
    let mut slots = vec![world.slot];
    for (dose, ..) in &WORK[1..] {
        slots.push(slot(&pool, &world, "dumbbell_curl", dose, Joining::Alone).await);
    }
    let pack = phone.pack().await;
    let turns = pack["turns"].as_array().unwrap();
    for ((dose, fields, expected), slot) in WORK.into_iter().zip(slots) {
        let turn = turns.iter().find(|t| t["slot"] == json!(slot)).unwrap();
        assert_eq!(turn["reps"].is_null(), expected.1.is_none(), "{dose}");
        assert_eq!(turn["seconds"].is_null(), expected.2.is_none(), "{dose}");
        assert_eq!(phone.say(&set(&pack, slot, 0, fields)).await.1, taken(), "{dose}");
        let set = logged(&pool, &world).await.pop().unwrap();
        assert_eq!((set.kind, set.reps, set.seconds), expected, "{dose}");
    }
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn whatever_is_sent_again_counts_once_and_other_figures_are_a_conflict_that_is_shown(pool: Pool) {
    let (world, trainer, phone) = at_work(&pool, "3 x 8-12").await;
    let pack = phone.pack().await;
    let id = new_id();
    let at = now() - Duration::minutes(1);
    let first = phone.entry(id, at, &set(&pack, world.slot, 0, &[("reps", "10"), ("rir", "2")]));
    let second = phone.entry(new_id(), now(), &set(&pack, world.slot, 1, &[("reps", "9"), ("rir", "1")]));
    // The later one first, everything twice, from two phones at once.
    let batches = [[second.clone(), first.clone()], [first.clone(), second.clone()]];
    let (a, b) = tokio::join!(phone.send(&batches[0]), phone.send(&batches[1]));
    assert_eq!([a, b].concat(), vec![taken(); 4]);
    assert_eq!(phone.send(&[first, second]).await, vec![taken(); 2]);
    let reps = |sets: Vec<bavrek_core::log::LoggedSet>| sets.into_iter().filter_map(|s| s.reps).collect::<Vec<_>>();
    let mut there = reps(logged(&pool, &world).await);
    there.sort_unstable();
    assert_eq!(there, [9, 10]);
    let other = phone.entry(id, at, &set(&pack, world.slot, 0, &[("reps", "12"), ("rir", "2")]));
    let answer = phone.send(&[other]).await.remove(0);
    assert_eq!(answer.0, "conflict");
    assert_eq!(logged(&pool, &world).await.len(), 2);
    let page = trainer.get(&format!("/clients/{}/phone", world.client)).await;
    assert!(page.text.contains("12 reps") && page.text.contains("contradicts"), "{}", page.text);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn two_phones_that_log_the_same_turn_are_both_kept_and_told(pool: Pool) {
    let (world, trainer, phone) = at_work(&pool, "2 x 8-12").await;
    let pack = phone.pack().await;
    let tap = async |turn, reps| phone.say(&set(&pack, world.slot, turn, &[("reps", reps), ("rir", "2")])).await;
    let (first, answer) = tap(0, "10").await;
    assert_eq!(answer, taken());
    let (again, answer) = tap(0, "11").await;
    assert_eq!(answer, ("taken".into(), "another set stands for set 1 of this job".into()));
    // One that was taken back stands for nothing.
    assert_eq!(phone.say(&json!({ "kind": "undo", "set": again })).await.1, taken());
    assert_eq!(phone.say(&json!({ "kind": "undo", "set": first })).await.1, taken());
    for turn in [1, 0] {
        assert_eq!(tap(turn, "12").await.1, taken(), "{turn}");
    }
    // More sets than were asked for.
    assert_eq!(tap(2, "9").await.1, ("taken".into(), "more sets than the 2 that were asked for".into()));
    assert_eq!(logged(&pool, &world).await.len(), 3);
    let page = trainer.get(&format!("/clients/{}/phone", world.client)).await;
    assert!(page.text.contains("another set stands for set 1 of this job"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_set_is_corrected_and_taken_back_and_nothing_is_lost(pool: Pool) {
    let (world, _, phone) = at_work(&pool, "2 x 8-12").await;
    let pack = phone.pack().await;
    let (first, _) = phone.say(&set(&pack, world.slot, 0, &[("reps", "10"), ("rir", "2")])).await;
    let mut correction = set(&pack, world.slot, 0, &[("reps", "11"), ("rir", "1")]);
    correction["supersedes"] = json!(first);
    let (corrected, answer) = phone.say(&correction).await;
    assert_eq!(answer, taken());
    let (second, _) = phone.say(&set(&pack, world.slot, 1, &[("reps", "8"), ("rir", "2")])).await;
    let state = || async { workouts::of_session(&pool, world.trainer, world.session).await.unwrap()[0].state };
    assert_eq!(state().await, WorkoutState::Done);
    assert_eq!(phone.say(&json!({ "kind": "undo", "set": second })).await.1, taken());
    assert_eq!(state().await, WorkoutState::UnderWay, "a turn is open again");
    let sets = log::of_client(&pool, world.trainer, world.client, now().date_naive()).await.unwrap();
    assert_eq!(sets.iter().map(|r| (r.id, r.set.reps)).collect::<Vec<_>>(), [(corrected, Some(11))]);
    assert_eq!(log::count_all(&pool, world.trainer, world.client).await.unwrap(), 4, "every row is there");
    let (_, answer) = phone.say(&json!({ "kind": "undo", "set": first })).await;
    assert_eq!(answer.0, "conflict", "it was corrected meanwhile");
    let (_, answer) = phone.say(&json!({ "kind": "undo", "set": new_id() })).await;
    assert_eq!(answer.0, "refused");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn jobs_are_left_out_taken_up_swapped_and_noted_and_the_workout_ends_early(pool: Pool) {
    let (world, _, phone) = at_work(&pool, "2 x 8-12").await;
    let hammer = slot(&pool, &world, "hammer_curl", "2 x 8-12", Joining::Alone).await;
    let pack = phone.pack().await;
    let state = || async { serde_json::from_str::<Value>(&phone.get("state").await.text).unwrap() };
    for (said, skips) in [
        (json!({ "kind": "skip", "slot": hammer, "reason": "no time" }), json!([[hammer, "no time"]])),
        (json!({ "kind": "take_up", "slot": hammer }), json!([])),
    ] {
        assert_eq!(phone.say(&said).await.1, taken());
        assert_eq!(state().await["skips"], skips);
    }
    let instead = &pack["stations"][0]["choices"][1];
    assert!(instead["exercise"].is_string(), "{pack}");
    let swap = json!({ "kind": "swap", "given": pack["given"], "slot": world.slot, "choice": 1, "reason": "taken" });
    assert_eq!(phone.say(&swap).await.1, taken());
    assert_eq!(state().await["stands"][0][1], instead["exercise"]);
    let mut done = set(&pack, world.slot, 0, &[("reps", "9"), ("rir", "2")]);
    done["choice"] = json!(1);
    let (_, answer) = phone.say(&done).await;
    assert_eq!(answer.1, "the phone showed another movement than it was given");
    done["exercise"] = instead["exercise"].clone();
    assert_eq!(phone.say(&done).await.1, taken());
    let sets = logged(&pool, &world).await;
    assert_eq!(json!(sets[0].exercise), instead["exercise"]);
    assert_eq!(phone.say(&json!({ "kind": "unswap", "slot": world.slot })).await.1, taken());
    assert_eq!(state().await["stands"][0][1], "dumbbell_curl");
    let note = json!({ "kind": "note", "slot": hammer, "text": " grip slips " });
    assert_eq!(phone.say(&note).await.1, taken());
    let kept = notes::of_session(&pool, world.trainer, world.session, now().date_naive()).await.unwrap();
    assert_eq!(kept.iter().map(|n| (n.slot_id, n.text.as_str())).collect::<Vec<_>>(), [(Some(hammer), "grip slips")]);
    let odd = json!({ "kind": "note", "slot": null, "text": "a\u{0}b" });
    assert_eq!(phone.say(&odd).await.1, taken());
    assert_eq!(phone.say(&json!({ "kind": "finish", "why": "the baby woke" })).await.1, taken());
    let ended = || workouts::ended(&pool, world.trainer, world.session, now().date_naive());
    assert_eq!(ended().await.unwrap(), Some((true, Some("the baby woke".into()))));
    // What was done before it and comes after it changes nothing about that.
    let late =
        phone.entry(new_id(), now() - Duration::minutes(9), &set(&pack, hammer, 0, &[("reps", "8"), ("rir", "3")]));
    assert_eq!(phone.send(&[late]).await, [taken()]);
    assert_eq!(ended().await.unwrap(), Some((true, Some("the baby woke".into()))));
    assert_eq!(logged(&pool, &world).await.len(), 2);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_lighter_and_a_heavier_step_are_logged_as_what_they_were(pool: Pool) {
    let (world, _, phone) = at_work(&pool, "3 x 8-12").await;
    let pack = phone.pack().await;
    let own = &pack["stations"][0]["choices"][0];
    let at = own["at"].as_u64().unwrap() as usize;
    for rung in [0, 1] {
        let mut done = set(&pack, world.slot, rung, &[("reps", "10"), ("rir", "2")]);
        done["rung"] = json!(rung);
        assert_eq!(phone.say(&done).await.1, taken());
        let load = logged(&pool, &world).await.last().unwrap().load.unwrap();
        assert_eq!(own["steps"][at + rung][0], load.short());
    }
    let mut beyond = set(&pack, world.slot, 2, &[("reps", "10"), ("rir", "2")]);
    beyond["rung"] = json!(40);
    let answer = ("refused".to_owned(), "that step was not among what the phone was given".to_owned());
    assert_eq!(phone.say(&beyond).await.1, answer);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_was_done_is_logged_as_it_was_given_whatever_the_plan_is_by_then(pool: Pool) {
    let (world, _, phone) = at_work(&pool, "2 x 8-12 @ 3-0-1-0").await;
    let pack = phone.pack().await;
    // The trainer takes another movement, then takes the slot and the session out.
    take(&pool, &world, world.slot, "hammer_curl", "5 x 5").await;
    assert_eq!(phone.say(&set(&pack, world.slot, 0, &[("reps", "10"), ("rir", "2")])).await.1, taken());
    let placed = slots::one(&pool, world.trainer, world.slot).await.unwrap();
    slots::set_removed(&pool, world.trainer, placed.slot.id, true).await.unwrap();
    sessions::set_removed(&pool, world.trainer, world.session, true).await.unwrap();
    assert_eq!(phone.say(&set(&pack, world.slot, 1, &[("reps", "9"), ("rir", "2")])).await.1, taken());
    let sets = logged(&pool, &world).await;
    let what: Vec<_> = sets.iter().map(|s| (s.exercise.as_str(), s.reps, s.tempo.unwrap().to_string())).collect();
    let given = |reps| ("dumbbell_curl", Some(reps), "3-0-1-0".to_owned());
    assert_eq!(what, [given(10), given(9)]);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_clock_that_is_a_day_wrong_and_a_set_that_comes_days_late_count_on_their_day(pool: Pool) {
    let (world, trainer, mut phone) = at_work(&pool, "2 x 8-12").await;
    let pack = phone.pack().await;
    let late =
        phone.entry(new_id(), now() - Duration::days(3), &set(&pack, world.slot, 0, &[("reps", "8"), ("rir", "2")]));
    assert_eq!(phone.send(&[late]).await, [taken()]);
    // What is said to be very old is more likely wrong than late.
    let old =
        phone.entry(new_id(), now() - Duration::days(70), &set(&pack, world.slot, 0, &[("reps", "8"), ("rir", "2")]));
    assert_eq!(phone.send(&[old]).await[0].0, "waiting");
    for (days, words) in [(1, "24 h ahead"), (-3, "3 days behind")] {
        phone.ahead = Duration::days(days);
        let (_, answer) = phone.say(&set(&pack, world.slot, 0, &[("reps", "9"), ("rir", "2")])).await;
        assert!(answer.0 == "taken" && answer.1.ends_with(&format!("the phone's clock was {words}")), "{answer:?}");
    }
    let records = log::of_client(&pool, world.trainer, world.client, now().date_naive()).await.unwrap();
    let days: Vec<_> = records.iter().map(|r| (r.set.date.to_string(), r.done_at.unwrap())).collect();
    let today = ("2026-03-10".to_owned(), now());
    assert_eq!(days, [("2026-03-07".to_owned(), now() - Duration::days(3)), today.clone(), today]);
    let page = trainer.get(&format!("/clients/{}/phone", world.client)).await;
    assert!(page.text.contains("done Sat 7 Mar, 12:00, came today, 12:00: in the log"), "{}", page.text);
}

/// What a phone could say that means nothing, and what is said of it.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_means_nothing_is_refused_with_its_reason_and_kept(pool: Pool) {
    let (world, trainer, phone) = at_work(&pool, "2 x 8-12").await;
    let pack = phone.pack().await;
    let with = |name: &str, value: Value| {
        let mut said = set(&pack, world.slot, 0, &[("reps", "8")]);
        said[name] = value;
        said
    };
    let fields = |fields: &[(&str, &str)]| set(&pack, world.slot, 0, fields);
    let cases = [
        (json!({ "kind": "dance" }), "it could not be read"),
        (json!(7), "it could not be read"),
        (with("more", json!(1)), "it could not be read"),
        (with("turn", json!(-1)), "it could not be read"),
        (with("given", json!("0".repeat(64))), "what it is about is not there"),
        (with("given", json!("é".repeat(32))), "what it is about is not there"),
        (with("choice", json!(99)), "that was not among what the phone was given"),
        (with("rung", json!(i32::MIN)), "that step was not among what the phone was given"),
        (with("slot", json!(new_id())), "what it is about is not there"),
        (with("supersedes", json!(new_id())), "the set that it corrects is not there"),
        (fields(&[]), "Reps: tap or type"),
        (fields(&[("reps", "5000")]), "Reps: must be a whole number from 0 to 100"),
        (fields(&[("reps", "8"), ("pain", "6")]), "Pain: say where it hurts"),
        (fields(&[("reps", "8"), ("seen", "a ghost")]), "Seen: holds something that is not on the list"),
        (json!({ "kind": "note", "slot": null, "text": "  " }), "the note is empty"),
        (json!({ "kind": "skip", "slot": new_id(), "reason": "" }), "what it is about is not there"),
    ];
    let count = cases.len();
    for (said, why) in cases {
        let (_, answer) = phone.say(&said).await;
        assert_eq!(answer.0, "refused", "{said}");
        assert!(answer.1.starts_with(why), "{said}: {}", answer.1);
    }
    assert!(logged(&pool, &world).await.is_empty());
    let page = trainer.get(&format!("/clients/{}/phone", world.client)).await;
    assert_eq!(page.text.matches(": refused").count(), count);
    let page = trainer.get(&format!("/clients/{}", world.client)).await;
    assert!(page.text.contains(&format!("{count} things that the phone said wait for your word.")));
    // A bundle that is none is no entry.
    for body in ["", "{}", "[]", r#"{"now":"yesterday","entries":[]}"#] {
        let page = phone.visitor.post_json(&format!("/go/{}/entries", phone.link), body).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{body}");
    }
    let many: Vec<Value> = (0..501).map(|_| phone.entry(new_id(), now(), &json!({}))).collect();
    let body = json!({ "now": now(), "entries": many }).to_string();
    let page = phone.visitor.post_json(&format!("/go/{}/entries", phone.link), &body).await;
    assert_eq!(page.status, StatusCode::PAYLOAD_TOO_LARGE);
}

/// While new plans wait for a clearance nothing new is begun by a phone either; what was done is logged.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_swap_waits_for_a_clearance_and_a_set_does_not(pool: Pool) {
    let (world, trainer, phone) = at_work(&pool, "2 x 8-12").await;
    let pack = phone.pack().await;
    let typed = crate::common::answers(Some("heart"));
    let id = new_id().to_string();
    let mut fields: Vec<(&str, &str)> = typed.iter().map(|(n, v)| (n.as_str(), v.as_str())).collect();
    fields.extend([("id", id.as_str()), ("on", "2026-03-10")]);
    let page = trainer.post(&format!("/clients/{}/health", world.client), &fields).await;
    assert!(page.text.contains("doctor or physiotherapist"), "{}", page.text);
    let swap = json!({ "kind": "swap", "given": pack["given"], "slot": world.slot, "choice": 1, "reason": "taken" });
    let (_, answer) = phone.say(&swap).await;
    assert_eq!(answer, ("refused".into(), "new movements wait for a doctor's or physiotherapist's word".into()));
    assert_eq!(phone.say(&set(&pack, world.slot, 0, &[("reps", "10"), ("rir", "2")])).await.1, taken());
    // Nor does any advice raise a load.
    let pack = phone.pack().await;
    let advice = pack["turns"][0]["advice"].as_array().unwrap();
    assert!(!advice.is_empty() && advice.iter().all(|a| a["next"] != "heavier"));
}

/// What happens on one device is told to whoever watches, within two seconds.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_set_is_told_to_whoever_watches(pool: Pool) {
    let (world, trainer, phone) = at_work(&pool, "2 x 8-12").await;
    let pack = phone.pack().await;
    // The other process has its own ear.
    let other = trainer.through(&start(pool.clone()).await);
    let mut watching = other.stream(&format!("/sessions/{}/train/live", world.session)).await;
    assert_eq!(watching.status(), StatusCode::OK);
    let mut heard = async |seconds| {
        let chunk = tokio::time::timeout(std::time::Duration::from_secs(seconds), watching.chunk()).await;
        chunk.is_ok_and(|chunk| String::from_utf8_lossy(&chunk.unwrap().unwrap()).contains("happened"))
    };
    // It says so once when it begins to listen; then nothing happens.
    while heard(2).await {}
    let said = json!({ "kind": "skip", "slot": world.slot, "reason": "" });
    for said in [set(&pack, world.slot, 0, &[("reps", "10"), ("rir", "2")]), said] {
        assert_eq!(phone.say(&said).await.1, taken());
        assert!(heard(10).await, "{said}");
        while heard(2).await {}
    }
    let state: Value = serde_json::from_str(&phone.get("state").await.text).unwrap();
    assert_eq!(state["done"][0]["reps"], 10);
}

/// Sixty turns are given, gone through in any order, and done.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_workout_of_sixty_turns_is_done_set_by_set(pool: Pool) {
    let (world, _, phone) = at_work(&pool, "10 x 8-12").await;
    let mut all = vec![world.slot];
    for _ in 0..5 {
        all.push(slot(&pool, &world, "dumbbell_curl", "10 x 8-12", Joining::Alone).await);
    }
    let pack = phone.pack().await;
    assert_eq!(pack["turns"].as_array().unwrap().len(), 60);
    let sets: Vec<Value> = (0..60)
        .rev()
        .map(|i| {
            let said = set(&pack, all[i % 6], i / 6, &[("reps", "10"), ("rir", "2")]);
            phone.entry(new_id(), now() - Duration::minutes(60 - i as i64), &said)
        })
        .collect();
    assert_eq!(phone.send(&sets).await.len(), 60);
    assert_eq!(logged(&pool, &world).await.len(), 60);
    assert_eq!(workouts::of_session(&pool, world.trainer, world.session).await.unwrap()[0].state, WorkoutState::Done);
    let one = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    assert_eq!(one.prescription.sets.len(), 10);
}

/// One side at a time: the weaker begins, both are asked, and each is logged as what it is.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn both_sides_are_asked_and_logged(pool: Pool) {
    let (world, _) = desk(&pool).await;
    take(&pool, &world, world.slot, "one_arm_dumbbell_curl", "2 x 8-12").await;
    let base = start(pool.clone()).await;
    let trainer = Visitor::signed_in(&base, crate::common::DESK).await;
    let phone = Phone::of(&base, &trainer, &world).await;
    let pack = phone.pack().await;
    let sides: Vec<&str> = pack["turns"].as_array().unwrap().iter().map(|t| t["side"].as_str().unwrap()).collect();
    assert_eq!(sides, ["left", "right", "left", "right"]);
    for (i, side) in sides.iter().enumerate() {
        let said = set(&pack, world.slot, i / 2, &[("reps", "10"), ("rir", "2"), ("side", side)]);
        assert_eq!(phone.say(&said).await.1, taken());
    }
    let sets = logged(&pool, &world).await;
    let expected = [Side::Left, Side::Right, Side::Left, Side::Right].map(Some);
    assert_eq!(sets.iter().map(|s| s.side).collect::<Vec<_>>(), expected);
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
    let app = bavrek_web::App { outbox: Some(folder.clone()), ..crate::common::app_at(pool.clone(), now()) };
    let base = crate::common::serve(app).await;
    let trainer = Visitor::signed_in(&base, crate::common::DESK).await;
    let link = make_link(&trainer, &world, &[]).await;
    let files: Vec<_> = std::fs::read_dir(&folder).unwrap().map(|f| f.unwrap().path()).collect();
    assert_eq!(files.len(), 1);
    assert!(std::fs::read_to_string(&files[0]).unwrap().contains(&format!("/go/{link}")));
    assert!(trainer.get("/outbox").await.text.contains("delivered"));
    std::fs::remove_dir_all(folder).unwrap();
}
