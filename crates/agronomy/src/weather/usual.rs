//! The usual weather of a place as climate tables print it, and years that could be made from it.

use jiff::civil::{Date, date};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Basis, Normals, Place, Years, generator::Climate};
use crate::{
    refusal::{Checks, Refused},
    said,
    units::{Length, Measure, Temperature, Unit},
};

/// Years that are made: as many as a good record has, so that odds are smooth; their interval is that of fewer
/// ([`Basis::worth`]).
pub const MADE_YEARS: i16 = 40;

/// Wind where none is measured, m/s: FAO-56, chapter 3, takes 2 m/s as a first guess for most places.
const WIND: f64 = 2.0;

/// What is usual in a month, as climate tables print it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Month {
    /// Mean of the daily lowest temperatures.
    pub lowest: Temperature,
    /// Mean of the daily highest.
    pub highest: Temperature,
    /// Rain, and snow melted.
    pub rain: Length,
    /// Days with rain; tables count from 0.25 mm or 1 mm (0.01 to 0.04 in) on.
    pub rainy_days: f64,
}

/// Longest of each month, days.
const LENGTHS: [f64; 12] = [31.0, 29.0, 31.0, 30.0, 31.0, 30.0, 31.0, 31.0, 30.0, 31.0, 30.0, 31.0];
/// The most rainy days that a made year can have in a month: a dry day or two is left for the chain to turn.
const WETTEST: f64 = 28.0;

/// Refuse months that can't be.
///
/// # Errors
/// By month: a mean lowest that is not below the highest, more rainy days than the month has, rain without a rainy
/// day or the other way round.
pub fn check(months: &[Month]) -> Result<(), Refused> {
    let mut checks = Checks::new();
    checks.require(months.len() == 12, "", said!("{} months; a year has 12", months.len()));
    for (index, month) in months.iter().enumerate() {
        let at = |name: &str| format!("/{index}/{name}");
        checks.within(&at("lowest"), "Minimum temperature", month.lowest, Unit::DegC, -70.0, 45.0);
        checks.within(&at("highest"), "Maximum temperature", month.highest, Unit::DegC, -60.0, 55.0);
        checks.within(&at("rain"), "Rain", month.rain, Unit::Mm, 0.0, 3_000.0);
        let below = said!("Average minimum {} must be below maximum {}", month.lowest, month.highest);
        checks.require(month.lowest.base() < month.highest.base(), at("lowest"), below);
        let most = LENGTHS.get(index).copied().unwrap_or(31.0);
        let many = said!("{} rainy days; the month has only {}", month.rainy_days, most);
        checks.require((0.0..=most).contains(&month.rainy_days), at("rainy_days"), many);
        let together = (month.rain.base() > 0.0) == (month.rainy_days > 0.0);
        checks.require(together, at("rainy_days"), "give both rain and rainy days, or neither");
    }
    checks.done()
}

/// How far days stray from what is usual, °C: a table does not tell it.
///
/// Our own rule, fitted by eye to three kinds of place and no source: the root of the difference between the warmest
/// month and the coldest, a quarter more in the cold and less in the warm of places that have both.
fn spread(months: &[Month]) -> [f64; 12] {
    let mean = |month: &Month| (month.lowest.to(Unit::DegC) + month.highest.to(Unit::DegC)) / 2.0;
    let means: Vec<f64> = months.iter().map(mean).collect();
    let (coldest, warmest) =
        means.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), mean| (low.min(*mean), high.max(*mean)));
    let between = (warmest - coldest).max(0.0);
    let (usual, sway) = (between.sqrt().clamp(1.2, 7.0), 0.25 * (between / 25.0).min(1.0));
    std::array::from_fn(|month| {
        let cold = if between > 0.0 { 1.0 - 2.0 * (means[month] - coldest) / between } else { 0.0 };
        usual * (1.0 + sway * cold)
    })
}

/// Years that could be, up to the last whole year before a day.
///
/// # Errors
/// As [`check`].
pub fn made(months: &[Month], place: Place, seed: u64, today: Date) -> Result<Years, Refused> {
    check(months)?;
    let each = |of: fn(&Month) -> f64| std::array::from_fn(|month| of(&months[month]));
    let normals = Normals {
        latitude: place.latitude,
        elevation: place.elevation,
        tmin: each(|month| month.lowest.to(Unit::DegC)),
        tmax: each(|month| month.highest.to(Unit::DegC)),
        spread: spread(months),
        rain: each(|month| month.rain.to(Unit::Mm)),
        wet_days: each(|month| month.rainy_days.min(WETTEST)),
        wind: [WIND; 12],
    };
    let (first, last) = (date(today.year() - MADE_YEARS, 1, 1), date(today.year() - 1, 12, 31));
    Ok(Years { basis: Basis::Normals, ..Climate::new(&normals).years(seed, first, last) })
}
