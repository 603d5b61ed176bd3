//! A plan over weeks over HTTP and as time goes by: begun, opened week by week, with phases, lighter weeks, trips, days off and
//! lines that alternate; what was missed moves, what was done stays.

use crate::common::{DESK, Page, Visitor, World, app_at, assert_refused, desk, now, start_at, with};
use bavrek_core::dose::Prescription;
use bavrek_core::kit::KitItem;
use bavrek_core::movement::Movement;
use bavrek_store::plans::{self, PlanDay};
use bavrek_store::{Pool, fits, kit, movements, new_id, places, sessions};
use chrono::{DateTime, Duration, NaiveDate, Utc};
use reqwest::StatusCode;
use uuid::Uuid;

/// 10 March 2026, the day of the tests, is a Tuesday; plans begin on the Monday after it.
const MONDAY: &str = "2026-03-16";

fn day(text: &str) -> NaiveDate {
    text.parse().unwrap()
}

fn on(text: &str) -> DateTime<Utc> {
    now() + Duration::days((day(text) - now().date_naive()).num_days())
}

/// A plan of six weeks: the world's session on Mondays and Thursdays in its room.
async fn ask(visitor: &Visitor, world: &World, changed: &[(&str, &str)]) -> Page {
    let (session, place, id) = (world.session.to_string(), world.place.to_string(), new_id().to_string());
    let usual = [
        ("id", id.as_str()),
        ("name", "Six weeks"),
        ("starts_on", MONDAY),
        ("weeks", "6"),
        ("light_every", ""),
        ("light_weeks", ""),
        ("missed", "move"),
        ("session_0", session.as_str()),
        ("weekday_0", "1"),
        ("at_0", place.as_str()),
        ("every_0", "week"),
        ("session_1", session.as_str()),
        ("weekday_1", "4"),
        ("at_1", place.as_str()),
        ("every_1", "week"),
    ];
    visitor.post(&format!("/clients/{}/plan", world.client), &with(&usual, changed)).await
}

async fn plan(pool: &Pool, world: &World) -> plans::Plan {
    plans::of_client(pool, world.trainer, world.client).await.unwrap().expect("a plan runs")
}

/// The same, changed: its version goes along.
async fn change(visitor: &Visitor, pool: &Pool, world: &World, changed: &[(&str, &str)]) -> Page {
    let plan = plan(pool, world).await;
    let (id, version) = (plan.id.to_string(), plan.version.to_string());
    let mut all = vec![("plan", id.as_str()), ("version", version.as_str())];
    all.extend_from_slice(changed);
    ask(visitor, world, &all).await
}

async fn days(pool: &Pool, world: &World) -> Vec<PlanDay> {
    plans::days(pool, world.trainer, plan(pool, world).await.id).await.unwrap()
}

async fn dates(pool: &Pool, world: &World) -> Vec<String> {
    days(pool, world).await.iter().map(|d| d.on.format("%-d %b").to_string()).collect()
}

/// What a day of the plan makes of itself.
async fn tend(pool: &Pool, on_day: &str) {
    bavrek_web::tend(&app_at(pool.clone(), on(on_day))).await.unwrap();
}

async fn fit(pool: &Pool, world: &World, place: Uuid) -> Option<fits::Fit> {
    fits::of_slot(pool, world.trainer, world.slot, place).await.unwrap()
}

/// The world with a movement taken for its slot.
async fn fitted(pool: &Pool) -> (World, Visitor) {
    let (world, visitor) = desk(pool).await;
    let taken = visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    assert_eq!(taken.status, StatusCode::OK, "{}", taken.text);
    (world, visitor)
}

/// Another place of the client, with bands alone.
async fn hotel(pool: &Pool, world: &World) -> Uuid {
    let id = new_id();
    places::add(pool, world.trainer, world.client, id, "Hotel", None).await.unwrap();
    let band = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#;
    let band: KitItem = serde_json::from_str(band).unwrap();
    kit::add(pool, world.trainer, id, new_id(), &band).await.unwrap();
    id
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_plan_is_begun_and_its_weeks_open_one_by_one(pool: Pool) {
    let (world, visitor) = fitted(&pool).await;
    let form = visitor.get(&format!("/clients/{}/plan", world.client)).await;
    assert!(form.status == StatusCode::OK && form.text.contains("Begin this plan"));
    let begun = ask(&visitor, &world, &[]).await;
    assert_eq!(
        (begun.status, begun.address.as_str()),
        (StatusCode::OK, format!("/clients/{}/plan", world.client).as_str())
    );
    assert!(begun.text.contains("Week 6") && begun.text.contains("Six weeks"), "{}", begun.text);
    // The tenth is six days ahead: nothing is open yet, and the session keeps its own day.
    assert!(days(&pool, &world).await.is_empty());
    tend(&pool, "2026-03-12").await;
    assert!(days(&pool, &world).await.is_empty(), "four days ahead is too early");
    tend(&pool, "2026-03-13").await;
    tend(&pool, "2026-03-13").await;
    assert_eq!(dates(&pool, &world).await, ["16 Mar", "19 Mar"]);
    // By hand, before its time; twice is once.
    for _ in 0..2 {
        let opened = visitor.post(&format!("/clients/{}/plan/open", world.client), &[("week", "2")]).await;
        assert_eq!(opened.status, StatusCode::OK);
    }
    assert_eq!(dates(&pool, &world).await, ["16 Mar", "19 Mar", "23 Mar", "26 Mar"]);
    let beyond = visitor.post(&format!("/clients/{}/plan/open", world.client), &[("week", "9")]).await;
    assert_eq!(beyond.status, StatusCode::UNPROCESSABLE_ENTITY);
}

/// A week that opens by itself knows the trainer's own movements: what is done with one stands.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_week_that_opens_leaves_an_own_movement_in_its_place(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let id = new_id();
    let own = movements::movement_id(id);
    let like = app_at(pool.clone(), now()).catalogue.movement("dumbbell_curl").unwrap().clone();
    let movement = Movement { id: own.clone(), name: "Curl as we do it".into(), ..like };
    assert!(movements::save(&pool, world.trainer, id, &movement).await.unwrap());
    let taken = visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", &own)]).await;
    assert_eq!(taken.status, StatusCode::OK, "{}", taken.text);
    ask(&visitor, &world, &[]).await;
    tend(&pool, MONDAY).await;
    assert_eq!(dates(&pool, &world).await, ["16 Mar", "19 Mar"]);
    assert_eq!(fit(&pool, &world, world.place).await.unwrap().exercise, own);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_changed_plan_lays_open_weeks_anew_and_leaves_what_was_done(pool: Pool) {
    let (world, visitor) = fitted(&pool).await;
    ask(&visitor, &world, &[]).await;
    tend(&pool, MONDAY).await;
    // Monday is done; then Thursday becomes Friday.
    let first = days(&pool, &world).await[0].clone();
    bavrek_store::workouts::set_done(&pool, world.trainer, first.id, on(MONDAY), true).await.unwrap();
    let visitor = Visitor::signed_in(&start_at(pool.clone(), on("2026-03-17")).await, DESK).await;
    let changed = change(&visitor, &pool, &world, &[("weekday_0", "2"), ("weekday_1", "5")]).await;
    assert_eq!(changed.status, StatusCode::OK);
    let after = days(&pool, &world).await;
    assert_eq!((after[0].id, after[0].state.id()), (first.id, "done"), "what was done is as it was");
    assert_eq!(dates(&pool, &world).await, ["16 Mar", "17 Mar", "20 Mar"]);
    // A stale form changes nothing.
    let version = [("plan", plan(&pool, &world).await.id.to_string()), ("version", "0".to_owned())];
    let stale: Vec<(&str, &str)> = version.iter().map(|(k, v)| (*k, v.as_str())).collect();
    assert_eq!(ask(&visitor, &world, &stale).await.status, StatusCode::CONFLICT);
    // Ended, what it planned is gone and the session keeps a day; taken up again, it is laid again.
    assert_eq!(visitor.post(&format!("/clients/{}/plan/end", world.client), &[]).await.status, StatusCode::OK);
    assert!(plans::of_client(&pool, world.trainer, world.client).await.unwrap().is_none());
    let page = visitor.get(&format!("/clients/{}/plan", world.client)).await;
    assert!(page.status == StatusCode::OK && page.text.contains("was ended"));
    let id = page.hidden("plan");
    assert_eq!(
        visitor.post(&format!("/clients/{}/plan/again", world.client), &[("plan", &id)]).await.status,
        StatusCode::OK
    );
    assert_eq!(dates(&pool, &world).await, ["16 Mar", "17 Mar", "20 Mar"]);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_was_missed_moves_within_its_week_or_is_missed(pool: Pool) {
    let (world, visitor) = fitted(&pool).await;
    ask(&visitor, &world, &[("off_from_0", "2026-03-26"), ("off_until_0", "2026-03-29")]).await;
    tend(&pool, MONDAY).await;
    tend(&pool, "2026-03-17").await;
    assert_eq!(dates(&pool, &world).await, ["17 Mar", "19 Mar"], "Monday's goes to Tuesday");
    let moved = days(&pool, &world).await;
    assert_eq!(moved[0].moved_from, Some(day(MONDAY)));
    tend(&pool, "2026-03-20").await;
    tend(&pool, "2026-03-24").await;
    let states: Vec<String> = days(&pool, &world).await.iter().map(|d| d.state.id().to_owned()).collect();
    // The first week is over with nothing done; of the second the Thursday is off, so it lies on the Wednesday before it.
    assert_eq!(states, ["missed", "missed", "planned", "planned"]);
    assert_eq!(dates(&pool, &world).await[2..], ["24 Mar", "25 Mar"]);
}

/// The dose that the phone and the board give on the day of the next workout.
async fn asked(visitor: &Visitor, world: &World) -> (String, String) {
    let board = visitor.get(&format!("/sessions/{}", world.session)).await;
    let phone = visitor.get(&format!("/sessions/{}/train", world.session)).await;
    assert_eq!((board.status, phone.status), (StatusCode::OK, StatusCode::OK));
    (board.text, phone.text)
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_lighter_week_halves_the_sets_for_its_days_alone(pool: Pool) {
    let (world, visitor) = fitted(&pool).await;
    ask(&visitor, &world, &[("light_weeks", "2")]).await;
    tend(&pool, MONDAY).await;
    let usual = fit(&pool, &world, world.place).await.unwrap().prescription;
    let light = bavrek_core::calendar::light_dose(&usual);
    assert!(light.sets.len() < usual.sets.len());
    let text = |dose: &Prescription| dose.loaded(None).text();
    let in_week = async |monday: &str| {
        tend(&pool, monday).await;
        let visitor = Visitor::signed_in(&start_at(pool.clone(), on(monday)).await, DESK).await;
        asked(&visitor, &world).await
    };
    let (board, phone) = in_week(MONDAY).await;
    let given = |dose: &Prescription| format!("0 of {} sets logged", dose.sets.len());
    assert!(board.contains(&text(&usual)) && phone.contains(&given(&usual)), "{}", text(&usual));
    assert!(!board.contains("A lighter week"));
    let (board, phone) = in_week("2026-03-23").await;
    assert!(board.contains(&text(&usual)) && board.contains("A lighter week"));
    assert!(phone.contains(&given(&light)) && phone.contains("stop with 4 in reserve"), "{}", text(&light));
    assert_eq!(fit(&pool, &world, world.place).await.unwrap().prescription, usual, "the line's own dose is as it was");
    let (board, phone) = in_week("2026-03-30").await;
    assert!(phone.contains(&given(&usual)) && !board.contains("A lighter week"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_trip_is_fitted_there_and_home_is_as_it_was(pool: Pool) {
    let (world, visitor) = fitted(&pool).await;
    let hotel = hotel(&pool, &world).await;
    let at = hotel.to_string();
    let trip = [("trip_from_0", "2026-03-23"), ("trip_until_0", "2026-03-24"), ("trip_at_0", at.as_str())];
    let begun = ask(&visitor, &world, &trip).await;
    assert!(begun.status == StatusCode::OK && begun.text.contains("at Hotel from"));
    let home = fit(&pool, &world, world.place).await.unwrap();
    tend(&pool, "2026-03-16").await;
    let place = async || sessions::head(&pool, world.trainer, world.session).await.unwrap().place_id;
    assert_eq!((place().await, fit(&pool, &world, hotel).await), (world.place, None));
    tend(&pool, "2026-03-20").await;
    let there = fit(&pool, &world, hotel).await.expect("the line has something there");
    assert_ne!(there.exercise, home.exercise, "there are no dumbbells");
    let notes = plans::opened(&pool, world.trainer, plan(&pool, &world).await.id).await.unwrap()[1].notes.clone();
    assert!(notes.iter().any(|n| n.contains("Session at Hotel")), "{notes:?}");
    // On the Monday of the trip it is done there, on the Thursday after it at home, with what was done there before.
    tend(&pool, "2026-03-23").await;
    assert_eq!(place().await, hotel);
    let away: Vec<Uuid> = days(&pool, &world).await.iter().filter(|d| d.week == 2).map(|d| d.place).collect();
    assert_eq!(away, [hotel, world.place]);
    tend(&pool, "2026-03-30").await;
    assert_eq!((place().await, fit(&pool, &world, world.place).await.unwrap()), (world.place, home));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_phase_doses_its_weeks_by_its_school_and_says_what_became_of_each_line(pool: Pool) {
    let (world, visitor) = fitted(&pool).await;
    let phases = [("phase_0", "2"), ("school_0", "high_rep_band")];
    assert_eq!(ask(&visitor, &world, &phases).await.status, StatusCode::OK);
    tend(&pool, MONDAY).await;
    let before = fit(&pool, &world, world.place).await.unwrap();
    let method = async || sessions::head(&pool, world.trainer, world.session).await.unwrap().method;
    assert_eq!(method().await, None);
    // The week opens on Friday; the days before its Monday are still done as they were.
    tend(&pool, "2026-03-20").await;
    assert_eq!((method().await, fit(&pool, &world, world.place).await.unwrap()), (None, before.clone()));
    tend(&pool, "2026-03-23").await;
    let after = fit(&pool, &world, world.place).await.unwrap();
    assert_eq!(method().await.map(bavrek_core::method::Method::id), Some("high_rep_band"));
    assert_ne!(after.prescription.loaded(None), before.prescription.loaded(None));
    assert_eq!(after.exercise, before.exercise, "the movement goes on");
    let page = visitor.get(&format!("/clients/{}/plan", world.client)).await;
    let told = after.prescription.loaded(None);
    assert!(page.text.contains("from here High-rep band") && page.text.contains("was "), "{}", told.text());
    // Dosed once, it is not dosed again: what the trainer changes after that stands.
    let line =
        [("seen", "2"), ("slot", &*world.slot.to_string()), ("line", "5 x 5 @ 3-0-1-0, 2 in reserve, rest 150 s")];
    let seen = bavrek_store::boards::standing(&pool, world.trainer, world.session).await.unwrap().seq.to_string();
    let changed =
        visitor.post(&format!("/sessions/{}/board/dose", world.session), &with(&line, &[("seen", &seen)])).await;
    assert_eq!(changed.status, StatusCode::OK);
    let own = fit(&pool, &world, world.place).await.unwrap();
    assert_eq!(own.prescription.sets.len(), 5);
    tend(&pool, "2026-03-24").await;
    tend(&pool, "2026-03-30").await;
    assert_eq!(fit(&pool, &world, world.place).await.unwrap(), own);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_line_alternates_by_week_each_with_its_own_step(pool: Pool) {
    let (world, visitor) = fitted(&pool).await;
    ask(&visitor, &world, &[]).await;
    let bench = visitor.get(&format!("/slots/{}/bench?pick=hammer_curl", world.slot)).await;
    assert!(bench.status == StatusCode::OK && bench.text.contains("For weeks 2, 4, 6 only"));
    let other = [("exercise", "hammer_curl"), ("turn", "other")];
    assert_eq!(visitor.post(&format!("/slots/{}/fit", world.slot), &other).await.status, StatusCode::OK);
    let now_done = async || fit(&pool, &world, world.place).await.unwrap().exercise;
    tend(&pool, MONDAY).await;
    assert_eq!(now_done().await, "dumbbell_curl");
    tend(&pool, "2026-03-20").await;
    tend(&pool, "2026-03-23").await;
    assert_eq!(now_done().await, "hammer_curl");
    let later = Visitor::signed_in(&start_at(pool.clone(), on("2026-03-23")).await, DESK).await;
    let (board, phone) = asked(&later, &world).await;
    let hammer = "Dumbbell curl, neutral grip";
    assert!(board.contains(hammer), "the board");
    assert!(phone.contains(hammer), "the phone");
    // A step taken now is that of the second week's movement alone.
    tend(&pool, "2026-03-30").await;
    assert_eq!(now_done().await, "dumbbell_curl");
    let page = visitor.get(&format!("/clients/{}/plan", world.client)).await;
    assert!(page.text.contains("Lines that alternate") && page.text.contains("Dumbbell curl, neutral grip"));
    let end = [("place", world.place.to_string())];
    let end: Vec<(&str, &str)> = end.iter().map(|(k, v)| (*k, v.as_str())).collect();
    visitor.post(&format!("/slots/{}/alternate/end", world.slot), &end).await;
    tend(&pool, "2026-04-06").await;
    assert_eq!(now_done().await, "dumbbell_curl");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn wrong_rows_are_said_beside_them_and_kept(pool: Pool) {
    let (world, visitor) = fitted(&pool).await;
    let thirty = ask(&visitor, &world, &[("weeks", "30")]).await;
    assert_refused(&thirty, "Weeks: must be 4 to 12", "value=\"30\"");
    let tuesday = ask(&visitor, &world, &[("starts_on", "2026-03-17")]).await;
    assert_refused(&tuesday, "First Monday: must be a Monday: 16 Mar or 23 Mar", "value=\"2026-03-17\"");
    let word = ask(&visitor, &world, &[("weeks", "some")]).await;
    assert_refused(&word, "is not a whole number", "value=\"some\"");
    let phase = ask(&visitor, &world, &[("phase_0", "9"), ("school_0", "slow_tempo")]).await;
    assert_refused(&phase, "must be 1 to 6", "value=\"9\"");
    let nowhere = ask(&visitor, &world, &[("at_0", "")]).await;
    assert_refused(&nowhere, "choose one", "value=\"Six weeks\"");
    let trip = ask(&visitor, &world, &[("trip_from_0", "2026-03-24"), ("trip_until_0", "2026-03-20")]).await;
    assert_refused(&trip, "lies before the first day", "value=\"2026-03-24\"");
    let nothing = ask(&visitor, &world, &[("session_0", ""), ("session_1", "")]).await;
    assert_refused(&nothing, "put 1 to 14 sessions on weekdays", "value=\"Six weeks\"");
    assert!(plans::of_client(&pool, world.trainer, world.client).await.unwrap().is_none(), "nothing was begun");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_the_plan_hangs_on_is_said_and_the_phone_has_what_stands_ready(pool: Pool) {
    let (world, visitor) = fitted(&pool).await;
    let band = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#;
    let band: KitItem = serde_json::from_str(band).unwrap();
    kit::add(&pool, world.trainer, world.place, new_id(), &band).await.unwrap();
    let page = visitor.get(&format!("/clients/{}/spares", world.client)).await;
    assert!(page.status == StatusCode::OK && page.text.contains("nothing alone"));
    let phone = async |visitor: &Visitor| visitor.get(&format!("/sessions/{}/train", world.session)).await.text;
    assert!(!phone(&visitor).await.contains("Ready instead"), "nothing is kept yet");
    assert_eq!(visitor.post(&format!("/clients/{}/spares", world.client), &[]).await.status, StatusCode::OK);
    assert!(phone(&visitor).await.contains("Ready instead: "));
    // A week that opens keeps them by itself; what was found for another movement is none.
    let other = [("exercise", "hammer_curl")];
    visitor.post(&format!("/slots/{}/fit", world.slot), &other).await;
    assert!(!phone(&visitor).await.contains("Ready instead"));
    ask(&visitor, &world, &[]).await;
    tend(&pool, MONDAY).await;
    let later = Visitor::signed_in(&start_at(pool.clone(), on(MONDAY)).await, DESK).await;
    assert!(phone(&later).await.contains("Ready instead: "));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_is_done_ahead_of_its_day_is_that_day_and_what_was_taken_out_is_planned_no_more(pool: Pool) {
    let (world, visitor) = fitted(&pool).await;
    ask(&visitor, &world, &[("weekday_0", "5"), ("session_1", "")]).await;
    tend(&pool, MONDAY).await;
    assert_eq!(dates(&pool, &world).await, ["20 Mar"]);
    // Friday's is begun on Wednesday: it moves, and nothing is left for Friday.
    let start = bavrek_store::workouts::Start {
        session: world.session,
        place: world.place,
        today: day("2026-03-18"),
        now: on("2026-03-18"),
        script: &serde_json::json!([]),
    };
    bavrek_store::workouts::begin(&pool, world.trainer, &start).await.unwrap();
    assert_eq!(dates(&pool, &world).await, ["18 Mar"]);
    sessions::set_removed(&pool, world.trainer, world.session, true).await.unwrap();
    tend(&pool, "2026-03-20").await;
    assert_eq!(dates(&pool, &world).await, ["18 Mar"], "the second week has nothing of it");
}

/// Days that a trainer plans by hand beside a plan that runs stay; those from before it are taken over.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_day_planned_by_hand_beside_the_plan_stays(pool: Pool) {
    let (world, visitor) = fitted(&pool).await;
    ask(&visitor, &world, &[]).await;
    tend(&pool, MONDAY).await;
    let extra = [("id", new_id().to_string()), ("on", "2026-03-28".to_owned())];
    let extra: Vec<(&str, &str)> = extra.iter().map(|(k, v)| (*k, v.as_str())).collect();
    assert_eq!(visitor.post(&format!("/sessions/{}/days", world.session), &extra).await.status, StatusCode::OK);
    tend(&pool, "2026-03-20").await;
    change(&visitor, &pool, &world, &[("weekday_0", "2")]).await;
    let all = bavrek_store::workouts::of_session(&pool, world.trainer, world.session).await.unwrap();
    let planned: Vec<String> = all.iter().map(|d| d.on.to_string()).collect();
    assert!(planned.contains(&"2026-03-28".to_owned()), "{planned:?}");
    assert!(!planned.contains(&"2026-03-10".to_owned()), "what stood before the plan is the plan's: {planned:?}");
}

/// The first answer of the swap page, and what the phone asks for once it was taken.
async fn swapped_on(pool: &Pool, world: &World, monday: &str) -> (String, String) {
    tend(pool, monday).await;
    let visitor = Visitor::signed_in(&start_at(pool.clone(), on(monday)).await, DESK).await;
    let path = format!("/slots/{}/spot", world.slot);
    let page = visitor.get(&format!("{path}?hurts=elbow&side=left")).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    let shown = page.text.split("<span class=\"figure\">").nth(1).and_then(|rest| rest.split('<').next()).unwrap();
    let (id, exercise) = (page.hidden("id"), page.hidden("exercise"));
    let fields = [("id", &*id), ("exercise", &exercise), ("hurts", "elbow"), ("side", "left")];
    assert_eq!(visitor.post(&path, &fields).await.status, StatusCode::OK);
    (shown.to_owned(), visitor.get(&format!("/sessions/{}/train", world.session)).await.text)
}

/// A swap is made for its day: lighter once where that is, and as it was shown.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_swap_in_a_lighter_week_is_lighter_once(pool: Pool) {
    let (world, visitor) = fitted(&pool).await;
    ask(&visitor, &world, &[("light_weeks", "2")]).await;
    let (usual, first) = swapped_on(&pool, &world, MONDAY).await;
    let (light, second) = swapped_on(&pool, &world, "2026-03-23").await;
    let kept: Vec<(String, i32)> = sqlx::query_as(
        "select step ->> 'label', jsonb_array_length(prescription -> 'sets') from spot_swaps order by swapped_on",
    )
    .fetch_all(&pool)
    .await
    .unwrap();
    let [(before, sets), (then, fewer)] = kept.try_into().unwrap();
    assert_eq!((&before, &then), (&usual, &light));
    assert!(first.contains(&format!("0 of {sets} sets logged")));
    assert_eq!(usize::try_from(fewer).unwrap(), usize::try_from(sets).unwrap().div_ceil(2));
    assert!(second.contains(&format!("0 of {fewer} sets logged")) && second.contains("4 in reserve"), "{second}");
}

/// What is logged in a lighter week asks for no next step, unless it hurt.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_lighter_week_asks_for_no_step_but_pain_in_it_does(pool: Pool) {
    let (world, visitor) = fitted(&pool).await;
    ask(&visitor, &world, &[("light_weeks", "1")]).await;
    tend(&pool, MONDAY).await;
    let visitor_then = Visitor::signed_in(&start_at(pool.clone(), on(MONDAY)).await, DESK).await;
    let log = async |pain: &str| {
        let path = format!("/sessions/{}/train", world.session);
        let page = visitor_then.get(&format!("{path}?slot={}", world.slot)).await;
        let hidden = ["id", "slot", "shown", "turn"].map(|name| (name, page.hidden(name)));
        let at = if pain == "0" { "" } else { "elbow" };
        let typed = [("reps", "10"), ("rir", "4"), ("pain", pain), ("pain_at", at)];
        let hidden = hidden.iter().map(|(name, value)| (*name, value.as_str()));
        let fields: Vec<(&str, &str)> = hidden.chain(typed).collect();
        assert_eq!(visitor_then.post(&path, &fields).await.status, StatusCode::OK);
    };
    let call = async || visitor_then.get(&format!("/slots/{}/call", world.slot)).await;
    let roster = async || visitor_then.get("/").await.text.contains("1 call");
    log("0").await;
    let page = call().await;
    assert!(page.status == StatusCode::OK && page.text.contains("No call yet"));
    assert!(!roster().await, "nothing waits");
    log("5").await;
    let page = call().await;
    assert!(page.status == StatusCode::OK && !page.text.contains("No call yet"), "pain is no less in a lighter week");
}
