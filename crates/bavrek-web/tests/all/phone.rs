//! What a phone says: everything that a client logs by it, and what becomes of it.

use crate::common::lines::{logged, slot, take};
use crate::common::{Visitor, desk, now, start};
use bavrek_core::dose::SetKind;
use bavrek_core::person::Side;
use bavrek_core::script::WorkoutState;
use bavrek_store::slots::Joining;
use bavrek_store::{Pool, fits, log, new_id, notes, sessions, slots, workouts};
use chrono::Duration;
use reqwest::StatusCode;
use serde_json::{Value, json};

use crate::common::phones::{Phone, at_work, set, taken};

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

/// A set on another step comes with how far that lies from the line's own, and what is advised before it is said of it.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_set_on_another_step_is_given_and_logged_on_it(pool: Pool) {
    let (world, _, phone) = at_work(&pool, "2 x 8-12, last a step up").await;
    let pack = phone.pack().await;
    let (own, turns) = (&pack["stations"][0]["choices"][0], pack["turns"].as_array().unwrap());
    let rungs: Vec<i64> = turns.iter().map(|t| t["rung"].as_i64().unwrap()).collect();
    assert_eq!(rungs[0], 0);
    assert!(rungs[1] > 0, "{rungs:?}");
    let at = own["at"].as_i64().unwrap();
    let label = |rung: i64| own["steps"][usize::try_from(at + rung).unwrap()][1].as_str().unwrap().to_owned();
    // What is lighter than the second set's step, not than the first one's.
    let advised = turns[0]["advice"].to_string();
    assert!(advised.contains(&label(rungs[1] - 1)) || !advised.contains("one step down"), "{advised}");
    for (turn, rung) in [(0, rungs[0]), (1, rungs[1])] {
        let mut done = set(&pack, world.slot, turn, &[("reps", "10"), ("rir", "2")]);
        done["rung"] = json!(rung);
        assert_eq!(phone.say(&done).await.1, taken());
    }
    let sets = logged(&pool, &world).await;
    assert!(sets[1].effective_kg > sets[0].effective_kg);
    assert_eq!(own["steps"][usize::try_from(at + rungs[1]).unwrap()][0], sets[1].load.unwrap().short());
}

/// A set that went on with the step beside it: one record, both parts on what they were done with.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_set_that_was_made_lighter_on_the_way_is_one_record_of_both_parts(pool: Pool) {
    let (world, _, phone) = at_work(&pool, "3 x 8-12").await;
    let pack = phone.pack().await;
    let own = &pack["stations"][0]["choices"][0];
    let at = own["at"].as_u64().unwrap() as usize;
    for (turn, to) in [(0, "lighter"), (1, "heavier")] {
        let other = own["beside"][at][turn].as_u64().unwrap() as usize;
        assert!(if turn == 0 { other < at } else { other > at });
        let fields = [("reps", "12"), ("rir", "1"), ("changed_after", "5"), ("changed_to", to)];
        assert_eq!(phone.say(&set(&pack, world.slot, turn, &fields)).await.1, taken());
        let sets = logged(&pool, &world).await;
        let (set, changed) = (sets.last().unwrap(), sets.last().unwrap().changed.as_deref().unwrap());
        assert_eq!((set.reps, changed.after), (Some(12), 5));
        assert_eq!(own["steps"][at][0], set.load.unwrap().short());
        let label = own["steps"][other][1].as_str().unwrap();
        let names = || changed.bands.iter().map(|band| band.name.as_str()).collect::<Vec<_>>().join(" + ");
        let told = changed.load.map_or_else(names, |load| load.short());
        assert!(!told.is_empty() && label.contains(&told), "{label}: {told}");
        let heavier = changed.effective_kg > set.effective_kg.unwrap();
        assert_eq!(heavier, to == "heavier");
    }
    for (after, to, reason) in [
        ("12", "lighter", "Changed: must be after 1 to 11 of the 12 repetitions, not \"12\""),
        ("", "lighter", "Changed: say after how many repetitions"),
        ("5", "sideways", "Changed: say to what: lighter or heavier"),
    ] {
        let fields = [("reps", "12"), ("rir", "1"), ("changed_after", after), ("changed_to", to)];
        let answer = phone.say(&set(&pack, world.slot, 2, &fields)).await.1;
        assert_eq!(answer, ("refused".to_owned(), reason.to_owned()));
    }
    assert_eq!(logged(&pool, &world).await.len(), 2);
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
        (with("slot", json!(new_id())), "that was not among what the phone was given"),
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

/// In a lighter week half of the sets are the whole workout, also by the phone: it is done with the last of them, not before.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_lighter_workout_is_done_with_half_of_the_sets(pool: Pool) {
    let (world, _, phone) = at_work(&pool, "4 x 8-12").await;
    sqlx::query("update workouts set light = true").execute(&pool).await.unwrap();
    let pack = phone.pack().await;
    assert_eq!(pack["turns"].as_array().unwrap().len(), 2, "{}", pack["turns"]);
    for (turn, state) in [(0, WorkoutState::UnderWay), (1, WorkoutState::Done)] {
        let (_, answer) = phone.say(&set(&pack, world.slot, turn, &[("reps", "8"), ("rir", "4")])).await;
        assert_eq!(answer, taken());
        let workouts = workouts::of_session(&pool, world.trainer, world.session).await.unwrap();
        assert_eq!(workouts.iter().map(|w| w.state).collect::<Vec<_>>(), [state], "after set {turn}");
    }
}
