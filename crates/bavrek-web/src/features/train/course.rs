//! A session on a day as far as it goes: its stations with what was done, what is left out, and the turns. As much as a set needs
//! that comes from a phone; a [`Floor`](super::floor::Floor) knows the client and the room around it as well.

use std::collections::BTreeMap;

use bavrek_core::calendar::light_dose;
use bavrek_core::fit::Mate;
use bavrek_core::log::LoggedSet;
use bavrek_core::movement::Movement;
use bavrek_core::person::Side;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::script::{self, Block, DoneTurn, Script, Station, Turn};
use bavrek_core::set_ups;
use bavrek_core::spot;
use bavrek_store::fits::{self, Fit};
use bavrek_store::log::{self, RecordedSet};
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::skips::{self, Skip};
use bavrek_store::slots::Slot;
use bavrek_store::spot_swaps::{self, SpotSwap};
use bavrek_store::{StoreError, TrainerId, connection};
use chrono::NaiveDate;
use uuid::Uuid;

use super::pain_free;
use crate::features::scene::Scene;
use crate::state::App;

/// What is done at a slot today, and how much of it was.
pub(super) struct Post {
    pub(super) slot: Slot,
    pub(super) fit: Fit,
    /// What the fit stands in for today.
    pub(super) swap: Option<Instead>,
    /// Sets of today, in the order of the log.
    pub(super) done: Vec<RecordedSet>,
    /// How its block is done.
    pub(super) kind: BlockKind,
}

/// A swap on the spot.
pub(super) struct Instead {
    /// Its identifier.
    pub(super) id: Uuid,
    /// The plan's movement.
    pub(super) of: String,
    /// Why, for example `the bench is taken`.
    pub(super) reason: String,
}

impl Post {
    /// The set of today that stopped the movement: it hurt.
    fn stopping(&self) -> Option<&LoggedSet> {
        spot::stopping(self.done.iter().map(|r| &r.set), &self.fit.exercise)
    }

    /// Whether it hurt today in the movement that stands here now.
    pub(super) fn is_stopped(&self) -> bool {
        self.stopping().is_some()
    }

    /// What does not hurt instead; the page that asks where, if that was not told.
    pub(super) fn without_pain(&self) -> String {
        match self.stopping().and_then(|set| Some((set, set.pain_at?))) {
            Some((set, joint)) => pain_free(self.slot.id, joint, set.pain_side, set.pain),
            None => format!("/slots/{}/spot", self.slot.id),
        }
    }

    /// What the page shows, by name: the fit or swap it stands on, and the day. A form that carries another one was
    /// filled in before something changed.
    pub(super) fn shown(&self, today: NaiveDate) -> Shown {
        Shown { fit: self.fit.id, swap: self.swap.as_ref().map(|s| s.id), day: today }
    }
}

/// What a form was filled in against.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Shown {
    pub(super) fit: Uuid,
    pub(super) swap: Option<Uuid>,
    pub(super) day: NaiveDate,
}

impl Shown {
    pub(super) fn text(&self) -> String {
        let swap = self.swap.map_or_else(String::new, |s| s.to_string());
        format!("{}.{swap}.{}", self.fit, self.day)
    }

    pub(super) fn read(text: &str) -> Option<Self> {
        let mut parts = text.splitn(3, '.');
        let (fit, swap, day) = (parts.next()?, parts.next()?, parts.next()?);
        let swap = if swap.is_empty() { None } else { Some(swap.parse().ok()?) };
        Some(Self { fit: fit.parse().ok()?, swap, day: day.parse().ok()? })
    }
}

/// A session on a day.
pub(super) struct Course {
    /// With the place, turn and weight of the workout of that day.
    pub(super) session: SessionHead,
    pub(super) day: NaiveDate,
    pub(super) posts: Vec<Post>,
    /// What is left out, by slot.
    pub(super) skips: BTreeMap<Uuid, Skip>,
    pub(super) script: Script<Uuid>,
    /// What the script was written of.
    pub(super) blocks: Vec<Block<Uuid>>,
}

/// What is known of a client while their turns are laid out.
pub(super) trait Known {
    /// A fit as the day does it.
    fn of_the_day(&self, app: &App, intent: &Intent, fit: Fit) -> Fit;
    /// The side that begins in a movement.
    fn first_side(&self, movement: &Movement) -> Side;
    /// Sets of a slot on the day, in the order of the log.
    fn done(&self, slot: Uuid) -> Vec<RecordedSet>;
}

impl Known for Scene {
    fn of_the_day(&self, app: &App, intent: &Intent, fit: Fit) -> Fit {
        self.for_the_day(app, intent, fit)
    }

    fn first_side(&self, movement: &Movement) -> Side {
        script::first_side(self.history().iter(), &movement.id, self.today)
    }

    fn done(&self, slot: Uuid) -> Vec<RecordedSet> {
        self.done_today(slot).cloned().collect()
    }
}

/// The sets of the day alone: enough to tell which turns are done, whatever their loads and whichever side began.
struct OfTheDay {
    light: bool,
    sets: Vec<RecordedSet>,
}

impl Known for OfTheDay {
    fn of_the_day(&self, _: &App, _: &Intent, fit: Fit) -> Fit {
        if self.light { Fit { prescription: light_dose(&fit.prescription), ..fit } } else { fit }
    }

    fn first_side(&self, _: &Movement) -> Side {
        Side::Left
    }

    fn done(&self, slot: Uuid) -> Vec<RecordedSet> {
        self.sets.iter().filter(|r| r.slot_id == Some(slot)).cloned().collect()
    }
}

/// The fit with the movement, step and dose of a swap in its place.
fn swapped(fit: Fit, swap: SpotSwap) -> (Fit, Instead) {
    let SpotSwap { id, exercise, step, prescription, reason, .. } = swap;
    let of = fit.exercise;
    (Fit { exercise, step, prescription, ..fit }, Instead { id, of, reason })
}

impl Course {
    /// As it was on a day, from the sets of that day alone: what was begun then stays as it was given, whatever is next.
    pub(super) async fn on(app: &App, trainer: TrainerId, session: Uuid, day: NaiveDate) -> Result<Self, StoreError> {
        let mut own = connection(&app.pool).await?;
        let head = sessions::head(&mut *own, trainer, session).await?;
        let head = sessions::as_begun(&mut *own, trainer, head, day).await?;
        let sets = log::of_session(&mut *own, trainer, session, day).await?;
        drop(own);
        let known = OfTheDay { light: head.light, sets };
        Self::of(app, trainer, head, day, &known).await
    }

    /// The turns of a session on a day, with what is known.
    pub(super) async fn of(
        app: &App,
        trainer: TrainerId,
        session: SessionHead,
        day: NaiveDate,
        known: &impl Known,
    ) -> Result<Self, StoreError> {
        let (id, place) = (session.id, session.place_id);
        let mut own = connection(&app.pool).await?;
        let fits = fits::for_turn(&mut *own, trainer, id, session.turn).await?;
        let mut swaps = spot_swaps::of_session(&mut *own, trainer, id, place, day).await?;
        let skips = skips::of_session(&mut *own, trainer, id, day).await?;
        let planned = sessions::blocks(&mut *own, trainer, id).await?;
        drop(own);
        let here = fits.into_iter().filter(|fit| fit.place_id == place);
        let mut fits: BTreeMap<Uuid, Fit> = here.map(|fit| (fit.slot_id, fit)).collect();
        let (mut posts, mut blocks): (Vec<Post>, Vec<Block<Uuid>>) = (Vec::new(), Vec::new());
        for block in planned {
            let mut stations = Vec::new();
            for slot in block.slots {
                let Some(fit) = fits.remove(&slot.id) else { continue };
                // A swap stands in for the fit it was made for, no other. It was made for this day, lighter where that is.
                let swap = swaps.remove(&slot.id).filter(|s| s.instead_of == fit.exercise);
                let (fit, swap) = match swap {
                    Some(swap) => {
                        let (fit, instead) = swapped(fit, swap);
                        (fit, Some(instead))
                    }
                    None => (known.of_the_day(app, &slot.intent, fit), None),
                };
                if let Some(movement) = app.catalogue.movement(&fit.exercise) {
                    let first = known.first_side(movement);
                    stations.push(Station::of(slot.id, movement, &fit.step, fit.prescription.clone(), first));
                }
                let done = known.done(slot.id);
                posts.push(Post { slot, fit, swap, done, kind: block.kind });
            }
            blocks.push(Block { kind: block.kind, stations });
        }
        let done = posts
            .iter()
            .filter_map(|p| Some(Mate { movement: app.catalogue.movement(&p.fit.exercise)?, step: &p.fit.step }));
        set_ups::settle(&mut blocks, &done.collect::<Vec<_>>());
        Ok(Self { session, day, posts, skips, script: Script::of(&blocks), blocks })
    }

    /// Adds a set that was logged since, in the place of the one that it corrects.
    pub(super) fn add(&mut self, slot: Uuid, set: RecordedSet, supersedes: Option<Uuid>) {
        let Some(post) = self.posts.iter_mut().find(|p| p.slot.id == slot) else { return };
        post.done.retain(|r| r.id != set.id && Some(r.id) != supersedes);
        post.done.push(set);
    }

    pub(super) fn post(&self, slot: Uuid) -> Option<&Post> {
        self.posts.iter().find(|p| p.slot.id == slot)
    }

    /// What was done today, in the order in which it was logged.
    pub(super) fn done(&self) -> Vec<DoneTurn<Uuid>> {
        let mut all: Vec<(&RecordedSet, Uuid)> =
            self.posts.iter().flat_map(|p| p.done.iter().map(|r| (r, p.slot.id))).collect();
        all.sort_by_key(|(r, _)| (r.done_at, r.id));
        let turn = |(r, key): (&RecordedSet, Uuid)| DoneTurn { key, side: r.set.side, reps: r.set.reps.unwrap_or(0) };
        all.into_iter().map(turn).collect()
    }

    /// Slots whose movement hurt today, and those that are left out.
    pub(super) fn closed(&self) -> Vec<Uuid> {
        let closed = |p: &&Post| p.is_stopped() || self.skips.contains_key(&p.slot.id);
        self.posts.iter().filter(closed).map(|p| p.slot.id).collect()
    }

    /// The turn that comes next.
    pub(super) fn next(&self) -> Option<&Turn<Uuid>> {
        self.script.next(&self.done(), &self.closed())
    }

    /// Slots that may be left out, each with how many of them are wanted.
    fn optional(&self) -> Vec<(Uuid, u8)> {
        self.posts.iter().filter_map(|p| Some((p.slot.id, p.slot.intent.optional?))).collect()
    }

    /// Whether nothing that is left has to be done.
    pub(super) fn is_enough(&self) -> bool {
        self.script.is_enough(&self.done(), &self.closed(), &self.optional())
    }

    /// Slots that may be left out and of which something is still to be done.
    pub(super) fn may_be_left(&self) -> Vec<Uuid> {
        self.script.may_be_left(&self.done(), &self.closed(), &self.optional())
    }

    /// The next turn of a slot; after its last one, that one once more.
    pub(super) fn turn_of(&self, slot: Uuid) -> Option<&Turn<Uuid>> {
        let open = self.script.next_of(slot, &self.done());
        open.or_else(|| self.script.turns.iter().rfind(|t| t.key == slot))
    }

    /// The latest set of today.
    pub(super) fn latest(&self) -> Option<&RecordedSet> {
        self.posts.iter().flat_map(|p| &p.done).max_by_key(|r| (r.done_at, r.id))
    }
}
