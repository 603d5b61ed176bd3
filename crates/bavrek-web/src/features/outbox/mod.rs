//! What was sent to clients, as it was sent: a stand-in for e-mail and text messages.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::routing::get;
use bavrek_store::outbox;
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
    client: (Uuid, String),
    recipient: String,
    subject: String,
    body: String,
    written: String,
    delivered: bool,
}

async fn show(Mine(app): Mine, Me(trainer): Me, chrome: Chrome) -> Result<Page, WebError> {
    let today = app.clock.now().date_naive();
    let view = |(name, message): (String, outbox::Message)| MessageView {
        client: (message.client_id, name),
        recipient: message.recipient,
        subject: message.subject,
        body: message.body,
        written: format!("{}, {} UTC", day(message.written_at.date_naive(), today), message.written_at.format("%H:%M")),
        delivered: message.delivered_at.is_some(),
    };
    Ok(Page {
        messages: outbox::all(&app.pool, trainer).await?.into_iter().map(view).collect(),
        delivers: app.outbox.is_some(),
        chrome: chrome.titled("Outbox"),
    })
}
