//! What several screens load together: a client, a place, a log.

use std::collections::BTreeMap;
use std::sync::Arc;

use bavrek_core::calendar::{light_dose, light_step};
use bavrek_core::dose::Prescription;
use bavrek_core::figure::Figure;
use bavrek_core::fit::{Candidate, FitAnswer, Fitter, Mate, PutAside, Room, Worked, ruled_out};
use bavrek_core::handling::handling;
use bavrek_core::kit::{KitItem, Place};
use bavrek_core::ladder::{Ladder, LadderStep};
use bavrek_core::log::LoggedSet;
use bavrek_core::method::Method;
use bavrek_core::movement::Movement;
use bavrek_core::person::Person;
use bavrek_core::plan::{BlockKind, Intent};
use bavrek_core::progress::{Call, NextQuestion, next_on};
use bavrek_core::rigging::Rigged;
use bavrek_core::spot::Pain;
use bavrek_core::strength::{Ledger, bounds};
use bavrek_core::units::{Kilograms, trim_number};
use bavrek_store::clients::Client;
use bavrek_store::decisions::{self, Against};
use bavrek_store::fits::{self, Fit};
use bavrek_store::log::RecordedSet;
use bavrek_store::logs::ClientLog;
use bavrek_store::places::{self, PlaceHead};
use bavrek_store::sessions::{Block, SessionHead};
use bavrek_store::slots::{self, PlacedSlot, Slot};
use bavrek_store::trainers::Judging;
use bavrek_store::{Connection, StoreError, TrainerId, connection, kit, put_aside, sessions, trainers};
use chrono::NaiveDate;
use uuid::Uuid;

use super::who::Who;
use crate::chrome::{Banner, Chrome};
use crate::error::WebError;
use crate::pictures::rig::{self, RigPicture};
use crate::state::App;

/// A client on a day, at a place, with the log up to then.
#[derive(Clone)]
pub(super) struct Scene {
    pub(super) client: Client,
    /// With what hurt lately spared.
    pub(super) person: Person,
    /// With the limits in force alone: a call reads pain from the log itself.
    unspared: Person,
    /// What hurt lately and is not settled.
    pub(super) pains: Vec<Pain>,
    pub(super) place_head: PlaceHead,
    pub(super) place: Place,
    pub(super) today: NaiveDate,
    log: Arc<ClientLog>,
    /// What the trainer put aside for this client.
    pub(super) put_aside: Vec<PutAside>,
    /// The school that the session follows.
    pub(super) method: Option<Method>,
    /// Whether the session's next day lies in a lighter week.
    pub(super) light: bool,
    /// How the trainer judges fits.
    judging: Judging,
    pub(super) banners: Vec<Banner>,
    /// Whether new plans wait for a clearance.
    pub(super) stopped: bool,
    /// The day from which the newest limit in force counts.
    pub(super) limits_since: Option<NaiveDate>,
    /// What keeps a call from more, by line.
    against: BTreeMap<Uuid, Against>,
}

impl Scene {
    pub(super) async fn load(app: &App, trainer: TrainerId, session: &SessionHead) -> Result<Self, WebError> {
        Self::of(app, &mut connection(&app.pool).await?, trainer, session).await
    }

    /// The same over a connection that is held already.
    pub(super) async fn of(
        app: &App,
        connection: &mut Connection,
        trainer: TrainerId,
        session: &SessionHead,
    ) -> Result<Self, WebError> {
        let scene = Self::over(app, connection, trainer, (session.client_id, session.place_id)).await?;
        Ok(Self { method: session.method, light: session.light, ..scene })
    }

    pub(super) async fn at(app: &App, trainer: TrainerId, client: Uuid, place: Uuid) -> Result<Self, WebError> {
        Self::over(app, &mut connection(&app.pool).await?, trainer, (client, place)).await
    }

    async fn over(
        app: &App,
        connection: &mut Connection,
        trainer: TrainerId,
        (client, place): (Uuid, Uuid),
    ) -> Result<Self, WebError> {
        let who = Who::over(app, connection, trainer, client).await?;
        let (place_head, place) = own_place(connection, trainer, client, place).await?;
        let put_aside = put_aside::of_client(&mut **connection, trainer, client).await?;
        let judging = trainers::judging(&mut **connection, trainer).await?;
        let log = app.logs.over(connection, trainer, &who.client, who.today).await?;
        let against = decisions::against(&mut **connection, trainer, client, who.today).await?;
        let (banners, stopped) = (who.banners(), who.stopped());
        let limits_since = who.limits.iter().filter(|l| l.in_force(who.today)).map(|l| l.since).max();
        let Who { client, person, unspared, pains, today, .. } = who;
        let (method, light) = (None, false);
        Ok(Self {
            client,
            person,
            unspared,
            pains,
            place_head,
            place,
            today,
            log,
            put_aside,
            method,
            light,
            judging,
            banners,
            stopped,
            limits_since,
            against,
        })
    }

    /// The same client on the same day at another of the own places.
    pub(super) async fn elsewhere(&self, app: &App, trainer: TrainerId, place: Uuid) -> Result<Self, WebError> {
        let mut connection = connection(&app.pool).await?;
        let (place_head, place) = own_place(&mut connection, trainer, self.client.id, place).await?;
        Ok(Self { place_head, place, ..self.clone() })
    }

    /// The frame of a page about the client.
    pub(super) fn frame(&mut self, chrome: Chrome) -> Chrome {
        Chrome { banners: std::mem::take(&mut self.banners), ..chrome }
    }

    /// All logged sets, for the strength ledger.
    pub(super) fn history(&self) -> &[LoggedSet] {
        &self.log.sets
    }

    /// The same as they are on record.
    pub(super) fn records(&self) -> &[RecordedSet] {
        &self.log.records
    }

    /// What was done in sessions from a day on.
    pub(super) fn worked(&self, from: NaiveDate) -> impl Iterator<Item = &LoggedSet> {
        self.log.worked(from)
    }

    /// The log replayed for calls, which read limits and pain from the log themselves.
    pub(super) fn ledger<'a>(&self, app: &'a App) -> Ledger<'a> {
        app.ledger(&self.log, &self.unspared, self.today)
    }

    /// The client in a room, as fits see it.
    pub(super) fn room<'s>(&'s self, person: &'s Person, kit: &'s [KitItem]) -> Room<'s> {
        Room {
            person,
            kit,
            put_aside: &self.put_aside,
            method: self.method,
            weights: self.judging.weights.unwrap_or_default(),
            leanings: self.judging.leanings,
            record: &self.judging.record,
        }
    }

    /// What does the job of an intent for a person like this with a kit, from all that is known of the client.
    pub(super) fn fit<'a>(
        &self,
        app: &'a App,
        (person, kit): (&Person, &[KitItem]),
        intent: &Intent,
        beside: &[Mate<'_>],
    ) -> FitAnswer<'a> {
        let ledger = app.ledger(&self.log, person, self.today);
        Fitter::of(&app.catalogue, self.room(person, kit), ledger).fit_beside(intent, beside)
    }

    /// What does the job of an intent here.
    pub(super) fn fit_here<'a>(&self, app: &'a App, intent: &Intent, beside: &[Mate<'_>]) -> FitAnswer<'a> {
        self.fit(app, (&self.person, &self.place.kit), intent, beside)
    }

    /// The ladder of a line's movement here.
    pub(super) fn ladder(&self, app: &App, movement: &Movement, intent: &Intent) -> Arc<Ladder> {
        let here = (&self.person, &self.place.kit[..]);
        app.ladders.of_line((self.client.id, self.place_head.id), here, movement, intent)
    }

    /// What answers for this client here.
    pub(super) fn fitter<'a, 's>(&'s self, app: &'a App) -> Fitter<'a, 's> {
        self.fitter_by(app, self.method)
    }

    /// The same where a session follows a school of its own.
    pub(super) fn fitter_by<'a, 's>(&'s self, app: &'a App, method: Option<Method>) -> Fitter<'a, 's> {
        let ledger = app.ledger(&self.log, &self.person, self.today);
        let room = Room { method, ..self.room(&self.person, &self.place.kit) };
        Fitter::of(&app.catalogue, room, ledger)
    }

    /// A movement on the step on which it is done here, judged for an intent.
    pub(super) fn on_step<'a>(
        &self,
        app: &'a App,
        (movement, step): (&'a Movement, &LadderStep),
        intent: &Intent,
        beside: &[Mate<'_>],
    ) -> Option<Candidate<'a>> {
        let ladder = self.ladder(app, movement, intent);
        self.fitter(app).knowing(movement, intent, ladder).on_step(movement, step, intent, beside)
    }

    /// Why a movement can no longer be done here on a step, in a sentence; none where it can.
    pub(super) fn stands_no_more(&self, app: &App, exercise: &str, step: &LadderStep) -> Option<String> {
        let Some(movement) = app.catalogue.movement(exercise) else {
            return Some(format!("{exercise} is no longer in the catalogue"));
        };
        if self.put_aside.iter().any(|p| p.exercise == exercise) {
            return Some(format!("{} was put aside", movement.name));
        }
        let barred = ruled_out(movement, &self.person, &self.place.kit);
        if let Some(why) = barred.first() {
            return Some(format!("{}: {why}", movement.name));
        }
        let possible = Ladder::can_set_up(movement, &self.person, &self.place.kit, step);
        (!possible)
            .then(|| format!("{}: {} is no longer possible at {}", movement.name, step.label, self.place_head.name))
    }

    /// A movement on a step as the client does it, drawn.
    pub(super) fn drawing(&self, movement: &Movement, step: &LadderStep, detail: rig::Detail) -> Option<RigPicture> {
        let rigged = Rigged::new(movement, &self.person, step.setup);
        let loads = step.loads(&self.place.kit);
        let assembly = rigged.load(&loads).ok();
        let figure = Figure::of(&rigged, &loads, assembly.as_ref())?;
        Some(rig::draw(&movement.name, &figure, assembly.as_ref(), self.person.height_m.value(), detail))
    }

    /// A fit as it is today: its step with the kit and the person as they are now, whatever a band is called or measures since.
    pub(super) fn now(&self, app: &App, fit: Fit) -> Fit {
        let step = self.step_now(app, &fit.exercise, &fit.step);
        Fit { step, ..fit }
    }

    /// The same of fits by their lines.
    pub(super) fn all_now(&self, app: &App, fits: BTreeMap<Uuid, Fit>) -> BTreeMap<Uuid, Fit> {
        fits.into_iter().map(|(line, fit)| (line, self.now(app, fit))).collect()
    }

    /// A step of a movement as it is here today.
    pub(super) fn step_now(&self, app: &App, exercise: &str, step: &LadderStep) -> LadderStep {
        let of = |movement: &Movement| step.as_now(movement, &self.person, &self.place.kit);
        app.catalogue.movement(exercise).map_or_else(|| step.clone(), of)
    }

    /// A fit as the session's day does it: in a lighter week with half the sets, more in reserve and a step less.
    pub(super) fn for_the_day(&self, app: &App, intent: &Intent, fit: Fit) -> Fit {
        let fit = self.now(app, fit);
        if !self.light {
            return fit;
        }
        let Some(movement) = app.catalogue.movement(&fit.exercise) else { return fit };
        let ladder = self.ladder(app, movement, intent);
        let (step, prescription) = self.of_the_day(&ladder, &fit.step, &fit.prescription);
        Fit { prescription, step, ..fit }
    }

    /// A step of a ladder and a dose as the session's day does them.
    pub(super) fn of_the_day(
        &self,
        ladder: &Ladder,
        step: &LadderStep,
        dose: &Prescription,
    ) -> (LadderStep, Prescription) {
        if !self.light {
            return (step.clone(), dose.loaded(step.load));
        }
        let at = ladder.steps.iter().position(|s| s.is_alike(step));
        let step = at.map_or(step, |at| &ladder.steps[light_step(ladder, at)]).clone();
        let dose = light_dose(dose).loaded(step.load);
        (step, dose)
    }

    /// An answer as the session's day does it.
    pub(super) fn answered_for_the_day(&self, candidate: &mut Candidate<'_>) {
        if self.light {
            candidate.start.step = light_step(&candidate.ladder, candidate.start.step);
            candidate.prescription = light_dose(&candidate.prescription).loaded(candidate.step().load);
        }
    }

    /// Sets logged today for a slot.
    pub(super) fn done_today(&self, slot: Uuid) -> impl Iterator<Item = &RecordedSet> {
        self.records().iter().filter(move |r| r.slot_id == Some(slot) && r.set.date == self.today)
    }

    /// The latest set of a slot with its own movement: a swap on the spot is another, and a lighter week asks for no decision.
    fn latest_of(&self, slot: Uuid, exercise: &str) -> Option<&RecordedSet> {
        self.records().iter().rfind(|r| r.slot_id == Some(slot) && r.set.exercise == exercise && r.counts_for_steps())
    }

    /// The call that the log of a slot leads to, with the set it rests on. None before a set of the fit in force.
    pub(super) fn call(&self, app: &App, slot: &Slot, fit: &Fit) -> Option<(Call, Uuid)> {
        self.call_by(app, &self.ledger(app), slot, fit)
    }

    /// The same where the log was replayed already.
    pub(super) fn call_by(&self, app: &App, ledger: &Ledger<'_>, slot: &Slot, fit: &Fit) -> Option<(Call, Uuid)> {
        let latest = self.latest_of(slot.id, &fit.exercise)?;
        let against = self.against.get(&slot.id);
        let question = NextQuestion {
            person: &self.unspared,
            kit: &self.place.kit,
            intent: &slot.intent,
            prescription: &fit.prescription,
            // The whole log but lighter weeks: what hurt or was trained in other slots counts as well.
            history: self.log.usual(),
            today: self.today,
            limits_since: self.limits_since,
            planned: Some(&fit.exercise),
            put_aside: &self.put_aside,
            method: self.method,
            missed: against.map_or(&[], |a| &a.missed),
        };
        let refused = against.map_or(&[][..], |a| &a.refused);
        let whose = (self.client.id, self.place_head.id);
        let ladder = |of: &Movement| app.ladders.of_line(whose, (question.person, question.kit), of, question.intent);
        Some((next_on(&app.catalogue, &question, ledger, ladder).heeding(&question, refused), latest.id))
    }

    /// The same, unless the trainer has decided about it.
    pub(super) async fn open_call(
        &self,
        app: &App,
        trainer: TrainerId,
        slot: &Slot,
        fit: &Fit,
    ) -> Result<Option<(Call, Uuid)>, WebError> {
        let Some((call, after)) = self.call(app, slot, fit) else { return Ok(None) };
        let decided = decisions::latest(&app.pool, trainer, slot.id).await?;
        Ok(decided.is_none_or(|d| d.decision.after_set != after).then_some((call, after)))
    }
}

/// A place of a client with what may be used there. `NotFound` where it is another's.
async fn own_place(
    connection: &mut Connection,
    trainer: TrainerId,
    client: Uuid,
    place: Uuid,
) -> Result<(PlaceHead, Place), WebError> {
    let head = places::one(&mut **connection, trainer, place).await?;
    if head.client_id != client {
        return Err(StoreError::NotFound.into());
    }
    let place = kit::place(connection, trainer, &head).await?;
    Ok((head, place))
}

/// A session around one of its slots: the blocks, and the fits in force.
pub(super) struct Around {
    blocks: Vec<Block>,
    fits: BTreeMap<Uuid, Fit>,
}

impl Around {
    pub(super) async fn of(app: &App, trainer: TrainerId, session: &SessionHead) -> Result<Self, WebError> {
        Self::over(&mut connection(&app.pool).await?, trainer, session).await
    }

    /// The same over a connection that is held already.
    pub(super) async fn over(
        connection: &mut Connection,
        trainer: TrainerId,
        session: &SessionHead,
    ) -> Result<Self, WebError> {
        let blocks = sessions::blocks(&mut **connection, trainer, session.id).await?;
        let fits = fits::of_session(&mut **connection, trainer, session.id, session.place_id).await?;
        Ok(Self { blocks, fits })
    }

    /// The fits of the slots that alternate with one in its block.
    pub(super) fn beside(&self, slot: Uuid) -> Vec<Fit> {
        let own = |block: &&Block| block.kind != BlockKind::Straight && block.slots.iter().any(|s| s.id == slot);
        let others = self.blocks.iter().find(own).into_iter().flat_map(|block| &block.slots).filter(|s| s.id != slot);
        others.filter_map(|s| self.fits.get(&s.id).cloned()).collect()
    }

    /// What is done before a slot: earlier blocks, and what comes first in its own.
    pub(super) fn before<'a>(&self, app: &'a App, slot: Uuid) -> Vec<Worked<'a>> {
        let earlier = self.blocks.iter().flat_map(|b| &b.slots).take_while(|s| s.id != slot);
        let worked = |fit: &Fit| {
            let movement = app.catalogue.movement(&fit.exercise)?;
            Some(Worked { movement, sets: fit.prescription.sets.len() })
        };
        earlier.filter_map(|s| worked(self.fits.get(&s.id)?)).collect()
    }
}

/// Fits as the engine sees what stands beside a slot.
pub(super) fn mates<'f>(app: &'f App, fits: &'f [Fit]) -> Vec<Mate<'f>> {
    fits.iter()
        .filter_map(|fit| Some(Mate { movement: app.catalogue.movement(&fit.exercise)?, step: &fit.step }))
        .collect()
}

/// A slot with its scene.
pub(super) async fn of_slot(app: &App, trainer: TrainerId, slot: Uuid) -> Result<(PlacedSlot, Scene), WebError> {
    let mut connection = connection(&app.pool).await?;
    let placed = slots::over(&mut connection, trainer, slot).await?;
    let scene = Scene::of(app, &mut connection, trainer, &placed.session).await?;
    Ok((placed, scene))
}

/// Below this spread of its logarithm a load is what stands on it.
const AS_STAMPED: f64 = 0.015;

/// Within what a load lies nine times in ten, told as surely as it is known: `56 to 64 kg`, or that it is as stamped.
pub(super) fn likely(load: Kilograms, log_sd: f64) -> String {
    if log_sd < AS_STAMPED {
        return "as it is stamped".to_owned();
    }
    let [low, high] = bounds(load, log_sd).map(Kilograms::two_figures);
    format!("{} to {high:.1}", trim_number(low.value(), 1))
}

/// What a slot is for, in a few words: `middle chest, lengthened`.
pub(super) fn purpose(intent: &bavrek_core::plan::Intent) -> String {
    let mut words: Vec<String> = intent.regions.keys().map(|r| r.label().to_owned()).collect();
    if let Some(emphasis) = intent.length_emphasis {
        words.push(emphasis.label().to_owned());
    }
    words.join(", ")
}

/// What is said while a movement does a job: the trainer's own cue for the line, else the movement's, and where to feel it.
pub(super) fn cue(intent: &Intent, movement: &Movement) -> String {
    let own = format!("{} {}", movement.cues.action, movement.cues.feel);
    intent.execution.cue(&own, intent.part_for(movement).is_some())
}

/// A dose in words; of a movement done one side at a time it says so.
pub(super) fn dose_text(app: &App, exercise: &str, dose: &Prescription) -> String {
    app.catalogue.movement(exercise).map_or_else(|| dose.text(), |m| m.dose_text(dose))
}

/// How a movement is got into, out of and fixed, in words beside its cues.
pub(super) fn handled(movement: &Movement, step: &LadderStep) -> impl Iterator<Item = (&'static str, String)> {
    handling(movement, step).into_iter().map(|h| (h.kind().label(), h.to_string()))
}

/// A call in one line: what to do, and on which step.
pub(super) fn headline(call: &Call) -> String {
    match &call.step {
        Some(step) => format!("{}: {}", capital(call.call.label()), step.label),
        None => capital(call.call.label()),
    }
}

/// So many movements, in words.
pub(super) fn movements(count: usize) -> String {
    match count {
        0 => "no movement".to_owned(),
        1 => "1 movement".to_owned(),
        count => format!("{count} movements"),
    }
}

/// The text with a capital first letter.
pub(super) fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().collect::<String>() + letters.as_str())
}
