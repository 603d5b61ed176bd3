//! A session in progress, with the client and the room: what a page needs to show it and to offer another way.

use std::collections::BTreeMap;
use std::ops::{Deref, DerefMut};

use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::spares::{self, Spare};
use bavrek_store::{TrainerId, clients, connection};
use chrono::NaiveDate;
use uuid::Uuid;

use super::course::Course;
pub(super) use super::course::{Post, Shown};
use crate::error::WebError;
use crate::features::scene::Scene;
use crate::state::App;

/// A session in progress.
pub(super) struct Floor {
    course: Course,
    pub(super) scene: Scene,
    /// What stands ready, by slot.
    pub(super) spares: BTreeMap<Uuid, Spare>,
}

impl Deref for Floor {
    type Target = Course;

    fn deref(&self) -> &Course {
        &self.course
    }
}

impl DerefMut for Floor {
    fn deref_mut(&mut self) -> &mut Course {
        &mut self.course
    }
}

impl Floor {
    pub(super) async fn load(app: &App, trainer: TrainerId, session: Uuid) -> Result<Self, WebError> {
        let mut own = connection(&app.pool).await?;
        let head = sessions::head(&mut *own, trainer, session).await?;
        let client = clients::one(&mut *own, trainer, head.client_id).await?;
        drop(own);
        let today = app.clock.today(&client.time_zone);
        Self::on(app, trainer, head, today).await
    }

    /// The same as it was on a day: of what comes late.
    pub(super) async fn on(app: &App, trainer: TrainerId, head: SessionHead, day: NaiveDate) -> Result<Self, WebError> {
        // What was begun on that day stays as it was given, whatever is next.
        let head = sessions::as_begun(&app.pool, trainer, head, day).await?;
        Self::of(app, trainer, head, day).await
    }

    /// The same as it is planned for a day: of what is still to come.
    pub(super) async fn planned(
        app: &App,
        trainer: TrainerId,
        head: SessionHead,
        day: NaiveDate,
    ) -> Result<Self, WebError> {
        let head = sessions::as_planned(&app.pool, trainer, head, day).await?;
        Self::of(app, trainer, head, day).await
    }

    async fn of(app: &App, trainer: TrainerId, head: SessionHead, day: NaiveDate) -> Result<Self, WebError> {
        let mut scene = Scene::load(app, trainer, &head).await?;
        scene.today = day;
        let (session, place) = (head.id, head.place_id);
        let (course, spares) = tokio::try_join!(
            Course::of(app, trainer, head, day, &scene),
            spares::of_session(&app.pool, trainer, session, place),
        )?;
        Ok(Self { course, scene, spares })
    }

    /// What stands ready for a post, in words: of the movement it was found for, while it can be done.
    pub(super) fn ready(&self, app: &App, post: &Post) -> Option<String> {
        let spare = self.spares.get(&post.slot.id).filter(|s| s.instead_of == post.fit.exercise)?;
        let movement = app.catalogue.movement(&spare.exercise)?;
        let stands = self.scene.stands_no_more(app, &spare.exercise, &spare.step).is_none();
        let now = || self.scene.step_now(app, &spare.exercise, &spare.step).label;
        stands.then(|| format!("{}, {}", movement.name, now()))
    }
}
