//! Counting a stand: where, how much stands, and whether enough places were looked at.
//!
//! Places are the units, never the cells or plants within them: what stands in one place is alike, and a thousand
//! cells of ten places taken for a thousand independent ones would claim to know three times as much as they do.

mod interval;
mod places;

pub use interval::{
    Against, CountAnswer, CountRequest, Counted, ENOUGH_PLACES, Enough, FEWEST_PLACES, Judged, LEAST_DEVIATION,
    count_interval, judge,
};
pub use places::{CountPlan, CountPlanRequest, Spot, count_plan};
