//! Moves on the board: pieces go earlier and later, together and apart; doses change; all of it can be undone.

use std::collections::BTreeMap;

use axum::Router;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::arrangement::{Arrangement, Joined, Move};
use bavrek_core::fit::ruled_out;
use bavrek_core::method::Method;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_store::boards::{self, Change, LaidBlock, LaidSlot, Layout, Step};
use bavrek_store::health::PlanChange;
use bavrek_store::own_schools::Follows;
use bavrek_store::sessions::SessionHead;
use bavrek_store::{TrainerId, connection, fits, new_id, sessions};
use uuid::Uuid;

use super::{Shown, better, page, whole};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::dosing;
use crate::features::scene::Scene;
use crate::features::typed::Typed;
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/sessions/{session}/board", get(back).post(act))
        .route("/sessions/{session}/board/dose", get(back).post(dose))
        .route("/sessions/{session}/board/order", get(back).post(reorder))
        .route("/sessions/{session}/board/step", get(back).post(repair))
        .route("/sessions/{session}/board/turns", get(back).post(turn))
        .route("/sessions/{session}/board/whole", get(back).post(whole::take))
        .route("/sessions/{session}/board/undo", get(back).post(undo))
        .route("/sessions/{session}/board/redo", get(back).post(redo))
}

/// What a button of the board does.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Act {
    Rearrange(Move),
    /// Dropped before another piece, or onto it.
    Before,
    With,
    /// In each other's places.
    Swap,
    More,
    Fewer,
    Copy,
}

impl Act {
    fn read(text: &str) -> Option<Self> {
        Some(match text {
            "earlier" => Self::Rearrange(Move::Earlier),
            "later" => Self::Rearrange(Move::Later),
            "join" => Self::Rearrange(Move::Join),
            "part" => Self::Rearrange(Move::Part),
            "out" => Self::Rearrange(Move::TakeOut),
            "before" => Self::Before,
            "with" => Self::With,
            "swap" => Self::Swap,
            "more" => Self::More,
            "fewer" => Self::Fewer,
            "copy" => Self::Copy,
            kind => Self::Rearrange(Move::Kind(BlockKind::from_id(kind)?)),
        })
    }

    /// Whether it passes while a clearance is missing.
    const fn change(self) -> PlanChange {
        match self {
            Self::Rearrange(Move::TakeOut) | Self::Fewer => PlanChange::Eases,
            _ => PlanChange::Hardens,
        }
    }
}

/// A board as it lies, and the slots by name.
pub(super) struct Board {
    /// Where the session is.
    place: Uuid,
    pub(super) method: Option<Method>,
    pub(super) follows: Option<Follows>,
    pub(super) arrangement: Arrangement<Uuid, Uuid>,
    pub(super) intents: BTreeMap<Uuid, Intent>,
}

impl Board {
    /// `NotFound` for a session that is not this trainer's.
    pub(super) async fn load(app: &App, trainer: TrainerId, session: Uuid) -> Result<Self, WebError> {
        let mut own = connection(&app.pool).await?;
        let head = sessions::head(&mut *own, trainer, session).await?;
        let blocks = sessions::blocks(&mut *own, trainer, session).await?;
        drop(own);
        let mut intents = BTreeMap::new();
        let joined = blocks.into_iter().map(|block| {
            let keys = block.slots.iter().map(|s| s.id).collect();
            intents.extend(block.slots.into_iter().map(|s| (s.id, s.intent)));
            Joined { id: Some(block.id), kind: block.kind, keys }
        });
        Ok(Self {
            place: head.place_id,
            method: head.method,
            follows: head.follows,
            arrangement: Arrangement { blocks: joined.collect() },
            intents,
        })
    }

    pub(super) fn layout(&self) -> Layout {
        let slot = |id: &Uuid| Some(LaidSlot { id: *id, intent: self.intents.get(id)?.clone(), fits: BTreeMap::new() });
        let blocks = self.arrangement.blocks.iter().map(|b| LaidBlock {
            id: b.id.unwrap_or_else(new_id),
            kind: b.kind,
            slots: b.keys.iter().filter_map(slot).collect(),
        });
        Layout { method: self.method, follows: self.follows, blocks: blocks.collect() }
    }
}

/// A form's address that is loaded again shows the board.
async fn back(Ids(session): Ids) -> Redirect {
    Redirect::to(&format!("/sessions/{session}"))
}

/// Back to the board with the piece picked.
pub(super) fn to_board(session: Uuid, slot: Option<Uuid>) -> Response {
    let pick = slot.map_or_else(String::new, |s| format!("?pick={s}"));
    Redirect::to(&format!("/sessions/{session}{pick}")).into_response()
}

/// One move. What changes nothing, such as moving the first piece earlier, leaves all as it is.
async fn act(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids, fields: Fields) -> Result<Response, WebError> {
    let mut board = Board::load(&app, trainer, session).await?;
    let from = board.layout();
    let slot = fields.id("slot")?;
    let act = Act::read(fields.text("act")).ok_or_else(|| WebError::bad("act", "is no move"))?;
    let intent = board.intents.get(&slot).cloned().ok_or(WebError::NotFound)?;
    let (mut picked, mut copied) = (Some(slot), None);
    let changed = match act {
        Act::Rearrange(change) => {
            picked = picked.filter(|_| change != Move::TakeOut);
            board.arrangement.after(slot, change).map(|after| board.arrangement = after)
        }
        Act::Before | Act::With | Act::Swap => {
            let other = fields.id("other")?;
            let laid = &board.arrangement;
            let after = match act {
                Act::Before => laid.before(slot, other),
                Act::Swap => laid.swapped(slot, other),
                _ => laid.with(slot, other),
            };
            after.map(|after| board.arrangement = after)
        }
        Act::More | Act::Fewer => {
            let now = in_force(&app, trainer, board.place, slot, &intent).await?;
            let changed = if act == Act::More { now.one_set_more() } else { now.one_set_fewer() };
            changed.map(|intent| drop(board.intents.insert(slot, intent)))
        }
        Act::Copy => {
            let new = fields.id("id")?;
            // Sent twice it is made once.
            if board.intents.contains_key(&new) {
                None
            } else {
                let (b, _) = board.arrangement.find(slot).ok_or(WebError::NotFound)?;
                let alone = Joined { id: None, kind: BlockKind::Straight, keys: vec![new] };
                board.arrangement.blocks.insert(b + 1, alone);
                board.intents.insert(new, intent.clone());
                (picked, copied) = (Some(new), Some((new, slot)));
                Some(())
            }
        }
    };
    if changed.is_some() {
        let layout = board.layout();
        let change = Change { seen: fields.seen()?, from: &from, kind: act.change(), layout: &layout, copied };
        boards::lay(&app.pool, trainer, session, change).await?;
        if let Some(now) = board.intents.get(&slot) {
            dosing::redose(&app, trainer, (slot, act.change()), (Some(&intent), now)).await?;
        }
        boards::settle(&app.pool, trainer, session).await?;
    }
    Ok(to_board(session, picked))
}

/// The intent of a slot with the dose that is in force here.
async fn in_force(app: &App, trainer: TrainerId, place: Uuid, slot: Uuid, intent: &Intent) -> Result<Intent, WebError> {
    let fit = fits::of_slot(&app.pool, trainer, slot, place).await?;
    Ok(fit.map_or_else(|| intent.clone(), |fit| dosing::in_force(app, &fit, intent)))
}

/// The dose of a piece, written in its line.
async fn dose(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let mut board = Board::load(&app, trainer, session).await?;
    let from = board.layout();
    let slot = fields.id("slot")?;
    let mut typed = Typed::of(&fields);
    let before = board.intents.get(&slot).cloned().ok_or(WebError::NotFound)?;
    let line = typed.value("line").to_owned();
    let Some(dose) = typed.take("line", dosing::read(&app.catalogue, &line)) else {
        let shown = Shown { pick: Some(slot), ..Shown::default() };
        let page = page(&app, trainer, session, shown, chrome, typed).await?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    };
    let now = before.clone().dosed(dose);
    if now != before {
        board.intents.insert(slot, now.clone());
        let layout = board.layout();
        let kind = PlanChange::Hardens;
        let change = Change { seen: fields.seen()?, from: &from, kind, layout: &layout, copied: None };
        boards::lay(&app.pool, trainer, session, change).await?;
        dosing::redose(&app, trainer, (slot, PlanChange::Hardens), (Some(&before), &now)).await?;
        boards::settle(&app.pool, trainer, session).await?;
    }
    Ok(to_board(session, Some(slot)))
}

/// Lays the blocks in the order in which least is set up anew.
async fn reorder(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids, fields: Fields) -> Result<Response, WebError> {
    let order = better::order(&super::table::Table::load(&app, trainer, session).await?);
    // What was offered may rest on steps that have changed since.
    let order = order.filter(|order| *order == wanted_order(&fields)).ok_or(WebError::ChangedMeanwhile)?;
    lie(&app, trainer, session, &fields, |laid| laid.reordered(&order)).await?;
    Ok(to_board(session, fields.text("slot").parse().ok()))
}

/// Lays the stations of a circuit in the order in which least is changed over.
async fn turn(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids, fields: Fields) -> Result<Response, WebError> {
    let slot = fields.id("slot")?;
    let table = super::table::Table::load(&app, trainer, session).await?;
    let (block, _) = table.find(slot).ok_or(WebError::NotFound)?;
    if table.scene.stopped {
        return Err(WebError::ClearanceNeeded);
    }
    let turns = better::turns(&table, block).filter(|turns| turns.stations == wanted_order(&fields));
    let order = turns.ok_or(WebError::ChangedMeanwhile)?.stations;
    lie(&app, trainer, session, &fields, |laid| laid.turned(laid.find(slot)?.0, &order)).await?;
    Ok(to_board(session, Some(slot)))
}

fn wanted_order(fields: &Fields) -> Vec<usize> {
    fields.text("order").split(',').filter_map(|n| n.parse().ok()).collect()
}

/// Lays a board in another order, where that is another.
async fn lie(
    app: &App,
    trainer: TrainerId,
    session: Uuid,
    fields: &Fields,
    order: impl FnOnce(&Arrangement<Uuid, Uuid>) -> Option<Arrangement<Uuid, Uuid>>,
) -> Result<(), WebError> {
    let mut board = Board::load(app, trainer, session).await?;
    let from = board.layout();
    if let Some(after) = order(&board.arrangement) {
        board.arrangement = after;
        let layout = board.layout();
        let kind = PlanChange::Hardens;
        let change = Change { seen: fields.seen()?, from: &from, kind, layout: &layout, copied: None };
        boards::lay(&app.pool, trainer, session, change).await?;
        boards::settle(&app.pool, trainer, session).await?;
    }
    Ok(())
}

/// Takes fits of a board, all or nothing, as a step of it that can be undone.
pub(super) async fn taken(
    app: &App,
    trainer: TrainerId,
    head: &SessionHead,
    fields: &Fields,
    takes: &[fits::NewFit<'_>],
) -> Result<(), WebError> {
    let layout = Board::load(app, trainer, head.id).await?.layout();
    let kind = PlanChange::Hardens;
    let change = Change { seen: fields.seen()?, from: &layout, kind, layout: &layout, copied: None };
    boards::lay(&app.pool, trainer, head.id, change).await?;
    let place = head.place_id;
    fits::refit(&app.pool, trainer, head.client_id, &[head.id], [place, place], takes).await?;
    boards::settle(&app.pool, trainer, head.id).await?;
    Ok(())
}

/// Takes the step that spares a conflict: the movement and dose stay.
async fn repair(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids, fields: Fields) -> Result<Response, WebError> {
    let table = super::table::Table::load(&app, trainer, session).await?;
    let slot = fields.id("slot")?;
    let (_, piece) = table.find(slot).ok_or(WebError::NotFound)?;
    let done = piece.done.as_ref().ok_or(WebError::NotFound)?;
    let wanted: usize = fields.text("step").parse().map_err(|_| WebError::bad("step", "is no number"))?;
    let step = done.ladder.steps.get(wanted).ok_or_else(|| WebError::bad("step", "is not on this ladder"))?;
    // The ladder may have changed since the offer was made: the words say which step was meant.
    if step.label != fields.text("label") {
        return Err(WebError::ChangedMeanwhile);
    }
    if !ruled_out(done.movement, &table.scene.person, &table.scene.place.kit).is_empty() {
        return Err(WebError::bad("step", "is of a movement that is ruled out here as things are"));
    }
    let prescription = done.fit.prescription.loaded(step.load);
    let new = fits::NewFit {
        slot_id: slot,
        place_id: done.fit.place_id,
        exercise: &done.fit.exercise,
        step,
        prescription: &prescription,
        pinned: done.fit.pinned,
    };
    taken(&app, trainer, &table.head, &fields, &[new]).await?;
    Ok(to_board(session, Some(slot)))
}

async fn undo(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids, fields: Fields) -> Result<Response, WebError> {
    stepped(&app, trainer, session, &fields, Step::Undo).await
}

async fn redo(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids, fields: Fields) -> Result<Response, WebError> {
    stepped(&app, trainer, session, &fields, Step::Redo).await
}

/// A step back or forth; what was done then is done again.
async fn stepped(
    app: &App,
    trainer: TrainerId,
    session: Uuid,
    fields: &Fields,
    step: Step,
) -> Result<Response, WebError> {
    let head = sessions::head(&app.pool, trainer, session).await?;
    let now = boards::step(&app.pool, trainer, session, fields.seen()?, step).await?;
    let scene = Scene::load(app, trainer, &head).await?;
    let mut away = None;
    for slot in now.slots() {
        if !dosing::restore(app, trainer, &scene, (slot.id, &slot.fits)).await? {
            away = Some(slot.id);
        }
    }
    boards::settle(&app.pool, trainer, session).await?;
    if let Some(slot) = away {
        return Ok(Redirect::to(&format!("/sessions/{session}?pick={slot}&away={slot}")).into_response());
    }
    let picked = fields.text("slot").parse().ok().filter(|id| now.slots().any(|s| s.id == *id));
    Ok(to_board(session, picked))
}
