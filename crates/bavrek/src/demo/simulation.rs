//! Weeks of training: fits taken, sets done by a seeded virtual client, calls taken after every workout but the last. Who has a
//! second room was there for two weeks.

use bavrek_core::anatomy::Pattern;
use bavrek_core::evaluate::{Client, Task, World};
use bavrek_core::fit::{Fitter, Room};
use bavrek_core::kit::KitItem;
use bavrek_core::log::{LoggedSet, Observation};
use bavrek_core::movement::{Movement, Style};
use bavrek_core::person::{Person, Side};
use bavrek_core::progress::{CallKind, NextQuestion, next_by};
use bavrek_core::strength::Ledger;
use bavrek_core::units::Kilograms;
use bavrek_store::decisions::{self, Decision};
use bavrek_store::fits::{self, Fit, NewFit};
use bavrek_store::log::{self, NewSet};
use bavrek_store::slots::{self, PlacedSlot};
use bavrek_store::workouts::{self, Start};
use bavrek_store::{TrainerId, clients, connection, kit, limits, places};
use bavrek_web::App;
use chrono::{DateTime, Days, NaiveDate, Utc};
use uuid::Uuid;

/// Days before today on which was trained lately; before that twice a week.
const DAYS_AGO: [u64; 4] = [13, 10, 6, 3];
/// Weeks before today that were spent in the second room.
const AWAY: std::ops::Range<u64> = 6..8;
/// Weeks before today in which a joint hurt, of a long history.
const HURT: u64 = 9;
/// The world that all clients of the demo live in.
const WORLD: u64 = 7;
/// Seconds of a hold that are as hard as a repetition.
const SECONDS_A_REP: u16 = 3;
/// Share of sessions that were missed in a long history.
const MISSED: f64 = 0.08;

/// What is simulated.
pub(super) struct Asked<'a> {
    pub(super) session: Uuid,
    pub(super) slots: &'a [Uuid],
    /// Home, and where else the client trains.
    pub(super) rooms: &'a [Uuid],
    pub(super) weeks: u64,
    pub(super) seed: u64,
}

/// A room that the client trains in.
struct Place {
    id: Uuid,
    kit: Vec<KitItem>,
}

/// One client's world.
struct Story<'a> {
    app: &'a App,
    trainer: TrainerId,
    person: Person,
    slots: Vec<PlacedSlot>,
    client: Client,
    /// What was logged, with its slot and identifier.
    history: Vec<(Option<Uuid>, Uuid, LoggedSet)>,
    last_day: Option<NaiveDate>,
    today: NaiveDate,
    /// The day from which the newest limit counts.
    limits_since: Option<NaiveDate>,
}

/// Simulates the weeks of a session up to a few days ago.
pub(super) async fn run(app: &App, trainer: TrainerId, asked: &Asked<'_>, today: NaiveDate) -> anyhow::Result<()> {
    let head = bavrek_store::sessions::head(&app.pool, trainer, asked.session).await?;
    let client = clients::one(&app.pool, trainer, head.client_id).await?;
    let limits = limits::of_client(&app.pool, trainer, client.id).await?;
    let person = client.person(&limits, today);
    let mut rooms = Vec::new();
    for id in asked.rooms {
        let place = places::one(&app.pool, trainer, *id).await?;
        rooms.push(Place { id: *id, kit: kit::place(&mut *connection(&app.pool).await?, trainer, &place).await?.kit });
    }
    let mut placed = Vec::new();
    for slot in asked.slots {
        placed.push(slots::one(&app.pool, trainer, *slot).await?);
    }
    let told = log::of_client(&app.pool, trainer, client.id, today).await?;
    let history: Vec<_> = told.into_iter().map(|r| (r.slot_id, r.id, r.set)).collect();
    let mut story = Story {
        client: strong_as_told(app, &person, &history, asked.seed),
        app,
        trainer,
        person,
        slots: placed,
        history,
        last_day: None,
        today,
        limits_since: limits.iter().map(|l| l.since).max(),
    };
    story.live(asked.weeks, &rooms, today).await
}

/// A virtual client who is as strong as the sets say that were told, give or take a little.
fn strong_as_told(app: &App, person: &Person, told: &[(Option<Uuid>, Uuid, LoggedSet)], seed: u64) -> Client {
    let sets: Vec<LoggedSet> = told.iter().map(|(_, _, set)| set.clone()).collect();
    let ledger = Ledger::replay(&app.catalogue, person, &sets, None);
    let world = World::new(&app.catalogue, WORLD);
    let client = Client::of(&app.catalogue, &world, person.clone(), seed);
    app.catalogue.priors.values().enumerate().fold(client, |client, (i, prior)| {
        // A client who was just started cautiously is a little stronger than the start.
        let more = [0.08, 0.03, 0.12, 0.05, 0.02, 0.1, 0.06][(i + seed as usize) % 7];
        client.with_level(&prior.id, ledger.level(prior).0 + more)
    })
}

impl Story<'_> {
    async fn live(&mut self, weeks: u64, rooms: &[Place], today: NaiveDate) -> anyhow::Result<()> {
        let earlier = (2..weeks).rev().flat_map(|week| [7 * week + 6, 7 * week + 3]);
        let days: Vec<u64> = earlier.chain(DAYS_AGO).collect();
        let mut known: Vec<Uuid> = Vec::new();
        for (i, ago) in days.iter().enumerate() {
            let date = today.checked_sub_days(Days::new(*ago)).unwrap_or(today);
            let away = weeks > 2 && AWAY.contains(&(ago / 7));
            let Some(room) = rooms.get(usize::from(away && rooms.len() > 1)) else { continue };
            if !known.contains(&room.id) {
                self.take_fits(room, date).await?;
                known.push(room.id);
            }
            if *ago > 14 && self.client.happens(MISSED) {
                continue;
            }
            self.train(room, date, weeks > 2 && ago / 7 == HURT).await?;
            if i + 1 < days.len() {
                self.take_calls(room, date).await?;
            }
        }
        Ok(())
    }

    /// Takes the best fit for every slot, as a trainer would on the first day in a room.
    async fn take_fits(&self, room: &Place, date: NaiveDate) -> anyhow::Result<()> {
        let sets: Vec<LoggedSet> = self.history.iter().map(|(_, _, set)| set.clone()).collect();
        let fitter = Fitter::new(&self.app.catalogue, Room::plain(&self.person, &room.kit), &sets, Some(date));
        for placed in &self.slots {
            let answer = fitter.fit(&placed.slot.intent);
            let best =
                answer.candidates.first().ok_or_else(|| anyhow::anyhow!("no fit for {:?}", placed.slot.intent))?;
            let new = NewFit {
                slot_id: placed.slot.id,
                place_id: room.id,
                exercise: &best.movement.id,
                step: best.step(),
                prescription: &best.prescription,
                pinned: false,
            };
            fits::take(&self.app.pool, self.trainer, &new).await?;
        }
        Ok(())
    }

    async fn fit_of(&self, placed: &PlacedSlot, room: &Place) -> anyhow::Result<Fit> {
        let fit = fits::of_slot(&self.app.pool, self.trainer, placed.slot.id, room.id).await?;
        fit.ok_or_else(|| anyhow::anyhow!("a slot has no fit"))
    }

    async fn train(&mut self, room: &Place, date: NaiveDate, hurts: bool) -> anyhow::Result<()> {
        self.client.wake();
        let gap = self.last_day.map_or(0, |last| (date - last).num_days());
        let began = date.and_hms_opt(17, 30, 0).unwrap_or_default().and_utc();
        let Some(session) = self.slots.first().map(|s| s.session.id) else { return Ok(()) };
        let start = Start { session, place: room.id, today: date, now: began, script: &serde_json::Value::Null };
        let workout = workouts::begin(&self.app.pool, self.trainer, &start).await?;
        let mut minute = 8;
        for (i, placed) in self.slots.clone().iter().enumerate() {
            let fit = self.fit_of(placed, room).await?;
            let Some(movement) = self.app.catalogue.movement(&fit.exercise) else { continue };
            self.client.rest(&movement.carry_over.pattern, gap);
            let sore = hurts && i + 1 == self.slots.len();
            self.station(placed, (&fit, movement, room), (workout, began, &mut minute), sore).await?;
            self.client.practise(movement);
            // The clients of a demo are keen: each session counts for two.
            self.client.grow(&movement.carry_over.pattern, 1.0, 1.0);
        }
        let ended = began + chrono::Duration::minutes(minute);
        workouts::set_done(&self.app.pool, self.trainer, workout, ended, true).await?;
        self.last_day = Some(date);
        Ok(())
    }

    /// All sets of a line on a day.
    async fn station(
        &mut self,
        placed: &PlacedSlot,
        (fit, movement, room): (&Fit, &Movement, &Place),
        (workout, began, minute): (Uuid, DateTime<Utc>, &mut i64),
        sore: bool,
    ) -> anyhow::Result<()> {
        let sides: &[Option<Side>] =
            if movement.unilateral() { &[Some(Side::Left), Some(Side::Right)] } else { &[None] };
        let mut position = 0;
        for (earlier, plan) in fit.prescription.sets.iter().enumerate() {
            for side in sides {
                position += 1;
                *minute += 2;
                // Three seconds of a hold stand for a repetition.
                let asked = plan.seconds.filter(|_| movement.style == Style::Hold);
                let zone = asked.map(|s| [1, s.div_ceil(SECONDS_A_REP)]);
                let task = Task {
                    log_load: fit.step.effective_kg.value().ln(),
                    zone: zone.unwrap_or(plan.reps.unwrap_or(placed.slot.intent.dose.reps)),
                    rir: plan.rir.unwrap_or(placed.slot.intent.dose.reserve()),
                    earlier,
                    per_rep: plan.tempo.seconds().value(),
                };
                let done = self.client.perform(movement, &task, sore);
                let seen = if self.client.happens(0.05) { vec![Observation::RangeShort] } else { vec![] };
                let set = LoggedSet {
                    load: fit.step.load,
                    setup: Some(fit.step.setup),
                    effective_kg: Some(fit.step.effective_kg),
                    bands: fit.step.bands.clone(),
                    reps: asked.is_none().then_some(done.reps),
                    seconds: asked.map(|s| s.min(SECONDS_A_REP * done.reps.max(1))),
                    rir: Some(done.said),
                    tempo: Some(plan.tempo),
                    side: *side,
                    form_kept: Some(true),
                    pain: (sore && earlier == 0).then_some(5),
                    pain_at: (sore && earlier == 0).then_some(bavrek_core::anatomy::Joint::Elbow),
                    seen,
                    ..LoggedSet::of(fit.exercise.clone(), began.date_naive())
                };
                let done_at = began + chrono::Duration::minutes(*minute);
                self.append((placed, room), (position, workout, done_at), set).await?;
            }
        }
        Ok(())
    }

    async fn append(
        &mut self,
        (placed, room): (&PlacedSlot, &Place),
        (position, workout, done_at): (i16, Uuid, DateTime<Utc>),
        set: LoggedSet,
    ) -> anyhow::Result<()> {
        let new = NewSet {
            id: bavrek_store::new_id(),
            client_id: placed.session.client_id,
            slot_id: placed.slot.id,
            place_id: room.id,
            position,
            effective: set.effective_kg.unwrap_or(Kilograms(0.0)),
            set: &set,
            workout: Some(workout),
            done_at,
            supersedes: None,
        };
        log::append(&self.app.pool, self.trainer, &new).await?;
        self.history.push((Some(placed.slot.id), new.id, set));
        Ok(())
    }

    async fn take_calls(&self, room: &Place, date: NaiveDate) -> anyhow::Result<()> {
        let sets: Vec<LoggedSet> = self.history.iter().map(|(_, _, set)| set.clone()).collect();
        let ledger = Ledger::replay(&self.app.catalogue, &self.person, &sets, Some(date));
        for placed in &self.slots {
            let last = self.history.iter().rev().find(|(slot, ..)| *slot == Some(placed.slot.id));
            let Some(after_set) = last.map(|(_, id, _)| *id) else { continue };
            let fit = self.fit_of(placed, room).await?;
            let question = NextQuestion {
                person: &self.person,
                kit: &room.kit,
                intent: &placed.slot.intent,
                prescription: &fit.prescription,
                history: &sets,
                today: date,
                limits_since: self.limits_since,
                planned: Some(&fit.exercise),
                put_aside: &[],
                method: None,
                missed: &[],
            };
            let call = next_by(&self.app.catalogue, &question, &ledger);
            // What names no step is left as it is: the simulated trainer holds, as lately with what is new.
            let lately = self.today.signed_duration_since(date).num_days() < 14;
            let elsewhere = call.exercise.as_deref().is_some_and(|id| id != fit.exercise);
            // The dumbbell row is liked and stays.
            let lately = lately || placed.slot.intent.pattern == Pattern::CloseRow;
            let moves =
                call.step.is_some() && !matches!(call.call, CallKind::Swap | CallKind::Refer) && !(elsewhere && lately);
            let decided = if moves { call.call } else { CallKind::Hold };
            let exercise = call.exercise.as_deref().filter(|_| moves).unwrap_or(&fit.exercise);
            let step = call.step.clone().filter(|_| moves).unwrap_or_else(|| fit.step.clone());
            let prescription = if moves { &call.prescription } else { &fit.prescription };
            let new = NewFit {
                slot_id: placed.slot.id,
                place_id: room.id,
                exercise,
                step: &step,
                prescription,
                pinned: false,
            };
            let decision = Decision {
                proposed: call.call,
                step: call.step.as_ref().map(|s| s.label.clone()),
                decided,
                refused: false,
                note: String::new(),
                reasons: call.told(),
                after_set,
                decided_at: date.and_hms_opt(20, 0, 0).unwrap_or_default().and_utc(),
            };
            decisions::decide(&self.app.pool, self.trainer, &decision, &new).await?;
        }
        Ok(())
    }
}
