//! Doses: read from a line, and given to the fits in force as soon as they change.

use std::collections::BTreeMap;

use bavrek_core::dose::notation::{self, Usual, Written};
use bavrek_core::dose::{Prescription, Tempo, usual_rest};
use bavrek_core::fit::{Candidate, Fitter, Met, Miss, Related, Room, ruled_out, ruled_out_anywhere};
use bavrek_core::ladder::{Ladder, LadderStep};
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::{Catalogue, Style};
use bavrek_core::plan::Intent;
use bavrek_core::ranges::RangeError;
use bavrek_core::reading::resolve;
use bavrek_store::boards::LaidFit;
use bavrek_store::fits::{self, Fit, NewFit};
use bavrek_store::health::PlanChange;
use bavrek_store::{TrainerId, connection, kit, log, places};
use uuid::Uuid;

use super::scene::Scene;
use super::who::Who;
use crate::error::WebError;
use crate::state::App;

/// What a dose written in a line leaves open.
const USUAL_GAPS: Usual = Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 };

/// The dose that a line says, its gaps filled with what is usual: the rest as its rep zone asks. A movement that its load is compared
/// with is looked up in the catalogue.
pub(super) fn read(catalogue: &Catalogue, line: &str) -> Result<Prescription, RangeError> {
    let mut written = notation::read(line)?;
    written.relation = written.relation.map(|relation| resolve(catalogue, relation)).transpose()?;
    Ok(with_usual(&written))
}

/// A written dose with its gaps filled.
pub(super) fn with_usual(written: &Written) -> Prescription {
    let zone = written.filled(USUAL_GAPS).zone().map_or(12, |zone| zone[1]);
    written.filled(Usual { rest_s: usual_rest(zone), ..USUAL_GAPS })
}

/// What is wrong with a dose that the step of a start does not suit, and why no other step was taken.
pub(super) fn doubt(candidate: &Candidate<'_>, intent: &Intent) -> Option<String> {
    let zone = intent.counted().dose.reps;
    let miss = candidate.start.misses(zone)?;
    let related = candidate.start.related.and_then(Related::found);
    let by_share = related.is_some_and(|found| found.met == Met::Nearest);
    let why = match candidate.neighbour_misses(zone) {
        _ if by_share => ": as what its load is compared with asks",
        _ if candidate.is_at_its_end(miss) => ": no step here suits the dose",
        Some(Miss::TooLight) => ", and the next step down too light",
        Some(Miss::TooHeavy) => ", and the next step up too heavy",
        None => ": a careful start",
    };
    Some(format!("{miss}{why}"))
}

/// How the movement of a fit is done.
pub(super) fn style_of(app: &App, fit: &Fit) -> Style {
    app.catalogue.movement(&fit.exercise).map_or(Style::Reps, |m| m.style)
}

/// An intent with the dose of its fit: a call that was taken may have changed it since.
pub(super) fn in_force(app: &App, fit: &Fit, intent: &Intent) -> Intent {
    let dose = fit.prescription.loaded(None);
    let same = intent.prescription_for(style_of(app, fit)) == dose;
    if same { intent.clone() } else { intent.clone().dosed(dose) }
}

/// Gives the fits in force the dose of an intent where it changed, and another step where that is compared with something else;
/// returns them.
pub(super) async fn redose(
    app: &App,
    trainer: TrainerId,
    (slot, change): (Uuid, PlanChange),
    (before, now): (Option<&Intent>, &Intent),
) -> Result<Vec<Fit>, WebError> {
    let mut fits = fits::of_slot_everywhere(&app.pool, trainer, slot).await?;
    let cut = before.is_some_and(|b| b.execution.range != now.execution.range);
    if cut {
        for fit in &mut fits {
            recut(app, trainer, fit, now).await?;
        }
    }
    if now.dose.relation().is_some() && before.is_none_or(|b| b.dose.relation() != now.dose.relation()) {
        restep(app, trainer, &mut fits, now).await?;
    }
    if cut || before.is_none_or(|b| b.dose.prescription() != now.dose.prescription()) {
        give(app, trainer, (&fits, change), now, None).await?;
    }
    Ok(fits)
}

/// The steps of fits of one line whose load is asked as a relation, or what stands in for it where that cannot be had there. What is
/// held or resisted stays as it is.
async fn restep(app: &App, trainer: TrainerId, fits: &mut [Fit], intent: &Intent) -> Result<(), WebError> {
    let Some(first) = fits.first() else { return Ok(()) };
    let client = places::one(&app.pool, trainer, first.place_id).await?.client_id;
    let who = Who::load(app, trainer, client).await?;
    let log = log::of_client(&app.pool, trainer, client, who.today).await?;
    let history: Vec<LoggedSet> = log.into_iter().map(|record| record.set).collect();
    for fit in fits {
        let mut connection = connection(&app.pool).await?;
        let head = places::one(&mut *connection, trainer, fit.place_id).await?;
        let place = kit::place(&mut connection, trainer, &head).await?;
        drop(connection);
        let Some(movement) = app.catalogue.movement(&fit.exercise) else { continue };
        let room = Room::plain(&who.person, &place.kit);
        let found = Fitter::new(&app.catalogue, room, &history, Some(who.today)).alone(movement, intent);
        if let Some(found) = found.filter(|c| c.start.related.is_some_and(Related::is_answered)) {
            fit.step = found.step().clone();
        }
    }
    Ok(())
}

/// The step of a fit in the part of the range that its line now goes through: the same weights, bands and set-up. It stays as
/// it is where the place carries it no more.
async fn recut(app: &App, trainer: TrainerId, fit: &mut Fit, intent: &Intent) -> Result<(), WebError> {
    let place = places::one(&app.pool, trainer, fit.place_id).await?;
    let mut connection = connection(&app.pool).await?;
    let who = Who::over(app, &mut connection, trainer, place.client_id).await?;
    let place = kit::place(&mut connection, trainer, &place).await?;
    drop(connection);
    let Some(movement) = app.catalogue.movement(&fit.exercise) else { return Ok(()) };
    let ladder = Ladder::of_line(movement, &who.person, &place.kit, intent);
    if let Some(step) = ladder.steps.into_iter().find(|s| s.is_alike(&fit.step)) {
        fit.step = step;
    }
    Ok(())
}

/// Gives the fits in force of a slot the dose of an intent, and at one place another step.
pub(super) async fn redose_onto(
    app: &App,
    trainer: TrainerId,
    slot: Uuid,
    intent: &Intent,
    onto: Option<(Uuid, &LadderStep)>,
) -> Result<(), WebError> {
    let fits = fits::of_slot_everywhere(&app.pool, trainer, slot).await?;
    give(app, trainer, (&fits, PlanChange::Hardens), intent, onto).await
}

async fn give(
    app: &App,
    trainer: TrainerId,
    (fits, change): (&[Fit], PlanChange),
    intent: &Intent,
    onto: Option<(Uuid, &LadderStep)>,
) -> Result<(), WebError> {
    let with = |fit: &Fit| {
        let step = onto.filter(|(place, _)| *place == fit.place_id).map_or(&fit.step, |(_, step)| step).clone();
        let dose = intent.prescription_for(style_of(app, fit)).loaded(step.load);
        (step, dose)
    };
    let given: Vec<(LadderStep, Prescription)> = fits.iter().map(with).collect();
    let news = fits.iter().zip(&given).map(|(fit, (step, prescription))| {
        let new = NewFit {
            slot_id: fit.slot_id,
            place_id: fit.place_id,
            exercise: &fit.exercise,
            step,
            prescription,
            pinned: fit.pinned,
        };
        (fit.turn, new)
    });
    Ok(fits::redose(&app.pool, trainer, change, &news.collect::<Vec<_>>()).await?)
}

/// Brings back what was done at a slot in a state of its board, place by place; what is done at other places stays. What is
/// ruled out by now, by limits, kit or the trainer, stays away: `false` then.
pub(super) async fn restore(
    app: &App,
    trainer: TrainerId,
    scene: &Scene,
    (slot, laid): (Uuid, &BTreeMap<Uuid, LaidFit>),
) -> Result<bool, WebError> {
    let fits = fits::of_slot_everywhere(&app.pool, trainer, slot).await?;
    let same = |place: &Uuid, laid: &LaidFit| {
        fits.iter().any(|fit| {
            let now = (fit.turn, &fit.exercise, &fit.step, &fit.prescription, fit.pinned);
            fit.place_id == *place && now == (laid.turn, &laid.exercise, &laid.step, &laid.prescription, laid.pinned)
        })
    };
    let (back, away): (Vec<_>, Vec<_>) = laid
        .iter()
        .filter(|(place, laid)| !same(place, laid))
        .partition(|(place, laid)| stands(app, scene, **place, laid));
    let news = back.into_iter().map(|(place, laid)| {
        let new = NewFit {
            slot_id: slot,
            place_id: *place,
            exercise: &laid.exercise,
            step: &laid.step,
            prescription: &laid.prescription,
            pinned: laid.pinned,
        };
        (laid.turn, new)
    });
    fits::redose(&app.pool, trainer, PlanChange::Hardens, &news.collect::<Vec<_>>()).await?;
    Ok(away.is_empty())
}

/// Whether a movement may be done by this client as things are: here by its kit as well, elsewhere by limits alone.
fn stands(app: &App, scene: &Scene, place: Uuid, laid: &LaidFit) -> bool {
    let Some(movement) = app.catalogue.movement(&laid.exercise) else { return false };
    let aside = scene.put_aside.iter().any(|p| p.exercise == laid.exercise);
    let why = if place == scene.place_head.id {
        ruled_out(movement, &scene.person, &scene.place.kit)
    } else {
        ruled_out_anywhere(movement, &scene.person)
    };
    !aside && why.is_empty()
}
