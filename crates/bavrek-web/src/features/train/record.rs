//! How a set gets into the log, and what that does to its workout.

use bavrek_core::log::LoggedSet;
use bavrek_core::script::WorkoutState;
use bavrek_core::units::Kilograms;
use bavrek_store::log::{self, NewSet, RecordedSet, Source};
use bavrek_store::workouts::{self, Start};
use bavrek_store::{StoreError, TrainerId};
use chrono::{DateTime, NaiveDate, Utc};
use uuid::Uuid;

use super::course::{Course, Post};
use super::floor::Floor;
use crate::error::WebError;
use crate::state::App;

/// A set that is to be logged.
pub(super) struct New<'a> {
    pub(super) id: Uuid,
    pub(super) slot: Uuid,
    /// Its number within the slot that day, from 1.
    pub(super) position: i16,
    pub(super) set: &'a LoggedSet,
    /// When it was done.
    pub(super) done_at: DateTime<Utc>,
    /// What it corrects.
    pub(super) supersedes: Option<Uuid>,
    /// The turns as a phone was given them, where it was.
    pub(super) script: Option<&'a serde_json::Value>,
}

impl New<'_> {
    /// As the log has it from now on.
    pub(super) fn recorded(&self, place: Uuid) -> RecordedSet {
        RecordedSet {
            id: self.id,
            slot_id: Some(self.slot),
            place_id: Some(place),
            source: Source::Session,
            position: self.position,
            done_at: Some(self.done_at),
            light: false,
            set: self.set.clone(),
        }
    }
}

/// The number of the next set of a slot; a correction keeps that of what it corrects.
pub(super) fn position(post: &Post, corrected: Option<&RecordedSet>) -> i16 {
    corrected.map_or(post.done.len() as i16 + 1, |r| r.position)
}

/// The workout of a day, which begins where it has not: with the turns that were given, else as they are now.
pub(super) async fn begin(
    app: &App,
    trainer: TrainerId,
    course: &Course,
    (today, now): (NaiveDate, DateTime<Utc>),
    given: Option<&serde_json::Value>,
) -> Result<Uuid, StoreError> {
    let script = given.map_or_else(|| serde_json::to_value(&course.script), |given| Ok(given.clone()))?;
    let start = Start { session: course.session.id, place: course.session.place_id, today, now, script: &script };
    workouts::begin(&app.pool, trainer, &start).await
}

/// Stores a set in the workout of its day, which begins with it.
pub(super) async fn store(app: &App, trainer: TrainerId, course: &Course, new: &New<'_>) -> Result<(), StoreError> {
    let workout = begin(app, trainer, course, (new.set.date, new.done_at), new.script).await?;
    let new = NewSet {
        id: new.id,
        client_id: course.session.client_id,
        slot_id: new.slot,
        place_id: course.session.place_id,
        position: new.position,
        // A set told without its load weighs nothing in the log.
        effective: new.set.effective_kg.unwrap_or(Kilograms(0.0)),
        set: new.set,
        workout: Some(workout),
        done_at: new.done_at,
        supersedes: new.supersedes,
    };
    log::append(&app.pool, trainer, &new).await.map(drop)
}

/// The workout of today is done when nothing is left that has to be done, and goes on where a correction or swap opens a turn again.
/// That of another day stays as it is.
pub(super) async fn finish(app: &App, trainer: TrainerId, session: Uuid, day: NaiveDate) -> Result<(), WebError> {
    let floor = Floor::load(app, trainer, session).await?;
    if day == floor.scene.today { say_done(app, trainer, &floor).await } else { Ok(()) }
}

/// The same of the day that a course is of.
pub(super) async fn say_done(app: &App, trainer: TrainerId, course: &Course) -> Result<(), WebError> {
    // Before the first set nothing has begun, whatever was left out.
    if course.done().is_empty() {
        return Ok(());
    }
    let done = course.is_enough();
    let is = if done { WorkoutState::Done } else { WorkoutState::UnderWay };
    let workout = workouts::on_day(&app.pool, trainer, course.session.id, course.day).await?;
    if let Some((id, _)) = workout.filter(|(_, state)| *state != is) {
        workouts::set_done(&app.pool, trainer, id, app.clock.now(), done).await?;
    }
    Ok(())
}
