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

use agronomy::units::Reader;
use ledger::{Connection, chain, entry, farm::Membership, field::Field, lot};
use planner::{Assessment, LotFacts};
use records::{Subject, book::Books};
use tokio::sync::{Mutex as Turn, OwnedMutexGuard};
use uuid::Uuid;

use crate::{api::stands::StandView, lately::Lately, pieces::Piece, problem::Problem};

/// Entries and stands of all the books that are kept, a stand's view weighing as much as a hundred entries; those of the farm
/// asked for longest ago go first.
const MOST_WEIGHT: usize = 300_000;
const OF_A_STAND: usize = 100;
/// More things touched than this, and all is folded anew: it is one reading of the ledger instead of many.
const MOST_TOUCHED: usize = 100;

/// What else a stand's view hangs on: the day, its weather as kept, the level a window opens at, and where the farm lies,
/// by the count of its corrections.
pub type Sight = (jiff::civil::Date, Option<i64>, u64, i32);

/// A strip of a season: a field, and its stands as they are seen.
pub type Seen = (Field, Vec<Arc<StandView>>);

/// Some strips of a season as they were told, and what they were told from.
#[derive(Clone)]
struct Told {
    strips: Vec<Seen>,
    piece: Piece,
}

impl Told {
    fn is_of(&self, strips: &[Seen]) -> bool {
        let views = |one: &[Arc<StandView>], other: &[Arc<StandView>]| {
            one.len() == other.len() && one.iter().zip(other).all(|(one, other)| Arc::ptr_eq(one, other))
        };
        let same = |(one, other): (&Seen, &Seen)| one.0 == other.0 && views(&one.1, &other.1);
        self.strips.len() == strips.len() && self.strips.iter().zip(strips).all(same)
    }
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
    cores: Mutex<Lately<(Uuid, Sight), Arc<Assessment>>>,
    /// Strips of its season as they were told last, by field and reader.
    strips: Mutex<HashMap<(Uuid, Reader), Told>>,
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
        let cores = Mutex::new(Lately::of_so_many(MOST_CORES));
        Self { position, books, views: Mutex::default(), cores, strips: Mutex::default() }
    }

    /// What it weighs beside others.
    fn weight(&self) -> usize {
        self.position.unsigned_abs() as usize + OF_A_STAND * locked(&self.views).len()
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
        locked(&self.cores).put((stand, sight), core.clone());
        core
    }

    /// Some strips, told anew where anything of them has changed.
    ///
    /// # Errors
    /// When they can't be told.
    pub fn strips(
        &self,
        reader: Reader,
        strips: &[Seen],
        tell: impl FnOnce() -> Result<Piece, Problem>,
    ) -> Result<Piece, Problem> {
        let Some((first, _)) = strips.first() else { return tell() };
        let key = (first.id, reader);
        if let Some(told) = locked(&self.strips).get(&key).filter(|told| told.is_of(strips)) {
            return Ok(told.piece.clone());
        }
        let piece = tell()?;
        let mut all = locked(&self.strips);
        // Of a few readers: the strips of many are told anew.
        if all.keys().filter(|(one, _)| *one == first.id).count() >= MOST_SIGHTS {
            all.retain(|(one, _), _| *one != first.id);
        }
        all.insert(key, Told { strips: strips.to_vec(), piece: piece.clone() });
        Ok(piece)
    }
}

/// Stands whose assessments are kept: those that people have open.
const MOST_CORES: usize = 24;
/// Days, weathers and levels that a farm's stands are kept in at once.
const MOST_SIGHTS: usize = 4;

/// Books of the farms asked for lately.
pub struct Shelf {
    kept: Mutex<Lately<Uuid, Arc<Shelved>>>,
    /// Whose turn it is to fold a farm's books; of the farms that are being folded.
    folding: Mutex<HashMap<Uuid, Arc<Turn<()>>>>,
    folds: AtomicUsize,
}

impl Default for Shelf {
    fn default() -> Self {
        let weigh = |shelved: &Arc<Shelved>| shelved.weight();
        Self {
            kept: Mutex::new(Lately::new(MOST_WEIGHT, weigh)),
            folding: Mutex::default(),
            folds: AtomicUsize::default(),
        }
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
        if let Some(kept) = locked(&self.kept).get(&farm).cloned().filter(|kept| kept.position == position) {
            return Ok(kept);
        }
        // One folds, the others wait for it, and look again where the ledger has come to.
        let turn = self.turn_of(farm);
        let _turn = turn_at(&turn).await?;
        // Read first: what is written meanwhile is at worst folded twice.
        let position = chain::head(connection, member).await?.position;
        let kept = locked(&self.kept).get(&farm).cloned();
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
                drop(views);
                // A strip is told from its field and views: where those are others, it is told anew.
                *locked(&fresh.strips) = locked(&kept.strips).clone();
                fresh
            }
            _ => Shelved::new(position, entry::books(connection, member, None).await?),
        };
        Ok(self.put(farm, Arc::new(fresh)))
    }

    /// Put books by, and give what stands there then: of two at one place the one that has been used, of two places the
    /// later.
    fn put(&self, farm: Uuid, shelved: Arc<Shelved>) -> Arc<Shelved> {
        let mut kept = locked(&self.kept);
        if let Some(there) = kept.get(&farm).filter(|there| there.position >= shelved.position) {
            return there.clone();
        }
        kept.put(farm, shelved.clone());
        shelved
    }

    fn turn_of(&self, farm: Uuid) -> Arc<Turn<()>> {
        let mut folding = locked(&self.folding);
        folding.retain(|own, turn| *own == farm || Arc::strong_count(turn) > 1);
        folding.entry(farm).or_default().clone()
    }

    /// Whether a farm's books are at hand as its ledger now stands.
    pub fn has(&self, farm: Uuid, position: i64) -> bool {
        locked(&self.kept).get(&farm).is_some_and(|kept| kept.position == position)
    }

    /// Farms whose books are at hand.
    pub fn held(&self) -> usize {
        locked(&self.kept).len()
    }

    /// How often books were folded, in whole or in part.
    pub fn folds(&self) -> usize {
        self.folds.load(Ordering::Relaxed)
    }
}
