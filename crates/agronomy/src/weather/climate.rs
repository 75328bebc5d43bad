//! What the weather of a place is like, in the few figures that choose a crop.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use kernels::snow::Snow;

use super::{Years, plus};
use crate::{
    refusal::Checks,
    units::{Length, Measure, Temperature, Unit},
};

/// Days of a year that must be known for its coldest night to be told.
const NEARLY_A_YEAR: usize = 330;

/// What the weather of a place is like.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Climate {
    /// The coldest night of a usual winter: the mean of the lowest of each year.
    pub coldest_night: Temperature,
    /// Mean temperature of each month of the calendar, January first.
    pub months: Vec<Temperature>,
    /// Rain in a usual year.
    pub rain: Length,
    /// Snow on the ground on the coldest night of a usual winter, as water; absent where it is unknown.
    #[serde(default)]
    pub snow: Option<Length>,
}

/// The coldest night of a winter.
struct Winter {
    /// The calendar year in which it begins.
    year: i16,
    /// °C.
    low: f64,
    /// That lay before the night, as water, m.
    snow: f64,
    /// Days of its year that are known.
    days: usize,
}

fn mean(winters: &[Winter], of: fn(&Winter) -> f64) -> f64 {
    winters.iter().map(of).sum::<f64>() / winters.len() as f64
}

impl Climate {
    /// Mean temperature of the coldest month.
    pub fn coldest_month(&self) -> Temperature {
        let base = self.months.iter().map(|month| month.base()).fold(f64::INFINITY, f64::min);
        Temperature::from_base(base)
    }

    /// Mean temperature of the warmest month.
    pub fn warmest_month(&self) -> Temperature {
        let base = self.months.iter().map(|month| month.base()).fold(f64::NEG_INFINITY, f64::max);
        Temperature::from_base(base)
    }

    pub(crate) fn check(&self, checks: &mut Checks, at: &str) {
        let pointer = |name: &str| format!("{at}/{name}");
        checks.within(&pointer("coldest_night"), "Winter low", self.coldest_night, Unit::DegC, -70.0, 30.0);
        checks.within(&pointer("rain"), "Annual rainfall", self.rain, Unit::Mm, 0.0, 12_000.0);
        if let Some(snow) = self.snow {
            checks.within(&pointer("snow"), "Snow on the coldest night", snow, Unit::Mm, 0.0, 5_000.0);
        }
        checks.require(self.months.len() == 12, pointer("months"), "a year has twelve months");
        for (index, month) in self.months.iter().enumerate() {
            checks.within(&format!("{at}/months/{index}"), "Month", *month, Unit::DegC, -60.0, 50.0);
        }
    }

    /// From days that were measured or made; none where they make no year.
    pub fn of(years: &Years) -> Option<Self> {
        // A winter must not be cut in two: years from the middle of the warm half on.
        let summer = if years.place.latitude < 0.0 { 1 } else { 7 };
        let mut lowest: Vec<Winter> = vec![];
        let mut snow = Snow::default();
        let mut months = [(0.0, 0.0); 12];
        let (mut rain, mut rained) = (0.0, 0.0);
        for (index, day) in years.days.iter().enumerate() {
            let date: Date = plus(years.first, index as i32);
            if !day.mean().is_finite() {
                continue;
            }
            let year = if date.month() >= summer { date.year() } else { date.year() - 1 };
            let lay = snow.water();
            snow.step(if day.rain.is_finite() { day.rain * 0.001 } else { 0.0 }, day.mean());
            match lowest.last_mut() {
                Some(winter) if winter.year == year => {
                    winter.days += 1;
                    if day.tmin < winter.low {
                        (winter.low, winter.snow) = (day.tmin, lay);
                    }
                }
                _ => lowest.push(Winter { year, low: day.tmin, snow: lay, days: 1 }),
            }
            let month = &mut months[(date.month() - 1) as usize];
            *month = (month.0 + day.mean(), month.1 + 1.0);
            if day.rain.is_finite() {
                (rain, rained) = (rain + day.rain, rained + 1.0);
            }
        }
        let nights: Vec<Winter> = lowest.into_iter().filter(|winter| winter.days >= NEARLY_A_YEAR).collect();
        if nights.is_empty() || months.iter().any(|(_, days)| *days == 0.0) || rained == 0.0 {
            return None;
        }
        let celsius = |value: f64| Temperature::new(value, Unit::DegC);
        Some(Self {
            coldest_night: celsius(mean(&nights, |winter| winter.low)),
            snow: Some(Length::from_base(mean(&nights, |winter| winter.snow))),
            months: months.iter().map(|(sum, days)| celsius(sum / days)).collect(),
            rain: Length::new(rain / rained * 365.25, Unit::Mm),
        })
    }
}
