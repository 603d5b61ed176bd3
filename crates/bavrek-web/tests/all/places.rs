//! Places and their kit over HTTP: typed, put up on the wall, checked, changed, put away.

use crate::common::{Refusal, assert_refused, desk};
use bavrek_core::kit::{Anchor, KitItem, Setting};
use bavrek_core::units::Metres;
use bavrek_store::{Pool, connection, kit, new_id, places, sessions};
use reqwest::StatusCode;
use uuid::Uuid;

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn dumbbells_come_in_one_line(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/places/{}/kit/line", world.client, world.place);
    let id = new_id().to_string();
    for _ in 0..2 {
        let line = [("id", id.as_str()), ("line", "5, 8, 12 kg pairs and a single 20, 15 lb pair")];
        let page = visitor.post(&path, &line).await;
        assert_eq!((page.status, page.address), (StatusCode::OK, format!("/clients/{}/places", world.client)));
        assert!(page.text.contains("2 × 12 kg") && page.text.contains("1 × 20 kg") && page.text.contains("2 × 15 lb"));
    }
    assert_eq!(kit::pieces(&pool, world.trainer, world.place).await.unwrap().len(), 4, "two units, two pieces");
    let many = "5 ".repeat(3000);
    let cases = [
        ("5, 8 kg", "say whether 5 comes in pairs or single"),
        ("5 stone pair", "&#34;stone&#34; is not understood"),
        ("0 kg pair", "between 0.25 and 100 kg, not 0"),
        ("10,000 kg pairs", "between 0.25 and 100 kg, not 10000"),
        ("🏋️ pair", "is not understood"),
        (&many, "at most 500 characters"),
        ("", "name the weights"),
    ];
    for (line, says) in cases {
        let id = new_id().to_string();
        assert_refused(&visitor.post(&path, &[("id", &id), ("line", line)]).await, says, line.trim());
    }
    assert_eq!(kit::pieces(&pool, world.trainer, world.place).await.unwrap().len(), 4);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_piece_is_put_up_moved_and_taken_off_on_the_wall(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let base = format!("/clients/{}/places/{}/kit", world.client, world.place);
    let (anchor, moved) = (new_id().to_string(), new_id().to_string());
    let quick = [("id", anchor.as_str()), ("kind", "anchor"), ("height", "1.45")];
    assert!(visitor.post(&format!("{base}/quick"), &quick).await.text.contains("anchor at 1.45 m"));
    let to = [("id", moved.as_str()), ("index", "0"), ("height", "1,8")];
    let page = visitor.post(&format!("{base}/{anchor}/move"), &to).await;
    assert!(page.text.contains("aria-valuetext=\"1.8 m\""));
    for (height, says) in [("4", "between 0 and 3.5 m, not 4"), ("", "is needed"), ("high", "is not a number")] {
        let id = new_id().to_string();
        let fields = [("id", id.as_str()), ("index", "0"), ("height", height)];
        assert_refused(&visitor.post(&format!("{base}/{moved}/move"), &fields).await, says, "1.8");
        let quick = [("id", id.as_str()), ("kind", "anchor"), ("height", height)];
        if !height.is_empty() {
            assert_refused(&visitor.post(&format!("{base}/quick"), &quick).await, says, "1.8");
        }
    }
    let wrong = [("id", moved.as_str()), ("index", "3"), ("height", "1")];
    assert_eq!(visitor.post(&format!("{base}/{moved}/move"), &wrong).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    // A window that still shows the anchor where it was.
    let late = new_id().to_string();
    let page =
        visitor.post(&format!("{base}/{anchor}/move"), &[("id", &late), ("index", "0"), ("height", "0.4")]).await;
    assert_eq!(page.status, StatusCode::CONFLICT);
    assert!(page.text.contains("now there: anchor at 1.8 m. Yours was: anchor at 0.4 m"));
    // One weight of nine comes off the shelf, and back on.
    let weight = new_id().to_string();
    let off = [("id", weight.as_str()), ("weight", "8.5"), ("pair", "true")];
    let page = visitor.post(&format!("{base}/{}/weight", world.dumbbells), &off).await;
    assert!(!page.text.contains("2 × 8.5 kg") && page.text.contains("Undo"));
    let undo = [("instead", page.hidden("instead"))];
    let undo: Vec<_> = undo.iter().map(|(n, v)| (*n, v.as_str())).collect();
    let page = visitor.post(&format!("{base}/{}/restore", world.dumbbells), &undo).await;
    assert!(page.text.contains("2 × 8.5 kg"));
    assert_eq!(page.text.matches("2 × 9 kg</text>").count(), 1, "nothing is there twice");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_chair_carries_nobody_before_its_check(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let base = format!("/clients/{}/places/{}/kit", world.client, world.place);
    let chair = new_id().to_string();
    let page = visitor.post(&format!("{base}/quick"), &[("id", &chair), ("kind", "chair")]).await;
    assert!(page.text.contains("1 not used yet") && page.text.contains("Furniture against a wall"));
    let head = places::one(&pool, world.trainer, world.place).await.unwrap();
    let usable =
        || async { kit::place(&mut connection(&pool).await.unwrap(), world.trainer, &head).await.unwrap().kit.len() };
    assert_eq!(usable().await, 2);
    for half in [&[("holds", "yes")][..], &[("slips", "no")][..], &[][..]] {
        assert_refused(&visitor.post(&format!("{base}/{chair}/check"), half).await, "Answer both questions", "chair");
    }
    let page = visitor.post(&format!("{base}/{chair}/check"), &[("holds", "yes"), ("slips", "yes")]).await;
    assert!(page.text.contains("not to be used") && usable().await == 2);
    let page = visitor.post(&format!("{base}/{chair}/check"), &[("holds", "yes"), ("slips", "no")]).await;
    assert!(page.text.contains("looked at and firm, Tue 10 Mar 2026") && usable().await == 3);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_piece_is_changed_in_its_form_and_two_windows_see_both(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let base = format!("/clients/{}/places/{}/kit", world.client, world.place);
    let old = world.dumbbells.to_string();
    let page = visitor.get(&format!("/clients/{}/places?place={}&edit={old}", world.client, world.place)).await;
    assert!(page.text.contains("value=\"8, 8.5, 9, 9.5, 10, 10.5, 11, 11.5, 12\""), "what is there is in the form");
    let (first, second) = (new_id().to_string(), new_id().to_string());
    let change = |id, pairs| [("id", id), ("replaces", old.as_str()), ("kind", "dumbbells"), ("pairs", pairs)];
    assert_eq!(visitor.post(&base, &change(&first, "8, 12")).await.status, StatusCode::OK);
    let page = visitor.post(&base, &change(&second, "8, 14")).await;
    assert_eq!(page.status, StatusCode::CONFLICT);
    assert!(page.text.contains("now there: dumbbells 8, 12 kg pairs. Yours was: dumbbells 8, 14 kg pairs"));
    assert!(page.text.contains("value=\"8, 14\""), "what was typed is kept");
}

/// Bars, handles and kettlebells come in by the form, are told in words, drawn, and changed as they were typed.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn bars_handles_and_bells_are_kit(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let base = format!("/clients/{}/places/{}/kit", world.client, world.place);
    let pieces: [Refusal<'_>; 4] = [
        (
            &[("kind", "barbell"), ("bar", "10"), ("plates", "4 x 5, 2x1,25")],
            "barbell, bar 10 kg, plates 2×1.25, 4×5 kg",
            "bar 10–32.5 kg",
        ),
        (&[("kind", "rack")], "rack that catches a bar", "rack"),
        (
            &[("kind", "plate_dumbbell"), ("handle", "2"), ("plates", "4x2.5"), ("count", "2")],
            "two dumbbells with a handle of 2 kg, plates 4×2.5 kg",
            "2 × 2–12 kg",
        ),
        (
            &[("kind", "kettlebells"), ("unit", "lb"), ("pairs", "18"), ("singles", "35")],
            "kettlebells 18 lb pairs, 35 lb single",
            "1 × 35 lb",
        ),
    ];
    for (fields, told, drawn) in pieces {
        let id = new_id().to_string();
        let page = visitor.post(&base, &[&[("id", id.as_str())], fields].concat()).await;
        assert_eq!(page.status, StatusCode::OK, "{told}");
        assert!(page.text.contains(told), "{told}");
        assert!(page.text.contains(drawn), "{told}: {drawn}");
        let form = visitor.get(&format!("/clients/{}/places?place={}&edit={id}", world.client, world.place)).await;
        assert_eq!(form.status, StatusCode::OK);
        for (name, value) in fields.iter().filter(|(name, _)| ["bar", "handle", "pairs", "singles"].contains(name)) {
            assert!(form.text.contains(&format!("value=\"{value}\"")), "{told}: {name}");
        }
    }
    let bells = kit::pieces(&pool, world.trainer, world.place).await.unwrap().pop().unwrap();
    let off = [("id", new_id().to_string()), ("weight", "18".to_owned()), ("pair", "true".to_owned())];
    let off: Vec<(&str, &str)> = off.iter().map(|(name, value)| (*name, value.as_str())).collect();
    let page = visitor.post(&format!("{base}/{}/weight", bells.id), &off).await;
    assert!(page.text.contains("kettlebells 35 lb single"), "one weight of two is gone");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_band_that_is_not_measured_says_so(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let base = format!("/clients/{}/places/{}/kit", world.client, world.place);
    let id = new_id().to_string();
    let printed =
        [("id", id.as_str()), ("kind", "tube_band"), ("length_m", "1,2"), ("rated_min", "5"), ("rated_max", "16")];
    let page = visitor.post(&base, &printed).await;
    assert!(page.text.contains("not measured: by its size") && page.text.contains("not measured: by its print"));
    assert!(page.text.contains(&format!("/lab?band={id}")), "the gauge is one press away");
    let KitItem::TubeBand(mut band) = kit::pieces(&pool, world.trainer, world.place).await.unwrap().remove(2).item
    else {
        panic!("the tube was added last")
    };
    let guessed = KitItem::TubeBand(band.clone()).band_knowledge().unwrap().1;
    band.measured = Some(serde_json::from_str(r#"[{"length_m":1.8,"kg":6},{"length_m":2.4,"kg":9}]"#).unwrap());
    let measured = KitItem::TubeBand(band);
    kit::add(&pool, world.trainer, world.place, new_id(), &measured).await.unwrap();
    assert!(measured.band_knowledge().unwrap().1 < guessed / 2.0);
    let page = visitor.get(&format!("/clients/{}/places", world.client)).await;
    assert!(page.text.contains(">measured, force known to about"), "what is measured is known better");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn places_are_added_named_copied_and_put_away(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/places", world.client);
    let id = new_id().to_string();
    for name in ["", &"x".repeat(121)] {
        let page = visitor.post(&path, &[("id", &id), ("name", name)]).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY);
    }
    for _ in 0..2 {
        let page = visitor.post(&path, &[("id", &id), ("name", "Garage 🚗"), ("start", "garage")]).await;
        assert!(page.text.contains("Garage 🚗") && page.text.contains("2 × 24 kg"));
    }
    let garage: Uuid = id.parse().unwrap();
    assert_eq!(kit::pieces(&pool, world.trainer, garage).await.unwrap().len(), 7);
    let copy = new_id().to_string();
    let page = visitor.post(&format!("{path}/{id}/copy"), &[("id", &copy), ("copy_name", "Barn")]).await;
    assert!(page.text.contains("Barn") && page.text.contains("2 × 24 kg"));
    let rename = |version, name| [("version", version), ("new_name", name)];
    visitor.post(&format!("{path}/{id}/name"), &rename("1", "Hall")).await;
    let page = visitor.post(&format!("{path}/{id}/name"), &rename("1", "Shed")).await;
    assert_eq!(page.status, StatusCode::CONFLICT);
    assert!(
        page.text.contains("saved is &#34;Hall&#34;, yours is &#34;Shed&#34;") && page.text.contains("value=\"Shed\"")
    );
    visitor.post(&format!("{path}/{id}/archive"), &[]).await;
    assert!(visitor.get(&path).await.text.contains("Hall (archived)"));
    visitor.post(&format!("{path}/{id}/reopen"), &[]).await;
    let page = visitor.post(&format!("{path}/{id}/remove"), &[]).await;
    assert!(page.text.contains("The place was removed") && !page.text.contains("Hall"));
    assert!(visitor.post(&format!("{path}/{id}/restore"), &[]).await.text.contains("Hall"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_place_that_a_plan_uses_offers_to_refit_or_to_archive(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let path = format!("/clients/{}/places", world.client);
    let other = new_id().to_string();
    visitor.post(&path, &[("id", &other), ("name", "Garage"), ("start", "garage")]).await;
    let page = visitor.post(&format!("{path}/{}/remove", world.place), &[]).await;
    assert_refused(&page, "Room is used by a plan", "Session, 2026-03-10");
    assert!(page.text.contains("Re-fit there") && page.text.contains("Archive Room"));
    let from = world.place.to_string();
    let refit = format!("/clients/{}/refit", world.client);
    let page = visitor.post(&refit, &[("from", &from), ("to", &other), ("none", "1")]).await;
    assert_eq!(page.status, StatusCode::OK);
    assert_eq!(sessions::head(&pool, world.trainer, world.session).await.unwrap().place_id.to_string(), other);
    let page = visitor.get(&format!("/sessions/{}", world.session)).await;
    assert!(page.text.contains("at Garage") && page.text.contains("Find a fit"), "every slot asks for a fit there");
    assert_eq!(visitor.post(&format!("{path}/{}/remove", world.place), &[]).await.status, StatusCode::OK);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn kit_is_shown_as_it_was_on_a_day(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    sqlx::query("update kit_items set added_at = '2026-01-05T10:00Z', removed_at = '2026-02-01T10:00Z' where id = $1")
        .bind(world.dumbbells)
        .execute(&pool)
        .await
        .unwrap();
    let on = |day: &'static str| {
        let path = format!("/clients/{}/places?place={}&on={day}", world.client, world.place);
        let visitor = &visitor;
        async move { visitor.get(&path).await.text.split("<h3>On ").nth(1).unwrap_or_default().to_owned() }
    };
    assert!(on("2026-01-20").await.contains("2 × 8.5 kg"));
    assert!(on("2026-02-02").await.contains("nothing but the floor"));
    assert!(on("someday").await.is_empty());
}

/// A band that another could be mistaken for is asked for a name; what was typed stays. Where two come together from two
/// places they are told apart.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn two_bands_never_have_one_name(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let pieces = kit::pieces(&pool, world.trainer, world.place).await.unwrap();
    let band = pieces.iter().find(|p| p.item.is_band()).unwrap();
    let KitItem::LoopBand(mut thicker) = band.item.clone() else { panic!("{band:?}") };
    thicker.thickness_m = Some(Metres(0.006));
    let mm = |m: Option<Metres>| (m.unwrap().value() * 1000.0).to_string();
    let label = thicker.label.clone().unwrap_or_default();
    let (width, thickness) = (mm(thicker.width_m), mm(thicker.thickness_m));
    let post = async |label: &str| {
        let id = new_id().to_string();
        let fields = [
            ("id", id.as_str()),
            ("kind", "loop_band"),
            ("label", label),
            ("count", "1"),
            ("length_m", "1.04"),
            ("width_mm", &width),
            ("thickness_mm", &thickness),
        ];
        visitor.post(&format!("/clients/{}/places/{}/kit", world.client, world.place), &fields).await
    };
    let refused = post(&label).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    let says = format!("another band here is called {}: name this one", band.item.name());
    assert!(refused.text.contains(&says), "{}", refused.text);
    let kept = format!("name=\"thickness_mm\" value=\"{thickness}\"");
    assert!(refused.text.contains(&kept), "{kept}");
    assert_eq!(post("thick").await.status, StatusCode::OK);
    // What is typed in millimetres is refused in millimetres.
    let id = new_id().to_string();
    let path = format!("/clients/{}/places/{}/kit", world.client, world.place);
    let fields =
        [("id", id.as_str()), ("kind", "loop_band"), ("length_m", "1.04"), ("width_mm", "22"), ("thickness_mm", "90")];
    let page = visitor.post(&path, &fields).await;
    assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.text.contains("must be between 1 and 8 mm, not 90"), "{}", page.text);
    // From another place it comes along under a name of its own.
    let park = new_id().to_string();
    visitor.post(&format!("/clients/{}/places", world.client), &[("id", &park), ("name", "Park")]).await;
    let park = places::one(&pool, world.trainer, park.parse().unwrap()).await.unwrap();
    kit::add(&pool, world.trainer, park.id, new_id(), &KitItem::LoopBand(thicker)).await.unwrap();
    kit::set_travels(&pool, world.trainer, world.place, band.id, true).await.unwrap();
    let there = kit::place(&mut connection(&pool).await.unwrap(), world.trainer, &park).await.unwrap().kit;
    let names: Vec<_> = there.iter().map(KitItem::name).collect();
    let second = format!("second {}", band.item.name());
    assert_eq!(names, [band.item.name(), second], "both are there, each with its name");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_travels_comes_along_and_a_park_has_no_door(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let id = new_id().to_string();
    let fields = [("id", id.as_str()), ("name", "Quarry park"), ("setting", "outdoors")];
    assert_eq!(visitor.post(&format!("/clients/{}/places", world.client), &fields).await.status, StatusCode::OK);
    let park = places::one(&pool, world.trainer, id.parse().unwrap()).await.unwrap();
    assert_eq!(park.setting, Some(Setting::Outdoors));
    let door = KitItem::Anchor(Anchor::in_door());
    let anchor = new_id();
    kit::add(&pool, world.trainer, world.place, anchor, &door).await.unwrap();
    let pieces = kit::pieces(&pool, world.trainer, world.place).await.unwrap();
    let band = pieces.iter().find(|p| p.item.is_band()).unwrap();
    assert!(kit::at_hand(&mut connection(&pool).await.unwrap(), world.trainer, &park).await.unwrap().is_empty());
    let travels = |piece: Uuid| format!("/clients/{}/places/{}/kit/{piece}/travels", world.client, world.place);
    for piece in [band.id, anchor] {
        let page = visitor.post(&travels(piece), &[("travels", "1")]).await;
        assert!(page.status == StatusCode::OK && page.text.contains("<b>goes along</b>"));
    }
    let along = kit::at_hand(&mut connection(&pool).await.unwrap(), world.trainer, &park).await.unwrap();
    assert_eq!(along.iter().map(|p| p.id).collect::<Vec<_>>(), [band.id], "the band, and no anchor for a door");
    let page = visitor.get(&format!("/clients/{}/places?place={}", world.client, park.id)).await;
    assert!(page.text.contains("Comes along") && page.text.contains("from Room"));
    // The same piece written down at both places is there once.
    kit::add(&pool, world.trainer, park.id, new_id(), &band.item).await.unwrap();
    assert_eq!(kit::at_hand(&mut connection(&pool).await.unwrap(), world.trainer, &park).await.unwrap().len(), 1);
    // It can stay at home again; another client has nothing of it.
    visitor.post(&travels(band.id), &[("travels", "0")]).await;
    let other = crate::common::world(&pool, "b@bavrek.example").await;
    let theirs = places::one(&pool, other.trainer, other.place).await.unwrap();
    assert_eq!(
        kit::at_hand(&mut connection(&pool).await.unwrap(), other.trainer, &theirs).await.unwrap().len(),
        2,
        "their own dumbbells and band"
    );
    // A place can be told to be something else, but not anything.
    let setting = format!("/clients/{}/places/{}/setting", world.client, park.id);
    assert_eq!(visitor.post(&setting, &[("setting", "moon")]).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(visitor.post(&setting, &[("setting", "doors")]).await.status, StatusCode::OK);
    let home = places::one(&pool, world.trainer, park.id).await.unwrap();
    assert!(
        kit::at_hand(&mut connection(&pool).await.unwrap(), world.trainer, &home)
            .await
            .unwrap()
            .iter()
            .any(|p| p.id == anchor)
    );
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn an_anchor_is_moved_to_where_a_movement_needs_it(pool: Pool) {
    let (world, visitor) = desk(&pool).await;
    let fixed: KitItem = serde_json::from_str(r#"{"kind":"anchor","heights_m":[3.0]}"#).unwrap();
    kit::add(&pool, world.trainer, world.place, new_id(), &fixed).await.unwrap();
    let bench = visitor.get(&format!("/slots/{}/bench", world.slot)).await;
    let form = bench.text.split(&format!("/slots/{}/anchor", world.slot)).nth(1).expect("an anchor to move");
    let field = |name: &str| {
        form.split(&format!("name=\"{name}\" value=\"")).nth(1).unwrap().split('"').next().unwrap().to_owned()
    };
    let (id, height) = (field("id"), field("height"));
    let anchor = format!("/slots/{}/anchor", world.slot);
    for wrong in ["9", "high"] {
        let page = visitor.post(&anchor, &[("id", &id), ("height", wrong)]).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{wrong}");
    }
    for _ in 0..2 {
        let page = visitor.post(&anchor, &[("id", &id), ("height", &height)]).await;
        assert_eq!((page.status, page.address), (StatusCode::OK, format!("/slots/{}/bench", world.slot)));
    }
    let pieces = kit::pieces(&pool, world.trainer, world.place).await.unwrap();
    let heights =
        pieces.iter().find_map(|p| if let KitItem::Anchor(a) = &p.item { Some(a.heights_m.clone()) } else { None });
    let wanted: f64 = height.parse().unwrap();
    assert_eq!(heights, Some(vec![wanted, 3.0]), "it can be at either height, sent twice or not");
}
