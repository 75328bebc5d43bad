//! The days ahead as a forecast's members tell them, for people: coldest, warmest, and whether it rains.

use facts::units::{Fraction, Length, Temperature, Unit};
use jiff::civil::Date;
use serde::Serialize;
use utoipa::ToSchema;

use super::{Forecast, frost::quantile, plus};

/// A day on which at least so much falls is a wet one, mm: the usual bound of a climatological day with rain
/// (WMO-No. 1203, *Guidelines on the Calculation of Climate Normals*, 2017, number of days with ≥ 1 mm).
const WET: f64 = 1.0;

/// One day ahead.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ForecastDay {
    /// Which.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// Lowest temperature, the middle of the members.
    pub low: Temperature,
    /// Highest, likewise.
    pub high: Temperature,
    /// Share of the members in which at least 1 mm falls.
    pub rain_odds: Fraction,
    /// What falls where it does: the middle of the wet members; none where all are dry.
    pub rain: Option<Length>,
}

/// The days from one on that the forecast reaches, at most so many. Empty where there is no forecast.
///
/// ```
/// use agronomy::{units::Measure, weather::{Day, ahead::ahead}};
/// use agronomy::window::Forecast;
/// use jiff::civil::date;
///
/// let member = |rain| vec![Day { tmin: 4.0, tmax: 16.0, rain, ..Day::UNKNOWN }];
/// let forecast = Forecast { from: Some(date(2026, 5, 14)), members: vec![member(0.0), member(6.0), member(0.2), member(3.0)] };
/// let days = ahead(&forecast, date(2026, 5, 14), 3);
/// assert_eq!(days.len(), 1, "it reaches no further");
/// // Two of four are wet; where it rains, 3 or 6 mm fall.
/// assert_eq!(days[0].rain_odds.base(), 0.5);
/// assert!((3.0..=6.0).contains(&(days[0].rain.unwrap().base() * 1_000.0)));
/// // No forecast, no days.
/// assert!(ahead(&Forecast::default(), date(2026, 5, 14), 3).is_empty());
/// ```
pub fn ahead(forecast: &Forecast, from: Date, days: i32) -> Vec<ForecastDay> {
    (0..days).map_while(|after| day_ahead(forecast, plus(from, after))).collect()
}

fn day_ahead(forecast: &Forecast, on: Date) -> Option<ForecastDay> {
    let members: Vec<_> = (0..forecast.members.len()).map(|member| forecast.of(member, on)).collect::<Option<_>>()?;
    let middle = |mut values: Vec<f64>| {
        values.retain(|value| value.is_finite());
        values.sort_by(f64::total_cmp);
        quantile(&values, 0.5)
    };
    let rain: Vec<f64> = members.iter().map(|day| day.rain).filter(|rain| rain.is_finite()).collect();
    let wet: Vec<f64> = rain.iter().copied().filter(|rain| *rain >= WET).collect();
    Some(ForecastDay {
        on,
        low: Temperature::new(middle(members.iter().map(|day| day.tmin).collect())?, Unit::DegC),
        high: Temperature::new(middle(members.iter().map(|day| day.tmax).collect())?, Unit::DegC),
        rain_odds: Fraction::new(wet.len() as f64 / rain.len().max(1) as f64, Unit::One),
        rain: middle(wet).map(|mm| Length::new(mm, Unit::Mm)),
    })
}
