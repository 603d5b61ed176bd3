//! Signing in: argon2 passwords, sessions in the database.

use argon2::Argon2;
use argon2::password_hash::{PasswordHasher, PasswordVerifier, phc::PasswordHash};
use axum::extract::Request;
use axum::http::{Method, StatusCode};
use axum::middleware::Next;
use axum::response::{IntoResponse, Redirect, Response};
use axum_login::{AuthUser, AuthnBackend, UserId};
use bavrek_store::trainers::{self, Trainer};
use bavrek_store::{Pool, StoreError, TrainerId};
use uuid::Uuid;

/// Longest password that is looked at, characters: hashing more is only work for an attacker to hand out.
pub const LONGEST_PASSWORD: usize = 200;

/// Hashes a password for storage.
pub fn hash_password(password: &str) -> Result<String, argon2::password_hash::Error> {
    Ok(Argon2::default().hash_password(password.as_bytes())?.to_string())
}

fn verifies(password: &str, hash: &str) -> bool {
    PasswordHash::new(hash).is_ok_and(|h| Argon2::default().verify_password(password.as_bytes(), &h).is_ok())
}

/// What a trainer signs in with.
#[derive(Clone)]
pub struct Credentials {
    /// Address.
    pub email: String,
    /// Password.
    pub password: String,
}

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

/// Finds and checks trainers.
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
    type Credentials = Credentials;
    type Error = StoreError;

    async fn authenticate(&self, given: Credentials) -> Result<Option<SignedIn>, StoreError> {
        let trainer = trainers::by_email(&self.pool, &given.email).await?;
        // Hashing takes tens of milliseconds: it must not hold up other requests. An unknown address is checked against
        // a hash as well, so that the time taken does not tell which addresses exist.
        let checked = tokio::task::spawn_blocking(move || {
            if let Some(trainer) = trainer {
                verifies(&given.password, &trainer.password_hash).then_some(trainer)
            } else {
                let _ = hash_password(&given.password);
                None
            }
        })
        .await;
        Ok(checked.ok().flatten().map(SignedIn))
    }

    async fn get_user(&self, id: &UserId<Self>) -> Result<Option<SignedIn>, StoreError> {
        Ok(trainers::by_id(&self.pool, TrainerId(*id)).await?.map(SignedIn))
    }
}

/// Sends whoever is not signed in to the sign-in page; the API answers 401.
pub(crate) async fn require_sign_in(session: AuthSession, request: Request, next: Next) -> Response {
    if session.user.is_some() {
        return next.run(request).await;
    }
    if request.uri().path().starts_with("/api/") {
        let body = serde_json::json!({ "error": { "path": "session", "message": "sign in first" } });
        return (StatusCode::UNAUTHORIZED, axum::Json(body)).into_response();
    }
    let back = if request.method() == Method::GET { request.uri().path() } else { "/" };
    Redirect::to(&format!("/sign-in?next={back}")).into_response()
}
