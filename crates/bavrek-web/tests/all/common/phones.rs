//! A client's phone as tests hold it: a link, a pack, and what it says.

use crate::common::lines::take;
use crate::common::{Page, Visitor, World, desk, now, start};
use bavrek_store::{Pool, new_id};
use chrono::{DateTime, Duration, Utc};
use reqwest::StatusCode;
use serde_json::{Value, json};
use uuid::Uuid;

/// A phone with a link.
pub(crate) struct Phone {
    pub(crate) base: String,
    pub(crate) visitor: Visitor,
    pub(crate) link: String,
    pub(crate) session: Uuid,
    /// By how much its clock is ahead.
    pub(crate) ahead: Duration,
}

impl Phone {
    /// The phone to which the trainer's new link was sent.
    pub(crate) async fn of(base: &str, trainer: &Visitor, world: &World) -> Self {
        let link = make_link(trainer, world, &[]).await;
        Self {
            base: base.to_owned(),
            visitor: Visitor::new(base),
            link,
            session: world.session,
            ahead: Duration::zero(),
        }
    }

    pub(crate) async fn get(&self, part: &str) -> Page {
        self.visitor.get(&format!("/go/{}/{}/{part}", self.link, self.session)).await
    }

    pub(crate) async fn pack(&self) -> Value {
        let page = self.get("pack").await;
        assert_eq!(page.status, StatusCode::OK, "{}", page.text);
        serde_json::from_str(&page.text).unwrap()
    }

    /// One thing said, done at a moment, under an identifier.
    pub(crate) fn entry(&self, id: Uuid, at: DateTime<Utc>, said: &Value) -> Value {
        json!({ "id": id, "session": self.session, "at": at + self.ahead, "said": said })
    }

    pub(crate) async fn send(&self, entries: &[Value]) -> Vec<(String, String)> {
        let body = json!({ "now": now() + self.ahead, "entries": entries });
        let page = self.visitor.post_json(&format!("/go/{}/entries", self.link), &body.to_string()).await;
        assert_eq!(page.status, StatusCode::OK, "{}", page.text);
        let answers: Value = serde_json::from_str(&page.text).unwrap();
        let text = |v: &Value| v.as_str().unwrap().to_owned();
        answers["answers"].as_array().unwrap().iter().map(|a| (text(&a["state"]), text(&a["why"]))).collect()
    }

    /// The same of one thing said now.
    pub(crate) async fn say(&self, said: &Value) -> (Uuid, (String, String)) {
        let id = new_id();
        let answer = self.send(&[self.entry(id, now(), said)]).await.remove(0);
        (id, answer)
    }
}

/// The link that stands on the trainer's page this once.
pub(crate) async fn make_link(trainer: &Visitor, world: &World, fields: &[(&str, &str)]) -> String {
    let path = format!("/clients/{}/phone", world.client);
    let id = trainer.get(&path).await.hidden("id");
    let page = trainer.post(&path, &[&[("id", id.as_str())], fields].concat()).await;
    assert_eq!(page.status, StatusCode::OK, "{}", page.text);
    page.text.split("/go/").nth(1).unwrap().split('"').next().unwrap().to_owned()
}

/// A set of a slot with what was tapped.
pub(crate) fn set(pack: &Value, slot: Uuid, turn: usize, fields: &[(&str, &str)]) -> Value {
    let stations = pack["stations"].as_array().unwrap();
    let station = stations.iter().find(|s| s["slot"] == json!(slot));
    let exercise = station.map_or(&Value::Null, |s| &s["choices"][0]["exercise"]).as_str().unwrap_or("push_up");
    json!({ "kind": "set", "given": pack["given"], "slot": slot, "choice": 0, "exercise": exercise, "rung": 0, "turn": turn,
            "fields": fields, "supersedes": null })
}

pub(crate) fn taken() -> (String, String) {
    ("taken".into(), String::new())
}

/// A trainer's world with a curl in it, the trainer, and the client's phone.
pub(crate) async fn at_work(pool: &Pool, dose: &str) -> (World, Visitor, Phone) {
    let (world, _) = desk(pool).await;
    take(pool, &world, world.slot, "dumbbell_curl", dose).await;
    let base = start(pool.clone()).await;
    let trainer = Visitor::signed_in(&base, crate::common::DESK).await;
    let phone = Phone::of(&base, &trainer, &world).await;
    (world, trainer, phone)
}
