//! Taking a client in, as it is stored: versions, histories, undo, screening, aims, and nobody else's rows.

use crate::common::{World, day, entry, fit, intent, noon, set, step, world};
use bavrek_core::aims::{Aim, Aims, Goal, RegionAim};
use bavrek_core::anatomy::Region;
use bavrek_core::kit::improvised::StabilityCheck;
use bavrek_core::kit::{Anchor, KitItem, Plain, Rings};
use bavrek_core::log::LoggedSet;
use bavrek_core::notes::NoteKind;
use bavrek_core::person::{AgeBand, Experience, Limit, Side};
use bavrek_core::plan::BlockKind;
use bavrek_core::script::WorkoutState;
use bavrek_core::units::{Kilograms, MassUnit, Metres};
use bavrek_store::aims::DatedAims;
use bavrek_store::clients::{self, Client};
use bavrek_store::health::{Clearance, Screening};
use bavrek_store::limits::{self, DatedLimit};
use bavrek_store::log::{self, NewSet, Source, ToldSet};
use bavrek_store::observations::{self, Observation};
use bavrek_store::roster::{self, Order, RosterPage, Show, Wanted};
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::{Pool, StoreError, aims, connection, fits, health, kit, new_id, places};

fn limit(json: &str) -> DatedLimit {
    let rule: Limit = serde_json::from_str(json).unwrap();
    DatedLimit { id: new_id(), rule, since: day("2026-03-01"), until: None, note: String::new() }
}

const SORE: &str = r#"{"joint":"elbow","what":"pain_loaded","side":"left","severity":"mild"}"#;
const WORSE: &str = r#"{"joint":"elbow","what":"pain_loaded","side":"left","severity":"severe"}"#;

#[sqlx::test(migrations = "./migrations")]
async fn a_profile_is_kept_whole_and_sent_twice_is_one_client(pool: Pool) {
    let world = world(&pool, "a").await;
    let client = Client {
        age_band: Some(AgeBand::From40To59),
        aim: Some(Goal::StrengthWithSize),
        goal: "Stärker 💪".into(),
        days_a_week: Some(3),
        minutes: Some(45),
        time_zone: "Europe/Lisbon".into(),
        mass_unit: MassUnit::Lb,
        contact: "odd@bavrek.example".into(),
        note: "ñ".repeat(5000),
        ..Client::new("Zoë 🏋", Kilograms(71.2), Metres(1.7), Experience::Novice)
    };
    for _ in 0..2 {
        assert_eq!(clients::add(&pool, world.trainer, &client, day("2026-03-10")).await.unwrap(), client.id);
    }
    assert_eq!(clients::one(&pool, world.trainer, client.id).await.unwrap(), client);
    assert_eq!(clients::masses(&pool, world.trainer, client.id).await.unwrap().len(), 1);
}

#[sqlx::test(migrations = "./migrations")]
async fn the_second_of_two_tabs_is_told(pool: Pool) {
    let world = world(&pool, "a").await;
    let seen = clients::one(&pool, world.trainer, world.client).await.unwrap();
    let first = Client { body_mass: Kilograms(71.0), ..seen.clone() };
    clients::update(&pool, world.trainer, &first, day("2026-03-09")).await.unwrap();
    let second = Client { note: "from the other tab".into(), ..seen };
    let refused = clients::update(&pool, world.trainer, &second, day("2026-03-10")).await;
    assert!(matches!(refused, Err(StoreError::Conflict)));
    let now = clients::one(&pool, world.trainer, world.client).await.unwrap();
    assert_eq!((now.version, now.body_mass, now.note.as_str()), (2, Kilograms(71.0), ""));
    let again = Client { note: "seen".into(), ..now };
    clients::update(&pool, world.trainer, &again, day("2026-03-10")).await.unwrap();
    // Only a changed mass goes into the history.
    let masses = clients::masses(&pool, world.trainer, world.client).await.unwrap();
    let kg: Vec<_> = masses.iter().map(|m| (m.on, m.mass.value())).collect();
    assert_eq!(kg, [(day("2026-03-09"), 71.0), (day("2026-03-01"), 70.0)]);
}

#[sqlx::test(migrations = "./migrations")]
async fn a_client_put_away_comes_back_with_everything(pool: Pool) {
    let world = world(&pool, "a").await;
    let names = |show| {
        let wanted = Wanted { show, ..Wanted::default() };
        let pool = pool.clone();
        async move { roster::page(&pool, world.trainer, noon("2026-03-10"), &wanted).await.unwrap().total }
    };
    clients::set_archived(&pool, world.trainer, world.client, true).await.unwrap();
    assert_eq!((names(Show::All).await, names(Show::Archived).await), (0, 1));
    assert!(clients::one(&pool, world.trainer, world.client).await.unwrap().archived);
    assert!(places::all(&pool, world.trainer).await.unwrap().is_empty(), "not offered elsewhere");
    clients::set_archived(&pool, world.trainer, world.client, false).await.unwrap();
    assert_eq!((names(Show::All).await, names(Show::Archived).await), (1, 0));
    assert_eq!(sessions::of_client(&pool, world.trainer, world.client).await.unwrap().len(), 1);
}

#[sqlx::test(migrations = "./migrations")]
async fn a_changed_limit_keeps_its_history(pool: Pool) {
    let World { trainer, client, .. } = world(&pool, "a").await;
    let (sore, worse) = (limit(SORE), limit(WORSE));
    limits::add(&pool, trainer, client, &sore).await.unwrap();
    limits::add(&pool, trainer, client, &sore).await.unwrap();
    limits::change(&pool, trainer, client, sore.id, &worse).await.unwrap();
    let stand = |pool: Pool| async move { limits::of_client(&pool, trainer, client).await.unwrap() };
    assert_eq!(stand(pool.clone()).await, std::slice::from_ref(&worse));
    // Another tab that still shows the old one.
    let other = limits::change(&pool, trainer, client, sore.id, &limit(SORE)).await;
    assert!(matches!(other, Err(StoreError::Conflict)), "{other:?}");
    limits::set_removed(&pool, trainer, client, worse.id, true).await.unwrap();
    assert!(stand(pool.clone()).await.is_empty(), "removing the new one does not bring the old one back");
    assert!(matches!(limits::change(&pool, trainer, client, worse.id, &limit(SORE)).await, Err(StoreError::Conflict)));
    let past = limits::history(&pool, trainer, client).await.unwrap();
    assert_eq!(past.iter().map(|p| p.removed_at.is_some()).collect::<Vec<_>>(), [true, false]);
    limits::set_removed(&pool, trainer, client, worse.id, false).await.unwrap();
    assert_eq!(stand(pool.clone()).await, [worse]);
}

fn screening(refers: bool, on: &str) -> Screening {
    Screening {
        id: new_id(),
        on: day(on),
        answers: [("heart".to_owned(), refers)].into(),
        refers,
        note: String::new(),
        clearance: None,
    }
}

#[sqlx::test(migrations = "./migrations")]
async fn a_screening_stops_new_plans_until_somebody_clears_it(pool: Pool) {
    let world = world(&pool, "a").await;
    let World { trainer, client, .. } = world;
    let head = SessionHead {
        id: client,
        client_id: client,
        place_id: world.place,
        name: "More".into(),
        planned_on: day("2026-03-12"),
        state: WorkoutState::Planned,
        turn: bavrek_core::calendar::Turn::Usual,
        light: false,
        minutes: 30,
        method: None,
        follows: None,
        version: 0,
    };
    let plan = [(BlockKind::Straight, vec![intent()])];
    let (ten, dose) = (step(10.0), intent().dose.prescription());
    health::add(&pool, trainer, client, &screening(false, "2026-03-01")).await.unwrap();
    sessions::add(&pool, trainer, &head, &plan).await.unwrap();
    let yes = screening(true, "2026-03-09");
    health::add(&pool, trainer, client, &yes).await.unwrap();
    assert!(matches!(sessions::add(&pool, trainer, &head, &plan).await, Err(StoreError::ClearanceNeeded)));
    let taken = fits::take(&pool, trainer, &fit(&world, "dumbbell_curl", &ten, &dose)).await;
    assert!(matches!(taken, Err(StoreError::ClearanceNeeded)));
    let line = &roster::page(&pool, trainer, noon("2026-03-10"), &Wanted { show: Show::Stopped, ..Wanted::default() })
        .await
        .unwrap()
        .lines[0];
    assert!(line.stopped);

    let clearance = Clearance { given_by: "Dr Nobody".into(), given_on: day("2026-03-10"), note: "light first".into() };
    let id = new_id();
    for _ in 0..2 {
        health::clear(&pool, trainer, client, yes.id, id, &clearance).await.unwrap();
    }
    assert!(matches!(
        health::clear(&pool, trainer, client, new_id(), new_id(), &clearance).await,
        Err(StoreError::NotFound)
    ));
    let all = health::of_client(&pool, trainer, client).await.unwrap();
    assert_eq!((all.len(), all[0].clearance.as_ref(), all[0].stops()), (2, Some(&clearance), false));
    sessions::add(&pool, trainer, &head, &plan).await.unwrap();
    // A later screening counts anew.
    health::add(&pool, trainer, client, &screening(true, "2026-03-10")).await.unwrap();
    assert!(matches!(sessions::add(&pool, trainer, &head, &plan).await, Err(StoreError::ClearanceNeeded)));
}

#[sqlx::test(migrations = "./migrations")]
async fn an_improvised_thing_is_used_after_its_check_only(pool: Pool) {
    let World { trainer, place, .. } = world(&pool, "a").await;
    let (chair, bars) = (new_id(), new_id());
    kit::add(&pool, trainer, place, chair, &KitItem::Chair(Plain {})).await.unwrap();
    kit::add(&pool, trainer, place, bars, &KitItem::DipBars(Plain {})).await.unwrap();
    let usable = |pool: Pool| async move {
        let head = places::one(&pool, trainer, place).await.unwrap();
        kit::place(&mut connection(&pool).await.unwrap(), trainer, &head)
            .await
            .unwrap()
            .kit
            .iter()
            .map(KitItem::kind)
            .collect::<Vec<_>>()
    };
    assert_eq!(usable(pool.clone()).await, ["dip_bars"]);
    for (holds, slips, expected) in [(true, true, 1), (false, false, 1), (true, false, 2)] {
        let check = StabilityCheck { holds, slips, on: day("2026-03-10") };
        kit::answer(&pool, trainer, place, chair, check).await.unwrap();
        assert_eq!(usable(pool.clone()).await.len(), expected, "{check:?}");
    }
    // A copied room is looked at anew.
    let copy = new_id();
    for _ in 0..2 {
        places::copy(&pool, trainer, place, copy, "Copy").await.unwrap();
    }
    let pieces = kit::pieces(&pool, trainer, copy).await.unwrap();
    assert_eq!(pieces.iter().map(kit::Piece::usable).collect::<Vec<_>>(), [false, true]);
}

#[sqlx::test(migrations = "./migrations")]
async fn a_moved_anchor_is_dated_and_two_tabs_do_not_overwrite_each_other(pool: Pool) {
    let World { trainer, place, .. } = world(&pool, "a").await;
    let anchor = |h| KitItem::Anchor(Anchor { heights_m: vec![h], door: Some(true), ..Anchor::default() });
    let (first, second, third) = (new_id(), new_id(), new_id());
    kit::add(&pool, trainer, place, first, &anchor(1.2)).await.unwrap();
    let check = StabilityCheck { holds: true, slips: false, on: day("2026-03-10") };
    kit::answer(&pool, trainer, place, first, check).await.unwrap();
    for _ in 0..2 {
        kit::replace(&pool, trainer, place, first, second, &anchor(1.4)).await.unwrap();
    }
    let late = kit::replace(&pool, trainer, place, first, third, &anchor(0.9)).await;
    assert!(matches!(late, Err(StoreError::Conflict)));
    let pieces = kit::pieces(&pool, trainer, place).await.unwrap();
    assert_eq!(
        pieces.iter().map(|p| (p.id, p.item.heights(), p.usable())).collect::<Vec<_>>(),
        [(second, vec![1.4], true)]
    );
    sqlx::query("update kit_items set added_at = '2026-01-05T10:00Z' where id = $1")
        .bind(first)
        .execute(&pool)
        .await
        .unwrap();
    let history = kit::history(&pool, trainer, place).await.unwrap();
    let then = |date: &str| kit::on_day(&history, day(date)).iter().map(|p| p.item.heights()[0]).collect::<Vec<_>>();
    assert_eq!((then("2026-01-04").len(), then("2026-01-05")), (0, vec![1.2]));
    assert_eq!(then("9999-01-01"), [1.4]);
}

#[sqlx::test(migrations = "./migrations")]
async fn many_items_come_together_or_not_at_all(pool: Pool) {
    let (mine, other) = (world(&pool, "a").await, world(&pool, "b").await);
    let rings = KitItem::Rings(Rings { max_height_m: Metres(2.0) });
    let items = [(new_id(), rings.clone()), (new_id(), KitItem::Chair(Plain {}))];
    assert!(matches!(kit::add_all(&pool, mine.trainer, other.place, &items).await, Err(StoreError::NotFound)));
    for _ in 0..2 {
        kit::add_all(&pool, mine.trainer, mine.place, &items).await.unwrap();
    }
    assert_eq!(kit::pieces(&pool, mine.trainer, mine.place).await.unwrap().len(), 2);
}

#[sqlx::test(migrations = "./migrations")]
async fn a_place_that_a_plan_uses_is_not_removed_but_put_away_or_left(pool: Pool) {
    let World { trainer, client, place, session, .. } = world(&pool, "a").await;
    let other = new_id();
    places::add(&pool, trainer, client, other, "Garage", None).await.unwrap();
    assert!(matches!(places::remove(&pool, trainer, place).await, Err(StoreError::Conflict)));
    places::set_archived(&pool, trainer, place, true).await.unwrap();
    let listed = places::of_client(&pool, trainer, client).await.unwrap();
    assert_eq!(
        listed.iter().map(|p| (p.name.as_str(), p.archived)).collect::<Vec<_>>(),
        [("Garage", false), ("P", true)]
    );
    assert_eq!(sessions::at_place(&pool, trainer, place).await.unwrap().len(), 1);
    fits::refit(&pool, trainer, client, &[session], [place, other], &[]).await.unwrap();
    assert_eq!(sessions::head(&pool, trainer, session).await.unwrap().place_id, other);
    places::remove(&pool, trainer, place).await.unwrap();
    assert_eq!(places::of_client(&pool, trainer, client).await.unwrap().len(), 1);
    places::restore(&pool, trainer, place).await.unwrap();
    places::set_archived(&pool, trainer, place, false).await.unwrap();
    assert_eq!(places::of_client(&pool, trainer, client).await.unwrap().len(), 2);
    let seen = places::one(&pool, trainer, place).await.unwrap();
    places::rename(&pool, trainer, place, seen.version, "Hall").await.unwrap();
    assert!(matches!(places::rename(&pool, trainer, place, seen.version, "Barn").await, Err(StoreError::Conflict)));
    assert_eq!(places::one(&pool, trainer, place).await.unwrap().name, "Hall");
}

#[sqlx::test(migrations = "./migrations")]
async fn sessions_move_to_the_same_clients_places_only(pool: Pool) {
    let (mine, other) = (world(&pool, "a").await, world(&pool, "b").await);
    let to =
        async |place| fits::refit(&pool, mine.trainer, mine.client, &[mine.session], [mine.place, place], &[]).await;
    assert!(matches!(to(other.place).await, Err(StoreError::NotFound)));
    let stranger = Client::new("Another", Kilograms(70.0), Metres(1.7), Experience::Novice);
    clients::add(&pool, mine.trainer, &stranger, day("2026-03-01")).await.unwrap();
    let theirs = new_id();
    places::add(&pool, mine.trainer, stranger.id, theirs, "Elsewhere", None).await.unwrap();
    assert!(matches!(to(theirs).await, Err(StoreError::NotFound)));
    let strangers =
        fits::refit(&pool, mine.trainer, mine.client, &[other.session], [mine.place, mine.place], &[]).await;
    assert!(matches!(strangers, Err(StoreError::NotFound)));
    assert_eq!(sessions::head(&pool, mine.trainer, mine.session).await.unwrap().place_id, mine.place);
}

#[sqlx::test(migrations = "./migrations")]
async fn aims_follow_each_other_and_two_tabs_do_not_fork_them(pool: Pool) {
    let World { trainer, client, .. } = world(&pool, "a").await;
    let with = |aim| DatedAims {
        id: new_id(),
        aims: Aims { goal: None, regions: [(Region::Lats, RegionAim { aim, sets: Some([8.0, 12.0]) })].into() },
        on: day("2026-03-10"),
    };
    let (first, second) = (with(Aim::Grow), with(Aim::Focus));
    aims::set(&pool, trainer, client, None, &first).await.unwrap();
    aims::set(&pool, trainer, client, None, &first).await.unwrap();
    assert!(matches!(aims::set(&pool, trainer, client, None, &second).await, Err(StoreError::Conflict)));
    aims::set(&pool, trainer, client, Some(first.id), &second).await.unwrap();
    let forked = aims::set(&pool, trainer, client, Some(first.id), &with(Aim::Keep)).await;
    assert!(matches!(forked, Err(StoreError::Conflict)));
    assert_eq!(aims::of_client(&pool, trainer, client).await.unwrap(), [second, first]);
}

#[sqlx::test(migrations = "./migrations")]
async fn told_sets_are_evidence_until_withdrawn_and_no_row_is_lost(pool: Pool) {
    let world = world(&pool, "a").await;
    let World { trainer, client, .. } = world;
    let told = set("2026-03-08", 12);
    let id = new_id();
    let new = ToldSet { id, client_id: client, source: Source::Told, set: &told, effective: Kilograms(9.0) };
    assert!(log::append_told(&pool, trainer, &new).await.unwrap());
    assert!(!log::append_told(&pool, trainer, &new).await.unwrap());
    log::append(&pool, trainer, &entry(&world, new_id(), &set("2026-03-09", 10))).await.unwrap();
    let sets = log::of_client(&pool, trainer, client, day("2026-03-10")).await.unwrap();
    assert_eq!(
        sets.iter().map(|s| (s.source, s.slot_id.is_some())).collect::<Vec<_>>(),
        [(Source::Told, false), (Source::Session, true)]
    );
    let withdrawal = new_id();
    for _ in 0..2 {
        log::set_withdrawn(&pool, trainer, client, withdrawal, id, true).await.unwrap();
    }
    assert_eq!(log::of_client(&pool, trainer, client, day("2026-03-10")).await.unwrap().len(), 1);
    assert!(matches!(log::set_withdrawn(&pool, trainer, client, new_id(), id, true).await, Err(StoreError::Conflict)));
    log::set_withdrawn(&pool, trainer, client, new_id(), withdrawal, false).await.unwrap();
    let back = log::of_client(&pool, trainer, client, day("2026-03-10")).await.unwrap();
    assert_eq!((back.len(), back[0].set.reps), (2, Some(12)));
    assert_eq!(log::count_all(&pool, trainer, client).await.unwrap(), 4);
    // A set of a session is corrected, never withdrawn.
    let session_set = back[1].id;
    assert!(matches!(
        log::set_withdrawn(&pool, trainer, client, new_id(), session_set, true).await,
        Err(StoreError::NotFound)
    ));
    // What was told leaves no call in the roster.
    let page = roster::page(&pool, trainer, noon("2026-03-10"), &Wanted::default()).await.unwrap();
    assert_eq!((page.lines[0].calls_waiting, page.lines[0].last_logged), (0, Some(day("2026-03-09"))));
}

#[sqlx::test(migrations = "./migrations")]
async fn evidence_and_the_latest_sets_are_parts_of_the_log_in_force(pool: Pool) {
    let world = world(&pool, "a").await;
    let World { trainer, client, .. } = world;
    let wrong = new_id();
    let entries = [("2026-03-07", 9, new_id()), ("2026-03-08", 30, wrong), ("2026-03-12", 12, new_id())];
    for (date, reps, id) in entries {
        log::append(&pool, trainer, &entry(&world, id, &set(date, reps))).await.unwrap();
    }
    let right = set("2026-03-08", 10);
    log::append(&pool, trainer, &NewSet { supersedes: Some(wrong), ..entry(&world, new_id(), &right) }).await.unwrap();
    let until = day("2026-03-10");
    let known: Vec<_> = log::of_client(&pool, trainer, client, until).await.unwrap();
    assert_eq!(
        known.iter().map(|r| (r.set.reps, r.set.rir)).collect::<Vec<_>>(),
        [(Some(9), Some(2)), (Some(10), Some(2))]
    );
    let last = log::latest(&pool, trainer, client, until, 1).await.unwrap();
    assert_eq!(last, known[1..]);
}

#[sqlx::test(migrations = "./migrations")]
async fn observations_are_dated_and_can_come_back(pool: Pool) {
    let World { trainer, client, .. } = world(&pool, "a").await;
    let seen = |on: &str, note: &str| Observation {
        id: new_id(),
        on: day(on),
        kind: NoteKind::LeftRight,
        side: Some(Side::Left),
        note: note.into(),
    };
    let (old, new) = (seen("2026-03-01", "left arm thinner"), seen("2026-03-09", "evens out 👍"));
    for one in [&old, &new, &new] {
        observations::add(&pool, trainer, client, one).await.unwrap();
    }
    assert_eq!(observations::of_client(&pool, trainer, client).await.unwrap(), [new.clone(), old.clone()]);
    observations::set_removed(&pool, trainer, client, new.id, true).await.unwrap();
    assert_eq!(observations::of_client(&pool, trainer, client).await.unwrap(), [old]);
    observations::set_removed(&pool, trainer, client, new.id, false).await.unwrap();
    assert_eq!(observations::of_client(&pool, trainer, client).await.unwrap().len(), 2);
}

#[sqlx::test(migrations = "./migrations")]
async fn five_hundred_clients_are_found_a_page_at_a_time(pool: Pool) {
    let World { trainer, client, .. } = world(&pool, "a").await;
    sqlx::query(
        "insert into clients (trainer_id, id, name, body_mass_kg, height_m, experience)
         select $1, gen_random_uuid(), 'Person ' || lpad(i::text, 3, '0'), 70, 1.7, 'novice' from generate_series(1, 499) i",
    )
    .bind(trainer.0)
    .execute(&pool)
    .await
    .unwrap();
    let ask = |search: &str, order, page| {
        let wanted = Wanted { search: search.into(), order, page, show: Show::All };
        let pool = pool.clone();
        async move { roster::page(&pool, trainer, noon("2026-03-10"), &wanted).await.unwrap() }
    };
    let need = ask("", Order::Need, 0).await;
    assert_eq!(
        (need.total, need.lines.len() as i64, need.lines[0].id),
        (500, roster::PAGE, client),
        "a session comes first"
    );
    let second = ask("", Order::Name, 1).await;
    assert_eq!(second.lines[0].name, "Person 025", "the first page holds C and 24 persons");
    let beyond = ask("", Order::Name, 900).await;
    assert_eq!(beyond.lines.last().unwrap().name, "Person 499", "a page beyond is the last one");
    assert_eq!(ask("SON 04", Order::Name, 0).await.total, 10);
    for wild in ["%", "_", "\\"] {
        assert_eq!(ask(wild, Order::Name, 0).await.total, 0, "{wild} is no wildcard");
    }
}

/// It is another day where another client is, and who has no session ahead is listed with the last one, after those who have and
/// before those who never had any.
#[sqlx::test(migrations = "./migrations")]
async fn each_client_has_a_day_and_a_session_of_their_own(pool: Pool) {
    let World { trainer, client, session, .. } = world(&pool, "a").await;
    let add = |name: &'static str, zone: &'static str| {
        let novice = Client::new(name, Kilograms(70.0), Metres(1.7), Experience::Novice);
        let (pool, new) = (pool.clone(), Client { time_zone: zone.into(), ..novice });
        async move { clients::add(&pool, trainer, &new, day("2026-03-01")).await.unwrap() }
    };
    let (far, near) = (add("A", "Pacific/Auckland").await, add("B", "Pacific/Honolulu").await);
    let ask = || async { roster::page(&pool, trainer, noon("2026-03-10"), &Wanted::default()).await.unwrap() };
    let told = |page: &RosterPage| -> Vec<_> {
        page.lines.iter().map(|l| (l.id, l.today, l.session.as_ref().map(|s| (s.0, s.2)))).collect()
    };
    let (tenth, own) = (day("2026-03-10"), Some((session, day("2026-03-10"))));
    // At noon in Greenwich the eleventh has begun in Auckland; in Honolulu it is two in the morning of the tenth.
    let all = [(client, tenth, own), (far, day("2026-03-11"), None), (near, tenth, None)];
    assert_eq!(told(&ask().await), all);
    let done = "update workouts set state = 'done' where session_id = $1";
    assert_eq!(sqlx::query(done).bind(session).execute(&pool).await.unwrap().rows_affected(), 1);
    assert_eq!(told(&ask().await), all, "the last one is told where none is ahead");
    let unplanned = Wanted { show: Show::Unplanned, ..Wanted::default() };
    assert_eq!(roster::page(&pool, trainer, noon("2026-03-10"), &unplanned).await.unwrap().total, 3);
    let removed = "update sessions set removed_at = now() where id = $1";
    assert_eq!(sqlx::query(removed).bind(session).execute(&pool).await.unwrap().rows_affected(), 1);
    assert!(ask().await.lines.iter().all(|line| line.session.is_none()) && ask().await.lines.len() == 3);
}

#[sqlx::test(migrations = "./migrations")]
async fn the_filters_pick_who_is_meant(pool: Pool) {
    let world = world(&pool, "a").await;
    let hurt = LoggedSet { pain: Some(6), ..set("2026-03-09", 8) };
    log::append(&pool, world.trainer, &entry(&world, new_id(), &hurt)).await.unwrap();
    let total = |show, today: &str| {
        let (pool, today) = (pool.clone(), noon(today));
        let wanted = Wanted { show, ..Wanted::default() };
        async move { roster::page(&pool, world.trainer, today, &wanted).await.unwrap().total }
    };
    assert_eq!((total(Show::Pain, "2026-03-10").await, total(Show::Pain, "2026-04-10").await), (1, 0));
    // The session is on the tenth.
    assert_eq!((total(Show::Unplanned, "2026-03-10").await, total(Show::Unplanned, "2026-03-11").await), (0, 1));
    assert_eq!(total(Show::Waiting, "2026-03-10").await, 0);
    let (ten, dose) = (step(10.0), intent().dose.prescription());
    fits::take(&pool, world.trainer, &fit(&world, "dumbbell_curl", &ten, &dose)).await.unwrap();
    assert_eq!(total(Show::Waiting, "2026-03-10").await, 1);
}

/// A row of one trainer cannot refer to a row of another, whatever table it is in and whoever writes it: every foreign
/// key between tables of a trainer's pairs its own trainer with the one it refers to.
#[sqlx::test(migrations = "./migrations")]
async fn every_reference_pairs_the_trainers(pool: Pool) {
    let rows: Vec<(String, bool)> = sqlx::query_as(
        "select conrelid::regclass::text || ' -> ' || confrelid::regclass::text,
                exists (
                  select 1 from unnest(c.conkey, c.confkey) pair(own, theirs)
                  join pg_attribute a on a.attrelid = c.conrelid and a.attnum = pair.own and a.attname = 'trainer_id'
                  join pg_attribute b on b.attrelid = c.confrelid and b.attnum = pair.theirs and b.attname = 'trainer_id')
         from pg_constraint c
         where contype = 'f' and connamespace = 'public'::regnamespace and confrelid::regclass::text <> 'trainers'",
    )
    .fetch_all(&pool)
    .await
    .unwrap();
    assert!(rows.len() >= 20, "{}", rows.len());
    let loose: Vec<_> = rows.iter().filter(|(_, paired)| !paired).collect();
    assert!(loose.is_empty(), "{loose:?}");
}

#[sqlx::test(migrations = "./migrations")]
async fn nothing_of_another_trainers_client_is_read_or_written(pool: Pool) {
    let (mine, other) = (world(&pool, "a").await, world(&pool, "b").await);
    let (me, them) = (mine.trainer, other.client);
    let theirs = limit(SORE);
    limits::add(&pool, other.trainer, them, &theirs).await.unwrap();
    let piece = new_id();
    kit::add(&pool, other.trainer, other.place, piece, &KitItem::Chair(Plain {})).await.unwrap();
    let yes = screening(true, "2026-03-09");
    health::add(&pool, other.trainer, them, &yes).await.unwrap();

    let not_found = |result: Result<(), StoreError>, what: &str| {
        assert!(matches!(result, Err(StoreError::NotFound)), "{what}: {result:?}");
    };
    let foreign = Client { id: them, ..Client::new("Mine now", Kilograms(70.0), Metres(1.7), Experience::Novice) };
    not_found(clients::update(&pool, me, &foreign, day("2026-03-10")).await, "update");
    not_found(clients::set_archived(&pool, me, them, true).await, "archive");
    not_found(limits::add(&pool, me, them, &limit(SORE)).await, "limit");
    not_found(limits::change(&pool, me, them, theirs.id, &limit(WORSE)).await, "change");
    not_found(limits::change(&pool, me, mine.client, theirs.id, &limit(WORSE)).await, "change as mine");
    not_found(limits::set_removed(&pool, me, them, theirs.id, true).await, "remove limit");
    not_found(places::add(&pool, me, them, new_id(), "x", None).await, "place");
    not_found(places::rename(&pool, me, other.place, 1, "x").await, "rename");
    not_found(places::remove(&pool, me, other.place).await, "remove place");
    not_found(places::restore(&pool, me, other.place).await, "restore place");
    not_found(places::set_archived(&pool, me, other.place, true).await, "archive place");
    let check = StabilityCheck { holds: true, slips: false, on: day("2026-03-10") };
    not_found(kit::answer(&pool, me, other.place, piece, check).await, "check");
    not_found(kit::answer(&pool, me, mine.place, piece, check).await, "check as mine");
    not_found(health::add(&pool, me, them, &screening(true, "2026-03-09")).await, "screening");
    let clearance = Clearance { given_by: "me".into(), given_on: day("2026-03-10"), note: String::new() };
    not_found(health::clear(&pool, me, them, yes.id, new_id(), &clearance).await, "clearance");
    not_found(health::clear(&pool, me, mine.client, yes.id, new_id(), &clearance).await, "clearance as mine");
    let wanted = DatedAims { id: new_id(), aims: Aims::default(), on: day("2026-03-10") };
    not_found(aims::set(&pool, me, them, None, &wanted).await, "aims");
    let note =
        Observation { id: new_id(), on: day("2026-03-10"), kind: NoteKind::Visual, side: None, note: "x".into() };
    not_found(observations::add(&pool, me, them, &note).await, "observation");
    let told = set("2026-03-08", 12);
    let new = ToldSet { id: new_id(), client_id: them, source: Source::Told, set: &told, effective: Kilograms(9.0) };
    not_found(log::append_told(&pool, me, &new).await.map(drop), "told set");
    let at = NewSet { place_id: other.place, ..entry(&mine, new_id(), &told) };
    not_found(log::append(&pool, me, &at).await.map(drop), "set at their place");

    assert!(limits::of_client(&pool, me, them).await.unwrap().is_empty());
    assert!(health::of_client(&pool, me, them).await.unwrap().is_empty());
    assert!(kit::history(&pool, me, other.place).await.unwrap().is_empty());
    assert!(clients::masses(&pool, me, them).await.unwrap().is_empty());
    assert!(places::of_client(&pool, me, them).await.unwrap().is_empty());
    let copied = new_id();
    places::copy(&pool, me, other.place, copied, "x").await.unwrap();
    assert!(matches!(places::one(&pool, me, copied).await, Err(StoreError::NotFound)), "nothing was copied");
    let counts: (i64, i64) = sqlx::query_as("select (select count(*) from limits), (select count(*) from screenings)")
        .fetch_one(&pool)
        .await
        .unwrap();
    assert_eq!(counts, (1, 1));
}
