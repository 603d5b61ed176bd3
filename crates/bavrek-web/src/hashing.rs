//! Hashing passwords. A hash takes tens of megabytes and of milliseconds by design: few are made at once, off the threads that
//! serve, and who comes when many wait is told to come back.

use std::sync::atomic::{AtomicUsize, Ordering};

use argon2::Argon2;
use argon2::password_hash::{PasswordHasher, PasswordVerifier, phc::PasswordHash};
use tokio::sync::Semaphore;

use crate::error::WebError;

/// Hashes made at once.
const AT_ONCE: usize = 2;
/// Of those that wait at most.
const MOST_WAITING: usize = 32;

/// Hashes a password for storage.
pub fn hash_password(password: &str) -> Result<String, argon2::password_hash::Error> {
    Ok(Argon2::default().hash_password(password.as_bytes())?.to_string())
}

fn verifies(password: &str, hash: &str) -> bool {
    PasswordHash::new(hash).is_ok_and(|h| Argon2::default().verify_password(password.as_bytes(), &h).is_ok())
}

/// Makes hashes, a few at once.
#[derive(Debug)]
pub struct Hashing {
    places: Semaphore,
    waiting: AtomicUsize,
}

impl Default for Hashing {
    fn default() -> Self {
        Self { places: Semaphore::new(AT_ONCE), waiting: AtomicUsize::new(0) }
    }
}

impl Hashing {
    /// Whether a password is that of a hash. Without a hash as much is worked out in vain, so that the time taken does not tell
    /// which addresses have an account.
    pub(crate) async fn check(&self, password: String, hash: Option<String>) -> Result<bool, WebError> {
        self.work(move || {
            if let Some(hash) = hash {
                return verifies(&password, &hash);
            }
            let _ = hash_password(&password);
            false
        })
        .await
    }

    /// The hash of a new password.
    pub(crate) async fn hash(&self, password: String) -> Result<String, WebError> {
        self.work(move || hash_password(&password)).await?.map_err(WebError::session)
    }

    async fn work<T: Send + 'static>(&self, work: impl FnOnce() -> T + Send + 'static) -> Result<T, WebError> {
        let _place = self.place().await?;
        tokio::task::spawn_blocking(work).await.map_err(|_| WebError::Failed)
    }

    async fn place(&self) -> Result<tokio::sync::SemaphorePermit<'_>, WebError> {
        let leave = Leaving(&self.waiting);
        if self.waiting.fetch_add(1, Ordering::Relaxed) >= MOST_WAITING {
            return Err(WebError::Busy);
        }
        let place = self.places.acquire().await.map_err(|_| WebError::Failed);
        drop(leave);
        place
    }
}

/// Takes one off a count, also where nobody waits for the end.
struct Leaving<'c>(&'c AtomicUsize);

impl Drop for Leaving<'_> {
    fn drop(&mut self) {
        self.0.fetch_sub(1, Ordering::Relaxed);
    }
}
