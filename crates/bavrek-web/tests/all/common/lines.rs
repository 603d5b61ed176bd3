//! Lines of a session with what does them, and what was logged of them.

use bavrek_core::dose::Prescription;
use bavrek_core::log::LoggedSet;
use bavrek_store::fits::{self, NewFit};
use bavrek_store::slots::{self, Joining};
use bavrek_store::{Pool, clients, log, new_id};
use uuid::Uuid;

use super::{Page, Visitor, World, now, with};

/// One more slot, beside the first or alone, with a movement and a dose in a line.
pub(crate) async fn slot(pool: &Pool, world: &World, exercise: &str, line: &str, joining: Joining) -> Uuid {
    let id = new_id();
    let first = slots::one(pool, world.trainer, world.slot).await.unwrap().slot.intent;
    slots::add(pool, world.trainer, world.session, id, &first, joining).await.unwrap();
    take(pool, world, id, exercise, line).await;
    id
}

/// A dose as it is written.
pub(crate) fn dose(line: &str) -> Prescription {
    use bavrek_core::dose::Tempo;
    use bavrek_core::dose::notation::{Usual, read};
    read(line).unwrap().filled(Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 })
}

/// Takes a movement for a slot on the lightest step of the room, dosed as the line says.
pub(crate) async fn take(pool: &Pool, world: &World, slot: Uuid, exercise: &str, line: &str) -> Uuid {
    let catalogue = bavrek_catalogue::load().unwrap();
    let movement = catalogue.movement(exercise).unwrap();
    let head = bavrek_store::places::one(pool, world.trainer, world.place).await.unwrap();
    let kit = bavrek_store::kit::place(&mut bavrek_store::connection(pool).await.unwrap(), world.trainer, &head)
        .await
        .unwrap()
        .kit;
    let client = clients::one(pool, world.trainer, world.client).await.unwrap();
    let ladder = bavrek_core::ladder::Ladder::of(movement, &client.person(&[], now().date_naive()), &kit);
    let step = ladder.steps.iter().find(|s| s.load.is_some()).or_else(|| ladder.steps.first()).unwrap();
    let prescription = dose(line);
    let new =
        NewFit { slot_id: slot, place_id: world.place, exercise, step, prescription: &prescription, pinned: false };
    fits::take(pool, world.trainer, &new).await.unwrap()
}

/// What stands in the log.
pub(crate) async fn logged(pool: &Pool, world: &World) -> Vec<LoggedSet> {
    let all = log::of_client(pool, world.trainer, world.client, now().date_naive()).await.unwrap();
    all.into_iter().map(|r| r.set).collect()
}

/// The page's own form with these fields typed, sent.
pub(crate) async fn log_as_shown(visitor: &Visitor, world: &World, typed: &[(&str, &str)]) -> Page {
    let path = format!("/sessions/{}/train", world.session);
    let page = visitor.get(&path).await;
    let names = ["id", "slot", "shown", "turn"];
    let hidden: Vec<(&str, String)> = names.iter().map(|n| (*n, page.hidden(n))).collect();
    let hidden: Vec<(&str, &str)> = hidden.iter().map(|(n, v)| (*n, v.as_str())).collect();
    visitor.post(&path, &with(&hidden, typed)).await
}

pub(crate) fn now_shows(page: &Page, what: &str) {
    let main = page.text.split("<main").nth(1).unwrap_or(&page.text);
    assert!(page.text.contains(what), "{what} is not in {main}");
}
