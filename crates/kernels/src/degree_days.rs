//! Degree-days: warmth above a base, by a method with a name.
//!
//! The same two temperatures give different degree-days by different methods (McMaster & Wilhelm
//! 1997, Agricultural and Forest Meteorology 87:291–300), so a figure without its method says
//! nothing. 18 and 6 °C over a base of 10: method 1 gives 2, method 2 gives 4.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// How a day's warmth is reckoned.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum DegreeDayMethod {
    /// McMaster & Wilhelm's method 1: the day's mean, raised to the base when below it.
    #[default]
    MeanThenBase,
    /// Their method 2: each of the two temperatures raised to the base first.
    EachThenBase,
}

/// Degree-days of one day, °C·d, a cap being on each temperature.
#[inline]
pub fn of_day(method: DegreeDayMethod, base: f64, cap: f64, tmin: f64, tmax: f64) -> f64 {
    match method {
        DegreeDayMethod::MeanThenBase => ((tmax.min(cap) + tmin.min(cap)) / 2.0 - base).max(0.0),
        DegreeDayMethod::EachThenBase => (tmax.clamp(base, cap) + tmin.clamp(base, cap)) / 2.0 - base,
    }
}
