//! Sessions, slots and their intents over HTTP: read off a movement, wrong figures kept, two windows, strangers.

use crate::common::{DESK, Refusal, Visitor, World, assert_refused, desk, now, start, start_at, with, world};
use bavrek_core::dose::StopRule;
use bavrek_core::fit::Leanings;
use bavrek_core::plan::{BlockKind, Sides};
use bavrek_store::slots::{self, Joining};
use bavrek_store::{Pool, fits, new_id, sessions, trainers};
use reqwest::StatusCode;

/// The fields of a slot for the lats.
const SLOT: &[(&str, &str)] = &[
    ("pattern", "vertical_pull"),
    ("region_lats", "1"),
    ("reps_low", "6"),
    ("reps_high", "10"),
    ("rir", "1"),
    ("sets", "4"),
    ("stop", "last_to_failure"),
];

async fn blocks(pool: &Pool, world: &World) -> Vec<sessions::Block> {
    sessions::blocks(pool, world.trainer, world.session).await.unwrap()
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_slot_is_written_from_scratch_and_sent_twice_is_one(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/sessions/{}/slots/new", world.session);
    let id = visitor.get(&path).await.hidden("id");
    let fields = with(SLOT, &[("id", &id), ("tempo", "3-0-1-0"), ("sides", "one")]);
    for _ in 0..2 {
        let page = visitor.post(&path, &fields).await;
        assert_eq!((page.status, page.address), (StatusCode::OK, format!("/slots/{id}/bench")));
        assert!(page.text.contains("4 × 6–10 @ 3-0-1-0, 1 in reserve, last to failure"));
    }
    let blocks = blocks(&pool, &world).await;
    assert_eq!(blocks.iter().map(|b| b.slots.len()).collect::<Vec<_>>(), [1, 1]);
    let intent = &blocks[1].slots[0].intent;
    assert_eq!((intent.sides, intent.dose.stop), (Some(Sides::One), Some(StopRule::LastToFailure)));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn an_intent_is_read_off_a_gym_movement_and_the_dose_stays(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/sessions/{}/slots/read-off", world.session);
    let dose = [("reps_low", "12"), ("reps_high", "15"), ("rir", "1"), ("sets", "5"), ("tempo", "4-0-1-0")];
    let page = visitor.post(&path, &with(&dose, &[("reference", "lat pulldown")])).await;
    assert_eq!(page.status, StatusCode::OK);
    for filled in [
        "value=\"Pulldown with a wide bar\"",
        "<option value=\"vertical_pull\" selected>",
        "<option value=\"overhead\" selected>",
        "<option value=\"pronated\" selected>",
        "name=\"region_lats\" value=\"1\"",
        "name=\"reps_low\" value=\"12\"",
        "name=\"sets\" value=\"5\"",
        "name=\"tempo\" value=\"4-0-1-0\"",
    ] {
        assert!(page.text.contains(filled), "{filled}");
    }
    assert_eq!(blocks(&pool, &world).await.len(), 1, "nothing is stored by reading off");
    // A movement that can be done at home is read off as well, by another of its names.
    let page = visitor.post(&path, &with(&dose, &[("reference", "standing dumbbell curl")])).await;
    assert!(page.text.contains("name=\"region_biceps_long\" value=\"1\""));
    for (name, says) in [
        ("", "name a movement to read off"),
        ("knitting", "no movement is called"),
        ("press", "which one is “press”: "),
    ] {
        let page = visitor.post(&path, &with(&dose, &[("reference", name), ("region_lats", "0.7")])).await;
        assert!(page.text.contains(says), "{says}");
        assert!(page.text.contains("name=\"region_lats\" value=\"0.7\""), "what was typed stays");
        assert_eq!(
            page.text.contains("data-fills=\"f-reference\""),
            !name.is_empty(),
            "{name}: what may be meant is a button"
        );
    }
    let back = visitor.get(&path).await;
    assert_eq!(
        back.address,
        format!("/sessions/{}/slots/new", world.session),
        "the address works when loaded directly"
    );
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn wrong_figures_stand_beside_their_fields_and_are_kept(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/sessions/{}/slots/new", world.session);
    let id = new_id().to_string();
    let refusals: &[Refusal<'_>] = &[
        (&[("pattern", "")], "Pattern: choose one", "name=\"reps_low\" value=\"6\""),
        (&[("region_lats", "")], "Regions: name at least one region", "vertical_pull\" selected"),
        (&[("region_lats", "0")], "Regions: name at least one region", "name=\"region_lats\" value=\"0\""),
        (&[("region_lats", "1.5")], "Regions: lats: must be between 0 and 1", "name=\"region_lats\" value=\"1.5\""),
        (&[("region_lats", "much")], "is not a number", "name=\"region_lats\" value=\"much\""),
        (&[("reps_high", "4")], "must be 6 or more", "name=\"reps_high\" value=\"4\""),
        (&[("reps_low", "")], "Reps, from: is needed", "name=\"reps_high\" value=\"10\""),
        (&[("reps_low", "99")], "must be between 1 and 40", "name=\"reps_low\" value=\"99\""),
        (&[("rir", "9")], "must be between 0 and 6", "name=\"rir\" value=\"9\""),
        (&[("sets", "2.5")], "must be a whole number", "name=\"sets\" value=\"2.5\""),
        (&[("tempo", "slow")], "must be four counts", "name=\"tempo\" value=\"slow\""),
        (&[("reference", "knitting")], "no movement is called", "value=\"knitting\""),
        (&[("block", "elsewhere")], "is not in this session any more", "name=\"sets\" value=\"4\""),
    ];
    for (changed, says, keeps) in refusals {
        let page = visitor.post(&path, &with(&with(SLOT, &[("id", &id)]), changed)).await;
        assert_refused(&page, says, keeps);
    }
    assert_eq!(blocks(&pool, &world).await.len(), 1);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn trying_out_says_what_it_leads_to_and_stores_nothing(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/sessions/{}/slots/try", world.session);
    let none = with(SLOT, &[("region_lats", ""), ("region_pec_minor", "1")]);
    assert!(visitor.post(&path, &none).await.text.contains("Nothing at Room does this job."), "no bars, no anchor");
    let curl = with(SLOT, &[("pattern", "elbow_flexion"), ("region_lats", ""), ("region_biceps_long", "1")]);
    let page = visitor.post(&path, &curl).await;
    assert!(page.text.contains("movements do this at Room.") && page.text.contains("biceps, long head 100 %"));
    let odd = visitor.post(&path, &with(&curl, &[("reference", "dumbbell side raise")])).await;
    assert!(odd.text.contains("works none of: biceps, long head"), "a yardstick of another muscle is said");
    // Half typed, nothing is complained about.
    let page = visitor.post(&path, &[("reference", "lat pull"), ("reps_low", "8")]).await;
    assert!(!page.text.contains("Pattern: choose one") && !page.text.contains("Regions: name at least one"));
    assert_eq!(blocks(&pool, &world).await.len(), 1);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn an_intent_is_changed_by_one_window_at_a_time(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/slots/{}/intent", world.slot);
    let page = visitor.get(&path).await;
    assert!(page.text.contains("elbow_flexion\" selected") && page.hidden("version") == "0");
    let save = |version: &'static str, sets: &'static str| {
        let fields = with(SLOT, &[("version", version), ("sets", sets)]);
        let (visitor, path) = (&visitor, &path);
        async move { visitor.post(path, &fields).await }
    };
    assert_eq!(save("0", "4").await.address, format!("/slots/{}/bench", world.slot));
    let late = save("0", "6").await;
    assert_eq!(late.status, StatusCode::CONFLICT);
    assert!(late.text.contains("changed meanwhile") && late.text.contains("vertical pull: lats, 4 × 6–10"));
    assert!(late.text.contains("name=\"sets\" value=\"6\"") && late.hidden("version") == "1");
    assert_eq!(save("1", "6").await.status, StatusCode::OK);
    assert_eq!(slots::one(&pool, world.trainer, world.slot).await.unwrap().slot.intent.dose.sets, 6);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_slot_taken_out_comes_back_by_undo(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let page = visitor.post(&format!("/slots/{}/remove", world.slot), &[]).await;
    assert!(page.text.contains("Taken out: biceps, long head") && page.text.contains("has no slots yet"));
    let page = visitor.post(&format!("/slots/{}/restore", world.slot), &[]).await;
    assert!(!page.text.contains("Taken out:") && page.text.contains(&format!("/slots/{}/bench", world.slot)));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_session_is_made_changed_and_refused_with_what_was_typed(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/sessions/new", world.client);
    let (id, place) = (new_id().to_string(), world.place.to_string());
    let usual =
        [("id", id.as_str()), ("name", "Upper B"), ("planned_on", "2026-04-01"), ("minutes", "50"), ("place", &place)];
    let refusals: &[Refusal<'_>] = &[
        (&[("name", " ")], "Name: is needed", "value=\"2026-04-01\""),
        (&[("planned_on", "soon")], "is no day", "value=\"soon\""),
        (&[("planned_on", "")], "Day: is needed", "value=\"Upper B\""),
        (&[("minutes", "5")], "must be between 10 and 240 minutes", "value=\"5\""),
        (&[("method", "guessing")], "is none of the choices", "value=\"Upper B\""),
        (&[("place", "garden")], "is none of the choices", "value=\"Upper B\""),
    ];
    for (changed, says, keeps) in refusals {
        assert_refused(&visitor.post(&path, &with(&usual, changed)).await, says, keeps);
    }
    let made = visitor.post(&path, &with(&usual, &[("method", "high_rep_band")])).await;
    assert_eq!(made.address, format!("/sessions/{id}"));
    assert!(made.text.contains("high-rep band") && made.text.contains("has no slots yet"));
    let edit = format!("/sessions/{id}/edit");
    let fields = [("version", "0"), ("name", "Upper C"), ("planned_on", "2026-04-02"), ("minutes", "40")];
    assert_eq!(visitor.post(&edit, &fields).await.address, format!("/sessions/{id}"));
    let late = visitor.post(&edit, &with(&fields, &[("name", "Upper D")])).await;
    assert_eq!(late.status, StatusCode::CONFLICT);
    assert!(late.text.contains("saved meanwhile: Upper C") && late.text.contains("value=\"Upper D\""));
    // Out of the plan, and back by undo. An empty session can be opened on the phone without harm.
    assert_eq!(visitor.get(&format!("/sessions/{id}/train")).await.status, StatusCode::OK);
    let gone = visitor.post(&format!("/sessions/{id}/remove"), &[]).await;
    assert!(gone.text.contains("Upper C is out of the plan"));
    assert!(!visitor.get(&format!("/clients/{}", world.client)).await.text.contains("Upper C"));
    assert_eq!(visitor.post(&format!("/sessions/{id}/restore"), &[]).await.address, format!("/sessions/{id}"));
    assert!(visitor.get(&format!("/clients/{}", world.client)).await.text.contains("Upper C"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_school_and_a_pair_reach_the_bench(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let bench = format!("/slots/{}/bench", world.slot);
    assert!(!visitor.get(&bench).await.text.contains("a quick set-up counts more"));
    let head = sessions::head(&pool, world.trainer, world.session).await.unwrap();
    let paired = sessions::SessionHead { method: Some(bavrek_core::method::Method::AntagonistPairs), ..head };
    sessions::change(&pool, world.trainer, &paired).await.unwrap();
    let page = visitor.get(&bench).await;
    assert!(page.text.contains("a quick set-up counts more: there is little rest"), "the school is among the reasons");
    // The only band is stood on in one slot and under the back in the other: that is said on the second one's bench.
    visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "band_curl")]).await;
    let intent = serde_json::from_str(
        r#"{"pattern":"horizontal_press","regions":{"chest_sternal":1.0},"reps":[8,12],"rir":2,"sets":3}"#,
    )
    .unwrap();
    let (press, block) = (new_id(), blocks(&pool, &world).await[0].id);
    let joining = Joining::Block(block, BlockKind::Antagonist);
    slots::add(&pool, world.trainer, world.session, press, &intent, joining).await.unwrap();
    let page = visitor.get(&format!("/slots/{press}/bench?pick=band_floor_press")).await;
    assert!(page.text.contains("is fixed another way for"), "the conflict is said");
    assert!(visitor.get(&format!("/sessions/{}", world.session)).await.text.contains("antagonist pair"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn weights_are_typed_refused_and_put_back(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let usual = [
        ("targeting", "40"),
        ("tension", "10"),
        ("reach", "10"),
        ("steps", "10"),
        ("joints", "20"),
        ("stability", "5"),
        ("setup", "5"),
    ];
    let refusals: &[Refusal<'_>] = &[
        (&[("joints", "2")], "joints: must stay at 15 of a hundred", "name=\"joints\" value=\"2\""),
        (&[("reach", "-1")], "reach: must be between 0 and 100", "name=\"reach\" value=\"-1\""),
        (&[("setup", "")], "set-up: is needed", "name=\"targeting\" value=\"40\""),
        (&[("steps", "few")], "is not a number", "name=\"steps\" value=\"few\""),
    ];
    for (changed, says, keeps) in refusals {
        assert_refused(&visitor.post("/weights", &with(&usual, changed)).await, says, keeps);
    }
    assert_eq!(trainers::judging(&pool, world.trainer).await.unwrap().weights, None);
    let tried = visitor.post("/weights/try", &usual).await;
    assert!(tried.text.contains("as usual") && tried.text.contains("<td class=\"figure\">40</td>"), "only tried");
    assert!(visitor.post("/weights", &usual).await.text.contains("your own weights"));
    assert!(trainers::judging(&pool, world.trainer).await.unwrap().weights.is_some());
    assert!(visitor.post("/weights/usual", &[]).await.text.contains("as usual"));
    assert_eq!(trainers::judging(&pool, world.trainer).await.unwrap().weights, None);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn gym_movements_are_found_and_say_what_replaces_them(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    assert!(visitor.get("/catalogue/gym").await.text.contains("Pulldown with a wide bar"));
    let page = visitor.get("/catalogue/gym/barbell_bench_press").await;
    assert!(page.text.contains("Dumbbell press on a flat bench") && page.text.contains("barbell"));
    assert!(visitor.get("/catalogue?q=butterfly").await.text.contains("/catalogue/gym/fly_machine"));
    assert_eq!(visitor.get("/catalogue/gym/push_up").await.status, StatusCode::NOT_FOUND);
    let why = visitor.get(&format!("/slots/{}/bench?why=lat+pulldown", world.slot)).await;
    assert!(why.text.contains("needs a cable station, which no room here has"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn strangers_find_and_write_nothing(pool: Pool) {
    let mine = world(&pool, DESK).await;
    let other = crate::common::world(&pool, "b@bavrek.example").await;
    let base = start(pool.clone()).await;
    let stranger = Visitor::signed_in(&base, "b@bavrek.example").await;
    let (session, slot) = (mine.session, mine.slot);
    for path in [
        format!("/sessions/{session}/slots/new"),
        format!("/slots/{slot}/intent"),
        format!("/sessions/{session}/edit"),
        format!("/clients/{}/sessions/new", mine.client),
    ] {
        assert_eq!(stranger.get(&path).await.status, StatusCode::NOT_FOUND, "{path}");
        let id = new_id().to_string();
        let fields = with(SLOT, &[("id", &id), ("version", "0"), ("name", "Mine now"), ("planned_on", "2026-04-01")]);
        assert_eq!(stranger.post(&path, &fields).await.status, StatusCode::NOT_FOUND, "{path}");
    }
    for path in [
        format!("/sessions/{session}/remove"),
        format!("/slots/{slot}/remove"),
        format!("/slots/{slot}/restore"),
        format!("/slots/{slot}/intent/try"),
    ] {
        assert_eq!(stranger.post(&path, SLOT).await.status, StatusCode::NOT_FOUND, "{path}");
    }
    assert_eq!(blocks(&pool, &mine).await.len(), 1);
    assert_eq!(blocks(&pool, &other).await.len(), 1);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_dispute_is_decided_once_and_kept(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let page = visitor.get("/weights").await;
    assert!(page.text.contains("Where schools differ") && page.text.contains("Where does a fly with dumbbells end?"));
    let wrong = visitor.post("/weights/leanings", &[("fly_end", "ceiling")]).await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
    let page = visitor.post("/weights/leanings", &[("fly_end", "floor"), ("squeeze", "")]).await;
    assert_eq!((page.status, page.address.as_str()), (StatusCode::OK, "/weights"));
    assert!(page.text.contains("name=\"fly_end\" value=\"floor\" checked"));
    let kept = trainers::judging(&pool, world.trainer).await.unwrap().leanings;
    assert_eq!((kept.side("fly_end"), kept.side("squeeze")), (Some("floor"), None));
    // Another trainer has decided nothing by that.
    let other = crate::common::world(&pool, "b@bavrek.example").await;
    assert_eq!(trainers::judging(&pool, other.trainer).await.unwrap().leanings, Leanings::NONE);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_chosen_half_and_an_own_cue_take_effect_at_once_and_go_again(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let slot = world.slot;
    let taken = visitor.post(&format!("/slots/{slot}/fit"), &[("exercise", "dumbbell_curl")]).await;
    assert_eq!(taken.status, StatusCode::OK);
    let fit = async || fits::of_slot(&pool, world.trainer, slot, world.place).await.unwrap().unwrap();
    let whole = fit().await;
    let id = new_id().to_string();
    let day = [("id", id.as_str()), ("slot", &slot.to_string()), ("reps", "10"), ("rir", "2")];
    assert_eq!(visitor.post(&format!("/sessions/{}/train", world.session), &day).await.status, StatusCode::OK);
    let curl = [("pattern", "elbow_flexion"), ("region_biceps_long", "1"), ("rir", "2"), ("sets", "2")];
    let usual = with(&curl, &[("reps_low", "8"), ("reps_high", "12"), ("stop", "reserve"), ("version", "0")]);
    let path = format!("/slots/{slot}/intent");
    let chosen = with(&usual, &[("range", "lengthened_half"), ("elbows", "tucked"), ("cue", "Stop at the belt.")]);
    let page = visitor.post(&path, &chosen).await;
    assert_eq!((page.status, page.address), (StatusCode::OK, format!("/sessions/{}", world.session)));
    let half = fit().await;
    assert_eq!(half.step.label, format!("{}, the lengthened half", whole.step.label));
    assert!(half.step.is_alike(&whole.step));
    let phone = visitor.get(&format!("/sessions/{}/train", world.session)).await;
    assert_eq!(phone.status, StatusCode::OK);
    assert!(phone.text.contains("Stop at the belt. Only the lengthened half. Elbows at the sides."));
    assert!(visitor.get(&path).await.text.contains("value=\"Stop at the belt.\""));
    // What was done over the whole range is told as such.
    let tomorrow = visitor.through(&start_at(pool.clone(), now() + chrono::Duration::days(1)).await);
    let board = tomorrow.get(&format!("/sessions/{}", world.session)).await;
    assert!(board.text.contains("yesterday: 10, in another part of the range"));
    let page = visitor.post(&path, &with(&chosen, &[("range", ""), ("version", "1")])).await;
    assert_eq!(page.status, StatusCode::OK);
    assert_eq!(fit().await.step.label, whole.step.label);
    let long = "x".repeat(241);
    let page = visitor.post(&path, &with(&chosen, &[("cue", &long), ("version", "2")])).await;
    assert_refused(&page, "Your own cue: has 241 characters; at most 240 are kept", &long);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_press_is_offered_the_pull_that_mirrors_it(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/slots/{}/intent", world.slot);
    let press =
        [("pattern", "horizontal_press"), ("region_chest_sternal", "1"), ("line", "4 x 6-8, 1 in reserve, rest 90 s")];
    visitor.post(&path, &with(&press, &[("version", "0")])).await;
    let board = visitor.get(&format!("/sessions/{}", world.session)).await;
    let link = format!("/sessions/{}/slots/new?mirror={}", world.session, world.slot);
    assert!(board.text.contains(&link));
    let form = visitor.get(&link).await;
    assert_eq!(form.status, StatusCode::OK);
    for filled in [
        "<option value=\"wide_row\" selected>",
        "name=\"region_traps_middle\" value=\"1\"",
        "<option value=\"antagonist\" selected>",
        "4 × 6–8",
    ] {
        assert!(form.text.contains(filled), "{filled}");
    }
    assert!(!form.text.contains("name=\"region_chest_sternal\" value=\"1\""));
    // A slot of another session mirrors nothing here.
    let strange = visitor.get(&format!("/sessions/{}/slots/new?mirror={}", world.session, new_id())).await;
    assert_eq!(strange.status, StatusCode::NOT_FOUND);
}
