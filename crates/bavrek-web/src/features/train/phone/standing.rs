//! How far a workout is: what every phone that shows it agrees on.

use bavrek_store::links::Admitted;
use bavrek_store::{notes, workouts};
use chrono::{DateTime, NaiveDate, Utc};
use serde::Serialize;
use uuid::Uuid;

use super::super::floor::Floor;
use super::super::told::what;
use crate::error::WebError;
use crate::state::App;

/// What was done of a workout.
#[derive(Serialize)]
pub(super) struct Standing {
    day: NaiveDate,
    /// What is done at each slot: where it is another than a phone was given, it asks anew.
    stands: Vec<(Uuid, String, String)>,
    done: Vec<Done>,
    /// What is left out, and why.
    skips: Vec<(Uuid, String)>,
    notes: Vec<String>,
    /// What was said where it was ended early.
    ended: Option<String>,
    /// Now, by the server.
    now: DateTime<Utc>,
}

#[derive(Serialize)]
struct Done {
    id: Uuid,
    slot: Uuid,
    exercise: String,
    name: String,
    side: Option<&'static str>,
    reps: Option<u16>,
    seconds: Option<u16>,
    rir: Option<u8>,
    /// Whether it hurt so that the movement is stopped.
    hurt: bool,
    /// Where.
    pain_at: Option<&'static str>,
    pain: u8,
    at: Option<DateTime<Utc>>,
    what: String,
}

impl Standing {
    pub(super) async fn of(app: &App, who: &Admitted, floor: &Floor) -> Result<Self, WebError> {
        let day = floor.scene.today;
        let (noted, ended) = tokio::try_join!(
            notes::of_session(&app.pool, who.trainer, who.session, day),
            workouts::ended(&app.pool, who.trainer, who.session, day),
        )?;
        let name = |id: &str| app.catalogue.movement(id).map_or(id.to_owned(), |m| m.name.clone());
        let mut done: Vec<Done> = floor
            .posts
            .iter()
            .flat_map(|post| &post.done)
            .map(|r| Done {
                id: r.id,
                slot: r.slot_id.unwrap_or_default(),
                exercise: r.set.exercise.clone(),
                name: name(&r.set.exercise),
                side: r.set.side.map(bavrek_core::person::Side::id),
                reps: r.set.reps,
                seconds: r.set.seconds,
                rir: r.set.rir,
                hurt: r.set.hurt(),
                pain_at: r.set.pain_at.map(bavrek_core::anatomy::Joint::id),
                pain: r.set.pain.unwrap_or(0),
                at: r.done_at,
                what: what(&r.set, app.catalogue.movement(&r.set.exercise)),
            })
            .collect();
        done.sort_by_key(|d| (d.at, d.id));
        Ok(Self {
            day,
            stands: floor.posts.iter().map(|p| (p.slot.id, p.fit.exercise.clone(), p.fit.step.label.clone())).collect(),
            done,
            skips: floor.skips.values().map(|s| (s.slot_id, s.reason.clone())).collect(),
            notes: noted.into_iter().map(|n| n.text).collect(),
            ended: ended.and_then(|(_, why)| why),
            now: app.clock.now(),
        })
    }
}
