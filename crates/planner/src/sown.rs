//! How much of a stand is sown: by the records of the seed and the plants that went into its ground.

use std::collections::BTreeMap;

use agronomy::units::{Area, Measure};
use jiff::civil::Date;
use records::{Choices, book::StandBook};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// Sown on this share of its ground a field is sown: headlands, wet spots and overlaps make up the rest (common practice,
/// no source).
const COVERED: f64 = 0.95;

/// Work that was done on part of the ground.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct PartDone {
    /// On so much of it.
    pub done: Area,
    /// Of so much.
    pub of: Area,
}

/// What the records of seed and plants come to.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SownSoFar {
    /// The first day.
    pub first: Date,
    /// The last record.
    pub last: Uuid,
    /// How much of the ground.
    pub part: PartDone,
}

impl SownSoFar {
    /// Whether the field is sown with that.
    pub fn covers(&self) -> bool {
        self.part.done.base() >= COVERED * self.part.of.base()
    }

    /// By a stand's own records over so much ground; none where nothing was sown.
    ///
    /// Records of one crop sow one part of the field after another. Of a mix each lot may be of another member and lie over
    /// the same ground: what one lot covers is sown, and so is what all cover together, shared among the members.
    pub fn of(choices: &Choices, book: &StandBook, of: Area) -> Option<Self> {
        let members = choices.cover.crops().len().max(1);
        let mut by_lot: BTreeMap<Option<Uuid>, f64> = BTreeMap::new();
        for one in &book.sown {
            *by_lot.entry(one.lot).or_default() += one.sown.what.area.base();
        }
        let shared = by_lot.values().sum::<f64>() / members as f64;
        let seeded = by_lot.into_values().fold(shared, f64::max);
        let planted: f64 = book.planted.iter().map(|one| one.what.area.base()).sum();
        let done = Area::from_base(seeded.max(planted));
        let seed = book.sown.iter().map(|one| (one.sown.on, one.sown.entry));
        let plants = book.planted.iter().map(|one| (one.on, one.entry));
        let days: Vec<(Date, Uuid)> = seed.chain(plants).collect();
        let (first, _) = days.iter().min()?;
        let (_, last) = days.iter().max()?;
        Some(Self { first: *first, last: *last, part: PartDone { done, of } })
    }
}
