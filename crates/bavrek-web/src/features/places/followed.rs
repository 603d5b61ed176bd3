//! What follows from a change of a band: the lines that are done with it, and their loads.

use bavrek_store::{TrainerId, fits};
use uuid::Uuid;

use super::Desk;
use crate::error::WebError;
use crate::features::rooms::Rooms;
use crate::state::App;

/// A band that was just changed, and what that does to what is done with it here.
pub(super) struct Followed {
    /// What it is now.
    pub(super) band: String,
    /// Each movement on its step, with the load that it has now and had.
    pub(super) lines: Vec<String>,
}

/// What follows from a piece that was just changed; none where it is no band, or no line here is done with it.
pub(super) async fn followed(
    app: &App,
    trainer: TrainerId,
    desk: &Desk,
    changed: Option<Uuid>,
) -> Result<Option<Followed>, WebError> {
    let piece = changed.and_then(|id| desk.piece(id)).filter(|piece| piece.item.is_band());
    let (Some(piece), Some(place)) = (piece, &desk.place) else { return Ok(None) };
    let band = piece.clone().into_item().named();
    let fits = fits::at_place(&app.pool, trainer, place.id).await?;
    let rooms = Rooms::of(app, trainer, &[place.id]).await?;
    let mut lines: Vec<String> = Vec::new();
    for was in fits {
        let Some(movement) = app.catalogue.movement(&was.exercise) else { continue };
        let now = rooms.now(app, &desk.who.person, was.clone());
        if !now.step.bands.iter().any(|own| own.is(&band)) {
            continue;
        }
        let [then, load] = [&was, &now].map(|fit| format!("{:.1}", fit.step.effective_kg.two_figures()));
        let was = if then == load { "as before".to_owned() } else { format!("{then} before") };
        let line = format!("{}: {}, {load} effective, {was}", movement.name, now.step.label);
        if !lines.contains(&line) {
            lines.push(line);
        }
    }
    lines.sort_unstable();
    Ok((!lines.is_empty()).then_some(Followed { band: band.name, lines }))
}
