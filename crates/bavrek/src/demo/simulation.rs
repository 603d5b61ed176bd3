//! Two weeks of training: fits taken, sets done by the seeded simulation, calls taken after every workout but the last.

use bavrek_core::fit::{FitQuestion, fit};
use bavrek_core::log::{LoggedSet, Observation};
use bavrek_core::person::Side;
use bavrek_core::progress::{CallKind, NextQuestion, next};
use bavrek_core::simulate::{Simulation, Task, Truth};
use bavrek_core::strength::Ledger;
use bavrek_core::units::Kilograms;
use bavrek_store::fits::{self, Decision, Fit, NewFit};
use bavrek_store::log::{self, NewSet};
use bavrek_store::slots::{self, PlacedSlot};
use bavrek_store::workouts::{self, Start};
use bavrek_store::{TrainerId, clients, kit, limits, places};
use bavrek_web::App;
use chrono::{DateTime, Days, NaiveDate, Utc};
use uuid::Uuid;

/// Days before today on which was trained.
const DAYS_AGO: [u64; 4] = [13, 10, 6, 3];

/// One client's world.
struct World<'a> {
    app: &'a App,
    trainer: TrainerId,
    person: bavrek_core::person::Person,
    kit: Vec<bavrek_core::kit::KitItem>,
    slots: Vec<PlacedSlot>,
    truths: Vec<Truth>,
    simulation: Simulation,
}

/// Simulates the last two weeks of a session.
pub(super) async fn run(
    app: &App,
    trainer: TrainerId,
    session: Uuid,
    slots: &[Uuid],
    today: NaiveDate,
    seed: u64,
) -> anyhow::Result<()> {
    let head = bavrek_store::sessions::head(&app.pool, trainer, session).await?;
    let client = clients::one(&app.pool, trainer, head.client_id).await?;
    let limits = limits::of_client(&app.pool, trainer, client.id).await?;
    let place = places::one(&app.pool, trainer, head.place_id).await?;
    let mut placed = Vec::new();
    for slot in slots {
        placed.push(slots::one(&app.pool, trainer, *slot).await?);
    }
    let mut world = World {
        app,
        trainer,
        person: client.person(&limits, today),
        kit: kit::place(&app.pool, trainer, &place).await?.kit,
        slots: placed,
        truths: Vec::new(),
        simulation: Simulation::new(seed),
    };
    world.take_first_fits(today).await?;
    for (i, ago) in DAYS_AGO.into_iter().enumerate() {
        let date = today.checked_sub_days(Days::new(ago)).unwrap_or(today);
        world.train(date, i as f64 * 0.5).await?;
        if i + 1 < DAYS_AGO.len() {
            world.take_calls(date).await?;
        }
    }
    Ok(())
}

impl World<'_> {
    /// Takes the best fit for every slot, as a trainer would on the first day.
    async fn take_first_fits(&mut self, today: NaiveDate) -> anyhow::Result<()> {
        for placed in &self.slots {
            let question =
                FitQuestion { today: Some(today), ..FitQuestion::plain(&self.person, &self.kit, &placed.slot.intent) };
            let answer = fit(&self.app.catalogue, &question);
            let best =
                answer.candidates.first().ok_or_else(|| anyhow::anyhow!("no fit for {:?}", placed.slot.intent))?;
            let new = NewFit {
                slot_id: placed.slot.id,
                place_id: placed.session.place_id,
                exercise: &best.movement.id,
                step: best.step(),
                prescription: &best.prescription,
                pinned: false,
            };
            fits::take(&self.app.pool, self.trainer, &new).await?;
            let guess = Ledger::replay(&self.app.catalogue, &self.person, &[], Some(today)).predict(best.movement);
            // A client who was just started cautiously is a little stronger than the start.
            let reference = guess.mean.max(best.step().effective_kg.value().ln()) + 0.05 + self.simulation.deviation();
            self.truths.push(Truth { reference: Kilograms(reference.exp()), weekly_gain: 0.015 });
        }
        Ok(())
    }

    async fn fit_of(&self, placed: &PlacedSlot) -> anyhow::Result<Fit> {
        let fit = fits::of_slot(&self.app.pool, self.trainer, placed.slot.id, placed.session.place_id).await?;
        fit.ok_or_else(|| anyhow::anyhow!("a slot has no fit"))
    }

    async fn train(&mut self, date: NaiveDate, weeks: f64) -> anyhow::Result<()> {
        let day = self.simulation.day();
        let began = date.and_hms_opt(17, 30, 0).unwrap_or_default().and_utc();
        let Some(first) = self.slots.first() else { return Ok(()) };
        let (session, place) = (first.session.id, first.session.place_id);
        let start = Start { session, place, today: date, now: began, script: &serde_json::Value::Null };
        let workout = workouts::begin(&self.app.pool, self.trainer, &start).await?;
        let mut minute = 8;
        for (i, placed) in self.slots.clone().iter().enumerate() {
            let fit = self.fit_of(placed).await?;
            let one_sided =
                self.app.catalogue.movement(&fit.exercise).is_some_and(bavrek_core::movement::Movement::unilateral);
            let sides: &[Option<Side>] = if one_sided { &[Some(Side::Left), Some(Side::Right)] } else { &[None] };
            let mut position = 0;
            for (earlier, plan) in fit.prescription.sets.iter().enumerate() {
                for side in sides {
                    position += 1;
                    let task = Task {
                        load: fit.step.effective_kg,
                        zone: plan.reps.unwrap_or(placed.slot.intent.reps),
                        rir: plan.rir.unwrap_or(placed.slot.intent.reserve()),
                        earlier,
                    };
                    let done = self.simulation.set(&self.truths[i], weeks, day, &task);
                    let seen = if self.simulation.happens(0.05) { vec![Observation::RangeShort] } else { vec![] };
                    let set = LoggedSet {
                        load: fit.step.load,
                        setup: Some(fit.step.setup),
                        effective_kg: Some(fit.step.effective_kg),
                        reps: Some(done.reps),
                        rir: Some(done.rir),
                        tempo: Some(plan.tempo),
                        side: *side,
                        form_kept: Some(true),
                        seen,
                        ..LoggedSet::of(fit.exercise.clone(), date)
                    };
                    minute += 2;
                    let done_at = began + chrono::Duration::minutes(minute);
                    self.append(placed, (position, workout, done_at), &set).await?;
                }
            }
        }
        let ended = began + chrono::Duration::minutes(minute);
        workouts::set_done(&self.app.pool, self.trainer, workout, ended, true).await?;
        Ok(())
    }

    async fn append(
        &self,
        placed: &PlacedSlot,
        (position, workout, done_at): (i16, Uuid, DateTime<Utc>),
        set: &LoggedSet,
    ) -> anyhow::Result<()> {
        let new = NewSet {
            id: bavrek_store::new_id(),
            client_id: placed.session.client_id,
            slot_id: placed.slot.id,
            place_id: placed.session.place_id,
            position,
            effective: set.effective_kg.unwrap_or(Kilograms(0.0)),
            set,
            workout: Some(workout),
            done_at,
            supersedes: None,
        };
        log::append(&self.app.pool, self.trainer, &new).await?;
        Ok(())
    }

    async fn take_calls(&self, date: NaiveDate) -> anyhow::Result<()> {
        for placed in &self.slots {
            let recorded = log::of_client(&self.app.pool, self.trainer, placed.session.client_id, date).await?;
            let of_slot: Vec<_> = recorded.into_iter().filter(|r| r.slot_id == Some(placed.slot.id)).collect();
            let Some(after_set) = of_slot.last().map(|r| r.id) else { continue };
            let history: Vec<LoggedSet> = of_slot.into_iter().map(|r| r.set).collect();
            let fit = self.fit_of(placed).await?;
            let call = next(
                &self.app.catalogue,
                &NextQuestion {
                    person: &self.person,
                    kit: &self.kit,
                    intent: &placed.slot.intent,
                    prescription: &fit.prescription,
                    history: &history,
                    today: date,
                    limits_since: None,
                    planned: Some(&fit.exercise),
                    put_aside: &[],
                    method: None,
                },
            );
            // What asks for another movement is left as it is: the simulated trainer holds.
            let elsewhere = call.exercise.as_deref().is_some_and(|id| id != fit.exercise);
            let moves =
                !elsewhere && !matches!(call.call, CallKind::HarderVariation | CallKind::Swap | CallKind::Refer);
            let decided = if moves { call.call } else { CallKind::Hold };
            let step = call.step.filter(|_| moves).unwrap_or_else(|| fit.step.clone());
            let new = NewFit {
                slot_id: placed.slot.id,
                place_id: placed.session.place_id,
                exercise: &fit.exercise,
                step: &step,
                prescription: &call.prescription,
                pinned: false,
            };
            let decided_at = date.and_hms_opt(20, 0, 0).unwrap_or_default().and_utc();
            let decision = Decision { proposed: call.call, decided, reasons: call.reasons, after_set, decided_at };
            fits::decide(&self.app.pool, self.trainer, &decision, &new).await?;
        }
        Ok(())
    }
}
