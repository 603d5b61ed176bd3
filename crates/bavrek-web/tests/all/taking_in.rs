//! Taking a client in over HTTP: what is stored, what is refused beside which field, what is kept, who is told.

use crate::common::{LIMIT, PROFILE, Refusal, Visitor, answers, assert_refused, desk, now, start, with, world};
use bavrek_core::aims::{Aim, Goal};
use bavrek_core::anatomy::Region;
use bavrek_core::kit::KitItem;
use bavrek_store::{Pool, aims, clients, health, kit, log, new_id, observations, places};
use reqwest::StatusCode;

const A: &str = "a@bavrek.example";
const B: &str = "b@bavrek.example";

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_client_is_taken_in_once(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    assert!(visitor.get("/clients/new").await.text.contains("Take in"));
    let id = new_id();
    let text = id.to_string();
    let full = with(
        &PROFILE,
        &[
            ("id", text.as_str()),
            ("goal", "Schultern 💪"),
            ("aim", "size_first"),
            ("days_a_week", "3"),
            ("minutes", "45"),
            ("birth_year", "1988"),
            ("contact", "tamsin@bavrek.example"),
            ("then", "health"),
        ],
    );
    for _ in 0..2 {
        let page = visitor.post("/clients", &full).await;
        assert_eq!((page.status, page.address), (StatusCode::OK, format!("/clients/{id}/health")));
    }
    let client = clients::one(&pool, world.trainer, id).await.unwrap();
    assert!((client.body_mass.value() - 71.214).abs() < 0.001 && (client.height.value() - 1.68).abs() < 1e-9);
    assert_eq!((client.aim, client.goal.as_str()), (Some(Goal::SizeFirst), "Schultern 💪"));
    assert_eq!(clients::masses(&pool, world.trainer, id).await.unwrap().len(), 1);
    let page = visitor.get(&format!("/clients/{id}")).await;
    assert!(page.text.contains("size first: Schultern 💪") && page.text.contains("No place yet"));
    assert!(visitor.get("/?q=tamsin").await.text.contains("1 client found"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_profile_is_refused_beside_its_field_and_kept_as_typed(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let long = "n".repeat(5001);
    let name = "ö".repeat(121);
    let cases: &[(&str, &str, &str)] = &[
        ("name", "", "Name: is needed"),
        ("name", &name, "Name: has 121 characters; at most 120 are kept"),
        ("height", "66", "66 in would be 1.68 m"),
        ("height", "5 ells", "&#34;ells&#34; is not understood here: write m"),
        ("height", "1.1", "between 1.2 and 2.3 m, not 1.1"),
        ("body_mass", "0 kg", "between 30 and 250 kg, not 0"),
        ("body_mass", "3 stone", "3 stone is 19.1 kg: must be between 30 and 250 kg"),
        ("body_mass", "157", "157 kg is unusual for 1.68 m: is the unit right?"),
        ("body_mass", "330", "330 lb would be 149.7 kg"),
        ("experience", "", "Experience: choose one"),
        ("experience", "wizard", "&#34;wizard&#34; is none of the choices"),
        ("birth_year", "2031", "between 1916 and 2016 as a year, not 2031"),
        ("birth_year", "nineteen", "&#34;nineteen&#34; is not a number"),
        ("days_a_week", "8", "between 1 and 7 days, not 8"),
        ("days_a_week", "2.5", "must be a whole number"),
        ("minutes", "5", "between 10 and 240 minutes, not 5"),
        ("time_zone", "Europe/Atlantis", "&#34;Europe/Atlantis&#34; is no time zone"),
        ("contact", "nobody at home", "is neither an e-mail address nor a mobile number"),
        ("contact", "0660 1234567", "begins with its country"),
        ("contact", "odalys@home", "is no e-mail address"),
        ("note", &long, "Note: has 5001 characters; at most 5000 are kept"),
    ];
    let id = new_id().to_string();
    for (field, value, says) in cases {
        let page = visitor.post("/clients", &with(&PROFILE, &[("id", &id), (field, value)])).await;
        let escaped = value.replace('"', "&#34;");
        assert_refused(&page, says, &escaped);
        assert!(page.text.contains("Tamsin Reed") || *field == "name", "the other fields are kept");
    }
    assert!(clients::one(&pool, world.trainer, id.parse().unwrap()).await.is_err());
    // Exactly as much as fits is kept whole.
    let note = "💪".repeat(5000);
    let page = visitor.post("/clients", &with(&PROFILE, &[("id", &id), ("note", &note)])).await;
    assert_eq!(page.status, StatusCode::OK);
    assert_eq!(clients::one(&pool, world.trainer, id.parse().unwrap()).await.unwrap().note, note);
}

/// What may be meant stands beside the field as what a press fills in, and is taken as it stands there.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_may_be_meant_is_a_button_that_fills_the_field(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let cases: &[(&str, &str, &[&str])] = &[
        ("days_a_week", "2.5", &["2", "3"]),
        ("days_a_week", "7.5", &[]),
        ("time_zone", "lisbon", &["Europe/Lisbon"]),
        ("time_zone", "Buenos Aires", &["America/Buenos_Aires", "America/Argentina/Buenos_Aires"]),
        ("time_zone", "america", &[]),
        ("height", "66", &["66 in"]),
    ];
    for (field, typed, meant) in cases {
        let id = new_id();
        let text = id.to_string();
        let page = visitor.post("/clients", &with(&PROFILE, &[("id", &text), (field, typed)])).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{field} {typed}");
        let buttons = page.text.matches("data-fills=").count();
        assert_eq!(buttons, meant.len(), "{field} {typed}");
        for value in *meant {
            assert!(page.text.contains(&format!(">{value}<")), "{field} {typed}: {value}");
            let again = new_id().to_string();
            let taken = visitor.post("/clients", &with(&PROFILE, &[("id", &again), (field, value)])).await;
            assert_eq!(taken.status, StatusCode::OK, "{field}: {value}");
        }
        assert!(clients::one(&pool, world.trainer, id).await.is_err());
    }
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn characters_that_no_field_means_are_left_out(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let id = new_id();
    let text = id.to_string();
    let page = visitor.post("/clients", &with(&PROFILE, &[("id", &text), ("name", "Tam\0sin\u{7}")])).await;
    assert_eq!(page.status, StatusCode::OK);
    assert_eq!(clients::one(&pool, world.trainer, id).await.unwrap().name, "Tamsin");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_doubtful_mass_or_height_is_confirmed_for_just_that_value(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/profile", world.client);
    let usual = [
        ("version", "1"),
        ("name", "Still me"),
        ("height", "1.75 m"),
        ("body_mass", "75 kg"),
        ("experience", "intermediate"),
        ("time_zone", "UTC"),
        ("mass_unit", "kg"),
    ];
    let post = |changed: &[(&'static str, &'static str)]| {
        let fields = with(&usual, changed);
        let (visitor, path) = (&visitor, path.clone());
        async move { visitor.post(&path, &fields).await }
    };
    let page = post(&[("body_mass", "165")]).await;
    assert_refused(&page, "the last was 75 kg; 165 lb would be 74.8 kg", "value=\"165\"");
    assert!(page.text.contains("name=\"body_mass_is_right\""));
    assert_refused(&post(&[("height", "1.57 m")]).await, "far from the last, 1.75 m", "1.57 m");
    // Confirmed for another value counts for nothing.
    assert_refused(&post(&[("body_mass", "166"), ("body_mass_is_right", "165")]).await, "166 kg is far", "166");
    assert_eq!(clients::one(&pool, world.trainer, world.client).await.unwrap().version, 1);
    let page = post(&[("body_mass", "95"), ("body_mass_is_right", "95")]).await;
    assert_eq!(page.status, StatusCode::OK);
    let masses = clients::masses(&pool, world.trainer, world.client).await.unwrap();
    assert_eq!(masses.iter().map(|m| m.mass.value()).collect::<Vec<_>>(), [95.0, 75.0]);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn the_second_window_sees_both_values(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/profile", world.client);
    let usual = [
        ("version", "1"),
        ("name", "Mine"),
        ("height", "1.75 m"),
        ("body_mass", "75 kg"),
        ("experience", "intermediate"),
        ("time_zone", "UTC"),
        ("mass_unit", "kg"),
    ];
    let first = with(&usual, &[("goal", "first"), ("experience", "advanced")]);
    assert_eq!(visitor.post(&path, &first).await.status, StatusCode::OK);
    let second = with(&usual, &[("goal", "second")]);
    let page = visitor.post(&path, &second).await;
    assert_eq!(page.status, StatusCode::CONFLICT);
    assert!(page.text.contains("changed meanwhile") && page.text.contains("value=\"second\""));
    assert!(page.text.contains("saved meanwhile: first") && page.text.contains("saved meanwhile: advanced"));
    assert_eq!(clients::one(&pool, world.trainer, world.client).await.unwrap().goal, "first");
    // Saved once more, knowing: it goes through.
    let version = page.hidden("version");
    let again = with(&second, &[("version", version.as_str())]);
    assert_eq!(visitor.post(&path, &again).await.status, StatusCode::OK);
    assert_eq!(clients::one(&pool, world.trainer, world.client).await.unwrap().goal, "second");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_client_is_archived_and_restored(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let name = format!("Client of {A}");
    let page = visitor.post(&format!("/clients/{}/archive", world.client), &[]).await;
    assert!(page.text.contains("is archived."));
    assert!(!visitor.get("/").await.text.contains(&name));
    assert!(visitor.get("/?show=archived").await.text.contains(&name));
    visitor.post(&format!("/clients/{}/restore", world.client), &[]).await;
    assert!(visitor.get("/").await.text.contains(&name));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn aims_are_laid_out_previewed_and_set(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/aims", world.client);
    let page = visitor.get(&format!("{path}?goal=size_first")).await;
    assert!(page.text.contains("name=\"aim_lats\" value=\"grow\" checked"));
    assert!(page.text.contains("Pooled trials of weekly sets (2017)"), "the source is shown");
    let (first, second, third) = (new_id().to_string(), new_id().to_string(), new_id().to_string());
    let wanted =
        [("aim_lats", "focus"), ("aim_delt_side", "grow"), ("least_delt_side", "6"), ("most_delt_side", "9,5")];
    let page = visitor.post(&format!("{path}/preview"), &wanted).await;
    assert!(page.text.contains("lats: focus, 12 to 18 sets a week"));
    assert!(aims::of_client(&pool, world.trainer, world.client).await.unwrap().is_empty(), "nothing is stored");
    for _ in 0..2 {
        let set = with(&wanted, &[("id", &first), ("after", "")]);
        assert_eq!(visitor.post(&path, &set).await.status, StatusCode::OK);
    }
    let stored = aims::of_client(&pool, world.trainer, world.client).await.unwrap().remove(0).aims;
    assert_eq!((stored.of(Region::Lats).aim, stored.of(Region::DeltSide).sets), (Aim::Focus, Some([6.0, 9.5])));
    let other = [("id", second.as_str()), ("after", ""), ("aim_lats", "grow")];
    let page = visitor.post(&path, &other).await;
    assert_eq!(page.status, StatusCode::CONFLICT);
    assert!(
        page.text.contains("lats: saved focus, yours grow")
            && page.text.contains("side shoulder: saved grow 6–9.5, yours keep")
    );
    let after = page.hidden("after");
    assert_eq!(visitor.post(&path, &with(&other, &[("after", &after)])).await.status, StatusCode::OK);
    visitor.post(&format!("{path}/{first}/again"), &[("id", &third)]).await;
    assert_eq!(aims::of_client(&pool, world.trainer, world.client).await.unwrap()[0].aims, stored);
    assert!(
        visitor.get(&format!("/clients/{}", world.client)).await.text.contains("lats: focus, 12 to 18 sets a week")
    );
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_range_of_sets_is_refused_beside_its_region(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/aims", world.client);
    let id = new_id().to_string();
    let cases: &[Refusal<'_>] = &[
        (&[("least_lats", "12"), ("most_lats", "8")], "the larger number comes second: 8 to 12", "value=\"12\""),
        (&[("least_lats", "12")], "give both ends", "value=\"12\""),
        (&[("most_lats", "400"), ("least_lats", "2")], "between 0 and 40 sets, not 400", "value=\"400\""),
        (&[("least_lats", "few"), ("most_lats", "8")], "&#34;few&#34; is not a number", "value=\"few\""),
        (&[("aim_lats", "explode")], "", "Lats"),
    ];
    for (fields, says, keeps) in cases {
        let page = visitor.post(&path, &with(&[("id", id.as_str()), ("after", "")], fields)).await;
        assert_refused(&page, says, keeps);
    }
    assert!(aims::of_client(&pool, world.trainer, world.client).await.unwrap().is_empty());
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_a_room_can_do_follows_its_kit(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/places", world.client);
    let bare = new_id().to_string();
    visitor.post(&path, &[("id", &bare), ("name", "Bare room")]).await;
    let page = visitor.get(&format!("/clients/{}/aims?place={bare}", world.client)).await;
    assert!(page.text.contains("With the kit of Bare room") && page.text.contains("not here"));
    assert!(page.text.contains("with a door anchor would open"), "the cheap thing is named");
    let garage = new_id().to_string();
    visitor.post(&path, &[("id", &garage), ("name", "Garage"), ("start", "garage")]).await;
    let page = visitor.get(&format!("/clients/{}/aims?place={garage}", world.client)).await;
    assert!(page.text.contains("24 of 24 regions can be trained directly"));
}

/// Looking at another room's kit keeps what was chosen and not yet saved.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn another_room_is_looked_at_without_losing_the_aims(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let bare = new_id().to_string();
    visitor.post(&format!("/clients/{}/places", world.client), &[("id", &bare), ("name", "Bare room")]).await;
    let chosen = [("aim_chest_clavicular", "focus"), ("least_chest_clavicular", "9"), ("most_chest_clavicular", "13")];
    let mut fields = vec![("place", bare.as_str()), ("after", "")];
    fields.extend(chosen);
    let page = visitor.post(&format!("/clients/{}/aims/preview", world.client), &fields).await;
    assert_eq!(page.status, StatusCode::OK);
    let text = &page.text;
    assert!(text.contains("With the kit of Bare room"));
    assert!(text.contains(r#"name="aim_chest_clavicular" value="focus" checked"#), "{text}");
    assert!(text.contains(r#"name="least_chest_clavicular" value="9""#) && text.contains(r#"value="13""#));
    assert!(text.contains(&format!(r#"name="place" value="{bare}" checked"#)));
    assert!(aims::of_client(&pool, world.trainer, world.client).await.unwrap().is_empty(), "nothing is stored");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn told_sets_narrow_the_strength_and_can_be_withdrawn(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/strength", world.client);
    assert!(visitor.get(&path).await.text.matches("first guess").count() > 5);
    let id = new_id().to_string();
    let told = [
        ("id", id.as_str()),
        ("exercise", "standing dumbbell curl"),
        ("load", "25"),
        ("unit", "lb"),
        ("reps", "10"),
        ("rir", "2"),
        ("on", "2026-03-08"),
        ("source", "told"),
    ];
    for _ in 0..2 {
        let page = visitor.post(&path, &told).await;
        assert!(page.status == StatusCode::OK && page.text.contains("25 lb each hand, 10 reps, 2 in reserve"));
        assert!(page.text.contains("from sets"), "the pattern rests on sets now");
    }
    let sets = log::of_client(&pool, world.trainer, world.client, now().date_naive()).await.unwrap();
    assert!((sets[0].set.effective_kg.unwrap().value() - 11.34).abs() < 0.01, "{:?}", sets[0].set);
    let bodyweight = new_id().to_string();
    let push_up = with(&told, &[("id", &bodyweight), ("exercise", "Push-up"), ("load", ""), ("source", "test")]);
    assert!(visitor.post(&path, &push_up).await.text.contains("quick test"));
    let gone = new_id().to_string();
    let page = visitor.post(&format!("{path}/{id}/withdraw"), &[("id", &gone)]).await;
    assert!(page.text.contains("Withdrawn") && !page.text.contains("25 lb each hand"));
    let back = new_id().to_string();
    assert!(visitor.post(&format!("{path}/{gone}/restore"), &[("id", &back)]).await.text.contains("25 lb each hand"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_told_set_is_refused_beside_its_field(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/strength", world.client);
    let id = new_id().to_string();
    let usual = [
        ("id", id.as_str()),
        ("exercise", "Standing dumbbell curl"),
        ("load", "12,5"),
        ("unit", "kg"),
        ("reps", "10"),
        ("rir", "2"),
        ("on", "2026-03-08"),
    ];
    let cases: &[Refusal<'_>] = &[
        (&[("exercise", "")], "Movement: is needed", "value=\"12,5\""),
        (&[("exercise", "knitting")], "no movement is called", "value=\"knitting\""),
        (&[("exercise", "press")], "which one is", "value=\"press\""),
        (&[("load", "")], "how heavy was it", "Standing dumbbell curl"),
        (&[("load", "0")], "between 0.25 and 100 kg, not 0", "value=\"0\""),
        (&[("load", "500")], "between 0.25 and 100 kg, not 500", "value=\"500\""),
        (&[("reps", "")], "how many clean repetitions", "value=\"12,5\""),
        (&[("reps", "0")], "between 1 and 100 repetitions", "value=\"0\""),
        (&[("rir", "9")], "between 0 and 6 in reserve", "value=\"9\""),
        (&[("on", "2026-03-11")], "in the future", "value=\"2026-03-11\""),
        (&[("exercise", "Push-up")], "is not known with this load", "value=\"12,5\""),
    ];
    for (changed, says, keeps) in cases {
        assert_refused(&visitor.post(&path, &with(&usual, changed)).await, says, keeps);
    }
    assert_eq!(log::count_all(&pool, world.trainer, world.client).await.unwrap(), 0);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn observations_are_kept_with_their_day(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/notes", world.client);
    let id = new_id().to_string();
    let usual = [("id", id.as_str()), ("kind", "posture"), ("on", "2026-03-08"), ("note", "stands well 🙂")];
    let long = "x".repeat(5001);
    let cases: &[Refusal<'_>] = &[
        (&[("kind", "")], "About: choose one", "stands well"),
        (&[("on", "2027-01-01")], "in the future", "stands well"),
        (&[("note", "")], "What was seen: is needed", "2026-03-08"),
        (&[("note", &long)], "has 5001 characters", &long),
    ];
    for (changed, says, keeps) in cases {
        assert_refused(&visitor.post(&path, &with(&usual, changed)).await, says, keeps);
    }
    let full = "é".repeat(5000);
    for (id, note) in [(&id, "stands well 🙂"), (&new_id().to_string(), full.as_str())] {
        let page = visitor.post(&path, &with(&usual, &[("id", id), ("note", note)])).await;
        assert!(page.status == StatusCode::OK && page.text.contains(note));
    }
    let page = visitor.post(&format!("{path}/{id}/remove"), &[]).await;
    assert!(page.text.contains("Undo") && !page.text.contains("stands well"));
    visitor.post(&format!("{path}/{id}/restore"), &[]).await;
    assert_eq!(observations::of_client(&pool, world.trainer, world.client).await.unwrap().len(), 2);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn the_roster_is_searched_and_paged_and_shrugs_at_nonsense(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    sqlx::query(
        "insert into clients (trainer_id, id, name, body_mass_kg, height_m, experience)
         select $1, gen_random_uuid(), 'Person ' || lpad(i::text, 3, '0'), 70, 1.7, 'novice' from generate_series(1, 499) i",
    )
    .bind(world.trainer.0)
    .execute(&pool)
    .await
    .unwrap();
    let page = visitor.get("/?order=name&page=2").await;
    assert!(
        page.text.contains("page 2 of 20") && page.text.contains("Person 025") && page.text.contains("500 clients")
    );
    assert!(visitor.get("/?q=son+499").await.text.contains("1 client found"));
    assert!(visitor.get("/?q=nobody").await.text.contains("Nobody is found"));
    for nonsense in ["/?page=-3", "/?page=x&order=%00&show=zzz", "/?page=99999999999999999999", "/?q=%25%00%27"] {
        assert_eq!(visitor.get(nonsense).await.status, StatusCode::OK, "{nonsense}");
    }
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn nobody_takes_in_for_somebody_else(pool: Pool) {
    let (mine, theirs) = (world(&pool, A).await, world(&pool, B).await);
    let base = start(pool.clone()).await;
    let me = Visitor::signed_in(&base, A).await;
    let id = new_id().to_string();
    let client = format!("/clients/{}", theirs.client);
    let (kit_path, mixed) = (
        format!("{client}/places/{}/kit", theirs.place),
        format!("/clients/{}/places/{}/kit", mine.client, theirs.place),
    );
    let piece = theirs.dumbbells;
    let screening = answers(Some("heart"));
    let screening: Vec<(&str, &str)> = screening.iter().map(|(n, v)| (n.as_str(), v.as_str())).collect();
    let profile = with(&PROFILE, &[("version", "1")]);
    let set = [("exercise", "Push-up"), ("reps", "9"), ("on", "2026-03-08")];
    let note = [("kind", "posture"), ("on", "2026-03-08"), ("note", "x")];
    let line = [("line", "5 kg pair")];
    let (place, own_place) = (theirs.place.to_string(), mine.place.to_string());
    let posts: Vec<(String, Vec<(&str, &str)>)> = vec![
        (format!("{client}/profile"), profile),
        (format!("{client}/archive"), vec![]),
        (format!("{client}/restore"), vec![]),
        (format!("{client}/health"), with(&screening, &[("on", "2026-03-10")])),
        (format!("{client}/health/{id}/clearance"), vec![("given_by", "me"), ("given_on", "2026-03-10")]),
        (format!("{client}/limits"), LIMIT.to_vec()),
        (format!("{client}/limits/{id}/remove"), vec![]),
        (format!("{client}/limits/{id}/restore"), vec![]),
        (format!("{client}/limits/{id}/end"), vec![]),
        (format!("{client}/places"), vec![("name", "Mine")]),
        (format!("{client}/places/{place}/name"), vec![("version", "1"), ("new_name", "Mine")]),
        (format!("{client}/places/{place}/copy"), vec![("copy_name", "Mine")]),
        (format!("{client}/places/{place}/archive"), vec![]),
        (format!("{client}/places/{place}/reopen"), vec![]),
        (format!("{client}/places/{place}/remove"), vec![]),
        (format!("{client}/places/{place}/restore"), vec![]),
        (format!("{client}/refit"), vec![("from", &place), ("to", &place)]),
        (format!("/clients/{}/refit", mine.client), vec![("from", &own_place), ("to", &place)]),
        (format!("/clients/{}/refit", mine.client), vec![("from", &place), ("to", &own_place)]),
        (format!("/slots/{}/spot", theirs.slot), vec![("hurts", "elbow"), ("exercise", "hammer_curl")]),
        (format!("/slots/{}/spot/back", theirs.slot), vec![]),
        (format!("/slots/{}/pin", theirs.slot), vec![("pinned", "1")]),
        (format!("/slots/{}/aside", theirs.slot), vec![("exercise", "hammer_curl"), ("reason", "x")]),
        (format!("/slots/{}/take-back", theirs.slot), vec![("exercise", "hammer_curl")]),
        (kit_path.clone(), vec![("kind", "chair")]),
        (mixed.clone(), vec![("kind", "chair")]),
        (format!("{kit_path}/line"), line.to_vec()),
        (format!("{mixed}/line"), line.to_vec()),
        (format!("{kit_path}/start"), vec![("start", "garage")]),
        (format!("{mixed}/start"), vec![("start", "garage")]),
        (format!("{kit_path}/quick"), vec![("kind", "chair")]),
        (format!("{mixed}/quick"), vec![("kind", "chair")]),
        (format!("{kit_path}/{piece}/move"), vec![("index", "0"), ("height", "1")]),
        (format!("{kit_path}/{piece}/weight"), vec![("weight", "8"), ("pair", "true")]),
        (format!("{mixed}/{piece}/weight"), vec![("weight", "8"), ("pair", "true")]),
        (format!("{kit_path}/{piece}/check"), vec![("holds", "yes"), ("slips", "no")]),
        (format!("{kit_path}/{piece}/remove"), vec![]),
        (format!("{kit_path}/{piece}/restore"), vec![]),
        (format!("{client}/aims"), vec![("after", ""), ("aim_lats", "focus")]),
        (format!("{client}/aims/preview"), vec![]),
        (format!("{client}/aims/{id}/again"), vec![]),
        (format!("{client}/strength"), set.to_vec()),
        (format!("{client}/strength/{id}/withdraw"), vec![]),
        (format!("{client}/strength/{id}/restore"), vec![]),
        (format!("{client}/notes"), note.to_vec()),
        (format!("{client}/notes/{id}/remove"), vec![]),
        (format!("{client}/notes/{id}/restore"), vec![]),
    ];
    for (path, fields) in posts {
        let page = me.post(&path, &with(&fields, &[("id", &id)])).await;
        assert_eq!(page.status, StatusCode::NOT_FOUND, "{path}");
    }
    let trainer = theirs.trainer;
    assert_eq!(clients::one(&pool, trainer, theirs.client).await.unwrap().version, 1);
    assert_eq!(places::of_client(&pool, trainer, theirs.client).await.unwrap().len(), 1);
    let kit: Vec<KitItem> =
        kit::pieces(&pool, trainer, theirs.place).await.unwrap().into_iter().map(|p| p.item).collect();
    assert_eq!(kit.len(), 2);
    assert!(health::of_client(&pool, trainer, theirs.client).await.unwrap().is_empty());
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn clients_come_from_a_table_checked_first_and_once(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let text = "name;body mass (kg);height (cm);experience;year of birth;e-mail\n\
                Odalys Finch;68,5;168;novice;1987;o@bavrek.example\n\
                Bramwell Tarn;90;182;Advanced;;\n\
                Odd One;7;168;guru;;nobody\n\
                client of a@bavrek.example;70;170;novice;;\n";
    let page = visitor.post("/clients/from-table", &[("text", text)]).await;
    assert_eq!(page.status, StatusCode::OK);
    for what in [
        "Line 2",
        "68.5 kg, 1.68 m, novice",
        "Add these 2 clients",
        "Line 4",
        "body mass (kg)",
        "is neither an e-mail address nor a mobile",
    ] {
        assert!(page.text.contains(what), "{what}: {}", page.text);
    }
    assert!(page.text.contains("left as they are: client of a@bavrek.example"), "{}", page.text);
    assert_eq!(clients::all(&pool, world.trainer).await.unwrap().len(), 1, "looking adds nobody");
    for _ in 0..2 {
        let taken = visitor.post("/clients/from-table/take", &[("text", text)]).await;
        assert_eq!(taken.status, StatusCode::OK, "{}", taken.text);
    }
    let all = clients::all(&pool, world.trainer).await.unwrap();
    assert_eq!(all.len(), 3);
    let odalys = all.iter().find(|c| c.name == "Odalys Finch").unwrap();
    assert_eq!((odalys.birth_year, odalys.contact.as_str()), (Some(1987), "o@bavrek.example"));
    // What went out comes back as who is there already.
    let out = visitor.stream("/tables/clients.csv").await.text().await.unwrap();
    let page = visitor.post("/clients/from-table", &[("text", &out)]).await;
    assert!(page.text.contains("<b class=\"figure\">3</b> there already"), "{}", page.text);
    let none = visitor.post("/clients/from-table", &[("text", "a,b\n1,2\n")]).await;
    assert_eq!(none.status, StatusCode::UNPROCESSABLE_ENTITY);
}
