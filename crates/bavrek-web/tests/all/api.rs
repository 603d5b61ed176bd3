//! What programs reach: by whose token, with what right, once under a key, and told why not.

use std::collections::BTreeSet;
use std::path::Path;

use crate::common::lines::take;
use crate::common::programs::Program;
use crate::common::{DESK, World, desk, now, start, world};
use crate::logbook::filled as filled_in;
use bavrek_store::tokens::{self, Scope};
use bavrek_store::{Pool, accounts, clients, log, new_id};
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};

/// A world with a program that may do everything.
async fn program(pool: &Pool) -> (World, String, Program) {
    let world = world(pool, DESK).await;
    let base = start(pool.clone()).await;
    let program = Program::of(&base, pool, world.trainer, &Scope::ALL).await;
    (world, base, program)
}

fn described() -> &'static Value {
    bavrek_web::openapi()
}

/// Every operation: method, address, what a token needs.
fn operations() -> Vec<(Method, String, String)> {
    let paths = described()["paths"].as_object().unwrap();
    let all = paths.iter().flat_map(|(path, methods)| {
        methods.as_object().unwrap().iter().map(move |(method, operation)| {
            let scope = operation["description"].as_str().unwrap().trim_start_matches("Needs a token that may ");
            (method.to_uppercase().parse().unwrap(), path.clone(), scope.trim_end_matches('.').to_owned())
        })
    });
    let all: Vec<_> = all.collect();
    assert!(all.len() >= 25, "{} operations", all.len());
    all
}

/// An address with the identifiers of a world.
fn filled(path: &str, world: &World) -> String {
    let path = path.replace("{client}", &world.client.to_string()).replace("{place}", &world.place.to_string());
    let path = path.replace("{session}", &world.session.to_string()).replace("{item}", &world.dumbbells.to_string());
    path.replace("{line}", &world.slot.to_string()).replace("{workout}", &new_id().to_string())
}

#[test]
fn the_document_is_published_and_names_each_operation_once() {
    let file = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/formats/openapi.json");
    let published: Value = serde_json::from_str(&std::fs::read_to_string(file).unwrap()).unwrap();
    assert!(published == *described(), "openapi.json is out of date: run `bavrek schemas docs/formats`");
    let paths = described()["paths"].as_object().unwrap();
    let names =
        paths.values().flat_map(|m| m.as_object().unwrap().values().map(|o| o["operationId"].as_str().unwrap()));
    let names: Vec<&str> = names.collect();
    assert_eq!(names.iter().collect::<BTreeSet<_>>().len(), names.len());
    // Whatever it points to is there.
    let text = described().to_string();
    let schemas = described()["components"]["schemas"].as_object().unwrap();
    let pointed: BTreeSet<&str> =
        text.split("#/components/schemas/").skip(1).filter_map(|rest| rest.split('"').next()).collect();
    assert!(pointed.len() > 20 && pointed.iter().all(|name| schemas.contains_key(*name)), "{pointed:?}");
}

/// A body that its operation takes where it is the caller's own: nothing but whose it is stands against it.
fn body(method: &Method, path: &str) -> Option<Value> {
    let set = || {
        json!({ "id": new_id(), "set": { "exercise": "dumbbell_curl", "date": "2026-03-02", "reps": 9,
        "load": { "value": 10.0, "unit": "kg", "per": "hand" } } })
    };
    match (method.as_str(), path) {
        ("GET" | "DELETE", _) => None,
        ("PUT", "/clients/{client}") => Some(with(with(profile(), "version", json!(1)), "confirmed", json!(true))),
        ("POST", "/clients") => Some(profile()),
        (_, "/clients/{client}/places") => Some(json!({ "name": "Hotel" })),
        (_, "/places/{place}/kit") => Some(json!({ "item": { "kind": "dumbbells", "unit": "kg", "pairs": [5] } })),
        (_, "/sessions/{session}/workouts") => Some(json!({ "on": "2026-03-20" })),
        (_, "/clients/{client}/log") => Some(json!({ "sets": [set()] })),
        (_, "/clients/{client}/calls/{line}") => Some(json!({ "decided": null, "after_set": new_id() })),
        _ => Some(json!({})),
    }
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn every_operation_wants_a_token_that_may_and_reaches_nobody_elses(pool: Pool) {
    let (mine, base, _) = program(&pool).await;
    let other = world(&pool, "b@bavrek.example").await;
    let (nobody, made_up) = (Program::with(&base, ""), Program::with(&base, "bavrek_0"));
    let foreign = Program::of(&base, &pool, other.trainer, &Scope::ALL).await;
    for (method, path, needs) in operations() {
        let address = filled(&path, &mine);
        let body = body(&method, &path);
        for program in [&nobody, &made_up] {
            let (status, told) = program.ask(method.clone(), &address, body.as_ref()).await;
            assert_eq!((status, told["status"].as_u64()), (StatusCode::UNAUTHORIZED, Some(401)), "{method} {path}");
        }
        let scopes: Vec<Scope> = Scope::ALL.into_iter().filter(|s| s.id() != needs).collect();
        let lesser = Program::of(&base, &pool, mine.trainer, &scopes).await;
        let (status, told) = lesser.ask(method.clone(), &address, body.as_ref()).await;
        assert_eq!(status, StatusCode::FORBIDDEN, "{method} {path}: {told}");
        for token in tokens::all(&pool, mine.trainer).await.unwrap() {
            tokens::revoke(&pool, mine.trainer, token.id, now()).await.unwrap();
        }
        if path.contains('{') {
            let (status, told) = foreign.ask(method.clone(), &address, body.as_ref()).await;
            assert_eq!(status, StatusCode::NOT_FOUND, "{method} {path}: {told}");
        }
    }
    // The same by their own trainer is not refused for whose it is.
    let own = Program::of(&base, &pool, mine.trainer, &Scope::ALL).await;
    for path in ["/clients/{client}", "/clients/{client}/log", "/places/{place}/kit", "/sessions/{session}/workouts"] {
        let method = if path == "/clients/{client}" { Method::PUT } else { Method::POST };
        let (status, told) = own.ask(method.clone(), &filled(path, &mine), body(&method, path).as_ref()).await;
        assert!(status.is_success(), "{method} {path}: {status} {told}");
    }
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_token_that_was_revoked_or_ended_opens_nothing(pool: Pool) {
    let (world, base, program) = program(&pool).await;
    assert_eq!(program.get("/clients").await.0, StatusCode::OK);
    let used = tokens::all(&pool, world.trainer).await.unwrap();
    assert_eq!(used[0].used_at, Some(now()));
    tokens::revoke(&pool, world.trainer, used[0].id, now()).await.unwrap();
    assert_eq!(program.get("/clients").await.0, StatusCode::UNAUTHORIZED);
    let until = |days| Some(now().date_naive() + chrono::Duration::days(days));
    for (ends_on, status) in [(until(-1), StatusCode::UNAUTHORIZED), (until(0), StatusCode::OK)] {
        let secret = bavrek_web::new_token();
        tokens::make(&pool, world.trainer, ("t", &[Scope::Read], ends_on), &secret, now()).await.unwrap();
        assert_eq!(Program::with(&base, &secret).get("/clients").await.0, status);
    }
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_closed_account_has_no_program(pool: Pool) {
    let (_, _, program) = program(&pool).await;
    for (closed, status) in [(Some(now()), StatusCode::UNAUTHORIZED), (None, StatusCode::OK)] {
        accounts::set_disabled(&pool, DESK, closed).await.unwrap();
        assert_eq!(program.get("/clients").await.0, status, "{closed:?}");
    }
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_token_is_made_on_the_page_shown_once_and_revoked(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let refused = visitor.post("/account/tokens", &[("name", "Booking"), ("ends_on", "2020-01-01")]).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("choose at least one") && refused.text.contains("or later"), "{}", refused.text);
    assert!(refused.text.contains("value=\"Booking\""), "what was typed stays");
    let fields = [("name", "Booking"), ("scopes", "read"), ("scopes", "compute")];
    let page = visitor.post("/account/tokens", &fields).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    let secret = format!("bavrek_{}", page.text.split("value=\"bavrek_").nth(1).unwrap().split('"').next().unwrap());
    let program = Program::with(&visitor.base(), &secret);
    let (status, found) = program.get("/clients").await;
    assert_eq!((status, found["items"][0]["id"].as_str()), (StatusCode::OK, Some(world.client.to_string().as_str())));
    assert_eq!(program.post("/clients", &json!({})).await.0, StatusCode::FORBIDDEN);
    let page = visitor.get("/account/tokens").await;
    assert!(page.text.contains("may read, compute") && !page.text.contains(&secret), "{}", page.text);
    let token = tokens::all(&pool, world.trainer).await.unwrap()[0].id;
    assert_eq!(visitor.post(&format!("/account/tokens/{token}/revoke"), &[]).await.status, StatusCode::OK);
    assert_eq!(program.get("/clients").await.0, StatusCode::UNAUTHORIZED);
}

fn profile() -> Value {
    json!({ "name": "Odalys Finch", "body_mass_kg": 68.5, "height_m": 1.68, "experience": "novice" })
}

fn with(mut document: Value, field: &str, value: Value) -> Value {
    document[field] = value;
    document
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_client_is_added_once_and_changed_on_the_version_that_was_read(pool: Pool) {
    let (world, _, program) = program(&pool).await;
    let id = new_id();
    for _ in 0..2 {
        let (status, added) = program.post("/clients", &with(profile(), "id", json!(id))).await;
        assert_eq!((status, &added["id"], &added["body_mass_kg"]), (StatusCode::CREATED, &json!(id), &json!(68.5)));
    }
    assert_eq!(clients::all(&pool, world.trainer).await.unwrap().len(), 2);
    let path = format!("/clients/{id}");
    let heavier = with(with(profile(), "body_mass_kg", json!(70.0)), "version", json!(1));
    let (status, changed) = program.ask(Method::PUT, &path, Some(&heavier)).await;
    assert_eq!((status, &changed["version"], &changed["body_mass_kg"]), (StatusCode::OK, &json!(2), &json!(70.0)));
    let (status, told) = program.ask(Method::PUT, &path, Some(&heavier)).await;
    assert_eq!((status, told["title"].as_str()), (StatusCode::CONFLICT, Some("Conflict")));
    assert_eq!(clients::masses(&pool, world.trainer, id).await.unwrap().len(), 2);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_is_wrong_with_a_profile_is_told_by_its_field(pool: Pool) {
    let (world, _, program) = program(&pool).await;
    let wrong = [
        ("name", json!(7)),
        ("name", json!(" ")),
        ("body_mass_kg", json!(7)),
        // Possible, and unlikely for the height.
        ("body_mass_kg", json!(190)),
        ("experience", json!("guru")),
        ("sparkle", json!(true)),
        ("time_zone", json!("Mars")),
        ("contact", json!("nobody")),
        ("days_a_week", json!(8)),
    ];
    for (field, value) in wrong {
        let (status, told) = program.post("/clients", &with(profile(), field, value.clone())).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{field} {value}: {told}");
        assert_eq!(told["errors"][0]["path"], field, "{told}");
    }
    assert_eq!(clients::all(&pool, world.trainer).await.unwrap().len(), 1);
    let looked_at = with(with(profile(), "body_mass_kg", json!(190)), "confirmed", json!(true));
    assert_eq!(program.post("/clients", &looked_at).await.0, StatusCode::CREATED);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_list_is_read_in_parts_each_once(pool: Pool) {
    let (world, _, program) = program(&pool).await;
    for n in 0..4 {
        program.post("/clients", &with(profile(), "name", json!(format!("Client {n}")))).await;
    }
    let (mut seen, mut cursor, mut parts) = (Vec::new(), String::new(), 0);
    loop {
        let (status, part) = program.get(&format!("/clients?limit=2{cursor}")).await;
        assert_eq!(status, StatusCode::OK, "{part}");
        seen.extend(part["items"].as_array().unwrap().iter().map(|c| c["id"].as_str().unwrap().to_owned()));
        parts += 1;
        let Some(next) = part["next"].as_str() else { break };
        cursor = format!("&cursor={next}");
    }
    let all: BTreeSet<String> =
        clients::all(&pool, world.trainer).await.unwrap().iter().map(|c| c.id.to_string()).collect();
    assert_eq!((parts, seen.len()), (3, 5));
    assert_eq!(seen.into_iter().collect::<BTreeSet<_>>(), all);
    for (query, path) in [("limit=0", "limit"), ("limit=201", "limit"), ("cursor=x", "cursor"), ("sort=up", "sort")] {
        let (status, told) = program.get(&format!("/clients?{query}")).await;
        assert_eq!(
            (status, told["errors"][0]["path"].as_str()),
            (StatusCode::UNPROCESSABLE_ENTITY, Some(path)),
            "{told}"
        );
    }
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_has_a_key_is_done_once(pool: Pool) {
    let (world, _, program) = program(&pool).await;
    let send = |body: Value, key: &'static str| {
        let program = &program;
        async move { program.keyed(Method::POST, "/clients", Some(&body), key).await }
    };
    let (one, other) = tokio::join!(send(profile(), "first"), send(profile(), "first"));
    let again = send(profile(), "first").await;
    assert_eq!([one.status(), other.status(), again.status()], [StatusCode::CREATED; 3]);
    assert_eq!(again.headers()["idempotent-replayed"], "true");
    assert_eq!(again.headers()["content-type"], "application/json");
    let (one, again) = (one.text().await.unwrap(), again.text().await.unwrap());
    assert_eq!((one.clone(), again), (other.text().await.unwrap(), one));
    let another = send(with(profile(), "name", json!("Somebody else")), "first").await;
    assert_eq!(another.status(), StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(clients::all(&pool, world.trainer).await.unwrap().len(), 2);
    // Where the first answer was never heard and its name is free again, it is the same client still.
    sqlx::query("delete from api_answers").execute(&pool).await.unwrap();
    assert_eq!(send(profile(), "first").await.status(), StatusCode::CREATED);
    assert_eq!(clients::all(&pool, world.trainer).await.unwrap().len(), 2);
    // A refusal is given again as well.
    for _ in 0..2 {
        assert_eq!(send(json!({}), "second").await.status(), StatusCode::UNPROCESSABLE_ENTITY);
    }
    assert_eq!(send(profile(), "with space").await.status(), StatusCode::UNPROCESSABLE_ENTITY);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn sets_are_told_all_or_none(pool: Pool) {
    let (world, _, program) = program(&pool).await;
    let path = format!("/clients/{}/log", world.client);
    let set = |reps: u16| {
        json!({ "id": new_id(), "set": { "exercise": "dumbbell_curl", "date": "2026-03-02", "reps": reps,
        "load": { "value": 10.0, "unit": "kg", "per": "hand" } } })
    };
    let sets = json!({ "sets": [set(10), set(9)] });
    for (kept, known) in [(2, 0), (0, 2)] {
        let (status, told) = program.post(&path, &sets).await;
        assert_eq!((status, &told["kept"], &told["known"]), (StatusCode::OK, &json!(kept), &json!(known)), "{told}");
    }
    let (status, told) = program.post(&path, &json!({ "sets": [set(8), set(1516)] })).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(told["errors"][0]["path"], "sets[1].set.reps");
    let mut wrong = set(8);
    wrong["set"]["date"] = json!("2026-04-01");
    wrong["set"]["exercise"] = json!("moon_walk");
    let (_, told) = program.post(&path, &json!({ "sets": [wrong] })).await;
    assert_eq!(told["errors"][0]["path"], "sets[0].set.exercise");
    assert_eq!(log::count_all(&pool, world.trainer, world.client).await.unwrap(), 2);
    let mut long_ago = set(8);
    long_ago["set"]["date"] = json!("-9999-01-01");
    let (_, told) = program.post(&path, &json!({ "sets": [long_ago] })).await;
    assert_eq!(told["errors"][0]["path"], "sets[0].set.date", "{told}");
    let (status, part) = program.get(&format!("{path}?limit=1")).await;
    assert_eq!((status, part["items"][0]["set"]["effective_kg"].as_f64()), (StatusCode::OK, Some(10.0)), "{part}");
    let next = part["next"].as_str().unwrap();
    let (_, last) = program.get(&format!("{path}?limit=1&cursor={next}")).await;
    assert_eq!((last["items"].as_array().unwrap().len(), &last["next"]), (1, &Value::Null));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn places_plans_and_workouts_are_read_and_changed(pool: Pool) {
    let (world, _, program) = program(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    let (status, place) = program.post(&format!("/clients/{}/places", world.client), &json!({ "name": "Hotel" })).await;
    assert_eq!((status, place["kit"].as_array().map(Vec::len)), (StatusCode::CREATED, Some(0)));
    let kit = format!("/places/{}/kit", place["id"].as_str().unwrap());
    let (status, place) =
        program.post(&kit, &json!({ "item": { "kind": "dumbbells", "unit": "kg", "pairs": [5, 10] } })).await;
    assert_eq!(status, StatusCode::CREATED, "{place}");
    let (status, told) =
        program.post(&kit, &json!({ "item": { "kind": "dumbbells", "unit": "kg", "pairs": [5000] } })).await;
    assert_eq!((status, told["errors"][0]["path"].as_str()), (StatusCode::UNPROCESSABLE_ENTITY, Some("item.pairs[0]")));
    let piece = place["kit"][0]["id"].as_str().unwrap();
    let (status, place) = program.ask(Method::DELETE, &format!("{kit}/{piece}"), None).await;
    assert_eq!((status, place["kit"].as_array().map(Vec::len)), (StatusCode::OK, Some(0)));

    let (status, plan) = program.get(&format!("/clients/{}/plan", world.client)).await;
    let line = &plan["sessions"][0]["blocks"][0]["lines"][0];
    assert_eq!((status, line["fits"][0]["exercise"].as_str()), (StatusCode::OK, Some("dumbbell_curl")), "{plan}");

    let days = format!("/sessions/{}/workouts", world.session);
    let (status, workout) = program.post(&days, &json!({ "on": "2026-03-20" })).await;
    assert_eq!((status, workout["state"].as_str()), (StatusCode::CREATED, Some("planned")), "{workout}");
    assert_eq!(program.post(&days, &json!({ "on": "2026-03-20" })).await.0, StatusCode::CONFLICT);
    assert_eq!(program.post(&days, &json!({ "on": "2026-03-01" })).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    for (query, field) in [("from=-9999-01-01", "from"), ("until=9999-01-01", "until"), ("from=2020-01-01", "until")] {
        let (status, told) = program.get(&format!("/clients/{}/workouts?{query}", world.client)).await;
        assert_eq!(
            (status, told["errors"][0]["path"].as_str()),
            (StatusCode::UNPROCESSABLE_ENTITY, Some(field)),
            "{told}"
        );
    }
    let listed = format!("/clients/{}/workouts?from=2026-03-15&until=2026-03-31", world.client);
    assert_eq!(program.get(&listed).await.1.as_array().map(Vec::len), Some(1));
    let one = format!("/workouts/{}", workout["id"].as_str().unwrap());
    assert_eq!(program.ask(Method::DELETE, &one, None).await.0, StatusCode::NO_CONTENT);
    assert_eq!(program.get(&one).await.0, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_call_is_read_and_decided_by_a_program(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let program = Program::of(&visitor.base(), &pool, world.trainer, &Scope::ALL).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    let log = format!("/sessions/{}/log?on=2026-03-07", world.session);
    let page = visitor.get(&log).await;
    let sent = filled_in(&page, &[("reps_0", "12"), ("rir_0", "3"), ("reps_1", "12"), ("rir_1", "3")]);
    assert_eq!(visitor.post(&log, &sent).await.status, StatusCode::OK);
    let (status, waiting) = program.get("/calls").await;
    assert_eq!((status, waiting[0]["lines"].as_i64()), (StatusCode::OK, Some(1)), "{waiting}");
    let path = format!("/clients/{}/calls", world.client);
    let (_, calls) = program.get(&path).await;
    let (call, line) = (&calls[0], world.slot);
    assert_eq!(call["line"], json!(line), "{calls}");
    let word = json!({ "decided": call["kind"], "after_set": new_id() });
    let (status, told) = program.post(&format!("{path}/{line}"), &word).await;
    assert_eq!((status, told["errors"][0]["path"].as_str()), (StatusCode::UNPROCESSABLE_ENTITY, Some("after_set")));
    let word = json!({ "decided": call["kind"], "after_set": call["after_set"] });
    let (status, calls) = program.post(&format!("{path}/{line}"), &word).await;
    assert_eq!(status, StatusCode::OK, "{calls}");
    assert!(calls[0]["decided"].is_string() && calls[0]["kind"].is_null(), "{calls}");
    assert_eq!(program.get("/calls").await.1, json!([]));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_is_no_operation_is_told_as_a_problem(pool: Pool) {
    let (_, _, program) = program(&pool).await;
    let answer = program.keyed(Method::GET, "/nothing", None, "").await;
    assert_eq!(answer.status(), StatusCode::NOT_FOUND);
    assert_eq!(answer.headers()["content-type"], "application/problem+json");
    let (status, told) = program.ask(Method::PATCH, "/clients", Some(&json!({}))).await;
    assert_eq!((status, told["status"].as_u64()), (StatusCode::METHOD_NOT_ALLOWED, Some(405)));
    let (status, told) = program.get("/clients/no-identifier").await;
    assert_eq!((status, told["status"].as_u64()), (StatusCode::NOT_FOUND, Some(404)));
    let (status, document) = program.get("/openapi.json").await;
    assert_eq!((status, document["openapi"].as_str()), (StatusCode::OK, Some("3.1.0")));
}
