//! What is stored, once and for whom.

use bavrek_core::calendar::Turn;
use bavrek_core::fit::PutAside;
use bavrek_core::kit::{KitItem, Plain};
use bavrek_core::log::LoggedSet;
use bavrek_core::person::Limit;
use bavrek_core::progress::{CallKind, Refused};
use bavrek_core::units::Kilograms;
use bavrek_store::decisions::{self, Against, Decision};
use bavrek_store::fits::{self, NewFit};
use bavrek_store::limits::{self, DatedLimit};
use bavrek_store::log::{self, NewSet};
use bavrek_store::logs::Logs;
use bavrek_store::roster::{self, RosterLine, Wanted};
use bavrek_store::{
    Pool, StoreError, TrainerId, clients, kit, movements, new_id, places, put_aside, sessions, slots, trainers,
};
use chrono::Utc;
use uuid::Uuid;

use crate::common::{World, day, entry, fit, intent, set, step, world};

/// The first page of the roster on a day.
async fn listed(pool: &Pool, trainer: TrainerId, today: chrono::NaiveDate) -> Vec<RosterLine> {
    roster::page(pool, trainer, today.and_hms_opt(12, 0, 0).unwrap().and_utc(), &Wanted::default()).await.unwrap().lines
}

#[sqlx::test(migrations = "./migrations")]
async fn an_address_belongs_to_one_trainer(pool: Pool) {
    let id = trainers::add(&pool, "a@bavrek.example", "A", "hash").await.unwrap();
    assert!(matches!(trainers::add(&pool, "A@bavrek.example", "B", "hash").await, Err(StoreError::Conflict)));
    assert_eq!(trainers::by_email(&pool, "A@BAVREK.example").await.unwrap().unwrap().id, id);
}

#[sqlx::test(migrations = "./migrations")]
async fn a_set_sent_twice_is_stored_once(pool: Pool) {
    let world = world(&pool, "a").await;
    let (id, set) = (new_id(), set("2026-03-10", 10));
    assert!(log::append(&pool, world.trainer, &entry(&world, id, &set)).await.unwrap());
    assert!(!log::append(&pool, world.trainer, &entry(&world, id, &set)).await.unwrap());
    let sets = log::of_client(&pool, world.trainer, world.client, day("2026-03-10")).await.unwrap();
    assert_eq!(sets.len(), 1);
    assert_eq!(sets[0].set.effective_kg, Some(Kilograms(10.0)));
}

#[sqlx::test(migrations = "./migrations")]
async fn a_correction_supersedes_and_loses_nothing(pool: Pool) {
    let world = world(&pool, "a").await;
    let (wrong, right) = (set("2026-03-10", 10), set("2026-03-10", 11));
    let (old, new) = (new_id(), new_id());
    log::append(&pool, world.trainer, &entry(&world, old, &wrong)).await.unwrap();
    let correction = NewSet { supersedes: Some(old), ..entry(&world, new, &right) };
    log::append(&pool, world.trainer, &correction).await.unwrap();
    let sets = log::of_client(&pool, world.trainer, world.client, day("2026-03-10")).await.unwrap();
    assert_eq!(sets.iter().map(|s| s.set.reps).collect::<Vec<_>>(), [Some(11)]);
    assert_eq!(log::count_all(&pool, world.trainer, world.client).await.unwrap(), 2);
    let again = NewSet { supersedes: Some(old), ..entry(&world, new_id(), &right) };
    assert!(matches!(log::append(&pool, world.trainer, &again).await, Err(StoreError::Conflict)));
}

#[sqlx::test(migrations = "./migrations")]
async fn later_days_are_not_read(pool: Pool) {
    let world = world(&pool, "a").await;
    for (date, reps) in [("2026-03-12", 12), ("2026-03-08", 8), ("2026-03-10", 10)] {
        log::append(&pool, world.trainer, &entry(&world, new_id(), &set(date, reps))).await.unwrap();
    }
    let sets = log::of_client(&pool, world.trainer, world.client, day("2026-03-10")).await.unwrap();
    assert_eq!(sets.iter().map(|s| s.set.reps).collect::<Vec<_>>(), [Some(8), Some(10)]);
}

#[sqlx::test(migrations = "./migrations")]
async fn kit_is_removed_with_a_way_back(pool: Pool) {
    let world = world(&pool, "a").await;
    let (id, chair) = (new_id(), KitItem::Chair(Plain {}));
    assert!(kit::add(&pool, world.trainer, world.place, id, &chair).await.unwrap());
    assert!(!kit::add(&pool, world.trainer, world.place, id, &chair).await.unwrap());
    assert_eq!(kit::pieces(&pool, world.trainer, world.place).await.unwrap().len(), 1);
    kit::remove(&pool, world.trainer, world.place, id).await.unwrap();
    assert!(kit::pieces(&pool, world.trainer, world.place).await.unwrap().is_empty());
    assert_eq!(kit::restore(&pool, world.trainer, world.place, id).await.unwrap(), chair);
    assert_eq!(kit::pieces(&pool, world.trainer, world.place).await.unwrap().len(), 1);
}

#[sqlx::test(migrations = "./migrations")]
async fn a_new_fit_replaces_the_old_one_and_the_same_one_does_not(pool: Pool) {
    let world = world(&pool, "a").await;
    let prescription = intent().dose.prescription();
    let (ten, twelve) = (step(10.0), step(12.0));
    let new = |step| fit(&world, "dumbbell_curl", step, &prescription);
    let first = fits::take(&pool, world.trainer, &new(&ten)).await.unwrap();
    assert_eq!(fits::take(&pool, world.trainer, &new(&ten)).await.unwrap(), first);
    assert_ne!(fits::take(&pool, world.trainer, &new(&twelve)).await.unwrap(), first);
    let in_force = fits::of_session(&pool, world.trainer, world.session, world.place).await.unwrap();
    assert_eq!(in_force[&world.slot].step, twelve);
    let count = sqlx::query_scalar::<_, i64>("select count(*) from fits").fetch_one(&pool).await.unwrap();
    assert_eq!(count, 2, "the replaced fit stays on record");
}

#[sqlx::test(migrations = "./migrations")]
async fn a_call_is_decided_once(pool: Pool) {
    let world = world(&pool, "a").await;
    let id = new_id();
    log::append(&pool, world.trainer, &entry(&world, id, &set("2026-03-10", 12))).await.unwrap();
    let prescription = intent().dose.prescription();
    let (ten, twelve) = (step(10.0), step(12.0));
    let new = |step| fit(&world, "dumbbell_curl", step, &prescription);
    let decision = Decision {
        proposed: CallKind::AddLoad,
        step: Some("12 kg".into()),
        decided: CallKind::AddLoad,
        refused: false,
        note: String::new(),
        reasons: vec!["every set reached 12".into()],
        after_set: id,
        decided_at: Utc::now(),
    };
    decisions::decide(&pool, world.trainer, &decision, &new(&twelve)).await.unwrap();
    assert!(matches!(decisions::decide(&pool, world.trainer, &decision, &new(&ten)).await, Err(StoreError::Conflict)));
    // The refused decision changed nothing: it and its fit stand or fall together.
    let fit = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    assert_eq!(fit.step, twelve);
    let latest = decisions::latest(&pool, world.trainer, world.slot).await.unwrap().unwrap();
    assert_eq!(latest.decision.reasons, decision.reasons);
    let roster = listed(&pool, world.trainer, day("2026-03-10")).await;
    assert_eq!(roster[0].calls_waiting, 0);
}

/// Undone, the fit that stood before stands again and the call waits again; what was changed since is not overwritten.
#[sqlx::test(migrations = "./migrations")]
async fn a_decision_is_undone_once_and_a_refusal_is_remembered(pool: Pool) {
    let world = world(&pool, "a").await;
    let id = new_id();
    log::append(&pool, world.trainer, &entry(&world, id, &set("2026-03-10", 12))).await.unwrap();
    let prescription = intent().dose.prescription();
    let (ten, twelve) = (step(10.0), step(12.0));
    let new = |step| fit(&world, "dumbbell_curl", step, &prescription);
    fits::take(&pool, world.trainer, &new(&ten)).await.unwrap();
    let decision = |decided, refused| Decision {
        proposed: CallKind::AddLoad,
        step: Some("12 kg".into()),
        decided,
        refused,
        note: "wants to stay".into(),
        reasons: vec![],
        after_set: id,
        decided_at: Utc::now(),
    };
    let waiting = || async { decisions::waiting(&pool, world.trainer, Utc::now()).await.unwrap().len() };
    let stands = || async { fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap().step };
    assert_eq!(waiting().await, 1);
    let up = decision(CallKind::AddLoad, false);
    let taken = decisions::decide(&pool, world.trainer, &up, &new(&twelve)).await.unwrap();
    assert_eq!((waiting().await, stands().await), (0, twelve.clone()));
    for _ in 0..2 {
        decisions::undo(&pool, world.trainer, taken).await.unwrap();
        assert_eq!((waiting().await, stands().await), (1, ten.clone()));
    }
    let no = decision(CallKind::Hold, true);
    let refused = decisions::decide(&pool, world.trainer, &no, &new(&ten)).await.unwrap();
    let against = || decisions::against(&pool, world.trainer, world.client, day("2026-03-20"));
    let one = Refused { call: CallKind::AddLoad, step: Some("12 kg".into()), after: day("2026-03-10") };
    // The set was logged without its workout, which nobody began.
    let remembered = Against { refused: vec![one], missed: vec![day("2026-03-10")] };
    assert_eq!(against().await.unwrap().get(&world.slot), Some(&remembered));
    // Only what was planned before today, and neither done nor let go, was missed.
    sqlx::query(
        "insert into workouts (trainer_id, id, session_id, place_id, planned_on, state, let_go)
         select $1, gen_random_uuid(), $2, $3, d::date, s, l
         from (values ('2026-01-20', 'missed', false), ('2026-03-12', 'missed', false), ('2026-03-13', 'missed', true),
                      ('2026-03-14', 'done', false), ('2026-03-16', 'planned', false), ('2026-03-20', 'planned', false))
              as v (d, s, l)",
    )
    .bind(world.trainer.0)
    .bind(world.session)
    .bind(world.place)
    .execute(&pool)
    .await
    .unwrap();
    assert_eq!(against().await.unwrap()[&world.slot].missed, ["2026-03-16", "2026-03-12", "2026-03-10"].map(day));
    fits::take(&pool, world.trainer, &new(&twelve)).await.unwrap();
    assert!(matches!(decisions::undo(&pool, world.trainer, refused).await, Err(StoreError::Conflict)));
    assert_eq!(stands().await, twelve);
    let other = self::world(&pool, "b").await;
    assert!(matches!(decisions::undo(&pool, other.trainer, refused).await, Err(StoreError::NotFound)));
}

/// What is set aside is read as such by whoever kept the log, and comes back.
#[sqlx::test(migrations = "./migrations")]
async fn a_set_is_set_aside_and_taken_in_again(pool: Pool) {
    let world = world(&pool, "a").await;
    let id = new_id();
    log::append(&pool, world.trainer, &entry(&world, id, &set("2026-03-10", 12))).await.unwrap();
    let logs = Logs::default();
    for (aside, times) in [(true, 2), (false, 2)] {
        for _ in 0..times {
            log::set_aside(&pool, world.trainer, world.client, id, aside).await.unwrap();
            let client = clients::one(&pool, world.trainer, world.client).await.unwrap();
            let kept = logs.of_client(&pool, world.trainer, &client, day("2026-03-11")).await.unwrap();
            assert_eq!(kept.sets.iter().map(|s| s.set_aside).collect::<Vec<_>>(), [aside]);
        }
    }
    let other = self::world(&pool, "b").await;
    let theirs = log::set_aside(&pool, other.trainer, other.client, id, true).await;
    assert!(matches!(theirs, Err(StoreError::NotFound)));
}

#[sqlx::test(migrations = "./migrations")]
async fn the_roster_tells_what_waits(pool: Pool) {
    let world = world(&pool, "a").await;
    let hurt = LoggedSet { pain: Some(5), ..set("2026-03-09", 9) };
    log::append(&pool, world.trainer, &entry(&world, new_id(), &hurt)).await.unwrap();
    let prescription = intent().dose.prescription();
    let ten = step(10.0);
    fits::take(&pool, world.trainer, &fit(&world, "dumbbell_curl", &ten, &prescription)).await.unwrap();
    let line = listed(&pool, world.trainer, day("2026-03-10")).await.remove(0);
    assert_eq!((line.calls_waiting, line.pain, line.last_logged), (1, Some(5), Some(day("2026-03-09"))));
    assert_eq!(line.session.unwrap().0, world.session);
    let much_later = listed(&pool, world.trainer, day("2026-04-10")).await.remove(0);
    assert_eq!(much_later.pain, None, "pain fades from the roster after two weeks");
    fits::take(&pool, world.trainer, &fit(&world, "band_curl", &ten, &prescription)).await.unwrap();
    let swapped = listed(&pool, world.trainer, day("2026-03-10")).await.remove(0);
    assert_eq!(swapped.calls_waiting, 0, "a movement that was swapped away leaves no call");
}

/// A call waits for the movement that is in force in the turn of the session's next day: the turn's own where the line has one, else
/// the usual one.
#[sqlx::test(migrations = "./migrations")]
async fn a_call_waits_for_the_movement_of_the_turn(pool: Pool) {
    let world = world(&pool, "a").await;
    let (ten, dose) = (step(10.0), intent().dose.prescription());
    let done = set("2026-03-09", 9);
    log::append(&pool, world.trainer, &entry(&world, new_id(), &done)).await.unwrap();
    fits::take(&pool, world.trainer, &fit(&world, "dumbbell_curl", &ten, &dose)).await.unwrap();
    let waits = async || listed(&pool, world.trainer, day("2026-03-10")).await[0].calls_waiting;
    let in_turn = async |turn: &str| {
        sqlx::query("update workouts set turn = $1 where session_id = $2")
            .bind(turn)
            .bind(world.session)
            .execute(&pool)
            .await
            .unwrap();
    };
    in_turn(Turn::Other.id()).await;
    assert_eq!(waits().await, 1, "a line that does not alternate is done as usual in every turn");
    let other = fit(&world, "hammer_curl", &ten, &dose);
    fits::take_for(&pool, world.trainer, &other, Turn::Other).await.unwrap();
    assert_eq!(waits().await, 0, "the other turn's movement has no set to decide about");
    in_turn(Turn::Usual.id()).await;
    assert_eq!(waits().await, 1, "and in the usual turn the usual one has");
    fits::take(&pool, world.trainer, &fit(&world, "band_curl", &ten, &dose)).await.unwrap();
    let own = fit(&world, "dumbbell_curl", &ten, &dose);
    fits::take_for(&pool, world.trainer, &own, Turn::Other).await.unwrap();
    assert_eq!(waits().await, 0);
    in_turn(Turn::Other.id()).await;
    assert_eq!(waits().await, 1, "what the other turn is done with waits in that turn alone");
}

#[sqlx::test(migrations = "./migrations")]
async fn limits_count_on_their_days_only(pool: Pool) {
    let world = world(&pool, "a").await;
    let rule: Limit =
        serde_json::from_str(r#"{"joint":"elbow","what":"pain_loaded","side":"left","severity":"mild"}"#).unwrap();
    let limit = DatedLimit {
        id: new_id(),
        rule,
        since: day("2026-03-05"),
        until: Some(day("2026-03-08")),
        note: String::new(),
    };
    limits::add(&pool, world.trainer, world.client, &limit).await.unwrap();
    let client = clients::one(&pool, world.trainer, world.client).await.unwrap();
    let limits = limits::of_client(&pool, world.trainer, world.client).await.unwrap();
    let on = |date: &str| client.person(&limits, day(date)).limits.len();
    assert_eq!([on("2026-03-04"), on("2026-03-05"), on("2026-03-08"), on("2026-03-09")], [0, 1, 1, 0]);
    assert_eq!(client.person(&limits, day("2026-03-04")).age_years, Some(36));
}

#[sqlx::test(migrations = "./migrations")]
async fn nothing_of_another_trainer_is_found_or_written(pool: Pool) {
    let (mine, other) = (world(&pool, "a").await, world(&pool, "b").await);
    let me = mine.trainer;
    assert!(matches!(clients::one(&pool, me, other.client).await, Err(StoreError::NotFound)));
    assert!(matches!(places::one(&pool, me, other.place).await, Err(StoreError::NotFound)));
    assert!(matches!(sessions::head(&pool, me, other.session).await, Err(StoreError::NotFound)));
    assert!(matches!(slots::one(&pool, me, other.slot).await, Err(StoreError::NotFound)));
    assert!(sessions::blocks(&pool, me, other.session).await.unwrap().is_empty());
    assert!(matches!(places::add(&pool, me, other.client, new_id(), "x", None).await, Err(StoreError::NotFound)));
    let chair = KitItem::Chair(Plain {});
    assert!(matches!(kit::add(&pool, me, other.place, new_id(), &chair).await, Err(StoreError::NotFound)));
    let prescription = intent().dose.prescription();
    let ten = step(10.0);
    let theirs = NewFit {
        slot_id: other.slot,
        place_id: mine.place,
        exercise: "dumbbell_curl",
        step: &ten,
        prescription: &prescription,
        pinned: false,
    };
    assert!(matches!(fits::take(&pool, me, &theirs).await, Err(StoreError::NotFound)));
    let set = set("2026-03-10", 10);
    let pointing = NewSet { slot_id: other.slot, ..entry(&mine, new_id(), &set) };
    assert!(matches!(log::append(&pool, me, &pointing).await, Err(StoreError::NotFound)));
    assert_eq!(listed(&pool, me, day("2026-03-10")).await.len(), 1);
}

/// Every table of a trainer's has the trainer in its primary key and in every foreign key but the one to the trainer. What is there
/// before anybody is signed in belongs to nobody.
#[sqlx::test(migrations = "./migrations")]
async fn keys_carry_the_trainer(pool: Pool) {
    let loose: Vec<String> = sqlx::query_scalar(
        "select conrelid::regclass::text || ': ' || conname from pg_constraint c
         where contype in ('p', 'f') and connamespace = 'public'::regnamespace
           and conrelid::regclass::text not in ('trainers', 'http_sessions', 'account_links', 'sign_in_tries',
                                               '_sqlx_migrations')
           and not exists (select 1 from pg_attribute a
             where a.attrelid = c.conrelid and a.attnum = any(c.conkey) and a.attname = 'trainer_id')",
    )
    .fetch_all(&pool)
    .await
    .unwrap();
    assert!(loose.is_empty(), "{loose:?}");
}

#[sqlx::test(migrations = "./migrations")]
async fn sign_in_sessions_expire(pool: Pool) {
    use time::{Duration, OffsetDateTime};
    use tower_sessions::SessionStore;
    use tower_sessions::session::{Id, Record};
    use tower_sessions::session_store::ExpiredDeletion;
    let store = bavrek_store::http_sessions::HttpSessions::new(pool.clone());
    let data = std::collections::HashMap::from([("a".to_owned(), serde_json::json!(1))]);
    let record = |hours: i64| Record {
        id: Id::default(),
        data: data.clone(),
        expiry_date: OffsetDateTime::now_utc() + Duration::hours(hours),
    };
    let (mut fresh, mut stale) = (record(1), record(-1));
    store.create(&mut fresh).await.unwrap();
    store.create(&mut stale).await.unwrap();
    assert_eq!(store.load(&fresh.id).await.unwrap().unwrap().data, data);
    assert!(store.load(&stale.id).await.unwrap().is_none());
    store.delete_expired().await.unwrap();
    let left = sqlx::query_scalar::<_, i64>("select count(*) from http_sessions").fetch_one(&pool).await.unwrap();
    assert_eq!(left, 1);
    fresh.data.insert("a".to_owned(), serde_json::json!(2));
    store.save(&fresh).await.unwrap();
    assert_eq!(store.load(&fresh.id).await.unwrap().unwrap().data["a"], 2);
    store.delete(&fresh.id).await.unwrap();
    assert!(store.load(&fresh.id).await.unwrap().is_none());
    // A request that was still running when it was signed out does not bring it back.
    store.save(&fresh).await.unwrap();
    assert!(store.load(&fresh.id).await.unwrap().is_none());
}

fn own_movement(id: Uuid, name: &str) -> bavrek_core::movement::Movement {
    let catalogue = serde_json::json!({
        "id": movements::movement_id(id), "name": name, "pattern": "fly", "arm_position": "out_to_side",
        "implements": ["dumbbell"], "hands": "each", "direct": {"chest_sternal": 1.0}, "confidence": 0.9,
        "rig": {"kind": "single_joint", "action": "fly"},
        "carry_over": {"pattern": "horizontal_press", "ratio": 0.5, "log_sd": 0.2},
        "experience": "novice", "stability": 0.9, "set_up_s": 10,
        "cues": {"set_up": "s", "do": "d", "feel": "f", "avoid": "a"}
    });
    serde_json::from_value(catalogue).unwrap()
}

#[sqlx::test(migrations = "./migrations")]
async fn own_movements_are_stored_once_changed_and_archived_by_their_trainer_alone(pool: Pool) {
    let (a, b) = (world(&pool, "a@x.example").await, world(&pool, "b@x.example").await);
    let id = new_id();
    assert_eq!(movements::row_id(&movements::movement_id(id)), Some(id));
    assert_eq!(movements::row_id("push_up"), None);
    for name in ["first", "first", "second"] {
        assert!(movements::save(&pool, a.trainer, id, &own_movement(id, name)).await.unwrap());
    }
    let mine = movements::all(&pool, a.trainer).await.unwrap();
    assert_eq!((mine.len(), mine[0].movement.name.as_str(), mine[0].archived), (1, "second", false));
    // The same identifier of another trainer is another row.
    assert!(movements::save(&pool, b.trainer, id, &own_movement(id, "theirs")).await.unwrap());
    assert_eq!(movements::all(&pool, a.trainer).await.unwrap()[0].movement.name, "second");
    assert!(matches!(movements::archive(&pool, b.trainer, new_id(), true).await, Err(StoreError::NotFound)));
    movements::archive(&pool, b.trainer, id, true).await.unwrap();
    assert!(!movements::all(&pool, a.trainer).await.unwrap()[0].archived);
    movements::archive(&pool, b.trainer, id, false).await.unwrap();
    assert!(!movements::all(&pool, b.trainer).await.unwrap()[0].archived);
}

#[sqlx::test(migrations = "./migrations")]
async fn a_replaced_piece_of_kit_stays_where_it_was_and_is_kept(pool: Pool) {
    let (a, b) = (world(&pool, "a@x.example").await, world(&pool, "b@x.example").await);
    let [first, second, fresh] = [new_id(), new_id(), new_id()];
    for id in [first, second] {
        kit::add(&pool, a.trainer, a.place, id, &KitItem::Chair(Plain {})).await.unwrap();
    }
    let sofa = KitItem::Sofa(Plain {});
    assert!(kit::replace(&pool, b.trainer, a.place, first, fresh, &sofa).await.is_err(), "not theirs");
    assert!(kit::replace(&pool, a.trainer, b.place, first, fresh, &sofa).await.is_err(), "not there");
    for _ in 0..2 {
        kit::replace(&pool, a.trainer, a.place, first, fresh, &sofa).await.unwrap();
    }
    let pieces = kit::pieces(&pool, a.trainer, a.place).await.unwrap();
    assert_eq!(pieces.iter().map(|p| p.id).collect::<Vec<_>>(), [fresh, second]);
    assert_eq!(pieces.iter().map(|p| p.origin).collect::<Vec<_>>(), [first, second], "it is the piece that it was");
    let kept = sqlx::query_scalar::<_, i64>("select count(*) from kit_items where removed_at is not null")
        .fetch_one(&pool)
        .await
        .unwrap();
    assert_eq!(kept, 1);
}

#[sqlx::test(migrations = "./migrations")]
async fn all_places_come_with_their_client_and_are_the_trainers_own(pool: Pool) {
    let (a, _) = (world(&pool, "a@x.example").await, world(&pool, "b@x.example").await);
    let places = places::all(&pool, a.trainer).await.unwrap();
    assert_eq!(places.len(), 1);
    assert_eq!((places[0].place.id, places[0].client.as_str()), (a.place, "C"));
}

#[sqlx::test(migrations = "./migrations")]
async fn a_refit_moves_and_takes_together_or_not_at_all(pool: Pool) {
    let world = world(&pool, "a").await;
    let World { trainer, client, session, slot, place } = world;
    let (ten, prescription) = (step(10.0), intent().dose.prescription());
    fits::take(&pool, trainer, &fit(&world, "dumbbell_curl", &ten, &prescription)).await.unwrap();
    let garage = new_id();
    places::add(&pool, trainer, client, garage, "Garage", None).await.unwrap();
    let there = NewFit { place_id: garage, pinned: true, ..fit(&world, "band_curl", &ten, &prescription) };
    let nowhere = NewFit { slot_id: new_id(), ..there.clone() };
    let both = [there.clone(), nowhere];
    assert!(matches!(
        fits::refit(&pool, trainer, client, &[session], [place, garage], &both).await,
        Err(StoreError::NotFound)
    ));
    assert_eq!(sessions::head(&pool, trainer, session).await.unwrap().place_id, place);
    assert_eq!(fits::of_slot(&pool, trainer, slot, garage).await.unwrap(), None);
    fits::refit(&pool, trainer, client, &[session], [place, garage], &[there]).await.unwrap();
    assert!(fits::of_slot(&pool, trainer, slot, garage).await.unwrap().unwrap().pinned);
    // Another step of a pinned movement stays pinned; another movement does not.
    let twelve = step(12.0);
    let heavier = NewFit { place_id: garage, ..fit(&world, "band_curl", &twelve, &prescription) };
    fits::take(&pool, trainer, &heavier).await.unwrap();
    assert!(fits::of_slot(&pool, trainer, slot, garage).await.unwrap().unwrap().pinned);
    let other = NewFit { exercise: "hammer_curl", ..heavier };
    fits::take(&pool, trainer, &other).await.unwrap();
    assert!(!fits::of_slot(&pool, trainer, slot, garage).await.unwrap().unwrap().pinned);
    assert_eq!(fits::of_slot(&pool, trainer, slot, place).await.unwrap().unwrap().exercise, "dumbbell_curl");
}

#[sqlx::test(migrations = "./migrations")]
async fn what_is_put_aside_is_once_and_comes_back(pool: Pool) {
    let World { trainer, client, .. } = world(&pool, "a").await;
    let other = world(&pool, "b").await;
    let aside = |reason: &str| PutAside { exercise: "hammer_curl".into(), reason: reason.into() };
    for reason in ["sore wrist", "said again"] {
        put_aside::put(&pool, trainer, client, new_id(), &aside(reason)).await.unwrap();
    }
    assert_eq!(put_aside::of_client(&pool, trainer, client).await.unwrap(), [aside("sore wrist")]);
    put_aside::take_back(&pool, trainer, client, "hammer_curl").await.unwrap();
    assert_eq!(put_aside::of_client(&pool, trainer, client).await.unwrap(), []);
    put_aside::put(&pool, trainer, client, new_id(), &aside("again")).await.unwrap();
    assert_eq!(put_aside::of_client(&pool, trainer, client).await.unwrap(), [aside("again")]);
    let theirs = put_aside::put(&pool, trainer, other.client, new_id(), &aside("not mine")).await;
    assert!(matches!(theirs, Err(StoreError::NotFound)));
}
