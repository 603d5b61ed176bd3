//! What several screens load together: a client, a place, a log.

use bavrek_core::fit::{FitAnswer, FitQuestion, PutAside, fit};
use bavrek_core::kit::{KitItem, Place};
use bavrek_core::log::LoggedSet;
use bavrek_core::person::Person;
use bavrek_core::plan::Intent;
use bavrek_core::progress::{Call, NextQuestion, next};
use bavrek_store::clients::Client;
use bavrek_store::fits::{self, Fit};
use bavrek_store::log::{self, RecordedSet};
use bavrek_store::places::{self, PlaceHead};
use bavrek_store::sessions::{PlacedSlot, SessionHead, Slot};
use bavrek_store::{StoreError, TrainerId, kit, put_aside};
use chrono::NaiveDate;
use uuid::Uuid;

use super::who::Who;
use crate::chrome::{Banner, Chrome};
use crate::error::WebError;
use crate::state::App;

/// A client on a day, at a place, with the log up to then.
pub(super) struct Scene {
    pub(super) client: Client,
    pub(super) person: Person,
    pub(super) place_head: PlaceHead,
    pub(super) place: Place,
    pub(super) today: NaiveDate,
    pub(super) log: Vec<RecordedSet>,
    /// What the trainer put aside for this client.
    pub(super) put_aside: Vec<PutAside>,
    pub(super) banners: Vec<Banner>,
    /// Whether new plans wait for a clearance.
    pub(super) stopped: bool,
}

impl Scene {
    pub(super) async fn load(app: &App, trainer: TrainerId, session: &SessionHead) -> Result<Self, WebError> {
        Self::at(app, trainer, session.client_id, session.place_id).await
    }

    pub(super) async fn at(app: &App, trainer: TrainerId, client: Uuid, place: Uuid) -> Result<Self, WebError> {
        let who = Who::load(app, trainer, client).await?;
        let place_head = places::one(&app.pool, trainer, place).await?;
        if place_head.client_id != who.client.id {
            return Err(StoreError::NotFound.into());
        }
        let place = kit::place(&app.pool, trainer, &place_head).await?;
        let log = log::of_client(&app.pool, trainer, who.client.id, who.today).await?;
        let put_aside = put_aside::of_client(&app.pool, trainer, who.client.id).await?;
        let (banners, stopped) = (who.banners(), who.stopped());
        let Who { client, person, today, .. } = who;
        Ok(Self { client, person, place_head, place, today, log, put_aside, banners, stopped })
    }

    /// The frame of a page about the client.
    pub(super) fn frame(&mut self, chrome: Chrome) -> Chrome {
        Chrome { banners: std::mem::take(&mut self.banners), ..chrome }
    }

    /// All logged sets, for the strength ledger.
    pub(super) fn history(&self) -> Vec<LoggedSet> {
        self.log.iter().map(|r| r.set.clone()).collect()
    }

    /// What does the job of an intent for a person like this with a kit, from all that is known of the client.
    pub(super) fn fit<'a>(&self, app: &'a App, person: &Person, kit: &[KitItem], intent: &Intent) -> FitAnswer<'a> {
        let history = self.history();
        let put_aside = &self.put_aside;
        let today = Some(self.today);
        let question = FitQuestion { history: &history, today, put_aside, ..FitQuestion::plain(person, kit, intent) };
        fit(&app.catalogue, &question)
    }

    /// What does the job of an intent here.
    pub(super) fn fit_here<'a>(&self, app: &'a App, intent: &Intent) -> FitAnswer<'a> {
        self.fit(app, &self.person, &self.place.kit, intent)
    }

    /// Sets logged today for a slot.
    pub(super) fn done_today(&self, slot: Uuid) -> impl Iterator<Item = &RecordedSet> {
        self.log.iter().filter(move |r| r.slot_id == Some(slot) && r.set.date == self.today)
    }

    /// The latest set of a slot.
    pub(super) fn latest(&self, slot: Uuid) -> Option<&RecordedSet> {
        self.log.iter().rfind(|r| r.slot_id == Some(slot))
    }

    /// The call that the log of a slot leads to, with the set it rests on. None before a set of the fit in force.
    pub(super) fn call(&self, app: &App, slot: &Slot, fit: &Fit) -> Option<(Call, Uuid)> {
        let latest = self.latest(slot.id).filter(|r| r.set.exercise == fit.exercise)?;
        let history: Vec<LoggedSet> =
            self.log.iter().filter(|r| r.slot_id == Some(slot.id)).map(|r| r.set.clone()).collect();
        let call = next(
            &app.catalogue,
            &NextQuestion {
                person: &self.person,
                kit: &self.place.kit,
                intent: &slot.intent,
                prescription: &fit.prescription,
                history: &history,
                today: self.today,
            },
        );
        Some((call, latest.id))
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
        let decided = fits::latest_decision(&app.pool, trainer, slot.id).await?;
        Ok(decided.is_none_or(|d| d.after_set != after).then_some((call, after)))
    }
}

/// A slot with its scene.
pub(super) async fn of_slot(app: &App, trainer: TrainerId, slot: Uuid) -> Result<(PlacedSlot, Scene), WebError> {
    let placed = bavrek_store::sessions::slot(&app.pool, trainer, slot).await?;
    let scene = Scene::load(app, trainer, &placed.session).await?;
    Ok((placed, scene))
}

/// What a slot is for, in a few words: `middle chest, lengthened`.
pub(super) fn purpose(intent: &bavrek_core::plan::Intent) -> String {
    let mut words: Vec<String> = intent.regions.keys().map(|r| r.label().to_owned()).collect();
    if let Some(emphasis) = intent.length_emphasis {
        words.push(emphasis.label().to_owned());
    }
    words.join(", ")
}

/// The text with a capital first letter.
pub(super) fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().collect::<String>() + letters.as_str())
}
