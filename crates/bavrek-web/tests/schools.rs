//! The schools over HTTP: side by side, and a session dosed and laid as one of them does.

mod common;

use bavrek_core::method::Method;
use bavrek_core::plan::BlockKind;
use bavrek_store::slots::{self, Joining};
use bavrek_store::{Pool, fits, new_id, sessions};
use common::desk;
use reqwest::StatusCode;

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn all_schools_stand_side_by_side(pool: Pool) {
    let (_, visitor) = desk(&pool).await;
    let page = visitor.get("/methods").await;
    assert_eq!(page.status, StatusCode::OK);
    for method in Method::ALL {
        assert!(page.text.contains(&format!("<article class=\"sheet\" id=\"{}\">", method.id())), "{method}");
    }
    assert!(page.text.contains("4 × 4–6 @ 2-0-X-0, 2 in reserve"), "doses are written in their line");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_session_is_dosed_and_laid_as_a_school_does_and_back(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let intent = slots::one(&pool, world.trainer, world.slot).await.unwrap().slot.intent;
    let other = new_id();
    slots::add(&pool, world.trainer, world.session, other, &intent, Joining::Alone).await.unwrap();
    for (slot, exercise) in [(world.slot, "dumbbell_curl"), (other, "hammer_curl")] {
        visitor.post(&format!("/slots/{slot}/fit"), &[("exercise", exercise)]).await;
    }
    let dose = async |slot| fits::of_slot(&pool, world.trainer, slot, world.place).await.unwrap().unwrap().prescription;
    let before = (dose(world.slot).await, dose(other).await);
    let path = format!("/sessions/{}/school", world.session);
    let page = visitor.get(&format!("{path}?method=timed_circuit&for=size")).await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(page.text.contains("Standing dumbbell curl + Dumbbell curl, neutral grip (circuit)"), "{}", page.text);
    assert_eq!(before, (dose(world.slot).await, dose(other).await), "nothing is changed before it is taken");

    // Only the first line is ticked, and the order.
    let (seen, first) = (page.hidden("seen"), format!("dose-{}", world.slot));
    let fields = [
        ("seen", seen.as_str()),
        ("method", "timed_circuit"),
        ("for", "size"),
        (first.as_str(), "on"),
        ("order", "on"),
    ];
    assert_eq!(visitor.post(&path, &fields).await.status, StatusCode::OK);
    let stations = dose(world.slot).await;
    assert!(stations.sets.iter().all(|s| s.seconds == Some(40) && s.load.is_some()), "{stations:?}");
    assert_eq!(dose(other).await, before.1);
    let blocks = sessions::blocks(&pool, world.trainer, world.session).await.unwrap();
    let [block] = &blocks[..] else { panic!("{blocks:?}") };
    assert!(block.kind == BlockKind::Circuit && block.slots.len() == 2);
    let head = sessions::head(&pool, world.trainer, world.session).await.unwrap();
    assert_eq!(head.method, Some(Method::TimedCircuit));

    // It is one change of the board: one undo brings all of it back.
    let seen = visitor.get(&format!("/sessions/{}", world.session)).await.hidden("seen");
    visitor.post(&format!("/sessions/{}/board/undo", world.session), &[("seen", seen.as_str())]).await;
    assert_eq!(before, (dose(world.slot).await, dose(other).await));
    assert_eq!(sessions::blocks(&pool, world.trainer, world.session).await.unwrap().len(), 2);
    assert_eq!(sessions::head(&pool, world.trainer, world.session).await.unwrap().method, None);

    // A window that shows the state that was undone takes nothing.
    let mut stale = fields;
    stale[0].1 = "1";
    assert_eq!(visitor.post(&path, &stale).await.status, StatusCode::CONFLICT);
    assert_eq!(before.0, dose(world.slot).await);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn an_unknown_school_is_the_sessions_own(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let page = visitor.get(&format!("/sessions/{}/school?method=moonlight&for=fame", world.session)).await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(page.text.contains("<option value=\"reserve_based\" selected>"), "{}", page.text);
}
