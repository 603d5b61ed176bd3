//! Catalogue, rig page and Lab over HTTP: what is found, what is refused beside which field, and whose it is.

use crate::common::{Visitor, World, start, world};
use bavrek_core::kit::KitItem;
use bavrek_store::{Pool, fits, kit, movements, new_id};
use reqwest::StatusCode;

const A: &str = "a@bavrek.example";
const B: &str = "b@bavrek.example";

async fn opened(pool: &Pool) -> (World, Visitor, String) {
    let world = world(pool, A).await;
    let base = start(pool.clone()).await;
    let visitor = Visitor::signed_in(&base, A).await;
    (world, visitor, base)
}

/// How many movements the list says it found.
fn count(page: &crate::common::Page) -> usize {
    let at = page.text.find("role=\"status\">").unwrap() + 14;
    page.text[at..].split(' ').next().unwrap().parse().unwrap_or(0)
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn filters_narrow_the_catalogue_and_words_find_other_names(pool: Pool) {
    let (world, visitor, _) = opened(&pool).await;
    let all = count(&visitor.get("/catalogue").await);
    assert!(all >= 180);
    let region = count(&visitor.get("/catalogue?region=triceps_long").await);
    let both = count(&visitor.get("/catalogue?region=triceps_long&implement=dumbbell").await);
    let three = count(&visitor.get("/catalogue?region=triceps_long&implement=dumbbell&arm=overhead").await);
    assert!(all > region && region > both && both > three && three > 0, "{all} {region} {both} {three}");
    let found = visitor.get("/catalogue?q=skull+crusher").await;
    assert!(found.text.contains("Lying dumbbell extension") && found.text.contains("also called skull crusher"));
    let none = visitor.get("/catalogue?q=zzz").await;
    assert_eq!(count(&none), 0);
    assert!(none.text.contains("Nothing fits these filters"));
    // A room with dumbbells and a loop: no rings, no bar.
    let here = visitor.get(&format!("/catalogue?place={}", world.place)).await;
    assert!(count(&here) < all && here.text.contains("ruled out by this room"));
    let rings = visitor.get(&format!("/catalogue?place={}&q=ring+curl&all=on", world.place)).await;
    assert!(rings.text.contains("needs rings"));
    // What typed addresses ask for and nobody offers.
    assert_eq!(count(&visitor.get("/catalogue?region=wings").await), 0);
    assert_eq!(visitor.get("/catalogue?page=900").await.status, StatusCode::OK);
    assert_eq!(visitor.get(&format!("/catalogue?place={}", new_id())).await.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn every_movement_has_its_page(pool: Pool) {
    let (_, visitor, _) = opened(&pool).await;
    for movement in &bavrek_catalogue::load().unwrap().movements {
        let page = visitor.get(&format!("/catalogue/{}", movement.id)).await;
        assert_eq!(page.status, StatusCode::OK, "{}", movement.id);
        assert!(page.text.contains("class=\"rig\"") && page.text.contains("Set up"), "{}", movement.id);
        let rig = visitor.get(&format!("/rig?movement={}", movement.id)).await;
        assert_eq!(rig.status, StatusCode::OK, "{}", movement.id);
    }
    assert_eq!(visitor.get("/catalogue/nobody").await.status, StatusCode::NOT_FOUND);
    assert_eq!(visitor.get("/rig?movement=nobody").await.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_gravity_does_not_load_says_so(pool: Pool) {
    let (_, visitor, _) = opened(&pool).await;
    let page = visitor.get("/catalogue/standing_dumbbell_press_out").await;
    assert!(page.text.contains("It never ranks as training its regions"));
}

/// The fields of a form as they stand on a page.
fn fields_of(page: &crate::common::Page) -> Vec<(String, String)> {
    let mut fields = Vec::new();
    for part in page.text.split("<input").skip(1) {
        let tag = part.split('>').next().unwrap();
        let value =
            |name: &str| tag.split(&format!(" {name}=\"")).nth(1).map(|v| v.split('"').next().unwrap().to_owned());
        if let (Some(name), Some(value)) = (value("name"), value("value")) {
            let boxes = tag.contains("type=\"checkbox\"") && !tag.contains("checked");
            if name != "csrf" && !boxes {
                fields.push((name, value));
            }
        }
    }
    for part in page.text.split("<select").skip(1) {
        let name = part.split("name=\"").nth(1).unwrap().split('"').next().unwrap().to_owned();
        let options = part.split("</select>").next().unwrap();
        let selected = options.split("<option").find(|o| o.contains(" selected"));
        let value = selected.map_or("", |o| o.split("value=\"").nth(1).unwrap().split('"').next().unwrap());
        fields.push((name, value.to_owned()));
    }
    for part in page.text.split("<textarea").skip(1) {
        let name = part.split("name=\"").nth(1).unwrap().split('"').next().unwrap().to_owned();
        let text = part.split('>').nth(1).unwrap().split('<').next().unwrap().to_owned();
        fields.push((name, text));
    }
    fields
}

fn with<'a>(fields: &'a [(String, String)], changes: &[(&'a str, &'a str)]) -> Vec<(&'a str, &'a str)> {
    let kept =
        fields.iter().filter(|(n, _)| !changes.iter().any(|(c, _)| c == n)).map(|(n, v)| (n.as_str(), v.as_str()));
    kept.chain(changes.iter().copied()).collect()
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn an_own_movement_is_made_from_a_copy_changed_and_taken_out(pool: Pool) {
    let (world, visitor, base) = opened(&pool).await;
    let form = visitor.get("/catalogue/dumbbell_curl/copy").await;
    let fields = fields_of(&form);
    let id = form.hidden("id");
    // A wrong angle stays typed, and nothing is stored.
    let refused =
        visitor.post("/catalogue/dumbbell_curl/copy", &with(&fields, &[("rig/upper_arm_deg", "steep")])).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("is not a number") && refused.text.contains("value=\"steep\""));
    assert!(movements::all(&pool, world.trainer).await.unwrap().is_empty());
    // The preview draws what is typed and stores nothing either.
    let changes = [("name", "Curl over the fence"), ("rig/upper_arm_deg", "45")];
    let preview = visitor.post("/catalogue/dumbbell_curl/preview", &with(&fields, &changes)).await;
    assert!(preview.text.contains("lengthened 42 %"), "the curve of an arm in front");
    assert!(movements::all(&pool, world.trainer).await.unwrap().is_empty());
    // Saved, twice sent: one movement, in the list, with its own curve.
    for _ in 0..2 {
        let page = visitor.post("/catalogue/dumbbell_curl/copy", &with(&fields, &changes)).await;
        assert_eq!(page.status, StatusCode::OK);
        assert!(page.text.contains("Curl over the fence"));
    }
    assert_eq!(movements::all(&pool, world.trainer).await.unwrap().len(), 1);
    assert_eq!(count(&visitor.get("/catalogue?q=over+the+fence").await), 1);
    // It competes on the swap bench.
    let bench = visitor.get(&format!("/slots/{}/bench", world.slot)).await;
    assert!(bench.text.contains("Curl over the fence"));
    // Another trainer has none of it.
    crate::common::world(&pool, B).await;
    let other = Visitor::signed_in(&base, B).await;
    let own = movements::movement_id(id.parse().unwrap());
    for path in [format!("/catalogue/{own}"), format!("/catalogue/{own}/edit"), format!("/rig?movement={own}")] {
        assert_eq!(other.get(&path).await.status, StatusCode::NOT_FOUND, "{path}");
    }
    assert_eq!(other.post(&format!("/catalogue/{own}/archive"), &[]).await.status, StatusCode::NOT_FOUND);
    let stolen = with(&fields, &[("name", "Mine now")]);
    other.post(&format!("/catalogue/{own}/edit"), &stolen).await;
    assert_eq!(movements::all(&pool, world.trainer).await.unwrap()[0].movement.name, "Curl over the fence");
    // Taken out it is no longer found, but its page still answers for the log; undo brings it back.
    visitor.post(&format!("/catalogue/{own}/archive"), &[]).await;
    let gone = visitor.get("/catalogue?q=over+the+fence").await;
    assert!(gone.text.contains("Nothing is called “over the fence”") && !gone.text.contains("Curl over the fence"));
    assert_eq!(visitor.get(&format!("/catalogue/{own}")).await.status, StatusCode::OK);
    visitor.post(&format!("/catalogue/{own}/restore"), &[]).await;
    assert_eq!(count(&visitor.get("/catalogue?q=over+the+fence").await), 1);
    // What ships cannot be changed.
    assert_eq!(visitor.get("/catalogue/dumbbell_curl/edit").await.status, StatusCode::NOT_FOUND);
    assert_eq!(visitor.post("/catalogue/dumbbell_curl/archive", &[]).await.status, StatusCode::NOT_FOUND);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn impossible_rigs_are_refused_beside_the_field(pool: Pool) {
    let (_, visitor, _) = opened(&pool).await;
    let cases = [
        ("movement=band_fly&anchor_distance=5", "anchor_distance", "250 % is the most"),
        ("movement=band_fly&anchor_distance=0.4", "anchor_distance", "slack over the whole movement"),
        ("movement=band_fly&grip_shorter=1.2", "grip_shorter", "free band"),
        ("movement=band_fly&anchor_distance=far", "anchor_distance", "is not a number"),
        ("movement=band_fly&anchor_height=-1", "anchor_height", "must be between"),
        ("movement=push_up&hands_height=1.4", "hands_height", "count reps only"),
        ("movement=ring_curl&body_angle=79&strap=0.3", "body_angle", "slack in this posture"),
        ("movement=dumbbell_curl&weight=0&band=", "weight", "does not oppose"),
        ("movement=dumbbell_curl&weight=900", "weight", "must be between"),
    ];
    for (query, field, says) in cases {
        let page = visitor.get(&format!("/rig?{query}")).await;
        assert_eq!(page.status, StatusCode::OK, "{query}");
        let error =
            page.text.split(&format!("data-error=\"{field}\"")).nth(1).unwrap().split("</span>").next().unwrap();
        assert!(error.contains(says), "{query}: {error}");
        // The posture is drawn all the same, unless it has no solution itself.
        let drawn = page.text.contains("class=\"rig\"") || page.text.contains("so nothing is drawn");
        assert!(drawn, "{query}");
    }
    let slack = visitor.get("/rig?movement=band_fly&anchor_distance=0.75").await;
    assert!(slack.text.contains("Slack, no load in the lengthened position"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_set_up_of_the_trainers_own_is_taken_into_the_slot(pool: Pool) {
    let (world, visitor, _) = opened(&pool).await;
    let rig = format!("/slots/{}/rig", world.slot);
    let page = visitor.post(&rig, &[("movement", "dumbbell_curl"), ("weight", "9,5"), ("band", "")]).await;
    assert_eq!((page.status, page.address), (StatusCode::OK, format!("/sessions/{}", world.session)));
    let fit = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    assert_eq!(fit.exercise, "dumbbell_curl");
    assert!((fit.step.effective_kg.value() - 9.5).abs() < 1e-9);
    assert_eq!(fit.prescription.sets[0].load.unwrap().value, 9.5);
    // What the room cannot do is refused with the reason, and the fit in force stays.
    let refused = visitor.post(&rig, &[("movement", "ring_curl")]).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("needs rings"));
    // A weight that nobody owns is drawn, marked, and cannot be taken.
    let shown = visitor.get(&format!("/rig?slot={}&movement=dumbbell_curl&weight=14", world.slot)).await;
    assert!(shown.text.contains("not in this room: no pair of 14 kg") && shown.text.contains("id=\"effective\">14"));
    let take = shown.text.split("id=\"take-form\"").nth(1).unwrap();
    let button = take.split("</form>").next().unwrap();
    assert!(button.split_whitespace().any(|word| word.trim_end_matches('>') == "disabled"));
    let missing = visitor.post(&rig, &[("movement", "dumbbell_curl"), ("weight", "14"), ("band", "")]).await;
    assert_eq!(missing.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(missing.text.contains("not in this room: no pair of 14 kg") && missing.text.contains("value=\"14\""));
    // What the page starts with is something that the room has.
    let usual = visitor.get(&format!("/rig?slot={}&movement=hammer_curl", world.slot)).await;
    assert!(usual.status == StatusCode::OK && !usual.text.contains("not in this room"));
    let wrong = visitor.post(&rig, &[("movement", "dumbbell_curl"), ("weight", "heavy")]).await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(wrong.text.contains("value=\"heavy\""));
    let kept = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    assert_eq!(kept.id, fit.id);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn readings_are_saved_to_the_band_and_change_its_ladder(pool: Pool) {
    let (world, visitor, base) = opened(&pool).await;
    let pieces = kit::pieces(&pool, world.trainer, world.place).await.unwrap();
    let band = pieces.iter().find(|p| matches!(p.item, KitItem::LoopBand(_))).unwrap();
    let id = band.id.to_string();
    let rig = format!("/rig?slot={}&movement=band_curl", world.slot);
    let effective = |page: &crate::common::Page| {
        page.text.split("id=\"effective\">").nth(1).unwrap().split('<').next().unwrap().to_owned()
    };
    let before = effective(&visitor.get(&rig).await);
    // Readings of a weaker band; one of them slack at first.
    let readings = [("1.30", "3.0"), ("1.56", "5.0"), ("1.82", "6.6"), ("2.08", "8.0"), ("2.60", "10.6")];
    let mut fields = vec![("band", id.as_str()), ("rest", "1.04"), ("length", "1.05"), ("kg", "0.5")];
    fields.extend(readings.iter().flat_map(|(l, k)| [("length", *l), ("kg", *k)]));
    let refused = visitor.post("/lab/save", &fields).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("the band was slack at 1.05 m") && refused.text.contains("value=\"1.05\""));
    fields.drain(2..4);
    // What the simulated scale gave is marked, and saved as what it is.
    let mut simulated = fields.clone();
    simulated.extend(readings.iter().map(|_| ("from", "scale")));
    let query: Vec<String> = simulated.iter().map(|(n, v)| format!("{n}={v}")).collect();
    let page = visitor.get(&format!("/lab?{}", query.join("&"))).await;
    assert!(
        page.text.contains("simulated: saved, it narrows nothing") && page.text.contains("Save the simulated curve")
    );
    // Another trainer's band is not there to be saved to.
    crate::common::world(&pool, B).await;
    let other = Visitor::signed_in(&base, B).await;
    assert_eq!(other.post("/lab/save", &fields).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    let saved = visitor.post("/lab/save", &fields).await;
    assert_eq!((saved.status, saved.address), (StatusCode::OK, format!("/clients/{}/places", world.client)));
    let pieces = kit::pieces(&pool, world.trainer, world.place).await.unwrap();
    let measured =
        pieces.iter().filter_map(|p| if let KitItem::LoopBand(b) = &p.item { b.measured.as_ref() } else { None });
    assert_eq!(measured.map(Vec::len).collect::<Vec<_>>(), [5]);
    let after = effective(&visitor.get(&rig).await);
    assert_ne!(before, after);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn the_calculators_keep_their_state_in_the_address(pool: Pool) {
    let (_, visitor, _) = opened(&pool).await;
    let page = visitor.get("/lab/reps?load=40&reps=8&rir=1&target=12&target_rir=1").await;
    assert!(page.text.contains("value=\"40\"") && page.text.contains("for 12 repetitions"));
    for path in ["/lab", "/lab/levers", "/lab/levers?kind=row&angle=20", "/lab/dumbbell-and-band", "/lab/tempo"] {
        assert_eq!(visitor.get(path).await.status, StatusCode::OK, "{path}");
    }
    assert_eq!(visitor.get("/lab/astrology").await.status, StatusCode::NOT_FOUND);
    let reading = visitor.get("/lab/scale?length=99").await;
    assert_eq!(reading.status, StatusCode::UNPROCESSABLE_ENTITY);
}
