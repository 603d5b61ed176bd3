//! The whole line over HTTP: who gets in, what is stored, what is refused and what is said.

use crate::common::{Refusal, Visitor, World, now, start, world};
use bavrek_store::{Pool, StoreError, clients, decisions, fits, kit, log, new_id};
use reqwest::StatusCode;

const A: &str = "a@bavrek.example";
const B: &str = "b@bavrek.example";

async fn logged(pool: &Pool, world: &World) -> Vec<bavrek_store::log::RecordedSet> {
    log::of_client(pool, world.trainer, world.client, now().date_naive()).await.unwrap()
}

/// Takes the standing curl for the slot.
async fn take_curl(visitor: &Visitor, world: &World) {
    let page = visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    assert_eq!((page.status, page.address), (StatusCode::OK, format!("/sessions/{}", world.session)));
}

/// Logs a set of ten repetitions with these fields changed or added.
async fn log_set(visitor: &Visitor, world: &World, id: &str, fields: &[(&str, &str)]) -> crate::common::Page {
    let slot = world.slot.to_string();
    let mut all = vec![("id", id), ("slot", slot.as_str())];
    all.extend_from_slice(fields);
    visitor.post(&format!("/sessions/{}/train", world.session), &all).await
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn every_page_but_the_sign_in_is_closed(pool: Pool) {
    let world = world(&pool, A).await;
    let base = start(pool).await;
    let stranger = Visitor::new(&base);
    let open_to_all = ["/catalogue", "/catalogue/push_up", "/rig", "/lab", "/lab/reps", "/lab/scale?length=1.3"];
    for path in paths(&world).into_iter().chain(open_to_all.map(str::to_owned)) {
        let page = stranger.get(&path).await;
        assert_eq!((page.status, page.address.as_str()), (StatusCode::OK, "/sign-in"), "{path}");
    }
    assert_eq!(stranger.post_json("/api/v1/compute/fit", "{}").await.status, StatusCode::UNAUTHORIZED);
    assert_eq!(stranger.get("/nowhere").await.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn signing_in_is_refused_without_saying_which_part_was_wrong(pool: Pool) {
    world(&pool, A).await;
    let base = start(pool).await;
    let visitor = Visitor::new(&base);
    let csrf = visitor.get("/sign-in").await.hidden("csrf");
    let mut answers = Vec::new();
    for (email, password) in [(A, "wrong"), ("nobody@bavrek.example", "wrong")] {
        let fields = [("csrf", csrf.as_str()), ("email", email), ("password", password)];
        let page = visitor.post_bare("/sign-in", &fields).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(page.text.contains(&format!("value=\"{email}\"")), "the address is kept");
        answers.push(page.text.replace(email, "").replace(&page.hidden("csrf"), ""));
    }
    assert_eq!(answers[0], answers[1]);
    for (email, password) in [("", "x"), (A, ""), (A, &"x".repeat(300))] {
        let fields = [("csrf", csrf.as_str()), ("email", email), ("password", password)];
        assert_eq!(visitor.post_bare("/sign-in", &fields).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    }
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn signing_in_leads_back_inside_only(pool: Pool) {
    world(&pool, A).await;
    let base = start(pool).await;
    for (next, expected) in [("//elsewhere.example", "/"), ("https://elsewhere.example", "/"), ("/\\elsewhere", "/")] {
        let visitor = Visitor::new(&base);
        let page = visitor.get(&format!("/sign-in?next={next}")).await;
        assert_eq!(page.hidden("next"), expected);
    }
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn signing_out_closes_the_pages(pool: Pool) {
    world(&pool, A).await;
    let base = start(pool).await;
    let visitor = Visitor::signed_in(&base, A).await;
    visitor.post("/sign-out", &[]).await;
    assert_eq!(visitor.get("/").await.address, "/sign-in");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_form_without_the_token_changes_nothing(pool: Pool) {
    let world = world(&pool, A).await;
    let base = start(pool.clone()).await;
    let visitor = Visitor::signed_in(&base, A).await;
    let path = format!("/clients/{}/places/{}/kit/{}/remove", world.client, world.place, world.dumbbells);
    for fields in [&[][..], &[("csrf", "guessed")][..]] {
        assert_eq!(visitor.post_bare(&path, fields).await.status, StatusCode::FORBIDDEN);
    }
    assert_eq!(kit::pieces(&pool, world.trainer, world.place).await.unwrap().len(), 2);
}

/// Every page that shows a trainer's data.
fn paths(world: &World) -> Vec<String> {
    vec![
        "/".into(),
        format!("/clients/{}", world.client),
        format!("/clients/{}?place={}", world.client, world.place),
        format!("/clients/{}/profile", world.client),
        format!("/clients/{}/health", world.client),
        format!("/clients/{}/limits", world.client),
        format!("/clients/{}/places", world.client),
        format!("/clients/{}/places?place={}", world.client, world.place),
        format!("/clients/{}/aims", world.client),
        format!("/clients/{}/aims?place={}", world.client, world.place),
        format!("/clients/{}/strength", world.client),
        format!("/clients/{}/notes", world.client),
        format!("/sessions/{}", world.session),
        format!("/slots/{}/bench", world.slot),
        format!("/slots/{}/call", world.slot),
        format!("/sessions/{}/train", world.session),
        format!("/catalogue?place={}", world.place),
        format!("/catalogue/push_up?client={}", world.client),
        format!("/rig?slot={}", world.slot),
        format!("/rig?client={}", world.client),
    ]
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn another_trainers_data_is_not_there(pool: Pool) {
    let (mine, theirs) = (world(&pool, A).await, world(&pool, B).await);
    let base = start(pool.clone()).await;
    let (me, them) = (Visitor::signed_in(&base, A).await, Visitor::signed_in(&base, B).await);
    take_curl(&them, &theirs).await;
    log_set(&them, &theirs, &new_id().to_string(), &[("reps", "10"), ("rir", "2")]).await;
    let their_set = logged(&pool, &theirs).await[0].id;

    for path in paths(&theirs).into_iter().skip(1) {
        assert_eq!(me.get(&path).await.status, StatusCode::NOT_FOUND, "{path}");
        assert_eq!(them.get(&path).await.status, StatusCode::OK, "{path}");
    }
    assert!(!me.get("/").await.text.contains(&theirs.client.to_string()));
    // Mixed: my client with their place, my session with their slot or set.
    assert_eq!(me.get(&format!("/clients/{}?place={}", mine.client, theirs.place)).await.status, StatusCode::NOT_FOUND);
    let train = format!("/sessions/{}/train", mine.session);
    assert_eq!(me.get(&format!("{train}?slot={}", theirs.slot)).await.status, StatusCode::NOT_FOUND);
    assert_eq!(me.get(&format!("{train}?correct={their_set}")).await.status, StatusCode::NOT_FOUND);

    let id = new_id().to_string();
    let (slot, set) = (theirs.slot.to_string(), their_set.to_string());
    let kit_of = |client, place| format!("/clients/{client}/places/{place}/kit");
    let item = |client, place, what| format!("/clients/{client}/places/{place}/kit/{}/{what}", theirs.dumbbells);
    let chair = [("id", id.as_str()), ("kind", "chair")];
    let done = [("id", id.as_str()), ("slot", slot.as_str()), ("reps", "10")];
    let decided = [("decided", "hold"), ("after_set", set.as_str())];
    let writes: Vec<(String, &[(&str, &str)])> = vec![
        (kit_of(theirs.client, theirs.place), &chair),
        (kit_of(mine.client, theirs.place), &chair),
        (item(theirs.client, theirs.place, "remove"), &[]),
        (item(mine.client, mine.place, "remove"), &[]),
        (item(mine.client, mine.place, "restore"), &[]),
        (format!("/slots/{}/fit", theirs.slot), &[("exercise", "band_curl")]),
        (format!("/sessions/{}/train", theirs.session), &done),
        (train, &done),
        (format!("/slots/{}/call", theirs.slot), &decided),
    ];
    for (path, fields) in writes {
        assert_eq!(me.post(&path, fields).await.status, StatusCode::NOT_FOUND, "{path}");
    }
    assert_eq!(kit::pieces(&pool, theirs.trainer, theirs.place).await.unwrap().len(), 2);
    assert_eq!(logged(&pool, &theirs).await.len(), 1);
    assert!(logged(&pool, &mine).await.is_empty());
    let fit = fits::of_slot(&pool, theirs.trainer, theirs.slot, theirs.place).await.unwrap().unwrap();
    assert_eq!(fit.exercise, "dumbbell_curl");
    assert!(decisions::latest(&pool, theirs.trainer, theirs.slot).await.unwrap().is_none());
    assert!(matches!(clients::one(&pool, mine.trainer, theirs.client).await, Err(StoreError::NotFound)));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn identifiers_that_are_none_are_not_found(pool: Pool) {
    let world = world(&pool, A).await;
    let base = start(pool).await;
    let visitor = Visitor::signed_in(&base, A).await;
    let unknown = new_id();
    for path in
        ["/clients/7".into(), format!("/clients/{unknown}"), "/sessions/x".into(), format!("/slots/{unknown}/bench")]
    {
        assert_eq!(visitor.get(&path).await.status, StatusCode::NOT_FOUND, "{path}");
    }
    let strange = format!("/slots/{}/bench?pick=no_such_movement", world.slot);
    assert_eq!(visitor.get(&strange).await.status, StatusCode::OK, "an unknown pick shows the best");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn from_an_empty_slot_to_an_accepted_call(pool: Pool) {
    let world = world(&pool, A).await;
    let base = start(pool.clone()).await;
    let visitor = Visitor::signed_in(&base, A).await;
    let session = visitor.get(&format!("/sessions/{}", world.session)).await;
    assert!(session.text.contains("Find a fit"));
    let train = visitor.get(&format!("/sessions/{}/train", world.session)).await;
    assert!(train.text.contains("Nothing is chosen"));

    take_curl(&visitor, &world).await;
    let before = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    for _ in 0..2 {
        let page = visitor.get(&format!("/sessions/{}/train", world.session)).await;
        let id = page.hidden("id");
        let page = log_set(&visitor, &world, &id, &[("reps", "12"), ("rir", "3")]).await;
        assert_eq!(page.status, StatusCode::OK);
    }
    assert!(visitor.get(&format!("/sessions/{}/train", world.session)).await.text.contains("Session done"));
    let sets = logged(&pool, &world).await;
    assert_eq!(sets.iter().map(|s| s.position).collect::<Vec<_>>(), [1, 2]);
    assert_eq!(sets[0].set.load, before.step.load);

    let page = visitor.get(&format!("/slots/{}/call", world.slot)).await;
    assert!(page.text.contains(">Add load: "), "{}", page.text);
    let after = page.hidden("after_set");
    let fields = [("decided", "add_load"), ("after_set", after.as_str())];
    visitor.post(&format!("/slots/{}/call", world.slot), &fields).await;
    // Sent twice: the first decision stands.
    visitor.post(&format!("/slots/{}/call", world.slot), &fields).await;
    let fit = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    assert!(fit.step.effective_kg > before.step.effective_kg);
    assert_eq!(fit.prescription.sets[0].load, fit.step.load);
    assert!(visitor.get(&format!("/slots/{}/call", world.slot)).await.text.contains("Decided today: add load"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_call_can_be_changed_but_not_to_what_was_not_offered(pool: Pool) {
    let world = world(&pool, A).await;
    let base = start(pool.clone()).await;
    let visitor = Visitor::signed_in(&base, A).await;
    take_curl(&visitor, &world).await;
    for _ in 0..2 {
        log_set(&visitor, &world, &new_id().to_string(), &[("reps", "12"), ("rir", "3")]).await;
    }
    let call = format!("/slots/{}/call", world.slot);
    let after = visitor.get(&call).await.hidden("after_set");
    for (decided, after) in
        [("deload", after.as_str()), ("dance", &after), ("", &after), ("hold", &new_id().to_string())]
    {
        let page = visitor.post(&call, &[("decided", decided), ("after_set", after)]).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{decided}");
    }
    let before = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    visitor.post(&call, &[("decided", "hold"), ("after_set", &after)]).await;
    let held = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    assert_eq!(held.step.effective_kg, before.step.effective_kg);
    let decision = decisions::latest(&pool, world.trainer, world.slot).await.unwrap().unwrap().decision;
    assert_eq!((decision.proposed.id(), decision.decided.id()), ("add_load", "hold"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_set_is_refused_with_the_field_and_what_was_typed(pool: Pool) {
    let world = world(&pool, A).await;
    let base = start(pool.clone()).await;
    let visitor = Visitor::signed_in(&base, A).await;
    take_curl(&visitor, &world).await;
    let cases: [Refusal<'_>; 8] = [
        (&[], "Reps: tap or type", ""),
        (&[("reps", "more"), ("reps_typed", "many")], "Reps: must be a whole number", "value=\"many\""),
        (&[("reps", "more"), ("reps_typed", "101")], "from 0 to 100", "value=\"101\""),
        (&[("reps", "more"), ("reps_typed", "-3")], "Reps: must be", "value=\"-3\""),
        (&[("reps", "10"), ("rir", "9")], "Left in the tank: must be", "value=\"10\" checked"),
        (&[("reps", "10"), ("pain", "11")], "Pain: must be", "value=\"10\" checked"),
        (&[("reps", "10"), ("side", "middle")], "Side: must be", "value=\"10\" checked"),
        (&[("reps", "10"), ("seen", "ghosts")], "Seen: holds something", "value=\"10\" checked"),
    ];
    for (fields, says, keeps) in cases {
        let page = log_set(&visitor, &world, &new_id().to_string(), fields).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{fields:?}");
        assert!(page.text.contains(says) && page.text.contains(keeps), "{fields:?}");
    }
    let page = log_set(&visitor, &world, "not an id", &[("reps", "10")]).await;
    assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(logged(&pool, &world).await.is_empty());
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_set_sent_twice_counts_once_and_a_correction_replaces_it(pool: Pool) {
    let world = world(&pool, A).await;
    let base = start(pool.clone()).await;
    let visitor = Visitor::signed_in(&base, A).await;
    take_curl(&visitor, &world).await;
    let id = new_id().to_string();
    for _ in 0..2 {
        log_set(
            &visitor,
            &world,
            &id,
            &[("reps", "10"), ("rir", "2"), ("pain", "2"), ("seen", "swinging"), ("seen", "hard")],
        )
        .await;
    }
    let sets = logged(&pool, &world).await;
    assert_eq!(sets.len(), 1);
    assert_eq!((sets[0].set.pain, sets[0].set.seen.len(), sets[0].set.form_kept), (Some(2), 2, None));

    let page = visitor.get(&format!("/sessions/{}/train?correct={id}", world.session)).await;
    assert!(page.text.contains("value=\"10\" checked") && page.hidden("supersedes") == id);
    let corrected = new_id().to_string();
    for _ in 0..2 {
        log_set(&visitor, &world, &corrected, &[("reps", "9"), ("rir", "1"), ("supersedes", &id)]).await;
    }
    let sets = logged(&pool, &world).await;
    assert_eq!(sets.iter().map(|s| (s.set.reps, s.position)).collect::<Vec<_>>(), [(Some(9), 1)]);
    assert_eq!(log::count_all(&pool, world.trainer, world.client).await.unwrap(), 2);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn kit_is_added_once_removed_and_brought_back(pool: Pool) {
    let world = world(&pool, A).await;
    let base = start(pool.clone()).await;
    let visitor = Visitor::signed_in(&base, A).await;
    let path = format!("/clients/{}/places/{}/kit", world.client, world.place);
    let id = new_id().to_string();
    for _ in 0..2 {
        let fields =
            [("id", id.as_str()), ("kind", "dumbbells"), ("unit", "lb"), ("pairs", "15; 25 37.5"), ("singles", "")];
        assert_eq!(visitor.post(&path, &fields).await.status, StatusCode::OK);
    }
    let texts = |pieces: Vec<kit::Piece>| pieces.iter().map(|p| p.item.text()).collect::<Vec<_>>();
    let now_there = texts(kit::pieces(&pool, world.trainer, world.place).await.unwrap());
    assert_eq!(now_there[2..], ["dumbbells 15, 25, 37.5 lb pairs"]);
    let page = visitor.post(&format!("{path}/{id}/remove"), &[]).await;
    assert!(page.text.contains("Undo"));
    assert_eq!(kit::pieces(&pool, world.trainer, world.place).await.unwrap().len(), 2);
    let page = visitor.post(&format!("{path}/{id}/restore"), &[]).await;
    assert!(page.text.contains("Remove dumbbells 15, 25, 37.5 lb pairs") && !page.text.contains("Undo"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn kit_is_refused_beside_its_field_and_kept_as_typed(pool: Pool) {
    let world = world(&pool, A).await;
    let base = start(pool.clone()).await;
    let visitor = Visitor::signed_in(&base, A).await;
    let path = format!("/clients/{}/places/{}/kit", world.client, world.place);
    let cases: [Refusal<'_>; 16] = [
        (&[("kind", "")], "choose what to add", ""),
        (&[("kind", "trampoline")], "choose what to add", ""),
        (&[("kind", "dumbbells"), ("pairs", "")], "id=\"e-pairs\"", ""),
        (&[("kind", "dumbbells"), ("pairs", "5, heavy")], "&#34;heavy&#34; is not a number", "value=\"5, heavy\""),
        (&[("kind", "dumbbells"), ("pairs", "0")], "between 0.25 and 100 kg", "value=\"0\""),
        (&[("kind", "bench"), ("angles", "0, 200")], "between -45 and 90 degrees", "value=\"0, 200\""),
        (&[("kind", "barbell"), ("bar", "10"), ("plates", "a few")], "is not understood", "value=\"a few\""),
        (&[("kind", "barbell"), ("bar", ""), ("plates", "4x5")], "id=\"e-bar\"", "value=\"4x5\""),
        (&[("kind", "barbell"), ("bar", "20"), ("plates", "40x25")], "between 1 and 300 kg", "value=\"40x25\""),
        (&[("kind", "plate_dumbbell"), ("handle", "2"), ("plates", "")], "id=\"e-plates\"", "value=\"2\""),
        (
            &[("kind", "plate_dumbbell"), ("handle", "2"), ("plates", "4x5"), ("count", "3")],
            "id=\"e-count\"",
            "value=\"4x5\"",
        ),
        (&[("kind", "kettlebells"), ("pairs", ""), ("singles", "")], "id=\"e-pairs\"", ""),
        (&[("kind", "anchor"), ("heights", "4")], "between 0 and 3.5 m", "value=\"4\""),
        (&[("kind", "box"), ("height_m", "0.5"), ("count", "10000")], "id=\"e-count\"", "value=\"10000\""),
        (&[("kind", "loop_band"), ("length_m", "1,04")], "give the width and thickness", "value=\"1,04\""),
        (
            &[("kind", "loop_band"), ("length_m", "1.04"), ("rated_min", "16"), ("rated_max", "7")],
            "larger force must come second",
            "value=\"16\"",
        ),
    ];
    for (fields, says, keeps) in cases {
        let id = new_id().to_string();
        let page = visitor.post(&path, &[&[("id", id.as_str())], fields].concat()).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{fields:?}");
        assert!(page.text.contains(says), "{fields:?}: {says}");
        assert!(page.text.contains(keeps), "{fields:?}: {keeps}");
    }
    let long = "x".repeat(5000);
    let id = new_id().to_string();
    let fields = [
        ("id", id.as_str()),
        ("kind", "tube_band"),
        ("label", &long),
        ("length_m", "1.2"),
        ("rated_min", "5"),
        ("rated_max", "16"),
    ];
    let page = visitor.post(&path, &fields).await;
    assert!(page.status == StatusCode::UNPROCESSABLE_ENTITY && page.text.contains("has 5000 characters"));
    assert_eq!(kit::pieces(&pool, world.trainer, world.place).await.unwrap().len(), 2);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn the_bench_follows_the_kit_and_takes_only_what_fits(pool: Pool) {
    let world = world(&pool, A).await;
    let base = start(pool.clone()).await;
    let visitor = Visitor::signed_in(&base, A).await;
    let bench = format!("/slots/{}/bench", world.slot);
    assert_eq!(visitor.get(&bench).await.hidden("exercise"), "dumbbell_curl");
    let path = format!("/clients/{}/places/{}/kit/{}/remove", world.client, world.place, world.dumbbells);
    visitor.post(&path, &[]).await;
    assert_eq!(visitor.get(&bench).await.hidden("exercise"), "band_curl");
    for exercise in ["dumbbell_curl", "no_such_movement", ""] {
        let page = visitor.post(&format!("/slots/{}/fit", world.slot), &[("exercise", exercise)]).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{exercise}");
    }
    assert!(fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().is_none());
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn the_computing_commands_answer_over_http(pool: Pool) {
    world(&pool, A).await;
    let base = start(pool).await;
    let visitor = Visitor::signed_in(&base, A).await;
    let request = r#"{"client":{"body_mass_kg":75,"height_m":1.75,"experience":"novice"},
        "place":{"name":"x","kit":[]},"exercise":"push_up"}"#;
    let page = visitor.post_json("/api/v1/compute/ladder", request).await;
    assert!(page.status == StatusCode::OK && page.text.contains("effective_kg"));
    let page = visitor.post_json("/api/v1/compute/ladder", &request.replace("75,", "7,")).await;
    assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.text.contains(r#""path":"client.body_mass_kg""#), "{}", page.text);
    assert_eq!(visitor.post_json("/api/v1/compute/guess", "{}").await.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn two_processes_serve_one_database(pool: Pool) {
    let world = world(&pool, A).await;
    let (first, second) = (start(pool.clone()).await, start(pool.clone()).await);
    // Signed in through one process, known to the other: cookies do not tell ports apart.
    let visitor = Visitor::signed_in(&first, A).await;
    take_curl(&visitor, &world).await;
    let elsewhere = visitor.through(&second);
    log_set(&elsewhere, &world, &new_id().to_string(), &[("reps", "10")]).await;
    assert_eq!(logged(&pool, &world).await.len(), 1);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn pages_allow_nothing_inline_and_are_not_cached(pool: Pool) {
    world(&pool, A).await;
    let base = start(pool).await;
    let response = reqwest::get(format!("{base}/sign-in")).await.unwrap();
    let header = |name: &str| response.headers()[name].to_str().unwrap().to_owned();
    assert!(header("content-security-policy").contains("script-src 'self'; style-src 'self'"));
    assert_eq!(header("cache-control"), "no-store");
    assert_eq!(header("x-content-type-options"), "nosniff");
    let cookie = header("set-cookie");
    assert!(cookie.contains("HttpOnly") && cookie.contains("SameSite=Lax"), "{cookie}");
}
