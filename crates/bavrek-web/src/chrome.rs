//! What every page carries: title, who is signed in, the form token, the theme.

use axum::extract::FromRequestParts;
use axum::http::header::COOKIE;
use axum::http::request::Parts;
use tower_sessions::Session;

use crate::assets;
use crate::auth::AuthSession;
use crate::csrf::{self, Anonymous};
use crate::error::WebError;
use crate::state::App;

/// The frame of a page.
#[derive(Clone)]
pub(crate) struct Chrome {
    pub(crate) title: String,
    pub(crate) csrf: String,
    pub(crate) trainer: Option<String>,
    pub(crate) theme: &'static str,
    pub(crate) css: String,
    pub(crate) js: String,
    pub(crate) theme_js: String,
    pub(crate) cautions: Vec<String>,
    /// What must be known before anything else on the page.
    pub(crate) banners: Vec<Banner>,
}

/// A line above the page.
#[derive(Clone)]
pub(crate) struct Banner {
    pub(crate) text: String,
    /// Where to go about it: address and words.
    pub(crate) link: Option<(String, &'static str)>,
    /// Whether it stops something.
    pub(crate) stop: bool,
}

impl Chrome {
    /// The frame with a title.
    pub(crate) fn titled(mut self, title: impl Into<String>) -> Self {
        self.title = title.into();
        self
    }
}

impl FromRequestParts<App> for Chrome {
    type Rejection = WebError;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, WebError> {
        let session = Session::from_request_parts(parts, app).await.map_err(|_| WebError::session("missing"))?;
        let auth = AuthSession::from_request_parts(parts, app).await.map_err(|_| WebError::session("missing"))?;
        let cookies = parts.headers.get(COOKIE).and_then(|c| c.to_str().ok()).unwrap_or_default();
        let theme = if cookies.contains("theme=dark") { "dark" } else { "light" };
        Ok(Self {
            title: String::new(),
            csrf: csrf::token(&session, auth.user.is_some(), parts.extensions.get::<Anonymous>()).await?,
            trainer: auth.user.map(|u| u.0.name),
            theme,
            css: assets::url("app.css"),
            js: assets::url("app.js"),
            theme_js: assets::url("theme.js"),
            cautions: app.cautions.0.clone(),
            banners: Vec::new(),
        })
    }
}
