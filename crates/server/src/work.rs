//! Heavy reckoning, off the event loop and bounded.

use std::{
    sync::{
        Arc,
        atomic::{AtomicUsize, Ordering},
    },
    time::Duration,
};

use actix_web::web;
use tokio::sync::Semaphore;

use crate::problem::Problem;

/// The longest that a reckoning waits for its turn.
const WAIT: Duration = Duration::from_secs(20);

/// Turns for reckonings that take more than a moment. As many run at once as there are cores, so that
/// asking for weather and health is answered whatever is being worked out.
#[derive(Debug, Clone)]
pub struct Work {
    turns: Arc<Semaphore>,
    count: Arc<Count>,
}

/// How many wait and run, and the most that ever ran at once.
#[derive(Debug, Default)]
struct Count {
    waiting: AtomicUsize,
    now: AtomicUsize,
    most: AtomicUsize,
}

/// One that runs; counted out also when it panics.
struct Running(Arc<Count>);

impl Running {
    fn new(count: Arc<Count>) -> Self {
        let now = count.now.fetch_add(1, Ordering::Relaxed) + 1;
        count.most.fetch_max(now, Ordering::Relaxed);
        Self(count)
    }
}

impl Drop for Running {
    fn drop(&mut self) {
        self.0.now.fetch_sub(1, Ordering::Relaxed);
    }
}

/// One that waits; counted out also when whoever asked has gone.
struct Waiting(Arc<Count>);

impl Waiting {
    fn new(count: Arc<Count>) -> Self {
        count.waiting.fetch_add(1, Ordering::Relaxed);
        Self(count)
    }
}

impl Drop for Waiting {
    fn drop(&mut self) {
        self.0.waiting.fetch_sub(1, Ordering::Relaxed);
    }
}

impl Default for Work {
    fn default() -> Self {
        Self::at_once(std::thread::available_parallelism().map_or(2, usize::from))
    }
}

impl Work {
    /// So many at once.
    pub fn at_once(most: usize) -> Self {
        Self { turns: Arc::new(Semaphore::new(most.max(1))), count: Arc::default() }
    }

    /// How many run now.
    pub fn now(&self) -> usize {
        self.count.now.load(Ordering::Relaxed)
    }

    /// How many wait for their turn.
    pub fn waiting(&self) -> usize {
        self.count.waiting.load(Ordering::Relaxed)
    }

    /// The most that ever ran at once.
    pub fn most_at_once(&self) -> usize {
        self.count.most.load(Ordering::Relaxed)
    }

    /// Work something out when it is its turn.
    ///
    /// # Errors
    /// [`Problem::Busy`] when its turn does not come in time, [`Problem::Internal`] when it panics.
    pub async fn run<T: Send + 'static>(&self, work: impl FnOnce() -> T + Send + 'static) -> Result<T, Problem> {
        let waiting = Waiting::new(self.count.clone());
        let turn = tokio::time::timeout(WAIT, self.turns.clone().acquire_owned()).await;
        drop(waiting);
        let Ok(Ok(turn)) = turn else {
            tracing::warn!("a reckoning waited too long for its turn");
            return Err(Problem::Busy);
        };
        let count = self.count.clone();
        let work = move || {
            let running = Running::new(count);
            let done = work();
            drop((running, turn));
            done
        };
        web::block(work).await.map_err(|error| Problem::Internal(error.to_string()))
    }
}
