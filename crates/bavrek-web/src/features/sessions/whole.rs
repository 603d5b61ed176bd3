//! The fits of a block chosen together: what is offered on the board, and taking it.

use axum::response::Response;
use bavrek_core::fit::{Candidate, Chosen, Seat, Worked, chosen};
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::units::Seconds;
use bavrek_store::fits::NewFit;
use uuid::Uuid;

use super::moves::{taken, to_board};
use super::table::{Piece, Table, Together};
use super::views::before;
use crate::error::WebError;
use crate::extract::{Fields, Ids, Me, Mine};
use crate::features::scene::{Scene, dose_text};
use crate::pictures::strip::minutes;
use crate::state::App;

/// Below this difference of score one does a job as well as another.
const AS_WELL: f64 = 0.015;

/// What is offered for a block as a whole.
pub(super) struct WholeView {
    /// What it saves, or that nothing would.
    pub(super) told: String,
    pub(super) rows: Vec<RowView>,
    /// What would be taken: the offer is made anew where it is taken, and has to be this one.
    pub(super) picks: String,
}

/// A station of it.
pub(super) struct RowView {
    /// What is done there now, where something is.
    pub(super) now: Option<String>,
    pub(super) then: String,
    pub(super) changes: bool,
    /// Dose and step where it changes, and how well it does the job.
    pub(super) told: String,
}

/// A block with what could be done at each of its stations.
struct Whole<'t, 'a> {
    table: &'t Table<'a>,
    block: &'t Together<'a>,
    stations: Vec<Station<'t, 'a>>,
}

struct Station<'t, 'a> {
    piece: &'t Piece<'a>,
    candidates: Vec<Candidate<'a>>,
    /// The place of what is done there now.
    today: Option<usize>,
    intent: Intent,
}

/// Whether a block can be chosen as a whole: its stations alternate, and some are in each other's way or still open.
pub(super) fn is_open(block: &Together<'_>) -> bool {
    let turns = block.alternates() && block.kind != BlockKind::Extension;
    turns && (!block.conflicts.is_empty() || block.pieces.iter().any(|p| p.done.is_none()))
}

impl<'t, 'a> Whole<'t, 'a> {
    /// The block in which a slot stands; none where it cannot be chosen as a whole.
    fn of(app: &'a App, table: &'t Table<'a>, slot: Uuid) -> Option<Self> {
        let block = table.find(slot).map(|(block, _)| block).filter(|block| is_open(block))?;
        let fitter = table.scene.fitter(app);
        let first = block.pieces.first()?.slot.id;
        // What comes before the block tires all of its stations; among themselves they are one block whatever is chosen.
        let worked: Vec<Worked<'_>> = before(table, first);
        let station = |piece: &'t Piece<'a>| {
            let intent = match &piece.done {
                // With the dose in force: a call may have changed it since.
                Some(done) => piece.slot.intent.clone().dosed(done.fit.prescription.clone()),
                None => piece.slot.intent.clone(),
            };
            let mut candidates = fitter.fit(&intent).after(&worked).candidates;
            let own = piece.done.as_ref().and_then(|d| fitter.on_step(d.movement, &d.fit.step, &intent, &[]));
            let today = own.map(|own| {
                let own = own.after(&worked, true);
                let at = candidates.iter().position(|c| c.movement.id == own.movement.id);
                let at = at.unwrap_or(candidates.len());
                candidates.splice(at..(at + 1).min(candidates.len()), [own]);
                at
            });
            Station { piece, candidates, today, intent }
        };
        let stations = block.pieces.iter().map(station).collect();
        Some(Self { table, block, stations })
    }

    fn chosen(&self) -> Option<Chosen> {
        let seats: Vec<Seat<'_, '_>> = self.stations.iter().map(|s| s.seat(&self.table.scene)).collect();
        chosen(self.block.kind, &seats, &self.table.scene.place.kit)
    }

    /// What is taken of a choice: stations whose movement or step changes.
    fn changes<'w>(&'w self, choice: &Chosen) -> impl Iterator<Item = (&'w Station<'t, 'a>, &'w Candidate<'a>)> {
        let picks = choice.picks.clone().into_iter();
        let changed = self.stations.iter().zip(picks).filter(|(station, pick)| station.today != Some(*pick));
        changed.map(|(station, pick)| (station, &station.candidates[pick]))
    }

    /// What a choice saves, in words; where something is open, or can no longer be done, only what the stations cost each other then.
    fn saved(&self, choice: &Chosen) -> String {
        let [now, then] = choice.added.map(Seconds::value);
        if self.stations.iter().any(|station| station.today.is_none()) {
            return match then {
                s if s < 0.5 => "Chosen together, so that none is in another's way:".to_owned(),
                s => format!("Chosen together; changing over takes {s:.0} s a round:"),
            };
        }
        let again = self.block.rounds.saturating_sub(1) as f64;
        let in_all = minutes(Seconds((now - then) * again));
        format!("Chosen together: {:.0} s less a round, {in_all} min in all:", now - then)
    }

    /// What is taken of a choice, in a text that only this choice has.
    fn picks(&self, choice: &Chosen) -> String {
        let one = |(station, c): (&Station<'_, '_>, &Candidate<'_>)| {
            format!("{}:{}:{}", station.piece.slot.id, c.movement.id, c.step().label)
        };
        self.changes(choice).map(one).collect::<Vec<_>>().join("|")
    }
}

impl Station<'_, '_> {
    fn seat<'s>(&'s self, scene: &Scene) -> Seat<'s, 's> {
        let pinned = self.piece.done.as_ref().is_some_and(|d| d.fit.pinned);
        let begun = scene.done_today(self.piece.slot.id).next().is_some();
        Seat {
            candidates: &self.candidates,
            today: self.today,
            stays: pinned || begun,
            zone: self.intent.dose.prescription().zone(),
        }
    }

    fn row(&self, app: &App, pick: usize) -> RowView {
        let then = &self.candidates[pick];
        let name = |c: &Candidate<'_>| c.movement.name.clone();
        let now = self.today.map(|at| &self.candidates[at]);
        if self.today == Some(pick) {
            let told = format!("stays, {}", then.step().label);
            return RowView { now: None, then: name(then), changes: false, told };
        }
        let dose = dose_text(app, &then.movement.id, &then.prescription);
        let well = now.map_or_else(String::new, |now| match now.score - then.score {
            less if less.abs() < AS_WELL => "; does the job as well".to_owned(),
            less if less < 0.0 => format!("; does the job better: {:.2} for {:.2}", then.score, now.score),
            _ => format!("; does the job less well: {:.2} for {:.2}", then.score, now.score),
        });
        RowView {
            now: self.piece.done.as_ref().map(|d| d.movement.name.clone()),
            then: name(then),
            changes: true,
            told: format!("{dose}, {}{well}", then.step().label),
        }
    }
}

/// What is offered for the block of a slot; none where it cannot be chosen as a whole.
pub(super) fn view(app: &App, table: &Table<'_>, slot: Uuid) -> Option<WholeView> {
    let whole = Whole::of(app, table, slot)?;
    let Some(choice) = whole.chosen() else {
        let nothing = whole.stations.iter().find(|s| s.candidates.is_empty());
        let told = match nothing {
            Some(station) => format!("Nothing here does the job of {}.", super::purpose(&station.piece.slot.intent)),
            None => "Nothing that does these jobs well enough costs less a round than what is done now.".to_owned(),
        };
        return Some(WholeView { told, rows: Vec::new(), picks: String::new() });
    };
    let rows = whole.stations.iter().zip(&choice.picks).map(|(station, pick)| station.row(app, *pick)).collect();
    Some(WholeView { told: whole.saved(&choice), rows, picks: whole.picks(&choice) })
}

/// Takes what was offered for a block: all of it or nothing.
pub(super) async fn take(
    Mine(app): Mine,
    Me(trainer): Me,
    Ids(session): Ids,
    fields: Fields,
) -> Result<Response, WebError> {
    let slot = fields.id("slot")?;
    let table = Table::load(&app, trainer, session).await?;
    table.find(slot).ok_or(WebError::NotFound)?;
    if table.scene.stopped {
        return Err(WebError::ClearanceNeeded);
    }
    // What was offered may rest on kit, limits or steps that have changed since.
    let whole = Whole::of(&app, &table, slot).ok_or(WebError::ChangedMeanwhile)?;
    let offered = |choice: &Chosen| whole.picks(choice) == fields.text("picks");
    let choice = whole.chosen().filter(offered).ok_or(WebError::ChangedMeanwhile)?;
    let takes: Vec<NewFit<'_>> = whole
        .changes(&choice)
        .map(|(station, candidate)| NewFit {
            slot_id: station.piece.slot.id,
            place_id: table.head.place_id,
            exercise: &candidate.movement.id,
            step: candidate.step(),
            prescription: &candidate.prescription,
            pinned: false,
        })
        .collect();
    taken(&app, trainer, &table.head, &fields, &takes).await?;
    Ok(to_board(session, Some(slot)))
}
