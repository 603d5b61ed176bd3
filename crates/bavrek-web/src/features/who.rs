//! Who a page is about: the client on a day, with limits and health, and what every such page says first.

use bavrek_core::person::Person;
use bavrek_store::TrainerId;
use bavrek_store::clients::{self, Client};
use bavrek_store::health::{self, Screening};
use bavrek_store::limits::{self, DatedLimit};
use chrono::NaiveDate;
use uuid::Uuid;

use crate::chrome::{Banner, Chrome};
use crate::error::WebError;
use crate::state::App;

/// A client on a day.
pub(super) struct Who {
    pub(super) client: Client,
    /// All limits that stand, also those of other days.
    pub(super) limits: Vec<DatedLimit>,
    pub(super) person: Person,
    pub(super) today: NaiveDate,
    /// The latest screening.
    pub(super) screening: Option<Screening>,
}

impl Who {
    pub(super) async fn load(app: &App, trainer: TrainerId, client: Uuid) -> Result<Self, WebError> {
        let client = clients::one(&app.pool, trainer, client).await?;
        let limits = limits::of_client(&app.pool, trainer, client.id).await?;
        let screening = health::of_client(&app.pool, trainer, client.id).await?.into_iter().next();
        let today = app.clock.today(&client.time_zone);
        Ok(Self { person: client.person(&limits, today), client, limits, today, screening })
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
