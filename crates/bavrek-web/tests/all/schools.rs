//! The schools over HTTP: side by side, and a session dosed and laid as one of them does.

use crate::common::{Visitor, desk, start};
use bavrek_core::method::Method;
use bavrek_core::plan::BlockKind;
use bavrek_store::slots::{self, Joining};
use bavrek_store::{Pool, fits, new_id, sessions};
use reqwest::StatusCode;
use uuid::Uuid;

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

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_method_goes_to_a_colleague_as_a_document(pool: Pool) {
    let (_, visitor) = desk(&pool).await;
    let file = visitor.get("/methods/timed_circuit/document").await;
    assert_eq!(file.status, StatusCode::OK);
    let text = file.text.replace("\"Timed circuit\"", "\"Circuit of a colleague\"");
    assert_ne!(text, file.text);
    crate::common::world(&pool, "b@bavrek.example").await;
    let other = Visitor::signed_in(&visitor.base(), "b@bavrek.example").await;
    let id = new_id().to_string();
    for _ in 0..2 {
        let kept = other.post("/methods/document", &[("id", &id), ("text", &text)]).await;
        assert_eq!(kept.status, StatusCode::OK, "sent twice it is kept once: {}", kept.text);
    }
    let page = other.get("/methods").await;
    assert_eq!(page.text.matches("Circuit of a colleague (version 1)").count(), 1);
    let own = other.get(&format!("/methods/{id}/document")).await;
    assert_eq!(own.text, text, "it goes out as it came in");
    assert_eq!(visitor.get(&format!("/methods/{id}/document")).await.status, StatusCode::NOT_FOUND);

    let (new, broken) = (new_id().to_string(), text.replace("\"isolation\"", "\"isolated\""));
    let refused = other.post("/methods/document", &[("id", &new), ("text", &broken)]).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("isolated") && refused.text.contains("role=\"alert\""), "{}", refused.text);
    assert_eq!(other.get("/methods").await.text.matches("(version 1)").count(), 1);
}

/// The fields of a school of one's own.
const OWN: [(&str, &str); 12] = [
    ("from", "reserve_based"),
    ("version", "0"),
    ("name", "Garage"),
    ("compound", "2 x 5-7 @ 3-0-1-0, 2 in reserve, rest 150 s\n1 x 10-12, to failure, rest 60 s"),
    ("isolation", "3 x 12-15, 1 in reserve, rest 60 s"),
    ("order", "heavy_first"),
    ("pairing", "alone"),
    ("least", "3"),
    ("most", "5"),
    ("experience", "novice"),
    ("progression", "load"),
    ("logic", "as in the garage"),
];

async fn saved(me: &Visitor, address: &str, id: Uuid, changed: &[(&str, &str)]) -> crate::common::Page {
    let id = id.to_string();
    let mut form = crate::common::with(&OWN, changed);
    form.push(("id", &id));
    me.post(address, &form).await
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_session_keeps_the_version_of_an_own_school_that_it_was_dosed_by(pool: Pool) {
    let (world, me) = desk(&pool).await;
    let id = new_id();
    for _ in 0..2 {
        let page = saved(&me, "/methods/new", id, &[]).await;
        assert!(page.text.contains("Garage (version 1)"), "{}", page.text);
    }
    me.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let address = format!("/sessions/{}/school", world.session);
    let proposed = me.get(&format!("{address}?method={id}&for=size")).await;
    assert!(proposed.text.contains("2 × 12–15"), "{}", proposed.text);
    let (tick, method) = (format!("dose-{}", world.slot), id.to_string());
    let seen = proposed.hidden("seen");
    let form = [("seen", seen.as_str()), ("method", &method), ("for", "size"), (&tick, "on")];
    let board = me.post(&address, &form).await;
    assert!(board.text.contains("Garage, version 1"), "{}", board.text);
    let fit = bavrek_store::fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    assert_eq!((fit.prescription.sets[0].reps, fit.prescription.sets[0].rest_s), (Some([12, 15]), 60));
    // A later version changes nothing that was dosed before; the session still says which it was.
    let edit = format!("/methods/own/{id}/edit");
    let page = saved(&me, &edit, id, &[("version", "1"), ("isolation", "2 x 20, 1 in reserve, rest 45 s")]).await;
    assert!(page.text.contains("Garage (version 2)"));
    assert!(me.get(&format!("/sessions/{}", world.session)).await.text.contains("Garage, version 1"));
    // The second of two windows is told, and what it typed is kept.
    let late = saved(&me, &edit, id, &[("version", "1"), ("name", "Too late")]).await;
    assert_eq!(late.status, StatusCode::CONFLICT);
    assert!(late.text.contains("value=\"Too late\"") && late.text.contains("changed meanwhile"));
    // Put away it is no longer offered, and comes back.
    let gone = me.post(&format!("/methods/own/{id}/away"), &[]).await;
    assert!(gone.text.contains("Put away: Garage"));
    assert!(!me.get(&address).await.text.contains(&method));
    assert_eq!(me.post(&address, &form).await.status, StatusCode::NOT_FOUND);
    me.post(&format!("/methods/own/{id}/back"), &[]).await;
    assert!(me.get(&address).await.text.contains(&method));
    // Another trainer sees none of it.
    crate::common::world(&pool, "b@bavrek.example").await;
    let them = Visitor::signed_in(&start(pool.clone()).await, "b@bavrek.example").await;
    let theirs = them.get("/methods").await;
    assert_eq!(theirs.status, StatusCode::OK);
    assert!(!theirs.text.contains("Garage"));
    assert_eq!(them.get(&edit).await.status, StatusCode::NOT_FOUND);
    assert_eq!(them.post(&format!("/methods/own/{id}/away"), &[]).await.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn rules_that_contradict_each_other_are_named(pool: Pool) {
    let (_, me) = desk(&pool).await;
    let cases: [crate::common::Refusal<'_>; 8] = [
        (&[("compound", "3 x 8\nfour of ten")], "line 2: ", "four of ten"),
        (&[("isolation", "0 x 10")], "must hold 1 to 20 sets", "0 x 10"),
        (&[("compound", "13 x 5")], "may hold at most 12 sets", "13 x 5"),
        (&[("most", "2")], "must be 3 or more, the fewest", "value=\"2\""),
        (&[("least", "1"), ("most", "1"), ("pairing", "circuit")], "nothing to be done together with", "Garage"),
        (&[("least", "none")], "&#34;none&#34; is not a number", "value=\"none\""),
        (&[("order", "sideways")], "is none of the choices", "Garage"),
        (&[("from", "high_rep_band"), ("isolation", "3 x 5 @ 1-0-1-0")], "lasts 30 s at least", "3 x 5 @ 1-0-1-0"),
    ];
    for (changed, says, keeps) in cases {
        let page = saved(&me, "/methods/new", new_id(), changed).await;
        crate::common::assert_refused(&page, says, keeps);
    }
    assert_eq!(me.get("/methods/new?from=nothing").await.status, StatusCode::NOT_FOUND);
    let copy = me.get("/methods/new?from=past_failure").await;
    assert!(copy.text.contains("as an extension") && copy.text.contains("To failure, or with some in reserve?"));
}
