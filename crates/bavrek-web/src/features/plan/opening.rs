//! Weeks that open: the fits of other places, the workouts; phases that begin; and what was missed.

use std::collections::BTreeSet;

use bavrek_core::calendar::Turn;
use bavrek_core::fit::{Carried, Known, Worked};
use bavrek_store::fits::{self, NewFit};
use bavrek_store::plans::{self, NewDay, Plan};
use bavrek_store::{TrainerId, sessions, wall};
use chrono::{Duration, NaiveDate};
use uuid::Uuid;

use crate::error::WebError;
use crate::features::scene::{Scene, purpose};
use crate::features::schools;
use crate::features::who::Who;
use crate::state::App;

/// Days before its Monday on which a week opens by itself, so that the trainer sees it before the client does.
pub(super) const OPENS_BEFORE: i64 = 3;

/// Opens what is due of a plan by now, lays open weeks anew where `anew`, begins a phase whose week has come, and settles what was
/// missed.
pub(super) async fn tend(app: &App, trainer: TrainerId, plan: &Plan, anew: bool) -> Result<(), WebError> {
    let who = Who::load(app, trainer, plan.client_id).await?;
    late(app, trainer, plan, who.today).await?;
    // New work waits for a clearance; what was missed does not.
    if who.stopped() {
        return Ok(());
    }
    let open: BTreeSet<u8> = plans::opened(&app.pool, trainer, plan.id).await?.into_iter().map(|o| o.week).collect();
    for week in 1..=plan.rules.weeks {
        let monday = plan.rules.monday(week);
        let over = monday + Duration::days(6) < who.today;
        let due = monday - Duration::days(OPENS_BEFORE) <= who.today;
        if over || !(due || open.contains(&week)) || (open.contains(&week) && !anew) {
            continue;
        }
        if open.contains(&week) || plans::claim(&app.pool, trainer, plan.id, week, app.clock.now()).await? {
            open_week(app, trainer, plan, (week, who.today)).await?;
        }
    }
    phase(app, trainer, plan, who.today).await
}

/// Doses the lines by the school of the phase in which today lies, once: not before its first Monday, since the week before is
/// still done as it was, and not again, since what the trainer changes after that stands.
async fn phase(app: &App, trainer: TrainerId, plan: &Plan, today: NaiveDate) -> Result<(), WebError> {
    let Some(week) = plan.rules.week_of(today) else { return Ok(()) };
    let Some(phase) = plan.rules.phase(week) else { return Ok(()) };
    let school = schools::key(phase.method, phase.follows);
    if plans::dosed(&app.pool, trainer, plan.id, [phase.from_week, week], &school).await? {
        return Ok(());
    }
    let standing = sessions::of_client(&app.pool, trainer, plan.client_id).await?;
    let due: BTreeSet<Uuid> = plan.rules.due.iter().map(|d| d.session).collect();
    let mut notes = Vec::new();
    for head in standing.iter().filter(|s| due.contains(&s.id)) {
        notes.extend(schools::follow(app, trainer, head.id, &school).await?);
    }
    Ok(plans::say_dosed(&app.pool, trainer, (plan.id, week), &school, &notes).await?)
}

/// Moves what was missed by the plan's rule.
async fn late(app: &App, trainer: TrainerId, plan: &Plan, today: NaiveDate) -> Result<(), WebError> {
    let days = plans::days(&app.pool, trainer, plan.id).await?;
    for week in 1..=plan.rules.weeks {
        let own: Vec<_> = days.iter().filter(|d| d.week == week).map(plans::PlanDay::planned).collect();
        let (moved, missed) = plan.rules.settle(&own, today);
        if !(moved.is_empty() && missed.is_empty()) {
            plans::settle(&app.pool, trainer, &moved, &missed).await?;
        }
    }
    Ok(())
}

/// Gives a week its fits and workouts, from today on.
pub(super) async fn open_week(
    app: &App,
    trainer: TrainerId,
    plan: &Plan,
    (week, today): (u8, NaiveDate),
) -> Result<(), WebError> {
    let mut ahead = plan.rules.week(week);
    // What was taken out of the plan meanwhile is planned no more.
    let standing = sessions::of_client(&app.pool, trainer, plan.client_id).await?;
    ahead.coming.retain(|c| standing.iter().any(|s| s.id == c.session));
    let mut notes = Vec::new();
    let sessions: BTreeSet<Uuid> = ahead.coming.iter().map(|c| c.session).collect();
    let rooms: BTreeSet<(Uuid, Uuid, Turn)> = ahead.coming.iter().map(|c| (c.session, c.place, c.turn)).collect();
    for (session, place, turn) in rooms {
        notes.extend(fit_there(app, trainer, session, (place, turn)).await?);
    }
    let day = |c: &bavrek_core::calendar::Coming<Uuid>| NewDay {
        session: c.session,
        on: c.on,
        instead_of: c.instead_of,
        place: c.place,
        turn: c.turn,
        light: ahead.light,
    };
    let days: Vec<NewDay> = ahead.coming.iter().map(day).collect();
    plans::open(&app.pool, trainer, plan, (week, &days, today), &notes).await?;
    for session in &sessions {
        let head = sessions::head(&app.pool, trainer, *session).await?;
        super::spares::keep_for(app, trainer, &head).await?;
    }
    Ok(())
}

/// Fits the lines of a session that have nothing at a place, or nothing that can still be done there; says what each is done with.
async fn fit_there(
    app: &App,
    trainer: TrainerId,
    session: Uuid,
    (place, turn): (Uuid, Turn),
) -> Result<Vec<String>, WebError> {
    let head = sessions::head(&app.pool, trainer, session).await?;
    let scene = Scene::at(app, trainer, head.client_id, place).await?;
    let fits = fits::for_turn(&app.pool, trainer, session, turn).await?;
    let blocks = sessions::blocks(&app.pool, trainer, session).await?;
    let mut fitter = None;
    let mut before: Vec<Worked<'_>> = Vec::new();
    let mut notes = Vec::new();
    for slot in blocks.iter().flat_map(|b| &b.slots) {
        let own = |here: bool| fits.iter().find(move |f| f.slot_id == slot.id && (f.place_id == place) == here);
        let there = own(true).filter(|f| scene.stands_no_more(app, &f.exercise, &f.step).is_none());
        if let Some(movement) = there.and_then(|f| app.catalogue.movement(&f.exercise)) {
            before.push(Worked { movement, sets: there.map_or(0, |f| f.prescription.sets.len()) });
            continue;
        }
        let fitter = fitter.get_or_insert_with(|| scene.fitter_by(app, head.method));
        let home = own(true).or_else(|| own(false));
        let intent =
            home.map_or_else(|| slot.intent.clone(), |fit| crate::features::dosing::in_force(app, fit, &slot.intent));
        let known = Known { today: home.map(|f| (f.exercise.as_str(), f.pinned)), before: None };
        let Some(Carried { candidate, intent, bent, .. }) = fitter.carried(&intent, &known, &before) else {
            notes.push(format!(
                "{} at {}: nothing there does {}; it stays open",
                head.name,
                scene.place_head.name,
                purpose(&slot.intent)
            ));
            continue;
        };
        let step = candidate.step();
        let prescription = intent.prescription_for(candidate.movement.style).loaded(step.load);
        let new = NewFit {
            slot_id: slot.id,
            place_id: place,
            exercise: &candidate.movement.id,
            step,
            prescription: &prescription,
            pinned: false,
        };
        fits::take_for(&app.pool, trainer, &new, Turn::Usual).await?;
        notes.push(format!(
            "{} at {}: {} with {}, {}{}",
            head.name,
            scene.place_head.name,
            purpose(&slot.intent),
            candidate.movement.name,
            step.label,
            if bent {
                format!("; dosed {} there, as no step suits its own", prescription.loaded(None).text())
            } else {
                String::new()
            }
        ));
        before.push(Worked { movement: candidate.movement, sets: prescription.sets.len() });
    }
    Ok(notes)
}

/// Tends every plan that waits for something: what any number of processes may do beside each other. A plan that cannot be tended
/// is told in the log and does not keep the others waiting.
pub(crate) async fn tend_all(app: &App) -> Result<(), WebError> {
    let today = app.clock.now().date_naive();
    // A day more than the rule, for clients who live ahead of this clock.
    let by = today + Duration::days(OPENS_BEFORE + 1);
    for (trainer, id) in plans::waiting(&app.pool, by, today).await? {
        let tended = Box::pin(wall::around(Some(trainer), async {
            let plan = plans::one(&app.pool, trainer, id).await?;
            // As the trainer sees it: what is done with an own movement stands.
            tend(&app.of(trainer).await?, trainer, &plan, false).await
        }));
        if let Err(error) = tended.await {
            tracing::warn!(%error, "a plan was not tended");
        }
    }
    Ok(())
}
