//! The re-fit: a plan at another place, or at the same one after its kit or a limit has changed. Slot by slot, what
//! changes and what is kept; intents stay, and so do the fits of the place that is left.

mod plan;
mod views;

use axum::Router;
use axum::extract::Query;
use axum::response::Redirect;
use axum::routing::{get, post};
use bavrek_store::fits::{self, NewFit};
use serde::Deserialize;
use uuid::Uuid;

use self::plan::{Move, choice};
use self::views::Page;
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/clients/{client}/refit", get(show).post(take)).route("/slots/{slot}/pin", post(pin))
}

#[derive(Debug, Clone, Deserialize)]
struct Asked {
    /// The place that is left.
    from: Uuid,
    /// Where to; the same place to look over what changed there.
    to: Uuid,
    /// One session; all of the place without it.
    session: Option<Uuid>,
}

async fn show(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(client): Ids,
    Query(asked): Query<Asked>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let mut plan = Move::load(&app, trainer, client, asked.from, asked.to, asked.session).await?;
    let chrome = plan.scene.frame(chrome);
    Ok(Page::new(chrome, &app, &plan))
}

/// Moves the sessions and takes what was chosen; every fit is computed again, so that only what works there is taken.
async fn take(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let (from, to) = (fields.id("from")?, fields.id("to")?);
    let session = if fields.text("session").is_empty() { None } else { Some(fields.id("session")?) };
    let plan = Move::load(&app, trainer, client, from, to, session).await?;
    if plan.scene.place_head.is_proposal() {
        return Err(WebError::bad("to", "is only thought about: keep it as a place first"));
    }
    let answers = plan.answers(&app);
    let mut takes = Vec::new();
    for (slot, there) in plan.slots().zip(&answers) {
        let wanted = fields.text(&choice(slot.slot.id));
        if wanted.is_empty() || fields.text("none") == "1" || slot.kept(there, wanted).is_some() {
            continue;
        }
        let candidate = there.candidates.iter().find(|c| c.movement.id == wanted).ok_or_else(|| {
            WebError::bad("take", "one of the movements does not work there any more; look at the re-fit again")
        })?;
        takes.push(NewFit {
            slot_id: slot.slot.id,
            place_id: to,
            exercise: &candidate.movement.id,
            step: candidate.step(),
            prescription: &candidate.prescription,
            pinned: slot.today.as_ref().is_some_and(|f| f.pinned && f.exercise == candidate.movement.id),
        });
    }
    let sessions: Vec<Uuid> = plan.sessions.iter().map(|s| s.head.id).collect();
    fits::refit(&app.pool, trainer, client, &sessions, [from, to], &takes).await?;
    Ok(Redirect::to(&match sessions.as_slice() {
        [only] => format!("/sessions/{only}"),
        _ => format!("/clients/{client}?place={to}"),
    }))
}

/// Pins the fit of a slot, or lets it go.
async fn pin(Mine(app): Mine, Me(trainer): Me, Ids(slot): Ids, fields: Fields) -> Result<Redirect, WebError> {
    let placed = bavrek_store::slots::one(&app.pool, trainer, slot).await?;
    let head = &placed.session;
    fits::set_pinned(&app.pool, trainer, slot, head.place_id, fields.text("pinned") == "1").await?;
    Ok(Redirect::to(&format!("/sessions/{}?pick={slot}#slot-{slot}", head.id)))
}
