//! Work that takes its steps in turns: off the threads that serve, and without a turn while it waits for long.

use std::pin::Pin;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::task::{Context, Poll, Wake, Waker};
use std::time::Duration;

use bavrek_store::TrainerId;
use futures_util::task::AtomicWaker;
use tokio::runtime::{Handle, RuntimeFlavor};
use tokio::time::{Instant, Sleep, sleep};

use super::{Line, Turn, Waiting};

/// How long a turn is kept by what waits, for the database above all: longer than any query that nothing holds up.
const WAITING: Duration = Duration::from_millis(250);

/// Computes something off the threads that serve, within the turn of who asks: on a thread of its own it would go on after the turn
/// was given back.
pub(crate) fn aside<T>(work: impl FnOnce() -> T) -> T {
    match Handle::current().runtime_flavor() {
        // A runtime of one thread has nobody to hand its other work to.
        RuntimeFlavor::CurrentThread => work(),
        _ => tokio::task::block_in_place(work),
    }
}

type Anew = Pin<Box<dyn Future<Output = Turn> + Send>>;

/// A future whose steps are taken off the threads that serve: however long one computes between two waits, nobody else's
/// request stands behind it. While it waits for long it gives its turn back, and takes another before it goes on.
pub(super) struct Turns<F> {
    work: Pin<Box<F>>,
    line: Arc<Line>,
    trainer: TrainerId,
    turn: Option<Turn>,
    /// Stands for it while it has no turn.
    without: Option<Waiting>,
    /// The next turn, once the work can go on without one.
    anew: Option<Anew>,
    /// When a turn that is not needed is given back.
    until: Pin<Box<Sleep>>,
    roused: Arc<Roused>,
}

/// Whether the work itself can go on, beside whatever else the future is woken by.
struct Roused {
    work: AtomicBool,
    outer: AtomicWaker,
}

impl Wake for Roused {
    fn wake(self: Arc<Self>) {
        self.work.store(true, Ordering::Release);
        self.outer.wake();
    }
}

impl<F: Future> Turns<F> {
    pub(super) fn of(work: F, turn: Turn, line: Arc<Line>, trainer: TrainerId) -> Self {
        let roused = Arc::new(Roused { work: AtomicBool::new(true), outer: AtomicWaker::new() });
        let until = Box::pin(sleep(WAITING));
        Self { work: Box::pin(work), line, trainer, turn: Some(turn), without: None, anew: None, until, roused }
    }

    /// A step of the work, off the threads that serve.
    fn step(&mut self) -> Poll<F::Output> {
        let waker = Waker::from(self.roused.clone());
        let mut context = Context::from_waker(&waker);
        aside(|| self.work.as_mut().poll(&mut context))
    }

    /// Waits for another turn where the last was given back.
    fn has_turn(&mut self, context: &mut Context<'_>) -> bool {
        if self.turn.is_some() {
            return true;
        }
        let (line, trainer) = (self.line.clone(), self.trainer);
        let anew = self.anew.get_or_insert_with(|| Box::pin(async move { line.another(trainer).await }));
        let Poll::Ready(turn) = anew.as_mut().poll(context) else { return false };
        (self.turn, self.anew, self.without) = (Some(turn), None, None);
        true
    }
}

impl<F: Future> Future for Turns<F> {
    type Output = F::Output;

    fn poll(mut self: Pin<&mut Self>, context: &mut Context<'_>) -> Poll<F::Output> {
        self.roused.outer.register(context.waker());
        while self.roused.work.load(Ordering::Acquire) {
            if !self.has_turn(context) {
                return Poll::Pending;
            }
            self.roused.work.store(false, Ordering::Release);
            if let Poll::Ready(done) = self.step() {
                return Poll::Ready(done);
            }
            self.until.as_mut().reset(Instant::now() + WAITING);
        }
        if self.turn.is_some() && self.until.as_mut().poll(context).is_ready() {
            self.without = Some(self.line.without_turn(self.trainer));
            self.turn = None;
        }
        Poll::Pending
    }
}

#[cfg(test)]
mod tests {
    use std::future::pending;
    use std::sync::Arc;
    use std::time::Duration;

    use super::super::{Line, MOST_WAITING, PATIENCE};
    use super::Turns;
    use crate::error::WebError;
    use bavrek_store::TrainerId;
    use tokio::time::{Instant, sleep};
    use uuid::Uuid;

    const ONE: TrainerId = TrainerId(Uuid::from_u128(1));
    const OTHER: TrainerId = TrainerId(Uuid::from_u128(2));

    /// Who waits for a locked table keeps no turn from those who compute, and goes on in a turn of its own.
    #[tokio::test(start_paused = true)]
    async fn a_turn_is_given_back_while_its_work_waits_for_long() {
        let line = Arc::new(Line::of(2, PATIENCE));
        let wait = |ms| sleep(Duration::from_millis(ms));
        let turn = line.turn(ONE).await.unwrap();
        let (asked, each) = (Instant::now(), line.clone());
        let seen = async move {
            wait(100).await;
            let short = each.desk(ONE).places.available_permits();
            wait(1000).await;
            (short, each.desk(ONE).places.available_permits())
        };
        let waits = tokio::spawn(Turns::of(seen, turn, line.clone(), ONE));
        let between = line.turn(ONE).await.unwrap();
        let twentieths = asked.elapsed().as_millis() / 50;
        assert_eq!(twentieths, 7, "100 ms of a short wait, then a quarter of a second of the long one");
        wait(3000).await;
        assert!(!waits.is_finished(), "it goes on only in a turn");
        drop(between);
        assert_eq!(waits.await.unwrap(), (0, 0), "a short wait keeps the turn, and what goes on has one");
        assert_eq!(line.desk(ONE).places.available_permits(), 1);
    }

    /// A trainer whose pages all wait for the database begins no more of them than may wait, and keeps no other from beginning.
    #[tokio::test(start_paused = true)]
    async fn what_waits_without_a_turn_is_counted() {
        let line = Arc::new(Line::of(2, PATIENCE));
        let mut begun = Vec::new();
        for _ in 0..MOST_WAITING {
            let turn = line.turn(ONE).await.unwrap();
            begun.push(tokio::spawn(Turns::of(pending::<()>(), turn, line.clone(), ONE)));
            sleep(Duration::from_millis(300)).await;
        }
        assert!(matches!(line.turn(ONE).await, Err(WebError::Busy)), "one more is too many");
        assert!(line.turn(OTHER).await.is_ok());
        begun.pop().unwrap().abort();
        tokio::task::yield_now().await;
        assert!(line.turn(ONE).await.is_ok(), "what is given up waits no more");
    }
}
