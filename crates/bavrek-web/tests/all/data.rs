//! A client's data over HTTP: agreed, taken out as an archive, erased.

use std::io::Read;

use crate::common::lines::take;
use crate::common::{Visitor, assert_refused, desk, now, start, world};
use bavrek_core::log::LoggedSet;
use bavrek_core::person::Experience;
use bavrek_core::units::{Kilograms, Metres};
use bavrek_store::clients::{self, Client};
use bavrek_store::log::{self, Source, ToldSet};
use bavrek_store::{Pool, new_id, people};
use reqwest::{Method, StatusCode, header};

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn an_archive_holds_every_table_twice_and_opens(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let answer = visitor.ask(Method::GET, &format!("/clients/{}/data/archive", world.client), "", String::new()).await;
    assert_eq!(answer.status(), StatusCode::OK);
    assert_eq!(answer.headers()[header::CONTENT_TYPE], "application/zip");
    let bytes = answer.bytes().await.unwrap();
    let mut archive = zip::ZipArchive::new(std::io::Cursor::new(bytes)).unwrap();
    let mut read = |name: &str| {
        let mut text = String::new();
        archive.by_name(name).unwrap().read_to_string(&mut text).unwrap();
        text
    };
    let about: serde_json::Value = serde_json::from_str(&read("bavrek.json")).unwrap();
    assert_eq!((about["format"].as_str(), about["version"].as_u64()), (Some("bavrek-person"), Some(1)));
    let clients: serde_json::Value = serde_json::from_str(&read("json/clients.json")).unwrap();
    assert_eq!(clients[0]["id"].as_str(), Some(world.client.to_string().as_str()));
    for (table, count) in about["rows"].as_object().unwrap() {
        let rows: Vec<serde_json::Value> = serde_json::from_str(&read(&format!("json/{table}.json"))).unwrap();
        let csv = read(&format!("csv/{table}.csv"));
        let records = csv::Reader::from_reader(csv.as_bytes()).records().map(Result::unwrap).count();
        assert_eq!((rows.len() as u64, records), (count.as_u64().unwrap(), rows.len()), "{table}");
    }
    assert!(about["rows"]["kit_items"].as_u64() == Some(2) && about["rows"]["slots"].as_u64() == Some(1));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_client_is_erased_by_name_and_gone(pool: Pool) {
    let (mine, visitor) = desk(&pool).await;
    let theirs = world(&pool, "b@bavrek.example").await;
    let path = format!("/clients/{}/data/erase", mine.client);
    let page = visitor.post(&path, &[("erase_name", "Somebody else")]).await;
    assert_refused(&page, "is not the name of this client: nothing was erased", "Somebody else");
    assert_eq!(visitor.get(&format!("/clients/{}", mine.client)).await.status, StatusCode::OK);
    let gone = visitor.post(&format!("/clients/{}/data/erase", theirs.client), &[("erase_name", "x")]).await;
    assert_eq!(gone.status, StatusCode::NOT_FOUND);

    let page = visitor.post(&path, &[("erase_name", &format!("client of {}", crate::common::DESK))]).await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(page.text.contains("kit items") && page.text.contains("This page is the receipt"));
    for address in [
        format!("/clients/{}", mine.client),
        format!("/sessions/{}", mine.session),
        format!("/slots/{}/bench", mine.slot),
    ] {
        assert_eq!(visitor.get(&address).await.status, StatusCode::NOT_FOUND, "{address}");
    }
    let account = visitor.get("/account").await.text;
    assert!(account.contains("a client erased: ") && account.contains("signed in: a computer"));
    let other = Visitor::signed_in(&start(pool).await, "b@bavrek.example").await;
    assert_eq!(other.get(&format!("/clients/{}", theirs.client)).await.status, StatusCode::OK);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_was_agreed_is_kept_and_checked(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/data", world.client);
    let long = "x".repeat(2_001);
    let page = visitor.post(&path, &[("consent", &long), ("keep_until", "2027-02-30")]).await;
    assert_refused(&page, "has 2001 characters; at most 2000 are kept", "2027-02-30");
    let page = visitor.post(&path, &[("consent", "On paper, 1 March"), ("keep_until", "2028-03-01")]).await;
    assert!(
        page.status == StatusCode::OK && page.text.contains("On paper, 1 March") && page.text.contains("2028-03-01")
    );
}

/// What a form changed is told on the page of the client whom it was about, and what only looked is not.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn who_changed_what_is_told(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let client = format!("/clients/{}", world.client);
    for (path, fields, taken) in [
        (format!("{client}/notes"), vec![("kind", "posture"), ("note", "shrugs")], None),
        (format!("{client}/aims/preview"), vec![], None),
        (format!("/sessions/{}/remove", world.session), vec![], Some(StatusCode::OK)),
        (format!("/slots/{}/fit", world.slot), vec![("exercise", "no such movement")], None),
    ] {
        let page = visitor.post(&path, &fields).await;
        assert!(taken.is_none_or(|status| status == page.status), "{path}: {}", page.status);
    }
    let page = visitor.get(&format!("{client}/data")).await;
    assert_eq!(page.status, StatusCode::OK);
    assert!(page.text.contains("changed: sessions, remove"), "{}", page.text);
    assert!(!page.text.contains("preview") && !page.text.contains("slots, fit"), "what was refused changed nothing");
    let name = format!("Client of {}", crate::common::DESK);
    let account = visitor.get("/account").await.text;
    assert!(account.contains(&format!("changed: sessions, remove ({name})")), "{account}");
}

/// What leaves as a table holds what stands in the log, in the plan and in the room; what is not there is not found.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn tables_hold_what_is_kept(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    take(&pool, &world, world.slot, "dumbbell_curl", "2 x 8-12").await;
    let told = LoggedSet { reps: Some(9), rir: Some(2), ..LoggedSet::of("dumbbell_curl", now().date_naive()) };
    let new = ToldSet {
        id: new_id(),
        client_id: world.client,
        source: Source::Told,
        set: &told,
        effective: Kilograms(14.25),
    };
    log::append_told(&pool, world.trainer, &new).await.unwrap();
    let path = |file: &str| format!("/clients/{}/data/tables/{file}", world.client);
    let read = async |file: &str| {
        let answer = visitor.ask(Method::GET, &path(file), "", String::new()).await;
        assert_eq!(answer.status(), StatusCode::OK, "{file}");
        let bytes = answer.bytes().await.unwrap();
        let mut rows = csv::ReaderBuilder::new().from_reader(&bytes[3..]);
        let heads: Vec<String> = rows.headers().unwrap().iter().map(str::to_owned).collect();
        let rows: Vec<Vec<String>> = rows.records().map(|r| r.unwrap().iter().map(str::to_owned).collect()).collect();
        (heads, rows)
    };
    let (heads, rows) = read("log.csv").await;
    let at = |name: &str| heads.iter().position(|h| h == name).unwrap();
    let row = &rows[0];
    let cells = ["movement", "reps", "reps in reserve (5: or more)", "effective load (kg)", "source"]
        .map(|name| row[at(name)].as_str());
    assert_eq!(cells, ["Standing dumbbell curl", "9", "2", "14.25", "told"]);
    let (_, plan) = read("plan.csv").await;
    assert_eq!(plan.len(), 1);
    assert!(
        plan[0].iter().any(|cell| cell == "Standing dumbbell curl")
            && plan[0].iter().any(|c| c.starts_with("2 × 8–12 @")),
        "{plan:?}"
    );
    let (_, kit) = read("kit.csv").await;
    assert!(kit.iter().any(|row| row[1] == "dumbbells"), "{kit:?}");
    assert!(read("strength.csv").await.1.len() > 5);
    assert_eq!(read("volume.csv").await.1, Vec::<Vec<String>>::new(), "what was told is no work");
    let book = visitor.ask(Method::GET, &path("all.xlsx"), "", String::new()).await;
    assert_eq!(book.status(), StatusCode::OK);
    assert!(zip::ZipArchive::new(std::io::Cursor::new(book.bytes().await.unwrap())).unwrap().len() > 6);
    assert_eq!(visitor.get(&path("health.csv")).await.status, StatusCode::NOT_FOUND);

    let page = visitor.get(&format!("/clients/{}/data", world.client)).await;
    assert!(
        page.text.contains("data taken out: log.csv") && page.text.contains("data taken out: all.xlsx"),
        "{}",
        page.text
    );

    let clients = visitor.ask(Method::GET, "/tables/clients.csv", "", String::new()).await.text().await.unwrap();
    assert!(clients.lines().count() == 2 && clients.contains("Client of"), "{clients}");
}

/// A log from elsewhere: checked line by line, kept once, and what went out comes back as the same.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_log_from_elsewhere_is_checked_and_kept_once(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/data/bring-in", world.client);
    let text = "date;exercise;reps;weight (kg);RIR\n\
        3.3.2026;Hammer curls;10;12,5;2\n3.3.2026;Hammer curls;10;12,5;2\n\
        4.3.2026;Underwater basket weaving;8;10;1\n4.3.2096;Hammer curls;8;12,5;1\n5.3.2026;Hammer curls;8;;1\n\
        6.3.2026;Bench press;8;80;1\n6.3.2026;Lat pulldown;8;50;1\n6.3.2026;Weighted dips;8;;1\n";
    let empty = visitor.post(&path, &[("text", "")]).await;
    assert_eq!(empty.status, StatusCode::UNPROCESSABLE_ENTITY);
    let checked = visitor.post(&path, &[("text", text)]).await;
    assert_eq!(checked.status, StatusCode::OK, "{}", checked.text);
    for part in [
        "Keep these 2 sets",
        "Line 4</span>, movement: &#34;Underwater basket weaving&#34; is no movement known here",
        "Line 5</span>, day: 2096-03-04 is still to come",
        "Line 6</span>, load: how heavy was",
        "Line 7</span>, movement: &#34;Bench press&#34; may be done with a gym&#39;s barbell or machine",
        "Line 8</span>, movement: &#34;Lat pulldown&#34; is done on a gym&#39;s machine or barbell",
        "Line 9</span>, load: &#34;Weighted dips&#34; without a load: with how much?",
    ] {
        assert!(checked.text.contains(part), "{part}: {}", checked.text);
    }
    let count = async || log::count_all(&pool, world.trainer, world.client).await.unwrap();
    assert_eq!(count().await, 0, "nothing is kept before it was checked");
    let take = format!("{path}/take");
    assert!(visitor.post(&take, &[("text", text)]).await.text.contains("2 sets were kept."));
    assert!(visitor.post(&take, &[("text", text)]).await.text.contains("0 sets were kept."));
    assert_eq!(count().await, 2);
    let sets = log::of_client(&pool, world.trainer, world.client, now().date_naive()).await.unwrap();
    assert!(sets.iter().all(|s| s.source == Source::Told && s.set.reps == Some(10) && s.set.rir == Some(2)));

    // What went out is known when it comes back, also where it could not be reckoned anew.
    let band = LoggedSet {
        reps: Some(15),
        effective_kg: Some(Kilograms(10.23)),
        ..LoggedSet::of("band_pushdown", now().date_naive())
    };
    let told = ToldSet {
        id: new_id(),
        client_id: world.client,
        source: Source::Told,
        set: &band,
        effective: Kilograms(10.23),
    };
    log::append_told(&pool, world.trainer, &told).await.unwrap();
    let file = format!("/clients/{}/data/tables/log.csv", world.client);
    let out = visitor.ask(Method::GET, &file, "", String::new()).await.text().await.unwrap();
    let again = visitor.post(&path, &[("text", &out)]).await;
    assert!(again.status == StatusCode::OK && !again.text.contains("Keep these"), "{}", again.text);
    assert!(again.text.contains("<b class=\"figure\">3</b> there already"), "{}", again.text);

    // Of another client it is new, with the loads as they were, and alike rows are as many sets.
    let novice = Client::new("Second", Kilograms(60.0), Metres(1.6), Experience::Novice);
    let second = clients::add(&pool, world.trainer, &novice, now().date_naive()).await.unwrap();
    let theirs = format!("/clients/{second}/data/bring-in");
    let last = out.lines().last().unwrap();
    let doubled = visitor.post(&theirs, &[("text", &format!("{out}{last}\r\n"))]).await;
    assert!(
        doubled.text.contains("Keep these 4 sets"),
        "rows of another client's log are told apart: {}",
        doubled.text
    );
    assert!(visitor.post(&format!("{theirs}/take"), &[("text", &out)]).await.text.contains("3 sets were kept."));
    let kept = log::of_client(&pool, world.trainer, second, now().date_naive()).await.unwrap();
    let bands: Vec<_> = kept.iter().filter(|s| s.set.exercise == "band_pushdown").collect();
    assert_eq!(bands.iter().map(|s| s.set.effective_kg).collect::<Vec<_>>(), [Some(Kilograms(10.23))]);
    let own = format!(
        "id,day,movement,reps,load (kg)\n{0},2026-03-03,Hammer curl,8,10\n{0},2026-03-03,Hammer curl,9,10\n",
        new_id()
    );
    let twice = visitor.post(&path, &[("text", &own)]).await;
    assert!(twice.text.contains("Keep this set"), "{}", twice.text);
    assert!(twice.text.contains("Line 3</span>, id: stands in the file twice"), "{}", twice.text);

    // A long one goes through the door, a longer one is refused with its bound.
    let row = "2026-03-03,Hammer curl,8,10\n";
    let long = format!("day,movement,reps,load (kg)\n{}", row.repeat(4_000));
    let read = visitor.post(&path, &[("text", &long)]).await;
    assert!(read.status == StatusCode::OK && read.text.contains("Keep these 4000 sets"), "{}", read.status);
    let longer = visitor.post(&path, &[("text", &"x".repeat(400_001))]).await;
    assert_eq!(longer.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(longer.text.contains("at most 400000 are kept"));
    let endless = visitor.post(&path, &[("text", &"x".repeat(1_600_000))]).await;
    assert_eq!(endless.status, StatusCode::PAYLOAD_TOO_LARGE);

    // Another trainer's client is out of reach.
    let other = world_of_another(&pool).await;
    let foreign = visitor.post(&format!("/clients/{other}/data/bring-in/take"), &[("text", text)]).await;
    assert_eq!(foreign.status, StatusCode::NOT_FOUND);
}

async fn world_of_another(pool: &Pool) -> uuid::Uuid {
    world(pool, "somebody-else@bavrek.example").await.client
}

/// A form with a file, as a browser sends it.
async fn upload(visitor: &Visitor, csrf: &str, keep: bool, file: &str) -> (StatusCode, String) {
    let part = |name: &str, more: &str, value: &str| {
        format!("--x\r\nContent-Disposition: form-data; name=\"{name}\"{more}\r\n\r\n{value}\r\n")
    };
    let kept = if keep { part("keep", "", "yes") } else { String::new() };
    let body = part("csrf", "", csrf) + &part("file", "; filename=\"people.json\"", file) + &kept + "--x--\r\n";
    let kind = "multipart/form-data; boundary=x";
    let answer = visitor.ask(Method::POST, "/account/people", kind, body).await;
    (answer.status(), answer.text().await.unwrap())
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_client_moves_by_a_file(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let document = visitor.stream(&format!("/clients/{}/data/document", world.client)).await;
    assert_eq!(document.headers()["content-type"], "application/json");
    let document = document.text().await.unwrap();
    let csrf = visitor.csrf.clone();
    let (status, page) = upload(&visitor, &csrf, true, &document).await;
    assert_eq!(status, StatusCode::OK);
    assert!(page.contains("Here already, left as they are: Client of"), "{page}");
    people::erase(&pool, world.trainer, world.client, now()).await.unwrap();
    // Looked at first: nothing is kept.
    let (status, page) = upload(&visitor, &csrf, false, &document).await;
    assert!(status == StatusCode::OK && page.contains("What it would bring"), "{page}");
    assert!(clients::all(&pool, world.trainer).await.unwrap().is_empty());
    // A form from elsewhere, and half a file.
    assert_eq!(upload(&visitor, "00", true, &document).await.0, StatusCode::FORBIDDEN);
    let (status, page) = upload(&visitor, &csrf, true, &document[..document.len() / 2]).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.contains("line 1, column") && page.contains("Nothing was taken in"), "{page}");
    assert!(clients::all(&pool, world.trainer).await.unwrap().is_empty());
    let (status, page) = upload(&visitor, &csrf, true, &document).await;
    assert!(status == StatusCode::OK && page.contains("Taken in"), "{page}");
    assert_eq!(clients::all(&pool, world.trainer).await.unwrap()[0].id, world.client);
    assert_eq!(visitor.get(&format!("/sessions/{}", world.session)).await.status, StatusCode::OK);
}
