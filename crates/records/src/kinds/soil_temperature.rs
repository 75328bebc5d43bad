//! A soil thermometer was read in the morning.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Length, Temperature, Unit},
    weather::soil_temperature::SoilReading,
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::Record,
};

/// A soil thermometer was read in the morning.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SoilTemperature {
    /// How deep.
    pub depth: Length,
    /// What it showed.
    pub temperature: Temperature,
}

impl Record for SoilTemperature {
    const KIND: &'static str = "soil-temperature";
    const TITLE: &'static str = "Soil temperature";
    const DEED: &'static str = "Read soil thermometer";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        checks.within("/depth", "Depth", self.depth, Unit::Cm, 0.0, 50.0);
        checks.within("/temperature", "Soil temperature", self.temperature, Unit::DegC, -20.0, 50.0);
        checks.done()
    }

    fn says(&self) -> Said {
        said!("Morning soil temperature {} at {}", self.temperature, self.depth)
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let reading = SoilReading { on: inked.0.occurred_on, depth: self.depth, temperature: self.temperature };
        if let Some(field) = books.field_of(inked) {
            field.soil_readings.push(reading);
        }
    }
}
