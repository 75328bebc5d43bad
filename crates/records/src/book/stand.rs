//! The book of a stand: what was decided for it and done to it.

use jiff::civil::Date;
use uuid::Uuid;

use super::{Dated, Operation, Seen, sown_on};
use crate::{
    Choices,
    kinds::{
        choices::ChoicesShape, depth_checked::DepthChecked, drill_set::DrillSet, plants_set::PlantsSet,
        regime_set::RegimeSet, seed_sown::SeedSown, stand_count::StandCount,
    },
};

/// A decision.
#[derive(Debug, Clone, PartialEq)]
pub struct Decided {
    /// The entry.
    pub entry: Uuid,
    /// The day.
    pub on: Date,
    /// Who decided.
    pub by: Uuid,
    /// What was decided, ready to be planned.
    pub choices: Choices,
    /// The same as it was recorded.
    pub shape: ChoicesShape,
}

/// Seed that was sown, and the lot it came out of.
#[derive(Debug, Clone, PartialEq)]
pub struct SownOfLot {
    /// The lot; none where that was not said.
    pub lot: Option<Uuid>,
    /// How much, where and how.
    pub sown: Dated<SeedSown>,
}

/// A stand, from its entries.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct StandBook {
    /// The stand.
    pub id: Uuid,
    /// Decisions that stand, oldest first; the last one counts.
    pub decisions: Vec<Decided>,
    /// Operations done on it; struck ones too.
    pub operations: Vec<Operation>,
    /// What was last seen of it.
    pub seen: Seen,
    /// Calibrations for it, oldest first.
    pub calibrated: Vec<Dated<DrillSet>>,
    /// Seed sown on it, oldest first.
    pub sown: Vec<SownOfLot>,
    /// Plants set on it, oldest first.
    pub planted: Vec<Dated<PlantsSet>>,
    /// Depths dug up, oldest first.
    pub depths: Vec<Dated<DepthChecked>>,
    /// Counts of it, oldest first.
    pub counts: Vec<Dated<StandCount>>,
    /// How it is used from a season on, as it was decided, oldest first.
    pub regimes: Vec<Dated<RegimeSet>>,
}

impl StandBook {
    /// Of a stand of which nothing was told yet.
    pub fn new(id: Uuid) -> Self {
        Self { id, ..Self::default() }
    }

    /// The decision that counts; none when all were struck.
    pub fn decided(&self) -> Option<&Decided> {
        self.decisions.last()
    }

    /// The last day by which seed went into it: the sowing, or one that thickened or patched it later. What seedlings do
    /// not bear is counted from then.
    pub fn last_seeded(&self, by: Date) -> Option<Date> {
        self.sown.iter().map(|one| one.sown.on).filter(|on| *on <= by).max()
    }

    /// The first day it was sown, as far as was recorded: by the step, or by the seed or the plants that went into the
    /// ground.
    pub fn sown_on(&self) -> Option<Date> {
        let seed = self.sown.iter().map(|one| one.sown.on);
        let plants = self.planted.iter().map(|one| one.on);
        sown_on(&self.operations).into_iter().chain(seed).chain(plants).min()
    }
}
