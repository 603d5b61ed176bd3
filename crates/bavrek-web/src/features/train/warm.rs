//! What goes before the first set and after the last one, on the phone.

use std::sync::Arc;

use askama::Template;
use askama_web::WebTemplate;
use bavrek_core::ladder::Ladder;
use bavrek_core::movement::Movement;
use bavrek_core::warm_up::{Ahead, WarmUp, drill};
use bavrek_store::TrainerId;
use uuid::Uuid;

use super::floor::{Floor, Post};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Ids, Me, Mine};
use crate::features::scene::capital;
use crate::state::App;

#[derive(Template, WebTemplate)]
#[template(path = "train/warm_up.html")]
pub(super) struct Page {
    chrome: Chrome,
    session: (Uuid, String),
    client: String,
    /// Seconds until warm.
    general: u32,
    minutes: String,
    drills: Vec<(String, &'static str)>,
    /// Sets on the way up to the first movement.
    ramp: Vec<String>,
    first: Option<String>,
}

/// The warm-up of a session as it is done today.
pub(super) fn of(app: &App, floor: &Floor) -> WarmUp<Uuid> {
    let stations: Vec<(&Post, &Movement, Arc<Ladder>)> = floor
        .posts
        .iter()
        .filter_map(|post| {
            let movement = app.catalogue.movement(&post.fit.exercise)?;
            Some((post, movement, floor.scene.ladder(app, movement, &post.slot.intent)))
        })
        .collect();
    let ahead: Vec<Ahead<'_, Uuid>> = stations
        .iter()
        .map(|(post, movement, ladder)| Ahead {
            key: post.slot.id,
            movement,
            ladder,
            step: &post.fit.step,
            dose: &post.fit.prescription,
        })
        .collect();
    WarmUp::of(&floor.scene.person, &ahead)
}

/// Sets on the way up to a slot: `8 × pair of 6 kg`.
pub(super) fn ramp(warm_up: &WarmUp<Uuid>, slot: Uuid) -> Vec<String> {
    let own = warm_up.ramps.iter().filter(|r| r.key == slot);
    own.map(|r| format!("{} × {}", r.reps, r.step.label)).collect()
}

/// Joints to be moved before the work, each with how.
pub(super) fn drills(warm_up: &WarmUp<Uuid>) -> Vec<(String, &'static str)> {
    warm_up.joints.iter().map(|joint| (capital(joint.label()), drill(*joint))).collect()
}

pub(super) async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    chrome: Chrome,
) -> Result<Page, WebError> {
    page(&app, trainer, session, chrome).await
}

async fn page(app: &App, trainer: TrainerId, session: Uuid, chrome: Chrome) -> Result<Page, WebError> {
    let mut floor = Floor::load(app, trainer, session).await?;
    let chrome = floor.scene.frame(chrome);
    let warm_up = of(app, &floor);
    let first = floor.next().and_then(|turn| floor.post(turn.key));
    let name = |post: &Post| app.catalogue.movement(&post.fit.exercise).map(|m| m.name.clone());
    let seconds = warm_up.general.value();
    Ok(Page {
        session: (floor.session.id, floor.session.name.clone()),
        client: floor.scene.client.name.clone(),
        general: seconds.round() as u32,
        minutes: format!("{:.0}", seconds / 60.0),
        drills: drills(&warm_up),
        ramp: first.map_or_else(Vec::new, |post| ramp(&warm_up, post.slot.id)),
        first: first.and_then(name),
        chrome: chrome.titled(format!("{}: warm-up", floor.session.name)),
    })
}
