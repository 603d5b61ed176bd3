//! The session on the phone over HTTP: the order of the script, what is logged, and what changed meanwhile.

use crate::common::lines::{log_as_shown, logged, now_shows, slot, take};
use crate::common::{World, desk, now, start_at, with};
use bavrek_core::dose::SetKind;
use bavrek_core::person::Side;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::script::WorkoutState;
use bavrek_store::fits;
use bavrek_store::slots::{self, Joining};
use bavrek_store::{Pool, clients, log, new_id, sessions, workouts};
use chrono::{DateTime, Utc};
use reqwest::StatusCode;
use uuid::Uuid;

fn at(text: &str) -> DateTime<Utc> {
    text.parse().unwrap()
}

/// The heaviest step of the curl: its place on the ladder and its words.
async fn heaviest(pool: &Pool, world: &World) -> (String, String) {
    let catalogue = bavrek_catalogue::load().unwrap();
    let head = bavrek_store::places::one(pool, world.trainer, world.place).await.unwrap();
    let kit = bavrek_store::kit::place(&mut bavrek_store::connection(pool).await.unwrap(), world.trainer, &head)
        .await
        .unwrap()
        .kit;
    let client = clients::one(pool, world.trainer, world.client).await.unwrap();
    let person = client.person(&[], now().date_naive());
    let ladder = bavrek_core::ladder::Ladder::of(catalogue.movement("dumbbell_curl").unwrap(), &person, &kit);
    ((ladder.steps.len() - 1).to_string(), ladder.steps.last().unwrap().label.clone())
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_superset_goes_round_and_its_clock_runs_from_when_the_set_was_done(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12 @ 3-0-1-0, rest 100 s").await;
    let block = sessions::blocks(&pool, world.trainer, world.session).await.unwrap()[0].id;
    let joining = Joining::Block(block, BlockKind::Superset);
    slot(&pool, &world, "dumbbell_floor_press", "2 x 8-12, rest 60 s", joining).await;
    let path = format!("/sessions/{}/train", world.session);
    let page = visitor.get(&path).await;
    now_shows(&page, "Slot 1 of 2 · superset · set 1 of 2");
    now_shows(&page, "Then: Dumbbell press from the floor");
    assert!(!page.text.contains("data-until"), "nobody rests before the first set");
    let mut order = Vec::new();
    for _ in 0..4 {
        let page = visitor.get(&path).await;
        let count = page.text.split("Slot ").nth(1).unwrap().split('<').next().unwrap().to_owned();
        let until = page.text.contains("data-until").then(|| {
            let from = page.text.split("data-until=\"").nth(1).unwrap();
            from.split('"').next().unwrap().parse::<i64>().unwrap() - now().timestamp()
        });
        order.push((count, until));
        assert_eq!(log_as_shown(&visitor, &world, &[("reps", "10"), ("rir", "2")]).await.status, StatusCode::OK);
    }
    let expected = [
        ("1 of 2 · superset · set 1 of 2", None),
        // Within a round only the time to set up, the weights lying there already, then to change over; a whole rest after it.
        ("2 of 2 · superset · set 1 of 2", Some(10)),
        ("1 of 2 · superset · set 2 of 2", Some(60)),
        ("2 of 2 · superset · set 2 of 2", Some(10)),
    ];
    assert_eq!(order, expected.map(|(c, u)| (c.to_owned(), u)));
    assert!(visitor.get(&path).await.text.contains("Session done"));
    let sets = logged(&pool, &world).await;
    assert_eq!(
        sets.iter().map(|s| s.exercise.as_str()).collect::<Vec<_>>(),
        ["dumbbell_curl", "dumbbell_floor_press"].repeat(2)
    );
    assert_eq!(sets[0].tempo.unwrap().to_string(), "3-0-1-0");
    assert_eq!(sets[1].tempo.unwrap().to_string(), "2-0-1-0");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn both_sides_are_one_set_and_only_its_last_goes_to_failure(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "one_arm_dumbbell_curl", "2 x 8-12, 2 in reserve, last to failure").await;
    let path = format!("/sessions/{}/train", world.session);
    let shown = [
        ("set 1 of 2 · left side", "it is new, go on until 2 are in reserve"),
        ("set 1 of 2 · right side", "it is new, go on until 2 are in reserve"),
        ("set 2 of 2 · left side", "to failure"),
        ("set 2 of 2 · right side", "to failure"),
    ];
    for (i, (count, stop)) in shown.into_iter().enumerate() {
        let page = visitor.get(&path).await;
        now_shows(&page, count);
        now_shows(&page, stop);
        let side = if i % 2 == 0 { "left" } else { "right" };
        log_as_shown(&visitor, &world, &[("reps", "10"), ("side", side)]).await;
    }
    assert!(visitor.get(&path).await.text.contains("Session done"));
    let client = visitor.get(&format!("/clients/{}", world.client)).await;
    // Two sets of work, not four.
    let weight = bavrek_catalogue::load().unwrap().movement("one_arm_dumbbell_curl").unwrap().direct
        [&bavrek_core::anatomy::Region::BicepsLong];
    let expected = bavrek_core::units::trim_number(2.0 * weight, 1);
    assert!(client.text.contains(&format!("<td>{expected} + 0</td>")), "{}", client.text);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn holds_lowering_mixed_sets_and_totals_are_asked_and_kept_as_what_they_are(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "1 x 30 s").await;
    slot(&pool, &world, "dumbbell_curl", "1 x 5-8 @ 5-0-1-0, lowering only", Joining::Alone).await;
    slot(&pool, &world, "dumbbell_curl", "1 x 4 fast + 2 held 8 s + 3 slow", Joining::Alone).await;
    slot(&pool, &world, "dumbbell_curl", "30 in as few sets as possible", Joining::Alone).await;
    let path = format!("/sessions/{}/train", world.session);

    let page = visitor.get(&path).await;
    assert!(
        page.text.contains("Seconds held")
            && page.text.contains("data-seconds=\"30\"")
            && !page.text.contains("Reps done")
    );
    let refused = log_as_shown(&visitor, &world, &[("seconds", "more"), ("seconds_typed", "soon")]).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        refused.text.contains("Seconds: must be a whole number from 1 to 900")
            && refused.text.contains("value=\"soon\"")
    );
    log_as_shown(&visitor, &world, &[("seconds", "35")]).await;

    now_shows(&visitor.get(&path).await, "Reps lowered");
    log_as_shown(&visitor, &world, &[("reps", "6"), ("rir", "2")]).await;

    let page = visitor.get(&path).await;
    now_shows(&page, "<li>4 at 1-0-X-0</li><li>2 held 8 s</li><li>3 at 5-0-4-0</li>");
    assert!(page.text.contains("Seconds held in all") && !page.text.contains("Left in the tank"));
    log_as_shown(&visitor, &world, &[("reps", "7"), ("seconds", "16")]).await;

    now_shows(&visitor.get(&path).await, "30 of 30");
    log_as_shown(&visitor, &world, &[("reps", "20"), ("rir", "0")]).await;
    now_shows(&visitor.get(&path).await, "10 of 30");
    log_as_shown(&visitor, &world, &[("reps", "10"), ("rir", "0")]).await;
    assert!(visitor.get(&path).await.text.contains("Session done"));

    let told: Vec<_> = logged(&pool, &world)
        .await
        .iter()
        .map(|s| (s.kind, s.reps, s.seconds, s.tempo.map(|t| t.to_string())))
        .collect();
    let usual = Some("2-0-1-0".to_owned());
    let expected = [
        (None, None, Some(35), None),
        (None, Some(6), None, Some("5-0-1-0".to_owned())),
        (Some(SetKind::Mixed), Some(7), Some(16), None),
        (Some(SetKind::ToTotal), Some(20), None, usual.clone()),
        (Some(SetKind::ToTotal), Some(10), None, usual),
    ];
    assert_eq!(told, expected);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_station_may_be_logged_uncounted_and_counted_later(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 30 s, as a station").await;
    let path = format!("/sessions/{}/train", world.session);
    now_shows(&visitor.get(&path).await, "Reps done, if they were counted");
    let refused = log_as_shown(&visitor, &world, &[("seconds", "30"), ("reps", "more"), ("reps_typed", "lots")]).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("Reps: must be a whole number"), "{}", refused.text);
    log_as_shown(&visitor, &world, &[("seconds", "30")]).await;
    log_as_shown(&visitor, &world, &[("seconds", "30"), ("reps", "14")]).await;
    let kept = |sets: Vec<bavrek_core::log::LoggedSet>| -> Vec<_> {
        sets.iter().map(|s| (s.kind, s.reps, s.seconds)).collect()
    };
    let station = Some(SetKind::Station);
    assert_eq!(kept(logged(&pool, &world).await), [(station, None, Some(30)), (station, Some(14), Some(30))]);
    // No call follows from what nobody counted, and none says that there were none.
    let call = visitor.get(&format!("/slots/{}/call", world.slot)).await;
    assert!(call.text.contains("not all of them counted"), "{}", call.text);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_changed_while_the_form_was_filled_in_is_asked_and_nothing_typed_is_lost(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    let path = format!("/sessions/{}/train", world.session);
    let page = visitor.get(&path).await;
    let (id, shown) = (page.hidden("id"), page.hidden("shown"));
    take(&pool, &world, world.slot, "hammer_curl", "2 x 8-12").await;
    let slot = world.slot.to_string();
    let filled = [("id", &*id), ("slot", &*slot), ("shown", &*shown), ("turn", "0"), ("reps", "11"), ("rir", "1")];
    let page = visitor.post(&path, &filled).await;
    assert_eq!(page.status, StatusCode::CONFLICT);
    assert!(page.text.contains("The page showed: <b>Standing dumbbell curl, pair of 8 kg</b>"));
    assert!(page.text.contains("It was Dumbbell curl, neutral grip") && page.text.contains("value=\"11\" checked"));
    assert!(logged(&pool, &world).await.is_empty(), "nothing is stored before it is said which");
    // A side that the page of the other movement asked for is none of this one's.
    let page = visitor.post(&path, &with(&filled, &[("as", &shown), ("side", "right")])).await;
    assert_eq!(page.status, StatusCode::OK);
    let sets = logged(&pool, &world).await;
    assert_eq!((sets[0].exercise.as_str(), sets[0].reps), ("dumbbell_curl", Some(11)));
    assert_eq!(sets[0].side, None);
    // The other answer, for the next set.
    let now = visitor.get(&path).await.hidden("shown");
    let other = new_id().to_string();
    let page = visitor.post(&path, &with(&filled, &[("id", &other), ("as", &now)])).await;
    assert_eq!(page.status, StatusCode::OK);
    assert_eq!(logged(&pool, &world).await[1].exercise, "hammer_curl");
    // What is not this slot's cannot be meant.
    let stranger = format!("{}..2026-03-10", new_id());
    let page = visitor.post(&path, &with(&filled, &[("id", &new_id().to_string()), ("as", &stranger)])).await;
    assert_eq!(page.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_form_sent_again_is_one_set_and_with_other_figures_a_conflict(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "3 x 8-12").await;
    let (id, slot) = (new_id().to_string(), world.slot.to_string());
    let path = format!("/sessions/{}/train", world.session);
    let sent = [("id", &*id), ("slot", &*slot), ("turn", "0"), ("reps", "11"), ("rir", "1")];
    for _ in 0..2 {
        assert_eq!(visitor.post(&path, &sent).await.status, StatusCode::OK);
    }
    let page = visitor.post(&path, &with(&sent, &[("reps", "9")])).await;
    assert_eq!(page.status, StatusCode::CONFLICT);
    assert!(page.text.contains("sent before with other figures") && page.text.contains("value=\"9\" checked"));
    assert_eq!(logged(&pool, &world).await.iter().map(|s| s.reps).collect::<Vec<_>>(), [Some(11)]);
    assert_ne!(page.hidden("id"), id, "sent once more it is a set of its own");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn midnight_in_between_is_asked_and_the_day_said_is_stored(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    let path = format!("/sessions/{}/train", world.session);
    let page = visitor.get(&path).await;
    let (id, shown) = (page.hidden("id"), page.hidden("shown"));
    let later = visitor.through(&start_at(pool.clone(), at("2026-03-11T00:05:00Z")).await);
    let slot = world.slot.to_string();
    let filled = [("id", &*id), ("slot", &*slot), ("shown", &*shown), ("turn", "0"), ("reps", "11"), ("rir", "1")];
    let page = later.post(&path, &filled).await;
    assert_eq!(page.status, StatusCode::CONFLICT);
    assert!(page.text.contains("yesterday"), "the page says which day it showed");
    assert_eq!(later.post(&path, &with(&filled, &[("as", &shown)])).await.status, StatusCode::OK);
    assert_eq!(logged(&pool, &world).await[0].date, now().date_naive());
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn the_second_day_shows_the_first_with_its_call(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    assert!(visitor.get(&format!("/clients/{}", world.client)).await.text.contains("Next: today"));
    for _ in 0..2 {
        log_as_shown(&visitor, &world, &[("reps", "12"), ("rir", "3")]).await;
    }
    let session = format!("/sessions/{}", world.session);
    let page = visitor.get(&session).await;
    assert!(page.text.contains("done today") && page.text.contains("2 sets"), "{}", page.text);
    let client = visitor.get(&format!("/clients/{}", world.client)).await;
    assert!(client.status == StatusCode::OK && !client.text.contains("Next: "), "what is done is not next");
    // The same session once more, a week on.
    let id = new_id().to_string();
    let plan = format!("{session}/days");
    let refused = visitor.post(&plan, &[("id", &id), ("on", "2026-03-10")]).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("stands on that day already") && refused.text.contains("value=\"2026-03-10\""));
    for (on, says) in [("", "Day: is needed"), ("soon", "is no day")] {
        let refused = visitor.post(&plan, &[("id", &id), ("on", on)]).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(refused.text.contains(says), "{on}");
    }
    for _ in 0..2 {
        assert_eq!(visitor.post(&plan, &[("id", &id), ("on", "2026-03-17")]).await.status, StatusCode::OK);
    }
    let days = workouts::of_session(&pool, world.trainer, world.session).await.unwrap();
    let told: Vec<_> = days.iter().map(|d| (d.on.to_string(), d.state, d.sets)).collect();
    assert_eq!(told, [("2026-03-17".into(), WorkoutState::Planned, 0), ("2026-03-10".into(), WorkoutState::Done, 2)]);

    let later = visitor.through(&start_at(pool.clone(), at("2026-03-17T12:00:00Z")).await);
    let page = later.get(&format!("{session}/train")).await;
    now_shows(&page, "Last time, Tue 10 Mar: 8 kg each hand × 12, 3 in reserve · 8 kg each hand × 12, 3 in reserve");
    now_shows(&page, "Next step: Add load");
    log_as_shown(&later, &world, &[("reps", "12"), ("rir", "3")]).await;
    let days = workouts::of_session(&pool, world.trainer, world.session).await.unwrap();
    assert_eq!((days[0].state, days[0].sets, days.len()), (WorkoutState::UnderWay, 1, 2));
    let call = later.get(&format!("/slots/{}/call", world.slot)).await;
    assert!(call.text.contains("Tue 10 Mar") && call.text.contains("today"), "both days are evidence");
    let script = workouts::script(&pool, world.trainer, world.session, days[0].on).await.unwrap().unwrap();
    assert_eq!(script["turns"].as_array().unwrap().len(), 2, "the script stands as it was given");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_planned_day_is_taken_out_but_not_one_with_sets_and_not_by_a_stranger(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let theirs = crate::common::world(&pool, "b@bavrek.example").await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    log_as_shown(&visitor, &world, &[("reps", "12"), ("rir", "3")]).await;
    let id = new_id();
    workouts::plan(&pool, world.trainer, world.session, id, "2026-03-17".parse().unwrap()).await.unwrap();
    let days = workouts::of_session(&pool, world.trainer, world.session).await.unwrap();
    let out = |workout: Uuid| format!("/sessions/{}/days/{workout}/remove", world.session);
    assert_eq!(visitor.post(&out(days[1].id), &[]).await.status, StatusCode::NOT_FOUND, "something was logged");
    assert_eq!(visitor.post(&out(id), &[]).await.status, StatusCode::OK);
    assert_eq!(workouts::of_session(&pool, world.trainer, world.session).await.unwrap().len(), 1);
    let strange = format!("/sessions/{}/days", theirs.session);
    let fields = [("id", &*new_id().to_string()), ("on", "2026-03-20")].map(|(n, v)| (n, v.to_owned()));
    let fields: Vec<(&str, &str)> = fields.iter().map(|(n, v)| (*n, v.as_str())).collect();
    assert_eq!(visitor.post(&strange, &fields).await.status, StatusCode::NOT_FOUND);
    assert_eq!(workouts::of_session(&pool, theirs.trainer, theirs.session).await.unwrap().len(), 1);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_late_session_moves_to_the_day_on_which_it_is_done(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "1 x 8-12").await;
    let later = visitor.through(&start_at(pool.clone(), at("2026-03-12T12:00:00Z")).await);
    let page = later.get(&format!("/sessions/{}", world.session)).await;
    assert!(page.text.contains("was due"), "{}", page.text);
    log_as_shown(&later, &world, &[("reps", "10"), ("rir", "2")]).await;
    let days = workouts::of_session(&pool, world.trainer, world.session).await.unwrap();
    let [day] = &days[..] else { panic!("{days:?}") };
    let moved = (day.on.to_string(), day.moved_from.map(|d| d.to_string()), day.state);
    assert_eq!(moved, ("2026-03-12".into(), Some("2026-03-10".into()), WorkoutState::Done));
    assert!(later.get(&format!("/sessions/{}", world.session)).await.text.contains("planned for Tue 10 Mar before"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_correction_keeps_its_place_and_time_and_the_session_stays_done(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "one_arm_dumbbell_curl", "1 x 8-12").await;
    for side in ["left", "right"] {
        log_as_shown(&visitor, &world, &[("reps", "10"), ("side", side)]).await;
    }
    let before = log::of_client(&pool, world.trainer, world.client, now().date_naive()).await.unwrap();
    let path = format!("/sessions/{}/train", world.session);
    let page = visitor.get(&format!("{path}?correct={}", before[0].id)).await;
    now_shows(&page, "correcting set 1");
    let names = ["id", "slot", "shown", "turn", "supersedes"];
    let hidden: Vec<(&str, String)> = names.iter().map(|n| (*n, page.hidden(n))).collect();
    let hidden: Vec<(&str, &str)> = hidden.iter().map(|(n, v)| (*n, v.as_str())).collect();
    let later = visitor.through(&start_at(pool.clone(), at("2026-03-10T15:00:00Z")).await);
    let page = later.post(&path, &with(&hidden, &[("reps", "8"), ("side", "left")])).await;
    assert!(page.text.contains("Session done"), "{}", page.status);
    let after = log::of_client(&pool, world.trainer, world.client, now().date_naive()).await.unwrap();
    let corrected = after.iter().find(|r| r.set.side == Some(Side::Left)).unwrap();
    assert_eq!((corrected.set.reps, corrected.done_at), (Some(8), before[0].done_at));
    assert_eq!(log::count_all(&pool, world.trainer, world.client).await.unwrap(), 3);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_set_of_another_day_is_corrected_without_reopening_it(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "1 x 8-12").await;
    log_as_shown(&visitor, &world, &[("reps", "10"), ("rir", "2")]).await;
    let first = log::of_client(&pool, world.trainer, world.client, now().date_naive()).await.unwrap()[0].id;
    let later = visitor.through(&start_at(pool.clone(), at("2026-03-12T12:00:00Z")).await);
    let path = format!("/sessions/{}/train", world.session);
    let page = later.get(&format!("{path}?correct={first}")).await;
    let names = ["id", "slot", "shown", "turn", "supersedes"];
    let hidden: Vec<(&str, String)> = names.iter().map(|n| (*n, page.hidden(n))).collect();
    let hidden: Vec<(&str, &str)> = hidden.iter().map(|(n, v)| (*n, v.as_str())).collect();
    assert_eq!(later.post(&path, &with(&hidden, &[("reps", "9"), ("rir", "1")])).await.status, StatusCode::OK);
    let days = workouts::of_session(&pool, world.trainer, world.session).await.unwrap();
    let [day] = &days[..] else { panic!("{days:?}") };
    assert_eq!((day.on, day.state, day.sets), (now().date_naive(), WorkoutState::Done, 1));
    let sets = log::of_client(&pool, world.trainer, world.client, "2026-03-12".parse().unwrap()).await.unwrap();
    assert_eq!((sets[0].set.reps, sets[0].set.date), (Some(9), now().date_naive()));
}

/// A dose that is changed and saved is in force at once, at every place, and the movement stays.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_changed_dose_takes_effect_at_once(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    let step = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap().step;
    let path = format!("/slots/{}/intent", world.slot);
    let typed = [
        ("version", "0"),
        ("pattern", "elbow_flexion"),
        ("region_biceps_long", "1"),
        ("line", "18-9-9-14 @ 3-0-1-0, 1 in reserve, last to failure, rest 75 s"),
    ];
    let page = visitor.post(&path, &typed).await;
    assert_eq!((page.status, page.address), (StatusCode::OK, format!("/sessions/{}", world.session)));
    let fit = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    assert_eq!((fit.exercise.as_str(), &fit.step), ("dumbbell_curl", &step));
    assert_eq!(fit.prescription.text(), "18-9-9-14 @ 3-0-1-0, 1 in reserve, last to failure, rest 75 s");
    now_shows(&visitor.get(&format!("/sessions/{}/train", world.session)).await, "set 1 of 4");
    let intent: Intent = slots::one(&pool, world.trainer, world.slot).await.unwrap().slot.intent;
    assert_eq!((intent.dose.reps, intent.dose.rir, intent.dose.sets), ([9, 18], 1, 4));
    // The line comes back as it was understood, and a wrong one names its word.
    assert!(
        visitor
            .get(&path)
            .await
            .text
            .contains("value=\"18-9-9-14 @ 3-0-1-0, 1 in reserve, last to failure, rest 75 s\"")
    );
    let wrong = with(&typed, &[("version", "1"), ("line", "4 x 8-10, with gusto")]);
    crate::common::assert_refused(&visitor.post(&path, &wrong).await, "with gusto", "4 x 8-10, with gusto");
    // Another job asks for another movement.
    let other = with(&typed, &[("version", "1"), ("region_biceps_long", "0"), ("region_brachialis", "1")]);
    assert_eq!(visitor.post(&path, &other).await.address, format!("/slots/{}/bench", world.slot));
}

/// Whatever changes or hardens a plan waits for a clearance; holding, easing, taking out and logging do not.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn every_write_that_hardens_a_plan_waits_for_a_clearance(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    slot(&pool, &world, "hammer_curl", "1 x 8-12", Joining::Alone).await;
    log_as_shown(&visitor, &world, &[("reps", "12"), ("rir", "3")]).await;
    let gone = slot(&pool, &world, "hammer_curl", "1 x 8-12", Joining::Alone).await;
    slots::set_removed(&pool, world.trainer, gone, true).await.unwrap();
    let asked = [
        ("id", &new_id().to_string() as &str),
        ("place_2", &world.place.to_string()),
        ("minutes_2", "30"),
        ("school", "reserve_based"),
    ];
    let week = visitor.post(&format!("/clients/{}/week", world.client), &asked).await.address;
    let (session_id, place_id, plan_id) = (world.session.to_string(), world.place.to_string(), new_id().to_string());
    let weeks = [
        ("id", plan_id.as_str()),
        ("name", "Weeks"),
        ("starts_on", "2026-03-16"),
        ("weeks", "6"),
        ("session_0", &session_id),
        ("weekday_0", "1"),
        ("at_0", &place_id),
    ];
    let plan = format!("/clients/{}/plan", world.client);
    assert_eq!(visitor.post(&plan, &weeks).await.status, StatusCode::OK);
    let answers = crate::common::answers(Some("heart"));
    let mut fields: Vec<(&str, &str)> = answers.iter().map(|(n, v)| (n.as_str(), v.as_str())).collect();
    let screening = new_id().to_string();
    fields.extend([("id", screening.as_str()), ("on", "2026-03-10")]);
    visitor.post(&format!("/clients/{}/health", world.client), &fields).await;

    let (session, one) = (format!("/sessions/{}", world.session), format!("/slots/{}", world.slot));
    let (own, heaviest) = (world.slot.to_string(), heaviest(&pool, &world).await);
    let after_set = visitor.get(&format!("{one}/call")).await.hidden("after_set");
    let (id, place, dumbbells) = (new_id().to_string(), world.place.to_string(), world.dumbbells.to_string());
    let intent = [("version", "0"), ("pattern", "elbow_flexion"), ("region_biceps_long", "1"), ("line", "3 x 8")];
    let slot_typed = [&intent[..], &[("id", id.as_str())]].concat();
    let head = [("id", &*id), ("name", "B"), ("planned_on", "2026-03-20"), ("minutes", "40"), ("place", &*place)];
    let swap = [("id", &*id), ("piece", &*dumbbells), ("why", "taken"), ("exercise", "band_curl")];
    let call = |decided| vec![("decided", decided), ("after_set", after_set.as_str())];
    let refused: Vec<(String, Vec<(&str, &str)>)> = vec![
        (format!("/clients/{}/sessions/new", world.client), head.to_vec()),
        (format!("{session}/days"), vec![("id", &id), ("on", "2026-03-20")]),
        (format!("{session}/edit"), with(&head, &[("version", "0")])),
        (format!("{session}/slots/new"), slot_typed),
        (format!("{one}/intent"), intent.to_vec()),
        (format!("{one}/fit"), vec![("exercise", "hammer_curl")]),
        (format!("{one}/spot"), swap.to_vec()),
        (format!("{one}/call"), call("add_load")),
        (format!("/slots/{gone}/restore"), vec![]),
        (format!("{session}/board"), vec![("seen", "0"), ("slot", &own), ("act", "more")]),
        (format!("{session}/board"), vec![("seen", "0"), ("slot", &own), ("act", "copy"), ("id", &id)]),
        (format!("{session}/board"), vec![("seen", "0"), ("slot", &own), ("act", "later")]),
        (format!("{session}/board/dose"), vec![("seen", "0"), ("slot", &own), ("line", "5 x 5")]),
        (
            format!("{session}/board/step"),
            vec![("seen", "0"), ("slot", &own), ("step", &heaviest.0), ("label", &heaviest.1)],
        ),
        (format!("{session}/board/turns"), vec![("seen", "0"), ("slot", &own), ("order", "0,2,1,3")]),
        (format!("{session}/board/whole"), vec![("seen", "0"), ("slot", &own), ("picks", "")]),
        (format!("{session}/school"), vec![("seen", "0"), ("method", "slow_tempo"), ("for", "size"), ("order", "on")]),
        (format!("{session}/board/undo"), vec![("seen", "0")]),
        (format!("{week}/take"), vec![("seen", "0")]),
        (plan.clone(), with(&weeks, &[("plan", &plan_id), ("version", "0"), ("weekday_0", "2")])),
        (plan.clone(), with(&weeks, &[("id", &id)])),
        (format!("{plan}/open"), vec![("week", "1")]),
        (format!("{plan}/again"), vec![("plan", &plan_id)]),
        (format!("{one}/fit"), vec![("exercise", "hammer_curl"), ("turn", "other")]),
        (format!("{session}/board/redo"), vec![("seen", "0")]),
    ];
    for (path, fields) in &refused {
        let page = visitor.post(path, fields).await;
        let main = page.text.split("<main").nth(1).unwrap_or(&page.text);
        assert!(main.contains("New plans wait for a clearance"), "{path}: {} {main}", page.status);
    }
    let stands = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    assert_eq!(stands.exercise, "dumbbell_curl");
    assert_eq!(workouts::of_session(&pool, world.trainer, world.session).await.unwrap().len(), 1);

    let set = new_id().to_string();
    let allowed: Vec<(String, Vec<(&str, &str)>)> = vec![
        (format!("{one}/call"), call("hold")),
        (format!("{one}/pin"), vec![("pinned", "1")]),
        (format!("{session}/train"), vec![("id", &set), ("slot", &own), ("reps", "8"), ("rir", "4")]),
        (format!("{session}/board"), vec![("seen", "0"), ("slot", &own), ("act", "fewer")]),
        (format!("{session}/board"), vec![("seen", "1"), ("slot", &own), ("act", "out")]),
        (format!("{one}/remove"), vec![]),
        (format!("{session}/remove"), vec![]),
    ];
    for (path, fields) in &allowed {
        assert_eq!(visitor.post(path, fields).await.status, StatusCode::OK, "{path}");
    }
    let back = visitor.post(&format!("{session}/restore"), &[]).await;
    assert!(back.text.contains("New plans wait for a clearance"), "nothing comes back before the clearance");
}

/// The roster counts days where the client lives.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn today_is_the_clients_day(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let mut client = clients::one(&pool, world.trainer, world.client).await.unwrap();
    client.time_zone = "Pacific/Auckland".into();
    clients::update(&pool, world.trainer, &client, now().date_naive()).await.unwrap();
    // In Auckland the eleventh has begun.
    let page = visitor.get("/").await;
    assert!(page.text.contains("Session, yesterday"), "{}", page.text);
}

/// A call shows every set it rests on: those of the movement wherever they were logged, and what else the slot was done with.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_call_shows_the_sets_it_rests_on(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "1 x 8-12").await;
    slot(&pool, &world, "dumbbell_curl", "1 x 8-12", Joining::Alone).await;
    for reps in ["12", "11"] {
        log_as_shown(&visitor, &world, &[("reps", reps), ("rir", "2")]).await;
    }
    let call = format!("/slots/{}/call", world.slot);
    let page = visitor.get(&call).await;
    assert!(page.text.contains("<td>12</td>") && page.text.contains("<td>11</td>"), "{}", page.text);
    assert!(page.text.contains("in another slot"));
    // Done with something else, the slot has no call yet, and says why.
    take(&pool, &world, world.slot, "hammer_curl", "1 x 8-12").await;
    let page = visitor.get(&call).await;
    assert!(page.text.contains("No call yet") && page.text.contains("Today Standing dumbbell curl was done instead."));
    assert!(page.text.contains("<td class=\"small\">Standing dumbbell curl</td>"), "{}", page.text);
}
