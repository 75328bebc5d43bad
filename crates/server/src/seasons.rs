//! Seasons at hand: bodies as they went out, by all that they hang on.
//!
//! Nothing here is knowledge; it may be dropped at any moment. Where the server is told so, they are kept in the database,
//! too, so that one that has just started has them; the key there covers the very program that worked them out.

use std::{
    collections::HashMap,
    sync::{Arc, LazyLock, Mutex, MutexGuard, PoisonError},
    time::Duration,
};

use actix_web::web::Bytes;
use agronomy::units::Reader;
use sha2::{Digest, Sha256};
use tokio::sync::{Mutex as Turn, OwnedMutexGuard};
use uuid::Uuid;

use crate::{lately::Lately, problem::Problem, shelf::Sight};

/// What a season hangs on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct Standing {
    /// The place that the ledger has come to.
    pub position: i64,
    /// Fields and stands that were founded.
    pub founded: (i64, i64),
    /// The day, its weather, the reader's level, and the farm's own facts.
    pub sight: Sight,
    /// Whose units and money.
    pub reader: Reader,
}

/// The program itself: another build says other things of the same ledger.
static PROGRAM: LazyLock<String> = LazyLock::new(|| {
    let told = std::env::current_exe().and_then(std::fs::metadata);
    format!("{:?}", told.map(|file| (file.len(), file.modified().ok())).ok())
});

impl Standing {
    /// The key by which it is kept.
    pub fn key(&self) -> [u8; 32] {
        Sha256::digest(format!("season {self:?} {}", *PROGRAM)).into()
    }

    /// The same reader's, whenever.
    fn replaces(&self, other: &Self) -> bool {
        self.reader == other.reader && self.sight.2 == other.sight.2
    }
}

/// What all bodies may come to, bytes; those of the farm asked for longest ago go first.
const MOST_BYTES: usize = 48_000_000;
/// Of one farm, those of so many readers.
const MOST_READERS: usize = 4;
/// The longest that anybody waits for a season that somebody else is drawing.
const WAIT: Duration = Duration::from_secs(20);

/// Seasons of the farms asked for lately.
pub struct Seasons {
    kept: Mutex<Lately<Uuid, Farm>>,
    drawing: Mutex<HashMap<Uuid, Arc<Turn<()>>>>,
}

impl Default for Seasons {
    fn default() -> Self {
        Self { kept: Mutex::new(Lately::new(MOST_BYTES, Farm::bytes)), drawing: Mutex::default() }
    }
}

#[derive(Default)]
struct Farm {
    answers: Vec<(Standing, Bytes)>,
    /// Who asked last, and whether they have since the day last changed.
    asker: Option<Uuid>,
}

impl Farm {
    fn bytes(&self) -> usize {
        self.answers.iter().map(|(_, body)| body.len()).sum()
    }
}

fn locked<T>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    // What is kept is whole after every step: a panic elsewhere does not spoil it.
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

/// A farm whose season was asked for lately.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Asked {
    /// The farm.
    pub farm: Uuid,
    /// Who asked last.
    pub person: Uuid,
    /// The day of the season they were shown.
    pub day: jiff::civil::Date,
}

impl Seasons {
    /// The body that stands, where it is at hand.
    pub fn kept(&self, farm: Uuid, standing: &Standing) -> Option<Bytes> {
        let mut kept = locked(&self.kept);
        kept.get(&farm)?.answers.iter().find(|(one, _)| one == standing).map(|(_, body)| body.clone())
    }

    /// Keep a body, in the place of that of the same reader.
    pub fn keep(&self, farm: Uuid, person: Uuid, standing: Standing, body: Bytes) {
        let mut kept = locked(&self.kept);
        let own = kept.get_or(farm, Farm::default);
        own.answers.retain(|(one, _)| !standing.replaces(one));
        if own.answers.len() >= MOST_READERS {
            own.answers.remove(0);
        }
        own.answers.push((standing, body));
        own.asker = Some(person);
        kept.within_bounds();
    }

    /// Farms at hand, those asked for last first.
    pub fn asked(&self) -> Vec<Asked> {
        let kept = locked(&self.kept);
        let asked = |(farm, own): (&Uuid, &Farm)| {
            let (standing, _) = own.answers.last()?;
            Some(Asked { farm: *farm, person: own.asker?, day: standing.sight.0 })
        };
        kept.iter().filter_map(asked).collect()
    }

    /// A turn to draw a farm's season: who waits for one finds drawn what the one before them drew.
    ///
    /// # Errors
    /// [`Problem::Busy`] when it does not come in time.
    pub async fn turn_to_draw(&self, farm: Uuid) -> Result<OwnedMutexGuard<()>, Problem> {
        let turn = {
            let mut drawing = locked(&self.drawing);
            drawing.retain(|own, turn| *own == farm || Arc::strong_count(turn) > 1);
            drawing.entry(farm).or_default().clone()
        };
        tokio::time::timeout(WAIT, turn.lock_owned()).await.map_err(|_| Problem::Busy)
    }
}
