//! The usual weather of the farm, month by month.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Length, Measure, Temperature},
    weather::usual,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    record::{By, Record},
    shape::{Turn, check_words, stands_for},
    subject::SubjectKind,
};

/// What is usual in a month.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedMonth)]
pub struct Month {
    /// Mean of the daily lowest temperatures.
    pub lowest: Temperature,
    /// Mean of the daily highest.
    pub highest: Temperature,
    /// Rain, and snow melted.
    pub rain: Length,
    /// Days with rain.
    pub rainy_days: f64,
}

stands_for!(Month = usual::Month { lowest, highest, rain, rainy_days });

/// The usual weather of the farm, as a climate table prints it; the last one counts. Years that could be are made
/// from it while no record is there.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ClimateNormals {
    /// Twelve months, January first.
    pub months: Vec<Month>,
    /// Where they are from: the table, the place, the years it covers.
    #[serde(default)]
    pub from: String,
}

impl ClimateNormals {
    /// As the generator takes them.
    pub fn usual(&self) -> Vec<usual::Month> {
        self.months.iter().map(|month| month.turn()).collect()
    }
}

impl Record for ClimateNormals {
    const KIND: &'static str = "climate-normals";
    const TITLE: &'static str = "Average weather";
    const DEED: &'static str = "Average weather here";
    const NEEDS: &'static [SubjectKind] = &[];
    const BY: By = By::Manager;
    const REPLACES: bool = true;

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/from", &self.from, false);
        checks.part("/months", usual::check(&self.usual()));
        checks.done()
    }

    fn says(&self) -> Said {
        let of = |pick: fn(f64, f64) -> f64, value: fn(&Month) -> f64| self.months.iter().map(value).reduce(pick);
        let coldest = of(f64::min, |month| month.lowest.base()).map(Temperature::from_base).unwrap_or_default();
        let warmest = of(f64::max, |month| month.highest.base()).map(Temperature::from_base).unwrap_or_default();
        let rain = Length::from_base(self.months.iter().map(|month| month.rain.base()).sum());
        let from = if self.from.trim().is_empty() { String::new() } else { format!(" ({})", self.from.trim()) };
        said!("Average weather: {} to {}, {} rain per year{}", coldest, warmest, rain, from)
    }
}
