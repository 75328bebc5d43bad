//! Heavy reckoning, off the event loop and bounded.

use std::{sync::Arc, time::Duration};

use actix_web::web;
use tokio::sync::Semaphore;

use crate::problem::Problem;

/// The longest that a reckoning waits for its turn.
const WAIT: Duration = Duration::from_secs(20);

/// Turns for reckonings that take more than a moment. As many run at once as there are cores, so that
/// asking for weather and health is answered whatever is being worked out.
#[derive(Debug, Clone)]
pub struct Work(Arc<Semaphore>);

impl Default for Work {
    fn default() -> Self {
        Self::at_once(std::thread::available_parallelism().map_or(2, usize::from))
    }
}

impl Work {
    /// So many at once.
    pub fn at_once(most: usize) -> Self {
        Self(Arc::new(Semaphore::new(most.max(1))))
    }

    /// Work something out when it is its turn.
    ///
    /// # Errors
    /// [`Problem::Busy`] when its turn does not come in time, [`Problem::Internal`] when it panics.
    pub async fn run<T: Send + 'static>(&self, work: impl FnOnce() -> T + Send + 'static) -> Result<T, Problem> {
        let turn = tokio::time::timeout(WAIT, self.0.clone().acquire_owned()).await;
        let Ok(Ok(turn)) = turn else {
            tracing::warn!("a reckoning waited too long for its turn");
            return Err(Problem::Busy);
        };
        let work = move || {
            let done = work();
            drop(turn);
            done
        };
        web::block(work).await.map_err(|error| Problem::Internal(error.to_string()))
    }
}
