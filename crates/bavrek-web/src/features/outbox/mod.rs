//! What was sent to clients and to the trainer, as it was sent: a stand-in for e-mail and text messages.

use std::path::Path;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::routing::get;
use bavrek_store::TrainerId;
use bavrek_store::outbox::{self, Kind, Message};
use uuid::Uuid;

use super::roster::day;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Me, Mine};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/outbox", get(show))
}

#[derive(Template, WebTemplate)]
#[template(path = "outbox/page.html")]
struct Page {
    chrome: Chrome,
    messages: Vec<MessageView>,
    /// Whether messages are delivered to a folder.
    delivers: bool,
}

struct MessageView {
    /// The client; none where it is for the trainer.
    client: Option<(Uuid, String)>,
    recipient: String,
    subject: String,
    body: String,
    written: String,
    delivered: bool,
    pictures: Vec<String>,
}

/// A message to a client, or to the trainer.
pub(super) struct Letter<'a> {
    /// The client; none where it is for the trainer.
    pub(super) client: Option<Uuid>,
    /// The address; empty where none is known.
    pub(super) recipient: &'a str,
    pub(super) kind: Kind,
    pub(super) subject: &'a str,
    /// As it is delivered.
    pub(super) whole: String,
    /// As it is kept and shown.
    pub(super) shown: String,
    pub(super) pictures: Vec<String>,
}

/// Sends a message under an identifier: delivers it whole to the folder, where there is one, and keeps it. Sent twice, it is
/// kept once.
pub(super) async fn post(app: &App, trainer: TrainerId, id: Uuid, letter: Letter<'_>) -> Result<(), WebError> {
    let now = app.clock.now();
    let delivered = match &app.outbox {
        Some(folder) => deliver(folder, id, &letter).await.is_ok(),
        None => false,
    };
    let message = Message {
        id,
        client_id: letter.client,
        recipient: letter.recipient.to_owned(),
        subject: letter.subject.to_owned(),
        body: letter.shown,
        kind: letter.kind,
        pictures: letter.pictures,
        written_at: now,
        delivered_at: delivered.then_some(now),
    };
    outbox::add(&app.pool, trainer, &message).await?;
    Ok(())
}

async fn deliver(folder: &Path, id: Uuid, letter: &Letter<'_>) -> std::io::Result<()> {
    tokio::fs::create_dir_all(folder).await?;
    for (i, picture) in letter.pictures.iter().enumerate() {
        tokio::fs::write(folder.join(format!("{id}-{}.svg", i + 1)), picture).await?;
    }
    let mail = format!("To: {}\nSubject: {}\n\n{}", letter.recipient, letter.subject, letter.whole);
    tokio::fs::write(folder.join(format!("{id}.txt")), mail).await
}

async fn show(Mine(app): Mine, Me(trainer): Me, chrome: Chrome) -> Result<Page, WebError> {
    let today = app.clock.now().date_naive();
    let view = |(name, message): (Option<String>, outbox::Message)| MessageView {
        client: message.client_id.zip(name),
        recipient: message.recipient,
        subject: message.subject,
        body: message.body,
        written: format!("{}, {} UTC", day(message.written_at.date_naive(), today), message.written_at.format("%H:%M")),
        delivered: message.delivered_at.is_some(),
        pictures: message.pictures,
    };
    Ok(Page {
        messages: outbox::all(&app.pool, trainer).await?.into_iter().map(view).collect(),
        delivers: app.outbox.is_some(),
        chrome: chrome.titled("Outbox"),
    })
}
