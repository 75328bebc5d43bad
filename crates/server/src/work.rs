//! Heavy reckoning, off the event loop and bounded.

use std::{
    cell::RefCell,
    sync::{
        Arc,
        atomic::{AtomicBool, AtomicUsize, Ordering},
    },
    time::Duration,
};

use actix_web::web;
use uuid::Uuid;

use crate::{problem::Problem, turns::Turns};

/// The longest that a reckoning waits for its turn.
const WAIT: Duration = Duration::from_secs(20);

thread_local! {
    /// Whether whoever asked for what this thread works out has gone.
    static GONE: RefCell<Option<Arc<AtomicBool>>> = const { RefCell::new(None) };
}

/// Whether anybody still waits for what this thread works out. A long search asks from time to time.
pub fn wanted() -> bool {
    GONE.with_borrow(|gone| !gone.as_ref().is_some_and(|gone| gone.load(Ordering::Relaxed)))
}

/// Says that nobody waits any more, when the request is dropped.
struct Caller(Arc<AtomicBool>);

impl Drop for Caller {
    fn drop(&mut self) {
        self.0.store(true, Ordering::Relaxed);
    }
}

/// Turns for reckonings that take more than a moment. As many run at once as there are cores, so that
/// asking for weather and health is answered whatever is being worked out; farms take turns.
#[derive(Debug, Clone)]
pub struct Work {
    turns: Turns,
    count: Arc<Count>,
}

/// How many wait and run, the most that ever ran at once, and how many ended when nobody waited any more.
#[derive(Debug, Default)]
struct Count {
    waiting: AtomicUsize,
    now: AtomicUsize,
    most: AtomicUsize,
    for_nobody: AtomicUsize,
}

/// One that runs; counted out also when it panics.
struct Running(Arc<Count>);

impl Running {
    fn new(count: Arc<Count>, gone: Arc<AtomicBool>) -> Self {
        let now = count.now.fetch_add(1, Ordering::Relaxed) + 1;
        count.most.fetch_max(now, Ordering::Relaxed);
        GONE.set(Some(gone));
        Self(count)
    }
}

impl Drop for Running {
    fn drop(&mut self) {
        if !wanted() {
            self.0.for_nobody.fetch_add(1, Ordering::Relaxed);
        }
        GONE.set(None);
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
        Self { turns: Turns::of(most.max(1)), count: Arc::default() }
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

    /// How many ended when whoever asked had gone.
    pub fn for_nobody(&self) -> usize {
        self.count.for_nobody.load(Ordering::Relaxed)
    }

    /// Work something out when it is its turn: `whose`, a farm's or a person's, takes turns with others. When this is dropped meanwhile, [`wanted`] tells the work so.
    ///
    /// # Errors
    /// [`Problem::Busy`] when its turn does not come in time, [`Problem::Internal`] when it panics.
    pub async fn run<T: Send + 'static>(
        &self,
        whose: Uuid,
        work: impl FnOnce() -> T + Send + 'static,
    ) -> Result<T, Problem> {
        let waiting = Waiting::new(self.count.clone());
        let turn = tokio::time::timeout(WAIT, self.turns.turn(whose)).await;
        drop(waiting);
        let Ok(turn) = turn else {
            tracing::warn!("the calculation waited too long; try again");
            return Err(Problem::Busy);
        };
        let caller = Caller(Arc::default());
        let (count, gone) = (self.count.clone(), caller.0.clone());
        let work = move || {
            let running = Running::new(count, gone);
            let done = work();
            drop((running, turn));
            done
        };
        let done = web::block(work).await.map_err(|error| Problem::Internal(error.to_string()));
        // Only now: what is dropped before the end says that nobody waits.
        drop(caller);
        done
    }
}
