//! Degree-days: warmth above a base, by a method with a name.
//!
//! The same two temperatures give different degree-days by different methods (McMaster & Wilhelm
//! 1997, Agricultural and Forest Meteorology 87:291–300), so a figure without its method says
//! nothing. 18 and 6 °C over a base of 10: method 1 gives 2, method 2 gives 4.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

pub use kernels::degree_days::{DegreeDayMethod, of_day};

use crate::{
    given,
    refusal::{Checks, Refused},
    source::{Origin, Source},
    units::{Measure, Temperature, ThermalTime, Unit},
    working::{Answer, Sheet},
};

/// What a cap lowers.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum CapOn {
    /// Each of the two temperatures, before anything else: the maize rule of 86/50 °F (Gilmore & Rogers 1958,
    /// Agronomy Journal 50:611–615) is method 2 with such a cap.
    #[default]
    Each,
    /// Their mean: McMaster & Wilhelm's way of an upper threshold with method 1.
    Mean,
}

/// The same, the cap being on what it is said to be on.
fn capped(on: CapOn, method: DegreeDayMethod, base: f64, cap: f64, tmin: f64, tmax: f64) -> f64 {
    match on {
        CapOn::Each => of_day(method, base, cap, tmin, tmax),
        CapOn::Mean => of_day(method, base, f64::INFINITY, tmin, tmax).min(cap - base),
    }
}

/// A day's two temperatures.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TwoTemperatures {
    /// Lowest.
    pub tmin: Temperature,
    /// Highest.
    pub tmax: Temperature,
}

/// Request of the topic `weather.gdd`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DegreeDayRequest {
    /// The days, in order.
    pub days: Vec<TwoTemperatures>,
    /// Below this, nothing grows.
    pub base: Temperature,
    /// Above this, it grows no faster.
    #[serde(default)]
    pub cap: Option<Temperature>,
    /// What the cap lowers: each temperature, or their mean.
    #[serde(default)]
    pub cap_on: CapOn,
    /// By which method.
    #[serde(default)]
    pub method: DegreeDayMethod,
}

/// The topic `weather.gdd`.
///
/// # Errors
/// No days or more than a century of them, temperatures out of order, a cap below the base.
pub fn degree_days(request: &DegreeDayRequest) -> Result<Answer<ThermalTime>, Refused> {
    let mut checks = Checks::new();
    let count = request.days.len();
    checks.require((1..=36_600).contains(&count), "/days", format!("{count} days; enter 1–36,600"));
    checks.within("/base", "Base", request.base, Unit::DegC, -10.0, 30.0);
    if let Some(cap) = request.cap {
        checks.require(cap > request.base, "/cap", "the cap must be above the base");
    }
    for (index, day) in request.days.iter().enumerate().take(36_600) {
        checks.within(&format!("/days/{index}/tmin"), "Minimum temperature", day.tmin, Unit::DegC, -90.0, 60.0);
        checks.within(&format!("/days/{index}/tmax"), "Maximum temperature", day.tmax, Unit::DegC, -90.0, 60.0);
        checks.require(day.tmin <= day.tmax, format!("/days/{index}/tmin"), "minimum is above maximum");
    }
    checks.done()?;
    let mut sheet = Sheet::new("degree-days");
    sheet.source(Source::published(
        "McMaster & Wilhelm 1997, Growing degree-days: one equation, two interpretations, Agricultural and Forest Meteorology 87:291-300",
    ));
    given!(sheet; base: Temperature = request.base.base(), Origin::Given);
    let cap = match request.cap {
        Some(given_cap) => {
            given!(sheet; cap: Temperature = given_cap.base(), Origin::Given);
            cap
        }
        None => f64::INFINITY,
    };
    let sum = |method| -> f64 {
        request.days.iter().map(|day| capped(request.cap_on, method, base, cap, day.tmin.base(), day.tmax.base())).sum()
    };
    let formula = match request.method {
        DegreeDayMethod::MeanThenBase => "sum of the mean of lowest and highest above the base, none when below it",
        DegreeDayMethod::EachThenBase => "sum of the mean above the base, each of the two first raised to the base",
    };
    let lowered = match (request.cap, request.cap_on) {
        (None, _) => "",
        (Some(_), CapOn::Each) => "; each of the two temperatures first lowered to the cap",
        (Some(_), CapOn::Mean) => "; the mean lowered to the cap",
    };
    let total =
        sheet.gathered("degree_days", &format!("{formula}{lowered}"), ThermalTime::from_base(sum(request.method)));
    let (other, by) = match request.method {
        DegreeDayMethod::MeanThenBase => (DegreeDayMethod::EachThenBase, "method 2, each raised first"),
        DegreeDayMethod::EachThenBase => (DegreeDayMethod::MeanThenBase, "method 1, the mean"),
    };
    sheet.gathered("by_the_other_method", &format!("sum of the same days by {by}"), ThermalTime::from_base(sum(other)));
    sheet.would_change("The other method; state which one a threshold was set for.");
    Ok(sheet.answer(total))
}
