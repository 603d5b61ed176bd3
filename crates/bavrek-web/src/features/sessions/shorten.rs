//! A session fitted into fewer minutes: pairs, shorter rests, fewer sets and lines left out as one proposal, taken whole and
//! undone on the board.

use std::collections::BTreeMap;

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::Query;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::aims::Aim;
use bavrek_core::arrangement::{Arrangement, Joined};
use bavrek_core::plan::BlockKind;
use bavrek_core::ranges::SESSION_MINUTES;
use bavrek_core::shorten::{Blocks, Cut, Line, Means, Shorter, shorten};
use bavrek_core::units::{Seconds, trim_number};
use bavrek_store::boards::{self, Change};
use bavrek_store::health::PlanChange;
use uuid::Uuid;

use super::moves::Board;
use super::table::{Piece, Table};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::dosing;
use crate::features::typed::{Input, Typed};
use crate::pictures::strip::minutes;
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new().route("/sessions/{session}/shorten", get(propose).post(take))
}

/// The means that are allowed, as they stand in the address or the form; all where none were chosen yet.
fn allowed(text: impl Fn(&str) -> bool) -> Vec<Means> {
    let chosen = text("chosen");
    Means::ALL.iter().copied().filter(|means| !chosen || text(means.id())).collect()
}

#[derive(Template, WebTemplate)]
#[template(path = "sessions/shorten.html")]
struct Page {
    chrome: Chrome,
    id: Uuid,
    name: String,
    seen: i32,
    minutes: Input,
    /// Means: field, words, whether it is allowed.
    means: Vec<(&'static str, &'static str, bool)>,
    cuts: Vec<CutView>,
    before: String,
    after: String,
    /// What it still runs over; none where it fits.
    over: Option<String>,
}

struct CutView {
    text: String,
    saves: String,
    /// What the week has left of its region.
    costs: String,
}

/// A session with what is asked of it.
struct Desk<'a> {
    table: Table<'a>,
    lines: Vec<Line<Uuid>>,
    blocks: Blocks<Uuid>,
}

impl<'a> Desk<'a> {
    async fn load(app: &'a App, trainer: bavrek_store::TrainerId, session: Uuid) -> Result<Self, WebError> {
        let table = Table::load(app, trainer, session).await?;
        let lines = table.pieces().filter_map(|piece| line(app, &table, piece)).collect();
        let keys = |pieces: &[Piece<'_>]| pieces.iter().filter(|p| p.done.is_some()).map(|p| p.slot.id).collect();
        let blocks =
            table.blocks.iter().map(|b| (b.kind, keys(&b.pieces))).filter(|(_, k): &(_, Vec<_>)| !k.is_empty());
        let blocks = blocks.collect();
        Ok(Self { table, lines, blocks })
    }

    fn shorter(&self, budget: i16, allowed: &[Means]) -> Shorter<Uuid> {
        let budget = Seconds(60.0 * f64::from(budget));
        shorten(&self.lines, &self.blocks, budget, allowed, |blocks, doses| self.table.long(blocks, doses))
    }

    fn whole(&self) -> Seconds {
        let doses = self.lines.iter().map(|l| (l.key, l.dose.clone())).collect();
        self.table.long(&self.blocks, &doses)
    }

    fn name(&self, key: Uuid) -> &str {
        let done = self.table.find(key).and_then(|(_, piece)| piece.done.as_ref());
        done.map_or("a slot", |d| d.movement.name.as_str())
    }

    /// The cuts in words; those of one line and kind together.
    fn told(&self, app: &App, shorter: &Shorter<Uuid>) -> Vec<CutView> {
        let mut merged: Vec<(Cut<Uuid>, f64, usize)> = Vec::new();
        for (cut, saved) in &shorter.cuts {
            match merged.iter_mut().find(|(known, ..)| known == cut) {
                Some((_, sum, times)) => (*sum, *times) = (*sum + saved.value(), *times + 1),
                None => merged.push((*cut, saved.value(), 1)),
            }
        }
        let view = |(cut, saved, times): (Cut<Uuid>, f64, usize)| CutView {
            text: self.words(cut, times, shorter),
            saves: minutes(Seconds(saved)),
            costs: self.costs(app, cut, times),
        };
        merged.into_iter().map(view).collect()
    }

    fn words(&self, cut: Cut<Uuid>, times: usize, shorter: &Shorter<Uuid>) -> String {
        let dose = |key: Uuid| self.lines.iter().find(|l| l.key == key).map(|l| &l.dose);
        match cut {
            Cut::Pair(a, b) => {
                format!("{} and {} take turns: one rests while the other works", self.name(a), self.name(b))
            }
            Cut::Rest(key) => {
                let longest = |sets: &[bavrek_core::dose::SetPlan]| sets.iter().map(|s| s.rest_s).max().unwrap_or(0);
                let from = dose(key).map_or(0, |d| longest(&d.sets));
                let to = shorter.doses.get(&key).map_or(from.saturating_sub(30), |d| longest(&d.sets));
                format!("{}: rests of {to} s at most instead of {from}", self.name(key))
            }
            Cut::Set(key) => {
                let from = dose(key).map_or(0, |d| d.sets.len());
                format!("{}: {} sets instead of {from}", self.name(key), from.saturating_sub(times))
            }
            Cut::Leave(key) => format!("{} is left out", self.name(key)),
        }
    }

    /// `side shoulder then 6 of 8 this week`.
    fn costs(&self, app: &App, cut: Cut<Uuid>, times: usize) -> String {
        let (key, sets) = match cut {
            Cut::Set(key) => (key, times),
            Cut::Leave(key) => (key, self.lines.iter().find(|l| l.key == key).map_or(0, |l| l.dose.sets.len())),
            Cut::Pair(..) | Cut::Rest(_) => return String::new(),
        };
        let Some((_, piece)) = self.table.find(key) else { return String::new() };
        let Some((region, left, least)) = self.table.left_of(app, piece, sets) else { return String::new() };
        let least = least.map_or_else(String::new, |least| format!(" of {}", trim_number(least, 1)));
        format!("{region} then {}{least} this week", trim_number(left, 1))
    }
}

fn line(app: &App, table: &Table<'_>, piece: &Piece<'_>) -> Option<Line<Uuid>> {
    let done = piece.done.as_ref()?;
    let region = piece.slot.intent.main_region();
    let aim = region.zip(table.aims.as_ref()).map_or(Aim::Grow, |(region, aims)| aims.of(region).aim);
    let spare = table.left_of(app, piece, 1).is_some_and(|(_, left, least)| least.is_some_and(|least| left >= least));
    let dose = done.fit.prescription.clone();
    let works = done.movement.direct.values().sum::<f64>() + 0.5 * done.movement.assisting.values().sum::<f64>();
    let optional = piece.slot.intent.optional;
    Some(Line { key: piece.slot.id, pattern: piece.slot.intent.pattern, aim, works, spare, optional, dose })
}

async fn propose(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    Query(asked): Query<BTreeMap<String, String>>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let mut desk = Desk::load(&app, trainer, session).await?;
    let chrome = desk.table.scene.frame(chrome);
    let wanted = asked.get("minutes").filter(|m| !m.is_empty()).cloned();
    let wanted = wanted.unwrap_or_else(|| desk.table.head.minutes.to_string());
    let mut typed = Typed::usual([("minutes", wanted)]);
    let budget = typed.whole("minutes", SESSION_MINUTES);
    let allowed = allowed(|field| asked.get(field).is_some_and(|v| v == "on"));
    let shorter = budget.map(|budget| desk.shorter(budget, &allowed));
    let over = shorter.as_ref().zip(budget).map(|(s, budget)| s.total.value() - 60.0 * f64::from(budget));
    Ok(Page {
        id: session,
        name: desk.table.head.name.clone(),
        seen: desk.table.standing.seq,
        minutes: Input::text(&typed, "minutes", "Minutes there are", ""),
        means: Means::ALL.iter().map(|m| (m.id(), m.label(), allowed.contains(m))).collect(),
        cuts: shorter.as_ref().map_or_else(Vec::new, |s| desk.told(&app, s)),
        before: minutes(desk.whole()),
        after: shorter.as_ref().map_or_else(String::new, |s| minutes(s.total)),
        over: over.filter(|over| *over >= 30.0).map(|over| minutes(Seconds(over))),
        chrome: chrome.titled(format!("{}: in fewer minutes", desk.table.head.name)),
    })
}

/// Takes the proposal as it was shown: one change of the board.
async fn take(Mine(app): Mine, Me(trainer): Me, Ids(session): Ids, fields: Fields) -> Result<Response, WebError> {
    let allowed = allowed(|field| fields.text(field) == "on");
    let desk = Desk::load(&app, trainer, session).await?;
    let mut typed = Typed::of(&fields);
    let Some(budget) = typed.whole("minutes", SESSION_MINUTES) else {
        return Err(WebError::bad("minutes", typed.error("minutes").unwrap_or("is needed").to_owned()));
    };
    let shorter = desk.shorter(budget, &allowed);
    // A log or aims that changed since lead to other cuts than those that were read.
    if !fields.text("after").is_empty() && fields.text("after") != minutes(shorter.total) {
        return Err(WebError::ChangedMeanwhile);
    }
    let mut board = Board::load(&app, trainer, session).await?;
    let from = board.layout();
    for (cut, _) in &shorter.cuts {
        board.arrangement = cut_out(board.arrangement, *cut);
    }
    let before = board.intents.clone();
    for line in &desk.lines {
        let Some(dose) = shorter.doses.get(&line.key).filter(|dose| **dose != line.dose) else { continue };
        if let Some(intent) = board.intents.get_mut(&line.key) {
            *intent = intent.clone().dosed(dose.loaded(None));
        }
    }
    let layout = board.layout();
    if layout != from {
        let kind = PlanChange::Eases;
        let change = Change { seen: fields.seen()?, from: &from, kind, layout: &layout, copied: None };
        boards::lay(&app.pool, trainer, session, change).await?;
        let changed: BTreeMap<_, _> =
            board.intents.iter().filter(|(id, intent)| before.get(id) != Some(intent)).collect();
        for (slot, intent) in changed {
            dosing::redose(&app, trainer, (*slot, kind), (before.get(slot), intent)).await?;
        }
        boards::settle(&app.pool, trainer, session).await?;
    }
    Ok(Redirect::to(&format!("/sessions/{session}")).into_response())
}

/// The arrangement after a cut that changes it.
fn cut_out(mut laid: Arrangement<Uuid, Uuid>, cut: Cut<Uuid>) -> Arrangement<Uuid, Uuid> {
    let take = |laid: &mut Arrangement<Uuid, Uuid>, key: Uuid| {
        for block in &mut laid.blocks {
            block.keys.retain(|k| *k != key);
            if block.keys.len() == 1 {
                block.kind = BlockKind::Straight;
            }
        }
        laid.blocks.retain(|b| !b.keys.is_empty());
    };
    match cut {
        Cut::Leave(key) => take(&mut laid, key),
        Cut::Pair(first, second) => {
            take(&mut laid, second);
            if let Some(block) = laid.blocks.iter_mut().find(|b| b.keys.contains(&first)) {
                *block = Joined { id: block.id, kind: BlockKind::Antagonist, keys: vec![first, second] };
            }
        }
        Cut::Rest(_) | Cut::Set(_) => {}
    }
    laid
}
