//! The band of the years: what is usual on each day of a stretch, and this year against it.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use kernels::usual::usual;

use super::{
    Forecast, Years, days_between,
    frost::{THRESHOLDS, frost_years, quantile},
    plus, warm_middle,
};

/// A stretch of days against the years; °C and mm, a value a day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct WeatherBand {
    /// The first day.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// Mean temperature that one year in ten stays below.
    pub low: Vec<f64>,
    /// That half of them do.
    pub middle: Vec<f64>,
    /// That nine in ten do.
    pub high: Vec<f64>,
    /// This stretch's own mean temperature; absent where not known.
    pub temperature: Vec<Option<f64>>,
    /// Rain of the day.
    pub rain: Vec<Option<f64>>,
    /// Mean soil temperature that half of the years stay below, at 10 cm under a sward.
    pub soil_middle: Vec<f64>,
    /// The soil of this stretch.
    pub soil: Vec<Option<f64>>,
    /// Of the forecast: one member in ten is below.
    pub forecast_low: Vec<Option<f64>>,
    /// Nine in ten are.
    pub forecast_high: Vec<Option<f64>>,
    /// Share of years in which a killing frost (28 °F) still comes after the day in the cold half
    /// before summer, or has come by it in the half after.
    pub frost: Vec<f64>,
    /// Years behind it.
    pub years: usize,
}

/// The band over `days` days from `from` on. `soil` is the soil's mean on every day of the record.
pub fn band(
    years: &Years,
    soil: &[Option<f64>],
    forecast: &Forecast,
    today: Date,
    from: Date,
    days: usize,
) -> WeatherBand {
    let air: Vec<Option<f64>> = years.days.iter().map(|day| day.tells().then(|| day.mean())).collect();
    let of_air = usual(&air, years.first, &[0.1, 0.5, 0.9]);
    let of_soil = usual(soil, years.first, &[0.5]);
    let frosts = frost_years(years, THRESHOLDS[1]);
    let of_frost = |date: Date| -> f64 {
        // The summer nearest to the day.
        let summers = (date.year() - 1..=date.year() + 1).map(|year| warm_middle(years.place.latitude, year));
        let Some(summer) = summers.min_by_key(|summer| days_between(*summer, date).abs()) else { return 0.0 };
        let offset = days_between(summer, date);
        let hit = frosts.iter().filter(|one| {
            let of = |frost: Option<Date>| frost.map(|frost| days_between(one.summer, frost));
            if offset < 0 {
                of(one.last).is_some_and(|last| last >= offset)
            } else {
                of(one.first).is_some_and(|first| first <= offset)
            }
        });
        hit.count() as f64 / frosts.len().max(1) as f64
    };
    let tenth = |value: f64| (value * 10.0).round() / 10.0;
    let mut band = WeatherBand {
        from,
        low: vec![],
        middle: vec![],
        high: vec![],
        temperature: vec![],
        rain: vec![],
        soil_middle: vec![],
        soil: vec![],
        forecast_low: vec![],
        forecast_high: vec![],
        frost: vec![],
        years: frosts.len(),
    };
    for ahead in 0..days {
        let date = plus(from, ahead as i32);
        let day = usize::from(date.day_of_year().unsigned_abs()) - 1;
        let [low, middle, high] = of_air[day][..] else { continue };
        band.low.push(tenth(low));
        band.middle.push(tenth(middle));
        band.high.push(tenth(high));
        band.soil_middle.push(tenth(of_soil[day][0]));
        let been = if date < today { years.day(date) } else { None };
        band.temperature.push(been.map(|day| tenth(day.mean())));
        band.rain.push(been.map(|day| tenth(day.rain)));
        let index = usize::try_from(days_between(years.first, date)).ok().filter(|_| date < today);
        band.soil.push(index.and_then(|index| soil.get(index).copied().flatten()).map(tenth));
        let mut told: Vec<f64> =
            (0..forecast.members.len()).filter_map(|member| forecast.of(member, date)).map(|day| day.mean()).collect();
        told.sort_by(f64::total_cmp);
        band.forecast_low.push(quantile(&told, 0.1).filter(|_| date >= today).map(tenth));
        band.forecast_high.push(quantile(&told, 0.9).filter(|_| date >= today).map(tenth));
        band.frost.push((of_frost(date) * 1_000.0).round() / 1_000.0);
    }
    band
}
