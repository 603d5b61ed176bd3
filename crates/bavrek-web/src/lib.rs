//! Pages, pictures and the HTTP server.
//!
//! A handler extracts, calls one core or store function and renders; the rules of the job live in the core, the SQL in
//! the store. [`serve`] takes everything it needs, so that a test starts a real server on a free port.

mod assets;
pub mod auth;
mod budget;
mod changes;
mod chrome;
mod csrf;
mod delivery;
mod devices;
mod downloads;
mod error;
mod extract;
mod features;
mod hashing;
mod ladders;
mod ledgers;
mod library;
mod limits;
mod pictures;
mod problem;
mod reload;
mod server;
mod source;
mod state;
mod upload;

pub use budget::Budget;
pub use delivery::{Delivery, DeliveryError, MailBy, deliver, deliver_always};
pub use error::WebError;
pub use features::account::{invite, new_secret};
pub use features::api::{new_token, openapi};
pub use hashing::{Hashing, hash_password};
pub use library::Library;
pub use limits::LONGEST_REQUEST;
pub use server::listen;
pub use state::{App, Clock, Replica};

use std::time::{Duration, Instant};

use axum::Router;
use axum::extract::{MatchedPath, Request};
use axum::http::{HeaderName, HeaderValue, header};
use axum::middleware::{self, Next};
use axum::response::Response;
use axum::routing::get;
use axum_login::AuthManagerLayerBuilder;
use bavrek_store::http_sessions::HttpSessions;
use tokio::net::TcpListener;
use tower_http::CompressionLevel;
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

/// What of the device pages may ask for: nothing but to keep the screen awake.
const PERMISSIONS_POLICY: &str =
    "camera=(), microphone=(), geolocation=(), payment=(), usb=(), screen-wake-lock=(self)";

/// The whole application as a router.
pub fn router(app: App) -> Router {
    // A browser keeps a cookie of this name to this host and to HTTPS.
    let name = if app.secure_cookies { "__Host-bavrek" } else { "bavrek" };
    let sessions = SessionManagerLayer::new(HttpSessions::new(app.pool.clone()))
        .with_name(name)
        .with_secure(app.secure_cookies)
        .with_same_site(SameSite::Lax)
        .with_expiry(Expiry::OnInactivity(SIGNED_IN_FOR));
    let auth = AuthManagerLayerBuilder::new(auth::Backend::new(app.pool.clone()), sessions).build();
    let header = |name: HeaderName, value: &'static str| {
        SetResponseHeaderLayer::if_not_present(name, HeaderValue::from_static(value))
    };
    let computing =
        features::computing_routes().route_layer(middleware::from_fn_with_state(app.clone(), budget::computing));
    let building =
        features::building_routes().route_layer(middleware::from_fn_with_state(app.clone(), budget::building));
    let closed = features::closed_routes()
        .merge(computing)
        .merge(building)
        .route_layer(middleware::from_fn_with_state(app.clone(), changes::noted))
        .route_layer(middleware::from_fn(auth::require_sign_in));
    let pages = Router::new()
        .merge(closed)
        .merge(features::program_routes(&app))
        .merge(features::open_routes())
        .layer(middleware::from_fn(reload::to_its_page))
        .layer(middleware::from_fn_with_state(app.clone(), csrf::protect))
        .layer(auth)
        .merge(assets::routes())
        // Whoever has a link has nothing else: no session, no token.
        .merge(features::linked_routes(&app))
        .fallback(error::nothing_here)
        .layer(CatchPanicLayer::custom(error::panicked))
        .layer(middleware::from_fn_with_state(app.clone(), limits::in_time))
        .layer(middleware::from_fn(limits::in_words));
    // A promise to come back by HTTPS alone is for whoever came by it.
    let pages = if app.secure_cookies {
        pages.layer(header(header::STRICT_TRANSPORT_SECURITY, "max-age=31536000; includeSubDomains"))
    } else {
        pages
    };
    pages
        .route("/healthz", get(limits::alive))
        .route("/readyz", get(limits::ready))
        .layer(header(header::CONTENT_SECURITY_POLICY, CONTENT_SECURITY_POLICY))
        .layer(header(header::X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .layer(header(header::REFERRER_POLICY, "same-origin"))
        .layer(header(HeaderName::from_static("cross-origin-opener-policy"), "same-origin"))
        .layer(header(HeaderName::from_static("cross-origin-resource-policy"), "same-origin"))
        .layer(header(HeaderName::from_static("permissions-policy"), PERMISSIONS_POLICY))
        .layer(header(header::CACHE_CONTROL, "no-store"))
        // A page is made anew each time: what a stronger compression saves on the way takes longer here.
        .layer(CompressionLayer::new().quality(CompressionLevel::Fastest))
        .layer(middleware::from_fn(one_line_per_request))
        .with_state(app)
}

/// Tends the plans of all trainers: opens weeks that are due, moves what was missed. Any number of processes may do it beside each
/// other; twice is as good as once.
pub async fn tend(app: &App) -> Result<(), WebError> {
    features::plan::tend_all(app).await
}

/// Sends the reminders of workouts whose time it is, of all trainers' clients.
pub async fn remind(app: &App) -> Result<(), WebError> {
    features::train::remind_all(app).await
}

/// Reads the logs that are due for what they say of movements, of all trainers' clients, and pools them for each trainer.
pub async fn learn(app: &App) -> Result<(), WebError> {
    features::across::read_all(app).await
}

/// How often plans are tended.
const TENDED_EVERY: Duration = Duration::from_mins(1);

/// Tends the plans and reminds of workouts, and beside that reads logs, now and every minute from now on. What goes wrong is told in
/// the log, and tried again.
pub async fn tend_always(app: App) {
    let tending = async {
        loop {
            if let Err(error) = tend(&app).await {
                tracing::warn!(%error, "plans were not tended");
            }
            if let Err(error) = remind(&app).await {
                tracing::warn!(%error, "nobody was reminded");
            }
            tokio::time::sleep(TENDED_EVERY).await;
        }
    };
    // Reading takes its time: no reminder waits for it.
    let learning = async {
        loop {
            if let Err(error) = learn(&app).await {
                tracing::warn!(%error, "logs were not read");
            }
            tokio::time::sleep(TENDED_EVERY).await;
        }
    };
    tokio::join!(tending, learning);
}

/// Serves at what [`listen`] gave until `shutdown` resolves, then lets running requests finish.
pub async fn serve(
    app: App,
    listener: TcpListener,
    shutdown: impl Future<Output = ()> + Send + 'static,
) -> std::io::Result<()> {
    let sweeping = tokio::spawn(sweep(app.clone()));
    let (live, pool) = (app.live.clone(), app.pool.clone());
    let listening = tokio::spawn(async move { live.listen(&pool).await });
    let live = app.live.clone();
    // Whoever watches a session would watch for ever.
    let shutdown = async move {
        shutdown.await;
        live.close();
    };
    let served = server::serve(router(app), listener, shutdown).await;
    sweeping.abort();
    listening.abort();
    served
}

/// Deletes expired sign-in sessions, counts of guesses and old deeds once an hour; expired sessions are not accepted in the meantime either.
async fn sweep(app: App) {
    let sessions = HttpSessions::new(app.pool.clone());
    let mut hourly = tokio::time::interval(Duration::from_hours(1));
    loop {
        hourly.tick().await;
        if let Err(error) = sessions.delete_expired().await {
            tracing::warn!(%error, "expired sessions were not deleted");
        }
        if let Err(error) = bavrek_store::tries::sweep(&app.pool, app.clock.now()).await {
            tracing::warn!(%error, "old counts of guesses were not deleted");
        }
        if let Err(error) = bavrek_store::outbox::sweep(&app.pool, app.clock.now()).await {
            tracing::warn!(%error, "letters that never arrived are still kept whole");
        }
        if let Err(error) = bavrek_store::answers::sweep(&app.pool, app.clock.now()).await {
            tracing::warn!(%error, "old answers to programs were not deleted");
        }
        if let Err(error) = bavrek_store::deeds::sweep(&app.pool, app.clock.now()).await {
            tracing::warn!(%error, "what was done long ago was not deleted");
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
