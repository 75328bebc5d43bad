//! What the ground asks of a stand's plan: how much of what, and in which dressing.

use std::collections::BTreeMap;

use agronomy::{
    crop::Crop,
    nutrients::{
        Amounts,
        dressings::{DressingTime, Feeding, PotashSplit, at_most, most_nitrogen},
    },
    practice::{Amount, Template},
    said,
};

use crate::{Step, StepAmount, words};

/// What the ground asks for, as [`crate::ground`] finds it.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct GroundNeeds {
    /// A bioassay is called for.
    pub bioassay: bool,
    /// Lime was decided on and is due; how much.
    pub lime: Option<Vec<StepAmount>>,
    /// What its making is fed, by time.
    pub making: BTreeMap<DressingTime, Amounts>,
    /// What it needs in a year once it stands.
    pub upkeep: Option<YearNeed>,
}

/// What a stand needs in a year, and what its dressings are split by.
#[derive(Debug, Clone, PartialEq)]
pub struct YearNeed {
    /// In all.
    pub amounts: Amounts,
    /// The crop that decides phosphorus and potassium.
    pub crop: &'static Crop,
    /// The crop that is fed with nitrogen.
    pub fed: &'static Crop,
    /// In how many dressings potash comes; the crop's usual when absent.
    pub potash: Option<PotashSplit>,
}

impl YearNeed {
    /// The dressings of a year that has such times.
    pub fn parts(&self, established: bool, comes: impl Fn(DressingTime) -> bool) -> BTreeMap<DressingTime, Amounts> {
        let Self { crop, fed, potash, .. } = *self;
        Feeding { crop, fed, established, potash }.parts(&self.amounts, comes)
    }
}

/// What a step of the making brings of the nutrients that are due.
pub(crate) fn due<'a>(template: &Template, needs: &'a GroundNeeds) -> Option<&'a Amounts> {
    let Some(Amount::Nutrients(time)) = template.amount else { return None };
    needs.making.get(&time)
}

/// A step that brings a dressing, held to what one may bring; what is missing then is among its reasons.
pub(crate) fn feeds(mut step: Step, dressing: &Amounts) -> Step {
    let (dressing, over) = at_most(dressing.clone());
    step.amounts = StepAmount::all(&dressing);
    if let Some(over) = over {
        let text = said!(
            "{} more nitrogen is needed for the yield goal than one dressing should bring ({}). Add a dressing, use manure, or keep legumes in the stand.",
            over,
            most_nitrogen()
        );
        step.reasons.push(words::common(text));
    }
    step
}
