//! Choosing fits over HTTP: the swap bench, what is put aside, and a plan at another place.

use crate::common::{Visitor, World, desk, start, world};
use bavrek_core::kit::KitItem;
use bavrek_store::slots::{self, Joining};
use bavrek_store::{Pool, fits, kit, new_id, places, put_aside, sessions, spot_swaps};
use reqwest::StatusCode;
use uuid::Uuid;

const A: &str = "a@bavrek.example";
const B: &str = "b@bavrek.example";

/// Another place of the client with these things in it.
async fn another_place(pool: &Pool, world: &World, items: &str) -> Uuid {
    let id = new_id();
    places::add(pool, world.trainer, world.client, id, "Hotel", None).await.unwrap();
    let items: Vec<KitItem> = serde_json::from_str(items).unwrap();
    for item in items {
        kit::add(pool, world.trainer, id, new_id(), &item).await.unwrap();
    }
    id
}

const BAND: &str = r#"[{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}]"#;

async fn in_force(pool: &Pool, world: &World, place: Uuid) -> Option<String> {
    fits::of_slot(pool, world.trainer, world.slot, place).await.unwrap().map(|f| f.exercise)
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_movement_is_put_aside_with_its_reason_and_taken_back(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let bench = format!("/slots/{}/bench", world.slot);
    let aside = |reason: &'static str| {
        let (visitor, path) = (&visitor, format!("/slots/{}/aside", world.slot));
        async move { visitor.post(&path, &[("exercise", "hammer_curl"), ("reason", reason)]).await }
    };
    let page = aside("  ").await;
    assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.text.contains("reason"));
    let page = aside("wrists ached in May").await;
    assert!(page.text.contains("is put aside for") && page.text.contains("put aside: wrists ached in May"));
    let known = put_aside::of_client(&pool, world.trainer, world.client).await.unwrap();
    assert_eq!(known.iter().map(|p| p.exercise.as_str()).collect::<Vec<_>>(), ["hammer_curl"]);
    let refused = visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "hammer_curl")]).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "what is put aside is not taken");
    visitor.post(&format!("/slots/{}/take-back", world.slot), &[("exercise", "hammer_curl")]).await;
    assert!(!visitor.get(&bench).await.text.contains("put aside:"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn every_movement_answers_why_not(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let why = |name: &'static str| {
        let path = format!("/slots/{}/bench?why={name}", world.slot);
        let visitor = &visitor;
        async move {
            let text = visitor.get(&path).await.text;
            let said = text.split("because\" role=\"status\">").nth(1).unwrap_or_default();
            said.split("</p>").next().unwrap_or_default().to_owned()
        }
    };
    assert!(why("ring_curl").await.contains("ruled out here: needs rings"));
    assert!(why("lateral+raise").await.contains("does another job"));
    assert!(why("hammer_curl").await.contains("ranks"));
    assert!(why("zzz").await.contains("No movement is called"));
    assert!(why("curl").await.contains("Which one"));
    assert!(why("").await.is_empty());
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn candidates_are_filtered_and_set_side_by_side(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let bench = format!("/slots/{}/bench", world.slot);
    let page = visitor.get(&format!("{bench}?pick=dumbbell_curl&beside=hammer_curl")).await;
    let table = page.text.split("Side by side").nth(1).unwrap();
    assert!(table.contains("Standing dumbbell curl") && table.contains("room to grow"));
    assert!(
        !visitor.get(&format!("{bench}?pick=dumbbell_curl&beside=dumbbell_curl")).await.text.contains("Side by side")
    );
    let none = visitor.get(&format!("{bench}?with=rings")).await;
    assert!(!none.text.contains("class=\"candidate on\""), "no candidate hangs from rings that are not there");
    let all = visitor.get(&format!("{bench}?with=%22%3E%3Cscript%3E")).await;
    assert!(all.text.contains("class=\"candidate on\"") && !all.text.contains("<script>\""));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_session_goes_to_another_place_and_back_with_nothing_lost(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let home = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    let hotel = another_place(&pool, &world, BAND).await;
    let refit = format!("/clients/{}/refit", world.client);
    let page = visitor.get(&format!("{refit}?from={}&to={hotel}&session={}", world.place, world.session)).await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(page.text.contains("Standing dumbbell curl") && page.text.contains("does the job best there"));
    let (from, to, session) = (world.place.to_string(), hotel.to_string(), world.session.to_string());
    let field = format!("take-{}", world.slot);
    let away = [("from", from.as_str()), ("to", to.as_str()), ("session", session.as_str())];
    // What does not work there is refused, and nothing is moved.
    let wrong = visitor.post(&refit, &[&away[..], &[(field.as_str(), "dumbbell_curl")]].concat()).await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(sessions::head(&pool, world.trainer, world.session).await.unwrap().place_id, world.place);
    let page = visitor.post(&refit, &[&away[..], &[(field.as_str(), "band_curl")]].concat()).await;
    assert_eq!((page.status, page.address), (StatusCode::OK, format!("/sessions/{}", world.session)));
    assert_eq!(in_force(&pool, &world, hotel).await.as_deref(), Some("band_curl"));
    let back = [("from", to.as_str()), ("to", from.as_str()), ("session", session.as_str())];
    let page = visitor.get(&format!("{refit}?from={hotel}&to={}&session={}", world.place, world.session)).await;
    assert!(page.text.contains("as it was taken there before"));
    visitor.post(&refit, &[&back[..], &[(field.as_str(), "dumbbell_curl")]].concat()).await;
    let again = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    assert_eq!(again, home, "the very fit of before is in force");
    assert_eq!(in_force(&pool, &world, hotel).await.as_deref(), Some("band_curl"), "the other one stays as well");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_pinned_movement_stays_where_it_can_and_says_where_it_cannot(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let page = visitor.post(&format!("/slots/{}/pin", world.slot), &[("pinned", "1")]).await;
    assert!(page.text.contains("Pinned: let it go"));
    let pairs = r#"[{"kind":"dumbbells","unit":"kg","pairs":[4,6,8]},{"kind":"bench","angles_deg":[0,45,60]}]"#;
    let (gym, bare) = (another_place(&pool, &world, pairs).await, another_place(&pool, &world, BAND).await);
    let look = |to: Uuid| format!("/clients/{}/refit?from={}&to={to}", world.client, world.place);
    assert!(visitor.get(&look(gym)).await.text.contains("pinned: it stays"));
    assert!(visitor.get(&look(bare)).await.text.contains("Standing dumbbell curl is pinned and impossible there."));
    let (from, to, field) = (world.place.to_string(), gym.to_string(), format!("take-{}", world.slot));
    let fields = [("from", from.as_str()), ("to", to.as_str()), (field.as_str(), "dumbbell_curl")];
    visitor.post(&format!("/clients/{}/refit", world.client), &fields).await;
    assert!(fits::of_slot(&pool, world.trainer, world.slot, gym).await.unwrap().unwrap().pinned);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_cannot_be_done_there_is_left_open(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let bare = another_place(&pool, &world, "[]").await;
    let look = format!("/clients/{}/refit?from={}&to={bare}", world.client, world.place);
    assert!(visitor.get(&look).await.text.contains("1 of 1</b> slots find a movement"), "one hand resists the other");
    let aside = format!("/slots/{}/aside", world.slot);
    visitor.post(&aside, &[("exercise", "self_resisted_curl"), ("reason", "will not push against himself")]).await;
    let page = visitor.get(&look).await;
    assert!(page.text.contains("0 of 1</b> slots find a movement"), "a floor trains no biceps");
    assert!(page.text.contains("Nothing here"));
    let (from, to) = (world.place.to_string(), bare.to_string());
    visitor.post(&format!("/clients/{}/refit", world.client), &[("from", &from), ("to", &to)]).await;
    assert_eq!(in_force(&pool, &world, bare).await, None);
    assert_eq!(sessions::head(&pool, world.trainer, world.session).await.unwrap().place_id, bare);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn nobody_refits_for_somebody_else(pool: Pool) {
    let (mine, theirs) = (world(&pool, A).await, world(&pool, B).await);
    let me = Visitor::signed_in(&start(pool.clone()).await, A).await;
    let look =
        |client: Uuid, from: Uuid, to: Uuid, rest: String| format!("/clients/{client}/refit?from={from}&to={to}{rest}");
    for path in [
        look(theirs.client, theirs.place, theirs.place, String::new()),
        look(mine.client, theirs.place, mine.place, String::new()),
        look(mine.client, mine.place, theirs.place, String::new()),
        look(mine.client, mine.place, mine.place, format!("&session={}", theirs.session)),
    ] {
        assert_eq!(me.get(&path).await.status, StatusCode::NOT_FOUND, "{path}");
    }
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_swap_on_the_spot_holds_for_today_and_is_logged_with_its_reason(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let plan = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    let spot = format!("/slots/{}/spot", world.slot);
    let asked = visitor.get(&spot).await;
    assert!(asked.text.contains("What is in the way?") && asked.text.contains("why=broken"));
    let piece = world.dumbbells.to_string();
    let page = visitor.get(&format!("{spot}?piece={piece}&why=taken")).await;
    assert!(page.text.contains("Do this today") && !page.text.contains("pair of"), "no dumbbell while they are taken");
    let id = new_id().to_string();
    let taken = [("id", id.as_str()), ("piece", piece.as_str()), ("why", "taken")];
    let wrong = visitor.post(&spot, &[&taken[..], &[("exercise", "dumbbell_curl")]].concat()).await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
    let page = visitor.post(&spot, &[&taken[..], &[("exercise", "band_curl")]].concat()).await;
    assert!(page.text.contains("Standing band curl") && page.text.contains("Instead of Standing dumbbell curl"));
    assert!(page.text.contains("taken."), "the reason is shown");
    let set = [("id", &*new_id().to_string()), ("slot", &*world.slot.to_string()), ("reps", "12"), ("rir", "2")]
        .map(|(n, v)| (n, v.to_owned()));
    let set: Vec<(&str, &str)> = set.iter().map(|(n, v)| (*n, v.as_str())).collect();
    visitor.post(&format!("/sessions/{}/train", world.session), &set).await;
    let log = bavrek_store::log::of_client(&pool, world.trainer, world.client, crate::common::now().date_naive())
        .await
        .unwrap();
    assert_eq!(log[0].set.exercise, "band_curl");
    let today = crate::common::now().date_naive();
    let on = |day| bavrek_store::spot_swaps::of_session(&pool, world.trainer, world.session, world.place, day);
    let swap = on(today).await.unwrap().remove(&world.slot).unwrap();
    assert!(swap.reason.ends_with("taken") && swap.instead_of == "dumbbell_curl");
    assert!(on(today.succ_opt().unwrap()).await.unwrap().is_empty(), "tomorrow the plan is in force again");
    assert_eq!(fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap(), plan);
    let page = visitor.post(&format!("{spot}/back"), &[]).await;
    assert!(page.text.contains("Standing dumbbell curl") && !page.text.contains("Instead of"));
    assert!(kit::pieces(&pool, world.trainer, world.place).await.unwrap().iter().any(|p| p.id == world.dumbbells));
}

/// A second swap of the day knows the first: what was taken is still taken for that slot, what hurt is spared in all.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_was_in_the_way_earlier_still_counts(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let spot = format!("/slots/{}/spot", world.slot);
    let (id, piece) = (new_id().to_string(), world.dumbbells.to_string());
    let taken = [("id", id.as_str()), ("piece", piece.as_str()), ("why", "taken"), ("exercise", "band_curl")];
    visitor.post(&spot, &taken).await;
    let page = visitor.get(&format!("{spot}?hurts=wrist")).await;
    assert!(page.text.contains("Earlier today, and still counted: dumbbells") && page.text.contains("wrist hurts"));
    assert!(!page.text.contains("pair of"), "no dumbbell is offered while they are taken");
    // Another slot may have the dumbbells, but a joint that hurt is spared there as well.
    let intent = slots::one(&pool, world.trainer, world.slot).await.unwrap().slot.intent;
    let other = new_id();
    slots::add(&pool, world.trainer, world.session, other, &intent, Joining::Alone).await.unwrap();
    visitor.post(&format!("/slots/{other}/fit"), &[("exercise", "dumbbell_curl")]).await;
    let elsewhere = format!("/slots/{other}/spot");
    assert!(!visitor.get(&elsewhere).await.text.contains("Earlier today"));
    let (id, today) = (new_id().to_string(), crate::common::now().date_naive());
    let hurts = [("id", id.as_str()), ("hurts", "wrist")];
    let best = visitor.get(&format!("{spot}?hurts=wrist")).await.hidden("exercise");
    visitor.post(&spot, &[&hurts[..], &[("exercise", &best)]].concat()).await;
    let known = spot_swaps::in_the_way(&pool, world.trainer, world.session, world.place, today).await.unwrap();
    assert_eq!(known.len(), 2);
    assert!(visitor.get(&elsewhere).await.text.contains("Earlier today, and still counted: wrist hurts."));
    // Back to the plan, nothing is left of it.
    visitor.post(&format!("{spot}/back"), &[]).await;
    assert!(!visitor.get(&elsewhere).await.text.contains("Earlier today"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_broke_leaves_the_kit_and_what_hurts_is_spared(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let spot = format!("/slots/{}/spot", world.slot);
    let page = visitor.get(&format!("{spot}?hurts=elbow")).await;
    assert!(page.text.contains("elbow hurts") && page.text.contains("joint pain ends the movement"));
    assert!(!page.text.contains("value=\"dumbbell_curl\""), "what hurt is not offered again");
    assert_eq!(visitor.get(&format!("{spot}?hurts=soul")).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(visitor.get(&format!("{spot}?piece={}", new_id())).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    let (id, piece) = (new_id().to_string(), world.dumbbells.to_string());
    let broken = [("id", id.as_str()), ("piece", piece.as_str()), ("why", "broken"), ("exercise", "band_curl")];
    for _ in 0..2 {
        assert_eq!(visitor.post(&spot, &broken).await.status, StatusCode::OK, "sent twice, it is stored once");
    }
    let left = kit::pieces(&pool, world.trainer, world.place).await.unwrap();
    assert!(left.iter().all(|p| p.id != world.dumbbells));
    let history = kit::history(&pool, world.trainer, world.place).await.unwrap();
    assert!(history.iter().any(|p| p.piece.id == world.dumbbells && p.removed_at.is_some()), "dated, not deleted");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn the_ladder_shows_today_and_a_purchase_becomes_a_what_if_place(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/slots/{}/ladder", world.slot);
    assert_eq!(visitor.get(&path).await.status, StatusCode::NOT_FOUND, "nothing is taken yet");
    // Wide gaps, and furniture that was looked at.
    kit::remove(&pool, world.trainer, world.place, world.dumbbells).await.unwrap();
    for piece in kit::pieces(&pool, world.trainer, world.place).await.unwrap() {
        kit::remove(&pool, world.trainer, world.place, piece.id).await.unwrap();
    }
    let chair = new_id();
    kit::add(&pool, world.trainer, world.place, chair, &serde_json::from_str(r#"{"kind":"chair"}"#).unwrap())
        .await
        .unwrap();
    let firm = bavrek_core::kit::improvised::StabilityCheck {
        holds: true,
        slips: false,
        on: crate::common::now().date_naive(),
    };
    kit::answer(&pool, world.trainer, world.place, chair, firm).await.unwrap();
    let pairs: KitItem = serde_json::from_str(r#"{"kind":"dumbbells","unit":"kg","pairs":[5,8,12]}"#).unwrap();
    kit::add(&pool, world.trainer, world.place, new_id(), &pairs).await.unwrap();
    visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let page = visitor.get(&path).await;
    assert!(page.text.contains("What would help") && page.text.contains("kg dumbbells"));
    let offer = page.text.split("name=\"offer\" value=\"").nth(1).unwrap().split('"').next().unwrap().to_owned();
    let what_if = format!("/slots/{}/what-if", world.slot);
    let id = new_id().to_string();
    let wrong = visitor.post(&what_if, &[("id", &id), ("offer", "a_horse")]).await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
    // Sent twice, it becomes one place.
    visitor.post(&what_if, &[("id", &id), ("offer", &offer)]).await;
    let page = visitor.post(&what_if, &[("id", &id), ("offer", &offer)]).await;
    assert_eq!(page.address, format!("/clients/{}/refit", world.client));
    assert!(page.text.contains("Re-fit to Room with") && page.text.contains("is only thought about"));
    // No place yet: it is offered nowhere, and nothing can be taken there.
    let proposals = places::proposals(&pool, world.trainer, world.client).await.unwrap();
    let [there] = &proposals[..] else { panic!("{proposals:?}") };
    assert!(there.name.starts_with("Room with") && there.proposal_of == Some(world.place));
    assert_eq!(places::of_client(&pool, world.trainer, world.client).await.unwrap().len(), 1);
    let (from, to, session) = (world.place.to_string(), there.id.to_string(), world.session.to_string());
    let refit = format!("/clients/{}/refit", world.client);
    let early = visitor.post(&refit, &[("from", &from), ("to", &to), ("session", &session), ("none", "1")]).await;
    assert_eq!(early.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(early.text.contains("keep it as a place first"));
    assert_eq!(
        visitor.get(&format!("/clients/{}/places?place={to}", world.client)).await.status,
        StatusCode::NOT_FOUND
    );
    let kit_there = kit::pieces(&pool, world.trainer, there.id).await.unwrap();
    assert!(kit_there.len() >= 3, "all of the room and what was bought");
    assert!(kit_there.iter().any(|p| p.stability.is_some()), "the same chair in the same room needs no second look");
    assert_eq!(sessions::head(&pool, world.trainer, world.session).await.unwrap().place_id, world.place);
    // Thought about again, the one before goes; nothing piles up.
    let again = new_id().to_string();
    visitor.post(&what_if, &[("id", &again), ("offer", &offer)]).await;
    let proposals = places::proposals(&pool, world.trainer, world.client).await.unwrap();
    let [there] = &proposals[..] else { panic!("{proposals:?}") };
    assert_eq!(there.id.to_string(), again);
    // Kept by name it is a place, and the plan can go there; dropped it would be gone.
    let keep = format!("/clients/{}/places/{}/keep", world.client, there.id);
    let refused = visitor.post(&keep, &[("keep_name", " ")]).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("Name: "));
    let page = visitor.post(&keep, &[("keep_name", "Room after payday")]).await;
    assert_eq!((page.status, page.address), (StatusCode::OK, refit.clone()));
    let kept = places::of_client(&pool, world.trainer, world.client).await.unwrap();
    assert!(kept.len() == 2 && kept.iter().any(|p| p.name == "Room after payday" && p.id == there.id));
    let to = there.id.to_string();
    visitor.post(&refit, &[("from", &from), ("to", &to), ("session", &session), ("none", "1")]).await;
    assert_eq!(sessions::head(&pool, world.trainer, world.session).await.unwrap().place_id, there.id);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_proposal_that_is_dropped_is_gone(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let id = new_id();
    places::what_if(&pool, world.trainer, world.place, id, "Room with rings", &[]).await.unwrap();
    let page = visitor.get(&format!("/clients/{}/places", world.client)).await;
    assert!(page.text.contains("Room with rings") && page.text.contains("only thought about"));
    let drop = format!("/clients/{}/places/{id}/drop", world.client);
    let page = visitor.post(&drop, &[]).await;
    assert!(page.status == StatusCode::OK && !page.text.contains("Room with rings"));
    assert!(places::proposals(&pool, world.trainer, world.client).await.unwrap().is_empty());
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn one_broken_weight_leaves_the_others_on_the_shelf(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let (spot, id, piece) = (format!("/slots/{}/spot", world.slot), new_id().to_string(), world.dumbbells.to_string());
    let broken = [("id", id.as_str()), ("piece", piece.as_str()), ("weight", "8.5"), ("why", "broken")];
    let page = visitor.get(&format!("{spot}?piece={piece}&weight=8.5&why=broken")).await;
    let offered = page.text.split("name=\"exercise\" value=\"").nth(1).unwrap().split('"').next().unwrap();
    let done = visitor.post(&spot, &[&broken[..], &[("exercise", offered)]].concat()).await;
    assert_eq!(done.status, StatusCode::OK);
    let left = kit::pieces(&pool, world.trainer, world.place).await.unwrap();
    assert!(left.iter().any(|p| p.item.text() == "dumbbells 8, 9, 9.5, 10, 10.5, 11, 11.5, 12 kg pairs"), "{left:?}");
}

/// A fit from before whose weight is gone is not silently left in force.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_refit_after_a_change_of_kit_replaces_a_step_that_is_gone(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let old = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    let lighter: KitItem = serde_json::from_str(r#"{"kind":"dumbbells","unit":"kg","pairs":[2,4,5]}"#).unwrap();
    kit::replace(&pool, world.trainer, world.place, world.dumbbells, new_id(), &lighter).await.unwrap();
    let here = world.place.to_string();
    let refit = format!("/clients/{}/refit", world.client);
    let page = visitor.get(&format!("{refit}?from={here}&to={here}")).await;
    assert!(!page.text.contains("as it was taken there before"));
    let field = format!("take-{}", world.slot);
    visitor.post(&refit, &[("from", &*here), ("to", &*here), (&*field, "dumbbell_curl")]).await;
    let new = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    assert!(new.exercise == "dumbbell_curl" && new.step.load != old.step.load, "{:?}", new.step);
}
