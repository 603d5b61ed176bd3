//! The session's board over HTTP: moves, doses, undo, what is in the way, the clock, two windows.

use std::collections::BTreeMap;

use crate::common::lines::take;
use crate::common::{Page, Visitor, World, desk};
use bavrek_core::dose::notation::{Usual, read};
use bavrek_core::dose::{Prescription, Tempo};
use bavrek_core::ladder::LadderStep;
use bavrek_core::plan::BlockKind;
use bavrek_core::rigging::Setup;
use bavrek_core::units::{Degrees, Seconds};
use bavrek_store::boards::{self, Change, LaidBlock, LaidSlot, Layout};
use bavrek_store::fits;
use bavrek_store::health::PlanChange;
use bavrek_store::slots::{self, Joining};
use bavrek_store::{Pool, StoreError, new_id, sessions};
use reqwest::StatusCode;
use uuid::Uuid;

/// Three slots: the one of the world and two like it, each with a movement.
async fn three(pool: &Pool, world: &World, visitor: &Visitor) -> [Uuid; 3] {
    let intent = slots::one(pool, world.trainer, world.slot).await.unwrap().slot.intent;
    let more = [new_id(), new_id()];
    for id in more {
        slots::add(pool, world.trainer, world.session, id, &intent, Joining::Alone).await.unwrap();
    }
    let all = [world.slot, more[0], more[1]];
    for (slot, exercise) in all.iter().zip(["dumbbell_curl", "hammer_curl", "band_curl"]) {
        let page = visitor.post(&format!("/slots/{slot}/fit"), &[("exercise", exercise)]).await;
        assert_eq!(page.status, StatusCode::OK);
    }
    all
}

/// The blocks as they lie: slots by their place among `slots`, `0 1+2`.
async fn lies(pool: &Pool, world: &World, slots: &[Uuid]) -> String {
    let blocks = sessions::blocks(pool, world.trainer, world.session).await.unwrap();
    let name = |id: Uuid| slots.iter().position(|s| *s == id).map_or_else(|| "?".to_owned(), |i| i.to_string());
    let joint = |kind: BlockKind| match kind {
        BlockKind::Superset => "+",
        BlockKind::Antagonist => "=",
        _ => "-",
    };
    let block = |b: &sessions::Block| b.slots.iter().map(|s| name(s.id)).collect::<Vec<_>>().join(joint(b.kind));
    blocks.iter().map(block).collect::<Vec<_>>().join(" ")
}

async fn board(visitor: &Visitor, world: &World) -> Page {
    visitor.get(&format!("/sessions/{}", world.session)).await
}

/// A move with what the page carries.
async fn act(visitor: &Visitor, world: &World, slot: Uuid, act: &str) -> Page {
    let seen = board(visitor, world).await.hidden("seen");
    let (slot, id) = (slot.to_string(), new_id().to_string());
    let fields = [("seen", seen.as_str()), ("slot", &slot), ("act", act), ("id", &id)];
    visitor.post(&format!("/sessions/{}/board", world.session), &fields).await
}

async fn step(visitor: &Visitor, world: &World, way: &str) -> Page {
    let seen = board(visitor, world).await.hidden("seen");
    visitor.post(&format!("/sessions/{}/board/{way}", world.session), &[("seen", seen.as_str())]).await
}

async fn dose_of(pool: &Pool, world: &World, slot: Uuid) -> Prescription {
    fits::of_slot(pool, world.trainer, slot, world.place).await.unwrap().unwrap().prescription
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_is_moved_can_be_undone_and_done_again(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let all = three(&pool, &world, &visitor).await;
    let moves = [(1, "earlier", "1 0 2"), (0, "join", "1 0+2"), (2, "antagonist", "1 0=2"), (0, "later", "1 2=0")];
    for (which, change, after) in moves {
        assert_eq!(act(&visitor, &world, all[which], change).await.status, StatusCode::OK);
        assert_eq!(lies(&pool, &world, &all).await, after, "{change}");
    }
    // What changes nothing is no state of its own.
    let seen = board(&visitor, &world).await.hidden("seen");
    assert_eq!(act(&visitor, &world, all[1], "earlier").await.status, StatusCode::OK);
    assert_eq!(board(&visitor, &world).await.hidden("seen"), seen);
    for after in ["1 0=2", "1 0+2", "1 0 2", "0 1 2"] {
        assert_eq!(step(&visitor, &world, "undo").await.status, StatusCode::OK);
        assert_eq!(lies(&pool, &world, &all).await, after);
    }
    assert_eq!(step(&visitor, &world, "undo").await.status, StatusCode::NOT_FOUND, "there is nothing before");
    for after in ["1 0 2", "1 0+2"] {
        step(&visitor, &world, "redo").await;
        assert_eq!(lies(&pool, &world, &all).await, after);
    }
    // Another move ends what was undone.
    act(&visitor, &world, all[2], "part").await;
    assert_eq!(lies(&pool, &world, &all).await, "1 0 2");
    assert_eq!(step(&visitor, &world, "redo").await.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_is_taken_out_comes_back_with_its_movement_and_dose(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let all = three(&pool, &world, &visitor).await;
    let before = fits::of_slot(&pool, world.trainer, all[1], world.place).await.unwrap().unwrap();
    act(&visitor, &world, all[1], "out").await;
    assert_eq!(lies(&pool, &world, &all).await, "0 2");
    step(&visitor, &world, "undo").await;
    assert_eq!(lies(&pool, &world, &all).await, "0 1 2");
    let back = fits::of_slot(&pool, world.trainer, all[1], world.place).await.unwrap().unwrap();
    assert_eq!((&back.exercise, &back.prescription), (&before.exercise, &before.prescription));
    // What was changed on another page meanwhile is a state as well: undo goes back to before it.
    visitor.post(&format!("/slots/{}/remove", all[0]), &[]).await;
    assert_eq!(lies(&pool, &world, &all).await, "1 2");
    step(&visitor, &world, "undo").await;
    assert_eq!(lies(&pool, &world, &all).await, "0 1 2");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_copy_has_the_movement_and_dose_and_is_made_once(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let all = three(&pool, &world, &visitor).await;
    let (slot, id) = (all[0].to_string(), new_id());
    let name = id.to_string();
    for _ in 0..2 {
        let seen = board(&visitor, &world).await.hidden("seen");
        let fields = [("seen", seen.as_str()), ("slot", &slot), ("act", "copy"), ("id", &name)];
        assert_eq!(visitor.post(&format!("/sessions/{}/board", world.session), &fields).await.status, StatusCode::OK);
    }
    assert_eq!(lies(&pool, &world, &[all[0], id, all[1], all[2]]).await, "0 1 2 3");
    let own = fits::of_slot(&pool, world.trainer, id, world.place).await.unwrap().unwrap();
    assert_eq!((own.exercise.as_str(), &own.prescription), ("dumbbell_curl", &dose_of(&pool, &world, all[0]).await));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_dose_is_written_in_its_line_and_takes_effect_at_once(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let all = three(&pool, &world, &visitor).await;
    let path = format!("/sessions/{}/board/dose", world.session);
    let slot = all[0].to_string();
    let write = async |line: &str| {
        let seen = board(&visitor, &world).await.hidden("seen");
        visitor.post(&path, &[("seen", seen.as_str()), ("slot", &slot), ("line", line)]).await
    };
    let refused = write("4 x 6-8 sparkling").await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("sparkling") && refused.text.contains("value=\"4 x 6-8 sparkling\""));
    assert_eq!(write("4 x 6-8 @ 3-1-1-0, 1 in reserve, rest 2 min").await.status, StatusCode::OK);
    let written = read("4 x 6-8 @ 3-1-1-0, 1 in reserve, rest 120 s").unwrap();
    let mut expected = written.filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 });
    let load = dose_of(&pool, &world, all[0]).await.sets[0].load;
    expected.sets.iter_mut().for_each(|s| s.load = load);
    assert_eq!(dose_of(&pool, &world, all[0]).await, expected);
    // One set more and one fewer start from the dose in force.
    act(&visitor, &world, all[0], "more").await;
    assert_eq!(dose_of(&pool, &world, all[0]).await.sets.len(), 5);
    act(&visitor, &world, all[0], "fewer").await;
    act(&visitor, &world, all[0], "fewer").await;
    let dose = dose_of(&pool, &world, all[0]).await;
    assert_eq!((dose.sets.len(), &dose.sets[0]), (3, &expected.sets[0]));
    // Undo brings the doses back, one by one.
    for sets in [4, 5, 4] {
        step(&visitor, &world, "undo").await;
        assert_eq!(dose_of(&pool, &world, all[0]).await.sets.len(), sets);
    }
}

/// What is done at a slot, on a bench at an angle and without a weight of its own.
async fn on_a_bench(pool: &Pool, world: &World, slot: Uuid, degrees: f64) {
    let own = fits::of_slot(pool, world.trainer, slot, world.place).await.unwrap().unwrap();
    let setup = Setup { bench_deg: Some(Degrees(degrees)), ..own.step.setup };
    let step = LadderStep { setup, set_up_s: Seconds(40.0), load: None, bands: vec![], ..own.step.clone() };
    let new = fits::NewFit {
        slot_id: slot,
        place_id: world.place,
        exercise: &own.exercise,
        step: &step,
        prescription: &own.prescription,
        pinned: false,
    };
    fits::take(pool, world.trainer, &new).await.unwrap();
}

/// Of four on one bench at two angles in turns, those at one angle come after each other; that is offered once, and undone.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_circuit_is_turned_and_turned_back(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let three = three(&pool, &world, &visitor).await;
    let intent = slots::one(&pool, world.trainer, world.slot).await.unwrap().slot.intent;
    let all = [three[0], three[1], three[2], new_id()];
    slots::add(&pool, world.trainer, world.session, all[3], &intent, Joining::Alone).await.unwrap();
    visitor.post(&format!("/slots/{}/fit", all[3]), &[("exercise", "hammer_curl")]).await;
    for (slot, degrees) in all.iter().zip([0.0, 30.0, 0.0, 30.0]) {
        on_a_bench(&pool, &world, *slot, degrees).await;
    }
    for change in ["join", "join", "join", "circuit"] {
        act(&visitor, &world, all[0], change).await;
    }
    assert_eq!(lies(&pool, &world, &all).await, "0-1-2-3");
    let page = board(&visitor, &world).await;
    assert!(page.text.contains("In other turns 30 s less a round"), "{}", page.text);
    let (lay, slot) = (format!("/sessions/{}/board/turns", world.session), all[0].to_string());
    let (seen, order) = (page.hidden("seen"), page.hidden("order"));
    let refused = visitor.post(&lay, &[("seen", &seen), ("slot", &slot), ("order", "3,2,1,0")]).await;
    assert_eq!(refused.status, StatusCode::CONFLICT, "another order than the one that was offered");
    let laid = visitor.post(&lay, &[("seen", &seen), ("slot", &slot), ("order", &order)]).await;
    assert_eq!(laid.status, StatusCode::OK);
    let after = lies(&pool, &world, &all).await;
    assert!(after == "0-1-3-2" || after == "0-2-1-3" || after == "0-2-3-1", "{after}");
    let page = board(&visitor, &world).await;
    assert!(page.status == StatusCode::OK && !page.text.contains("In other turns"));
    step(&visitor, &world, "undo").await;
    assert_eq!(lies(&pool, &world, &all).await, "0-1-2-3");
}

/// Two curls on a bench and a band between them: the bench stands already if the band comes last.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn the_order_with_less_to_set_up_is_offered_once_and_undone(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let all = three(&pool, &world, &visitor).await;
    // Both on a bench at one angle.
    for slot in [all[0], all[1]] {
        on_a_bench(&pool, &world, slot, 30.0).await;
    }
    let lay = format!("/sessions/{}/board/order", world.session);
    assert_eq!(lies(&pool, &world, &all).await, "0 1 2");
    let page = board(&visitor, &world).await;
    assert!(page.status == StatusCode::OK && !page.text.contains("less of setting up"));
    act(&visitor, &world, all[2], "earlier").await;
    assert_eq!(lies(&pool, &world, &all).await, "0 2 1");
    let page = board(&visitor, &world).await;
    assert!(page.text.contains("In another order 15 s less of setting up"));
    let (seen, order) = (page.hidden("seen"), page.hidden("order"));
    let refused = visitor.post(&lay, &[("seen", &seen), ("order", "2,1,0")]).await;
    assert_eq!(refused.status, StatusCode::CONFLICT, "another order than the one that was offered");
    let laid = visitor.post(&lay, &[("seen", &seen), ("order", &order)]).await;
    assert_eq!(laid.status, StatusCode::OK);
    let after = lies(&pool, &world, &all).await;
    assert!(after.contains("0 1") || after.contains("1 0"), "{after}");
    let page = board(&visitor, &world).await;
    assert!(page.status == StatusCode::OK && !page.text.contains("less of setting up"));
    step(&visitor, &world, "undo").await;
    assert_eq!(lies(&pool, &world, &all).await, "0 2 1");
    // Another order is a change of the plan: it waits for a clearance.
    let answers = crate::common::answers(Some("heart"));
    let id = new_id().to_string();
    let mut fields: Vec<(&str, &str)> = answers.iter().map(|(n, v)| (n.as_str(), v.as_str())).collect();
    fields.extend([("id", id.as_str()), ("on", "2026-03-10")]);
    visitor.post(&format!("/clients/{}/health", world.client), &fields).await;
    let seen = board(&visitor, &world).await.hidden("seen");
    let stopped = visitor.post(&lay, &[("seen", &seen), ("order", &order)]).await;
    assert!(stopped.text.contains("New plans wait for a clearance"));
    assert_eq!(lies(&pool, &world, &all).await, "0 2 1");
}

/// Of two lines of which one is enough each counts half in what is planned.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_may_be_left_out_counts_by_what_is_asked(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let own = slots::one(&pool, world.trainer, world.slot).await.unwrap().slot.intent;
    let aims = [("id", new_id().to_string()), ("after", String::new()), ("aim_biceps_long", "focus".to_owned())];
    let aims: Vec<(&str, &str)> = aims.iter().map(|(n, v)| (*n, v.as_str())).collect();
    assert_eq!(visitor.post(&format!("/clients/{}/aims", world.client), &aims).await.status, StatusCode::OK);
    // What the week has of the biceps: `2.9 of 10`.
    let sets = async || -> f64 {
        let page = board(&visitor, &world).await;
        let owed = page.text.split("clean owed").nth(1).unwrap_or_else(|| panic!("nothing owed: {}", page.text));
        let row = owed.split("biceps, long head").nth(1).unwrap_or_else(|| panic!("{owed}"));
        row.split(" of ").next().unwrap().rsplit('>').next().unwrap().trim().parse().unwrap()
    };
    visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let alone = sets().await;
    let may = [new_id(), new_id()];
    for (slot, wanted) in may.into_iter().zip([1, 0]) {
        let intent = bavrek_core::plan::Intent { optional: Some(wanted), ..own.clone() };
        slots::add(&pool, world.trainer, world.session, slot, &intent, Joining::Alone).await.unwrap();
        visitor.post(&format!("/slots/{slot}/fit"), &[("exercise", "dumbbell_curl")]).await;
    }
    assert!(board(&visitor, &world).await.text.contains("counted by 0.5 of its sets"));
    let span = ["2026-03-01", "2026-04-30"].map(|d| d.parse().unwrap());
    let planned = fits::planned(&pool, world.trainer, world.client, span).await.unwrap();
    assert_eq!(planned.iter().map(|l| l.optional).collect::<Vec<_>>(), [None, Some(1), Some(0)]);
    assert!(alone > 0.0 && (sets().await - 2.0 * alone).abs() < 0.11, "half of both: {} after {alone}", sets().await);
}

/// The only band is fixed one way for a curl and another for a press: chosen together one of the two is done without it.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_block_is_chosen_as_a_whole_and_undone(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let press = new_id();
    let intent = serde_json::from_str(
        r#"{"pattern":"horizontal_press","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3}"#,
    )
    .unwrap();
    let block = sessions::blocks(&pool, world.trainer, world.session).await.unwrap()[0].id;
    slots::add(&pool, world.trainer, world.session, press, &intent, Joining::Block(block, BlockKind::Superset))
        .await
        .unwrap();
    let exercises = async || {
        let fit = async |slot| fits::of_slot(&pool, world.trainer, slot, world.place).await.unwrap();
        [fit(world.slot).await, fit(press).await].map(|f| f.map(|f| f.exercise))
    };
    let asked = format!("/sessions/{}?whole={}", world.session, world.slot);
    let take = format!("/sessions/{}/board/whole", world.session);
    let slot = world.slot.to_string();

    // Nothing is chosen yet: both at once, not in each other's way.
    let page = visitor.get(&asked).await;
    assert!(page.text.contains("Chosen together, so that none is in another&#39;s way:"), "{}", page.text);
    let post = async |picks: &str| {
        let seen = board(&visitor, &world).await.hidden("seen");
        visitor.post(&take, &[("seen", &seen), ("slot", &slot), ("picks", picks)]).await.status
    };
    let picks = page.hidden("picks");
    assert_eq!(post(&picks).await, StatusCode::OK);
    let both = exercises().await;
    assert!(both.iter().all(Option::is_some), "{both:?}");
    let page = board(&visitor, &world).await;
    assert!(page.status == StatusCode::OK && !page.text.contains("a round"), "none is in another's way");
    assert_eq!(post(&picks).await, StatusCode::CONFLICT, "what was offered is taken");

    for (slot, exercise) in [(world.slot, "band_curl"), (press, "band_floor_press")] {
        visitor.post(&format!("/slots/{slot}/fit"), &[("exercise", exercise)]).await;
    }
    let before = [Some("band_curl".to_owned()), Some("band_floor_press".to_owned())];
    assert_eq!(exercises().await, before);
    let page = board(&visitor, &world).await;
    assert!(page.text.contains("is fixed another way for") && page.text.contains("Choose them together"));
    let page = visitor.get(&asked).await;
    assert!(page.text.contains("Chosen together: 30 s less a round"), "{}", page.text);
    assert_eq!((post("band_curl").await, exercises().await), (StatusCode::CONFLICT, before.clone()));
    assert_eq!(post(&page.hidden("picks")).await, StatusCode::OK);
    let after = exercises().await;
    assert_ne!(after, before);
    let page = board(&visitor, &world).await;
    assert!(page.status == StatusCode::OK && !page.text.contains("is fixed another way for"));
    step(&visitor, &world, "undo").await;
    assert_eq!(exercises().await, before);

    // What is pinned stays, and the other gives way.
    visitor.post(&format!("/slots/{}/pin", world.slot), &[("pinned", "1")]).await;
    let picks = visitor.get(&asked).await.hidden("picks");
    assert!(picks.contains(&press.to_string()) && !picks.contains(&slot), "{picks}");
}

/// A call that was taken changes the dose of a fit and not the slot's own: undo brings back what was in force.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn undo_brings_back_the_dose_that_was_in_force(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let all = three(&pool, &world, &visitor).await;
    let fit = fits::of_slot(&pool, world.trainer, all[0], world.place).await.unwrap().unwrap();
    let mut called = fit.prescription.clone();
    called.sets.iter_mut().for_each(|s| s.reps = Some([14, 21]));
    let new = fits::NewFit {
        slot_id: all[0],
        place_id: world.place,
        exercise: &fit.exercise,
        step: &fit.step,
        prescription: &called,
        pinned: false,
    };
    fits::take(&pool, world.trainer, &new).await.unwrap();
    // A move leaves it, a school changes it, undo brings it back, redo the school's.
    act(&visitor, &world, all[0], "later").await;
    assert_eq!(dose_of(&pool, &world, all[0]).await, called);
    let seen = board(&visitor, &world).await.hidden("seen");
    let ticked = format!("dose-{}", all[0]);
    let fields = [("seen", seen.as_str()), ("method", "heavy_compound"), ("for", "size"), (ticked.as_str(), "on")];
    visitor.post(&format!("/sessions/{}/school", world.session), &fields).await;
    let heavy = dose_of(&pool, &world, all[0]).await;
    assert_ne!(heavy, called);
    step(&visitor, &world, "undo").await;
    assert_eq!(dose_of(&pool, &world, all[0]).await, called);
    step(&visitor, &world, "redo").await;
    assert_eq!(dose_of(&pool, &world, all[0]).await, heavy);
    // One set fewer starts from what is in force.
    step(&visitor, &world, "undo").await;
    act(&visitor, &world, all[0], "fewer").await;
    assert_eq!(dose_of(&pool, &world, all[0]).await.sets, called.sets[1..]);
}

/// Undo never brings back what has been ruled out since: a limit, or a movement that was put aside.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn undo_does_not_bring_back_what_is_ruled_out_by_now(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let all = three(&pool, &world, &visitor).await;
    act(&visitor, &world, all[0], "later").await;
    let elsewhere = visitor.post(&format!("/slots/{}/fit", all[0]), &[("exercise", "hammer_curl")]).await;
    assert_eq!(elsewhere.status, StatusCode::OK);
    let aside = [("exercise", "dumbbell_curl"), ("reason", "hurts the wrist")];
    assert_eq!(visitor.post(&format!("/slots/{}/aside", all[0]), &aside).await.status, StatusCode::OK);
    let page = step(&visitor, &world, "undo").await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(page.text.contains("It was not brought back"), "{}", page.text);
    let fit = fits::of_slot(&pool, world.trainer, all[0], world.place).await.unwrap().unwrap();
    assert_eq!(fit.exercise, "hammer_curl");
    // The blocks go back all the same.
    step(&visitor, &world, "undo").await;
    assert_eq!(lies(&pool, &world, &all).await, "0 1 2");
    let fit = fits::of_slot(&pool, world.trainer, all[0], world.place).await.unwrap().unwrap();
    assert_eq!(fit.exercise, "hammer_curl");
}

/// A slot that was added after a move was worked out is not swept away by it.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_move_that_does_not_know_a_slot_changes_nothing(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let intent = slots::one(&pool, world.trainer, world.slot).await.unwrap().slot.intent;
    let block = sessions::blocks(&pool, world.trainer, world.session).await.unwrap().remove(0);
    let laid = LaidSlot { id: world.slot, intent: intent.clone(), fits: BTreeMap::new() };
    let from = Layout {
        method: None,
        follows: None,
        blocks: vec![LaidBlock { id: block.id, kind: block.kind, slots: vec![laid] }],
    };
    let mut layout = from.clone();
    layout.blocks[0].slots[0].intent.dose.sets = 5;
    let change = Change { seen: 0, from: &from, kind: PlanChange::Hardens, layout: &layout, copied: None };
    let late = new_id();
    slots::add(&pool, world.trainer, world.session, late, &intent, Joining::Alone).await.unwrap();
    let refused = boards::lay(&pool, world.trainer, world.session, change).await;
    assert!(matches!(refused, Err(StoreError::Conflict)), "{refused:?}");
    assert_eq!(lies(&pool, &world, &[world.slot, late]).await, "0 1");
    // Without it, the same change passes.
    visitor.post(&format!("/slots/{late}/remove"), &[]).await;
    boards::lay(&pool, world.trainer, world.session, change).await.unwrap();
    assert_eq!(slots::one(&pool, world.trainer, world.slot).await.unwrap().slot.intent.dose.sets, 5);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn two_windows_do_not_lay_over_each_other(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let all = three(&pool, &world, &visitor).await;
    let stale = board(&visitor, &world).await.hidden("seen");
    act(&visitor, &world, all[0], "later").await;
    let slot = all[2].to_string();
    let fields = [("seen", stale.as_str()), ("slot", &slot), ("act", "earlier")];
    let page = visitor.post(&format!("/sessions/{}/board", world.session), &fields).await;
    assert_eq!(page.status, StatusCode::CONFLICT);
    assert_eq!(lies(&pool, &world, &all).await, "1 0 2");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn nonsense_is_refused(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let (slot, strange) = (world.slot.to_string(), new_id().to_string());
    let path = format!("/sessions/{}/board", world.session);
    for (fields, status) in [
        (vec![("seen", "0"), ("slot", slot.as_str()), ("act", "fly")], StatusCode::UNPROCESSABLE_ENTITY),
        (vec![("seen", "x"), ("slot", &slot), ("act", "more")], StatusCode::UNPROCESSABLE_ENTITY),
        (vec![("seen", "0"), ("slot", &strange), ("act", "more")], StatusCode::NOT_FOUND),
    ] {
        assert_eq!(visitor.post(&path, &fields).await.status, status, "{fields:?}");
    }
    let fields = [("slot", slot.as_str()), ("step", "9999"), ("label", "a moon")];
    assert!(visitor.post(&format!("{path}/step"), &fields).await.status.is_client_error());
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_runs_over_is_said_with_what_a_cut_would_save(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let all = three(&pool, &world, &visitor).await;
    let minutes = |page: &Page| -> f64 {
        let from = page.text.split(" min: warm-up").next().unwrap();
        from.rsplit('>').next().unwrap().trim().parse().unwrap()
    };
    // Three curls of three sets do not fit into 30 minutes' half.
    sqlx::query("update sessions set minutes = 15 where id = $1").bind(world.session).execute(&pool).await.unwrap();
    let page = board(&visitor, &world).await;
    let before = minutes(&page);
    assert!(before > 15.5, "{before}");
    assert!(page.text.contains("Runs over by ") && page.text.contains("One set fewer of "));
    act(&visitor, &world, all[0], "fewer").await;
    let after = minutes(&board(&visitor, &world).await);
    let dose = dose_of(&pool, &world, all[0]).await;
    let saved = (f64::from(dose.sets[0].rest_s) + dose.sets[0].seconds_under_load().unwrap().value()) / 60.0;
    assert!((before - after - saved).abs() < 0.11, "{before} {after} {saved}");
    sqlx::query("update sessions set minutes = 90 where id = $1").bind(world.session).execute(&pool).await.unwrap();
    assert!(!board(&visitor, &world).await.text.contains("Runs over"));
}

/// A region that is short leads to a slot for it.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_short_region_is_added_with_one_press(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let aims = [("id", new_id().to_string()), ("after", String::new()), ("aim_lats", "focus".to_owned())];
    let aims: Vec<(&str, &str)> = aims.iter().map(|(n, v)| (*n, v.as_str())).collect();
    assert_eq!(visitor.post(&format!("/clients/{}/aims", world.client), &aims).await.status, StatusCode::OK);
    let page = board(&visitor, &world).await;
    let link = format!("/sessions/{}/slots/new?region=lats", world.session);
    assert!(page.text.contains("What the week still owes") && page.text.contains(&link));
    let form = visitor.get(&link).await;
    assert_eq!(form.status, StatusCode::OK);
    assert!(form.text.contains("name=\"region_lats\" value=\"1\""), "the region is filled in");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_piece_is_dropped_before_another_or_onto_it(pool: Pool) {
    let (world, me) = desk(&pool).await;
    let all = three(&pool, &world, &me).await;
    let address = format!("/sessions/{}/board", world.session);
    let drop = async |slot: Uuid, act: &str, other: &str| {
        let seen = board(&me, &world).await.hidden("seen");
        let slot = slot.to_string();
        me.post(&address, &[("seen", seen.as_str()), ("slot", &slot), ("act", act), ("other", other)]).await
    };
    drop(all[2], "before", &all[0].to_string()).await;
    assert_eq!(lies(&pool, &world, &all).await, "2 0 1");
    drop(all[1], "with", &all[2].to_string()).await;
    assert_eq!(lies(&pool, &world, &all).await, "2+1 0");
    step(&me, &world, "undo").await;
    assert_eq!(lies(&pool, &world, &all).await, "2 0 1");
    // Onto itself, or onto what is not there, nothing moves.
    drop(all[1], "with", &all[1].to_string()).await;
    drop(all[1], "before", &new_id().to_string()).await;
    assert_eq!(lies(&pool, &world, &all).await, "2 0 1");
    assert_eq!(drop(all[1], "with", "nowhere").await.status, StatusCode::UNPROCESSABLE_ENTITY);
}

/// The minutes that a page of fewer minutes ends with: `From 29 to 18.5 min.`
fn ends_with(page: &Page) -> f64 {
    let words = page.text.split("From ").nth(1).unwrap().split(" min.").next().unwrap();
    words.rsplit(' ').next().unwrap().parse().unwrap()
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_session_is_fitted_into_fewer_minutes_as_one_change(pool: Pool) {
    let (world, me) = desk(&pool).await;
    let all = three(&pool, &world, &me).await;
    let address = format!("/sessions/{}/shorten", world.session);
    assert!(me.get(&format!("{address}?minutes=90")).await.text.contains("It fits as it is."));
    let before = dose_of(&pool, &world, all[0]).await;
    let proposed = me.get(&format!("{address}?minutes=15")).await;
    assert_eq!(proposed.status, StatusCode::OK);
    assert_eq!(dose_of(&pool, &world, all[0]).await, before, "nothing changes before it is taken");
    let minutes = ends_with(&proposed);
    assert!(minutes <= 15.0, "{minutes}");
    let form = [("seen", proposed.hidden("seen")), ("minutes", "15".to_owned()), ("after", proposed.hidden("after"))];
    let form: Vec<(&str, &str)> = form.iter().map(|(n, v)| (*n, v.as_str())).collect();
    // Another proposal than the one that was read is not taken.
    assert_eq!(me.post(&address, &crate::common::with(&form, &[("after", "3")])).await.status, StatusCode::CONFLICT);
    let board_page = me.post(&address, &form).await;
    assert_eq!(board_page.status, StatusCode::OK);
    assert!(board_page.text.contains(&format!("{minutes} min: warm-up")), "the board's clock agrees");
    let laid = lies(&pool, &world, &all).await;
    step(&me, &world, "undo").await;
    assert_eq!(lies(&pool, &world, &all).await, "0 1 2");
    assert_eq!(dose_of(&pool, &world, all[0]).await, before);
    step(&me, &world, "redo").await;
    assert_eq!(lies(&pool, &world, &all).await, laid);
    // What was worked out from another session than lies there now is not taken any more.
    step(&me, &world, "undo").await;
    act(&me, &world, all[1], "more").await;
    assert_eq!(me.post(&address, &form).await.status, StatusCode::CONFLICT);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn only_what_is_allowed_is_cut_and_wrong_minutes_are_named(pool: Pool) {
    let (world, me) = desk(&pool).await;
    three(&pool, &world, &me).await;
    let address = format!("/sessions/{}/shorten", world.session);
    let rests = me.get(&format!("{address}?minutes=10&chosen=on&rests=on")).await;
    assert_eq!(rests.status, StatusCode::OK);
    assert!(rests.text.contains("at most instead of") && !rests.text.contains("sets instead of"));
    assert!(rests.text.contains("min over: what is allowed here does not save more"));
    let bad = me.get(&format!("{address}?minutes=soon")).await;
    assert!(bad.text.contains("Minutes there are: &#34;soon&#34; is not a number"), "{}", bad.text);
    assert!(bad.text.contains("value=\"soon\""));
    let refused = me.post(&address, &[("seen", "0"), ("minutes", "0")]).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
}

/// Of a set that mixes repetitions and holds no repetitions are promised: the last hold is what decides.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_mixed_set_is_told_by_its_last_hold(pool: Pool) {
    let (world, me) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x mixed").await;
    let page = me.get(&format!("/sessions/{}?pick={}", world.session, world.slot)).await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(page.text.contains("the last hold is expected to last in "), "{}", page.text);
    assert!(!page.text.contains("repetitions expected"));
    let (seen, slot) = (page.hidden("seen"), world.slot.to_string());
    let form = [("seen", seen.as_str()), ("slot", &slot), ("line", "3 x mixed")];
    let dosed = me.post(&format!("/sessions/{}/board/dose", world.session), &form).await;
    assert_eq!(dosed.status, StatusCode::OK, "{}", dosed.text);
    let bench = me.get(&format!("/slots/{}/bench?pick=dumbbell_curl", world.slot)).await;
    assert!(bench.text.contains("the last hold is expected to last in "), "{}", bench.text);
}
