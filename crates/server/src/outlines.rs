//! What lies inside the setback of fields looked at lately: of ten thousand rough corners it takes seconds to draw, and it
//! changes only with the field's shape. Of many who look at once, one draws it.

use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use agronomy::{
    field::{Boundary, FieldArea, set_back},
    units::{Length, Unit},
    working::Answer,
};
use ledger::field::Field;
use tokio::sync::OnceCell;
use uuid::Uuid;

use crate::{lately::Lately, problem::Problem, work::Work};

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
pub struct Outlines(Mutex<Lately<Key, Cell>>);

impl Default for Outlines {
    fn default() -> Self {
        let weigh = |cell: &Cell| EACH + cell.get().map_or(0, |outline| outline.corners());
        Self(Mutex::new(Lately::new(MOST_CORNERS, weigh)))
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
        let cell = locked(&self.0).get_or((field.farm_id, field.id, field.shape), Cell::default).clone();
        let setback = Length::new(field.setback_m, Unit::M);
        let drawn = cell.get_or_try_init(async || {
            let drawn = work.run(field.farm_id, move || drawn(&outline, setback)).await??;
            Ok::<_, Problem>(Arc::new(drawn))
        });
        Ok(Some(drawn.await?.clone()))
    }

    /// How many are at hand.
    pub fn held(&self) -> usize {
        locked(&self.0).iter().filter(|(_, cell)| cell.initialized()).count()
    }
}

fn drawn(outline: &serde_json::Value, setback: Length) -> Result<Outline, Problem> {
    let (areas, inside) = set_back(&Boundary::from_geojson(outline)?, setback)?;
    let ring = |line: &geo::LineString| line.coords().map(|corner| [corner.x, corner.y]).collect::<Vec<_>>();
    let part = |part: &geo::Polygon| std::iter::once(part.exterior()).chain(part.interiors()).map(ring).collect();
    Ok(Outline { areas, inside: inside.iter().map(part).collect() })
}
