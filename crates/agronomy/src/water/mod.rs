//! Water in the soil: what falls, what runs off, what the crop and the sun take, what is left.
//!
//! The balance itself stands in [`kernels::water`]; here is what is asked of it.

mod balance;
mod holds;

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

pub use balance::{Balance, BalanceRequest, Coefficient, Irrigation, balance};
pub use holds::OwnSoil;

pub use kernels::water::{
    Bed, Canopy, Holds, Moved, Profile, SEEDBED_ROOTS, Today, Water, drains, holds, lets_through,
};

use crate::{
    units::{Quantity, WaterPerDay},
    weather::plus,
};

/// When the root zone will have lost what it can spare, and how much refills it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct IrrigationAdvice {
    /// Missing this evening.
    pub missing: Quantity,
    /// Above this the crop suffers.
    pub readily_available: Quantity,
    /// What the crop uses of reference evapotranspiration today.
    pub use_today: WaterPerDay,
    /// The day by which half of the years have lost what can be spared; absent when most never do.
    #[schema(value_type = Option<String>, format = Date)]
    pub by: Option<Date>,
    /// One year in ten is there by this day.
    #[schema(value_type = Option<String>, format = Date)]
    pub earliest: Option<Date>,
    /// Nine in ten.
    #[schema(value_type = Option<String>, format = Date)]
    pub latest: Option<Date>,
    /// Depth that refills it then.
    pub depth: Quantity,
    /// For a seedbed: light and often; the days between waterings by the balance.
    pub every_days: Option<f64>,
    /// What people do by rule of thumb, in a sentence.
    pub rule_of_thumb: String,
}

/// Days from one date to the first of a list of "reached" flags, a share of the runs being there.
pub fn reached_by(days_to: &[Option<i32>], share: f64, from: Date) -> Option<Date> {
    let mut reached: Vec<i32> = days_to.iter().flatten().copied().collect();
    reached.sort_unstable();
    let needed = (share * days_to.len() as f64).ceil() as usize;
    let days = reached.get(needed.max(1) - 1)?;
    Some(plus(from, *days))
}
