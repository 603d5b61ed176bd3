//! The kits of several places of a client, for pages that tell of fits wherever they are.

use std::collections::BTreeMap;
use std::collections::btree_map::Entry;

use bavrek_core::kit::KitItem;
use bavrek_core::person::Person;
use bavrek_store::fits::Fit;
use bavrek_store::{TrainerId, connection, kit, places};
use uuid::Uuid;

use crate::error::WebError;
use crate::state::App;

/// What can be used at places, as it is now.
#[derive(Debug, Default)]
pub(super) struct Rooms(BTreeMap<Uuid, Vec<KitItem>>);

impl Rooms {
    /// The kits of places; each is looked up once.
    pub(super) async fn of(app: &App, trainer: TrainerId, wanted: &[Uuid]) -> Result<Self, WebError> {
        let mut kits = BTreeMap::new();
        let mut connection = connection(&app.pool).await?;
        for id in wanted {
            if let Entry::Vacant(free) = kits.entry(*id) {
                let head = places::one(&mut *connection, trainer, *id).await?;
                free.insert(kit::place(&mut connection, trainer, &head).await?.kit);
            }
        }
        Ok(Self(kits))
    }

    /// The same of every place of a client that is in use.
    pub(super) async fn of_client(app: &App, trainer: TrainerId, client: Uuid) -> Result<Self, WebError> {
        let places = places::in_use(&app.pool, trainer, client).await?;
        Self::of(app, trainer, &places.iter().map(|head| head.id).collect::<Vec<_>>()).await
    }

    /// A fit as it is today: its step with the kit of its place and the person as they are now.
    pub(super) fn now(&self, app: &App, person: &Person, fit: Fit) -> Fit {
        match (app.catalogue.movement(&fit.exercise), self.0.get(&fit.place_id)) {
            (Some(movement), Some(kit)) => Fit { step: fit.step.as_now(movement, person, kit), ..fit },
            _ => fit,
        }
    }
}
