//! The table on which a session lies: its blocks with what is done in them, its clock, and what the week makes of it.

use std::collections::BTreeMap;
use std::sync::Arc;

use bavrek_core::aims::Aims;
use bavrek_core::anatomy::Region;
use bavrek_core::clock::{self, Clock};
use bavrek_core::dose::Prescription;
use bavrek_core::fit::{BlockConflict, Mate, Repair, block_conflicts, repair};
use bavrek_core::ladder::Ladder;
use bavrek_core::movement::Movement;
use bavrek_core::plan::BlockKind;
use bavrek_core::progress::Call;
use bavrek_core::script::{self, Block, Script, Station, WorkoutState};
use bavrek_core::set_ups;
use bavrek_core::units::Seconds;
use bavrek_core::volume::{self, Volume};
use bavrek_core::warm_up::{Ahead, WarmUp, cool_down};
use bavrek_store::boards::{self, Standing};
use bavrek_store::decisions;
use bavrek_store::fits::{self, Fit, Planned};
use bavrek_store::places::{self, PlaceHead};
use bavrek_store::sessions::{self, SessionHead};
use bavrek_store::slots::Slot;
use bavrek_store::workouts::{self, Day};
use bavrek_store::{TrainerId, aims, connection};
use chrono::{Duration, NaiveDate};
use uuid::Uuid;

use crate::error::WebError;
use crate::features::scene::Scene;
use crate::state::App;

/// A slot as it lies on the table.
pub(super) struct Piece<'a> {
    pub(super) slot: Slot,
    /// What is done there, where something is.
    pub(super) done: Option<Done<'a>>,
    /// What comes next, where nobody has decided about it yet.
    pub(super) call: Option<Call>,
}

/// What is done at a slot.
pub(super) struct Done<'a> {
    pub(super) fit: Fit,
    pub(super) movement: &'a Movement,
    pub(super) ladder: Arc<Ladder>,
}

/// Pieces that lie together.
pub(super) struct Together<'a> {
    pub(super) kind: BlockKind,
    pub(super) pieces: Vec<Piece<'a>>,
    /// What they cost each other a round, with the step that would spare it.
    pub(super) conflicts: Vec<(BlockConflict, Option<Repair>)>,
    /// Rounds: the most sets of its pieces.
    pub(super) rounds: usize,
}

impl<'a> Together<'a> {
    /// Whether its pieces are done by turns.
    pub(super) fn alternates(&self) -> bool {
        self.kind != BlockKind::Straight && self.pieces.len() > 1
    }

    /// The pieces that have something to do, in order.
    pub(super) fn done(&self) -> impl Iterator<Item = &Done<'a>> {
        self.pieces.iter().filter_map(|p| p.done.as_ref())
    }
}

/// A session on the table.
pub(super) struct Table<'a> {
    pub(super) head: SessionHead,
    pub(super) scene: Scene,
    pub(super) blocks: Vec<Together<'a>>,
    pub(super) standing: Standing,
    pub(super) script: Script<Uuid>,
    pub(super) warm_up: WarmUp<Uuid>,
    pub(super) clock: Clock<Uuid>,
    /// Sets of this session.
    pub(super) own: Volume,
    /// Sets of the week: done, planned elsewhere, and of this session where it is still to come.
    pub(super) week: Volume,
    /// What the trainer wants; none where nobody said so yet.
    pub(super) aims: Option<Aims>,
    /// Places of the client, and days on which the session was done or is planned.
    pub(super) places: Vec<PlaceHead>,
    pub(super) days: Vec<Day>,
}

impl<'a> Table<'a> {
    pub(super) async fn load(app: &'a App, trainer: TrainerId, session: Uuid) -> Result<Self, WebError> {
        let mut own = connection(&app.pool).await?;
        let head = sessions::head(&mut *own, trainer, session).await?;
        let around = around(app.clock.now().date_naive());
        // Its own connection is given back as soon as it has answered: the other may be waiting for it.
        let (scene, (fits, decided, laid, standing, aims, planned, places, days)) =
            tokio::try_join!(Scene::load(app, trainer, &head), async move {
                Ok((
                    fits::of_session(&mut *own, trainer, session, head.place_id).await?,
                    decisions::decided_after(&mut *own, trainer, session).await?,
                    sessions::blocks(&mut *own, trainer, session).await?,
                    boards::standing(&mut *own, trainer, session).await?,
                    aims::of_client(&mut *own, trainer, head.client_id).await?,
                    fits::planned(&mut *own, trainer, head.client_id, around).await?,
                    places::of_client(&mut *own, trainer, head.client_id).await?,
                    workouts::of_session(&mut *own, trainer, session).await?,
                ))
            })?;
        let mut fits = scene.all_now(app, fits);
        let ledger = scene.ledger(app);
        let mut blocks = Vec::new();
        for block in laid {
            let mut pieces = Vec::new();
            for slot in block.slots {
                let fit = fits.remove(&slot.id);
                let call = fit.as_ref().and_then(|fit| scene.call_by(app, &ledger, &slot, fit));
                let call = call.filter(|(_, after)| decided.get(&slot.id) != Some(after)).map(|(call, _)| call);
                let done = fit.and_then(|fit| {
                    let movement = app.catalogue.movement(&fit.exercise)?;
                    let ladder = scene.ladder(app, movement, &slot.intent);
                    Some(Done { fit, movement, ladder })
                });
                pieces.push(Piece { slot, done, call });
            }
            blocks.push(Together { kind: block.kind, pieces, conflicts: Vec::new(), rounds: 0 });
        }
        let (script, warm_up) = (written(&blocks, &scene), warmed(&blocks, &scene));
        for (place, block) in blocks.iter_mut().enumerate() {
            let turns = script.turns.iter().filter(|t| t.block == place);
            block.rounds = turns.map(|t| t.round + 1).max().unwrap_or(0);
            block.conflicts = in_the_way(block, &scene);
        }
        let clock = clock_of(&script, &warm_up, &blocks);
        let mut own = Volume::default();
        plan(&mut own, &blocks);
        let week = week(app, &head, &scene, (&planned, &blocks));
        let aims = aims.into_iter().next().map(|a| a.aims);
        Ok(Self { head, scene, blocks, standing, script, warm_up, clock, own, week, aims, places, days })
    }

    /// The clock of another script of this session.
    pub(super) fn clock_of(&self, script: &Script<Uuid>) -> Clock<Uuid> {
        clock_of(script, &self.warm_up, &self.blocks)
    }

    /// How long these blocks take with these doses, each slot with what is done there now. Slots without are left out.
    pub(super) fn long(&self, blocks: &[(BlockKind, Vec<Uuid>)], doses: &BTreeMap<Uuid, Prescription>) -> Seconds {
        let ahead = |key: &Uuid| {
            let (dose, done) = (doses.get(key)?, self.find(*key)?.1.done.as_ref()?);
            Some(Ahead { key: *key, movement: done.movement, ladder: &done.ladder, step: &done.fit.step, dose })
        };
        let blocks: Vec<(BlockKind, Vec<Ahead<'_, Uuid>>)> =
            blocks.iter().map(|(kind, keys)| (*kind, keys.iter().filter_map(ahead).collect())).collect();
        clock::of_session(&self.scene.person, &self.scene.place.kit, &blocks).total()
    }

    /// The main region of what is done at a piece, what the week has of it without so many sets, and the least it is to have.
    pub(super) fn left_of(&self, app: &App, piece: &Piece<'_>, sets: usize) -> Option<(Region, f64, Option<f64>)> {
        let movement = piece.done.as_ref()?.movement;
        let region = movement.main_region()?;
        let weight = movement.direct.get(&region)?;
        let left = (self.week.of(region).total() - weight * sets as f64).max(0.0);
        let experience = self.scene.client.experience;
        let least = self.aims.as_ref().map(|a| a.weekly_sets(region, &app.intake.volumes, experience)[0]);
        Some((region, left, least))
    }

    /// A piece by its slot, with its block.
    pub(super) fn find(&self, slot: Uuid) -> Option<(&Together<'a>, &Piece<'a>)> {
        self.blocks.iter().find_map(|b| Some((b, b.pieces.iter().find(|p| p.slot.id == slot)?)))
    }

    pub(super) fn pieces(&self) -> impl Iterator<Item = &Piece<'a>> {
        self.blocks.iter().flat_map(|b| &b.pieces)
    }
}

/// The clock of a script, with what the pieces of its blocks cost each other.
fn clock_of(script: &Script<Uuid>, warm_up: &WarmUp<Uuid>, blocks: &[Together<'_>]) -> Clock<Uuid> {
    let mut clock = Clock::of(script, Some(warm_up), cool_down());
    for (place, block) in blocks.iter().enumerate() {
        for (conflict, _) in &block.conflicts {
            clock = clock.slowed(place, conflict.added());
        }
    }
    clock
}

fn written(blocks: &[Together<'_>], scene: &Scene) -> Script<Uuid> {
    let station = |piece: &Piece<'_>| {
        let done = piece.done.as_ref()?;
        let log = scene.history().iter();
        let first = script::first_side(log, &done.movement.id, scene.today);
        Some(Station::of(piece.slot.id, done.movement, &done.fit.step, done.fit.prescription.clone(), first))
    };
    let mut written: Vec<Block<Uuid>> = blocks
        .iter()
        .map(|b| Block { kind: b.kind, stations: b.pieces.iter().filter_map(station).collect() })
        .collect();
    let all: Vec<Mate<'_>> = blocks.iter().flat_map(Together::done).map(Done::mate).collect();
    set_ups::settle(&mut written, &all);
    Script::of(&written)
}

fn warmed(blocks: &[Together<'_>], scene: &Scene) -> WarmUp<Uuid> {
    let pieces = blocks.iter().flat_map(|b| &b.pieces);
    let ahead: Vec<Ahead<'_, Uuid>> = pieces
        .filter_map(|piece| {
            let Done { fit, movement, ladder } = piece.done.as_ref()?;
            Some(Ahead { key: piece.slot.id, movement, ladder, step: &fit.step, dose: &fit.prescription })
        })
        .collect();
    WarmUp::of(&scene.person, &ahead)
}

/// What the pieces of a block cost each other, with the step that would spare it.
fn in_the_way(block: &Together<'_>, scene: &Scene) -> Vec<(BlockConflict, Option<Repair>)> {
    if !block.alternates() {
        return Vec::new();
    }
    let mates: Vec<Mate<'_>> = block.done().map(Done::mate).collect();
    let ladders: Vec<&Ladder> = block.done().map(|d| &*d.ladder).collect();
    let found = block_conflicts(block.kind, &mates, &scene.place.kit);
    found
        .into_iter()
        .map(|conflict| {
            let spared = repair(&conflict, (block.kind, &mates), &ladders, &scene.place.kit);
            (conflict, spared)
        })
        .collect()
}

/// Days in which the rest of the week lies, whatever day it is where the client is.
fn around(utc: NaiveDate) -> [NaiveDate; 2] {
    [utc - Duration::days(1), volume::week_of(utc + Duration::days(1)) + Duration::days(6)]
}

/// Work of the week by the one rule: what was done, what is planned elsewhere, and this session where it is not begun.
fn week(app: &App, head: &SessionHead, scene: &Scene, (planned, blocks): (&[Planned], &[Together<'_>])) -> Volume {
    let monday = volume::week_of(scene.today);
    let sunday = monday + Duration::days(6);
    let mut week = Volume::default();
    for set in scene.worked(monday) {
        week.done(&app.catalogue, set);
    }
    for workout in planned.chunk_by(|a, b| (a.session, a.on) == (b.session, b.on)) {
        let asked = volume::asked_of(workout.iter().filter_map(|line| line.optional));
        let still = |line: &&Planned| line.session != head.id && (scene.today..=sunday).contains(&line.on);
        for line in workout.iter().filter(still) {
            if let Some(movement) = app.catalogue.movement(&line.exercise) {
                week.plan_as_asked(movement, &line.dose, line.optional, asked);
            }
        }
    }
    if head.state == WorkoutState::Planned {
        plan(&mut week, blocks);
    }
    week
}

/// Adds the sets of blocks as far as they are asked.
fn plan(volume: &mut Volume, blocks: &[Together<'_>]) {
    let asked = asked(blocks);
    for piece in blocks.iter().flat_map(|b| &b.pieces) {
        if let Some(done) = &piece.done {
            volume.plan_as_asked(done.movement, &done.fit.prescription, piece.slot.intent.optional, asked);
        }
    }
}

/// What of the sets of each line that may be left out is asked.
pub(super) fn asked(blocks: &[Together<'_>]) -> f64 {
    let done = blocks.iter().flat_map(|b| &b.pieces).filter(|p| p.done.is_some());
    volume::asked_of(done.filter_map(|p| p.slot.intent.optional))
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Wherever the client is, the day is at most one off, and the rest of their week was asked for.
    #[test]
    fn the_rest_of_the_week_is_asked_for_on_every_day_and_in_every_place() {
        let first: NaiveDate = "2026-02-23".parse().unwrap();
        for utc in first.iter_days().take(21) {
            let [from, until] = around(utc);
            for today in [-1, 0, 1].map(|off| utc + Duration::days(off)) {
                let sunday = volume::week_of(today) + Duration::days(6);
                assert!(from <= today && sunday <= until, "{today} where it is {utc}");
            }
            assert!((until - from).num_days() <= 8, "{utc}: more than a week is asked for");
        }
    }
}
