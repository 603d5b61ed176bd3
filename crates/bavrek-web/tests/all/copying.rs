//! Sessions copied to another client: fitted anew, eased, and never to a stranger's.

use crate::common::{Page, Visitor, World, desk};
use bavrek_core::kit::KitItem;
use bavrek_core::person::Experience;
use bavrek_core::units::{Kilograms, Metres};
use bavrek_store::clients::{self, Client};
use bavrek_store::{Pool, TrainerId, fits, kit, new_id, places, sessions};
use reqwest::StatusCode;
use uuid::Uuid;

/// Another client of the trainer with a room of their own.
async fn novice(pool: &Pool, trainer: TrainerId, kit_text: &str) -> (Uuid, Uuid) {
    let client = Client::new("Novice Oddly", Kilograms(60.0), Metres(1.65), Experience::Novice);
    let client = clients::add(pool, trainer, &client, crate::common::now().date_naive()).await.unwrap();
    let place = new_id();
    places::add(pool, trainer, client, place, "Attic", None).await.unwrap();
    let item: KitItem = serde_json::from_str(kit_text).unwrap();
    kit::add(pool, trainer, place, new_id(), &item).await.unwrap();
    (client, place)
}

async fn copy(me: &Visitor, world: &World, to: Uuid, id: Uuid, on: &str) -> Page {
    let (to, id) = (to.to_string(), id.to_string());
    let form = [("to", to.as_str()), ("id", &id), ("name", "Copied"), ("on", on), ("q", "odd")];
    me.post(&format!("/sessions/{}/copy", world.session), &form).await
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn a_copy_is_fitted_to_who_gets_it(pool: Pool) {
    let (world, me) = desk(&pool).await;
    me.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let dose = [("seen", "0"), ("slot", &world.slot.to_string() as &str), ("line", "3 x 8-12, to failure, rest 60 s")];
    me.post(&format!("/sessions/{}/board/dose", world.session), &dose).await;
    let bands = r#"{"kind":"loop_band","count":2,"flat_length_m":1.04,"width_m":0.013,"thickness_m":0.0045}"#;
    let (client, attic) = novice(&pool, world.trainer, bands).await;
    let address = format!("/sessions/{}/copy", world.session);
    assert!(me.get(&address).await.text.contains("<b>Room</b>"), "the client's own places stand first");
    assert!(me.get(&format!("{address}?q=oddly")).await.text.contains("Novice Oddly, <b>Attic</b>"));
    let shown = me.get(&format!("{address}?q=oddly&to={attic}")).await;
    assert!(shown.text.contains("eased for a novice") && shown.text.contains("Standing dumbbell curl"));
    assert_eq!(sessions::of_client(&pool, world.trainer, client).await.unwrap().len(), 0);
    let id = new_id();
    for _ in 0..2 {
        let made = copy(&me, &world, attic, id, "2026-03-20").await;
        assert_eq!((made.status, made.address), (StatusCode::OK, format!("/sessions/{id}")));
    }
    assert_eq!(sessions::of_client(&pool, world.trainer, client).await.unwrap().len(), 1);
    let slot = sessions::blocks(&pool, world.trainer, id).await.unwrap()[0].slots[0].clone();
    assert_eq!((slot.intent.dose.rir, slot.intent.dose.reps, slot.intent.dose.sets), (2, [8, 12], 3));
    let fit = fits::of_slot(&pool, world.trainer, slot.id, attic).await.unwrap().unwrap();
    assert!(fit.step.load.is_none() && !fit.step.bands.is_empty(), "there is no dumbbell: {}", fit.step.label);
    assert!(fit.prescription.sets.iter().all(|s| s.rir == Some(2)));
    // What was copied stays as it was.
    let own = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    assert_eq!((own.exercise.as_str(), own.prescription.sets[0].rir), ("dumbbell_curl", Some(0)));
}

#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn wrong_days_are_named_and_strangers_places_are_not_found(pool: Pool) {
    let (world, me) = desk(&pool).await;
    let refused = copy(&me, &world, world.place, new_id(), "soon").await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("&#34;soon&#34; is no day") && refused.text.contains("value=\"Copied\""));
    let other = crate::common::world(&pool, "b@bavrek.example").await;
    assert_eq!(copy(&me, &world, other.place, new_id(), "2026-03-20").await.status, StatusCode::NOT_FOUND);
    let list = me.get(&format!("/sessions/{}/copy?q=b@bavrek", world.session)).await;
    assert_eq!(list.status, StatusCode::OK);
    assert!(list.text.contains("Nobody of that name has a place"));
    let own = copy(&me, &world, world.place, new_id(), "2026-03-20").await;
    assert_eq!(own.status, StatusCode::OK);
    assert_eq!(sessions::of_client(&pool, world.trainer, world.client).await.unwrap().len(), 2);
}

/// At the same place a client's own session goes along with its steps and the doses in force.
#[sqlx::test(migrations = "../bavrek-store/migrations")]
async fn ones_own_copy_keeps_step_and_dose(pool: Pool) {
    let (world, me) = desk(&pool).await;
    me.post(&format!("/slots/{}/fit", world.slot), &[("exercise", "dumbbell_curl")]).await;
    let fit = fits::of_slot(&pool, world.trainer, world.slot, world.place).await.unwrap().unwrap();
    // As after a call that was taken: another step and another zone than the slot asks.
    let movement = bavrek_catalogue::load().unwrap();
    let curl = movement.movement("dumbbell_curl").unwrap();
    let item =
        kit::pieces(&pool, world.trainer, world.place).await.unwrap().into_iter().map(|p| p.item).collect::<Vec<_>>();
    let ladder = bavrek_core::ladder::Ladder::of(curl, &bavrek_core::person::Person::default_figure(), &item);
    let step = ladder.steps.iter().rev().find(|s| s.bands.is_empty() && s.label != fit.step.label).unwrap();
    let mut prescription = fit.prescription.loaded(step.load);
    prescription.sets.iter_mut().for_each(|set| set.reps = Some([14, 21]));
    let new = fits::NewFit {
        slot_id: world.slot,
        place_id: world.place,
        exercise: "dumbbell_curl",
        step,
        prescription: &prescription,
        pinned: false,
    };
    fits::take(&pool, world.trainer, &new).await.unwrap();
    let id = new_id();
    assert_eq!(copy(&me, &world, world.place, id, "2026-03-20").await.status, StatusCode::OK);
    let slot = sessions::blocks(&pool, world.trainer, id).await.unwrap()[0].slots[0].clone();
    let copied = fits::of_slot(&pool, world.trainer, slot.id, world.place).await.unwrap().unwrap();
    assert_eq!((&copied.step.label, copied.step.load, &copied.prescription), (&step.label, step.load, &prescription));
    assert_eq!(slot.intent.dose.reps, [14, 21]);
}
