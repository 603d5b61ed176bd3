//! Who is signed in: sessions in the database, looked up with every request.

use axum::extract::Request;
use axum::http::{HeaderMap, Method, StatusCode, Uri};
use axum::middleware::Next;
use axum::response::{IntoResponse, Redirect, Response};
use axum_login::{AuthUser, AuthnBackend, UserId};
use bavrek_store::trainers::{self, Trainer};
use bavrek_store::{Pool, StoreError, TrainerId, wall};
use tower_sessions::Session;
use uuid::Uuid;

use crate::reload;

/// A trainer who is signed in.
#[derive(Debug, Clone)]
pub struct SignedIn(pub Trainer);

impl AuthUser for SignedIn {
    type Id = Uuid;

    fn id(&self) -> Uuid {
        self.0.id.0
    }

    fn session_auth_hash(&self) -> &[u8] {
        // A changed password ends every session that began with the old one.
        self.0.password_hash.as_bytes()
    }
}

/// Finds trainers. What they are checked by is the business of the sign-in page.
#[derive(Debug, Clone)]
pub struct Backend {
    pool: Pool,
}

impl Backend {
    pub(crate) const fn new(pool: Pool) -> Self {
        Self { pool }
    }
}

/// The session of whoever asks.
pub type AuthSession = axum_login::AuthSession<Backend>;

impl AuthnBackend for Backend {
    type User = SignedIn;
    type Credentials = TrainerId;
    type Error = StoreError;

    async fn authenticate(&self, found: TrainerId) -> Result<Option<SignedIn>, StoreError> {
        self.get_user(&found.0).await
    }

    async fn get_user(&self, id: &UserId<Self>) -> Result<Option<SignedIn>, StoreError> {
        Ok(trainers::by_id(&self.pool, TrainerId(*id)).await?.map(SignedIn))
    }
}

/// The key under which stands on which day a session was last used.
const SEEN: &str = "seen";

/// Sends whoever is not signed in to the sign-in page.
pub(crate) async fn require_sign_in(auth: AuthSession, session: Session, request: Request, next: Next) -> Response {
    if let Some(user) = &auth.user {
        renew(&session).await;
        return wall::around(Some(user.0.id), next.run(request)).await;
    }
    to_the_door(request.method(), request.uri(), request.headers())
}

/// What a link opens is done for its trainer, once it is known whose it is.
pub(crate) async fn within_a_wall(request: Request, next: Next) -> Response {
    wall::around(None, next.run(request)).await
}

/// Leads to the sign-in page and from there back: to the page that was asked for, or to the one that holds the form that was sent,
/// where what was typed is filled in again.
pub(crate) fn to_the_door(method: &Method, asked: &Uri, headers: &HeaderMap) -> Response {
    let back = match *method {
        Method::GET => asked.path_and_query().map_or("/", |p| p.as_str()).to_owned(),
        _ => reload::page_of(asked.path()),
    };
    let query = serde_urlencoded::to_string([("next", back)]).unwrap_or_default();
    let door = format!("/sign-in?{query}");
    // A part of a page that is swapped is no place for the door: the whole page goes there.
    if headers.contains_key("hx-request") {
        return (StatusCode::UNAUTHORIZED, [("hx-redirect", door)]).into_response();
    }
    Redirect::to(&door).into_response()
}

/// Puts the end of a session off, once on every day that it is used: what is changed is kept, and its cookie is given anew.
async fn renew(session: &Session) {
    let today = chrono::Utc::now().date_naive().to_string();
    let seen: Option<String> = session.get(SEEN).await.ok().flatten();
    if seen.as_deref() != Some(&today)
        && let Err(error) = session.insert(SEEN, today).await
    {
        tracing::warn!(%error, "a session was not renewed");
    }
}
