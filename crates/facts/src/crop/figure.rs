//! One number or a range of a data file, with where it comes from.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::library;
use crate::{
    source::Origin,
    units::{Measure, Quantity, Unit},
};

/// One number of the library.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Figure {
    /// The number.
    pub value: f64,
    /// Its unit.
    #[schema(value_type = String)]
    pub unit: Unit,
    /// Key of the source in `library/sources.toml`.
    pub source: String,
}

/// A range of the library.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Band {
    /// The low end: drilled into a good seedbed, on time.
    pub low: f64,
    /// The high end: poor seedbed, late, or on a slope.
    pub high: f64,
    /// The unit of both.
    #[schema(value_type = String)]
    pub unit: Unit,
    /// Key of the source.
    pub source: String,
}

impl Figure {
    /// As a typed measure.
    ///
    /// # Panics
    /// If the dimension differs; loading has checked it.
    pub fn measure<M: Measure>(&self) -> M {
        assert_eq!(self.unit.dimension(), M::DIMENSION, "the library was validated at load");
        M::from_base(self.unit.to_base(self.value))
    }

    /// Where it comes from.
    pub fn origin(&self) -> Origin {
        Origin::sourced(library().source(&self.source))
    }

    /// As an edge quantity.
    pub fn quantity(&self) -> Quantity {
        Quantity::new(self.value, self.unit)
    }
}

impl Band {
    /// Both ends as typed measures.
    pub fn ends<M: Measure>(&self) -> (M, M) {
        let end = |value| Figure { value, unit: self.unit, source: self.source.clone() }.measure();
        (end(self.low), end(self.high))
    }

    /// Where it comes from.
    pub fn origin(&self) -> Origin {
        Origin::sourced(library().source(&self.source))
    }
}

/// A range of whole days.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Days {
    /// The earliest.
    pub low: i32,
    /// The latest.
    pub high: i32,
    /// Key of the source.
    pub source: String,
}
