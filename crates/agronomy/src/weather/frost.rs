//! Frost: the last of spring and the first of autumn, at three thresholds.
//!
//! Temperatures are those of the screen, 1.5 to 2 m above the ground; on a clear, still night the
//! grass is 1 to 3 °C colder. Years are counted from midwinter to midwinter on either side of the
//! equator; a place that never freezes has no frost dates, and is told so.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

pub use kernels::frost::{FrostYear, THRESHOLDS, frost_years, quantile};

use super::{WeatherInput, Years, days_between, plus, warm_middle};
use crate::{
    given,
    refusal::Refused,
    said,
    source::{Origin, Source},
    units::{Fraction, Measure, Temperature, TemperatureStep, Unit},
    working::{Answer, Sheet},
};

/// Request of the topic `weather.frost`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FrostRequest {
    /// The years.
    pub weather: WeatherInput,
    /// The year whose dates are named.
    pub year: i16,
}

/// Frost at one threshold.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct FrostDates {
    /// At or below this, on the screen.
    pub threshold: Temperature,
    /// Summers counted.
    pub summers: usize,
    /// Share of them followed by such a frost.
    pub share_with_frost: Fraction,
    /// The last frost of spring: the day by which it is past in one year of ten, in every second, in
    /// nine of ten. A year without one is past it from the start; open where so many years are.
    #[schema(value_type = Vec<Option<String>>)]
    pub last_in_spring: Vec<Option<Date>>,
    /// The first of autumn: the day by which one year of ten, every second, nine of ten have had it.
    /// Open where fewer ever do.
    #[schema(value_type = Vec<Option<String>>)]
    pub first_in_autumn: Vec<Option<Date>>,
    /// Days between the two middles, when both are known.
    pub days_between: Option<f64>,
}

/// Frost dates at each threshold.
pub fn dates(years: &Years, year: i16) -> Vec<FrostDates> {
    let summer = warm_middle(years.place.latitude, year);
    THRESHOLDS
        .iter()
        .map(|&threshold| {
            let all = frost_years(years, threshold);
            // A year without a frost counts as one: past it from the start, and never reached by it.
            let sorted = |pick: fn(&FrostYear) -> Option<Date>, without: f64| {
                let days = |one: &FrostYear| pick(one).map_or(without, |date| days_between(one.summer, date).into());
                let mut days: Vec<f64> = all.iter().map(days).collect();
                days.sort_by(f64::total_cmp);
                [0.1, 0.5, 0.9].map(|share| quantile(&days, share).filter(|days| days.is_finite()))
            };
            let last = sorted(|one| one.last, f64::NEG_INFINITY);
            let first = sorted(|one| one.first, f64::INFINITY);
            let named = |days: [Option<f64>; 3]| -> Vec<Option<Date>> {
                days.into_iter().map(|days| Some(plus(summer, days?.round() as i32))).collect()
            };
            let followed = all.iter().filter(|one| one.first.is_some()).count();
            let share = if all.is_empty() { 0.0 } else { followed as f64 / all.len() as f64 };
            FrostDates {
                threshold: Temperature::from_base(threshold),
                summers: all.len(),
                share_with_frost: Fraction::from_base(share),
                last_in_spring: named(last),
                first_in_autumn: named(first),
                days_between: first[1].zip(last[1]).map(|(first, last)| first - last),
            }
        })
        .collect()
}

/// The topic `weather.frost`.
///
/// # Errors
/// A year beyond the calendar, weather that can't be read, or not one whole year of it.
pub fn frost(request: &FrostRequest) -> Result<Answer<Vec<FrostDates>>, Refused> {
    if !(1600..=2400).contains(&request.year) {
        let detail = format!("{} is out of range; enter 1600–2400", request.year);
        return Err(Refused::one("/year", detail));
    }
    let years = request.weather.years()?;
    let found = dates(&years, request.year);
    if found.iter().all(|one| one.summers == 0) {
        return Err(Refused::one("/weather", "the record has no complete summer"));
    }
    let mut sheet = Sheet::new("frost dates");
    sheet.source(Source::common_practice("light, killing and hard frost at 32, 28 and 24 °F on the screen"));
    sheet.source(Source::published(
        "Hyndman & Fan 1996, Sample quantiles in statistical packages, The American Statistician 50:361-365, type 7",
    ));
    for one in &found {
        given!(sheet; threshold = one.threshold, Origin::Given);
        let _ = threshold;
        sheet.gathered("summers_counted", "sum of the summers whose both halves are known", one.summers as f64);
        sheet.gathered("share_with_frost", "sum of summers followed by such a frost, as a share", one.share_with_frost);
    }
    let step = |kelvins| TemperatureStep::new(kelvins, Unit::K);
    sheet.would_change(said!(
        "More years; thirty leave a date uncertain by about a week. Grass level and hollows are {}–{} colder than the screen.",
        step(1.0),
        step(3.0)
    ));
    Ok(sheet.answer(found))
}
