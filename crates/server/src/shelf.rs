//! Books at hand: what a farm's ledger comes to, kept in memory and brought up to date by what was written since.
//!
//! Nothing here is knowledge: it is folded from the ledger, keyed by the place the ledger has come to, and dropped
//! freely. A write anywhere, by whichever server, moves the ledger on; the next reader folds anew the books of what the
//! new entries are about, and no others.

use std::{
    collections::{BTreeSet, HashMap},
    sync::{
        Arc, Mutex, MutexGuard, PoisonError,
        atomic::{AtomicUsize, Ordering},
    },
    time::Duration,
};

use actix_web::web::Bytes;
use agronomy::units::Reader;
use ledger::{Connection, chain, entry, farm::Membership, field::Field, lot, stand::Stand};
use planner::{Assessment, LotFacts};
use records::{Subject, book::Books};
use tokio::sync::{Mutex as Turn, OwnedMutexGuard};
use uuid::Uuid;

use crate::{api::stands::StandView, problem::Problem};

/// Farms whose books are kept; the one asked for longest ago goes first.
const MOST_FARMS: usize = 24;
/// More things touched than this, and all is folded anew: it is one reading of the ledger instead of many.
const MOST_TOUCHED: usize = 100;

/// What else a stand's view hangs on: the day, its weather as kept, the level a window opens at, and where the farm lies,
/// by the count of its corrections.
pub type Sight = (jiff::civil::Date, Option<i64>, u64, i32);

/// A season as it was answered, compressed.
#[derive(Clone)]
pub struct Answered {
    /// Fields it shows.
    pub fields: Arc<Vec<Field>>,
    /// Stands it shows.
    pub stands: Arc<Vec<Stand>>,
    /// The body, by gzip.
    pub body: Bytes,
}

/// A farm's books at a place of its ledger.
pub struct Shelved {
    /// The place.
    pub position: i64,
    /// The books.
    pub books: Books,
    /// Stands as they were seen last.
    views: Mutex<HashMap<(Uuid, Sight), Arc<StandView>>>,
    /// Assessments of the stands looked at last.
    cores: Mutex<HashMap<(Uuid, Sight), Arc<Assessment>>>,
    /// Seasons as they were answered last.
    answers: Mutex<HashMap<(Sight, Reader), Answered>>,
    /// Whose turn it is to draw one.
    drawing: Arc<Turn<()>>,
}

/// The longest that anybody waits for what somebody else is working out.
const WAIT: Duration = Duration::from_secs(20);

async fn turn_at(turn: &Arc<Turn<()>>) -> Result<OwnedMutexGuard<()>, Problem> {
    tokio::time::timeout(WAIT, turn.clone().lock_owned()).await.map_err(|_| Problem::Busy)
}

fn locked<T>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    // What is kept is whole after every step: a panic elsewhere does not spoil it.
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

impl Shelved {
    fn new(position: i64, books: Books) -> Self {
        Self {
            position,
            books,
            views: Mutex::default(),
            cores: Mutex::default(),
            answers: Mutex::default(),
            drawing: Arc::default(),
        }
    }

    /// A turn to draw a season: who waits for one finds drawn what the one before them drew.
    ///
    /// # Errors
    /// [`Problem::Busy`] when it does not come in time.
    pub async fn turn_to_draw(&self) -> Result<OwnedMutexGuard<()>, Problem> {
        turn_at(&self.drawing).await
    }

    /// A stand as it is seen, worked out when nobody has asked since something of it changed.
    pub fn view(&self, stand: Uuid, sight: Sight, seen: impl FnOnce() -> Option<StandView>) -> Option<Arc<StandView>> {
        if let Some(view) = locked(&self.views).get(&(stand, sight)) {
            return Some(view.clone());
        }
        let view = Arc::new(seen()?);
        let mut views = locked(&self.views);
        // Another day, other weather, another reader's level: the views of old ones go.
        if views.keys().filter(|(one, _)| *one == stand).count() >= MOST_SIGHTS {
            views.retain(|(one, _), _| *one != stand);
        }
        views.insert((stand, sight), view.clone());
        Some(view)
    }

    /// A stand's assessment, worked out when nobody has asked since anything was written on the farm.
    pub fn core(&self, stand: Uuid, sight: Sight, assessed: impl FnOnce() -> Assessment) -> Arc<Assessment> {
        if let Some(core) = locked(&self.cores).get(&(stand, sight)) {
            return core.clone();
        }
        let core = Arc::new(assessed());
        let mut cores = locked(&self.cores);
        if cores.len() >= MOST_CORES {
            cores.clear();
        }
        cores.insert((stand, sight), core.clone());
        core
    }

    /// A season as it was answered, where it still shows all there is.
    pub fn answer(&self, sight: Sight, reader: Reader, fields: &[Field], stands: &[Stand]) -> Option<Bytes> {
        let answers = locked(&self.answers);
        let kept = answers.get(&(sight, reader))?;
        (*kept.fields == fields && *kept.stands == stands).then(|| kept.body.clone())
    }

    /// Keep a season as it was answered.
    pub fn answered(&self, sight: Sight, reader: Reader, answer: Answered) {
        let mut answers = locked(&self.answers);
        if answers.len() >= MOST_SIGHTS {
            answers.clear();
        }
        answers.insert((sight, reader), answer);
    }
}

/// Stands whose assessments are kept: those that people have open.
const MOST_CORES: usize = 24;
/// Days, weathers and levels that a farm's stands are kept in at once.
const MOST_SIGHTS: usize = 4;

/// Books of the farms asked for lately.
#[derive(Default)]
pub struct Shelf {
    kept: Mutex<Kept>,
    /// Whose turn it is to fold a farm's books; of the farms that are being folded.
    folding: Mutex<HashMap<Uuid, Arc<Turn<()>>>>,
    folds: AtomicUsize,
}

#[derive(Default)]
struct Kept {
    farms: HashMap<Uuid, (u64, Arc<Shelved>)>,
    turn: u64,
}

impl Kept {
    fn take(&mut self, farm: Uuid) -> Option<Arc<Shelved>> {
        self.turn += 1;
        let turn = self.turn;
        self.farms.get_mut(&farm).map(|(used, shelved)| {
            *used = turn;
            shelved.clone()
        })
    }

    /// Put books by, and give what stands there then: of two at one place the one that has been used, of two places the
    /// later.
    fn put(&mut self, farm: Uuid, shelved: Arc<Shelved>) -> Arc<Shelved> {
        if let Some((_, there)) = self.farms.get(&farm).filter(|(_, there)| there.position >= shelved.position) {
            return there.clone();
        }
        if self.farms.len() >= MOST_FARMS && !self.farms.contains_key(&farm) {
            let oldest = self.farms.iter().min_by_key(|(_, (used, _))| *used).map(|(farm, _)| *farm);
            oldest.map(|farm| self.farms.remove(&farm));
        }
        self.turn += 1;
        self.farms.insert(farm, (self.turn, shelved.clone()));
        shelved
    }
}

impl Shelf {
    /// A farm's lots, as its ledger now stands.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn lots(&self, connection: &mut Connection, member: &Membership) -> Result<Vec<LotFacts>, Problem> {
        let shelved = self.books(connection, member).await?;
        Ok(lot::facts(connection, member, &shelved.books).await?)
    }

    /// A farm's books as its ledger now stands.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn books(&self, connection: &mut Connection, member: &Membership) -> Result<Arc<Shelved>, Problem> {
        let farm = member.farm.id;
        let position = chain::head(connection, member).await?.position;
        if let Some(kept) = locked(&self.kept).take(farm).filter(|kept| kept.position == position) {
            return Ok(kept);
        }
        // One folds, the others wait for it, and look again where the ledger has come to.
        let turn = self.turn_of(farm);
        let _turn = turn_at(&turn).await?;
        // Read first: what is written meanwhile is at worst folded twice.
        let position = chain::head(connection, member).await?.position;
        let kept = locked(&self.kept).take(farm);
        if let Some(kept) = kept.as_ref().filter(|kept| kept.position == position) {
            return Ok(kept.clone());
        }
        self.folds.fetch_add(1, Ordering::Relaxed);
        let touched = match &kept {
            Some(kept) => Some(entry::touched_since(connection, member, kept.position).await?),
            None => None,
        };
        let fresh = match (kept, touched) {
            (Some(kept), Some(touched)) if touched.len() <= MOST_TOUCHED => {
                let mut books = kept.books.clone();
                for subject in &touched {
                    books.replace(*subject, &entry::books(connection, member, Some(*subject)).await?);
                }
                let fresh = Shelved::new(position, books);
                let touched: BTreeSet<Subject> = touched.into_iter().collect();
                let same = |view: &StandView| {
                    !touched.contains(&Subject::stand(view.id)) && !touched.contains(&Subject::field(view.field))
                };
                let views = locked(&kept.views);
                let kept_views = views.iter().filter(|(_, view)| same(view)).map(|(key, view)| (*key, view.clone()));
                *locked(&fresh.views) = kept_views.collect();
                fresh
            }
            _ => Shelved::new(position, entry::books(connection, member, None).await?),
        };
        Ok(locked(&self.kept).put(farm, Arc::new(fresh)))
    }

    fn turn_of(&self, farm: Uuid) -> Arc<Turn<()>> {
        let mut folding = locked(&self.folding);
        if folding.len() > MOST_FARMS {
            folding.retain(|_, turn| Arc::strong_count(turn) > 1);
        }
        folding.entry(farm).or_default().clone()
    }

    /// How often books were folded, in whole or in part.
    pub fn folds(&self) -> usize {
        self.folds.load(Ordering::Relaxed)
    }
}
