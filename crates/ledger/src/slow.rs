//! A line in the log for every statement that takes long: what it is and how long, never what was bound to it.

use std::{
    sync::{
        Arc,
        atomic::{AtomicU64, Ordering},
    },
    time::{Duration, Instant},
};

use diesel::connection::{Instrumentation, InstrumentationEvent};

/// From here on a statement is slow.
const SLOW: Duration = Duration::from_millis(250);

/// How many statements of a pool took long, since the start.
#[derive(Clone, Default)]
pub(crate) struct Slow(Arc<AtomicU64>);

impl Slow {
    /// How many.
    pub(crate) fn count(&self) -> u64 {
        self.0.load(Ordering::Relaxed)
    }

    /// Watches the statements of one connection.
    pub(crate) fn watch(&self) -> Watch {
        Watch { slow: self.clone(), began: None }
    }
}

/// Watches the statements of one connection.
pub(crate) struct Watch {
    slow: Slow,
    began: Option<Instant>,
}

impl Instrumentation for Watch {
    fn on_connection_event(&mut self, event: InstrumentationEvent<'_>) {
        match event {
            InstrumentationEvent::StartQuery { .. } => self.began = Some(Instant::now()),
            InstrumentationEvent::FinishQuery { query, .. } => {
                let Some(took) = self.began.take().map(|began| began.elapsed()).filter(|took| *took >= SLOW) else {
                    return;
                };
                self.slow.0.fetch_add(1, Ordering::Relaxed);
                let text = query.to_string();
                tracing::warn!(target: "slow", "{} ms: {}", took.as_millis(), without_values(&text));
            }
            _ => {}
        }
    }
}

/// Diesel writes what is bound after the statement: names and notes are nothing for a log.
pub fn without_values(text: &str) -> &str {
    text.split(" -- binds:").next().unwrap_or_default()
}
