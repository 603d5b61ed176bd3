//! Moves on a week before it is taken: lines go to other days, together and apart; minutes change; a day is proposed anew around
//! what is pinned. Each is a state of the week, so that all of it can be undone.

use std::collections::BTreeSet;

use axum::Router;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum::routing::get;
use bavrek_core::arrangement::{Arrangement, Days, Joined, Move};
use bavrek_core::plan::BlockKind;
use bavrek_core::ranges::SESSION_MINUTES;
use bavrek_core::units::trim_number;
use bavrek_store::boards::Step;
use bavrek_store::weeks::{self, Draft, DraftDay, DraftLine, Kept};
use bavrek_store::{TrainerId, aims, new_id};
use uuid::Uuid;

use super::ask::{self, Desk, Pinned};
use super::{Page, Wrong, kept, proposal, table};
use crate::chrome::Chrome;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::typed::Typed;
use crate::state::App;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/clients/{client}/week/{week}/move", get(super::back).post(act))
        .route("/clients/{client}/week/{week}/minutes", get(super::back).post(minutes))
        .route("/clients/{client}/week/{week}/anew", get(super::back).post(anew))
        .route("/clients/{client}/week/{week}/helps", get(helps))
        .route("/clients/{client}/week/{week}/undo", get(super::back).post(undo))
        .route("/clients/{client}/week/{week}/redo", get(super::back).post(redo))
        .route("/clients/{client}/week/open", get(form).post(open))
}

/// Most that is listed of what would help.
const MOST_HELPS: usize = 8;
/// What names a day in what a button asks.
const DAY: &str = "day-";
const COPY: &str = "copy-";

/// What a button of the week does.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Act {
    Rearrange(Move),
    /// Dropped before another line, or onto it.
    Before,
    With,
    /// To another day, or a copy of it there.
    Day(usize),
    Copy(usize),
    More,
    Fewer,
    Pin,
}

impl Act {
    fn read(text: &str) -> Option<Self> {
        let day = |prefix: &str| text.strip_prefix(prefix)?.parse().ok();
        Some(match text {
            "earlier" => Self::Rearrange(Move::Earlier),
            "later" => Self::Rearrange(Move::Later),
            "join" => Self::Rearrange(Move::Join),
            "part" => Self::Rearrange(Move::Part),
            "out" => Self::Rearrange(Move::TakeOut),
            "before" => Self::Before,
            "with" => Self::With,
            "more" => Self::More,
            "fewer" => Self::Fewer,
            "pin" => Self::Pin,
            _ => match (day(DAY), day(COPY), BlockKind::from_id(text)) {
                (Some(day), _, _) => Self::Day(day),
                (_, Some(day), _) => Self::Copy(day),
                (_, _, Some(kind)) => Self::Rearrange(Move::Kind(kind)),
                _ => return None,
            },
        })
    }
}

/// The week as it lies, by slot.
fn lies(draft: &Draft) -> Days<(), Uuid> {
    let block = |(kind, lines): &(BlockKind, Vec<DraftLine>)| Joined {
        id: None,
        kind: *kind,
        keys: lines.iter().map(|l| l.slot).collect(),
    };
    let day = |day: &DraftDay| Arrangement { blocks: day.blocks.iter().map(block).collect() };
    Days { days: draft.days.iter().map(day).collect() }
}

/// The week as it is to lie; `lines` has every line that is named.
fn lay(draft: &mut Draft, days: &Days<(), Uuid>, lines: &[DraftLine]) {
    let line = |key: &Uuid| lines.iter().find(|l| l.slot == *key).cloned();
    for (day, laid) in draft.days.iter_mut().zip(&days.days) {
        day.blocks = laid.blocks.iter().map(|b| (b.kind, b.keys.iter().filter_map(line).collect())).collect();
    }
}

/// Makes the move; returns the days it touches and the lines that must be fitted anew. None where it changes nothing.
fn change(draft: &mut Draft, act: Act, line: Uuid, other: Option<Uuid>) -> Option<(BTreeSet<usize>, BTreeSet<Uuid>)> {
    let before = lies(draft);
    let from = before.day_of(line)?;
    let mut lines: Vec<DraftLine> = draft.lines().cloned().collect();
    let own = lines.iter().position(|l| l.slot == line)?;
    let mut subject = line;
    let after = match act {
        Act::Rearrange(change) => before.after(line, change)?,
        Act::Before => before.before(line, other?)?,
        Act::With => before.with(line, other?)?,
        Act::Day(day) => before.onto_day(line, day)?,
        Act::Copy(day) => {
            subject = new_id();
            let copy = DraftLine { slot: subject, pinned: false, kept: false, ..lines[own].clone() };
            lines.push(copy);
            before.added(subject, day)?
        }
        Act::More | Act::Fewer => {
            let line = &mut lines[own];
            let asked = line.intent.clone().dosed(line.dose.loaded(None));
            line.intent = if act == Act::More { asked.one_set_more()? } else { asked.one_set_fewer()? };
            let load = line.dose.sets.first().and_then(|s| s.load);
            line.dose = line.intent.dose.prescription().loaded(load);
            line.kept = false;
            before.clone()
        }
        Act::Pin => {
            lines[own].pinned = !lines[own].pinned;
            before.clone()
        }
    };
    lay(draft, &after, &lines);
    let to = after.day_of(subject).unwrap_or(from);
    let place = |day: usize| draft.asked.days[day].place;
    let refit = (place(from) != place(to)).then_some(subject).into_iter().collect();
    Some((BTreeSet::from([from, to]), refit))
}

fn to_week((client, week): (Uuid, Uuid), line: Option<Uuid>) -> Response {
    let tail = line.map_or_else(String::new, |l| format!("?pick={l}#line-{l}"));
    Redirect::to(&format!("/clients/{client}/week/{week}{tail}")).into_response()
}

/// Keeps a week that was changed by hand, the touched days read anew.
async fn keep(
    app: &App,
    trainer: TrainerId,
    (week, kept, seen): (Uuid, Kept, i32),
    (days, refit): (BTreeSet<usize>, BTreeSet<Uuid>),
) -> Result<(), WebError> {
    let mut draft = kept.draft;
    draft.by_hand = true;
    let days: Vec<usize> = days.into_iter().collect();
    let touched: Vec<_> = days.iter().map(|day| draft.asked.days[*day].clone()).collect();
    let (scenes, aims) = tokio::try_join!(table::scenes(app, trainer, kept.client_id, &touched), async {
        Ok(aims::of_client(&app.pool, trainer, kept.client_id).await?)
    })?;
    let aims = aims.into_iter().next().map(|dated| dated.aims).unwrap_or_default();
    table::reread(app, &scenes, &aims, &mut draft, (&days, &refit));
    weeks::lay(&app.pool, trainer, week, seen, &draft).await?;
    Ok(())
}

async fn act(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, week)): Ids<(Uuid, Uuid)>,
    fields: Fields,
) -> Result<Response, WebError> {
    let mut kept = kept(&app, trainer, client, week).await?;
    let act = Act::read(fields.text("act")).ok_or_else(|| WebError::bad("act", "is not known"))?;
    let line = fields.id("slot")?;
    let changed = change(&mut kept.draft, act, line, fields.text("other").parse().ok());
    if let Some(changed) = changed {
        keep(&app, trainer, (week, kept, fields.seen()?), changed).await?;
    }
    Ok(to_week((client, week), Some(line)))
}

/// Gives a day other minutes; what runs over then sticks out until it is cut, moved or proposed anew.
async fn minutes(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, week)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let mut kept = kept(&app, trainer, client, week).await?;
    let day = day_of(&kept.draft, &fields)?;
    let mut typed = Typed::of(&fields);
    let minutes = typed.whole("minutes", SESSION_MINUTES);
    let Some(minutes) = minutes else {
        let says = typed.error("minutes").unwrap_or("minutes are needed").to_owned();
        let wrong = Wrong { day: Some(day), typed: typed.value("minutes").to_owned(), says: Some(says) };
        return refused(&app, trainer, (week, kept), chrome, wrong).await;
    };
    if kept.draft.asked.days[day].minutes != minutes.unsigned_abs() {
        kept.draft.asked.days[day].minutes = minutes.unsigned_abs();
        keep(&app, trainer, (week, kept, fields.seen()?), (BTreeSet::from([day]), BTreeSet::new())).await?;
    }
    Ok(to_week((client, week), None))
}

/// The week as it was, with what was refused.
async fn refused(
    app: &App,
    trainer: TrainerId,
    (week, kept): (Uuid, Kept),
    chrome: Chrome,
    wrong: Wrong,
) -> Result<Response, WebError> {
    let desk = Desk::load(app, trainer, kept.client_id).await?;
    let page = proposal(app, trainer, &desk, chrome, (week, kept, None)).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, Page { wrong, ..page }).into_response())
}

fn day_of(draft: &Draft, fields: &Fields) -> Result<usize, WebError> {
    let day: Option<usize> = fields.text("day").parse().ok();
    day.filter(|d| *d < draft.days.len()).ok_or_else(|| WebError::bad("day", "is no day of this week"))
}

/// Proposes anew, for the whole week or one day of it: what is pinned stays, and so does all that stands on other days.
async fn anew(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, week)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
    fields: Fields,
) -> Result<Response, WebError> {
    let kept = kept(&app, trainer, client, week).await?;
    let seen = fields.seen()?;
    let only = if fields.text("day").is_empty() { None } else { Some(day_of(&kept.draft, &fields)?) };
    let desk = Desk::load(&app, trainer, client).await?;
    let pinned = pinned(&kept.draft, only);
    let proposed = match ask::answer(&app, trainer, &desk, (kept.draft.asked.clone(), pinned)).await {
        Err(WebError::BadRequest { message, .. }) => {
            let wrong = Wrong { says: Some(message), ..Wrong::default() };
            return refused(&app, trainer, (week, kept), chrome, wrong).await;
        }
        proposed => proposed?,
    };
    let before = kept.draft;
    let mut draft = Draft { opened: before.opened.clone(), weeks: before.weeks.clone(), ..proposed };
    for (day, (now, then)) in draft.days.iter_mut().zip(before.days).enumerate() {
        (now.session, now.name) = (then.session, then.name.clone());
        // Other days lie as they did: only the pick of their lines was asked for.
        if only.is_some_and(|only| only != day) {
            *now = then;
        }
    }
    // With other days as they lie the proof is of another question.
    draft.by_hand = only.is_some();
    weeks::lay(&app.pool, trainer, week, seen, &draft).await?;
    Ok(to_week((client, week), None))
}

/// What stays when a week is proposed anew: what is pinned, and where only one day is all that stands on the others.
fn pinned(draft: &Draft, only: Option<usize>) -> Vec<Pinned> {
    let days = draft.days.iter().enumerate().flat_map(|(day, one)| {
        let stays = move |line: &&DraftLine| line.pinned || only.is_some_and(|only| only != day);
        one.lines().filter(stays).map(move |line| Pinned { day, line: line.clone() })
    });
    days.collect()
}

/// The week with what would help it most.
async fn helps(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids((client, week)): Ids<(Uuid, Uuid)>,
    chrome: Chrome,
) -> Result<Page, WebError> {
    let kept = kept(&app, trainer, client, week).await?;
    let desk = Desk::load(&app, trainer, client).await?;
    let asked = (kept.draft.asked.clone(), pinned(&kept.draft, None));
    let found = ask::helps(&app, trainer, &desk, asked).await?;
    let told = found.into_iter().map(|(what, sets)| (what, trim_number(sets, 1)));
    let helps = Some(told.take(MOST_HELPS).collect());
    let page = proposal(&app, trainer, &desk, chrome, (week, kept, None)).await?;
    Ok(Page { helps, ..page })
}

async fn undo(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(ids): Ids<(Uuid, Uuid)>,
    fields: Fields,
) -> Result<Response, WebError> {
    stepped(&app, trainer, ids, &fields, Step::Undo).await
}

async fn redo(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(ids): Ids<(Uuid, Uuid)>,
    fields: Fields,
) -> Result<Response, WebError> {
    stepped(&app, trainer, ids, &fields, Step::Redo).await
}

async fn stepped(
    app: &App,
    trainer: TrainerId,
    (client, week): (Uuid, Uuid),
    fields: &Fields,
    step: Step,
) -> Result<Response, WebError> {
    kept(app, trainer, client, week).await?;
    weeks::step(&app.pool, trainer, week, fields.seen()?, step).await?;
    Ok(to_week((client, week), fields.text("slot").parse().ok()))
}

async fn form(Ids(client): Ids) -> Redirect {
    Redirect::to(&format!("/clients/{client}/week"))
}

/// Lays the sessions of the next seven days side by side, to be moved as one week.
async fn open(Mine(app): Mine, Me(trainer): Me, Ids(client): Ids, fields: Fields) -> Result<Response, WebError> {
    let desk = Desk::load(&app, trainer, client).await?;
    // The button is only there where something stands.
    let draft = table::standing(&app, trainer, &desk).await?.ok_or(WebError::ChangedMeanwhile)?;
    let id = fields.id("id")?;
    weeks::keep(&app.pool, trainer, client, id, &draft).await?;
    Ok(to_week((client, id), None))
}
