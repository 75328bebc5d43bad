//! Turns, shared fairly: whoever asks for many waits behind those who ask for one.
//!
//! Each farm (or person, where no farm is asked about) has a queue of its own, and a turn that comes free goes to the queues
//! one after another. A farm alone may take them all.

use std::{
    collections::{HashMap, VecDeque},
    sync::{Arc, Mutex, MutexGuard, PoisonError},
};

use tokio::sync::oneshot::{Sender, channel};
use uuid::Uuid;

/// So many turns at once.
#[derive(Debug, Clone)]
pub struct Turns(Arc<Mutex<Queues>>);

#[derive(Debug, Default)]
struct Queues {
    free: usize,
    /// Who waits, by whose turn it is. No queue is empty.
    waiting: HashMap<Uuid, VecDeque<Sender<Turn>>>,
    /// In which order they come: each that waits stands in it once.
    order: VecDeque<Uuid>,
}

/// A turn; it goes on to the next when it is dropped.
#[derive(Debug)]
pub struct Turn(Option<Arc<Mutex<Queues>>>);

fn locked(queues: &Mutex<Queues>) -> MutexGuard<'_, Queues> {
    // The queues are whole after every step: a panic elsewhere does not spoil them.
    queues.lock().unwrap_or_else(PoisonError::into_inner)
}

impl Queues {
    /// Whoever is next; a turn is free where nobody is.
    fn next(&mut self) -> Option<Sender<Turn>> {
        let Some(whose) = self.order.pop_front() else {
            self.free += 1;
            return None;
        };
        let queue = self.waiting.get_mut(&whose)?;
        let next = queue.pop_front();
        if queue.is_empty() {
            self.waiting.remove(&whose);
        } else {
            self.order.push_back(whose);
        }
        next
    }
}

impl Turns {
    /// So many at once.
    pub fn of(many: usize) -> Self {
        Self(Arc::new(Mutex::new(Queues { free: many, ..Queues::default() })))
    }

    /// Wait for a turn. Whoever stops waiting is passed over.
    pub async fn turn(&self, whose: Uuid) -> Turn {
        let waiting = {
            let mut queues = locked(&self.0);
            if queues.free > 0 {
                queues.free -= 1;
                None
            } else {
                let (sender, receiver) = channel();
                let queue = queues.waiting.entry(whose).or_default();
                queue.push_back(sender);
                if queue.len() == 1 {
                    queues.order.push_back(whose);
                }
                Some(receiver)
            }
        };
        match waiting {
            None => Turn(Some(self.0.clone())),
            // A sender is only ever dropped with the queues themselves, which this holds.
            Some(receiver) => receiver.await.unwrap_or(Turn(None)),
        }
    }
}

impl Drop for Turn {
    fn drop(&mut self) {
        let Some(queues) = self.0.take() else { return };
        loop {
            let Some(next) = locked(&queues).next() else { return };
            match next.send(Self(Some(queues.clone()))) {
                Ok(()) => return,
                // They have gone: it was theirs for no time at all.
                Err(mut turn) => drop(turn.0.take()),
            }
        }
    }
}
