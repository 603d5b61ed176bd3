//! Room for computing. Fits, ladders, re-fits, weeks and what else takes the processor run in bounded number, off the threads that
//! serve: a page that reads, a phone that logs and whoever signs in never wait behind them.

mod idly;
mod turns;

use std::collections::HashMap;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;

use axum::extract::{Request, State};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use bavrek_store::TrainerId;
use tokio::sync::{OwnedSemaphorePermit, Semaphore};
use tokio::time::timeout;
use uuid::Uuid;

pub(crate) use self::idly::idly;
use self::turns::Turns;
pub(crate) use self::turns::aside;
use crate::auth::AuthSession;
use crate::error::WebError;
use crate::state::App;

/// How long a page waits for its turn before whoever asks is told to come back.
const PATIENCE: Duration = Duration::from_secs(5);
/// The same of a week.
const PATIENCE_FOR_WEEKS: Duration = Duration::from_secs(10);
/// Requests of one trainer that may wait for their turn at once.
const MOST_WAITING: usize = 24;
/// Requests by links that may wait at once: a hall of phones.
const MOST_PHONES: usize = 200;
/// The least that computes at once, however small the machine.
const LEAST_AT_ONCE: usize = 2;

/// How much may compute at once: as many pages as there are processors, half as many of one trainer; and beside them whole weeks,
/// which take seconds, so that no page waits behind one.
#[derive(Debug)]
pub struct Budget {
    pages: Arc<Line>,
    weeks: Arc<Line>,
}

/// Those that wait for turns of one kind.
#[derive(Debug)]
struct Line {
    all: Arc<Semaphore>,
    each: usize,
    patience: Duration,
    desks: Mutex<HashMap<TrainerId, Arc<Desk>>>,
}

/// What one trainer has under way.
#[derive(Debug)]
struct Desk {
    places: Arc<Semaphore>,
    waiting: AtomicUsize,
}

/// A turn: others wait until it is dropped, or until what has it waits for long.
struct Turn {
    // A line is never closed; one that were would keep nobody waiting.
    _of_all: Option<OwnedSemaphorePermit>,
    _of_trainer: Option<OwnedSemaphorePermit>,
}

impl Default for Budget {
    fn default() -> Self {
        Self::of(std::thread::available_parallelism().map_or(LEAST_AT_ONCE, usize::from))
    }
}

impl Budget {
    /// A budget of so many computations at once.
    pub fn of(at_once: usize) -> Self {
        let at_once = at_once.max(LEAST_AT_ONCE);
        let line = |patience| Arc::new(Line::of(at_once, patience));
        Self { pages: line(PATIENCE), weeks: line(PATIENCE_FOR_WEEKS) }
    }
}

impl Line {
    fn of(at_once: usize, patience: Duration) -> Self {
        Self { all: Arc::new(Semaphore::new(at_once)), each: at_once / 2, patience, desks: Mutex::default() }
    }

    /// Waits for a turn. A trainer's requests wait behind each other first, so that one of them leaves room for the rest.
    async fn turn(&self, trainer: TrainerId) -> Result<Turn, WebError> {
        let desk = self.desk(trainer);
        let _waiting = Waiting::at(desk.clone(), if trainer == LINKS { MOST_PHONES } else { MOST_WAITING })?;
        timeout(self.patience, self.at(&desk)).await.map_err(|_| WebError::Busy)
    }

    /// Another turn for work that is under way: it comes, however long that takes, since what was begun may have been kept already.
    async fn another(&self, trainer: TrainerId) -> Turn {
        self.at(&self.desk(trainer)).await
    }

    async fn at(&self, desk: &Desk) -> Turn {
        let of_trainer = desk.places.clone().acquire_owned().await.ok();
        Turn { _of_all: self.all.clone().acquire_owned().await.ok(), _of_trainer: of_trainer }
    }

    /// What gave its turn back counts as waiting: whoever has much that waits for the database begins no more of it.
    fn without_turn(&self, trainer: TrainerId) -> Waiting {
        let desk = self.desk(trainer);
        desk.waiting.fetch_add(1, Ordering::Relaxed);
        Waiting(desk)
    }

    fn desk(&self, trainer: TrainerId) -> Arc<Desk> {
        let mut desks = self.desks.lock().unwrap_or_else(PoisonError::into_inner);
        // Whoever has nothing under way needs no desk: the map stays as small as what is being done.
        desks.retain(|_, desk| Arc::strong_count(desk) > 1 || desk.places.available_permits() < self.each);
        let new = || Arc::new(Desk { places: Arc::new(Semaphore::new(self.each)), waiting: AtomicUsize::new(0) });
        desks.entry(trainer).or_insert_with(new).clone()
    }
}

/// One of those who wait at a desk.
struct Waiting(Arc<Desk>);

impl Waiting {
    fn at(desk: Arc<Desk>, most: usize) -> Result<Self, WebError> {
        if desk.waiting.fetch_add(1, Ordering::Relaxed) < most {
            return Ok(Self(desk));
        }
        desk.waiting.fetch_sub(1, Ordering::Relaxed);
        Err(WebError::Busy)
    }
}

impl Drop for Waiting {
    fn drop(&mut self) {
        self.0.waiting.fetch_sub(1, Ordering::Relaxed);
    }
}

/// Gives a request its turn and computes it off the threads that serve.
pub(crate) async fn computing(State(app): State<App>, session: AuthSession, request: Request, next: Next) -> Response {
    let Some(user) = session.user else { return next.run(request).await };
    in_turn(&app.budget.pages, user.0.id, request, next).await
}

/// The same for a whole week.
pub(crate) async fn building(State(app): State<App>, session: AuthSession, request: Request, next: Next) -> Response {
    let Some(user) = session.user else { return next.run(request).await };
    in_turn(&app.budget.weeks, user.0.id, request, next).await
}

/// The same for whoever has a link: all links together take turns like one trainer.
pub(crate) async fn computing_by_link(State(app): State<App>, request: Request, next: Next) -> Response {
    in_turn(&app.budget.pages, LINKS, request, next).await
}

/// The same for a program that works for a trainer.
pub(crate) async fn for_program(app: &App, trainer: TrainerId, request: Request, next: Next) -> Response {
    let week = request.uri().path().ends_with("/compute/week");
    in_turn(if week { &app.budget.weeks } else { &app.budget.pages }, trainer, request, next).await
}

/// Stands for all links.
const LINKS: TrainerId = TrainerId(Uuid::nil());

async fn in_turn(line: &Arc<Line>, trainer: TrainerId, request: Request, next: Next) -> Response {
    let machine = request.uri().path().starts_with("/api/");
    match line.turn(trainer).await {
        Ok(turn) => Turns::of(next.run(request), turn, line.clone(), trainer).await,
        Err(busy) if machine => busy.into_json(),
        Err(busy) => busy.into_response(),
    }
}

#[cfg(test)]
mod tests {
    use std::sync::Arc;
    use std::time::Duration;

    use super::{Line, MOST_WAITING, PATIENCE};
    use crate::error::WebError;
    use bavrek_store::TrainerId;
    use tokio::time::Instant;
    use uuid::Uuid;

    const ONE: TrainerId = TrainerId(Uuid::from_u128(1));
    const OTHER: TrainerId = TrainerId(Uuid::from_u128(2));

    #[tokio::test(start_paused = true)]
    async fn a_trainer_with_much_to_compute_leaves_room_for_another() {
        let line = Line::of(4, PATIENCE);
        let first = line.turn(ONE).await.unwrap();
        let second = line.turn(ONE).await.unwrap();
        assert!(matches!(line.turn(ONE).await, Err(WebError::Busy)), "a third of one trainer is one too many");
        assert!(line.turn(OTHER).await.is_ok());
        drop(first);
        assert!(line.turn(ONE).await.is_ok(), "what is done makes room");
        drop(second);
    }

    #[tokio::test(start_paused = true)]
    async fn a_turn_comes_when_another_ends() {
        let line = Arc::new(Line::of(2, PATIENCE));
        let first = line.turn(ONE).await.unwrap();
        let (waits, asked) = (line.clone(), Instant::now());
        let second = tokio::spawn(async move { waits.turn(ONE).await.map(drop) });
        tokio::time::sleep(Duration::from_secs(1)).await;
        assert!(!second.is_finished());
        drop(first);
        assert!(second.await.unwrap().is_ok());
        assert!(asked.elapsed() < Duration::from_secs(2));
    }

    #[tokio::test(start_paused = true)]
    async fn nobody_queues_without_end() {
        let line = Arc::new(Line::of(2, PATIENCE));
        let first = line.turn(ONE).await.unwrap();
        let queue: Vec<_> = (0..MOST_WAITING)
            .map(|_| {
                let line = line.clone();
                tokio::spawn(async move { line.turn(ONE).await.map(drop) })
            })
            .collect();
        tokio::task::yield_now().await;
        let asked = Instant::now();
        assert!(matches!(line.turn(ONE).await, Err(WebError::Busy)));
        assert!(asked.elapsed().is_zero(), "it is said at once");
        for waiting in queue {
            assert!(matches!(waiting.await.unwrap(), Err(WebError::Busy)));
        }
        assert_eq!(line.desks.lock().unwrap().len(), 1);
        drop(first);
        drop(line.turn(OTHER).await.unwrap());
        assert!(line.desks.lock().unwrap().len() <= 2);
    }
}
