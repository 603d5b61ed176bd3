//! A band that is renamed or measured anew stays the band that lines are done with: they follow it at once, and say so.

use crate::common::lines::{log_as_shown, logged, take};
use crate::common::{Page, Visitor, World, desk};
use bavrek_core::kit::KitItem;
use bavrek_store::{Pool, fits, kit, new_id};
use reqwest::StatusCode;
use uuid::Uuid;

const LOOP: &str = r#"{"kind":"loop_band","count":1,"flat_length_m":1.04,"width_m":0.022,"thickness_m":0.0045}"#;

/// A desk whose slot is done with the band of the room.
async fn banded(pool: &Pool) -> (World, Visitor, Uuid) {
    let (world, me) = desk(pool).await;
    let pieces = kit::pieces(pool, world.trainer, world.place).await.unwrap();
    let band = pieces.iter().find(|piece| piece.item.is_band()).unwrap();
    assert_eq!(band.item.name(), "loop 22 mm");
    take(pool, &world, world.slot, "band_curl", "3 x 8-12, 2 in reserve, rest 60 s").await;
    (world, me, band.id)
}

/// Changes the band in its form.
async fn change(me: &Visitor, world: &World, band: Uuid, [label, thickness]: [&str; 2]) -> (Uuid, Page) {
    let (old, new) = (band.to_string(), new_id());
    let form = [
        ("id", new.to_string()),
        ("replaces", old),
        ("kind", "loop_band".to_owned()),
        ("label", label.to_owned()),
        ("length_m", "1.04".to_owned()),
        ("width_mm", "22".to_owned()),
        ("thickness_mm", thickness.to_owned()),
        ("count", "1".to_owned()),
    ];
    let form: Vec<(&str, &str)> = form.iter().map(|(name, value)| (*name, value.as_str())).collect();
    let page = me.post(&format!("/clients/{}/places/{}/kit", world.client, world.place), &form).await;
    assert_eq!(page.status, StatusCode::OK);
    (new, page)
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_renamed_band_is_the_same_band_on_every_page(pool: Pool) {
    let (world, me, band) = banded(&pool).await;
    log_as_shown(&me, &world, &[("reps", "10"), ("rir", "2")]).await;
    let (band, page) = change(&me, &world, band, ["frayed", "4.5"]).await;
    assert!(page.text.contains("What is done with the frayed loop 22 mm here follows it from now on"));
    assert!(page.text.contains("effective, as before"));
    let session = world.session;
    for address in [
        format!("/sessions/{session}"),
        format!("/sessions/{session}/train"),
        format!("/slots/{}/bench", world.slot),
        format!("/slots/{}/ladder", world.slot),
        format!("/slots/{}/call", world.slot),
        format!("/clients/{}/spares", world.client),
    ] {
        let page = me.get(&address).await;
        assert_eq!(page.status, StatusCode::OK, "{address}");
        assert!(page.text.contains("frayed loop 22 mm"), "{address}");
        assert!(!page.text.contains("no longer") && !page.text.contains("not in this room"), "{address}");
    }
    // Another band under the name that it had is another one.
    let item: KitItem = serde_json::from_str(LOOP).unwrap();
    kit::add(&pool, world.trainer, world.place, new_id(), &item).await.unwrap();
    assert!(me.get(&format!("/sessions/{session}")).await.text.contains("frayed loop 22 mm"));
    let remove = format!("/clients/{}/places/{}/kit/{band}/remove", world.client, world.place);
    assert_eq!(me.post(&remove, &[]).await.status, StatusCode::OK);
    let kept = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    assert_eq!(kept.step.bands[0].name, "loop 22 mm", "what was planned stays on record");
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_band_that_turns_out_stronger_loads_more_from_the_next_set_on(pool: Pool) {
    let (world, me, band) = banded(&pool).await;
    log_as_shown(&me, &world, &[("reps", "10"), ("rir", "2")]).await;
    let (_, page) = change(&me, &world, band, ["", "6"]).await;
    assert!(page.text.contains(" effective, ") && page.text.contains(" before</li>"));
    log_as_shown(&me, &world, &[("reps", "8"), ("rir", "2")]).await;
    let loads: Vec<f64> = logged(&pool, &world).await.iter().map(|s| s.effective_kg.unwrap().value()).collect();
    // Rubber a third thicker pulls a third harder; what was done before is not written anew.
    assert!((loads[1] / loads[0] - 6.0 / 4.5).abs() < 0.02, "{loads:?}");
    let ladder = me.get(&format!("/slots/{}/ladder", world.slot)).await;
    assert!(!ladder.text.contains("is not in this room any more"), "the step stands");
}
