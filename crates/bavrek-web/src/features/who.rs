//! Who a page is about: the client on a day, with limits and health, and what every such page says first.

use bavrek_core::person::Person;
use bavrek_core::spot::Pain;
use bavrek_store::clients::{self, Client};
use bavrek_store::health::{self, Screening};
use bavrek_store::limits::{self, DatedLimit};
use bavrek_store::{Connection, TrainerId, connection, pains};
use chrono::NaiveDate;
use uuid::Uuid;

use super::dates::day;
use crate::chrome::{Banner, Chrome};
use crate::error::WebError;
use crate::state::App;

/// Minutes of a session where the client's profile says nothing.
const USUAL_MINUTES: i16 = 45;

/// Minutes that a client has for a session.
pub(super) fn usual_minutes(client: &Client) -> i16 {
    client.minutes.unwrap_or(USUAL_MINUTES)
}

/// A client on a day.
pub(super) struct Who {
    pub(super) client: Client,
    /// All limits that stand, also those of other days.
    pub(super) limits: Vec<DatedLimit>,
    /// With the limits in force, and what hurt lately spared.
    pub(super) person: Person,
    /// With the limits in force alone.
    pub(super) unspared: Person,
    pub(super) today: NaiveDate,
    /// What hurt lately and is not settled, the latest first.
    pub(super) pains: Vec<Pain>,
    /// The same in words, each joint once.
    pain_lines: Vec<String>,
    /// The latest screening.
    pub(super) screening: Option<Screening>,
}

/// What hurt, in words, the latest of each joint and side.
fn pain_lines(app: &App, pains: &[Pain], today: NaiveDate) -> Vec<String> {
    let mut seen = Vec::new();
    let latest = pains.iter().filter(|p| {
        let new = !seen.contains(&(p.joint, p.side));
        seen.push((p.joint, p.side));
        new
    });
    latest
        .map(|pain| {
            let name = app.catalogue.movement(&pain.exercise).map_or(pain.exercise.as_str(), |m| &m.name);
            let spared = if pain.joint.is_some() { " It is spared in what is proposed." } else { "" };
            format!("it hurt ({}) in {name}, {}.{spared}", pain.text(), day(pain.on, today))
        })
        .collect()
}

impl Who {
    pub(super) async fn load(app: &App, trainer: TrainerId, client: Uuid) -> Result<Self, WebError> {
        Self::over(app, &mut connection(&app.pool).await?, trainer, client).await
    }

    /// The same over a connection that is held already.
    pub(super) async fn over(
        app: &App,
        connection: &mut Connection,
        trainer: TrainerId,
        client: Uuid,
    ) -> Result<Self, WebError> {
        let client = clients::one(&mut **connection, trainer, client).await?;
        let today = app.clock.today(&client.time_zone);
        let limits = limits::of_client(&mut **connection, trainer, client.id).await?;
        let screenings = health::of_client(&mut **connection, trainer, client.id).await?;
        let pains = pains::of_client(&mut **connection, trainer, client.id, today).await?;
        let screening = screenings.into_iter().next();
        let unspared = client.person(&limits, today);
        let person = pains.iter().fold(unspared.clone(), |person, pain| pain.spared(&person));
        let pain_lines = pain_lines(app, &pains, today);
        Ok(Self { client, limits, person, unspared, today, pains, pain_lines, screening })
    }

    /// Whether new plans wait for a clearance.
    pub(super) fn stopped(&self) -> bool {
        self.screening.as_ref().is_some_and(Screening::stops)
    }

    /// What every page about the client says first.
    pub(super) fn banners(&self) -> Vec<Banner> {
        let id = self.client.id;
        let mut banners = Vec::new();
        if self.stopped() {
            banners.push(Banner {
                text: format!(
                    "{}: an answer of the health screening calls for a doctor or physiotherapist first. No new plans until a clearance is recorded.",
                    self.client.name
                ),
                link: Some((format!("/clients/{id}/health"), "Screening and clearance")),
                stop: true,
            });
        }
        banners.extend(self.pain_lines.iter().map(|line| Banner {
            text: format!("{}: {line}", self.client.name),
            link: Some((format!("/clients/{id}/limits#hurt"), "Settle it, or make it a limit")),
            stop: false,
        }));
        if self.client.under_age(self.today) {
            let text = format!("{} is under 18: an adult is present at every session.", self.client.name);
            banners.push(Banner { text, link: None, stop: false });
        }
        if self.client.archived {
            let text = format!("{} is archived.", self.client.name);
            banners.push(Banner { text, link: Some((format!("/clients/{id}/profile"), "Restore")), stop: false });
        }
        banners
    }

    /// The frame of a page about the client.
    pub(super) fn frame(&self, chrome: Chrome, title: impl Into<String>) -> Chrome {
        let mut chrome = chrome.titled(title);
        chrome.banners = self.banners();
        chrome
    }
}
