//! What was sent to clients and to the trainer, as it was sent: a stand-in for e-mail and text messages.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::response::Redirect;
use axum::routing::get;
use bavrek_core::contact::Contact;
use bavrek_store::TrainerId;
use bavrek_store::outbox::{self, Kind, Message};
use chrono::{DateTime, NaiveDate, Utc};
use uuid::Uuid;

use super::dates::moment_utc;
use crate::chrome::Chrome;
use crate::delivery;
use crate::error::WebError;
use crate::extract::{Ids, Me, Mine};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/outbox", get(show)).route("/outbox/{message}/again", get(back).post(again))
}

#[derive(Template, WebTemplate)]
#[template(path = "outbox/page.html")]
struct Page {
    chrome: Chrome,
    messages: Vec<MessageView>,
    /// By which ways messages are delivered; empty where by none.
    ways: &'static str,
}

struct MessageView {
    /// The client; none where it is for the trainer.
    client: Option<(Uuid, String)>,
    recipient: String,
    /// Whether it went as a text message.
    is_text: bool,
    subject: String,
    body: String,
    written: String,
    /// What became of it.
    became: String,
    /// Whether it can be tried again.
    again: Option<Uuid>,
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

/// Sends a message under an identifier: keeps it and delivers it by the ways that are set up, at once where that works, else
/// later. Sent twice, it is kept and delivered once.
pub(super) async fn post(app: &App, trainer: TrainerId, id: Uuid, letter: Letter<'_>) -> Result<(), WebError> {
    let now = app.clock.now();
    let leaves = app.outbox.leaves();
    let message = Message {
        id,
        client_id: letter.client,
        recipient: letter.recipient.to_owned(),
        subject: letter.subject.to_owned(),
        body: letter.shown,
        kind: letter.kind,
        pictures: letter.pictures,
        written_at: now,
        delivered_at: None,
        attempts: 0,
        next_try_at: leaves.then_some(now),
        trouble: String::new(),
    };
    let whole = leaves.then_some(letter.whole.as_str());
    if outbox::add(&app.pool, trainer, &message, whole).await? && leaves {
        delivery::deliver_due(app, Some(id)).await;
    }
    Ok(())
}

/// Tries a letter again now.
async fn again(Mine(app): Mine, Me(trainer): Me, Ids(message): Ids) -> Result<Redirect, WebError> {
    outbox::again(&app.pool, trainer, message, app.clock.now()).await?;
    delivery::deliver_due(&app, Some(message)).await;
    Ok(Redirect::to("/outbox"))
}

/// Characters of a secret that are told, so that two can be told apart.
const TOLD: usize = 6;

/// What a letter says, with only the end of what opens something.
pub(super) fn masked(text: &str, secret: &str) -> String {
    let end = secret.get(secret.len().saturating_sub(TOLD)..).unwrap_or_default();
    if secret.is_empty() { text.to_owned() } else { text.replace(secret, &format!("…{end}")) }
}

/// What became of a message, in words.
fn became(message: &Message, today: NaiveDate) -> String {
    let moment = |at: DateTime<Utc>| moment_utc(at, today);
    match (message.delivered_at, message.next_try_at) {
        (Some(at), _) => format!("delivered {}", moment(at)),
        (None, Some(_)) if message.trouble.is_empty() => "on its way".into(),
        (None, Some(at)) => format!("not delivered yet, {}; tried again {}", message.trouble, moment(at)),
        (None, None) if message.trouble.is_empty() => String::new(),
        (None, None) => format!("not delivered, {}; nobody tries any more", message.trouble),
    }
}

async fn back() -> Redirect {
    Redirect::to("/outbox")
}

async fn show(Mine(app): Mine, Me(trainer): Me, chrome: Chrome) -> Result<Page, WebError> {
    let today = app.clock.now().date_naive();
    let view = |(name, message): (Option<String>, outbox::Message)| MessageView {
        became: became(&message, today),
        again: (message.delivered_at.is_none() && !message.trouble.is_empty()).then_some(message.id),
        client: message.client_id.zip(name),
        is_text: Contact::is_number(&message.recipient),
        recipient: message.recipient,
        subject: message.subject,
        body: message.body,
        written: moment_utc(message.written_at, today),
        pictures: message.pictures,
    };
    Ok(Page {
        messages: outbox::all(&app.pool, trainer).await?.into_iter().map(view).collect(),
        ways: app.outbox.ways(),
        chrome: chrome.titled("Outbox"),
    })
}

#[cfg(test)]
mod tests {
    use super::masked;

    #[test]
    fn a_link_is_told_by_its_end() {
        let told = masked("at http://host/go/0123456789abcdef, yours", "0123456789abcdef");
        assert_eq!(told, "at http://host/go/…abcdef, yours");
        assert_eq!(masked("nothing opens", ""), "nothing opens");
    }
}
