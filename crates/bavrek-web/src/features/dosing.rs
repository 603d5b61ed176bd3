//! Doses: read from a line, and given to the fits in force as soon as they change.

use std::collections::BTreeMap;

use bavrek_core::dose::notation::{self, Usual};
use bavrek_core::dose::{Prescription, Tempo};
use bavrek_core::movement::Style;
use bavrek_core::plan::{Intent, usual_rest};
use bavrek_core::ranges::RangeError;
use bavrek_store::TrainerId;
use bavrek_store::boards::LaidFit;
use bavrek_store::fits::{self, Fit, NewFit};
use bavrek_store::health::PlanChange;
use uuid::Uuid;

use crate::error::WebError;
use crate::state::App;

/// What a dose written in a line leaves open.
const USUAL_GAPS: Usual = Usual { tempo: Tempo::USUAL, rir: 2, rest_s: 90 };

/// The dose that a line says, its gaps filled with what is usual: the rest as its rep zone asks.
pub(super) fn read(line: &str) -> Result<Prescription, RangeError> {
    let written = notation::read(line)?;
    let zone = written.filled(USUAL_GAPS).zone().map_or(12, |zone| zone[1]);
    Ok(written.filled(Usual { rest_s: usual_rest(zone), ..USUAL_GAPS }))
}

/// Gives the fits in force the dose of an intent where it changed; returns them.
pub(super) async fn redose(
    app: &App,
    trainer: TrainerId,
    (slot, change): (Uuid, PlanChange),
    (before, now): (Option<&Intent>, &Intent),
) -> Result<Vec<Fit>, WebError> {
    let fits = fits::of_slot_everywhere(&app.pool, trainer, slot).await?;
    if before.is_some_and(|b| b.prescription() == now.prescription()) {
        return Ok(fits);
    }
    let dosed: Vec<(&Fit, Prescription)> = fits
        .iter()
        .map(|fit| {
            let style = app.catalogue.movement(&fit.exercise).map_or(Style::Reps, |m| m.style);
            (fit, now.prescription_for(style))
        })
        .collect();
    give(app, trainer, (slot, change), dosed).await?;
    Ok(fits)
}

/// Brings back what was done at a slot in a state of its board, place by place; what is done at other places stays.
pub(super) async fn restore(
    app: &App,
    trainer: TrainerId,
    slot: Uuid,
    laid: &BTreeMap<Uuid, LaidFit>,
) -> Result<(), WebError> {
    let fits = fits::of_slot_everywhere(&app.pool, trainer, slot).await?;
    let same = |place: &Uuid, laid: &LaidFit| {
        fits.iter().any(|fit| {
            let now = (&fit.exercise, &fit.step, &fit.prescription, fit.pinned);
            fit.place_id == *place && now == (&laid.exercise, &laid.step, &laid.prescription, laid.pinned)
        })
    };
    let news: Vec<NewFit<'_>> = laid
        .iter()
        .filter(|(place, laid)| !same(place, laid))
        .map(|(place, laid)| NewFit {
            slot_id: slot,
            place_id: *place,
            exercise: &laid.exercise,
            step: &laid.step,
            prescription: &laid.prescription,
            pinned: laid.pinned,
        })
        .collect();
    Ok(fits::redose(&app.pool, trainer, PlanChange::Hardens, &news).await?)
}

/// Doses on the loads of their fits.
async fn give(
    app: &App,
    trainer: TrainerId,
    (slot, change): (Uuid, PlanChange),
    mut dosed: Vec<(&Fit, Prescription)>,
) -> Result<(), WebError> {
    for (fit, dose) in &mut dosed {
        dose.sets.iter_mut().for_each(|set| set.load = fit.step.load);
    }
    let news: Vec<NewFit<'_>> = dosed
        .iter()
        .map(|(fit, dose)| NewFit {
            slot_id: slot,
            place_id: fit.place_id,
            exercise: &fit.exercise,
            step: &fit.step,
            prescription: dose,
            pinned: fit.pinned,
        })
        .collect();
    Ok(fits::redose(&app.pool, trainer, change, &news).await?)
}
