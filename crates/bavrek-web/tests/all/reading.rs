//! Written plans: read, checked, laid; wrong figures, hidden kit, strangers.

use crate::common::{Visitor, World, start, world};
use bavrek_core::plan::BlockKind;
use bavrek_store::{Pool, fits, sessions};
use reqwest::StatusCode;
use uuid::Uuid;

const PLAN: &str =
    "Day 1\nA1) DB curl 3x10, 2 RIR, 8 kg\nA2) Band pushdown 3 x 12\nWeighted dips +10kg 4x6\nLat pulldown 3x10";

/// The fields of the check as a browser would send them back.
fn fields(page: &str) -> Vec<(String, String)> {
    let attribute = |tag: &str, name: &str| {
        let at = tag.find(&format!(" {name}=\""))? + name.len() + 3;
        Some(tag[at..].split('"').next().unwrap_or_default().replace("&amp;", "&").replace("&#38;", "&"))
    };
    let form = page.split("/read/take\"").nth(1).unwrap().split("</form>").next().unwrap();
    let mut found = Vec::new();
    for tag in form.split("<input").skip(1).map(|t| t.split('>').next().unwrap()) {
        let ticked = !tag.contains("type=\"checkbox\"") || tag.contains(" checked");
        if let Some(name) = attribute(tag, "name").filter(|_| ticked) {
            found.push((name, attribute(tag, "value").unwrap_or_default()));
        }
    }
    found
}

async fn checked(me: &Visitor, world: &World, text: &str) -> crate::common::Page {
    let address = format!("/clients/{}/read", world.client);
    me.post(&address, &[("text", text), ("place", &world.place.to_string())]).await
}

async fn lay(me: &Visitor, world: &World, form: &[(String, String)]) -> crate::common::Page {
    let form: Vec<(&str, &str)> = form.iter().map(|(n, v)| (n.as_str(), v.as_str())).collect();
    me.post(&format!("/clients/{}/read/take", world.client), &form).await
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_plan_is_checked_before_anything_is_stored_and_laid_as_it_stands(pool: Pool) {
    let world = world(&pool, "a@bavrek.example").await;
    let me = Visitor::signed_in(&start(pool.clone()).await, "a@bavrek.example").await;
    let before = sessions::of_client(&pool, world.trainer, world.client).await.unwrap().len();
    let page = checked(&me, &world, PLAN).await;
    assert_eq!(page.status, StatusCode::OK);
    for said in [
        "not in this room: parallel bars",
        "Pulldown with a wide bar is one of a gym",
        "not stated, so as usual: tempo 2-0-1-0",
    ] {
        assert!(page.text.contains(said), "{said}");
    }
    assert_eq!(sessions::of_client(&pool, world.trainer, world.client).await.unwrap().len(), before);
    let form = fields(&page.text);
    let laid = lay(&me, &world, &form).await;
    assert_eq!(laid.status, StatusCode::OK, "{}", laid.text);
    let id: Uuid = laid.address.strip_prefix("/sessions/").unwrap().parse().unwrap();
    let blocks = sessions::blocks(&pool, world.trainer, id).await.unwrap();
    let shape: Vec<_> = blocks.iter().map(|b| (b.kind, b.slots.len())).collect();
    assert_eq!(shape, [(BlockKind::Superset, 2), (BlockKind::Straight, 1), (BlockKind::Straight, 1)]);
    let curl = &blocks[0].slots[0];
    assert_eq!((curl.intent.dose.sets, curl.intent.dose.reps, curl.intent.dose.rir), (3, [10, 10], 2));
    let fits = fits::of_session(&pool, world.trainer, id, world.place).await.unwrap();
    assert_eq!(fits[&curl.id].exercise, "dumbbell_curl");
    assert_ne!(fits[&blocks[1].slots[0].id].exercise, "bar_dip", "what needs bars is done otherwise");
    assert_eq!(blocks[1].slots[0].intent.reference_exercise.as_deref(), Some("bar_dip"));
    // Sent twice it is one session.
    lay(&me, &world, &form).await;
    assert_eq!(sessions::of_client(&pool, world.trainer, world.client).await.unwrap().len(), before + 1);
}

/// What says that it may be left out is laid so; what no page sends is not taken.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_may_be_left_out_is_laid_so(pool: Pool) {
    let world = world(&pool, "a@bavrek.example").await;
    let me = Visitor::signed_in(&start(pool.clone()).await, "a@bavrek.example").await;
    let text = "DB curl 3x10\n\nAny one of these two:\nLateral raise 3x12\nDB row 3x8\n\nPush-up 2x10 (optional)";
    let page = checked(&me, &world, text).await;
    assert_eq!(page.text.matches("optional, any one such line is enough").count(), 2, "{}", page.text);
    let mut form = fields(&page.text);
    let optional = async |form: &[(String, String)]| {
        let laid = lay(&me, &world, form).await;
        let id: Uuid = laid.address.strip_prefix("/sessions/").unwrap().parse().unwrap();
        let blocks = sessions::blocks(&pool, world.trainer, id).await.unwrap();
        blocks.iter().flat_map(|b| &b.slots).map(|s| s.intent.optional).collect::<Vec<_>>()
    };
    assert_eq!(optional(&form).await, [None, Some(1), Some(1), Some(0)]);
    let page = checked(&me, &world, text).await;
    form = fields(&page.text);
    form.iter_mut().filter(|(name, _)| name == "optional-1").for_each(|(_, value)| "99".clone_into(value));
    assert_eq!(optional(&form).await, [None, None, Some(1), Some(0)]);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn lines_that_wait_are_named_and_what_was_typed_stays(pool: Pool) {
    let world = world(&pool, "a@bavrek.example").await;
    let me = Visitor::signed_in(&start(pool.clone()).await, "a@bavrek.example").await;
    let text = "DB curl\nBack squat 5x5\nLateral raise 3x12\nSleep well and often, it matters";
    let page = checked(&me, &world, text).await;
    assert!(page.text.contains("2 lines wait"), "{}", page.text);
    let mut form = fields(&page.text);
    let refused = lay(&me, &world, &form).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("not stated: say how many sets and repetitions"));
    assert!(refused.text.contains("line 4</span> Sleep well"), "what was not read stays in sight");
    assert!(refused.text.contains("no movement is called"));
    form.push(("out-1".into(), "on".into()));
    form.iter_mut().filter(|(name, _)| name == "dose-0").for_each(|(_, value)| "3 x 8, with gusto".clone_into(value));
    let refused = lay(&me, &world, &form).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("with gusto&#34;") && refused.text.contains("value=\"3 x 8, with gusto\""));
    form.iter_mut().filter(|(name, _)| name == "dose-0").for_each(|(_, value)| "3 x 8".clone_into(value));
    let laid = lay(&me, &world, &form).await;
    let id: Uuid = laid.address.strip_prefix("/sessions/").unwrap().parse().unwrap();
    assert_eq!(sessions::blocks(&pool, world.trainer, id).await.unwrap().len(), 2);
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_is_too_much_is_counted_and_nothing_ticked_is_said(pool: Pool) {
    let world = world(&pool, "a@bavrek.example").await;
    let me = Visitor::signed_in(&start(pool.clone()).await, "a@bavrek.example").await;
    let days = (1..=16).map(|n| format!("Day {n}\nCurl 3x10\n\n")).collect::<Vec<_>>().concat();
    let page = checked(&me, &world, &days).await;
    assert!(page.text.contains("2 more movements were not read"), "{}", page.text);
    let page = checked(&me, &world, "Curl 3x10 + Band pushdown 3x12").await;
    let mut form = fields(&page.text);
    let parts: Vec<_> = form.iter().filter(|(name, _)| name.starts_with("part-")).map(|(_, v)| v.clone()).collect();
    assert_eq!(parts, ["0", "1"]);
    form.retain(|(name, _)| !name.starts_with("take-"));
    let refused = lay(&me, &world, &form).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("Nothing is ticked to be laid"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_load_that_was_written_is_taken_only_where_it_can_be_asked(pool: Pool) {
    let world = world(&pool, "a@bavrek.example").await;
    let me = Visitor::signed_in(&start(pool.clone()).await, "a@bavrek.example").await;
    let page = checked(&me, &world, "DB curl 3x10 99 kg").await;
    assert!(page.text.contains("99 kg was written and is not here"), "{}", page.text);
    let page = checked(&me, &world, "DB curl 3x10 80%").await;
    assert!(page.text.contains("80 % of the maximum was written; it starts by what is known of strength"));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn what_cannot_be_read_is_said_and_strangers_find_nothing(pool: Pool) {
    let world = world(&pool, "a@bavrek.example").await;
    let address = start(pool.clone()).await;
    let me = Visitor::signed_in(&address, "a@bavrek.example").await;
    for (text, said) in [
        ("", "paste or type a plan"),
        ("Once upon a time", "no line of it reads as a movement"),
        ("{\"sessions\": []}", "holds no movement"),
    ] {
        let page = checked(&me, &world, text).await;
        assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY, "{text}");
        assert!(page.text.contains(said) && page.text.contains("Once upon") == text.contains("Once upon"), "{text}");
    }
    let page = checked(&me, &world, &"la la ".repeat(40_000)).await;
    assert_eq!(page.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.text.contains("at most 60000 are read"));
    let other = crate::common::world(&pool, "b@bavrek.example").await;
    let them = Visitor::signed_in(&address, "b@bavrek.example").await;
    assert_eq!(checked(&them, &world, PLAN).await.status, StatusCode::NOT_FOUND);
    let place = [("text", PLAN), ("place", &world.place.to_string() as &str)];
    let foreign = them.post(&format!("/clients/{}/read", other.client), &place).await;
    assert_eq!(foreign.status, StatusCode::UNPROCESSABLE_ENTITY);
    let mut form = fields(&checked(&me, &world, PLAN).await.text);
    form.iter_mut().filter(|(name, _)| name == "place").for_each(|(_, value)| *value = other.place.to_string());
    assert_eq!(lay(&me, &world, &form).await.status, StatusCode::NOT_FOUND);
}
