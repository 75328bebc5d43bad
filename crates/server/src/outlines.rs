//! What lies inside the setback of fields looked at lately: of ten thousand rough corners it takes seconds to draw, and it
//! changes only with the field's shape. Of many who look at once, one draws it.

use std::{
    collections::HashMap,
    sync::{Arc, Mutex, MutexGuard, PoisonError},
};

use agronomy::{
    field::{Boundary, FieldArea, set_back},
    units::{Length, Unit},
    working::Answer,
};
use ledger::field::Field;
use tokio::sync::OnceCell;
use uuid::Uuid;

use crate::{problem::Problem, work::Work};

/// Rings of corners, degrees east and north.
pub type Rings = Vec<Vec<Vec<[f64; 2]>>>;

/// A field's sown part.
#[derive(Debug)]
pub struct Outline {
    /// Its areas, with the working.
    pub areas: Answer<FieldArea>,
    /// The sown part, as the coordinates of a GeoJSON MultiPolygon.
    pub inside: Rings,
}

impl Outline {
    fn corners(&self) -> usize {
        self.inside.iter().flatten().map(Vec::len).sum()
    }
}

/// A field in one shape: the entry that tells it, or how it was founded.
type Key = (Uuid, Uuid, Option<Uuid>);
type Cell = Arc<OnceCell<Arc<Outline>>>;

/// Corners of all outlines at hand; those looked at longest ago go first.
const MOST_CORNERS: usize = 1_000_000;
/// Of each outline something is kept beside its corners.
const EACH: usize = 50;

/// Sown parts of fields looked at lately.
#[derive(Default)]
pub struct Outlines(Mutex<Kept>);

#[derive(Default)]
struct Kept {
    cells: HashMap<Key, (u64, Cell)>,
    turn: u64,
}

impl Kept {
    fn cell(&mut self, key: Key) -> Cell {
        self.turn += 1;
        let turn = self.turn;
        let weight = |cell: &Cell| EACH + cell.get().map_or(0, |outline| outline.corners());
        let mut held: usize = self.cells.values().map(|(_, cell)| weight(cell)).sum();
        while held > MOST_CORNERS {
            let Some(oldest) = self.cells.iter().min_by_key(|(_, (used, _))| *used).map(|(key, _)| *key) else { break };
            held -= self.cells.remove(&oldest).map_or(0, |(_, cell)| weight(&cell));
        }
        let (used, cell) = self.cells.entry(key).or_default();
        *used = turn;
        cell.clone()
    }
}

fn locked<T>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    // What is kept is whole after every step: a panic elsewhere does not spoil it.
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

impl Outlines {
    /// A field's sown part; none of a field that is not drawn.
    ///
    /// # Errors
    /// An outline or a setback that can't be; [`Problem::Busy`] when no turn comes in time.
    pub async fn of(&self, work: &Work, field: &Field) -> Result<Option<Arc<Outline>>, Problem> {
        let Some(outline) = field.boundary.clone() else { return Ok(None) };
        let cell = locked(&self.0).cell((field.farm_id, field.id, field.shape));
        let setback = Length::new(field.setback_m, Unit::M);
        let drawn = cell.get_or_try_init(async || {
            let drawn = work.run(field.farm_id, move || drawn(&outline, setback)).await??;
            Ok::<_, Problem>(Arc::new(drawn))
        });
        Ok(Some(drawn.await?.clone()))
    }

    /// How many are at hand.
    pub fn held(&self) -> usize {
        locked(&self.0).cells.values().filter(|(_, cell)| cell.initialized()).count()
    }
}

fn drawn(outline: &serde_json::Value, setback: Length) -> Result<Outline, Problem> {
    let (areas, inside) = set_back(&Boundary::from_geojson(outline)?, setback)?;
    let ring = |line: &geo::LineString| line.coords().map(|corner| [corner.x, corner.y]).collect::<Vec<_>>();
    let part = |part: &geo::Polygon| std::iter::once(part.exterior()).chain(part.interiors()).map(ring).collect();
    Ok(Outline { areas, inside: inside.iter().map(part).collect() })
}
