//! Pages, pictures and the HTTP server.
//!
//! A handler extracts, calls one core or store function and renders; the rules of the job live in the core, the SQL in
//! the store. [`serve`] takes everything it needs, so that a test starts a real server on a free port.

mod assets;
pub mod auth;
mod budget;
mod chrome;
mod csrf;
mod devices;
mod error;
mod extract;
mod features;
mod library;
mod pictures;
mod reload;
mod state;

pub use budget::Budget;
pub use error::WebError;
pub use library::Library;
pub use state::{App, Clock};

use std::time::{Duration, Instant};

use axum::Router;
use axum::extract::{MatchedPath, Request};
use axum::http::{HeaderName, HeaderValue, header};
use axum::middleware::{self, Next};
use axum::response::Response;
use axum_login::AuthManagerLayerBuilder;
use bavrek_store::http_sessions::HttpSessions;
use tokio::net::TcpListener;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::set_header::SetResponseHeaderLayer;
use tower_sessions::cookie::SameSite;
use tower_sessions::session_store::ExpiredDeletion;
use tower_sessions::{Expiry, SessionManagerLayer};

/// How long a trainer stays signed in without doing anything.
const SIGNED_IN_FOR: time::Duration = time::Duration::days(14);
/// What pages may load and run: only what ships with the application, nothing inline.
const CONTENT_SECURITY_POLICY: &str = "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; \
     img-src 'self' data:; connect-src 'self'; manifest-src 'self'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'";

/// The whole application as a router.
pub fn router(app: App) -> Router {
    let sessions = SessionManagerLayer::new(HttpSessions::new(app.pool.clone()))
        .with_name("bavrek")
        .with_secure(app.secure_cookies)
        .with_same_site(SameSite::Lax)
        .with_expiry(Expiry::OnInactivity(SIGNED_IN_FOR));
    let auth = AuthManagerLayerBuilder::new(auth::Backend::new(app.pool.clone()), sessions).build();
    let header = |name: HeaderName, value: &'static str| {
        SetResponseHeaderLayer::if_not_present(name, HeaderValue::from_static(value))
    };
    let computing =
        features::computing_routes().route_layer(middleware::from_fn_with_state(app.clone(), budget::computing));
    let closed = features::closed_routes().merge(computing).route_layer(middleware::from_fn(auth::require_sign_in));
    Router::new()
        .merge(closed)
        .merge(features::open_routes())
        .layer(middleware::from_fn(reload::to_its_page))
        .layer(middleware::from_fn(csrf::protect))
        .layer(auth)
        .merge(assets::routes())
        // Whoever has a link has nothing else: no session, no token.
        .merge(features::linked_routes(&app))
        .fallback(error::nothing_here)
        .layer(CatchPanicLayer::custom(error::panicked))
        .layer(header(header::CONTENT_SECURITY_POLICY, CONTENT_SECURITY_POLICY))
        .layer(header(header::X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .layer(header(header::REFERRER_POLICY, "same-origin"))
        .layer(header(header::CACHE_CONTROL, "no-store"))
        .layer(CompressionLayer::new())
        .layer(middleware::from_fn(one_line_per_request))
        .with_state(app)
}

/// Tends the plans of all trainers: opens weeks that are due, moves what was missed. Any number of processes may do it beside each
/// other; twice is as good as once.
pub async fn tend(app: &App) -> Result<(), WebError> {
    features::plan::tend_all(app).await
}

/// How often plans are tended.
const TENDED_EVERY: Duration = Duration::from_mins(1);

/// Tends the plans now and every minute from now on. What goes wrong is told in the log, and tried again.
pub async fn tend_always(app: App) {
    loop {
        if let Err(error) = tend(&app).await {
            tracing::warn!(%error, "plans were not tended");
        }
        tokio::time::sleep(TENDED_EVERY).await;
    }
}

/// Serves until `shutdown` resolves, then lets running requests finish.
pub async fn serve(
    app: App,
    listener: TcpListener,
    shutdown: impl Future<Output = ()> + Send + 'static,
) -> std::io::Result<()> {
    let sweeping = tokio::spawn(sweep_sessions(HttpSessions::new(app.pool.clone())));
    let (live, pool) = (app.live.clone(), app.pool.clone());
    let listening = tokio::spawn(async move { live.listen(&pool).await });
    let live = app.live.clone();
    // Whoever watches a session would watch for ever.
    let shutdown = async move {
        shutdown.await;
        live.close();
    };
    let served = axum::serve(listener, router(app)).with_graceful_shutdown(shutdown).await;
    sweeping.abort();
    listening.abort();
    served
}

/// Deletes expired sign-in sessions once an hour; they are not accepted in the meantime either.
async fn sweep_sessions(sessions: HttpSessions) {
    let mut hourly = tokio::time::interval(Duration::from_hours(1));
    loop {
        hourly.tick().await;
        if let Err(error) = sessions.delete_expired().await {
            tracing::warn!(%error, "expired sessions were not deleted");
        }
    }
}

/// Logs method, route, status and milliseconds. The route, not the address: identifiers stay out of the log.
async fn one_line_per_request(request: Request, next: Next) -> Response {
    let began = Instant::now();
    let method = request.method().clone();
    let route = request.extensions().get::<MatchedPath>().map_or_else(|| "-".to_owned(), |p| p.as_str().to_owned());
    let response = next.run(request).await;
    let took: Duration = began.elapsed();
    tracing::info!(%method, route, status = response.status().as_u16(), ms = took.as_secs_f64() * 1000.0, "request");
    response
}
