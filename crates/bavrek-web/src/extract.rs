//! From the outside to types, once: who asks, which thing, which fields.

use std::collections::BTreeMap;
use std::sync::Arc;

use axum::extract::{FromRequest, FromRequestParts, Path, Request};
use axum::http::request::Parts;
use bavrek_core::movement::Catalogue;
use bavrek_store::movements::OwnMovement;
use bavrek_store::{TrainerId, movements, trainers};
use serde::de::DeserializeOwned;
use uuid::Uuid;

use crate::auth::AuthSession;
use crate::error::WebError;
use crate::state::App;

/// The trainer who asks.
pub(crate) struct Me(pub(crate) TrainerId);

impl FromRequestParts<App> for Me {
    type Rejection = WebError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, WebError> {
        let session = AuthSession::from_request_parts(parts, app).await.map_err(|_| WebError::NotFound)?;
        session.user.map(|u| Self(u.0.id)).ok_or(WebError::NotFound)
    }
}

/// The application as the trainer who asks sees it: with own movements in the catalogue.
pub(crate) struct Mine(pub(crate) App);

impl FromRequestParts<App> for Mine {
    type Rejection = WebError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, WebError> {
        let session = AuthSession::from_request_parts(parts, app).await.map_err(|_| WebError::NotFound)?;
        let trainer = session.user.ok_or(WebError::NotFound)?.0;
        Ok(Self(app.at_version(trainer.id, trainer.catalogue_version).await?))
    }
}

impl App {
    /// The application as a trainer sees it.
    pub(crate) async fn of(&self, trainer: TrainerId) -> Result<Self, WebError> {
        self.at_version(trainer, trainers::catalogue_version(&self.pool, trainer).await?).await
    }

    /// The same at a version of the trainer's own movements, which are read when they have changed.
    async fn at_version(&self, trainer: TrainerId, version: i32) -> Result<Self, WebError> {
        if let Some(catalogue) = self.library.own(trainer, version) {
            return Ok(Self { catalogue, ..self.clone() });
        }
        let own = movements::all(&self.pool, trainer).await?;
        let catalogue = self.library.keep(trainer, version, overlaid(&self.catalogue, own));
        Ok(Self { catalogue, ..self.clone() })
    }
}

/// The catalogue with a trainer's own movements laid over it.
fn overlaid(catalogue: &Arc<Catalogue>, own: Vec<OwnMovement>) -> Arc<Catalogue> {
    if own.is_empty() {
        return catalogue.clone();
    }
    let mut overlaid = catalogue.as_ref().clone();
    for own in own {
        if own.archived {
            overlaid.add_retired(own.movement);
        } else {
            overlaid.add(own.movement);
        }
    }
    Arc::new(overlaid)
}

/// Identifiers in the path. One that is none is simply not found.
pub(crate) struct Ids<T = Uuid>(pub(crate) T);

impl<T: DeserializeOwned + Send> FromRequestParts<App> for Ids<T> {
    type Rejection = WebError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, WebError> {
        Path::<T>::from_request_parts(parts, app).await.map(|Path(ids)| Self(ids)).map_err(|_| WebError::NotFound)
    }
}

/// The fields of a form as they were typed.
#[derive(Debug, Clone, Default)]
pub(crate) struct Fields(Vec<(String, String)>);

impl FromRequest<App> for Fields {
    type Rejection = WebError;

    async fn from_request(request: Request, app: &App) -> Result<Self, WebError> {
        let form = axum::extract::Form::<Vec<(String, String)>>::from_request(request, app).await;
        form.map(|f| Self(clean(f.0))).map_err(|_| WebError::bad("form", "could not be read"))
    }
}

/// Without characters that no field can mean and the database does not take; line breaks and tabs stay.
fn clean(fields: Vec<(String, String)>) -> Vec<(String, String)> {
    let keep = |c: &char| !c.is_control() || matches!(c, '\n' | '\t');
    fields.into_iter().map(|(name, value)| (name, value.chars().filter(keep).collect())).collect()
}

impl From<Vec<(String, String)>> for Fields {
    fn from(fields: Vec<(String, String)>) -> Self {
        Self(clean(fields))
    }
}

impl Fields {
    /// The first value of a field, trimmed; empty where it is absent.
    pub(crate) fn text(&self, name: &str) -> &str {
        self.0.iter().find(|(n, _)| n == name).map_or("", |(_, v)| v.trim())
    }

    /// All fields in the order they were sent.
    pub(crate) fn pairs(&self) -> &[(String, String)] {
        &self.0
    }

    /// The fields by name, the first value of each.
    pub(crate) fn to_map(&self) -> BTreeMap<String, String> {
        let mut map = BTreeMap::new();
        for (name, value) in &self.0 {
            map.entry(name.clone()).or_insert_with(|| value.trim().to_owned());
        }
        map
    }

    /// All values of a field.
    pub(crate) fn all<'a>(&'a self, name: &'a str) -> impl Iterator<Item = &'a str> {
        self.0.iter().filter(move |(n, _)| n == name).map(|(_, v)| v.as_str())
    }

    /// The state that the form was filled in against.
    pub(crate) fn seen(&self) -> Result<i32, WebError> {
        self.text("seen").parse().map_err(|_| WebError::bad("seen", "is no number"))
    }

    /// An identifier that the page put into the form.
    pub(crate) fn id(&self, name: &'static str) -> Result<Uuid, WebError> {
        self.text(name).parse().map_err(|_| WebError::bad(name, "is not an identifier"))
    }
}
