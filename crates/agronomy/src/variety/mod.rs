//! Which kind of a crop fits, and which of a farm's own varieties: by winter, by the time there is, and before all by
//! trials near the farm.

mod choose;
mod kinds;

pub use choose::{
    Fit, KindFit, OwnFit, OwnVariety, Trial, TrialStanding, VarietyAnswer, VarietyRequest, choose_variety, standing,
};
pub use kinds::{Range, VarietyKind, variety_kinds};
