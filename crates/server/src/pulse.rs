//! Whether the database is there, for whoever watches over the application.

use std::time::{Duration, Instant};

use ledger::{Pool, Shape};
use tokio::sync::Mutex;

/// What was found a moment ago is told again for so long: a thousand who ask are one question.
const FRESH: Duration = Duration::from_secs(1);
/// The longest that anybody waits to be told.
const TOLD_IN: Duration = Duration::from_millis(900);

/// How the database stands: asked on a line of its own, so that no crowd stands before it.
pub struct Pulse {
    pool: Option<Pool>,
    last: Mutex<Option<(Instant, Option<String>)>>,
}

impl Pulse {
    /// Of the database of a pool.
    pub fn of(pool: &Pool) -> Self {
        Self { pool: pool.beside(1).ok(), last: Mutex::new(None) }
    }

    /// What is wrong; nothing where all is well. Within a second, whatever the database does.
    pub async fn trouble(&self) -> Option<String> {
        let told = async {
            let mut last = self.last.lock().await;
            if let Some((at, found)) = &*last
                && at.elapsed() < FRESH
            {
                return found.clone();
            }
            let found = self.asked().await;
            *last = Some((Instant::now(), found.clone()));
            found
        };
        let late = || Some("the database does not answer".to_owned());
        tokio::time::timeout(TOLD_IN, told).await.unwrap_or_else(|_| late())
    }

    async fn asked(&self) -> Option<String> {
        let Some(pool) = &self.pool else { return Some("the database is unreachable".to_owned()) };
        let shape = match pool.get().await {
            Ok(mut connection) => ledger::shape(&mut connection).await,
            Err(error) => Err(error),
        };
        match shape {
            Ok(Shape::Same) => None,
            Ok(other) => Some(other.to_string()),
            Err(error) => Some(error.to_string()),
        }
    }
}
